package board

import (
	"fmt"
	"math"
	"slices"

	"github.com/tdewolff/canvas"

	"idletimber/craft"
	"idletimber/craft/geom"
)

// Node is a point of a free outline, and how the line goes on from it. The line
// is straight between straight nodes; it bends through smooth ones, and a curve
// ends at a corner.
type Node struct {
	X     float64 `json:"x" mm:"-5000,5000" doc:"Along the board from its middle, mm"`
	Y     float64 `json:"y" mm:"-5000,5000" doc:"To the left of its middle, mm"`
	Kind  string  `json:"kind,omitempty" enum:",straight,smooth,corner" doc:"Left out for straight"`
	Round float64 `json:"round,omitempty" mm:"0,5000" doc:"Radius of a round thing traced into a corner"`
	Cut   float64 `json:"cut,omitempty" mm:"0,5000" doc:"A corner between straight lines cut off, by so much of each"`
	Run   string  `json:"run,omitempty" enum:",arc,batten" doc:"To the next node; left out, as the nodes say"`
	Rise  float64 `json:"rise,omitempty" mm:"-5000,5000" doc:"Of an arc or batten over its chord, outward"`
	In    float64 `json:"in,omitempty" mm:"-1000,1000" doc:"The straight line to the next node moves inward by so much"`
}

// MostNodes bounds a free outline.
const MostNodes = 400

// mostBattens bounds the runs of an outline that are bent battens.
const mostBattens = 120

// DrawnBy counts the points of a design's lines, those of curves as often as they take
// longer to draw.
func (d Design) DrawnBy() (n int) {
	lines := [][]Node{d.Nodes, d.AsCut}
	for _, h := range d.Handles() {
		lines = append(lines, h.Nodes)
	}
	for _, line := range lines {
		for i, o := range line {
			if blended(line, i) {
				n += 20
			}
			switch {
			case o.Run == "batten":
				n += 10
			case o.Kind == "smooth":
				n += 2
			default:
				n++
			}
		}
	}
	return n
}

// lineRun tells whether the run from the i-th node to the next is a straight line.
func lineRun(nodes []Node, i int) bool {
	n := len(nodes)
	a, b := nodes[(i+n)%n], nodes[(i+n+1)%n]
	return a.Run == "" && (a.Kind == "" || a.Kind == "straight") && (b.Kind == "" || b.Kind == "straight")
}

// blended tells whether a round is traced into the i-th corner that runs out into a curve.
func blended(nodes []Node, i int) bool {
	o := nodes[i]
	return o.Round > 0 && o.Kind != "smooth" && !(lineRun(nodes, i-1) && lineRun(nodes, i))
}

// Point is where the node stands.
func (n Node) Point() geom.Point { return geom.Point{X: n.X, Y: n.Y} }

// mirror is the node on the other side of the centre line.
func (n Node) mirror() Node {
	n.Y = -n.Y
	return n
}

// onLine is how near the centre line a node counts as on it, mm.
const onLine = 0.01

// whole joins half a template, drawn from one end of the centre line to the
// other, with its mirror image.
func whole(half []Node) []Node {
	n := len(half)
	out := slices.Clone(half)
	for i := n - 1; i >= 0; i-- {
		if (i == 0 || i == n-1) && math.Abs(half[i].Y) <= onLine {
			continue
		}
		out = append(out, half[i].mirror())
	}
	// The run of a mirrored node is that of the node before it.
	run := func(to, from Node) Node {
		to.Run, to.Rise, to.In = from.Run, from.Rise, from.In
		return to
	}
	at := n
	if math.Abs(half[n-1].Y) <= onLine {
		out[n-1] = run(out[n-1], half[n-2])
	} else {
		out[n-1] = run(out[n-1], Node{})
		out[at] = run(out[at], half[n-2])
		at++
	}
	for i := n - 2; i > 0; i-- {
		out[at] = run(out[at], half[i-1])
		at++
	}
	if at < len(out) {
		out[at] = run(out[at], Node{})
	}
	return out
}

// checkNodes reports what cannot be drawn.
func checkNodes(nodes []Node, half bool, field string) (ps craft.Problems) {
	least := 3
	if half {
		least = 2
	}
	if len(nodes) < least || len(nodes) > MostNodes {
		ps.Add(
			field,
			fmt.Sprintf("there are %d nodes", len(nodes)),
			fmt.Sprintf("draw with %d to %d", least, MostNodes),
		)
		return ps
	}
	if ps = CheckLine(field, nodes); len(ps) > 0 {
		return ps
	}
	if half {
		nodes = whole(nodes)
	}
	ring := geom.Largest(geom.Flatten(freePath(nodes), geom.Fine))
	switch {
	case ring == nil || ring.Area() < 100:
		ps.Add(field, "the line encloses nothing", "draw round the board")
	case ring.SelfCrosses():
		ps.Add(field, "the line crosses itself", "move a node so that the line runs round once")
	}
	return ps
}

