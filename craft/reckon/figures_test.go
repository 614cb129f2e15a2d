package reckon

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/board"
	"idletimber/craft/fill"
	"idletimber/craft/sanding"
	"idletimber/craft/slab"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// Ready for food is the later of the last coat with its rest and the last pour with its
// full cure.
func TestFoodWaitsForTheResinToo(t *testing.T) {
	s := sample()
	for _, resin := range fill.Kinds() {
		for _, school := range []string{"oil", "paste alone", "curing oil"} {
			s.Boards[0].Fill.Resin, s.Boards[0].Finish.School, s.Boards[0].Finish.Coats = resin, school, 0
			r := must(t, s).Boards[0]
			require.NotNil(t, r.Mix)
			var want time.Time
			for _, step := range r.Course.Steps {
				over := *step.WaitUntil
				if strings.HasPrefix(step.Key, "pour-") {
					over = step.Ends.Add(time.Duration(r.Mix.Full * 24 * float64(time.Hour)))
				}
				if step.Rest > 0 && !strings.HasPrefix(step.Key, "pour-") {
					over = step.Ends.Add(time.Duration(step.Rest * float64(time.Minute)))
				}
				if over.After(want) {
					want = over
				}
			}
			assert.WithinDuration(t, want, *r.Course.Finish, time.Second, "%s, %s", resin, school)
		}
	}
}

// A dent within a hole is cut away with it: no resin, no cure, no second flattening;
// what lies under a recess deeper than the recess still is filled.
func TestAHoleTakesTheFlawOut(t *testing.T) {
	s := sample()
	s.Boards = s.Boards[:1]
	b := &s.Boards[0]
	b.Design.Handle = board.Handle{Kind: board.CordHole, Diameter: 20, Setback: 40}
	b.Design.More, b.Design.Recesses = nil, nil
	shaped, err := Draw(s)
	require.NoError(t, err)
	at := b.Placement.Out(shaped[0].Holes[0].Centroid())
	dent := stock.Flaw{ID: "d", Kind: stock.Dent, Centre: at, A: 4.5, B: 4.5, Depth: 8, Under: b.Placement.Flip}
	s.Slab.Flaws = []stock.Flaw{dent}
	r := must(t, s).Boards[0]
	assert.Empty(t, r.Voids)
	assert.Nil(t, r.Mix)

	away := at
	away.X -= 120
	s.Slab.Flaws[0].Centre = away
	assert.Len(t, must(t, s).Boards[0].Voids, 1)
	in := b.Placement.In(away)
	b.Design.Recesses = []board.Recess{{Kind: "well", X: in.X, Y: in.Y, Length: 60, Width: 60, Depth: 7, Radius: 6}}
	assert.Empty(t, must(t, s).Boards[0].Voids, "the well is deeper")
	s.Slab.Flaws[0].Depth = 14
	left := must(t, s).Boards[0].Voids
	require.Len(t, left, 1)
	assert.Less(t, left[0].Depth, 7.0)
}

// Whoever begins a board, it begins as the wood was delivered, and with a saw that is
// owned.
func TestANewBoardBeginsWithWhatThereIs(t *testing.T) {
	s := sample()
	v := *s.Slab
	v.Bought = &slab.Bought{Work: "planed and sanded", Thickness: 22, Grit: 120}
	s.Shop.Blades = []tool.Blade{{Name: "jigsaw", Radius: 25}}
	b := NewBoardOn("b", "b", v, s.Shop)
	assert.Equal(t, sanding.Delivered(120), b.Sand.Start)
	assert.Equal(t, tool.Jigsaw, b.Cut.Saw)
	s.Shop.Blades = append(s.Shop.Blades, tool.Blade{Name: "band saw, 1/4\" blade", Radius: 16})
	assert.Equal(t, tool.BandSaw, NewBoardOn("b", "b", *s.Slab, s.Shop).Cut.Saw)
}
