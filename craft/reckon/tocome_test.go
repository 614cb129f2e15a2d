package reckon

import (
	"math"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/moisture"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/slab"
)

func TestPerLength(t *testing.T) {
	for _, tt := range []struct {
		log, trim, board float64
		want             int
	}{
		{2400, 50, 450, 5}, {455, 0, 450, 1}, {449, 0, 450, 0}, {905, 0, 450, 2}, {904, 0, 450, 1}, {100, 60, 50, 0},
	} {
		got := PerLength(tt.log, tt.trim, tt.board)
		assert.Equal(t, tt.want, got, "%+v", tt)
		// Laid one after another with a kerf between.
		n, used := 0, 2*tt.trim
		for used+tt.board <= tt.log {
			n, used = n+1, used+tt.board+5
		}
		assert.Equal(t, n, got, "%+v, laid one by one", tt)
	}
}

// The days are those in which an exponential decay, walked hour by hour, comes down to the band.
func TestStockForNextYear(t *testing.T) {
	s := sample()
	now := s.Now
	ask := ToCome{
		Species: s.Slab.Species, Thickness: 30, Boards: 12, Board: 450, Log: 2400, Trim: 50,
		Day: now.AddDate(1, 0, 0).Format(time.DateOnly),
	}
	require.Empty(t, ask.Check("body", s.Shop))
	got := Stock(ask, nil, s.Shop, now)
	assert.Equal(t, 5, got.PerLog)
	assert.Equal(t, 3, got.Logs)
	require.Len(t, got.Ways, 4)
	require.Greater(t, got.Target, got.Rest, "the shop's air dries it far enough")
	wait := s.Shop.Rules.Get(rule.ReadyDays)
	for i, w := range got.Ways {
		m, days := w.Percent, 0.0
		for m > got.Target {
			m += (got.Rest - m) / got.Tau / 24
			days += 1.0 / 24
		}
		assert.InDelta(t, days+wait, w.Days, 0.6, w.State)
		by, err := time.Parse(time.DateOnly, w.By)
		require.NoError(t, err)
		due, _ := time.Parse(time.DateOnly, ask.Day)
		assert.InDelta(t, math.Ceil(w.Days), due.Sub(by).Hours()/24, 1e-9)
		if i > 0 {
			assert.LessOrEqual(t, w.Days, got.Ways[i-1].Days, "drier is quicker")
		}
	}
	thick := ask
	thick.Thickness = 60
	assert.Greater(t, Stock(thick, nil, s.Shop, now).Ways[0].Days, got.Ways[0].Days)

	soon := ask
	soon.Day = now.AddDate(0, 0, 10).Format(time.DateOnly)
	assert.True(t, Stock(soon, nil, s.Shop, now).Ways[0].Late)

	dry := *s.Slab
	dry.Moisture = []moisture.Reading{{At: now.AddDate(0, 0, -1), Percent: got.Rest}}
	wet := dry
	wet.Reserved = "Ann"
	with := Stock(ask, []slab.Slab{dry, wet}, s.Shop, now)
	assert.Equal(t, PerLength(dry.Length, 50, 450), with.OnRack, "what is kept for somebody does not count")

	s.Shop.Air.Humidity = 85
	for _, w := range Stock(ask, nil, s.Shop, now).Ways[:3] {
		assert.Empty(t, w.By, "damp air never brings it there")
	}
	bad := ask
	bad.Day, bad.Species, bad.Boards = "soon", "nothing", 0
	assert.Len(t, bad.Check("body", s.Shop), 3)
}

// Clearing up begins so long before the session's end as it takes; nothing is planned into it.
func TestAnEveningEndsWithClearingUp(t *testing.T) {
	s := sample()
	r := must(t, s)
	courses := []plan.Course{}
	for _, b := range r.Boards {
		courses = append(courses, b.Course)
	}
	e := EveningOf(s.Shop, courses, s.Now)
	require.NotNil(t, e)
	want := 5.0
	if e.Mess {
		want = 10
	}
	assert.InDelta(t, want, e.Minutes, 1e-9)
	assert.InDelta(t, want, e.To.Sub(e.Clear).Minutes(), 1e-9)

	zone, err := s.Shop.Zone()
	require.NoError(t, err)
	ends := plan.Windows(s.Shop.Sessions, zone, s.Now, s.Now.AddDate(0, 3, 0))
	for _, c := range courses {
		for _, step := range c.Steps {
			if step.Ends == nil || step.Minutes == 0 {
				continue
			}
			for _, w := range ends {
				if !step.Ends.After(w.From) || step.Ends.After(w.To) {
					continue
				}
				assert.LessOrEqual(
					t,
					step.Ends.Sub(w.To.Add(-5*time.Minute)).Minutes(),
					0.01,
					"%s ends at %v",
					step.Key,
					step.Ends,
				)
			}
		}
	}
	poured := plan.Course{
		Steps: []plan.Dated{
			{Step: plan.Step{Kind: plan.Pour}, Progress: plan.Progress{State: plan.ToDo}, Starts: &e.From},
		},
	}
	assert.InDelta(t, 10, EveningOf(s.Shop, []plan.Course{poured}, s.Now).Minutes, 1e-9)
	short := s.Shop
	short.Sessions = []plan.Session{{Weekday: e.From.In(zone).Weekday(), Start: "19:00", End: "19:20"}}
	brief := EveningOf(short, []plan.Course{poured}, s.Now)
	require.NotNil(t, brief)
	working := plan.Working(short.Sessions, 10)
	assert.Equal(
		t,
		working[0].End,
		brief.Clear.In(zone).Format("15:04"),
		"told where the plan ends, of a short one too",
	)
	s.Shop.Sessions = nil
	assert.Nil(t, EveningOf(s.Shop, courses, s.Now))
}

// Wood that is kept for another is told where a board is laid on it, with its working.
func TestReservedWood(t *testing.T) {
	s := sample()
	s.Boards = s.Boards[:1]
	told := func(kept, who string) bool {
		s.Slab.Reserved, s.Boards[0].Give.For = kept, who
		for _, v := range must(t, s).Boards[0].Verdicts {
			if v.Check == "reserved" {
				assert.Equal(t, craft.Mind, v.Level)
				assert.Contains(t, v.Finding, kept)
				assert.NotEmpty(t, v.Figure.Label)
				assert.NotEmpty(t, v.Figure.Formula)
				return true
			}
		}
		return false
	}
	assert.False(t, told("", "Ann"))
	assert.True(t, told("Ann", ""))
	assert.True(t, told("Ann", "Ben"))
	assert.False(t, told("Ann", "ann"))
	assert.False(t, told(s.Boards[0].Name, "Ben"))
	s.Slab.Reserved = strings.Repeat("x", 201)
	assert.Len(t, s.Check(), 1)
}
