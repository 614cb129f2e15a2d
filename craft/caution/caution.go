// Package caution knows which caution belongs to which step. Cautions stand
// where the step is, never in the way; local codes, data sheets and licensed
// practice come before them.
package caution

import (
	"slices"

	"idletimber/craft/plan"
	"idletimber/craft/species"
	"idletimber/craft/tool"
)

// Caution is one warning.
type Caution struct {
	Title string `json:"title" doc:"In a word or two"`
	Text  string `json:"text" doc:"What to do, or not to do"`
}

// Material is what a board is made of and treated with.
type Material struct {
	Woods     []species.Species
	Reclaimed bool
	Curing    bool // the finish cures by oxygen
	Paste     bool
	Bowed     bool    // the piece is twisted or cupped as it comes to the saw
	Narrow    float64 // of the narrowest strip that is ripped, mm; 0 where nothing is known
	Short     float64 // of the shortest piece that is worked, mm; 0 where nothing is known
}

var (
	machines = Caution{"Machines", "Eyes and ears. Read the machine's own manual; when unsure, ask someone trained."}
	planer   = Caution{
		"Planer, jointer",
		"Nothing shorter than the machine's stated minimum. No squeeze-out, no grit, no metal.",
	}
	saw = Caution{
		"Table and mitre saw",
		"A flat face down, a straight edge at the fence: else it kicks back. Up to speed before it touches; small " +
			"parts with a hold-down.",
	}
	narrow = Caution{"Narrow rips", "Two push sticks, a riving knife, nobody behind the blade."}
	held   = Caution{
		"Hand-held saw",
		"Clamped, the line clear of the bench by the blade's depth and {15}. Up to speed before it touches, the " +
			"waste side first.",
	}
	twisted = Caution{
		"Twisted stock",
		"Cross-cut it with the hollow face down, to rough length before it is flattened; never rip it free.",
	}
	dull  = Caution{"Dull blades", "Dense pale wood burns at once: a sharp blade, a steady feed, no dwelling."}
	short = Caution{"Short pieces", "A hold-down or double-stick tape, never fingers; sheet edges can come apart."}
	drill = Caution{
		"Drill",
		"Clamp it: a caught bit spins the piece. Packing under it, not the table; scrap behind; sleeves and hair away.",
	}
	resaw = Caution{
		"Resawing",
		"A tall fence and a sharp, wide blade; hands well off the line, a push block at the end. A damp or stressed " +
			"piece closes on the blade: stop and wedge it open.",
	}
	sled = Caution{
		"Hand plane and router sled",
		"Clamp the piece against a stop, both hands behind the iron. On a router sled: small passes, the piece " +
			"wedged so that it cannot rock, eyes, ears, extraction.",
	}
	router = Caution{"Router", "Safe direction, small passes; climb cuts tear and grab. Clamp small boards."}
	ca     = Caution{"Cyanoacrylate", "Bonds skin, gives off fumes, heats on cotton. Ventilate."}
	gluing = Caution{
		"Gluing up",
		"Gloves with polyurethane and epoxy: they stain and sensitise. Fingers out of the joints, and a clamp never " +
			"stands where it can fall.",
	}
	scraping = Caution{
		"Dried glue",
		"Beads are sharp as glass and chip a knife: eyes, scraper or chisel away from yourself, before any machine.",
	}
	epoxy = Caution{
		"Epoxy",
		"Gloves: it sensitises the skin. Ventilate. A deep or warm pour can smoke. Cured per its data sheet before " +
			"food or sanding.",
	}
	dust = Caution{
		"Dust",
		"Extraction and a fitted respirator: fine dust of hardwoods is a known carcinogen, and spalted wood carries " +
			"fungi.",
	}
	ears = Caution{"Ears", "A sander runs for hours: ear protection, and gloves against the shaking."}
	rags = Caution{
		"Oily rags",
		"Rags with curing oil heat themselves and burn: dry them flat outdoors, or keep them under water in a closed " +
			"metal can.",
	}
	spirits = Caution{
		"Spirits and solvents",
		"Flammable vapour. Gloves, moving air, a respirator; no flame or heat gun near.",
	}
	wax  = Caution{"Melting wax", "In a water bath, never over a naked flame."}
	nuts = Caution{"Nut oils", "An allergy risk: if the oil is of nuts, say so on the gift note."}
	give = Caution{
		"Food contact",
		"Local food-contact and product-safety rules decide; the finish maker's data sheet decides the cure.",
	}
	reclaim = Caution{
		"Reclaimed wood",
		"Unknown treatment, lead paint, nails: test it, and when in doubt keep it off food.",
	}
	grinder = Caution{
		"Drawknife and wire brush",
		"Clamp the piece, two hands, cut away from yourself; a wire brush throws its wires.",
	}
)

