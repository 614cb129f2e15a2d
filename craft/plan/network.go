package plan

import (
	"math"
	"slices"
	"strings"
	"time"
)

// task is a step that is still to be placed, as the line of time knows it.
type task struct {
	chain, step int
	kind        Kind
	length      time.Duration
	wait        time.Duration // after it
	until       time.Duration // moment before which the wait is not over; dawn without one
	rest        time.Duration
	whole       bool // not to be spread
	setup       int  // what is set up for it; -1 for nothing
	setupTime   time.Duration
	holds       []taking
}

// taking is so many places of a room.
type taking struct{ room, n int }

// unit is tasks that follow each other's waits at once: one step, or a soak with what ends it.
type unit struct {
	first, n int // its tasks
	chain    int
	running  bool // it is in hand, and goes on
	ready    time.Duration
	after    []int // units that come before it
	before   []int // units that it comes before
	pin      *pinned
}

// pinned is a day that the maker has locked a unit to.
type pinned struct {
	day      string
	from, to time.Duration
}

// network is all that is still to be placed, and what holds already.
type network struct {
	now    time.Time
	tasks  []task
	units  []unit
	due    []time.Duration // of each chain; never without one
	rested []time.Duration // when the waits and rests of what is done are over
	rooms  []*room
	setups int // how many different ones
}

const never = time.Duration(math.MaxInt64)

func minutes(m float64) time.Duration { return time.Duration(m * float64(time.Minute)) }

// place names a step among all chains.
func place(of Subject, key string) string {
	if strings.Contains(key, "/") { // of another chain
		return key
	}
	return of.String() + "/" + key
}

// newNetwork draws the steps of courses that are not done up as units.
func newNetwork(courses []Course, places Places, pins []Pin, zone *time.Location, now time.Time) *network {
	n := &network{now: now, due: make([]time.Duration, len(courses)), rested: make([]time.Duration, len(courses))}
	rooms, setups := map[string]int{}, map[string]int{}
	for _, what := range sortedKeys(places) {
		rooms[what] = len(n.rooms)
		n.rooms = append(n.rooms, newRoom(what, places[what]))
	}
	byPlace := map[string]int{}        // of a step that is not done: its unit
	over := map[string]time.Duration{} // of one that is: when its wait is over
	for c := range courses {
		n.due[c] = never
		if courses[c].Due != nil {
			n.due[c] = courses[c].Due.Sub(now)
		}
		var free time.Duration // when the waits of what is done before are over
		for i := 0; i < len(courses[c].Steps); {
			s := courses[c].Steps[i]
			at := place(courses[c].Subject, s.Key)
			if s.State == Done {
				over[at] = s.WaitUntil.Sub(now)
				free = max(free, over[at])
				n.rested[c] = max(n.rested[c], over[at])
				if s.RestUntil != nil {
					n.rested[c] = max(n.rested[c], s.RestUntil.Sub(now))
				}
				for _, what := range s.Holds {
					if r, ok := rooms[what]; ok {
						n.rooms[r].hold(span{s.DoneAt.Sub(now), over[at]}, s.many(what))
					}
				}
				i++
				continue
			}
			u := unit{first: len(n.tasks), n: 1, chain: c, running: s.State == Running}
			if len(s.After) == 0 {
				u.ready = free
			}
			if !u.running {
				u.n = courses[c].together(i)
			}
			for k := i; k < i+u.n; k++ {
				byPlace[place(courses[c].Subject, courses[c].Steps[k].Key)] = len(n.units)
				n.tasks = append(n.tasks, newTask(courses[c].Steps[k], c, k, now, rooms, setups))
			}
			n.units = append(n.units, u)
			i += u.n
		}
	}
	n.setups = len(setups)
	n.link(courses, byPlace, over)
	n.pin(pins, byPlace, zone)
	return n
}

func newTask(s Dated, chain, step int, now time.Time, rooms, setups map[string]int) task {
	t := task{
		chain: chain, step: step, kind: s.Kind, length: minutes(s.left()), wait: minutes(s.Wait), until: dawn,
		rest: minutes(s.Rest), whole: !s.Divisible, setup: -1,
	}
	if s.Until != nil {
		t.until = s.Until.Sub(now)
	}
	if s.Setup != "" {
		id, ok := setups[s.Setup]
		if !ok {
			id = len(setups)
			setups[s.Setup] = id
		}
		t.setup = id
	}
	if s.Spent == 0 { // else it was set up for it
		t.setupTime = minutes(s.SetupMinutes)
	}
	for _, what := range s.Holds {
		if r, ok := rooms[what]; ok {
			t.holds = append(t.holds, taking{r, s.many(what)})
		}
	}
	return t
}

// link tells every unit what it comes after: the steps that it names, or all before it in its chain. A
// step that is named and nowhere to be found keeps nothing back.
func (n *network) link(courses []Course, byPlace map[string]int, over map[string]time.Duration) {
	gate := 0 // unit of the chain that comes after all before it
	for i := range n.units {
		u := &n.units[i]
		if n.units[gate].chain != u.chain {
			gate = i
		}
		s := courses[u.chain].Steps[n.tasks[u.first].step]
		if s.From != nil {
			u.ready = max(u.ready, s.From.Sub(n.now))
		}
		if len(s.After) == 0 {
			for k := gate; k < i; k++ {
				u.after = append(u.after, k)
			}
			gate = i
		}
		for _, key := range s.After {
			at := place(courses[u.chain].Subject, key)
			if k, ok := byPlace[at]; ok && k != i && !slices.Contains(u.after, k) {
				u.after = append(u.after, k)
			} else if !ok {
				u.ready = max(u.ready, over[at])
			}
		}
		for _, k := range u.after {
			n.units[k].before = append(n.units[k].before, i)
		}
	}
}

// pin locks units to the days that the maker wants them on.
func (n *network) pin(pins []Pin, byPlace map[string]int, zone *time.Location) {
	for _, p := range pins {
		i, ok := byPlace[p.Step]
		d, err := time.ParseInLocation(time.DateOnly, p.Day, zone)
		if !ok || err != nil || n.units[i].running {
			continue
		}
		next := time.Date(d.Year(), d.Month(), d.Day()+1, 0, 0, 0, 0, zone)
		n.units[i].pin = &pinned{p.Day, d.Sub(n.now), next.Sub(n.now)}
	}
}

func (n *network) tasksOf(u unit) []task { return n.tasks[u.first : u.first+u.n] }

// together is how many steps from the i-th on follow each other's waits at once.
func (c *Course) together(i int) int {
	n := 1
	for i+n < len(c.Steps) && c.Steps[i+n-1].Attended {
		if next := c.Steps[i+n]; next.State != ToDo || len(next.After) > 0 || next.From != nil {
			break
		}
		n++
	}
	return n
}
