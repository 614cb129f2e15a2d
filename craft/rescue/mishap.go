package rescue

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"time"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/stock"
)

// Report is what a maker tells of a mishap. Places are in the board's frame, seen from its show face, in mm.
type Report struct {
	Kind      string       `json:"kind" doc:"What went wrong, such as deep"`
	Line      []geom.Point `json:"line,omitempty" doc:"Along which it was cut, or is cracked"`
	Area      []geom.Point `json:"area,omitempty" doc:"Corners of what is gone, or spoiled"`
	Place     *geom.Point  `json:"place,omitempty" doc:"Middle of the hole, or of the screw, as it is"`
	Under     bool         `json:"under,omitempty" doc:"It is on the under face"`
	Depth     float64      `json:"depth,omitempty" mm:"0,200" doc:"From its face; left out: through, or skin deep"`
	Thickness float64      `json:"thickness,omitempty" mm:"0,200" doc:"That the board has now at its thinnest"`
}

// mostCorners bounds a mark.
const mostCorners = 200

// Check reports a kind that is not known, and what is to be marked for it and is not.
func (r Report) Check(field string) (ps craft.Problems) {
	kind, ok := KindOf(r.Kind)
	if !ok {
		ps.OneOf(field+".kind", r.Kind, Keys()...)
		return ps
	}
	ps.InRange(field, r)
	for _, mark := range []struct {
		name   string
		points []geom.Point
	}{{"line", r.Line}, {"area", r.Area}} {
		at := field + "." + mark.name
		if len(mark.points) > mostCorners {
			ps.Add(at, "it has too many points", fmt.Sprintf("mark it with at most %d", mostCorners))
		}
		for _, p := range mark.points {
			checkPlace(&ps, at, p)
		}
	}
	if r.Place != nil {
		checkPlace(&ps, field+".place", *r.Place)
	}
	if len(r.Line) == 1 || len(r.Area) == 1 || len(r.Area) == 2 {
		ps.Add(field, "the mark is too short", "mark a line from end to end, or an area round three corners at least")
	} else if len(r.Area) > 2 && geom.Ring(r.Area).SelfCrosses() {
		ps.Add(field+".area", "the outline of the area crosses itself", "mark the corners in order round it")
	}
	switch {
	case len(kind.Marks) == 0:
	case kind.Wants(Place) && r.Place == nil:
		ps.Add(field+".place", "it is not marked", "mark where it is")
	case (kind.Wants(Line) || kind.Wants(Area)) && len(r.Line)+len(r.Area) == 0:
		ps.Add(field, "nothing is marked", "mark what is gone with a line or round an area")
	case kind.Wants(Thickness) && r.Thickness == 0:
		ps.Add(field+".thickness", "it is missing", "measure the board at its thinnest")
	}
	return ps
}

// checkPlace reports a place that lies on no board.
func checkPlace(ps *craft.Problems, field string, p geom.Point) {
	const far = 10_000 // mm
	ps.Length(field+".x", p.X, -far, far)
	ps.Length(field+".y", p.Y, -far, far)
}

// Mishap is something that went wrong on a board, and what was done about it. Places are in the slab's frame, where
// the wood stays when the board is drawn otherwise.
type Mishap struct {
	ID        string       `json:"id" doc:"Its own for good"`
	Kind      string       `json:"kind" doc:"What went wrong, such as deep"`
	Step      string       `json:"step" doc:"Key of the step at which it happened; empty where it was none"`
	At        time.Time    `json:"at" doc:"When"`
	Days      float64      `json:"days,omitempty" range:"0,365" doc:"Lost by it, as its maker says"`
	Gone      []stock.Flaw `json:"gone,omitempty" doc:"What it has left in the wood"`
	Sawn      bool         `json:"sawn,omitempty" doc:"The outline was sawn: there is no wood beyond it"`
	Left      []geom.Point `json:"left,omitempty" doc:"Outline of what there was of the board, where it was sawn"`
	Made      []Made       `json:"made,omitempty" doc:"Holes and recesses that were cut"`
	Done      []string     `json:"done,omitempty" doc:"Keys of the steps that were done"`
	Depth     float64      `json:"depth,omitempty" mm:"0,200" doc:"How deep it is, or how hollow, as it was told"`
	Bored     *geom.Point  `json:"bored,omitempty" doc:"Middle of a hole that was bored beside its place"`
	Thickness float64      `json:"thickness,omitempty" mm:"0,200" doc:"That the board had then, where it was measured"`
	Out       *Out         `json:"out,omitempty" doc:"The way out that was taken; left out until one is"`
}

