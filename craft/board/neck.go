package board

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/rule"
	"idletimber/craft/stock"
)

// NeckStress is the bending stress in MPa at a section w wide and t thick
// (mm) when masses in kg hang at distances in mm from it, jerked by a factor.
func NeckStress(jerk, w, t float64, masses, arms []float64) float64 {
	var moment float64
	for i, m := range masses {
		moment += jerk * craft.Gravity * m * arms[i] // kg · m/s² · mm = N·mm
	}
	return moment / (w * t * t / 6)
}

// held is how far from the end a closed hand holds a neck without a hole, mm.
const held = 25

// section is a cut across the neck: its stress in MPa, where it lies, how wide
// it is, how much of that pockets take, and what bends it.
type section struct{ stress, x, w, lost, mass, arm, loadArm float64 }

// pocket is what weakens a section without reaching the outline, or without
// going through.
type pocket struct {
	ring, inner geom.Ring
	box         geom.Bounds
	top, bottom float64 // below the show face, mm
}

// sunken lists what is cut into a board t mm thick without going through it by design:
// recesses, what its fittings take, and the voids that nothing fills which bears a load.
func (s Shaped) sunken(voids []Void, t float64) []pocket {
	hollows := s.Hollows(t)[len(s.Holes):]
	for _, v := range voids {
		if !v.Filled && len(v.Ring()) > 2 {
			hollows = append(hollows, v.Hollow(t))
		}
	}
	out := make([]pocket, len(hollows))
	for i, h := range hollows {
		out[i] = pocket{h.Ring, h.Inner, h.Ring.Bounds(), h.Top, h.Bottom}
	}
	return out
}

// lost is how much width of full thickness t a section along a line in the wood
// loses to pockets, mm.
func lost(line []geom.Point, pockets []pocket, t float64) (sum float64) {
	box := geom.Ring(line).Bounds()
	for _, h := range pockets {
		if h.box.Apart(box) > 0 {
			continue
		}
		sum += lostTo(lengthIn(line, h.ring)-lengthIn(line, h.inner), h.top, h.bottom, t)
	}
	return sum
}

// lostTo is lost for so many mm that are hollow from top to bottom.
func lostTo(long, top, bottom, t float64) float64 { return long * (1 - keeps(top, bottom, t)) }

// lengthIn is how much of a line lies in a ring, mm.
func lengthIn(line []geom.Point, r geom.Ring) (sum float64) {
	if len(r) < 3 {
		return 0
	}
	for _, part := range geom.Within(line, r) {
		sum += geom.Length(part)
	}
	return sum
}

// worstSection finds the section that is stressed most between the middle of
// the serving area and the hand, with the board held level by its end; ok is
// false without a handle.
func worstSection(s Shaped, c Conditions) (worst section, ok bool) {
	start := s.HandleStart()
	box := s.Outline.Bounds()
	if math.IsInf(start, 1) || start <= box.MinX || c.Thickness <= 0 {
		return worst, false
	}
	hand := box.MaxX - held
	for i, h := range s.Holes {
		if s.holds(i) {
			hand = min(hand, (h.Bounds().MinX+h.Bounds().MaxX)/2)
		}
	}
	middle := (box.MinX + start) / 2
	pockets := s.sunken(c.Voids, c.Thickness)
	load, jerk := c.Rules.Get(rule.HandLoad), c.Rules.Get(rule.Jerk)
	var area, moment float64 // of the board in slices, a slice of denser wood counting for more
	density := stock.Density(c.Wood.Over(s.Outline))
	var coarse []section
	size := 0.0
	for _, sl := range strips(box.MinX, hand) {
		w := s.widthAt(sl.mid)
		across := c.Wood.Along(geom.Point{X: sl.mid, Y: box.MinY}, geom.Point{X: sl.mid, Y: box.MaxY})
		weight := w * sl.size * (stock.DensityAlong(across) / density)
		area, moment = area+weight, moment+weight*sl.mid
		if sl.mid < middle || w < 1 {
			continue
		}
		mass := area * c.Thickness * density * 1e-9
		at := section{x: sl.mid, w: w, mass: mass, arm: sl.mid - moment/area, loadArm: sl.mid - middle}
		at.lost = min(s.lostIn(sl, pockets, c.Thickness), w-0.5)
		coarse, size = append(coarse, at.stressed(jerk, load, c.Thickness)), sl.size
	}
	// A slice is met in its middle: where a hole or an end narrows fast, the worst lies
	// beside it, so that the worst slices are cut finer.
	slices.SortFunc(coarse, func(a, b section) int { return cmp.Compare(b.stress, a.stress) })
	const fine = 8
	for _, at := range coarse[:min(len(coarse), 4)] {
		for k := -fine; k <= fine; k++ {
			off := size * float64(k) / fine
			w := s.widthAt(at.x + off)
			if w < 1 || at.x+off > hand || at.x+off < middle {
				continue
			}
			next := section{x: at.x + off, w: w, mass: at.mass, arm: at.arm + off, loadArm: at.loadArm + off}
			next.lost = min(s.lostIn(strip{mid: next.x, size: size / fine}, pockets, c.Thickness), w-0.5)
			if next = next.stressed(jerk, load, c.Thickness); next.stress > worst.stress {
				worst = next
			}
		}
	}
	return worst, worst.w > 0
}

