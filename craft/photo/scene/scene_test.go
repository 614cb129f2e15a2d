package scene

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"idletimber/craft/geom"
)

func small(seed uint64) Scene {
	s := Sample(seed)
	s.Width, s.Height = 320, 240
	return s
}

func TestSamePictureFromTheSameSeed(t *testing.T) {
	a, b := small(4).Render(), small(4).Render()
	assert.Equal(t, a.Pix, b.Pix)
	assert.NotEqual(t, a.Pix, small(5).Render().Pix)
}

func TestRaysMeetWhatIsProjected(t *testing.T) {
	s := small(1)
	s.Tilt, s.Azimuth, s.Roll, s.Barrel = 33, 40, 12, 0.02
	c := s.camera()
	for _, p := range s.Outline {
		px := c.project(p)
		d := c.ray(px.X, px.Y)
		k := -c.at[2] / d[2]
		assert.InDelta(t, 0, math.Hypot(c.at[0]+k*d[0]-p.X, c.at[1]+k*d[1]-p.Y), 0.05)
	}
}

// The sheet lies on the slab and hides no edge; its corners are white inside.
func TestTheSheetLiesOnTheSlab(t *testing.T) {
	for seed := range uint64(12) {
		s := small(seed)
		for _, p := range s.Paper() {
			assert.True(t, s.Outline.Contains(p), "seed %d", seed)
		}
		s.Shadow = false
		img, corners := s.Render(), s.Corners()
		var mid geom.Point
		for _, c := range corners {
			mid = mid.Add(c.Scale(0.25))
		}
		at := img.RGBAAt(int(mid.X), int(mid.Y))
		assert.Greater(t, min(at.R, at.G, at.B), uint8(200))
	}
}

func TestSlabIsAboutAsLargeAsAsked(t *testing.T) {
	for seed := range uint64(20) {
		r := Slab(600, 260, seed)
		b := r.Bounds()
		assert.InDelta(t, 600, b.MaxX-b.MinX, 1e-9)
		assert.InDelta(t, 235, b.MaxY-b.MinY, 40)
		assert.False(t, r.SelfCrosses())
		assert.Positive(t, r.SignedArea())
	}
}
