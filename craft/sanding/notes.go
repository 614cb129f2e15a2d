package sanding

import (
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/plan"
)

// What is noted at the sander and at the wet board.
const (
	NoteScratch = "scratch" // a missed scratch, at a place
	NoteFace    = "face"    // the face to show: 0 as it is planned, 1 the other one
	NoteColour  = "colour"  // its own colour is back: the wait is over
	NoteThick   = "thick"   // so many mm at one of the corners
)

// corner names are told with the thickness, in the order in which they are asked for.
var cornersOf = []string{"far left", "far right", "handle left", "handle right"}

// CornerNames are the corners at which the thickness is read.
func CornerNames() []string { return cornersOf }

// Notings are what may be noted at the sander and at the wet board.
var Notings = []plan.Noting{
	{Steps: wetKey, What: []plan.Notable{
		{What: NoteScratch, Place: "where the scratch is", Says: plan.Says("a missed scratch")},
		{What: NoteFace, Most: 1, Says: func(v float64) string {
			if v == 1 {
				return "the other face is the one to show"
			}
			return "the face to show stays"
		}},
		{What: NoteColour, Says: plan.Says("its own colour is back")},
	}},
	{Steps: sandKey, What: []plan.Notable{
		{What: NoteThick, Least: 1, Most: 300, Says: func(v float64) string {
			return craft.In(v, craft.MM) + " at a corner"
		}},
	}},
}

// mostUneven is how far apart the thickness may be at the corners before it is told, mm (rule).
const mostUneven = 0.4

// Thicknesses are the readings at the corners after a grit, mm, in the order of the corners, which are
// read round and round: the newest of each; and the corner that is read next.
func Thicknesses(log []plan.Entry, grit int) (read []float64, next int) {
	n := 0
	for _, e := range plan.Notes(log, SandKey(grit)) {
		if e.What != NoteThick {
			continue
		}
		if n < len(cornersOf) {
			read = append(read, e.Value)
		} else {
			read[n%len(cornersOf)] = e.Value
		}
		n++
	}
	return read, n % len(cornersOf)
}

// after is the key of the step that follows the wetting after a grit.
func (p Plan) after(wet int) string {
	for _, g := range p.All {
		if g > wet && wet != p.Grits[len(p.Grits)-1] {
			return SandKey(g)
		}
	}
	return SandKey(wet) + again
}

// missed are the scratches that were marked on the wet board before a step of sanding.
func (p Plan) missed(step string, log []plan.Entry) (out []plan.Entry) {
	for _, g := range p.RaiseAfter {
		if p.after(g) != step {
			continue
		}
		for _, e := range plan.Notes(log, WetKey(g)) {
			if e.What == NoteScratch {
				out = append(out, e)
			}
		}
	}
	return out
}

// Missed are the scratches that were marked and are not sanded out yet.
func (p Plan) Missed(log []plan.Entry) (out []plan.Entry) {
	for _, g := range p.RaiseAfter {
		step := p.after(g)
		if done := slices.ContainsFunc(log, func(e plan.Entry) bool {
			return e.Step == step && plan.Follow(log, step, e.At).State == plan.Done
		}); !done {
			out = append(out, p.missed(step, log)...)
		}
	}
	return out
}

// Turned tells whether the other face was found to be the one to show when the board was wet; ok is
// false where nothing was said.
func (p Plan) Turned(log []plan.Entry) (turned, ok bool) {
	if len(p.RaiseAfter) == 0 {
		return false, false
	}
	for _, e := range plan.Notes(log, WetKey(p.RaiseAfter[0])) {
		if e.What == NoteFace {
			turned, ok = e.Value == 1, true
		}
	}
	return turned, ok
}

// seen judges what was seen and read while it was sanded.
func (p Plan) seen(log []plan.Entry) []craft.Verdict {
	out := p.uneven(log)
	if turned, _ := p.Turned(log); turned {
		out = append(out, craft.Verdict{
			Check: "show-face", Stage: craft.Sand, Level: craft.Mind, Limit: 0,
			Finding: "The other face is the one to show",
			Reason:  "You found it the better one when it was wet: turn it before feet, marks and the last coat.",
			Figure: craft.Figure{
				Key: "sand.turned", Stage: craft.Sand, Label: "Faces that change places", Value: 2, Unit: craft.Count,
				Formula: "the face to show as it was planned, against the one that you chose", Source: "your look",
			},
		})
	}
	return out
}

// uneven judges whether the passes were the same everywhere, by the thickness at the corners; none
// where fewer than two were read.
func (p Plan) uneven(log []plan.Entry) []craft.Verdict {
	read, _ := Thicknesses(log, p.Measured())
	if len(read) < 2 {
		return nil
	}
	least, most := slices.Min(read), slices.Max(read)
	var terms []craft.Term
	for i, t := range read {
		terms = append(terms, craft.Term{Name: cornersOf[i], Value: t, Unit: craft.MM})
	}
	v := craft.Verdict{
		Check: "even-passes", Stage: craft.Sand, Level: craft.Over(most-least, mostUneven+1e-9, math.Inf(1)),
		Limit: mostUneven, Finding: "Sanded evenly",
		Reason: "More passes on one end make a wedge: the board rocks, and its edge shows it.",
		Figure: craft.Figure{
			Key: "sand.uneven", Stage: craft.Sand, Label: "Corners apart", Value: most - least, Unit: craft.MM,
			Formula: fmt.Sprintf("thickest − thinnest of the readings after P%d", p.Measured()), Terms: terms,
			Source: "your readings; the limit is a rule of the trade", Rule: true,
		},
	}
	if v.Level != craft.Good {
		v.Finding = "Thicker at the " + cornersOf[slices.Index(read, most)] + " than at the " +
			cornersOf[slices.Index(read, least)]
	}
	return []craft.Verdict{v}
}
