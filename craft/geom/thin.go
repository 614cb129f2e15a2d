package geom

import (
	"cmp"
	"math"
	"slices"
)

// Waist is a place where an outline draws in: its chord from A to B, and the
// parts of the ring on its two sides, the smaller first.
type Waist struct {
	A, B         Point
	Width        float64 // mm
	Small, Large Ring
}

// How waists are looked for.
const (
	waistSides = 0.3  // mm that the outline is simplified by
	waistGrows = 1.15 // how much wider a ring must become on both sides of a waist
	waistFaces = -0.8 // cosine: the two sides of a waist face each other
)

// Waists finds where a ring that runs anticlockwise draws in, the narrowest
// first. It looks across the ring from points step mm apart.
func (r Ring) Waists(step float64) []Waist {
	rim := r.Simplified(waistSides).Dense(step)
	n := len(rim)
	if n < 12 {
		return nil
	}
	sides := r.Simplified(waistSides)
	width, hit := make([]float64, n), make([]Point, n)
	for i := range rim {
		a, b := rim[(i+n-1)%n], rim[(i+1)%n]
		along := b.Sub(a)
		inward := Point{-along.Y, along.X}.Scale(1 / max(along.Len(), 1e-9))
		width[i], hit[i] = sides.across(rim[i], inward)
	}
	var out []Waist
	from := slices.Index(width, slices.Max(width))
	for k := 0; k < n; k++ {
		first := k
		for k < n && lowest(width, (from+k)%n) {
			k++
		}
		if k == first {
			continue
		}
		i := (from + (first+k-1)/2) % n // the middle of a stretch that is alike
		w, ok := r.cut(rim, i, hit[i], width[i])
		if ok && !slices.ContainsFunc(out, func(o Waist) bool { return near(o, w) }) {
			out = append(out, w)
		}
	}
	slices.SortStableFunc(out, func(a, b Waist) int { return cmp.Compare(a.Width, b.Width) })
	return out
}

// near reports two findings of one waist.
func near(a, b Waist) bool {
	mid := a.A.Lerp(a.B, 0.5).Sub(b.A.Lerp(b.B, 0.5)).Len()
	return mid < 0.75*max(a.Width, b.Width)
}

// across is how far one gets from p in a direction before the ring is crossed,
// where the far side faces back; infinite where it does not.
func (r Ring) across(p, d Point) (float64, Point) {
	least, facing := math.Inf(1), 0.0
	for i := range r {
		a, b := r.Edge(i)
		e := b.Sub(a)
		det := d.X*-e.Y + d.Y*e.X
		if math.Abs(det) < 1e-12 {
			continue
		}
		q := a.Sub(p)
		t := (q.X*-e.Y + q.Y*e.X) / det
		u := (d.X*q.Y - d.Y*q.X) / det
		if t > 1e-6 && t < least && u >= 0 && u <= 1 {
			least = t
			facing = (-e.Y*d.X + e.X*d.Y) / max(e.Len(), 1e-9) // inward normal of the far side along d
		}
	}
	if facing > waistFaces {
		return math.Inf(1), Point{}
	}
	return least, p.Add(d.Scale(least))
}

// lowest reports whether the width at i grows on both sides before it falls
// noticeably lower.
func lowest(width []float64, i int) bool {
	const noticeable = 0.98
	n := len(width)
	if math.IsInf(width[i], 1) {
		return false
	}
	grows := func(way int) bool {
		for k := 1; k < n/2; k++ {
			switch w := width[((i+way*k)%n+n)%n]; {
			case w > waistGrows*width[i]:
				return true
			case w < noticeable*width[i]:
				return false
			}
		}
		return false
	}
	return grows(1) && grows(-1)
}

// cut cuts the ring at a chord and keeps it if the smaller part is no mere tip.
func (r Ring) cut(rim Ring, i int, to Point, width float64) (Waist, bool) {
	n := len(rim)
	j, far := 0, math.Inf(1)
	for k := range rim {
		if d := rim[k].Sub(to).square(); d < far {
			j, far = k, d
		}
	}
	part := func(from, until int) Ring {
		var out Ring
		for k := from; k != until; k = (k + 1) % n {
			out = append(out, rim[k])
		}
		return append(out, rim[until])
	}
	a, b := part(i, j), part(j, i)
	w := Waist{A: rim[i], B: to, Width: width, Small: a, Large: b}
	if a.Area() > b.Area() {
		w.Small, w.Large = b, a
	}
	return w, !w.Small.tip(width)
}

// Parted are the two parts of a ring on the two sides of the line through a and
// b, the smaller first.
func (r Ring) Parted(a, b Point) (small, large Ring) {
	box := r.Bounds()
	reach := 2 * (box.Diagonal() + a.Sub(Point{box.MinX, box.MinY}).Len() + 1)
	along := b.Sub(a).Scale(reach / max(b.Sub(a).Len(), 1e-9))
	side := Point{-along.Y, along.X}
	p, q := a.Sub(along), a.Add(along)
	small, large = Clip(r, Ring{p, q, q.Add(side), p.Add(side)}), Clip(r, Ring{q, p, p.Sub(side), q.Sub(side)})
	if small.Area() > large.Area() {
		small, large = large, small
	}
	return small, large
}

// tip reports whether a part that was cut off at a chord of the given width
// only narrows from there.
func (r Ring) tip(width float64) bool {
	if len(r) < 4 {
		return true
	}
	walk := func(way int) Point {
		run, at := 0.0, 0
		if way < 0 {
			at = len(r) - 1
		}
		for run < width/2 {
			next := at + way
			if next < 0 || next >= len(r) {
				break
			}
			run += r[next].Sub(r[at]).Len()
			at = next
		}
		return r[at]
	}
	return walk(1).Sub(walk(-1)).Len() < 0.9*width
}

