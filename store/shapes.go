package store

import (
	"context"
	"time"

	"idletimber/craft/board"
	"idletimber/craft/reckon"
)

// Template is a shape that is kept to use again.
type Template struct {
	ID     string
	Name   string
	Design board.Design
	At     time.Time
}

// Templates lists the shapes of a workshop, the newest first.
func (s *Store) Templates(ctx context.Context, workshop string) ([]Template, error) {
	var rows []struct {
		ID, Name  string
		Doc       doc[board.Design]
		CreatedAt time.Time `db:"created_at"`
	}
	err := s.q.SelectContext(
		ctx,
		&rows,
		`SELECT id, name, doc, created_at FROM templates WHERE workshop_id = $1 AND deleted_at IS NULL
			ORDER BY created_at DESC, id LIMIT 200`,
		workshop,
	)
	out := make([]Template, len(rows))
	for i, r := range rows {
		out[i] = Template{r.ID, r.Name, r.Doc.V, r.CreatedAt}
	}
	return out, err
}

// NewTemplate keeps a shape and returns its id.
func (s *Store) NewTemplate(ctx context.Context, workshop, name string, d board.Design) (id string, err error) {
	text, err := encode(d)
	if err != nil {
		return "", err
	}
	err = s.q.GetContext(
		ctx,
		&id,
		`INSERT INTO templates (workshop_id, name, doc, created_at) VALUES ($1, $2, $3, $4) RETURNING id`,
		workshop,
		name,
		text,
		s.now(),
	)
	return id, err
}

// BinTemplate puts a shape away, or takes it out again.
func (s *Store) BinTemplate(ctx context.Context, workshop, id string, bin bool) error {
	return s.bin(ctx, `UPDATE templates SET deleted_at = $3 WHERE workshop_id = $1 AND id = $2`, workshop, id, bin)
}

// Version is what a board was.
type Version struct {
	Version int
	Board   reckon.Board
	At      time.Time
}

// apart is how long must pass before what a board was is kept again, minutes.
const apart = 5

// mostVersions bounds what is kept of one board.
const mostVersions = 100

// keepVersion keeps what a board is before it is changed, unless it was kept a
// few minutes ago.
func (s *Store) keepVersion(ctx context.Context, workshop, id string) error {
	_, err := s.q.ExecContext(ctx, `INSERT INTO board_versions (board_id, workshop_id, version, doc, at)
		SELECT id, workshop_id, version, doc, $3 FROM boards WHERE workshop_id = $1 AND id = $2
			AND NOT EXISTS (SELECT 1 FROM board_versions WHERE board_id = $2
			AND at > $3::timestamptz - make_interval(mins => $4))
		ON CONFLICT DO NOTHING`, workshop, id, s.now(), apart)
	return err
}

// Versions lists what a board was, the newest first.
func (s *Store) Versions(ctx context.Context, workshop, id string) ([]Version, error) {
	if !known(id) {
		return nil, ErrNotFound
	}
	var rows []struct {
		Version int
		Doc     doc[reckon.Board]
		At      time.Time
	}
	err := s.q.SelectContext(
		ctx,
		&rows,
		`SELECT version, doc, at FROM board_versions WHERE workshop_id = $1 AND board_id = $2 ORDER BY version DESC
			LIMIT $3`,
		workshop,
		id,
		mostVersions,
	)
	out := make([]Version, len(rows))
	for i, r := range rows {
		r.Doc.V.ID = id
		out[i] = Version{r.Version, r.Doc.V, r.At}
	}
	return out, err
}
