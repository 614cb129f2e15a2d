// Package fitting is what is put on a board at the end: feet, a cord, pulls, a
// bolted-on handle, a locating cleat, a wire slicer. Lengths in mm, places in
// the board's own frame.
package fitting

import (
	"cmp"
	"fmt"
	"math"
	"strings"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
)

// Choice is what a board is fitted with.
type Choice struct {
	Feet bool `json:"feet" doc:"Four feet, which mark the underside"`
	Cord bool `json:"cord" doc:"A hanging cord"`

	FootInset  float64 `json:"footInset,omitempty" mm:"0,500" doc:"From the outline to its centre; 0 for the usual"`
	FootHeight float64 `json:"footHeight,omitempty" mm:"0,100" doc:"Of the feet, mm; 0 for the usual"`
	CordLength float64 `json:"cordLength,omitempty" mm:"0,5000" doc:"With its knot; 0 for the shop's rule"`
	Ferrules   bool    `json:"ferrules,omitempty" doc:"A ferrule on each end of the cord"`
	Ferrule    float64 `json:"ferrule,omitempty" mm:"0,200" doc:"Length of a ferrule; 0 for the usual"`
	Pulls      *Pull   `json:"pulls,omitempty" doc:"Pulls that are screwed on"`
	Bolted     *Bolted `json:"bolted,omitempty" doc:"A wooden handle with bolts through the board"`
	Cleat      *Cleat  `json:"cleat,omitempty" doc:"A cleat under the far end"`
	Slicer     *Slicer `json:"slicer,omitempty" doc:"A wire slicer"`
	Coin       *Coin   `json:"coin,omitempty" doc:"A coin let into a face"`
	Stamp      bool    `json:"stamp,omitempty" doc:"A stamp or brand burnt in"`

	When      string  `json:"when,omitempty" enum:",before,between" doc:"The coats; left out: after them"`
	MarkEnd   string  `json:"markEnd,omitempty" enum:",handle end,far end" doc:"Of the marks; left out: nearer"`
	MarkSide  string  `json:"markSide,omitempty" enum:",left side,right side" doc:"The same, of a side"`
	FootOver  float64 `json:"footOver,omitempty" mm:"0,200" doc:"Height of a bowl that stands beneath it"`
	CordThick float64 `json:"cordThick,omitempty" mm:"0,20" doc:"Of the cord; 0 for the usual"`
	CordSoft  bool    `json:"cordSoft,omitempty" doc:"Leather or soft cord, which is squeezed through"`
	CordDrop  float64 `json:"cordDrop,omitempty" mm:"0,1000" doc:"From the hole to the peg: reckons its length"`
}

// Coin is a coin, or a disc with a mark, let into a face.
type Coin struct {
	Diameter float64 `json:"diameter" mm:"5,80" doc:"Of the coin"`
	Deep     float64 `json:"deep" mm:"0.5,20" doc:"Of its seat: as thick as the coin, and what is sanded off"`
	X        float64 `json:"x" mm:"-2500,2500" doc:"Of its middle, from the board's centre"`
	Y        float64 `json:"y" mm:"-2500,2500" doc:"Of its middle, to the left of the board's, mm"`
	Show     bool    `json:"show,omitempty" doc:"In the show face; else in the under face"`
}

// Pull is a bought pull screwed on at one end or both.
type Pull struct {
	Both        bool    `json:"both" doc:"One at each end"`
	Machine     bool    `json:"machine" doc:"Held by machine screws from below; otherwise by wood screws from above"`
	Spacing     float64 `json:"spacing" mm:"0,1000" doc:"Between its two holes"`
	Setback     float64 `json:"setback" mm:"3,1000" doc:"From the end to the line of holes"`
	Offset      float64 `json:"offset" mm:"-1000,1000" doc:"Off the middle of the width there, positive to the left"`
	Foot        float64 `json:"foot" mm:"0,60" doc:"Thickness of the part that is screwed on"`
	Countersink float64 `json:"countersink" mm:"0,30" doc:"How deep the head is sunk, mm"`
	Screw       float64 `json:"screw" mm:"1.5,12" doc:"Nominal diameter of the screw"`
	Long        float64 `json:"long,omitempty" mm:"0,1000" doc:"Of the pull over all; 0 for just past its holes"`
	Wide        float64 `json:"wide,omitempty" mm:"0,200" doc:"Of its feet along the board; 0 for the usual"`
	Colour      string  `json:"colour,omitempty" doc:"Of pull and screws"`
	Kit         string  `json:"kit,omitempty" doc:"Name of the pulls that they are"`
	OnLine      bool    `json:"onLine,omitempty" doc:"On the centre line; else amid the width there"`
}

