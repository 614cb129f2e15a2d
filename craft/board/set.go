package board

import (
	"math"
	"slices"

	"idletimber/craft/geom"
)

// How far along each other two boards of a set are tried, and how many degrees one is turned
// to follow the other; and what of the shorter side must face the other for the two to nest.
const (
	slides = 40
	tilts  = 2
	shares = 0.6
)

// Nesting is how a board of a set nests beside another one.
type Nesting struct {
	Mating
	Place geom.Placement // of the second in the frame of the first
	Fits  bool           // along most of the side, with no gap that is seen and no clash
}

// BesideSides are where one board of a set stands beside another; from the other's side of it
// they are the left side and the handle end.
var BesideSides = []string{right, farEnd}

// Beside slides an outline along the right side of another, or along its far end, and turns it
// a little, to where the gap between them is most even; stray is how many times the usual it
// may open. Turned, the second stands the other way round, end for end.
func Beside(a, b geom.Ring, side string, turned bool, gap, stray float64) (n Nesting) {
	if turned {
		b = b.Map(func(p geom.Point) geom.Point { return p.Scale(-1) })
	}
	if side == farEnd { // as if it were the right one
		swapped := beside(mirrored(a), mirrored(b), gap)
		swapped.X, swapped.Y, swapped.Angle = swapped.Y, swapped.X, -swapped.Angle
		n.Place = swapped
	} else {
		n.Place = beside(a, b, gap)
	}
	n.Mating = Meet(a, b.Map(n.Place.Out), gap)
	box, of := a.Bounds(), b.Bounds()
	long := min(box.MaxX-box.MinX, of.MaxX-of.MinX)
	if side == farEnd {
		long = min(box.MaxY-box.MinY, of.MaxY-of.MinY)
	}
	n.Fits = n.Clash <= slack && n.Widest <= gap+opens*stray && n.Length >= shares*long
	if turned {
		n.Place.Angle += 180
	}
	return n
}

// mirrored is a ring with x and y exchanged, which still runs anticlockwise.
func mirrored(r geom.Ring) geom.Ring {
	out := r.Turned()
	slices.Reverse(out)
	return out
}

// beside places b at the right of a, which is where y is low.
func beside(a, b geom.Ring, gap float64) geom.Placement {
	low, high := flank(a, 0), flank(b, 1)
	middle := (low.from + low.to() - high.from - high.to()) / 2
	at, best := geom.Placement{X: middle}, math.Inf(1)
	try := func(from, to, step float64) {
		for d := from; d <= to; d += step {
			if spread, tilt := low.over(high, d); spread+math.Abs(d-middle)*1e-4 < best {
				best = spread + math.Abs(d-middle)*1e-4
				at.X, at.Angle = d, math.Max(-tilts, math.Min(tilts, tilt))
			}
		}
	}
	try(middle-slides, middle+slides, 2)
	try(at.X-2, at.X+2, 0.2)

	// It is set beside the first by what stands out farthest, and then pushed until the two are a
	// gap apart, square to their edges.
	turned := flank(b.Map(geom.Placement{X: at.X, Angle: at.Angle}.Out), 1)
	near := math.Inf(1)
	for x := max(low.from, turned.from); x <= min(low.to(), turned.to()); x++ {
		near = min(near, low.at(x)-turned.at(x))
	}
	at.Y = near - gap
	for range 6 {
		m := facing(a, b.Map(at.Out), gap)
		far := m.Least - gap
		if m.Clash > 0 {
			far = -m.Clash - gap
		}
		if math.Abs(far) < slack/4 {
			break
		}
		at.Y += far
	}
	return at
}

// profile is one side of an outline: how it stands out, every mm from where it begins.
type profile struct {
	from float64
	y    []float64
}

func (p profile) to() float64 { return p.from + float64(len(p.y)-1) }

// flank is the right side of an outline, or with 1 its left one.
func flank(r geom.Ring, which int) profile {
	box := r.Bounds()
	p := profile{from: box.MinX + 0.5}
	var ys []float64
	for x := p.from; x < box.MaxX; x++ {
		if ys = r.SpansAcross(x, ys[:0]); len(ys) > 0 {
			p.y = append(p.y, ys[which*(len(ys)-1)])
		}
	}
	return p
}

// rounded is what of two sides is left out at each end, where the corners are rounded.
const rounded = 0.12

// over is by how much the distance to another side, moved along by d, varies about a straight
// line, and the angle of that line in degrees. It is infinite where they hardly meet.
func (p profile) over(q profile, d float64) (spread, tilt float64) {
	from, to := max(p.from, q.from+d), min(p.to(), q.to()+d)
	long := to - from
	if long < shares*float64(min(len(p.y), len(q.y))) {
		return math.Inf(1), 0
	}
	from, to = from+rounded*long, to-rounded*long
	var n, sx, sy, sxx, sxy float64
	gaps := make([]float64, 0, int(to-from)/2+1)
	for x := from; x <= to; x += 2 {
		g := p.at(x) - q.at(x-d)
		gaps = append(gaps, g)
		u := x - from
		n, sx, sy, sxx, sxy = n+1, sx+u, sy+g, sxx+u*u, sxy+u*g
	}
	slope := 0.0
	if w := n*sxx - sx*sx; w > 0 {
		slope = (n*sxy - sx*sy) / w
	}
	least, most := math.Inf(1), math.Inf(-1)
	for i, g := range gaps {
		g -= slope * 2 * float64(i)
		least, most = min(least, g), max(most, g)
	}
	return most - least, math.Atan(slope) * 180 / math.Pi
}

// at is how far the side stands out at x.
func (p profile) at(x float64) float64 {
	i := x - p.from
	k := max(0, min(len(p.y)-2, int(i)))
	return p.y[k] + (i-float64(k))*(p.y[k+1]-p.y[k])
}
