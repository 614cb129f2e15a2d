package plan

import (
	"slices"
	"sort"
	"time"
)

// Times are placed on a line whose origin is now. Mirrored, the line runs into the past, so that
// the earliest place on it is the latest in time and one way of placing serves both.

// span is a stretch of the line.
type span struct{ from, to time.Duration }

// hands are those of one person: when they are free, and where they stopped with what set up.
type hands struct {
	who  string
	does map[Kind]bool     // nil for all work
	free []span            // disjoint, ascending
	open []span            // the sessions, as they were before anything was placed
	left [][]time.Duration // by what is set up: where work with it stopped and nothing else has followed
}

func newHands(who string, does map[Kind]bool, windows []Window, now time.Time, mirrored bool) *hands {
	h := &hands{who: who, does: does, open: make([]span, 0, len(windows))}
	for _, w := range windows {
		s := span{w.From.Sub(now), w.To.Sub(now)}
		if mirrored {
			s = span{-s.to, -s.from}
		}
		h.open = append(h.open, s)
	}
	if mirrored {
		slices.Reverse(h.open)
	}
	h.reset()
	return h
}

// reset frees all that was taken.
func (h *hands) reset() {
	h.free = append(h.free[:0], h.open...)
	for i := range h.left {
		h.left[i] = h.left[i][:0]
	}
}

// stops notes that work has stopped with something set up.
func (h *hands) stops(setup int, at time.Duration) {
	for len(h.left) <= setup {
		h.left = append(h.left, nil)
	}
	h.left[setup] = append(h.left[setup], at)
}

// may tells whether all of some tasks are work for these hands.
func (h *hands) may(tasks []task) bool {
	return h.does == nil || !slices.ContainsFunc(tasks, func(t task) bool { return t.length > 0 && !h.does[t.kind] })
}

// find fills in the first stretches from a moment on in which tasks, in the order of the line, are worked
// on one after the other's wait: at once where the free time holds them so, else as soon as it does. It
// takes nothing; ok is false where the free time does not hold them.
func (h *hands) find(from time.Duration, tasks []task, spans []span, mirrored bool) (ok bool) {
	if len(tasks) > 1 && h.row(from, tasks, spans, mirrored) {
		return true
	}
	for k, t := range tasks {
		if spans[k], ok = h.one(from, t); !ok {
			return false
		}
		from = spans[k].to + t.wait
		if mirrored && k+1 < len(tasks) {
			from = spans[k].to + tasks[k+1].wait
		} else if !mirrored && t.until > from {
			from = t.until
		}
	}
	return true
}

// one is the first stretch for a task: spread over the free time where it may be, else in one piece
// of it, or, where it is longer than any, in a piece that it overruns.
func (h *hands) one(from time.Duration, t task) (span, bool) {
	if t.length == 0 {
		return span{from, from}, true
	}
	i := h.at(from)
	if t.whole {
		return h.whole(i, from, t.length)
	}
	first, left := time.Duration(-1), t.length
	for ; i < len(h.free); i++ {
		at := max(h.free[i].from, from)
		if left == t.length {
			first = at
		}
		if part := h.free[i].to - at; part < left {
			left -= part
			continue
		}
		return span{first, at + left}, true
	}
	return span{}, false
}

// at is the first free stretch that is not over at a moment.
func (h *hands) at(from time.Duration) int {
	return sort.Search(len(h.free), func(i int) bool { return h.free[i].to > from })
}

// whole is the first piece of free time from the i-th on that holds a length. Where none does it is the
// roomiest at the end of a session, which the work overruns into time that is nobody's.
func (h *hands) whole(i int, from, length time.Duration) (span, bool) {
	best, most := span{}, time.Duration(0)
	for _, g := range h.free[i:] {
		at := max(g.from, from)
		room := g.to - at
		if room >= length {
			return span{at, at + length}, true
		}
		if room > most && h.idle(g.to, at+length) {
			best, most = span{at, at + length}, room
		}
	}
	return best, most > 0
}

