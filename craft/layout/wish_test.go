package layout

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/stock"
)

func held() Place {
	p := place()
	p.Design.Length, p.Design.Width, p.At.X = 300, 120, 480
	p.Design.Handle = board.Handle{Kind: "hole", Diameter: 30, Setback: 45}
	return p
}

// A verdict's remedy, pressed, fulfils the wish.
func TestWishes(t *testing.T) {
	ellipse := func(x, y, r float64) stock.Flaw {
		return stock.Flaw{ID: "f", Kind: stock.Dent, A: r, B: r, Depth: 4, Centre: geom.Point{X: x, Y: y}}
	}
	crack := func(a, b geom.Point) stock.Flaw {
		return stock.Flaw{ID: "f", Kind: stock.Crack, Line: []geom.Point{a, b}, Width: 2, Depth: 9}
	}
	river := stock.Flaw{
		ID:    "f",
		Kind:  stock.Bark,
		Depth: 9,
		Line:  []geom.Point{{X: 440, Y: -150}, {X: 460, Y: -150}, {X: 470, Y: 150}, {X: 430, Y: 150}},
	}
	for _, c := range []struct {
		name, wish string
		flaw       stock.Flaw
		level      craft.Level
		mends      bool
	}{
		{"filled", stock.Fill, ellipse(450, 0, 8), craft.Good, false},
		{"kept out", stock.KeepOut, ellipse(450, 0, 8), craft.Stop, true},
		{"cut away", stock.CutAway, ellipse(610, 60, 8), craft.Stop, true},
		{"bored out", stock.Featured, ellipse(585, 0, 8), craft.Good, false},
		{"to be bored out", stock.Featured, ellipse(560, 10, 8), craft.Mind, true},
		{"too large to be bored out", stock.Featured, ellipse(450, 0, 30), craft.Mind, false},
		{"along the board", stock.Featured, crack(geom.Point{X: 480}, geom.Point{X: 600, Y: 6}), craft.Good, false},
		{"across the board", stock.Featured, crack(geom.Point{X: 560, Y: 2}, geom.Point{X: 660, Y: 25}), craft.Mind,
			true},
		{"a river", stock.Featured, river, craft.Good, false},
	} {
		p := held()
		c.flaw.Wish = c.wish
		p.Wood.Flaws = []stock.Flaw{c.flaw}
		v := p.verdict(t, "flaw")
		assert.Equal(t, c.level, v.Level, c.name)
		if !c.mends {
			continue
		}
		require.NotEmpty(t, v.Remedies, c.name)
		x := v.Remedies[0].Patch["placement"].(map[string]any)
		p.At.X, p.At.Y, p.At.Angle = x["x"].(float64), x["y"].(float64), x["angle"].(float64)
		for _, v := range craft.Offered(p.Check(p.Shaped())) {
			assert.True(t, v.Check != "flaw" || v.Level == craft.Good, "%s: %s", c.name, v.Finding)
		}
	}
}

func TestFeatures(t *testing.T) {
	burr := stock.Feature{ID: "b", Kind: "burr", Centre: geom.Point{X: 610, Y: 20}, A: 40, B: 30}
	streak := stock.Feature{ID: "s", Kind: "streak", Line: []geom.Point{{X: 300, Y: 10}, {X: 640, Y: 30}}, Width: 6}
	for _, c := range []struct {
		name, wish string
		feature    stock.Feature
		at         geom.Placement
		level      craft.Level
	}{
		{"cut through", stock.KeepInside, burr, geom.Placement{X: 450}, craft.Mind},
		{"inside", stock.KeepInside, burr, geom.Placement{X: 520}, craft.Good},
		{"off centre", stock.Centred, burr, geom.Placement{X: 520}, craft.Mind},
		{"centred", stock.Centred, burr, geom.Placement{X: 605, Y: 18}, craft.Good},
		{"beside the middle", stock.DownTheMiddle, streak, geom.Placement{X: 450}, craft.Mind},
		{"down the middle", stock.DownTheMiddle, streak, geom.Placement{X: 450, Y: 19, Angle: 3}, craft.Good},
	} {
		p := place()
		c.feature.Wish = c.wish
		p.Wood.Features = []stock.Feature{c.feature}
		p.At = c.at
		v := p.verdict(t, "feature")
		assert.Equal(t, c.level, v.Level, c.name)
		if c.level == craft.Good {
			continue
		}
		require.NotEmpty(t, v.Remedies, c.name)
		x := v.Remedies[0].Patch["placement"].(map[string]any)
		p.At.X, p.At.Y, p.At.Angle = x["x"].(float64), x["y"].(float64), x["angle"].(float64)
		assert.Equal(t, craft.Good, p.verdict(t, "feature").Level, c.name)
	}
	p := place()
	streak.Wish = ""
	p.Wood.Features = []stock.Feature{streak}
	for _, v := range craft.Offered(p.Check(p.Shaped())) {
		assert.NotEqual(t, "feature", v.Check, "nothing is judged without a wish")
	}
}

