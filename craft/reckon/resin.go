package reckon

import (
	"math"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/river"
	"idletimber/craft/stock"
)

// Rules of the trade for resin in a face.
const (
	seenResin = 1000 // a face's resin that is a surface of its own, mm²; less is a dot
	resinHard = 3000 // it is sanded as wood of that hardness, N
	resinSlow = 320  // from that grit on slowly: it warms and smears
	byHole    = 25   // so near a hole of a handle it counts as in it, mm
	cutsOn    = 0.10 // share of the face over which one would cut on it
)

// resin is how much of both faces is resin, mm²: cast, or filled into voids.
func (l *laid) resin() float64 { return l.resinOf(false) + l.resinOf(true) }

// resinOf is how much of one face is resin, mm².
func (l *laid) resinOf(under bool) (area float64) {
	for _, p := range l.castIn() {
		area += p.Area()
	}
	for _, v := range l.voids() {
		if v.Tone != nil && (v.Through || v.Under == under) {
			area += v.Area
		}
	}
	return area
}

// castIn are the parts of its face that are cast resin, in its own frame.
func (l *laid) castIn() (out []stock.Patch) {
	if l.on.Slab == nil || l.on.Slab.River == nil {
		return nil
	}
	for _, p := range l.patches() {
		if p.Species.Name == river.ResinName {
			out = append(out, p)
		}
	}
	return out
}

// resinKind is the kind of a surface of resin.
const resinKind = "resin"

// withResin takes the resin out of the faces and makes surfaces of it.
func (l *laid) withResin(of []board.Surface) []board.Surface {
	if l.resin() < seenResin || len(of) == 0 {
		return of
	}
	var wood []stock.Patch // beside cast resin, by itself
	for _, p := range l.patches() {
		if p.Species.Name != river.ResinName {
			wood = append(wood, p)
		}
	}
	for i := range of {
		s := of[i]
		if s.Kind != board.ShowFace && s.Kind != board.UnderFace {
			continue
		}
		area := math.Min(l.resinOf(s.Under), s.Area)
		if area <= 0 {
			continue
		}
		of[i].Area -= area
		if len(wood) > 0 {
			of[i].Wood = wood
		}
		u := board.Surface{Kind: resinKind, Name: "resin, " + s.Name, Area: area, Under: s.Under, Wood: s.Wood}
		for _, p := range l.castIn() {
			u.Rings = append(u.Rings, p.Ring)
		}
		for _, v := range l.voids() {
			if v.Tone != nil && (v.Through || v.Under == s.Under) {
				u.Rings = append(u.Rings, l.prints(v)[0])
			}
		}
		of = append(of, u)
	}
	return of
}

// resinVerdicts judge resin where it is held, at the edge, and under a knife.
func (l *laid) resinVerdicts() (out []craft.Verdict) {
	if l.resin() < seenResin {
		return nil
	}
	figure := func(key, label string, v float64, unit craft.Unit, formula string) craft.Figure {
		return craft.Figure{
			Key: key, Stage: craft.Fill, Label: label, Value: v, Unit: unit,
			Formula: formula, Source: "rule of the trade",
			Rule: true,
		}
	}
	add := func(check string, v, most float64, unit craft.Unit, label, formula, good, bad, reason string) {
		verdict := craft.Verdict{
			Check: check, Stage: craft.Fill, Level: craft.Over(v, most, math.Inf(1)),
			Limit: most, Finding: good, Reason: reason,
			Figure: figure("fill."+check, label, v, unit, formula),
		}
		if verdict.Level != craft.Good {
			verdict.Finding = bad
		}
		out = append(out, verdict)
	}
	area := l.shaped.Area()
	add("resin-knife", l.resin()/2/math.Max(1, area)*100, cutsOn*100, craft.Percent, "Resin in a face",
		"resin of both faces ÷ 2 ÷ face", "Little enough resin to cut beside it",
		"Resin is for serving, not for cutting on: say so when it is given",
		"A knife scratches resin, and what it scratches out is eaten.")
	held := 0.0
	for _, hole := range l.shaped.Holes {
		held = math.Max(held, l.resinIn(hole.Grown(byHole))/100)
	}
	add("resin-handle", held, 1, craft.CM2, "Resin about a handle",
		"resin within {25} of a hole that it is held by", "No resin where it is held",
		"Resin runs where it is held: the bond carries the load there, and it is slippery when wet",
		"A handle is gripped and pulled: wood alone is stronger there than the bond of resin to it.")
	edge := 0.0
	if kind := l.shaped.Design.Edge.Kind; kind != "" && kind != "none" {
		edge = l.resinEdge()
	}
	add("resin-edge", edge, 1, craft.MM, "Resin at a shaped edge", "length of the outline that runs through resin",
		"No resin at a shaped edge", "Resin at a shaped edge chips: shallow passes, a sharp bit, tape on it",
		"Resin is brittle: a router tears pieces out of its corner.")
	return out
}

// resinIn is the resin within a ring of its own frame, mm².
func (l *laid) resinIn(ring geom.Ring) (area float64) {
	for _, p := range l.castIn() {
		area += geom.ClippedArea(ring, p.Ring)
	}
	for _, v := range l.voids() {
		if v.Tone == nil {
			continue
		}
		for _, part := range geom.Common(l.prints(v)[0], ring) {
			area += part.Area()
		}
	}
	return area
}

// resinEdge is how much of the outline runs through resin, mm.
func (l *laid) resinEdge() (long float64) {
	o := l.shaped.Outline
	closed := append(o[:len(o):len(o)], o[0])
	for _, p := range l.castIn() {
		for _, part := range geom.Within(closed, p.Ring) {
			long += geom.Length(part)
		}
	}
	for _, v := range l.voids() {
		if v.Tone != nil && len(v.Outs) > 0 {
			long += v.Width * float64(len(v.Outs))
		}
	}
	return long
}
