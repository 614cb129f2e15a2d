package reckon

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"time"

	"idletimber/craft"
	"idletimber/craft/caution"
	"idletimber/craft/geom"
	"idletimber/craft/glue"
	"idletimber/craft/plan"
	"idletimber/craft/river"
	"idletimber/craft/shelf"
	"idletimber/craft/shop"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
)

// The states of a panel.
const (
	Planned  = "planned"
	InWork   = "in work"
	InClamps = "in clamps"
	Curing   = "curing"
	Sound    = "ready"
)

// OfParts is what a panel comes to beside its wood.
type OfParts struct {
	glue.Glued
	Strips   []glue.Strip         `json:"strips" doc:"With what their pieces say"`
	Spares   []glue.Strip         `json:"spares" doc:"The same of the spare ones"`
	Kept     []KeptPattern        `json:"kept,omitempty" doc:"Patterns of the workshop's other panels"`
	State    string               `json:"state" enum:"planned,in work,in clamps,curing,ready" doc:"How far it is"`
	Course   plan.Course          `json:"course" doc:"Its steps with their dates"`
	Uses     []stage.Use          `json:"uses" doc:"What it takes from the shelf and the yard"`
	BySteps  []stage.Use          `json:"-"` // the same, step by step
	Cautions map[string][]Caution `json:"cautions" doc:"By key of the step"`
}

// KeptPattern is the order of woods of another panel, to be used again.
type KeptPattern struct {
	Name    string   `json:"name" doc:"Of the panel"`
	Species []string `json:"species" doc:"Of its strips, from the left"`
}

// gluing is what gluing the scene's panel comes to; nil for one piece, and for what was
// cut from a panel.
type gluing struct {
	glue.Glued
	stage.Record
}

func (b *drawn) glueUp() *gluing {
	if b.Slab == nil || !b.Slab.Panel() {
		return nil
	}
	if b.gluing == nil {
		made, record := glue.Make(*b.Slab.Glue, b.gluingIn())
		b.gluing = &gluing{made, record}
	}
	return b.gluing
}

func (b *drawn) gluingIn() glue.Conditions {
	c := GluingIn(b.Shop, b.pace, b.sheets)
	c.Swing = b.target.Home.Swing()
	for _, v := range b.Panels {
		if v.Glue != nil {
			c.Before = append(c.Before, glue.Earlier{Name: v.Name, Pattern: v.Glue.Pattern()})
		}
	}
	return c
}

// GluingIn are the conditions that a shop glues panels in for its usual home, with the glues that it has.
func GluingIn(at shop.Shop, pace plan.Pace, sheets shelf.Sheets) glue.Conditions {
	return glue.Conditions{
		Warmth: at.Air.Temperature, Swing: at.Home.Swing(), Kit: at.Kit, Rules: at.Rules, Pace: pace, Own: at.Species,
		Sheets: sheets.Glues,
	}
}

// subject is the scene's panel in the plan; a scene that is read from a file has no id
// for its slab.
func (b *drawn) subject() plan.Subject { return plan.Panel(cmp.Or(b.Piece, "this")) }

// panelChain is the work on the scene's panel; false where there is none.
func (b *drawn) panelChain() (plan.Chain, bool) {
	if r := b.castRiver(); r != nil {
		return r.chain(b), true
	}
	g := b.glueUp()
	if g == nil {
		return plan.Chain{}, false
	}
	c := plan.Chain{Subject: b.subject(), Name: b.Slab.Name, Log: b.logOf(b.subject())}
	c.Steps = append(b.resting(c), g.Steps...)
	b.awaited(c.Steps, func(step string) []stage.Use { return usesOf([]stage.Record{g.Record}, step) })
	// A strip of another panel waits for that one.
	var others []string
	for _, s := range b.Slab.Glue.All() {
		if name := plan.Panel(s.Piece).String() + "/" + lastStep; s.Piece != "" && !slices.Contains(others, name) {
			others = append(others, name)
		}
	}
	for i := range c.Steps {
		if c.Steps[i].Key == "rip" && len(others) > 0 {
			c.Steps[i].After = others
			if i > 0 {
				c.Steps[i].After = append(c.Steps[i].After, c.Steps[i-1].Key)
			}
		}
	}
	return c, true
}

