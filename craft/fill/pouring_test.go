package fill

import (
	"fmt"
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft/plan"
)

var evening = time.Date(2031, 5, 6, 19, 0, 0, 0, time.UTC)

// atScale is a pour at the bench: what is noted, a minute apart.
type atScale struct {
	mix Mix
	log []plan.Entry
	at  time.Time

	here func(time.Time) bool // somebody is at the bench
}

func (a *atScale) note(what string, value float64) Pouring {
	a.at = a.at.Add(time.Minute)
	a.log = append(a.log, plan.Entry{Step: PourKey + "1", Event: plan.Noted, At: a.at, What: what, Value: value})
	return a.now()
}

func (a *atScale) now() Pouring { return a.mix.Follow(0, a.log, 0.1, 20, a.here) }

func weighing(t *testing.T, c Choice, k Conditions) *atScale {
	t.Helper()
	c.Resin, k.Temperature, k.ScaleStep = "casting", 20, 0.1
	voids := filled([]Void{{Name: "knot", Volume: 60, Depth: 20, Width: 40, Area: 3000, Chosen: Epoxy}})
	mix, _, ok := Pour(voids, c, k)
	require.True(t, ok)
	return &atScale{mix: mix, at: evening}
}

// A pour from the empty cup to the account: what is asked for, by what was really poured.
func TestAPourStepByStep(t *testing.T) {
	a := weighing(t, Choice{Colour: &Colour{Kind: Opaque, Hue: "#2a5caa"}}, Conditions{})
	p := a.now()
	assert.Equal(t, Weighing, p.Phase)
	assert.Equal(t, NoteResin, p.Ask.What)
	assert.InDelta(t, a.mix.ResinG.Value, p.Ask.Grams, 1e-9)
	p = a.note(NoteTare, 11.2)
	assert.InDelta(t, 11.2, p.Tare, 1e-9)
	p = a.note(NoteResin, 60)
	assert.Equal(t, NoteHardener, p.Ask.What, "more than was asked: the hardener follows")
	assert.InDelta(t, 60*p.Wanted.HardenerG/p.Wanted.ResinG, p.Ask.Grams, 1e-9)
	assert.InDelta(t, 71.2, p.Tare, 1e-9)
	p = a.note(NoteHardener, p.Ask.Grams+3)
	require.NotNil(t, p.Ask)
	assert.Equal(t, NoteResin, p.Ask.What, "too much hardener is mended with resin")
	assert.True(t, p.Ask.Mends)
	assert.InDelta(t, 3*p.Wanted.ResinG/p.Wanted.HardenerG, p.Ask.Grams, 1e-6)
	p = a.note(NoteResin, p.Ask.Grams)
	assert.Equal(t, NotePigment, p.Ask.What)
	mass := p.Weighed[0].ResinG + p.Weighed[0].HardenerG
	assert.InDelta(t, 0.03*mass, p.Ask.Grams, 1e-6)
	p = a.note(NotePigment, p.Ask.Grams)
	assert.Equal(t, Mixing, p.Phase)
	p = a.note(NoteMix, 0)
	assert.Equal(t, PourIn, p.Phase)
	assert.Equal(t, a.at.Add(3*time.Minute), *p.MixUntil)
	works := Choice{}.Kind("casting").WorkingIn(p.Weighed[0].ResinG/1.13+p.Weighed[0].HardenerG/1.0, 20)
	assert.InDelta(t, works, p.WorkUntil.Sub(a.at).Minutes(), 0.01)
	p = a.note(NotePoured, 0)
	assert.Equal(t, Watching, p.Phase)
	poured := a.at
	assert.Equal(t, poured.Add(10*time.Minute), p.Looks[0].At)
	assert.Equal(t, poured.Add(time.Hour), p.Looks[2].At)
	assert.Equal(t, poured.Add(2*time.Hour), p.Looks[3].At)
	p = a.note(NoteHeat, 0)
	p = a.note(NoteTopUp, 12)
	assert.Equal(t, 1, p.Heat)
	for range p.Looks {
		p = a.note(NoteLook, 2)
	}
	assert.Equal(t, Settling, p.Phase)
	assert.InDelta(t, 2*float64(len(p.Looks)), p.Lost, 1e-9)
	assert.InDelta(t, p.Mixed-p.Lost-2*8, p.Stayed, 1e-9, "two cups")
	_, over := p.Sample()
	assert.False(t, over)
	p = a.note(NoteUsed, 66)
	taught, over := p.Sample()
	assert.True(t, over)
	assert.InDelta(t, 60, taught.Net, 1e-9)
	assert.InDelta(t, 2, taught.Cups, 1e-9)
	p = a.note(plan.Back, 0)
	assert.Equal(t, Settling, p.Phase, "taken back")
	a.log = append(a.log, plan.Entry{Step: PourKey + "1", Event: plan.Undo, At: a.at})
	assert.Equal(t, Weighing, a.now().Phase, "not begun after all: nothing of it counts")
}

