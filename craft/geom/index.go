package geom

import (
	"iter"
	"math"
)

// Index answers the questions that are asked of one ring many times. It keeps
// the ring's sides in runs with a box round each, so that far ones are passed
// over.
type Index struct {
	Ring
	runs []Bounds
}

// run is how many sides share a box.
const run = 8

// NewIndex makes an index of a ring.
func NewIndex(r Ring) Index {
	ix := Index{Ring: r, runs: make([]Bounds, 0, len(r)/run+1)}
	for from := 0; from < len(r); from += run {
		box := Ring(r[from:min(from+run, len(r))]).Bounds()
		p := r[min(from+run, len(r))%len(r)]
		ix.runs = append(
			ix.runs,
			Bounds{min(box.MinX, p.X), min(box.MinY, p.Y), max(box.MaxX, p.X), max(box.MaxY, p.Y)},
		)
	}
	return ix
}

// Contains reports whether p lies inside.
func (ix Index) Contains(p Point) bool {
	inside := false
	for k, box := range ix.runs {
		if p.Y < box.MinY || p.Y > box.MaxY || p.X > box.MaxX { // no side to the right of p at its height
			continue
		}
		for i := k * run; i < min((k+1)*run, len(ix.Ring)); i++ {
			if a, b := ix.Edge(i); rightOf(p, a, b) {
				inside = !inside
			}
		}
	}
	return inside
}

// Nearest is the point of the ring's line nearest to p, and its distance.
func (ix Index) Nearest(p Point) (Point, float64) { return ix.Within(math.Inf(1), p) }

// Within is the point of the ring's line nearest to p, and its distance, if that is less than far; otherwise the
// distance is infinite.
func (ix Index) Within(far float64, p Point) (Point, float64) {
	best, least, found := Point{}, far*far, false
	for k, box := range ix.runs {
		dx, dy := max(0, box.MinX-p.X, p.X-box.MaxX), max(0, box.MinY-p.Y, p.Y-box.MaxY)
		if dx*dx+dy*dy >= least {
			continue
		}
		for i := k * run; i < min((k+1)*run, len(ix.Ring)); i++ {
			a, b := ix.Edge(i)
			q := NearestOn(a, b, p)
			if d := q.Sub(p).square(); d < least {
				best, least, found = q, d, true
			}
		}
	}
	if !found {
		return Point{}, math.Inf(1)
	}
	return best, math.Sqrt(least)
}

// pairs are the sides of two rings that may touch, as the boxes of their runs tell: each with its number.
func (ix Index) pairs(o Index) iter.Seq2[int, int] {
	return func(yield func(int, int) bool) {
		for m, box := range ix.runs {
			for k, other := range o.runs {
				if !box.meets(other) {
					continue
				}
				for i := m * run; i < min((m+1)*run, len(ix.Ring)); i++ {
					for j := k * run; j < min((k+1)*run, len(o.Ring)); j++ {
						if !yield(i, j) {
							return
						}
					}
				}
			}
		}
	}
}

// Crossing is a place at which the lines of two rings cross, if there is one.
func (ix Index) Crossing(o Index) (at Point, ok bool) {
	for i, j := range ix.pairs(o) {
		a, b := ix.Edge(i)
		c, d := o.Edge(j)
		u, v := cross(c, d, a), cross(c, d, b)
		if u*v < 0 && cross(a, b, c)*cross(a, b, d) < 0 {
			return a.Lerp(b, u/(u-v)), true
		}
	}
	return Point{}, false
}
