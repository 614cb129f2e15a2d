package fill

import (
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/rule"
)

// Resin is a kind of epoxy by its usual figures; its own data sheet overrides
// them. Times are at 25 °C.
type Resin struct {
	Name      string
	Parts     float64 // parts of resin to one of hardener, by volume
	Mass      float64 // grams of hardener to 100 of resin
	A, B      float64 // density of resin and hardener, g/ml
	Pour      float64 // deepest pour, mm
	Working   float64 // minutes
	TackFrom  float64 // hours until the next pour bonds; 0 without a window
	TackTo    float64
	DemouldH  float64
	SandHours float64
	FullDays  float64
	Coldest   float64 // °C

	beside []Resin // all kinds, this one among them
}

// Resins lists the kinds.
var Resins = []Resin{
	{
		Name:      "quick",
		Parts:     1,
		Mass:      87,
		A:         1.15,
		B:         1.00,
		Pour:      4,
		Working:   5,
		DemouldH:  0.5,
		SandHours: 4,
		FullDays:  1,
		Coldest:   15,
	},
	{
		Name:      "coating",
		Parts:     1,
		Mass:      83,
		A:         1.15,
		B:         0.96,
		Pour:      6,
		Working:   40,
		TackFrom:  3,
		TackTo:    8,
		DemouldH:  12,
		SandHours: 24,
		FullDays:  7,
		Coldest:   18,
	},
	{
		Name:      "casting",
		Parts:     2,
		Mass:      44,
		A:         1.13,
		B:         1.00,
		Pour:      25,
		Working:   180,
		TackFrom:  8,
		TackTo:    16,
		DemouldH:  36,
		SandHours: 48,
		FullDays:  7,
		Coldest:   18,
	},
	{
		Name:      "deep pour",
		Parts:     3,
		Mass:      28,
		A:         1.12,
		B:         0.95,
		Pour:      50,
		Working:   480,
		TackFrom:  18,
		TackTo:    36,
		DemouldH:  72,
		SandHours: 96,
		FullDays:  10,
		Coldest:   16,
	},
}

// Kinds lists the names of the resins.
func Kinds() []string {
	names := make([]string, len(Resins))
	for i, r := range Resins {
		names[i] = r.Name
	}
	return names
}

// ResinOf is the usual resin of a kind; ok is false where there is none.
func ResinOf(name string) (r Resin, ok bool) {
	i := slices.IndexFunc(Resins, func(r Resin) bool { return r.Name == name })
	if i < 0 {
		return Resins[2], false
	}
	return Resins[i], true
}

// By is the choice in a shop whose products have data sheets of their own: what those say of a kind goes before its
// usual figures.
func (c Choice) By(sheets []Resin) Choice {
	c.sheets = sheets
	return c
}

// Kind is the resin of a kind, by its data sheet where there is one.
func (c Choice) Kind(name string) Resin {
	r, _ := ResinOf(name)
	r.beside = make([]Resin, len(Resins))
	for i, usual := range Resins {
		r.beside[i] = usual
		for _, own := range c.sheets {
			if own.Name == usual.Name {
				r.beside[i] = own
			}
		}
		if usual.Name == r.Name {
			beside := r.beside
			r = beside[i]
			r.beside = beside
		}
	}
	return r
}

// slower is the factor on every time at a temperature in °C: twice for each
// 10 °C below 25.
func slower(temperature float64) float64 { return math.Pow(2, (25-temperature)/10) }

func (r Resin) pours(depth float64) float64 { return max(1, math.Ceil(depth/r.Pour-1e-9)) }

// topUp is what a pour is topped up by each time, as a share of it (rule).
const topUp = 0.10

// between is the wait in minutes until the next pour at 25 °C: into the tack
// window, or, without one or where each pour is scuffed, until it can be sanded.
func (r Resin) between(scuff bool) float64 {
	if r.TackFrom > 0 && !scuff {
		return r.TackFrom * 60
	}
	return r.SandHours * 60
}

