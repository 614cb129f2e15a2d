package layout

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/rule"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

func place() Place {
	w := slab.Draw(slab.Slab{
		Name: "slab", Species: "Pear", Length: 900, LiveLeft: true, LiveRight: true,
		Show: []slab.Station{
			{X: 0, Left: 110, Right: -110},
			{X: 450, Left: 130, Right: -105},
			{X: 900, Left: 100, Right: -120},
		},
		Readings: []slab.Reading{{Thickness: 30}},
	}, nil)
	return Place{
		Wood: w, Usable: w.Usable(), At: geom.Placement{X: 450}, Choice: Choice{Saw: "band saw", Snipe: "allow"},
		Shop: shop.Usual(), Name: "board",
		Design: board.Design{
			Shape:  board.Rectangle,
			Length: 360,
			Width:  180,
			Corner: 15,
			Handle: board.Handle{Kind: "none"},
		},
	}
}

func (p Place) verdict(t require.TestingT, check string, others ...Neighbour) craft.Verdict {
	p.Others = others
	for _, v := range craft.Offered(p.Check(p.Shaped())) {
		if v.Check == check {
			return v
		}
	}
	require.Fail(t, "no verdict "+check)
	return craft.Verdict{}
}

func TestVerdicts(t *testing.T) {
	for _, c := range []struct {
		name, check string
		level       craft.Level
		change      func(*Place)
	}{
		{"in the middle", "inside", craft.Good, func(p *Place) {}},
		{"over the edge", "inside", craft.Stop, func(p *Place) { p.At.Y = 40 }},
		{"off the end", "inside", craft.Stop, func(p *Place) { p.At.X = 100 }},
		{"close to the end", "squaring", craft.Mind, func(p *Place) { p.At.X = 181 }},
		{"in the snipe", "snipe", craft.Mind, func(p *Place) { p.At.X = 200 }},
		{"sacrificial pieces", "snipe", craft.Good, func(p *Place) { p.At.X, p.Choice.Snipe = 200, "pieces" }},
		{"turned, no handle", "grain", craft.Good, func(p *Place) { p.At.Angle = 20 }},
		{"turned, with a handle", "grain", craft.Mind, func(p *Place) {
			p.At.Angle = 20
			p.Design.Handle = board.Handle{Kind: "hole", Diameter: 25, Setback: 40}
		}},
		{"across, with a handle", "grain", craft.Stop, func(p *Place) {
			p.At.Angle = 90
			p.Design.Handle = board.Handle{Kind: "hole", Diameter: 25, Setback: 40}
		}},
		{
			"narrow planer", "machine", craft.Mind,
			func(p *Place) { p.Shop.Kit = p.Shop.With(tool.Tool{Kind: tool.Planer, Width: 200}) },
		},
		{"sawn side kept", "live-edge", craft.Stop,
			func(p *Place) { p.Design.Shape, p.Design.KeepLeft, p.Wood.LiveLeft = board.Plank, true, false }},
		{"the other side when turned round", "live-edge", craft.Good, func(p *Place) {
			p.Design.Shape, p.Design.KeepLeft, p.Wood.LiveLeft, p.At.Angle = board.Plank, true, false, 180
		}},
	} {
		t.Run(c.name, func(t *testing.T) {
			p := place()
			c.change(&p)
			v := p.verdict(t, c.check)
			assert.Equal(t, c.level, v.Level, v.Finding)
		})
	}
}

func TestNeighboursKeepTheKerf(t *testing.T) {
	p := place()
	p.Design.Length, p.Design.Width = 200, 150
	other := p.Shaped().Outline
	at := func(x float64) Neighbour {
		return Neighbour{
			Name:    "other",
			Outline: other.Map(func(q geom.Point) geom.Point { return geom.Point{X: q.X + x, Y: q.Y} }),
		}
	}
	assert.Equal(t, craft.Stop, p.verdict(t, "kerf", at(450+201)).Level, "1 mm is less than the kerf")
	assert.Equal(t, craft.Mind, p.verdict(t, "kerf", at(450+202)).Level, "2 mm leave no room to sand")
	assert.Equal(t, craft.Mind, p.verdict(t, "kerf", at(450+203)).Level, "a band saw's kerf and twice 0.8 are 3.1")
	assert.Equal(t, craft.Good, p.verdict(t, "kerf", at(450+203.2)).Level)
	assert.Equal(t, craft.Stop, p.verdict(t, "kerf", at(500)).Level, "one on the other")
}

