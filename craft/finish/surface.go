package finish

import (
	"cmp"
	"slices"

	"idletimber/craft/species"
	"idletimber/craft/stock"
)

// EndGrain is how many times as much end grain drinks (rule).
const EndGrain = 3.5

// Part is a part of a board that drinks, and the end grain in it, mm².
type Part struct {
	Name       string
	Whole, End float64
}

// Surface is what drinks: all of it and the end grain in it, mm², part by part where they are told
// apart, and how thirsty its wood is.
type Surface struct {
	Whole, End float64
	Parts      []Part
	Thirst     float64 // against wood with closed pores; 0 for that

	// Of the board in a bath, mm; Weighed tells its volume, ml, and its mass, g, where one is asked for.
	Thickness     float64
	Length, Width float64
	Weighed       func() (volume, mass float64)
}

// of is the surface of some of its parts; of all where none is named.
func (s Surface) of(parts []string) (whole, end float64) {
	if len(parts) == 0 || len(s.Parts) == 0 {
		return s.Whole, s.End
	}
	for _, p := range s.Parts {
		if slices.Contains(parts, p.Name) {
			whole, end = whole+p.Whole, end+p.End
		}
	}
	return whole, end
}

// Grams that a coat of so many g/m² takes on some of its parts. What is wet lies on the wood, and is
// not drunk.
func (s Surface) Grams(perM2 float64, on []string, p Product) float64 {
	whole, end := s.of(on)
	if p.Water {
		return whole * perM2 / 1e6
	}
	return (whole - end + end*EndGrain) * perM2 / 1e6 * s.thirst()
}

func (s Surface) thirst() float64 { return cmp.Or(s.Thirst, 1) }

// How thirsty wood is, against closed pores (rules).
const (
	semiRing = 1.1
	openPore = 1.2
	noPores  = 1.4
	spalted  = 1.6
)

// thirstOf is how much a wood drinks against one with closed pores.
func thirstOf(w species.Species) float64 {
	switch {
	case w.Group == "softwood" || w.Pores == "none":
		return noPores
	case w.Pores == "semi-ring":
		return semiRing
	case w.Pores == "ring" || w.Pores == "open":
		return openPore
	}
	return 1
}

// Thirst is how much the wood of a board drinks against wood with closed pores, by the areas of
// what it is made of; where a share of it is spalted, that drinks most.
func Thirst(of []stock.Patch, soft float64) float64 {
	var area, sum float64
	for _, p := range of {
		a := p.Area()
		area, sum = area+a, sum+a*thirstOf(p.Species)
	}
	if area == 0 {
		return 1
	}
	soft = min(1, max(0, soft))
	return sum/area*(1-soft) + spalted*soft
}
