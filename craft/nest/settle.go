package nest

import (
	"math"
	"slices"

	"idletimber/craft/geom"
)

// Grazing is how far a piece may lie off the sheet by rounding, mm.
const Grazing = 0.01 // of pieces that are laid freely

// alongEdge is by how much a piece may lie off it that has places of its own, and may follow the sheet's line: each is
// drawn as finely as [geom.Fine].
const alongEdge = 2 * geom.Fine

// inward is how far past the sheet's line a piece is moved that lies over it, so that it soon lies on the sheet, mm.
const inward = 0.05

// rounding is how much closer than apart two pieces may come, mm.
const rounding = 0.005

// body is a piece where it lies exactly.
type body struct {
	laid  Laid
	own   []geom.Ring // in its own frame
	rings []geom.Index
	fixed bool
	moves int // how often it was moved

	tilt, least, most float64 // how far it may be tilted, and between which angles
	gyration          float64 // its radius of gyration, squared
}

// spread is how far apart the points lie by which bodies are compared, mm.
const spread = 10

func newBody(rings []geom.Ring, at geom.Placement) body {
	b := body{fixed: true, laid: Laid{At: at}}
	for _, r := range rings {
		b.rings = append(b.rings, geom.NewIndex(r.Dense(spread)))
	}
	return b
}

func (s *search) bodyOf(l Laid) body {
	p := s.Pieces[l.Piece]
	if l.Pose >= 0 {
		b := newBody(p.Poses[l.Pose].Parts, l.At)
		b.laid = l
		return b
	}
	b := body{laid: l, tilt: p.Tilt}
	var size float64
	for _, r := range p.Parts {
		b.own = append(b.own, r.Dense(spread))
		for _, q := range r {
			size = max(size, q.Len())
		}
	}
	b.gyration = size * size / 3
	turn, off := 0.0, math.Inf(1)
	for _, t := range p.Turns {
		if d := math.Abs(t - l.At.Angle); d < off {
			turn, off = t, d
		}
	}
	b.least, b.most = turn-p.Tilt, turn+p.Tilt
	b.place()
	return b
}

// place draws the body where it lies.
func (b *body) place() {
	b.rings = b.rings[:0]
	for _, r := range b.own {
		b.rings = append(b.rings, geom.NewIndex(r.Map(b.laid.At.Out)))
	}
}

// contact is the worst place at which a body violates something: where, and by
// how much and which way it should move there, mm.
type contact struct{ at, move geom.Point }

func (c contact) worst() float64 { return c.move.Len() }

// touch is how a moving body violates another that it should keep so far apart
// from.
func touch(a, b geom.Index, want float64) (worst contact) {
	boxA, boxB := a.Bounds(), b.Bounds()
	if boxA.Apart(boxB) > want {
		return worst
	}
	most := 0.0
	look := func(points, ring geom.Index, box geom.Bounds, sign float64) {
		for _, p := range points.Ring {
			if -box.Depth(p) > want {
				continue
			}
			far, inside := want, box.Depth(p) > 0 && ring.Contains(p)
			if inside {
				far = math.Inf(1)
			}
			q, d := ring.Within(far, p)
			way := p.Sub(q)
			short := want - d
			if inside {
				way, short = q.Sub(p), want+d
			}
			if short > most {
				if l := way.Len(); l > 1e-9 {
					most, worst = short, contact{p, way.Scale(sign * short / l)}
				}
			}
		}
	}
	look(a, b, boxB, 1)
	look(b, a, boxA, -1)
	if most == 0 { // a crack may cut through a corner, with no point of either in the other
		if at, ok := a.Crossing(b); ok {
			centre := geom.Point{X: boxA.MinX + boxA.MaxX, Y: boxA.MinY + boxA.MaxY}.Scale(0.5)
			way := centre.Sub(at)
			worst = contact{at, way.Scale(cutsThrough / max(way.Len(), cutsThrough))}
		}
	}
	return worst
}

// cutsThrough is how far at a time a body is moved off what cuts through one of its corners, mm.
const cutsThrough = 0.5

// offSheet is how a body lies off the sheet by more than it may.
func (s *search) offSheet(b geom.Index, grazing float64) (worst contact) {
	most := grazing
	for _, p := range b.Ring {
		if s.sheet.Contains(p) {
			continue
		}
		if q, d := s.sheet.Nearest(p); d > most {
			most, worst = d, contact{p, q.Sub(p).Scale((d + inward) / d)}
		}
	}
	box := b.Bounds()
	for _, q := range s.sheet.Ring { // a corner of the sheet that pokes in between
		if box.Depth(q) <= grazing || !b.Contains(q) {
			continue
		}
		if p, d := b.Nearest(q); d > most {
			most, worst = d, contact{q, q.Sub(p)}
		}
	}
	return worst
}

