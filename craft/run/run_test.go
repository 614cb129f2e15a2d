package run

import (
	"cmp"
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/making"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/tool"
)

var (
	now      = time.Date(2031, 3, 24, 12, 0, 0, 0, time.UTC)
	evenings = []plan.Session{{Weekday: time.Tuesday, Start: "19:00", End: "21:30"}}
)

// boards are chains of one list of steps, so many times.
func boards(n int, steps ...plan.Step) (out []plan.Chain) {
	for i := range n {
		out = append(
			out,
			plan.Chain{Subject: plan.Board(fmt.Sprint(i)), Name: fmt.Sprint("Board ", i+1), Steps: steps},
		)
	}
	return out
}

func grit(g string) plan.Step {
	s := plan.Timed("sand-"+g, plan.Sanding, 12, 2, "", nil, nil).On("P" + g)
	s.Title = "Sand to P" + g
	return s
}

func dated(chains []plan.Chain) []plan.Course { return plan.Schedule(chains, evenings, time.UTC, now) }

// The example of the text: ten boards, four grits, two minutes a grit save 72 minutes.
func TestSavedBySettingUpOnce(t *testing.T) {
	m := Of(dated(boards(10, grit("80"), grit("120"), grit("180"), grit("220"))), now, Room{})
	assert.Equal(t, 72.0, m.Saved.Value)
	require.Len(t, m.Operations, 4)
	first := m.Operations[0]
	assert.Equal(t, 10*10.0+2, first.Minutes)
	assert.Equal(t, 18.0, first.Saved)
	sum := 0.0
	for _, c := range first.Cells {
		sum += c.Minutes
		assert.Equal(t, Ready, c.State)
	}
	assert.InDelta(t, first.Minutes, sum, 1e-9, "the shares are all of it")
	assert.Equal(t, Waits, m.Operations[1].Cells[0].State)
}

// The order of every board stands, whatever the mixture, and no minute is lost or counted twice.
func TestTheMatrixKeepsTheOrderOfEveryBoard(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		all := []string{"80", "100", "120", "150", "180", "220"}
		var chains []plan.Chain
		for i := range rapid.IntRange(1, 6).Draw(t, "boards") {
			c := plan.Chain{Subject: plan.Board(fmt.Sprint(i))}
			for _, g := range all {
				for range rapid.IntRange(0, 2).Draw(t, g) {
					s := grit(g)
					s.Key += fmt.Sprint("-", len(c.Steps))
					c.Steps = append(c.Steps, s)
				}
			}
			chains = append(chains, c)
		}
		courses := dated(chains)
		m := Of(courses, now, Room{})
		for _, c := range courses {
			last := -1
			for _, s := range c.Steps {
				at := slices.IndexFunc(m.Operations, func(o Operation) bool {
					return slices.ContainsFunc(o.Cells, func(x Cell) bool {
						return x.Subject == c.Subject && x.Step == s.Key
					})
				})
				if at <= last {
					t.Fatalf("%s comes at %d, the one before it at %d", s.Key, at, last)
				}
				last = at
			}
		}
		alone, together, saved := 0.0, 0.0, 0.0
		for _, c := range courses {
			for _, s := range c.Steps {
				alone += s.Minutes
			}
		}
		for _, o := range m.Operations {
			together, saved = together+o.Minutes, saved+o.Saved
		}
		if d := alone - saved - together; d > 1e-6 || d < -1e-6 {
			t.Fatalf("%v alone, %v together, %v saved", alone, together, saved)
		}
	})
}

func TestStatesOfCells(t *testing.T) {
	coat := plan.Step{Key: "coat-1", Kind: plan.Coat, Minutes: 10, Wait: 600, WaitFor: "the coat"}
	chains := boards(4, grit("80"), coat, grit("220"))
	log := func(i int, step, event string, ago time.Duration) {
		chains[i].Log = append(chains[i].Log, plan.Entry{Step: step, Event: event, At: now.Add(-ago), Minutes: 5})
	}
	log(0, "sand-80", plan.Start, time.Minute)
	log(1, "sand-80", plan.Finish, time.Hour)
	log(2, "sand-80", plan.Finish, 2*time.Hour)
	log(2, "coat-1", plan.Finish, time.Hour)
	log(3, "sand-80", plan.Finish, 25*time.Hour)
	log(3, "coat-1", plan.Finish, 24*time.Hour)
	m := Of(dated(chains), now, Room{})
	var got [][]string
	for _, o := range m.Operations {
		var states []string
		for _, c := range o.Cells {
			states = append(states, c.State)
		}
		got = append(got, states)
	}
	assert.Equal(t, [][]string{
		{InHand, Done, Done, Done}, {Waits, Ready, Drying, Done}, {Waits, Waits, Waits, Ready},
	}, got)
	assert.Equal(t, now.Add(9*time.Hour), *m.Operations[1].Cells[2].Until)
	assert.Equal(t, 1, m.Operations[2].Able)
}

