package store

import (
	"context"

	"idletimber/craft/reckon"
	"idletimber/craft/slab"
)

// TakeIn stores a slab with its boards, all or nothing, and returns their ids.
func (s *Store) TakeIn(ctx context.Context, workshop string, v slab.Slab, boards []reckon.Board) (piece string, ids []string, err error) {
	at, _, err := s.Shop(ctx, workshop)
	if err != nil {
		return "", nil, err
	}
	tx, err := s.DB.BeginTxx(ctx, nil)
	if err != nil {
		return "", nil, err
	}
	defer tx.Rollback() // does nothing after a commit
	if piece, err = s.insert(ctx, tx, workshop, at, v, nil); err != nil {
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
