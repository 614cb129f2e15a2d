package server

import (
	"context"
	"errors"
	"slices"

	"idletimber/craft/reckon"
	"idletimber/craft/slab"
	"idletimber/store"
)

// partner is the leaf that opens like a book with a piece; ok is false where
// there is none on the rack.
func (s *Server) partner(
	ctx context.Context,
	workshop, piece string,
	v slab.Slab,
) (leaf store.Piece, ok bool, err error) {
	if v.Partner() == 0 {
		return leaf, false, nil
	}
	siblings, err := s.Store.Siblings(ctx, workshop, piece)
	i := slices.IndexFunc(siblings, func(o store.Sibling) bool { return o.Leaf == v.Partner() })
	if err != nil || i < 0 {
		return leaf, false, err
	}
	leaf, err = s.Store.Piece(ctx, workshop, siblings[i].ID)
	return leaf, err == nil, err
}

// withLeaf adds the partner of the scene's piece, with its boards, and names it;
// nil where there is none.
func (s *Server) withLeaf(ctx context.Context, workshop, piece string, j reckon.Scene) (reckon.Scene, *Sibling, error) {
	leaf, ok, err := s.partner(ctx, workshop, piece, *j.Slab)
	if err != nil || !ok {
		return j, nil, err
	}
	there, err := s.job(ctx, workshop, leaf.ID, "")
	j.Leaf = &reckon.Leaf{Slab: leaf.Slab, Boards: there.Boards, Taken: there.Taken, Strips: there.Strips}
	return j, &Sibling{leaf.ID, leaf.Slab.Name}, err
}

// settle stores boards as they are wanted on a piece: changed, new and binned ones,
// with what follows from it for others. It returns the ids of new ones.
func (s *Server) settle(ctx context.Context, workshop, piece string, wanted []reckon.Stored) ([]string, error) {
	there, err := s.there(ctx, workshop, piece, wanted)
	if err != nil {
		return nil, err
	}
	boards, err := reckon.Settle(there, wanted)
	if err != nil {
		return nil, err
	}
	return s.Store.SaveBoards(ctx, workshop, boards)
}

// there reads what is there when boards of a piece are to be settled.
func (s *Server) there(
	ctx context.Context,
	workshop, piece string,
	wanted []reckon.Stored,
) (t reckon.There, err error) {
	p, err := s.Store.Piece(ctx, workshop, piece)
	if err != nil {
		return t, err
	}
	if t.Piece, err = s.rack(ctx, workshop, p); err != nil {
		return t, err
	}
	t.Known = map[string]reckon.Stored{}
	twins := reckon.Twins(t.Piece.Boards, wanted)
	for _, id := range twins {
		b, err := s.Store.Board(ctx, workshop, id)
		if errors.Is(err, store.ErrNotFound) {
			continue
		}
		if err != nil {
			return t, err
		}
		t.Known[id] = b.Stored()
	}
	leaf, ok, err := s.partner(ctx, workshop, piece, p.Slab)
	if err != nil || !ok || len(twins) == 0 {
		return t, err
	}
	there, err := s.rack(ctx, workshop, leaf)
	t.Partner = &there
	return t, err
}

// rack is a piece with its boards.
func (s *Server) rack(ctx context.Context, workshop string, p store.Piece) (reckon.Rack, error) {
	r := reckon.Rack{ID: p.ID, Slab: p.Slab}
	boards, err := s.Store.BoardsOn(ctx, workshop, p.ID)
	for _, b := range boards {
		r.Boards = append(r.Boards, b.Stored())
	}
	return r, err
}
