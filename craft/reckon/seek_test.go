package reckon

import (
	"fmt"
	"iter"
	"math/rand/v2"
	"reflect"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/nest"
	"idletimber/craft/slab"
	"idletimber/craft/stock"
)

func wished(name string, length, width float64, least, most int) Want {
	b := NewBoard(name, name, 900)
	b.Design.Length, b.Design.Width = length, width
	return Want{Board: b, Least: least, Most: most, Turn: true}
}

func mustSeek(t testing.TB, j Scene, s Seeking) iter.Seq[Sought] {
	t.Helper()
	steps, err := Seek(j, s)
	require.NoError(t, err)
	return steps
}

// seek is how far a search has come after so many moves.
func seek(t testing.TB, j Scene, s Seeking, moves int) (last Sought) {
	t.Helper()
	if s.Cores == nil {
		s.Cores = nest.NewCores(2)
	}
	for step := range mustSeek(t, j, s) {
		if last = step; step.Moves >= moves {
			break
		}
	}
	return last
}

// lay is the job with a proposal taken.
func lay(j Scene, s Seeking, p Proposal) Scene {
	for i, b := range p.Boards {
		d := s.Wants[b.Want].Board
		d.ID, d.Name = fmt.Sprint("laid ", i), fmt.Sprint(d.Name, " ", i)
		d.Placement, d.Design = b.Placement, b.Design
		j.Boards = append(j.Boards, d)
	}
	return j
}

// marked marks cells of a raster and fails where one is marked twice, lies off
// the wood or on what is to be kept out: by points alone.
func marked(t *testing.T, j Scene, apart float64) {
	t.Helper()
	w := slab.Draw(*j.Slab, nil)
	shaped, err := Draw(j)
	require.NoError(t, err)
	of := map[[2]int]int{}
	const cell = 1.0
	for i, s := range shaped {
		grown := s.Outline.Grown(apart/2 - 0.1).Map(j.Boards[i].Placement.Out)
		outline := geom.NewIndex(s.Outline.Map(j.Boards[i].Placement.Out))
		box := grown.Bounds()
		for x := int(box.MinX) - 1; x <= int(box.MaxX)+1; x++ {
			for y := int(box.MinY) - 1; y <= int(box.MaxY)+1; y++ {
				p := geom.Point{X: float64(x) * cell, Y: float64(y) * cell}
				if !grown.Contains(p) {
					continue
				}
				if other, ok := of[[2]int{x, y}]; ok {
					t.Fatalf("boards %d and %d share the place %v", other, i, p)
				}
				of[[2]int{x, y}] = i
				if !outline.Contains(p) {
					continue
				}
				if !w.Holds(p, 0.3) {
					t.Fatalf("board %d lies off the wood at %v", i, p)
				}
				for _, f := range j.Slab.Flaws {
					if f.Shunned() && f.Footprint().Contains(p) {
						t.Fatalf("board %d lies on what is to be kept out at %v", i, p)
					}
				}
			}
		}
	}
}

func TestASearchGivesNoStop(t *testing.T) {
	j := sample()
	j.Boards = nil
	j.Slab.Flaws[1].Wish = stock.KeepOut
	held := wished("held", 260, 110, 1, 3)
	held.Board.Design.Handle = board.Handle{Kind: "hole", Diameter: 30, Setback: 45}
	held.Tilt = 3
	s := Seeking{Wants: []Want{wished("large", 300, 200, 1, 2), held, wished("small", 120, 90, 0, 8)}}
	got := seek(t, j, s, 1500)
	require.NotEmpty(t, got.Proposals)
	for _, p := range got.Proposals {
		assert.True(t, p.Met)
		laid := lay(j, s, p)
		marked(t, laid, 2.5)
		for _, b := range must(t, laid).Boards {
			for _, v := range b.Verdicts {
				assert.False(t, v.Level == craft.Stop && v.Stage == craft.Layout, "%s: %s", b.ID, v.Finding)
				assert.False(t, v.Check == "squaring" && v.Level != craft.Good, "%s: %s", b.ID, v.Finding)
			}
		}
	}
	assert.Greater(t, got.Proposals[0].Yield, 55.0)
}