// stressed is the section with the stress that it bears.
func (at section) stressed(jerk, load, t float64) section {
	at.stress = NeckStress(jerk, at.w-at.lost, t, []float64{at.mass, load}, []float64{at.arm, at.loadArm})
	return at
}

// lostIn is what voids and recesses take of the weakest section in a slice of the board.
func (s Shaped) lostIn(sl strip, pockets []pocket, t float64) (sum float64) {
	from, to := sl.mid-sl.size/2, sl.mid+sl.size/2
	var room [2][8]float64 // of a section that is not too jagged
	for _, h := range pockets {
		if h.box.MaxX < from || h.box.MinX > to {
			continue
		}
		x := (max(from, h.box.MinX) + min(to, h.box.MaxX)) / 2 // one narrower than the slice is met in its middle
		wood := s.Outline.SpansAcross(x, room[0][:0])
		long := common(wood, h.ring.SpansAcross(x, room[1][:0]))
		if len(h.inner) > 2 {
			long -= common(wood, h.inner.SpansAcross(x, room[1][:0]))
		}
		sum += lostTo(long, h.top, h.bottom, t)
	}
	return sum
}

// common is how much two lists of spans share, mm.
func common(a, b []float64) (sum float64) {
	for i := 0; i+1 < len(a); i += 2 {
		for k := 0; k+1 < len(b); k += 2 {
			sum += max(0, min(a[i+1], b[k+1])-max(a[i], b[k]))
		}
	}
	return sum
}

// neckVerdicts judges the handle's worst section, and every other place where
// the outline draws in so far that it could break there.
func neckVerdicts(s Shaped, c Conditions) (out []craft.Verdict) {
	worst, ok := worstSection(s, c)
	if ok {
		out = append(out, neck(s, c, worst))
	}
	if v, held := farNeck(s, c); held {
		out = append(out, v)
	}
	start := s.HandleStart()
	pockets := s.sunken(c.Voids, c.Thickness)
	for _, h := range s.Holes {
		pockets = append(pockets, pocket{ring: h, box: h.Bounds(), bottom: c.Thickness})
	}
	for _, w := range s.Outline.Waists(max(4, s.Outline.Perimeter()/150)) {
		mid := w.A.Lerp(w.B, 0.5)
		if ok && (mid.X > start-w.Width/2 || math.Abs(mid.X-worst.x) < w.Width) {
			continue // the handle's own
		}
		if v := waist(s, c, w, pockets); v.Figure.Value > thoughtful*v.Limit {
			out = append(out, v)
		}
		if len(out) > 4 {
			break
		}
	}
	for _, void := range c.Voids {
		if void.Filled || len(void.Ring()) < 3 {
			continue
		}
		if v, found := weakest(s, c, void, pockets); found {
			out = append(out, v)
		}
	}
	return out
}

