package river

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/fill"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/species"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
)

// Conditions are the shop that a river is cast in.
type Conditions struct {
	fill.Conditions
	Own    []species.Species
	Sheets []Sheet // on the rack
	Shelf  []Kept  // moulds that were kept
	Kerf   float64 // of a saw, mm
}

// Cast is what a river comes to.
type Cast struct {
	Volume craft.Figure `json:"volume" doc:"What the gap holds, ml"`
	Guess  craft.Figure `json:"guess" doc:"The same by the mean of five widths, ml"`
	Off    float64      `json:"off" doc:"By how much that guess is off, %"`
	Widths [5]float64   `json:"widths" doc:"Of the gap at five places along it, mm"`
	Least  float64      `json:"least" doc:"The narrowest of the gap between two banks, mm"`
	Mix    *fill.Mix    `json:"mix,omitempty" doc:"The resin"`
	Mould  Mould        `json:"mould" doc:"What it is poured in"`
	Lifts  []Lift       `json:"lifts" doc:"What each bank is lifted by"`
	Banks  []Drawn      `json:"banks" doc:"As they lie"`
	Tone   fill.Tone    `json:"tone" doc:"How the resin looks"`
	Panel  float64      `json:"panel" doc:"How thick the panel comes out, mm"`
	Across []Slice      `json:"across" doc:"The banks cut across the middle of the mould"`
}

// Slice is a bank cut across: x across from the middle of the mould, y up from its base.
type Slice struct {
	Ring  geom.Ring `json:"ring" doc:"mm"`
	Light string    `json:"light" doc:"Lighter colour, #rrggbb"`
	Dark  string    `json:"dark" doc:"Darker colour, #rrggbb"`
}

// across cuts the banks at x.
func (r River) across(x float64, own []species.Species) []Slice {
	out := []Slice{}
	for _, b := range r.Banks {
		wood, _ := species.FindIn(own, b.Species)
		var left, right geom.Ring
		for k := range levels + 1 {
			up := b.Thickness * float64(k) / levels
			ys := b.at(up).SpansAcross(x, nil)
			if len(ys) < 2 {
				continue
			}
			left = append(left, geom.Point{X: ys[0], Y: up})
			right = append(right, geom.Point{X: ys[len(ys)-1], Y: up})
		}
		if len(left) == 0 {
			continue
		}
		slices.Reverse(right)
		out = append(out, Slice{append(left, right...), wood.Light, wood.Dark})
	}
	return out
}

// Drawn is a bank as it lies in the mould.
type Drawn struct {
	ID    string `json:"id" doc:"Its own"`
	Name  string `json:"name" doc:"Of its piece"`
	Path  string `json:"path" doc:"The face that lies up, as SVG path data in the river's frame"`
	Under string `json:"under" doc:"The face that lies down"`
	Light string `json:"light" doc:"Lighter colour, #rrggbb"`
	Dark  string `json:"dark" doc:"Darker colour, #rrggbb"`

	Over geom.Placement `json:"over" doc:"Where it lies when it is turned over, its live edge to the same side"`
}

// leaks is how much of the gap is lost on the way, as a share (rule).
const leaks = 0.10

