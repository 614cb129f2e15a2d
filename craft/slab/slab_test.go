package slab

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft/geom"
	"idletimber/craft/stock"
)

var now = time.Date(2031, 3, 4, 12, 0, 0, 0, time.UTC)

func centred(pairs ...float64) (stations []Station) {
	for i := 0; i < len(pairs); i += 2 {
		stations = append(stations, Station{pairs[i], pairs[i+1] / 2, -pairs[i+1] / 2})
	}
	return stations
}

func sample() Slab {
	return Slab{
		Name: "Plane offcut", Species: "London plane", Length: 600,
		Show: centred(0, 182, 150, 196, 300, 221, 450, 208, 600, 190), Readings: []Reading{{X: 10, Thickness: 30}},
	}
}

func TestAreaByIntegralAndByMean(t *testing.T) {
	w := Draw(sample(), nil)
	assert.InDelta(t, 122050, w.Show.Area(), 25)
	assert.InDelta(t, 119640, w.Show.HandArea(), 0.5)
	assert.InDelta(t, -2.0, (w.Show.HandArea()/w.Show.Area()-1)*100, 0.05)
	assert.InEpsilon(t, w.Show.Area(), w.Show.Ring().Area(), 0.0005)
}

func TestEdgesPassStationsAndNeverOvershoot(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(2, 12).Draw(t, "n")
		x, y := make([]float64, n), make([]float64, n)
		for i := range x {
			x[i] = float64(i)*50 + rapid.Float64Range(0, 40).Draw(t, "x")
			y[i] = rapid.Float64Range(-300, 300).Draw(t, "y")
		}
		c := newCurve(x, y)
		for i := range n - 1 {
			if math.Abs(c.at(x[i])-y[i]) > 1e-9 {
				t.Fatalf("missed station %d", i)
			}
			lo, hi := min(y[i], y[i+1]), max(y[i], y[i+1])
			for k := range 20 {
				v := c.at(x[i] + (x[i+1]-x[i])*float64(k)/20)
				if v < lo-1e-9 || v > hi+1e-9 {
					t.Fatalf("%v lies outside %v to %v", v, lo, hi)
				}
			}
		}
	})
}

// The volume of a river is that of its gap drawn by the same curves, times the
// depth of the pour; the mean of a few widths comes 4 % short.
func TestGapOfARiver(t *testing.T) {
	gap := Draw(Slab{Length: 360, Show: centred(0, 52, 90, 61, 180, 70, 270, 58, 360, 47)}, nil)
	assert.InDelta(t, 540.4, gap.Show.Area()*25/1000, 0.05)
	assert.InDelta(t, 518.4, gap.Show.HandArea()*25/1000, 0.05)
}

func TestUsableIsTheNarrowFace(t *testing.T) {
	s := sample()
	s.Under = centred(0, 160, 600, 240)
	w := Draw(s, nil)
	assert.InDelta(t, 80, w.Left(0), 1e-9)
	assert.InDelta(t, -95, w.Right(600), 1e-9)
	assert.Negative(t, w.Clear(geom.Point{X: 0, Y: 85}))
	assert.InDelta(t, 10, w.Clear(geom.Point{X: 10, Y: 0}), 1e-9)
}

func TestHoldsAgreesWithClear(t *testing.T) {
	s := sample()
	s.Under = centred(0, 170, 280, 230, 600, 180)
	w := Draw(s, nil)
	rapid.Check(t, func(t *rapid.T) {
		p := geom.Point{X: rapid.Float64Range(-20, 620).Draw(t, "x"), Y: rapid.Float64Range(-130, 130).Draw(t, "y")}
		if w.Holds(p, 0.1) != (w.Clear(p) >= -0.1) {
			t.Fatalf("%v: clear by %v", p, w.Clear(p))
		}
	})
}

func TestLeaves(t *testing.T) {
	assert.InDelta(t, 21.5, Leaves(49, 2, 3, 1.5), 1e-9)
	assert.InDelta(t, 12.33, Leaves(49, 3, 3, 1.5), 0.01)
	assert.Zero(t, Leaves(5, 3, 3, 1.5))
}

func TestBudget(t *testing.T) {
	s := sample()
	s.Hollow, s.Wind = 2, 3
	w := Draw(s, nil)
	whole := w.Plan(stock.Blank{Length: 600, Width: 300}, nil)
	assert.InDelta(t, 30-2-1.5-1, whole.Flat, 1e-9)
	assert.InDelta(t, whole.Flat-0.3, whole.Sanded, 1e-9)

	half := w.Plan(stock.Blank{Length: 300, Width: w.MeanWidth() / 2, Filled: 1, Target: 22}, nil)
	assert.InDelta(t, 0.5, half.Hollow, 1e-9, "hollow goes with the square of the width")
	assert.InDelta(t, 0.75, half.Wind, 1e-9)
	assert.InDelta(t, 22, half.Sanded, 1e-9)
	assert.InDelta(t, 22.8, half.Planed, 1e-9)
	assert.InDelta(t, 3.6, half.PerFace, 1e-9)
	assert.InDelta(t, 7.2, half.Off, 1e-9)
	assert.InDelta(t, 0.5+0.75/2+0.5, half.Level, 1e-9)

	s.Uneven = true
	assert.InDelta(t, 29.7, Draw(s, nil).Plan(stock.Blank{Length: 600, Width: 300}, nil).Sanded, 1e-9)
	s.Uneven, s.Unshimmed = false, true
	assert.InDelta(t, 24, Draw(s, nil).Plan(stock.Blank{Length: 600, Width: 300}, nil).Flat, 1e-9)
}

