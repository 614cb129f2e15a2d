package formats

import (
	"bytes"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"codeberg.org/go-pdf/fpdf"
	"github.com/tdewolff/canvas"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/measure"
	"idletimber/craft/reckon"
	"idletimber/craft/tool"
)

// Page measures of the sheet, mm.
const (
	margin  = 13
	leading = 4.6
	drawing = 88 // height kept for the drawing
)

// page is the sheet while it is written.
type page struct {
	*fpdf.Fpdf
	job   reckon.Scene
	board reckon.Board
	r     reckon.Reckoned
	zone  *time.Location
}

// Sheet writes the shop sheet of the job's first board as PDF on the shop's
// paper: drawing to scale, cut list, quantities, steps with boxes, cautions.
func Sheet(j reckon.Scene, out reckon.Reckoning) ([]byte, error) {
	p, err := newPage(j, j.Boards[0].Name)
	if err != nil {
		return nil, err
	}
	p.board, p.r = j.Boards[0], out.Boards[0]
	p.head()
	p.draw()
	p.cuts()
	p.passes()
	p.marks()
	p.assembly()
	p.quantities()
	p.pourCard()
	p.steps()
	p.cautions()
	return p.bytes("the sheet")
}

// newPage begins a document with a title, on the shop's paper.
func newPage(j reckon.Scene, title string) (page, error) {
	zone, err := j.Shop.Zone()
	if err != nil {
		return page{}, err
	}
	p := page{Fpdf: fpdf.New("P", "mm", j.Shop.Paper, ""), job: j, zone: zone}
	p.AddUTF8FontFromBytes("go", "", goregular.TTF)
	p.AddUTF8FontFromBytes("go", "B", gobold.TTF)
	p.SetMargins(margin, margin, margin)
	p.SetAutoPageBreak(true, margin)
	p.SetTitle(title, true)
	p.SetCreationDate(j.Now)
	p.SetModificationDate(j.Now)
	p.SetFooterFunc(func() {
		p.SetY(-margin)
		p.text(7.5, "", fmt.Sprintf("Idle Timber · %s · %s · page %d", title, p.at(j.Now), p.PageNo()))
	})
	p.AddPage()
	return p, nil
}

func (p page) bytes(what string) ([]byte, error) {
	var b bytes.Buffer
	if err := p.Output(&b); err != nil {
		return nil, fmt.Errorf("write %s: %w", what, err)
	}
	return b.Bytes(), nil
}

func (p page) length(mm float64) string { return measure.Format(mm, p.job.Shop.Units) }

// words writes a text of the rules in the shop's units.
func (p page) words(s string) string { return measure.Text(s, p.job.Shop.System()) }

func (p page) at(t time.Time) string { return t.In(p.zone).Format("Mon 2 Jan 2006 15:04") }

func (p page) text(size float64, style, s string) {
	p.SetFont("go", style, size)
	p.MultiCell(0, size*0.46+0.6, p.words(s), "", "L", false)
}

func (p page) heading(s string) {
	p.Ln(2)
	p.text(11.5, "B", s)
	p.Ln(0.5)
}

func (p page) head() {
	p.text(17, "B", p.board.Name)
	line := fmt.Sprintf("%s, %s · %s × %s × %s", p.job.Slab.Name, p.job.Slab.Species,
		p.length(p.r.Box[2]-p.r.Box[0]), p.length(p.r.Box[3]-p.r.Box[1]), p.length(p.r.Budget.Sanded))
	if p.board.Give.For != "" {
		line += " · for " + p.board.Give.For
	}
	p.text(9.5, "", line)
	if c := p.r.Course; c.Due != nil {
		state := "in time"
		if c.Late {
			state = "too late"
		}
		when := "ready by " + p.at(*c.Due) + " · " + state
		if c.LatestStart != nil {
			when += " · start no later than " + p.at(*c.LatestStart)
		}
		p.text(9.5, "B", when)
	}
}

