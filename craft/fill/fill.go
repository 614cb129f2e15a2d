// Package fill reckons voids: what of them falls within a board, how much
// they hold, what to fill them with, and what resin to mix. Lengths in mm,
// volumes in ml, masses in grams, times in minutes unless said otherwise.
package fill

import (
	"math"
	"sort"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/rule"
	"idletimber/craft/slab"
)

// Choice is how a board's voids are filled.
type Choice struct {
	Resin   string            `json:"resin" enum:"quick,coating,casting,deep pour"`
	ByMass  bool              `json:"byMass" doc:"Proportion by mass, otherwise by volume"`
	Reserve float64           `json:"reserve" doc:"Spare resin against leaks, ml"`
	Fillers map[string]string `json:"fillers" doc:"Filler chosen by hand, by flaw id"`
}

// Check reports an unknown choice.
func (c Choice) Check(field string) (ps craft.Problems) {
	ps.OneOf(field+".resin", c.Resin, kindNames()...)
	ps.Range(field+".reserve", c.Reserve, 0, 20000)
	names := make([]string, len(fillers))
	for i, f := range fillers {
		names[i] = f.Name
	}
	for id, name := range c.Fillers {
		ps.OneOf(field+".fillers."+id, name, names...)
	}
	return ps
}

// bottomless is deeper than any slab; the board's other face cuts it off, mm.
const bottomless = 1e5

// excess is the volume of a flaw inside the ring that lies deeper than h
// below its face, mm³, without regard to the board's other face.
func excess(f slab.Flaw, inside geom.Ring, h float64, pocket float64) float64 {
	depth := f.Depth
	if f.Through {
		depth = bottomless
	}
	left := max(0, depth-h)
	switch f.Kind {
	case slab.Crack:
		var length float64
		for _, part := range geom.Within(f.Line, inside) {
			length += geom.Length(part)
		}
		if f.Slot || f.Through {
			return length * f.Width * left
		}
		return length * f.Width * left * left / (2 * depth)
	case slab.Knot:
		switch {
		case f.Sound():
			return 0
		case f.Through:
			return areaWithin(f, inside) * left
		}
		return f.Ellipse().Bowl(inside, depth, h)
	case slab.Bark, slab.Soft:
		return areaWithin(f, inside) * left * pocket
	case slab.Worm:
		count := math.Ceil(float64(f.Count)*f.Ellipse().Share(inside) - 1e-6)
		return count * math.Pi / 4 * f.Diameter * f.Diameter * left
	}
	return areaWithin(f, inside) * left
}

// areaWithin is the part of a flaw's face that lies inside the ring, mm².
func areaWithin(f slab.Flaw, inside geom.Ring) float64 {
	if f.Kind == slab.Bark || f.Kind == slab.Soft {
		var area float64
		for _, r := range geom.Common(f.Line, inside) {
			area += r.Area()
		}
		return area
	}
	return math.Pi * f.A * f.B * f.Ellipse().Share(inside)
}

// Volume in ml of the part of a flaw inside the ring (slab's frame) in a
// board t mm thick, after flattening took off mm from the flaw's face.
func Volume(f slab.Flaw, inside geom.Ring, t, off float64, rules rule.Set) float64 {
	pocket := rules.Get(rule.PocketFill)
	return max(0, excess(f, inside, off, pocket)-excess(f, inside, off+t, pocket)) / 1000
}

// Option is one filler for a void.
type Option struct {
	Name   string  `json:"name"`
	Fits   bool    `json:"fits"`
	Wait   float64 `json:"wait" doc:"Minutes until it can be worked"`
	Food   string  `json:"food" doc:"Whether it may lie on a food face"`
	Reason string  `json:"reason"`
}

// Void is the part of a flaw that falls within the board.
type Void struct {
	Flaw    string   `json:"flaw"`
	Name    string   `json:"name"`
	Under   bool     `json:"under" doc:"Only on the board's underside"`
	Through bool     `json:"through"`
	Width   float64  `json:"width" doc:"On the face, mm"`
	Depth   float64  `json:"depth" doc:"After flattening, mm"`
	Area    float64  `json:"area" doc:"On the face, mm²"`
	Volume  float64  `json:"volume" doc:"ml"`
	Count   int      `json:"count"`
	Options []Option `json:"options" doc:"Fillers, the best first"`
	Chosen  string   `json:"chosen"`
	ByHand  bool     `json:"byHand"`
}

// Site is the board that voids are looked for in.
type Site struct {
	Flaws       []slab.Flaw
	Outline     geom.Ring // slab's frame
	Thickness   float64   // when voids are filled, mm
	Off         float64   // flattening took off each face, mm
	Flipped     bool      // the slab's under face is the show face
	Temperature float64   // of the shop, °C
	Rules       rule.Set
}

