package board

import (
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/measure"
	"idletimber/craft/rule"
)

// Press is a change of a design that a maker may like, by one press.
type Press struct {
	Label  string      `json:"label" doc:"What is changed"`
	Amount float64     `json:"amount" doc:"Stands for {} in the label, mm"`
	Patch  craft.Patch `json:"patch" doc:"JSON merge patch on the board"`
}

// plains are the shapes that leave the figure of the wood to itself.
var plains = []Shape{Rectangle, Square, Oval, Circle, Plank}

// Presses are changes that are offered beside the dimensions of a shape: a round end that
// follows its hole at the wood that the shop wants around one, mirrored over the centre
// line; a plain outline first, where the wood is figured.
func (s Shaped) Presses(c Conditions) []Press {
	out := []Press{}
	d := s.Design
	if len(d.AsCut) > 0 {
		return out
	}
	if c.Figured && !slices.Contains(plains, d.Shape) {
		out = append(out, Press{
			Label: "Figured wood asks little shaping: take a plain outline", Amount: 0,
			Patch: craft.Patch{"design": map[string]any{"shape": Rectangle, "corner": 6}},
		})
	}
	if d.Handle.Kind != Hole {
		return out
	}
	web := SetWeb(c)
	round := d.Handle.Diameter/2 + web
	change := func(label string, change func(*Design)) {
		next := d.apart()
		change(&next)
		patch := craft.Difference(d, next)
		if len(patch) > 0 {
			out = append(out, Press{label, web, craft.Patch{"design": map[string]any(patch)}})
		}
	}
	hole := func(d *Design) { d.Handle.Setback, d.Handle.Offset, d.Handle.Turn = round, 0, 0 }
	switch d.Shape {
	case Paddle:
		change("Let the neck's end follow the hole, {} of wood about it", func(d *Design) {
			d.Neck, d.Tip = min(2*round, d.Width), 0
			hole(d)
		})
	case Teardrop:
		change("Let the tip follow the hole, {} of wood about it", func(d *Design) {
			d.Tip = round
			hole(d)
		})
	case Rectangle, Bladed:
		if d.Width <= 2*round {
			return out
		}
		change("Let the handle end narrow to a neck about the hole, {} of wood about it", func(d *Design) {
			d.Shape, d.Neck, d.Tip = Paddle, 2*round, 0
			d.NeckLength, d.Shoulder = min(2.2*round, d.Length/3), round
			hole(d)
		})
	}
	return out
}

// SetWeb is how much wood an outline leaves about a hole that it follows, mm.
func SetWeb(c Conditions) float64 { return math.Ceil(max(webFloor(c), c.Rules.Get(rule.WebFloor))) }

// Format is a size of board that is often made, mm.
type Format struct {
	Name   string  `json:"name" doc:"What it is for"`
	Length float64 `json:"length" doc:"mm"`
	Width  float64 `json:"width" doc:"mm"`
}

// Formats are the sizes that are often made, as they are measured in millimetres.
var Formats = []Format{
	{
		"cheese for two",
		280,
		160,
	}, {"serving board", 360, 200}, {"bread board", 400, 250}, {"long table board", 600, 180},
	{"carving board", 450, 330}, {"pizza board", 400, 360}, {"pasta board", 600, 450}, {"coaster", 100, 100},
}

// FormatsIn are the same as they are measured in inches.
var FormatsIn = inInches(
	Format{"cheese for two", 11, 6.5}, Format{"serving board", 14, 8}, Format{"bread board", 16, 10},
	Format{"long table board", 24, 7}, Format{"carving board", 18, 13}, Format{"pizza board", 16, 14},
	Format{"pasta board", 24, 18}, Format{"coaster", 4, 4},
)

func inInches(of ...Format) []Format {
	for i := range of {
		of[i].Length, of[i].Width = of[i].Length*measure.MMPerInch, of[i].Width*measure.MMPerInch
	}
	return of
}

// Round is a radius that is kept by the name of the thing at hand that gives it.
type Round struct {
	Name   string  `json:"name" doc:"A jar lid, a coin, a tin"`
	Radius float64 `json:"radius" mm:"1,1000" doc:"mm"`
}

// Profile is an edge that is kept by name.
type Profile struct {
	Name string `json:"name" doc:"As the maker calls it"`
	Edge Edge   `json:"edge" doc:"What it is"`
}

// named reports a name that is missing or too long.
func named(field, name string) (ps craft.Problems) {
	if name == "" || len(name) > 200 {
		ps.Add(field+".name", "the name is empty or too long", "give a name of 1 to 200 characters")
	}
	return ps
}

// Check reports what cannot be.
func (r Round) Check(field string) craft.Problems {
	ps := named(field, r.Name)
	ps.InRange(field, r)
	return ps
}

// Check reports what cannot be.
func (p Profile) Check(field string) craft.Problems {
	return append(named(field, p.Name), p.Edge.check(field+".edge")...)
}