// lastStep is the key of the step with which every panel can be cut.
const lastStep = "trim"

// resting lets the strips' damp wood come to rest before it is ripped.
func (b *drawn) resting(c plan.Chain) []plan.Step {
	at := b.drying.ReadyAt
	begun := slices.ContainsFunc(c.Log, func(e plan.Entry) bool { return e.Step != "dry" && e.Step != "read" })
	if at == nil || !at.After(b.Now) || begun {
		return nil
	}
	r := stage.Record{Stage: craft.Glue}
	b.rest(&r, "By the wettest of its pieces")
	return r.Steps
}

// waitsForPanel lets a board's first step wait until its panel may be machined.
func (b *drawn) waitsForPanel(c *plan.Chain) {
	if b.castRiver() != nil && len(c.Steps) > 0 && len(c.Steps[0].After) == 0 {
		c.Steps[0].After = []string{b.subject().String() + "/" + river.LastKey}
	}
	if g := b.glueUp(); g != nil && len(c.Steps) > 0 && len(c.Steps[0].After) == 0 {
		c.Steps[0].After = []string{b.subject().String() + "/" + g.Steps[len(g.Steps)-1].Key}
	}
}

// PanelState tells how far a panel is, by its course.
func PanelState(c plan.Course, now time.Time) string {
	state := Planned
	for i, s := range c.Steps {
		switch {
		case s.State == plan.ToDo:
			continue
		case s.State != plan.Done:
			return InWork
		}
		state = InWork
		waits := s.WaitUntil != nil && s.WaitUntil.After(now)
		next := i+1 == len(c.Steps) || c.Steps[i+1].State == plan.ToDo
		switch {
		case waits && next && s.Kind == plan.GlueUp:
			state = InClamps
		case waits && next && s.Kind == plan.Scrape:
			state = Curing
		}
	}
	if c.Done {
		return Sound
	}
	return state
}

// ofParts is what the scene's panel comes to, weighed where somebody looks at it.
func (b *drawn) ofParts(c plan.Course) *OfParts {
	g := b.glueUp()
	if g == nil {
		return nil
	}
	p := b.Slab.Glue
	uses := b.took(g.Uses, b.subject())
	out := &OfParts{
		Glued:    g.Glued,
		Strips:   p.Strips,
		Spares:   append([]glue.Strip{}, p.Spares...),
		State:    PanelState(c, b.Now),
		Course:   c,
		Uses:     stage.Together(uses),
		BySteps:  uses,
		Cautions: map[string][]Caution{},
	}
	for _, v := range b.Panels {
		if v.Glue == nil {
			continue
		}
		kept := KeptPattern{Name: v.Name}
		for _, s := range v.Glue.Strips {
			kept.Species = append(kept.Species, s.Species)
		}
		out.Kept = append(out.Kept, kept)
	}
	m := caution.Material{Woods: b.wood.Species(), Reclaimed: b.wood.History.Reclaimed}
	for _, s := range b.Slab.Glue.Strips {
		if m.Narrow == 0 || s.Width < m.Narrow {
			m.Narrow = s.Width
		}
	}
	for _, s := range c.Steps {
		if cs := caution.For(s.Kind, s.Tool(), m); len(cs) > 0 {
			out.Cautions[s.Key] = cs
		}
	}
	return out
}

// panelVerdicts are those of the scene's panel; each of its remedies was tried: it helps
// its own check, and makes no other graver.
func (b *drawn) panelVerdicts() []craft.Verdict {
	g := b.glueUp()
	if g == nil {
		return nil
	}
	out := slices.Clone(g.Verdicts)
	before := tallied(out)
	for i := range out {
		v := &out[i]
		v.Remedies = slices.DeleteFunc(slices.Clone(v.Remedies), func(r craft.Remedy) bool {
			next := *b.Slab
			if r.Patch.Apply(&next) != nil || len(next.Glue.Check("glue", b.Shop.Species)) > 0 {
				return true
			}
			_, then := glue.Make(*next.Glue, b.gluingIn())
			w := weighed{levels([]stage.Record{then}), tallied(then.Verdicts), ""}
			return !w.helps(*v, before)
		})
	}
	return out
}

