// Package sanding climbs the grits: what each leaves, how long each takes,
// and the quickest ladder over the grits in the drawer. Lengths in mm, roughness
// in µm, areas in mm², times in minutes.
package sanding

import (
	"cmp"
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
	Start  string `json:"start" doc:"The surface to begin with; empty as it is milled" enum:",old varnish,band saw,scraped resin,planer,drum P80,bought surfaced,hand plane,sanded P80,sanded P120,sanded P150,sanded P180,sanded P220"`
	Last   int    `json:"last" doc:"Last grit"`
	Raise  string `json:"raise" doc:"Raising the grain with water" enum:"once,twice,after every grit,never"`
	Resin  int    `json:"resin,omitempty" doc:"Last grit of resin in the faces; 0 for P400"`
	Ladder []int  `json:"ladder,omitempty" doc:"A ladder made by hand; empty for the quickest"`
}

// median is the middle grain size d50 in µm of each grit (ISO 6344).
var median = map[int]float64{
	40: 425, 50: 336, 60: 269, 80: 201, 100: 162, 120: 125, 150: 100, 180: 82, 220: 68, 240: 58.5, 280: 52.2, 320: 46.2,
	360: 40.5, 400: 35, 500: 30.2, 600: 25.8, 800: 21.8, 1000: 18.3, 1200: 15.3,
}

// Grits lists every grit known, coarsest first.
var Grits = func() []int {
	var all []int
	for g := range median {
		all = append(all, g)
	}
	slices.Sort(all)
	return all
}()

// Leaves is the roughness in µm that a grit leaves: a quarter of its d50.
func Leaves(grit int) float64 { return 0.25 * median[grit] }

// Jump is the ratio of grain sizes between two grits.
func Jump(from, to int) float64 { return median[from] / median[to] }

// The widest jumps: easy within the first, hard up to the second.
const (
	EasyJump = 1.75
	HardJump = 2.2
)

// start is a surface to begin with.
type start struct {
	name     string
	rough    float64 // µm
	coarsest int     // first grit at the coarsest
}

var starts = []start{
	{"old varnish", 400, 60}, {"band saw", 500, 60}, {"scraped resin", 300, 60}, {"planer", 120, 80},
	{"drum P80", 60, 120}, {"bought surfaced", 60, 120}, {"hand plane", 20, 150},
	{
		"sanded P80",
		Leaves(80),
		100,
	}, {"sanded P120", Leaves(120), 150}, {"sanded P150", Leaves(150), 180}, {"sanded P180", Leaves(180), 220},
	{"sanded P220", Leaves(220), 240},
}

// Starts lists the surfaces to begin with.
func Starts() []string {
	names := make([]string, len(starts))
	for i, s := range starts {
		names[i] = s.name
	}
	return names
}

// Delivered is the start for wood that came sanded to a grit, or planed when
// the grit is 0.
func Delivered(grit int) string {
	name := "bought surfaced"
	for _, g := range []int{80, 120, 150, 180, 220} {
		if grit >= g {
			name = fmt.Sprintf("sanded P%d", g)
		}
	}
	return name
}

// The starts that other surfaces than the faces begin with.
const (
	Sawn   = "band saw"
	Planed = "planer"
)

// AsMilled is the start that the last milling leaves, whatever it was done with.
const AsMilled = ""

// The starts that milling leaves.
const (
	DrumCoarse = "drum P80"
	HandPlaned = "hand plane"
)

// Drummed is the start that a drum leaves with paper of a grit, 0 where nobody told.
func Drummed(grit int) string {
	if grit <= 80 {
		return DrumCoarse
	}
	return Delivered(grit)
}

// Rough is the roughness that a start leaves to be sanded, µm.
func Rough(name string) float64 { return startOf(name).rough }

func startOf(name string) start {
	for _, s := range starts {
		if s.name == name {
			return s
		}
	}
	return starts[3]
}

// Check reports an unknown choice.
func (c Choice) Check(field string) (ps craft.Problems) {
	if c.Resin != 0 && !slices.Contains(Grits, c.Resin) {
		ps.Add(field+".resin", fmt.Sprintf("P%d is not a known grit", c.Resin), fmt.Sprintf("choose from %v", Grits))
	}
	ps.OneOf(field+".start", c.Start, append(Starts(), AsMilled)...)
	ps.OneOf(field+".raise", c.Raise, Schools...)
	if _, ok := median[c.Last]; !ok {
		ps.Add(field+".last", "not a known grit", "choose one such as 180, 220 or 320")
	}
	if len(c.Ladder) > 20 {
		ps.Add(field+".ladder", "too many grits", "keep at most 20")
	}
	for i, g := range c.Ladder {
		if _, ok := median[g]; !ok {
			ps.Add(field+".ladder", "not a known grit", "choose grits such as 80, 120, 180 and 220")
		}
		if i > 0 && g <= c.Ladder[i-1] {
			ps.Add(field+".ladder", "the ladder does not climb", "list the grits from coarse to fine")
		}
	}
	return ps
}

