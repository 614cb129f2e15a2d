package board

import (
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/tdewolff/canvas"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

func soft(l, w float64) Design {
	return Design{
		Shape:  Rectangle,
		Length: l,
		Width:  w,
		Corner: 15,
		Handle: Handle{Kind: "none"},
		Edge:   Edge{Kind: "none"},
	}
}

func with(d Design, r Recess) Design {
	d.Recesses = []Recess{r}
	return d
}

func TestRecessVolumes(t *testing.T) {
	for _, c := range []struct {
		name string
		r    Recess
		ml   float64
	}{
		{"bowl", Recess{Kind: "bowl", Length: 90, Width: 60, Depth: 12}, 33.9},
		{"sloped floor", Recess{Kind: "slope", Length: 300, Width: 180, Depth: 4, Deep: 10}, 378},
		{"well with coves", Recess{Kind: "well", Length: 100, Width: 60, Depth: 10, Cove: 6},
			60 - (1-math.Pi/4)*36*320/1000},
	} {
		s := Draw(with(soft(400, 240), c.r), nil)
		require.Len(t, s.Cavities, 1, c.name)
		assert.InDelta(t, c.ml, s.Cavities[0].Volume/1000, 0.05, c.name)
	}
	assert.InDelta(t, 44.6, segment(6, 5), 0.05)
	assert.InDelta(t, 49.1, segment(6, 5)*1100/1000, 0.05)
	s := Draw(with(soft(400, 240), Recess{Kind: "slope", Length: 300, Width: 180, Depth: 4, Deep: 10}), nil)
	assert.InDelta(t, 1.9, s.Cavities[0].slope(), 0.05)
}

// What a recess holds agrees with a sum over its floor; tilted, it holds less.
func TestRecessesAgreeWithASum(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		r := Recess{
			Kind:   rapid.SampledFrom([]string{"well", "bowl", "slope", "groove", "ring"}).Draw(t, "kind"),
			X:      f("x", -40, 40),
			Y:      f("y", -20, 20),
			Length: f("length", 60, 200),
			Width:  f("width", 40, 120),
			Radius: f("radius", 4, 8),
			Inset:  f("inset", 10, 25),
			Toward: rapid.SampledFrom(Sides).Draw(t, "toward"),
		}
		r.Depth = f("depth", 3, 3.9)
		r.Deep = r.Depth + f("deeper", 0, 6)
		if r.Kind != "slope" {
			r.Deep = 0
		}
		c := Draw(with(soft(400, 240), r), nil).Cavities[0]
		box := c.Rim.Bounds()
		// Lines across the recess, each summed between where it meets the rims.
		const size = 0.3
		sum := 0.0
		for y := box.MinY + size/2; y < box.MaxY; y += size {
			us := c.Rim.Spans(y)
			if c.Inner != nil {
				us = append(us, c.Inner.Spans(y)...)
				slices.Sort(us)
			}
			for i := 0; i+1 < len(us); i += 2 {
				n := math.Ceil((us[i+1] - us[i]) / size)
				for k := range int(n) {
					x := us[i] + (us[i+1]-us[i])*(float64(k)+0.5)/n
					sum += c.depthAt(geom.Point{X: x, Y: y}) * (us[i+1] - us[i]) / n * size
				}
			}
		}
		if math.Abs(sum-c.Volume) > 0.005*c.Volume {
			t.Fatalf("%s holds %.0f mm³, the sum says %.0f", r.Kind, c.Volume, sum)
		}
		if spill := c.Spill(); spill < 0 || spill > c.Volume*1.001 {
			t.Fatalf("%s of %.0f holds %.0f when tilted", r.Kind, c.Volume, spill)
		}
	})
}

// What is cut for a fitting is gone: from the mass, the section, the floor
// under a recess, and the strength of a neck that it crosses.
func TestSlotsTakeWoodAway(t *testing.T) {
	d := with(soft(400, 240), Recess{Kind: "well", X: -100, Length: 120, Width: 100, Radius: 6, Depth: 6})
	whole := Draw(d, nil)
	cut := whole
	cut.Slots = []Slot{
		{
			A:      geom.Point{X: -100, Y: -120},
			B:      geom.Point{X: -100, Y: 120},
			DepthA: 12,
			DepthB: 4,
			Width:  3,
			Under:  true,
			Name:   "slot",
		},
	}
	cut.Bores = []Bore{{A: geom.Point{Y: -120}, B: geom.Point{Y: -70}, Diameter: 6, Below: 10}}
	assert.InDelta(t, 240*3*8+math.Pi*9*50, whole.Volume(20)-cut.Volume(20), 1e-6)
	assert.Equal(t, 8.0, cut.Slots[0].depthAt(geom.Point{X: -101, Y: 0}))
	assert.Zero(t, cut.Slots[0].depthAt(geom.Point{X: -102, Y: 0}))

	c := maple()
	c.Thickness = 20
	assert.InDelta(t, 14, find(t, judged(whole, c), "recess-floor").Figure.Value, 1e-9)
	deepest := 12 - 8*70.0/240 // where the slot comes into the well
	assert.InDelta(t, 20-6-deepest, find(t, judged(cut, c), "recess-floor").Figure.Value, 1e-9,
		"from both faces over one place")

	area := func(s Section) float64 {
		p, err := canvas.ParseSVGPath(s.Path)
		require.NoError(t, err)
		return geom.Largest(geom.Flatten(p, 0.01)).Area()
	}
	long := func(s Shaped) Section { return s.section(20, 0, true) }
	assert.InDelta(t, 3*8, area(long(whole))-area(long(cut)), 0.3)

	paddle := d
	paddle.Recesses, paddle.Shape, paddle.Neck, paddle.NeckLength, paddle.Shoulder = nil, Paddle, 60, 130, 30
	held := Draw(paddle, nil)
	was := find(t, judged(held, c), "neck").Figure.Value
	held.Slots = []Slot{{A: geom.Point{X: 90, Y: -30}, B: geom.Point{X: 90, Y: 30}, DepthA: 10, DepthB: 10, Width: 4}}
	assert.Greater(t, find(t, judged(held, c), "neck").Figure.Value, 2*was, "half as thick there")
}