// idle tells whether no session is touched between two moments.
func (h *hands) idle(from, to time.Duration) bool {
	k := sort.Search(len(h.open), func(k int) bool { return h.open[k].to > from })
	return k == len(h.open) || h.open[k].from >= to
}

// row fills in the first stretches from a moment on in which tasks follow the waits between them at once.
func (h *hands) row(from time.Duration, tasks []task, spans []span, mirrored bool) bool {
	var off time.Duration
	for k, t := range tasks {
		if k > 0 && mirrored {
			off += t.wait
		}
		spans[k] = span{off, off + t.length}
		off += t.length
		if !mirrored {
			off += t.wait
		}
	}
	at := from
	for k := 0; k < len(tasks); k++ {
		length := tasks[k].length
		starts := at + spans[k].from
		g := sort.Search(len(h.free), func(g int) bool { return h.free[g].to >= starts+length })
		for g < len(h.free) && h.free[g].to-h.free[g].from < length {
			g++
		}
		if g == len(h.free) {
			return false
		}
		if h.free[g].from > starts { // later, and all of them again
			at, k = h.free[g].from-spans[k].from, -1
		}
	}
	for k := range spans {
		spans[k].from, spans[k].to = spans[k].from+at, spans[k].to+at
	}
	return true
}

// again looks whether tasks may begin while what the first needs is still set up: in the session in which it was
// worked with, with nothing else in between. It fills in their stretches where they end no later than others do,
// and returns what the first is spared and where the work before it stopped; 0 where there is no such place.
func (h *hands) again(from time.Duration, tasks []task, spans, other []span) (spared, stopped time.Duration) {
	first := tasks[0]
	if first.setup < 0 || first.setupTime <= 0 || first.setup >= len(h.left) {
		return 0, 0
	}
	if spared = min(first.setupTime, first.length-time.Minute); spared <= 0 {
		return 0, 0
	}
	length := first.length
	tasks[0].length -= spared
	defer func() { tasks[0].length = length }()
	found, best := false, time.Duration(0)
	open := h.left[first.setup][:0]
	for _, stop := range h.left[first.setup] {
		i := h.at(stop)
		if i == len(h.free) || h.free[i].from != stop {
			continue // something else follows, for good
		}
		open = append(open, stop)
		if stop > other[0].from+spared || h.free[i].to <= from || !h.find(max(stop, from), tasks, spans, false) ||
			spans[0].from >= h.free[i].to {
			continue
		}
		if ends := spans[len(spans)-1].to; ends <= other[len(other)-1].to && (!found || ends < best) {
			found, best, stopped = true, ends, stop
		}
	}
	h.left[first.setup] = open
	if !found {
		return 0, 0
	}
	h.find(max(stopped, from), tasks, spans, false)
	return spared, stopped
}

// take takes stretches out of the free time, and notes what is set up where they end. Where the first is spared
// its set-up nothing else may come in between.
func (h *hands) take(tasks []task, spans []span, spared, stopped time.Duration) {
	if spared > 0 {
		h.cut(span{stopped, spans[0].from})
	}
	for k, s := range spans {
		if s.to == s.from {
			continue
		}
		h.cut(s)
		if tasks[k].setup >= 0 {
			h.stops(tasks[k].setup, s.to)
		}
	}
}

func (h *hands) cut(s span) {
	if s.to <= s.from {
		return
	}
	i := h.at(s.from)
	for i < len(h.free) && h.free[i].from < s.to {
		g := h.free[i]
		switch before, after := s.from > g.from, s.to < g.to; {
		case before && after:
			h.free = slices.Insert(h.free, i+1, span{s.to, g.to})
			h.free[i].to = s.from
			return
		case before:
			h.free[i].to = s.from
			i++
		case after:
			h.free[i].from = s.to
			return
		default:
			h.free = slices.Delete(h.free, i, i+1)
		}
	}
}
