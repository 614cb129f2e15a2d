package store

import (
	"context"
	"errors"
	"slices"

	"idletimber/craft/geom"
	"idletimber/craft/reckon"
	"idletimber/craft/slab"
)

// ErrCircular tells of a panel that would be made of itself.
var ErrCircular = errors.New("a panel made of itself")

// Reserved is wood of a piece that a strip of a panel is to be cut from.
type Reserved struct {
	reckon.Strip
	Piece string
}

type stripRow struct {
	Panel  string `db:"panel_id"`
	Name   string
	Strip  string
	Piece  string `db:"piece_id"`
	X      float64
	Y      float64
	Angle  float64
	Length float64
	Width  float64
	Cents  int
}

func (s *Store) strips(ctx context.Context, where string, args ...any) ([]Reserved, error) {
	var rows []stripRow
	if err := s.q.SelectContext(ctx, &rows, `
		SELECT t.panel_id, p.name, t.strip, t.piece_id, t.x, t.y, t.angle, t.length,
		t.width, t.cents FROM strips t JOIN pieces p ON p.id = t.panel_id
		WHERE p.workshop_id = $1 AND `+where+` ORDER BY t.panel_id, t.strip`, args...); err != nil {
		return nil, err
	}
	out := make([]Reserved, len(rows))
	for i, r := range rows {
		out[i] = Reserved{reckon.Strip{
			Panel: r.Panel, Name: r.Name, ID: r.Strip, At: geom.Placement{X: r.X, Y: r.Y, Angle: r.Angle},
			Length: r.Length, Width: r.Width, Cents: r.Cents,
		}, r.Piece}
	}
	return out, nil
}

// StripsOf lists where the strips of a panel lie.
func (s *Store) StripsOf(ctx context.Context, workshop, panel string) ([]Reserved, error) {
	return s.strips(ctx, `t.panel_id = $2`, workshop, panel)
}

// StripsOn lists the strips that are to be cut from a piece for panels that are not in
// the bin.
func (s *Store) StripsOn(ctx context.Context, workshop, piece string) ([]Reserved, error) {
	return s.strips(ctx, `t.piece_id = $2 AND p.deleted_at IS NULL`, workshop, piece)
}

// PiecesOf reads some pieces by their ids, also from the bin; those that are nowhere are
// left out.
func (s *Store) PiecesOf(ctx context.Context, workshop string, ids []string) ([]Piece, error) {
	ids = slices.DeleteFunc(slices.Clone(ids), func(id string) bool { return !known(id) })
	if len(ids) == 0 {
		return nil, nil
	}
	var rows []pieceRow
	err := s.q.SelectContext(ctx, &rows, `SELECT `+pieceColumns+` FROM pieces
		WHERE workshop_id = $1 AND id = ANY($2::uuid[]) ORDER BY id`, workshop, ids)
	out := make([]Piece, len(rows))
	for i, r := range rows {
		out[i] = r.piece()
	}
	return out, err
}

// Patterns are the documents of the newest panels of a workshop but one.
func (s *Store) Patterns(ctx context.Context, workshop, but string) ([]slab.Slab, error) {
	const newest = 60
	var rows []struct{ Doc doc[slab.Slab] }
	err := s.q.SelectContext(
		ctx,
		&rows,
		`SELECT jsonb_build_object('name', name, 'glue', doc->'glue') AS doc FROM pieces
		WHERE workshop_id = $1 AND panel AND id::text <> $2
		ORDER BY created_at DESC LIMIT $3`,
		workshop,
		but,
		newest,
	)
	out := make([]slab.Slab, len(rows))
	for i, r := range rows {
		out[i] = r.Doc.V
	}
	return out, err
}

// reserve notes where the strips of a panel lie, and what it is made of.
func (s *Store) reserve(ctx context.Context, workshop, panel string, v slab.Slab, strips []Reserved) error {
	if _, err := s.q.ExecContext(ctx, `DELETE FROM strips WHERE panel_id = $1`, panel); err != nil {
		return err
	}
	if _, err := s.q.ExecContext(ctx, `DELETE FROM piece_sources WHERE piece_id = $1`, panel); err != nil {
		return err
	}
	for _, t := range strips {
		if !known(t.Piece) {
			return ErrNotFound
		}
		if err := found(s.q.ExecContext(ctx, `INSERT INTO strips (panel_id, strip, piece_id, x, y, angle, length, width,
			cents) SELECT $1, $2, id, $4, $5, $6, $7, $8, $9 FROM pieces WHERE id = $3 AND workshop_id = $10`,
			panel, t.ID, t.Piece, t.At.X, t.At.Y, t.At.Angle, t.Length, t.Width, t.Cents, workshop)); err != nil {
			return err
		}
	}
	for i, from := range v.Sources() {
		if !known(from) { // which its verdict tells, as of one that is nowhere
			continue
		}
		if _, err := s.q.ExecContext(ctx, `INSERT INTO piece_sources (piece_id, source_id, position)
			SELECT $1, id, $3 FROM pieces WHERE id = $2 AND workshop_id = $4`, panel, from, i, workshop); err != nil {
			return err
		}
	}
	var circular bool
	if err := s.q.GetContext(ctx, &circular, `WITH RECURSIVE made (id) AS (
			SELECT source_id FROM piece_sources WHERE piece_id = $1
			UNION SELECT o.source_id FROM piece_sources o JOIN made ON o.piece_id = made.id)
		SELECT EXISTS (SELECT 1 FROM made WHERE id = $1)`, panel); err != nil {
		return err
	}
	if circular {
		return ErrCircular
	}
	return nil
}
