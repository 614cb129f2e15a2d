// Package scene renders pictures of slabs whose outline is known: samples to
// try with, and the truth that the tests of photo measure against. A picture is
// a function of its numbers and its seed alone.
//
// The world is in mm: x and y on the top face of the slab, z up, the ground one
// thickness below.
package scene

import (
	"image"
	"image/color"
	"math"
	"runtime"
	"sync"

	"idletimber/craft/geom"
)

// Scene is a slab on the ground with a sheet of paper on it, and a camera.
type Scene struct {
	Outline   geom.Ring // of the top face, anticlockwise
	Thickness float64
	Sheet     geom.Bounds // of the paper, before it is turned
	Turn      float64     // of the paper about its middle, degrees

	Width, Height int     // of the picture, pixels
	Tilt, Azimuth float64 // of the camera from straight above, and whence, degrees
	Roll          float64 // degrees
	Distance      float64 // from the middle of the slab, mm
	View          float64 // width of what is seen at that distance, mm
	Barrel        float64 // radial distortion at the corner of the picture, as a share; negative pulls in

	Wood, Ground color.RGBA
	Shadow       bool // a shadow falls across slab and ground
	Clutter      bool // things lie about
	Noise        float64
	Seed         uint64

	mid geom.Point // of the outline, while it is rendered
}

// camera projects points of the world onto the picture.
type camera struct {
	at, right, down, forward [3]float64
	focal, cx, cy, reach     float64
	barrel                   float64
}

func (s Scene) camera() camera {
	mid := middle(s.Outline)
	sinT, cosT := math.Sincos(s.Tilt * math.Pi / 180)
	sinA, cosA := math.Sincos(s.Azimuth * math.Pi / 180)
	sinR, cosR := math.Sincos(s.Roll * math.Pi / 180)
	c := camera{barrel: s.Barrel, cx: float64(s.Width-1) / 2, cy: float64(s.Height-1) / 2}
	c.at = [3]float64{mid.X + s.Distance*sinT*cosA, mid.Y + s.Distance*sinT*sinA, s.Distance * cosT}
	c.forward = [3]float64{-sinT * cosA, -sinT * sinA, -cosT}
	right := [3]float64{-sinA, cosA, 0}
	down := cross(c.forward, right)
	for i := range 3 {
		c.right[i] = cosR*right[i] + sinR*down[i]
		c.down[i] = -sinR*right[i] + cosR*down[i]
	}
	c.focal = float64(s.Width) * s.Distance / s.View
	c.reach = math.Hypot(c.cx, c.cy)
	return c
}

func middle(r geom.Ring) geom.Point {
	b := r.Bounds()
	return geom.Point{X: (b.MinX + b.MaxX) / 2, Y: (b.MinY + b.MaxY) / 2}
}

func cross(a, b [3]float64) [3]float64 {
	return [3]float64{a[1]*b[2] - a[2]*b[1], a[2]*b[0] - a[0]*b[2], a[0]*b[1] - a[1]*b[0]}
}

func dot(a, b [3]float64) float64 { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }

// project is where a point of the top face comes out on the picture, pixels.
func (c camera) project(p geom.Point) geom.Point {
	d := [3]float64{p.X - c.at[0], p.Y - c.at[1], -c.at[2]}
	z := dot(d, c.forward)
	x, y := c.focal*dot(d, c.right)/z, c.focal*dot(d, c.down)/z
	r := (x*x + y*y) / (c.reach * c.reach)
	k := 1 + c.barrel*r
	return geom.Point{X: c.cx + x*k, Y: c.cy + y*k}
}

// ray is the direction in which a pixel looks.
func (c camera) ray(px, py float64) [3]float64 {
	x, y := px-c.cx, py-c.cy
	u, v := x, y
	for range 6 { // undoes the distortion
		k := 1 + c.barrel*(u*u+v*v)/(c.reach*c.reach)
		u, v = x/k, y/k
	}
	var d [3]float64
	for i := range 3 {
		d[i] = c.forward[i] + (u*c.right[i]+v*c.down[i])/c.focal
	}
	return d
}

