package reckon

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/fill"
	"idletimber/craft/plan"
)

// pouredScene is a board whose only pour was made twelve hours ago, in a shop usually at 20 °C.
func pouredScene(t *testing.T) (Scene, time.Time) {
	t.Helper()
	s := sample()
	s.Shop.Air.Temperature = 20
	r := must(t, s).Boards
	i := slices.IndexFunc(r, func(b Reckoned) bool { return b.Mix != nil && b.Mix.Pours == 1 })
	require.GreaterOrEqual(t, i, 0, "a board with one pour")
	s.Boards = []Board{s.Boards[i]}
	poured := s.Now.Add(-12 * time.Hour)
	for _, step := range must(t, s).Boards[0].Course.Steps {
		s.Log = append(
			s.Log,
			LogEntry{
				Subject: plan.Board(s.Boards[0].ID),
				Entry:   plan.Entry{Step: step.Key, Event: plan.Finish, At: poured},
			},
		)
		if step.Key == fill.PourKey+"1" {
			return s, poured
		}
	}
	t.Fatal("no pour among its steps")
	return s, poured
}

func TestAPourCuresByTheWarmthItHad(t *testing.T) {
	s, poured := pouredScene(t)
	usual := must(t, s).Boards[0]
	require.NotNil(t, usual.Curing)
	assert.Equal(t, poured, usual.Curing.Poured)
	wait := func(r Reckoned) time.Time {
		i := slices.IndexFunc(r.Course.Steps, func(d plan.Dated) bool { return d.Key == fill.WatchKey+"1" })
		return *r.Course.Steps[i].WaitUntil
	}
	assert.Equal(t, usual.Curing.Sand.Unix(), wait(usual).Unix())

	// Two hours at a time, warmer or colder than usual, the bench's clock moves.
	room := func(celsius float64) Reckoned {
		s.Warmth = nil
		for at := poured; at.Before(s.Now); at = at.Add(2 * time.Hour) {
			s.Warmth = append(s.Warmth, fill.Warmth{At: at, Celsius: celsius})
		}
		return must(t, s).Boards[0]
	}
	warm, cool := room(26), room(18.5)
	assert.True(t, wait(warm).Before(wait(usual)))
	assert.True(t, wait(cool).After(wait(usual)))
	assert.Greater(t, warm.Curing.Had, cool.Curing.Had)
	level := func(r Reckoned) craft.Level {
		i := slices.IndexFunc(r.Verdicts, func(v craft.Verdict) bool { return v.Check == "resin-cold" })
		require.GreaterOrEqual(t, i, 0)
		return r.Verdicts[i].Level
	}
	assert.Equal(t, craft.Good, level(cool))
	cold := room(12)
	assert.Equal(t, craft.Mind, level(cold), "told at once")
	assert.InDelta(t, 12, cold.Curing.Cold, 1e-6)
	s.Shop.Air.Temperature = 12
	never := must(t, s).Boards[0]
	assert.Equal(t, craft.Stop, level(never))
	assert.Nil(t, never.Curing.Sand)

	s.Warmth = []fill.Warmth{{At: s.Now, Celsius: 20}, {At: poured, Celsius: 900}}
	assert.Len(t, s.Check(), 2, "out of range, and out of order")
	s.Warmth, s.Log = nil, nil
	assert.Nil(t, must(t, s).Boards[0].Curing, "nothing was poured")
}

// A layered pour whose window falls into the night is told, and sanding between mends it; where
// sessions are long and often, it is good. A pour that came too late must be sanded first.
func TestTheNextPourFallsIntoItsWindow(t *testing.T) {
	s, _ := pouredScene(t)
	s.Log = nil
	s.Boards[0].Fill.Resin = "coating"
	i := slices.IndexFunc(must(t, s).Boards[0].Voids, func(v fill.Void) bool { return v.Chosen == fill.Epoxy })
	require.GreaterOrEqual(t, i, 0)
	tack := func(s Scene) *craft.Verdict {
		r := must(t, s).Boards[0]
		if r.Mix.Pours < 2 {
			t.Skip("one pour is enough")
		}
		for _, v := range r.Verdicts {
			if v.Check == "tack-window" {
				return &v
			}
		}
		return nil
	}
	s.Shop.Sessions = []plan.Session{{Weekday: time.Saturday, Start: "09:00", End: "13:00"}}
	v := tack(s)
	require.NotNil(t, v)
	assert.Equal(t, craft.Mind, v.Level)
	often := s
	often.Shop.Sessions = nil
	for d := time.Sunday; d <= time.Saturday; d++ {
		often.Shop.Sessions = append(often.Shop.Sessions, plan.Session{Weekday: d, Start: "06:00", End: "23:00"})
	}
	assert.Equal(t, craft.Good, tack(often).Level)
	s.Boards[0].Fill.Scuff = true
	assert.Nil(t, tack(s), "sanded, it may come any time")

	// Poured, and the window missed: the plan waits until it can be sanded, and says so.
	s.Boards[0].Fill.Scuff = false
	for _, step := range must(t, s).Boards[0].Course.Steps {
		s.Log = append(s.Log, LogEntry{Subject: plan.Board(s.Boards[0].ID),
			Entry: plan.Entry{Step: step.Key, Event: plan.Finish, At: s.Now.Add(-70 * time.Hour), Of: "coating"}})
		if step.Key == fill.WatchKey+"1" {
			break
		}
	}
	c := must(t, s).Boards[0].Course
	next := stepOf(c, fill.PourKey+"2")
	assert.Contains(t, next.Detail, "The window is over")
	watch := stepOf(c, fill.WatchKey+"1")
	assert.Greater(t, watch.Wait, 24*60.0, "until it can be sanded")
}
