package slab

import (
	"fmt"
	"math"
	"sync"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/species"
	"idletimber/craft/stock"
)

// least is how narrow a slab may be anywhere, mm.
const least = 5

// step is how far apart the points of an outline lie along the slab, mm.
const step = 4

// checkEdges reports stations and outlines that cannot be, and edges that
// cross between stations.
func (s Slab) checkEdges(field string) (ps craft.Problems) {
	checkStations(&ps, field+".show", s.Show, s.Length, len(s.Outline) == 0)
	checkStations(&ps, field+".under", s.Under, s.Length, false)
	checkLine(&ps, field+".outline", s.Outline, s.Length)
	checkLine(&ps, field+".underOutline", s.UnderLine, s.Length)
	ps.InRangeOf(field, s, "ripLeft", "ripRight")
	if len(ps) > 0 || !(s.Length >= 20 && s.Length <= 10000) {
		return ps
	}
	w := Draw(s, nil)
	if w.Closed() {
		if w.Usable().Area() < 400 {
			ps.Add(
				field+".underOutline",
				"the two faces have hardly any wood in common",
				"draw both faces from the same butt end and chalk line",
			)
		}
		return ps
	}
	for x := 0.0; x <= s.Length; x += step {
		switch {
		case w.Show.Left(x)-w.Show.Right(x) < least:
			ps.Add(
				field+".show",
				fmt.Sprintf("the edges come within %d mm of each other at %.0f mm", least, x),
				"measure both edges at one more station there",
			)
		case w.Left(x)-w.Right(x) < least:
			ps.Add(
				field+".under",
				fmt.Sprintf("the two faces have less than %d mm in common at %.0f mm", least, x),
				"measure both faces from the same chalk line, and rip off less",
			)
		default:
			continue
		}
		return ps
	}
	return ps
}

// apart is how far two stations must lie from each other, mm: what lies closer is one
// measure, and the edge between would be any slope.
const apart = 0.001

func checkStations(ps *craft.Problems, field string, stations []Station, length float64, needed bool) {
	if len(stations) == 0 && !needed {
		return
	}
	if len(stations) == 0 || len(stations) > MostStations {
		ps.Add(field, "there must be from 1 to 400 stations", "measure the width at one place at least")
		return
	}
	for i, s := range stations {
		at := fmt.Sprintf("%s[%d]", field, i)
		ps.InRange(at, s)
		if s.Width() < least {
			ps.Add(
				at+".left",
				"the edges cross or lie less than 5 mm apart",
				"the left edge lies to the left of the right one; measure both from the chalk line",
			)
		}
		if !(s.X >= 0 && s.X <= length) {
			ps.Add(
				at+".x",
				fmt.Sprintf("the station at %g mm lies off the slab", s.X),
				fmt.Sprintf("give a distance from 0 to its length, %g mm", length),
			)
		}
		if i > 0 && !(s.X-stations[i-1].X >= apart) {
			ps.Add(
				at+".x",
				"the stations are out of order or fall together",
				"list them from the butt end up, each farther than the one before",
			)
		}
	}
}

func checkLine(ps *craft.Problems, field string, line geom.Ring, length float64) {
	if len(line) == 0 {
		return
	}
	if len(line) < 3 || len(line) > MostNodes {
		ps.Add(field, "an outline needs from 3 to 1000 nodes", "simplify it within a wider tolerance")
		return
	}
	before := len(*ps)
	for i, p := range line {
		ps.Length(fmt.Sprintf("%s[%d].x", field, i), p.X, -1, length+1)
		ps.Length(fmt.Sprintf("%s[%d].y", field, i), p.Y, -5000, 5000)
	}
	switch {
	case len(*ps) > before:
	case line.Area() < 400:
		ps.Add(field, "the outline encloses less than 4 cm²", "check its unit")
	case line.SelfCrosses():
		ps.Add(field, "the outline crosses itself", "move the nodes so that it runs round once")
	}
}

// stations is a face drawn through its stations by monotone curves.
type stations struct {
	leftEdge, rightEdge curve
	hand                float64 // mean width × length
	length              float64
	right, left         float64 // a band that lies inside both edges
	ring                func() geom.Ring
}

