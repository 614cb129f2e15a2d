// Package rescue finds ways out when something went wrong at the bench: what is left of a board, and what may still
// be made of it. Lengths are in mm, outlines in the board's frame, anticlockwise.
package rescue

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/blas"
	"gonum.org/v1/gonum/blas/blas64"
	"gonum.org/v1/gonum/lapack/lapack64"

	"idletimber/craft/geom"
)

// Beyond is by how much a new line passes the deepest point of what is gone, mm. (rule of the trade)
const Beyond = 0.5

// Cleaned is by how much more than it is deep a flaw is planed away, mm. (rule of the trade)
const Cleaned = 0.3

// step is about how far apart the points of a line are that is drawn anew, mm.
const step = 0.5

// Refair draws an outline anew where parts of it are gone: along a batten bent from sound wood to sound wood, tangent
// to the old line at both ends, [Beyond] past the deepest point. The line bends by no less than a radius more or less
// than it did, and takes off as little as can be under that. It is not ok where no such line is to be had: what is gone
// reaches through the board, or round a corner that turns too sharply.
func Refair(outline geom.Ring, gone []geom.Ring, radius float64) (line geom.Ring, ok bool) {
	line = outline
	for _, bite := range gone {
		if line, ok = refaired(line, bite.Grown(Beyond), radius); !ok {
			return nil, false
		}
	}
	return line, len(gone) > 0
}

// refaired draws one bite anew. Where a corner lies in it, the line goes from side to side as if that had been round.
func refaired(outline, bite geom.Ring, radius float64) (geom.Ring, bool) {
	if shared(outline, bite) <= crumb {
		return outline, true
	}
	if line, ok := bentFrom(outline, outline, bite, radius); ok {
		return line, true
	}
	return bentFrom(outline, outline.Shrunk(radius).Grown(radius), bite, radius)
}

// crumb is an area that counts as none, mm².
const crumb = 0.02

// shared is the area that two rings share, mm².
func shared(r, s geom.Ring) (area float64) {
	for _, part := range geom.Common(r, s) {
		area += part.Area()
	}
	return area
}

// bentFrom draws the line of an outline anew by how deep it must go from a base, which is the outline or a rounder one.
func bentFrom(outline, base, bite geom.Ring, radius float64) (geom.Ring, bool) {
	if len(base) < 3 {
		return nil, false
	}
	base = smooth(base.Even(step))
	n := len(base)
	if n < 16 {
		return nil, false
	}
	inward := normals(base)
	deep := make([]float64, n) // how far it must go inward at each point
	bitten := 0
	for i, p := range base {
		d := deepest(p, inward[i], bite)
		if d == 0 {
			continue
		}
		if _, off := outline.Nearest(p.Add(inward[i].Scale(d))); off > d*0.7 { // or it is another side's
			deep[i] = d
			bitten++
		}
	}
	corners(deep, base, inward, bite)
	if bitten == 0 || bitten == n {
		return nil, false
	}
	first := start(deep)
	bent, from, ok := bend(slices.Concat(deep[first:], deep[:first]), base.Perimeter()/float64(n), radius)
	if !ok {
		return nil, false
	}
	piece := make([]geom.Point, len(bent))
	for k, d := range bent {
		i := (first + from + k) % n
		piece[k] = base[i].Add(inward[i].Scale(d))
	}
	out, ok := spliced(outline, piece)
	if !ok || out.SelfCrosses() || kinked(piece, base, radius) || shared(out, bite) > crumb {
		return nil, false
	}
	return out, true
}

// smooth evens out the sides that a curve was flattened to: each point moves by hundredths of a mm.
func smooth(r geom.Ring) geom.Ring {
	const times = 8
	n := len(r)
	for range times {
		out := make(geom.Ring, n)
		for i, p := range r {
			out[i] = p.Scale(2).Add(r[(i+n-1)%n]).Add(r[(i+1)%n]).Scale(0.25)
		}
		r = out
	}
	return r
}

// spliced puts a new line into an outline, from where it leaves that to where it comes back.
func spliced(outline geom.Ring, line []geom.Point) (geom.Ring, bool) {
	const apart = 0.02 // mm
	from, ok := placeOn(outline, line[0], apart)
	to, ok2 := placeOn(outline, line[len(line)-1], apart)
	if !ok || !ok2 {
		return nil, false
	}
	out := slices.Clone(line)
	n := len(outline)
	count := to - from
	if count < 0 {
		count += n
	}
	for k := range n - count {
		if p := outline[(to+1+k)%n]; p.Sub(out[len(out)-1]).Len() > step/2 && p.Sub(line[0]).Len() > step/2 {
			out = append(out, p)
		}
	}
	return out, true
}