func TestATemplatePaysFromTwo(t *testing.T) {
	_, _, from := Template(1)
	assert.Equal(t, 2, from)
	for n := 1; n < 20; n++ {
		with, without, from := Template(n)
		assert.Equal(t, n >= from, with < without, "%d boards", n)
	}
	each, shared := Shapes(6, 3)
	assert.InDelta(t, 3*(25+2*5.5)/6, each, 1e-9)
	assert.InDelta(t, (25+6*5.5)/6, shared, 1e-9)
}

func TestStagger(t *testing.T) {
	for _, tt := range []struct {
		name             string
		boards, places   int
		soak, coat, wipe float64
		want             int
		mind             bool
	}{
		{"as many as soak", 10, 12, 20, 6, 3, 3, false},
		{"as many as lie", 10, 2, 20, 6, 3, 2, false},
		{"the wipe is the longer", 10, 12, 20, 3, 10, 2, false},
		{"one that takes too long", 10, 12, 5, 6, 3, 1, true},
		{"nothing bounds it", 4, 0, 0, 6, 3, 4, false},
	} {
		b := Stagger(tt.boards, tt.places, tt.soak, tt.coat, tt.wipe)
		assert.Equal(t, tt.want, b.Boards, tt.name)
		assert.Equal(t, tt.mind, b.Mind != "", tt.name)
		if tt.soak > 0 && !tt.mind {
			last := b.Coated[b.Boards-1] + tt.coat
			assert.LessOrEqual(t, last, b.Wiped[0]+1e-9, "%s: the first is wiped when the last is coated", tt.name)
		}
	}
}

func TestSpares(t *testing.T) {
	for count, want := range map[int]int{0: 0, 1: 1, 12: 1, 13: 2, 100: 9} {
		assert.Equal(t, want, Spares(count, rule.Set{}), "%d", count)
	}
	assert.Equal(t, 4, Stack(160, 38))
	assert.Equal(t, 1, Stack(20, 38))
}

func TestCheck(t *testing.T) {
	assert.Empty(t, Run{Name: "Supper", Count: 6, Day: "2031-06-21", People: []Person{{Name: "Ada"}}}.Check("run"))
	bad := Run{Count: 999, Day: "soon", People: []Person{{Day: "21.6."}}}.Check("run")
	assert.Len(t, bad, 5)
}

// What several boards took together is shared by their estimates with one set-up; the shares add up to it.
func TestSplit(t *testing.T) {
	dated := func(minutes, setup, spent float64) plan.Dated {
		return plan.Dated{
			Step:     plan.Step{Minutes: minutes, SetupMinutes: setup},
			Progress: plan.Progress{Spent: spent},
		}
	}
	steps := []plan.Dated{dated(8, 2, 0), dated(14, 2, 0), dated(8, 2, 0)}
	estimated, took := Split(steps, 52)
	assert.InDeltaSlice(t, []float64{20. / 3, 38. / 3, 20. / 3}, estimated, 1e-9)
	assert.InDelta(t, 52, took[0]+took[1]+took[2], 1e-9)
	assert.InDelta(t, 52*estimated[1]/26, took[1], 1e-9)
	_, took = Split(steps, 0)
	assert.InDeltaSlice(t, estimated, took, 1e-9, "nothing is told and no clock ran")
	steps[0].Spent, steps[1].Spent = 13, 12.5 // begun by one press, beside each other
	_, took = Split(steps, 0)
	assert.InDelta(t, 13, took[0]+took[1]+took[2], 1e-9)
}

func TestVisits(t *testing.T) {
	makes := func(tools ...string) (out []making.Made) {
		for _, id := range tools {
			out = append(out, making.Made{Name: "by " + id, By: &making.Maker{Tool: id, Minutes: 5}})
		}
		return append(out, making.Made{Name: "nobody can"})
	}
	got := Visits([]Made{{Board: "a", Slab: "plane"}, {Board: "b", Slab: "pear"}},
		[][]making.Made{makes("drill", "bandsaw"), makes("bandsaw", "drill", "bandsaw")})
	require.Len(t, got, 2)
	assert.Equal(t, []float64{10, 15}, []float64{got[0].Minutes, got[1].Minutes})
	assert.Equal(t, Made{"b", "pear", "by bandsaw"}, got[1].Made[1])
}

func TestPhasesAddUp(t *testing.T) {
	step := func(stage craft.Stage, minutes, spent, shared float64, state string) plan.Dated {
		return plan.Dated{Step: plan.Step{Stage: stage, Minutes: minutes},
			Progress: plan.Progress{State: state, Spent: spent}, Shared: shared}
	}
	got := Phases([]plan.Course{{Steps: []plan.Dated{
		step(craft.Sand, 30, 10, 5, plan.Paused), step(craft.Shape, 60, 0, 0, plan.ToDo),
		step(craft.Shape, 25, 25, 0, plan.Done), step(craft.Sand, 25, 0, 0, plan.ToDo),
	}}})
	require.Len(t, got, 2)
	assert.Equal(t, Phase{craft.Shape, 60, 60}, got[0])
	assert.Equal(t, Phase{craft.Sand, 40, 40}, got[1])
}

