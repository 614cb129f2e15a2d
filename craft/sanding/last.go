package sanding

import (
	"fmt"
	"slices"
)

// Asked is what the last grit of a board is proposed by.
type Asked struct {
	Finish   string // what comes last on it: oil, paste, hard wax, curing oil
	Rustic   bool   // it may look rough
	Dark     bool   // scratches show on it
	Figured  bool
	Softwood bool // it goes furry when it is sanded finer
}

// Proposal is the last grit that finish and wood ask for.
type Proposal struct {
	Grit    int     `json:"grit" doc:"P-grade"`
	Why     string  `json:"why" doc:"In words"`
	Finer   int     `json:"finer" doc:"The next finer one of the drawer; 0 where there is none"`
	Minutes float64 `json:"minutes" doc:"What that would cost more, minutes"`
	Felt    string  `json:"felt" doc:"What it would bring"`
}

// The finishes that a last grit is known for, by what comes last; 220 for any other (rules).
var lastFor = map[string]struct {
	grit int
	why  string
}{
	"oil":        {220, "oil"},
	"paste":      {220, "the wax fills what is finer"},
	"hard wax":   {220, "hard wax"},
	"curing oil": {180, "a curing oil: a finer face drinks less"},
}

const (
	rusticGrit = 180
	usualGrit  = 220
	furryGrit  = 180
)

// propose is the last grit, by the finish and then by the wood; one finer only where the drawer
// holds it.
func (a Asked) propose(owned []int) Proposal {
	p := Proposal{Grit: usualGrit, Why: "the usual one", Felt: "A smoother look; it drinks less"}
	if l, ok := lastFor[a.Finish]; ok {
		p.Grit, p.Why = l.grit, l.why
	}
	if a.Finish == "oil" && a.Rustic {
		p.Grit, p.Why = rusticGrit, "oil on a rustic board"
	}
	switch {
	case a.Softwood:
		p.Grit, p.Why = furryGrit, "softwood goes furry when it is sanded finer"
	case a.Dark, a.Figured:
		if one := Grits[slices.Index(Grits, p.Grit)+1]; slices.Contains(owned, one) {
			p.Grit = one
			p.Why += "; one finer, because scratches show on dark or figured wood"
		} else {
			p.Why += fmt.Sprintf("; P%d would be better on dark or figured wood, and is not in the drawer", one)
		}
	}
	if a.Finish == "paste" && p.Grit >= usualGrit {
		p.Felt = "No difference felt under wax above P220"
	}
	return p
}

// finer is the next finer grit of the drawer than the one that a board is sanded to, and what it
// would cost more, minutes.
func (p Plan) finer(surfaces []Surface, choice Choice, c Conditions) (grit int, minutes float64) {
	last := choice.last(c)
	for _, g := range c.Owned {
		if g > last && median[g] > 0 && (grit == 0 || g < grit) {
			grit = g
		}
	}
	if grit == 0 || len(choice.Ladder) > 0 {
		return 0, 0
	}
	var then Plan
	choice.Last = grit
	then.climb(surfaces, choice, c)
	return grit, then.Total.Value - p.Total.Value
}
