package formats

import (
	"bytes"
	"fmt"
	"math"
	"strconv"
	"strings"

	"github.com/tdewolff/canvas"

	"idletimber/craft/geom"
	"idletimber/craft/reckon"
)

// Layer is a named part of a drawing.
type Layer struct {
	Name  string
	Paths []*canvas.Path // mm, y up
}

// The layers of a board.
const (
	OutlineLayer  = "outline"
	HolesLayer    = "holes"
	RecessLayer   = "recess"
	TemplateLayer = "recess-template"
	MarksLayer    = "marks"
	StripsLayer   = "strips"
)

// BoardLayers are the layers of a board in its own frame: the outline, what is
// cut through, what is sunk and the template for its router, and what is only
// marked: drill centres, slots and the centre line; then the strips of its panel.
func BoardLayers(r reckon.Reckoned) []Layer {
	out := []Layer{
		{Name: OutlineLayer, Paths: parsed(r.Path)},
		{Name: HolesLayer},
		{Name: RecessLayer},
		{Name: TemplateLayer},
		{Name: MarksLayer},
		{Name: StripsLayer},
	}
	add := func(layer int, paths ...*canvas.Path) { out[layer].Paths = append(out[layer].Paths, paths...) }
	for _, h := range r.Holes {
		add(1, parsed(h)...)
	}
	offset := map[string]float64{}
	for _, w := range r.Shape.Work {
		offset[w.Name] = w.Offset
	}
	for _, s := range r.Shape.Recesses {
		add(2, parsed(s.Path)...)
		if by := offset[s.Name]; by > 0 {
			add(3, geom.Largest(rings(s.Path)).Grown(by).Path()) // a channel is followed from its outer side
		}
	}
	line := func(a, b geom.Point) *canvas.Path {
		p := &canvas.Path{}
		p.MoveTo(a.X, a.Y)
		p.LineTo(b.X, b.Y)
		return p
	}
	add(4, line(geom.Point{X: r.Box[0]}, geom.Point{X: r.Box[2]}))
	cross := func(p geom.Point) {
		const arm = 4
		add(
			4,
			line(p.Sub(geom.Point{X: arm}), p.Add(geom.Point{X: arm})),
			line(p.Sub(geom.Point{Y: arm}), p.Add(geom.Point{Y: arm})),
		)
	}
	for _, e := range r.Shape.Entries {
		if e.Diameter > 0 {
			cross(e.At)
			if e.Second != nil {
				cross(e.Second.At)
			}
		}
	}
	for _, s := range r.Fittings.Spots {
		cross(geom.Point{X: s.X, Y: s.Y})
	}
	for _, s := range r.Fittings.Slots {
		add(4, line(s.A, s.B))
	}
	for _, b := range r.Fittings.Bores {
		add(4, b.Ring().Path())
	}
	for _, part := range r.Parts {
		add(5, parsed(part.Path)...)
	}
	kept := out[:0]
	for _, l := range out {
		if len(l.Paths) > 0 {
			kept = append(kept, l)
		}
	}
	return kept
}

func parsed(path string) []*canvas.Path {
	p, err := canvas.ParseSVGPath(path)
	if err != nil { // our own writing
		return nil
	}
	return p.Split()
}

// BoardSVG draws a board at 1:1, arcs as arcs, y up as on the bench with the
// handle to the right, a group for each layer.
func BoardSVG(name string, r reckon.Reckoned) []byte {
	const margin = 5
	x, y := r.Box[0]-margin, r.Box[1]-margin
	w, h := r.Box[2]-r.Box[0]+2*margin, r.Box[3]-r.Box[1]+2*margin
	var b strings.Builder
	fmt.Fprintf(&b, `<?xml version="1.0" encoding="UTF-8"?>
<svg xmlns="http://www.w3.org/2000/svg" width="%.3fmm" height="%.3fmm" viewBox="%.3f %.3f %.3f %.3f">
<title>%s</title>
<g transform="scale(1 -1)" fill="none" stroke="black" stroke-width="0.2">
`, w, h, x, -(y + h), w, h, xmlText(name))
	for _, l := range BoardLayers(r) {
		fmt.Fprintf(&b, "<g id=%q>\n", l.Name)
		for i, p := range l.Paths {
			fmt.Fprintf(&b, "<path id=\"%s-%d\" d=\"%s\"/>\n", l.Name, i+1, p.ToSVG())
		}
		b.WriteString("</g>\n")
	}
	b.WriteString("</g>\n</svg>\n")
	return []byte(b.String())
}

// BoardDXF writes a board at 1:1 in mm as R12 polylines on their layers, arcs as
// bulges; other curves stray less than 0.005 mm.
func BoardDXF(r reckon.Reckoned) []byte {
	return dxfFile(func(put func(int, any)) {
		number := func(code int, v float64) { put(code, strconv.FormatFloat(v, 'f', 5, 64)) }
		for _, l := range BoardLayers(r) {
			for _, p := range l.Paths {
				closed := 0
				if p.Closed() {
					closed = 1
				}
				put(0, "POLYLINE")
				put(8, l.Name)
				put(66, 1)
				put(70, closed)
				for _, v := range bulges(p) {
					put(0, "VERTEX")
					put(8, l.Name)
					number(10, v.X)
					number(20, v.Y)
					if v.bulge != 0 {
						number(42, v.bulge)
					}
				}
				put(0, "SEQEND")
			}
		}
	})
}

// dxfFile frames entities as a DXF file in mm.
func dxfFile(entities func(put func(code int, value any))) []byte {
	var out bytes.Buffer
	put := func(code int, value any) { fmt.Fprintf(&out, "%d\n%v\n", code, value) }
	put(0, "SECTION")
	put(2, "HEADER")
	put(9, "$INSUNITS")
	put(70, 4)
	put(0, "ENDSEC")
	put(0, "SECTION")
	put(2, "ENTITIES")
	entities(put)
	put(0, "ENDSEC")
	put(0, "EOF")
	return out.Bytes()
}

// vertex is a point of a polyline with the bulge of the stretch that follows:
// the tangent of a quarter of its turn, positive to the left.
type vertex struct {
	geom.Point
	bulge float64
}

// bulges are the vertices of a path; a closed one ends before its first.
func bulges(p *canvas.Path) (out []vertex) {
	at := func(q canvas.Point) geom.Point { return geom.Point{X: q.X, Y: q.Y} }
	for s := p.Scanner(); s.Scan(); {
		switch s.Cmd() {
		case canvas.MoveToCmd:
			out = append(out, vertex{Point: at(s.End())})
		case canvas.ArcToCmd:
			rx, ry, _, large, sweep := s.Arc()
			if math.Abs(rx-ry) < 1e-9 {
				chord := at(s.End()).Sub(at(s.Start())).Len()
				turn := 2 * math.Asin(min(1, chord/(2*rx)))
				if large {
					turn = 2*math.Pi - turn
				}
				b := math.Tan(turn / 4)
				if !sweep {
					b = -b
				}
				out[len(out)-1].bulge = b
				out = append(out, vertex{Point: at(s.End())})
				continue
			}
			fallthrough
		case canvas.QuadToCmd, canvas.CubeToCmd:
			for _, q := range geom.Line(s.Path(), geom.True)[1:] {
				out = append(out, vertex{Point: q})
			}
		default:
			out = append(out, vertex{Point: at(s.End())})
		}
	}
	if n := len(out); p.Closed() && n > 1 && out[0].Sub(out[n-1].Point).Len() < 1e-6 {
		out = out[:n-1]
	}
	return out
}
