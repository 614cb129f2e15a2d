// Package stock is wood as every stage of the work sees it, whatever it was made
// of: one piece as it was sawn, and later a panel of parts or a river. A maker of
// stock (package slab) reads its own document and fills a Wood; no stage reads
// the document.
//
// # Frame
//
// x runs along the wood from the butt end, y across from the chalk line, positive
// to the left when looking up the wood from the butt with the show face up:
//
//	y  ┌──────────── left edge ─────────────┐
//	↑  │  ○ flaw                  ┌───────┐ │
//	0 ─┼─ ─ ─ ─ chalk line ─ ─ ─ ─│ board │─┼─ → x
//	   │                          └───────┘ │
//	   └──────────── right edge ────────────┘
//	 butt end                         far end
//
// A section through it, show face up; a live edge slopes, and only what lies
// inside both faces is usable:
//
//	  ╱▔▔▔▔▔ show ▔▔▔▔╲
//	 ╱                 ╲     thickness: rough → flat → filled → sanded
//	╱▁▁▁▁▁▁ under ▁▁▁▁▁▁╲
//
// Lengths in mm, areas in mm², angles in degrees anticlockwise, money in cents.
package stock

import (
	"math"
	"slices"

	"idletimber/craft/geom"
	"idletimber/craft/moisture"
	"idletimber/craft/species"
)

// Wood is a piece of wood to work on: where it is, what is wrong with it, how
// thick it comes out, what it cost, and what is where in it. Make completes one.
type Wood struct {
	Name   string
	Length float64

	Show, Under Face // Under is Show where it was not measured by itself
	TwoFaced    bool

	LiveLeft, LiveRight bool    // natural edges
	LeftBark, RightBark string  // their state; empty for sound bark
	RipLeft, RipRight   float64 // profiled or damaged wood to be ripped off
	NaturalEnds         bool    // kept as found: nothing is squared

	Flaws    []Flaw
	Features []Feature // what is worth showing

	Rough    Rough
	Moisture Moisture
	Cost     float64 // cents, work bought in included
	History  History

	Grain Grain // what is where

	closed bool        // a face is a closed line
	usable geom.Ring   // where a face is a closed line; otherwise nil
	index  geom.Index  // of usable
	core   geom.Bounds // lies inside both edges all along

	species []species.Species // on the show face
}

// Moisture is what is known of how wet the wood is.
type Moisture struct {
	Readings  []moisture.Reading
	Reference float64        // what the same meter reads on a piece that has lived in the home, %; 0 without one
	Home      *moisture.Home // where its boards go, if not to the shop's usual home
}

// History is what happened to the wood before it came to the bench.
type History struct {
	Reclaimed bool   // of unknown treatment
	Sheet     bool   // sheet stock: its glue lines open with water
	Panel     bool   // of solid wood, glued up elsewhere
	BareEnds  bool   // dried, or drying, with unsealed ends
	Words     string // where it came from, one sentence; empty when nothing is known
	Work      string // what was done elsewhere; empty for nothing
}

// Face is one face of the wood, in the wood's frame.
type Face interface {
	// Left and Right are the edges at a distance from the butt end.
	Left(x float64) float64
	Right(x float64) float64
	// Ring is the face, anticlockwise.
	Ring() geom.Ring
	// Area of the face, and what the mean width × length comes to, as one would
	// measure it by hand.
	Area() float64
	HandArea() float64
	// Band is a band along the whole length that lies inside both edges. It is
	// false of a face that is a closed line, whose edges may have bays.
	Band() (right, left float64, ok bool)
}

// Make completes wood whose fields are set.
func Make(w Wood) Wood {
	if w.Grain != nil {
		w.species = SpeciesIn(w.Grain.Over(w.Show.Ring()))
	}
	right, left, ok := w.Show.Band()
	underRight, underLeft, under := w.Under.Band()
	if !ok || !under {
		w.closed, w.usable = true, w.common()
		w.index = geom.NewIndex(w.usable)
		w.core = geom.Bounds{MaxX: -1, MaxY: -1}
		return w
	}
	w.core = geom.Bounds{
		MaxX: w.Length,
		MinY: max(right, underRight) + w.RipRight,
		MaxY: min(left, underLeft) - w.RipLeft,
	}
	return w
}