// A void takes from every section that it lies in, unless what fills it carries
// load; filling it so is offered where that helps.
func TestVoidsWeakenWhatTheyLieIn(t *testing.T) {
	crack := func(x0, x1, y0, y1, depth float64) Void {
		return Void{
			Flaw:   "f1",
			Name:   "crack",
			Levels: []geom.Ring{geom.Bounds{MinX: x0, MaxX: x1, MinY: y0, MaxY: y1}.Ring()},
			Depth:  depth,
		}
	}
	c := maple()
	c.Thickness = 20
	held := Draw(
		Design{
			Shape:      Paddle,
			Length:     400,
			Width:      240,
			Corner:     15,
			Neck:       60,
			NeckLength: 130,
			Shoulder:   30,
			Handle:     Handle{Kind: "none"},
			Edge:       Edge{Kind: "none"},
		},
		nil,
	)
	for _, half := range []struct{ deep, lost float64 }{{20, 30}, {10, 30 * 0.75}} {
		c.Voids = []Void{crack(101, 103, 0, 60, half.deep)}
		v := find(t, judged(held, c), "neck")
		assert.InDelta(t, 102, v.Mark.AX, 2)
		terms := v.Figure.Terms
		assert.InDelta(t, half.lost, terms[6].Value, 0.01, "half of the neck's 60, %v deep of 20", half.deep)
		assert.InDelta(
			t,
			NeckStress(
				terms[0].Value,
				terms[5].Value-half.lost,
				20,
				[]float64{terms[1].Value, terms[3].Value},
				[]float64{terms[2].Value, terms[4].Value},
			),
			v.Figure.Value,
			1e-6,
		)
	}

	d := soft(400, 240)
	d.Corner = 0
	plain := Draw(d, nil)
	c.Voids = []Void{crack(-2, 2, -100, 100, 20)}
	c = c.grained(90)
	v := find(t, judged(plain, c), "waist")
	assert.Equal(t, "crack", v.Subject)
	assert.InDelta(t, 240, v.Figure.Terms[4].Value, 0.01)
	assert.InDelta(t, 200, v.Figure.Terms[5].Value, 0.01, "all of its length, through")
	require.Equal(t, craft.Stop, v.Level, "with the grain along it")
	require.NotEmpty(t, v.Remedies)
	assert.Equal(t, craft.Patch{"fill": map[string]any{"fillers": map[string]any{"f1": "epoxy"}}}, v.Remedies[0].Patch)
	c.Voids[0].Filled = true
	for _, v := range judged(plain, c) {
		assert.NotEqual(t, "waist", v.Check)
	}

	// A well across the neck, and a web beside an open void.
	d = held.Design
	sunk := with(d, Recess{Kind: "well", X: 120, Length: 40, Width: 50, Radius: 4, Depth: 10})
	c = maple()
	assert.Greater(
		t,
		find(t, judged(Draw(sunk, nil), c), "neck").Figure.Value,
		1.5*find(t, judged(Draw(d, nil), c), "neck").Figure.Value,
	)
	d.Handle = Handle{Kind: "hole", Diameter: 25, Setback: 40}
	c.Thickness, c = 6, c.grained(90)
	c.Voids = []Void{crack(120, 200, 16, 22, 6)}
	beside := func() (out craft.Verdict) {
		for _, v := range judged(Draw(d, nil), c) {
			if v.Check == "web" && v.Subject == "crack" {
				out = v
			}
		}
		return out
	}
	assert.Equal(t, craft.Stop, beside().Level)
	assert.Len(t, beside().Remedies, 1)
	c.Voids[0].Filled = true
	assert.Equal(t, craft.Mind, beside().Level)
	assert.Empty(t, beside().Remedies)
	c.Voids = []Void{crack(152, 168, -6, 6, 6)}
	assert.Empty(t, beside().Check, "the hole takes it out")
}

// A hole of its own shape that is too large for its place shrinks as a whole.
func TestAShapedHoleShrinks(t *testing.T) {
	d := soft(400, 120)
	d.Handle = Handle{
		Kind:    "own",
		Setback: 200,
		Nodes:   []Node{{X: -40, Y: -55}, {X: 40, Y: -55, Run: "arc", Rise: 10}, {X: 40, Y: 55}, {X: -40, Y: 55}},
	}
	v := find(t, judged(Draw(d, nil), maple()), "web")
	require.NotEqual(t, craft.Good, v.Level)
	i := slices.IndexFunc(v.Remedies, func(r craft.Remedy) bool { return strings.HasPrefix(r.Label, "Shrink it") })
	require.GreaterOrEqual(t, i, 0)
	var board struct {
		Design Design `json:"design"`
	}
	board.Design = d
	require.NoError(t, v.Remedies[i].Patch.Apply(&board))
	share := v.Remedies[i].Amount / 100
	assert.InEpsilon(t, Draw(d, nil).Holes[0].Area()*share*share, Draw(board.Design, nil).Holes[0].Area(), 0.01)
	assert.Less(t, find(t, judged(Draw(board.Design, nil), maple()), "web").Level.Rank(), v.Level.Rank())
}

