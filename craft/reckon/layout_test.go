package reckon

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/tdewolff/canvas"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
	"idletimber/craft/stock"
)

// three boards: two behind each other, the second with a third beside it.
func three() Scene {
	j := sample()
	j.Slab.Flaws = nil
	var boards []Board
	for i, at := range []geom.Placement{{X: 250}, {X: 620, Y: 60}, {X: 620, Y: -60}} {
		b := NewBoard(fmt.Sprint(i), fmt.Sprint("Board ", i), 900)
		b.Design.Length, b.Design.Width, b.Placement = 240, 100, at
		boards = append(boards, b)
	}
	j.Boards = boards
	return j
}

func TestLayOut(t *testing.T) {
	j := three()
	tiny := j.Boards[0].Design
	tiny.Length, tiny.Width = 90, 40
	ask := LayOutRequest{Leftovers: true}
	ask.Templates = []Template{
		{"tiny", tiny},
		{
			"far too large",
			board.Design{
				Shape:  board.Circle,
				Length: 800,
				Width:  800,
				Handle: board.Handle{Kind: "none"},
				Edge:   board.Edge{Kind: "none"},
			},
		},
	}
	out, err := LayOut(j, ask)
	require.NoError(t, err)
	require.Len(t, out.Boards, 3)
	assert.NotEqual(t, craft.Stop, out.Level)
	var sum, cents float64
	for _, f := range out.Figures {
		if f.Unit == "cm²" {
			sum += f.Value
		}
	}
	for i, b := range out.Boards {
		cents += b.Cents
		for _, v := range b.Verdicts {
			assert.Equal(t, craft.Layout, v.Stage)
		}
		full := verdict(must(t, j).Boards[i], "inside")
		assert.Equal(
			t,
			full.Figure.Value,
			find(b.Verdicts, "inside").Figure.Value,
			"the same as in the whole reckoning",
		)
	}
	assert.InDelta(t, slab.Draw(*j.Slab, nil).Cost, cents, 1e-6)
	whole := out.Figures[0].Terms[0].Value
	assert.InDelta(t, whole, sum+out.Figures[0].Terms[1].Value, 1e-6, "nothing of the face is forgotten")
	require.NotEmpty(t, out.Offcuts)
	names := map[string]int{}
	for _, o := range out.Offcuts {
		if o.Keep {
			require.NotEmpty(t, o.Holds)
			path, err := canvas.ParseSVGPath(o.Path)
			require.NoError(t, err)
			outline := geom.Largest(geom.Flatten(path, geom.True))
			for _, h := range o.Holds {
				held, err := canvas.ParseSVGPath(h.Path)
				require.NoError(t, err)
				for _, p := range geom.Largest(geom.Flatten(held, geom.True)).Map(h.At.Out) {
					if _, off := outline.Nearest(p); off > 1 && !outline.Contains(p) {
						t.Fatalf("the %s reaches %g mm out of its offcut", h.Name, off)
					}
				}
				if names[h.Name]++; h.Name == "soft rectangle" {
					assert.Greater(t, h.Length*h.Width, 0.25*o.Area)
				}
			}
		}
	}

	assert.Positive(t, names["tiny"], "one of the maker's own")
	assert.Positive(t, names["round"])
	clear := out.Offcuts[0].Holds[0]
	j.Slab.Flaws = []stock.Flaw{
		{
			ID:     "f",
			Kind:   stock.Knot,
			State:  "missing",
			Centre: geom.Point{X: clear.At.X, Y: clear.At.Y},
			A:      12,
			B:      12,
			Depth:  9,
		},
	}
	flawed, err := LayOut(j, ask)
	require.NoError(t, err)
	assert.Less(
		t,
		flawed.Offcuts[0].Holds[0].Length*flawed.Offcuts[0].Holds[0].Width,
		0.95*clear.Length*clear.Width,
		"clear of flaws",
	)
	j.Slab.Flaws = nil
	assert.Zero(t, names["far too large"])

	j.Boards[2].Placement.Y = 40
	out, err = LayOut(j, LayOutRequest{})
	require.NoError(t, err)
	assert.Equal(t, craft.Stop, out.Level, "two in one place")
	j.Slab, j.Boards = nil, nil
	_, err = LayOut(j, LayOutRequest{})
	assert.Error(t, err)
}

