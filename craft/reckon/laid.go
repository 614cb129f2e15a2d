package reckon

import (
	"reflect"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/fitting"
	"idletimber/craft/geom"
	"idletimber/craft/glue"
	"idletimber/craft/layout"
	"idletimber/craft/milling"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/sanding"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
)

// laid is one board on its wood: drawn, and what follows from its place and its
// choices, each worked out once, when it is first asked for. Whoever judges,
// searches, weighs or dates a board asks here.
type laid struct {
	on      *drawn
	board   Board
	place   layout.Place
	shaped  board.Shaped // with what its fittings cut
	outline geom.Ring    // in the wood's frame
	grain   stock.Grain  // in the board's frame

	parts    []stock.Patch
	over     []stock.Patch
	faces    []board.Surface
	makers   board.Makes
	cutList  []layout.Cut
	mill     *milling.Milled
	live     *[]liveEdge
	blank    *layout.Blank
	thick    *thick
	judged   *board.Conditions
	records  map[craft.Stage]stage.Record
	measured map[depths][]fill.Void
	extents  fill.Extents

	// What its stages come to beside their records.
	mix     *fill.Mix
	sanding sanding.Plan
	finish  finish.Plan
	fitted  fitting.Fitted
	recess  []board.RecessWork
	rim     *glue.Bent
}

// thick is how thick a board comes out, and what its voids are at that thickness:
// neither is known without the other.
type thick struct {
	budget stock.Budget
	voids  []fill.Void
	filled int     // faces that are flattened again
	marks  float64 // what taking marks out of its faces sands off beyond the usual, mm
}

// depths are what the voids of a board depend on beside its place.
type depths struct{ planed, off float64 }

// lay draws a board among others on the wood.
func (b *drawn) lay(d Board, others []layout.Neighbour) *laid {
	d = d.restored()
	d.Fill = d.Fill.By(b.sheets.Resins)
	l := &laid{
		on:       b,
		board:    d,
		grain:    b.wood.Grain,
		records:  map[craft.Stage]stage.Record{},
		measured: map[depths][]fill.Void{},
		extents:  fill.Extents{},
	}
	l.place = layout.Place{
		Wood: b.wood, Usable: b.usable, Design: d.Design, At: d.Placement, Choice: d.Cut, Shop: b.Shop, Name: d.Name,
		Whom: d.Give.Whom, Others: others,
	}
	l.shaped = d.Fit.Cut(l.place.Shaped())
	l.outline = l.shaped.Outline.Map(d.Placement.Out)
	if l.grain != nil {
		l.grain = l.grain.Seen(d.Placement)
	}
	return l
}

// with is the board as it would be when it is changed, among the same others. What
// the change does not touch is not worked out again.
func (l *laid) with(next Board) *laid {
	was := l.board
	same := next.Placement == was.Placement && next.Cut == was.Cut &&
		reflect.DeepEqual(next.Design, was.Design) && reflect.DeepEqual(next.Fit, was.Fit) &&
		reflect.DeepEqual(next.Rim, was.Rim) && next.Give.Whom == was.Give.Whom
	if !same {
		return l.on.lay(next, l.place.Others)
	}
	n := &laid{
		on: l.on, board: next, place: l.place, shaped: l.shaped, outline: l.outline, grain: l.grain,
		parts: l.parts, blank: l.blank, measured: l.measured, extents: l.extents,
		records: map[craft.Stage]stage.Record{},
	}
	n.place.Name = next.Name
	for _, kept := range []craft.Stage{craft.Wood, craft.Layout, craft.Flatten, craft.Shape} {
		if r, ok := l.records[kept]; ok && n.conditions().Same(*l.conditions()) && n.budget() == l.budget() {
			n.records[kept] = r
		}
	}
	n.recess, n.rim = l.recess, l.rim
	return n
}

// neighbour is the board as another one sees it.
func (l *laid) neighbour() layout.Neighbour {
	return layout.Neighbour{Name: l.board.Name, Outline: l.outline, Cut: l.board.Cut}
}

// made is what of the wood lies within its outline.
func (l *laid) made() []stock.Patch {
	if l.parts == nil {
		l.parts = l.on.wood.Grain.Over(l.outline)
	}
	return l.parts
}

// patches are what it is made of, in its own frame.
func (l *laid) patches() []stock.Patch {
	if l.over == nil {
		l.over = l.grain.Over(l.shaped.Outline)
	}
	return l.over
}

// cutOut is the blank that is cut out for the board.
func (l *laid) cutOut() layout.Blank {
	if l.blank == nil {
		b := l.place.Blank(l.outline)
		l.blank = &b
	}
	return *l.blank
}