// A pouring lip opens the rim to its side, and the wall there is not missed.
func TestPouringLip(t *testing.T) {
	c := maple()
	for _, side := range Sides {
		s := Draw(
			with(soft(400, 240), Recess{Kind: "groove", Inset: 14, Radius: 6, Depth: 5, Lip: side, LipBit: 12}),
			nil,
		)
		lip := s.Cavities[0].Lip
		require.NotEmpty(t, lip, side)
		_, toEdge := s.Outline.Nearest(lip.Centroid())
		assert.Less(t, toEdge, 16.0, side)
		groove := s.Cavities[0]
		assert.InDelta(t, 14*segment(6, 5), groove.Spout, 60, "a channel from the rim to the edge")
		assert.InDelta(t, s.Area()*20-groove.Volume-groove.Spout, s.Volume(20), 1e-6)
		assert.InDelta(t, 12, min(lip.Bounds().MaxX-lip.Bounds().MinX, lip.Bounds().MaxY-lip.Bounds().MinY), 0.1, side)
		assert.Equal(t, craft.Good, find(t, judged(s, c), "recess-wall").Level)
	}
}

// Twice as large in every way, a board is eight times the wood, and so is what
// its recesses hold.
func TestVolumesGoWithTheCube(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		build := func(k float64, l, w, r, depth, slant float64) Shaped {
			d := Design{
				Shape:  Rectangle,
				Length: k * l,
				Width:  k * w,
				Corner: k * r,
				Slant:  k * slant,
				Handle: Handle{Kind: "hole", Diameter: k * 30, Setback: k * 45},
				Recesses: []Recess{
					{Kind: "bowl", Length: k * 80, Width: k * 60, Depth: k * depth, X: -k * 40},
					{Kind: "groove", Inset: k * 15, Radius: k * 5, Depth: k * 4},
				},
			}
			return Draw(d, nil)
		}
		l, w, r, depth, slant := f("length", 280, 500), f("width", 180, 300), f("corner", 5, 40), f(
			"depth",
			4,
			10,
		), f("slant", 0, 6)
		one, two := build(1, l, w, r, depth, slant), build(2, l, w, r, depth, slant)
		if v := two.Volume(40) / one.Volume(20); math.Abs(v-8) > 0.02 {
			t.Fatalf("the wood is %g times as much", v)
		}
		for i := range one.Cavities {
			if v := two.Cavities[i].Volume / one.Cavities[i].Volume; math.Abs(v-8) > 0.03 {
				t.Fatalf("the %s holds %g times as much", one.Cavities[i].Recess.Kind, v)
			}
		}
	})
}

func TestWorkedExamplesOfTheRouterAndTheHand(t *testing.T) {
	high, deep := UnderBevel(22, 6, 25, false)
	assert.InDelta(t, 16, high, 1e-9)
	assert.InDelta(t, 7.5, deep, 0.05)
	high, _ = UnderBevel(22, 6, 25, true)
	assert.InDelta(t, 8, high, 1e-9)
}

func bevelled(t float64, both bool) []craft.Verdict {
	d := soft(400, 240)
	d.Handle = Handle{Kind: "bevel", Flat: 6, Angle: 25, Where: "ends", Both: both}
	c := maple()
	c.Thickness, c.Most = t, t+8
	return judged(Draw(d, nil), c)
}

func TestFingerBevel(t *testing.T) {
	assert.Equal(t, craft.Good, find(t, bevelled(22, false), "bevel").Level)
	assert.Equal(t, craft.Mind, find(t, bevelled(16, false), "bevel").Level)
	both := find(t, bevelled(22, true), "bevel")
	assert.Equal(t, craft.Stop, both.Level)
	assert.Equal(t, "Bevel the under face only", both.Remedies[0].Label)
}

func TestChecksOfRecesses(t *testing.T) {
	c := maple()
	c.Thickness, c.Most = 20, 26
	c.Tools.Router = tool.Router{
		Base: 150,
		Bits: []tool.RouterBit{
			{Kind: "straight", Diameter: 9.5, Length: 25},
			{Kind: "round nose", Diameter: 12, Length: 14},
		},
		Bushes: []float64{16, 30},
	}
	judge := func(r Recess) []craft.Verdict { return judged(Draw(with(soft(400, 240), r), nil), c) }
	well := Recess{Kind: "well", Length: 120, Width: 80, Depth: 8, Radius: 6}
	assert.Equal(t, craft.Good, find(t, judge(well), "recess-floor").Level)
	well.Depth = 16
	thin := find(t, judge(well), "recess-floor")
	assert.Equal(t, craft.Stop, thin.Level)
	require.NotEmpty(t, thin.Remedies)
	groove := Recess{Kind: "groove", Inset: 5, Radius: 6, Depth: 5, Juice: 200}
	vs := judge(groove)
	assert.Equal(t, craft.Mind, find(t, vs, "recess-wall").Level)
	assert.Equal(t, craft.Mind, find(t, vs, "recess-juice").Level)
	level := Recess{Kind: "slope", Length: 120, Width: 80, Depth: 6, Deep: 6.5, Radius: 6}
	assert.Equal(t, craft.Mind, find(t, judge(level), "recess-drain").Level)
	gone := Recess{Kind: "well", Length: 120, Width: 80, Depth: 8, Radius: 6, X: 180}
	assert.Equal(t, craft.Stop, find(t, judge(gone), "recess-wall").Level)

	holed := with(soft(400, 240), Recess{Kind: "groove", Inset: 14, Radius: 6, Depth: 5})
	holed.Handle = Handle{Kind: "hole", Diameter: 30, Setback: 36}
	assert.Equal(
		t,
		craft.Stop,
		find(t, judged(Draw(holed, nil), c), "recess-wall").Level,
		"a groove that runs into the hole",
	)
	holed.Handle.Setback = 90
	assert.Equal(
		t,
		craft.Good,
		find(t, judged(Draw(holed, nil), c), "recess-wall").Level,
		"a hole well inside the groove",
	)

	pair := with(soft(400, 240), Recess{Kind: "well", Length: 100, Width: 80, Depth: 6, X: -60})
	pair.Recesses = append(pair.Recesses, Recess{Kind: "well", Length: 100, Width: 80, Depth: 6, X: 45})
	assert.Equal(t, craft.Mind, find(t, judged(Draw(pair, nil), c), "recess-wall").Level, "5 mm between two wells")
	pair.Recesses[1].Under = true
	assert.Equal(t, craft.Good, find(t, judged(Draw(pair, nil), c), "recess-wall").Level, "one in each face")
	ringed := with(soft(400, 240), Recess{Kind: "groove", Inset: 14, Radius: 6, Depth: 5})
	ringed.Recesses = append(ringed.Recesses, Recess{Kind: "bowl", Length: 336, Width: 60, Depth: 8})
	assert.Equal(
		t,
		craft.Mind,
		find(t, judged(Draw(ringed, nil), c), "recess-wall").Level,
		"a bowl that nearly meets the groove",
	)

	work := Work(Draw(with(soft(400, 240), well), nil), c)
	require.Len(t, work, 1)
	assert.Equal(t, 9.5, work[0].Bit)
	assert.Equal(t, 4, work[0].Passes)
	assert.Equal(t, 70.25, work[0].Fence)
	assert.Equal(t, 16.0, work[0].Bush)

	several := Draw(
		with(soft(400, 240), Recess{Kind: "bowl", Item: 60, Clear: 2, Depth: 8, Count: 3, Spread: "ends"}),
		nil,
	)
	require.Len(t, several.Cavities, 3)
	gap := several.Cavities[1].Rim.Bounds().MinX - several.Cavities[0].Rim.Bounds().MaxX
	assert.InDelta(t, (400.0-3*64)/4, gap, 0.1)
	assert.InDelta(t, gap, several.Cavities[0].Rim.Bounds().MinX+200, 0.1)
}

