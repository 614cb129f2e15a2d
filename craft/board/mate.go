package board

import (
	"errors"
	"fmt"
	"math"
	"slices"

	"github.com/tdewolff/canvas"

	"idletimber/craft"
	"idletimber/craft/geom"
)

// UsualGap is the gap between boards that nest, mm.
const UsualGap = 0.8

// Mate is another board that nests with this one.
type Mate struct {
	Board string         `json:"board" doc:"Id of the other board"`
	At    geom.Placement `json:"at" doc:"Where it nests, in this board's frame"`
	Gap   float64        `json:"gap" mm:"0,20" doc:"Between the two, mm"`
}

// Mating is how two nested outlines meet, mm.
type Mating struct {
	Least, Widest float64    // gap over the stretch where they face each other
	Clash         float64    // how deep one reaches into the other
	Length        float64    // of the stretch
	Turned        bool       // they meet as well with the other turned end for end
	At            geom.Point // of the widest gap, or of the clash
}

// Meet measures two outlines that nest in one frame, from the first to the
// second and back; gap is what is wanted between them.
func Meet(a, b geom.Ring, gap float64) Mating {
	m := facing(a, b, gap)
	turned := facing(a, endForEnd(a, b, gap), gap)
	m.Turned = m.Length > 0 && turned.Clash <= m.Clash+slack && math.Abs(turned.Widest-m.Widest) <= 4*slack &&
		turned.Length > 0.8*m.Length
	return m
}

// slack is how far a gap may stray before it is felt, mm.
const slack = 0.1

// facingCosine is of the angle by which an edge may turn away from the one that
// it faces.
const facingCosine = 0.8

// facing compares both ways: what a sees of b and b of a.
func facing(a, b geom.Ring, gap float64) Mating {
	m := Mating{Least: math.Inf(1)}
	for k, pair := range [][2]geom.Ring{{a, b}, {b, a}} {
		far := geom.NewIndex(pair[1])
		rim := pair[0].Dense(2)
		n := len(rim)
		reach := 4*gap + 3
		near, faces := make([]float64, n), make([]bool, n)
		for i, p := range rim {
			q, d := far.Nearest(p)
			inside := far.Contains(p)
			if inside {
				if d > m.Clash {
					m.Clash, m.At = d, p
				}
				near[i], faces[i] = -d, true
				continue
			}
			along, to := rim[(i+1)%n].Sub(rim[(i+n-1)%n]), q.Sub(p)
			square := (along.Y*to.X - along.X*to.Y) / max(along.Len()*d, 1e-9)
			near[i], faces[i] = d, d < reach && (square > facingCosine || d < slack/2)
		}
		run := 0.0
		for i := range rim {
			inner := true // the ends of the stretch, where the edges part, do not count
			for w := -3; w <= 3; w++ {
				inner = inner && faces[(i+w+n)%n]
			}
			if !inner {
				continue
			}
			run += 2
			m.Least = min(m.Least, near[i])
			if near[i] > m.Widest {
				m.Widest = near[i]
				if m.Clash == 0 {
					m.At = rim[i]
				}
			}
		}
		if k == 0 || run < m.Length {
			m.Length = run
		}
	}
	if math.IsInf(m.Least, 1) {
		m.Least = geom.Gap(a, b)
	}
	return m
}

// endForEnd turns b about the middle of the stretch where it faces a.
func endForEnd(a, b geom.Ring, gap float64) geom.Ring {
	far := geom.NewIndex(a)
	box := geom.Bounds{MinX: math.Inf(1), MinY: math.Inf(1), MaxX: math.Inf(-1), MaxY: math.Inf(-1)}
	for _, p := range b.Dense(3) {
		if _, d := far.Nearest(p); d < 4*gap+3 {
			box = geom.Bounds{
				MinX: min(box.MinX, p.X),
				MinY: min(box.MinY, p.Y),
				MaxX: max(box.MaxX, p.X),
				MaxY: max(box.MaxY, p.Y),
			}
		}
	}
	if box.MinX > box.MaxX {
		return b
	}
	// Mirror along the board: a board turned over about its cross axis.
	mid := (box.MinX + box.MaxX) / 2
	out := b.Map(func(p geom.Point) geom.Point { return geom.Point{X: 2*mid - p.X, Y: p.Y} })
	slices.Reverse(out)
	return out
}

