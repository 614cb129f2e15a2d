package reckon

import (
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/plan"
	"idletimber/craft/rescue"
	"idletimber/craft/slab"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
)

// lesser are other uses of what is left.
func (r *rescuer) lesser() {
	if len(r.gone) > 0 && r.l.board.Give.Whom != board.Own {
		next := r.out(rescue.Demote, "Fill it, and keep it for yourself")
		next.Give.Whom, next.Give.For, next.Give.Person, next.Give.Due = board.Own, "", "", ""
		r.wished(&next, stock.Fill)
		r.fillAgain(&next)
		if w := r.try("own", next, asLess, oneself, "The gift"); w != nil {
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
func (r *rescuer) givenUp(key string, next Board, act, on string, gives ...string) *WayOut {
	l := r.work.on.changed(next)
	w := r.way(key, l, 0, anybody)
	w.Area, w.Kept, w.Worth, w.Act, w.On = 0, 0, 0, act, on
	w.Path, w.Holes, w.Breaks, w.Mind, w.Level = "", []string{}, []string{}, []string{}, craft.Good
	if act == "" { // nothing is made, and nothing is late
		w.Finish, w.Later, w.LateBy, w.Lost = nil, 0, 0, true
	}
	w.Gives = append(w.Gives, gives...)
	r.tried = append(r.tried, Tried{Way: &w})
	return &w
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
		r.begun("begin", "Begin again on the same slab", "", l)
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
		r.begun("begin-"+o.Piece, "Begin again on "+o.Scene.Slab.Name, o.Piece, there)
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
	_, stops := stopOf(l.all())
	return l, !stops
}

// begunID stands for a board that is not begun yet.
const begunID = "begun"

// begun is the way by which a board is begun again as it lies there: it takes the place of this one in the plan of all
// work.
func (r *rescuer) begun(key, label, piece string, l *laid) {
	courses := r.work.redated(0, l.chain())
	next := r.out(rescue.Begin, label)
	next.Give = Give{Use: next.Give.Use, People: next.Give.People}
	w := r.stood(key, next, "begin", piece, courses[0], courses[0].InAll())
	w.Uses, w.Saves = stage.Together(takenBy(l.all())), []stage.Use{}
	w.Breaks = r.lateThen(courses)
	r.priced(w)
	w.next.Placement = l.board.Placement
}

// stood is a way by which another board takes the place of this one, which is given up.
func (r *rescuer) stood(key string, next Board, act, on string, course plan.Course, minutes float64) *WayOut {
	w := r.givenUp(key, next, act, on, "This board, and the work in it")
	course.Due = r.before.Due
	w.Finish, w.Later, w.LateBy = course.Finish, daysLater(r.before, course), daysLate(course)
	w.Minutes, w.Work = minutes-r.before.HandsOn, course.HandsOn
	r.priced(w)
	return w
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
	next := was
	if w.Patch.Apply(&next) != nil {
		return was
	}
	i := slices.IndexFunc(next.Mishaps, func(m rescue.Mishap) bool { return m.ID == w.mishap })
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