// Closed reports wood of which a face is a closed line.
func (w Wood) Closed() bool { return w.closed }

// common is what lies inside both faces, less what is ripped off.
func (w Wood) common() geom.Ring {
	ring := w.Show.Ring()
	if w.TwoFaced {
		ring = geom.Largest(geom.Common(ring, w.Under.Ring()))
	}
	if w.RipLeft > 0 || w.RipRight > 0 {
		box := ring.Bounds()
		box.MinY, box.MaxY = box.MinY+w.RipRight, box.MaxY-w.RipLeft
		ring = geom.Clip(ring, box.Ring())
	}
	if ring.SignedArea() < 0 {
		ring = slices.Clone(ring)
		slices.Reverse(ring)
	}
	return ring
}

// Left is the usable left edge at x: the narrower of both faces.
func (w Wood) Left(x float64) float64 {
	if w.usable != nil {
		ys := Across(w.usable, x)
		return ys[len(ys)-1]
	}
	if !w.TwoFaced {
		return w.Show.Left(x) - w.RipLeft
	}
	return min(w.Show.Left(x), w.Under.Left(x)) - w.RipLeft
}

// Right is the usable right edge at x.
func (w Wood) Right(x float64) float64 {
	if w.usable != nil {
		return Across(w.usable, x)[0]
	}
	if !w.TwoFaced {
		return w.Show.Right(x) + w.RipRight
	}
	return max(w.Show.Right(x), w.Under.Right(x)) + w.RipRight
}

// Span is the stretch of usable wood across the piece that p lies in, or the one
// nearest to it: its right and its left edge.
func (w Wood) Span(p geom.Point) (right, left float64) {
	if w.usable == nil {
		return w.Right(p.X), w.Left(p.X)
	}
	ys := Across(w.usable, p.X)
	best := math.Inf(1)
	for i := 0; i+1 < len(ys); i += 2 {
		if d := max(ys[i]-p.Y, p.Y-ys[i+1]); d < best {
			best, right, left = d, ys[i], ys[i+1]
		}
	}
	return right, left
}

// Usable is what lies inside both faces, anticlockwise.
func (w Wood) Usable() geom.Ring {
	if w.closed {
		return w.usable
	}
	return Between(w.Left, w.Right, w.Length)
}

// Clear is how far p lies inside the usable wood, mm: measured along and across
// where the edges run from end to end, the shortest way where a face is a closed
// line; negative outside.
func (w Wood) Clear(p geom.Point) float64 {
	if w.usable == nil {
		return min(p.X, w.Length-p.X, w.Left(p.X)-p.Y, p.Y-w.Right(p.X))
	}
	_, d := w.index.Nearest(p)
	if !w.usable.Contains(p) {
		return -d
	}
	return d
}

// Holds reports whether p lies inside the usable wood, or outside by no more than
// the tolerance, mm.
func (w Wood) Holds(p geom.Point, tolerance float64) bool {
	return w.core.Depth(p) >= 0 || w.Clear(p) >= -tolerance
}

// MeanWidth is the area of the show face over the length, mm.
func (w Wood) MeanWidth() float64 { return w.Show.Area() / w.Length }

// boardFoot is 144 cubic inches in mm³.
const boardFoot = 144 * 25.4 * 25.4 * 25.4

// MeanFace is the mean area of the two faces, mm².
func (w Wood) MeanFace() float64 {
	if !w.TwoFaced {
		return w.Show.Area()
	}
	return (w.Show.Area() + w.Under.Area()) / 2
}

