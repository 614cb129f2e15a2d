package board

import (
	"math"
	"slices"

	"idletimber/craft/geom"
)

// Waste is what falls off between a line and where the saw is led along it, in the board's
// frame.
type Waste struct {
	Cut   string          `json:"cut" doc:"Where the saw is led, as SVG path data"`
	Line  string          `json:"line" doc:"The line that it is sanded to"`
	Hatch [][2]geom.Point `json:"hatch" doc:"Strokes across it, for print"`
}

// hatching is how far apart the strokes of waste lie, mm.
const hatching = 4

// Waste is what falls off round the outline, where it is sawn all round so far outside its
// line, mm, and inside every hole that is sawn out, so far inside it: what bits bore needs
// no sawing.
func (s Shaped) Waste(outside, inside float64, bits []float64) []Waste {
	out := []Waste{}
	add := func(outer, inner, cut, line geom.Ring) {
		if len(outer) > 2 && len(inner) > 2 {
			out = append(out, Waste{cut.SVG(), line.SVG(), hatch(outer, inner)})
		}
	}
	if s.Natural() == 0 && len(s.Outline) > 2 {
		line := s.Outline.Simplified(geom.Fine)
		grown := line.Outset(outside)
		add(grown, line, grown, line)
	}
	for i, e := range Entries(s, bits) {
		if e.Sawn == 0 || e.Second != nil {
			continue
		}
		hole := s.Holes[i]
		cut := hole.Shrunk(inside)
		add(hole, cut, cut, hole)
	}
	return out
}

// hatch are strokes at 45° between two lines, one inside the other.
func hatch(outer, inner geom.Ring) (out [][2]geom.Point) {
	turn := geom.Placement{Angle: 45}
	rings := []geom.Ring{outer.Map(turn.In), inner.Map(turn.In)}
	box := rings[0].Bounds()
	for y := math.Ceil(box.MinY/hatching) * hatching; y < box.MaxY; y += hatching {
		var us []float64
		for _, r := range rings {
			us = append(us, r.Spans(y)...)
		}
		slices.Sort(us)
		for i := 0; i+1 < len(us); i += 2 { // from one line to the other, and back
			if us[i+1]-us[i] > 0.05 {
				out = append(out, [2]geom.Point{turn.Out(geom.Point{X: us[i], Y: y}), turn.Out(geom.Point{X: us[i+1], Y: y})})
			}
		}
	}
	return out
}