// Bolted is a wooden handle let into a groove across the board and bolted on.
type Bolted struct {
	Width  float64 `json:"width" mm:"5,200" doc:"Of the handle's foot, and of its groove"`
	Height float64 `json:"height" mm:"5,200" doc:"Of the handle where the bolt goes through it"`
	Groove float64 `json:"groove" mm:"0,60" doc:"Depth of the groove"`
	Bolt   float64 `json:"bolt" mm:"3,12" doc:"Nominal diameter of the bolt"`
	Sunk   float64 `json:"sunk" mm:"0,60" doc:"How deep the bolt's head is sunk into the under face"`
	From   float64 `json:"from" mm:"5,3000" doc:"From the handle end to the middle of the groove"`

	Straddles bool `json:"straddles,omitempty" doc:"The groove is in the handle, which sits astride the board's edge"`
}

// Cleat is the locating cleat under a pasta board, which hooks over the edge of
// the counter.
type Cleat struct {
	Height float64 `json:"height" mm:"5,120" doc:"Below the under face"`
	Width  float64 `json:"width" mm:"5,120" doc:"Of its glued or screwed face"`
	Own    bool    `json:"own" doc:"Its grain runs with the board's; otherwise along the cleat"`
	Screw  float64 `json:"screw" mm:"2,8" doc:"Nominal diameter of the screws"`

	OnEdge   bool    `json:"onEdge,omitempty" doc:"It stands on its edge; lying flat it is safer to screw"`
	Worktop  float64 `json:"worktop,omitempty" mm:"0,200" doc:"Its free edge above drawers; 0 unknown"`
	TopDepth float64 `json:"topDepth,omitempty" mm:"0,2000" doc:"Of the worktop, front to back; 0 unknown"`
}

// Slicer is a wire slicer: a bore for its arm in the side of the board, and a
// slot across the show face for the wire.
type Slicer struct {
	Left  bool    `json:"left" doc:"For a left hand: the arm turns in a bore in the left side"`
	From  float64 `json:"from" mm:"5,4000" doc:"From the far end to the slot"`
	Bore  float64 `json:"bore" mm:"2,30" doc:"Diameter of the bore"`
	Below float64 `json:"below" mm:"1,100" doc:"From the show face to the bore's centre"`
	Deep  float64 `json:"deep" mm:"5,500" doc:"How deep the bore goes into the side"`
	Gap   float64 `json:"gap" mm:"0,300" doc:"From the slot to the bore, along the board"`
	Wire  float64 `json:"wire" mm:"0.2,3" doc:"Diameter of the wire"`
	Kerf  float64 `json:"kerf" mm:"0.5,6" doc:"Width of the slot"`
	Shim  float64 `json:"shim,omitempty" mm:"0,60" doc:"Under the other side while it is cut; 0 for what the wire asks"`

	Kit        string  `json:"kit,omitempty" doc:"Name of the kit that it is"`
	FromHandle bool    `json:"fromHandle,omitempty" doc:"Slot and bore are measured from the handle end"`
	Near       float64 `json:"near,omitempty" mm:"0,100" doc:"Slot's depth over the bore; 0 for what that asks"`
}

// Kit is a slicer kit that is kept by name.
type Kit struct {
	Name   string `json:"name" doc:"As the maker calls it"`
	Slicer Slicer `json:"slicer" doc:"What it asks of the board"`
}

// Check reports what cannot be.
func (k Kit) Check(field string) (ps craft.Problems) {
	checkName(&ps, field, k.Name)
	ps.InRange(field+".slicer", k.Slicer)
	return ps
}

// PullKit is a pair of pulls that is kept by name.
type PullKit struct {
	Name  string `json:"name" doc:"As the maker calls it"`
	Pulls Pull   `json:"pulls" doc:"What they ask of the board"`
}

// Check reports what cannot be.
func (k PullKit) Check(field string) (ps craft.Problems) {
	checkName(&ps, field, k.Name)
	ps.InRange(field+".pulls", k.Pulls)
	return ps
}

