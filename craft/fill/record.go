package fill

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// Conditions is what filling needs to know beside the voids and the choice.
type Conditions struct {
	Temperature float64 // of the shop, °C
	ScaleStep   float64 // smallest step of the scale, g
	ScaleMost   float64 // that the scale bears, g; 0 where nobody knows
	Cup         float64 // that the mixing cup holds, ml; 0 where nobody knows
	Habit       Habit   // what earlier pours have taught
	Looks       []Look  // at the pinholes so far
	Rules       rule.Set
	Pace        plan.Pace
	Again       plan.Step // flattening the filled faces once more
}

// Reckon reckons the filling of voids whose fillers are chosen: the resin to mix,
// nil when none is, and the record of the stage.
func Reckon(voids []Void, c Choice, k Conditions) (*Mix, stage.Record) {
	r := stage.Record{Stage: craft.Fill}
	var mix *Mix
	if m, verdicts, poured := Pour(voids, c, k); poured {
		mix, r.Figures, r.Verdicts = &m, m.Figures, verdicts
	}
	steps(&r, voids, mix, c, k)
	helps(&r, voids, c, k)
	return mix, r
}

// steps lists the work: clean, fill with each filler in turn, pour, flatten again.
func steps(r *stage.Record, voids []Void, mix *Mix, c Choice, k Conditions) {
	var filled, poured []Void
	area := 0.0
	for _, v := range voids {
		if len(v.Coats) > 0 && v.Chosen != Hardened {
			filled, area = append(filled, v), area+v.Area
		}
		if v.resinML() > 0 {
			poured = append(poured, v)
		}
	}
	raised(r, voids, k)
	routed(r, filled, k)
	if len(filled) == 0 {
		return
	}
	detail := "Loose bark, soft wood and dust out"
	if probed := slices.ContainsFunc(filled, Void.narrow); probed {
		detail += "; a wire down the narrow ones: how deep are they?"
	}
	r.Step("Clean the voids", detail, plan.Work("clean-voids", plan.CleanVoid, area/100, k.Pace))
	byHand(r, filled, k)
	if mix != nil {
		mix.steps(r, poured, k)
		r.Step("Flatten the filled faces again", "Very light passes: resin chips", k.Again)
		mix.Rounds(r, c, k)
	}
	r.Step("Wet the fillings and look", "They should read as a knot or a line; else once more, before the next step",
		plan.Timed("wet-look", plan.Water, 2, 0, "a wet rag", nil, k.Pace))
}

// PinholeKey begins the keys of the rounds of pinholes, FlushKey ends those of scraping them.
const (
	PinholeKey = "pinholes-"
	FlushKey   = "-flush"
)

// Look is a look for pinholes at the beginning of a round.
type Look struct {
	Round int // from 1
	Holes int // that were found; none ends the rounds
}

// rounds is how many rounds of pinholes are planned after a pour: the usual, one more as long as
// there are holes after them, and none any more once none are left.
func (c Choice) rounds(k Conditions) int {
	n := max(0, c.Rounds)
	if c.Rounds == 0 {
		n = int(math.Round(k.Rules.Get(rule.PinholeRounds)))
	}
	for _, l := range k.Looks {
		if l.Holes == 0 {
			return l.Round - 1
		}
		n = max(n, l.Round+1)
	}
	return n
}

// Rounds are the rounds of pinholes after a pour, as steps.
func (m Mix) Rounds(r *stage.Record, c Choice, k Conditions) {
	rounds := c.rounds(k)
	for i := range rounds {
		m.pinholes(r, i+1, rounds, c, k)
	}
}

