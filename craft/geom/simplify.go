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
	// Two nodes that surely stay: the first, and the one farthest from it.
	far := 0
	for i := range r {
		if r[i].Sub(r[0]).square() > r[far].Sub(r[0]).square() {
			far = i
		}
	}
	keep := make([]bool, n+1)
	keep[0], keep[far], keep[n] = true, true, true
	at := func(i int) Point { return r[i%n] }
	type run struct{ from, to int }
	todo := []run{{0, far}, {far, n}}
	for len(todo) > 0 {
		s := todo[len(todo)-1]
		todo = todo[:len(todo)-1]
		worst, off := -1, tolerance*tolerance
		a, b := at(s.from), at(s.to)
		for i := s.from + 1; i < s.to; i++ {
			if d := nearestOn(a, b, r[i]).Sub(r[i]).square(); d > off {
				worst, off = i, d
			}
		}
		if worst > 0 {
			keep[worst] = true
			todo = append(todo, run{s.from, worst}, run{worst, s.to})
		}
	}
	out := Ring{}
	for i, p := range r {
		if keep[i] {
			out = append(out, p)
		}
	}
	return out
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
