package slab

import (
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/rule"
	"idletimber/craft/stock"
)

// Resawing is a plan to saw a flattened piece into leaves.
type Resawing struct {
	Leaves  int     `json:"leaves" range:"2,12"`
	Kerf    float64 `json:"kerf" mm:"0.3,10" doc:"Of the saw"`
	Cleanup float64 `json:"cleanup" mm:"0,10" doc:"Planed off each sawn face"`
	Matched bool    `json:"matched" doc:"Leaves are opened like a book: neighbours show the two faces of one cut"`
}

// Check reports what cannot be sawn.
func (r Resawing) Check(field string) (ps craft.Problems) {
	ps.InRange(field, r)
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

// Of is how a whole piece, flattened first, comes out when it is resawn: the
// flattened thickness and that of each clean leaf, mm.
func (r Resawing) Of(w stock.Wood, rules rule.Set) (flat, leaf float64) {
	flat = max(0, w.Plan(w.Whole(), rules).Flat)
	return flat, Leaves(flat, r.Leaves, r.Kerf, r.Cleanup)
}

// thinnest is how thin a leaf may be to be worth sawing, mm.
const thinnest = 3

// Resaw makes the leaves of a piece, from its show face down. Each keeps the
// frame, has the outlines at its depth, and the flaws that reach into it; a
// leaf is as thick as the saw leaves it.
func (s Slab) Resaw(r Resawing, rules rule.Set) ([]Slab, error) {
	s = s.Settled()
	ps, w := r.Check("resaw"), Draw(s, nil)
	flat, t := r.Of(w, rules)
	if len(ps) == 0 && t < thinnest {
		ps.Add(
			"resaw.leaves",
			fmt.Sprintf("the leaves would come out %.1f mm thick", t),
			fmt.Sprintf("saw fewer leaves, so that each keeps at least %d mm", thinnest),
		)
	}
	if len(ps) > 0 {
		return nil, ps
	}
	rough := w.Rough.Thinnest
	off := (rough - flat) / 2
	out := make([]Slab, r.Leaves)
	for k := range out {
		from := off + float64(k)*(t+r.Kerf+2*r.Cleanup)
		leaf := s.between(w, from, from+t, rough)
		leaf.Name = fmt.Sprintf("%s, leaf %d of %d", s.Name, k+1, r.Leaves)
		leaf.Leaf, leaf.LeafTurned = k+1, false
		sawn := 2.0
		if k == 0 || k == r.Leaves-1 {
			sawn = 1
		}
		leaf.Readings = []Reading{{X: s.Length / 2, Thickness: math.Round((t+sawn*r.Cleanup)*100) / 100}}
		leaf.PriceCents, leaf.PriceBy, leaf.Bought = int(math.Round(w.Cost/float64(r.Leaves))), ByPiece, nil
		for _, f := range s.Features {
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
func (s Slab) between(w stock.Wood, from, to, rough float64) Slab {
	s.Hollow, s.Wind, s.UnderHollow, s.UnderWind = 0, 0, 0, 0
	s.Features, s.ShowLook, s.UnderLook, s.ShowChosen = nil, nil, nil, false
	s.Moisture, s.Glue = slices.Clone(s.Moisture), s.Glue.Off(geom.Placement{})
	if w.TwoFaced {
		show, outline := s.level(w, from/rough)
		under, underLine := s.level(w, to/rough)
		s.Show, s.Outline, s.Under, s.UnderLine = show, outline, under, underLine
	}
	s.Flaws = []stock.Flaw{}
	for _, f := range w.Flaws {
		if f, ok := f.Between(from, to, rough); ok {
			s.Flaws = append(s.Flaws, f)
		}
	}
	return s
}

// level is the outline at a share of the thickness below the show face: the
// stations of both faces mixed, or the nearer of two outlines.
func (s Slab) level(w stock.Wood, share float64) ([]Station, geom.Ring) {
	if w.Closed() {
		if share < 0.5 {
			return nil, w.Show.Ring()
		}
		return nil, w.Under.Ring()
	}
	var xs []float64
	for _, st := range slices.Concat(s.Show, s.Under) {
		xs = append(xs, st.X)
	}
	slices.Sort(xs)
	var out []Station
	mix := func(a, b float64) float64 { return math.Round((a+(b-a)*share)*100) / 100 }
	for _, x := range slices.Compact(xs) {
		out = append(
			out,
			Station{X: x, Left: mix(w.Show.Left(x), w.Under.Left(x)), Right: mix(w.Show.Right(x), w.Under.Right(x))},
		)
	}
	return out, nil
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
	s.LeftBark, s.RightBark = s.RightBark, s.LeftBark
	s.Glue = s.Glue.Turn()
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
