// Package fill reckons voids: what of them falls within a board, how much
// they hold, what to fill them with, and what resin to mix. Lengths in mm,
// volumes in ml, masses in grams, times in minutes unless said otherwise.
package fill

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/species"
	"idletimber/craft/stock"
)

// Choice is how a board's voids are filled.
type Choice struct {
	Resin   string            `json:"resin" enum:"quick,coating,casting,deep pour" doc:"Kind of resin"`
	ByMass  bool              `json:"byMass" doc:"Proportion by mass, otherwise by volume"`
	Reserve float64           `json:"reserve" range:"0,20000" doc:"Spare resin against leaks, ml"`
	Fillers map[string]string `json:"fillers" doc:"Filler chosen by hand, by flaw id"`
	Scuff   bool              `json:"scuff,omitempty" doc:"Each pour is sanded before the next"`
	Rounds  int               `json:"rounds,omitempty" range:"-1,6" doc:"Of pinholes; 0 the usual, -1 none left"`
	Below   map[string]Below  `json:"below,omitempty" doc:"What goes in first, below the filler, by flaw id"`
	Colour  *Colour           `json:"colour,omitempty" doc:"Of the resin; left out where it is clear"`
	Warm    float64           `json:"warm,omitempty" range:"0,45" doc:"A box over it is kept so warm, °C; 0 without"`
	sheets  []Resin           // of the shop's products

	Dots string `json:"dots,omitempty" enum:",epoxy" doc:"What fills pinholes: left out for thin CA"`
}

// Below is what goes into the bottom of a void, from the bottom up, before its filler.
type Below []Layer

// Layer is one filler that goes into a void so deep.
type Layer struct {
	Filler string  `json:"filler" doc:"What"`
	Depth  float64 `json:"depth" mm:"0.2,200" doc:"How much of the depth it fills, mm"`
}

// Air is how warm it is about a pour, °C, in a shop as warm as that.
func (c Choice) Air(shop float64) float64 { return max(shop, c.Warm) }

// Check reports an unknown choice.
func (c Choice) Check(field string) (ps craft.Problems) {
	ps.InRange(field, c)
	ps.OneOf(field+".resin", c.Resin, Kinds()...)
	names := make([]string, len(Fillers))
	for i, f := range Fillers {
		names[i] = f.Name
	}
	for id, name := range c.Fillers {
		ps.OneOf(field+".fillers."+id, name, names...)
	}
	ps.OneOf(field+".dots", c.Dots, "", Epoxy)
	ps = append(ps, c.Colour.Check(field+".colour")...)
	const mostLayers = 6
	for id, below := range c.Below {
		if len(below) > mostLayers {
			ps.Add(field+".below."+id, "there are too many fillers", fmt.Sprintf("give at most %d", mostLayers))
			continue
		}
		for i, o := range below {
			at := fmt.Sprintf("%s.below.%s[%d]", field, id, i)
			ps.InRange(at, o)
			ps.OneOf(at+".filler", o.Filler, Underneath...)
		}
	}
	return ps
}

// Option is one filler for a void.
type Option struct {
	Name   string  `json:"name" doc:"Filler"`
	Fits   bool    `json:"fits" doc:"It can fill this void"`
	Wait   float64 `json:"wait" doc:"Minutes until it can be worked"`
	Food   string  `json:"food" doc:"Whether it may lie on a food face"`
	Reason string  `json:"reason" doc:"Why it fits, or does not"`
}

