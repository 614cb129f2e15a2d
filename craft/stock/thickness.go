package stock

import (
	"idletimber/craft"
	"idletimber/craft/rule"
)

// Rough is how thick the piece is as it lies, and how far from flat, mm.
type Rough struct {
	Thinnest, Thickest, Mean float64 // of the readings

	Hollow float64 // cup or bow of the whole piece, the greater of both faces
	Wind   float64 // lift of the fourth corner, the greater of both faces
	Bowed  float64 // hollow and wind of the show face, the greater: what a saw's table meets

	Unshimmed bool    // wind is planed away from one side, not shared
	Uneven    bool    // an uneven thickness is accepted: no flattening
	Surfaced  float64 // thickness as delivered, flat; 0 when it was not thicknessed
	Faced     bool    // with a veneer that a planer would go through: it stays as thick as it is
	Veneer    float64 // thickness of its face veneer; 0 where it has none, or nobody knows
	Glued     bool    // in this shop, of parts: its faces take more to be clean
}

// clean is what cleaning a face of it takes off, mm.
func (r Rough) clean(rules rule.Set) float64 {
	if r.Glued {
		return rules.Get(rule.GlueClean)
	}
	return rules.Get(rule.FaceClean)
}

// Blank is what is flattened: its size and how it is treated.
type Blank struct {
	Length, Width float64 // of the blank as flattened, mm
	Table         float64 // how far across it reaches as it lies on a table, mm; 0 for its width
	Filled        int     // faces that are flattened again after filling, 0 to 2
	Marks         float64 // what taking marks out of both faces sands off beyond the usual, mm
	Target        float64 // wanted final thickness, 0 for all there is
	Faces         string  // what is done to its faces: made even, FlatOnly or SandOnly
}

// What may be done to the faces of a blank beside making them flat and even.
const (
	FlatOnly = "flat" // both are made flat, the thickness may vary
	SandOnly = "sand" // they are flat: only sanded
)

// Budget is the thickness from rough to sanded, mm. Planed is what is left
// before voids are filled; PerFace is what flattening takes off each face.
type Budget struct {
	Rough   float64 `json:"rough" doc:"As it was measured, mm"`
	Flat    float64 `json:"flat" doc:"The most that flattening leaves"`
	Planed  float64 `json:"planed" doc:"After planing to the wanted thickness, before voids are filled"`
	Filled  float64 `json:"filled" doc:"After filled faces are flattened again"`
	Sanded  float64 `json:"sanded" doc:"The final thickness, which every check uses"`
	Most    float64 `json:"most" doc:"The thickest that could be had"`
	PerFace float64 `json:"perFace" doc:"What flattening takes off each, mm"`
	Hollow  float64 `json:"hollow" doc:"Of this blank"`
	Wind    float64 `json:"wind" doc:"Of this blank"`
	Off     float64 `json:"off" doc:"What flattening takes off the thickest place, both faces; 0 where nothing is"`
	Level   float64 `json:"level" doc:"Of that, what makes the first face flat, mm"`
}

// Plan reckons the thickness budget of a blank cut from the slab. Hollow goes
// with the square of the width, wind with length times width.
func (w Wood) Plan(b Blank, rules rule.Set) Budget {
	width := w.MeanWidth()
	rough := w.Rough
	out := Budget{Rough: rough.Thinnest}
	surfaced := rough.Surfaced > 0
	if surfaced {
		out.Rough = rough.Surfaced
	}
	out.Flat = out.Rough
	wanted := b.Target > 0 && !rough.Faced && b.Faces == ""
	if !rough.Uneven && !surfaced && b.Faces != SandOnly {
		out.Hollow = rough.Hollow * sq(
			min(1, b.Width/width),
		) // a cup is hollow on one face and round on the other: it counts once
		out.Wind = rough.Wind * min(1, b.Length/w.Length) * min(1, b.Width/width)
		wind := out.Wind / 2
		if rough.Unshimmed {
			wind = out.Wind
		}
		out.Level = out.Hollow + wind + rough.clean(rules)
		out.Flat = out.Rough - out.Level - rough.clean(rules)
	}
	after := float64(b.Filled)*rules.Get(rule.Reflatten) + 2*rules.Get(rule.SandFace)
	out.Most = max(0, out.Flat-after-b.Marks)
	out.Planed = max(0, out.Flat)
	if wanted {
		out.Planed = min(out.Planed, b.Target+after)
	}
	out.Filled = max(0, out.Planed-float64(b.Filled)*rules.Get(rule.Reflatten))
	out.Sanded = max(0, out.Filled-2*rules.Get(rule.SandFace)-b.Marks)
	out.PerFace = (out.Rough - out.Planed) / 2
	thickest := rough.Thickest
	if surfaced {
		thickest = out.Rough
	}
	switch {
	case b.Faces == FlatOnly:
		out.Off = out.Rough - out.Planed
	case b.Faces == "" && (!rough.Uneven || b.Target > 0):
		out.Off = thickest - out.Planed
	}
	out.Off = positive(out.Off)
	out.Level = min(out.Level, out.Off)
	return out
}

