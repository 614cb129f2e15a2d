package geom

import "math"

// Ellipse is a place on a face: half-axes A along Angle (degrees) and B across
// it, mm.
type Ellipse struct {
	Centre Point
	A, B   float64
	Angle  float64
}

// rows is how finely an ellipse is cut when only part of it counts; the error
// stays under a thousandth.
const rows = 240

// Ring is the ellipse as a polygon of n sides.
func (e Ellipse) Ring(n int) Ring {
	sin, cos := math.Sincos(e.Angle * math.Pi / 180)
	r := make(Ring, n)
	for i := range r {
		v, u := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		u, v = e.A*u, e.B*v
		r[i] = Point{e.Centre.X + cos*u - sin*v, e.Centre.Y + sin*u + cos*v}
	}
	return r
}

// Bounds is a box that holds the ellipse however it is turned.
func (e Ellipse) Bounds() Bounds {
	reach := max(e.A, e.B)
	return Bounds{e.Centre.X - reach, e.Centre.Y - reach, e.Centre.X + reach, e.Centre.Y + reach}
}

// Share is how much of the ellipse's area lies inside r, 0 to 1.
func (e Ellipse) Share(r Ring) float64 {
	switch e.within(r) {
	case all:
		return 1
	case none:
		return 0
	}
	return e.integrate(r, func(u0, u1, c float64) float64 { return u1 - u0 }) / (math.Pi * e.A * e.B)
}

const (
	none = iota
	some
	all
)

// within tells how much of the ellipse lies inside r, by its round hull.
func (e Ellipse) within(r Ring) int {
	if _, d := r.Nearest(e.Centre); d < max(e.A, e.B) {
		return some
	}
	if r.Contains(e.Centre) {
		return all
	}
	return none
}

// Bowl is the volume, mm³, of the part of a half ellipsoid of the given depth
// that lies inside r and deeper than h below the face.
func (e Ellipse) Bowl(r Ring, depth, h float64) float64 {
	if h >= depth || depth <= 0 {
		return 0
	}
	k := h / depth
	switch e.within(r) {
	case none:
		return 0
	case all: // its level at depth z is an ellipse of πab(1−z²/d²)
		return math.Pi * e.A * e.B * (depth - h - (depth*depth*depth-h*h*h)/(3*depth*depth))
	}
	return e.integrate(r, func(u0, u1, c float64) float64 {
		// depth along the row is depth/a·√(c²−u²); it exceeds h while |u| ≤ √(c²−(a·k)²)
		reach := math.Sqrt(max(0, c*c-e.A*e.A*k*k))
		u0, u1 = max(u0, -reach), min(u1, reach)
		if u1 <= u0 {
			return 0
		}
		return depth/e.A*(halfDisc(c, u1)-halfDisc(c, u0)) - h*(u1-u0)
	})
}

// halfDisc is ∫√(c²−u²)du from 0 to u.
func halfDisc(c, u float64) float64 {
	if c == 0 {
		return 0
	}
	u = max(-c, min(c, u))
	return (u*math.Sqrt(max(0, c*c-u*u)) + c*c*math.Asin(u/c)) / 2
}

// integrate sums f over the rows of the ellipse that lie inside r: f is given
// a stretch u0 to u1 along A and the row's half chord. Rows are spaced so that
// the ends, where chords grow fast, are cut finer.
func (e Ellipse) integrate(r Ring, f func(u0, u1, c float64) float64) float64 {
	frame := Placement{X: e.Centre.X, Y: e.Centre.Y, Angle: e.Angle}
	own := r.Map(frame.In)
	var sum float64
	for i := range rows {
		lo := -math.Pi/2 + math.Pi*float64(i)/rows
		hi := lo + math.Pi/rows
		v0, v1 := e.B*math.Sin(lo), e.B*math.Sin(hi)
		v := e.B * math.Sin((lo+hi)/2)
		c := e.A * math.Cos((lo+hi)/2)
		xs := own.Spans(v)
		for k := 0; k+1 < len(xs); k += 2 {
			if u0, u1 := max(xs[k], -c), min(xs[k+1], c); u1 > u0 {
				sum += f(u0, u1, c) * (v1 - v0)
			}
		}
	}
	return sum
}