// The shortest way off a flaw is not taken where it leads onto one to be kept out.
func TestNoRemedyOntoWhatIsKeptOut(t *testing.T) {
	p := place()
	p.Wood.Flaws = []stock.Flaw{
		{ID: "k", Kind: stock.Dent, A: 6, B: 6, Depth: 8, Centre: geom.Point{X: 620, Y: 0}},
		{ID: "o", Kind: stock.Dent, A: 6, B: 6, Depth: 8, Centre: geom.Point{X: 258, Y: 0}, Wish: stock.KeepOut},
	}
	v := p.verdict(t, "flaw")
	for _, r := range v.Remedies {
		assert.Greater(t, r.Patch["placement"].(map[string]any)["x"], 450.0, "not back onto the other")
	}
}

// A promised live edge is looked at all along: what is ripped off is sawn, and
// what a flaw breaks is told.
func TestLiveEdgeAllAlong(t *testing.T) {
	p := place()
	p.Design = board.Design{
		Shape:     board.Plank,
		Length:    400,
		Width:     300,
		KeepLeft:  true,
		KeepRight: true,
		Handle:    board.Handle{Kind: "none"},
	}
	assert.Equal(t, craft.Good, p.verdict(t, "live-edge").Level)
	edge := p.Wood.Left(500)
	p.Wood.Flaws = []stock.Flaw{
		{
			ID:    "b",
			Kind:  stock.Bark,
			Depth: 6,
			Line: []geom.Point{
				{X: 480, Y: edge - 20},
				{X: 520, Y: edge - 20},
				{X: 520, Y: edge + 10},
				{X: 480, Y: edge + 10},
			},
		},
	}
	v := p.verdict(t, "live-edge")
	assert.Equal(t, craft.Mind, v.Level)
	assert.InDelta(t, 40, v.Figure.Value, 4)
	p.Wood.Flaws[0].Line = []geom.Point{{X: 480, Y: 0}, {X: 520, Y: 0}, {X: 520, Y: 20}, {X: 480, Y: 20}}
	assert.Equal(t, craft.Good, p.verdict(t, "live-edge").Level, "away from the edge it breaks nothing")
	p.Wood.RipLeft = 5
	assert.Equal(t, craft.Stop, p.verdict(t, "live-edge").Level)
}

// Every place that a board is drawn to grants the wish that draws it there.
func TestLuresGrantTheirWish(t *testing.T) {
	for name, c := range map[string]struct {
		flaws    []stock.Flaw
		features []stock.Feature
	}{
		"a hole over a dent": {flaws: []stock.Flaw{{ID: "f", Kind: stock.Dent, Centre: geom.Point{X: 420, Y: 18},
			A: 7, B: 7, Depth: 6, Wish: stock.Featured}}},
		"along a crack": {flaws: []stock.Flaw{{ID: "f", Kind: stock.Crack,
			Line: []geom.Point{{X: 380, Y: 10}, {X: 470, Y: 16}}, Width: 3, Depth: 10, Wish: stock.Featured}}},
		"a figure in the middle": {features: []stock.Feature{{ID: "f", Kind: "figure",
			Centre: geom.Point{X: 430, Y: -8}, A: 25, B: 18, Wish: stock.Centred}}},
		"a burr kept inside": {features: []stock.Feature{{ID: "f", Kind: "burr", Centre: geom.Point{X: 430, Y: -8},
			A: 20, B: 15, Wish: stock.KeepInside}}},
		"a streak down it": {features: []stock.Feature{{ID: "f", Kind: "streak",
			Line: []geom.Point{{X: 330, Y: 4}, {X: 540, Y: 22}}, Width: 8, Wish: stock.DownTheMiddle}}},
	} {
		p := place()
		p.Wood.Flaws, p.Wood.Features = c.flaws, c.features
		p.Design.Length, p.Design.Width = 260, 120
		p.Design.Handle = board.Handle{Kind: "hole", Diameter: 30, Setback: 45}
		s := p.Shaped()
		p.At = geom.Placement{}
		assert.Zero(t, p.Grants(s), "%s: not where it is", name)
		groups := p.Lures(s, 8)
		require.Len(t, groups, 1, name)
		lures := groups[0]
		require.NotEmpty(t, lures, name)
		granted := 0
		for _, at := range lures {
			p.At = at
			assert.LessOrEqual(t, math.Abs(at.Angle), 8+1e-9, name)
			granted += p.Grants(s)
		}
		assert.Positive(t, granted, name)
		if name != "along a crack" && name != "a hole over a dent" {
			assert.GreaterOrEqual(t, granted, len(lures)/2, name)
		}
	}
	plain := place()
	assert.Empty(t, plain.Lures(plain.Shaped(), 8), "nothing is wished for")
}