// positive is v, and 0 for what rounding leaves of nothing.
func positive(v float64) float64 {
	if v <= 1e-9 {
		return 0
	}
	return v
}

// Milled is what it takes to mill a blank to a thickness, mm, and no more.
func (w Wood) Milled(to float64) Budget {
	return Budget{Rough: w.Rough.Thinnest, Planed: to, Off: positive(w.Rough.Thickest - to)}
}

// Wants is how thick a blank must be, rough, for the wanted thickness to be had from it,
// mm: the budget read from its end.
func (w Wood) Wants(b Blank, budget Budget, rules rule.Set) float64 {
	return b.Target + 2*rules.Get(rule.SandFace) + b.Marks + float64(b.Filled)*rules.Get(rule.Reflatten) +
		(budget.Rough - budget.Flat)
}

// Shavings is how much wood, in litres, planing a blank takes off a piece whose
// mean thickness is as read: loose shavings take up about six times as much.
func (w Wood) Shavings(b Blank, out Budget) float64 {
	return max(0, w.Rough.Mean-out.Planed) * b.Length * b.Width * 1e-6
}

func sq(v float64) float64 { return v * v }

// Workings are the rungs of the thickness ladder from rough to sanded, then
// what the blank loses to hollow and wind, the most there is, and the passes.
func (w Wood) Workings(budget Budget, blank Blank, rules rule.Set) []craft.Figure {
	figure := func(key, label string, v float64, unit craft.Unit, formula, source string,
		terms ...craft.Term) craft.Figure {
		return craft.Figure{
			Key:     key,
			Stage:   craft.Flatten,
			Label:   label,
			Value:   v,
			Unit:    unit,
			Formula: formula,
			Terms:   terms,
			Source:  source,
			Rule:    true,
		}
	}
	mm := func(name string, v float64) craft.Term { return craft.Term{Name: name, Value: v, Unit: craft.MM} }
	clean, again, sanding := w.Rough.clean(rules), budget.Planed-budget.Filled, rules.Get(rule.SandFace)
	const source = "shop rules for flattening and sanding"
	rough := figure("flatten.rough", "Rough", budget.Rough, craft.MM, "thinnest reading", "the readings")
	rough.Rule = false
	out := []craft.Figure{
		rough,
		figure(
			"flatten.flat",
			"Flat",
			budget.Flat,
			craft.MM,
			"thinnest reading − hollow − half the wind, all of it if not shimmed − cleaning both faces",
			source,
			mm("thinnest reading", budget.Rough),
			mm("hollow of the blank", budget.Hollow),
			mm("wind of the blank", budget.Wind),
			mm("cleaning, a face", clean),
		),
		figure(
			"flatten.planed",
			"Planed",
			budget.Planed,
			craft.MM,
			"wanted thickness + what filling and sanding still take, no more than flat",
			source,
			mm("wanted", blank.Target),
			mm("flattened again", again),
			mm("sanding, a face", sanding),
			mm("flat", budget.Flat),
		),
		figure(
			"flatten.filled",
			"Filled",
			budget.Filled,
			craft.MM,
			"planed − filled faces flattened again",
			source,
			mm("planed", budget.Planed),
			craft.Term{Name: "filled faces", Value: float64(blank.Filled)},
			mm("flattening again, a face", rules.Get(rule.Reflatten)),
		),
		figure(
			"flatten.final",
			"Sanded",
			budget.Sanded,
			craft.MM,
			"filled − sanding both faces − marks sanded out: the final thickness, which every check uses",
			source,
			mm("filled", budget.Filled),
			mm("sanding, a face", sanding),
			mm("marks, beyond the usual", blank.Marks),
		),
		figure(
			"flatten.hollow",
			"Hollow of this blank",
			budget.Hollow,
			craft.MM,
			"hollow of the slab × (width of the blank ÷ width of the slab)²",
			"cup goes with the square of the width",
			mm("hollow of the slab, the greater of both faces", w.Rough.Hollow),
			mm("width of the blank", blank.Width),
			mm("mean width of the slab", w.MeanWidth()),
		),
		figure(
			"flatten.wind",
			"Wind of this blank",
			budget.Wind,
			craft.MM,
			"wind of the slab × share of its length × share of its width",
			"wind goes with length times width",
			mm("wind of the slab, the greater of both faces", w.Rough.Wind),
			mm("length of the blank", blank.Length),
			mm("length of the slab", w.Length),
			mm("width of the blank", blank.Width),
			mm("mean width of the slab", w.MeanWidth()),
		),
		figure(
			"flatten.most",
			"The most there is",
			budget.Most,
			craft.MM,
			"flat − filled faces flattened again − sanding both faces − marks sanded out",
			source,
			mm("flat", budget.Flat),
			mm("flattened again", float64(blank.Filled)*rules.Get(rule.Reflatten)),
			mm("sanding, a face", sanding),
		),
	}
	return out
}

// Whole is the whole piece as a blank.
func (w Wood) Whole() Blank {
	box := w.Show.Ring().Bounds()
	return Blank{Length: w.Length, Width: w.MeanWidth(), Table: box.MaxY - box.MinY}
}
