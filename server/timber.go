package server

import (
	"context"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft/glue"
	"idletimber/craft/reckon"
	"idletimber/craft/slab"
	"idletimber/craft/species"
	"idletimber/store"
)

// PieceDoc is a piece of the rack with its reckoning.
type PieceDoc struct {
	ID      string      `json:"id"`
	Version int         `json:"version"`
	Slab    slab.Slab   `json:"slab"`
	Wood    reckon.Wood `json:"wood"`
	Binned  bool        `json:"binned"`
	Cut     bool        `json:"cut" doc:"Its boards were cut out, or it was resawn: it is off the rack"`
	Sources []string    `json:"sources" doc:"Ids of the pieces that it was part of, or is made of"`
	Parts   []Named     `json:"parts" doc:"What it was divided into"`
	Boards  []Named     `json:"boards" doc:"Boards laid on it"`
}

// Named is a board or a piece by name.
type Named struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// PieceLine is a piece as the rack shows it.
type PieceLine struct {
	ID        string  `json:"id"`
	Name      string  `json:"name"`
	Species   string  `json:"species"`
	Stock     string  `json:"stock"`
	Length    float64 `json:"length"`
	Width     float64 `json:"width"`
	Thickness float64 `json:"thickness"`
	Path      string  `json:"path"`
	MinY      float64 `json:"minY"`
	MaxY      float64 `json:"maxY"`
	Light     string  `json:"light"`
	Dark      string  `json:"dark"`
	Moisture  float64 `json:"moisture"`

	Parts []glue.Drawn `json:"parts,omitempty" doc:"What a panel is made of"`

	Reserved string `json:"reserved,omitempty" doc:"For whom or what it is kept"`

	Ready   bool    `json:"ready"`
	Finding string  `json:"finding" doc:"Why it is ready or not"`
	Flaws   int     `json:"flaws"`
	Cents   float64 `json:"cents"`
}

// Page is one page of a list.
type Page[T any] struct {
	Total int `json:"total"`
	Items []T `json:"items"`
}

// RackPage is a page of the rack with the sums of all that was found.
type RackPage struct {
	Page[PieceLine]
	Ready int `json:"ready" doc:"How many of all found are ready"`
	Cents int `json:"cents" doc:"What all found cost together"`
}

// ListIn asks for a page of a list.
type ListIn struct {
	Sought string `query:"q" maxLength:"100" doc:"Words to look for"`
	Bin    bool   `query:"bin" doc:"List the offcut bin"`
	Page   int    `query:"page" minimum:"0" maximum:"100000"`
}

// RackIn asks for what lies on the rack.
type RackIn struct {
	ListIn
	Species    string  `query:"species" maxLength:"100"`
	Stock      string  `query:"stock" enum:"slab,plank,panel,sheet,offcut,slice"`
	Cut        bool    `query:"cut" doc:"What was cut up"`
	Ready      string  `query:"ready" enum:"ready,not ready"`
	LengthFrom float64 `query:"lengthFrom" minimum:"0" maximum:"10000" doc:"mm"`
	ThickFrom  float64 `query:"thickFrom" minimum:"0" maximum:"500" doc:"mm"`
	ThickTo    float64 `query:"thickTo" minimum:"0" maximum:"500" doc:"mm"`
	CentsTo    int     `query:"centsTo" minimum:"0" maximum:"1000000000"`
	Sort       string  `query:"sort" enum:"newest,name,species,longest,thickest,driest,dearest"`
}

func (in RackIn) wanted() store.Wanted {
	return store.Wanted{
		Words:      in.Sought,
		Species:    in.Species,
		Stock:      in.Stock,
		Cut:        in.Cut,
		Bin:        in.Bin,
		Ready:      in.Ready,
		LengthFrom: in.LengthFrom,
		ThickFrom:  in.ThickFrom,
		ThickTo:    in.ThickTo,
		CentsTo:    in.CentsTo,
		Sort:       in.Sort,
	}
}

// glance is how far an outline that is only glanced at may stray, mm.
const glance = 0.5

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