// Make reckons a river: what it comes to, and the record of the work.
func (r River) Make(k Conditions) (Cast, stage.Record) {
	rec := stage.Record{Stage: craft.Fill}
	volume := r.Volume()
	out := Cast{
		Widths: r.Widths(), Mould: r.Mould(), Lifts: r.Lifts(k.Own), Tone: r.Fill.Look(r.Depth),
		Panel: r.Panel(), Banks: []Drawn{}, Across: r.across(r.Length/2, k.Own),
	}
	for _, b := range r.Banks {
		wood, _ := species.FindIn(k.Own, b.Species)
		out.Banks = append(out.Banks, Drawn{
			ID: b.ID, Name: b.Name, Path: b.at(b.Thickness).SVG(), Under: b.at(0).SVG(),
			Light: wood.Light, Over: b.over(), Dark: wood.Dark,
		})
	}
	if kept, ok := r.kept(k.Shelf); ok {
		out.Mould.Kept, out.Mould.Uses, out.Mould.Parts = kept.Name, kept.Uses, []Part{}
		out.Mould.Screws = 0
	} else {
		out.Mould = out.Mould.On(k.Sheets, r.Wall, k.Kerf)
	}
	out.Least = r.narrowest()
	out.Volume = craft.Figure{
		Key: "river.volume", Stage: craft.Fill, Label: "The gap holds", Value: volume, Unit: craft.ML,
		Formula: "area between the true edges, summed over the depth of the pour",
		Terms: []craft.Term{
			{Name: "mould, inside", Value: r.Length * r.Width / 100, Unit: craft.CM2},
			{Name: "pour", Value: r.Depth, Unit: craft.MM},
		},
		Source: "measured on the drawing",
	}
	guess := r.Guess()
	if volume > 0 {
		out.Off = (guess/volume - 1) * 100
	}
	out.Guess = craft.Figure{
		Key: "river.guess", Stage: craft.Fill, Label: "By the mean of five widths", Value: guess, Unit: craft.ML,
		Formula: "mean of five widths × length × pour",
		Terms: []craft.Term{
			{Name: "off by", Value: out.Off, Unit: craft.Percent}, {Name: "length", Value: r.Length, Unit: craft.MM},
			{Name: "pour", Value: r.Depth, Unit: craft.MM},
		},
		Source: "as it is measured by hand",
	}
	rec.Figures = append(rec.Figures, out.Volume, out.Guess)
	rec.Figures = append(rec.Figures, out.Mould.figures(r)...)
	rec.Verdicts = r.judge(out, k)
	if mix, verdicts, ok := r.pour(volume, k); ok {
		out.Mix = &mix
		rec.Figures = append(rec.Figures, mix.Figures...)
		rec.Verdicts = append(rec.Verdicts, verdicts...)
	}
	r.steps(&rec, out, k)
	return out, rec
}

// kept is the mould of the shelf that the river is poured in.
func (r River) kept(shelf []Kept) (Kept, bool) {
	for _, m := range shelf {
		if r.Kept != "" && m.Name == r.Kept {
			return m, true
		}
	}
	return Kept{}, false
}

// pour is the resin for so many ml: with what soaks in, stays in the cups and leaks, and the
// maker's reserve.
func (r River) pour(volume float64, k Conditions) (fill.Mix, []craft.Verdict, bool) {
	if volume <= 0 {
		return fill.Mix{}, nil, false
	}
	c := r.Fill
	c.Reserve += leaks * volume
	area := volume * 1000 / r.Depth
	voids := fill.Cast("river", volume, r.Depth, area, area/max(r.Length, 1), c, k.Temperature)
	return fill.Pour(voids, c, k.Conditions)
}

// narrowest is the least width of a gap between two banks, mm; 0 where there is none.
func (r River) narrowest() (least float64) {
	l := r.plain()
	xs := r.ribs(l)
	for i := 0; i+1 < len(xs); i++ {
		for _, share := range []float64{1e-6, 0.5, 1 - 1e-6} {
			marks := r.marks(l, xs[i]+share*(xs[i+1]-xs[i]))
			for k := 1; k+1 < len(marks); k++ {
				if g := marks[k].to - marks[k].from; marks[k].bank < 0 && (least == 0 || g < least) {
					least = g
				}
			}
		}
	}
	return least
}

// Rules of the trade.
const (
	crackBelow = 8 // a gap narrower than that is a crack, mm
	evenWithin = 1 // wood and pour agree, mm
	overhangs  = 1 // of the gap's area that lies under the wood, %
	inMould    = 0.5
)

