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
func (f *filled) hold(s Dated, ends time.Time) {
	for _, what := range s.Holds {
		if _, counted := f.room[what]; counted {
			f.by[what] = append(f.by[what], Window{ends, s.until(ends)})
		}
	}
}

// counts tells whether a step holds anything that there is a number of.
func (f *filled) counts(s Dated) bool {
	return slices.ContainsFunc(s.Holds, func(what string) bool { _, counted := f.room[what]; return counted })
}

// full names what of all that a step holds has no place free for it, where its hands-on part
// ends at a moment, and the stretch of one that would have to be over, or not yet begun:
// forward, the first to be over; backward, the last to begin.
func (f *filled) full(s Dated, ends time.Time, backward bool) (what string, by Window, is bool) {
	until := s.until(ends)
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

// put finds the first free time on the line from a moment on for steps that follow each
// other's waits at once, moved on until what they hold has a place free. It returns when each
// is worked on, in their order, and what was full before. Where no free time holds them in a
// row, or there is one of them, it puts the one that comes first on the line by itself.
func (c *calendar) put(at time.Time, steps []Dated, held *filled) (on []Window, full string, ok bool) {
	counted := slices.ContainsFunc(steps, held.counts)
	for range mostMoves {
		free := c.free
		if counted {
			c.free = slices.Clone(free)
		}
		if on = c.row(at, steps); on == nil {
			s := steps[0]
			if c.mirrored {
				s = steps[len(steps)-1]
			}
			start, end, there := c.place(at, minutes(s.left()), s.Divisible)
			if !there {
				return nil, full, false
			}
			on, steps = []Window{{start, end}}, []Dated{s}
		}
		moved := false
		for i, s := range steps {
			what, by, is := held.full(s, on[i].To, c.mirrored)
			if !is {
				continue
			}
			full, moved = what, true
			if c.mirrored {
				at = on[len(on)-1].To.Add(-s.until(on[i].To).Sub(by.From))
			} else {
				at = on[0].From.Add(by.To.Sub(on[i].To))
			}
			break
		}
		if !moved {
			break
		}
		c.free = free
	}
	for i, s := range steps {
		held.hold(s, on[i].To)
	}
	return on, full, true
}
