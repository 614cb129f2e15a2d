package slab

import (
	"math"
	"slices"

	"idletimber/craft/geom"
	"idletimber/craft/stock"
)

// Part is a piece of its own made of a ring of this one's show face and, where
// that was measured, a ring of its under face; the frame moves to the part's
// own butt end and middle, along the same grain. It costs nothing: its price
// went to the boards. Readings, flaws and features go with the place they lie
// in.
func (s Slab) Part(name string, show, under geom.Ring) Slab {
	s = s.Settled()
	w := Draw(s, nil)
	was := s
	box := show.Bounds()
	for _, p := range under {
		box.MinX, box.MaxX = min(box.MinX, p.X), max(box.MaxX, p.X)
	}
	d := geom.Point{X: -box.MinX, Y: -(box.MinY + box.MaxY) / 2}
	s.Name, s.Stock, s.Length = name, StockOffcut, math.Ceil((box.MaxX-box.MinX)*100)/100
	s.Show, s.Under, s.RipLeft, s.RipRight = nil, nil, 0, 0
	s.Outline, s.UnderLine = tidy(show.Map(d.Add)), nil
	if len(under) > 2 {
		s.UnderLine = tidy(under.Map(d.Add))
	}
	s.Glue = was.Glue.Off(geom.Placement{X: -d.X, Y: -d.Y})
	s.LiveLeft, s.LiveRight = liveAlong(w, show)
	share := show.Area() / w.Show.Area()
	s.Hollow, s.UnderHollow = was.Hollow*share, was.UnderHollow*share
	s.Wind, s.UnderWind = was.Wind*share, was.UnderWind*share
	s.Leaf, s.LeafTurned = 0, false
	s.PriceCents, s.PriceBy, s.ShowLook, s.UnderLook, s.NaturalEnds = 0, ByPiece, nil, nil, false
	if was.Bought != nil {
		b := *was.Bought
		b.CostCents = 0
		s.Bought = &b
	}
	s.Moisture = slices.Clone(was.Moisture)
	s.Readings = nil
	for _, r := range was.Readings {
		if p := (geom.Point{X: r.X, Y: r.Y}); show.Contains(p) {
			s.Readings = append(s.Readings, Reading{X: r.X + d.X, Y: r.Y + d.Y, Thickness: r.Thickness})
		}
	}
	if len(s.Readings) == 0 {
		s.Readings = []Reading{{X: s.Length / 2, Thickness: math.Round(w.Rough.Mean*100) / 100}}
	}
	s.Flaws = []stock.Flaw{}
	for _, f := range w.Flaws {
		if len(geom.Common(f.Footprint(), show)) == 0 {
			continue
		}
		f.Centre, f.Line = f.Centre.Add(d), geom.Ring(f.Line).Map(d.Add)
		f.Centre.X = min(max(f.Centre.X, 0), s.Length)
		s.Flaws = append(s.Flaws, f)
	}
	s.Features = nil
	for _, f := range w.Features {
		if len(geom.Common(f.Footprint(), show)) == 0 {
			continue
		}
		f.Centre, f.Line = f.Centre.Add(d), geom.Ring(f.Line).Map(d.Add)
		s.Features = append(s.Features, f)
	}
	return s
}

// tolerance is how far an outline that is kept may stray from what was
// measured, mm.
const tolerance = 0.05

// tidy drops the nodes that an outline does not need, and what is too many.
// Slivers too thin to be kept apart from their own other side go.
func tidy(r geom.Ring) geom.Ring {
	for t := tolerance; ; t *= 2 {
		out := r.Simplified(t).Rounded(0.01)
		if len(out) > MostNodes {
			continue
		}
		if !out.SelfCrosses() {
			return out
		}
		if opened := r.Shrunk(t).Grown(t); len(opened) > 2 {
			r = opened
		}
	}
}

// liveAlong tells which edges of a part are natural: those that follow a live
// edge of the whole for a while.
func liveAlong(w stock.Wood, part geom.Ring) (left, right bool) {
	const close, enough = 0.3, 40
	partLeft, partRight := stock.Edges(part)
	wholeLeft, wholeRight := stock.Edges(w.Show.Ring())
	follows := func(line, edge []geom.Point) bool {
		var sum float64
		for i := 0; i+1 < len(line); i++ {
			if nearLine(line[i], edge) < close && nearLine(line[i+1], edge) < close {
				sum += line[i+1].Sub(line[i]).Len()
			}
		}
		return sum > enough
	}
	return w.LiveLeft && follows(partLeft, wholeLeft), w.LiveRight && follows(partRight, wholeRight)
}

// nearLine is the distance of p from an open line, mm.
func nearLine(p geom.Point, line []geom.Point) float64 {
	best := math.Inf(1)
	for i := 0; i+1 < len(line); i++ {
		_, d := geom.Ring{line[i], line[i+1]}.Nearest(p)
		best = min(best, d)
	}
	return best
}
