package board

import (
	"fmt"
	"math"

	"idletimber/craft"
	"idletimber/craft/geom"
)

// Grip is a place on a drawing where dimensions of a design are taken hold of. It
// stands where the design is drawn: what does not fit is clamped alike.
type Grip struct {
	Key    string     `json:"key" doc:"Stable name, such as corner or node-3"`
	Part   string     `json:"part" enum:"outline,handles,recesses,cut" doc:"The part of the shape that it belongs to"`
	Label  string     `json:"label" doc:"What it moves"`
	At     geom.Point `json:"at" doc:"Where it stands, in the board's frame"`
	Moves  []Motion   `json:"moves" doc:"One for each value that it moves"`
	Remove bool       `json:"remove,omitempty" doc:"It is a point that may be taken out of its line"`
}

// Motion is how a grip moves one value of a design.
type Motion struct {
	Path   string      `json:"path" doc:"JSON pointer to the value in the design"`
	Value  float64     `json:"value" doc:"What it is as drawn"`
	Axis   geom.Point  `json:"axis" doc:"How far the grip moves, mm, as the value grows by one; 0, 0 for an angle"`
	About  *geom.Point `json:"about,omitempty" doc:"Of an angle: the point about which the grip turns"`
	Least  float64     `json:"least" doc:"The least that is drawn"`
	Most   float64     `json:"most" doc:"The most that is drawn"`
	Step   float64     `json:"step" doc:"What the value is rounded to"`
	Felt   *float64    `json:"felt,omitempty" doc:"A value that is felt when the grip comes near"`
	MostAs *float64    `json:"mostAs,omitempty" doc:"What stands in the design for the most"`
}

// The parts of a shape that have grips.
const (
	outlinePart = "outline"
	handlesPart = "handles"
	recessPart  = "recesses"
	cutPart     = "cut"
)

const (
	halfMM = 0.5
	fineMM = 0.1
)

// gripper collects the grips of a board as it is drawn.
type gripper struct {
	Shaped
	usable geom.Ring
	part   string
	out    []Grip
}

// Grips lists the grips of a board as it is drawn; usable is the ring that Draw takes.
func (s Shaped) Grips(usable geom.Ring) []Grip {
	g := &gripper{Shaped: s, usable: usable, out: []Grip{}}
	g.part = outlinePart
	if s.Design.Shape == Free {
		g.line("node", "/nodes", s.Design.Nodes, s.Design.Half, nil)
	} else {
		g.outline()
	}
	flank := s.Flank()
	g.add("slant", "Edges slant in by", geom.Point{X: flank.X, Y: flank.Y + s.Design.Slant},
		g.along("/slant", s.Design.Slant, 0, 1, "slant"))
	g.part = handlesPart
	for k, h := range append([]Handle{s.Design.Handle}, s.Design.More...) {
		if h.Kind != NoHandle && h.Kind != Bevel && h.Kind != "" {
			g.handle(k, h)
		}
	}
	g.part = recessPart
	for i, r := range s.Design.Recesses {
		g.recess(i, r)
	}
	g.part = cutPart
	g.line("cut", "/asCut", s.Design.AsCut, false, nil)
	return g.out
}

func (g *gripper) add(key, label string, at geom.Point, moves ...Motion) *Grip {
	g.out = append(g.out, Grip{Key: key, Part: g.part, Label: label, At: at, Moves: moves})
	return &g.out[len(g.out)-1]
}

// along moves a value of the design along an axis, in the range at its field.
func (g *gripper) along(path string, value, dx, dy float64, field string) Motion {
	r, _ := craft.RangeOf(Design{}, field)
	return Motion{Path: path, Value: value, Axis: geom.Point{X: dx, Y: dy}, Least: r.Least, Most: r.Most, Step: halfMM}
}

// upTo is a motion that is drawn up to a most.
func (m Motion) upTo(most float64) Motion {
	m.Most = max(m.Least, min(m.Most, most))
	return m
}

