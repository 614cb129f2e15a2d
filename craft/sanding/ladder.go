package sanding

import (
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/rule"
)

// Rung is one grit on one surface.
type Rung struct {
	Grit    int         `json:"grit" doc:"P-grade"`
	Minutes float64     `json:"minutes" doc:"Hands-on"`
	Leaves  float64     `json:"leaves" doc:"Roughness after it, µm"`
	Jump    float64     `json:"jump" doc:"Ratio of grain sizes from the grit before; 0 for the first"`
	Level   craft.Level `json:"level" doc:"Good, or left out of step"`
	By      string      `json:"by,omitempty" doc:"What with; left out for whatever gets there"`
}

// Ladder is the climb over one surface.
type Ladder struct {
	Surface  string       `json:"surface" doc:"What is sanded"`
	Area     float64      `json:"area" doc:"mm²"`
	Start    string       `json:"start" doc:"How it is found"`
	Rough    float64      `json:"rough" doc:"Roughness before the first grit, µm"`
	Rungs    []Rung       `json:"rungs" doc:"The coarsest first"`
	Minutes  float64      `json:"minutes" doc:"Without changing grits"`
	Quickest []int        `json:"quickest" doc:"What its quickest ladder would be"`
	Own      bool         `json:"own,omitempty" doc:"Set by itself"`
	Note     string       `json:"note,omitempty" doc:"The maker's own words"`
	Working  craft.Figure `json:"working" doc:"The minutes, grit by grit"`
}

// grits are the grits of a ladder.
func (l Ladder) grits() []int {
	out := make([]int, len(l.Rungs))
	for i, r := range l.Rungs {
		out[i] = r.Grit
	}
	return out
}

// rungOf is the rung of a grit on the surface.
func (l Ladder) rungOf(grit int) (Rung, bool) {
	i := slices.IndexFunc(l.Rungs, func(r Rung) bool { return r.Grit == grit })
	if i < 0 {
		return Rung{}, false
	}
	return l.Rungs[i], true
}