// ByVolume splits ml of mixture into grams of resin and hardener.
func (r Resin) ByVolume(ml float64) (a, b float64) {
	return ml * r.Parts / (r.Parts + 1) * r.A, ml / (r.Parts + 1) * r.B
}

// ByMass splits ml of a mixture of the given density (g/ml) into grams, hard
// grams of hardener to 100 of resin.
func ByMass(ml, density, hard float64) (a, b float64) {
	total := ml * density
	return total * 100 / (100 + hard), total * hard / (100 + hard)
}

// mixed is the density of the mixture by mass, g/ml: masses over volumes, not the mean
// of the densities.
func (r Resin) mixed() float64 { return (100 + r.Mass) / (100/r.A + r.Mass/r.B) }

// Mix is the resin to mix for a board.
type Mix struct {
	resin Resin

	Kind      string       `json:"kind" doc:"Kind of resin"`
	Net       craft.Figure `json:"net" doc:"Voids filled with resin, ml"`
	Total     craft.Figure `json:"total" doc:"To mix, ml"`
	ResinG    craft.Figure `json:"resinG" doc:"Resin, g"`
	HardenerG craft.Figure `json:"hardenerG" doc:"Hardener, g"`
	ResinML   float64      `json:"resinMl" doc:"Resin, ml"`
	HardML    float64      `json:"hardenerMl" doc:"Hardener, ml"`
	PigmentG  float64      `json:"pigmentG" doc:"Pigment, g"`
	Colour    string       `json:"colour" doc:"In words"`
	Batch     Batch        `json:"batch" doc:"What is weighed at once"`
	Batches   int          `json:"batches" doc:"How many for each pour: the scale or the cup holds no more"`
	TopUps    int          `json:"topUps" doc:"How often a pour is topped up while it sinks"`
	TopUpML   float64      `json:"topUpMl" doc:"What that takes each time, ml; it is not in the first mix"`
	BoxAt     float64      `json:"boxAt" doc:"What a warm box would be kept at, °C"`
	CupML     float64      `json:"cupMl" doc:"What stays in each cup, ml"`
	TackTo    float64      `json:"tackTo" doc:"Minutes after a pour until which the next bonds; 0 without a window"`
	Scuffed   bool         `json:"scuffed" doc:"Each pour is sanded before the next"`
	Warm      float64      `json:"warm" doc:"A box over it is kept so warm, °C; 0 without"`
	RatioOff  float64      `json:"ratioOff" doc:"Error of the ratio from one step of the scale, %"`
	Pours     int          `json:"pours" doc:"How many pours, one upon the other"`
	Between   float64      `json:"between" doc:"Minutes between pours"`
	Working   float64      `json:"working" doc:"Minutes at the shop's temperature"`
	Demould   float64      `json:"demould" doc:"Minutes"`
	Sand      float64      `json:"sand" doc:"Minutes until it can be sanded"`
	Full      float64      `json:"full" doc:"Days to full cure"`
	Warms     Warming      `json:"warms" doc:"How the pour that keeps its heat best warms"`

	// Figures are everything about the mix, in the order in which it is needed; they
	// are sent among the figures of the board.
	Figures []craft.Figure `json:"-"`
}

// Batch is what is weighed at once, g.
type Batch struct {
	ResinG    float64 `json:"resinG" doc:"Resin, g"`
	HardenerG float64 `json:"hardenerG" doc:"Hardener, g"`
	PigmentG  float64 `json:"pigmentG" doc:"Pigment, last, g"`
}

// split is so many ml of the mix, g of resin and hardener.
func (m Mix) split(ml float64) (a, b float64) {
	share := ml / m.Total.Value
	return m.ResinG.Value * share, m.HardenerG.Value * share
}

// density is that of the mix, g/ml.
func (m Mix) density() float64 { return (m.ResinG.Value + m.HardenerG.Value) / m.Total.Value }

