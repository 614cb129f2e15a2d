package glue

import (
	"fmt"
	"math"
	"strings"

	"idletimber/craft"
	"idletimber/craft/finish"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
)

// RipKey is the key of the step that takes the wood of a panel's strips.
const RipKey = "rip"

// steps are those of a panel, up to where boards are laid on it as on any timber: what
// flattens its faces last is theirs. (steps and minutes: rules of the trade)
func (p Panel) steps(r *stage.Record, out *Glued, first, second []Pressed, glue Glue, c Conditions) {
	n, all := len(p.Strips), len(p.Strips)+len(p.Spares)
	work := func(key string, kind plan.Kind, quantity float64) plan.Step {
		return plan.Work(key, kind, quantity, c.Pace)
	}
	reclaimed := 0
	for _, s := range p.All() {
		if s.Reclaimed {
			reclaimed++
		}
	}
	if reclaimed > 0 {
		r.Step(
			"Clean the reclaimed parts",
			"Metal out, then a minute each on the sander; rounded arrises are ripped off",
			work("clean", plan.CleanPart, float64(reclaimed)),
		)
	}
	rip := r.Step("Rip the strips", fmt.Sprintf("%d, of them %d spare; one straight edge first", all, all-n),
		work(RipKey, plan.Rip, float64(all)))
	rip.Divisible = true
	if n > 1 {
		r.Step("Joint the edges", "By turns face in and face out, so that the angles of a fence cancel",
			work("joint", plan.Joint, float64(2*n-2)))
	}
	const passes = 4
	if p.Slope != nil {
		r.Step(
			"Cut the strips to the profile",
			"Drawn once on a template, sawn proud, trimmed with a bearing bit; the others "+
				"are copies",
			work("profile", plan.Curve, float64(all)*p.striped().Length),
		)
	}
	r.Step(
		"Plane the parts together",
		"Stacked, nose to tail, to one thickness",
		work("plane-parts", plan.Planing, passes),
	)
	r.Step("Number and arrow them", "Number, face mark and end arrow, so that they survive being rolled for the glue",
		work("number", plan.Number, 0))
	for i, s := range p.Strips {
		if s.Shaped != "" {
			r.Step(fmt.Sprintf("Make the %s in strip %d", s.Shaped, i+1),
				"To its last grit, and taped: it cannot be reached when the strip is glued",
				work(fmt.Sprintf("shaped-%d", i+1), plan.HogOut, 0))
		}
	}
	p.glueUp(r, first, "", n, out, glue, c)
	if p.Again() {
		r.Step("Flatten the striped panel", "Both faces clean: slices are turned over", work("flatten-stripes",
			plan.Planing, passes))
		how := fmt.Sprintf(
			"A straight scrap tacked on gives the first cut; %d slices from that cut, a stop for the width",
			out.Slices.Count,
		)
		if p.Construction == Blocks {
			how = fmt.Sprintf("%d slices, square, against a stop", out.Slices.Count)
		}
		r.Step("Cut the slices", how, work("slice", plan.Slicing, float64(out.Slices.Count)))
		p.glueUp(r, second, "-again", out.Slices.Count, out, glue, c)
	}
	p.afterward(r, *out, glue, c)
	r.Step("Trim the panel", p.trimming(), work("trim", plan.CrossCut, 2))
	p.repair(r, *out, glue, c)
	for _, s := range r.Steps {
		out.Days += s.Wait / (24 * 60)
	}
	p.uses(r, out, glue)
}

// once is one glue-up: what is spread, and how the bench says it.
type once struct {
	key, title, detail string
	area               float64 // mm²
	joints             int
	brush              bool
}

// glued adds the step of a glue-up with its wait in clamps.
func (r once) glued(to *stage.Record, glue Glue, c Conditions) *plan.Step {
	const setup = 5
	spread := Spreading(r.area, r.joints, r.brush)
	s := to.Step(r.title, r.detail, plan.Timed(r.key, plan.GlueUp, setup+spread, setup, "making ready + spreading",
		[]craft.Term{
			{Name: "making ready", Value: setup, Unit: craft.Minute},
			{Name: "spreading", Value: spread, Unit: craft.Minute},
		}, c.Pace))
	s.Wait, s.WaitFor = glue.ClampedAt(c.Warmth), "in clamps"
	s.Holding(plan.HeldClamps)
	return s
}

// scraped adds the step that takes the beads off so many mm of joint, with the wait until
// a machine may come.
func scraped(to *stage.Record, key, title, detail string, length float64, glue Glue, c Conditions) {
	s := to.Step(title, detail, plan.Work(key, plan.Scrape, length, c.Pace))
	s.Wait, s.WaitFor = max(0, glue.MachineAt(c.Warmth)-glue.ClampedAt(c.Warmth)), "the glue to bear a machine"
}

