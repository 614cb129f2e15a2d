package board

import (
	"fmt"
	"math"

	"idletimber/craft"
	"idletimber/craft/tool"
)

// RecessWork is what it takes to sink one recess with a router, mm.
type RecessWork struct {
	Name    string         `json:"name" doc:"Which recess"`
	Bit     float64        `json:"bit" doc:"Diameter of the bit, mm; 0 when none in the shop fits"`
	Rough   float64        `json:"rough" doc:"Diameter of the bit that clears it, mm"`
	Strips  int            `json:"strips" doc:"Side by side over its area, of the bit that clears it"`
	Passes  int            `json:"passes" doc:"To its depth, of the same"`
	Run     float64        `json:"run" doc:"How far the router runs for all that are alike, mm"`
	Fence   float64        `json:"fence" doc:"From the rim to the fence that the base runs along, mm"`
	Bush    float64        `json:"bush" doc:"Diameter of the guide bush, 0 without one"`
	Offset  float64        `json:"offset" doc:"By how much the template stands outside the rim, mm"`
	Pivot   float64        `json:"pivot,omitempty" doc:"Of a round one: from a circle jig's pivot to the bit's middle"`
	Volume  float64        `json:"volume" doc:"Of all that are alike, ml"`
	Floor   float64        `json:"floor" doc:"mm"`
	Figures []craft.Figure `json:"figures" doc:"What it comes to"`
}

// Work lists what each recess takes.
func Work(s Shaped, c Conditions) []RecessWork {
	out := []RecessWork{}
	for _, r := range s.routes(c) {
		out = append(out, r.work(s, c))
	}
	return out
}

// figure is one of a recess, at the router.
func (w route) figure(key, label string, v float64, unit craft.Unit, formula, source string,
	terms ...craft.Term) craft.Figure {
	return craft.Figure{
		Key: "recess." + key, Stage: craft.Shape, Label: label, Value: v, Unit: unit, Formula: formula, Terms: terms,
		Source: source, Rule: source == "rule of the trade",
	}
}

func (w route) work(s Shaped, c Conditions) RecessWork {
	router, depth := c.Tools.Router, w.cavity.Recess.Deepest()
	bit := func(name string, d float64) craft.Term { return craft.Term{Name: name, Value: d, Unit: craft.Bit} }
	mm := func(name string, v float64) craft.Term { return craft.Term{Name: name, Value: v, Unit: craft.MM} }
	out := RecessWork{
		Name: w.name, Bit: w.bit, Rough: w.rough, Strips: w.strips, Passes: w.deep, Run: w.run, Volume: w.volume,
		Floor: floor(s, c, w.cavity, w.name).Figure.Value,
	}
	out.Figures = append(out.Figures, volumeFigure(w.cavity, w.name), craft.Figure{
		Key: "recess.spill", Stage: craft.Shape, Label: fmt.Sprintf("Still held tilted by %d°", tilt),
		Value: w.cavity.Spill() / 1000, Unit: craft.ML,
		Formula: "what lies under a level line through the lowest rim, toward the worst side",
		Terms:   []craft.Term{{Name: "tilt", Value: tilt, Unit: craft.Degree}}, Source: "summed over the floor",
		Rule: true,
	})
	if w.bit == 0 {
		return out
	}
	out.Fence, out.Bush = tool.BaseToCut(router.Base, w.bit), router.Bush(w.bit)
	out.Figures = append(out.Figures,
		w.figure("passes", "Passes to its depth", float64(w.deep), craft.Count,
			"depth ÷ half the bit's diameter, rounded up", "rule of the trade",
			mm("depth", depth), bit("bit that clears it", w.rough)),
		w.figure("run", "The router runs", w.run, craft.MM,
			"strips side by side × passes × length, and round the rim with the bit that makes the corners",
			"rule of the trade", bit("bit that clears it", w.rough), bit("bit of the corners", w.bit),
			craft.Term{Name: "strips", Value: float64(w.strips)}, craft.Term{Name: "passes", Value: float64(w.deep)},
			craft.Term{Name: "alike", Value: float64(w.alike)}),
		w.figure("fence", "From the rim to the fence", out.Fence, craft.MM, "half the base − half the bit",
			"the shop's router", mm("base", router.Base), bit("bit", w.bit)),
	)
	if out.Bush > 0 {
		out.Offset = tool.BushOffset(out.Bush, w.bit)
		out.Figures = append(out.Figures, w.figure("bush", "Template stands outside the rim by", out.Offset, craft.MM,
			"(guide bush − bit) ÷ 2", "the shop's router", bit("guide bush", out.Bush), bit("bit", w.bit)))
	}
	if r, ok := w.cavity.round(); ok {
		out.Pivot = r - w.bit/2
		out.Figures = append(
			out.Figures,
			w.figure("pivot", "Circle jig, pivot to the bit's middle", out.Pivot, craft.MM,
				"radius of the hole − half the bit", "geometry of the design", mm("radius", r), bit("bit", w.bit)),
		)
	}
	if w.cavity.Recess.Kind == "bowl" {
		out.Figures = append(out.Figures, w.cleanUps(router)...)
	}
	return out
}

