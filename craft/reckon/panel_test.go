package reckon

import (
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
	"idletimber/craft/glue"
	"idletimber/craft/moisture"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
	"idletimber/craft/species"
	"idletimber/craft/stock"
)

// striped is a panel of n strips of pear and robinia by turns, flat, with a board on it.
func striped(n int, construction string) Scene {
	p := glue.Panel{
		Construction: construction, Glue: "PVA, D4", Kerf: 3, Caul: 30, Degrees: 45, Slice: 40, Staggered: true,
	}
	for i := range n {
		p.Strips = append(p.Strips, glue.Strip{
			ID: fmt.Sprintf(
				"s%d",
				i+1,
			), Species: []string{"Pear", "Robinia"}[i%2], Length: 620, Width: 45, Thickness: 30,
		})
	}
	s := slab.Slab{
		Name: "Stripes", Moisture: []moisture.Reading{
			{At: now.AddDate(0, 0, -9), Percent: 9}, {At: now.AddDate(0, 0, -2), Percent: 9},
		},
		Flaws: []stock.Flaw{}, Glue: &p,
	}.Settled()
	j := sample()
	j.Slab, j.Piece = &s, "panel-1"
	b := NewBoardOn("one", "First", s, j.Shop)
	b.Give.Due = "2031-06-21"
	j.Boards = []Board{b}
	return j
}

func TestAPanelIsWood(t *testing.T) {
	j := striped(6, glue.Flat)
	out := must(t, j)
	require.NotNil(t, out.Slab.Parts)
	assert.Equal(t, Planned, out.Slab.Parts.State)
	assert.Len(t, out.Slab.Parts.Parts, 6)
	assert.InDelta(t, 270, out.Slab.Parts.Width, 1e-9)
	assert.Equal(t, 620.0, out.Slab.Length)
	r := out.Boards[0]
	assert.InDelta(t, 30-2*1, r.Budget.Flat, 1e-9, "a glue-up takes 1 mm a face to be clean")
	names := fmt.Sprint(r.Care)
	assert.Contains(t, names, "Pear")
	assert.Contains(t, names, "Robinia")

	// Its movement, once more by hand: each strip that its width takes in.
	var want float64
	box := geom.Bounds{MinY: j.Boards[0].Placement.Y - 90, MaxY: j.Boards[0].Placement.Y + 90}
	for i, s := range j.Slab.Glue.Strips {
		top := 135 - 45*float64(i)
		in := max(0, min(top, box.MaxY)-max(top-45, box.MinY))
		want += in * stock.Here{Species: must1(j, s.Species)}.Coefficient()
	}
	m := figure(t, r, "wood.movement")
	assert.InDelta(t, want*j.Shop.Home.Swing(), m.Value, 1e-6)

	// The board waits for its panel, and only that board.
	panel := out.Plan[1]
	assert.Equal(t, plan.Panel("panel-1"), panel.Subject)
	first := r.Course.Steps[0]
	assert.Equal(t, []string{"panel:panel-1/trim"}, first.After)
	require.NotNil(t, panel.Finish)
	assert.False(t, first.Starts.Before(*panel.Finish))
	assert.True(t, panel.Steps[0].LatestAt != nil, "the board's day is its panel's too")
	for _, n := range r.Stick {
		if n.Stage == craft.Glue {
			assert.True(t, n.Needed)
			assert.False(t, n.Done)
		}
	}
}

func must1(j Scene, name string) (s species.Species) {
	for _, p := range slab.Draw(*j.Slab, nil).Grain.Over(slab.Draw(*j.Slab, nil).Show.Ring()) {
		if p.Species.Name == name {
			return p.Species
		}
	}
	return s
}

