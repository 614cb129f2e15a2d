// Package slab is the piece of wood: its edges measured at stations, its
// thickness, its flaws, and what flattening leaves of it. Lengths in mm.
//
// The frame: x along the slab from the butt end, y across from the chalk line,
// positive to the left when looking up the slab from the butt with the show
// face up.
package slab

import (
	"fmt"
	"math"
	"slices"
	"time"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/moisture"
	"idletimber/craft/species"
)

// Station is the left and right edge at a distance x from the butt end.
type Station struct {
	X     float64 `json:"x"`
	Left  float64 `json:"left" doc:"Left edge from the chalk line, positive to the left"`
	Right float64 `json:"right" doc:"Right edge from the chalk line, less than left"`
}

// Width is the distance between the edges.
func (s Station) Width() float64 { return s.Left - s.Right }

// Reading is a thickness measured at a place.
type Reading struct {
	X         float64 `json:"x"`
	Y         float64 `json:"y"`
	Thickness float64 `json:"thickness"`
}

// Slab is one piece of wood as it was measured.
type Slab struct {
	Name        string             `json:"name"`
	Species     string             `json:"species"`
	Length      float64            `json:"length"`
	Show        []Station          `json:"show" doc:"Edges of the show face"`
	Under       []Station          `json:"under,omitempty" doc:"Edges of the under face where they differ, in the same frame"`
	LiveLeft    bool               `json:"liveLeft"`
	LiveRight   bool               `json:"liveRight"`
	NaturalEnds bool               `json:"naturalEnds" doc:"The ends are kept as found: no squaring allowance"`
	Uneven      bool               `json:"uneven" doc:"The maker accepts an uneven thickness: no flattening"`
	Readings    []Reading          `json:"readings" doc:"Thickness readings"`
	Hollow      float64            `json:"hollow" doc:"Cup or bow of the whole slab, where the readings do not hold it"`
	Wind        float64            `json:"wind" doc:"Lift of the fourth corner of the whole slab"`
	Unshimmed   bool               `json:"unshimmed" doc:"Wind is planed away from one side, not shared"`
	Moisture    []moisture.Reading `json:"moisture"`
	RingAngle   float64            `json:"ringAngle" doc:"Rings to the wide face: 0 plain-sawn, 90 quarter-sawn"`
	PriceCents  int                `json:"priceCents"`
	Reclaimed   bool               `json:"reclaimed" doc:"Of unknown treatment"`
	Flaws       []Flaw             `json:"flaws"`
	Notes       string             `json:"notes"`
}

// Most bounds how much one slab may hold.
const (
	MostStations = 400
	MostFlaws    = 400
	MostReadings = 1000
)

// Check reports what cannot be reckoned with.
func (s Slab) Check(field string, now time.Time) (ps craft.Problems) {
	if s.Name == "" {
		ps.Add(field+".name", "the name is empty", "give the piece a name that you will know it by")
	}
	if len(s.Name) > 200 {
		ps.Add(field+".name", "the name is too long", "use at most 200 characters")
	}
	if len(s.Notes) > 20000 {
		ps.Add(field+".notes", "the notes are too long", "use at most 20 000 characters")
	}
	ps = append(ps, species.Check(field+".species", s.Species)...)
	ps.Length(field+".length", s.Length, 20, 10000)
	ps = append(ps, s.checkEdges(field)...)
	if len(s.Readings) == 0 || len(s.Readings) > MostReadings {
		ps.Add(field+".readings", "there must be from 1 to 1000 thickness readings", "measure the thickness at one place at least")
	}
	for i, r := range s.Readings {
		at := fmt.Sprintf("%s.readings[%d]", field, i)
		ps.Length(at+".thickness", r.Thickness, 1, 500)
		ps.Length(at+".x", r.X, 0, s.Length)
		ps.Length(at+".y", r.Y, -5000, 5000)
	}
	ps.Length(field+".hollow", s.Hollow, 0, 200)
	ps.Length(field+".wind", s.Wind, 0, 200)
	ps.Range(field+".ringAngle", s.RingAngle, 0, 90)
	ps.Range(field+".priceCents", float64(s.PriceCents), 0, 1e9)
	ps = append(ps, moisture.Check(field+".moisture", s.Moisture, now)...)
	if len(s.Flaws) > MostFlaws {
		ps.Add(field+".flaws", "there are too many flaws", "mark at most 400")
		return ps
	}
	seen := map[string]bool{}
	for i, f := range s.Flaws {
		at := fmt.Sprintf("%s.flaws[%d]", field, i)
		ps = append(ps, f.Check(at, s.Length)...)
		if f.ID == "" || len(f.ID) > 64 || seen[f.ID] {
			ps.Add(at+".id", "the id is empty, too long or used twice", "give every flaw an id of its own")
		}
		seen[f.ID] = true
	}
	return ps
}