// A blank ends half way to the next board, and moves do not run into it.
func TestBlanksStopShortOfNeighbours(t *testing.T) {
	p := place()
	s := p.Shaped()
	outline := s.Outline.Map(p.At.Out)
	box := outline.Bounds()
	behind := Neighbour{
		Name: "other",
		Outline: outline.Map(
			func(q geom.Point) geom.Point { return geom.Point{X: q.X + box.MaxX - box.MinX + 20, Y: q.Y} },
		),
	}
	p.Others = []Neighbour{behind}
	b := p.Blank(outline)
	assert.InDelta(t, box.MaxX+10, b.ToX, 1e-6)
	assert.Less(t, b.FromX, box.MinX-60)
	v := p.verdict(t, "snipe", behind)
	assert.Equal(t, craft.Mind, v.Level)
	assert.InDelta(t, 10, v.Figure.Value, 1e-6)
	assert.Equal(t, "Flatten the whole slab first", v.Remedies[0].Label)

	p.At.Y += 60
	out := p.verdict(t, "inside", behind)
	require.Equal(t, craft.Stop, out.Level)
	for _, r := range out.Remedies {
		if x, ok := r.Patch["placement"].(map[string]any); ok {
			assert.Less(t, x["x"], p.At.X+18, "not into the next board")
		}
	}
}

func TestFlaws(t *testing.T) {
	p := place()
	p.Wood.Flaws = []stock.Flaw{
		{ID: "k", Kind: stock.Knot, State: "missing", A: 10, B: 10, Depth: 8, Centre: geom.Point{X: 600, Y: 0}},
	}
	v := p.verdict(t, "flaw")
	assert.Equal(t, craft.Mind, v.Level)
	require.NotEmpty(t, v.Remedies)
	p.Wood.Flaws[0].State = "sound"
	assert.Equal(t, craft.Good, p.verdict(t, "flaw").Level)
	p.Wood.Flaws[0].Wish = stock.KeepOut
	assert.Equal(t, craft.Stop, p.verdict(t, "flaw").Level)
	p.Wood.Flaws[0].Centre.X = 650
	v = p.verdict(t, "flaw")
	assert.Equal(t, craft.Good, v.Level)
	assert.InDelta(t, 10, v.Figure.Value, 0.5)
}

func TestBlankAndCuts(t *testing.T) {
	p := place()
	s := p.Shaped()
	b := p.Blank(s.Outline.Map(p.At.Out))
	assert.InDelta(t, 450-180-63, b.FromX, 1e-6)
	assert.InDelta(t, 360+126, b.Length(), 1e-6)
	assert.InDelta(t, 235, b.Width, 1)
	cuts := p.Cuts(s, b, nil)
	require.Len(t, cuts, 3)
	assert.Equal(t, b.FromX, *cuts[0].At)
	assert.InDelta(t, 235, cuts[0].Length, 12)
	p.Wood.NaturalEnds, p.Choice.Snipe = true, "pieces"
	assert.InDelta(t, 360, p.Blank(s.Outline.Map(p.At.Out)).Length(), 1e-6)
}