// How far a panel is follows from its log.
func TestTheStatesOfAPanel(t *testing.T) {
	j := striped(6, glue.OnEdge)
	of := plan.Panel("panel-1")
	do := func(step string, ago time.Duration) {
		j.Log = append(
			j.Log,
			LogEntry{Subject: of, Entry: plan.Entry{Step: step, Event: plan.Finish, At: now.Add(-ago), Minutes: 10}},
		)
	}
	state := func() string { return must(t, j).Slab.Parts.State }
	for _, s := range []string{"rip", "joint", "plane-parts", "number", "dry-fit"} {
		do(s, 5*time.Hour)
	}
	assert.Equal(t, InWork, state())
	do("ready", 2*time.Hour)
	for _, k := range must(t, j).Slab.Parts.Pressed {
		do(k.Key, 30*time.Minute)
	}
	assert.Equal(t, InClamps, state())
	do("scrape", 0)
	assert.Equal(t, Curing, state())
	j.Now = now.AddDate(0, 0, 3)
	assert.Equal(t, InWork, state(), "cured, and still to be trimmed")
	do("trim", 0)
	assert.Equal(t, Sound, state())
	first := must(t, j).Boards[0].Course.Steps[0]
	assert.False(t, first.Starts.Before(j.Now), "nothing holds its board back any more")
}

// Wood that a strip takes is taken: no board gets it, it is no offcut, and it takes its
// part of the price with it.
func TestStripsReserveTheirWood(t *testing.T) {
	j := sample()
	want := []Wanted{{ID: "a", Length: 250, Width: 40}, {ID: "b", Length: 250, Width: 40}}
	at, err := Reserve(j, want)
	require.NoError(t, err)
	require.Len(t, at, 2)
	free := must(t, j)
	for i, w := range want {
		j.Strips = append(j.Strips, Strip{
			Panel: "p", Name: "Stripes", ID: w.ID, At: at[w.ID], Length: w.Length, Width: w.Width, Cents: 100 * (i + 1),
		})
	}
	out := must(t, j)
	assert.Len(t, out.Slab.Reserved, 2)
	before, after := figure(t, free.Boards[0], "layout.price"), figure(t, out.Boards[0], "layout.price")
	assert.InDelta(t, 300, before.Value-after.Value, 1e-6)
	b := j.Boards[0]
	b.Placement = at["a"]
	j.Boards[0] = b
	assert.Equal(t, craft.Stop, worstOf(must(t, j).Boards[0], craft.Layout), "a board over a strip")
}

func worstOf(r Reckoned, of craft.Stage) craft.Level {
	var list []craft.Verdict
	for _, v := range r.Verdicts {
		if v.Stage == of {
			list = append(list, v)
		}
	}
	return craft.Worst(list)
}

// Strips that are laid on a piece never overlap boards, each other or its edge; what has a
// place keeps it.
func TestStripsNeverOverlap(t *testing.T) {
	j := sample()
	wood := slab.Draw(*j.Slab, nil)
	outline := make([]geom.Ring, 0, 1)
	drawn, err := Draw(j)
	require.NoError(t, err)
	for i, b := range j.Boards {
		outline = append(outline, drawn[i].Outline.Map(b.Placement.Out))
	}
	rapid.Check(t, func(t *rapid.T) {
		var want []Wanted
		for i := range rapid.IntRange(1, 9).Draw(t, "n") {
			want = append(want, Wanted{
				ID: fmt.Sprint(i), Length: rapid.Float64Range(80, 900).Draw(t, "length"),
				Width: rapid.Float64Range(15, 120).Draw(t, "width"),
			})
		}
		at, err := Reserve(j, want)
		if err != nil {
			t.Fatal(err)
		}
		rings := slices.Clone(outline)
		for i, w := range want {
			p, ok := at[w.ID]
			if !ok {
				continue
			}
			ring := w.outline(p)
			for _, o := range rings {
				if gap := geom.Gap(o, ring); gap < 2 {
					t.Fatalf("strip %s lies %.2f mm from another", w.ID, gap)
				}
			}
			for _, q := range ring.Dense(5) {
				if !wood.Holds(q, 0.6) {
					t.Fatalf("strip %s lies off the wood at %v", w.ID, q)
				}
			}
			rings = append(rings, ring)
			want[i].At = &p
		}
		again, err := Reserve(j, want)
		if err != nil {
			t.Fatal(err)
		}
		for id, p := range at {
			if math.Abs(again[id].X-p.X)+math.Abs(again[id].Y-p.Y) > 1e-9 {
				t.Fatalf("strip %s moved from %v to %v", id, p, again[id])
			}
		}
	})
}

