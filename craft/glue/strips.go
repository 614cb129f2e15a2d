package glue

import (
	"math"
	"slices"

	"idletimber/craft/rule"
)

// Count is how many parts of a width make at least the wanted one, and what they come to.
func Count(wanted, part float64) (n int, width float64) {
	n = max(1, int(math.Ceil(wanted/part-1e-9)))
	return n, float64(n) * part
}

// Raised is how thick a part stands before its panel is flattened and sanded on both
// faces.
func Raised(finished float64, rules rule.Set) float64 {
	return finished + 2*(rules.Get(rule.GlueClean)+rules.Get(rule.SandFace))
}

// RipYield is how many strips are ripped from a plank, each with its edge jointed.
func RipYield(plank, strip, kerf float64, rules rule.Set) int {
	return max(0, int(math.Floor((plank+kerf)/(strip+kerf+rules.Get(rule.Jointing))+1e-9)))
}

// RoughLength is how long a strip is cut for a finished length: trimmed at both ends, in
// place of squaring, and longer by what a planer's snipe takes unless sacrificial pieces
// take it.
func RoughLength(finished float64, sacrificial bool, rules rule.Set) float64 {
	long := finished + 2*rules.Get(rule.GlueTrim)
	if sacrificial {
		return long
	}
	return long + 2*rules.Get(rule.Snipe)
}

// Spares is how many strips are cut besides those that are needed: 1 in 8 of solid wood,
// 1 in 5 of plywood, rounded up.
func Spares(n int, plywood bool) int {
	each := 8.0
	if plywood {
		each = 5
	}
	return int(math.Ceil(float64(n)/each - 1e-9))
}

// Slices is what a striped panel gives when it is cut into slices and glued again, mm.
type Slices struct {
	Count  int     `json:"count" doc:"Slices"`
	Each   float64 `json:"each" doc:"Length of a slice before it is trimmed"`
	Length float64 `json:"length" doc:"Of the new panel, along its slices"`
	Width  float64 `json:"width" doc:"Across them"`
	Yield  float64 `json:"yield" doc:"Share of the striped panel that is left"`
}

// Striped is a panel of strips side by side: how wide each is, from the left edge to the
// right, and how long they are, mm.
type Striped struct {
	Widths []float64
	Length float64
}

// Even is a striped panel of n strips of one width.
func Even(n int, width, length float64) Striped {
	widths := make([]float64, n)
	for i := range widths {
		widths[i] = width
	}
	return Striped{widths, length}
}

// Across is how wide the striped panel is.
func (s Striped) Across() (sum float64) {
	for _, w := range s.Widths {
		sum += w
	}
	return sum
}

// Chevron cuts a striped panel at so many degrees to its strips into slices of a width,
// every other one turned over. In a square lay-up the ends are lost to the slant of the
// whole panel; in a staggered one, each strip set on from the one before, to that of the
// widest strip.
func (s Striped) Chevron(degrees, width, kerf float64, staggered bool) Slices {
	sin, cos := math.Sincos(degrees * math.Pi / 180)
	cot := cos / sin
	loss := s.Across() * cot
	if staggered {
		loss = slices.Max(s.Widths) * cot
	}
	n := max(0, math.Floor(((s.Length-loss)*sin+kerf)/(width+kerf)+1e-9))
	out := Slices{Count: int(n), Each: s.Across() / sin, Width: n * width}
	out.Length = max(0, out.Each-width*cot)
	if all := s.Length * s.Across(); all > 0 {
		out.Yield = out.Length * out.Width / all
	}
	return out
}

// EndGrain cuts a panel on edge square into slices and stands them up; t is the panel's
// thickness, width that of a slice, which becomes the thickness of the new panel.
func (s Striped) EndGrain(t, width, kerf float64) Slices {
	n := max(0, math.Floor((s.Length+kerf)/(width+kerf)+1e-9))
	out := Slices{Count: int(n), Each: s.Across(), Length: s.Across(), Width: n * t}
	if all := s.Length * s.Across(); all > 0 {
		out.Yield = n * width / s.Length
	}
	return out
}
