package sanding

import (
	"fmt"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/stage"
)

// The schools of raising the grain.
const (
	Once      = "once"
	Twice     = "twice"
	EveryGrit = "after every grit"
	Never     = "never"
	Picked    = "picked"
)

// Schools lists the schools of raising the grain.
var Schools = []string{Once, Twice, EveryGrit, Never, Picked}

// fuzz is the share of the fibres that stand up in the first wash which so many wettings have taken
// off before; what comes after is not felt (rule).
var fuzz = []float64{0, 0.80, 0.95}

// Wetting is a way to raise the grain: how often, how long, and what it buys.
type Wetting struct {
	School  string  `json:"school" doc:"How often it is wetted"`
	After   []int   `json:"after" doc:"After which grits"`
	Drying  float64 `json:"drying" doc:"Minutes that it dries, all rounds"`
	HandsOn float64 `json:"handsOn" doc:"Minutes of wetting, and of sanding off what stands up after the last grit"`
	Takes   float64 `json:"takes" doc:"Share of the fuzz of the first wash that is off, %"`
	Words   string  `json:"words" doc:"What it buys"`
}

// raises lists the grits after which water goes on: before the last one, or the last
// two, or every one, or those that were picked. After the last nothing would take the fibres off,
// unless it was picked: then the last is sanded again.
func raises(grits []int, choice Choice) []int {
	n := len(grits)
	before := func(k int) []int { return append([]int{}, grits[max(0, n-1-k):n-1]...) }
	switch {
	case choice.Raise == Picked:
		out := []int{}
		for _, g := range choice.Wet {
			if slices.Contains(grits, g) {
				out = append(out, g)
			}
		}
		return out
	case choice.Raise == Never || n < 2:
		return []int{}
	case choice.Raise == Once:
		return before(1)
	case choice.Raise == Twice:
		return before(2)
	}
	return before(n)
}

// taken is the share of the fuzz that so many wettings take off.
func taken(rounds int) float64 { return fuzz[min(rounds, len(fuzz)-1)] }

// wettings are the ways to raise the grain of a board, side by side.
func wettings(p Plan, choice Choice, c Conditions) []Wetting {
	one := plan.Work("", plan.Water, 1, c.Pace).Minutes
	out := []Wetting{}
	for _, school := range Schools {
		if school == Picked && choice.Raise != Picked {
			continue
		}
		after := raises(p.Grits, Choice{Raise: school, Wet: choice.Wet})
		n := len(after)
		w := Wetting{
			School: school, After: after, Drying: float64(n) * p.RaiseWait, HandsOn: float64(n) * one,
			Takes: 100 * taken(n),
		}
		if slices.Contains(after, p.Grits[len(p.Grits)-1]) {
			w.HandsOn += p.once(p.Grits[len(p.Grits)-1], c)
		}
		switch {
		case n == 0:
			w.Words = "The first wash raises it, and the board comes out furry"
		case n == 1:
			w.Words = "Most of the fuzz is off"
		case n == 2:
			w.Words = "The rest that is felt is off"
		default:
			w.Words = "Nothing more is felt than after two"
		}
		out = append(out, w)
	}
	return out
}

// once is how long it takes to sand all surfaces again with the last grit, its change counted.
func (p Plan) once(grit int, c Conditions) float64 {
	minutes := c.Rules.Get(rule.GritSetup)
	for _, l := range p.Ladders {
		if r, on := l.rungOf(grit); on {
			minutes += r.Minutes
		}
	}
	return minutes
}

// WetKey is the key of the step of wetting after a grit.
func WetKey(grit int) string { return fmt.Sprintf("%s%d", wetKey, grit) }

// wet is the step of raising the grain after a grit. The first one is also the look.
func (p Plan) wet(r *stage.Record, g int, c Conditions) {
	tell := []string{"Wet it all over; it is dry when its colour is back"}
	if g == p.RaiseAfter[0] {
		tell = append(tell, "Otherwise the first wash raises it",
			"Look while it is wet: missed scratches, the face to show, its colour")
	}
	w := r.Step("Raise the grain", strings.Join(tell, ". "), plan.Work(WetKey(g), plan.Water, 1, c.Pace))
	w.Wait, w.WaitFor = p.RaiseWait, "water to dry: look for its own colour"
}

// unraised judges a board whose grain is never raised; false where it is.
func unraised(p Plan) (craft.Verdict, bool) {
	if len(p.RaiseAfter) > 0 {
		return craft.Verdict{}, false
	}
	v := craft.Verdict{
		Check: "raise", Stage: craft.Sand, Level: craft.Mind, Finding: "The grain is never raised", AtLeast: true,
		Limit:  1,
		Reason: "The first wash raises it instead, and the board comes out furry.",
		Figure: craft.Figure{
			Key: "sand.raised", Stage: craft.Sand, Label: "Times raised", Formula: "school of raising the grain",
			Source: "rule of the trade", Rule: true,
		},
	}
	if len(p.Grits) == 1 {
		v.Finding = "One grit alone: nothing takes the raised fibres off"
		return v, true
	}
	v.Remedies = []craft.Remedy{{
		Label: "Raise it once, before the last grit", Patch: craft.Patch{"sand": map[string]any{"raise": Once}},
	}}
	return v, true
}
