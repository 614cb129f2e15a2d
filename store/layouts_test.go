package store

import (
	"errors"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/reckon"
	"idletimber/craft/shop"
	"idletimber/craft/stock"
)

// step is one way of a migration.
func step(t *testing.T, file string, down bool) string {
	t.Helper()
	text, err := migrations.ReadFile("migrations/" + file)
	require.NoError(t, err)
	up, back, ok := strings.Cut(string(text), "-- +goose Down")
	require.True(t, ok)
	if down {
		return back
	}
	return up
}

// Marks to keep a flaw out become wishes, and come back.
func TestFlawsGetWishes(t *testing.T) {
	s, w := open(t)
	v := piece("marked")
	for _, id := range []string{"a", "b", "c"} {
		v.Flaws = append(
			v.Flaws,
			stock.Flaw{ID: id, Kind: stock.Dent, A: 5, B: 5, Depth: 2, Centre: geom.Point{X: 100}},
		)
	}
	v.Flaws[1].Wish = stock.CutAway
	stored, err := s.NewPiece(ctx, w, v)
	require.NoError(t, err)
	id := stored.ID
	_, err = s.DB.ExecContext(ctx, step(t, "004_layout.sql", true))
	require.NoError(t, err)
	var flaws string
	require.NoError(
		t,
		s.DB.GetContext(
			ctx,
			&flaws,
			`SELECT jsonb_path_query_array(doc, '$.flaws[*].keepOut')::text FROM pieces WHERE id = $1`,
			id,
		),
	)
	assert.Equal(t, "[false, true, false]", flaws)
	_, err = s.DB.ExecContext(ctx, step(t, "004_layout.sql", false))
	require.NoError(t, err)
	p, err := s.Piece(ctx, w, id)
	require.NoError(t, err)
	require.Len(t, p.Slab.Flaws, 3)
	for i, f := range p.Slab.Flaws {
		assert.Equal(t, v.Flaws[i].ID, f.ID, "in their order")
		assert.Equal(t, i == 1, f.Shunned())
	}
}

// lay stores a new board on a piece.
func lay(s *Store, workshop, piece string, b reckon.Board) (Board, error) {
	b.ID = NewID()
	if err := saveBoards(s, workshop, []reckon.Stored{{Board: b, Piece: piece}}); err != nil {
		return Board{}, err
	}
	return s.Board(ctx, workshop, b.ID)
}

func TestSaveBoards(t *testing.T) {
	s, w := open(t)
	stored, err := s.NewPiece(ctx, w, piece("slab"))
	require.NoError(t, err)
	id := stored.ID
	fresh := func(id string) reckon.Board { return reckon.NewBoard(id, "board", 500) }
	const one, two = "0b6c7e53-3f0e-4a53-9f5e-0a1b2c3d4e01", "0b6c7e53-3f0e-4a53-9f5e-0a1b2c3d4e02"
	require.NoError(
		t,
		saveBoards(s, w, []reckon.Stored{{Board: fresh(one), Piece: id}, {Board: fresh(two), Piece: id}}),
	)
	on, err := s.BoardsOn(ctx, w, id)
	require.NoError(t, err)
	require.Len(t, on, 2)
	assert.Equal(t, one, on[0].Board.ID)

	// All or nothing: the second is stale.
	moved := on[0].Board
	moved.Placement.X = 1
	err = saveBoards(
		s,
		w,
		[]reckon.Stored{{Board: moved, Version: 1, Piece: id}, {Board: on[1].Board, Version: 7, Piece: id}},
	)
	var stale *Stale[reckon.Board]
	require.ErrorAs(t, err, &stale)
	b, err := s.Board(ctx, w, one)
	require.NoError(t, err)
	assert.NotEqual(t, 1.0, b.Board.Placement.X)

	require.NoError(
		t,
		saveBoards(
			s,
			w,
			[]reckon.Stored{
				{Board: moved, Version: 1, Piece: id},
				{Board: reckon.Board{ID: two}, Piece: id, Binned: true},
			},
		),
	)
	on, err = s.BoardsOn(ctx, w, id)
	require.NoError(t, err)
	assert.Len(t, on, 1)
	require.NoError(t, saveBoards(s, w, []reckon.Stored{{Board: fresh(two), Version: 1, Piece: id}}))
	on, err = s.BoardsOn(ctx, w, id)
	require.NoError(t, err)
	assert.Len(t, on, 2, "it comes out of the bin")

	elsewhere, err := s.NewPiece(ctx, w, piece("another slab"))
	require.NoError(t, err)
	assert.ErrorIs(
		t,
		saveBoards(s, w, []reckon.Stored{{Board: moved, Version: 2, Piece: elsewhere.ID}}),
		ErrNotFound,
		"a board of another piece stays as it is",
	)
	assert.ErrorIs(t, saveBoards(s, w, []reckon.Stored{{Board: fresh(one), Piece: id}}), ErrIDTaken)
	other := newWorkshop(t, s, "other@example.org")
	assert.True(
		t,
		errors.Is(
			saveBoards(
				s,
				other,
				[]reckon.Stored{{Board: fresh("0b6c7e53-3f0e-4a53-9f5e-0a1b2c3d4e03"), Piece: id}},
			),
			ErrNotFound,
		),
	)
	assert.Error(t, saveBoards(s, other, []reckon.Stored{{Board: moved, Version: 2, Piece: id}}))
	assert.ErrorIs(
		t,
		saveBoards(s, other, []reckon.Stored{{Board: reckon.Board{ID: one}, Piece: id, Binned: true}}),
		ErrNotFound,
	)
	on, err = s.BoardsOn(ctx, w, id)
	require.NoError(t, err)
	assert.Len(t, on, 2, "another workshop bins nothing here")
	assert.ErrorIs(t, saveBoards(s, w, []reckon.Stored{{Board: fresh(two), Piece: "nonsense"}}), ErrNotFound)
	assert.ErrorIs(
		t,
		saveBoards(s, w, []reckon.Stored{{Board: reckon.Board{ID: "nonsense"}, Piece: id, Binned: true}}),
		ErrNotFound,
	)
}

