// Package board is what a board is: its outline, handle and edges, and the
// checks that follow from its shape. Lengths in mm, in the board's own frame:
// origin at its centre, x along its length toward the handle.
package board

import (
	"fmt"
	"math"
	"slices"

	"github.com/tdewolff/canvas"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/rule"
	"idletimber/craft/stock"
)

// Shape of an outline.
type Shape string

// The shapes.
const (
	Rectangle Shape = "rectangle"
	Oval      Shape = "oval"
	Circle    Shape = "circle"
	Square    Shape = "square"
	Paddle    Shape = "paddle"
	Teardrop  Shape = "teardrop"
	Bladed    Shape = "blade" // one end at an angle
	Heart     Shape = "heart"
	HalfMoon  Shape = "half moon"
	Plank     Shape = "plank" // keeps one or both natural edges
	Free      Shape = "free"  // drawn by nodes
)

// Shapes lists every shape.
var Shapes = []string{
	string(Rectangle),
	string(Oval),
	string(Circle),
	string(Square),
	string(Paddle),
	string(Teardrop),
	string(Bladed),
	string(Heart),
	string(HalfMoon),
	string(Plank),
	string(Free),
}

// End is how a plank ends.
type End struct {
	Kind   string  `json:"kind,omitempty" enum:",square,left,right,angle,curve,tab" doc:"Left out: square"`
	Angle  float64 `json:"angle,omitempty" range:"-60,60" doc:"From square, degrees anticlockwise"`
	Rise   float64 `json:"rise,omitempty" mm:"-1000,1000" doc:"Of a curved end, outward"`
	Width  float64 `json:"width,omitempty" mm:"10,3000,when" doc:"Of a tab"`
	Length float64 `json:"length,omitempty" mm:"10,3000,when" doc:"Of a tab"`
	Round  float64 `json:"round,omitempty" mm:"0,1000,when" doc:"Radius at the shoulders of a tab"`
}

func (e End) check(field string) (ps craft.Problems) {
	ps.InRange(field, e)
	ps.OneOf(field+".kind", e.Kind, "", "square", "left", "right", "angle", "curve", "tab")
	if e.Kind == "tab" {
		ps.InRangeOf(field, e, "width", "length", "round")
	}
	return ps
}

// Design is a board as it is wanted: its outline, and all that is cut into it. It
// says nothing of where the board lies on its wood, nor of what fills a void.
//
// All lengths are in mm in the board's own frame, seen from its show face: the
// origin in the middle of length and width, x toward the handle end, y to the
// left. Angles are in degrees anticlockwise.
//
//	            left side
//	        +--------------------+          y
//	        |      recess        |          |
//	far end |       ( )     o----|-- handle +-- x
//	        |                    |    end
//	        +--------------------+
//	            right side     |setback|
//
// What does not fit is clamped when the board is drawn, by [Draw]; the
// grips of [Shaped.Grips] stand where it is drawn.
type Design struct {
	Shape      Shape   `json:"shape" enum:"rectangle,oval,circle,square,paddle,teardrop,blade,heart,half moon,plank,free" doc:"What it is outlined by"`
	Length     float64 `json:"length" mm:"30,5000" doc:"Along the board, mm"`
	Width      float64 `json:"width" mm:"20,3000" doc:"Over all; of a plank, between its straight sides"`
	Thickness  float64 `json:"thickness" mm:"0,200" doc:"Wanted final thickness, 0 for all there is"`
	Corner     float64 `json:"corner" mm:"0,2000" doc:"Radius of the corners"`
	Neck       float64 `json:"neck" mm:"10,3000,when" doc:"Width of a paddle's neck"`
	NeckLength float64 `json:"neckLength" mm:"20,5000,when" doc:"From the shoulder to the end"`
	Shoulder   float64 `json:"shoulder" mm:"0,1000,when" doc:"Radius of the inside curve at the shoulder"`
	KeepLeft   bool    `json:"keepLeft" doc:"A plank keeps its left natural edge"`
	KeepRight  bool    `json:"keepRight" doc:"Of a plank: its right side follows the natural edge"`
	Handle     Handle  `json:"handle" doc:"The first handle"`
	Edge       Edge    `json:"edge" doc:"The profile all round"`

	Tip       float64 `json:"tip,omitempty" mm:"0,1000" doc:"Radius of the point, or a paddle's end: 0 a full round"`
	Angle     float64 `json:"angle,omitempty" range:"-60,60,when" doc:"Of a blade's end, from square, degrees"`
	FarEnd    End     `json:"farEnd,omitzero" doc:"A plank's end far from the handle"`
	HandleEnd End     `json:"handleEnd,omitzero" doc:"Of a plank, its end at the handle"`
	Inset     float64 `json:"inset,omitempty" mm:"0,500" doc:"A plank follows its natural edges so far inside them"`
	Nodes     []Node  `json:"nodes,omitempty" doc:"Of a free outline"`
	Half      bool    `json:"half,omitempty" doc:"The nodes are half a template, mirrored over the centre line"`

	Slant     float64  `json:"slant,omitempty" mm:"0,60" doc:"The narrower face stands in by so much all round"`
	WideUnder bool     `json:"wideUnder,omitempty" doc:"The under face is the wider one, and the outline is its"`
	More      []Handle `json:"more,omitempty" doc:"Handles besides the first"`
	Edges     []EdgeAt `json:"edges,omitempty" doc:"Edges that differ from the one all round, later ones over earlier"`
	Recesses  []Recess `json:"recesses,omitempty" doc:"What is sunk into its faces"`
	Style     string   `json:"style,omitempty" enum:",rustic,fine" doc:"How exact it is to be; left out for the usual"`
	AsCut     []Node   `json:"asCut,omitempty" doc:"The outline as it was cut; everything reckons on from it"`
}