func checkName(ps *craft.Problems, field, name string) {
	if name == "" || len(name) > 200 {
		ps.Add(field+".name", "the name is empty or too long", "give a name of 1 to 200 characters")
	}
}

// Starts is what each fitting begins with.
var Starts = Choice{
	Pulls:  &Pull{Both: true, Spacing: 96, Setback: 30, Foot: 4, Screw: 4},
	Bolted: &Bolted{Width: 24, Height: 28, Groove: 5, Bolt: 5, Sunk: 4, From: 40},
	Cleat:  &Cleat{Height: 20, Width: 25, Screw: 4},
	Slicer: &Slicer{From: 90, Bore: 6, Below: 10, Deep: 60, Gap: 10, Wire: 0.8, Kerf: 2},
	Coin:   &Coin{Diameter: 24, Deep: 2},
}

// Check reports what cannot be fitted.
func (c Choice) Check(field string) (ps craft.Problems) {
	ps.InRange(field, c)
	if p := c.Pulls; p != nil {
		at := field + ".pulls"
		ps.InRange(at, *p)
	}
	if b := c.Bolted; b != nil {
		at := field + ".bolted"
		ps.InRange(at, *b)
	}
	if l := c.Cleat; l != nil {
		at := field + ".cleat"
		ps.InRange(at, *l)
	}
	if s := c.Slicer; s != nil {
		at := field + ".slicer"
		ps.InRange(at, *s)
	}
	if o := c.Coin; o != nil {
		ps.InRange(field+".coin", *o)
	}
	ps.OneOf(field+".when", c.When, "", Before, Between)
	ps.OneOf(field+".markEnd", c.MarkEnd, "", handleEnd, farEnd)
	ps.OneOf(field+".markSide", c.MarkSide, "", LeftSide, RightSide)
	return ps
}

// When a board is fitted, if not after its last coat.
const (
	Before  = "before"
	Between = "between"
)

// The ends of a board, as marks are measured from them.
const (
	handleEnd = "handle end"
	farEnd    = "far end"
)

// Item is one line of the bill of fittings.
type Item struct {
	Name   string     `json:"name" doc:"What is bought"`
	Amount float64    `json:"amount" doc:"In the unit"`
	Unit   craft.Unit `json:"unit" doc:"Of the amount"`

	measure bool   // of what another item counts: not taken by itself
	each    pieces // of something whose amount is the most that each may measure
}

// pieces are so many of a kind.
type pieces struct {
	name string
	n    float64
}

// use takes an item from the shelf: nothing of what has no length to be.
func (i Item) use(r *stage.Record, step string) {
	switch {
	case i.measure:
	case i.each.n == 0:
		r.Use(stage.Hardware, i.Name, i.Amount, i.Unit, step)
	case i.Amount > 0:
		r.Use(stage.Hardware, i.each.name, i.each.n, "pieces", step)
	}
}

// The faces that a place is marked on.
const (
	ShowFace  = "show face"
	UnderFace = "under face"
	LeftSide  = "left side"
	RightSide = "right side"
)

// Spot is a place to mark on the wood: a hole with its diameter, or the middle
// of what stands there, with its distances to two edges.
type Spot struct {
	Name     string  `json:"name" doc:"What it is for"`
	X        float64 `json:"x" doc:"Along the board from its middle, mm"`
	Y        float64 `json:"y" doc:"To the left of its middle, mm"`
	Diameter float64 `json:"diameter" doc:"Of the bit, mm; 0 for a mark"`
	Deep     float64 `json:"deep,omitempty" doc:"Where the stop is set, mm; 0 for right through, or a mark"`
	Face     string  `json:"face" enum:"show face,under face,left side,right side" doc:"That it is marked on"`
	FromEnd  float64 `json:"fromEnd" doc:"To the named end of the board"`
	End      string  `json:"end" enum:"handle end,far end" doc:"Which end that is"`
	FromSide float64 `json:"fromSide" doc:"To the named side there, or of one into a side, to the show face"`
	Side     string  `json:"side" enum:"left side,right side,show face" doc:"Which one that is, from the show face"`
}

