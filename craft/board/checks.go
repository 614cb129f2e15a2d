package board

import (
	"fmt"
	"math"

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
	if v, ok := neck(s, c); ok {
		out = append(out, v)
	}
	if v, ok := fingers(s); ok {
		out = append(out, v)
	}
	if v, ok := bits(s, c); ok {
		out = append(out, v)
	}
	if v, ok := shoulder(s, c); ok {
		out = append(out, v)
	}
	if v, ok := profile(s, c); ok {
		out = append(out, v)
	}
	return out
}

func patch(key string, value any) craft.Patch {
	return craft.Patch{"design": map[string]any{key: value}}
}

func handlePatch(key string, value any) craft.Patch {
	return patch("handle", map[string]any{key: value})
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
			v.Remedies = []craft.Remedy{{Label: "Take the thickness down to {}", Amount: floorTo(c.Most), Unit: craft.MM, Patch: patch("thickness", floorTo(c.Most))}}
		}
	case c.Thickness < thin:
		v.Level, v.Finding = craft.Mind, "Thin for a board"
		if floorTo(c.Most) >= thin {
			v.Remedies = []craft.Remedy{{Label: "Thicken to {}", Amount: thin, Unit: craft.MM, Patch: patch("thickness", float64(thin))}}
		}
	}
	return v
}

// WebStress is the bending stress in MPa in a web of width b, span l and
// thickness t (mm) pulled with force newtons: a beam held at both ends.
func WebStress(force, l, b, t float64) float64 { return force * l / 8 / (t * b * b / 6) }

// farWeb is how far off a void weakens no web, mm.
const farWeb = 60

