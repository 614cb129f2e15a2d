package formats

import (
	"fmt"
	"strings"

	"codeberg.org/go-pdf/fpdf"
	"github.com/tdewolff/canvas"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/reckon"
)

// CutList writes how a slab is cut up as PDF on the shop's paper: the slab with
// its boards and numbered cuts to scale, and the cuts in order with boxes.
func CutList(j reckon.Scene, wood reckon.Wood, out reckon.LaidOut) ([]byte, error) {
	p, err := newPage(j, "Cut list of "+j.Slab.Name)
	if err != nil {
		return nil, err
	}
	p.text(17, "B", "Cut list of "+j.Slab.Name)
	p.text(9.5, "", fmt.Sprintf("%s · %d boards · %s long", j.Slab.Species, len(j.Boards), p.length(j.Slab.Length)))
	p.slab(wood, out)
	p.heading("Cuts in order")
	for _, c := range out.Cuts {
		where := p.length(c.Length)
		switch c.Kind {
		case "cross-cut":
			where = p.length(c.Setting) + " from the butt end of the piece, " + where + " across"
		case "rip":
			where = "fence " + p.length(c.Setting) + " from its right edge, " + where + " long"
		case "bore":
			where = "Ø " + craft.Size(c.Length)
		}
		p.row(empty, []float64{70, 26, 83}, fmt.Sprintf("%d. %s", c.Number, c.Title), c.Saw, where)
		if c.Kind == "cross-cut" || c.Kind == "rip" {
			p.row(unboxed, []float64{5, 175}, "", "leaves "+strings.Join(c.Pieces, " · "))
		}
		if c.Finding != "" {
			p.row(unboxed, []float64{5, 175}, "", c.Finding)
		}
	}
	p.heading("Boards")
	for i, d := range j.Boards {
		p.row(
			unboxed,
			[]float64{8, 82, 90},
			fmt.Sprint(i+1),
			d.Name,
			p.length(d.Design.Length)+" × "+p.length(d.Design.Width)+", sawn with the "+d.Cut.Saw,
		)
	}
	p.heading("Cautions")
	p.text(
		8.8,
		"",
		"Eyes and ears; read each machine's own manual, follow your local rules, and when unsure ask someone "+
			"trained. Push sticks for narrow strips. Never rip a twisted or cupped piece without a flat face and a "+
			"straight edge: kickback. Hold small parts down. Extraction and a fitted respirator against the dust.",
	)
	return p.bytes("the cut list")
}

// slab draws the slab with its boards and its straight cuts, numbered.
func (p page) slab(wood reckon.Wood, out reckon.LaidOut) {
	wide, _ := p.GetPageSize()
	w, h := wood.Length, wood.MaxY-wood.MinY
	scale := roundScale(max(w/(wide-2*margin-8), h/drawing))
	left, top := (wide-w/scale)/2, p.GetY()+8
	place := func(q geom.Point) fpdf.PointType {
		return fpdf.PointType{X: left + q.X/scale, Y: top + (wood.MaxY-q.Y)/scale}
	}
	p.SetLineWidth(0.3)
	p.outline(wood.Path, place)
	p.bark(wood, place)
	p.SetLineWidth(0.2)
	p.SetDashPattern([]float64{0.8, 0.8}, 0)
	for _, f := range wood.Flaws {
		path := f.Path
		if f.Under {
			path = f.Other
		}
		p.outline(path, place)
	}
	p.SetDashPattern(nil, 0)
	for i, b := range out.Boards {
		at := p.job.Boards[i].Placement
		for _, path := range append([]string{b.Path}, b.Holes...) {
			for _, ring := range rings(path) {
				p.polygon(ring.Map(at.Out), place)
			}
		}
		p.label(place(geom.Point{X: at.X, Y: at.Y}), fmt.Sprint(i+1), false)
	}
	p.SetDashPattern([]float64{3, 1.2}, 0)
	for _, c := range out.Cuts {
		if c.Kind == "cross-cut" || c.Kind == "rip" {
			a, b := place(c.A), place(c.B)
			p.Line(a.X, a.Y, b.X, b.Y)
		}
	}
	p.SetDashPattern(nil, 0)
	for _, c := range out.Cuts {
		switch q := place(c.B); c.Kind {
		case "cross-cut":
			p.label(fpdf.PointType{X: q.X, Y: q.Y - 3.5}, fmt.Sprint(c.Number), true)
		case "rip":
			q = place(c.A)
			p.label(fpdf.PointType{X: q.X + 3.5, Y: q.Y}, fmt.Sprint(c.Number), true)
		}
	}
	p.SetY(top + h/scale + 4)
	p.text(
		8,
		"",
		fmt.Sprintf(
			"Drawn 1:%g, show face up, butt end to the left. Thick: bark. Dotted: flaws that open on this face. "+
				"Dashed, with a number in a ring: straight cuts. Numbers in the boards: the list below.",
			scale,
		),
	)
}

// bark draws the natural edges thick.
func (p page) bark(wood reckon.Wood, place func(geom.Point) fpdf.PointType) {
	p.SetLineWidth(barkWide)
	for _, edge := range wood.Bark {
		if edge == "" {
			continue
		}
		path, err := canvas.ParseSVGPath(edge)
		if err != nil { // our own writing; no bark is better than no list
			continue
		}
		for i, q := range geom.Line(path, geom.True) {
			if at := place(q); i == 0 {
				p.MoveTo(at.X, at.Y)
			} else {
				p.LineTo(at.X, at.Y)
			}
		}
		p.DrawPath("D")
	}
}

// barkWide is how thick a natural edge is drawn, mm.
const barkWide = 1.2

// label writes a word about a point, in a ring or by itself.
func (p page) label(at fpdf.PointType, word string, ringed bool) {
	p.SetFont("go", "B", 7.5)
	if ringed {
		p.SetFillColor(255, 255, 255)
		p.Circle(at.X, at.Y, 2.4, "FD")
	}
	p.Text(at.X-p.GetStringWidth(word)/2, at.Y+1, word)
}
