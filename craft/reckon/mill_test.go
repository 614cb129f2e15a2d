package reckon

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/milling"
	"idletimber/craft/plan"
	"idletimber/craft/sanding"
	"idletimber/craft/slab"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

func flatBoard() Scene {
	s := sample()
	s.Boards = s.Boards[:1]
	return s
}

// The sizes are one table read in both directions: where the wanted thickness is had, what
// comes out at each moment is what it asks for from there on.
func TestRoughAndFinished(t *testing.T) {
	r := must(t, flatBoard()).Boards[0]
	sizes := r.Milling.Sizes
	require.Len(t, sizes, 5)
	assert.Equal(t, r.Blank.Length(), sizes[0].Length)
	for _, o := range sizes[1:] {
		assert.InDelta(t, o.Thickness, o.Wanted, 1e-9, o.Name)
	}
	last := sizes[4]
	assert.InDelta(t, r.Budget.Sanded, last.Thickness, 1e-9)
	want := 20 + 2*0.15 + 0.5*float64(len(filledFaces(r))) + (r.Budget.Rough - r.Budget.Flat)
	assert.InDelta(t, want, sizes[0].Wanted, 1e-9, "wanted, sanding, filled faces, and what makes it flat")
	assert.Less(t, sizes[0].Wanted, r.Budget.Rough)
}

func filledFaces(r Reckoned) (faces []bool) {
	if r.Budget.Planed-r.Budget.Filled > 0.4 {
		faces = append(faces, true)
	}
	return faces
}

// Cut to its blank first, a hollow and a wound piece costs less thickness, by the width
// that is really flattened.
func TestCutFirstAgainstFlattenedFirst(t *testing.T) {
	s := flatBoard()
	s.Slab.Hollow, s.Slab.Wind = 4, 4
	first := must(t, s).Boards[0].Milling.First
	require.Len(t, first, 2)
	assert.Greater(t, first[0].Flat, first[1].Flat)
	share := first[0].Width / first[1].Width
	lost := func(i int, share, along float64) float64 { return 4*share*share + 4*share*along/2 + 1 }
	rough := 31.0
	assert.InDelta(t, rough-lost(0, min(1, share), first[0].Length/900), first[0].Flat, 0.05)
	assert.InDelta(t, rough-lost(1, 1, 1), first[1].Flat, 0.05)
}

// Only made flat, nothing is taken off for an even thickness; only sanded, nothing at all,
// and what still rocks is told with a way out that helps.
func TestEvenFlatOrOnlySanded(t *testing.T) {
	s := flatBoard()
	even := must(t, s).Boards[0]
	s.Boards[0].Cut.Faces = stock.FlatOnly
	flat := must(t, s).Boards[0]
	assert.Less(t, flat.Budget.Off, even.Budget.Off)
	assert.Greater(t, flat.Budget.Sanded, even.Budget.Sanded, "the wanted thickness is not planed to")
	s.Boards[0].Cut.Faces, s.Slab.Hollow, s.Slab.Wind = stock.SandOnly, 2, 1
	r := asked(t, s, Request{Weigh: s.First()}).Boards[0]
	assert.Zero(t, r.Budget.Off)
	assert.NotContains(t, keysOf(r), "flatten")
	assert.Zero(t, r.Blank.Snipe, "nothing goes through the planer")
	v := verdict(r, "rock")
	require.NotNil(t, v)
	require.Equal(t, craft.Mind, v.Level)
	require.NotEmpty(t, v.Remedies)
	for _, remedy := range v.Remedies {
		k := s
		k.Boards = []Board{apply(t, s.Boards[0], remedy.Patch)}
		assert.Nil(t, verdict(must(t, k).Boards[0], "rock"), remedy.Label)
	}
	s.Slab.Hollow, s.Slab.Wind = 0, 0
	assert.Equal(t, craft.Good, verdict(must(t, s).Boards[0], "rock").Level)
	assert.Contains(t, keysOf(must(t, s).Boards[0]), "rock", "a step with a look: both faces are used")
}