// flattened is what is flattened for the board: its blank, or the whole piece
// where that comes first.
func (l *laid) flattened(whole bool, filled int) stock.Blank {
	size := l.place.Milling(l.cutOut(), whole)
	size.Filled = filled
	if l.thick != nil {
		size.Marks = l.thick.marks
	}
	return size
}

// thickness works out the budget and the voids. Which faces are flattened again
// depends on the voids, and what is left of the voids on the flattening: first
// without, then with what comes out, until both agree. Where they never do, because a
// void is there at one thickness and gone at the next, the face is flattened.
func (l *laid) thickness() thick {
	if l.thick == nil {
		whole, rules := l.board.Cut.FlattenWhole, l.on.Shop.Rules
		at := func(filled int) thick {
			t := thick{budget: l.on.wood.Plan(l.flattened(whole, filled), rules), filled: filled}
			t.voids = l.voidsAt(t.budget)
			return t
		}
		const rounds = 3
		t := at(0)
		for range rounds {
			now := fill.FilledFaces(t.voids)
			if now == t.filled {
				break
			}
			t = at(now)
		}
		if now := fill.FilledFaces(t.voids); now > t.filled {
			t = at(now)
		}
		show, under := fill.Marks(t.voids)
		usual := rules.Get(rule.SandFace)
		if t.marks = max(0, show-usual) + max(0, under-usual); t.marks > 0 {
			size := l.flattened(whole, t.filled)
			size.Marks = t.marks
			t.budget = l.on.wood.Plan(size, rules)
		}
		l.thick = &t
	}
	return *l.thick
}

func (l *laid) budget() stock.Budget { return l.thickness().budget }
func (l *laid) voids() []fill.Void   { return l.thickness().voids }

// voidsAt measures the voids of the board at the thickness at which they are
// filled, and chooses what fills them.
func (l *laid) voidsAt(t stock.Budget) []fill.Void {
	at := depths{t.Planed, max(0, t.PerFace)}
	if _, ok := l.measured[at]; !ok {
		l.measured[at] = fill.Measure(l.site(at))
	}
	return fill.Choose(l.measured[at], l.board.Fill, l.on.Shop.Air.Temperature, l.board.Fit.Feet)
}

// site is the board as voids are looked for in it, at a depth.
func (l *laid) site(at depths) fill.Site {
	site := fill.Site{
		Flaws: l.filled(), Outline: l.outline, Thickness: at.planed, Off: at.off,
		Flipped: l.board.Placement.Flip, Rules: l.on.Shop.Rules, Extents: l.extents,
		Grain: l.on.wood.Grain,
		Live:  func(p geom.Point) bool { return l.shaped.LiveAt(l.board.Placement.In(p)) },
	}
	for _, hole := range l.shaped.Holes {
		site.Holes = append(site.Holes, l.onWood(hole))
	}
	for _, c := range l.shaped.Cavities {
		floor, inner, depth := c.Floor()
		site.Sunk = append(site.Sunk, fill.Sunk{
			Ring: l.onWood(floor), Inner: l.onWood(inner), Depth: depth, Under: c.Recess.Under != site.Flipped,
		})
	}
	return site
}

// filled are the flaws of the wood that the board may hold: what a mishap has left in it waits for a decision first.
func (l *laid) filled() []stock.Flaw {
	at := l.board.Undecided()
	if at < 0 {
		return l.on.wood.Flaws
	}
	return slices.DeleteFunc(slices.Clone(l.on.wood.Flaws), func(f stock.Flaw) bool {
		return f.Wish == stock.KeepOut && strings.HasPrefix(f.ID, l.board.Mishaps[at].ID+"-")
	})
}

// ends tells what becomes of every mark where the board is cut out.
func (l *laid) ends() []fill.End {
	t := l.thickness()
	var holes, sunk []string
	for _, h := range l.shaped.Handles {
		if len(holes) < len(l.shaped.Holes) {
			holes = append(holes, h.Name())
		}
	}
	for _, c := range l.shaped.Cavities {
		sunk = append(sunk, c.Name(l.shaped.Design.Recesses))
	}
	return l.site(depths{t.budget.Planed, max(0, t.budget.PerFace)}).Ends(t.voids, holes, sunk)
}

// onWood is a ring of the board's frame in the slab's, anticlockwise.
func (l *laid) onWood(r geom.Ring) geom.Ring {
	out := r.Map(l.board.Placement.Out)
	if out.SignedArea() < 0 {
		slices.Reverse(out)
	}
	return out
}

