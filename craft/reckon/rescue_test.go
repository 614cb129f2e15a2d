package reckon

import (
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/aftercare"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/rescue"
	"idletimber/craft/stage"
)

// doneUntil is a scene with the steps of its first board finished one after the other, up to one of a key; of all where
// the key is empty.
func doneUntil(t testing.TB, s Scene, key string) Scene {
	t.Helper()
	at := s.Now.Add(-time.Hour)
	for _, d := range must(t, s).Boards[0].Course.Steps {
		if d.Key == key {
			break
		}
		at = at.Add(time.Second)
		s.Log = append(s.Log, LogEntry{Subject: plan.Board(s.Boards[0].ID), Entry: plan.Entry{
			Step: d.Key, Event: plan.Finish, At: at, Minutes: 5,
		}})
	}
	return s
}

// wrong is a scene on whose first board something went wrong now.
func wrong(t testing.TB, s Scene, step string, r rescue.Report) Scene {
	t.Helper()
	b, err := Happened(s, "m", step, s.Now, 0, r)
	require.NoError(t, err)
	s.Boards = slices.Clone(s.Boards)
	s.Boards[0] = b
	return s
}

// waysOf are the ways out of the latest mishap of the first board, and what was dropped.
func waysOf(t testing.TB, s Scene) (ways []WayOut, dropped []Dropped) {
	t.Helper()
	found, err := WaysOut(s, Rescuing{Mishap: "m"})
	require.NoError(t, err)
	for o := range found {
		if o.Way != nil {
			ways = append(ways, *o.Way)
		} else {
			dropped = append(dropped, *o.Dropped)
		}
	}
	slices.SortStableFunc(ways, func(a, b WayOut) int {
		if a.Before(b) {
			return -1
		}
		return 1
	})
	return ways, dropped
}

// bite is an area cut into the side of a board at x, as wide as that and so deep, seen from its left side.
func bite(s Scene, x, wide, deep float64) []geom.Point {
	shaped, _ := Draw(s)
	y := slices.Max(shaped[0].Outline.SpansAcross(x, nil))
	return []geom.Point{{X: x - wide/2, Y: y + 5}, {X: x - wide/4, Y: y - deep}, {X: x + wide/4, Y: y - deep},
		{X: x + wide/2, Y: y + 5}}
}

// suited is a scene with a board on which a kind of mishap may happen.
func suited(t *testing.T, k rescue.Kind) Scene {
	t.Helper()
	s := sample()
	s.Slab.Flaws = nil
	switch k.Needs {
	case rescue.OfParts:
		s = striped(6, "flat")
	case rescue.OfResin:
		s, _ = pouredScene(t)
	case rescue.OfLiveEdge:
		s.Boards[0].Design.Shape, s.Boards[0].Design.KeepLeft = board.Plank, true
	case rescue.OfHole:
		s.Boards[0].Design.Handle = board.Handle{Kind: board.Hole, Diameter: 26, Setback: 40}
	case rescue.OfFittings:
		s.Boards[0].Fit.Feet = true
	case rescue.OfCord:
		s.Boards[0].Design.Handle = board.Handle{Kind: board.CordHole, Diameter: 8, Setback: 20}
		s.Boards[0].Fit.Cord = true
	}
	s.Boards[0].Give.Due = ""
	return s
}