// Paper is the sheet's corners in the world, in order round it.
func (s Scene) Paper() [4]geom.Point {
	r := s.Sheet.Ring()
	m := middle(r)
	at := geom.Placement{X: m.X, Y: m.Y, Angle: s.Turn}
	var out [4]geom.Point
	for i, p := range r {
		out[i] = at.Out(p.Sub(m))
	}
	return out
}

// Corners are the sheet's corners on the picture, pixels.
func (s Scene) Corners() [4]geom.Point {
	c := s.camera()
	var out [4]geom.Point
	for i, p := range s.Paper() {
		out[i] = c.project(p)
	}
	return out
}

// field holds how far inside the outline the places of a grid lie.
type field struct {
	box   geom.Bounds
	w, h  int
	depth []float32
}

// grid is the field's step, mm.
const grid = 1.0

func newField(r geom.Ring, reach float64) field {
	b := r.Bounds()
	f := field{box: geom.Bounds{MinX: b.MinX - reach, MinY: b.MinY - reach, MaxX: b.MaxX + reach, MaxY: b.MaxY + reach}}
	f.w, f.h = int((f.box.MaxX-f.box.MinX)/grid)+2, int((f.box.MaxY-f.box.MinY)/grid)+2
	f.depth = make([]float32, f.w*f.h)
	index := geom.NewIndex(r)
	for j := range f.h {
		for i := range f.w {
			p := geom.Point{X: f.box.MinX + float64(i)*grid, Y: f.box.MinY + float64(j)*grid}
			_, d := index.Nearest(p)
			if !r.Contains(p) {
				d = -d
			}
			f.depth[j*f.w+i] = float32(d)
		}
	}
	return f
}

// at is how far p lies inside, mm; far outside it is at least the reach.
func (f field) at(x, y float64) float64 {
	u, v := (x-f.box.MinX)/grid, (y-f.box.MinY)/grid
	if u < 0 || v < 0 || u >= float64(f.w-1) || v >= float64(f.h-1) {
		return -1e3
	}
	i, j := int(u), int(v)
	a, b := u-float64(i), v-float64(j)
	k := j*f.w + i
	return (float64(f.depth[k])*(1-a)+float64(f.depth[k+1])*a)*(1-b) +
		(float64(f.depth[k+f.w])*(1-a)+float64(f.depth[k+f.w+1])*a)*b
}

// Render draws the picture.
func (s Scene) Render() *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, s.Width, s.Height))
	s.mid = middle(s.Outline)
	c := s.camera()
	f := newField(s.Outline, 30+2*s.Thickness)
	paper := newBox(middle(s.Sheet.Ring()), (s.Sheet.MaxX-s.Sheet.MinX)/2, (s.Sheet.MaxY-s.Sheet.MinY)/2, s.Turn)
	things := s.things()
	rows := func(py int) {
		for px := range s.Width {
			d := c.ray(float64(px), float64(py))
			lambda := -c.at[2] / d[2]
			top := geom.Point{X: c.at[0] + lambda*d[0], Y: c.at[1] + lambda*d[1]}
			low := lambda + s.Thickness/-d[2]
			floor := geom.Point{X: c.at[0] + low*d[0], Y: c.at[1] + low*d[1]}
			size := lambda / c.focal // mm a pixel
			col := s.seen(f, paper, things, top, floor, size)
			grey := s.Noise * (hash(px, py, int(s.Seed)) + hash(px, py, int(s.Seed)+7) - 1) * 1.7
			vignette := 1 - 0.12*math.Pow(math.Hypot(float64(px)-c.cx, float64(py)-c.cy)/c.reach, 2)
			i := img.PixOffset(px, py)
			for k := range 3 {
				img.Pix[i+k] = uint8(min(255, max(0, col[k]*vignette+grey)))
			}
			img.Pix[i+3] = 255
		}
	}
	var work sync.WaitGroup
	hands := runtime.GOMAXPROCS(0)
	for n := range hands {
		work.Go(func() {
			for py := n; py < s.Height; py += hands {
				rows(py)
			}
		})
	}
	work.Wait()
	return img
}

type rgb [3]float64

