package board

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/making"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// wanted is the bit that cuts a recess: its kind and its diameter, mm, at the most
// unless it must be just that. A cove is as round as its nose, a bowl as its depth.
func (r Recess) wanted() (kind string, diameter float64, just bool) {
	switch {
	case r.Kind == "groove" || r.Kind == "ring":
		return tool.RoundNose, cmp.Or(r.Item, 2*r.Radius), true
	case r.Kind == "bowl":
		return tool.RoundNose, cmp.Or(r.Item, 2*r.Depth), false
	case r.Cove > 0:
		return tool.RoundNose, 2 * r.Cove, false
	}
	if r.circular() {
		return tool.Straight, r.Item, false
	}
	return tool.Straight, 2 * r.Radius, false
}

// bitFor is the diameter of the largest router bit owned that cuts a recess, 0
// when there is none.
func bitFor(r tool.Router, recess Recess) float64 {
	kind, diameter, just := recess.wanted()
	if just {
		return r.Of(kind, diameter, recess.Deepest())
	}
	return r.Widest(kind, diameter, recess.Deepest())
}

// noBit judges a recess that no bit owned cuts: none is slim enough, or none of those
// long enough.
func noBit(r tool.Router, recess Recess, name string) craft.Verdict {
	kind, diameter, just := recess.wanted()
	v := craft.Verdict{
		Check: "recess-bit", Subject: name, Stage: craft.Shape, Level: craft.Mind,
		Finding: "No router bit in the shop cuts the " + name,
		Reason: "A groove takes a round-nosed bit of its own radius; the corners of a well are as round as its bit, " +
			"its cove as its nose. Without one it is carved by hand.",
		Figure: craft.Figure{
			Key: "recess.bit", Stage: craft.Shape, Label: "Nearest " + kind + " bit owned", Unit: craft.Bit,
			Formula: "smallest bit of its kind, against what the recess asks for", Source: "the shop's router bits",
		},
		Limit: diameter, AtLeast: just,
	}
	long := 0.0
	for _, b := range r.Bits {
		if b.Kind != kind {
			continue
		}
		off := func(d float64) float64 { return math.Abs(d - diameter) }
		if v.Figure.Value == 0 || off(b.Diameter) < off(v.Figure.Value) {
			v.Figure.Value = b.Diameter
		}
		if just && r.Of(kind, diameter, 0) == b.Diameter || !just && b.Diameter <= diameter+0.01 {
			long = max(long, b.Length)
		}
	}
	if long > 0 {
		v.Finding = "No " + kind + " bit in the shop reaches the floor of the " + name
		v.Figure.Label, v.Figure.Value, v.Figure.Unit = "Longest that fits it cuts", long, craft.MM
		v.Figure.Formula, v.Limit, v.AtLeast = "cutting length, against the depth", recess.Deepest(), true
	}
	return v
}

// Gouged tells whether the recess is worked by hand, because no bit owned cuts it.
func (r Recess) Gouged(by tool.Router) bool { return bitFor(by, r) == 0 }

// bendFine is how far an outline may stray whose bends are measured, mm: a
// radius of 25 comes out within a hundredth then.
const bendFine = 0.001

// inward are the bends of a ring toward its inside, whichever way it runs, tighter than
// most.
func inward(r geom.Ring, most float64) []geom.InsideCurve {
	if r.SignedArea() < 0 {
		r = slices.Clone(r)
		slices.Reverse(r)
	}
	return r.InsideCurves(most)
}

// insideCurves are the inward bends of the outline that are sawn, the tightest first, as
// far as any blade is looked for.
func (s Shaped) insideCurves() []geom.InsideCurve {
	if s.bends == nil || *s.bends == nil {
		found := s.findCurves()
		if s.bends == nil {
			return found
		}
		*s.bends = found
	}
	return *s.bends
}

func (s Shaped) findCurves() []geom.InsideCurve {
	out := inward(geom.Largest(geom.Flatten(s.Path, bendFine)), widest)
	if s.Design.Shape != Plank {
		return append([]geom.InsideCurve{}, out...)
	}
	index := s.Outline
	return slices.DeleteFunc(out, func(h geom.InsideCurve) bool { // what grew so is not sawn
		for i := range index {
			a, b := index.Edge(i)
			if s.natural(a, b) && h.At.Sub(a).Len()+h.At.Sub(b).Len() < b.Sub(a).Len()+1 {
				return true
			}
		}
		return false
	})
}

