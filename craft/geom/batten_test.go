package geom

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestBatten(t *testing.T) {
	b := Batten{Chord: 400, Rise: 60}
	assert.InDelta(t, 421.8, b.Length(), 0.05)
	assert.InDelta(t, 292.6, b.Radius(), 0.05)
	middle := b.Knots(2)[1]
	assert.InDelta(t, 200, middle.X, 1e-9)
	assert.InDelta(t, 60, middle.Y, 1e-6)
	assert.InDelta(t, 400, Batten{Chord: 400}.Length(), 1e-12)
	assert.True(t, math.IsInf(Batten{Chord: 400}.Radius(), 1))
}

// Whatever its rise, a batten runs as long as the knots along it, starts and
// ends on its pins, is symmetrical, and bends in proportion to its height:
// what Euler's equation says of a strip that is only pushed along its chord.
func TestBattenObeysItsEquation(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		b := Batten{Chord: rapid.Float64Range(20, 2000).Draw(t, "chord")}
		b.Rise = b.Chord * rapid.Float64Range(-0.5, 0.5).Draw(t, "rise")
		const n = 2000
		knots := b.Knots(n)
		var run float64
		for i := range n {
			run += knots[i+1].Sub(knots[i].Point).Len()
		}
		assert.InEpsilon(t, run, b.Length(), 1e-5)
		assert.InDelta(t, 0, knots[0].Sub(Point{}).Len(), 1e-6*b.Chord)
		assert.InDelta(t, 0, knots[n].Sub(Point{X: b.Chord}).Len(), 1e-6*b.Chord)
		if math.Abs(b.Rise) < 0.01*b.Chord {
			return
		}
		for _, i := range []int{n / 8, n / 4, n / 2} {
			bend := (knots[i+1].Heading - knots[i-1].Heading) / (knots[i+1].Run - knots[i-1].Run)
			atTop := -math.Copysign(1/b.Radius(), b.Rise)
			assert.InEpsilon(t, atTop*knots[i].Y/b.Rise, bend, 1e-3)
		}
	})
}
