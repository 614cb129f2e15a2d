package geom

import (
	"testing"

	"pgregory.net/rapid"
)

// The index answers as the ring itself does.
func TestIndex(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := func(name string) float64 { return rapid.Float64Range(-200, 200).Draw(t, name) }
		ring := Ellipse{
			Centre: Point{f("cx"), f("cy")},
			A:      60,
			B:      25,
			Angle:  f("angle"),
		}.Ring(rapid.IntRange(3, 70).Draw(t, "sides"))
		p := Point{f("x"), f("y")}
		q, far := ring.Nearest(p)
		if same, d := NewIndex(ring).Nearest(p); same != q || d != far {
			t.Fatalf("%v at %v, not %v at %v", same, d, q, far)
		}
		for _, reach := range []float64{0.5 * far, 2*far + 1} {
			if same, d := NewIndex(ring).Within(reach, p); d < reach && (same != q || d != far) ||
				d >= reach && far < reach {
				t.Fatalf("%v at %v, not %v at %v, within %v", same, d, q, far, reach)
			}
		}
		if NewIndex(ring).Contains(p) != ring.Contains(p) {
			t.Fatalf("%v is in one and not in the other", p)
		}
		other := Ellipse{
			Centre: p,
			A:      50,
			B:      8,
			Angle:  f("other angle"),
		}.Ring(
			rapid.IntRange(3, 70).Draw(t, "its sides"),
		)
		at, crosses := NewIndex(ring).Crossing(NewIndex(other))
		apart := Gap(ring, other) > 0
		if nested := ring.Contains(other[0]) || other.Contains(ring[0]); !nested && crosses == apart {
			t.Fatalf("they cross: %v; they lie apart: %v", crosses, apart)
		}
		if _, d := other.Nearest(at); crosses && d > 1e-9 {
			t.Fatalf("%v lies %v off the other", at, d)
		}
	})
}
