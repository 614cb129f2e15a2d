package plan

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var (
	zone, _  = time.LoadLocation("Europe/Berlin")
	evenings = []Session{
		{Weekday: time.Tuesday, Start: "19:00", End: "21:30"},
		{Weekday: time.Thursday, Start: "19:00", End: "21:30"},
		{Weekday: time.Saturday, Start: "09:00", End: "13:00"},
	}
	monday = time.Date(2031, 3, 24, 12, 0, 0, 0, zone) // the clocks change on Sunday the 30th
)

func at(text string) time.Time {
	t, err := time.ParseInLocation("2006-01-02 15:04", text, zone)
	if err != nil {
		panic(err)
	}
	return t
}

func due(text string) *time.Time { t := at(text); return &t }

func chain(steps ...Step) Chain { return Chain{Subject: Board("b"), Steps: steps} }

func TestWindowsKeepTheWallClock(t *testing.T) {
	w := Windows(evenings, zone, monday, monday.AddDate(0, 0, 14))
	require.Len(t, w, 6)
	assert.Equal(t, at("2031-03-25 19:00"), w[0].From)
	assert.Equal(t, at("2031-04-01 19:00"), w[3].From)
	assert.Equal(t, 7*24*time.Hour-time.Hour, w[3].From.Sub(w[0].From), "an hour is lost between them")
	joined := Windows(
		[]Session{
			{Weekday: time.Tuesday, Start: "19:00", End: "20:00"},
			{Weekday: time.Tuesday, Start: "19:30", End: "21:00"},
		},
		zone,
		monday,
		monday.AddDate(0, 0, 7),
	)
	require.Len(t, joined, 1)
	assert.Equal(t, 2*time.Hour, joined[0].To.Sub(joined[0].From))
}

func TestForwardAndBackward(t *testing.T) {
	c := chain(
		Step{Key: "cut", Minutes: 100},
		Step{Key: "pour", Minutes: 60, Wait: 48 * 60},
		Step{Key: "sand", Minutes: 200, Divisible: true},
		Step{Key: "oil", Minutes: 10, Wait: 3 * 24 * 60})
	c.Due = due("2031-04-12 18:00")
	got := Schedule([]Chain{c}, evenings, zone, monday)[0]
	want := []struct{ starts, ends, latest string }{
		{"2031-03-25 19:00", "2031-03-25 20:40", "2031-04-01 19:50"},
		{"2031-03-27 19:00", "2031-03-27 20:00", "2031-04-03 20:30"}, // does not fit on Tuesday
		{"2031-03-29 20:00", "", ""},
		{"", "", "2031-04-08 21:20"},
	}
	for i, w := range want[:2] {
		assert.Equal(t, at(w.starts), *got.Steps[i].Starts)
		assert.Equal(t, at(w.ends), *got.Steps[i].Ends)
	}
	assert.Equal(t, at("2031-04-01 19:00"), *got.Steps[2].Starts, "resin cures until Saturday evening")
	assert.Equal(t, at("2031-04-03 19:50"), *got.Steps[2].Ends, "sanding is spread over two evenings")
	assert.Equal(t, at("2031-04-06 20:00"), *got.Finish)
	assert.Equal(t, at(want[3].latest), *got.Steps[3].LatestAt)
	assert.Equal(t, got.LatestStart, got.Steps[0].LatestAt)
	assert.False(t, got.Late)
	assert.InDelta(t, 6*24*60-2*60, got.Slack, 0.01)
}

// The oil's rest holds up the date, not the note that is written meanwhile.
func TestRestRunsBesideOtherWork(t *testing.T) {
	c := chain(Step{Key: "oil", Minutes: 10, Rest: 3 * 24 * 60}, Step{Key: "note", Minutes: 10})
	c.Due = due("2031-04-05 19:10")
	got := Schedule([]Chain{c}, evenings, zone, monday)[0]
	assert.Equal(t, at("2031-03-25 19:20"), *got.Steps[1].Ends)
	assert.Equal(t, at("2031-03-28 19:10"), *got.Finish)
	assert.Equal(t, at("2031-04-01 21:20"), *got.Steps[0].LatestAt, "the rest ends on the day")
	assert.Equal(t, at("2031-04-05 12:50"), *got.Steps[1].LatestAt)
}

