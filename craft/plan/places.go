package plan

import (
	"slices"
	"sort"
	"time"
)

// Places tells how many subjects find a place at once in what steps hold until their
// waits are over: on racks, in a bath, in clamps. What it does not name holds any number.
type Places map[string]int

// room is one of the places: how many of it are held from each moment on until the next.
type room struct {
	what   string
	places int
	levels []level
}

type level struct {
	from time.Duration
	held int
}

// dawn is before all that is placed.
const dawn = -1 << 62

func newRoom(what string, places int) *room {
	return &room{what, max(1, places), []level{{dawn, 0}}}
}

func (r *room) clone() *room { return &room{r.what, r.places, slices.Clone(r.levels)} }

// at is the level that holds at a moment.
func (r *room) at(m time.Duration) int {
	return sort.Search(len(r.levels), func(i int) bool { return r.levels[i].from > m }) - 1
}

// full tells whether so many places are not free all the time of a stretch, and when they are again. What needs more
// than there are waits until all are free.
func (r *room) full(s span, n int) (free time.Duration, is bool) {
	if s.to <= s.from {
		return 0, false
	}
	for i := r.at(s.from); i < len(r.levels) && r.levels[i].from < s.to; i++ {
		if r.fits(i, n) {
			continue
		}
		for ; i+1 < len(r.levels); i++ {
			if r.fits(i+1, n) {
				return r.levels[i+1].from, true
			}
		}
		return s.to, true
	}
	return 0, false
}

func (r *room) fits(i, n int) bool { return r.levels[i].held+min(n, r.places) <= r.places }

// hold takes so many places for a stretch.
func (r *room) hold(s span, n int) {
	if s.to <= s.from {
		return
	}
	for _, m := range []time.Duration{s.from, s.to} {
		if i := r.at(m); r.levels[i].from != m {
			r.levels = slices.Insert(r.levels, i+1, level{m, r.levels[i].held})
		}
	}
	for i := r.at(s.from); r.levels[i].from < s.to; i++ {
		r.levels[i].held += min(n, r.places)
	}
}

// mirror is the room on the mirrored line.
func (r *room) mirror() *room {
	out := &room{r.what, r.places, []level{{dawn, 0}}}
	for i := len(r.levels) - 1; i > 0; i-- {
		out.levels = append(out.levels, level{-r.levels[i].from, r.levels[i-1].held})
	}
	return out
}