// from is a motion that is drawn from a least on.
func (m Motion) from(least float64) Motion {
	m.Least = max(m.Least, least)
	return m
}

// bend is how fast a leaning end moves along x, mm a degree, over a width.
func bend(angle, width float64) float64 {
	cos := math.Cos(angle * math.Pi / 180)
	return width * math.Pi / 180 / (cos * cos)
}

func (g *gripper) outline() {
	d := g.Design
	x, y := d.Length/2, d.Width/2
	at := func(x, y float64) geom.Point { return geom.Point{X: x, Y: y} }
	length := func(p geom.Point, dx float64) {
		g.add("length", "Length", p, g.along("/length", d.Length, dx, 0, "length"))
	}
	width := func(p geom.Point) { g.add("width", "Width", p, g.along("/width", d.Width, 0, 0.5, "width")) }
	corner := func(most, from, dx, y float64) {
		r := min(max(d.Corner, 0), most)
		g.add("corner", "Corners", at(from+dx*r, y), g.along("/corner", r, dx, 0, "corner").upTo(most))
	}
	switch d.Shape {
	case Circle:
		length(at(-x, 0), -0.5)
	case Square:
		length(at(-x, 0), -0.5)
		corner(x, x, -1, x)
	case Oval:
		length(at(-x, 0), -0.5)
		width(at(0, y))
	case HalfMoon:
		h := min(d.Width, x)
		length(at(-x, 0), -0.5)
		g.add("width", "Width", at(0, h/2), g.along("/width", h, 0, 0.5, "width").upTo(x))
		corner(0.45*h, x, -1, -h/2)
	case Teardrop:
		big := min(d.Width, d.Length) / 2
		most := min(big*0.98, (d.Length-2*big)/2+big*0.98)
		tip := min(max(d.Tip, 0), most)
		length(at(-x, 0), -0.5)
		width(at(-x+big, big))
		g.add("tip", "Radius of the point", at(x-2*tip, 0), g.along("/tip", tip, -2, 0, "tip").upTo(most))
	case Heart:
		g.heart()
	case Bladed:
		g.blade()
	case Paddle:
		g.paddle()
	case Plank:
		length(at(-x, 0), -0.5)
		g.plank()
	default:
		length(at(-x, 0), -0.5)
		width(at(0, y))
		corner(min(x, y), x, -1, y)
	}
}

func (g *gripper) heart() {
	d := g.Design
	x, y := d.Length/2, d.Width/2
	lobe := min(0.28*d.Width, 0.45*d.Length)
	off, cx := y-lobe, x-lobe
	tip := min(max(d.Tip, 0), 0.4*lobe)
	g.add("length", "Length", geom.Point{X: x, Y: off}, g.along("/length", d.Length, 0.5, 0, "length"))
	g.add("width", "Width", geom.Point{X: cx, Y: y}, g.along("/width", d.Width, 0, 0.5, "width"))
	g.add("tip", "Radius of the point", geom.Point{X: -x + 2*tip}, g.along("/tip", tip, 2, 0, "tip").upTo(0.4*lobe))
	// The notch between the lobes is rounded by a third round that touches both.
	f := max(d.Shoulder, 0)
	root := math.Sqrt(max(1e-6, (lobe+f)*(lobe+f)-off*off))
	const slowest = 0.02
	speed := max(slowest, (lobe+f)/root-1)
	g.add("shoulder", "Radius of the notch", geom.Point{X: cx + root - f},
		g.along("/shoulder", f, speed, 0, "shoulder").upTo(d.Length))
}

