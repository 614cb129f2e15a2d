package board

import (
	"math"
	"slices"
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
	band, jig := tool.Blade{
		Saw:    tool.BandSaw,
		Name:   "band saw, 1/8\" blade",
		Radius: 1,
	}, tool.Blade{
		Saw:    tool.Jigsaw,
		Name:   "jigsaw",
		Radius: 25,
	}
	for _, k := range []struct {
		name   string
		blades []tool.Blade
		level  craft.Level
	}{
		{"a jigsaw is too stiff for its point", []tool.Blade{band, jig}, craft.Mind},
		{
			"a fine one is not", []tool.Blade{band, {Saw: tool.Jigsaw, Name: "jigsaw, scroll blade", Radius: 1}},
			craft.Good,
		},
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

// Several alike stand by their margin at the ends and their gap between; one beside a long
// side stays so far from it, mirrored too.
func TestRecessesStandByTheirMargins(t *testing.T) {
	d := soft(400, 200)
	d.Recesses = []Recess{{
		Kind: "well", Length: 60, Width: 50, Depth: 6, Radius: 6, Count: 3, Spread: "ends", Margin: 25, Side: 20,
	}}
	for name, c := range map[string]struct {
		change func(*Recess)
		xs     []float64
		y      float64
	}{
		"by the margin":       {func(*Recess) {}, []float64{-145, 0, 145}, -100 + 20 + 25},
		"from the left":       {func(r *Recess) { r.From = left }, []float64{-145, 0, 145}, 100 - 20 - 25},
		"the same everywhere": {func(r *Recess) { r.Margin, r.Side, r.Y = 0, 0, 7 }, []float64{-115, 0, 115}, 7},
		"about the middle":    {func(r *Recess) { r.Spread, r.Gap = "middle", 12 }, []float64{-72, 0, 72}, -55},
	} {
		one := d
		one.Recesses = slices.Clone(d.Recesses)
		c.change(&one.Recesses[0])
		s := Draw(one, nil)
		require.Len(t, s.Cavities, 3, name)
		for i, o := range s.Cavities {
			mid := o.Rim.Centroid()
			assert.InDelta(t, c.xs[i], mid.X, 0.01, name)
			assert.InDelta(t, c.y, mid.Y, 0.01, name)
		}
		for i, o := range Draw(one.Mirrored(), nil).Cavities {
			assert.InDelta(t, -c.y, o.Rim.Centroid().Y, 0.01, name)
			assert.InDelta(t, c.xs[i], o.Rim.Centroid().X, 0.01, name)
		}
	}
	places := Draw(d, nil).Places()
	require.Len(t, places, 6, "two ends, two gaps, two sides")
	sum := 0.0
	for _, p := range places[:4] {
		sum += p.MM
	}
	assert.InDelta(t, 400-3*60, sum, 0.05)
	assert.InDelta(t, 25, places[0].MM, 0.05)
	assert.InDelta(t, 20, places[4].MM, 0.05)
}

// What stands in it may be round or not; a roast asks for its juice and a fifth.
func TestRecessesByTheirContents(t *testing.T) {
	d := soft(400, 240)
	d.Recesses = []Recess{{Kind: "well", Item: 60, Clear: 2, Depth: 8, Radius: 6}}
	assert.InDelta(t, math.Pi*32*32, Draw(d, nil).Cavities[0].Rim.Area(), 5)
	d.Recesses[0].Long = 90
	s := Draw(d, nil)
	box := s.Cavities[0].Rim.Bounds()
	assert.InDelta(t, 94, box.MaxX-box.MinX, 0.01)
	assert.InDelta(t, 64, box.MaxY-box.MinY, 0.01)
	kind, diameter, _ := d.Recesses[0].wanted()
	assert.Equal(t, tool.Straight, kind)
	assert.InDelta(t, 12, diameter, 1e-9, "its corners decide")

	d.Recesses = []Recess{{Kind: "groove", Inset: 14, Radius: 6, Depth: 5, Roast: 2}}
	v := find(t, judged(Draw(d, nil), maple()), "recess-juice")
	assert.InDelta(t, 2*45*1.2, v.Limit, 1e-9)
	d.Recesses[0].Juice = 30
	assert.InDelta(t, 30, find(t, judged(Draw(d, nil), maple()), "recess-juice").Limit, 1e-9)
}

// Passes over the area, by the bit that clears it and the one of its corners; a circle jig,
// and a base that does not tip.
func TestSinkingARecess(t *testing.T) {
	c := maple()
	c.Tools = tool.Starters[2].Kit
	d := soft(400, 240)
	d.Recesses = []Recess{{Kind: "well", Length: 120, Width: 80, Depth: 8, Radius: 6}}
	w := Work(Draw(d, nil), c)[0]
	assert.InDelta(t, 19, w.Rough, 1e-9, "the widest straight bit")
	assert.InDelta(t, 12, w.Bit, 1e-9)
	assert.Equal(t, int(math.Ceil((80-19)/(0.8*19)))+1, w.Strips)
	assert.Equal(t, 1, w.Passes, "8 deep, half of 19 a pass")
	rim := Draw(d, nil).Cavities[0].Rim
	run := float64(w.Strips)*120*rim.Area()/9600 + rim.Perimeter()*math.Ceil(8/6.)
	assert.InDelta(t, run, w.Run, 0.5)

	d.Recesses = []Recess{{Kind: "well", Item: 100, Depth: 6}}
	round := Work(Draw(d, nil), c)[0]
	assert.InDelta(t, 50-round.Bit/2, round.Pivot, 1e-9)
	d.Recesses = []Recess{{Kind: "well", Length: 300, Width: 180, Depth: 8, Radius: 10}}
	v := find(t, judged(Draw(d, nil), c), "recess-base")
	assert.Equal(t, craft.Good, v.Level, "a larger base of 300 spans 180 + 60")
	c.Tools.Router.SubBase = 0
	assert.Equal(t, craft.Mind, find(t, judged(Draw(d, nil), c), "recess-base").Level)

	c.Tools = tool.Starters[0].Kit // by hand
	arrows := Draw(d, nil).Carving(c)
	require.Len(t, arrows, 6)
	for _, a := range arrows {
		assert.InDelta(t, a[0].Y, a[1].Y, 1e-6, "along the grain")
		assert.Less(t, math.Abs(a[1].X), math.Abs(a[0].X), "down to the middle")
	}
}

// A slot is as long as the maker's hand is broad and 10, as wide as its fingers are thick
// and 8.
func TestASlotForTheMakersHand(t *testing.T) {
	long, wide := Hand{}.Slot()
	assert.Equal(t, []float64{85, 28}, []float64{long, wide})
	d := soft(400, 240)
	d.Handle = Handle{Kind: Slotted, Length: 85, Diameter: 28, Setback: 40}
	c := maple()
	assert.Equal(t, craft.Good, find(t, judged(Draw(d, nil), c), "fingers").Level)
	c.Hand, d.Handle.Diameter = Hand{Breadth: 92, Thick: 24}, 32
	v := find(t, judged(Draw(d, nil), c), "fingers")
	assert.Equal(t, craft.Mind, v.Level)
	assert.InDelta(t, 102, v.Limit, 1e-9)
	assert.Contains(t, v.Finding, "two fingers")
}

// The harder the wood, the more its edge is broken; one press does it all round.
func TestAnEdgeIsBrokenByHardness(t *testing.T) {
	for janka, want := range map[float64]float64{2000: 0.5, 6000: 0.5, 6400: 1} {
		assert.Equal(t, want, arris(janka), "%v", janka)
	}
	d := soft(400, 240)
	d.Edge, d.Edges = Edge{Kind: "none"}, []EdgeAt{{Where: "left", Edge: Edge{Kind: "round-over", Size: 4}}}
	v := find(t, judged(Draw(d, nil), maple()), "edge-break")
	assert.Equal(t, craft.Mind, v.Level)
	assert.InDelta(t, 1, v.Limit, 1e-9, "sugar maple")
	require.Len(t, v.Remedies, 1)
	require.NoError(t, craft.Patch(v.Remedies[0].Patch["design"].(map[string]any)).Apply(&d))
	assert.InDelta(t, 4, d.Edges[0].Size, 1e-9, "what is larger stays")
	for _, v := range judged(Draw(d, nil), maple()) {
		assert.NotEqual(t, "edge-break", v.Check)
	}
}

// Inside of a handle fingers and cords run over the edge: it is broken more, by one press.
func TestTheInsideOfAHandleIsBroken(t *testing.T) {
	d := soft(400, 240)
	d.Handle = Handle{Kind: Hole, Diameter: 30, Setback: 45}
	d.Edge, d.Edges = Edge{Kind: "eased", Size: 1}, nil
	v := find(t, judged(Draw(d, nil), maple()), "edge-break")
	assert.Equal(t, inHoles, v.Subject)
	assert.InDelta(t, 2, v.Limit, 1e-9)
	require.NoError(t, craft.Patch(v.Remedies[0].Patch["design"].(map[string]any)).Apply(&d))
	for _, v := range judged(Draw(d, nil), maple()) {
		assert.NotEqual(t, "edge-break", v.Check)
	}
	d.Handle, d.Edges = Handle{Kind: NoHandle}, nil
	for _, v := range judged(Draw(d, nil), maple()) {
		assert.NotEqual(t, "edge-break", v.Check, "nothing is held by a hole")
	}
}

// An end that follows its hole has so much wood about it everywhere, mirrored over the
// centre line.
func TestAnEndThatFollowsItsHole(t *testing.T) {
	c := maple()
	for _, shape := range []Shape{Paddle, Teardrop, Rectangle} {
		d := soft(400, 220)
		d.Shape, d.Neck, d.NeckLength, d.Shoulder = shape, 90, 110, 30
		d.Handle = Handle{Kind: Hole, Diameter: 30, Setback: 30, Offset: 8}
		presses := Draw(d, nil).Presses(c)
		require.Len(t, presses, 1, shape)
		web := presses[0].Amount
		require.NoError(t, craft.Patch(presses[0].Patch["design"].(map[string]any)).Apply(&d))
		s := Draw(d, nil)
		hole := s.Holes[0].Centroid()
		assert.InDelta(t, 0, hole.Y, 1e-6, shape)
		for _, degrees := range []float64{0, 45, -45, 89, -89} { // toward the end and the sides
			sin, cos := math.Sincos(degrees * math.Pi / 180)
			_, off := s.Outline.Nearest(hole.Add(geom.Point{X: cos, Y: sin}.Scale(15)))
			assert.InDelta(t, web, off, 1.2, "%s at %v", shape, degrees)
		}
	}
	square := soft(400, 220)
	square.Handle.Kind = NoHandle
	assert.Empty(t, Draw(square, nil).Presses(c))
}

// Waste falls off round the outline and inside what is sawn out of it; what is bored leaves
// none.
func TestWaste(t *testing.T) {
	d := soft(400, 240)
	d.Handle = Handle{Kind: HeartCut, Length: 50, Diameter: 46, Setback: 60}
	assert.Len(t, Draw(d, nil).Waste(0.8, 1.5, []float64{8, 25}), 2, "the outline and the heart")
	d.Handle = Handle{Kind: Hole, Diameter: 25, Setback: 60}
	assert.Len(t, Draw(d, nil).Waste(0.8, 1.5, []float64{8, 25}), 1, "it is bored")
	d.Handle.Diameter = 33
	assert.Len(t, Draw(d, nil).Waste(0.8, 1.5, []float64{8, 25}), 2, "no bit of its size: it is sawn out")
}
