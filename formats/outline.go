package formats

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"

	"github.com/tdewolff/canvas"

	"idletimber/craft/geom"
)

// Outline is a closed line read from a file, in mm, y up.
type Outline struct {
	Name string // id or layer in the file
	Ring geom.Ring
}

// What bounds a drawing that is read.
const (
	MostDrawingBytes = 10 << 20
	mostPoints       = 100_000
	mostOutlines     = 500
	mostDepth        = 64
	flatness         = 0.002 // mm that a curve may stray
)

var errTooMany = fmt.Errorf("the drawing has more than %d points: simplify it in the program that drew it", mostPoints)

// ReadOutlines reads the closed lines of an SVG or an ASCII DXF file, the
// largest first. Units are respected: those of the viewport in SVG, $INSUNITS in
// DXF, else millimetres.
func ReadOutlines(data []byte) (out []Outline, err error) {
	defer func() { // the path reader is not ours
		if p := recover(); p != nil {
			out, err = nil, fmt.Errorf("the drawing cannot be read: %v", p)
		}
	}()
	if len(data) > MostDrawingBytes {
		return nil, fmt.Errorf("the file has %d MB; a drawing may have up to %d", len(data)>>20, MostDrawingBytes>>20)
	}
	head := bytes.TrimLeft(bytes.TrimPrefix(data, []byte("\xef\xbb\xbf")), " \t\r\n")
	switch {
	case bytes.Contains(head[:min(len(head), 24)], []byte("Binary DXF")):
		return nil, errors.New("this is a binary DXF: save it as ASCII DXF")
	case bytes.HasPrefix(head, []byte("<")):
		out, err = readSVG(data)
	case len(head) > 0 && (head[0] == '0' || head[0] == '9'):
		out, err = readDXF(data)
	default:
		return nil, errors.New("this is no SVG and no ASCII DXF file")
	}
	if err != nil {
		return nil, err
	}
	kept := out[:0]
	points := 0
	for _, o := range out {
		points += len(o.Ring)
		for _, p := range o.Ring {
			if math.IsNaN(p.X+p.Y) || math.Abs(p.X) > farthest || math.Abs(p.Y) > farthest {
				return nil, errFar
			}
		}
		if len(o.Ring) > 2 && o.Ring.Area() > 1 {
			kept = append(kept, o)
		}
	}
	switch {
	case points > mostPoints:
		return nil, errTooMany
	case len(kept) == 0:
		return nil, errors.New("no closed line was found: close the outline in the program that drew it")
	case len(kept) > mostOutlines:
		return nil, fmt.Errorf(
			"the drawing has %d closed lines; up to %d are read: take the others out",
			len(kept),
			mostOutlines,
		)
	}
	for i := range kept { // the largest first
		for k := i; k > 0 && kept[k].Ring.Area() > kept[k-1].Ring.Area(); k-- {
			kept[k], kept[k-1] = kept[k-1], kept[k]
		}
	}
	return kept, nil
}

// pixel is the CSS pixel, mm.
const pixel = 25.4 / 96

var svgUnits = map[string]float64{
	"":   pixel,
	"px": pixel,
	"mm": 1,
	"cm": 10,
	"in": 25.4,
	"pt": 25.4 / 72,
	"pc": 25.4 / 6,
	"q":  0.25,
}

// svgLength reads a length with its unit, mm.
func svgLength(text string) (float64, bool) {
	text = strings.ToLower(strings.TrimSpace(text))
	i := strings.LastIndexAny(text, "0123456789.") + 1
	v, err := strconv.ParseFloat(text[:i], 64)
	unit, ok := svgUnits[text[i:]]
	return v * unit, err == nil && ok && v > 0
}

