package formats

import (
	"bytes"
	"fmt"
	"math"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"

	"idletimber/craft/geom"
	"idletimber/craft/measure"
	"idletimber/craft/reckon"
)

// TemplateChoice is how a template is printed.
type TemplateChoice struct {
	Paper string // A4, Letter, A3, Tabloid, or Whole for one page as large as the board
	Half  bool   // only the half to the left of the centre line, to be turned over along it
}

// papers are the sizes of paper, upright, mm.
var papers = map[string]fpdf.SizeType{
	"A4": {
		Wd: 210,
		Ht: 297,
	}, "Letter": {Wd: 215.9, Ht: 279.4}, "A3": {Wd: 297, Ht: 420}, "Tabloid": {Wd: 279.4, Ht: 431.8},
}

// Measures of a template's pages, mm.
const (
	templateEdge = 9  // that printers leave blank
	templateFoot = 17 // for the check bar, the map and the words
	overlap      = 12 // of neighbouring pages
	breathing    = 4  // about the outline
	checkBar     = 100
	checkInches  = 4 * measure.MMPerInch
)

// tiling is how a drawing is cut into pages.
type tiling struct {
	page          fpdf.SizeType
	box           geom.Bounds // of the drawing
	cols, rows    int
	stepX, stepY  float64 // of neighbouring pages
	roomX, roomY  float64 // of the drawing on a page
	name          string
	length, size  func(float64) string
	half          bool
	col, row, all int
}

// tile cuts a drawing into the fewest pages of a paper, upright or lying.
func tile(box geom.Bounds, paper fpdf.SizeType) (best tiling) {
	for _, page := range []fpdf.SizeType{paper, {Wd: paper.Ht, Ht: paper.Wd}} {
		t := tiling{
			page:  page,
			box:   box,
			roomX: page.Wd - 2*templateEdge,
			roomY: page.Ht - 2*templateEdge - templateFoot,
		}
		t.stepX, t.stepY = t.roomX-overlap, t.roomY-overlap
		count := func(size, step float64) int { return max(1, int(math.Ceil((size-overlap)/step-1e-9))) }
		t.cols, t.rows = count(box.MaxX-box.MinX, t.stepX), count(box.MaxY-box.MinY, t.stepY)
		if best.all = best.cols * best.rows; best.all == 0 || t.cols*t.rows < best.all {
			best = t
		}
	}
	best.all = best.cols * best.rows
	return best
}

// Template writes a board at 1:1 as PDF, cut into pages that overlap, with
// marks to join them by, a map, a bar to check the printer with, the centre
// line, and drill centres with their bits.
func Template(j reckon.Scene, r reckon.Reckoned, choice TemplateChoice) ([]byte, error) {
	box := geom.Bounds{
		MinX: r.Box[0] - breathing,
		MinY: r.Box[1] - breathing,
		MaxX: r.Box[2] + breathing,
		MaxY: r.Box[3] + breathing,
	}
	if choice.Half {
		box.MinY = -breathing
	}
	paper, ok := papers[choice.Paper]
	switch {
	case choice.Paper == "Whole":
		paper = fpdf.SizeType{
			Wd: max(checkBar+70, box.MaxX-box.MinX) + 2*templateEdge,
			Ht: box.MaxY - box.MinY + 2*templateEdge + templateFoot,
		}
	case !ok:
		return nil, fmt.Errorf("%q is no paper; choose A4, Letter, A3, Tabloid or Whole", choice.Paper)
	}
	t := tile(box, paper)
	if choice.Paper == "Whole" {
		t = tiling{
			page:  paper,
			box:   box,
			cols:  1,
			rows:  1,
			all:   1,
			roomX: box.MaxX - box.MinX,
			roomY: box.MaxY - box.MinY,
		}
	}
	t.name, t.half = j.Boards[0].Name, choice.Half
	t.length = func(mm float64) string { return measure.Format(mm, j.Shop.Units) }
	t.size = func(mm float64) string { return measure.Size(mm, j.Shop.Units) }
	p := fpdf.NewCustom(&fpdf.InitType{OrientationStr: "P", UnitStr: "mm", Size: t.page})
	p.AddUTF8FontFromBytes("go", "", goregular.TTF)
	p.AddUTF8FontFromBytes("go", "B", gobold.TTF)
	p.SetAutoPageBreak(false, 0)
	p.SetTitle("Template, "+t.name, true)
	p.SetCreationDate(j.Now)
	p.SetModificationDate(j.Now)
	p.SetCatalogSort(true)
	for t.row = range t.rows {
		for t.col = range t.cols {
			p.AddPageFormat("P", t.page)
			t.draw(p, r)
			t.foot(p)
		}
	}
	var out bytes.Buffer
	if err := p.Output(&out); err != nil {
		return nil, fmt.Errorf("write the template: %w", err)
	}
	return out.Bytes(), nil
}

