package slab

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/rule"
	"idletimber/craft/stock"
)

// traced is the sample slab with its show face as a closed line instead of
// stations.
func traced() Slab {
	s := sample()
	s.Outline = Draw(sample(), nil).Show.Ring()
	s.Show = nil
	return s
}

func TestALineIsAsGoodAsStations(t *testing.T) {
	a, b := Draw(sample(), nil), Draw(traced(), nil)
	require.Empty(t, traced().Check("slab", now, nil))
	assert.InEpsilon(t, a.Show.Area(), b.Show.Area(), 0.001)
	for x := 3.0; x < 600; x += 17 {
		assert.InDelta(t, a.Left(x), b.Left(x), 0.05)
		assert.InDelta(t, a.Right(x), b.Right(x), 0.05)
	}
	rapid.Check(t, func(t *rapid.T) {
		p := geom.Point{X: rapid.Float64Range(-20, 620).Draw(t, "x"), Y: rapid.Float64Range(-130, 130).Draw(t, "y")}
		if c := a.Clear(p); math.Abs(c) > 0.3 && a.Holds(p, 0) != b.Holds(p, 0) {
			t.Fatalf("%v: %v by stations, not by the line", p, a.Holds(p, 0))
		}
	})
	left, right := stock.Edges(b.Show.Ring())
	assert.InDelta(t, 0, left[0].X, 1e-9)
	assert.InDelta(t, 600, right[len(right)-1].X, 1e-9)
	assert.Positive(t, left[len(left)/2].Y)
}

// The area inside both faces, by another way: the narrower width summed up.
func TestUsableAgreesWithASum(t *testing.T) {
	s := traced()
	s.UnderLine = geom.Ring{
		{X: 0, Y: -70},
		{X: 300, Y: -120},
		{X: 600, Y: -80},
		{X: 600, Y: 99},
		{X: 250, Y: 88},
		{X: 0, Y: 95},
	}
	s.RipRight = 6
	require.Empty(t, s.Check("slab", now, nil))
	w, show, under := Draw(s, nil), Draw(sample(), nil), Draw(Slab{Length: 600, Outline: s.UnderLine}, nil)
	var sum float64
	low := math.Inf(1)
	for _, p := range geom.Largest(geom.Common(show.Show.Ring(), under.Show.Ring())) {
		low = min(low, p.Y)
	}
	const dx = 0.25
	for x := dx / 2; x < 600; x += dx {
		sum += dx * max(0, min(show.Left(x), under.Left(x))-max(show.Right(x), under.Right(x), low+6))
	}
	assert.InEpsilon(t, sum, w.Usable().Area(), 0.001)
}

func TestNotchedWoodIsLookedAtWhereThePointIs(t *testing.T) {
	s := sample()
	s.Show, s.Length = nil, 400
	s.Outline = geom.Ring{
		{X: 0, Y: -60},
		{X: 400, Y: -60},
		{X: 400, Y: -20},
		{X: 200, Y: -20},
		{X: 200, Y: 20},
		{X: 400, Y: 20},
		{X: 400, Y: 60},
		{X: 0, Y: 60},
	}
	require.Empty(t, s.Check("slab", now, nil))
	w := Draw(s, nil)
	right, left := w.Span(geom.Point{X: 300, Y: 40})
	assert.Equal(t, []float64{20, 60}, []float64{right, left})
	right, left = w.Span(geom.Point{X: 300, Y: -5})
	assert.Equal(t, []float64{-60, -20}, []float64{right, left})
	assert.False(t, w.Holds(geom.Point{X: 300, Y: 0}, 0.1), "in the notch there is no wood")
	assert.InDelta(t, -20, w.Clear(geom.Point{X: 300, Y: 0}), 1e-9)
}

func TestEdgeSlopes(t *testing.T) {
	s := sample()
	s.Under = []Station{{X: 0, Left: 61, Right: -91}, {X: 600, Left: 65, Right: -95}}
	w := Draw(s, nil)
	slopes := w.Slopes()
	require.Len(t, slopes, 2)
	assert.Equal(t, "left", slopes[0].Side)
	assert.InDelta(t, math.Atan2(110.5-63, 30)*180/math.Pi, slopes[0].Degree, 0.1)
	verdicts := w.EdgeVerdicts(nil)
	assert.Equal(t, craft.Mind, verdicts[0].Level)
	assert.Contains(t, verdicts[0].Finding, "knife-thin")
	assert.Equal(t, craft.Good, verdicts[1].Level)
	assert.Empty(t, Draw(sample(), nil).EdgeVerdicts(nil), "one face measured, nothing known of the slope")
}

