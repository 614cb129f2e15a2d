package store

import (
	"context"
	"database/sql"
	"errors"
)

// Picture is a picture of a workshop, as JPEG. Pictures are kept in the
// database: they then belong to the workshop by the same key, go with it, and
// come along in every dump; a board shop has some hundreds of a megabyte.
type Picture struct {
	ID     string
	Data   []byte
	Width  int
	Height int
}

// NewPicture keeps a picture and returns its id.
func (s *Store) NewPicture(ctx context.Context, workshop string, p Picture) (id string, err error) {
	err = s.q.GetContext(
		ctx,
		&id,
		`INSERT INTO pictures (workshop_id, data, width, height, created_at) VALUES ($1, $2, $3, $4, $5) RETURNING id`,
		workshop,
		p.Data,
		p.Width,
		p.Height,
		s.now(),
	)
	return id, err
}

// Picture reads a picture of the workshop.
func (s *Store) Picture(ctx context.Context, workshop, id string) (Picture, error) {
	if !known(id) {
		return Picture{}, ErrNotFound
	}
	var p Picture
	err := s.q.GetContext(
		ctx,
		&p,
		`SELECT id, data, width, height FROM pictures WHERE workshop_id = $1 AND id = $2`,
		workshop,
		id,
	)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return p, err
}

// PictureIDs lists the pictures of a workshop, the newest first.
func (s *Store) PictureIDs(ctx context.Context, workshop string) ([]string, error) {
	var out []string
	err := s.q.SelectContext(ctx, &out, `SELECT id FROM pictures WHERE workshop_id = $1 ORDER BY created_at DESC, id`,
		workshop)
	return out, err
}
