package reckon

import (
	"slices"

	"idletimber/craft"
	"idletimber/craft/caution"
	"idletimber/craft/fill"
	"idletimber/craft/geom"
	"idletimber/craft/glue"
	"idletimber/craft/plan"
	"idletimber/craft/river"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
)

// OfRiver is what a river comes to beside the panel.
type OfRiver struct {
	river.Cast
	State    string               `json:"state" enum:"planned,in work,in clamps,curing,ready" doc:"How far it is"`
	Course   plan.Course          `json:"course" doc:"Its steps with their dates"`
	Uses     []stage.Use          `json:"uses" doc:"What it takes from the shelf"`
	BySteps  []stage.Use          `json:"-"` // the same, step by step
	Cautions map[string][]Caution `json:"cautions" doc:"By key of the step"`
	Pourings []fill.Pouring       `json:"pourings" doc:"Its pours, as far as they have come"`
	Curing   *fill.Curing         `json:"curing,omitempty" doc:"How far its last pour has come"`
	Sides    []glue.Drawn         `json:"sides" doc:"Resin and banks as the panel shows them"`
}

// casting is what casting the scene's river comes to.
type casting struct {
	river.Cast
	stage.Record
}

// castRiver is nil for a piece that is not cast.
func (b *drawn) castRiver() *casting {
	if b.Slab == nil || b.Slab.River == nil {
		return nil
	}
	if b.river == nil {
		made, record := b.Slab.River.Make(b.castingIn())
		b.river = &casting{made, record}
	}
	return b.river
}

// sawKerf is what a saw takes between the parts of a mould, mm (rule).
const sawKerf = 3

func (b *drawn) castingIn() river.Conditions {
	at := b.Shop
	return river.Conditions{
		Conditions: fill.Conditions{
			Temperature: at.Air.Temperature, ScaleStep: at.ScaleStep,
			ScaleMost: at.ScaleMost, Cup: at.Cup, Rules: at.Rules,
			Pace: b.pace, Habit: b.habit, Looks: fill.LooksAt(b.logOf(b.subject())),
		},
		Own: at.Species, Shelf: at.Moulds, Kerf: sawKerf, Sheets: b.Sheets,
	}
}

// chain is the work on the river.
func (r *casting) chain(b *drawn) plan.Chain {
	c := plan.Chain{Subject: b.subject(), Name: b.Slab.Name, Log: b.logOf(b.subject())}
	c.Steps = append(b.resting(c), r.Steps...)
	b.awaited(c.Steps, func(step string) []stage.Use { return usesOf([]stage.Record{r.Record}, step) })
	if cure := b.curing(r.Mix, c.Log, b.Slab.River.Fill); cure != nil {
		cure.waits(c.Steps, c.Log, b.Now)
	}
	return c
}

// showRiver completes the slab with what casting it comes to; false where it is not cast.
func (b *drawn) showRiver(out *Reckoning) bool {
	r := b.castRiver()
	if r == nil {
		return false
	}
	uses := b.took(r.Uses, b.subject())
	o := &OfRiver{
		Cast: r.Cast, Uses: stage.Together(uses), BySteps: uses, Cautions: map[string][]Caution{},
		Sides:    glue.Patches(b.Slab.River.Rings(b.Shop.Species)),
		Pourings: b.pourings(r.Mix, b.logOf(b.subject()), b.Slab.River.Fill),
	}
	if i := slices.IndexFunc(out.Plan, func(c plan.Course) bool { return c.Subject == b.subject() }); i >= 0 {
		o.Course = out.Plan[i]
	}
	o.State = PanelState(o.Course, b.Now)
	if c := b.curing(r.Mix, b.logOf(b.subject()), b.Slab.River.Fill); c != nil {
		o.Curing = &c.Curing
		out.Slab.Verdicts = append(out.Slab.Verdicts, c.riverVerdict())
	}
	m := caution.Material{Woods: b.wood.Species()}
	for _, s := range o.Course.Steps {
		if cs := caution.For(s.Kind, s.Tool(), m); len(cs) > 0 {
			o.Cautions[s.Key] = cs
		}
	}
	out.Slab.River, out.Slab.Pattern = o, o.Sides
	out.Slab.Verdicts = gravestFirst(append(out.Slab.Verdicts, b.riverVerdicts(r)...))
	out.Slab.Figures = append(r.Figures, out.Slab.Figures...)
	return true
}

// riverVerdict is that of the cure, its way out on the river's own document.
func (c *cure) riverVerdict() craft.Verdict {
	v := c.Verdict()
	v.Remedies = onRiver(v.Remedies)
	return v
}

// onRiver turns ways out of a pour into a board into those of a river.
func onRiver(of []craft.Remedy) (out []craft.Remedy) {
	for _, r := range of {
		if r.On != craft.OnPiece {
			r.On, r.Patch = craft.OnPiece, craft.Patch{"river": r.Patch}
		}
		out = append(out, r)
	}
	return out
}

// riverVerdicts are those of the scene's river; each of its remedies was tried: it helps its own
// check, and makes no other graver.
func (b *drawn) riverVerdicts(made *casting) []craft.Verdict {
	out := slices.Clone(made.Verdicts)
	before := tallied(out)
	for i := range out {
		v := &out[i]
		v.Remedies = slices.DeleteFunc(onRiver(v.Remedies), func(r craft.Remedy) bool {
			next := *b.Slab
			own := *b.Slab.River
			next.River = &own
			if r.Patch.Apply(&next) != nil || next.River == nil ||
				len(next.River.Check("river", b.Shop.Species)) > 0 {
				return true
			}
			_, then := next.River.Make(b.castingIn())
			w := weighed{levels([]stage.Record{then}), tallied(then.Verdicts), ""}
			return !w.helps(*v, before)
		})
	}
	return out
}

// sidesOf are the resin and the banks within an outline, in the board's frame.
func (l *laid) sidesOf() []glue.Drawn {
	var out []glue.Drawn
	for _, side := range l.on.Slab.River.Rings(l.on.Shop.Species) {
		for _, part := range geom.Common(side.Ring.Map(l.board.Placement.In), l.shaped.Outline) {
			out = append(out, glue.Patches([]stock.Patch{{Here: side.Here, Ring: part}})...)
		}
	}
	return out
}