// Minutes is how long a grit takes to bring an area from a roughness to what
// it leaves, on wood of a hardness in newtons; rate is 1 for a face, less where
// the work goes slower.
func Minutes(area, rough float64, grit int, janka, rate, efficiency float64) float64 {
	const pad, speed, coverages = 125, 25, 2
	removal := 4000 * math.Pow(median[grit]/125, 0.8) * math.Pow(4450/janka, 0.6) * rate // mm³ a minute
	work := area * max(0, rough-Leaves(grit)) / 1000 / (efficiency * removal)
	least := coverages * area / (pad * speed * 60) / rate
	return max(work, least)
}

// Surface is one part of a board to be sanded.
type Surface struct {
	Name string
	Area float64
	Rate float64 // 1 for a face
	From float64 // roughness that sanding begins with, µm; 0 for that of the faces
	Wood float64 // Janka hardness, N
	Hand int     // only the last so many grits, by hand; 0 for the whole ladder
	Last int     // the last grit where it goes on beyond the ladder; 0 where it ends with it
	Slow int     // from that grit on at half the speed, so that it stays cool; 0 never
}

// Rates of work off the faces (rule).
const (
	EdgeRate   = 1.0 / 3
	HandRate   = 1.0 / 10
	RecessRate = 1.0 / 5
)

// Rung is one grit on one surface.
type Rung struct {
	Grit    int         `json:"grit" doc:"P-grade"`
	Minutes float64     `json:"minutes" doc:"Hands-on"`
	Leaves  float64     `json:"leaves" doc:"Roughness after it, µm"`
	Jump    float64     `json:"jump" doc:"Ratio of grain sizes from the grit before; 0 for the first"`
	Level   craft.Level `json:"level" doc:"Good, or left out of step"`
}

// Ladder is the climb over one surface.
type Ladder struct {
	Surface string       `json:"surface" doc:"What is sanded"`
	Area    float64      `json:"area" doc:"mm²"`
	Rough   float64      `json:"rough" doc:"Roughness before the first grit, µm"`
	Rungs   []Rung       `json:"rungs" doc:"The coarsest first"`
	Minutes float64      `json:"minutes" doc:"Without changing grits"`
	Working craft.Figure `json:"working" doc:"The minutes, grit by grit"`
}

// Plan is how a board is sanded.
type Plan struct {
	Start       string       `json:"start" doc:"The surface that its faces begin with"`
	Grits       []int        `json:"grits" doc:"The coarsest first"`
	Beyond      []int        `json:"beyond" doc:"Grits that only resin goes on through"`
	Ladders     []Ladder     `json:"ladders" doc:"The faces first"`
	Total       craft.Figure `json:"total" doc:"Minutes at the sander, with changing grits"`
	Coarser     []int        `json:"coarser" doc:"The ladder that starts one grit coarser; empty without one"`
	CoarserTime float64      `json:"coarserTime" doc:"Its minutes"`
	Quickest    []int        `json:"quickest" doc:"What the quickest ladder would be"`
	Discs       []Discs      `json:"discs" doc:"What is used up"`
	RaiseAfter  []int        `json:"raiseAfter" doc:"Grits after which the grain is raised"`
	RaiseWait   float64      `json:"raiseWait" doc:"Minutes to dry, then until the colour is back"`
}

// Discs is how many discs of a grit are used up.
type Discs struct {
	Grit  int     `json:"grit" doc:"P-grade"`
	Count float64 `json:"count" doc:"How many are used up"`
}

// Conditions is what a plan needs to know.
type Conditions struct {
	Owned    []int
	Humidity float64 // of the shop, %
	Rules    rule.Set
	Pace     plan.Pace
}

