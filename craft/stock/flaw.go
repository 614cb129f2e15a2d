package stock

import (
	"fmt"
	"math"

	"idletimber/craft"
	"idletimber/craft/geom"
)

// hairline is the narrowest crack that is marked, mm.
const hairline = 0.05

// Kind of a flaw.
type Kind string

// The flaws that are marked.
const (
	Crack Kind = "crack"
	Knot  Kind = "knot"
	Bark  Kind = "bark"
	Soft  Kind = "soft"
	Worm  Kind = "worm"
	Dent  Kind = "dent"
	Hole  Kind = "hole"

	Pocket Kind = "pocket" // cut on purpose, to be cast full of resin: an inlay, a slot
	Gone   Kind = "gone"   // cut or broken out by mistake
)

// What a maker may want of a flaw.
const (
	KeepOut  = "keep out" // of every board
	Fill     = "fill"     // a board may hold it, filled
	Featured = "feature"  // a handle follows it, a hole takes it out, a river runs through it
	CutAway  = "cut away" // off the slab
)

// The wood about a flaw, and what a nail pressed into soft wood tells: it holds, or gives way by
// more than 1 mm.
const (
	Heart       = "heart"
	Sap         = "sap"
	HeartAndSap = "both"

	Holds = "holds"
	Gives = "gives"
)

// Flaw is one void, knot or soft place, in the slab's frame. A crack is a
// line; bark and soft wood are an area; everything else is an ellipse about
// its centre.
type Flaw struct {
	ID       string       `json:"id" doc:"Its own for good"`
	Kind     Kind         `json:"kind" enum:"crack,knot,bark,soft,worm,dent,hole,pocket,gone" doc:"What it is"`
	Under    bool         `json:"under" doc:"It opens on the under face"`
	Through  bool         `json:"through" doc:"It goes through the whole thickness"`
	Wish     string       `json:"wish,omitempty" enum:",keep out,fill,feature,cut away" doc:"What is wanted of it"`
	Depth    float64      `json:"depth" mm:"0.1,500,when" doc:"From the face, mm"`
	Line     []geom.Point `json:"line,omitempty" doc:"The line of a crack, or the corners of an area"`
	Width    float64      `json:"width" mm:"0.05,500,when" doc:"Width of a crack on the face, mm"`
	Slot     bool         `json:"slot" doc:"A crack as wide at its bottom as on the face; otherwise V-shaped"`
	Centre   geom.Point   `json:"centre" doc:"On the slab"`
	A        float64      `json:"a" mm:"0.2,2000,when" doc:"Half-axis along angle"`
	B        float64      `json:"b" mm:"0.2,2000,when" doc:"Half-axis across angle"`
	Angle    float64      `json:"angle" range:"-360,360,when" doc:"Degrees anticlockwise from the slab's length"`
	State    string       `json:"state,omitempty" enum:"sound,loose,missing" doc:"Of a knot"`
	Count    int          `json:"count" range:"1,10000,when" doc:"Worm holes in the ellipse"`
	Diameter float64      `json:"diameter" mm:"0.2,30,when" doc:"Of one worm hole"`
	Zone     string       `json:"zone,omitempty" enum:",heart,sap,both" doc:"Of the wood about it, where it was told"`
	Pressed  string       `json:"pressed,omitempty" enum:",holds,gives" doc:"Soft wood under a nail; left out untried"`
	Tilt     *geom.Point  `json:"tilt,omitempty" doc:"Where it comes out on the other face, from where it enters"`
}