// A look at an hour at which nobody is at the bench is told so, and holds nothing up.
func TestLooksAfterTheSession(t *testing.T) {
	a := weighing(t, Choice{}, Conditions{})
	closes := evening.Add(20 * time.Minute)
	a.here = func(at time.Time) bool { return !at.After(closes) }
	a.note(NoteResin, a.now().Ask.Grams)
	a.note(NoteHardener, a.now().Ask.Grams)
	a.note(NoteMix, 0)
	p := a.note(NotePoured, 0)
	require.Greater(t, len(p.Looks), 3)
	for i, l := range p.Looks {
		assert.Equal(t, i > 2, l.Away, "whoever pours stays for the first hour")
	}
	for range 2 {
		assert.Equal(t, Watching, a.note(NoteLook, 0).Phase)
	}
	assert.Equal(t, Settling, a.note(NoteLook, 0).Phase)
}

// Whatever is poured by an unsteady hand, following what is asked comes to a good mixture, and
// in a few turns.
func TestFollowingWhatIsAskedEndsWell(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		kind := rapid.SampledFrom(Kinds()).Draw(t, "kind")
		voids := filled([]Void{{
			Volume: rapid.Float64Range(1, 2000).Draw(t, "ml"), Depth: 3, Width: 40, Area: 3000, Chosen: Epoxy,
		}})
		step := rapid.SampledFrom([]float64{0.01, 0.1, 1}).Draw(t, "step")
		k := Conditions{Temperature: 20, ScaleStep: step, Cup: rapid.SampledFrom([]float64{0, 250, 500}).Draw(t, "cup")}
		mix, _, _ := Pour(voids, Choice{Resin: kind, ByMass: rapid.Bool().Draw(t, "by mass")}, k)
		a := &atScale{mix: mix, at: evening}
		follow := func() Pouring { return mix.Follow(0, a.log, step, 20, nil) }
		for turns := 0; ; turns++ {
			p := follow()
			if p.Phase == Watching {
				break
			}
			if turns > 60*mix.Batches {
				t.Fatalf("no end: %+v", p.Ask)
			}
			switch p.Phase {
			case Mixing:
				w, ratio := p.Weighed[len(p.Weighed)-1], p.Wanted.HardenerG/p.Wanted.ResinG
				off := math.Abs(w.HardenerG - w.ResinG*ratio)
				assert.LessOrEqual(t, off, max(slack*w.ResinG*ratio, step)+1e-9)
				a.note(NoteMix, 0)
			case PourIn:
				a.note(NotePoured, 0)
			default:
				hand := rapid.Float64Range(0.8, 1.15).Draw(t, "hand")
				a.note(p.Ask.What, max(step, math.Round(p.Ask.Grams*hand/step)*step))
			}
		}
		assert.Len(t, follow().Weighed, mix.Batches)
	})
}

// A cup, or a scale, that holds less splits the pour; every batch fits, and leaves its cup.
func TestBatches(t *testing.T) {
	plain := weighing(t, Choice{}, Conditions{}).mix
	assert.Equal(t, 1, plain.Batches)
	for _, k := range []Conditions{{Cup: 30}, {ScaleMost: 55}, {Cup: 25, ScaleMost: 60}} {
		m := weighing(t, Choice{}, k).mix
		require.Greater(t, m.Batches, 1)
		ml, grams := m.Total.Value/float64(m.Batches), m.Batch.ResinG+m.Batch.HardenerG
		if k.Cup > 0 {
			assert.LessOrEqual(t, ml, k.Cup)
		}
		if k.ScaleMost > 0 {
			assert.LessOrEqual(t, grams+cupWeighs, k.ScaleMost)
		}
		assert.InDelta(t, 60*1.1+8*float64(m.Batches), m.Total.Value, 1e-9)
		assert.GreaterOrEqual(t, grams, leastMix-1e-9)
		assert.InDelta(t, m.ResinG.Value, m.Batch.ResinG*float64(m.Batches), 1e-9)
	}
}