func TestASearchKeepsWhatIsLaid(t *testing.T) {
	j := sample()
	s := Seeking{Wants: []Want{wished("beside", 220, 200, 1, 6)}}
	got := seek(t, j, s, 600)
	require.NotEmpty(t, got.Proposals)
	best := got.Proposals[0]
	require.NotEmpty(t, best.Boards)
	assert.Less(t, len(best.Boards), 6)
	assert.Contains(t, best.Short[0], "of 6", "it says what is not laid")
	laid := lay(j, s, best)
	marked(t, laid, 2.5)
	assert.Equal(t, j.Boards[0].Placement, laid.Boards[0].Placement)

	s.Wants[0].Least = 6
	assert.False(t, seek(t, j, s, 300).Proposals[0].Met)
}

func TestBoardsAreStretchedWhereTheyMayBe(t *testing.T) {
	j := sample()
	j.Boards, j.Slab.Flaws = nil, nil
	w := wished("long", 300, 150, 1, 1)
	w.Longest, w.Widest = 700, 200
	s := Seeking{Wants: []Want{w}}
	p := seek(t, j, s, 100).Proposals[0]
	assert.InDelta(t, 700, p.Boards[0].Design.Length, 1)
	assert.InDelta(t, 200, p.Boards[0].Design.Width, 1)
	marked(t, lay(j, s, p), 2.5)
}

func TestPlanksFollowTheWood(t *testing.T) {
	j := sample()
	j.Boards = nil
	w := wished("plank", 380, 200, 1, 3)
	w.Board.Design.Shape, w.Board.Design.KeepLeft, w.Board.Design.KeepRight = board.Plank, true, true
	s := Seeking{Wants: []Want{w}}
	p := seek(t, j, s, 300).Proposals[0]
	require.Len(t, p.Boards, 2)
	assert.Greater(t, p.Yield, 80.0)
	assert.Equal(t, []string{"plank: 2 of 3"}, p.Short)
}

func TestOneSeedOneSearch(t *testing.T) {
	j := sample()
	s := Seeking{Wants: []Want{wished("a", 240, 120, 1, 4), wished("b", 150, 90, 0, 4)}, Seed: 5}
	once := seek(t, j, s, 700)
	assert.True(t, reflect.DeepEqual(once, seek(t, j, s, 700)))
	for n := range 3 {
		s.Cores = nest.NewCores(n + 1)
		assert.True(t, reflect.DeepEqual(once, seek(t, j, s, 700)), "on %d cores", n+1)
	}
}

// What fits nowhere is proposed nowhere, and the search ends.
func TestWhatFitsNowhereIsNotProposed(t *testing.T) {
	got := seek(t, sample(), Seeking{Wants: []Want{wished("a", 4000, 120, 1, 2)}}, 700)
	assert.Empty(t, got.Proposals)
	assert.False(t, got.Better)
}

func TestWhatCannotBeSought(t *testing.T) {
	j := sample()
	for _, c := range []struct {
		field  string
		change func(*Seeking)
	}{
		{"search.wants", func(s *Seeking) { s.Wants = nil }},
		{"search.wants[0].most", func(s *Seeking) { s.Wants[0].Most = 0 }},
		{"search.wants[0].least", func(s *Seeking) { s.Wants[0].Least = 3 }},
		{"search.wants[0].tilt", func(s *Seeking) { s.Wants[0].Tilt = 40 }},
		{"search.wants[0].longest", func(s *Seeking) { s.Wants[0].Longest = 100 }},
		{"search.wants[0].board.design.length", func(s *Seeking) { s.Wants[0].Board.Design.Length = -1 }},
	} {
		s := Seeking{Wants: []Want{wished("a", 240, 120, 1, 2)}}
		c.change(&s)
		_, err := Seek(j, s)
		var ps craft.Problems
		require.ErrorAs(t, err, &ps, c.field)
		assert.Equal(t, c.field, ps[0].Field)
	}
	j.Slab, j.Boards = nil, nil
	_, err := Seek(j, Seeking{Wants: []Want{wished("a", 240, 120, 1, 2)}})
	assert.Error(t, err)
}