func (g *gripper) blade() {
	d := g.Design
	x, y := d.Length/2, d.Width/2
	lean := min(math.Abs(math.Tan(d.Angle*math.Pi/180))*d.Width, d.Length*0.8)
	up := 1.0
	if d.Angle <= 0 {
		up = -1
	}
	g.add("length", "Length", geom.Point{X: -x, Y: -up * y}, g.along("/length", d.Length, -0.5, 0, "length"))
	g.add("width", "Width", geom.Point{Y: y}, g.along("/width", d.Width, 0, 0.5, "width"))
	side := d.Length
	if up > 0 {
		side -= lean
	}
	most := 0.499 * min(d.Width, side)
	r := min(max(d.Corner, 0), most)
	g.add("corner", "Corners", geom.Point{X: x - r, Y: y}, g.along("/corner", r, -1, 0, "corner").upTo(most))
	speed := bend(d.Angle, d.Width)
	g.add(
		"angle",
		"Angle of the end",
		geom.Point{X: -x + lean, Y: up * y},
		g.along("/angle", d.Angle, up*speed, 0, "angle"),
	)
	if d.Angle == 0 {
		g.add("angle-left", "Angle of the end", geom.Point{X: -x, Y: y}, g.along("/angle", 0, speed, 0, "angle"))
	}
}

func (g *gripper) paddle() {
	d := g.Design
	x, y, n := d.Length/2, d.Width/2, min(d.Neck, d.Width)/2
	shoulder := x - d.NeckLength
	coveMost := min(y-n, d.NeckLength/2)
	cove := min(max(d.Shoulder, 0), coveMost)
	cornerMost := min(y, (shoulder+x)/2)
	corner := min(max(d.Corner, 0), cornerMost)
	tipMost := min(n, d.NeckLength-cove)
	tip := tipMost
	if d.Tip > 0 {
		tip = min(tip, d.Tip)
	}
	g.add("length", "Length", geom.Point{X: -x}, g.along("/length", d.Length, -0.5, 0, "length").from(d.NeckLength+20))
	g.add(
		"width",
		"Width",
		geom.Point{X: (-x + shoulder) / 2, Y: y},
		g.along("/width", d.Width, 0, 0.5, "width").from(2*n),
	)
	g.add(
		"corner",
		"Corners",
		geom.Point{X: -x + corner, Y: y},
		g.along("/corner", corner, 1, 0, "corner").upTo(cornerMost),
	)
	g.add("neck", "Neck", geom.Point{X: x - d.NeckLength/2, Y: n}, g.along("/neck", 2*n, 0, 0.5, "neck").upTo(d.Width))
	g.add("neckLength", "Neck's length", geom.Point{X: shoulder, Y: (n + y) / 2},
		g.along("/neckLength", d.NeckLength, -1, 0, "neckLength").upTo(d.Length-20))
	g.add("shoulder", "Shoulder", geom.Point{X: shoulder + cove, Y: -n},
		g.along("/shoulder", cove, 1, 0, "shoulder").upTo(coveMost))
	round := g.along("/tip", tip, -1, 0, "tip").from(halfMM).upTo(tipMost)
	full := 0.0
	round.MostAs = &full
	g.add("tip", "Corners of the neck's end", geom.Point{X: x - tip, Y: -n}, round)
}

