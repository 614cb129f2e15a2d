package board

import (
	"math"

	"idletimber/craft/geom"
)

// Slot is a straight cut across a face for a fitting, with its depth at both
// ends, mm.
type Slot struct {
	A      geom.Point `json:"a" doc:"One end, in the board's frame"`
	B      geom.Point `json:"b" doc:"The other end, in the board's frame"`
	DepthA float64    `json:"depthA" doc:"At the first end, mm"`
	DepthB float64    `json:"depthB" doc:"At the second end, mm"`
	Width  float64    `json:"width" doc:"mm"`
	Under  bool       `json:"under" doc:"Sunk into the under face"`
	Name   string     `json:"name" doc:"What it is for"`
}

// Ring is the slot's place on its face.
func (t Slot) Ring() geom.Ring {
	d := t.B.Sub(t.A)
	side := geom.Point{X: -d.Y, Y: d.X}.Scale(t.Width / 2 / max(d.Len(), 1e-9))
	return geom.Ring{t.A.Sub(side), t.B.Sub(side), t.B.Add(side), t.A.Add(side)}
}

// depthAt is how deep the slot has cut its face at p, mm; 0 beside it.
func (t Slot) depthAt(p geom.Point) float64 {
	d := t.B.Sub(t.A)
	l := max(d.Len(), 1e-9)
	to := p.Sub(t.A)
	along, off := (to.X*d.X+to.Y*d.Y)/l, math.Abs(to.X*d.Y-to.Y*d.X)/l
	if off > t.Width/2 || along < 0 || along > l {
		return 0
	}
	return t.DepthA + (t.DepthB-t.DepthA)*along/l
}

// volume of the slot, mm³.
func (t Slot) volume() float64 {
	return t.B.Sub(t.A).Len() * t.Width * (t.DepthA + t.DepthB) / 2
}

// Bore is a hole bored into the side of a board, mm.
type Bore struct {
	At       geom.Point
	Diameter float64
	Deep     float64
}

func (b Bore) volume() float64 { return math.Pi / 4 * b.Diameter * b.Diameter * b.Deep }
