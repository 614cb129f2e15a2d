package rescue

import (
	"slices"

	"idletimber/craft"
)

// Mark is how a maker tells what is gone.
type Mark string

// The marks.
const (
	Line      Mark = "line"      // along which it was cut, or is cracked
	Area      Mark = "area"      // that is gone, or spoiled
	Place     Mark = "place"     // of a hole, a screw
	Depth     Mark = "depth"     // of what is gone, from its face
	Thickness Mark = "thickness" // that the board has now
)

// Way is a way out: a change of the design or of the plan.
type Way string

// The ways out. (rules of the trade)
const (
	Redraw    Way = "redraw"    // a smaller one of its kind, or another that fits in what is left
	FairLine  Way = "fair"      // the line drawn anew from sound wood to sound wood, its other side mirrored or not
	AngledEnd Way = "angled"    // one straight cut across, askew or square
	Regrip    Way = "grip"      // its handle moved, turned, of another kind; an outline at a set web about the hole
	Patch     Way = "patch"     // filled, with its wait
	Plug      Way = "plug"      // let in from an offcut of the same wood
	GlueBack  Way = "glue back" // the piece that broke off
	Turn      Way = "turn"      // the flaw to the under face, or end for end
	TakeDown  Way = "take down" // thinner by the depth and a little more
	Widen     Way = "widen"     // the profile of its edge, or the recess that it lies in
	Pare      Way = "pare"      // with a chisel or a card, by hand
	StepBack  Way = "step back" // the last step or two done again from a coarser grit, or a first coat
	Repour    Way = "pour"      // topped up, or dug out and poured anew
	Wait      Way = "wait"      // warmer, longer, on edge
	Refit     Way = "refit"     // the fitting replaced, or moved to sound wood
	Demote    Way = "demote"    // another use, a smaller product
	Begin     Way = "begin"     // again, from the rack
	Spare     Way = "spare"     // one of its run takes its place
	Rack      Way = "rack"      // its wood back on the rack
)

var ways = []Way{
	Redraw, FairLine, AngledEnd, Regrip, Patch, Plug, GlueBack, Turn, TakeDown, Widen, Pare, StepBack, Repour, Wait,
	Refit,
	Demote, Begin, Spare, Rack,
}

// What a board must have for some kinds of mishaps.
const (
	OfParts    = "parts"
	OfResin    = "resin"
	OfLiveEdge = "live edge"
	OfHole     = "hole"
	OfFittings = "fittings"
	OfCord     = "cord"
)

// Kind is a kind of mishap.
type Kind struct {
	Key    string        `json:"key" doc:"Stable name, such as deep"`
	Name   string        `json:"name" doc:"In a maker's words"`
	Stages []craft.Stage `json:"stages" doc:"At whose steps it happens"`
	Marks  []Mark        `json:"marks" doc:"How what is gone is told; none where there is nothing to mark"`
	Ways   []Way         `json:"ways" doc:"That are tried; demoting it and beginning again are for every kind"`
	Cracks bool          `json:"cracks,omitempty" doc:"A line that is marked is a crack, not a cut"`
	Sawing bool          `json:"-"` // at the outline, it happens while that is sawn
	Needs  string        `json:"-"` // what a board must have for it; empty for nothing
	Skin   float64       `json:"skin,omitempty" doc:"How deep it usually is where that is not told, mm; 0: through"`
	Next   string        `json:"next" doc:"What had better be done next, at once"`
	Check  string        `json:"check,omitempty" doc:"The check that warns of it before"`
	Before string        `json:"before" doc:"What keeps it from happening"`
}