// A strip has of its piece what its piece says, and follows it.
func TestStripsFollowTheirPiece(t *testing.T) {
	j := sample()
	at, err := Reserve(j, []Wanted{{ID: "a", Length: 250, Width: 61}})
	require.NoError(t, err)
	require.Contains(t, at, "a")
	p := striped(3, glue.Flat).Slab
	p.Glue.Strips[0].ID, p.Glue.Strips[0].Piece = "a", "slab-1"
	p.Glue.Strips[0].Length, p.Glue.Strips[0].Width, p.Glue.Strips[0].Thickness = 250, 60, 90
	p.Glue.Strips[1].Piece = "nowhere"
	from := slab.Source{ID: "slab-1", Slab: *j.Slab, Spots: at}
	got := p.Gather([]slab.Source{from}, j.Shop.Rules, nil)
	s := got.Glue.Strips[0]
	assert.Equal(t, j.Slab.Species, s.Species)
	assert.Empty(t, s.Problem)
	assert.Less(t, s.Thickness, j.Slab.Thinnest(), "no thicker than flattening leaves")
	wood := slab.Draw(*j.Slab, nil)
	assert.InDelta(t, wood.Cost*250*(61+3)/wood.Show.Area(), s.Cents, 0.51)
	assert.Equal(t, j.Slab.Moisture[len(j.Slab.Moisture)-1].Percent, s.Moisture)
	assert.Contains(t, got.Glue.Strips[1].Problem, "nowhere")
	// The same flaw lies at the same place of the wood, whichever way one reckons.
	onPiece := *j.Slab
	spot := at["a"]
	onPiece.Flaws = []stock.Flaw{{
		ID: "hole", Kind: stock.Hole, Through: true, Depth: 5,
		Centre: geom.Point{X: spot.X + 40, Y: spot.Y - 10}, A: 4, B: 4,
	}}
	from.Slab = onPiece
	got = p.Gather([]slab.Source{from}, j.Shop.Rules, nil)
	require.Len(t, got.Glue.Strips[0].Flaws, 1)
	f := got.Glue.Strips[0].Flaws[0]
	assert.InDelta(t, 125+40, f.Centre.X, 1e-9)
	assert.InDelta(t, -10, f.Centre.Y, 1e-9)
	// Found flaws stay when it is gathered again; the piece's are not doubled.
	got.Glue.Strips[0].Flaws = append(
		got.Glue.Strips[0].Flaws,
		stock.Flaw{ID: "found", Kind: stock.Hole, Depth: 5, A: 2, B: 2},
	)
	assert.Len(t, got.Gather([]slab.Source{from}, j.Shop.Rules, nil).Glue.Strips[0].Flaws, 2)
	from.Gone = true
	assert.Contains(t, p.Gather([]slab.Source{from}, j.Shop.Rules, nil).Glue.Strips[0].Problem, "off the rack")
}

// A shop that flattens deeper gets thinner slices of end grain, and a narrower panel.
func TestFlatteningIsTheShops(t *testing.T) {
	p := striped(4, glue.Blocks).Slab
	width := func(s slab.Slab) float64 { s = s.Settled(); return s.Show[0].Left - s.Show[0].Right }
	count := float64(p.Glue.Shape().Slices.Count)
	require.Greater(t, count, 3.0)
	deep := p.Gather(nil, rule.Set{rule.GlueClean: 2.5}, nil)
	assert.InDelta(t, count*2*(2.5-1), width(*p)-width(deep), 1e-6)
	assert.InDelta(t, width(*p), width(p.Gather(nil, nil, nil)), 1e-9, "by the usual rule")
	none := p.Gather(nil, rule.Set{rule.GlueClean: 0}, nil)
	assert.InDelta(t, count*2, width(none)-width(*p), 1e-6)
}

