package layout

import (
	"cmp"
	"slices"

	"idletimber/craft/geom"
	"idletimber/craft/tool"
)

// Sawn is a board cut out of a slab: its outline, the stretch of the slab that
// was cross-cut for it, and the kerf of the saw that followed its outline.
type Sawn struct {
	Outline  geom.Ring // slab's frame
	From, To float64
	Kerf     float64
}

// Offcuts are the rings that are left of a face after boards were cut out, the
// largest first: the stretches between the cross-cuts, and the trimmings about
// the outlines. A board inside its stretch is reached by a cut along the slab
// from both ends of the stretch, so that no trimming is a closed frame.
func Offcuts(face geom.Ring, sawn []Sawn) []geom.Ring {
	if len(sawn) == 0 {
		return []geom.Ring{face}
	}
	box := face.Bounds()
	stretches := merged(sawn)
	var out []geom.Ring
	from := box.MinX
	for _, s := range stretches {
		out = append(out, rest(face, from, s.From-tool.CrossKerf, nil)...)
		from = s.To + tool.CrossKerf
		out = append(out, rest(face, max(s.From, box.MinX), min(s.To, box.MaxX), s.boards)...)
	}
	out = append(out, rest(face, from, box.MaxX, nil)...)
	slices.SortStableFunc(out, func(a, b geom.Ring) int { return cmp.Compare(b.Area(), a.Area()) })
	return out
}

// stretch is a part of the slab that was cross-cut for boards side by side.
type stretch struct {
	From, To float64
	boards   []Sawn
}

func merged(sawn []Sawn) []stretch {
	byStart := slices.Clone(sawn)
	slices.SortFunc(byStart, func(a, b Sawn) int { return cmp.Compare(a.From, b.From) })
	var out []stretch
	for _, s := range byStart {
		if n := len(out); n > 0 && s.From < out[n-1].To+tool.CrossKerf {
			out[n-1].To = max(out[n-1].To, s.To)
			out[n-1].boards = append(out[n-1].boards, s)
			continue
		}
		out = append(out, stretch{s.From, s.To, []Sawn{s}})
	}
	return out
}

// sliver is the least area of a ring that is more than rounding, mm².
const sliver = 1

// rest is what is left of a face between two places along it, after boards are
// sawn out.
func rest(face geom.Ring, from, to float64, boards []Sawn) (out []geom.Ring) {
	if to-from < sliver {
		return nil
	}
	box := face.Bounds()
	part := geom.Ring{
		{X: from, Y: box.MinY - 1},
		{X: to, Y: box.MinY - 1},
		{X: to, Y: box.MaxY + 1},
		{X: from, Y: box.MaxY + 1},
	}
	rings := []geom.Ring{face}
	if from > box.MinX || to < box.MaxX {
		rings = geom.Common(face, part)
	}
	var taken []geom.Ring
	for _, b := range boards {
		grown := b.Outline.Grown(b.Kerf)
		mid := b.Outline.Centroid().Y
		slot := geom.Bounds{MinX: from - 1, MaxX: to + 1, MinY: mid - b.Kerf/2, MaxY: mid + b.Kerf/2}.Ring()
		taken = append(taken, grown, slot)
	}
	for _, r := range rings {
		for _, left := range r.Less(taken...) {
			if left.SignedArea() > sliver {
				out = append(out, left)
			}
		}
	}
	return out
}