// Twelve boards among thirty flaws: how soon there is a proposal with all that
// must be laid.
func BenchmarkFirstProposal(b *testing.B) {
	j := crowded()
	j.Boards, j.Slab.Flaws = nil, j.Slab.Flaws[:30]
	for i := range j.Slab.Flaws {
		if i%3 == 0 {
			j.Slab.Flaws[i].Wish = stock.KeepOut
		}
	}
	s := Seeking{Wants: []Want{wished("a", 200, 110, 2, 4), wished("b", 150, 90, 2, 4), wished("c", 120, 80, 2, 4)}}
	for b.Loop() {
		steps, err := Seek(j, s)
		require.NoError(b, err)
		from := time.Now()
		for step := range steps {
			if len(step.Proposals) > 0 && step.Proposals[0].Met || time.Since(from) > 20*time.Second {
				break
			}
		}
	}
}

// Slabs with flaws of every kind and wish: no proposal gives a stop, by the
// verdicts and by points alone.
func TestNoProposalGivesAStop(t *testing.T) {
	for seed := range uint64(4) {
		rng := rand.New(rand.NewPCG(seed, 3))
		j := sample()
		j.Boards, j.Slab.Flaws = nil, nil
		kinds := []stock.Kind{stock.Knot, stock.Crack, stock.Bark, stock.Dent, stock.Worm}
		wishes := []string{"", stock.KeepOut, stock.Fill, stock.CutAway, stock.Featured}
		for i := range 12 {
			at := geom.Point{X: 40 + 820*rng.Float64(), Y: -90 + 180*rng.Float64()}
			f := stock.Flaw{
				ID:       fmt.Sprint(i),
				Kind:     kinds[rng.IntN(len(kinds))],
				Wish:     wishes[rng.IntN(len(wishes))],
				Depth:    6,
				Centre:   at,
				A:        4 + 8*rng.Float64(),
				B:        4 + 5*rng.Float64(),
				State:    "loose",
				Count:    3,
				Diameter: 2,
				Width:    2,
			}
			if f.Kind == stock.Crack || f.Kind == stock.Bark {
				f.Line = []geom.Point{at, {X: at.X + 30, Y: at.Y + 6}, {X: at.X + 12, Y: at.Y + 14}}
			}
			j.Slab.Flaws = append(j.Slab.Flaws, f)
		}
		held := wished("held", 230, 100, 0, 3)
		held.Board.Design.Handle = board.Handle{Kind: "hole", Diameter: 30, Setback: 32}
		held.Tilt = 8
		oval := wished("oval", 200, 120, 0, 3)
		oval.Board.Design.Shape = board.Oval
		s := Seeking{
			Wants: []Want{wished("plain", 180+60*rng.Float64(), 80+60*rng.Float64(), 0, 4), held, oval},
			Seed:  seed,
		}
		got := seek(t, j, s, 700)
		require.NotEmpty(t, got.Proposals)
		for _, p := range got.Proposals {
			laid := lay(j, s, p)
			marked(t, laid, 2.5)
			for _, b := range must(t, laid).Boards {
				for _, v := range b.Verdicts {
					assert.False(
						t,
						v.Level == craft.Stop && v.Stage == craft.Layout,
						"seed %d, %s: %s",
						seed,
						b.ID,
						v.Finding,
					)
				}
			}
		}
	}
}

// setOf is a board split by a curve: a wish for both parts as one.
func setOf(t testing.TB, least, most int) Want {
	t.Helper()
	w := wished("set", 300, 180, least, most)
	whole := board.Draw(w.Board.Design, nil)
	parts, err := board.Split(
		whole,
		[]board.Node{
			{X: -200, Y: -10, Kind: "smooth"},
			{X: 0, Y: 25, Kind: "smooth"},
			{X: 200, Y: -10, Kind: "smooth"},
		},
		0.8,
	)
	require.NoError(t, err)
	mate := w.Board
	w.Board.Design, mate.Design = parts[0].Design, parts[1].Design
	mate.ID, mate.Name = "mate", "its mate"
	w.Board.Placement, mate.Placement = parts[0].At, parts[1].At
	w.With = []Board{mate}
	return w
}

