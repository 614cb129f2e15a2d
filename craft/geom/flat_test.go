package geom

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/tdewolff/canvas"
)

// The lines that stand for a path are those that the library cuts, be it turned
// arcs, curves of both kinds or several parts.
func TestFlattenAgreesWithTheLibrary(t *testing.T) {
	p := &canvas.Path{}
	p.MoveTo(10, 5)
	p.QuadTo(60, 90, 120, 4)
	p.CubeTo(160, -30, 200, 80, 240, 10)
	p.ArcTo(50, 20, 30, true, false, 300, 60)
	p.LineTo(280, -40)
	p.Close()
	p.MoveTo(-100, -100)
	p.ArcTo(30, 30, 0, false, true, -140, -100)
	p.ArcTo(30, 30, 0, false, true, -100, -100)
	p.Close()
	const tolerance = 0.05
	rings := Flatten(p, tolerance)
	require.Len(t, rings, 2)
	whole := p.Flatten(tolerance / cubic).Split()
	require.Len(t, whole, 2)
	for i, ring := range rings {
		var points Ring
		for _, c := range whole[i].Coords() {
			points = append(points, Point{c.X, c.Y})
		}
		assert.InDelta(t, points.SignedArea(), ring.SignedArea(), 1e-6)
		assert.InDelta(t, points.Perimeter(), ring.Perimeter(), 1e-6)
	}
	rings, ok := FlattenUpTo(p, tolerance, 20)
	assert.False(t, ok)
	assert.Empty(t, rings)
}

// A path of many curves is cut in a time that grows with their number.
func BenchmarkFlattenManyCurves(b *testing.B) {
	p := &canvas.Path{}
	p.MoveTo(0, 0)
	for i := range 2000 {
		x := float64(i)
		p.CubeTo(x, 300, x+0.5, -300, x+1, 0)
	}
	p.Close()
	for b.Loop() {
		Flatten(p, Fine)
	}
}

// A ring of so many nodes that they are not judged at once strays no farther, and
// is simplified in a time that does not grow with their square.
func TestALongRingIsSimplified(t *testing.T) {
	const n = 60000
	round, ragged := make(Ring, n), make(Ring, n)
	for i := range n {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / n)
		round[i] = Point{300 * cos, 200 * sin}
		ragged[i] = round[i].Scale(float64(i%2) + 1)
	}
	const tolerance = 0.1
	few := round.Simplified(tolerance)
	assert.Less(t, len(few), 300)
	for i := 0; i < n; i += 7 {
		off := math.Inf(1)
		for k := range few {
			a, b := few.Edge(k)
			off = min(off, NearestOn(a, b, round[i]).Sub(round[i]).Len())
		}
		require.LessOrEqual(t, off, tolerance+1e-9)
	}
	begun := time.Now()
	assert.Len(t, ragged.Simplified(tolerance), n)
	assert.Less(t, time.Since(begun), 2*time.Second)
}
