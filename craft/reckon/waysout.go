package reckon

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/clean"
	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/rescue"
	"idletimber/craft/sanding"
	"idletimber/craft/slab"
	"idletimber/craft/stage"
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
	case key == "outline" || key == "trim":
		return s.outline
	case key == "edges" || key == "ease" || key == "finger-bevel":
		return s.edges
	case begins(sanding.SandKey(0)[:len(sanding.SandKey(0))-1]):
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

// inPlace are ways that leave the board as it is drawn: the hole where it was bored, what is done again, what waits.
func (r *rescuer) inPlace() {
	if r.kind.Key == offCentre {
		r.asBored()
	}
	done := func(prefix string) bool {
		return slices.ContainsFunc(r.m.Done, func(key string) bool { return strings.HasPrefix(key, prefix) })
	}
	var last float64
	for _, key := range r.m.Done {
		if strings.HasPrefix(key, "sand-") {
			last++
		}
	}
	grits := func(n float64, share float64) func(string) float64 { // the last few that were done
		seen := 0.0
		return func(key string) float64 {
			if strings.HasPrefix(key, "sand-") {
				if seen++; seen > last-n {
					return share
				}
			}
			return shares{coats: 1}.of(key)
		}
	}
	if r.kind.Tries(rescue.StepBack) {
		switch r.kind.Key {
		case "furry":
			next := r.out(rescue.StepBack, "Rub it with the last grit, then its coats again")
			r.mended(&next)
			r.again(&next, grits(1, 0.4))
			r.try("step-back", next, unseen, anybody)
		case "scratch":
			next := r.out(rescue.StepBack, "Back two grits, then its coats again")
			r.mended(&next)
			r.again(&next, grits(2, 0.5))
			r.try("step-back", next, unseen, anybody)
		case "blotch":
			next := r.out(
				rescue.StepBack,
				"Sand it back two grits, then its coats again",
				rescue.Work{Key: rescue.Spirits},
			)
			r.mended(&next)
			r.again(&next, grits(2, 0.8))
			r.try("step-back", next, unseen, anybody)
		case "sweat":
			next := r.out(rescue.StepBack, "Wipe the wax off warm, buff it cold", rescue.Work{Key: rescue.Buffed})
			r.try("step-back", next, unseen, anybody)
		case "dropped":
			next := r.out(rescue.StepBack, "Lift the dent, then the last grits again",
				rescue.Work{Key: rescue.Lifted, Amount: 1})
			r.mended(&next)
			r.again(&next, grits(2, 0.3))
			r.try("step-back", next, unseen, anybody)
		}
	}
	if r.kind.Tries(rescue.Wait) {
		switch r.kind.Key {
		case "soft":
			next := r.out(rescue.Wait, "Keep it at {25 °C} for two days", rescue.Work{Key: rescue.WarmRest, Amount: 2})
			r.try("wait", next, unseen, anybody)
		case "cupped":
			const fortnight = 14
			next := r.out(rescue.Wait, "Let it rest on edge for a fortnight",
				rescue.Work{Key: rescue.Rested, Amount: fortnight})
			r.try("wait", next, unseen, anybody)
		default:
			next := r.out(
				rescue.Wait,
				"Leave it for three days, and look again",
				rescue.Work{Key: rescue.Rested, Amount: 3},
			)
			r.mended(&next)
			r.try("wait", next, hardly, noBuyer)
		}
	}
	if r.kind.Tries(rescue.Refit) {
		key := rescue.NewHole
		if r.kind.Key == "cord" {
			key = rescue.NewCord
		}
		label := map[string]string{
			rescue.NewHole: "Leave it in, a new screw beside it",
			rescue.NewCord: "A new cord, the rim of its hole rounded",
		}[key]
		r.try("refit", r.out(rescue.Refit, label, rescue.Work{Key: key, Amount: 1}), hardly, anybody)
	}
	if r.kind.Tries(rescue.Repour) && (done(fill.PourKey) || r.l.mix != nil) {
		r.pours()
	}
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
	c := hole.Centroid()
	ys := r.left.Outline.SpansAcross(c.X, nil)
	if len(ys) < 2 {
		return 0, false
	}
	low, high := slices.Min(ys), slices.Max(ys)
	off = math.Abs(c.Y - (low+high)/2)
	if geom.Gap(hole, r.left.Outline) <= near {
		return off, off > seen
	}
	return off, off > share*(high-low)
}

