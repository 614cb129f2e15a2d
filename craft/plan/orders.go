package plan

import (
	"cmp"
	"slices"
	"strings"
	"time"
)

// orders are the orders in which units are placed, each as ranks: board by board, as it was always done;
// as it was found to be good before; by what must begin soonest; by the longest wait; by what is set up.
func (f *forward) orders() [][]int {
	plain := f.boardByBoard()
	out := [][]int{plain}
	if len(f.Order) > 0 {
		out = append(out, f.remembered(plain))
	}
	n := f.network
	day, starts, waits := n.alone(false)
	by := func(compare func(a, b int) int) []int {
		units := make([]int, len(n.units))
		for i := range units {
			units[i] = i
		}
		slices.SortStableFunc(units, func(a, b int) int {
			return cmp.Or(compare(a, b), cmp.Compare(plain[a], plain[b]))
		})
		return ranks(units)
	}
	const week = 7 * 24 * time.Hour
	out = append(
		out,
		by(func(a, b int) int { return cmp.Compare(starts[a], starts[b]) }),
		by(func(a, b int) int {
			return cmp.Or(cmp.Compare(day[a], day[b]), cmp.Compare(waits[b], waits[a]))
		}),
		by(func(a, b int) int {
			first := func(i int) task { return n.tasks[n.units[i].first] }
			return cmp.Or(cmp.Compare(starts[a]/week, starts[b]/week), cmp.Compare(first(a).setup, first(b).setup))
		}),
	)
	for i := range out {
		out[i] = f.ahead(out[i])
	}
	return out
}

// ahead is an order with what the maker wants done first ahead of all else.
func (f *forward) ahead(order []int) []int {
	if len(f.Ahead) == 0 {
		return order
	}
	at := make(map[string]int, len(f.Ahead))
	for i, step := range f.Ahead {
		at[step] = i
	}
	units := make([]int, len(order))
	for i, rank := range order {
		units[rank] = i
	}
	key := make([]int, len(order))
	least := make(map[int]int, len(f.chains)) // what comes before it on its board goes ahead with it
	for i := len(key) - 1; i >= 0; i-- {
		u := f.network.units[i]
		k, ok := at[f.stepOf(u)]
		if before, known := least[u.chain]; known && (!ok || before < k) {
			k, ok = before, true
		}
		if key[i] = len(at); ok {
			key[i], least[u.chain] = k, k
		}
	}
	slices.SortStableFunc(units, func(a, b int) int {
		if key[a] == key[b] && key[a] < len(at) { // of one board
			return cmp.Compare(a, b)
		}
		return cmp.Compare(key[a], key[b])
	})
	return ranks(units)
}

// ranks turns an order of units into the rank of each.
func ranks(units []int) []int {
	out := make([]int, len(units))
	for at, i := range units {
		out[i] = at
	}
	return out
}

// boardByBoard places chains one after the other, those with the earlier date first, and each behind those
// that it waits for.
func (f *forward) boardByBoard() []int {
	order := make([]int, len(f.chains))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return earlier(f.chains[a], f.chains[b]) })
	at := make([]int, len(f.chains))
	for rank, c := range inOrder(f.chains, order) {
		at[c] = rank
	}
	units := make([]int, len(f.network.units))
	for i := range units {
		units[i] = i
	}
	slices.SortStableFunc(units, func(a, b int) int {
		return cmp.Compare(at[f.network.units[a].chain], at[f.network.units[b].chain])
	})
	return ranks(units)
}

// remembered is the order that was found before; what it does not name comes where it would otherwise.
func (f *forward) remembered(plain []int) []int {
	at := make(map[string]int, len(f.Order))
	for i, step := range f.Order {
		at[step] = i
	}
	units := make([]int, len(plain))
	for i, rank := range plain {
		units[rank] = i
	}
	key := make([]int, len(units))
	last := 0
	for _, i := range units { // one that is not named follows the one before it
		u := f.network.units[i]
		if k, ok := at[f.stepOf(u)]; ok {
			last = k
		}
		key[i] = last
	}
	slices.SortStableFunc(units, func(a, b int) int { return cmp.Compare(key[a], key[b]) })
	return ranks(units)
}

// stepOf names the first step of a unit.
func (f *forward) stepOf(u unit) string {
	c := f.courses[u.chain]
	return place(c.Subject, c.Steps[f.network.tasks[u.first].step].Key)
}

// inOrder puts every chain behind those whose steps its own wait for, as far as
// they do not wait for each other.
func inOrder(chains []Chain, order []int) []int {
	byName := map[string]int{}
	for i, c := range chains {
		byName[c.Subject.String()] = i
	}
	out := make([]int, 0, len(order))
	seen := make([]bool, len(chains))
	var visit func(i int)
	visit = func(i int) {
		if seen[i] {
			return
		}
		seen[i] = true
		for _, s := range chains[i].Steps {
			for _, key := range s.After {
				of, _, other := strings.Cut(key, "/")
				if k, ok := byName[of]; ok && other {
					visit(k)
				}
			}
		}
		out = append(out, i)
	}
	for _, i := range order {
		visit(i)
	}
	return out
}

// waiting is how long a chain waits in all, minutes.
func (c Chain) waiting() (sum float64) {
	for _, s := range c.Steps {
		sum += s.Wait
	}
	return sum
}

// earlier orders chains by their date, those without one last. Of those of the same
// day, or of none, the one that waits longest comes first: its waits run beside the
// work on the others. What waits alike keeps one order, by name, whichever is looked
// at.
func earlier(a, b Chain) int {
	switch {
	case a.Due == nil && b.Due != nil:
		return 1
	case a.Due != nil && b.Due == nil:
		return -1
	case a.Due != nil && !a.Due.Equal(*b.Due):
		return a.Due.Compare(*b.Due)
	}
	return cmp.Or(
		cmp.Compare(b.waiting(), a.waiting()), cmp.Compare(a.Name, b.Name),
		cmp.Compare(a.Subject.String(), b.Subject.String()),
	)
}

// alone is what each unit asks for if there were no other work: the soonest day that it bears on, its latest
// start, and how long is waited from it on. Where all is set up already, they are spared that.
func (n *network) alone(set bool) (day, start, waits []time.Duration) {
	day, start = make([]time.Duration, len(n.units)), make([]time.Duration, len(n.units))
	waits = make([]time.Duration, len(n.units))
	var order []int
	n.each(make([]int, len(n.units)), func(i int) bool {
		order = append(order, i)
		return true
	})
	for _, i := range slices.Backward(order) {
		u := n.units[i]
		day[i], start[i] = n.due[u.chain], n.due[u.chain]
		var length, rest time.Duration
		for _, t := range n.tasksOf(u) {
			length, rest, waits[i] = length+t.length+t.wait, max(rest, t.rest), waits[i]+t.wait
			if set {
				length -= min(t.setupTime, t.length)
			}
		}
		later := time.Duration(0)
		for _, k := range u.before {
			day[i], start[i], later = min(day[i], day[k]), min(start[i], start[k]), max(later, waits[k])
		}
		if waits[i] += later; start[i] != never {
			start[i] -= max(length, rest)
		}
	}
	return day, start, waits
}
