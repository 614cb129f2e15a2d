// Package finish reckons oils, pastes and curing finishes: grams a coat, the
// waits between, and when a board is ready for food. Areas in mm², masses in
// grams, times in minutes unless said otherwise.
package finish

import (
	"fmt"
	"math"

	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/stage"
)

// Choice is how a board is finished.
type Choice struct {
	School string  `json:"school" enum:"oil,oil bath,oil then paste,paste alone,hard wax,curing oil" doc:"Its name"`
	Coats  int     `json:"coats" doc:"0 for the school's usual number; of oil then paste, the coats of oil"`
	Ratio  float64 `json:"ratio" range:"1,10" doc:"Oil to wax in the paste, by mass"`
}

// School is a way to finish, by its usual figures; a product's data sheet
// overrides them.
type School struct {
	Name    string  `json:"name" doc:"As the trade calls it"`
	Coats   int     `json:"coats" doc:"How many are usual"`
	Most    int     `json:"most" doc:"The most coats"`
	Face    float64 `json:"face" doc:"First coat on face grain, g/m²"`
	Soak    float64 `json:"soak" doc:"Minutes until wiped"`
	Between float64 `json:"between" doc:"Minutes between coats"`
	Buff    float64 `json:"buff" doc:"Minutes after the coat until it is buffed; negative when it is not"`
	Food    float64 `json:"food" doc:"Days after the last coat until food"`
	Curing  bool    `json:"curing" doc:"Its rags heat themselves"`
	Words   string  `json:"words" doc:"What it is, in a note"`
	paste   bool    // a coat of paste comes last
}

// The schools.
const (
	Oil          = "oil"
	OilBath      = "oil bath"
	OilThenPaste = "oil then paste"
	PasteAlone   = "paste alone"
	HardWax      = "hard wax"
	CuringOil    = "curing oil"
)

// Paste is the product of the coats that hold wax; every other school is called
// by its product, or takes oil.
const Paste = "paste"

const hour, day = 60, 24 * 60

// Schools lists the ways to finish.
var Schools = []School{
	{
		Name:    Oil,
		Words:   "food-grade mineral oil",
		Coats:   3,
		Most:    4,
		Face:    70,
		Soak:    2 * hour,
		Between: 12 * hour,
		Buff:    -1,
		Food:    3,
	},
	{Name: OilBath, Words: "food-grade mineral oil", Coats: 1, Most: 1, Face: 110, Soak: 12 * hour, Buff: -1, Food: 3},
	{
		Name:    OilThenPaste,
		Words:   "oil and beeswax",
		Coats:   1,
		Most:    2,
		Face:    70,
		Soak:    12 * hour,
		Between: 12 * hour,
		Buff:    20,
		Food:    3,
		paste:   true,
	},
	{
		Name:    PasteAlone,
		Words:   "oil and beeswax paste",
		Coats:   1,
		Most:    2,
		Face:    25,
		Soak:    15,
		Between: 12 * hour,
		Buff:    0,
		Food:    1,
	},
	{
		Name:    HardWax,
		Words:   "hard-wax oil",
		Coats:   2,
		Most:    3,
		Face:    30,
		Soak:    15,
		Between: 24 * hour,
		Buff:    15,
		Food:    14,
		Curing:  true,
	},
	{
		Name:    CuringOil,
		Words:   "a curing oil",
		Coats:   3,
		Most:    5,
		Face:    40,
		Soak:    15,
		Between: 24 * hour,
		Buff:    -1,
		Food:    30,
		Curing:  true,
	},
}

// EndGrain is how many times as much end grain drinks (rule).
const EndGrain = 3.5

// pasteFace is what a coat of paste takes on face grain, g/m².
const pasteFace = 25

// Find is the school of that name; the first when there is none.
func Find(name string) School {
	for _, s := range Schools {
		if s.Name == name {
			return s
		}
	}
	return Schools[0]
}

