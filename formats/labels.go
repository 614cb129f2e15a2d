package formats

import (
	"bytes"
	"fmt"
	"image/png"

	"codeberg.org/go-pdf/fpdf"
	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/qr"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"

	"idletimber/craft/geom"
	"idletimber/craft/measure"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
)

// Label is what is stuck on a piece or tied to a board: a silhouette over its name and a few lines, and a code.
type Label struct {
	Title string
	Lines []string // at most three
	Shape geom.Ring
	Link  string // opens its page
}

// BoardLabel is the label of a board with an outline as SVG path data.
func BoardLabel(name, path, link string, lines ...string) Label {
	l := Label{Title: name, Lines: lines, Link: link}
	for _, r := range rings(path) {
		if l.Shape == nil || r.Area() > l.Shape.Area() {
			l.Shape = r
		}
	}
	return l
}

// LabelOf is the label of a piece of the rack: species, size, moisture.
func LabelOf(piece slab.Slab, units measure.Unit, link string) Label {
	show := func(mm float64) string { return measure.Format(mm, units) }
	ring := slab.Draw(piece, nil).Show.Ring()
	box := ring.Bounds()
	moist := "moisture not read"
	if m, ok := last(piece); ok {
		moist = fmt.Sprintf("%.1f %% on %s", m.Value(), m.At.Format("2 Jan 2006"))
		if m.Below {
			moist = "below the meter's range on " + m.At.Format("2 Jan 2006")
		}
	}
	size := fmt.Sprintf("%s × %s × %s", show(piece.Length), show(box.MaxY-box.MinY), show(piece.Thinnest()))
	return Label{piece.Name, []string{piece.Species, size, moist}, ring, link}
}

// The label sheet: two columns of five, mm.
const (
	labelColumns = 2
	labelRows    = 5
	labelGap     = 3.0
)

// Labels writes a PDF sheet of labels on the shop's paper, each with a QR code that opens its page.
func Labels(at shop.Shop, labels []Label) ([]byte, error) {
	p := fpdf.New("P", "mm", at.Paper, "")
	p.AddUTF8FontFromBytes("go", "", goregular.TTF)
	p.AddUTF8FontFromBytes("go", "B", gobold.TTF)
	p.SetAutoPageBreak(false, 0)
	p.SetTitle("Labels, "+at.Name, true)
	width, height := p.GetPageSize()
	w := (width - 2*margin - (labelColumns-1)*labelGap) / labelColumns
	h := (height - 2*margin - (labelRows-1)*labelGap) / labelRows
	for i, l := range labels {
		n := i % (labelColumns * labelRows)
		if n == 0 {
			p.AddPage()
		}
		x := margin + float64(n%labelColumns)*(w+labelGap)
		y := margin + float64(n/labelColumns)*(h+labelGap)
		if err := label(p, l, fmt.Sprintf("qr%d", i),
			geom.Bounds{MinX: x, MinY: y, MaxX: x + w, MaxY: y + h}); err != nil {
			return nil, err
		}
	}
	var out bytes.Buffer
	if err := p.Output(&out); err != nil {
		return nil, fmt.Errorf("write the labels: %w", err)
	}
	return out.Bytes(), nil
}

func label(p *fpdf.Fpdf, l Label, name string, box geom.Bounds) error {
	const pad, code = 3.0, 22.0
	p.SetDrawColor(170, 160, 140)
	p.SetLineWidth(0.2)
	p.Rect(box.MinX, box.MinY, box.MaxX-box.MinX, box.MaxY-box.MinY, "D")
	img, err := qr.Encode(l.Link, qr.M, qr.Auto)
	if err != nil {
		return fmt.Errorf("the link %q does not fit a QR code: %w", l.Link, err)
	}
	if img, err = barcode.Scale(img, 300, 300); err != nil {
		return err
	}
	var pic bytes.Buffer
	if err := png.Encode(&pic, img); err != nil {
		return err
	}
	options := fpdf.ImageOptions{ImageType: "PNG"}
	p.RegisterImageOptionsReader(name, options, &pic)
	p.ImageOptions(name, box.MaxX-pad-code, box.MaxY-pad-code, code, code, false, options, 0, "")

	text := func(y, size float64, style, s string) {
		p.SetFont("go", style, size)
		room := box.MaxX - box.MinX - 2*pad - code - 2
		p.SetXY(box.MinX+pad, y)
		p.CellFormat(room, 4.5, cutTo(p, s, room), "", 0, "L", false, 0, "")
	}
	y := box.MaxY - pad - 22
	text(y, 11, "B", l.Title)
	for i, line := range l.Lines {
		text(y+5.5+5*float64(i), 9, "", line)
	}

	if len(l.Shape) == 0 {
		return p.Error()
	}
	// The silhouette fills what is left above.
	room := geom.Bounds{MinX: box.MinX + pad, MinY: box.MinY + pad, MaxX: box.MaxX - pad, MaxY: y - 1}
	ring, rb := l.Shape, l.Shape.Bounds()
	scale := min((room.MaxX-room.MinX)/(rb.MaxX-rb.MinX), (room.MaxY-room.MinY)/(rb.MaxY-rb.MinY))
	left := room.MinX + ((room.MaxX-room.MinX)-(rb.MaxX-rb.MinX)*scale)/2
	mid := (room.MinY + room.MaxY) / 2
	points := make([]fpdf.PointType, 0, len(ring))
	for _, q := range ring.Simplified(0.2 / scale) {
		points = append(points, fpdf.PointType{X: left + (q.X-rb.MinX)*scale, Y: mid - (q.Y-(rb.MinY+rb.MaxY)/2)*scale})
	}
	p.SetDrawColor(34, 48, 43)
	p.SetFillColor(240, 230, 208)
	p.SetLineWidth(0.3)
	p.Polygon(points, "DF")
	return p.Error()
}
