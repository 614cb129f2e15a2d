package slab

import (
	"fmt"
	"math"
	"slices"

	"idletimber/craft/geom"
	"idletimber/craft/glue"
	"idletimber/craft/moisture"
	"idletimber/craft/rule"
	"idletimber/craft/species"
	"idletimber/craft/stock"
)

// Panel reports a piece that is glued up of parts, or to be; not one that was cut from it.
func (s Slab) Panel() bool { return s.Glue != nil && s.Glue.Cut == nil }

// Made reports a piece that is made of others: glued up, or cast.
func (s Slab) Made() bool { return s.Panel() || s.River != nil }

// Sources are the ids of the pieces that the strips of a panel are cut from.
func (s Slab) Sources() (ids []string) {
	if !s.Panel() {
		return nil
	}
	for _, t := range s.Glue.All() {
		if t.Piece != "" && !slices.Contains(ids, t.Piece) {
			ids = append(ids, t.Piece)
		}
	}
	return ids
}

// Settled is a panel with what follows from its parts: its size, faces, thickness and
// species. A piece that is not glued up is as it was, and so is one that was cut from a
// panel: its own edges and readings hold.
func (s Slab) Settled() Slab {
	if s.River != nil {
		return s.cast()
	}
	p := s.Glue
	if p == nil || p.Cut != nil || len(p.Strips) == 0 {
		return s
	}
	shape := p.Size()
	s.Stock, s.Species, s.Length = StockPanel, p.Main(), math.Round(shape.Length*100)/100
	s.Under, s.UnderLine, s.Outline = nil, nil, nil
	half := shape.Width / 2
	s.Show = []Station{{0, half, -half}, {s.Length, half, -half}}
	if p.Construction == glue.Unequal {
		s.Show, s.Outline = []Station{}, p.Shape().Outline
	}
	s.LiveLeft, s.LiveRight, s.NaturalEnds = false, false, false
	s.PriceCents, s.PriceBy = p.Cents(), ByPiece
	s.Reclaimed = slices.ContainsFunc(p.Strips, func(t glue.Strip) bool { return t.Reclaimed })
	if !p.Measured || len(s.Readings) == 0 {
		s.Readings = []Reading{{X: s.Length / 2, Thickness: shape.Thinnest}}
		if shape.Thickest > shape.Thinnest {
			s.Readings = append(s.Readings, Reading{X: s.Length / 2, Thickness: shape.Thickest})
		}
		s.Hollow, s.Wind, s.UnderHollow, s.UnderWind = 0, 0, 0, 0
	}
	s.Veneer = 0
	for _, t := range p.Strips { // the thinnest that lies with its face up
		if t.Veneer > 0 && !p.Edge() && (s.Veneer == 0 || t.Veneer < s.Veneer) {
			s.Veneer = t.Veneer
		}
	}
	return s
}

// glued completes the wood of a panel: what is where in it, and its strips' flaws.
func (s Slab) glued(w *stock.Wood, own []species.Species) {
	shape := s.Glue.Shape()
	w.Grain, w.Rough.Glued = s.Glue.Grain(shape, own), true
	w.History.Sheet = s.Glue.Base != nil && s.Glue.Base.Sheet ||
		slices.ContainsFunc(s.Glue.Strips, func(t glue.Strip) bool { return t.Sheet })
	if s.Glue.Slope != nil { // a planer would take its slope off: it is only sanded
		w.Rough.Faced, w.Rough.Surfaced = true, w.Rough.Thinnest
	}
	if s.Glue.Cut != nil {
		return // its flaws came with it
	}
	w.Flaws = append(slices.Clone(s.Flaws), s.Glue.Flaws(shape)...)
}

// Source is a piece that strips are cut from, and where each lies on it as a rectangle about
// its middle.
type Source struct {
	ID    string
	Slab  Slab
	Gone  bool // off the rack
	Spots map[string]geom.Placement
}

