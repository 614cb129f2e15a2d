package nest

import (
	"math"
	"slices"
)

// window is a part of the raster, in cells.
type window struct{ left, top, right, bottom int }

// whole is all of the raster.
func (g *grid) whole() window { return window{0, 0, g.w, g.h} }

// about is a shape where it lies, and so many cells round it.
func (g *grid) about(sh *shape, at spot, reach int) window {
	return window{max(0, at.x-reach), max(0, at.y-reach), min(g.w, at.x+sh.w+reach), min(g.h, at.y+sh.h+reach)}
}

// price fills a window of the raster with what it costs piece i to lie on each cell, as running sums along the rows.
func (s *search) price(i int, in window) {
	g := s.grid
	g.priced = in
	w := weighed(s.out[i])
	for y := in.top; y < in.bottom; y++ {
		clear(g.cost[y*g.w+in.left : y*g.w+in.right])
	}
	for k, at := range s.spots {
		if k == i || !at.on {
			continue
		}
		sh, w := g.kinds[k].shape(at.v), weighed(s.weight[i][k])
		if at.x >= in.right || at.x+sh.w <= in.left {
			continue
		}
		for y := max(0, in.top-at.y); y < min(sh.h, in.bottom-at.y); y++ {
			row, price := g.cost[(at.y+y)*g.w:], sh.price[y*sh.w:]
			for _, r := range sh.runs[sh.first[y]:sh.first[y+1]] {
				from, to := max(int(r.from), in.left-at.x), min(int(r.to), in.right-at.x)
				if from >= to {
					continue
				}
				add(row[at.x+from:at.x+to], price[from:to], w)
			}
		}
	}
	for y := in.top; y < in.bottom; y++ {
		var total int32
		sum := g.sum[y*(g.w+1)+in.left : y*(g.w+1)+in.right+1]
		off := g.off[y*g.w+in.left : y*g.w+in.right]
		cost := g.cost[y*g.w+in.left : y*g.w+in.right][:len(off)]
		for x, o := range off {
			sum[x] = total
			total += cost[x] + o*w
		}
		sum[len(sum)-1] = total
	}
}

// add adds so many times what each cell costs to a row, a few cells at a time.
func add(row, price []int32, times int32) {
	row = row[:len(price)]
	for len(price) >= 4 && len(row) >= 4 {
		r, p := row[:4:4], price[:4:4]
		r[0] += times * p[0]
		r[1] += times * p[1]
		r[2] += times * p[2]
		r[3] += times * p[3]
		row, price = row[4:], price[4:]
	}
	for x, c := range price {
		row[x] += times * c
	}
}

// weighed is a weight in whole steps.
func weighed(w float64) int32 { return int32(min(w, heaviest)) }

// heaviest bounds the weights, so that sums along a row stay whole numbers.
const heaviest = 4000

// costAt is what it costs piece i to lie at a spot.
func (s *search) costAt(i int, at spot, limit int64) int64 {
	g := s.grid
	k := g.kinds[i]
	sh := k.shape(at.v)
	if in := g.priced; at.x < in.left || at.y < in.top || at.x+sh.w > in.right || at.y+sh.h > in.bottom {
		return math.MaxInt64
	}
	total := sh.sumAt(g.sum, g.w, at.x, at.y, limit)
	if k.avoid != nil && total < limit {
		total += sh.sumAt(k.avoid, g.w, at.x, at.y, limit-total) * int64(weighed(s.out[i]))
	}
	return total
}

// priced is a spot with its cost.
type priced struct {
	spot
	cost int64
}

// Samples of a move: all over the sheet, about where the piece lies, and how
// many of the best are followed.
const (
	wide     = 260
	close    = 60
	followed = 3

	reach = 12 // cells, of a move nearby
	far   = 8  // moves on the fine raster, of which one is not nearby
)