// place puts a point of the board on the page. The first row of pages is at the
// top: at the left side of the board.
func (t tiling) place(q geom.Point) fpdf.PointType {
	return fpdf.PointType{
		X: templateEdge + q.X - t.box.MinX - float64(t.col)*t.stepX,
		Y: templateEdge + t.box.MaxY - q.Y - float64(t.row)*t.stepY,
	}
}

func (t tiling) draw(p *fpdf.Fpdf, r reckon.Reckoned) {
	p.ClipRect(templateEdge, templateEdge, t.roomX, t.roomY, false)
	defer p.ClipEnd()
	if t.half { // what lies beyond the centre line is not drawn
		top, at := t.place(geom.Point{X: t.box.MinX, Y: t.box.MaxY}), t.place(geom.Point{X: t.box.MaxX, Y: -0.5})
		p.ClipRect(top.X, top.Y, at.X-top.X, at.Y-top.Y, false)
		defer p.ClipEnd()
	}
	p.SetDrawColor(0, 0, 0)
	for _, l := range BoardLayers(r) {
		width, dash := 0.35, []float64{}
		switch l.Name {
		case RecessLayer:
			width, dash = 0.25, []float64{4, 1.5}
		case TemplateLayer:
			width, dash = 0.2, []float64{1, 1}
		case MarksLayer:
			width, dash = 0.2, []float64{6, 1.5, 1, 1.5}
		}
		p.SetLineWidth(width)
		for _, path := range l.Paths {
			p.SetDashPattern(dash, 0)
			if path.Length() < 10 { // an arm of a cross
				p.SetDashPattern([]float64{}, 0)
			}
			points := []fpdf.PointType{}
			for _, q := range geom.Line(path, geom.True) {
				points = append(points, t.place(q))
			}
			for i := 0; i+1 < len(points); i++ {
				if i == 0 {
					p.MoveTo(points[0].X, points[0].Y)
				}
				p.LineTo(points[i+1].X, points[i+1].Y)
			}
			p.DrawPath("D")
		}
	}
	p.SetDashPattern([]float64{}, 0)
	p.SetLineWidth(0.1)
	for _, w := range r.Shape.Waste {
		strokes, err := hatch(w.Cut, w.Line)
		if err != nil {
			p.SetError(err)
			return
		}
		for _, stroke := range strokes {
			a, b := t.place(stroke[0]), t.place(stroke[1])
			p.Line(a.X, a.Y, b.X, b.Y)
		}
	}
	p.SetFont("go", "", 7.5)
	for _, e := range r.Shape.Entries {
		if e.Diameter > 0 {
			t.label(p, e.At, fmt.Sprintf("%s: bit %s", e.Name, t.size(e.Diameter)))
		}
	}
	for _, s := range r.Fittings.Spots {
		text := s.Name
		if s.Diameter > 0 {
			text += ", bit " + t.size(s.Diameter)
		}
		t.label(p, geom.Point{X: s.X, Y: s.Y}, text+", "+s.Face, fmt.Sprintf("%s from the %s, %s from the %s",
			t.length(s.FromEnd), s.End, t.length(s.FromSide), s.Side))
	}
	for _, s := range r.Fittings.Slots {
		t.label(p, s.A.Lerp(s.B, 0.5), s.Name)
	}
	t.joints(p)
}