// rules tell where each caution stands, in the order in which they are read.
var rules = []struct {
	of Caution
	at func(kind plan.Kind, with string, m Material) bool
}{
	{machines, func(k plan.Kind, _ string, _ Material) bool { return Noisy(k) && k != plan.Sanding }},
	{saw, func(k plan.Kind, with string, _ Material) bool {
		return k == plan.Rip || k == plan.Slicing || with == tool.TableSaw || with == tool.MitreSaw
	}},
	{narrow, func(k plan.Kind, _ string, m Material) bool {
		return (k == plan.Rip || k == plan.Slicing) && m.Narrow > 0 && m.Narrow < narrowRip
	}},
	{held, func(_ plan.Kind, with string, _ Material) bool { return with == tool.Jigsaw || with == tool.TrackSaw }},
	{twisted, func(k plan.Kind, _ string, m Material) bool { return m.Bowed && (k == plan.CrossCut || k == plan.Rip) }},
	{short, func(k plan.Kind, with string, m Material) bool {
		return m.Short > 0 && m.Short < shortPiece && (k == plan.CrossCut || k == plan.EdgeWork)
	}},
	{planer, only(plan.Planing, plan.Joint)},
	{sled, only(plan.HandPlane, plan.RouterSled)},
	{resaw, only(plan.Resaw)},
	{drill, only(plan.Bore)},
	{router, func(k plan.Kind, with string, _ Material) bool {
		return (k == plan.EdgeWork || k == plan.HogOut) && (with == "" || with == tool.RouterTool)
	}},
	{dull, func(k plan.Kind, _ string, m Material) bool {
		return (k == plan.Curve || k == plan.EdgeWork) && slices.ContainsFunc(m.Woods, burns)
	}},
	{grinder, only(plan.LiveEdge)},
	{ca, only(plan.ThinGlue)},
	{epoxy, only(plan.Pour)},
	{gluing, only(plan.GlueUp)},
	{scraping, only(plan.Scrape)},
	{dust, func(k plan.Kind, _ string, _ Material) bool { return Dusty(k) }},
	{ears, only(plan.Sanding)},
	{reclaim, func(k plan.Kind, _ string, m Material) bool {
		return k == plan.CleanPart || m.Reclaimed && slices.Contains([]plan.Kind{
			plan.CrossCut, plan.Rip, plan.Slicing, plan.Planing, plan.Joint, plan.HandPlane, plan.RouterSled, plan.Note,
		}, k)
	}},
	{spirits, func(k plan.Kind, _ string, m Material) bool { return k == plan.Wipe || k == plan.Coat && m.Curing }},
	{rags, func(k plan.Kind, _ string, m Material) bool {
		return m.Curing && (k == plan.Wipe || k == plan.Buff || k == plan.Coat)
	}},
	{wax, func(k plan.Kind, _ string, m Material) bool { return k == plan.Coat && m.Paste }},
	{nuts, only(plan.Coat)},
	{give, only(plan.Note)},
}

// A rip is narrow below narrowRip, a piece short below shortPiece, mm (rules).
const (
	narrowRip  = 60
	shortPiece = 200
)

func only(kinds ...plan.Kind) func(plan.Kind, string, Material) bool {
	return func(k plan.Kind, _ string, _ Material) bool { return slices.Contains(kinds, k) }
}

// burns reports a wood so dense and pale that a dull blade leaves it brown.
func burns(s species.Species) bool {
	const dense, pale = 5000, 'B'
	return s.Janka > dense && len(s.Light) == 7 && s.Light[1] >= pale
}

// Noisy reports work at a machine, Dusty work that fills the air.
func Noisy(k plan.Kind) bool {
	return slices.Contains([]plan.Kind{
		plan.CrossCut, plan.Rip, plan.Slicing, plan.Planing, plan.Joint, plan.Resaw, plan.Curve, plan.Bore,
		plan.EdgeWork,
		plan.HogOut, plan.RouterSled, plan.Sanding,
	}, k)
}

// Dusty reports work that fills the air with dust.
func Dusty(k plan.Kind) bool {
	return Noisy(k) && k != plan.Bore || k == plan.CleanVoid || k == plan.CleanPart || k == plan.HandPlane
}

// For lists the cautions of a kind of work with a tool on a material, each once; the tool
// may be left out.
func For(kind plan.Kind, with string, m Material) []Caution {
	out := []Caution{}
	for _, r := range rules {
		if r.at(kind, with, m) {
			out = append(out, r.of)
		}
	}
	if kind == plan.Sanding || kind == plan.CleanVoid {
		for _, wood := range m.Woods {
			if note := sensitising(wood); note != "" {
				out = append(out, Caution{"Dust of " + wood.Name, note})
			}
		}
	}
	return out
}

func sensitising(s species.Species) string {
	switch s.Dust {
	case "sensitiser":
		return "This wood sensitises: skin and lungs may come to react to it for good."
	case "toxic":
		return "This wood is poisonous, dust and all."
	case "irritant":
		return "This dust irritates eyes, nose and skin."
	}
	return ""
}
