package layout

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/stock"
)

// apply sets what a remedy's patch sets.
func apply(t require.TestingT, p Place, patch craft.Patch) Place {
	set := map[string]*float64{}
	fields := map[string]any{}
	for part, values := range patch {
		for key, v := range values.(map[string]any) {
			fields[part+"."+key] = v
		}
	}
	set["placement.x"], set["placement.y"], set["placement.angle"] = &p.At.X, &p.At.Y, &p.At.Angle
	set["design.width"], set["design.length"] = &p.Design.Width, &p.Design.Length
	for field, v := range fields {
		switch field {
		case "cut.snipe":
			p.Choice.Snipe = v.(string)
		case "cut.flattenWhole":
			p.Choice.FlattenWhole = v.(bool)
		case "design.keepLeft":
			p.Design.KeepLeft = v.(bool)
		case "design.keepRight":
			p.Design.KeepRight = v.(bool)
		default:
			require.Contains(t, set, field)
			*set[field] = v.(float64)
		}
	}
	return p
}

// Wherever a board is laid, a remedy of its place settles what it is offered
// for, and no move runs off the wood or into the next board.
func TestRemediesSettleAndHarmNothing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := place()
		f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		p.Design.Length, p.Design.Width = f("length", 150, 420), f("width", 80, 190)
		if rapid.Bool().Draw(t, "slot") {
			p.Design.Handle = board.Handle{Kind: "hole", Diameter: 30, Setback: 45}
		}
		p.At = geom.Placement{
			X:     f("x", 0, 900),
			Y:     f("y", -90, 90),
			Angle: rapid.SampledFrom([]float64{0, 0, 8, 35, 180}).Draw(t, "angle"),
		}
		p.Wood.Flaws = []stock.Flaw{
			{
				ID:     "k",
				Kind:   stock.Knot,
				State:  "missing",
				A:      12,
				B:      9,
				Depth:  8,
				Centre: geom.Point{X: f("kx", 50, 850), Y: f("ky", -80, 80)},
			},
		}
		other := board.Draw(
			board.Design{Shape: board.Rectangle, Length: 200, Width: 120, Handle: board.Handle{Kind: "none"}},
			nil,
		).Outline
		p.Others = []Neighbour{{Name: "other", Outline: other.Map(geom.Placement{X: 780, Y: 0}.Out)}}
		for _, v := range craft.Offered(p.Check(p.Shaped())) {
			for _, r := range v.Remedies {
				again := apply(t, p, r.Patch)
				worst := map[string]craft.Level{}
				for _, w := range craft.Offered(again.Check(again.Shaped())) {
					if w.Level.Rank() > worst[w.Check].Rank() {
						worst[w.Check] = w.Level
					}
				}
				if worst[v.Check].Rank() >= v.Level.Rank() && v.Check != "flaw" {
					t.Fatalf("%s: %q left it at %s", v.Check, r.Label, worst[v.Check])
				}
				if _, moved := r.Patch["placement"]; moved && v.Check != "inside" && worst["inside"] == craft.Stop {
					t.Fatalf("%s: %q runs off the wood", v.Check, r.Label)
				}
				_, _, want := p.apart(p.Others[0])
				before := geom.Gap(p.Shaped().Outline.Map(p.At.Out), p.Others[0].Outline)
				after := geom.Gap(again.Shaped().Outline.Map(again.At.Out), p.Others[0].Outline)
				if _, moved := r.Patch["placement"]; moved && after < min(before, want)-0.02 {
					t.Fatalf("%s: %q comes within %v of the next board, from %v", v.Check, r.Label, after, before)
				}
			}
		}
	})
}
