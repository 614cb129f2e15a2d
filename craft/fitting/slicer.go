package fitting

import (
	"fmt"
	"math"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
)

// clearance is what the wire must have under it at both ends of its slot, mm.
const clearance = 1

// Tilt is a slicer's slot: its depth at the side of the bore, at the far side,
// and the shim under the far side of the board that tilts it so while it is
// cut, mm. The slot goes as deep as the bore does, and the wire, which leaves the arm
// at the bore's middle, lies clear by 1 mm at both ends.
func Tilt(below, bore, wire float64) (near, far, shim float64) {
	near = below + max(bore/2, wire/2+clearance)
	far = wire + clearance
	return near, far, max(0, near-far)
}

// tilt is the slot with the maker's own shim, where there is one.
func (s Slicer) tilt() (near, far, shim float64) {
	near, far, shim = Tilt(s.Below, s.Bore, s.Wire)
	if s.Near > 0 {
		near, shim = s.Near, max(0, s.Near-far)
	}
	if s.Shim > 0 {
		far, shim = near-s.Shim, s.Shim
	}
	return near, far, shim
}

// slot is where along the board its slot lies.
func (s Slicer) slot(box geom.Bounds) float64 {
	if s.FromHandle {
		return box.MaxX - s.From
	}
	return box.MinX + s.From
}

// end is the end that it is measured from.
func (s Slicer) end() string {
	if s.FromHandle {
		return handleEnd
	}
	return farEnd
}

// hand is the side that is bored.
func (s Slicer) hand() string {
	if s.Left {
		return "left"
	}
	return "right"
}

// cuts are the slot across the board at x, from its right edge to its left one, and
// the bore beside it.
func (s Slicer) cuts(of board.Shaped, x, right, left float64) (board.Slot, board.Bore) {
	near, far, shim := s.tilt()
	t := board.Slot{
		Name: "wire's slot, deep at the " + s.hand(), Of: "slicer",
		A: geom.Point{X: x, Y: right}, B: geom.Point{X: x, Y: left}, DepthA: near, DepthB: max(0, far), Width: s.Kerf,
		How: fmt.Sprintf(
			"Slot it with the blade at %s and a shim of %s under the side away from the bore",
			craft.Length(near), craft.Length(shim),
		),
	}
	in := geom.Point{Y: s.Deep}
	if s.Left {
		t.A, t.B, in.Y = t.B, t.A, -s.Deep
	}
	mouth := geom.Point{X: x + s.Gap, Y: t.A.Y}
	if s.FromHandle {
		mouth.X = x - s.Gap
	}
	if right, left, ok := across(of, mouth.X); ok { // the side may slant
		mouth.Y = right
		if s.Left {
			mouth.Y = left
		}
	}
	return t, board.Bore{
		Name: "hole for the arm", Of: "slicer", A: mouth, B: mouth.Add(in), Diameter: s.Bore,
		Below: s.Below,
		How: fmt.Sprintf(
			"Mark SHOW FACE and BORE on the %s side before the saw is set: mirrored, the slot ruins the piece. "+
				"Bore %s, %s below the show face, %s deep into the %s side, at %s from the %s",
			s.hand(), craft.Size(s.Bore), craft.Length(s.Below), craft.Length(s.Deep), s.hand(),
			craft.Length(s.From+s.Gap), s.end(),
		),
	}
}

