package glue

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/stage"
)

// Limits of the checks (rules).
const (
	damp       = 2.0   // percent points between parts
	stepLimit  = 0.3   // mm at a joint
	wideFlat   = 300.0 // mm across
	thinFlat   = 22.0  // mm
	holdsSlack = 1e-6
)

// verdict is one of gluing.
func verdict(check, subject string, level craft.Level, finding, reason string, f craft.Figure) craft.Verdict {
	f.Stage = craft.Glue
	return craft.Verdict{
		Check: check, Subject: subject, Stage: craft.Glue, Level: level, Finding: finding, Reason: reason, Figure: f,
	}
}

// verdicts judges strips, joints and clamps.
func (p Panel) verdicts(r *stage.Record, out Glued, shape Shape, glue Glue, c Conditions) {
	p.strips(r)
	p.chooseGlue(r, glue, c)
	p.clamps(r, out)
	p.moistures(r)
	p.steppings(r, shape, c)
	p.lies(r, shape, c)
	p.fits(r, shape, c)
	p.runs(r, shape, c)
	p.sunken(r, c)
	if n := len(p.Strips) - 1; n > 0 && math.Abs(p.lopsided(0)) > even {
		r.Verdicts = append(r.Verdicts, verdict("symmetry", "", craft.Good, fmt.Sprintf(
			"Its outer strips differ by %s: told, not forbidden", craft.Length(math.Abs(p.lopsided(0)))),
			"A pattern that ends unlike at both edges looks like a mistake, unless it is meant.", craft.Figure{
				Key: "glue.symmetry", Label: "Outer strips differ by", Value: math.Abs(p.lopsided(0)), Unit: craft.MM,
				Formula: "width of the first − width of the last", Source: "the strips", Rule: true,
			}))
		r.Verdicts[len(r.Verdicts)-1].Limit = even
	}
	if p.Construction == Arrows && !p.sheet() {
		r.Verdicts = append(r.Verdicts, verdict("both faces", "", craft.Good,
			"Every other slice is turned over: plane both faces of the striped panel clean",
			"Turned over, the show face alternates with the under face.", craft.Figure{
				Key: "glue.turned", Label: "Slices turned over", Value: float64(shape.Slices.Count / 2),
				Formula: "every other slice", Source: "the lay-up",
			}))
	}
	thickest := shape.Thickest - shape.Thinnest
	if thickest > 2*p.clean() && !p.Again() && p.Slope == nil {
		v := verdict(
			"even strips",
			"",
			craft.Mind,
			fmt.Sprintf(
				"Its strips differ by %s in thickness, more than flattening a panel takes: plane them together first",
				craft.Length(thickest)),
			"Strips of one thickness lie flush in the clamps; what stands proud is all to be planed away.",
			craft.Figure{
				Key: "glue.uneven", Label: "Strips differ in thickness by", Value: thickest, Unit: craft.MM,
				Formula: "thickest − thinnest strip, as they stand", Source: "the strips",
			},
		)
		v.Limit = 2 * p.clean()
		r.Verdicts = append(r.Verdicts, v)
	}
}

// strips judges each by itself.
func (p Panel) strips(r *stage.Record) {
	for i, s := range p.All() {
		name := fmt.Sprintf("Strip %d", i+1)
		if i >= len(p.Strips) {
			name = fmt.Sprintf("Spare strip %d", i+1-len(p.Strips))
		}
		if s.Problem != "" {
			r.Verdicts = append(r.Verdicts, verdict("piece", name, craft.Stop, name+": "+s.Problem,
				"A strip is cut from clean wood that nothing else takes up.", craft.Figure{
					Key: "glue.piece", Label: "Length of the strip", Value: s.Length, Unit: craft.MM,
					Formula: "as it is cut, with trim and snipe", Source: "the strip",
				}))
		}
		if i >= len(p.Strips) {
			continue
		}
		if s.Paint == "untested" || s.Paint == "lead" {
			r.Verdicts = append(r.Verdicts, verdict(
				"paint",
				name,
				craft.Mind,
				name+" has old paint that "+
					map[string]string{"untested": "is not tested", "lead": "holds lead"}[s.Paint]+
					": never sanded; leave it out, or the panel is not for food",
				"Dust of lead paint poisons, and what is left of it comes into the food. Test kits are "+
					"sold; local rules "+
					"decide who may strip it.",
				craft.Figure{
					Key: "glue.paint", Label: "Painted strips", Value: 1, Formula: "as noted", Source: "the strip",
				},
			))
		}
		p.showing(r, i, name)
	}
}