// opens is by how much a gap may open between mates before it is seen, mm (rule).
const opens = 0.7

// MateVerdict judges how a board meets another that it must mate, where it may stray so many
// times the usual.
func MateVerdict(a, b geom.Ring, gap, stray float64, name string) craft.Verdict {
	m := Meet(a, b, gap)
	limit := gap + opens*stray
	v := craft.Verdict{
		Check: "mate", Subject: name, Stage: craft.Shape, Level: craft.Over(m.Widest, limit, math.Inf(1)),
		Limit:   limit,
		Finding: "Nests with " + name, Reason: "Neighbours that share a curve are seen side by side: a gap that " +
			"opens, or a place where they jam, shows at once.",
		Figure: craft.Figure{
			Key:     "set.gap",
			Stage:   craft.Shape,
			Label:   "Widest gap to " + name,
			Value:   m.Widest,
			Unit:    craft.MM,
			Formula: "largest distance between the two outlines where they face each other, measured both ways round",
			Terms: []craft.Term{
				{Name: "least gap", Value: m.Least, Unit: craft.MM},
				{Name: "wanted", Value: gap, Unit: craft.MM},
				{Name: "length that mates", Value: m.Length, Unit: craft.MM},
				{Name: "clash", Value: m.Clash, Unit: craft.MM},
			},
			Source: "measured on the outlines",
		},
		Mark: around(m.At),
	}
	if m.Turned {
		v.Finding += ", also turned end for end"
	}
	switch {
	case m.Clash > slack/2:
		v.Level, v.Finding = craft.Stop, "Clashes with "+name
		v.Figure.Key, v.Figure.Label, v.Figure.Value, v.Limit = "set.clash", "Reaches into "+name+" by", m.Clash, 0
	case m.Length < 20:
		v.Level, v.Finding = craft.Mind, "Hardly touches "+name
	case m.Least < gap/4:
		v.Level, v.Finding = craft.Mind, "Jams against "+name+" when the wood swells"
		v.Figure.Label, v.Figure.Value, v.Limit, v.AtLeast = "Least gap to "+name, m.Least, gap/4, true
	case v.Level != craft.Good:
		v.Finding = "The gap to " + name + " opens"
	}
	return v
}

// Part is one of the boards that a board is split into, and where it lies in
// the frame of the board that was split.
type Part struct {
	Design Design
	At     geom.Placement
}

// Split cuts a board by a line into two that mate with a gap. The line is drawn
// by nodes from one side of the outline to another; its ends may lie outside.
func Split(s Shaped, line []Node, gap float64) ([2]Part, error) {
	var out [2]Part
	if len(line) < 2 {
		return out, errors.New("the line has fewer than two nodes; draw it from one edge to another")
	}
	cut := (&canvas.Path{}).Append(LinePath(line)).Stroke(max(gap, 0.01), canvas.ButtCap, canvas.RoundJoin, geom.True)
	pieces := geom.Flatten(geom.NotPath(s.Path, cut), geom.True)
	slices.SortStableFunc(pieces, func(a, b geom.Ring) int {
		if a.Area() > b.Area() {
			return -1
		}
		return 1
	})
	if len(pieces) < 2 || pieces[1].Area() < 400 {
		return out, errors.New("the line does not cut the board in two: draw it from one edge to another, past both")
	}
	for i, p := range pieces[:2] {
		out[i] = s.part(p)
	}
	return out, nil
}

// LinePath draws an open line through nodes.
func LinePath(line []Node) *canvas.Path {
	at := make([]geom.Point, len(line))
	for i, n := range line {
		at[i] = n.Point()
	}
	// The ends of an open line are corners, however they are marked.
	ends := slices.Clone(line)
	ends[0].Kind, ends[len(ends)-1].Kind = "corner", "corner"
	p := &canvas.Path{}
	p.MoveTo(at[0].X, at[0].Y)
	for i := range len(line) - 1 {
		switch o := ends[i]; {
		case o.Run == "arc":
			arc(p, at[i], at[i+1], o.Rise)
		case o.Run == "batten":
			batten(p, at[i], at[i+1], o.Rise)
		default:
			c1, c2 := handles(ends, at, i)
			p.CubeTo(c1.X, c1.Y, c2.X, c2.Y, at[i+1].X, at[i+1].Y)
		}
	}
	return p
}

