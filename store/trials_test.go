package store

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/finish"
	"idletimber/craft/plan"
	"idletimber/craft/reckon"
	"idletimber/craft/trial"
)

// Trials are kept with their version, are their workshop's alone, and come out of the bin again.
func TestTrialsAreKept(t *testing.T) {
	s, w := open(t)
	_, other := open(t)
	id, err := s.NewTrial(ctx, w, trial.Trial{Name: "pastes", Samples: []trial.Sample{{Mark: "plain"}}})
	require.NoError(t, err)
	got, err := s.Trial(ctx, w, id)
	require.NoError(t, err)
	assert.Equal(t, 1, got.Version)
	assert.Equal(t, "plain", got.Trial.Samples[0].Mark)
	_, err = s.Trial(ctx, other, id)
	require.ErrorIs(t, err, ErrNotFound)
	require.ErrorIs(t, s.SaveTrial(ctx, other, id, got.Trial, 1), ErrNotFound)
	require.ErrorIs(t, s.BinTrial(ctx, other, id, true), ErrNotFound)

	got.Trial.Name = "two pastes"
	require.NoError(t, s.SaveTrial(ctx, w, id, got.Trial, 1))
	var stale *Stale[trial.Trial]
	require.ErrorAs(t, s.SaveTrial(ctx, w, id, trial.Trial{Name: "late"}, 1), &stale)
	assert.Equal(t, "two pastes", stale.Current.Name)
	assert.Equal(t, 2, stale.Version)

	require.NoError(t, s.BinTrial(ctx, w, id, true))
	all, err := s.Trials(ctx, w)
	require.NoError(t, err)
	assert.Empty(t, all)
	require.NoError(t, s.BinTrial(ctx, w, id, false))
	all, err = s.Trials(ctx, w)
	require.NoError(t, err)
	assert.Len(t, all, 1)
	_, err = s.Trial(ctx, w, "nonsense")
	require.ErrorIs(t, err, ErrNotFound)
}

// A coat is kept once, in place of what was written down of it before, and is forgotten.
func TestCoatsAreKept(t *testing.T) {
	s, w := open(t)
	board, other := NewID(), NewID()
	keep := func(board, step string, used float64) {
		require.NoError(t, s.KeepCoat(ctx, w, board, step, finish.Coated{Product: finish.Oil, Asked: 10, Used: used}))
	}
	keep(board, "coat-1", 12)
	keep(board, "coat-1", 14)
	keep(board, "coat-2", 5)
	keep(other, "coat-1", 8)
	used := func() (sum float64, n int) {
		all, err := s.Coated(ctx, w)
		require.NoError(t, err)
		for _, c := range all {
			sum += c.Used
		}
		return sum, len(all)
	}
	sum, n := used()
	assert.Equal(t, 3, n)
	assert.InDelta(t, 27, sum, 1e-9)
	require.NoError(t, s.DropCoat(ctx, w, board, "coat-2"))
	require.NoError(t, s.DropCoat(ctx, w, board, "coat-9"))
	sum, _ = used()
	assert.InDelta(t, 22, sum, 1e-9)
	_, stranger := open(t)
	all, err := s.Coated(ctx, stranger)
	require.NoError(t, err)
	assert.Empty(t, all)
}

// What boards took is the last that was said of each step: taken back, it counts no more.
func TestWhatBoardsTook(t *testing.T) {
	s, w := open(t)
	p, err := s.NewPiece(ctx, w, piece("plank"))
	require.NoError(t, err)
	b, err := lay(s, w, p.ID, reckon.NewBoard("", "board", 500))
	require.NoError(t, err)
	id := b.Board.ID
	record := func(step, event string, minutes float64) {
		require.NoError(t, s.Record(ctx, w, Entry{
			Subject: plan.Board(id), Step: step, Event: event, Minutes: minutes, Kind: "sanding", Title: step, Usual: 5,
			At: time.Date(2031, 3, 3, 19, 0, 0, 0, time.UTC),
		}))
	}
	record("sand-80", plan.Finish, 9)
	record("sand-120", plan.Finish, 4)
	record("sand-80", plan.Undo, 0)
	record("sand-80", plan.Finish, 7)
	record("sand-220", plan.Finish, 3)
	record("sand-220", plan.Undo, 0)
	spent, err := s.Spent(ctx, w, []string{id, "nonsense"})
	require.NoError(t, err)
	var sum float64
	for _, v := range spent {
		assert.Equal(t, id, v.Board)
		sum += v.Minutes
	}
	assert.InDelta(t, 11, sum, 1e-9)
	none, err := s.Spent(ctx, w, nil)
	require.NoError(t, err)
	assert.Empty(t, none)
}
