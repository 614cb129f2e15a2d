package giving

import (
	"fmt"
	"math"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
)

// Mark is the maker's mark, burned or stamped into the under face: its middle in the board's frame.
type Mark struct {
	X      float64 `json:"x" mm:"-2000,2000" doc:"Along the board, from its middle"`
	Y      float64 `json:"y" mm:"-2000,2000" doc:"Across the board, from its middle"`
	Length float64 `json:"length" mm:"5,300" doc:"Of the mark, along the board"`
	Width  float64 `json:"width" mm:"5,300" doc:"Across"`
	Food   bool    `json:"food,omitempty" doc:"It stands on the face that food lies on"`
}

// Check reports what is out of range.
func (m *Mark) Check(field string) (ps craft.Problems) {
	if m != nil {
		ps.InRange(field, *m)
	}
	return ps
}

// Ring is the mark's outline in the board's frame.
func (m Mark) Ring() geom.Ring {
	x, y := m.Length/2, m.Width/2
	return geom.Ring{
		{X: m.X - x, Y: m.Y - y},
		{X: m.X + x, Y: m.Y - y},
		{X: m.X + x, Y: m.Y + y},
		{X: m.X - x, Y: m.Y + y},
	}
}

// markClear is how far a mark stays from edges, holes, bores, slots, feet and fills, mm (rule).
const markClear = 5

// around is what a mark has to keep clear of.
type around struct {
	outline geom.Ring
	inset   float64 // that its edge takes of the face, mm
	others  []geom.Ring
	names   []string
}

func aroundOf(s board.Shaped, c board.Conditions, food bool) around {
	a := around{outline: s.Outline, inset: s.Design.Edge.Size}
	add := func(name string, r geom.Ring) {
		if len(r) >= 3 {
			a.others, a.names = append(a.others, r), append(a.names, name)
		}
	}
	for i, h := range s.Holes {
		add("the "+s.HoleName(i), h)
	}
	for _, h := range s.Fitted(c.Thickness) {
		if food && h.Top > 0 || !food && h.Bottom < c.Thickness {
			continue // it does not come out on that face
		}
		add(h.Name, h.Ring)
	}
	for _, cavity := range s.Cavities {
		if food != cavity.Recess.Under {
			add(cavity.Name(s.Design.Recesses), cavity.Rim)
		}
	}
	for _, v := range c.Voids {
		if v.Under == food && v.Depth < c.Thickness {
			continue // it does not come out on that face
		}
		for _, ring := range v.Levels {
			add(v.Name, ring)
		}
	}
	const foot = 12 // mm, half a foot with its washer
	for _, p := range c.FootSpots {
		if !food {
			add("a foot", geom.Ellipse{Centre: p, A: foot, B: foot}.Ring(24))
		}
	}
	return a
}

// clearance is how far a mark is from what is nearest, mm, negative where it lies over it; and what that is.
func (a around) clearance(m Mark) (float64, string) {
	ring := m.Ring()
	least, name := math.Inf(1), "the edge"
	for _, p := range ring.Dense(4) {
		_, off := a.outline.Nearest(p)
		if !a.outline.Contains(p) {
			off = -off
		}
		least = min(least, off-a.inset)
	}
	for i, other := range a.others {
		gap := geom.Gap(ring, other)
		if gap <= 0 || ring.Contains(other[0]) || other.Contains(ring[0]) {
			gap = -math.Sqrt(other.Area())
		}
		if gap < least {
			least, name = gap, a.names[i]
		}
	}
	return least, name
}

