package store

import (
	"context"
	"errors"
	"fmt"
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/plan"
	"idletimber/craft/reckon"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
	"idletimber/pgserver"
)

var postgres *pgserver.Server

func TestMain(m *testing.M) { os.Exit(pgserver.Around(m, &postgres)) }

var (
	ctx = context.Background()
	now = time.Date(2031, 5, 5, 8, 0, 0, 0, time.UTC)
)

func open(t testing.TB) (*Store, string) {
	t.Helper()
	url, err := postgres.NewDatabase(ctx)
	require.NoError(t, err)
	s, err := Open(ctx, Config{URL: url}, func() time.Time { return now })
	require.NoError(t, err)
	t.Cleanup(func() { s.Close() })
	return s, newWorkshop(t, s, "maker@example.org")
}

func newWorkshop(t testing.TB, s *Store, email string) string {
	t.Helper()
	a, err := s.NewAccount(ctx, email, "hash", shop.Usual())
	require.NoError(t, err)
	return a.Workshop
}

func piece(name string) slab.Slab {
	return slab.Slab{
		Name:     name,
		Species:  "Pear",
		Length:   500,
		Show:     []slab.Station{{X: 0, Left: 90, Right: -90}},
		Readings: []slab.Reading{{Thickness: 30}},
	}
}

func TestAccounts(t *testing.T) {
	s, _ := open(t)
	_, err := s.NewAccount(ctx, "MAKER@example.org", "other", shop.Usual())
	assert.ErrorIs(t, err, ErrTaken)
	a, err := s.AccountByEmail(ctx, "Maker@Example.org")
	require.NoError(t, err)
	require.NoError(t, s.SetPassword(ctx, a.ID, "new"))
	a, err = s.AccountByID(ctx, a.ID)
	require.NoError(t, err)
	assert.Equal(t, "new", a.Password)
	_, err = s.AccountByID(ctx, "not-an-id")
	assert.ErrorIs(t, err, ErrNotFound)
}

func TestSignInsEnd(t *testing.T) {
	s, _ := open(t)
	clock := now
	s.now = func() time.Time { return clock }
	a, err := s.AccountByEmail(ctx, "maker@example.org")
	require.NoError(t, err)
	enter := func() string {
		id, err := s.NewSignIn(ctx, a.ID, "192.0.2.7", "a browser")
		require.NoError(t, err)
		return id
	}
	one, two, three := enter(), enter(), enter()
	got, err := s.AccountBySignIn(ctx, one)
	require.NoError(t, err)
	assert.Equal(t, a, got)
	ended, err := s.EndSignIns(ctx, a.ID, two, "")
	require.NoError(t, err)
	assert.Equal(t, []string{two}, ended)
	_, err = s.AccountBySignIn(ctx, two)
	assert.ErrorIs(t, err, ErrNotFound)
	ended, err = s.EndSignIns(ctx, a.ID, "", one)
	require.NoError(t, err)
	assert.Equal(t, []string{three}, ended, "all but the one that asks")

	clock = clock.Add(idleTime - time.Hour)
	_, err = s.AccountBySignIn(ctx, one)
	require.NoError(t, err, "which counts as used")
	clock = clock.Add(idleTime - time.Hour)
	_, err = s.AccountBySignIn(ctx, one)
	require.NoError(t, err)
	clock = clock.Add(idleTime + time.Hour)
	_, err = s.AccountBySignIn(ctx, one)
	assert.ErrorIs(t, err, ErrNotFound)
	list, err := s.SignIns(ctx, a.ID)
	require.NoError(t, err)
	assert.Empty(t, list)
}

func TestTextThatCannotBeKept(t *testing.T) {
	s, w := open(t)
	_, err := s.NewPiece(ctx, w, piece("a\x00b"))
	assert.True(t, Unkeepable(err))
	_, _, err = s.Pieces(ctx, w, Wanted{Words: "\xff"}, 10, 0)
	assert.True(t, Unkeepable(err))
	assert.False(t, Unkeepable(ErrNotFound))
}

