package finish

import (
	"fmt"
	"strings"

	"idletimber/craft"
	"idletimber/craft/plan"
)

// What is noted at a coat.
const (
	NoteDry   = "dry"   // it has drunk all: it wants another coat
	NoteFull  = "full"  // it stays wet on top: it has enough
	NoteGrams = "grams" // so many grams were put on
)

// The keys of a coat's steps begin so, and end with its number.
const (
	CoatKey = "coat-"
	WipeKey = "wipe-"
	BuffKey = "buff-"
	RubKey  = "rub-"
)

// Notings are what may be noted at the steps of a coat.
var Notings = func() (out []plan.Noting) {
	for _, steps := range []string{CoatKey, WipeKey, BuffKey} {
		out = append(out, plan.Noting{Steps: steps, What: []plan.Notable{
			{What: NoteDry, Says: plan.Says("dry again: another coat")},
			{What: NoteFull, Says: plan.Says("still wet: it has enough")},
			{What: NoteGrams, Least: 0.01, Most: 100_000, Says: func(v float64) string {
				return "put on, " + craft.In(v, craft.Gram)
			}},
		}})
	}
	return out
}()

// keyed are the keys of the steps of the coat of a number at which something is noted.
func keyed(coat int) []string {
	return []string{
		fmt.Sprintf("%s%d", CoatKey, coat), fmt.Sprintf("%s%d", WipeKey, coat), fmt.Sprintf("%s%d", BuffKey, coat),
	}
}

// looked is what the last look at a coat found: NoteDry, NoteFull, or nothing.
func looked(log []plan.Entry, coat int) (found string) {
	for _, key := range keyed(coat) {
		for _, e := range plan.Notes(log, key) {
			if e.What == NoteDry || e.What == NoteFull {
				found = e.What
			}
		}
	}
	return found
}

// begun tells whether anything was done on a coat.
func begun(log []plan.Entry, coat int) bool {
	for _, key := range keyed(coat) {
		if len(plan.Notes(log, key)) > 0 {
			return true
		}
		for _, e := range log {
			if e.Step == key && e.Event != plan.Noted && plan.Follow(log, key, e.At).State != plan.ToDo {
				return true
			}
		}
	}
	return false
}

// Used is what was put on in a coat by its notes, g; 0 where nothing was noted.
func Used(log []plan.Entry, step string) (grams float64) {
	for _, e := range plan.Notes(log, step) {
		if e.What == NoteGrams {
			grams = e.Value
		}
	}
	return grams
}

// added is by how much the number of a coat that a look has added is greater than that of the coat
// that was dry again.
const added = 100

// followed is a list as its looks have left it: how many coats a board takes is a guess, and what
// is seen on it decides. One that is dry again is followed by another of the same, one that stays
// wet by none that is not begun yet.
func followed(acts []Act, log []plan.Entry) (out []Act, more, fewer int) {
	out = append(out, acts...)
	for i := 0; i < len(out); i++ {
		if out[i].Product == "" {
			continue
		}
		same := func(k int) bool { return k < len(out) && alike(out[k], out[i]) }
		switch looked(log, out[i].ID) {
		case NoteFull:
			wait, sand, wet := out[i].Wait, out[i].Sand, out[i].Wet
			for same(i+1) && !begun(log, out[i+1].ID) {
				wait, sand, wet = out[i+1].Wait, out[i+1].Sand, out[i+1].Wet
				out = append(out[:i+1], out[i+2:]...)
				fewer++
			}
			out[i].Wait, out[i].Sand, out[i].Wet = wait, sand, wet
		case NoteDry:
			if same(i+1) || len(out) >= mostActs {
				continue
			}
			next := out[i]
			next.ID, next.Face = out[i].ID+added, 0
			if out[i].Wait == 0 {
				p, _ := ProductOf(out[i].Product)
				out[i].Wait = p.Wait
			}
			out = append(out[:i+1], append([]Act{next}, out[i+1:]...)...)
			more++
		}
	}
	return out, more, fewer
}

// alike tells whether two acts put the same on the same parts.
func alike(a, b Act) bool {
	return a.Product == b.Product && strings.Join(a.On, ",") == strings.Join(b.On, ",") && a.Bath == b.Bath
}

// Coated is a coat that is over: what it was reckoned to take, and what it took, g.
type Coated struct {
	Product string  `json:"product" doc:"What was put on"`
	Asked   float64 `json:"asked" range:"0,100000" doc:"What it was reckoned to take by the usual figures, g"`
	Used    float64 `json:"used" range:"0,100000" doc:"What it took, g"`
}

// Habit is how much more or less than usual a maker's coats have taken, by product.
type Habit map[string]float64

// trust is how many coats the usual figures themselves count for.
const trust = 4

// Learn draws a habit from coats that are over.
func Learn(coats []Coated) Habit {
	sums, n := map[string]float64{}, map[string]float64{}
	for _, c := range coats {
		if c.Asked <= 0 || c.Used <= 0 {
			continue
		}
		sums[c.Product] += min(4, max(0.25, c.Used/c.Asked))
		n[c.Product]++
	}
	h := Habit{}
	for p, sum := range sums {
		h[p] = (trust + sum) / (trust + n[p])
	}
	return h
}

// of is the factor of a product; 1 where nothing was learned.
func (h Habit) of(product string) float64 {
	if f, ok := h[product]; ok {
		return f
	}
	return 1
}