// Void is the part of a flaw that falls within the board.
type Void struct {
	Flaw    string       `json:"flaw" doc:"Id of the flaw"`
	Number  int          `json:"number" doc:"As it is called on the drawing, from 1"`
	Name    string       `json:"name" doc:"What it is, in words"`
	Under   bool         `json:"under" doc:"Only on the board's underside"`
	Through bool         `json:"through" doc:"It goes through the board"`
	Width   float64      `json:"width" doc:"On the face, mm"`
	Depth   float64      `json:"depth" doc:"After flattening, mm"`
	Area    float64      `json:"area" doc:"On the face, mm²"`
	Volume  float64      `json:"volume" doc:"ml"`
	Working craft.Figure `json:"working" doc:"How the volume came about"`
	Count   int          `json:"count" doc:"How many holes, for worm"`
	Options []Option     `json:"options" doc:"Fillers, the best first"`
	Chosen  string       `json:"chosen" doc:"Filler"`
	ByHand  bool         `json:"byHand" doc:"The filler was chosen by the maker"`
	Profile geom.Ring    `json:"profile" doc:"Cut across it: from its middle and down from the face, mm"`
	Coats   []Coat       `json:"coats" doc:"What goes in, from the bottom up, each with its wait"`
	Recipe  []string     `json:"recipe" doc:"How it is filled, in order"`
	Dam     string       `json:"dam,omitempty" doc:"What keeps resin in; left out where none is poured"`
	Outs    []geom.Point `json:"outs" doc:"Where it runs out of the outline: it leaks there, in the slab's frame"`
	Tone    *Tone        `json:"tone,omitempty" doc:"How its resin looks; left out where none is poured"`
	kind    stock.Kind
	wish    string
	zone    string
	pressed string
	wood    species.Species
	worked  bool // it lies in part in a hole, a notch or a recess
	live    bool // it runs out at a live edge
	tapers  bool // a V
	bowl    bool // half an ellipsoid
}

// Bears reports a void filled with what carries load.
func (v Void) Bears() bool { return fillerOf(v.Chosen).bears }

// Site is the board that voids are looked for in, in the slab's frame.
type Site struct {
	Flaws     []stock.Flaw
	Outline   geom.Ring
	Holes     []geom.Ring // cut through the board: what lies in them is cut away
	Sunk      []Sunk
	Thickness float64 // when voids are filled, mm
	Off       float64 // flattening took off each face, mm
	Flipped   bool    // the slab's under face is the show face
	Rules     rule.Set
	Extents   Extents               // of the same site measured at other depths; nil for none
	Grain     stock.Grain           // what the wood is; nil where nobody asks
	Live      func(geom.Point) bool // whether a place on the outline is a live edge; nil where none is
}

// Extents are what of each flaw lies within each region of a site, which does not hang on
// the depth at which it is measured: a site that is measured more than once keeps them.
type Extents map[within]extent

// within names a flaw, by its id, and a region of a site.
type within struct {
	flaw   string
	region int
}

// Sunk is a recess: what of a void lies above its floor is cut away.
type Sunk struct {
	Ring  geom.Ring
	Inner geom.Ring // what it runs round; nil of all else
	Depth float64   // of its floor at the least, mm
	Under bool      // it is sunk into the slab's under face
}

// nothing is the volume of a void that counts for none, ml.
const nothing = 0.001

// Measure finds the voids of a board and what they hold.
func Measure(s Site) []Void {
	out := make([]Void, 0, len(s.Flaws))
	box := s.Outline.Bounds()
	for _, f := range s.Flaws {
		if f.Sound() {
			continue
		}
		if f.Bounds().Apart(box) > 0 {
			continue
		}
		if v := s.void(f); v.Volume >= nothing {
			v.Outs = s.outs(f)
			v.live = s.Live != nil && slices.ContainsFunc(v.Outs, s.Live)
			if s.Grain != nil {
				v.wood = s.Grain.At(f.Middle()).Species
			}
			out = append(out, v)
		}
	}
	return out
}