func TestTooLateSaysByHowMuch(t *testing.T) {
	c := chain(Step{Key: "oil", Minutes: 10, Wait: 3 * 24 * 60})
	c.Due = due("2031-03-27 19:10")
	got := Schedule([]Chain{c}, evenings, zone, monday)[0]
	assert.True(t, got.Late)
	assert.InDelta(t, -24*60, got.Slack, 0.01)
	assert.True(t, got.Steps[0].Late)
}

func TestEarlierDateGoesFirst(t *testing.T) {
	work := Step{Key: "cut", Minutes: 140}
	a, b := chain(work), chain(work)
	a.Due, b.Due = due("2031-06-20 12:00"), due("2031-05-20 12:00")
	got := Schedule([]Chain{a, b, chain(work)}, evenings, zone, monday)
	assert.Equal(t, at("2031-03-27 19:00"), *got[0].Steps[0].Starts)
	assert.Equal(t, at("2031-03-25 19:00"), *got[1].Steps[0].Starts)
	assert.Equal(t, at("2031-03-29 09:00"), *got[2].Steps[0].Starts, "without a date it waits")
}

// Whichever board is looked at first, boards of one day are dated the same.
func TestTheOrderOfBoardsDoesNotMatter(t *testing.T) {
	of := func(id string, day *time.Time) Chain {
		return Chain{
			Subject: Board(id),
			Due:     day,
			Steps:   []Step{{Key: "a", Minutes: 100, Wait: 600}, {Key: "b", Minutes: 50}},
		}
	}
	day := due("2031-05-01 12:00")
	one := Schedule([]Chain{of("x", day), of("d", nil), of("y", day)}, evenings, zone, monday)
	two := Schedule([]Chain{of("d", nil), of("y", day), of("x", day)}, evenings, zone, monday)
	assert.Equal(t, one[0], two[2])
	assert.Equal(t, one[1], two[0])
	assert.Equal(t, one[2], two[1])
	assert.True(t, one[0].Finish.Before(*one[1].Finish), "a board without a date comes last")
}

// What is in hand goes on now, whatever the hour.
func TestARunningStepIsPlacedNow(t *testing.T) {
	c := chain(Step{Key: "a", Minutes: 60}, Step{Key: "b", Minutes: 30})
	c.Log = []Entry{{Step: "a", Event: "start", At: monday.Add(-20 * time.Minute)}}
	got := Schedule([]Chain{c}, evenings, zone, monday)[0]
	assert.Equal(t, monday, *got.Steps[0].Starts)
	assert.Equal(t, monday.Add(40*time.Minute), *got.Steps[0].Ends)
	assert.Equal(t, at("2031-03-25 19:00"), *got.Steps[1].Starts)
}

func TestLongerThanAnySession(t *testing.T) {
	got := Schedule([]Chain{chain(Step{Key: "glue", Minutes: 300})}, evenings, zone, monday)[0]
	assert.Equal(t, at("2031-03-29 09:00"), *got.Steps[0].Starts, "the longest session, overrun")
	assert.True(t, Schedule([]Chain{chain(Step{Key: "glue", Minutes: 5})}, nil, zone, monday)[0].Unplaced)
}

func TestTheLogMovesThePlan(t *testing.T) {
	c := chain(Step{Key: "cut", Minutes: 30}, Step{Key: "oil", Minutes: 10, Wait: 120}, Step{Key: "buff", Minutes: 5})
	start := at("2031-03-25 19:00")
	c.Log = []Entry{
		{Step: "cut", Event: "start", At: start}, {Step: "cut", Event: "pause", At: start.Add(10 * time.Minute)},
		{
			Step:  "cut",
			Event: "start",
			At:    start.Add(15 * time.Minute),
		}, {Step: "cut", Event: "finish", At: start.Add(25 * time.Minute)},
		{Step: "oil", Event: "finish", At: start.Add(30 * time.Minute), Minutes: 4},
		{Step: "buff", Event: "start", At: start.Add(31 * time.Minute)},
	}
	now := start.Add(33 * time.Minute)
	got := Schedule([]Chain{c}, evenings, zone, now)[0]
	assert.Equal(t, "done", got.Steps[0].State)
	assert.InDelta(t, 20, got.Steps[0].Spent, 1e-9)
	assert.InDelta(t, 4, got.Steps[1].Spent, 1e-9)
	assert.Equal(t, start.Add(150*time.Minute), *got.Steps[1].WaitUntil)
	assert.Equal(t, "running", got.Steps[2].State)
	assert.InDelta(t, 2, got.Steps[2].Spent, 1e-9)
	assert.False(t, got.Done)

	undone := append(c.Log, Entry{Step: "cut", Event: "undo", At: now})
	assert.Equal(t, Progress{State: "to do", Touched: &now}, Follow(undone, "cut", now))
}