// leastMix is the smallest batch that can be measured well, g (rule).
const leastMix = 20

// mostBatches bounds the batches of a pour, whatever the cup.
const mostBatches = 50

// cupWeighs is what an empty cup takes of what the scale bears, g (rule).
const cupWeighs = 20

// Pour reckons the resin for the voids that are filled with it; ok is false
// when none is.
func Pour(voids []Void, c Choice, k Conditions) (mix Mix, verdicts []craft.Verdict, ok bool) {
	r, temperature := c.Kind(c.Resin), c.Air(k.Temperature)
	var net, deepest float64
	var warmest Void // of those in which a pour warms the most
	var terms []craft.Term
	for _, v := range voids {
		ml := v.resinML()
		if ml <= 0 {
			continue
		}
		ok = true
		net += ml
		deepest = max(deepest, v.resinDepth())
		if v.lump() > warmest.lump() {
			warmest = v
		}
		terms = append(terms, craft.Term{Name: v.Name, Value: ml, Unit: craft.ML})
	}
	if !ok {
		return mix, nil, false
	}
	soak, cup, pours := k.Habit.soak(k.Rules), k.Habit.cup(k.Rules), r.pours(deepest)
	density := r.mixed()
	if !c.ByMass {
		a, b := r.ByVolume(1)
		density = a + b
	}
	batches := 1.0
	mixed := func() float64 {
		return max(net*soak+cup*pours*batches+c.Reserve, leastMix*pours*batches/density)
	}
	for ; batches < mostBatches; batches++ {
		one := mixed() / pours / batches
		if (k.Cup == 0 || one <= k.Cup) && (k.ScaleMost == 0 || one*density <= k.ScaleMost-cupWeighs) {
			break
		}
	}
	total := mixed() // every pour, and of it every cup, is a batch of its own
	a, b := r.ByVolume(total)
	formula, source := "to mix × parts ÷ all parts × density",
		"usual figures for "+r.Name+" resin, by volume; its data sheet overrides them"
	if c.ByMass {
		a, b = ByMass(total, r.mixed(), r.Mass)
		formula, source = "to mix × density × grams ÷ all grams",
			"usual figures for "+r.Name+" resin, by mass; its data sheet overrides them"
	}
	slow := slower(temperature)
	figure := func(key, label string, v float64, unit craft.Unit, formula, source string,
		terms ...craft.Term) craft.Figure {
		return craft.Figure{
			Key:     key,
			Stage:   craft.Fill,
			Label:   label,
			Value:   v,
			Unit:    unit,
			Formula: formula,
			Terms:   terms,
			Source:  source,
			Rule:    true,
		}
	}
	parts := func(name string) craft.Term { return craft.Term{Name: name, Value: total, Unit: craft.ML} }
	mix = Mix{
		resin: r, Kind: r.Name,
		Net: figure(
			"fill.net",
			"Voids to fill with resin",
			net,
			craft.ML,
			"sum of the voids within the outline",
			"volume by kind of void",
			terms...),
		Total: figure(
			"fill.total",
			"Resin to mix",
			total,
			craft.ML,
			"voids × soak + left in the cup × pours × batches of each + reserve, at least {20 g} a batch",
			k.Habit.source(),
			craft.Term{
				Name:  "voids",
				Value: net,
				Unit:  craft.ML,
			},
			craft.Term{Name: "soak", Value: soak},
			craft.Term{Name: "left in the cup", Value: cup, Unit: craft.ML},
			craft.Term{Name: "pours", Value: pours},
			craft.Term{Name: "batches of each", Value: batches},
			craft.Term{Name: "reserve", Value: c.Reserve, Unit: craft.ML},
		),
		ResinG: figure(
			"fill.resin",
			"Resin",
			a,
			craft.Gram,
			formula,
			source,
			parts("to mix"),
			craft.Term{Name: "parts to one", Value: r.Parts},
			craft.Term{Name: "density", Value: r.A, Unit: "g/ml"},
		),
		HardenerG: figure(
			"fill.hardener",
			"Hardener",
			b,
			craft.Gram,
			formula,
			source,
			parts("to mix"),
			craft.Term{Name: "grams to 100 of resin", Value: r.Mass},
			craft.Term{Name: "density", Value: r.B, Unit: "g/ml"},
		),
		ResinML: a / r.A, HardML: b / r.B, PigmentG: c.Colour.share() / 100 * (a + b),
		RatioOff: k.ScaleStep / b * pours * batches * 100,
		Pours: int(
			pours,
		), Between: r.between(c.Scuff) * slow, TackTo: r.TackTo * 60 * slow, Scuffed: c.Scuff || r.TackTo == 0,
		Batches: int(
			batches,
		), Colour: c.Colour.String(), TopUps: int(math.Round(k.Rules.Get(rule.TopUps))), Warm: c.Warm, CupML: cup,
		BoxAt: r.Coldest + warmer,
		TopUpML: max(
			net*soak*topUp/pours+cup,
			leastMix/density,
		), Working: r.WorkingIn(total/pours/batches, temperature),
		Demould: r.DemouldH * 60 * slow, Sand: r.SandHours * 60 * slow, Full: r.FullDays * slow,
	}
	mix.Batch = Batch{a / pours / batches, b / pours / batches, mix.PigmentG / pours / batches}
	sheet := "usual figures for " + r.Name + " resin; its data sheet overrides them"
	cure := func(key, label string, v float64, unit craft.Unit, warm float64) craft.Figure {
		return figure(
			key,
			label,
			v,
			unit,
			"time at {25 °C}, twice as long at {15 °C}, four times at {5 °C}",
			sheet,
			craft.Term{Name: "at {25 °C}", Value: warm, Unit: unit},
			craft.Term{Name: "the shop's air", Value: temperature, Unit: craft.Celsius},
		)
	}
	mix.Figures = []craft.Figure{
		mix.Net, mix.Total, mix.ResinG, mix.HardenerG,
		figure(
			"fill.resin-ml",
			"Resin, by volume",
			mix.ResinML,
			craft.ML,
			"grams ÷ density",
			sheet,
			craft.Term{Name: "resin", Value: a, Unit: craft.Gram},
			craft.Term{Name: "density", Value: r.A, Unit: "g/ml"},
		),
		figure(
			"fill.hardener-ml",
			"Hardener, by volume",
			mix.HardML,
			craft.ML,
			"grams ÷ density",
			sheet,
			craft.Term{Name: "hardener", Value: b, Unit: craft.Gram},
			craft.Term{Name: "density", Value: r.B, Unit: "g/ml"},
		),
		figure(
			"fill.pigment",
			"Pigment, at the most",
			mostPigment*(a+b)/100,
			craft.Gram,
			"a twentieth of the mass mixed",
			sheet,
			craft.Term{Name: "resin and hardener", Value: a + b, Unit: craft.Gram},
		),
		figure(
			"fill.ratio",
			"One step of the scale is off by",
			mix.RatioOff,
			craft.Percent,
			"smallest step of the scale ÷ hardener of a batch",
			"the shop's scale",
			craft.Term{Name: "step", Value: k.ScaleStep, Unit: craft.Gram},
			craft.Term{Name: "hardener", Value: mix.Batch.HardenerG, Unit: craft.Gram},
		),
		figure(
			"fill.pours",
			"Pours",
			float64(mix.Pours),
			craft.Count,
			"deepest void ÷ deepest pour, rounded up",
			sheet,
			craft.Term{Name: "deepest void", Value: deepest, Unit: craft.MM},
			craft.Term{Name: "deepest pour", Value: r.Pour, Unit: craft.MM},
		),
	}
	if mix.Pours > 1 {
		mix.Figures = append(
			mix.Figures,
			cure("fill.between", "Between two pours", mix.Between, craft.Minute, r.between(c.Scuff)),
		)
		if !mix.Scuffed {
			mix.Figures = append(mix.Figures,
				cure("fill.tack", "The next pour bonds until", mix.TackTo, craft.Minute, r.TackTo*60))
		}
	}
	if mix.TopUps > 0 {
		mix.Figures = append(mix.Figures, figure(
			"fill.top-up", "Mixed anew to top it up, each time", mix.TopUpML, craft.ML,
			"a tenth of a pour + left in the cup, at least {20 g}; not in the first mix", k.Habit.source(),
			craft.Term{Name: "a pour, with what soaks in", Value: net * soak / pours, Unit: craft.ML},
			craft.Term{Name: "left in the cup", Value: cup, Unit: craft.ML},
			craft.Term{Name: "times", Value: float64(mix.TopUps)},
		))
	}
	mix.Figures = append(
		mix.Figures,
		figure(
			"fill.working", "Work within", mix.Working, craft.Minute,
			"until a tenth of a batch has cured, in a cup as high as wide: a large one warms itself", sheet,
			craft.Term{Name: "batch", Value: total / pours / batches, Unit: craft.ML},
			craft.Term{Name: "the shop's air", Value: temperature, Unit: craft.Celsius},
			craft.Term{Name: "working time at {25 °C}", Value: r.Working, Unit: craft.Minute},
		),
		cure("fill.demould", "Off the dam after", mix.Demould, craft.Minute, r.DemouldH*60),
		cure("fill.sand", "Sand after", mix.Sand, craft.Minute, r.SandHours*60),
		cure("fill.full", "Full cure", mix.Full, craft.Day, r.FullDays),
	)
	verdicts = append(verdicts, cold(r, warmest, temperature), deep(r, deepest, mix.Pours), c.Colour.pigmented())
	if v, ok := k.Habit.reserved(net, c.Reserve); ok {
		verdicts = append(verdicts, v)
	}
	if warmest.lump() > 0 {
		mix.Warms = r.Warms(warmest.layer(r), temperature)
		verdicts = append(verdicts, hot(r, warmest, mix.Warms, temperature))
	}
	return mix, verdicts, true
}