// draw draws the board at a round scale, with its dimensions.
func (p page) draw() {
	wide, _ := p.GetPageSize()
	box := p.r.Box
	w, h := box[2]-box[0], box[3]-box[1]
	scale := roundScale(max(w/(wide-2*margin-22), h/(drawing-16)))
	left, top := (wide-w/scale)/2, p.GetY()+9
	place := func(q geom.Point) fpdf.PointType {
		return fpdf.PointType{X: left + (q.X-box[0])/scale, Y: top + (box[3]-q.Y)/scale}
	}
	p.SetLineWidth(0.35)
	p.outline(p.r.Path, place)
	p.SetLineWidth(0.25)
	for _, hole := range p.r.Holes {
		p.outline(hole, place)
	}
	p.SetDashPattern([]float64{2, 1}, 0)
	for _, c := range p.r.Shape.Recesses {
		p.outline(c.Path, place)
	}
	p.SetDashPattern([]float64{}, 0)
	p.SetLineWidth(0.08)
	for _, part := range p.r.Parts {
		p.outline(part.Path, place)
	}
	p.SetLineWidth(0.15)
	p.voids(place)
	p.fitted(place)
	p.SetDashPattern([]float64{3, 1, 0.6, 1}, 0)
	a, b := place(geom.Point{X: box[0] - 4*scale}), place(geom.Point{X: box[2] + 4*scale})
	p.Line(a.X, a.Y, b.X, b.Y)
	p.SetDashPattern(nil, 0)
	bottom := top + h/scale + 5
	p.dimension(left, bottom, left+w/scale, bottom, p.length(w))
	side := left + w/scale + 6
	p.dimension(side, top, side, top+h/scale, p.length(h))
	for _, hole := range p.r.Holes {
		for _, ring := range rings(hole) {
			c := ring.Centroid()
			q := place(c)
			p.Line(q.X-1.5, q.Y, q.X+1.5, q.Y)
			p.Line(q.X, q.Y-1.5, q.X, q.Y+1.5)
			p.dimension(q.X, top-3, left+w/scale, top-3, p.length(box[2]-c.X))
		}
	}
	p.SetY(bottom + 4)
	p.text(
		8,
		"",
		fmt.Sprintf(
			"Drawn 1:%g, show face up, handle to the right. Dash-dot: centre line. Dashed: voids, recesses and what "+
				"is cut for fittings. The outline is the finished line; saw outside it.",
			scale,
		),
	)
	p.text(8.8, "", p.dimensions())
}

// voids draws what is filled, dashed.
func (p page) voids(place func(geom.Point) fpdf.PointType) {
	p.SetDashPattern([]float64{1, 0.8}, 0)
	for _, v := range p.r.Drawn {
		q := place(v.At)
		p.SetFont("go", "B", 7)
		p.Text(q.X-0.8, q.Y+0.9, fmt.Sprint(v.Number))
	}
	for _, v := range p.r.Voids {
		for _, f := range p.job.Slab.Flaws {
			if f.ID == v.Flaw {
				for _, at := range f.Sections() {
					p.polygon(at.Footprint().Map(p.board.Placement.In), place)
				}
			}
		}
	}
	p.SetDashPattern(nil, 0)
}

// fitted draws what is cut for the fittings, dashed, and a cross at each place to mark.
func (p page) fitted(place func(geom.Point) fpdf.PointType) {
	p.SetDashPattern([]float64{1.5, 0.7}, 0)
	for _, s := range p.r.Fittings.Slots {
		p.polygon(s.Ring(), place)
	}
	for _, b := range p.r.Fittings.Bores {
		p.polygon(b.Ring(), place)
	}
	p.SetDashPattern(nil, 0)
	for i, s := range p.r.Fittings.Spots {
		const arm = 1.5
		q := place(geom.Point{X: s.X, Y: s.Y})
		p.Line(q.X-arm, q.Y, q.X+arm, q.Y)
		p.Line(q.X, q.Y-arm, q.X, q.Y+arm)
		p.SetFont("go", "", 6.5)
		p.Text(q.X+arm, q.Y-0.5, fmt.Sprint(i+1))
	}
}

