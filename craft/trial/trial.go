// Package trial settles arguments with counts instead of memory: samples cut from one plank, treated
// each in its way, one of them not at all, and scored round by round. Scores are 0 to 10.
package trial

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"time"

	"idletimber/craft"
	"idletimber/craft/finish"
)

// Trial is a question, the samples that it is asked of, and the rounds so far.
type Trial struct {
	Name     string   `json:"name" doc:"What it is called"`
	Question string   `json:"question" doc:"What is to be settled"`
	Plank    string   `json:"plank,omitempty" doc:"Id of the piece that the samples are cut from"`
	Blind    bool     `json:"blind,omitempty" doc:"Who scores sees the marks alone, in shuffled order"`
	Samples  []Sample `json:"samples" doc:"At most eight"`
	Rounds   []Round  `json:"rounds" doc:"The oldest first"`
	Over     bool     `json:"over,omitempty" doc:"It is settled, or given up"`

	Ways []Way `json:"ways,omitempty" doc:"Two ways of making that are compared, by the boards made so"`
}

// Sample is one piece of the plank.
type Sample struct {
	Mark      string  `json:"mark" enum:"plain,clipped corner,hole,notch,two corners,two holes,two notches,groove" doc:"A shape that survives washing"`
	Treatment string  `json:"treatment" doc:"What was done to it, in the maker's words; empty for the control"`
	Control   bool    `json:"control,omitempty" doc:"Left bare"`
	Product   string  `json:"product,omitempty" doc:"What is on it, where that is a product of the table"`
	Ratio     float64 `json:"ratio,omitempty" range:"0,10" doc:"Oil to one of wax, of a paste; 0 for none"`
	Grams     float64 `json:"grams,omitempty" range:"0,1000" doc:"How much was put on, g"`
}

// Marks are the shapes by which samples are told apart, the control's first.
var Marks = []string{
	"plain", "clipped corner", "hole", "notch", "two corners", "two holes", "two notches", "groove",
}

// Round is what was done to all samples, and how they came out.
type Round struct {
	At       time.Time `json:"at" doc:"When"`
	Did      []string  `json:"did" doc:"What was done, of the treatments of a round"`
	Times    int       `json:"times" range:"1,1000" doc:"How often"`
	By       string    `json:"by,omitempty" doc:"Who scored"`
	Scores   []Score   `json:"scores" doc:"In the order of the samples"`
	Pictures []string  `json:"pictures,omitempty" doc:"Ids of pictures"`
	Note     string    `json:"note,omitempty" doc:"The maker's own words"`
}

// Treatments are what may be done in a round.
var Treatments = []string{"rubbed in", "rinsed", "sponge", "soap", "dishwasher", "left in the sun", "cut on"}

// Score is how a sample came out; a measure that was not looked at is left out.
type Score struct {
	Feel   *float64 `json:"feel,omitempty" minimum:"0" maximum:"10" doc:"0 furry, 10 silky"`
	Beads  *float64 `json:"beads,omitempty" minimum:"0" maximum:"10" doc:"0 water soaks in, 10 it stands in beads"`
	Colour *float64 `json:"colour,omitempty" minimum:"0" maximum:"10" doc:"0 as bare wood, 10 as on the first day"`
}

// Measures are what is scored.
var Measures = []string{"feel", "beads", "colour"}

// of is one measure of a score; ok is false where it was not looked at.
func (s Score) of(measure string) (v float64, ok bool) {
	p := map[string]*float64{"feel": s.Feel, "beads": s.Beads, "colour": s.Colour}[measure]
	if p == nil {
		return 0, false
	}
	return *p, true
}

// Way is a way of making, and the boards that were made so.
type Way struct {
	Name   string   `json:"name" doc:"As the maker calls it"`
	Boards []string `json:"boards" doc:"Ids"`
	Liked  int      `json:"liked,omitempty" range:"0,1000" doc:"How many liked it better"`
}

// Bounds of a trial.
const (
	mostSamples = 8
	mostRounds  = 500
	mostText    = 2000
)

