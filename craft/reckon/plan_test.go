package reckon

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/plan"
	"idletimber/craft/shop"
	"idletimber/craft/stage"
)

// sanded is a scene of nothing but boards that are to be sanded, too much for their day.
func sanded(boards int) Scene {
	s := Scene{Schema: Schema, Now: time.Date(2031, 3, 24, 12, 0, 0, 0, time.UTC), Shop: shop.Usual()}
	due := s.Now.AddDate(0, 0, 6)
	for i := range boards {
		c := plan.Chain{Subject: plan.Board(fmt.Sprint(i)), Name: fmt.Sprint("Board ", i), Due: &due}
		c.Steps = []plan.Step{
			{Key: "saw", Kind: plan.CrossCut, Minutes: 20, Setup: "cross-cut"},
			{Key: "sand-80", Kind: plan.Sanding, Minutes: 90, Setup: "sanding, P80", Divisible: true},
			{Key: "coat-1", Kind: plan.Coat, Minutes: 15, Wait: 720, WaitFor: "the coat", Setup: "coat, oil"},
		}
		s.Elsewhere = append(s.Elsewhere, c)
	}
	return s
}

// Every help that is told is what it says, when its change is really made.
func TestPlanHelps(t *testing.T) {
	s := sanded(8)
	helps, err := PlanHelps(s, nil)
	require.NoError(t, err)
	require.NotEmpty(t, helps)
	before, err := Dates(s)
	require.NoError(t, err)
	late, last := together(before)
	seen := map[string]bool{}
	for day := time.Sunday; day <= time.Saturday; day++ {
		with := s
		like := s.Shop.Sessions[0]
		like.Weekday = day
		with.Shop.Sessions = append(append([]plan.Session{}, s.Shop.Sessions...), like)
		after, err := Dates(with)
		require.NoError(t, err)
		by, end := together(after)
		for _, h := range helps {
			if h.Label == fmt.Sprintf("A session on %ss too, 19:00 to 21:25", day) {
				seen["session"] = true
				assert.InDelta(t, late-by, h.LateBy, 1)
				assert.InDelta(t, last.Sub(end).Minutes(), h.Last, 1)
			}
		}
	}
	helped := s
	helped.Shop.Helpers = []plan.Helper{{Name: "Ida", Does: []plan.Kind{plan.Sanding}}}
	for _, o := range s.Shop.Sessions {
		o.Who = "Ida"
		helped.Shop.Sessions = append(helped.Shop.Sessions[:len(helped.Shop.Sessions):len(helped.Shop.Sessions)], o)
	}
	after, err := Dates(helped)
	require.NoError(t, err)
	by, _ := together(after)
	for _, h := range helps {
		if h.Label == "Somebody for the sanding, beside you" {
			seen["helper"] = true
			assert.InDelta(t, late-by, h.LateBy, 1)
			assert.Equal(t, 8*90.0, h.Hands)
		}
	}
	assert.Len(t, seen, 2)
	who := map[string]bool{}
	for _, c := range after {
		for _, d := range c.Steps {
			who[d.Who+" "+string(d.Kind)] = true
		}
	}
	assert.True(t, who["Ida sanding"])
	assert.False(t, who["Ida coat"])
}

// Without the boards that nobody asked for the others are sooner ready, by what it says; boards that are not there are
// no help.
func TestFewerHelp(t *testing.T) {
	s := sanded(8)
	spare := []plan.Subject{plan.Board("6"), plan.Board("7")}
	helps, err := PlanHelps(s, []Fewer{{"Orchard supper", spare}, {"Another", []plan.Subject{plan.Board("none")}}})
	require.NoError(t, err)
	before, err := Dates(s)
	require.NoError(t, err)
	less := sanded(8)
	less.Elsewhere = less.Elsewhere[:6]
	after, err := Dates(less)
	require.NoError(t, err)
	late, _ := together(before)
	by, _ := together(after)
	told := 0
	for _, h := range helps {
		assert.NotContains(t, h.Label, "Another")
		if h.Label == "2 fewer of Orchard supper" {
			told++
			assert.InDelta(t, late-by, h.LateBy, 1)
		}
	}
	assert.Equal(t, 1, told, "%v", helps)
}

// What is on order keeps back the steps that need it, by their tool or by what they take.
func TestStepsWaitForWhatIsOnOrder(t *testing.T) {
	s := sanded(1)
	s.Shop.Ordered = []plan.Ordered{
		{What: "p80", Day: "2031-04-10"},
		{What: "Oil", Day: "2031-04-20"},
		{What: "saw", Day: "2031-03-01"},
	}
	b, err := draw(s)
	require.NoError(t, err)
	steps := append([]plan.Step{}, s.Elsewhere[0].Steps...)
	b.awaited(steps, func(step string) []stage.Use {
		if step == "coat-1" {
			return []stage.Use{{Kind: stage.Finish, Item: "oil", Step: step}}
		}
		return nil
	})
	assert.Nil(t, steps[0].From)
	require.NotNil(t, steps[1].From)
	assert.Equal(t, "p80", steps[1].FromWhat)
	require.NotNil(t, steps[2].From)
	assert.Equal(t, 20, steps[2].From.Day())
	s.Elsewhere[0].Steps = steps
	dated, err := Dates(s)
	require.NoError(t, err)
	assert.False(t, dated[0].Steps[1].Starts.Before(*steps[1].From))
	assert.False(t, dated[0].Steps[2].Starts.Before(*steps[2].From))
}

// Nobody is at the bench on days off, and what would be late then is told.
func TestDaysOffMoveThePlan(t *testing.T) {
	s := sanded(2)
	before, err := Dates(s)
	require.NoError(t, err)
	s.Shop.Off = []plan.Leave{{From: "2031-03-25", To: "2031-03-31"}}
	after, err := Dates(s)
	require.NoError(t, err)
	assert.False(t, before[0].Late)
	assert.True(t, after[0].Late)
	assert.Equal(t, 1, after[0].Steps[0].Starts.Day(), "the first of April")
}
