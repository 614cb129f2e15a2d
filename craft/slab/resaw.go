package slab

import (
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/rule"
)

// Resawing is a plan to saw a flattened piece into leaves.
type Resawing struct {
	Leaves  int     `json:"leaves" minimum:"2" maximum:"12"`
	Kerf    float64 `json:"kerf" doc:"Of the saw"`
	Cleanup float64 `json:"cleanup" doc:"Planed off each sawn face"`
	Matched bool    `json:"matched" doc:"Leaves are opened like a book: neighbours show the two faces of one cut"`
}

// Check reports what cannot be sawn.
func (r Resawing) Check(field string) (ps craft.Problems) {
	ps.Range(field+".leaves", float64(r.Leaves), 2, 12)
	ps.Length(field+".kerf", r.Kerf, 0.3, 10)
	ps.Length(field+".cleanup", r.Cleanup, 0, 10)
	return ps
}

// Leaves is how thick each of n leaves comes out when a flattened thickness is
// resawn, mm; 0 when they do not fit.
func Leaves(flat float64, n int, kerf, cleanup float64) float64 {
	if n < 1 {
		return 0
	}
	cuts := float64(n - 1)
	return max(0, (flat-cuts*kerf-2*cuts*cleanup)/float64(n))
}

// LeavesOf is how the whole piece, flattened first, comes out when it is
// resawn: the flattened thickness and that of each clean leaf, mm.
func (w Wood) LeavesOf(r Resawing, rules rule.Set) (flat, leaf float64) {
	flat = max(0, w.Plan(w.Whole(), rules).Flat)
	return flat, Leaves(flat, r.Leaves, r.Kerf, r.Cleanup)
}

// Whole is the whole piece as a blank.
func (w Wood) Whole() Blank { return Blank{Length: w.Length, Width: w.MeanWidth()} }

// thinnest is how thin a leaf may be to be worth sawing, mm.
const thinnest = 3

// Resaw makes the leaves of a piece, from its show face down. Each keeps the
// frame, has the outlines at its depth, and the flaws that reach into it; a
// leaf is as thick as the saw leaves it.
func (w Wood) Resaw(r Resawing, rules rule.Set) ([]Slab, error) {
	ps := r.Check("resaw")
	flat, t := w.LeavesOf(r, rules)
	if len(ps) == 0 && t < thinnest {
		ps.Add("resaw.leaves", fmt.Sprintf("the leaves would come out %.1f mm thick", t), fmt.Sprintf("saw fewer leaves, so that each keeps at least %d mm", thinnest))
	}
	if len(ps) > 0 {
		return nil, ps
	}
	rough := w.Thinnest()
	off := (rough - flat) / 2
	out := make([]Slab, r.Leaves)
	for k := range out {
		from := off + float64(k)*(t+r.Kerf+2*r.Cleanup)
		leaf := w.between(from, from+t, rough)
		leaf.Name = fmt.Sprintf("%s, leaf %d of %d", w.Name, k+1, r.Leaves)
		leaf.Leaf, leaf.LeafTurned = k+1, false
		sawn := 2.0
		if k == 0 || k == r.Leaves-1 {
			sawn = 1
		}
		leaf.Readings = []Reading{{X: w.Length / 2, Thickness: math.Round((t+sawn*r.Cleanup)*100) / 100}}
		leaf.PriceCents, leaf.PriceBy, leaf.Bought = int(math.Round(w.Cost()/float64(r.Leaves))), ByPiece, nil
		for _, f := range w.Features {
			if !f.Under && k == 0 || f.Under && k == r.Leaves-1 {
				leaf.Features = append(leaf.Features, f)
			}
		}
		if r.Matched {
			leaf.ShowChosen = true
			if k%2 == 0 {
				leaf = Turn(leaf)
			}
		}
		out[k] = leaf
	}
	return out, nil
}

// Partner is the number of the leaf that opens like a book with this one: the
// first with the second, the third with the fourth; 0 for a piece that is no leaf.
func (s Slab) Partner() int {
	switch {
	case s.Leaf == 0:
		return 0
	case s.Leaf%2 == 0:
		return s.Leaf - 1
	}
	return s.Leaf + 1
}

// Twin is where the twin of a board at a place on this leaf lies on another leaf
// of the same piece, and whether it is its mirror image: leaves opened like a
// book mirror each other, others lie as they were sawn.
func (s Slab) Twin(at geom.Placement, other Slab) (place geom.Placement, mirrored bool) {
	if s.LeafTurned == other.LeafTurned {
		return at, false
	}
	return at.Mirrored(), true
}

// between is the part of a piece between two depths below its show face.
func (w Wood) between(from, to, rough float64) Slab {
	s := w.Slab
	s.Hollow, s.Wind, s.UnderHollow, s.UnderWind = 0, 0, 0, 0
	s.Features, s.ShowLook, s.UnderLook, s.ShowChosen = nil, nil, nil, false
	s.Moisture = slices.Clone(w.Moisture)
	if w.TwoFaced() {
		s.Show, s.Outline = w.level(from / rough)
		s.Under, s.UnderLine = w.level(to / rough)
	}
	s.Flaws = []Flaw{}
	for _, f := range w.Flaws {
		if f, ok := f.between(from, to, rough); ok {
			s.Flaws = append(s.Flaws, f)
		}
	}
	return s
}

