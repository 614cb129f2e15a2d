package reckon

import (
	"math"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/geom"
	"idletimber/craft/rescue"
	"idletimber/craft/sanding"
	"idletimber/craft/stock"
)

// How a board looks with a way out, against one to which nothing happened (rules of the trade).
const (
	unseen    = 1
	hardly    = 0.95
	plainer   = 0.9
	askewLook = 0.88
	otherKind = 0.85
	patched   = 0.75
	letIn     = 0.85
	gluedOn   = 0.9
	asLess    = 0.5
	alikeLook = 0.05 // more, where both sides are alike
)

// shares are on which shares of the board's surfaces work is done once more, by what has changed.
type shares struct{ outline, edges, faces, coats float64 }

// of is the share for a step of a key.
func (s shares) of(key string) float64 {
	begins := func(of string) bool { return strings.HasPrefix(key, of) }
	switch {
	case key == board.OutlineKey || key == board.TrimKey:
		return s.outline
	case key == board.EdgesKey || key == board.EaseKey || key == board.BevelKey:
		return s.edges
	case sanding.Sands(key):
		return s.faces
	case begins(finish.CoatKey), begins(finish.WipeKey), begins(finish.BuffKey), begins(finish.RubKey):
		return s.coats
	}
	return 0
}

// edgeKinds are the surfaces that go round a board.
var edgeKinds = []string{board.SawnEdges, board.EndGrain, board.Profiled, board.EasedEdge}

// roundShare is which part of the sanding of a board goes round it.
func (r *rescuer) roundShare() float64 {
	r.l.record(craft.Sand)
	edges, all := 0.0, 0.0
	for _, o := range r.l.sanding.Ladders {
		all += o.Minutes
		i := slices.IndexFunc(r.l.surfaces(), func(s board.Surface) bool { return s.Name == o.Surface })
		if i >= 0 && slices.Contains(edgeKinds, r.l.surfaces()[i].Kind) {
			edges += o.Minutes
		}
	}
	if all == 0 {
		return 0
	}
	return edges / all
}

// sawnAnew is which share of an outline is not that which was sawn.
func (r *rescuer) sawnAnew(ring geom.Ring) float64 {
	const same, dense = 0.15, 2 // mm
	was := geom.NewIndex(r.left.Outline)
	fresh, all := 0, 0
	for _, p := range ring.Dense(dense) {
		all++
		if _, off := was.Nearest(p); off > same {
			fresh++
		}
	}
	return float64(fresh) / float64(max(1, all))
}

// stepBack is how far the work goes back for a kind of mishap: the last few grits, on a share of the faces, then the
// coats that were on; work of its own before that. (rules of the trade)
type stepBack struct {
	label string
	work  string // key of it; empty for none
	grits int
	share float64
}

var stepBacks = map[string]stepBack{
	"furry":   {"Rub it with the last grit, then its coats again", "", 1, 0.4},
	"scratch": {"Back two grits, then its coats again", "", 2, 0.5},
	"blotch":  {"Sand it back two grits, then its coats again", rescue.Spirits, 2, 0.8},
	"sweat":   {"Wipe the wax off warm, buff it cold", rescue.Buffed, 0, 0},
	"dropped": {"Lift the dent, then the last grits again", rescue.Lifted, 2, 0.3},
}

// waits are what a kind of mishap is left for: at rest or warm, so many days. (rules of the trade)
var waits = map[string]struct {
	label, work string
	days, look  float64
}{
	"soft":   {"Keep it at {25 °C} for two days", rescue.WarmRest, 2, unseen},
	"cupped": {"Let it rest on edge for a fortnight", rescue.Rested, 14, unseen},
	"blotch": {"Leave it for three days, and look again", rescue.Rested, 3, hardly},
	"sweat":  {"Leave it for three days, and look again", rescue.Rested, 3, hardly},
	"hot":    {"Leave it for three days, and look again", rescue.Rested, 3, hardly},
}