// judge lists what is judged of the banks in their mould.
func (r River) judge(out Cast, k Conditions) (all []craft.Verdict) {
	figure := func(key, label string, v float64, unit craft.Unit, formula string, terms ...craft.Term) craft.Figure {
		return craft.Figure{
			Key: key, Stage: craft.Fill, Label: label, Value: v, Unit: unit, Formula: formula, Terms: terms,
			Source: "rule of the trade", Rule: true,
		}
	}
	add := func(v craft.Verdict) { v.Stage = craft.Fill; all = append(all, v) }
	for _, b := range r.Banks {
		off := r.Depth - b.Thickness
		v := craft.Verdict{
			Check: "river-depth", Subject: b.Name,
			Level: craft.Over(math.Abs(off), evenWithin, math.Inf(1)), Limit: evenWithin,
			Finding: b.Name + " is as thick as the pour is deep",
			Reason:  "Wood and resin come out even: what differs is planed off the higher of the two, and resin chips.",
			Figure: figure(
				"river.even",
				"Pour less wood",
				math.Abs(off),
				craft.MM,
				"pour − thickness of the bank, either way",
				craft.Term{Name: "pour", Value: r.Depth, Unit: craft.MM},
				craft.Term{Name: "bank", Value: b.Thickness, Unit: craft.MM},
			),
		}
		if v.Level != craft.Good {
			v.Finding = fmt.Sprintf(
				"%s is %s thick, the pour %s deep",
				b.Name,
				craft.Length(b.Thickness),
				craft.Length(r.Depth),
			)
			if b.Thickness >= 3 && b.Thickness <= 120 {
				v.Remedies = []craft.Remedy{{
					On: craft.OnPiece, Label: "Pour it as deep as " + b.Name,
					Patch: craft.Patch{"river": map[string]any{"depth": b.Thickness}},
				}}
			}
		}
		add(v)
		if b.Bark != "" && b.Bark != stock.Bare {
			add(craft.Verdict{
				Check: "river-bark", Subject: b.Name, Level: craft.Mind,
				Finding: "Bark on " + b.Name + ": off entirely before it meets resin",
				Reason:  "Bark lets go of the wood, and the river with it.",
				Figure: figure(
					"river.bark",
					"Edges with bark",
					1,
					craft.Count,
					"edges that meet resin and carry bark",
				),
			})
		}
		if len(b.Under) == len(b.Show) {
			add(r.airTrap(b, figure))
		}
	}
	gap := craft.Verdict{
		Check: "river-gap", Level: craft.Under(out.Least, crackBelow, math.Inf(-1)), Limit: crackBelow, AtLeast: true,
		Finding: "The river is wide enough to be one",
		Reason:  "Narrower than that resin does not run through: it is a crack, and is filled as one.",
		Figure:  figure("river.least", "Narrowest", out.Least, craft.MM, "the least distance of two banks, across"),
	}
	if out.Least == 0 {
		gap.Level = craft.Good
	}
	if gap.Level != craft.Good {
		gap.Finding = "The banks come so near each other that it is a crack there"
	}
	add(gap)
	add(r.lieApart(figure))
	for _, l := range out.Lifts {
		v := craft.Verdict{
			Check: "river-float", Subject: l.Bank, Level: craft.Good, Finding: l.Bank + " stays down by itself",
			Reason: "Wood that is lighter than resin floats up as it is poured.",
			Figure: craft.Figure{
				Key: "river.lift", Stage: craft.Fill, Label: "Lifted by", Value: l.Newtons, Unit: craft.Newton,
				Formula: "(resin's density × what lies under it − mass of the wood) × 9.81 ÷ 1000",
				Terms: []craft.Term{
					{
						Name:  "under the resin",
						Value: l.Under,
						Unit:  craft.ML,
					}, {Name: "mass of the wood", Value: l.Grams, Unit: craft.Gram},
					{Name: "resin's density", Value: r.Fill.Density(), Unit: "g/ml"},
				},
				Source: "what it displaces", Rule: true,
			},
		}
		if l.Newtons > 0 {
			v.Level = craft.Mind
			v.Finding = fmt.Sprintf(
				"%s floats: %d hold-downs with taped blocks, each good for %s, bedded in sealant",
				l.Bank,
				l.Downs,
				craft.In(math.Ceil(l.Each*10)/10, craft.Newton),
			)
		}
		add(v)
	}
	return append(all, r.sheeted(out, k, figure)...)
}

type figured func(key, label string, v float64, unit craft.Unit, formula string, terms ...craft.Term) craft.Figure

// airTrap judges a bank whose face that lies up reaches farther into the river than the other.
func (r River) airTrap(b Bank, figure figured) craft.Verdict {
	over, under := b.at(b.Thickness), b.at(0)
	var hangs float64
	for _, part := range over.Less(under) {
		if box := r.inside(); len(geom.Common(part, box)) > 0 {
			hangs += part.Area()
		}
	}
	share := hangs / max(1, over.Area()) * 100
	v := craft.Verdict{
		Check: "river-air", Subject: b.Name, Level: craft.Over(share, overhangs, math.Inf(1)), Limit: overhangs,
		Finding: "Air gets out from under " + b.Name,
		Reason:  "Resin does not run up under an edge that overhangs: air stays there and shows as a hollow.",
		Figure: figure("river.overhang", "Of it that overhangs", share, craft.Percent,
			"upper face that reaches beyond the lower one ÷ upper face"),
	}
	if v.Level != craft.Good {
		v.Finding = b.Name + " overhangs the river: turn it over, or pour in two"
		banks := slices.Clone(r.Banks)
		for i := range banks {
			if banks[i].ID == b.ID {
				banks[i].At = b.over()
			}
		}
		v.Remedies = []craft.Remedy{{
			On: craft.OnPiece, Label: "Turn " + b.Name + " over",
			Patch: craft.Patch{"river": map[string]any{"banks": banks}},
		}}
	}
	return v
}

