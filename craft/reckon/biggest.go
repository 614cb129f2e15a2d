package reckon

import (
	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/clean"
	"idletimber/craft/geom"
	"idletimber/craft/layout"
	"idletimber/craft/stock"
)

// Clean is the biggest board of a shape that fits around the flaws of a slab
// and what is laid on it.
type Clean struct {
	Placement geom.Placement `json:"placement"`
	Design    board.Design   `json:"design"`
	Path      string         `json:"path"`
	Area      float64        `json:"area" doc:"mm²"`
}

// coarseSteps are how many places along the slab a clean board is looked for at first.
const coarseSteps = 60

// BiggestRequest is the board that is looked for.
type BiggestRequest struct {
	Board Board
	Free  bool        // its length and width need not keep their ratio
	Spot  *geom.Point // that it must cover; anywhere without one
}

// Biggest finds the largest board of a shape, in its proportions, that fits around
// flaws and boards at a spot, which it must cover, or anywhere. A soft rectangle
// whose proportions are free may be as long as it likes. It fails as
// Reckon does, or says that there is no room.
func Biggest(s Scene, ask BiggestRequest) (Clean, error) {
	d := ask.Board
	if ps := d.Check("board"); len(ps) > 0 {
		return Clean{}, ps
	}
	if d.Design.Shape == board.Plank || d.Design.Shape == board.Free {
		return Clean{}, craft.Problems{{
			Field: "board.design.shape", Wrong: "its size is not told by a length and a width",
			Right: "choose a shape that is",
		}}
	}
	b, err := drawOn(s)
	if err != nil {
		return Clean{}, err
	}
	best, ok := b.room(b.neighbours(-1), d.Cut.Apart(s.Shop.Rules)).Biggest(d.Design, ask.Free, ask.Spot, coarseSteps)
	if err := s.Watch.Ask(); err != nil { // what it broke off is no answer
		return Clean{}, err
	}
	if !ok {
		return Clean{}, craft.Problems{{
			Field: "spot", Wrong: "there is no clean wood for it here",
			Right: "choose another spot, or mark that its flaws may be filled",
		}}
	}
	drawn := board.Draw(best.Design, nil)
	return Clean{best.Placement, best.Design, drawn.Path.ToSVG(), drawn.Outline.Area()}, nil
}

// room is the clean wood of a slab: short of its ends, clear of what is laid and of
// every flaw that a board had better not hold.
func (b *drawn) room(around []layout.Neighbour, apart float64) clean.Room {
	r := clean.Room{Sheet: geom.NewIndex(b.sheet()), Watch: b.Watch}
	for _, n := range around {
		r.Holes = append(
			r.Holes,
			geom.NewIndex(n.Outline.Outset(max(apart, n.Cut.Apart(b.Shop.Rules))).Dense(3)),
		)
	}
	return withoutFlaws(r, b.wood.Flaws)
}

// withoutFlaws is the room without the flaws that clean wood does not hold.
func withoutFlaws(r clean.Room, flaws []stock.Flaw) clean.Room {
	for _, print := range prints(flaws, func(f stock.Flaw) bool { return !f.Clean() }) {
		r.Holes = append(r.Holes, geom.NewIndex(print.Dense(3)))
	}
	return r
}