// label writes lines beside a place, to the side where they have room on the page.
func (t tiling) label(p *fpdf.Fpdf, at geom.Point, lines ...string) {
	const off, leading = 2.0, 3.4
	q := t.place(at)
	wide := 0.0
	for _, line := range lines {
		wide = max(wide, p.GetStringWidth(line))
	}
	x := q.X + off
	if right := templateEdge + t.roomX; x+wide > right {
		x = max(templateEdge, min(q.X-off-wide, right-wide))
	}
	y := max(templateEdge+leading, q.Y-off)
	y = min(y, templateEdge+t.roomY-leading*float64(len(lines)-1)-1)
	for i, line := range lines {
		p.Text(x, y+leading*float64(i), line)
	}
}

// joints draws, where pages overlap, the line to which the next one is laid and
// a mark that both carry.
func (t tiling) joints(p *fpdf.Fpdf) {
	p.SetLineWidth(0.15)
	p.SetDrawColor(120, 120, 120)
	letter := func(col, row int) string { return fmt.Sprintf("%c%d", 'A'+row, col+1) }
	mark := func(x, y float64, text string) {
		p.Line(x-4, y, x+4, y)
		p.Line(x, y-4, x, y+4)
		p.Circle(x, y, 2, "D")
		at := x + 2.5
		if at+p.GetStringWidth(text) > t.page.Wd-templateEdge {
			at = x - 2.5 - p.GetStringWidth(text)
		}
		p.Text(at, y-2.5, text)
	}
	p.SetFont("go", "", 6.5)
	for _, side := range []int{0, 1} { // toward the page before, and after
		if col := t.col + side; col > 0 && col < t.cols {
			x := templateEdge + overlap/2 + float64(side)*t.stepX
			p.Line(x, templateEdge, x, templateEdge+t.roomY)
			for _, share := range []float64{0.2, 0.8} {
				mark(x, templateEdge+share*t.roomY, letter(col-1, t.row)+" – "+letter(col, t.row))
			}
		}
		if row := t.row + side; row > 0 && row < t.rows {
			y := templateEdge + overlap/2 + float64(side)*t.stepY
			p.Line(templateEdge, y, templateEdge+t.roomX, y)
			for _, share := range []float64{0.2, 0.8} {
				mark(templateEdge+share*t.roomX, y, letter(t.col, row-1)+" – "+letter(t.col, row))
			}
		}
	}
	p.SetDrawColor(0, 0, 0)
}

// foot writes what stands under the drawing: the bar, the words and the map.
func (t tiling) foot(p *fpdf.Fpdf) {
	y := t.page.Ht - templateEdge - 5
	bar := func(y, length float64, text string) {
		p.SetLineWidth(0.3)
		p.Line(templateEdge, y, templateEdge+length, y)
		p.SetLineWidth(0.15)
		p.Line(templateEdge, y-1.5, templateEdge, y+1.5)
		p.Line(templateEdge+length, y-1.5, templateEdge+length, y+1.5)
		p.SetFont("go", "", 7)
		p.Text(templateEdge+length+1.5, y+1, text)
	}
	bar(y-4, checkBar, "100 mm")
	bar(y+1.5, checkInches, `4"`)
	p.SetFont("go", "B", 9)
	x := templateEdge + checkInches + 14
	half := ""
	if t.half {
		half = ", left half: turn it over along the centre line"
	}
	p.Text(x, y-4, fmt.Sprintf("%s%s", t.name, half))
	p.SetFont("go", "", 7)
	p.Text(x, y-0.5, "Print at 100 %, not fitted to the page; measure the bar first.")
	p.Text(x, y+3, fmt.Sprintf("Page %c%d, %d of %d", 'A'+t.row, t.col+1, t.row*t.cols+t.col+1, t.all))
	if t.all == 1 {
		return
	}
	const cell = 3.2
	mx, my := t.page.Wd-templateEdge-float64(t.cols)*cell*1.4, t.page.Ht-templateEdge-float64(t.rows)*cell
	for row := range t.rows {
		for col := range t.cols {
			style := "D"
			if row == t.row && col == t.col {
				p.SetFillColor(0, 0, 0)
				style = "F"
			}
			p.Rect(mx+float64(col)*cell*1.4, my+float64(row)*cell, cell*1.4, cell, style)
		}
	}
}