// void measures one flaw; its working names what was put in.
func (s Site) void(f stock.Flaw) Void {
	m := s.measure(f)
	v := Void{
		Flaw: f.ID, Name: f.Name(), Through: f.Through || f.Depth-s.Off >= s.Thickness, kind: f.Kind, wish: f.Wish,
		zone: f.Zone, pressed: f.Pressed, Outs: []geom.Point{},
		tapers: f.Kind == stock.Crack && !f.Slot && !f.Through, bowl: f.Kind == stock.Knot && !f.Through,
		Depth: m.depth, Area: m.area, Volume: m.volume, Count: max(1, m.count), worked: m.worked,
	}
	v.Under = !v.Through && f.Under != s.Flipped
	area := craft.Term{Name: "area within the board", Value: v.Area, Unit: craft.MM2}
	var formula string
	var terms []craft.Term
	switch f.Kind {
	case stock.Crack:
		v.Width, formula = f.Width, "area within the board × depth"
		if !f.Slot && !f.Through {
			v.Width *= max(0, 1-s.Off/f.Depth)
			formula += " ÷ 2, for a V"
		}
		terms = []craft.Term{area, {Name: "width on the face", Value: f.Width, Unit: craft.MM}}
	case stock.Bark, stock.Soft, stock.Pocket, stock.Gone:
		v.Width, formula = math.Sqrt(v.Area), "area within the board × depth × the share that is hollow"
		terms = []craft.Term{area, {Name: "hollow share", Value: m.hollow}}
	case stock.Worm:
		v.Width, formula = f.Diameter, "holes within the board × π/4 × diameter² × depth"
		terms = []craft.Term{
			{Name: "holes within the board", Value: float64(m.count)},
			{Name: "diameter", Value: f.Diameter, Unit: craft.MM},
		}
	default:
		v.Width, formula = 2*min(f.A, f.B), "area within the board × depth"
		if f.Kind == stock.Knot && !f.Through {
			formula = "half an ellipsoid, 2/3 × π × a × b × depth, as far as it lies within the board"
		}
		terms = []craft.Term{
			{
				Name:  "half-axis a",
				Value: f.A,
				Unit:  craft.MM,
			}, {Name: "half-axis b", Value: f.B, Unit: craft.MM}, area,
		}
	}
	if !f.Through {
		terms = append(
			terms,
			craft.Term{Name: "depth as marked", Value: f.Depth, Unit: craft.MM},
			craft.Term{Name: "flattened off that face", Value: s.Off, Unit: craft.MM},
		)
	}
	less := ", less what flattening takes and what lies below the under face"
	if v.worked {
		less += ", and what holes and recesses take"
	}
	v.Working = craft.Figure{
		Key: "fill.void", Stage: craft.Fill, Label: "The " + v.Name + " holds", Value: v.Volume, Unit: craft.ML,
		Formula: formula + less,
		Terms: append(
			terms,
			craft.Term{Name: "thickness when filled", Value: s.Thickness, Unit: craft.MM},
		), Source: "volume by kind of void", Rule: m.hollow < 1,
	}
	v.Profile = s.profile(f, v)
	return v
}

// Choose ranks what fills each void at the shop's temperature in °C, picks the best unless the
// maker has, and tells how it is filled. A board without feet is turned over and used on both
// faces.
func Choose(voids []Void, c Choice, temperature float64, feet bool) []Void {
	out := slices.Clone(voids)
	for i := range out {
		v := &out[i]
		v.Number = i + 1
		v.Options = rank(*v, c.Kind(c.Resin), c.Air(temperature), feet)
		v.Chosen = v.Options[0].Name
		if name, ok := c.Fillers[v.Flaw]; ok {
			v.Chosen, v.ByHand = name, true
		}
		v.told(c, c.Kind(c.Resin), c.Air(temperature))
	}
	return out
}

// Cast is a single void of so many ml that is poured full, so deep, mm, with a face of so many mm²
// and so wide, in a shop as warm as that, °C.
func Cast(name string, ml, depth, area, wide float64, c Choice, temperature float64) []Void {
	const id = "cast"
	c.Fillers, c.Below = map[string]string{id: Epoxy}, nil
	v := Void{Flaw: id, Name: name, Volume: ml, Depth: depth, Area: area, Width: wide, Count: 1}
	return Choose([]Void{v}, c, temperature, false)
}