// Check reports what is out of range or unknown.
func (f Flaw) Check(field string, length float64) (ps craft.Problems) {
	ps.OneOf(field+".wish", f.Wish, "", KeepOut, Fill, Featured, CutAway)
	ps.OneOf(field+".zone", f.Zone, "", Heart, Sap, HeartAndSap)
	ps.OneOf(field+".pressed", f.Pressed, "", Holds, Gives)
	ps.OneOf(
		field+".kind",
		string(f.Kind),
		string(Crack),
		string(Knot),
		string(Bark),
		string(Soft),
		string(Worm),
		string(Dent),
		string(Hole),
		string(Pocket),
		string(Gone),
	)
	if !f.Through && !f.Sound() {
		ps.InRangeOf(field, f, "depth")
	}
	for i, p := range f.Line {
		ps.Length(fmt.Sprintf("%s.line[%d].x", field, i), p.X, -500, length+500)
		ps.Length(fmt.Sprintf("%s.line[%d].y", field, i), p.Y, -5000, 5000)
	}
	switch f.Kind {
	case Crack:
		ps.Length(field+".width", f.Width, hairline, 500)
		if len(f.Line) < 2 || len(f.Line) > 200 {
			ps.Add(field+".line", "a crack needs from 2 to 200 points", "mark where it starts and where it ends")
		}
	case Bark, Soft, Pocket, Gone:
		if len(f.Line) < 3 || len(f.Line) > 200 {
			ps.Add(field+".line", "an area needs from 3 to 200 corners", "mark the area round")
		} else if geom.Ring(f.Line).SelfCrosses() {
			ps.Add(field+".line", "the outline of the area crosses itself", "mark the corners in order round it")
		}
	default:
		ps.Length(field+".centre.x", f.Centre.X, 0, length)
		ps.Length(field+".centre.y", f.Centre.Y, -5000, 5000)
		ps.InRangeOf(field, f, "a")
		ps.InRangeOf(field, f, "b")
		ps.InRangeOf(field, f, "angle")
	}
	if f.Tilt != nil {
		ps.Length(field+".tilt.x", f.Tilt.X, -500, 500)
		ps.Length(field+".tilt.y", f.Tilt.Y, -500, 500)
	}
	if f.Kind == Knot {
		ps.OneOf(field+".state", f.State, "sound", "loose", "missing")
	}
	if f.Kind == Worm {
		ps.InRangeOf(field, f, "count")
		ps.InRangeOf(field, f, "diameter")
	}
	return ps
}

// Shunned reports a flaw that no board may hold.
func (f Flaw) Shunned() bool { return f.Wish == KeepOut || f.Wish == CutAway }

// Out is the flaw of something that lies so on a piece, in the piece's frame; turned over
// it opens on the other face.
func (f Flaw) Out(at geom.Placement) Flaw {
	f.Centre, f.Line = at.Out(f.Centre), geom.Ring(f.Line).Map(at.Out)
	if at.Flip {
		f.Angle, f.Under = -f.Angle, !f.Under
	}
	f.Angle = math.Remainder(f.Angle+at.Angle, 360)
	f.tilted(at.Out)
	return f
}

// In is the flaw as something sees it that lies so on its piece.
func (f Flaw) In(at geom.Placement) Flaw {
	f.Centre, f.Line = at.In(f.Centre), geom.Ring(f.Line).Map(at.In)
	f.Angle -= at.Angle
	if at.Flip {
		f.Angle, f.Under = -f.Angle, !f.Under
	}
	f.Angle = math.Remainder(f.Angle, 360)
	f.tilted(at.In)
	return f
}

// tilted turns the tilt as places are turned.
func (f *Flaw) tilted(to func(geom.Point) geom.Point) {
	if f.Tilt != nil {
		t := to(*f.Tilt).Sub(to(geom.Point{}))
		f.Tilt = &t
	}
}

// Clean reports a flaw that clean wood may hold: one as good as wood, or one that is
// to be filled. All others a clean board keeps clear of, also one that is to be
// featured: that takes a shape about it.
func (f Flaw) Clean() bool { return f.Sound() || f.Wish == Fill }

// Sound reports a knot that is as good as wood.
func (f Flaw) Sound() bool { return f.Kind == Knot && f.State == "sound" }

// Ellipse is the place of a knot, worm holes, dent or hole.
func (f Flaw) Ellipse() geom.Ellipse {
	return geom.Ellipse{Centre: f.Centre, A: f.A, B: f.B, Angle: f.Angle}
}

// Footprint is the flaw's place on the face.
func (f Flaw) Footprint() geom.Ring {
	switch f.Kind {
	case Crack:
		return ribbon(f.Line, f.Width)
	case Bark, Soft, Pocket, Gone:
		return f.Line
	}
	return f.Ellipse().Ring(32)
}

// Tilted reports a flaw that goes through askew.
func (f Flaw) Tilted() bool { return f.Through && f.Tilt != nil && *f.Tilt != (geom.Point{}) }

// At is the flaw as it lies at a share of the way from the face on which it
// opens to the other face.
func (f Flaw) At(share float64) Flaw {
	if !f.Tilted() {
		return f
	}
	d := f.Tilt.Scale(share)
	f.Centre = f.Centre.Add(d)
	f.Line = geom.Ring(f.Line).Map(d.Add)
	return f
}