func (g *gripper) plank() {
	d := g.Design
	x, y := d.Length/2, d.Width/2
	if !d.KeepLeft || !d.KeepRight {
		side := 1.0
		if d.KeepLeft {
			side = -1
		}
		g.add("width", "Width", geom.Point{Y: side * y}, g.along("/width", d.Width, 0, side*0.5, "width"))
	}
	if box := g.Outline.Bounds(); d.KeepLeft || d.KeepRight {
		edge, inward := box.MaxY, -1.0
		if !d.KeepLeft {
			edge, inward = box.MinY, 1
		}
		g.add(
			"inset",
			"Inside the natural edge by",
			geom.Point{X: -x / 2, Y: edge},
			g.along("/inset", d.Inset, 0, inward, "inset"),
		)
	}
	ends := d.Ends(g.usable)
	for i, e := range []struct {
		key, name string
		way       float64
		End
	}{{"handleEnd", "Handle end", 1, d.HandleEnd}, {"farEnd", "Far end", -1, d.FarEnd}} {
		to := ends[i][1]
		middle := (ends[i][0] + to) / 2
		add := func(id, label string, at geom.Point, value, dx, dy float64, most float64) {
			m := g.along("/"+e.key+"/"+id, value, dx, dy, e.key+"."+id)
			g.add(e.key+"-"+id, e.name+", "+label, at, m.upTo(most))
		}
		far := math.Inf(1)
		switch e.Kind {
		case "angle":
			lean := math.Tan(e.Angle * math.Pi / 180)
			add(
				"angle",
				"angle",
				geom.Point{X: e.way*x - lean*(to-middle), Y: to},
				e.Angle,
				-bend(e.Angle, to-middle),
				0,
				far,
			)
		case "curve":
			add("rise", "rise", geom.Point{X: e.way * (x + e.Rise), Y: middle}, e.Rise, e.way, 0, far)
		case "tab":
			r := min(e.Round, e.Width/2, e.Length/2)
			add(
				"width",
				"tab's width",
				geom.Point{X: e.way * (x - e.Length/2), Y: middle + e.Width/2},
				e.Width,
				0,
				0.5,
				far,
			)
			add(
				"length",
				"tab's length",
				geom.Point{X: e.way * (x - e.Length), Y: (middle + e.Width/2 + to) / 2},
				e.Length,
				-e.way,
				0,
				far,
			)
			add(
				"round",
				"shoulders of the tab",
				geom.Point{X: e.way * (x - e.Length + r), Y: middle - e.Width/2},
				r,
				e.way,
				0,
				min(e.Width/2, e.Length/2),
			)
		}
	}
}

// handle adds the grips of the k-th handle, 0 for the first.
func (g *gripper) handle(k int, h Handle) {
	base, name := "/handle", "Handle"
	if k > 0 {
		base, name = fmt.Sprintf("/more/%d", k-1), fmt.Sprintf("Handle %d", k+1)
	}
	move := func(field string, value float64, axis geom.Point) Motion {
		return g.along(base+"/"+field, value, axis.X, axis.Y, "handle."+field)
	}
	add := func(id, label string, at geom.Point, moves ...Motion) {
		if label == "" {
			label = name
		} else {
			label = name + ", " + label
		}
		g.add(fmt.Sprintf("%s-%d", id, k), label, at, moves...)
	}
	c := h.centre(g.Design, g.datum())
	way := geom.Point{X: -1}
	if h.Far {
		way.X = 1
	}
	setback := move("setback", h.Setback, way)
	if h.Kind == Notch {
		box := g.Outline.Bounds()
		edge, inward := box.MaxY, -1.0
		if h.Right {
			edge, inward = box.MinY, 1
		}
		long := max(h.Length, 2*h.Diameter)
		add("handle", "", geom.Point{X: c.X, Y: edge + inward*h.Diameter/2}, setback)
		add(
			"handle-size",
			"depth",
			geom.Point{X: c.X, Y: edge + inward*h.Diameter},
			move("diameter", h.Diameter, geom.Point{Y: inward}),
		)
		add(
			"handle-length",
			"length",
			geom.Point{X: c.X - long/2, Y: edge},
			move("length", long, geom.Point{X: -0.5}).from(2*h.Diameter),
		)
		return
	}
	line := 0.0
	offset := move("offset", h.Offset, geom.Point{Y: 1})
	offset.Felt = &line
	add("handle", "", c, setback, offset)
	if h.Kind == Hole || h.Kind == CordHole {
		add(
			"handle-size",
			"diameter",
			geom.Point{X: c.X + h.Diameter/2, Y: c.Y},
			move("diameter", h.Diameter, geom.Point{X: 0.5}),
		)
		return
	}
	frame := geom.Placement{X: c.X, Y: c.Y, Angle: h.turned(g.Design)}
	wide := move("diameter", h.Diameter, geom.Point{Y: 0.5})
	if h.Kind == Crescent { // its horns stand across
		frame.Angle += 90
		wide = wide.upTo(0.95 * h.Length)
		wide.Value = min(wide.Value, wide.Most)
	}
	axis := func(x, y float64) geom.Point { return frame.Out(geom.Point{X: x, Y: y}).Sub(c) }
	reach := h.Length / 2
	if h.Kind == OwnHole {
		reach = 10
		for _, n := range h.Nodes {
			reach = max(reach, n.X)
		}
		g.line(fmt.Sprintf("own-%d", k), base+"/nodes", h.Nodes, false, &frame)
	} else {
		long, least := h.Length, 5.0
		if h.Kind == Slotted {
			long, least = max(h.Length, h.Diameter), h.Diameter
		}
		add("handle-length", "length", frame.Out(geom.Point{X: -long / 2}),
			move("length", long, axis(-0.5, 0)).from(least))
		if h.Kind == Slotted {
			wide = wide.upTo(long)
		}
		wide.Axis = axis(0, 0.5)
		add("handle-size", "width", frame.Out(geom.Point{Y: wide.Value / 2}), wide)
	}
	turn := move("turn", h.Turn, geom.Point{})
	turn.About, turn.Step = &c, 1
	add("handle-turn", "turned", frame.Out(geom.Point{X: reach + 12}), turn)
}