// inPlace are ways that leave the board as it is drawn: the hole where it was bored, what is done again, what waits.
func (r *rescuer) inPlace() {
	if r.kind.Key == offCentre {
		r.asBored()
	}
	if r.kind.Tries(rescue.StepBack) {
		r.back(stepBacks[r.kind.Key])
	}
	if r.kind.Tries(rescue.Wait) {
		w := waits[r.kind.Key]
		next := r.out(rescue.Wait, w.label, rescue.Work{Key: w.work, Amount: w.days})
		r.mended(&next)
		judges := anybody
		if w.look < unseen {
			judges = noBuyer
		}
		r.try("wait", next, w.look, judges)
	}
	if r.kind.Tries(rescue.Refit) {
		label, work := "Leave it in, a new screw beside it", rescue.NewHole
		if r.kind.Key == "cord" {
			label, work = "A new cord, the rim of its hole rounded", rescue.NewCord
		}
		r.try("refit", r.out(rescue.Refit, label, rescue.Work{Key: work, Amount: 1}), hardly, anybody)
	}
	poured := slices.ContainsFunc(r.m.Done, func(key string) bool { return strings.HasPrefix(key, fill.PourKey) })
	if r.kind.Tries(rescue.Repour) && (poured || r.l.mix != nil) {
		r.pours()
	}
}

// back goes back some grits of those that were done, then coats again what was coated.
func (r *rescuer) back(to stepBack) {
	var works []rescue.Work
	if to.work != "" {
		works = append(works, rescue.Work{Key: to.work, Amount: 1})
	}
	next := r.out(rescue.StepBack, to.label, works...)
	r.mended(&next)
	var sanded []string
	for _, key := range r.m.Done {
		if sanding.Sands(key) {
			sanded = append(sanded, key)
		}
	}
	last := sanded[max(0, len(sanded)-to.grits):]
	r.again(&next, func(key string) float64 {
		switch {
		case slices.Contains(last, key):
			return to.share
		case to.grits > 0:
			return shares{coats: 1}.of(key)
		}
		return 0
	})
	r.try("step-back", next, unseen, anybody)
}

// pours are a pour topped up, or dug out and poured anew.
func (r *rescuer) pours() {
	pour := func(share float64) func(string) float64 {
		return func(key string) float64 {
			for _, of := range []string{fill.PourKey, fill.WatchKey} {
				if strings.HasPrefix(key, of) {
					return share
				}
			}
			if key == fill.DamKey || key == "reflatten" {
				return share
			}
			return 0
		}
	}
	switch r.kind.Key {
	case "leak", "short", "bubbles":
		const rest = 0.3 // of the pour that is poured once more (rule)
		next := r.out(rescue.Repour, "Roughen it, stop the leak, top it up", rescue.Work{Key: rescue.Roughed})
		r.mended(&next)
		r.again(&next, pour(rest))
		r.try("pour", next, hardly, anybody)
	default:
		volume := 0.0
		if r.l.mix != nil {
			volume = r.l.mix.Total.Value
		}
		next := r.out(
			rescue.Repour,
			"Dig it out and pour anew",
			rescue.Work{Key: rescue.DugOut, Amount: math.Ceil(volume)},
		)
		r.mended(&next)
		r.again(&next, pour(1))
		r.try("pour", next, unseen, anybody)
	}
}

// asBored are the ways to live with a hole that is off its centre.
func (r *rescuer) asBored() {
	hole, _, ok := r.bored()
	if !ok {
		return
	}
	off, shows := r.offCentre(hole)
	if label := "Leave it: " + craft.Length(off) + " off does not show"; !shows {
		r.try("as-bored", r.out(rescue.Regrip, label), unseen, anybody)
	} else {
		r.try("as-bored", r.out(rescue.Regrip, "Leave it where it is"), plainer, oneself,
			craft.Length(off)+" off its centre, and it shows")
	}
	if ring, ok := r.left.Centred(hole); ok {
		r.line("centred", rescue.Regrip, "Saw its sides alike about the hole", ring, unseen, anybody)
	}
}

// bored is the hole that was told of: as it is drawn, and which of the holes it is.
func (r *rescuer) bored() (hole geom.Ring, at int, ok bool) {
	for i, h := range r.l.shaped.Holes {
		if r.m.Bored != nil && h.Centroid().Sub(r.l.board.Placement.In(*r.m.Bored)).Len() < 1 {
			return h, i, true
		}
	}
	return nil, 0, false
}

// unmade is what was made but for one hole.
func (r *rescuer) unmade(hole geom.Ring) []rescue.Made {
	return slices.DeleteFunc(slices.Clone(r.m.Made), func(o rescue.Made) bool {
		return o.Depth == 0 && astray(r.seen(o.Ring), hole) < 1
	})
}

