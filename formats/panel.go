package formats

import (
	"fmt"
	"math"
	"strings"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/glue"
	"idletimber/craft/reckon"
	"idletimber/craft/rule"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
)

// PanelSheet writes how a panel is made as PDF on the shop's paper: its strips as they lie,
// the cut list of the strips by their pieces, whose names it is given by their ids, the
// marking card, the clamp-up card with its times, steps and cautions.
func PanelSheet(j reckon.Scene, wood reckon.Wood, pieces map[string]string) ([]byte, error) {
	parts := wood.Parts
	p, err := newPage(j, j.Slab.Name)
	if err != nil {
		return nil, err
	}
	p.r.Course, p.r.Cautions = parts.Course, parts.Cautions
	p.text(17, "B", j.Slab.Name)
	p.text(9.5, "", fmt.Sprintf("Panel, %s · %s × %s, %s when flat and sanded · %s · %s", parts.Construction,
		p.length(parts.Length), p.length(parts.Width), p.length(parts.Flat), j.Slab.Glue.Glue, parts.State))
	if len(parts.First) > 0 {
		p.parts(
			"As its strips are first glued, with the cuts of its slices",
			parts.First,
			parts.FirstBox,
			parts.Cuts,
			true,
		)
	}
	p.parts("As it comes out of the clamps", parts.Parts,
		[4]float64{0, wood.MinY, wood.Length, wood.MaxY}, nil, len(parts.First) == 0)
	p.stripCuts(parts.Strips, "Strips", pieces)
	p.stripCuts(parts.Spares, "Spare strips", pieces)
	p.markingCard(*j.Slab.Glue, parts.Strips)
	p.clampCard(*parts)
	p.steps()
	p.cautions()
	return p.bytes("the sheet of the panel")
}

// parts draws parts at a round scale, their strips numbered at the butt end.
func (p page) parts(title string, parts []glue.Drawn, box [4]float64, cuts []string, numbered bool) {
	p.heading(title)
	wide, _ := p.GetPageSize()
	w, h := box[2]-box[0], box[3]-box[1]
	const high = 62 // mm of paper
	scale := roundScale(max(w/(wide-2*margin-22), h/high))
	left, top := (wide-w/scale)/2, p.GetY()+2
	place := func(q geom.Point) fpdf.PointType {
		return fpdf.PointType{X: left + (q.X-box[0])/scale, Y: top + (box[3]-q.Y)/scale}
	}
	p.SetLineWidth(0.2)
	p.SetFont("go", "", 7)
	for _, part := range parts {
		for _, ring := range rings(part.Path) {
			p.polygon(ring, place)
			if b := ring.Bounds(); numbered {
				at := place(geom.Point{X: b.MinX, Y: (b.MinY + b.MaxY) / 2})
				p.Text(at.X+1.2, at.Y+1, fmt.Sprint(part.Strip+1))
			}
		}
	}
	p.SetDashPattern([]float64{1.6, 0.8}, 0)
	for _, c := range cuts {
		p.outline(c, place)
	}
	p.SetDashPattern(nil, 0)
	bottom := top + h/scale + 5
	p.dimension(left, bottom, left+w/scale, bottom, p.length(w))
	p.dimension(left+w/scale+6, top, left+w/scale+6, top+h/scale, p.length(h))
	p.SetY(bottom + 2)
	p.text(8, "", fmt.Sprintf("Drawn 1:%g, show face up, butt end to the left.", scale))
}

// stripCuts lists how strips are ripped and cut to length, piece by piece.
func (p page) stripCuts(strips []glue.Strip, title string, pieces map[string]string) {
	if len(strips) == 0 {
		return
	}
	p.heading(title + ": rip, joint, cut to length, plane together")
	jointing := p.job.Shop.Rules.Get(rule.Jointing)
	where := func(s glue.Strip) string {
		switch {
		case s.Piece != "":
			return pieces[s.Piece]
		case s.AtHand:
			return "at hand, " + s.Species
		}
		return "to be bought, " + s.Species
	}
	var order []string
	by := map[string][]int{}
	for i, s := range strips {
		if at := where(s); by[at] == nil {
			order = append(order, at)
		}
		by[where(s)] = append(by[where(s)], i)
	}
	for _, from := range order {
		p.text(9, "B", from)
		for _, i := range by[from] {
			s := strips[i]
			p.row(empty, []float64{14, 62, 50, 54}, fmt.Sprintf("%d.", i+1),
				"table saw: fence "+p.length(s.Width+jointing)+", jointed to "+p.length(s.Width),
				"stop block "+p.length(s.Length), "planed to "+p.length(s.Thickness))
		}
	}
	p.text(
		8,
		"",
		"The straight edge runs along the fence; it is the reference of every cut. Narrow strips: push stick, "+
			"the offcut falls free.",
	)
}

