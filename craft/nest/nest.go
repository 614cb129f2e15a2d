// Package nest lays pieces of any outline on a sheet of any outline, with holes
// in it, so that the worth of what is laid is as large as can be found. Pieces
// nest in each other's hollows and may be turned end for end, turned over and
// tilted. Lengths are in mm, angles in degrees anticlockwise.
//
// The search keeps all pieces on the sheet, lets them overlap, and moves them
// one at a time to where they overlap least; what stays in conflict weighs more
// and more until it gives way (guided local search on a raster). What is free of
// overlap on the raster is then settled exactly. Several such searches, workers,
// run side by side and go on from the best of all.
package nest

import (
	"math"
	"math/rand/v2"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
)

// Sheet is what is laid on.
type Sheet struct {
	Outline geom.Ring
	Holes   []geom.Ring // that no piece may touch
}

// Piece is what is laid: one ring, or several that are laid as one.
type Piece struct {
	Parts []geom.Ring // in its own frame
	Worth float64
	Must  bool      // laid before any that need not be
	Turns []float64 // angles that it may have; none stands for 0
	Tilt  float64   // by how much it may differ from them
	Flips bool      // it may be turned over
	Poses []Pose    // the places of a piece whose outline depends on its place, instead of the above
	Avoid []geom.Ring
	// Lures are places that draw the piece, in groups: one piece at a place of each
	// is enough. They are tried before those that the search finds.
	Lures [][]geom.Placement
}

// Pose is a place of a piece whose outline depends on it.
type Pose struct {
	At    geom.Placement
	Parts []geom.Ring // in the sheet's frame
}

// Problem is a sheet and what is to be laid on it. Every outline is in mm in a
// frame of its own; a [geom.Placement] carries a piece to the sheet's frame.
//
//	sheet's frame                    piece's frame
//	+----------------------------+
//	|  +------+   +--+   hole    |        y
//	|  |  0   |   |1 |    ( )    |        |
//	|  +------+   |  |           |     +--+--+
//	|     Apart > +--+   ~Soft~  |     |  +--|-- x
//	+----------------------------+     +-----+
//
// The worth of a layout is that of the pieces that are laid, and Extra; pieces
// that Must be laid come before any worth.
type Problem struct {
	Sheet  Sheet
	Pieces []Piece
	Apart  float64     // least distance between two pieces
	Soft   []geom.Ring // places that are better left alone
	// Bad, where given, names those of a layout's pieces that must not lie where
	// they do, for reasons that their outlines do not show.
	Bad func(Layout) []int
	// Extra, where given, is worth that a layout has beyond that of its pieces, at
	// most Most.
	Extra func(Layout) float64
	Most  float64
	// Cuts, where given, counts the cuts that a layout takes.
	Cuts  func(Layout) int
	Watch craft.Watch // asked at every step; the search ends with its error
}

// Laid is one piece on the sheet.
type Laid struct {
	Piece int
	At    geom.Placement
	Pose  int // of a piece that has poses; otherwise −1
}

// Layout is a way to lay pieces in which nothing is in conflict.
type Layout struct {
	Laid  []Laid // by piece
	Must  int    // how many of those laid must be
	Worth float64
	Rest  float64 // length of the sheet that is left whole at its better end
	Cuts  int
}

// alike is by how much two layouts may differ in what they leave whole, mm, and
// still count as equal.
const alike = 10

// Better orders layouts: those that must be laid, then worth, then what is left
// whole, by whole centimetres, then fewer cuts.
func (l Layout) Better(m Layout) bool {
	if l.Must != m.Must {
		return l.Must > m.Must
	}
	if d := l.Worth - m.Worth; math.Abs(d) > 1e-9*max(l.Worth, m.Worth) {
		return d > 0
	}
	if a, b := math.Floor(l.Rest/alike), math.Floor(m.Rest/alike); a != b {
		return a > b
	}
	return l.Cuts < m.Cuts
}

// Step is how far a search has come.
type Step struct {
	Moves  int // tried so far
	Better bool
	Best   Layout
}

