package fill

import (
	"slices"

	"idletimber/craft/geom"
	"idletimber/craft/stock"
)

// What becomes of a mark.
const (
	CutOff   = "cut away"
	TakenOut = "taken out"
	PlanedGo = "planed off"
	Stays    = "left"
	KeptHard = "kept"
	Filled   = "filled"
)

// beside is how far from a board a mark lies at most whose cutting away is told, mm.
const beside = 20

// End is what becomes of a mark on the wood of a board.
type End struct {
	Flaw string `json:"flaw" doc:"Id of the flaw"`
	Name string `json:"name" doc:"What it is"`
	End  string `json:"end" enum:"cut away,taken out,planed off,left,kept,filled" doc:"What becomes of it"`
	By   string `json:"by,omitempty" doc:"What takes it out, or what fills it"`
	Part bool   `json:"part,omitempty" doc:"A hole, a notch or a recess takes part of it; this is of what is left"`
}

// Ends tells what becomes of every flaw that lies where the board is cut out, or beside it, in the order of the
// wood: cut away by its outline, taken out by what is cut into it, planed off, left, or filled
// with what was chosen. The holes and recesses are named in the site's order.
func (s Site) Ends(voids []Void, holes, sunk []string) []End {
	out := []End{}
	box := s.Outline.Bounds()
	for _, f := range s.Flaws {
		if f.Bounds().Apart(box) > beside {
			continue
		}
		e := End{Flaw: f.ID, Name: f.Name()}
		i := slices.IndexFunc(voids, func(v Void) bool { return v.Flaw == f.ID })
		switch {
		case i >= 0:
			v := voids[i]
			e.End, e.By, e.Part = Filled, v.Chosen, v.worked
			if v.Chosen == Leave {
				e.End, e.By = Stays, ""
			}
		case f.Sound():
			if !s.holds(f) {
				e.End = CutOff
				break
			}
			e.End = KeptHard
		default:
			e.End, e.By = s.gone(f, holes, sunk)
		}
		out = append(out, e)
	}
	return out
}

// holds tells whether anything of a flaw lies within the outline.
func (s Site) holds(f stock.Flaw) bool {
	return extentOf(f, region{s.Outline, nil}).area > 0
}

// gone tells what takes away a flaw that leaves no void: the outline, what is cut into the board,
// or the planer.
func (s Site) gone(f stock.Flaw, holes, sunk []string) (end, by string) {
	s.Extents = nil
	deeper := s
	deeper.Holes, deeper.Sunk = nil, nil
	if deeper.void(f).Volume >= nothing {
		for i, h := range s.Holes {
			if one := deeper; i < len(holes) {
				one.Holes = []geom.Ring{h}
				if one.void(f).Volume < deeper.void(f).Volume-nothing {
					return TakenOut, holes[i]
				}
			}
		}
		for i, k := range s.Sunk {
			if one := deeper; i < len(sunk) {
				one.Sunk = []Sunk{k}
				if one.void(f).Volume < deeper.void(f).Volume-nothing {
					return TakenOut, sunk[i]
				}
			}
		}
		return TakenOut, ""
	}
	deeper.Off = 0
	if deeper.void(f).Volume >= nothing {
		return PlanedGo, ""
	}
	return CutOff, ""
}