func TestStaleSavesLoseNothing(t *testing.T) {
	s, w := open(t)
	p, err := s.NewPiece(ctx, w, piece("first"))
	require.NoError(t, err)
	require.NoError(t, s.SavePiece(ctx, w, p.ID, piece("second"), 1))
	err = s.SavePiece(ctx, w, p.ID, piece("third"), 1)
	var stale *Stale[slab.Slab]
	require.ErrorAs(t, err, &stale)
	assert.Equal(t, "second", stale.Current.Name)
	assert.Equal(t, 2, stale.Version)

	b, err := lay(s, w, p.ID, reckon.NewBoard("", "board", 500))
	require.NoError(t, err)
	err = saveBoards(s, w, []reckon.Stored{{Board: b.Board, Piece: p.ID, Version: 7}})
	var staleBoard *Stale[reckon.Board]
	require.ErrorAs(t, err, &staleBoard)
	assert.Equal(t, b.Board.ID, staleBoard.Current.ID)

	doc, version, err := s.Shop(ctx, w)
	require.NoError(t, err)
	doc.Name = "Riverside"
	err = s.SaveShop(ctx, w, doc, version)
	require.NoError(t, err)
	err = s.SaveShop(ctx, w, doc, version)
	var staleShop *Stale[shop.Shop]
	require.ErrorAs(t, err, &staleShop)
	assert.Equal(t, "Riverside", staleShop.Current.Name)
}

func TestNobodyReachesAnothersThings(t *testing.T) {
	s, mine := open(t)
	theirs := newWorkshop(t, s, "other@example.org")
	p, err := s.NewPiece(ctx, theirs, piece("theirs"))
	require.NoError(t, err)
	b, err := lay(s, theirs, p.ID, reckon.NewBoard("", "theirs", 500))
	require.NoError(t, err)

	_, err = s.Piece(ctx, mine, p.ID)
	assert.ErrorIs(t, err, ErrNotFound)
	err = s.SavePiece(ctx, mine, p.ID, piece("stolen"), 1)
	assert.ErrorIs(t, err, ErrNotFound)
	assert.ErrorIs(t, s.BinPiece(ctx, mine, p.ID, true), ErrNotFound)
	_, err = lay(s, mine, p.ID, reckon.NewBoard("", "squatter", 500))
	assert.ErrorIs(t, err, ErrNotFound)
	_, err = s.Board(ctx, mine, b.Board.ID)
	assert.ErrorIs(t, err, ErrNotFound)
	err = saveBoards(s, mine, []reckon.Stored{{Board: b.Board, Piece: p.ID, Version: 1}})
	assert.ErrorIs(t, err, ErrNotFound)
	assert.ErrorIs(t, s.BinBoard(ctx, mine, b.Board.ID, true), ErrNotFound)
	assert.ErrorIs(t, s.SetGiven(ctx, mine, b.Board.ID, new(time.Now())), ErrNotFound)
	assert.ErrorIs(t, s.Record(ctx, mine, Entry{Subject: plan.Board(b.Board.ID), Event: "start", At: now}), ErrNotFound)
	on, err := s.BoardsOn(ctx, mine, p.ID)
	require.NoError(t, err)
	assert.Empty(t, on)
	lines, err := s.Log(ctx, mine, Wished{Most: 10})
	require.NoError(t, err)
	assert.Empty(t, lines)
}

func TestRackAndOffcutBin(t *testing.T) {
	s, w := open(t)
	for i := range 5 {
		_, err := s.NewPiece(ctx, w, piece(fmt.Sprintf("Plank %d", i)))
		require.NoError(t, err)
	}
	got, sum, err := s.Pieces(ctx, w, Wanted{Words: "plank"}, 2, 1)
	require.NoError(t, err)
	assert.Len(t, got, 2)
	assert.Equal(t, 5, sum.Count)
	require.NoError(t, s.BinPiece(ctx, w, got[0].ID, true))
	_, sum, _ = s.Pieces(ctx, w, Wanted{}, 10, 0)
	assert.Equal(t, 4, sum.Count)
	binned, _, err := s.Pieces(ctx, w, Wanted{Bin: true}, 10, 0)
	require.NoError(t, err)
	require.Len(t, binned, 1)
	require.NoError(t, s.BinPiece(ctx, w, binned[0].ID, false))
	_, sum, _ = s.Pieces(ctx, w, Wanted{Words: "PEAR"}, 10, 0)
	assert.Equal(t, 5, sum.Count)
}

