package photo

import (
	"bytes"
	"errors"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/geom"
)

// teardrop is a shape 240 long and 120 wide about its middle.
func teardrop() geom.Ring {
	var r geom.Ring
	for i := range 360 {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / 360)
		r = append(r, geom.Point{X: 120 * cos, Y: 60 * sin * (1 - 0.45*cos)})
	}
	return r
}

// shot is a picture of a shape at a scale in pixels a mm, turned: filled, or its line drawn, with
// some noise. It also tells where its line is seen, and the ends of its long way.
func shot(shape geom.Ring, scale, turn float64, drawn bool, noise float64) (*image.RGBA, geom.Ring, [2]geom.Point) {
	const w, h = 900, 700
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	random := rand.New(rand.NewPCG(7, 11))
	at := geom.Placement{Angle: turn}
	pixel := func(p geom.Point) geom.Point {
		q := at.Out(p)
		return geom.Point{X: w/2 + 20 + q.X*scale, Y: h/2 - 10 - q.Y*scale}
	}
	ring := make(geom.Ring, len(shape))
	for i, p := range shape {
		ring[i] = pixel(p)
	}
	index := geom.NewIndex(ring)
	for y := range h {
		for x := range w {
			p := geom.Point{X: float64(x), Y: float64(y)}
			c := color.RGBA{120, 130, 120, 255}
			switch {
			case drawn:
				c = color.RGBA{236, 234, 228, 255}
				if _, d := index.Nearest(p); d < 2 {
					c = color.RGBA{30, 30, 40, 255}
				}
			case index.Contains(p):
				c = color.RGBA{196, 150, 96, 255}
			}
			for i, v := range []*uint8{&c.R, &c.G, &c.B} {
				*v = uint8(math.Max(0, math.Min(255, float64(*v)+random.NormFloat64()*noise+float64(i))))
			}
			img.SetRGBA(x, y, c)
		}
	}
	var kept bytes.Buffer // as a JPEG, whose colours run over edges
	if err := jpeg.Encode(&kept, img, &jpeg.Options{Quality: 90}); err != nil {
		panic(err)
	}
	again, err := jpeg.Decode(&kept)
	if err != nil {
		panic(err)
	}
	draw.Draw(img, img.Bounds(), again, image.Point{}, draw.Src)
	return img, ring, [2]geom.Point{pixel(geom.Point{X: -120}), pixel(geom.Point{X: 120})}
}

func TestAShapeIsTracedToScale(t *testing.T) {
	square := geom.Bounds{MinX: -120, MinY: -60, MaxX: 120, MaxY: 60}.Ring()
	for _, tt := range []struct {
		name        string
		shape       geom.Ring
		scale, turn float64
		drawn       bool
		within      float64
		noise       float64
	}{
		{"a template", teardrop(), 2, 0, false, 0.6, 3}, {"turned", teardrop(), 2, 37, false, 0.6, 3},
		{"upright", teardrop(), 1.6, 90, false, 0.8, 3}, {"small in the picture", teardrop(), 1, 10, false, 1.2, 3},
		{"a line that was drawn", teardrop(), 2, 0, true, 2.5, 3},
		{"sharp corners", square, 2, 0, false, 0.8, 3}, {"coarse", square, 0.6, 0, false, 2, 3},
		{"sharp corners, turned", square, 1, 20, false, 1.2, 3},
		{"without noise", teardrop(), 1.5, 0, false, 0.8, 0},
		{"small, without noise", teardrop(), 0.8, 25, false, 1.5, 0},
		{"corners, without noise", square, 1, 0, false, 1.2, 0},
		{"coarse, without noise", square, 0.6, 15, false, 2, 0},
	} {
		want := tt.shape
		img, ring, marks := shot(want, tt.scale, tt.turn, tt.drawn, tt.noise)
		// What the maker types: the distance of the marks, in mm, for a shape drawn to another scale.
		reals := []float64{480}
		if tt.turn == 0 && !tt.drawn {
			reals = []float64{240, 480}
		}
		for _, real := range reals {
			f, err := Trace(nil, img, marks, real)
			require.NoError(t, err, tt.name)
			assert.False(t, f.Outline.SelfCrosses(), tt.name)
			k := real / 240
			assert.InDelta(t, real, f.Length, 2*tt.within*k, tt.name)
			assert.InDelta(t, want.Area()*k*k, f.Outline.Area(), 2*tt.within*k*k*want.Perimeter(), tt.name)
			truth, most := geom.NewIndex(ring), 0.0
			for _, p := range f.Outline.Map(f.Frame.Out) {
				_, d := truth.Nearest(f.View.Pixel(p))
				most = max(most, d/tt.scale)
			}
			assert.Less(t, most, 2*tt.within, "%s: on the picture, point by point", tt.name)
			assert.Less(t, f.Error, 4*k, tt.name)
		}
	}
}

func TestWhatCannotBeTraced(t *testing.T) {
	img, _, marks := shot(teardrop(), 2, 0, false, 3)
	_, err := Trace(nil, img, [2]geom.Point{marks[0], marks[0].Add(geom.Point{X: 3})}, 240)
	assert.ErrorIs(t, err, ErrMarks)
	for k := range img.Pix {
		img.Pix[k] = 128 + uint8(k%3)
	}
	_, err = Trace(nil, img, marks, 240)
	assert.ErrorIs(t, err, ErrNoLine)
	f, err := ByHand(img, marks, 240)
	require.NoError(t, err)
	assert.InDelta(t, 240, f.Length, 2, "an oval through points")
	assert.Len(t, f.Outline, 16)
}

// A picture of twelve million pixels is traced as well, and in no more steps.
func TestALargePictureIsTraced(t *testing.T) {
	const w, h = 4000, 3000
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := color.RGBA{110 + uint8((x*7+y*13)%9), 120, 110, 255}
			dx, dy := float64(x-w/2)/1600, float64(y-h/2)/1000
			if dx*dx+dy*dy < 1 {
				c = color.RGBA{195 + uint8((x*3+y*5)%11), 150, 90, 255}
			}
			img.SetRGBA(x, y, c)
		}
	}
	f, err := Trace(nil, img, [2]geom.Point{{X: w/2 - 1600, Y: h / 2}, {X: w/2 + 1600, Y: h / 2}}, 400)
	require.NoError(t, err)
	assert.InDelta(t, 400, f.Length, 0.6)
	assert.InDelta(t, math.Pi*200*125, f.Outline.Area(), 200)
	over := errors.New("nobody waits")
	_, err = Trace(func() error { return over }, img, [2]geom.Point{{X: 400, Y: 1500}, {X: 3600, Y: 1500}}, 400)
	assert.ErrorIs(t, err, over)
}
