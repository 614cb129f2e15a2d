package board

import (
	"cmp"
	"math"

	"idletimber/craft/geom"
)

// Slot is a straight cut across a face for a fitting, with its depth at both
// ends, mm.
type Slot struct {
	A      geom.Point `json:"a" doc:"One end, in the board's frame"`
	B      geom.Point `json:"b" doc:"The other end, in the board's frame"`
	DepthA float64    `json:"depthA" doc:"At the first end, mm"`
	DepthB float64    `json:"depthB" doc:"At the second end, mm"`
	Width  float64    `json:"width" doc:"mm"`
	Under  bool       `json:"under" doc:"Sunk into the under face"`
	Name   string     `json:"name" doc:"What it is"`
	How    string     `json:"-"` // it is cut, in words
	Of     string     `json:"-"` // the fitting that it belongs to
	Full   bool       `json:"-"` // what is let into it fills it
}

// Ring is the slot's place on its face.
func (t Slot) Ring() geom.Ring { return strand(t.A, t.B, t.Width) }

// strand is a straight line so wide, with square ends.
func strand(a, b geom.Point, width float64) geom.Ring {
	d := b.Sub(a)
	side := geom.Point{X: -d.Y, Y: d.X}.Scale(width / 2 / max(d.Len(), 1e-9))
	return geom.Ring{a.Sub(side), b.Sub(side), b.Add(side), a.Add(side)}
}

// depthAt is how deep the slot has cut its face at p, mm; 0 beside it.
func (t Slot) depthAt(p geom.Point) float64 {
	d := t.B.Sub(t.A)
	l := max(d.Len(), 1e-9)
	to := p.Sub(t.A)
	along, off := (to.X*d.X+to.Y*d.Y)/l, math.Abs(to.X*d.Y-to.Y*d.X)/l
	if off > t.Width/2+1e-9 || along < -1e-9 || along > l+1e-9 {
		return 0
	}
	return t.DepthA + (t.DepthB-t.DepthA)*along/l
}

// deepest is how deep the slot is within a ring, mm, at most; a slot's depth changes
// evenly, so that it is deepest at a corner of what they share.
func (t Slot) deepest(within geom.Ring) (deep float64) {
	for _, shared := range geom.Common(t.Ring(), within) {
		for _, p := range shared {
			deep = max(deep, t.depthAt(p))
		}
	}
	return deep
}

// volume of the slot, mm³.
func (t Slot) volume() float64 {
	return t.B.Sub(t.A).Len() * t.Width * (t.DepthA + t.DepthB) / 2
}

// Bore is a hole bored for a fitting: into a side, level with the faces, from A to B;
// or into a face, where A and B are one place. Lengths in mm.
type Bore struct {
	Name     string     `json:"name" doc:"What it is"`
	A        geom.Point `json:"a" doc:"Where it begins, in the board's frame"`
	B        geom.Point `json:"b" doc:"Where it ends; of one into a face the same place"`
	Diameter float64    `json:"diameter" doc:"mm"`
	Below    float64    `json:"below,omitempty" doc:"Of one into a side: from the show face to its middle, mm"`
	Deep     float64    `json:"deep,omitempty" doc:"Of one into a face, mm; 0 for all but what it leaves"`
	Leaves   float64    `json:"leaves,omitempty" doc:"Of one into a face: wood under it, mm; 0 for right through"`
	Under    bool       `json:"under,omitempty" doc:"Bored from the under face"`
	Late     bool       `json:"late,omitempty" doc:"Bored when it is fitted, after the finish"`
	Bites    float64    `json:"-"` // not bored where the board is too thin for so much, mm
	How      string     `json:"-"` // it is bored, in words
	Of       string     `json:"-"` // the fitting that it belongs to
}

// Side tells a bore into a side from one into a face.
func (b Bore) Side() bool { return b.A != b.B }

// Long is how far the drill goes in, mm, in a board t thick.
func (b Bore) Long(t float64) float64 {
	if b.Side() {
		return b.B.Sub(b.A).Len()
	}
	return min(t, cmp.Or(b.Deep, t-b.Leaves))
}

// Ring is the bore seen from above.
func (b Bore) Ring() geom.Ring {
	if b.Side() {
		return strand(b.A, b.B, b.Diameter)
	}
	return geom.Ellipse{Centre: b.A, A: b.Diameter / 2, B: b.Diameter / 2}.Ring(24)
}

func (b Bore) volume(t float64) float64 { return math.Pi / 4 * b.Diameter * b.Diameter * b.Long(t) }

// Hollow is whatever is cut into a board, or missing from it: its place, and how far
// below the show face it begins and ends, mm.
type Hollow struct {
	Name        string
	Of          string    // the fitting that it belongs to; empty of all else
	Slot        bool      // a cut across a face, which may run through what is sunk into it
	Sunk        bool      // a recess
	Ring, Inner geom.Ring // Inner is nil unless it runs round
	Top, Bottom float64
}

// into is a hollow so deep in one of the faces of a board t thick.
func into(name string, ring, inner geom.Ring, deep, t float64, under bool) Hollow {
	if under {
		return Hollow{Name: name, Ring: ring, Inner: inner, Top: max(0, t-deep), Bottom: t}
	}
	return Hollow{Name: name, Ring: ring, Inner: inner, Bottom: min(t, deep)}
}

