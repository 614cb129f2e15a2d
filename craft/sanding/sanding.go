// Package sanding climbs the grits: what each leaves, how long each takes, and the quickest ladder
// over the grits in the drawer, for every surface of a board by itself. Lengths in mm, roughness
// in µm, areas in mm², times in minutes.
package sanding

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/stage"
)

// Choice is how a board is sanded.
type Choice struct {
	Start   string `json:"start" doc:"The surface to begin with; empty as it is milled" enum:",old varnish,band saw,scraped resin,planer,drum P80,bought surfaced,hand plane,sanded P80,sanded P120,sanded P150,sanded P180,sanded P220,router profile,router bit in a floor,gouge or carving disc,drum P40,drum P120,washed out,bored wall,card scraper"`
	Last    int    `json:"last" doc:"Last grit; 0 for the one that finish and wood ask for"`
	Raise   string `json:"raise" doc:"Raising the grain with water" enum:"once,twice,after every grit,never,picked"`
	Wet     []int  `json:"wet,omitempty" doc:"Where picked: the grits after which it is wetted"`
	Resin   int    `json:"resin,omitempty" doc:"Last grit of resin in the faces; 0 for P400"`
	Ladder  []int  `json:"ladder,omitempty" doc:"A ladder made by hand; empty for the quickest"`
	Own     []Own  `json:"own,omitempty" doc:"Surfaces that are sanded otherwise than the board"`
	Corners bool   `json:"corners,omitempty" doc:"Corners are rounded at the first grit, and again at the last"`
}

// mostOwn bounds the surfaces that are set by themselves.
const mostOwn = 60

// Check reports an unknown choice.
func (c Choice) Check(field string) (ps craft.Problems) {
	checkGrit(&ps, field+".resin", c.Resin)
	ps.OneOf(field+".start", c.Start, append(Starts(), AsMilled)...)
	ps.OneOf(field+".raise", c.Raise, Schools...)
	checkGrit(&ps, field+".last", c.Last)
	checkLadder(&ps, field+".ladder", c.Ladder)
	checkLadder(&ps, field+".wet", c.Wet)
	if len(c.Own) > mostOwn {
		ps.Add(field+".own", "there are too many", fmt.Sprintf("set at most %d surfaces by themselves", mostOwn))
		return ps
	}
	for i, o := range c.Own {
		ps = append(ps, o.check(fmt.Sprintf("%s.own[%d]", field, i))...)
	}
	return ps
}

// Plan is how a board is sanded.
type Plan struct {
	Start       string       `json:"start" doc:"The surface that its faces begin with"`
	Grits       []int        `json:"grits" doc:"Those of the board, the coarsest first"`
	All         []int        `json:"all" doc:"With those that only some surfaces need"`
	Ladders     []Ladder     `json:"ladders" doc:"The faces first"`
	Total       craft.Figure `json:"total" doc:"Minutes at the sander, with changing grits"`
	Coarser     []int        `json:"coarser" doc:"The ladder that starts one grit coarser; empty without one"`
	CoarserTime float64      `json:"coarserTime" doc:"Its minutes"`
	Quickest    []int        `json:"quickest" doc:"What the quickest ladder would be"`
	Discs       []Discs      `json:"discs" doc:"What is used up"`
	RaiseAfter  []int        `json:"raiseAfter" doc:"Grits after which the grain is raised"`
	RaiseWait   float64      `json:"raiseWait" doc:"Minutes to dry, then until the colour is back"`
	Wettings    []Wetting    `json:"wettings" doc:"Ways to raise the grain, side by side"`
	Proposed    Proposal     `json:"proposed" doc:"The last grit that finish and wood ask for"`
}

// Discs is how many discs of a grit are used up.
type Discs struct {
	Grit  int     `json:"grit" doc:"P-grade"`
	Count float64 `json:"count" doc:"How many are used up"`
}

// Conditions is what a plan needs to know.
type Conditions struct {
	Owned    []int
	Tools    []string // kinds of tools in the shop; nil where they are not asked for
	Humidity float64  // of the shop, %
	Asked    Asked    // what the last grit is proposed by
	Log      []plan.Entry
	Rules    rule.Set
	Pace     plan.Pace
}

