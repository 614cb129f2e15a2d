package reckon

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/moisture"
	"idletimber/craft/plan"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
	"idletimber/craft/stock"
)

var now = time.Date(2031, 5, 5, 8, 0, 0, 0, time.UTC)

func sample() Scene {
	s := slab.Slab{
		Name: "Plane plank", Species: "London plane", Length: 900, LiveLeft: true, LiveRight: true,
		Show: []slab.Station{
			{X: 0, Left: 120, Right: -118},
			{X: 300, Left: 132, Right: -125},
			{X: 600, Left: 126, Right: -130},
			{X: 900, Left: 115, Right: -120},
		},
		Readings: []slab.Reading{
			{X: 50, Thickness: 31},
			{X: 850, Thickness: 33},
		}, Hollow: 2, Wind: 2, PriceCents: 4800,
		Moisture: []moisture.Reading{
			{At: now.AddDate(0, 0, -20), Percent: 9.6},
			{At: now.AddDate(0, 0, -4), Percent: 9.3},
		},
		Flaws: []stock.Flaw{
			{
				ID:    "crack",
				Kind:  stock.Crack,
				Line:  []geom.Point{{X: 330, Y: 40}, {X: 420, Y: 52}},
				Width: 4,
				Depth: 15,
			},
			{
				ID:     "knot",
				Kind:   stock.Knot,
				State:  "missing",
				Centre: geom.Point{X: 800, Y: -40},
				A:      14,
				B:      10,
				Depth:  12,
			},
		},
	}
	b := NewBoard("one", "Board for the gatekeeper", s.Length)
	b.Design.Handle.Kind = "slot"
	b.Give.Due = "2031-06-21"
	return Scene{Schema: Schema, Now: now, Slab: &s, Boards: []Board{b}, Shop: shop.Usual()}
}

func must(t testing.TB, j Scene) Reckoning {
	t.Helper()
	return asked(t, j, Request{})
}

func asked(t testing.TB, j Scene, ask Request) Reckoning {
	t.Helper()
	r, err := Reckon(j, ask)
	require.NoError(t, err)
	return r
}

func verdict(r Reckoned, check string) *craft.Verdict {
	for i := range r.Verdicts {
		if r.Verdicts[i].Check == check {
			return &r.Verdicts[i]
		}
	}
	return nil
}

func figure(t testing.TB, r Reckoned, key string) craft.Figure {
	t.Helper()
	i := slices.IndexFunc(r.Figures, func(f craft.Figure) bool { return f.Key == key })
	require.GreaterOrEqual(t, i, 0, "no figure "+key)
	return r.Figures[i]
}

func TestOneBoardFromSlabToGift(t *testing.T) {
	out := must(t, sample())
	require.Len(t, out.Boards, 1)
	r := out.Boards[0]
	assert.True(t, out.Slab.Ready)
	assert.InDelta(t, 20, r.Budget.Sanded, 1e-9)
	require.Len(t, r.Voids, 1, "the knot lies off the board")
	assert.Equal(t, "epoxy", r.Voids[0].Chosen)
	require.NotNil(t, r.Mix)
	assert.Equal(t, []int{80, 100, 150, 220}, r.Sanding.Grits)
	assert.Len(t, r.Finish.Coats, 2)
	assert.Len(t, r.Stick, 10)
	assert.False(t, r.Course.Late, "six weeks are enough")
	assert.NotEmpty(t, r.Care)
	assert.Equal(t, "flaw", r.Verdicts[0].Check)
	assert.Equal(t, 4800.0, figure(t, r, "layout.price").Value, "the only board bears the whole price")
	assert.Equal(t, r.Course.HandsOn, figure(t, r, "plan.work").Value)
	assert.Equal(t, r.Budget.Sanded, figure(t, r, "flatten.final").Value)
	var keys []string
	for _, s := range r.Course.Steps {
		keys = append(keys, s.Key)
	}
	assert.Equal(t, []string{
		"cross-cut", "flatten", "clean-voids", "dam", "pour-1", "watch-1",
		"reflatten", "pinholes-1", "pinholes-1-flush",
		"pinholes-2", "pinholes-2-flush", "wet-look", "bore", "inner-cuts", "outline", "edges",
		"sand-60", "sand-80", "sand-100", "sand-150", "raise-150", "sand-220", "wipe", "coat-1", "wipe-1",
		"coat-2", "buff-2",
		"note",
	}, keys)
	assert.NotEmpty(t, r.Cautions["pour-1"])
	assert.NotEmpty(t, r.Cautions["sand-80"])
}