// A remedy's patch, applied as RFC 7396 says, makes the design that was tried.
func TestRemediesPatchWhatTheyTried(t *testing.T) {
	d := soft(400, 240)
	d.More = []Handle{{Kind: "hole", Diameter: 22, Setback: 40, Offset: 60}}
	d.Recesses = []Recess{
		{Kind: "well", Length: 120, Width: 80, Depth: 16},
		{Kind: "ring", Length: 60, Radius: 4, Depth: 3, X: -120},
	}
	c := maple()
	for _, v := range judged(Draw(d, nil), c) {
		for _, r := range v.Remedies {
			next := patched(t, d, r.Patch)
			assert.Empty(t, next.Check("design"), r.Label)
			again := judged(Draw(next, nil), withThickness(c, next))
			if at := slices.IndexFunc(again, func(w craft.Verdict) bool {
				return w.Check == v.Check &&
					w.Subject == v.Subject
			}); at >= 0 {
				assert.LessOrEqual(t, again[at].Level.Rank(), v.Level.Rank(), "%s: %s", v.Check, r.Label)
			}
		}
	}
}

func withThickness(c Conditions, d Design) Conditions {
	if d.Thickness > 0 {
		c.Thickness = min(d.Thickness, c.Most)
	}
	return c
}

func patched(t require.TestingT, d Design, p craft.Patch) Design {
	doc := struct {
		Design Design `json:"design"`
	}{d}
	require.NoError(t, p.Apply(&doc))
	return doc.Design
}

func TestEdgesBySideAndFace(t *testing.T) {
	d := soft(400, 240)
	d.Edge = Edge{Kind: "round-over", Size: 3}
	d.Edges = []EdgeAt{{Where: left, Edge: Edge{Kind: "chamfer", Size: 12, Angle: 60, Face: "under"}}}
	assert.Equal(t, 3.0, d.EdgeAt(left, false).Depth())
	assert.Equal(t, 12.0, d.EdgeAt(left, true).Depth())
	assert.InDelta(t, 12/math.Tan(math.Pi/3), d.EdgeAt(left, true).Run(), 1e-9)
	c := maple()
	c.Thickness = 16
	var levels []craft.Level
	for _, v := range judged(Draw(d, nil), c) {
		if v.Check == "edge" {
			levels = append(levels, v.Level)
		}
	}
	assert.ElementsMatch(t, []craft.Level{craft.Good, craft.Mind}, levels)
	assert.InDelta(t, 2*Draw(d, nil).Outline.Perimeter(), Draw(d, nil).Worked(), 1e-6)
}

// The section encloses the thickness less what profiles and recesses take.
func TestSectionsAreTrue(t *testing.T) {
	d := soft(400, 200)
	d.Corner = 0
	d.Edge = Edge{Kind: "chamfer", Size: 4}
	d.Recesses = []Recess{{Kind: "well", Length: 100, Width: 80, Depth: 6}}
	s := Draw(d, nil)
	sections := Sections(s, 20)
	require.Len(t, sections, 2)
	assert.InDelta(t, 200*20-4*8-80*6, ringOf(t, sections[0].Path).Area(), 6)
	assert.InDelta(t, 400*20-4*8-100*6, ringOf(t, sections[1].Path).Area(), 12)
	d.Edge, d.Recesses, d.Slant = Edge{Kind: "none"}, nil, 10
	assert.InDelta(t, (200+180)/2*20, ringOf(t, Sections(Draw(d, nil), 20)[0].Path).Area(), 1)
	d.Slant, d.Handle = 0, Handle{Kind: "bevel", Flat: 6, Angle: 45, Where: "all"}
	assert.InDelta(t, 200*20-14*14, ringOf(t, Sections(Draw(d, nil), 20)[0].Path).Area(), 8)
}

func TestVolumeOfASlantedBoard(t *testing.T) {
	d := soft(400, 200)
	d.Corner, d.Slant = 0, 10
	frustum := 20.0 / 3 * (400*200 + 380*180 + math.Sqrt(400*200*380*180))
	assert.InEpsilon(t, frustum, Draw(d, nil).Volume(20), 0.001)
}

