package reckon

import (
	"fmt"
	"math/rand/v2"
	"reflect"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/slab"
)

func wished(name string, length, width float64, least, most int) Wish {
	b := NewBoard(name, name, 900)
	b.Design.Length, b.Design.Width = length, width
	return Wish{Board: b, Least: least, Most: most, Turn: true}
}

// seek is how far a search has come after so many moves.
func seek(t testing.TB, j Job, s Seeking, moves int) (last Sought) {
	t.Helper()
	steps, err := Seek(j, s)
	require.NoError(t, err)
	for step := range steps {
		if last = step; step.Moves >= moves {
			break
		}
	}
	return last
}

// lay is the job with a proposal taken.
func lay(j Job, s Seeking, p Proposal) Job {
	for i, b := range p.Boards {
		d := s.Wishes[b.Wish].Board
		d.ID, d.Name = fmt.Sprint("laid ", i), fmt.Sprint(d.Name, " ", i)
		d.Placement, d.Design = b.Placement, b.Design
		j.Boards = append(j.Boards, d)
	}
	return j
}

// marked marks cells of a raster and fails where one is marked twice, lies off
// the wood or on what is to be kept out: by points alone.
func marked(t *testing.T, j Job, apart float64) {
	t.Helper()
	w := slab.Draw(*j.Slab)
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
	j.Slab.Flaws[1].Wish = slab.KeepOut
	held := wished("held", 260, 110, 1, 3)
	held.Board.Design.Handle = board.Handle{Kind: "hole", Diameter: 30, Setback: 45}
	held.Tilt = 3
	s := Seeking{Wishes: []Wish{wished("large", 300, 200, 1, 2), held, wished("small", 120, 90, 0, 8)}}
	got := seek(t, j, s, 1500)
	require.NotEmpty(t, got.Proposals)
	for _, p := range got.Proposals {
		assert.True(t, p.Met)
		laid := lay(j, s, p)
		marked(t, laid, 2.5)
		for _, b := range must(t, laid).Boards {
			for _, v := range b.Verdicts {
				assert.False(t, v.Level == craft.Stop && v.Stage == craft.Layout, "%s: %s", b.ID, v.Finding)
			}
		}
	}
	assert.Greater(t, got.Proposals[0].Yield, 55.0)
}

func TestASearchKeepsWhatIsLaid(t *testing.T) {
	j := sample()
	s := Seeking{Wishes: []Wish{wished("beside", 220, 200, 1, 6)}}
	got := seek(t, j, s, 600)
	require.NotEmpty(t, got.Proposals)
	best := got.Proposals[0]
	require.NotEmpty(t, best.Boards)
	assert.Less(t, len(best.Boards), 6)
	assert.Contains(t, best.Short[0], "of 6", "it says what is not laid")
	laid := lay(j, s, best)
	marked(t, laid, 2.5)
	assert.Equal(t, j.Boards[0].Placement, laid.Boards[0].Placement)

	s.Wishes[0].Least = 6
	assert.False(t, seek(t, j, s, 300).Proposals[0].Met)
}

func TestBoardsAreStretchedWhereTheyMayBe(t *testing.T) {
	j := sample()
	j.Boards, j.Slab.Flaws = nil, nil
	w := wished("long", 300, 150, 1, 1)
	w.Longest, w.Widest = 700, 200
	s := Seeking{Wishes: []Wish{w}}
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
	s := Seeking{Wishes: []Wish{w}}
	p := seek(t, j, s, 300).Proposals[0]
	require.Len(t, p.Boards, 2)
	assert.Greater(t, p.Yield, 80.0)
	assert.Equal(t, []string{"plank: 2 of 3"}, p.Short)
}

func TestOneSeedOneSearch(t *testing.T) {
	j := sample()
	s := Seeking{Wishes: []Wish{wished("a", 240, 120, 1, 4), wished("b", 150, 90, 0, 4)}, Seed: 5}
	assert.True(t, reflect.DeepEqual(seek(t, j, s, 700), seek(t, j, s, 700)))
}