// mends are ways that put wood, or something like it, where it is gone.
func (r *rescuer) mends() {
	area := 0.0
	for _, g := range r.gone {
		area += geom.Largest(geom.Common(g, r.left.Outline)).Area() / 100
	}
	if r.kind.Tries(rescue.Patch) && len(r.gone) > 0 {
		next := r.out(rescue.Patch, "Fill it")
		m := &next.Mishaps[r.at]
		m.Gone = slices.Clone(m.Gone)
		for i := range m.Gone {
			m.Gone[i].Wish = stock.Fill
		}
		r.fillAgain(&next)
		r.again(&next, func(key string) float64 { return shares{faces: 0.15, coats: 0.15}.of(key) })
		r.try("patch", next, patched, noBuyer, "It stays to be seen")
	}
	redo := shares{edges: 0.1, faces: 0.1, coats: 0.1}.of
	if r.kind.Tries(rescue.Plug) && r.plugAt(area) {
		next := r.out(
			rescue.Plug,
			"Let in a piece "+r.plugFrom(area),
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
func (r *rescuer) plugFrom(area float64) string {
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

// centreLine is how far it is from a hole to the middle of the width at its place, mm, to the left.
func (r *rescuer) centreLine(hole geom.Ring) float64 {
	c := hole.Centroid()
	ys := r.left.Outline.SpansAcross(c.X, nil)
	if len(ys) < 2 {
		return 0
	}
	return (slices.Min(ys)+slices.Max(ys))/2 - c.Y
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
	m := &next.Mishaps[r.at]
	m.Gone = slices.Clone(m.Gone)
	for i := range m.Gone {
		m.Gone[i].Wish = stock.Fill
	}
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
			if key == "recess" {
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

// line tries the board with a line that is drawn anew: what is made stays, what is broken goes, the rest moves with its
// end.
func (r *rescuer) line(
	key string, way rescue.Way, label string, ring geom.Ring, look float64, judges []string, gives ...string,
) {
	next := r.outlined(way, label, ring)
	const percent = 100
	if less := percent * (1 - ring.Area()/r.left.Outline.Area()); less >= 0.5 {
		gives = append(gives, fmt.Sprintf("%.0f %% of its face", less))
	}
	r.try(key, next, look, judges, append(gives, r.lostNames()...)...)
}

// outlined is a board with a line of its own.
func (r *rescuer) outlined(way rescue.Way, label string, ring geom.Ring) Board {
	var works []rescue.Work
	if r.m.Sawn {
		works = append(works, rescue.Work{Key: rescue.NewLine})
	}
	next := r.out(way, label, works...)
	datum := r.l.shaped.Datum.Bounds()
	next.Design, next.Twin = r.unbroken(asSawn(next.Design, ring)), nil
	m := &next.Mishaps[r.at]
	m.Made = r.whole()
	r.shifted(&next.Design, datum, ring.Bounds())
	r.sawnAgain(&next, ring)
	return next
}

// sawnAgain lists what is done once more along a line that is drawn anew.
func (r *rescuer) sawnAgain(next *Board, ring geom.Ring) {
	if r.m.Sawn {
		fresh := r.sawnAnew(ring)
		round := fresh * r.roundShare()
		r.again(next, shares{outline: fresh, edges: fresh, faces: round, coats: round}.of)
	}
}

// whole is what was made and is not broken.
func (r *rescuer) whole() (out []rescue.Made) {
	for i, o := range r.m.Made {
		if !r.lost[i] {
			out = append(out, o)
		}
	}
	return out
}

// lostNames names what is given up of what was made.
func (r *rescuer) lostNames() (out []string) {
	for i, o := range r.m.Made {
		if r.lost[i] {
			out = append(out, "The "+o.Name)
		}
	}
	return out
}

// unbroken is a design without the handles that are broken.
func (r *rescuer) unbroken(d board.Design) board.Design {
	d.More = slices.Clone(d.More)
	var gone []*board.Handle
	for i, h := range r.l.shaped.Holes {
		for k, o := range r.m.Made {
			if o.Depth == 0 && r.lost[k] && astray(r.seen(o.Ring), h) < 1 {
				gone = append(gone, throughHandle(&d, i))
			}
		}
	}
	for _, h := range gone {
		*h = board.Handle{Kind: board.NoHandle}
	}
	d.More = slices.DeleteFunc(d.More, func(h board.Handle) bool { return h.Kind == board.NoHandle })
	if d.Handle.Kind == board.NoHandle && len(gone) > 0 && len(d.More) > 0 {
		d.Handle, d.More = d.More[0], d.More[1:]
	}
	return d
}

// shifted moves what is not made yet with the end of the board that it is measured from.
func (r *rescuer) shifted(d *board.Design, was, now geom.Bounds) {
	if slices.ContainsFunc(r.m.Made, func(o rescue.Made) bool { return o.Depth == 0 }) {
		return // what is bored stays
	}
	shift := func(h *board.Handle) {
		by := was.MaxX - now.MaxX
		if h.Far {
			by = now.MinX - was.MinX
		}
		h.Setback = max(2, hundredths(h.Setback+by))
	}
	if d.Handle.Kind != board.NoHandle {
		shift(&d.Handle)
	}
	d.More = slices.Clone(d.More)
	for i := range d.More {
		shift(&d.More[i])
	}
}

// lines are the outline drawn anew about what is gone.
func (r *rescuer) lines() {
	if len(r.left.Gone) == 0 || !r.kind.Tries(rescue.FairLine) && !r.kind.Tries(rescue.AngledEnd) &&
		!r.kind.Tries(rescue.Regrip) {
		return
	}
	if r.kind.Tries(rescue.FairLine) {
		for _, mirrored := range []bool{false, true} {
			r.fair("", "A new line, bent from sound wood to sound wood", plainer, mirrored, battens...)
			r.fair("-gentle", "A new line in a gentle bend", hardly, mirrored, gentle)
		}
	}
	if r.kind.Tries(rescue.AngledEnd) || r.kind.Tries(rescue.Regrip) {
		const most = 30 // degrees
		if ring, degrees, ok := r.left.Angled(most); ok {
			label, look := "Cut it off square", plainer
			if math.Abs(degrees) > 0.5 {
				label, look = fmt.Sprintf("Cut it off askew, at %.0f°", math.Abs(degrees)), askewLook
			}
			r.best = append(r.best, ring)
			r.line("angled", rescue.AngledEnd, label, ring, look, anybody)
		}
	}
}

// fair tries a line that is bent anew, of the first radius that can be, mm; with the other side alike it looks better.
func (r *rescuer) fair(kind, label string, look float64, mirrored bool, radii ...float64) {
	for _, radius := range radii {
		ring, ok := r.left.Fair(radius, mirrored)
		if !ok {
			continue
		}
		key := "fair" + kind
		if mirrored {
			key, label, look = key+"-mirrored", label+", the other side alike", look+alikeLook
		}
		r.best = append(r.best, ring)
		r.line(key, rescue.FairLine, label, ring, look, anybody)
		return
	}
}

// battens are how tightly a batten bends at the most, the stiffest first, and how a gentle line bends, mm.
var battens = []float64{60, 30}

const gentle = 300

// grips are handles moved, turned, of another kind, and an outline at a set web about a hole.
func (r *rescuer) grips() {
	if !r.kind.Tries(rescue.Regrip) {
		return
	}
	web := board.SetWeb(*r.l.conditions())
	for i, o := range r.m.Made {
		if o.Depth > 0 || r.lost[i] {
			continue
		}
		if ring, ok := r.left.About(r.seen(o.Ring), web, battens[len(battens)-1]); ok {
			r.line(fmt.Sprintf("about-%d", i+1), rescue.Regrip, "Its end follows the "+o.Name+", "+craft.Length(web)+
				" of wood about it", ring, plainer, anybody)
		}
	}
	rings := slices.Clone(r.best)
	if len(r.gone) == 0 {
		return
	}
	offered := 0
	for k, ring := range rings {
		for _, h := range r.handles() {
			next := r.outlined(rescue.Regrip, "", ring)
			if next.Design.Handle.Kind != board.NoHandle {
				return // it has one that is whole
			}
			next.Design.Handle = h
			box, was := ring.Bounds(), r.l.shaped.Datum.Bounds()
			if h.Far {
				next.Design.Handle.Setback += box.MinX - was.MinX
			} else {
				next.Design.Handle.Setback += was.MaxX - box.MaxX
			}
			where := "behind the new line"
			if h.Far {
				where = "at the other end"
			}
			m := &next.Mishaps[r.at]
			m.Out.Label = craft.Capital(h.Name()) + " " + where
			if r.has("bore") {
				m.Out.Works = append(m.Out.Works, rescue.Work{Key: rescue.BoredOut, Amount: 1})
			}
			n := len(r.tried)
			r.try(fmt.Sprintf("grip-%d-%s-%v", k+1, h.Kind, h.Far), next, plainer, anybody, r.lostNames()...)
			if len(r.tried) > n && r.tried[n].Way != nil {
				if offered++; offered == mostGrips {
					return
				}
			}
		}
	}
}

// mostGrips is how many handles elsewhere are offered.
const mostGrips = 3

// handles are what a hand might take hold of instead.
func (r *rescuer) handles() (out []board.Handle) {
	was := r.l.board.Design.Handle
	if was.Kind == board.NoHandle || was.Kind == "" {
		return nil
	}
	was.Offset = 0
	for _, far := range []bool{false, true} {
		same := was
		same.Far = far != was.Far
		cord := board.Handle{Kind: board.CordHole, Diameter: 10, Setback: 22, Far: same.Far}
		out = append(out, same, cord)
	}
	return out
}

// redrawn are the shapes that a board may be redrawn to, its own first.
var redrawn = []board.Shape{
	board.Rectangle, board.Oval, board.Paddle, board.Circle, board.Teardrop, board.Bladed, board.Square, board.HalfMoon,
	board.Heart,
}

// room is what a board may be redrawn in: what is left of it, or of the slab about it while it is not sawn.
func (r *rescuer) room() rescue.Left {
	if r.m.Sawn {
		return r.left
	}
	left := r.left
	p := r.l.board.Placement
	left.Outline = r.seen(r.work.on.sheet())
	if r.has("cross-cut") {
		reach := r.l.shaped.Outline.Bounds()
		blank := r.l.cutOut()
		spare := max(0, (blank.Length()-(reach.MaxX-reach.MinX))/2)
		left.Outline = geom.Largest(geom.Common(left.Outline, geom.Bounds{
			MinX: reach.MinX - spare, MaxX: reach.MaxX + spare, MinY: reach.MinY - spare, MaxY: reach.MaxY + spare,
		}.Ring()))
	}
	left.Gone = slices.Clone(left.Gone)
	for _, n := range r.l.place.Others {
		apart := max(r.l.board.Cut.Apart(r.work.on.Shop.Rules), n.Cut.Apart(r.work.on.Shop.Rules))
		left.Gone = append(left.Gone, r.seen(n.Outline.Outset(apart)))
	}
	for _, print := range prints(r.work.on.wood.Flaws, func(f stock.Flaw) bool { return !f.Clean() }) {
		left.Gone = append(left.Gone, print.Map(p.In))
	}
	for i, g := range left.Gone {
		if g.SignedArea() < 0 {
			left.Gone[i] = g.Turned()
		}
	}
	return left
}

// redraws are the largest boards of every kind that fit in what is left, about what is made.
func (r *rescuer) redraws() {
	if !r.kind.Tries(rescue.Redraw) {
		return
	}
	room := r.room()
	own := r.l.board.Design
	own.AsCut = nil
	kinds := slices.Clone(redrawn)
	if i := slices.Index(kinds, own.Shape); i >= 0 {
		kinds = slices.Insert(slices.Delete(kinds, i, i+1), 0, own.Shape)
	}
	type drawing struct {
		of   board.Design
		laid clean.Laid
		ok   bool
	}
	found := make([]drawing, len(kinds))
	look := func(from int) {
		for i := from; i < len(kinds); i += 2 {
			d := kindOf(own, kinds[i])
			laid, ok := room.Redraw(d, false, r.work.on.Watch)
			found[i] = drawing{d, laid, ok}
		}
	}
	craft.Both(func() { look(0) }, func() { look(1) })
	for i, f := range found {
		if !f.ok {
			continue
		}
		label, likeness := "Redraw it smaller", hardly
		if kinds[i] != own.Shape {
			label, likeness = "Redraw it as "+article(string(kinds[i])), otherKind
		}
		r.redraw("redraw-"+strings.ReplaceAll(string(kinds[i]), " ", "-"), label, f.laid, likeness, rescue.Redraw)
	}
}

// article is a word with its article.
func article(word string) string {
	if strings.Contains("aeiou", word[:1]) {
		return "an " + word
	}
	return "a " + word
}

// kindOf is a design as another shape, in its own proportions where it has any.
func kindOf(d board.Design, shape board.Shape) board.Design {
	if d.Shape == shape {
		return d
	}
	d.Shape, d.Nodes, d.Half = shape, nil, false
	d.KeepLeft, d.KeepRight, d.Inset, d.FarEnd, d.HandleEnd = false, false, 0, board.End{}, board.End{}
	least := min(d.Length, d.Width)
	d.Corner = min(d.Corner, least/5)
	switch shape {
	case board.Paddle:
		d.Neck, d.NeckLength = max(40, d.Width/3.5), max(60, d.Length/4)
		d.Shoulder, d.Tip = d.Width/8, 0
	case board.Teardrop:
		d.Tip = least / 6
	case board.Bladed:
		d.Angle = 20
	case board.Heart:
		d.Tip, d.Shoulder = least/8, least/8
	case board.Circle, board.Square:
		d.Length, d.Width = least, least
	}
	return d
}

// redraw tries a board that was found in what is left: where something is made its outline is drawn about it, else it
// is a board of its own size and place.
func (r *rescuer) redraw(key, label string, found clean.Laid, look float64, way rescue.Way) {
	ring := found.Outline()
	if len(r.m.Made) > 0 {
		r.line(key, way, label, ring, look, anybody)
		return
	}
	var works []rescue.Work
	if r.m.Sawn {
		works = append(works, rescue.Work{Key: rescue.NewLine})
	}
	next := r.out(way, label, works...)
	p := next.Placement.Of(found.Placement)
	p.X, p.Y, p.Angle = hundredths(p.X), hundredths(p.Y), hundredths(math.Remainder(p.Angle, 360))
	next.Placement, next.Design, next.Twin = p, found.Design, nil
	r.sawnAgain(&next, ring)
	const percent = 100
	var gives []string
	if less := percent * (1 - ring.Area()/r.left.Outline.Area()); r.m.Sawn && less >= 0.5 {
		gives = append(gives, fmt.Sprintf("%.0f %% of its face", less))
	}
	n := len(r.tried)
	r.try(key, next, look, anybody, gives...)
	if len(r.tried) > n && r.tried[n].Way != nil || len(next.Design.Recesses)+len(next.Design.Handles()) == 0 {
		return
	}
	// What is not made yet may be left out.
	next.Mishaps = slices.Clone(next.Mishaps)
	next.Design.Recesses, next.Design.More = nil, nil
	next.Design.Handle = board.Handle{Kind: board.NoHandle}
	made := *next.Mishaps[r.at].Out
	made.Label += ", plain"
	next.Mishaps[r.at].Out = &made
	r.try(key+"-plain", next, look*plainer, anybody, append(gives, "Its handle and what is sunk into it")...)
}

// lesser are other uses of what is left.
func (r *rescuer) lesser() {
	if len(r.gone) > 0 && r.l.board.Give.Whom != board.Own {
		next := r.out(rescue.Demote, "Fill it, and keep it for yourself")
		next.Give.Whom, next.Give.For, next.Give.Person, next.Give.Due = board.Own, "", "", ""
		m := &next.Mishaps[r.at]
		m.Gone = slices.Clone(m.Gone)
		for i := range m.Gone {
			m.Gone[i].Wish = stock.Fill
		}
		r.fillAgain(&next)
		n := len(r.tried)
		r.try("own", next, asLess, oneself, "The gift")
		if w := r.tried[len(r.tried)-1].Way; len(r.tried) > n && w != nil {
			w.Lost = true
		}
	}
	r.smaller()
	next := r.out(rescue.Rack, "Put its wood back on the rack")
	next.Give = Give{Use: next.Give.Use, People: next.Give.People}
	r.givenUp("rack", next, "", "", "The board, and the work in it")
}

// smaller is a small board for nibbles, of the largest that was redrawn, where much of the board is lost.
func (r *rescuer) smaller() {
	const much = 70 // % of the face
	best := r.largest
	if best == nil || best.Kept > much {
		return
	}
	next := best.next
	next.Mishaps = slices.Clone(next.Mishaps)
	made := *next.Mishaps[r.at].Out
	made.Way, made.Label = rescue.Demote, "A small board, for nibbles"
	next.Mishaps[r.at].Out = &made
	served := r.work.on.changed(next).shaped.Servings("nibbles", r.work.on.Shop.Rules).Value
	next.Give.Use, next.Give.People = "nibbles", int(max(1, served))
	r.try("small", next, asLess, anybody, "What it was to serve")
}

// givenUp is a way by which this board is given up: it is not reckoned, it only takes up its wood.
func (r *rescuer) givenUp(key string, next Board, act, on string, gives ...string) {
	l := r.work.on.changed(next)
	w := r.way(key, l, 0, anybody)
	w.Area, w.Kept, w.Worth, w.Act, w.On = 0, 0, 0, act, on
	w.Path, w.Holes, w.Breaks, w.Mind, w.Level = "", []string{}, []string{}, []string{}, craft.Good
	if act == "" { // nothing is made, and nothing is late
		w.Finish, w.Later, w.LateBy, w.Lost = nil, 0, 0, true
	}
	w.Gives = append(w.Gives, gives...)
	r.tried = append(r.tried, Tried{Way: &w})
}

// others are a spare of the run in its place, and beginning again: on what is left of the slab, or on another piece.
func (r *rescuer) others() {
	for _, s := range r.ask.Spares {
		next := r.out(rescue.Spare, s.Name+" takes its place")
		i := slices.IndexFunc(r.work.courses, func(c plan.Course) bool { return c.Subject == plan.Board(s.ID) })
		if i < 0 {
			continue
		}
		r.stood("spare-"+s.ID, next, "spare", s.ID, r.work.courses[i], 0)
	}
	if l, ok := r.elsewhere(r.work.on, Board{}); ok {
		r.begun("begin", "Begin again on the same slab", "", l, r.work)
	}
	for _, o := range r.ask.Racked {
		if r.work.on.Watch.Ask() != nil {
			return
		}
		b, err := drawOn(o.Scene)
		if err != nil || len(b.boards) == 0 {
			continue
		}
		there, ok := r.elsewhere(b, b.boards[0].board)
		if !ok {
			continue
		}
		if w, err := b.work(); err == nil {
			r.begun("begin-"+o.Piece, "Begin again on "+o.Scene.Slab.Name, o.Piece, there, w)
		}
	}
}

// elsewhere lays the board as it was planned on free wood: of this slab, or of another on which a board stands for it.
func (r *rescuer) elsewhere(b *drawn, standIn Board) (*laid, bool) {
	again := r.l.board
	again.Mishaps, again.Design.AsCut, again.Twin, again.Mates, again.Locked = nil, nil, nil, nil, false
	if again.ID = begunID; standIn.ID != "" {
		again.ID = standIn.ID
	}
	around := b.neighbours(-1)
	if standIn.ID != "" {
		around = b.neighbours(0)
	}
	at, ok := b.room(around, again.Cut.Apart(b.Shop.Rules)).Place(board.Draw(again.Design, nil).Outline)
	if !ok || again.Design.Shape == board.Plank {
		return nil, false
	}
	again.Placement = at
	l := b.lay(again, around)
	for _, rec := range l.all() {
		for _, v := range rec.Verdicts {
			if v.Level == craft.Stop {
				return nil, false
			}
		}
	}
	return l, true
}

// begunID stands for a board that is not begun yet.
const begunID = "begun"

// begun is the way by which a board is begun again as it lies there.
func (r *rescuer) begun(key, label, piece string, l *laid, w work) {
	chains := append(slices.Clone(w.chains), l.chain())
	if piece != "" {
		chains = slices.Clone(w.chains)
		chains[0] = l.chain()
	}
	courses := w.planner.Schedule(chains)
	course := courses[len(courses)-1]
	if piece != "" {
		course = courses[0]
	}
	next := r.out(rescue.Begin, label)
	next.Give = Give{Use: next.Give.Use, People: next.Give.People}
	r.stood(key, next, "begin", piece, course, course.InAll())
	if n := len(r.tried); n > 0 && r.tried[n-1].Way != nil {
		var uses []stage.Use
		for _, rec := range l.all() {
			uses = append(uses, rec.Uses...)
		}
		w := r.tried[n-1].Way
		w.Uses, w.Saves = stage.Together(uses), []stage.Use{}
		w.Patch = nil
		r.priced(w)
		w.next.Placement = l.board.Placement
	}
}

// stood is a way by which another board takes the place of this one, which is given up.
func (r *rescuer) stood(key string, next Board, act, on string, course plan.Course, minutes float64) {
	r.givenUp(key, next, act, on, "This board, and the work in it")
	w := r.tried[len(r.tried)-1].Way
	course.Due = r.before.Due
	w.Finish, w.Later, w.LateBy = course.Finish, daysLater(r.before, course), daysLate(course)
	w.Minutes, w.Work = minutes-r.before.HandsOn, course.HandsOn
	r.priced(w)
}

// Again is the board as it is begun again where a way lays it, under an id of its own.
func (w WayOut) Again(was Board, id string) Board {
	was.ID, was.Placement, was.Mishaps, was.Design.AsCut = id, w.next.Placement, nil, nil
	was.Twin, was.Mates, was.Locked = nil, nil, false
	return was
}

// Next is the board with a way out, which can be taken back: with the id of what takes its place, and that of the run
// that it leaves where it is given up.
func (w WayOut) Next(was Board, other, run string) Board {
	next := w.next
	if w.Act == "begin" {
		next.Placement = was.Placement
	}
	next.Mishaps = slices.Clone(next.Mishaps)
	i := slices.IndexFunc(next.Mishaps, func(m rescue.Mishap) bool {
		return m.Out != nil && m.Out.Label == w.Label &&
			!slices.ContainsFunc(was.Mishaps, func(o rescue.Mishap) bool {
				return o.ID == m.ID && o.Out != nil
			})
	})
	if i < 0 {
		return next
	}
	made := *next.Mishaps[i].Out
	made.Other, made.Back = other, craft.Difference(next, was)
	if next.Spoiled() {
		made.Run = run
	}
	next.Mishaps[i].Out = &made
	return next
}

// LeftOver is the largest rectangle of sound wood that is left of a scene's first board after a mishap, as a piece for
// the rack; not ok where none is worth keeping.
func LeftOver(s Scene, mishap string) (slab.Size, bool) {
	const least, thinnest = 60, 6 // mm
	b, err := drawOn(s)
	if err != nil || len(b.boards) == 0 {
		return slab.Size{}, false
	}
	l := b.boards[0]
	at := slices.IndexFunc(l.board.Mishaps, func(m rescue.Mishap) bool { return m.ID == mishap })
	if at < 0 {
		return slab.Size{}, false
	}
	r := &rescuer{l: l, m: l.board.Mishaps[at], work: work{on: b}}
	left := rescue.Left{Outline: l.shaped.Outline, Gone: append(r.prints(), l.shaped.Holes...)}
	if r.m.Sawn {
		left.Outline = r.seen(r.m.Left)
	}
	found, ok := left.Redraw(board.Design{Shape: board.Rectangle, Length: 100, Width: 60}, true, s.Watch)
	size := slab.Size{
		Name: "Left of " + l.board.Name, Stock: slab.StockPlank, Length: math.Floor(found.Design.Length),
		Width: math.Floor(found.Design.Width), Thickness: math.Floor(l.thickNow(r.m)*10) / 10,
	}
	if made := l.made(); len(made) > 0 {
		size.Species = made[0].Species.Name
	}
	return size, ok && min(size.Length, size.Width) >= least && size.Thickness >= thinnest
}

// thickNow is how thick a board was when something went wrong, mm.
func (l *laid) thickNow(m rescue.Mishap) float64 {
	switch {
	case m.Thickness > 0:
		return m.Thickness
	case slices.Contains(m.Done, flatten):
		return l.budget().Planed
	}
	return l.on.wood.Rough.Thinnest
}
