package reckon

import (
	"strings"
	"time"

	"idletimber/craft"
	"idletimber/craft/fill"
	"idletimber/craft/plan"
)

// cure is the last pour that was made on a board, and how far it has come.
type cure struct {
	step string // its key
	fill.Curing
}

// curing is how far the last pour on the board has come by the warmth of the room; nil where
// nothing was poured.
func (l *laid) curing() *cure {
	l.record(craft.Fill)
	if l.mix == nil {
		return nil
	}
	of := plan.Board(l.board.ID)
	var log []plan.Entry
	for _, e := range l.on.Log {
		if e.Subject == of && strings.HasPrefix(e.Step, fill.PourKey) {
			log = append(log, e.Entry)
		}
	}
	last, key := time.Time{}, ""
	for _, e := range log {
		if p := plan.Follow(log, e.Step, l.on.Now); p.State == plan.Done && p.DoneAt.After(last) {
			last, key = *p.DoneAt, e.Step
		}
	}
	if key == "" {
		return nil
	}
	room := fill.Room{Read: l.on.Warmth, Usual: l.on.Shop.Air.Temperature}
	return &cure{key, fill.CuringOf(l.mix.Kind, room, last, l.on.Now)}
}

// waits dates the wait and the rest after the last pour by the warmth that it really had.
func (c *cure) waits(steps []plan.Step) {
	for i := range steps {
		s := &steps[i]
		if s.Key != c.step || s.Rest == 0 { // between two pours the window is that of the plan
			continue
		}
		if c.Sand != nil {
			s.Wait = c.Sand.Sub(c.Poured).Minutes()
		}
		if c.Full != nil {
			s.Rest = c.Full.Sub(c.Poured).Minutes()
		}
	}
}
