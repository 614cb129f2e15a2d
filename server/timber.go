package server

import (
	"context"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft/reckon"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
)

// PieceDoc is a piece of the rack with its reckoning.
type PieceDoc struct {
	ID      string      `json:"id"`
	Version int         `json:"version"`
	Slab    slab.Slab   `json:"slab"`
	Wood    reckon.Wood `json:"wood"`
	Binned  bool        `json:"binned"`
	Boards  []BoardName `json:"boards" doc:"Boards laid on it"`
}

// BoardName is a board by name.
type BoardName struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// PieceLine is a piece as the rack shows it.
type PieceLine struct {
	ID        string  `json:"id"`
	Name      string  `json:"name"`
	Species   string  `json:"species"`
	Length    float64 `json:"length"`
	Width     float64 `json:"width"`
	Thickness float64 `json:"thickness"`
	Path      string  `json:"path"`
	MinY      float64 `json:"minY"`
	MaxY      float64 `json:"maxY"`
	Light     string  `json:"light"`
	Dark      string  `json:"dark"`
	Moisture  float64 `json:"moisture"`
	Ready     bool    `json:"ready"`
	Finding   string  `json:"finding" doc:"Why it is ready or not"`
	Flaws     int     `json:"flaws"`
	LiveLeft  bool    `json:"liveLeft"`
	LiveRight bool    `json:"liveRight"`
}

// Page is one page of a list.
type Page[T any] struct {
	Total int `json:"total"`
	Items []T `json:"items"`
}

type listIn struct {
	Sought string `query:"q" maxLength:"100" doc:"Words to look for"`
	Bin    bool   `query:"bin" doc:"List the offcut bin"`
	Page   int    `query:"page" minimum:"0" maximum:"100000"`
}

// pageSize is how many lines a page of a list holds.
const pageSize = 24

type pieceOut struct{ Body PieceDoc }

type pieceSave struct {
	ID   string `path:"id"`
	Body struct {
		Version int       `json:"version"`
		Slab    slab.Slab `json:"slab"`
	}
}

type idIn struct {
	ID string `path:"id"`
}

func (s *Server) timberRoutes(api huma.API) {
	huma.Get(api, "/api/pieces", s.listPieces)
	huma.Post(api, "/api/pieces", func(ctx context.Context, in *struct{ Body slab.Slab }) (*pieceOut, error) {
		if _, err := s.wood(ctx, in.Body); err != nil {
			return nil, answer(err)
		}
		p, err := s.Store.NewPiece(ctx, account(ctx).Workshop, in.Body)
		if err != nil {
			return nil, answer(err)
		}
		return s.piece(ctx, p.ID)
	})
	huma.Post(api, "/api/pieces/draft", func(ctx context.Context, in *struct{ Body slab.Slab }) (*struct{ Body reckon.Wood }, error) {
		wood, err := s.wood(ctx, in.Body)
		return &struct{ Body reckon.Wood }{wood}, answer(err)
	})
	huma.Get(api, "/api/pieces/{id}", func(ctx context.Context, in *idIn) (*pieceOut, error) { return s.piece(ctx, in.ID) })
	huma.Put(api, "/api/pieces/{id}", func(ctx context.Context, in *pieceSave) (*pieceOut, error) {
		if _, err := s.wood(ctx, in.Body.Slab); err != nil {
			return nil, answer(err)
		}
		if _, err := s.Store.SavePiece(ctx, account(ctx).Workshop, in.ID, in.Body.Slab, in.Body.Version); err != nil {
			return nil, conflict(err, in.Body.Slab)
		}
		return s.piece(ctx, in.ID)
	})
	huma.Delete(api, "/api/pieces/{id}", func(ctx context.Context, in *idIn) (*struct{}, error) {
		return nil, answer(s.Store.BinPiece(ctx, account(ctx).Workshop, in.ID, true))
	})
	huma.Post(api, "/api/pieces/{id}/restore", func(ctx context.Context, in *idIn) (*struct{}, error) {
		return nil, answer(s.Store.BinPiece(ctx, account(ctx).Workshop, in.ID, false))
	})
}

// wood reckons a slab in the workshop.
func (s *Server) wood(ctx context.Context, v slab.Slab) (reckon.Wood, error) {
	shop, _, err := s.Store.Shop(ctx, account(ctx).Workshop)
	if err != nil {
		return reckon.Wood{}, err
	}
	return s.woodIn(shop, v)
}

func (s *Server) woodIn(at shop.Shop, v slab.Slab) (reckon.Wood, error) {
	r, err := reckon.Reckon(reckon.Job{Schema: reckon.Schema, Now: s.Clock(), Slab: &v, Shop: at})
	if err != nil {
		return reckon.Wood{}, err
	}
	return *r.Slab, nil
}

func (s *Server) piece(ctx context.Context, id string) (*pieceOut, error) {
	workshop := account(ctx).Workshop
	p, err := s.Store.Piece(ctx, workshop, id)
	if err != nil {
		return nil, answer(err)
	}
	wood, err := s.wood(ctx, p.Slab)
	if err != nil {
		return nil, answer(err)
	}
	boards, err := s.Store.BoardsOn(ctx, workshop, id)
	if err != nil {
		return nil, answer(err)
	}
	out := &pieceOut{PieceDoc{ID: p.ID, Version: p.Version, Slab: p.Slab, Wood: wood, Binned: p.Deleted != nil}}
	for _, b := range boards {
		out.Body.Boards = append(out.Body.Boards, BoardName{b.Board.ID, b.Board.Name})
	}
	return out, nil
}

func (s *Server) listPieces(ctx context.Context, in *listIn) (*struct{ Body Page[PieceLine] }, error) {
	shop, _, err := s.Store.Shop(ctx, account(ctx).Workshop)
	if err != nil {
		return nil, answer(err)
	}
	pieces, total, err := s.Store.Pieces(ctx, account(ctx).Workshop, in.Sought, in.Bin, pageSize, in.Page*pageSize)
	if err != nil {
		return nil, answer(err)
	}
	out := &struct{ Body Page[PieceLine] }{Page[PieceLine]{Total: total}}
	for _, p := range pieces {
		wood, err := s.woodIn(shop, p.Slab)
		if err != nil {
			return nil, answer(err)
		}
		out.Body.Items = append(out.Body.Items, PieceLine{
			ID: p.ID, Name: p.Slab.Name, Species: p.Slab.Species, Length: p.Slab.Length, Width: wood.MaxY - wood.MinY, Thickness: p.Slab.Thinnest(),
			Path: wood.Path, MinY: wood.MinY, MaxY: wood.MaxY, Light: wood.Species.Light, Dark: wood.Species.Dark,
			Moisture: wood.Moisture, Ready: wood.Ready, Finding: wood.Finding, Flaws: len(p.Slab.Flaws), LiveLeft: p.Slab.LiveLeft, LiveRight: p.Slab.LiveRight,
		})
	}
	return out, nil
}