// marks lists the places to mark for the fittings, numbered as they are drawn.
func (p page) marks() {
	if len(p.r.Fittings.Spots) == 0 {
		return
	}
	p.heading("Marks for the fittings")
	for i, s := range p.r.Fittings.Spots {
		bit := ""
		if s.Diameter > 0 {
			bit = "bit " + craft.Size(s.Diameter)
		}
		if s.Deep > 0 {
			bit += ", stop " + craft.Length(s.Deep)
		}
		p.row(empty, []float64{44, 22, 38, 75}, fmt.Sprintf("%d. %s", i+1, s.Name), s.Face, bit,
			fmt.Sprintf("%s from the %s, %s from the %s",
				p.length(s.FromEnd), s.End, p.length(s.FromSide), s.Side))
	}
}

// passes are how it is milled, and what the machine is set to for each pass.
func (p page) passes() {
	by := p.r.Milling.By
	if p.r.Budget.Off == 0 || len(by.Passes) == 0 {
		return
	}
	p.heading("Milling")
	p.text(8.8, "", by.Order)
	for i, o := range by.Passes {
		turned := ""
		if o.Turns > 0 {
			turned = fmt.Sprintf("%.2f turns", o.Turns)
		}
		p.row(
			empty,
			[]float64{34, 28, 34, 40, 44},
			fmt.Sprintf("%d. %s", i+1, o.Machine),
			o.Face,
			"bite "+measure.Fine(o.Bite, p.job.Shop.Units),
			"set to "+measure.Fine(o.Setting, p.job.Shop.Units),
			turned,
		)
	}
}

// assembly is how the fittings go together, with what is bought for them.
func (p page) assembly() {
	f := p.r.Fittings
	if len(f.Steps) == 0 {
		return
	}
	p.heading("Assembly of the fittings")
	for _, o := range f.Items {
		p.row(empty, []float64{44, 135}, measure.Show(o.Amount, string(o.Unit), p.job.Shop.System()), o.Name)
	}
	for i, s := range f.Steps {
		p.row(empty, []float64{8, 171}, fmt.Sprintf("%d.", i+1), s)
	}
}

// dimensions names the measures that the drawing does not carry.
func (p page) dimensions() string {
	d := p.board.Design
	var parts []string
	if slices.Contains([]board.Shape{board.Rectangle, board.Square, board.Paddle, board.Bladed}, d.Shape) &&
		d.Corner > 0 {
		parts = append(parts, "corners "+p.length(d.Corner))
	}
	if d.Shape == board.Paddle {
		parts = append(
			parts,
			fmt.Sprintf(
				"neck %s wide, %s long, shoulder %s",
				p.length(d.Neck),
				p.length(d.NeckLength),
				p.length(d.Shoulder),
			),
		)
	}
	for _, h := range d.Handles() {
		switch h.Kind {
		case "hole", "cord":
			parts = append(parts, h.Name()+" Ø "+craft.Size(h.Diameter))
		case "bevel":
			parts = append(
				parts,
				fmt.Sprintf("finger bevel, %s left standing, %g° from upright", p.length(h.Flat), h.Angle),
			)
		case "own":
			parts = append(parts, h.Name())
		default:
			parts = append(parts, h.Name()+" "+p.length(h.Diameter)+" × "+p.length(h.Length))
		}
	}
	for _, w := range p.r.Shape.Work {
		parts = append(parts, fmt.Sprintf("%s, floor %s", w.Name, p.length(w.Floor)))
	}
	if d.Edge.Kind != "none" && d.Edge.Size > 0 {
		parts = append(parts, "edges "+d.Edge.Kind+" "+p.length(d.Edge.Size))
	}
	if len(parts) == 0 {
		return "Plain edges, no handle."
	}
	line := strings.Join(parts, " · ")
	return craft.Capital(line) + "."
}

// roundScale is the next scale that a rule can be laid to.
func roundScale(least float64) float64 {
	for _, s := range []float64{1, 2, 2.5, 4, 5, 8, 10, 20, 25, 50} {
		if s >= least {
			return s
		}
	}
	return math.Ceil(least)
}

func rings(path string) []geom.Ring {
	parsed, err := canvas.ParseSVGPath(path)
	if err != nil { // our own writing; nothing to draw is better than no sheet
		return nil
	}
	return geom.Flatten(parsed, geom.Fine)
}