func TestShapedHandlesAreCutTrue(t *testing.T) {
	d := soft(400, 240)
	for kind, h := range map[string]Handle{
		"heart":    {Kind: "heart", Length: 50, Diameter: 46, Setback: 50},
		"drop":     {Kind: "drop", Length: 60, Diameter: 34, Setback: 60},
		"crescent": {Kind: "crescent", Length: 90, Diameter: 30, Setback: 60},
		"own": {Kind: "own", Setback: 60, Nodes: []Node{{X: -20, Y: -20, Kind: "smooth"},
			{X: 20, Y: -14, Kind: "smooth"}, {X: 16, Y: 22, Kind: "smooth"}, {X: -18, Y: 16, Kind: "smooth"}}},
	} {
		d.Handle = h
		require.Empty(t, d.Check("design"), kind)
		s := Draw(d, nil)
		require.Len(t, s.Holes, 1, kind)
		assert.InDelta(t, 200-h.Setback, s.Holes[0].Bounds().MaxX/2+s.Holes[0].Bounds().MinX/2, 6, kind)
		assert.Equal(t, craft.Good, find(t, judged(s, maple()), "web").Level, kind)
		e := Entries(s, []float64{6, 8, 10, 20})
		require.Len(t, e, 1)
		assert.Positive(t, e[0].Diameter, kind)
		_, d := s.Holes[0].Nearest(e[0].At)
		assert.GreaterOrEqual(t, d, e[0].Diameter/2, "the entry hole of the %s lies in the waste", kind)
	}
	d.Handle = Handle{Kind: "notch", Diameter: 20, Length: 90, Setback: 200}
	cut := Draw(d, nil)
	bay := math.Pi*20*20/2 + 50*20.0
	assert.InDelta(t, Draw(soft(400, 240), nil).Area()-bay, cut.Area(), 10)
	assert.Empty(t, cut.Holes)
	d.Handle = Handle{Kind: "slot", Diameter: 28, Length: 95, Setback: 40}
	e := Entries(Draw(d, nil), []float64{28})
	assert.InDelta(t, 95-28, e[0].Second.At.Sub(e[0].At).Len(), 1e-9)
}

func TestHandleOnTheLocalMiddle(t *testing.T) {
	d := Design{
		Shape:  Free,
		Length: 300,
		Width:  160,
		Nodes:  []Node{{X: -150, Y: -60}, {X: 150, Y: -20}, {X: 150, Y: 60}, {X: -150, Y: 100}},
		Handle: Handle{Kind: "hole", Diameter: 25, Setback: 40},
	}
	s := Draw(d, nil)
	off := d.Handle.OffCentre(s).Value
	assert.NotZero(t, off)
	d.Handle.Local = true
	assert.InDelta(t, 0, d.Handle.OffCentre(Draw(d, nil)).Value, 1e-9)
}

func TestPlankEnds(t *testing.T) {
	wood := geom.Ring{{X: -400, Y: -90}, {X: 400, Y: -80}, {X: 400, Y: 95}, {X: 0, Y: 110}, {X: -400, Y: 90}}
	d := Design{
		Shape:     Plank,
		Length:    500,
		Width:     100,
		KeepLeft:  true,
		KeepRight: true,
		Handle:    Handle{Kind: "none"},
		Edge:      Edge{Kind: "none"},
	}
	plain := Draw(d, wood)
	for name, c := range map[string]struct {
		end  End
		less func(Shaped) float64 // expected loss of area
	}{
		"angle": {End{Kind: "angle", Angle: 12}, func(Shaped) float64 { return 0 }},
		"tab":   {End{Kind: "tab", Width: 60, Length: 90, Round: 20}, nil},
		"curve": {End{Kind: "curve", Rise: -15}, nil},
		"left":  {End{Kind: "left"}, func(Shaped) float64 { return 0 }},
	} {
		d.HandleEnd = c.end
		require.Empty(t, d.Check("design"), name)
		s := Draw(d, wood)
		require.False(t, s.Outline.SelfCrosses(), name)
		d.HandleEnd, d.FarEnd = End{}, c.end
		if c.end.Kind == "angle" {
			d.FarEnd.Angle = c.end.Angle
		}
		far := Draw(d, wood)
		require.False(t, far.Outline.SelfCrosses(), name)
		d.FarEnd = End{}
		if c.less != nil { // what an end gains on one side of its middle it loses on the other
			assert.InEpsilon(t, plain.Outline.Area()-c.less(s), s.Outline.Area(), 0.012, name)
			assert.InEpsilon(t, plain.Outline.Area()-c.less(s), far.Outline.Area(), 0.012, name)
			continue
		}
		assert.Less(t, s.Outline.Area(), plain.Outline.Area()-500, name)
		if c.end.Kind == "tab" {
			from, to, _ := across(s.Outline, 230)
			assert.InDelta(t, 60, to-from, 0.1)
			assert.InDelta(t, 160, s.HandleStart(), 1e-9)
		}
	}
	d.Inset = 10
	followed := Draw(d, wood)
	from, to, _ := across(followed.Outline, 100)
	a, b, _ := across(plain.Outline, 100)
	assert.InDelta(t, 20, (b-a)-(to-from), 0.1)
	assert.Zero(t, followed.Natural(), "a line that follows the edge inside it is sawn")
	assert.Positive(t, plain.Natural())
}

func TestWaistOfAFreeOutlineIsFound(t *testing.T) {
	d := Design{Shape: Free, Length: 360, Width: 160, Handle: Handle{Kind: "none"},
		Nodes: []Node{
			{X: -180, Y: -80},
			{X: 40, Y: -80},
			{X: 70, Y: -9, Round: 15},
			{X: 110, Y: -9, Round: 15},
			{X: 180, Y: -40},
			{X: 180, Y: 40},
			{X: 110, Y: 9, Round: 15},
			{X: 70, Y: 9, Round: 15},
			{X: 40, Y: 80},
			{X: -180, Y: 80},
		}}
	c := maple()
	c.Thickness = 14
	v := find(t, judged(Draw(d, nil), c), "waist")
	assert.Greater(t, v.Figure.Value, 8.0)
	assert.InDelta(t, 18, math.Hypot(v.Mark.AX-v.Mark.BX, v.Mark.AY-v.Mark.BY), 0.5)
	c = c.grained(90)
	assert.Equal(t, craft.Stop, find(t, judged(Draw(d, nil), c), "waist").Level, "with the grain across it")
}

