package sanding

import (
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/plan"
)

var (
	maple = Conditions{Owned: []int{80, 100, 120, 150, 180, 220}, Humidity: 55}
	face  = []Surface{{Name: "faces", Area: 90000, Rate: 1, Wood: 6400}}
)

func minutes(t *testing.T, ladder ...int) Ladder {
	t.Helper()
	p, _ := Make(face, Choice{Start: "planer", Last: ladder[len(ladder)-1], Ladder: ladder}, maple)
	return p.Ladders[0]
}

func TestWorkedLadders(t *testing.T) {
	l := minutes(t, 80, 120, 180, 220)
	for i, want := range []float64{3.34, 1.33, 1.05, 0.96} {
		assert.InDelta(t, want, l.Rungs[i].Minutes, 0.006)
	}
	assert.InDelta(t, 6.68, l.Minutes, 0.006)
	assert.InDelta(t, 6.55, minutes(t, 80, 100, 150, 220).Minutes, 0.006)
	assert.InDelta(t, 7.12, minutes(t, 80, 220).Minutes, 0.006)
	assert.InDelta(t, 50.25, l.Rungs[0].Leaves, 1e-9)
}

func TestQuickest(t *testing.T) {
	quick := func(owned ...int) []int { return Quickest(face[0], StartOf(Planed), 220, owned, 0.4) }
	assert.Equal(t, []int{80, 100, 150, 220}, quick(maple.Owned...))
	assert.Equal(t, []int{80, 220}, quick(80, 220), "a bigger jump where the drawer forces it")
	assert.Nil(t, quick(400))
}

func TestJudge(t *testing.T) {
	level := func(choice Choice, c Conditions, check string) craft.Level {
		_, r := Make(face, choice, c)
		for _, v := range r.Verdicts {
			if v.Check == check {
				return v.Level
			}
		}
		return craft.Good
	}
	base := Choice{Start: "planer", Last: 220, Raise: "once"}
	assert.Equal(t, craft.Good, level(base, maple, "jump"))
	base.Ladder = []int{80, 150, 220}
	assert.Equal(t, craft.Mind, level(base, maple, "jump"))
	base.Ladder = []int{80, 220}
	assert.Equal(t, craft.Stop, level(base, maple, "jump"))
	base.Ladder = []int{220}
	assert.Equal(t, craft.Stop, level(base, maple, "jump"), "starting too fine is a jump as well")
	base.Ladder, base.Last = nil, 320
	assert.Equal(t, craft.Mind, level(base, maple, "grits-owned"))
	base.Raise = "never"
	assert.Equal(t, craft.Mind, level(base, maple, "raise"))
}

func TestRaising(t *testing.T) {
	grits := []int{80, 120, 180, 220}
	assert.Equal(t, []int{180}, raises(grits, Choice{Raise: Once}))
	assert.Equal(t, []int{120, 180}, raises(grits, Choice{Raise: Twice}))
	assert.Equal(t, []int{80, 120, 180}, raises(grits, Choice{Raise: EveryGrit}), "nothing is sanded after the last")
	assert.Empty(t, raises([]int{220}, Choice{Raise: Once}))
	assert.Empty(t, raises(grits, Choice{Raise: Never}))
	for humidity, wait := range map[float64]float64{20: 30, 40: 30, 55: 45, 70: 60, 90: 60} {
		c := maple
		c.Humidity = humidity
		p, _ := Make(face, Choice{Start: "planer", Last: 220, Raise: "once"}, c)
		assert.InDelta(t, wait, p.RaiseWait, 1e-9)
	}
}

