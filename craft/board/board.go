// Package board is what a board is: its outline, handle and edges, and the
// checks that follow from its shape. Lengths in mm, in the board's own frame:
// origin at its centre, x along its length toward the handle.
package board

import (
	"math"

	"github.com/tdewolff/canvas"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/rule"
)

// Shape of an outline.
type Shape string

// The shapes.
const (
	Rectangle Shape = "rectangle"
	Paddle    Shape = "paddle"
	Plank     Shape = "plank" // keeps one or both natural edges
)

// Handle is what the hand takes hold of.
type Handle struct {
	Kind     string  `json:"kind" enum:"none,hole,slot"`
	Diameter float64 `json:"diameter" doc:"Of the hole, or width of the slot"`
	Length   float64 `json:"length" doc:"Of a slot, over all"`
	Setback  float64 `json:"setback" doc:"From the handle end to the centre"`
	Offset   float64 `json:"offset" doc:"Off the centre line, positive to the left"`
}

// Edge is the profile run round both faces.
type Edge struct {
	Kind string  `json:"kind" enum:"none,eased,round-over,chamfer"`
	Size float64 `json:"size" doc:"Radius, or leg of the chamfer"`
}

// Design is a board as it is wanted.
type Design struct {
	Shape      Shape   `json:"shape" enum:"rectangle,paddle,plank"`
	Length     float64 `json:"length"`
	Width      float64 `json:"width" doc:"Over all; of a plank, between its straight sides"`
	Thickness  float64 `json:"thickness" doc:"Wanted final thickness, 0 for all there is"`
	Corner     float64 `json:"corner" doc:"Radius of the corners"`
	Neck       float64 `json:"neck" doc:"Width of a paddle's neck"`
	NeckLength float64 `json:"neckLength" doc:"From the shoulder to the end"`
	Shoulder   float64 `json:"shoulder" doc:"Radius of the hollow at the shoulder"`
	KeepLeft   bool    `json:"keepLeft" doc:"A plank keeps its left natural edge"`
	KeepRight  bool    `json:"keepRight"`
	Handle     Handle  `json:"handle"`
	Edge       Edge    `json:"edge"`
}

// Check reports what cannot be drawn.
func (d Design) Check(field string) (ps craft.Problems) {
	ps.OneOf(field+".shape", string(d.Shape), string(Rectangle), string(Paddle), string(Plank))
	ps.Length(field+".length", d.Length, 30, 5000)
	ps.Length(field+".width", d.Width, 20, 3000)
	ps.Length(field+".thickness", d.Thickness, 0, 200)
	ps.Length(field+".corner", d.Corner, 0, 2000)
	if d.Shape == Paddle {
		ps.Length(field+".neck", d.Neck, 10, d.Width)
		ps.Length(field+".neckLength", d.NeckLength, 20, max(20, d.Length-20))
		ps.Length(field+".shoulder", d.Shoulder, 0, 1000)
	}
	ps.OneOf(field+".handle.kind", d.Handle.Kind, "none", "hole", "slot")
	if d.Handle.Kind != "none" {
		ps.Length(field+".handle.diameter", d.Handle.Diameter, 3, 200)
		ps.Length(field+".handle.setback", d.Handle.Setback, 2, max(2, d.Length-2))
		ps.Length(field+".handle.offset", d.Handle.Offset, -d.Width/2, d.Width/2)
	}
	if d.Handle.Kind == "slot" {
		ps.Length(field+".handle.length", d.Handle.Length, d.Handle.Diameter, max(d.Handle.Diameter, 1000))
	}
	ps.OneOf(field+".edge.kind", d.Edge.Kind, "none", "eased", "round-over", "chamfer")
	ps.Length(field+".edge.size", d.Edge.Size, 0, 50)
	return ps
}

// Shaped is a design drawn: its outline as a path with true arcs, the same
// flattened for checks, and its holes.
type Shaped struct {
	Design    Design
	Path      *canvas.Path
	Outline   geom.Ring
	HolePaths []*canvas.Path
	Holes     []geom.Ring
}