// stepMoves is after how many moves a search reports at the latest.
const stepMoves = 50

// standing is what a search has found.
type standing struct {
	first Layout // what the pieces come to as they come
	best  Layout // of the rounds
	found bool
}

// search is a search under way.
type search struct {
	Problem
	rng   *rand.Rand
	yield func(Step) bool
	over  bool
	moves int
	told  int
	standing
	from     []Laid  // what it begins with, if nothing in it is in conflict
	follows  bool    // another search of the same problem lays pieces as they come
	squeezed bool    // what is looked for leaves more of the sheet whole
	keen     bool    // what is fitted goes to where it is drawn to
	stale    int     // rounds since the last better one
	tidied   float64 // worth of the layout that was tidied last
	seen     sighting
	stuck    int // the piece that was the farthest from lying free when settling ended

	ground
	grid   *grid // in use
	spots  []spot
	weight [][]float64
	out    []float64 // weight of what lies off the sheet
}

// spot is where a piece lies on the raster.
type spot struct {
	on   bool
	v    int // variant
	x, y int
}

// ground is what a search is made on. Searches of one problem share it.
type ground struct {
	coarse *grid
	fine   *grid
	sheet  geom.Index
	holes  []body
	avoid  [][]geom.Index // of each piece
	area   []float64      // of each piece
}

func (p Problem) ground() (g ground) {
	box := p.Sheet.Outline.Bounds()
	g.coarse, g.fine = newGrid(p, coarsely(box)), newGrid(p, finely(box))
	g.sheet = geom.NewIndex(p.Sheet.Outline)
	for _, h := range p.Sheet.Holes {
		g.holes = append(g.holes, newBody([]geom.Ring{h}, geom.Placement{}))
	}
	g.avoid = make([][]geom.Index, len(p.Pieces))
	for i, piece := range p.Pieces {
		for _, r := range piece.Avoid {
			g.avoid[i] = append(g.avoid[i], geom.NewIndex(r.Dense(spread)))
		}
		g.coarse.add(piece)
		g.fine.add(piece)
		g.area = append(g.area, g.fine.kinds[i].area())
	}
	return g
}

// newSearch is a search that is still to be run.
func newSearch(p Problem, on ground, seed uint64) *search {
	s := &search{Problem: p, ground: on, rng: rand.New(rand.NewPCG(seed, 0x1d1e))}
	s.coarse, s.fine = on.coarse.own(), on.fine.own()
	s.grid = s.fine
	n := len(p.Pieces)
	s.spots, s.out, s.weight = make([]spot, n), make([]float64, n), make([][]float64, n)
	for i := range p.Pieces {
		s.weight[i], s.out[i] = make([]float64, n), 1
		for k := range n {
			s.weight[i][k] = 1
		}
	}
	return s
}

// tell reports a step; false when the search is broken off.
func (s *search) tell(better bool) bool {
	if !s.over && (better || s.moves-s.told >= stepMoves) {
		s.told = s.moves
		s.over = !s.yield(Step{Moves: s.moves, Better: better, Best: s.shown()}) || s.Watch.Ask() != nil
	}
	return !s.over
}

// shown is the best of all so far.
func (s *search) shown() Layout {
	if !s.found || s.first.Better(s.best) {
		return s.first
	}
	return s.best
}

// adopt goes on from what another search of the same problem has found, where it is better: once it has found something
// itself, which may be another way to lay much the same.
func (s *search) adopt(o standing) {
	if !s.found {
		return
	}
	if o.first.Better(s.first) {
		s.first = o.first
	}
	if o.found && o.best.Better(s.best) {
		s.best = o.best
	}
}