// ease is the share of the inverse mass of a body at a contact that lies in
// translation and in turning.
func (b *body) ease(c contact) (whole, turn float64) {
	if b.fixed {
		return 0, 0
	}
	l := c.worst()
	r := c.at.Sub(geom.Point{X: b.laid.At.X, Y: b.laid.At.Y})
	turn = (r.X*c.move.Y - r.Y*c.move.X) / l / b.gyration
	if b.tilt == 0 {
		turn = 0
	}
	return 1 + turn*turn*b.gyration, turn
}

// give moves a body as a contact asks, its share of it.
func (b *body) give(c contact, share float64) {
	whole, turn := b.ease(c)
	if whole == 0 || share == 0 {
		return
	}
	b.moves++
	b.laid.At.X += share * c.move.X
	b.laid.At.Y += share * c.move.Y
	if turn != 0 {
		angle := b.laid.At.Angle + share*c.worst()*turn*180/math.Pi
		b.laid.At.Angle = min(max(angle, b.least), b.most)
	}
	b.place()
}

// Settling moves bodies as if they were pushed apart, contact by contact.
const (
	settleRounds = 60
	over         = 1.1 // by how much more than asked, so that it comes to an end
	hopeless     = 8.5 // mm by the rounds so far: of what comes free, 97 % is never off by more
)

// settle moves what lies nearly free until it lies free exactly. It reports
// whether it could.
func (s *search) settle(laid []Laid) ([]Laid, bool) {
	bodies := make([]body, len(laid))
	for i, l := range laid {
		bodies[i] = s.bodyOf(l)
	}
	// What lies as it did when it was found clear is clear still.
	type state struct{ mine, theirs int } // moves by then
	clear := make([]state, len(bodies)*len(bodies))
	for round := range settleRounds {
		worst := 0.0
		for i := range bodies {
			b := &bodies[i]
			if at := &clear[i*len(bodies)+i]; at.mine != b.moves+1 {
				off := s.ontoSheet(b)
				if off > worst {
					worst, s.stuck = off, b.laid.Piece
				}
				if off == 0 {
					at.mine = b.moves + 1
				}
			}
			for k := i + 1; k < len(bodies); k++ {
				o := &bodies[k]
				at, now := &clear[i*len(bodies)+k], state{b.moves + 1, o.moves + 1}
				if *at == now {
					continue
				}
				short := s.part(b, o)
				if short > worst {
					worst, s.stuck = short, o.laid.Piece
				}
				if short == 0 {
					*at = now
				}
			}
		}
		if worst <= 0 {
			out := make([]Laid, len(bodies))
			for i := range bodies {
				out[i] = bodies[i].laid
			}
			return out, true
		}
		if worst > hopeless/float64(max(round, 1)) {
			return nil, false
		}
	}
	return nil, false
}

// ontoSheet moves a body onto the sheet, off its holes and off what it avoids, and tells how far it was from being so,
// mm.
func (s *search) ontoSheet(b *body) (worst float64) {
	ease := func(c contact) {
		l := c.worst()
		worst = max(worst, l)
		if l > 0 {
			whole, _ := b.ease(c)
			b.give(c, over/max(whole, 1))
		}
	}
	grazing := Grazing
	if len(b.own) == 0 {
		grazing = alongEdge
	}
	for part := range b.rings {
		ease(s.offSheet(b.rings[part], grazing))
		for _, h := range s.holes {
			ease(touch(b.rings[part], h.rings[0], rounding))
		}
		for _, a := range s.avoid[b.laid.Piece] {
			ease(touch(b.rings[part], a, rounding))
		}
	}
	return worst
}

// part moves two bodies apart, and tells how far they were from being so, mm.
func (s *search) part(b, o *body) (worst float64) {
	for part := range b.rings {
		for other := range o.rings {
			c := touch(b.rings[part], o.rings[other], s.Apart+rounding)
			l := c.worst()
			if l <= rounding {
				continue
			}
			worst = max(worst, l)
			mine, _ := b.ease(c)
			theirs, _ := o.ease(c)
			if mine+theirs == 0 {
				continue
			}
			b.give(c, over/(mine+theirs))
			o.give(contact{c.at, c.move.Scale(-1)}, over/(mine+theirs))
		}
	}
	return worst
}

// free is what lies in no conflict on the raster when as little worth as can be
// is taken away.
func (s *search) free(chosen []int) (in, out []int) {
	n := len(s.Pieces)
	conflict := make([][]bool, n)
	degree := make([]int, n)
	gone := make([]bool, n)
	for _, i := range chosen {
		conflict[i] = make([]bool, n)
		gone[i] = !s.spots[i].on || s.lossOff(i) > s.little(i, i)
	}
	for a, i := range chosen {
		for _, k := range chosen[a+1:] {
			if !gone[i] && !gone[k] && s.lossBetween(i, k) > s.little(i, k) {
				conflict[i][k], conflict[k][i] = true, true
				degree[i]++
				degree[k]++
			}
		}
	}
	cost := func(i int) float64 {
		c := s.Pieces[i].Worth / float64(degree[i])
		if s.Pieces[i].Must {
			c += 1e12
		}
		if len(s.Pieces[i].Poses) == 1 {
			c += 1e13
		}
		return c
	}
	for {
		drop := -1
		for _, i := range chosen {
			if !gone[i] && degree[i] > 0 && (drop < 0 || cost(i) < cost(drop)) {
				drop = i
			}
		}
		if drop < 0 {
			break
		}
		gone[drop] = true
		for _, k := range chosen {
			if conflict[drop][k] && !gone[k] {
				degree[k]--
			}
		}
		degree[drop] = 0
	}
	for _, i := range chosen {
		if gone[i] {
			out = append(out, i)
		} else {
			in = append(in, i)
		}
	}
	return in, out
}