func (r River) inside() geom.Ring {
	h := r.Width / 2
	return geom.Ring{{X: 0, Y: -h}, {X: r.Length, Y: -h}, {X: r.Length, Y: h}, {X: 0, Y: h}}
}

// lieApart judges banks that lie over each other, or out of the mould.
func (r River) lieApart(figure figured) craft.Verdict {
	l, box := r.top(), r.inside()
	var over, out float64
	for i, a := range l {
		out += max(0, a.Area()-geom.ClippedArea(a, box))
		for _, b := range l[i+1:] {
			if a.Bounds().Apart(b.Bounds()) > 0 {
				continue
			}
			for _, part := range geom.Common(a, b) {
				over += part.Area()
			}
		}
	}
	v := craft.Verdict{
		Check: "river-lies", Level: craft.Over(over+out, 100*inMould, 100*inMould), Limit: 100 * inMould,
		Finding: "The banks lie in the mould, clear of each other",
		Reason:  "What lies over another, or out of the mould, cannot be poured so.",
		Figure: figure("river.over", "Lies over another, or out of the mould", (over+out)/100, craft.CM2,
			"area common to two banks + area beyond the walls",
			craft.Term{Name: "over another", Value: over / 100, Unit: craft.CM2},
			craft.Term{Name: "beyond the walls", Value: out / 100, Unit: craft.CM2}),
	}
	v.Limit /= 100
	switch {
	case v.Level == craft.Good:
	case over > out:
		v.Finding = "Two banks lie over each other: draw them apart, or rip one"
	default:
		v.Finding = "A bank reaches out of the mould: move it, rip it, or make the mould larger"
	}
	return v
}

// sheeted judges whether a sheet of the rack holds the mould.
func (r River) sheeted(out Cast, k Conditions, figure figured) []craft.Verdict {
	if out.Mould.Kept != "" {
		kept, _ := r.kept(k.Shelf)
		v := craft.Verdict{
			Check: "river-mould", Level: craft.Good, Finding: kept.Name + " fits it",
			Reason: "A mould that was kept is poured in as it is.",
			Figure: figure("river.kept", "Poured in before", float64(kept.Uses), craft.Count, "times it was used"),
		}
		if !kept.Fits(r) {
			v.Level, v.Finding = craft.Stop, fmt.Sprintf(
				"%s is {%g} × {%g} inside, walls {%g} high: it does not fit",
				kept.Name,
				kept.Length,
				kept.Width,
				kept.Height,
			)
			v.Remedies = []craft.Remedy{
				{
					On:    craft.OnPiece,
					Label: "Make a new mould",
					Patch: craft.Patch{"river": map[string]any{"kept": ""}},
				},
			}
		}
		return []craft.Verdict{v}
	}
	area := 0.0
	for _, p := range out.Mould.Parts {
		area += p.Length * p.Width / 100
	}
	v := craft.Verdict{
		Check: "river-sheet", Level: craft.Good, Finding: "Its mould is cut from " + out.Mould.Sheet,
		Reason: "The mould needs a sheet of its thickness.",
		Figure: figure("river.sheet", "Sheet for the mould", area, craft.CM2, "sum of its parts"),
	}
	if out.Mould.Sheet == "" {
		v.Level, v.Finding = craft.Mind, "No sheet on the rack holds its mould: buy one"
	}
	return []craft.Verdict{v}
}

// Keys of steps that others ask for: at the first the banks are cut from their pieces, at the last
// the panel can be.
const (
	BanksKey   = "banks"
	SealKey    = "mould"
	DemouldKey = "demould"
	LastKey    = "trim"
)

// steps lists the work in its order.
func (r River) steps(rec *stage.Record, out Cast, k Conditions) {
	var names, barked, open []string
	for _, b := range r.Banks {
		names = append(names, b.Name)
		if b.Bark != "" && b.Bark != stock.Bare {
			barked = append(barked, b.Name)
		}
		if wood, _ := species.FindIn(k.Own, b.Species); wood.Pores == "ring" || wood.Pores == "open" {
			open = append(open, b.Name)
		}
	}
	all := strings.Join(names, ", ")
	n := float64(len(r.Banks))
	rec.Step(
		"Cut the banks",
		all+". To the mould's length, ends square",
		plan.Work(BanksKey, plan.CrossCut, 2*n, k.Pace),
	)
	rec.Step("Plane them to one thickness", "All to "+craft.Length(r.Depth)+", one face flat first",
		plan.Work("plane-banks", plan.Planing, 2*n, k.Pace))
	if len(barked) > 0 {
		long := 0.0
		for _, b := range r.Banks {
			box := b.Show.Bounds()
			long += box.MaxX - box.MinX
		}
		rec.Step(
			"Bark off",
			strings.Join(barked, ", ")+". Off entirely where resin meets it, loose bits out, brushed",
			plan.Work("bark-off", plan.LiveEdge, long, k.Pace),
		)
	}
	if len(open) > 0 {
		s := rec.Step(
			"Seal open pores",
			strings.Join(open, ", ")+". A thin coat of resin on the edges, so that no air rises later",
			plan.Timed("seal-edges", plan.Coat, 4*n, 2, "four minutes a bank", nil, k.Pace),
		)
		s.Wait, s.WaitFor = 24*60, "the sealing coat"
	}
	r.mouldSteps(rec, out, k)
	if out.Mix != nil {
		out.Mix.Pouring(rec, all, k.Conditions)
	}
	r.after(rec, out, k)
}

