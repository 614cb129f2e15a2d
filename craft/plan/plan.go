// Package plan turns steps into dates: hands-on minutes inside the sessions
// that a maker keeps, waits that run day and night between them.
package plan

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"sort"
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
	Rest      float64     `json:"rest" doc:"Minutes after it until the board is ready; other work may go on"`
	Divisible bool        `json:"divisible" doc:"May be spread over several sessions"`
	Attended  bool        `json:"attended,omitempty" doc:"When its wait is over, the next step follows at once"`

	Setup        string   `json:"setup" doc:"What is set up for it: steps that share it share a grit, bit or coat"`
	SetupMinutes float64  `json:"setupMinutes" doc:"Part of the minutes that goes into the set-up"`
	After        []string `json:"after,omitempty" doc:"Keys of what it waits for; left out: all before"`
	Holds        []string `json:"holds,omitempty" doc:"What it holds until its wait is over: clamps, a mould, a bath"`

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
}

// Follow reads the log of one step.
func Follow(log []Entry, step string, now time.Time) Progress {
	p := Progress{State: ToDo}
	var spent float64
	for _, e := range log {
		if e.Step != step || e.Event == Noted {
			continue
		}
		at := e.At
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
			p.State, p.DoneAt = Done, &at
			if e.Minutes > 0 {
				spent = e.Minutes
			}
		case Undo:
			p, spent = Progress{State: ToDo}, 0
		}
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
}

// Sessions are looked at as far as reach, and, when that does not hold the
// work, as far as horizon; what does not fit there is said to be unplaced.
const (
	reach   = 150 * 24 * time.Hour
	horizon = 2 * 366 * 24 * time.Hour
)

// Schedule dates every chain: see Planner.
func Schedule(chains []Chain, sessions []Session, zone *time.Location, now time.Time) []Course {
	return NewPlanner(sessions, zone, now).Schedule(chains)
}

// Planner dates chains of steps within one maker's sessions from one moment
// on. It remembers the sessions that it has looked at.
type Planner struct {
	Places   Places // how many find a place at once
	sessions []Session
	zone     *time.Location
	now      time.Time
	ahead    map[time.Duration][]Window // by how far they reach
	back     map[time.Time][]Window     // by their end
}

// NewPlanner makes a planner.
func NewPlanner(sessions []Session, zone *time.Location, now time.Time) *Planner {
	return &Planner{
		sessions: sessions, zone: zone, now: now,
		ahead: map[time.Duration][]Window{}, back: map[time.Time][]Window{},
	}
}

func (p *Planner) windowsAhead(far time.Duration) []Window {
	if _, ok := p.ahead[far]; !ok {
		p.ahead[far] = Windows(p.sessions, p.zone, p.now, p.now.Add(far))
	}
	return p.ahead[far]
}

// windowsBack reach into the past: latest starts that lie there say how late
// one is.
func (p *Planner) windowsBack(until time.Time) []Window {
	if _, ok := p.back[until]; !ok {
		p.back[until] = Windows(p.sessions, p.zone, p.now.Add(-reach), until)
	}
	return p.back[until]
}

// Schedule dates every chain. The maker works on one thing at a time; boards
// with the earlier date come first, forward from now and backward from the
// date.
func (p *Planner) Schedule(chains []Chain) []Course {
	now := p.now
	order := make([]int, len(chains))
	for i := range order {
		order[i] = i
	}
	sort.SliceStable(order, func(a, b int) bool { return earlier(chains[order[a]], chains[order[b]]) })

	order = inOrder(chains, order)
	courses := make([]Course, len(chains))
	lastDue := now
	for _, c := range chains {
		if c.Due != nil && c.Due.After(lastDue) {
			lastDue = *c.Due
		}
	}
	if limit := now.Add(horizon); lastDue.After(limit) {
		lastDue = limit
	}
	for _, far := range []time.Duration{reach, horizon} {
		ahead := newCalendar(p.windowsAhead(far), now, false)
		unplaced := false
		waits := ends{}
		for i := range chains {
			courses[i] = newCourse(chains[i], now)
		}
		held := newFilled(p.Places)
		held.inHand(courses, Done, now)
		held.inHand(courses, Running, now)
		for _, i := range order {
			forward(&courses[i], ahead, now, waits, held)
			unplaced = unplaced || courses[i].Unplaced
		}
		if !unplaced {
			break
		}
	}
	back := newCalendar(p.windowsBack(lastDue), lastDue, true)
	starts, held := limits{}, newFilled(p.Places)
	held.inHand(courses, Done, now) // what runs is put anew, as late as may be
	for k := len(order) - 1; k >= 0; k-- {
		backward(&courses[order[k]], back, now, starts, held)
	}
	return courses
}

