package stock

import (
	"cmp"
	"math"
	"slices"

	"idletimber/craft/geom"
)

// Parted is wood made of parts, each alike all over: a panel that was glued up. The parts
// are convex, run anticlockwise and meet without a gap; beyond them all it is what the
// nearest is.
type Parted struct {
	parts []Patch
	boxes []geom.Bounds
}

// Glued is wood of parts.
func Glued(parts []Patch) Parted {
	g := Parted{parts, make([]geom.Bounds, len(parts))}
	for i, p := range parts {
		g.boxes[i] = p.Ring.Bounds()
	}
	return g
}

// Parts are what it is made of.
func (g Parted) Parts() []Patch { return g.parts }

// touching is how near a part a place counts as on it, mm.
const touching = 1e-6

// At is the part at a place; where two meet, the first.
func (g Parted) At(p geom.Point) Here {
	for i, part := range g.parts {
		if b := g.boxes[i]; p.X < b.MinX || p.X > b.MaxX || p.Y < b.MinY || p.Y > b.MaxY {
			continue
		}
		if part.Ring.Contains(p) {
			return part.Here
		}
	}
	best, near := Here{}, math.Inf(1) // on an edge, or beyond them all
	at := geom.Bounds{MinX: p.X, MaxX: p.X, MinY: p.Y, MaxY: p.Y}
	for i, part := range g.parts {
		if away := g.boxes[i].Apart(at); away > near {
			continue
		}
		if _, away := part.Ring.Nearest(p); away < near-touching {
			best, near = part.Here, away
		}
	}
	return best
}

// Along lists the parts from a to b; of a line along a joint, those of one side.
func (g Parted) Along(a, b geom.Point) (out []Stretch) {
	line := geom.Bounds{
		MinX: min(a.X, b.X), MaxX: max(a.X, b.X), MinY: min(a.Y, b.Y), MaxY: max(a.Y, b.Y),
	}
	for i, part := range g.parts {
		if apart(g.boxes[i], line) {
			continue
		}
		if from, to, ok := through(part.Ring, a, b); ok {
			out = append(out, Stretch{part.Here, a.Lerp(b, from), a.Lerp(b, to)})
		}
	}
	if len(out) == 0 { // beside them all
		return []Stretch{{g.At(a.Lerp(b, 0.5)), a, b}}
	}
	slices.SortStableFunc(out, func(s, t Stretch) int { return cmp.Compare(s.A.Sub(a).Len(), t.A.Sub(a).Len()) })
	return once(out, a)
}

// once drops what a line passes through twice, where it runs along a joint: one of both
// sides counts.
func once(line []Stretch, from geom.Point) []Stretch {
	reached, kept := 0.0, line[:0]
	for _, s := range line {
		begins, ends := s.A.Sub(from).Len(), s.B.Sub(from).Len()
		if ends <= reached+touching {
			continue
		}
		if begins < reached {
			s.A = s.A.Lerp(s.B, (reached-begins)/(ends-begins))
		}
		reached, kept = ends, append(kept, s)
	}
	return kept
}

// through is the share of the line from a to b that lies in a convex ring, which runs
// anticlockwise, from where to where; ok is false where it only touches it.
func through(r geom.Ring, a, b geom.Point) (from, to float64, ok bool) {
	d, long := b.Sub(a), b.Sub(a).Len()
	if long == 0 {
		return 0, 0, false
	}
	to = 1
	for i := range r {
		p, q := r.Edge(i)
		side := q.Sub(p)
		rate, at := side.X*d.Y-side.Y*d.X, side.X*(a.Y-p.Y)-side.Y*(a.X-p.X) // within where at + rate·t ≥ 0
		switch {
		case rate > 0:
			from = max(from, -at/rate)
		case rate < 0:
			to = min(to, -at/rate)
		case at < 0:
			return 0, 0, false
		}
	}
	return from, to, (to-from)*long > touching
}

// Over lists the parts of a region.
func (g Parted) Over(r geom.Ring) (out []Patch) {
	r = corners(r)
	box := r.Bounds()
	for i, part := range g.parts {
		if apart(g.boxes[i], box) {
			continue
		}
		if !meets(r, g.boxes[i]) { // all of the part, or nothing
			if r.Contains(part.Ring[0]) {
				out = append(out, part)
			}
			continue
		}
		if shared := geom.Clip(r, part.Ring); len(shared) > 2 && shared.Area() > touching {
			out = append(out, Patch{part.Here, shared})
		}
	}
	if len(out) == 0 && len(r) > 0 {
		return []Patch{{g.At(r.Centroid()), r}}
	}
	return out
}

// apart reports boxes that do not touch.
func apart(a, b geom.Bounds) bool {
	return a.MinX > b.MaxX || b.MinX > a.MaxX || a.MinY > b.MaxY || b.MinY > a.MaxY
}

// corners is a ring without the points on its straight sides.
func corners(r geom.Ring) geom.Ring {
	out := make(geom.Ring, 0, len(r))
	for i, p := range r {
		before := r[(i+len(r)-1)%len(r)]
		d, e := p.Sub(before), r[(i+1)%len(r)].Sub(p)
		if turn := d.X*e.Y - d.Y*e.X; turn != 0 || d.X*e.X+d.Y*e.Y < 0 {
			out = append(out, p)
		}
	}
	if len(out) < 3 {
		return r
	}
	return out
}

// meets reports an edge of a ring that may pass through a box.
func meets(r geom.Ring, box geom.Bounds) bool {
	for i := range r {
		a, b := r.Edge(i)
		if max(a.X, b.X) >= box.MinX && min(a.X, b.X) <= box.MaxX && max(a.Y, b.Y) >= box.MinY &&
			min(a.Y, b.Y) <= box.MaxY {
			return true
		}
	}
	return false
}

// Seen turns the parts into a board's frame.
func (g Parted) Seen(from geom.Placement) Grain {
	parts := make([]Patch, len(g.parts))
	for i, p := range g.parts {
		ring := p.Ring.Map(from.In)
		if ring.SignedArea() < 0 { // turned over
			slices.Reverse(ring)
		}
		parts[i] = Patch{Here(Uniform(p.Here).Seen(from).(Uniform)), ring}
	}
	return Glued(parts)
}
