package server

import (
	"context"
	"errors"
	"fmt"

	"idletimber/craft"
	"idletimber/craft/reckon"
	"idletimber/store"
)

// partner is the leaf that opens like a book with a piece: the first and the
// second, the third and the fourth; ok is false where it is not on the rack.
func (s *Server) partner(ctx context.Context, workshop string, p store.Piece) (leaf store.Piece, ok bool, err error) {
	if p.Slab.Leaf == 0 {
		return leaf, false, nil
	}
	number := p.Slab.Leaf + 1
	if p.Slab.Leaf%2 == 0 {
		number = p.Slab.Leaf - 1
	}
	siblings, err := s.Store.Siblings(ctx, workshop, p.ID)
	if err != nil {
		return leaf, false, err
	}
	for _, o := range siblings {
		if leaf, err = s.Store.Piece(ctx, workshop, o.ID); err != nil {
			return leaf, false, err
		}
		if leaf.Slab.Leaf == number {
			return leaf, true, nil
		}
	}
	return store.Piece{}, false, nil
}

// withLeaf adds the partner of the job's piece, with its boards.
func (s *Server) withLeaf(ctx context.Context, workshop, piece string, j reckon.Job) (reckon.Job, error) {
	p, err := s.Store.Piece(ctx, workshop, piece)
	if err != nil {
		return j, err
	}
	leaf, ok, err := s.partner(ctx, workshop, p)
	if err != nil || !ok {
		return j, err
	}
	there, err := s.job(ctx, workshop, leaf.ID, "")
	j.Leaf = &reckon.Leaf{Slab: leaf.Slab, Boards: there.Boards, Taken: there.Taken}
	return j, err
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
	leaf, open, err := s.partner(ctx, workshop, p)
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
	for id := range left {
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
