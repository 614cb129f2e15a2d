package fill

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/stage"
)

// Conditions is what filling needs to know beside the voids and the choice.
type Conditions struct {
	Temperature float64 // of the shop, °C
	ScaleStep   float64 // smallest step of the scale, g
	Rules       rule.Set
	Pace        plan.Pace
	Again       plan.Step // flattening the filled faces once more
}

// Reckon reckons the filling of voids whose fillers are chosen: the resin to mix,
// nil when none is, and the record of the stage.
func Reckon(voids []Void, c Choice, k Conditions) (*Mix, stage.Record) {
	r := stage.Record{Stage: craft.Fill}
	var mix *Mix
	if m, verdicts, poured := Pour(voids, c, k.Temperature, k.ScaleStep, k.Rules); poured {
		mix, r.Figures, r.Verdicts = &m, m.Figures, verdicts
	}
	steps(&r, voids, mix, c.rounds(k.Rules), k)
	helps(&r, voids, c, k)
	return mix, r
}

// steps lists the work: clean, fill with each filler in turn, pour, flatten again.
func steps(r *stage.Record, voids []Void, mix *Mix, rounds int, k Conditions) {
	byFiller := map[string][]Void{}
	area := 0.0
	for _, v := range voids {
		if v.Chosen != Leave {
			byFiller[v.Chosen] = append(byFiller[v.Chosen], v)
			area += v.Area
		}
	}
	if len(byFiller) == 0 {
		return
	}
	r.Step(
		"Clean the voids",
		"Loose bark, soft wood and dust out",
		plan.Work("clean-voids", plan.CleanVoid, area/100, k.Pace),
	)
	for _, name := range slices.Sorted(maps.Keys(byFiller)) {
		if name != Epoxy {
			byHand(r, fillerOf(name), byFiller[name], k)
		}
	}
	if mix != nil {
		mix.steps(r, list(byFiller[Epoxy]), k)
		r.Step("Flatten the filled faces again", "Very light passes: resin chips", k.Again)
		for i := range rounds {
			pinholes(r, i+1, rounds, k)
		}
	}
}

// PinholeKey begins the keys of the rounds of pinholes.
const PinholeKey = "pinholes-"

// pinholes is one round of looking for what bubbles have left, and filling it: quick, with thin
// CA (rule: half a dozen holes a round).
func pinholes(r *stage.Record, round, of int, k Conditions) {
	const holes, wait = 6, 20
	key := fmt.Sprintf("%s%d", PinholeKey, round)
	s := r.Step(
		fmt.Sprintf("Pinholes, round %d of %d", round, of),
		"Both faces under raking light. Each hole filled with thin CA, level upon level. None left ends the rounds",
		plan.Work(key, plan.ThinGlue, holes, k.Pace).On(ThinCA),
	)
	s.Wait, s.WaitFor = wait, ThinCA+" to harden"
	r.Use(stage.Filler, ThinCA, pinholeML, craft.ML, key)
	r.Step("Scrape the dots flush", "A card scraper, lightly; sanding waits for the last round",
		plan.Timed(key+"-flush", plan.Scrape, dotMinutes, 0, "a few dots", nil, k.Pace))
}

// What a round of pinholes takes of CA, ml, and what scraping its dots takes, min (rules).
const (
	pinholeML  = 0.5
	dotMinutes = 3
)

// byHand are the steps that fill voids with one filler other than resin: layer upon
// layer, and what goes on top.
func byHand(r *stage.Record, f Filler, voids []Void, k Conditions) {
	key, layers := "fill-"+strings.NewReplacer(" ", "-", ",", "").Replace(f.Name), 1
	for _, v := range voids {
		layers = max(layers, f.layers(v))
	}
	for layer := range layers {
		var still []Void // that are not full yet
		for _, v := range voids {
			if f.layers(v) > layer {
				still = append(still, v)
			}
		}
		title, at := f.title(), key
		if layers > 1 {
			title = fmt.Sprintf("%s, layer %d of %d", title, layer+1, layers)
		}
		if layer > 0 {
			at = fmt.Sprintf("%s-%d", key, layer+1)
		}
		f.step(r, at, title, still, k)
	}
	if f.then != "" {
		top := fillerOf(f.then)
		top.step(r, key+"-top", top.title(), voids, k)
	}
}

// step is the work of one layer.
func (f Filler) step(r *stage.Record, key, title string, voids []Void, k Conditions) {
	count, volume := 0, 0.0
	for _, v := range voids {
		count, volume = count+v.Count, volume+v.Volume/float64(f.layers(v))
	}
	s := r.Step(title, list(voids), plan.Work(key, f.work, float64(count), k.Pace).On(f.Name))
	switch f.Name {
	case SandOut:
		return
	case Steam:
		s.Detail += ". A wet cloth and a hot iron, a little at a time; steam scalds"
		s.Wait, s.WaitFor = f.Wait, "the wood to dry"
		return
	}
	s.Wait, s.WaitFor = f.Wait, f.glue()+" to harden"
	r.Use(stage.Filler, f.glue(), volume, craft.ML, key)
}

// title is what is done with the filler.
func (f Filler) title() string {
	switch f.Name {
	case SandOut:
		return "Sand shallow marks out"
	case Steam:
		return "Steam dents up"
	}
	return "Fill with " + f.glue()
}

// glue is what is taken from the shelf first.
func (f Filler) glue() string {
	if f.then != "" {
		return Wicked
	}
	return f.Name
}

// PourKey begins the key of every pour.
const PourKey = "pour-"

// steps are the pours of a mix into voids by name.
func (m Mix) steps(r *stage.Record, into string, k Conditions) {
	pours := float64(m.Pours)
	for i := range m.Pours {
		title := "Dam and pour"
		if m.Pours > 1 {
			title = fmt.Sprintf("Pour %d of %d", i+1, m.Pours)
		}
		detail := fmt.Sprintf("%s. Resin %s, hardener %s in all", into,
			craft.In(math.Round(m.ResinG.Value), craft.Gram), craft.In(math.Round(m.HardenerG.Value), craft.Gram))
		key := fmt.Sprintf("%s%d", PourKey, i+1)
		s := r.Step(title, detail, plan.Work(key, plan.Pour, m.Total.Value/pours, k.Pace).On(m.Kind+" resin"))
		s.Wait, s.WaitFor, s.Rest = m.Sand, "resin to cure", m.Full*24*60 // for food, it must be cured through
		if i < m.Pours-1 {
			s.Wait, s.WaitFor, s.Rest = m.Between, "resin to turn tacky", 0
		}
		s.Holding(plan.Level)
		r.Use(stage.Resin, m.Kind+" resin", m.ResinG.Value/pours, craft.Gram, key)
		r.Use(stage.Hardener, "hardener of "+m.Kind+" resin", m.HardenerG.Value/pours, craft.Gram, key)
	}
}

// helps lists other resins that bear the shop's temperature, and the quickest
// fillers.
func helps(r *stage.Record, voids []Void, c Choice, k Conditions) {
	for _, resin := range Resins {
		if resin.Name != c.Resin && resin.Coldest <= k.Temperature {
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