// inHand is what is held by steps of a state: by those that are done while their waits go
// on, by those that run as soon as they end.
func (f *filled) inHand(courses []Course, state string, now time.Time) {
	for _, c := range courses {
		for _, s := range c.Steps {
			switch {
			case s.State != state:
			case state == Done:
				f.hold(s, Window{*s.DoneAt, s.until(*s.DoneAt)})
			default:
				ends := now.Add(minutes(s.left()))
				f.hold(s, Window{ends, s.until(ends)})
			}
		}
	}
}

// place names a step among all chains.
func place(of Subject, key string) string {
	if strings.Contains(key, "/") { // of another chain
		return key
	}
	return of.String() + "/" + key
}

// ends is when the waits after steps are over, limits the latest moment at which
// they must be, by place.
type (
	ends   map[string]time.Time
	limits map[string]time.Time
)

// inOrder puts every chain behind those whose steps its own wait for, as far as
// they do not wait for each other.
func inOrder(chains []Chain, order []int) []int {
	byName := map[string]int{}
	for i, c := range chains {
		byName[c.Subject.String()] = i
	}
	out := make([]int, 0, len(order))
	seen := make([]bool, len(chains))
	var visit func(i int)
	visit = func(i int) {
		if seen[i] {
			return
		}
		seen[i] = true
		for _, s := range chains[i].Steps {
			for _, key := range s.After {
				of, _, other := strings.Cut(key, "/")
				if k, ok := byName[of]; ok && other {
					visit(k)
				}
			}
		}
		out = append(out, i)
	}
	for _, i := range order {
		visit(i)
	}
	return out
}

// waiting is how long a chain waits in all, minutes.
func (c Chain) waiting() (sum float64) {
	for _, s := range c.Steps {
		sum += s.Wait
	}
	return sum
}

