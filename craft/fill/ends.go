package fill

import (
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/stock"
)

// What becomes of a mark.
const (
	CutOff   = "cut away"
	TakenOut = "taken out"
	PlanedGo = "planed off"
	SandedGo = "sanded off"
	Steamed  = "steamed"
	Stays    = "left"
	Firmed   = "hardened"
	KeptHard = "kept"
	Filled   = "filled"
)

// beside is how far from a board a mark lies at most whose cutting away is told, mm.
const beside = 20

// End is what becomes of a mark on the wood of a board.
type End struct {
	Flaw string `json:"flaw" doc:"Id of the flaw"`
	Name string `json:"name" doc:"What it is"`
	End  string `json:"end" enum:"cut away,taken out,planed off,sanded off,steamed,left,hardened,kept,filled" doc:"How"`
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
			if end, ok := endsOf[v.Chosen]; ok {
				e.End, e.By = end, ""
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

// endsOf are the ends of what is not filled, by what is chosen for it.
var endsOf = map[string]string{Leave: Stays, SandOut: SandedGo, Steam: Steamed, Hardened: Firmed}

// Marks is how deep the marks are on a board's show face and on its under face that are to be
// sanded out, mm.
func Marks(voids []Void) (show, under float64) {
	for _, v := range voids {
		switch {
		case v.Chosen != SandOut:
		case v.Under:
			under = max(under, v.Depth)
		default:
			show = max(show, v.Depth)
		}
	}
	return show, under
}

// How many worm holes a dm² make wood wormy, and what share of a board's minutes they may take
// (rules).
const (
	wormyHoles = 15
	wormyShare = 0.2
)

// Wormy judges the worm holes of a board by its face, mm², and its hands-on minutes; ok is false
// where it has none.
func Wormy(voids []Void, area, minutes float64) (v craft.Verdict, ok bool) {
	holes, takes := 0.0, 0.0
	for _, o := range voids {
		if o.kind != stock.Worm {
			continue
		}
		holes += float64(o.Count)
		for _, c := range o.Coats {
			_, setup := plan.Rate(plan.ThinGlue, 0)
			each, _ := plan.Rate(plan.ThinGlue, float64(o.Count))
			takes += (each - setup) * float64(c.Layers)
		}
	}
	if holes == 0 || area <= 0 {
		return v, false
	}
	dense, share := holes/(area/1e4), 0.0
	if minutes > 0 {
		share = takes / minutes
	}
	v = craft.Verdict{
		Check: "wormy", Stage: craft.Fill, Level: craft.Over(dense, wormyHoles, math.Inf(1)), Limit: wormyHoles,
		Finding: "The worm holes are few enough to be filled",
		Reason:  "Every hole is cleaned, filled in layers and looked at again: at some point it is not worth it.",
		Figure: craft.Figure{
			Key: "fill.worm", Stage: craft.Fill, Label: "Worm holes a dm²", Value: dense, Unit: craft.Count,
			Formula: "holes within the board ÷ its face; or their share of the board's minutes, against a fifth",
			Terms: []craft.Term{
				{Name: "holes", Value: holes, Unit: craft.Count}, {Name: "face", Value: area / 100, Unit: craft.CM2},
				{Name: "minutes at them", Value: takes, Unit: craft.Minute},
				{Name: "share of the board's", Value: share * 100, Unit: craft.Percent},
			},
			Source: "rule of the trade", Rule: true,
		},
	}
	if share > wormyShare {
		v.Level = craft.Mind
	}
	if v.Level != craft.Good {
		v.Finding = "Wormy: reject it, or keep it for show"
	}
	return v, true
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