func find(verdicts []craft.Verdict, check string) craft.Verdict {
	for _, v := range verdicts {
		if v.Check == check {
			return v
		}
	}
	return craft.Verdict{}
}

func TestCutListIsWorkable(t *testing.T) {
	out, err := LayOut(three(), LayOutRequest{})
	require.NoError(t, err)
	var kinds []string
	for i, c := range out.Cuts {
		kinds = append(kinds, c.Kind)
		assert.Equal(t, i+1, c.Number)
	}
	assert.Equal(t, []string{"cross-cut", "cross-cut", "cross-cut", "rip", "curve", "curve", "curve"}, kinds)
	assert.Equal(t, []string{"offcut", "Board 0 and 2 more"}, out.Cuts[0].Pieces)
	rip := out.Cuts[3]
	assert.InDelta(t, 0, rip.A.Y, 1e-9)
	assert.Greater(t, rip.Setting, 100.0)
	assert.Equal(t, []string{"offcut", "Board 0", "Board 2", "Board 1", "offcut"}, rip.Pieces)

	// Two boards that nest past a straight line are told.
	j := three()
	j.Boards[1].Placement = geom.Placement{X: 620, Y: 55, Angle: 20}
	j.Boards[2].Placement = geom.Placement{X: 600, Y: -62, Angle: 20}
	j.Boards[1].Cut.Saw = "track saw"
	out, err = LayOut(j, LayOutRequest{})
	require.NoError(t, err)
	told := map[string]craft.Level{}
	for _, c := range out.Cuts {
		if c.Kind == "curve" && c.Finding != "" {
			told[c.Title] = c.Level
		}
	}
	assert.Equal(
		t,
		map[string]craft.Level{
			"Saw out Board 1, outside its line": craft.Mind,
			"Saw out Board 2, outside its line": craft.Good,
		},
		told,
	)
}

func TestWishesThatNoBoardMeets(t *testing.T) {
	j := three()
	j.Slab.Flaws = []stock.Flaw{
		{ID: "f", Kind: stock.Dent, Centre: geom.Point{X: 450}, A: 5, B: 5, Depth: 3, Wish: stock.Featured},
	}
	j.Slab.Features = []stock.Feature{
		{ID: "g", Kind: "burr", Centre: geom.Point{X: 130}, A: 20, B: 20, Wish: stock.KeepInside},
		{ID: "h", Kind: "burr", Centre: geom.Point{X: 250}, A: 20, B: 20, Wish: stock.Centred},
	}
	out, err := LayOut(j, LayOutRequest{})
	require.NoError(t, err)
	require.Len(t, out.Unmet, 2)
	assert.Equal(t, "f", out.Unmet[0].ID)
	assert.Equal(t, "g", out.Unmet[1].ID)
}

func TestEndChecks(t *testing.T) {
	j := three()
	j.Slab.Flaws = []stock.Flaw{
		{ID: "a", Kind: stock.Crack, Line: []geom.Point{{X: 0, Y: 10}, {X: 120, Y: 20}}, Width: 5, Depth: 20},
		{ID: "b", Kind: stock.Crack, Line: []geom.Point{{X: 860, Y: 10}, {X: 898, Y: 0}}, Width: 5, Depth: 20},
		{ID: "c", Kind: stock.Crack, Line: []geom.Point{{X: 400, Y: 10}, {X: 500, Y: 0}}, Width: 5, Depth: 20},
	}
	ends := EndChecks(*j.Slab, j.Shop)
	require.Len(t, ends, 2)
	assert.Equal(t, "far", ends[0].End, "the shorter one is spent first")
	assert.InDelta(t, 43, ends[0].Lost, 1e-9)
	assert.InDelta(t, 123, ends[1].Lost, 1e-9)
	assert.Greater(t, ends[0].Gained, 60.0)
	assert.NotEmpty(t, ends[0].Filler)
	j.Slab.Flaws = j.Slab.Flaws[2:]
	assert.Empty(t, EndChecks(*j.Slab, j.Shop))
}

