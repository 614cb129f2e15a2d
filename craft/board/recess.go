package board

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
)

// Recess is sunk into a face: a rectangular well, an oval bowl, a well whose
// floor slopes so that it drains, a juice groove at an offset from the outline,
// or a sunken ring.
type Recess struct {
	Kind   string  `json:"kind" enum:"well,bowl,slope,groove,ring" doc:"What is sunk"`
	X      float64 `json:"x" mm:"-2500,2500" doc:"Of its middle, from the board's centre"`
	Y      float64 `json:"y" mm:"-2500,2500" doc:"Of its middle, to the left of the board's, mm"`
	Length float64 `json:"length,omitempty" mm:"5,3000,when" doc:"Along the board; of a ring its outer diameter"`
	Width  float64 `json:"width,omitempty" mm:"5,3000,when" doc:"Across the board, mm"`
	Depth  float64 `json:"depth" mm:"0.5,100" doc:"Of a sloped floor, at its shallow side"`
	Deep   float64 `json:"deep,omitempty" mm:"0,100,when" doc:"Of a sloped floor, at its deep side"`
	Toward string  `json:"toward,omitempty" enum:",left,right,handle end,far end" doc:"Where a sloped floor drains to"`
	Radius float64 `json:"radius,omitempty" mm:"0,1500,when" doc:"Of a well's corners; of the bit of a groove or ring"`
	Cove   float64 `json:"cove,omitempty" mm:"0,50,when" doc:"Radius between a well's floor and its walls"`
	Inset  float64 `json:"inset,omitempty" mm:"1,500,when" doc:"Of a groove: from the outline to its nearer rim"`
	Under  bool    `json:"under,omitempty" doc:"In the under face"`

	Count  int     `json:"count,omitempty" range:"0,24" doc:"Several alike along the board; 0 for one"`
	Spread string  `json:"spread,omitempty" enum:",ends,middle" doc:"Evenly between the ends, or about the middle"`
	Gap    float64 `json:"gap,omitempty" mm:"0,2000" doc:"Between those that are spread about the middle"`
	Margin float64 `json:"margin,omitempty" mm:"0,1000" doc:"Of several, to both ends; 0 for their gap"`
	Side   float64 `json:"side,omitempty" mm:"0,1500" doc:"From a long side to its rim, in place of y; 0 for by y"`
	From   string  `json:"from,omitempty" enum:",left,right" doc:"Which side that is; left out for the right"`
	Holds  string  `json:"holds,omitempty" doc:"What it is for"`
	Item   float64 `json:"item,omitempty" mm:"0,1000" doc:"Diameter of what stands in it, or its width"`
	Long   float64 `json:"long,omitempty" mm:"0,1000" doc:"Length of what stands in it, where it is not round"`
	Clear  float64 `json:"clear,omitempty" mm:"0,50" doc:"Room all round what stands in it"`
	Lip    string  `json:"lip,omitempty" enum:",left,right,handle end,far end" doc:"A pouring lip through that side"`
	LipBit float64 `json:"lipBit,omitempty" mm:"0,60" doc:"Diameter of the bit that cuts the lip"`
	Juice  float64 `json:"juice,omitempty" range:"0,10000" doc:"What it should hold, ml"`
	Roast  float64 `json:"roast,omitempty" range:"0,30" doc:"Carved on it, kg: where no ml are given"`
}

// What a roast gives, ml a kilogram, and by how much more a recess is wanted to hold
// (rules).
const (
	juicePerKilo = 45
	juiceSpare   = 1.2
)

// expected is what it should hold, ml.
func (r Recess) expected() float64 { return cmp.Or(r.Juice, juicePerKilo*juiceSpare*r.Roast) }

// MostRecesses bounds the recesses of one board.
const MostRecesses = 20

func (r Recess) check(field string) (ps craft.Problems) {
	ps.InRange(field, r)
	ps.OneOf(field+".kind", r.Kind, "well", "bowl", "slope", "groove", "ring")
	ps.OneOf(field+".toward", r.Toward, "", left, right, handleEnd, farEnd)
	ps.OneOf(field+".lip", r.Lip, "", left, right, handleEnd, farEnd)
	ps.OneOf(field+".spread", r.Spread, "", "ends", "middle")
	ps.OneOf(field+".from", r.From, "", left, right)
	if len(r.Holds) > 200 {
		ps.Add(field+".holds", "the text is too long", "use at most 200 characters")
	}
	switch r.Kind {
	case "groove":
		ps.InRangeOf(field, r, "inset")
		ps.Length(field+".radius", r.Radius, 1, 40)
	case "ring":
		ps.Length(field+".length", r.Length, 10, 2000)
		ps.Length(field+".radius", r.Radius, 1, 40)
	default:
		if r.Item == 0 {
			ps.InRangeOf(field, r, "length")
			ps.InRangeOf(field, r, "width")
		}
		ps.InRangeOf(field, r, "radius")
		ps.InRangeOf(field, r, "cove")
	}
	if r.Kind == "slope" {
		ps.Length(field+".deep", r.Deep, r.Depth, 100)
	}
	return ps
}

