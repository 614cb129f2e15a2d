package formats

import (
	"fmt"
	"strings"
	"time"

	"codeberg.org/go-pdf/fpdf"

	"idletimber/craft"
	"idletimber/craft/reckon"
	"idletimber/craft/run"
	"idletimber/craft/shop"
	"idletimber/craft/stage"
)

// RunSheet is what is printed of a run.
type RunSheet struct {
	Run    run.Run
	Boards []RunRow
	Matrix run.Matrix
	Visits []run.Visit
	Shelf  []stage.Use
	Late   map[string]bool // ids of boards that are too late
}

// Of the printed matrix, mm.
const (
	nameWide   = 46.0
	columnWide = 8.0
	headHigh   = 52.0
	lineHigh   = 7.0
)

// RunPDF writes a run as PDF on the shop's paper: its boards by its operations with boxes, what is cut at each machine
// in one visit, and what it takes from the shelf.
func RunPDF(at shop.Shop, now time.Time, s RunSheet) ([]byte, error) {
	p, err := newPage(reckon.Scene{Shop: at, Now: now}, s.Run.Name)
	if err != nil {
		return nil, err
	}
	p.text(17, "B", s.Run.Name)
	facts := []string{fmt.Sprintf("%d boards", len(s.Boards))}
	for _, fact := range []string{s.Run.Occasion, s.Run.Customer} {
		if fact != "" {
			facts = append(facts, fact)
		}
	}
	if s.Run.Day != "" {
		facts = append(facts, "ready on "+s.Run.Day)
	}
	p.text(9.5, "", strings.Join(facts, " · "))
	p.heading("Boards")
	for i, b := range s.Boards {
		ready := b.Due
		if s.Late[b.ID] {
			ready += ", too late"
		}
		p.row(unboxed, []float64{8, 58, 44, 34, 40}, fmt.Sprint(i+1), b.Name, b.Slab, b.For, ready)
	}
	wide, _ := p.GetPageSize()
	columns := int((wide - 2*margin - nameWide) / columnWide)
	for first := 0; first < len(s.Matrix.Operations); first += columns {
		p.matrix(s, s.Matrix.Operations[first:min(first+columns, len(s.Matrix.Operations))])
	}
	if len(s.Visits) > 0 {
		p.heading("At each machine, in one visit")
	}
	for _, v := range s.Visits {
		p.text(9.5, "B", fmt.Sprintf("%s, %s", craft.Capital(v.Machine), craft.In(v.Minutes, craft.Minute)))
		for _, m := range v.Made {
			p.row(empty, []float64{88, 50, 40}, m.Name, m.Board, m.Slab)
		}
	}
	if len(s.Shelf) > 0 {
		p.heading("From the shelf")
	}
	for _, u := range s.Shelf {
		p.row(empty, []float64{110, 60}, u.Item, craft.In(u.Amount, u.Unit))
	}
	return p.bytes("the run's sheet")
}

// matrix draws operations across and boards down, with a box for each step: crossed where it is done.
func (p page) matrix(s RunSheet, operations []run.Operation) {
	_, high := p.GetPageSize()
	head := func() float64 {
		p.AddPage()
		top := p.GetY() + headHigh
		p.SetFont("go", "", 7.5)
		for i, o := range operations {
			x := margin + nameWide + (float64(i)+0.65)*columnWide
			p.TransformBegin()
			p.TransformRotate(90, x, top-1)
			p.Text(x, top-1, cutTo(p.Fpdf, p.words(o.Title), headHigh-2))
			p.TransformEnd()
		}
		return top
	}
	y := head()
	for n, b := range s.Boards {
		if y+lineHigh > high-margin-2 {
			y = head()
		}
		p.SetFont("go", "", 8.8)
		p.Text(margin, y+lineHigh-2.2, cutTo(p.Fpdf, fmt.Sprintf("%d. %s", n+1, b.Name), nameWide-2))
		p.SetLineWidth(0.1)
		p.Line(margin, y+lineHigh, margin+nameWide+float64(len(operations))*columnWide, y+lineHigh)
		for i, o := range operations {
			for _, c := range o.Cells {
				if c.Subject.ID == b.ID {
					tick(p.Fpdf, margin+nameWide+(float64(i)+0.5)*columnWide-1.8, y+1.6, c.State)
				}
			}
		}
		y += lineHigh
	}
	p.SetY(y + 2)
}

// tick is the box of a step: empty, half crossed while it is in hand or dries, crossed when it is done.
func tick(p *fpdf.Fpdf, x, y float64, state string) {
	const side = 3.6
	p.SetLineWidth(0.25)
	p.Rect(x, y, side, side, "D")
	if state == run.Done || state == run.Drying || state == run.InHand {
		p.Line(x, y+side, x+side, y)
	}
	if state == run.Done {
		p.Line(x, y, x+side, y+side)
	}
}
