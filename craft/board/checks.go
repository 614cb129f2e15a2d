package board

import (
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/rule"
	"idletimber/craft/species"
)

// Conditions is what the checks of a shape need to know beside it.
type Conditions struct {
	Wood      species.Species
	Thickness float64     // final, mm
	Most      float64     // the thickest the slab allows, mm
	Grain     float64     // degrees between the board's length and the grain, 0 to 90
	Signed    float64     // the grain's direction in the board's frame, degrees
	Voids     []geom.Ring // in the board's frame
	VoidNames []string
	Usable    geom.Ring // for planks, in the board's frame
	Blades    []Blade
	Bits      []float64
	Rules     rule.Set

	Drums       []float64 // radii of spindles and drums, mm
	DrillTravel float64   // of the drill press, mm, 0 where it does not matter
	Router      Router
	Feet        float64   // height of feet, mm
	FootSpots   geom.Ring // where they stand, nil without feet
	Bare        bool      // levels only, without remedies
}

// Blade is something that cuts curves, with the least radius it turns.
type Blade struct {
	Name   string  `json:"name"`
	Radius float64 `json:"radius"`
}

// allowable is the share of the strength that a handle may use.
const allowable = 0.25

// least is the thickness under which there is no board to judge, mm.
const least = 1

// clearOf is the share of the allowable stress under which all is well.
const clearOf = 0.7

// Check judges the shape.
func Check(s Shaped, c Conditions) []craft.Verdict {
	out := []craft.Verdict{thickness(s, c)}
	if c.Thickness < least {
		return out
	}
	out = append(out, webs(s, c)...)
	out = append(out, neckVerdicts(s, c)...)
	out = append(out, fingers(s, c)...)
	out = append(out, bits(s, c)...)
	out = append(out, entryVerdicts(s, c)...)
	hollows := s.hollows(widest)
	out = append(out, corners(s, c, hollows)...)
	out = append(out, profiles(s, c, hollows)...)
	out = append(out, recesses(s, c)...)
	out = append(out, reach(s, c)...)
	return append(out, balance(s, c)...)
}

// CheckWhereLaid judges only what depends on where the board lies on its slab:
// its thickness, and its webs and necks in the grain and beside the voids there.
func CheckWhereLaid(s Shaped, c Conditions) []craft.Verdict {
	out := []craft.Verdict{thickness(s, c)}
	if c.Thickness < least {
		return out
	}
	return append(append(out, webs(s, c)...), neckVerdicts(s, c)...)
}