// webs judges the wood between each hole and whatever lies nearest to it: the
// outline, another hole, or a void.
func webs(s Shaped, c Conditions) []craft.Verdict {
	var out []craft.Verdict
	for i, hole := range s.Holes {
		v := web(s, c, hole, s.Outline, "the edge")
		for j := i + 1; j < len(s.Holes); j++ {
			out = append(out, web(s, c, hole, s.Holes[j], "the next hole"))
		}
		for k, void := range c.Voids {
			if hole.Bounds().Apart(void.Bounds()) > farWeb || clearWeb(s, c, hole, void) {
				continue
			}
			if near := web(s, c, hole, void, "the "+c.VoidNames[k]); near.Figure.Value > 0 && near.Level.Rank() > 0 {
				near.Subject, near.Remedies = c.VoidNames[k], nil
				out = append(out, near)
			}
		}
		if v.Level != craft.Good {
			v.Remedies = webRemedies(s, c, i, v)
		}
		out = append(out, v)
	}
	return out
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

func web(s Shaped, c Conditions, hole, other geom.Ring, beside string) craft.Verdict {
	w := geom.FindWeb(hole, other)
	force := pull(s, c)
	angle := w.SpanAngle(c.Signed)
	limit := c.Wood.Strength(angle) * allowable
	floor := webFloor(c)
	v := craft.Verdict{
		Check: "web", Stage: craft.Layout, Finding: "Wood between the " + s.Design.Handle.Kind + " and " + beside,
		Reason: "A web cut too thin breaks off in the hand, most of all where the grain runs across it.",
		Mark:   &craft.Mark{AX: w.A.X, AY: w.A.Y, BX: w.B.X, BY: w.B.Y},
	}
	if !inside(hole, other) && beside == "the edge" || w.Width < 0.2 {
		v.Level, v.Finding = craft.Stop, "The "+s.Design.Handle.Kind+" breaks through "+beside
		v.Figure = craft.Figure{Key: "web.width", Stage: craft.Layout, Label: "Width of the web", Unit: craft.MM, Formula: "least distance between the hole and " + beside, Source: "measured on the outline"}
		v.Limit, v.AtLeast = floor, true
		return v
	}
	stress := WebStress(force, w.Span, w.Width, c.Thickness)
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

// webRemedies tries what a maker would: further in, smaller, thicker. Each is
// drawn and judged again, and offered only when it comes out better.
func webRemedies(s Shaped, c Conditions, hole int, was craft.Verdict) []craft.Remedy {
	judge := func(d Design, c Conditions) craft.Level {
		again := Draw(d, c.Usable)
		if hole >= len(again.Holes) {
			return craft.Stop
		}
		return web(again, c, again.Holes[hole], again.Outline, "the edge").Level
	}
	better := func(l craft.Level) bool { return l.Rank() < was.Level.Rank() }
	var out []craft.Remedy
	h := s.Design.Handle
	for _, in := range []float64{2, 4, 6, 8, 12, 16, 24, 32, 48} {
		d := s.Design
		d.Handle.Setback = h.Setback + in
		if d.Handle.Setback < d.Length/2 && better(judge(d, c)) {
			out = append(out, craft.Remedy{Label: "Move the " + h.Kind + " {} in", Amount: in, Unit: craft.MM, Patch: handlePatch("setback", d.Handle.Setback)})
			break
		}
	}
	if h.Offset != 0 {
		d := s.Design
		d.Handle.Offset = 0
		if better(judge(d, c)) {
			out = append(out, craft.Remedy{Label: "Bring the " + h.Kind + " back to the centre line", Patch: handlePatch("offset", 0.0)})
		}
	}
	for _, to := range []float64{35, 30, 28, 25, 20} {
		d := s.Design
		d.Handle.Diameter = to
		if to < h.Diameter && better(judge(d, c)) {
			out = append(out, craft.Remedy{Label: "Make it {} wide", Amount: to, Unit: craft.MM, Patch: handlePatch("diameter", to)})
			break
		}
	}
	for t := math.Ceil(c.Thickness) + 1; t <= floorTo(c.Most); t++ {
		thicker := c
		thicker.Thickness = t
		if better(judge(s.Design, thicker)) {
			out = append(out, craft.Remedy{Label: "Thicken to {}", Amount: t, Unit: craft.MM, Patch: patch("thickness", t)})
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
type section struct{ stress, x, w, mass, arm, loadArm float64 }

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
		if stress := NeckStress(jerk, w, c.Thickness, []float64{mass, load}, []float64{arm, loadArm}); stress > worst.stress {
			worst = section{stress, sl.mid, w, mass, arm, loadArm}
		}
	}
	return worst, worst.w > 0
}

// neck judges the worst section.
func neck(s Shaped, c Conditions) (craft.Verdict, bool) {
	worst, ok := worstSection(s, c)
	if !ok {
		return craft.Verdict{}, false
	}
	limit := c.Wood.Strength(c.Grain) * allowable
	v := craft.Verdict{
		Check: "neck", Stage: craft.Layout, Level: craft.Over(worst.stress, clearOf*limit, limit), Limit: limit,
		Finding: "Held level by its handle, loaded",
		Reason:  "A neck that is too slight, or crossed by the grain, snaps when the full board is picked up.",
		Mark:    &craft.Mark{AX: worst.x, AY: -worst.w / 2, BX: worst.x, BY: worst.w / 2},
		Figure: craft.Figure{
			Key: "neck.stress", Stage: craft.Layout, Label: "Stress in the neck", Value: worst.stress, Unit: craft.MPa,
			Formula: "jerk · g · (board · its arm + load · its arm) ÷ (w · t² / 6), at the worst section, against a quarter of the strength at the grain's angle",
			Terms: []craft.Term{
				{Name: "jerk", Value: c.Rules.Get(rule.Jerk)}, {Name: "board beyond the section", Value: worst.mass, Unit: craft.KG}, {Name: "its arm", Value: worst.arm, Unit: craft.MM},
				{Name: "load", Value: c.Rules.Get(rule.HandLoad), Unit: craft.KG}, {Name: "its arm", Value: worst.loadArm, Unit: craft.MM},
				{Name: "width w", Value: worst.w, Unit: craft.MM}, {Name: "thickness t", Value: c.Thickness, Unit: craft.MM},
				{Name: "grain to the length", Value: c.Grain, Unit: craft.Degree}, {Name: "allowed", Value: limit, Unit: craft.MPa},
			},
			Source: "bending of a cantilever; Hankinson 1921; Wood Handbook", Rule: true,
		},
	}
	if v.Level != craft.Good {
		v.Remedies = neckRemedies(s, c, worst, clearOf*limit)
	}
	return v, true
}

// neckRemedies looks for the thickness and the width of neck that bring the
// stress to the aim in MPa. A board that grows grows heavier, so that the first
// guess is tried and raised.
func neckRemedies(s Shaped, c Conditions, was section, aim float64) (out []craft.Remedy) {
	enough := func(d Design, c Conditions) bool {
		worst, ok := worstSection(Draw(d, c.Usable), c)
		return ok && worst.stress <= aim
	}
	for t := ceilTo(c.Thickness * math.Sqrt(was.stress/aim)); t <= c.Most; t++ {
		thicker := c
		thicker.Thickness = t
		if enough(s.Design, thicker) {
			out = append(out, craft.Remedy{Label: "Thicken to {}", Amount: t, Unit: craft.MM, Patch: patch("thickness", t)})
			break
		}
	}
	if s.Design.Shape != Paddle {
		return out
	}
	d := s.Design
	for d.Neck = ceilTo(d.Neck + was.w*(was.stress/aim-1)); d.Neck <= d.Width; d.Neck += 2 {
		if enough(d, c) {
			return append(out, craft.Remedy{Label: "Widen the neck to {}", Amount: d.Neck, Unit: craft.MM, Patch: patch("neck", d.Neck)})
		}
	}
	return out
}

// Room for fingers, mm.
const (
	slotLength, slotWidth = 85.0, 28.0 // four
	holeWidth             = 25.0       // one or two
)

func fingers(s Shaped) (craft.Verdict, bool) {
	h, neck := s.Design.Handle, s.Design.Neck
	v := craft.Verdict{Check: "fingers", Stage: craft.Shape, Level: craft.Good, AtLeast: true, Reason: "A hand that does not fit lets go."}
	v.Figure = craft.Figure{Key: "handle.room", Stage: craft.Shape, Unit: craft.MM, Formula: "measured on the design",
		Source: "rule of the trade: a slot of {28} × {85} for four fingers, a hole of {25} for one or two", Rule: true}
	measured := func(label string, value, limit float64) {
		v.Figure.Label, v.Figure.Value, v.Limit = label, value, limit
	}
	switch h.Kind {
	case "slot":
		v.Finding = "Room for four fingers in the slot"
		measured("Length of the slot", h.Length, slotLength)
		if h.Length >= slotLength && h.Diameter < slotWidth {
			measured("Width of the slot", h.Diameter, slotWidth)
		}
		if h.Length < slotLength || h.Diameter < slotWidth {
			long, wide := max(h.Length, slotLength), max(h.Diameter, slotWidth)
			v.Level, v.Finding = craft.Mind, "Too little room for four fingers in the slot"
			v.Remedies = []craft.Remedy{{Label: "Open the slot to " + craft.Length(long) + " × " + craft.Length(wide), Patch: patch("handle", map[string]any{"length": long, "diameter": wide})}}
		}
	case "hole":
		v.Finding = "Room for a finger or two in the hole"
		measured("Diameter of the hole", h.Diameter, holeWidth)
		switch onNeck := s.Design.Shape == Paddle; {
		case h.Diameter < holeWidth:
			v.Level, v.Finding = craft.Mind, "Too little room for a finger in the hole"
			change := map[string]any{"handle": map[string]any{"diameter": holeWidth}}
			label := "Bore the hole {}"
			if onNeck && neck < 2*holeWidth {
				change["neck"] = 2 * holeWidth
				label += " and widen the neck to " + craft.Length(2*holeWidth)
			}
			v.Remedies = []craft.Remedy{{Label: label, Amount: holeWidth, Unit: craft.MM, Patch: craft.Patch{"design": change}}}
		case onNeck && h.Diameter > neck/2:
			v.Level, v.AtLeast = craft.Mind, false
			v.Finding, v.Reason = "The hole takes more than half of the neck", "What is left at each side is too slight to hang a board from."
			measured("Diameter of the hole", h.Diameter, neck/2)
			v.Remedies = []craft.Remedy{{Label: "Widen the neck to {}", Amount: 2 * h.Diameter, Unit: craft.MM, Patch: patch("neck", 2*h.Diameter)}}
		}
	default:
		return v, false
	}
	return v, true
}

// bits judges whether a bit of the handle's diameter is owned.
func bits(s Shaped, c Conditions) (craft.Verdict, bool) {
	h := s.Design.Handle
	if h.Kind == "none" || len(c.Bits) == 0 {
		return craft.Verdict{}, false
	}
	nearest := c.Bits[0]
	for _, b := range c.Bits {
		if math.Abs(b-h.Diameter) < math.Abs(nearest-h.Diameter) {
			nearest = b
		}
	}
	v := craft.Verdict{
		Check: "bit", Stage: craft.Shape, Level: craft.Good, Finding: "A bit of that size is in the drawer", Limit: 0.3,
		Reason: "A hole between sizes has to be filed or routed to its line.",
		Figure: craft.Figure{Key: "handle.bit", Stage: craft.Shape, Label: "Off the nearest bit", Value: math.Abs(nearest - h.Diameter), Unit: craft.MM,
			Formula: "handle's diameter − nearest bit owned", Terms: []craft.Term{{Name: "diameter", Value: h.Diameter, Unit: craft.MM}, {Name: "nearest bit", Value: nearest, Unit: craft.MM}},
			Source: "the shop's bits"},
	}
	if v.Figure.Value > v.Limit {
		v.Level, v.Finding = craft.Mind, "No bit of that size in the shop"
		v.Remedies = []craft.Remedy{{Label: "Use the {} bit", Amount: nearest, Unit: craft.MM, Patch: handlePatch("diameter", nearest)}}
	}
	return v, true
}

func shoulder(s Shaped, c Conditions) (craft.Verdict, bool) {
	if s.Design.Shape != Paddle || len(c.Blades) == 0 {
		return craft.Verdict{}, false
	}
	tightest := c.Blades[0]
	for _, b := range c.Blades {
		if b.Radius < tightest.Radius {
			tightest = b
		}
	}
	v := craft.Verdict{
		Check: "inside-corner", Stage: craft.Shape, Level: craft.Good, AtLeast: true, Limit: tightest.Radius,
		Finding: "The hollow at the shoulder can be sawn",
		Reason:  "A blade that cannot turn as tight as the line burns, wanders or binds. Way round: overlapping drilled holes and a file.",
		Figure: craft.Figure{Key: "shoulder.radius", Stage: craft.Shape, Label: "Radius of the shoulder", Value: s.Design.Shoulder, Unit: craft.MM,
			Formula: "against the tightest turn of the blades owned", Terms: []craft.Term{{Name: tightest.Name, Value: tightest.Radius, Unit: craft.MM}}, Source: "least radius by blade width", Rule: true},
	}
	if s.Design.Shoulder < tightest.Radius {
		v.Level, v.Finding = craft.Mind, "No blade in the shop turns as tight as the shoulder"
		v.Remedies = []craft.Remedy{{Label: "Open the shoulder to {}", Amount: tightest.Radius, Unit: craft.MM, Patch: patch("shoulder", tightest.Radius)}}
	}
	return v, true
}

func profile(s Shaped, c Conditions) (craft.Verdict, bool) {
	e := s.Design.Edge
	if e.Kind == "none" || e.Size == 0 {
		return craft.Verdict{}, false
	}
	const flat = 3
	left := c.Thickness - 2*e.Size
	v := craft.Verdict{
		Check: "edge", Stage: craft.Shape, Level: craft.Under(left, flat, 0), AtLeast: true, Limit: flat,
		Finding: fmt.Sprintf("Flat left between the two %ss", noun(e.Kind)),
		Reason:  "Without a flat the bearing has nothing to run on and the edge comes out sharp.",
		Figure: craft.Figure{Key: "edge.flat", Stage: craft.Shape, Label: "Flat left on the edge", Value: left, Unit: craft.MM,
			Formula: "final thickness − 2 × size", Terms: []craft.Term{{Name: "final thickness", Value: c.Thickness, Unit: craft.MM}, {Name: "size", Value: e.Size, Unit: craft.MM}},
			Source: "rule of the trade: a flat of " + craft.Length(flat) + ", or a full bullnose", Rule: true},
	}
	if e.Kind == "round-over" && math.Abs(e.Size-c.Thickness/2) <= 0.25 {
		v.Level, v.Finding = craft.Good, "A full bullnose"
	}
	if v.Level != craft.Good {
		if fit := floorTo((c.Thickness - flat) / 2); fit > 0 {
			v.Remedies = []craft.Remedy{{Label: "Take the edge down to {}", Amount: fit, Unit: craft.MM, Patch: patch("edge", map[string]any{"size": fit})}}
		}
	}
	return v, true
}

func noun(kind string) string {
	if kind == "eased" {
		return "eased corner"
	}
	return kind
}
