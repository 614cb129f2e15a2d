package glue

import (
	"fmt"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/species"
	"idletimber/craft/stock"
)

// How the parts of a panel stand.
const (
	Flat    = "flat"            // wide faces up
	OnEdge  = "on edge"         // turned by 90°
	Stacked = "stacked quarter" // on edge, of plain-sawn wood: its rings then stand
	Blocks  = "end grain"       // a panel on edge, cross-cut, its slices stood up
	Arrows  = "chevron"         // a striped panel, cut at an angle, every other slice turned over
	Unequal = "unequal lengths" // flat, some longer than others: they become handles
)

// What of a panel may come open, and is glued again.
const (
	OpenedJoint = "opened joint"
	SplitPly    = "split ply"
)

// MostStrips bounds the strips of a panel, mostParts what it is cut into.
const (
	MostStrips = 60
	mostParts  = 1500
)

// Panel is what a piece of timber is glued up of: its strips as they lie, from the left
// edge to the right, and how they are glued.
type Panel struct {
	Construction string   `json:"construction" enum:"flat,on edge,stacked quarter,end grain,chevron,unequal lengths" doc:"How its parts stand"`
	Strips       []Strip  `json:"strips" doc:"As they lie, from the left edge to the right"`
	Spares       []Strip  `json:"spares,omitempty" doc:"Cut besides, in case one shows a flaw"`
	Raised       bool     `json:"raised,omitempty" doc:"The strips of a chevron stand on edge"`
	Degrees      float64  `json:"degrees,omitempty" range:"15,85,when" doc:"Of a chevron's cuts to its strips"`
	Slice        float64  `json:"slice,omitempty" mm:"5,400,when" doc:"Width of the slices that it is cut into"`
	Kerf         float64  `json:"kerf,omitempty" mm:"0,12" doc:"Of the saw that rips and slices"`
	Clean        *float64 `json:"clean,omitempty" mm:"0,5" doc:"Flattening, off each face; the usual without it"`
	Staggered    bool     `json:"staggered,omitempty" doc:"Each strip of a chevron is set on from the one before"`
	Reversed     bool     `json:"reversed,omitempty" doc:"Every other slice of end grain is turned end for end"`
	Glue         string   `json:"glue" doc:"By its name in the table"`
	Brush        bool     `json:"brush,omitempty" doc:"Spread by brush, not by roller"`
	Caul         float64  `json:"caul,omitempty" mm:"0,150" doc:"Between the clamps and the outer strips"`
	Sacrificial  bool     `json:"sacrificial,omitempty" doc:"Scraps before and behind take the planer's snipe"`
	Finished     float64  `json:"finished,omitempty" mm:"0,300" doc:"How thick its boards are to be; 0: not decided"`
	Measured     bool     `json:"measured,omitempty" doc:"It was measured when it was glued: its own readings hold"`
	Repair       string   `json:"repair,omitempty" enum:",opened joint,split ply" doc:"What is glued again"`
	Over         bool     `json:"over,omitempty" doc:"It was turned over since it was glued"`
	Fitted       string   `json:"fitted,omitempty" doc:"Id of the picture of its dry fit"`

	Base  *Base  `json:"base,omitempty" doc:"What the pattern is glued on, as a face"`
	Slope *Slope `json:"slope,omitempty" doc:"The profile of a core that drains"`

	Cut *geom.Placement `json:"cut,omitempty" doc:"Where a piece that was cut from a glued panel lies in it"`
}

// Strip is one part of a panel, in a frame of its own: x along it from its butt end, y
// across its wide face from the middle to the left, that face up.
type Strip struct {
	ID        string       `json:"id" doc:"Its own for good"`
	Species   string       `json:"species" doc:"By its name in the table, or among the shop's own"`
	Length    float64      `json:"length" mm:"20,5000" doc:"As it is cut, mm"`
	Width     float64      `json:"width" mm:"3,1000" doc:"Of its wide face, ripped and jointed"`
	Thickness float64      `json:"thickness" mm:"1,300" doc:"Of its stock, planed"`
	Along     float64      `json:"along,omitempty" mm:"-3000,3000" doc:"Where its butt lies from the others'"`
	Rings     float64      `json:"rings,omitempty" range:"0,90" doc:"To its wide face: 0 plain-sawn, 90 quarter-sawn"`
	Turned    bool         `json:"turned,omitempty" doc:"End for end"`
	Flipped   bool         `json:"flipped,omitempty" doc:"Its other face up, or to the left where it stands on edge"`
	Piece     string       `json:"piece,omitempty" doc:"Id of the piece of the rack that it is cut from"`
	AtHand    bool         `json:"atHand,omitempty" doc:"An offcut that is on no rack: nothing is to be bought"`
	Cents     int          `json:"cents,omitempty" range:"0,1e8" doc:"Its price, or its part of the piece's"`
	Moisture  float64      `json:"moisture,omitempty" range:"0,100" doc:"Latest reading, %; 0 without one"`
	Sheet     bool         `json:"sheet,omitempty" doc:"Of sheet stock"`
	Veneer    float64      `json:"veneer,omitempty" mm:"0,10" doc:"Thickness of its face veneer"`
	Reclaimed bool         `json:"reclaimed,omitempty" doc:"Of unknown treatment"`
	Paint     string       `json:"paint,omitempty" enum:",none,untested,lead,no lead" doc:"What its test says"`
	Flaws     []stock.Flaw `json:"flaws,omitempty" doc:"Of its piece, and what showed when it was ripped"`
	Shaped    string       `json:"shaped,omitempty" enum:",recess,bowl,slope,cut" doc:"Made in it before it is glued"`
	Yield     int          `json:"yield,omitempty" range:"0,1000" doc:"Such strips that its piece gives side by side"`
	Problem   string       `json:"problem,omitempty" doc:"Why it cannot be cut from its piece; empty when it can"`
}

