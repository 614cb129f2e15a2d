// Package reckon composes the rules of the craft. A Scene is what there is; a
// question is what one wants to know of it, and each has one way in:
//
//	Reckon     every board: its stages, its dates, and the slab
//	LayOut     where the boards of a slab lie, only that
//	Seek       a search for a lay-out
//	Biggest    the largest clean board of a shape
//	Leftovers  the pieces that are left when the boards are cut out
//	Resaw      the leaves of a slab
//	Dates      when what is to be done is done, whatever the wood
//	Draw       the boards drawn, not judged
//	Happened   a board on which something went wrong
//	WaysOut    the ways out of that, each tried in full
//
// All are pure and deterministic: the moment and the time zone are in the scene,
// and the same scene gives the same answer.
package reckon

import (
	"fmt"
	"math"
	"time"

	"idletimber/craft"
	"idletimber/craft/aftercare"
	"idletimber/craft/board"
	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/fitting"
	"idletimber/craft/geom"
	"idletimber/craft/giving"
	"idletimber/craft/glue"
	"idletimber/craft/layout"
	"idletimber/craft/plan"
	"idletimber/craft/rescue"
	"idletimber/craft/river"
	"idletimber/craft/rule"
	"idletimber/craft/sanding"
	"idletimber/craft/shelf"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// Schema is the number of the job format that this package reads.
const Schema = 1

// Scene is what there is: a slab with the boards laid on it, in a shop, at a
// moment. A job file holds one.
//
//	now ── shop ── log, samples of the maker's pace
//	        │
//	       slab ──┬── boards   still to be made
//	              ├── taken    cut out and given away: no wood there any more
//	              ├── strips   to be cut out for panels
//	              ├── leaf     another leaf of the same piece, with its own boards
//	              ├── apart    boards on other slabs that some of these mate with
//	              └── elsewhere  work on other slabs, which shares the maker's time
//
// Places are in the slab's frame, package stock; shapes in each board's own,
// package board.
type Scene struct {
	Schema    int           `json:"schema" doc:"Always 1"`
	Now       time.Time     `json:"now" doc:"The moment that dates are reckoned from"`
	Piece     string        `json:"piece,omitempty" doc:"Id of the slab, which work on a panel is named by"`
	Slab      *slab.Slab    `json:"slab,omitempty" doc:"Left out when only a plan is wanted"`
	Boards    []Board       `json:"boards" doc:"The boards laid on the slab"`
	Apart     []Apart       `json:"apart,omitempty" doc:"Boards on other slabs that boards of this one must mate with"`
	Leaf      *Leaf         `json:"leaf,omitempty" doc:"Another leaf of the same piece, where boards have their twins"`
	Taken     []Board       `json:"taken,omitempty" doc:"Boards that were given away: they only take up its wood"`
	Sheets    []river.Sheet `json:"-"` // on the rack, that moulds are cut from
	Panels    []slab.Slab   `json:"-"` // other panels of the workshop, by their names and patterns
	Strips    []Strip       `json:"strips,omitempty" doc:"Wood of it that strips of panels are to be cut from"`
	Shop      shop.Shop     `json:"shop" doc:"Where the work is done"`
	Log       []LogEntry    `json:"log,omitempty" doc:"What has been done on the boards"`
	Elsewhere []plan.Chain  `json:"elsewhere,omitempty" doc:"Boards on other slabs that share the maker's sessions"`
	Warmth    []fill.Warmth `json:"warmth,omitempty" doc:"Of the room as it was read, oldest first"`
	Poured    []fill.Poured `json:"poured,omitempty" doc:"Pours that are over, which teach soak, loss and reserve"`
	Samples   []plan.Sample `json:"samples,omitempty" doc:"Finished steps that teach the maker's pace"`

	Coated []finish.Coated    `json:"coated,omitempty" doc:"Coats that are over, which teach what this maker's take"`
	Washed map[string]float64 `json:"washed,omitempty" doc:"Washes until bare, by product, as trials have told"`

	Sheeted []shelf.Product `json:"sheeted,omitempty" doc:"With data sheets, which go before the usual figures"`

	Order []string   `json:"order,omitempty" doc:"In which the steps of all work are done, as it was found to be good"`
	Pins  []plan.Pin `json:"pins,omitempty" doc:"Days that steps are locked to"`
	Ahead []string   `json:"ahead,omitempty" doc:"Steps that are done ahead of all others, in this order"`

	Watch craft.Watch `json:"-"` // asked between boards, and oftener in what takes long
}

// Apart is a board on another slab.
type Apart struct {
	Board Board      `json:"board" doc:"As it was drawn"`
	Slab  *slab.Slab `json:"slab,omitempty" doc:"Where its outline follows that slab's edges"`
}

// First is the id of the first board, which a job is about; empty where there is none.
func (s Scene) First() string {
	if len(s.Boards) == 0 {
		return ""
	}
	return s.Boards[0].ID
}

// Board is one board: its place on the slab, its shape, and the choices made
// at each stage.
type Board struct {
	ID        string         `json:"id" doc:"Its own for good"`
	Name      string         `json:"name" doc:"What the maker calls it"`
	Placement geom.Placement `json:"placement" doc:"Where it lies on its slab"`
	Design    board.Design   `json:"design" doc:"Its shape"`
	Cut       layout.Choice  `json:"cut" doc:"How it is cut out and flattened"`
	Fill      fill.Choice    `json:"fill" doc:"What fills its voids"`
	Sand      sanding.Choice `json:"sand" doc:"How it is sanded"`
	Finish    finish.Choice  `json:"finish" doc:"How it is finished"`
	Fit       fitting.Choice `json:"fit" doc:"What is put on it at the end"`
	Rim       *glue.Rim      `json:"rim,omitempty" doc:"Plies bent round its outline"`
	Give      Give           `json:"give" doc:"For whom, and by when"`
	Mates     []board.Mate   `json:"mates,omitempty" doc:"Boards that this one nests with"`
	Twin      *Twin          `json:"twin,omitempty" doc:"The board on another leaf that goes with it wherever it goes"`
	Locked    bool           `json:"locked,omitempty" doc:"It stays where it lies when the slab is laid out"`

	Returned *aftercare.Return `json:"returned,omitempty" doc:"It has come back, and is restored"`

	Mishaps []rescue.Mishap `json:"mishaps,omitempty" doc:"What went wrong on it, the oldest first"`
}

// Twin names a board and the leaf that it lies on, by their ids.
type Twin struct {
	Board string `json:"board" doc:"Id of the twin"`
	Piece string `json:"piece" doc:"Id of the leaf that it lies on"`
}

// Give is whom a board is for.
type Give struct {
	For    string `json:"for" doc:"Who gets it"`
	Due    string `json:"due" doc:"Day on which it must be ready for food, YYYY-MM-DD; empty without a date"`
	Whom   string `json:"whom,omitempty" enum:",own,customer" doc:"Who judges it: left out for a gift"`
	Note   string `json:"note" doc:"The maker's own words"`
	Use    string `json:"use" enum:"nibbles,starter,main" doc:"What it serves"`
	People int    `json:"people" range:"1,1000" doc:"How many it is to serve"`
	Dry    bool   `json:"dry,omitempty" doc:"Used dry: a tray, wiped and never washed"`
	Person string `json:"person,omitempty" doc:"Id of who gets it, where that is one of the workshop's people"`
	Sent   bool   `json:"sent,omitempty" doc:"It goes by post"`

	Card   *giving.Card   `json:"card,omitempty" doc:"What the maker has made of its card"`
	Extras []giving.Extra `json:"extras,omitempty" doc:"Add-ons, and work bought in for it"`

	Mark *giving.Mark `json:"mark,omitempty" doc:"The maker's mark on its under face"`
}

// DueAt is the moment at which the board must be ready, nil without a date.
func (g Give) DueAt(zone *time.Location) *time.Time {
	return plan.Noon(g.Due, zone)
}

// LogEntry is one event in the work on a subject.
type LogEntry struct {
	Subject plan.Subject `json:"subject" doc:"What it was done on"`
	plan.Entry
	Uses []stage.Use `json:"uses,omitempty" doc:"With finish, or a note after it: what the step took"`
}

// mostLength bounds where on a slab something may have gone wrong, mm.
const mostLength = 20_000

// MostBoards bounds the boards on one slab, and mostDrawn the points by which all of
// them are drawn, so that whatever is taken is reckoned in a second.
const (
	MostBoards   = 60
	mostDrawn    = 4000
	mostReserved = 200 // strips of panels
	mostWarmth   = 5000
	mostOrdered  = 20_000 // more than all work of a shop has steps
	mostPoured   = 1000
	mostCoated   = 1000
	mostSheeted  = 500
)

// drawnBy counts the points of boards, those of curves as often as they take longer.
func drawnBy(boards ...[]Board) (n int) {
	for _, list := range boards {
		for _, b := range list {
			n += b.Design.DrawnBy()
		}
	}
	return n
}

// Check reports what is out of range or unknown.
func (j Scene) Check() craft.Problems {
	var ps craft.Problems
	if j.Schema != Schema {
		ps.Add("schema", fmt.Sprintf("schema %d is not known", j.Schema), fmt.Sprintf("give %d", Schema))
	}
	if y := j.Now.Year(); y < 1970 || y > 9000 {
		ps.Add("now", "the moment is missing", "give a time such as 2031-03-04T12:00:00Z")
	}
	ps = append(ps, j.Shop.Check("shop", sanding.Grits)...)
	if j.Slab != nil {
		ps = append(ps, j.Slab.Check("slab", j.Now, j.Shop.Species)...)
	} else if len(j.Boards)+len(j.Taken) > 0 {
		ps.Add("slab", "there are boards but no slab", "give the slab that they are laid on")
	}
	if len(j.Boards)+len(j.Taken) > MostBoards {
		ps.Add("boards", "there are too many boards on the slab", fmt.Sprintf("lay at most %d", MostBoards))
		return ps
	}
	if n := drawnBy(j.Boards, j.Taken); n > mostDrawn {
		ps.Add(
			"boards",
			fmt.Sprintf(
				"the outlines on the slab are drawn by %d points, a smooth one counting twice, a batten ten "+
					"times, a round on a curve twenty", n,
			),
			fmt.Sprintf("draw with at most %d, or take boards off it", mostDrawn),
		)
		return ps
	}
	if max(len(j.Order), len(j.Pins), len(j.Ahead)) > mostOrdered {
		ps.Add(
			"order",
			"there are too many steps in order or locked to days",
			fmt.Sprintf("give at most %d", mostOrdered),
		)
		return ps
	}
	if len(j.Warmth) > mostWarmth {
		ps.Add("warmth", "there are too many readings of the room", fmt.Sprintf("give at most %d", mostWarmth))
		return ps
	}
	if len(j.Poured) > mostPoured {
		ps.Add("poured", "there are too many pours", fmt.Sprintf("give at most %d", mostPoured))
		return ps
	}
	if len(j.Coated) > mostCoated || len(j.Washed) > len(finish.Products) {
		ps.Add("coated", "there are too many coats or trials", fmt.Sprintf("give at most %d coats", mostCoated))
		return ps
	}
	for i, c := range j.Coated {
		ps.InRange(fmt.Sprintf("coated[%d]", i), c)
	}
	if len(j.Sheeted) > mostSheeted {
		ps.Add("sheeted", "there are too many products with data sheets", fmt.Sprintf("give at most %d", mostSheeted))
		return ps
	}
	for i, p := range j.Sheeted {
		ps = append(ps, p.Check(fmt.Sprintf("sheeted[%d]", i))...)
	}
	for product, washes := range j.Washed {
		ps.Range("washed."+product, washes, 0, 10_000)
	}
	for i, p := range j.Poured {
		ps.InRange(fmt.Sprintf("poured[%d]", i), p)
	}
	for i, w := range j.Warmth {
		ps.InRange(fmt.Sprintf("warmth[%d]", i), w)
		if i > 0 && w.At.Before(j.Warmth[i-1].At) {
			ps.Add(fmt.Sprintf("warmth[%d].at", i), "it comes before the one above it", "list the oldest first")
		}
	}
	if len(j.Strips) > mostReserved || len(j.Piece) > 64 {
		ps.Add("strips", "there are too many strips on the slab", fmt.Sprintf("cut at most %d", mostReserved))
		return ps
	}
	for i, t := range j.Strips {
		at := fmt.Sprintf("strips[%d]", i)
		ps.InRange(at, t)
		ps.InRange(at+".at", t.At)
	}
	seen := map[string]bool{}
	if len(j.Apart) > MostBoards {
		ps.Add("apart", "there are too many boards on other slabs", fmt.Sprintf("name at most %d", MostBoards))
		return ps
	}
	for i, a := range j.Apart {
		at := fmt.Sprintf("apart[%d]", i)
		ps = append(ps, a.Board.Check(at+".board")...)
		if a.Slab != nil {
			ps = append(ps, a.Slab.Check(at+".slab", j.Now, j.Shop.Species)...)
		}
	}
	for _, list := range []struct {
		field  string
		boards []Board
	}{{"boards", j.Boards}, {"taken", j.Taken}} {
		for i, b := range list.boards {
			at := fmt.Sprintf("%s[%d]", list.field, i)
			if b.ID == "" || len(b.ID) > 64 || seen[b.ID] {
				ps.Add(at+".id", "the id is empty, too long or used twice", "give every board an id of its own")
			}
			seen[b.ID] = true
			ps = append(ps, b.Check(at)...)
		}
	}
	return ps
}

// Check reports what is out of range or unknown.
func (b Board) Check(field string) (ps craft.Problems) {
	at := func(name string) string {
		if field == "" {
			return name
		}
		return field + "." + name
	}
	if b.Name == "" || len(b.Name) > 200 {
		ps.Add(at("name"), "the name is empty or too long", "give a name of 1 to 200 characters")
	}
	ps.InRange(at("placement"), b.Placement)
	ps = append(ps, b.Design.Check(at("design"))...)
	ps = append(ps, b.Cut.Check(at("cut"))...)
	ps = append(ps, b.Fill.Check(at("fill"))...)
	ps = append(ps, b.Sand.Check(at("sand"))...)
	ps = append(ps, b.Finish.Check(at("finish"))...)
	ps = append(ps, b.Fit.Check(at("fit"))...)
	ps = append(ps, b.Rim.Check(at("rim"))...)
	if t := b.Twin; t != nil && (t.Board == "" || len(t.Board) > 64 || len(t.Piece) > 64) {
		ps.Add(
			at("twin"),
			"its id is missing or too long",
			"name the board and its piece by their ids, or leave it out",
		)
	}
	if len(b.Mates) > 12 {
		ps.Add(at("mates"), "there are too many", "let a board mate with at most 12 others")
	}
	for i, m := range b.Mates {
		field := fmt.Sprintf("mates[%d]", i)
		ps.InRange(at(field), m)
		ps.Length(at(field+".at.x"), m.At.X, -10000, 10000)
		ps.Length(at(field+".at.y"), m.At.Y, -10000, 10000)
	}
	if len(b.Give.For) > 500 || len(b.Give.Note) > 5000 {
		ps.Add(
			at("give.note"),
			"the text is too long",
			"use at most 500 characters for the person and 5000 for the note",
		)
	}
	if _, err := time.Parse(time.DateOnly, b.Give.Due); b.Give.Due != "" && err != nil {
		ps.Add(
			at("give.due"),
			fmt.Sprintf("%q is not a day", b.Give.Due),
			"write it like 2031-06-21, or leave it empty",
		)
	}
	ps.OneOf(at("give.use"), b.Give.Use, "nibbles", "starter", "main")
	ps.OneOf(at("give.whom"), b.Give.Whom, "", board.Own, board.Customer)
	ps.InRange(at("give"), b.Give)
	if len(b.Give.Person) > 64 {
		ps.Add(at("give.person"), "it is no id of a person", "choose one of the workshop's people, or leave it empty")
	}
	ps = append(ps, b.Give.Card.Check(at("give.card"))...)
	ps = append(ps, b.Give.Mark.Check(at("give.mark"))...)
	ps = append(ps, giving.CheckExtras(at("give.extras"), b.Give.Extras)...)
	ps = append(ps, b.Returned.Check(at("returned"))...)
	if len(b.Mishaps) > rescue.MostMishaps {
		ps.Add(
			at("mishaps"),
			"there are too many",
			fmt.Sprintf("tell of at most %d, or begin it again", rescue.MostMishaps),
		)
		return ps
	}
	for i, m := range b.Mishaps {
		ps = append(ps, m.Check(at(fmt.Sprintf("mishaps[%d]", i)), mostLength)...)
	}
	return ps
}

// NewBoard is a board to begin with, laid in the middle of a slab of a length.
func NewBoard(id, name string, length float64) Board {
	return Board{
		ID: id, Name: name, Placement: geom.Placement{X: length / 2},
		Design: board.Design{Shape: board.Rectangle, Length: 360, Width: 180, Corner: 20, Thickness: 20,
			Neck: 50, NeckLength: 120, Shoulder: 25,
			Handle: board.Handle{Kind: board.NoHandle, Diameter: 30, Length: 90, Setback: 45},
			Edge:   board.Edge{Kind: "round-over", Size: 3}},
		Cut:    layout.Choice{Saw: tool.BandSaw, Snipe: "allow"},
		Fill:   fill.Choice{Resin: "casting"},
		Sand:   sanding.Choice{Raise: sanding.Once},
		Finish: finish.Choice{School: finish.OilThenPaste, Ratio: 3},
		Give:   Give{Use: "nibbles", People: 4},
	}
}

// NewBoardOn is a new board that fits the middle of a slab, smaller than usual where
// the wood is.
func NewBoardOn(id, name string, v slab.Slab, at shop.Shop) Board {
	b := NewBoard(id, name, v.Length)
	down := func(v float64) float64 { return math.Floor(v/5) * 5 }
	d := &b.Design
	d.Length = max(leastNew, min(d.Length, down(v.Length-2*at.Rules.Get(rule.Squaring)-2*besides)))
	wood := slab.Draw(v, nil)
	low, high := math.Inf(-1), math.Inf(1)
	const looks = 20
	for i := range looks + 1 {
		x := v.Length/2 + d.Length*(float64(i)/looks-0.5)
		low, high = max(low, wood.Right(x)), min(high, wood.Left(x))
	}
	d.Width = max(leastNew, min(d.Width, down(high-low-2*besides)))
	b.Placement.Y = math.Round((low + high) / 2)
	if most := wood.Plan(stock.Blank{Length: d.Length, Width: d.Width}, at.Rules).Most; most > 0 {
		d.Thickness = max(leastThick, min(d.Thickness, math.Floor(most)))
	}
	if done := v.Bought; done != nil && done.Thickness > 0 {
		d.Thickness = 0 // as it came: it was planed already
	}
	d.Corner = min(d.Corner, min(d.Length, d.Width)/4)
	b.Cut.Saw = at.Kit.CurveSaw()
	return b
}

// What is left of a slab beside a new board, and the least that a new board
// measures, mm.
const (
	besides    = 8
	leastNew   = 60
	leastThick = 10
)