// CheckLine reports what in the nodes of a line is out of range.
func CheckLine(field string, nodes []Node) (ps craft.Problems) {
	bent := 0
	for i, n := range nodes {
		if n.Run == "batten" {
			bent++
		}
		at := fmt.Sprintf("%s[%d]", field, i)
		ps.InRange(at, n)
		ps.OneOf(at+".kind", n.Kind, "", "straight", "smooth", "corner")
		ps.OneOf(at+".run", n.Run, "", "arc", "batten")
	}
	if bent > mostBattens {
		ps.Add(field, fmt.Sprintf("%d battens are bent", bent), fmt.Sprintf("bend up to %d", mostBattens))
	}
	return ps
}

// freePath draws a closed outline through nodes. It runs anticlockwise.
func freePath(nodes []Node) *canvas.Path {
	n := len(nodes)
	at := make([]geom.Point, n)
	ring := make(geom.Ring, n)
	for i, o := range nodes {
		ring[i] = o.Point()
	}
	outward := 1.0
	if ring.SignedArea() < 0 {
		outward = -1
	}
	straight := func(i int) bool { return lineRun(nodes, i) }
	copy(at, moved(nodes, ring, straight, outward))

	enter, leave := make([]geom.Point, n), make([]geom.Point, n) // where a shortened corner begins and ends
	round := make([]float64, n)
	for i, o := range nodes {
		enter[i], leave[i] = at[i], at[i]
		if o.Round == 0 && o.Cut == 0 || !straight(i-1) || !straight(i) {
			continue
		}
		enter[i], leave[i], round[i] = shortened(at[(i+n-1)%n], at[i], at[(i+1)%n], o.Round, o.Cut)
	}
	runs := make([]*canvas.Path, n)
	for i := range n {
		k := (i + 1) % n
		from, to := leave[i], enter[k]
		q := &canvas.Path{}
		q.MoveTo(from.X, from.Y)
		switch o := nodes[i]; {
		case o.Run == "arc":
			arc(q, from, to, o.Rise*outward)
		case o.Run == "batten":
			batten(q, from, to, o.Rise*outward)
		case straight(i):
			q.LineTo(to.X, to.Y)
		default:
			c1, c2 := handles(nodes, at, i)
			q.CubeTo(c1.X, c1.Y, c2.X, c2.Y, to.X, to.Y)
		}
		runs[i] = q
	}
	turns := make([]float64, n) // at a corner that is rounded, to the left where positive
	before, behind := make([]float64, n), make([]float64, n)
	for k, o := range nodes {
		i := (k + n - 1) % n
		switch {
		case round[k] > 0:
			turns[k] = side(at[i], at[k], at[(k+1)%n])
		case blended(nodes, k):
			in, out := lineOf(runs[i]), lineOf(runs[k])
			before[k], behind[k], round[k] = blend(in, out, o.Round)
			turns[k] = turnOf(in, out)
		}
	}
	for i := range n {
		runs[i] = trimmed(runs[i], behind[i], before[(i+1)%n])
	}
	p := runs[0]
	for i := range n {
		next := runs[(i+1)%n].StartPos()
		if k := (i + 1) % n; round[k] > 0 {
			p.ArcTo(round[k], round[k], 0, false, turns[k] > 0, next.X, next.Y)
		} else if p.Pos() != next {
			p.LineTo(next.X, next.Y)
		}
		if i < n-1 {
			p = p.Join(runs[i+1])
		}
	}
	p.Close()
	if outward < 0 {
		p = p.Reverse()
	}
	return p
}

// side is positive where one turns left at b on the way from a to c.
func side(a, b, c geom.Point) float64 {
	u, v := b.Sub(a), c.Sub(b)
	return u.X*v.Y - u.Y*v.X
}

