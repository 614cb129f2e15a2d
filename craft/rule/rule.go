// Package rule holds the rules of thumb of the trade: numbers that a workshop
// may set to its own habit. Whatever rests on one is an estimate.
package rule

import "idletimber/craft"

// Key names a rule.
type Key string

// The rules.
const (
	Squaring      Key = "squaring"
	Snipe         Key = "snipe"
	SandEdge      Key = "sand-edge"
	FaceClean     Key = "face-clean"
	Reflatten     Key = "reflatten"
	GlueClean     Key = "glue-clean"
	GlueTrim      Key = "glue-trim"
	Jointing      Key = "jointing"
	SandFace      Key = "sand-face"
	Soak          Key = "soak"
	CupLoss       Key = "cup-loss"
	PocketFill    Key = "pocket-fill"
	HandLoad      Key = "hand-load"
	Jerk          Key = "jerk"
	WebForce      Key = "web-force"
	WebFloor      Key = "web-floor"
	WebShare      Key = "web-share"
	ReadyBand     Key = "ready-band"
	ReadyDrift    Key = "ready-drift"
	ReadyDays     Key = "ready-days"
	DryingDays    Key = "drying-days"
	KnifeAngle    Key = "knife-angle"
	KnifeFlat     Key = "knife-flat"
	ResawKerf     Key = "resaw-kerf"
	ResawClean    Key = "resaw-clean"
	OffcutLeast   Key = "offcut-least"
	SandEff       Key = "sand-efficiency"
	GritSetup     Key = "grit-setup"
	ServeNibbles  Key = "serve-nibbles"
	ServeStarter  Key = "serve-starter"
	ServeMain     Key = "serve-main"
	CordPerHanger Key = "cord"
	PinholeRounds Key = "pinhole-rounds"
	TopUps        Key = "top-ups"
	ClearUp       Key = "clear-up"
	ClearMess     Key = "clear-mess"
	RusticStray   Key = "rustic-stray"
	FineStray     Key = "fine-stray"
	OwnStray      Key = "own-stray"
	CustomerStray Key = "customer-stray"
	WarmFrom      Key = "warm-from"
	WarmTo        Key = "warm-to"
	SpareIn       Key = "spare-in"
	ResinKeeps    Key = "resin-keeps"
	CAKeeps       Key = "ca-keeps"
	GlueKeeps     Key = "glue-keeps"
	WoodWaste     Key = "wood-waste"
	WoodOnce      Key = "wood-once"
)

// Rule describes a rule of thumb: its stage, its usual value, its unit and the range in
// which a workshop may set it.
type Rule struct {
	Key   Key         `json:"key"`
	Stage craft.Stage `json:"stage" doc:"Of the work, where it matters first"`
	Label string      `json:"label"`
	Usual float64     `json:"usual"`
	Unit  craft.Unit  `json:"unit"`
	Min   float64     `json:"min"`
	Max   float64     `json:"max"`
}