func TestSameJobSameReckoning(t *testing.T) {
	one, err := json.Marshal(must(t, sample()))
	require.NoError(t, err)
	for range 5 {
		two, _ := json.Marshal(must(t, sample()))
		require.JSONEq(t, string(one), string(two))
	}
}

func TestEveryFigureShowsItsWorking(t *testing.T) {
	out := must(t, sample())
	figures := append(out.Slab.Figures, out.Boards[0].Figures...)
	for _, v := range out.Boards[0].Verdicts {
		assert.NotEmpty(t, v.Finding)
		assert.NotEmpty(t, v.Reason, v.Check)
		figures = append(figures, v.Figure)
	}
	for _, f := range figures {
		assert.NotEmpty(t, f.Key)
		assert.NotEmpty(t, f.Label, f.Key)
		assert.NotEmpty(t, f.Formula, f.Key)
		assert.NotEmpty(t, f.Source, f.Key)
		assert.NotEmpty(t, f.Stage, f.Key)
	}
}

// A board that was given away still takes its wood and its share of the price.
func TestTakenWood(t *testing.T) {
	j := sample()
	gone := j.Boards[0]
	gone.ID, gone.Name = "gone", "The first one"
	j.Taken = []Board{gone}
	out := must(t, j)
	require.Len(t, out.Taken, 1)
	assert.Equal(t, craft.Stop, verdict(out.Boards[0], "kerf").Level)
	assert.Len(t, out.Plan, 1, "there is nothing to do on it")
	assert.InDelta(t, 2400, figure(t, out.Boards[0], "layout.price").Value, 0.5)
	j.Taken[0].ID = "one"
	_, err := Reckon(j, Request{})
	assert.ErrorContains(t, err, "taken[0].id")
}

// apply merges a patch into a board as the interface does (RFC 7396).
func apply(t require.TestingT, b Board, patch craft.Patch) Board {
	require.NoError(t, patch.Apply(&b))
	return b
}

func TestRemediesHelp(t *testing.T) {
	for _, c := range []struct {
		check string
		spoil func(*Scene)
	}{
		{"inside", func(j *Scene) { j.Boards[0].Placement.Y = 70 }},
		{"inside", func(j *Scene) { j.Boards[0].Placement.X = 100 }},
		{"inside", func(j *Scene) { j.Boards[0].Design.Width = 300 }},
		{"inside", func(j *Scene) { j.Boards[0].Placement.Angle = 35 }},
		{"grain", func(j *Scene) {
			j.Boards[0].Placement.Angle = 32
			j.Boards[0].Design.Length = 200
			j.Boards[0].Design.Width = 100
		}},
		{"snipe", func(j *Scene) { j.Boards[0].Placement.X = 200 }},
		{"squaring", func(j *Scene) { j.Boards[0].Placement.X = 181 }},
		{"live-edge", func(j *Scene) {
			j.Boards[0].Design.Shape, j.Boards[0].Design.KeepLeft, j.Slab.LiveLeft = board.Plank, true, false
		}},
		{"flaw", func(j *Scene) { j.Slab.Flaws[0].Wish = stock.KeepOut }},
		{"web", func(j *Scene) { j.Boards[0].Design.Handle.Setback = 22 }},
		{"thickness", func(j *Scene) { j.Boards[0].Design.Thickness = 30 }},
		{"resin-temperature", func(j *Scene) { j.Shop.Air.Temperature = 16 }},
		{"kerf", func(j *Scene) {
			b := NewBoard("two", "Neighbour", 900)
			b.Placement.X, b.Design.Length = 450+180+60, 119
			j.Boards = append(j.Boards, b)
		}},
	} {
		j := sample()
		c.spoil(&j)
		r := asked(t, j, Request{Weigh: j.Boards[0].ID}).Boards[0]
		v := verdict(r, c.check)
		require.NotNil(t, v, c.check)
		require.NotEqual(t, craft.Good, v.Level, c.check)
		require.NotEmpty(t, v.Remedies, c.check)
		for _, remedy := range v.Remedies {
			k := j
			k.Boards = append([]Board{apply(t, j.Boards[0], remedy.Patch)}, j.Boards[1:]...)
			again := verdict(must(t, k).Boards[0], c.check)
			if again != nil {
				assert.Less(t, again.Level.Rank(), v.Level.Rank(), "%s: %s", c.check, remedy.Label)
			}
		}
	}
}