// An evening's turns: steps that follow each other with one set-up are one turn, and no step is in two.
func TestTurns(t *testing.T) {
	chains := boards(
		3,
		plan.Step{Key: "bore", Kind: plan.Bore, Title: "Bore", Minutes: 10, Setup: "bore, 30", SetupMinutes: 3},
		plan.Step{
			Key:          "sand",
			Kind:         plan.Sanding,
			Title:        "Sand P80",
			Minutes:      20,
			Setup:        "sanding, P80",
			SetupMinutes: 2,
		},
	)
	courses := plan.NewPlanner(evenings, time.UTC, now).Schedule(chains)
	until := now.AddDate(0, 0, 30)
	got := Turns(courses, until)
	seen, minutes := map[string]bool{}, 0.0
	for i, turn := range got {
		if i > 0 {
			assert.False(t, turn.From.Before(got[i-1].From))
			assert.False(t, turn.Title == got[i-1].Title, "it would be one turn")
		}
		minutes += turn.Minutes
		for _, s := range turn.Steps {
			key := s.Subject.String() + "/" + s.Step
			assert.False(t, seen[key], key)
			seen[key] = true
		}
	}
	assert.Len(t, seen, 6)
	planned := 0.0
	for _, c := range courses {
		for _, d := range c.Steps {
			planned += d.Ends.Sub(*d.Starts).Minutes()
		}
	}
	assert.InDelta(t, planned, minutes, 1e-6, "as long as the plan takes for it")
	assert.Empty(t, Turns(courses, now), "nothing begins before now")

	// A turn may change places with the next one if no board is in both.
	for i, turn := range got {
		assert.Equal(t, i+1 < len(got) && !sharesBoard(turn, got[i+1]), turn.Free, "turn %d", i)
	}
	two := Turns(plan.NewPlanner(evenings, time.UTC, now).Schedule([]plan.Chain{
		{Subject: plan.Board("1"), Name: "Ada's", Steps: chains[0].Steps[:1]},
		{Subject: plan.Board("2"), Name: "Bea's", Steps: chains[1].Steps[1:]},
	}), until)
	require.Len(t, two, 2)
	assert.True(t, two[0].Free)
	assert.False(t, two[1].Free, "nothing comes after it")
	for _, turn := range two {
		assert.NotContains(t, turn.Title, cmp.Or(turn.Tool, "nothing"), "what the title says is not said again")
	}
}

// Boards that may be coated now are laid out in a batch, by the places, the soak and what takes longer; equal parts are
// stacked as high as the saw that is owned takes them.
func TestBatchesAndStacksOfTheMatrix(t *testing.T) {
	coat := plan.Step{
		Key:          "coat-1",
		Kind:         plan.Coat,
		Title:        "Coat 1",
		Minutes:      8,
		SetupMinutes: 2,
		Wait:         20,
		Attended:     true,
	}
	wipe := plan.Step{Key: "wipe-1", Kind: plan.Wipe, Title: "Wipe", Minutes: 5, SetupMinutes: 1, Wait: 600}
	courses := dated(boards(7, coat, wipe))
	m := Of(courses, now, Room{Rack: 12})
	require.NotNil(t, m.Operations[0].Batch)
	assert.Equal(t, Stagger(7, 12, 20, 6, 4), *m.Operations[0].Batch)
	assert.Equal(t, 3, m.Operations[0].Batch.Boards, "three are coated while the first soaks")
	assert.Nil(t, m.Operations[1].Batch)
	assert.Equal(t, 2, Of(courses, now, Room{Rack: 2}).Operations[0].Batch.Boards)

	saw := plan.Step{
		Key:     "cross-cut",
		Kind:    plan.CrossCut,
		Title:   "Cross-cut",
		Minutes: 5,
		Setup:   "cross-cut, bandsaw",
	}
	kit := tool.Kit{Tools: []tool.Tool{{Kind: "bandsaw", Height: 150}, {Kind: "bandsaw", Height: 220}}}
	op := Of(dated(boards(2, saw)), now, RoomOf(kit, nil)).Operations[0]
	assert.Contains(t, op.Hint, craft.Length(220)+" at the bandsaw")
	assert.Contains(t, Of(dated(boards(2, saw)), now, Room{}).Operations[0].Hint, "as high as the saw takes them")
}

func TestMissing(t *testing.T) {
	people := []Person{{Name: "Ada"}, {Name: "Ida"}}
	assert.Equal(t, 7, Run{Count: 6, Spares: 1}.Missing(0))
	assert.Equal(t, 3, Run{Count: 6, Spares: 1}.Missing(4))
	assert.Equal(t, 0, Run{Count: 6, Spares: 1}.Missing(9))
	assert.Equal(t, 2, Run{People: people}.Missing(4), "each who waits gets one")
}

func sharesBoard(a, b Turn) bool {
	in := map[plan.Subject]bool{}
	for _, s := range a.Steps {
		in[s.Subject] = true
	}
	for _, s := range b.Steps {
		if in[s.Subject] {
			return true
		}
	}
	return false
}