// seek moves piece i to the cheapest place that it finds, if that is cheaper than
// where it lies.
func (s *search) seek(i int) {
	g := s.grid
	k := g.kinds[i]
	near := s.grid == s.fine && s.spots[i].on && !k.pinned() && len(s.Pieces[i].Lures) == 0 && s.rng.IntN(far) > 0
	if in := g.whole(); near {
		s.price(i, g.about(k.shape(s.spots[i].v), s.spots[i], reach))
	} else {
		s.price(i, in)
	}
	now := priced{cost: math.MaxInt64}
	if s.spots[i].on {
		now = priced{s.spots[i], s.costAt(i, s.spots[i], math.MaxInt64)}
	}
	if k.pinned() {
		for v := range k.ways {
			sh := k.shape(v)
			at := spot{on: true, v: v, x: sh.x, y: sh.y}
			if c := s.costAt(i, at, now.cost); c < now.cost {
				now = priced{at, c}
			}
		}
		if now.on {
			s.spots[i] = now.spot
		}
		return
	}
	if s.lured(i) {
		return
	}
	var best []priced
	worst := int64(math.MaxInt64)
	try := func(at spot) {
		c := s.costAt(i, at, worst)
		if c >= worst {
			return
		}
		best = append(best, priced{at, c})
		slices.SortStableFunc(best, func(a, b priced) int {
			switch {
			case a.cost < b.cost:
				return -1
			case a.cost > b.cost:
				return 1
			}
			return 0
		})
		if len(best) > followed {
			best = best[:followed]
		}
		if len(best) == followed {
			worst = best[followed-1].cost
		}
	}
	n := wide
	if near {
		n = 0
	} else if s.grid == s.fine && s.spots[i].on { // the coarse raster has told where about
		n /= 5
	}
	for range n {
		v := s.rng.IntN(len(k.ways))
		sh := k.shape(v)
		if sh.w > g.w || sh.h > g.h {
			continue
		}
		try(spot{true, v, s.rng.IntN(g.w - sh.w + 1), s.rng.IntN(g.h - sh.h + 1)})
	}
	if now.on {
		sh := k.shape(now.v)
		rx, ry := max(6, sh.w/4), max(6, sh.h/4)
		if near {
			rx, ry = reach, reach
		}
		for range close {
			try(spot{true, s.tilted(i, now.v), now.x + s.rng.IntN(2*rx+1) - rx, now.y + s.rng.IntN(2*ry+1) - ry})
		}
		best = append(best, now)
	}
	for _, from := range best {
		if to := s.descend(i, from); to.cost < now.cost || !now.on {
			now = to
		}
	}
	if now.on {
		s.spots[i] = now.spot
	}
}

// lured moves piece i to one of the places that it is drawn to, if it lies there
// at no cost and no other piece lies at one of the same group.
func (s *search) lured(i int) bool {
	groups := s.Pieces[i].Lures
	if len(groups) == 0 {
		return false
	}
	for _, g := range s.rng.Perm(len(groups)) {
		if len(groups[g]) == 0 || s.taken(g, i) {
			continue
		}
		first := s.rng.IntN(len(groups[g]))
		for n := range groups[g] {
			at := s.grid.spotOf(Laid{Piece: i, At: groups[g][(first+n)%len(groups[g])], Pose: -1})
			if s.costAt(i, at, 1) == 0 {
				s.spots[i] = at
				return true
			}
		}
	}
	return false
}

// taken reports whether a piece besides i lies at one of a group of lures.
func (s *search) taken(group, i int) bool {
	const near = 2 // cells
	for k, is := range s.spots {
		if k == i || !is.on || group >= len(s.Pieces[k].Lures) {
			continue
		}
		for _, lure := range s.Pieces[k].Lures[group] {
			at := s.grid.spotOf(Laid{Piece: k, At: lure, Pose: -1})
			if at.v == is.v && abs(at.x-is.x) <= near && abs(at.y-is.y) <= near {
				return true
			}
		}
	}
	return false
}

func abs(v int) int { return max(v, -v) }

// tilted is a way of lying that differs from another by a little tilt.
func (s *search) tilted(i, v int) int {
	k := s.grid.kinds[i]
	if k.tilts == 1 {
		return v
	}
	first := v / k.tilts * k.tilts
	return first + min(max(v-first+s.rng.IntN(5)-2, 0), k.tilts-1)
}

