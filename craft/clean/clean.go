// Package clean finds wood in which a board fits: where one may lie, and how big the biggest of its kind may be.
// Lengths are in mm.
package clean

import (
	"math"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
)

// Laid is a design and where it lies.
type Laid struct {
	Placement geom.Placement
	Design    board.Design
}

// Outline is the outline of what is laid, as it lies.
func (l Laid) Outline() geom.Ring { return outlineOf(l.Design).Map(l.Placement.Out) }

// Room is wood on which an outline may lie: within a sheet, clear of holes, about all that is kept.
type Room struct {
	Sheet geom.Index
	Holes []geom.Index
	Kept  []geom.Ring // with the wood that must stay about it
	Necks bool        // the neck of a board is scaled with it
	Watch craft.Watch
}

// least and most are between which sizes a board is looked for, as shares of the board as drawn; finely is how finely.
const (
	leastShare = 0.1
	mostShare  = 8
	finely     = 0.004
)

// askew is by how many degrees a free rectangle may be tilted from the grain: as
// much as the grain along a handle may be (rule).
const askew = 10

// rectangle is the largest board of free proportions. Rounded corners let it grow a little more.
func (room Room) rectangle(d board.Design, spot *geom.Point) (Laid, bool) {
	in := geom.Room{Sheet: room.Sheet.Ring}
	for _, h := range room.Holes {
		in.Holes = append(in.Holes, h.Ring)
	}
	r := in.Largest(askew, spot)
	const least = 10 // mm
	if min(r.Length, r.Width) < least {
		return Laid{}, false
	}
	down := func(v float64) float64 { return math.Floor(v*10) / 10 }
	d.Length, d.Width = down(r.Length), down(r.Width)
	d.Corner = min(d.Corner, min(d.Length, d.Width)/3)
	l := Laid{r.At, d}
	if d.Corner > 0 {
		l = Stretch(l, d.Length*1.3, d.Width*1.3, func(l Laid) bool { return room.Holds(l.Outline()) })
	}
	return l, true
}

// Biggest looks for the largest board of a design, from so many places along the room and then ever finer: in its
// proportions, or in free ones; about a spot, or anywhere. It is not ok where there is no room.
func (room Room) Biggest(d board.Design, free bool, spot *geom.Point, steps float64) (Laid, bool) {
	if free && d.Shape == board.Rectangle && len(room.Kept) == 0 {
		return room.rectangle(d, spot)
	}
	var best Laid
	area := 0.0
	type size struct{ length, width float64 }
	drawn := map[size]geom.Ring{} // drawing takes the most time, and sizes come again at every place
	outlineOf := func(d board.Design) geom.Ring {
		key := size{d.Length, d.Width}
		if _, ok := drawn[key]; !ok {
			drawn[key] = outlineOf(d)
		}
		return drawn[key]
	}
	try := func(c geom.Point, angle, ratio float64) {
		if !room.free(c) {
			return // every shape covers its middle
		}
		share := leastShare
		if area > 0 {
			share = math.Sqrt(area/max(1, outlineOf(room.scaled(d, 1, ratio)).Area())) * (1 + finely)
		}
		at := geom.Placement{X: c.X, Y: c.Y, Angle: angle}
		var ring geom.Ring // of what fitted last
		fits := func(share float64) (Laid, bool) {
			l := Laid{at, room.scaled(d, share, ratio)}
			here := outlineOf(l.Design).Map(at.Out)
			if spot != nil && !here.Contains(*spot) || !room.Holds(here) {
				return l, false
			}
			ring = here
			return l, true
		}
		found, ok := fits(share)
		if !ok {
			return
		}
		lo, hi := share, float64(mostShare)
		for hi-lo > finely {
			mid := (lo + hi) / 2
			if mid > 2*lo { // far less likely
				mid = 1.5 * lo
			}
			if next, ok := fits(mid); ok {
				lo, found = mid, next
			} else {
				hi = mid
			}
		}
		if room.Keeps(ring) { // what is bigger keeps more
			best, area = found, ring.Area()
		}
	}
	ratios := []float64{1} // of the design's own proportions
	if free {
		ratios = ratios[:0]
		for _, ratio := range []float64{0.7, 1, 1.4, 2, 2.8, 4, 5.6, 8} { // of length to width
			ratios = append(ratios, ratio*d.Width/d.Length)
		}
	}
	angles := []float64{0}
	if len(d.Handles()) > 0 && d.Handle.Kind != "none" || d.Shape == board.Teardrop || d.Shape == board.Paddle ||
		d.Shape == board.Heart {
		angles = append(angles, 180)
	}
	box := room.Sheet.Bounds()
	from, to := geom.Point{X: box.MinX, Y: box.MinY}, geom.Point{X: box.MaxX, Y: box.MaxY}
	step := (box.MaxX - box.MinX) / steps
	for round := range 4 {
		for _, ratio := range ratios {
			for _, angle := range angles {
				for x := from.X; x <= to.X; x += step {
					if room.Watch.Ask() != nil {
						return Laid{}, false
					}
					for y := from.Y; y <= to.Y; y += step {
						try(geom.Point{X: x, Y: y}, angle, ratio)
					}
				}
			}
		}
		if area == 0 {
			return Laid{}, false
		}
		at, ratio := best.Placement, best.Design.Length/best.Design.Width/(d.Length/d.Width)
		from, to = geom.Point{X: at.X - step, Y: at.Y - step}, geom.Point{X: at.X + step, Y: at.Y + step}
		step /= 4
		if angles = []float64{at.Angle}; free {
			spread := math.Pow(1.4, 1/float64(round+1))
			ratios = []float64{
				ratio / spread,
				ratio / math.Sqrt(spread),
				ratio,
				ratio * math.Sqrt(spread),
				ratio * spread,
			}
		}
	}
	if free {
		best = Stretch(best, best.Design.Length*1.3, best.Design.Width*1.3, func(l Laid) bool {
			ring := l.Outline()
			return room.Holds(ring) && room.Keeps(ring)
		})
	}
	return best, true
}

