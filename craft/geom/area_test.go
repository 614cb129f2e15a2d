package geom

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// star is a ring round a centre, which never crosses itself.
func star(t *rapid.T) Ring {
	n := rapid.IntRange(3, 14).Draw(t, "corners")
	centre := Point{rapid.Float64Range(-100, 100).Draw(t, "cx"), rapid.Float64Range(-80, 80).Draw(t, "cy")}
	ring := make(Ring, n)
	for i := range ring {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		d := rapid.Float64Range(8, 90).Draw(t, "reach")
		ring[i] = Point{math.Round(centre.X + d*cos), math.Round(centre.Y + d*sin)}
	}
	return ring
}

// swept is the area that two rings share, by thin rows.
func swept(r, s Ring) float64 {
	a, b := r.Bounds(), s.Bounds()
	lo, hi := max(a.MinY, b.MinY), min(a.MaxY, b.MaxY)
	const rows = 3000
	var sum float64
	for i := range rows {
		x, z := r.Spans(lo+(hi-lo)*(float64(i)+0.5)/rows), s.Spans(lo+(hi-lo)*(float64(i)+0.5)/rows)
		for k := 0; k+1 < len(x); k += 2 {
			for m := 0; m+1 < len(z); m += 2 {
				sum += max(0, min(x[k+1], z[m+1])-max(x[k], z[m]))
			}
		}
	}
	return sum * max(0, hi-lo) / rows
}

// What a pocket and a board share agrees with a sweep of its own to a
// thousandth, also where their sides fall together.
func TestCommonAgreesWithASweep(t *testing.T) {
	board := Flatten(SoftRectangle(200, 150, 20), Fine)[0]
	rapid.Check(t, func(t *rapid.T) {
		pocket := star(t)
		if pocket.SelfCrosses() {
			t.Skip()
		}
		var got float64
		for _, r := range Common(pocket, board) {
			got += r.Area()
		}
		if want := swept(pocket, board); math.Abs(got-want) > 0.001*want+3 {
			t.Fatalf("%v, swept %v", got, want)
		}
	})
}

// A convex clip keeps what a boolean keeps.
func TestClipAgreesWithCommon(t *testing.T) {
	band := Ring{{-60, -300}, {70, -300}, {70, 300}, {-60, 300}}
	rapid.Check(t, func(t *rapid.T) {
		ring := star(t)
		if ring.SelfCrosses() {
			t.Skip()
		}
		var want float64
		for _, r := range Common(ring, band) {
			want += r.Area()
		}
		if got := Clip(ring, band).Area(); math.Abs(got-want) > 0.001*want+1 {
			t.Fatalf("%v, not %v", got, want)
		}
	})
}

func TestDenseKeepsTheLine(t *testing.T) {
	ring := Flatten(Paddle(PaddleSize{Length: 400, Width: 180, Corner: 20, Neck: 50, NeckLength: 120, Shoulder: 25}),
		Fine)[0]
	dense := ring.Dense(5)
	assert.InDelta(t, ring.Area(), dense.Area(), 1e-6)
	assert.InDelta(t, ring.Perimeter(), dense.Perimeter(), 1e-6)
	for i := range dense {
		a, b := dense.Edge(i)
		assert.LessOrEqual(t, b.Sub(a).Len(), 5+1e-9)
	}
}

func TestRingMeasures(t *testing.T) {
	square := Ring{{0, 0}, {10, 0}, {10, 10}, {0, 10}}
	assert.Equal(t, 100.0, square.SignedArea())
	assert.Equal(t, 40.0, square.Perimeter())
	assert.Equal(t, Point{5, 5}, square.Centroid())
	assert.Equal(t, 2.0, square.Bounds().Depth(Point{8, 5}))
	assert.Equal(t, -3.0, square.Bounds().Depth(Point{13, 5}))
	assert.Equal(t, []float64{0, 10}, square.Spans(4))
	assert.Equal(t, "M0.00 0.00L10.00 0.00L10.00 10.00L0.00 10.00z", square.SVG())
	assert.Nil(t, Largest(nil))
	assert.Equal(t, square, Largest([]Ring{{{0, 0}, {1, 0}, {0, 1}}, square}))
}

