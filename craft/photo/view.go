package photo

import (
	"image"
	"math"
	"slices"

	"gonum.org/v1/gonum/mat"

	"idletimber/craft/geom"
)

// View carries the plane of the sheet to the picture: a homography, then the
// lens, which moves a point away from the middle by a share that grows with the
// square of its distance.
type View struct {
	h      [9]float64 // plane (mm) to the picture about its middle, in units of its half diagonal
	back   [9]float64
	mid    geom.Point
	reach  float64
	bend   float64
	bounds geom.Bounds // of the picture, pixels
	paper  geom.Bounds // of the sheet on the plane
}

// Pixel is where a point of the plane is seen.
func (v View) Pixel(p geom.Point) geom.Point {
	q := apply(v.h, p)
	k := 1 + v.bend*(q.X*q.X+q.Y*q.Y)
	return geom.Point{X: v.mid.X + v.reach*q.X*k, Y: v.mid.Y + v.reach*q.Y*k}
}

// Plane is the point of the plane that a pixel shows.
func (v View) Plane(p geom.Point) geom.Point {
	return apply(v.back, v.straight(p))
}

// straight undoes the lens.
func (v View) straight(p geom.Point) geom.Point {
	d := geom.Point{X: (p.X - v.mid.X) / v.reach, Y: (p.Y - v.mid.Y) / v.reach}
	q := d
	for range 5 {
		q = d.Scale(1 / (1 + v.bend*(q.X*q.X+q.Y*q.Y)))
	}
	return q
}

// pixels is how many pixels a mm of the plane takes at a point.
func (v View) pixels(p geom.Point) float64 {
	a, b, c := v.Pixel(p), v.Pixel(p.Add(geom.Point{X: 1})), v.Pixel(p.Add(geom.Point{Y: 1}))
	return math.Sqrt(math.Abs((b.X-a.X)*(c.Y-a.Y) - (b.Y-a.Y)*(c.X-a.X)))
}

func apply(h [9]float64, p geom.Point) geom.Point {
	w := h[6]*p.X + h[7]*p.Y + h[8]
	return geom.Point{X: (h[0]*p.X + h[1]*p.Y + h[2]) / w, Y: (h[3]*p.X + h[4]*p.Y + h[5]) / w}
}

func invert(h [9]float64) ([9]float64, bool) {
	m := mat.NewDense(3, 3, slices.Clone(h[:]))
	var inv mat.Dense
	if err := inv.Inverse(m); err != nil {
		return h, false
	}
	return [9]float64(inv.RawMatrix().Data), true
}

// homography carries four points to four others.
func homography(from, to [4]geom.Point) ([9]float64, bool) {
	a, b := mat.NewDense(8, 8, nil), mat.NewVecDense(8, nil)
	for i := range from {
		p, q := from[i], to[i]
		a.SetRow(2*i, []float64{p.X, p.Y, 1, 0, 0, 0, -q.X * p.X, -q.X * p.Y})
		a.SetRow(2*i+1, []float64{0, 0, 0, p.X, p.Y, 1, -q.Y * p.X, -q.Y * p.Y})
		b.SetVec(2*i, q.X)
		b.SetVec(2*i+1, q.Y)
	}
	var x mat.VecDense
	if err := x.SolveVec(a, b); err != nil {
		return [9]float64{}, false
	}
	h := [9]float64{8: 1}
	copy(h[:], x.RawVector().Data)
	return h, true
}

// Spread is how sure the view is: the covariance of its numbers, the sheet's
// corners on the picture and the bend of the lens.
type Spread struct {
	view    View
	corners [4]geom.Point // straightened, in half diagonals
	sheet   [4]geom.Point
	cov     *mat.SymDense // of the corners' eight coordinates and the bend
}

// at is the expected error over the nodes of a ring, mm rms.
func (s Spread) at(r geom.Ring) float64 {
	const h = 1e-5
	base := make([]geom.Point, len(r))
	for i, p := range r {
		base[i] = s.view.Pixel(p)
	}
	jac := make([][]geom.Point, 9)
	for k := range 9 {
		moved, bend := s.corners, s.view.bend
		switch {
		case k == 8:
			bend += h
		case k%2 == 0:
			moved[k/2].X += h
		default:
			moved[k/2].Y += h
		}
		v, ok := s.view.with(s.sheet, moved, bend)
		if !ok {
			return math.Inf(1)
		}
		jac[k] = make([]geom.Point, len(r))
		for i := range r {
			jac[k][i] = v.Plane(base[i]).Sub(r[i]).Scale(1 / h)
		}
	}
	var sum float64
	for i := range r {
		for a := range 9 {
			for b := range 9 {
				sum += s.cov.At(a, b) * (jac[a][i].X*jac[b][i].X + jac[a][i].Y*jac[b][i].Y)
			}
		}
	}
	// Across the edge only half of it shows.
	return math.Sqrt(max(0, sum/2/float64(len(r))))
}

