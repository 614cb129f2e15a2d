package rescue

import (
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
const places = 24

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
		other := line.Map(geom.Placement{Flip: true}.Out)
		line = geom.Largest(geom.Common(line, other))
	}
	return line, ok && l.room().Keeps(line)
}

// Angled is the most of the outline that one straight cut across it leaves in one piece, [Beyond] clear of what is gone
// and with all that is kept: from square to so many degrees askew, at whichever end. It is not ok where no such cut
// leaves any.
func (l Left) Angled(most float64) (best geom.Ring, degrees float64, ok bool) {
	const by = 0.25 // degrees
	var gone []geom.Ring
	for _, g := range l.Gone {
		gone = append(gone, geom.Common(l.Outline, g.Grown(Beyond))...)
	}
	if len(gone) == 0 {
		return nil, 0, false
	}
	room := l.room()
	for _, end := range []float64{0, 180} { // what goes lies far from the handle, or near it
		for a := -most; a <= most; a += by {
			half := l.short(gone, a+end)
			ring := geom.Clip(l.Outline, half)
			if best != nil && ring.Area() <= best.Area() {
				continue
			}
			ring = geom.Largest(geom.Common(l.Outline, half)) // where it falls apart, the larger part
			if len(ring) > 2 && room.Keeps(ring) && (best == nil || ring.Area() > best.Area()) {
				best, degrees = ring, a
			}
		}
	}
	return best, degrees, best != nil
}

// Centred is the outline made alike on both sides of the middle of a hole, so that it stands in the middle of its
// width.
func (l Left) Centred(hole geom.Ring) (geom.Ring, bool) {
	y := hole.Centroid().Y
	other := l.Outline.Map(func(p geom.Point) geom.Point { return geom.Point{X: p.X, Y: 2*y - p.Y} })
	return l.kept(geom.Largest(geom.Common(l.Outline, other)))
}

// About is the outline whose end runs about a hole at a set web, and goes over into the board in curves of no less than
// a radius: as far from the end as it must to be [Beyond] clear of what is gone.
func (l Left) About(hole geom.Ring, web, radius float64) (geom.Ring, bool) {
	const by = 4 // mm
	at := geom.Placement{}
	if hole.Centroid().X < 0 {
		at.Angle = 180
	}
	outline, hole := l.Outline.Map(at.In), hole.Map(at.In)
	head := hole.Grown(web)
	box, end := outline.Bounds(), head.Bounds()
	middle := hole.Centroid().X
	for shoulder := middle; shoulder > box.MinX+radius; shoulder -= by {
		body := geom.Clip(outline, geom.Bounds{
			MinX: box.MinX - 1, MaxX: shoulder, MinY: box.MinY - 1, MaxY: box.MaxY + 1,
		}.Ring())
		neck := geom.Bounds{MinX: shoulder - radius, MaxX: middle, MinY: end.MinY, MaxY: end.MaxY}.Ring()
		ring := joined(body, neck, head)
		if len(ring) < 3 {
			return nil, false
		}
		ring = geom.Largest(geom.Common(outline, ring.Grown(radius).Shrunk(radius)))
		if out := ring.Map(at.Out); len(out) > 2 && l.clear(out) {
			return l.kept(out)
		}
	}
	return nil, false
}

// joined is the outline round all of some rings that touch.
func joined(all ...geom.Ring) geom.Ring {
	out := all[0]
	for _, r := range all[1:] {
		if len(out) < 3 || len(r) < 3 {
			return nil
		}
		out = geom.Largest(geom.Joined(out, r))
	}
	return out
}

// clear tells whether a ring holds nothing of what is gone, nor what lies close to it.
func (l Left) clear(ring geom.Ring) bool {
	for _, g := range l.Gone {
		if geom.Largest(geom.Common(ring, g.Grown(Beyond*0.9))).Area() > crumb {
			return false
		}
	}
	return true
}

// kept is a ring that holds nothing of what is gone and all that is kept.
func (l Left) kept(ring geom.Ring) (geom.Ring, bool) {
	return ring, len(ring) > 2 && l.clear(ring) && l.room().Keeps(ring)
}

// short is all that lies short of what is gone, seen in a direction, as a rectangle about the board.
func (l Left) short(gone []geom.Ring, degrees float64) geom.Ring {
	at := geom.Placement{Angle: degrees}
	wide := 2 * l.Outline.Bounds().Diagonal()
	reach := wide
	for _, g := range gone {
		for _, p := range g {
			reach = min(reach, at.In(p).X)
		}
	}
	return geom.Bounds{MinX: -wide, MaxX: reach, MinY: -wide, MaxY: wide}.Ring().Map(at.Out)
}

// room is what is left as a room for boards.
func (l Left) room() clean.Room {
	room := clean.Room{Sheet: geom.NewIndex(l.Outline), Kept: l.Kept}
	for _, g := range l.Gone {
		room.Holes = append(room.Holes, geom.NewIndex(g.Grown(Beyond).Dense(2)))
	}
	return room
}
