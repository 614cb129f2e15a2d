package board

import (
	"math"

	"github.com/tdewolff/canvas"

	"idletimber/craft/geom"
)

// blend is the round that a thing of a radius traces into a corner between two lines, the first
// running into the corner and the second out of it: how far before the corner it leaves the
// first, how far behind it meets the second, mm along each, and its radius. A round that does
// not fit between them is reduced; it is 0 where the line goes on straight.
func blend(a, b []geom.Point, radius float64) (before, behind, r float64) {
	corner, la, lb := b[0], lengthOf(a), lengthOf(b)
	turn := turnOf(a, b)
	if math.Abs(turn) < 1e-3 || la < 1e-6 || lb < 1e-6 {
		return 0, 0, 0
	}
	hand := math.Copysign(1, turn)
	// fits lays the thing against the first line, ever farther from the corner, until it clears the
	// second one.
	fits := func(r float64) (before, behind float64, ok bool) {
		const tries, steps, part = 24, 40, 0.499 // of each line: its other corner may be rounded too
		middle := func(s float64) geom.Point {
			p, d := along(a, la-s)
			return p.Add(geom.Point{X: -d.Y, Y: d.X}.Scale(hand * r))
		}
		clear := func(s float64) (gap, behind float64) {
			_, far, behind := nearestOn(b, middle(s))
			return far - r, behind
		}
		for k := 1; k <= steps; k++ {
			s := part * la * float64(k) / steps
			if gap, _ := clear(s); gap < 0 {
				continue
			}
			lo, hi := part*la*float64(k-1)/steps, s
			for range tries {
				if gap, _ := clear((lo + hi) / 2); gap < 0 {
					lo = (lo + hi) / 2
				} else {
					hi = (lo + hi) / 2
				}
			}
			_, behind = clear(hi)
			return hi, behind, behind > 0 && behind <= part*lb && middle(hi).Sub(corner).Len() > r
		}
		return 0, 0, false
	}
	if before, behind, ok := fits(radius); ok {
		return before, behind, radius
	}
	least, most := 0.0, radius
	const halvings = 8
	for range halvings {
		half := (least + most) / 2
		if b1, b2, ok := fits(half); ok {
			least, before, behind, r = half, b1, b2, half
		} else {
			most = half
		}
	}
	return before, behind, r
}

// turnOf is the angle by which one turns left at a corner, in radians.
func turnOf(a, b []geom.Point) float64 {
	_, u := along(a, lengthOf(a))
	_, v := along(b, 0)
	return math.Atan2(u.X*v.Y-u.Y*v.X, u.X*v.X+u.Y*v.Y)
}

func lengthOf(line []geom.Point) (sum float64) {
	for i := 1; i < len(line); i++ {
		sum += line[i].Sub(line[i-1]).Len()
	}
	return sum
}

// along is the place so far along a line, mm, and which way the line goes there.
func along(line []geom.Point, s float64) (at, way geom.Point) {
	for i := 1; i < len(line); i++ {
		d := line[i].Sub(line[i-1])
		l := d.Len()
		if l == 0 {
			continue
		}
		way = d.Scale(1 / l)
		if s <= l || i == len(line)-1 {
			return line[i-1].Add(way.Scale(math.Max(0, math.Min(s, l)))), way
		}
		s -= l
	}
	return line[len(line)-1], way
}

// nearestOn is the place on a line that is nearest to p, how far away it is, and how far along
// the line, mm.
func nearestOn(line []geom.Point, p geom.Point) (at geom.Point, far, s float64) {
	far = math.Inf(1)
	run := 0.0
	for i := 1; i < len(line); i++ {
		d := line[i].Sub(line[i-1])
		l := d.Len()
		if l == 0 {
			continue
		}
		t := p.Sub(line[i-1])
		k := math.Max(0, math.Min(1, (t.X*d.X+t.Y*d.Y)/(l*l)))
		q := line[i-1].Add(d.Scale(k))
		if f := p.Sub(q).Len(); f < far {
			at, far, s = q, f, run+k*l
		}
		run += l
	}
	return at, far, s
}

// lineOf is a path by straight lines.
func lineOf(p *canvas.Path) (out []geom.Point) {
	for _, c := range p.Flatten(geom.Fine / 4).Coords() {
		out = append(out, geom.Point{X: c.X, Y: c.Y})
	}
	return out
}

// trimmed is a path without so much of its beginning and its end.
func trimmed(p *canvas.Path, before, behind float64) *canvas.Path {
	long := p.Length()
	if behind > 0 {
		p = p.SplitAt(long - behind)[0]
	}
	if before > 0 {
		parts := p.SplitAt(before)
		p = parts[len(parts)-1]
	}
	return p
}
