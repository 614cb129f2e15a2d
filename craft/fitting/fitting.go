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
}

// Pull is a bought pull screwed on at one end or both.
type Pull struct {
	Both        bool    `json:"both" doc:"One at each end"`
	Machine     bool    `json:"machine" doc:"Held by machine screws from below; otherwise by wood screws from above"`
	Spacing     float64 `json:"spacing" mm:"0,1000" doc:"Between its two holes"`
	Setback     float64 `json:"setback" mm:"3,1000" doc:"From the end to the line of holes"`
	Offset      float64 `json:"offset" mm:"-1000,1000" doc:"Off the centre line, positive to the left"`
	Foot        float64 `json:"foot" mm:"0,60" doc:"Thickness of the part that is screwed on"`
	Countersink float64 `json:"countersink" mm:"0,30" doc:"How deep the head is sunk, mm"`
	Screw       float64 `json:"screw" mm:"1.5,12" doc:"Nominal diameter of the screw"`
}

// Bolted is a wooden handle let into a groove across the board and bolted on.
type Bolted struct {
	Width  float64 `json:"width" mm:"5,200" doc:"Of the handle's foot, and of its groove"`
	Height float64 `json:"height" mm:"5,200" doc:"Of the handle where the bolt goes through it"`
	Groove float64 `json:"groove" mm:"0,60" doc:"Depth of the groove"`
	Bolt   float64 `json:"bolt" mm:"3,12" doc:"Nominal diameter of the bolt"`
	Sunk   float64 `json:"sunk" mm:"0,60" doc:"How deep the bolt's head is sunk into the under face"`
	From   float64 `json:"from" mm:"5,3000" doc:"From the handle end to the middle of the groove"`
}

// Cleat is the locating cleat under a pasta board, which hooks over the edge of
// the counter.
type Cleat struct {
	Height float64 `json:"height" mm:"5,120" doc:"Below the under face"`
	Width  float64 `json:"width" mm:"5,120" doc:"Of its glued or screwed face"`
	Own    bool    `json:"own" doc:"Its grain runs with the board's; otherwise along the cleat"`
	Screw  float64 `json:"screw" mm:"2,8" doc:"Nominal diameter of the screws"`
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
}

// Starts is what each fitting begins with.
var Starts = Choice{
	Pulls:  &Pull{Both: true, Spacing: 96, Setback: 30, Foot: 4, Screw: 4},
	Bolted: &Bolted{Width: 24, Height: 28, Groove: 5, Bolt: 5, Sunk: 4, From: 40},
	Cleat:  &Cleat{Height: 20, Width: 25, Screw: 4},
	Slicer: &Slicer{From: 90, Bore: 6, Below: 10, Deep: 60, Gap: 10, Wire: 0.8, Kerf: 2},
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
	return ps
}

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

// Spot is a place to mark on the wood: a hole with its diameter, or the middle
// of what stands there, with its distances to two edges.
type Spot struct {
	Name     string  `json:"name" doc:"What it is for"`
	X        float64 `json:"x" doc:"Along the board from its middle, mm"`
	Y        float64 `json:"y" doc:"To the left of its middle, mm"`
	Diameter float64 `json:"diameter" doc:"Of the bit, mm; 0 for a mark"`
	Under    bool    `json:"under" doc:"Marked on the under face"`
	Bored    bool    `json:"bored,omitempty" doc:"Bored into the side, so that nothing of it is seen from above"`
	FromEnd  float64 `json:"fromEnd" doc:"To the nearer end of the board"`
	FromSide float64 `json:"fromSide" doc:"To the nearer side there"`
}

// Fitted is what a choice comes to.
type Fitted struct {
	Items   []Item         `json:"items" doc:"Bill of what is bought"`
	Spots   []Spot         `json:"spots" doc:"Where to bore and screw"`
	Slots   []board.Slot   `json:"slots" doc:"What is cut for it"`
	Figures []craft.Figure `json:"figures" doc:"What it comes to"`
	Steps   []string       `json:"steps" doc:"What is done, in words"`

	verdicts []craft.Verdict
}