// Hollows is all that is cut into a board t mm thick: holes, recesses, and what its
// fittings take, each as deep as it is at its deepest.
func (s Shaped) Hollows(t float64) (out []Hollow) {
	for i, h := range s.Holes {
		out = append(out, Hollow{Name: holeName(s, i), Ring: h, Bottom: t})
	}
	for _, c := range s.Cavities {
		if len(c.Rim) > 2 {
			r := c.Recess
			h := into(c.Name(s.Design.Recesses), c.Rim, c.Inner, r.Deepest(), t, r.Under)
			h.Sunk = true
			out = append(out, h)
		}
	}
	return append(out, s.Fitted(t)...)
}

// Fitted is what the fittings take of a board t mm thick.
func (s Shaped) Fitted(t float64) (out []Hollow) {
	add := func(of string, h Hollow) {
		h.Of = of
		out = append(out, h)
	}
	for _, o := range s.Slots {
		h := into(o.Name, o.Ring(), nil, max(o.DepthA, o.DepthB), t, o.Under)
		h.Slot = true
		add(o.Of, h)
	}
	for _, b := range s.Bores {
		switch {
		case b.Side():
			add(b.Of, Hollow{Name: b.Name, Ring: b.Ring(), Top: b.Below - b.Diameter/2, Bottom: b.Below + b.Diameter/2})
		case b.Long(t) >= b.Bites:
			add(b.Of, into(b.Name, b.Ring(), nil, b.Long(t), t, b.Under))
		}
	}
	return out
}

// Ways is how what its fittings take is cut before the board is sanded, in words.
func (s Shaped) Ways() (out []string) {
	for _, b := range s.Bores {
		if b.How != "" {
			out = append(out, b.How)
		}
	}
	for _, o := range s.Slots {
		if o.How != "" {
			out = append(out, o.How)
		}
	}
	return out
}

// Clear is how much wood lies between two hollows, mm: beside each other where they
// lie at one height, above each other where they lie at one place. It is 0 where they
// meet, and more than far where they lie apart both ways.
func (h Hollow) Clear(o Hollow, far float64) float64 {
	above := h.above(o)
	if h.Ring.Bounds().Apart(o.Ring.Bounds()) > far || above > far {
		return math.Inf(1)
	}
	beside := h.beside(o)
	switch {
	case above <= 0:
		return beside
	case beside <= 0:
		return above
	}
	return math.Hypot(above, beside)
}

// above is how far one of two hollows lies over the other, mm; less than 0 where they
// lie at one height.
func (h Hollow) above(o Hollow) float64 { return max(o.Top-h.Bottom, h.Top-o.Bottom) }

// beside is how far apart two hollows lie seen from above, mm.
func (h Hollow) beside(o Hollow) float64 {
	if sharedArea(h.Ring, h.Inner, o.Ring, o.Inner) > 1e-6 {
		return 0
	}
	for _, pair := range [][2]Hollow{{h, o}, {o, h}} {
		round, within := pair[0].Inner, pair[1].Ring
		if len(round) < 3 || !round.Contains(within[0]) {
			continue
		}
		least, rim := math.Inf(1), geom.NewIndex(round)
		for _, p := range within.Dense(2) {
			_, d := rim.Nearest(p)
			least = min(least, d)
		}
		return least
	}
	return geom.Gap(h.Ring, o.Ring)
}

// keeps is the share of the bending strength that is left of a section t mm thick where
// it is hollow from top to bottom: what is left above and below bends as one.
func keeps(top, bottom, t float64) float64 {
	top, bottom = max(0, top), min(t, bottom)
	if t <= 0 || bottom <= top {
		return 1
	}
	under := t - bottom
	area := top + under
	if area <= 0 {
		return 0
	}
	middle := (top*top/2 + under*(t-under/2)) / area // of both, below the show face
	layer := func(thick, at float64) float64 { return thick*thick*thick/12 + thick*(at-middle)*(at-middle) }
	inertia := layer(top, top/2) + layer(under, t-under/2)
	from, to := 0.0, t
	if top == 0 {
		from = bottom
	}
	if under == 0 {
		to = top
	}
	farthest := max(middle-from, to-middle)
	if farthest <= 0 {
		return 0
	}
	return inertia / farthest / (t * t / 6)
}

// Crossing is what of the fittings comes nearest to anything else that is cut into a
// board t mm thick, or to what else is named, and how near, mm; parts of one fitting
// belong together, and a slot may run through a recess, which is told of the recess.
func (s Shaped) Crossing(t float64, named []Hollow) (least float64, a, b Hollow) {
	const far = 20
	least = math.Inf(1)
	fitted, others := s.Fitted(t), append(s.Hollows(t), named...)
	for _, h := range fitted {
		for _, o := range others {
			if h.Of == o.Of || h.Slot && o.Sunk {
				continue
			}
			if d := h.Clear(o, far); d < least {
				least, a, b = d, h, o
			}
		}
	}
	return least, a, b
}
