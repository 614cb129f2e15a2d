// Package layout lays a board on a slab and judges the place: inside the
// wood, clear of flaws and neighbours, along the grain, within the machines.
// Lengths in mm, places in the slab's frame.
package layout

import (
	"math"
	"reflect"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/making"
	"idletimber/craft/milling"
	"idletimber/craft/rule"
	"idletimber/craft/shop"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// Choice is how a board is cut from its slab.
type Choice struct {
	Saw          string  `json:"saw" enum:"band saw,jigsaw,track saw,table saw,hand saw" doc:"Saws the outline"`
	Snipe        string  `json:"snipe" enum:"allow,pieces,nose to tail" doc:"What is done against snipe"`
	FlattenWhole bool    `json:"flattenWhole" doc:"Flatten the whole slab before cutting blanks"`
	MillFirst    float64 `json:"millFirst,omitempty" mm:"0,300" doc:"Damp wood is milled so thick first; 0 to leave it"`
	Bark         string  `json:"bark,omitempty" enum:",inner,kept" doc:"Left on live edges: none, the inner, or all"`
	BarkRight    string  `json:"barkRight,omitempty" enum:",off,inner,kept" doc:"On its right one, where it differs"`
	Method       string  `json:"method,omitempty" doc:"How it is flattened; empty for what is proposed"`
	Faces        string  `json:"faces,omitempty" enum:",flat,sand" doc:"Made even, only made flat, or only sanded"`
	Bite         float64 `json:"bite,omitempty" mm:"0,5" doc:"Of a pass, the maker's own; 0 for the table's"`
	Trim         bool    `json:"trim,omitempty" doc:"The outline is trimmed to a template after it is sawn"`
}

// Leave is how far outside its line the outline is sawn, mm: what the saw wanders, and no less
// than what sanding the edge takes, or than a flush bit needs to cut clean.
func (c Choice) Leave(rules rule.Set) float64 {
	leave := Leave(c.Saw, rules)
	if c.Trim {
		leave = max(leave, tool.TrimLeave)
	}
	return leave
}

// Proud is how far the edge stands outside its line after a step of the work, mm.
type Proud struct {
	Step string  `json:"step" doc:"After what"`
	MM   float64 `json:"mm" doc:"Outside the line"`
}

// Proud lists how far the edge stands outside its line, step by step.
func (c Choice) Proud(rules rule.Set) []Proud {
	out := []Proud{{"sawn", c.Leave(rules)}}
	if c.Trim {
		out = append(out, Proud{"trimmed to its template", rules.Get(rule.SandEdge)})
	}
	return append(out, Proud{"sanded", 0})
}

// What may be left of the bark on a live edge.
const (
	NoBark    = "off"
	InnerBark = "inner"
	KeptBark  = "kept"
)

// BarkOn is what is left of the bark on a board's live edge: its left one, or its right.
func (c Choice) BarkOn(left bool) string {
	bark := c.Bark
	if !left && c.BarkRight != "" {
		bark = c.BarkRight
	}
	if bark == "" {
		return NoBark
	}
	return bark
}

// Mirrored is the choice for a board's mirror image, whose left edge is its right one.
func (c Choice) Mirrored() Choice {
	if c.BarkRight != "" {
		left, right := c.BarkOn(true), c.BarkOn(false)
		c.Bark, c.BarkRight = right, left
		if c.Bark == NoBark {
			c.Bark = ""
		}
	}
	return c
}

// Check reports an unknown choice.
func (c Choice) Check(field string) (ps craft.Problems) {
	ps.OneOf(field+".saw", c.Saw, tool.SawNames()...)
	ps.OneOf(field+".snipe", c.Snipe, "allow", "pieces", "nose to tail")
	ps.OneOf(field+".bark", c.Bark, "", InnerBark, KeptBark)
	ps.OneOf(field+".barkRight", c.BarkRight, "", NoBark, InnerBark, KeptBark)
	ps.OneOf(field+".faces", c.Faces, "", stock.FlatOnly, stock.SandOnly)
	ps.OneOf(field+".method", c.Method, append([]string{""}, milling.Methods...)...)
	ps.InRange(field, c)
	return ps
}

// Place is a board on a slab.
type Place struct {
	Wood   stock.Wood
	Usable geom.Ring // the wood's, in the slab's frame
	Design board.Design
	At     geom.Placement
	Choice Choice
	Shop   shop.Shop
	Name   string
	Whom   string      // it is for
	Others []Neighbour // on the same slab

	drawn  *board.Shaped
	points geom.Ring // of the drawn outline, dense, in the slab's frame
	gaps   []float64 // to the others, as it lies, mm

	shunned []geom.Ring // to be kept out, and clear of the board as it lies
}

// Neighbour is another board on the same slab.
type Neighbour struct {
	Name    string
	Outline geom.Ring // in the slab's frame
	Cut     Choice
}

// Shaped is the board as drawn at this place, in its own frame.
func (p Place) Shaped() board.Shaped {
	if p.Design.Shape == board.Plank {
		return board.Draw(p.Design, p.Usable.Map(p.At.In))
	}
	if p.drawn != nil && reflect.DeepEqual(p.drawn.Design, p.Design) { // a board that is only moved keeps its shape
		return *p.drawn
	}
	return board.Draw(p.Design, nil)
}

// Blank is the piece cut out for a board: a stretch of the slab with its
// allowances, in the slab's frame.
type Blank struct {
	FromX  float64 `json:"fromX" doc:"Its end nearer to the butt, along the slab, mm"`
	ToX    float64 `json:"toX" doc:"Its other end, along the slab, mm"`
	Width  float64 `json:"width" doc:"Widest across the slab in this stretch, ripped from what lies beside it"`
	Table  float64 `json:"table" doc:"How far across it reaches as it lies on a table, mm"`
	Area   float64 `json:"area" doc:"Of its face, mm²: by it the price of the slab is shared"`
	Snipe  float64 `json:"snipe" doc:"Left at each end for the planer, mm"`
	Square float64 `json:"square" doc:"Left at each end for squaring, mm"`
}

// Length of the blank, mm.
func (b Blank) Length() float64 { return b.ToX - b.FromX }

// Blank is what has to be cut out, kept within the slab and short of the
// boards before and behind.
func (p Place) Blank(outline geom.Ring) Blank {
	box := outline.Bounds()
	b := Blank{Square: p.Shop.Rules.Get(rule.Squaring)}
	if p.Wood.NaturalEnds {
		b.Square = 0
	}
	p.stretch(&b, box)
	if p.Choice.Snipe != "allow" || !p.flattened() {
		return b
	}
	longer := b
	longer.Snipe = p.Shop.Rules.Get(rule.Snipe)
	if p.stretch(&longer, box); p.snipes(longer) || p.snipes(b) {
		return longer
	}
	return b
}

// flattened tells whether its faces are made flat at all.
func (p Place) flattened() bool { return !p.Wood.Rough.Uneven && p.Choice.Faces != stock.SandOnly }

// stretch is how far a blank with its allowances reaches about a board with the given
// bounds.
func (p Place) stretch(b *Blank, box geom.Bounds) {
	from, to := p.ends(box)
	b.FromX = max(from, box.MinX-b.Square-b.Snipe)
	b.ToX = max(min(to, box.MaxX+b.Square+b.Snipe), b.FromX+1)
	b.Width, b.Table, b.Area = p.span(b.FromX, b.ToX, p.beside(box, *b))
}

// Milling is a blank as it is flattened: by itself, or with the whole piece.
func (p Place) Milling(b Blank, whole bool) stock.Blank {
	size := stock.Blank{
		Length: b.Length(), Width: b.Width, Table: b.Table, Target: p.Design.Thickness, Faces: p.Choice.Faces,
	}
	if whole {
		all := p.Wood.Whole()
		size.Length, size.Width, size.Table = all.Length, all.Width, all.Table
	}
	return size
}

// Milled is how a blank is flattened: by the maker's method, or by what is proposed.
func (p Place) Milled(b Blank) milling.Milled {
	return milling.With(p.Shop.Kit, p.piece(b), p.Choice.Method)
}

// snipes tells whether that digs in at its ends.
func (p Place) snipes(b Blank) bool { return milling.Snipes(p.Shop.Kit, p.piece(b), p.Choice.Method) }

// piece is a blank as a machine feels it.
func (p Place) piece(b Blank) milling.Piece {
	size := p.Milling(b, p.Choice.FlattenWhole)
	return Piece(p.Wood, size, p.Wood.Plan(size, p.Shop.Rules), p.Choice.Bite)
}

// Piece is a blank of some wood as a machine feels it, which becomes as thick as a budget
// says, with a bite of the maker's own, mm, or none.
func Piece(w stock.Wood, b stock.Blank, to stock.Budget, bite float64) milling.Piece {
	return milling.Piece{
		Length: b.Length, Width: max(b.Width, b.Table), Height: to.Planed + to.Off, To: to.Planed, Level: to.Level,
		Loose: 1000 * w.Shavings(b, to), Wood: milling.Felt(w.Species(), len(w.Features) > 0), Bite: bite,
		Plain: w.Rough.Surfaced > 0 || w.Rough.Glued || to.Hollow+to.Wind < plain,
	}
}

// plain is the hollow and the wind together, mm, under which a face counts as flat for a
// planer (rule).
const plain = 0.5

// beside is how far a blank reaches across the slab, from its right to its left: half way
// to the boards beside it, where a straight rip parts it from them all along.
func (p Place) beside(box geom.Bounds, b Blank) (band [2]float64) {
	band = [2]float64{math.Inf(-1), math.Inf(1)}
	for _, n := range p.Others {
		other := n.Outline.Bounds()
		if other.MaxX <= b.FromX || other.MinX >= b.ToX {
			continue
		}
		if other.MaxY <= box.MinY {
			band[0] = max(band[0], (other.MaxY+box.MinY)/2)
		}
		if other.MinY >= box.MaxY {
			band[1] = min(band[1], (other.MinY+box.MaxY)/2)
		}
	}
	return band
}

// ends is how far the blank of a board with the given bounds may reach along
// the slab: to its ends, or half way to the boards before and behind.
func (p Place) ends(box geom.Bounds) (from, to float64) {
	to = p.Wood.Length
	for _, n := range p.Others {
		other := n.Outline.Bounds()
		if other.MaxX <= box.MinX {
			from = max(from, (other.MaxX+box.MinX)/2)
		}
		if other.MinX >= box.MaxX {
			to = min(to, (other.MinX+box.MaxX)/2)
		}
	}
	return from, to
}

// Crossing is a cut across the piece, so long, with so much of it beside the blade, mm.
func (p Place) Crossing(length, beside float64) making.Task {
	return making.Task{Work: making.Across, Name: "cross-cuts", Amount: 1, On: tool.Piece{
		Width: length, Height: p.Wood.Rough.Thickest, Beside: beside,
	}}
}

// span is the largest width of a stretch of the slab within a band of it, how far the
// stretch reaches across as a whole, which is more where the slab is crooked, mm, and its
// area, mm².
func (p Place) span(from, to float64, band [2]float64) (width, reach, area float64) {
	const steps = 40
	lo, hi := math.Inf(1), math.Inf(-1)
	for i := range steps + 1 {
		x := from + (to-from)*float64(i)/steps
		right, left := max(p.Wood.Right(x), band[0]), min(p.Wood.Left(x), band[1])
		width, lo, hi = max(width, left-right), min(lo, right), max(hi, left)
		strip := (to - from) / steps
		if i == 0 || i == steps { // by trapeziums
			strip /= 2
		}
		area += max(0, left-right) * strip
	}
	return width, max(width, hi-lo), area
}

// whole is the band of all of a slab.
var whole = [2]float64{math.Inf(-1), math.Inf(1)}

// Cut is one cut in its order.
type Cut struct {
	Title  string   `json:"title" doc:"What is cut"`
	Tool   string   `json:"tool" doc:"What it is cut with"`
	Length float64  `json:"length" doc:"mm; of a bored hole its diameter"`
	At     *float64 `json:"at,omitempty" doc:"Distance from the butt end"`
	Bored  bool     `json:"bored,omitempty" doc:"A hole, whose length is its diameter"`

	Working craft.Figure `json:"working" doc:"The length"`
	Inner   bool         `json:"-"` // inside the outline
}

// Cuts lists the cuts for a board: blank first, then its holes, then its outline, each
// with who makes it.
func (p Place) Cuts(s board.Shaped, blank Blank, makes board.Makes) []Cut {
	var cuts []Cut
	add := func(c Cut, label, formula string, terms ...craft.Term) {
		c.Working = craft.Figure{
			Key:     "cut.length",
			Stage:   craft.Shape,
			Label:   label,
			Value:   c.Length,
			Unit:    craft.MM,
			Formula: formula,
			Terms:   terms,
			Source:  "measured on the drawing",
		}
		cuts = append(cuts, c)
	}
	cross := func(x float64, title string) {
		left, right := p.Wood.Left(x), p.Wood.Right(x)
		saw, _, _ := sawn(p.Shop.Kit, p.Crossing(left-right, min(x, p.Wood.Length-x)), tool.MitreSaw)
		add(
			Cut{Title: title, Tool: saw, Length: left - right, At: &x},
			"Across the slab",
			"left edge − right edge at that place",
			craft.Term{
				Name:  "from the butt end",
				Value: x,
				Unit:  craft.MM,
			},
			craft.Term{Name: "left edge", Value: left, Unit: craft.MM},
			craft.Term{Name: "right edge", Value: right, Unit: craft.MM},
		)
	}
	if blank.FromX > 0.5 {
		cross(blank.FromX, "Cross-cut the blank, butt end")
	}
	if blank.ToX < p.Wood.Length-0.5 {
		cross(blank.ToX, "Cross-cut the blank, far end")
	}
	for i, e := range board.Entries(s, p.Shop.Kit.Bores()) {
		h := s.Handles[i]
		title := "Bore the " + h.Name()
		if e.Sawn > 0 && e.Second == nil {
			title = "Bore an entry hole for the " + h.Name()
		}
		for range e.Bored() {
			add(
				Cut{
					Title: title, Tool: makes.Tool(making.Bored, s.HoleName(i)), Length: e.Diameter, Inner: true,
					Bored: true,
				},
				"Diameter",
				"as the handle is designed; an entry hole is the largest bit owned that stays inside the waste",
			)
		}
		if e.Sawn > 0 {
			add(
				Cut{Title: "Saw out the " + h.Name(), Tool: makes.Tool(making.Inner, ""), Length: e.Sawn, Inner: true},
				"Sawn through it",
				"length of its line; of a slot the two cuts between its bored ends",
			)
		}
	}
	for _, b := range s.Bores {
		if b.Late {
			continue
		}
		add(
			Cut{
				Title: "Bore the " + b.Name, Tool: makes.Tool(making.Bored, b.Name), Length: b.Diameter, Inner: true,
				Bored: true,
			},
			"Diameter", "as the fitting is chosen",
		)
	}
	for _, t := range s.Slots {
		add(
			Cut{
				Title: "Cut the " + t.Name, Tool: makes.Tool(making.Slotted, t.Name), Length: t.B.Sub(t.A).Len(),
				Inner: true,
			},
			"Along the slot", "from edge to edge of the board",
		)
	}
	add(
		Cut{
			Title:  "Saw the outline, outside the line",
			Tool:   p.Choice.Saw,
			Length: s.Outline.Perimeter() - s.Natural(),
		},
		"Round the outline",
		"length of the outline − the natural edges, which stay",
	)
	if p.Choice.Trim {
		add(
			Cut{
				Title: "Trim the outline to its template", Tool: makes.Tool(making.Profile, board.Trimming),
				Length: s.Outline.Perimeter() - s.Natural(),
			},
			"Round the outline", "length of the outline − the natural edges, which stay",
		)
	}
	return cuts
}