// Check reports an unknown choice.
func (c Choice) Check(field string) (ps craft.Problems) {
	ps.InRange(field, c)
	names := make([]string, len(Schools))
	for i, s := range Schools {
		names[i] = s.Name
	}
	ps.OneOf(field+".school", c.School, names...)
	ps.Range(field+".coats", float64(c.Coats), 0, float64(Find(c.School).Most))
	return ps
}

// Surface is what drinks: the whole of it and the end grain in it, mm².
type Surface struct{ Whole, End float64 }

// Grams that a coat of so many g/m² takes.
func (s Surface) Grams(perM2 float64) float64 {
	return (s.Whole - s.End + s.End*EndGrain) * perM2 / 1e6
}

// Coat is one coat.
type Coat struct {
	Product string  `json:"product" enum:"oil,paste,hard wax,curing oil" doc:"What is put on"`
	Grams   float64 `json:"grams" doc:"What it takes, g"`
	Soak    float64 `json:"soak" doc:"Minutes until wiped"`
	Buff    float64 `json:"buff" doc:"Minutes until buffed; negative when it is not"`
	Wait    float64 `json:"wait" doc:"Minutes until the next coat"`

	Working craft.Figure `json:"working" doc:"The grams"`
}

// PasteMix is oil and wax melted together.
type PasteMix struct {
	Grams  float64 `json:"grams" doc:"All of it, g"`
	OilG   float64 `json:"oilG" doc:"Oil, g"`
	OilML  float64 `json:"oilMl" doc:"Oil, ml"`
	WaxG   float64 `json:"waxG" doc:"Wax, g"`
	WaxML  float64 `json:"waxMl" doc:"Wax, ml"`
	Weeps  float64 `json:"weeps" doc:"Temperature above which it sweats, °C"`
	MeltAt float64 `json:"meltAt" doc:"Beeswax melts from, °C"`
}

// Densities, g/ml.
const (
	oilDensity = 0.85
	waxDensity = 0.96
)

// MixPaste splits grams of paste at n parts of oil to one of wax by mass.
func MixPaste(grams, n float64) PasteMix {
	oil, wax := grams*n/(n+1), grams/(n+1)
	return PasteMix{
		Grams:  grams,
		OilG:   oil,
		OilML:  oil / oilDensity,
		WaxG:   wax,
		WaxML:  wax / waxDensity,
		Weeps:  weeps(n),
		MeltAt: 62,
	}
}

// weeps interpolates the guide: 50 °C at 2:1, 45 at 3:1, 40 at 4:1.
func weeps(n float64) float64 { return min(55, max(35, 60-5*n)) }

// Plan is how a board is finished.
type Plan struct {
	School School       `json:"school" doc:"Way to finish"`
	Coats  []Coat       `json:"coats" doc:"In their order"`
	Grams  craft.Figure `json:"grams" doc:"All coats"`
	Paste  *PasteMix    `json:"paste,omitempty" doc:"What of the paste is mixed, where the school has one"`
	Food   craft.Figure `json:"food" doc:"Days after the last coat until food"`
}