// Quickest finds the ladder of least time on a face of the given roughness over the
// grits owned, from first to last, with jumps within EasyJump where such a ladder
// exists, else with the smallest jumps to be had. It is nil when no grit owned lies
// between.
func Quickest(face Surface, rough float64, first, last int, c Conditions) []int {
	var grits []int
	for _, g := range c.Owned {
		if g >= first && g <= last && median[g] > 0 {
			grits = append(grits, g)
		}
	}
	slices.Sort(grits)
	grits = slices.Compact(grits)
	if len(grits) == 0 {
		return nil
	}
	limit := EasyJump
	for i := range grits[1:] { // a ladder that skips none has the smallest jumps
		limit = max(limit, Jump(grits[i], grits[i+1]))
	}
	return shortest(grits, face, rough, limit, c)
}

// shortest is the quickest path from the first to the last of the grits whose
// jumps stay within the limit; nil without one.
func shortest(grits []int, face Surface, rough, limit float64, c Conditions) []int {
	efficiency := c.Rules.Get(rule.SandEff)
	n := len(grits)
	best := make([]float64, n)
	from := make([]int, n)
	for i := range grits {
		best[i], from[i] = math.Inf(1), -1
		if i == 0 {
			best[0] = Minutes(face.Area, rough, grits[0], face.Wood, 1, efficiency)
			continue
		}
		for k := range i {
			if Jump(grits[k], grits[i]) > limit+1e-9 {
				continue
			}
			if t := best[k] + Minutes(face.Area, Leaves(grits[k]), grits[i], face.Wood, 1, efficiency); t < best[i] {
				best[i], from[i] = t, k
			}
		}
	}
	if math.IsInf(best[n-1], 1) {
		return nil
	}
	var path []int
	for i := n - 1; i >= 0; i = from[i] {
		path = append(path, grits[i])
	}
	slices.Reverse(path)
	return path
}

// Make plans the sanding of surfaces, the faces first: the plan, and the record of
// the stage.
func Make(surfaces []Surface, choice Choice, c Conditions) (Plan, stage.Record) {
	s := startOf(choice.Start)
	face, rough := surfaces[0], s.rough
	if i := slices.Index(Grits, s.coarsest); face.From > s.rough && i > 0 { // marks are sanded out: one grit coarser
		rough, s.coarsest = face.From, Grits[i-1]
	}
	first := s.coarsest
	out := Plan{Start: s.name, Grits: choice.Ladder, Quickest: Quickest(face, rough, first, choice.Last, c)}
	if len(out.Grits) == 0 {
		out.Grits = out.Quickest
	}
	if len(out.Grits) == 0 { // nothing owned between: what is wanted is what is shown
		out.Grits = []int{choice.Last}
	}
	if i := slices.Index(Grits, first); i > 0 {
		if coarser := Quickest(face, rough, Grits[i-1], choice.Last, c); len(coarser) > 0 && coarser[0] < first {
			out.Coarser = coarser
			for _, l := range climb(surfaces, coarser, s, c) {
				out.CoarserTime += l.Minutes
			}
			out.CoarserTime += float64(len(coarser)) * c.Rules.Get(rule.GritSetup)
		}
	}
	out.Ladders = climb(surfaces, out.Grits, s, c)
	out.Beyond = beyond(out.Ladders, out.Grits)
	setup := float64(len(out.Grits)+len(out.Beyond)) * c.Rules.Get(rule.GritSetup)
	total := setup
	terms := []craft.Term{{Name: "changing grits", Value: setup, Unit: craft.Minute}}
	for _, l := range out.Ladders {
		total += l.Minutes
		terms = append(terms, craft.Term{Name: l.Surface, Value: l.Minutes, Unit: craft.Minute})
	}
	out.Total = craft.Figure{
		Key: "sand.minutes", Stage: craft.Sand, Label: "At the sander", Value: total, Unit: craft.Minute,
		Formula: "for each grit and surface: area × (roughness before − left) ÷ (0.4 × removal), at least two " +
			"coverages, + changing grits",
		Terms:  append(terms, craft.Term{Name: "hardness of the wood", Value: face.Wood, Unit: craft.Newton}),
		Source: "grain sizes from ISO 6344; removal is a rule of the trade", Rule: true,
	}
	out.discs()
	out.RaiseAfter = raises(out.Grits, choice.Raise)
	out.RaiseWait = 30 + 30*min(1, max(0, (c.Humidity-40)/30))
	r := stage.Record{Stage: craft.Sand, Figures: out.figures(c), Verdicts: judge(out, choice, s, c)}
	out.steps(&r, c)
	if choice.Raise != Once && choice.Raise != Never {
		r.Help("Raise the grain once", "sand", map[string]any{"raise": Once})
	}
	return out, r
}

