package reckon

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/finish"
	"idletimber/craft/species"
	"idletimber/craft/stock"
)

// care writes the note that goes with the gift.
func (l *laid) care() []string {
	of, plan := l.on.wood.History, l.finish
	woods := stock.SpeciesIn(l.on.wood.Grain.Over(l.outline))
	name := names(woods)
	if of.Reclaimed {
		name = "reclaimed " + name
	}
	out := []string{fmt.Sprintf("This board is of %s, finished with %s.", name, plan.School.Words)}
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
	out = append(
		out,
		"Wash it by hand with little soap, rinse, wipe dry and stand it on edge. Never soak it, never in the "+
			"dishwasher.",
	)
	switch plan.School.Name {
	case finish.HardWax, finish.CuringOil:
		out = append(
			out,
			"When it looks dry, after some months, give it a thin coat of the same finish and let it cure before food.",
		)
	default:
		out = append(
			out,
			"When it looks dry, every month or two, rub in food-grade oil, leave it overnight and wipe it off.",
		)
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
	if l.mix != nil {
		out = append(out, "Its fills are resin: keep hot pans and knives off them.")
	}
	if !l.board.Fit.Feet {
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
