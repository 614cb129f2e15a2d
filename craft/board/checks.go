package board

import (
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/rule"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// Conditions is what the checks of a shape need to know beside it.
type Conditions struct {
	Wood      stock.Grain // what is where, in the board's frame
	Thickness float64     // final, mm
	Most      float64     // the thickest the slab allows, mm
	Routed    float64     // flat and filled, before it is sanded, mm
	Voids     []Void
	Usable    geom.Ring // for planks, in the board's frame
	Tools     tool.Kit
	Hand      Hand // of the maker
	Rules     rule.Set

	Figured bool    // its figure is worth showing
	Trim    bool    // the outline is trimmed to a template after it is sawn
	Stray   float64 // how many times the usual it may stray in what is only looked at; 0 for once

	Feet      float64   // height of feet, mm
	FootSpots geom.Ring // where they stand, nil without feet
}

// Same reports conditions under which a board comes out alike: as thick, with the
// same voids filled.
func (c Conditions) Same(o Conditions) bool {
	return c.Thickness == o.Thickness && c.Most == o.Most && slices.EqualFunc(c.Voids, o.Voids, func(a, b Void) bool {
		return a.Flaw == b.Flaw && a.Depth == b.Depth && a.Under == b.Under && a.Filled == b.Filled
	})
}

// Void is a hole that the wood has by nature.
type Void struct {
	Flaw   string // the flaw's id
	Name   string
	Levels []geom.Ring // in the board's frame: its places from one face to the other where it runs askew, else one
	Depth  float64     // of what is left of it in the board, mm; its thickness where it goes through
	Under  bool        // it opens in the under face
	Filled bool        // with what carries load
}

// Hollow is what the void takes of a board t mm thick.
func (v Void) Hollow(t float64) Hollow { return into(v.Name, v.Ring(), nil, v.Depth, t, v.Under) }

// Ring is its place half way between the faces.
func (v Void) Ring() geom.Ring { return v.Levels[len(v.Levels)/2] }

// allowable is the share of the strength that a handle may use.
const allowable = 0.25

// least is the thickness under which there is no board to judge, mm.
const least = 1

// clearOf is the share of the allowable stress under which all is well.
const clearOf = 0.7

// Check judges all of a board: its thickness, whether it holds, and its shape.
func Check(s Shaped, c Conditions) []craft.Verdict {
	return slices.Concat([]craft.Verdict{Thickness(s, c)}, CheckStrength(s, c), CheckShape(s, c))
}

// CheckStrength judges whether its webs and necks hold, in the grain and beside
// the voids where it lies.
func CheckStrength(s Shaped, c Conditions) []craft.Verdict {
	if c.Thickness < least {
		return nil
	}
	var out, necks []craft.Verdict
	craft.Both(func() { out = webs(s, c) }, func() { necks = neckVerdicts(s, c) })
	return append(out, necks...)
}

// CheckShape judges what does not depend on where the board lies: hands, tools,
// edges, recesses, and how it stands and hangs.
func CheckShape(s Shaped, c Conditions) []craft.Verdict {
	if c.Thickness < least {
		return nil
	}
	out := fingers(s, c)
	out = append(out, bits(s, c)...)
	out = append(out, entryVerdicts(s, c)...)
	curves := s.insideCurves()
	out = append(out, corners(s, c, curves)...)
	out = append(out, profiles(s, c, curves)...)
	if v, ok := broken(s, c); ok {
		out = append(out, v)
	}
	if v, ok := brokenInside(s); ok {
		out = append(out, v)
	}
	out = append(out, recesses(s, c)...)
	out = append(out, reach(s, c)...)
	return append(out, balance(s, c)...)
}

// remedy is a change of the design as a merge patch of what differs.
func remedy(d Design, label string, amount float64, unit craft.Unit, change func(*Design)) craft.Remedy {
	return craft.Later(label, amount, unit, func() craft.Patch {
		next := d.apart()
		change(&next)
		return craft.Patch{"design": map[string]any(craft.Difference(d, next))}
	})
}

// apart is the design with lists of its own, so that changing it changes no other.
func (d Design) apart() Design {
	d.Nodes, d.More, d.Edges = slices.Clone(d.Nodes), slices.Clone(d.More), slices.Clone(d.Edges)
	d.Recesses, d.AsCut = slices.Clone(d.Recesses), slices.Clone(d.AsCut)
	return d
}

// attempt is a change that may help.
type attempt struct {
	label  string
	amount float64
	unit   craft.Unit
	change func(*Design)
}

// first is the first of some attempts with which a check comes out milder than it was:
// each is drawn and judged again.
func (s Shaped) first(
	c Conditions,
	was craft.Level,
	judge func(Shaped) craft.Level,
	tries ...attempt,
) []craft.Remedy {
	for _, a := range tries {
		d := s.Design.apart()
		a.change(&d)
		if judge(s.again(d, c)).Rank() < was.Rank() {
			return []craft.Remedy{remedy(s.Design, a.label, a.amount, a.unit, a.change)}
		}
	}
	return nil
}

// change changes the i-th hole's handle in a design.
func (s Shaped) change(d *Design, hole int, change func(*Handle)) {
	k := -1
	if through := d.Handle.Through(); through {
		k++
		if k == hole {
			change(&d.Handle)
			return
		}
	}
	d.More = slices.Clone(d.More)
	for i := range d.More {
		if !d.More[i].Through() {
			continue
		}
		if k++; k == hole {
			change(&d.More[i])
			return
		}
	}
}

// thicknessOf is a remedy that sets the thickness, mm.
func thicknessOf(d Design, label string, t float64) craft.Remedy {
	return remedy(d, label, t, craft.MM, func(d *Design) { d.Thickness = t })
}

// floorTo rounds down to half a millimetre, so that a remedy is a number that
// can be set.
func floorTo(v float64) float64 { return math.Floor(v*2) / 2 }

func ceilTo(v float64) float64 { return math.Ceil(v*2) / 2 }

// Thickness judges the final thickness against the wanted one.
func Thickness(s Shaped, c Conditions) craft.Verdict {
	const thin = 12
	want := s.Design.Thickness
	v := craft.Verdict{
		Check: "thickness", Stage: craft.Flatten, AtLeast: true, Limit: thin, Level: craft.Good,
		Finding: "Thick enough once it is flat and sanded",
		Reason:  "Under " + craft.Length(thin) + " a serving board cups, rings and chips at its edges.",
		Figure: craft.Figure{
			Key:     "flatten.left",
			Stage:   craft.Flatten,
			Label:   "Final thickness",
			Value:   c.Thickness,
			Unit:    craft.MM,
			Formula: "what the thickness budget leaves, or the wanted thickness where that is less",
			Terms: []craft.Term{
				{Name: "most there is", Value: c.Most, Unit: craft.MM},
				{Name: "wanted", Value: want, Unit: craft.MM},
			},
			Source: "thickness budget",
		},
	}
	switch {
	case c.Thickness < least:
		v.Level, v.Finding, v.Reason = craft.Stop, "Flattening leaves nothing of the slab",
			"The thinnest reading is used up by hollow, wind and clean-up."
	case want > c.Most+0.01:
		v.Level, v.Limit = craft.Stop, want
		v.Finding, v.Reason = "The slab does not hold the wanted thickness",
			"Flattening, filling and sanding take more than there is to spare."
		if c.Most > 0 {
			v.Remedies = []craft.Remedy{thicknessOf(s.Design, "Take the thickness down to {}", floorTo(c.Most))}
		}
	case c.Thickness < thin:
		v.Level, v.Finding = craft.Mind, "Thin for a board"
		if floorTo(c.Most) >= thin {
			v.Remedies = []craft.Remedy{thicknessOf(s.Design, "Thicken to {}", thin)}
		}
	}
	return v
}

// WebStress is the bending stress in MPa in a web of width b, span l and
// thickness t (mm) pulled with force newtons: a beam held at both ends.
func WebStress(force, l, b, t float64) float64 { return force * l / 8 / (t * b * b / 6) }

// wider is how many times as wide as the narrowest a web may be that is looked
// at, since its grain may be worse.
const wider = 6

// farWeb is how far off a void weakens no web, mm.
const farWeb = 60

// webs judges the wood between each hole and whatever lies nearest to it: the
// outline, another hole, a void, or a recess.
func webs(s Shaped, c Conditions) []craft.Verdict {
	var out []craft.Verdict
	if len(s.Holes) == 0 {
		return nil
	}
	on := pulled(s, c)
	fitted := s.Fitted(c.Thickness)
	for i, hole := range s.Holes {
		v := web(s, c, on, i, s.Outline, "the edge")
		if len(s.Holes) > 1 {
			v.Subject = holeName(s, i)
		}
		for j := i + 1; j < len(s.Holes); j++ {
			between := web(s, c, on, i, s.Holes[j], "the "+holeName(s, j))
			between.Subject = holeName(s, i) + " and " + holeName(s, j)
			out = append(out, between)
		}
		beside := func(rings []geom.Ring, name func(int) string, eased func(*craft.Verdict)) {
			for k, r := range rings {
				if len(r) < 3 || hole.Bounds().Apart(r.Bounds()) > farWeb || clearWeb(c, on, hole, r) ||
					takesOut(hole, r) {
					continue
				}
				if near := web(s, c, on, i, r, "the "+name(k)); near.Figure.Value > 0 && near.Level.Rank() > 0 {
					near.Subject, near.Remedies = name(k), nil
					if len(s.Holes) > 1 {
						near.Subject = holeName(s, i) + " and " + name(k)
					}
					if eased != nil {
						eased(&near)
					}
					out = append(out, near)
				}
			}
		}
		for _, o := range c.Voids {
			beside(o.Levels, func(int) string { return o.Name }, func(v *craft.Verdict) { bridged(o, v) })
		}
		rims := make([]geom.Ring, len(s.Cavities))
		for k, cavity := range s.Cavities {
			if cavity.Inner == nil || !cavity.Inner.Contains(hole[0]) {
				rims[k] = cavity.Rim
			} else {
				rims[k] = cavity.Inner
			}
		}
		beside(rims, func(k int) string { return s.Cavities[k].Name(s.Design.Recesses) }, nil)
		cut := make([]geom.Ring, len(fitted))
		for k, h := range fitted {
			cut[k] = h.Ring
		}
		beside(cut, func(k int) string { return fitted[k].Name }, nil)
		if was := v; v.Level != craft.Good {
			v.Offer(func() []craft.Remedy { return webRemedies(s, c, i, was) })
		}
		out = append(out, v)
	}
	return out
}

// takesOut reports a hole that takes all of a void away.
func takesOut(hole, void geom.Ring) bool {
	const rim = 1 // mm that may be left of it in the hole's wall
	for _, p := range void {
		if hole.Contains(p) {
			continue
		}
		if _, off := hole.Nearest(p); off > rim {
			return false
		}
	}
	return true
}

// bridged eases the verdict on a web beside a void: filled with what carries
// load it does not break away, and filling it so is the way out.
func bridged(void Void, v *craft.Verdict) {
	switch {
	case v.Level != craft.Stop:
	case void.Filled:
		v.Level = craft.Mind
		v.Finding += ", which the fill must bear"
	default:
		v.Remedies = []craft.Remedy{fillIt(void)}
	}
}

// HoleName names a hole, with its number where there are several.
func (s Shaped) HoleName(i int) string { return holeName(s, i) }

// holeName names a hole, with its number where there are several.
func holeName(s Shaped, i int) string {
	if len(s.Holes) > 1 {
		return fmt.Sprintf("%s %d", s.Handles[i].Name(), i+1)
	}
	return s.Handles[i].Name()
}

// pull is what the webs of a board must bear, and the least that they may be made of.
type pull struct {
	force   float64 // N
	weakest float64 // strength across the grain, MPa
}

// pulled is the pull on the webs of a board.
func pulled(s Shaped, c Conditions) pull {
	out := pull{max(c.Rules.Get(rule.WebForce), 3*craft.Gravity*s.Mass(c.Thickness, c.Wood)), math.Inf(1)}
	for _, p := range c.Wood.Over(s.Outline) {
		out.weakest = min(out.weakest, p.Species.Strength(90))
	}
	return out
}

// webFloor is the least width of a web by the shop's rules, mm.
func webFloor(c Conditions) float64 {
	return max(c.Rules.Get(rule.WebFloor), c.Rules.Get(rule.WebShare)*c.Thickness)
}

// clearWeb reports a web that is good even if the grain crossed it and it were
// as long as the hole; it need not be looked at closer.
func clearWeb(c Conditions, on pull, hole, other geom.Ring) bool {
	box, b := hole.Bounds(), geom.Gap(hole, other)
	longest := box.Diagonal()
	return b >= webFloor(c) && WebStress(on.force, longest, b, c.Thickness) <= clearOf*allowable*on.weakest
}

// web judges the wood between a hole and another ring, at its weakest.
func web(s Shaped, c Conditions, on pull, i int, other geom.Ring, beside string) craft.Verdict {
	hole, name := s.Holes[i], holeName(s, i)
	force := on.force
	strength := func(w geom.Web) (stress, limit float64) {
		mor, _ := stock.Strength(c.Wood.Along(w.A, w.B), w.Direction())
		return WebStress(force, w.Span, w.Width, c.Thickness), mor * allowable
	}
	webs := geom.FindWebs(hole, other, wider)
	w := webs[0]
	for _, next := range webs[1:] { // a wider one may be weaker, where the grain crosses it
		if a, b := strength(next); webs[0].Width > 0.2 {
			if c, d := strength(w); a/b > c/d {
				w = next
			}
		}
	}
	stress, limit := strength(w)
	_, weakest := stock.Strength(c.Wood.Along(w.A, w.B), w.Direction())
	angle := weakest.Angle(w.Direction())
	floor := webFloor(c)
	v := craft.Verdict{
		Check: "web", Stage: craft.Layout, Finding: "Wood between the " + name + " and " + beside,
		Reason: "A web cut too thin breaks off in the hand, most of all where the grain runs across it.",
		Mark:   &craft.Mark{AX: w.A.X, AY: w.A.Y, BX: w.B.X, BY: w.B.Y},
	}
	if !inside(hole, other) && beside == "the edge" || w.Width < 0.2 {
		v.Level, v.Finding = craft.Stop, "The "+name+" breaks through "+beside
		v.Figure = craft.Figure{
			Key:     "web.width",
			Stage:   craft.Layout,
			Label:   "Width of the web",
			Unit:    craft.MM,
			Formula: "least distance between the hole and " + beside,
			Source:  "measured on the outline",
		}
		v.Limit, v.AtLeast = floor, true
		return v
	}
	width := func(w geom.Web) craft.Term { return craft.Term{Name: "width b", Value: w.Width, Unit: craft.MM} }
	least := webs[0] // the floor is for the narrowest, whichever bears most
	if level := craft.Over(stress, clearOf*limit, limit); level != craft.Good || least.Width >= floor {
		v.Level, v.Limit = level, limit
		v.Figure = craft.Figure{
			Key: "web.stress", Stage: craft.Layout, Label: "Stress in the web", Value: stress, Unit: craft.MPa,
			Formula: "F · l / 8 ÷ (t · b² / 6), against a quarter of the strength at the grain's angle",
			Terms: []craft.Term{
				{Name: "pull F", Value: force, Unit: craft.Newton},
				{Name: "span l", Value: w.Span, Unit: craft.MM}, width(w),
				{Name: "thickness t", Value: c.Thickness, Unit: craft.MM},
				{Name: "grain to the span", Value: angle, Unit: craft.Degree},
				{Name: "allowed", Value: limit, Unit: craft.MPa},
			},
			Source: "bending of a beam held at both ends; Hankinson 1921; Wood Handbook", Rule: true,
		}
		return v
	}
	v.Level, v.Limit, v.AtLeast = craft.Mind, floor, true
	v.Mark = &craft.Mark{AX: least.A.X, AY: least.A.Y, BX: least.B.X, BY: least.B.Y}
	v.Figure = craft.Figure{
		Key: "web.width", Stage: craft.Layout, Label: "Width of the web", Value: least.Width, Unit: craft.MM,
		Formula: "least distance between the hole and " + beside + ", against the larger of the rule's floor and its " +
			"share of the thickness",
		Terms:  []craft.Term{width(least), {Name: "thickness t", Value: c.Thickness, Unit: craft.MM}},
		Source: "shop rule for wood around a hole", Rule: true,
	}
	return v
}

// inside reports whether the hole lies wholly within the outline.
func inside(hole, outline geom.Ring) bool {
	for _, p := range hole {
		if !outline.Contains(p) {
			return false
		}
	}
	return true
}

// again is the board drawn with another design, its fittings where they were.
func (s Shaped) again(d Design, c Conditions) Shaped {
	drawn := Draw(d, c.Usable)
	drawn.Slots, drawn.Bores = s.Slots, s.Bores
	return drawn
}

// webRemedies tries what a maker would: further in, smaller, thicker. Each is
// drawn and judged again, and offered only when it comes out better.
func webRemedies(s Shaped, c Conditions, hole int, was craft.Verdict) []craft.Remedy {
	better := func(d Design, c Conditions) bool {
		again := s.again(d, c)
		if hole >= len(again.Holes) {
			return false
		}
		now := web(again, c, pulled(again, c), hole, again.Outline, "the edge")
		return now.Level.Rank() < was.Level.Rank()
	}
	var out []craft.Remedy
	h := s.Handles[hole]
	try := func(label string, amount float64, unit craft.Unit, change func(*Handle)) bool {
		d := s.Design
		s.change(&d, hole, change)
		if !better(d, c) {
			return false
		}
		out = append(out, remedy(s.Design, label, amount, unit, func(d *Design) { s.change(d, hole, change) }))
		return true
	}
	name := h.Name()
	for _, in := range []float64{2, 4, 6, 8, 12, 16, 24, 32, 48} {
		if h.Setback+in < s.Design.Length/2 &&
			try("Move the "+name+" {} in", in, craft.MM, func(h *Handle) { h.Setback += in }) {
			break
		}
	}
	if h.Offset != 0 {
		try("Bring the "+name+" back to the centre line", 0, "", func(h *Handle) { h.Offset = 0 })
	}
	for _, to := range []float64{35, 30, 28, 25, 20} {
		if !h.shaped() && to < h.Diameter &&
			try("Make it {} wide", to, craft.MM, func(h *Handle) { h.Diameter = to }) {
			break
		}
	}
	for _, share := range []float64{0.9, 0.8, 0.7, 0.6, 0.5} {
		if h.shaped() &&
			try("Shrink it to {} of its size", 100*share, craft.Percent, func(h *Handle) { h.shrink(share) }) {
			break
		}
	}
	for t := math.Ceil(c.Thickness) + 1; t <= floorTo(c.Most); t++ {
		thicker := c
		thicker.Thickness = t
		if better(s.Design, thicker) {
			out = append(out, thicknessOf(s.Design, "Thicken to {}", t))
			break
		}
	}
	return out
}
