package species

import "math"

// hankinson is the strength at an angle to the grain from the strengths along
// it (p) and across it (q), in the unit of p and q (Hankinson 1921).
func hankinson(p, q, degrees float64) float64 {
	sin, cos := math.Sincos(degrees * math.Pi / 180)
	return p * q / (p*sin*sin + q*cos*cos)
}
