package store

import (
	"context"

	"idletimber/craft/reckon"
	"idletimber/craft/slab"
)

// TakeIn stores a slab with its boards, all or nothing, and returns their ids.
func (s *Store) TakeIn(ctx context.Context, workshop string, v slab.Slab, boards []reckon.Board) (piece string, ids []string, err error) {
	text, err := encode(v)
	if err != nil {
		return "", nil, err
	}
	tx, err := s.DB.BeginTxx(ctx, nil)
	if err != nil {
		return "", nil, err
	}
	defer tx.Rollback() // does nothing after a commit
	if err := tx.GetContext(ctx, &piece, insertPiece, workshop, v.Name, v.Species, text, s.now()); err != nil {
		return "", nil, err
	}
	for _, b := range boards {
		b.ID = ""
		text, err := encode(b)
		if err != nil {
			return "", nil, err
		}
		var id string
		if err := tx.GetContext(ctx, &id, insertBoard, workshop, piece, b.Name, due(b), text, s.now()); err != nil {
			return "", nil, err
		}
		ids = append(ids, id)
	}
	return piece, ids, tx.Commit()
}