// Every kind of mishap has ways out of its own on a board on which it may happen, which cost no more than it does to
// give the board up; they are told in whole words.
func TestEveryKindHasWaysOfItsOwn(t *testing.T) {
	for _, k := range rescue.Kinds() {
		s := suited(t, k)
		step := ""
		for _, d := range must(t, s).Boards[0].Course.Steps {
			if slices.Contains(k.Stages, d.Stage) {
				step = d.Key // the last of its stages
			}
		}
		s = doneUntil(t, s, step)
		drawn, err := Draw(s)
		require.NoError(t, err)
		box := drawn[0].Outline.Bounds()
		r := rescue.Report{Kind: k.Key}
		switch {
		case k.Wants(rescue.Place):
			c := geom.Point{X: box.MaxX - 20}
			if len(drawn[0].Holes) > 0 {
				c = drawn[0].Holes[0].Centroid()
			}
			r.Place = &geom.Point{X: c.X, Y: c.Y + 2}
		case k.Wants(rescue.Area):
			r.Area = bite(s, (box.MinX+box.MaxX)/2, 16, 3)
		case k.Wants(rescue.Line):
			y := (box.MinY + box.MaxY) / 2
			r.Line = []geom.Point{{X: box.MinX - 2, Y: y}, {X: box.MinX + 30, Y: y + 1}}
		}
		if k.Wants(rescue.Thickness) {
			r.Thickness = 18
		}
		if k.Wants(rescue.Depth) {
			r.Depth = 0.8
		}
		s = wrong(t, s, step, r)
		ways, dropped := waysOf(t, s)
		own := 0
		for _, w := range ways {
			if k.Tries(w.Way) {
				own++
			}
			for _, text := range slices.Concat([]string{w.Label}, w.Gives, w.Breaks, w.Steps) {
				assert.NotEmpty(t, text, k.Key)
				assert.NotContains(t, text, "%!", k.Key)
			}
		}
		assert.Positive(t, own, "%s at %s: %v, dropped %v", k.Key, step, waysNamed(ways), dropped)
	}
}

func waysNamed(ways []WayOut) (out []string) {
	for _, w := range ways {
		out = append(out, w.Key)
	}
	return out
}

// What a way adds to the plan comes behind what was done and before what is not, in minutes that add up, and takes from
// the shelf what its steps take; where it is taken the plan is what was told.
func TestAWayTakenIsThePlan(t *testing.T) {
	s := sample()
	s.Slab.Flaws = nil
	s = doneUntil(t, s, "sand-100")
	before := must(t, s).Boards[0]
	hurt := wrong(t, s, "sand-100", rescue.Report{Kind: "deep", Area: bite(s, 40, 20, 6)})
	ways, _ := waysOf(t, hurt)
	for _, w := range ways {
		if w.Act != "" || w.Way == rescue.Rack {
			continue
		}
		next := hurt
		next.Boards = slices.Clone(hurt.Boards)
		require.NoError(t, w.Patch.Apply(&next.Boards[0]))
		after := must(t, next).Boards[0]
		assert.InDelta(t, w.Work, after.Course.HandsOn, 1e-6, w.Key)
		assert.InDelta(t, w.Minutes, after.Course.InAll()-before.Course.InAll(), 1e-6, w.Key)
		var more, less []stage.Use
		for _, u := range w.Uses {
			more = append(more, u)
		}
		for _, u := range w.Saves {
			u.Amount = -u.Amount
			less = append(less, u)
		}
		want := amounts(slices.Concat(before.Shelf, more, less))
		got := amounts(after.Shelf)
		for item, amount := range want {
			assert.InDelta(t, amount, got[item], 1e-6, "%s: %s", w.Key, item)
		}
		seen := false // what is not done yet, in the order of the plan
		for _, d := range after.Course.Steps {
			mend := strings.HasPrefix(d.Key, "m-")
			assert.False(t, mend && seen, "%s: %s comes after what is still to be done", w.Key, d.Key)
			seen = seen || d.State != plan.Done && slices.ContainsFunc(before.Course.Steps, func(o plan.Dated) bool {
				return o.Key == d.Key
			})
			if mend {
				assert.Equal(t, plan.ToDo, d.State)
			}
		}
	}
}

// amounts are how much of each item some uses are together.
func amounts(uses []stage.Use) map[string]float64 {
	out := map[string]float64{}
	for _, u := range uses {
		out[u.Item] += u.Amount
	}
	return out
}

