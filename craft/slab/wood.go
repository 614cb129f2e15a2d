package slab

import (
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
)

// least is how narrow a slab may be anywhere, mm.
const least = 5

// step is how far apart the points of an outline lie along the slab, mm.
const step = 4

// checkEdges reports stations and outlines that cannot be, and edges that
// cross between stations.
func (s Slab) checkEdges(field string) (ps craft.Problems) {
	checkStations(&ps, field+".show", s.Show, s.Length, len(s.Outline) == 0)
	checkStations(&ps, field+".under", s.Under, s.Length, false)
	checkLine(&ps, field+".outline", s.Outline, s.Length)
	checkLine(&ps, field+".underOutline", s.UnderLine, s.Length)
	ps.Length(field+".ripLeft", s.RipLeft, 0, 1000)
	ps.Length(field+".ripRight", s.RipRight, 0, 1000)
	if len(ps) > 0 || !(s.Length >= 20 && s.Length <= 10000) {
		return ps
	}
	w := Draw(s)
	if w.byLine() {
		if w.usable.Area() < 400 {
			ps.Add(field+".underOutline", "the two faces have hardly any wood in common", "draw both faces from the same butt end and chalk line")
		}
		return ps
	}
	for x := 0.0; x <= s.Length; x += step {
		switch {
		case w.show.left(x)-w.show.right(x) < least:
			ps.Add(field+".show", fmt.Sprintf("the edges come within %d mm of each other at %.0f mm", least, x), "measure both edges at one more station there")
		case w.Left(x)-w.Right(x) < least:
			ps.Add(field+".under", fmt.Sprintf("the two faces have less than %d mm in common at %.0f mm", least, x), "measure both faces from the same chalk line, and rip off less")
		default:
			continue
		}
		return ps
	}
	return ps
}

func checkStations(ps *craft.Problems, field string, stations []Station, length float64, needed bool) {
	if len(stations) == 0 && !needed {
		return
	}
	if len(stations) == 0 || len(stations) > MostStations {
		ps.Add(field, "there must be from 1 to 400 stations", "measure the width at one place at least")
		return
	}
	for i, s := range stations {
		at := fmt.Sprintf("%s[%d]", field, i)
		ps.Length(at+".left", s.Left, -5000, 5000)
		ps.Length(at+".right", s.Right, -5000, 5000)
		if s.Width() < least {
			ps.Add(at+".left", "the edges cross or lie less than 5 mm apart", "the left edge lies to the left of the right one; measure both from the chalk line")
		}
		if !(s.X >= 0 && s.X <= length) {
			ps.Add(at+".x", fmt.Sprintf("the station at %g mm lies off the slab", s.X), fmt.Sprintf("give a distance from 0 to its length, %g mm", length))
		}
		if i > 0 && !(s.X > stations[i-1].X) {
			ps.Add(at+".x", "the stations are out of order or fall together", "list them from the butt end up, each farther than the one before")
		}
	}
}

func checkLine(ps *craft.Problems, field string, line geom.Ring, length float64) {
	if len(line) == 0 {
		return
	}
	if len(line) < 3 || len(line) > MostNodes {
		ps.Add(field, "an outline needs from 3 to 1000 nodes", "simplify it within a wider tolerance")
		return
	}
	before := len(*ps)
	for i, p := range line {
		ps.Length(fmt.Sprintf("%s[%d].x", field, i), p.X, -1, length+1)
		ps.Length(fmt.Sprintf("%s[%d].y", field, i), p.Y, -5000, 5000)
	}
	switch {
	case len(*ps) > before:
	case line.Area() < 400:
		ps.Add(field, "the outline encloses less than 4 cm²", "check its unit")
	case line.SelfCrosses():
		ps.Add(field, "the outline crosses itself", "move the nodes so that it runs round once")
	}
}

// face is one face of a slab: drawn through its stations, or as a closed line.
type face struct {
	leftEdge, rightEdge curve
	line                geom.Ring // anticlockwise; nil where there are stations
}

func newFace(stations []Station, line geom.Ring) face {
	if len(line) > 2 {
		if line.SignedArea() < 0 {
			line = slices.Clone(line)
			slices.Reverse(line)
		}
		return face{line: line}
	}
	var x, l, r []float64
	for _, s := range stations {
		x, l, r = append(x, s.X), append(l, s.Left), append(r, s.Right)
	}
	return face{leftEdge: newCurve(x, l), rightEdge: newCurve(x, r)}
}