// A method of the maker's own holds; where its tools do not take the blank, that is told
// and the proposed one helps. A bite that is too deep is possible, and told.
func TestTheMakersMethodAndBite(t *testing.T) {
	s := flatBoard()
	s.Boards[0].Cut.Method = milling.Jointed
	r := asked(t, s, Request{Weigh: s.First()}).Boards[0]
	assert.Equal(t, milling.Jointed, r.Milling.By.Method)
	v := verdict(r, "method")
	require.NotNil(t, v)
	require.Len(t, v.Remedies, 1)
	s.Boards[0] = apply(t, s.Boards[0], v.Remedies[0].Patch)
	assert.Nil(t, verdict(must(t, s).Boards[0], "method"))
	s.Boards[0].Cut.Bite = 2.5
	r = asked(t, s, Request{Weigh: s.First()}).Boards[0]
	v = verdict(r, "bite")
	require.NotNil(t, v)
	assert.Equal(t, craft.Mind, v.Level)
	require.Len(t, v.Remedies, 1)
	s.Boards[0].Cut.Bite = 0.6
	assert.Equal(t, craft.Good, verdict(must(t, s).Boards[0], "bite").Level)
}

// What is drawn of the milling is what is reckoned: every pass cuts inside the rough
// piece, and the last cuts leave what is planed.
func TestTheProfileShowsThePasses(t *testing.T) {
	for name, change := range map[string]func(*Scene){
		"with a sled":    func(*Scene) {},
		"with a jointer": func(s *Scene) { s.Shop.Kit = s.Shop.With(tool.Tool{Kind: tool.Jointer, Width: 400}) },
		"by hand":        func(s *Scene) { s.Shop.Kit = s.Shop.Without(tool.Planer) },
	} {
		s := flatBoard()
		change(&s)
		r := must(t, s).Boards[0]
		require.Len(t, r.Milling.Seen, 2, name)
		for _, p := range r.Milling.Seen {
			assert.InDelta(t, r.Budget.Planed, p.Planed[1]-p.Planed[0], 1e-9, name)
			assert.InDelta(t, r.Budget.Sanded, p.Final[1]-p.Final[0], 1.01, name)
			low, high := 0.0, 1e9
			for _, c := range p.Cuts {
				if c.One {
					low = c.At
				} else {
					high = c.At
				}
			}
			if len(p.Cuts) > 0 {
				assert.InDelta(t, p.Planed[1], high, 1e-6, name)
				assert.InDelta(t, p.Planed[0], low, 1e-6, name)
			}
			for i, u := range p.Under {
				assert.LessOrEqual(t, u.Y, p.Over[i].Y, name)
			}
		}
	}
}

// One more tool would save what its method takes less.
func TestSavings(t *testing.T) {
	s := flatBoard()
	s.Shop.Kit = s.Shop.Without(tool.Planer, tool.Sled)
	r := must(t, s).Boards[0]
	require.NotEmpty(t, r.Savings)
	for _, saving := range r.Savings {
		k := s
		k.Shop.Kit = s.Shop.With(tool.New(saving.Tool))
		again := must(t, k).Boards[0]
		assert.Less(t, again.Milling.By.Minutes, r.Milling.By.Minutes, saving.Tool)
	}
	both := Savings([]Reckoned{r, r})
	assert.InDelta(t, 2*r.Savings[0].Minutes, both[0].Minutes, 1e-9)
	assert.Equal(t, 2, both[0].Boards)
}

// A piece that is away is waited for until the day on which it comes back, and somebody
// fetches it; what is begun on it begins as it was delivered. When it is back, nothing
// waits.
func TestAPieceThatIsAway(t *testing.T) {
	s := flatBoard()
	day := func(days int) string { return now.AddDate(0, 0, days).Format(time.DateOnly) }
	s.Boards[0].Design.Thickness = 0
	s.Slab.Bought = &slab.Bought{
		Work:      "planed",
		Thickness: 24,
		Grit:      80,
		CostCents: 1200,
		Leaves:    day(3),
		Back:      day(10),
	}
	require.Empty(t, s.Slab.Check("slab", now, nil))
	r := must(t, s).Boards[0]
	keys := keysOf(r)
	require.Equal(t, []string{"take-there", "fetch"}, keys[:2])
	take := step(t, r, "take-there")
	assert.Positive(t, take.Minutes)
	require.NotNil(t, take.WaitUntil)
	back := *s.Slab.Bought.BackAt(time.UTC)
	assert.True(t, take.WaitUntil.Equal(back))
	assert.Equal(t, 12, back.Hour(), "by day")
	fetch := step(t, r, "fetch")
	assert.False(t, fetch.Starts.Before(back))
	assert.NotContains(t, keys, "flatten", "it comes back thicknessed")

	s.Log = []LogEntry{{Subject: plan.Board("one"), Entry: plan.Entry{Step: "take-there", Event: plan.Finish, At: now}}}
	later := s
	later.Now = now.AddDate(0, 0, 8)
	assert.True(t, step(t, must(t, later).Boards[0], "take-there").WaitUntil.Equal(back), "the day does not move")
	s.Log = nil
	s.Slab.Bought.Leaves = day(-2)
	away := must(t, s).Boards[0]
	assert.Zero(t, step(t, away, "take-there").Minutes, "it is there")
	assert.Contains(t, step(t, away, "take-there").Title, "away")
	s.Slab.Bought.Back = day(-1)
	assert.NotContains(t, keysOf(must(t, s).Boards[0]), "take-there")
	for field, spoil := range map[string]func(*slab.Bought){
		"slab.bought.back":   func(b *slab.Bought) { b.Leaves, b.Back = day(5), day(2) },
		"slab.bought.leaves": func(b *slab.Bought) { b.Leaves = "soon" },
	} {
		v := *s.Slab
		b := *v.Bought
		spoil(&b)
		v.Bought = &b
		ps := v.Check("slab", now, nil)
		require.NotEmpty(t, ps, field)
		assert.Equal(t, field, ps[0].Field)
	}
}