// Make plans the sanding of surfaces, the faces first: the plan, and the record of
// the stage.
func Make(surfaces []Surface, choice Choice, c Conditions) (Plan, stage.Record) {
	out := Plan{Proposed: c.Asked.propose(c.Owned)}
	out.climb(surfaces, choice, c)
	out.Proposed.Finer, out.Proposed.Minutes = out.finer(surfaces, choice, c)
	out.workings(surfaces, choice, c)
	start := surfaces[0].start(choice)
	if i := slices.Index(Grits, start.Coarsest); i > 0 {
		if coarser := Quickest(surfaces[0], Start{start.Name, start.Rough, Grits[i-1]}, choice.last(c), c.Owned,
			c.Rules.Get(rule.SandEff)); len(coarser) > 0 && coarser[0] < start.Coarsest {
			with, other := choice, Plan{}
			with.Ladder = coarser
			other.climb(surfaces, with, c)
			out.Coarser, out.CoarserTime = coarser, other.Total.Value
		}
	}
	out.discs()
	out.RaiseAfter = raises(out.Grits, choice)
	out.RaiseWait = 30 + 30*min(1, max(0, (c.Humidity-40)/30))
	out.Wettings = wettings(out, choice, c)
	r := stage.Record{Stage: craft.Sand, Figures: out.figures(c), Verdicts: judge(out, surfaces, choice, c)}
	r.Verdicts = append(r.Verdicts, out.seen(c.Log)...)
	out.steps(&r, choice, c)
	if choice.Raise != Once && choice.Raise != Never {
		r.Help("Raise the grain once", "sand", map[string]any{"raise": Once})
	}
	return out, r
}

// last is the grit that the board is sanded to.
func (c Choice) last(on Conditions) int {
	if c.Last != 0 {
		return c.Last
	}
	return on.Asked.propose(on.Owned).Grit
}

// start is how the faces are found.
func (s Surface) start(c Choice) Start {
	if s.Start.Coarsest != 0 {
		return s.Start
	}
	return StartOf(c.Start)
}

// climb works out the grits of a board, the ladder of every surface, and their minutes.
func (p *Plan) climb(surfaces []Surface, choice Choice, c Conditions) {
	face := surfaces[0]
	start, last := face.start(choice), choice.last(c)
	p.Start = start.Name
	p.Quickest = Quickest(face, start, last, c.Owned, c.Rules.Get(rule.SandEff))
	p.Grits = choice.Ladder
	if len(p.Grits) == 0 {
		p.Grits = p.Quickest
	}
	if len(p.Grits) == 0 { // nothing owned between: what is wanted is what is shown
		p.Grits = []int{last}
	}
	last = p.Grits[len(p.Grits)-1]
	p.All = slices.Clone(p.Grits)
	for _, s := range surfaces {
		if s.Area <= 0 {
			continue
		}
		l := s.set(choice).ladder(p.Grits, start, last, len(choice.Ladder) > 0, c)
		for _, r := range l.Rungs {
			p.All = append(p.All, r.Grit)
		}
		p.Ladders = append(p.Ladders, l)
	}
	slices.Sort(p.All)
	p.All = slices.Compact(p.All)
	p.Total.Value = float64(len(p.All)) * c.Rules.Get(rule.GritSetup)
	for _, l := range p.Ladders {
		p.Total.Value += l.Minutes
	}
}

// workings shows how the minutes of a plan came about, all together and surface by surface.
func (p *Plan) workings(surfaces []Surface, choice Choice, c Conditions) {
	setup := float64(len(p.All)) * c.Rules.Get(rule.GritSetup)
	terms := []craft.Term{{Name: "changing grits", Value: setup, Unit: craft.Minute}}
	for i := range p.Ladders {
		l := &p.Ladders[i]
		terms = append(terms, craft.Term{Name: l.Surface, Value: l.Minutes, Unit: craft.Minute})
		k := slices.IndexFunc(surfaces, func(s Surface) bool { return s.Name == l.Surface })
		l.Working = surfaces[k].set(choice).working(*l, c.Rules.Get(rule.SandEff))
	}
	p.Total = craft.Figure{
		Key: "sand.minutes", Stage: craft.Sand, Label: "At the sander", Value: p.Total.Value, Unit: craft.Minute,
		Formula: "for each grit and surface: area × (roughness before − left) ÷ (0.4 × removal), at least two " +
			"coverages, + changing grits",
		Terms:  append(terms, craft.Term{Name: "hardness of the wood", Value: surfaces[0].Wood, Unit: craft.Newton}),
		Source: "grain sizes from ISO 6344; removal is a rule of the trade", Rule: true,
	}
}

