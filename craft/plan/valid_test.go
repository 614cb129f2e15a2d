package plan

import (
	"fmt"
	"math"
	"slices"
	"testing"
	"time"

	"pgregory.net/rapid"
)

// workshop is a made-up workshop with its work.
type workshop struct {
	planner  *Planner
	sessions []Session
	now      time.Time
	chains   []Chain
}

// drawWorkshop draws hours, helpers, days off, places and boards of all kinds: with soaks that somebody ends,
// work that is spread, set-ups that are shared, panels that boards wait for, steps that are done, in hand or
// locked to a day, and things that come later. The clocks change within its weeks.
func drawWorkshop(t *rapid.T) workshop {
	whole := func(name string, from, to int) int { return rapid.IntRange(from, to).Draw(t, name) }
	start := rapid.SampledFrom([]time.Time{monday, at("2031-10-20 12:00")}).Draw(t, "season")
	w := workshop{now: start.Add(time.Duration(whole("now", -10*24*60, 300)) * time.Minute)}
	real := func(quarter int) int { // not in the hour that is missing, or there twice, where the clocks change
		if quarter >= 2*4 && quarter < 3*4 {
			return 3 * 4
		}
		return quarter
	}
	for range whole("sessions", 1, 5) {
		from := real(whole("from", 0, 21*4))
		to := real(min(24*4-1, from+whole("long", 2, 20)))
		who := ""
		if len(w.sessions) > 0 {
			who = rapid.SampledFrom([]string{"", "", "Ida"}).Draw(t, "who")
		}
		w.sessions = append(w.sessions, Session{
			Weekday: time.Weekday(whole("weekday", 0, 6)), Start: fmt.Sprintf("%02d:%02d", from/4, from%4*15),
			End: fmt.Sprintf("%02d:%02d", to/4, to%4*15), Who: who,
		})
	}
	w.planner = NewPlanner(w.sessions, zone, w.now)
	w.planner.Places = Places{Rack: whole("rack", 1, 3), Bath: 1, HeldClamps: whole("clamps", 1, 2)}
	w.planner.Helpers = []Helper{{Name: "Ida", Does: []Kind{Sanding, Wipe}}}
	for range whole("leaves", 0, 2) {
		first := w.now.AddDate(0, 0, whole("off", 0, 20))
		w.planner.Off = append(w.planner.Off, Leave{
			From: first.Format(time.DateOnly), To: first.AddDate(0, 0, whole("days", 0, 9)).Format(time.DateOnly),
			Who: rapid.SampledFrom([]string{"", "Ida"}).Draw(t, "away"),
		})
	}
	kinds := []Kind{Sanding, CrossCut, Coat, Bore}
	step := func(key string) Step {
		kind := rapid.SampledFrom(kinds).Draw(t, "kind")
		s := Step{
			Key:       key,
			Kind:      kind,
			Minutes:   float64(whole("minutes", 0, 150)),
			Divisible: whole("divisible", 0, 3) == 0,
		}
		s.Setup = fmt.Sprintf("%s, %d", kind, whole("setup", 0, 1))
		s.SetupMinutes = math.Min(float64(whole("set", 0, 15)), s.Minutes)
		switch whole("wait", 0, 3) {
		case 0:
			s.Minutes = max(s.Minutes, 1) // somebody puts on what soaks
			s.Wait, s.Attended = float64(whole("soak", 5, 120)), true
		case 1:
			s.Wait = float64(whole("dries", 60, 4000))
		}
		if s.Wait > 0 {
			if what := rapid.SampledFrom([]string{"", Rack, Bath, HeldClamps}).Draw(t, "holds"); what != "" {
				s.Holding(what)
			}
			s.Rest = float64(whole("rest", 0, 1) * 2000)
		}
		if whole("comes", 0, 9) == 0 {
			at := w.now.Add(time.Duration(whole("in", 0, 10000)) * time.Minute)
			s.From = &at
		}
		return s
	}
	panel := Chain{Subject: Panel("p"), Name: "panel", Steps: []Step{step("glue"), step("flat")}}
	w.chains = append(w.chains, panel)
	for b := range whole("boards", 1, 5) {
		c := Chain{Subject: Board(fmt.Sprint(b)), Name: fmt.Sprint("board ", b)}
		if whole("dated", 0, 3) > 0 {
			day := w.now.AddDate(0, 0, whole("due", 1, 60))
			c.Due = &day
		}
		for k := range whole("steps", 1, 7) {
			c.Steps = append(c.Steps, step(fmt.Sprint(k)))
		}
		if whole("of the panel", 0, 1) == 0 {
			c.Steps[0].After = []string{"panel:p/flat"}
		}
		for k := range whole("done", 0, min(2, len(c.Steps)-1)) {
			c.Log = append(c.Log, Entry{Step: fmt.Sprint(k), Event: Finish, Minutes: 5,
				At: w.now.Add(-time.Duration(whole("ago", 1, 3000)) * time.Minute)})
		}
		w.chains = append(w.chains, c)
	}
	if whole("locked", 0, 2) == 0 {
		w.planner.Pins = []Pin{{Step: "board:0/" + fmt.Sprint(len(w.chains[1].Steps)-1),
			Day: w.now.AddDate(0, 0, whole("pin", 0, 30)).Format(time.DateOnly)}}
	}
	for range whole("ahead", 0, 3) {
		c := w.chains[whole("ahead of", 0, len(w.chains)-1)]
		s := c.Steps[whole("its step", 0, len(c.Steps)-1)]
		w.planner.Ahead = append(w.planner.Ahead, c.Subject.String()+"/"+s.Key)
	}
	return w
}