// outlineOf is a design's outline; a plain rectangle's is quicker to have.
func outlineOf(d board.Design) geom.Ring {
	if d.Shape == board.Rectangle && d.Corner == 0 {
		return geom.Bounds{MinX: -d.Length / 2, MaxX: d.Length / 2, MinY: -d.Width / 2, MaxY: d.Width / 2}.Ring()
	}
	return board.Draw(d, nil).Outline
}

// scaled is a design at another size, with another ratio of length to width.
func (room Room) scaled(d board.Design, share, ratio float64) board.Design {
	if room.Necks {
		d.Neck, d.NeckLength, d.Shoulder, d.Tip = d.Neck*share, d.NeckLength*share, d.Shoulder*share, d.Tip*share
	}
	down := func(v float64) float64 { return math.Floor(v*10) / 10 }
	d.Length, d.Width = down(d.Length*share*math.Sqrt(ratio)), down(d.Width*share/math.Sqrt(ratio))
	least := min(d.Length, d.Width)
	d.Corner = min(d.Corner, least/3)
	d.Neck, d.NeckLength = min(d.Neck, d.Width), min(d.NeckLength, d.Length/2)
	d.Shoulder, d.Tip = min(d.Shoulder, least/4), min(d.Tip, least/6)
	return d
}

// Place finds a place for an outline as it is, along the grain.
func (r Room) Place(outline geom.Ring) (geom.Placement, bool) {
	const step = 5 // mm
	box, own := r.Sheet.Bounds(), outline.Bounds()
	for _, angle := range []float64{0, 180} {
		for x := box.MinX - own.MinX; x <= box.MaxX-own.MaxX; x += step {
			for y := box.MinY - own.MinY; y <= box.MaxY-own.MaxY; y += step {
				at := geom.Placement{X: x, Y: y, Angle: angle}
				if r.Holds(outline.Map(at.Out)) {
					return at, true
				}
			}
		}
		own = geom.Bounds{MinX: -own.MaxX, MinY: -own.MaxY, MaxX: -own.MinX, MaxY: -own.MinY}
	}
	return geom.Placement{}, false
}

// Holds tells whether a ring lies within the sheet and clear of every hole.
func (r Room) Holds(ring geom.Ring) bool {
	dense := ring.Dense(5)
	for _, stride := range []int{9, 1} { // a few points tell most misfits
		for i := 0; i < len(dense); i += stride {
			if !r.Sheet.Contains(dense[i]) {
				return false
			}
		}
	}
	box := ring.Bounds()
	for _, h := range r.Holes {
		hole := h.Bounds()
		if box.Apart(hole) > 0 {
			continue
		}
		for _, p := range h.Ring {
			if box.Depth(p) > 0 && ring.Contains(p) {
				return false
			}
		}
		for _, p := range dense {
			if hole.Depth(p) > 0 && h.Contains(p) {
				return false
			}
		}
	}
	return true
}

// free tells whether a point lies within the sheet and in no hole.
func (r Room) free(p geom.Point) bool {
	if !r.Sheet.Contains(p) {
		return false
	}
	for _, h := range r.Holes {
		if h.Bounds().Depth(p) > 0 && h.Contains(p) {
			return false
		}
	}
	return true
}

// Keeps tells whether all that is kept lies within a ring.
func (r Room) Keeps(ring geom.Ring) bool {
	for _, kept := range r.Kept {
		box := kept.Bounds()
		for _, p := range kept {
			if !ring.Contains(p) {
				return false
			}
		}
		for _, p := range ring { // a bend of it may reach in between
			if box.Depth(p) > 0 && kept.Contains(p) {
				return false
			}
		}
	}
	return true
}

// Stretch makes a board longer and then wider while it fits, about its middle or
// from either end.
func Stretch(d Laid, longest, widest float64, fits func(Laid) bool) Laid {
	grow := func(to float64, size func(*Laid) *float64, along geom.Point) {
		for step := math.Floor(to - *size(&d)); step >= 1; step = math.Floor(step / 2) {
			for _, anchor := range []float64{0, 0.5, -0.5} {
				for *size(&d)+step <= to {
					bigger := d
					*size(&bigger) += step
					q := bigger.Placement.Out(along.Scale(anchor * step))
					bigger.Placement.X, bigger.Placement.Y = q.X, q.Y
					if !fits(bigger) {
						break
					}
					d = bigger
				}
			}
		}
	}
	grow(longest, func(b *Laid) *float64 { return &b.Design.Length }, geom.Point{X: 1})
	grow(widest, func(b *Laid) *float64 { return &b.Design.Width }, geom.Point{Y: 1})
	return d
}