// A board is judged by what its mishap left: drawn larger than what was sawn, with a hole elsewhere, or thicker than it
// is, it stops.
func TestWhatAMishapLeavesIsJudged(t *testing.T) {
	s := sample()
	s.Slab.Flaws = nil
	s.Boards[0].Design.Handle = board.Handle{Kind: board.Hole, Diameter: 26, Setback: 40}
	s = doneUntil(t, s, "edges")
	hurt := wrong(t, s, "edges", rescue.Report{Kind: "thin", Thickness: 17})
	level := func(change func(*Board), check string) craft.Level {
		next := hurt
		next.Boards = slices.Clone(hurt.Boards)
		next.Boards[0].Design.Thickness = 16
		change(&next.Boards[0])
		worst := craft.Good
		for _, v := range must(t, next).Boards[0].Verdicts {
			if v.Check == check && v.Level.Rank() > worst.Rank() {
				worst = v.Level
			}
		}
		return worst
	}
	none := func(*Board) {}
	for _, check := range []string{"left", "made", "measured"} {
		assert.Equal(t, craft.Good, level(none, check), check)
	}
	assert.Equal(t, craft.Stop, level(func(b *Board) { b.Design.Width += 1 }, "left"))
	assert.Equal(t, craft.Stop, level(func(b *Board) { b.Placement.X += 5 }, "left"))
	assert.Equal(t, craft.Stop, level(func(b *Board) { b.Design.Handle.Offset = 1 }, "made"))
	assert.Equal(t, craft.Stop, level(func(b *Board) { b.Design.Handle.Kind = board.NoHandle }, "made"))
	assert.Equal(t, craft.Stop, level(func(b *Board) { b.Design.Thickness = 18 }, "measured"))
	assert.Equal(t, craft.Good, level(func(b *Board) { b.Design.Length, b.Design.Width = 200, 100 }, "left"))
}

// A hole that is not cut yet is moved to where it takes a flaw out, whichever end it is measured from.
func TestAHoleTakesItOut(t *testing.T) {
	for _, far := range []bool{false, true} {
		for _, flip := range []bool{false, true} {
			s := sample()
			s.Slab.Flaws = nil
			b := &s.Boards[0]
			b.Placement.Flip = flip
			b.Design.Handle = board.Handle{Kind: board.Hole, Diameter: 30, Setback: 45, Far: far}
			s = doneUntil(t, s, "bore")
			x := 125.0
			if far {
				x = -x
			}
			spot := []geom.Point{{X: x - 5, Y: 8}, {X: x + 5, Y: 8}, {X: x + 5, Y: 18}, {X: x - 5, Y: 18}}
			s = wrong(t, s, "bore", rescue.Report{Kind: "web", Area: spot})
			ways, _ := waysOf(t, s)
			i := slices.IndexFunc(ways, func(w WayOut) bool { return w.Key == "taken-out-1" })
			require.GreaterOrEqual(t, i, 0, "far %v, flipped %v", far, flip)
			next := s
			next.Boards = []Board{ways[i].Next(s.Boards[0], "", "")}
			drawn, err := Draw(next)
			require.NoError(t, err)
			for _, p := range spot {
				assert.True(t, drawn[0].Holes[0].Contains(p), "far %v, flipped %v", far, flip)
			}
		}
	}
}

// While the outline is sawn there is no wood beyond it any more; before that a board may still be moved.
func TestWhenABoardIsSawn(t *testing.T) {
	s := sample()
	s.Slab.Flaws = nil
	s = doneUntil(t, s, "outline")
	sawn := func(s Scene, kind string) bool {
		r := rescue.Report{Kind: kind, Area: bite(s, 40, 20, 6)}
		return wrong(t, s, "outline", r).Boards[0].Mishaps[0].Sawn
	}
	assert.False(t, sawn(s, "grabbed"), "it has not been begun")
	assert.True(t, sawn(s, "deep"), "nothing is cut too deep before it is cut")
	begun := s
	begun.Log = append(slices.Clone(s.Log), LogEntry{Subject: plan.Board("one"), Entry: plan.Entry{
		Step: "outline", Event: plan.Start, At: s.Now.Add(-time.Minute),
	}})
	assert.True(t, sawn(begun, "grabbed"))
}