// divideIn asks for a piece to be divided as it stands in a version.
type divideIn[T any] struct {
	ID   string `path:"id"`
	Body struct {
		Version int `json:"version"`
		How     T   `json:"how"`
	}
}

type divided struct {
	Body struct {
		Pieces []string `json:"pieces" doc:"Ids of the new pieces"`
	}
}

func (s *Server) timberRoutes(api huma.API) {
	huma.Get(api, "/api/pieces", s.listPieces)
	huma.Post(api, "/api/pieces/to-come", s.toCome)
	huma.Get(api, "/api/pieces/species", func(ctx context.Context, _ *struct{}) (*struct{ Body []string }, error) {
		names, err := s.Store.SpeciesOnRack(ctx, account(ctx).Workshop)
		return &struct{ Body []string }{names}, answer(err)
	})
	huma.Post(api, "/api/pieces", func(ctx context.Context, in *struct{ Body slab.Slab }) (*pieceOut, error) {
		return s.newPiece(ctx, in.Body)
	})
	huma.Post(api, "/api/pieces/sized", func(ctx context.Context, in *struct{ Body slab.Size }) (*pieceOut, error) {
		if ps := in.Body.Check("body"); len(ps) > 0 {
			return nil, answer(ps)
		}
		return s.newPiece(ctx, slab.Sized(in.Body))
	})
	huma.Post(api, "/api/pieces/{id}/draft", func(ctx context.Context, in *struct {
		ID   string `path:"id"`
		Body slab.Slab
	}) (*struct{ Body reckon.Wood }, error) {
		v := in.Body
		if v.Panel() {
			if err := s.check(ctx, v); err != nil {
				return nil, answer(err)
			}
			var err error
			if v, _, err = s.panelled(ctx, account(ctx).Workshop, in.ID, v, false); err != nil {
				return nil, answer(err)
			}
		}
		wood, err := s.woodWithBoards(ctx, in.ID, &v, false)
		return &struct{ Body reckon.Wood }{wood}, answer(err)
	})
	huma.Get(
		api,
		"/api/pieces/{id}",
		func(ctx context.Context, in *idIn) (*pieceOut, error) { return s.piece(ctx, in.ID) },
	)
	huma.Put(api, "/api/pieces/{id}", func(ctx context.Context, in *pieceSave) (*pieceOut, error) {
		if err := s.check(ctx, in.Body.Slab); err != nil {
			return nil, answer(err)
		}
		workshop := account(ctx).Workshop
		v, spots, err := s.panelled(ctx, workshop, in.ID, in.Body.Slab, true)
		if err != nil {
			return nil, answer(err)
		}
		if err := s.Store.SavePiece(ctx, workshop, in.ID, v, in.Body.Version, spots...); err != nil {
			return nil, conflict(err, in.Body.Slab)
		}
		return s.piece(ctx, in.ID)
	}, mayConflict[slab.Slab](api))
	huma.Delete(api, "/api/pieces/{id}", func(ctx context.Context, in *idIn) (*struct{}, error) {
		return nil, answer(s.Store.BinPiece(ctx, account(ctx).Workshop, in.ID, true))
	})
	huma.Post(api, "/api/pieces/{id}/restore", func(ctx context.Context, in *idIn) (*struct{}, error) {
		return nil, answer(s.Store.BinPiece(ctx, account(ctx).Workshop, in.ID, false))
	})
	huma.Post(api, "/api/pieces/{id}/turn", func(ctx context.Context, in *struct {
		ID   string `path:"id"`
		Body struct {
			Version int `json:"version"`
		}
	}) (*pieceOut, error) {
		if err := s.Store.Turn(ctx, account(ctx).Workshop, in.ID, in.Body.Version); err != nil {
			return nil, conflict(err, slab.Slab{})
		}
		return s.piece(ctx, in.ID)
	})
	huma.Get(
		api,
		"/api/pieces/{id}/leftovers",
		func(ctx context.Context, in *idIn) (*struct{ Body []reckon.Offcut }, error) {
			wood, err := s.woodWithBoards(ctx, in.ID, nil, true)
			return &struct{ Body []reckon.Offcut }{wood.Offcuts}, answer(err)
		},
	)
	huma.Post(api, "/api/pieces/{id}/cut", func(ctx context.Context, in *divideIn[[]int]) (*divided, error) {
		return s.divide(
			ctx,
			in.ID,
			in.Body.Version,
			false,
			func(j reckon.Scene) ([]slab.Slab, error) { return reckon.Leftovers(j, in.Body.How) },
		)
	})
	huma.Post(api, "/api/pieces/{id}/resaw", func(ctx context.Context, in *divideIn[slab.Resawing]) (*divided, error) {
		return s.divide(
			ctx,
			in.ID,
			in.Body.Version,
			true,
			func(j reckon.Scene) ([]slab.Slab, error) { return reckon.Resaw(j, in.Body.How) },
		)
	})
	huma.Post(api, "/api/pieces/{id}/whole", func(ctx context.Context, in *idIn) (*struct{}, error) {
		return nil, answer(s.Store.Whole(ctx, account(ctx).Workshop, in.ID))
	})
}

