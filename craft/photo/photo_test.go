package photo

import (
	"image"
	"image/color"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/geom"
	"idletimber/craft/photo/scene"
)

// off is how far the nodes of an outline lie from the true one, mm rms, both
// on the plane of the sheet.
func off(f Found, s scene.Scene) (rms, worst float64) {
	// The true outline in the frame of the sheet as found: by the true corners.
	paper := s.Paper()
	x := paper[1].Sub(paper[0])
	at := geom.Placement{X: paper[0].X, Y: paper[0].Y, Angle: math.Atan2(x.Y, x.X) * 180 / math.Pi}
	truth := geom.NewIndex(s.Outline.Map(at.In))
	var sum float64
	for _, p := range f.Outline.Map(f.Frame.Out) {
		_, d := truth.Nearest(p)
		sum += d * d
		worst = max(worst, d)
	}
	return math.Sqrt(sum / float64(len(f.Outline))), worst
}

// marked are the corners as a hand marks them: within a pixel.
func marked(s scene.Scene) [4]geom.Point {
	out := s.Corners()
	for i := range out {
		a := float64(s.Seed)*1.7 + float64(i)*2.4
		out[i].X += math.Cos(a)
		out[i].Y += math.Sin(a)
	}
	return out
}

func scenes() map[string]scene.Scene {
	with := func(seed uint64, change func(*scene.Scene)) scene.Scene {
		s := scene.Sample(seed)
		s.Width, s.Height = 1280, 960
		change(&s)
		return s
	}
	return map[string]scene.Scene{
		"shadow":       with(2, func(s *scene.Scene) { s.Clutter = false }),
		"cluttered":    with(3, func(s *scene.Scene) { s.Shadow = false }),
		"tilted":       with(4, func(s *scene.Scene) { s.Tilt, s.Azimuth, s.Clutter = 35, 35, false }),
		"tilted, lens": with(5, func(s *scene.Scene) { s.Tilt, s.Azimuth, s.Barrel = 35, -110, -0.012 }),
		"low contrast": with(6, func(s *scene.Scene) { s.Ground, s.Clutter = color.RGBA{166, 150, 132, 255}, false }),
		"dark, on earth": with(
			7,
			func(s *scene.Scene) { s.Wood, s.Ground = color.RGBA{122, 84, 58, 255}, color.RGBA{104, 96, 84, 255} },
		),
	}
}

func TestOutlineIsFound(t *testing.T) {
	for name, s := range scenes() {
		t.Run(name, func(t *testing.T) {
			f, err := Find(nil, s.Render(), marked(s), A4, s.Thickness)
			require.NoError(t, err)
			rms, worst := off(f, s)
			t.Logf("%.2f mm rms, %.2f worst, %.2f expected, bend %.4f for %.4f", rms, worst, f.Error, f.Bend, s.Barrel)
			assert.LessOrEqual(t, rms, 1.0)
			assert.InDelta(t, 600, f.Length, 3)
			assert.Less(t, f.Error, 1.0)
			assert.Less(t, rms, 2.5*f.Error, "the error that was promised")
		})
	}
}

// The budget is 2 s and 400 MB for twelve megapixels.
func BenchmarkFind12Megapixels(b *testing.B) {
	s := scene.Sample(4)
	s.Width, s.Height, s.Tilt = 4000, 3000, 30
	img, corners := s.Render(), marked(s)
	b.ReportAllocs()
	for b.Loop() {
		if _, err := Find(nil, img, corners, A4, s.Thickness); err != nil {
			b.Fatal(err)
		}
	}
}

func TestPicturesWithoutAnOutline(t *testing.T) {
	s := scene.Sample(1)
	s.Width, s.Height, s.Clutter, s.Shadow = 640, 480, false, false
	img, corners := s.Render(), s.Corners()
	_, err := Find(nil, img, [4]geom.Point{corners[0], corners[2], corners[1], corners[3]}, A4, 30)
	assert.ErrorIs(t, err, ErrCorners, "not in order round the sheet")
	_, err = Find(nil, img, [4]geom.Point{{X: 1, Y: 1}, {X: 3, Y: 1}, {X: 3, Y: 3}, {X: 1, Y: 3}}, A4, 30)
	assert.ErrorIs(t, err, ErrCorners, "too small to be one")
	blank := image.NewRGBA(img.Bounds())
	_, err = Find(nil, blank, corners, A4, 30)
	assert.ErrorIs(t, err, ErrNoEdge)
}

// Which corner is marked first, and which way round, does not matter.
func TestCornersInAnyOrder(t *testing.T) {
	s := scene.Sample(2)
	s.Width, s.Height = 800, 600
	img, c := s.Render(), s.Corners()
	var lengths []float64
	for _, corners := range [][4]geom.Point{{c[0], c[1], c[2], c[3]}, {c[2], c[3], c[0], c[1]},
		{c[1], c[0], c[3], c[2]}} {
		f, err := Find(nil, img, corners, Sheet{A4.Height, A4.Width}, s.Thickness)
		require.NoError(t, err)
		lengths = append(lengths, f.Length)
	}
	assert.InDelta(t, lengths[0], lengths[1], 0.5)
	assert.InDelta(t, lengths[0], lengths[2], 0.5)
}

func TestStraightenedIsToScale(t *testing.T) {
	s := scene.Sample(3)
	s.Width, s.Height, s.Shadow, s.Clutter = 1000, 750, false, false
	img := s.Render()
	f, err := Find(nil, img, s.Corners(), A4, s.Thickness)
	require.NoError(t, err)
	box := f.Outline.Bounds()
	flat := f.Straightened(img, box, 1)
	white := 0
	for y := range flat.Bounds().Dy() {
		for x := range flat.Bounds().Dx() {
			if c := flat.RGBAAt(x, y); min(c.R, c.G, c.B) > 190 {
				white++
			}
		}
	}
	assert.InEpsilon(t, A4.Width*A4.Height, white, 0.02, "the sheet covers as many mm² as it has")
}
