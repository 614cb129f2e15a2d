package geom

import (
	"math"

	"github.com/tdewolff/canvas"
)

// sharp is the largest radius of a corner that counts as none, mm: of smaller arcs
// the path would not keep the direction.
const sharp = 0.01

// bulge continues a path to x, y by a quarter arc of radius r; left turns it
// anticlockwise. A sharp corner is a straight line.
func bulge(p *canvas.Path, r float64, left bool, x, y float64) {
	switch {
	case r > sharp:
		p.ArcTo(r, r, 0, false, left, x, y)
	case r > 0:
		p.LineTo(x, y)
	}
}

// rounded is a radius, or none where it would be no more than a sharp corner's.
func rounded(r float64) float64 {
	if r <= sharp {
		return 0
	}
	return r
}

// SoftRectangle is a rectangle about the origin, length along x, with corners
// of the given radius, at most half of the shorter side. It runs anticlockwise.
func SoftRectangle(length, width, radius float64) *canvas.Path {
	x, y := length/2, width/2
	r := rounded(min(radius, x, y))
	p := &canvas.Path{}
	p.MoveTo(-x+r, -y)
	p.LineTo(x-r, -y)
	bulge(p, r, true, x, -y+r)
	p.LineTo(x, y-r)
	bulge(p, r, true, x-r, y)
	p.LineTo(-x+r, y)
	bulge(p, r, true, -x, y-r)
	p.LineTo(-x, -y+r)
	bulge(p, r, true, -x+r, -y)
	p.Close()
	return p
}

// PaddleSize names the dimensions of a paddle, in mm: a soft rectangle with a
// neck along its length.
type PaddleSize struct {
	Length, Width float64 // over all
	Corner        float64 // radius of the body's corners
	Neck          float64 // width of the neck
	NeckLength    float64 // from the shoulder to the end
	Shoulder      float64 // radius of the hollow where the neck meets the body
	Tip           float64 // radius of the corners of the neck's end, 0 for a full round
}

// Paddle is a paddle about the middle of its whole length, the neck toward +x,
// its end rounded. Radii that do not fit are reduced.
func Paddle(s PaddleSize) *canvas.Path {
	x, y, n := s.Length/2, s.Width/2, min(s.Neck, s.Width)/2
	shoulder := x - s.NeckLength
	step := y - n
	hollow := rounded(min(s.Shoulder, step, s.NeckLength/2))
	corner := rounded(min(s.Corner, y, (shoulder+x)/2))
	front := rounded(min(corner, step-hollow))
	tip := min(n, s.NeckLength-hollow)
	if s.Tip > 0 {
		tip = rounded(min(tip, s.Tip))
	}
	p := &canvas.Path{}
	p.MoveTo(-x+corner, -y)
	p.LineTo(shoulder-front, -y)
	bulge(p, front, true, shoulder, -y+front)
	p.LineTo(shoulder, -n-hollow)
	bulge(p, hollow, false, shoulder+hollow, -n)
	p.LineTo(x-tip, -n)
	bulge(p, tip, true, x, -n+tip)
	p.LineTo(x, n-tip)
	bulge(p, tip, true, x-tip, n)
	p.LineTo(shoulder+hollow, n)
	bulge(p, hollow, false, shoulder, n+hollow)
	p.LineTo(shoulder, y-front)
	bulge(p, front, true, shoulder-front, y)
	p.LineTo(-x+corner, y)
	bulge(p, corner, true, -x, y-corner)
	p.LineTo(-x, -y+corner)
	bulge(p, corner, true, -x+corner, -y)
	p.Close()
	return p
}

// quarters is how many curves draw a quarter of an oval; it strays less than a
// millionth of its size then.
const quarters = 4

// Oval is an ellipse about the origin, length along x. It runs anticlockwise.
func Oval(length, width float64) *canvas.Path {
	if length == width {
		return SoftRectangle(length, width, width/2)
	}
	a, b := length/2, width/2
	const n = 4 * quarters
	k := 4.0 / 3 * math.Tan(math.Pi/(2*n))
	p := &canvas.Path{}
	p.MoveTo(a, 0)
	for i := range n {
		s0, c0 := math.Sincos(2 * math.Pi * float64(i) / n)
		s1, c1 := math.Sincos(2 * math.Pi * float64(i+1) / n)
		p.CubeTo(a*(c0-k*s0), b*(s0+k*c0), a*(c1+k*s1), b*(s1-k*c1), a*c1, b*s1)
	}
	p.Close()
	return p
}

// Teardrop is round at −x, as wide as width, and runs straight to a tip of
// radius tip at +x. It runs anticlockwise about the middle of its length.
func Teardrop(length, width, tip float64) *canvas.Path {
	big := min(width, length) / 2
	small := min(max(tip, 0), big*0.98, (length-2*big)/2+big*0.98)
	cb, cs := -length/2+big, length/2-small
	between := cs - cb
	if between <= big-small { // no longer than wide
		return Oval(length, width)
	}
	cos := (big - small) / between // of the angle between the axis and the radius to the touching point
	sin := math.Sqrt(1 - cos*cos)
	p := &canvas.Path{}
	p.MoveTo(cb+big*cos, -big*sin)
	p.LineTo(cs+small*cos, -small*sin)
	if small > 0 {
		p.ArcTo(small, small, 0, false, true, cs+small*cos, small*sin)
	}
	p.LineTo(cb+big*cos, big*sin)
	p.ArcTo(big, big, 0, true, true, cb+big*cos, -big*sin)
	p.Close()
	return p
}