// divide puts the parts of a piece on the rack in its place. A piece is free
// when no boards are still to be made of it.
func (s *Server) divide(
	ctx context.Context,
	id string,
	version int,
	free bool,
	parts func(reckon.Scene) ([]slab.Slab, error),
) (*divided, error) {
	workshop := account(ctx).Workshop
	out := &divided{}
	if ids, yes, err := s.Store.Repeated(ctx, workshop); yes || err != nil {
		out.Body.Pieces = ids
		return out, answer(err)
	}
	j, err := s.job(ctx, workshop, id, "")
	if err != nil {
		return nil, answer(err)
	}
	if j.Slab.Made() {
		r, err := reckon.Reckon(j, reckon.Request{})
		if err != nil {
			return nil, answer(err)
		}
		if state := stateOf(*r.Slab); state != reckon.Sound {
			return nil, huma.Error409Conflict(
				"the panel is " + state + "; it is cut up when its glue or resin bears a machine and " +
					"its steps are done",
			)
		}
	}
	made, err := parts(j)
	if err != nil {
		return nil, answer(err)
	}
	for _, part := range made {
		if ps := part.Check("part", s.Clock(), j.Shop.Species); len(ps) > 0 {
			return nil, answer(ps)
		}
	}
	if out.Body.Pieces, err = s.Store.Divide(ctx, workshop, id, version, made, free); err != nil {
		return nil, conflict(err, *j.Slab)
	}
	return out, nil
}

// newPiece puts a piece on the rack.
func (s *Server) newPiece(ctx context.Context, v slab.Slab) (*pieceOut, error) {
	if err := s.check(ctx, v); err != nil {
		return nil, answer(err)
	}
	workshop := account(ctx).Workshop
	v, spots, err := s.panelled(ctx, workshop, "", v, true)
	if err != nil {
		return nil, answer(err)
	}
	p, err := s.Store.NewPiece(ctx, workshop, v, spots...)
	if err != nil {
		return nil, answer(err)
	}
	return s.piece(ctx, p.ID)
}

// check reports what in a slab is out of range or unknown in the workshop.
func (s *Server) check(ctx context.Context, v slab.Slab) error {
	at, _, err := s.Store.Shop(ctx, account(ctx).Workshop)
	if err != nil {
		return err
	}
	if ps := v.Check("slab", s.Clock(), at.Species); len(ps) > 0 {
		return ps
	}
	return nil
}

