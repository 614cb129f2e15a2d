// Package fitting is what is put on a board at the end: feet and a cord.
// Lengths in mm.
package fitting

import (
	"idletimber/craft"
	"idletimber/craft/rule"
)

// Choice is what a board is fitted with.
type Choice struct {
	Feet bool `json:"feet" doc:"Four feet, which mark the underside"`
	Cord bool `json:"cord" doc:"A hanging cord"`
}

// Item is one line of the bill of fittings.
type Item struct {
	Name   string     `json:"name"`
	Amount float64    `json:"amount"`
	Unit   craft.Unit `json:"unit"`
}

// Make lists the fittings and judges them; hole tells whether the board has
// a hole for a cord, thickness is the final one.
func Make(c Choice, hole bool, thickness float64, rules rule.Set) ([]Item, []craft.Verdict) {
	items := []Item{}
	var verdicts []craft.Verdict
	if c.Feet {
		const bite, spare = 10, 4 // what a screw needs and what it must keep clear of the far face
		items = append(items, Item{"feet", 4, "pieces"}, Item{"screws, longest into the wood", max(0, thickness-spare), craft.MM})
		v := craft.Verdict{
			Check: "feet-screws", Stage: craft.Fit, Level: craft.Good, AtLeast: true, Limit: bite + spare,
			Finding: "The feet's screws bite and stay clear of the face", Reason: "A screw that pokes through ruins the face; one that does not bite lets the foot go.",
			Figure: craft.Figure{Key: "fit.screws", Stage: craft.Fit, Label: "Final thickness", Value: thickness, Unit: craft.MM, Formula: "thickness, against " + craft.Length(bite) + " of bite and " + craft.Length(spare) + " clear of the far face", Source: "rule of the trade", Rule: true},
		}
		if thickness < bite+spare {
			v.Level, v.Finding = craft.Mind, "Too thin to screw feet to: glue them"
		}
		verdicts = append(verdicts, v)
	}
	if c.Cord {
		items = append(items, Item{"cord", rules.Get(rule.CordPerHanger), craft.MM})
		if !hole {
			verdicts = append(verdicts, craft.Verdict{
				Check: "cord-hole", Stage: craft.Fit, Level: craft.Mind, Finding: "There is no hole for the cord", Reason: "A cord needs a hole to hang the board from.",
				Figure: craft.Figure{Key: "fit.holes", Stage: craft.Fit, Label: "Holes", Formula: "holes in the design", Source: "the design"}, AtLeast: true, Limit: 1,
				Remedies: []craft.Remedy{{Label: "Bore a hole of {}", Amount: 25, Unit: craft.MM, Patch: craft.Patch{"design": map[string]any{"handle": map[string]any{"kind": "hole", "diameter": 25.0, "setback": 35.0, "offset": 0.0}}}}},
			})
		}
	}
	return items, verdicts
}