// earlier orders chains by their date, those without one last. Of those of the same
// day, or of none, the one that waits longest comes first: its waits run beside the
// work on the others. What waits alike keeps one order, by name, whichever is looked
// at.
func earlier(a, b Chain) bool {
	switch {
	case (a.Due == nil) != (b.Due == nil):
		return a.Due != nil
	case a.Due != nil && !a.Due.Equal(*b.Due):
		return a.Due.Before(*b.Due)
	}
	return cmp.Or(
		cmp.Compare(b.waiting(), a.waiting()), cmp.Compare(a.Name, b.Name),
		cmp.Compare(a.Subject.String(), b.Subject.String()),
	) < 0
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
	return course
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

func minutes(m float64) time.Duration { return time.Duration(m * float64(time.Minute)) }

// after is when a step may start: when all before it in its chain, or the steps
// that it names, are done and waited for. A step that is named and nowhere to be
// found keeps nothing back.
func (s Dated) after(of Subject, before, now time.Time, waits ends) time.Time {
	if len(s.After) == 0 {
		return before
	}
	ready := now
	for _, key := range s.After {
		if t := waits[place(of, key)]; t.After(ready) {
			ready = t
		}
	}
	return ready
}

// together is how many steps from the i-th on follow each other's waits at once.
func (c *Course) together(i int) int {
	n := 1
	for i+n < len(c.Steps) && c.Steps[i+n-1].Attended && c.Steps[i+n].State == ToDo && len(c.Steps[i+n].After) == 0 {
		n++
	}
	return n
}

func forward(c *Course, cal *calendar, now time.Time, waits ends, held *filled) {
	free, ready := now, now
	var row []Window // when the steps are worked on that follow the waits before them
	for i := range c.Steps {
		s := &c.Steps[i]
		if s.State != Done {
			start, end, ok := now, now.Add(minutes(s.left())), true
			if s.State != Running && len(row) == 0 { // what is in hand goes on, whatever the hour
				together := c.Steps[i : i+c.together(i)]
				row, s.Full, ok = cal.put(s.after(c.Subject, free, now, waits), together, held)
			}
			if len(row) > 0 {
				start, end, row = row[0].From, row[0].To, row[1:]
			}
			if !ok {
				c.Unplaced = true
				return
			}
			s.Starts, s.Ends = &start, &end
			s.waits(end)
			if len(row) > 0 && row[0].From.After(*s.WaitUntil) { // it goes on until somebody is back
				s.Alone, s.WaitUntil = true, &row[0].From
			}
		}
		waits[place(c.Subject, s.Key)] = *s.WaitUntil
		if s.WaitUntil.After(free) {
			free = *s.WaitUntil
		}
		if s.RestUntil != nil && s.RestUntil.After(ready) {
			ready = *s.RestUntil
		}
	}
	if free.After(ready) {
		ready = free
	}
	c.Finish = &ready
	if c.Due != nil {
		c.Slack = c.Due.Sub(ready).Minutes()
		c.Late = c.Slack < 0
	}
}

// backward dates the latest starts by the same placing in mirrored time: before the
// day, before the steps that come after in the chain, and before those anywhere
// that name it.
func backward(c *Course, cal *calendar, now time.Time, starts limits, held *filled) {
	var limit time.Time // of all steps before; zero without one
	if c.Due != nil {
		limit = *c.Due
	}
	sooner := func(a, b time.Time) time.Time {
		if a.IsZero() || !b.IsZero() && b.Before(a) {
			return b
		}
		return a
	}
	for i := len(c.Steps) - 1; i >= 0; i-- {
		s := &c.Steps[i]
		if s.State == Done {
			continue
		}
		by := sooner(limit, starts[place(c.Subject, s.Key)])
		if by.IsZero() {
			continue
		}
		by = by.Add(-minutes(s.Wait))
		if c.Due != nil {
			by = sooner(by, c.Due.Add(-minutes(s.Rest)))
		}
		first := i
		for first > 0 && c.Steps[first-1].State == ToDo && c.together(first-1) > 1 {
			first--
		}
		on, _, ok := cal.put(by, c.Steps[first:i+1], held)
		if !ok { // before the sessions that were looked at: the date cannot be kept
			return
		}
		for k, w := range on {
			c.Steps[first+k].LatestAt, c.Steps[first+k].Late = &w.From, w.From.Before(now)
		}
		s, i = &c.Steps[first], first
		start := on[0].From
		if s.Minutes > 0 || c.LatestStart == nil { // what waits by itself is begun by nobody
			c.LatestStart = &start
		}
		if len(s.After) == 0 {
			limit = start
			continue
		}
		for _, key := range s.After {
			at := place(c.Subject, key)
			starts[at] = sooner(starts[at], start)
		}
	}
}

// Session is a weekly stretch of time at the bench.
type Session struct {
	Weekday time.Weekday `json:"weekday" range:"0,6" minimum:"0" maximum:"6" doc:"0 is Sunday"`
	Start   string       `json:"start" doc:"HH:MM in the workshop's time zone"`
	End     string       `json:"end" doc:"Time of day, such as 21:00"`
}

// Check reports a session that has no length.
func (s Session) Check(field string) (ps craft.Problems) {
	ps.InRange(field, s)
	from, okFrom := clock(s.Start)
	to, okTo := clock(s.End)
	if !okFrom {
		ps.Add(field+".start", fmt.Sprintf("%q is not a time of day", s.Start), "write it like 19:00")
	}
	if !okTo {
		ps.Add(field+".end", fmt.Sprintf("%q is not a time of day", s.End), "write it like 21:30")
	}
	if okFrom && okTo && to-from < 10*time.Minute {
		ps.Add(
			field+".end",
			"the session ends before it starts or is under ten minutes",
			"give an end later on the same day",
		)
	}
	return ps
}

// Minutes is how long the session lasts; 0 when its times cannot be read.
func (s Session) Minutes() float64 {
	from, okFrom := clock(s.Start)
	to, okTo := clock(s.End)
	if !okFrom || !okTo {
		return 0
	}
	return (to - from).Minutes()
}

// mostClearing is what part of a session may go into clearing up.
const mostClearing = 1.0 / 4

// Clearing is how much of a session, minutes, goes into clearing up that takes so long: of a short
// one no more than a quarter.
func Clearing(session, takes float64) float64 { return math.Round(min(takes, mostClearing*session)) }

// Working are sessions without the minutes at their ends that go into clearing up.
func Working(sessions []Session, clearing float64) []Session {
	out := slices.Clone(sessions)
	for i, s := range out {
		end, ok := clock(s.End)
		if !ok || s.Minutes() <= 0 {
			continue
		}
		end -= minutes(Clearing(s.Minutes(), clearing))
		out[i].End = fmt.Sprintf("%02d:%02d", int(end.Hours()), int(end.Minutes())%60)
	}
	return out
}

func clock(text string) (time.Duration, bool) {
	t, err := time.Parse("15:04", text)
	if err != nil {
		return 0, false
	}
	return time.Duration(t.Hour())*time.Hour + time.Duration(t.Minute())*time.Minute, true
}

// Window is a stretch of time.
type Window struct{ From, To time.Time }

// Windows lays the weekly sessions out between two moments, in order, in the
// wall-clock time of the zone, so that 19:00 stays 19:00 across clock changes.
// Sessions that overlap are joined.
func Windows(sessions []Session, zone *time.Location, from, to time.Time) []Window {
	type hours struct {
		weekday    time.Weekday
		start, end time.Duration
	}
	var week []hours
	for _, s := range sessions {
		start, okStart := clock(s.Start)
		end, okEnd := clock(s.End)
		if okStart && okEnd {
			week = append(week, hours{s.Weekday, start, end})
		}
	}
	var out []Window
	day := from.In(zone)
	for d := time.Date(day.Year(), day.Month(), day.Day(), 0, 0, 0, 0, zone); d.Before(to); d = time.Date(d.Year(),
		d.Month(), d.Day()+1, 0, 0, 0, 0, zone) {
		for _, h := range week {
			if h.weekday != d.Weekday() {
				continue
			}
			at := func(c time.Duration) time.Time {
				t := time.Date(d.Year(), d.Month(), d.Day(), int(c.Hours()), int(c.Minutes())%60, 0, 0, zone)
				if t.Hour() != int(c.Hours())%24 { // an hour that the clocks leave out: after it
					t = d.Add(c)
				}
				return t
			}
			w := Window{at(h.start), at(h.end)}
			if w.From.Before(from) {
				w.From = from
			}
			if w.To.After(to) {
				w.To = to
			}
			if w.From.Before(w.To) {
				out = append(out, w)
			}
		}
	}
	sort.Slice(out, func(i, j int) bool { return out[i].From.Before(out[j].From) })
	joined := out[:0]
	for _, w := range out {
		if n := len(joined); n > 0 && !w.From.After(joined[n-1].To) {
			if w.To.After(joined[n-1].To) {
				joined[n-1].To = w.To
			}
			continue
		}
		joined = append(joined, w)
	}
	return joined
}
