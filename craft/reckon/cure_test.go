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
			LogEntry{plan.Board(s.Boards[0].ID), plan.Entry{Step: step.Key, Event: plan.Finish, At: poured}},
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