// The biggest clean rectangle between two flaws across the slab is as long as
// there is room and as wide as the wood.
func TestBiggest(t *testing.T) {
	j := three()
	j.Boards = nil
	j.Slab.Show = []slab.Station{{X: 0, Left: 100, Right: -100}, {X: 900, Left: 100, Right: -100}}
	across := func(x float64) stock.Flaw {
		return stock.Flaw{
			ID:    fmt.Sprint(x),
			Kind:  stock.Crack,
			Line:  []geom.Point{{X: x, Y: -100}, {X: x, Y: 100}},
			Width: 2,
			Depth: 8,
		}
	}
	j.Slab.Flaws = []stock.Flaw{across(200), across(640)}
	d := NewBoard("x", "x", 900)
	d.Design.Length, d.Design.Width, d.Design.Corner = 300, 150, 0
	big, err := Biggest(j, BiggestRequest{Board: d, Free: true})
	require.NoError(t, err)
	assert.InEpsilon(t, 438*200, big.Area, 0.03)
	small, err := Biggest(j, BiggestRequest{Board: d, Free: true, Spot: &geom.Point{X: 100}})
	require.NoError(t, err)
	assert.InEpsilon(t, (199-3)*200, small.Area, 0.03)
	kept, err := Biggest(j, BiggestRequest{Board: d})
	require.NoError(t, err)
	assert.InDelta(t, 2, kept.Design.Length/kept.Design.Width, 0.01)
	assert.InEpsilon(t, 400*200, kept.Area, 0.03)
	for _, f := range j.Slab.Flaws {
		assert.Greater(
			t,
			geom.Gap(
				geom.Bounds{
					MinX: -big.Design.Length / 2,
					MaxX: big.Design.Length / 2,
					MinY: -big.Design.Width / 2,
					MaxY: big.Design.Width / 2,
				}.Ring().
					Map(big.Placement.Out),
				f.Footprint(),
			),
			0.0,
		)
	}
	// A flaw that may be filled is no hindrance.
	j.Slab.Flaws[1].Wish = stock.Fill
	more, err := Biggest(j, BiggestRequest{Board: d, Free: true})
	require.NoError(t, err)
	assert.Greater(t, more.Area, 1.4*big.Area)
	_, err = Biggest(j, BiggestRequest{Board: d, Free: true, Spot: &geom.Point{X: 100, Y: 500}})
	assert.Error(t, err)
	d.Design.Shape = "plank"
	_, err = Biggest(j, BiggestRequest{Board: d, Free: true})
	assert.Error(t, err)
}

// The budget is 15 ms for 12 boards and 40 flaws.
func BenchmarkLayOut12Boards40Flaws(b *testing.B) {
	j := crowded()
	j.Boards = nil
	for i := range 12 {
		d := NewBoard(fmt.Sprint(i), fmt.Sprint("Board ", i), 900)
		d.Design.Length, d.Design.Width, d.Placement = 125, 65, geom.Placement{
			X: 110 + float64(i%6)*135,
			Y: -50 + float64(i/6)*100,
		}
		j.Boards = append(j.Boards, d)
	}
	for b.Loop() {
		if _, err := LayOut(j, LayOutRequest{}); err != nil {
			b.Fatal(err)
		}
	}
}