// conditions are what the checks of its shape need to know beside it.
func (l *laid) conditions() *board.Conditions {
	if l.judged != nil {
		return l.judged
	}
	d, budget := l.board, l.budget()
	c := &board.Conditions{
		Wood: l.grain, Thickness: budget.Sanded, Most: budget.Most, Routed: budget.Filled, Tools: l.on.Shop.Kit,
		Hand:  l.on.Shop.Hand,
		Rules: l.on.Shop.Rules, FootSpots: d.Fit.Stands(l.shaped), Stray: l.stray(),
		Trim: d.Cut.Trim, Figured: len(l.on.wood.Features) > 0,
	}
	_, c.Feet = d.Fit.Foot()
	if d.Design.Shape == board.Plank {
		c.Usable = l.on.usable.Map(d.Placement.In)
	}
	for _, v := range l.voids() {
		c.Voids = append(c.Voids, board.Void{
			Flaw: v.Flaw, Name: v.Name, Depth: v.Depth, Under: v.Under, Filled: v.Bears(), Levels: l.prints(v),
		})
	}
	l.judged = c
	return c
}

// flaw is the mark that a void is of.
func (l *laid) flaw(v fill.Void) stock.Flaw {
	i := slices.IndexFunc(l.on.wood.Flaws, func(f stock.Flaw) bool { return f.ID == v.Flaw })
	return l.on.wood.Flaws[i]
}

// prints are the outlines of a void in its own frame, one where it does not go through askew.
func (l *laid) prints(v fill.Void) (out []geom.Ring) {
	for _, at := range l.flaw(v).Sections() {
		out = append(out, at.Footprint().Map(l.board.Placement.In))
	}
	return out
}

// stray is how many times the usual it may stray in what is only looked at.
func (l *laid) stray() float64 {
	return board.Stray(l.board.Design.Style, l.board.Give.Whom, l.on.Shop.Rules)
}

// strength judges whether its webs and necks hold, where it lies.
func (l *laid) strength() []craft.Verdict { return board.CheckStrength(l.shaped, *l.conditions()) }

// makes is who makes each of its cuts, holes, profiles and recesses.
func (l *laid) makes() board.Makes {
	if l.makers == nil {
		l.makers = board.WhoMakes(l.shaped, *l.conditions(), l.board.Cut.Saw)
	}
	return l.makers
}

// record is what one stage comes to.
func (l *laid) record(of craft.Stage) stage.Record {
	if r, ok := l.records[of]; ok {
		return r
	}
	for _, s := range stages {
		if s.stage != of {
			continue
		}
		r := s.reckon(l)
		if l.board.Returned != nil {
			r = l.returnedRecord(of, r)
		}
		l.records[of] = l.mended(of, r)
	}
	return l.records[of]
}

// all is what every stage comes to, in working order.
func (l *laid) all() []stage.Record {
	out := make([]stage.Record, len(stages))
	for i, s := range stages {
		out[i] = l.record(s.stage)
	}
	return out
}

// stops are the checks of where it lies that come out as a stop.
func (l *laid) stops() map[string]bool {
	out := map[string]bool{}
	for _, of := range []craft.Stage{craft.Layout, craft.Flatten} {
		for _, v := range l.record(of).Verdicts {
			if v.Level == craft.Stop {
				out[v.Check] = true
			}
		}
	}
	return out
}

// chain turns the board into steps with what is known of their progress.
func (l *laid) chain() plan.Chain {
	c := plan.Chain{
		Subject: plan.Board(l.board.ID),
		Name:    l.board.Name,
		Due:     l.board.Give.DueAt(l.on.zone),
		Log:     l.log(),
	}
	for _, r := range l.all() {
		c.Steps = append(c.Steps, r.Steps...)
	}
	l.on.awaited(c.Steps, func(step string) []stage.Use { return usesOf(l.all(), step) })
	c.Steps = l.mendsWhen(early(l.fittedWhen(c.Steps), l.finish.Early()))
	backToColour(c.Steps, c.Log, l.on.Now)
	l.on.waitsForPanel(&c)
	if cure := l.curing(); cure != nil {
		cure.waits(c.Steps, c.Log, l.on.Now)
	}
	return c
}

// fittedWhen puts the fitting where the maker wants it: before the finish, between two
// coats, or, as it comes, after the last.
func (l *laid) fittedWhen(steps []plan.Step) []plan.Step {
	fit := slices.IndexFunc(steps, func(s plan.Step) bool { return s.Key == "fit" })
	if l.board.Fit.When == "" || fit < 0 {
		return steps
	}
	first := slices.IndexFunc(steps, func(s plan.Step) bool { return s.Stage == craft.Finish })
	if l.board.Fit.When == fitting.Between {
		if coats := l.finish.Coats; len(coats) > 1 {
			first = slices.IndexFunc(steps, func(s plan.Step) bool { return s.Key == coats[1].Key })
		}
	}
	if first < 0 || first > fit {
		return steps
	}
	moved := steps[fit]
	return slices.Insert(slices.Delete(slices.Clone(steps), fit, fit+1), first, moved)
}
