package reckon

import (
	"idletimber/craft"
	"idletimber/craft/moisture"
)

// uneven is how much the thickness of a piece may vary before it rocks, mm.
const uneven = 3

// reckonWood reckons the slab itself.
func (b *bench) reckonWood() Wood {
	w, rules := b.wood, b.job.Shop.Rules
	ring := w.Outline()
	box := ring.Bounds()
	out := Wood{
		Path: ring.SVG(), Usable: b.usable.SVG(), Length: w.Length, MinY: box.MinY, MaxY: box.MaxY, Live: [2]bool{w.LiveLeft, w.LiveRight},
		Species: b.species, Flaws: []FlawShape{}, HomeMean: b.job.Shop.Home.Mean(),
	}
	for _, f := range w.Flaws {
		print := f.Footprint()
		c := print.Centroid()
		out.Flaws = append(out.Flaws, FlawShape{ID: f.ID, Kind: string(f.Kind), Name: f.Name(), Under: f.Under, Path: print.SVG(), X: c.X, Y: c.Y})
	}
	out.Ready, out.Moisture, out.Finding = b.ready.Ready, b.ready.Latest, b.ready.Verdict.Finding
	out.Drying = moisture.Dry(w.Moisture, b.job.Shop.Air, b.job.Shop.Home, w.MeanThickness(), rules)
	out.Verdicts = gravestFirst(b.woodVerdicts())
	area, mean := w.Area(), w.MeanArea()
	out.Figures = []craft.Figure{
		{Key: "wood.area", Stage: craft.Wood, Label: "Face", Value: area / 100, Unit: "cm²", Formula: "area between the edges, drawn as monotone curves through the stations",
			Terms: []craft.Term{{Name: "mean width × length", Value: mean / 100, Unit: "cm²"}, {Name: "which is off by", Value: (mean/area - 1) * 100, Unit: craft.Percent}}, Source: "Fritsch and Carlson 1980"},
		{Key: "wood.boardfeet", Stage: craft.Wood, Label: "Volume", Value: w.BoardFeet(), Unit: "board feet", Formula: "face × mean thickness ÷ 144 cubic inches",
			Terms: []craft.Term{{Name: "mean thickness", Value: w.MeanThickness(), Unit: craft.MM}}, Source: "definition of the board foot"},
		b.movement("wood.movement", "Moves across the year by", w.MeanWidth()),
		{Key: "wood.rest", Stage: craft.Wood, Label: "Rests in the shop at", Value: out.Drying.EMC, Unit: craft.Percent, Formula: "moisture at which wood rests in the shop's air",
			Terms: []craft.Term{{Name: "temperature", Value: b.job.Shop.Air.Temperature, Unit: craft.Celsius}, {Name: "humidity", Value: b.job.Shop.Air.Humidity, Unit: craft.Percent}}, Source: "Wood Handbook, equation 4-5"},
	}
	if d := out.Drying; d.Known && !d.Never && d.Days > 0 {
		out.Figures = append(out.Figures, craft.Figure{Key: "wood.days", Stage: craft.Wood, Label: "Days to the home's band", Value: d.Days, Unit: craft.Day,
			Formula: "τ · ln((now − rest) ÷ (goal − rest))", Terms: []craft.Term{{Name: "time constant τ", Value: d.Tau, Unit: craft.Day}, {Name: "at the quickest", Value: d.Low, Unit: craft.Day}, {Name: "at the slowest", Value: d.High, Unit: craft.Day}},
			Source: "exponential drying; τ by thickness until three readings fit it", Rule: true})
	}
	return out
}

// movement is how much a width swells and shrinks between the home's seasons.
func (b *bench) movement(key, label string, width float64) craft.Figure {
	c := moisture.Coefficient(b.species.CT, b.species.CR, b.wood.RingAngle)
	swing := b.job.Shop.Home.Swing()
	return craft.Figure{
		Key: key, Stage: craft.Wood, Label: label, Value: width * c * swing, Unit: craft.MM, Formula: "width × movement a point × points between heating season and summer",
		Terms:  []craft.Term{{Name: "width", Value: width, Unit: craft.MM}, {Name: "movement a point", Value: c}, {Name: "points", Value: swing, Unit: craft.Percent}, {Name: "rings to the face", Value: b.wood.RingAngle, Unit: craft.Degree}},
		Source: "Wood Handbook, chapter 4",
	}
}

// woodVerdicts judges the wood whatever is made of it.
func (b *bench) woodVerdicts() []craft.Verdict {
	out := []craft.Verdict{b.ready.Verdict}
	food := craft.Verdict{
		Check: "food", Stage: craft.Wood, Level: craft.Good, Finding: b.species.Name + " is used for food", Limit: 0, Reason: "Local food-contact rules decide.",
		Figure: craft.Figure{Key: "wood.food", Stage: craft.Wood, Label: "Reasons against food", Formula: "food suitability of the species and what is known of the piece", Source: "species table"},
	}
	if b.species.Food == "caution" {
		food.Level, food.Figure.Value = craft.Mind, 1
		food.Finding, food.Reason = b.species.Name+" near food asks for care", "Its pores, resin or extractives come into the food: "+noteOf(b.species.Note)
	}
	if b.wood.Reclaimed {
		food.Level, food.Figure.Value = craft.Mind, food.Figure.Value+1
		food.Finding, food.Reason = "Reclaimed wood of unknown treatment", "Lead paint, preservatives and nails: test it, and when in doubt keep it off food."
	}
	if b.species.Food == "never" {
		food.Level, food.Figure.Value = craft.Stop, 1
		food.Finding, food.Reason = b.species.Name+" is poisonous", "Never for food. Make something else of it."
	}
	out = append(out, food)
	if spread := b.wood.Thickest() - b.wood.Thinnest(); b.wood.Uneven || spread > 0 {
		v := craft.Verdict{Check: "even", Stage: craft.Wood, Level: craft.Good, Limit: uneven, Finding: "Its thickness varies; flattening evens it", Reason: "A board of uneven thickness rocks on the table.",
			Figure: craft.Figure{Key: "wood.spread", Stage: craft.Wood, Label: "Thickness varies by", Value: spread, Unit: craft.MM, Formula: "thickest reading − thinnest reading", Source: "the readings"}}
		if b.wood.Uneven && spread > uneven {
			v.Level, v.Finding = craft.Mind, "It stays uneven and will rock"
		}
		out = append(out, v)
	}
	return out
}

func noteOf(note string) string {
	if note == "" {
		return "open pores."
	}
	return note + "."
}