func TestBoardFeet(t *testing.T) {
	s := sample()
	s.Length, s.Show, s.Readings = 12*25.4, centred(0, 12*25.4), []Reading{{Thickness: 25.4}}
	assert.InDelta(t, 1, Draw(s, nil).BoardFeet(), 1e-9)
	s.Under = centred(0, 12*25.4)
	for i := range s.Under { // a slanting edge: the under face is half as wide
		s.Under[i].Left, s.Under[i].Right = s.Under[i].Left/2, s.Under[i].Right/2
	}
	s.PriceCents, s.PriceBy = 1000, ByBoardFoot
	two := Draw(s, nil)
	assert.InDelta(t, 0.75, two.BoardFeet(), 1e-9, "the mean of both faces")
	assert.InDelta(t, 750, two.Cost, 1e-6)
}

// Sheet stock comes flat: nothing is planed off it before it is sanded.
func TestSheetStockIsNotPlaned(t *testing.T) {
	s := sample()
	s.Stock, s.Readings, s.Hollow, s.Wind = StockSheet, []Reading{{Thickness: 18}}, 0, 0
	b := Draw(s, nil).Plan(stock.Blank{Length: 300, Width: 200, Target: 30}, nil)
	assert.Equal(t, 18.0, b.Planed)
	assert.Zero(t, b.Off)
	assert.InDelta(t, 17.7, b.Sanded, 1e-9, "sanded, 0.15 a face")
	s.Stock = StockPlank
	assert.InDelta(t, 17, Draw(s, nil).Plan(stock.Blank{Length: 300, Width: 200, Target: 30}, nil).Planed, 1e-9)
}

// Stations that fall together leave the edge between them any slope.
func TestStationsThatFallTogether(t *testing.T) {
	s := sample()
	s.Show = []Station{
		{X: 0, Left: 90, Right: -90}, {X: 1e-308, Left: 80, Right: -80}, {X: s.Length, Left: 90, Right: -90},
	}
	ps := s.Check("slab", now, nil)
	require.NotEmpty(t, ps)
	assert.Equal(t, "slab.show[1].x", ps[0].Field)
}

func TestCheckNamesTheField(t *testing.T) {
	require.Empty(t, sample().Check("slab", now, nil))
	for _, c := range []struct {
		field string
		spoil func(*Slab)
	}{
		{"slab.name", func(s *Slab) { s.Name = "" }},
		{"slab.species", func(s *Slab) { s.Species = "granite" }},
		{"slab.length", func(s *Slab) { s.Length = -1 }},
		{"slab.length", func(s *Slab) { s.Length = math.NaN() }},
		{"slab.show", func(s *Slab) { s.Show = nil }},
		{"slab.show[4].x", func(s *Slab) { s.Show[4].X = 700 }},
		{"slab.show[2].x", func(s *Slab) { s.Show[2].X = 100 }},
		{"slab.show[1].left", func(s *Slab) { s.Show[1].Left = -200 }},
		{"slab.readings", func(s *Slab) { s.Readings = nil }},
		{"slab.readings[0].thickness", func(s *Slab) { s.Readings[0].Thickness = 0 }},
		{"slab.hollow", func(s *Slab) { s.Hollow = -2 }},
		{"slab.flaws[0].line", func(s *Slab) {
			s.Flaws = []stock.Flaw{{ID: "a", Kind: stock.Crack, Width: 2,
				Depth: 3}}
		}},
		{"slab.flaws[0].line", func(s *Slab) {
			s.Flaws = []stock.Flaw{{ID: "a", Kind: stock.Bark, Depth: 3,
				Line: []geom.Point{{X: 0, Y: 0}, {X: 9, Y: 9}, {X: 9, Y: 0}, {X: 0, Y: 9}}}}
		}},
		{"slab.show", func(s *Slab) { // both edges swing, one early and one late
			s.Show = []Station{{0, 400, 190}, {200, 200, 190}, {400, 100, 92}, {600, 100, -108}}
		}},
		{"slab.under", func(s *Slab) { s.Under = []Station{{X: 0, Left: 300, Right: 200}} }},
		{"slab.flaws[0].kind", func(s *Slab) {
			s.Flaws = []stock.Flaw{{ID: "a", Kind: "ghost", Depth: 1, A: 1,
				B: 1}}
		}},
		{"slab.flaws[1].id", func(s *Slab) {
			f := stock.Flaw{ID: "a", Kind: stock.Dent, Depth: 1, A: 1, B: 1}
			s.Flaws = []stock.Flaw{f, f}
		}},
	} {
		s := sample()
		c.spoil(&s)
		problems := s.Check("slab", now, nil)
		if assert.NotEmpty(t, problems, c.field) {
			assert.Equal(t, c.field, problems[0].Field)
			assert.NotEmpty(t, problems[0].Right)
		}
	}
}

func TestFootprints(t *testing.T) {
	crack := stock.Flaw{Kind: stock.Crack, Line: []geom.Point{{X: 0, Y: 0}, {X: 100, Y: 0}}, Width: 4}
	assert.InDelta(t, 400, crack.Footprint().Area(), 1e-9)
	assert.InEpsilon(t, math.Pi*17*11, stock.Flaw{Kind: stock.Knot, A: 17, B: 11}.Footprint().Area(), 0.01)
}

func TestThicknessAt(t *testing.T) {
	s := sample()
	s.Readings = []Reading{{X: 400, Thickness: 32}, {X: 100, Thickness: 30}}
	for x, want := range map[float64]float64{0: 30, 100: 30, 250: 31, 400: 32, 600: 32} {
		assert.InDelta(t, want, s.ThicknessAt(x), 1e-9, "at %v", x)
	}
	s.Bought = &Bought{Thickness: 24}
	assert.Equal(t, 24.0, s.ThicknessAt(250), "as delivered")
}