// least is how narrow a slab may be anywhere, mm.
const least = 5

// checkEdges reports stations that cannot be, and edges that cross between them.
func (s Slab) checkEdges(field string) (ps craft.Problems) {
	checkStations(&ps, field+".show", s.Show, s.Length, true)
	checkStations(&ps, field+".under", s.Under, s.Length, false)
	if len(ps) > 0 || !(s.Length >= 20 && s.Length <= 10000) {
		return ps
	}
	w := Draw(s)
	for x := 0.0; x <= s.Length; x += step {
		switch {
		case w.left.at(x)-w.right.at(x) < least:
			ps.Add(field+".show", fmt.Sprintf("the edges come within %d mm of each other at %.0f mm", least, x), "measure both edges at one more station there")
		case w.Left(x)-w.Right(x) < least:
			ps.Add(field+".under", fmt.Sprintf("the two faces have less than %d mm in common at %.0f mm", least, x), "measure both faces from the same chalk line")
		default:
			continue
		}
		return ps
	}
	return ps
}

func checkStations(ps *craft.Problems, field string, stations []Station, length float64, needed bool) {
	if len(stations) == 0 && !needed {
		return
	}
	if len(stations) == 0 || len(stations) > MostStations {
		ps.Add(field, "there must be from 1 to 400 stations", "measure the width at one place at least")
		return
	}
	for i, s := range stations {
		at := fmt.Sprintf("%s[%d]", field, i)
		ps.Length(at+".left", s.Left, -5000, 5000)
		ps.Length(at+".right", s.Right, -5000, 5000)
		if s.Width() < least {
			ps.Add(at+".left", "the edges cross or lie less than 5 mm apart", "the left edge lies to the left of the right one; measure both from the chalk line")
		}
		if !(s.X >= 0 && s.X <= length) {
			ps.Add(at+".x", fmt.Sprintf("the station at %g mm lies off the slab", s.X), fmt.Sprintf("give a distance from 0 to its length, %g mm", length))
		}
		if i > 0 && !(s.X > stations[i-1].X) {
			ps.Add(at+".x", "the stations are out of order or fall together", "list them from the butt end up, each farther than the one before")
		}
	}
}

// Wood is a slab whose edges have been drawn.
type Wood struct {
	Slab
	left, right           curve
	underLeft, underRight curve
	core                  geom.Bounds // lies inside both edges all along
}

// Draw draws the edges of a slab that has passed Check.
func Draw(s Slab) Wood {
	w := Wood{Slab: s}
	w.left, w.right = edges(s.Show)
	w.underLeft, w.underRight = edges(s.Under)
	w.core = geom.Bounds{MinY: math.Inf(-1), MaxX: s.Length, MaxY: math.Inf(1)}
	for _, st := range slices.Concat(s.Show, s.Under) { // the edges never swing beyond their stations
		w.core.MinY, w.core.MaxY = max(w.core.MinY, st.Right), min(w.core.MaxY, st.Left)
	}
	return w
}

