package fill

import (
	"math"
	"slices"

	"idletimber/craft/geom"
	"idletimber/craft/rule"
	"idletimber/craft/stock"
)

// bottomless is deeper than any slab; the board's other face cuts it off, mm.
const bottomless = 1e5

// region is where wood stays: within a ring, but for what is cut out of it. What is
// cut out lies within the ring and apart from each other, or within what another runs
// round.
type region struct {
	whole geom.Ring
	less  []Sunk
}

// sum adds what is measured within the ring, and takes off what is measured in what
// is cut out.
func (g region) sum(measure func(geom.Ring) float64) float64 {
	v := measure(g.whole)
	for _, k := range g.less {
		v -= measure(k.Ring)
		if len(k.Inner) > 2 {
			v += measure(k.Inner)
		}
	}
	return max(0, v)
}

// extent is what of a flaw lies within a region, on the face.
type extent struct {
	area  float64 // mm²
	count int     // of worm holes, rounded up
	whole bool    // no edge of the region meets the flaw: what of it lies within is as wide at every depth
}

func (e extent) plus(o extent) extent {
	return extent{area: e.area + o.area, count: max(e.count, o.count)}
}

func (e extent) times(k float64) extent { return extent{area: e.area * k, count: e.count} }

// finest is how often a run of levels is halved where a tilted flaw enters or
// leaves the region.
const finest = 10

// mean is the mean over the levels from a to b: halved until both ends and the
// middle agree.
func mean(level func(float64) extent, a, b float64, at, to extent, halvings int) extent {
	mid := level((a + b) / 2)
	straight := at.plus(to).times(0.5)
	if halvings == 0 ||
		math.Abs(mid.area-straight.area) < 1e-4*max(mid.area, straight.area) &&
			math.Abs(at.area-to.area) < 0.5*max(at.area, to.area, 1e-9) ||
		mid.area+straight.area == 0 {
		return straight.plus(mid).times(0.5)
	}
	return mean(level, a, (a+b)/2, at, mid, halvings-1).plus(mean(level, (a+b)/2, b, mid, to, halvings-1)).times(0.5)
}

// extentBetween is the mean extent of a flaw that goes through askew, from one share of its way to
// another.
func extentBetween(f stock.Flaw, in region, from, to float64) (e extent) {
	level := func(share float64) extent {
		at := f.At(share)
		at.Tilt = nil
		return extentOf(at, in)
	}
	const runs = 8
	step := (to - from) / runs
	before := level(from)
	for i := range runs {
		next := from + float64(i+1)*step
		after := level(next)
		e = e.plus(mean(level, next-step, next, before, after, finest).times(1.0 / runs))
		before = after
	}
	return e
}

// extentOf measures a flaw within a region; of one that goes through askew it is
// the mean over its levels.
func extentOf(f stock.Flaw, in region) (e extent) {
	if f.Tilted() {
		return extentBetween(f, in, 0, 1)
	}
	switch f.Kind {
	case stock.Crack:
		e.whole = true
		e.area = in.sum(func(r geom.Ring) float64 {
			area, clear := ribbon(f, r, 1)
			e.whole = e.whole && clear
			return area
		})
	case stock.Bark, stock.Soft, stock.Pocket, stock.Gone:
		e.area = in.sum(func(r geom.Ring) (sum float64) {
			for _, part := range geom.Common(f.Line, r) {
				sum += part.Area()
			}
			return sum
		})
	case stock.Worm:
		share := in.sum(f.Ellipse().Share)
		e.count = int(math.Ceil(float64(f.Count)*share - 1e-6))
		e.area = float64(e.count) * math.Pi / 4 * f.Diameter * f.Diameter
	default:
		e.area = math.Pi * f.A * f.B * in.sum(f.Ellipse().Share)
	}
	return e
}

