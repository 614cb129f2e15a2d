package reckon

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"time"

	"idletimber/craft/plan"
)

// PlanHelp is a change of the hours that would bring all work nearer to its days.
type PlanHelp struct {
	Label  string  `json:"label" doc:"What is changed"`
	LateBy float64 `json:"lateBy" doc:"Minutes by which boards are less late, all together"`
	Last   float64 `json:"last" doc:"Minutes by which the last one is sooner ready"`
	Hands  float64 `json:"hands,omitempty" doc:"Minutes of work that it hands over"`
}

// mostHelps is how many changes of the hours are spoken of.
const mostHelps = 4

// Fewer are boards of a run that need not be made.
type Fewer struct {
	Run    string // its name
	Boards []plan.Subject
}

// PlanHelps tries what would help the plan of a scene: a session on a day that has none, somebody who takes over one
// kind of work in the maker's own sessions, and runs with fewer boards. It tells those that help by a quarter of an
// hour at least, the best first, and fails as Reckon does.
func PlanHelps(s Scene, fewer []Fewer) ([]PlanHelp, error) {
	b, err := draw(s)
	if err != nil {
		return nil, err
	}
	w, err := b.work()
	if err != nil {
		return nil, err
	}
	lateBy, last := together(w.courses)
	out := []PlanHelp{}
	gains := func(label string, hands float64, courses []plan.Course) error {
		by, end := together(courses)
		h := PlanHelp{Label: label, LateBy: lateBy - by, Last: last.Sub(end).Minutes(), Hands: hands}
		const quarter = 15
		if h.LateBy >= quarter || h.LateBy > -1 && h.Last >= quarter {
			out = append(out, h)
		}
		return b.Watch.Ask()
	}
	try := func(label string, hands float64, sessions []plan.Session, helpers []plan.Helper) error {
		return gains(label, hands, w.planner.With(sessions, helpers).Schedule(w.chains))
	}
	for day := time.Sunday; day <= time.Saturday; day++ {
		mine := func(o plan.Session) bool { return o.Who == "" && o.Weekday == day }
		if len(w.sessions) == 0 || slices.ContainsFunc(w.sessions, mine) {
			continue
		}
		like := w.sessions[0]
		like.Weekday, like.Who = day, ""
		label := fmt.Sprintf("A session on %ss too, %s to %s", day, like.Start, like.End)
		if err := try(label, 0, append(slices.Clone(w.sessions), like), w.planner.Helpers); err != nil {
			return nil, err
		}
	}
	const helper = "somebody"
	beside := slices.Clone(w.sessions)
	for _, o := range w.sessions {
		if o.Who == "" {
			o.Who = helper
			beside = append(beside, o)
		}
	}
	for _, kind := range handed(w.courses) {
		helpers := append(slices.Clone(w.planner.Helpers), plan.Helper{Name: helper, Does: []plan.Kind{kind.of}})
		label := "Somebody for the " + string(kind.of) + ", beside you"
		if err := try(label, math.Round(kind.minutes), beside, helpers); err != nil {
			return nil, err
		}
	}
	for _, run := range fewer {
		left := slices.DeleteFunc(slices.Clone(w.chains), func(c plan.Chain) bool {
			return slices.Contains(run.Boards, c.Subject)
		})
		if n := len(w.chains) - len(left); n > 0 {
			label := fmt.Sprintf("%d fewer of %s", n, run.Run)
			if err := gains(label, 0, w.planner.Schedule(left)); err != nil {
				return nil, err
			}
		}
	}
	slices.SortStableFunc(out, func(a, b PlanHelp) int {
		return cmp.Or(cmp.Compare(b.LateBy, a.LateBy), cmp.Compare(b.Last, a.Last))
	})
	return out[:min(len(out), mostHelps)], nil
}

// BoardHelps are what would bring the first board of a scene nearer to its day, the best first, as they stand with its
// sheet, but of each part of the work the best only: wood milled thinner before it rests, a quicker filler, a coat
// less. It fails as Reckon does.
func BoardHelps(s Scene) ([]Help, error) {
	b, err := draw(s)
	if err != nil {
		return nil, err
	}
	w, err := b.work()
	if err != nil {
		return nil, err
	}
	known := map[string]bool{}
	best := slices.DeleteFunc(w.helps(0), func(h Help) bool {
		part := fmt.Sprint(slices.Sorted(maps.Keys(h.Patch)))
		again := known[part]
		known[part] = true
		return again
	})
	return best, b.Watch.Ask()
}

// together is how late all courses are, minutes, and when the last one is ready.
func together(courses []plan.Course) (lateBy float64, last time.Time) {
	for _, c := range courses {
		if c.Late {
			lateBy -= c.Slack
		}
		if c.Finish != nil && c.Finish.After(last) {
			last = *c.Finish
		}
	}
	return lateBy, last
}

type handedOver struct {
	of      plan.Kind
	minutes float64
}

// handed are the kinds of work that there is most of, which somebody else might do: the two longest.
func handed(courses []plan.Course) []handedOver {
	var all []handedOver
	for _, c := range courses {
		for _, s := range c.Steps {
			if s.State == plan.Done || s.Minutes == 0 || s.Kind == plan.Pour || s.Kind == plan.GlueUp {
				continue
			}
			i := slices.IndexFunc(all, func(h handedOver) bool { return h.of == s.Kind })
			if i < 0 {
				all = append(all, handedOver{of: s.Kind})
				i = len(all) - 1
			}
			all[i].minutes += max(0, s.Minutes-s.Spent)
		}
	}
	slices.SortStableFunc(all, func(a, b handedOver) int { return cmp.Compare(b.minutes, a.minutes) })
	const most = 2
	return all[:min(len(all), most)]
}