// remedy is a change of the design as a merge patch of what differs.
func remedy(d Design, label string, amount float64, unit craft.Unit, change func(*Design)) craft.Remedy {
	next := d
	change(&next)
	return craft.Remedy{Label: label, Amount: amount, Unit: unit, Patch: craft.Patch{"design": map[string]any(craft.Difference(d, next))}}
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

func thickness(s Shaped, c Conditions) craft.Verdict {
	const thin = 12
	want := s.Design.Thickness
	v := craft.Verdict{
		Check: "thickness", Stage: craft.Flatten, AtLeast: true, Limit: thin, Level: craft.Good,
		Finding: "Thick enough once it is flat and sanded",
		Reason:  "Under " + craft.Length(thin) + " a serving board cups, rings and chips at its edges.",
		Figure: craft.Figure{Key: "flatten.left", Stage: craft.Flatten, Label: "Final thickness", Value: c.Thickness, Unit: craft.MM,
			Formula: "what the thickness budget leaves, or the wanted thickness where that is less",
			Terms:   []craft.Term{{Name: "most there is", Value: c.Most, Unit: craft.MM}, {Name: "wanted", Value: want, Unit: craft.MM}},
			Source:  "thickness budget"},
	}
	switch {
	case c.Thickness < least:
		v.Level, v.Finding, v.Reason = craft.Stop, "Flattening leaves nothing of the slab", "The thinnest reading is used up by hollow, wind and clean-up."
	case want > c.Most+0.01:
		v.Level, v.Limit = craft.Stop, want
		v.Finding, v.Reason = "The slab does not hold the wanted thickness", "Flattening, filling and sanding take more than there is to spare."
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
	for i, hole := range s.Holes {
		v := web(s, c, i, s.Outline, "the edge")
		if len(s.Holes) > 1 {
			v.Subject = holeName(s, i)
		}
		for j := i + 1; j < len(s.Holes); j++ {
			between := web(s, c, i, s.Holes[j], "the "+holeName(s, j))
			between.Subject = holeName(s, i) + " and " + holeName(s, j)
			out = append(out, between)
		}
		beside := func(rings []geom.Ring, name func(int) string) {
			for k, r := range rings {
				if len(r) < 3 || hole.Bounds().Apart(r.Bounds()) > farWeb || clearWeb(s, c, hole, r) {
					continue
				}
				if near := web(s, c, i, r, "the "+name(k)); near.Figure.Value > 0 && near.Level.Rank() > 0 {
					near.Subject, near.Remedies = name(k), nil
					out = append(out, near)
				}
			}
		}
		beside(c.Voids, func(k int) string { return c.VoidNames[k] })
		rims := make([]geom.Ring, len(s.Cavities))
		for k, cavity := range s.Cavities {
			if cavity.Inner == nil || !cavity.Inner.Contains(hole[0]) {
				rims[k] = cavity.Rim
			} else {
				rims[k] = cavity.Inner
			}
		}
		beside(rims, func(k int) string { return s.Cavities[k].Name(s.Design.Recesses) })
		slots := make([]geom.Ring, len(s.Slots))
		for k, t := range s.Slots {
			slots[k] = t.Ring()
		}
		beside(slots, func(k int) string { return s.Slots[k].Name })
		if v.Level != craft.Good && !c.Bare {
			v.Remedies = webRemedies(s, c, i, v)
		}
		out = append(out, v)
	}
	return out
}

// holeName names a hole, with its number where there are several.
func holeName(s Shaped, i int) string {
	if len(s.Holes) > 1 {
		return fmt.Sprintf("%s %d", s.Handles[i].Name(), i+1)
	}
	return s.Handles[i].Name()
}

// pull is the force in N that a web must bear.
func pull(s Shaped, c Conditions) float64 {
	return max(c.Rules.Get(rule.WebForce), 3*craft.Gravity*s.Mass(c.Thickness, c.Wood.Density))
}

// webFloor is the least width of a web by the shop's rules, mm.
func webFloor(c Conditions) float64 {
	return max(c.Rules.Get(rule.WebFloor), c.Rules.Get(rule.WebShare)*c.Thickness)
}

// clearWeb reports a web that is good even if the grain crossed it and it were
// as long as the hole; it need not be looked at closer.
func clearWeb(s Shaped, c Conditions, hole, other geom.Ring) bool {
	box, b := hole.Bounds(), geom.Gap(hole, other)
	longest := math.Hypot(box.MaxX-box.MinX, box.MaxY-box.MinY)
	return b >= webFloor(c) && WebStress(pull(s, c), longest, b, c.Thickness) <= clearOf*allowable*c.Wood.Strength(90)
}

// web judges the wood between a hole and another ring, at its weakest.
func web(s Shaped, c Conditions, i int, other geom.Ring, beside string) craft.Verdict {
	hole, name := s.Holes[i], holeName(s, i)
	force := pull(s, c)
	strength := func(w geom.Web) (stress, limit float64) {
		return WebStress(force, w.Span, w.Width, c.Thickness), c.Wood.Strength(w.SpanAngle(c.Signed)) * allowable
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
	angle := w.SpanAngle(c.Signed)
	floor := webFloor(c)
	v := craft.Verdict{
		Check: "web", Stage: craft.Layout, Finding: "Wood between the " + name + " and " + beside,
		Reason: "A web cut too thin breaks off in the hand, most of all where the grain runs across it.",
		Mark:   &craft.Mark{AX: w.A.X, AY: w.A.Y, BX: w.B.X, BY: w.B.Y},
	}
	if !inside(hole, other) && beside == "the edge" || w.Width < 0.2 {
		v.Level, v.Finding = craft.Stop, "The "+name+" breaks through "+beside
		v.Figure = craft.Figure{Key: "web.width", Stage: craft.Layout, Label: "Width of the web", Unit: craft.MM, Formula: "least distance between the hole and " + beside, Source: "measured on the outline"}
		v.Limit, v.AtLeast = floor, true
		return v
	}
	width := craft.Term{Name: "width b", Value: w.Width, Unit: craft.MM}
	if level := craft.Over(stress, clearOf*limit, limit); level != craft.Good || w.Width >= floor {
		v.Level, v.Limit = level, limit
		v.Figure = craft.Figure{
			Key: "web.stress", Stage: craft.Layout, Label: "Stress in the web", Value: stress, Unit: craft.MPa,
			Formula: "F · l / 8 ÷ (t · b² / 6), against a quarter of the strength at the grain's angle",
			Terms: []craft.Term{
				{Name: "pull F", Value: force, Unit: craft.Newton}, {Name: "span l", Value: w.Span, Unit: craft.MM}, width,
				{Name: "thickness t", Value: c.Thickness, Unit: craft.MM}, {Name: "grain to the span", Value: angle, Unit: craft.Degree},
				{Name: "allowed", Value: limit, Unit: craft.MPa},
			},
			Source: "bending of a beam held at both ends; Hankinson 1921; Wood Handbook", Rule: true,
		}
		return v
	}
	v.Level, v.Limit, v.AtLeast = craft.Mind, floor, true
	v.Figure = craft.Figure{
		Key: "web.width", Stage: craft.Layout, Label: "Width of the web", Value: w.Width, Unit: craft.MM,
		Formula: "least distance between the hole and " + beside + ", against the larger of the rule's floor and its share of the thickness",
		Terms:   []craft.Term{width, {Name: "thickness t", Value: c.Thickness, Unit: craft.MM}},
		Source:  "shop rule for wood around a hole", Rule: true,
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
		return hole < len(again.Holes) && web(again, c, hole, again.Outline, "the edge").Level.Rank() < was.Level.Rank()
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
		if h.Setback+in < s.Design.Length/2 && try("Move the "+name+" {} in", in, craft.MM, func(h *Handle) { h.Setback += in }) {
			break
		}
	}
	if h.Offset != 0 {
		try("Bring the "+name+" back to the centre line", 0, "", func(h *Handle) { h.Offset = 0 })
	}
	for _, to := range []float64{35, 30, 28, 25, 20} {
		if to < h.Diameter && try("Make it {} wide", to, craft.MM, func(h *Handle) { h.Diameter = to }) {
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

// NeckStress is the bending stress in MPa at a section w wide and t thick
// (mm) when masses in kg hang at distances in mm from it, jerked by a factor.
func NeckStress(jerk, w, t float64, masses, arms []float64) float64 {
	var moment float64
	for i, m := range masses {
		moment += jerk * craft.Gravity * m * arms[i] // kg · m/s² · mm = N·mm
	}
	return moment / (w * t * t / 6)
}

// grip is how far from the end a closed hand holds a neck without a hole, mm.
const grip = 25

// section is a cut across the neck: its stress in MPa, where it lies, how wide
// it is, and what bends it.
type section struct{ stress, x, w, t, mass, arm, loadArm float64 }

// worstSection finds the section that is stressed most between the middle of
// the serving area and the hand, with the board held level by its end; ok is
// false without a handle.
func worstSection(s Shaped, c Conditions) (worst section, ok bool) {
	start := s.HandleStart()
	box := s.Outline.Bounds()
	if math.IsInf(start, 1) || start <= box.MinX || c.Thickness <= 0 {
		return worst, false
	}
	hand := box.MaxX - grip
	for _, h := range s.Holes {
		hand = min(hand, (h.Bounds().MinX+h.Bounds().MaxX)/2)
	}
	middle := (box.MinX + start) / 2
	load, jerk := c.Rules.Get(rule.HandLoad), c.Rules.Get(rule.Jerk)
	var area, moment float64
	for _, sl := range strips(box.MinX, hand) {
		w := s.widthAt(sl.mid)
		area, moment = area+w*sl.size, moment+w*sl.size*sl.mid
		if sl.mid < middle || w < 1 {
			continue
		}
		mass := area * c.Thickness * c.Wood.Density * 1e-9
		arm, loadArm := sl.mid-moment/area, sl.mid-middle
		show, under := s.slotAt(sl.mid-sl.size/2, sl.mid+sl.size/2)
		t := max(c.Thickness-show-under, 0.5)
		if stress := NeckStress(jerk, w, t, []float64{mass, load}, []float64{arm, loadArm}); stress > worst.stress {
			worst = section{stress, sl.mid, w, t, mass, arm, loadArm}
		}
	}
	return worst, worst.w > 0
}

// neckVerdicts judges the handle's worst section, and every other place where
// the outline draws in so far that it could break there.
func neckVerdicts(s Shaped, c Conditions) (out []craft.Verdict) {
	worst, ok := worstSection(s, c)
	if ok {
		out = append(out, neck(s, c, worst))
	}
	start := s.HandleStart()
	for _, w := range s.Outline.Waists(max(4, s.Outline.Perimeter()/150)) {
		mid := w.A.Lerp(w.B, 0.5)
		if ok && (mid.X > start-w.Width/2 || math.Abs(mid.X-worst.x) < w.Width) {
			continue // the handle's own
		}
		if v := waist(s, c, w); v.Figure.Value > thoughtful*v.Limit {
			out = append(out, v)
		}
		if len(out) > 4 {
			break
		}
	}
	return out
}

// thoughtful is the share of what is allowed from which a place where the
// outline draws in is spoken of.
const thoughtful = 0.35

// waist judges a place where the outline draws in, as if the smaller part were
// held and the larger, loaded, hung from it.
func waist(s Shaped, c Conditions, w geom.Waist) craft.Verdict {
	load, jerk := c.Rules.Get(rule.HandLoad), c.Rules.Get(rule.Jerk)
	across := w.B.Sub(w.A)
	normal := geom.Point{X: -across.Y, Y: across.X}.Scale(1 / max(across.Len(), 1e-9))
	off := w.Large.Centroid().Sub(w.A)
	arm := math.Abs(off.X*normal.X + off.Y*normal.Y)
	mass := w.Large.Area() * c.Thickness * c.Wood.Density * 1e-9
	stress := NeckStress(jerk, w.Width, c.Thickness, []float64{mass, load}, []float64{arm, arm})
	along := math.Atan2(normal.Y, normal.X) * 180 / math.Pi
	angle := math.Mod(math.Abs(along-c.Signed), 180)
	angle = min(angle, 180-angle)
	limit := c.Wood.Strength(angle) * allowable
	return craft.Verdict{
		Check: "waist", Subject: fmt.Sprintf("waist of %.0f", w.Width), Stage: craft.Layout, Level: craft.Over(stress, clearOf*limit, limit), Limit: limit,
		Finding: "Where the outline draws in, held by its smaller part",
		Reason:  "Wherever an outline is narrowest it breaks first, most of all where the grain runs across it. Draw it wider there, or turn the board so that the grain runs through.",
		Mark:    &craft.Mark{AX: w.A.X, AY: w.A.Y, BX: w.B.X, BY: w.B.Y},
		Figure: craft.Figure{
			Key: "waist.stress", Stage: craft.Layout, Label: "Stress where it draws in", Value: stress, Unit: craft.MPa,
			Formula: "jerk · g · (larger part + load) · its arm ÷ (w · t² / 6), against a quarter of the strength at the grain's angle",
			Terms: []craft.Term{{Name: "jerk", Value: jerk}, {Name: "larger part", Value: mass, Unit: craft.KG}, {Name: "load", Value: load, Unit: craft.KG}, {Name: "arm", Value: arm, Unit: craft.MM},
				{Name: "width w", Value: w.Width, Unit: craft.MM}, {Name: "thickness t", Value: c.Thickness, Unit: craft.MM}, {Name: "grain to the pull", Value: angle, Unit: craft.Degree}, {Name: "allowed", Value: limit, Unit: craft.MPa}},
			Source: "bending of a cantilever; Hankinson 1921; Wood Handbook", Rule: true,
		},
	}
}

// neck judges the worst section.
func neck(s Shaped, c Conditions, worst section) craft.Verdict {
	limit := c.Wood.Strength(c.Grain) * allowable
	from, to, _ := across(s.Outline, worst.x)
	v := craft.Verdict{
		Check: "neck", Stage: craft.Layout, Level: craft.Over(worst.stress, clearOf*limit, limit), Limit: limit,
		Finding: "Held level by its handle, loaded",
		Reason:  "A neck that is too slight, or crossed by the grain, snaps when the full board is picked up.",
		Mark:    &craft.Mark{AX: worst.x, AY: from, BX: worst.x, BY: to},
		Figure: craft.Figure{
			Key: "neck.stress", Stage: craft.Layout, Label: "Stress in the neck", Value: worst.stress, Unit: craft.MPa,
			Formula: "jerk · g · (board · its arm + load · its arm) ÷ (w · t² / 6), at the worst section, against a quarter of the strength at the grain's angle",
			Terms: []craft.Term{
				{Name: "jerk", Value: c.Rules.Get(rule.Jerk)}, {Name: "board beyond the section", Value: worst.mass, Unit: craft.KG}, {Name: "its arm", Value: worst.arm, Unit: craft.MM},
				{Name: "load", Value: c.Rules.Get(rule.HandLoad), Unit: craft.KG}, {Name: "its arm", Value: worst.loadArm, Unit: craft.MM},
				{Name: "width w", Value: worst.w, Unit: craft.MM}, {Name: "thickness t", Value: worst.t, Unit: craft.MM},
				{Name: "grain to the length", Value: c.Grain, Unit: craft.Degree}, {Name: "allowed", Value: limit, Unit: craft.MPa},
			},
			Source: "bending of a cantilever; Hankinson 1921; Wood Handbook", Rule: true,
		},
	}
	if v.Level != craft.Good && !c.Bare {
		v.Remedies = neckRemedies(s, c, worst, clearOf*limit)
	}
	return v
}

// neckRemedies looks for the thickness and the width of neck that bring the
// stress to the aim in MPa. A board that grows grows heavier, so that the first
// guess is tried and raised.
func neckRemedies(s Shaped, c Conditions, was section, aim float64) (out []craft.Remedy) {
	enough := func(d Design, c Conditions) bool {
		worst, ok := worstSection(s.again(d, c), c)
		return ok && worst.stress <= aim
	}
	for t := ceilTo(c.Thickness * math.Sqrt(was.stress/aim)); t <= c.Most; t++ {
		thicker := c
		thicker.Thickness = t
		if enough(s.Design, thicker) {
			out = append(out, thicknessOf(s.Design, "Thicken to {}", t))
			break
		}
	}
	if s.Design.Shape != Paddle {
		return out
	}
	d := s.Design
	for d.Neck = ceilTo(d.Neck + was.w*(was.stress/aim-1)); d.Neck <= d.Width; d.Neck += 2 {
		if enough(d, c) {
			return append(out, remedy(s.Design, "Widen the neck to {}", d.Neck, craft.MM, func(o *Design) { o.Neck = d.Neck }))
		}
	}
	return out
}