// offCentre is how far a hole lies off the middle of the width at its place, mm, and whether that shows: over 1.5 mm
// where an edge is within 30 mm, else over three hundredths of the width (rule of the trade).
func (r *rescuer) offCentre(hole geom.Ring) (off float64, shows bool) {
	const near, seen, share = 30, 1.5, 0.03
	low, high := r.across(hole)
	off = math.Abs(r.centreLine(hole))
	if geom.Gap(hole, r.left.Outline) <= near {
		return off, off > seen
	}
	return off, off > share*(high-low)
}

// centreLine is how far it is from a hole to the middle of the width at its place, mm, to the left.
func (r *rescuer) centreLine(hole geom.Ring) float64 {
	low, high := r.across(hole)
	return (low+high)/2 - hole.Centroid().Y
}

// across is from where to where the board reaches across at a hole, mm.
func (r *rescuer) across(hole geom.Ring) (low, high float64) {
	c := hole.Centroid()
	ys := append(r.left.Outline.SpansAcross(c.X, nil), c.Y)
	return slices.Min(ys), slices.Max(ys)
}

// mends are ways that put wood, or something like it, where it is gone.
func (r *rescuer) mends() {
	area := 0.0
	for _, g := range r.gone {
		area += geom.Largest(geom.Common(g, r.left.Outline)).Area() / 100
	}
	if r.kind.Tries(rescue.Patch) && len(r.gone) > 0 {
		next := r.out(rescue.Patch, "Fill it")
		r.wished(&next, stock.Fill)
		r.fillAgain(&next)
		r.again(&next, func(key string) float64 { return shares{faces: 0.15, coats: 0.15}.of(key) })
		r.try("patch", next, patched, noBuyer, "It stays to be seen")
	}
	redo := shares{edges: 0.1, faces: 0.1, coats: 0.1}.of
	if r.kind.Tries(rescue.Plug) && r.plugAt(area) {
		next := r.out(
			rescue.Plug,
			"Let in a piece "+r.plugFrom(),
			rescue.Work{Key: rescue.LetIn, Amount: math.Ceil(area)},
		)
		if r.kind.Key == offCentre {
			if next, ok := r.boredAnew(next); ok {
				r.try("plug", next, letIn, noBuyer, "A joint stays to be seen")
			}
		} else {
			r.mended(&next)
			r.again(&next, redo)
			r.try("plug", next, letIn, noBuyer, "A joint stays to be seen")
		}
	}
	if r.kind.Tries(rescue.GlueBack) {
		label, work := "Glue the piece back", rescue.Work{Key: rescue.GluedOn, Amount: 1}
		if r.kind.Key == "joint" {
			label, work = "Open the joint, glue it again", rescue.Work{Key: rescue.Opened, Amount: 1}
		}
		next := r.out(rescue.GlueBack, label, work)
		r.mended(&next)
		r.again(&next, redo)
		gives := []string{"Only where the piece is there, and closes without a gap"}
		if r.kind.Key == "joint" {
			gives = []string{"A blade's width of its breadth"}
		}
		r.try("glue-back", next, gluedOn, noBuyer, gives...)
	}
	if r.kind.Tries(rescue.Pare) {
		next := r.out(
			rescue.Pare,
			"Pare it with a chisel or a card",
			rescue.Work{Key: rescue.Pared, Amount: math.Ceil(area)},
		)
		r.mended(&next)
		r.again(&next, redo)
		look, judges := float64(hardly), noBuyer
		if r.kind.Key == "burn" { // no deeper than a card takes in a few strokes
			look, judges = unseen, anybody
		}
		r.try("pare", next, look, judges, "A shallow place that a finger finds")
	}
}

// plugAt tells whether what is gone may be let in: it is small enough for one piece.
func (r *rescuer) plugAt(area float64) bool {
	const most = 60 // cm² (rule of the trade)
	return area <= most
}

