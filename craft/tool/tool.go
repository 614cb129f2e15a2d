// Package tool is what a workshop cuts, planes, bores and sands wood with, and the
// limits of each tool. Lengths and diameters in mm.
//
// A Kit holds what one workshop owns. Whatever is cut asks it: the lay-out for
// kerf and stroke, a shape for the tightest turn, a recess for its bit. Who makes a
// thing, and who else could, is told by Kit.Who.
package tool

import (
	"fmt"
	"slices"

	"idletimber/craft"
	"idletimber/craft/measure"
)

// Kit is what a workshop owns to work wood with.
type Kit struct {
	Starter string `json:"starter,omitempty" doc:"The starter shop that it began as; empty until one was chosen"`

	Tools  []Tool    `json:"tools" doc:"Machines and hand tools, each with its limits"`
	Blades []Blade   `json:"blades" doc:"What saws curves"`
	Bits   []Bit     `json:"bits" doc:"Boring bits"`
	Drums  []float64 `json:"drums,omitempty" mm:"1,500,when" doc:"Radii of spindles and drums that sand hollows"`
	Router Router    `json:"router,omitzero" doc:"The router with its bits and guide bushes"`
	Clamps []Clamps  `json:"clamps,omitempty" doc:"What holds a glue-up together"`
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

// Blade is something that cuts curves, with the least radius it turns.
type Blade struct {
	Saw    string  `json:"saw" enum:"band saw,jigsaw" doc:"That it goes into"`
	Name   string  `json:"name" doc:"As the maker calls it"`
	Width  float64 `json:"width,omitempty" mm:"0,60" doc:"From its teeth to its back, mm; 0 where it is not known"`
	Radius float64 `json:"radius" mm:"0,1000" doc:"Least radius that it turns, mm"`
}

// The kinds of boring bits.
const (
	Twist     = "twist"
	BradPoint = "brad point"
	Spade     = "spade"
	Forstner  = "forstner"
	HoleSaw   = "hole saw"
	Sinker    = "countersink"
)

// BitKinds lists the kinds of boring bits.
var BitKinds = []string{Twist, BradPoint, Spade, Forstner, HoleSaw, Sinker}

// Bit is one boring bit.
type Bit struct {
	Kind     string  `json:"kind" enum:"twist,brad point,spade,forstner,hole saw,countersink" doc:"How it cuts"`
	Diameter float64 `json:"diameter" mm:"1,150" doc:"mm"`
	Length   float64 `json:"length" mm:"5,600" doc:"How deep it bores, mm"`
}

// NewBit is a boring bit of a diameter, mm, as it is sold: its kind and its length by
// its size.
func NewBit(diameter float64) Bit {
	switch {
	case diameter <= 3.5:
		return Bit{Twist, diameter, 40}
	case diameter <= 13:
		return Bit{BradPoint, diameter, 90}
	case diameter <= 60:
		return Bit{Forstner, diameter, 80}
	}
	return Bit{HoleSaw, diameter, 35}
}

// NewBits are boring bits of some diameters, mm, as they are sold.
func NewBits(diameters ...float64) []Bit {
	out := make([]Bit, len(diameters))
	for i, d := range diameters {
		out[i] = NewBit(d)
	}
	return out
}

// Bores are the diameters of the bits that bore a hole, smallest first, mm.
func (k Kit) Bores() (out []float64) {
	for _, b := range k.Bits {
		if b.Kind != Sinker {
			out = append(out, b.Diameter)
		}
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// Deepest is how deep the longest bit of just that diameter bores, mm; 0 without one.
func (k Kit) Deepest(diameter float64) (deep float64) {
	for _, b := range k.Bits {
		if b.Kind != Sinker && SameSize(b.Diameter, diameter) {
			deep = max(deep, b.Length)
		}
	}
	return deep
}

// CurveSaw is the saw for an outline: the first of band saw and jigsaw that is owned with
// a blade, the first that is owned where no blades are listed, and a hand saw else.
func (k Kit) CurveSaw() string {
	for _, saw := range []string{BandSaw, Jigsaw} {
		if k.Has(saw) && (len(k.Blades) == 0 || k.bladed(saw)) {
			return saw
		}
	}
	return HandSaw
}

func (k Kit) bladed(saw string) bool {
	return slices.ContainsFunc(k.Blades, func(b Blade) bool { return b.Saw == saw })
}

// Threaded are the blades that get into a hole: those of a jigsaw.
func Threaded(blades []Blade) []Blade {
	return slices.DeleteFunc(slices.Clone(blades), func(b Blade) bool { return b.Saw != Jigsaw })
}

// Check reports what cannot be right.
func (k Kit) Check(field string) (ps craft.Problems) {
	if len(k.Starter) > 100 {
		ps.Add(field+".starter", "the name is too long", "give the name of a starter shop")
	}
	lists := []struct {
		name   string
		n, max int
	}{
		{"tools", len(k.Tools), 60}, {"blades", len(k.Blades), 50}, {"bits", len(k.Bits), 100},
		{"drums", len(k.Drums), 40}, {"clamps", len(k.Clamps), 20},
	}
	for _, l := range lists {
		if l.n > l.max {
			ps.Add(field+"."+l.name, "there are too many", fmt.Sprintf("keep at most %d", l.max))
		}
	}
	for i, t := range k.Tools {
		ps = append(ps, t.Check(fmt.Sprintf("%s.tools[%d]", field, i))...)
	}
	ps = append(ps, k.Router.Check(field+".router")...)
	for i, c := range k.Clamps {
		at := fmt.Sprintf("%s.clamps[%d]", field, i)
		ps.InRange(at, c)
		ps.OneOf(at+".kind", c.Kind, "F-clamp", "sash clamp", "bar clamp", "parallel clamp")
	}
	for i, b := range k.Blades {
		at := fmt.Sprintf("%s.blades[%d]", field, i)
		ps.InRange(at, b)
		ps.OneOf(at+".saw", b.Saw, BandSaw, Jigsaw)
	}
	for i, b := range k.Bits {
		at := fmt.Sprintf("%s.bits[%d]", field, i)
		ps.InRange(at, b)
		ps.OneOf(at+".kind", b.Kind, BitKinds...)
	}
	for i, d := range k.Drums {
		ps.Length(fmt.Sprintf("%s.drums[%d]", field, i), d, 1, 300)
	}
	return ps
}

// UsualBits are the diameters of the boring bits of a small drawer, by the unit they
// are sold in, smallest first, mm.
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

// UsualBlades lists what saws curves, with its width and the least radius it turns, mm
// (rule).
var UsualBlades = []Blade{
	{BandSaw, "band saw, 1/8\" blade", 3.2, 5}, {BandSaw, "band saw, 3/16\" blade", 4.8, 8},
	{BandSaw, "band saw, 1/4\" blade", 6.4, 16}, {BandSaw, "band saw, 3/8\" blade", 9.5, 36},
	{BandSaw, "band saw, 1/2\" blade", 12.7, 64}, {BandSaw, "band saw, 3/4\" blade", 19, 138},
	{Jigsaw, "jigsaw, scroll blade", 5, 12}, {Jigsaw, "jigsaw", 8, 25},
}
