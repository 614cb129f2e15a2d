package plan

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"idletimber/craft"
)

// Improve looks for a better order of all that is to be done, by so many steps placed anew, and returns it for
// Planner.Order. The same chains, order, seed and number of steps give the same order; what it gives is never
// worse than what Schedule finds without it. A watch that is over ends it early, with the best so far.
func (p *Planner) Improve(chains []Chain, seed uint64, steps int, watch craft.Watch) []string {
	var best *placing // as Schedule finds it again: what it puts last in its session then is no part of the order
	f, _ := p.forward(chains, func(f *forward, from *placing) *placing {
		best = f.improve(from, rand.New(rand.NewPCG(seed, uint64(len(chains)))), steps, watch)
		return best
	})
	// As they follow each other in time they still do when something changes; but where a place is full, what is placed
	// first may lie later, and only the order of placing finds it again.
	units := best.byStart(f.network)
	if best.value.better(f.place(ranks(units)).value) {
		units = best.order
	}
	out := make([]string, 0, len(units))
	for _, i := range units {
		out = append(out, f.stepOf(f.network.units[i]))
	}
	return out
}

// Looked tells whether an order names something of every course of which something is still to be done.
func Looked(order []string, courses []Course) bool {
	named := make(map[string]bool, len(order))
	for _, step := range order {
		named[step] = true
	}
	for _, c := range courses {
		open, known := false, false
		for _, s := range c.Steps {
			if s.State != Done {
				open, known = true, known || named[place(c.Subject, s.Key)]
			}
		}
		if open && !known {
			return false
		}
	}
	return true
}

// Effort is by how many steps placed anew a plan of so many steps is to be improved, so that it takes a second or
// two.
func Effort(steps int) int {
	const thorough, most = 2_000_000, 800_000
	if steps < 400 {
		return thorough
	}
	return most
}

// byStart are the units as they follow each other in time, which places them anew where they lie.
func (p *placing) byStart(n *network) []int {
	at := make([]int, len(n.units)) // as they were placed
	for k, i := range p.order {
		at[i] = k
	}
	units := slices.Clone(p.order)
	slices.SortStableFunc(units, func(a, b int) int {
		return cmp.Or(cmp.Compare(p.at[n.units[a].first].from, p.at[n.units[b].first].from), cmp.Compare(at[a], at[b]))
	})
	return units
}

// The heat of the search, as it cools: an order that is late by so much more is taken about every third time; and
// how often it begins anew.
const (
	hot    = 48 * time.Hour
	cold   = 8 * time.Hour
	starts = 3
)

// improve looks for a better placing, several times from the beginning, by so many steps in all.
func (f *forward) improve(from *placing, random *rand.Rand, steps int, watch craft.Watch) *placing {
	if len(f.network.units) < 2 {
		return from
	}
	_, f.last, _ = f.network.alone(true)
	best := from
	for range starts {
		best = f.cool(from, best, random, steps/starts, watch)
	}
	f.limit = 0
	return best
}

// cool changes the order of units little by little, going on from worse ones ever more seldom.
func (f *forward) cool(from, best *placing, random *rand.Rand, steps int, watch craft.Watch) *placing {
	n, now := f.network, from
	units := now.byStart(n)
	next := make([]int, len(units))
	for round, left := 0, steps; left > 0 && (round%16 > 0 || watch.Ask() == nil); round++ {
		heat := float64(hot) * math.Pow(float64(cold)/float64(hot), 1-float64(left)/float64(steps))
		copy(next, units)
		f.change(next, now, random)
		most := now.value.cost() - heat*math.Log(1-random.Float64())
		f.limit = time.Duration(max(1, most))
		got := f.place(ranks(next))
		left -= max(1, len(got.order))
		if got.value.better(best.value) {
			best = got
		}
		if got.value.cost() <= most && got.value.unplaced <= now.value.unplaced {
			if now != best && now != from {
				f.spare = now
			}
			now, units = got, got.byStart(n)
		} else if got != best {
			f.spare = got
		}
	}
	return best
}

