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
	"idletimber/craft/layout"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// Strip is wood of the scene's slab that a strip of a panel is to be cut from: laid there
// as a rectangle about its middle.
type Strip struct {
	Panel  string         `json:"panel" doc:"Id of the panel"`
	Name   string         `json:"name" doc:"Of the panel"`
	ID     string         `json:"id" doc:"Of the strip"`
	At     geom.Placement `json:"at" doc:"Where it lies on the slab"`
	Length float64        `json:"length" mm:"1,10000" doc:"As it is cut, mm"`
	Width  float64        `json:"width" mm:"1,10000" doc:"With its jointing"`
	Cents  int            `json:"cents" range:"0,1e9" doc:"What it takes of the piece's price"`
}

// outline is the strip on the slab.
func (s Strip) outline() geom.Ring {
	box := geom.Bounds{MinX: -s.Length / 2, MaxX: s.Length / 2, MinY: -s.Width / 2, MaxY: s.Width / 2}
	return box.Ring().Map(s.At.Out)
}

func (s Strip) neighbour() layout.Neighbour {
	return layout.Neighbour{Name: "A strip of " + s.Name, Outline: s.outline(), Saw: tool.TableSaw}
}

// Reserved is a strip of a panel as it is drawn on the piece that it is cut from.
type Reserved struct {
	Panel string `json:"panel" doc:"Id of the panel"`
	Name  string `json:"name" doc:"Of the panel"`
	Strip string `json:"strip" doc:"Id of the strip"`
	Path  string `json:"path" doc:"In the slab's frame"`
}

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
	State    string               `json:"state" enum:"planned,in work,in clamps,curing,ready" doc:"How far it is"`
	Course   plan.Course          `json:"course" doc:"Its steps with their dates"`
	Uses     []stage.Use          `json:"uses" doc:"What it takes from the shelf and the yard"`
	Cautions map[string][]Caution `json:"cautions" doc:"By key of the step"`
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
	c := GluingIn(b.Shop, b.pace)
	c.Swing = b.target.Home.Swing()
	for _, v := range b.Panels {
		if v.Glue != nil {
			c.Before = append(c.Before, glue.Earlier{Name: v.Name, Pattern: v.Glue.Pattern()})
		}
	}
	return c
}

// GluingIn are the conditions that a shop glues panels in for its usual home.
func GluingIn(at shop.Shop, pace plan.Pace) glue.Conditions {
	return glue.Conditions{
		Warmth: at.Air.Temperature, Swing: at.Home.Swing(), Kit: at.Kit, Rules: at.Rules, Pace: pace, Own: at.Species,
	}
}

// Ripped is a panel whose strips are ripped from pieces, by turns, as many of each as
// its width gives, up to as many as the panel has; the rest are to be bought.
func Ripped(p glue.Panel, from []string, pieces map[string]slab.Slab, c glue.Conditions) glue.Panel {
	left := map[string]int{}
	for _, id := range from {
		if v, ok := pieces[id]; ok {
			w := slab.Draw(v, c.Own)
			along := max(1, int(math.Floor(w.Length/(p.Strips[0].Length+p.Kerf))))
			left[id] = along * glue.RipYield(w.MeanWidth(), p.Strips[0].Width, p.Kerf, c.Rules)
		}
	}
	turn := 0
	for i := range p.Strips {
		for range from {
			id := from[turn%len(from)]
			turn++
			if left[id] > 0 {
				left[id]--
				p.Strips[i].Piece, p.Strips[i].Species = id, slab.Draw(pieces[id], c.Own).Species()[0].Name
				break
			}
		}
	}
	return p
}

// subject is the scene's panel in the plan; a scene that is read from a file has no id
// for its slab.
func (b *drawn) subject() plan.Subject { return plan.Panel(cmp.Or(b.Piece, "this")) }

// panelChain is the work on the scene's panel; false where there is none.
func (b *drawn) panelChain() (plan.Chain, bool) {
	g := b.glueUp()
	if g == nil {
		return plan.Chain{}, false
	}
	c := plan.Chain{Subject: b.subject(), Name: b.Slab.Name, Log: []plan.Entry{}}
	for _, e := range b.Log {
		if e.Subject == c.Subject {
			c.Log = append(c.Log, e.Entry)
		}
	}
	c.Steps = append(b.resting(c), g.Steps...)
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
	out := &OfParts{Glued: g.Glued, Strips: p.Strips, Spares: append([]glue.Strip{}, p.Spares...), State: PanelState(c, b.Now), Course: c, Uses: stage.Together(g.Uses),
		Cautions: map[string][]Caution{}}
	m := caution.Material{Woods: b.wood.Species(), Reclaimed: b.wood.History.Reclaimed, Saw: tool.TableSaw}
	for _, s := range c.Steps {
		if cs := caution.For(s.Kind, m); len(cs) > 0 {
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
	return r
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
			Reason: "The edge of a hole that just crosses a joint is a sliver of wood held by glue: it chips out. Move the " +
				"hole off the joint, or well over it.",
			Figure: craft.Figure{
				Key: "glue.byjoint", Stage: craft.Glue, Label: "Cut into the strip beside", Value: sliver, Unit: craft.MM,
				Formula: "area cut from it ÷ width of the hole", Source: "rule of the trade", Rule: true,
			},
			Limit: byJoint, AtLeast: true,
			Mark: &craft.Mark{AX: box.MinX, AY: (box.MinY + box.MaxY) / 2, BX: box.MaxX, BY: (box.MinY + box.MaxY) / 2},
		})
	}
	return out
}