// The surfaces of a board begin as their tools leave them, each by its own first grit, and go
// through the grits of the board.
func TestEverySurfaceHasItsOwnLadder(t *testing.T) {
	on := maple
	on.Owned = append([]int{60}, maple.Owned...)
	p, r := Make([]Surface{
		{Name: "show face", Area: 45000, Rate: 1, Wood: 6400}, {Name: "under face", Area: 45000, Rate: 1, Wood: 6400},
		{Name: "edges", Area: 20000, Rate: EdgeRate, Wood: 6400, Start: StartOf(Sawn)},
		{Name: "round-over", Area: 6000, Rate: EdgeRate, Wood: 6400, Start: StartOf(Routed)},
		{Name: "floor of well", Area: 9000, Rate: RecessRate, Wood: 6400, Start: StartOf(Gouged)},
		{Name: "inside of hole 1", Area: 1500, Rate: HandRate, Wood: 6400, Start: StartOf(BoredWall), Tool: Strip},
		{Name: "live edge", Area: 8000, Rate: HandRate, Fine: 2, Wood: 6400},
	}, Choice{Start: Planed, Last: 220, Raise: Once}, on)
	want := map[string][]int{
		"show face": {80, 100, 150, 220}, "under face": {80, 100, 150, 220}, "edges": {60, 100, 150, 220},
		"round-over": {150, 220}, "floor of well": {60, 100, 150, 220}, "inside of hole 1": {150, 220},
		"live edge": {150, 220},
	}
	sum := 0.0
	for _, l := range p.Ladders {
		assert.Equal(t, want[l.Surface], l.grits(), l.Surface)
		sum += l.Minutes
	}
	require.Len(t, p.Ladders, len(want))
	assert.Equal(t, []int{60, 80, 100, 150, 220}, p.All)
	assert.InDelta(t, sum+5*2, p.Total.Value, 1e-9)
	assert.Contains(t, r.Steps[0].Detail, "edges")
	assert.NotContains(t, r.Steps[0].Detail, "show face", "the faces come in at their own grit")
	var steps float64
	for _, s := range r.Steps {
		if s.Kind == plan.Sanding {
			steps += s.Usual
		}
	}
	assert.InDelta(t, p.Total.Value, steps, 1e-9, "what the plan waits is what the panel says")
}

// A surface that is set by itself differs in what was set, and in nothing else.
func TestASurfaceSetByItself(t *testing.T) {
	two := []Surface{
		{Name: "show face", Area: 45000, Rate: 1, Wood: 6400},
		{Name: "edges", Area: 20000, Rate: EdgeRate, Wood: 6400, Start: StartOf(Sawn)},
	}
	edges := func(o Own) (Ladder, []craft.Verdict) {
		o.Surface = "edges"
		on := maple
		on.Tools = []string{"orbital sander"}
		p, r := Make(two, Choice{Start: Planed, Last: 220, Raise: Once, Own: []Own{o}}, on)
		assert.Equal(t, []int{80, 100, 150, 220}, p.Ladders[0].grits())
		return p.Ladders[1], r.Verdicts
	}
	has := func(vs []craft.Verdict, check string) bool {
		return slices.ContainsFunc(
			vs,
			func(v craft.Verdict) bool { return v.Check == check && v.Level != craft.Good },
		)
	}
	plain, vs := edges(Own{})
	assert.False(t, has(vs, "sand-tool"))
	belt, vs := edges(Own{Tool: Belt})
	assert.True(t, has(vs, "sand-tool"), "it is not owned")
	assert.Equal(t, Belt, belt.Rungs[0].By)
	assert.Empty(t, belt.Rungs[1].By, "a belt is for the first grit")
	assert.InDelta(t, plain.Rungs[0].Minutes*EdgeRate/3, belt.Rungs[0].Minutes, 1e-9, "one factor: the tool's")
	assert.Equal(t, plain.Rungs[1].Minutes, belt.Rungs[1].Minutes)
	byHand, _ := edges(Own{Hand: 1})
	assert.Equal(t, ByHand, byHand.Rungs[len(byHand.Rungs)-1].By)
	last, _ := edges(Own{Last: 180})
	assert.Equal(t, 180, last.Rungs[len(last.Rungs)-1].Grit)
	fine, _ := edges(Own{Last: 400})
	assert.Equal(t, 400, fine.Rungs[len(fine.Rungs)-1].Grit)
	smooth, _ := edges(Own{Start: "sanded P120"})
	assert.Equal(t, 150, smooth.Rungs[0].Grit)
	jumps, vs := edges(Own{Ladder: []int{80, 220}})
	assert.Equal(t, []int{80, 220}, jumps.grits())
	assert.True(t, has(vs, "jump"))
	i := slices.IndexFunc(vs, func(v craft.Verdict) bool { return v.Check == "jump" && v.Subject == "edges" })
	require.NotEmpty(t, vs[i].Remedies)
	assert.Empty(t, vs[i].Remedies[0].Patch["sand"].(map[string]any)["own"])
}