func (f *Fitted) slicer(s Slicer, b Board) {
	box := b.Shaped.Outline.Bounds()
	x := s.slot(box)
	ys := b.Shaped.Outline.SpansAcross(x, nil)
	if len(ys) < 2 {
		f.judge(
			"slicer-place",
			craft.Stop,
			"The slot lies off the board",
			"There is no wood across the board there.",
			craft.Figure{
				Key:     "fit.slot",
				Label:   "From the " + s.end(),
				Value:   s.From,
				Unit:    craft.MM,
				Formula: "as designed",
				Source:  "the design",
			},
			box.MaxX-box.MinX,
			false,
		)
		return
	}
	hand, width := s.hand(), ys[len(ys)-1]-ys[0]
	deepNear, deepFar, shim := s.tilt()
	name := "wire slicer with its arm"
	if s.Kit != "" {
		name += ": " + s.Kit
	}
	f.item(name, 1, "pieces")
	f.Steps = append(
		f.Steps,
		"Push the arm into its bore, the wire into its slot: it swings free, and the wire's tail "+
			"stands clear of the board",
	)
	_, bore := s.cuts(b.Shaped, x, ys[0], ys[len(ys)-1])
	f.spot(b, bore.Name, bore.A, s.Bore, hand+" side")
	mark := &f.Spots[len(f.Spots)-1]
	mark.FromSide, mark.Side = s.Below, ShowFace
	f.Figures = append(
		f.Figures,
		craft.Figure{
			Key:   "fit.slot-near",
			Stage: craft.Fit,
			Label: "Slot's depth at the " + hand + " side, over the bore",
			Value: deepNear,
			Unit:  craft.MM,
			Formula: "bore's depth below the face + its radius, or half the wire + " + craft.Length(clearance) +
				" where that is more",
			Terms: []craft.Term{
				mm("below the face", s.Below), {Name: "bore", Value: s.Bore, Unit: craft.Bit},
			},
			Source: "geometry of the design",
			Rule:   true,
		},
		craft.Figure{
			Key:     "fit.slot-far",
			Stage:   craft.Fit,
			Label:   "Slot's depth at the other side",
			Value:   deepFar,
			Unit:    craft.MM,
			Formula: "wire + " + craft.Length(clearance) + " clear; with your own shim, depth over the bore − shim",
			Terms:   []craft.Term{mm("wire", s.Wire), mm("your own shim", s.Shim)},
			Source:  "geometry of the design",
			Rule:    true,
		},
		craft.Figure{
			Key:   "fit.shim",
			Stage: craft.Fit,
			Label: "Shim under the other side while it is cut",
			Value: shim,
			Unit:  craft.MM,
			Formula: "depth over the bore − depth at the other side, over the whole width; the blade stands at the " +
				"depth over the bore",
			Terms: []craft.Term{
				mm("width", width),
				{Name: "tilt", Value: math.Atan(shim/width) * 180 / math.Pi, Unit: craft.Degree},
			},
			Source: "geometry of the design",
		},
	)
	f.shimmed(s, deepFar)
	f.ownNear(s)
	f.walled(s, b, bore)
	rest := b.Thickness - deepNear
	f.judge(
		"slicer-floor",
		craft.Under(rest, 6, 3),
		"Wood left under the slot's deep end",
		"The slot takes the board half through where it is deepest.",
		craft.Figure{
			Key:     "fit.slot-floor",
			Label:   "Wood left",
			Value:   rest,
			Unit:    craft.MM,
			Formula: "thickness − the slot's depth over the bore",
			Terms:   []craft.Term{mm("thickness", b.Thickness), mm("depth", deepNear)},
			Source:  "rule of the trade",
			Rule:    true,
		},
		6,
		true,
		s.rebored(b, slotFloor)...)
	least := s.around(b)
	show, under := b.Shaped.Taken(hand, b.Thickness)
	f.judge(
		"slicer-bore",
		craft.Under(least, 4, 1),
		"Wood around the bore in the "+hand+" side",
		"A bore near a face breaks out when the arm is pressed down.",
		craft.Figure{
			Key:   "fit.bore",
			Label: "Least wood above or below the bore",
			Value: least,
			Unit:  craft.MM,
			Formula: "bore's depth − its radius − the edge's profile, and thickness − depth − radius − the profile " +
				"of the other face",
			Terms: []craft.Term{
				mm("thickness", b.Thickness), mm("below the face", s.Below),
				{Name: "bore", Value: s.Bore, Unit: craft.Bit},
				mm("profile, show face", show), mm("profile, under face", under),
			},
			Source: "rule of the trade",
			Rule:   true,
		},
		4,
		true,
		s.rebored(b, boreWall)...)
}

// walled judges what the bore leaves of the board beside it and beyond its end.
func (f *Fitted) walled(s Slicer, b Board, bore board.Bore) {
	const want, stop, mouth = 4, 1, 1.5 // mm, mm, and in diameters: how much of it is its mouth
	edge := geom.NewIndex(b.Shaped.Outline)
	least, at := math.Inf(1), bore.B
	const looks = 24
	for i := range looks + 1 {
		from := min(mouth*bore.Diameter/max(s.Deep, 1e-9), 1)
		p := bore.A.Lerp(bore.B, from+(1-from)*float64(i)/looks)
		_, d := edge.Nearest(p)
		if d -= bore.Diameter / 2; !edge.Contains(p) {
			d = 0
		}
		if d < least {
			least, at = max(0, d), p
		}
	}
	finding := "Wood beside the bore and beyond its end"
	if least <= 0 {
		finding = "The bore comes out at another edge"
	}
	f.judge(
		"slicer-wall",
		craft.Under(least, want, stop),
		finding,
		"A bore that comes near another edge breaks out there.",
		craft.Figure{
			Key:     "fit.bore-wall",
			Label:   "Least wood to an edge",
			Value:   least,
			Unit:    craft.MM,
			Formula: "distance of the bore to the outline, past its mouth",
			Terms:   []craft.Term{mm("deep", s.Deep), {Name: "bore", Value: s.Bore, Unit: craft.Bit}},
			Source:  "rule of the trade",
			Rule:    true,
		},
		want,
		true,
	)
	f.verdicts[len(f.verdicts)-1].Mark = &craft.Mark{AX: at.X - 4, AY: at.Y - 4, BX: at.X + 4, BY: at.Y + 4}
}