// woodWithBoards reckons a piece of the rack with the boards laid on it, as it
// is stored or as it is being changed.
func (s *Server) woodWithBoards(ctx context.Context, id string, as *slab.Slab, leftovers bool) (reckon.Wood, error) {
	j, err := s.job(ctx, account(ctx).Workshop, id, "")
	if err != nil {
		return reckon.Wood{}, err
	}
	if as != nil {
		j.Slab = as
	}
	if j.Slab.Panel() {
		if j.Panels, err = s.Store.Patterns(ctx, account(ctx).Workshop, id); err != nil {
			return reckon.Wood{}, err
		}
	}
	r, err := reckon.Reckon(j, reckon.Request{Leftovers: leftovers})
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
	if p.Slab, err = s.gathered(ctx, workshop, id, p.Slab); err != nil {
		return nil, answer(err)
	}
	wood, err := s.woodWithBoards(ctx, id, nil, false)
	if err != nil {
		return nil, answer(err)
	}
	boards, err := s.Store.BoardsOn(ctx, workshop, id)
	if err != nil {
		return nil, answer(err)
	}
	parts, err := s.Store.Parts(ctx, workshop, id)
	if err != nil {
		return nil, answer(err)
	}
	out := &pieceOut{
		PieceDoc{ID: p.ID, Version: p.Version, Slab: p.Slab, Wood: wood, Binned: p.Deleted != nil, Cut: p.Cut != nil},
	}
	out.Body.Sources = p.Sources
	for _, b := range boards {
		out.Body.Boards = append(out.Body.Boards, Named{b.Board.ID, b.Board.Name})
	}
	for _, part := range parts {
		out.Body.Parts = append(out.Body.Parts, Named{part.ID, part.Slab.Name})
	}
	return out, nil
}

func (s *Server) listPieces(ctx context.Context, in *RackIn) (*struct{ Body RackPage }, error) {
	shop, _, err := s.Store.Shop(ctx, account(ctx).Workshop)
	if err != nil {
		return nil, answer(err)
	}
	pieces, sum, err := s.Store.Pieces(ctx, account(ctx).Workshop, in.wanted(), pageSize, in.Page*pageSize)
	if err != nil {
		return nil, answer(err)
	}
	out := &struct{ Body RackPage }{RackPage{Page[PieceLine]{Total: sum.Count}, sum.Ready, sum.Cents}}
	for _, p := range pieces {
		f := reckon.FactsOf(p.Slab, shop)
		wood, _ := species.FindIn(shop.Species, p.Slab.Species)
		drawn := slab.Draw(p.Slab, shop.Species)
		ring := drawn.Show.Ring()
		box := ring.Bounds()
		var parts []glue.Drawn
		if p.Slab.Glue != nil {
			parts = glue.Patches(drawn.Grain.Over(ring))
		}
		if r := p.Slab.River; r != nil {
			parts = glue.Patches(r.Rings(shop.Species))
		}
		out.Body.Items = append(out.Body.Items, PieceLine{
			Parts: parts, Reserved: f.Reserved,
			ID: p.ID, Name: p.Slab.Name, Species: p.Slab.Species, Stock: p.Slab.Stock, Length: f.Length,
			Width: box.MaxY - box.MinY, Thickness: f.Thickness,
			Path: ring.Simplified(glance).SVG(), MinY: box.MinY, MaxY: box.MaxY, Light: wood.Light, Dark: wood.Dark,
			Moisture: f.Moisture, Ready: f.Ready, Finding: f.Finding, Flaws: len(p.Slab.Flaws), Cents: float64(f.Cents),
		})
	}
	return out, nil
}

// mostCounted bounds the pieces of a wood that are counted towards what is wanted of it.
const mostCounted = 200

// toCome tells what wood must be got, by when, to be dry on a day.
func (s *Server) toCome(ctx context.Context, in *struct{ Body reckon.ToCome }) (*struct{ Body reckon.Coming }, error) {
	at, _, err := s.Store.Shop(ctx, account(ctx).Workshop)
	if err != nil {
		return nil, answer(err)
	}
	if ps := in.Body.Check("body", at); len(ps) > 0 {
		return nil, answer(ps)
	}
	wanted := store.Wanted{Species: in.Body.Species}
	pieces, _, err := s.Store.Pieces(ctx, account(ctx).Workshop, wanted, mostCounted, 0)
	if err != nil {
		return nil, answer(err)
	}
	rack := make([]slab.Slab, len(pieces))
	for i, p := range pieces {
		rack[i] = p.Slab
	}
	return &struct{ Body reckon.Coming }{reckon.Stock(in.Body, rack, at, s.Clock())}, nil
}
