package reckon

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/fill"
	"idletimber/craft/fitting"
	"idletimber/craft/geom"
	"idletimber/craft/layout"
	"idletimber/craft/milling"
	"idletimber/craft/moisture"
	"idletimber/craft/plan"
	"idletimber/craft/species"
	"idletimber/craft/stage"
)

// stages are the stages of the work in their order. A new one is a package that
// returns a stage.Record, and a line here.
var stages = []struct {
	stage  craft.Stage
	reckon func(*laid) stage.Record
}{
	{craft.Wood, (*laid).reckonWood},
	{craft.Layout, (*laid).reckonLayout},
	{craft.Flatten, (*laid).reckonFlatten},
	{craft.Glue, (*laid).reckonGlue},
	{craft.Fill, (*laid).reckonFill},
	{craft.Shape, (*laid).reckonShape},
	{craft.Sand, (*laid).reckonSand},
	{craft.Finish, (*laid).reckonFinish},
	{craft.Fit, (*laid).reckonFit},
	{craft.Give, (*laid).reckonGive},
}

// width is how far the board reaches across the grain, however it lies, mm: that is
// what moves.
func (l *laid) width() float64 {
	box := l.outline.Map(geom.Placement{Angle: l.on.here().Fibres}.In).Bounds()
	return box.MaxY - box.MinY
}

func (l *laid) reckonWood() stage.Record {
	b, width := l.on, l.width()
	r := stage.Record{Stage: craft.Wood, Verdicts: b.woodVerdicts()}
	if b.Slab.Glue != nil || b.Slab.River != nil {
		r.Figures = append(r.Figures, b.movements(l.outline)...)
	} else {
		r.Figures = append(r.Figures, b.movement("wood.movement", "Moves across the year by", width))
	}
	if b.here().Radius > 0 {
		r.Figures = append(r.Figures, b.cup("wood.cup", "Cups across the year by", width))
	}
	r.Figures = append(r.Figures, b.wet(width, l.budget().Sanded))
	l.elsewhere(&r)
	l.waits(&r)
	return r
}

// elsewhere waits for a piece that is away, or that goes, to be worked on by others: until
// somebody fetches it.
func (l *laid) elsewhere(r *stage.Record) {
	away := l.on.Slab.Bought
	back := away.BackAt(l.on.zone)
	if back == nil || !back.After(l.on.Now) {
		return
	}
	work := cmp.Or(away.Work, "planed")
	took := plan.Timed("take-there", plan.Errand, 0, 0, "it is there already", nil, l.on.pace)
	title, detail := "It is away: "+work, "It left on "+away.Leaves
	if away.Leaves == "" || away.Leaves > l.on.Now.In(l.on.zone).Format(time.DateOnly) {
		took, title, detail = plan.Work(
			"take-there",
			plan.Errand,
			0,
			l.on.pace,
		), "Take it there: "+work, "Say what is wanted"
		if away.Leaves != "" {
			detail += ", on " + away.Leaves
		}
	}
	if away.Thickness > 0 {
		detail += "; " + craft.Length(away.Thickness) + " thick when it comes back"
	}
	s := r.Step(title, detail, took)
	s.Until, s.WaitFor = back, "its coming back"
	r.Step("Fetch it, and measure it", "Thickness, and whether it is flat, before it is paid",
		plan.Work("fetch", plan.Errand, 0, l.on.pace))
}

// drying is how the wood dries, milled thinner first where that is chosen.
func (l *laid) drying() moisture.Drying {
	return l.on.drying.Milled(l.on.Now, l.on.wood.Rough.Mean, cmp.Or(l.board.Cut.MillFirst, l.on.wood.Rough.Mean))
}

// spared is how thick the wood must stay while it dries, for the board to be had from it
// once it has moved again, mm.
func (l *laid) spared() float64 {
	budget := l.budget()
	return budget.Planed + (budget.Rough - budget.Flat)
}

// waits lets damp wood come to rest before it is cut, unless it has been cut.
func (l *laid) waits(r *stage.Record) {
	drying := l.drying()
	if drying.ReadyAt == nil || !drying.ReadyAt.After(l.on.Now) || l.begun() || l.on.glueUp() != nil {
		return
	}
	detail := "By the log of its readings"
	if !drying.Known {
		detail = "By the rule for its thickness, from one reading"
	}
	if to := l.board.Cut.MillFirst; to > 0 {
		m := milling.With(
			l.on.Shop.Kit, layout.Piece(l.on.wood, l.flattened(true, 0), l.on.wood.Milled(to), l.board.Cut.Bite),
			l.board.Cut.Method,
		)
		r.Step("Mill it to "+craft.Length(to)+" first", m.Detail()+"; stack it with stickers, ends sealed",
			m.Step("mill-thin", l.on.pace)).Divisible = true
		detail += "; milled thinner it dries faster"
	}
	least := math.Ceil(l.spared()) // as thin as it may be, and whatever thicknesses the wood's own page speaks of
	thinner := []float64{least}
	for _, t := range drying.Thinner {
		if t.Thickness > least {
			thinner = append(thinner, t.Thickness)
		}
	}
	for _, t := range thinner {
		const worthIt = 1
		if l.board.Cut.MillFirst == 0 && t <= l.on.wood.Rough.Mean-worthIt {
			r.Help("Mill it to "+craft.Length(t)+" before it rests", "cut", map[string]any{"millFirst": t})
		}
	}
	l.on.restTill(r, *drying.ReadyAt, detail)
}

