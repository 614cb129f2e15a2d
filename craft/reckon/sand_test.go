package reckon

import (
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/finish"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/sanding"
)

// flawless is a scene of one board without flaws.
func flawless() Scene {
	s := sample()
	s.Boards, s.Slab.Flaws = s.Boards[:1], nil
	s.Boards[0].Sand = sanding.Choice{Raise: sanding.Once}
	return s
}

func (s *Scene) logged(entries ...plan.Entry) {
	for _, e := range entries {
		s.Log = append(s.Log, LogEntry{Subject: plan.Board(s.Boards[0].ID), Entry: e})
	}
}

func finished(step string, at time.Time) plan.Entry {
	return plan.Entry{Step: step, Event: plan.Finish, At: at, Minutes: 5}
}

func noted(step, what string, value float64, at time.Time) plan.Entry {
	return plan.Entry{Step: step, Event: plan.Noted, At: at, What: what, Value: value}
}

// Each surface has its own start by what makes it, and every one that is sanded is drawn.
func TestSurfacesAreSandedByTheirStarts(t *testing.T) {
	s := flawless()
	b := &s.Boards[0]
	b.Design.Edge = board.Edge{Kind: "round-over", Size: 3}
	b.Design.Recesses = []board.Recess{{Kind: "well", X: -60, Length: 60, Width: 50, Depth: 5, Radius: 9}}
	r := must(t, s).Boards[0]
	start := map[string]string{}
	for _, l := range r.Sanding.Ladders {
		start[l.Surface] = l.Start
		assert.NotEmpty(t, l.Rungs, l.Surface)
	}
	for surface, want := range map[string]string{
		"show face": sanding.Planed, "under face": sanding.Planed, "edges": sanding.Sawn, "end grain": sanding.Sawn,
		"round-over": sanding.Routed, "floor of well": sanding.RoutedWell, "corner of well": sanding.Scraped,
	} {
		assert.Equal(t, want, start[surface], surface)
	}
	require.Len(t, r.Sanded, len(r.Sanding.Ladders))
	for _, d := range r.Sanded {
		assert.Equal(t, d.Kind == board.ShowFace || d.Kind == board.UnderFace, d.Path == "", d.Surface)
		assert.NotEmpty(t, d.ToGo, d.Surface)
		assert.Zero(t, d.Reached, d.Surface)
	}
	s.Shop.Router.Bits = nil // it is carved
	r = must(t, s).Boards[0]
	i := slices.IndexFunc(r.Sanding.Ladders, func(l sanding.Ladder) bool { return l.Surface == "floor of well" })
	assert.Equal(t, sanding.Gouged, r.Sanding.Ladders[i].Start)
}

// What is done colours the drawing: a grit that is finished is reached on every surface that climbs it.
func TestSurfacesShowTheGritTheyReached(t *testing.T) {
	s := flawless()
	first := must(t, s).Boards[0].Sanding.All[0]
	s.logged(finished(sanding.SandKey(first), now))
	r := must(t, s).Boards[0]
	some := false
	for i, d := range r.Sanded {
		if slices.Contains(r.Sanding.Ladders[i].Rungs, r.Sanding.Ladders[i].Rungs[0]) &&
			r.Sanding.Ladders[i].Rungs[0].Grit == first {
			some = true
			assert.Equal(t, first, d.Reached, d.Surface)
			assert.NotContains(t, d.ToGo, first)
		} else {
			assert.Zero(t, d.Reached, d.Surface)
		}
	}
	assert.True(t, some)
}

