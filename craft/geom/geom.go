// Package geom is the plane geometry of boards and slabs: rings of points in
// millimetres, and outlines drawn as tdewolff/canvas paths whose arcs stay
// arcs until a check flattens them.
package geom

import (
	"math"
	"slices"
	"sort"
	"strconv"
	"sync"

	"github.com/tdewolff/canvas"
)

// Fine is how far, in mm, a flattened outline may stray from the true one in
// a check.
const Fine = 0.05

// True is how far, in mm, an outline may stray that goes out to a file or is cut
// by another.
const True = 0.005

// Point is a place in mm.
type Point struct {
	X float64 `json:"x" doc:"mm"`
	Y float64 `json:"y" doc:"mm"`
}

// Sub is p − q.
func (p Point) Sub(q Point) Point { return Point{p.X - q.X, p.Y - q.Y} }

// Add is p + q.
func (p Point) Add(q Point) Point { return Point{p.X + q.X, p.Y + q.Y} }

// Scale is k·p.
func (p Point) Scale(k float64) Point { return Point{k * p.X, k * p.Y} }

// Len is the distance from the origin.
func (p Point) Len() float64 { return math.Hypot(p.X, p.Y) }

// Lerp is the point the share t of the way from p to q.
func (p Point) Lerp(q Point, t float64) Point { return p.Add(q.Sub(p).Scale(t)) }

// Ring is a closed polygon; the last point joins the first.
type Ring []Point

// Bounds is an upright box.
type Bounds struct{ MinX, MinY, MaxX, MaxY float64 }

// Edge is the i-th side of the ring.
func (r Ring) Edge(i int) (a, b Point) {
	if i == len(r)-1 {
		return r[i], r[0]
	}
	return r[i], r[i+1]
}

// SignedArea is positive for a ring that runs anticlockwise, mm².
func (r Ring) SignedArea() float64 {
	var twice float64
	for i := range r {
		a, b := r.Edge(i)
		twice += a.X*b.Y - b.X*a.Y
	}
	return twice / 2
}

// Area is the enclosed area, mm².
func (r Ring) Area() float64 { return math.Abs(r.SignedArea()) }

// Perimeter is the length round the ring, mm.
func (r Ring) Perimeter() float64 {
	var sum float64
	for i := range r {
		a, b := r.Edge(i)
		sum += b.Sub(a).Len()
	}
	return sum
}

// Centroid is the centre of the enclosed area.
func (r Ring) Centroid() Point {
	var c Point
	var twice float64
	for i := range r {
		a, b := r.Edge(i)
		k := a.X*b.Y - b.X*a.Y
		twice += k
		c = c.Add(a.Add(b).Scale(k))
	}
	if twice == 0 {
		return Point{}
	}
	return c.Scale(1 / (3 * twice))
}

// Bounds is the box round the ring.
func (r Ring) Bounds() Bounds {
	b := Bounds{math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)}
	for _, p := range r {
		b = Bounds{min(b.MinX, p.X), min(b.MinY, p.Y), max(b.MaxX, p.X), max(b.MaxY, p.Y)}
	}
	return b
}

// Depth is how far p lies within the box, negative outside.
func (b Bounds) Depth(p Point) float64 {
	return min(p.X-b.MinX, b.MaxX-p.X, p.Y-b.MinY, b.MaxY-p.Y)
}

// Ring is the box, anticlockwise from its least corner.
func (b Bounds) Ring() Ring {
	return Ring{{b.MinX, b.MinY}, {b.MaxX, b.MinY}, {b.MaxX, b.MaxY}, {b.MinX, b.MaxY}}
}

// Diagonal of the box, mm.
func (b Bounds) Diagonal() float64 { return math.Hypot(b.MaxX-b.MinX, b.MaxY-b.MinY) }

// Apart is the distance between two boxes, 0 when they touch.
func (b Bounds) Apart(c Bounds) float64 {
	return math.Hypot(max(0, b.MinX-c.MaxX, c.MinX-b.MaxX), max(0, b.MinY-c.MaxY, c.MinY-b.MaxY))
}

// meets reports whether two boxes touch.
func (b Bounds) meets(c Bounds) bool {
	return b.MinX <= c.MaxX && c.MinX <= b.MaxX && b.MinY <= c.MaxY && c.MinY <= b.MaxY
}

// Contains reports whether p lies inside.
func (r Ring) Contains(p Point) bool {
	inside := false
	for i, a := range r {
		b := r[0]
		if i+1 < len(r) {
			b = r[i+1]
		}
		if rightOf(p, a, b) {
			inside = !inside
		}
	}
	return inside
}