// Fitted is what a choice comes to.
type Fitted struct {
	Items    []Item         `json:"items" doc:"Bill of what is bought"`
	Spots    []Spot         `json:"spots" doc:"Where to bore and screw"`
	Outlines []Outline      `json:"outlines" doc:"What stands on the board, as it looks from above"`
	Slots    []board.Slot   `json:"slots" doc:"What is cut for it"`
	Bores    []Bored        `json:"bores" doc:"What is bored for it"`
	Figures  []craft.Figure `json:"figures" doc:"What it comes to"`
	Steps    []string       `json:"steps" doc:"What is done, in words"`

	verdicts []craft.Verdict
}

// Outline is a fitting as it stands on the board.
type Outline struct {
	Name  string `json:"name" doc:"What it is"`
	Path  string `json:"path" doc:"As SVG path data in the board's frame"`
	Under bool   `json:"under" doc:"It stands under the board"`
}

// Bored is a bore as it is drawn.
type Bored struct {
	board.Bore
	Path string `json:"path" doc:"Its place from above, as SVG path data in the board's frame"`
}

// Board is what the fittings need to know of the board.
type Board struct {
	Shaped    board.Shaped
	Thickness float64      // final, mm
	Wood      stock.Grain  // in the board's frame
	Swing     float64      // percent points of moisture between the home's seasons
	Feet      float64      // height of the feet, mm; 0 without
	Open      []board.Void // that nothing fills which bears a load
	Rules     rule.Set
	Pace      plan.Pace
}

// moves is the share by which the wood between two places moves across the year,
// square to its grain.
func (b Board) moves(from, to geom.Point) float64 {
	return stock.Coefficient(b.Wood.Along(from, to)) * b.Swing
}

// Usual measures of feet, mm.
const (
	usualInset  = 25
	usualHeight = 8
)

// usualFerrule is how long a ferrule is, mm.
const usualFerrule = 15

// Foot is the inset and the height of the feet in force, mm; 0 without feet.
func (c Choice) Foot() (inset, height float64) {
	if !c.Feet {
		return 0, 0
	}
	inset, height = c.FootInset, c.FootHeight
	if inset == 0 {
		inset = usualInset
	}
	switch {
	case height > 0:
	case c.FootOver > 0:
		height = c.FootOver + overBowl
	default:
		height = usualHeight
	}
	return inset, height
}

// overBowl is how much higher than a bowl beneath it a board stands, mm (rule).
const overBowl = 10

// Stands is where the four feet stand, anticlockwise; nil without feet.
func (c Choice) Stands(s board.Shaped) geom.Ring {
	inset, _ := c.Foot()
	if inset == 0 {
		return nil
	}
	inner := s.Outline.Shrunk(inset)
	if len(inner) < 3 {
		return nil
	}
	var out geom.Ring
	for _, way := range []geom.Point{{X: -1, Y: -1}, {X: 1, Y: -1}, {X: 1, Y: 1}, {X: -1, Y: 1}} {
		best := inner[0]
		for _, p := range inner {
			if p.X*way.X+p.Y*way.Y > best.X*way.X+best.Y*way.Y {
				best = p
			}
		}
		out = append(out, best)
	}
	return out
}

// Make lists the fittings: what they come to, and the record of the stage.
func Make(c Choice, b Board) (Fitted, stage.Record) {
	b.Shaped = c.Cut(b.Shaped)
	f := Fitted{
		Items:    []Item{},
		Spots:    []Spot{},
		Outlines: c.outlines(b.Shaped),
		Slots:    append([]board.Slot{}, b.Shaped.Slots...),
		Bores:    []Bored{},
		Figures:  []craft.Figure{},
		Steps:    []string{},
	}
	for _, o := range b.Shaped.Bores {
		f.Bores = append(f.Bores, Bored{o, o.Ring().SVG()})
	}
	f.feet(c, b)
	f.cord(c, b)
	if c.Pulls != nil {
		f.pulls(*c.Pulls, b)
	}
	if c.Bolted != nil {
		f.bolted(*c.Bolted, b)
	}
	if c.Cleat != nil {
		f.cleat(*c.Cleat, b)
	}
	if c.Slicer != nil {
		f.slicer(*c.Slicer, b)
	}
	if c.Coin != nil {
		f.coin(*c.Coin, b)
	}
	if c.Stamp {
		f.Steps = append(f.Steps, "Stamp or brand it in the under face, tried on scrap first, before it is oiled there")
	}
	f.measured(c, b)
	f.footing(c, b)
	f.crossing(b)
	r := stage.Record{Stage: craft.Fit, Verdicts: f.verdicts}
	if n := len(f.Items); n > 0 || c.Stamp {
		r.Step("Fit "+c.words(), strings.Join(append(f.Steps, f.told()...), ". "),
			plan.Work("fit", plan.Fitting, float64(n), b.Pace))
		f.Steps = append(b.Shaped.Ways(), f.Steps...)
		for _, item := range f.Items {
			item.use(&r, "fit")
		}
	}
	return f, r
}