// The quickest ladder equals the best of all that there are, whatever the drawer, the start, the
// hardness, the tool and the grits by hand: the smallest widest jump comes first, then the time.
func TestQuickestEqualsAnExhaustiveSearch(t *testing.T) {
	r := rand.New(rand.NewPCG(16, 1))
	for range 5000 {
		s := Surface{Name: "s", Area: 1e3 + r.Float64()*3e5, Rate: []float64{1, EdgeRate, RecessRate}[r.IntN(3)],
			Wood: 1500 + r.Float64()*12000, Hand: r.IntN(4)}
		if r.IntN(2) == 0 {
			s.Tool = Tools[r.IntN(len(Tools))].Name
		}
		if r.IntN(4) == 0 {
			s.Slow = 320
		}
		var drawer []int
		for _, g := range Grits {
			if r.IntN(2) == 0 {
				drawer = append(drawer, g)
			}
		}
		start, last := starts[r.IntN(len(starts))], Grits[r.IntN(len(Grits))]
		got := Quickest(s, start, last, drawer, 0.4)
		within := between(drawer, start.Coarsest, last)
		if len(within) == 0 {
			require.Nil(t, got)
			continue
		}
		took := func(ladder []int) (jump, minutes float64) {
			jump = EasyJump
			rough := start.Rough
			for i, g := range ladder {
				rate := s.Rate
				for _, tl := range Tools {
					if tl.Name == s.Tool && (tl.Name != Belt || i == 0) {
						rate = tl.Rate
					}
				}
				if i >= len(ladder)-s.Hand {
					rate = 0.1
				}
				if s.Slow > 0 && g >= s.Slow {
					rate /= 2
				}
				if i > 0 {
					jump = max(jump, Jump(ladder[i-1], g))
				}
				minutes += Minutes(s.Area, rough, g, s.Wood, rate, 0.4)
				rough = Leaves(g)
			}
			return jump, minutes
		}
		bestJump, best := math.Inf(1), math.Inf(1)
		n := len(within)
		for set := range 1 << max(0, n-2) {
			ladder := []int{within[0]}
			for i := 1; i < n-1; i++ {
				if set>>(i-1)&1 == 1 {
					ladder = append(ladder, within[i])
				}
			}
			if n > 1 {
				ladder = append(ladder, within[n-1])
			}
			jump, minutes := took(ladder)
			if jump < bestJump-1e-9 || jump < bestJump+1e-9 && minutes < best {
				bestJump, best = min(jump, bestJump), minutes
			}
		}
		jump, minutes := took(got)
		require.InDelta(t, bestJump, jump, 1e-6, "%+v from %v to P%d in %v: %v", s, start, last, drawer, got)
		require.InDelta(t, best, minutes, 1e-6, "%+v from %v to P%d in %v: %v", s, start, last, drawer, got)
	}
}

func TestChoiceCheck(t *testing.T) {
	assert.Empty(t, Choice{Start: "planer", Last: 220, Raise: "once", Ladder: []int{80, 120}}.Check("sand"))
	assert.Len(t, Choice{Start: "axe", Last: 7, Raise: "perhaps", Ladder: []int{120, 80}}.Check("sand"), 4)
	own := Choice{Raise: Once, Own: []Own{{Surface: "edges", Tool: "plane", Last: 7, Ladder: []int{120, 80}}}}
	assert.Len(t, own.Check("sand"), 3)
}