func TestBoardsByDateAndStamps(t *testing.T) {
	s, w := open(t)
	p, err := s.NewPiece(ctx, w, piece("plank"))
	require.NoError(t, err)
	for _, due := range []string{"", "2031-07-01", "2031-06-01"} {
		b := reckon.NewBoard("", "due "+due, 500)
		b.Give.Due = due
		_, err := lay(s, w, p.ID, b)
		require.NoError(t, err)
	}
	got, total, err := s.Boards(ctx, w, "", false, 10, 0)
	require.NoError(t, err)
	require.Equal(t, 3, total)
	assert.Equal(
		t,
		[]string{"due 2031-06-01", "due 2031-07-01", "due "},
		[]string{got[0].Board.Name, got[1].Board.Name, got[2].Board.Name},
	)

	stamp := func() string {
		stamps, err := s.InWork(ctx, w, nil)
		require.NoError(t, err)
		require.Len(t, stamps, 1)
		return stamps[0].Stamp
	}
	before := stamp()
	assert.Equal(t, before, stamp())
	err = saveBoards(s, w, []reckon.Stored{{Board: got[0].Board, Piece: p.ID, Version: got[0].Version}})
	require.NoError(t, err)
	assert.NotEqual(t, before, stamp())
	for _, b := range got {
		require.NoError(t, s.SetGiven(ctx, w, b.Board.ID, new(time.Now())))
	}
	stamps, err := s.InWork(ctx, w, nil)
	require.NoError(t, err)
	assert.Empty(t, stamps)
}

// A piece that holds boards still to be made stays on the rack; a board comes
// back with its piece; an account goes with all that it holds.
func TestBinAndDelete(t *testing.T) {
	s, w := open(t)
	p, err := s.NewPiece(ctx, w, piece("slab"))
	require.NoError(t, err)
	b, err := lay(s, w, p.ID, reckon.NewBoard("", "board", 500))
	require.NoError(t, err)
	assert.ErrorIs(t, s.BinPiece(ctx, w, p.ID, true), ErrInUse)
	require.NoError(t, s.BinBoard(ctx, w, b.Board.ID, true))
	require.NoError(t, s.BinPiece(ctx, w, p.ID, true))
	require.NoError(t, s.BinBoard(ctx, w, b.Board.ID, false))
	back, err := s.Piece(ctx, w, p.ID)
	require.NoError(t, err)
	assert.Nil(t, back.Deleted)
	require.NoError(t, s.SetGiven(ctx, w, b.Board.ID, new(time.Now())))
	assert.NoError(t, s.BinPiece(ctx, w, p.ID, true), "what was given away holds nothing back")
	assert.ErrorIs(t, s.BinPiece(ctx, newWorkshop(t, s, "other@example.org"), p.ID, true), ErrNotFound)

	require.NoError(
		t,
		s.Record(
			ctx,
			w,
			Entry{
				Subject: plan.Board(b.Board.ID),
				Step:    "outline",
				Event:   "finish",
				At:      now,
				Minutes: 5,
				Kind:    "curve",
				Title:   "Saw",
				Usual:   4,
			},
		),
	)
	a, err := s.AccountByEmail(ctx, "maker@example.org")
	require.NoError(t, err)
	require.NoError(t, s.DeleteAccount(ctx, a.ID))
	_, err = s.Board(ctx, w, b.Board.ID)
	assert.ErrorIs(t, err, ErrNotFound)
}

func TestTheLogIsAppendOnlyAndTeaches(t *testing.T) {
	s, w := open(t)
	p, _ := s.NewPiece(ctx, w, piece("plank"))
	b, err := lay(s, w, p.ID, reckon.NewBoard("", "board", 500))
	require.NoError(t, err)
	for _, e := range []Entry{
		{Step: "outline", Event: "start", Kind: "curve"},
		{Step: "outline", Event: "finish", Minutes: 20, Usual: 10, Kind: "curve"},
		{Step: "bore", Event: "finish", Minutes: 9, Usual: 4, Kind: "bore"},
		{Step: "bore", Event: "undo", Kind: "bore"},
	} {
		e.Subject, e.At = plan.Board(b.Board.ID), now
		require.NoError(t, s.Record(ctx, w, e))
	}
	lines, err := s.LogOf(ctx, w, p.ID)
	require.NoError(t, err)
	assert.Len(t, lines, 4)
	samples, err := s.Samples(ctx, w)
	require.NoError(t, err)
	assert.Equal(t, []plan.Sample{{Kind: "curve", Estimated: 10, Actual: 20}}, samples)
	_, err = s.DB.Exec(`UPDATE log SET minutes = 1`)
	assert.ErrorContains(t, err, "append-only")
}

func TestOpenReportsAWrongAddress(t *testing.T) {
	_, err := Open(ctx, Config{URL: "postgres://nobody@127.0.0.1:1/none?connect_timeout=1"}, time.Now)
	assert.Error(t, err)
	assert.False(t, errors.Is(err, ErrNotFound))
}