// ribbon is the area of a crack within a ring, its width taken so many times, mm², and
// whether no stretch of it meets the ring. It is measured stretch by stretch: each is
// convex.
func ribbon(f stock.Flaw, r geom.Ring, wide float64) (sum float64, clear bool) {
	clear = true
	full, n := f.Footprint(), len(f.Line) // its right side back from the far end, then its left side
	left := func(i int) geom.Point { return f.Line[i].Lerp(full[n+i], wide) }
	right := func(i int) geom.Point { return f.Line[i].Lerp(full[n-1-i], wide) }
	for i := range n - 1 {
		quad := geom.Ring{right(i), right(i + 1), left(i + 1), left(i)}
		if quad.SignedArea() > 0 { // a turn sharper than the crack is wide folds it
			area, apart := shared(quad, r)
			sum, clear = sum+area, clear && apart
		}
	}
	return sum, clear
}

// shared is the area that a small convex ring shares with another, mm², and whether
// they are known not to meet.
func shared(small, r geom.Ring) (area float64, clear bool) {
	box := small.Bounds()
	if box.Apart(r.Bounds()) > 0 {
		return 0, true
	}
	mid := geom.Point{X: (box.MinX + box.MaxX) / 2, Y: (box.MinY + box.MaxY) / 2}
	if _, away := r.Nearest(mid); away > box.Diagonal()/2 {
		if r.Contains(mid) {
			return small.Area(), true
		}
		return 0, true
	}
	return geom.ClippedArea(r, small), false
}

// excess is the volume of a flaw within the region that lies deeper than h below its
// face, mm³, without regard to the board's other face. The hollow is the share of a
// pocket that is not filled with bark.
func (e extent) excess(f stock.Flaw, in region, h, hollow float64) float64 {
	depth := f.Depth
	if f.Through {
		depth = bottomless
	}
	left := max(0, depth-h)
	switch f.Kind {
	case stock.Crack:
		if !f.Slot && !f.Through && e.whole {
			return e.area * left * left / (2 * f.Depth)
		}
		if !f.Slot && !f.Through {
			return in.sum(func(r geom.Ring) float64 { return wedge(f, r, h) })
		}
	case stock.Knot:
		if f.Sound() {
			return 0
		}
		if !f.Through {
			return in.sum(func(r geom.Ring) float64 { return f.Ellipse().Bowl(r, depth, h) })
		}
	case stock.Bark, stock.Soft, stock.Pocket, stock.Gone:
		return e.area * left * hollow
	}
	return e.area * left
}

// wedge is the volume of a V-shaped crack within a ring deeper than h, mm³: its
// levels, narrower the deeper they lie, by Simpson's rule where the ring meets it.
func wedge(f stock.Flaw, r geom.Ring, h float64) (sum float64) {
	if h >= f.Depth {
		return 0
	}
	const levels = 8
	left := f.Depth - h
	if area, clear := ribbon(f, r, 1); clear {
		return area * left * left / (2 * f.Depth)
	}
	step := left / levels
	for k := range levels + 1 {
		weight := 2 + 2*float64(k%2)
		if k == 0 || k == levels {
			weight = 1
		}
		if wide := 1 - (h+float64(k)*step)/f.Depth; wide > 1e-9 {
			area, _ := ribbon(f, r, wide)
			sum += weight * area
		}
	}
	return sum * step / 3
}

// measured is what of a flaw is left to be filled.
type measured struct {
	area, volume, depth float64 // mm², ml, mm
	count               int     // of worm holes
	hollow              float64 // share of it that is not filled with bark
	worked              bool    // holes or recesses take some of it
}

