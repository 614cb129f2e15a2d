package formats

import (
	"bytes"
	"fmt"
	"image/color"
	"image/png"
	"slices"
	"strings"

	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/qr"
	"github.com/tdewolff/canvas"
	"github.com/tdewolff/canvas/renderers/pdf"
	"github.com/tdewolff/canvas/renderers/rasterizer"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"

	"idletimber/craft/geom"
	"idletimber/craft/giving"
	"idletimber/craft/measure"
)

// GiftCard is what is printed to go with a board.
type GiftCard struct {
	Title  string // the board's name, or whom it is for
	For    string
	By     string
	Wood   string // "pear"
	Size   string // length × width × thickness, in the shop's unit
	Weight string
	Price  string // of a listing sheet; empty without one
	Lines  []giving.Line
	Path   string // outline as SVG path data
	Holes  []string
	Light  string // colour of its wood, #rrggbb
	Dark   string
	Link   string // of its care page; empty while it has none
	Units  measure.System
}

// CardKind is a kind of print.
type CardKind string

// The kinds of prints.
const (
	FoldedCard  CardKind = "card"    // A6, folded once: two pages of A5
	FlatCard    CardKind = "flat"    // A6, all on one side
	FlatCards   CardKind = "cards"   // the same, two on a page across
	TagCard     CardKind = "tag"     // A7, with a hole
	TagCards    CardKind = "tags"    // the same, four on a page
	ListingCard CardKind = "listing" // for a sale, a page
)

// CardKinds lists the kinds of prints.
var CardKinds = []CardKind{FoldedCard, FlatCard, FlatCards, TagCard, TagCards, ListingCard}

// The sizes of paper, mm.
const (
	a5Long, a5Short = 210.0, 148.0
	a6Long, a6Short = 148.0, 105.0
	a7Long, a7Short = 105.0, 74.0
)

var (
	cardInk   = color.RGBA{34, 48, 43, 255}
	cardQuiet = color.RGBA{92, 84, 70, 255}
	cardRule  = color.RGBA{208, 138, 44, 255}
	cardFonts = goFonts()
)

func goFonts() *canvas.FontFamily {
	f := canvas.NewFontFamily("go")
	fonts := map[canvas.FontStyle][]byte{canvas.FontRegular: goregular.TTF, canvas.FontBold: gobold.TTF}
	for style, data := range fonts {
		if err := f.LoadFont(data, 0, style); err != nil {
			panic(err) // it is part of the program
		}
	}
	return f
}

// Cards writes prints of one kind for some boards as PDF, on the shop's paper where several go on a page: A4 or
// Letter.
func Cards(kind CardKind, paper string, cards []GiftCard) ([]byte, error) {
	pages, err := cardPages(kind, paper, cards)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	doc := pdf.New(&out, pages[0].W, pages[0].H, nil)
	title := cards[0].Title
	if len(cards) > 1 {
		title = fmt.Sprintf("%d boards", len(cards))
	}
	doc.SetInfo(title, "", "", "", "Idle Timber")
	for i, c := range pages {
		if i > 0 {
			doc.NewPage(c.W, c.H)
		}
		c.RenderTo(doc)
	}
	if err := doc.Close(); err != nil {
		return nil, fmt.Errorf("write the cards: %w", err)
	}
	return out.Bytes(), nil
}

// CardPNG draws the first page of a print at 12 pixels a millimetre.
func CardPNG(kind CardKind, paper string, card GiftCard) ([]byte, error) {
	const dots = 12
	pages, err := cardPages(kind, paper, []GiftCard{card})
	if err != nil {
		return nil, err
	}
	img := rasterizer.Draw(pages[0], canvas.DPMM(dots), canvas.DefaultColorSpace)
	var out bytes.Buffer
	err = png.Encode(&out, img)
	return out.Bytes(), err
}

