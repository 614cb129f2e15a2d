package reckon

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/rescue"
	"idletimber/craft/rule"
	"idletimber/craft/slab"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
)

// Happened is a board on which something went wrong, as it is told at a moment, at a step or at none: what is gone, and
// what was left, made and done by then. The report is in the frame of the scene's first board. The error says what in
// it cannot be.
func Happened(s Scene, id, step string, at time.Time, days float64, r rescue.Report) (Board, error) {
	if ps := r.Check("mishap"); len(ps) > 0 {
		return Board{}, ps
	}
	d, err := drawOn(s)
	if err != nil {
		return Board{}, err
	}
	l := d.boards[0]
	m := rescue.Mishap{
		ID:        id,
		Kind:      r.Kind,
		Step:      step,
		At:        at,
		Days:      days,
		Thickness: r.Thickness,
		Depth:     r.Depth,
		Done:      l.doneBy(at),
	}
	has := func(key string) bool { return slices.Contains(m.Done, key) }
	budget, off, thickness := l.budget(), 0.0, l.on.wood.Rough.Mean
	if has(flatten) {
		off, thickness = max(0, budget.PerFace), budget.Planed
		if r.Thickness > 0 {
			off, thickness = max(off, (budget.Rough-r.Thickness)/2), r.Thickness
		}
	}
	place := l.board.Placement
	for _, f := range r.Flaws(id, off, thickness) {
		f.Line = geom.Ring(f.Line).Rounded(0.01)
		m.Gone = append(m.Gone, f.Out(place))
	}
	onIt := func(f stock.Flaw) bool {
		return geom.Gap(l.outline, f.Footprint()) <= 0 || l.outline.Contains(f.Middle())
	}
	if len(m.Gone) > 0 && !slices.ContainsFunc(m.Gone, onIt) {
		return Board{}, craft.Problems{{Field: "mishap", Wrong: "what is marked lies beside the board",
			Right: "mark it on the board, also over its edge"}}
	}
	if m.Sawn = has(board.OutlineKey) || l.atTheSaw(step, at, r.Kind); m.Sawn {
		m.Left = traced(l.outline)
	}
	next := s.Boards[0] // as it is kept: what is laid has the shop's own data sheets in it
	told := -1
	if r.Place != nil && r.Kind == offCentre {
		if told = l.nearestHole(*r.Place); told < 0 {
			return Board{}, craft.Problems{{
				Field: "mishap.place", Wrong: "no hole is drawn near it", Right: "mark the middle of the " +
					"hole as it was bored",
			}}
		}
		bored := place.Out(*r.Place)
		m.Bored = &bored
		next.Design = l.boredAt(told, *r.Place)
		l = d.changed(next)
	}
	for i, hole := range l.shaped.Holes {
		if i == told || has(board.BoreKey) || has(board.InnerKey) {
			m.Made = append(m.Made, rescue.Made{Name: l.shaped.Handles[i].Name(), Ring: traced(l.onWood(hole))})
		}
	}
	if has(board.RecessKey) {
		for _, c := range l.shaped.Cavities {
			_, _, depth := c.Floor()
			m.Made = append(m.Made, rescue.Made{
				Name: c.Name(l.shaped.Design.Recesses), Ring: traced(l.onWood(c.Rim)), Depth: depth,
				Under: c.Recess.Under != place.Flip,
			})
		}
	}
	next.Mishaps = append(slices.Clip(next.Mishaps), m)
	if ps := next.Check(""); len(ps) > 0 {
		return Board{}, ps
	}
	return next, nil
}

// atTheSaw tells of a board whose outline was being sawn when something went wrong.
func (l *laid) atTheSaw(step string, at time.Time, kind string) bool {
	of, _ := rescue.KindOf(kind)
	return plan.Follow(l.logBy(at), board.OutlineKey, at).State != plan.ToDo || step == board.OutlineKey && of.Sawing
}

