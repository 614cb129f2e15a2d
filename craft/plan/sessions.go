package plan

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"time"

	"idletimber/craft"
)

// Session is a weekly stretch of time at the bench.
type Session struct {
	Weekday time.Weekday `json:"weekday" range:"0,6" minimum:"0" maximum:"6" doc:"0 is Sunday"`
	Start   string       `json:"start" doc:"HH:MM in the workshop's time zone"`
	End     string       `json:"end" doc:"Time of day, such as 21:00"`
	Who     string       `json:"who,omitempty" doc:"Whose hours they are; empty for the maker"`
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

// Helper is somebody who helps, in sessions of their own.
type Helper struct {
	Name string `json:"name" doc:"Who it is; sessions are theirs by this name"`
	Does []Kind `json:"does" doc:"Kinds of work that may be handed to them"`
}

// Leave is days on which somebody is not at the bench, the first and the last included.
type Leave struct {
	From string `json:"from" doc:"First day, YYYY-MM-DD"`
	To   string `json:"to" doc:"Last day"`
	Why  string `json:"why,omitempty" doc:"In the maker's own words"`
	Who  string `json:"who,omitempty" doc:"Name of the helper who is away; empty where nobody works"`
}

// Ordered is a tool or a supply that is on order: steps that need it wait for its day.
type Ordered struct {
	What string `json:"what" doc:"As steps name it: a product, a tool, a grit such as P120"`
	Day  string `json:"day" doc:"On which it comes, YYYY-MM-DD"`
}

// Hours are when one person, empty for the maker, is at the bench between two moments.
func Hours(sessions []Session, off []Leave, who string, zone *time.Location, from, to time.Time) []Window {
	own := slices.DeleteFunc(slices.Clone(sessions), func(s Session) bool { return s.Who != who })
	return Without(Windows(own, zone, from, to), off, who, zone)
}

// Without is what is left of sessions on the days on which one is there.
func Without(windows []Window, off []Leave, who string, zone *time.Location) []Window {
	for _, l := range off {
		from, err1 := time.ParseInLocation(time.DateOnly, l.From, zone)
		last, err2 := time.ParseInLocation(time.DateOnly, l.To, zone)
		if l.Who != "" && l.Who != who || err1 != nil || err2 != nil {
			continue
		}
		to := time.Date(last.Year(), last.Month(), last.Day()+1, 0, 0, 0, 0, zone)
		left := make([]Window, 0, len(windows))
		for _, w := range windows {
			if before := (Window{w.From, earliest(w.To, from)}); before.From.Before(before.To) {
				left = append(left, before)
			}
			if w.From.Before(to) {
				w.From = to
			}
			if w.From.Before(w.To) {
				left = append(left, w)
			}
		}
		windows = left
	}
	return windows
}

func earliest(a, b time.Time) time.Time {
	if b.Before(a) {
		return b
	}
	return a
}
