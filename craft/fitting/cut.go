package fitting

import (
	"fmt"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
)

// across is the wood across a board at x, from its right edge to its left one.
func across(s board.Shaped, x float64) (right, left float64, ok bool) {
	ys := s.Outline.SpansAcross(x, nil)
	if len(ys) < 2 {
		return 0, 0, false
	}
	return ys[0], ys[len(ys)-1], true
}

// footScrew is the diameter of the screws that hold feet, mm.
const footScrew = 3.5

// Cut is the board with what its fittings cut out of it.
func (c Choice) Cut(s board.Shaped) board.Shaped {
	s.Slots, s.Bores = nil, nil
	box := s.Outline.Bounds()
	for i, at := range c.Stands(s) {
		s.Bores = append(s.Bores, board.Bore{
			Name: fmt.Sprintf("screw hole of foot %d", i+1), Of: fmt.Sprintf("foot %d", i+1), A: at, B: at,
			Diameter: footScrew, Leaves: spare, Under: true, Late: true, Bites: bite,
		})
	}
	if c.Pulls != nil {
		s.Bores = append(s.Bores, c.Pulls.bores(s)...)
	}
	if h := c.Bolted; h != nil {
		x := box.MaxX - h.From
		if right, left, ok := across(s, x); ok {
			if !h.Straddles {
				s.Slots = append(s.Slots, h.groove(x, right, left))
			}
			s.Bores = append(s.Bores, h.bores(s)...)
		}
	}
	if c.Cleat != nil {
		for i, at := range c.Cleat.screws(s) {
			s.Bores = append(s.Bores, board.Bore{
				Name: fmt.Sprintf("screw hole %d of the cleat", i+1), Of: "cleat", A: at, B: at,
				Diameter: c.Cleat.Screw, Leaves: spare, Under: true, Late: true, Bites: bite,
			})
		}
	}
	if o := c.Coin; o != nil {
		at := geom.Point{X: o.X, Y: o.Y}
		s.Bores = append(s.Bores, board.Bore{
			Name: "seat of the coin", Of: "coin", A: at, B: at, Diameter: o.Diameter, Deep: o.Deep, Under: !o.Show,
			How: "Bore the coin's seat " + craft.Length(o.Deep) + " deep, tried on scrap",
		})
	}
	if l := c.Slicer; l != nil {
		x := l.slot(box)
		if right, left, ok := across(s, x); ok {
			slot, bore := l.cuts(s, x, right, left)
			s.Slots, s.Bores = append(s.Slots, slot), append(s.Bores, bore)
		}
	}
	return s
}
