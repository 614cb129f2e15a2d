package reckon

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/glue"
	"idletimber/craft/species"
	"idletimber/craft/stock"
)

// care writes the note that goes with the gift.
func (l *laid) care() []string {
	of, plan := l.on.wood.History, l.finish
	woods := stock.SpeciesIn(l.made())
	name := names(woods)
	if of.Reclaimed {
		name = "reclaimed " + name
	}
	out := []string{fmt.Sprintf("This board is of %s, finished with %s.", name, plan.Words)}
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
	soap := "without soap, which takes oil and wax out" // what does not cure stays soluble
	if plan.Curing {
		soap = "with little soap"
	}
	wash := "Wash it by hand " + soap + ", rinse, wipe dry and stand it on edge. " +
		"Never soak it, never in the dishwasher."
	if l.board.Give.Dry {
		wash = "It is a tray, used dry: wipe it, never wash it."
	}
	out = append(out, wash)
	again := "When it looks dry, every month or two, rub in food-grade oil, leave it overnight and wipe it off."
	if plan.Curing {
		again = "When it looks dry, after some months, give it a thin coat of the same finish and let it cure " +
			"before food."
	}
	out = append(out, again)
	if len(plan.Contents) > 0 {
		out = append(out, "In its finish: "+strings.Join(plan.Contents, "; ")+".")
	}
	if plan.Nut {
		out = append(out, "It holds nut oil: not for anyone who must keep away from nuts.")
	}
	if plan.Paste != nil {
		out = append(
			out,
			"Its wax sweats above about "+craft.In(math.Round(plan.Paste.Weeps), craft.Celsius)+
				": not in a hot car, not by the stove.",
		)
	}
	if slices.ContainsFunc(
		woods,
		func(w species.Species) bool { return w.Food == "caution" || w.Group == "softwood" },
	) {
		out = append(out, "Put paper under wet food; serve dry things first.")
	}
	if p := l.on.Slab.Glue; p != nil {
		out = append(out, careOf[p.Construction])
		if g, ok := glue.Find(p.Glue); ok && !g.Washed {
			out = append(out, "Its joints stand water now and then, not a bath: wipe it rather than wash it.")
		}
	}
	if l.mix != nil {
		out = append(out, "Its fills are resin: keep hot pans and knives off them.")
	}
	switch {
	case l.board.Fit.Feet:
		out = append(out, "Its feet keep it off a wet counter.")
	case !l.oneSided():
		out = append(out, "Both faces may be used; turn it now and then so that it stays flat.")
	}
	return append(out, "No raw chicken or fish on a serving board.")
}

// careOf is what a construction asks of who uses it.
var careOf = map[string]string{
	glue.Flat:    "It is glued of planks: dry it standing, so that both faces give off water alike.",
	glue.Unequal: "It is glued of planks: dry it standing, so that both faces give off water alike.",
	glue.OnEdge:  "It is glued on edge and stays flat; cut along the stripes as well as across.",
	glue.Stacked: "It is glued on edge and stays flat; cut along the stripes as well as across.",
	glue.Blocks: "Its end grain spares knives and drinks: oil it twice as often, on both faces, and never leave it " +
		"lying wet on one.",
	glue.Arrows: "Its arrows are for the eye: cut on the other face, or on a board beside it.",
}

// oneSided tells whether something stands on a face, is sunk into one or cut under one,
// so that the other cannot be served on as well.
func (l *laid) oneSided() bool {
	fit, d := l.board.Fit, l.board.Design
	bevelled := slices.ContainsFunc(
		d.Handles(),
		func(h board.Handle) bool { return h.Kind == board.Bevel && !h.Both },
	)
	return fit.Feet || fit.Pulls != nil || fit.Bolted != nil || fit.Cleat != nil || fit.Slicer != nil || bevelled ||
		len(d.Recesses) > 0
}

// names joins the names of woods.
func names(woods []species.Species) string {
	out := make([]string, len(woods))
	for i, w := range woods {
		out[i] = w.Name
	}
	return strings.Join(out, " and ")
}
