package store

import (
	"context"

	"idletimber/craft/reckon"
	"idletimber/craft/slab"
)

// TakeIn stores a slab with its boards, all or nothing, and returns their ids,
// which are new.
func (s *Store) TakeIn(
	ctx context.Context,
	workshop string,
	v slab.Slab,
	boards []reckon.Board,
) (piece string, ids []string, err error) {
	at, _, err := s.Shop(ctx, workshop)
	if err != nil {
		return "", nil, err
	}
	tx, err := s.DB.BeginTxx(ctx, nil)
	if err != nil {
		return "", nil, err
	}
	defer tx.Rollback() // does nothing after a commit
	if piece, err = s.insert(ctx, tx, workshop, at, v); err != nil {
		return "", nil, err
	}
	stored := make([]reckon.Stored, len(boards))
	for i, b := range reckon.Renamed(boards, NewID) {
		stored[i] = reckon.Stored{Board: b, Piece: piece}
		ids = append(ids, b.ID)
	}
	if err := s.putBoards(ctx, tx, workshop, stored); err != nil {
		return "", nil, err
	}
	return piece, ids, tx.Commit()
}