// Gather takes over into the strips of a panel what their pieces say: species,
// thickness, rings, moisture, flaws, and their part of the price, by the face that they
// take up; and from the rules what flattening takes. A strip that its piece does not
// give says why. A panel that was not read yet has the log of its wettest piece.
func (s Slab) Gather(sources []Source, rules rule.Set, own []species.Species) Slab {
	if !s.Panel() {
		return s
	}
	p := *s.Glue
	p.Strips, p.Spares = slices.Clone(p.Strips), slices.Clone(p.Spares)
	p.Clean = new(rules.Get(rule.GlueClean))
	s.Glue = &p
	wettest, log := -1.0, []moisture.Reading{}
	for _, list := range [][]glue.Strip{p.Strips, p.Spares} {
		for i := range list {
			t := &list[i]
			t.Problem, t.Yield = "", 0
			if t.Piece == "" {
				continue
			}
			k := slices.IndexFunc(sources, func(o Source) bool { return o.ID == t.Piece })
			if k < 0 {
				t.Problem = "Its piece is nowhere on the rack: take another, or buy it"
				continue
			}
			from := sources[k]
			from.give(t, p.Kerf, rules, own)
			if n := len(from.Slab.Moisture); n > 0 {
				t.Moisture = from.Slab.Moisture[n-1].Percent
				if t.Moisture > wettest {
					wettest, log = t.Moisture, from.Slab.Moisture
				}
			}
		}
	}
	if len(s.Moisture) == 0 {
		s.Moisture = slices.Clone(log)
	}
	return s
}

// give takes a piece's measures over into a strip of it.
func (o Source) give(t *glue.Strip, kerf float64, rules rule.Set, own []species.Species) {
	w := Draw(o.Slab, own)
	at, laid := o.Spots[t.ID]
	t.Sheet, t.Veneer = w.History.Sheet, o.Slab.Veneer
	t.Reclaimed = t.Reclaimed || o.Slab.Reclaimed
	middle := geom.Point{X: o.Slab.Length / 2}
	if laid {
		middle = geom.Point{X: at.X, Y: at.Y}
	}
	here := w.Grain.At(middle)
	t.Species, t.Rings = here.Species.Name, here.Rings
	budget := w.Plan(stock.Blank{Length: t.Length, Width: t.Width}, rules)
	flat := math.Floor(budget.Flat*100) / 100
	t.Yield = glue.RipYield(w.MeanWidth(), t.Width, kerf, rules)
	jointed := t.Width + rules.Get(rule.Jointing)
	switch {
	case o.Gone:
		t.Problem = o.Slab.Name + " is off the rack: take another piece, or buy it"
	case !laid:
		t.Problem = fmt.Sprintf("%s has no place for it, {%g} × {%g} with its jointing", o.Slab.Name,
			math.Round(t.Length*100)/100, math.Round(jointed*100)/100)
	case flat < 1:
		t.Problem = "Flattening leaves nothing of " + o.Slab.Name
	}
	if flat >= 1 {
		t.Thickness = min(t.Thickness, flat)
	}
	if face := w.Show.Area(); face > 0 {
		t.Cents = int(math.Round(w.Cost * min(1, t.Length*(jointed+kerf)/face)))
	}
	found := slices.DeleteFunc(slices.Clone(t.Flaws), func(f stock.Flaw) bool { return carried(f) })
	t.Flaws = found
	if !laid {
		return
	}
	off := max(0, (w.Rough.Thinnest-t.Thickness)/2)
	for _, f := range w.Flaws {
		f, ok := f.Between(off, off+t.Thickness, w.Rough.Thinnest)
		if !ok {
			continue
		}
		f = f.In(at).Out(geom.Placement{X: t.Length / 2})
		box := f.Footprint().Bounds()
		if box.MaxX < 0 || box.MinX > t.Length || box.MaxY < -t.Width/2 || box.MinY > t.Width/2 {
			continue
		}
		f.ID, f.Centre.X = ofPiece+f.ID, min(max(f.Centre.X, 0), t.Length)
		t.Flaws = append(t.Flaws, f)
	}
}

// ofPiece begins the ids of flaws that a strip has of its piece; others were found in it.
const ofPiece = "piece:"

func carried(f stock.Flaw) bool { return len(f.ID) > len(ofPiece) && f.ID[:len(ofPiece)] == ofPiece }
