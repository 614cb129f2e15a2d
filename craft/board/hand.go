package board

import (
	"cmp"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// Room for fingers, mm.
const (
	holeWidth           = 25.0      // one or two
	twoFingers          = 45.0      // the length of a slot for two
	bevelHigh, bevelLow = 12.0, 9.0 // under a finger bevel: good from, stop below
	hangingMost         = 20.0      // a hole that is smaller may be for a peg alone
)

// Hand is the maker's hand, mm; 0 for a usual one.
type Hand struct {
	Breadth float64 `json:"breadth,omitempty" mm:"0,150" doc:"Across four fingers; 0 for the usual"`
	Thick   float64 `json:"thick,omitempty" mm:"0,60" doc:"Of the fingers at their thickest; 0 for the usual"`
}

// What a slot gives a hand beyond its breadth and its thickness, and a usual hand, mm
// (rules).
const (
	besideHand, overHand     = 10, 8
	usualBreadth, usualThick = 75, 20
)

// Slot is the slot that four fingers of the hand want, mm.
func (h Hand) Slot() (length, width float64) {
	return cmp.Or(h.Breadth, usualBreadth) + besideHand, cmp.Or(h.Thick, usualThick) + overHand
}

// fingers judges the room for the hand at every handle.
func fingers(s Shaped, c Conditions) (out []craft.Verdict) {
	for i, h := range s.Handles {
		switch h.Kind {
		case Slotted:
			out = append(out, fourFingers(s, c.Hand, i))
		case Hole, HeartCut, DropCut, OwnHole:
			out = append(out, oneFinger(s, i))
		}
	}
	if h, ok := s.Design.bevel(); ok {
		out = append(out, underBevel(s, c, h))
	}
	return out
}

func room(finding, label string, value, limit float64) craft.Verdict {
	return craft.Verdict{
		Check: "fingers", Stage: craft.Shape, Level: craft.Good, AtLeast: true, Limit: limit, Finding: finding,
		Reason: "A hand that does not fit lets go.",
		Figure: craft.Figure{
			Key:     "handle.room",
			Stage:   craft.Shape,
			Label:   label,
			Value:   value,
			Unit:    craft.MM,
			Formula: "measured on the design",
			Source:  "rule of the trade: a hole of {25} for one or two fingers",
			Rule:    true,
		},
	}
}

func fourFingers(s Shaped, hand Hand, i int) craft.Verdict {
	h := s.Handles[i]
	slotLength, slotWidth := hand.Slot()
	v := room("Room for four fingers in the slot", "Length of the slot", h.Length, slotLength)
	v.Figure.Source = "rule of the trade: a slot {10} longer than a hand is broad, {8} wider than its fingers; " +
		craft.Length(twoFingers) + " for two"
	if len(s.Holes) > 1 {
		v.Subject = holeName(s, i)
	}
	if h.Length >= slotLength && h.Diameter < slotWidth {
		v.Figure.Label, v.Figure.Value, v.Limit = "Width of the slot", h.Diameter, slotWidth
	}
	if h.Length < slotLength || h.Diameter < slotWidth {
		long, wide := max(h.Length, slotLength), max(h.Diameter, slotWidth)
		v.Level, v.Finding = craft.Mind, "Too little room for four fingers in the slot"
		if h.Length >= twoFingers && h.Diameter >= slotWidth {
			v.Finding = "Room for two fingers in the slot, not for four"
		}
		v.Remedies = []craft.Remedy{
			remedy(s.Design, "Open the slot to "+craft.Length(long)+" × "+craft.Length(wide), 0, "", func(d *Design) {
				s.change(d, i, func(h *Handle) { h.Length, h.Diameter = long, wide })
			}),
		}
	}
	return v
}

func oneFinger(s Shaped, i int) craft.Verdict {
	h, neck := s.Handles[i], s.Design.Neck
	name := h.Name()
	wide := h.Diameter
	if h.Kind != Hole {
		_, r := s.Holes[i].Inscribed()
		wide = 2 * r
	}
	v := room("Room for a finger or two in the "+name, "Widest round inside the "+name, wide, holeWidth)
	if h.Kind == Hole {
		v.Figure.Label = "Diameter of the hole"
	}
	if len(s.Holes) > 1 {
		v.Subject = holeName(s, i)
	}
	onNeck := s.Design.Shape == Paddle && i == 0
	switch {
	case wide < holeWidth:
		v.Level, v.Finding = craft.Mind, "Too little room for a finger in the "+name
		if h.Kind == OwnHole {
			return v
		}
		to := holeWidth
		label := "Bore the hole {}"
		if h.Kind != Hole {
			to, label = math.Ceil(h.Diameter*holeWidth/wide), "Make it {} wide"
		}
		if onNeck && neck < 2*to {
			label += " and widen the neck to " + craft.Length(2*to)
		}
		wider := func(in float64) func(d *Design) {
			return func(d *Design) {
				s.change(d, i, func(h *Handle) {
					h.Length *= to / h.Diameter
					h.Diameter, h.Setback = to, h.Setback+in
				})
				if onNeck {
					d.Neck = max(d.Neck, 2*to)
				}
			}
		}
		v.Remedies = []craft.Remedy{remedy(s.Design, label, to, craft.MM, wider(0))}
		if in := math.Ceil((to - h.Diameter) / 2); in > 0 { // the wood beyond it stays as wide as it was
			v.Remedies = append(v.Remedies,
				remedy(s.Design, label+", "+craft.Length(in)+" farther in", to, craft.MM, wider(in)))
		}
		if h.Kind == Hole && wide < hangingMost {
			v.Remedies = append(v.Remedies, remedy(s.Design, "It is only hung by it: make it a cord hole", 0, "",
				func(d *Design) { s.change(d, i, func(h *Handle) { h.Kind = CordHole }) }))
		}
	case onNeck && h.Diameter > neck/2:
		v.Level, v.AtLeast = craft.Mind, false
		v.Finding, v.Reason = "The hole takes more than half of the neck",
			"What is left at each side is too slight to hang a board from."
		v.Figure.Label, v.Figure.Value, v.Limit = "Diameter of the hole", h.Diameter, neck/2
		v.Remedies = []craft.Remedy{
			remedy(
				s.Design,
				"Widen the neck to {}",
				2*h.Diameter,
				craft.MM,
				func(d *Design) { d.Neck = 2 * h.Diameter },
			),
		}
	}
	return v
}

// UnderBevel is how high the fingers get under a finger bevel, and how deep it
// runs in, mm; angle from upright, degrees. Bevels on both faces share the
// height.
func UnderBevel(t, flat, angle float64, both bool) (high, deep float64) {
	high = max(0, t-flat)
	deep = high * math.Tan(angle*math.Pi/180)
	if both {
		high, deep = high/2, deep/2
	}
	return high, deep
}

// changeBevel changes the finger bevel of a design.
func changeBevel(f func(*Handle)) func(*Design) {
	return func(d *Design) {
		if d.Handle.Kind == Bevel {
			f(&d.Handle)
			return
		}
		for i := range d.More {
			if d.More[i].Kind == Bevel {
				d.More = slices.Clone(d.More)
				f(&d.More[i])
				return
			}
		}
	}
}

func underBevel(s Shaped, c Conditions, h Handle) craft.Verdict {
	high, deep := UnderBevel(c.Thickness, h.Flat, h.Angle, h.Both)
	v := craft.Verdict{
		Check: "bevel", Stage: craft.Shape, Level: craft.Under(high+c.Feet, bevelHigh, bevelLow), AtLeast: true,
		Limit: bevelHigh, Finding: "Room for fingers under the bevel",
		Reason: "Fingertips that do not get under a board cannot lift it off the table.",
		Figure: craft.Figure{
			Key:     "handle.bevel",
			Stage:   craft.Shape,
			Label:   "Room under the bevel",
			Value:   high + c.Feet,
			Unit:    craft.MM,
			Formula: "thickness − flat (half of it where both faces are bevelled) + height of the feet",
			Terms: []craft.Term{
				{Name: "thickness", Value: c.Thickness, Unit: craft.MM},
				{Name: "flat left", Value: h.Flat, Unit: craft.MM},
				{Name: "runs in by", Value: deep, Unit: craft.MM},
				{Name: "feet", Value: c.Feet, Unit: craft.MM},
			},
			Source: "rule of the trade",
			Rule:   true,
		},
	}
	if v.Level == craft.Good {
		return v
	}
	v.Finding = "Too little room for fingers under the bevel"
	if h.Both {
		v.Remedies = append(
			v.Remedies,
			remedy(s.Design, "Bevel the under face only", 0, "", changeBevel(func(h *Handle) { h.Both = false })),
		)
	}
	need := bevelHigh - c.Feet
	if h.Both {
		need *= 2
	}
	if to := floorTo(c.Thickness - need); to >= flat && to < h.Flat {
		v.Remedies = append(
			v.Remedies,
			remedy(s.Design, "Leave only {} standing", to, craft.MM, changeBevel(func(h *Handle) { h.Flat = to })),
		)
	}
	if to := ceilTo(h.Flat + need); to > c.Thickness && to <= floorTo(c.Most) {
		v.Remedies = append(v.Remedies, thicknessOf(s.Design, "Thicken to {}", to))
	}
	return v
}

// nearestBit is the bit owned that is nearest to a diameter, mm.
func nearestBit(bits []float64, to float64) float64 {
	return slices.MinFunc(bits, func(a, b float64) int { return cmp.Compare(math.Abs(a-to), math.Abs(b-to)) })
}

// bits judges whether a bit of each bored hole's diameter is owned, those of fittings
// too: of what an arm turns in, not of what a screw is driven through.
func bits(s Shaped, c Conditions) (out []craft.Verdict) {
	bores := c.Tools.Bores()
	if len(bores) == 0 {
		return nil
	}
	judge := func(subject string, diameter float64) *craft.Verdict {
		nearest := nearestBit(bores, diameter)
		v := craft.Verdict{
			Check: "bit", Subject: subject, Stage: craft.Shape, Level: craft.Good,
			Finding: "A bit of that size is in the drawer",
			Limit:   tool.SameWithin,
			Reason:  "A hole between sizes has to be filed or routed to its line.",
			Figure: craft.Figure{
				Key:     "handle.bit",
				Stage:   craft.Shape,
				Label:   "Off the nearest bit",
				Value:   math.Abs(nearest - diameter),
				Unit:    craft.MM,
				Formula: "diameter − nearest bit owned",
				Terms: []craft.Term{
					{Name: "diameter", Value: diameter, Unit: craft.Bit},
					{Name: "nearest bit", Value: nearest, Unit: craft.Bit},
				},
				Source: "the shop's bits",
			},
		}
		if v.Level = craft.Over(v.Figure.Value, v.Limit, math.Inf(1)); v.Level != craft.Good {
			v.Finding = "No bit of that size in the shop"
		}
		out = append(out, v)
		return &out[len(out)-1]
	}
	for i, h := range s.Handles {
		if h.Kind != Hole && h.Kind != Slotted && h.Kind != CordHole {
			continue
		}
		subject := ""
		if len(s.Holes) > 1 {
			subject = holeName(s, i)
		}
		if v := judge(subject, h.Diameter); v.Level != craft.Good {
			nearest := nearestBit(bores, h.Diameter)
			use := func(bit float64) {
				v.Remedies = append(v.Remedies, remedy(s.Design, "Use the {} bit", bit, craft.Bit,
					func(d *Design) { s.change(d, i, func(h *Handle) { h.Diameter = bit }) }))
			}
			use(nearest)
			smaller := slices.DeleteFunc(slices.Clone(bores), func(b float64) bool { return b >= h.Diameter })
			if len(smaller) > 0 && slices.Max(smaller) != nearest { // where the larger one takes too much
				use(slices.Max(smaller))
			}
		}
	}
	for _, b := range s.Bores {
		if b.Side() {
			judge(b.Name, b.Diameter)
		}
	}
	return out
}

// Balance is where a board of some wood weighs: its centre of mass in its own
// frame.
func (s Shaped) Balance(wood stock.Grain) geom.Point {
	var sum geom.Point
	var area, density float64
	add := func(r geom.Ring, weight float64) {
		for _, p := range wood.Over(r) {
			density = cmp.Or(density, p.Species.Density)
			a := p.Area() * weight * (p.Species.Density / density)
			sum, area = sum.Add(p.Ring.Centroid().Scale(a)), area+a
		}
	}
	if len(s.Outline) < 3 {
		return geom.Point{}
	}
	add(s.Outline, 1)
	for _, h := range s.Holes {
		add(h, -1)
	}
	if area <= 0 {
		return geom.Point{}
	}
	return sum.Scale(1 / area)
}

// press is the load at the outermost food point that must not tip a board, kg.
const press = 1

// balance judges how the board stands and how it hangs.
func balance(s Shaped, c Conditions) (out []craft.Verdict) {
	if v, ok := tips(s, c); ok {
		out = append(out, v)
	}
	for i, h := range s.Handles {
		if v, ok := hangs(s, c, i, h); ok {
			out = append(out, v)
			break
		}
	}
	return out
}

// base is what the board stands on: its feet, or what a finger bevel leaves of
// its under face.
func base(s Shaped, c Conditions) geom.Ring {
	if len(c.FootSpots) > 2 {
		return c.FootSpots
	}
	h, ok := s.Design.bevel()
	if !ok {
		return nil
	}
	_, deep := UnderBevel(c.Thickness, h.Flat, h.Angle, h.Both)
	box := s.Outline.Bounds()
	switch h.Where {
	case "ends":
		box.MinX, box.MaxX = box.MinX+deep, box.MaxX-deep
		return geom.Clip(s.Outline, box.Ring())
	case "sides":
		box.MinY, box.MaxY = box.MinY+deep, box.MaxY-deep
		return geom.Clip(s.Outline, box.Ring())
	}
	return s.Outline.Shrunk(deep)
}

// tips judges whether a press on the food farthest out lifts the other side of
// the board off its feet, or off the flat within a finger bevel.
func tips(s Shaped, c Conditions) (craft.Verdict, bool) {
	stand := base(s, c)
	if len(stand) < 3 {
		return craft.Verdict{}, false
	}
	start := s.HandleStart()
	balance, mass := s.Balance(c.Wood), s.Mass(c.Thickness, c.Wood)
	least := math.Inf(1)
	var at geom.Point
	for i := range stand { // about every side of what it stands on
		a, b := stand.Edge(i)
		d := b.Sub(a)
		l := d.Len()
		if l < 1e-6 {
			continue
		}
		sign := 1.0
		if stand.SignedArea() < 0 {
			sign = -1
		}
		inside := func(p geom.Point) float64 { return sign * (d.X*(p.Y-a.Y) - d.Y*(p.X-a.X)) / l }
		hold := mass * inside(balance)
		for _, p := range s.Outline {
			if p.X > start {
				continue // not food but handle
			}
			if out := -inside(p); out > 0.5 && hold/out < least {
				least, at = hold/out, p
			}
		}
	}
	if math.IsInf(least, 1) {
		return craft.Verdict{}, false
	}
	v := craft.Verdict{
		Check: "tips", Stage: craft.Shape, Level: craft.Under(least, press, -1), AtLeast: true, Limit: press,
		Finding: "It stands firm when pressed at its rim",
		Reason:  "A board that tips spills what is on it: set the feet farther out, or bevel less deep.",
		Figure: craft.Figure{
			Key:   "stand.press",
			Stage: craft.Shape,
			Label: "Tips under a press of",
			Value: max(0, least),
			Unit:  craft.KG,
			Formula: "mass × its distance inside the line that it tips over ÷ the press's distance outside, at the " +
				"worst place",
			Terms: []craft.Term{
				{Name: "mass", Value: mass, Unit: craft.KG},
			},
			Source: "balance of moments; rule of the trade: {1 kg} at the outermost food",
			Rule:   true,
		},
		Mark: around(at),
	}
	if v.Level != craft.Good {
		v.Finding = "It tips when pressed at its rim"
	}
	return v, true
}

// straight is by how many degrees a hung board may lean.
const straight = 5

// hangs judges whether a board hung from its hole hangs straight.
func hangs(s Shaped, c Conditions, i int, h Handle) (craft.Verdict, bool) {
	if h.Kind != Hole && h.Kind != CordHole && h.Kind != DropCut && h.Kind != HeartCut || h.Far {
		return craft.Verdict{}, false
	}
	mass := s.Balance(c.Wood)
	// It hangs where its balance point is lowest: from the place of the rim that is
	// farthest from it. Of a round hole that lies in line with the centre.
	from := slices.MaxFunc(s.Holes[i], func(a, b geom.Point) int {
		return cmp.Compare(a.Sub(mass).Len(), b.Sub(mass).Len())
	})
	if h.bored() {
		from = s.Holes[i].Centroid()
	}
	down := from.Sub(mass)
	lean := math.Abs(math.Atan2(down.Y, down.X)) * 180 / math.Pi
	limit := straight * c.stray()
	v := craft.Verdict{
		Check: "hangs", Stage: craft.Shape, Level: craft.Over(lean, limit, 180), Limit: limit,
		Finding: "It hangs straight from its hole", Reason: "A board that hangs askew looks like a mistake.",
		Figure: craft.Figure{
			Key:     "hang.lean",
			Stage:   craft.Shape,
			Label:   "Hangs askew by",
			Value:   lean,
			Unit:    craft.Degree,
			Formula: "angle between the board's length and the line from where it hangs to its balance point",
			Terms: []craft.Term{
				{Name: "where it hangs, off the centre line", Value: from.Y, Unit: craft.MM},
				{Name: "balance point off it", Value: mass.Y, Unit: craft.MM},
			},
			Source: "balance of moments",
		},
	}
	if v.Level == craft.Good {
		return v, true
	}
	v.Finding = "It hangs askew from its hole"
	was := v.Level
	v.Offer(func() []craft.Remedy {
		judge := func(again Shaped) craft.Level {
			if i >= len(again.Holes) {
				return craft.Stop
			}
			next, _ := hangs(again, c, i, again.Handles[i])
			return next.Level
		}
		var tries []attempt
		to := math.Round((mass.Y+h.Offset-from.Y)*2) / 2
		for k := range 12 { // about where its balance is now, which moves with the hole
			for _, off := range []float64{float64(k) / 2, -float64(k) / 2} {
				tries = append(tries, attempt{"Set the hole {} off the centre line", to + off, craft.MM,
					func(d *Design) { s.change(d, i, func(h *Handle) { h.Offset = to + off }) }})
			}
		}
		return s.first(c, was, judge, tries...)
	})
	return v, true
}