func (g *gripper) recess(i int, r Recess) {
	base, name := fmt.Sprintf("/recesses/%d/", i), fmt.Sprintf("Recess %d", i+1)
	move := func(field string, value, dx, dy float64) Motion {
		return g.along(base+field, value, dx, dy, "recesses."+field)
	}
	if r.Kind == "groove" {
		top := g.Outline.Bounds().MaxY
		g.add(
			fmt.Sprintf("recess-inset-%d", i),
			name+", from the edge",
			geom.Point{Y: top - r.Inset},
			move("inset", r.Inset, 0, -1),
		)
		return
	}
	at := r.centres(g.Shaped)[0]
	long, _ := r.size()
	sideways := move("y", r.Y, 0, 1)
	if r.Side > 0 {
		if sideways = move("side", r.Side, 0, 1); r.From == left {
			sideways = move("side", r.Side, 0, -1)
		}
	}
	switch {
	case r.Count < 2:
		g.add(fmt.Sprintf("recess-%d", i), name, geom.Point{X: r.X, Y: at.Y}, move("x", r.X, 1, 0), sideways)
	case r.Spread == "middle":
		g.add(fmt.Sprintf("recess-%d", i), name, geom.Point{X: r.X, Y: at.Y}, move("x", r.X, 1, 0), sideways)
		g.add(fmt.Sprintf("recess-gap-%d", i), name+", gap", geom.Point{X: at.X - long/2, Y: at.Y},
			move("gap", r.Gap, -float64(r.Count-1)/2, 0))
	default:
		margin := at.X - long/2 - g.Outline.Bounds().MinX
		g.add(fmt.Sprintf("recess-margin-%d", i), name+", from the end", geom.Point{X: at.X - long/2, Y: at.Y},
			move("margin", margin, 1, 0), sideways)
	}
	if r.Item > 0 || r.Count > 1 {
		return
	}
	at, moves := geom.Point{X: r.X + r.Length/2, Y: at.Y}, []Motion{move("length", r.Length, 0.5, 0)}
	if r.Kind != "ring" {
		at.Y += r.Width / 2
		moves = append(moves, move("width", r.Width, 0, 0.5))
	}
	g.add(fmt.Sprintf("recess-size-%d", i), name+", size", at, moves...)
}

