package reckon

import (
	"testing"

	"pgregory.net/rapid"

	"idletimber/craft/fill"
	"idletimber/craft/geom"
	"idletimber/craft/rule"
	"idletimber/craft/stock"
)

// The ladder of thickness adds up with what stands on it: so many filled faces as are
// listed are flattened again, and every void that is proud has its face among them.
func TestTheLadderAddsUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := sample()
		s.Boards = s.Boards[:1]
		at := s.Boards[0].Placement
		depth := func(name string) float64 { return rapid.Float64Range(0.2, 8).Draw(t, name) }
		s.Slab.Flaws = []stock.Flaw{
			{ID: "show", Kind: stock.Dent, Centre: geom.Point{X: at.X - 60, Y: at.Y}, A: 8, B: 8, Depth: depth("show")},
			{ID: "under", Kind: stock.Dent, Centre: geom.Point{X: at.X, Y: at.Y}, A: 8, B: 8, Depth: depth("under"),
				Under: true},
		}
		s.Boards[0].Fill.Fillers = map[string]string{"show": fill.Epoxy, "under": fill.Epoxy}
		s.Boards[0].Design.Thickness = rapid.Float64Range(14, 27).Draw(t, "thickness")
		out, err := Reckon(s, Request{})
		if err != nil {
			t.Fatal(err)
		}
		r := out.Boards[0]
		var listed float64
		for _, f := range r.Figures {
			for _, term := range f.Terms {
				if f.Key == "flatten.filled" && term.Name == "filled faces" {
					listed = term.Value
				}
			}
		}
		each := s.Shop.Rules.Get(rule.Reflatten)
		if took := r.Budget.Planed - r.Budget.Filled; took < listed*each-1e-9 || took > listed*each+1e-9 {
			t.Fatalf("%g faces are listed, %g is taken", listed, took)
		}
		if float64(fill.FilledFaces(r.Voids)) > listed {
			t.Fatalf("%d faces are filled, %g flattened again", fill.FilledFaces(r.Voids), listed)
		}
	})
}