func TestPriceByVolume(t *testing.T) {
	s := sample()
	s.PriceCents = 1200
	assert.InDelta(t, 1200, Draw(s, nil).Cost, 1e-9)
	s.PriceBy = ByBoardFoot
	assert.InDelta(t, 1200*122050*30/(144*25.4*25.4*25.4), Draw(s, nil).Cost, 2)
	s.PriceBy, s.Bought = ByCubicMetre, &Bought{CostCents: 500}
	assert.InDelta(t, 1200*122050*30*1e-9+500, Draw(s, nil).Cost, 0.1)
}

func TestBudgetCountsTheGreaterHollowOnce(t *testing.T) {
	s := sample()
	s.Hollow, s.UnderHollow, s.Wind, s.UnderWind = 1, 3, 2, 1
	b := Draw(s, nil).Plan(Draw(s, nil).Whole(), nil)
	assert.InDelta(t, 30-3-1-1, b.Flat, 1e-9)
	s.Bought = &Bought{Thickness: 24}
	b = Draw(s, nil).Plan(Draw(s, nil).Whole(), nil)
	assert.InDelta(t, 24, b.Flat, 1e-9)
	assert.Zero(t, b.Off, "delivered flat")
	assert.InDelta(t, 23.7, b.Sanded, 1e-9)
}

func thickSlab() Slab {
	s := sample()
	s.Readings = []Reading{{X: 300, Thickness: 50}}
	s.Under = centred(0, 160, 300, 190, 600, 170)
	s.PriceCents = 4000
	s.Flaws = []stock.Flaw{
		{ID: "top", Kind: stock.Dent, Centre: geom.Point{X: 100, Y: 20}, A: 4, B: 4, Depth: 12},
		{ID: "deep", Kind: stock.Crack, Line: []geom.Point{{X: 200, Y: 0}, {X: 260, Y: 4}}, Width: 6, Depth: 40},
		{
			ID:      "askew",
			Kind:    stock.Hole,
			Centre:  geom.Point{X: 300, Y: 10},
			A:       3,
			B:       3,
			Through: true,
			Tilt:    &geom.Point{X: 50},
		},
		{
			ID:    "below",
			Kind:  stock.Bark,
			Under: true,
			Line:  []geom.Point{{X: 400, Y: 0}, {X: 420, Y: 0}, {X: 410, Y: 15}},
			Depth: 10,
		},
	}
	return s
}

func TestResaw(t *testing.T) {
	w := Draw(thickSlab(), nil)
	r := Resawing{Leaves: 2, Kerf: 3, Cleanup: 1.5}
	flat, leaf := r.Of(w, nil)
	assert.InDelta(t, 49, flat, 1e-9)
	assert.InDelta(t, 21.5, leaf, 1e-9)
	leaves, err := thickSlab().Resaw(r, nil)
	require.NoError(t, err)
	require.Len(t, leaves, 2)
	ids := func(s Slab) (out []string) {
		for _, f := range s.Flaws {
			out = append(out, f.ID)
		}
		return out
	}
	assert.Equal(t, []string{"top", "deep", "askew"}, ids(leaves[0]))
	assert.Equal(t, []string{"deep", "askew", "below"}, ids(leaves[1]))
	assert.True(t, leaves[0].Flaws[1].Through, "deeper than the leaf")
	assert.InDelta(t, 40-28, leaves[1].Flaws[0].Depth, 1e-9)
	assert.InDelta(t, 6*12.0/40, leaves[1].Flaws[0].Width, 1e-9, "a V narrows")
	assert.InDelta(t, 300+50*28.0/50, leaves[1].Flaws[1].Centre.X, 1e-9, "where it passes")
	for _, l := range leaves {
		require.Empty(t, l.Check("leaf", now, nil))
		assert.InDelta(t, 23, l.Thinnest(), 0.01, "as the saw leaves it, one face still to be cleaned")
		assert.Equal(t, 2000, l.PriceCents)
	}
	_, err = thickSlab().Resaw(Resawing{Leaves: 12, Kerf: 3, Cleanup: 1.5}, nil)
	assert.ErrorContains(t, err, "saw fewer leaves")

	r.Matched = true
	matched, err := thickSlab().Resaw(r, nil)
	require.NoError(t, err)
	a, b := Draw(matched[0], nil), Draw(matched[1], nil)
	const apart = 6.0 / 50 // of the slope, between the two faces of the cut
	for x := 10.0; x < 600; x += 60 {
		assert.InDelta(t, a.Show.Left(x), -b.Show.Right(x), apart*20, "neighbours mirror each other at the cut")
	}
}

