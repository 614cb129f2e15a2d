package server

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"idletimber/craft"
	"idletimber/craft/reckon"
	"idletimber/craft/slab"
	"idletimber/store"
)

// partner is the leaf that opens like a book with a piece; ok is false where
// there is none on the rack.
func (s *Server) partner(ctx context.Context, workshop, piece string, v slab.Slab) (leaf store.Piece, ok bool, err error) {
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

// withLeaf adds the partner of the job's piece, with its boards, and names it; nil
// where there is none.
func (s *Server) withLeaf(ctx context.Context, workshop, piece string, j reckon.Job) (reckon.Job, *Leaf, error) {
	leaf, ok, err := s.partner(ctx, workshop, piece, *j.Slab)
	if err != nil || !ok {
		return j, nil, err
	}
	there, err := s.job(ctx, workshop, leaf.ID, "")
	j.Leaf = &reckon.Leaf{Slab: leaf.Slab, Boards: there.Boards, Taken: there.Taken}
	return j, &Leaf{leaf.ID, leaf.Slab.Name}, err
}

// withTwins adds the twins of boards of a piece that are to be stored: where they
// go, they go with them; a new one is laid. Those that have lost their board, or
// it them, go their own way. Before is what is stored of the piece.
func (s *Server) withTwins(ctx context.Context, workshop, piece string, boards []store.Saving, before []store.Board, binned []string) ([]store.Saving, error) {
	was := map[string]*reckon.Twin{}
	for _, b := range before {
		was[b.Board.ID] = b.Board.Twin
	}
	left := map[string]bool{} // twins whose board has let them go
	for _, id := range binned {
		if t := was[id]; t != nil {
			left[t.Board] = true
		}
	}
	p, err := s.Store.Piece(ctx, workshop, piece)
	if err != nil {
		return nil, err
	}
	leaf, open, err := s.partner(ctx, workshop, piece, p.Slab)
	if err != nil {
		return nil, err
	}
	fresh := 0
	for i := range boards {
		b := &boards[i].Board
		if old := was[b.ID]; old != nil && (b.Twin == nil || b.Twin.Board != old.Board) {
			left[old.Board] = true
		}
		if b.Twin == nil {
			continue
		}
		twin, err := s.Store.Board(ctx, workshop, b.Twin.Board)
		switch back := twin.Board.Twin; {
		case errors.Is(err, store.ErrNotFound): // a new one
			twin = store.Board{Board: *b, Piece: leaf.ID}
			twin.Board.ID, twin.Board.Name, twin.Board.Mates = b.Twin.Board, b.Name+reckon.TwinName, nil
		case err != nil:
			return nil, err
		case twin.Deleted != nil:
			continue
		case twin.Piece != leaf.ID, back == nil, back.Board != b.ID:
			b.Twin = nil
		}
		if !open || b.Twin == nil {
			b.Twin = nil
			continue
		}
		if twin.Version == 0 {
			fresh++
		}
		twin.Board = twin.Board.Follow(*b, p.Slab, leaf.Slab)
		twin.Board.Twin = &reckon.Twin{Board: b.ID, Piece: piece}
		boards = append(boards, store.Saving{Board: twin.Board, Version: twin.Version, Piece: leaf.ID})
		delete(left, twin.Board.ID)
	}
	if fresh > 0 {
		on, err := s.Store.BoardsOn(ctx, workshop, leaf.ID)
		if err != nil {
			return nil, err
		}
		if len(on)+fresh > reckon.MostBoards {
			return nil, craft.Problems{{Field: "body.boards", Wrong: fmt.Sprintf("%s would hold %d boards", leaf.Slab.Name, len(on)+fresh), Right: fmt.Sprintf("lay at most %d on a leaf", reckon.MostBoards)}}
		}
	}
	return s.letGo(ctx, workshop, piece, left, boards)
}

// letGo adds twins that boards of a piece have let go, to be stored without them.
func (s *Server) letGo(ctx context.Context, workshop, piece string, twins map[string]bool, boards []store.Saving) ([]store.Saving, error) {
	for id := range twins {
		twin, err := s.Store.Board(ctx, workshop, id)
		if errors.Is(err, store.ErrNotFound) {
			continue
		}
		if err != nil {
			return nil, err
		}
		if twin.Board.Twin == nil || twin.Board.Twin.Piece != piece {
			continue // it has let go already
		}
		twin.Board.Twin = nil
		boards = append(boards, store.Saving{Board: twin.Board, Version: twin.Version, Piece: twin.Piece})
	}
	return boards, nil
}
