package board

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/species"
	"idletimber/craft/tool"
)

// Edge is the profile that is run along an edge.
type Edge struct {
	Kind  string  `json:"kind" enum:"none,eased,round-over,chamfer,bevel" doc:"Profile"`
	Size  float64 `json:"size" mm:"0,50" doc:"Radius, or the leg down the edge"`
	Angle float64 `json:"angle,omitempty" range:"0,85" doc:"Of a chamfer or bevel, from the face, degrees; 0 for 45"`
	Face  string  `json:"face,omitempty" enum:",show,under" doc:"Left out for both"`
}

// EdgeAt is the profile of one stretch of the outline.
type EdgeAt struct {
	Where string `json:"where" enum:"left,right,handle end,far end,holes" doc:"Where it runs along"`
	Edge
}

// The sides of an outline.
const (
	left      = "left"
	right     = "right"
	handleEnd = "handle end"
	farEnd    = "far end"
	inHoles   = "holes"
)

// Sides are the stretches of an outline that may have an edge of their own, in
// the order in which they are gone round.
var Sides = []string{right, handleEnd, left, farEnd}

// sideOf names the side that a stretch of an anticlockwise outline from a to b
// belongs to, by where it faces.
func sideOf(a, b geom.Point) string {
	d := b.Sub(a)
	switch nx, ny := d.Y, -d.X; {
	case math.Abs(ny) > math.Abs(nx) && ny > 0:
		return left
	case math.Abs(ny) > math.Abs(nx):
		return right
	case nx > 0:
		return handleEnd
	}
	return farEnd
}

func (e Edge) check(field string) (ps craft.Problems) {
	ps.InRange(field, e)
	ps.OneOf(field+".kind", e.Kind, "none", "eased", "round-over", "chamfer", "bevel")
	ps.OneOf(field+".face", e.Face, "", "show", "under")
	return ps
}

func (e EdgeAt) check(field string) (ps craft.Problems) {
	ps.OneOf(field+".where", e.Where, left, right, handleEnd, farEnd, inHoles)
	return append(ps, e.Edge.check(field)...)
}

// Depth is how far the profile goes down the edge, mm.
func (e Edge) Depth() float64 {
	if e.Kind == "none" || e.Kind == "" {
		return 0
	}
	return e.Size
}

// Run is how far the profile goes in over the face, mm.
func (e Edge) Run() float64 {
	if a := e.Angle; e.Depth() > 0 && (e.Kind == "chamfer" || e.Kind == "bevel") && a > 0 {
		return e.Size / math.Tan(a*math.Pi/180)
	}
	return e.Depth()
}

// EdgeAt is the edge of a side on a face.
func (d Design) EdgeAt(side string, under bool) Edge {
	on := func(face string) bool { return face == "" || (face == "under") == under }
	out := Edge{Kind: "none"}
	if on(d.Edge.Face) {
		out = d.Edge
	}
	for _, e := range d.Edges {
		if e.Where == side && on(e.Face) {
			out = e.Edge
		}
	}
	return out
}

// Taken is how deep the profiles of a side take its two faces in a board t mm thick, mm.
func (s Shaped) Taken(side string, t float64) (show, under float64) {
	return s.profile(s.edgeFor(side, false), 0, t), s.profile(s.edgeFor(side, true), 0, t)
}

// Worked is the length of the outline and of the holes, mm, over which a profile is
// run, both faces counted; natural edges stay as they are.
func (s Shaped) Worked() (sum float64) {
	for _, mm := range s.workedBy() {
		sum += mm
	}
	return sum
}

// workedBy is the same by kind of profile.
func (s Shaped) workedBy() map[string]float64 {
	sums := map[string]float64{}
	add := func(side string, mm float64) {
		for _, under := range []bool{false, true} {
			if e := s.Design.EdgeAt(side, under); e.Depth() > 0 {
				sums[e.Kind] += mm
			}
		}
	}
	for _, h := range s.Holes {
		add(inHoles, h.Perimeter())
	}
	for i := range s.Outline {
		if a, b := s.Outline.Edge(i); !s.natural(a, b) {
			add(sideOf(a, b), b.Sub(a).Len())
		}
	}
	return sums
}