// showing tells a flaw that shows in the face, with what helps: the strip's other face,
// a place farther in, or a spare one.
func (p Panel) showing(r *stage.Record, i int, name string) {
	if p.Again() {
		return
	}
	only := p
	only.Strips = slices.Clone(p.Strips)
	for k := range only.Strips {
		if k != i {
			only.Strips[k].Flaws = nil
		}
	}
	shows := func(q Panel) (kinds []string) {
		for _, f := range q.Flaws(q.Shape()) {
			if (!f.Under || f.Through) && !f.Sound() {
				kinds = append(kinds, f.Name())
			}
		}
		return kinds
	}
	kinds := shows(only)
	if len(kinds) == 0 {
		return
	}
	v := verdict("showing", name, craft.Mind, name+" shows "+strings.Join(slices.Compact(kinds), ", "),
		"What was hidden shows when a strip is cut: it is turned down, moved inward, or left out while that is free.",
		craft.Figure{
			Key: "glue.showing", Label: "Flaws on the show face", Value: float64(len(kinds)),
			Formula: "what of the strip's flaws opens in the face", Source: "the strip",
		})
	turned := only
	turned.Strips = slices.Clone(only.Strips)
	turned.Strips[i].Flipped = !turned.Strips[i].Flipped
	if len(shows(turned)) < len(kinds) {
		next := slices.Clone(p.Strips)
		next[i].Flipped = !next[i].Flipped
		v.Remedies = append(v.Remedies, onPanel("Turn it flaw down", map[string]any{"strips": next}))
	}
	for k, spare := range p.Spares {
		if spare.Species != p.Strips[i].Species || spare.Problem != "" {
			continue
		}
		swapped := only
		swapped.Strips = slices.Clone(only.Strips)
		swapped.Strips[i] = spare
		if len(shows(swapped)) >= len(kinds) {
			continue
		}
		next, spares := slices.Clone(p.Strips), slices.Clone(p.Spares)
		next[i], spares[k] = spare, p.Strips[i]
		next[i].Along = p.Strips[i].Along
		v.Remedies = append(v.Remedies,
			onPanel("Swap it for a spare one", map[string]any{"strips": next, "spares": spares}))
		break
	}
	r.Verdicts = append(r.Verdicts, v)
}

// chooseGlue judges the glue at the shop's warmth. A board is taken to be washed, as all
// that is under food is, unless it is of sheet stock, which must not be.
func (p Panel) chooseGlue(r *stage.Record, glue Glue, c Conditions) {
	level := glue.Level(c.Warmth, !p.sheet(), true)
	finding, reason := glue.Name+" holds a board that is washed, and sets at the shop's warmth",
		"Its joints see water every day. Its own data sheet decides, on food contact too."
	switch {
	case c.Warmth < glue.Least:
		finding = fmt.Sprintf("Too cold for %s: the shop has %s", glue.Name, craft.In(c.Warmth, craft.Celsius))
		reason = "Below its least warmth a glue chalks and never reaches its strength: warm shop, wood and glue."
	case !glue.Bears:
		finding = glue.Name + " does not bear: it is for small repairs only"
	case level == craft.Mind:
		finding = glue.Name + " stands water now and then, not washing"
	}
	v := verdict("glue", "", level, finding, reason, craft.Figure{
		Key: "glue.least", Label: "Sets above", Value: glue.Least, Unit: craft.Celsius,
		Formula: "least warmth of the glue, against that of the shop",
		Source:  "data sheets of its kind; EN 204", Rule: true,
		Terms: []craft.Term{{Name: "shop", Value: c.Warmth, Unit: craft.Celsius}},
	})
	v.Limit = c.Warmth
	if level != craft.Good {
		for _, g := range Glues {
			if g.Level(c.Warmth, !p.sheet(), true).Rank() < level.Rank() {
				v.Remedies = append(v.Remedies, onPanel("Take "+g.Name, map[string]any{"glue": g.Name}))
			}
		}
	}
	r.Verdicts = append(r.Verdicts, v)
}

// clamps tells what is short, and what helps.
func (p Panel) clamps(r *stage.Record, out Glued) {
	for _, k := range out.Pressed {
		if k.Short == 0 {
			continue
		}
		v := verdict("clamps", k.Name, craft.Mind, fmt.Sprintf("%s: %d clamps of %d are missing that open %s", k.Name,
			k.Short, k.Count, craft.Length(math.Ceil(k.Reach))),
			"Where no clamp presses, the joint is a line of thick glue that water opens. Glue fewer parts at once, in "+
				"two rounds, borrow clamps, or take stouter cauls, which spread the pressure wider.", craft.Figure{
				Key: "glue.clamps", Label: "Clamps it takes", Value: float64(k.Count),
				Formula: "the more of: force ÷ what a clamp gives; length ÷ spacing + 1",
				Terms: []craft.Term{
					{Name: "force", Value: k.Force, Unit: craft.Newton},
					{Name: "length of the joints", Value: k.Length, Unit: craft.MM},
					{Name: "spacing: 2 × (outer strip + caul)", Value: k.Spacing, Unit: craft.MM},
				}, Source: "cones of pressure of 45°; usual ratings", Rule: true,
			})
		v.Limit, v.AtLeast = float64(len(k.Clamps)), false
		v.Remedies = p.stouter(k)
		r.Verdicts = append(r.Verdicts, v)
	}
}

