package reckon

import (
	"math"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/layout"
	"idletimber/craft/stock"
)

// Clean is the biggest board of a shape that fits around the flaws of a slab
// and what is laid on it.
type Clean struct {
	Placement geom.Placement `json:"placement"`
	Design    board.Design   `json:"design"`
	Path      string         `json:"path"`
	Area      float64        `json:"area" doc:"mm²"`
}

// least and most are between which sizes a clean board is looked for, as shares
// of the board as drawn; finely is how finely.
const (
	leastShare  = 0.1
	mostShare   = 8
	finely      = 0.004
	coarseSteps = 60 // along the slab
)

// BiggestRequest is the board that is looked for.
type BiggestRequest struct {
	Board Board
	Free  bool        // its length and width need not keep their ratio
	Spot  *geom.Point // that it must cover; anywhere without one
}

// Biggest finds the largest board of a shape, in its proportions, that fits around
// flaws and boards at a spot, which it must cover, or anywhere. A soft rectangle
// whose proportions are free may be as long as it likes. It fails as
// Reckon does, or says that there is no room.
func Biggest(s Scene, ask BiggestRequest) (Clean, error) {
	d := ask.Board
	if ps := d.Check("board"); len(ps) > 0 {
		return Clean{}, ps
	}
	if d.Design.Shape == board.Plank || d.Design.Shape == board.Free {
		return Clean{}, craft.Problems{{
			Field: "board.design.shape", Wrong: "its size is not told by a length and a width",
			Right: "choose a shape that is",
		}}
	}
	b, err := drawOn(s)
	if err != nil {
		return Clean{}, err
	}
	best := b.room(b.neighbours(-1), d.Cut.Apart(s.Shop.Rules)).
		biggest(d.Design, ask.Free, ask.Spot, coarseSteps)
	if err := s.Watch.Ask(); err != nil { // what it broke off is no answer
		return Clean{}, err
	}
	if best.Area == 0 {
		return best, craft.Problems{{
			Field: "spot", Wrong: "there is no clean wood for it here",
			Right: "choose another spot, or mark that its flaws may be filled",
		}}
	}
	return best, nil
}

// askew is by how many degrees a free rectangle may be tilted from the grain: as
// much as the grain along a handle may be (rule).
const askew = 10

// rectangle is the largest board of free proportions; its area is 0 where there is
// none. Rounded corners let it grow a little more.
func (room room) rectangle(d board.Design, spot *geom.Point) Clean {
	in := geom.Room{Sheet: room.sheet.Ring}
	for _, h := range room.holes {
		in.Holes = append(in.Holes, h.Ring)
	}
	r := in.Largest(askew, spot)
	const least = 10 // mm
	if min(r.Length, r.Width) < least {
		return Clean{}
	}
	down := func(v float64) float64 { return math.Floor(v*10) / 10 }
	d.Length, d.Width = down(r.Length), down(r.Width)
	d.Corner = min(d.Corner, min(d.Length, d.Width)/3)
	b := Board{Placement: r.At, Design: d}
	if d.Corner > 0 {
		b = stretch(
			b,
			d.Length*1.3,
			d.Width*1.3,
			func(b Board) bool { return room.holds(outlineOf(b.Design).Map(b.Placement.Out)) },
		)
	}
	s := board.Draw(b.Design, nil)
	return Clean{b.Placement, b.Design, s.Path.ToSVG(), s.Outline.Area()}
}