// kinds are what may go wrong, in the order of the work. (rules of the trade)
var kinds = []Kind{
	{
		Key: "deeper", Name: "A crack goes deeper than thought", Cracks: true,
		Stages: []craft.Stage{craft.Wood, craft.Layout, craft.Flatten, craft.Fill, craft.Shape},
		Marks:  []Mark{Line, Depth}, Ways: []Way{Redraw, AngledEnd, FairLine, Patch, Turn, TakeDown},
		Next:  "Mark both its ends, and look whether it opens when you press beside it.",
		Check: "flaw", Before: "Wet the end grain with spirits before you lay a board there: a crack stays dark.",
	},
	{
		Key: "edge", Name: "The live edge is lost", Sawing: true, Needs: OfLiveEdge,
		Stages: []craft.Stage{craft.Flatten, craft.Shape}, Marks: []Mark{Line, Area},
		Ways: []Way{FairLine, Redraw, Plug, GlueBack},
		Next: "Keep what came off, if it is in one piece.", Check: "live-edge",
		Before: "Saw away from it, and loosen its bark before the machines do.",
	},
	{
		Key: "snipe", Name: "The planer has bitten into an end", Skin: 0.5,
		Stages: []craft.Stage{
			craft.Flatten,
		}, Marks: []Mark{Area, Depth}, Ways: []Way{AngledEnd, TakeDown, Redraw, Turn},
		Next: "Measure how deep it is, and how far in.", Check: "snipe",
		Before: "Leave it long, or feed a piece of scrap before and behind.",
	},
	{
		Key: "tearout", Name: "Its fibres are torn out", Skin: 0.8,
		Stages: []craft.Stage{craft.Flatten, craft.Shape}, Marks: []Mark{Area, Depth},
		Ways: []Way{TakeDown, Widen, Patch, Turn, Redraw, Pare},
		Next: "Stop, and take the last bites from the other side or by hand.", Check: "entry",
		Before: "Small bites, a sharp bit, with the grain; scrap behind where a bit comes out.",
	},
	{
		Key: "joint", Name: "A joint has opened", Needs: OfParts, Cracks: true,
		Stages: []craft.Stage{craft.Glue, craft.Flatten, craft.Sand},
		Marks:  []Mark{Line}, Ways: []Way{GlueBack, Redraw, AngledEnd, Patch},
		Next: "Nothing is run through a machine with an open joint.", Check: "open time",
		Before: "Fresh edges, a dry fit without a gap, glue on both faces, clamps within the open time.",
	},
	{
		Key: "split", Name: "A strip was split inside", Needs: OfParts, Cracks: true,
		Stages: []craft.Stage{craft.Glue, craft.Flatten},
		Marks:  []Mark{Line}, Ways: []Way{Redraw, Patch, Turn},
		Next:   "Knock on the others: a split one sounds dull.",
		Before: "Bend each strip by hand and look at its ends before it is glued.",
	},
	{
		Key: "leak", Name: "The resin has leaked", Needs: OfResin,
		Stages: []craft.Stage{craft.Fill}, Ways: []Way{Repour},
		Next:   "Gloves; stop the leak with putty or hot glue, and scrape up what ran out before it is hard.",
		Before: "A dry run with water, or a thin seal coat first.",
	},
	{
		Key: "short", Name: "The resin did not fill it", Needs: OfResin,
		Stages: []craft.Stage{craft.Fill}, Marks: []Mark{Depth},
		Ways: []Way{Repour, Patch}, Next: "Pour more while it is tacky; later it is roughened first.",
		Check: "resin-reserve", Before: "Mix the reserve that your pours have taught.",
	},
	{
		Key: "bubbles", Name: "The resin is full of bubbles", Needs: OfResin, Skin: 1,
		Stages: []craft.Stage{craft.Fill, craft.Sand},
		Marks:  []Mark{Area, Depth}, Ways: []Way{Patch, Repour, TakeDown},
		Next:  "Before it is hard a short pass with a flame; after that they are opened and filled.",
		Check: "wormy", Before: "A seal coat over open grain, a slow stir, warm resin, thin layers.",
	},
	{
		Key: "hot", Name: "The resin has grown hot", Needs: OfResin,
		Stages: []craft.Stage{craft.Fill}, Marks: []Mark{Area},
		Ways:   []Way{Repour, Patch, Wait},
		Next:   "Gloves on, carry it outdoors onto stone while it can be carried; keep out of its fumes.",
		Check:  "resin-heat",
		Before: "No deeper than its data sheet says, in a flat tray and not in a cup.",
	},
	{
		Key: "soft", Name: "The resin stays soft", Needs: OfResin,
		Stages: []craft.Stage{craft.Fill, craft.Sand, craft.Finish},
		Ways:   []Way{Wait, Repour},
		Next:   "Keep it at {25 °C} for two days; where it was mixed wrong it never hardens and is dug out.",
		Check:  "resin-temperature", Before: "Weigh both parts, scrape the cup, stir as long as its sheet says.",
	},
	{
		Key: "colour", Name: "The colour is wrong", Needs: OfResin,
		Stages: []craft.Stage{craft.Fill}, Ways: []Way{Repour, Turn},
		Next: "Look at it by daylight, wet, before you decide.", Check: "resin-pigment",
		Before: "A drop on a piece of scrap, dry, beside the wood.",
	},
	{
		Key: "deep", Name: "Cut too deep", Sawing: true, Stages: []craft.Stage{craft.Shape}, Marks: []Mark{Line, Area},
		Ways: []Way{FairLine, Redraw, AngledEnd, Plug, Patch},
		Next: "Stop there: the rest is sawn when the new line is drawn.", Check: "inside-corner",
		Before: "Saw outside the line and sand to it; a blade that is too wide wanders in a bend.",
	},
	{
		Key: "web", Name: "The wood about a hole has broken", Needs: OfHole,
		Stages: []craft.Stage{craft.Shape, craft.Sand, craft.Fit},
		Marks:  []Mark{Area}, Ways: []Way{Regrip, AngledEnd, Redraw, GlueBack},
		Next:  "Keep the piece: a clean break is glued so that it cannot be seen.",
		Check: "web", Before: "Bore before the outline is sawn, with scrap behind, clamped.",
	},
	{
		Key: "end", Name: "An end or a corner broke off",
		Stages: []craft.Stage{craft.Flatten, craft.Shape, craft.Sand, craft.Finish, craft.Fit, craft.Give},
		Marks:  []Mark{Area}, Ways: []Way{AngledEnd, Redraw, FairLine, GlueBack, Plug},
		Next: "Keep the piece.", Check: "tips", Before: "Short grain is kept wide; a board is never stacked on edge.",
	},
	{
		Key: "offcentre", Name: "A hole is off its centre", Needs: OfHole,
		Stages: []craft.Stage{craft.Shape}, Marks: []Mark{Place},
		Ways: []Way{Regrip, Redraw, Plug, Widen},
		Next: "Measure it from both sides before you bore it wider.", Check: "hole",
		Before: "A centre mark pricked with an awl, a brad point, the board clamped to the fence.",
	},
	{
		Key: "grabbed", Name: "The bit has grabbed", Stages: []craft.Stage{craft.Shape}, Marks: []Mark{Area, Depth},
		Ways: []Way{FairLine, Widen, Redraw, Patch, Plug},
		Next: "Switch off before you look.", Check: "bite",
		Before: "Fed against the turn of the bit, in small passes, from a pin; no climb cuts by hand.",
	},
	{
		Key: "burn", Name: "It is burnt", Skin: 0.4,
		Stages: []craft.Stage{craft.Shape, craft.Sand}, Marks: []Mark{Area},
		Ways: []Way{Pare, Widen, TakeDown},
		Next: "Pare it with a chisel or a card; sanding polishes a burn in.", Check: "bit",
		Before: "A sharp bit, no stop along the way, a last pass of {0.5}.",
	},
	{
		Key: "thin", Name: "Sanded through, or too thin", Stages: []craft.Stage{craft.Flatten, craft.Sand},
		Marks: []Mark{Thickness}, Ways: []Way{TakeDown},
		Next: "Measure it at its thinnest.", Check: "thickness",
		Before: "Pencil lines all over, and the thickness measured after each grit.",
	},
	{
		Key: "cupped", Name: "It has cupped", Stages: []craft.Stage{craft.Glue, craft.Fill, craft.Shape, craft.Sand},
		Marks: []Mark{Depth}, Ways: []Way{Wait, TakeDown},
		Next:  "Stand it on edge, both faces free, and measure it again tomorrow.",
		Check: "moisture", Before: "As much off one face as off the other, and never left flat on a bench overnight.",
	},
	{
		Key: "dropped", Name: "It was dropped", Skin: 0.8,
		Stages: []craft.Stage{craft.Flatten, craft.Shape, craft.Sand, craft.Finish, craft.Fit, craft.Give},
		Marks:  []Mark{Area, Depth}, Ways: []Way{StepBack, Widen, Redraw, Patch, GlueBack, TakeDown},
		Next: "A dent is lifted with a wet cloth and an iron before it is sanded.", Before: "A clear bench.",
	},
	{
		Key: "furry", Name: "It is furry under its finish", Stages: []craft.Stage{craft.Finish},
		Ways: []Way{StepBack}, Next: "Let the coat dry, then rub it with the last grit, along the grain.",
		Check: "raise", Before: "Raise the grain with water before the last grit.",
	},
	{
		Key: "scratch", Name: "A scratch shows under its finish", Skin: 0.1, Stages: []craft.Stage{craft.Finish},
		Marks: []Mark{Line}, Ways: []Way{StepBack, Turn},
		Next:  "Find which grit left it: it goes with that one and all after it, not with the last alone.",
		Check: "coarse-start", Before: "Wet it with spirits in a raking light before the first coat.",
	},
	{
		Key: "blotch", Name: "Its finish is blotched", Skin: 0.1,
		Stages: []craft.Stage{craft.Finish}, Marks: []Mark{Area},
		Ways: []Way{StepBack, Wait}, Next: "Wipe off all that has not gone in.", Check: "stain-raises",
		Before: "A trial on an offcut of the same board; end grain sanded one grit finer.",
	},
	{
		Key: "sweat", Name: "Its wax has sweated", Stages: []craft.Stage{craft.Finish, craft.Give},
		Ways: []Way{StepBack, Wait}, Next: "Wipe it off while it is warm, and buff it cold.", Check: "finish-heat",
		Before: "Thin coats, buffed; not packed in the heat.",
	},
	{
		Key: "screw", Name: "A screw has sheared", Needs: OfFittings,
		Stages: []craft.Stage{craft.Fit}, Marks: []Mark{Place},
		Ways:   []Way{Refit, Plug},
		Next:   "Leave it in: the new hole stands three times its thickness away.",
		Before: "A pilot as wide as the screw's core, wax on the thread, driven by hand; brass after a steel one.",
	},
	{
		Key: "cord", Name: "Its cord or pull has come off", Needs: OfCord,
		Stages: []craft.Stage{craft.Fit, craft.Give},
		Ways:   []Way{Refit}, Next: "Look whether the edge of its hole cuts it.", Check: "hangs",
		Before: "The rim of its hole rounded, the knot pulled wet.",
	},
}