// weakest judges the line through a void along which the board breaks most
// easily; found is false where none is worth a thought.
func weakest(s Shaped, c Conditions, void Void, pockets []pocket) (worst craft.Verdict, found bool) {
	const ways, slight = 12, 0.2 // directions looked along; the share of a section that may be pocket without a thought
	ring, box := void.Ring(), s.Outline.Bounds()
	own := []pocket{{ring: ring, box: ring.Bounds(), bottom: void.Depth}}
	mid := nearestIn(ring, ring.Centroid())
	if !s.Outline.Contains(mid) {
		return worst, false
	}
	_, near := s.Outline.Nearest(mid)
	if lostTo(
		own[0].box.Diagonal(),
		0,
		void.Depth,
		c.Thickness,
	) < slight*2*near { // no line through the wood there is shorter
		return worst, false
	}
	reach := box.Diagonal()
	share := thoughtful
	for k := range ways {
		sin, cos := math.Sincos(float64(k) * math.Pi / ways)
		by := geom.Point{X: cos, Y: sin}.Scale(reach)
		line := []geom.Point{mid.Sub(by), mid, mid.Add(by)}
		if lost(line, own, c.Thickness) < slight*2*near {
			continue
		}
		for _, wood := range geom.Within(line, s.Outline) {
			a, b := wood[0], wood[len(wood)-1]
			width := b.Sub(a).Len()
			if !slices.Contains(wood, mid) || lost(wood, pockets, c.Thickness) < slight*width {
				continue
			}
			small, large := s.Outline.Parted(a, b)
			if v := waist(s, c, geom.Waist{A: a, B: b, Width: width, Small: small, Large: large},
				pockets); v.Figure.Value > share*v.Limit {
				worst, share, found = v, v.Figure.Value/v.Limit, true
			}
		}
	}
	if !found {
		return worst, false
	}
	worst.Subject, worst.Finding = void.Name, "Weakened by the "+void.Name+", held by its smaller part"
	worst.Reason = "A void that nothing fills which bears a load leaves only the wood beside and below it. Resin " +
		"bonds both sides; putty and thin glue do not."
	if worst.Level != craft.Good {
		worst.Remedies = []craft.Remedy{fillIt(void)}
	}
	return worst, true
}

// Bearing is the filler that carries load.
const Bearing = "epoxy"

// fillIt fills a void with what carries load.
func fillIt(v Void) craft.Remedy {
	return craft.Remedy{
		Label: "Fill the " + v.Name + " with epoxy",
		Patch: craft.Patch{"fill": map[string]any{"fillers": map[string]any{v.Flaw: Bearing}}},
	}
}

// nearestIn is p where it lies in the ring, else the ring's nearest place to it.
func nearestIn(r geom.Ring, p geom.Point) geom.Point {
	if !r.Contains(p) {
		p, _ = r.Nearest(p)
	}
	return p
}

// thoughtful is the share of what is allowed from which a place where the
// outline draws in is spoken of.
const thoughtful = 0.35

// hollowsTake names the width that recesses, slots and voids cost a section.
const hollowsTake = "of it recesses, slots and open voids take"

