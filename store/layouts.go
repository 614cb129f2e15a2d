package store

import (
	"context"
	"time"
)

// Sibling is another piece that came of the same wood; Leaf is its number among
// the leaves, 0 for one that is none.
type Sibling struct {
	ID, Name  string
	Leaf      int
	CreatedAt time.Time `db:"created_at"`
}

// Siblings lists the other pieces that came of the same wood as one.
func (s *Store) Siblings(ctx context.Context, workshop, piece string) (out []Sibling, err error) {
	if !known(piece) {
		return nil, ErrNotFound
	}
	err = s.q.SelectContext(
		ctx,
		&out,
		`SELECT DISTINCT o.id, o.name, coalesce((o.doc->>'leaf')::int, 0) AS leaf, o.created_at
		FROM piece_sources mine JOIN piece_sources theirs ON theirs.source_id = mine.source_id
			AND theirs.piece_id <> mine.piece_id
		JOIN pieces o ON o.id = theirs.piece_id
		WHERE mine.piece_id = $2 AND o.workshop_id = $1 AND o.deleted_at IS NULL ORDER BY o.created_at, o.name
			LIMIT 50`,
		workshop,
		piece,
	)
	return out, err
}