// cardPages are the pages of a print.
func cardPages(kind CardKind, paper string, cards []GiftCard) (pages []*canvas.Canvas, err error) {
	if len(cards) == 0 {
		return nil, fmt.Errorf("there is no board to print a card for")
	}
	wide, high := 210.0, 297.0
	if paper == "Letter" {
		wide, high = 215.9, 279.4
	}
	switch kind {
	case FoldedCard:
		for _, c := range cards {
			outside, inside := newCard(a5Long, a5Short), newCard(a5Long, a5Short)
			c.back(outside.at(0, 0, a6Short, a6Long))
			c.front(outside.at(a6Short, 0, a6Short, a6Long))
			c.inside(inside)
			pages = append(pages, outside.page, inside.page)
		}
	case FlatCard:
		for _, c := range cards {
			p := newCard(a6Short, a6Long)
			c.flat(p)
			pages = append(pages, p.page)
		}
	case TagCard:
		for _, c := range cards {
			p := newCard(a7Short, a7Long)
			c.tag(p)
			pages = append(pages, p.page)
		}
	case FlatCards:
		pages = several(high, wide, a6Short, a6Long, cards, GiftCard.flat)
	case TagCards:
		pages = several(wide, high, a7Short, a7Long, cards, GiftCard.tag)
	case ListingCard:
		for _, c := range cards {
			p := newCard(wide, high)
			c.listing(p)
			pages = append(pages, p.page)
		}
	default:
		return nil, fmt.Errorf("%q is no kind of print", kind)
	}
	return pages, nil
}

// several lays prints of one size on pages, with marks to cut them by.
func several(wide, high, w, h float64, cards []GiftCard, draw func(GiftCard, place)) (pages []*canvas.Canvas) {
	columns, rows := int(wide/w), int(high/h)
	left, low := (wide-float64(columns)*w)/2, (high-float64(rows)*h)/2
	var page place
	for i, c := range cards {
		n := i % (columns * rows)
		if n == 0 {
			page = newCard(wide, high)
			pages = append(pages, page.page)
		}
		at := page.at(left+float64(n%columns)*w, low+float64(rows-1-n/columns)*h, w, h)
		at.rect(0, 0, w, h, nil, color.RGBA{200, 194, 180, 255}, 0.15)
		draw(c, at)
	}
	return pages
}

// place is a part of a page, its own corner at the lower left, mm.
type place struct {
	page       *canvas.Canvas
	ctx        *canvas.Context
	x, y, w, h float64
}

func newCard(w, h float64) place {
	c := canvas.New(w, h)
	p := place{page: c, ctx: canvas.NewContext(c), w: w, h: h}
	p.rect(0, 0, w, h, color.White, nil, 0)
	return p
}

func (p place) at(x, y, w, h float64) place { return place{p.page, p.ctx, p.x + x, p.y + y, w, h} }

func (p place) rect(x, y, w, h float64, fill, stroke color.Color, width float64) {
	p.paint(canvas.Rectangle(w, h), x, y, fill, stroke, width)
}

func (p place) paint(path *canvas.Path, x, y float64, fill, stroke color.Color, width float64) {
	p.ctx.SetFill(canvas.Transparent)
	if fill != nil {
		p.ctx.SetFill(fill)
	}
	p.ctx.SetStroke(canvas.Transparent)
	if stroke != nil {
		p.ctx.SetStroke(stroke)
	}
	p.ctx.SetStrokeWidth(width)
	p.ctx.DrawPath(p.x+x, p.y+y, path)
}

// text writes words into a width, their top at a height, and returns how high they are, mm.
func (p place) text(
	x, top, width, size float64,
	bold bool,
	ink color.Color,
	align canvas.TextAlign,
	s string,
) float64 {
	box := boxed(width, size, bold, ink, align, s)
	p.ctx.DrawText(p.x+x, p.y+top, box)
	_, h := box.Heights()
	return h
}