// rest lets the scene's wood come to rest as it lies.
func (b *drawn) rest(r *stage.Record, detail string) { b.restTill(r, *b.drying.ReadyAt, detail) }

func (b *drawn) restTill(r *stage.Record, at time.Time, detail string) {
	if next := b.drying.NextReading(); next != nil && next.Before(at) {
		detail += "; read it next on " + next.In(b.zone).Format("Monday 2 January")
	}
	s := r.Step("Let the wood come to rest", detail, plan.Work("dry", plan.Drying, 0, b.pace))
	s.Wait, s.WaitFor = at.Sub(b.Now).Minutes(), "the home's band"
	r.Step("Read the moisture again", "Cut only when it agrees", plan.Work("read", plan.Reading, 0, b.pace))
}

// begun tells whether work on the board has been logged; the wait for its wood does not
// count.
func (l *laid) begun() bool {
	return slices.ContainsFunc(l.on.Log, func(e LogEntry) bool {
		return e.Subject == plan.Board(l.board.ID) &&
			!slices.Contains([]string{"mill-thin", "dry", "read", "take-there", "fetch"}, e.Step)
	})
}

func (l *laid) reckonLayout() stage.Record {
	b, s, blank, area := l.on, l.shaped, l.cutOut(), l.shaped.Outline.Area()
	face := b.wood.Show.Area()
	r := stage.Record{Stage: craft.Layout}
	strong, c := []craft.Verdict(nil), l.conditions()
	craft.Both(
		func() { strong = board.CheckStrength(s, *c) },
		func() { r.Verdicts = l.place.Check(s) },
	)
	r.Verdicts = append(r.Verdicts, strong...)
	r.Figures = []craft.Figure{
		{
			Key: "layout.share", Stage: craft.Layout, Label: "Share of the slab", Value: area / face * 100,
			Unit:    craft.Percent,
			Formula: "outline ÷ face of the slab", Source: "measured on the drawing",
			Terms: []craft.Term{
				{Name: "outline", Value: area / 100, Unit: craft.CM2},
				{Name: "slab", Value: face / 100, Unit: craft.CM2},
			},
		},
		{
			Key: "layout.blank", Stage: craft.Layout, Label: "Length of the blank", Value: blank.Length(),
			Unit: craft.MM,
			Formula: "board along the slab + squaring and snipe at both ends, within the slab and half way to the " +
				"next board",
			Terms: []craft.Term{
				{Name: "squaring, an end", Value: blank.Square, Unit: craft.MM},
				{Name: "snipe, an end", Value: blank.Snipe, Unit: craft.MM},
			},
			Source: "shop rules for squaring and snipe", Rule: true,
		},
	}
	if cost := b.cost(); cost > 0 {
		share := l.share()
		r.Figures = append(r.Figures, craft.Figure{
			Key: "layout.price", Stage: craft.Layout, Label: "Wood, its share of the price", Value: cost * share,
			Unit:    craft.Cents,
			Formula: "cost of the slab × this blank's part of all blanks cut from it, waste in proportion",
			Terms: []craft.Term{
				{Name: "cost of the slab", Value: cost, Unit: craft.Cents},
				{Name: "its blank", Value: blank.Area / 100, Unit: craft.CM2},
				{Name: "part", Value: share * 100, Unit: craft.Percent},
			},
			Source: "price shared by the area of the blanks",
		})
	}
	if m, of, ok := l.crossCuts(); ok {
		r.Step("Cross-cut the blank", strings.Join(append(l.marking(), m.How()), ". "), m.Step("cross-cut", of, b.pace))
	}
	r.Verdicts = append(r.Verdicts, l.reserved()...)
	return r
}

// marking tells how the wood is marked: from its best edge, and so that the line is seen.
func (l *laid) marking() (out []string) {
	if side, quality := l.on.Slab.BestEdge(); side != "" {
		out = append(out, fmt.Sprintf("Square to the %s edge, which is %s: every mark refers to it", side, quality))
	}
	if slices.ContainsFunc(l.on.wood.Species(), species.Species.HidesPencil) {
		out = append(out, "Mark it with a light pencil, or on tape")
	}
	return out
}