// rightOf reports whether the side from a to b passes p on its right, at its height.
func rightOf(p, a, b Point) bool {
	return (a.Y > p.Y) != (b.Y > p.Y) && p.X < (b.X-a.X)*(p.Y-a.Y)/(b.Y-a.Y)+a.X
}

// Nearest is the point of the ring's line nearest to p, and its distance.
func (r Ring) Nearest(p Point) (Point, float64) {
	best, least := Point{}, math.Inf(1)
	for i := range r {
		a, b := r.Edge(i)
		q := NearestOn(a, b, p)
		if d := q.Sub(p).square(); d < least {
			best, least = q, d
		}
	}
	return best, math.Sqrt(least)
}

// square is the squared distance from the origin.
func (p Point) square() float64 { return p.X*p.X + p.Y*p.Y }

// NearestOn is the point of the line from a to b that is nearest to p.
func NearestOn(a, b, p Point) Point {
	d := b.Sub(a)
	l2 := d.X*d.X + d.Y*d.Y
	if l2 == 0 {
		return a
	}
	t := ((p.X-a.X)*d.X + (p.Y-a.Y)*d.Y) / l2
	return a.Lerp(b, min(1, max(0, t)))
}

// Spans cuts the ring with a line at height y and returns the sorted x at
// which it enters and leaves: an even number of values.
func (r Ring) Spans(y float64) []float64 {
	var xs []float64
	for i := range r {
		a, b := r.Edge(i)
		if (a.Y > y) != (b.Y > y) {
			xs = append(xs, a.X+(b.X-a.X)*(y-a.Y)/(b.Y-a.Y))
		}
	}
	sort.Float64s(xs)
	return xs
}

// SpansAcross appends to ys the y at which a line at x enters the ring and leaves it, as
// Spans does along: an even number of values, sorted.
func (r Ring) SpansAcross(x float64, ys []float64) []float64 {
	from := len(ys)
	for i := range r {
		a, b := r.Edge(i)
		if (a.X > x) != (b.X > x) {
			ys = append(ys, a.Y+(b.Y-a.Y)*(x-a.X)/(b.X-a.X))
		}
	}
	slices.Sort(ys[from:])
	return ys
}

// Turned is the ring with x and y exchanged.
func (r Ring) Turned() Ring {
	return r.Map(func(p Point) Point { return Point{p.Y, p.X} })
}

// Map applies f to every point.
func (r Ring) Map(f func(Point) Point) Ring {
	if r == nil {
		return nil
	}
	out := make(Ring, len(r))
	for i, p := range r {
		out[i] = f(p)
	}
	return out
}

// Dense is the ring with no side longer than step, so that its points may
// stand for the line.
func (r Ring) Dense(step float64) Ring {
	out := make(Ring, 0, 2*len(r))
	for i := range r {
		a, b := r.Edge(i)
		n := int(math.Ceil(b.Sub(a).Len() / step))
		for k := range max(n, 1) {
			out = append(out, a.Lerp(b, float64(k)/float64(max(n, 1))))
		}
	}
	return out
}

// SelfCrosses reports whether two sides of the ring cross.
func (r Ring) SelfCrosses() bool {
	for i := range r {
		a, b := r.Edge(i)
		left, right := min(a.X, b.X), max(a.X, b.X)
		for j := i + 2; j < len(r); j++ {
			if i == 0 && j == len(r)-1 {
				continue
			}
			c, d := r.Edge(j)
			if max(c.X, d.X) < left || min(c.X, d.X) > right {
				continue
			}
			if cross(a, b, c)*cross(a, b, d) < 0 && cross(c, d, a)*cross(c, d, b) < 0 {
				return true
			}
		}
	}
	return false
}

func cross(a, b, p Point) float64 { return (b.X-a.X)*(p.Y-a.Y) - (b.Y-a.Y)*(p.X-a.X) }

// Gap is the least distance between two rings, 0 when they overlap.
func Gap(r, s Ring) float64 {
	if len(r) == 0 || len(s) == 0 {
		return math.Inf(1)
	}
	if r.Contains(s[0]) || s.Contains(r[0]) {
		return 0
	}
	least, ix := math.Inf(1), NewIndex(s)
	whole := s.Bounds()
	for i := range r {
		a, b := r.Edge(i)
		side := Bounds{min(a.X, b.X), min(a.Y, b.Y), max(a.X, b.X), max(a.Y, b.Y)}
		if side.apartSquare(whole) > least { // no side of the other ring is so near
			continue
		}
		for k, box := range ix.runs {
			if side.apartSquare(box) > least {
				continue
			}
			for j := k * run; j < min((k+1)*run, len(s)); j++ {
				c, d := s.Edge(j)
				if cross(a, b, c)*cross(a, b, d) < 0 && cross(c, d, a)*cross(c, d, b) < 0 {
					return 0
				}
				least = min(least,
					NearestOn(a, b, c).Sub(c).square(), NearestOn(c, d, a).Sub(a).square())
			}
		}
	}
	return math.Sqrt(least)
}

