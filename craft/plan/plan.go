// Package plan turns steps into dates: hands-on minutes inside the sessions
// that a maker keeps, waits that run day and night between them.
package plan

import (
	"slices"
	"strings"
	"time"

	"idletimber/craft"
	"idletimber/craft/geom"
)

// Step is one piece of work on a board, followed by a wait.
type Step struct {
	Key       string      `json:"key" doc:"Unique on its board"`
	Kind      Kind        `json:"kind" doc:"Kind of work"`
	Stage     craft.Stage `json:"stage" doc:"Stage of the work"`
	Title     string      `json:"title" doc:"What is done"`
	Detail    string      `json:"detail" doc:"More of what is done, in words"`
	Minutes   float64     `json:"minutes" doc:"Hands-on, as estimated at the maker's pace"`
	Usual     float64     `json:"usual" doc:"Hands-on by the bare rates"`
	Wait      float64     `json:"wait" doc:"Minutes that must pass after it, day and night"`
	WaitFor   string      `json:"waitFor" doc:"What the wait is for; empty without one"`
	Until     *time.Time  `json:"until,omitempty" doc:"A moment before which the wait is not over, whenever it began"`
	From      *time.Time  `json:"from,omitempty" doc:"A moment before which it cannot begin: what it needs comes then"`
	FromWhat  string      `json:"fromWhat,omitempty" doc:"What comes then; empty where it waits for nothing"`
	Rest      float64     `json:"rest" doc:"Minutes after it until the board is ready; other work may go on"`
	Divisible bool        `json:"divisible" doc:"May be spread over several sessions"`
	Attended  bool        `json:"attended,omitempty" doc:"When its wait is over, the next step follows at once"`

	Setup        string   `json:"setup" doc:"What is set up for it: steps that share it share a grit, bit or coat"`
	SetupMinutes float64  `json:"setupMinutes" doc:"Part of the minutes that goes into the set-up"`
	After        []string `json:"after,omitempty" doc:"Keys of what it waits for; left out: all before"`
	Holds        []string `json:"holds,omitempty" doc:"What it holds until its wait is over: clamps, a mould, a bath"`
	Clamps       int      `json:"clamps,omitempty" doc:"How many of them, where it holds clamps"`

	Working craft.Figure `json:"working" doc:"How the hands-on minutes came about"`
}

// On is the step set up with something particular: a grit, a bit, a saw.
func (s Step) On(setup string) Step {
	s.Setup = string(s.Kind) + ", " + setup
	return s
}

// Tool is what the step is set up with, as On was told; empty where it was told nothing.
func (s Step) Tool() string {
	_, with, _ := strings.Cut(s.Setup, ", ")
	with, _, _ = strings.Cut(with, ", ")
	return with
}

// What steps hold besides the maker until their wait is over.
const (
	Bath  = "oil bath"
	Rack  = "drying rack"
	Level = "level place"

	HeldClamps = "clamps"
)

// Holding names what the step holds as long as it waits; a step without a
// wait holds nothing.
func (s *Step) Holding(what string) {
	if s.Wait > 0 && !slices.Contains(s.Holds, what) {
		s.Holds = append(s.Holds, what)
	}
}

// many is how many places of something the step holds.
func (s Step) many(what string) int {
	if what == HeldClamps {
		return max(1, s.Clamps)
	}
	return 1
}

// Subject is what work is done on: a board, a panel, a run.
type Subject struct {
	Kind string `json:"kind" enum:"board,panel,run" doc:"What it is"`
	ID   string `json:"id" doc:"Its id"`
}

// Board is a board as a subject.
func Board(id string) Subject { return Subject{"board", id} }

// Panel is a panel as a subject.
func Panel(id string) Subject { return Subject{"panel", id} }

// String is the subject as another chain's steps name it: kind and id.
func (s Subject) String() string { return s.Kind + ":" + s.ID }

// Noon is the moment that a day stands for, YYYY-MM-DD, in a zone: by then a board must be
// ready, or a piece is back. It is nil where there is no such day.
func Noon(day string, zone *time.Location) *time.Time {
	const noon = 12
	d, err := time.ParseInLocation(time.DateOnly, day, zone)
	if err != nil {
		return nil
	}
	at := time.Date(d.Year(), d.Month(), d.Day(), noon, 0, 0, 0, zone)
	return &at
}