// stouter is the caul at which the clamps that are owned lie close enough together; none
// where it is the force that is missing.
func (p Panel) stouter(k Pressed) []craft.Remedy {
	n := len(k.Clamps)
	var force float64
	for _, at := range k.Clamps {
		force = max(force, at.Force) // each bears alike
	}
	if n < 2 || force*float64(n) < k.Force-holdsSlack {
		return nil
	}
	caul := math.Ceil((k.Length/float64(n-1)-k.Spacing)/2 + p.Caul)
	const most = 150
	if caul <= p.Caul || caul > most {
		return nil
	}
	remedy := onPanel("Take cauls of {}", map[string]any{"caul": caul})
	remedy.Amount, remedy.Unit = caul, craft.MM
	return []craft.Remedy{remedy}
}

// moistures judges how far the strips' readings lie apart.
func (p Panel) moistures(r *stage.Record) {
	low, high := math.Inf(1), 0.0
	for _, s := range p.Strips {
		if s.Moisture > 0 {
			low, high = min(low, s.Moisture), max(high, s.Moisture)
		}
	}
	if high-low <= damp || math.IsInf(low, 1) {
		return
	}
	v := verdict("moisture of parts", "", craft.Mind, fmt.Sprintf(
		"Its strips were read from %.1f to %.1f %%: let them come to rest beside each other first", low, high),
		"What is wetter shrinks after it is glued: a step at the joint, or the joint opens.", craft.Figure{
			Key: "glue.moisture", Label: "Readings lie apart by", Value: high - low, Unit: craft.Percent,
			Formula: "wettest − driest strip", Source: "their latest readings", Rule: true,
		})
	v.Limit = damp
	r.Verdicts = append(r.Verdicts, v)
}

// steppings judges the steps that come up at joints across the year.
func (p Panel) steppings(r *stage.Record, shape Shape, c Conditions) {
	worst, at := 0.0, 0
	grain := p.heres(c.Own)
	for i := 1; i < len(grain) && p.Construction != Blocks; i++ {
		if step := shape.Thinnest * math.Abs(grain[i].Rises()-grain[i-1].Rises()) * c.Swing; step > worst {
			worst, at = step, i
		}
	}
	if worst <= stepLimit {
		return
	}
	v := verdict("steps", "", craft.Mind, fmt.Sprintf(
		"A step of %s comes up across the year between strips %d and %d", craft.Length(worst), at, at+1),
		"Neighbours whose thickness moves unlike stand proud of each other by turns: felt by hand, caught by a knife.",
		craft.Figure{
			Key: "glue.step", Label: "Step at a joint", Value: worst, Unit: craft.MM, Rule: true,
			Formula: "thickness × difference of their movement in thickness × points",
			Terms: []craft.Term{
				{Name: "thickness", Value: shape.Thinnest, Unit: craft.MM},
				{Name: "difference a point", Value: math.Abs(grain[at].Rises() - grain[at-1].Rises())},
				{Name: "points", Value: c.Swing, Unit: craft.Percent},
			}, Source: "Wood Handbook, chapter 4",
		})
	v.Limit = stepLimit
	r.Verdicts = append(r.Verdicts, v)
}

// lies judges whether a large thin panel stays flat.
func (p Panel) lies(r *stage.Record, shape Shape, c Conditions) {
	soft := slices.ContainsFunc(p.Strips, func(s Strip) bool { return c.wood(s).Group == "softwood" })
	if p.Edge() || p.Again() || !soft || shape.Width <= wideFlat || shape.Thinnest >= thinFlat {
		return
	}
	across, _ := p.movement(shape, c.Own)
	v := verdict("lies flat", "", craft.Mind, "Wide, thin and of softwood, face up: it moves and cups",
		"On edge or as stacked quarter the rings stand: it moves by half as much, and stays flat.", craft.Figure{
			Key: "glue.lies", Label: "Moves across the year by", Value: across * c.Swing, Unit: craft.MM,
			Formula: "each strip's width × its movement a point × points", Source: "Wood Handbook, chapter 4",
		})
	r.Verdicts = append(r.Verdicts, v)
}