// pinholes is one round of looking for what bubbles have left, and filling it: quick, with thin
// CA, or with resin, which waits until it can be sanded (rule: half a dozen holes a round).
func (m Mix) pinholes(r *stage.Record, round, of int, c Choice, k Conditions) {
	const holes, wait = 6, 20
	key := fmt.Sprintf("%s%d", PinholeKey, round)
	with := ThinCA
	if c.Dots != "" {
		with = m.Kind + " resin"
	}
	s := r.Step(
		fmt.Sprintf("Pinholes, round %d of %d", round, of),
		"Both faces under raking light. Each hole filled with "+with+", level upon level. None left ends the rounds",
		plan.Work(key, plan.ThinGlue, holes, k.Pace).On(with),
	)
	s.Wait, s.WaitFor = wait, with+" to harden"
	if c.Dots != "" {
		s.Wait = m.Sand
		a, b := m.split(leastMix / m.density())
		r.Use(stage.Resin, with, a, craft.Gram, key)
		r.Use(stage.Hardener, "hardener of "+with, b, craft.Gram, key)
	} else {
		r.Use(stage.Filler, ThinCA, pinholeML, craft.ML, key)
	}
	r.Step(
		"Scrape the dots flush",
		"A card scraper, lightly; the drum stays at its coarsest grit until the last round",
		plan.Timed(key+FlushKey, plan.Scrape, dotMinutes, 0, "a few dots", nil, k.Pace),
	)
}

// What a round of pinholes takes of CA, ml, and what scraping its dots takes, min (rules).
const (
	pinholeML  = 0.5
	dotMinutes = 3
)

// byHand are the steps that fill voids with fillers other than resin: level upon level, those
// that are alike together.
func byHand(r *stage.Record, voids []Void, k Conditions) {
	levels := [][]dab{}
	total := map[string]int{} // levels of a filler
	for _, v := range voids {
		n := 0
		for _, o := range v.Coats {
			if o.Filler == Epoxy {
				continue
			}
			for range o.Layers {
				if n == len(levels) {
					levels = append(levels, nil)
				}
				levels[n] = append(levels[n], dab{v, o})
				n++
			}
		}
	}
	for _, level := range levels {
		for _, name := range fillersOf(level) {
			total[name]++
		}
	}
	done := map[string]int{}
	for _, level := range levels {
		for _, name := range fillersOf(level) {
			done[name]++
			key, title := "fill-"+strings.NewReplacer(" ", "-", ",", "").Replace(name), "Fill with "+name
			if done[name] > 1 {
				key = fmt.Sprintf("%s-%d", key, done[name])
			}
			if total[name] > 1 {
				title = fmt.Sprintf("%s, layer %d of %d", title, done[name], total[name])
			}
			dabs(r, key, title, name, level, k)
		}
	}
}

// dab is one coat that goes into one void.
type dab struct {
	into Void
	coat Coat
}

// fillersOf lists the fillers of a level, each once.
func fillersOf(level []dab) (names []string) {
	for _, d := range level {
		if !slices.Contains(names, d.coat.Filler) {
			names = append(names, d.coat.Filler)
		}
	}
	slices.Sort(names)
	return names
}

// dabs is the work of one filler on one level.
func dabs(r *stage.Record, key, title, filler string, level []dab, k Conditions) {
	f := fillerOf(filler)
	var into []Void
	count := 0
	for _, d := range level {
		if d.coat.Filler == filler {
			into, count = append(into, d.into), count+d.into.Count
		}
	}
	detail := list(into)
	if filler == MediumCA || filler == ThinCA {
		detail += ". Accelerator from a hand's breadth, never near a flame"
	}
	s := r.Step(title, detail, plan.Work(key, f.work, float64(count), k.Pace).On(f.Name))
	s.Wait, s.WaitFor = f.Wait, f.Name+" to harden"
	for _, d := range level {
		if d.coat.Filler != filler {
			continue
		}
		d.coat.takes(r, d.coat.Volume/float64(d.coat.Layers), key)
		if filler == MediumCA {
			r.Use(stage.Filler, "accelerator", spray*float64(d.into.Count), craft.ML, key)
		}
	}
}

// spray is how much accelerator a layer in a void takes, ml (rule).
const spray = 0.2

// routed is the step that cuts what is to be cast.
func routed(r *stage.Record, filled []Void, k Conditions) {
	var cut []Void
	var volume float64
	for _, v := range filled {
		if v.kind == stock.Pocket {
			cut, volume = append(cut, v), volume+v.Volume
		}
	}
	if len(cut) > 0 {
		r.Step(
			"Rout what is to be cast",
			list(cut)+". To a template, a straight bit, no pass deeper than half of it; the "+
				"corners as the bit leaves them",
			plan.Work("rout-cast", plan.HogOut, volume, k.Pace).On(tool.RouterTool),
		)
	}
}

