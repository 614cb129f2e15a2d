package fill

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/stock"
)

// What becomes of each mark: on a board of 400 × 200 with a hole and a well.
func TestEveryMarkHasItsEnd(t *testing.T) {
	hole := geom.Ellipse{Centre: geom.Point{X: 150}, A: 15, B: 15}.Ring(90)
	s := Site{
		Outline: rect(-200, -100, 200, 100), Thickness: 20, Off: 1.5, Holes: []geom.Ring{hole},
		Sunk: []Sunk{{Ring: rect(-120, -60, 0, 60), Depth: 8}},
	}
	dent := func(id string, x, depth float64) stock.Flaw {
		return stock.Flaw{ID: id, Kind: stock.Dent, Centre: geom.Point{X: x}, A: 4, B: 4, Depth: depth}
	}
	crack := func(id string, x0, x1 float64) stock.Flaw {
		return stock.Flaw{ID: id, Kind: stock.Crack, Through: true, Width: 3, Line: []geom.Point{{X: x0}, {X: x1}}}
	}
	knot := stock.Flaw{ID: "sound", Kind: stock.Knot, State: "sound", Centre: geom.Point{X: 60}, A: 8, B: 8, Depth: 5}
	s.Flaws = []stock.Flaw{
		dent("in the hole", 150, 6), dent("in the well", -60, 6), dent("shallow", 50, 1), dent("at the edge", 206, 6),
		dent("below the well", -60, 14), crack("through the hole", 120, 180), crack("beside", 20, 80), knot,
		dent("far away", 900, 6),
	}
	voids := Choose(Measure(s), Choice{Resin: "casting"}, 20, true)
	want := map[string]End{
		"in the hole":      {End: TakenOut, By: "hole"},
		"in the well":      {End: TakenOut, By: "well"},
		"shallow":          {End: PlanedGo},
		"at the edge":      {End: CutOff},
		"below the well":   {End: Filled, Part: true},
		"through the hole": {End: Filled, Part: true},
		"beside":           {End: Filled},
		"sound":            {End: KeptHard},
	}
	got := s.Ends(voids, []string{"hole"}, []string{"well"})
	assert.Len(t, got, len(want), "a mark elsewhere is none of the board's")
	for _, e := range got {
		w := want[e.Flaw]
		assert.Equal(t, w.End, e.End, e.Flaw)
		assert.Equal(t, w.Part, e.Part, e.Flaw)
		if w.End == Filled {
			assert.NotEmpty(t, e.By, e.Flaw)
		} else {
			assert.Equal(t, w.By, e.By, e.Flaw)
		}
	}
	// Every void has its end, and what has a void is never told to be gone.
	for _, v := range voids {
		assert.Contains(t, []string{Filled, Stays}, want[v.Flaw].End, v.Flaw)
	}
}

// The plan has the rounds of pinholes from the start, each with its wait; none left ends them.
func TestPinholesArePlanned(t *testing.T) {
	void := Void{Flaw: "a", Name: "knot", Chosen: Epoxy, Depth: 8, Width: 20, Area: 400, Volume: 3}
	for rounds, want := range map[int]int{0: 2, -1: 0, 1: 1, 4: 4} {
		_, r := Reckon(
			filled([]Void{void}),
			Choice{Resin: "casting", Rounds: rounds},
			Conditions{Temperature: 20, ScaleStep: 1},
		)
		n, wait := 0, 0.0
		for i, s := range r.Steps {
			if strings.HasPrefix(s.Key, PinholeKey) && s.Wait > 0 {
				n, wait = n+1, wait+s.Wait
				assert.Greater(t, i, slices.IndexFunc(r.Steps, func(o plan.Step) bool { return o.Key == PourKey+"1" }))
			}
		}
		assert.Equal(t, want, n, "%d asked", rounds)
		assert.InDelta(t, 20*float64(want), wait, 1e-9)
	}
	own := rule.Set{rule.PinholeRounds: 3}
	_, r := Reckon(
		filled([]Void{void}),
		Choice{Resin: "casting"},
		Conditions{Temperature: 20, ScaleStep: 1, Rules: own},
	)
	assert.Equal(t, PinholeKey+"3-flush", r.Steps[len(r.Steps)-2].Key)
	void.Chosen = Putty
	_, r = Reckon(filled([]Void{void}), Choice{Resin: "casting"}, Conditions{Temperature: 20, ScaleStep: 1})
	for _, s := range r.Steps {
		assert.NotContains(t, s.Key, PinholeKey, "putty has none")
	}
}
