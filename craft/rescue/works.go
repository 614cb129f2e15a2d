package rescue

import (
	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/stage"
)

const (
	hour = 60.0
	day  = 24 * hour
)

// mending is work that mends, and what it takes.
type mending struct {
	title, detail string
	kind          plan.Kind
	stage         craft.Stage
	minutes       float64 // that it takes however much of it there is
	per           float64 // minutes more for each of its amount
	wait          float64 // minutes after it
	waits         float64 // minutes more for each of its amount
	waitFor       string
	uses          []stage.Use
}

// The works that mend, by their keys.
const (
	NewLine  = "line"
	LetIn    = "plug"      // cm² of it
	GluedOn  = "glue-back" // pieces
	Opened   = "joint"     // joints
	Pared    = "pare"      // cm²
	Planed   = "plane"     // passes
	Rested   = "rest"      // days
	WarmRest = "warm"      // days
	DugOut   = "dig"       // cm³
	Roughed  = "rough"
	Spirits  = "spirits"
	Lifted   = "lift" // places
	NewHole  = "screw"
	NewCord  = "cord"
	Buffed   = "buff"
	BoredOut = "bore" // holes
)

// works are what mends (rules of the trade).
var works = map[string]mending{
	NewLine: {
		title: "Draw the new line", detail: "A batten bent from sound wood to sound wood, or by the " +
			"template; look at " +
			"it from both ends before you saw", kind: plan.Reading, stage: craft.Shape, minutes: 6,
	},
	LetIn: {
		title: "Let in a plug", detail: "From an offcut of the same wood, its grain along the board's; cut it first, " +
			"scribe round it, chisel to the line, glue it in proud", kind: plan.Fitting, stage: craft.Shape,
		minutes: 20, per: 2, wait: 3 * hour, waitFor: "the glue to hold",
		uses: []stage.Use{{Kind: stage.Glue, Item: "PVA, D4", Amount: 4, Unit: craft.Gram}},
	},
	GluedOn: {
		title: "Glue the piece back", detail: "Dry first: it must close without a gap. Glue on both, tape or clamps " +
			"across, wiped while wet", kind: plan.GlueUp, stage: craft.Shape, minutes: 10, per: 5, wait: 3 * hour,
		waitFor: "the glue to hold",
		uses: []stage.Use{
			{Kind: stage.Glue, Item: "PVA, D4", Amount: 4, Unit: craft.Gram},
			{Kind: stage.Filler, Item: "tape", Amount: 300, Unit: craft.MM},
		},
	},
	Opened: {
		title: "Rip along the joint, joint both edges, glue again", detail: "A blade's width is lost; push stick, " +
			"guard, hearing protection", kind: plan.GlueUp, stage: craft.Glue, minutes: 20, per: 40, wait: day,
		waitFor: "the glue to hold",
		uses:    []stage.Use{{Kind: stage.Glue, Item: "PVA, D4", Amount: 10, Unit: craft.Gram}},
	},
	Pared: {
		title: "Pare it", detail: "With a sharp chisel or a card, along the grain, wider than it is deep: sanding " +
			"would burn it in", kind: plan.Scrape, stage: craft.Shape, minutes: 5, per: 0.5,
	},
	Planed: {
		title: "Take it down", detail: "Light passes, the good face on the table; measure after each",
		kind: plan.Planing, stage: craft.Flatten, minutes: 8, per: 1,
	},
	Rested: {
		title: "Stand it on edge, both faces free", detail: "Away from sun and heating; read it with a straightedge " +
			"every other day", kind: plan.Drying, stage: craft.Flatten, minutes: 2, waits: day, waitFor: "it to rest",
	},
	WarmRest: {
		title: "Keep it at {25 °C}", detail: "In a box with a mat that keeps its own heat; a lamp is never left alone",
		kind: plan.Ready, stage: craft.Fill, minutes: 5, waits: day, waitFor: "the resin to cure",
	},
	DugOut: {
		title: "Dig the resin out", detail: "Gloves. Scraped and chiselled to sound wood, the last of it with " +
			"spirits; let it dry", kind: plan.HogOut, stage: craft.Fill, minutes: 15, per: 0.5, wait: 2 * hour,
		waitFor: "the wood to dry",
		uses:    []stage.Use{{Kind: stage.Finish, Item: "mineral spirits", Amount: 20, Unit: craft.ML}},
	},
	Roughed: {
		title: "Roughen the resin", detail: "P80 by hand, then wiped with spirits: new resin holds on what is dull",
		kind: plan.Rub, stage: craft.Fill, minutes: 8,
	},
	Spirits: {
		title: "Wipe the soft finish off with spirits", detail: "Open the windows; rags dry flat outdoors",
		kind: plan.Wipe, stage: craft.Finish, minutes: 12, wait: 12 * hour, waitFor: "it to dry",
		uses: []stage.Use{{Kind: stage.Finish, Item: "mineral spirits", Amount: 20, Unit: craft.ML}},
	},
	Lifted: {
		title: "Lift the dent", detail: "A damp cloth and a hot iron, a little at a time; steam scalds",
		kind: plan.Putty, stage: craft.Sand, per: 5, wait: hour, waitFor: "the wood to dry",
	},
	NewHole: {
		title: "Bore for the screw beside the old one", detail: "Three times its thickness away at least, as wide as " +
			"its core; wax on the thread, driven by hand", kind: plan.Fitting, stage: craft.Fit, minutes: 12,
		uses: []stage.Use{{Kind: stage.Hardware, Item: "screws", Amount: 1, Unit: craft.Count}},
	},
	NewCord: {
		title: "A new cord, and the rim of its hole rounded", detail: "Where the rim is sharp it cuts the next one too",
		kind: plan.Fitting, stage: craft.Fit, minutes: 10,
		uses: []stage.Use{{Kind: stage.Hardware, Item: "cord", Amount: 700, Unit: craft.MM}},
	},
	Buffed: {
		title: "Wipe it warm, buff it cold", detail: "A hair dryer at a hand's breadth, a clean cotton cloth",
		kind: plan.Buff, stage: craft.Finish, minutes: 12, wait: 12 * hour, waitFor: "the wax to harden",
	},
	BoredOut: {
		title: "Bore it anew", detail: "Through the plug, pricked with an awl, a brad point; scrap behind, clamped",
		kind: plan.Bore, stage: craft.Shape, minutes: 4, per: 1,
	},
}