// widest is the largest radius of a blade that is ever looked for, mm.
const widest = 150

// hollow is an inside curve with the blade that turns tightest in it.
type hollow struct {
	geom.InsideCurve
	blade tool.Blade
	inner bool // of a hole
}

// tight tells whether the blade does not get through, within what is measured.
func (h hollow) tight() bool { return h.Radius < h.blade.Radius*making.Slack }

// hollows are the inside curves that are sawn, the tightest first as its blade finds
// it: those of the outline, and those of the holes that are sawn round, into which only
// a blade gets that is threaded through.
func (s Shaped) hollows(blades []tool.Blade, curves []geom.InsideCurve) (out []hollow) {
	tightest := func(of []tool.Blade) (b tool.Blade, ok bool) {
		if len(of) == 0 {
			return b, false
		}
		return slices.MinFunc(of, func(a, b tool.Blade) int { return cmp.Compare(a.Radius, b.Radius) }), true
	}
	if b, ok := tightest(blades); ok {
		for _, h := range curves {
			out = append(out, hollow{h, b, false})
		}
	}
	if b, ok := tightest(tool.Threaded(blades)); ok {
		for i, h := range s.Handles {
			if !h.shaped() {
				continue
			}
			hole := geom.Largest(geom.Flatten(s.HolePaths[i], bendFine))
			if hole.SignedArea() > 0 { // seen from within it is the waste that bends outward
				slices.Reverse(hole)
			}
			for _, c := range hole.InsideCurves(widest) {
				out = append(out, hollow{c, b, true})
			}
		}
	}
	slices.SortStableFunc(out, func(a, b hollow) int {
		return cmp.Compare(a.Radius/max(a.blade.Radius, 1e-9), b.Radius/max(b.blade.Radius, 1e-9))
	})
	return out
}

// corners judges whether what bends inward can be cut with what the shop owns.
func corners(s Shaped, c Conditions, curves []geom.InsideCurve) []craft.Verdict {
	var drum float64
	for _, d := range c.Tools.Drums {
		if drum == 0 || d < drum {
			drum = d
		}
	}
	var out []craft.Verdict
	for i, h := range s.hollows(c.Tools.Blades, curves) {
		tightest, level := h.blade, craft.Good
		if h.tight() {
			level = craft.Mind
		}
		if i > 0 && level == craft.Good {
			break // only the tightest is spoken of when all can be cut
		}
		if i > 3 {
			break
		}
		v := craft.Verdict{
			Check: "inside-corner", Stage: craft.Shape, Level: level, AtLeast: true, Limit: tightest.Radius,
			Finding: "Every inside curve can be sawn",
			Reason: "A blade that cannot turn as tight as the line burns, wanders or binds. Way round: overlapping " +
				"drilled holes and a file.",
			Figure: craft.Figure{
				Key:   "shoulder.radius",
				Stage: craft.Shape,
				Label: "Tightest inside curve",
				Value: math.Round(h.Radius*10) / 10,
				Unit:  craft.MM,
				Formula: "least radius of the outline where it bends inward, or of a hole that is sawn round, " +
					"against the tightest turn of the blades owned that get there",
				Terms:  []craft.Term{{Name: tightest.Name, Value: tightest.Radius, Unit: craft.MM}},
				Source: "least radius by blade width",
				Rule:   true,
			},
			Mark: around(h.At),
		}
		if level != craft.Good {
			v.Subject = fmt.Sprintf("inside curve at %.0f, %.0f", h.At.X, h.At.Y)
		}
		if drum > 0 {
			smallest := craft.Term{Name: "smallest drum, radius", Value: drum, Unit: craft.MM}
			v.Figure.Terms = append(v.Figure.Terms, smallest)
		}
		if level != craft.Good {
			v.Finding = "No blade in the shop turns as tight as this inside curve"
			if drum > 0 && drum <= h.Radius {
				v.Reason += " A drum that fits the curve sands it to the line."
			}
			v.Offer(func() []craft.Remedy { return s.openCurve(c, h) })
		}
		out = append(out, v)
	}
	return out
}