// markingCard shows what is marked on each strip: its number, its face and its end, and
// how it lies and is rolled for the glue.
func (p page) markingCard(panel glue.Panel, strips []glue.Strip) {
	p.heading("Marking card, from the left edge")
	for i, s := range strips {
		arrow := "arrow to the far end →"
		if s.Turned {
			arrow = "← arrow to the butt end"
		}
		face := map[[2]bool]string{
			{false, false}: "face up", {false, true}: "face down", {true, false}: "face to the left",
			{true, true}: "face to the right",
		}[[2]bool{panel.Edge(), s.Flipped}]
		rolled := "rolled to the right: its left side up, with glue"
		if i == 0 {
			rolled = "rolled to the right: no glue, it is the outer one"
		}
		p.row(empty, []float64{10, 40, 45, 30, 55}, fmt.Sprint(i+1), s.Species, arrow, face, rolled)
	}
}

// clampCard is what stands at the bench when the glue is open.
func (p page) clampCard(parts reckon.OfParts) {
	if len(parts.Pressed) == 0 {
		return
	}
	p.heading("Clamp-up card")
	for _, k := range parts.Pressed {
		p.text(9.5, "B", k.Name)
		p.row(unboxed, []float64{180}, fmt.Sprintf(
			"%s of glue, spread in %s, closed within %s. %d clamps of %s or more, at most %s apart, %s "+
				"in all. In clamps %s.",
			craft.In(math.Ceil(k.Grams), craft.Gram),
			duration(k.Spread),
			duration(k.Open),
			k.Count,
			p.length(math.Ceil(k.Reach)),
			p.length(math.Floor(k.Spacing)),
			craft.In(math.Round(k.Force), craft.Newton),
			duration(k.Clamped),
		))
		for i, c := range k.Clamps {
			side := "above"
			if c.Below {
				side = "below"
			}
			p.row(empty, []float64{30, 50, 40, 55}, fmt.Sprintf("clamp %d, %s", i+1, side), c.Kind,
				p.length(math.Round(c.X))+" from the butt", craft.In(math.Round(c.Force), craft.Newton))
		}
		if k.Short > 0 {
			p.row(unboxed, []float64{180}, fmt.Sprintf("%d clamps are missing: see the panel for what helps.", k.Short))
		}
	}
	var also []string
	if parts.Cauls {
		also = append(also, "cauls across both ends, above and below, wrapped")
	}
	if parts.EndClamp {
		also = append(also, "a clamp along it, end to end")
	}
	also = append(
		also,
		"protection strips outside, not glued",
		"tape, roller, damp rag",
		"level on the bars before the last turn",
	)
	p.row(unboxed, []float64{180}, "At hand: "+strings.Join(also, "; ")+".")
}

// StripLabels writes a PDF sheet of labels for the strips of a panel on the shop's paper:
// its name, the number of the strip, its wood and an arrow to the end that it has.
func StripLabels(at shop.Shop, panel slab.Slab) ([]byte, error) {
	p := fpdf.New("P", "mm", at.Paper, "")
	p.AddUTF8FontFromBytes("go", "", goregular.TTF)
	p.AddUTF8FontFromBytes("go", "B", gobold.TTF)
	p.SetAutoPageBreak(false, 0)
	p.SetTitle("Strips of "+panel.Name, true)
	wide, high := p.GetPageSize()
	const columns, rows, gap = 3, 12, 2.0
	w := (wide - 2*margin - (columns-1)*gap) / columns
	h := (high - 2*margin - (rows-1)*gap) / rows
	for i, s := range panel.Glue.All() {
		n := i % (columns * rows)
		if n == 0 {
			p.AddPage()
		}
		x, y := margin+float64(n%columns)*(w+gap), margin+float64(n/columns)*(h+gap)
		p.SetLineWidth(0.2)
		p.Rect(x, y, w, h, "D")
		number, arrow := fmt.Sprint(i+1), "→"
		if i >= len(panel.Glue.Strips) {
			number = "spare"
		} else if s.Turned {
			arrow = "←"
		}
		p.SetFont("go", "B", 15)
		p.Text(x+2, y+7.5, number+" "+arrow)
		p.SetFont("go", "", 8)
		p.Text(x+2, y+12, cutTo(p, panel.Name, w-4))
		p.Text(x+2, y+16, cutTo(p, s.Species, w-4))
	}
	page := page{Fpdf: p}
	return page.bytes("the labels of strips")
}

// cutTo shortens a text to a width, mm.
func cutTo(p *fpdf.Fpdf, s string, room float64) string {
	for p.GetStringWidth(s) > room && len([]rune(s)) > 2 {
		r := []rune(strings.TrimSuffix(s, "…"))
		s = string(r[:len(r)-1]) + "…"
	}
	return s
}

// PanelLayers are the outlines of a piece and, where it is made of parts, of each part on a
// layer of its own.
func PanelLayers(v slab.Slab) OutlineFile {
	w := slab.Draw(v, nil)
	f := OutlineFile{Name: v.Name, Rings: map[string]geom.Ring{}}
	add := func(layer string, r geom.Ring) { f.Rings[layer], f.Order = r, append(f.Order, layer) }
	add("show", w.Show.Ring())
	if w.TwoFaced {
		add("under", w.Under.Ring())
	}
	if !v.Panel() {
		return f
	}
	shape := v.Glue.Shape()
	for _, part := range shape.Parts {
		name := fmt.Sprintf("strip-%d", part.Strip+1)
		if v.Glue.Again() {
			name += fmt.Sprintf("-slice-%d", part.Slice+1)
		}
		add(name, part.Ring)
	}
	return f
}