// reserved tells of wood that is kept for another.
func (l *laid) reserved() []craft.Verdict {
	kept, b := l.on.Slab.Reserved, l.board
	if kept == "" || strings.EqualFold(kept, b.Name) || strings.EqualFold(kept, b.Give.For) {
		return nil
	}
	return []craft.Verdict{{
		Check: "reserved", Stage: craft.Layout, Level: craft.Mind, Finding: "The piece is kept for " + kept,
		Reason: "You kept this wood for something else.",
		Figure: craft.Figure{
			Key: "layout.reserved", Stage: craft.Layout, Label: "Others that it is kept for", Value: 1,
			Unit:    craft.Count,
			Formula: "what the piece is kept for, unless that is the board or whom it is for", Source: "the piece",
		},
	}}
}

func (l *laid) reckonFlatten() stage.Record {
	budget, rules := l.budget(), l.on.Shop.Rules
	r := stage.Record{Stage: craft.Flatten, Verdicts: []craft.Verdict{board.Thickness(l.shaped, *l.conditions())}}
	blank := l.flattened(l.board.Cut.FlattenWhole, l.thickness().filled)
	r.Figures = l.on.wood.Workings(budget, blank, rules)
	l.bark(&r)
	l.levels(&r)
	return r
}

func (l *laid) reckonFill() (r stage.Record) {
	at := l.on.Shop
	k := fill.Conditions{
		Temperature: at.Air.Temperature, ScaleStep: at.ScaleStep, ScaleMost: at.ScaleMost, Cup: at.Cup,
		Rules: at.Rules, Pace: l.on.pace, Habit: l.on.habit, Looks: l.looks(),
	}
	if n := fill.FilledFaces(l.voids()); n > 0 { // it is cut out by then
		k.Again = l.again(n)
	}
	l.mix, r = fill.Reckon(l.voids(), l.board.Fill, k)
	r.Verdicts = append(r.Verdicts, l.resinVerdicts()...)
	return r
}

func (l *laid) reckonShape() (r stage.Record) {
	l.recess, r = board.Reckon(l.shaped, *l.conditions(), board.Cut{Makes: l.makes(), Pace: l.on.pace})
	r.Verdicts = append(append(r.Verdicts, l.mates()...), l.unmade()...)
	if l.board.Rim != nil { // its work belongs to the glue, and follows the outline
		var rim stage.Record
		l.rim, rim = l.bend()
		r.Figures = append(r.Figures, rim.Figures...)
		r.Verdicts = append(r.Verdicts, rim.Verdicts...)
		r.Steps = append(r.Steps, rim.Steps...)
		r.Uses = append(r.Uses, rim.Uses...)
	}
	return r
}

func (l *laid) reckonFit() (r stage.Record) {
	c := l.conditions()
	on := fitting.Board{
		Shaped: l.shaped, Thickness: c.Thickness, Wood: l.grain, Swing: l.on.target.Home.Swing(), Feet: c.Feet,
		Rules: c.Rules, Pace: l.on.pace,
	}
	for _, v := range c.Voids {
		if !v.Filled {
			on.Open = append(on.Open, v)
		}
	}
	l.fitted, r = fitting.Make(l.board.Fit, on)
	return r
}

// washed judges whether a board of sheet stock sees water.
func (l *laid) washed() craft.Verdict {
	v := craft.Verdict{
		Check: "washed", Stage: craft.Give, Level: craft.Good, Finding: "A tray that is used dry, and wiped",
		Reason: "The glue lines of sheet stock open with water, and its core swells: " +
			"a tray, never a board that is washed.",
		Figure: craft.Figure{
			Key: "give.washed", Stage: craft.Give, Label: "Uses that are washed", Formula: "used dry, or not",
			Source: "rule of the trade",
		},
	}
	if !l.board.Give.Dry {
		v.Level, v.Finding, v.Figure.Value = craft.Stop, "Of sheet stock, and it would be washed", 1
		v.Remedies = []craft.Remedy{{
			Label: "Give it as a tray that is used dry", Patch: craft.Patch{"give": map[string]any{"dry": true}},
		}}
	}
	return v
}

func (l *laid) reckonGive() stage.Record {
	r := stage.Record{Stage: craft.Give}
	r.Figures = append(r.Figures, l.shaped.Servings(l.board.Give.Use, l.on.Shop.Rules))
	if l.on.wood.History.Sheet {
		r.Verdicts = append(r.Verdicts, l.washed())
	}
	if m := l.board.Give.Mark; m != nil {
		r.Verdicts = append(r.Verdicts, m.Judge(l.shaped, *l.conditions())...)
	}
	title, detail := "Write the card, wrap it", ""
	if l.board.Give.Mark != nil {
		detail = "The mark first: burn it or strike it square, once"
	}
	if l.board.Returned != nil {
		title = "Give it back, with its card"
	}
	r.Step(title, detail, plan.Work("note", plan.Note, 0, l.on.pace))
	r.Use(stage.Packing, "card", 1, "pieces", "note")
	if l.board.Give.Whom != board.Own {
		r.Use(stage.Packing, "wrapping paper", 1, "pieces", "note")
	}
	if l.board.Give.Sent {
		r.Use(stage.Packing, "box", 1, "pieces", "note")
	}
	return r
}
