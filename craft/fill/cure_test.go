package fill

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
)

var poured = time.Date(2031, 4, 22, 20, 0, 0, 0, time.UTC)

// hourly are readings every two hours from the pour on.
func hourly(celsius ...float64) (out []Warmth) {
	for i, c := range celsius {
		out = append(out, Warmth{poured.Add(time.Duration(2*i) * time.Hour), c})
	}
	return out
}

func repeat(c float64, n int) (out []float64) {
	for range n {
		out = append(out, c)
	}
	return out
}

// Casting, 12 h at 19, 12 h at 18: 15.30 h; 48 h to sand at 21 from there: 43.1 h more.
func TestCureByTheWarmthItHad(t *testing.T) {
	m := Room{Read: hourly(append(repeat(19, 6), repeat(18, 6)...)...), Usual: 21}
	m.Read = append(m.Read, Warmth{poured.Add(24 * time.Hour), 21})
	r := Choice{}.Kind("casting")
	hours, cold := r.Cured(m, poured, poured.Add(24*time.Hour))
	assert.InDelta(t, 15.30, hours, 0.005)
	assert.Zero(t, cold)
	when, ok := r.CuresBy(m, poured, r.SandHours)
	require.True(t, ok)
	assert.InDelta(t, 24+43.1, when.Sub(poured).Hours(), 0.06)
}

// Hours below the kind's least temperature count for nothing; a room that stays there never
// brings it through.
func TestTooColdCountsForNothing(t *testing.T) {
	r := Choice{}.Kind("casting") // from 18 °C
	m := Room{Read: hourly(repeat(15, 6)...), Usual: 20}
	hours, cold := r.Cured(m, poured, poured.Add(12*time.Hour))
	assert.Zero(t, hours)
	assert.InDelta(t, 12, cold, 1e-9)
	when, ok := r.CuresBy(m, poured, 10)
	require.True(t, ok)
	assert.Greater(
		t,
		when.Sub(poured).Hours(),
		12+4+10.0,
		"the last reading holds for six hours, then the usual warmth",
	)
	_, ok = r.CuresBy(Room{Usual: 15}, poured, 10)
	assert.False(t, ok)
	_, ok = r.CuresBy(Room{Usual: 18}, poured, 10)
	assert.True(t, ok)
}

// However readings come, what it has had by the moment at which it is through is what was asked;
// minute by minute it comes to the same.
func TestCureByAPlainerWay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := rapid.SampledFrom(Resins).Draw(t, "kind")
		m := Room{Usual: rapid.Float64Range(18, 26).Draw(t, "usual")}
		at := poured.Add(-5 * time.Hour)
		for range rapid.IntRange(0, 8).Draw(t, "readings") {
			at = at.Add(time.Duration(rapid.IntRange(5, 900).Draw(t, "minutes")) * time.Minute)
			m.Read = append(m.Read, Warmth{at, float64(rapid.IntRange(10, 30).Draw(t, "celsius"))})
		}
		hours := float64(rapid.IntRange(1, 60).Draw(t, "hours"))
		when, ok := r.CuresBy(m, poured, hours)
		if !ok {
			t.Fatal("it never cures in a warm room")
		}
		got, _ := r.Cured(m, poured, when)
		if diff := got - hours; diff > 0.01 || diff < -0.01 {
			t.Fatalf("%v h by then, %v asked", got, hours)
		}
		var sum float64
		for now := poured; now.Before(when); now = now.Add(time.Minute) {
			celsius := m.Usual
			for _, w := range m.Read {
				if age := now.Sub(w.At); age >= 0 && age < 6*time.Hour {
					celsius = w.Celsius
				}
			}
			if celsius >= r.Coldest {
				sum += 1 / slower(celsius) / 60
			}
		}
		if diff := sum - hours; diff > 0.1 || diff < -0.1 {
			t.Fatalf("walked minute by minute %v h, asked %v", sum, hours)
		}
	})
}

// In a box the pour is as warm as that is kept, whatever the room reads; a warmer room counts.
func TestAWarmBox(t *testing.T) {
	r, from := Choice{}.Kind("casting"), poured
	room := Room{Read: hourly(repeat(12, 48)...), Usual: 12, Box: 22}
	hours, cold := r.Cured(room, from, from.Add(24*time.Hour))
	assert.InDelta(t, 24/slower(22), hours, 1e-6)
	assert.Zero(t, cold)
	room.Read = hourly(repeat(28, 48)...)
	hours, _ = r.Cured(room, from, from.Add(24*time.Hour))
	assert.InDelta(t, 24/slower(28), hours, 0.4)
	when, ok := r.CuresBy(Room{Usual: 12, Box: 22}, from, 48)
	assert.True(t, ok)
	assert.InDelta(t, 48*slower(22), when.Sub(from).Hours(), 1e-6)
}

// Where another pour follows, its window is told, by the warmth that the first really had.
func TestTheWindowOfTheNextPour(t *testing.T) {
	c := CuringOf(Choice{}.Kind("casting"), Room{Usual: 25}, poured, poured.Add(time.Hour), true)
	assert.Equal(t, poured.Add(8*time.Hour), *c.From)
	assert.Equal(t, poured.Add(16*time.Hour), *c.Until)
	cold := CuringOf(Choice{}.Kind("casting"), Room{Usual: 18.5}, poured, poured.Add(time.Hour), true)
	assert.True(t, cold.From.After(*c.From))
	assert.Nil(t, CuringOf(Choice{}.Kind("casting"), Room{Usual: 25}, poured, poured, false).From)
	assert.Nil(t, CuringOf(Choice{}.Kind("quick"), Room{Usual: 25}, poured, poured, true).From, "it has none")
}

// A cold night after it could be sanded is none of the pour's.
func TestColdAfterTheCureDoesNoHarm(t *testing.T) {
	warmThenCold := append(repeat(25, 26), repeat(10, 8)...) // two days and some hours, then a night
	room := Room{Read: hourly(warmThenCold...), Usual: 20}
	c := CuringOf(Choice{}.Kind("casting"), room, poured, poured.Add(66*time.Hour), false)
	assert.Zero(t, c.Cold)
	assert.Equal(t, craft.Good, c.Verdict().Level)
	early := Room{Read: hourly(append(repeat(10, 4), repeat(25, 26)...)...), Usual: 20}
	assert.InDelta(t, 8, CuringOf(Choice{}.Kind("casting"), early, poured, poured.Add(66*time.Hour), false).Cold, 1e-9)
}

func BenchmarkCured(b *testing.B) {
	room := Room{Usual: 20}
	for i := range 10_000 {
		room.Read = append(
			room.Read,
			Warmth{At: poured.Add(time.Duration(i) * 10 * time.Minute), Celsius: 15 + float64(i%12)},
		)
	}
	for b.Loop() {
		Choice{}.Kind("casting").Cured(room, poured, poured.Add(10_000*10*time.Minute))
	}
}
