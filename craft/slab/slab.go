// Package slab is the piece of wood: its edges measured at stations, its
// thickness, its flaws, and what flattening leaves of it. Lengths in mm.
//
// The frame: x along the slab from the butt end, y across from the chalk line,
// positive to the left when looking up the slab from the butt with the show
// face up.
package slab

import (
	"fmt"
	"math"
	"time"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/glue"
	"idletimber/craft/moisture"
	"idletimber/craft/river"
	"idletimber/craft/species"
	"idletimber/craft/stock"
)

// Station is the left and right edge at a distance x from the butt end.
type Station struct {
	X     float64 `json:"x" doc:"From the butt, mm"`
	Left  float64 `json:"left" mm:"-5000,5000" doc:"Left edge from the chalk line, positive to the left"`
	Right float64 `json:"right" mm:"-5000,5000" doc:"Right edge from the chalk line, less than left"`
}

// Width is the distance between the edges.
func (s Station) Width() float64 { return s.Left - s.Right }

// Reading is a thickness measured at a place.
type Reading struct {
	X         float64 `json:"x" doc:"From the butt, mm"`
	Y         float64 `json:"y" doc:"To the left of the chalk line, mm"`
	Thickness float64 `json:"thickness" mm:"1,500" doc:"mm"`
}

// Slab is one piece of wood as it was measured.
type Slab struct {
	Name        string             `json:"name" doc:"What the maker calls it"`
	Species     string             `json:"species" doc:"By its name in the table, or among the shop's own"`
	Length      float64            `json:"length" mm:"20,10000" doc:"From the butt to the far end, mm"`
	Stock       string             `json:"stock,omitempty" enum:"slab,plank,panel,sheet,offcut,slice" doc:"Empty: slab"`
	Show        []Station          `json:"show" doc:"Edges of the show face, unless there is an outline"`
	Under       []Station          `json:"under,omitempty" doc:"Edges of the under face where they differ"`
	Outline     geom.Ring          `json:"outline,omitempty" doc:"The show face as a closed line, in place of stations"`
	UnderLine   geom.Ring          `json:"underOutline,omitempty" doc:"The under face as a closed line"`
	RipLeft     float64            `json:"ripLeft,omitempty" mm:"0,1000,when" doc:"To be ripped off the left edge"`
	RipRight    float64            `json:"ripRight,omitempty" mm:"0,1000,when" doc:"The same at the right edge"`
	LiveLeft    bool               `json:"liveLeft" doc:"Its left edge is natural"`
	LiveRight   bool               `json:"liveRight" doc:"Its right edge is natural"`
	LeftBark    string             `json:"leftBark,omitempty" enum:",loose,splintery,bare" doc:"Left; empty: sound"`
	RightBark   string             `json:"rightBark,omitempty" enum:",loose,splintery,bare" doc:"The same, right"`
	LeftEdge    string             `json:"leftEdge,omitempty" enum:",jointed,factory,sawn" doc:"Its left edge"`
	RightEdge   string             `json:"rightEdge,omitempty" enum:",jointed,factory,sawn" doc:"The same, right"`
	Reserved    string             `json:"reserved,omitempty" doc:"For whom or what it is kept"`
	NaturalEnds bool               `json:"naturalEnds" doc:"The ends are kept as found: no squaring allowance"`
	Uneven      bool               `json:"uneven" doc:"The maker accepts an uneven thickness: no flattening"`
	Readings    []Reading          `json:"readings" doc:"Thickness readings"`
	Hollow      float64            `json:"hollow" mm:"0,200" doc:"Cup or bow of the show face, beside the readings"`
	Wind        float64            `json:"wind" mm:"0,200" doc:"Lift of the fourth corner, show face up"`
	UnderHollow float64            `json:"underHollow,omitempty" mm:"0,200" doc:"The same of the under face"`
	UnderWind   float64            `json:"underWind,omitempty" mm:"0,200" doc:"The same with the under face up"`
	Unshimmed   bool               `json:"unshimmed" doc:"Wind is planed away from one side, not shared"`
	Moisture    []moisture.Reading `json:"moisture" doc:"Its log"`
	RingAngle   float64            `json:"ringAngle" range:"0,90" doc:"0 plain-sawn, 90 quarter-sawn"`
	RingRadius  float64            `json:"ringRadius,omitempty" mm:"0,10000" doc:"Of the rings; 0 if not known"`
	Reference   float64            `json:"reference,omitempty" range:"0,40" doc:"Read on a home-dry piece, %"`
	Home        *moisture.Home     `json:"home,omitempty" doc:"Where its boards go, if not to the shop's usual home"`
	PriceCents  int                `json:"priceCents" range:"0,1e9" doc:"By piece, board foot or cubic metre"`
	PriceBy     string             `json:"priceBy,omitempty" enum:"piece,board foot,cubic metre" doc:"Of what"`
	Veneer      float64            `json:"veneer,omitempty" mm:"0,10" doc:"Thickness of its face veneer"`
	Reclaimed   bool               `json:"reclaimed" doc:"Of unknown treatment"`
	Origin      *Origin            `json:"origin,omitempty" doc:"Where it came from"`
	Bought      *Bought            `json:"bought,omitempty" doc:"Work that was done elsewhere"`
	Flaws       []stock.Flaw       `json:"flaws" doc:"On either face"`
	Features    []stock.Feature    `json:"features,omitempty" doc:"What is worth showing"`
	ShowLook    *Look              `json:"showLook,omitempty" doc:"Its show face"`
	UnderLook   *Look              `json:"underLook,omitempty" doc:"Its under face"`
	Leaf        int                `json:"leaf,omitempty" range:"0,100" doc:"From the show face down"`
	LeafTurned  bool               `json:"leafTurned,omitempty" doc:"It was turned over since it was sawn"`
	ShowChosen  bool               `json:"showChosen,omitempty" doc:"The show face is chosen and marked"`
	Notes       string             `json:"notes" doc:"The maker's own"`
	Glue        *glue.Panel        `json:"glue,omitempty" doc:"What it is glued up of; left out for one piece"`
	River       *river.River       `json:"river,omitempty" doc:"How it is cast of wood and resin"`
}