// Check reports what cannot be drawn.
func (d Design) Check(field string) (ps craft.Problems) {
	ps.InRange(field, d)
	ps.OneOf(field+".shape", string(d.Shape), Shapes...)
	ps.OneOf(field+".style", d.Style, "", Rustic, Fine)
	switch d.Shape {
	case Paddle:
		ps.Length(field+".neck", d.Neck, 10, d.Width)
		ps.Length(field+".neckLength", d.NeckLength, 20, max(20, d.Length-20))
		ps.InRangeOf(field, d, "shoulder")
	case Bladed:
		ps.InRangeOf(field, d, "angle")
	case Heart:
		ps.InRangeOf(field, d, "shoulder")
	case Plank:
		ps = append(ps, d.FarEnd.check(field+".farEnd")...)
		ps = append(ps, d.HandleEnd.check(field+".handleEnd")...)
	case Free:
		ps = append(ps, checkNodes(d.Nodes, d.Half, field+".nodes")...)
	}
	if len(d.AsCut) > 0 {
		ps = append(ps, checkNodes(d.AsCut, false, field+".asCut")...)
	}
	ps = append(ps, d.Handle.check(field+".handle", d)...)
	if len(d.More) > MostHandles || len(d.Edges) > 20 || len(d.Recesses) > MostRecesses {
		ps.Add(
			field,
			"there are too many handles, edges or recesses",
			fmt.Sprintf("use at most %d handles, 20 edges and %d recesses", MostHandles+1, MostRecesses),
		)
		return ps
	}
	for i, h := range d.More {
		ps = append(ps, h.check(fmt.Sprintf("%s.more[%d]", field, i), d)...)
	}
	ps = append(ps, d.Edge.check(field+".edge")...)
	for i, e := range d.Edges {
		ps = append(ps, e.check(fmt.Sprintf("%s.edges[%d]", field, i))...)
	}
	for i, r := range d.Recesses {
		ps = append(ps, r.check(fmt.Sprintf("%s.recesses[%d]", field, i))...)
	}
	return ps
}

// Shaped is a design drawn: its outline as a path with true arcs, the same
// flattened for checks, its holes and its recesses.
type Shaped struct {
	Design    Design
	Path      *canvas.Path
	Line      *canvas.Path // the outline before the side notches of its handles
	Outline   geom.Ring
	Planned   *canvas.Path // where it was cut otherwise
	Datum     geom.Ring    // the outline that its handles are measured on: the planned one
	HolePaths []*canvas.Path
	Holes     []geom.Ring
	Handles   []Handle // that the holes are for, one each
	Cavities  []Cavity
	Slots     []Slot // cut for its fittings
	Bores     []Bore

	bends *[]geom.InsideCurve // of the outline, once they were looked for
}

