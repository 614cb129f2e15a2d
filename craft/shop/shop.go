// Package shop is the workshop: its machines and their limits, what lies in
// its drawers, its air, its hours and its habits.
package shop

import (
	"fmt"
	"slices"
	"time"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/finish"
	"idletimber/craft/fitting"
	"idletimber/craft/giving"
	"idletimber/craft/measure"
	"idletimber/craft/moisture"
	"idletimber/craft/money"
	"idletimber/craft/plan"
	"idletimber/craft/river"
	"idletimber/craft/rule"
	"idletimber/craft/species"
	"idletimber/craft/tool"
)

// Shop is one workshop.
type Shop struct {
	Name      string         `json:"name" doc:"What it is called"`
	Units     measure.Unit   `json:"units" enum:"mm,in" doc:"That lengths are shown in"`
	Mass      measure.Mass   `json:"mass,omitempty" enum:",g,oz" doc:"What is weighed in; empty goes with lengths"`
	Warmth    measure.Warmth `json:"warmth,omitempty" enum:",°C,°F" doc:"Of temperatures; empty goes with lengths"`
	Paper     string         `json:"paper" enum:"A4,Letter" doc:"That sheets are printed on"`
	TimeZone  string         `json:"timeZone" doc:"IANA name"`
	Air       moisture.Air   `json:"air" doc:"In the shop"`
	Home      moisture.Home  `json:"home" doc:"That boards usually go to"`
	Grits     []int          `json:"grits" doc:"Abrasives in the drawer"`
	ScaleStep float64        `json:"scaleStep" range:"0.001,100" doc:"Smallest step of the scale, g"`
	ScaleMost float64        `json:"scaleMost,omitempty" range:"0,100000" doc:"That the scale bears, g; 0 if not known"`
	Cup       float64        `json:"cup,omitempty" range:"0,100000" doc:"That the mixing cup holds, ml; 0 if not known"`
	Sessions  []plan.Session `json:"sessions" doc:"Hours at the bench"`
	Rules     rule.Set       `json:"rules" doc:"Rules of thumb that differ from the usual, by key"`

	tool.Kit

	Slicers  []fitting.Kit     `json:"slicers,omitempty" doc:"Slicer kits that are kept by name"`
	Pulls    []fitting.PullKit `json:"pulls,omitempty" doc:"Pulls that are kept by name"`
	Rounds   []board.Round     `json:"rounds,omitempty" doc:"Radii of things at hand"`
	Profiles []board.Profile   `json:"profiles,omitempty" doc:"Edges that are kept by name"`
	Moulds   []river.Kept      `json:"moulds,omitempty" doc:"Moulds on the shelf"`
	Hand     board.Hand        `json:"hand,omitzero" doc:"The maker's, for which grips are made"`

	Setups   []tool.Setup       `json:"setups,omitempty" doc:"How machines are set, kept by name"`
	Finishes []finish.Kept      `json:"finishes,omitempty" doc:"Finishes that are kept by name"`
	Prices   map[string]float64 `json:"prices,omitempty" doc:"What a kilogram of a finish cost, cents, by product"`

	Money *money.Rates `json:"money,omitempty" doc:"What prices are reckoned by; left out for the usual"`

	Languages []giving.Language `json:"languages,omitempty" doc:"That cards are written in besides English"`

	Helpers []plan.Helper  `json:"helpers,omitempty" doc:"Who help at the bench, in sessions of their own"`
	Off     []plan.Leave   `json:"off,omitempty" doc:"Days on which nobody, or one of them, is at the bench"`
	Ordered []plan.Ordered `json:"ordered,omitempty" doc:"Tools and supplies that are on order"`

	Meter   moisture.Meter    `json:"meter,omitzero" doc:"Of moisture"`
	Species []species.Species `json:"species,omitempty" doc:"The maker's own, besides the table"`
}