// openCurve widens a curve of a shape that has a dimension for it, until the blade gets
// through wherever it is drawn.
func (s Shaped) openCurve(c Conditions, h hollow) []craft.Remedy {
	d := s.Design
	if len(d.AsCut) > 0 || h.inner {
		return nil
	}
	tight := func(s Shaped) (n int) {
		for _, o := range s.hollows(c.Tools.Blades, s.insideCurves()) {
			if o.tight() {
				n++
			}
		}
		return n
	}
	was := tight(s)
	judge := func(again Shaped) craft.Level {
		if tight(again) < was {
			return craft.Good
		}
		return craft.Mind
	}
	var tries []attempt
	for _, more := range []float64{1, 1.03, 1.1, 1.25, 1.5} {
		to := math.Ceil(h.blade.Radius * more)
		try := func(label string, change func(*Design)) { tries = append(tries, attempt{label, to, craft.MM, change}) }
		switch {
		case d.Shape == Paddle:
			try("Open the shoulder to {}", func(d *Design) { d.Shoulder = to })
		case d.Shape == Heart:
			try("Open the notch to {}", func(d *Design) { d.Shoulder = to })
		case d.Shape == Plank && (d.HandleEnd.Kind == "tab" || d.FarEnd.Kind == "tab"):
			try("Open the tab's shoulders to {}", func(d *Design) {
				d.HandleEnd.Round, d.FarEnd.Round = max(d.HandleEnd.Round, to), max(d.FarEnd.Round, to)
			})
		case d.Shape == Free && !d.Half:
			try("Round every inward corner to {}", func(d *Design) { d.Nodes = roundedIn(d.Nodes, to) })
		}
	}
	return s.first(c, craft.Mind, judge, tries...)
}

// roundedIn is a line by points with every inward corner rounded at least so much, mm.
func roundedIn(nodes []Node, to float64) []Node {
	out := slices.Clone(nodes)
	n := len(out)
	ring := make(geom.Ring, n)
	for i, o := range out {
		ring[i] = o.Point()
	}
	turn := math.Copysign(1, ring.SignedArea())
	for i := range out {
		if turn*side(ring[(i+n-1)%n], ring[i], ring[(i+1)%n]) < 0 {
			out[i].Round = max(out[i].Round, to)
		}
	}
	return out
}

// Entry is how an inner cut is made: the hole bored inside its waste, and what is sawn
// from there.
type Entry struct {
	Name     string     `json:"name" doc:"What it begins, such as the handle's slot"`
	At       geom.Point `json:"at" doc:"Centre of the hole, in the board's frame"`
	Diameter float64    `json:"diameter" doc:"mm; 0 when no bit owned fits"`
	Second   *Second    `json:"second,omitempty" doc:"Of a slot: the hole at its other end"`
	Sawn     float64    `json:"sawn,omitempty" doc:"Length that is sawn through it, mm; 0 where boring is all"`
}

// Bored is how many holes are bored for it.
func (e Entry) Bored() int {
	if e.Second != nil {
		return 2
	}
	return 1
}

// Second is the other of two bored holes, and the straight cut between them.
type Second struct {
	At geom.Point `json:"at" doc:"Centre of the hole, in the board's frame"`
}

// rim is how far an entry hole keeps from the line, mm.
const rim = 1

// Entries finds how every inner cut is made, from the bits owned; where none is known,
// any is there. A round hole that a bit of its own size bores needs nothing beside it;
// a slot is two of them and the two cuts between; all else is sawn round.
func Entries(s Shaped, bits []float64) []Entry {
	out := []Entry{}
	for i, hole := range s.Holes {
		h := s.Handles[i]
		e := Entry{Name: h.Name()}
		own := len(bits) == 0 ||
			slices.ContainsFunc(bits, func(b float64) bool { return tool.SameSize(b, h.Diameter) })
		switch {
		case own && (h.Kind == Hole || h.Kind == CordHole):
			e.At, e.Diameter = hole.Centroid(), h.Diameter
		case own && h.Kind == Slotted:
			axis := s.slotAxis(i)
			e.At, e.Diameter, e.Second = axis[0], h.Diameter, &Second{axis[1]}
			e.Sawn = 2 * axis[1].Sub(axis[0]).Len()
		default:
			at, room := hole.Inscribed()
			e.At, e.Sawn = at, hole.Perimeter()
			for _, b := range bits {
				if b/2 <= room-rim {
					e.Diameter = max(e.Diameter, b)
				}
			}
		}
		out = append(out, e)
	}
	return out
}

