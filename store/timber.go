package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"idletimber/craft/slab"
)

// Piece is a slab on the rack.
type Piece struct {
	ID      string
	Slab    slab.Slab
	Version int
	Deleted *time.Time
}

type pieceRow struct {
	ID        string
	Doc       doc[slab.Slab]
	Version   int
	DeletedAt *time.Time `db:"deleted_at"`
}

func (r pieceRow) piece() Piece { return Piece{r.ID, r.Doc.V, r.Version, r.DeletedAt} }

const insertPiece = `INSERT INTO pieces (workshop_id, name, species, doc, created_at) VALUES ($1, $2, $3, $4, $5) RETURNING id`

// NewPiece puts a slab on the rack.
func (s *Store) NewPiece(ctx context.Context, workshop string, v slab.Slab) (Piece, error) {
	text, err := encode(v)
	if err != nil {
		return Piece{}, err
	}
	p := Piece{Slab: v, Version: 1}
	err = s.DB.GetContext(ctx, &p.ID, insertPiece, workshop, v.Name, v.Species, text, s.now())
	return p, err
}

// Piece reads one piece, also from the offcut bin.
func (s *Store) Piece(ctx context.Context, workshop, id string) (Piece, error) {
	if !known(id) {
		return Piece{}, ErrNotFound
	}
	var row pieceRow
	err := s.DB.GetContext(ctx, &row, `SELECT id, doc, version, deleted_at FROM pieces WHERE workshop_id = $1 AND id = $2`, workshop, id)
	if errors.Is(err, sql.ErrNoRows) {
		return Piece{}, ErrNotFound
	}
	return row.piece(), err
}

// SavePiece stores a slab made on a version and returns the new version. The
// error is *Stale[slab.Slab] when another was stored meanwhile.
func (s *Store) SavePiece(ctx context.Context, workshop, id string, v slab.Slab, version int) (int, error) {
	if !known(id) {
		return 0, ErrNotFound
	}
	text, err := encode(v)
	if err != nil {
		return 0, err
	}
	err = s.DB.GetContext(ctx, &version, `UPDATE pieces SET name = $3, species = $4, doc = $5, version = version + 1
		WHERE workshop_id = $1 AND id = $2 AND version = $6 RETURNING version`, workshop, id, v.Name, v.Species, text, version)
	if errors.Is(err, sql.ErrNoRows) {
		p, err := s.Piece(ctx, workshop, id)
		if err != nil {
			return 0, err
		}
		return 0, &Stale[slab.Slab]{p.Slab, p.Version}
	}
	return version, err
}

// Pieces lists a page of the rack, or of the offcut bin, newest first, whose
// name or species holds the words sought, and counts all of them.
func (s *Store) Pieces(ctx context.Context, workshop, sought string, binned bool, limit, offset int) ([]Piece, int, error) {
	const from = ` FROM pieces WHERE workshop_id = $1 AND (deleted_at IS NOT NULL) = $2 AND ($3 = '' OR strpos(lower(name || ' ' || species), lower($3)) > 0)`
	var total int
	if err := s.DB.GetContext(ctx, &total, `SELECT count(*)`+from, workshop, binned, sought); err != nil {
		return nil, 0, err
	}
	var rows []pieceRow
	if err := s.DB.SelectContext(ctx, &rows, `SELECT id, doc, version, deleted_at`+from+` ORDER BY created_at DESC, id LIMIT $4 OFFSET $5`, workshop, binned, sought, limit, offset); err != nil {
		return nil, 0, err
	}
	out := make([]Piece, len(rows))
	for i, r := range rows {
		out[i] = r.piece()
	}
	return out, total, nil
}

// BinPiece moves a piece to the offcut bin, or back to the rack. The error is
// ErrInUse while boards still to be made lie on it.
func (s *Store) BinPiece(ctx context.Context, workshop, id string, bin bool) error {
	err := s.bin(ctx, `UPDATE pieces SET deleted_at = $3 WHERE workshop_id = $1 AND id = $2
		AND ($3::timestamptz IS NULL OR NOT EXISTS (SELECT 1 FROM boards WHERE piece_id = $2 AND deleted_at IS NULL AND given_at IS NULL))`, workshop, id, bin)
	if errors.Is(err, ErrNotFound) && bin {
		if _, found := s.Piece(ctx, workshop, id); found == nil {
			return ErrInUse
		}
	}
	return err
}

func (s *Store) bin(ctx context.Context, query, workshop, id string, bin bool) error {
	if !known(id) {
		return ErrNotFound
	}
	var at *time.Time
	if bin {
		now := s.now()
		at = &now
	}
	res, err := s.DB.ExecContext(ctx, query, workshop, id, at)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n == 0 {
		return errors.Join(err, ErrNotFound)
	}
	return nil
}