func TestItTipsAndHangs(t *testing.T) {
	d := soft(400, 200)
	c := maple()
	c.FootSpots = geom.Ring{{X: -40, Y: -30}, {X: 40, Y: -30}, {X: 40, Y: 30}, {X: -40, Y: 30}}
	assert.Equal(t, craft.Mind, find(t, judged(Draw(d, nil), c), "tips").Level)
	c.FootSpots = geom.Ring{{X: -180, Y: -80}, {X: 180, Y: -80}, {X: 180, Y: 80}, {X: -180, Y: 80}}
	assert.Equal(t, craft.Good, find(t, judged(Draw(d, nil), c), "tips").Level)
	d.Handle = Handle{Kind: "hole", Diameter: 30, Setback: 40, Offset: 40}
	v := find(t, judged(Draw(d, nil), maple()), "hangs")
	assert.Equal(t, craft.Mind, v.Level)
	next := patched(t, d, v.Remedies[0].Patch)
	assert.Equal(t, craft.Good, find(t, judged(Draw(next, nil), maple()), "hangs").Level)
}

func TestStretchesTellTheGrain(t *testing.T) {
	lengths := map[string]float64{}
	for _, st := range Stretches(Draw(soft(400, 240), nil), stock.Uniform{}) {
		lengths[st.Grain] += st.Mm
	}
	assert.InDelta(t, 2*240, lengths["end"], 40)
	round := Stretches(
		Draw(Design{Shape: Circle, Length: 300, Width: 300, Handle: Handle{Kind: "none"}}, nil),
		stock.Uniform{},
	)
	lengths = map[string]float64{}
	for _, st := range round {
		lengths[st.Grain] += st.Mm
	}
	assert.InDelta(t, 300*math.Pi*70/180, lengths["end"], 30)
	assert.InDelta(t, 300*math.Pi*(55-4)*2/360, lengths["against"], 30, "two quarters of a round run against the grain")
	assert.Equal(t, "end", round[0].Grain, "end grain comes first")
}

func TestToolsThatDoNotReach(t *testing.T) {
	d := soft(400, 240)
	d.Handle = Handle{Kind: "heart", Length: 50, Diameter: 46, Setback: 50}
	c := maple()
	c.Tools = c.Tools.With(tool.Tool{Kind: tool.DrillPress, Travel: 15})
	c.Thickness, c.Routed = 18, 22 // a bit of 20 is too short before it is sanded
	c.Tools.Blades = []tool.Blade{{Saw: tool.Jigsaw, Name: "jigsaw", Radius: 12}}
	c.Tools.Router = tool.Router{
		Base: 150,
		Bits: []tool.RouterBit{
			{Kind: "flush trim", Diameter: 12, Length: 20, Bearing: 12},
			{Kind: "round-over", Diameter: 12, Length: 12, Bearing: 12},
		},
	}
	vs := judged(Draw(d, nil), c)
	assert.Equal(t, craft.Mind, find(t, vs, "drill-travel").Level)
	assert.Equal(t, craft.Mind, find(t, vs, "bit-length").Level)
	for shape, told := range map[Shape]bool{Paddle: true, Oval: true, HalfMoon: true, Rectangle: false, Square: false} {
		named := soft(400, 240) // routed along a template, though no hole of it is shaped
		named.Shape, named.Neck, named.NeckLength, named.Handle.Kind = shape, 60, 100, NoHandle
		says := false
		for _, v := range judged(Draw(named, nil), c) {
			says = says || v.Check == "bit-length"
		}
		assert.Equal(t, told, says, shape)
	}
	tight := Design{
		Shape:    Heart,
		Length:   300,
		Width:    280,
		Tip:      20,
		Shoulder: 3,
		Handle:   Handle{Kind: "none"},
		Edge:     Edge{Kind: "round-over", Size: 3},
	}
	vs = judged(Draw(tight, nil), c)
	assert.Equal(t, craft.Mind, find(t, vs, "bearing").Level)
	corner := find(t, vs, "inside-corner")
	assert.Equal(t, craft.Mind, corner.Level)
	open := patched(t, tight, corner.Remedies[0].Patch)
	assert.Equal(t, craft.Good, find(t, judged(Draw(open, nil), c), "inside-corner").Level)
}

