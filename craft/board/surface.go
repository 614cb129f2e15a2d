package board

import (
	"fmt"
	"math"

	"idletimber/craft/geom"
	"idletimber/craft/stock"
)

// The kinds of surfaces that are sanded, each by a way of its own.
const (
	Faces     = "faces"
	SawnEdges = "edges"
	HoleWall  = "inside of a hole"
	BoredWall = "inside of a bored hole"
	Recessed  = "recesses"
	LiveEdge  = "live edge"
)

// Surface is a part of a board's surface.
type Surface struct {
	Kind string
	Name string
	Area float64       // mm²
	Wood []stock.Patch // what it is made of
}

// Surfaces lists the surfaces of a board t mm thick, the faces first.
func (s Shaped) Surfaces(t float64, wood stock.Grain) []Surface {
	natural := s.Natural()
	sunk := 0.0
	for _, c := range s.Cavities {
		sunk += c.Rim.Area() - c.Inner.Area()
	}
	whole := wood.Over(s.Outline)
	out := []Surface{
		{Faces, "faces", max(0, 2*s.Area()-sunk), whole},
		{SawnEdges, "edges", max(0, s.Outline.Perimeter()-natural) * t, whole},
	}
	for i, h := range s.Holes {
		name := fmt.Sprintf("inside of %s %d", s.Handles[i].Name(), i+1)
		kind := HoleWall
		if s.Handles[i].bored() {
			kind = BoredWall
		}
		out = append(out, Surface{kind, name, h.Perimeter() * t, wood.Over(h)})
	}
	if sunk > 0 {
		out = append(out, Surface{Recessed, "recesses", sunk, whole})
	}
	if natural > 0 {
		out = append(out, Surface{LiveEdge, "live edge", natural * t, whole})
	}
	return out
}

// Thirst is the surface of a board t mm thick that takes finish, mm²: both faces
// and all edges, and the end grain in it, which is what lies across the fibres.
func (s Shaped) Thirst(t float64, wood stock.Grain) (whole, end float64) {
	whole, end = 2*s.Area(), 2*stock.EndArea(wood.Over(s.Outline))
	edge := func(r geom.Ring) {
		for i := range r {
			p, q := r.Edge(i)
			side := q.Sub(p)
			l := side.Len()
			if l == 0 {
				continue
			}
			sin, cos := math.Sincos(wood.At(p).Fibres * math.Pi / 180)
			along := (side.X*cos + side.Y*sin) / l
			whole += l * t
			end += l * t * (1 - along*along)
		}
	}
	edge(s.Outline)
	for _, h := range s.Holes {
		edge(h)
	}
	for _, b := range s.Bores { // what is bored and slotted before the finish drinks too
		if !b.Late {
			whole += math.Pi * b.Diameter * b.Long(t)
		}
	}
	for _, o := range s.Slots {
		whole += o.B.Sub(o.A).Len() * (o.DepthA + o.DepthB)
	}
	return whole, end
}