// moved shifts straight lines inward and finds their new corners.
func moved(nodes []Node, ring geom.Ring, straight func(int) bool, outward float64) geom.Ring {
	n := len(nodes)
	if !slices.ContainsFunc(nodes, func(o Node) bool { return o.In != 0 }) {
		return ring
	}
	shift := func(i int) (a, b geom.Point) {
		a, b = ring[(i+n)%n], ring[(i+1+n)%n]
		if in := nodes[(i+n)%n].In; in != 0 && straight(i) {
			d := b.Sub(a)
			by := geom.Point{X: -d.Y, Y: d.X}.Scale(outward * in / max(d.Len(), 1e-9))
			a, b = a.Add(by), b.Add(by)
		}
		return a, b
	}
	out := make(geom.Ring, n)
	for i := range ring {
		a, b := shift(i - 1)
		c, d := shift(i)
		u, v := b.Sub(a), d.Sub(c)
		det := u.X*v.Y - u.Y*v.X
		switch {
		case math.Abs(det) > 1e-6*u.Len()*v.Len() && straight(i-1) && straight(i):
			w := c.Sub(a)
			out[i] = a.Add(u.Scale((w.X*v.Y - w.Y*v.X) / det))
		case straight(i):
			out[i] = c
		default:
			out[i] = b
		}
	}
	return out
}

// shortened is where a corner at b between straight lines from a and to c is
// left and taken up again when it is rounded by a radius or cut by a leg; what
// does not fit is reduced.
func shortened(a, b, c geom.Point, round, cut float64) (enter, leave geom.Point, radius float64) {
	u, v := a.Sub(b), c.Sub(b)
	lu, lv := u.Len(), v.Len()
	if lu < 1e-6 || lv < 1e-6 {
		return b, b, 0
	}
	room := 0.499 * min(lu, lv)
	leg := cut
	if round > 0 {
		half := math.Acos(max(-1, min(1, (u.X*v.X+u.Y*v.Y)/(lu*lv)))) / 2
		if half > math.Pi/2-1e-3 || half < 1e-3 {
			return b, b, 0
		}
		leg = round / math.Tan(half)
		if leg > room {
			leg, round = room, room*math.Tan(half)
		}
		radius = round
	}
	leg = min(leg, room)
	return b.Add(u.Scale(leg / lu)), b.Add(v.Scale(leg / lv)), radius
}

// arc bulges to the right of the way from a to b by rise.
func arc(p *canvas.Path, a, b geom.Point, rise float64) {
	chord := b.Sub(a).Len()
	if math.Abs(rise) < 1e-4*chord {
		p.LineTo(b.X, b.Y)
		return
	}
	r := (chord*chord/4 + rise*rise) / (2 * math.Abs(rise))
	p.ArcTo(r, r, 0, math.Abs(rise) > chord/2, rise > 0, b.X, b.Y)
}

// battenKnots is how many curves draw a batten of a chord in mm: a short one needs
// fewer for the same finish.
func battenKnots(chord float64) int {
	const most, least, full = 24, 6, 80
	return int(max(least, min(most, most*math.Sqrt(chord/full))))
}

// batten bends to the right of the way from a to b by rise.
func batten(p *canvas.Path, a, b geom.Point, rise float64) {
	d := b.Sub(a)
	chord := d.Len()
	most := geom.Steepest * chord
	n := battenKnots(chord)
	knots := geom.Batten{Chord: chord, Rise: -max(-most, min(most, rise))}.Knots(n)
	sin, cos := d.Y/chord, d.X/chord
	out := func(q geom.Point) geom.Point {
		return geom.Point{X: a.X + cos*q.X - sin*q.Y, Y: a.Y + sin*q.X + cos*q.Y}
	}
	for i := range n {
		k, l := knots[i], knots[i+1]
		third := (l.Run - k.Run) / 3
		s0, c0 := math.Sincos(k.Heading)
		s1, c1 := math.Sincos(l.Heading)
		u := out(k.Point.Add(geom.Point{X: c0, Y: s0}.Scale(third)))
		v := out(l.Point.Sub(geom.Point{X: c1, Y: s1}.Scale(third)))
		w := out(l.Point)
		if i == n-1 {
			w = b
		}
		p.CubeTo(u.X, u.Y, v.X, v.Y, w.X, w.Y)
	}
}

// handles are the two control points of the curve from node i to the next: a
// Catmull–Rom spline by chord length, which ends freely at corners.
func handles(nodes []Node, at []geom.Point, i int) (c1, c2 geom.Point) {
	n := len(nodes)
	p := func(k int) geom.Point { return at[(k+n)%n] }
	smooth := func(k int) bool { return nodes[(k+n)%n].Kind == "smooth" }
	a, b := p(i), p(i+1)
	d := max(b.Sub(a).Len(), 1e-9)
	tangent := func(k int) geom.Point { // at a smooth node, of unit speed
		d0, d1 := max(p(k).Sub(p(k-1)).Len(), 1e-9), max(p(k+1).Sub(p(k)).Len(), 1e-9)
		u, v := p(k).Sub(p(k-1)).Scale(d1/d0), p(k+1).Sub(p(k)).Scale(d0/d1)
		return u.Add(v).Scale(1 / (d0 + d1))
	}
	chord := b.Sub(a).Scale(1 / d)
	var t0, t1 geom.Point
	switch {
	case smooth(i) && smooth(i+1):
		t0, t1 = tangent(i), tangent(i+1)
	case smooth(i):
		t0 = tangent(i)
		t1 = chord.Scale(1.5).Sub(t0.Scale(0.5))
	case smooth(i + 1):
		t1 = tangent(i + 1)
		t0 = chord.Scale(1.5).Sub(t1.Scale(0.5))
	default:
		t0, t1 = chord, chord
	}
	return a.Add(t0.Scale(d / 3)), b.Sub(t1.Scale(d / 3))
}