// Draw draws a design. A plank is cut from usable, the slab's sound area in
// the board's frame; other shapes do not need it.
func Draw(d Design, usable geom.Ring) Shaped {
	s := Shaped{Design: d, Path: outline(d, usable)}
	s.Outline = geom.Largest(geom.Flatten(s.Path, geom.Fine))
	centre := geom.Point{X: d.Length/2 - d.Handle.Setback, Y: d.Handle.Offset}
	switch d.Handle.Kind {
	case "hole":
		s.HolePaths = append(s.HolePaths, geom.Slot(centre, d.Handle.Diameter, d.Handle.Diameter, false))
	case "slot":
		s.HolePaths = append(s.HolePaths, geom.Slot(centre, d.Handle.Length, d.Handle.Diameter, d.Shape != Paddle))
	}
	for _, p := range s.HolePaths {
		s.Holes = append(s.Holes, geom.Largest(geom.Flatten(p, geom.Fine)))
	}
	return s
}

func outline(d Design, usable geom.Ring) *canvas.Path {
	switch d.Shape {
	case Paddle:
		return geom.Paddle(geom.PaddleSize{Length: d.Length, Width: d.Width, Corner: d.Corner,
			Neck: d.Neck, NeckLength: d.NeckLength, Shoulder: d.Shoulder})
	case Plank:
		if !d.KeepLeft && !d.KeepRight {
			break
		}
		const beyond = 5000
		top, bottom := d.Width/2, -d.Width/2
		if d.KeepLeft {
			top = beyond
		}
		if d.KeepRight {
			bottom = -beyond
		}
		band := geom.Ring{{X: -d.Length / 2, Y: bottom}, {X: d.Length / 2, Y: bottom}, {X: d.Length / 2, Y: top}, {X: -d.Length / 2, Y: top}}
		if cut := geom.Clip(usable, band); len(cut) > 2 && cut.Area() > 1 {
			return cut.Path()
		}
	}
	return geom.SoftRectangle(d.Length, d.Width, d.Corner)
}

// Area is the face less its holes, mm².
func (s Shaped) Area() float64 {
	area := s.Outline.Area()
	for _, h := range s.Holes {
		area -= h.Area()
	}
	return max(0, area)
}

// Natural is the length of the outline that follows the slab's natural edges.
func (s Shaped) Natural() float64 {
	d := s.Design
	if d.Shape != Plank || !d.KeepLeft && !d.KeepRight {
		return 0
	}
	const close = 0.2
	sawn := func(p geom.Point) bool {
		return math.Abs(math.Abs(p.X)-d.Length/2) < close ||
			!d.KeepLeft && math.Abs(p.Y-d.Width/2) < close || !d.KeepRight && math.Abs(p.Y+d.Width/2) < close
	}
	var sum float64
	for i := range s.Outline {
		a, b := s.Outline.Edge(i)
		if !sawn(a.Lerp(b, 0.5)) {
			sum += b.Sub(a).Len()
		}
	}
	return sum
}

// Mass in kg of a board t mm thick of wood of a density in kg/m³.
func (s Shaped) Mass(t, density float64) float64 { return s.Area() * t * density * 1e-9 }

// HandleStart is where the handle begins along x; past the outline when there
// is no handle.
func (s Shaped) HandleStart() float64 {
	d := s.Design
	start := math.Inf(1)
	if d.Shape == Paddle {
		start = d.Length/2 - d.NeckLength
	}
	for _, h := range s.Holes {
		start = min(start, h.Bounds().MinX)
	}
	return start
}

// ServingArea is the face short of the handle, mm².
func (s Shaped) ServingArea() float64 {
	start := s.HandleStart()
	box := s.Outline.Bounds()
	if start >= box.MaxX {
		return s.Area()
	}
	if start <= box.MinX {
		return 0
	}
	var sum float64
	for _, x := range strips(box.MinX, start) {
		sum += s.widthAt(x.mid) * x.size
	}
	return sum
}

type strip struct{ mid, size float64 }