func edges(stations []Station) (left, right curve) {
	var x, l, r []float64
	for _, s := range stations {
		x, l, r = append(x, s.X), append(l, s.Left), append(r, s.Right)
	}
	return newCurve(x, l), newCurve(x, r)
}

// Left is the usable left edge at x: the narrower of both faces.
func (w Wood) Left(x float64) float64 {
	if len(w.Under) == 0 {
		return w.left.at(x)
	}
	return min(w.left.at(x), w.underLeft.at(x))
}

// Right is the usable right edge at x.
func (w Wood) Right(x float64) float64 {
	if len(w.Under) == 0 {
		return w.right.at(x)
	}
	return max(w.right.at(x), w.underRight.at(x))
}

// step is how far apart the points of an outline lie along the slab, mm.
const step = 4

// Outline is the show face, anticlockwise.
func (w Wood) Outline() geom.Ring { return w.ring(w.left.at, w.right.at) }

// Usable is what lies inside both faces, anticlockwise.
func (w Wood) Usable() geom.Ring { return w.ring(w.Left, w.Right) }

func (w Wood) ring(left, right func(float64) float64) geom.Ring {
	n := int(math.Ceil(w.Length / step))
	ring := make(geom.Ring, 0, 2*n+2)
	for i := range n + 1 {
		x := w.Length * float64(i) / float64(n)
		ring = append(ring, geom.Point{X: x, Y: right(x)})
	}
	for i := n; i >= 0; i-- {
		x := w.Length * float64(i) / float64(n)
		ring = append(ring, geom.Point{X: x, Y: left(x)})
	}
	return ring
}

// Clear is how far p lies inside the usable wood, mm, measured along and
// across the slab; negative outside.
func (w Wood) Clear(p geom.Point) float64 {
	return min(p.X, w.Length-p.X, w.Left(p.X)-p.Y, p.Y-w.Right(p.X))
}

// Holds reports whether p lies inside the usable wood, or outside by no more
// than the tolerance, mm.
func (w Wood) Holds(p geom.Point, tolerance float64) bool {
	return w.core.Depth(p) >= 0 || w.Clear(p) >= -tolerance
}

// Area is the area of the show face by integration, mm².
func (w Wood) Area() float64 { return span(w.left, w.Length) - span(w.right, w.Length) }

// span is the area under an edge from the butt to the far end; before the
// first station and beyond the last the edge stays level.
func span(c curve, length float64) float64 {
	n := len(c.x) - 1
	return c.integral() + c.y[0]*c.x[0] + c.y[n]*(length-c.x[n])
}

// MeanArea is the mean width of the stations times the length, mm².
func (w Wood) MeanArea() float64 {
	var sum float64
	for _, s := range w.Show {
		sum += s.Width()
	}
	return sum / float64(len(w.Show)) * w.Length
}

// MeanWidth is the area of the show face over the length, mm.
func (w Wood) MeanWidth() float64 { return w.Area() / w.Length }

// Thinnest and Thickest are the extremes of the thickness readings.
func (s Slab) Thinnest() float64 {
	t := math.Inf(1)
	for _, r := range s.Readings {
		t = min(t, r.Thickness)
	}
	return t
}

// Thickest is the largest of the thickness readings.
func (s Slab) Thickest() float64 {
	t := 0.0
	for _, r := range s.Readings {
		t = max(t, r.Thickness)
	}
	return t
}

// MeanThickness is the mean of the thickness readings.
func (s Slab) MeanThickness() float64 {
	var sum float64
	for _, r := range s.Readings {
		sum += r.Thickness
	}
	return sum / float64(len(s.Readings))
}

// boardFoot is 144 cubic inches in mm³.
const boardFoot = 144 * 25.4 * 25.4 * 25.4

// BoardFeet is the volume in board feet.
func (w Wood) BoardFeet() float64 { return w.Area() * w.MeanThickness() / boardFoot }
