package store

import (
	"cmp"
	"context"
	"database/sql"
	"errors"
	"time"

	"github.com/jackc/pgx/v5/pgconn"

	"idletimber/craft/reckon"
)

// Saving is a board to be stored, with the version that it was changed from; 0
// for a new one, which brings its id.
type Saving struct {
	Board   reckon.Board
	Version int
	Piece   string // where it lies, if not on the piece that is laid out
}

// ErrIDTaken tells that a new board brings an id that is in use.
var ErrIDTaken = errors.New("the id is in use")

// unique is PostgreSQL's code for a broken unique constraint.
const unique = "23505"

// SaveLayout stores boards of a piece, changed and new ones, and moves others to
// the offcut bin: all of it or nothing. A stored board comes out of the bin.
func (s *Store) SaveLayout(ctx context.Context, workshop, piece string, boards []Saving, binned []string) error {
	if !known(piece) {
		return ErrNotFound
	}
	tx, err := s.DB.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback() // does nothing after a commit
	for i, b := range boards {
		on := cmp.Or(b.Piece, piece)
		if !known(b.Board.ID) || !known(on) {
			return ErrNotFound
		}
		if b.Version > 0 {
			if _, err := s.saveBoard(ctx, tx, workshop, b.Board, b.Version); err != nil {
				return err
			}
			out, err := tx.ExecContext(ctx, `UPDATE boards SET deleted_at = NULL WHERE workshop_id = $1 AND id = $2 AND piece_id = $3`, workshop, b.Board.ID, on)
			if err != nil {
				return err
			}
			if n, err := out.RowsAffected(); err != nil || n == 0 { // it lies on another piece
				return cmp.Or(err, ErrNotFound)
			}
			continue
		}
		text, err := encode(b.Board)
		if err != nil {
			return err
		}
		var id string
		err = tx.GetContext(ctx, &id, `INSERT INTO boards (workshop_id, piece_id, name, due, doc, created_at, id)
			SELECT workshop_id, id, $3, $4, $5, $6, $7 FROM pieces WHERE workshop_id = $1 AND id = $2 RETURNING id`,
			workshop, on, b.Board.Name, due(b.Board), text, s.now().Add(time.Duration(i)*time.Millisecond), b.Board.ID)
		var pg *pgconn.PgError
		switch {
		case errors.Is(err, sql.ErrNoRows):
			return ErrNotFound
		case errors.As(err, &pg) && pg.Code == unique:
			return ErrIDTaken
		case err != nil:
			return err
		}
	}
	for _, id := range binned {
		if !known(id) {
			return ErrNotFound
		}
		if _, err := tx.ExecContext(ctx, `UPDATE boards SET deleted_at = $4 WHERE workshop_id = $1 AND id = $2 AND piece_id = $3`, workshop, id, piece, s.now()); err != nil {
			return err
		}
	}
	return tx.Commit()
}

// Sibling is another piece that came of the same wood; Leaf is its number among
// the leaves, 0 for one that is none.
type Sibling struct {
	ID, Name string
	Leaf     int
}

// Siblings lists the other pieces that came of the same wood as one.
func (s *Store) Siblings(ctx context.Context, workshop, piece string) (out []Sibling, err error) {
	if !known(piece) {
		return nil, ErrNotFound
	}
	err = s.DB.SelectContext(ctx, &out, `SELECT o.id, o.name, coalesce((o.doc->>'leaf')::int, 0) AS leaf FROM pieces p JOIN pieces o ON o.parent_id = p.parent_id AND o.workshop_id = p.workshop_id AND o.id <> p.id
		WHERE p.workshop_id = $1 AND p.id = $2 AND o.deleted_at IS NULL ORDER BY o.created_at, o.name LIMIT 50`, workshop, piece)
	return out, err
}