// repair glues again what came open: a step with its wait, after all else.
func (p Panel) repair(r *stage.Record, out Glued, glue Glue, c Conditions) {
	if p.Repair == "" || len(out.Pressed) == 0 {
		return
	}
	k := out.Pressed[len(out.Pressed)-1]
	area := k.Area / float64(max(1, len(k.Joints)))
	how := "Sawn open along the joint, both edges jointed clean, and glued again"
	if p.Repair == SplitPly {
		how = "Opened with a thin blade, glue worked in, pressed flat under a caul"
	}
	once{"repair", "Glue the " + p.Repair + " again", how, area, 1, p.Brush}.glued(r, glue, c)
	scraped(r, "repair-scrape", "Scrape the repair", "Before any machine", k.Length, glue, c)
	r.Step(
		"Look at the repair",
		"A line of beads all along; a knife tip finds no gap",
		plan.Work("repaired", plan.Reading, 0,
			c.Pace),
	)
}

// trimming says where the ends are cut.
func (p Panel) trimming() string {
	if p.Construction == Unequal {
		return "The short parts flush with each other; the long ones are shaped with their board"
	}
	if p.Construction == Arrows {
		return "Just inside the teeth, both ends"
	}
	return "The first cut just behind the shortest part, the second past the dip at the other end"
}

// glueUp are the steps from the dry fit to a joint that may be machined.
func (p Panel) glueUp(
	r *stage.Record,
	pressed []Pressed,
	again string,
	parts int,
	out *Glued,
	glue Glue,
	c Conditions,
) {
	if len(pressed) == 0 {
		return
	}
	work := func(key string, kind plan.Kind, quantity float64) plan.Step {
		return plan.Work(key+again, kind, quantity, c.Pace)
	}
	r.Step("Dry fit", "Everything but the glue, clamps tightened; keep a picture at the panel", work("dry-fit",
		plan.DryFit, float64(parts)))
	r.Step("Make ready to glue", "Bench covered, cauls wrapped, strips taped, roller, damp rag, clamps set and at hand",
		work("ready", plan.Ready, 0))
	together := 0
	for _, k := range pressed[:len(pressed)-1] {
		together += k.Count
	}
	var keys []string
	for i, k := range pressed {
		title := "Glue up: " + strings.ToLower(k.Name[:1]) + k.Name[1:]
		if len(pressed) == 1 {
			title = "Glue up"
		}
		detail := fmt.Sprintf(
			"%s of %s, to be closed within %.0f min; %d clamps",
			craft.In(math.Ceil(k.Grams), craft.Gram),
			glue.Name,
			k.Open,
			k.Count,
		)
		s := once{k.Key, title, detail, k.Area, len(k.Joints), p.Brush}.glued(r, glue, c)
		s.Clamps = k.Count
		switch {
		case i == len(pressed)-1:
			s.After = keys
		case together <= clampsOwned(c): // all of them side by side
			s.After = []string{"ready" + again}
			keys = append(keys, k.Key)
		}
	}
	var joint float64
	for _, k := range pressed {
		joint += k.Length * float64(len(k.Joints))
	}
	scraped(r, "scrape"+again, "Scrape the beads",
		"When they are rubbery, or dry with a chisel: never through the planer", joint, glue, c)
}

func clampsOwned(c Conditions) (n int) {
	for _, k := range c.Kit.Clamps {
		n += k.Count
	}
	return n
}

// uses are what is to be bought for it.
func (p Panel) uses(r *stage.Record, out *Glued, glue Glue) {
	for _, k := range out.Pressed {
		r.Use(stage.Glue, glue.Name, k.Grams, craft.Gram, k.Key)
	}
	for _, s := range p.All() {
		if s.Piece == "" && !s.AtHand {
			r.Use(
				stage.Wood,
				fmt.Sprintf("%s strip, %s × %s × %s", s.Species, craft.Length(s.Length), craft.Length(s.Width),
					craft.Length(s.Thickness)),
				1,
				craft.Count,
				RipKey,
			)
		}
	}
}