// Make plans the coats over a surface in a shop of a temperature in °C: the plan, and
// the record of the stage.
func Make(s Surface, c Choice, temperature float64, pace plan.Pace) (Plan, stage.Record) {
	school := Find(c.School)
	n := c.Coats
	if n == 0 {
		n = school.Coats
	}
	out := Plan{School: school}
	product := Oil
	switch school.Name {
	case HardWax, CuringOil:
		product = school.Name
	case PasteAlone:
		product = Paste
	}
	first := s.Grams(school.Face)
	grams := first
	for range n {
		coat := Coat{Product: product, Grams: grams, Soak: school.Soak, Buff: school.Buff, Wait: school.Between}
		if school.paste {
			coat.Buff = -1
		}
		out.Coats = append(out.Coats, coat)
		grams /= 2
	}
	if school.paste {
		out.Coats = append(out.Coats, Coat{Product: Paste, Grams: s.Grams(pasteFace), Soak: school.Buff, Buff: 0})
	}
	out.Coats[len(out.Coats)-1].Wait = 0
	var total, paste float64
	for i := range out.Coats {
		coat := &out.Coats[i]
		coat.Working = s.working(i, *coat, school)
		total += coat.Grams
		if coat.Product == Paste {
			paste += coat.Grams
		}
	}
	if paste > 0 {
		p := MixPaste(paste, c.Ratio)
		out.Paste = &p
	}
	out.Grams = craft.Figure{
		Key: "finish.grams", Stage: craft.Finish, Label: "Finish, all coats", Value: total, Unit: craft.Gram,
		Formula: "(side grain + 3.5 × end grain) × grams a square metre, each further coat half of the one before",
		Terms: []craft.Term{
			{Name: "whole surface", Value: s.Whole / 1e6, Unit: craft.M2},
			{Name: "of it end grain", Value: s.End / 1e6, Unit: craft.M2},
			{
				Name:  "first coat",
				Value: school.Face,
				Unit:  "g/m²",
			},
			{Name: "first coat takes", Value: first, Unit: craft.Gram},
			{Name: "coats", Value: float64(len(out.Coats))},
		},
		Source: "usual figures for " + school.Name + "; the product's data sheet overrides them", Rule: true,
	}
	out.Food = craft.Figure{
		Key: "finish.food", Stage: craft.Finish, Label: "Rest before food", Value: school.Food, Unit: craft.Day,
		Formula: "days after the last coat", Source: "usual figures for " + school.Name + "; the product's data " +
			"sheet decides", Rule: true,
	}
	r := stage.Record{Stage: craft.Finish, Figures: []craft.Figure{out.Grams}}
	if out.Paste != nil {
		r.Figures = append(r.Figures, out.Paste.workings(c.Ratio)...)
	}
	r.Figures = append(r.Figures, out.Food)
	out.steps(&r, s, c, temperature, pace)
	helps(&r, c)
	return out, r
}

// unattended is from how long a soak on nobody comes back for it by the clock, minutes.
const unattended = 6 * hour

// flashOff is how long spirits take to flash off, minutes: 20 at 20 °C, twice as long
// for each 10 °C colder (rule).
func flashOff(temperature float64) float64 { return 20 * math.Pow(2, (20-temperature)/10) }

// steps lists the work: wipe, then each coat with its soak, its wiping or haze, its
// buffing and the wait for the next one. Whoever puts it on comes back to wipe.
func (p Plan) steps(r *stage.Record, s Surface, c Choice, temperature float64, pace plan.Pace) {
	dust := r.Step(
		"Wipe off the dust",
		"Spirits also show the colour; let them flash off",
		plan.Work("wipe", plan.Wipe, 1, pace),
	)
	dust.Wait, dust.WaitFor = flashOff(temperature), "spirits to flash off"
	m2 := s.Whole / 1e6
	for i, coat := range p.Coats {
		key := fmt.Sprintf("coat-%d", i+1)
		title, detail := fmt.Sprintf("Coat %d: %s", i+1, coat.Product),
			craft.In(math.Round(coat.Grams*10)/10, craft.Gram)
		step := r.Step(title, detail, plan.Work(key, plan.Coat, m2, pace).On(coat.Product))
		step.Wait, step.WaitFor, step.Attended = coat.Soak, coat.Product+" to soak in", coat.Soak < unattended
		if coat.Product == Paste {
			r.Use(stage.Finish, "oil, in the paste", coat.Grams*c.Ratio/(c.Ratio+1), craft.Gram, key)
			r.Use(stage.Finish, "beeswax, in the paste", coat.Grams/(c.Ratio+1), craft.Gram, key)
		} else {
			r.Use(stage.Finish, coat.Product, coat.Grams, craft.Gram, key)
		}
		rest := plan.Rack
		if c.School == OilBath {
			rest = plan.Bath
		}
		if coat.Product == Paste {
			step.WaitFor = "paste to haze"
		} else {
			step.Holding(rest)
			step = r.Step("Wipe off what stays wet", "", plan.Work(fmt.Sprintf("wipe-%d", i+1), plan.Wipe, 1, pace))
		}
		last := i == len(p.Coats)-1
		if coat.Buff >= 0 {
			if coat.Product != Paste {
				step.Wait, step.WaitFor, step.Attended = coat.Buff, coat.Product+" to haze", true
			}
			step.Holding(rest)
			step = r.Step("Buff", "", plan.Work(fmt.Sprintf("buff-%d", i+1), plan.Buff, m2, pace))
		}
		if !last {
			step.Wait, step.WaitFor = coat.Wait, "the next coat"
		}
		step.Holding(rest)
		if last {
			step.Rest = p.Food.Value * day
		}
	}
}