// size is the length and width, from what stands in it where that is told.
func (r Recess) size() (length, width float64) {
	if r.Item > 0 && r.Kind != "groove" && r.Kind != "ring" {
		return cmp.Or(r.Long, r.Item) + 2*r.Clear, r.Item + 2*r.Clear
	}
	return r.Length, r.Width
}

// circular tells whether what stands in it is round.
func (r Recess) circular() bool { return r.Item > 0 && r.Long == 0 }

// Deepest is the depth of the recess at its deepest, mm.
func (r Recess) Deepest() float64 { return max(r.Depth, r.Deep) }

// half is half the width of a groove at the face, mm.
func (r Recess) half() float64 {
	d := min(r.Depth, r.Radius)
	return math.Sqrt(max(0, 2*r.Radius*d-d*d))
}

// Cavity is one recess drawn: its rim on the face, the rim's inner line where
// it runs round something, and what it holds.
type Cavity struct {
	Recess Recess
	Index  int // in the design
	Rim    geom.Ring
	Inner  geom.Ring // nil unless it runs round
	Lip    geom.Ring // the pouring lip, from the rim out through the edge; nil without one
	Volume float64   // mm³
	Spout  float64   // cut away by the pouring lip outside the rim, mm³
	Run    float64   // length of a groove or ring along its middle, mm
}

// floorShare is the share of a rounded hollow's width over which its floor counts as
// one level.
const floorShare = 0.7

// Floor is where the cavity is at least so deep, mm; inner is the inside of what runs
// round, else nil.
func (c Cavity) Floor() (ring, inner geom.Ring, depth float64) {
	r := c.Recess
	switch {
	case len(c.Rim) < 3:
		return nil, nil, 0
	case c.Run > 0:
		half := r.half()
		off := floorShare * half
		depth = r.Depth - r.Radius + math.Sqrt(max(0, r.Radius*r.Radius-off*off))
		return c.Rim.Shrunk(half - off), c.Rim.Shrunk(half + off), depth
	case r.Kind == "bowl": // half an ellipsoid
		mid := c.Rim.Centroid()
		return c.Rim.Map(func(p geom.Point) geom.Point { return mid.Lerp(p, floorShare) }), nil,
			r.Depth * math.Sqrt(1-floorShare*floorShare)
	}
	return c.Rim.Shrunk(r.Cove), nil, r.Depth
}

// segment is the area of a groove cut depth deep by a round-nosed bit, mm².
func segment(radius, depth float64) float64 {
	if depth <= 0 {
		return 0
	}
	if depth >= radius { // walls stand upright above the round
		return math.Pi*radius*radius/2 + 2*radius*(depth-radius)
	}
	return radius*radius*math.Acos((radius-depth)/radius) - (radius-depth)*math.Sqrt(2*radius*depth-depth*depth)
}

// draw draws a recess, several times where there are several.
func (r Recess) draw(s Shaped) (out []Cavity) {
	index := len(s.Cavities)
	if n := len(s.Cavities); n > 0 {
		index = s.Cavities[n-1].Index + 1
	}
	if r.Kind == "groove" {
		half := r.half()
		outer, middle, inner := s.Outline.Shrunk(r.Inset), s.Outline.Shrunk(r.Inset+half),
			s.Outline.Shrunk(r.Inset+2*half)
		if len(inner) < 3 {
			return []Cavity{{Recess: r, Index: index}}
		}
		run := middle.Perimeter()
		return []Cavity{
			Cavity{
				Recess: r,
				Index:  index,
				Rim:    outer,
				Inner:  inner,
				Volume: run * segment(r.Radius, r.Depth),
				Run:    run,
			}.pouring(s),
		}
	}
	for _, c := range r.centres(s) {
		cavity := Cavity{Recess: r, Index: index}
		l, w := r.size()
		switch r.Kind {
		case "ring":
			half := r.half()
			if l/2-2*half < 1 { // the bit leaves nothing in its middle
				out = append(out, cavity)
				continue
			}
			cavity.Rim, cavity.Inner = disc(c, l/2), disc(c, l/2-2*half)
			cavity.Run = 2 * math.Pi * (l/2 - half)
			cavity.Volume = cavity.Run * segment(r.Radius, r.Depth)
		case "bowl":
			cavity.Rim = geom.Ellipse{Centre: c, A: l / 2, B: w / 2}.Ring(180)
			cavity.Volume = 2.0 / 3 * math.Pi * l / 2 * w / 2 * r.Depth
		default:
			corner := r.Radius
			if r.circular() {
				corner = l / 2
			}
			p := geom.SoftRectangle(l, w, corner).Translate(c.X, c.Y)
			cavity.Rim = geom.Largest(geom.Flatten(p, geom.Fine))
			area, depth := cavity.Rim.Area(), r.Depth
			if r.Kind == "slope" {
				depth = (r.Depth + r.Deep) / 2
			}
			cavity.Volume = max(0, area*depth-(1-math.Pi/4)*r.Cove*r.Cove*cavity.Rim.Perimeter())
		}
		out = append(out, cavity.pouring(s))
	}
	return out
}

// usualLip is the width of a pouring lip, mm.
const usualLip = 10

