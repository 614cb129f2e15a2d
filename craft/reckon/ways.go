package reckon

import (
	"fmt"
	"math"

	"idletimber/craft"
	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/tool"
)

// Otherwise is one thing about a board that can be made in several ways.
type Otherwise struct {
	What string
	Ways []Way
}

// Way is one of them: what it is called, and what makes the board so.
type Way struct {
	Name   string
	Patch  craft.Patch
	Chosen bool // as the board is
}

// Ways are what of a scene's first board may be made otherwise, at a price: its finish, oil to wax, resin, saw and
// thickness. What has one way only is left out.
func Ways(s Scene, r Reckoned) (out []Otherwise) {
	b := s.Boards[0]
	add := func(what string, ways []Way) {
		if len(ways) > 1 {
			out = append(out, Otherwise{what, ways})
		}
	}
	way := func(name, group string, change map[string]any, chosen bool) Way {
		return Way{name, craft.Patch{group: change}, chosen}
	}
	var ways []Way
	for _, school := range finish.Schools {
		ways = append(ways, way(school.Name, "finish", map[string]any{"school": school.Name, "list": nil, "name": nil},
			len(b.Finish.List) == 0 && b.Finish.School == school.Name))
	}
	add("Finish", ways)
	if r.Finish.Paste != nil {
		ways = nil
		for _, ratio := range []float64{2, 3, 4} {
			ways = append(ways, way(fmt.Sprintf("%g parts of oil to 1 of wax", ratio), "finish",
				map[string]any{"ratio": ratio}, b.Finish.Ratio == ratio))
		}
		add("Oil to wax", ways)
	}
	if r.Mix != nil {
		ways = nil
		for _, kind := range fill.Kinds() {
			ways = append(ways, way(kind, "fill", map[string]any{"resin": kind}, b.Fill.Resin == kind))
		}
		add("Resin", ways)
	}
	ways = nil
	for _, saw := range []string{tool.BandSaw, tool.TableSaw, tool.Jigsaw, tool.TrackSaw} {
		if _, owned := s.Shop.Fits(saw, tool.Piece{}); owned {
			ways = append(ways, way(saw, "cut", map[string]any{"saw": saw}, b.Cut.Saw == saw))
		}
	}
	add("Saw", ways)
	if t := b.Design.Thickness; t > 0 {
		ways = nil
		for _, by := range []float64{-4, -2, 0, 2, 4} {
			if next := t + by; by == 0 || next >= leastThick && next <= math.Max(t, r.Budget.Most) {
				ways = append(ways, way(craft.Length(next), "design", map[string]any{"thickness": next}, by == 0))
			}
		}
		add("Thickness", ways)
	}
	return out
}
