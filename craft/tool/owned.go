package tool

import (
	"fmt"
	"iter"
	"slices"

	"idletimber/craft"
)

// Tools beside the saws of saw.go.
const (
	Jointer       = "jointer"
	Planer        = "planer"
	Sled          = "planer sled"
	RouterSled    = "router sled"
	DrumSander    = "drum sander"
	HandPlane     = "hand plane"
	DrillPress    = "drill press"
	DrillGuide    = "drill guide"
	BeltSander    = "belt sander"
	OrbitSander   = "orbital sander"
	SpindleSander = "spindle sander"
	Grinder       = "angle grinder"
	Gouge         = "gouge"
	Drawknife     = "drawknife"
	Spokeshave    = "spokeshave"
	WireBrush     = "wire brush"
	NylonWheel    = "nylon wheel"
	Scraper       = "card scraper"
	File          = "rasp and file"
	HeatGun       = "heat gun"
	Torch         = "torch"
	Roller        = "roller"
	Rags          = "brush and rags"
	Cauls         = "cauls"
	DryRack       = "drying rack"
	Stand         = "stands"
	OilTub        = "oil tub"
	Mould         = "mould"
	PushSticks    = "push sticks"
)

// Tool is a machine or a hand tool that is owned. A limit that its kind does not have,
// or that nobody has measured, is 0: nothing is judged by it.
type Tool struct {
	Kind     string  `json:"kind" doc:"What it is, of the kinds of tools"`
	Throat   float64 `json:"throat,omitempty" mm:"0,2000" doc:"From its blade or chuck to its column"`
	Width    float64 `json:"width,omitempty" mm:"0,5000" doc:"Widest that it takes"`
	Height   float64 `json:"height,omitempty" mm:"0,1000" doc:"Thickest that it takes"`
	Long     float64 `json:"long,omitempty" mm:"0,5000" doc:"Length inside"`
	Shortest float64 `json:"shortest,omitempty" mm:"0,3000" doc:"Shortest piece that is safe on it"`
	Turn     float64 `json:"turn,omitempty" mm:"0,20" doc:"That a turn of its crank moves the table, mm"`
	Travel   float64 `json:"travel,omitempty" mm:"0,500" doc:"How far its spindle goes down"`
	Grit     int     `json:"grit,omitempty" range:"0,400" doc:"Of its paper"`
	Heavy    bool    `json:"heavy,omitempty" doc:"A standing machine, which bears twice the load of a bench one"`
	Count    int     `json:"count,omitempty" range:"0,1000" doc:"How many boards it holds"`
}

// Limit is one of the limits of a kind of tools.
type Limit struct {
	Field string  `json:"field" doc:"As it stands in a file"`
	Label string  `json:"label" doc:"As the trade calls it"`
	Start float64 `json:"start" doc:"Of a usual one"`
}

// Kind is a kind of tools.
type Kind struct {
	Kind   string  `json:"kind" doc:"As the trade calls it"`
	Group  string  `json:"group" doc:"What it is for"`
	Limits []Limit `json:"limits,omitempty" doc:"What it is limited by"`
}

// Groups of tools.
const (
	sawing    = "Sawing"
	milling   = "Flattening and planing"
	boring    = "Boring"
	smoothing = "Sanding and smoothing"
	carving   = "Carving and live edges"
	holding   = "Holding and safety"
	finishing = "Resin and finish"
)

// Kinds lists the kinds of tools that can be owned beside the router, by group.
var Kinds = []Kind{
	{BandSaw, sawing, []Limit{{"throat", "Throat", 300}, {"height", "Height under the guide", 150}}},
	{Jigsaw, sawing, []Limit{{"height", "Thickest that its blade cuts", 60}}},
	{TableSaw, sawing, []Limit{{"height", "Depth of cut", 75}, {"width", "Rip width at the fence", 600}}},
	{MitreSaw, sawing, []Limit{{"width", "Cross-cut", 300}, {"height", "Depth of cut", 90}}},
	{TrackSaw, sawing, []Limit{{"height", "Depth of cut", 55}}},
	{HandSaw, sawing, nil},
	{FretSaw, sawing, []Limit{{"throat", "Depth of its frame", 150}}},
	{Jointer, milling, []Limit{{"width", "Knives", 150}, {"shortest", "Shortest piece", 300}}},
	{Planer, milling, []Limit{
		{"width", "Knives", 310}, {"height", "Thickest piece", 150}, {"shortest", "Shortest piece", 300},
		{"turn", "A turn of the crank", 1.6},
	}},
	{Sled, milling, []Limit{{"width", "Widest on it", 310}, {"height", "Height that it takes away", 25}}},
	{RouterSled, milling, []Limit{{"width", "Widest under it", 500}}},
	{DrumSander, milling, []Limit{
		{"width", "Drum", 400}, {"height", "Thickest piece", 100}, {"shortest", "Shortest piece", 80},
		{"grit", "Paper", 80},
	}},
	{HandPlane, milling, nil},
	{DrillPress, boring, []Limit{{"travel", "Travel", 60}, {"throat", "Chuck to column", 150}}},
	{DrillGuide, boring, nil},
	{Drill, boring, nil},
	{BeltSander, smoothing, nil},
	{OrbitSander, smoothing, nil},
	{SpindleSander, smoothing, nil},
	{Scraper, smoothing, nil},
	{File, smoothing, nil},
	{Grinder, carving, nil},
	{Gouge, carving, nil},
	{Drawknife, carving, nil},
	{Spokeshave, carving, nil},
	{WireBrush, carving, nil},
	{NylonWheel, carving, nil},
	{PushSticks, holding, nil},
	{Cauls, holding, nil},
	{Mould, holding, []Limit{{"width", "Width inside", 250}, {"count", "Boards at once", 1}}},
	{DryRack, finishing, []Limit{{"count", "Boards at once", 12}}},
	{Stand, finishing, []Limit{{"count", "Boards at once", 8}}},
	{OilTub, finishing, []Limit{
		{"long", "Length inside", 600}, {"width", "Width inside", 300}, {"height", "Height inside", 150},
		{"count", "Boards at once", 4},
	}},
	{HeatGun, finishing, nil},
	{Torch, finishing, nil},
	{Roller, finishing, nil},
	{Rags, finishing, nil},
}