// pouring gives a cavity its lip.
func (c Cavity) pouring(s Shaped) Cavity {
	if c.Lip = c.Recess.lip(s, c.Rim); c.Lip == nil {
		return c
	}
	bit := cmp.Or(c.Recess.LipBit, usualLip)
	var outside float64
	for _, r := range c.Lip.Less(c.Rim) {
		outside += r.SignedArea()
	}
	c.Spout = outside / bit * segment(bit/2, c.Recess.Depth)
	return c
}

// lip is the channel of a pouring lip: from within the rim out past the edge,
// straight through the middle of the rim.
func (r Recess) lip(s Shaped, rim geom.Ring) geom.Ring {
	if r.Lip == "" || len(rim) < 3 {
		return nil
	}
	const past = 2
	half := cmp.Or(r.LipBit, usualLip) / 2
	box, edge := rim.Bounds(), s.Outline.Bounds()
	mid := geom.Point{X: (box.MinX + box.MaxX) / 2, Y: (box.MinY + box.MaxY) / 2}
	inside := min(half*2, (box.MaxX-box.MinX)/4, (box.MaxY-box.MinY)/4)
	var lip geom.Bounds
	switch r.Lip {
	case left:
		lip = geom.Bounds{MinX: mid.X - half, MaxX: mid.X + half, MinY: box.MaxY - inside, MaxY: edge.MaxY + past}
	case right:
		lip = geom.Bounds{MinX: mid.X - half, MaxX: mid.X + half, MinY: edge.MinY - past, MaxY: box.MinY + inside}
	case handleEnd:
		lip = geom.Bounds{MinY: mid.Y - half, MaxY: mid.Y + half, MinX: box.MaxX - inside, MaxX: edge.MaxX + past}
	default:
		lip = geom.Bounds{MinY: mid.Y - half, MaxY: mid.Y + half, MinX: edge.MinX - past, MaxX: box.MinX + inside}
	}
	return geom.Clip(s.Outline, lip.Ring())
}

func disc(c geom.Point, r float64) geom.Ring { return geom.Ellipse{Centre: c, A: r, B: r}.Ring(180) }

// centres are the middles of a recess, or of several alike.
func (r Recess) centres(s Shaped) []geom.Point {
	n := max(1, r.Count)
	l, w := r.size()
	if r.Side > 0 { // from a side as it is in the middle of the board
		box := s.Outline.Bounds()
		if r.Y = box.MinY + r.Side + w/2; r.From == left {
			r.Y = box.MaxY - r.Side - w/2
		}
	}
	if n == 1 {
		return []geom.Point{{X: r.X, Y: r.Y}}
	}
	pitch, first := l+r.Gap, 0.0
	if r.Spread == "middle" {
		first = r.X - pitch*float64(n-1)/2
	} else { // the same gap between them and to both ends
		box := s.Outline.Bounds()
		long := box.MaxX - box.MinX
		gap := (long - float64(n)*l) / float64(n+1)
		end := gap
		if r.Margin > 0 {
			end, gap = r.Margin, (long-2*r.Margin-float64(n)*l)/float64(n-1)
		}
		pitch, first = l+gap, box.MinX+end+l/2
	}
	out := make([]geom.Point, n)
	for i := range out {
		out[i] = geom.Point{X: first + pitch*float64(i), Y: r.Y}
	}
	return out
}

// Measure is a distance on the drawing of a board, mm.
type Measure struct {
	A  geom.Point `json:"a" doc:"Where it begins, in the board's frame"`
	B  geom.Point `json:"b" doc:"Where it ends"`
	MM float64    `json:"mm" doc:"How far that is"`
}

// Places are where the recesses lie, as distances on the drawing: from the ends to the
// first and the last of several alike, between them, and from both long sides.
func (s Shaped) Places() []Measure {
	out := []Measure{}
	add := func(a, b geom.Point) {
		if mm := b.Sub(a).Len(); mm > 0.5 {
			out = append(out, Measure{a, b, mm})
		}
	}
	for _, c := range firsts(s.Cavities) {
		if c.Run > 0 && c.Recess.Kind == "groove" || len(c.Rim) < 3 {
			continue
		}
		mid := c.Rim.Centroid()
		if us := s.Outline.Spans(mid.Y); len(us) > 1 {
			at := us[0]
			for _, o := range s.Cavities {
				if o.Index == c.Index && len(o.Rim) > 2 {
					box := o.Rim.Bounds()
					add(geom.Point{X: at, Y: mid.Y}, geom.Point{X: box.MinX, Y: mid.Y})
					at = box.MaxX
				}
			}
			add(geom.Point{X: at, Y: mid.Y}, geom.Point{X: us[len(us)-1], Y: mid.Y})
		}
		if right, left, ok := across(s.Outline, mid.X); ok {
			box := c.Rim.Bounds()
			add(geom.Point{X: mid.X, Y: right}, geom.Point{X: mid.X, Y: box.MinY})
			add(geom.Point{X: mid.X, Y: box.MaxY}, geom.Point{X: mid.X, Y: left})
		}
	}
	return out
}