// The schools of raising the grain.
const (
	Once      = "once"
	Twice     = "twice"
	EveryGrit = "after every grit"
	Never     = "never"
)

// Schools lists the schools of raising the grain.
var Schools = []string{Once, Twice, EveryGrit, Never}

// steps lists the work: each grit over every surface, and water where the grain is
// raised.
func (p Plan) steps(r *stage.Record, c Conditions) {
	setup := c.Rules.Get(rule.GritSetup)
	for _, g := range slices.Concat(p.Grits, p.Beyond) {
		minutes := setup
		terms := []craft.Term{{Name: "changing the grit", Value: setup, Unit: craft.Minute}}
		var where []string
		for _, l := range p.Ladders {
			for _, rung := range l.Rungs {
				if rung.Grit == g {
					minutes += rung.Minutes
					where = append(where, l.Surface)
					terms = append(terms, craft.Term{Name: l.Surface, Value: rung.Minutes, Unit: craft.Minute})
				}
			}
		}
		key := fmt.Sprintf("sand-%d", g)
		s := plan.Timed(key, plan.Sanding, minutes, setup, "changing the grit + every surface", terms, c.Pace)
		s.Divisible = true
		detail := "Vacuum and wipe after: " + strings.Join(where, ", ")
		if g >= wetFrom && slices.Contains(p.Beyond, g) {
			detail = "Wet, a drop of soap in it, slowly: " + strings.Join(where, ", ")
		}
		r.Step(fmt.Sprintf("Sand P%d", g), detail, s.On(fmt.Sprintf("P%d", g)))
		for _, d := range p.Discs {
			if d.Grit == g {
				r.Use(stage.Abrasive, fmt.Sprintf("discs P%d", g), d.Count, "pieces", key)
			}
		}
		if slices.Contains(p.RaiseAfter, g) {
			w := r.Step(
				"Raise the grain",
				"Wet it all over; it is dry when its colour is back",
				plan.Work(fmt.Sprintf("raise-%d", g), plan.Water, 1, c.Pace),
			)
			w.Wait, w.WaitFor = p.RaiseWait, "water to dry: look for its own colour"
		}
	}
}

// figures shows the working of what a plan comes to.
func (p Plan) figures(c Conditions) []craft.Figure {
	out := []craft.Figure{p.Total}
	figure := func(key, label string, v float64, unit craft.Unit, formula, source string, terms ...craft.Term) {
		out = append(
			out,
			craft.Figure{
				Key:     key,
				Stage:   craft.Sand,
				Label:   label,
				Value:   v,
				Unit:    unit,
				Formula: formula,
				Terms:   terms,
				Source:  source,
				Rule:    true,
			},
		)
	}
	last := p.Grits[len(p.Grits)-1]
	var leaves, discs []craft.Term
	for _, g := range p.Grits {
		leaves = append(
			leaves,
			craft.Term{
				Name:  fmt.Sprintf("P%d, grains of %g µm, leaves", g, median[g]),
				Value: Leaves(g),
				Unit:  craft.Micron,
			},
		)
	}
	count := 0.0
	for _, d := range p.Discs {
		count += d.Count
		discs = append(
			discs,
			craft.Term{Name: fmt.Sprintf("P%d, a disc lasting %g min", d.Grit, life(d.Grit)), Value: d.Count},
		)
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
		figure(
			"sand.raise",
			"Water dries in",
			p.RaiseWait,
			craft.Minute,
			"30 min at 40 % humidity and less, 60 at 70 % and more; then until its own colour is back",
			"rule of the trade",
			craft.Term{Name: "the shop's humidity", Value: c.Humidity, Unit: craft.Percent},
		)
	}
	figure(
		"sand.discs",
		"Discs used up",
		count,
		craft.Count,
		"for each grit: minutes ÷ life of a disc, rounded up",
		"rule of the trade",
		discs...)
	if len(p.Coarser) > 0 {
		figure(
			"sand.coarser",
			fmt.Sprintf("Starting one coarser, at P%d", p.Coarser[0]),
			p.CoarserTime,
			craft.Minute,
			"the quickest ladder that starts one grit coarser, with changing grits",
			"as for the ladder itself",
			craft.Term{Name: "the ladder itself", Value: p.Total.Value, Unit: craft.Minute},
		)
	}
	return out
}