// Thickness at the corners, missed scratches and its colour come from what was noted.
func TestWhatIsNotedWhileItIsSanded(t *testing.T) {
	s := flawless()
	at := must(t, s).Boards[0].AtSander
	require.NotEmpty(t, at.Look)
	for _, mm := range []float64{20.1, 20.2, 20.3} {
		s.logged(noted(at.Measured, sanding.NoteThick, mm, now))
	}
	v := verdict(must(t, s).Boards[0], "even-passes")
	require.NotNil(t, v)
	assert.Equal(t, craft.Good, v.Level)
	s.logged(noted(at.Measured, sanding.NoteThick, 20.6, now))
	v = verdict(must(t, s).Boards[0], "even-passes")
	assert.Equal(t, craft.Mind, v.Level)
	assert.InDelta(t, 0.5, v.Figure.Value, 1e-9)
	assert.Contains(t, v.Finding, sanding.CornerNames()[3])
	s.logged(noted(at.Measured, plan.Back, 0, now))
	assert.Equal(t, craft.Good, verdict(must(t, s).Boards[0], "even-passes").Level)

	mark := noted(at.Look, sanding.NoteScratch, 0, now)
	p := geom.Point{X: 30, Y: -20}
	onSlab := s.Boards[0].Placement.Out(p)
	mark.Place = &onSlab
	s.logged(mark, noted(at.Look, sanding.NoteFace, 1, now))
	got := must(t, s).Boards[0].AtSander
	require.Len(t, got.Scratches, 1)
	assert.InDelta(t, p.X, got.Scratches[0].X, 1e-9)
	assert.InDelta(t, p.Y, got.Scratches[0].Y, 1e-9)
	assert.Equal(t, "turned", got.Face)
	for i, c := range got.Corners {
		assert.True(t, onOutline(s, c), "corner %d", i)
	}
}

func onOutline(s Scene, p geom.Point) bool {
	b, err := draw(s)
	if err != nil {
		return false
	}
	_, away := b.boards[0].shaped.Outline.Nearest(p)
	return away < 1e-6
}

// A wetted board dries by the clock, or until somebody sees its own colour again.
func TestItsOwnColourEndsTheWait(t *testing.T) {
	s := flawless()
	look := must(t, s).Boards[0].AtSander.Look
	wet := now.Add(-20 * time.Minute)
	s.logged(finished(look, wet))
	until := stepOf(must(t, s).Boards[0].Course, look).WaitUntil
	assert.True(t, until.After(now), "by the clock")
	s.logged(noted(look, sanding.NoteColour, 0, now.Add(-2*time.Minute)))
	until = stepOf(must(t, s).Boards[0].Course, look).WaitUntil
	assert.Equal(t, now.Add(-2*time.Minute).Unix(), until.Unix(), "by its colour")
}

// The last grit is proposed by the finish and the wood, and one that was chosen stays.
func TestTheFinishAsksForALastGrit(t *testing.T) {
	s := flawless()
	last := func() int {
		g := must(t, s).Boards[0].Sanding.Grits
		return g[len(g)-1]
	}
	s.Boards[0].Finish = finish.Choice{School: finish.PasteAlone, Ratio: 3}
	assert.Equal(t, 220, last())
	s.Boards[0].Finish.School = finish.CuringOil
	assert.Equal(t, 180, last())
	s.Boards[0].Finish = finish.Choice{School: finish.Oil, Ratio: 3}
	s.Boards[0].Design.Style = board.Rustic
	assert.Equal(t, 180, last())
	s.Slab.Species = "Norway spruce"
	s.Boards[0].Design.Style = ""
	assert.Equal(t, 180, last(), "it goes furry")
	s.Boards[0].Sand.Last = 320
	assert.Equal(t, 320, last())
}

// A wet stain comes before the grain is raised for the last time, unless the maker wants it late.
func TestAStainComesBeforeTheLastRaising(t *testing.T) {
	s := flawless()
	s.Boards[0].Finish = finish.Choice{School: finish.CoffeePaste, Ratio: 2}
	s.Boards[0].Sand.Raise = sanding.Twice
	order := func() (stain, raise, sand int) {
		keys := keysOf(must(t, s).Boards[0])
		stain, raise, sand = slices.Index(keys, "coat-1"), -1, -1
		for i, k := range keys {
			if strings.HasPrefix(k, "raise-") {
				raise = i
			}
			if strings.HasPrefix(k, "sand-") {
				sand = i
			}
		}
		return stain, raise, sand
	}
	stain, raise, sand := order()
	assert.Less(t, stain, raise)
	assert.Less(t, raise, sand)
	keys := keysOf(must(t, s).Boards[0])
	i := slices.Index(keys, "coat-1")
	assert.Equal(t, []string{"coat-1", "wipe-1", "coat-2", "wipe-2"}, keys[i:i+4], "in its order")
	s.Boards[0].Sand.Raise = sanding.Never
	stain, _, sand = order()
	assert.Equal(t, sand, stain+4, "before the last grit")
	late := finish.Find(finish.CoffeePaste).Acts
	late = slices.Clone(late)
	late[0].Early, late[1].Early = false, false
	s.Boards[0].Finish.List = late
	stain, _, sand = order()
	assert.Greater(t, stain, sand)
	assert.NotNil(t, verdict(must(t, s).Boards[0], "stain-raises"))
}