// plugFrom tells from what a piece is let in: an offcut on the rack of the same wood that is large enough, or else
// what was sawn off.
func (r *rescuer) plugFrom() string {
	long, wide := 0.0, 0.0
	for _, g := range r.gone {
		box := g.Bounds()
		long, wide = max(long, box.MaxX-box.MinX), max(wide, box.MaxY-box.MinY)
	}
	thick := r.l.budget().Planed
	for _, p := range r.ask.Plugs {
		same := slices.ContainsFunc(r.l.made(), func(o stock.Patch) bool { return o.Species.Name == p.Species })
		if same && p.Length >= long && p.Width >= wide && p.High >= thick {
			return "from " + p.Name
		}
	}
	return "from what was sawn off"
}

// fillAgain fills what is gone once the filling is over: the same steps on its share of them.
func (r *rescuer) fillAgain(next *Board) {
	l := r.work.on.changed(*next)
	mine := map[string]bool{}
	for _, f := range next.Mishaps[r.at].Gone {
		mine[f.ID] = true
	}
	volume, own := 0.0, 0.0
	for _, v := range l.voids() {
		if volume += v.Volume; mine[v.Flaw] {
			own += v.Volume
		}
	}
	if volume == 0 {
		return
	}
	share := own / volume
	for _, s := range l.record(craft.Fill).Steps {
		if r.has(s.Key) {
			o := next.Mishaps[r.at].Out
			o.Again = append(o.Again, rescue.Again{Step: s.Key, Share: math.Round(share*1000) / 1000})
		}
	}
}

// boredAnew is a board whose hole was plugged, and is bored where it was to be.
func (r *rescuer) boredAnew(next Board) (Board, bool) {
	hole, at, ok := r.bored()
	if !ok {
		return next, false
	}
	m := &next.Mishaps[r.at]
	m.Made = r.unmade(hole)
	next.Design.More = slices.Clone(next.Design.More)
	h := throughHandle(&next.Design, at)
	h.Offset = hundredths(h.Offset + r.centreLine(hole))
	m.Out.Works = append(m.Out.Works, rescue.Work{Key: rescue.BoredOut, Amount: 1})
	return next, true
}

// shallow reports a mishap all of which lies in one face, and how deep.
func (r *rescuer) shallow() (depth float64, under, ok bool) {
	if len(r.m.Gone) == 0 {
		return 0, false, false
	}
	off := 0.0
	if r.has(flatten) {
		off = max(0, r.l.budget().PerFace)
	}
	for _, f := range r.m.Gone {
		if f.Through {
			return 0, false, false
		}
		depth, under = max(depth, f.Depth-off), f.Under
	}
	return depth, under, true
}

// otherFace turns what is gone to the under face, where it is filled and not looked at.
func (r *rescuer) otherFace() {
	_, under, ok := r.shallow()
	p := r.l.board.Placement
	if !r.kind.Tries(rescue.Turn) || !ok || under != p.Flip || len(r.l.shaped.Cavities) > 0 {
		return
	}
	mirror := func(p geom.Point) geom.Point { return geom.Point{X: p.X, Y: -p.Y} }
	next := r.out(rescue.Turn, "Turn it over: what is gone lies beneath")
	next.Placement.Flip, next.Twin = !p.Flip, nil
	ring := r.l.shaped.Outline.Map(mirror)
	slices.Reverse(ring)
	if astray(ring, r.l.shaped.Outline) > offMade {
		next.Design = asSawn(next.Design, ring)
	}
	turned := func(h board.Handle) board.Handle {
		h.Offset, h.Turn, h.Right = -h.Offset, -h.Turn, !h.Right && h.Kind == board.Notch
		return h
	}
	next.Design.Handle = turned(next.Design.Handle)
	next.Design.More = slices.Clone(next.Design.More)
	for i := range next.Design.More {
		next.Design.More[i] = turned(next.Design.More[i])
	}
	r.wished(&next, stock.Fill)
	r.fillAgain(&next)
	r.try("turn", next, hardly, anybody, "The other face is the one to look at")
}

// thinner takes the board down until what is gone is planed away, or makes room for it in an edge or a recess.
func (r *rescuer) thinner() {
	depth, under, ok := r.shallow()
	final := r.l.budget().Sanded
	redo := shares{edges: 1, faces: 0.9, coats: 1}.of
	if r.kind.Wants(rescue.Thickness) && r.m.Thickness > 0 || r.kind.Key == "cupped" {
		target := thinner(r.m.Thickness)
		if r.kind.Key == "cupped" {
			target = thinner(final - r.m.Depth)
		}
		if r.kind.Tries(rescue.TakeDown) && target > 0 && target < final {
			r.down(target, final-target, redo)
		}
	} else if r.kind.Tries(rescue.TakeDown) && ok && !r.sunkInto(under) {
		r.down(thinner(final-depth), depth+rescue.Cleaned, redo)
	}
	if r.kind.Tries(rescue.Widen) && ok {
		r.wideEdge(depth)
		r.deeperRecess(depth, under)
	}
	if r.kind.Key == offCentre {
		r.widerHole()
	}
}