func (f face) left(x float64) float64 {
	if f.line == nil {
		return f.leftEdge.at(x)
	}
	spans := across(f.line, x)
	return spans[len(spans)-1]
}

func (f face) right(x float64) float64 {
	if f.line == nil {
		return f.rightEdge.at(x)
	}
	return across(f.line, x)[0]
}

func (f face) ring(length float64) geom.Ring {
	if f.line != nil {
		return f.line
	}
	return between(f.leftEdge.at, f.rightEdge.at, length)
}

// between is the ring between a left and a right edge.
func between(left, right func(float64) float64, length float64) geom.Ring {
	n := int(math.Ceil(length / step))
	ring := make(geom.Ring, 0, 2*n+2)
	for i := range n + 1 {
		x := length * float64(i) / float64(n)
		ring = append(ring, geom.Point{X: x, Y: right(x)})
	}
	for i := n; i >= 0; i-- {
		x := length * float64(i) / float64(n)
		ring = append(ring, geom.Point{X: x, Y: left(x)})
	}
	return ring
}

// across lists where a line square to the slab at x crosses a ring, in pairs
// from the right to the left. Off the ring's ends it is what lies at the end.
func across(r geom.Ring, x float64) []float64 {
	box := r.Bounds()
	const inside = 1e-6 // a ring's very end is a point
	x = min(max(x, box.MinX+inside), box.MaxX-inside)
	var ys []float64
	for i := range r {
		a, b := r.Edge(i)
		if (a.X <= x) != (b.X <= x) {
			ys = append(ys, a.Y+(b.Y-a.Y)*(x-a.X)/(b.X-a.X))
		}
	}
	slices.Sort(ys)
	return ys
}

// Wood is a slab whose edges have been drawn.
type Wood struct {
	Slab
	show, under face
	usable      geom.Ring   // of a slab drawn by a line on either face; otherwise nil
	index       geom.Index  // of usable
	core        geom.Bounds // lies inside both edges all along
}

// Draw draws the edges of a slab that has passed Check.
func Draw(s Slab) Wood {
	w := Wood{Slab: s, show: newFace(s.Show, s.Outline)}
	w.under = w.show
	if s.TwoFaced() {
		w.under = newFace(s.Under, s.UnderLine)
	}
	if w.byLine() {
		w.usable = w.common()
		w.index = geom.NewIndex(w.usable)
		w.core = geom.Bounds{MaxX: -1, MaxY: -1}
		return w
	}
	w.core = geom.Bounds{MinY: math.Inf(-1), MaxX: s.Length, MaxY: math.Inf(1)}
	for _, st := range slices.Concat(s.Show, s.Under) { // the edges never swing beyond their stations
		w.core.MinY, w.core.MaxY = max(w.core.MinY, st.Right+s.RipRight), min(w.core.MaxY, st.Left-s.RipLeft)
	}
	return w
}

// TwoFaced reports whether the under face was measured by itself.
func (s Slab) TwoFaced() bool { return len(s.Under) > 0 || len(s.UnderLine) > 0 }

// byLine reports whether a face is drawn by a closed line.
func (w Wood) byLine() bool { return w.show.line != nil || w.under.line != nil }

// common is what lies inside both faces, less what is ripped off.
func (w Wood) common() geom.Ring {
	ring := w.show.ring(w.Length)
	if w.TwoFaced() {
		ring = geom.Largest(geom.Common(ring, w.under.ring(w.Length)))
	}
	if w.RipLeft > 0 || w.RipRight > 0 {
		box := ring.Bounds()
		ring = geom.Clip(ring, geom.Bounds{MinX: box.MinX, MaxX: box.MaxX, MinY: box.MinY + w.RipRight, MaxY: box.MaxY - w.RipLeft}.Ring())
	}
	if ring.SignedArea() < 0 {
		slices.Reverse(ring)
	}
	return ring
}

// Left is the usable left edge at x: the narrower of both faces.
func (w Wood) Left(x float64) float64 {
	if w.usable != nil {
		ys := across(w.usable, x)
		return ys[len(ys)-1]
	}
	return min(w.show.left(x), w.under.left(x)) - w.RipLeft
}

