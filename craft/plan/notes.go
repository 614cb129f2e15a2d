package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"idletimber/craft"
)

// Back is noted where the note before was a mistake.
const Back = "back"

// Notes are the notes on a step, oldest first; what was taken back is not among them, nor what was
// noted before the step itself was.
func Notes(log []Entry, step string) (out []Entry) {
	for _, e := range log {
		switch {
		case e.Step == step && e.Event == Undo:
			out = nil
		case e.Step != step || e.Event != Noted:
		case e.What == Back:
			out = out[:max(0, len(out)-1)]
		default:
			out = append(out, e)
		}
	}
	return out
}

// Notable is something that may be noted at a step.
type Notable struct {
	What        string
	Least, Most float64              // of the value, in its own unit; 0 and 0 where none is told
	Place       string               // what is to be marked; empty where it has no place
	Says        func(float64) string // the note in words

	Name string     // as it is chosen, where it may be noted at every step
	Unit craft.Unit // of the value, where it has one
}

// Noting is what may be noted at steps, by how their keys begin; Not excepts those that end so.
type Noting struct {
	Steps, Not string
	What       []Notable
}

// Says is a note that is told in the same words whatever its value.
func Says(words string) func(float64) string { return func(float64) string { return words } }

// What may be noted at every step: words, a picture, what was read, a mishap with the days that it cost.
const (
	NoteWords     = "words"
	NotePicture   = "picture"
	NoteThickness = "thickness" // mm
	NoteMass      = "mass"      // g
	NoteMoisture  = "moisture"  // %
	NoteMishap    = "mishap"    // days lost
	NoteWayOut    = "way out"   // that was taken, by which it is later by so many days
	NoteUndecided = "undecided" // the way out was taken back
)

// Anywhere is what may be noted at every step.
var Anywhere = []Notable{
	{What: NoteWords, Name: "In words", Says: Says("")},
	{What: NotePicture, Name: "A picture", Says: Says("a picture")},
	{What: NoteThickness, Name: "Thickness", Unit: craft.MM, Least: 0.1, Most: 200, Says: func(v float64) string {
		return craft.Length(v) + " thick"
	}},
	{What: NoteMass, Name: "Mass", Unit: craft.Gram, Least: 0.1, Most: 100_000, Says: func(v float64) string {
		return craft.In(v, craft.Gram)
	}},
	{What: NoteMoisture, Name: "Moisture", Unit: craft.Percent, Least: 0, Most: 100, Says: func(v float64) string {
		return fmt.Sprintf("%.1f %% moist", v)
	}},
	{What: NoteMishap, Name: "Time was lost", Unit: craft.Day, Least: 0, Most: 90, Says: func(v float64) string {
		switch v {
		case 0:
			return "something went wrong"
		case 1:
			return "something went wrong: a day lost"
		}
		return fmt.Sprintf("something went wrong: %g days lost", v)
	}},
}

var back = Notable{What: Back, Says: Says("the note before was a mistake")}

// Unfit tells why something cannot be noted at a step, as problems with what was sent; none where it
// can.
func Unfit(all []Noting, step, what string, value float64, hasPlace bool) (ps craft.Problems) {
	i := slices.IndexFunc(all, func(n Noting) bool {
		return strings.HasPrefix(step, n.Steps) && (n.Not == "" || !strings.HasSuffix(step, n.Not))
	})
	allowed := append(slices.Clone(Anywhere), back)
	if i >= 0 {
		allowed = append(allowed, all[i].What...)
	}
	names := make([]string, len(allowed))
	for k, n := range allowed {
		names[k] = n.What
	}
	if ps.OneOf("body.what", what, names...); len(ps) > 0 {
		return ps
	}
	n := allowed[slices.Index(names, what)]
	if math.IsNaN(value) {
		value = math.Inf(-1)
	}
	ps.Range("body.value", value, n.Least, n.Most)
	if n.Place != "" && !hasPlace {
		ps.Add("body.place", "it is missing", "mark "+n.Place)
	}
	return ps
}

// ofMishaps is what is written down when it is decided what to do after a mishap.
var ofMishaps = []Notable{
	{What: NoteWayOut, Says: func(v float64) string {
		switch days := math.Round(v); {
		case days <= 0:
			return "the way out"
		case days == 1:
			return "the way out, a day later"
		default:
			return fmt.Sprintf("the way out, %.0f days later", days)
		}
	}},
	{What: NoteUndecided, Says: Says("not decided after all")},
}

// Said tells a note in words; nothing where it is unknown.
func Said(all []Noting, what string, value float64) string {
	if what == Back {
		return back.Says(value)
	}
	for _, noting := range append([]Noting{{What: Anywhere}, {What: ofMishaps}}, all...) {
		for _, n := range noting.What {
			if n.What == what {
				return n.Says(value)
			}
		}
	}
	return ""
}
