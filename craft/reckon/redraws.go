package reckon

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/clean"
	"idletimber/craft/geom"
	"idletimber/craft/rescue"
	"idletimber/craft/stock"
)

// line tries the board with a line that is drawn anew: what is made stays, what is broken goes, the rest moves with its
// end.
func (r *rescuer) line(
	key string, way rescue.Way, label string, ring geom.Ring, look float64, judges []string, gives ...string,
) {
	next := r.outlined(way, label, ring)
	gives = append(gives, r.less(ring)...)
	r.try(key, next, look, judges, append(gives, r.lostNames()...)...)
}

// less tells how much of its face a line takes off a board, where that is worth telling.
func (r *rescuer) less(ring geom.Ring) []string {
	const percent, least = 100, 0.5
	less := percent * (1 - ring.Area()/r.left.Outline.Area())
	if less < least {
		return nil
	}
	return []string{fmt.Sprintf("%.0f %% of its face", less)}
}

// newLine is the work of drawing a line on a board that is sawn already.
func (r *rescuer) newLine() []rescue.Work {
	if !r.m.Sawn {
		return nil
	}
	return []rescue.Work{{Key: rescue.NewLine}}
}

// outlined is a board with a line of its own.
func (r *rescuer) outlined(way rescue.Way, label string, ring geom.Ring) Board {
	next := r.out(way, label, r.newLine()...)
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
	if r.kind.Tries(rescue.Redraw) || r.kind.Tries(rescue.Regrip) {
		r.takenOut()
	}
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
			if h.Far != r.l.board.Design.Handle.Far {
				where = "at the other end"
			}
			if h.Turn != r.l.board.Design.Handle.Turn && h.Kind == board.Slotted {
				where = "turned, " + where
			}
			m := &next.Mishaps[r.at]
			m.Out.Label = craft.Capital(h.Name()) + " " + where
			if r.has(board.BoreKey) {
				m.Out.Works = append(m.Out.Works, rescue.Work{Key: rescue.BoredOut, Amount: 1})
			}
			key := fmt.Sprintf("grip-%d-%s-%v-%.0f", k+1, h.Kind, h.Far, h.Turn)
			if r.try(key, next, plainer, anybody, r.lostNames()...) != nil {
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
		if same.Kind == board.Slotted {
			same.Turn = 90 - same.Turn
			out = append(out, same)
		}
	}
	return out
}

// takenOut moves a hole that is not cut yet to where it takes out all that is gone.
func (r *rescuer) takenOut() {
	const hair = 0.3 // mm
	if len(r.gone) == 0 || len(r.m.Made) > 0 {
		return
	}
	var all geom.Ring
	for _, g := range r.gone {
		all = append(all, g...)
	}
	box := all.Bounds()
	to := geom.Point{X: (box.MinX + box.MaxX) / 2, Y: (box.MinY + box.MaxY) / 2}
	for i, hole := range r.l.shaped.Holes {
		by := to.Sub(hole.Centroid())
		there := hole.Map(by.Add)
		if slices.ContainsFunc(all, func(p geom.Point) bool {
			_, off := there.Nearest(p)
			return !there.Contains(p) || off < hair
		}) {
			continue
		}
		next := r.out(rescue.Regrip, "Move the "+r.l.shaped.Handles[i].Name()+": it takes it out")
		next.Design = r.l.boredAt(i, to)
		r.wished(&next, stock.Featured)
		r.try(fmt.Sprintf("taken-out-%d", i+1), next, hardly, anybody)
	}
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
		laid clean.Laid
		ok   bool
	}
	found := make([]drawing, len(kinds))
	look := func(from int) {
		for i := from; i < len(kinds); i += 2 {
			laid, ok := room.Redraw(kindOf(own, kinds[i]), false, r.work.on.Watch)
			found[i] = drawing{laid, ok}
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
		r.redraw("redraw-"+strings.ReplaceAll(string(kinds[i]), " ", "-"), label, f.laid, likeness)
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
func (r *rescuer) redraw(key, label string, found clean.Laid, look float64) {
	ring := found.Outline()
	if len(r.m.Made) > 0 {
		r.line(key, rescue.Redraw, label, ring, look, anybody)
		return
	}
	next := r.out(rescue.Redraw, label, r.newLine()...)
	p := next.Placement.Of(found.Placement)
	p.X, p.Y, p.Angle = hundredths(p.X), hundredths(p.Y), hundredths(math.Remainder(p.Angle, 360))
	next.Placement, next.Design, next.Twin = p, found.Design, nil
	r.sawnAgain(&next, ring)
	var gives []string
	if r.m.Sawn {
		gives = r.less(ring)
	}
	if r.try(key, next, look, anybody, gives...) != nil || len(next.Design.Recesses)+len(next.Design.Handles()) == 0 {
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
