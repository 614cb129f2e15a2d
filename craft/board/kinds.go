package board

import (
	"math"

	"idletimber/craft"
)

// Kind is one of the kinds that a field of a design may have, as it is offered:
// with what of the design is set when it is chosen.
type Kind struct {
	Kind  string      `json:"kind" doc:"As it stands in a file"`
	Name  string      `json:"name" doc:"In the trade's words"`
	Start craft.Patch `json:"start,omitempty" doc:"JSON merge patch: what it begins with"`
}

// ShapeKinds lists the shapes.
var ShapeKinds = []Kind{
	{Kind: string(Rectangle), Name: "Soft rectangle"}, {Kind: string(Square), Name: "Square plate"},
	{Kind: string(Oval), Name: "Oval"}, {Kind: string(Circle), Name: "Round"}, {Kind: string(Paddle), Name: "Paddle"},
	{Kind: string(Teardrop), Name: "Teardrop"}, {Kind: string(Bladed), Name: "One end at an angle"},
	{Kind: string(Heart), Name: "Heart"}, {Kind: string(HalfMoon), Name: "Half moon"},
	{Kind: string(Plank), Name: "Live-edge plank"}, {Kind: string(Free), Name: "Drawn by points"},
}

// EndKinds lists the ends of a plank.
var EndKinds = []Kind{
	{Kind: "", Name: "square to its length"}, {Kind: "left", Name: "square to its left edge"},
	{Kind: "right", Name: "square to its right edge"},
	{Kind: "angle", Name: "at an angle", Start: craft.Patch{"angle": 10}},
	{Kind: "curve", Name: "curved", Start: craft.Patch{"rise": 15}},
	{Kind: "tab", Name: "narrowed to a tab", Start: craft.Patch{"width": 50, "length": 90, "round": 16}},
}

// EdgeKinds lists the profiles of an edge.
var EdgeKinds = []Kind{
	{Kind: "none", Name: "none"}, {Kind: "eased", Name: "eased", Start: craft.Patch{"size": 3}},
	{Kind: "round-over", Name: "round-over", Start: craft.Patch{"size": 3}},
	{Kind: "chamfer", Name: "chamfer", Start: craft.Patch{"size": 3}},
	{Kind: "bevel", Name: "bevel", Start: craft.Patch{"size": 3}},
}

// RecessKinds lists the recesses.
var RecessKinds = []Kind{
	{Kind: "well", Name: "Well", Start: craft.Patch{"length": 100, "width": 70, "depth": 8, "radius": 6}},
	{Kind: "bowl", Name: "Bowl", Start: craft.Patch{"length": 90, "width": 60, "depth": 10}},
	{Kind: "slope", Name: "Sloped floor", Start: craft.Patch{
		"length": 200, "width": 120, "depth": 3, "deep": 7, "radius": 6, "toward": right,
	}},
	{Kind: "groove", Name: "Juice groove", Start: craft.Patch{"inset": 14, "radius": 6, "depth": 5}},
	{Kind: "ring", Name: "Sunken ring", Start: craft.Patch{"length": 80, "radius": 4, "depth": 3}},
}

// handleStarts are what a handle of a kind begins with.
var handleStarts = map[string]craft.Patch{
	Slotted:  {"diameter": 30, "length": 95},
	HeartCut: {"diameter": 46, "length": 48, "setback": 55},
	DropCut:  {"diameter": 32, "length": 50, "setback": 55},
	Crescent: {"diameter": 28, "length": 95, "setback": 50},
	Notch:    {"diameter": 22, "length": 100, "setback": 150},
	CordHole: {"diameter": 8, "setback": 25},
	Bevel:    {"flat": 6, "angle": 25, "where": "ends"},
	OwnHole: {"setback": 60, "nodes": []Node{
		{X: -16, Y: -40, Kind: "smooth"}, {X: 12, Y: -34, Kind: "smooth"}, {X: 18, Kind: "smooth"},
		{X: 12, Y: 34, Kind: "smooth"}, {X: -16, Y: 40, Kind: "smooth"}, {X: -12, Kind: "smooth"},
	}},
}

// MoreHandle is a handle besides the first to begin with.
var MoreHandle = Handle{Kind: Hole, Diameter: 30, Length: 90, Setback: 45, Far: true}

// Recasts are what of a design changes with each other shape: only what the shape
// needs. A plank begins with every natural edge that there is, on its left and its
// right.
func (d Design) Recasts(liveLeft, liveRight bool) []Kind {
	out := make([]Kind, 0, len(ShapeKinds))
	for _, k := range ShapeKinds {
		if k.Kind == string(Free) {
			continue // drawn from what there is
		}
		k.Start = craft.Patch{"shape": k.Kind}
		const point, notch, lean = 12, 12, 20
		switch Shape(k.Kind) {
		case HalfMoon:
			k.Start["width"] = min(d.Width, d.Length/2)
		case Teardrop, Heart:
			if d.Tip == 0 {
				k.Start["tip"] = point
			}
			if Shape(k.Kind) == Heart {
				k.Start["shoulder"] = math.Max(d.Shoulder, notch)
			}
		case Bladed:
			if d.Angle == 0 {
				k.Start["angle"] = lean
			}
		case Plank:
			if !d.KeepLeft && !d.KeepRight {
				k.Start["keepLeft"], k.Start["keepRight"] = liveLeft, liveRight
			}
		}
		out = append(out, k)
	}
	return out
}
