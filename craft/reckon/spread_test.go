package reckon

import (
	"errors"
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/nest"
)

// rack is so many bare pieces of lengths, mm.
func rack(lengths ...float64) (out []Sheet) {
	for i, length := range lengths {
		j := sample()
		wood := *j.Slab
		wood.Name, wood.Flaws = fmt.Sprint("plank ", i), nil
		by := length / wood.Length
		wood.Length, wood.Show, wood.Readings = length, slices.Clone(wood.Show), slices.Clone(wood.Readings)
		for k := range wood.Show {
			wood.Show[k].X *= by
		}
		for k := range wood.Readings {
			wood.Readings[k].X *= by
		}
		j.Slab, j.Boards = &wood, nil
		out = append(out, Sheet{fmt.Sprint(i), j})
	}
	return out
}

// spread is where a search over several pieces ends.
func spread(t *testing.T, on []Sheet, wants ...Want) (last Spread) {
	t.Helper()
	steps, err := SpreadOver(on, wants, nil)
	require.NoError(t, err)
	for s := range steps {
		assert.GreaterOrEqual(t, s.Laid, last.Laid, "it never gets worse")
		assert.False(t, last.Above(s), "nor worth less, nor on more pieces")
		last = s
	}
	return last
}

// markedOn fails where boards of one wish share a place on a piece, or lie off its wood.
func markedOn(t *testing.T, on []Sheet, of OnPiece, want Want) {
	t.Helper()
	i := slices.IndexFunc(on, func(s Sheet) bool { return s.Piece == of.Piece })
	j := lay(on[i].Scene, Seeking{Wants: []Want{want}}, Proposal{Boards: of.Boards})
	marked(t, j, want.Board.Cut.Apart(j.Shop.Rules))
}

// Boards are laid over several pieces: each lies on the wood, apart from the others, all that is wanted is laid or told
// to be bought, and what fits on one piece is not spread over two.
func TestBoardsAreSpreadOverPieces(t *testing.T) {
	on := rack(900, 450, 700)
	want := wished("supper", 260, 140, 0, 10)
	got := spread(t, on, want)
	laid := 0
	for _, p := range got.Pieces {
		assert.NotEmpty(t, p.Boards)
		laid += len(p.Boards)
		markedOn(t, on, p, want)
	}
	assert.Equal(t, laid, got.Laid)
	short := 0
	for _, b := range got.Buy {
		short += b.Boards
		assert.GreaterOrEqual(t, b.Volume*1e9, float64(b.Boards)*260*140*want.Board.Design.Thickness)
	}
	assert.Equal(t, 10, got.Laid+short)
	for i := 1; i < len(got.Pieces); i++ {
		assert.GreaterOrEqual(t, got.Pieces[i-1].Yield, got.Pieces[i].Yield, "what is used worst comes last")
	}
	assert.Equal(t, got, spread(t, on, want), "the same again")

	two := spread(t, on, wished("two", 200, 100, 0, 2))
	require.Len(t, two.Pieces, 1, "they fit on one")
	assert.Equal(t, "1", two.Pieces[0].Piece, "the one of which the least is left")
	assert.Empty(t, two.Buy)
}

// Several designs share the pieces; what is too large for all of them is to be bought.
func TestSeveralDesignsAreSpread(t *testing.T) {
	got := spread(t, rack(900, 800), wished("large", 300, 150, 0, 2), wished("small", 150, 80, 0, 6),
		wished("too large", 1500, 160, 0, 1))
	count := map[int]int{}
	for _, p := range got.Pieces {
		for _, b := range p.Boards {
			count[b.Want]++
		}
	}
	assert.Equal(t, map[int]int{0: 2, 1: 6}, count)
	require.Len(t, got.Buy, 1)
	assert.Equal(t, 2, got.Buy[0].Want)
	assert.Greater(t, got.Buy[0].Length, 1500.0)
}

// Where not all can be laid, what is worth most is.
func TestWhatIsWorthMostIsSpread(t *testing.T) {
	dear, cheap := wished("dear", 300, 120, 0, 2), wished("cheap", 300, 140, 0, 4)
	dear.Worth, cheap.Worth = 5, 1
	got := spread(t, rack(340, 360), cheap, dear)
	count := map[int]int{}
	for _, p := range got.Pieces {
		for _, b := range p.Boards {
			count[b.Want]++
		}
	}
	assert.Equal(t, 2, count[1], "%v", got)
	assert.InDelta(t, 5*float64(count[1])+float64(count[0]), got.Worth, 1e-6)
}

// Boards are stretched where they may be, on every piece, and stay on the wood and apart.
func TestWhatIsSpreadStretches(t *testing.T) {
	want := wished("supper", 260, 120, 0, 6)
	want.Longest, want.Widest = 320, 150
	on := rack(620, 700)
	got := spread(t, on, want)
	require.NotEmpty(t, got.Pieces)
	stretched := 0
	for _, p := range got.Pieces {
		for _, b := range p.Boards {
			assert.LessOrEqual(t, b.Design.Length, 320.0)
			assert.LessOrEqual(t, b.Design.Width, 150.0)
			if b.Design.Length > 261 || b.Design.Width > 121 {
				stretched++
			}
		}
		markedOn(t, on, p, want)
	}
	assert.Positive(t, stretched)
}

// The same boards on fewer pieces, or the better use of one of two, is above.
func TestAboveOrdersSpreads(t *testing.T) {
	use := func(worth float64, yields ...float64) (s Spread) {
		s.Worth = worth
		for _, y := range yields {
			s.Pieces = append(s.Pieces, OnPiece{Yield: y})
		}
		return s
	}
	order := []Spread{use(0), use(3, 70, 20), use(4, 50, 40, 10), use(4, 50, 40), use(4, 70, 20)}
	for i := range order {
		for k := range order {
			assert.Equal(t, i > k, order[i].Above(order[k]), "%d, %d", i, k)
		}
	}
}

func TestSpreadingIsBoundedAndBrokenOff(t *testing.T) {
	_, err := SpreadOver(nil, []Want{wished("a", 200, 100, 0, 1)}, nil)
	assert.ErrorContains(t, err, "no piece")
	_, err = SpreadOver(rack(900), []Want{wished("a", 200, 100, 0, MostSpread), wished("b", 200, 100, 0, 1)}, nil)
	assert.ErrorContains(t, err, "too many")
	on := rack(900, 900)
	asked := 0
	gone := errors.New("gone")
	for i := range on {
		on[i].Scene.Watch = craft.Watch(func() error {
			if asked++; asked > 5 {
				return gone
			}
			return nil
		})
	}
	steps, err := SpreadOver(on, []Want{wished("a", 200, 100, 0, 9)}, nil)
	require.NoError(t, err)
	for range steps {
	}
	assert.Less(t, asked, 20)
}

// Ten boards over ten pieces, and from three slabs.
func BenchmarkSpread(b *testing.B) {
	for name, on := range map[string][]Sheet{
		"10 on 10": rack(900, 450, 700, 600, 820, 500, 760, 640, 880, 560),
		"10 on 3":  rack(900, 800, 850),
	} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				steps, err := SpreadOver(on, []Want{wished("a", 260, 140, 0, 10)}, nest.NewCores(2))
				require.NoError(b, err)
				var last Spread
				for last = range steps {
				}
				b.ReportMetric(float64(last.Laid), "laid")
				b.ReportMetric(float64(len(last.Pieces)), "pieces")
			}
		})
	}
}