// Turning a board over about its long axis twice brings it back.
func TestPlacementFlip(t *testing.T) {
	p := Placement{X: 100, Y: 20, Angle: 30, Flip: true}
	q := p.Out(Point{50, 10})
	p.Flip = false
	assert.Equal(t, q, p.Out(Point{50, -10}))
}

func TestEllipseBoundsHoldIt(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		e := Ellipse{
			Centre: Point{rapid.Float64Range(-9, 9).Draw(t, "x"), 3},
			A:      rapid.Float64Range(1, 50).Draw(t, "a"),
			B:      rapid.Float64Range(1, 50).Draw(t, "b"),
			Angle:  rapid.Float64Range(0, 360).Draw(t, "angle"),
		}
		for _, p := range e.Ring(40) {
			if e.Bounds().Depth(p) < -1e-9 {
				t.Fatalf("%v lies outside", p)
			}
		}
	})
}

// A web between two holes is measured as one to an edge is.
func TestWebBetweenTwoHoles(t *testing.T) {
	one := round(Point{0, 0}, 25)
	two := round(Point{40, 0}, 25)
	w := FindWebs(one, two, 1)[0]
	assert.InDelta(t, 15, w.Width, 0.1)
	assert.InDelta(t, 90, w.Direction(), 1)
	require.Positive(t, w.Span)
	assert.InDelta(t, w.Width, FindWebs(two, one, 1)[0].Width, 0.05)
}

// What stands at a place in a frame that is itself placed lies where both places
// bring it, one after the other; and mirrored, where the mirror shows it.
func TestPlacementsOneInTheOther(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := func(name string, most float64) float64 { return rapid.Float64Range(-most, most).Draw(t, name) }
		place := func(name string) Placement {
			return Placement{
				f(name+" x", 500),
				f(name+" y", 300),
				f(name+" angle", 360),
				rapid.Bool().Draw(t, name+" flip"),
			}
		}
		a, b, p := place("a"), place("b"), Point{f("x", 200), f("y", 200)}
		if off := a.Of(b).Out(p).Sub(a.Out(b.Out(p))).Len(); off > 1e-6 {
			t.Fatalf("%g mm apart", off)
		}
		if off := a.Of(a.Seen(b)).Out(p).Sub(b.Out(p)).Len(); off > 1e-6 {
			t.Fatalf("seen and brought back %g mm off", off)
		}
		across := func(p Point) Point { return Point{p.X, -p.Y} }
		if off := a.Mirrored().Out(across(p)).Sub(across(a.Out(p))).Len(); off > 1e-6 {
			t.Fatalf("%g mm from its mirror image", off)
		}
	})
}

// A line parts a ring into two that make it up, the smaller first.
func TestParted(t *testing.T) {
	star := Ring{{0, -100}, {30, -30}, {100, 0}, {30, 30}, {0, 100}, {-30, 30}, {-100, 0}, {-30, -30}}
	rapid.Check(t, func(t *rapid.T) {
		f := func(name string) float64 { return rapid.Float64Range(-40, 40).Draw(t, name) }
		a, b := Point{f("ax"), f("ay")}, Point{f("bx"), f("by")}
		if b.Sub(a).Len() < 1 {
			return
		}
		small, large := star.Parted(a, b)
		if sum := small.Area() + large.Area(); math.Abs(sum-star.Area()) > 1e-6*star.Area() ||
			small.Area() > large.Area() {
			t.Fatalf("%g and %g of %g", small.Area(), large.Area(), star.Area())
		}
	})
	small, large := Bounds{MaxX: 100, MaxY: 40}.Ring().Parted(Point{30, 0}, Point{30, 40})
	if math.Abs(small.Area()-1200) > 1e-6 || math.Abs(large.Area()-2800) > 1e-6 {
		t.Fatalf("%g and %g", small.Area(), large.Area())
	}
}
