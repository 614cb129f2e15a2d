package reckon

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/layout"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// plank is a plank that keeps both its live edges.
func plank() Scene {
	s := flatBoard()
	s.Slab.LiveLeft, s.Slab.LiveRight, s.Slab.Flaws = true, true, nil
	b := &s.Boards[0]
	b.Design.Shape, b.Design.KeepLeft, b.Design.KeepRight = board.Plank, true, true
	b.Design.Handle.Kind = board.NoHandle
	return s
}

// Each live edge is cleaned by its state, with the tool that suits it, before resin and
// before the shape; a disc is never spoken of but as what is not taken.
func TestALiveEdgeByItsState(t *testing.T) {
	for _, c := range []struct {
		name, state, bark string
		without           []string
		with              string
	}{
		{"sound bark, to bare wood", "", "", nil, tool.Drawknife},
		{"no drawknife", "", "", []string{tool.Drawknife}, tool.Spokeshave},
		{"to the inner bark", "", layout.InnerBark, nil, tool.NylonWheel},
		{"splintery", stock.Splintery, "", []string{tool.Drawknife}, tool.Spokeshave},
		{"splintery, the inner bark kept", stock.Splintery, layout.InnerBark, nil, tool.WireBrush},
		{"loose", stock.Loose, "", nil, tool.NylonWheel},
		{"bare", stock.Bare, "", []string{tool.NylonWheel}, tool.WireBrush},
		{"kept", "", layout.KeptBark, nil, tool.NylonWheel},
	} {
		s := plank()
		s.Shop.Kit = tool.Starters[2].Kit.Without(c.without...)
		s.Slab.LeftBark, s.Slab.RightBark, s.Boards[0].Cut.Bark = c.state, c.state, c.bark
		r := must(t, s).Boards[0]
		keys := keysOf(r)
		at := slices.Index(keys, "live-edge")
		require.GreaterOrEqual(t, at, 0, c.name)
		assert.Less(t, at, slices.Index(keys, "outline"), c.name)
		made := 0
		for _, m := range r.Makes {
			if m.Kind == "live edge" {
				made++
				require.NotNil(t, m.By, c.name)
				assert.Equal(t, c.with, m.By.Tool, c.name)
			}
		}
		assert.Equal(t, 2, made, c.name)
	}
}

// Each edge has a bark of its own, whichever way the board lies; its mirror image has it
// on the other side.
func TestEachEdgeHasItsBark(t *testing.T) {
	s := plank()
	s.Boards[0].Cut.BarkRight = layout.KeptBark
	r := asked(t, s, Request{Weigh: s.First()}).Boards[0]
	v := verdict(r, "bark")
	require.NotNil(t, v)
	both := 0.0
	for _, side := range []bool{true, false} {
		both += longOf(t, s, side)
	}
	assert.InDelta(t, longOf(t, s, false), v.Figure.Value, 0.5)
	assert.Less(t, v.Figure.Value, both)
	for _, remedy := range v.Remedies {
		k := s
		k.Boards = []Board{apply(t, s.Boards[0], remedy.Patch)}
		assert.Nil(t, verdict(must(t, k).Boards[0], "bark"), remedy.Label)
	}
	c := s.Boards[0].Cut.Mirrored()
	assert.Equal(t, layout.KeptBark, c.BarkOn(true))
	assert.Equal(t, layout.NoBark, c.BarkOn(false))
	assert.Equal(t, s.Boards[0].Cut.BarkOn(true), c.Mirrored().BarkOn(true))

	s.Boards[0].Cut.BarkRight, s.Slab.LeftBark = "", stock.Bare
	for _, turned := range []float64{0, 180} { // the bare edge is the wood's left one
		s.Boards[0].Placement.Angle = turned
		b, err := draw(s)
		require.NoError(t, err)
		for _, e := range b.boards[0].liveEdges() {
			assert.Equal(t, e.Left == (turned == 0), e.state == stock.Bare, "%v", turned)
		}
	}
}

func longOf(t *testing.T, s Scene, left bool) float64 {
	t.Helper()
	b, err := draw(s)
	require.NoError(t, err)
	for _, side := range b.boards[0].shaped.LiveSides() {
		if side.Left == left {
			return side.Long
		}
	}
	return 0
}

// The keep-away strip lies inside the board along its live edges; a round-over ends where
// they begin, and is faded there.
func TestKeepAwayAndFades(t *testing.T) {
	s := plank()
	s.Boards[0].Design.Edge = board.Edge{Kind: "round-over", Size: 3}
	r := must(t, s).Boards[0]
	assert.NotEmpty(t, r.Shape.KeepAway)
	require.Len(t, r.Shape.Fades, 4, "two ends on two sides")
	for _, p := range r.Shape.Fades {
		assert.InDelta(t, 0, min(math.Abs(p.X-r.Box[0]), math.Abs(p.X-r.Box[2])), 3)
	}
	assert.Contains(t, step(t, r, "edges").Detail, "fade it by hand")
	assert.Contains(t, step(t, r, "outline").Detail, craft.Length(board.KeepClear))
	square := must(t, flatBoard()).Boards[0]
	assert.Empty(t, square.Shape.KeepAway)
	assert.Empty(t, square.Shape.Fades)
}