// little is an overlap of two pieces that settling may well undo, in cells: half
// a millimetre along half of the smaller one.
func (s *search) little(i, k int) float64 {
	const deep = 0.5
	a, b := s.grid.kinds[i].shape(s.spots[i].v), s.grid.kinds[k].shape(s.spots[k].v)
	return deep / s.grid.size * float64(min(a.w, a.h, b.w, b.h)) / 2
}

// worthOf sums up pieces.
func (s *search) worthOf(pieces []int) (l Layout) {
	for _, i := range pieces {
		l.Worth += s.Pieces[i].Worth
		if s.Pieces[i].Must {
			l.Must++
		}
	}
	return l
}

// salvage takes what lies free of what is being sorted out, if that is worth
// more than the best so far, and lays what it can of the rest about it.
func (s *search) salvage(chosen []int) {
	in, out := s.free(chosen)
	if len(in) == 0 {
		return
	}
	could := s.worthOf(in)
	could.Worth += s.Most
	if s.squeezed {
		could.Rest = math.Inf(1)
	}
	if s.found && !could.Better(s.best) {
		// What was taken out may fit elsewhere: looked into where that would pay.
		smallest := math.Inf(1)
		for i := range s.Pieces {
			if !slices.Contains(in, i) {
				smallest = min(smallest, s.Pieces[i].Worth)
			}
		}
		could.Worth += smallest
		if !could.Better(s.best) {
			return
		}
	}
	kept := slices.Clone(s.spots)
	for i := range s.spots {
		if !slices.Contains(in, i) {
			s.spots[i].on = false
		}
	}
	rest := slices.Clone(out)
	for i := range s.Pieces {
		if !slices.Contains(in, i) && !slices.Contains(out, i) {
			rest = append(rest, i)
		}
	}
	slices.SortStableFunc(rest, func(a, b int) int {
		if s.Pieces[a].Worth > s.Pieces[b].Worth {
			return -1
		}
		return 1
	})
	for _, i := range rest {
		if s.grid.kinds[i].usable() && !s.over {
			s.fit(i)
		}
	}
	s.offer()
	s.spots = kept
}

// offer settles what lies on the raster exactly and keeps it when it is better
// than the best so far.
func (s *search) offer() {
	var laid []Laid
	var pieces []int
	for i, at := range s.spots {
		if at.on {
			laid = append(laid, s.grid.placement(i, at))
			pieces = append(pieces, i)
		}
	}
	could := s.worthOf(pieces)
	could.Worth += s.Most
	could.Rest = math.Inf(1)
	if len(laid) == 0 || s.found && !could.Better(s.best) {
		return
	}
	s.keep(laid)
}

// keep settles a layout exactly and keeps it when it is better than the best so far; it tells whether it is.
func (s *search) keep(laid []Laid) bool {
	if len(laid) == 0 {
		return false
	}
	settled, ok := s.settle(laid)
	if !ok {
		return false
	}
	l := s.layout(settled)
	if s.Bad != nil {
		for bad := s.Bad(l); len(bad) > 0; bad = s.Bad(l) {
			l = s.layout(
				slices.DeleteFunc(slices.Clone(l.Laid), func(o Laid) bool { return slices.Contains(bad, o.Piece) }),
			)
			if len(l.Laid) == 0 {
				return false
			}
		}
	}
	if s.Extra != nil {
		l.Worth += s.Extra(l)
	}
	if s.Cuts != nil {
		l.Cuts = s.Cuts(l)
	}
	if s.found && !l.Better(s.best) {
		return false
	}
	s.best, s.found = l, true
	s.tell(!s.first.Better(l))
	return true
}

// layout sums up what is laid.
func (s *search) layout(laid []Laid) Layout {
	pieces := make([]int, len(laid))
	box := s.Sheet.Outline.Bounds()
	lo, hi := box.MaxX, box.MinX
	for i, l := range laid {
		pieces[i] = l.Piece
		for _, r := range s.bodyOf(l).rings {
			b := r.Bounds()
			lo, hi = min(lo, b.MinX), max(hi, b.MaxX)
		}
	}
	l := s.worthOf(pieces)
	l.Laid = laid
	l.Rest = max(0, lo-box.MinX, box.MaxX-hi)
	return l
}