// measure finds what of a flaw is left to be filled: within the outline, but for what
// is cut away with holes and recesses.
func (s Site) measure(f stock.Flaw) measured {
	m := measured{hollow: hollow(f, s)}
	holes, sunk := s.cutAway(f)
	face := region{s.Outline, append(holes, sunk...)}
	add := func(k int, in region, from, to float64) {
		e := s.extent(f, k, in)
		if f.Tilted() { // it lies elsewhere at every level
			rough := s.Thickness + 2*s.Off
			e = extentBetween(f, in, from/rough, to/rough)
		}
		v := max(0, e.excess(f, in, from, m.hollow)-e.excess(f, in, to, m.hollow)) / 1000
		if v < 1e-4 {
			return
		}
		deep := to
		if !f.Through {
			deep = min(to, f.Depth)
		}
		m.volume, m.area, m.count = m.volume+v, m.area+e.area, m.count+e.count
		m.depth = max(m.depth, deep-from)
	}
	add(0, face, s.Off, s.Off+s.Thickness)
	for i, k := range sunk {
		from, to := s.Off, s.Off+s.Thickness
		if k.Under == f.Under {
			from += k.Depth
		} else {
			to -= k.Depth
		}
		add(1+i, k.floor(), from, to)
	}
	if f.Kind == stock.Worm {
		m.count = min(m.count, f.Count)
	}
	at := f // where it opens
	at.Tilt = nil
	for i, k := range face.less {
		m.worked = m.worked || s.extent(at, -1-i, k.floor()).area > 0.01*m.area
	}
	return m
}

// extent is what of a flaw lies within the k-th region of the site, measured once.
func (s Site) extent(f stock.Flaw, k int, in region) extent {
	if s.Extents == nil {
		return extentOf(f, in)
	}
	at := within{f.ID, k}
	e, ok := s.Extents[at]
	if !ok {
		e = extentOf(f, in)
		s.Extents[at] = e
	}
	return e
}

// floor is the region of a recess itself.
func (k Sunk) floor() region {
	if len(k.Inner) > 2 {
		return region{k.Ring, []Sunk{{Ring: k.Inner}}}
	}
	return region{whole: k.Ring}
}

// cutAway lists what is cut out near a flaw: holes, and recesses that lie apart from
// them and from each other.
func (s Site) cutAway(f stock.Flaw) (holes, sunk []Sunk) {
	box := f.Bounds()
	for _, h := range s.Holes {
		if len(h) > 2 && h.Bounds().Apart(box) <= 0 {
			holes = append(holes, Sunk{Ring: h})
		}
	}
	for _, k := range s.Sunk {
		if len(k.Ring) < 3 || k.Ring.Bounds().Apart(box) > 0 {
			continue
		}
		apart := true
		for _, o := range slices.Concat(holes, sunk) {
			apart = apart && (k.Ring.Bounds().Apart(o.Ring.Bounds()) > 0 || k.around(o) || o.around(k))
		}
		if apart {
			sunk = append(sunk, k)
		}
	}
	return holes, sunk
}

// around tells whether one recess runs round another.
func (k Sunk) around(o Sunk) bool {
	if len(k.Inner) < 3 {
		return false
	}
	inner := geom.NewIndex(k.Inner)
	return !slices.ContainsFunc(o.Ring, func(p geom.Point) bool { return !inner.Contains(p) })
}

// hollow is the share of a flaw that is to be filled. A pocket is filled with bark in
// part; what is cleaned out on purpose, or runs across the board, is filled whole.
func hollow(f stock.Flaw, s Site) float64 {
	if f.Kind != stock.Bark && f.Kind != stock.Soft || f.Wish == stock.Featured || acrosses(f.Line, s.Outline) {
		return 1
	}
	return s.Rules.Get(rule.PocketFill)
}

// acrosses tells whether an area runs through an outline from side to side: the
// outline enters it at two places.
func acrosses(area, outline geom.Ring) bool {
	enters := 0
	before := area.Contains(outline[len(outline)-1])
	for i, p := range outline {
		inside := area.Contains(p)
		if from := outline[(i+len(outline)-1)%len(outline)]; !inside && !before &&
			len(geom.Within([]geom.Point{from, p}, area)) > 0 || inside && !before {
			enters++ // both ends of a side may lie outside of a narrow one
		}
		before = inside
	}
	return enters >= 2
}

// Volume in ml of the part of a flaw inside the ring (slab's frame) in a
// board t mm thick, after flattening took off mm from the flaw's face.
func Volume(f stock.Flaw, inside geom.Ring, t, off float64, rules rule.Set) float64 {
	return Site{Outline: inside, Thickness: t, Off: off, Rules: rules}.measure(f).volume
}
