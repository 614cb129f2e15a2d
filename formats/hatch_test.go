package formats

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/geom"
)

// Every stroke of a hatch lies between its two lines, whichever is the inner one, and none
// is longer than the strip is wide at its slant, but where it runs along a corner.
func TestHatch(t *testing.T) {
	outer, inner := geom.Bounds{MinX: -60, MinY: -40, MaxX: 60, MaxY: 40}.Ring(),
		geom.Bounds{MinX: -50, MinY: -30, MaxX: 50, MaxY: 30}.Ring()
	for _, pair := range [][2]string{{outer.SVG(), inner.SVG()}, {inner.SVG(), outer.SVG()}} {
		strokes, err := hatch(pair[0], pair[1])
		require.NoError(t, err)
		require.Greater(t, len(strokes), 40)
		for _, s := range strokes {
			for _, share := range []float64{0.05, 0.5, 0.95} {
				p := s[0].Lerp(s[1], share)
				assert.True(t, outer.Contains(p) && !inner.Contains(p), "%v", p)
			}
		}
	}
	_, err := hatch("M0 0Q", outer.SVG())
	assert.Error(t, err)
}