// run is the search: first what fits as it comes, then rounds in which more
// pieces than lie free are put on the sheet and sorted out.
func (s *search) run(yield func(Step) bool) {
	s.yield = yield
	all := make([]int, 0, len(s.Pieces))
	for i := range s.Pieces {
		if s.grid.kinds[i].usable() {
			all = append(all, i)
		}
	}
	if len(all) == 0 {
		s.yield(Step{})
		return
	}
	if !s.keep(s.from) && !s.follows {
		s.greedy(all)
	}
	// The rounds begin by themselves: from there they would seldom get away.
	s.first, s.best, s.found = s.best, Layout{}, false
	for round := 0; !s.over; round++ {
		if s.found && (len(s.best.Laid) == len(all) && round%2 == 1 || s.stale >= rest && round%6 == 5) {
			s.squeeze()
			continue
		}
		worth := s.best.Worth
		s.stale++
		if s.rough(s.choose(all, round)) {
			s.use(s.fine)
			s.resolve(s.seen.in, 60)
		}
		if s.best.Worth > worth {
			s.stale = 0
		}
		if len(s.best.Laid) == len(all) || s.stale >= rest {
			s.tidy()
		}
		s.moves += stepMoves // a round that moves nothing is reported too
		s.tell(false)
	}
}

// sighting is the most worth that lay free on the coarse raster in a round, with what conflicts with it left out.
type sighting struct {
	Layout
	in    []int
	spots []spot
}

// rough sorts the chosen pieces out on the coarse raster. It leaves on it what lay free at the best moment, and tells
// whether that would be worth more than the best layout: what comes free is seldom all.
func (s *search) rough(chosen []int, anew bool) bool {
	s.use(s.coarse)
	s.seen.Layout, s.seen.in = Layout{Must: -1}, nil
	s.arrange(chosen, anew)
	s.resolve(chosen, 200)
	if s.over || len(s.seen.in) == 0 {
		return false
	}
	copy(s.spots, s.seen.spots)
	for i := range s.spots {
		s.spots[i].on = slices.Contains(s.seen.in, i)
	}
	s.seen.Worth += s.Most
	s.seen.Rest = math.Inf(1)
	return !s.found || s.seen.Better(s.best)
}

// see notes what lies free at this moment, if it is the best of the round.
func (s *search) see(chosen []int) {
	in, _ := s.free(chosen)
	if l := s.worthOf(in); l.Better(s.seen.Layout) {
		s.seen = sighting{l, in, append(s.seen.spots[:0], s.spots...)}
	}
}

// rest is after how many rounds without a better layout what is left whole is looked at.
const rest = 60

// squeeze looks for the best layout again on less of the sheet, so that more of
// it is left whole at one end.
func (s *search) squeeze() {
	box := s.Sheet.Outline.Bounds()
	from, to := box.MaxX, box.MinX
	var chosen []int
	for _, l := range s.best.Laid {
		b := s.bodyOf(l)
		for _, r := range b.rings {
			from, to = min(from, r.Bounds().MinX), max(to, r.Bounds().MaxX)
		}
		chosen = append(chosen, l.Piece)
	}
	slices.Sort(chosen)
	by := (0.02 + 0.13*s.rng.Float64()) * (to - from)
	if from-box.MinX > box.MaxX-to { // where more is whole already
		from, to = from+by, math.Inf(1)
	} else {
		from, to = math.Inf(-1), to-by
	}
	s.squeezed = true
	s.coarse.narrow(from, to)
	s.fine.narrow(from, to)
	s.use(s.coarse)
	s.arrange(chosen, s.rng.IntN(2) == 0)
	s.resolve(chosen, 60)
	s.use(s.fine)
	s.resolve(chosen, 40)
	s.squeezed = false
	s.coarse.narrow(math.Inf(-1), math.Inf(1))
	s.fine.narrow(math.Inf(-1), math.Inf(1))
	s.moves += stepMoves
	s.tell(false)
}

// use changes to another raster.
func (s *search) use(g *grid) {
	if g == s.grid {
		return
	}
	for i, at := range s.spots {
		if at.on {
			s.spots[i] = g.spotOf(s.grid.placement(i, at))
		}
	}
	s.grid = g
}

// room is the share of the sheet that pieces can fill at the most.
const room = 0.97