// kindOf is the kind of that name; ok is false when there is none.
func kindOf(name string) (k Kind, ok bool) {
	i := slices.IndexFunc(Kinds, func(k Kind) bool { return k.Kind == name })
	if i < 0 {
		return k, false
	}
	return Kinds[i], true
}

// New is a usual tool of a kind.
func New(kind string) Tool {
	t := Tool{Kind: kind}
	of, _ := kindOf(kind)
	for _, l := range of.Limits {
		t.set(l.Field, l.Start)
	}
	return t
}

// set gives a limit, by its name in a file.
func (t *Tool) set(field string, v float64) {
	switch field {
	case "throat":
		t.Throat = v
	case "width":
		t.Width = v
	case "height":
		t.Height = v
	case "shortest":
		t.Shortest = v
	case "turn":
		t.Turn = v
	case "travel":
		t.Travel = v
	case "grit":
		t.Grit = int(v)
	case "count":
		t.Count = int(v)
	}
}

// News are usual tools of some kinds.
func News(kinds ...string) []Tool {
	out := make([]Tool, len(kinds))
	for i, k := range kinds {
		out[i] = New(k)
	}
	return out
}

// Check reports what cannot be right.
func (t Tool) Check(field string) (ps craft.Problems) {
	ps.InRange(field, t)
	if _, ok := kindOf(t.Kind); !ok {
		ps.Add(field+".kind", fmt.Sprintf("%q is not a kind of tool", t.Kind), "choose one from the list of tools")
	}
	return ps
}

// Has tells whether one of the kinds is owned.
func (k Kit) Has(kinds ...string) bool {
	return slices.ContainsFunc(k.Tools, func(t Tool) bool { return slices.Contains(kinds, t.Kind) })
}

// All are the tools of a kind that are owned.
func (k Kit) All(kind string) (out []Tool) { return slices.Collect(k.Of(kind)) }

// Of goes through the tools of a kind that are owned.
func (k Kit) Of(kind string) iter.Seq[Tool] {
	return func(yield func(Tool) bool) {
		for i := range k.Tools {
			if k.Tools[i].Kind == kind && !yield(k.Tools[i]) {
				return
			}
		}
	}
}

// Fits is the first tool of a kind that takes a piece: its limits that are known hold
// it, mm. A piece of 0 is not asked about.
func (k Kit) Fits(kind string, piece Piece) (t Tool, ok bool) {
	for t := range k.Of(kind) {
		if t.Takes(piece) == "" {
			return t, true
		}
	}
	return t, false
}

// Piece is what goes on a tool, mm; 0 where it does not matter.
type Piece struct {
	Width    float64 // across the tool
	Height   float64 // thick as it lies there
	Length   float64
	Beside   float64 // widest part of it between blade or chuck and the tool's column
	Diameter float64
}

// Takes tells why a piece does not go on a tool, in words with its limit; empty when it
// does.
func (t Tool) Takes(p Piece) string {
	const grazing = 1e-6
	over := func(have, limit float64) bool { return limit > 0 && have > limit+grazing }
	switch {
	case over(p.Width, t.Width):
		return fmt.Sprintf("%s wide, and it takes %s", craft.Length(p.Width), craft.Length(t.Width))
	case over(p.Height, t.Height):
		return fmt.Sprintf("%s thick, and it takes %s", craft.Length(p.Height), craft.Length(t.Height))
	case over(p.Beside, t.Throat):
		return fmt.Sprintf("%s beside the cut, and its throat is %s", craft.Length(p.Beside), craft.Length(t.Throat))
	case p.Length > 0 && t.Shortest > 0 && p.Length < t.Shortest-grazing:
		return fmt.Sprintf("%s long, and its shortest piece is %s", craft.Length(p.Length), craft.Length(t.Shortest))
	}
	return ""
}

// Most is the largest of a limit among the tools of a kind, mm; 0 where none is owned
// or none is known.
func (k Kit) Most(kind string, limit func(Tool) float64) (most float64) {
	for t := range k.Of(kind) {
		most = max(most, limit(t))
	}
	return most
}

// Without is the kit without the tools of some kinds.
func (k Kit) Without(kinds ...string) Kit {
	k.Tools = slices.DeleteFunc(slices.Clone(k.Tools), func(t Tool) bool { return slices.Contains(kinds, t.Kind) })
	return k
}

// With is the kit with a tool in place of those of its kind.
func (k Kit) With(t Tool) Kit {
	k = k.Without(t.Kind)
	k.Tools = append(k.Tools, t)
	return k
}

// ByHand tells whether a kind of tool is worked by hand alone.
func ByHand(kind string) bool {
	return slices.Contains([]string{HandSaw, FretSaw, HandPlane, Spokeshave, File, Gouge}, kind)
}
