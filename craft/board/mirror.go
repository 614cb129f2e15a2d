package board

import (
	"cmp"
	"slices"

	"github.com/tdewolff/canvas"
)

// opposite is what a side becomes in the mirror; the ends stay.
var opposite = map[string]string{left: right, right: left}

func mirroredSide(side string) string {
	if other, ok := opposite[side]; ok {
		return other
	}
	return side
}

func mirroredNodes(nodes []Node) []Node {
	out := slices.Clone(nodes)
	for i := range out {
		out[i] = out[i].mirror()
	}
	return out
}

// Mirrored is the design as its mirror image across its centre line: what the
// other of two book-matched boards is. The section stays: what is sunk in the
// show face stays there.
func (d Design) Mirrored() Design {
	if d.Shape == HalfMoon { // its straight side always lies on the right
		d.Shape, d.Half = Free, false
		d.Nodes = NodesFrom(
			outline(
				Design{Shape: HalfMoon, Length: d.Length, Width: d.Width, Corner: d.Corner},
				nil,
			).Transform(canvas.Identity.Scale(1, -1)).
				Reverse(),
		)
	} else {
		d.Nodes = mirroredNodes(d.Nodes)
	}
	d.AsCut = mirroredNodes(d.AsCut)
	d.Angle *= -1
	d.KeepLeft, d.KeepRight = d.KeepRight, d.KeepLeft
	for _, e := range []*End{&d.FarEnd, &d.HandleEnd} {
		e.Angle *= -1
		e.Kind = mirroredSide(e.Kind)
	}
	d.Handle = d.Handle.mirrored()
	d.More = slices.Clone(d.More)
	for i, h := range d.More {
		d.More[i] = h.mirrored()
	}
	d.Edges = slices.Clone(d.Edges)
	for i := range d.Edges {
		d.Edges[i].Where = mirroredSide(d.Edges[i].Where)
	}
	d.Recesses = slices.Clone(d.Recesses)
	for i := range d.Recesses {
		r := &d.Recesses[i]
		r.Y *= -1
		if r.Side > 0 {
			r.From = mirroredSide(cmp.Or(r.From, right))
		}
		r.Toward, r.Lip = mirroredSide(r.toward()), mirroredSide(r.Lip)
	}
	return d
}

func (h Handle) mirrored() Handle {
	h.Offset, h.Turn = -h.Offset, -h.Turn
	h.Nodes = mirroredNodes(h.Nodes)
	if h.Kind == Notch {
		h.Right = !h.Right
	}
	return h
}