// layer is the lump of one pour of a resin into the void, mm.
func (v Void) layer(r Resin) float64 { return v.lump() / r.pours(v.resinDepth()) }

// lump is the depth of a flat pour that would keep its heat as this void does, mm: twice its
// volume over its surface, its walls counted by its width.
func (v Void) lump() float64 {
	deep := v.resinDepth()
	if v.Area <= 0 || deep <= 0 {
		return 0
	}
	across := max(v.Width, 0.1)
	walls := (2*v.Area/across + 2*across) * deep
	return 2 * v.Area * deep / (2*v.Area + walls)
}

func resinPatch(name string) craft.Patch {
	return craft.Patch{"fill": map[string]any{"resin": name}}
}

// hottest is up to what air a pour behaves as its figures say, °C (rule).
const hottest = 30

// cold judges whether it is warm enough about the pour; the void is the one that keeps its heat
// best.
func cold(r Resin, v Void, temperature float64) craft.Verdict {
	out := warmEnough(r, temperature)
	if temperature >= r.Coldest {
		return out
	}
	if box := r.Coldest + warmer; r.Warms(v.layer(r), box).Peak <= CoolPeak {
		out.Remedies = append(out.Remedies, craft.Remedy{
			Label: "Warm a box over it to " + craft.In(box, craft.Celsius),
			Patch: craft.Patch{"fill": map[string]any{"warm": box}},
		})
	}
	return out
}