// reckonGlue is what a board has of its panel: what is judged of it. Its steps are the
// panel's own.
func (l *laid) reckonGlue() stage.Record {
	r := stage.Record{Stage: craft.Glue}
	g := l.on.glueUp()
	if g == nil {
		return r
	}
	r.Figures = g.Figures
	for _, v := range g.Verdicts {
		v.Remedies = nil // they are at the panel
		r.Verdicts = append(r.Verdicts, v)
	}
	r.Verdicts = append(r.Verdicts, l.jointsCrossed()...)
	r.Verdicts = append(r.Verdicts, l.shapedBefore()...)
	return r
}

// clearOfJoint is how far what is made in a strip before it is glued stays from its
// joints, mm (rule).
const clearOfJoint = 5

// shapedBefore judges recesses in strips that are marked as shaped before they are glued:
// each lies within its strip, clear of the joints.
func (l *laid) shapedBefore() (out []craft.Verdict) {
	p := l.on.Slab.Glue
	if p.Again() {
		return nil
	}
	shape := p.Shape()
	for _, c := range l.shaped.Cavities {
		rim := l.onWood(c.Rim)
		for _, part := range shape.Parts {
			box := part.Ring.Bounds()
			if p.Strips[part.Strip].Shaped == "" || len(geom.Common(rim, part.Ring)) == 0 {
				continue
			}
			r := rim.Bounds()
			clear := min(r.MinY-box.MinY, box.MaxY-r.MaxY)
			name := c.Name(l.board.Design.Recesses)
			v := craft.Verdict{
				Check: "shaped before", Subject: name, Stage: craft.Glue, AtLeast: true, Limit: clearOfJoint,
				Level:   craft.Under(clear, clearOfJoint, math.Inf(-1)),
				Finding: fmt.Sprintf("The %s lies within strip %d", name, part.Strip+1),
				Reason: "It is made, sanded to its last grit and taped before the strip is glued: " +
					"it must not run over a joint.",
				Figure: craft.Figure{
					Key: "glue.within", Stage: craft.Glue,
					Label: "Clear of the joints by", Value: clear, Unit: craft.MM,
					Formula: "the strip's edges − the recess, across", Source: "rule of the trade", Rule: true,
				},
			}
			if v.Level != craft.Good {
				v.Finding = fmt.Sprintf("The %s comes too near a joint of strip %d, which is shaped before it is glued",
					name, part.Strip+1)
			}
			out = append(out, v)
		}
	}
	return out
}

// byJoint is how near a joint a round hole is told, mm.
const byJoint = 5

// jointsCrossed tells of holes that a joint runs by: a joint counts as wood, and a hole
// beside one leaves a thin strip that splits along it.
func (l *laid) jointsCrossed() (out []craft.Verdict) {
	if l.on.Slab.Glue.Again() { // a joint runs by every hole
		return nil
	}
	for i, hole := range l.shaped.Holes {
		parts := l.grain.Over(hole)
		if len(parts) < 2 {
			continue
		}
		least := -1.0
		for _, p := range parts {
			if a := p.Area(); least < 0 || a < least {
				least = a
			}
		}
		box := hole.Bounds()
		sliver := least / max(1, min(box.MaxX-box.MinX, box.MaxY-box.MinY))
		if sliver >= byJoint {
			continue
		}
		out = append(out, craft.Verdict{
			Check: "hole by joint", Subject: fmt.Sprintf("hole %d", i+1), Stage: craft.Glue, Level: craft.Mind,
			Finding: fmt.Sprintf("Hole %d grazes a joint: %s of the strip beside it are cut away", i+1,
				craft.Length(sliver)),
			Reason: "The edge of a hole that just crosses a joint is a sliver of wood held by glue: it chips out. " +
				"Move the hole off the joint, or well over it.",
			Figure: craft.Figure{
				Key: "glue.byjoint", Stage: craft.Glue, Label: "Cut into the strip beside", Value: sliver,
				Unit:    craft.MM,
				Formula: "area cut from it ÷ width of the hole", Source: "rule of the trade", Rule: true,
			},
			Limit: byJoint, AtLeast: true,
			Mark: &craft.Mark{AX: box.MinX, AY: (box.MinY + box.MaxY) / 2, BX: box.MaxX, BY: (box.MinY + box.MaxY) / 2},
		})
	}
	return out
}