// What is cut from a panel, resawn or turned over is still made of its strips.
func TestPiecesOfAPanel(t *testing.T) {
	j := striped(6, glue.Flat)
	left, err := Leftovers(j, []int{0})
	require.NoError(t, err)
	require.NotNil(t, left[0].Glue)
	part := slab.Draw(left[0], nil)
	whole := slab.Draw(*j.Slab, nil)
	cut := left[0].Glue.Cut
	for _, q := range []geom.Point{{X: 5, Y: 100}, {X: 9, Y: -80}, {X: 20, Y: 1}} {
		assert.Equal(t, whole.Grain.At(cut.Out(q)).Species.Name, part.Grain.At(q).Species.Name)
	}
	assert.Empty(t, left[0].Check("slab", now, nil))
	scene := Scene{Schema: Schema, Now: now, Slab: &left[0], Shop: j.Shop}
	out := must(t, scene)
	assert.Nil(t, out.Slab.Parts, "nothing is glued any more")
	assert.NotEmpty(t, out.Slab.Pattern)
	assert.Empty(t, out.Plan)

	turned := slab.Draw(slab.Turn(*j.Slab), nil)
	assert.Equal(t, whole.Grain.At(geom.Point{X: 50, Y: 130}).Species.Name,
		turned.Grain.At(geom.Point{X: 50, Y: -130}).Species.Name)
	thick := *j.Slab
	p := *thick.Glue
	p.Strips = slices.Clone(p.Strips)
	for i := range p.Strips {
		p.Strips[i].Thickness = 60
	}
	thick.Glue = &p
	thick = thick.Settled()
	leaves, err := thick.Resaw(slab.Resawing{Leaves: 2, Kerf: 2, Cleanup: 1}, j.Shop.Rules)
	require.NoError(t, err)
	for _, l := range leaves {
		assert.Empty(t, l.Check("slab", now, nil))
		assert.Less(t, slab.Draw(l, nil).Rough.Thinnest, 30.0)
		assert.Len(t, slab.Draw(l, nil).Species(), 2)
	}
}

// The note says how a construction is cared for; a repair holds the board back again.
func TestPanelsAreCaredForAndRepaired(t *testing.T) {
	for construction, want := range map[string]string{
		glue.Flat: "glued of planks", glue.OnEdge: "on edge", glue.Arrows: "for the eye",
	} {
		assert.Contains(t, fmt.Sprint(must(t, striped(8, construction)).Boards[0].Care), want)
	}
	j := striped(6, glue.Flat)
	j.Slab.Glue.Glue = "PVA, D3"
	assert.Contains(t, fmt.Sprint(must(t, j).Boards[0].Care), "wipe it rather than wash it")
	for _, s := range must(t, j).Slab.Parts.Course.Steps {
		j.Log = append(j.Log, LogEntry{
			Subject: plan.Panel(
				"panel-1",
			), Entry: plan.Entry{Step: s.Key, Event: plan.Finish, At: now.AddDate(0, 0, -3)},
		})
	}
	out := must(t, j)
	assert.Equal(t, Sound, out.Slab.Parts.State)
	j.Slab.Glue.Repair = glue.OpenedJoint
	out = must(t, j)
	assert.Equal(t, InWork, out.Slab.Parts.State)
	assert.Equal(t, []string{"panel:panel-1/repaired"}, out.Boards[0].Course.Steps[0].After)
	assert.False(t, out.Boards[0].Course.Steps[0].Starts.Before(*out.Slab.Parts.Course.Finish))
}

// Damp strips rest before they are ripped: their panel waits for it, not its boards again.
func TestDampStripsRestFirst(t *testing.T) {
	j := striped(4, glue.Flat)
	j.Slab.Moisture = []moisture.Reading{
		{At: now.AddDate(0, 0, -20), Percent: 15.4},
		{At: now.AddDate(0, 0, -2), Percent: 14},
	}
	out := must(t, j)
	assert.Equal(t, "dry", out.Slab.Parts.Course.Steps[0].Key)
	assert.Equal(t, "read", out.Slab.Parts.Course.Steps[1].Key)
	for _, s := range out.Boards[0].Course.Steps {
		assert.NotEqual(t, "dry", s.Key)
	}
}