// readSVG walks the elements with their transforms.
func readSVG(data []byte) ([]Outline, error) {
	dec := xml.NewDecoder(bytes.NewReader(data))
	dec.Strict = true
	dec.CharsetReader = func(label string, in io.Reader) (io.Reader, error) { return in, nil }
	var out []Outline
	var stack []canvas.Matrix
	skip, points, seen := 0, 0, false
	for {
		token, err := dec.Token()
		if err == io.EOF {
			break
		}
		if err != nil {
			return nil, fmt.Errorf("the SVG is damaged or cut short: %w", err)
		}
		switch t := token.(type) {
		case xml.StartElement:
			if len(stack) > mostDepth {
				return nil, fmt.Errorf("the SVG nests more than %d deep", mostDepth)
			}
			attr := map[string]string{}
			for _, a := range t.Attr {
				attr[a.Name.Local] = a.Value
			}
			at := canvas.Identity.Scale(pixel, -pixel) // y down, in px
			if len(stack) > 0 {
				at = stack[len(stack)-1]
			}
			switch t.Name.Local {
			case "svg":
				seen = true
				if len(stack) == 0 {
					at = viewport(attr)
				}
			case "defs", "clipPath", "mask", "symbol", "marker", "pattern":
				skip++
			}
			if m, ok := transform(attr["transform"]); ok {
				at = at.Mul(m)
			}
			stack = append(stack, at)
			if skip > 0 {
				continue
			}
			path, err := shape(t.Name.Local, attr)
			if err != nil {
				return nil, err
			}
			if path == nil {
				continue
			}
			rings, err := closed(path.Transform(at))
			if err != nil {
				return nil, err
			}
			for i, ring := range rings {
				if points += len(ring); points > mostPoints {
					return nil, errTooMany
				}
				name := attr["id"]
				if i > 0 {
					name = fmt.Sprintf("%s %d", name, i+1)
				}
				out = append(out, Outline{name, ring})
			}
		case xml.EndElement:
			stack = stack[:len(stack)-1]
			switch t.Name.Local {
			case "defs", "clipPath", "mask", "symbol", "marker", "pattern":
				skip--
			}
		}
	}
	if !seen {
		return nil, errors.New("this is no SVG file")
	}
	return out, nil
}

// viewport carries the user units of an svg element to mm, y up.
func viewport(attr map[string]string) canvas.Matrix {
	box := numbers(attr["viewBox"])
	sx, sy := pixel, pixel
	if len(box) == 4 && box[2] > 0 && box[3] > 0 {
		w, okW := svgLength(attr["width"])
		h, okH := svgLength(attr["height"])
		switch {
		case okW && okH: // the whole box is shown, as large as fits
			sx = min(w/box[2], h/box[3])
			sy = sx
			if attr["preserveAspectRatio"] == "none" {
				sx, sy = w/box[2], h/box[3]
			}
		case okW:
			sx, sy = w/box[2], w/box[2]
		case okH:
			sx, sy = h/box[3], h/box[3]
		}
	}
	return canvas.Identity.Scale(sx, -sy)
}

func numbers(text string) (out []float64) {
	for _, f := range strings.FieldsFunc(text,
		func(r rune) bool { return r == ',' || r == ' ' || r == '\t' || r == '\n' || r == '\r' }) {
		v, err := strconv.ParseFloat(f, 64)
		if err != nil {
			return nil
		}
		out = append(out, v)
	}
	return out
}

// transform reads the transform attribute.
func transform(text string) (canvas.Matrix, bool) {
	m := canvas.Identity
	for strings.TrimSpace(text) != "" {
		open, shut := strings.IndexByte(text, '('), strings.IndexByte(text, ')')
		if open < 0 || shut < open {
			return m, false
		}
		name := strings.Trim(text[:open], " ,\t\r\n")
		v := numbers(text[open+1 : shut])
		text = text[shut+1:]
		arg := func(i int, usual float64) float64 {
			if i < len(v) {
				return v[i]
			}
			return usual
		}
		switch name {
		case "matrix":
			if len(v) != 6 {
				return m, false
			}
			m = m.Mul(canvas.Matrix{{v[0], v[2], v[4]}, {v[1], v[3], v[5]}})
		case "translate":
			m = m.Translate(arg(0, 0), arg(1, 0))
		case "scale":
			m = m.Scale(arg(0, 1), arg(1, arg(0, 1)))
		case "rotate":
			m = m.RotateAbout(arg(0, 0), arg(1, 0), arg(2, 0))
		case "skewX":
			m = m.Shear(math.Tan(arg(0, 0)*math.Pi/180), 0)
		case "skewY":
			m = m.Shear(0, math.Tan(arg(0, 0)*math.Pi/180))
		default:
			return m, false
		}
	}
	return m, true
}