func boxed(width, size float64, bold bool, ink color.Color, align canvas.TextAlign, s string) *canvas.Text {
	style := canvas.FontRegular
	if bold {
		style = canvas.FontBold
	}
	face := cardFonts.Face(size, ink, style, canvas.FontNormal)
	return canvas.NewTextBox(face, broken(face, s, width), width, 0, align, canvas.Top, nil)
}

// broken puts room to break into words that are wider than what they are written into.
func broken(face *canvas.FontFace, s string, width float64) string {
	words := strings.Fields(s)
	for i, w := range words {
		if face.TextWidth(w) <= width {
			continue
		}
		var out, line strings.Builder
		for _, r := range w {
			if face.TextWidth(line.String()+string(r)) > 0.96*width {
				out.WriteString(line.String() + "\n")
				line.Reset()
			}
			line.WriteRune(r)
		}
		words[i] = out.String() + line.String()
	}
	return strings.Join(words, " ")
}

// lines writes lines one below the other into a height, as large as they fit, each with a little room after it. It
// returns the height that is left.
func (p place) lines(x, top, width, height, most float64, all []string) float64 {
	const least = 4.5 // pt, which can just be read
	size := most
	for ; size > least; size -= 0.25 {
		if p.measure(width, size, all) <= height {
			break
		}
	}
	y := top
	for _, s := range all {
		y -= p.text(x, y, width, size, false, cardInk, canvas.Left, s) + size*0.16
	}
	return y
}

func (p place) measure(width, size float64, all []string) (sum float64) {
	for _, s := range all {
		_, h := boxed(width, size, false, cardInk, canvas.Left, s).Heights()
		sum += h + size*0.16
	}
	return sum
}

// title writes a name as large as it fits into two lines, and returns the height below it.
func (p place) title(x, top, width, most float64, align canvas.TextAlign, s string) float64 {
	size := most
	for size > 7 && boxed(width, size, true, cardInk, align, s).Lines() > 2 {
		size -= 0.5
	}
	return top - p.text(x, top, width, size, true, cardInk, align, s)
}

// board draws the board in the middle of a box, as large as it fits.
func (c GiftCard) board(p place, x, y, w, h float64) {
	outline := geom.Largest(rings(c.Path))
	if len(outline) < 3 {
		return
	}
	box := outline.Bounds()
	long, across := box.MaxX-box.MinX, box.MaxY-box.MinY
	if (long > across) != (w > h) { // it lies the other way
		c.Path, c.Holes = quarterTurned(c.Path), slices.Clone(c.Holes)
		for i, hole := range c.Holes {
			c.Holes[i] = quarterTurned(hole)
		}
		outline = geom.Largest(rings(c.Path))
		box = outline.Bounds()
		long, across = box.MaxX-box.MinX, box.MaxY-box.MinY
	}
	scale := min(w/long, h/across)
	shape := &canvas.Path{}
	for _, path := range append([]string{c.Path}, c.Holes...) {
		for _, q := range parsed(path) {
			shape = shape.Append(q)
		}
	}
	shape = shape.Transform(
		canvas.Identity.Scale(scale, scale).Translate(-(box.MinX+box.MaxX)/2, -(box.MinY+box.MaxY)/2),
	)
	p.ctx.SetFillRule(canvas.EvenOdd)
	p.paint(shape, x+w/2, y+h/2, hex(c.Light), hex(c.Dark), 0.5)
	p.ctx.SetFillRule(canvas.NonZero)
}

// quarterTurned is SVG path data turned by a quarter.
func quarterTurned(path string) string {
	out := &canvas.Path{}
	for _, q := range parsed(path) {
		out = out.Append(q.Transform(canvas.Identity.Rotate(90)))
	}
	return out.ToSVG()
}

// hex is a colour written #rrggbb; a wood's where it is not.
func hex(s string) color.RGBA {
	var r, g, b uint8
	if n, err := fmt.Sscanf(s, "#%02x%02x%02x", &r, &g, &b); err != nil || n != 3 {
		return color.RGBA{216, 190, 150, 255}
	}
	return color.RGBA{r, g, b, 255}
}

