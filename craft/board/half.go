package board

import (
	"math"
	"slices"

	"idletimber/craft/geom"
)

// ByPoints is the design with its outline by points, to be drawn on freely: whole, or
// half of a template. Where the board was cut otherwise it goes on from there. Its
// handles stay where they are; side notches are not among the points, for they are
// taken out of the line again.
func (s Shaped) ByPoints(half bool) Design {
	line := geom.Largest(geom.Flatten(s.Line, geom.True))
	box := line.Bounds()
	d := s.Design
	d.Nodes, d.Shape, d.Half, d.AsCut = s.nodes(half), Free, half, nil
	d.Length = math.Round((box.MaxX-box.MinX)*100) / 100
	d.Width = math.Round((box.MaxY-box.MinY)*100) / 100
	d.More = slices.Clone(d.More)
	is := Draw(d, nil)
	stay := func(h *Handle) { // a free line's handles are measured from its own ends
		was, on := s.datum(), is.Outline
		if h.Kind == Notch {
			on = line
			if s.Planned == nil {
				was = line
			}
		}
		at := h.centre(s.Design, was)
		if along := h.centre(d, on).X - at.X; h.Far {
			h.Setback -= along
		} else {
			h.Setback += along
		}
		h.Offset -= h.centre(d, on).Y - at.Y
	}
	stay(&d.Handle)
	for i := range d.More {
		stay(&d.More[i])
	}
	return d
}

func (s Shaped) nodes(half bool) []Node {
	d, nodes := s.Design, s.Design.Nodes
	switch {
	case d.Shape != Free || len(d.AsCut) > 0:
		nodes = NodesFrom(s.Line)
	case d.Half && half:
		return nodes
	case d.Half:
		nodes = whole(nodes)
	}
	if half {
		return halved(nodes)
	}
	return nodes
}

// halved is the part of a closed line to the left of the centre line, from its handle
// end to its far end; an oval's where the line has no such part.
func halved(nodes []Node) []Node {
	line := anticlockwise(nodes)
	n := len(line)
	var best []Node
	for i := range line {
		if line[i].Y > onLine || line[(i+1)%n].Y <= onLine {
			continue
		}
		if part := upward(line, i); extent(part) > extent(best) {
			best = part
		}
	}
	if len(best) >= 2 {
		return best
	}
	box := geom.Largest(geom.Flatten(freePath(nodes), geom.Fine)).Bounds()
	top := Node{X: (box.MinX + box.MaxX) / 2, Y: (box.MaxY - box.MinY) / 2, Kind: "smooth"}
	return []Node{{X: box.MaxX}, top, {X: box.MinX}}
}

// upward is the stretch of a line over the centre line that begins after node i. A
// straight line over the centre line is drawn by [whole] again; a curve gets a node
// where it crosses.
func upward(line []Node, i int) (out []Node) {
	n := len(line)
	node := func(k int) Node { return line[(k+n)%n] }
	switch first := node(i); {
	case math.Abs(first.Y) <= onLine:
		first.Y = 0
		out = append(out, first)
	case first.bent():
		_, second := first.split(node(i + 1).Point())
		out = append(out, second)
	}
	k := i + 1
	for ; k < i+n && node(k).Y > onLine; k++ {
		out = append(out, node(k))
	}
	last := len(out) - 1
	switch end := node(k); {
	case math.Abs(end.Y) <= onLine:
		end.Y, end.Run, end.Rise = 0, "", 0
		out = append(out, end)
	case out[last].bent():
		first, second := out[last].split(end.Point())
		second.Run, second.Rise = "", 0
		out[last] = first
		out = append(out, second)
	default:
		out[last].Run, out[last].Rise = "", 0
	}
	return out
}

func extent(part []Node) float64 {
	if len(part) == 0 {
		return 0
	}
	low := func(a, b Node) int { return int(math.Copysign(1, a.X-b.X)) }
	return slices.MaxFunc(part, low).X - slices.MinFunc(part, low).X
}

// anticlockwise is a closed line in the direction in which outlines run.
func anticlockwise(nodes []Node) []Node {
	ring := make(geom.Ring, len(nodes))
	for i, o := range nodes {
		ring[i] = o.Point()
	}
	if ring.SignedArea() >= 0 {
		return nodes
	}
	out := slices.Clone(nodes)
	slices.Reverse(out)
	for i := range out { // the run to the next node is that which came from it
		from := nodes[(2*len(nodes)-2-i)%len(nodes)]
		out[i].Run, out[i].Rise, out[i].In = from.Run, from.Rise, from.In
	}
	return out
}

// nodeArc is the arc from a node to the next: about a centre, from an angle, through a
// sweep in radians, negative where it runs clockwise.
type nodeArc struct {
	centre              geom.Point
	radius, from, sweep float64
}

// bent tells whether the run to the next node is an arc.
func (o Node) bent() bool { return o.Run == "arc" && o.Rise != 0 }

// arcTo is the arc of a node whose run is one, on a line that runs anticlockwise.
func (o Node) arcTo(b geom.Point) nodeArc {
	a := o.Point()
	chord := b.Sub(a)
	l := chord.Len()
	right := geom.Point{X: chord.Y, Y: -chord.X}.Scale(1 / l) // outward
	r := (l*l/4 + o.Rise*o.Rise) / (2 * math.Abs(o.Rise))
	c := a.Add(chord.Scale(0.5)).Add(right.Scale(o.Rise - math.Copysign(r, o.Rise)))
	sweep := 4 * math.Atan2(2*math.Abs(o.Rise), l)
	at := a.Sub(c)
	return nodeArc{c, r, math.Atan2(at.Y, at.X), math.Copysign(sweep, o.Rise)}
}

// at is the point of an arc after a part of its sweep.
func (a nodeArc) at(sweep float64) geom.Point {
	sin, cos := math.Sincos(a.from + sweep)
	return a.centre.Add(geom.Point{X: a.radius * cos, Y: a.radius * sin})
}

// rise is that of a part of the arc.
func (a nodeArc) rise(sweep float64) float64 {
	return math.Copysign(a.radius*(1-math.Cos(sweep/2)), a.sweep)
}

// split cuts the arc from a node to the next where it crosses the centre line: the
// node with the first part, and a node on the centre line with the second.
func (o Node) split(b geom.Point) (first, second Node) {
	a := o.arcTo(b)
	below := func(sweep float64) bool { return a.at(sweep).Y <= 0 == (o.Y <= 0) }
	from, to := 0.0, a.sweep
	for range 60 { // it crosses once: its ends lie on either side
		if mid := (from + to) / 2; below(mid) {
			from = mid
		} else {
			to = mid
		}
	}
	at := a.at(to)
	first, second = o, Node{X: at.X, Run: "arc", Rise: a.rise(a.sweep - to)}
	first.Rise = a.rise(to)
	return first, second
}