// Voids finds the voids of a board and ranks what fills them.
func Voids(s Site, c Choice) []Void {
	var out []Void
	box := s.Outline.Bounds()
	for _, f := range s.Flaws {
		if f.Sound() {
			continue
		}
		if b := f.Footprint().Bounds(); b.MinX > box.MaxX || b.MaxX < box.MinX || b.MinY > box.MaxY || b.MaxY < box.MinY {
			continue
		}
		volume := Volume(f, s.Outline, s.Thickness, s.Off, s.Rules)
		if volume < 0.001 {
			continue
		}
		v := Void{
			Flaw: f.ID, Name: f.Name(), Through: f.Through || f.Depth-s.Off >= s.Thickness,
			Depth: min(s.Thickness, f.Depth-s.Off), Volume: volume, Count: 1,
		}
		if f.Through {
			v.Depth = s.Thickness
		}
		v.Under = !v.Through && f.Under != s.Flipped
		switch f.Kind {
		case slab.Crack:
			v.Width = f.Width
			if !f.Slot && !f.Through {
				v.Width *= v.Depth / f.Depth
			}
			for _, part := range geom.Within(f.Line, s.Outline) {
				v.Area += geom.Length(part) * f.Width
			}
		case slab.Bark, slab.Soft:
			v.Area = areaWithin(f, s.Outline)
			v.Width = math.Sqrt(v.Area)
		case slab.Worm:
			v.Width = f.Diameter
			v.Count = int(math.Ceil(float64(f.Count)*f.Ellipse().Share(s.Outline) - 1e-6))
			v.Area = float64(v.Count) * math.Pi / 4 * f.Diameter * f.Diameter
		default:
			v.Width = 2 * min(f.A, f.B)
			v.Area = areaWithin(f, s.Outline)
		}
		v.Options = rank(v, f.Kind, kindOf(c.Resin), s.Temperature)
		v.Chosen = v.Options[0].Name
		if name, ok := c.Fillers[f.ID]; ok {
			v.Chosen, v.ByHand = name, true
		}
		out = append(out, v)
	}
	return out
}

// caLayers is how many layers of cyanoacrylate are worth the patience.
const caLayers = 3

// filler is a way to fill a void.
type filler struct {
	Name string
	Wait float64 // minutes; of epoxy by its kind
	Food string
	Good string // what it is good for
	fits func(v Void, k slab.Kind) (bool, string)
}

const perSheet = "per its data sheet"

var fillers = []filler{
	{"leave", 0, "–", "nothing to do", func(v Void, k slab.Kind) (bool, string) {
		return v.Under, "what shows only on the underside"
	}},
	{"thin CA", 10, "yes when cured", "runs into worm holes and hairlines, layer on layer", func(v Void, k slab.Kind) (bool, string) {
		return v.Width <= 3 && v.Depth <= caLayers*3 && !v.Through, "up to 3 mm wide, in at most three layers of 3 mm"
	}},
	{"medium CA, tinted", 20, "yes when cured", "fills small holes in layers, tinted to match", func(v Void, k slab.Kind) (bool, string) {
		return v.Width <= 5 && v.Depth <= 6, "up to 5 mm wide and 6 mm deep"
	}},
	{"glue and sanding dust", 60, "yes", "tear-out and seams", func(v Void, k slab.Kind) (bool, string) {
		return v.Width <= 1 && v.Depth <= 3, "up to 1 mm wide"
	}},
	{"putty", 240, perSheet, "shallow seams", func(v Void, k slab.Kind) (bool, string) {
		return v.Width <= 4 && v.Depth <= 4, "up to 4 mm wide and deep, not in a groove or handle"
	}},
	{"wicked thin glue", 240, "yes", "drawn into a deep hairline", func(v Void, k slab.Kind) (bool, string) {
		return k == slab.Crack && v.Width <= 0.6, "hairline cracks"
	}},
	{"epoxy", 0, perSheet, "anything larger, and whatever carries load", func(v Void, k slab.Kind) (bool, string) {
		return true, ""
	}},
}

// rank orders the fillers: those that fit first, then by the time they take,
// then in the table's order, which is by cost.
func rank(v Void, k slab.Kind, r Resin, temperature float64) []Option {
	out := make([]Option, 0, len(fillers))
	for _, f := range fillers {
		ok, limit := f.fits(v, k)
		o := Option{Name: f.Name, Fits: ok, Wait: f.Wait, Food: f.Food, Reason: f.Good}
		if !ok {
			o.Reason = "for " + limit
		}
		if f.Name == "epoxy" {
			o.Wait = r.pours(v.Depth) * r.SandHours * 60 * slower(temperature)
		}
		out = append(out, o)
	}
	sort.SliceStable(out, func(i, j int) bool {
		if out[i].Fits != out[j].Fits {
			return out[i].Fits
		}
		return out[i].Wait < out[j].Wait
	})
	return out
}