// raised are the steps that mend without a filler: dents steamed up, soft wood hardened.
func raised(r *stage.Record, voids []Void, k Conditions) {
	only := func(name string) (out []Void) {
		for _, v := range voids {
			if v.Chosen == name {
				out = append(out, v)
			}
		}
		return out
	}
	if dents := only(Steam); len(dents) > 0 {
		const iron = 5 // minutes a dent
		s := r.Step("Steam dents up", list(dents)+". A damp cloth and a hot iron, a little at a time; steam scalds",
			plan.Timed("fill-steam", plan.Putty, iron*float64(len(dents)), 0, "five minutes a dent", nil, k.Pace))
		s.Wait, s.WaitFor = fillerOf(Steam).Wait, "the wood to dry"
	}
	if soft := only(Hardened); len(soft) > 0 {
		var area float64
		for _, v := range soft {
			area += v.Area
		}
		const drinks = 0.02 // ml of thin CA a cm² (rule: a thin coat of a fifth of a millimetre)
		s := r.Step("Harden soft wood", list(soft)+". Press a nail in first; thin CA until it takes no more",
			plan.Work("fill-harden", plan.ThinGlue, float64(len(soft)), k.Pace).On(ThinCA))
		s.Wait, s.WaitFor = fillerOf(Hardened).Wait, ThinCA+" to harden"
		r.Use(stage.Filler, ThinCA, drinks*area/100, craft.ML, "fill-harden")
	}
}

// DamKey is the key of the step at which voids are dammed, PourKey begins the key of every pour,
// and WatchKey that of the looks after it.
const (
	DamKey   = "dam"
	PourKey  = "pour-"
	WatchKey = "watch-"
)

// When the pour is looked at for leaks, min after it; later every hour while it can be worked.
var firstLooks = []float64{10, 30, 60}

// looks lists when a pour is looked at, min after it: as long as it can be worked, and at least
// once.
func (m Mix) looks() (out []float64) {
	for _, at := range firstLooks {
		if at <= m.Working {
			out = append(out, at)
		}
	}
	for at := 120.0; at <= m.Working; at += 60 {
		out = append(out, at)
	}
	if len(out) == 0 {
		return []float64{m.Working}
	}
	return out
}

// attended is how long somebody stays by the pour, min: until the last of the first looks.
func (m Mix) attended() (last float64) {
	for _, at := range m.looks() {
		if at <= firstLooks[len(firstLooks)-1] {
			last = at
		}
	}
	return last
}

// steps are the dry run, then the pours of a mix into voids.
func (m Mix) steps(r *stage.Record, into []Void, k Conditions) {
	var dams []string
	for _, v := range into {
		dams = append(dams, fmt.Sprintf("%d, %s: %s", v.Number, v.Name, v.Dam))
	}
	r.Step(
		"Dam and dry run",
		strings.Join(dams, ". ")+". Trim the ends clean first, so that tape holds. A lamp behind or air shows where "+
			"it leaks, never water in wood: mark it",
		plan.Work(DamKey, plan.Dam, float64(len(into)), k.Pace),
	)
	m.Pouring(r, list(into), k)
}

// Pouring are the pours of a mix into what is named, as steps: each weighed, mixed, poured and
// watched.
func (m Mix) Pouring(r *stage.Record, into string, k Conditions) {
	if m.Warm > 0 {
		r.Step(
			"Warm the box",
			"To "+craft.In(m.Warm, craft.Celsius)+", with a mat that keeps its own heat; a lamp is "+
				"never left alone. No warmer before the pour has passed its peak",
			plan.Timed("warm-box", plan.Ready, 5, 0, "a box over the piece", nil, k.Pace),
		)
	}
	pours := float64(m.Pours)
	for i := range m.Pours {
		title := "Weigh, mix and pour"
		if m.Pours > 1 {
			title = fmt.Sprintf("Pour %d of %d", i+1, m.Pours)
		}
		key := fmt.Sprintf("%s%d", PourKey, i+1)
		detail := into + ". " + m.weighs()
		if m.Scuffed && i > 0 {
			detail = "Sand the last pour dull, P80, and wipe it. " + detail
		}
		s := r.Step(
			title,
			detail+". Three minutes' mixing, walls scraped, then into a second cup. A flame or heat gun "+
				"a forearm off, moving, two passes: bubbles rise; longer overheats it. Never with spirits or "+
				"accelerator about",
			plan.Work(key, plan.Pour, m.Total.Value/pours, k.Pace).On(m.Kind+" resin"),
		)
		s.Wait, s.WaitFor, s.Attended = m.attended(), "the looks for leaks", true
		s.Holding(plan.Level)
		r.Use(stage.Resin, m.Kind+" resin", m.ResinG.Value/pours, craft.Gram, key)
		r.Use(stage.Hardener, "hardener of "+m.Kind+" resin", m.HardenerG.Value/pours, craft.Gram, key)
		r.Use(stage.Filler, "pigment, "+m.Colour, m.PigmentG/pours, craft.Gram, key)
		m.watch(r, i, k)
	}
}

