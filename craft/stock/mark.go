package stock

import "idletimber/craft"

// Mark is a kind of flaw or feature as it is offered: how it is drawn by a drag on
// the wood, and what it begins with.
type Mark struct {
	Kind  string      `json:"kind" doc:"As it stands in a file"`
	Name  string      `json:"name" doc:"In the trade's words"`
	Drawn string      `json:"drawn" enum:"line,area,oval" doc:"Along a drag, or within the box that it spans"`
	Share float64     `json:"share,omitzero" doc:"Of an area or oval: its half-width, for a half-length of one"`
	Least float64     `json:"least" doc:"What is drawn by a press without a drag, mm"`
	Most  float64     `json:"most,omitzero" doc:"The longest reach that is drawn, mm; left out for any"`
	Start craft.Patch `json:"start,omitempty" doc:"JSON merge patch: what it begins with"`
}

// FlawMarks lists the flaws.
var FlawMarks = []Mark{
	{Kind: string(Crack), Name: "Crack", Drawn: "line", Least: 40, Start: craft.Patch{"depth": 10, "width": 3}},
	{
		Kind: string(Knot), Name: "Knot", Drawn: "oval", Share: 0.75, Least: 2,
		Start: craft.Patch{"depth": 10, "state": "missing"},
	},
	{Kind: string(Bark), Name: "Bark pocket", Drawn: "area", Share: 0.6, Least: 4, Start: craft.Patch{"depth": 10}},
	{Kind: string(Soft), Name: "Soft wood", Drawn: "area", Share: 0.6, Least: 4, Start: craft.Patch{"depth": 10}},
	{
		Kind: string(Worm), Name: "Worm holes", Drawn: "oval", Share: 1, Least: 2,
		Start: craft.Patch{"depth": 6, "count": 6, "diameter": 2},
	},
	{Kind: string(Dent), Name: "Dent", Drawn: "oval", Share: 1, Least: 2, Start: craft.Patch{"depth": 2}},
	{
		Kind: string(Hole), Name: "Old hole", Drawn: "oval", Share: 1, Least: 2, Most: 30,
		Start: craft.Patch{"depth": 10, "through": true},
	},
	{
		Kind: string(Pocket), Name: "Pocket to cast", Drawn: "area", Share: 0.6, Least: 4,
		Start: craft.Patch{"depth": 8, "wish": Fill},
	},
}

// FeatureMarks lists what is worth showing.
var FeatureMarks = []Mark{
	{Kind: "figure", Name: "Figure", Drawn: "oval", Share: 0.6, Least: 8},
	{Kind: "burr", Name: "Burr", Drawn: "oval", Share: 0.6, Least: 8},
	{Kind: "colour", Name: "Colour", Drawn: "oval", Share: 0.6, Least: 8},
	{Kind: "streak", Name: "Streak", Drawn: "line", Least: 80, Start: craft.Patch{"width": 12}},
}