// Made is a hole or a recess that is cut: it stays where it is.
type Made struct {
	Name  string       `json:"name" doc:"What it is"`
	Ring  []geom.Point `json:"ring" doc:"Its outline"`
	Depth float64      `json:"depth,omitempty" mm:"0,200" doc:"Of a recess; left out of a hole"`
	Under bool         `json:"under,omitempty" doc:"It is sunk into the under face of the slab"`
}

// Out is the way out that was taken.
type Out struct {
	Way     Way       `json:"way" doc:"Which"`
	Label   string    `json:"label" doc:"In words"`
	At      time.Time `json:"at" doc:"When it was taken"`
	Again   []Again   `json:"again,omitempty" doc:"Steps that were done, and are done once more"`
	Works   []Work    `json:"works,omitempty" doc:"Work that the plan does not have otherwise"`
	Days    float64   `json:"days" range:"-3650,3650" doc:"By which it is ready later"`
	Minutes float64   `json:"minutes" range:"-100000,100000" doc:"Of work that it adds"`
	Cents   int       `json:"cents" doc:"That it costs"`

	Other string         `json:"other,omitempty" doc:"Id of the board that takes its place"`
	Run   string         `json:"run,omitempty" doc:"Id of the run that the board has left, given up"`
	Back  map[string]any `json:"back,omitempty" doc:"JSON merge patch on the board that takes the way back"`
}

// Again is a step that is done once more, on a share of what it was done on.
type Again struct {
	Step  string  `json:"step" doc:"Its key in the plan"`
	Share float64 `json:"share" range:"0,1" doc:"Of its work"`
}

// Work is work of a mend of its own, by its key.
type Work struct {
	Key    string  `json:"key" doc:"Such as plug"`
	Amount float64 `json:"amount" range:"0,10000" doc:"In the unit of its rate; days of a rest"`
}

// Bounds of a stored mishap, so that no document grows beyond measure.
const (
	MostMishaps = 20
	mostGone    = 12
	mostMade    = 30
	mostDone    = 200
	MostAgain   = 60
	mostBack    = 200_000 // bytes
)

// Check reports what is out of range or unknown.
func (m Mishap) Check(field string, length float64) (ps craft.Problems) {
	if _, ok := KindOf(m.Kind); !ok {
		ps.OneOf(field+".kind", m.Kind, Keys()...)
	}
	if m.ID == "" || len(m.ID) > 64 || len(m.Step) > 64 {
		ps.Add(field+".id", "the id is empty or too long", "give it an id of its own")
	}
	ps.InRange(field, m)
	if len(m.Gone) > mostGone || len(m.Made) > mostMade || len(m.Done) > mostDone || len(m.Left) > mostLeft {
		ps.Add(field, "there is too much in it", "tell of it in several mishaps")
		return ps
	}
	if m.Sawn && len(m.Left) < 3 {
		ps.Add(field+".left", "what was left is missing", "give the outline as it was sawn")
	}
	for i, f := range m.Gone {
		ps = append(ps, f.Check(fmt.Sprintf("%s.gone[%d]", field, i), length)...)
		if f.ID == "" || len(f.ID) > 80 {
			ps.Add(fmt.Sprintf("%s.gone[%d].id", field, i), "the id is empty or too long", "give it an id of its own")
		}
	}
	for i, o := range m.Made {
		at := fmt.Sprintf("%s.made[%d]", field, i)
		ps.InRange(at, o)
		if len(o.Ring) < 3 || len(o.Ring) > mostLeft || len(o.Name) > 100 {
			ps.Add(at+".ring", "it is no outline", "give from 3 to 400 points")
		}
	}
	for _, ring := range append(rings(m.Made), m.Left) {
		for _, p := range ring {
			checkPlace(&ps, field+".left", p)
		}
	}
	return append(ps, m.Out.check(field+".out")...)
}