// depthAt is how deep the recess is at a place inside its rim, mm.
func (c Cavity) depthAt(p geom.Point) float64 {
	r := c.Recess
	box := c.Rim.Bounds()
	switch r.Kind {
	case "bowl":
		l, w := r.size()
		mid := geom.Point{X: (box.MinX + box.MaxX) / 2, Y: (box.MinY + box.MaxY) / 2}
		u, v := (p.X-mid.X)/(l/2), (p.Y-mid.Y)/(w/2)
		return r.Depth * math.Sqrt(max(0, 1-u*u-v*v))
	case "slope":
		share := map[string]float64{
			handleEnd: (p.X - box.MinX) / (box.MaxX - box.MinX), farEnd: (box.MaxX - p.X) / (box.MaxX - box.MinX),
			left: (p.Y - box.MinY) / (box.MaxY - box.MinY), right: (box.MaxY - p.Y) / (box.MaxY - box.MinY),
		}[r.toward()]
		return r.Depth + (r.Deep-r.Depth)*share
	case "well":
		return r.Depth
	}
	half := (box.MaxX - box.MinX - 2*r.half()) / 2
	mid := geom.Point{X: (box.MinX + box.MaxX) / 2, Y: (box.MinY + box.MaxY) / 2}
	off := math.Abs(p.Sub(mid).Len() - half)
	if r.Kind == "groove" {
		_, d := c.Rim.Nearest(p)
		off = math.Abs(d - r.half())
	}
	return max(0, r.Depth-r.Radius+math.Sqrt(max(0, r.Radius*r.Radius-off*off)))
}

func (r Recess) toward() string { return cmp.Or(r.Toward, right) }

// slope is by how many degrees a sloped floor falls.
func (c Cavity) slope() float64 {
	box := c.Rim.Bounds()
	along := box.MaxY - box.MinY
	if t := c.Recess.toward(); t == handleEnd || t == farEnd {
		along = box.MaxX - box.MinX
	}
	return math.Atan((c.Recess.Deep-c.Recess.Depth)/along) * 180 / math.Pi
}

// tilt is by how many degrees a board is tipped when it is carried carelessly.
const tilt = 5

// spillWays is toward how many sides a tilt is tried, and across how many strips a
// channel is summed.
const (
	spillWays   = 24
	spillStrips = 12
)

// Spill is what a recess still holds in mm³ when the board is tilted by 5° toward the
// side, whichever it is, where that leaves least: what lies below a level through the
// lowest place of its rim.
func (c Cavity) Spill() float64 {
	fall := math.Tan(tilt * math.Pi / 180)
	ways, held := make([]geom.Point, spillWays), make([]float64, spillWays)
	level := make([]float64, spillWays) // how far along each way the rim reaches
	for k := range ways {
		sin, cos := math.Sincos(2 * math.Pi * float64(k) / spillWays)
		ways[k], level[k] = geom.Point{X: cos, Y: sin}, math.Inf(-1)
		for _, p := range c.Rim {
			level[k] = max(level[k], p.X*cos+p.Y*sin)
		}
	}
	add := func(p geom.Point, depth, area float64) {
		for k, u := range ways {
			held[k] += max(0, depth-fall*(level[k]-p.X*u.X-p.Y*u.Y)) * area
		}
	}
	if c.Run > 0 {
		c.along(add)
	} else {
		c.over(add)
	}
	return min(slices.Min(held), c.Volume)
}

// along gives the places of a channel, with their depth and area, strip by strip along
// its middle line.
func (c Cavity) along(add func(p geom.Point, depth, area float64)) {
	half, r := c.Recess.half(), c.Recess.Radius
	middle := c.middle()
	stretch := c.Run / max(middle.Perimeter(), 1e-9) // its line is drawn by chords
	middle = middle.Dense(3)
	for i := range middle {
		a, b := middle.Edge(i)
		l, mid := b.Sub(a).Len(), a.Lerp(b, 0.5)
		if l == 0 {
			continue
		}
		normal := geom.Point{X: a.Y - b.Y, Y: b.X - a.X}.Scale(1 / l)
		for k := range spillStrips {
			off := half * (2*(float64(k)+0.5)/spillStrips - 1)
			depth := c.Recess.Depth - r + math.Sqrt(max(0, r*r-off*off))
			add(mid.Add(normal.Scale(off)), depth, l*stretch*2*half/spillStrips)
		}
	}
}

// over gives the places of a hollow, with their depth and area, cell by cell.
func (c Cavity) over(add func(p geom.Point, depth, area float64)) {
	const cells = 60
	box := c.Rim.Bounds()
	size := max(box.MaxX-box.MinX, box.MaxY-box.MinY) / cells
	for y := box.MinY + size/2; y < box.MaxY; y += size {
		xs := c.Rim.Spans(y)
		for s := 0; s+1 < len(xs); s += 2 {
			n := int(math.Ceil((xs[s+1] - xs[s]) / size))
			step := (xs[s+1] - xs[s]) / float64(n)
			for i := range n {
				p := geom.Point{X: xs[s] + (float64(i)+0.5)*step, Y: y}
				add(p, c.depthAt(p), step*size)
			}
		}
	}
}

