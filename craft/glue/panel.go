package glue

import (
	"math"

	"idletimber/craft/geom"
	"idletimber/craft/stock"
)

// Parts are the strips of a panel side by side, the first at the right, in a frame whose
// x runs along them and whose y from the middle of the panel to the left. What a strip is
// made of is asked by its number.
func (s Striped) Parts(of func(strip int) stock.Here) []stock.Patch {
	out := make([]stock.Patch, s.Strips)
	for i := range out {
		right := float64(i)*s.Width - s.Across()/2
		out[i] = stock.Patch{
			Here: of(i),
			Ring: geom.Bounds{MinX: 0, MaxX: s.Length, MinY: right, MaxY: right + s.Width}.Ring(),
		}
	}
	return out
}

// ChevronParts are the parts of a chevron: slices side by side, whose strips lean by so
// many degrees to them, every other one turned over, trimmed to a rectangle. The frame's
// x runs along the slices from their trimmed end, its y across them from the middle.
func (s Striped) ChevronParts(
	degrees, width, kerf float64,
	staggered bool,
	of func(strip int) stock.Here,
) []stock.Patch {
	made := s.Chevron(degrees, width, kerf, staggered)
	sin, cos := math.Sincos(degrees * math.Pi / 180)
	lean, each := width*cos/sin, s.Width/sin // by how far a strip leans over a slice; how long it lies along it
	var out []stock.Patch
	for slice := range made.Count {
		right := float64(slice)*width - made.Width/2
		turned := slice%2 == 1
		box := geom.Bounds{MinX: 0, MaxX: made.Length, MinY: right, MaxY: right + width}
		for i := range s.Strips {
			from := float64(i)*each - lean
			ring := geom.Ring{
				{X: from, Y: right}, {X: from + each, Y: right},
				{X: from + each + lean, Y: right + width}, {X: from + lean, Y: right + width},
			}
			here := of(i)
			here.Fibres += degrees
			if turned { // about the slice's own length
				ring = geom.Ring{
					{X: from + lean, Y: right}, {X: from + each + lean, Y: right},
					{X: from + each, Y: right + width}, {X: from, Y: right + width},
				}
				here.Fibres = -here.Fibres
			}
			if part := geom.Clip(ring, box.Ring()); len(part) > 2 && part.Area() > 1e-6 {
				out = append(out, stock.Patch{Here: here, Ring: part})
			}
		}
	}
	return out
}