// Draw draws a design. A plank is cut from usable, the slab's sound area in
// the board's frame; other shapes do not need it.
func Draw(d Design, usable geom.Ring) Shaped {
	s := Shaped{Design: d, Path: outline(d, usable), bends: new([]geom.InsideCurve)}
	if len(d.AsCut) > 0 {
		s.Planned, s.Path = s.Path, freePath(d.AsCut)
	}
	s.Line = s.Path
	s.Outline = geom.Largest(geom.Flatten(s.Path, geom.Fine))
	if s.Planned != nil { // cut otherwise or not, a hole stays where it was bored
		s.Datum = geom.Largest(geom.Flatten(s.Planned, geom.Fine))
	}
	handles := d.Handles()
	for _, h := range handles {
		if h.Kind != Notch || len(s.Outline) == 0 {
			continue
		}
		if bite := h.bite(d, s.datum(), s.Outline); bite != nil {
			cut := geom.Largest(geom.Flatten(geom.NotPath(s.Path, bite), geom.True))
			if len(cut) > 2 {
				s.Path, s.Outline = cut.Path(), cut.Simplified(geom.Fine)
			}
		}
	}
	s.Datum = s.datum()
	for _, h := range handles {
		if !h.Through() {
			continue
		}
		p := h.path(d, s.Datum)
		s.HolePaths = append(s.HolePaths, p)
		s.Holes = append(s.Holes, geom.Largest(geom.Flatten(p, geom.Fine)))
		s.Handles = append(s.Handles, h)
	}
	for _, r := range d.Recesses {
		s.Cavities = append(s.Cavities, r.draw(s)...)
	}
	return s
}

// datum is the outline that handles are measured on; the outline itself unless it was
// cut otherwise than planned.
func (s Shaped) datum() geom.Ring {
	if s.Datum != nil {
		return s.Datum
	}
	return s.Outline
}

func outline(d Design, usable geom.Ring) *canvas.Path {
	l, w := d.Length, d.Width
	switch d.Shape {
	case Oval:
		return geom.Oval(l, w)
	case Circle:
		return geom.Oval(l, l)
	case Square:
		return geom.SoftRectangle(l, l, d.Corner)
	case Teardrop:
		return geom.Teardrop(l, w, d.Tip)
	case Heart:
		return geom.Heart(l, w, d.Tip, d.Shoulder)
	case HalfMoon:
		return geom.HalfMoon(l, w, d.Corner)
	case Bladed:
		return blade(d)
	case Free:
		if d.Half {
			return freePath(whole(d.Nodes))
		}
		return freePath(d.Nodes)
	case Paddle:
		return geom.Paddle(
			geom.PaddleSize{
				Length:     l,
				Width:      w,
				Corner:     d.Corner,
				Neck:       d.Neck,
				NeckLength: d.NeckLength,
				Shoulder:   d.Shoulder,
				Tip:        d.Tip,
			},
		)
	case Plank:
		if p := plank(d, usable); p != nil {
			return p
		}
	}
	return geom.SoftRectangle(l, w, d.Corner)
}

// blade is a soft rectangle whose end far from the handle runs at an angle.
func blade(d Design) *canvas.Path {
	x, y := d.Length/2, d.Width/2
	lean := min(math.Abs(math.Tan(d.Angle*math.Pi/180))*d.Width, d.Length*0.8)
	left, right := -x, -x
	if d.Angle > 0 {
		left += lean
	} else {
		right += lean
	}
	return freePath(
		[]Node{
			{X: right, Y: -y, Round: d.Corner},
			{X: x, Y: -y, Round: d.Corner},
			{X: x, Y: y, Round: d.Corner},
			{X: left, Y: y, Round: d.Corner},
		},
	)
}

