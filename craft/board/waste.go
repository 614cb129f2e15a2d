package board

import (
	"idletimber/craft/geom"
)

// Waste is what falls off between a line and where the saw is led along it, in the board's
// frame.
type Waste struct {
	Cut  string `json:"cut" doc:"Where the saw is led, as SVG path data"`
	Line string `json:"line" doc:"The line that it is sanded to"`
}

// Waste is what falls off round the outline, where it is sawn all round so far outside its
// line, mm, and inside every hole that is sawn out, so far inside it: what bits bore needs
// no sawing.
func (s Shaped) Waste(outside, inside float64, bits []float64) []Waste {
	out := []Waste{}
	add := func(cut, line geom.Ring) {
		if len(cut) > 2 && len(line) > 2 {
			out = append(out, Waste{cut.SVG(), line.SVG()})
		}
	}
	if s.Natural() == 0 && len(s.Outline) > 2 {
		line := s.Outline.Simplified(geom.Fine)
		add(line.Outset(outside), line)
	}
	for i, e := range Entries(s, bits) {
		if e.Sawn == 0 || e.Second != nil {
			continue
		}
		hole := s.Holes[i]
		add(hole.Shrunk(inside), hole)
	}
	return out
}
