package plan

import (
	"maps"
	"slices"

	"idletimber/craft"
)

// Kind is a kind of work, whose hands-on minutes follow one rate.
type Kind string

// The kinds of work.
const (
	CrossCut   Kind = "cross-cut"
	Curve      Kind = "curve"
	Planing    Kind = "planing"
	HandPlane  Kind = "hand planing"
	RouterSled Kind = "router sled"
	Resaw      Kind = "resaw"
	Bore       Kind = "bore"
	HogOut     Kind = "hog out"
	EdgeWork   Kind = "edge"
	LiveEdge   Kind = "live edge"
	CleanVoid  Kind = "clean void"
	ThinGlue   Kind = "thin glue"
	Putty      Kind = "putty"
	Dam        Kind = "dam"
	Pour       Kind = "pour"
	Watch      Kind = "watch"
	Sanding    Kind = "sanding"
	Water      Kind = "water"
	Wipe       Kind = "wipe"
	Coat       Kind = "coat"
	Buff       Kind = "buff"
	Rub        Kind = "rub"
	Fitting    Kind = "fitting"
	Note       Kind = "note"
	Drying     Kind = "drying"
	Reading    Kind = "reading"
	Errand     Kind = "errand"

	CleanPart Kind = "clean part"
	Rip       Kind = "rip"
	Joint     Kind = "joint"
	Number    Kind = "number"
	DryFit    Kind = "dry fit"
	Ready     Kind = "ready to glue"
	GlueUp    Kind = "glue up"
	Scrape    Kind = "scrape"
	Slicing   Kind = "slice"
)

// rate is set-up minutes and one more minute for each per of the quantity.
type rate struct {
	setup, per float64
	of         string // what the quantity counts
	unit       craft.Unit
}

// rates are rules of the trade.
var rates = map[Kind]rate{
	CrossCut:   {3, 1, "cuts", craft.Count},
	Curve:      {3, 150, "along the outline", craft.MM},
	Planing:    {5, 1, "passes", craft.Count},
	HandPlane:  {5, 10, "to take off", craft.CM3},
	RouterSled: {15, 1500, "run by the router", craft.MM},
	Resaw:      {8, 100, "of cut", craft.MM},
	Bore:       {3, 1, "holes", craft.Count},
	HogOut:     {8, 12, "to take out", craft.CM3},
	EdgeWork:   {6, 400, "along both edges", craft.MM},
	LiveEdge:   {4, 60, "of live edge", craft.MM},
	CleanVoid:  {2, 5, "of void on the face", craft.CM2},
	ThinGlue:   {3, 2, "voids", craft.Count},
	Putty:      {3, 1, "voids", craft.Count},
	Dam:        {4, 0.25, "voids", craft.Count},
	Pour:       {12, 50, "of resin", craft.ML},
	Watch:      {0, 0.5, "looks", craft.Count},
	Water:      {2, 1, "boards", craft.Count},
	Wipe:       {2, 1, "boards", craft.Count},
	Coat:       {4, 0.05, "of surface", craft.M2},
	Buff:       {3, 0.05, "of surface", craft.M2},
	Rub:        {2, 0.03, "of surface", craft.M2},
	Fitting:    {5, 0.5, "pieces", craft.Count},
	Note:       {10, 0, "", craft.Count},
	Drying:     {0, 0, "", craft.Count},
	Reading:    {5, 0, "", craft.Count},
	Errand:     {20, 0, "", craft.Count},
	CleanPart:  {0, 1, "parts", craft.Count},
	Rip:        {3, 2, "strips", craft.Count},
	Joint:      {2, 2, "edges", craft.Count},
	Number:     {2, 0, "", craft.Count},
	DryFit:     {5, 1, "parts", craft.Count},
	Ready:      {10, 0, "", craft.Count},
	Scrape:     {2, 400, "of joint", craft.MM},
	Slicing:    {3, 1, "slices", craft.Count},
}

// Kinds lists the kinds of work, by name; two of them have no rate of their own.
func Kinds() []Kind { return slices.Sorted(maps.Keys(named)) }

var named = func() map[Kind]bool {
	all := map[Kind]bool{Sanding: true, GlueUp: true}
	for k := range rates {
		all[k] = true
	}
	return all
}()

