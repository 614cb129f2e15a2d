package run

import (
	"cmp"
	"slices"

	"idletimber/craft"
	"idletimber/craft/making"
	"idletimber/craft/plan"
	"idletimber/craft/tool"
)

// own is what a step takes besides what is set up for it, and the set-up, minutes still to do.
func own(s plan.Dated) (own, setup float64) {
	left := max(0, s.Minutes-s.Spent)
	return max(0, left-s.SetupMinutes), min(left, s.SetupMinutes)
}

// Split shares among steps of one operation what they took together, minutes: as their estimates are to each other when
// it is set up once. Where nothing is told (0) the longest clock that ran counts, or else the estimates. It returns the
// estimate of each, too.
func Split(steps []plan.Dated, minutes float64) (estimated, took []float64) {
	const least = 0.1 // of a minute, so that all have a share
	longest, ran := 0.0, 0.0
	for _, s := range steps {
		longest, ran = max(longest, s.SetupMinutes), max(ran, s.Spent)
	}
	sum := 0.0
	for _, s := range steps {
		estimated = append(estimated, max(least, s.Minutes-s.SetupMinutes+longest/float64(len(steps))))
		sum += estimated[len(estimated)-1]
	}
	for _, e := range estimated {
		took = append(took, e*cmp.Or(minutes, ran, sum)/sum)
	}
	return estimated, took
}

// Phase is the work of one stage.
type Phase struct {
	Stage   craft.Stage `json:"stage" doc:"Which one"`
	Minutes float64     `json:"minutes" doc:"Hands-on and still to do"`
	Share   float64     `json:"share" doc:"Of all that is to do, %"`
}

// Phases are the minutes still to do by stage, in the order of the work.
func Phases(courses []plan.Course) []Phase {
	left := map[craft.Stage]float64{}
	sum := 0.0
	for _, c := range courses {
		for _, d := range c.Steps {
			if d.State != plan.Done {
				m := max(0, d.Minutes-d.Spent-d.Shared)
				left[d.Stage], sum = left[d.Stage]+m, sum+m
			}
		}
	}
	out := []Phase{}
	for _, n := range craft.Stages {
		if m := left[n.Stage]; m > 0 {
			out = append(out, Phase{n.Stage, m, 100 * m / sum})
		}
	}
	return out
}

// Visit is what is made at a machine in one go.
type Visit struct {
	Machine string  `json:"machine" doc:"Or the hand tool"`
	Minutes float64 `json:"minutes" doc:"Of all that is made at it"`
	Made    []Made  `json:"made" doc:"In the order of the boards"`
}

// Made is what is made at a machine on one board.
type Made struct {
	Board string `json:"board" doc:"Its name"`
	Slab  string `json:"slab" doc:"Name of its piece"`
	Name  string `json:"name" doc:"What is made"`
}

// Visits gather what is made on boards by machine, one visit to each; what is made by hand comes last. What nothing
// owned makes is left to its board to tell.
func Visits(of []Made, makes [][]making.Made) []Visit {
	out := []Visit{}
	for n, board := range of {
		for _, m := range makes[n] {
			if m.By == nil {
				continue
			}
			i := slices.IndexFunc(out, func(v Visit) bool { return v.Machine == m.By.Tool })
			if i < 0 {
				out = append(out, Visit{Machine: m.By.Tool})
				i = len(out) - 1
			}
			board.Name = m.Name
			out[i].Minutes += m.By.Minutes
			out[i].Made = append(out[i].Made, board)
		}
	}
	byHand := func(v Visit) int {
		if tool.ByHand(v.Machine) {
			return 1
		}
		return 0
	}
	slices.SortStableFunc(out, func(a, b Visit) int { return cmp.Compare(byHand(a), byHand(b)) })
	return out
}

// Templates tells whether a template pays for the boards of a run.
type Templates struct {
	Boards  int     `json:"boards" doc:"Of one shape"`
	With    float64 `json:"with" doc:"Minutes for all of them with one"`
	Without float64 `json:"without" doc:"Minutes for all of them drawn and faired by hand"`
	From    int     `json:"from" doc:"So many boards of one shape pay for it"`
	Shapes  int     `json:"shapes" doc:"Different shapes in the run"`
	Costs   float64 `json:"costs" doc:"Minutes that each board costs more than if all had one shape"`
}

// TemplatesFor tells of templates for boards with such outlines.
func TemplatesFor(outlines []string) (t Templates) {
	alike := map[string]int{}
	for _, o := range outlines {
		alike[o]++
		t.Boards = max(t.Boards, alike[o])
	}
	t.Shapes = len(alike)
	t.With, t.Without, t.From = Template(t.Boards)
	each, shared := Shapes(len(outlines), max(1, t.Shapes))
	t.Costs = max(0, each-shared)
	return t
}