// logBy is what was done on the board by a moment.
func (l *laid) logBy(at time.Time) []plan.Entry {
	return slices.DeleteFunc(l.log(), func(e plan.Entry) bool { return e.At.After(at) })
}

// offCentre is the kind of a hole that was bored beside its place: it is drawn from then on where it was bored.
const offCentre = "offcentre"

// nearestHole is the hole whose middle is nearest to a place; -1 where none is within reach.
func (l *laid) nearestHole(p geom.Point) int {
	const reach = 40 // mm
	best, at := float64(reach), -1
	for i, h := range l.shaped.Holes {
		if d := h.Centroid().Sub(p).Len(); d < best {
			best, at = d, i
		}
	}
	return at
}

// boredAt is the design with one of its holes about a place.
func (l *laid) boredAt(i int, p geom.Point) board.Design {
	d := l.board.Design
	d.More = slices.Clone(d.More)
	h := throughHandle(&d, i)
	by := p.Sub(l.shaped.Holes[i].Centroid())
	if !h.Far {
		by.X = -by.X
	}
	h.Setback, h.Offset = hundredths(h.Setback+by.X), hundredths(h.Offset+by.Y)
	return d
}

// throughHandle is the handle that the i-th hole of a design is for.
func throughHandle(d *board.Design, i int) *board.Handle {
	if d.Handle.Through() {
		if i == 0 {
			return &d.Handle
		}
		i--
	}
	for k := range d.More {
		if d.More[k].Through() {
			if i == 0 {
				return &d.More[k]
			}
			i--
		}
	}
	return nil
}

// flatten is the key of the step after which a board is flat.
const flatten = "flatten"

// traced is an outline as it is kept: to a hundredth of a mm, in no more points than are kept.
func traced(r geom.Ring) geom.Ring {
	for tolerance := 0.005; ; tolerance *= 2 {
		if out := r.Simplified(tolerance); len(out) <= board.MostNodes {
			return out.Rounded(0.001)
		}
	}
}

// doneBy are the keys of its steps that were done at a moment, in the order of the work.
func (l *laid) doneBy(at time.Time) (keys []string) {
	log := l.logBy(at)
	for _, r := range l.all() {
		for _, s := range r.Steps {
			if plan.Follow(log, s.Key, at).State == plan.Done {
				keys = append(keys, s.Key)
			}
		}
	}
	return keys
}

// hurt is a scene whose slab holds what mishaps have left in it.
func hurt(s Scene) *slab.Slab {
	var gone []stock.Flaw
	for _, list := range [][]Board{s.Boards, s.Taken} {
		for _, b := range list {
			for _, m := range b.Mishaps {
				gone = append(gone, m.Gone...)
			}
		}
	}
	if s.Slab == nil || len(gone) == 0 {
		return s.Slab
	}
	out := *s.Slab
	out.Flaws = slices.Concat(out.Flaws, gone)
	return &out
}

// Spoiled reports a board that was given up after a mishap: it only takes up its wood.
func (d Board) Spoiled() bool { return slices.ContainsFunc(d.Mishaps, rescue.Mishap.Spoiled) }

// Undecided is the index of its latest mishap that is not decided; -1 without one.
func (d Board) Undecided() int {
	for i := len(d.Mishaps) - 1; i >= 0; i-- {
		if d.Mishaps[i].Out == nil {
			return i
		}
	}
	return -1
}

// mended is the record of a stage with what mishaps add to it.
func (l *laid) mended(of craft.Stage, r stage.Record) stage.Record {
	if len(l.board.Mishaps) == 0 {
		return r
	}
	if l.board.Spoiled() {
		return stage.Record{Stage: of, Figures: r.Figures}
	}
	planned, uses := r.Steps, r.Uses
	r.Steps, r.Uses = slices.Clip(r.Steps), slices.Clip(r.Uses)
	for _, m := range l.board.Mishaps {
		more := m.Steps(planned, uses, l.on.pace)
		for _, s := range more.Steps {
			if s.Stage == of {
				r.Steps = append(r.Steps, s)
			}
		}
		for _, u := range more.Uses {
			if slices.ContainsFunc(r.Steps, func(s plan.Step) bool { return s.Key == u.Step }) {
				r.Uses = append(r.Uses, u)
			}
		}
	}
	if of == craft.Shape {
		r.Verdicts = append(slices.Clip(r.Verdicts), l.afterMishaps()...)
	}
	return r
}