// None left ends the rounds; as long as there are holes, one more look follows.
func TestRoundsEndWhenNoneAreLeft(t *testing.T) {
	log := []plan.Entry{}
	look := func(round int, holes float64) []Look {
		key := fmt.Sprintf("%s%d", PinholeKey, round)
		log = append(log, plan.Entry{Step: key, Event: plan.Noted, What: NoteHoles, Value: holes, At: evening})
		return LooksAt(log)
	}
	rounds := func(looks []Look) int { return Choice{}.rounds(Conditions{Looks: looks}) }
	assert.Equal(t, 2, rounds(nil))
	assert.Equal(t, 2, rounds(look(1, 5)))
	assert.Equal(t, 3, rounds(look(2, 2)))
	assert.Equal(t, 2, rounds(look(3, 0)))
	assert.Equal(t, 0, Choice{}.rounds(Conditions{Looks: []Look{{1, 0}}}))
	// One that was mistaken is taken back.
	log = append(log, plan.Entry{Step: PinholeKey + "3", Event: plan.Noted, What: plan.Back, At: evening})
	assert.Equal(t, 3, rounds(LooksAt(log)))
}

func TestWhatCanBeNoted(t *testing.T) {
	for _, c := range []struct {
		step, what string
		value      float64
		place      bool
		wrong      int
	}{
		{DamKey, NoteLeak, 0, true, 0}, {DamKey, NoteLeak, 0, false, 1}, {DamKey, NoteResin, 5, false, 1},
		{PourKey + "1", NoteResin, 5, false, 0}, {PourKey + "1", NoteResin, 0, false, 1},
		{PourKey + "1", NoteResin, -5, false, 1}, {PourKey + "1", NoteResin, math.NaN(), false, 1},
		{PourKey + "1", NoteResin, 1e9, false, 1}, {PourKey + "1", NoteMix, 0, false, 0},
		{PourKey + "2", "song", 0, false, 1}, {PinholeKey + "1", NoteHoles, 0, false, 0},
		{PinholeKey + "1" + FlushKey, NoteHoles, 2, false, 1}, {"sand-80", NoteResin, 2, false, 1},
	} {
		assert.Len(t, plan.Unfit(Notings, c.step, c.what, c.value, c.place), c.wrong, "%+v", c)
	}
	for _, noting := range Notings {
		for _, n := range noting.What {
			assert.NotEmpty(t, plan.Said(Notings, n.What, 2), n.What)
		}
	}
	assert.Equal(t, "no pinholes left", plan.Said(Notings, NoteHoles, 0))
}

// Four pours that soaked up more than the rule move the factor half way; leaks ask for a reserve.
func TestPoursTeach(t *testing.T) {
	one := Poured{Net: 100, Mixed: 140, Used: 120, Lost: 8, Cups: 1}
	h := Learn([]Poured{one, one, one, one})
	assert.InDelta(t, (1.10+1.20)/2, h.soak(nil), 1e-9)
	assert.InDelta(t, (8+12)/2.0, h.cup(nil), 1e-9)
	assert.InDelta(t, 0.04, h.leaks(), 1e-9)
	v, ok := h.reserved(500, 0)
	require.True(t, ok)
	assert.Equal(t, "mind", string(v.Level))
	v, _ = h.reserved(500, 20)
	assert.Equal(t, "good", string(v.Level))
	assert.Equal(
		t,
		Habit{},
		Learn([]Poured{{}, {Net: 10, Mixed: 5, Used: 50, Cups: 1}}),
		"what cannot be teaches nothing",
	)
	_, ok = Habit{}.reserved(500, 0)
	assert.False(t, ok)
	// More pours weigh more than fewer, and never more than they themselves tell.
	before := 1.10
	for n := 1; n < 30; n++ {
		now := Learn(make([]Poured, n)).soak(nil)
		assert.InDelta(t, 1.10, now, 1e-9)
		many := []Poured{}
		for range n {
			many = append(many, one)
		}
		soak := Learn(many).soak(nil)
		assert.Greater(t, soak, before)
		assert.Less(t, soak, 1.2)
		before = soak
	}
}