// Wanted is a strip that is to be laid on a piece, mm: its width with its jointing.
type Wanted struct {
	ID            string
	Length, Width float64
	At            *geom.Placement // where it lies already
}

// Reserve lays strips of a panel on a scene's slab, along its grain: each keeps its place
// while nothing else takes it up, and others get the place with the least of flaws, nearest
// the right edge and the butt. Strips with no place are left out.
func Reserve(s Scene, wanted []Wanted) (map[string]geom.Placement, error) {
	b, err := drawOn(s)
	if err != nil {
		return nil, err
	}
	out := map[string]geom.Placement{}
	taken := b.neighbours(-1)
	keep := func(w Wanted, at geom.Placement) {
		out[w.ID] = at
		taken = append(taken, Strip{At: at, Length: w.Length, Width: w.Width}.neighbour())
	}
	for _, w := range wanted {
		if w.At != nil && b.free(w.outline(*w.At), taken) {
			keep(w, *w.At)
		}
	}
	for _, w := range wanted {
		if _, laid := out[w.ID]; laid {
			continue
		}
		if at, ok := b.spot(w, taken); ok {
			keep(w, at)
		}
	}
	return out, nil
}

// WantedOn are the strips of a panel that are to be cut from a piece; those that lie there
// already, as large as they are, with their places.
func WantedOn(v slab.Slab, piece string, laid []Strip, rules rule.Set) (out []Wanted) {
	for _, t := range v.Glue.All() {
		if t.Piece != piece {
			continue
		}
		w := Wanted{ID: t.ID, Length: t.Length, Width: t.Width + rules.Get(rule.Jointing)}
		const same = 0.005
		for _, l := range laid {
			if l.ID == t.ID && math.Abs(l.Length-w.Length) < same && math.Abs(l.Width-w.Width) < same {
				at := l.At
				w.At = &at
			}
		}
		out = append(out, w)
	}
	return out
}

func (w Wanted) outline(at geom.Placement) geom.Ring {
	return Strip{At: at, Length: w.Length, Width: w.Width}.outline()
}

// free reports an outline that lies in the wood, clear of what is taken by a kerf.
func (b *drawn) free(r geom.Ring, taken []layout.Neighbour) bool {
	for _, p := range r.Dense(20) {
		if !b.wood.Holds(p, 0.01) {
			return false
		}
	}
	box, kerf := r.Bounds(), tool.Kerf(tool.TableSaw)
	for _, n := range taken {
		if n.Outline.Bounds().Apart(box) < kerf && geom.Gap(n.Outline, r) < kerf-0.01 {
			return false
		}
	}
	return true
}

// spot looks for the place of a strip: flush with an edge, an end, a flaw or what lies
// there already.
func (b *drawn) spot(w Wanted, taken []layout.Neighbour) (best geom.Placement, ok bool) {
	kerf, half := tool.Kerf(tool.TableSaw), w.Width/2
	xs, ys := []float64{0, b.wood.Length - w.Length}, []float64{}
	beside := func(box geom.Bounds, off float64) {
		xs = append(xs, box.MaxX+off, box.MinX-off-w.Length)
		ys = append(ys, box.MaxY+off+half, box.MinY-off-half)
	}
	for _, n := range taken {
		beside(n.Outline.Bounds(), kerf)
	}
	var flaws []stock.Flaw
	for _, f := range b.wood.Flaws {
		if !f.Sound() {
			flaws = append(flaws, f)
			beside(f.Bounds(), 1)
		}
	}
	least := -1.0
	for _, x := range xs {
		if x < -0.01 || x+w.Length > b.wood.Length+0.01 {
			continue
		}
		x = max(0, x)
		right, left := b.band(x, x+w.Length)
		for _, y := range append([]float64{right + half, left - half}, ys...) {
			if y-half < right-0.01 || y+half > left+0.01 {
				continue
			}
			at := geom.Placement{X: x + w.Length/2, Y: y}
			ring := w.outline(at)
			if !b.free(ring, taken) {
				continue
			}
			cost := y*1e-3 + x*1e-4
			for _, f := range flaws {
				if f.Bounds().Apart(ring.Bounds()) > 0 {
					continue
				}
				for _, c := range geom.Common(f.Footprint(), ring) {
					cost += c.Area()
				}
			}
			if !ok || cost < least {
				best, least, ok = at, cost, true
			}
		}
	}
	return best, ok
}

// band is what lies inside both edges over a stretch of the wood.
func (b *drawn) band(from, to float64) (right, left float64) {
	const looks = 24
	right, left = b.wood.Right(from), b.wood.Left(from)
	for k := range looks + 1 {
		x := from + (to-from)*float64(k)/looks
		right, left = max(right, b.wood.Right(x)), min(left, b.wood.Left(x))
	}
	return right, left
}

// showParts completes the slab with what gluing it comes to.
func (b *drawn) showParts(out *Reckoning) {
	if b.Slab == nil || b.Slab.Glue == nil {
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
			Formula: "sum of each part's length along the line × its movement a point in that direction × points between " +
				"heating season and summer",
			Terms: []craft.Term{{Name: "points", Value: swing, Unit: craft.Percent}}, Source: "Wood Handbook, chapter 4",
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