// mendsWhen puts the steps of each way out behind what was done when its mishap happened, and behind those of the
// mishaps before it.
func (l *laid) mendsWhen(steps []plan.Step) []plan.Step {
	earlier := func(before []rescue.Mishap, key string) bool {
		return slices.ContainsFunc(before, func(o rescue.Mishap) bool { return strings.HasPrefix(key, o.ID+"-") })
	}
	for i, m := range l.board.Mishaps {
		var mends, others []plan.Step
		at := 0
		for _, s := range steps {
			if strings.HasPrefix(s.Key, m.ID+"-") {
				mends = append(mends, s)
				continue
			}
			others = append(others, s)
			if slices.Contains(m.Done, s.Key) || earlier(l.board.Mishaps[:i], s.Key) {
				at = len(others)
			}
		}
		steps = slices.Concat(others[:at], mends, others[at:])
	}
	return steps
}

// How far an outline may reach beyond what was left, and what was made may be off, before it counts, mm.
const (
	beyondLeft = 0.1
	offMade    = 0.02
)

// afterMishaps judges whether the board can still be had from what its mishaps have left.
func (l *laid) afterMishaps() (out []craft.Verdict) {
	last := l.board.Mishaps[len(l.board.Mishaps)-1]
	if last.Sawn {
		out = append(out, l.withinLeft(last.Left))
	}
	for i, m := range last.Made {
		out = append(out, l.whereMade(i, m))
	}
	if last.Thickness > 0 && l.board.Returned == nil {
		out = append(out, l.asThick(last))
	}
	if i := l.board.Undecided(); i >= 0 {
		m := l.board.Mishaps[i]
		kind, _ := rescue.KindOf(m.Kind)
		out = append(out, craft.Verdict{
			Check: "mishap", Subject: m.ID, Stage: craft.Shape, Level: craft.Mind,
			Finding: kind.Name + ": nothing is decided yet", Reason: kind.Next,
			Figure: craft.Figure{
				Key: "shape.mishap", Stage: craft.Shape, Label: "Mishaps to decide on", Value: 1, Unit: craft.Count,
				Formula: "mishaps without a way out", Source: "what you have told of it",
			},
		})
	}
	return out
}

// withinLeft judges whether the outline lies within what was left of the board.
func (l *laid) withinLeft(left geom.Ring) craft.Verdict {
	v := craft.Verdict{
		Check: "left", Stage: craft.Shape, Level: craft.Good, Finding: "Within what is left of the board",
		Reason: "What was sawn off is not there any more.", Limit: beyondLeft,
		Figure: craft.Figure{
			Key: "shape.left", Stage: craft.Shape, Label: "Beyond what is left", Unit: craft.MM,
			Formula: "how far the outline reaches beyond the one that was sawn", Source: "the outline when it happened",
		},
	}
	index := geom.NewIndex(left)
	const dense = 2
	for _, p := range l.outline.Dense(dense) {
		if !index.Contains(p) {
			_, off := index.Nearest(p)
			v.Figure.Value = max(v.Figure.Value, off)
		}
	}
	if v.Figure.Value > beyondLeft {
		v.Level = craft.Stop
		v.Finding = craft.Length(v.Figure.Value) + " beyond what is left of the board"
	}
	return v
}