// Inscribed is the largest circle that a ring holds, found to within a
// hundredth of a millimetre: its centre and radius.
func (r Ring) Inscribed() (Point, float64) {
	box := r.Bounds()
	index := NewIndex(r)
	depth := func(p Point) float64 {
		_, d := index.Nearest(p)
		if !r.Contains(p) {
			return -d
		}
		return d
	}
	best := r.Centroid()
	most := depth(best)
	cell := max(box.MaxX-box.MinX, box.MaxY-box.MinY) / 2
	const grid = 12
	for x := range grid {
		for y := range grid {
			p := Point{
				box.MinX + (float64(x)+0.5)*(box.MaxX-box.MinX)/grid,
				box.MinY + (float64(y)+0.5)*(box.MaxY-box.MinY)/grid,
			}
			if d := depth(p); d > most {
				best, most = p, d
			}
		}
	}
	for step := cell / 6; step > 0.005; {
		moved := false
		for k := range 8 {
			sin, cos := math.Sincos(float64(k) * math.Pi / 4)
			p := best.Add(Point{cos, sin}.Scale(step))
			if d := depth(p); d > most+1e-9 {
				best, most, moved = p, d, true
			}
		}
		if !moved {
			step /= 2
		}
	}
	return best, most
}

// InsideCurve is a stretch of an outline that bends inward: its least radius in mm
// and where that lies.
type InsideCurve struct {
	At     Point
	Radius float64
}

// InsideCurves finds the inward bends of a ring that runs anticlockwise whose radius
// stays under most mm, the tightest first. The ring should stray no more than
// 0.001 mm from its curve.
func (r Ring) InsideCurves(most float64) []InsideCurve {
	const step = 1.0
	rim := r.Even(step)
	n := len(rim)
	if n < 20 {
		return nil
	}
	radius := make([]float64, n)
	for i := range rim {
		radius[i] = rim.bend(i, 3)
		// Tight bends are short; on wide ones the points may lie farther apart,
		// which keeps the facets of the ring from showing.
		if wide := rim.bend(i, 8); radius[i] > 15 && wide < 1.3*radius[i] {
			radius[i] = wide
		}
	}
	from := slices.IndexFunc(radius, func(v float64) bool { return v >= most })
	if from < 0 {
		return nil // it would be inside out
	}
	var out []InsideCurve
	for k := 0; k < n; k++ {
		first := k
		tightest := math.Inf(1)
		for ; k < n && radius[(from+k)%n] < most; k++ {
			tightest = min(tightest, radius[(from+k)%n])
		}
		if k == first {
			continue
		}
		var alike []int
		for i := first; i < k; i++ {
			if radius[(from+i)%n] <= 1.1*tightest {
				alike = append(alike, (from+i)%n)
			}
		}
		out = append(out, InsideCurve{rim[alike[len(alike)/2]], tightest})
	}
	slices.SortStableFunc(out, func(a, b InsideCurve) int { return cmp.Compare(a.Radius, b.Radius) })
	return out
}

// bend is the radius of the circle through the i-th point and those reach
// points before and after it, infinite where the ring bends outward.
func (r Ring) bend(i, reach int) float64 {
	n := len(r)
	a, b, c := r[(i+n-reach)%n], r[i], r[(i+reach)%n]
	twice := cross(a, b, c)
	if twice > -1e-9 {
		return math.Inf(1)
	}
	return a.Sub(b).Len() * b.Sub(c).Len() * c.Sub(a).Len() / (-2 * twice)
}

// Even is points on the ring about step mm apart, all equally.
func (r Ring) Even(step float64) Ring {
	total := r.Perimeter()
	n := int(total / step)
	out := make(Ring, 0, n)
	if n == 0 {
		return out
	}
	size, run, next := total/float64(n), 0.0, 0.0
	for i := range r {
		a, b := r.Edge(i)
		l := b.Sub(a).Len()
		for next <= run+l && len(out) < n {
			out = append(out, a.Lerp(b, (next-run)/max(l, 1e-12)))
			next += size
		}
		run += l
	}
	return out
}

// Shrunk is the ring moved inward by d mm: what is left of it, the largest part.
func (r Ring) Shrunk(d float64) Ring {
	if d <= 0 || len(r) < 3 {
		return r
	}
	return r.offset(-d)
}

// Radii are points on the ring about a mm apart and the radius of its bend at each, mm:
// positive where it bends outward, negative where inward, infinite where it is straight.
// The ring runs anticlockwise.
func (r Ring) Radii() (at Ring, radius []float64) {
	at = r.Even(1)
	back := slices.Clone(at)
	slices.Reverse(back)
	n := len(at)
	if n < 20 {
		return nil, nil
	}
	const tight, wide = 3, 8 // points to each side: few see a tight bend, many do not see the ring's facets
	radius = make([]float64, n)
	for i := range at {
		in := at.bend(i, tight)
		if v := at.bend(i, wide); in > 15 && v < 1.3*in {
			in = v
		}
		out := back.bend(n-1-i, tight)
		if v := back.bend(n-1-i, wide); out > 15 && v < 1.3*out {
			out = v
		}
		switch {
		case in < math.Inf(1):
			radius[i] = -in
		default:
			radius[i] = out
		}
	}
	return at, radius
}
