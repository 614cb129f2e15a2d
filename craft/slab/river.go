package slab

import (
	"fmt"
	"math"

	"idletimber/craft/fill"
	"idletimber/craft/geom"
	"idletimber/craft/river"
	"idletimber/craft/rule"
	"idletimber/craft/species"
	"idletimber/craft/stock"
)

// cast is a river with what follows from its mould: its size, faces, thickness and species.
func (s Slab) cast() Slab {
	r := s.River
	s.Stock, s.Species, s.Length = StockPanel, r.Main(), math.Round(r.Length*100)/100
	half := r.Width / 2
	s.Show = []Station{{0, half, -half}, {s.Length, half, -half}}
	s.Under, s.UnderLine, s.Outline = nil, nil, nil
	s.LiveLeft, s.LiveRight, s.NaturalEnds = false, false, false
	s.PriceBy = ByPiece
	s.Readings = []Reading{{X: s.Length / 2, Thickness: r.Depth}}
	s.Hollow, s.Wind, s.UnderHollow, s.UnderWind = 0, 0, 0, 0
	return s
}

// poured completes the wood of a river: it comes out flat, of banks and resin.
func (s Slab) poured(w *stock.Wood, own []species.Species) {
	w.Grain = stock.Glued(s.River.Parts(own))
	w.Flaws = append(w.Flaws[:len(w.Flaws):len(w.Flaws)], s.River.Flaws()...)
	w.Rough.Faced, w.Rough.Surfaced = true, s.River.Panel()
}

// bankStep is how far apart the points of a bank's edge lie, mm, and bankPoints how many there are
// at the most.
const (
	bankStep   = 4
	bankPoints = 240
)

// cutBank is how a bank is cut from its piece: crosscut from and for so long, ripped straight at y
// = at, and the side of the rip that it lies on, all in mm.
type cutBank struct {
	from, long, at float64
	left           bool
	thick          float64
}

// bank is the part of a piece on one side of a straight rip: its live edge, and the rip as its
// straight side along y = 0 of its own frame.
func bank(id string, v Slab, w stock.Wood, c cutBank) river.Bank {
	at, left, thick := c.at, c.left, c.thick
	b := river.Bank{ID: id, Name: v.Name, Species: v.Species, Thickness: thick, Rings: v.RingAngle, Bark: v.RightBark}
	live := v.LiveRight
	if left {
		b.Bark, live = v.LeftBark, v.LiveLeft
	}
	if b.Bark == "" {
		b.Bark = "sound"
	}
	if !live {
		b.Bark = stock.Bare
	}
	n := int(min(bankPoints, math.Ceil(c.long/bankStep)))
	ring := func(edge func(x float64) float64) geom.Ring {
		out := geom.Ring{{X: 0}, {X: c.long}}
		for i := n; i >= 0; i-- {
			x := c.long * float64(i) / float64(n)
			out = append(out, geom.Point{X: x, Y: edge(c.from+x) - at})
		}
		return out
	}
	show, under := w.Show.Right, w.Under.Right
	if left {
		show, under = w.Show.Left, w.Under.Left
	}
	b.Show = ring(show)
	if w.TwoFaced {
		b.Under = ring(under)
	}
	for _, f := range v.Flaws {
		f = f.In(geom.Placement{X: c.from, Y: at})
		box, middle := f.Footprint().Bounds(), f.Middle()
		if (middle.Y >= 0) == left && box.MaxX > 0 && box.MinX < c.long && middle.X >= 0 && middle.X <= c.long {
			b.Flaws = append(b.Flaws, f)
		}
	}
	return b
}

// riverWidth is how wide a river is at the start, in the mean, mm.
const riverWidth = 60

