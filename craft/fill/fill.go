// Package fill reckons voids: what of them falls within a board, how much
// they hold, what to fill them with, and what resin to mix. Lengths in mm,
// volumes in ml, masses in grams, times in minutes unless said otherwise.
package fill

import (
	"math"
	"slices"
	"sort"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/stock"
)

// Choice is how a board's voids are filled.
type Choice struct {
	Resin   string            `json:"resin" enum:"quick,coating,casting,deep pour" doc:"Kind of resin"`
	ByMass  bool              `json:"byMass" doc:"Proportion by mass, otherwise by volume"`
	Reserve float64           `json:"reserve" range:"0,20000" doc:"Spare resin against leaks, ml"`
	Fillers map[string]string `json:"fillers" doc:"Filler chosen by hand, by flaw id"`
}

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
	return ps
}

// bottomless is deeper than any slab; the board's other face cuts it off, mm.
const bottomless = 1e5

// extent is what of a flaw lies inside a ring, on the face.
type extent struct {
	length float64 // of a crack, mm
	area   float64 // mm²
	count  int     // of worm holes, rounded up
}

func (e extent) plus(o extent) extent {
	return extent{e.length + o.length, e.area + o.area, max(e.count, o.count)}
}

func (e extent) times(k float64) extent { return extent{e.length * k, e.area * k, e.count} }

// finest is how often a run of levels is halved where a tilted flaw enters or
// leaves the ring.
const finest = 10

// mean is the mean over the levels from a to b: halved until both ends and the
// middle agree.
func mean(level func(float64) extent, a, b float64, at, to extent, halvings int) extent {
	mid := level((a + b) / 2)
	straight := at.plus(to).times(0.5)
	if halvings == 0 ||
		math.Abs(mid.area-straight.area) < 1e-4*max(mid.area, straight.area) &&
			math.Abs(at.area-to.area) < 0.5*max(at.area, to.area, 1e-9) ||
		mid.area+straight.area == 0 {
		return straight.plus(mid).times(0.5)
	}
	return mean(level, a, (a+b)/2, at, mid, halvings-1).plus(mean(level, (a+b)/2, b, mid, to, halvings-1)).times(0.5)
}

// extentOf measures a flaw inside a ring; of one that goes through askew it is
// the mean over its levels.
func extentOf(f stock.Flaw, inside geom.Ring) (e extent) {
	if f.Tilted() {
		level := func(share float64) extent {
			at := f.At(share)
			at.Tilt = nil
			return extentOf(at, inside)
		}
		const runs = 8
		before := level(0)
		for i := range runs {
			to := float64(i+1) / runs
			after := level(to)
			e = e.plus(mean(level, to-1.0/runs, to, before, after, finest).times(1.0 / runs))
			before = after
		}
		return e
	}
	switch f.Kind {
	case stock.Crack:
		for _, part := range geom.Within(f.Line, inside) {
			e.length += geom.Length(part)
		}
		e.area = e.length * f.Width
	case stock.Bark, stock.Soft:
		for _, r := range geom.Common(f.Line, inside) {
			e.area += r.Area()
		}
	case stock.Worm:
		e.count = int(math.Ceil(float64(f.Count)*f.Ellipse().Share(inside) - 1e-6))
		e.area = float64(e.count) * math.Pi / 4 * f.Diameter * f.Diameter
	default:
		e.area = math.Pi * f.A * f.B * f.Ellipse().Share(inside)
	}
	return e
}

// excess is the volume of a flaw inside the ring that lies deeper than h
// below its face, mm³, without regard to the board's other face.
func (e extent) excess(f stock.Flaw, inside geom.Ring, h, pocket float64) float64 {
	depth := f.Depth
	if f.Through {
		depth = bottomless
	}
	left := max(0, depth-h)
	switch f.Kind {
	case stock.Crack:
		if !f.Slot && !f.Through {
			return e.area * left * left / (2 * depth)
		}
	case stock.Knot:
		if f.Sound() {
			return 0
		}
		if !f.Through {
			return f.Ellipse().Bowl(inside, depth, h)
		}
	case stock.Bark, stock.Soft:
		return e.area * left * pocket
	}
	return e.area * left
}