// A grit leaves its own scratches, also on a face that was smoother, and the next one
// has them to take out; a ladder that begins too coarse is told.
func TestAGritLeavesItsOwnScratch(t *testing.T) {
	p, _ := Make(face, Choice{Start: "hand plane", Last: 220, Raise: "once", Ladder: []int{150, 220}}, maple)
	assert.Equal(t, Leaves(150), p.Ladders[0].Rungs[0].Leaves)
	assert.Greater(t, Leaves(150), Rough("hand plane"))
	coarse := Choice{Start: "hand plane", Last: 220, Raise: "once", Ladder: []int{80, 120, 180, 220}}
	p, r := Make(face, coarse, maple)
	assert.Equal(t, Leaves(80), p.Ladders[0].Rungs[0].Leaves)
	i := slices.IndexFunc(r.Verdicts, func(v craft.Verdict) bool { return v.Check == "coarse-start" })
	require.GreaterOrEqual(t, i, 0)
	require.NotEmpty(t, r.Verdicts[i].Remedies)
	coarse.Ladder = nil
	_, r = Make(face, coarse, maple)
	for _, v := range r.Verdicts {
		assert.NotEqual(t, "coarse-start", v.Check, "the remedy helps")
	}
	_, r = Make(face, Choice{Start: "planer", Last: 220, Raise: "once"}, maple)
	for _, v := range r.Verdicts {
		assert.NotEqual(t, "coarse-start", v.Check)
	}
}

// An edge off the saw is as rough as the saw leaves it, whatever the faces were.
func TestSurfacesBeginAsTheirToolLeavesThem(t *testing.T) {
	edge := Surface{Name: "edges", Area: 2e4, Rate: EdgeRate, Wood: face[0].Wood, Start: StartOf(Sawn)}
	p, _ := Make([]Surface{face[0], edge}, Choice{Start: "hand plane", Last: 220, Raise: "once"}, maple)
	assert.Equal(t, 20.0, p.Ladders[0].Rough)
	assert.Equal(t, 500.0, p.Ladders[1].Rough)
}

// The ways to raise the grain side by side: each more costs a drying, and buys less.
func TestWettings(t *testing.T) {
	p, _ := Make(face, Choice{Start: Planed, Last: 220, Raise: Once}, maple)
	require.Len(t, p.Wettings, 4)
	by := map[string]Wetting{}
	for _, w := range p.Wettings {
		by[w.School] = w
	}
	assert.Equal(t, 80.0, by[Once].Takes)
	assert.Equal(t, 95.0, by[Twice].Takes)
	assert.Equal(t, by[Twice].Takes, by[EveryGrit].Takes, "the rest is not felt")
	assert.Zero(t, by[Never].Takes)
	assert.InDelta(t, 45, by[Once].Drying, 1e-9)
	assert.InDelta(t, 90, by[Twice].Drying, 1e-9)
	assert.InDelta(t, 3*by[Once].HandsOn, by[EveryGrit].HandsOn, 1e-9)
}

// Water after the last grit raises what nothing takes off: it is sanded once more.
func TestPickedWettings(t *testing.T) {
	keys := func(wet ...int) (out []string) {
		p, r := Make(face, Choice{Start: Planed, Last: 220, Raise: Picked, Wet: wet}, maple)
		for _, w := range p.Wettings {
			if w.School == Picked {
				assert.Len(t, w.After, len(p.RaiseAfter))
			}
		}
		for _, s := range r.Steps {
			out = append(out, s.Key)
		}
		return out
	}
	assert.Equal(t, []string{"sand-80", "sand-100", "raise-100", "sand-150", "sand-220"}, keys(100))
	assert.Equal(t, []string{"sand-80", "sand-100", "sand-150", "sand-220", "raise-220", "sand-220-again"}, keys(220))
	assert.NotContains(t, keys(120), "raise-120", "a grit that is not climbed")
}

