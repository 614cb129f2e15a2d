package stock

import "idletimber/craft/geom"

// Feature is something worth showing: a line with a width, or an ellipse.
type Feature struct {
	ID     string       `json:"id" doc:"Its own for good"`
	Kind   string       `json:"kind" enum:"figure,burr,colour,streak" doc:"What it is"`
	Under  bool         `json:"under,omitempty" doc:"It lies on the under face"`
	Line   []geom.Point `json:"line,omitempty" doc:"Of a streak"`
	Width  float64      `json:"width,omitempty" mm:"0,2000" doc:"Of a streak"`
	Centre geom.Point   `json:"centre" doc:"On the slab"`
	A      float64      `json:"a,omitempty" mm:"1,5000,when" doc:"Half its length, mm"`
	B      float64      `json:"b,omitempty" mm:"1,5000,when" doc:"Half its width, mm"`
	Angle  float64      `json:"angle,omitempty" range:"-360,360" doc:"Degrees anticlockwise"`
	Note   string       `json:"note,omitempty" doc:"The maker's own"`
	Wish   string       `json:"wish,omitempty" enum:",keep inside,centre,down the middle" doc:"How a board shows it"`
}

// How a board should show a feature.
const (
	KeepInside    = "keep inside"
	Centred       = "centre"
	DownTheMiddle = "down the middle"
)

// Footprint is the feature's place on its face.
func (f Feature) Footprint() geom.Ring {
	if len(f.Line) > 1 {
		return ribbon(f.Line, max(1, f.Width))
	}
	return geom.Ellipse{Centre: f.Centre, A: f.A, B: f.B, Angle: f.Angle}.Ring(32)
}