// Edge reports strips that stand on edge when they are first glued.
func (p Panel) Edge() bool {
	switch p.Construction {
	case OnEdge, Stacked, Blocks:
		return true
	case Arrows:
		return p.Raised
	}
	return false
}

// Again reports a panel that is cut into slices and glued again.
func (p Panel) Again() bool { return p.Construction == Blocks || p.Construction == Arrows }

// Section is how wide a strip lies in the striped panel, and how thick it stands, mm.
func (p Panel) Section(s Strip) (across, thick float64) {
	if p.Edge() {
		return s.Thickness, s.Width
	}
	return s.Width, s.Thickness
}

// Check reports what is out of range or unknown, and strips that make no panel.
func (p Panel) Check(field string, own []species.Species) (ps craft.Problems) {
	ps.InRange(field, p)
	ps.OneOf(field+".construction", p.Construction, Flat, OnEdge, Stacked, Blocks, Arrows, Unequal)
	if _, ok := Find(p.Glue); !ok {
		ps.Add(field+".glue", fmt.Sprintf("%q is no known glue", p.Glue), "choose one of the table")
	}
	ps.OneOf(field+".repair", p.Repair, "", OpenedJoint, SplitPly)
	if p.Again() {
		ps.InRangeOf(field, p, "slice")
	}
	if p.Construction == Arrows {
		ps.InRangeOf(field, p, "degrees")
	}
	if len(p.Fitted) > 64 {
		ps.Add(field+".fitted", "the id is too long", "name a picture of the workshop by its id")
	}
	if len(p.Strips) < 1 || len(p.Strips) > MostStrips {
		ps.Add(field+".strips", fmt.Sprintf("there are %d strips", len(p.Strips)),
			fmt.Sprintf("glue from 1 to %d", MostStrips))
		return ps
	}
	if len(p.Spares) > MostStrips {
		ps.Add(field+".spares", "there are too many spare strips", fmt.Sprintf("cut at most %d", MostStrips))
		return ps
	}
	seen := map[string]bool{}
	check := func(at string, strips []Strip) {
		for i, s := range strips {
			at := fmt.Sprintf("%s[%d]", at, i)
			if s.ID == "" || len(s.ID) > 64 || seen[s.ID] {
				ps.Add(at+".id", "the id is empty, too long or used twice", "give every strip an id of its own")
			}
			seen[s.ID] = true
			ps = append(ps, s.check(at, own)...)
		}
	}
	check(field+".strips", p.Strips)
	check(field+".spares", p.Spares)
	if p.Cut != nil {
		ps.InRange(field+".cut", *p.Cut)
	}
	ps = append(ps, p.checkLayers(field, own)...)
	if len(ps) > 0 {
		return ps
	}
	return append(ps, p.meets(field)...)
}

func (s Strip) check(field string, own []species.Species) (ps craft.Problems) {
	ps.InRange(field, s)
	ps = append(ps, species.Check(field+".species", s.Species, own)...)
	ps.OneOf(field+".paint", s.Paint, "", "none", "untested", "lead", "no lead")
	ps.OneOf(field+".shaped", s.Shaped, "", "recess", "bowl", "slope", "cut")
	if len(s.Piece) > 64 || len(s.Problem) > 1000 {
		ps.Add(field+".piece", "the text is too long", "name a piece of the rack by its id")
	}
	const most = 40
	if len(s.Flaws) > most {
		ps.Add(field+".flaws", "there are too many flaws on one strip", fmt.Sprintf("mark at most %d", most))
		return ps
	}
	for i, f := range s.Flaws {
		ps = append(ps, f.Check(fmt.Sprintf("%s.flaws[%d]", field, i), s.Length)...)
		if f.ID == "" || len(f.ID) > 100 {
			ps.Add(fmt.Sprintf("%s.flaws[%d].id", field, i), "the id is empty or too long", "give every flaw an id")
		}
	}
	return ps
}

// least is how long a panel must come out, and how far neighbours must lie beside each
// other, mm.
const least = 20

// meets reports strips that do not lie beside each other, and panels of which nothing is
// left when they are cut again.
func (p Panel) meets(field string) (ps craft.Problems) {
	shape := p.Size()
	switch {
	case p.Again() && shape.Slices.Count*len(p.Strips) > mostParts:
		ps.Add(field+".slice", fmt.Sprintf("it would be cut into %d parts", shape.Slices.Count*len(p.Strips)),
			fmt.Sprintf("cut wider slices, or fewer strips: at most %d parts", mostParts))
	case p.Again() && (shape.Slices.Count < 1 || shape.Length < least):
		ps.Add(field+".slice", fmt.Sprintf("no slice comes out of strips %.0f mm long", p.striped().Length),
			"cut narrower slices, take longer strips, or set them on staggered")
	case p.Construction == Unequal:
		for i := 1; i < len(p.Strips); i++ {
			if from, to := beside(p.Strips[i-1], p.Strips[i]); to-from < least {
				ps.Add(
					fmt.Sprintf("%s.strips[%d].along", field, i),
					"the strip does not lie beside the one before it",
					"set it on by less",
				)
			}
		}
	case shape.Length < least:
		ps.Add(field+".strips[0].along", fmt.Sprintf("the strips share %.0f mm of length", max(0, shape.Length)),
			"set them on by less: the panel is as long as all of them lie beside each other")
	}
	return ps
}

// beside is from where to where two strips lie beside each other.
func beside(a, b Strip) (from, to float64) {
	return max(a.Along, b.Along), min(a.Along+a.Length, b.Along+b.Length)
}