func TestSplitBoardsMate(t *testing.T) {
	s := Draw(soft(400, 240), nil)
	line := []Node{
		{X: -220, Y: 10, Kind: "smooth"},
		{X: -80, Y: 40, Kind: "smooth"},
		{X: 60, Y: -30, Kind: "smooth"},
		{X: 220, Y: 10, Kind: "smooth"},
	}
	parts, err := Split(s, line, UsualGap)
	require.NoError(t, err)
	a, b := Draw(parts[0].Design, nil).Outline.Map(parts[0].At.Out), Draw(parts[1].Design, nil).Outline.Map(
		parts[1].At.Out,
	)
	m := Meet(a, b, UsualGap)
	assert.InDelta(t, UsualGap, m.Least, 0.05)
	assert.InDelta(t, UsualGap, m.Widest, 0.3)
	assert.Zero(t, m.Clash)
	assert.Greater(t, m.Length, 350.0)
	assert.False(t, m.Turned)
	assert.InDelta(t, s.Outline.Area()-UsualGap*m.Length, a.Area()+b.Area(), 150)
	assert.Equal(t, craft.Good, MateVerdict(a, b, UsualGap, 1, "the other").Level)
	pushed := b.Map(geom.Point{Y: 2}.Add)
	if a.Centroid().Y > b.Centroid().Y {
		assert.Equal(t, craft.Stop, MateVerdict(a, pushed, UsualGap, 1, "the other").Level)
	} else {
		assert.Equal(t, craft.Mind, MateVerdict(a, pushed, UsualGap, 1, "the other").Level)
	}
	even, err := Split(s, []Node{{X: -220, Y: 0}, {X: 220, Y: 0}}, UsualGap)
	require.NoError(t, err)
	m = Meet(
		Draw(even[0].Design, nil).Outline.Map(even[0].At.Out),
		Draw(even[1].Design, nil).Outline.Map(even[1].At.Out),
		UsualGap,
	)
	assert.True(t, m.Turned, "a straight cut mates either way")
	_, err = Split(s, []Node{{X: -50, Y: 0}, {X: 50, Y: 0}}, UsualGap)
	assert.ErrorContains(t, err, "does not cut")

	for _, side := range Sides {
		mate, err := MateFor(
			Draw(Design{Shape: Oval, Length: 300, Width: 200, Handle: Handle{Kind: "none"}}, nil),
			side,
			120,
			1,
		)
		require.NoError(t, err)
		other := Draw(mate.Design, nil).Outline.Map(mate.At.Out)
		v := MateVerdict(
			Draw(Design{Shape: Oval, Length: 300, Width: 200, Handle: Handle{Kind: "none"}}, nil).Outline,
			other,
			1,
			1,
			"it",
		)
		assert.Equal(t, craft.Good, v.Level, "%s: %s", side, v.Finding)
	}
	_, err = MateFor(s, "top", 100, 1)
	assert.Error(t, err)
}

func ringOf(t *testing.T, path string) geom.Ring {
	t.Helper()
	p := geom.Largest(parse(t, path))
	require.NotNil(t, p)
	return p
}

// A hole is bored with a bit that is named, at a place that can be marked.
func TestBoringTellsTheBitAndThePlace(t *testing.T) {
	d := Design{Shape: Rectangle, Length: 300, Width: 140}
	d.Handle = Handle{Kind: Hole, Diameter: 25, Setback: 40, Offset: 12}
	s := Draw(d, nil)
	hole := s.Holes[0].Bounds()
	marks := s.boreMark(0)
	require.Len(t, marks, 1)
	from := s.Outline.Bounds().MaxX - (hole.MinX+hole.MaxX)/2
	assert.Contains(t, marks[0], "Bit of {25 bit}, its middle "+craft.Length(from)+" from the handle end")
	assert.Contains(t, marks[0], "of the centre line")
	d.Handle = Handle{Kind: "none"}
	assert.Empty(t, Draw(d, nil).Handles)
}

// On a peg a round hole's centre and the balance point stand plumb, whatever the hole
// measures; from any other hole it hangs where its balance point is lowest.
func TestAHungBoardHangsPlumb(t *testing.T) {
	d := Design{Shape: Rectangle, Length: 300, Width: 160, Thickness: 20, Edge: Edge{Kind: "none"}}
	c := maple()
	for _, kind := range []string{Hole, CordHole, HeartCut, DropCut} {
		for _, wide := range []float64{8, 30, 60} {
			d.Handle = Handle{Kind: kind, Diameter: wide, Length: 1.2 * wide, Setback: 60, Offset: 30}
			s := Draw(d, nil)
			mass := s.Balance(c.Wood)
			lean := find(t, judged(s, c), "hangs").Figure.Value
			if kind == Hole || kind == CordHole {
				assert.InDelta(t, math.Atan2(30-mass.Y, 90-mass.X)*180/math.Pi, lean, 0.05, "%s of %g", kind, wide)
				continue
			}
			// The plainer way: turned by every angle, the balance point below the highest
			// place of the rim.
			lowest, at := math.Inf(-1), 0.0
			for k := range 3600 {
				a := float64(k) / 10 * math.Pi / 180
				up := geom.Point{X: math.Cos(a), Y: math.Sin(a)}
				top := math.Inf(-1)
				for _, p := range s.Holes[0] {
					top = max(top, p.X*up.X+p.Y*up.Y)
				}
				if below := top - (mass.X*up.X + mass.Y*up.Y); below > lowest {
					lowest, at = below, a
				}
			}
			off := math.Abs(math.Remainder(at*180/math.Pi, 360))
			assert.InDelta(t, off, lean, 0.3, "%s of %g", kind, wide)
		}
	}
}

// A cove takes a nose of its own radius, not of the well's depth; where no bit fits,
// what is owned and what is asked for are told, and no guide bush is spoken of.
func TestTheBitThatCutsARecess(t *testing.T) {
	router := tool.Router{Base: 150, Bushes: []float64{17}, Bits: []tool.RouterBit{
		{Kind: tool.RoundNose, Diameter: 9.52, Length: 12}, {Kind: tool.RoundNose, Diameter: 12, Length: 14},
		{Kind: tool.Straight, Diameter: 6, Length: 16},
	}}
	well := Recess{Kind: "well", Length: 80, Width: 60, Depth: 6, Radius: 8, Cove: 4.76}
	assert.Equal(t, 9.52, bitFor(router, well))
	bowl := Recess{Kind: "bowl", Length: 90, Width: 70, Depth: 15}
	assert.Zero(t, bitFor(router, bowl))
	c := maple()
	c.Tools.Router, c.Thickness = router, 30
	d := soft(300, 160)
	d.Recesses = []Recess{bowl}
	v := find(t, judged(Draw(d, nil), c), "recess-bit")
	assert.Contains(t, v.Finding, "reaches the floor")
	assert.Equal(t, 14.0, v.Figure.Value)
	assert.Equal(t, 15.0, v.Limit)
	assert.Zero(t, Work(Draw(d, nil), c)[0].Bush)
	well.Cove, well.Radius = 0, 2
	d.Recesses = []Recess{well}
	v = find(t, judged(Draw(d, nil), c), "recess-bit")
	assert.Equal(t, 6.0, v.Figure.Value)
	assert.Equal(t, 4.0, v.Limit)
	assert.False(t, v.AtLeast)
}