// apartSquare is the square of the distance between two boxes.
func (b Bounds) apartSquare(c Bounds) float64 {
	dx, dy := max(0, b.MinX-c.MaxX, c.MinX-b.MaxX), max(0, b.MinY-c.MaxY, c.MinY-b.MaxY)
	return dx*dx + dy*dy
}

// Placement puts a board's frame on the slab: its origin at X, Y, turned by
// Angle degrees anticlockwise. Flip turns the board over about its long axis,
// so that its show face is the slab's under face.
type Placement struct {
	X     float64 `json:"x" mm:"-10000,20000" doc:"From the butt, mm"`
	Y     float64 `json:"y" mm:"-10000,10000" doc:"To the left of the chalk line, mm"`
	Angle float64 `json:"angle" range:"-3600,3600" doc:"Degrees anticlockwise"`
	Flip  bool    `json:"flip" doc:"Turned over about its long axis"`
}

// Out carries a point of the board's frame to the slab.
func (t Placement) Out(p Point) Point {
	sin, cos := math.Sincos(t.Angle * math.Pi / 180)
	if t.Flip {
		p.Y = -p.Y
	}
	return Point{t.X + cos*p.X - sin*p.Y, t.Y + sin*p.X + cos*p.Y}
}

// In carries a point of the slab to the board's frame.
func (t Placement) In(p Point) Point {
	sin, cos := math.Sincos(t.Angle * math.Pi / 180)
	d := Point{p.X - t.X, p.Y - t.Y}
	q := Point{cos*d.X + sin*d.Y, -sin*d.X + cos*d.Y}
	if t.Flip {
		q.Y = -q.Y
	}
	return q
}

// Of is the place on the slab of what stands at u in the board's frame.
func (t Placement) Of(u Placement) Placement {
	q := t.Out(Point{u.X, u.Y})
	if t.Flip {
		u.Angle = -u.Angle
	}
	return Placement{q.X, q.Y, t.Angle + u.Angle, t.Flip != u.Flip}
}

// Seen is the place in the board's frame of what stands at u on the slab: what Of
// brings back there.
func (t Placement) Seen(u Placement) Placement {
	q, angle := t.In(Point{u.X, u.Y}), u.Angle-t.Angle
	if t.Flip {
		angle = -angle
	}
	return Placement{q.X, q.Y, angle, t.Flip != u.Flip}
}

// Mirrored is the place across the chalk line of the mirror image of a board:
// where its twin lies on the other of two leaves opened like a book.
func (t Placement) Mirrored() Placement {
	t.Y, t.Angle = -t.Y, -t.Angle
	return t
}

// Turned is the same place after the slab's faces were exchanged by turning it
// over about its long axis.
func (t Placement) Turned() Placement {
	t.Y, t.Angle, t.Flip = -t.Y, -t.Angle, !t.Flip
	return t
}

// Holding is the place of a frame turned as this one is, whose origin lies at u in
// this frame, to a hundredth of a mm.
func (t Placement) Holding(u Placement) Placement {
	q := t.Out(Point{u.X, u.Y})
	round := func(v float64) float64 { return math.Round(v*100) / 100 }
	t.X, t.Y = round(q.X), round(q.Y)
	return t
}

// cubic is how many times the tolerance the library's flattened Bézier curves
// stray, as measured.
const cubic = 3.2

