package reckon

import (
	"fmt"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/plan"
	"idletimber/craft/species"
	"idletimber/craft/stock"
)

// figures lists the numbers of a board that open to their working.
func (b *bench) figures(d Board, s board.Shaped, r Reckoned) []craft.Figure {
	rules := b.job.Shop.Rules
	area, t := s.Area(), r.Budget.Sanded
	out := []craft.Figure{
		b.movement("wood.movement", "Moves across the year by", r.Box[3]-r.Box[1]),
		{Key: "layout.share", Stage: craft.Layout, Label: "Share of the slab", Value: s.Outline.Area() / b.wood.Show.Area() * 100, Unit: craft.Percent, Formula: "outline ÷ face of the slab",
			Terms: []craft.Term{{Name: "outline", Value: s.Outline.Area() / 100, Unit: "cm²"}, {Name: "slab", Value: b.wood.Show.Area() / 100, Unit: "cm²"}}, Source: "measured on the drawing"},
		{Key: "layout.blank", Stage: craft.Layout, Label: "Length of the blank", Value: r.Blank.Length(), Unit: craft.MM, Formula: "board along the slab + squaring and snipe at both ends, within the slab and half way to the next board",
			Terms: []craft.Term{{Name: "squaring, an end", Value: r.Blank.Square, Unit: craft.MM}, {Name: "snipe, an end", Value: r.Blank.Snipe, Unit: craft.MM}}, Source: "shop rules for squaring and snipe", Rule: true},
		{Key: "shape.area", Stage: craft.Shape, Label: "Face", Value: area / 100, Unit: "cm²", Formula: "outline − holes", Source: "measured on the outline"},
		{Key: "shape.round", Stage: craft.Shape, Label: "Round the outline", Value: s.Outline.Perimeter(), Unit: craft.MM, Formula: "length of the outline", Source: "measured on the outline"},
		{Key: "shape.mass", Stage: craft.Shape, Label: "Weighs", Value: s.Mass(t, b.wood.Grain.Seen(d.Placement)), Unit: craft.KG, Formula: "(face × final thickness, less what slanting edges and recesses take) × density",
			Terms: []craft.Term{{Name: "face", Value: area / 100, Unit: "cm²"}, {Name: "final thickness", Value: t, Unit: craft.MM}, {Name: "volume", Value: s.Volume(t) / 1000, Unit: craft.ML}, {Name: "density", Value: stock.Density(b.wood.Grain.Seen(d.Placement).Over(s.Outline)), Unit: "kg/m³"}}, Source: "species table"},
	}
	out = append(out, b.wood.Workings(r.Budget, b.flattened(d, r.Blank, d.Cut.FlattenWhole, filledFaces(r.Voids)), rules)...)
	if r.Mix != nil {
		out = append(out, r.Mix.Figures...)
	}
	out = append(out, r.Sanding.Figures...)
	out = append(out, r.Finish.Figures...)
	out = append(out, s.Servings(d.Give.Use, rules))
	for _, h := range s.Handles {
		out = append(out, h.OffCentre(s))
	}
	width := r.Box[3] - r.Box[1]
	if b.here().Radius > 0 {
		out = append(out, b.cup("wood.cup", "Cups across the year by", width))
	}
	out = append(out, b.wet(width, t))
	if cost := b.wood.Cost; cost > 0 {
		share := s.Outline.Area() / b.laid
		out = append(out, craft.Figure{Key: "layout.price", Stage: craft.Layout, Label: "Wood, its share of the price", Value: cost * share, Unit: craft.Cents,
			Formula: "cost of the slab × this board's part of all boards laid on it, waste in proportion", Terms: []craft.Term{{Name: "cost of the slab", Value: cost, Unit: craft.Cents}, {Name: "part", Value: share * 100, Unit: craft.Percent}}, Source: "price shared by area"})
	}
	return out
}