// Steps are the steps of a way out with what they take: works of its own, then steps of the plan once more, whose
// key is the mishap's id and theirs. What is not in the plan any more is not done again.
func (m Mishap) Steps(steps []plan.Step, uses []stage.Use, pace plan.Pace) (r stage.Record) {
	if m.Out == nil {
		return r
	}
	for _, w := range m.Out.Works {
		of := works[w.Key]
		key := m.key(w.Key)
		s := plan.Timed(key, of.kind, of.minutes+of.per*w.Amount, 0, "as it usually takes", nil, pace)
		s.Wait, s.WaitFor = of.wait+of.waits*w.Amount, of.waitFor
		if s.Wait == 0 {
			s.WaitFor = ""
		}
		s.Setup = string(of.kind) + " of a mend"
		s.Stage, s.Title, s.Detail = of.stage, of.title, of.detail
		r.Steps = append(r.Steps, s)
		for _, u := range of.uses {
			r.Use(u.Kind, u.Item, u.Amount, u.Unit, key)
		}
	}
	for _, a := range m.Out.Again {
		for _, s := range steps {
			if s.Key == a.Step {
				r.Steps = append(r.Steps, s.Again(m.key(s.Key), a.Share))
			}
		}
		for _, u := range uses {
			if u.Step == a.Step {
				r.Use(u.Kind, u.Item, u.Amount*a.Share, u.Unit, m.key(u.Step))
			}
		}
	}
	return r
}

// key is the key of a step of its way out.
func (m Mishap) key(of string) string { return m.ID + "-" + of }