func TestLearn(t *testing.T) {
	pace := Learn([]Sample{{Curve, 10, 20}, {Curve, 10, 20}, {Coat, 10, 0}})
	assert.InDelta(t, (4+4)/6.0, pace[Curve], 1e-9)
	assert.InDelta(t, 3+300.0/150, Work("c", Curve, 300, nil).Minutes, 1e-9)
	assert.InDelta(t, 5*8/6.0, Work("c", Curve, 300, pace).Minutes, 1e-9)
	assert.InDelta(t, 4+2, Work("c", Coat, 0.1, pace).Minutes, 1e-9)
}

func TestSessionCheck(t *testing.T) {
	assert.Empty(t, evenings[0].Check("s"))
	assert.NotEmpty(t, Session{Weekday: time.Monday, Start: "19:00", End: "18:00"}.Check("s"))
	assert.NotEmpty(t, Session{Weekday: 9, Start: "7pm", End: "25:00"}.Check("s"))
}

// No two stretches of work overlap, none starts before its wait is over, and
// whole steps that fit lie inside one session.
func TestSchedulesAreSound(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var chains []Chain
		for i := range rapid.IntRange(1, 5).Draw(t, "boards") {
			c := Chain{Subject: Board(fmt.Sprint(i)), Due: due("2031-07-01 12:00")}
			for k := range rapid.IntRange(1, 8).Draw(t, "steps") {
				c.Steps = append(c.Steps, Step{Key: fmt.Sprint(k),
					Minutes: float64(rapid.IntRange(1, 140).Draw(t, "minutes")),
					Wait:    float64(rapid.IntRange(0, 3000).Draw(t, "wait"))})
			}
			chains = append(chains, c)
		}
		var all []Dated
		for _, c := range Schedule(chains, evenings, zone, monday) {
			free := monday
			for _, s := range c.Steps {
				if s.Starts.Before(free) {
					t.Fatalf("started at %v, before %v", s.Starts, free)
				}
				free = *s.WaitUntil
				all = append(all, s)
			}
		}
		apart(t, all)
	})
}

func BenchmarkSchedule40x25(b *testing.B) {
	var chains []Chain
	for i := range 40 {
		c := Chain{Subject: Board(fmt.Sprint(i)), Due: due("2032-02-01 12:00")}
		for k := range 25 {
			c.Steps = append(
				c.Steps,
				Step{Key: fmt.Sprint(k), Minutes: 20, Wait: float64(k%3) * 600, Divisible: k%4 == 0},
			)
		}
		chains = append(chains, c)
	}
	for b.Loop() {
		Schedule(chains, evenings, zone, monday)
	}
}

// What the maker wants done first comes first, in that order, as far as what comes before it lets it.
func TestAhead(t *testing.T) {
	var chains []Chain
	for i, day := range []string{"2031-04-05 12:00", "2031-04-12 12:00", "2031-04-19 12:00"} {
		chains = append(chains, Chain{Subject: Board(fmt.Sprint(i)), Due: due(day), Steps: []Step{
			{Key: "saw", Minutes: 30}, {Key: "sand", Minutes: 30},
		}})
	}
	p := NewPlanner(evenings, zone, monday)
	starts := func(of []Course, board, step int) time.Time { return *of[board].Steps[step].Starts }
	plain := p.Schedule(chains)
	assert.True(t, starts(plain, 0, 0).Before(starts(plain, 2, 0)), "the nearest day first")
	p.Ahead = []string{"board:2/sand", "board:1/saw", "board:9/gone"}
	got := p.Schedule(chains)
	assert.True(t, starts(got, 2, 0).Before(starts(got, 2, 1)), "its own order stands")
	assert.True(t, starts(got, 2, 1).Before(starts(got, 1, 0)))
	assert.True(t, starts(got, 1, 0).Before(starts(got, 0, 0)))
}

