package rescue

import (
	"math"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/clean"
	"idletimber/craft/geom"
)

// Left is what is left of a board, and what is made on it already.
type Left struct {
	Outline geom.Ring   // of what there was: as it was cut, or its blank
	Gone    []geom.Ring // out of that, through and through
	Kept    []geom.Ring // holes and recesses where they were cut, each with the wood that must stay about it
}

// places are how many places along what is left a board is looked for at first.
const places = 40

// Redraw is the largest board of a design, in its proportions or in free ones, in what is left, about all that is kept
// and [Beyond] clear of what is gone. It is not ok where there is none.
func (l Left) Redraw(d board.Design, free bool, watch craft.Watch) (clean.Laid, bool) {
	room := l.room()
	room.Watch = watch
	best, ok := room.Biggest(d, free, nil, places)
	if d.Shape != board.Paddle && d.Shape != board.Teardrop && d.Shape != board.Heart {
		return best, ok
	}
	room.Necks = true
	if other, found := room.Biggest(d, free, nil, places); found &&
		(!ok || other.Outline().Area() > best.Outline().Area()) {
		return other, true
	}
	return best, ok
}

// Fair is the outline drawn anew with [Refair] where parts of it are gone; mirrored, its other side follows, so that it
// is the same about the centre line again.
func (l Left) Fair(radius float64, mirrored bool) (geom.Ring, bool) {
	line, ok := Refair(l.Outline, l.Gone, radius)
	if ok && mirrored {
		line = geom.Largest(geom.Common(line, reflected(line)))
	}
	return line, ok && l.room().Keeps(line)
}

// reflected is a ring on the other side of the centre line, anticlockwise as it was.
func reflected(r geom.Ring) geom.Ring {
	out := make(geom.Ring, len(r))
	for i, p := range r {
		out[len(r)-1-i] = geom.Point{X: p.X, Y: -p.Y}
	}
	return out
}

// Angled is the most of the outline that one straight cut across it leaves, [Beyond] clear of what is gone and with all
// that is kept: from square to so many degrees askew, at whichever end. It is not ok where no such cut leaves any.
func (l Left) Angled(most float64) (best geom.Ring, degrees float64, ok bool) {
	const by = 0.25 // degrees
	for _, far := range []float64{1, -1} {
		for a := -most; a <= most; a += by {
			if ring, fits := l.cutAcross(far, a); fits && (best == nil || ring.Area() > best.Area()) {
				best, degrees = ring, a
			}
		}
	}
	return best, degrees, best != nil
}

// cutAcross is what a straight cut at the far end (1) or the near one (-1) leaves, askew by some degrees.
func (l Left) cutAcross(far, degrees float64) (geom.Ring, bool) {
	sin, cos := math.Sincos(degrees * math.Pi / 180)
	along := geom.Point{X: far * cos, Y: far * sin} // from what stays to what goes
	at := math.Inf(1)
	for _, g := range l.Gone {
		for _, part := range geom.Common(l.Outline, g.Grown(Beyond)) {
			for _, p := range part {
				at = min(at, p.X*along.X+p.Y*along.Y)
			}
		}
	}
	box := l.Outline.Bounds()
	wide := box.Diagonal() * 2
	if math.IsInf(at, 1) {
		return nil, false
	}
	origin := along.Scale(at)
	side := geom.Point{X: -along.Y, Y: along.X}.Scale(wide)
	back := origin.Sub(along.Scale(wide))
	keep := geom.Ring{origin.Sub(side), origin.Add(side), back.Add(side), back.Sub(side)}
	ring := geom.Clip(l.Outline, keep)
	if len(ring) < 3 || !l.room().Keeps(ring) {
		return nil, false
	}
	return ring, true
}

// room is what is left as a room for boards.
func (l Left) room() clean.Room {
	room := clean.Room{Sheet: geom.NewIndex(l.Outline), Kept: l.Kept}
	for _, g := range l.Gone {
		room.Holes = append(room.Holes, geom.NewIndex(g.Grown(Beyond).Dense(2)))
	}
	return room
}
