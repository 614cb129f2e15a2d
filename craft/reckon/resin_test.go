package reckon

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/fill"
	"idletimber/craft/geom"
	"idletimber/craft/stock"
)

func levelOf(t *testing.T, r Reckoned, check string) craft.Level {
	t.Helper()
	i := slices.IndexFunc(r.Verdicts, func(v craft.Verdict) bool { return v.Check == check })
	require.GreaterOrEqual(t, i, 0, check)
	return r.Verdicts[i].Level
}

// A board across a river: its resin is a surface of its own, sanded slower and farther than the wood,
// which keeps its ladder; what is held, shaped and cut on is judged.
func TestResinIsASurfaceOfItsOwn(t *testing.T) {
	s := cast(t)
	b := NewBoardOn("b", "Board", *s.Slab, s.Shop)
	b.Placement.X, b.Design.Length, b.Design.Width = 300, 300, 180
	b.Sand.Last = 220
	s.Boards = []Board{b}
	r := must(t, s).Boards[0]
	n := len(r.Sanding.Ladders)
	ladder := r.Sanding.Ladders[n-1]
	assert.Equal(t, "resin, under face", ladder.Surface)
	assert.Equal(t, "resin, show face", r.Sanding.Ladders[n-2].Surface)
	assert.Equal(t, 400, ladder.Rungs[len(ladder.Rungs)-1].Grit)
	assert.Equal(t, []int{320, 400}, r.Sanding.All[len(r.Sanding.All)-2:])
	assert.Equal(t, 220, r.Sanding.Grits[len(r.Sanding.Grits)-1], "the wood stops where it was wanted")
	// What is sanded of wood and resin is both faces, by a raster.
	var resin float64
	const cell = 1.0
	box := s.Slab.River
	for x := 150.0; x < 450; x += cell {
		for y := -90.0; y < 90; y += cell {
			p := geom.Point{X: x + cell/2, Y: y + cell/2}
			if !slices.ContainsFunc(box.Rings(nil)[1:], func(o stock.Patch) bool { return o.Ring.Contains(p) }) {
				resin += cell * cell
			}
		}
	}
	assert.InEpsilon(t, resin, ladder.Area, 0.03)
	b.Sand.Resin = 1000
	s.Boards[0] = b
	far := must(t, s).Boards[0].Sanding
	assert.Equal(t, 1000, far.All[len(far.All)-1])
	assert.Greater(t, far.Total.Value, r.Sanding.Total.Value)

	assert.Equal(t, craft.Mind, levelOf(t, r, "resin-knife"))
	assert.Equal(t, craft.Mind, levelOf(t, r, "resin-edge"), "rounded over where the river runs out")
	assert.Equal(t, craft.Good, levelOf(t, r, "resin-handle"))
	b.Design.Edge.Kind = "none"
	b.Design.Handle = board.Handle{Kind: board.CordHole, Diameter: 20, Setback: 30}
	s.Boards[0] = b
	r = must(t, s).Boards[0]
	assert.Equal(t, craft.Good, levelOf(t, r, "resin-edge"))
	assert.Equal(t, craft.Mind, levelOf(t, r, "resin-handle"), "the hole lies in the river")
}

// A dot of resin is no surface; a pocket of it is, on the face on which it opens.
func TestResinInAVoid(t *testing.T) {
	s := sample()
	s.Boards = s.Boards[:1]
	s.Slab.Flaws = []stock.Flaw{{
		ID: "pocket", Kind: stock.Hole, Centre: s.Boards[0].Placement.Out(geom.Point{}), A: 8, B: 8, Depth: 14,
	}}
	s.Boards[0].Fill.Fillers = map[string]string{"pocket": fill.Epoxy}
	ladders := func() (n int, area float64) {
		for _, l := range must(t, s).Boards[0].Sanding.Ladders {
			if strings.HasPrefix(l.Surface, "resin") {
				n, area = n+1, area+l.Area
			}
		}
		return n, area
	}
	n, _ := ladders()
	assert.Zero(t, n)
	s.Slab.Flaws[0].A, s.Slab.Flaws[0].B = 30, 20
	n, area := ladders()
	assert.Equal(t, 1, n, "the face on which it opens")
	assert.InEpsilon(t, 1885, area, 0.01)
	s.Slab.Flaws[0].Through = true
	n, area = ladders()
	assert.Equal(t, 2, n)
	assert.InEpsilon(t, 2*1885, area, 0.01, "both faces")
}

// A mark that is sanded out begins one grit coarser, takes longer, and is off the budget in place of
// the usual.
func TestAMarkIsSandedOut(t *testing.T) {
	s := sample()
	s.Boards = s.Boards[:1]
	s.Slab.Flaws = nil
	clean := must(t, s).Boards[0]
	s.Slab.Flaws = []stock.Flaw{{
		ID: "scratch", Kind: stock.Hole, Centre: s.Boards[0].Placement.Out(geom.Point{}), A: 6, B: 6,
		Depth: clean.Budget.PerFace + 0.25,
	}}
	marked := must(t, s).Boards[0]
	require.Equal(t, fill.SandOut, marked.Voids[0].Chosen)
	assert.Equal(t, fill.SandedGo, marked.Ends[0].End)
	assert.Less(t, marked.Sanding.Grits[0], clean.Sanding.Grits[0])
	assert.InDelta(t, 250, marked.Sanding.Ladders[0].Rough, 1e-6, "as rough as it is deep, µm")
	assert.InDelta(t, clean.Budget.Sanded-0.10, marked.Budget.Sanded, 1e-9, "0.25 in place of 0.15")
	assert.Equal(t, clean.Budget.Planed, marked.Budget.Planed)
}