// slotAxis is the centres of a slot's two round ends.
func (s Shaped) slotAxis(i int) [2]geom.Point {
	h := s.Handles[i]
	c := h.centre(s.Design, s.datum())
	sin, cos := math.Sincos(h.turned(s.Design) * math.Pi / 180)
	by := geom.Point{X: cos, Y: sin}.Scale(max(0, h.Length-h.Diameter) / 2)
	return [2]geom.Point{c.Sub(by), c.Add(by)}
}

// entryVerdicts judges whether every inner cut can be begun.
func entryVerdicts(s Shaped, c Conditions) (out []craft.Verdict) {
	bores := c.Tools.Bores()
	if len(bores) == 0 {
		return nil
	}
	for i, e := range Entries(s, bores) {
		if s.Handles[i].Kind == Hole || s.Handles[i].Kind == Slotted || e.Diameter > 0 {
			continue
		}
		_, room := s.Holes[i].Inscribed()
		out = append(out, craft.Verdict{
			Check: "entry", Subject: e.Name, Stage: craft.Shape, Level: craft.Mind,
			Finding: "No bit in the shop is small enough to begin the " + e.Name,
			Reason:  "The blade must be threaded through a hole inside the waste.",
			Figure: craft.Figure{
				Key:     "handle.entry",
				Stage:   craft.Shape,
				Label:   "Room for an entry hole",
				Value:   2 * (room - rim),
				Unit:    craft.MM,
				Formula: "widest circle inside the cut, less " + craft.Length(rim) + " all round",
				Source:  "measured on the outline",
			},
			AtLeast: true, Limit: bores[0],
		})
	}
	return out
}

// Stretch is a part of the outline as the router meets it, in the order in
// which it is best cut.
type Stretch struct {
	Path  string  `json:"path" doc:"SVG path data in the board's frame"`
	Grain string  `json:"grain" enum:"end,with,against" doc:"How the bit meets the grain along it"`
	Mm    float64 `json:"mm" doc:"Its length"`
}

// How the router meets the grain.
const (
	endGrain = 55 // degrees between the edge and the grain from which it is end grain
	ripples  = 4  // degrees by which fibres may run into the edge without being lifted
)

// Stretches goes round the outline against the clock, as a hand-held router is
// pushed, and tells end grain, and long grain with and against the cut; the grain
// is in the board's frame. End grain comes first, so that what breaks out at its
// end is cut away after.
func Stretches(s Shaped, grain stock.Grain) []Stretch {
	ring := s.Outline.Simplified(0.2).Dense(6)
	if len(ring) == 0 {
		return nil
	}
	meets := make([]string, len(ring))
	for i := range ring {
		a, b := ring.Edge(i)
		d := b.Sub(a)
		l := max(d.Len(), 1e-9)
		sin, cos := math.Sincos(grain.At(a).Fibres * math.Pi / 180)
		g := geom.Point{X: cos, Y: sin}
		along, out := (d.X*g.X+d.Y*g.Y)/l, (d.Y*g.X-d.X*g.Y)/l // of the grain, along the feed and out of the edge
		angle := math.Atan2(math.Abs(out), math.Abs(along)) * 180 / math.Pi
		switch {
		case angle >= endGrain:
			meets[i] = "end"
		case angle > ripples && along*out < 0: // fibres run into the edge ahead of the bit
			meets[i] = "against"
		default:
			meets[i] = "with"
		}
	}
	from := 0 // a place where one stretch ends
	for from < len(ring)-1 && meets[from] == meets[(from+len(ring)-1)%len(ring)] {
		from++
	}
	var out []Stretch
	for k := 0; k < len(ring); {
		i := (from + k) % len(ring)
		line := []geom.Point{ring[i]}
		kind := meets[i]
		for k < len(ring) && meets[(from+k)%len(ring)] == kind {
			_, b := ring.Edge((from + k) % len(ring))
			line = append(line, b)
			k++
		}
		out = append(out, Stretch{geom.LineSVG(line), kind, geom.Length(line)})
	}
	rank := map[string]int{"end": 0, "with": 1, "against": 2}
	slices.SortStableFunc(out, func(a, b Stretch) int { return rank[a.Grain] - rank[b.Grain] })
	return out
}