// Two boards are parted by the wider of their saws, and cut by the first saw for
// which there is room.
func TestTheGapFollowsTheSaw(t *testing.T) {
	p := place()
	p.Choice.Saw = "band saw"
	outline := p.Shaped().Outline.Map(p.At.Out)
	box := outline.Bounds()
	beside := func(gap float64) geom.Ring {
		return outline.Map(
			func(q geom.Point) geom.Point { return geom.Point{X: q.X + box.MaxX - box.MinX + gap, Y: q.Y} },
		)
	}
	other := Neighbour{Name: "other", Outline: beside(3.15), Cut: Choice{Saw: "band saw"}}
	assert.Equal(t, craft.Good, p.verdict(t, "kerf", other).Level)
	other.Cut.Saw = "table saw"
	v := p.verdict(t, "kerf", other)
	assert.Equal(t, craft.Mind, v.Level)
	assert.InDelta(t, 3+0.8+0.5, v.Limit, 1e-9, "its kerf, and what each leaves")
	assert.Equal(t, "kerf of the table saw", v.Figure.Terms[0].Name)
	for _, c := range []struct {
		gap float64
		saw string // empty where the line is followed
	}{{3.1, "mitre saw"}, {2, "band saw"}, {1, ""}} {
		cuts := CutList(
			p,
			[]Board{
				{ID: "a", Name: "a", Outline: outline, Blank: p.Blank(outline), Saw: "band saw"},
				{ID: "b", Name: "b", Outline: beside(c.gap), Blank: p.Blank(beside(c.gap)), Saw: "band saw"},
			},
		)
		between := slices.IndexFunc(cuts, func(k SlabCut) bool { return k.Title == "Cross-cut between boards" })
		if c.saw == "" {
			assert.Negative(t, between)
			assert.Contains(t, cuts[len(cuts)-1].Finding, "follow the line")
			continue
		}
		require.GreaterOrEqual(t, between, 0, "%v", c)
		assert.Equal(t, c.saw, cuts[between].Saw, "%v apart", c.gap)
	}
}

// Inside agrees with asking every point of the outline, and the number says
// how far outside the worst lies.
func TestInsideAgreesWithEveryPoint(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := place()
		p.At = geom.Placement{
			X:     rapid.Float64Range(0, 900).Draw(t, "x"),
			Y:     rapid.Float64Range(-80, 80).Draw(t, "y"),
			Angle: rapid.Float64Range(-180, 180).Draw(t, "angle"),
		}
		s := p.Shaped()
		worst := 0.0
		for _, q := range s.Outline.Dense(1) {
			worst = max(worst, -p.Wood.Clear(p.At.Out(q)))
		}
		v := p.verdict(t, "inside")
		if (worst > grazing) != (v.Level == craft.Stop) && (worst < grazing/2 || worst > 2*grazing) {
			t.Fatalf("%v outside, but %s", worst, v.Level)
		}
	})
}

func TestChoiceCheck(t *testing.T) {
	assert.Empty(t, Choice{Saw: "jigsaw", Snipe: "pieces"}.Check("cut"))
	assert.Len(t, Choice{Saw: "teeth", Snipe: "?"}.Check("cut"), 2)
}

// How far the edge stands out after each step, by the saw and what comes after it.
func TestProudByStep(t *testing.T) {
	own := rule.Set{rule.SandEdge: 0.9}
	for _, tt := range []struct {
		saw   string
		trim  bool
		rules rule.Set
		want  []float64
	}{
		{tool.BandSaw, false, nil, []float64{0.8, 0}},
		{tool.Jigsaw, false, nil, []float64{1.5, 0}},
		{tool.TrackSaw, false, nil, []float64{0.5, 0}},
		{tool.BandSaw, true, nil, []float64{1.6, 0.5, 0}},
		{tool.Jigsaw, true, nil, []float64{1.6, 0.5, 0}},
		{tool.BandSaw, true, own, []float64{1.6, 0.9, 0}},
		{tool.TrackSaw, false, own, []float64{0.9, 0}},
	} {
		c := Choice{Saw: tt.saw, Trim: tt.trim}
		var got []float64
		for _, p := range c.Proud(tt.rules) {
			got = append(got, p.MM)
		}
		assert.Equal(t, tt.want, got, "%+v", tt)
		assert.InDelta(
			t,
			tool.Kerf(tt.saw)+2*tt.want[0],
			c.Apart(tt.rules),
			1e-9,
			"what two such boards need between them",
		)
	}
}
