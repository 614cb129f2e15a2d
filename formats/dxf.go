package formats

import (
	"bufio"
	"bytes"
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"

	"idletimber/craft/geom"
)

// dxfUnits are millimetres by the number of $INSUNITS; 0 has none and counts as mm.
var dxfUnits = map[int]float64{
	0:  1,
	1:  25.4,
	2:  304.8,
	4:  1,
	5:  10,
	6:  1000,
	8:  25.4e-6,
	9:  0.0254,
	10: 914.4,
	13: 1e-3,
	14: 100,
}

// pair is a group of a DXF file: its code and its value.
type pair struct {
	code  int
	value string
}

func (p pair) float() float64 {
	v, err := strconv.ParseFloat(p.value, 64)
	if err != nil {
		return math.NaN()
	}
	return v
}

// entity is one thing drawn, its groups by code.
type entity struct {
	kind  string
	pairs []pair
}

func (e entity) num(code int, usual float64) float64 {
	for _, p := range e.pairs {
		if p.code == code {
			return p.float()
		}
	}
	return usual
}

func (e entity) text(code int) string {
	for _, p := range e.pairs {
		if p.code == code {
			return p.value
		}
	}
	return ""
}

// arcStep is how far an arc is cut into lines: the rise of a chord, mm.
const arcStep = flatness

// readDXF reads the closed lines of an ASCII DXF (R12 and later): polylines with
// their bulges, circles, ellipses, and lines and arcs that join end to end.
func readDXF(data []byte) ([]Outline, error) {
	pairs, err := dxfPairs(data)
	if err != nil {
		return nil, err
	}
	unit, entities, err := dxfEntities(pairs)
	if err != nil {
		return nil, err
	}
	var out []Outline
	loose := map[string][][]geom.Point{} // open lines by layer, to be joined
	var layers []string
	points := 0
	for i := 0; i < len(entities); i++ {
		e := entities[i]
		var line []geom.Point
		shut := false
		switch e.kind {
		case "LWPOLYLINE":
			line, shut = lightLine(e, unit)
		case "POLYLINE":
			var vertices []entity
			for i+1 < len(entities) && entities[i+1].kind == "VERTEX" {
				i++
				vertices = append(vertices, entities[i])
			}
			line, shut = oldLine(e, vertices, unit)
		case "LINE":
			line = []geom.Point{
				{X: unit * e.num(10, 0), Y: unit * e.num(20, 0)},
				{X: unit * e.num(11, 0), Y: unit * e.num(21, 0)},
			}
		case "CIRCLE":
			line, shut = sweep(
				geom.Point{X: unit * e.num(10, 0), Y: unit * e.num(20, 0)},
				unit*e.num(40, 0),
				0,
				2*math.Pi,
			), true
		case "ARC":
			from, to := e.num(50, 0)*math.Pi/180, e.num(51, 0)*math.Pi/180
			for to <= from {
				to += 2 * math.Pi
			}
			if to-from > 7 { // also of what is no number
				return nil, errors.New("an arc has no sensible angles")
			}
			line = sweep(geom.Point{X: unit * e.num(10, 0), Y: unit * e.num(20, 0)}, unit*e.num(40, 0), from, to)
		case "ELLIPSE":
			line, shut = ellipse(e, unit)
		default:
			continue
		}
		if points += len(line); points > mostPoints {
			return nil, errTooMany
		}
		if shut {
			out = append(out, Outline{e.text(8), geom.Ring(line)})
		} else if len(line) > 1 {
			if _, ok := loose[e.text(8)]; !ok {
				layers = append(layers, e.text(8))
			}
			loose[e.text(8)] = append(loose[e.text(8)], line)
		}
	}
	for _, layer := range layers {
		for _, r := range join(loose[layer]) {
			out = append(out, Outline{layer, r})
		}
	}
	return out, nil
}