// Kinds are all that may go wrong, in the order of the work.
func Kinds() []Kind { return slices.Clone(kinds) }

// warnings are the checks that warn of mishaps, in words.
var warnings = map[string]string{
	"flaw": "flaws that the outline holds", "live-edge": "room between the saw and the live edge",
	"snipe": "length to spare at both ends", "entry": "where the bit enters and comes out",
	"open time": "open time of the glue", "resin-reserve": "reserve of resin", "wormy": "open grain, sealed first",
	"resin-heat": "heat of a pour", "resin-temperature": "how warm the resin is", "resin-pigment": "share of pigment",
	"inside-corner": "inside curves against the blade", "web": "wood about a hole", "tips": "short grain at a tip",
	"hole": "how a hole is bored", "bite": "depth of a pass", "bit": "the bit against the curve",
	"thickness": "thickness that is left", "moisture": "moisture at rest", "raise": "raising the grain",
	"coarse-start": "the grit to begin with", "stain-raises": "stain that raises the grain",
	"finish-heat": "heat while it dries", "hangs": "how it hangs",
}

// Warning is the check that warns of it before, in words; empty where none does.
func (k Kind) Warning() string { return warnings[k.Check] }

// KindOf finds a kind by its key.
func KindOf(key string) (Kind, bool) {
	i := slices.IndexFunc(kinds, func(k Kind) bool { return k.Key == key })
	if i < 0 {
		return Kind{}, false
	}
	return kinds[i], true
}

// Keys lists the keys of all kinds.
func Keys() []string {
	out := make([]string, len(kinds))
	for i, k := range kinds {
		out[i] = k.Key
	}
	return out
}

// Wants tells whether it is told by a mark.
func (k Kind) Wants(m Mark) bool { return slices.Contains(k.Marks, m) }

// Tries tells whether a way is tried for it.
func (k Kind) Tries(w Way) bool { return slices.Contains(k.Ways, w) }

// KindsAt are what may go wrong at a stage on a board that has some of what they need; on any board without a function.
func KindsAt(of craft.Stage, has func(need string) bool) (out []Kind) {
	for _, k := range kinds {
		if slices.Contains(k.Stages, of) && (k.Needs == "" || has == nil || has(k.Needs)) {
			out = append(out, k)
		}
	}
	return out
}

// AllWays lists the ways out.
func AllWays() []Way { return slices.Clone(ways) }