// Boards of a file that mate do so under their new ids; mates and twins that are
// not in it are left behind. A board on another piece is stored with the layout.
func TestTakeInAndTwins(t *testing.T) {
	s, w := open(t)
	file := []reckon.Board{reckon.NewBoard("one", "One", 500), reckon.NewBoard("two", "Two", 500)}
	file[0].Mates = []board.Mate{{Board: "two", Gap: 0.8}, {Board: "left behind", Gap: 1}}
	file[0].Twin = &reckon.Twin{Board: "elsewhere", Piece: "elsewhere"}
	file[1].Mates = []board.Mate{{Board: "left behind", Gap: 1}}
	id, ids, err := s.TakeIn(ctx, w, piece("from a file"), file)
	require.NoError(t, err)
	require.Len(t, ids, 2)
	one, err := s.Board(ctx, w, ids[0])
	require.NoError(t, err)
	require.Len(t, one.Board.Mates, 1)
	assert.Equal(t, ids[1], one.Board.Mates[0].Board)
	assert.Nil(t, one.Board.Twin)
	two, err := s.Board(ctx, w, ids[1])
	require.NoError(t, err)
	assert.Empty(t, two.Board.Mates)

	other, err := s.NewPiece(ctx, w, piece("the other leaf"))
	require.NoError(t, err)
	const twin = "0b6c7e53-3f0e-4a53-9f5e-0a1b2c3d4e09"
	there := reckon.NewBoard(twin, "Its twin", 500)
	moved := one.Board
	moved.Placement.X = 77
	require.NoError(
		t,
		saveBoards(
			s,
			w,
			[]reckon.Stored{{Board: moved, Version: one.Version, Piece: id}, {Board: there, Piece: other.ID}},
		),
	)
	b, err := s.Board(ctx, w, twin)
	require.NoError(t, err)
	assert.Equal(t, other.ID, b.Piece)

	// All or nothing, on both pieces; and not on somebody else's.
	moved.Placement.X, there.Placement.X = 88, 99
	var stale *Stale[reckon.Board]
	require.ErrorAs(
		t,
		saveBoards(
			s,
			w,
			[]reckon.Stored{
				{Board: there, Version: b.Version, Piece: other.ID},
				{Board: moved, Version: one.Version, Piece: id},
			},
		),
		&stale,
	)
	b, err = s.Board(ctx, w, twin)
	require.NoError(t, err)
	assert.NotEqual(t, 99.0, b.Board.Placement.X)
	assert.ErrorIs(
		t,
		saveBoards(s, w, []reckon.Stored{{Board: there, Version: b.Version, Piece: id}}),
		ErrNotFound,
		"it lies on the other piece",
	)
	stranger, err := s.NewAccount(ctx, "stranger@example.org", "hash", shop.Usual())
	require.NoError(t, err)
	assert.Error(
		t,
		saveBoards(s, stranger.Workshop, []reckon.Stored{{Board: there, Version: b.Version, Piece: other.ID}}),
	)
}

func saveBoards(s *Store, workshop string, boards []reckon.Stored) error {
	_, err := s.SaveBoards(ctx, workshop, boards)
	return err
}
