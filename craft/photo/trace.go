package photo

import (
	"errors"
	"image"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
)

// What can be wrong with two marks.
var (
	ErrMarks  = errors.New("the two marks lie on one another: set them as far apart as the picture allows")
	ErrNoLine = errors.New(
		"no shape stands out from the ground: it must lie whole in the picture, on ground of another colour; or draw " +
			"it by hand over the picture",
	)
)

// Trace finds the outline of a shape on a picture that was taken square from above, or drawn:
// a template, a board, a sketch. Its scale is given by two marks, in pixels, whose distance is
// known, mm; what lies at the rim of the picture is ground. The watch may end it.
func Trace(watch craft.Watch, img *image.RGBA, marks [2]geom.Point, distance float64) (Found, error) {
	v, err := scaled(img, marks, distance)
	if err != nil {
		return Found{}, err
	}
	// Whatever the scale is, the line is looked for where a pixel is as large as on a photograph
	// of a slab.
	const pixel, widest = 0.5, 1200.0 // mm
	b := img.Bounds()
	each := min(pixel, widest/float64(max(b.Dx(), b.Dy())))
	near, err := scaled(img, marks, each*marks[1].Sub(marks[0]).Len())
	if err != nil {
		return Found{}, err
	}
	ring, err := standsOut(watch, img, near)
	if err != nil {
		return Found{}, err
	}
	border, blur, sharpest := even(ring, spacing), gridOver(near).step, 0.0
	src := fine(img, near, geom.Point{})
	for _, looks := range [][]glance{alongSlab, alongCorners} {
		for from := 0; from < len(ring); from += max(1, len(ring)/begun) { // where one begins, it may go astray
			if err := watch.Ask(); err != nil {
				return Found{}, err
			}
			turned := slices.Concat(ring[from:], ring[:from])
			// A line that was drawn has the same colour on both sides: there it stays as it is.
			if out, rough, sure := sharpen(src, near, turned, 0, looks); sure > sharpest && !out.SelfCrosses() {
				border, blur, sharpest = out, rough, sure
			}
		}
	}
	border = border.Map(func(p geom.Point) geom.Point { return v.Plane(near.Pixel(p)) })
	blur *= near.pixels(geom.Point{}) / v.pixels(geom.Point{})
	f := lengthwise(border, v)
	f.Error = math.Hypot(v.marked(marks)*f.Length, max(blur, 0.5/v.pixels(geom.Point{}), surest))
	return f, nil
}

// begun is from how many places of a border it is looked along.
const begun = 4

// ByHand is an oval about the middle of two marks, as long as they are apart, to be drawn on
// from by hand.
func ByHand(img *image.RGBA, marks [2]geom.Point, distance float64) (Found, error) {
	v, err := scaled(img, marks, distance)
	if err != nil {
		return Found{}, err
	}
	const nodes = 16
	a, b := v.Plane(marks[0]), v.Plane(marks[1])
	at := geom.Placement{X: (a.X + b.X) / 2, Y: (a.Y + b.Y) / 2, Angle: math.Atan2(b.Y-a.Y, b.X-a.X) * 180 / math.Pi}
	oval := make(geom.Ring, nodes)
	for i := range oval {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / nodes)
		oval[i] = at.Out(geom.Point{X: cos * distance / 2, Y: sin * distance / 4})
	}
	f := lengthwise(oval, v)
	f.Error = math.Hypot(v.marked(marks)*f.Length, 0.5/v.pixels(geom.Point{}))
	return f, nil
}

// marked is by what share a length may be wrong where each mark is set within a pixel.
func (v View) marked(marks [2]geom.Point) float64 { return math.Sqrt2 / marks[1].Sub(marks[0]).Len() }

// scaled is the view square from above in which two marks are so far apart. Its plane has the
// middle of the picture at its origin.
func scaled(img *image.RGBA, marks [2]geom.Point, distance float64) (View, error) {
	b := img.Bounds()
	apart := marks[1].Sub(marks[0]).Len()
	if apart < 0.02*math.Hypot(float64(b.Dx()), float64(b.Dy())) {
		return View{}, ErrMarks
	}
	v := View{
		mid:    geom.Point{X: float64(b.Dx()-1) / 2, Y: float64(b.Dy()-1) / 2},
		bounds: geom.Bounds{MaxX: float64(b.Dx() - 1), MaxY: float64(b.Dy() - 1)},
	}
	v.reach = v.mid.Len()
	mm := distance / apart * v.reach // to a half diagonal
	v.h = [9]float64{1 / mm, 0, 0, 0, -1 / mm, 0, 0, 0, 1}
	v.back = [9]float64{mm, 0, 0, 0, -mm, 0, 0, 0, 1}
	return v, nil
}

// standsOut is the border of the largest part that differs from what lies at the rim.
func standsOut(watch craft.Watch, img *image.RGBA, v View) (geom.Ring, error) {
	g := gridOver(v)
	n := g.w * g.h
	src := smaller(img, int(min(32, max(1, math.Round(v.pixels(geom.Point{})*g.step)))))
	look, known := make([]feature, n), make([]uint8, n)
	for k := range n {
		p := v.Pixel(g.place(k))
		look[k] = featureOf(src.at(p.X, p.Y))
	}
	rim := g.rim()
	seen := make([]feature, len(rim))
	for i, k := range rim {
		known[k], seen[i] = ground, look[k]
	}
	clouds := newMixture(seen, 4)
	likely := make([]float64, len(rim))
	for i, f := range seen {
		likely[i] = clouds.log(f)
	}
	slices.Sort(likely)
	least := likely[len(likely)/50] - 6 // hardly any ground looks so little like it
	is := make([]bool, n)
	for k := range n {
		is[k] = known[k] != ground && clouds.log(look[k]) < least
	}
	largest := func(u []float32) []bool { // as it is: what a drawn line encloses is ground by its colour
		var most []int
		seen := make([]bool, n)
		for k := range n {
			part := overrun(seen, g, []int{k}, func(k int) bool { return u[k] > 0.5 && known[k] != ground })
			if len(part) > len(most) {
				most = part
			}
		}
		out := make([]bool, n)
		for _, k := range most {
			out[k] = true
		}
		return out
	}
	ring, err := divide(watch, g, look, known, is, largest)
	if errors.Is(err, ErrNoEdge) {
		return nil, ErrNoLine
	}
	return ring, err
}