// Heart has its point at −x, rounded by tip, and two lobes at +x, the notch
// between them rounded by notch.
func Heart(length, width, tip, notch float64) *canvas.Path {
	r := min(0.28*width, 0.45*length)
	off := width/2 - r
	cx := length/2 - r
	point := Point{X: -length / 2}
	// The tip's own circle, then its common tangent with the lobe.
	t := min(max(tip, 0), 0.4*r)
	centre := Point{X: point.X + t}
	to := Point{X: cx - centre.X, Y: -off}
	d := to.Len()
	base := math.Atan2(to.Y, to.X)
	lean := math.Asin((r - t) / d)
	normal := base - lean - math.Pi/2 // outward, on the right of the way to the lobe
	ns, nc := math.Sincos(normal)
	f := max(notch, 0)
	nx := cx + math.Sqrt(max(0, (r+f)*(r+f)-off*off)) // centre of the notch's circle
	touch := Point{X: cx, Y: -off}.Lerp(Point{X: nx}, r/(r+f))
	p := &canvas.Path{}
	p.MoveTo(centre.X+t*nc, centre.Y+t*ns)
	p.LineTo(cx+r*nc, -off+r*ns)
	p.ArcTo(
		r,
		r,
		0,
		turned(Point{X: cx, Y: -off}, Point{X: cx + r*nc, Y: -off + r*ns}, touch) > math.Pi,
		true,
		touch.X,
		touch.Y,
	)
	if f > 0 {
		p.ArcTo(f, f, 0, false, false, touch.X, -touch.Y)
	}
	p.ArcTo(
		r,
		r,
		0,
		turned(Point{X: cx, Y: off}, Point{X: touch.X, Y: -touch.Y}, Point{X: cx + r*nc, Y: off - r*ns}) > math.Pi,
		true,
		cx+r*nc,
		off-r*ns,
	)
	p.LineTo(centre.X+t*nc, -centre.Y-t*ns)
	if t > 0 {
		p.ArcTo(t, t, 0, false, true, centre.X+t*nc, centre.Y+t*ns)
	}
	p.Close()
	return p
}

// turned is the angle, 0 to 2π, by which one turns anticlockwise about a
// centre from a to b.
func turned(centre, a, b Point) float64 {
	u, v := a.Sub(centre), b.Sub(centre)
	angle := math.Atan2(u.X*v.Y-u.Y*v.X, u.X*v.X+u.Y*v.Y)
	if angle < 0 {
		angle += 2 * math.Pi
	}
	return angle
}

// HalfMoon is the part of a round that a straight cut along x takes off, its
// straight side at −y; height is at most half of length. Its two corners are
// rounded.
func HalfMoon(length, height, corner float64) *canvas.Path {
	h := min(height, length/2)
	base := -h / 2
	f := rounded(min(corner, 0.45*h))
	// Rounded corners stand in from the ends of the chord, which is drawn out
	// until they reach the length.
	big, fx := 0.0, 0.0
	for chord := length; ; chord += length - 2*(fx+f) {
		big = (chord*chord/4 + h*h) / (2 * h)
		up := base + f - (h/2 - big)
		fx = math.Sqrt((big-f)*(big-f) - up*up)
		if f == 0 || math.Abs(length-2*(fx+f)) < 1e-6 {
			break
		}
	}
	cy := h/2 - big
	p := &canvas.Path{}
	if f == 0 {
		p.MoveTo(-length/2, base)
		p.LineTo(length/2, base)
		p.ArcTo(big, big, 0, false, true, -length/2, base)
		p.Close()
		return p
	}
	fy := base + f
	away := Point{X: fx, Y: fy - cy}
	touch := Point{X: 0, Y: cy}.Add(away.Scale(big / away.Len()))
	p.MoveTo(-fx, base)
	p.LineTo(fx, base)
	p.ArcTo(f, f, 0, false, true, touch.X, touch.Y)
	p.ArcTo(big, big, 0, false, true, -touch.X, touch.Y)
	p.ArcTo(f, f, 0, false, true, -fx, base)
	p.Close()
	return p
}

// Crescent is a sickle about the origin, its horns toward −x: a round less a
// round of the same size moved off by its width.
func Crescent(length, width float64) *canvas.Path {
	r := length / 2
	w := min(width, 0.95*length)
	// The two circles cross where x is half way between their centres.
	h := math.Sqrt(r*r - w*w/4)
	p := &canvas.Path{}
	x := w/2 - r // centre of the outer circle so that the sickle is about the origin
	p.MoveTo(x-w/2, -h)
	p.ArcTo(r, r, 0, true, true, x-w/2, h)
	p.ArcTo(r, r, 0, false, false, x-w/2, -h)
	p.Close()
	b := p.Bounds()
	return p.Translate(-(b.X0+b.X1)/2, 0)
}