// Of so many rounds the first begins anew, and the one of this number puts a piece that was left out in the place of
// others; the rest go on from the best layout with a little more.
const (
	cycle     = 4
	exchanges = 1
)

// choose picks what a round puts on the sheet, and whether it begins anew: all, where there is room, or all but a
// little; otherwise the best so far and a little more.
func (s *search) choose(all []int, round int) (chosen []int, anew bool) {
	anew = round%cycle == 0 || !s.found || len(s.best.Laid) == len(all)
	if !anew && round%cycle == exchanges {
		if chosen = s.exchanged(all); chosen != nil {
			return chosen, false
		}
	}
	var sum float64
	for _, i := range all {
		sum += s.area[i]
	}
	laid := map[int]bool{}
	for _, l := range s.best.Laid {
		laid[l.Piece] = true
	}
	most := room * s.grid.free
	switch {
	case sum <= most && anew:
		return all, true
	case sum <= most:
		return s.spare(all), false
	}
	most *= 0.8 + 0.2*s.rng.Float64()
	order := slices.Clone(all)
	s.rng.Shuffle(len(order), func(i, k int) { order[i], order[k] = order[k], order[i] })
	rank := make(map[int]float64, len(order))
	for _, i := range order {
		r := s.Pieces[i].Worth / max(s.area[i], 1) * (0.7 + 0.6*s.rng.Float64())
		if laid[i] {
			r *= 1.3
		}
		if s.Pieces[i].Must {
			r = math.Inf(1)
		}
		rank[i] = r
	}
	slices.SortStableFunc(order, func(a, b int) int {
		switch {
		case rank[a] > rank[b]:
			return -1
		case rank[a] < rank[b]:
			return 1
		}
		return 0
	})
	sum = 0
	for _, i := range order {
		if sum+s.area[i] <= most || s.Pieces[i].Must {
			chosen = append(chosen, i)
			sum += s.area[i]
		}
	}
	slices.Sort(chosen)
	return chosen, anew
}

// spare leaves out of all pieces some that are worth less together than what the best layout leaves out.
func (s *search) spare(all []int) (out []int) {
	left := -s.best.Worth
	for _, i := range all {
		left += s.Pieces[i].Worth
	}
	left *= s.rng.Float64()
	order := slices.Clone(all)
	s.rng.Shuffle(len(order), func(i, k int) { order[i], order[k] = order[k], order[i] })
	for _, i := range order {
		if worth := s.Pieces[i].Worth; worth < left && !s.Pieces[i].Must {
			left -= worth
		} else {
			out = append(out, i)
		}
	}
	slices.Sort(out)
	return out
}

// exchanged is the best layout with a piece that it lacks in the place of one or two that are less good to have; nil
// where no exchange pays.
func (s *search) exchanged(all []int) (chosen []int) {
	var lying, lacking []int
	for _, l := range s.best.Laid {
		lying = append(lying, l.Piece)
	}
	for _, i := range all {
		if !slices.Contains(lying, i) {
			lacking = append(lacking, i)
		}
	}
	type exchange struct{ in, out, too int }
	var pay []exchange
	for _, in := range lacking {
		better := s.worthOf([]int{in})
		for n, a := range lying {
			if better.Better(s.worthOf([]int{a})) {
				pay = append(pay, exchange{in, a, a})
			}
			for _, b := range lying[:n] {
				if better.Better(s.worthOf([]int{a, b})) {
					pay = append(pay, exchange{in, a, b})
				}
			}
		}
	}
	if len(pay) == 0 {
		return nil
	}
	x := pay[s.rng.IntN(len(pay))]
	chosen = append(slices.DeleteFunc(lying, func(i int) bool { return i == x.out || i == x.too }), x.in)
	slices.Sort(chosen)
	return chosen
}