// cut is the area that a profile takes of a section across the edge of a board t mm
// thick, mm², and how far its middle lies in from the edge, mm.
func (s Shaped) cut(e Edge, t float64) (area, in float64) {
	depth, run := s.profile(e, 0, t), s.run(e, t)
	if depth <= 0 || run <= 0 {
		return 0, 0
	}
	if e.Kind == "round-over" || e.Kind == "eased" {
		r := e.Size
		area = (1 - math.Pi/4) * r * r
		return area, (r*r*r/2 - r*r*r*(math.Pi/4-1.0/3)) / area
	}
	area, in = depth*run/2, run/3
	if beyond := depth - t; beyond > 0 { // it runs out of the other face
		past := beyond * run * beyond / depth / 2
		area, in = area-past, (area*in-past*run*beyond/depth/3)/(area-past)
	}
	return area, in
}

// profiled is what the profiles of its edges take of a board t mm thick, mm³: along a
// bend less than along a straight edge, by how far in the middle of the cut lies.
func (s Shaped) profiled(t float64) (sum float64) {
	type cut struct{ area, in float64 }
	for _, under := range []bool{false, true} {
		cuts := map[string]cut{"": {}}
		for _, side := range append([]string{inHoles}, Sides...) {
			area, in := s.cut(s.edgeFor(side, under), t)
			cuts[side] = cut{area, in}
		}
		round := func(ring geom.Ring, side func(a, b geom.Point) string, inward float64) {
			n := len(ring)
			at := func(i int) cut {
				a, b := ring.Edge(i % n)
				return cuts[side(a, b)]
			}
			corner := func(i int) float64 { // by how much two cuts overlap where they meet
				turn := turnAt(ring[(i+n-1)%n], ring[i%n], ring[(i+1)%n])
				return inward * math.Copysign(math.Tan(min(math.Abs(turn), math.Pi/2)/2), turn)
			}
			last, now := at(n-1), at(0)
			for i := range ring {
				next := at(i + 1)
				if a, b := ring.Edge(i); now.area > 0 {
					long := b.Sub(a).Len()
					if last.area > 0 {
						long -= now.in * corner(i)
					}
					if next.area > 0 {
						long -= now.in * corner(i+1)
					}
					sum += now.area * long
				}
				last, now = now, next
			}
		}
		if slices.ContainsFunc(Sides, func(side string) bool { return cuts[side].area > 0 }) {
			round(s.Outline, func(a, b geom.Point) string {
				if s.natural(a, b) {
					return ""
				}
				return sideOf(a, b)
			}, math.Copysign(1, s.Outline.SignedArea()))
		}
		if cuts[inHoles].area > 0 {
			for _, h := range s.Holes {
				round(h, func(a, b geom.Point) string { return inHoles }, -math.Copysign(1, h.SignedArea()))
			}
		}
	}
	return sum
}

// turnAt is by how much a line turns to the left at b, radians.
func turnAt(a, b, c geom.Point) float64 {
	d, e := b.Sub(a), c.Sub(b)
	return math.Atan2(d.X*e.Y-d.Y*e.X, d.X*e.X+d.Y*e.Y)
}

// flat is the least width that must stay between two profiles, mm.
const flat = 3

// bullnose is how near half of the thickness a radius makes a full round, mm.
const bullnose = 0.25

