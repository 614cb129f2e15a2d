package giving

import (
	"fmt"
	"math"
	"time"

	"idletimber/craft"
)

// Packing is how a board leaves the shop, and when it may.
type Packing struct {
	Steps   []string   `json:"steps" doc:"In their order"`
	Sent    bool       `json:"sent,omitempty" doc:"It goes by post"`
	From    *time.Time `json:"from,omitempty" doc:"Earliest day on which it leaves the shop; left out until known"`
	Why     string     `json:"why,omitempty" doc:"What it waits for"`
	Hot     bool       `json:"hot,omitempty" doc:"That day lies in the warm months, and its wax would sweat on the way"`
	Instead string     `json:"instead,omitempty" doc:"What to do about that"`
}

// touched is from when a finish is dry to the touch, days after its last coat (rule).
const touched = 1

// Pack tells how a board is packed whose last coat was on at a moment, nil while that is not known. Hot tells of the
// warm months of the shop.
func (f Facts) Pack(last *time.Time, sent bool, hot func(time.Month) bool) Packing {
	p := Packing{Sent: sent, Steps: []string{"Wipe it, look at both faces in raking light"}}
	add := func(step string) { p.Steps = append(p.Steps, step) }
	switch {
	case f.Sweats > 0:
		add("Dry to the touch, nothing comes off on paper; buff it once more")
	case f.Curing:
		add("Cured: it smells of nothing, and a thumb leaves no print")
	default:
		add("Dry to the touch: wipe off what oil has come out since")
	}
	if f.Hangs == "cord" {
		add("Tie the cord, its knot pulled tight, both ends sealed")
	}
	if f.Feet {
		add("Feet tight; paper between them and the next board")
	}
	add("Wrap it in paper, never in film: it goes on giving off oil and water")
	add("The card under the ribbon, the tag on the cord or the handle")
	if sent {
		add("Corners and edges padded first; a box two fingers larger all round, filled so that nothing moves")
		add("A day's rest at the post is two in the sun: write \"keep from heat\" on the box")
	}
	if last == nil {
		return p
	}
	days := touched + 0.0
	p.Why = "its finish to be dry to the touch"
	if f.Curing && f.Food > days { // what still cures must not be shut in
		days, p.Why = f.Food, "its finish to cure"
	}
	from := last.AddDate(0, 0, int(math.Ceil(days)))
	p.From = &from
	if sent && f.Sweats > 0 && hot(from.Month()) {
		p.Hot = true
		cool := from
		for hot(cool.Month()) && cool.Before(from.AddDate(1, 0, 0)) {
			cool = time.Date(cool.Year(), cool.Month()+1, 1, 12, 0, 0, 0, cool.Location())
		}
		p.Instead = fmt.Sprintf(
			"In the warm months its wax sweats above about %s in a parcel: hand it over, send it "+
				"overnight with a cold start, or from %s",
			craft.In(math.Round(f.Sweats), craft.Celsius),
			cool.Format("2 Jan 2006"),
		)
		if !hot(cool.Month()) {
			return p
		}
		p.Instead = fmt.Sprintf(
			"Its wax sweats above about %s in a parcel: hand it over",
			craft.In(math.Round(f.Sweats),
				craft.Celsius),
		)
	}
	return p
}
