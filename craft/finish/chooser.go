package finish

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
)

// Need is something that a finish may be chosen for.
type Need struct {
	Name  string `json:"name"`
	Label string `json:"label"`
}

// The needs.
const (
	ReadySoon  = "ready"
	Washed     = "washed"
	Dishwasher = "dishwasher"
	Easy       = "easy"
	SilkyFeel  = "silky"
	Hot        = "heat"
	Cheap      = "price"
	NoNuts     = "nuts"
	KeepColour = "colour"
)

// Needs lists them.
var Needs = []Need{
	{ReadySoon, "ready soon"}, {Washed, "washed often"}, {Dishwasher, "may see a dishwasher"}, {Easy, "least work"},
	{
		SilkyFeel,
		"silky",
	}, {Hot, "bears heat"}, {Cheap, "cheap"}, {NoNuts, "no nut oil"}, {KeepColour, "keeps its colour"},
}

func needNames() []string {
	names := make([]string, len(Needs))
	for i, n := range Needs {
		names[i] = n.Name
	}
	return names
}

// Kept is a finish of the maker's own, under its name.
type Kept struct {
	Name   string  `json:"name" doc:"As it is kept"`
	School string  `json:"school" doc:"Begun from that one"`
	Ratio  float64 `json:"ratio" range:"1,10" doc:"Oil to wax in the paste, by mass"`
	List   []Act   `json:"list" doc:"Its coats and acts"`
}

// Choice is the finish as a board has it.
func (o Kept) Choice() Choice {
	return Choice{School: o.School, Ratio: o.Ratio, List: o.List, Name: o.Name}
}

// Option is one way to finish a board, for comparing.
type Option struct {
	Name    string  `json:"name" doc:"Of the school, or the maker's own"`
	Own     bool    `json:"own" doc:"One of the maker's own"`
	Chosen  bool    `json:"chosen" doc:"The one that the board has"`
	Choice  Choice  `json:"choice" doc:"What the board takes with it"`
	HandsOn float64 `json:"handsOn" doc:"Minutes of work"`
	Days    float64 `json:"days" doc:"From its first coat until food, by waits and rest alone"`
	Washes  float64 `json:"washes" doc:"Washes until it is as bare as a board without"`
	Cost    float64 `json:"cost" doc:"Of what is put on, cents"`
	Heat    float64 `json:"heat" doc:"Temperature that it bears, °C"`
	Tint    string  `json:"tint" doc:"What it does to the colour" enum:"neutral,warm,brown"`
	Nut     bool    `json:"nut" doc:"It may hold nut oil"`
	Fine    int     `json:"fine" doc:"The finest grit between its coats; 0 for none"`
	Score   float64 `json:"score" doc:"By the needs that were weighed, 0 to 100"`
	Why     string  `json:"why" doc:"What speaks for it, and what against"`
}

// Compare lays every school and every finish of the maker's own side by side for one board, the best
// by its needs first; where none is weighed, in the order of the trade.
func Compare(s Surface, c Choice, own []Kept, prices map[string]float64, k Conditions) []Option {
	out := []Option{}
	k.Log = nil // what is compared is what would be planned
	add := func(name string, mine bool, choice Choice) {
		choice.Needs, choice.Batch = c.Needs, c.Batch
		p, r := Make(s, choice, k)
		o := Option{Name: name, Own: mine, Choice: choice, Heat: p.Heat, Tint: p.Tint, Nut: p.Nut, Washes: p.Washes}
		for _, step := range r.Steps {
			o.HandsOn += step.Minutes
			if step.Key != dusted {
				o.Days += step.Wait / day
			}
		}
		o.Days += p.Food.Value
		for _, coat := range p.Coats {
			product, _ := k.product(coat.Product)
			o.Cost += coat.Grams / 1000 * product.price(prices)
		}
		for _, a := range p.Acts {
			o.Fine = max(o.Fine, a.Sand)
		}
		o.Chosen = len(c.List) == 0 && !mine && c.School == name || mine && c.Name == name && len(c.List) > 0
		out = append(out, o)
	}
	for _, school := range Schools {
		add(school.Name, false, Choice{School: school.Name, Ratio: c.Ratio})
	}
	for _, o := range own {
		add(o.Name, true, o.Choice())
	}
	if len(c.List) > 0 && !slices.ContainsFunc(out, func(o Option) bool { return o.Chosen }) {
		add(cmp.Or(c.Name, "as edited"), true, c)
		out[len(out)-1].Chosen = true
	}
	score(out, c.Needs)
	return out
}

