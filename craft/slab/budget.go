package slab

import (
	"math"

	"idletimber/craft"
	"idletimber/craft/rule"
)

// Blank is what is flattened: its size and how it is treated.
type Blank struct {
	Length, Width float64 // of the blank as flattened, mm
	Filled        int     // faces that are flattened again after filling, 0 to 2
	Target        float64 // wanted final thickness, 0 for all there is
	Hard          bool    // planed in half passes
}

// Budget is the thickness from rough to sanded, mm. Planed is what is left
// before voids are filled; PerFace is what flattening takes off each face.
type Budget struct {
	Rough   float64 `json:"rough"`
	Flat    float64 `json:"flat" doc:"The most that flattening leaves"`
	Planed  float64 `json:"planed" doc:"After planing to the wanted thickness, before voids are filled"`
	Filled  float64 `json:"filled" doc:"After filled faces are flattened again"`
	Sanded  float64 `json:"sanded" doc:"The final thickness, which every check uses"`
	Most    float64 `json:"most" doc:"The thickest that could be had"`
	PerFace float64 `json:"perFace"`
	Hollow  float64 `json:"hollow" doc:"Of this blank"`
	Wind    float64 `json:"wind" doc:"Of this blank"`
	Passes  int     `json:"passes"`
}

// Plan reckons the thickness budget of a blank cut from the slab. Hollow goes
// with the square of the width, wind with length times width.
func (w Wood) Plan(b Blank, rules rule.Set) Budget {
	width := w.MeanWidth()
	out := Budget{Rough: w.Thinnest()}
	out.Hollow = w.Hollow * sq(min(1, b.Width/width))
	out.Wind = w.Wind * min(1, b.Length/w.Length) * min(1, b.Width/width)
	out.Flat = out.Rough
	if !w.Uneven {
		wind := out.Wind / 2
		if w.Unshimmed {
			wind = out.Wind
		}
		out.Flat = out.Rough - out.Hollow - wind - 2*rules.Get(rule.FaceClean)
	}
	after := float64(b.Filled)*rules.Get(rule.Reflatten) + 2*rules.Get(rule.SandFace)
	out.Most = max(0, out.Flat-after)
	out.Planed = max(0, out.Flat)
	if b.Target > 0 {
		out.Planed = min(out.Planed, b.Target+after)
	}
	out.Filled = max(0, out.Planed-float64(b.Filled)*rules.Get(rule.Reflatten))
	out.Sanded = max(0, out.Filled-2*rules.Get(rule.SandFace))
	out.PerFace = (out.Rough - out.Planed) / 2
	deep := 1.0
	if b.Hard {
		deep = 0.5
	}
	if off := w.Thickest() - out.Planed; off > 1e-9 && (!w.Uneven || b.Target > 0) {
		out.Passes = 2 * int(math.Ceil(off/2/deep))
	}
	return out
}

func sq(v float64) float64 { return v * v }

// Working is the final thickness as a figure.
func (b Budget) Working(rules rule.Set) craft.Figure {
	return craft.Figure{
		Key: "flatten.final", Stage: craft.Flatten, Label: "Final thickness", Value: b.Sanded, Unit: craft.MM,
		Formula: "thinnest reading − hollow − half the wind − cleaning both faces, planed to the wanted thickness, − filled faces flattened again − sanding both faces",
		Terms: []craft.Term{
			{Name: "thinnest reading", Value: b.Rough, Unit: craft.MM},
			{Name: "hollow of the blank", Value: b.Hollow, Unit: craft.MM},
			{Name: "wind of the blank", Value: b.Wind, Unit: craft.MM},
			{Name: "cleaning, a face", Value: rules.Get(rule.FaceClean), Unit: craft.MM},
			{Name: "planed to", Value: b.Planed, Unit: craft.MM},
			{Name: "flattened again", Value: b.Planed - b.Filled, Unit: craft.MM},
			{Name: "sanding, a face", Value: rules.Get(rule.SandFace), Unit: craft.MM},
		},
		Source: "shop rules for flattening and sanding", Rule: true,
	}
}

// Leaves is how thick each of n leaves comes out when a flattened thickness is
// resawn, mm; 0 when they do not fit.
func Leaves(flat float64, n int, kerf, cleanup float64) float64 {
	if n < 1 {
		return 0
	}
	cuts := float64(n - 1)
	return max(0, (flat-cuts*kerf-2*cuts*cleanup)/float64(n))
}