// The last grit is proposed by finish and wood, and what is finer has its price.
func TestTheLastGritIsProposed(t *testing.T) {
	for want, asked := range map[int][]Asked{
		180: {{Finish: "curing oil"}, {Finish: "oil", Rustic: true}, {Finish: "paste", Softwood: true}},
		220: {{Finish: "oil"}, {Finish: "paste"}, {Finish: "hard wax"}, {}, {Finish: "curing oil", Dark: true}},
		240: {{Finish: "paste", Dark: true}, {Finish: "oil", Figured: true}},
	} {
		for _, a := range asked {
			on := maple
			on.Asked = a
			on.Owned = append(slices.Clone(maple.Owned), 240, 320)
			p, _ := Make(face, Choice{Start: Planed, Raise: Once}, on)
			assert.Equal(t, want, p.Proposed.Grit, "%+v", a)
			assert.Equal(t, want, p.Grits[len(p.Grits)-1], "%+v", a)
			assert.Greater(t, p.Proposed.Finer, want)
			assert.Positive(t, p.Proposed.Minutes, "%+v", a)
			assert.NotEmpty(t, p.Proposed.Why)
		}
	}
	p, _ := Make(
		face,
		Choice{Start: Planed, Raise: Once},
		Conditions{Owned: maple.Owned, Asked: Asked{Finish: "paste"}},
	)
	assert.Zero(t, p.Proposed.Finer, "nothing finer in the drawer")
	p, _ = Make(face, Choice{Raise: Once}, Conditions{Owned: maple.Owned, Asked: Asked{Finish: "oil", Dark: true}})
	assert.Equal(t, 220, p.Proposed.Grit, "one finer is not in the drawer")
	assert.Contains(t, p.Proposed.Why, "P240")
}

func TestCornersAndCues(t *testing.T) {
	_, plain := Make(face, Choice{Start: Planed, Last: 220, Raise: Once}, maple)
	_, round := Make(face, Choice{Start: Planed, Last: 220, Raise: Once, Corners: true}, maple)
	first, last := plain.Steps[0], plain.Steps[len(plain.Steps)-1]
	assert.InDelta(t, first.Usual+corners, round.Steps[0].Usual, 1e-9)
	assert.InDelta(t, last.Usual+corners, round.Steps[len(round.Steps)-1].Usual, 1e-9)
	count := func(word string) (n int) {
		for _, s := range plain.Steps {
			if strings.Contains(s.Detail, word) {
				n++
			}
		}
		return n
	}
	for _, cue := range []string{"light pressure", "four corners", "fingertip", "missed scratches"} {
		assert.Equal(t, 1, count(cue), cue)
	}
	assert.Contains(t, last.Detail, "fingertip")
	hole := func(name string) Surface {
		return Surface{Name: name, Area: 1500, Rate: HandRate, Wood: 6400, Start: StartOf(BoredWall), Tool: Strip}
	}
	_, two := Make([]Surface{face[0], hole("one hole"), hole("another")}, Choice{Start: Planed, Last: 220, Raise: Once},
		maple)
	told := 0
	for _, s := range two.Steps {
		told += strings.Count(s.Detail, "back of the sheet")
	}
	assert.Equal(t, 1, told, "once for both holes")
}

// A board of twelve surfaces is planned within a millisecond.
func BenchmarkTwelveSurfaces(b *testing.B) {
	var all []Surface
	for i := range 12 {
		all = append(
			all,
			Surface{Name: starts[i].Name, Area: 2e4, Rate: EdgeRate, Start: starts[i], Wood: 5000, Hand: i % 3},
		)
	}
	on := Conditions{Owned: Grits, Humidity: 50}
	for b.Loop() {
		Make(all, Choice{Last: 400, Raise: Once}, on)
	}
}

// Where the grits of the board would skip on a surface, it takes one between from the drawer.
func TestASurfaceSkipsNoGrit(t *testing.T) {
	on := maple
	on.Owned = []int{80, 120, 150, 220}
	p, _ := Make([]Surface{
		{Name: "show face", Area: 45000, Rate: 1, Wood: 6400, Start: Start{"planer", 50, 80}},
		{Name: "inside of hole 1", Area: 1500, Rate: HandRate, Wood: 6400, Start: StartOf(BoredWall)},
	}, Choice{Last: 220, Raise: Once}, on)
	for _, l := range p.Ladders {
		worst, at := widest(l.grits(), StartOf(l.Start))
		assert.LessOrEqual(t, worst, EasyJump, "%s: %v into P%d", l.Surface, l.grits(), at)
	}
}