// Chain is the steps of one subject in their order, the day on which it must be
// ready, and how far it has come. A step waits for all before it, or only for the
// steps that it names, of this chain or of another:
//
//	panel:p   rip ──→ glue ─ ─ in clamps ─ ─→ flatten
//	                                             ╲ After: "panel:p/flatten"
//	board:b                                       saw ──→ sand ──→ coat ─ ─ soak ─ ─→
//
// Hands-on minutes (──) lie within the maker's sessions; waits (─ ─) run day and
// night, and rest after a step does not keep others back.
type Chain struct {
	Subject Subject    `json:"subject" doc:"What the work is done on"`
	Name    string     `json:"name" doc:"As the maker calls it"`
	Due     *time.Time `json:"due,omitempty" doc:"When it must be ready for food"`
	Steps   []Step     `json:"steps" doc:"In their order"`
	Log     []Entry    `json:"log" doc:"What has been done, oldest first"`
}

// Entry is one event in the log of a step.
type Entry struct {
	Step    string    `json:"step" doc:"Key of the step"`
	Event   string    `json:"event" enum:"start,pause,finish,undo,note" doc:"What happened"`
	At      time.Time `json:"at" doc:"When"`
	Minutes float64   `json:"minutes" doc:"Actual hands-on minutes, with finish"`

	What  string      `json:"what,omitempty" doc:"With note: what was noted"`
	Value float64     `json:"value,omitempty" doc:"With note: how much of it, in its own unit"`
	Place *geom.Point `json:"place,omitempty" doc:"With note: where, in the slab's frame"`
	Of    string      `json:"of,omitempty" doc:"Of a pour: the kind of resin that was poured"`
}

// The states of a step, and the events that change them.
const (
	ToDo    = "to do"
	Running = "running"
	Paused  = "paused"
	Done    = "done"

	Start  = "start"
	Pause  = "pause"
	Finish = "finish"
	Undo   = "undo"
	Noted  = "note" // something was written down; the state stays
)

// Progress is how far a step has come.
type Progress struct {
	State     string     `json:"state" enum:"to do,running,paused,done" doc:"How far it is"`
	Spent     float64    `json:"spent" doc:"Minutes at work so far, while it runs as of now"`
	StartedAt *time.Time `json:"startedAt,omitempty" doc:"When the present stretch began"`
	DoneAt    *time.Time `json:"doneAt,omitempty" doc:"When it was finished"`
	Touched   *time.Time `json:"-"` // when it was last begun, paused, finished or taken back
	Finished  int        `json:"finished,omitempty" doc:"How often, where two devices disagree; the latest counts"`
}

// Follow reads the log of one step, in the order in which it happened. Two devices may disagree: what is finished stays
// so until it is taken back, and the latest finish counts.
func Follow(log []Entry, step string, now time.Time) Progress {
	p := Progress{State: ToDo}
	var spent float64
	finishes := 0
	for _, e := range log {
		if e.Step != step || e.Event == Noted {
			continue
		}
		at := e.At
		if p.State == Done && (e.Event == Start || e.Event == Pause) {
			continue
		}
		if p.State == Running {
			spent += at.Sub(*p.StartedAt).Minutes()
		}
		p.StartedAt = nil
		switch e.Event {
		case Start:
			p.State, p.StartedAt = Running, &at
		case Pause:
			p.State = Paused
		case Finish:
			if finishes++; p.State == Done {
				p.Finished = finishes
			}
			p.State, p.DoneAt = Done, &at
			if e.Minutes > 0 {
				spent = e.Minutes
			}
		case Undo:
			p, spent, finishes = Progress{State: ToDo}, 0, 0
		}
		p.Touched = &at
	}
	p.Spent = spent
	if p.State == Running {
		p.Spent += max(0, now.Sub(*p.StartedAt).Minutes())
	}
	return p
}

// Dated is a step with its place in time.
type Dated struct {
	Step
	Progress
	Starts    *time.Time `json:"starts,omitempty" doc:"Earliest start, for a step that is not done"`
	Ends      *time.Time `json:"ends,omitempty" doc:"Earliest end of the hands-on part"`
	LatestAt  *time.Time `json:"latestAt,omitempty" doc:"Latest start that keeps the date"`
	WaitUntil *time.Time `json:"waitUntil,omitempty" doc:"End of the wait after it"`
	RestUntil *time.Time `json:"restUntil,omitempty" doc:"End of the rest after it"`
	Late      bool       `json:"late" doc:"The latest start has passed"`
	Alone     bool       `json:"alone,omitempty" doc:"No session holds what should follow its wait at once"`
	Full      string     `json:"full,omitempty" doc:"What has no place free sooner, so that it begins later"`
	Who       string     `json:"who,omitempty" doc:"Who does it; empty for the maker"`
	Shared    float64    `json:"shared,omitempty" doc:"Minutes that it is spared since it is set up already"`
	Slack     *float64   `json:"slack,omitempty" doc:"Minutes by which it may begin later and the date is kept"`
	Critical  bool       `json:"critical,omitempty" doc:"Nothing on its board may begin as little later as this"`
	Pinned    string     `json:"pinned,omitempty" doc:"Day that the maker has locked it to"`
	Unkept    string     `json:"unkept,omitempty" doc:"Why it is not on the day that it is locked to"`
}