// level is the outline at a share of the thickness below the show face: the
// stations of both faces mixed, or the nearer of two outlines.
func (w Wood) level(share float64) ([]Station, geom.Ring) {
	if w.byLine() {
		if share < 0.5 {
			return nil, w.Outline()
		}
		return nil, w.UnderOutline()
	}
	var xs []float64
	for _, st := range slices.Concat(w.Show, w.Under) {
		xs = append(xs, st.X)
	}
	slices.Sort(xs)
	var out []Station
	mix := func(a, b float64) float64 { return math.Round((a+(b-a)*share)*100) / 100 }
	for _, x := range slices.Compact(xs) {
		out = append(out, Station{X: x, Left: mix(w.show.left(x), w.under.left(x)), Right: mix(w.show.right(x), w.under.right(x))})
	}
	return out, nil
}

// hairline is the narrowest crack that is marked, mm.
const hairline = 0.05

// between is what of a flaw lies between two depths below the show face of a
// piece that is rough mm thick.
func (f Flaw) between(from, to, rough float64) (Flaw, bool) {
	if f.Through {
		share := from / rough
		if f.Under {
			share = 1 - to/rough
		}
		out := f.At(share)
		if f.Tilted() {
			tilt := f.Tilt.Scale((to - from) / rough)
			out.Tilt = &tilt
		}
		out.Depth = to - from
		return out, true
	}
	if f.Under { // from the under face, the depths run the other way
		from, to = rough-to, rough-from
	}
	left := f.Depth - max(0, from)
	if left <= 0.1 {
		return f, false
	}
	passed := max(0, from) / f.Depth
	switch {
	case f.Kind == Crack && !f.Slot:
		if f.Width *= 1 - passed; f.Width < hairline {
			return f, false
		}
	case f.Kind == Knot && !f.Sound():
		k := math.Sqrt(1 - passed*passed)
		f.A, f.B = max(0.2, f.A*k), max(0.2, f.B*k)
	}
	f.Depth = left
	if left >= to-from {
		f.Depth, f.Through = to-from, true
	}
	return f, true
}

// Turn exchanges the faces: the under face becomes the show face, seen as one
// turns the slab over about its long axis. Boards laid on it are turned by
// geom.Placement.Turned.
func Turn(s Slab) Slab {
	if s.TwoFaced() {
		s.Show, s.Under = mirrored(s.Under), mirrored(s.Show)
		s.Outline, s.UnderLine = mirroredLine(s.UnderLine), mirroredLine(s.Outline)
	} else {
		s.Show, s.Outline = mirrored(s.Show), mirroredLine(s.Outline)
	}
	s.LiveLeft, s.LiveRight = s.LiveRight, s.LiveLeft
	s.LeafTurned = s.Leaf > 0 && !s.LeafTurned
	s.RipLeft, s.RipRight = s.RipRight, s.RipLeft
	s.Hollow, s.UnderHollow = s.UnderHollow, s.Hollow
	s.Wind, s.UnderWind = s.UnderWind, s.Wind
	s.ShowLook, s.UnderLook = s.UnderLook.mirrored(), s.ShowLook.mirrored()
	s.Readings = slices.Clone(s.Readings)
	for i := range s.Readings {
		s.Readings[i].Y = -s.Readings[i].Y
	}
	s.Flaws, s.Features = slices.Clone(s.Flaws), slices.Clone(s.Features)
	for i, f := range s.Flaws {
		f.Under, f.Angle, f.Centre.Y = !f.Under, -f.Angle, -f.Centre.Y
		f.Line = geom.Ring(f.Line).Map(mirror)
		if f.Tilt != nil {
			t := mirror(*f.Tilt)
			f.Tilt = &t
		}
		s.Flaws[i] = f
	}
	for i, f := range s.Features {
		f.Under, f.Angle, f.Centre.Y = !f.Under, -f.Angle, -f.Centre.Y
		f.Line = geom.Ring(f.Line).Map(mirror)
		s.Features[i] = f
	}
	return s
}

func mirror(p geom.Point) geom.Point { return geom.Point{X: p.X, Y: -p.Y} }

func mirrored(stations []Station) []Station {
	out := make([]Station, len(stations))
	for i, st := range stations {
		out[i] = Station{X: st.X, Left: -st.Right, Right: -st.Left}
	}
	return out
}

func mirroredLine(r geom.Ring) geom.Ring {
	out := r.Map(mirror)
	slices.Reverse(out)
	return out
}

func (l *Look) mirrored() *Look {
	if l == nil || l.Ground == nil {
		return l
	}
	out, g := *l, *l.Ground
	g.MinY, g.MaxY, g.Turn = -g.MaxY, -g.MinY, -g.Turn
	out.Ground = &g
	return &out
}
