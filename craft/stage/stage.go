// Package stage is what every stage of the work hands over.
//
// A stage reads the wood, the board and the maker's choices, and answers with one
// Record; whoever wants to know something reads the records and need not know
// which stage it was:
//
//	          ┌─────────┐  Figures   → numbers that open to their working
//	wood ───→ │         │  Verdicts  → what was found, and what would help
//	board ──→ │  stage  │  Steps     → the plan, the bench, the cautions
//	choice ─→ │         │  Uses      → the shelf, the bill
//	          └─────────┘  Helps     → what to change when it is too late
//
// Stages do not know each other. What one needs of another it is given as a plain
// value: a thickness, a surface, a list of voids.
package stage

import (
	"slices"

	"idletimber/craft"
	"idletimber/craft/plan"
)

// Record is what one stage comes to.
type Record struct {
	Stage    craft.Stage
	Figures  []craft.Figure
	Verdicts []craft.Verdict
	Steps    []plan.Step // in the order of the work
	Uses     []Use
	Helps    []Help
}

// Kind is a kind of supply.
type Kind string

// The kinds of supplies.
const (
	Resin    Kind = "resin"
	Hardener Kind = "hardener"
	Filler   Kind = "filler"
	Abrasive Kind = "abrasive"
	Finish   Kind = "finish"
	Hardware Kind = "hardware"
	Glue     Kind = "glue"
	Wood     Kind = "wood"
	Packing  Kind = "packing"
)

// Kinds lists the kinds of supplies.
var Kinds = []Kind{Resin, Hardener, Filler, Abrasive, Finish, Hardware, Glue, Wood, Packing}

// Use is what a step takes from the shelf.
type Use struct {
	Kind   Kind       `json:"kind" enum:"resin,hardener,filler,abrasive,finish,hardware,glue,wood,packing" doc:"Kind"`
	Item   string     `json:"item" doc:"What it is, in the trade's words"`
	Amount float64    `json:"amount" doc:"How much of it, in the unit"`
	Unit   craft.Unit `json:"unit" doc:"g, ml, mm, or pieces"`
	Step   string     `json:"step,omitempty" doc:"Key of the step that takes it; left out of a sum"`
}

// Together sums what is alike, in the order in which it is first taken.
func Together(uses []Use) []Use {
	out := []Use{}
	for _, u := range uses {
		i := slices.IndexFunc(
			out,
			func(o Use) bool { return o.Kind == u.Kind && o.Item == u.Item && o.Unit == u.Unit },
		)
		if i < 0 {
			u.Step = ""
			out = append(out, u)
			continue
		}
		out[i].Amount += u.Amount
	}
	return out
}

// Help is a change of a choice that may bring the date nearer.
type Help struct {
	Label string
	On    craft.Target
	Patch craft.Patch
}

// Step adds a step and returns it, so that its wait can be set.
func (r *Record) Step(title, detail string, s plan.Step) *plan.Step {
	s.Stage, s.Title, s.Detail = r.Stage, title, detail
	r.Steps = append(r.Steps, s)
	return &r.Steps[len(r.Steps)-1]
}

// Use adds what a step takes from the shelf.
func (r *Record) Use(kind Kind, item string, amount float64, unit craft.Unit, step string) {
	if amount > 0 {
		r.Uses = append(r.Uses, Use{kind, item, amount, unit, step})
	}
}

// Help adds a change of one group of choices.
func (r *Record) Help(label, group string, change map[string]any) {
	r.Helps = append(r.Helps, Help{label, craft.OnBoard, craft.Patch{group: change}})
}