// figures are the numbers of a panel that open to their working.
func (p Panel) figures(r *stage.Record, out Glued, shape Shape, glue Glue, c Conditions) {
	rules := c.Rules
	add := func(f craft.Figure) {
		f.Stage = craft.Glue
		r.Figures = append(r.Figures, f)
	}
	mm := func(name string, v float64) craft.Term { return craft.Term{Name: name, Value: v, Unit: craft.MM} }
	across, along := p.movement(shape, c.Own)
	var strips []craft.Term
	for i, s := range p.Strips {
		w, _ := p.Section(s)
		strips = append(strips, mm(fmt.Sprintf("strip %d, %s", i+1, s.Species), w))
	}
	width := "widths of the strips, jointed, side by side"
	switch {
	case p.Again():
		width = "slices × their width"
		strips = []craft.Term{{Name: "slices", Value: float64(out.Slices.Count)}, mm("width of each",
			shape.Width/float64(max(1, out.Slices.Count)))}
	case p.Edge():
		width = "thicknesses of the strips' stock, on edge side by side"
	}
	add(craft.Figure{Key: "glue.width", Label: "Width of the panel", Value: shape.Width, Unit: craft.MM, Formula: width,
		Terms: strips, Source: "geometry"})
	long := "as far as all parts lie beside each other"
	switch p.Construction {
	case Arrows:
		long = "length of a slice less its teeth"
	case Blocks:
		long = "widths of the strips in a slice"
	case Unequal:
		long = "from the first butt to the last end"
	}
	add(
		craft.Figure{
			Key:     "glue.length",
			Label:   "Length of the panel",
			Value:   shape.Length,
			Unit:    craft.MM,
			Formula: long,
			Terms: []craft.Term{
				mm("trimmed off each end", rules.Get(rule.GlueTrim)),
				mm("snipe, each end", p.snipe(rules)),
			},
			Source: "geometry; shop rules for trim and snipe",
			Rule:   true,
		},
	)
	add(craft.Figure{Key: "glue.flat", Label: "Thickness when it is flat and sanded", Value: out.Flat, Unit: craft.MM,
		Formula: "thinnest part as it stands − flattening and sanding both faces",
		Terms: []craft.Term{mm("thinnest part", shape.Thinnest), mm("flattening, a face", p.flattened()),
			mm("sanding, a face", rules.Get(rule.SandFace))}, Source: "shop rules", Rule: true})
	if p.Again() {
		add(craft.Figure{Key: "glue.yield", Label: "Left of the striped panel", Value: 100 * out.Slices.Yield,
			Unit: craft.Percent, Formula: "face of the panel ÷ face of the striped panel, each before its kerfs",
			Terms: []craft.Term{
				{Name: "slices", Value: float64(out.Slices.Count)},
				mm("length of a slice", out.Slices.Each),
			},
			Source: "geometry"})
	}
	add(
		craft.Figure{
			Key:     "glue.movement",
			Label:   "Moves across it in a year by",
			Value:   across * c.Swing,
			Unit:    craft.MM,
			Formula: "sum of each part's length along the line × its movement a point × points",
			Terms:   []craft.Term{mm("a point", across), {Name: "points", Value: c.Swing, Unit: craft.Percent}},
			Source:  "Wood Handbook, chapter 4",
		},
	)
	if p.Again() {
		add(
			craft.Figure{
				Key:     "glue.along",
				Label:   "Moves along it in a year by",
				Value:   along * c.Swing,
				Unit:    craft.MM,
				Formula: "the same, along the slices",
				Terms: []craft.Term{mm("a point", along),
					{Name: "points", Value: c.Swing, Unit: craft.Percent}},
				Source: "Wood Handbook, chapter 4",
			},
		)
	}
	if len(out.Pressed) > 0 {
		var area float64
		for _, k := range out.Pressed {
			area += k.Area
		}
		add(craft.Figure{Key: "glue.grams", Label: "Glue", Value: out.Grams, Unit: craft.Gram,
			Formula: "area of all joints × grams a square metre", Terms: []craft.Term{
				{Name: "joints", Value: area / 100, Unit: craft.CM2}, {Name: "g/m²", Value: glue.Spread},
			}, Source: "usual spread of its kind", Rule: true})
	}
	add(craft.Figure{Key: "glue.spares", Label: "Spare strips to cut", Value: float64(out.SpareRule),
		Formula: "1 in 8 of solid wood, 1 in 5 of plywood, rounded up",
		Terms: []craft.Term{
			{Name: "strips", Value: float64(len(p.Strips))},
		}, Source: "rule of the trade", Rule: true})
	if cents := p.Cents(); cents > 0 {
		add(craft.Figure{Key: "glue.cost", Label: "Wood", Value: float64(cents), Unit: craft.Cents,
			Formula: "each strip's share of its piece by the face that it takes up, kerf and jointing with it; what " +
				"is bought by its price", Source: "prices as paid"})
	}
	if p.Construction == Blocks {
		add(craft.Figure{Key: "glue.drinks", Label: "Its faces drink, against long grain", Value: p.thirst(shape, c),
			Formula: "end grain drinks 3.5 times as much", Source: "rule of the trade", Rule: true})
	}
}

// snipe is what a planer takes off each end of the strips, mm.
func (p Panel) snipe(rules rule.Set) float64 {
	if p.Sacrificial {
		return 0
	}
	return rules.Get(rule.Snipe)
}

// thirst is how much finish its face takes against one of long grain.
func (p Panel) thirst(shape Shape, c Conditions) float64 {
	var all float64
	for _, part := range shape.Parts {
		all += part.Ring.Area()
	}
	face := p.Grain(shape, c.Own).Over(shape.face())
	if all == 0 {
		return 1
	}
	end := stock.EndArea(face) / all
	return 1 + (finish.EndGrain-1)*end
}