// alike are 40 boards of 25 steps each, which share racks, clamps and set-ups.
func alike() []Chain {
	kinds := []Kind{Sanding, CrossCut, Coat, Bore, Wipe}
	var chains []Chain
	for i := range 40 {
		day := due("2032-02-01 12:00").AddDate(0, 0, i%7-40)
		c := Chain{Subject: Board(fmt.Sprint(i)), Due: &day}
		for k := range 25 {
			s := Step{
				Key:       fmt.Sprint(k),
				Kind:      kinds[(i+k)%5],
				Minutes:   20,
				Wait:      float64(k%3) * 600,
				Divisible: k%4 == 0,
			}
			s.Setup, s.SetupMinutes = fmt.Sprintf("%s, %d", s.Kind, k/8), 5
			if s.Wait > 0 {
				s.Holding([]string{Rack, HeldClamps, Bath}[k/3%3])
			}
			c.Steps = append(c.Steps, s)
		}
		chains = append(chains, c)
	}
	return chains
}

// The budget of 40 boards with resources, the order looked for, is a second.
func BenchmarkImprove40x25(b *testing.B) {
	chains := alike()
	for b.Loop() {
		p := NewPlanner(evenings, zone, monday)
		p.Places = Places{Rack: 6, HeldClamps: 4, Bath: 2}
		p.Order = p.Improve(chains, 1, Effort(1000), nil)
		p.Schedule(chains)
	}
}

// Work on a panel and on two boards that are cut from it: the boards' first steps
// wait for the panel, and the panel's latest start keeps their dates.
func TestStepsWaitForThoseThatTheyName(t *testing.T) {
	panel := Chain{Subject: Subject{"panel", "p"}, Name: "panel", Steps: []Step{
		{Key: "glue", Minutes: 60, Wait: 24 * 60}, {Key: "flatten", Minutes: 30},
	}}
	board := func(id, day string) Chain {
		return Chain{Subject: Board(id), Name: id, Due: due(day), Steps: []Step{
			{Key: "saw", Minutes: 20, After: []string{"panel:p/flatten"}},
			{Key: "handle", Minutes: 15, Wait: 12 * 60, After: []string{"panel:p/glue"}}, // made beside
			{Key: "join", Minutes: 10, After: []string{"saw", "handle"}},
		}}
	}
	chains := []Chain{board("a", "2031-04-12 18:00"), board("b", "2031-04-20 18:00"), panel}
	got := Schedule(chains, evenings, zone, monday)
	a, b, p := got[0], got[1], got[2]
	glued, flat := *p.Steps[0].WaitUntil, *p.Steps[1].WaitUntil
	for _, c := range []Course{a, b} {
		require.NotNil(t, c.Finish)
		assert.False(t, c.Steps[0].Starts.Before(flat), "sawn from the flat panel")
		assert.False(t, c.Steps[1].Starts.Before(glued))
		join := *c.Steps[2].Starts
		assert.False(t, join.Before(*c.Steps[0].WaitUntil) || join.Before(*c.Steps[1].WaitUntil))
		require.NotNil(t, c.LatestStart)
	}
	require.NotNil(t, p.LatestStart, "it has no day of its own, but its boards have")
	latest := p.Steps[1].LatestAt.Add(30 * time.Minute)
	assert.False(t, latest.After(*a.Steps[0].LatestAt) || latest.After(*b.Steps[0].LatestAt))

	// Chains that wait for each other are dated all the same.
	panel.Steps[0].After = []string{"board:a/join"}
	for _, c := range Schedule([]Chain{board("a", "2031-04-12 18:00"), panel}, evenings, zone, monday) {
		assert.NotNil(t, c.Finish)
	}
	nowhere := chain(Step{Key: "saw", Minutes: 10, After: []string{"run:x/nothing"}})
	assert.NotNil(t, Schedule([]Chain{nowhere}, evenings, zone, monday)[0].Finish)
}

func TestSetUpsHaveAnIdentity(t *testing.T) {
	s := Work("sand-120", Sanding, 0, nil).On("P120")
	assert.Equal(t, "sanding, P120", s.Setup)
	assert.Equal(t, "cross-cut", Work("x", CrossCut, 2, nil).Setup)
	assert.Equal(t, 3.0, Work("x", CrossCut, 2, nil).SetupMinutes)
}

