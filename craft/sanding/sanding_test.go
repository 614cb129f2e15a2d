package sanding

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/rule"
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
	assert.Equal(t, []int{80, 100, 150, 220}, Quickest(face[0], 120, 80, 220, maple))
	few := maple
	few.Owned = []int{80, 220}
	assert.Equal(t, []int{80, 220}, Quickest(face[0], 120, 80, 220, few), "a bigger jump where the drawer forces it")
	few.Owned = []int{400}
	assert.Nil(t, Quickest(face[0], 120, 80, 220, few))
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
	assert.Equal(t, []int{180}, raises(grits, "once"))
	assert.Equal(t, []int{120, 180}, raises(grits, "twice"))
	assert.Equal(t, []int{80, 120, 180}, raises(grits, "after every grit"), "nothing is sanded after the last")
	assert.Empty(t, raises([]int{220}, "once"))
	assert.Empty(t, raises(grits, "never"))
	for humidity, wait := range map[float64]float64{20: 30, 40: 30, 55: 45, 70: 60, 90: 60} {
		c := maple
		c.Humidity = humidity
		p, _ := Make(face, Choice{Start: "planer", Last: 220, Raise: "once"}, c)
		assert.InDelta(t, wait, p.RaiseWait, 1e-9)
	}
}

func TestEverySurfaceHasItsOwnLadder(t *testing.T) {
	p, _ := Make(
		[]Surface{
			face[0],
			{Name: "edges", Area: 20000, Rate: EdgeRate, Wood: 6400},
			{Name: "live edge", Area: 8000, Rate: HandRate, Hand: 2, Wood: 6400},
		},
		Choice{Start: "planer", Last: 220, Raise: "once"},
		maple,
	)
	require.Len(t, p.Ladders, 3)
	assert.Len(t, p.Ladders[2].Rungs, 2)
	assert.Equal(t, 150, p.Ladders[2].Rungs[0].Grit)
	sum := 0.0
	for _, l := range p.Ladders {
		sum += l.Minutes
	}
	assert.InDelta(t, sum+4*2, p.Total.Value, 1e-9)
	assert.NotEmpty(t, p.Discs)
	assert.Empty(t, p.Coarser, "nothing coarser in the drawer")
}

// No ladder over the same grits is quicker than the quickest.
func TestQuickestIsQuickest(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		area := rapid.Float64Range(1e3, 1e6).Draw(t, "area")
		middle := []int{100, 120, 150, 180}
		best := climbing(t, area, nil)
		for bits := range 16 {
			ladder := []int{80}
			for i, g := range middle {
				if bits>>i&1 == 1 {
					ladder = append(ladder, g)
				}
			}
			ladder = append(ladder, 220)
			easy := true
			for i := 1; i < len(ladder); i++ {
				easy = easy && Jump(ladder[i-1], ladder[i]) <= EasyJump
			}
			if easy && climbing(t, area, ladder) < best-1e-9 {
				t.Fatalf("%v is quicker", ladder)
			}
		}
	})
}

func climbing(t *rapid.T, area float64, ladder []int) float64 {
	p, _ := Make(
		[]Surface{{Name: "faces", Area: area, Rate: 1, Wood: 4450}},
		Choice{Start: "planer", Last: 220, Ladder: ladder},
		maple,
	)
	return p.Ladders[0].Minutes
}

func TestChoiceCheck(t *testing.T) {
	assert.Empty(t, Choice{Start: "planer", Last: 220, Raise: "once", Ladder: []int{80, 120}}.Check("sand"))
	assert.Len(t, Choice{Start: "axe", Last: 7, Raise: "perhaps", Ladder: []int{120, 80}}.Check("sand"), 4)
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

// Where the drawer has gaps, the smallest widest jump comes first, then the time: no
// other ladder over the grits owned has a smaller one, and none with as small a one is
// quicker.
func TestTheLeastJumpComesFirst(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		owned := []int{80, 220}
		for _, g := range []int{100, 120, 150, 180} {
			if rapid.Bool().Draw(t, fmt.Sprint(g)) {
				owned = append(owned, g)
			}
		}
		slices.Sort(owned)
		c := Conditions{Owned: owned}
		widest := func(ladder []int) (w float64) {
			for i := range ladder[1:] {
				w = max(w, Jump(ladder[i], ladder[i+1]))
			}
			return w
		}
		took := func(ladder []int) (m float64) {
			rough := 120.0
			for _, g := range ladder {
				m += Minutes(face[0].Area, rough, g, face[0].Wood, 1, c.Rules.Get(rule.SandEff))
				rough = Leaves(g)
			}
			return m
		}
		got := Quickest(face[0], 120, 80, 220, c)
		inner := owned[1 : len(owned)-1]
		for set := range 1 << len(inner) {
			ladder := []int{80}
			for i, g := range inner {
				if set&(1<<i) != 0 {
					ladder = append(ladder, g)
				}
			}
			ladder = append(ladder, 220)
			mine, other := max(EasyJump, widest(got)), max(EasyJump, widest(ladder))
			if other < mine-1e-9 || other < mine+1e-9 && took(ladder) < took(got)-1e-9 {
				t.Fatalf("%v: jump %.2f in %.2f min; %v: %.2f in %.2f",
					got, mine, took(got), ladder, other, took(ladder))
			}
		}
	})
}

// An edge off the saw is as rough as the saw leaves it, whatever the faces were.
func TestSurfacesBeginAsTheirToolLeavesThem(t *testing.T) {
	edge := Surface{Name: "edges", Area: 2e4, Rate: EdgeRate, Wood: face[0].Wood, From: Rough(Sawn)}
	p, _ := Make([]Surface{face[0], edge}, Choice{Start: "hand plane", Last: 220, Raise: "once"}, maple)
	assert.Equal(t, 20.0, p.Ladders[0].Rough)
	assert.Equal(t, 500.0, p.Ladders[1].Rough)
}