// biggest looks for the largest board of a design, from so many places along
// the room and then ever finer; its area is 0 where there is none.
func (room room) biggest(d board.Design, free bool, spot *geom.Point, steps float64) Clean {
	if free && d.Shape == board.Rectangle {
		return room.rectangle(d, spot)
	}
	best := Clean{}
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
		share := leastShare
		if best.Area > 0 {
			share = math.Sqrt(best.Area/max(1, outlineOf(scaled(d, 1, ratio)).Area())) * (1 + finely)
		}
		fits := func(share float64) (Clean, bool) {
			at := geom.Placement{X: c.X, Y: c.Y, Angle: angle}
			design := scaled(d, share, ratio)
			outline := outlineOf(design)
			ring := outline.Map(at.Out)
			if spot != nil && !ring.Contains(*spot) || !room.holds(ring) {
				return Clean{}, false
			}
			return Clean{Placement: at, Design: design, Area: outline.Area()}, true
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
		best = found
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
	box := room.sheet.Bounds()
	from, to := geom.Point{X: box.MinX, Y: box.MinY}, geom.Point{X: box.MaxX, Y: box.MaxY}
	step := (box.MaxX - box.MinX) / steps
	for round := range 4 {
		for _, ratio := range ratios {
			for _, angle := range angles {
				for x := from.X; x <= to.X; x += step {
					if room.watch.Ask() != nil {
						return Clean{}
					}
					for y := from.Y; y <= to.Y; y += step {
						try(geom.Point{X: x, Y: y}, angle, ratio)
					}
				}
			}
		}
		if best.Area == 0 {
			break
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
	if best.Area == 0 {
		return best
	}
	b := Board{Placement: best.Placement, Design: best.Design}
	if free {
		b = stretch(
			b,
			b.Design.Length*1.3,
			b.Design.Width*1.3,
			func(b Board) bool { return room.holds(outlineOf(b.Design).Map(b.Placement.Out)) },
		)
	}
	s := board.Draw(b.Design, nil)
	return Clean{b.Placement, b.Design, s.Path.ToSVG(), s.Outline.Area()}
}

// outlineOf is a design's outline; a plain rectangle's is quicker to have.
func outlineOf(d board.Design) geom.Ring {
	if d.Shape == board.Rectangle && d.Corner == 0 {
		return geom.Bounds{MinX: -d.Length / 2, MaxX: d.Length / 2, MinY: -d.Width / 2, MaxY: d.Width / 2}.Ring()
	}
	return board.Draw(d, nil).Outline
}

// scaled is a design at another size, with another ratio of length to width.
func scaled(d board.Design, share, ratio float64) board.Design {
	down := func(v float64) float64 { return math.Floor(v*10) / 10 }
	d.Length, d.Width = down(d.Length*share*math.Sqrt(ratio)), down(d.Width*share/math.Sqrt(ratio))
	least := min(d.Length, d.Width)
	d.Corner = min(d.Corner, least/3)
	d.Neck, d.NeckLength = min(d.Neck, d.Width), min(d.NeckLength, d.Length/2)
	d.Shoulder, d.Tip = min(d.Shoulder, least/4), min(d.Tip, least/6)
	return d
}

// room tells whether a ring lies on clean wood.
type room struct {
	sheet geom.Index
	holes []geom.Index
	watch craft.Watch
}

// room is the clean wood of a slab: short of its ends, clear of what is laid and of
// every flaw that a board had better not hold.
func (b *drawn) room(around []layout.Neighbour, apart float64) room {
	r := room{sheet: geom.NewIndex(b.sheet()), watch: b.Watch}
	for _, n := range around {
		r.holes = append(
			r.holes,
			geom.NewIndex(n.Outline.Outset(max(apart, n.Cut.Apart(b.Shop.Rules))).Dense(3)),
		)
	}
	return r.clearOf(b.wood.Flaws)
}

// clearOf is the room without the flaws that clean wood does not hold.
func (r room) clearOf(flaws []stock.Flaw) room {
	for _, print := range prints(flaws, func(f stock.Flaw) bool { return !f.Clean() }) {
		r.holes = append(r.holes, geom.NewIndex(print.Dense(3)))
	}
	return r
}

// place finds a place for an outline as it is, along the grain.
func (r room) place(outline geom.Ring) (geom.Placement, bool) {
	const step = 5 // mm
	box, own := r.sheet.Bounds(), outline.Bounds()
	for _, angle := range []float64{0, 180} {
		for x := box.MinX - own.MinX; x <= box.MaxX-own.MaxX; x += step {
			for y := box.MinY - own.MinY; y <= box.MaxY-own.MaxY; y += step {
				at := geom.Placement{X: x, Y: y, Angle: angle}
				if r.holds(outline.Map(at.Out)) {
					return at, true
				}
			}
		}
		own = geom.Bounds{MinX: -own.MaxX, MinY: -own.MaxY, MaxX: -own.MinX, MaxY: -own.MinY}
	}
	return geom.Placement{}, false
}

func (r room) holds(ring geom.Ring) bool {
	dense := ring.Dense(5)
	for _, stride := range []int{9, 1} { // a few points tell most misfits
		for i := 0; i < len(dense); i += stride {
			if !r.sheet.Contains(dense[i]) {
				return false
			}
		}
	}
	box := ring.Bounds()
	for _, h := range r.holes {
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