// placeOn is the side of a ring that a point lies on, within some mm.
func placeOn(r geom.Ring, p geom.Point, within float64) (side int, ok bool) {
	best := math.Inf(1)
	for i := range r {
		a, b := r.Edge(i)
		if d := p.Sub(geom.NearestOn(a, b, p)).Len(); d < best {
			best, side = d, i
		}
	}
	return side, best <= within
}

// normals are the directions from the points of a ring into it.
func normals(r geom.Ring) []geom.Point {
	n := len(r)
	out := make([]geom.Point, n)
	for i := range r {
		d := r[(i+1)%n].Sub(r[(i+n-1)%n])
		out[i] = geom.Point{X: -d.Y, Y: d.X}.Scale(1 / max(d.Len(), 1e-9))
	}
	return out
}

// deepest is how far along a direction from a point a ring reaches; 0 where it is not met.
func deepest(from, along geom.Point, r geom.Ring) (far float64) {
	for i := range r {
		a, b := r.Edge(i)
		u, v := a.Sub(from), b.Sub(from)
		// How far to the left of the ray both ends lie, and where between them it is crossed.
		s, t := along.X*u.Y-along.Y*u.X, along.X*v.Y-along.Y*v.X
		if s > 0 == (t > 0) {
			continue
		}
		p := u.Lerp(v, s/(s-t))
		far = max(far, p.X*along.X+p.Y*along.Y)
	}
	return far
}

// corners deepens a line where a corner of a bite lies between two of its points.
func corners(deep []float64, base geom.Ring, inward []geom.Point, bite geom.Ring) {
	n := len(base)
	for _, p := range bite {
		i, near := 0, math.Inf(1)
		for k, q := range base {
			if d := p.Sub(q).Len(); d < near {
				i, near = k, d
			}
		}
		in := p.Sub(base[i])
		if d := in.X*inward[i].X + in.Y*inward[i].Y; d > 0 {
			for k := i - 1; k <= i+1; k++ {
				deep[(k+n)%n] = max(deep[(k+n)%n], d)
			}
		}
	}
}

// start is an index from which all that is deep lies together: the middle of the longest stretch without.
func start(deep []float64) int {
	n, best, at := len(deep), 0, 0
	run := 0
	for i := range 2 * n {
		if deep[i%n] > 0 {
			run = 0
			continue
		}
		if run++; run > best && run <= n {
			best, at = run, i
		}
	}
	return ((at-best/2)%n + n) % n
}

// bend is how deep a line runs, point by point, size mm apart, that is nowhere less deep than it must be, whose second
// derivative stays under 1/radius, and whose sum is least, from the first point at which it leaves the old line: a
// linear program, whose matrix is a band.
// Solved by a barrier (Boyd and Vandenberghe, Convex Optimization, 2004, ch. 11).
func bend(deep []float64, size, radius float64) (out []float64, first int, ok bool) {
	n := len(deep)
	from, to := n, 0
	height := 0.0
	for i, d := range deep {
		if d > 0 {
			from, to, height = min(from, i), max(to, i), max(height, d)
		}
	}
	height *= 1.02
	most := size * size / radius // the second difference
	// A plain bend over all of it, with flanks of half a cosine, is one that may be: the search begins there.
	flank := int(math.Ceil(math.Pi*math.Sqrt(height*radius/1.6)/size)) + 1
	if from-flank < 1 || to+flank > n-2 {
		return nil, 0, false
	}
	first, last := from-flank, to+flank
	p := program{most: most}
	for i := first; i <= last; i++ {
		at := 1.0
		if out := max(from-i, i-to); out > 0 {
			at = (1 + math.Cos(math.Pi*float64(out)/float64(flank+1))) / 2
		}
		p.d = append(p.d, height*at)
		p.least = append(p.least, deep[i]-slack)
	}
	p.solve(slack * float64(len(p.d)))
	for i, d := range p.d {
		p.d[i] = max(d, deep[first+i])
	}
	// Where it lies on the old line it is that.
	for len(p.d) > 2 && p.d[1] < slack*10 {
		p.d, first = p.d[1:], first+1
	}
	for n := len(p.d); n > 2 && p.d[n-2] < slack*10; n = len(p.d) {
		p.d = p.d[:n-1]
	}
	p.d[0], p.d[len(p.d)-1] = 0, 0
	return p.d, first, true
}