// Every remedy of a panel that is looked at helps its own check, and brings no stop.
func TestEveryRemedyOfAPanelHelps(t *testing.T) {
	offered := 0
	rapid.Check(t, func(t *rapid.T) {
		j := striped(
			rapid.IntRange(2, 14).Draw(t, "n"),
			rapid.SampledFrom([]string{glue.Flat, glue.OnEdge}).Draw(t, "how"),
		)
		p := j.Slab.Glue
		j.Shop.Air.Temperature = rapid.Float64Range(4, 32).Draw(t, "warmth")
		p.Glue = rapid.SampledFrom(glue.Glues).Draw(t, "glue").Name
		p.Brush, p.Caul = rapid.Bool().Draw(t, "brush"), rapid.Float64Range(0, 40).Draw(t, "caul")
		k := rapid.IntRange(0, len(p.Strips)-1).Draw(t, "strip")
		p.Strips[k].Flaws = []stock.Flaw{
			{ID: "f", Kind: stock.Hole, Depth: 8, Centre: geom.Point{X: 90, Y: -14}, A: 9, B: 9},
		}
		p.Spares = []glue.Strip{{ID: "x", Species: p.Strips[k].Species, Length: 620, Width: 45, Thickness: 30}}
		if rapid.Bool().Draw(t, "faced") {
			p.Base = &glue.Base{
				Species: "Pear", Thickness: 14, Sheet: rapid.Bool().Draw(t, "sheet"),
				Across: rapid.Bool().Draw(t, "across"),
			}
		} else if rapid.Bool().Draw(t, "sloped") {
			p.Slope = &glue.Slope{
				Drop: rapid.Float64Range(1, 20).Draw(t, "drop"), Fence: 15, Thickness: 10,
				Upper: rapid.Bool().Draw(t, "upper"),
			}
		}
		p.Strips[k].Width += rapid.Float64Range(-10, 10).Draw(t, "lower")
		j.Shop.Kit.Clamps[0].Count = rapid.IntRange(0, 6).Draw(t, "clamps")
		settled := j.Slab.Settled()
		j.Slab, j.Boards = &settled, nil
		out, err := Reckon(j, Request{})
		if err != nil {
			t.Fatal(err)
		}
		before := tallied(out.Slab.Verdicts)
		for _, v := range out.Slab.Verdicts {
			for _, r := range v.Remedies {
				if r.On != craft.OnPanel {
					continue
				}
				offered++
				next := j
				changed := *j.Slab
				if err := r.Patch.Apply(&changed); err != nil {
					t.Fatal(err)
				}
				next.Slab = &changed
				then, err := Reckon(next, Request{})
				if err != nil {
					t.Fatalf("%s: %v", r.Label, err)
				}
				after := tallied(then.Slab.Verdicts)
				if after[v.Check].ranks >= before[v.Check].ranks {
					t.Fatalf("%q does not help %q", r.Label, v.Finding)
				}
				for check, now := range after {
					if now.stops > before[check].stops {
						t.Fatalf("%q brings a stop of %s", r.Label, check)
					}
				}
			}
		}
	})
	assert.Greater(t, offered, 20)
}

// A board on a chevron of 40 strips with 20 flaws.
func BenchmarkReckonChevron40(b *testing.B) {
	j := chevron40()
	for b.Loop() {
		if _, err := Reckon(j, Request{}); err != nil {
			b.Fatal(err)
		}
	}
}

func chevron40() Scene {
	j := striped(40, glue.Arrows)
	p := j.Slab.Glue
	for i := range p.Strips {
		p.Strips[i].Width, p.Strips[i].Length = 18, 800
	}
	for i := range 20 {
		j.Slab.Flaws = append(j.Slab.Flaws, stock.Flaw{
			ID: fmt.Sprint(i), Kind: stock.Knot, State: "loose", Depth: 6, A: 3, B: 3,
			Centre: geom.Point{X: 30 + 30*float64(i), Y: 30 * math.Sin(float64(i))},
		})
	}
	s := j.Slab.Settled()
	j.Slab = &s
	board := NewBoardOn("one", "First", s, shop.Usual())
	j.Boards = []Board{board}
	return j
}