// between are the known grits of a drawer from first to last, the coarsest first, each once.
func between(drawer []int, first, last int) (out []int) {
	for _, g := range drawer {
		if g >= first && g <= last && median[g] > 0 {
			out = append(out, g)
		}
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// Quickest finds the ladder of least time on a surface over the grits of a drawer, from the
// coarsest that it may begin with to the last, with jumps within EasyJump where such a ladder
// exists, else with the smallest jumps to be had. It is nil when no grit of the drawer lies
// between.
//
// The time of a rung depends on the grit before it, on whether it is the first (a belt is for that
// alone) and on how many follow it (the last ones may be by hand): the shortest path is looked for
// from its end, by grit and by how many are still to come.
func Quickest(s Surface, start Start, last int, drawer []int, efficiency float64) []int {
	grits := between(drawer, start.Coarsest, last)
	if len(grits) == 0 {
		return nil
	}
	limit := EasyJump
	for i := range grits[1:] { // a ladder that skips none has the smallest jumps
		limit = max(limit, Jump(grits[i], grits[i+1]))
	}
	limit += 1e-9
	n, states := len(grits), min(len(grits), s.Hand+1)
	type place struct{ grit, left int }
	rest := make([][]float64, n) // minutes after a grit when so many come, itself counted
	next := make([][]place, n)
	for i := range rest {
		rest[i], next[i] = make([]float64, states+1), make([]place, states+1)
		for c := range rest[i] {
			rest[i][c] = math.Inf(1)
		}
	}
	rest[n-1][1] = 0
	for i := n - 2; i >= 0; i-- {
		for k := i + 1; k < n && Jump(grits[i], grits[k]) <= limit; k++ {
			for c := 1; c <= states; c++ {
				if math.IsInf(rest[k][c], 1) {
					continue
				}
				all := rest[k][c] + s.minutes(Leaves(grits[i]), grits[k], false, c, efficiency)
				if mine := min(c+1, states); all < rest[i][mine] {
					rest[i][mine], next[i][mine] = all, place{k, c}
				}
			}
		}
	}
	best, at := math.Inf(1), place{}
	for c := 1; c <= states; c++ {
		if t := rest[0][c] + s.minutes(start.Rough, grits[0], true, c, efficiency); t < best {
			best, at = t, place{0, c}
		}
	}
	path := []int{grits[at.grit]}
	for at.grit < n-1 {
		at = next[at.grit][at.left]
		path = append(path, grits[at.grit])
	}
	return path
}

// climb is the ladder of a surface whose grits are chosen.
func (s Surface) climb(start Start, grits []int, efficiency float64) Ladder {
	l := Ladder{Surface: s.Name, Area: s.Area, Start: start.Name, Rough: start.Rough, Note: s.Note}
	rough := start.Rough
	for i, g := range grits {
		fromEnd := len(grits) - i
		r := Rung{
			Grit: g, Leaves: Leaves(g), Level: craft.Good, By: s.by(i == 0, fromEnd),
			Minutes: s.minutes(rough, g, i == 0, fromEnd, efficiency),
		}
		if i > 0 {
			r.Jump = Jump(grits[i-1], g)
			r.Level = craft.Over(r.Jump, EasyJump+1e-9, HardJump)
		}
		rough = r.Leaves
		l.Minutes += r.Minutes
		l.Rungs = append(l.Rungs, r)
	}
	return l
}

// working shows how the minutes of a ladder of the surface came about.
func (s Surface) working(l Ladder, efficiency float64) craft.Figure {
	rate := craft.Term{Name: "pace on this surface", Value: s.Rate}
	if t, ok := toolNamed(s.Tool); ok {
		rate = craft.Term{Name: "pace of the " + t.Name, Value: t.Rate}
	}
	return craft.Figure{
		Key: "sand.ladder", Stage: craft.Sand, Label: s.Name, Value: l.Minutes, Unit: craft.Minute,
		Rule: true,
		Formula: "for each grit: area × (roughness before − left) ÷ (share kept up × removal × pace), at least " +
			"two coverages; what is done by hand at a tenth",
		Terms: []craft.Term{
			{Name: "area", Value: s.Area / 100, Unit: craft.CM2},
			{Name: "roughness before, as the " + l.Start + " leaves it", Value: l.Rough, Unit: craft.Micron},
			rate,
			{Name: "share kept up", Value: efficiency},
			{Name: "hardness", Value: s.Wood, Unit: craft.Newton},
		},
		Source: "grain sizes from ISO 6344; removal {4 cm³} a minute × (grain ÷ 125)^0.8 × (4450 ÷ hardness)^0.6",
	}
}

// ladder is the climb over a surface of a board that is sanded by some grits: through those of
// them that it needs, begun coarser where it is rougher, and gone on where it ends finer.
func (s Surface) ladder(grits []int, board Start, last int, byHand bool, c Conditions) Ladder {
	efficiency := c.Rules.Get(rule.SandEff)
	start, to := s.Start, last
	if start.Coarsest == 0 {
		start = board
	}
	if s.Last > 0 {
		to = s.Last
	}
	drawer := slices.Clone(grits)
	if s.Fine > 0 && len(grits) > s.Fine { // what comes before is left to the tools
		drawer = slices.Clone(grits[len(grits)-s.Fine:])
		before := grits[len(grits)-s.Fine-1]
		start = sanded(before, drawer[0])
	}
	for _, g := range c.Owned {
		coarser := g < grits[0] && !byHand && s.Fine == 0
		if coarser || g > grits[len(grits)-1] && g < to {
			drawer = append(drawer, g)
		}
	}
	if to != last {
		drawer = append(drawer, to) // bought, where it is not owned
	}
	quick := Quickest(s, start, to, drawer, efficiency)
	if wide, _ := widest(quick, start); wide > EasyJump+1e-9 && !byHand &&
		s.Fine == 0 { // those of the board skip here
		other := Quickest(s, start, to, append(slices.Clone(c.Owned), to), efficiency)
		if less, _ := widest(other, start); less < wide {
			quick = other
		}
	}
	if len(quick) == 0 { // all grits of the board are coarser than it: the last one smooths it
		quick = []int{grits[len(grits)-1]}
	}
	path := quick
	switch {
	case len(s.Ladder) > 0:
		path = s.Ladder
	case byHand && start == board: // all of what was made by hand, however coarse
		path = between(drawer, 0, to)
	case byHand:
		if all := between(drawer, start.Coarsest, to); len(all) > 0 {
			path = all
		}
	}
	l := s.climb(start, path, efficiency)
	l.Quickest, l.Own = quick, s.Own
	return l
}