// slack is what counts as nothing in a depth, mm.
const slack = 1e-4

// program is the least sum of depths that are each at least something, and whose second differences are at most
// something, beyond whose ends all is 0.
type program struct {
	d, least []float64
	most     float64
}

// second is the second difference at the i-th depth, from one before the first to one behind the last.
func (p *program) second(i int) float64 {
	at := func(k int) float64 {
		if k < 0 || k >= len(p.d) {
			return 0
		}
		return p.d[k]
	}
	return at(i-1) - 2*at(i) + at(i+1)
}

// solve brings the sum to within a gap of the least.
func (p *program) solve(gap float64) {
	n := len(p.d)
	bounds := float64(3*n + 4)
	weight := 1.0
	for bounds/weight > gap {
		weight *= 8
		for range 30 {
			if !p.newton(weight) {
				break
			}
		}
	}
}

// newton takes one step to the least of weight times the sum less the logarithms of what is left of each bound; false
// where it gains nothing any more.
func (p *program) newton(weight float64) bool {
	n := len(p.d)
	const wide = 2 // the second difference knows two neighbours
	h := blas64.SymmetricBand{N: n, K: wide, Stride: wide + 1, Uplo: blas.Upper, Data: make([]float64, n*(wide+1))}
	grad := make([]float64, n)
	add := func(i, k int, v float64) {
		if i >= 0 && k < n {
			h.Data[i*h.Stride+k-i] += v
		}
	}
	for i := range n {
		left := p.d[i] - p.least[i]
		grad[i] = weight - 1/left
		add(i, i, 1/(left*left))
	}
	for i := -1; i <= n; i++ {
		v := p.second(i)
		up, down := p.most-v, p.most+v
		g, w := 1/up-1/down, 1/(up*up)+1/(down*down)
		of := [3]float64{1, -2, 1}
		for a := range of {
			if k := i - 1 + a; k >= 0 && k < n {
				grad[k] += g * of[a]
			}
			for b := a; b < len(of); b++ {
				add(i-1+a, i-1+b, w*of[a]*of[b])
			}
		}
	}
	c, ok := lapack64.Pbtrf(h)
	if !ok {
		return false
	}
	dir := slices.Clone(grad)
	lapack64.Pbtrs(c, blas64.General{Rows: n, Cols: 1, Stride: 1, Data: dir})
	slope := blas64.Dot(blas64.Vector{N: n, Inc: 1, Data: dir}, blas64.Vector{N: n, Inc: 1, Data: grad})
	if slope < 1e-7 {
		return false
	}
	was, at := p.value(weight), slices.Clone(p.d)
	for t := 1.0; t > 1e-10; t /= 2 {
		for i := range n {
			p.d[i] = at[i] - t*dir[i]
		}
		if now := p.value(weight); now <= was-0.1*t*slope {
			return true
		}
	}
	copy(p.d, at)
	return false
}

// value is what newton lessens; infinite where a bound is broken.
func (p *program) value(weight float64) (sum float64) {
	for i, d := range p.d {
		left := d - p.least[i]
		if left <= 0 {
			return math.Inf(1)
		}
		sum += weight*d - math.Log(left)
	}
	for i := -1; i <= len(p.d); i++ {
		v := p.second(i)
		if v >= p.most || v <= -p.most {
			return math.Inf(1)
		}
		sum -= math.Log(p.most-v) + math.Log(p.most+v)
	}
	return sum
}

// kinked tells whether a line has a kink where it is drawn anew: it turns from one point to the next by more than a
// degree, and by more than a bend of the radius there, on top of the old line's own.
func kinked(line []geom.Point, old geom.Ring, radius float64) bool {
	const kink = math.Pi / 180
	for i := 1; i < len(line)-1; i++ {
		turn := turned(line[i-1], line[i], line[i+1])
		if turn <= kink {
			continue
		}
		own := 0.0
		for k, q := range old {
			if n := len(old); q.Sub(line[i]).Len() < 2*step+Beyond {
				own = max(own, turned(old[(k+n-1)%n], q, old[(k+1)%n]))
			}
		}
		if turn > own+2*step/radius {
			return true
		}
	}
	return false
}

// turned is by how much a line through three points turns at the second, radians.
func turned(a, b, c geom.Point) float64 {
	u, v := b.Sub(a), c.Sub(b)
	return math.Abs(math.Atan2(u.X*v.Y-u.Y*v.X, u.X*v.X+u.Y*v.Y))
}