// words names what is fitted.
func (c Choice) words() string {
	var names []string
	for _, f := range []struct {
		on   bool
		name string
	}{
		{c.Feet, "feet"}, {c.Cord, "cord"}, {c.Pulls != nil, "pulls"}, {c.Bolted != nil, "the bolted handle"},
		{c.Cleat != nil, "the cleat"}, {c.Slicer != nil, "the slicer"}, {c.Coin != nil, "the coin"},
		{c.Stamp, "the stamp"},
	} {
		if f.on {
			names = append(names, f.name)
		}
	}
	if len(names) == 1 && names[0] == "cord" {
		return "the cord"
	}
	return strings.Join(names, " and ")
}

func (f *Fitted) item(name string, amount float64, unit craft.Unit) {
	if unit == "pieces" && amount == 1 {
		unit = "piece"
	}
	f.Items = append(f.Items, Item{Name: name, Amount: amount, Unit: unit})
}

func (f *Fitted) judge(
	check string,
	level craft.Level,
	finding, reason string,
	figure craft.Figure,
	limit float64,
	atLeast bool,
	remedies ...craft.Remedy,
) {
	figure.Stage = craft.Fit
	f.verdicts = append(
		f.verdicts,
		craft.Verdict{
			Check:    check,
			Stage:    craft.Fit,
			Level:    level,
			Finding:  finding,
			Reason:   reason,
			Figure:   figure,
			Limit:    limit,
			AtLeast:  atLeast,
			Remedies: remedies,
		},
	)
}

func mm(name string, v float64) craft.Term { return craft.Term{Name: name, Value: v, Unit: craft.MM} }

// spot marks a place on a face with its distances to the nearer end and side.
func (f *Fitted) spot(b Board, name string, at geom.Point, diameter float64, face string) {
	box := b.Shaped.Outline.Bounds()
	s := Spot{
		Name: name, X: at.X, Y: at.Y, Diameter: diameter, Face: face,
		FromEnd: at.X - box.MinX, End: "far end", FromSide: math.Inf(1),
	}
	if to := box.MaxX - at.X; to < s.FromEnd {
		s.FromEnd, s.End = to, "handle end"
	}
	for _, y := range b.Shaped.Outline.SpansAcross(at.X, nil) {
		if d := math.Abs(y - at.Y); d < s.FromSide {
			s.FromSide, s.Side = d, LeftSide
			if y < at.Y {
				s.Side = RightSide
			}
		}
	}
	if s.Side == "" { // off the board
		s.FromSide, s.Side = 0, RightSide
	}
	f.Spots = append(f.Spots, s)
}

const (
	bite  = 10 // what a wood screw needs in the wood, mm
	spare = 4  // what it keeps clear of the far face, mm
)

func (f *Fitted) feet(c Choice, b Board) {
	if !c.Feet {
		return
	}
	f.item("feet", 4, "pieces")
	f.item("screws, longest into the wood", max(0, b.Thickness-spare), craft.MM)
	f.Items[len(f.Items)-1].each = pieces{"screws for the feet", 4}
	for i, p := range c.Stands(b.Shaped) {
		f.spot(b, fmt.Sprintf("foot %d", i+1), p, 0, UnderFace)
	}
	level, finding := craft.Good, "The feet's screws bite and stay clear of the face"
	if b.Thickness < bite+spare {
		level, finding = craft.Mind, "Too thin to screw feet to: glue them"
	}
	f.judge(
		"feet-screws",
		level,
		finding,
		"A screw that pokes through ruins the face; one that does not bite lets the foot go.",
		craft.Figure{
			Key:   "fit.screws",
			Label: "Final thickness",
			Value: b.Thickness,
			Unit:  craft.MM,
			Formula: "thickness, against " + craft.Length(bite) + " of bite and " + craft.Length(spare) +
				" clear of the far face",
			Source: "rule of the trade",
			Rule:   true,
		},
		bite+spare,
		true,
	)
}