// watch is the looks for leaks after a pour, and topping it up while it sinks; then it cures.
func (m Mix) watch(r *stage.Record, i int, k Conditions) {
	key := fmt.Sprintf("%s%d", WatchKey, i+1)
	at := []string{}
	for _, look := range m.looks() {
		at = append(at, craft.In(math.Round(look), craft.Minute))
	}
	detail := "At " + strings.Join(at, ", ") + ": has it sunk, does it leak? Write down what was lost"
	if m.TopUps > 0 {
		detail += fmt.Sprintf(
			". Topped up at most %d times while it can be worked, a batch of its own each",
			m.TopUps,
		)
	}
	// For food, it must be cured through.
	s := r.Step("Watch the pour", detail, plan.Work(key, plan.Watch, float64(len(firstLooks)+m.TopUps), k.Pace))
	s.Wait, s.WaitFor, s.Rest = max(0, m.Sand-m.attended()), "resin to cure", m.Full*24*60-m.attended()
	if i < m.Pours-1 {
		s.Wait, s.WaitFor, s.Rest = max(0, m.Between-m.attended()), "resin to turn tacky", 0
		if m.Scuffed {
			s.WaitFor = "resin to cure, so that it can be sanded"
		}
	}
	s.Holding(plan.Level)
	if m.TopUps > 0 {
		a, b := m.split(m.TopUpML)
		r.Use(stage.Resin, m.Kind+" resin", a*float64(m.TopUps), craft.Gram, key)
		r.Use(stage.Hardener, "hardener of "+m.Kind+" resin", b*float64(m.TopUps), craft.Gram, key)
	}
}

// weighs tells what is weighed for one pour, batch by batch.
func (m Mix) weighs() string {
	b := m.Batch
	text := fmt.Sprintf("Resin %s, hardener %s", craft.In(tenth(b.ResinG), craft.Gram),
		craft.In(tenth(b.HardenerG), craft.Gram))
	if b.PigmentG > 0 {
		text += fmt.Sprintf(", pigment last, %s", craft.In(tenth(b.PigmentG), craft.Gram))
	}
	if m.Batches > 1 {
		return fmt.Sprintf("%d batches, each of: %s", m.Batches, text)
	}
	return text
}

func tenth(v float64) float64 { return math.Round(v*10) / 10 }

// helps lists other resins that bear the shop's temperature, and the quickest
// fillers.
func helps(r *stage.Record, voids []Void, c Choice, k Conditions) {
	for _, resin := range c.Kind(c.Resin).beside {
		if resin.Name != c.Resin && resin.Coldest <= c.Air(k.Temperature) {
			r.Help("Use "+resin.Name+" resin", "fill", map[string]any{"resin": resin.Name})
		}
	}
	quick := map[string]any{}
	for _, v := range voids {
		if v.ByHand && v.Chosen != v.Options[0].Name {
			quick[v.Flaw] = v.Options[0].Name
		}
	}
	if len(quick) > 0 {
		r.Help("Fill each void with the quickest that fits", "fill", map[string]any{"fillers": quick})
	}
}

// FilledFaces is how many faces of a board are flattened again after filling.
func FilledFaces(voids []Void) int {
	show, under := 0, 0
	for _, v := range voids {
		if !fillerOf(v.Chosen).proud {
			continue
		}
		if v.Under || v.Through {
			under = 1
		}
		if !v.Under {
			show = 1
		}
	}
	return show + under
}

// list joins the names of voids, each once.
func list(voids []Void) string {
	var names []string
	for _, v := range voids {
		if !slices.Contains(names, v.Name) {
			names = append(names, v.Name)
		}
	}
	return strings.Join(names, ", ")
}