// overlaps tells whether two cavities take wood from the same place, the inside of a
// channel that runs round left out.
func (c Cavity) overlaps(o Cavity) bool { return sharedArea(c.Rim, c.Inner, o.Rim, o.Inner) > sliver }

// sliver is an area that rings which only touch may seem to share, mm².
const sliver = 0.5

// sharedArea is what two rings with a hole each share, mm²; a hole may be nil.
func sharedArea(a, holeA, b, holeB geom.Ring) (sum float64) {
	if a.Bounds().Apart(b.Bounds()) > 0 {
		return 0
	}
	for _, pair := range []struct {
		a, b geom.Ring
		sign float64
	}{{a, b, 1}, {holeA, b, -1}, {a, holeB, -1}, {holeA, holeB, 1}} {
		if len(pair.a) < 3 || len(pair.b) < 3 {
			continue
		}
		for _, r := range geom.Common(pair.a, pair.b) {
			sum += pair.sign * r.Area()
		}
	}
	return sum
}

// middle is the line along the middle of a channel.
func (c Cavity) middle() geom.Ring {
	if c.Recess.Kind == "ring" {
		box := c.Rim.Bounds()
		return disc(geom.Point{X: (box.MinX + box.MaxX) / 2, Y: (box.MinY + box.MaxY) / 2}, c.Run/(2*math.Pi))
	}
	return c.Rim.Shrunk(c.Recess.half())
}

// Name of the recess, with its number where there are several.
func (c Cavity) Name(of []Recess) string {
	names := map[string]string{
		"well":   "well",
		"bowl":   "bowl",
		"slope":  "sloped well",
		"groove": "juice groove",
		"ring":   "sunken ring",
	}
	if len(of) > 1 {
		return fmt.Sprintf("%s %d", names[c.Recess.Kind], c.Index+1)
	}
	return names[c.Recess.Kind]
}

// firsts are the cavities with one of each recess of the design.
func firsts(cavities []Cavity) (out []Cavity) {
	for _, c := range cavities {
		if len(out) == 0 || out[len(out)-1].Index != c.Index {
			out = append(out, c)
		}
	}
	return out
}

// Least floor under a recess and least wall beside it, mm (rules of the trade).
const (
	leastFloor = 6
	leastWall  = 10
	wallPast   = 4 // past the bit's radius
	drains     = 1 // degrees
)

// recesses judges each recess: the floor it leaves, the wall beside it, whether
// it drains and holds what it should.
func recesses(s Shaped, c Conditions) (out []craft.Verdict) {
	for _, cavity := range firsts(s.Cavities) {
		name := cavity.Name(s.Design.Recesses)
		if len(cavity.Rim) < 3 {
			out = append(
				out,
				craft.Verdict{
					Check:   "recess-room",
					Subject: name,
					Stage:   craft.Shape,
					Level:   craft.Stop,
					Finding: "There is no room for the " + name,
					Reason:  "It lies too far inside an outline that is too small, or its bit is wider than it.",
					Figure: craft.Figure{
						Key:     "recess.inset",
						Stage:   craft.Shape,
						Label:   "From the outline",
						Value:   cavity.Recess.Inset,
						Unit:    craft.MM,
						Formula: "as designed",
						Source:  "the design",
					},
					AtLeast: false,
				},
			)
			continue
		}
		out = append(out, floor(s, c, cavity, name), wall(s, c.Thickness, cavity, name))
		if cavity.Recess.Kind == "slope" {
			out = append(out, drain(s, cavity, name))
		}
		if cavity.Recess.expected() > 0 {
			out = append(out, juice(s, c, cavity, name))
		}
	}
	return append(out, merged(s)...)
}

// merged tells which recesses of one face run into each other, and which slots run through
// one: what meets there is one hollow, with a step where the depths differ.
func merged(s Shaped) (out []craft.Verdict) {
	tell := func(one, other string, deep, by float64, r geom.Ring) {
		v := craft.Verdict{
			Check: "recess-meets", Subject: one + " and " + other, Stage: craft.Shape, Level: craft.Good,
			Finding: "The " + one + " and the " + other + " run into each other",
			Reason:  "Where two hollows meet there is no wall, and a step where one is deeper: crumbs lodge there.",
			Figure: craft.Figure{
				Key: "recess.step", Stage: craft.Shape, Label: "Step where they meet", Value: math.Abs(deep - by),
				Unit: craft.MM, Formula: "difference of their depths", Source: "the design",
				Terms: []craft.Term{
					{Name: one, Value: deep, Unit: craft.MM}, {Name: other, Value: by, Unit: craft.MM},
				},
			},
			Limit: 0.1, Mark: around(r.Centroid()),
		}
		v.Level = craft.Over(v.Figure.Value, v.Limit, math.Inf(1))
		out = append(out, v)
	}
	for i, c := range s.Cavities {
		if len(c.Rim) < 3 {
			continue
		}
		name := c.Name(s.Design.Recesses)
		for _, o := range s.Cavities[:i] {
			if len(o.Rim) > 2 && o.Recess.Under == c.Recess.Under && c.overlaps(o) {
				tell(name, o.Name(s.Design.Recesses), c.Recess.Deepest(), o.Recess.Deepest(), c.Rim)
			}
		}
		for _, t := range s.Slots {
			if t.Under == c.Recess.Under && sharedArea(t.Ring(), nil, c.Rim, c.Inner) > sliver {
				tell(name, t.Name, c.Recess.Deepest(), t.deepest(c.Rim), t.Ring())
			}
		}
	}
	return out
}

