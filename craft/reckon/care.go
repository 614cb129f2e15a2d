package reckon

import (
	"slices"
	"time"

	"idletimber/craft/board"
	"idletimber/craft/fitting"
	"idletimber/craft/giving"
	"idletimber/craft/glue"
	"idletimber/craft/plan"
	"idletimber/craft/stock"
)

// Gift is what goes with a board when it leaves the shop.
type Gift struct {
	Lines   []giving.Line  `json:"lines" doc:"Of its card, those too that are left out"`
	Ready   *time.Time     `json:"ready,omitempty" doc:"Earliest day of use; left out while no plan holds the work"`
	Every   int            `json:"every" doc:"Days after which it is oiled again"`
	Packing giving.Packing `json:"packing" doc:"How it is packed, and when it may leave"`
	Wood    string         `json:"wood" doc:"What it is of, in words"`
	Mark    string         `json:"mark,omitempty" doc:"The maker's mark as SVG path data, seen through the board"`
}

// facts are what the board is, as far as its card tells it.
func (l *laid) facts() giving.Facts {
	of, coats := l.on.wood.History, l.finish
	f := giving.Facts{
		Woods: stock.SpeciesIn(l.made()), Reclaimed: of.Reclaimed, Story: of.Words, Elsewhere: of.Work,
		Finish: coats.Words, Curing: coats.Curing, Contents: coats.Contents, Nut: coats.Nut, Food: coats.Food.Value,
		Fills: l.mix != nil, Dry: l.board.Give.Dry, Feet: l.board.Fit.Feet, OneSided: l.oneSided(),
		Use: l.board.Give.Use, Note: l.board.Give.Note,
	}
	if coats.Paste != nil {
		f.Sweats = coats.Paste.Weeps
	}
	if p := l.on.Slab.Glue; p != nil {
		f.Construction = p.Construction
		if g, ok := glue.Find(p.Glue); ok {
			f.Wiped = !g.Washed
		}
	}
	switch {
	case l.board.Fit.Cord:
		f.Hangs = "cord"
	case len(l.shaped.Holes) > 0:
		f.Hangs = "hole"
	}
	return f
}

// gift is what goes with the board, by the dates of its work.
func (l *laid) gift(c plan.Course) Gift {
	f, give := l.facts(), l.board.Give
	card := giving.Card{}
	if give.Card != nil {
		card = *give.Card
	}
	g := Gift{Every: f.OiledEvery(), Wood: f.Wood()}
	if !c.Done { // of what is done, as it was done
		g.Ready = c.Finish
	}
	var last *time.Time // when its last coat is on
	for _, s := range c.Steps {
		ends := s.Ends
		if s.State == plan.Done {
			ends = s.DoneAt
		}
		if n := len(l.finish.Coats); n > 0 && s.Key == l.finish.Coats[n-1].Key && ends != nil {
			last = new(ends.In(l.on.zone))
		}
		for _, at := range []*time.Time{ends, s.RestUntil} {
			if at != nil && (g.Ready == nil || at.After(*g.Ready)) {
				g.Ready = at
			}
		}
	}
	if g.Ready != nil {
		g.Ready = new(g.Ready.In(l.on.zone))
	}
	g.Lines = f.Lines(card, giving.LanguageOf(l.on.Shop.Languages, card.Language), g.Ready)
	g.Packing = f.Pack(last, give.Sent, l.warmIn)
	if give.Mark != nil {
		g.Mark = give.Mark.Ring().SVG()
	}
	return g
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
		len(d.Recesses) > 0 || l.board.Give.Mark != nil
}

// screwed tells whether something was screwed or bolted to the board, which comes off before it is sanded again.
func screwed(fit fitting.Choice) bool {
	return fit.Feet || fit.Pulls != nil || fit.Bolted != nil || fit.Cleat != nil || fit.Slicer != nil
}