// descend follows a spot downhill, by steps that grow finer.
func (s *search) descend(i int, at priced) priced {
	k := s.grid.kinds[i]
	for step := 8; step >= 1; {
		was := at.cost
		if was == 0 {
			return at
		}
		try := func(to spot) {
			if c := s.costAt(i, to, at.cost); c < at.cost {
				at = priced{to, c}
			}
		}
		for _, d := range [4][2]int{{step, 0}, {-step, 0}, {0, step}, {0, -step}} {
			to := at.spot
			to.x, to.y = to.x+d[0], to.y+d[1]
			try(to)
		}
		if k.tilts > 1 {
			first := at.v / k.tilts * k.tilts
			for _, d := range [2]int{-1, 1} {
				v := at.v + d*max(1, step/2)
				if v < first || v >= first+k.tilts {
					continue
				}
				was, now := k.shape(at.v), k.shape(v)
				try(spot{true, v, at.x + now.x - was.x, at.y + now.y - was.y}) // about its origin
			}
		}
		if at.cost == was {
			step /= 2
		}
	}
	return at
}

// fit lays piece i where it costs nothing, as near the butt end as it goes.
func (s *search) fit(i int) bool {
	g := s.grid
	k := g.kinds[i]
	s.price(i, g.whole())
	if s.keen && s.lured(i) {
		return true
	}
	found := false
	var best spot
	every := int(math.Round(1 / g.tilt)) // degree by degree; the others are left to the search
	for v := range k.ways {
		if k.tilts > 1 && (v%k.tilts-k.tilts/2)%every != 0 {
			continue
		}
		sh := k.shape(v)
		if k.pinned() {
			if at := (spot{true, v, sh.x, sh.y}); s.costAt(i, at, 1) == 0 && (!found || at.x < best.x) {
				best, found = at, true
			}
			continue
		}
		last := g.w - sh.w
		if found {
			last = min(last, best.x-1)
		}
	columns:
		for x := 0; x <= last; x += 2 {
			for y := 0; y+sh.h <= g.h; y += 2 {
				if s.costAt(i, spot{true, v, x, y}, 1) == 0 {
					best, found = spot{true, v, x, y}, true
					break columns
				}
			}
		}
	}
	if found {
		s.spots[i] = best
	}
	s.moves++
	s.tell(false)
	return found
}

// lossBetween is how badly two pieces overlap.
func (s *search) lossBetween(i, k int) float64 {
	a, b := s.spots[i], s.spots[k]
	if !a.on || !b.on {
		return 0
	}
	return float64(overlap(s.grid.kinds[i].shape(a.v), a.x, a.y, s.grid.kinds[k].shape(b.v), b.x, b.y))
}

// lossOff is how badly a piece lies off the sheet.
func (s *search) lossOff(i int) float64 {
	at, k := s.spots[i], s.grid.kinds[i]
	if !at.on {
		return 0
	}
	sh := k.shape(at.v)
	loss := sh.sumAt(s.grid.offSum, s.grid.w, at.x, at.y, math.MaxInt64) / shallow
	if loss == 0 {
		loss = min(1, sh.sumAt(s.grid.offSum, s.grid.w, at.x, at.y, 1))
	}
	if k.avoid != nil {
		loss += sh.sumAt(k.avoid, s.grid.w, at.x, at.y, math.MaxInt64) / shallow
	}
	return float64(loss)
}

// loss is how badly a piece lies.
func (s *search) loss(i int) (sum float64) {
	if sum = s.lossOff(i); sum > 0 {
		return sum
	}
	for k := range s.spots {
		if k != i {
			if sum = s.lossBetween(i, k); sum > 0 {
				return sum
			}
		}
	}
	return 0
}

// weigh makes every conflict weigh more, the worse it is, and what is resolved
// less. It returns the sum of all.
func (s *search) weigh(chosen []int) (sum float64) {
	type pair struct {
		w    *float64
		twin *float64
		loss float64
	}
	var pairs []pair
	worst := 0.0
	for a, i := range chosen {
		l := s.lossOff(i)
		pairs = append(pairs, pair{&s.out[i], nil, l})
		sum, worst = sum+l, max(worst, l)
		for _, k := range chosen[a+1:] {
			l := s.lossBetween(i, k)
			pairs = append(pairs, pair{&s.weight[i][k], &s.weight[k][i], l})
			sum, worst = sum+l, max(worst, l)
		}
	}
	const more, worse, less = 1.8, 0.9, 0.85
	for _, p := range pairs {
		if p.loss > 0 {
			*p.w = min(heaviest, *p.w*(more+worse*p.loss/worst))
		} else {
			*p.w = max(1, *p.w*less)
		}
		if p.twin != nil {
			*p.twin = *p.w
		}
	}
	return sum
}