// set changes one recess of a design.
func set(d *Design, i int, change func(*Recess)) {
	d.Recesses = slices.Clone(d.Recesses)
	change(&d.Recesses[i])
}

func floor(s Shaped, c Conditions, cavity Cavity, name string) craft.Verdict {
	deep := cavity.Recess.Deepest()
	from := deep
	for _, o := range s.Cavities { // from the other face, over the same place
		if o.Recess.Under != cavity.Recess.Under && cavity.overlaps(o) {
			from = max(from, deep+o.Recess.Deepest())
		}
	}
	for _, t := range s.Slots {
		slot := t.deepest(cavity.Rim)
		if slot <= 0 || sharedArea(t.Ring(), nil, cavity.Rim, cavity.Inner) <= sliver {
			continue
		}
		if t.Under != cavity.Recess.Under {
			slot += deep
		}
		from = max(from, slot)
	}
	for _, b := range s.Bores { // what a bore into the side leaves of the floor
		if !b.Side() || sharedArea(b.Ring(), nil, cavity.Rim, cavity.Inner) <= sliver {
			continue
		}
		below := b.Below
		if cavity.Recess.Under {
			below = c.Thickness - below
		}
		from = max(from, deep+c.Thickness-(below-b.Diameter/2))
	}
	left, want := c.Thickness-from, max(leastFloor, c.Thickness/3)
	v := craft.Verdict{
		Check: "recess-floor", Subject: name, Stage: craft.Shape, Level: craft.Under(left, want, leastFloor),
		AtLeast: true, Limit: want,
		Finding: "Floor left under the " + name,
		Reason:  "A thin floor rings, cups and breaks through when it is sanded back one day.",
		Figure: craft.Figure{
			Key:   "recess.floor",
			Stage: craft.Shape,
			Label: "Floor under the " + name,
			Value: left,
			Unit:  craft.MM,
			Formula: "final thickness − depth − what else is taken beneath, against the larger of " +
				craft.Length(leastFloor) + " and a third of the thickness",
			Terms: []craft.Term{
				{Name: "final thickness", Value: c.Thickness, Unit: craft.MM},
				{Name: "depth", Value: deep, Unit: craft.MM},
				{Name: "taken beneath", Value: from - deep, Unit: craft.MM},
			},
			Source: "rule of the trade",
			Rule:   true,
		},
	}
	if v.Level == craft.Good {
		return v
	}
	if to := floorTo(c.Thickness - want - (from - deep)); to >= 1 {
		v.Remedies = append(v.Remedies, remedy(s.Design, "Sink it only {}", to, craft.MM, func(d *Design) {
			set(d, cavity.Index, func(r *Recess) {
				r.Depth = min(r.Depth, to)
				if r.Deep > 0 {
					r.Deep = min(r.Deep, to)
				}
			})
		}))
	}
	for t := ceilTo(c.Thickness); t <= floorTo(c.Most); t += 0.5 {
		if t-from >= max(leastFloor, t/3) {
			v.Remedies = append(v.Remedies, thicknessOf(s.Design, "Thicken to {}", t))
			break
		}
	}
	return v
}