func newStations(list []Station, length float64) stations {
	f := stations{length: length, right: math.Inf(-1), left: math.Inf(1)}
	var x, l, r []float64
	var sum float64
	for _, s := range list {
		x, l, r = append(x, s.X), append(l, s.Left), append(r, s.Right)
		sum += s.Width()
		f.right, f.left = max(f.right, s.Right), min(f.left, s.Left) // the edges never swing beyond their stations
	}
	f.leftEdge, f.rightEdge = newCurve(x, l), newCurve(x, r)
	f.hand = sum / float64(len(list)) * length
	drawn := f
	f.ring = sync.OnceValue(func() geom.Ring { return stock.Between(drawn.Left, drawn.Right, length) })
	return f
}

func (f stations) Left(x float64) float64               { return f.leftEdge.at(x) }
func (f stations) Right(x float64) float64              { return f.rightEdge.at(x) }
func (f stations) Ring() geom.Ring                      { return f.ring() }
func (f stations) HandArea() float64                    { return f.hand }
func (f stations) Band() (right, left float64, ok bool) { return f.right, f.left, true }

// Area is by integration of the edges.
func (f stations) Area() float64 { return span(f.leftEdge, f.length) - span(f.rightEdge, f.length) }

// span is the area under an edge from the butt to the far end; before the
// first station and beyond the last the edge stays level.
func span(c curve, length float64) float64 {
	n := len(c.x) - 1
	return c.integral() + c.y[0]*c.x[0] + c.y[n]*(length-c.x[n])
}

func face(list []Station, line geom.Ring, length float64) stock.Face {
	if len(line) > 2 {
		return stock.Line(line, length)
	}
	return newStations(list, length)
}

// TwoFaced reports whether the under face was measured by itself.
func (s Slab) TwoFaced() bool { return len(s.Under) > 0 || len(s.UnderLine) > 0 }

// Draw makes wood of a slab that has passed Check. The maker's own species are
// known besides those of the table.
func Draw(s Slab, own []species.Species) stock.Wood {
	s = s.Settled()
	wood, _ := species.FindIn(own, s.Species)
	w := stock.Wood{
		Name: s.Name, Length: s.Length, Show: face(s.Show, s.Outline, s.Length), TwoFaced: s.TwoFaced(),
		LeftBark: s.LeftBark, RightBark: s.RightBark,
		LiveLeft: s.LiveLeft, LiveRight: s.LiveRight, RipLeft: s.RipLeft, RipRight: s.RipRight,
		NaturalEnds: s.NaturalEnds,
		Flaws:       s.Flaws, Features: s.Features,
		Rough: stock.Rough{
			Thinnest: s.Thinnest(), Thickest: s.Thickest(), Mean: s.MeanThickness(),
			Hollow: max(s.Hollow, s.UnderHollow), Wind: max(s.Wind, s.UnderWind), Bowed: max(s.Wind, s.Hollow),
			Unshimmed: s.Unshimmed, Uneven: s.Uneven,
		},
		Moisture: stock.Moisture{Readings: s.Moisture, Reference: s.Reference, Home: s.Home},
		History: stock.History{
			Reclaimed: s.Reclaimed, Sheet: s.Stock == StockSheet,
			Panel: s.Stock == StockPanel && s.Glue == nil && s.River == nil,
			Words: s.Origin.Words(),
		},
		Grain: stock.Uniform{
			Species: wood, Rings: s.RingAngle, Radius: s.RingRadius, End: s.Stock == StockSlice,
		},
	}
	if o := s.Origin; o != nil {
		w.History.BareEnds = !o.EndsSealed && o.Dried != "kiln"
	}
	if b := s.Bought; b != nil {
		w.Rough.Surfaced, w.History.Work = b.Thickness, b.Work
	}
	if s.Glue != nil {
		s.glued(&w, own)
	}
	if s.River != nil {
		s.poured(&w, own)
	}
	flat := s.River == nil && s.Stock == StockSheet || w.History.Panel && w.Rough.Hollow+w.Rough.Wind == 0
	if flat && w.Rough.Surfaced == 0 { // as it comes
		w.Rough.Surfaced = s.Thinnest()
	}
	w.Rough.Faced = w.Rough.Faced || s.Stock == StockSheet
	w.Rough.Veneer = s.Veneer
	w.Under = w.Show
	if w.TwoFaced {
		w.Under = face(s.Under, s.UnderLine, s.Length)
	}
	w.Cost = s.cost(w)
	return stock.Make(w)
}
