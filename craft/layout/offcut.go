package layout

import (
	"cmp"
	"math"
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
// the outlines. Boards beside each other are ripped apart where a straight cut
// passes, and each is cut across at its ends, so that no trimming is a closed frame.
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

// hair is the least width of a piece that is more than rounding, mm.
const hair = 0.1

// rest is what is left of a face between two places along it, after boards are
// sawn out.
func rest(face geom.Ring, from, to float64, boards []Sawn) (out []geom.Ring) {
	if to-from < sliver {
		return nil
	}
	box := face.Bounds()
	taken := make([]geom.Ring, len(boards))
	for i, b := range boards {
		taken[i] = b.Outline.Grown(b.Kerf)
	}
	for _, cell := range cells(boards, geom.Bounds{MinX: from, MaxX: to, MinY: box.MinY - 1, MaxY: box.MaxY + 1}) {
		for _, part := range geom.Common(face, cell.Ring()) {
			for _, left := range part.Less(taken...) {
				if left.SignedArea() > sliver {
					out = append(out, left)
				}
			}
		}
	}
	return out
}

// cells are what straight cuts leave of a stretch from which boards are freed: rips
// between those that lie beside each other, and a cross-cut at both ends of each.
func cells(boards []Sawn, stretch geom.Bounds) (out []geom.Bounds) {
	byRight := slices.Clone(boards)
	slices.SortFunc(byRight, func(a, b Sawn) int {
		return cmp.Compare(a.Outline.Bounds().MinY, b.Outline.Bounds().MinY)
	})
	for i := 0; i < max(1, len(byRight)); {
		band, next, k := stretch, stretch.MaxY, i
		reach := math.Inf(-1)
		var kerfs [][2]float64
		for ; k < len(byRight); k++ {
			b := byRight[k].Outline.Bounds()
			if kerf := byRight[k].Kerf; k > i && b.MinY-reach >= kerf {
				band.MaxY, next = (reach+b.MinY-kerf)/2, (reach+b.MinY+kerf)/2
				break
			}
			reach = max(reach, b.MaxY)
			kerfs = append(kerfs,
				[2]float64{b.MinX - tool.CrossKerf, b.MinX}, [2]float64{b.MaxX, b.MaxX + tool.CrossKerf})
		}
		slices.SortFunc(kerfs, func(a, b [2]float64) int { return cmp.Compare(a[0], b[0]) })
		from := stretch.MinX
		for _, cut := range append(kerfs, [2]float64{stretch.MaxX, stretch.MaxX}) {
			if cell := band; min(cut[0], stretch.MaxX)-from > hair {
				cell.MinX, cell.MaxX = from, min(cut[0], stretch.MaxX)
				out = append(out, cell)
			}
			from = max(from, cut[1])
		}
		i, stretch.MinY = max(k, i+1), next
	}
	return out
}