// The hours with ears covered are those at machines, those with a respirator on those in
// dust.
func TestNoiseAndDust(t *testing.T) {
	r := must(t, flatBoard()).Boards[0]
	loud := 0.0
	for _, s := range r.Course.Steps {
		switch s.Kind {
		case plan.CrossCut, plan.Planing, plan.Bore, plan.Curve, plan.EdgeWork, plan.Sanding:
			loud += s.Minutes
		}
	}
	assert.InDelta(t, loud, figure(t, r, "give.noise").Value, 1e-6)
	assert.Less(t, figure(t, r, "give.dust").Value, loud)
}

// In a bare shop nothing is left undone in silence: what nothing makes is told, with what
// can be done, and flattening is somebody's errand.
func TestABareShop(t *testing.T) {
	s := flatBoard()
	s.Boards[0].Design.Handle.Kind = board.HeartCut
	s.Shop.Kit = tool.Kit{}
	r := must(t, s).Boards[0]
	told := map[string]bool{}
	for _, v := range r.Verdicts {
		if v.Check == "tool" || v.Subject == "saw for the outline" {
			told[v.Subject] = true
			assert.Equal(t, craft.Mind, v.Level)
			assert.NotEmpty(t, v.Reason)
		}
	}
	assert.True(t, told["saw for the outline"])
	assert.True(t, told["inner cuts"])
	assert.Equal(t, plan.Errand, step(t, r, "flatten").Kind)
	assert.Contains(t, step(t, r, "outline").Detail, "no band saw is owned")
	for _, v := range must(t, flatBoard()).Boards[0].Verdicts {
		assert.NotEqual(t, "tool", v.Check)
	}
}

// The first grit follows what the faces were milled with, until the maker says otherwise.
func TestSandingBeginsWithWhatMillingLeaves(t *testing.T) {
	s := sample()
	s.Boards = s.Boards[:1]
	b := &s.Boards[0]
	b.Sand.Start = sanding.AsMilled
	drum := tool.New(tool.DrumSander)
	for _, tt := range []struct {
		method, faces string
		grit          int // of the drum
		bought        int // grit that it came with
		want          string
	}{
		{milling.Sledded, "", 80, 0, "planer"},
		{milling.Jointed, "", 80, 0, "planer"},
		{milling.RouterSled, "", 80, 0, "planer"},
		{milling.Drummed, "", 80, 0, "drum P80"},
		{milling.Drummed, "", 120, 0, "sanded P120"},
		{milling.HandPlaned, "", 80, 0, "hand plane"},
		{milling.BeltSanded, "", 80, 0, "drum P80"},
		{milling.Outside, "", 80, 150, "sanded P150"},
		{"", stock.SandOnly, 80, 180, "sanded P180"},
		{"", stock.SandOnly, 80, 0, "bought surfaced"},
	} {
		drum.Grit, drum.Width, drum.Height = tt.grit, 900, 200
		s.Shop.Kit = s.Shop.Without(tool.DrumSander)
		s.Shop.Tools = append(s.Shop.Tools, drum)
		b.Cut.Method, b.Cut.Faces = tt.method, tt.faces
		s.Slab.Bought = nil
		if tt.bought > 0 {
			s.Slab.Bought = &slab.Bought{Work: "sanded", Grit: tt.bought}
		}
		r := must(t, s).Boards[0]
		assert.Equal(t, tt.want, r.Sanding.Start, "%+v, milled by %q", tt, r.Milling.By.Method)
	}
	b.Sand.Start = "band saw"
	assert.Equal(t, "band saw", must(t, s).Boards[0].Sanding.Start)
}