// flat are the parts of a path by straight lines that stray at most tolerance mm from
// it; ok is false, and what is left is not cut, as soon as they have more than most
// points. The library cuts a whole path in a time that grows with its square, so it
// is handed one curve at a time.
func flat(p *canvas.Path, tolerance float64, most int) (parts [][]Point, ok bool) {
	for s := p.Scanner(); s.Scan(); {
		if s.Cmd() == canvas.CubeToCmd {
			tolerance /= cubic
			break
		}
	}
	points := 0
	add := func(q canvas.Point) {
		points++
		i := len(parts) - 1
		parts[i] = append(parts[i], Point{q.X, q.Y})
	}
	for s := p.Scanner(); s.Scan() && points <= most; {
		start, end, curve := s.Start(), s.End(), &canvas.Path{}
		curve.MoveTo(start.X, start.Y)
		switch s.Cmd() {
		case canvas.MoveToCmd:
			parts = append(parts, nil)
			add(end)
			continue
		case canvas.QuadToCmd:
			c := s.CP1()
			curve.QuadTo(c.X, c.Y, end.X, end.Y)
		case canvas.CubeToCmd:
			c, d := s.CP1(), s.CP2()
			curve.CubeTo(c.X, c.Y, d.X, d.Y, end.X, end.Y)
		case canvas.ArcToCmd:
			rx, ry, turn, large, sweep := s.Arc()
			curve.ArcTo(rx, ry, turn, large, sweep, end.X, end.Y)
		default:
			add(end)
			continue
		}
		cut := curve.Flatten(tolerance).Coords()
		for _, q := range cut[min(1, len(cut)):] {
			add(q)
		}
	}
	return parts, points <= most
}

// Line is a path of one part by points that stray at most tolerance mm from it.
func Line(p *canvas.Path, tolerance float64) []Point {
	parts, _ := flat(p, tolerance, math.MaxInt)
	return slices.Concat(parts...)
}

// Flatten turns every closed part of a path into a ring that strays at most
// tolerance mm from it.
func Flatten(p *canvas.Path, tolerance float64) []Ring {
	rings, _ := FlattenUpTo(p, tolerance, math.MaxInt)
	return rings
}

// FlattenUpTo is Flatten for a path that is not trusted: ok is false as soon as it
// comes to more than so many points.
func FlattenUpTo(p *canvas.Path, tolerance float64, most int) (rings []Ring, ok bool) {
	parts, ok := flat(p, tolerance, most)
	if !ok {
		return nil, false
	}
	for _, part := range parts {
		ring := make(Ring, 0, len(part))
		for _, q := range part {
			if n := len(ring); n > 0 && ring[n-1].Sub(q).Len() < 1e-9 {
				continue
			}
			ring = append(ring, q)
		}
		for n := len(ring); n > 1 && ring[0].Sub(ring[n-1]).Len() < 1e-9; n = len(ring) {
			ring = ring[:n-1]
		}
		if len(ring) > 2 {
			rings = append(rings, ring)
		}
	}
	return rings, true
}

// Path is the ring as a path of straight lines.
func (r Ring) Path() *canvas.Path {
	p := &canvas.Path{}
	for i, q := range r {
		if i == 0 {
			p.MoveTo(q.X, q.Y)
		} else {
			p.LineTo(q.X, q.Y)
		}
	}
	p.Close()
	return p
}

// SVG is the ring as SVG path data, to a hundredth of a mm: enough to look at.
func (r Ring) SVG() string { return LineSVG(r) + "z" }

// LineSVG is an open line as SVG path data, as Ring.SVG writes it.
func LineSVG(line []Point) string {
	data := make([]byte, 0, 16*len(line)+1)
	for i, p := range line {
		data = append(data, "ML"[min(i, 1)])
		data = appendHundredths(data, p.X)
		data = append(data, ' ')
		data = appendHundredths(data, p.Y)
	}
	return string(data)
}

// appendHundredths writes a number to two places; many are written at every
// move of a drag, and this takes a third of what strconv.AppendFloat does.
func appendHundredths(data []byte, v float64) []byte {
	n := int64(math.Round(v * 100))
	if n < 0 {
		data, n = append(data, '-'), -n
	}
	data = strconv.AppendInt(data, n/100, 10)
	return append(data, '.', byte('0'+n/10%10), byte('0'+n%10))
}

// Largest is the ring that encloses most; nil when there is none.
func Largest(rings []Ring) Ring {
	var best Ring
	for _, r := range rings {
		if best == nil || r.Area() > best.Area() {
			best = r
		}
	}
	return best
}

// Common is what two rings share, as rings.
func Common(r, s Ring) []Ring {
	a, b := r.Bounds(), s.Bounds()
	if a.MaxX <= b.MinX || b.MaxX <= a.MinX || a.MaxY <= b.MinY || b.MaxY <= a.MinY {
		return nil
	}
	out, _ := sturdy(
		func(turn canvas.Matrix) *canvas.Path { return r.Path().Transform(turn).And(s.Path().Transform(turn)) },
	)
	return Flatten(out, Fine)
}

// Joined is what lies in either of two rings, as rings.
func Joined(r, s Ring) []Ring {
	out, _ := sturdy(
		func(turn canvas.Matrix) *canvas.Path { return r.Path().Transform(turn).Or(s.Path().Transform(turn)) },
	)
	return Flatten(out, Fine)
}

