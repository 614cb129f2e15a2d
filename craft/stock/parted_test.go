package stock

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"idletimber/craft/geom"
	"idletimber/craft/species"
)

// striped is a panel of strips side by side, with their densities.
func striped(length float64, widths, densities []float64) Parted {
	var parts []Patch
	y := 0.0
	for i, w := range widths {
		parts = append(parts, Patch{
			Here{Species: species.Species{Name: string(rune('a' + i)), Density: densities[i]}},
			geom.Bounds{MinX: 0, MaxX: length, MinY: y, MaxY: y + w}.Ring(),
		})
		y += w
	}
	return Glued(parts)
}

func drawnStrips(t *rapid.T) (g Parted, wide float64) {
	n := rapid.IntRange(1, 8).Draw(t, "n")
	var widths, densities []float64
	for range n {
		w := rapid.Float64Range(5, 60).Draw(t, "width")
		widths, wide = append(widths, w), wide+w
		densities = append(densities, rapid.Float64Range(400, 900).Draw(t, "density"))
	}
	return striped(500, widths, densities), wide
}

// Every place has one part, a line passes through its parts in order without a gap, and a
// region is the sum of its parts: also as a board sees them that lies on the panel.
func TestPartsAreEverywhereOnce(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		g, wide := drawnStrips(t)
		from := geom.Placement{X: f("x", 0, 500), Y: f("y", -50, 200), Angle: f("angle", -180, 180),
			Flip: rapid.Bool().Draw(t, "flip")}
		seen := g.Seen(from)
		inside := func(name string) geom.Point {
			return geom.Point{X: f(name+" x", 1, 499), Y: f(name+" y", 0.01*wide, 0.99*wide)}
		}
		p := inside("p")
		for _, part := range g.Parts() {
			if _, off := part.Ring.Nearest(p); off < 1e-3 {
				return // on a joint it is either
			}
		}
		if a, b := g.At(p), seen.At(from.In(p)); a.Species.Name != b.Species.Name {
			t.Fatalf("%s there, %s as the board sees it", a.Species.Name, b.Species.Name)
		}
		q := inside("q")
		var long float64
		at := from.In(p)
		for _, s := range seen.Along(from.In(p), from.In(q)) {
			assert.InDelta(t, 0, s.A.Sub(at).Len(), 1e-6, "no gap")
			if s.Length() > 1e-3 {
				mid := from.Out(s.A.Lerp(s.B, 0.5))
				assert.Equal(t, g.At(mid).Species.Name, s.Species.Name)
			}
			long, at = long+s.Length(), s.B
		}
		assert.InDelta(t, q.Sub(p).Len(), long, 1e-5)
		region := geom.Bounds{MinX: 100, MaxX: 300, MinY: 0, MaxY: wide}.Ring()
		var area, mass float64
		for _, patch := range seen.Over(turned(region, from)) {
			area, mass = area+patch.Area(), mass+patch.Area()*patch.Species.Density
		}
		assert.InEpsilon(t, 200*wide, area, 1e-4)
		var want float64
		for _, part := range g.Parts() {
			want += part.Area() * 200 / 500 * part.Species.Density
		}
		assert.InEpsilon(t, want, mass, 1e-4)
	})
}

// turned is a ring in a board's frame, anticlockwise.
func turned(r geom.Ring, from geom.Placement) geom.Ring {
	out := r.Map(from.In)
	if out.SignedArea() < 0 {
		for i, k := 0, len(out)-1; i < k; i, k = i+1, k-1 {
			out[i], out[k] = out[k], out[i]
		}
	}
	return out
}

func TestBesideAllPartsTheNearestCounts(t *testing.T) {
	g := striped(500, []float64{30, 40}, []float64{500, 800})
	for p, name := range map[geom.Point]string{
		{X: -20, Y: 10}: "a", {X: 200, Y: -5}: "a", {X: 200, Y: 90}: "b", {X: 600, Y: 60}: "b",
	} {
		assert.Equal(t, name, g.At(p).Species.Name, "%v", p)
	}
	off := g.Along(geom.Point{X: 0, Y: -10}, geom.Point{X: 500, Y: -10})
	assert.Len(t, off, 1)
	assert.Equal(t, "a", off[0].Species.Name)
	assert.Len(t, g.Over(geom.Bounds{MinX: 600, MaxX: 700, MinY: 40, MaxY: 60}.Ring()), 1)
	assert.False(t, math.IsNaN(Density(g.Over(geom.Bounds{MinX: 600, MaxX: 700, MinY: 40, MaxY: 60}.Ring()))))
}

// Strips side by side bend alike: the mean stress at which the first fails follows from
// what each bears by its stiffness; one strip alone is as strong as it is.
func TestStripsBendAlike(t *testing.T) {
	maple := Here{Species: species.Species{Density: 705, MOR: 109, TensionPerp: 6}}
	walnut := Here{Species: species.Species{Density: 610, MOR: 101, TensionPerp: 5}}
	at := func(y float64) geom.Point { return geom.Point{Y: y} }
	section := []Stretch{{maple, at(0), at(15)}, {walnut, at(15), at(30)}, {maple, at(30), at(45)}}
	mpa, weakest := Strength(section, 0)
	mean := (2*maple.Species.Modulus() + walnut.Species.Modulus()) / 3
	assert.InDelta(t, min(109*mean/maple.Species.Modulus(), 101*mean/walnut.Species.Modulus()), mpa, 1e-9)
	assert.InDelta(t, 109, weakest.Species.MOR, 1e-9, "the stiffer bears more than its strength is more")
	// What each bears of 14 947 N·mm, 20 thick: the mean stress by its stiffness.
	bears := func(h Here) float64 { return 14947 / (45 * 20 * 20 / 6.0) * h.Species.Modulus() / mean }
	assert.InDelta(t, 5.15, bears(maple), 0.02)
	assert.InDelta(t, 4.65, bears(walnut), 0.02)
	mpa, _ = Strength(section[:1], 0)
	assert.InDelta(t, 109, mpa, 1e-9)
}