// with is the view in which the sheet's corners are seen at straightened
// places, and the lens bends so much.
func (v View) with(sheet, corners [4]geom.Point, bend float64) (View, bool) {
	h, ok := homography(sheet, corners)
	if !ok {
		return v, false
	}
	v.h, v.bend = h, bend
	v.back, ok = invert(h)
	return v, ok
}

// ring4 is the sheet's corners in the order in which they were marked.
func ring4(w, h float64) [4]geom.Point { return [4]geom.Point{{}, {X: w}, {X: w, Y: h}, {Y: h}} }

// Look reads the view from the marked corners and sharpens it by the sheet's
// sides.
func Look(img *image.RGBA, corners [4]geom.Point, sheet Sheet) (View, Spread, error) {
	b := img.Bounds()
	v := View{
		mid:    geom.Point{X: float64(b.Dx()-1) / 2, Y: float64(b.Dy()-1) / 2},
		bounds: geom.Bounds{MaxX: float64(b.Dx() - 1), MaxY: float64(b.Dy() - 1)},
	}
	v.reach = v.mid.Len()
	quad := geom.Ring(corners[:])
	if quad.SelfCrosses() || quad.Area() < 0.002*float64(b.Dx()*b.Dy()) || !convex(quad) {
		return v, Spread{}, ErrCorners
	}
	// The plane's y runs up while the picture's runs down.
	if quad.SignedArea() > 0 {
		corners[1], corners[3] = corners[3], corners[1]
	}
	side := func(i int) float64 { return corners[(i+1)%4].Sub(corners[i]).Len() }
	w, h := sheet.Width, sheet.Height
	if (side(0)+side(2) > side(1)+side(3)) != (w > h) {
		w, h = h, w
	}
	places := ring4(w, h)
	v.paper = geom.Bounds{MaxX: w, MaxY: h}
	var straight [4]geom.Point
	for i, c := range corners {
		straight[i] = v.straight(c)
	}
	first, ok := v.with(places, straight, 0)
	if !ok {
		return v, Spread{}, ErrCorners
	}
	return first.fit(img, places, straight)
}

func convex(r geom.Ring) bool {
	turns := 0
	for i := range r {
		a, b, c := r[i], r[(i+1)%len(r)], r[(i+2)%len(r)]
		if (b.X-a.X)*(c.Y-b.Y)-(b.Y-a.Y)*(c.X-b.X) > 0 {
			turns++
		}
	}
	return turns == 0 || turns == len(r)
}

// How far off a corner may have been marked, in pixels of the picture, and how
// much a lens bends at the corner of a picture (rules for cameras in pockets).
const (
	markedWithin = 1.0
	usualBend    = 0.012
)

// alike tells how little neighbouring points of a side tell apart from one
// another: their errors go together, so that so many squared count as one.
const alike = 2.8

// fit moves the corners and the bend until the sheet's sides, as they are
// seen, lie on the sides of the sheet (Gauss and Newton, weighted after Huber).
func (v View) fit(img *image.RGBA, places, straight [4]geom.Point) (View, Spread, error) {
	const unknowns = 9
	sides := v.sides(img, places)
	marked, bend := straight, 0.0
	sigma := markedWithin / v.reach
	var normal *mat.SymDense
	noise := sigma / 2
	for round := range 8 {
		var rows [][]float64
		var res []float64
		now, ok := v.with(places, straight, bend)
		if !ok {
			return v, Spread{}, ErrCorners
		}
		residual := func(at View) []float64 {
			out := make([]float64, len(sides))
			for i, s := range sides {
				out[i] = at.offSide(s, places)
			}
			return out
		}
		base := residual(now)
		const h = 1e-6
		jac := make([][]float64, unknowns)
		for k := range unknowns {
			moved, b := straight, bend
			switch {
			case k == 8:
				b += h
			case k%2 == 0:
				moved[k/2].X += h
			default:
				moved[k/2].Y += h
			}
			at, ok := v.with(places, moved, b)
			if !ok {
				return v, Spread{}, ErrCorners
			}
			jac[k] = residual(at)
			for i := range jac[k] {
				jac[k][i] = (jac[k][i] - base[i]) / h
			}
		}
		if n := len(base); n > 12 {
			abs := make([]float64, n)
			for i, r := range base {
				abs[i] = math.Abs(r)
			}
			slices.Sort(abs)
			noise = max(1.48*abs[n/2], 0.05/v.reach)
		}
		for i, r := range base {
			weight := 1 / (noise * alike)
			if a := math.Abs(r) / noise; a > 2 {
				weight *= math.Sqrt(2 / a)
			}
			row := make([]float64, unknowns)
			for k := range unknowns {
				row[k] = jac[k][i] * weight
			}
			rows, res = append(rows, row), append(res, r*weight)
		}
		for i := range 4 { // the corners lie near their marks, and lenses bend little
			for d := range 2 {
				row := make([]float64, unknowns)
				row[2*i+d] = 1 / (3 * sigma)
				off := straight[i].X - marked[i].X
				if d == 1 {
					off = straight[i].Y - marked[i].Y
				}
				if len(sides) < 40 { // nothing else holds them
					row[2*i+d] = 1 / sigma
				}
				rows, res = append(rows, row), append(res, off*row[2*i+d])
			}
		}
		rows, res = append(rows, append(make([]float64, 8), 1/usualBend)), append(res, bend/usualBend)
		a := mat.NewDense(len(rows), unknowns, slices.Concat(rows...))
		r := mat.NewVecDense(len(res), res)
		var ata mat.Dense
		ata.Mul(a.T(), a)
		normal = mat.NewSymDense(unknowns, ata.RawMatrix().Data)
		var rhs, step mat.VecDense
		rhs.MulVec(a.T(), r)
		if err := step.SolveVec(normal, &rhs); err != nil {
			return v, Spread{}, ErrCorners
		}
		for i := range straight {
			straight[i].X -= step.AtVec(2 * i)
			straight[i].Y -= step.AtVec(2*i + 1)
		}
		bend -= step.AtVec(8)
		if round == 2 { // look for the sides again from nearer
			if at, ok := v.with(places, straight, bend); ok {
				sides = at.sides(img, places)
			}
		}
	}
	out, ok := v.with(places, straight, bend)
	if !ok {
		return v, Spread{}, ErrCorners
	}
	var chol mat.Cholesky
	cov := mat.NewSymDense(unknowns, nil)
	if !chol.Factorize(normal) || chol.InverseTo(cov) != nil {
		return v, Spread{}, ErrCorners
	}
	return out, Spread{out, straight, places, cov}, nil
}