// profiles judges every edge that is run: a verdict for all round, and one for
// each side that differs and comes out worse.
func profiles(s Shaped, c Conditions, curves []geom.InsideCurve) (out []craft.Verdict) {
	type pair struct {
		show, under Edge
		bevelled    bool
	}
	seen := map[pair]bool{}
	sides := map[string]bool{}
	for i := range s.Outline {
		if a, b := s.Outline.Edge(i); !s.natural(a, b) {
			sides[sideOf(a, b)] = true
		}
	}
	sides[inHoles] = len(s.Holes) > 0
	for _, side := range append(slices.Clone(Sides), inHoles) {
		show, under := s.Design.EdgeAt(side, false), s.Design.EdgeAt(side, true)
		at := pair{show, under, s.edgeFor(side, true).Kind == "finger"}
		if !sides[side] || seen[at] || show.Depth()+under.Depth() == 0 && !at.bevelled {
			continue
		}
		seen[at] = true
		if at.bevelled {
			out = append(out, bevelFlat(s, side, show))
			continue
		}
		out = append(out, flatLeft(s, c, side, show, under))
	}
	if v, ok := bearing(s, c, curves); ok {
		out = append(out, v)
	}
	return out
}

// bevelFlat judges what a finger bevel leaves standing of a side: the flat that was
// chosen, less the profile of a face that is not bevelled.
func bevelFlat(s Shaped, side string, show Edge) craft.Verdict {
	h, _ := s.Design.bevel()
	taken := show.Depth()
	if h.Both {
		taken = 0
	}
	rest := h.Flat - taken
	v := craft.Verdict{
		Check: "edge", Subject: side, Stage: craft.Shape, Level: craft.Under(rest, flat, 1), AtLeast: true, Limit: flat,
		Finding: "Flat left standing by the finger bevel",
		Reason:  "Without a flat the bevel runs out in a knife edge that chips and cuts.",
		Figure: craft.Figure{
			Key: "edge.flat", Stage: craft.Shape, Label: "Flat left on the edge, " + side, Value: rest, Unit: craft.MM,
			Formula: "flat of the bevel − what the profile of the other face takes",
			Terms: []craft.Term{
				{Name: "flat of the bevel", Value: h.Flat, Unit: craft.MM},
				{Name: "from the show face", Value: taken, Unit: craft.MM},
			},
			Source: "rule of the trade: a flat of " + craft.Length(flat), Rule: true,
		},
	}
	if v.Level == craft.Good {
		return v
	}
	to := ceilTo(flat + taken)
	v.Remedies = []craft.Remedy{
		remedy(s.Design, "Leave {} standing", to, craft.MM, changeBevel(func(h *Handle) { h.Flat = to })),
	}
	return v
}

// leaning tells whether an edge leans over its whole thickness: a bevel from one face
// runs out at the other, which has no profile to speak of.
func leaning(show, under Edge, t float64) (e Edge, ok bool) {
	e, other := show, under
	if under.Depth() > show.Depth() {
		e, other = under, show
	}
	slant := e.Kind == "chamfer" || e.Kind == "bevel"
	return e, slant && e.Depth() >= t-bullnose && other.Depth() <= 1
}

// sharp is the angle of an arris, degrees, from which it is not felt as a blade (rule).
const sharp = 60