func TestLeavesAreAsThickAsTheyAre(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := thickSlab()
		s.Readings[0].Thickness = rapid.Float64Range(20, 120).Draw(t, "thick")
		r := Resawing{
			Leaves:  rapid.IntRange(2, 5).Draw(t, "n"),
			Kerf:    rapid.Float64Range(1, 4).Draw(t, "kerf"),
			Cleanup: rapid.Float64Range(0, 2).Draw(t, "clean"),
			Matched: rapid.Bool().Draw(t, "matched"),
		}
		leaves, err := s.Resaw(r, nil)
		if err != nil {
			return
		}
		flat, leaf := r.Of(Draw(s, nil), nil)
		n := float64(r.Leaves)
		if d := n*leaf + (n-1)*(r.Kerf+2*r.Cleanup) - flat; math.Abs(d) > 1e-9 {
			t.Fatalf("leaves and cuts miss the thickness by %v", d)
		}
		for i, l := range leaves {
			if ps := l.Check("leaf", now, nil); len(ps) > 0 {
				t.Fatalf("leaf %d: %v", i+1, ps)
			}
		}
	})
}

func TestTurningTwiceChangesNothing(t *testing.T) {
	s := thickSlab()
	s.LiveLeft, s.RipLeft, s.Hollow, s.UnderWind = true, 3, 1, 2
	s.Readings[0].Y = 12
	s.ShowLook = &Look{Note: "bright", Ground: &Photo{Picture: "p", MinY: -100, MaxY: 130, Turn: 3}}
	s.Features = []stock.Feature{{ID: "f", Kind: "burr", Centre: geom.Point{X: 50, Y: 8}, A: 9, B: 4, Angle: 20}}
	once := Turn(s)
	require.Empty(t, once.Check("slab", now, nil))
	assert.True(t, once.LiveRight)
	assert.Equal(t, "bright", once.UnderLook.Note)
	assert.Equal(t, -130.0, once.UnderLook.Ground.MinY)
	assert.InDelta(t, Draw(s, nil).Usable().Area(), Draw(once, nil).Usable().Area(), 1e-6)
	assert.Equal(t, s, Turn(once))
}

func TestPartsKeepWhatLiesInThem(t *testing.T) {
	s := thickSlab()
	s.LiveLeft, s.LiveRight = true, true
	w := Draw(s, nil)
	cut := geom.Largest(geom.Common(w.Show.Ring(), geom.Bounds{MinX: 150, MaxX: 420, MinY: -300, MaxY: 300}.Ring()))
	p := s.Part("middle", cut, nil)
	require.Empty(t, p.Check("part", now, nil))
	assert.InDelta(t, 270, p.Length, 0.01)
	assert.InEpsilon(t, cut.Area(), Draw(p, nil).Show.Area(), 0.001)
	assert.True(t, p.LiveLeft && p.LiveRight)
	assert.Len(t, p.Flaws, 3)
	assert.InDelta(t, 50, p.Flaws[0].Line[0].X, 0.01)
	assert.Zero(t, p.PriceCents)
	strip := geom.Largest(geom.Common(cut, geom.Bounds{MinX: 150, MaxX: 420, MinY: 0, MaxY: 40}.Ring()))
	inner := s.Part("core", strip, nil)
	assert.False(t, inner.LiveLeft || inner.LiveRight, "sawn on both sides")
}

func TestTiltedFlaws(t *testing.T) {
	f := thickSlab().Flaws[2]
	show, under := f.Prints()
	assert.InDelta(t, 50, under.Centroid().X-show.Centroid().X, 1e-9)
	b := f.Bounds()
	assert.InDelta(t, 297, b.MinX, 1e-9)
	assert.InDelta(t, 353, b.MaxX, 1e-9)
	shallow := thickSlab().Flaws[0]
	show, under = shallow.Prints()
	assert.NotNil(t, show)
	assert.Nil(t, under)
}

func TestOrigin(t *testing.T) {
	for _, c := range []struct {
		o    Origin
		want string
	}{
		{Origin{}, ""},
		{Origin{Source: "the orchard's last pear."}, "The wood came from the orchard's last pear."},
		{Origin{Source: "the weir", Felled: "2029-11-02", Milled: "2030", Dried: "air"},
			"The wood came from the weir, was felled in November 2029, milled in 2030 and dried in the air."},
		{Origin{Dried: "kiln"}, "The wood dried in a kiln."},
	} {
		assert.Equal(t, c.want, c.o.Words())
	}
	assert.Empty(t, (*Origin)(nil).Words())
	assert.Empty(t, Origin{Felled: "2029-11", Milled: "2029-11-30"}.Check("o"))
	assert.Len(t, Origin{Felled: "last year"}.Check("o"), 1)
	assert.Len(t, Origin{Felled: "2030-02", Milled: "2029"}.Check("o"), 1)
}

func TestNominalSizes(t *testing.T) {
	byName := map[string]Nominal{}
	for _, n := range Nominals {
		byName[n.Name] = n
	}
	assert.Equal(t, Nominal{"1×8", 19, 184}, byName["1×8"])
	assert.Equal(t, Nominal{"2×4", 38, 89}, byName["2×4"])
	for _, n := range Nominals {
		assert.Positive(t, n.Thickness)
	}
}