// mouldSteps make the mould, or take one from the shelf, and bed the wood in it.
func (r River) mouldSteps(rec *stage.Record, out Cast, k Conditions) {
	m := out.Mould
	if m.Kept == "" {
		rec.Step(
			"Cut the mould",
			fmt.Sprintf("Base {%g} × {%g}, two walls {%g}, two {%g}, {%g} high", m.Parts[0].Length,
				m.Parts[0].Width, m.Parts[1].Length, m.Parts[3].Length, m.Height),
			plan.Work("mould-cut", plan.CrossCut, float64(len(m.Parts)), k.Pace),
		)
		if m.Tape > 0 {
			rec.Step(
				"Tape it",
				"Every face that resin meets, {12} over the strip before, folded over the edges, pressed with a roller",
				plan.Timed("mould-tape", plan.Ready, 5+m.Tape/200, 5, "a minute for {200} of tape", nil, k.Pace),
			)
			rec.Use(stage.Hardware, "sheathing tape", m.Tape, craft.MM, "mould-tape")
		}
	}
	title, detail := "Assemble and seal the mould", fmt.Sprintf(
		"%d screws, pilot holes, countersunk, corners at the top. "+
			"Sealant on every inside seam",
		m.Screws,
	)
	if m.Kept != "" {
		title, detail = "Seal "+m.Kept, "Clean, wax it, sealant on every inside seam"
	}
	s := rec.Step(title, detail, plan.Timed(SealKey, plan.Ready, 12, 5, "a dozen minutes", nil, k.Pace))
	s.Wait, s.WaitFor = 24*60, "the sealant"
	rec.Use(stage.Hardware, "sealant", m.Sealant, craft.MM, SealKey)
	rec.Use(stage.Hardware, "mould screws", float64(m.Screws), craft.Count, SealKey)
	rec.Step("Leak check", "Water in the empty mould, ten minutes; then dry it through",
		plan.Timed(fill.DamKey, plan.Water, 12, 2, "a look after ten minutes", nil, k.Pace))
	downs := 0
	for _, l := range out.Lifts {
		if l.Newtons > 0 {
			downs += l.Downs
		}
	}
	text := "Bedded in sealant, the mould level"
	if downs > 0 {
		text += fmt.Sprintf("; %d hold-downs on taped blocks: wood floats", downs)
	}
	s = rec.Step("Bed and clamp the banks", text, plan.Timed("bed", plan.Dam, 6+2*float64(downs), 4,
		"two minutes a hold-down", nil, k.Pace))
	s.Holding(plan.Level)
}

// after is what follows the cure.
func (r River) after(rec *stage.Record, out Cast, k Conditions) {
	rec.Step(
		"Demould",
		"Screws out, edges off, sealant peeled",
		plan.Timed(DemouldKey, plan.Ready, 12, 3, "a dozen minutes", nil, k.Pace),
	)
	rec.Step("Scrape every trace of sealant", "It ruins knives, and finish does not take on it",
		plan.Work("scrape-sealant", plan.Scrape, 2*(r.Length+r.Width), k.Pace))
	const bite = 0.4 // mm, in resin (rule)
	passes := math.Ceil((r.Depth - out.Panel) / bite)
	rec.Step("Flatten both faces", "Passes of at most {0.4} in resin, scraps before and after: it chips",
		plan.Work("flatten-river", plan.Planing, passes, k.Pace))
	if out.Mix != nil {
		out.Mix.Rounds(rec, r.Fill, k.Conditions)
	}
	rec.Step("Square the ends", "A scoring cut first: resin chips at the end of a cut",
		plan.Work(LastKey, plan.CrossCut, 2, k.Pace))
}