// code draws the QR code of its link, with what it leads to.
func (c GiftCard) code(p place, x, y, side float64) {
	if c.Link == "" {
		return
	}
	grid, err := qr.Encode(c.Link, qr.M, qr.Auto)
	if err != nil {
		return // it is longer than a code holds: the card stands without
	}
	p.modules(grid, x, y, side)
}

// modules draws the dark squares of a code as one path, so that it stays sharp.
func (p place) modules(code barcode.Barcode, x, y, side float64) {
	box := code.Bounds()
	n := box.Dx()
	one := side / float64(n)
	path := &canvas.Path{}
	for row := range n {
		for col := 0; col < n; col++ {
			from := col
			for col < n && dark(code.At(box.Min.X+col, box.Min.Y+row)) {
				col++
			}
			if col > from {
				path = path.Append(canvas.Rectangle(float64(col-from)*one, one).
					Translate(float64(from)*one, side-float64(row+1)*one))
			}
		}
	}
	p.rect(x-one, y-one, side+2*one, side+2*one, color.White, nil, 0)
	p.paint(path, x, y, color.Black, nil, 0)
}

func dark(c color.Color) bool {
	r, _, _, _ := c.RGBA()
	return r < 0x8000
}

// texts are the lines that stand on the card, in its units; of some keys, or all of them.
func (c GiftCard) texts(has func(key string) bool) (out []string) {
	for _, l := range c.Lines {
		if !l.Out && strings.TrimSpace(l.Text) != "" && (has == nil || has(l.Key)) {
			out = append(out, measure.Text(l.Text, c.Units))
		}
	}
	return out
}

// story tells of lines about the wood; all others are about how it is kept.
func story(key string) bool {
	return key == giving.NoteLine || key == "wood" || key == "story" || key == "elsewhere" || key == "colour" ||
		key == "purpose"
}

func care(key string) bool { return !story(key) }

// short are the lines that go on a tag.
func short(key string) bool {
	return strings.HasPrefix(key, "wash") || key == "wood" || key == "food" || key == "nut" || key == "oil" ||
		key == "oil-cured" || key == "joints"
}

const cardPad = 9.0

// front is the front of a folded card: the board, and whom it is for.
func (c GiftCard) front(p place) {
	w := p.w - 2*cardPad
	y := p.h - cardPad - 2
	if c.For != "" {
		y -= p.text(cardPad, y, w, 9, false, cardQuiet, canvas.Center, "for")
		y = p.title(cardPad, y-1, w, 20, canvas.Center, c.For)
	} else {
		y = p.title(cardPad, y, w, 20, canvas.Center, c.Title)
	}
	foot := p.text(cardPad, cardPad+5, w, 9, false, cardQuiet, canvas.Center, c.Wood)
	p.rect(p.w/2-10, cardPad+8+foot/2, 20, 0.4, cardRule, nil, 0)
	c.board(p, cardPad, cardPad+14, w, max(20, y-cardPad-20))
}

// back is the back of a folded card: who made the board, and the code.
func (c GiftCard) back(p place) {
	const side = 24
	w := p.w - 2*cardPad
	y := cardPad + 8.0
	if c.By != "" {
		p.text(cardPad, y, w, 8.5, false, cardQuiet, canvas.Center, "made by "+c.By)
	}
	if c.Link != "" {
		c.code(p, p.w/2-side/2, y+14, side)
		p.text(cardPad, y+11, w, 7.5, false, cardQuiet, canvas.Center, "how to keep it, and when to oil it")
	}
}