// What must follow a wait at once does, forward and backward, in one stretch of free
// time, or the plan says that no session holds it; and nothing overlaps.
func TestSomebodyComesBackForAWait(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var chains []Chain
		for i := range rapid.IntRange(1, 5).Draw(t, "boards") {
			c := Chain{Subject: Board(fmt.Sprint(i)), Due: due("2031-09-01 12:00")}
			for k := range rapid.IntRange(2, 8).Draw(t, "steps") {
				s := Step{Key: fmt.Sprint(k), Minutes: float64(rapid.IntRange(1, 40).Draw(t, "minutes")),
					Wait: float64(rapid.IntRange(0, 100).Draw(t, "wait"))}
				s.Attended = s.Wait > 0 && rapid.Bool().Draw(t, "attended")
				c.Steps = append(c.Steps, s)
			}
			chains = append(chains, c)
		}
		var all []Dated
		for n, c := range Schedule(chains, evenings, zone, monday) {
			alone := false
			for i, s := range c.Steps {
				all = append(all, s)
				alone = alone && i > 0 && c.Steps[i-1].Attended || s.Alone
				if i+1 == len(c.Steps) || !s.Attended || alone {
					continue
				}
				next := c.Steps[i+1]
				if !next.Starts.Equal(*s.WaitUntil) {
					t.Fatalf("chain %d: %s is over at %v, and %s starts at %v",
						n, s.Key, s.WaitUntil, next.Key, next.Starts)
				}
				if s.LatestAt != nil && next.LatestAt != nil {
					if over := s.LatestAt.Add(minutes(s.Minutes + s.Wait)); next.LatestAt.Before(over) {
						t.Fatalf(
							"latest: %s is over at %v, and %s starts at %v",
							s.Key,
							over,
							next.Key,
							next.LatestAt,
						)
					}
				}
			}
		}
		apart(t, all)
	})
}

// Two minutes, two hours of soaking, three minutes: an evening of two and a half hours
// holds them when they begin early enough; one of an hour does not, and that is said.
func TestAnEveningThatHoldsTheSoak(t *testing.T) {
	c := chain(Step{Key: "saw", Minutes: 60},
		Step{Key: "coat", Minutes: 5, Wait: 120, Attended: true}, Step{Key: "wipe", Minutes: 3})
	evening := Schedule([]Chain{c}, evenings, zone, monday)[0]
	coat, wipe := evening.Steps[1], evening.Steps[2]
	assert.Equal(t, *coat.WaitUntil, *wipe.Starts)
	assert.Equal(t, coat.Starts.In(zone).Day(), wipe.Ends.In(zone).Day(), "the same evening")
	assert.True(t, coat.Starts.After(evening.Steps[0].Ends.Add(time.Hour)), "not after an hour of sawing")

	short := []Session{{Weekday: time.Tuesday, Start: "19:00", End: "20:00"}}
	alone := Schedule([]Chain{c}, short, zone, monday)[0]
	assert.True(t, alone.Steps[1].Alone)
	assert.False(t, alone.Unplaced)
}

// Of two boards without a date the one whose resin cures for days is begun first: both
// are ready sooner so.
func TestTheLongWaitIsBegunFirst(t *testing.T) {
	plain := Chain{Subject: Board("a"), Name: "A plain one", Steps: []Step{{Key: "saw", Minutes: 100}}}
	poured := Chain{Subject: Board("b"), Name: "B poured", Steps: []Step{
		{Key: "pour", Minutes: 60, Wait: 3 * 24 * 60}, {Key: "sand", Minutes: 60},
	}}
	for _, chains := range [][]Chain{{plain, poured}, {poured, plain}} {
		first := map[string]time.Time{}
		for _, c := range Schedule(chains, evenings, zone, monday) {
			first[c.Name] = *c.Steps[0].Starts
		}
		assert.True(t, first["B poured"].Before(first["A plain one"]))
	}
}