// Most bounds how much one slab may hold.
const (
	MostStations = 400
	MostFlaws    = 400
	MostReadings = 1000
	MostNodes    = 1000
)

// Check reports what is out of range or unknown.
// The maker's own species are known besides those of the table.
func (s Slab) Check(field string, now time.Time, own []species.Species) (ps craft.Problems) {
	if s.Glue != nil {
		if ps = s.Glue.Check(field+".glue", own); len(ps) > 0 {
			return ps
		}
		s = s.Settled()
	}
	if s.River != nil {
		if s.Glue != nil {
			ps.Add(field+".river", "the piece is glued up and cast", "leave one of the two out")
		}
		if ps = append(ps, s.River.Check(field+".river", own)...); len(ps) > 0 {
			return ps
		}
		s = s.Settled()
	}
	ps.InRange(field, s)
	if s.Name == "" {
		ps.Add(field+".name", "the name is empty", "give the piece a name that you will know it by")
	}
	if len(s.Name) > 200 {
		ps.Add(field+".name", "the name is too long", "use at most 200 characters")
	}
	if len(s.Reserved) > 200 {
		ps.Add(field+".reserved", "it is too long", "use at most 200 characters")
	}
	if len(s.Notes) > 20000 {
		ps.Add(field+".notes", "the notes are too long", "use at most 20 000 characters")
	}
	ps = append(ps, species.Check(field+".species", s.Species, own)...)
	if !s.Panel() { // those of a panel follow from its strips
		ps = append(ps, s.checkEdges(field)...)
	}
	if len(s.Readings) == 0 || len(s.Readings) > MostReadings {
		ps.Add(
			field+".readings",
			"there must be from 1 to 1000 thickness readings",
			"measure the thickness at one place at least",
		)
	}
	for i, r := range s.Readings {
		at := fmt.Sprintf("%s.readings[%d]", field, i)
		ps.InRange(at, r)
		ps.Length(at+".x", r.X, 0, s.Length)
		ps.Length(at+".y", r.Y, -5000, 5000)
	}
	if s.Home != nil {
		ps = append(ps, s.Home.Check(field+".home")...)
	}
	ps.OneOf(field+".stock", s.Stock, "", StockSlab, StockPlank, StockPanel, StockSheet, StockOffcut, StockSlice)
	ps.OneOf(field+".priceBy", s.PriceBy, "", ByPiece, ByBoardFoot, ByCubicMetre)
	if s.Origin != nil {
		ps = append(ps, s.Origin.Check(field+".origin")...)
	}
	for name, state := range map[string]string{"leftBark": s.LeftBark, "rightBark": s.RightBark} {
		ps.OneOf(field+"."+name, state, "", stock.Loose, stock.Splintery, stock.Bare)
	}
	if s.Bought != nil {
		ps = append(ps, s.Bought.Check(field+".bought")...)
	}
	ps = append(ps, s.ShowLook.check(field+".showLook")...)
	ps = append(ps, s.UnderLook.check(field+".underLook")...)
	ps = append(ps, moisture.Check(field+".moisture", s.Moisture, now)...)
	if len(s.Flaws) > MostFlaws {
		ps.Add(field+".flaws", "there are too many flaws", "mark at most 400")
		return ps
	}
	seen := map[string]bool{}
	for i, f := range s.Flaws {
		at := fmt.Sprintf("%s.flaws[%d]", field, i)
		ps = append(ps, f.Check(at, s.Length)...)
		if f.ID == "" || len(f.ID) > 64 || seen[f.ID] {
			ps.Add(at+".id", "the id is empty, too long or used twice", "give every flaw an id of its own")
		}
		seen[f.ID] = true
	}
	return append(ps, s.checkFeatures(field+".features", seen)...)
}

// Thinnest and Thickest are the extremes of the thickness readings.
func (s Slab) Thinnest() float64 {
	t := math.Inf(1)
	for _, r := range s.Readings {
		t = min(t, r.Thickness)
	}
	return t
}

// Thickest is the largest of the thickness readings.
func (s Slab) Thickest() float64 {
	t := 0.0
	for _, r := range s.Readings {
		t = max(t, r.Thickness)
	}
	return t
}

// ThicknessAt is how thick the piece is so far along it, mm: evenly between the readings
// beside it, and as the last one beyond them all.
func (s Slab) ThicknessAt(x float64) float64 {
	if s.Bought != nil && s.Bought.Thickness > 0 {
		return s.Bought.Thickness
	}
	low, high := Reading{X: math.Inf(-1)}, Reading{X: math.Inf(1)}
	for _, r := range s.Readings {
		if r.X <= x && r.X >= low.X {
			low = r
		}
		if r.X >= x && r.X <= high.X {
			high = r
		}
	}
	switch {
	case math.IsInf(low.X, -1):
		return high.Thickness
	case math.IsInf(high.X, 1) || high.X == low.X:
		return low.Thickness
	}
	return low.Thickness + (high.Thickness-low.Thickness)*(x-low.X)/(high.X-low.X)
}

// MeanThickness is the mean of the thickness readings.
func (s Slab) MeanThickness() float64 {
	var sum float64
	for _, r := range s.Readings {
		sum += r.Thickness
	}
	return sum / float64(len(s.Readings))
}
