// Package shop is the workshop: its machines and their limits, what lies in
// its drawers, its air, its hours and its habits.
package shop

import (
	"fmt"
	"slices"
	"time"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/measure"
	"idletimber/craft/moisture"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/species"
)

// Machines are the limits of the shop's machines, mm; 0 where there is none.
type Machines struct {
	PlanerWidth    float64 `json:"planerWidth" doc:"Widest blank through the planer or drum"`
	PlanerShortest float64 `json:"planerShortest" doc:"Shortest piece that is safe through it"`
	CrossCut       float64 `json:"crossCut" doc:"Widest cross-cut of the mitre or table saw"`
	SawThickness   float64 `json:"sawThickness" doc:"Thickest stock the curve saw takes"`
	DrillTravel    float64 `json:"drillTravel,omitempty" doc:"How far the drill press travels"`
}

// Saw is a saw for outlines, with the width of its cut.
type Saw struct {
	Name   string
	Kerf   float64
	Wander float64 // how far it strays from the line that it is led along
}

// Saws lists the saws for outlines with their kerf and wander, mm (rules).
var Saws = []Saw{{"band saw", 1.5, 0.5}, {"jigsaw", 2, 1}, {"track saw", 3, 0}, {"table saw", 3, 0}, {"hand saw", 1.2, 0.5}}

// Kerf is the width of a saw's cut, mm.
func Kerf(saw string) float64 { return sawOf(saw).Kerf }

// Wander is how far a saw strays from its line, mm.
func Wander(saw string) float64 { return sawOf(saw).Wander }

func sawOf(name string) Saw {
	for _, s := range Saws {
		if s.Name == name {
			return s
		}
	}
	return Saws[0]
}

// Shop is one workshop.
type Shop struct {
	Name      string         `json:"name"`
	Units     measure.Unit   `json:"units" enum:"mm,in"`
	Paper     string         `json:"paper" enum:"A4,Letter"`
	TimeZone  string         `json:"timeZone" doc:"IANA name"`
	Air       moisture.Air   `json:"air"`
	Home      moisture.Home  `json:"home"`
	Machines  Machines       `json:"machines"`
	Blades    []board.Blade  `json:"blades"`
	Bits      []float64      `json:"bits" doc:"Diameters of boring bits"`
	Grits     []int          `json:"grits" doc:"Abrasives in the drawer"`
	ScaleStep float64        `json:"scaleStep" doc:"Smallest step of the scale, g"`
	Sessions  []plan.Session `json:"sessions"`
	Rules     rule.Set       `json:"rules"`

	Drums  []float64    `json:"drums,omitempty" doc:"Radii of spindles and drums that sand hollows"`
	Router board.Router `json:"router,omitzero"`

	Meter   moisture.Meter    `json:"meter,omitzero"`
	Species []species.Species `json:"species,omitempty" doc:"The maker's own, besides the table"`
}

// Usual is a small shop to begin with.
func Usual() Shop {
	return Shop{
		Name: "My shop", Units: measure.Millimetre, Paper: "A4", TimeZone: "UTC",
		Air: moisture.Air{Temperature: 18, Humidity: 50}, Home: moisture.UsualHome,
		Machines:  Machines{PlanerWidth: 310, PlanerShortest: 300, CrossCut: 300, SawThickness: 150, DrillTravel: 60},
		Drums:     []float64{6.5, 13, 25},
		Router:    usualRouter,
		Blades:    []board.Blade{{Name: "band saw, 1/4\" blade", Radius: 16}, {Name: "jigsaw", Radius: 25}},
		Bits:      []float64{6, 8, 10, 20, 25, 28, 30, 35},
		Grits:     []int{60, 80, 100, 120, 150, 180, 220, 320, 400},
		ScaleStep: 1,
		Sessions: []plan.Session{
			{Weekday: time.Tuesday, Start: "19:00", End: "21:30"},
			{Weekday: time.Thursday, Start: "19:00", End: "21:30"},
			{Weekday: time.Saturday, Start: "09:00", End: "13:00"},
		},
		Rules: rule.Set{},
	}
}

// usualRouter is a small router with a handful of bits.
var usualRouter = board.Router{
	Base: 150, Bushes: []float64{17, 24, 30},
	Bits: []board.RouterBit{
		{Kind: "straight", Diameter: 6, Length: 16}, {Kind: "straight", Diameter: 12, Length: 25},
		{Kind: "round nose", Diameter: 12, Length: 14}, {Kind: "round nose", Diameter: 8, Length: 12},
		{Kind: "flush trim", Diameter: 12.7, Length: 25, Bearing: 12.7},
		{Kind: "round-over", Diameter: 6, Length: 12, Bearing: 9.5}, {Kind: "chamfer", Diameter: 22, Length: 12, Bearing: 9.5},
	},
}