// In the night in which the clocks go forward an hour is missing: a session that would
// begin in it begins after it, not before.
func TestASessionInTheMissingHour(t *testing.T) {
	night := at("2031-03-30 00:00") // 02:00 is followed by 03:00
	for start, want := range map[string]string{"01:30": "01:30", "02:00": "03:00", "02:30": "03:30", "03:00": "03:00"} {
		sunday := []Session{{Weekday: time.Sunday, Start: start, End: "06:00"}}
		w := Windows(sunday, zone, night, night.Add(24*time.Hour))
		require.Len(t, w, 1)
		assert.Equal(t, want, w[0].From.In(zone).Format("15:04"), start)
		assert.Equal(t, "06:00", w[0].To.In(zone).Format("15:04"))
	}
}

// A log that is older than the wiping between two coats does not bring it back.
func TestWhatFollowedIsNotToDo(t *testing.T) {
	c := chain(Step{Key: "coat-1", Minutes: 5, Wait: 15, Attended: true}, Step{Key: "wipe-1", Minutes: 3, Wait: 60},
		Step{Key: "coat-2", Minutes: 5, Wait: 15, Attended: true}, Step{Key: "wipe-2", Minutes: 3})
	c.Log = []Entry{
		{Step: "coat-1", Event: Finish, At: monday, Minutes: 5},
		{Step: "coat-2", Event: Finish, At: monday.Add(24 * time.Hour), Minutes: 5},
	}
	states := func() (out []string) {
		for _, s := range Schedule([]Chain{c}, evenings, zone, monday.Add(48*time.Hour))[0].Steps {
			out = append(out, s.State)
		}
		return out
	}
	assert.Equal(t, []string{Done, Done, Done, ToDo}, states())
	c.Log = c.Log[:1]
	assert.Equal(t, []string{Done, ToDo, ToDo, ToDo}, states())
}

// Where no session holds a soak with what ends it, it goes on until somebody is back; where one does,
// it ends by the clock.
func TestASoakEndsWhenSomebodyIsThere(t *testing.T) {
	soak := func(minutes float64) Course {
		return Schedule([]Chain{chain(
			Step{Key: "coat-1", Minutes: 5, Wait: minutes, Attended: true}, Step{Key: "wipe-1", Minutes: 3},
		)}, evenings, zone, monday)[0]
	}
	long := evenings[0].Minutes()
	for _, minutes := range []float64{15, long / 2, long, 4 * long} {
		c := soak(minutes)
		coat, wipe := c.Steps[0], c.Steps[1]
		assert.Equal(t, wipe.Starts.Unix(), coat.WaitUntil.Unix(), "%g min", minutes)
		assert.GreaterOrEqual(t, coat.WaitUntil.Sub(*coat.Ends).Minutes(), minutes)
		assert.Equal(t, coat.WaitUntil.Sub(*coat.Ends).Minutes() > minutes+1, coat.Alone, "%g min", minutes)
	}
}

// A place is held once by a step, however often it is named.
func TestHoldingOnce(t *testing.T) {
	s := Step{Wait: 10}
	s.Holding(Rack)
	s.Holding(Rack)
	s.Holding(Bath)
	assert.Equal(t, []string{Rack, Bath}, s.Holds)
	var idle Step
	idle.Holding(Rack)
	assert.Empty(t, idle.Holds)
}

// Notes are those since the step was last taken back, less what was a mistake.
func TestNotes(t *testing.T) {
	note := func(what string) Entry { return Entry{Step: "s", Event: Noted, What: what} }
	whats := func(log ...Entry) (out []string) {
		for _, e := range Notes(log, "s") {
			out = append(out, e.What)
		}
		return out
	}
	assert.Equal(t, []string{"a", "b"}, whats(note("a"), Entry{Step: "other", Event: Noted, What: "x"}, note("b")))
	assert.Equal(t, []string{"a"}, whats(note("a"), note("b"), note(Back)))
	assert.Equal(t, []string{"c"}, whats(note("a"), Entry{Step: "s", Event: Undo}, note(Back), note("c")))
	assert.Empty(t, whats(note(Back)))
	assert.Equal(t, []string{"a"}, whats(Entry{Step: "s", Event: Start}, note("a"), Entry{Step: "s", Event: Finish}))
}

// apart fails where two stretches of work overlap: the maker does one thing at a time.
func apart(t *rapid.T, all []Dated) {
	for i, a := range all {
		for _, b := range all[:i] {
			if a.Starts.Before(*b.Ends) && b.Starts.Before(*a.Ends) {
				t.Fatalf("%v to %v overlaps %v to %v", a.Starts, a.Ends, b.Starts, b.Ends)
			}
		}
	}
}