func TestTooLate(t *testing.T) {
	j := sample()
	j.Boards[0].Give.Due = "2031-05-14"
	r := asked(t, j, Request{Weigh: j.First()}).Boards[0]
	require.True(t, r.Course.Late)
	assert.Negative(t, r.Course.Slack)
	require.NotEmpty(t, r.Helps)
	for _, h := range r.Helps {
		k := j
		k.Boards = []Board{apply(t, j.Boards[0], h.Patch)}
		again := must(t, k).Boards[0].Course
		assert.Equal(t, h.Finish, *again.Finish, h.Label)
		assert.Equal(t, h.Enough, !again.Late, h.Label)
	}

	j.Slab.Flaws = []stock.Flaw{
		{ID: "worms", Kind: stock.Worm, Centre: geom.Point{X: 400}, A: 20, B: 20, Count: 5, Diameter: 2, Depth: 6},
	}
	j.Boards[0].Fill.Fillers = map[string]string{"worms": "epoxy"}
	labels := []string{}
	for _, h := range asked(t, j, Request{Weigh: j.First()}).Boards[0].Helps {
		labels = append(labels, h.Label)
	}
	assert.Contains(t, labels, "Fill each void with the quickest that fits")
}

// remaining are the hands-on minutes that are still to be done.
func remaining(r Reckoned) (minutes float64) {
	for _, s := range r.Course.Steps {
		if s.State != plan.Done {
			minutes += s.Minutes
		}
	}
	return minutes
}

func TestFinishedStepsMoveThePlan(t *testing.T) {
	j := sample()
	before := must(t, j).Boards[0]
	for _, s := range before.Course.Steps[:6] {
		j.Log = append(
			j.Log,
			LogEntry{
				Subject: plan.Board("one"),
				Entry:   plan.Entry{Step: s.Key, Event: "finish", At: now, Minutes: 5},
			},
		)
	}
	after := must(t, j).Boards[0]
	assert.True(t, after.Stick[1].Done, "lay out")
	assert.False(t, after.Stick[4].Done, "the fill is still to be flattened")
	assert.False(t, after.Course.Finish.After(*before.Course.Finish))
	assert.Less(t, remaining(after), remaining(before))
	assert.Equal(t, now.Add(time.Duration(after.Mix.Sand*float64(time.Minute))), *after.Course.Steps[5].WaitUntil)
}

func TestPlanWithoutASlab(t *testing.T) {
	chains := must(t, sample()).Plan
	j := sample()
	j.Slab, j.Boards = nil, nil
	j.Elsewhere = []plan.Chain{
		{Subject: plan.Board("x"), Name: "Elsewhere", Steps: []plan.Step{chains[0].Steps[0].Step}},
	}
	out := must(t, j)
	require.Len(t, out.Plan, 1)
	assert.NotNil(t, out.Plan[0].Finish)
	assert.Nil(t, out.Slab)
}

func TestWoodVerdicts(t *testing.T) {
	for _, c := range []struct {
		species   string
		reclaimed bool
		level     craft.Level
	}{{"Pear", false, craft.Good}, {"Robinia", false, craft.Mind}, {"Yew", false, craft.Stop},
		{"Pear", true, craft.Mind}, {"Yew", true, craft.Stop}} {
		j := sample()
		j.Slab.Species, j.Slab.Reclaimed = c.species, c.reclaimed
		assert.Equal(t, c.level, verdict(must(t, j).Boards[0], "food").Level, c.species)
	}
}

func TestBadJobsNameTheField(t *testing.T) {
	for _, c := range []struct {
		field string
		spoil func(*Scene)
	}{
		{"schema", func(j *Scene) { j.Schema = 9 }},
		{"now", func(j *Scene) { j.Now = time.Time{} }},
		{"shop.timeZone", func(j *Scene) { j.Shop.TimeZone = "Nowhere/Far" }},
		{"shop.grits[0]", func(j *Scene) { j.Shop.Grits = []int{81} }},
		{"shop.rules.soak", func(j *Scene) { j.Shop.Rules["soak"] = 9 }},
		{"slab", func(j *Scene) { j.Slab = nil }},
		{"slab.length", func(j *Scene) { j.Slab.Length = 1e9 }},
		{"boards[0].design.width", func(j *Scene) { j.Boards[0].Design.Width = math.NaN() }},
		{"boards[0].give.due", func(j *Scene) { j.Boards[0].Give.Due = "midsummer" }},
		{"boards[0].finish.school", func(j *Scene) { j.Boards[0].Finish.School = "tar" }},
		{"boards[1].id", func(j *Scene) { j.Boards = append(j.Boards, j.Boards[0]) }},
	} {
		j := sample()
		c.spoil(&j)
		_, err := Reckon(j, Request{})
		var ps craft.Problems
		require.ErrorAs(t, err, &ps, c.field)
		assert.Equal(t, c.field, ps[0].Field)
	}
}