func TestWhatCannotBeSought(t *testing.T) {
	j := sample()
	for _, c := range []struct {
		field  string
		change func(*Seeking)
	}{
		{"search.wishes", func(s *Seeking) { s.Wishes = nil }},
		{"search.wishes[0].most", func(s *Seeking) { s.Wishes[0].Most = 0 }},
		{"search.wishes[0].least", func(s *Seeking) { s.Wishes[0].Least = 3 }},
		{"search.wishes[0].tilt", func(s *Seeking) { s.Wishes[0].Tilt = 40 }},
		{"search.wishes[0].longest", func(s *Seeking) { s.Wishes[0].Longest = 100 }},
		{"search.wishes[0].board.design.length", func(s *Seeking) { s.Wishes[0].Board.Design.Length = -1 }},
	} {
		s := Seeking{Wishes: []Wish{wished("a", 240, 120, 1, 2)}}
		c.change(&s)
		_, err := Seek(j, s)
		var ps craft.Problems
		require.ErrorAs(t, err, &ps, c.field)
		assert.Equal(t, c.field, ps[0].Field)
	}
	j.Slab, j.Boards = nil, nil
	_, err := Seek(j, Seeking{Wishes: []Wish{wished("a", 240, 120, 1, 2)}})
	assert.Error(t, err)
}

// Twelve boards among thirty flaws: how soon there is a proposal with all that
// must be laid.
func BenchmarkFirstProposal(b *testing.B) {
	j := crowded()
	j.Boards, j.Slab.Flaws = nil, j.Slab.Flaws[:30]
	for i := range j.Slab.Flaws {
		if i%3 == 0 {
			j.Slab.Flaws[i].Wish = slab.KeepOut
		}
	}
	s := Seeking{Wishes: []Wish{wished("a", 200, 110, 2, 4), wished("b", 150, 90, 2, 4), wished("c", 120, 80, 2, 4)}}
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
		kinds := []slab.Kind{slab.Knot, slab.Crack, slab.Bark, slab.Dent, slab.Worm}
		wishes := []string{"", slab.KeepOut, slab.Fill, slab.CutAway, slab.Featured}
		for i := range 12 {
			at := geom.Point{X: 40 + 820*rng.Float64(), Y: -90 + 180*rng.Float64()}
			f := slab.Flaw{ID: fmt.Sprint(i), Kind: kinds[rng.IntN(len(kinds))], Wish: wishes[rng.IntN(len(wishes))], Depth: 6, Centre: at, A: 4 + 8*rng.Float64(), B: 4 + 5*rng.Float64(), State: "loose", Count: 3, Diameter: 2, Width: 2}
			if f.Kind == slab.Crack || f.Kind == slab.Bark {
				f.Line = []geom.Point{at, {X: at.X + 30, Y: at.Y + 6}, {X: at.X + 12, Y: at.Y + 14}}
			}
			j.Slab.Flaws = append(j.Slab.Flaws, f)
		}
		held := wished("held", 230, 100, 0, 3)
		held.Board.Design.Handle = board.Handle{Kind: "hole", Diameter: 30, Setback: 32}
		held.Tilt = 8
		oval := wished("oval", 200, 120, 0, 3)
		oval.Board.Design.Shape = board.Oval
		s := Seeking{Wishes: []Wish{wished("plain", 180+60*rng.Float64(), 80+60*rng.Float64(), 0, 4), held, oval}, Seed: seed}
		got := seek(t, j, s, 700)
		require.NotEmpty(t, got.Proposals)
		for _, p := range got.Proposals {
			laid := lay(j, s, p)
			marked(t, laid, 2.5)
			for _, b := range must(t, laid).Boards {
				for _, v := range b.Verdicts {
					assert.False(t, v.Level == craft.Stop && v.Stage == craft.Layout, "seed %d, %s: %s", seed, b.ID, v.Finding)
				}
			}
		}
	}
}