func of(c color.RGBA) rgb { return rgb{float64(c.R), float64(c.G), float64(c.B)} }

func (a rgb) mix(b rgb, t float64) rgb {
	t = min(1, max(0, t))
	return rgb{a[0] + (b[0]-a[0])*t, a[1] + (b[1]-a[1])*t, a[2] + (b[2]-a[2])*t}
}

func (a rgb) times(k float64) rgb { return rgb{a[0] * k, a[1] * k, a[2] * k} }

// seen is the colour along a ray that passes the top face at top and the
// ground at floor.
func (s Scene) seen(f field, paper box, things []thing, top, floor geom.Point, size float64) rgb {
	depth := f.at(top.X, top.Y)
	var below rgb
	if depth < size {
		below = s.below(f, things, top, floor)
	}
	if depth < -size {
		return below
	}
	face := s.wood(top).times(s.light(top))
	if d := paper.depth(top); d > -size {
		face = face.mix(rgb{243, 243, 238}.times(s.light(top)), 0.5+d/size)
	}
	return below.mix(face, 0.5+depth/size)
}

// below is what a ray sees that misses the top face: the side of the slab, or
// the ground.
func (s Scene) below(f field, things []thing, top, floor geom.Point) rgb {
	const steps = 12
	for i := 1; i <= steps; i++ {
		t := float64(i) / steps
		p := top.Lerp(floor, t)
		if f.at(p.X, p.Y) > 0 { // bark, darker toward the ground
			bark := rgb{88, 70, 54}.mix(of(s.Wood).times(0.35), 0.4)
			return bark.times((1 - 0.4*t) * (0.8 + 0.4*fractal(p.X*0.4, p.Y*0.4, s.Seed+3)) * s.light(p))
		}
	}
	ground := s.ground(floor)
	for _, t := range things {
		if d := t.depth(floor); d > 0 {
			ground = t.colour.times(0.85 + 0.3*fractal(floor.X*0.1, floor.Y*0.1, s.Seed+t.seed))
		}
	}
	contact := f.at(floor.X+6, floor.Y-5) // what the slab itself shades
	shade := 1 - 0.45*min(1, max(0, (contact+8)/14))
	return ground.times(shade * s.light(floor))
}

// light is how much light falls on a place: a soft-edged shadow may lie across.
func (s Scene) light(p geom.Point) float64 {
	if !s.Shadow {
		return 1
	}
	d := (p.X-s.mid.X-110)*0.82 + (p.Y-s.mid.Y)*0.57 + 14*math.Sin(p.Y/60)
	return 1 - 0.42*min(1, max(0, (d+12)/24))
}

// wood is the grain of the top face.
func (s Scene) wood(p geom.Point) rgb {
	base := of(s.Wood)
	bend := 9 * fractal(p.X*0.006, p.Y*0.02, s.Seed)
	ring := 0.5 + 0.5*math.Sin((p.Y+bend*4)*0.42)
	fibre := fractal(p.X*0.03, p.Y*0.9, s.Seed+1)
	return base.mix(base.times(0.72), 0.55*ring*ring+0.35*fibre)
}

// ground is concrete or trodden earth.
func (s Scene) ground(p geom.Point) rgb {
	base := of(s.Ground)
	return base.times(0.86 + 0.24*fractal(p.X*0.05, p.Y*0.05, s.Seed+11) + 0.06*fractal(p.X*0.6, p.Y*0.6, s.Seed+12))
}

// thing is something that lies about.
type thing struct {
	box
	colour rgb
	seed   uint64
}

// box is a rectangle, turned.
type box struct {
	mid      geom.Point
	a, b     float64
	sin, cos float64
}

func newBox(mid geom.Point, a, b, degrees float64) box {
	sin, cos := math.Sincos(degrees * math.Pi / 180)
	return box{mid, a, b, sin, cos}
}

// depth is how far p lies inside the box, mm.
func (t box) depth(p geom.Point) float64 {
	d := p.Sub(t.mid)
	return min(t.a-math.Abs(t.cos*d.X+t.sin*d.Y), t.b-math.Abs(t.cos*d.Y-t.sin*d.X))
}

