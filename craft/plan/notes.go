package plan

import (
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
}

// Noting is what may be noted at steps, by how their keys begin; Not excepts those that end so.
type Noting struct {
	Steps, Not string
	What       []Notable
}

// Says is a note that is told in the same words whatever its value.
func Says(words string) func(float64) string { return func(float64) string { return words } }

var back = Notable{What: Back, Says: Says("the note before was a mistake")}

// Unfit tells why something cannot be noted at a step, as problems with what was sent; none where it
// can.
func Unfit(all []Noting, step, what string, value float64, hasPlace bool) (ps craft.Problems) {
	i := slices.IndexFunc(all, func(n Noting) bool {
		return strings.HasPrefix(step, n.Steps) && (n.Not == "" || !strings.HasSuffix(step, n.Not))
	})
	if i < 0 {
		ps.Add("body.step", "nothing is noted at this step", "note it at a step that asks for it")
		return ps
	}
	allowed := append(slices.Clone(all[i].What), back)
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

// Said tells a note in words; nothing where it is unknown.
func Said(all []Noting, what string, value float64) string {
	if what == Back {
		return back.Says(value)
	}
	for _, noting := range all {
		for _, n := range noting.What {
			if n.What == what {
				return n.Says(value)
			}
		}
	}
	return ""
}