func (r *rescuer) down(target, off float64, redo func(string) float64) {
	var works []rescue.Work
	if r.has(flatten) {
		works = append(works, rescue.Work{Key: rescue.Planed, Amount: math.Ceil(off)})
	}
	next := r.out(rescue.TakeDown, "Take it down to "+craft.Length(target), works...)
	next.Design.Thickness = target
	r.mended(&next)
	r.again(&next, redo)
	r.try("take-down", next, unseen, anybody, craft.Length(r.l.budget().Sanded-target)+" of its thickness")
}

// sunkInto tells whether a recess was cut into a face of the slab.
func (r *rescuer) sunkInto(under bool) bool {
	return slices.ContainsFunc(r.m.Made, func(o rescue.Made) bool { return o.Depth > 0 && o.Under == under })
}

// wideEdge chamfers the edge so far that what is gone lies in it.
func (r *rescuer) wideEdge(depth float64) {
	reach := 0.0
	for _, g := range r.gone {
		for _, p := range g {
			if r.left.Outline.Contains(p) {
				_, in := r.left.Outline.Nearest(p)
				reach = max(reach, in)
			}
		}
	}
	size := math.Ceil(2*(reach+depth)) / 2
	most := r.l.budget().Sanded / 2
	if size > most || size <= 0 {
		return
	}
	next := r.out(rescue.Widen, "A chamfer of "+craft.Length(size)+" all round takes it in")
	next.Design.Edge = board.Edge{Kind: "chamfer", Size: size}
	next.Design.Edges = nil
	r.mended(&next)
	r.again(&next, shares{edges: 1, faces: r.roundShare(), coats: r.roundShare()}.of)
	r.try("wide-edge", next, hardly, anybody, "Its slimmer edge")
}

// deeperRecess sinks a recess deeper in which all of it lies.
func (r *rescuer) deeperRecess(depth float64, under bool) {
	for _, c := range r.l.shaped.Cavities {
		inside := c.Recess.Under != r.l.board.Placement.Flip == under && len(c.Rim) > 2
		for _, g := range r.gone {
			for _, p := range g {
				inside = inside && c.Rim.Contains(p)
			}
		}
		if !inside {
			continue
		}
		next := r.out(rescue.Widen, "Sink the "+c.Name(r.l.shaped.Design.Recesses)+" deeper")
		next.Design.Recesses = slices.Clone(next.Design.Recesses)
		next.Design.Recesses[c.Index].Depth = math.Ceil(2*(c.Recess.Depth+depth+rescue.Cleaned)) / 2
		m := &next.Mishaps[r.at]
		m.Made = slices.DeleteFunc(slices.Clone(m.Made), func(o rescue.Made) bool { return o.Depth > 0 })
		r.mended(&next)
		r.again(&next, func(key string) float64 {
			if key == board.RecessKey {
				return 1
			}
			return 0
		})
		r.try("deeper", next, unseen, anybody, "Some of the wood beneath it")
		return
	}
}

// widerHole bores a hole that takes in the one that is off its centre.
func (r *rescuer) widerHole() {
	hole, at, ok := r.bored()
	if !ok || r.l.shaped.Handles[at].Kind != board.Hole {
		return
	}
	off := r.centreLine(hole)
	next := r.out(rescue.Widen, "Bore it wider, about its centre", rescue.Work{Key: rescue.BoredOut, Amount: 1})
	next.Design.More = slices.Clone(next.Design.More)
	h := throughHandle(&next.Design, at)
	was := h.Diameter
	h.Offset, h.Diameter = hundredths(h.Offset+off), math.Ceil(h.Diameter+2*math.Abs(off))
	m := &next.Mishaps[r.at]
	m.Made = r.unmade(hole)
	r.try("wider-hole", next, unseen, anybody, craft.Length(h.Diameter-was)+" of wood about it")
}