func (p page) outline(path string, place func(geom.Point) fpdf.PointType) {
	for _, ring := range rings(path) {
		p.polygon(ring, place)
	}
}

func (p page) polygon(ring geom.Ring, place func(geom.Point) fpdf.PointType) {
	points := make([]fpdf.PointType, len(ring))
	for i, q := range ring {
		points[i] = place(q)
	}
	p.Polygon(points, "D")
}

// dimension draws a measured line with its end marks; upright where x stays.
func (p page) dimension(x0, y0, x1, y1 float64, label string) {
	p.SetFont("go", "", 8.5)
	p.Line(x0, y0, x1, y1)
	if x0 == x1 {
		p.Line(x0-1.5, y0, x0+1.5, y0)
		p.Line(x0-1.5, y1, x0+1.5, y1)
		p.Text(x0+1.5, (y0+y1)/2, label)
		return
	}
	p.Line(x0, y0-1.5, x0, y0+1.5)
	p.Line(x1, y1-1.5, x1, y1+1.5)
	p.Text((x0+x1-p.GetStringWidth(label))/2, y0-1, label)
}

// box is what stands before a row: nothing, a box to tick, or one ticked.
type box int

const (
	unboxed box = iota
	empty
	ticked
)

// row writes cells of the given widths behind a box; what is too long for its cell
// goes on below.
func (p page) row(b box, widths []float64, cells ...string) {
	p.SetFont("go", "", 8.8)
	lines, deep := make([][]string, len(cells)), 1
	for i, c := range cells {
		lines[i] = p.SplitText(p.words(c), widths[i]-1)
		deep = max(deep, len(lines[i]))
	}
	if _, high := p.GetPageSize(); p.GetY()+float64(deep)*leading > high-margin-2 {
		p.AddPage()
	}
	y := p.GetY()
	if b != unboxed {
		p.SetLineWidth(0.25)
		p.Rect(margin, y+0.8, 3, 3, "D")
		p.SetX(margin + 5)
	}
	if b == ticked {
		p.Line(margin+0.6, y+2.3, margin+1.3, y+3.2)
		p.Line(margin+1.3, y+3.2, margin+2.6, y+1.2)
	}
	x := p.GetX()
	for i := range cells {
		for k, line := range lines[i] {
			p.SetXY(x, y+float64(k)*leading)
			p.CellFormat(widths[i], leading, line, "", 0, "L", false, 0, "")
		}
		x += widths[i]
	}
	p.SetY(y + float64(deep)*leading)
}

func (p page) cuts() {
	p.heading("Cut list")
	for i, c := range p.r.Cuts {
		where := strings.ToLower(c.Working.Label) + ", " + p.length(c.Length)
		switch {
		case c.At != nil:
			where = p.length(*c.At) + " from the butt end, " + p.length(c.Length) + " across"
		case c.Tool == tool.Drill:
			where = "Ø " + craft.Size(c.Length)
		}
		p.row(empty, []float64{70, 30, 79}, fmt.Sprintf("%d. %s", i+1, c.Title), c.Tool, where)
	}
	b := p.r.Budget
	p.row(
		unboxed,
		[]float64{180},
		fmt.Sprintf(
			"Thickness: rough %s → flat %s → filled %s → sanded %s",
			p.length(b.Rough),
			p.length(b.Flat),
			p.length(b.Filled),
			p.length(b.Sanded),
		),
	)
}

// quantities lists what all stages take from the shelf, alike things together.
func (p page) quantities() {
	p.heading("From the shelf")
	for _, u := range p.r.Shelf {
		amount := measure.Show(u.Amount, string(u.Unit), p.job.Shop.System())
		item := p.words(u.Item)
		p.row(unboxed, []float64{60, 120}, strings.ToUpper(item[:1])+item[1:], amount)
	}
	if m := p.r.Mix; m != nil {
		p.row(
			unboxed,
			[]float64{180},
			fmt.Sprintf("Resin: %s + %s of hardener; work within %s, sand after %s",
				craft.In(m.ResinML, craft.ML), craft.In(m.HardML, craft.ML), duration(m.Working), duration(m.Sand)),
		)
	}
}