// A set is laid as one: its boards as they nest, a saw's width apart, however
// often, turned and flipped together.
func TestASetIsLaidAsOne(t *testing.T) {
	j := sample()
	j.Boards = nil
	w := setOf(t, 1, 3)
	w.Flip = true
	s := Seeking{Wants: []Want{w, wished("beside", 120, 90, 0, 4)}, Seed: 3}
	got := seek(t, j, s, 900)
	require.NotEmpty(t, got.Proposals)
	best := got.Proposals[0]
	require.True(t, best.Met)
	sets := 0
	var first Placed
	var apart geom.Placement
	for _, b := range best.Boards {
		switch {
		case b.Want != 0:
		case b.Part == 0:
			sets++
			first = b
		default:
			at := first.Placement.In(geom.Point{X: b.Placement.X, Y: b.Placement.Y})
			if sets == 1 {
				apart = geom.Placement{X: at.X, Y: at.Y}
			}
			assert.InDelta(t, apart.X, at.X, 1e-6, "every set as the first")
			assert.InDelta(t, apart.Y, at.Y, 1e-6)
			assert.InDelta(t, w.Board.Placement.Seen(w.With[0].Placement).Y, at.Y, 4, "as near as the saw allows")
			one, two := board.Draw(first.Design, nil).Outline.Map(first.Placement.Out),
				board.Draw(b.Design, nil).Outline.Map(b.Placement.Out)
			gap := geom.Gap(one, two)
			assert.GreaterOrEqual(t, gap, 2.5-1e-6)
			assert.Less(t, gap, 4.0)
		}
	}
	assert.Positive(t, sets)
	laid := j
	for i, b := range best.Boards {
		d := s.Wants[b.Want].Board
		if b.Part > 0 {
			d = s.Wants[b.Want].With[b.Part-1]
		}
		d.ID, d.Placement, d.Design = fmt.Sprint(i), b.Placement, b.Design
		laid.Boards = append(laid.Boards, d)
	}
	marked(t, laid, 2.5)

	w.With[0].Design.Shape = board.Plank
	_, err := Seek(j, Seeking{Wants: []Want{w}})
	assert.ErrorContains(t, err, "search.wants[0].with[0]")
}

// opened is a job on one of two leaves that open like a book, a flaw on each.
func opened(t testing.TB) Scene {
	t.Helper()
	j := sample()
	j.Slab.Flaws = nil
	j.Slab.Readings = []slab.Reading{{X: 450, Thickness: 60}}
	leaves, err := Resaw(j, slab.Resawing{Leaves: 2, Kerf: 2, Cleanup: 1, Matched: true})
	require.NoError(t, err)
	require.NotEqual(t, leaves[0].LeafTurned, leaves[1].LeafTurned)
	leaves[0].Flaws = []stock.Flaw{
		{
			ID:     "here",
			Kind:   stock.Knot,
			State:  "missing",
			Centre: geom.Point{X: 200, Y: -40},
			A:      30,
			B:      25,
			Depth:  12,
			Wish:   stock.KeepOut,
		},
	}
	leaves[1].Flaws = []stock.Flaw{
		{
			ID:     "there",
			Kind:   stock.Knot,
			State:  "missing",
			Centre: geom.Point{X: 600, Y: -50},
			A:      40,
			B:      25,
			Depth:  12,
			Wish:   stock.KeepOut,
		},
	}
	j.Slab, j.Leaf = &leaves[0], &Leaf{Slab: leaves[1]}
	return j
}

