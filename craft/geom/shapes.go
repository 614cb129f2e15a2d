package geom

import "github.com/tdewolff/canvas"

// bulge continues a path to x, y by a quarter arc of radius r; left turns it
// anticlockwise. A radius of 0 draws nothing.
func bulge(p *canvas.Path, r float64, left bool, x, y float64) {
	if r > 0 {
		p.ArcTo(r, r, 0, false, left, x, y)
	}
}

// SoftRectangle is a rectangle about the origin, length along x, with corners
// of the given radius, at most half of the shorter side. It runs anticlockwise.
func SoftRectangle(length, width, radius float64) *canvas.Path {
	x, y := length/2, width/2
	r := min(max(radius, 0), x, y)
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
}

// Paddle is a paddle about the middle of its whole length, the neck toward +x,
// its end rounded. Radii that do not fit are reduced.
func Paddle(s PaddleSize) *canvas.Path {
	x, y, n := s.Length/2, s.Width/2, min(s.Neck, s.Width)/2
	shoulder := x - s.NeckLength
	step := y - n
	hollow := min(max(s.Shoulder, 0), step, s.NeckLength/2)
	corner := min(max(s.Corner, 0), y, (shoulder+x)/2)
	front := min(corner, step-hollow)
	tip := min(n, s.NeckLength-hollow)
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

// Slot is a hole with round ends about c, of the given length over all and
// width; across turns it to lie along y. A slot as long as wide is a circle.
func Slot(c Point, length, width float64, across bool) *canvas.Path {
	p := SoftRectangle(max(length, width), width, width/2)
	if across {
		p = p.Transform(canvas.Identity.Rotate(90))
	}
	return p.Translate(c.X, c.Y)
}
