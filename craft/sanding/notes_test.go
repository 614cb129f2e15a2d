package sanding

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/plan"
)

func TestWhatCanBeNoted(t *testing.T) {
	for _, tt := range []struct {
		step, what string
		value      float64
		place      bool
		wrong      int
	}{
		{"sand-80", NoteThick, 20, false, 0}, {"sand-80", NoteThick, 0, false, 1},
		{"sand-80", NoteThick, math.NaN(), false, 1}, {"sand-80", NoteScratch, 0, true, 1},
		{"raise-150", NoteScratch, 0, true, 0}, {"raise-150", NoteScratch, 0, false, 1},
		{"raise-150", NoteFace, 1, false, 0}, {"raise-150", NoteFace, 2, false, 1},
		{"raise-150", NoteColour, 0, false, 0}, {"raise-150", plan.Back, 0, false, 0},
		{"raise-150", "song", 0, false, 1}, {"coat-1", NoteThick, 20, false, 1},
	} {
		assert.Len(t, plan.Unfit(Notings, tt.step, tt.what, tt.value, tt.place), tt.wrong, "%+v", tt)
	}
	for _, what := range []string{NoteThick, NoteFace, NoteColour, NoteScratch} {
		assert.NotEmpty(t, plan.Said(Notings, what, 1))
	}
	assert.Empty(t, plan.Said(Notings, "leak", 1))
}

// The corners that were read last count, four of them, whatever was typed before.
func TestCornersThatWereReadLast(t *testing.T) {
	p, _ := Make(face, Choice{Start: Planed, Last: 220, Raise: Once}, maple)
	require.Equal(t, 80, p.Measured())
	var log []plan.Entry
	read := func(mm float64) {
		log = append(log, plan.Entry{
			Step: SandKey(80), Event: plan.Noted, What: NoteThick, Value: mm, At: time.Unix(int64(len(log)), 0),
		})
	}
	assert.Empty(t, Uneven(log, p))
	read(25)
	assert.Empty(t, Uneven(log, p), "one corner tells nothing")
	for _, mm := range []float64{20, 20.2, 20.4, 20.1} {
		read(mm)
	}
	assert.Equal(t, []float64{20, 20.2, 20.4, 20.1}, Thicknesses(log, 80))
	v := Uneven(log, p)
	require.Len(t, v, 1)
	assert.Equal(t, craft.Good, v[0].Level, "just within")
	read(20.9)
	v = Uneven(log, p)
	assert.Equal(t, craft.Mind, v[0].Level)
	assert.InDelta(t, 0.8, v[0].Figure.Value, 1e-9)
	log = append(log, plan.Entry{Step: SandKey(80), Event: plan.Undo})
	assert.Empty(t, Uneven(log, p), "the grit was not sanded after all")
	coarse, _ := Make(face, Choice{Start: Planed, Ladder: []int{40, 60}, Raise: Never}, maple)
	assert.Equal(t, 60, coarse.Measured(), "the last where all are coarser")
}

// Every start can be begun with, and its coarsest grit takes out more than the next one leaves.
func TestStarts(t *testing.T) {
	for _, name := range Starts() {
		s := StartOf(name)
		assert.Contains(t, Grits, s.Coarsest, name)
		assert.Positive(t, s.Rough, name)
		deep := s.Deeper(s.Rough + 100)
		assert.Less(t, deep.Coarsest, s.Coarsest+1, name)
		assert.Equal(t, s, s.Deeper(s.Rough-1), name)
		assert.Empty(t, Choice{Start: name, Raise: Once}.Check("sand"), name)
	}
	assert.Equal(t, StartOf(Planed), StartOf("axe"))
	for grit, want := range map[int]string{0: DrumCoarse, 36: "drum P40", 80: DrumCoarse, 120: "sanded P120"} {
		assert.Equal(t, want, Drummed(grit), "P%d", grit)
	}
}
