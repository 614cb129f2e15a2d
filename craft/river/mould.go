package river

import (
	"cmp"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
)

// Rules of the trade for moulds, mm.
const (
	above      = 20 // the walls stand over the pour
	overlap    = 12 // of one strip of tape over the next
	screwEvery = 75
	leastScrew = 2 // at a joint
)

// Part is a part of a mould, as it is cut.
type Part struct {
	Name   string     `json:"name" doc:"Which"`
	Length float64    `json:"length" doc:"mm"`
	Width  float64    `json:"width" doc:"mm"`
	At     geom.Point `json:"at" doc:"Its corner on the sheet, mm; where it was laid on one"`
	Turned bool       `json:"turned,omitempty" doc:"It lies across the sheet"`
	Laid   bool       `json:"laid" doc:"It has a place on the sheet"`
}

// Mould is what a river is poured in.
type Mould struct {
	Parts   []Part  `json:"parts" doc:"Base, long walls, short walls"`
	Height  float64 `json:"height" doc:"Of the walls, mm"`
	Tape    float64 `json:"tape" doc:"Its length, folded over the edges, mm; 0 for a sheet that needs none"`
	Sealant float64 `json:"sealant" doc:"Along every inside seam, mm"`
	Screws  int     `json:"screws" doc:"In pilot holes, countersunk"`
	Sheet   string  `json:"sheet,omitempty" doc:"Of the rack, that it is cut from; left out where none holds it"`
	Length  float64 `json:"length,omitempty" doc:"Of that sheet, mm"`
	Width   float64 `json:"width,omitempty" doc:"Of that sheet, mm"`
	Kept    string  `json:"kept,omitempty" doc:"The mould on the shelf that is used again"`
	Uses    int     `json:"uses,omitempty" doc:"How often it was used before"`
}

// Mould is the mould of the river: base under the walls, long walls over the short ones.
func (r River) Mould() Mould {
	t, high := r.Wall, r.Depth+above
	m := Mould{Height: high, Parts: []Part{
		{Name: "base", Length: r.Length + 2*t, Width: r.Width + 2*t},
		{Name: "long wall", Length: r.Length + 2*t, Width: high},
		{Name: "long wall", Length: r.Length + 2*t, Width: high},
		{Name: "short wall", Length: r.Width, Width: high},
		{Name: "short wall", Length: r.Width, Width: high},
	}}
	round := 2 * (r.Length + r.Width)
	if !r.Covered {
		m.Tape = (r.Length*r.Width + round*high) / (r.Tape - overlap)
	}
	m.Sealant = round + 4*high
	screws := func(joint float64) int { return max(leastScrew, int(math.Floor(joint/screwEvery+1e-9))+1) }
	m.Screws = 2*screws(r.Length+2*t) + 2*screws(r.Width) + 4*screws(high)
	return m
}

// Sheet is a sheet that moulds are cut from.
type Sheet struct {
	Name          string
	Length, Width float64
	Thickness     float64
}

// Kept is a mould on the shelf.
type Kept struct {
	Name   string  `json:"name" doc:"As it is called"`
	Length float64 `json:"length" mm:"50,3000" doc:"Inside"`
	Width  float64 `json:"width" mm:"30,1500" doc:"Inside"`
	Height float64 `json:"height" mm:"5,200" doc:"Of its walls"`
	Uses   int     `json:"uses" range:"0,10000" doc:"How often it was poured in"`
}

// Fits reports a mould that the river can be poured in as it is drawn.
func (k Kept) Fits(r River) bool {
	const play = 1 // mm
	return math.Abs(k.Length-r.Length) <= play && math.Abs(k.Width-r.Width) <= play && k.Height >= r.Depth
}

// On lays the parts of a mould on the first sheet that holds them all, in rows across it, the
// widest part first, with a kerf between them, mm. Where none does, they have no place.
func (m Mould) On(sheets []Sheet, wall, kerf float64) Mould {
	m.Parts = slices.Clone(m.Parts)
	order := make([]int, len(m.Parts))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(m.Parts[b].Width, m.Parts[a].Width) })
	for _, s := range sheets {
		if math.Abs(s.Thickness-wall) > 1 {
			continue
		}
		for _, turned := range []bool{false, true} {
			if at, ok := rows(m.Parts, order, s, kerf, turned); ok {
				for i, p := range at {
					m.Parts[i].At, m.Parts[i].Laid, m.Parts[i].Turned = p, true, turned
				}
				m.Sheet, m.Length, m.Width = s.Name, s.Length, s.Width
				return m
			}
		}
	}
	return m
}

// rows lays parts in rows along the sheet, or across it when they are turned.
func rows(parts []Part, order []int, s Sheet, kerf float64, turned bool) (at []geom.Point, ok bool) {
	long, wide := s.Length, s.Width
	if turned {
		long, wide = wide, long
	}
	at = make([]geom.Point, len(parts))
	x, y, row := 0.0, 0.0, 0.0
	for _, i := range order {
		p := parts[i]
		if x > 0 && x+p.Length > long {
			x, y, row = 0, y+row+kerf, 0
		}
		if x+p.Length > long || y+p.Width > wide {
			return nil, false
		}
		at[i] = geom.Point{X: x, Y: y}
		if turned {
			at[i] = geom.Point{X: y, Y: x}
		}
		x, row = x+p.Length+kerf, max(row, p.Width)
	}
	return at, true
}

// figures are the mould in numbers.
func (m Mould) figures(r River) []craft.Figure {
	figure := func(key, label string, v float64, unit craft.Unit, formula string, terms ...craft.Term) craft.Figure {
		return craft.Figure{
			Key: key, Stage: craft.Fill, Label: label, Value: v, Unit: unit, Formula: formula, Terms: terms,
			Source: "rule of the trade for moulds", Rule: true,
		}
	}
	mm := func(name string, v float64) craft.Term { return craft.Term{Name: name, Value: v, Unit: craft.MM} }
	out := []craft.Figure{
		figure("river.wall", "Walls of the mould, high", m.Height, craft.MM, "pour + {20}", mm("pour", r.Depth)),
		figure("river.sealant", "Sealant", m.Sealant, craft.MM, "2 × (length + width) + 4 × height",
			mm("length, inside", r.Length), mm("width, inside", r.Width), mm("height", m.Height)),
		figure("river.screws", "Screws", float64(m.Screws), craft.Count,
			"one every {75} of each joint and one more, two at the least"),
	}
	if m.Tape > 0 {
		out = append(out, figure("river.tape", "Tape", m.Tape, craft.MM,
			"inside area ÷ (its width − {12} overlap), folded over the edges",
			craft.Term{Name: "inside area", Value: (m.Tape * (r.Tape - overlap)) / 100, Unit: craft.CM2},
			mm("its width", r.Tape)))
	}
	return out
}