// whereMade judges whether a hole or a recess that was cut is still drawn where it is, or goes with what is cut off.
func (l *laid) whereMade(i int, m rescue.Made) craft.Verdict {
	v := craft.Verdict{
		Check: "made", Subject: fmt.Sprintf("%s %d", m.Name, i+1), Stage: craft.Shape, Level: craft.Good,
		Limit:   offMade,
		Finding: "The " + m.Name + " stays where it was cut", Reason: "What is cut cannot be moved.",
		Figure: craft.Figure{
			Key: "shape.made", Stage: craft.Shape, Label: "Drawn off where it was cut", Unit: craft.MM,
			Formula: "how far its outline as drawn strays from the one that was cut, and back",
			Source:  "the outline when it happened",
		},
	}
	ring := geom.Ring(m.Ring)
	if geom.Largest(geom.Common(l.outline, ring)).Area() < 1 { // it goes with what is cut off
		v.Finding = "The " + m.Name + " goes with what is cut off"
		return v
	}
	off := math.Inf(1)
	for _, o := range l.cutAlike(m) {
		off = min(off, astray(ring, o))
	}
	if v.Figure.Value = off; off > offMade {
		v.Level = craft.Stop
		v.Finding = "The " + m.Name + " is not drawn where it was cut"
		if math.IsInf(off, 1) {
			v.Figure.Value = math.Sqrt(ring.Area())
		}
	}
	return v
}

// cutAlike are the holes, or the recesses of a face, as they are drawn now, in the slab's frame.
func (l *laid) cutAlike(m rescue.Made) (out []geom.Ring) {
	if m.Depth == 0 {
		for _, h := range l.shaped.Holes {
			out = append(out, l.onWood(h))
		}
		return out
	}
	for _, c := range l.shaped.Cavities {
		if c.Recess.Under != l.board.Placement.Flip == m.Under {
			out = append(out, l.onWood(c.Rim))
		}
	}
	return out
}

// astray is how far two outlines stray from one another, mm: the Hausdorff distance of their points.
func astray(a, b geom.Ring) (off float64) {
	if len(a) == 0 || len(b) == 0 {
		return math.Inf(1)
	}
	for _, pair := range [][2]geom.Ring{{a, b}, {b, a}} {
		for _, p := range pair[0] {
			_, d := pair[1].Nearest(p)
			off = max(off, d)
		}
	}
	return off
}

// asThick judges whether the board is as thick as it is drawn.
func (l *laid) asThick(m rescue.Mishap) craft.Verdict {
	final, rules := l.budget().Sanded, l.on.Shop.Rules
	v := craft.Verdict{
		Check: "measured", Stage: craft.Shape, Level: craft.Good, Finding: "As thick as it was measured",
		Reason: "It cannot come out thicker than it is.", Limit: m.Thickness,
		Figure: craft.Figure{
			Key: "shape.measured", Stage: craft.Shape, Label: "Final thickness", Value: final, Unit: craft.MM,
			Formula: "the ladder from rough to sanded, against what was measured when it happened",
			Terms: []craft.Term{
				{Name: "measured then", Value: m.Thickness, Unit: craft.MM},
				{Name: "sanding, a face", Value: rules.Get(rule.SandFace), Unit: craft.MM},
			},
			Source: "your measurement",
		},
	}
	if final > m.Thickness {
		v.Level = craft.Stop
		v.Finding = craft.Length(final) + " is drawn, and only " + craft.Length(m.Thickness) + " is there"
		v.Remedies = []craft.Remedy{{
			Label: "Make it as thin as it is",
			Patch: craft.Patch{"design": map[string]any{"thickness": thinner(m.Thickness)}},
		}}
	}
	return v
}

// thinner is a thickness of which a little is left to be sanded, mm.
func thinner(measured float64) float64 { return math.Floor((measured-rescue.Cleaned)*10) / 10 }

// asSawn is a design whose outline is a ring, in its frame: holes and recesses stay as they are drawn.
func asSawn(d board.Design, ring geom.Ring) board.Design {
	d.AsCut = board.NodesOf(traced(ring), 0)
	return d
}