func (s Scene) things() []thing {
	if !s.Clutter {
		return nil
	}
	around := s.Outline.Bounds()
	palette := []rgb{{60, 84, 120}, {150, 60, 48}, {205, 190, 150}, {46, 60, 48}, {120, 118, 112}, {176, 132, 84}}
	var out []thing
	for i := range 14 {
		u, v, w := hash(i, 1, int(s.Seed)), hash(i, 2, int(s.Seed)), hash(i, 3, int(s.Seed))
		angle := 2 * math.Pi * u
		reach := math.Hypot(around.MaxX-around.MinX, around.MaxY-around.MinY)/2 + 30 + 160*v
		m := middle(s.Outline)
		out = append(
			out,
			thing{
				box: newBox(
					geom.Point{X: m.X + reach*math.Cos(angle), Y: m.Y + reach*0.72*math.Sin(angle)},
					20+60*v,
					6+26*w,
					180*w,
				),
				colour: palette[i%len(palette)],
				seed:   uint64(20 + i),
			},
		)
	}
	return out
}

// hash is a number from 0 to 1 that looks like chance.
func hash(i, j, k int) float64 {
	h := uint64(i)*0x9E3779B97F4A7C15 ^ uint64(j)*0xC2B2AE3D27D4EB4F ^ uint64(k)*0x165667B19E3779F9
	h ^= h >> 29
	h *= 0xBF58476D1CE4E5B9
	h ^= h >> 32
	h *= 0x94D049BB133111EB
	h ^= h >> 29
	return float64(h>>11) / (1 << 53)
}

// fractal is smooth noise of three octaves, from 0 to 1.
func fractal(x, y float64, seed uint64) float64 {
	var sum float64
	weight := 0.57
	for o := range 3 {
		sum += weight * value(x, y, int(seed)+o*131)
		x, y, weight = x*2.1, y*2.1, weight*0.5
	}
	return sum
}

func value(x, y float64, seed int) float64 {
	fx, fy := math.Floor(x), math.Floor(y)
	i, j := int(fx), int(fy)
	u, v := x-fx, y-fy
	u, v = u*u*(3-2*u), v*v*(3-2*v)
	a, b := hash(i, j, seed), hash(i+1, j, seed)
	c, d := hash(i, j+1, seed), hash(i+1, j+1, seed)
	return (a*(1-u)+b*u)*(1-v) + (c*(1-u)+d*u)*v
}

// Slab is an outline about as long and wide as asked, wavy along both sides, a
// function of its seed.
func Slab(length, width float64, seed uint64) geom.Ring {
	var ring geom.Ring
	const n = 120
	edge := func(x float64, side int) float64 {
		t := x / length
		wave := 0.5 * width * (0.07*math.Sin(2*math.Pi*(t*(1+hash(side, 1, int(seed))*1.2)+hash(side, 2,
			int(seed)))) + 0.035*math.Sin(2*math.Pi*(t*(3+2*hash(side, 3, int(seed)))+hash(side, 4, int(seed)))))
		return 0.5*width*0.88 + wave
	}
	for i := range n + 1 {
		x := length * float64(i) / n
		ring = append(ring, geom.Point{X: x, Y: -edge(x, 1)})
	}
	for i := n; i >= 0; i-- {
		x := length * float64(i) / n
		ring = append(ring, geom.Point{X: x, Y: edge(x, 2)})
	}
	return ring
}

// Sample is an easy scene to try with: a slab of plane on concrete under a
// sheet of A4.
func Sample(seed uint64) Scene {
	outline := Slab(600, 300, seed)
	return Scene{
		Outline: outline, Thickness: 34, Sheet: geom.Bounds{MinX: 150, MinY: -105 + 2, MaxX: 447, MaxY: 107}, Turn: 1,
		Width: 1440, Height: 1080, Tilt: 18, Azimuth: -70, Roll: 3, Distance: 1500, View: 900, Barrel: -0.004,
		Wood: color.RGBA{
			206,
			168,
			124,
			255,
		}, Ground: color.RGBA{128, 130, 128, 255}, Noise: 3, Shadow: true, Clutter: true, Seed: seed,
	}
}
