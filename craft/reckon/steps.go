package reckon

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"sort"
	"strings"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/caution"
	"idletimber/craft/fill"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
)

// chain turns a reckoned board into steps, and notes the cautions at each.
func (b *bench) chain(d Board, r Reckoned) plan.Chain {
	c := plan.Chain{Board: d.ID, Name: d.Name, Due: d.Give.DueAt(b.zone), Log: []plan.Entry{}}
	for _, e := range b.job.Log {
		if e.Board == d.ID {
			c.Log = append(c.Log, e.Entry)
		}
	}
	c.Steps = b.steps(d, r)
	return c
}

// steps lists the work on a board in order, from all its choices.
func (b *bench) steps(d Board, r Reckoned) []plan.Step {
	var steps []plan.Step
	add := func(stage craft.Stage, title, detail string, s plan.Step) *plan.Step {
		s.Stage, s.Title, s.Detail = stage, title, detail
		steps = append(steps, s)
		return &steps[len(steps)-1]
	}
	work := func(key string, kind plan.Kind, quantity float64) plan.Step {
		return plan.Work(key, kind, quantity, b.pace)
	}

	if n := crossCuts(r); n > 0 {
		add(craft.Layout, "Cross-cut the blank", "", work("cross-cut", plan.CrossCut, float64(n)))
	}
	if r.Budget.Passes > 0 {
		add(craft.Flatten, "Flatten and plane", fmt.Sprintf("%d passes, both faces by turns", r.Budget.Passes), work("flatten", plan.Planing, float64(r.Budget.Passes))).Divisible = true
	}
	b.fillSteps(r, add, work)
	b.shapeSteps(d, r, add, work)
	b.sandSteps(r, add, work)
	b.finishSteps(r, add, work)
	if n := len(r.Fittings.Items); n > 0 {
		add(craft.Fit, "Fit "+fittings(d), strings.Join(r.Fittings.Steps, ". "), work("fit", plan.Fitting, float64(n)))
	}
	add(craft.Give, "Write the care note, wrap it", "", work("note", plan.Note, 0))
	return steps
}

type (
	adder  = func(stage craft.Stage, title, detail string, s plan.Step) *plan.Step
	worker = func(key string, kind plan.Kind, quantity float64) plan.Step
)

func crossCuts(r Reckoned) int {
	n := 0
	for _, c := range r.Cuts {
		if c.At != nil {
			n++
		}
	}
	return n
}

func (b *bench) fillSteps(r Reckoned, add adder, work worker) {
	groups := map[string][]fill.Void{}
	area := 0.0
	for _, v := range r.Voids {
		if v.Chosen == "leave" {
			continue
		}
		groups[v.Chosen] = append(groups[v.Chosen], v)
		area += v.Area
	}
	if len(groups) == 0 {
		return
	}
	add(craft.Fill, "Clean the voids", "Loose bark, soft wood and dust out", work("clean-voids", plan.CleanVoid, area/100))
	names := make([]string, 0, len(groups))
	for name := range groups {
		names = append(names, name)
	}
	sort.Strings(names)
	for _, name := range names {
		if name == "epoxy" {
			continue
		}
		voids := groups[name]
		kind := plan.Glue
		if name == "putty" || strings.HasPrefix(name, "glue and") {
			kind = plan.Putty
		}
		count := 0
		for _, v := range voids {
			count += v.Count
		}
		s := add(craft.Fill, "Fill with "+name, list(voids), work("fill-"+strings.ReplaceAll(name, " ", "-"), kind, float64(count)))
		for _, o := range voids[0].Options {
			if o.Name == name {
				s.Wait, s.WaitFor = o.Wait, name+" to harden"
			}
		}
	}
	if r.Mix == nil {
		return
	}
	for i := range r.Mix.Pours {
		detail := fmt.Sprintf("%s. Resin %.0f g, hardener %.0f g in all", list(groups["epoxy"]), r.Mix.ResinG.Value, r.Mix.HardenerG.Value)
		title := "Dam and pour"
		if r.Mix.Pours > 1 {
			title = fmt.Sprintf("Pour %d of %d", i+1, r.Mix.Pours)
		}
		s := add(craft.Fill, title, detail, work(fmt.Sprintf("pour-%d", i+1), plan.Pour, r.Mix.Total.Value/float64(r.Mix.Pours)))
		s.Wait, s.WaitFor = r.Mix.Sand, "resin to cure"
		if i < r.Mix.Pours-1 {
			s.Wait, s.WaitFor = r.Mix.Between, "resin to turn tacky"
		}
	}
	add(craft.Fill, "Flatten the filled faces again", "Very light passes: resin chips", work("reflatten", plan.Planing, float64(filledFaces(r.Voids))))
}

func list(voids []fill.Void) string {
	var names []string
	for _, v := range voids {
		if !slices.Contains(names, v.Name) {
			names = append(names, v.Name)
		}
	}
	return strings.Join(names, ", ")
}

func (b *bench) sandSteps(r Reckoned, add adder, work worker) {
	setup := b.job.Shop.Rules.Get(rule.GritSetup)
	for _, g := range r.Sanding.Grits {
		minutes := setup
		terms := []craft.Term{{Name: "changing the grit", Value: setup, Unit: craft.Minute}}
		var where []string
		for _, l := range r.Sanding.Ladders {
			for _, rung := range l.Rungs {
				if rung.Grit == g {
					minutes += rung.Minutes
					where = append(where, l.Surface)
					terms = append(terms, craft.Term{Name: l.Surface, Value: rung.Minutes, Unit: craft.Minute})
				}
			}
		}
		s := plan.Timed(fmt.Sprintf("sand-%d", g), plan.Sanding, minutes, setup, "changing the grit + every surface", terms, b.pace)
		s.Divisible = true
		add(craft.Sand, fmt.Sprintf("Sand P%d", g), "Vacuum and wipe after: "+strings.Join(where, ", "), s)
		if slices.Contains(r.Sanding.RaiseAfter, g) {
			w := add(craft.Sand, "Raise the grain", "Wet it all over; it is dry when its colour is back", work(fmt.Sprintf("raise-%d", g), plan.Water, 1))
			w.Wait, w.WaitFor = r.Sanding.RaiseWait, "water to dry: look for its own colour"
		}
	}
}

