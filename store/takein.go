package store

import (
	"context"

	"idletimber/craft/reckon"
	"idletimber/craft/slab"
)

// TakeIn stores a slab with its boards and, of a panel, where its strips lie, all or
// nothing, and returns their ids, which are new.
func (s *Store) TakeIn(
	ctx context.Context,
	workshop string,
	v slab.Slab,
	boards []reckon.Board,
	strips ...Reserved,
) (piece string, ids []string, err error) {
	made, err := s.write(ctx, workshop, func(tx *Store) error {
		at, _, err := tx.Shop(ctx, workshop)
		if err != nil {
			return err
		}
		piece, err := tx.insert(ctx, workshop, at, v)
		if err == nil && v.Panel() {
			err = tx.reserve(ctx, workshop, piece, v, strips)
		}
		if err != nil {
			return err
		}
		stored := make([]reckon.Stored, len(boards))
		for i, b := range reckon.Renamed(boards, NewID) {
			stored[i] = reckon.Stored{Board: b, Piece: piece}
		}
		return tx.putBoards(ctx, workshop, stored)
	})
	if err != nil {
		return "", nil, err
	}
	return made[0], made[1:], nil
}