// plank is the usable wood between its ends and straight sides; nil where
// there is none, or where no natural edge is kept.
func plank(d Design, usable geom.Ring) *canvas.Path {
	if !d.KeepLeft && !d.KeepRight && d.FarEnd == (End{}) && d.HandleEnd == (End{}) {
		return nil
	}
	if !d.KeepLeft && !d.KeepRight { // a board with chosen ends
		const far = 5000
		usable = geom.Bounds{MinX: -far, MinY: -far, MaxX: far, MaxY: far}.Ring()
	}
	if d.Inset > 0 {
		usable = usable.Shrunk(d.Inset)
	}
	if len(usable) < 3 {
		return nil
	}
	const beyond = 10
	top, bottom, box := d.Width/2, -d.Width/2, usable.Bounds()
	if d.KeepLeft {
		top = box.MaxY + beyond
	}
	if d.KeepRight {
		bottom = box.MinY - beyond
	}
	hand, plain := d.HandleEnd.line(d.Length/2, bottom, top, usable)
	across := func(p geom.Point) geom.Point { return geom.Point{X: -p.X, Y: p.Y} }
	d.FarEnd.Angle *= -1 // seen in the mirror
	far, plainFar := d.FarEnd.line(d.Length/2, bottom, top, usable.Map(across))
	far = far.Map(across)
	slices.Reverse(far)
	band := slices.Concat(hand, far)
	var cut geom.Ring
	if plain && plainFar {
		cut = geom.Clip(usable, band)
	} else {
		cut = geom.Largest(geom.Common(usable, band))
	}
	if len(cut) < 3 || cut.Area() <= 1 {
		return nil
	}
	if cut.SignedArea() < 0 {
		slices.Reverse(cut)
	}
	return cut.Path()
}

// Ends are from where to where a plank's ends run across it, before they are
// shaped, mm: the handle end, then the far end; usable is the ring that Draw takes.
func (d Design) Ends(usable geom.Ring) (ends [2][2]float64) {
	if d.Inset > 0 {
		usable = usable.Shrunk(d.Inset)
	}
	bottom, top := -d.Width/2, d.Width/2
	if d.KeepLeft {
		top = math.Inf(1)
	}
	if d.KeepRight {
		bottom = math.Inf(-1)
	}
	for i, x := range []float64{d.Length/2 - 1, 1 - d.Length/2} {
		from, to := endSpan(usable, x, bottom, top)
		if math.IsInf(to-from, 0) { // no wood there
			from, to = -d.Width/2, d.Width/2
		}
		ends[i] = [2]float64{from, to}
	}
	return ends
}

// endSpan is the wood across a plank at x, between its straight sides.
func endSpan(usable geom.Ring, x, bottom, top float64) (from, to float64) {
	from, to, ok := across(usable, x)
	if !ok {
		from, to = bottom, top
	}
	return max(from, bottom), min(to, top)
}

// line is a plank's end at x as part of the band that it is cut from, from its
// right side to its left. It is plain when the band stays convex.
func (e End) line(x, bottom, top float64, usable geom.Ring) (line geom.Ring, plain bool) {
	from, to := endSpan(usable, x-1, bottom, top)
	middle, slope := (from+to)/2, 0.0 // slope of x over y
	p := &canvas.Path{}
	p.MoveTo(x, bottom)
	switch e.Kind {
	case "angle":
		slope = -math.Tan(e.Angle * math.Pi / 180)
	case "left", "right":
		slope = edgeSlope(usable, x, e.Kind == "left")
	case "tab":
		half, shoulder := e.Width/2, x-e.Length
		r := min(e.Round, half, e.Length/2)
		p = &canvas.Path{}
		p.MoveTo(shoulder, bottom)
		p.LineTo(shoulder, middle-half-r)
		turn := func(left bool, x, y float64) {
			if r > 0 {
				p.ArcTo(r, r, 0, false, left, x, y)
			}
		}
		turn(false, shoulder+r, middle-half)
		p.LineTo(x-r, middle-half)
		turn(true, x, middle-half+r)
		p.LineTo(x, middle+half-r)
		turn(true, x-r, middle+half)
		p.LineTo(shoulder+r, middle+half)
		turn(false, shoulder, middle+half+r)
		p.LineTo(shoulder, top)
		return geom.Line(p, geom.True), false
	case "curve":
		p.LineTo(x, from)
		arc(p, geom.Point{X: x, Y: from}, geom.Point{X: x, Y: to}, e.Rise)
		p.LineTo(x, top)
		return geom.Line(p, geom.True), false
	}
	return geom.Ring{{X: x + slope*(bottom-middle), Y: bottom}, {X: x + slope*(top-middle), Y: top}}, true
}