// valid fails where a plan breaks a rule of the work. It looks at nothing but the dates.
func (w workshop) valid(t *rapid.T, courses []Course) {
	over := map[string]time.Time{}
	for _, c := range courses {
		for _, s := range c.Steps {
			if s.WaitUntil != nil {
				over[c.Subject.String()+"/"+s.Key] = *s.WaitUntil
			}
		}
	}
	byHands, held := map[string][]Dated{}, map[string][]Window{}
	for n, c := range courses {
		before := w.now
		for i, s := range c.Steps {
			if s.State == Done {
				before = latest(before, *s.WaitUntil)
				w.holds(held, s, *s.DoneAt)
				continue
			}
			if s.Starts == nil {
				if !c.Unplaced {
					t.Fatalf("%s/%s has no place, and nobody says so", c.Name, s.Key)
				}
				continue
			}
			w.predecessors(t, w.chains[n], s, before, over)
			w.lies(t, c, s, s.Attended || i > 0 && c.Steps[i-1].Attended)
			w.holds(held, s, *s.Ends)
			if s.Minutes > 0 {
				byHands[s.Who] = append(byHands[s.Who], s)
			}
			if i > 0 && c.Steps[i-1].Attended && c.Steps[i-1].State == ToDo && len(s.After) == 0 &&
				s.From == nil && !s.Starts.Equal(*c.Steps[i-1].WaitUntil) {
				t.Fatalf("%s/%s: the soak before it is over at %v, and it starts at %v",
					c.Name, s.Key, c.Steps[i-1].WaitUntil, s.Starts)
			}
			before = latest(before, *s.WaitUntil)
			if c.Finish != nil && s.RestUntil != nil && s.RestUntil.After(*c.Finish) {
				t.Fatalf("%s is ready before it has rested", c.Name)
			}
		}
		if c.Finish != nil && c.Finish.Before(before) && !before.Equal(w.now) {
			t.Fatalf("%s is ready before its last wait is over", c.Name)
		}
		w.latestStarts(t, c)
	}
	for _, all := range byHands {
		w.oneAtATime(t, all)
	}
	for what, all := range held {
		for _, a := range all {
			n := 0
			for _, b := range all {
				if !b.From.After(a.From) && b.To.After(a.From) {
					n++
				}
			}
			// What was done already may be more than there is room for.
			if n > w.planner.Places[what] && !a.From.Before(w.now) && n > w.lying(all) {
				t.Fatalf("%d hold %d of %s at %v", n, w.planner.Places[what], what, a.From)
			}
		}
	}
}

func latest(a, b time.Time) time.Time {
	if b.After(a) {
		return b
	}
	return a
}

// lying is how many were held before now.
func (w workshop) lying(all []Window) (n int) {
	for _, a := range all {
		if a.From.Before(w.now) {
			n++
		}
	}
	return n
}

func (w workshop) holds(held map[string][]Window, s Dated, from time.Time) {
	for _, what := range s.Holds {
		if s.WaitUntil.After(from) {
			held[what] = append(held[what], Window{from, *s.WaitUntil})
		}
	}
}

func (w workshop) predecessors(t *rapid.T, c Chain, s Dated, before time.Time, over map[string]time.Time) {
	if s.From != nil && s.Starts.Before(*s.From) {
		t.Fatalf("%s starts before what it needs has come", s.Key)
	}
	if len(s.After) == 0 && s.Starts.Before(before) {
		t.Fatalf("%s/%s starts at %v, before %v", c.Name, s.Key, s.Starts, before)
	}
	for _, key := range s.After {
		if s.Starts.Before(over[key]) {
			t.Fatalf("%s/%s starts before %s is over", c.Name, s.Key, key)
		}
	}
	if s.WaitUntil.Sub(*s.Ends) < minutes(s.Wait) {
		t.Fatalf("%s/%s waits for %v of %v minutes", c.Name, s.Key, s.WaitUntil.Sub(*s.Ends), s.Wait)
	}
}