// Zone is the shop's time zone.
func (s Shop) Zone() (*time.Location, error) { return time.LoadLocation(s.TimeZone) }

// Check reports what cannot be reckoned with; grits lists the ones known.
func (s Shop) Check(field string, grits []int) (ps craft.Problems) {
	ps.OneOf(field+".units", string(s.Units), string(measure.Millimetre), string(measure.Inch))
	ps.OneOf(field+".paper", s.Paper, "A4", "Letter")
	if _, err := s.Zone(); err != nil || s.TimeZone == "" {
		ps.Add(field+".timeZone", fmt.Sprintf("%q is not a time zone", s.TimeZone), "write it like Europe/Vienna or UTC")
	}
	if s.Name == "" || len(s.Name) > 200 {
		ps.Add(field+".name", "the name is empty or too long", "give a name of 1 to 200 characters")
	}
	ps = append(ps, s.Air.Check(field+".air")...)
	ps = append(ps, s.Home.Check(field+".home")...)
	ps = append(ps, s.Meter.Check(field+".meter")...)
	if len(s.Species) > 200 {
		ps.Add(field+".species", "there are too many", "keep at most 200 of your own")
		return ps
	}
	named := map[string]bool{}
	for i, own := range s.Species {
		at := fmt.Sprintf("%s.species[%d]", field, i)
		ps = append(ps, own.Check(at)...)
		if named[own.Name] {
			ps.Add(at+".name", fmt.Sprintf("%q is there twice", own.Name), "give each wood a name of its own")
		}
		named[own.Name] = true
	}
	ps.Length(field+".machines.planerWidth", s.Machines.PlanerWidth, 0, 3000)
	ps.Length(field+".machines.planerShortest", s.Machines.PlanerShortest, 0, 3000)
	ps.Length(field+".machines.crossCut", s.Machines.CrossCut, 0, 5000)
	ps.Length(field+".machines.sawThickness", s.Machines.SawThickness, 0, 1000)
	ps.Length(field+".machines.drillTravel", s.Machines.DrillTravel, 0, 500)
	ps = append(ps, s.Router.Check(field+".router")...)
	ps.Range(field+".scaleStep", s.ScaleStep, 0.001, 100)
	if len(s.Blades) > 50 || len(s.Bits) > 100 || len(s.Grits) > 50 || len(s.Sessions) > 50 || len(s.Drums) > 40 {
		ps.Add(field, "one of its lists is too long", "keep at most 50 blades, grits and sessions, 40 drums and 100 bits")
	}
	for i, b := range s.Blades {
		ps.Length(fmt.Sprintf("%s.blades[%d].radius", field, i), b.Radius, 0, 1000)
	}
	for i, b := range s.Bits {
		ps.Length(fmt.Sprintf("%s.bits[%d]", field, i), b, 1, 150)
	}
	for i, d := range s.Drums {
		ps.Length(fmt.Sprintf("%s.drums[%d]", field, i), d, 1, 300)
	}
	for i, g := range s.Grits {
		if !slices.Contains(grits, g) {
			ps.Add(fmt.Sprintf("%s.grits[%d]", field, i), fmt.Sprintf("P%d is not a known grit", g), fmt.Sprintf("choose from %v", grits))
		}
	}
	for i, session := range s.Sessions {
		ps = append(ps, session.Check(fmt.Sprintf("%s.sessions[%d]", field, i))...)
	}
	return append(ps, s.Rules.Check(field+".rules")...)
}

// UsualBlades lists what saws curves, with the least radius it turns, mm (rule).
var UsualBlades = []board.Blade{
	{Name: "band saw, 1/8\" blade", Radius: 5}, {Name: "band saw, 3/16\" blade", Radius: 8}, {Name: "band saw, 1/4\" blade", Radius: 16},
	{Name: "band saw, 3/8\" blade", Radius: 36}, {Name: "band saw, 1/2\" blade", Radius: 64}, {Name: "band saw, 3/4\" blade", Radius: 138},
	{Name: "jigsaw, scroll blade", Radius: 12}, {Name: "jigsaw", Radius: 25},
}