// cost is how late a placing is, and, among those that are alike in that, how long it takes and what it sets up.
func (v value) cost() float64 {
	return float64(v.late) + 0.02*float64(v.last) + float64(v.setups)*float64(time.Minute)
}

const day = 24 * time.Hour

// change moves units of an order: one to elsewhere, or behind another with the same set-up; two against each
// other; some that follow each other; those of a chain, all or a little; or two chains against each other.
func (f *forward) change(units []int, now *placing, random *rand.Rand) {
	const near, run = 8, 5
	n, k := f.network, len(units)
	chainAt := func(i int) int { return n.units[units[i]].chain }
	switch random.IntN(11) {
	case 0, 1, 2:
		from := random.IntN(k)
		moveTo(units, from, min(k-1, max(0, from+random.IntN(2*near+1)-near)))
	case 3, 4:
		moveTo(units, random.IntN(k), random.IntN(k))
	case 5:
		f.behindAlike(units, random)
	case 6:
		a, b := random.IntN(k), random.IntN(k)
		units[a], units[b] = units[b], units[a]
	case 7:
		length := min(k-1, 2+random.IntN(run-1))
		from, to := random.IntN(k-length), random.IntN(k-length)
		for d := range length {
			if from < to {
				moveTo(units, from, to+length-1)
			} else {
				moveTo(units, from+d, to+d)
			}
		}
	case 8:
		c, to := f.lateChain(now, random), random.IntN(k)
		for i := to; i < k; i++ {
			if chainAt(i) == c {
				moveTo(units, i, to)
				to++
			}
		}
	case 9:
		c, by := chainAt(random.IntN(k)), min(k-1, 1+random.IntN(near))
		if random.IntN(2) == 0 {
			for i := by; i < k; i++ {
				if chainAt(i) == c {
					moveTo(units, i, i-by)
				}
			}
			return
		}
		for i := k - 1 - by; i >= 0; i-- {
			if chainAt(i) == c {
				moveTo(units, i, i+by)
			}
		}
	case 10:
		f.exchange(units, chainAt(random.IntN(k)), chainAt(random.IntN(k)))
	}
}

// behindAlike moves a unit behind another that is set up alike.
func (f *forward) behindAlike(units []int, random *rand.Rand) {
	n, k := f.network, len(units)
	from, start := random.IntN(k), random.IntN(k)
	setup := n.tasks[n.units[units[from]].first].setup
	for d := range k {
		to := (start + d) % k
		if to == from || n.tasks[n.units[units[to]].first].setup != setup {
			continue
		}
		if to < from {
			to++
		}
		moveTo(units, from, to)
		return
	}
}

// exchange gives the first places of two chains to the one, and the others to the other.
func (f *forward) exchange(units []int, a, b int) {
	if a == b {
		return
	}
	var of [2][]int
	var places []int
	for i, u := range units {
		switch f.network.units[u].chain {
		case a:
			of[0], places = append(of[0], u), append(places, i)
		case b:
			of[1], places = append(of[1], u), append(places, i)
		}
	}
	if len(places) > 0 && units[places[0]] == of[0][0] {
		of[0], of[1] = of[1], of[0]
	}
	for k, u := range slices.Concat(of[0], of[1]) {
		units[places[k]] = u
	}
}

// lateChain is one of the chains that are late, or any.
func (f *forward) lateChain(now *placing, random *rand.Rand) int {
	var late []int
	for c, due := range f.network.due {
		if due != never && now.finish[c] > due {
			late = append(late, c)
		}
	}
	if len(late) == 0 {
		return f.network.units[random.IntN(len(f.network.units))].chain
	}
	return late[random.IntN(len(late))]
}

// moveTo moves one of a list to another place.
func moveTo(units []int, from, to int) {
	u := units[from]
	switch {
	case from < to:
		copy(units[from:to], units[from+1:to+1])
	case to < from:
		copy(units[to+1:from+1], units[to:from])
	}
	units[to] = u
}