// lies tells whether a step lies in hours of whoever does it: in one session, where it is not spread and any holds
// it, and with all its minutes. Of what soaks, and of what ends that, it knows only that a long session holds it.
func (w workshop) lies(t *rapid.T, c Course, s Dated, soaks bool) {
	left := minutes(s.left() - s.Shared)
	if left == 0 {
		return
	}
	var there time.Duration
	inOne := false
	for _, o := range w.hours(s.Who, *s.Starts, *s.Ends) {
		part := earliest(o.To, *s.Ends).Sub(latest(o.From, *s.Starts))
		there += max(0, part)
		inOne = inOne || !s.Starts.Before(o.From) && !s.Ends.After(o.To)
	}
	spare := 15 * time.Minute
	if soaks { // a session must hold all of it: what is put on, the soak, what ends it
		spare = (120 + 150) * time.Minute
	}
	switch {
	case there < left && (s.Divisible || w.longest(s.Who) >= left+spare):
		t.Fatalf("%s/%s: %v of work in %v of sessions, %v to %v", c.Name, s.Key, left, there, s.Starts, s.Ends)
	case !s.Divisible && inOne && s.Ends.Sub(*s.Starts) != left:
		t.Fatalf("%s/%s takes %v in place of %v", c.Name, s.Key, s.Ends.Sub(*s.Starts), left)
	}
	if s.Who != "" && s.Kind != Sanding && s.Kind != Wipe {
		t.Fatalf("%s does %s", s.Who, s.Kind)
	}
}

// longest is how long somebody's longest session is, by the clock on the wall: on one day it may be longer.
func (w workshop) longest(who string) (longest time.Duration) {
	for _, o := range w.sessions {
		from, _ := time.Parse("15:04", o.Start)
		to, _ := time.Parse("15:04", o.End)
		if o.Who == who {
			longest = max(longest, to.Sub(from))
		}
	}
	return longest
}

// hours are when somebody is at the bench, minute by minute of the wall clock: another way than the sessions are
// laid out.
func (w workshop) hours(who string, from, to time.Time) (out []Window) {
	const quarter = 15 * time.Minute
	for m := from.Truncate(quarter).Add(-quarter); m.Before(to.Add(quarter)); m = m.Add(quarter) {
		local := m.In(zone)
		clock := local.Format("15:04")
		there := slices.ContainsFunc(w.sessions, func(s Session) bool {
			return s.Who == who && s.Weekday == local.Weekday() && s.Start <= clock && clock < s.End
		})
		day := local.Format(time.DateOnly)
		for _, l := range w.planner.Off {
			if (l.Who == "" || l.Who == who) && l.From <= day && day <= l.To {
				there = false
			}
		}
		switch next := m.Add(quarter); {
		case !there:
		case len(out) > 0 && out[len(out)-1].To.Equal(m):
			out[len(out)-1].To = next
		default:
			out = append(out, Window{m, next})
		}
	}
	return out
}

// oneAtATime tells whether one pair of hands does one thing at a time, and is spared only what is set up.
func (w workshop) oneAtATime(t *rapid.T, all []Dated) {
	slices.SortFunc(all, func(a, b Dated) int { return a.Starts.Compare(*b.Starts) })
	for i, s := range all {
		if i > 0 && s.Starts.Before(*all[i-1].Ends) && !all[i-1].Divisible {
			t.Fatalf("%s (%v to %v) overlaps %s, which ends at %v",
				s.Setup, s.Starts, s.Ends, all[i-1].Setup, all[i-1].Ends)
		}
		if s.Shared > 0 {
			before := -1 // what was in hand last, which may have been spread round others
			for k, o := range all {
				if k != i && !o.Ends.After(*s.Starts) && (before < 0 || o.Ends.After(*all[before].Ends)) {
					before = k
				}
			}
			if before < 0 || all[before].Setup != s.Setup || s.Shared > s.SetupMinutes {
				t.Fatalf("%s at %v is spared %v min though it is not set up", s.Setup, s.Starts, s.Shared)
			}
		}
	}
}

// latestStarts tells whether what is in time has its latest starts no sooner than it begins, and is critical
// somewhere.
func (w workshop) latestStarts(t *rapid.T, c Course) {
	if c.Due == nil || c.Unplaced || c.Done {
		return
	}
	critical := false
	for _, s := range c.Steps {
		critical = critical || s.Critical
		if s.State == Done || s.LatestAt == nil || c.Late {
			continue
		}
		if s.LatestAt.Before(*s.Starts) || s.LatestAt.After(*c.Due) {
			t.Fatalf("%s/%s starts at %v, at the latest at %v", c.Name, s.Key, s.Starts, s.LatestAt)
		}
	}
	if !c.Late && !critical && c.HandsOn > 0 {
		t.Fatalf("nothing on %s is critical", c.Name)
	}
}

// Every plan of two thousand workshops keeps the rules, as it is made at once and, of some, as it is improved; what
// is improved is never worse than what was found at once.
func TestEveryPlanKeepsTheRules(t *testing.T) {
	const twentyTimes = 20 // the usual hundred
	for range twentyTimes {
		rapid.Check(t, func(t *rapid.T) {
			w := drawWorkshop(t)
			first := w.planner.Schedule(w.chains)
			w.valid(t, first)
			if rapid.IntRange(0, 4).Draw(t, "improved") > 0 {
				return
			}
			w.planner.Order = w.planner.Improve(w.chains, 7, 3000, nil)
			better := w.planner.Schedule(w.chains)
			w.valid(t, better)
			if lateness(better) > lateness(first)+1e-6 {
				t.Fatalf("late by %v, not improved by %v", lateness(better), lateness(first))
			}
		})
	}
}