// A board with a twin is laid where both leaves hold it.
func TestTwinsAreLaidOnBothLeaves(t *testing.T) {
	j := opened(t)
	j.Boards = nil
	j.Leaf.Boards = []Board{wished("already there", 150, 100, 1, 1).Board}
	j.Leaf.Boards[0].Placement = geom.Placement{X: 350, Y: 60}
	w := wished("pair", 240, 110, 2, 4)
	w.Board.Design.Shape, w.Board.Design.Angle = board.Bladed, 20
	w.Twin = true
	s := Seeking{Wants: []Want{w}}
	got := seek(t, j, s, 900)
	require.NotEmpty(t, got.Proposals)
	best := got.Proposals[0]
	require.True(t, best.Met)
	laid := lay(j, s, best)
	marked(t, laid, 2.5)
	twins := Scene{Schema: 1, Now: j.Now, Slab: &j.Leaf.Slab, Boards: j.Leaf.Boards, Shop: j.Shop}
	for _, b := range laid.Boards {
		twin := TwinOf(b, *j.Slab, j.Leaf.Slab)
		assert.Equal(t, -b.Placement.Y, twin.Placement.Y)
		assert.Equal(t, -b.Design.Angle, twin.Design.Angle)
		twins.Boards = append(twins.Boards, twin)
	}
	marked(t, twins, 2.5)

	j.Leaf = nil
	_, err := Seek(j, s)
	assert.ErrorContains(t, err, "leaf")
}

// What is wished to be shown is sought: the handle's hole over a dent, a board
// along a crack, a figure in the middle.
func TestWishesForPlacesAreSought(t *testing.T) {
	j := sample()
	j.Boards = nil
	j.Slab.Flaws = []stock.Flaw{
		{ID: "dent", Kind: stock.Dent, Centre: geom.Point{X: 520, Y: 52}, A: 8, B: 8, Depth: 6, Wish: stock.Featured},
		{
			ID:    "crack",
			Kind:  stock.Crack,
			Line:  []geom.Point{{X: 200, Y: -60}, {X: 300, Y: -56}},
			Width: 3,
			Depth: 10,
			Wish:  stock.Featured,
		},
	}
	j.Slab.Features = []stock.Feature{
		{ID: "eye", Kind: "figure", Centre: geom.Point{X: 700, Y: -30}, A: 30, B: 20, Wish: stock.Centred},
	}
	w := wished("held", 230, 110, 3, 4)
	w.Board.Design.Handle = board.Handle{Kind: "hole", Diameter: 32, Setback: 45}
	s := Seeking{Wants: []Want{w}}
	granted := func(p Proposal) (n int) {
		b, err := draw(lay(j, s, p))
		require.NoError(t, err)
		for _, l := range b.boards {
			n += l.place.Grants(l.shaped)
		}
		return n
	}
	for s.Seed = range 3 {
		got := seek(t, j, s, 1500)
		require.NotEmpty(t, got.Proposals)
		assert.True(t, got.Proposals[0].Met)
		assert.Equal(t, 3, granted(got.Proposals[0]), "from number %d", s.Seed)
	}
}

// A search that was broken off goes on from its best: planks and sets too, whatever came to lie there meanwhile.
func TestASearchGoesOn(t *testing.T) {
	for name, make := range map[string]func() (Scene, Seeking){
		"boards": func() (Scene, Seeking) {
			return sample(), Seeking{Seed: 1, Wants: []Want{wished("A", 200, 90, 1, 4), wished("B", 150, 60, 0, 3)}}
		},
		"planks": func() (Scene, Seeking) {
			w := wished("Plank", 200, 100, 0, 3)
			w.Board.Design.Shape = board.Plank
			return sample(), Seeking{Seed: 1, Wants: []Want{w}}
		},
	} {
		j, s := make()
		j.Boards = nil
		before := seek(t, j, s, 1200)
		require.NotEmpty(t, before.Proposals, name)
		s.Seed, s.From = 7, before.Proposals
		first := true
		for step := range mustSeek(t, j, s) {
			if first {
				require.NotEmpty(t, step.Proposals, name)
				assert.GreaterOrEqual(t, step.Proposals[0].Worth, before.Proposals[0].Worth-1e-6, name)
				marked(t, lay(j, s, step.Proposals[0]), 2.5)
			}
			if first = false; step.Moves > 300 {
				assert.GreaterOrEqual(t, step.Proposals[0].Worth, before.Proposals[0].Worth-1e-6, name)
				break
			}
		}
		// A board was laid where the first one was to lie.
		there := lay(j, s, before.Proposals[0]).Boards[0]
		there.ID = "there"
		j.Boards = []Board{there}
		for step := range mustSeek(t, j, s) {
			for _, p := range step.Proposals {
				marked(t, lay(j, s, p), 2.5)
			}
			if step.Moves > 300 {
				break
			}
		}
	}
}
