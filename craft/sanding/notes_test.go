package sanding

import (
	"math"
	"slices"
	"strings"
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

// Of each corner the reading that was typed last counts, round and round.
func TestCornersThatWereReadLast(t *testing.T) {
	p, _ := Make(face, Choice{Start: Planed, Last: 220, Raise: Once}, maple)
	require.Equal(t, 80, p.Measured())
	var log []plan.Entry
	read := func(mm float64) {
		log = append(log, plan.Entry{
			Step: SandKey(80), Event: plan.Noted, What: NoteThick, Value: mm, At: time.Unix(int64(len(log)), 0),
		})
	}
	assert.Empty(t, p.uneven(log))
	read(25)
	assert.Empty(t, p.uneven(log), "one corner tells nothing")
	for _, mm := range []float64{20, 20.2, 20.4, 20.1} {
		read(mm)
	}
	corners, next := Thicknesses(log, 80)
	assert.Equal(t, []float64{20.1, 20, 20.2, 20.4}, corners, "the first one was read again")
	assert.Equal(t, 1, next)
	v := p.uneven(log)
	require.Len(t, v, 1)
	assert.Equal(t, craft.Good, v[0].Level, "just within")
	read(20.9)
	v = p.uneven(log)
	assert.Equal(t, craft.Mind, v[0].Level)
	assert.InDelta(t, 0.8, v[0].Figure.Value, 1e-9)
	log = append(log, plan.Entry{Step: SandKey(80), Event: plan.Undo})
	assert.Empty(t, p.uneven(log), "the grit was not sanded after all")
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

// A missed scratch is told at the step that comes next, and is gone from the drawing when that is done;
// the other face to show is told.
func TestMissedScratches(t *testing.T) {
	at := time.Unix(1, 0)
	note := func(step, what string, v float64) plan.Entry {
		return plan.Entry{Step: step, Event: plan.Noted, What: what, Value: v, At: at}
	}
	on := maple
	for _, tt := range []struct {
		choice     Choice
		wet, after string
	}{
		{Choice{Start: Planed, Last: 220, Raise: Once}, "raise-150", "sand-220"},
		{Choice{Start: Planed, Last: 220, Raise: Twice}, "raise-100", "sand-150"},
		{Choice{Start: Planed, Last: 220, Raise: Picked, Wet: []int{220}}, "raise-220", "sand-220-again"},
	} {
		on.Log = []plan.Entry{note(tt.wet, NoteScratch, 0), note(tt.wet, NoteScratch, 0), note(tt.wet, NoteFace, 1)}
		p, r := Make(face, tt.choice, on)
		assert.Len(t, p.Missed(on.Log), 2)
		for _, s := range r.Steps {
			assert.Equal(t, s.Key == tt.after, strings.Contains(s.Detail, "Missed scratches are marked, 2"), s.Key)
		}
		told := slices.ContainsFunc(r.Verdicts, func(v craft.Verdict) bool { return v.Check == "show-face" })
		assert.True(t, told)
		on.Log = append(on.Log, plan.Entry{Step: tt.after, Event: plan.Finish, At: at, Minutes: 4})
		assert.Empty(t, p.Missed(on.Log), "they are sanded out")
		on.Log = append(on.Log, note(tt.wet, plan.Back, 0), note(tt.wet, NoteFace, 0))
		turned, said := p.Turned(on.Log)
		assert.True(t, said)
		assert.False(t, turned)
	}
}