// helps lists the quicker schools, and one coat in place of several.
func helps(r *stage.Record, c Choice) {
	for _, school := range []string{PasteAlone, Oil, OilThenPaste} {
		if school != c.School {
			r.Help("Finish with "+school, "finish", map[string]any{"school": school, "coats": 0})
		}
	}
	if c.Coats != 1 {
		r.Help("One coat only", "finish", map[string]any{"coats": 1})
	}
}

// working shows how the grams of the i-th coat came about.
func (s Surface) working(i int, coat Coat, school School) craft.Figure {
	f := craft.Figure{
		Key: "finish.coat", Stage: craft.Finish, Label: fmt.Sprintf("Coat %d, %s", i+1, coat.Product),
		Value: coat.Grams, Unit: craft.Gram, Rule: true,
		Source: "usual figures for " + school.Name + "; the product's data sheet overrides them",
	}
	per := school.Face
	switch {
	case school.paste && coat.Product == Paste:
		per = pasteFace
	case i > 0:
		f.Formula, f.Terms = "half of the coat before", []craft.Term{
			{Name: "the coat before", Value: 2 * coat.Grams, Unit: craft.Gram},
		}
		return f
	}
	f.Formula = "(side grain + 3.5 × end grain) × grams a square metre"
	f.Terms = []craft.Term{
		{Name: "side grain", Value: (s.Whole - s.End) / 1e6, Unit: craft.M2},
		{Name: "end grain", Value: s.End / 1e6, Unit: craft.M2},
		{Name: "takes", Value: per, Unit: "g/m²"},
	}
	return f
}

// workings shows how a paste of n parts of oil to one of wax is mixed.
func (p PasteMix) workings(n float64) []craft.Figure {
	figure := func(key, label string, v float64, unit craft.Unit, formula, source string,
		terms ...craft.Term) craft.Figure {
		return craft.Figure{
			Key:     key,
			Stage:   craft.Finish,
			Label:   label,
			Value:   v,
			Unit:    unit,
			Formula: formula,
			Terms:   terms,
			Source:  source,
			Rule:    true,
		}
	}
	grams, parts := craft.Term{
		Name:  "paste",
		Value: p.Grams,
		Unit:  craft.Gram,
	}, craft.Term{
		Name:  "oil to one of wax",
		Value: n,
	}
	return []craft.Figure{
		figure(
			"finish.paste-oil",
			"Oil in the paste",
			p.OilG,
			craft.Gram,
			"paste × n ÷ (n + 1), by mass",
			"ratio by mass",
			grams,
			parts,
			craft.Term{Name: "by volume", Value: p.OilML, Unit: craft.ML},
		),
		figure(
			"finish.paste-wax",
			"Wax in the paste",
			p.WaxG,
			craft.Gram,
			"paste ÷ (n + 1), by mass",
			"ratio by mass",
			grams,
			parts,
			craft.Term{Name: "by volume", Value: p.WaxML, Unit: craft.ML},
		),
		figure(
			"finish.weeps",
			"The paste sweats above",
			p.Weeps,
			craft.Celsius,
			"60 − 5 × n",
			"guide: {50 °C} at 2:1, {45 °C} at 3:1, {40 °C} at 4:1",
			parts,
			craft.Term{Name: "beeswax melts from", Value: p.MeltAt, Unit: craft.Celsius},
		),
	}
}