// deepBores are what is bored, with how far the drill goes in: the deepest of the holes,
// and every bore for a fitting.
func (s Shaped) deepBores(t float64) (names []string, deep []float64) {
	if len(s.Holes) > 0 {
		names, deep = append(names, ""), append(deep, t)
	}
	for _, b := range s.Bores {
		if b.Side() {
			names, deep = append(names, b.Name), append(deep, b.Long(t))
		}
	}
	return names, deep
}

// travel judges whether the drill travels far enough for each.
func travel(s Shaped, c Conditions) (out []craft.Verdict) {
	most := c.Tools.Most(tool.DrillPress, func(t tool.Tool) float64 { return t.Travel })
	if most == 0 {
		return nil
	}
	names, deep := s.deepBores(c.Thickness)
	for i, d := range deep {
		v := craft.Verdict{
			Check: "drill-travel", Subject: names[i], Stage: craft.Shape, Level: craft.Over(d, most, math.Inf(1)),
			Limit: most, Finding: "The drill goes in in one stroke",
			Reason: "Where the drill press does not travel far enough, bore in two lifts: raise the table, or " +
				"come from the other face once the point shows.",
			Figure: craft.Figure{
				Key: "handle.travel", Stage: craft.Shape, Label: "Deep to bore", Value: d, Unit: craft.MM,
				Formula: "final thickness, or how deep it goes into a side, against the travel of the drill",
				Terms:   []craft.Term{{Name: "travel", Value: most, Unit: craft.MM}},
				Source:  "the shop's machines",
			},
		}
		if v.Level != craft.Good {
			v.Finding = "Bore it in two lifts"
		}
		if n := math.Ceil(d / most); n > 2 {
			v.Finding = fmt.Sprintf("Bore it in %.0f lifts, with a long bit", n)
		}
		out = append(out, v)
	}
	return out
}

// templated tells whether anything is routed along a template: an outline that is not
// all straight lines and arcs of saws and stops, or a hole that no bit bores.
func (s Shaped) templated() bool {
	if slices.ContainsFunc(s.Handles, Handle.shaped) {
		return true
	}
	switch s.Design.Shape {
	case Rectangle, Square:
		return len(s.Design.AsCut) > 0
	case Plank: // a tab or a curved end
		return slices.ContainsFunc([]End{s.Design.HandleEnd, s.Design.FarEnd}, func(e End) bool {
			return e.Kind == "tab" || e.Kind == "curve"
		})
	}
	return true
}

// reach judges whether bits are long enough and the drill travels far enough.
func reach(s Shaped, c Conditions) (out []craft.Verdict) {
	out = travel(s, c)
	longest := c.Tools.Router.Longest(tool.FlushTrim)
	if longest > 0 && (s.templated() || c.Trim) {
		v := craft.Verdict{
			Check: "bit-length", Stage: craft.Shape, Level: craft.Under(longest, c.Routed, 0), AtLeast: true,
			Limit:   c.Routed,
			Finding: "The flush bit is long enough for the edge",
			Reason: "A bit shorter than the edge is thick is used from both faces, or leaves a step: plane it first, " +
				"or trim it in two passes.",
			Figure: craft.Figure{
				Key:     "edge.bit",
				Stage:   craft.Shape,
				Label:   "Cutting length of the longest flush bit",
				Value:   longest,
				Unit:    craft.MM,
				Formula: "against the thickness that is routed, before it is sanded",
				Source:  "the shop's router bits",
			},
		}
		if v.Level != craft.Good {
			v.Level, v.Finding = craft.Mind, "The flush bit is shorter than the edge is thick"
		}
		out = append(out, v)
	}
	out = append(out, spans(s, c)...)
	for _, cavity := range firsts(s.Cavities) {
		if len(c.Tools.Router.Bits) == 0 || len(cavity.Rim) < 3 || bitFor(c.Tools.Router, cavity.Recess) > 0 {
			continue
		}
		out = append(out, noBit(c.Tools.Router, cavity.Recess, cavity.Name(s.Design.Recesses)))
	}
	return out
}