// Straightened lays one piece in a mould whose wall runs along its live edge, so that resin completes
// it to a straight side. The piece has passed Check.
func Straightened(v Slab, id, resin string, rules rule.Set, own []species.Species) river.River {
	const beyond = 3 // of resin at the least, mm
	w := Draw(v, own)
	r := river.River{Wall: 18, Tape: 60, Fill: fill.Choice{Resin: resin}}
	square := rules.Get(rule.Squaring)
	r.Length = math.Floor(w.Length - 2*square)
	r.Depth = planedTo(w, rules)
	b := facing("bank", v, w, true, cutBank{from: square, long: r.Length, thick: r.Depth})
	b.Piece = id
	reach := 0.0
	for _, face := range []geom.Ring{b.Show, b.Under} {
		for _, p := range face {
			reach = max(reach, math.Abs(p.Y))
		}
	}
	r.Width = math.Ceil(reach) + beyond
	b.At = along(b, r, true)
	r.Banks = []river.Bank{b}
	return r
}

// along is where a bank lies with its rip along the near wall of the mould, or along the far one:
// turned end for end where its live edge would else look out.
func along(b river.Bank, r river.River, near bool) geom.Placement {
	at := geom.Placement{Y: r.Width / 2}
	if near {
		at.Y = -at.Y
	}
	if looksUp := b.Show[2].Y > 0; looksUp != near {
		at.X, at.Angle = r.Length, 180
	}
	return at
}

// planedTo is how thick a piece is when both its faces are flat, mm, to the half below.
func planedTo(w stock.Wood, rules rule.Set) float64 {
	return max(3, math.Floor(w.Plan(w.Whole(), rules).Flat*2)/2)
}

// NewRiver lays pieces in a mould so that their live edges face each other: one piece ripped along
// its middle and its halves exchanged, or two, each ripped straight along its other edge. The pieces
// have passed Check; it fails where there is none.
func NewRiver(pieces []Slab, ids []string, resin string, rules rule.Set, own []species.Species) (river.River, error) {
	r := river.River{Wall: 18, Tape: 60, Fill: fill.Choice{Resin: resin}}
	if len(pieces) == 0 || len(pieces) > 2 || len(pieces) != len(ids) {
		return r, fmt.Errorf("there must be one piece or two")
	}
	var near, far river.Bank
	one, square := Draw(pieces[0], own), rules.Get(rule.Squaring)
	two := one
	if len(pieces) > 1 {
		two = Draw(pieces[1], own)
	}
	r.Length = math.Floor(min(one.Length, two.Length) - 2*square)
	c := cutBank{from: square, long: r.Length, thick: min(planedTo(one, rules), planedTo(two, rules))}
	if len(pieces) == 1 {
		for _, x := range []float64{0, one.Length / 2, one.Length} {
			c.at += (one.Left(x) + one.Right(x)) / 6
		}
		c.left = true
		near = bank("near", pieces[0], one, c)
		c.left = false
		far = bank("far", pieces[0], one, c)
	} else {
		near = facing("near", pieces[0], one, true, c)
		far = facing("far", pieces[1], two, false, c)
	}
	if len(pieces) == 1 {
		near.Name, far.Name = near.Name+", left half", far.Name+", right half"
	}
	near.Piece, far.Piece = ids[0], ids[len(ids)-1]
	r.Depth = c.thick
	reach := func(b river.Bank) (mean float64) {
		for _, p := range b.Show[2:] {
			mean += math.Abs(p.Y) / float64(len(b.Show)-2)
		}
		return mean
	}
	r.Width = math.Round(reach(near) + reach(far) + riverWidth)
	near.At, far.At = along(near, r, true), along(far, r, false)
	r.Banks = []river.Bank{near, far}
	return r, nil
}

// facing is a whole piece as a bank: its live edge towards the river, its other edge ripped straight
// where both faces have wood.
func facing(id string, v Slab, w stock.Wood, near bool, c cutBank) river.Bank {
	c.left = v.LiveLeft
	if v.LiveLeft && v.LiveRight {
		c.left = near
	}
	edge, inner := w.Left, math.Min
	if c.left {
		edge, inner = w.Right, math.Max
	}
	c.at = edge(c.from)
	for x := c.from; x <= c.from+c.long; x += bankStep {
		c.at = inner(c.at, edge(x))
	}
	return bank(id, v, w, c)
}