func dxfPairs(data []byte) ([]pair, error) {
	var out []pair
	lines := bufio.NewScanner(bytes.NewReader(data))
	lines.Buffer(make([]byte, 0, 4096), 1<<20)
	for lines.Scan() {
		code, err := strconv.Atoi(strings.TrimSpace(lines.Text()))
		if err != nil {
			return nil, fmt.Errorf(
				"line %d of the DXF should be a group code, but is %.20q",
				2*len(out)+1,
				lines.Text(),
			)
		}
		if !lines.Scan() {
			return nil, errors.New("the DXF is cut short")
		}
		out = append(out, pair{code, strings.TrimSpace(lines.Text())})
		if len(out) > 12*mostPoints {
			return nil, errTooMany
		}
	}
	return out, lines.Err()
}

// dxfEntities finds the unit and the section of entities.
func dxfEntities(pairs []pair) (unit float64, out []entity, err error) {
	unit = 1
	in, ended := false, false
	for i, p := range pairs {
		switch {
		case p.code == 9 && p.value == "$INSUNITS" && i+1 < len(pairs):
			n, _ := strconv.Atoi(pairs[i+1].value)
			var ok bool
			if unit, ok = dxfUnits[n]; !ok {
				return 0, nil, fmt.Errorf("the DXF is in unit %d, which no woodworker uses: save it in mm or inches", n)
			}
		case p.code == 2 && p.value == "ENTITIES":
			in = true
		case p.code == 0 && p.value == "ENDSEC":
			in = false
		case p.code == 0 && p.value == "EOF":
			ended = true
		case in && p.code == 0:
			out = append(out, entity{kind: p.value})
		case in && len(out) > 0:
			e := &out[len(out)-1]
			e.pairs = append(e.pairs, p)
		}
	}
	if !ended {
		return 0, nil, errors.New("the DXF is cut short: it has no end")
	}
	return unit, out, nil
}

// lightLine reads an LWPOLYLINE, whose vertices follow one another in its groups.
func lightLine(e entity, unit float64) ([]geom.Point, bool) {
	var at []geom.Point
	var bulges []float64
	for _, p := range e.pairs {
		switch p.code {
		case 10:
			at, bulges = append(at, geom.Point{X: unit * p.float()}), append(bulges, 0)
		case 20:
			if n := len(at); n > 0 {
				at[n-1].Y = unit * p.float()
			}
		case 42:
			if n := len(at); n > 0 {
				bulges[n-1] = p.float()
			}
		}
	}
	shut := int(e.num(70, 0))&1 == 1
	return bulged(at, bulges, shut), shut
}

// oldLine reads a POLYLINE with its VERTEX entities.
func oldLine(e entity, vertices []entity, unit float64) ([]geom.Point, bool) {
	var at []geom.Point
	var bulges []float64
	for _, v := range vertices {
		at = append(at, geom.Point{X: unit * v.num(10, 0), Y: unit * v.num(20, 0)})
		bulges = append(bulges, v.num(42, 0))
	}
	shut := int(e.num(70, 0))&1 == 1
	return bulged(at, bulges, shut), shut
}

// bulged runs through vertices; a bulge is the tangent of a quarter of the arc
// to the next one.
func bulged(at []geom.Point, bulges []float64, shut bool) []geom.Point {
	var out []geom.Point
	for i, p := range at {
		out = append(out, p)
		if b := bulges[i]; b != 0 && !math.IsNaN(b) && math.Abs(b) < 1e4 && (i+1 < len(at) || shut) {
			q := at[(i+1)%len(at)]
			d := q.Sub(p)
			k := (1 - b*b) / (4 * b)
			c := geom.Point{X: (p.X+q.X)/2 - d.Y*k, Y: (p.Y+q.Y)/2 + d.X*k}
			r := p.Sub(c).Len()
			from := math.Atan2(p.Y-c.Y, p.X-c.X)
			arc := sweep(c, r, from, from+4*math.Atan(b))
			if len(arc) > 2 {
				out = append(out, arc[1:len(arc)-1]...)
			}
		}
	}
	return out
}

