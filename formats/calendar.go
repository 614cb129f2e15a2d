package formats

import (
	"bytes"
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"

	"idletimber/craft/measure"
	"idletimber/craft/plan"
)

// Day is something to be thought of on a day.
type Day struct {
	ID    string // its own for good
	Title string
	At    time.Time
}

// Calendar writes the plan of a shop as iCalendar (RFC 5545): what is worked on, hour by hour, each wait with an
// alarm at its end, the days on which boards are due, and other days. Times are in UTC, days in the shop's time zone.
func Calendar(
	name string, courses []plan.Course, system measure.System, zone *time.Location, now time.Time, days ...Day,
) []byte {
	cal := ics.NewCalendarFor("Idle Timber")
	cal.SetName(name)
	cal.SetMethod(ics.MethodPublish)
	cal.SetRefreshInterval("PT1H")
	for _, b := range blocksOf(courses) {
		e := event(cal, b.id, now, b.from, b.to)
		e.SetSummary(b.title(system))
		e.SetDescription(strings.Join(b.lines(system), "\n"))
	}
	for _, c := range courses {
		for _, s := range c.Steps {
			began := s.Ends
			if s.State == plan.Done {
				began = s.DoneAt
			}
			if s.Wait == 0 || began == nil || s.WaitUntil == nil || !s.WaitUntil.After(now) {
				continue
			}
			e := event(cal, "wait/"+c.Subject.String()+"/"+s.Key, now, *began, *s.WaitUntil)
			e.SetSummary(c.Name + ": " + measure.Text(s.WaitFor, system))
			e.SetTimeTransparency(ics.TransparencyTransparent) // it takes nobody's time
			alarm := e.AddAlarm()
			alarm.SetAction(ics.ActionDisplay)
			alarm.SetProperty(ics.ComponentPropertyDescription, c.Name+": "+measure.Text(s.WaitFor, system)+" is over")
			alarm.SetTrigger("PT0S", &ics.KeyValues{Key: string(ics.ParameterRelated), Value: []string{"END"}})
		}
		if c.Due != nil && !c.Done {
			allDay(cal, Day{"due/" + c.Subject.String(), c.Name + " is due", c.Due.In(zone)}, now)
		}
	}
	for _, d := range days {
		allDay(cal, d, now)
	}
	var out bytes.Buffer
	_ = cal.SerializeTo(&out) // a buffer takes all
	return out.Bytes()
}

func allDay(cal *ics.Calendar, d Day, now time.Time) *ics.VEvent {
	e := cal.AddEvent(d.ID + "@idletimber")
	e.SetDtStampTime(now)
	e.SetAllDayStartAt(time.Date(d.At.Year(), d.At.Month(), d.At.Day(), 0, 0, 0, 0, time.UTC))
	e.SetSummary(d.Title)
	return e
}

func event(cal *ics.Calendar, id string, now, from, to time.Time) *ics.VEvent {
	e := cal.AddEvent(id + "@idletimber")
	e.SetDtStampTime(now)
	e.SetStartAt(from)
	e.SetEndAt(to)
	return e
}

// block is a stretch at the bench in which one person does one thing after the other.
type block struct {
	id, who  string
	from, to time.Time
	steps    []struct{ board, title string }
}

// between is how long somebody may pause within a block.
const between = 15 * time.Minute

func blocksOf(courses []plan.Course) (out []block) {
	type work struct {
		course plan.Course
		plan.Dated
	}
	var all []work
	for _, c := range courses {
		for _, s := range c.Steps {
			if s.State != plan.Done && s.Minutes > 0 && s.Starts != nil {
				all = append(all, work{c, s})
			}
		}
	}
	slices.SortStableFunc(all, func(a, b work) int {
		return cmp.Or(cmp.Compare(a.Who, b.Who), a.Starts.Compare(*b.Starts))
	})
	for _, w := range all {
		last := len(out) - 1
		if last < 0 || out[last].who != w.Who || w.Starts.After(out[last].to.Add(between)) {
			out = append(out, block{id: "work/" + w.course.Subject.String() + "/" + w.Key, who: w.Who, from: *w.Starts,
				to: *w.Ends})
			last++
		}
		b := &out[last]
		if w.Ends.After(b.to) {
			b.to = *w.Ends
		}
		b.steps = append(b.steps, struct{ board, title string }{w.course.Name, w.Title})
	}
	return out
}

func (b block) title(system measure.System) string {
	titles := []string{}
	for _, s := range b.steps {
		if t := measure.Text(s.title, system); !slices.Contains(titles, t) {
			titles = append(titles, t)
		}
	}
	const most = 3
	who := ""
	if b.who != "" {
		who = b.who + ": "
	}
	if len(titles) > most {
		return who + strings.Join(titles[:most], ", ") + fmt.Sprintf(" and %d more", len(titles)-most)
	}
	return who + strings.Join(titles, ", ")
}

func (b block) lines(system measure.System) (out []string) {
	for _, s := range b.steps {
		out = append(out, s.board+": "+measure.Text(s.title, system))
	}
	return out
}