// Check reports what is out of range or unknown.
func (t Trial) Check(field string) (ps craft.Problems) {
	if t.Name == "" || len(t.Name) > 200 || len(t.Question) > mostText {
		ps.Add(field+".name", "the name is missing or a text is too long",
			fmt.Sprintf("give a name of 1 to 200 characters, and ask in at most %d", mostText))
	}
	if len(t.Samples) > mostSamples || len(t.Rounds) > mostRounds || len(t.Ways) > 2 {
		ps.Add(field, "there is too much in it", fmt.Sprintf("keep at most %d samples, %d rounds and two ways",
			mostSamples, mostRounds))
		return ps
	}
	seen := map[string]bool{}
	for i, s := range t.Samples {
		at := fmt.Sprintf("%s.samples[%d]", field, i)
		ps.InRange(at, s)
		ps.OneOf(at+".mark", s.Mark, Marks...)
		if seen[s.Mark] {
			ps.Add(at+".mark", fmt.Sprintf("%q is there twice", s.Mark), "give each sample a mark of its own")
		}
		seen[s.Mark] = true
		if _, ok := finish.ProductOf(s.Product); s.Product != "" && !ok {
			ps.Add(at+".product", "no such product", "choose one of the table, or leave it out")
		}
		if len(s.Treatment) > mostText {
			ps.Add(at+".treatment", "the text is too long", fmt.Sprintf("use at most %d characters", mostText))
		}
	}
	for i, r := range t.Rounds {
		ps = append(ps, r.check(fmt.Sprintf("%s.rounds[%d]", field, i), len(t.Samples))...)
	}
	for i, w := range t.Ways {
		at := fmt.Sprintf("%s.ways[%d]", field, i)
		ps.InRange(at, w)
		if len(w.Name) > 200 || len(w.Boards) > 200 {
			ps.Add(at, "there is too much in it", "use 200 characters and 200 boards at most")
		}
	}
	return ps
}

func (r Round) check(field string, samples int) (ps craft.Problems) {
	ps.InRange(field, r)
	if len(r.Scores) > samples {
		ps.Add(field+".scores", "there are more scores than samples", "score each sample once")
	}
	if len(r.Did) > len(Treatments) || len(r.By) > 200 || len(r.Note) > mostText || len(r.Pictures) > 20 {
		ps.Add(field, "there is too much in it", "name each treatment once, and keep at most 20 pictures")
	}
	for _, d := range r.Did {
		ps.OneOf(field+".did", d, Treatments...)
	}
	for i, s := range r.Scores {
		for _, m := range Measures {
			if v, ok := s.of(m); ok {
				ps.Range(fmt.Sprintf("%s.scores[%d].%s", field, i, m), v, 0, 10)
			}
		}
	}
	return ps
}

// washes tells how many washes a round stands for: what only rubs in or lies in the sun is none.
func (r Round) washes() int {
	for _, d := range r.Did {
		if d == "rinsed" || d == "sponge" || d == "soap" || d == "dishwasher" {
			return r.Times
		}
	}
	return 0
}

// Order is the order in which the samples are scored in the next round: shuffled where the trial is
// blind, the same for everybody who looks at that round.
func (t Trial) Order() []int {
	out := make([]int, len(t.Samples))
	for i := range out {
		out[i] = i
	}
	if t.Blind {
		seed := uint64(len(t.Rounds) + 1)
		for _, c := range t.Name {
			seed = seed*31 + uint64(c)
		}
		rand.New(rand.NewPCG(seed, 7)).Shuffle(len(out), func(i, k int) { out[i], out[k] = out[k], out[i] })
	}
	return out
}

// control is the sample that was left bare; -1 without one.
func (t Trial) control() int {
	return slices.IndexFunc(t.Samples, func(s Sample) bool { return s.Control })
}

// Name is what a sample is called: by its treatment, or by its mark.
func (s Sample) Name() string {
	switch {
	case s.Control:
		return "bare"
	case s.Treatment != "":
		return s.Treatment
	}
	return s.Mark
}