// dates shows how the work and the waits fill the time to the date.
func (b *bench) dates(c plan.Course) []craft.Figure {
	var work, waits, week float64
	var steps []craft.Term
	for _, s := range c.Steps {
		if s.State == "done" {
			continue
		}
		work += s.Minutes
		waits += s.Wait
		steps = append(steps, craft.Term{Name: s.Title, Value: s.Minutes, Unit: craft.Minute})
	}
	for _, s := range b.job.Shop.Sessions {
		week += s.Minutes()
	}
	out := []craft.Figure{{
		Key: "plan.work", Stage: craft.Give, Label: "Work still to do", Value: c.HandsOn, Unit: craft.Minute, Formula: "sum of the steps that are not done, less what has been spent on them", Terms: steps, Source: "rates of the trade; your pace from the logbook", Rule: true,
	}}
	if c.Due == nil || c.Finish == nil {
		return out
	}
	return append(out, craft.Figure{
		Key: "plan.slack", Stage: craft.Give, Label: "To spare before the day", Value: c.Slack, Unit: craft.Minute, Rule: true,
		Formula: "noon of the day − earliest finish; steps follow one another inside your sessions, beside the work on boards with an earlier date, and waits run day and night",
		Terms: []craft.Term{{Name: "from now to the day", Value: c.Due.Sub(b.job.Now).Minutes(), Unit: craft.Minute}, {Name: "from now to the earliest finish", Value: c.Finish.Sub(b.job.Now).Minutes(), Unit: craft.Minute},
			{Name: "work", Value: work, Unit: craft.Minute}, {Name: "waits", Value: waits, Unit: craft.Minute}, {Name: "sessions, a week", Value: week, Unit: craft.Minute}},
		Source: "your sessions, the choices at each stage",
	})
}

// care writes the note that goes with the gift.
func care(d Board, woods []species.Species, r Reckoned, of stock.History) []string {
	name := names(woods)
	if of.Reclaimed {
		name = "reclaimed " + name
	}
	out := []string{fmt.Sprintf("This board is of %s, finished with %s.", name, finishWords[r.Finish.School.Name])}
	if words := of.Words; words != "" {
		out = append(out, words)
	}
	if of.Work != "" {
		out = append(out, "Done elsewhere: "+strings.TrimRight(of.Work, ". ")+".")
	}
	for _, wood := range woods {
		if wood.ColourChange != "" && wood.ColourChange != "none" {
			out = append(out, "Its colour is alive: it "+wood.ColourChange+".")
		}
	}
	out = append(out, "Wash it by hand with little soap, rinse, wipe dry and stand it on edge. Never soak it, never in the dishwasher.")
	switch r.Finish.School.Name {
	case "hard wax", "curing oil":
		out = append(out, "When it looks dry, after some months, give it a thin coat of the same finish and let it cure before food.")
	default:
		out = append(out, "When it looks dry, every month or two, rub in food-grade oil, leave it over night and wipe it off.")
	}
	if r.Finish.Paste != nil {
		out = append(out, fmt.Sprintf("Its wax sweats above about %.0f °C: not in a hot car, not by the stove.", r.Finish.Paste.Weeps))
	}
	if slices.ContainsFunc(woods, func(w species.Species) bool { return w.Food == "caution" || w.Group == "softwood" }) {
		out = append(out, "Put paper under wet food; serve dry things first.")
	}
	if r.Mix != nil {
		out = append(out, "Its fills are resin: keep hot pans and knives off them.")
	}
	if !d.Fit.Feet {
		out = append(out, "Both faces may be used; turn it now and then so that it stays flat.")
	} else {
		out = append(out, "Its feet keep it off a wet counter.")
	}
	return append(out, "No raw chicken or fish on a serving board.")
}

// names joins the names of woods.
func names(woods []species.Species) string {
	out := make([]string, len(woods))
	for i, w := range woods {
		out[i] = w.Name
	}
	return strings.Join(out, " and ")
}

var finishWords = map[string]string{
	"oil": "food-grade mineral oil", "oil bath": "food-grade mineral oil", "oil then paste": "oil and beeswax",
	"paste alone": "oil and beeswax paste", "hard wax": "hard-wax oil", "curing oil": "a curing oil",
}