// edgeSlope is how x changes over y on a line square to an edge of the wood
// that ends at x, measured over a hand's breadth.
func edgeSlope(usable geom.Ring, x float64, left bool) float64 {
	const reach = 120
	a, b, okA := across(usable, x-1)
	c, d, okB := across(usable, x-reach)
	switch {
	case !okA || !okB:
		return 0
	case left:
		return -(b - d) / (reach - 1)
	}
	return -(a - c) / (reach - 1)
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
func (s Shaped) Natural() float64 { return s.NaturalWithin(nil) }

// NaturalWithin is the length of it that lies in any of some rings; all of it
// where they are nil.
func (s Shaped) NaturalWithin(rings []geom.Ring) float64 {
	var sum float64
	for i := range s.Outline {
		a, b := s.Outline.Edge(i)
		if !s.natural(a, b) {
			continue
		}
		if mid := a.Lerp(b, 0.5); rings == nil ||
			slices.ContainsFunc(rings, func(r geom.Ring) bool { return r.Contains(mid) }) {
			sum += b.Sub(a).Len()
		}
	}
	return sum
}

// LiveSide is a stretch of the outline that follows a natural edge.
type LiveSide struct {
	Left bool    // on the board's left; else on its right
	Long float64 // mm
	Line []geom.Point
}

// LiveSides are the stretches that follow natural edges, the left one first.
func (s Shaped) LiveSides() (out []LiveSide) {
	for _, isLeft := range []bool{true, false} {
		side := LiveSide{Left: isLeft}
		n := len(s.Outline)
		on := func(i int) bool {
			a, b := s.Outline.Edge(i % n)
			return s.natural(a, b) && (a.Y+b.Y > 0) == isLeft
		}
		from := 0
		for from < n && on(from+n-1) { // begin where it begins
			from++
		}
		for k := range n {
			if !on(from + k) {
				continue
			}
			a, b := s.Outline.Edge((from + k) % n)
			if len(side.Line) == 0 {
				side.Line = append(side.Line, a)
			}
			side.Line, side.Long = append(side.Line, b), side.Long+b.Sub(a).Len()
		}
		if side.Long > 0 {
			out = append(out, side)
		}
	}
	return out
}

// KeepAway is the strip along its natural edges, so wide, mm, in which no saw, clamp or
// fence has any business, as SVG path data; empty without natural edges.
func (s Shaped) KeepAway(wide float64) (path string) {
	if s.Natural() == 0 {
		return ""
	}
	inner := geom.NewIndex(s.Outline)
	for _, side := range s.LiveSides() {
		strip := geom.Ring{}
		for _, p := range side.Line {
			strip = append(strip, p)
		}
		for k := len(side.Line) - 1; k >= 0; k-- {
			a, b := side.Line[max(0, k-1)], side.Line[min(len(side.Line)-1, k+1)]
			d := b.Sub(a)
			in := geom.Point{X: -d.Y, Y: d.X}.Scale(wide / max(d.Len(), 1e-9))
			if q := side.Line[k].Add(in); inner.Contains(q) {
				strip = append(strip, q)
			} else {
				strip = append(strip, side.Line[k].Sub(in))
			}
		}
		path += strip.SVG()
	}
	return path
}

// Fades are the places where a profile ends at a natural edge, and is faded by hand.
func (s Shaped) Fades() (out []geom.Point) {
	n := len(s.Outline)
	for i := range s.Outline {
		a, b := s.Outline.Edge(i)
		c, d := s.Outline.Edge((i + 1) % n)
		one, two := s.natural(a, b), s.natural(c, d)
		if one == two {
			continue
		}
		side := sideOf(a, b)
		if one {
			side = sideOf(c, d)
		}
		if s.Design.EdgeAt(side, false).Depth() > 0 || s.Design.EdgeAt(side, true).Depth() > 0 {
			out = append(out, b)
		}
	}
	return out
}

// LiveAt reports whether the outline follows a natural edge where it passes nearest to a place.
func (s Shaped) LiveAt(p geom.Point) bool {
	live, least := false, math.Inf(1)
	for i := range s.Outline {
		a, b := s.Outline.Edge(i)
		if _, away := (geom.Ring{a, b}).Nearest(p); away < least {
			live, least = s.natural(a, b), away
		}
	}
	return live
}

// natural reports whether a side of the outline follows a natural edge: a kept
// side of a plank that is not cut inside of it.
func (s Shaped) natural(a, b geom.Point) bool {
	d := s.Design
	if d.Shape != Plank || d.Inset > 0 || len(d.AsCut) > 0 {
		return false
	}
	const close, along = 0.2, 0.5
	mid := a.Lerp(b, 0.5)
	if !d.KeepLeft && math.Abs(mid.Y-d.Width/2) < close || !d.KeepRight && math.Abs(mid.Y+d.Width/2) < close {
		return false
	}
	switch sideOf(a, b) {
	case left:
		return d.KeepLeft
	case right:
		return d.KeepRight
	}
	// An end, unless it lies well inside both: there a natural edge runs steeply.
	box := s.Outline.Bounds()
	deepest := func(e End) float64 {
		if e.Kind == "" || e.Kind == "square" {
			return close
		}
		return box.MaxX - box.MinX // a shaped end is sawn, however it runs
	}
	if sideOf(a, b) == handleEnd {
		return box.MaxX-mid.X > deepest(d.HandleEnd)+along
	}
	return mid.X-box.MinX > deepest(d.FarEnd)+along
}

// Volume in mm³ of a board t mm thick: between its two faces, less its recesses, the
// profiles of its edges and what is cut for its fittings.
func (s Shaped) Volume(t float64) float64 {
	v := s.Area()*t - s.profiled(t)
	if d := s.Design.Slant; d > 0 {
		mid, narrow := s.Outline.Shrunk(d/2).Area(), s.Outline.Shrunk(d).Area()
		v -= t * (s.Outline.Area() - (s.Outline.Area()+4*mid+narrow)/6) // a prismatoid
	}
	for _, c := range s.Cavities {
		v -= c.Volume + c.Spout
	}
	for _, o := range s.Slots {
		v -= o.volume()
	}
	for _, b := range s.Bores {
		v -= b.volume(t)
	}
	return max(0, v)
}

// Mass in kg of a board t mm thick of some wood.
func (s Shaped) Mass(t float64, wood stock.Grain) float64 {
	return s.Volume(t) * stock.Density(wood.Over(s.Outline)) * 1e-9
}

// HandleStart is where the handle begins along x; past the outline when there
// is no handle.
func (s Shaped) HandleStart() float64 {
	d := s.Design
	start := math.Inf(1)
	if len(d.AsCut) == 0 {
		switch {
		case d.Shape == Paddle:
			start = d.Length/2 - d.NeckLength
		case d.Shape == Plank && d.HandleEnd.Kind == "tab":
			start = d.Length/2 - d.HandleEnd.Length
		}
	}
	for i, h := range s.Holes {
		if s.holds(i) {
			start = min(start, h.Bounds().MinX)
		}
	}
	return start
}

// holds tells whether a hole is one that the hand takes hold of when the board is
// held by its handle; it is not hung by it, nor is it at the far end.
func (s Shaped) holds(i int) bool {
	return !s.Handles[i].Far && s.Handles[i].Kind != CordHole && s.Holes[i].Bounds().MaxX > 0
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
		ys := r.SpansAcross(x, nil)
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
		Terms: []craft.Term{
			{Name: "face short of the handle", Value: area, Unit: craft.CM2},
			{Name: "area a person", Value: each, Unit: craft.CM2},
		},
		Source: "shop rule for " + use, Rule: true,
	}
}