// volume in ml; see Volume.
func (e extent) volume(f stock.Flaw, inside geom.Ring, t, off float64, rules rule.Set) float64 {
	pocket := rules.Get(rule.PocketFill)
	return max(0, e.excess(f, inside, off, pocket)-e.excess(f, inside, off+t, pocket)) / 1000
}

// Volume in ml of the part of a flaw inside the ring (slab's frame) in a
// board t mm thick, after flattening took off mm from the flaw's face.
func Volume(f stock.Flaw, inside geom.Ring, t, off float64, rules rule.Set) float64 {
	return extentOf(f, inside).volume(f, inside, t, off, rules)
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
	kind    stock.Kind
}

// Bears reports a void filled with what carries load.
func (v Void) Bears() bool { return fillerOf(v.Chosen).bears }

// Site is the board that voids are looked for in.
type Site struct {
	Flaws     []stock.Flaw
	Outline   geom.Ring // slab's frame
	Thickness float64   // when voids are filled, mm
	Off       float64   // flattening took off each face, mm
	Flipped   bool      // the slab's under face is the show face
	Rules     rule.Set
}

// Measure finds the voids of a board and what they hold.
func Measure(s Site) []Void {
	out := []Void{}
	box := s.Outline.Bounds()
	for _, f := range s.Flaws {
		if f.Sound() {
			continue
		}
		if f.Bounds().Apart(box) > 0 {
			continue
		}
		if v := s.void(f); v.Volume >= 0.001 {
			out = append(out, v)
		}
	}
	return out
}

// void measures one flaw; its working names what was put in.
func (s Site) void(f stock.Flaw) Void {
	e := extentOf(f, s.Outline)
	v := Void{
		Flaw: f.ID, Name: f.Name(), Through: f.Through || f.Depth-s.Off >= s.Thickness, kind: f.Kind,
		Depth: min(
			s.Thickness,
			f.Depth-s.Off,
		), Area: e.area, Volume: e.volume(f, s.Outline, s.Thickness, s.Off, s.Rules), Count: max(1, e.count),
	}
	if f.Through {
		v.Depth = s.Thickness
	}
	v.Under = !v.Through && f.Under != s.Flipped
	var formula string
	var terms []craft.Term
	switch f.Kind {
	case stock.Crack:
		v.Width, formula = f.Width, "length within the board × width × depth"
		if !f.Slot && !f.Through {
			v.Width *= v.Depth / f.Depth
			formula += " ÷ 2, for a V"
		}
		terms = []craft.Term{
			{Name: "length within the board", Value: e.length, Unit: craft.MM},
			{Name: "width on the face", Value: f.Width, Unit: craft.MM},
		}
	case stock.Bark, stock.Soft:
		v.Width, formula = math.Sqrt(v.Area), "area within the board × depth × the share that is hollow"
		terms = []craft.Term{
			{Name: "area within the board", Value: v.Area, Unit: craft.MM2},
			{Name: "hollow share", Value: s.Rules.Get(rule.PocketFill)},
		}
	case stock.Worm:
		v.Width, formula = f.Diameter, "holes within the board × π/4 × diameter² × depth"
		terms = []craft.Term{
			{Name: "holes within the board", Value: float64(e.count)},
			{Name: "diameter", Value: f.Diameter, Unit: craft.MM},
		}
	default:
		v.Width, formula = 2*min(f.A, f.B), "area within the board × depth"
		if f.Kind == stock.Knot && !f.Through {
			formula = "half an ellipsoid, 2/3 × π × a × b × depth, as far as it lies within the board"
		}
		terms = []craft.Term{
			{Name: "half-axis a", Value: f.A, Unit: craft.MM},
			{Name: "half-axis b", Value: f.B, Unit: craft.MM},
			{Name: "area within the board", Value: v.Area, Unit: craft.MM2},
		}
	}
	if !f.Through {
		terms = append(
			terms,
			craft.Term{Name: "depth as marked", Value: f.Depth, Unit: craft.MM},
			craft.Term{Name: "flattened off that face", Value: s.Off, Unit: craft.MM},
		)
	}
	v.Working = craft.Figure{
		Key: "fill.void", Stage: craft.Fill, Label: "The " + v.Name + " holds", Value: v.Volume, Unit: craft.ML,
		Formula: formula + ", less what flattening takes and what lies below the under face",
		Terms: append(
			terms,
			craft.Term{Name: "thickness when filled", Value: s.Thickness, Unit: craft.MM},
		), Source: "volume by kind of void", Rule: f.Kind == stock.Bark || f.Kind == stock.Soft,
	}
	return v
}

