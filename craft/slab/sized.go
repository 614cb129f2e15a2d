package slab

import (
	"idletimber/craft"
	"idletimber/craft/moisture"
	"idletimber/craft/stock"
)

// Size is what a piece is known by before it is measured.
type Size struct {
	Name      string  `json:"name" doc:"What the maker calls it"`
	Species   string  `json:"species" doc:"By its name in the table, or among the shop's own"`
	Stock     string  `json:"stock" enum:"slab,plank,panel,sheet" doc:"What it is"`
	Length    float64 `json:"length" mm:"20,10000" doc:"From the butt to the far end, mm"`
	Width     float64 `json:"width" mm:"10,10000" doc:"In the middle, mm"`
	Thickness float64 `json:"thickness" mm:"1,500" doc:"mm"`
	Reclaimed bool    `json:"reclaimed" doc:"Of unknown treatment"`
}

// Check reports what is out of range.
func (s Size) Check(field string) (ps craft.Problems) {
	ps.InRange(field, s)
	return ps
}

// belly is by how much a slab is drawn narrower at its ends than in the middle, a
// side, mm: so that its edges are seen to be natural until they are measured.
const belly = 5

// Sized is a piece of a size to begin with: straight where it was sawn, a little
// bellied where it grew.
func Sized(o Size) Slab {
	half := o.Width / 2
	at := func(x, by float64) Station { return Station{X: x, Left: half - by, Right: by - half} }
	s := Slab{
		Name: o.Name, Species: o.Species, Stock: o.Stock, Length: o.Length, Reclaimed: o.Reclaimed,
		Show:     []Station{at(0, 0), at(o.Length, 0)},
		Readings: []Reading{{X: o.Length / 2, Thickness: o.Thickness}},
		Moisture: []moisture.Reading{}, Flaws: []stock.Flaw{},
	}
	if o.Stock == StockSlab {
		in := min(belly, o.Width/8)
		s.Show = []Station{at(0, in), at(o.Length/2, 0), at(o.Length, in)}
		s.LiveLeft, s.LiveRight = true, true
	}
	return s
}