// wall judges the wood between a recess and the outline, a hole, or another
// recess in the same face.
func wall(s Shaped, t float64, cavity Cavity, name string) craft.Verdict {
	want := max(float64(leastWall), cavity.Recess.Radius*btof(cavity.Run > 0)+wallPast)
	v := craft.Verdict{
		Check: "recess-wall", Subject: name, Stage: craft.Shape, AtLeast: true, Limit: want,
		Finding: "Wood beside the " + name,
		Reason:  "A thin wall chips at the first knock, and the router's base has nothing to stand on.",
		Figure: craft.Figure{
			Key:   "recess.wall",
			Stage: craft.Shape,
			Label: "Least wall beside the " + name,
			Unit:  craft.MM,
			Formula: "least distance from its rim to an edge, against the larger of " + craft.Length(leastWall) +
				" and the bit's radius + " + craft.Length(wallPast),
			Source: "rule of the trade",
			Rule:   true,
		},
	}
	least, through := math.Inf(1), false
	edge := geom.NewIndex(s.Outline)
	look := func(rim geom.Ring, what geom.Index, within bool) {
		for _, p := range rim.Dense(4) {
			q, d := what.Nearest(p)
			if within && !what.Contains(p) {
				d, through = 0, true
			}
			if d < least {
				least = d
				v.Mark = &craft.Mark{AX: p.X, AY: p.Y, BX: q.X, BY: q.Y}
			}
		}
	}
	for _, o := range s.Cavities {
		if o.Index != cavity.Index || len(o.Rim) < 3 {
			continue
		}
		look(o.Rim, edge, true)
		sunk := func(p geom.Point) bool { return o.Rim.Contains(p) && (o.Inner == nil || !o.Inner.Contains(p)) }
		for _, h := range s.Holes {
			if slices.ContainsFunc(h, sunk) {
				least, through = 0, true
				v.Mark = around(h.Centroid())
				continue
			}
			look(o.Rim, geom.NewIndex(h), false)
			if o.Inner != nil {
				look(o.Inner, geom.NewIndex(h), false)
			}
		}
		for _, other := range s.Cavities { // those that meet are one, and have no wall between
			if other.Index == cavity.Index || other.Recess.Under != cavity.Recess.Under || len(other.Rim) < 3 {
				continue
			}
			mine, theirs := o.Rim, other.Rim
			switch {
			case other.Inner != nil && other.Inner.Contains(o.Rim[0]):
				theirs = other.Inner
			case o.Inner != nil && o.Inner.Contains(other.Rim[0]):
				mine = o.Inner
			}
			if len(geom.Common(mine, theirs)) == 0 || theirs.Contains(mine[0]) || mine.Contains(theirs[0]) {
				look(mine, geom.NewIndex(theirs), false)
			}
		}
		for _, h := range s.Fitted(t) { // what lies at its height; what lies beneath is a matter of its floor
			if into("", o.Rim, o.Inner, o.Recess.Deepest(), t, o.Recess.Under).above(h) <= 0 &&
				sharedArea(o.Rim, o.Inner, h.Ring, nil) <= sliver {
				look(o.Rim, geom.NewIndex(h.Ring), false)
			}
		}
	}
	if cavity.Recess.Lip != "" { // it is meant to run out
		through = false
		least = max(least, 0)
	}
	v.Figure.Value = least
	v.Level = craft.Under(least, want, 0.5)
	if through {
		v.Level, v.Finding = craft.Stop, "The "+name+" breaks through an edge or a hole"
	}
	if v.Level != craft.Good {
		was := v.Level
		v.Offer(func() []craft.Remedy { return wallRemedies(s, t, cavity, was, math.Ceil(want-least)) })
	}
	return v
}

// wallRemedies tries what gives a recess more of a wall: farther from the edge, smaller,
// or moved toward the middle; by is how much is missing, mm.
func wallRemedies(s Shaped, t float64, cavity Cavity, was craft.Level, by float64) (out []craft.Remedy) {
	i, r := cavity.Index, cavity.Recess
	judge := func(again Shaped) craft.Level {
		for _, o := range firsts(again.Cavities) {
			if o.Index == i && len(o.Rim) > 2 {
				return wall(again, t, o, "").Level
			}
		}
		return craft.Stop
	}
	var smaller, moved, inset []attempt
	for k := range 8 {
		more := by + float64(k*k)
		if r.Kind == "groove" {
			for _, to := range []float64{r.Inset + more, r.Inset - more} {
				if to >= 1 {
					inset = append(inset, attempt{"Keep it {} from the edge", to, craft.MM,
						func(d *Design) { set(d, i, func(r *Recess) { r.Inset = to }) }})
				}
			}
			continue
		}
		if l, w := r.size(); r.Item == 0 && l-2*more >= 20 && (r.Kind == "ring" || w-2*more >= 20) {
			smaller = append(smaller, attempt{"Make it {} smaller all round", more, craft.MM, func(d *Design) {
				set(d, i, func(r *Recess) {
					r.Length = l - 2*more
					if r.Kind != "ring" {
						r.Width = w - 2*more
					}
				})
			}})
		}
		away := geom.Point{X: -r.X, Y: -r.Y}
		if far := away.Len(); far > 1 {
			step := away.Scale(min(1, more/far))
			moved = append(moved, attempt{"Move it {} toward the middle", step.Len(), craft.MM, func(d *Design) {
				set(d, i, func(r *Recess) {
					r.X, r.Y = math.Round((r.X+step.X)*10)/10, math.Round((r.Y+step.Y)*10)/10
				})
			}})
		}
	}
	c := Conditions{Thickness: t}
	for _, tries := range [][]attempt{inset, moved, smaller} {
		out = append(out, s.first(c, was, judge, tries...)...)
	}
	return out
}

func btof(b bool) float64 {
	if b {
		return 1
	}
	return 0
}

