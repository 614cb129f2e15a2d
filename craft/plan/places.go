package plan

import (
	"slices"
	"time"
)

// Places tells how many subjects find a place at once in what steps hold until their
// waits are over: on racks, in a bath. What it does not name holds any number.
type Places map[string]int

// filled is when places are held: by what is held, the stretches in which one is.
type filled struct {
	room Places
	by   map[string][]Window
}

func newFilled(room Places) *filled { return &filled{room, map[string][]Window{}} }

// hold takes a place for every thing that a step holds, from its end until its wait is over.
func (f *filled) hold(s Dated, wait Window) {
	for _, what := range s.Holds {
		if _, counted := f.room[what]; counted {
			f.by[what] = append(f.by[what], wait)
		}
	}
}

// counts tells whether a step holds anything that there is a number of.
func (f *filled) counts(s Dated) bool {
	return slices.ContainsFunc(s.Holds, func(what string) bool { _, counted := f.room[what]; return counted })
}

// full names what of all that a step holds has no place free for it while it waits, and the stretch
// of one that would have to be over, or not yet begun: forward, the first to be over; backward, the
// last to begin.
func (f *filled) full(s Dated, wait Window, backward bool) (what string, by Window, is bool) {
	ends, until := wait.From, wait.To
	for _, what := range s.Holds {
		room, counted := f.room[what]
		if !counted {
			continue
		}
		// The number of places held changes where one begins to be.
		moments := []time.Time{ends}
		for _, w := range f.by[what] {
			if w.From.After(ends) && w.From.Before(until) {
				moments = append(moments, w.From)
			}
		}
		for _, m := range moments {
			var held []Window
			for _, w := range f.by[what] {
				if !w.From.After(m) && w.To.After(m) {
					held = append(held, w)
				}
			}
			if len(held) < max(1, room) {
				continue
			}
			return what, slices.MinFunc(held, func(a, b Window) int {
				if backward {
					return b.From.Compare(a.From)
				}
				return a.To.Compare(b.To)
			}), true
		}
	}
	return "", by, false
}

// mostMoves bounds how often a step is moved on to where a place is free.
const mostMoves = 500

// sequence takes the first free time on the line from a moment on for steps that follow each other's
// waits: at once where the free time holds them so, else as soon as somebody is there again. It
// returns when each is worked on, in their order; nil where the free time does not hold them.
func (c *calendar) sequence(at time.Time, steps []Dated) []Window {
	if on := c.row(at, steps); on != nil {
		return on
	}
	n := len(steps)
	first, rest := steps[0], steps[1:]
	if c.mirrored { // on the line the last one comes first
		first, rest = steps[n-1], steps[:n-1]
	}
	start, end, ok := c.place(at, minutes(first.left()), first.Divisible)
	switch {
	case !ok:
		return nil
	case n == 1:
		return []Window{{start, end}}
	case c.mirrored:
		before := c.sequence(start.Add(-minutes(rest[n-2].Wait)), rest)
		if before == nil {
			return nil
		}
		return append(before, Window{start, end})
	}
	after := c.sequence(first.until(end), rest)
	if after == nil {
		return nil
	}
	return append([]Window{{start, end}}, after...)
}

// waits are the waits after steps that are worked on one after the other: each goes on until the next
// one is begun, where nobody is there when it is over.
func waits(steps []Dated, on []Window) []Window {
	out := make([]Window, len(steps))
	for i, s := range steps {
		out[i] = Window{on[i].To, s.until(on[i].To)}
		if i+1 < len(on) && on[i+1].From.After(out[i].To) {
			out[i].To = on[i+1].From
		}
	}
	return out
}

// put finds the first free time on the line from a moment on for steps that follow each
// other's waits, moved on until what they hold has a place free. It returns when each is worked on, in
// their order, and what was full before; ok is false where the free time does not hold them.
func (c *calendar) put(at time.Time, steps []Dated, held *filled) (on []Window, full string, ok bool) {
	counted := slices.ContainsFunc(steps, held.counts)
	for range mostMoves {
		free := c.free
		if counted {
			c.free = slices.Clone(free)
		}
		if on = c.sequence(at, steps); on == nil {
			c.free = free
			return nil, full, false
		}
		moved := false
		for i, wait := range waits(steps, on) {
			what, by, is := held.full(steps[i], wait, c.mirrored)
			if !is {
				continue
			}
			full, moved = what, true
			if c.mirrored {
				at = on[len(on)-1].To.Add(-wait.To.Sub(by.From))
			} else {
				at = on[0].From.Add(by.To.Sub(wait.From))
			}
			break
		}
		if !moved {
			break
		}
		c.free = free
	}
	for i, wait := range waits(steps, on) {
		held.hold(steps[i], wait)
	}
	return on, full, true
}