// merits are how well an option meets each need, 0 to 1, among all of them.
func merits(all []Option) []map[string]float64 {
	scale := func(of func(Option) float64, least bool) []float64 {
		low, high := math.Inf(1), math.Inf(-1)
		for _, o := range all {
			low, high = min(low, of(o)), max(high, of(o))
		}
		out := make([]float64, len(all))
		for i, o := range all {
			out[i] = 1
			if high > low {
				out[i] = (of(o) - low) / (high - low)
				if least {
					out[i] = 1 - out[i]
				}
			}
		}
		return out
	}
	yes := func(b bool) float64 {
		if b {
			return 1
		}
		return 0
	}
	ready := scale(func(o Option) float64 { return math.Sqrt(o.Days) }, true) // the first days matter most
	washed := scale(func(o Option) float64 { return o.Washes }, false)
	easy := scale(func(o Option) float64 { return o.HandsOn }, true)
	hot := scale(func(o Option) float64 { return o.Heat }, false)
	cheap := scale(func(o Option) float64 { return o.Cost }, true)
	out := make([]map[string]float64, len(all))
	for i, o := range all {
		dishwasher := 0.0 // no finish stands it for good; what cures stands it longest
		if o.Washes >= cured {
			dishwasher = washed[i]
		}
		out[i] = map[string]float64{
			ReadySoon: ready[i], Washed: washed[i], Dishwasher: dishwasher, Easy: easy[i],
			SilkyFeel: yes(o.Fine >= silkyGrit), Hot: hot[i], Cheap: cheap[i], NoNuts: yes(!o.Nut),
			KeepColour: yes(o.Tint == Neutral),
		}
	}
	return out
}

const (
	cured     = 30  // washes, from which a finish counts as one that cures
	silkyGrit = 600 // from which a rub between coats is felt
)

// score weighs the options by needs and puts the best first.
func score(all []Option, needs map[string]int) {
	sum := 0
	for _, w := range needs {
		sum += w
	}
	if sum == 0 {
		return
	}
	of := merits(all)
	for i := range all {
		type told struct {
			label  string
			weight int
			merit  float64
		}
		var weighed []told
		for _, n := range Needs {
			if w := needs[n.Name]; w > 0 {
				all[i].Score += 100 * float64(w) / float64(sum) * of[i][n.Name]
				weighed = append(weighed, told{n.Label, w, of[i][n.Name]})
			}
		}
		slices.SortStableFunc(weighed, func(a, b told) int { return cmp.Compare(b.weight, a.weight) })
		var good, bad []string
		for _, t := range weighed {
			switch {
			case t.merit >= 2.0/3:
				good = append(good, t.label)
			case t.merit <= 1.0/3:
				bad = append(bad, t.label)
			}
		}
		var words []string
		if len(good) > 0 {
			words = append(words, "for it: "+strings.Join(good, ", "))
		}
		if len(bad) > 0 {
			words = append(words, "against it: "+strings.Join(bad, ", "))
		}
		all[i].Why = strings.Join(words, "; ")
		if all[i].Why == "" {
			all[i].Why = fmt.Sprintf("middling in all %d that you weighed", len(weighed))
		}
	}
	slices.SortStableFunc(all, func(a, b Option) int { return cmp.Compare(b.Score, a.Score) })
}