// Volume is the volume of the rough piece, mm³: mean of its faces × mean thickness.
func (w Wood) Volume() float64 { return w.MeanFace() * w.Rough.Mean }

// BoardFeet is the volume in board feet.
func (w Wood) BoardFeet() float64 { return w.Volume() / boardFoot }

// Target is what the wood should come to rest at, in a shop whose boards usually
// go to a home.
func (w Wood) Target(usual moisture.Home) moisture.Target {
	t := moisture.Target{Home: usual, Reference: w.Moisture.Reference}
	if w.Moisture.Home != nil {
		t.Home = *w.Moisture.Home
	}
	return t
}

// Species lists the species of the wood, each once.
func (w Wood) Species() []species.Species { return slices.Clone(w.species) }

// step is how far apart the points of an outline lie along the wood, mm.
const step = 4

// Between is the ring between a left and a right edge over a length.
func Between(left, right func(float64) float64, length float64) geom.Ring {
	n := int(math.Ceil(length / step))
	ring := make(geom.Ring, 0, 2*n+2)
	for i := range n + 1 {
		x := length * float64(i) / float64(n)
		ring = append(ring, geom.Point{X: x, Y: right(x)})
	}
	for i := n; i >= 0; i-- {
		x := length * float64(i) / float64(n)
		ring = append(ring, geom.Point{X: x, Y: left(x)})
	}
	return ring
}

// Across lists where a line square to the wood at x crosses a ring, in pairs from
// the right to the left. Off the ring's ends it is what lies at the end.
func Across(r geom.Ring, x float64) []float64 {
	box := r.Bounds()
	const inside = 1e-6 // a ring's very end is a point
	x = min(max(x, box.MinX+inside), box.MaxX-inside)
	return r.SpansAcross(x, nil)
}

// Closed is a face that is a closed line of nodes.
type Closed struct {
	ring   geom.Ring
	length float64
}

// Line makes a face of a closed line, on wood of a length.
func Line(ring geom.Ring, length float64) Closed {
	if ring.SignedArea() < 0 {
		ring = slices.Clone(ring)
		slices.Reverse(ring)
	}
	return Closed{ring, length}
}

// Left is the edge farthest to the left at x.
func (c Closed) Left(x float64) float64 {
	ys := Across(c.ring, x)
	return ys[len(ys)-1]
}

// Right is the edge farthest to the right at x.
func (c Closed) Right(x float64) float64 { return Across(c.ring, x)[0] }

// Ring is the line itself.
func (c Closed) Ring() geom.Ring { return c.ring }

// Area inside the line, mm².
func (c Closed) Area() float64 { return c.ring.Area() }

// HandArea is the mean of five widths × the length, mm².
func (c Closed) HandArea() float64 {
	const places = 5
	var sum float64
	for i := range places {
		x := c.length * (float64(i) + 0.5) / places
		sum += c.Left(x) - c.Right(x)
	}
	return sum / places * c.length
}

// Band is not known of a closed line.
func (c Closed) Band() (right, left float64, ok bool) { return 0, 0, false }

// Edges are the left and the right edge of a face's ring as open lines, from the
// butt to the far end: the ring without its ends.
func Edges(ring geom.Ring) (left, right []geom.Point) {
	box := ring.Bounds()
	// An end is told by where it ends.
	off := func(p, q geom.Point) float64 { return 3*math.Abs(p.X-q.X) + math.Abs(p.Y-q.Y) }
	at := [4]int{}
	for k, corner := range box.Ring() { // butt right, far right, far left, butt left
		for i := range ring {
			if off(ring[i], corner) < off(ring[at[k]], corner) {
				at[k] = i
			}
		}
	}
	walk := func(from, to int) (line []geom.Point) {
		for i := from; ; i = (i + 1) % len(ring) {
			line = append(line, ring[i])
			if i == to {
				return line
			}
		}
	}
	right, left = walk(at[0], at[1]), walk(at[2], at[3])
	slices.Reverse(left)
	return left, right
}