// Rate is the bare hands-on minutes of a kind of work for a quantity in the kind's unit,
// and the set-up in them. Work that goes by no quantity is done for each piece anew: it has none.
func Rate(kind Kind, quantity float64) (minutes, setup float64) {
	r := rates[kind]
	if r.per > 0 {
		return r.setup + quantity/r.per, r.setup
	}
	return r.setup, 0
}

// Work makes a step of a kind for a quantity in the kind's unit, at the pace
// the log has taught.
func Work(key string, kind Kind, quantity float64, pace Pace) Step {
	r := rates[kind]
	m, setup := Rate(kind, quantity)
	formula := "set-up"
	terms := []craft.Term{{Name: "set-up", Value: r.setup, Unit: craft.Minute}}
	if r.per > 0 {
		formula = "set-up + a minute for so much of the quantity"
		terms = append(
			terms,
			craft.Term{Name: r.of, Value: quantity, Unit: r.unit},
			craft.Term{Name: "a minute for", Value: r.per, Unit: r.unit},
		)
	}
	return Timed(key, kind, m, setup, formula, terms, pace)
}

// Timed makes a step of a kind whose usual minutes, and the set-up in them,
// were reckoned elsewhere by the given formula.
func Timed(key string, kind Kind, minutes, setup float64, formula string, terms []craft.Term, pace Pace) Step {
	f := pace.Of(kind)
	return Step{
		Key:          key,
		Kind:         kind,
		Usual:        minutes,
		Minutes:      minutes * f,
		Setup:        string(kind),
		SetupMinutes: setup * f,
		Working: craft.Figure{
			Key: "plan.step", Stage: craft.Give, Label: "Hands-on", Value: minutes * f, Unit: craft.Minute,
			Formula: "(" + formula + ") × your pace",
			Terms: append(
				terms,
				craft.Term{Name: "your pace", Value: f},
			), Source: "rates of the trade; your pace from the logbook", Rule: true,
		},
	}
}

// Again is the step done once more under another key, on a share of what it was done on, set up as before.
func (s Step) Again(key string, share float64) Step {
	pace := 1.0
	if s.Usual > 0 {
		pace = s.Minutes / s.Usual
	}
	setup := min(s.SetupMinutes, s.Minutes)
	minutes := setup + (s.Minutes-setup)*share
	s.Working = craft.Figure{
		Key: "plan.step", Stage: craft.Give, Label: "Hands-on", Value: minutes, Unit: craft.Minute,
		Formula: "set-up + what goes by the quantity × its share", Terms: []craft.Term{
			{Name: "set-up", Value: setup, Unit: craft.Minute},
			{Name: "all of it took", Value: s.Minutes, Unit: craft.Minute},
			{Name: "share", Value: 100 * share, Unit: craft.Percent},
		}, Source: "rates of the trade; your pace from the logbook", Rule: true,
	}
	s.Key, s.Title, s.After = key, s.Title+", once more", nil
	s.Minutes, s.Usual = minutes, minutes/pace
	return s
}

// Sample is one finished step: what was estimated by the bare rates and what it took.
type Sample struct {
	Kind      Kind    `json:"kind" doc:"Kind of work"`
	Estimated float64 `json:"estimated" doc:"Minutes that were expected"`
	Actual    float64 `json:"actual" doc:"Minutes that it took"`
}

// Pace is the ratio of actual to estimated minutes by kind of work.
type Pace map[Kind]float64

// usualWeight is how many samples the estimate itself counts for.
const usualWeight = 4

// Learn draws the pace from finished steps, shrunk toward 1 with few samples.
func Learn(samples []Sample) Pace {
	type sum struct{ n, ratio float64 }
	sums := map[Kind]sum{}
	for _, s := range samples {
		if s.Estimated <= 0 || s.Actual <= 0 {
			continue
		}
		t := sums[s.Kind]
		ratio := min(5, max(0.2, s.Actual/s.Estimated)) // a step left running overnight teaches nothing
		sums[s.Kind] = sum{t.n + 1, t.ratio + ratio}
	}
	pace := Pace{}
	for kind, t := range sums {
		pace[kind] = (usualWeight + t.ratio) / (usualWeight + t.n)
	}
	return pace
}

// Of is the ratio for a kind of work; 1 where nothing is known.
func (p Pace) Of(k Kind) float64 {
	if f, ok := p[k]; ok {
		return f
	}
	return 1
}