// leans judges an edge that leans over its whole thickness: by the arris that is left.
func leans(s Shaped, side string, e Edge, t float64) craft.Verdict {
	angle, box := cmp.Or(e.Angle, 45), s.Outline.Bounds()
	in, wide := min(e.Depth(), t)/math.Tan(angle*math.Pi/180), box.MaxY-box.MinY
	if side == handleEnd || side == farEnd {
		wide = box.MaxX - box.MinX
	}
	v := craft.Verdict{
		Check: "edge", Stage: craft.Shape, Level: craft.Under(angle, sharp, -1), AtLeast: true, Limit: sharp,
		Finding: "The edge leans over its whole thickness",
		Reason:  "Where it meets the other face it is as sharp as it leans: a keen arris chips, and cuts.",
		Figure: craft.Figure{
			Key: "edge.arris", Stage: craft.Shape, Label: "Angle of the arris", Value: angle, Unit: craft.Degree,
			Formula: "angle of the bevel from the face",
			Terms: []craft.Term{
				{Name: "bevel's depth", Value: e.Depth(), Unit: craft.MM},
				{Name: "final thickness", Value: t, Unit: craft.MM},
				{Name: "stands in by", Value: in, Unit: craft.MM},
				{
					Name:  "wider face",
					Value: wide,
					Unit:  craft.MM,
				}, {Name: "narrower face", Value: wide - in, Unit: craft.MM},
			},
			Source: "rule of the trade", Rule: true,
		},
	}
	if len(s.Design.Edges) > 0 {
		v.Subject = side
	}
	if v.Level == craft.Good {
		return v
	}
	v.Finding = "The edge leans so far that its arris is keen"
	steeper := func(e *Edge) {
		if (e.Kind == "chamfer" || e.Kind == "bevel") && e.Depth() >= t-bullnose {
			e.Angle = max(e.Angle, sharp)
		}
	}
	v.Remedies = []craft.Remedy{
		remedy(s.Design, "Let it lean less: {} from the face", sharp, craft.Degree, func(d *Design) {
			steeper(&d.Edge)
			d.Edges = slices.Clone(d.Edges)
			for i := range d.Edges {
				steeper(&d.Edges[i].Edge)
			}
		}),
	}
	return v
}

func flatLeft(s Shaped, c Conditions, side string, show, under Edge) craft.Verdict {
	if e, ok := leaning(show, under, c.Thickness); ok {
		return leans(s, side, e, c.Thickness)
	}
	rest := c.Thickness - show.Depth() - under.Depth()
	same := show.Kind == under.Kind && show.Size == under.Size
	v := craft.Verdict{
		Check: "edge", Stage: craft.Shape, Level: craft.Under(rest, flat, 0), AtLeast: true, Limit: flat,
		Finding: "Flat left between the two profiles",
		Reason:  "Without a flat the bearing has nothing to run on and the edge comes out sharp.",
		Figure: craft.Figure{
			Key:     "edge.flat",
			Stage:   craft.Shape,
			Label:   "Flat left on the edge",
			Value:   rest,
			Unit:    craft.MM,
			Formula: "final thickness − what the profiles take from both faces",
			Terms: []craft.Term{
				{Name: "final thickness", Value: c.Thickness, Unit: craft.MM},
				{Name: "from the show face", Value: show.Depth(), Unit: craft.MM},
				{Name: "from the under face", Value: under.Depth(), Unit: craft.MM},
			},
			Source: "rule of the trade: a flat of " + craft.Length(flat) + ", or a full bullnose",
			Rule:   true,
		},
	}
	if len(s.Design.Edges) > 0 {
		v.Subject = side
		v.Figure.Label += ", " + side
	}
	if same && show.Kind == "round-over" && math.Abs(show.Size-c.Thickness/2) <= bullnose {
		v.Level, v.Finding = craft.Good, "A full bullnose"
	}
	if v.Level == craft.Good {
		return v
	}
	faces := 2.0
	if show.Depth() == 0 || under.Depth() == 0 {
		faces = 1
	}
	if fit := floorTo((c.Thickness - flat) / faces); fit > 0 {
		v.Remedies = append(v.Remedies, remedy(s.Design, "Take the edge down to {}", fit, craft.MM, func(d *Design) {
			d.Edge.Size = min(d.Edge.Size, fit)
			for i := range d.Edges {
				d.Edges[i].Size = min(d.Edges[i].Size, fit)
			}
		}))
	}
	return v
}

// run is the profile that a router runs along a side, on either face; empty without one.
func (d Design) run(side string) (kind string) {
	for _, under := range []bool{true, false} {
		if e := d.EdgeAt(side, under); e.Depth() > 0 && e.Kind != "eased" {
			kind = e.Kind
		}
	}
	return kind
}

