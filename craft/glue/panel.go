package glue

import (
	"math"

	"idletimber/craft/geom"
)

// Part is a part of a panel as it lies in it, or in the striped panel that it is cut from:
// which strip it is of, and of which slice. Lean is by how many degrees anticlockwise its
// strip runs off the frame's x.
type Part struct {
	Strip, Slice int
	Ring         geom.Ring // convex, anticlockwise
	Lean         float64
}

// Parts are the strips of a panel side by side, the first at the left, in a frame whose
// x runs along them and whose y from the middle of the panel to the left.
func (s Striped) Parts() []Part {
	out := make([]Part, len(s.Widths))
	left := s.Across() / 2
	for i, w := range s.Widths {
		box := geom.Bounds{MinX: 0, MaxX: s.Length, MinY: left - w, MaxY: left}
		out[i] = Part{Strip: i, Ring: box.Ring()}
		left -= w
	}
	return out
}

// SetOn are the strips of a staggered lay-up: each set on from the one before by its lean
// at so many degrees.
func (s Striped) SetOn(degrees float64) []Part {
	parts, on := s.Parts(), 0.0
	for i, w := range s.Widths {
		parts[i].Ring = parts[i].Ring.Map(geom.Point{X: on}.Add)
		on += w / math.Tan(degrees*math.Pi/180)
	}
	return parts
}

// ChevronParts are the parts of a chevron: slices side by side from the left, whose strips
// lean by so many degrees to them, every other one turned over, trimmed to a rectangle.
// The frame's x runs along the slices from their trimmed end, its y across them from the
// middle.
func (s Striped) ChevronParts(degrees, width, kerf float64, staggered bool) (out []Part) {
	made := s.Chevron(degrees, width, kerf, staggered)
	sin, cos := math.Sincos(degrees * math.Pi / 180)
	lean := width * cos / sin // by how far a strip leans over a slice
	for slice := range made.Count {
		right := made.Width/2 - float64(slice+1)*width
		turned := slice%2 == 1
		box := geom.Bounds{MinX: 0, MaxX: made.Length, MinY: right, MaxY: right + width}
		from := -lean
		for i, w := range s.Widths {
			each := w / sin // how long it lies along the slice
			ring := geom.Ring{
				{X: from, Y: right}, {X: from + each, Y: right},
				{X: from + each + lean, Y: right + width}, {X: from + lean, Y: right + width},
			}
			part := Part{Strip: i, Slice: slice, Lean: degrees}
			if turned { // about the slice's own length
				ring = geom.Ring{
					{X: from + lean, Y: right}, {X: from + each + lean, Y: right},
					{X: from + each, Y: right + width}, {X: from, Y: right + width},
				}
				part.Lean = -degrees
			}
			part.Ring = ring
			if from < 0 || from+each+lean > made.Length { // trimmed with the teeth
				part.Ring = geom.Clip(ring, box.Ring())
			}
			if len(part.Ring) > 2 && part.Ring.Area() > 1e-6 {
				out = append(out, part)
			}
			from += each
		}
	}
	return out
}

// EndGrainParts are the blocks of slices stood up side by side from the left, the panel's
// thickness t each; turned, every other one is turned end for end. The frame's x runs along
// the slices.
func (s Striped) EndGrainParts(t, width, kerf float64, turned bool) (out []Part) {
	made := s.EndGrain(t, width, kerf)
	for slice := range made.Count {
		left := made.Width/2 - float64(slice)*t
		from := 0.0
		for k := range s.Widths {
			i := k
			if turned && slice%2 == 1 {
				i = len(s.Widths) - 1 - k
			}
			box := geom.Bounds{MinX: from, MaxX: from + s.Widths[i], MinY: left - t, MaxY: left}
			out = append(out, Part{Strip: i, Slice: slice, Ring: box.Ring()})
			from += s.Widths[i]
		}
	}
	return out
}

// ChevronCuts are the slices of a chevron on its striped panel, in the frame of Parts, the
// first from where the strip at the left begins. Staggered strips are each set on by the
// lean of those before, so that the cuts lie alike.
func (s Striped) ChevronCuts(degrees, width, kerf float64, count int) (out []geom.Ring) {
	sin, cos := math.Sincos(degrees * math.Pi / 180)
	lean, half := s.Across()*cos/sin, s.Across()/2
	for k := range count {
		at := float64(k) * (width + kerf) / sin
		far := at + width/sin
		out = append(out, geom.Ring{
			{X: at, Y: half}, {X: at + lean, Y: -half}, {X: far + lean, Y: -half}, {X: far, Y: half},
		})
	}
	return out
}

// SquareCuts are the slices of end grain on the panel that they are cut from.
func (s Striped) SquareCuts(width, kerf float64, count int) (out []geom.Ring) {
	half := s.Across() / 2
	for k := range count {
		at := float64(k) * (width + kerf)
		out = append(out, geom.Bounds{MinX: at, MaxX: at + width, MinY: -half, MaxY: half}.Ring())
	}
	return out
}
