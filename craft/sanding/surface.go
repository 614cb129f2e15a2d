package sanding

import (
	"fmt"
	"slices"

	"idletimber/craft"
	"idletimber/craft/tool"
)

// Tool is what a surface is sanded with: how fast it goes against an orbital sander on a face
// (rule), and which tool of the shop it is.
type Tool struct {
	Name string  `json:"name" doc:"As the trade calls it"`
	Rate float64 `json:"rate" doc:"Against an orbital sander on a face"`
	Kind string  `json:"kind" doc:"Of tool in the shop; empty where none is needed"`
	Tell string  `json:"tell" doc:"How it is held"`
}

// The tools.
const (
	Orbital = "orbital"
	Belt    = "belt"
	Drum    = "drum"
	Spindle = "spindle"
	ByHand  = "hand block"
	Strip   = "strip"
	Scraper = "card scraper"
	Rotary  = "rotary"
)

// Tools lists what is sanded with.
var Tools = []Tool{
	{Orbital, 1, tool.OrbitSander, "flat on, no pressure, slowly"},
	{Belt, 3, tool.BeltSander, "the first grit only: keep it moving, it digs where it stands"},
	{Drum, 4, tool.DrumSander, "the whole face at once, a turn of the crank a pass"},
	{Spindle, 0.5, tool.SpindleSander, "inside curves, against the turn of its drum"},
	{ByHand, 0.1, "", "along the grain"},
	{Strip, 0.1, "", "cut from the back of the sheet, drawn to and fro through the hole"},
	{Scraper, 0.15, tool.Scraper, "a fresh burr, pushed along the grain: corners and burns"},
	{Rotary, 0.15, "", "no pressure: it digs"},
}

// handRate is the rate of the grits that are done by hand, after whatever tool (rule).
const handRate = 0.1

// toolNamed is a tool by its name.
func toolNamed(name string) (Tool, bool) {
	i := slices.IndexFunc(Tools, func(t Tool) bool { return t.Name == name })
	if i < 0 {
		return Tool{}, false
	}
	return Tools[i], true
}

// ToolNames lists the tools by their names.
func ToolNames() []string {
	names := make([]string, len(Tools))
	for i, t := range Tools {
		names[i] = t.Name
	}
	return names
}

// Rates of work off the faces, where no tool is named (rule).
const (
	EdgeRate   = 1.0 / 3
	HandRate   = 1.0 / 10
	RecessRate = 1.0 / 5
)

// Surface is one part of a board to be sanded.
type Surface struct {
	Name  string
	Area  float64 // mm²
	Rate  float64 // where no tool is named: 1 for a face
	Start Start   // as it is found; the zero one for that of the board's plan
	Wood  float64 // Janka hardness, N
	Fine  int     // only the last so many grits of the board's plan; 0 for a whole ladder
	Last  int     // the last grit where it is another than the plan's; 0 where it ends with it
	Slow  int     // from that grit on at half the speed, so that it stays cool; 0 never

	Tool   string // by which it is sanded; empty for whatever gets there
	Hand   int    // the last so many of its grits by hand
	Ladder []int  // made by hand; empty for the quickest
	Note   string
	Own    bool // set by itself
}

// Own is a surface that is sanded otherwise than the board.
type Own struct {
	Surface string `json:"surface" doc:"Its name"`
	Start   string `json:"start,omitempty" doc:"How it is found; empty as it is made"`
	Tool    string `json:"tool,omitempty" enum:",orbital,belt,drum,spindle,hand block,strip,card scraper,rotary" doc:"What with; empty for whatever gets there"`
	Last    int    `json:"last,omitempty" doc:"Last grit; 0 for that of the board"`
	Hand    int    `json:"hand,omitempty" range:"0,19" doc:"The last so many grits by hand"`
	Ladder  []int  `json:"ladder,omitempty" doc:"Its grits made by hand; empty for the quickest"`
	Note    string `json:"note,omitempty" doc:"The maker's own words"`
}

func (o Own) check(field string) (ps craft.Problems) {
	ps.InRange(field, o)
	if o.Surface == "" || len(o.Surface) > 200 || len(o.Note) > 500 {
		ps.Add(field+".surface", "the name is missing or a text too long",
			"name a surface of the board, and note at most 500 characters")
	}
	ps.OneOf(field+".start", o.Start, append(Starts(), AsMilled)...)
	ps.OneOf(field+".tool", o.Tool, append(ToolNames(), "")...)
	checkGrit(&ps, field+".last", o.Last)
	checkLadder(&ps, field+".ladder", o.Ladder)
	return ps
}

// checkGrit reports a grit that is not known; 0 stands for none chosen.
func checkGrit(ps *craft.Problems, field string, grit int) {
	if _, ok := median[grit]; grit != 0 && !ok {
		ps.Add(field, fmt.Sprintf("P%d is not a known grit", grit), fmt.Sprintf("choose from %v", Grits))
	}
}

// checkLadder reports grits that are not known or do not climb.
func checkLadder(ps *craft.Problems, field string, ladder []int) {
	if len(ladder) > len(Grits) {
		ps.Add(field, "too many grits", fmt.Sprintf("keep at most %d", len(Grits)))
	}
	for i, g := range ladder {
		if _, ok := median[g]; !ok {
			ps.Add(field, "not a known grit", "choose grits such as 80, 120, 180 and 220")
		}
		if i > 0 && g <= ladder[i-1] {
			ps.Add(field, "the ladder does not climb", "list the grits from coarse to fine")
		}
	}
}

// set is the surface as a choice has it.
func (s Surface) set(c Choice) Surface {
	for _, o := range c.Own {
		if o.Surface == s.Name {
			s = s.with(o)
		}
	}
	return s
}

// with is the surface as the maker sets it by itself.
func (s Surface) with(o Own) Surface {
	if o.Start != AsMilled {
		s.Start, s.Fine = StartOf(o.Start), 0
	}
	if len(o.Ladder) > 0 {
		s.Ladder, s.Fine = o.Ladder, 0
	}
	if o.Tool != "" {
		s.Tool = o.Tool
	}
	if o.Last != 0 {
		s.Last = o.Last
	}
	s.Hand, s.Note, s.Own = o.Hand, o.Note, true
	return s
}

// rate is how fast the surface is sanded, against a face, on the rung of a grit: the first of its
// rungs or not, so many from the end.
func (s Surface) rate(grit int, first bool, fromEnd int) float64 {
	rate := s.Rate
	if t, ok := toolNamed(s.Tool); ok && (s.Tool != Belt || first) {
		rate = t.Rate
	}
	if fromEnd <= s.Hand {
		rate = handRate
	}
	if s.Slow > 0 && grit >= s.Slow {
		rate /= 2
	}
	return rate
}

// by is what the rung of a grit is sanded with.
func (s Surface) by(first bool, fromEnd int) string {
	switch {
	case fromEnd <= s.Hand:
		return ByHand
	case s.Tool == Belt && !first:
		return ""
	}
	return s.Tool
}

// minutes is how long a rung takes that follows a roughness, µm.
func (s Surface) minutes(rough float64, grit int, first bool, fromEnd int, efficiency float64) float64 {
	return Minutes(s.Area, rough, grit, s.Wood, s.rate(grit, first, fromEnd), efficiency)
}