// arrange puts the chosen pieces on the sheet: from the best layout, or anew
// where they overlap least, the largest first.
func (s *search) arrange(chosen []int, anew bool) {
	for i := range s.spots {
		s.spots[i].on = false
		s.out[i] = 1
		for k := range s.weight[i] {
			s.weight[i][k] = 1
		}
	}
	if !anew {
		for _, l := range s.best.Laid {
			if slices.Contains(chosen, l.Piece) {
				s.spots[l.Piece] = s.grid.spotOf(l)
			}
		}
	}
	order := slices.Clone(chosen)
	size := make([]float64, len(s.Pieces))
	for _, i := range order {
		size[i] = s.area[i] * (0.6 + 0.8*s.rng.Float64())
	}
	slices.SortStableFunc(order, func(a, b int) int {
		if size[a] > size[b] {
			return -1
		}
		return 1
	})
	for _, i := range order {
		if s.over {
			return
		}
		if !s.spots[i].on {
			s.seek(i)
		}
	}
}

// greedy lays what fits as it comes, along the sheet from its butt end, a few
// times in different orders.
func (s *search) greedy(all []int) {
	const tries, drawn = 3, 5
	for try := range tries + drawn {
		if s.keen = try >= tries; s.keen && s.Most == 0 {
			break
		}
		order := slices.Clone(all)
		key := make([]float64, len(s.Pieces))
		for _, i := range order {
			key[i] = s.area[i]
			if try > 0 {
				key[i] *= 0.6 + 0.8*s.rng.Float64()
			}
			switch {
			case len(s.Pieces[i].Poses) == 1: // it lies there or not at all
				key[i] += 2e9
			case s.Pieces[i].Must:
				key[i] += 1e9
			}
		}
		slices.SortStableFunc(order, func(a, b int) int {
			switch {
			case key[a] > key[b]:
				return -1
			case key[a] < key[b]:
				return 1
			}
			return 0
		})
		for i := range s.spots {
			s.spots[i].on = false
		}
		for _, i := range order {
			s.fit(i)
			if s.over {
				return
			}
		}
		s.offer()
		for range order { // what is in the way the most is left out, until the others lie free
			if s.found {
				break
			}
			s.spots[s.stuck].on = false
			s.offer()
		}
	}
	s.keen = false
}

// resolve moves what overlaps, the heavier in conflict the more, until nothing
// does or no more is won. It reports whether everything lies free.
func (s *search) resolve(chosen []int, most int) bool {
	const eased = 0.9 // of the conflict when it was last looked at what lies free
	least, salvaged, idle := math.Inf(1), math.Inf(1), 0
	for range most {
		order := slices.Clone(chosen)
		s.rng.Shuffle(len(order), func(i, k int) { order[i], order[k] = order[k], order[i] })
		for _, i := range order {
			if s.loss(i) == 0 {
				continue
			}
			s.seek(i)
			s.moves++
			if !s.tell(false) {
				return false
			}
		}
		sum := s.weigh(chosen)
		if s.grid == s.coarse && !s.squeezed {
			s.see(chosen)
		}
		if s.grid == s.fine && (sum == 0 || sum < eased*salvaged) {
			salvaged = sum
			s.salvage(chosen)
		}
		if s.over || sum == 0 {
			return sum == 0
		}
		if idle++; sum < 0.98*least {
			least, idle = sum, 0
		}
		if idle > 25 {
			return false
		}
	}
	return false
}

// tidy draws a new best layout toward one end, so that more is left whole.
func (s *search) tidy() {
	if !s.found || s.tidied == s.best.Worth {
		return
	}
	s.tidied = s.best.Worth
	for i := range s.spots {
		s.spots[i].on = false
	}
	var order []int
	for _, l := range s.best.Laid {
		s.spots[l.Piece] = s.grid.spotOf(l)
		order = append(order, l.Piece)
	}
	for range 2 {
		slices.SortStableFunc(order, func(a, b int) int { return s.spots[a].x - s.spots[b].x })
		for _, i := range order {
			was := s.spots[i]
			s.spots[i].on = false
			if !s.fit(i) || s.spots[i].x > was.x {
				s.spots[i] = was
			}
			if s.over {
				return
			}
		}
		s.offer()
	}
}