// knot is what a knot takes of a cord, mm (rule).
const knot = 40

// CordFor is how long a cord is that hangs a board t mm thick so far below its peg, mm:
// twice the drop, about the board's edge, and two knots.
func CordFor(drop, t float64) float64 { return 2*drop + 2*t + 2*knot }

// usualCord is how thick a cord is, mm; two strands of it pass through a hole twice as
// wide, soft ones through one and a half times (rules).
const usualCord = 4

// threads judges whether two strands of the cord pass through its hole.
func (f *Fitted) threads(c Choice, b Board) {
	if len(b.Shaped.Holes) == 0 {
		return
	}
	thick := cmp.Or(c.CordThick, usualCord)
	times := 2.0
	if c.CordSoft {
		times = 1.5
	}
	widest := 0.0
	for _, h := range b.Shaped.Holes {
		_, r := h.Inscribed()
		widest = max(widest, 2*r)
	}
	const drawn = 0.2 // mm by which a round hole is drawn too small
	level, finding := craft.Under(
		widest+drawn,
		times*thick,
		math.Inf(-1),
	), "Both strands of the cord pass through the hole"
	var remedies []craft.Remedy
	if level != craft.Good {
		finding = "The cord is too thick for the hole"
		if thinner := math.Floor(widest/times*2) / 2; thinner >= 1 {
			remedies = []craft.Remedy{{
				Label: "Take a cord of {}", Amount: thinner, Unit: craft.MM,
				Patch: craft.Patch{"fit": map[string]any{"cordThick": thinner}},
			}}
		}
	}
	f.judge("cord-thick", level, finding, "A cord that is forced through frays, and does not slide to the peg.",
		craft.Figure{
			Key: "fit.cord-hole", Label: "Widest hole", Value: widest, Unit: craft.MM,
			Formula: "against the cord's thickness × 2, × 1.5 where it is soft",
			Terms:   []craft.Term{mm("cord", thick)}, Source: "rule of the trade", Rule: true,
		}, times*thick, true, remedies...)
}

func (f *Fitted) cord(c Choice, b Board) {
	if !c.Cord {
		return
	}
	length := cmp.Or(c.CordLength, b.Rules.Get(rule.CordPerHanger))
	if c.CordDrop > 0 && c.CordLength == 0 {
		length = CordFor(c.CordDrop, b.Thickness)
	}
	f.item("cord", length, craft.MM)
	f.threads(c, b)
	hangs := length / 2
	terms := []craft.Term{mm("cord", length)}
	if c.Ferrules {
		ferrule := cmp.Or(c.Ferrule, usualFerrule)
		f.item("ferrules, long", ferrule, craft.MM)
		f.Items[len(f.Items)-1].measure = true
		f.item("ferrules", 2, "pieces")
		hangs -= ferrule
		terms = append(terms, mm("ferrule", ferrule))
	}
	figure := craft.Figure{
		Key:     "fit.cord",
		Stage:   craft.Fit,
		Label:   "The loop hangs the board lower by",
		Value:   hangs,
		Unit:    craft.MM,
		Formula: "half the cord, less a ferrule where its ends are held in them",
		Terms:   terms,
		Source:  "geometry of the design",
		Rule:    c.CordLength == 0,
	}
	f.Figures = append(f.Figures, figure)
	if least := 40.0; hangs < least {
		f.judge(
			"cord-length",
			craft.Mind,
			"The cord is too short for a loop",
			"A loop that does not pass over a peg hangs nothing.",
			figure,
			least,
			true,
		)
	}
	if len(b.Shaped.Holes) > 0 {
		return
	}
	f.judge(
		"cord-hole",
		craft.Mind,
		"There is no hole for the cord",
		"A cord needs a hole to hang the board from.",
		craft.Figure{Key: "fit.holes", Label: "Holes", Formula: "holes in the design", Source: "the design"},
		1,
		true,
		craft.Remedy{
			Label:  "Bore a hole of {}",
			Amount: 25,
			Unit:   craft.MM,
			Patch: craft.Patch{
				"design": map[string]any{
					"handle": map[string]any{"kind": "hole", "diameter": 25.0, "setback": 35.0, "offset": 0.0},
				},
			},
		},
	)
}