// caLayers is how many layers of cyanoacrylate are worth the patience, caLayer how
// deep one goes, mm.
const (
	caLayers = 3
	caLayer  = 3
)

// How deep a void may be that sanding takes out, and a dent that steam raises, mm.
const (
	sandable = 0.3
	pressed  = 1.5
)

// kept tells of soft wood that nobody has asked to be dug out: it stays until a nail tells.
func (v Void) kept() bool { return v.kind == stock.Soft && v.wish == "" && v.pressed == "" }

// waits is how long it takes until the void can be worked, minutes: each layer, and what goes
// on top.
func (f Filler) waits(v Void) float64 {
	wait := f.Wait * float64(f.layers(v.Depth))
	if f.then != "" {
		wait += fillerOf(f.then).Wait
	}
	return wait
}

// The fillers.
const (
	Leave    = "leave"
	SandOut  = "sand it out"
	Steam    = "steam it up"
	ThinCA   = "thin CA"
	MediumCA = "medium CA, tinted"
	GlueDust = "glue and sanding dust"
	Putty    = "putty"
	Wicked   = "wicked thin glue"
	Caulked  = "wicked thin glue, then putty"
	Sealed   = "wicked thin CA, then putty"
	Hardened = "harden it"
	Epoxy    = "epoxy"
)

// Filler is a way to fill a void.
type Filler struct {
	Name string  `json:"name"`
	Wait float64 `json:"wait" doc:"Minutes until it can be worked; of epoxy by its kind"`
	Food string  `json:"food" doc:"Whether it may lie on a food face"`
	Good string  `json:"good" doc:"What it is good for"`

	work  plan.Kind // whose rate it follows
	layer float64   // how deep one layer goes, mm; 0 where it is filled in one
	first string    // what of the shelf goes in first, where its name tells of more
	then  string    // the filler that goes on top when it has hardened
	proud bool      // it stands proud, so that the face is flattened again
	bears bool      // it carries load
	fits  func(v Void, feet bool) (bool, string)
}

// fillerOf is the filler of that name; the first when there is none.
func fillerOf(name string) Filler {
	for _, f := range Fillers {
		if f.Name == name {
			return f
		}
	}
	return Fillers[0]
}

// hairline is how wide a void on the underside may be left where both faces
// are used, mm.
const hairline = 0.5

const perSheet = "per its data sheet"

