package reckon

import (
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/board"
	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/fitting"
	"idletimber/craft/plan"
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
	s.Shop.Blades = []tool.Blade{{Saw: tool.Jigsaw, Name: "jigsaw", Radius: 25}}
	b := NewBoardOn("b", "b", v, s.Shop)
	s.Slab, s.Boards = &v, []Board{b}
	assert.Equal(t, sanding.Delivered(120), must(t, s).Boards[0].Sanding.Start)
	assert.Equal(t, tool.Jigsaw, b.Cut.Saw)
	s.Shop.Blades = append(s.Shop.Blades, tool.Blade{Saw: tool.BandSaw, Name: "band saw, 1/4\" blade", Radius: 16})
	assert.Equal(t, tool.BandSaw, NewBoardOn("b", "b", *s.Slab, s.Shop).Cut.Saw)
}

// The plan waits for damp wood: nothing is cut before it has come to rest, the date
// tells so, and what Wood says of the latest begin is what the plan says.
func TestThePlanWaitsForTheWood(t *testing.T) {
	s := damp("2032-06-01")
	out := must(t, s)
	r, ready := out.Boards[0], out.Slab.Drying.ReadyAt
	require.NotNil(t, ready)
	assert.Equal(t, []string{"dry", "read", "cross-cut"},
		[]string{r.Course.Steps[0].Key, r.Course.Steps[1].Key, r.Course.Steps[2].Key})
	for _, step := range r.Course.Steps[1:] {
		assert.False(t, step.Starts.Before(ready.Add(-time.Second)), step.Key)
	}
	dry := s
	dry.Slab = sample().Slab
	dry.Slab.RingRadius = s.Slab.RingRadius
	assert.True(t, must(t, dry).Boards[0].Course.Finish.Before(*r.Course.Finish))
	v := verdict(r, "dry in time")
	require.NotNil(t, v)
	assert.InDelta(t, r.Course.Steps[2].LatestAt.Sub(out.Slab.Drying.Read).Hours()/24, v.Figure.Value, 1e-6)

	s.Slab.Moisture = s.Slab.Moisture[1:] // one reading: the rule tells
	one := must(t, s)
	assert.False(t, one.Slab.Drying.Known)
	assert.Equal(t, "dry", one.Boards[0].Course.Steps[0].Key)
	assert.Contains(t, one.Boards[0].Course.Steps[0].Detail, "one reading")

	s.Log = []LogEntry{
		{Subject: plan.Board(s.Boards[0].ID), Entry: plan.Entry{Step: "cross-cut", Event: plan.Start, At: s.Now}},
	}
	assert.Equal(t, "cross-cut", must(t, s).Boards[0].Course.Steps[0].Key, "what has been cut has been cut")

	soon := damp(s.Now.AddDate(0, 0, 3).Format(time.DateOnly))
	late := must(t, soon).Boards[0].Course
	assert.True(t, late.Late, "at 14 % it is not ready in three days")
}

// A board that damp wood makes late is offered to be milled thinner first: it is milled,
// rests by the rule for its thickness, is read again, and is ready as much sooner as was said.
func TestMillingThinnerHelpsALateBoard(t *testing.T) {
	s := damp("2031-06-01")
	s.Slab.Readings = []slab.Reading{{X: 100, Thickness: 52}, {X: 700, Thickness: 54}}
	was := asked(t, s, Request{Weigh: s.First()})
	r := was.Boards[0]
	require.True(t, r.Course.Late)
	help := slices.IndexFunc(r.Helps, func(h Help) bool { return strings.HasPrefix(h.Label, "Mill it to") })
	require.GreaterOrEqual(t, help, 0)
	require.NoError(t, r.Helps[help].Patch.Apply(&s.Boards[0]))
	to := s.Boards[0].Cut.MillFirst
	require.Positive(t, to)
	now := must(t, s).Boards[0]
	assert.Equal(t, []string{"mill-thin", "dry", "read", "cross-cut"}, keysOf(now)[:4])
	assert.InDelta(t, r.Helps[help].Saves, r.Course.Finish.Sub(*now.Course.Finish).Minutes(), 1)
	rest := was.Slab.Drying.ReadyAt.Sub(s.Now).Minutes() * math.Pow(to/53, 1.8)
	assert.InDelta(t, rest, now.Course.Steps[1].Wait, 1)
	assert.InDelta(t, r.Budget.Sanded, now.Budget.Sanded, 1e-9, "it still holds the board")
	assert.GreaterOrEqual(t, to, r.Budget.Planed+r.Budget.Hollow+r.Budget.Wind/2)
	for _, f := range r.Helps {
		if strings.HasPrefix(f.Label, "Mill it to") {
			assert.GreaterOrEqual(t, f.Saves, 60.0)
		}
	}
}

// What moves is what lies across the grain: a board turned by 90° moves by its length.
func TestMovementIsAcrossTheGrain(t *testing.T) {
	s := sample()
	b := &s.Boards[0]
	b.Design.Shape, b.Design.Length, b.Design.Width, b.Design.Corner = board.Rectangle, 150, 100, 0
	moves := func(angle float64) float64 {
		b.Placement.Angle = angle
		return figure(t, must(t, s).Boards[0], "wood.movement").Value
	}
	along := moves(0)
	assert.InEpsilon(t, 1.5*along, moves(90), 1e-6)
	askew := math.Pi / 6
	assert.InEpsilon(t, along*(100*math.Cos(askew)+150*math.Sin(askew))/100, moves(30), 1e-6)
}

// The note says what is true of this board: soap only where the finish cures, both
// faces only where both are free.
func TestTheNoteIsTrueOfTheBoard(t *testing.T) {
	says := func(change func(*Board)) string {
		s := sample()
		b := &s.Boards[0]
		b.Fit, b.Design.Recesses, b.Design.More = fitting.Choice{}, nil, nil
		b.Design.Handle = board.Handle{Kind: board.NoHandle}
		change(b)
		return strings.Join(must(t, s).Boards[0].Care, " ")
	}
	assert.Contains(t, says(func(*Board) {}), "Both faces may be used")
	for name, change := range map[string]func(*Board){
		"feet":  func(b *Board) { b.Fit.Feet = true },
		"pulls": func(b *Board) { b.Fit.Pulls = &fitting.Pull{Spacing: 64, Setback: 30, Foot: 10, Screw: 4} },
		"bevel": func(b *Board) { b.Design.Handle = board.Handle{Kind: board.Bevel, Flat: 6, Angle: 45} },
		"recess": func(b *Board) {
			b.Design.Recesses = []board.Recess{{Kind: "bowl", Length: 80, Width: 60, Depth: 5}}
		},
	} {
		assert.NotContains(t, says(change), "Both faces", name)
	}
	for _, school := range finish.Schools {
		note := says(func(b *Board) { b.Finish = finish.Choice{School: school.Name, Ratio: 3} })
		curing := slices.ContainsFunc(school.Acts, func(a finish.Act) bool {
			p, _ := finish.ProductOf(a.Product)
			return p.Cures
		})
		assert.Equal(t, curing, strings.Contains(note, "with little soap"), school.Name)
		assert.Equal(t, !curing, strings.Contains(note, "without soap"), school.Name)
	}
}