// Choose ranks what fills each void at the shop's temperature in °C and
// picks the best unless the maker has. A board without feet is turned over and
// used on both faces.
func Choose(voids []Void, c Choice, temperature float64, feet bool) []Void {
	out := slices.Clone(voids)
	for i := range out {
		v := &out[i]
		v.Options = rank(*v, kindOf(c.Resin), temperature, feet)
		v.Chosen = v.Options[0].Name
		if name, ok := c.Fillers[v.Flaw]; ok {
			v.Chosen, v.ByHand = name, true
		}
	}
	return out
}

// caLayers is how many layers of cyanoacrylate are worth the patience.
const caLayers = 3

// The fillers.
const (
	Leave    = "leave"
	ThinCA   = "thin CA"
	MediumCA = "medium CA, tinted"
	GlueDust = "glue and sanding dust"
	Putty    = "putty"
	Wicked   = "wicked thin glue"
	Epoxy    = "epoxy"
)

// Filler is a way to fill a void.
type Filler struct {
	Name string  `json:"name"`
	Wait float64 `json:"wait" doc:"Minutes until it can be worked; of epoxy by its kind"`
	Food string  `json:"food" doc:"Whether it may lie on a food face"`
	Good string  `json:"good" doc:"What it is good for"`

	work  plan.Kind // whose rate it follows
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
			return v.Under &&
				(feet || v.Width <= hairline), "for the underside of a board with feet, or hairlines there"
		},
	}, {
		Name: ThinCA, Wait: 10, Food: "yes when cured", Good: "runs into worm holes and hairlines, layer on layer",
		work: plan.ThinGlue,
		fits: func(v Void, _ bool) (bool, string) {
			return v.Width <= 3 && v.Depth <= caLayers*3 &&
				!v.Through, "for up to {3} wide, in at most three layers of {3}"
		},
	}, {
		Name: MediumCA, Wait: 20, Food: "yes when cured", Good: "fills small holes in layers, tinted to match",
		work: plan.ThinGlue,
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
			return v.Width <= 4 && v.Depth <= 4, "for up to {4} wide and deep, not in a groove or handle"
		},
	}, {
		Name: Wicked, Wait: 240, Food: "yes", Good: "drawn into a deep hairline", work: plan.ThinGlue,
		fits: func(v Void, _ bool) (bool, string) {
			return v.kind == stock.Crack && v.Width <= 0.6, "for hairline cracks"
		},
	}, {
		Name: Epoxy, Food: perSheet, Good: "anything larger, and whatever carries load", proud: true, bears: true,
		fits: func(Void, bool) (bool, string) { return true, "" },
	},
}

// rank orders the fillers: those that fit first, then by the time they take,
// then in the table's order, which is by cost.
func rank(v Void, r Resin, temperature float64, feet bool) []Option {
	out := make([]Option, 0, len(Fillers))
	for _, f := range Fillers {
		ok, limit := f.fits(v, feet)
		o := Option{Name: f.Name, Fits: ok, Wait: f.Wait, Food: f.Food, Reason: f.Good}
		if !ok {
			o.Reason = limit
		}
		if f.Name == Epoxy {
			o.Wait = r.pours(v.Depth) * r.SandHours * 60 * slower(temperature)
		}
		out = append(out, o)
	}
	sort.SliceStable(out, func(i, j int) bool {
		if out[i].Fits != out[j].Fits {
			return out[i].Fits
		}
		return out[i].Wait < out[j].Wait
	})
	return out
}
