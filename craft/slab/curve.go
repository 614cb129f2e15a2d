package slab

import (
	"math"
	"sort"
)

// curve is a monotone cubic through points (Fritsch and Carlson 1980): it
// never swings beyond the stations it passes.
type curve struct{ x, y, slope []float64 }

// newCurve needs at least one point, x ascending. Slopes are the mean of the
// neighbouring secants, zero at extrema, one-sided at the ends, and scaled by
// 3/√(α²+β²) where α²+β² > 9.
func newCurve(x, y []float64) curve {
	n := len(x)
	c := curve{x, y, make([]float64, n)}
	if n < 2 {
		return c
	}
	secant := make([]float64, n-1)
	for i := range secant {
		secant[i] = (y[i+1] - y[i]) / (x[i+1] - x[i])
	}
	c.slope[0], c.slope[n-1] = secant[0], secant[n-2]
	for i := 1; i < n-1; i++ {
		if secant[i-1]*secant[i] > 0 {
			c.slope[i] = (secant[i-1] + secant[i]) / 2
		}
	}
	for i, d := range secant {
		if d == 0 {
			c.slope[i], c.slope[i+1] = 0, 0
			continue
		}
		a, b := c.slope[i]/d, c.slope[i+1]/d
		if s := a*a + b*b; s > 9 {
			k := 3 / math.Sqrt(s)
			c.slope[i], c.slope[i+1] = k*a*d, k*b*d
		}
	}
	return c
}

// at is the curve's height; beyond the ends it stays level.
func (c curve) at(x float64) float64 {
	n := len(c.x)
	if x <= c.x[0] {
		return c.y[0]
	}
	if x >= c.x[n-1] {
		return c.y[n-1]
	}
	i := sort.SearchFloat64s(c.x, x)
	i = max(i, 1) - 1
	h := c.x[i+1] - c.x[i]
	t := (x - c.x[i]) / h
	t2, t3 := t*t, t*t*t
	return (2*t3-3*t2+1)*c.y[i] + (t3-2*t2+t)*h*c.slope[i] + (3*t2-2*t3)*c.y[i+1] + (t3-t2)*h*c.slope[i+1]
}

// integral is the exact area under the curve from its first point to its last.
func (c curve) integral() float64 {
	var sum float64
	for i := 0; i+1 < len(c.x); i++ {
		h := c.x[i+1] - c.x[i]
		sum += h/2*(c.y[i]+c.y[i+1]) + h*h/12*(c.slope[i]-c.slope[i+1])
	}
	return sum
}