// NodesOf is a ring as straight nodes, the fewest that stray at most tolerance
// mm from it.
func NodesOf(r geom.Ring, tolerance float64) []Node {
	if r.SignedArea() < 0 {
		r = slices.Clone(r)
		slices.Reverse(r)
	}
	r = r.Simplified(tolerance)
	out := make([]Node, len(r))
	for i, p := range r {
		out[i] = Node{X: math.Round(p.X*1000) / 1000, Y: math.Round(p.Y*1000) / 1000}
	}
	return out
}

// NodesFrom is a closed path by nodes: its lines and arcs as they are, other
// curves by straight nodes that stray at most 0.01 mm.
func NodesFrom(p *canvas.Path) []Node {
	const stray = 0.01
	var out []Node
	add := func(q canvas.Point) {
		if n := len(out); n > 0 && math.Hypot(out[n-1].X-q.X, out[n-1].Y-q.Y) < 1e-6 {
			return
		}
		out = append(out, Node{X: math.Round(q.X*1000) / 1000, Y: math.Round(q.Y*1000) / 1000})
	}
	for s := p.Split()[0].Scanner(); s.Scan(); {
		switch s.Cmd() {
		case canvas.ArcToCmd:
			rx, ry, _, large, sweep := s.Arc()
			if math.Abs(rx-ry) > 1e-9 || len(out) == 0 {
				return thinned(p)
			}
			chord := math.Hypot(s.End().X-s.Start().X, s.End().Y-s.Start().Y)
			rise := rx - math.Sqrt(max(0, rx*rx-chord*chord/4))
			if large {
				rise = 2*rx - rise
			}
			if !sweep {
				rise = -rise
			}
			if rise = math.Round(rise*1000) / 1000; rise != 0 { // or it is no longer than a point
				out[len(out)-1].Run, out[len(out)-1].Rise = "arc", rise
			}
			add(s.End())
		case canvas.QuadToCmd, canvas.CubeToCmd:
			return thinned(p)
		default:
			add(s.End())
		}
	}
	if n := len(out); n > 1 && math.Hypot(out[n-1].X-out[0].X, out[n-1].Y-out[0].Y) < stray {
		out = out[:n-1]
	}
	if len(out) < 3 {
		out = arcsHalved(out)
	}
	if len(out) > handy {
		return thinned(p)
	}
	return out
}

// handy is how many nodes a hand still moves one by one; what has more is
// thinned out.
const handy = 60

// thinned is a path by straight nodes, as few as leave its inward bends as tight as
// they are: too few, and a blade that turns them would seem too wide.
func thinned(p *canvas.Path) []Node {
	ring := geom.Largest(geom.Flatten(p, bendFine))
	bend := tightest(ring)
	for _, tolerance := range []float64{0.1, 0.05, 0.02} {
		nodes := NodesOf(ring, tolerance)
		if len(nodes) <= MostNodes && len(nodes) > 2 &&
			math.Abs(tightest(geom.Largest(geom.Flatten(freePath(nodes), bendFine)))-bend) <= 0.02*bend {
			return nodes
		}
	}
	return FewNodes(ring)
}

// tightest is the least radius with which a ring bends inward, at most [widest].
func tightest(r geom.Ring) float64 {
	if curves := inward(r, widest); len(curves) > 0 {
		return curves[0].Radius
	}
	return widest
}

// arcsHalved puts a node in the middle of each arc.
func arcsHalved(nodes []Node) (out []Node) {
	for i, n := range nodes {
		if !n.bent() {
			out = append(out, n)
			continue
		}
		a := n.arcTo(nodes[(i+1)%len(nodes)].Point())
		mid := a.at(a.sweep / 2)
		first, second := n, Node{X: mid.X, Y: mid.Y, Run: "arc"}
		first.Rise = a.rise(a.sweep / 2)
		second.Rise = first.Rise
		out = append(out, first, second)
	}
	return out
}