// How many coats there are follows what was seen on the board, and the plan with it.
func TestLooksChangeThePlan(t *testing.T) {
	s := flawless()
	s.Boards[0].Finish = finish.Choice{School: finish.Oil, Coats: 2, Ratio: 3}
	was := must(t, s).Boards[0]
	s.logged(noted("wipe-2", finish.NoteDry, 0, now))
	more := must(t, s).Boards[0]
	assert.Contains(t, keysOf(more), "coat-102")
	assert.True(t, more.Course.Finish.After(*was.Course.Finish))
	s.logged(noted("wipe-1", finish.NoteFull, 0, now))
	s.Log = s.Log[len(s.Log)-1:]
	assert.NotContains(t, keysOf(must(t, s).Boards[0]), "coat-2")
}

// A board looks oiled by its woods, its finish and the resin in it; it stands on its feet, or on points.
func TestTheOiledLook(t *testing.T) {
	s := flawless()
	neutral := must(t, s).Boards[0].Oiled
	s.Boards[0].Finish = finish.Choice{School: finish.HardWax, Ratio: 3}
	warm := must(t, s).Boards[0].Oiled
	assert.NotEqual(t, neutral.Light, warm.Light)
	assert.Equal(t, finish.Warm, warm.Tint)
	assert.True(t, warm.Dents)
	assert.GreaterOrEqual(t, len(warm.Stands), 3)
	b, err := draw(s)
	require.NoError(t, err)
	for _, p := range warm.Stands {
		assert.True(t, b.boards[0].shaped.Outline.Contains(p), "%v", p)
	}
	s.Boards[0].Fit.Feet = true
	feet := must(t, s).Boards[0].Oiled
	assert.False(t, feet.Dents)
	assert.Equal(t, must(t, s).Boards[0].Shape.Feet, feet.Stands)
	assert.Zero(t, feet.Coats)
	assert.Equal(t, 2, feet.Of)
	s.logged(finished("coat-1", now.Add(-time.Minute)))
	on := must(t, s).Boards[0].Oiled
	assert.Equal(t, 1, on.Coats)
	require.NotNil(t, on.Wet)

	cast := cast(t)
	c := NewBoardOn("b", "Board", *cast.Slab, cast.Shop)
	c.Placement.X, c.Design.Length, c.Design.Width = 300, 300, 180
	c.Finish = finish.Choice{School: finish.HardWax, Ratio: 3}
	cast.Boards = []Board{c}
	parts := must(t, cast).Boards[0].Oiled.Parts
	require.NotEmpty(t, parts)
	assert.Contains(t, slices.Collect(func(yield func(bool) bool) {
		for _, p := range parts {
			if !yield(p.Light != warm.Light) {
				return
			}
		}
	}), true, "its resin keeps its own colour")
}

// A day in the warm months asks for a firm paste; the months turn with the year where they are so set.
func TestWarmMonths(t *testing.T) {
	s := flawless()
	s.Boards[0].Finish = finish.Choice{School: finish.PasteAlone, Ratio: 4}
	for month, want := range map[string]bool{"2031-07-10": true, "2031-01-10": false, "": false} {
		s.Boards[0].Give.Due = month
		v := verdict(must(t, s).Boards[0], "finish-heat")
		assert.Equal(t, want, v != nil && v.Level != craft.Good, month)
	}
	s.Shop.Rules = rule.Set{rule.WarmFrom: 11, rule.WarmTo: 2}
	s.Boards[0].Give.Due = "2031-01-10"
	assert.NotNil(t, verdict(must(t, s).Boards[0], "finish-heat"))
}