// Size is a length and width in mm that a use and a number of people ask for.
type Size struct {
	Length  float64      `json:"length" doc:"mm"`
	Width   float64      `json:"width" doc:"mm"`
	Working craft.Figure `json:"working" doc:"The area that it follows from"`
	Patch   craft.Patch  `json:"patch" doc:"Gives the board this size"`
}

// SizeFor is a size, rounded up to 5 mm, at which the face short of the handle serves so
// many people: about eight to five, or in the proportion of an outline that has its own.
// It is drawn and measured; without a patch where one board cannot be so large.
func SizeFor(d Design, use string, people int, rules rule.Set) Size {
	const slim, round = 1.6, 5 // length to width; to the next mm
	each := rules.Get(uses[use])
	want := each * float64(people) // cm²
	handle := 0.0
	if d.Shape == Paddle {
		handle = d.NeckLength
	}
	for _, h := range d.Handles() {
		if h.Kind != CordHole && h.Through() && !h.Far {
			handle = max(handle, h.Setback+max(h.Diameter, h.Length)/2)
		}
	}
	proportion := slim
	switch d.Shape {
	case Circle, Square:
		proportion, handle = 1, 0
	case Heart, HalfMoon, Teardrop, Free:
		proportion, handle = d.Length/d.Width, 0
	}
	up := func(v float64) float64 { return math.Ceil(v/round-1e-9) * round }
	at := func(width float64) (Size, Design, float64) {
		s := Size{Width: up(width)}
		s.Length = up(proportion*s.Width + handle)
		next := d.sized(s.Length, s.Width)
		drawn := next
		drawn.Recesses = nil
		return s, next, Draw(drawn, nil).ServingArea() / 100
	}
	width := math.Sqrt(want * 100 / proportion)
	s, next, got := at(width)
	for range 30 {
		if math.Floor(got/each) >= float64(people) || s.Length > mostLength || s.Width > mostWidth {
			break
		}
		// The face grows about as the square of the width; a step at least.
		width = max(s.Width+1, s.Width*math.Sqrt(want/max(got, want/4))-round)
		s, next, got = at(width)
	}
	if s.Length <= mostLength && s.Width <= mostWidth && math.Floor(got/each) >= float64(people) {
		s.Patch = craft.Patch{"design": d.resized(next)}
	}
	s.Working = craft.Figure{
		Key: "layout.size", Stage: craft.Layout, Label: "Face that they ask for", Value: want, Unit: craft.CM2,
		Formula: "people × area a person; drawn in the proportion of its outline, eight to five and the handle where " +
			"it has none of its own, and widened by " + craft.Length(
			round,
		) + " until its face serves them",
		Terms: []craft.Term{
			{Name: "people", Value: float64(people)},
			{Name: "area a person", Value: each, Unit: craft.CM2},
			{Name: "the handle takes", Value: handle, Unit: craft.MM},
			{Name: "length", Value: s.Length, Unit: craft.MM},
			{Name: "width", Value: s.Width, Unit: craft.MM},
			{Name: "face then, short of the handle", Value: got, Unit: craft.CM2},
		},
		Source: "shop rule for " + use, Rule: true,
	}
	return s
}

// resized is the patch that makes of a design what sized made of it.
func (d Design) resized(next Design) map[string]any {
	out := map[string]any{}
	if d.Length != next.Length {
		out["length"] = next.Length
	}
	if d.Width != next.Width {
		out["width"] = next.Width
	}
	if d.Shape == Free {
		out["nodes"] = next.Nodes
	}
	if len(d.AsCut) > 0 {
		out["asCut"] = nil
	}
	return out
}

// The most that a board may measure, mm.
const mostLength, mostWidth = 5000, 3000

// sized is a design of another length and width, mm; the points of a free outline go
// with them.
func (d Design) sized(length, width float64) Design {
	along, across := length/max(d.Length, 1), width/max(d.Width, 1)
	d.Length, d.Width = length, width
	if d.Shape == Free {
		d.Nodes = slices.Clone(d.Nodes)
		for i := range d.Nodes {
			d.Nodes[i].X, d.Nodes[i].Y = math.Round(
				d.Nodes[i].X*along*100,
			)/100, math.Round(
				d.Nodes[i].Y*across*100,
			)/100
		}
	}
	d.AsCut = nil
	return d
}