// showParts completes the slab with what gluing it comes to.
func (b *drawn) showParts(out *Reckoning) {
	if b.showRiver(out) || b.Slab == nil || b.Slab.Glue == nil {
		return
	}
	if i := slices.IndexFunc(out.Plan, func(c plan.Course) bool { return c.Subject == b.subject() }); i >= 0 {
		out.Slab.Parts = b.ofParts(out.Plan[i])
		out.Slab.Verdicts = gravestFirst(append(out.Slab.Verdicts, b.panelVerdicts()...))
		out.Slab.Figures = append(b.glueUp().Figures, out.Slab.Figures...)
		return
	}
	out.Slab.Pattern = glue.Patches(b.wood.Grain.Over(b.wood.Show.Ring()))
}

// movements are by how much a region of wood made of parts grows between the home's
// seasons, across the slab and along it: each part by its own grain.
func (b *drawn) movements(r geom.Ring) (out []craft.Figure) {
	box := r.Bounds()
	x, y := (box.MinX+box.MaxX)/2, (box.MinY+box.MaxY)/2
	for _, line := range []struct {
		key, label string
		a, b       geom.Point
	}{
		{"wood.movement", "Moves across the year by", geom.Point{X: x, Y: box.MinY}, geom.Point{X: x, Y: box.MaxY}},
		{"wood.along", "Moves along it by", geom.Point{X: box.MinX, Y: y}, geom.Point{X: box.MaxX, Y: y}},
	} {
		swing, section := b.target.Home.Swing(), b.wood.Grain.Along(line.a, line.b)
		v := stock.Movement(section)
		if line.key == "wood.along" && v*swing < 0.05 { // along the grain of all parts
			continue
		}
		f := craft.Figure{
			Key: line.key, Stage: craft.Wood, Label: line.label, Value: v * swing, Unit: craft.MM,
			Formula: "sum of each part's length along the line × its movement a point in that direction × points " +
				"between heating season and summer",
			Terms: []craft.Term{
				{Name: "points", Value: swing, Unit: craft.Percent},
			}, Source: "Wood Handbook, chapter 4",
		}
		const most = 12 // parts listed one by one
		for i, s := range section {
			if i < most {
				name := fmt.Sprintf("part %d, %s", i+1, s.Species.Name)
				f.Terms = append(f.Terms, craft.Term{Name: name, Value: s.Length(), Unit: craft.MM})
			}
		}
		out = append(out, f)
	}
	return out
}

// glued shows on a board's story stick how far its panel is.
func (r *Reckoned) glued(c plan.Course) {
	for i := range r.Stick {
		n := &r.Stick[i]
		if n.Stage != craft.Glue {
			continue
		}
		n.Needed, n.Done = true, c.Done
		for _, s := range c.Steps {
			if n.Starts == nil && s.Starts != nil {
				n.Starts = s.Starts
			}
			if s.WaitUntil != nil {
				n.Ends = s.WaitUntil
			}
		}
	}
}

// bend is the rim of a board, round the wood that it holds.
func (l *laid) bend() (*glue.Bent, stage.Record) {
	const fine = 0.001 // mm: facets would count as bends
	ring := geom.Largest(geom.Flatten(l.shaped.Path, fine))
	if ring.SignedArea() < 0 {
		slices.Reverse(ring)
	}
	b := glue.Rimmed{Outline: ring, Thickness: l.budget().Sanded}
	if !l.on.wood.History.Sheet {
		b.Across, b.Moves = l.width(), 0
		for _, f := range l.on.movements(l.outline) {
			b.Moves = max(b.Moves, f.Value)
		}
	}
	out, r := l.board.Rim.Make(b, l.on.gluingIn())
	return &out, r
}