// corners is how long the corners of a board take at the first grit, and at the last, minutes (rule).
const corners = 2

// steps lists the work: each grit over every surface, and water where the grain is
// raised. What is to be minded stands once, where it matters first.
func (p Plan) steps(r *stage.Record, choice Choice, c Conditions) {
	setup := c.Rules.Get(rule.GritSetup)
	first, last := p.All[0], p.Grits[len(p.Grits)-1]
	sand := func(key string, g int, title string) {
		minutes := setup
		terms := []craft.Term{{Name: "changing the grit", Value: setup, Unit: craft.Minute}}
		var where, cues []string
		for _, l := range p.Ladders {
			if rung, on := l.rungOf(g); on {
				minutes += rung.Minutes
				where = append(where, named(l.Surface, rung.By))
				terms = append(terms, craft.Term{Name: l.Surface, Value: rung.Minutes, Unit: craft.Minute})
			}
		}
		if choice.Corners && (g == first || g == last) {
			minutes += corners
			where = append(where, "corners, rounded")
			terms = append(terms, craft.Term{Name: "corners", Value: corners, Unit: craft.Minute})
		}
		if n := len(p.missed(key, c.Log)); n > 0 {
			cues = append(cues, fmt.Sprintf("Missed scratches are marked, %d: go back to the grit before there", n))
		}
		cues = append(cues, p.cues(g)...)
		s := plan.Timed(key, plan.Sanding, minutes, setup, "changing the grit + every surface", terms, c.Pace)
		s.Divisible = true
		detail := strings.Join(append(cues, "Vacuum and wipe after: "+strings.Join(where, ", ")), ". ")
		if g >= wetFrom && g > last {
			detail = "Wet, a drop of soap in it, slowly: " + strings.Join(where, ", ")
		}
		r.Step(title, detail, s.On(fmt.Sprintf("P%d", g)))
		for _, d := range p.Discs {
			if d.Grit == g {
				r.Use(stage.Abrasive, fmt.Sprintf("discs P%d", g), d.Count, "pieces", key)
			}
		}
	}
	for _, g := range p.All {
		sand(SandKey(g), g, fmt.Sprintf("Sand P%d", g))
		if slices.Contains(p.RaiseAfter, g) {
			p.wet(r, g, c)
			if g == last { // nothing comes after it: the same grit takes the fibres off
				sand(SandKey(g)+again, g, fmt.Sprintf("Sand P%d again, lightly", g))
			}
		}
	}
}

// again ends the key of a grit that is sanded once more.
const again = "-again"

// The keys of the steps of sanding and of wetting begin so, and end with the grit.
const (
	sandKey = "sand-"
	wetKey  = "raise-"
)

// Sands tells of the key of a step at which a grit is sanded.
func Sands(key string) bool { return strings.HasPrefix(key, sandKey) }

// SandKey is the key of the step of a grit.
func SandKey(grit int) string { return fmt.Sprintf("%s%d", sandKey, grit) }

// named is a surface with what it is sanded with.
func named(surface, by string) string {
	if by == "" {
		return surface
	}
	return surface + " (" + by + ")"
}

// checked is the grit after which the thickness at the corners is looked at, or the next one (rule).
const checked = 80

// Measured is the grit after which the thickness at the corners is typed in.
func (p Plan) Measured() int {
	for _, g := range p.Grits {
		if g >= checked {
			return g
		}
	}
	return p.Grits[len(p.Grits)-1]
}

