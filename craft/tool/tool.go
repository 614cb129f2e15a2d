// Package tool is what a workshop cuts wood with, and the limits of each tool:
// saws and what turns a curve, machines, boring bits, the router with its bits
// and bushes, drums. Lengths and diameters in mm.
//
// A Kit holds what one workshop owns. Whatever is cut asks it: the lay-out for
// kerf and stroke, a shape for the tightest turn, a recess for its bit.
package tool

import (
	"fmt"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/measure"
)

// Kit is what a workshop owns to cut wood with.
type Kit struct {
	Machines Machines  `json:"machines" doc:"Limits of the machines"`
	Blades   []Blade   `json:"blades" doc:"What saws curves"`
	Bits     []float64 `json:"bits" mm:"1,150,when" doc:"Diameters of boring bits, mm"`
	Drums    []float64 `json:"drums,omitempty" mm:"1,500,when" doc:"Radii of spindles and drums that sand hollows"`
	Router   Router    `json:"router,omitzero" doc:"The router with its bits and guide bushes"`
	Clamps   []Clamps  `json:"clamps,omitempty" doc:"What holds a glue-up together"`
}

// Clamps are some clamps of one kind and length.
type Clamps struct {
	Kind   string  `json:"kind" enum:"F-clamp,sash clamp,bar clamp,parallel clamp" doc:"What they are"`
	Length float64 `json:"length" mm:"50,3000" doc:"Widest that they open, mm"`
	Count  int     `json:"count" range:"0,100" doc:"How many there are"`
}

// ClampKind is a kind of clamps with the force that one gives, N (rule).
type ClampKind struct {
	Kind   string  `json:"kind" doc:"As the trade calls it"`
	Rating float64 `json:"rating" doc:"Force that it gives, N"`
}

// ClampKinds lists the kinds of clamps.
var ClampKinds = []ClampKind{
	{"F-clamp", 2700}, {"sash clamp", 4500}, {"bar clamp", 6000}, {"parallel clamp", 6700},
}

// Rating is the force that one of the clamps gives, N.
func (c Clamps) Rating() float64 {
	for _, k := range ClampKinds {
		if k.Kind == c.Kind {
			return k.Rating
		}
	}
	return ClampKinds[0].Rating
}

// Machines are the limits of the shop's machines, mm; 0 where there is none.
type Machines struct {
	PlanerWidth    float64 `json:"planerWidth" mm:"0,3000" doc:"Widest blank through the planer or drum"`
	PlanerShortest float64 `json:"planerShortest" mm:"0,3000" doc:"Shortest piece that is safe through it"`
	CrossCut       float64 `json:"crossCut" mm:"0,5000" doc:"Widest cross-cut of the mitre or table saw"`
	SawThickness   float64 `json:"sawThickness" mm:"0,1000" doc:"Thickest stock the curve saw takes"`
	DrillTravel    float64 `json:"drillTravel,omitempty" mm:"0,500" doc:"How far the drill press travels"`
}

// Blade is something that cuts curves, with the least radius it turns.
type Blade struct {
	Name   string  `json:"name" doc:"As the maker calls it"`
	Radius float64 `json:"radius" doc:"Least radius that it turns, mm"`
}

// CurveSaw is the saw for an outline: the band saw, unless only a jigsaw is owned.
func (k Kit) CurveSaw() string {
	saw := BandSaw
	for _, b := range k.Blades {
		switch {
		case strings.HasPrefix(b.Name, BandSaw):
			return BandSaw
		case strings.HasPrefix(b.Name, Jigsaw):
			saw = Jigsaw
		}
	}
	return saw
}

// Threaded are the blades that get into a hole: those of a jigsaw.
func Threaded(blades []Blade) []Blade {
	return slices.DeleteFunc(slices.Clone(blades), func(b Blade) bool { return !strings.HasPrefix(b.Name, Jigsaw) })
}

// InnerSaw is the saw for what is cut inside an outline: the jigsaw, unless blades are
// owned and none is its.
func (k Kit) InnerSaw() string {
	if len(k.Blades) > 0 && len(Threaded(k.Blades)) == 0 {
		return FretSaw
	}
	return Jigsaw
}