// line adds the nodes of a line, the rise of its arcs and battens, and what rounds,
// cuts or moves it; in a frame of its own where it has one.
func (g *gripper) line(key, base string, nodes []Node, half bool, frame *geom.Placement) {
	n := len(nodes)
	if n < 2 {
		return
	}
	out, turned := func(p geom.Point) geom.Point { return p }, func(p geom.Point) geom.Point { return p }
	if frame != nil {
		out = frame.Out
		turned = func(p geom.Point) geom.Point { return frame.Out(p).Sub(frame.Out(geom.Point{})) }
	}
	ring := make(geom.Ring, n)
	for i, o := range nodes {
		ring[i] = o.Point()
	}
	outside := 1.0
	if ring.SignedArea() < 0 {
		outside = -1
	}
	move := func(i int, field string, value float64, axis geom.Point, step float64) Motion {
		a := turned(axis)
		m := g.along(fmt.Sprintf("%s/%d/%s", base, i, field), value, a.X, a.Y, "nodes."+field)
		m.Step = step
		return m
	}
	least := 3
	if half {
		least = 2
	}
	for i, o := range nodes {
		p := o.Point()
		point := g.add(fmt.Sprintf("%s-%d", key, i), fmt.Sprintf("Point %d", i+1), out(p),
			move(i, "x", o.X, geom.Point{X: 1}, fineMM), move(i, "y", o.Y, geom.Point{Y: 1}, fineMM))
		point.Remove = n > least
		add := func(id, label string, at geom.Point, m Motion) {
			g.add(fmt.Sprintf("%s-%s-%d", key, id, i), fmt.Sprintf("%s point %d", label, i+1), out(at), m)
		}
		if side := ring[(i+1)%n].Sub(p); o.Run != "" || o.In != 0 {
			l := max(side.Len(), 1e-9)
			normal := geom.Point{X: side.Y, Y: -side.X}.Scale(outside / l) // outward
			middle := p.Lerp(ring[(i+1)%n], 0.5)
			if o.Run != "" {
				add("rise", "Rise after", middle.Add(normal.Scale(o.Rise)), move(i, "rise", o.Rise, normal, halfMM))
			} else {
				add("in", "Edge moved in after", middle.Sub(normal.Scale(o.In)),
					move(i, "in", o.In, normal.Scale(-1), halfMM))
			}
		}
		if o.Round == 0 && o.Cut == 0 {
			continue
		}
		before, after := ring[(i+n-1)%n], ring[(i+1)%n]
		if half && i == 0 {
			before = nodes[1].mirror().Point()
		}
		if half && i == n-1 {
			after = nodes[n-2].mirror().Point()
		}
		g.shortened(add, move, i, o, before, after)
	}
}

// shortened adds the grip of a corner that is rounded or cut off: on the line that
// halves its angle.
func (g *gripper) shortened(
	add func(id, label string, at geom.Point, m Motion),
	move func(i int, field string, value float64, axis geom.Point, step float64) Motion,
	i int,
	o Node,
	before, after geom.Point,
) {
	p := o.Point()
	u, v := before.Sub(p), after.Sub(p)
	lu, lv := u.Len(), v.Len()
	if lu < 1e-6 || lv < 1e-6 {
		return
	}
	sum := u.Scale(1 / lu).Add(v.Scale(1 / lv))
	if sum.Len() < 1e-3 {
		return
	}
	way := sum.Scale(1 / sum.Len())
	angle := math.Acos(max(-1, min(1, (u.X*v.X+u.Y*v.Y)/(lu*lv)))) / 2
	room := 0.499 * min(lu, lv)
	const slowest = 0.01
	if share := 1/math.Sin(angle) - 1; o.Round > 0 && share > slowest { // of the radius, from the corner to the round
		most := room * math.Tan(angle)
		r := min(o.Round, most)
		add("round", "Round at", p.Add(way.Scale(r*share)), move(i, "round", r, way.Scale(share), halfMM).upTo(most))
		return
	}
	if share := math.Cos(angle); o.Round == 0 && share > slowest {
		leg := min(o.Cut, room)
		add("cut", "Cut at", p.Add(way.Scale(leg*share)), move(i, "cut", leg, way.Scale(share), halfMM).upTo(room))
	}
}