// around is the least wood above or below the bore at its mouth, mm.
func (s Slicer) around(b Board) float64 {
	show, under := b.Shaped.Taken(s.hand(), b.Thickness)
	return min(s.Below-s.Bore/2-show, b.Thickness-s.Below-s.Bore/2-under)
}

// The two checks of how deep a slicer is bored.
const slotFloor, boreWall = 0, 1

// ranks are how gravely they come out.
func (s Slicer) ranks(b Board) [2]int {
	near, _, _ := s.tilt()
	return [2]int{craft.Under(b.Thickness-near, 6, 3).Rank(), craft.Under(s.around(b), 4, 1).Rank()}
}

// rebored bores it higher or lower, where that eases one of the checks and does not
// make the other worse than it is, nor a stop.
func (s Slicer) rebored(b Board, check int) []craft.Remedy {
	was, best := s.ranks(b), 0.0
	var least [2]int
	for to := 1.0; to < b.Thickness; to += 0.5 {
		next := s
		next.Below = to
		r := next.ranks(b)
		if r[check] >= was[check] || r[1-check] > max(was[1-check], craft.Mind.Rank()) {
			continue
		}
		if sum, now := r[0]+r[1], least[0]+least[1]; best == 0 || sum < now ||
			sum == now && math.Abs(to-s.Below) < math.Abs(best-s.Below) {
			best, least = to, r
		}
	}
	if best == 0 {
		return nil
	}
	return []craft.Remedy{{
		Label: "Bore it {} below the face", Amount: best, Unit: craft.MM,
		Patch: craft.Patch{"fit": map[string]any{"slicer": map[string]any{"below": best}}},
	}}
}

// shimmed judges a shim of the maker's own: the wire must lie clear at the far side too.
func (f *Fitted) shimmed(s Slicer, far float64) {
	if s.Shim == 0 {
		return
	}
	want := s.Wire + clearance
	v := craft.Under(far, want, s.Wire)
	var remedies []craft.Remedy
	if v != craft.Good {
		remedies = []craft.Remedy{{
			Label: "Take a shim just as thick as the wire asks",
			Patch: craft.Patch{"fit": map[string]any{"slicer": map[string]any{"shim": nil}}},
		}}
	}
	f.judge("slicer-shim", v, "The slot is deep enough for the wire at its other side",
		"Too thick a shim lifts the far side off the blade: the wire stands on the board there and does not cut "+
			"through.",
		craft.Figure{
			Key: "fit.wire", Label: "Slot's depth there", Value: far, Unit: craft.MM,
			Formula: "depth over the bore − shim, against the wire + " + craft.Length(clearance),
			Terms: []craft.Term{
				mm("shim", s.Shim),
				mm("wire", s.Wire),
			}, Source: "geometry of the design", Rule: true,
		}, want, true, remedies...)
}

// ownNear judges a depth of the maker's own over the bore: the wire must get down to the
// arm.
func (f *Fitted) ownNear(s Slicer) {
	if s.Near == 0 {
		return
	}
	want, _, _ := Tilt(s.Below, s.Bore, s.Wire)
	level := craft.Under(s.Near, want, s.Below)
	var remedies []craft.Remedy
	if level != craft.Good {
		remedies = []craft.Remedy{{
			Label: "Slot it as deep as the bore asks: {}", Amount: want, Unit: craft.MM,
			Patch: craft.Patch{"fit": map[string]any{"slicer": map[string]any{"near": nil}}},
		}}
	}
	f.judge(
		"slicer-near",
		level,
		"The slot gets down to the arm",
		"A slot that ends above the bore holds the wire up there.",
		craft.Figure{
			Key: "fit.near", Label: "Slot's depth over the bore, your own", Value: s.Near, Unit: craft.MM,
			Formula: "against the bore's depth below the face + its radius", Terms: []craft.Term{mm("asked for", want)},
			Source: "geometry of the design", Rule: true,
		},
		want,
		true,
		remedies...)
}