// Where no session holds a coat with its wiping, it is told, stays on until somebody is back, and the
// way out settles it.
func TestACoatThatNobodyWipes(t *testing.T) {
	s := flawless()
	s.Boards[0].Finish = finish.Choice{School: finish.Oil, Ratio: 3}
	s.Shop.Sessions = []plan.Session{{Weekday: time.Monday, Start: "19:00", End: "20:30"}}
	r := asked(t, s, Request{Weigh: s.Boards[0].ID}).Boards[0]
	v := verdict(r, "wiped")
	require.NotNil(t, v)
	assert.Equal(t, craft.Mind, v.Level)
	require.NotEmpty(t, v.Remedies)
	coat, wipe := stepOf(r.Course, "coat-1"), stepOf(r.Course, "wipe-1")
	assert.Equal(t, wipe.Starts.Unix(), coat.WaitUntil.Unix())
	require.NoError(t, v.Remedies[0].Patch.Apply(&s.Boards[0]))
	after := verdict(must(t, s).Boards[0], "wiped")
	assert.True(t, after == nil || after.Level == craft.Good)
}

// Every way to finish a board side by side; a trial of the maker's own counts.
func TestFinishesSideBySide(t *testing.T) {
	s := flawless()
	s.Boards[0].Finish.Needs = map[string]int{finish.Washed: 3}
	s.Shop.Finishes = []finish.Kept{
		{Name: "mine", School: finish.Oil, Ratio: 3, List: []finish.Act{{Product: finish.Oil}}},
	}
	all, err := Finishes(s)
	require.NoError(t, err)
	assert.Len(t, all, len(finish.Schools)+1)
	assert.NotEqual(t, finish.PasteAlone, all[0].Name)
	s.Washed = map[string]float64{finish.Paste: 500}
	all, err = Finishes(s)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, all[0].Washes, 500.0)
}

// Whatever a board is like: each of its surfaces has a ladder that climbs, ends where it should and is
// drawn; the minutes of the steps are those of the ladders; and what drinks is the sum of its parts.
func TestSurfacesOfRandomBoards(t *testing.T) {
	for seed := range uint64(60) {
		s := anyScene(seed)
		r, err := Reckon(s, Request{})
		require.NoError(t, err)
		b := r.Boards[0]
		names := map[string]bool{}
		for _, l := range b.Sanding.Ladders {
			require.False(t, names[l.Surface], "%d: %s is there twice", seed, l.Surface)
			names[l.Surface] = true
			require.NotEmpty(t, l.Rungs, "%d: %s", seed, l.Surface)
			sum := 0.0
			for i, rung := range l.Rungs {
				sum += rung.Minutes
				require.True(t, i == 0 || rung.Grit > l.Rungs[i-1].Grit, "%d: %s", seed, l.Surface)
				require.Contains(t, b.Sanding.All, rung.Grit)
			}
			require.InDelta(t, l.Minutes, sum, 1e-9)
		}
		require.Len(t, b.Sanded, len(b.Sanding.Ladders), "%d", seed)
		var steps float64
		for _, st := range b.Course.Steps {
			if st.Stage == craft.Sand && st.Kind == plan.Sanding && !strings.HasSuffix(st.Key, "-again") {
				steps += st.Usual
			}
		}
		corners := 0.0
		if s.Boards[0].Sand.Corners {
			first, last := b.Sanding.All[0], b.Sanding.Grits[len(b.Sanding.Grits)-1]
			if corners = 4; first == last {
				corners = 2
			}
		}
		require.InDelta(t, b.Sanding.Total.Value+corners, steps, 1e-6, "%d", seed)

		drawn, err := draw(s)
		require.NoError(t, err)
		drinks := drawn.boards[0].drinks()
		var whole, end float64
		for _, p := range drinks.Parts {
			whole, end = whole+p.Whole, end+p.End
			require.GreaterOrEqual(t, p.Whole+1e-9, p.End, "%d: %s", seed, p.Name)
		}
		require.InDelta(t, drinks.Whole, whole, 1e-6)
		require.InDelta(t, drinks.End, end, 1e-6)
		for _, coat := range b.Finish.Coats {
			require.GreaterOrEqual(t, coat.Grams, 0.0)
		}
	}
}
