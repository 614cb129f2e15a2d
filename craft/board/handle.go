package board

import (
	"fmt"
	"math"
	"slices"

	"github.com/tdewolff/canvas"

	"idletimber/craft"
	"idletimber/craft/geom"
)

// Handle is what the hand takes hold of.
type Handle struct {
	Kind     string  `json:"kind" enum:"none,hole,slot,heart,drop,crescent,own,notch,bevel,cord" doc:"What it is"`
	Diameter float64 `json:"diameter" mm:"3,400,when" doc:"Of a hole; width of a slot or shaped hole; depth of a notch"`
	Length   float64 `json:"length" mm:"5,1000,when" doc:"Over all, of a slot, a shaped hole or a notch"`
	Setback  float64 `json:"setback" mm:"2,5000,when" doc:"From the end to the centre"`
	Offset   float64 `json:"offset" mm:"-2500,2500,when" doc:"Off the centre line, positive to the left"`

	Far   bool    `json:"far,omitempty" doc:"Measured from the end far from the handle"`
	Local bool    `json:"local,omitempty" doc:"Centred on the width where it stands, not on the centre line"`
	Turn  float64 `json:"turn,omitempty" range:"-360,360" doc:"Degrees anticlockwise"`
	Right bool    `json:"right,omitempty" doc:"A notch in the right side"`
	Nodes []Node  `json:"nodes,omitempty" doc:"Of an own hole, about its centre"`

	Flat  float64 `json:"flat,omitempty" mm:"0,100,when" doc:"Of a finger bevel: left standing at the edge"`
	Angle float64 `json:"angle,omitempty" range:"0,75,when" doc:"Of a finger bevel, from upright, degrees"`
	Where string  `json:"where,omitempty" enum:",ends,sides,all" doc:"Of a finger bevel"`
	Both  bool    `json:"both,omitempty" doc:"A finger bevel on both faces, so that the board can be turned over"`
}

// The kinds of handles.
const (
	NoHandle = "none"
	Hole     = "hole"
	Slotted  = "slot"
	HeartCut = "heart"
	DropCut  = "drop"
	Crescent = "crescent"
	OwnHole  = "own"
	Notch    = "notch"
	Bevel    = "bevel"
	CordHole = "cord"
)

// HandleKind is a kind of handle as it is offered.
type HandleKind struct {
	Kind    string `json:"kind" doc:"As it stands in a file"`
	Name    string `json:"name" doc:"In the trade's words"`
	Label   string `json:"label" doc:"As it is offered"`
	Through bool   `json:"through" doc:"It is cut through the board"`
	Shaped  bool   `json:"shaped" doc:"A hole with a shape of its own, which shrinks as a whole"`
	Bored   bool   `json:"bored" doc:"A bit of its own diameter makes it"`

	Start craft.Patch `json:"start,omitempty" doc:"JSON merge patch on the handle: what it begins with"`
}

// HandleKinds lists the kinds of handles.
var HandleKinds = []HandleKind{
	{Kind: NoHandle, Name: "none", Label: "None", Start: handleStarts[NoHandle]},
	{Kind: Hole, Name: "hole", Label: "Round hole", Start: handleStarts[Hole], Through: true, Bored: true},
	{Kind: Slotted, Name: "slot", Label: "Slot", Start: handleStarts[Slotted], Through: true, Bored: true},
	{
		Kind:    HeartCut,
		Name:    "heart-shaped hole",
		Label:   "Heart-shaped hole",
		Start:   handleStarts[HeartCut],
		Through: true,
		Shaped:  true,
	},
	{
		Kind:    DropCut,
		Name:    "drop-shaped hole",
		Label:   "Drop-shaped hole",
		Start:   handleStarts[DropCut],
		Through: true,
		Shaped:  true,
	},
	{Kind: Crescent, Name: "crescent", Label: "Crescent", Start: handleStarts[Crescent], Through: true, Shaped: true},
	{
		Kind:    OwnHole,
		Name:    "free-hand hole",
		Label:   "Hole drawn by points",
		Start:   handleStarts[OwnHole],
		Through: true,
		Shaped:  true,
	},
	{Kind: Notch, Name: "notch", Label: "Side notch", Start: handleStarts[Notch]},
	{Kind: Bevel, Name: "bevel", Label: "Finger bevel", Start: handleStarts[Bevel]},
	{Kind: CordHole, Name: "cord hole", Label: "Cord hole", Start: handleStarts[CordHole], Through: true, Bored: true},
}

