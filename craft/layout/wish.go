package layout

import (
	"fmt"
	"math"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/stock"
)

// How near a board must come to what is wished for: a crack along it and a
// streak down its middle, degrees and mm; a figure in its centre, mm.
const (
	alongWithin  = 12
	middleWithin = 6
	centreWithin = 10
)

// shows tells how a board makes a feature of a flaw that it holds; empty where
// it does not.
func (p Place) shows(s board.Shaped, f stock.Flaw) string {
	print := f.Footprint().Map(p.At.In)
	for i, hole := range s.Holes {
		within := 0
		for _, q := range print {
			if hole.Contains(q) {
				within++
			}
		}
		if within*5 >= len(print)*4 {
			return "The " + s.Handles[i].Name() + " takes it out"
		}
	}
	if len(f.Line) < 2 {
		return ""
	}
	if f.Kind != stock.Crack { // a pocket is a river where it runs out of both ends or sides
		out := 0
		rim := geom.Ring(f.Line).Map(p.At.In).Dense(4)
		for i := range rim {
			if a, b := rim.Edge(i); s.Outline.Contains(a) != s.Outline.Contains(b) {
				out++
			}
		}
		if out >= 4 {
			return "It runs through the board as a river"
		}
		return ""
	}
	if middle, tilt := p.line(f.Line); math.Abs(tilt) <= alongWithin && math.Abs(middle.Y) <= p.Design.Width/6 {
		return "It runs along the board"
	}
	return ""
}

// line is where the middle of a line lies in the board's frame, and how far it
// is tilted from the board's length, −90 to 90 degrees.
func (p Place) line(line []geom.Point) (middle geom.Point, tilt float64) {
	a, b := p.At.In(line[0]), p.At.In(line[len(line)-1])
	tilt = math.Atan2(b.Y-a.Y, b.X-a.X) * 180 / math.Pi
	if tilt > 90 {
		tilt -= 180
	} else if tilt <= -90 {
		tilt += 180
	}
	return a.Lerp(b, 0.5), tilt
}

// turned is the place with the board turned by degrees in its own frame, and
// then moved so that a point of the slab lies at to in the board's frame.
func (p Place) turned(by float64, point, to geom.Point) geom.Placement {
	at := p.At
	if at.Flip {
		by = -by
	}
	at.Angle += by
	d := point.Sub(at.Out(to))
	at.X, at.Y = at.X+d.X, at.Y+d.Y
	return at
}

// brought offers to bring the board to a place, where it fits there.
func (p Place) brought(label string, at geom.Placement) []craft.Remedy {
	q := p
	q.At = at
	if !q.fits() {
		return nil
	}
	return []craft.Remedy{{Label: label, Amount: math.Hypot(at.X-p.At.X, at.Y-p.At.Y), Unit: craft.MM, Patch: move(at)}}
}

// handleTo offers to bring the handle to a flaw: its hole over it, or the board
// along a crack.
func (p Place) handleTo(s board.Shaped, f stock.Flaw) []craft.Remedy {
	box := s.Outline.Bounds()
	grip := geom.Point{X: box.MaxX - (box.MaxX-box.MinX)/5}
	if len(s.Holes) > 0 {
		grip = s.Holes[0].Centroid()
	}
	by, middle := 0.0, f.Footprint().Centroid()
	if f.Kind == stock.Crack {
		at, tilt := p.line(f.Line)
		by, middle = tilt, p.At.Out(at)
	}
	return p.brought("Bring the handle to it, {}", p.turned(by, middle, grip))
}

// Grants counts the wishes for places on the slab that a board grants: flaws that
// it makes a feature of, and good features shown as they are wished for.
func (p Place) Grants(s board.Shaped) (n int) {
	for _, f := range p.Wood.Flaws {
		if f.Wish == stock.Featured && s.Outline.Contains(p.At.In(f.Footprint().Centroid())) && p.shows(s, f) != "" {
			n++
		}
	}
	for i, f := range p.Wood.Features {
		if v, ok := p.feature(s, f, i); ok && v.Level == craft.Good {
			n++
		}
	}
	return n
}