// Board is what the fittings need to know of the board.
type Board struct {
	Shaped    board.Shaped
	Thickness float64     // final, mm
	Wood      stock.Grain // in the board's frame
	Swing     float64     // percent points of moisture between the home's seasons
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
	if height == 0 {
		height = usualHeight
	}
	return inset, height
}

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
	f := Fitted{
		Items:   []Item{},
		Spots:   []Spot{},
		Slots:   append([]board.Slot{}, c.Cut(b.Shaped).Slots...),
		Figures: []craft.Figure{},
		Steps:   []string{},
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
	r := stage.Record{Stage: craft.Fit, Verdicts: f.verdicts}
	if n := len(f.Items); n > 0 {
		r.Step("Fit "+c.words(), strings.Join(f.Steps, ". "), plan.Work("fit", plan.Fitting, float64(n), b.Pace))
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
		{c.Cleat != nil, "the cleat"}, {c.Slicer != nil, "the slicer"},
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

// spot marks a place with its distances to the nearer end and side.
func (f *Fitted) spot(b Board, name string, at geom.Point, diameter float64, under bool) {
	box := b.Shaped.Outline.Bounds()
	s := Spot{
		Name:     name,
		X:        at.X,
		Y:        at.Y,
		Diameter: diameter,
		Under:    under,
		FromEnd:  min(at.X-box.MinX, box.MaxX-at.X),
	}
	ys := b.Shaped.Outline.Turned().Spans(at.X)
	s.FromSide = math.Inf(1)
	for _, y := range ys {
		s.FromSide = min(s.FromSide, math.Abs(y-at.Y))
	}
	if len(ys) == 0 {
		s.FromSide = 0
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
		f.spot(b, fmt.Sprintf("foot %d", i+1), p, 0, true)
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

func (f *Fitted) cord(c Choice, b Board) {
	if !c.Cord {
		return
	}
	length := cmp.Or(c.CordLength, b.Rules.Get(rule.CordPerHanger))
	f.item("cord", length, craft.MM)
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

// WoodScrew is the shortest and the longest wood screw, mm, that holds a part
// on a board: it bites 10 mm and stays 4 mm clear of the far face.
func WoodScrew(part, board, countersink float64) (shortest, longest float64) {
	return part - countersink + bite, part + board - countersink - spare
}

// Thread that a machine screw needs in a pull, mm.
const leastThread, mostThread = 6, 10

// MachineScrew is the shortest and the longest machine screw, mm, from under a
// board into a pull.
func MachineScrew(board, countersink float64) (shortest, longest float64) {
	return board - countersink + leastThread, board - countersink + mostThread
}

// core is the share of a wood screw's nominal diameter that its core has.
const core = 0.66

// dense is the Janka hardness, N, over which a pilot hole is bored larger.
const dense = 4500

// Pilot is the diameter of the pilot hole for a wood screw, mm, to the next
// tenth.
func Pilot(screw, janka float64) float64 {
	d := screw * core
	if janka > dense {
		d += 0.3
	}
	return math.Round(d*10) / 10
}

// screwLengths are the lengths that screws are sold in, mm.
var screwLengths = []float64{10, 12, 14, 16, 18, 20, 22, 25, 28, 30, 35, 40, 45, 50, 55, 60, 70, 80, 90, 100, 120}

// sold is the longest length sold within a range, 0 when there is none.
func sold(shortest, longest float64) (best float64) {
	for _, l := range screwLengths {
		if l >= shortest-1e-9 && l <= longest+1e-9 {
			best = l
		}
	}
	return best
}

func (f *Fitted) pulls(p Pull, b Board) {
	shortest, longest := WoodScrew(p.Foot, b.Thickness, p.Countersink)
	kind, formula := "wood screws", "part − countersink + "+craft.Length(bite)+
		" of bite, to part + board − countersink − "+craft.Length(spare)
	if p.Machine {
		shortest, longest = MachineScrew(b.Thickness, p.Countersink)
		kind, formula = "machine screws", "board − countersink + thread in the pull, "+craft.Length(leastThread)+
			" to "+craft.Length(mostThread)
	}
	length := sold(shortest, longest)
	n := 1.0
	if p.Both {
		n = 2
	}
	f.item("pulls", n, "pieces")
	f.item(kind+" of "+craft.Length(p.Screw), 2*n, "pieces")
	level := craft.Good
	finding := fmt.Sprintf("%s of %s bite and do not poke through", upper(kind), craft.Length(length))
	if length == 0 {
		level, finding = craft.Stop, "No screw is long enough to bite and short enough not to poke through"
	}
	var remedies []craft.Remedy
	if length == 0 && p.Countersink > 0 {
		remedies = append(
			remedies,
			craft.Remedy{
				Label:  "Sink the heads less: {}",
				Amount: 0,
				Unit:   craft.MM,
				Patch:  craft.Patch{"fit": map[string]any{"pulls": map[string]any{"countersink": 0}}},
			},
		)
	}
	f.judge(
		"pull-screws",
		level,
		finding,
		"A screw that pokes through ruins the face; one that does not bite lets the pull go.",
		craft.Figure{
			Key:     "fit.pull",
			Label:   "Screw's length",
			Value:   length,
			Unit:    craft.MM,
			Formula: formula + "; the longest that is sold between",
			Terms: []craft.Term{
				mm("shortest", shortest),
				mm("longest", longest),
				mm("board", b.Thickness),
				mm("part", p.Foot),
				mm("countersink", p.Countersink),
			},
			Source: "rule of the trade",
			Rule:   true,
		},
		longest,
		false,
		remedies...)
	janka := b.Wood.At(geom.Point{X: b.Shaped.Outline.Bounds().MaxX - p.Setback, Y: p.Offset}).Species.Janka
	hole := Pilot(p.Screw, janka)
	label := "Pilot hole"
	if p.Machine {
		hole, label = p.Screw+0.5, "Clearance hole"
	}
	f.Figures = append(
		f.Figures,
		craft.Figure{
			Key:     "fit.pilot",
			Stage:   craft.Fit,
			Label:   label,
			Value:   hole,
			Unit:    craft.MM,
			Formula: "core of the screw, and {0.3} more in hard wood; a machine screw goes through with {0.5} to spare",
			Terms: []craft.Term{
				mm("screw", p.Screw),
				{Name: "hardness", Value: janka, Unit: craft.Newton},
			},
			Source: "rule of the trade",
			Rule:   true,
		},
	)
	box := b.Shaped.Outline.Bounds()
	ends := []float64{box.MaxX - p.Setback}
	if p.Both {
		ends = append(ends, box.MinX+p.Setback)
	}
	for i, x := range ends {
		for k, side := range []float64{1, -1} {
			f.spot(
				b,
				fmt.Sprintf("pull %d, hole %d", i+1, k+1),
				geom.Point{X: x, Y: p.Offset + side*p.Spacing/2},
				hole,
				p.Machine,
			)
		}
	}
	f.near(b, "pull-edge", 3*p.Screw)
	f.Steps = append(
		f.Steps,
		"Mark the pulls from two edges, bore "+craft.Size(hole)+", try one screw on scrap, drive by hand",
	)
}

// near judges whether every hole keeps so far from an edge that it does not
// split it.
func (f *Fitted) near(b Board, check string, want float64) {
	least := math.Inf(1)
	for _, s := range f.Spots {
		if s.Diameter == 0 {
			continue
		}
		_, d := b.Shaped.Outline.Nearest(geom.Point{X: s.X, Y: s.Y})
		if !b.Shaped.Outline.Contains(geom.Point{X: s.X, Y: s.Y}) {
			d = 0
		}
		least = min(least, d)
	}
	level, finding := craft.Good, "The holes keep clear of the edges"
	switch {
	case least <= 0:
		level, finding = craft.Stop, "A hole lies outside the board"
	case least < want:
		level, finding = craft.Mind, "A hole is so near an edge that it may split"
	}
	f.judge(
		check,
		level,
		finding,
		"A screw near an edge or an end splits the wood.",
		craft.Figure{
			Key:     "fit.edge",
			Label:   "Least distance of a hole to an edge",
			Value:   least,
			Unit:    craft.MM,
			Formula: "measured on the outline, against 3 diameters of the screw",
			Source:  "rule of the trade",
			Rule:    true,
		},
		want,
		true,
	)
}

func upper(s string) string { return string(s[0]-'a'+'A') + s[1:] }

// easy is by how much a groove is wider than what is let into it, mm.
const easy = 0.2

func (f *Fitted) bolted(h Bolted, b Board) {
	length := h.Height + b.Thickness - h.Groove - h.Sunk
	f.item("wooden handle", 1, "pieces")
	f.item(fmt.Sprintf("bolts M%g with nut and washer", h.Bolt), 2, "pieces")
	f.Figures = append(
		f.Figures,
		craft.Figure{
			Key:   "fit.bolt",
			Stage: craft.Fit,
			Label: "Bolt's length under its head",
			Value: length,
			Unit:  craft.MM,
			Formula: "handle + board − groove − how deep the head is sunk; the nut is sunk into the handle or shows " +
				"on it",
			Terms: []craft.Term{
				mm("handle", h.Height),
				mm("board", b.Thickness),
				mm("groove", h.Groove),
				mm("sunk", h.Sunk),
			},
			Source: "geometry of the design",
		},
		craft.Figure{
			Key:     "fit.groove",
			Stage:   craft.Fit,
			Label:   "Width of the groove",
			Value:   h.Width + easy,
			Unit:    craft.MM,
			Formula: "handle's foot + " + craft.Length(easy),
			Source:  "rule of the trade",
			Rule:    true,
		},
	)
	left := b.Thickness - h.Groove - h.Sunk
	want := max(6, b.Thickness/3)
	f.judge(
		"bolted-floor",
		craft.Under(left, want, 6),
		"Wood left between the groove and the bolt's head",
		"The bolt pulls on what is left under the groove.",
		craft.Figure{
			Key:   "fit.floor",
			Label: "Wood left",
			Value: left,
			Unit:  craft.MM,
			Formula: "thickness − groove − how deep the head is sunk, against the larger of {6} and a third of the " +
				"thickness",
			Terms:  []craft.Term{mm("thickness", b.Thickness), mm("groove", h.Groove), mm("sunk", h.Sunk)},
			Source: "rule of the trade",
			Rule:   true,
		},
		want,
		true,
	)
	box := b.Shaped.Outline.Bounds()
	x := box.MaxX - h.From
	ys := b.Shaped.Outline.Turned().Spans(x)
	if len(ys) < 2 {
		return
	}
	from, to := ys[0], ys[len(ys)-1]
	for i, share := range []float64{0.25, 0.75} {
		f.spot(b, fmt.Sprintf("bolt %d", i+1), geom.Point{X: x, Y: from + share*(to-from)}, h.Bolt+0.5, true)
	}
	f.near(b, "bolt-edge", 3*h.Bolt)
	moves := b.moves(geom.Point{X: x, Y: from}, geom.Point{X: x, Y: to}) * (to - from)
	f.Figures = append(
		f.Figures,
		craft.Figure{
			Key:     "fit.moves",
			Stage:   craft.Fit,
			Label:   "The board moves under the handle by",
			Value:   moves,
			Unit:    craft.MM,
			Formula: "width × its movement across the year: bore one bolt's hole longer by this",
			Terms:   []craft.Term{mm("width", to-from)},
			Source:  "Wood Handbook",
		},
	)
}

func (h Bolted) groove(x, from, to float64) board.Slot {
	return board.Slot{
		A:      geom.Point{X: x, Y: from},
		B:      geom.Point{X: x, Y: to},
		DepthA: h.Groove,
		DepthB: h.Groove,
		Width:  h.Width + easy,
		Name:   "groove for the handle",
	}
}

// Cut is the board with what its fittings cut out of it.
func (c Choice) Cut(s board.Shaped) board.Shaped {
	s.Slots, s.Bores = nil, nil
	box := s.Outline.Bounds()
	across := func(x float64) (right, left float64, ok bool) {
		ys := s.Outline.Turned().Spans(x)
		if len(ys) < 2 {
			return 0, 0, false
		}
		return ys[0], ys[len(ys)-1], true
	}
	if h := c.Bolted; h != nil {
		x := box.MaxX - h.From
		if right, left, ok := across(x); ok {
			s.Slots = append(s.Slots, h.groove(x, right, left))
		}
	}
	if l := c.Slicer; l != nil {
		x := box.MinX + l.From
		if right, left, ok := across(x); ok {
			slot := l.slot(x, right, left)
			s.Slots = append(s.Slots, slot)
			s.Bores = append(s.Bores, board.Bore{At: slot.A.Add(geom.Point{X: l.Gap}), Diameter: l.Bore, Deep: l.Deep})
		}
	}
	return s
}

func (f *Fitted) cleat(l Cleat, b Board) {
	box := b.Shaped.Outline.Bounds()
	length := box.MaxY - box.MinY
	edge := box.MinX + l.Width/2
	root := b.Wood.At(geom.Point{X: edge})
	share := b.moves(geom.Point{X: edge, Y: box.MinY}, geom.Point{X: edge, Y: box.MaxY})
	moves := share * length * math.Abs(math.Cos(root.Angle(0)*math.Pi/180))
	// A push of the whole weight of two hands against the cleat bends it off its root.
	const push = 300
	strong := root.Species.Strength(0)
	if l.Own {
		strong = root.Species.Strength(90)
	}
	stress := push * l.Height / 2 / (length * l.Width * l.Width / 6)
	limit := strong / 4
	f.item("cleat", length, craft.MM)
	if l.Own {
		f.judge(
			"cleat",
			craft.Over(stress, 0.7*limit, limit),
			"The cleat, its grain across it, holds the push of kneading",
			"Cut from the panel's own end the cleat moves with the board, but it splits along its grain when it is "+
				"pushed.",
			craft.Figure{
				Key:   "fit.cleat",
				Label: "Stress at its root",
				Value: stress,
				Unit:  craft.MPa,
				Formula: "push · height / 2 ÷ (length · width² / 6), against a quarter of the strength across the " +
					"grain",
				Terms: []craft.Term{
					{Name: "push", Value: push, Unit: craft.Newton},
					mm("height", l.Height),
					mm("length", length),
					mm("width", l.Width),
					{Name: "allowed", Value: limit, Unit: craft.MPa},
				},
				Source: "bending of a cantilever; Wood Handbook",
				Rule:   true,
			},
			limit,
			false,
		)
		f.Steps = append(f.Steps, "Glue the cleat on over its whole length: it moves with the board")
		return
	}
	f.item("screws of "+craft.Length(l.Screw)+" in slots", 3, "pieces")
	level, finding := craft.Good, "Slotted holes let the board move past the cleat"
	if moves > 6 {
		level, finding = craft.Mind, "The board moves so much past the cleat that its slots grow long"
	}
	f.judge(
		"cleat",
		level,
		finding,
		"With its grain along it the cleat is strong and does not move; the board does. Glued, one of them cracks: "+
			"screw it in slots, glue only the middle.",
		craft.Figure{
			Key:     "fit.cleat",
			Label:   "Slots longer than the screw by",
			Value:   moves,
			Unit:    craft.MM,
			Formula: "board's width × its movement across the year, all of it at the outer screws",
			Terms: []craft.Term{
				mm("width", length),
				{Name: "movement across the year", Value: share * 100, Unit: craft.Percent},
			},
			Source: "Wood Handbook",
			Rule:   true,
		},
		6,
		false,
	)
	f.Steps = append(
		f.Steps,
		fmt.Sprintf(
			"Bore the cleat's middle hole round, the outer ones as slots %s longer than the screw; no glue",
			craft.Length(math.Ceil(moves)),
		),
	)
	shortest, longest := WoodScrew(l.Height, b.Thickness, 0)
	n := sold(shortest, longest)
	level, finding = craft.Good, fmt.Sprintf("Screws of %s bite and do not poke through", craft.Length(n))
	if n == 0 {
		level, finding = craft.Mind, "Sink the screws into the cleat: none sold fits"
	}
	f.judge(
		"cleat-screws",
		level,
		finding,
		"A screw that pokes through ruins the face.",
		craft.Figure{
			Key:     "fit.cleat-screw",
			Label:   "Screw's length",
			Value:   n,
			Unit:    craft.MM,
			Formula: "cleat + {10} of bite, to cleat + board − {4}; the longest that is sold between",
			Terms:   []craft.Term{mm("shortest", shortest), mm("longest", longest)},
			Source:  "rule of the trade",
			Rule:    true,
		},
		longest,
		false,
	)
	for i, at := range []float64{0.15, 0.5, 0.85} {
		f.spot(
			b,
			fmt.Sprintf("cleat, screw %d", i+1),
			geom.Point{X: edge, Y: box.MinY + at*length},
			Pilot(l.Screw, root.Species.Janka),
			true,
		)
	}
}

// clearance is what the wire must have under it at both ends of its slot, mm.
const clearance = 1

// Tilt is a slicer's slot: its depth at the side of the bore, at the far side,
// and the shim under the far side of the board that tilts it so while it is
// cut, mm. The wire lies clear by 1 mm at both ends.
func Tilt(below, bore, wire float64) (near, far, shim float64) {
	near = below + bore/2 + clearance
	far = wire + clearance
	return near, far, near - far
}

// slot is the cut across the board at x, from its right edge to its left one.
func (s Slicer) slot(x, right, left float64) board.Slot {
	near, far, _ := Tilt(s.Below, s.Bore, s.Wire)
	t := board.Slot{
		A:      geom.Point{X: x, Y: right},
		B:      geom.Point{X: x, Y: left},
		DepthA: near,
		DepthB: far,
		Width:  s.Kerf,
		Name:   "slot, deep at the right",
	}
	if s.Left {
		t.A, t.B, t.Name = t.B, t.A, "slot, deep at the left"
	}
	return t
}

func (f *Fitted) slicer(s Slicer, b Board) {
	box := b.Shaped.Outline.Bounds()
	x := box.MinX + s.From
	ys := b.Shaped.Outline.Turned().Spans(x)
	if len(ys) < 2 {
		f.judge(
			"slicer-place",
			craft.Stop,
			"The slot lies off the board",
			"There is no wood across the board there.",
			craft.Figure{
				Key:     "fit.slot",
				Label:   "From the far end",
				Value:   s.From,
				Unit:    craft.MM,
				Formula: "as designed",
				Source:  "the design",
			},
			box.MaxX-box.MinX,
			false,
		)
		return
	}
	right, left := ys[0], ys[len(ys)-1]
	near, hand := right, "right"
	if s.Left {
		near, hand = left, "left"
	}
	deepNear, deepFar, shim := Tilt(s.Below, s.Bore, s.Wire)
	f.item("wire slicer with its arm", 1, "pieces")
	f.spot(b, "bore in the "+hand+" side", geom.Point{X: x + s.Gap, Y: near}, s.Bore, false)
	f.Spots[len(f.Spots)-1].Bored = true
	width := left - right
	f.Figures = append(
		f.Figures,
		craft.Figure{
			Key:     "fit.slot-near",
			Stage:   craft.Fit,
			Label:   "Slot's depth at the " + hand + " side, over the bore",
			Value:   deepNear,
			Unit:    craft.MM,
			Formula: "bore's depth below the face + its radius + " + craft.Length(clearance),
			Terms: []craft.Term{
				mm("below the face", s.Below), {Name: "bore", Value: s.Bore, Unit: craft.Bit},
			},
			Source: "geometry of the design",
			Rule:   true,
		},
		craft.Figure{
			Key:     "fit.slot-far",
			Stage:   craft.Fit,
			Label:   "Slot's depth at the other side",
			Value:   deepFar,
			Unit:    craft.MM,
			Formula: "wire + " + craft.Length(clearance) + " clear",
			Terms:   []craft.Term{mm("wire", s.Wire)},
			Source:  "geometry of the design",
			Rule:    true,
		},
		craft.Figure{
			Key:   "fit.shim",
			Stage: craft.Fit,
			Label: "Shim under the other side while it is cut",
			Value: shim,
			Unit:  craft.MM,
			Formula: "depth over the bore − depth at the other side, over the whole width; the blade stands at the " +
				"depth over the bore",
			Terms: []craft.Term{
				mm("width", width),
				{Name: "tilt", Value: math.Atan(shim/width) * 180 / math.Pi, Unit: craft.Degree},
			},
			Source: "geometry of the design",
		},
	)
	rest := b.Thickness - deepNear
	f.judge(
		"slicer-floor",
		craft.Under(rest, 6, 3),
		"Wood left under the slot's deep end",
		"The slot takes the board half through where it is deepest.",
		craft.Figure{
			Key:     "fit.slot-floor",
			Label:   "Wood left",
			Value:   rest,
			Unit:    craft.MM,
			Formula: "thickness − the slot's depth over the bore",
			Terms:   []craft.Term{mm("thickness", b.Thickness), mm("depth", deepNear)},
			Source:  "rule of the trade",
			Rule:    true,
		},
		6,
		true,
	)
	under := b.Thickness - s.Below - s.Bore/2
	level := craft.Under(min(under, s.Below-s.Bore/2), 4, 1)
	var remedies []craft.Remedy
	if mid := math.Round(b.Thickness) / 2; level != craft.Good && math.Abs(mid-s.Below) > 0.5 {
		remedies = []craft.Remedy{
			{
				Label:  "Bore it {} below the face",
				Amount: mid,
				Unit:   craft.MM,
				Patch:  craft.Patch{"fit": map[string]any{"slicer": map[string]any{"below": mid}}},
			},
		}
	}
	f.judge(
		"slicer-bore",
		level,
		"Wood around the bore in the "+hand+" side",
		"A bore near a face breaks out when the arm is pressed down.",
		craft.Figure{
			Key:     "fit.bore",
			Label:   "Least wood above or below the bore",
			Value:   min(under, s.Below-s.Bore/2),
			Unit:    craft.MM,
			Formula: "bore's depth − its radius, and thickness − depth − radius",
			Terms: []craft.Term{
				mm("thickness", b.Thickness), mm("below the face", s.Below),
				{Name: "bore", Value: s.Bore, Unit: craft.Bit},
			},
			Source: "rule of the trade",
			Rule:   true,
		},
		4,
		true,
		remedies...)
	f.Steps = append(
		f.Steps,
		fmt.Sprintf(
			"Mark SHOW FACE and BORE on the %s side before the saw is set: mirrored, the slot ruins the piece",
			upper(hand),
		),
		fmt.Sprintf(
			"Bore %s, %s below the show face, %s deep into the %s side, at %s from the far end",
			craft.Size(s.Bore),
			craft.Length(s.Below),
			craft.Length(s.Deep),
			hand,
			craft.Length(s.From+s.Gap),
		),
		fmt.Sprintf(
			"Slot it with the blade at %s and a shim of %s under the side away from the bore",
			craft.Length(deepNear),
			craft.Length(shim),
		),
	)
}