// sweep is an arc as points, its ends among them.
func sweep(c geom.Point, r, from, to float64) []geom.Point {
	if !(r > 0 && r < farthest) || math.IsNaN(from+to) {
		return nil
	}
	step := 2 * math.Acos(max(-1, min(1, 1-arcStep/r)))
	n := min(5000, max(2, int(math.Ceil(math.Abs(to-from)/max(step, 1e-3)))))
	out := make([]geom.Point, n+1)
	for i := range out {
		sin, cos := math.Sincos(from + (to-from)*float64(i)/float64(n))
		out[i] = geom.Point{X: c.X + r*cos, Y: c.Y + r*sin}
	}
	return out
}

func ellipse(e entity, unit float64) ([]geom.Point, bool) {
	c := geom.Point{X: unit * e.num(10, 0), Y: unit * e.num(20, 0)}
	major := geom.Point{X: unit * e.num(11, 0), Y: unit * e.num(21, 0)}
	ratio, from, to := e.num(40, 1), e.num(41, 0), e.num(42, 2*math.Pi)
	if math.IsNaN(ratio+from+to) || math.Abs(to-from) > 7 {
		return nil, false
	}
	unitArc := sweep(geom.Point{}, max(major.Len(), 1e-9), from, to)
	out := make([]geom.Point, len(unitArc))
	for i, p := range unitArc {
		u, v := p.X/major.Len(), p.Y/major.Len()
		out[i] = geom.Point{X: c.X + u*major.X - v*ratio*major.Y, Y: c.Y + u*major.Y + v*ratio*major.X}
	}
	return out, to-from > 2*math.Pi-1e-6
}

// join chains open lines whose ends meet into rings.
func join(lines [][]geom.Point) (out []geom.Ring) {
	const meet = 0.02
	ends := map[[2]int64][]int{}
	key := func(p geom.Point) [2]int64 {
		return [2]int64{int64(math.Round(p.X / meet)), int64(math.Round(p.Y / meet))}
	}
	used := make([]bool, len(lines))
	for i, l := range lines {
		ends[key(l[0])] = append(ends[key(l[0])], i)
		ends[key(l[len(l)-1])] = append(ends[key(l[len(l)-1])], i)
	}
	near := func(p geom.Point) (int, bool) {
		k := key(p)
		for dx := int64(-1); dx <= 1; dx++ {
			for dy := int64(-1); dy <= 1; dy++ {
				for _, i := range ends[[2]int64{k[0] + dx, k[1] + dy}] {
					if l := lines[i]; !used[i] && (l[0].Sub(p).Len() < meet || l[len(l)-1].Sub(p).Len() < meet) {
						return i, true
					}
				}
			}
		}
		return 0, false
	}
	for i := range lines {
		if used[i] {
			continue
		}
		used[i] = true
		chain := append([]geom.Point{}, lines[i]...)
		for chain[0].Sub(chain[len(chain)-1]).Len() >= meet || len(chain) < 3 {
			next, ok := near(chain[len(chain)-1])
			if !ok {
				break
			}
			used[next] = true
			l := lines[next]
			if l[0].Sub(chain[len(chain)-1]).Len() >= meet {
				for k := len(l) - 2; k >= 0; k-- {
					chain = append(chain, l[k])
				}
			} else {
				chain = append(chain, l[1:]...)
			}
		}
		if n := len(chain); n > 3 && chain[0].Sub(chain[n-1]).Len() < meet {
			out = append(out, chain[:n-1])
		}
	}
	return out
}

// DXF writes outlines to scale in mm as closed polylines of R12, each on a
// layer of its name.
func (f OutlineFile) DXF() []byte {
	return dxfFile(func(put func(int, any)) {
		for _, name := range f.Order {
			put(0, "POLYLINE")
			put(8, name)
			put(66, 1)
			put(70, 1)
			for _, p := range f.Rings[name] {
				put(0, "VERTEX")
				put(8, name)
				put(10, strconv.FormatFloat(p.X, 'f', 4, 64))
				put(20, strconv.FormatFloat(p.Y, 'f', 4, 64))
			}
			put(0, "SEQEND")
		}
	})
}
