package plan

import (
	"slices"
	"sort"
	"time"
)

// calendar is the maker's free time, on a line whose origin is a moment.
// Mirrored, it runs backward, so that the earliest place on it is the latest
// in time and one way of placing serves both.
type calendar struct {
	origin   time.Time
	mirrored bool
	free     []gap // disjoint, ascending
}

type gap struct{ from, to time.Duration }

func newCalendar(windows []Window, origin time.Time, mirrored bool) *calendar {
	c := &calendar{origin: origin, mirrored: mirrored, free: make([]gap, 0, len(windows)+16)}
	for _, w := range windows {
		g := gap{c.on(w.From), c.on(w.To)}
		if mirrored {
			g.from, g.to = g.to, g.from
		}
		c.free = append(c.free, g)
	}
	if mirrored {
		slices.Reverse(c.free)
	}
	return c
}

func (c *calendar) on(t time.Time) time.Duration {
	if c.mirrored {
		return c.origin.Sub(t)
	}
	return t.Sub(c.origin)
}

func (c *calendar) off(d time.Duration) time.Time {
	if c.mirrored {
		return c.origin.Add(-d)
	}
	return c.origin.Add(d)
}

// place takes the first free time of the given length on the line from ready
// on and returns its start and end in time. Divisible work is spread over
// gaps; other work needs one gap, or, where it is longer than any, a gap that
// it overruns.
func (c *calendar) place(ready time.Time, length time.Duration, divisible bool) (start, end time.Time, ok bool) {
	from := c.on(ready)
	if length == 0 {
		return ready, ready, true
	}
	i := sort.Search(len(c.free), func(i int) bool { return c.free[i].to > from })
	if !divisible {
		k := c.whole(i, from, length)
		if k < 0 {
			return start, end, false
		}
		at := max(c.free[k].from, from)
		c.take(k, at, min(at+length, c.free[k].to))
		return c.ordered(at, at+length)
	}
	first, left := time.Duration(-1), length
	for i < len(c.free) {
		at := max(c.free[i].from, from)
		part := min(left, c.free[i].to-at)
		if first < 0 {
			first = at
		}
		left -= part
		before := len(c.free)
		c.take(i, at, at+part)
		if left == 0 {
			return c.ordered(first, at+part)
		}
		i += len(c.free) - before + 1
	}
	return start, end, false
}

// row takes the first free time on the line from ready on in which steps follow the
// waits between them at once, and returns when each is worked on, in their order. It
// is nil for fewer than two, and where the free time holds them nowhere.
func (c *calendar) row(ready time.Time, steps []Dated) []Window {
	n := len(steps)
	if n < 2 {
		return nil
	}
	offs, lengths := make([]time.Duration, n), make([]time.Duration, n) // from where the first begins, on the line
	for k := range steps {
		i := k
		if c.mirrored {
			i = n - 1 - k
		}
		lengths[k] = minutes(steps[i].left())
		if k > 0 {
			wait := steps[i].Wait
			if !c.mirrored {
				wait = steps[i-1].Wait
			}
			offs[k] = offs[k-1] + lengths[k-1] + minutes(wait)
		}
	}
	at := c.on(ready)
	for k := 0; k < n; k++ {
		from := at + offs[k]
		g := sort.Search(len(c.free), func(g int) bool { return c.free[g].to >= from+lengths[k] })
		for g < len(c.free) && c.free[g].to-c.free[g].from < lengths[k] {
			g++
		}
		if g == len(c.free) {
			return nil
		}
		if c.free[g].from > from { // later, and all of them again
			at, k = c.free[g].from-offs[k], -1
		}
	}
	on := make([]Window, n)
	for k := range on {
		from := at + offs[k]
		g := sort.Search(len(c.free), func(g int) bool { return c.free[g].to >= from+lengths[k] })
		if lengths[k] > 0 {
			c.take(g, from, from+lengths[k])
		}
		on[k].From, on[k].To, _ = c.ordered(from, from+lengths[k])
	}
	if c.mirrored {
		slices.Reverse(on)
	}
	return on
}

// whole finds the first gap that holds the length, or the roomiest when none
// does; -1 when nothing is free.
func (c *calendar) whole(i int, from, length time.Duration) int {
	roomiest, most := -1, time.Duration(0)
	for k := i; k < len(c.free); k++ {
		room := c.free[k].to - max(c.free[k].from, from)
		if room >= length {
			return k
		}
		if room > most {
			roomiest, most = k, room
		}
	}
	return roomiest
}

func (c *calendar) ordered(a, b time.Duration) (start, end time.Time, ok bool) {
	start, end = c.off(a), c.off(b)
	if c.mirrored {
		start, end = end, start
	}
	return start, end, true
}

// take removes a stretch of the k-th gap from the free time.
func (c *calendar) take(k int, from, to time.Duration) {
	g := c.free[k]
	switch before, after := from > g.from, to < g.to; {
	case before && after:
		c.free = slices.Insert(c.free, k+1, gap{to, g.to})
		c.free[k].to = from
	case before:
		c.free[k].to = from
	case after:
		c.free[k].from = to
	default:
		c.free = slices.Delete(c.free, k, k+1)
	}
}