// kind is what is known of the handle's kind.
func (h Handle) kind() HandleKind {
	for _, k := range HandleKinds {
		if k.Kind == h.Kind {
			return k
		}
	}
	return HandleKind{Kind: h.Kind, Name: h.Kind}
}

// MostHandles bounds the handles besides the first.
const MostHandles = 12

// Through reports whether the handle is a hole.
func (h Handle) Through() bool { return h.kind().Through }

// shaped reports a hole that has a shape of its own, which shrinks as a whole.
func (h Handle) shaped() bool { return h.kind().Shaped }

// shrink makes a shaped hole smaller about its centre.
func (h *Handle) shrink(share float64) {
	round := func(v float64) float64 { return math.Round(v*share*10) / 10 }
	h.Diameter, h.Length = round(h.Diameter), round(h.Length)
	h.Nodes = slices.Clone(h.Nodes)
	for i := range h.Nodes {
		n := &h.Nodes[i]
		n.X, n.Y, n.Round = round(n.X), round(n.Y), round(n.Round)
		n.Cut, n.Rise, n.In = round(n.Cut), round(n.Rise), round(n.In)
	}
}

// Name in the trade's words.
func (h Handle) Name() string { return h.kind().Name }

func handleNames() []string {
	names := make([]string, len(HandleKinds))
	for i, k := range HandleKinds {
		names[i] = k.Kind
	}
	return names
}

func (h Handle) check(field string, d Design) (ps craft.Problems) {
	ps.InRange(field, h)
	ps.OneOf(field+".kind", h.Kind, handleNames()...)
	ps.OneOf(field+".where", h.Where, "", "ends", "sides", "all")
	switch h.Kind {
	case NoHandle:
		return ps
	case Bevel:
		ps.InRangeOf(field, h, "flat", "angle")
		return ps
	}
	far := 5000.0
	if d.Shape != Free {
		far = max(2, d.Length-2)
	}
	ps.Length(field+".setback", h.Setback, 2, far)
	ps.InRangeOf(field, h, "offset")
	if h.Kind == OwnHole {
		return append(ps, checkNodes(h.Nodes, false, field+".nodes")...)
	}
	ps.InRangeOf(field, h, "diameter")
	switch h.Kind {
	case Slotted:
		ps.Length(field+".length", h.Length, min(h.Diameter, 1000), 1000)
	case HeartCut, DropCut, Notch, Crescent:
		ps.InRangeOf(field, h, "length")
	}
	return ps
}

// Handles lists the board's handles, the first one first; none is left out.
func (d Design) Handles() []Handle {
	out := make([]Handle, 0, 1+len(d.More))
	for _, h := range append([]Handle{d.Handle}, d.More...) {
		if h.Kind != NoHandle && h.Kind != "" {
			out = append(out, h)
		}
	}
	return out
}

// bevel is the first finger bevel, if there is one.
func (d Design) bevel() (Handle, bool) {
	for _, h := range d.Handles() {
		if h.Kind == Bevel {
			return h, true
		}
	}
	return Handle{}, false
}

// bored tells whether a bit of its own diameter makes it.
func (h Handle) bored() bool {
	k := slices.IndexFunc(HandleKinds, func(k HandleKind) bool { return k.Kind == h.Kind })
	return k >= 0 && HandleKinds[k].Bored
}

