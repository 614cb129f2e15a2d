package store

import (
	"context"
	"database/sql/driver"
	"errors"
	"fmt"
	"io"
	"testing"

	"github.com/jackc/pgx/v5/pgconn"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/reckon"
	"idletimber/craft/slab"
)

// Nothing that is asked of a store takes a second connection while it holds one: all
// of it works with one alone.
func TestOneConnectionIsEnough(t *testing.T) {
	s, w := open(t)
	s.DB.SetMaxOpenConns(1)
	p, err := s.NewPiece(ctx, w, piece("slab"))
	require.NoError(t, err)
	b, err := lay(s, w, p.ID, reckon.NewBoard("", "board", 500))
	require.NoError(t, err)
	at, version, err := s.Shop(ctx, w)
	require.NoError(t, err)
	at.Home.Heating.Humidity++
	for name, call := range map[string]func() error{
		"stale piece": func() error { return s.SavePiece(ctx, w, p.ID, piece("other"), 99) },
		"stale turn":  func() error { return s.Turn(ctx, w, p.ID, 99) },
		"stale shop":  func() error { return s.SaveShop(ctx, w, at, 99) },
		"stale board": func() error {
			return saveBoards(s, w, []reckon.Stored{{Board: b.Board, Piece: p.ID, Version: 99}})
		},
		"stale divide": func() error { _, err := s.Divide(ctx, w, p.ID, 99, nil, false); return err },
	} {
		err := call()
		assert.ErrorContains(t, err, "changed meanwhile", name)
	}
	require.NoError(t, s.SaveShop(ctx, w, at, version))
	require.NoError(t, s.Turn(ctx, w, p.ID, 1))
	_, _, err = s.TakeIn(ctx, w, piece("from a file"), []reckon.Board{reckon.NewBoard("a", "a", 500)})
	require.NoError(t, err)
	_, err = s.InWork(ctx, w, []string{p.ID})
	require.NoError(t, err)
	assert.ErrorIs(t, s.BinPiece(ctx, w, p.ID, true), ErrInUse)
}

// A save that is asked again under its name is stored once, also at the same moment;
// another thing under the same name is another save.
func TestASaveIsStoredOnce(t *testing.T) {
	s, w := open(t)
	as := func(what string) context.Context {
		return WithSave(ctx, &Save{Key: "00000000-0000-4000-8000-000000000001", For: what})
	}
	made := make(chan []string, 20)
	for range 20 {
		go func() {
			ids, err := s.NewPieces(as("POST /a"), w, piece("once"), piece("twice"))
			assert.NoError(t, err)
			made <- ids
		}()
	}
	first := <-made
	require.Len(t, first, 2)
	for range 19 {
		assert.Equal(t, first, <-made)
	}
	_, sum, err := s.Pieces(ctx, w, Wanted{}, 10, 0)
	require.NoError(t, err)
	assert.Equal(t, 2, sum.Count)
	ids, err := s.NewPieces(as("POST /b"), w, piece("another"))
	require.NoError(t, err)
	assert.NotContains(t, first, ids[0])
	other := newWorkshop(t, s, "other@example.org")
	ids, err = s.NewPieces(as("POST /a"), other, piece("theirs"))
	require.NoError(t, err)
	assert.NotContains(t, first, ids[0], "names are of a workshop")

	// What fails leaves its name free.
	_, err = s.NewPieces(as("POST /c"), w, piece("a\x00b"))
	require.Error(t, err)
	_, err = s.NewPieces(as("POST /c"), w, piece("a"))
	assert.NoError(t, err)
}

func TestOutcomes(t *testing.T) {
	s, w := open(t)
	save := &Save{}
	_, err := s.NewPiece(WithSave(ctx, save), w, piece("a"))
	require.NoError(t, err)
	assert.Equal(t, Stored, save.Outcome)
	save = &Save{}
	assert.Error(t, s.SavePiece(WithSave(ctx, save), w, NewID(), piece("a"), 1))
	assert.Equal(t, Nothing, save.Outcome)
	assert.Equal(t, Nothing, outcome(&pgconn.PgError{Code: "40001"}), "the server has refused it")
	assert.Equal(t, Unknown, outcome(io.ErrUnexpectedEOF))
	assert.Equal(t, Unknown, outcome(context.DeadlineExceeded))
}

func TestWhatIsAway(t *testing.T) {
	for _, err := range []error{
		context.DeadlineExceeded, driver.ErrBadConn, io.ErrUnexpectedEOF, fmt.Errorf("read: %w", io.EOF),
		&pgconn.PgError{Code: "57P01"}, &pgconn.PgError{Code: "53300"}, &pgconn.PgError{Code: "08006"},
	} {
		assert.True(t, Away(err), "%v", err)
	}
	for _, err := range []error{
		nil, errors.New("broken"), ErrNotFound, &pgconn.PgError{Code: "42P01"}, &Stale[slab.Slab]{},
	} {
		assert.False(t, Away(err), "%v", err)
	}
	assert.True(t, Full(&pgconn.PgError{Code: "53100"}))
	assert.False(t, Full(io.EOF))
}