func drain(s Shaped, cavity Cavity, name string) craft.Verdict {
	v := craft.Verdict{
		Check: "recess-drain", Subject: name, Stage: craft.Shape, Level: craft.Under(cavity.slope(), drains, -1),
		AtLeast: true, Limit: drains,
		Finding: "The floor of the " + name + " drains", Reason: "Juice stands on a floor that is nearly level.",
		Figure: craft.Figure{
			Key:     "recess.slope",
			Stage:   craft.Shape,
			Label:   "Fall of the floor",
			Value:   cavity.slope(),
			Unit:    craft.Degree,
			Formula: "atan((deep side − shallow side) ÷ length along the fall)",
			Terms: []craft.Term{
				{Name: "deep side", Value: cavity.Recess.Deep, Unit: craft.MM},
				{Name: "shallow side", Value: cavity.Recess.Depth, Unit: craft.MM},
				{Name: "falls over {100} by", Value: 100 * math.Tan(cavity.slope()*math.Pi/180), Unit: craft.MM},
			},
			Source: "rule of the trade",
			Rule:   true,
		},
	}
	if v.Level != craft.Good {
		v.Finding = "The floor of the " + name + " hardly drains"
		box := cavity.Rim.Bounds()
		along := box.MaxY - box.MinY
		if t := cavity.Recess.toward(); t == handleEnd || t == farEnd {
			along = box.MaxX - box.MinX
		}
		to := ceilTo(cavity.Recess.Depth + math.Tan(drains*math.Pi/180)*along)
		v.Remedies = []craft.Remedy{
			remedy(
				s.Design,
				"Sink the deep side to {}",
				to,
				craft.MM,
				func(d *Design) { set(d, cavity.Index, func(r *Recess) { r.Deep = to }) },
			),
		}
	}
	return v
}

func juice(s Shaped, c Conditions, cavity Cavity, name string) craft.Verdict {
	want := cavity.Recess.expected()
	holds := cavity.Volume / 1000
	v := craft.Verdict{
		Check: "recess-juice", Subject: name, Stage: craft.Shape, Level: craft.Under(holds, want, -1), AtLeast: true,
		Limit:   want,
		Finding: "The " + name + " holds the juice", Reason: "What it does not hold runs over the table.",
		Figure: volumeFigure(cavity, name),
	}
	if was := v.Level; v.Level != craft.Good {
		v.Finding = "The " + name + " holds less than is expected"
		v.Offer(func() []craft.Remedy { return juiceRemedies(s, c, cavity, was) })
	}
	return v
}

// juiceRemedies tries a recess deeper, as far as its floor allows, and larger.
func juiceRemedies(s Shaped, c Conditions, cavity Cavity, was craft.Level) (out []craft.Remedy) {
	i, r := cavity.Index, cavity.Recess
	judge := func(again Shaped) craft.Level {
		for _, o := range firsts(again.Cavities) {
			if o.Index != i || len(o.Rim) < 3 {
				continue
			}
			level := craft.Under(o.Volume/1000, r.expected(), -1)
			for _, v := range []craft.Verdict{floor(again, c, o, ""), wall(again, c.Thickness, o, "")} {
				if v.Level == craft.Stop {
					level = craft.Stop
				}
			}
			return level
		}
		return craft.Stop
	}
	var deeper, larger []attempt
	for to := ceilTo(r.Depth + 0.5); to < c.Thickness; to += 0.5 {
		deeper = append(deeper, attempt{"Sink it {}", to, craft.MM, func(d *Design) {
			set(d, i, func(r *Recess) {
				if r.Deep > 0 {
					r.Deep += to - r.Depth
				}
				r.Depth = to
				if cavity.Run > 0 {
					r.Radius = min(max(r.Radius, to), 40)
				}
			})
		}})
	}
	if l, w := r.size(); cavity.Run == 0 && r.Item == 0 {
		for by := 5.0; by <= 100; by += 5 {
			larger = append(larger, attempt{"Make it {} larger all round", by, craft.MM, func(d *Design) {
				set(d, i, func(r *Recess) { r.Length, r.Width = l+2*by, w+2*by })
			}})
		}
	}
	return append(s.first(c, was, judge, deeper...), s.first(c, was, judge, larger...)...)
}

func volumeFigure(c Cavity, name string) craft.Figure {
	r := c.Recess
	f := craft.Figure{
		Key:    "recess.volume",
		Stage:  craft.Shape,
		Label:  "The " + name + " holds",
		Value:  c.Volume / 1000,
		Unit:   craft.ML,
		Source: "geometry of the design",
	}
	l, w := r.size()
	switch {
	case c.Run > 0:
		f.Formula = "area of the bit's segment × length along the middle"
		f.Terms = []craft.Term{
			{Name: "bit's radius", Value: r.Radius, Unit: craft.MM},
			{Name: "depth", Value: r.Depth, Unit: craft.MM},
			{Name: "segment", Value: segment(r.Radius, r.Depth), Unit: craft.MM2},
			{Name: "length", Value: c.Run, Unit: craft.MM},
		}
	case r.Kind == "bowl":
		f.Formula = "2/3 · π · half length · half width · depth"
		f.Terms = []craft.Term{
			{Name: "half length", Value: l / 2, Unit: craft.MM},
			{Name: "half width", Value: w / 2, Unit: craft.MM},
			{Name: "depth", Value: r.Depth, Unit: craft.MM},
		}
	default:
		f.Formula = "area × depth (of a sloped floor the mean) − what the cove leaves in"
		f.Terms = []craft.Term{
			{Name: "area", Value: c.Rim.Area(), Unit: craft.MM2},
			{Name: "depth", Value: r.Depth, Unit: craft.MM},
			{Name: "cove's radius", Value: r.Cove, Unit: craft.MM},
		}
		if r.Kind == "slope" {
			f.Terms = append(f.Terms, craft.Term{Name: "deep side", Value: r.Deep, Unit: craft.MM})
		}
	}
	return f
}