func (b *bench) finishSteps(r Reckoned, add adder, work worker) {
	add(craft.Finish, "Wipe off the dust", "Spirits also show the colour; let them flash off", work("wipe", plan.Wipe, 1))
	m2 := r.Finish.Grams.Terms[0].Value
	for i, coat := range r.Finish.Coats {
		s := add(craft.Finish, fmt.Sprintf("Coat %d: %s", i+1, coat.Product), fmt.Sprintf("%.1f g; wipe off what stays wet", coat.Grams), work(fmt.Sprintf("coat-%d", i+1), plan.Coat, m2))
		last := i == len(r.Finish.Coats)-1
		s.Wait, s.WaitFor = coat.Soak+coat.Wait, coat.Product+" to soak in"
		rest := r.Finish.Food.Value * 24 * 60
		if coat.Buff >= 0 {
			s.Wait, s.WaitFor = coat.Buff, coat.Product+" to haze"
			s = add(craft.Finish, "Buff", "", work(fmt.Sprintf("buff-%d", i+1), plan.Buff, m2))
			if !last {
				s.Wait, s.WaitFor = coat.Wait, "the next coat"
			}
		}
		if last {
			s.Rest = rest
		}
	}
}

func fittings(d Board) string {
	var names []string
	for _, f := range []struct {
		on   bool
		name string
	}{{d.Fit.Feet, "feet"}, {d.Fit.Cord, "cord"}, {d.Fit.Pulls != nil, "pulls"}, {d.Fit.Bolted != nil, "the bolted handle"}, {d.Fit.Cleat != nil, "the cleat"}, {d.Fit.Slicer != nil, "the slicer"}} {
		if f.on {
			names = append(names, f.name)
		}
	}
	if len(names) == 1 && names[0] == "cord" {
		return "the cord"
	}
	return strings.Join(names, " and ")
}

// cautions lists what belongs to each step.
func (b *bench) cautions(d Board, r Reckoned, steps []plan.Step) map[string][]Caution {
	m := caution.Material{Woods: b.wood.Species(), Reclaimed: b.wood.History.Reclaimed, Saw: d.Cut.Saw, Epoxy: r.Mix != nil, Curing: r.Finish.School.Curing, Paste: r.Finish.Paste != nil}
	out := map[string][]Caution{}
	for _, s := range steps {
		if cs := caution.For(s.Kind, m); len(cs) > 0 {
			out[s.Key] = cs
		}
	}
	return out
}

// helps tries what would bring a late board nearer to its date: other choices,
// one at a time, reckoned and dated again.
func (b *bench) helps(d Board, s board.Shaped, chains []plan.Chain, at int, was Reckoned) []Help {
	type trial struct {
		label string
		patch craft.Patch
		board Board
	}
	var trials []trial
	try := func(label string, patch craft.Patch, change func(*Board)) {
		c := d
		change(&c)
		trials = append(trials, trial{label, patch, c})
	}
	for _, school := range []string{"paste alone", "oil", "oil then paste"} {
		if school != d.Finish.School {
			try("Finish with "+school, craft.Patch{"finish": map[string]any{"school": school, "coats": 0}}, func(c *Board) { c.Finish.School, c.Finish.Coats = school, 0 })
		}
	}
	if d.Finish.Coats != 1 {
		try("One coat only", craft.Patch{"finish": map[string]any{"coats": 1}}, func(c *Board) { c.Finish.Coats = 1 })
	}
	for _, resin := range fill.Resins {
		if resin.Name != d.Fill.Resin && resin.Coldest <= b.job.Shop.Air.Temperature {
			try("Use "+resin.Name+" resin", craft.Patch{"fill": map[string]any{"resin": resin.Name}}, func(c *Board) { c.Fill.Resin = resin.Name })
		}
	}
	quick := map[string]any{}
	for _, v := range was.Voids {
		if v.ByHand && v.Chosen != v.Options[0].Name {
			quick[v.Flaw] = v.Options[0].Name
		}
	}
	if len(quick) > 0 {
		try("Fill each void with the quickest that fits", craft.Patch{"fill": map[string]any{"fillers": quick}}, func(c *Board) {
			c.Fill.Fillers = maps.Clone(c.Fill.Fillers)
			for id, name := range quick {
				c.Fill.Fillers[id] = name.(string)
			}
		})
	}
	if d.Sand.Raise != "once" && d.Sand.Raise != "never" {
		try("Raise the grain once", craft.Patch{"sand": map[string]any{"raise": "once"}}, func(c *Board) { c.Sand.Raise = "once" })
	}
	out := []Help{}
	for _, t := range trials {
		r, _ := b.amounts(t.board, s)
		again := slices.Clone(chains)
		again[at] = b.chain(t.board, r)
		course := b.planner.Schedule(again)[at]
		if course.Finish == nil || was.Course.Finish == nil {
			continue
		}
		if saves := was.Course.Finish.Sub(*course.Finish).Minutes(); saves >= 60 {
			out = append(out, Help{Label: t.label, Saves: math.Round(saves), Finish: *course.Finish, Enough: !course.Late, Patch: t.patch})
		}
	}
	sort.SliceStable(out, func(i, j int) bool { return out[i].Saves > out[j].Saves })
	return out
}