// inside is the inside of a folded card: the wood and its story at the left, its care at the right.
func (c GiftCard) inside(p place) {
	half := p.w / 2
	w := half - 2*cardPad
	left := p.at(0, 0, half, p.h)
	y := left.title(cardPad, p.h-cardPad, w, 15, canvas.Left, c.Title)
	y -= left.text(cardPad, y-1, w, 8.5, false, cardQuiet, canvas.Left, c.Size) + 5
	left.lines(cardPad, y, w, y-cardPad, 12, c.texts(story))
	right := p.at(half, 0, half, p.h)
	right.rect(0, cardPad, 0.2, p.h-2*cardPad, color.RGBA{220, 212, 196, 255}, nil, 0)
	right.lines(cardPad, p.h-cardPad, w, p.h-2*cardPad, 12, c.texts(care))
}

// flat is a card that is not folded: all on one side.
func (c GiftCard) flat(p place) {
	const side = 20
	w := p.w - 2*cardPad
	y := p.h - cardPad
	name := c.Title
	if c.For != "" {
		name = "for " + c.For
	}
	y = p.title(cardPad, y, w, 15, canvas.Left, name)
	c.board(p, cardPad, y-26, w, 23)
	y -= 29
	low := cardPad
	if c.Link != "" {
		c.code(p, p.w-cardPad-side, cardPad, side)
		low += side + 2
	}
	if c.By != "" {
		p.text(cardPad, cardPad+8, w-side-4, 7.5, false, cardQuiet, canvas.Left, "made by "+c.By)
	}
	p.lines(cardPad, y, w, y-low, 8.5, c.texts(nil))
}

// tag is an A7 tag with a hole for the cord.
func (c GiftCard) tag(p place) {
	const side, pad, hole = 17, 6.0, 2.5
	p.paint(canvas.Circle(hole), p.w/2, p.h-8, nil, cardQuiet, 0.3)
	w := p.w - 2*pad
	y := p.h - 14.0
	if c.For != "" {
		y -= p.text(pad, y, w, 7.5, false, cardQuiet, canvas.Center, "for")
		y = p.title(pad, y, w, 13, canvas.Center, c.For)
	} else {
		y = p.title(pad, y, w, 13, canvas.Center, c.Title)
	}
	low := pad
	if c.Link != "" {
		c.code(p, p.w-pad-side, pad, side)
		p.text(pad, pad+8, w-side-3, 6.5, false, cardQuiet, canvas.Left, "how to keep it, and when to oil it")
		low += side + 2
	}
	if c.By != "" {
		p.text(pad, pad+side-2, w-side-3, 6.5, false, cardQuiet, canvas.Left, "made by "+c.By)
		if c.Link == "" {
			low += 8
		}
	}
	p.lines(pad, y-3, w, y-3-low, 8.5, c.texts(short))
}

// listing is a sheet for a sale: the board, its size, weight, wood and finish, what it costs, how it is kept.
func (c GiftCard) listing(p place) {
	const pad, side = 18.0, 28.0
	w := p.w - 2*pad
	y := p.title(pad, p.h-pad, w, 26, canvas.Left, c.Title)
	facts := []string{}
	for _, s := range []string{c.Wood, c.Size, c.Weight} {
		if s != "" {
			facts = append(facts, s)
		}
	}
	y -= p.text(pad, y-2, w, 12, false, cardQuiet, canvas.Left, strings.Join(facts, "  ·  ")) + 8
	c.board(p, pad, y-82, w, 80)
	y -= 90
	if c.Price != "" {
		y -= p.text(pad, y, w, 20, true, cardInk, canvas.Left, c.Price) + 4
	}
	p.rect(pad, y, w, 0.4, cardRule, nil, 0)
	low := pad
	if c.Link != "" {
		c.code(p, p.w-pad-side, pad, side)
		low += side + 4
	}
	if c.By != "" {
		p.text(pad, pad+5, w-side-4, 9, false, cardQuiet, canvas.Left, "made by "+c.By)
	}
	p.lines(pad, y-5, w, y-5-low, 12, c.texts(nil))
}