// ResinGrits are the grits that resin may go on to: it is clear from the first, and shines from the
// next on (rule).
func ResinGrits() []int { return Grits[slices.Index(Grits, resinClear):] }

// resinClear is the grit from which resin is clear (rule).
const resinClear = 400

// LastOfResin is the grit that resin is sanded to.
func (c Choice) LastOfResin() int { return cmp.Or(c.Resin, resinClear) }

// wetFrom is the grit from which resin is sanded wet (rule).
const wetFrom = 600

// further are the grits from one to a last one beyond it: those that are owned, and where none of
// them is the last, that one, which is bought.
func further(from, last int, owned []int) (out []int) {
	for _, g := range owned {
		if g > from && g < last && median[g] > 0 {
			out = append(out, g)
		}
	}
	slices.Sort(out)
	out = slices.Compact(out)
	if last > from {
		out = append(out, last)
	}
	return out
}

// beyond are the grits of ladders that go on after the common one.
func beyond(ladders []Ladder, grits []int) []int {
	out := []int{}
	for _, l := range ladders {
		for _, r := range l.Rungs {
			if r.Grit > grits[len(grits)-1] && !slices.Contains(out, r.Grit) {
				out = append(out, r.Grit)
			}
		}
	}
	slices.Sort(out)
	return out
}

// climb sands every surface by the same grits.
func climb(surfaces []Surface, grits []int, s start, c Conditions) []Ladder {
	efficiency := c.Rules.Get(rule.SandEff)
	var out []Ladder
	for _, surface := range surfaces {
		if surface.Area <= 0 {
			continue
		}
		l := Ladder{Surface: surface.Name, Area: surface.Area, Rough: cmp.Or(surface.From, s.rough)}
		steps := grits
		if surface.Hand > 0 && len(grits) > surface.Hand {
			steps = grits[len(grits)-surface.Hand:]
			l.Rough = Leaves(grits[len(grits)-surface.Hand-1])
		}
		steps = append(steps[:len(steps):len(steps)], further(steps[len(steps)-1], surface.Last, c.Owned)...)
		rough := l.Rough
		for i, g := range steps {
			rate := surface.Rate
			if surface.Slow > 0 && g >= surface.Slow {
				rate /= 2
			}
			r := Rung{Grit: g, Leaves: Leaves(g), Level: craft.Good,
				Minutes: Minutes(surface.Area, rough, g, surface.Wood, rate, efficiency)}
			if i > 0 {
				r.Jump = Jump(steps[i-1], g)
				r.Level = craft.Over(r.Jump, EasyJump+1e-9, HardJump)
			}
			rough = r.Leaves
			l.Minutes += r.Minutes
			l.Rungs = append(l.Rungs, r)
		}
		l.Working = craft.Figure{
			Key: "sand.ladder", Stage: craft.Sand, Label: surface.Name, Value: l.Minutes, Unit: craft.Minute,
			Rule: true,
			Formula: "for each grit: area × (roughness before − left) ÷ (share kept up × removal × pace on this " +
				"surface), at least two coverages",
			Terms: []craft.Term{
				{Name: "area", Value: surface.Area / 100, Unit: craft.CM2},
				{Name: "roughness before", Value: l.Rough, Unit: craft.Micron},
				{
					Name:  "pace on this surface",
					Value: surface.Rate,
				},
				{Name: "share kept up", Value: efficiency},
				{Name: "hardness", Value: surface.Wood, Unit: craft.Newton},
			},
			Source: "grain sizes from ISO 6344; removal {4 cm³} a minute × (grain ÷ 125)^0.8 × (4450 ÷ hardness)^0.6",
		}
		out = append(out, l)
	}
	return out
}

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
	for _, g := range slices.Concat(p.Grits, p.Beyond) {
		var minutes float64
		for _, l := range p.Ladders {
			for _, r := range l.Rungs {
				if r.Grit == g {
					minutes += r.Minutes
				}
			}
		}
		p.Discs = append(p.Discs, Discs{g, math.Ceil(minutes / life(g))})
	}
}

// raises lists the grits after which water goes on: before the last one, or the last
// two, or every one. After the last nothing would take the fibres off.
func raises(grits []int, school string) []int {
	n := len(grits)
	before := func(k int) []int { return append([]int{}, grits[max(0, n-1-k):n-1]...) }
	switch {
	case school == Never || n < 2:
		return []int{}
	case school == Once:
		return before(1)
	case school == Twice:
		return before(2)
	}
	return before(n)
}