// A board of which its handle leaves nothing is reckoned all the same, with the stop that says so.
func TestABoardThatIsAllHandle(t *testing.T) {
	j := sample()
	b := &j.Boards[0]
	b.Design.Shape, b.Design.KeepLeft, b.Design.KeepRight = "rectangle", false, false
	b.Design.Length, b.Design.Width, b.Design.Thickness, b.Design.Corner = 150, 60, 1, 1
	b.Design.Handle = board.Handle{Kind: "slot", Diameter: 60, Length: 126, Setback: 3, Offset: 1}
	b.Placement = geom.Placement{X: 1, Y: 1, Angle: 1}
	j.Slab.Readings[0].Thickness = 1
	require.Empty(t, j.Check())
	got, err := Reckon(j, Request{})
	require.NoError(t, err)
	assert.Equal(t, craft.Stop, got.Boards[0].Level)
}

// anyBoard is a scene with a board of any shape, size, place, handle, resin and finish; one that does not pass Check is
// skipped.
func anyBoard(t *rapid.T) Scene {
	j := sample()
	b := &j.Boards[0]
	f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
	pick := func(name string, of ...string) string { return rapid.SampledFrom(of).Draw(t, name) }
	b.Placement = geom.Placement{
		X:     f("x", -500, 1500),
		Y:     f("y", -500, 500),
		Angle: f("angle", -360, 360),
		Flip:  rapid.Bool().Draw(t, "flip"),
	}
	b.Design.Shape = board.Shape(pick("shape", "rectangle", "paddle", "plank"))
	b.Design.KeepLeft, b.Design.KeepRight = rapid.Bool().Draw(t, "left"), rapid.Bool().Draw(t, "right")
	b.Design.Length, b.Design.Width = f("length", 150, 3000), f("width", 60, 1500)
	b.Design.Corner, b.Design.Shoulder = f("corner", 0, 900), f("shoulder", 0, 200)
	b.Design.Thickness = f("thickness", 0, 80)
	b.Design.Handle = board.Handle{
		Kind:     pick("handle", "none", "hole", "slot"),
		Diameter: f("diameter", 4, 60),
		Length:   f("slot", 60, 200),
		Setback:  f("setback", 3, 100),
		Offset:   f("offset", -29, 29),
	}
	b.Fill.Resin = pick("resin", "quick", "coating", "casting", "deep pour")
	b.Finish.School = pick("school", "oil", "oil bath", "paste alone", "hard wax", "curing oil")
	j.Slab.Readings[0].Thickness = f("rough", 1, 120)
	if len(j.Check()) > 0 {
		t.Skip()
	}
	return j
}

// Whatever passes Check is reckoned to the end, without a number that is none.
func TestAnyCheckedJobIsReckoned(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		out, err := Reckon(anyBoard(t), Request{})
		if err != nil {
			t.Fatal(err)
		}
		if _, err := json.Marshal(out); err != nil {
			t.Fatal(err)
		}
	})
}

func crowded() Scene {
	j := sample()
	for i := range 38 {
		f := stock.Flaw{
			ID:     fmt.Sprint(i),
			Kind:   stock.Knot,
			State:  "missing",
			Centre: geom.Point{X: 300 + float64(i%10)*32, Y: -80 + float64(i/10)*45},
			A:      6,
			B:      4,
			Depth:  8,
		}
		switch i % 3 {
		case 1:
			f.Kind, f.Line, f.Width = stock.Crack, []geom.Point{
				{X: f.Centre.X, Y: f.Centre.Y},
				{X: f.Centre.X + 40, Y: f.Centre.Y + 8},
			}, 3
		case 2:
			f.Kind, f.Count, f.Diameter = stock.Worm, 5, 2
		}
		j.Slab.Flaws = append(j.Slab.Flaws, f)
	}
	return j
}

// The budget is 5 ms for one board with 40 flaws.
func BenchmarkReckon40Flaws(b *testing.B) {
	j := crowded()
	for b.Loop() {
		if _, err := Reckon(j, Request{}); err != nil {
			b.Fatal(err)
		}
	}
}

// What 22 different remedies would make worse: asked once nothing changes.
func BenchmarkWeigh40Flaws(b *testing.B) {
	j := crowded()
	for b.Loop() {
		if _, err := Reckon(j, Request{Weigh: j.Boards[0].ID}); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkReckonPlankTooLate(b *testing.B) {
	j := crowded()
	j.Boards[0].Design.Shape, j.Boards[0].Design.KeepLeft = board.Plank, true
	j.Boards[0].Give.Due = "2031-05-08"
	for b.Loop() {
		if _, err := Reckon(j, Request{}); err != nil {
			b.Fatal(err)
		}
	}
}