// pourCard is what is filled with what, numbered as it is drawn, and what is weighed for the resin,
// with room for what was.
func (p page) pourCard() {
	if len(p.r.Voids) == 0 {
		return
	}
	p.heading("Filling")
	widths := []float64{8, 36, 20, 20, 34, 57}
	for _, v := range p.r.Voids {
		deep := p.length(v.Depth)
		if v.Through {
			deep = "through"
		}
		p.row(empty, widths, fmt.Sprint(v.Number), v.Name, craft.In(v.Volume, craft.ML), deep, v.Chosen, v.Dam)
		for i, line := range v.Recipe {
			p.row(unboxed, []float64{12, 165}, "", fmt.Sprintf("%d. %s", i+1, line))
		}
	}
	m := p.r.Mix
	if m == nil {
		return
	}
	p.heading("Pour card")
	mass := func(grams float64) string { return craft.In(grams, craft.Gram) }
	text := fmt.Sprintf("%s resin, %s. %s", strings.ToUpper(m.Kind[:1])+m.Kind[1:], m.Colour, plural(m.Pours, "pour"))
	if m.Batches > 1 {
		text += fmt.Sprintf(", each in %d batches", m.Batches)
	}
	text += fmt.Sprintf("; off the dam after %s, cured through after %.3g days", duration(m.Demould), m.Full)
	if m.Pours > 1 && !m.Scuffed {
		text += fmt.Sprintf(
			"; the next pour from %s to %s after the one before",
			duration(m.Between),
			duration(m.TackTo),
		)
	}
	p.row(unboxed, []float64{180}, text)
	for i := range m.Pours * m.Batches {
		want := fmt.Sprintf("resin %s, hardener %s", mass(m.Batch.ResinG), mass(m.Batch.HardenerG))
		if m.Batch.PigmentG > 0 {
			want += ", pigment last " + mass(m.Batch.PigmentG)
		}
		p.row(empty, []float64{22, 80, 75}, fmt.Sprintf("Batch %d", i+1), want, "weighed: resin ______ hardener ______")
	}
	p.row(
		empty,
		[]float64{22, 155},
		"Looks",
		"for leaks at 10, 30 and 60 minutes, then hourly; lost ______ went in ______",
	)
}

// plural counts things.
func plural(n int, what string) string {
	if n == 1 {
		return "One " + what
	}
	return fmt.Sprintf("%d %ss", n, what)
}

func (p page) steps() {
	p.heading("Steps")
	for _, s := range p.r.Course.Steps {
		wait := ""
		if s.Wait > 0 {
			wait = "then wait " + duration(s.Wait)
		}
		if s.Rest > 0 {
			wait = "then rest " + duration(s.Rest)
		}
		start := ""
		if s.Starts != nil {
			start = s.Starts.In(p.zone).Format("Mon 2 Jan 15:04")
		}
		mark := empty
		if s.State == "done" {
			start, mark = "done", ticked
		}
		p.row(mark, []float64{80, 18, 38, 44}, s.Title, fmt.Sprintf("%.0f min", math.Ceil(s.Minutes)), start, wait)
	}
}

// duration writes minutes the way a maker says them.
func duration(minutes float64) string {
	whole := int(math.Round(minutes))
	switch {
	case whole < 90:
		return fmt.Sprintf("%d min", whole)
	case whole < 600 && whole%60 > 0:
		return fmt.Sprintf("%d h %d min", whole/60, whole%60)
	case whole < 48*60:
		return fmt.Sprintf("%d h", whole/60)
	}
	return strconv.FormatFloat(math.Round(minutes/144)/10, 'f', -1, 64) + " days"
}

func (p page) cautions() {
	p.heading("Take care")
	seen := map[string]bool{}
	for _, s := range p.r.Course.Steps {
		for _, c := range p.r.Cautions[s.Key] {
			if !seen[c.Title] {
				seen[c.Title] = true
				p.text(8.6, "", c.Title+": "+c.Text)
			}
		}
	}
	p.text(8.6, "", "Local codes, data sheets and licensed practice come before anything written here.")
}