// shape is an element as a path in user units; nil when it draws no line.
func shape(name string, attr map[string]string) (*canvas.Path, error) {
	num := func(key string) float64 {
		v, _ := strconv.ParseFloat(strings.TrimSuffix(strings.TrimSpace(attr[key]), "px"), 64)
		return v
	}
	switch name {
	case "path":
		if len(attr["d"]) > 40*mostPoints {
			return nil, errTooMany
		}
		p, err := canvas.ParseSVGPath(attr["d"])
		if err != nil {
			return nil, fmt.Errorf("a path cannot be read: %w", err)
		}
		return p, nil
	case "polygon", "polyline":
		v := numbers(attr["points"])
		if len(v) < 6 || len(v)%2 != 0 || len(v) > 2*mostPoints {
			return nil, nil
		}
		p := &canvas.Path{}
		for i := 0; i < len(v); i += 2 {
			if i == 0 {
				p.MoveTo(v[0], v[1])
			} else {
				p.LineTo(v[i], v[i+1])
			}
		}
		if name == "polygon" {
			p.Close()
		}
		return p, nil
	case "rect":
		if w, h := num("width"), num("height"); w > 0 && h > 0 {
			return canvas.RoundedRectangle(w, h, min(num("rx"), w/2, h/2)).Translate(num("x"), num("y")), nil
		}
	case "circle":
		if r := num("r"); r > 0 {
			return oval(num("cx"), num("cy"), r, r), nil
		}
	case "ellipse":
		if rx, ry := num("rx"), num("ry"); rx > 0 && ry > 0 {
			return oval(num("cx"), num("cy"), rx, ry), nil
		}
	}
	return nil, nil
}

// oval is an ellipse of straight lines, so many that none of a board's size
// strays by more than a few microns; the curves that stand for ellipses
// elsewhere stray by a thousandth of their radius.
func oval(cx, cy, rx, ry float64) *canvas.Path {
	const n = 720
	p := &canvas.Path{}
	for i := range n {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / n)
		if i == 0 {
			p.MoveTo(cx+rx*cos, cy+ry*sin)
		} else {
			p.LineTo(cx+rx*cos, cy+ry*sin)
		}
	}
	p.Close()
	return p
}

// What bounds a path before its curves are cut into lines.
const (
	farthest   = 20_000 // mm, from the origin
	mostCurves = 5000   // more are cut more coarsely
	meets      = 0.01   // mm between a line's end and its beginning that count as closed
)

var errFar = errors.New("a line runs off to infinity, or beyond 20 m: check the file's units")

// closed are the parts of a path that end where they began.
func closed(p *canvas.Path) (out []geom.Ring, err error) {
	for _, part := range p.Split() {
		c := part.Coords()
		if b := part.FastBounds(); !(max(-b.X0, b.X1, -b.Y0, b.Y1) < farthest) {
			return nil, errFar
		}
		if !part.Closed() && (len(c) < 4 || math.Hypot(c[0].X-c[len(c)-1].X, c[0].Y-c[len(c)-1].Y) > meets) {
			continue
		}
		coarser := max(1, float64(len(c))/mostCurves)
		rings, ok := geom.FlattenUpTo(part, flatness*coarser*coarser, mostPoints)
		if !ok {
			return nil, errTooMany
		}
		out = append(out, rings...)
	}
	return out, nil
}

// OutlineFile is what an outline file holds besides its line.
type OutlineFile struct {
	Name  string
	Rings map[string]geom.Ring // by layer
	Order []string
}

// SVG writes outlines to scale, 1:1, in mm.
func (f OutlineFile) SVG() []byte {
	box := geom.Bounds{MinX: math.Inf(1), MinY: math.Inf(1), MaxX: math.Inf(-1), MaxY: math.Inf(-1)}
	for _, r := range f.Rings {
		b := r.Bounds()
		box = geom.Bounds{
			MinX: min(box.MinX, b.MinX),
			MinY: min(box.MinY, b.MinY),
			MaxX: max(box.MaxX, b.MaxX),
			MaxY: max(box.MaxY, b.MaxY),
		}
	}
	var out bytes.Buffer
	w, h := box.MaxX-box.MinX, box.MaxY-box.MinY
	fmt.Fprintf(
		&out,
		`<svg xmlns="http://www.w3.org/2000/svg" width="%.4fmm" height="%.4fmm" viewBox="%.4f %.4f %.4f %.4f"><title>`,
		w,
		h,
		box.MinX,
		-box.MaxY,
		w,
		h,
	)
	_ = xml.EscapeText(&out, []byte(f.Name)) // a buffer takes all
	out.WriteString("</title>\n")
	for _, name := range f.Order {
		fmt.Fprintf(&out, `<path id="%s" fill="none" stroke="#000" stroke-width="0.2" d="`, name)
		for i, p := range f.Rings[name] {
			fmt.Fprintf(&out, "%c%.4f %.4f", "ML"[min(i, 1)], p.X, -p.Y)
		}
		out.WriteString("z\"/>\n")
	}
	out.WriteString("</svg>\n")
	return out.Bytes()
}