// sections is through how many levels a tilted flaw is looked at.
const sections = 9

// Sections are the flaw's places from one face to the other, evenly spaced; a
// flaw that is not tilted has one place.
func (f Flaw) Sections() []Flaw {
	if !f.Tilted() {
		return []Flaw{f}
	}
	out := make([]Flaw, sections)
	for i := range out {
		out[i] = f.At(float64(i) / (sections - 1))
	}
	return out
}

// Prints are the flaw's places on the show face and on the under face; nil
// where it does not open there.
func (f Flaw) Prints() (show, under geom.Ring) {
	enters := f.Footprint()
	if !f.Through {
		if f.Under {
			return nil, enters
		}
		return enters, nil
	}
	leaves := f.At(1).Footprint()
	if f.Under {
		return leaves, enters
	}
	return enters, leaves
}

// Middle is a place in the middle of the flaw where it opens: half way along a crack.
func (f Flaw) Middle() geom.Point {
	switch f.Kind {
	case Crack:
		return geom.Halfway(f.Line)
	case Bark, Soft, Pocket, Gone:
		return geom.Ring(f.Line).Centroid()
	}
	return f.Centre
}

// Bounds is a box that holds the flaw at every level, quicker to have than its
// footprint.
func (f Flaw) Bounds() geom.Bounds {
	b := f.bounds()
	if f.Tilted() {
		c := f.At(1).bounds()
		b = geom.Bounds{
			MinX: min(b.MinX, c.MinX),
			MinY: min(b.MinY, c.MinY),
			MaxX: max(b.MaxX, c.MaxX),
			MaxY: max(b.MaxY, c.MaxY),
		}
	}
	return b
}

func (f Flaw) bounds() geom.Bounds {
	switch f.Kind {
	case Crack:
		b := geom.Ring(f.Line).Bounds()
		return geom.Bounds{
			MinX: b.MinX - f.Width,
			MinY: b.MinY - f.Width,
			MaxX: b.MaxX + f.Width,
			MaxY: b.MaxY + f.Width,
		}
	case Bark, Soft, Pocket, Gone:
		return geom.Ring(f.Line).Bounds()
	}
	return f.Ellipse().Bounds()
}

// ribbon is a line given a width.
func ribbon(line []geom.Point, width float64) geom.Ring {
	n := len(line)
	left, right := make(geom.Ring, n), make(geom.Ring, n)
	for i := range line {
		d := line[min(i+1, n-1)].Sub(line[max(i-1, 0)])
		l := d.Len()
		if l == 0 {
			l = 1
		}
		side := geom.Point{X: -d.Y, Y: d.X}.Scale(width / 2 / l)
		left[i], right[n-1-i] = line[i].Add(side), line[i].Sub(side)
	}
	return append(right, left...)
}

// Name is what a maker calls the flaw.
func (f Flaw) Name() string {
	switch f.Kind {
	case Knot:
		return f.State + " knot"
	case Pocket:
		if f.Through {
			return "cast slot"
		}
		return "cast pocket"
	case Gone:
		return "lost wood"
	case Bark:
		return "bark pocket"
	case Soft:
		return "soft wood"
	case Worm:
		return "worm holes"
	case Hole:
		return "old hole"
	}
	return string(f.Kind)
}

// Between is what of a flaw lies between two depths below the show face of a
// piece that is rough mm thick.
func (f Flaw) Between(from, to, rough float64) (Flaw, bool) {
	if f.Through {
		share := from / rough
		if f.Under {
			share = 1 - to/rough
		}
		out := f.At(share)
		if f.Tilted() {
			tilt := f.Tilt.Scale((to - from) / rough)
			out.Tilt = &tilt
		}
		out.Depth = to - from
		return out, true
	}
	if f.Under { // from the under face, the depths run the other way
		from, to = rough-to, rough-from
	}
	left := f.Depth - max(0, from)
	if left <= 0.1 {
		return f, false
	}
	passed := max(0, from) / f.Depth
	switch {
	case f.Kind == Crack && !f.Slot:
		if f.Width *= 1 - passed; f.Width < hairline {
			return f, false
		}
	case f.Kind == Knot && !f.Sound():
		k := math.Sqrt(1 - passed*passed)
		f.A, f.B = max(0.2, f.A*k), max(0.2, f.B*k)
	}
	f.Depth = left
	if left >= to-from {
		f.Depth, f.Through = to-from, true
	}
	return f, true
}