// mostLeft bounds the points of an outline.
const mostLeft = 400

func (o *Out) check(field string) (ps craft.Problems) {
	if o == nil {
		return nil
	}
	ps.InRange(field, *o)
	if len(o.Again) > MostAgain || len(o.Works) > MostAgain || len(o.Label) > 300 {
		ps.Add(field, "there is too much in it", fmt.Sprintf("give at most %d steps", MostAgain))
		return ps
	}
	if back, err := json.Marshal(o.Back); err != nil || len(back) > mostBack || len(o.Other)+len(o.Run) > 128 {
		ps.Add(field+".back", "it is too long", "leave it out; the way cannot be taken back then")
	}
	if !slices.Contains(ways, o.Way) {
		ps.Add(field+".way", fmt.Sprintf("%q is no way out", o.Way), "take one that is offered")
	}
	for i, a := range o.Again {
		ps.InRange(fmt.Sprintf("%s.again[%d]", field, i), a)
	}
	for i, w := range o.Works {
		at := fmt.Sprintf("%s.works[%d]", field, i)
		ps.InRange(at, w)
		if _, ok := works[w.Key]; !ok {
			ps.Add(at+".key", fmt.Sprintf("there is no such work as %q", w.Key), "take one that is offered")
		}
	}
	return ps
}

func rings(made []Made) (out [][]geom.Point) {
	for _, m := range made {
		out = append(out, m.Ring)
	}
	return out
}

// Spoiled reports a way out by which the board is given up.
func (m Mishap) Spoiled() bool {
	return m.Out != nil && slices.Contains([]Way{Begin, Rack, Spare}, m.Out.Way)
}

// kerf is how wide a line is that was cut where it should not have been, and a crack that is found, mm.
const (
	kerf  = 2
	crack = 0.4
)

// Flaws are what a report leaves in the wood, in the board's frame, where so much of each face is planed off already:
// depths are from the rough faces. Of a board so thick; what is deeper goes through.
func (r Report) Flaws(id string, off, thickness float64) (out []stock.Flaw) {
	kind, _ := KindOf(r.Kind)
	if r.Depth == 0 {
		r.Depth = kind.Skin
	}
	through := r.Depth == 0 || r.Depth >= thickness-leastFloor
	flaw := func(f stock.Flaw) {
		f.ID = fmt.Sprintf("%s-%d", id, len(out)+1)
		f.Wish, f.Under, f.Through = stock.KeepOut, r.Under && !through, through
		f.Depth = math.Max(0.1, off+r.Depth)
		if through {
			f.Depth = thickness
		}
		out = append(out, f)
	}
	if len(r.Line) > 1 {
		wide := float64(kerf)
		if kind.Cracks {
			wide = crack
		}
		flaw(stock.Flaw{Kind: stock.Crack, Line: r.Line, Width: wide, Slot: true})
	}
	if len(r.Area) > 2 {
		flaw(stock.Flaw{Kind: stock.Gone, Line: r.Area})
	}
	return out
}

// Drawn is what the mishap has left in the wood, and what was left of the board where it was sawn, as SVG in the frame
// of a board that lies so on its slab.
func (m Mishap) Drawn(at geom.Placement) (gone []string, left string) {
	gone = []string{}
	for _, f := range m.Gone {
		gone = append(gone, f.Footprint().Map(at.In).SVG())
	}
	if m.Sawn {
		left = geom.Ring(m.Left).Map(at.In).SVG()
	}
	return gone, left
}

// leastFloor is the wood that makes a floor under what is gone, mm: less is as good as through.
const leastFloor = 1