// What counts as clean is one rule: a knot that is to be featured is kept clear of by
// the biggest board and by what an offcut is said to hold alike, one that is to be
// filled by neither.
func TestCleanWoodIsOneRule(t *testing.T) {
	j := sample()
	j.Boards = nil
	j.Slab.Flaws = []stock.Flaw{
		{ID: "k", Kind: stock.Knot, State: "missing", Centre: geom.Point{X: 450}, A: 30, B: 25, Depth: 12},
	}
	d := NewBoard("x", "x", 900)
	d.Design.Corner = 0
	sizes := map[string][2]float64{}
	for _, wish := range []string{"", stock.Fill, stock.Featured, stock.KeepOut, stock.CutAway} {
		j.Slab.Flaws[0].Wish = wish
		big, err := Biggest(j, BiggestRequest{Board: d, Free: true})
		require.NoError(t, err)
		laid, err := LayOut(j, LayOutRequest{Leftovers: true})
		require.NoError(t, err)
		held := laid.Offcuts[0].Holds[0]
		require.Equal(t, "soft rectangle", held.Name)
		sizes[wish] = [2]float64{big.Area, held.Length * held.Width}
	}
	for _, wish := range []string{"", stock.Featured, stock.KeepOut, stock.CutAway} {
		assert.Equal(t, sizes[""], sizes[wish], wish)
		assert.Greater(t, sizes[stock.Fill][0], 1.3*sizes[wish][0])
		assert.Greater(t, sizes[stock.Fill][1], 1.3*sizes[wish][1])
	}
	assert.InEpsilon(t, sizes[""][0], sizes[""][1], 0.02, "of the whole slab, less squaring")
}

// The biggest free rectangle is the same whatever board one begins with.
func TestTheBiggestRectangleDoesNotDependOnWhereOneBegins(t *testing.T) {
	j := crowded()
	j.Boards = nil
	var first Clean
	for i, size := range [][2]float64{{360, 180}, {120, 60}, {90, 300}, {1500, 40}} {
		d := NewBoard("x", "x", 900)
		d.Design.Length, d.Design.Width, d.Design.Corner = size[0], size[1], 12
		got, err := Biggest(j, BiggestRequest{Board: d, Free: true})
		require.NoError(t, err)
		if i == 0 {
			first = got
		}
		assert.Equal(t, first, got, "from %v", size)
	}
	placed := sample()
	d := NewBoard("big", "big", 900)
	d.Design, d.Placement = first.Design, first.Placement
	placed.Slab, placed.Boards = j.Slab, []Board{d}
	for _, v := range must(t, placed).Boards[0].Verdicts {
		if v.Check == "inside" || v.Check == "flaw" {
			assert.Equal(t, craft.Good, v.Level, v.Finding)
		}
	}
}

// The largest paddle of any proportions among forty flaws.
func BenchmarkBiggest40Flaws(b *testing.B) {
	j := crowded()
	d := j.Boards[0]
	d.Design.Shape, d.Design.Handle.Kind = board.Paddle, "none"
	j.Boards = nil
	for b.Loop() {
		if _, err := Biggest(j, BiggestRequest{Board: d, Free: true}); err != nil {
			b.Fatal(err)
		}
	}
}

// A new board fits the wood it is laid on: short, narrow, thin, or off the chalk line.
func TestANewBoardFitsItsWood(t *testing.T) {
	for name, v := range map[string]slab.Slab{
		"short":    {Length: 330, Show: []slab.Station{{X: 0, Left: 120, Right: -120}}},
		"narrow":   {Length: 900, Show: []slab.Station{{X: 0, Left: 55, Right: -60}}},
		"off":      {Length: 700, Show: []slab.Station{{X: 0, Left: 220, Right: 20}}},
		"tapering": {Length: 600, Show: []slab.Station{{X: 0, Left: 130, Right: -130}, {X: 600, Left: 50, Right: -50}}},
		"ample":    {Length: 1200, Show: []slab.Station{{X: 0, Left: 200, Right: -200}}},
	} {
		v.Name, v.Species, v.Readings = name, "Pear", []slab.Reading{{X: v.Length / 2, Thickness: 27}}
		b := NewBoardOn("b", "New", v, shop.Usual())
		require.Empty(t, b.Check(""), name)
		j := sample()
		j.Slab, j.Boards = &v, []Board{b}
		laid, err := LayOut(j, LayOutRequest{})
		require.NoError(t, err, name)
		for _, verdict := range laid.Boards[0].Verdicts {
			if verdict.Check == "inside" || verdict.Check == "squaring" {
				assert.NotEqual(t, craft.Stop, verdict.Level, "%s: %s", name, verdict.Finding)
			}
		}
		if name == "ample" {
			assert.InDelta(t, 360, b.Design.Length, 0)
			assert.InDelta(t, 180, b.Design.Width, 0)
		}
	}
}
