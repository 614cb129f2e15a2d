package store

import (
	"context"
	"slices"

	"idletimber/craft/board"
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
	now := map[string]string{} // ids that were, and are
	for _, b := range boards {
		was := b.ID
		b.ID, b.Mates, b.Twin = "", nil, nil
		text, err := encode(b)
		if err != nil {
			return "", nil, err
		}
		var id string
		if err := tx.GetContext(ctx, &id, insertBoard, workshop, piece, b.Name, due(b), text, s.now()); err != nil {
			return "", nil, err
		}
		ids = append(ids, id)
		now[was] = id
	}
	for i, b := range boards {
		mates := slices.DeleteFunc(slices.Clone(b.Mates), func(m board.Mate) bool { return now[m.Board] == "" })
		if len(mates) == 0 {
			continue
		}
		for k := range mates {
			mates[k].Board = now[mates[k].Board]
		}
		b.ID, b.Mates, b.Twin = ids[i], mates, nil
		if _, err := s.saveBoard(ctx, tx, workshop, b, 1); err != nil {
			return "", nil, err
		}
	}
	return piece, ids, tx.Commit()
}