// needless judges a ladder that begins coarser than the surface asks for.
func needless(p Plan, choice Choice, s start) (craft.Verdict, bool) {
	first := p.Grits[0]
	if first >= s.coarsest || Leaves(first) <= s.rough {
		return craft.Verdict{}, false
	}
	v := craft.Verdict{
		Check: "coarse-start", Stage: craft.Sand, Level: craft.Mind, Limit: s.rough,
		Finding: fmt.Sprintf("P%d scratches a surface that is smoother already", first),
		Reason:  "A grit leaves its own scratches, and the next ones have to take them out again.",
		Figure: craft.Figure{
			Key: "sand.first", Stage: craft.Sand, Label: "The first grit leaves",
			Value: Leaves(first), Unit: craft.Micron,
			Formula: "depth of its scratches, against the roughness of the " + s.name + " surface",
			Source:  "grain sizes from ISO 6344", Rule: true,
		},
	}
	if len(choice.Ladder) > 0 && len(p.Quickest) > 0 {
		v.Remedies = []craft.Remedy{
			{Label: "Use the quickest ladder", Patch: craft.Patch{"sand": map[string]any{"ladder": []int{}}}},
		}
	}
	return v, true
}

func judge(p Plan, choice Choice, s start, c Conditions) []craft.Verdict {
	var out []craft.Verdict
	worst, at := 0.0, 0
	for i, g := range p.Grits {
		jump := 0.0
		if i > 0 {
			jump = Jump(p.Grits[i-1], g)
		} else if g > s.coarsest {
			jump = Jump(s.coarsest, g)
		}
		if jump > worst {
			worst, at = jump, g
		}
	}
	v := craft.Verdict{
		Check: "jump", Stage: craft.Sand, Level: craft.Over(worst, EasyJump+1e-9, HardJump), Limit: EasyJump,
		Finding: "No grit is skipped", Reason: "Scratches of a skipped grit stay and show under oil; stopping by the " +
			"clock does not take them out.",
		Figure: craft.Figure{
			Key:     "sand.jump",
			Stage:   craft.Sand,
			Label:   "Widest jump",
			Value:   worst,
			Formula: "grain size of one grit ÷ grain size of the next",
			Terms: []craft.Term{
				{Name: "into grit P", Value: float64(at)},
			},
			Source: "grain sizes from ISO 6344",
			Rule:   true,
		},
	}
	if v.Level != craft.Good {
		v.Finding = "The ladder skips a grit"
		if len(choice.Ladder) > 0 && len(p.Quickest) > 0 {
			v.Remedies = []craft.Remedy{
				{Label: "Use the quickest ladder", Patch: craft.Patch{"sand": map[string]any{"ladder": []int{}}}},
			}
		}
	}
	out = append(out, v)
	if v, coarse := needless(p, choice, s); coarse {
		out = append(out, v)
	}

	missing := 0
	for _, g := range p.Grits {
		if !slices.Contains(c.Owned, g) {
			missing++
		}
	}
	if last := p.Grits[len(p.Grits)-1]; missing > 0 || last != choice.Last {
		out = append(out, craft.Verdict{
			Check: "grits-owned", Stage: craft.Sand, Level: craft.Mind,
			Finding: "A grit of this ladder is not in the drawer", Reason: "Buy it, or stop at one that you have.",
			Figure: craft.Figure{
				Key:     "sand.missing",
				Stage:   craft.Sand,
				Label:   "Grits to buy",
				Value:   float64(max(1, missing)),
				Formula: "grits of the ladder − grits owned",
				Source:  "the shop's drawer",
			},
		})
	}
	if len(p.RaiseAfter) == 0 {
		v := craft.Verdict{
			Check: "raise", Stage: craft.Sand, Level: craft.Mind, Finding: "The grain is never raised", AtLeast: true,
			Limit:  1,
			Reason: "The first wash raises it instead, and the board comes out furry.",
			Figure: craft.Figure{
				Key:     "sand.raised",
				Stage:   craft.Sand,
				Label:   "Times raised",
				Formula: "school of raising the grain",
				Source:  "rule of the trade",
				Rule:    true,
			},
		}
		if len(p.Grits) > 1 {
			v.Remedies = []craft.Remedy{
				{
					Label: "Raise it once, before the last grit",
					Patch: craft.Patch{"sand": map[string]any{"raise": Once}},
				},
			}
		} else {
			v.Finding = "One grit alone: nothing takes the raised fibres off"
		}
		out = append(out, v)
	}
	return out
}