func warmEnough(r Resin, temperature float64) craft.Verdict {
	v := craft.Verdict{
		Check: "resin-temperature", Stage: craft.Fill, Level: craft.Good, Limit: r.Coldest, AtLeast: true,
		Finding: "Warm enough for the resin", Reason: "Below its temperature resin stays soft or cures cloudy.",
		Figure: craft.Figure{
			Key:     "fill.temperature",
			Stage:   craft.Fill,
			Label:   "The shop's air",
			Value:   temperature,
			Unit:    craft.Celsius,
			Formula: "the shop's temperature, against the coldest that the kind bears",
			Source:  "usual figures for " + r.Name + " resin",
		},
	}
	if temperature > hottest {
		v.Level, v.Finding = craft.Mind, "Too warm to pour at leisure: pour less at a time, or in the cool of the day"
		v.Reason = "Warm resin works shorter and heats itself: a depth that its kind bears at {25 °C} may crack or " +
			"smoke."
		v.Limit, v.AtLeast = hottest, false
		return v
	}
	if temperature >= r.Coldest {
		return v
	}
	v.Level, v.Finding = craft.Stop, "Too cold for "+r.Name+" resin: warm the room or the piece, or take another kind"
	for _, other := range r.beside {
		if temperature >= other.Coldest {
			v.Remedies = append(
				v.Remedies,
				craft.Remedy{Label: "Use " + other.Name + " resin", Patch: resinPatch(other.Name)},
			)
		}
	}
	return v
}