// Grown is the ring moved outward by d mm, its corners rounded.
func (r Ring) Grown(d float64) Ring {
	if d <= 0 {
		return r
	}
	return r.offset(d)
}

// Outset moves every side of an anticlockwise ring outward by d mm, corners
// along their bisectors: a line to look at, beside the ring, for a d that is
// small against its bends.
func (r Ring) Outset(d float64) Ring {
	n := len(r)
	out := make(Ring, n)
	for i, p := range r {
		a, b := p.Sub(r[(i+n-1)%n]), r[(i+1)%n].Sub(p)
		a, b = a.Scale(1/max(a.Len(), 1e-9)), b.Scale(1/max(b.Len(), 1e-9))
		to := Point{a.Y + b.Y, -a.X - b.X}
		// Half the square of its length is one and the cosine of the turn.
		out[i] = p.Add(to.Scale(d / max(to.square()/2, 0.3)))
	}
	return out
}

// Less is what is left of a ring after others are taken out of it: rings that
// run anticlockwise, and their holes, which run clockwise.
func (r Ring) Less(others ...Ring) []Ring {
	p := r.Path()
	for _, o := range others {
		p = NotPath(p, o.Path())
	}
	return Flatten(p, Fine)
}

// Clip is what a ring shares with a convex ring that runs anticlockwise
// (Sutherland and Hodgman 1974); parts that fall apart stay joined along the
// clipping side.
func Clip(r, convex Ring) Ring {
	spare := make(Ring, 0, len(r)+len(convex))
	out, _, _ := clip(r, convex, spare, nil)
	return out
}

// scratch are rings to clip with, used again and again.
var scratch = sync.Pool{New: func() any { return new([2]Ring) }}

// ClippedArea is the area of Clip, mm², which keeps no ring.
func ClippedArea(r, convex Ring) float64 {
	spare := scratch.Get().(*[2]Ring)
	defer scratch.Put(spare)
	var out Ring
	out, spare[0], spare[1] = clip(r, convex, spare[0][:0], spare[1][:0])
	return out.Area()
}

// clip clips with two rings to write on, which it returns: one of them holds what is left.
func clip(r, convex, spare, other Ring) (left, one, two Ring) {
	for i := range convex {
		a, b := convex.Edge(i)
		kept := spare[:0]
		for k := range r {
			p, q := r.Edge(k)
			u, v := cross(a, b, p), cross(a, b, q)
			if u >= 0 {
				kept = append(kept, p)
			}
			if u*v < 0 {
				kept = append(kept, p.Lerp(q, u/(u-v)))
			}
		}
		if i == 0 && other == nil {
			other = make(Ring, 0, len(kept)+len(convex))
		}
		r, spare, other = kept, other, kept
	}
	return r, spare, other
}

// Within keeps the parts of an open line that lie inside the ring.
func Within(line []Point, r Ring) [][]Point {
	var parts [][]Point
	var open []Point
	for i := 0; i+1 < len(line); i++ {
		a, b := line[i], line[i+1]
		ts := append([]float64{0}, append(crossings(a, b, r), 1)...)
		sort.Float64s(ts)
		for k := 0; k+1 < len(ts); k++ {
			p, q := a.Lerp(b, ts[k]), a.Lerp(b, ts[k+1])
			if q.Sub(p).Len() < 1e-9 {
				continue
			}
			if !r.Contains(p.Lerp(q, 0.5)) {
				if open != nil {
					parts, open = append(parts, open), nil
				}
				continue
			}
			if open == nil {
				open = []Point{p}
			}
			open = append(open, q)
		}
	}
	if open != nil {
		parts = append(parts, open)
	}
	return parts
}

func crossings(a, b Point, r Ring) []float64 {
	var ts []float64
	for i := range r {
		c, d := r.Edge(i)
		u, v := cross(c, d, a), cross(c, d, b)
		if u*v < 0 && cross(a, b, c)*cross(a, b, d) <= 0 {
			ts = append(ts, u/(u-v))
		}
	}
	return ts
}

// Halfway is the point half way along a line of one point at least.
func Halfway(line []Point) Point {
	left := Length(line) / 2
	for i := 0; i+1 < len(line); i++ {
		d := line[i+1].Sub(line[i]).Len()
		if d > 0 && left <= d {
			return line[i].Lerp(line[i+1], left/d)
		}
		left -= d
	}
	return line[0]
}

// Length is the length of an open line, mm.
func Length(line []Point) float64 {
	var sum float64
	for i := 0; i+1 < len(line); i++ {
		sum += line[i+1].Sub(line[i]).Len()
	}
	return sum
}