// seen is a point of one side of the sheet on the picture, pixels.
type seen struct {
	side int
	at   geom.Point
}

// offSide is how far a seen point lies off its side, in half diagonals, on the
// straightened picture.
func (v View) offSide(s seen, places [4]geom.Point) float64 {
	a, b := apply(v.h, places[s.side]), apply(v.h, places[(s.side+1)%4])
	p := v.straight(s.at)
	d := b.Sub(a)
	return ((p.X-a.X)*d.Y - (p.Y-a.Y)*d.X) / d.Len()
}

// sides finds the paper's edge along each side: where the brightness changes
// most on a short line across it.
func (v View) sides(img *image.RGBA, places [4]geom.Point) []seen {
	const a = 60 // points a side
	var out []seen
	inside := geom.Point{X: (places[0].X + places[2].X) / 2, Y: (places[0].Y + places[2].Y) / 2}
	for side := range 4 {
		p, q := places[side], places[(side+1)%4]
		var found []seen
		for i := range a {
			t := 0.06 + 0.88*float64(i)/(a-1)
			on := p.Lerp(q, t)
			inward := inside.Sub(p.Lerp(q, 0.5))
			inward = inward.Scale(1 / inward.Len())
			m, n := v.Pixel(on), v.Pixel(on.Add(inward))
			d := n.Sub(m)
			d = d.Scale(1 / d.Len())
			if at, ok := step(img, m, d); ok {
				found = append(found, seen{side, at})
			}
		}
		out = append(out, found...)
	}
	return out
}

// step finds the place of the sharpest step up in brightness along d about m,
// to a part of a pixel: paper is brighter than wood.
func step(img *image.RGBA, m, d geom.Point) (geom.Point, bool) {
	const reach, fine = 7.0, 0.5
	n := int(2*reach/fine) + 1
	light := make([]float64, n)
	for i := range n {
		t := -reach + float64(i)*fine
		light[i] = brightness(img, m.X+d.X*t, m.Y+d.Y*t)
	}
	const half = 3
	slope := make([]float64, n)
	best := half
	for i := half; i < n-half; i++ {
		for k := 1; k <= half; k++ {
			slope[i] += light[i+k] - light[i-k]
		}
		if slope[i] > slope[best] {
			best = i
		}
	}
	if best <= half || best >= n-half-1 || slope[best] < 3*12 {
		return m, false
	}
	// The middle of the slope, weighted, is steadier than its peak.
	var sum, at float64
	for i := max(half, best-4); i <= min(n-half-1, best+4); i++ {
		if w := slope[i] - slope[best]/2; w > 0 {
			sum, at = sum+w, at+w*float64(i)
		}
	}
	t := -reach + at/sum*fine
	return geom.Point{X: m.X + d.X*t, Y: m.Y + d.Y*t}, true
}

// brightness is the mean of the three colours at a place between pixels.
func brightness(img *image.RGBA, x, y float64) float64 {
	b := img.Bounds()
	x, y = min(max(x, 0), float64(b.Dx()-2)), min(max(y, 0), float64(b.Dy()-2))
	i, j := int(x), int(y)
	u, w := x-float64(i), y-float64(j)
	grey := func(i, j int) float64 {
		k := img.PixOffset(b.Min.X+i, b.Min.Y+j)
		return float64(int(img.Pix[k])+int(img.Pix[k+1])+int(img.Pix[k+2])) / 3
	}
	return (grey(i, j)*(1-u)+grey(i+1, j)*u)*(1-w) + (grey(i, j+1)*(1-u)+grey(i+1, j+1)*u)*w
}
