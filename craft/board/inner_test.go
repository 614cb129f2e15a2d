package board

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/rule"
	"idletimber/craft/tool"
)

// A blade that turns an outline need not turn inside a hole: only one that is threaded
// through gets there, and a heart's point is tighter than either.
func TestHolesAreSawnWithWhatGetsIn(t *testing.T) {
	d := soft(400, 240)
	d.Handle = Handle{Kind: HeartCut, Length: 50, Diameter: 46, Setback: 60}
	c := maple()
	band, jig := tool.Blade{Saw: tool.BandSaw, Name: "band saw, 1/8\" blade", Radius: 1}, tool.Blade{Saw: tool.Jigsaw, Name: "jigsaw", Radius: 25}
	for _, k := range []struct {
		name   string
		blades []tool.Blade
		level  craft.Level
	}{
		{"a jigsaw is too stiff for its point", []tool.Blade{band, jig}, craft.Mind},
		{"a fine one is not", []tool.Blade{band, {Saw: tool.Jigsaw, Name: "jigsaw, scroll blade", Radius: 1}}, craft.Good},
	} {
		c.Tools.Blades = k.blades
		assert.Equal(t, k.level, find(t, judged(Draw(d, nil), c), "inside-corner").Level, k.name)
	}
	c.Tools.Blades = []tool.Blade{band} // no saw gets in: a fretsaw does, which turns anything
	for _, v := range judged(Draw(d, nil), c) {
		assert.NotEqual(t, "inside-corner", v.Check)
	}
	d.Handle = Handle{Kind: Hole, Diameter: 12, Setback: 60}
	c.Tools.Blades = []tool.Blade{jig}
	for _, v := range judged(Draw(d, nil), c) {
		assert.NotEqual(t, "inside-corner", v.Check, "it is bored")
	}
}

// What is sawn of an inner cut: nothing of a bored hole, the two cuts between a slot's
// bores, and the whole line of all else.
func TestWhatIsSawnOfAnInnerCut(t *testing.T) {
	sawn := func(h Handle, bits ...float64) (Entry, float64) {
		d := soft(400, 240)
		d.Handle = h
		s := Draw(d, nil)
		entries := Entries(s, bits)
		require.Len(t, entries, 1)
		return entries[0], s.Holes[0].Perimeter()
	}
	slot := Handle{Kind: Slotted, Diameter: 28, Length: 90, Setback: 50}
	for _, c := range []struct {
		name  string
		h     Handle
		bits  []float64
		bored int
		sawn  float64 // of the whole line, or negative: mm
	}{
		{"a hole of a bit", Handle{Kind: Hole, Diameter: 25, Setback: 50}, []float64{25}, 1, 0},
		{"a hole where no bit is listed", Handle{Kind: Hole, Diameter: 25, Setback: 50}, nil, 1, 0},
		{"a hole between sizes", Handle{Kind: Hole, Diameter: 26, Setback: 50}, []float64{20}, 1, 1},
		{"a slot of a bit", slot, []float64{28}, 2, -2 * (90 - 28)},
		{"a slot between sizes", slot, []float64{20}, 1, 1},
		{"a heart", Handle{Kind: HeartCut, Length: 50, Diameter: 46, Setback: 60}, []float64{8}, 1, 1},
	} {
		e, round := sawn(c.h, c.bits...)
		want := c.sawn * round
		if c.sawn < 0 {
			want = -c.sawn
		}
		assert.InDelta(t, want, e.Sawn, 1e-6, c.name)
		assert.Equal(t, c.bored, e.Bored(), c.name)
	}
}

// What is left of a section that is hollow inside, once more summed in thin layers about
// the middle of what is left.
func TestWhatAHollowSectionKeeps(t *testing.T) {
	for _, c := range []struct{ top, bottom, t float64 }{
		{0, 6, 20}, {14, 20, 20}, {7, 13, 20}, {3, 9, 20}, {0, 20, 20}, {5, 5, 20}, {11, 17, 22},
	} {
		const layers = 20000
		var area, moment, inertia float64
		lo, hi := math.Inf(1), math.Inf(-1)
		each := func(do func(z, dz float64)) {
			dz := c.t / layers
			for i := range layers {
				if z := (float64(i) + 0.5) * dz; z < c.top || z > c.bottom {
					do(z, dz)
				}
			}
		}
		each(func(z, dz float64) { area, moment, lo, hi = area+dz, moment+z*dz, min(lo, z), max(hi, z) })
		want := 0.0
		if area > 0 {
			mid := moment / area
			each(func(z, dz float64) { inertia += dz * (z - mid) * (z - mid) })
			want = inertia / max(hi-mid, mid-lo) / (c.t * c.t / 6)
		}
		assert.InDelta(t, want, keeps(c.top, c.bottom, c.t), 2e-3, "%v", c)
	}
}

// The web between a round hole or a slot and a straight edge, once more from its two
// dimensions: the span over which it stays within one and a half of its width, the
// moment of a beam held at both ends, and the strength at the grain's angle.
func TestWebsAgreeWithPlainGeometry(t *testing.T) {
	judged := 0
	rapid.Check(t, func(t *rapid.T) {
		f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		r, b, long, thick, grain := f("radius", 8, 20), f("width", 3, 9), f("straight", 0, 60), f("thick", 8, 20),
			f("grain", 0, 90)
		d := soft(500, 300)
		d.Corner, d.Edge = 0, Edge{Kind: "none"}
		d.Handle = Handle{Kind: Slotted, Diameter: 2 * r, Length: 2*r + long, Setback: b + r}
		if long < 20 {
			d.Handle.Kind, long = Hole, 0
		}
		s := Draw(d, nil)
		c := maple().grained(grain)
		c.Thickness = thick
		v := webs(s, c)[0]
		if v.Figure.Key != "web.stress" { // wide enough to be judged by its width
			return
		}
		judged++
		span := long + 2*math.Sqrt(r*r-math.Pow(max(0, r-b/2), 2))
		force := max(c.Rules.Get(rule.WebForce), 3*9.81*s.Mass(thick, c.Wood))
		stress := force * span / 8 / (thick * b * b / 6)
		sin, cos := math.Sincos((90 - grain) * math.Pi / 180) // the span runs across the board
		wood := c.Wood.At(geom.Point{}).Species
		limit := wood.MOR * wood.TensionPerp / (wood.MOR*sin*sin + wood.TensionPerp*cos*cos) / 4
		if math.Abs(v.Figure.Value-stress) > 0.02*stress || math.Abs(v.Limit-limit) > 0.02*limit {
			t.Fatalf("%.3f of %.3f MPa, by hand %.3f of %.3f", v.Figure.Value, v.Limit, stress, limit)
		}
	})
	assert.Greater(t, judged, 20)
}