// bearing judges whether the bearing of the edge's bit gets into every inside curve, of
// the outline and of the holes.
func bearing(s Shaped, c Conditions, curves []geom.InsideCurve) (craft.Verdict, bool) {
	var kind string
	for _, side := range Sides {
		kind = cmp.Or(s.Design.run(side), kind)
	}
	if inner := s.Design.run(inHoles); inner != "" {
		kind = cmp.Or(kind, inner)
		curves = slices.Clone(curves)
		for i, h := range s.Holes {
			at, r := h.Centroid(), s.Handles[i].Diameter/2
			if !s.Handles[i].bored() && s.Handles[i].Kind != Slotted {
				at, r = h.Inscribed()
			}
			curves = append(curves, geom.InsideCurve{At: at, Radius: r})
		}
		slices.SortStableFunc(curves, func(a, b geom.InsideCurve) int { return cmp.Compare(a.Radius, b.Radius) })
	}
	var bit tool.RouterBit
	for _, b := range c.Tools.Router.Bits {
		if b.Kind == kind && b.Bearing > 0 && (bit.Kind == "" || b.Bearing < bit.Bearing) {
			bit = b
		}
	}
	if bit.Kind == "" || len(curves) == 0 || curves[0].Radius > bit.Bearing/2+1 {
		return craft.Verdict{}, false
	}
	h := curves[0]
	v := craft.Verdict{
		Check: "bearing", Stage: craft.Shape, Level: craft.Under(h.Radius, bit.Bearing/2-0.2, 0), AtLeast: true,
		Limit:   bit.Bearing / 2,
		Finding: fmt.Sprintf("The bearing of the %s bit follows every inside curve", kind),
		Reason: "A bearing that is larger than an inside curve rides over it and leaves the edge unshaped there: " +
			"finish it by hand, or open the hollow.",
		Figure: craft.Figure{
			Key:   "edge.bearing",
			Stage: craft.Shape,
			Label: "Tightest inside curve that is run",
			Value: h.Radius,
			Unit:  craft.MM,
			Formula: "least radius of the outline where it bends inward, or of a hole, against half the bearing's " +
				"diameter",
			Terms: []craft.Term{
				{Name: "bearing's diameter", Value: bit.Bearing, Unit: craft.MM},
			},
			Source: "the shop's router bits",
		},
		Mark: around(h.At),
	}
	if v.Level != craft.Good {
		v.Level, v.Finding = craft.Mind, "The bearing does not get into the tightest inside curve"
	}
	return v, true
}

// around is a short mark at a place.
func around(p geom.Point) *craft.Mark {
	const half = 4
	return &craft.Mark{AX: p.X - half, AY: p.Y - half, BX: p.X + half, BY: p.Y + half}
}

// CutLine is where a saw is led, allowance mm outside the outline, as SVG path
// data: closed, or open lines where natural edges are left as they grew.
func (s Shaped) CutLine(allowance float64) string {
	grown := s.Outline.Simplified(geom.Fine).Outset(allowance)
	if s.Natural() == 0 {
		return grown.SVG()
	}
	sawn := func(p geom.Point) bool {
		best, ok := math.Inf(1), false
		for i := range s.Outline {
			a, b := s.Outline.Edge(i)
			if _, d := (geom.Ring{a, b}).Nearest(p); d < best {
				best, ok = d, !s.natural(a, b)
			}
		}
		return ok
	}
	rim := grown.Dense(6)
	from := slices.IndexFunc(rim, func(p geom.Point) bool { return !sawn(p) })
	path := ""
	var line []geom.Point
	for k := range len(rim) + 1 {
		p := rim[(max(from, 0)+k)%len(rim)]
		if k < len(rim) && sawn(p) {
			line = append(line, p)
			continue
		}
		if len(line) > 1 {
			path += geom.LineSVG(line)
		}
		line = nil
	}
	return path
}