func TestOutlinesThatCannotBe(t *testing.T) {
	square := geom.Ring{{X: 0, Y: 0}, {X: 600, Y: 0}, {X: 600, Y: 100}, {X: 0, Y: 100}}
	for name, c := range map[string]struct {
		change func(*Slab)
		field  string
	}{
		"crossing": {func(s *Slab) { s.Outline = geom.Ring{square[0], square[2], square[1], square[3]} },
			"slab.outline"},
		"two nodes": {func(s *Slab) { s.Outline = square[:2] }, "slab.outline"},
		"tiny":      {func(s *Slab) { s.Outline = geom.Ring{{}, {X: 5}, {Y: 5}} }, "slab.outline"},
		"off the end": {func(s *Slab) {
			s.Outline = append(square.Map(geom.Point{X: 30}.Add),
				geom.Point{X: 20, Y: 50})
		}, "slab.outline[1].x"},
		"nothing shared": {func(s *Slab) { s.Outline, s.UnderLine = square, square.Map(geom.Point{Y: 400}.Add) },
			"slab.underOutline"},
		"ripped away": {func(s *Slab) { s.RipLeft = 190 }, "slab.under"},
		"a nameless mark": {func(s *Slab) { s.Features = []stock.Feature{{Kind: "burr", A: 4, B: 4}} },
			"slab.features[0].id"},
		"a wrong look":  {func(s *Slab) { s.ShowLook = &Look{Wetted: "beer"} }, "slab.showLook.wetted"},
		"no such price": {func(s *Slab) { s.PriceBy = "stone" }, "slab.priceBy"},
		"negative rip":  {func(s *Slab) { s.RipRight = -1 }, "slab.ripRight"},
	} {
		t.Run(name, func(t *testing.T) {
			s := sample()
			c.change(&s)
			ps := s.Check("slab", now, nil)
			require.NotEmpty(t, ps)
			assert.Equal(t, c.field, ps[0].Field)
		})
	}
}

func ExampleResawing_Of() {
	w := Draw(Slab{Length: 600, Show: []Station{{Left: 90, Right: -90}}, Readings: []Reading{{Thickness: 50}}}, nil)
	_, leaf := Resawing{Leaves: 3, Kerf: 3, Cleanup: 1.5}.Of(w, rule.Set{})
	fmt.Printf("%.1f mm", leaf)
	// Output: 12.3 mm
}

// Leaves know their number, and which of them mirror each other: those of which
// one was turned over.
func TestLeavesAndTheirTwins(t *testing.T) {
	s := Slab{
		Name:     "Plane plank",
		Species:  "London plane",
		Length:   800,
		Show:     []Station{{X: 0, Left: 90, Right: -110}, {X: 800, Left: 100, Right: -95}},
		Readings: []Reading{{X: 400, Thickness: 80}},
	}
	at := geom.Placement{X: 300, Y: 20, Angle: 5}
	for _, c := range []struct {
		matched bool
		leaves  int
	}{{true, 4}, {false, 3}} {
		leaves, err := s.Resaw(Resawing{Leaves: c.leaves, Kerf: 1.5, Cleanup: 0.5, Matched: c.matched}, nil)
		require.NoError(t, err)
		for i, l := range leaves {
			assert.Equal(t, i+1, l.Leaf)
			if i == 0 {
				continue
			}
			place, mirrored := leaves[i-1].Twin(at, l)
			assert.Equal(t, c.matched, mirrored)
			want := at
			if c.matched {
				want = geom.Placement{X: 300, Y: -20, Angle: -5}
			}
			assert.Equal(t, want, place)
			back, _ := l.Twin(place, leaves[i-1])
			assert.Equal(t, at, back, "the twin of the twin")
			// The wood under both is the same wood.
			one, two := Draw(leaves[i-1], nil), Draw(l, nil)
			for _, y := range []float64{-80, 0, 85} {
				p := geom.Point{X: 400, Y: y}
				q := p
				if mirrored {
					q.Y = -q.Y
				}
				assert.InDelta(t, one.Clear(p), two.Clear(q), 0.01)
			}
		}
		turned := Turn(leaves[1])
		assert.NotEqual(t, leaves[1].LeafTurned, turned.LeafTurned)
		assert.Equal(t, leaves[1], Turn(turned), "turned twice it is as it was")
	}
	assert.False(t, Turn(s).LeafTurned, "a piece that was not resawn has no other leaf")
	for leaf, partner := range []int{0, 2, 1, 4, 3} {
		assert.Equal(t, partner, Slab{Leaf: leaf}.Partner())
	}
}
