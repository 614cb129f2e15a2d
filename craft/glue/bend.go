package glue

import (
	"math"

	"idletimber/craft"
)

// LeastRadius is the radius at which a ply of a thickness breaks when it is bent dry.
func LeastRadius(ply, modulus, mor float64) float64 { return ply * modulus / (2 * mor) }

// Bends judges a radius against the one at which a ply breaks: clear of it from 1.3
// times, a stop below.
func Bends(radius, least float64) craft.Level { return craft.Under(radius, 1.3*least, least) }

// SpringBack is the radius that a rim of n plies takes when it comes off a form of a
// radius; one ply does not hold its bend, which is infinite.
func SpringBack(form float64, plies int) float64 {
	if plies < 2 {
		return math.Inf(1)
	}
	return form / (1 - 1/float64(plies*plies))
}

// FormRadius is the radius of the form for a free rim of n plies; 0 for one ply.
func FormRadius(wanted float64, plies int) float64 {
	return wanted * (1 - 1/float64(max(1, plies*plies)))
}

// PlyLength is how long the plies are cut for an angle in degrees round a form: on the
// outside of them all, and 25 over at each end.
func PlyLength(degrees, form float64, plies int, ply float64) float64 {
	const over = 25
	return degrees*math.Pi/180*(form+float64(plies)*ply) + 2*over
}