// centre is where a handle stands on the outline that it is measured on.
func (h Handle) centre(d Design, outline geom.Ring) geom.Point {
	lo, hi := -d.Length/2, d.Length/2
	if d.Shape == Free {
		b := outline.Bounds()
		lo, hi = b.MinX, b.MaxX
	}
	c := geom.Point{X: hi - h.Setback, Y: h.Offset}
	if h.Far {
		c.X = lo + h.Setback
	}
	if h.Local {
		if a, b, ok := across(outline, c.X); ok {
			c.Y += (a + b) / 2
		}
	}
	return c
}

// Flank is a place on the right side of the outline, a little past the middle
// of its length.
func (s Shaped) Flank() geom.Point {
	const past = 0.55
	box := s.Outline.Bounds()
	x := box.MinX + past*(box.MaxX-box.MinX)
	from, _, _ := across(s.Outline, x)
	return geom.Point{X: x, Y: from}
}

// across is the widest stretch of wood across the outline at x.
func across(outline geom.Ring, x float64) (from, to float64, ok bool) {
	ys := outline.SpansAcross(x, nil)
	for k := 0; k+1 < len(ys); k += 2 {
		if !ok || ys[k+1]-ys[k] > to-from {
			from, to, ok = ys[k], ys[k+1], true
		}
	}
	return from, to, ok
}

// turned is by how many degrees the length of a handle's own frame is turned from
// the board's: a slot lies across the board, save on a paddle's neck.
func (h Handle) turned(d Design) float64 {
	if h.Kind == Slotted && d.Shape != Paddle {
		return h.Turn + 90
	}
	return h.Turn
}

// path draws what is cut through the board for the handle.
func (h Handle) path(d Design, outline geom.Ring) *canvas.Path {
	var p *canvas.Path
	turn := h.turned(d)
	switch h.Kind {
	case Hole, CordHole:
		p = geom.Oval(h.Diameter, h.Diameter)
	case Slotted:
		p = geom.SoftRectangle(max(h.Length, h.Diameter), h.Diameter, h.Diameter/2)
	case HeartCut:
		p = geom.Heart(h.Length, h.Diameter, h.Diameter/16, h.Diameter/16)
	case DropCut:
		p = geom.Teardrop(max(h.Length, h.Diameter), h.Diameter, h.Diameter/8)
	case Crescent:
		p = geom.Crescent(h.Length, h.Diameter)
	case OwnHole:
		p = freePath(h.Nodes)
	}
	c := h.centre(d, outline)
	if turn != 0 {
		p = p.Transform(canvas.Identity.Rotate(turn))
	}
	return p.Translate(c.X, c.Y)
}

// bite is what a side notch takes out of the outline: a round-ended bay, its
// length along the side, open outward.
func (h Handle) bite(d Design, datum, outline geom.Ring) *canvas.Path {
	c := h.centre(d, datum)
	ys := outline.SpansAcross(c.X, nil)
	if len(ys) < 2 {
		return nil
	}
	from, to := ys[0], ys[len(ys)-1]
	const beyond = 60
	long := max(h.Length, 2*h.Diameter)
	p := geom.SoftRectangle(long, 2*(h.Diameter+beyond), min(h.Diameter, long/2))
	y := to + beyond
	if h.Right {
		y = from - beyond
	}
	return p.Translate(c.X, y)
}

// OffCentre is how far a handle stands off the middle of the wood across it,
// mm, positive to the left.
func (h Handle) OffCentre(s Shaped) craft.Figure {
	c := h.centre(s.Design, s.datum())
	from, to, _ := across(s.Outline, c.X)
	off := c.Y - (from+to)/2
	if math.Abs(off) < 1e-9 {
		off = 0
	}
	return craft.Figure{
		Key: "handle.off", Stage: craft.Shape, Label: fmt.Sprintf("The %s is off the middle of its width by", h.Name()),
		Value: off, Unit: craft.MM,
		Formula: "its centre − the middle of the wood across it, positive to the left",
		Terms: []craft.Term{
			{Name: "centre from the centre line", Value: c.Y, Unit: craft.MM},
			{Name: "left edge there", Value: to, Unit: craft.MM},
			{Name: "right edge there", Value: from, Unit: craft.MM},
		},
		Source: "measured on the outline",
	}
}