// A tilted recess spills toward whichever side leaves least. The plainer way: by small
// cells, toward every five degrees.
func TestSpillAgreesWithARaster(t *testing.T) {
	d := soft(320, 200)
	d.Recesses = []Recess{
		{Kind: "groove", Inset: 14, Radius: 6, Depth: 5},
		{Kind: "ring", Length: 120, Radius: 5, Depth: 4, X: 10, Y: 5},
		{Kind: "bowl", Length: 150, Width: 90, Depth: 9},
		{Kind: "well", Length: 90, Width: 40, Depth: 6, Radius: 4},
		{Kind: "slope", Length: 90, Width: 60, Depth: 4, Deep: 9, Radius: 4, Toward: "far end"},
	}
	for _, c := range Draw(d, nil).Cavities {
		const cell = 0.8
		type place struct {
			at    geom.Point
			depth float64
		}
		var places []place
		box, least := c.Rim.Bounds(), math.Inf(1)
		for x := box.MinX + cell/2; x < box.MaxX; x += cell {
			for y := box.MinY + cell/2; y < box.MaxY; y += cell {
				p := geom.Point{X: x, Y: y}
				if c.Rim.Contains(p) && (len(c.Inner) == 0 || !c.Inner.Contains(p)) {
					places = append(places, place{p, c.depthAt(p)})
				}
			}
		}
		for way := range 72 {
			sin, cos := math.Sincos(float64(way) * 5 * math.Pi / 180)
			level, held := math.Inf(-1), 0.0
			for _, p := range c.Rim {
				level = max(level, p.X*cos+p.Y*sin)
			}
			for _, p := range places {
				held += max(0, p.depth-math.Tan(tilt*math.Pi/180)*(level-p.at.X*cos-p.at.Y*sin)) * cell * cell
			}
			least = min(least, held)
		}
		assert.InDelta(t, least, c.Spill(), 0.02*c.Volume+0.02*least, c.Recess.Kind)
	}
}

// A groove in the other face runs round a bowl, not under it.
func TestAFloorIsThinnedOnlyWhereBothLie(t *testing.T) {
	d := soft(320, 200)
	bowl := Recess{Kind: "bowl", Length: 120, Width: 80, Depth: 8}
	d.Recesses = []Recess{bowl, {Kind: "groove", Inset: 12, Radius: 5, Depth: 5, Under: true}}
	c := maple()
	c.Thickness = 20
	assert.Equal(t, 12.0, find(t, judged(Draw(d, nil), c), "recess-floor").Figure.Value)
	d.Recesses[1] = Recess{Kind: "well", Length: 60, Width: 60, Depth: 5, Radius: 5, Under: true}
	assert.Equal(t, 7.0, find(t, judged(Draw(d, nil), c), "recess-floor").Figure.Value)
	d.Recesses[1].X = 130
	assert.Equal(t, 12.0, find(t, judged(Draw(d, nil), c), "recess-floor").Figure.Value)
}

// What is run along a hole meets the checks of an edge: the flat that is left, the
// bearing, and the minutes.
func TestHolesMeetTheChecksOfEdges(t *testing.T) {
	d := soft(300, 160)
	d.Handle = Handle{Kind: Hole, Diameter: 30, Setback: 50}
	d.Edge = Edge{Kind: "none"}
	c := maple()
	c.Thickness = 20
	c.Tools.Router.Bits = []tool.RouterBit{{Kind: "round-over", Diameter: 6, Length: 12, Bearing: 9.5}}
	plain := Draw(d, nil)
	assert.Zero(t, plain.Worked())
	d.Edges = []EdgeAt{{Where: inHoles, Edge: Edge{Kind: "round-over", Size: 3}}}
	run := Draw(d, nil)
	assert.InDelta(t, 2*math.Pi*30, run.Worked(), 1)
	assert.Equal(t, craft.Good, find(t, judged(run, c), "edge").Level)
	d.Edges[0].Size = 12
	assert.Equal(t, craft.Stop, find(t, judged(Draw(d, nil), c), "edge").Level, "12 from both faces of 20")
	d.Edges[0].Size, d.Handle = 3, Handle{Kind: CordHole, Diameter: 6, Setback: 50}
	v := find(t, judged(Draw(d, nil), c), "bearing")
	assert.Equal(t, craft.Mind, v.Level, "a bearing of 9.5 in a hole of 6")
	assert.InDelta(t, 3, v.Figure.Value, 0.05)
}

// A finger bevel leaves the flat that was chosen, not what the thickness would leave;
// none at all is a knife.
func TestWhatAFingerBevelLeavesStanding(t *testing.T) {
	d := soft(300, 160)
	c := maple()
	c.Thickness = 20
	for _, k := range []struct {
		flat, profile, left float64
		both                bool
		level               craft.Level
	}{
		{6, 0, 6, true, craft.Good}, {6, 2, 4, false, craft.Good}, {6, 5, 1, false, craft.Mind},
		{0, 0, 0, false, craft.Stop}, {3, 3, 0, false, craft.Stop}, {3, 3, 3, true, craft.Good},
	} {
		d.Handle = Handle{Kind: Bevel, Flat: k.flat, Angle: 45, Both: k.both}
		d.Edge = Edge{Kind: "none"}
		if k.profile > 0 {
			d.Edge = Edge{Kind: "chamfer", Size: k.profile, Angle: 45}
		}
		v := find(t, judged(Draw(d, nil), c), "edge")
		assert.InDelta(t, k.left, v.Figure.Value, 1e-9, "%+v", k)
		assert.Equal(t, k.level, v.Level, "%+v", k)
		if k.level != craft.Good {
			next := patched(t, d, v.Remedies[0].Patch)
			assert.Equal(t, craft.Good, find(t, judged(Draw(next, nil), c), "edge").Level, "the remedy helps: %+v", k)
		}
	}
}