func TestAChevronIsReckoned(t *testing.T) {
	out := must(t, chevron40())
	assert.Greater(t, len(out.Slab.Parts.Parts), 200)
	assert.NotEmpty(t, out.Slab.Parts.First)
	assert.Len(t, out.Slab.Parts.Cuts, out.Slab.Parts.Slices.Count)
	require.NotNil(t, out.Slab.Parts.Other)
	assert.Less(t, out.Slab.Parts.Other.Yield, out.Slab.Parts.Slices.Yield, "square loses more")
}

// The longer middle of strips of unequal lengths becomes the handle of the board laid on it.
func TestTheLongerMiddleBecomesTheHandle(t *testing.T) {
	j := striped(3, glue.Unequal)
	for i := range j.Slab.Glue.Strips {
		s := &j.Slab.Glue.Strips[i]
		s.Width, s.Length = 62, 420
		if i == 1 {
			s.Length = 600
		}
	}
	s := j.Slab.Settled()
	j.Slab = &s
	b := NewBoard("one", "Paddle", s.Length)
	d := &b.Design
	d.Shape, d.Length, d.Width, d.Neck, d.NeckLength, d.Shoulder = board.Paddle, 580, 170, 50, 200, 15
	b.Placement = geom.Placement{X: 300}
	j.Boards = []Board{b}
	v := verdict(must(t, j).Boards[0], "inside")
	require.NotNil(t, v)
	assert.Equal(t, craft.Good, v.Level, v.Finding)
	j.Slab.Glue.Strips[1].Length = 420
	s = j.Slab.Settled()
	j.Slab = &s
	assert.Equal(t, craft.Stop, verdict(must(t, j).Boards[0], "inside").Level, "without it the neck hangs over")
}

// End grain counts as lying across a neck, and a chevron's grain is minded, not a stop:
// no turn brings it along.
func TestGrainThatNoTurnBringsAlong(t *testing.T) {
	for _, construction := range []string{glue.Arrows, glue.Blocks} {
		j := striped(9, construction)
		for i := range j.Slab.Glue.Strips {
			j.Slab.Glue.Strips[i].Length = 800
		}
		s := j.Slab.Settled()
		j.Slab = &s
		j.Boards[0] = NewBoardOn("one", "First", s, j.Shop)
		j.Boards[0].Design.Handle.Kind = "hole"
		j.Boards[0].Design.Handle.Diameter, j.Boards[0].Design.Handle.Setback = 25, 40
		r := must(t, j).Boards[0]
		v := verdict(r, "grain")
		require.NotNil(t, v, construction)
		assert.Equal(t, craft.Mind, v.Level, construction)
		assert.Nil(t, verdict(r, "hole by joint"))
		if construction == glue.Blocks {
			assert.Equal(t, 90.0, slab.Draw(s, nil).Grain.At(geom.Point{X: 30}).Angle(0))
		}
	}
}

// Sheet stock is never washed: a stop that one remedy answers; a thin veneer is told, of one
// piece and of strips.
func TestSheetStockAndVeneer(t *testing.T) {
	j := sample()
	j.Slab.Stock, j.Slab.Veneer = slab.StockSheet, 0.4
	r := asked(t, j, Request{Weigh: "one"}).Boards[0]
	v := verdict(r, "washed")
	require.NotNil(t, v)
	assert.Equal(t, craft.Stop, v.Level)
	require.Len(t, v.Remedies, 1)
	assert.Equal(t, craft.Mind, verdict(r, "veneer").Level, "0.15 of 0.4")
	j.Boards[0] = apply(t, j.Boards[0], v.Remedies[0].Patch)
	j.Slab.Veneer = 0.6
	r = must(t, j).Boards[0]
	assert.Equal(t, craft.Good, verdict(r, "washed").Level)
	assert.Equal(t, craft.Good, verdict(r, "veneer").Level)
	assert.Contains(t, fmt.Sprint(r.Care), "never wash it")
	assert.Nil(t, verdict(must(t, sample()).Boards[0], "washed"), "solid wood is washed")

	p := striped(3, glue.Flat).Slab
	p.Glue.Strips[1].Piece = "ply"
	at := map[string]geom.Placement{p.Glue.Strips[1].ID: {X: 400}}
	got := p.Gather([]slab.Source{{ID: "ply", Slab: *j.Slab, Spots: at}}, nil, nil).Settled()
	assert.InDelta(t, 0.6, slab.Draw(got, nil).Rough.Veneer, 1e-9)
	assert.True(t, slab.Draw(got, nil).History.Sheet)
}