// waist judges a place where the outline draws in, as if the smaller part were
// held and the larger, loaded, hung from it.
func waist(s Shaped, c Conditions, w geom.Waist, pockets []pocket) craft.Verdict {
	load, jerk := c.Rules.Get(rule.HandLoad), c.Rules.Get(rule.Jerk)
	across := w.B.Sub(w.A)
	gone := min(lost([]geom.Point{w.A, w.B}, pockets, c.Thickness), w.Width-0.5)
	normal := geom.Point{X: -across.Y, Y: across.X}.Scale(1 / max(across.Len(), 1e-9))
	off := w.Large.Centroid().Sub(w.A)
	arm := math.Abs(off.X*normal.X + off.Y*normal.Y)
	mass := w.Large.Area() * c.Thickness * stock.Density(c.Wood.Over(w.Large)) * 1e-9
	stress := NeckStress(jerk, w.Width-gone, c.Thickness, []float64{mass, load}, []float64{arm, arm})
	along := math.Atan2(normal.Y, normal.X) * 180 / math.Pi
	mor, weakest := stock.Strength(c.Wood.Along(w.A, w.B), along)
	angle, limit := weakest.Angle(along), mor*allowable
	return craft.Verdict{
		Check: "waist", Subject: fmt.Sprintf("waist of %.0f", w.Width), Stage: craft.Layout,
		Level: craft.Over(stress, clearOf*limit, limit), Limit: limit,
		Finding: "Where the outline draws in, held by its smaller part",
		Reason: "Wherever an outline is narrowest it breaks first, most of all where the grain runs across it. Draw " +
			"it wider there, or turn the board so that the grain runs through.",
		Mark: &craft.Mark{AX: w.A.X, AY: w.A.Y, BX: w.B.X, BY: w.B.Y},
		Figure: craft.Figure{
			Key: "waist.stress", Stage: craft.Layout, Label: "Stress where it draws in", Value: stress, Unit: craft.MPa,
			Formula: "jerk · g · (larger part + load) · its arm ÷ ((w − what voids and recesses take) · t² / 6), " +
				"against a quarter of the strength at the grain's angle",
			Terms: []craft.Term{
				{Name: "jerk", Value: jerk},
				{Name: "larger part", Value: mass, Unit: craft.KG},
				{Name: "load", Value: load, Unit: craft.KG},
				{Name: "arm", Value: arm, Unit: craft.MM},
				{
					Name:  "width w",
					Value: w.Width,
					Unit:  craft.MM,
				},
				{Name: hollowsTake, Value: gone, Unit: craft.MM},
				{Name: "thickness t", Value: c.Thickness, Unit: craft.MM},
				{Name: "grain to the pull", Value: angle, Unit: craft.Degree},
				{Name: "allowed", Value: limit, Unit: craft.MPa},
			},
			Source: "bending of a cantilever; Hankinson 1921; Wood Handbook", Rule: true,
		},
	}
}

// neck judges the worst section.
func neck(s Shaped, c Conditions, worst section) craft.Verdict {
	from, to, _ := across(s.Outline, worst.x)
	mor, weakest := stock.Strength(c.Wood.Along(geom.Point{X: worst.x, Y: from}, geom.Point{X: worst.x, Y: to}), 0)
	limit := mor * allowable
	v := craft.Verdict{
		Check: "neck", Stage: craft.Layout, Level: craft.Over(worst.stress, clearOf*limit, limit), Limit: limit,
		Finding: "Held level by its handle, loaded",
		Reason:  "A neck that is too slight, or crossed by the grain, snaps when the full board is picked up.",
		Mark:    &craft.Mark{AX: worst.x, AY: from, BX: worst.x, BY: to},
		Figure: craft.Figure{
			Key: "neck.stress", Stage: craft.Layout, Label: "Stress in the neck", Value: worst.stress, Unit: craft.MPa,
			Formula: "jerk · g · (board · its arm + load · its arm) ÷ ((w − what voids and recesses take) · t² / 6), " +
				"at the worst section, against a quarter of the strength at the grain's angle",
			Terms: []craft.Term{
				{Name: "jerk", Value: c.Rules.Get(rule.Jerk)},
				{Name: "board beyond the section", Value: worst.mass, Unit: craft.KG},
				{Name: "its arm", Value: worst.arm, Unit: craft.MM},
				{Name: "load", Value: c.Rules.Get(rule.HandLoad), Unit: craft.KG},
				{Name: "its arm", Value: worst.loadArm, Unit: craft.MM},
				{Name: "width w", Value: worst.w, Unit: craft.MM},
				{Name: hollowsTake, Value: worst.lost, Unit: craft.MM},
				{Name: "thickness t", Value: c.Thickness, Unit: craft.MM},
				{Name: "grain to the length", Value: weakest.Angle(0), Unit: craft.Degree},
				{Name: "allowed", Value: limit, Unit: craft.MPa},
			},
			Source: "bending of a cantilever; Hankinson 1921; Wood Handbook", Rule: true,
		},
	}
	if v.Level != craft.Good {
		v.Offer(func() []craft.Remedy { return neckRemedies(s, c, worst, clearOf*limit) })
	}
	return v
}