// round is the radius of a recess that a circle jig cuts, mm.
func (c Cavity) round() (r float64, ok bool) {
	long, wide := c.Recess.size()
	switch c.Recess.Kind {
	case "bowl":
		return long / 2, math.Abs(long-wide) < 0.1
	case "well":
		return long / 2, math.Abs(long-wide) < 0.1 && (c.Recess.circular() || c.Recess.Radius >= long/2-0.1)
	case "ring":
		return c.Recess.Length / 2, true
	}
	return 0, false
}

// How a floor that a round bit left in steps is made smooth: scraped so much of it a
// minute, mm²; or skimmed once more with a flat bit and a guide bush, whose template
// takes so many minutes (rules).
const (
	scraped  = 400
	skimming = 12
)

// cleanUps are the minutes of both ways to make a bowl's floor smooth.
func (w route) cleanUps(r tool.Router) []craft.Figure {
	area := w.cavity.Rim.Area() * float64(w.alike)
	_, wide := w.cavity.Recess.size()
	flat := r.Widest(tool.Straight, wide, w.cavity.Recess.Deepest())
	out := []craft.Figure{
		w.figure("scraped", "Its floor scraped smooth", area/scraped, craft.Minute, "floor ÷ what is scraped a minute",
			"rule of the trade", craft.Term{Name: "floor", Value: area / 100, Unit: craft.CM2},
			craft.Term{Name: "a minute for", Value: scraped / 100, Unit: craft.CM2}),
	}
	if flat == 0 {
		return out
	}
	run := area / (tool.Overlap * flat)
	return append(out, w.figure("skimmed", "Its floor skimmed with a flat bit and a guide bush", skimming+run/tool.Feed,
		craft.Minute, "a template of its own + floor ÷ strip of the bit ÷ feed", "rule of the trade",
		craft.Term{Name: "template", Value: skimming, Unit: craft.Minute},
		craft.Term{Name: "flat bit", Value: flat, Unit: craft.Bit}))
}

// beyond is how much wider than an opening a router's base must be so as not to tip into
// it, mm (rule).
const beyond = 60

// spans judges whether the router's base spans each recess.
func spans(s Shaped, c Conditions) (out []craft.Verdict) {
	r := c.Tools.Router
	if r.Base == 0 {
		return nil
	}
	base := max(r.Base, r.SubBase)
	for _, w := range s.routes(c) {
		if w.bit == 0 {
			continue
		}
		want := w.cavity.opening() + beyond
		v := craft.Verdict{
			Check: "recess-base", Subject: w.name, Stage: craft.Shape, Level: craft.Under(base, want, 0), AtLeast: true,
			Limit:   want,
			Finding: "The router's base spans the " + w.name,
			Reason:  "A base that finds nothing to stand on tips into the recess, and the bit digs in.",
			Figure: w.figure("base", "The router's widest base", base, craft.MM,
				"opening + "+craft.Length(beyond), "rule of the trade",
				craft.Term{Name: "opening", Value: w.cavity.opening(), Unit: craft.MM}),
		}
		if v.Level != craft.Good {
			v.Level = craft.Mind
			v.Finding = "The router tips into the " + w.name + ": screw a wider base under it, of " +
				craft.Length(math.Ceil(want/10)*10)
		}
		out = append(out, v)
	}
	return out
}