// Right is the usable right edge at x.
func (w Wood) Right(x float64) float64 {
	if w.usable != nil {
		return across(w.usable, x)[0]
	}
	return max(w.show.right(x), w.under.right(x)) + w.RipRight
}

// Span is the stretch of usable wood across the slab that p lies in, or the
// one nearest to it: its right and its left edge.
func (w Wood) Span(p geom.Point) (right, left float64) {
	if w.usable == nil {
		return w.Right(p.X), w.Left(p.X)
	}
	ys := across(w.usable, p.X)
	best := math.Inf(1)
	for i := 0; i+1 < len(ys); i += 2 {
		if d := max(ys[i]-p.Y, p.Y-ys[i+1]); d < best {
			best, right, left = d, ys[i], ys[i+1]
		}
	}
	return right, left
}

// Outline is the show face, anticlockwise.
func (w Wood) Outline() geom.Ring { return w.show.ring(w.Length) }

// UnderOutline is the under face, anticlockwise, in the same frame.
func (w Wood) UnderOutline() geom.Ring { return w.under.ring(w.Length) }

// Usable is what lies inside both faces, anticlockwise.
func (w Wood) Usable() geom.Ring {
	if w.usable != nil {
		return w.usable
	}
	return between(w.Left, w.Right, w.Length)
}

// Clear is how far p lies inside the usable wood, mm: measured along and
// across a slab drawn by its stations, the shortest way to an outline;
// negative outside.
func (w Wood) Clear(p geom.Point) float64 {
	if w.usable == nil {
		return min(p.X, w.Length-p.X, w.Left(p.X)-p.Y, p.Y-w.Right(p.X))
	}
	_, d := w.index.Nearest(p)
	if !w.usable.Contains(p) {
		return -d
	}
	return d
}

// Holds reports whether p lies inside the usable wood, or outside by no more
// than the tolerance, mm.
func (w Wood) Holds(p geom.Point, tolerance float64) bool {
	return w.core.Depth(p) >= 0 || w.Clear(p) >= -tolerance
}

// Area is the area of the show face, mm²: by integration of its edges, or of
// its outline.
func (w Wood) Area() float64 {
	if w.show.line != nil {
		return w.show.line.Area()
	}
	return span(w.show.leftEdge, w.Length) - span(w.show.rightEdge, w.Length)
}

// span is the area under an edge from the butt to the far end; before the
// first station and beyond the last the edge stays level.
func span(c curve, length float64) float64 {
	n := len(c.x) - 1
	return c.integral() + c.y[0]*c.x[0] + c.y[n]*(length-c.x[n])
}

// MeanArea is the mean width times the length, mm²: the mean of the stations,
// or of five places along an outline, as one would measure it by hand.
func (w Wood) MeanArea() float64 {
	var sum float64
	if w.show.line != nil {
		const places = 5
		for i := range places {
			x := w.Length * (float64(i) + 0.5) / places
			sum += w.show.left(x) - w.show.right(x)
		}
		return sum / places * w.Length
	}
	for _, s := range w.Show {
		sum += s.Width()
	}
	return sum / float64(len(w.Show)) * w.Length
}

// MeanWidth is the area of the show face over the length, mm.
func (w Wood) MeanWidth() float64 { return w.Area() / w.Length }

// Edges are the left and the right edge of a face's ring as open lines, from
// the butt to the far end: the ring without its ends.
func Edges(ring geom.Ring) (left, right []geom.Point) {
	box := ring.Bounds()
	off := func(p, q geom.Point) float64 { return 3*math.Abs(p.X-q.X) + math.Abs(p.Y-q.Y) } // an end is told by where it ends
	at := [4]int{}
	for k, corner := range box.Ring() { // butt right, far right, far left, butt left
		for i := range ring {
			if off(ring[i], corner) < off(ring[at[k]], corner) {
				at[k] = i
			}
		}
	}
	walk := func(from, to int) (line []geom.Point) {
		for i := from; ; i = (i + 1) % len(ring) {
			line = append(line, ring[i])
			if i == to {
				return line
			}
		}
	}
	right, left = walk(at[0], at[1]), walk(at[2], at[3])
	slices.Reverse(left)
	return left, right
}