// farNeck judges a board that is held by a hole at its far end; ok is false without one.
func farNeck(s Shaped, c Conditions) (v craft.Verdict, ok bool) {
	if !slices.ContainsFunc(s.Handles, func(h Handle) bool { return h.Far && h.Kind != CordHole }) {
		return v, false
	}
	s, c = s.endForEnd(c)
	worst, ok := worstSection(s, c)
	if !ok {
		return v, false
	}
	v = neck(s, c, worst)
	v.Subject, v.Finding = "far end", "Held level by the hole at its far end, loaded"
	v.Mark = &craft.Mark{AX: -v.Mark.AX, AY: -v.Mark.AY, BX: -v.Mark.BX, BY: -v.Mark.BY}
	if v.Level != craft.Good {
		design, aim := s.Design, clearOf*v.Limit
		v.Offer(func() []craft.Remedy {
			for t := ceilTo(c.Thickness * math.Sqrt(worst.stress/aim)); t <= c.Most; t++ {
				thicker := c
				thicker.Thickness = t
				if next, held := worstSection(s, thicker); held && next.stress <= aim {
					return []craft.Remedy{thicknessOf(design, "Thicken to {}", t)}
				}
			}
			return nil
		})
	}
	return v, true
}

// endForEnd is the board seen with its far end toward the hand.
func (s Shaped) endForEnd(c Conditions) (Shaped, Conditions) {
	turn := geom.Placement{Angle: 180}
	ring := func(r geom.Ring) geom.Ring { return r.Map(turn.Out) }
	s.Outline, s.Design.Shape = ring(s.Outline), Free // what its own end has, this one has not
	holes, handles := make([]geom.Ring, len(s.Holes)), slices.Clone(s.Handles)
	for i, h := range s.Holes {
		holes[i], handles[i].Far = ring(h), !handles[i].Far
	}
	s.Holes, s.Handles, s.Cavities, s.Slots = holes, handles, slices.Clone(s.Cavities), slices.Clone(s.Slots)
	s.Bores = slices.Clone(s.Bores)
	for i := range s.Cavities {
		s.Cavities[i].Rim, s.Cavities[i].Inner = ring(s.Cavities[i].Rim), ring(s.Cavities[i].Inner)
	}
	for i := range s.Slots {
		s.Slots[i].A, s.Slots[i].B = turn.Out(s.Slots[i].A), turn.Out(s.Slots[i].B)
	}
	for i := range s.Bores {
		s.Bores[i].A, s.Bores[i].B = turn.Out(s.Bores[i].A), turn.Out(s.Bores[i].B)
	}
	c.Wood, c.Voids = c.Wood.Seen(turn), slices.Clone(c.Voids)
	for i := range c.Voids {
		levels := make([]geom.Ring, len(c.Voids[i].Levels))
		for k, r := range c.Voids[i].Levels {
			levels[k] = ring(r)
		}
		c.Voids[i].Levels = levels
	}
	return s, c
}

// neckRemedies looks for the thickness and the width of neck that bring the
// stress to the aim in MPa. A board that grows grows heavier, so that the first
// guess is tried and raised.
func neckRemedies(s Shaped, c Conditions, was section, aim float64) (out []craft.Remedy) {
	enough := func(d Design, c Conditions) bool {
		worst, ok := worstSection(s.again(d, c), c)
		return ok && worst.stress <= aim
	}
	if was.lost > 0 {
		for i := range c.Voids {
			filled := c
			filled.Voids = slices.Clone(c.Voids)
			filled.Voids[i].Filled = true
			if !c.Voids[i].Filled && enough(s.Design, filled) {
				out = append(out, fillIt(c.Voids[i]))
			}
		}
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
	for d.Neck = ceilTo(d.Neck + (was.w-was.lost)*(was.stress/aim-1)); d.Neck <= d.Width; d.Neck += 2 {
		if enough(d, c) {
			return append(
				out,
				remedy(s.Design, "Widen the neck to {}", d.Neck, craft.MM, func(o *Design) { o.Neck = d.Neck }),
			)
		}
	}
	return out
}
