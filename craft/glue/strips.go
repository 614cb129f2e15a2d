package glue

import "math"

// Rules for what strips and slices lose, mm.
const (
	Flattening = 1.0  // off each face of a panel
	Sanding    = 0.15 // off each face
	Jointing   = 1.0  // off each strip, when its edge is jointed
	Trim       = 10   // off each end of a panel, in place of squaring
	Snipe      = 60   // off each end of what a planer takes, 0 with sacrificial pieces
)

// Count is how many parts of a width make at least the wanted one, and what they come to.
func Count(wanted, part float64) (n int, width float64) {
	n = max(1, int(math.Ceil(wanted/part-1e-9)))
	return n, float64(n) * part
}

// Raised is how thick a part stands before its panel is flattened and sanded on both
// faces.
func Raised(finished float64) float64 { return finished + 2*(Flattening+Sanding) }

// RipYield is how many strips are ripped from a plank.
func RipYield(plank, strip, kerf float64) int {
	return max(0, int(math.Floor((plank+kerf)/(strip+kerf+Jointing)+1e-9)))
}

// RoughLength is how long a strip is cut for a finished length.
func RoughLength(finished float64, sacrificial bool) float64 {
	if sacrificial {
		return finished + 2*Trim
	}
	return finished + 2*Trim + 2*Snipe
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

// Striped is a panel of n strips of a width and length, mm.
type Striped struct {
	Strips int
	Width  float64 // of a strip
	Length float64
}

// Across is how wide the striped panel is.
func (s Striped) Across() float64 { return float64(s.Strips) * s.Width }

// Chevron cuts a striped panel at so many degrees to its strips into slices of a width,
// every other one turned over. In a square lay-up the ends are lost to the slant of the
// whole panel; in a staggered one, each strip set on from the one before, to that of one
// strip.
func (s Striped) Chevron(degrees, width, kerf float64, staggered bool) Slices {
	sin, cos := math.Sincos(degrees * math.Pi / 180)
	cot := cos / sin
	loss := s.Across() * cot
	if staggered {
		loss = s.Width * cot
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
// thickness, finished how thick the board is to be.
func (s Striped) EndGrain(t, finished, kerf float64) Slices {
	width := Raised(finished)
	n := max(0, math.Floor((s.Length+kerf)/(width+kerf)+1e-9))
	out := Slices{Count: int(n), Each: s.Across(), Length: s.Across(), Width: n * t}
	if all := s.Length * s.Across(); all > 0 {
		out.Yield = n * width / s.Length
	}
	return out
}