// cues are what is to be minded at a grit, each once.
func (p Plan) cues(g int) (out []string) {
	if g == p.All[0] {
		out = append(out, "Along the grain, light pressure: let the grit cut")
	}
	for _, t := range Tools { // each once, for all surfaces that begin with it
		var on []string
		for _, l := range p.Ladders {
			if l.Rungs[0].Grit == g && l.Rungs[0].By == t.Name {
				on = append(on, l.Surface)
			}
		}
		if len(on) > 0 {
			out = append(out, craft.Capital(strings.Join(on, ", "))+", "+t.Name+": "+t.Tell)
		}
	}
	if g == p.Measured() {
		out = append(out, "The same passes everywhere: read the thickness at the four corners")
	}
	if g == p.Grits[len(p.Grits)-1] {
		out = append(out, "Run a fingertip over every edge: what catches is a splinter")
	}
	return out
}

// figures shows the working of what a plan comes to.
func (p Plan) figures(c Conditions) []craft.Figure {
	out := []craft.Figure{p.Total}
	figure := func(key, label string, v float64, unit craft.Unit, formula, source string, terms ...craft.Term) {
		out = append(out, craft.Figure{
			Key: key, Stage: craft.Sand, Label: label, Value: v, Unit: unit, Formula: formula, Terms: terms,
			Source: source, Rule: true,
		})
	}
	last := p.Grits[len(p.Grits)-1]
	var leaves, discs []craft.Term
	for _, g := range p.Grits {
		leaves = append(leaves, craft.Term{
			Name:  fmt.Sprintf("P%d, grains of %g µm, leaves", g, median[g]),
			Value: Leaves(g),
			Unit:  craft.Micron,
		})
	}
	count := 0.0
	for _, d := range p.Discs {
		count += d.Count
		discs = append(discs, craft.Term{
			Name: fmt.Sprintf("P%d, a disc lasting %g min", d.Grit, life(d.Grit)), Value: d.Count,
		})
	}
	figure(
		"sand.leaves",
		fmt.Sprintf("Left after P%d", last),
		Leaves(last),
		craft.Micron,
		"a quarter of the middle grain size",
		"grain sizes from ISO 6344",
		leaves...)
	if len(p.RaiseAfter) > 0 {
		figure("sand.raise", "Water dries in", p.RaiseWait, craft.Minute,
			"30 min at 40 % humidity and less, 60 at 70 % and more; then until its own colour is back",
			"rule of the trade", craft.Term{Name: "the shop's humidity", Value: c.Humidity, Unit: craft.Percent})
	}
	figure("sand.discs", "Discs used up", count, craft.Count, "for each grit: minutes ÷ life of a disc, rounded up",
		"rule of the trade", discs...)
	if len(p.Coarser) > 0 {
		figure("sand.coarser", fmt.Sprintf("Starting one coarser, at P%d", p.Coarser[0]), p.CoarserTime, craft.Minute,
			"the quickest ladder that starts one grit coarser, with changing grits", "as for the ladder itself",
			craft.Term{Name: "the ladder itself", Value: p.Total.Value, Unit: craft.Minute})
	}
	return out
}

// ResinGrits are the grits that resin may go on to: it is clear from the first, and shines from the
// next on (rule).
func ResinGrits() []int { return Grits[slices.Index(Grits, resinClear):] }

// resinClear is the grit from which resin is clear (rule).
const resinClear = 400

// LastOfResin is the grit that resin is sanded to.
func (c Choice) LastOfResin() int {
	if c.Resin == 0 {
		return resinClear
	}
	return c.Resin
}

// wetFrom is the grit from which resin is sanded wet (rule).
const wetFrom = 600

// life is how many minutes a disc lasts (rule).
func life(grit int) float64 {
	switch {
	case grit <= 80:
		return 15
	case grit <= 180:
		return 12
	}
	return 10
}

func (p *Plan) discs() {
	for _, g := range p.All {
		var minutes float64
		for _, l := range p.Ladders {
			if rung, on := l.rungOf(g); on && rung.By != Scraper {
				minutes += rung.Minutes
			}
		}
		p.Discs = append(p.Discs, Discs{g, math.Ceil(minutes / life(g))})
	}
}
