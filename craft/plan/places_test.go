package plan

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// drying is a board whose coat lies on the rack for a day, and one that is sanded before.
func drying(id, due string) Chain {
	day := at(due)
	return Chain{Subject: Board(id), Name: id, Due: &day, Steps: []Step{
		{Key: "sand", Minutes: 10},
		{Key: "coat", Minutes: 10, Wait: 24 * 60, Holds: []string{Rack}},
		{Key: "wrap", Minutes: 5},
	}}
}

func TestARackThatIsFullIsWaitedFor(t *testing.T) {
	chains := []Chain{
		drying("a", "2031-04-12 18:00"), drying("b", "2031-04-13 18:00"), drying("c", "2031-04-14 18:00"),
	}
	for _, tt := range []struct {
		room int
		days []int // of March, when each is coated
		full string
	}{
		{3, []int{25, 25, 25}, ""},
		{2, []int{25, 25, 27}, Rack},
		{1, []int{25, 27, 29}, Rack},
	} {
		p := NewPlanner(evenings, zone, monday)
		p.Places = Places{Rack: tt.room}
		courses := p.Schedule(chains)
		for i, c := range courses {
			assert.Equal(t, tt.days[i], c.Steps[1].Starts.In(zone).Day(), "%d places, board %s", tt.room, c.Name)
		}
		assert.Equal(t, tt.full, courses[2].Steps[1].Full, "%d places", tt.room)
		assert.Empty(t, courses[0].Steps[1].Full)
	}
}

// What was coated already lies there, whichever board comes first by its date.
func TestWhatLiesOnTheRackHoldsIt(t *testing.T) {
	first, later := drying("a", "2031-04-12 18:00"), drying("b", "2031-05-13 18:00")
	now := at("2031-03-25 19:00")
	later.Log = []Entry{
		{
			Step:  "sand",
			Event: Finish,
			At:    now.Add(-time.Hour),
		}, {Step: "coat", Event: Finish, At: now.Add(-time.Hour)},
	}
	p := NewPlanner(evenings, zone, now)
	p.Places = Places{Rack: 1}
	got := p.Schedule([]Chain{first, later})[0].Steps
	assert.Equal(t, at("2031-03-25 19:00"), got[0].Starts.In(zone), "sanding waits for nothing")
	assert.Equal(
		t,
		at("2031-03-27 19:05"),
		got[1].Starts.In(zone),
		"last in its session, behind the buffing of the other",
	)
}

// Minute by minute, no more lie on a rack than it holds, in the earliest plan and in the latest.
func TestNoRackHoldsMoreThanItDoes(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		room := Places{Rack: rapid.IntRange(1, 3).Draw(t, "rack"), Bath: 1}
		var chains []Chain
		for i := range rapid.IntRange(1, 5).Draw(t, "boards") {
			c := Chain{Subject: Board(fmt.Sprint(i)), Due: due("2031-12-01 12:00")}
			for k := range rapid.IntRange(1, 5).Draw(t, "steps") {
				s := Step{
					Key: fmt.Sprint(k), Minutes: float64(rapid.IntRange(1, 140).Draw(t, "minutes")),
					Wait: float64(
						rapid.IntRange(0, 4000).Draw(t, "wait"),
					), Divisible: rapid.Bool().Draw(t, "divisible"),
				}
				if s.Wait < 60 {
					s.Attended = s.Wait > 0 && rapid.Bool().Draw(t, "attended")
				}
				if what := rapid.SampledFrom([]string{"", Rack, Bath}).Draw(t, "holds"); what != "" {
					s.Holding(what)
				}
				c.Steps = append(c.Steps, s)
			}
			chains = append(chains, c)
		}
		p := NewPlanner(evenings, zone, monday)
		p.Places = room
		earliest, latest := map[string][]Window{}, map[string][]Window{}
		for _, c := range p.Schedule(chains) {
			for i, s := range c.Steps {
				for _, what := range s.Holds {
					earliest[what] = append(earliest[what], Window{*s.Ends, *s.WaitUntil})
					// A divisible step ends some time after it starts: its hold is seen where the next begins.
					if s.LatestAt != nil && !s.Divisible {
						ends := s.LatestAt.Add(minutes(s.Minutes))
						latest[what] = append(latest[what], Window{ends, ends.Add(minutes(s.Wait))})
					}
				}
				if i > 0 && s.Starts.Before(*c.Steps[i-1].WaitUntil) {
					t.Fatalf("%s starts before the wait of the one before it is over", s.Key)
				}
			}
		}
		for name, plan := range map[string]map[string][]Window{"earliest": earliest, "latest": latest} {
			for what, held := range plan {
				for _, w := range held {
					for _, m := range []time.Time{w.From, w.To.Add(-time.Second)} {
						n := 0
						for _, o := range held {
							if !o.From.After(m) && o.To.After(m) {
								n++
							}
						}
						if n > room[what] {
							t.Fatalf("%s: %d lie on %d of the %s at %v", name, n, room[what], what, m)
						}
					}
				}
			}
		}
	})
}

// The minutes at the end of a session go into clearing up, of a short one a quarter at most.
func TestWorkingHoursEndBeforeClearingUp(t *testing.T) {
	for _, tt := range []struct {
		start, end string
		clearing   float64
		want       string
	}{
		{"19:00", "21:30", 5, "21:25"}, {"19:00", "21:30", 10, "21:20"}, {"19:00", "21:30", 0, "21:30"},
		{"19:00", "19:20", 10, "19:15"}, {"09:00", "10:00", 60, "09:45"}, {"20:00", "19:00", 5, "19:00"},
		{"19:00", "24:99", 5, "24:99"},
	} {
		was := []Session{{Weekday: time.Tuesday, Start: tt.start, End: tt.end}}
		assert.Equal(t, tt.want, Working(was, tt.clearing)[0].End, "%+v", tt)
		assert.Equal(t, tt.end, was[0].End, "what is given stays as it is")
	}
}