// Usual is a small shop to begin with.
func Usual() Shop {
	return Shop{
		Name: "My shop", Units: measure.Millimetre, Paper: "A4", TimeZone: "UTC",
		Air: moisture.Air{Temperature: 18, Humidity: 50}, Home: moisture.UsualHome,
		Kit:       tool.Usual(),
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

// System is what the shop measures in.
func (s Shop) System() measure.System {
	return measure.System{Length: s.Units, Mass: s.Mass, Warmth: s.Warmth}
}

// Rates are what its prices are reckoned by.
func (s Shop) Rates() money.Rates {
	if s.Money == nil {
		return money.Usual()
	}
	return *s.Money
}

// Zone is the shop's time zone.
func (s Shop) Zone() (*time.Location, error) { return time.LoadLocation(s.TimeZone) }

// Check reports what is out of range or unknown; grits lists the ones known.
func (s Shop) Check(field string, grits []int) (ps craft.Problems) {
	ps.InRange(field, s)
	ps.OneOf(field+".units", string(s.Units), string(measure.Millimetre), string(measure.Inch))
	ps.OneOf(field+".mass", string(s.Mass), "", string(measure.Gram), string(measure.Ounce))
	ps.OneOf(field+".warmth", string(s.Warmth), "", string(measure.Celsius), string(measure.Fahrenheit))
	ps.OneOf(field+".paper", s.Paper, "A4", "Letter")
	if _, err := s.Zone(); err != nil || s.TimeZone == "" || s.TimeZone == "Local" { // which is the machine's
		ps.Add(
			field+".timeZone",
			fmt.Sprintf("%q is not a time zone", s.TimeZone),
			"write it like Europe/Vienna or UTC",
		)
	}
	if s.Name == "" || len(s.Name) > 200 {
		ps.Add(field+".name", "the name is empty or too long", "give a name of 1 to 200 characters")
	}
	ps = append(ps, s.Air.Check(field+".air")...)
	ps = append(ps, s.Home.Check(field+".home")...)
	ps = append(ps, s.Meter.Check(field+".meter")...)
	if s.Money != nil {
		ps = append(ps, s.Money.Check(field+".money")...)
	}
	ps = append(ps, giving.CheckLanguages(field+".languages", s.Languages)...)
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
	ps = append(ps, s.Kit.Check(field)...)
	if len(s.Slicers) > 50 || len(s.Pulls) > 50 {
		ps.Add(field+".slicers", "there are too many kits", "keep at most 50 of slicers, and of pulls")
		return ps
	}
	if len(s.Rounds) > 100 || len(s.Profiles) > 100 {
		ps.Add(field+".rounds", "there are too many radii or profiles", "keep at most 100 of each")
		return ps
	}
	ps.InRange(field+".hand", s.Hand)
	ps = append(ps, tool.CheckSetups(field+".setups", s.Setups)...)
	if len(s.Moulds) > 100 {
		ps.Add(field+".moulds", "there are too many moulds", "keep at most 100")
		return ps
	}
	for i, m := range s.Moulds {
		at := fmt.Sprintf("%s.moulds[%d]", field, i)
		ps.InRange(at, m)
		if m.Name == "" || len(m.Name) > 200 {
			ps.Add(at+".name", "the name is empty or too long", "give a name of 1 to 200 characters")
		}
	}
	if len(s.Finishes) > 100 || len(s.Prices) > 100 {
		ps.Add(field+".finishes", "there are too many finishes or prices", "keep at most 100 of each")
		return ps
	}
	for i, f := range s.Finishes {
		at := fmt.Sprintf("%s.finishes[%d]", field, i)
		if f.Name == "" || len(f.Name) > 200 {
			ps.Add(at+".name", "the name is empty or too long", "give a name of 1 to 200 characters")
		}
		ps = append(ps, f.Choice().Check(at)...)
	}
	for product, price := range s.Prices {
		at := field + ".prices." + product
		if _, ok := finish.ProductOf(product); !ok {
			ps.Add(at, "no such product", "leave it out")
		}
		ps.Range(at, price, 0, 10_000_000)
	}
	for i, r := range s.Rounds {
		ps = append(ps, r.Check(fmt.Sprintf("%s.rounds[%d]", field, i))...)
	}
	for i, e := range s.Profiles {
		ps = append(ps, e.Check(fmt.Sprintf("%s.profiles[%d]", field, i))...)
	}
	for i, k := range s.Pulls {
		ps = append(ps, k.Check(fmt.Sprintf("%s.pulls[%d]", field, i))...)
	}
	for i, k := range s.Slicers {
		ps = append(ps, k.Check(fmt.Sprintf("%s.slicers[%d]", field, i))...)
	}
	if len(s.Grits) > 50 || len(s.Sessions) > 50 {
		ps.Add(field, "one of its lists is too long", "keep at most 50 grits and sessions")
	}
	for i, g := range s.Grits {
		if !slices.Contains(grits, g) {
			ps.Add(
				fmt.Sprintf("%s.grits[%d]", field, i),
				fmt.Sprintf("P%d is not a known grit", g),
				fmt.Sprintf("choose from %v", grits),
			)
		}
	}
	ps = append(ps, s.checkHours(field)...)
	return append(ps, s.Rules.Check(field+".rules")...)
}

// checkHours reports what is wrong with the sessions, with those who help, and with the days that are off or awaited.
func (s Shop) checkHours(field string) (ps craft.Problems) {
	if len(s.Helpers) > 20 || len(s.Off) > 100 || len(s.Ordered) > 100 {
		ps.Add(
			field+".helpers",
			"one of its lists is too long",
			"keep at most 20 helpers, 100 days off and 100 orders",
		)
		return ps
	}
	who := []string{""}
	for i, h := range s.Helpers {
		at := fmt.Sprintf("%s.helpers[%d]", field, i)
		if h.Name == "" || len(h.Name) > 200 || slices.Contains(who, h.Name) {
			ps.Add(at+".name", "the name is empty, too long or used twice", "give everybody a name of their own")
		}
		who = append(who, h.Name)
		for k, kind := range h.Does {
			if !slices.Contains(plan.Kinds(), kind) {
				ps.Add(
					fmt.Sprintf("%s.does[%d]", at, k),
					fmt.Sprintf("%q is no kind of work", kind),
					"take one of the list",
				)
			}
		}
	}
	for i, session := range s.Sessions {
		at := fmt.Sprintf("%s.sessions[%d]", field, i)
		ps = append(ps, session.Check(at)...)
		ps.OneOf(at+".who", session.Who, who...)
	}
	day := func(at, text string) {
		if _, err := time.Parse(time.DateOnly, text); err != nil {
			ps.Add(at, fmt.Sprintf("%q is not a day", text), "write it like 2031-06-20")
		}
	}
	for i, l := range s.Off {
		at := fmt.Sprintf("%s.off[%d]", field, i)
		day(at+".from", l.From)
		day(at+".to", l.To)
		if l.To < l.From {
			ps.Add(at+".to", "it comes before the first day", "give the last day that is off")
		}
		if len(l.Why) > 200 {
			ps.Add(at+".why", "the text is too long", "use at most 200 characters")
		}
		ps.OneOf(at+".who", l.Who, who...)
	}
	for i, o := range s.Ordered {
		at := fmt.Sprintf("%s.ordered[%d]", field, i)
		if o.What == "" || len(o.What) > 200 {
			ps.Add(at+".what", "the name is empty or too long", "name a tool or a supply")
		}
		day(at+".day", o.Day)
	}
	return ps
}