// place finds the place nearest to where a mark was asked for that keeps it clear; ok is false where there is none.
func (a around) place(m Mark) (at Mark, ok bool) {
	const step = 6 // mm
	box := a.outline.Bounds()
	best := math.Inf(1)
	for x := box.MinX + m.Length/2; x <= box.MaxX-m.Length/2; x += step {
		for y := box.MinY + m.Width/2; y <= box.MaxY-m.Width/2; y += step {
			next := m
			next.X, next.Y = math.Round(x), math.Round(y)
			off := math.Hypot(next.X-m.X, next.Y-m.Y)
			if off >= best {
				continue
			}
			if gap, _ := a.clearance(next); gap >= markClear {
				at, ok, best = next, true, off
			}
		}
	}
	return at, ok
}

// Judge judges the place of a mark: clear of what is cut into the board, and off the face that food lies on.
func (m Mark) Judge(s board.Shaped, c board.Conditions) []craft.Verdict {
	a := aroundOf(s, c, m.Food)
	gap, name := a.clearance(m)
	v := craft.Verdict{
		Check: "mark", Stage: craft.Give, Level: craft.Good, Finding: "The maker's mark has room", Limit: markClear,
		AtLeast: true, Reason: "A mark over a hole, a bore or an edge is not whole, and resin does not burn.",
		Figure: craft.Figure{
			Key: "give.mark", Stage: craft.Give, Label: "From the mark to what is nearest", Value: gap, Unit: craft.MM,
			Formula: "least distance from the mark to profile, holes, bores, slots, feet and fills of its face",
			Terms: []craft.Term{
				{
					Name:  "mark along",
					Value: m.Length,
					Unit:  craft.MM,
				}, {Name: "mark across", Value: m.Width, Unit: craft.MM},
				{Name: "edge's profile", Value: a.inset, Unit: craft.MM},
			},
			Source: "shop rule for marks", Rule: true,
		},
	}
	if gap < markClear {
		v.Level, v.Finding = craft.Mind, "The maker's mark is too near to "+name
		if gap < 0 {
			v.Finding = "The maker's mark runs over " + name
		}
		v.Offer(func() []craft.Remedy { return a.remedies(m) })
	}
	out := []craft.Verdict{v}
	if m.Food {
		out = append(out, craft.Verdict{
			Check: "mark-face", Stage: craft.Give, Level: craft.Mind, Limit: 0,
			Finding: "The maker's mark stands where food lies",
			Reason:  "Its hollow holds crumbs and char; the under face shows it as well.",
			Figure: craft.Figure{
				Key: "give.markFace", Stage: craft.Give, Label: "Marks on the food face", Value: 1, Unit: craft.Count,
				Formula: "marks on the face that food lies on", Source: "shop rule for marks", Rule: true,
			},
			Remedies: []craft.Remedy{{
				Label: "Put it on the under face",
				Patch: craft.Patch{"give": map[string]any{"mark": map[string]any{"food": false}}},
			}},
		})
	}
	return out
}

// remedies are another place for a mark, or a smaller mark.
func (a around) remedies(m Mark) (out []craft.Remedy) {
	patch := func(to map[string]any) craft.Patch {
		return craft.Patch{"give": map[string]any{"mark": to}}
	}
	if at, ok := a.place(m); ok {
		out = append(out, craft.Remedy{
			Label: fmt.Sprintf("Move it by %s", craft.Length(math.Round(math.Hypot(at.X-m.X, at.Y-m.Y)))),
			Patch: patch(map[string]any{"x": at.X, "y": at.Y}),
		})
		return out
	}
	for _, share := range []float64{0.8, 0.65, 0.5, 0.35} {
		less := m
		less.Length, less.Width = math.Floor(share*m.Length), math.Floor(share*m.Width)
		if min(less.Length, less.Width) < 5 {
			break
		}
		if at, ok := a.place(less); ok {
			return append(out, craft.Remedy{
				Label: fmt.Sprintf("Make it %s × %s", craft.Length(less.Length), craft.Length(less.Width)),
				Patch: patch(map[string]any{"x": at.X, "y": at.Y, "length": less.Length, "width": less.Width}),
			})
		}
	}
	return append(out, craft.Remedy{Label: "Leave the mark away", Patch: patch(nil)})
}