// All lists every rule.
var All = []Rule{
	{Squaring, craft.Layout, "Squaring allowance, each end", 3, craft.MM, 0, 50},
	{Snipe, craft.Layout, "Planer snipe, each end of a blank", 60, craft.MM, 0, 150},
	{SandEdge, craft.Sand, "Sanding allowance, each edge", 0.5, craft.MM, 0, 5},
	{FaceClean, craft.Flatten, "Flattening to clean wood, each face", 0.5, craft.MM, 0, 5},
	{Reflatten, craft.Fill, "Re-flattening a filled face", 0.5, craft.MM, 0, 5},
	{GlueClean, craft.Glue, "Flattening a glue-up, each face", 1, craft.MM, 0, 5},
	{GlueTrim, craft.Glue, "Trimming a glue-up, each end", 10, craft.MM, 0, 50},
	{Jointing, craft.Glue, "Jointing a strip's edge", 1, craft.MM, 0, 5},
	{SandFace, craft.Sand, "Sanding, each face", 0.15, craft.MM, 0, 2},
	{Soak, craft.Fill, "Resin soaked up, as a factor", 1.10, craft.Count, 1, 2},
	{CupLoss, craft.Fill, "Resin left in the cup", 8, craft.ML, 0, 100},
	{PocketFill, craft.Fill, "Share of a pocket's box that is hollow", 0.8, craft.Count, 0.1, 1},
	{HandLoad, craft.Shape, "Food on a board held by its handle", 2, craft.KG, 0, 10},
	{Jerk, craft.Shape, "Jerk when a board is lifted, as a factor", 2, craft.Count, 1, 4},
	{WebForce, craft.Shape, "Pull on a web, at least", 100, craft.Newton, 10, 1000},
	{WebFloor, craft.Shape, "Wood around a hole, at least", 12, craft.MM, 3, 50},
	{WebShare, craft.Shape, "Wood around a hole, as a share of the thickness", 0.75, craft.Count, 0.2, 2},
	{ReadyBand, craft.Wood, "Moisture within the home's mean by", 1.5, craft.Percent, 0.2, 5},
	{ReadyDrift, craft.Wood, "Two readings agree within", 0.5, craft.Percent, 0.1, 3},
	{ReadyDays, craft.Wood, "Days between the two readings", 5, craft.Day, 1, 60},
	{DryingDays, craft.Wood, "Drying time constant at {25}", 21, craft.Day, 2, 400},
	{KnifeAngle, craft.Wood, "An edge is knife-thin below", 45, craft.Degree, 15, 80},
	{KnifeFlat, craft.Wood, "A knife-thin edge is knocked back to", 3, craft.MM, 1, 12},
	{ResawKerf, craft.Wood, "Kerf when resawing", 1.5, craft.MM, 0.5, 6},
	{ResawClean, craft.Wood, "Cleaning a resawn face", 1.5, craft.MM, 0, 6},
	{OffcutLeast, craft.Layout, "Narrowest offcut worth keeping", 60, craft.MM, 10, 500},
	{SandEff, craft.Sand, "Share of a sander's rate that one keeps up", 0.4, craft.Count, 0.05, 1},
	{GritSetup, craft.Sand, "Changing a grit", 2, craft.Minute, 0, 15},
	{ServeNibbles, craft.Give, "Board a person, nibbles", 120, craft.CM2, 40, 1000},
	{ServeStarter, craft.Give, "Board a person, starter", 200, craft.CM2, 40, 1000},
	{ServeMain, craft.Give, "Board a person, main course", 300, craft.CM2, 40, 2000},
	{PinholeRounds, craft.Fill, "Rounds of pinholes after a pour", 2, craft.Count, 0, 6},
	{TopUps, craft.Fill, "Times a pour is topped up while it sinks", 2, craft.Count, 0, 6},
	{ClearUp, craft.Give, "Clearing up at the end of a session", 5, craft.Minute, 0, 30},
	{ClearMess, craft.Give, "The same after resin or carving", 10, craft.Minute, 0, 60},
	{RusticStray, craft.Give, "A rustic board may stray, times the usual", 2, craft.Count, 1, 5},
	{FineStray, craft.Give, "A fine board may stray, times the usual", 0.5, craft.Count, 0.1, 1},
	{OwnStray, craft.Give, "One for yourself may stray, times the usual", 1.5, craft.Count, 1, 5},
	{CustomerStray, craft.Give, "One for a customer may stray, times the usual", 0.7, craft.Count, 0.1, 1},
	{WarmFrom, craft.Finish, "First warm month, by its number", 6, craft.Count, 1, 12},
	{WarmTo, craft.Finish, "Last warm month, by its number", 8, craft.Count, 1, 12},
	{SpareIn, craft.Give, "One spare in a run of", 12, craft.Count, 2, 100},
	{ResinKeeps, craft.Fill, "Months that opened resin keeps", 12, craft.Count, 1, 60},
	{CAKeeps, craft.Fill, "Months that opened CA keeps", 6, craft.Count, 1, 60},
	{GlueKeeps, craft.Glue, "Months that opened glue keeps", 24, craft.Count, 1, 60},
	{WoodWaste, craft.Wood, "Hardwood bought besides, for waste", 15, craft.Percent, 0, 100},
	{WoodOnce, craft.Wood, "The same where there is no second trip", 30, craft.Percent, 0, 200},
	{CordPerHanger, craft.Fit, "Cord for a hanging loop", 320, craft.MM, 50, 1000},
}

var usual = func() map[Key]Rule {
	m := make(map[Key]Rule, len(All))
	for _, r := range All {
		m[r.Key] = r
	}
	return m
}()

// Set holds a workshop's own values; what it does not hold is usual.
type Set map[Key]float64

// Get is the value in force, in the rule's unit.
func (s Set) Get(k Key) float64 {
	if v, ok := s[k]; ok {
		return v
	}
	return usual[k].Usual
}

// Check reports unknown rules and values out of range.
func (s Set) Check(field string) (ps craft.Problems) {
	for k, v := range s {
		r, ok := usual[k]
		if !ok {
			ps.Add(field+"."+string(k), "no such rule", "leave it out")
			continue
		}
		ps.Range(field+"."+string(k), v, r.Min, r.Max)
	}
	return ps
}
