package fill

import (
	"math"

	"idletimber/craft"
	"idletimber/craft/rule"
)

// Poured is what a pour that is over came to, ml: what its voids were reckoned to hold, what was
// mixed for them, what of it went in, and what leaked away. The rest stayed in the cups.
type Poured struct {
	Net   float64 `json:"net" range:"0,100000" doc:"What the voids were reckoned to hold, ml"`
	Mixed float64 `json:"mixed" range:"0,100000" doc:"ml"`
	Used  float64 `json:"used" range:"0,100000" doc:"What went in and stayed, ml"`
	Lost  float64 `json:"lost" range:"0,100000" doc:"What leaked away, ml"`
	Cups  float64 `json:"cups" range:"0,1000" doc:"How many batches"`
}

// Habit is what a maker's own pours have taught; the zero one nothing.
type Habit struct {
	pours              float64
	soaked, left, lost float64 // sums: of the ratios, of ml a cup, of the shares of the voids
}

// trust is how many pours the rule itself counts for.
const trust = 4

// Learn draws a habit from pours that are over. One whose numbers cannot be teaches nothing.
func Learn(pours []Poured) (h Habit) {
	for _, p := range pours {
		left := p.Mixed - p.Used - p.Lost
		if p.Net <= 0 || p.Used <= 0 || p.Cups < 1 || p.Lost < 0 || left < -0.05*p.Mixed {
			continue
		}
		h.pours++
		h.soaked += min(2, max(1, p.Used/p.Net))
		h.left += min(100, max(0, left)/p.Cups)
		h.lost += min(1, p.Lost/p.Net)
	}
	return h
}

// shrunk is the mean of a sum and of a rule that counts for a few pours itself.
func (h Habit) shrunk(usual, sum float64) float64 { return (trust*usual + sum) / (trust + h.pours) }

func (h Habit) soak(rules rule.Set) float64 { return h.shrunk(rules.Get(rule.Soak), h.soaked) }
func (h Habit) cup(rules rule.Set) float64  { return h.shrunk(rules.Get(rule.CupLoss), h.left) }

// leaks is the share of the voids that leaks away; nothing where nothing was logged.
func (h Habit) leaks() float64 { return h.shrunk(0, h.lost) }

func (h Habit) source() string {
	if h.pours > 0 {
		return "shop rules for soak and cup, and what your pours have taught"
	}
	return "shop rules for soak and cup"
}

// reserved judges the reserve for voids of so many ml by what has leaked away so far; ok is false
// where nothing has.
func (h Habit) reserved(net, reserve float64) (v craft.Verdict, ok bool) {
	want := math.Ceil(net * h.leaks())
	if h.lost == 0 || want < 1 {
		return v, false
	}
	v = craft.Verdict{
		Check: "resin-reserve", Stage: craft.Fill, Level: craft.Under(reserve, want, math.Inf(-1)), Limit: want,
		AtLeast: true, Finding: "The reserve covers what usually leaks",
		Reason: "Leaks are the commonest mishap with resin, and a second mix comes late.",
		Figure: craft.Figure{
			Key: "fill.reserve", Stage: craft.Fill, Label: "Reserve", Value: reserve, Unit: craft.ML,
			Formula: "the reserve, against the share of the voids that has leaked away in your pours",
			Terms: []craft.Term{
				{Name: "voids", Value: net, Unit: craft.ML},
				{Name: "share that leaks", Value: h.leaks() * 100, Unit: craft.Percent},
				{Name: "pours", Value: h.pours, Unit: craft.Count},
			},
			Source: "your pours, as they were written down", Rule: true,
		},
	}
	if v.Level != craft.Good {
		v.Finding = "Your pours have lost more to leaks than is spare here"
		v.Remedies = []craft.Remedy{{
			Label: "Keep that much in reserve", Patch: craft.Patch{"fill": map[string]any{"reserve": want}},
		}}
	}
	return v, true
}
