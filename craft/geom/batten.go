package geom

import (
	"math"

	"gonum.org/v1/gonum/mathext"
)

// Batten is a thin strip bent between two pins: the curve of least bending
// energy, which an eye calls fair. Chord and Rise in mm.
type Batten struct {
	Chord, Rise float64
}

// Steepest is the largest share of its chord by which a batten may rise; one
// that is pushed further stands upright at its ends.
const Steepest = 0.8

// modulus is k = sin(α/2), α the angle between the batten's ends and its chord.
func (b Batten) modulus() float64 {
	want := math.Abs(b.Rise) / b.Chord
	lo, hi := 0.0, math.Sin(math.Pi/4)*1.0001
	for range 60 {
		k := (lo + hi) / 2
		if k/(2*mathext.CompleteE(k*k)-mathext.CompleteK(k*k)) < want {
			lo = k
		} else {
			hi = k
		}
	}
	return (lo + hi) / 2
}

// scale is λ of the curve, 1/mm: the rise is 2k/λ.
func (b Batten) scale(k float64) float64 {
	m := k * k
	return 2 * (2*mathext.CompleteE(m) - mathext.CompleteK(m)) / b.Chord
}

// Length of the strip, mm. Source: Euler's elastica, pinned ends.
func (b Batten) Length() float64 {
	if b.Rise == 0 {
		return b.Chord
	}
	k := b.modulus()
	return 2 * mathext.CompleteK(k*k) / b.scale(k)
}

// Radius is the least radius, in the middle, mm; infinite for a straight one.
func (b Batten) Radius() float64 {
	if b.Rise == 0 {
		return math.Inf(1)
	}
	k := b.modulus()
	return 1 / (2 * k * b.scale(k))
}

// Knot is a place on a batten with its direction and what it has run so far,
// mm and radians; y is the rise.
type Knot struct {
	Point
	Heading, Run float64
}

// Knots are n+1 places along the batten, evenly turned, from 0, 0 to its chord
// along x.
func (b Batten) Knots(n int) []Knot {
	out := make([]Knot, n+1)
	if b.Rise == 0 {
		for i := range out {
			x := b.Chord * float64(i) / float64(n)
			out[i] = Knot{Point: Point{X: x}, Run: x}
		}
		return out
	}
	k := b.modulus()
	m, scale, side := k*k, b.scale(k), math.Copysign(1, b.Rise)
	for i := range out {
		phi := math.Pi * (float64(i)/float64(n) - 0.5)
		f, e := mathext.EllipticF(math.Abs(phi), m), mathext.EllipticE(math.Abs(phi), m)
		s := math.Copysign(1, phi)
		out[i] = Knot{
			Point:   Point{X: b.Chord/2 + s*(2*e-f)/scale, Y: side * 2 * k * math.Cos(phi) / scale},
			Heading: -side * 2 * math.Asin(k*math.Sin(phi)),
			Run:     (mathext.CompleteK(m) + s*f) / scale,
		}
	}
	return out
}
