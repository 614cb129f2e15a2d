package reckon

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/slab"
)

// strips is a slab 170 wide with n boards 32 wide side by side, cupped by 3 and in wind by 2.
func strips(n int) Scene {
	s := sample()
	s.Slab.Length, s.Slab.Hollow, s.Slab.Wind, s.Slab.Flaws = 600, 3, 2, nil
	s.Slab.Show = []slab.Station{{X: 0, Left: 85, Right: -85}, {X: 600, Left: 85, Right: -85}}
	s.Slab.Readings = []slab.Reading{{X: 50, Thickness: 31}, {X: 550, Thickness: 33}}
	s.Boards = nil
	for i := range n {
		b := NewBoard(string(rune('a'+i)), string(rune('a'+i)), 600)
		b.Design = board.Design{
			Shape: board.Rectangle, Length: 400, Width: 32, Handle: board.Handle{Kind: board.NoHandle},
			Edge: board.Edge{Kind: "none"},
		}
		b.Placement = geom.Placement{X: 300, Y: 36 * (float64(i) - float64(n-1)/2)}
		b.Cut.FlattenWhole = false
		s.Boards = append(s.Boards, b)
	}
	return s
}

// A cup goes with the square of the width that is flattened: strips that are ripped apart
// first lose next to nothing, a lone one as much as the slab that it is not ripped from.
func TestStripsAreFlattenedAsWideAsTheyAreRipped(t *testing.T) {
	alone := must(t, strips(1)).Boards[0]
	assert.InDelta(t, 3, alone.Budget.Hollow, 1e-9)
	three := must(t, strips(3)).Boards
	assert.InDelta(t, 36, three[1].Blank.Width, 1e-6, "half way to its neighbours")
	assert.InDelta(t, 3*math.Pow(36.0/170, 2), three[1].Budget.Hollow, 1e-6)
	assert.InDelta(t, 2*three[1].Blank.Length()/600*36/170, three[1].Budget.Wind, 1e-6)
	assert.InDelta(t, 3*math.Pow(67.0/170, 2), three[0].Budget.Hollow, 1e-6)
	assert.Greater(t, three[1].Budget.Most, alone.Budget.Most+3)

	s := strips(2) // which mesh: no straight rip parts them
	s.Boards[1].Placement.Y = s.Boards[0].Placement.Y + 20
	assert.InDelta(t, 3, must(t, s).Boards[0].Budget.Hollow, 1e-9)
}

// What lies on the planer's table is as wide as it reaches across, however narrow a
// crooked piece is at every place.
func TestACrookedSlabOnThePlaner(t *testing.T) {
	s := strips(1)
	s.Slab.Show = []slab.Station{
		{X: 0, Left: 100, Right: -150}, {X: 300, Left: 150, Right: -100}, {X: 600, Left: 100, Right: -150},
	}
	s.Boards[0].Cut.FlattenWhole = true
	s.Shop.Kit = withPlaner(s.Shop.Kit, 254)
	for _, whole := range []bool{true, false} {
		s.Boards[0].Cut.FlattenWhole = whole
		r := must(t, s).Boards[0]
		found := false
		for _, v := range r.Verdicts {
			if v.Subject == "planer's width" {
				found = true
				assert.Equal(t, 1, v.Level.Rank())
				assert.Greater(t, v.Figure.Value, 254.0)
			}
		}
		assert.True(t, found)
	}
}

// The price is shared by the blanks, whatever is cut from them, and no cent is lost; once
// more with the blanks' areas summed in strips.
func TestThePriceIsSharedByBlanks(t *testing.T) {
	s := strips(3)
	s.Slab.Show = []slab.Station{
		{X: 0, Left: 90, Right: -70}, {X: 280, Left: 80, Right: -100}, {X: 600, Left: 60, Right: -75},
	}
	s.Boards[2].Design.Shape = board.Oval
	s.Taken, s.Boards = s.Boards[:1], s.Boards[1:]
	b, err := draw(s)
	require.NoError(t, err)
	var sum float64
	for _, l := range append(b.gone, b.boards...) {
		blank, band := l.cutOut(), l.outline.Bounds()
		var area float64
		const step = 0.5
		wood := b.wood
		for x := blank.FromX + step/2; x < blank.ToX; x += step {
			for y := -150 + step/2; y < 150; y += step {
				if y < wood.Right(x) || y > wood.Left(x) {
					continue
				}
				mine := true
				for _, o := range append(b.gone, b.boards...) {
					if o == l {
						continue
					}
					other := o.outline.Bounds()
					if other.MaxY <= band.MinY && y < (other.MaxY+band.MinY)/2 ||
						other.MinY >= band.MaxY && y > (other.MinY+band.MaxY)/2 {
						mine = false
					}
				}
				if mine {
					area += step * step
				}
			}
		}
		assert.InEpsilon(t, area, blank.Area, 0.01)
		sum += l.share()
	}
	assert.InDelta(t, 1, sum, 1e-9)
	r := must(t, s)
	assert.InDelta(t, b.wood.Cost*b.boards[0].share(), figure(t, r.Boards[0], "layout.price").Value, 1e-6)
	assert.InDelta(t, figure(t, r.Boards[0], "layout.price").Value, r.Slab.Boards[0].Cents, 1e-6)
	laid, err := LayOut(s, LayOutRequest{})
	require.NoError(t, err)
	assert.InDelta(t, figure(t, r.Boards[0], "layout.price").Value, laid.Boards[0].Cents, 1e-6)
}
