package geom

import (
	"math"
	"slices"
)

// Simplified keeps the fewest nodes that the rule of Douglas and Peucker
// (1973) needs so that no dropped one lies farther than tolerance mm from the
// ring that is left.
func (r Ring) Simplified(tolerance float64) Ring {
	n := len(r)
	if n < 4 {
		return r
	}
	if n > mostAtOnce { // the rule may take a time that grows with the square
		if r = r.thinned(tolerance / 2); len(r) > mostAtOnce {
			return r
		}
		n, tolerance = len(r), tolerance/2
	}
	// Two nodes that surely stay: the first, and the one farthest from it.
	far := 0
	for i := range r {
		if r[i].Sub(r[0]).square() > r[far].Sub(r[0]).square() {
			far = i
		}
	}
	keep := make([]bool, n+1)
	keep[0], keep[far] = true, true
	r.peucker(reach{0, far}, tolerance, keep)
	r.peucker(reach{far, n}, tolerance, keep)
	return r.kept(keep)
}

// reach is a stretch of a ring; node n of n is the first again.
type reach struct{ from, to int }

// peucker marks the nodes within a reach that the rule keeps between its ends.
func (r Ring) peucker(whole reach, tolerance float64, keep []bool) {
	todo := []reach{whole}
	for len(todo) > 0 {
		s := todo[len(todo)-1]
		todo = todo[:len(todo)-1]
		worst, off := -1, tolerance*tolerance
		a, b := r[s.from], r[s.to%len(r)]
		for i := s.from + 1; i < s.to; i++ {
			if d := NearestOn(a, b, r[i]).Sub(r[i]).square(); d > off {
				worst, off = i, d
			}
		}
		if worst > 0 {
			keep[worst] = true
			todo = append(todo, reach{s.from, worst}, reach{worst, s.to})
		}
	}
}

func (r Ring) kept(keep []bool) Ring {
	out := Ring{}
	for i, p := range r {
		if keep[i] {
			out = append(out, p)
		}
	}
	return out
}

// Sizes of rings that are simplified: how many nodes are judged at once, and in
// stretches of how many longer rings are thinned first.
const (
	mostAtOnce = 4096
	stretch    = 128
)

// thinned simplifies a long ring stretch by stretch, whose ends stay.
func (r Ring) thinned(tolerance float64) Ring {
	keep := make([]bool, len(r))
	for from := 0; from < len(r); from += stretch {
		to := min(from+stretch, len(r)-1)
		keep[from], keep[to] = true, true
		r.peucker(reach{from, to}, tolerance, keep)
	}
	return r.kept(keep)
}

// Rounded sets the nodes on a grid, mm.
func (r Ring) Rounded(grid float64) Ring {
	return r.Map(func(p Point) Point { return Point{math.Round(p.X/grid) * grid, math.Round(p.Y/grid) * grid} })
}

// LongWay is the direction in degrees, to half a degree, of the longer side of
// the least box that holds the ring.
func (r Ring) LongWay() (degrees float64) {
	least := math.Inf(1)
	for d := 0.0; d < 90; d += 0.5 {
		b := r.Map(Placement{Angle: d}.In).Bounds()
		if a := (b.MaxX - b.MinX) * (b.MaxY - b.MinY); a < least {
			least, degrees = a, d
			if b.MaxY-b.MinY > b.MaxX-b.MinX {
				degrees = d + 90
			}
		}
	}
	return degrees
}

// Lengthwise turns a ring so that its long way runs along x, and sets its least
// x to 0 and the middle of its y to 0; it runs anticlockwise then.
func (r Ring) Lengthwise() Ring {
	d := r.LongWay()
	if d > 90 {
		d -= 180
	}
	out := r.Map(Placement{Angle: d}.In)
	b := out.Bounds()
	out = out.Map(Point{-b.MinX, -(b.MinY + b.MaxY) / 2}.Add)
	if out.SignedArea() < 0 {
		slices.Reverse(out)
	}
	return out
}