// Something may go wrong twice: what the second one leaves is within what the first has left.
func TestASecondMishap(t *testing.T) {
	s := sample()
	s.Slab.Flaws = nil
	hurt := wrong(t, doneUntil(t, s, "edges"), "edges", rescue.Report{Kind: "deep", Area: bite(s, 40, 20, 6)})
	ways, _ := waysOf(t, hurt)
	first := ways[slices.IndexFunc(ways, func(w WayOut) bool { return w.Key == "fair" })]
	again := hurt
	again.Boards = []Board{first.Next(hurt.Boards[0], "", "")}
	b, err := Happened(again, "n", "edges", again.Now, 0, rescue.Report{Kind: "deep", Area: bite(again, -60, 20, 5)})
	require.NoError(t, err)
	again.Boards = []Board{b}
	found, err := WaysOut(again, Rescuing{Mishap: "n"})
	require.NoError(t, err)
	n := 0
	for o := range found {
		if o.Way == nil || o.Way.Way != rescue.FairLine {
			continue
		}
		n++
		next := again
		next.Boards = []Board{o.Way.Next(b, "", "")}
		assert.Empty(t, stopped(t, next), o.Way.Key)
		drawn, err := Draw(next)
		require.NoError(t, err)
		for _, m := range b.Mishaps {
			for _, f := range m.Gone {
				ring := drawn[0].Outline.Map(next.Boards[0].Placement.Out)
				assert.Zero(t, strays(f.Footprint(), ring.Contains, 0.7), "%s: %s", o.Way.Key, f.ID)
			}
		}
		titles := []string{}
		for _, d := range must(t, next).Boards[0].Course.Steps {
			if d.Kind == plan.Reading && strings.HasPrefix(d.Title, "Draw") {
				titles = append(titles, d.Key)
			}
		}
		assert.Equal(t, []string{"m-line", "n-line"}, titles, "both lines are drawn, in their order")
	}
	assert.Positive(t, n)
}

// Nothing of a board is changed but what a mishap and its way out change: not what is reckoned for it while it is laid.
func TestAMishapChangesNothingElse(t *testing.T) {
	s := made(t)
	s.Boards[0].Returned = &aftercare.Return{At: s.Now.Add(-time.Minute), Sign: "furry"}
	was := s.Boards[0]
	step := must(t, s).Boards[0].Course.Steps[0].Key
	hurt := wrong(t, s, step, rescue.Report{Kind: "scratch", Line: []geom.Point{{X: 0, Y: 0}, {X: 30, Y: 4}}})
	b := hurt.Boards[0]
	b.Mishaps = nil
	assert.Empty(t, craft.Difference(was, b))
	ways, _ := waysOf(t, hurt)
	require.NotEmpty(t, ways)
	for _, w := range ways {
		if w.Way != rescue.StepBack {
			continue
		}
		b := w.Next(hurt.Boards[0], "", "")
		assert.NotNil(t, b.Mishaps[0].Out)
		b.Mishaps = nil
		assert.Empty(t, craft.Difference(was, b), w.Key)
	}
}

// What lies beside a board has not happened to it; what lies within it, or over its edge, has.
func TestAMarkLiesOnTheBoard(t *testing.T) {
	s := sample()
	s = doneUntil(t, s, "edges")
	at := func(x, y float64) error {
		area := []geom.Point{{X: x, Y: y}, {X: x + 6, Y: y}, {X: x + 6, Y: y + 6}}
		_, err := Happened(s, "m", "edges", s.Now, 0, rescue.Report{Kind: "end", Area: area})
		return err
	}
	assert.NoError(t, at(0, 0), "in the middle of it")
	assert.NoError(t, at(177, 20), "over its end")
	assert.ErrorContains(t, at(300, 20), "beside the board")
	assert.ErrorContains(t, at(0, 120), "beside the board")
}

// A way that is taken can be taken back: the board is what it was.
func TestAWayIsTakenBack(t *testing.T) {
	s := sample()
	s.Slab.Flaws = nil
	hurt := wrong(t, doneUntil(t, s, "edges"), "edges", rescue.Report{Kind: "deep", Area: bite(s, 40, 20, 6)})
	ways, _ := waysOf(t, hurt)
	for _, w := range ways {
		next := w.Next(hurt.Boards[0], "other", "run")
		require.NotNil(t, next.Mishaps[0].Out, w.Key)
		assert.Empty(t, next.Check(""), w.Key)
		require.NoError(t, craft.Patch(next.Mishaps[0].Out.Back).Apply(&next), w.Key)
		assert.Empty(t, craft.Difference(hurt.Boards[0], next), w.Key)
	}
}