// part makes a design of a piece of a board's outline, about its own middle.
// Handles that lie on it stay with it.
func (s Shaped) part(piece geom.Ring) Part {
	box := piece.Bounds()
	mid := geom.Point{X: (box.MinX + box.MaxX) / 2, Y: (box.MinY + box.MaxY) / 2}
	d := s.Design
	d.Shape, d.Half, d.AsCut, d.Recesses = Free, false, nil, nil
	d.Length, d.Width = math.Round((box.MaxX-box.MinX)*100)/100, math.Round((box.MaxY-box.MinY)*100)/100
	d.Nodes = FewNodes(piece.Map(func(p geom.Point) geom.Point { return p.Sub(mid) }))
	keep := func(h Handle) Handle {
		c := h.centre(s.Design, s.datum())
		if !h.Through() || !piece.Contains(c) {
			h.Kind = "none"
			return h
		}
		h.Setback, h.Offset, h.Far, h.Local = box.MaxX-c.X, c.Y-mid.Y, false, false
		return h
	}
	d.Handle = keep(s.Design.Handle)
	d.More = nil
	for _, h := range s.Design.More {
		if h = keep(h); h.Kind != NoHandle {
			d.More = append(d.More, h)
		}
	}
	for _, r := range s.Design.Recesses {
		if at := (geom.Point{X: r.X, Y: r.Y}); r.Kind != "groove" && r.Count < 2 && piece.Contains(at) {
			r.X, r.Y = at.X-mid.X, at.Y-mid.Y
			d.Recesses = append(d.Recesses, r)
		}
	}
	return Part{d, geom.Placement{X: mid.X, Y: mid.Y}}
}

// FewNodes is a ring by nodes as finely as their number allows.
func FewNodes(r geom.Ring) []Node {
	for tolerance := 0.01; ; tolerance *= 1.5 {
		if nodes := NodesOf(r, tolerance); len(nodes) <= MostNodes {
			return nodes
		}
	}
}

// MateFor makes a board of a width whose edge mates with a side of this one.
func MateFor(s Shaped, side string, width, gap float64) (Part, error) {
	if !slices.Contains(Sides, side) {
		return Part{}, fmt.Errorf("%q is no side; choose one of %q", side, Sides)
	}
	box := s.Outline.Bounds()
	var stretch geom.Ring // what faces that way
	for i := range s.Outline {
		if a, b := s.Outline.Edge(i); sideOf(a, b) == side {
			stretch = append(stretch, a, b)
		}
	}
	if len(stretch) == 0 {
		return Part{}, fmt.Errorf("nothing of the outline faces the %s", side)
	}
	blank := stretch.Bounds()
	switch side {
	case left:
		blank.MinY, blank.MaxY = (box.MinY+box.MaxY)/2, box.MaxY+gap+width
	case right:
		blank.MinY, blank.MaxY = box.MinY-gap-width, (box.MinY+box.MaxY)/2
	case handleEnd:
		blank.MinX, blank.MaxX = (box.MinX+box.MaxX)/2, box.MaxX+gap+width
	case farEnd:
		blank.MinX, blank.MaxX = box.MinX-gap-width, (box.MinX+box.MaxX)/2
	}
	rest := geom.Largest(blank.Ring().Less(s.Outline.Grown(gap)))
	if len(rest) < 3 || rest.Area() < 400 {
		return Part{}, errors.New("nothing is left of the mate: give it more width")
	}
	bare := s
	bare.Design.Handle, bare.Design.More, bare.Design.Recesses, bare.Design.Edges = Handle{
		Kind:     "none",
		Diameter: 30,
		Length:   90,
		Setback:  45,
	}, nil, nil, nil
	return bare.part(rest), nil
}
