package sanding

import (
	"fmt"
	"math"
	"slices"
	"strings"

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

// Unfit says what is wrong with a note on a step of sanding; ok is false where it is no such step.
func Unfit(step, what string, value float64, hasPlace bool) (ps craft.Problems, ok bool) {
	at := map[string][]string{
		"raise-": {NoteScratch, NoteFace, NoteColour, plan.Back}, "sand-": {NoteThick, plan.Back},
	}
	for prefix, allowed := range at {
		if !strings.HasPrefix(step, prefix) {
			continue
		}
		if ps.OneOf("body.what", what, allowed...); len(ps) > 0 {
			return ps, true
		}
		least, most := 0.0, 0.0
		switch what {
		case NoteThick:
			least, most = 1, 300 // mm
		case NoteFace:
			most = 1
		}
		if math.IsNaN(value) {
			value = -1
		}
		ps.Range("body.value", value, least, most)
		if what == NoteScratch && !hasPlace {
			ps.Add("body.place", "it is missing", "mark where the scratch is")
		}
		return ps, true
	}
	return nil, false
}

// Said tells a note in words; ok is false where it is none of sanding.
func Said(what string, value float64) (string, bool) {
	switch what {
	case NoteScratch:
		return "a missed scratch", true
	case NoteFace:
		if value == 1 {
			return "the other face is the one to show", true
		}
		return "the face to show stays", true
	case NoteColour:
		return "its own colour is back", true
	case NoteThick:
		return craft.In(value, craft.MM) + " at a corner", true
	}
	return "", false
}

// mostUneven is how far apart the thickness may be at the corners before it is told, mm (rule).
const mostUneven = 0.4

// Thicknesses are the readings at the corners after a grit, mm, in the order in which they were
// typed, the newest of as many as there are corners.
func Thicknesses(log []plan.Entry, grit int) (out []float64) {
	for _, e := range plan.Notes(log, SandKey(grit)) {
		if e.What == NoteThick {
			out = append(out, e.Value)
		}
	}
	return out[max(0, len(out)-len(cornersOf)):]
}

// Uneven judges whether the passes were the same everywhere, by the thickness at the corners; none
// where fewer than two were read.
func Uneven(log []plan.Entry, p Plan) []craft.Verdict {
	read := Thicknesses(log, p.Measured())
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