// narrowSlot is the widest slot that a saw blade cuts, mm.
const narrowSlot = 4

// SlotTool cuts a straight slot so wide, mm, across a face: a saw where one pass does.
func SlotTool(width float64) string {
	if width <= narrowSlot {
		return TableSaw
	}
	return RouterTool
}

// Check reports what cannot be right.
func (k Kit) Check(field string) (ps craft.Problems) {
	m := k.Machines
	ps.InRange(field+".machines", m)
	ps = append(ps, k.Router.Check(field+".router")...)
	if len(k.Blades) > 50 || len(k.Bits) > 100 || len(k.Drums) > 40 {
		ps.Add(field, "one of its lists of tools is too long", "keep at most 50 blades, 40 drums and 100 bits")
	}
	if len(k.Clamps) > 20 {
		ps.Add(field+".clamps", "there are too many kinds", "list at most 20, each with its number")
	}
	for i, c := range k.Clamps {
		at := fmt.Sprintf("%s.clamps[%d]", field, i)
		ps.InRange(at, c)
		ps.OneOf(at+".kind", c.Kind, "F-clamp", "sash clamp", "bar clamp", "parallel clamp")
	}
	for i, b := range k.Blades {
		ps.Length(fmt.Sprintf("%s.blades[%d].radius", field, i), b.Radius, 0, 1000)
	}
	for i, b := range k.Bits {
		ps.Length(fmt.Sprintf("%s.bits[%d]", field, i), b, 1, 150)
	}
	for i, d := range k.Drums {
		ps.Length(fmt.Sprintf("%s.drums[%d]", field, i), d, 1, 300)
	}
	return ps
}

// Usual is a small shop's kit to begin with.
func Usual() Kit {
	return Kit{
		Machines: Machines{PlanerWidth: 310, PlanerShortest: 300, CrossCut: 300, SawThickness: 150, DrillTravel: 60},
		Blades:   []Blade{{Name: "band saw, 1/4\" blade", Radius: 16}, {Name: "jigsaw", Radius: 25}},
		Bits:     slices.Clone(UsualBits[measure.Millimetre]),
		Drums:    []float64{6.5, 13, 25},
		Clamps:   []Clamps{{"bar clamp", 900, 4}, {"F-clamp", 400, 6}},
		Router: Router{
			Base: 150, Bushes: []float64{17, 24, 30},
			Bits: []RouterBit{
				{Kind: Straight, Diameter: 6, Length: 16}, {Kind: Straight, Diameter: 12, Length: 25},
				{Kind: RoundNose, Diameter: 12, Length: 14}, {Kind: RoundNose, Diameter: 8, Length: 12},
				{Kind: FlushTrim, Diameter: 12.7, Length: 25, Bearing: 12.7},
				{Kind: RoundOver, Diameter: 6, Length: 12, Bearing: 9.5},
				{Kind: Chamfer, Diameter: 22, Length: 12, Bearing: 9.5},
			},
		},
	}
}

// UsualBits are the boring bits of a small drawer, by the unit they are sold in,
// smallest first, mm.
var UsualBits = map[measure.Unit][]float64{
	measure.Millimetre: {6, 8, 10, 20, 25, 28, 30, 35},
	measure.Inch:       inches(1./4, 5./16, 3./8, 1./2, 5./8, 3./4, 7./8, 1, 1+1./8, 1+1./4, 1+3./8, 1+1./2),
}

func inches(sizes ...float64) []float64 {
	for i := range sizes {
		sizes[i] *= measure.MMPerInch
	}
	return sizes
}

// UsualBlades lists what saws curves, with the least radius it turns, mm (rule).
var UsualBlades = []Blade{
	{"band saw, 1/8\" blade", 5}, {"band saw, 3/16\" blade", 8}, {"band saw, 1/4\" blade", 16},
	{"band saw, 3/8\" blade", 36}, {"band saw, 1/2\" blade", 64}, {"band saw, 3/4\" blade", 138},
	{"jigsaw, scroll blade", 12}, {"jigsaw", 25},
}
