// Package caution knows which caution belongs to which step. Cautions stand
// where the step is, never in the way; local codes, data sheets and licensed
// practice come before them.
package caution

import (
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
	Saw       string
	Curing    bool // the finish cures by oxygen
	Paste     bool
}

var (
	machines = Caution{"Machines", "Eyes and ears. Read the machine's own manual; when unsure, ask someone trained."}
	planer   = Caution{
		"Planer, jointer",
		"Nothing shorter than the machine's stated minimum. No squeeze-out, no grit, no metal.",
	}
	saw = Caution{
		"Table and mitre saw",
		"Push sticks for narrow strips. Never rip a twisted or cupped piece without a flat face and a straight edge: " +
			"it kicks back. Work on small parts with a hold-down.",
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
	spirits = Caution{"Spirits and solvents", "Flammable vapour. Respirator; no flame or heat gun near."}
	wax     = Caution{"Melting wax", "In a water bath, never over a naked flame."}
	nuts    = Caution{"Nut oils", "An allergy risk: if the oil is of nuts, say so on the gift note."}
	give    = Caution{
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

// For lists the cautions of a kind of work on a material.
func For(kind plan.Kind, m Material) []Caution {
	out := []Caution{}
	switch kind {
	case plan.CrossCut:
		out = append(out, machines, saw)
		if m.Reclaimed {
			out = append(out, reclaim)
		}
	case plan.Rip, plan.Slicing:
		out = append(out, machines, saw, dust)
		if m.Reclaimed {
			out = append(out, reclaim)
		}
	case plan.CleanPart:
		out = append(out, reclaim, dust)
	case plan.GlueUp:
		out = append(out, gluing)
	case plan.Scrape:
		out = append(out, scraping)
	case plan.Planing, plan.Joint:
		out = append(out, machines, planer)
		if m.Reclaimed {
			out = append(out, reclaim)
		}
	case plan.HandPlane:
		out = append(out, sled, dust)
		if m.Reclaimed {
			out = append(out, reclaim)
		}
	case plan.Resaw:
		out = append(out, machines, resaw)
	case plan.Curve, plan.Bore:
		out = append(out, machines)
		if m.Saw == tool.TableSaw {
			out = append(out, saw)
		}
	case plan.EdgeWork, plan.HogOut:
		out = append(out, machines, router, dust)
	case plan.LiveEdge:
		out = append(out, grinder)
	case plan.ThinGlue:
		out = append(out, ca)
	case plan.Pour:
		out = append(out, epoxy)
	case plan.Sanding, plan.CleanVoid:
		out = append(out, dust)
		if kind == plan.Sanding {
			out = append(out, ears)
		}
		for _, wood := range m.Woods {
			if note := sensitising(wood); note != "" {
				out = append(out, Caution{"Dust of " + wood.Name, note})
			}
		}
	case plan.Wipe, plan.Buff:
		if kind == plan.Wipe {
			out = append(out, spirits)
		}
		if m.Curing {
			out = append(out, rags)
		}
	case plan.Coat:
		if m.Curing {
			out = append(out, rags, spirits)
		}
		if m.Paste {
			out = append(out, wax)
		}
		out = append(out, nuts)
	case plan.Note:
		out = append(out, give)
		if m.Reclaimed {
			out = append(out, reclaim)
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