// Course is a chain with dates.
type Course struct {
	Subject     Subject    `json:"subject" doc:"What the work is done on"`
	Name        string     `json:"name" doc:"As the maker calls it"`
	Due         *time.Time `json:"due,omitempty" doc:"When it must be ready for food"`
	Steps       []Dated    `json:"steps" doc:"In their order"`
	LatestStart *time.Time `json:"latestStart,omitempty" doc:"Of the first step that is not done"`
	Finish      *time.Time `json:"finish,omitempty" doc:"Earliest moment at which it is ready"`
	Slack       float64    `json:"slack" doc:"Minutes between the earliest finish and the date; negative when too late"`
	Late        bool       `json:"late" doc:"It will not be done by its date"`
	HandsOn     float64    `json:"handsOn" doc:"Minutes of work still to do"`
	Done        bool       `json:"done" doc:"All its steps are done"`
	Unplaced    bool       `json:"unplaced" doc:"The sessions within two years do not hold the work"`
	Dropped     float64    `json:"-"` // minutes spent at finished steps that the plan no longer has
}

// InAll is how many minutes of hands-on work it comes to: what was spent, and what is still to do.
func (c Course) InAll() float64 {
	sum := c.HandsOn + c.Dropped
	for _, d := range c.Steps {
		sum += d.Spent
	}
	return sum
}

func newCourse(c Chain, now time.Time) Course {
	course := Course{Subject: c.Subject, Name: c.Name, Due: c.Due, Done: true}
	var before *time.Time // when a later step was done
	done := make([]Progress, len(c.Steps))
	for i := len(c.Steps) - 1; i >= 0; i-- {
		done[i] = Follow(c.Log, c.Steps[i].Key, now)
		// What follows a wait at once has followed when something after it is done: a log
		// that is older than the step does not name it.
		if done[i].State == ToDo && before != nil && i > 0 && c.Steps[i-1].Attended {
			done[i] = Progress{State: Done, DoneAt: before}
		}
		if done[i].State == Done {
			before = done[i].DoneAt
		}
	}
	for i, s := range c.Steps {
		d := Dated{Step: s, Progress: done[i]}
		if d.State == Done {
			d.waits(*d.DoneAt)
		} else {
			course.Done = false
			course.HandsOn += d.left()
		}
		course.Steps = append(course.Steps, d)
	}
	course.Dropped = c.dropped(now)
	return course
}

// dropped is how many minutes were spent at finished steps that the chain no longer has.
func (c Chain) dropped(now time.Time) (minutes float64) {
	known := make(map[string]bool, len(c.Steps))
	for _, s := range c.Steps {
		known[s.Key] = true
	}
	var steps []string // in the order in which they were begun
	logs := map[string][]Entry{}
	for _, e := range c.Log {
		if known[e.Step] {
			continue
		}
		if logs[e.Step] == nil {
			steps = append(steps, e.Step)
		}
		logs[e.Step] = append(logs[e.Step], e)
	}
	for _, step := range steps {
		if p := Follow(logs[step], step, now); p.State == Done { // one that was left running would run for ever
			minutes += p.Spent
		}
	}
	return minutes
}

// left is how many minutes of a step are still to do; a step that overran
// still takes a minute to be finished.
func (d Dated) left() float64 {
	if d.Minutes == 0 {
		return 0
	}
	return max(1, d.Minutes-d.Spent)
}

// waits dates the wait and the rest after the hands-on part has ended.
func (d *Dated) waits(ended time.Time) {
	until := d.until(ended)
	d.WaitUntil = &until
	if d.Rest > 0 {
		rested := ended.Add(minutes(d.Rest))
		d.RestUntil = &rested
	}
}

// until is when the wait of a step is over whose hands-on part has ended.
func (s Step) until(ended time.Time) time.Time {
	until := ended.Add(minutes(s.Wait))
	if s.Until != nil && s.Until.After(until) {
		return *s.Until
	}
	return until
}