// hot judges how hot the pour into a void gets that keeps its heat best.
func hot(r Resin, v Void, w Warming, temperature float64) craft.Verdict {
	out := craft.Verdict{
		Check: "resin-heat", Stage: craft.Fill, Level: craft.Over(w.Peak, CoolPeak, HotPeak), Limit: CoolPeak,
		Finding: "The pour stays cool", Reason: "Hot resin smokes, cracks, and checks the wood about it.",
		Figure: craft.Figure{
			Key: "fill.heat", Stage: craft.Fill, Label: "Hottest, in the " + v.Name, Value: w.Peak, Unit: craft.Celsius,
			Formula: "what its curing gives off, less what flows off through its surface, from minute to minute",
			Terms: []craft.Term{
				{Name: "as a flat pour", Value: v.layer(r), Unit: craft.MM},
				{Name: "the shop's air", Value: temperature, Unit: craft.Celsius},
				{Name: "working time at {25 °C}", Value: r.Working, Unit: craft.Minute},
				{Name: "hottest after", Value: w.At * 60, Unit: craft.Minute},
			},
			Source: "a lump that cures by itself; its data sheet comes first", Rule: true,
		},
	}
	if out.Level == craft.Good {
		return out
	}
	out.Finding = "The pour gets hot: pour thinner, in the cool of the day, or a slower kind"
	for _, other := range r.beside {
		if other.Coldest <= temperature && other.Warms(v.layer(other), temperature).Peak <= CoolPeak {
			out.Remedies = append(out.Remedies,
				craft.Remedy{Label: "Use " + other.Name + " resin", Patch: resinPatch(other.Name)})
		}
	}
	return out
}

func deep(r Resin, depth float64, pours int) craft.Verdict {
	v := craft.Verdict{
		Check: "resin-depth", Stage: craft.Fill, Level: craft.Good, Limit: r.Pour, Finding: "Poured in one go",
		Reason: "A pour deeper than its kind bears heats itself, cracks and can smoke.",
		Figure: craft.Figure{
			Key:     "fill.depth",
			Stage:   craft.Fill,
			Label:   "Deepest void",
			Value:   depth,
			Unit:    craft.MM,
			Formula: "deepest void filled with resin, against the deepest pour of the kind",
			Source:  "usual figures for " + r.Name + " resin",
		},
	}
	if pours < 2 {
		return v
	}
	v.Level, v.Finding = craft.Mind, "Deeper than one pour: it is poured in layers"
	for _, other := range r.beside {
		if other.Pour >= depth {
			v.Remedies = append(
				v.Remedies,
				craft.Remedy{Label: "Use " + other.Name + " resin, in one pour", Patch: resinPatch(other.Name)},
			)
			break
		}
	}
	return v
}