// arris is the least by which an edge is broken so that it feels soft, mm: hard wood stays sharper
// (rule).
func arris(janka float64) float64 {
	if janka > species.HardJanka {
		return 1
	}
	return 0.5
}

// heldArris is the same inside of a handle, where fingers and cords run over it, mm (rule).
const heldArris = 2

// brokenInside judges whether the edges in the holes of handles are broken enough for what is held by
// them, or hung.
func brokenInside(s Shaped) (v craft.Verdict, ok bool) {
	if len(s.Holes) == 0 {
		return v, false
	}
	least := min(s.edgeFor(inHoles, false).Depth(), s.edgeFor(inHoles, true).Depth())
	if least >= heldArris {
		return v, false
	}
	return craft.Verdict{
		Check: "edge-break", Subject: inHoles, Stage: craft.Shape, Level: craft.Mind, AtLeast: true, Limit: heldArris,
		Finding: "The inside of the handle stays sharp",
		Reason:  "Fingers carry the board by that edge, and a cord frays on it.",
		Figure: craft.Figure{
			Key: "edge.break-inside", Stage: craft.Shape, Label: "Edge broken inside of the handle", Value: least,
			Unit: craft.MM, Formula: "the lesser of both faces, against {2}", Source: "rule of the trade", Rule: true,
		},
		Remedies: []craft.Remedy{remedy(s.Design, "Ease it by {}", heldArris, craft.MM, func(d *Design) {
			d.Edges = slices.DeleteFunc(slices.Clone(d.Edges), func(e EdgeAt) bool { return e.Where == inHoles })
			d.Edges = append(d.Edges, EdgeAt{Where: inHoles, Edge: Edge{Kind: "eased", Size: heldArris}})
		})},
	}, true
}

// broken judges whether the edges of the outline are broken enough for the hardness of the
// wood: the least of them counts. A board without any profile is told once.
func broken(s Shaped, c Conditions) (v craft.Verdict, ok bool) {
	if len(s.Outline) < 3 {
		return v, false
	}
	janka := 0.0
	for _, p := range c.Wood.Over(s.Outline) {
		janka = max(janka, p.Species.Janka)
	}
	least, where := math.Inf(1), ""
	for i := range s.Outline {
		a, b := s.Outline.Edge(i)
		if s.natural(a, b) {
			continue
		}
		for _, under := range []bool{false, true} {
			if e := s.edgeFor(sideOf(a, b), under); e.Kind != "finger" && e.Depth() < least {
				least, where = e.Depth(), sideOf(a, b)
			}
		}
	}
	want := arris(janka)
	if math.IsInf(least, 1) || least >= want {
		return v, false
	}
	v = craft.Verdict{
		Check: "edge-break", Subject: where, Stage: craft.Shape, Level: craft.Mind, AtLeast: true, Limit: want,
		Finding: "Its edge stays sharp to the hand",
		Reason:  "A square arris of hard wood cuts, chips and sheds its finish: break it, however little.",
		Figure: craft.Figure{
			Key: "edge.break", Stage: craft.Shape, Label: "Least broken edge", Value: least, Unit: craft.MM,
			Formula: "least size of a profile round the outline, against {0.5}, {1} over Janka {6000 N}",
			Terms: []craft.Term{
				{Name: "hardness", Value: janka, Unit: craft.Newton},
			}, Source: "rule of the trade", Rule: true,
		},
	}
	v.Remedies = []craft.Remedy{remedy(s.Design, "Ease every edge by {}", want, craft.MM, func(d *Design) {
		ease := func(e *Edge) {
			if e.Depth() < want {
				face := e.Face
				*e = Edge{Kind: "eased", Size: want, Face: face}
			}
		}
		ease(&d.Edge)
		d.Edge.Face = ""
		d.Edges = slices.Clone(d.Edges)
		for i := range d.Edges {
			ease(&d.Edges[i].Edge)
			d.Edges[i].Face = ""
		}
	})}
	return v, true
}