// What waits through the night is the last thing of its session, after what is followed up in it; and the first thing
// to be done where the session does not hold all.
func TestTheLongestWaitIsBegunFirstAndLastInItsSession(t *testing.T) {
	coated := Chain{Subject: Board("coated"), Name: "coated", Due: due("2031-04-08 18:00"), Steps: []Step{
		{Key: "coat", Kind: Coat, Title: "Coat", Minutes: 20, Wait: 12 * 60, Setup: "coat, oil"},
		{Key: "buff", Kind: Buff, Title: "Buff", Minutes: 10, Setup: "buff"},
	}}
	sanded := Chain{Subject: Board("sanded"), Name: "sanded", Due: due("2031-04-08 19:00"), Steps: []Step{
		{Key: "raise", Kind: Errand, Title: "Raise", Minutes: 10, Wait: 40, Setup: "raise"},
		{Key: "sand", Kind: Sanding, Title: "Sand", Minutes: 30, Setup: "sand, P220"},
	}}
	got := Schedule([]Chain{coated, sanded}, evenings, zone, monday)
	start := func(c, s int) time.Time { return *got[c].Steps[s].Starts }
	assert.Equal(t, at("2031-03-25 19:00"), start(1, 0))
	assert.Equal(t, at("2031-03-25 19:50"), start(1, 1))
	assert.False(t, start(0, 0).Before(*got[1].Steps[1].Ends), "the coat at %v is made in the dust", start(0, 0))
	assert.Equal(t, at("2031-03-25 20:20"), start(0, 0), "in the same session, so that it dries through the night")
	assert.Equal(t, at("2031-03-27 19:00"), start(0, 1))

	short := []Session{{Weekday: time.Tuesday, Start: "19:00", End: "19:45"}, evenings[1]}
	got = Schedule([]Chain{coated, sanded}, short, zone, monday)
	assert.Equal(t, 25, start(0, 0).Day(), "it is begun first where not all can be done")

	p := NewPlanner(evenings, zone, monday)
	p.Ahead = []string{"board:coated/coat"}
	got = p.Schedule([]Chain{coated, sanded})
	assert.Equal(t, at("2031-03-25 19:00"), start(0, 0), "as the maker wants it")
}

// An order that was looked for names all boards until another comes.
func TestLooked(t *testing.T) {
	p := NewPlanner(evenings, zone, monday)
	saw := Step{Key: "saw", Kind: Curve, Minutes: 20, Setup: "band saw"}
	two := []Chain{
		{Subject: Board("a"), Name: "a", Steps: []Step{saw}},
		{Subject: Board("b"), Name: "b", Steps: []Step{saw}},
	}
	order := p.Improve(two, 1, 100, nil)
	assert.True(t, Looked(order, p.Schedule(two)))
	three := append(two, Chain{Subject: Board("c"), Name: "c", Steps: []Step{saw}})
	assert.False(t, Looked(order, p.Schedule(three)))
	three[2].Log = []Entry{{Step: "saw", Event: Finish, At: monday.Add(-time.Hour)}}
	assert.True(t, Looked(order, p.Schedule(three)), "nothing of the third is left to do")
	assert.True(t, Looked(nil, nil))
}

// What was done at a step that the plan no longer has was worked all the same; what was left running there was not.
func TestWorkAtStepsThatAreNoLongerThere(t *testing.T) {
	at := time.Date(2031, 4, 22, 17, 0, 0, 0, time.UTC)
	c := Chain{
		Subject: Board("b"), Steps: []Step{{Key: "sand-120", Kind: Sanding, Minutes: 20}},
		Log: []Entry{
			{Step: "sand-80", Event: Finish, At: at, Minutes: 12},
			{Step: "sand-100", Event: Start, At: at.Add(time.Minute)},
			{Step: "raise-80", Event: Finish, At: at.Add(2 * time.Minute), Minutes: 4},
			{Step: "raise-80", Event: Undo, At: at.Add(3 * time.Minute)},
		},
	}
	for _, days := range []int{1, 30} {
		assert.Equal(t, 32.0, newCourse(c, at.AddDate(0, 0, days)).InAll())
	}
}