// strips cuts a stretch into equal slices.
func strips(from, to float64) []strip {
	const n = 80
	out := make([]strip, n)
	size := (to - from) / n
	for i := range out {
		out[i] = strip{from + (float64(i)+0.5)*size, size}
	}
	return out
}

// widthAt is the wood across the board at x, less holes.
func (s Shaped) widthAt(x float64) float64 {
	w := chord(s.Outline, x)
	for _, h := range s.Holes {
		w -= chord(h, x)
	}
	return max(0, w)
}

// chord is how much of a line across the board at x lies inside the ring.
func chord(r geom.Ring, x float64) float64 {
	lo, hi := math.Inf(1), math.Inf(-1)
	var sum float64
	cuts := 0
	for i := range r {
		a, b := r.Edge(i)
		if (a.X > x) == (b.X > x) {
			continue
		}
		y := a.Y + (b.Y-a.Y)*(x-a.X)/(b.X-a.X)
		lo, hi = min(lo, y), max(hi, y)
		cuts++
	}
	if cuts == 2 { // the usual case needs no sorting
		return hi - lo
	}
	if cuts > 2 {
		ys := r.Turned().Spans(x)
		for k := 0; k+1 < len(ys); k += 2 {
			sum += ys[k+1] - ys[k]
		}
	}
	return sum
}

// uses maps how a board is used to the rule for its area a person.
var uses = map[string]rule.Key{"nibbles": rule.ServeNibbles, "starter": rule.ServeStarter, "main": rule.ServeMain}

// Servings is how many people the board serves for a use.
func (s Shaped) Servings(use string, rules rule.Set) craft.Figure {
	each := rules.Get(uses[use])
	area := s.ServingArea() / 100
	return craft.Figure{
		Key: "give.servings", Stage: craft.Give, Label: "Serves", Value: math.Floor(area / each), Unit: "people",
		Formula: "face short of the handle ÷ area a person, whole people",
		Terms:   []craft.Term{{Name: "face short of the handle", Value: area, Unit: "cm²"}, {Name: "area a person", Value: each, Unit: "cm²"}},
		Source:  "shop rule for " + use, Rule: true,
	}
}

// Size is a length and width in mm that a use and a number of people ask for.
type Size struct {
	Length  float64      `json:"length"`
	Width   float64      `json:"width"`
	Working craft.Figure `json:"working" doc:"The area that it follows from"`
	Patch   craft.Patch  `json:"patch"`
}

// SizeFor is a size, rounded up to 5 mm, whose face short of the handle serves
// so many people; about eight to five.
func SizeFor(d Design, use string, people int, rules rule.Set) Size {
	const corners, slim, round = 1.03, 1.6, 5 // what rounded corners cost; length to width; to the next mm
	each := rules.Get(uses[use])
	area := each * float64(people)
	handle := 0.0
	switch {
	case d.Shape == Paddle:
		handle = d.NeckLength
	case d.Handle.Kind == "slot", d.Handle.Kind == "hole":
		handle = d.Handle.Setback + d.Handle.Diameter/2
	}
	up := func(v float64) float64 { return math.Ceil(v/round) * round }
	s := Size{Width: up(math.Sqrt(area * 100 * corners / slim))}
	s.Length = up(area*100*corners/s.Width + handle)
	s.Patch = craft.Patch{"design": map[string]any{"length": s.Length, "width": s.Width}}
	s.Working = craft.Figure{
		Key: "layout.size", Stage: craft.Layout, Label: "Face that they ask for", Value: area, Unit: "cm²", Formula: "people × area a person; the length is 1.6 widths and the handle, rounded up to " + craft.Length(round) + ", with 3 % for rounded corners",
		Terms: []craft.Term{{Name: "people", Value: float64(people)}, {Name: "area a person", Value: each, Unit: "cm²"}, {Name: "the handle takes", Value: handle, Unit: craft.MM},
			{Name: "length", Value: s.Length, Unit: craft.MM}, {Name: "width", Value: s.Width, Unit: craft.MM}},
		Source: "shop rule for " + use, Rule: true,
	}
	return s
}