// What is made in a strip before it is glued stays clear of its joints.
func TestARecessBelongsToItsStrip(t *testing.T) {
	j := striped(3, glue.Flat)
	for i := range j.Slab.Glue.Strips {
		j.Slab.Glue.Strips[i].Width = 80
	}
	j.Slab.Glue.Strips[1].Shaped = "recess"
	s := j.Slab.Settled()
	j.Slab = &s
	j.Boards[0].Placement = geom.Placement{X: 300}
	d := &j.Boards[0].Design
	d.Length, d.Width, d.Thickness = 360, 200, 26
	d.Recesses = []board.Recess{{Kind: "well", Length: 120, Width: 60, Depth: 8, Radius: 10}}
	v := verdict(must(t, j).Boards[0], "shaped before")
	require.NotNil(t, v)
	assert.Equal(t, craft.Good, v.Level)
	assert.InDelta(t, 10, v.Figure.Value, 0.5)
	d.Recesses[0].Width = 74
	assert.Equal(t, craft.Mind, verdict(must(t, j).Boards[0], "shaped before").Level)
	j.Slab.Glue.Strips[1].Shaped = ""
	assert.Nil(t, verdict(must(t, j).Boards[0], "shaped before"), "made after, where one can reach it")
}

// A panel is searched like any timber: boards are found clear of the wood that its strips'
// flaws spoil, the biggest too, and on a piece with strips clear of those.
func TestPanelsAreSearched(t *testing.T) {
	j := striped(6, glue.Flat)
	j.Boards = nil
	j.Slab.Glue.Strips[2].Flaws = []stock.Flaw{{
		ID: "k", Kind: stock.Hole, Through: true, Depth: 30,
		Centre: geom.Point{X: 310}, A: 12, B: 12, Wish: stock.KeepOut,
	}}
	s := j.Slab.Settled()
	j.Slab = &s
	big, err := Biggest(j, BiggestRequest{Board: NewBoard("big", "Big", s.Length), Free: true})
	require.NoError(t, err)
	d := big.Design
	outline := geom.Bounds{
		MinX: -d.Length / 2, MaxX: d.Length / 2, MinY: -d.Width / 2, MaxY: d.Width / 2,
	}.Ring().Map(big.Placement.Out)
	hole := slab.Draw(s, nil).Flaws[0]
	assert.InDelta(t, 310, hole.Centre.X, 1e-9)
	assert.Empty(t, geom.Common(outline, hole.Footprint()))
	search := Seeking{Wants: []Want{wished("a", 240, 100, 1, 3)}}
	found := seek(t, j, search, 600)
	require.NotEmpty(t, found.Proposals)
	for _, b := range must(t, lay(j, search, found.Proposals[0])).Boards {
		assert.NotEqual(t, craft.Stop, worstOf(b, craft.Layout))
	}

	k := sample()
	k.Boards = nil
	free, err := Biggest(k, BiggestRequest{Board: NewBoard("big", "Big", k.Slab.Length), Free: true})
	require.NoError(t, err)
	at, err := Reserve(k, []Wanted{{ID: "a", Length: 880, Width: 90}})
	require.NoError(t, err)
	k.Strips = []Strip{{Panel: "p", Name: "Stripes", ID: "a", At: at["a"], Length: 880, Width: 90}}
	less, err := Biggest(k, BiggestRequest{Board: NewBoard("big", "Big", k.Slab.Length), Free: true})
	require.NoError(t, err)
	assert.Less(t, less.Area, free.Area)
}