// Fillers lists the fillers, the cheapest first.
var Fillers = []Filler{
	{
		Name: Leave, Food: "–", Good: "nothing to do",
		fits: func(v Void, feet bool) (bool, string) {
			return v.kept() || v.Under && (feet || v.Width <= hairline),
				"for the underside of a board with feet, for hairlines there, and for soft wood that holds"
		},
	}, {
		Name: SandOut, Food: "yes", Good: "so shallow that sanding takes it out", work: plan.Putty,
		fits: func(v Void, _ bool) (bool, string) {
			return !v.Through && v.Depth <= sandable, "for up to {0.3} deep"
		},
	}, {
		Name: Steam, Wait: 60, Food: "yes", Good: "wet cloth and iron: pressed fibres rise again", work: plan.Putty,
		fits: func(v Void, _ bool) (bool, string) {
			return v.kind == stock.Dent && v.Depth <= pressed, "for dents up to {1.5} deep, where no fibre is cut"
		},
	}, {
		Name: ThinCA, Wait: 10, Food: "yes when cured", Good: "runs into worm holes and hairlines, layer on layer",
		work: plan.ThinGlue, layer: caLayer,
		fits: func(v Void, _ bool) (bool, string) {
			return v.Width <= 3 && v.Depth <= caLayers*caLayer &&
				!v.Through, "for up to {3} wide, in at most three layers of {3}"
		},
	}, {
		Name: MediumCA, Wait: 20, Food: "yes when cured", Good: "fills small holes in layers, tinted to match",
		work: plan.ThinGlue, layer: caLayer,
		fits: func(v Void, _ bool) (bool, string) {
			return v.Width <= 5 && v.Depth <= 6, "for up to {5} wide and {6} deep"
		},
	}, {
		Name: GlueDust, Wait: 60, Food: "yes", Good: "tear-out and seams", work: plan.Putty,
		fits: func(v Void, _ bool) (bool, string) {
			return v.Width <= 1 && v.Depth <= 3, "for up to {1} wide"
		},
	}, {
		Name: Putty, Wait: 240, Food: perSheet, Good: "shallow seams", work: plan.Putty, proud: true,
		fits: func(v Void, _ bool) (bool, string) {
			return v.Width <= 4 && v.Depth <= 4 && !v.worked,
				"for up to {4} wide and deep, not in a groove or handle"
		},
	}, {
		Name: Wicked, Wait: 240, Food: "yes", Good: "drawn into a deep hairline", work: plan.ThinGlue,
		fits: func(v Void, _ bool) (bool, string) {
			return v.kind == stock.Crack && v.Width <= 0.6, "for hairline cracks"
		},
	}, {
		Name: Caulked, Wait: 240, Food: perSheet, Good: "binds a narrow crack to its bottom, and closes it",
		work: plan.ThinGlue, first: Wicked, then: Putty, proud: true,
		fits: func(v Void, _ bool) (bool, string) {
			return v.kind == stock.Crack && v.Width <= 2 && !v.Through && !v.worked,
				"for cracks up to {2} wide that do not go through"
		},
	}, {
		Name: Sealed, Wait: 20, Food: perSheet, Good: "runs to the bottom of a narrow deep crack, and closes it",
		work: plan.ThinGlue, first: ThinCA, then: Putty, proud: true,
		fits: func(v Void, _ bool) (bool, string) {
			return v.kind == stock.Crack && v.narrow() && !v.Through && !v.worked,
				"for cracks up to {1.5} wide and deeper than {6} that do not go through"
		},
	}, {
		Name: Hardened, Wait: 60, Food: "yes when cured",
		Good: "soft wood that holds under a nail: it keeps its figure",
		work: plan.ThinGlue, first: ThinCA,
		fits: func(v Void, _ bool) (bool, string) {
			return v.kind == stock.Soft &&
				v.pressed == stock.Holds, "for soft wood that a nail does not sink into by more than {1}"
		},
	}, {
		Name: Epoxy, Food: perSheet, Good: "anything larger, and whatever carries load", proud: true, bears: true,
		fits: func(Void, bool) (bool, string) { return true, "" },
	},
}

// rank orders the fillers: those that fit first, then by the time they take,
// then in the table's order, which is by cost.
func rank(v Void, r Resin, temperature float64, feet bool) []Option {
	type placed struct {
		at    int // in the table
		wait  float64
		fits  bool
		limit string
	}
	order := make([]placed, len(Fillers))
	for i := range Fillers {
		f := &Fillers[i]
		o := placed{at: i, wait: f.waits(v)}
		if o.fits, o.limit = f.fits(v, feet); v.kind == stock.Pocket {
			o.fits, o.limit = f.Name == Epoxy, "for what is not cut to be cast"
		}
		if f.Name == Epoxy {
			o.wait = r.pours(v.Depth) * r.SandHours * 60 * slower(temperature)
		}
		order[i] = o
	}
	slices.SortStableFunc(order, func(a, b placed) int {
		if a.fits != b.fits {
			if a.fits {
				return -1
			}
			return 1
		}
		return cmp.Compare(a.wait, b.wait)
	})
	out := make([]Option, len(order))
	for i, o := range order {
		f := &Fillers[o.at]
		out[i] = Option{Name: f.Name, Fits: o.fits, Wait: o.wait, Food: f.Food, Reason: f.Good}
		if !o.fits {
			out[i].Reason = o.limit
		}
	}
	return out
}