// Lures are places at which a board would grant each wish for a place on the
// slab, tilted by at most so many degrees from where it lies: first the flaws that
// are to be featured, then the good features that carry a wish.
func (p Place) Lures(s board.Shaped, tilt float64) (out [][]geom.Placement) {
	box := s.Outline.Bounds()
	middle := geom.Point{X: (box.MinX + box.MaxX) / 2, Y: (box.MinY + box.MaxY) / 2}
	bounded := func(by float64) float64 { return min(max(by, -tilt), tilt) }
	// along brings the board over a point of the slab with its centre line, at
	// several places of it.
	along := func(by float64, point geom.Point) (at []geom.Placement) {
		const step, inner = 25, 0.4 // mm; the share of the board's length about its middle
		reach := inner * (box.MaxX - box.MinX)
		for x := 0.0; x <= reach; x += step {
			at = append(at, p.turned(by, point, geom.Point{X: middle.X + x, Y: middle.Y}))
			if x > 0 {
				at = append(at, p.turned(by, point, geom.Point{X: middle.X - x, Y: middle.Y}))
			}
		}
		return at
	}
	lengthwise := func(line []geom.Point) []geom.Placement {
		at, by := p.line(line)
		return along(bounded(by), p.At.Out(at))
	}
	for _, f := range p.Wood.Flaws {
		if f.Wish != stock.Featured {
			continue
		}
		var at []geom.Placement
		for _, hole := range s.Holes {
			at = append(at, p.turned(0, f.Footprint().Centroid(), hole.Centroid()))
		}
		switch {
		case f.Kind == stock.Crack:
			at = append(at, lengthwise(f.Line)...)
		case len(f.Line) > 1:
			at = append(at, along(0, f.Footprint().Centroid())...)
		}
		out = append(out, at)
	}
	for _, f := range p.Wood.Features {
		middleOf := f.Footprint().Centroid()
		switch {
		case f.Wish == stock.Centred:
			out = append(out, []geom.Placement{p.turned(0, middleOf, middle)})
		case f.Wish == stock.DownTheMiddle && len(f.Line) > 1:
			out = append(out, lengthwise(f.Line))
		case f.Wish != "":
			out = append(out, along(0, middleOf))
		}
	}
	return out
}

// feature judges how a board shows what is worth showing.
func (p Place) feature(s board.Shaped, f stock.Feature, i int) (craft.Verdict, bool) {
	print := f.Footprint().Map(p.At.In)
	inside := 0
	for _, q := range print {
		if s.Outline.Contains(q) {
			inside++
		}
	}
	if f.Wish == "" || inside == 0 {
		return craft.Verdict{}, false
	}
	name := fmt.Sprintf("%s %d", f.Kind, i+1)
	middle := print.Centroid()
	box := s.Outline.Bounds()
	v := craft.Verdict{
		Check: "feature", Subject: f.ID, Stage: craft.Layout, Level: craft.Good,
		Finding: "Shows the " + name + " as you wish",
		Reason:  "You marked it as worth showing.",
		Figure: craft.Figure{
			Key:     "layout.feature",
			Stage:   craft.Layout,
			Label:   "Of the " + name + " within the board",
			Value:   100 * float64(inside) / float64(len(print)),
			Unit:    craft.Percent,
			Formula: "points of its rim inside the outline",
			Source:  "the feature as marked",
		},
		Limit: 100, AtLeast: true,
	}
	if inside < len(print) && f.Wish != stock.DownTheMiddle {
		v.Level, v.Finding = craft.Mind, "Cuts through the "+name
		v.Offer(func() []craft.Remedy {
			return p.brought(
				"Bring the board over it, {}",
				p.turned(0, p.At.Out(middle), geom.Point{X: (box.MinX + box.MaxX) / 2, Y: (box.MinY + box.MaxY) / 2}),
			)
		})
		return v, true
	}
	off := middle.Sub(geom.Point{X: (box.MinX + box.MaxX) / 2, Y: (box.MinY + box.MaxY) / 2})
	switch f.Wish {
	case stock.Centred:
		v.Figure.Label, v.Figure.Value, v.Figure.Unit, v.Figure.Formula = "From the "+name+" to the board's centre",
			off.Len(), craft.MM, "distance between their middles"
		v.Limit, v.AtLeast = centreWithin, false
		if off.Len() > centreWithin {
			v.Level, v.Finding = craft.Mind, "The "+name+" is off centre"
			v.Offer(func() []craft.Remedy {
				return p.brought("Centre the board on it, {}", p.turned(0, p.At.Out(middle), middle.Sub(off)))
			})
		}
	case stock.DownTheMiddle:
		tilt, to := 0.0, middle
		if len(f.Line) > 1 {
			to, tilt = p.line(f.Line)
		}
		v.Figure.Label, v.Figure.Value, v.Figure.Unit,
			v.Figure.Formula = "From the "+name+" to the board's centre line", math.Abs(to.Y),
			craft.MM, "distance of its middle; it may be tilted by "+fmt.Sprint(alongWithin)+"°"
		v.Limit, v.AtLeast = middleWithin, false
		if math.Abs(to.Y) > middleWithin || math.Abs(tilt) > alongWithin {
			v.Level, v.Finding = craft.Mind, "The "+name+" does not run down the middle"
			v.Offer(func() []craft.Remedy {
				return p.brought("Bring the board along it, {}", p.turned(tilt, p.At.Out(to), geom.Point{X: to.X}))
			})
		}
	}
	return v, true
}
