package server

import (
	"cmp"
	"context"
	"errors"
	"fmt"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/layout"
	"idletimber/craft/reckon"
	"idletimber/craft/rule"
	"idletimber/craft/slab"
	"idletimber/craft/tool"
	"idletimber/formats"
	"idletimber/store"
)

// LayoutDoc is a slab with all its boards, to be laid out together.
type LayoutDoc struct {
	Piece     string            `json:"piece"`
	Name      string            `json:"name"`
	Boards    []LaidBoard       `json:"boards"`
	Taken     []reckon.Taken    `json:"taken"`
	Wood      reckon.Wood       `json:"wood"`
	Result    reckon.LaidOut    `json:"result"`
	EndChecks []reckon.EndCheck `json:"endChecks"`
	Leaves    []Sibling         `json:"leaves" doc:"Other pieces that came from the same wood"`
	Partner   *Sibling          `json:"partner,omitempty" doc:"The leaf that opens like a book with this one"`
	Fresh     reckon.Board      `json:"fresh" doc:"A new board to begin with"`

	Squaring float64 `json:"squaring" doc:"Left at each end of the slab for squaring, mm"`

	Apart   map[string]float64 `json:"apart" doc:"What must lie between two boards by the saw that parts them, mm"`
	Trimmed map[string]float64 `json:"trimmed" doc:"The same for boards that are trimmed to their templates"`

	ShowGround  *slab.Photo `json:"showGround,omitempty"`
	UnderGround *slab.Photo `json:"underGround,omitempty"`
}

// LaidBoard is a board with its version.
type LaidBoard struct {
	Version int          `json:"version"`
	Board   reckon.Board `json:"board"`
}

// Sibling is another piece of the same wood.
type Sibling struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

type layoutOut struct{ Body LayoutDoc }

func (s *Server) layoutRoutes(api huma.API) {
	huma.Get(
		api,
		"/api/pieces/{id}/layout",
		func(ctx context.Context, in *idIn) (*layoutOut, error) { return s.layout(ctx, in.ID) },
	)
	huma.Post(api, "/api/pieces/{id}/layout/draft", s.draftLayout)
	huma.Put(api, "/api/pieces/{id}/layout", s.saveLayout, mayConflict[[]LaidBoard](api))
	huma.Post(api, "/api/pieces/{id}/biggest", s.biggest)
	huma.Get(api, "/api/pieces/{id}/cuts.pdf", s.cutList, rawAnswer("application/pdf"))
}

// onSlab is the job of a piece's boards without what happens elsewhere, which
// does not tell on where they lie; with the leaf that opens like a book with it.
func (s *Server) onSlab(ctx context.Context, piece string) (j reckon.Scene, partner *Sibling, err error) {
	workshop := account(ctx).Workshop
	if j, err = s.job(ctx, workshop, piece, ""); err != nil {
		return j, nil, err
	}
	j.Samples, j.Poured, j.Coated, j.Washed, j.Log = nil, nil, nil, nil, nil
	return s.withLeaf(ctx, workshop, piece, j)
}

func (s *Server) layout(ctx context.Context, piece string) (*layoutOut, error) {
	workshop := account(ctx).Workshop
	p, err := s.Store.Piece(ctx, workshop, piece)
	if err != nil {
		return nil, answer(err)
	}
	j, partner, err := s.onSlab(ctx, piece)
	if err != nil {
		return nil, answer(err)
	}
	on, err := s.Store.BoardsOn(ctx, workshop, piece)
	if err != nil {
		return nil, answer(err)
	}
	r, err := reckon.Reckon(j, reckon.Request{})
	if err != nil {
		return nil, answer(err)
	}
	doc := LayoutDoc{
		Piece:       piece,
		Partner:     partner,
		Name:        p.Slab.Name,
		Boards:      []LaidBoard{},
		Taken:       r.Taken,
		Wood:        *r.Slab,
		EndChecks:   reckon.EndChecks(p.Slab, j.Shop),
		ShowGround:  ground(p.Slab.ShowLook),
		UnderGround: ground(p.Slab.UnderLook),
	}
	doc.Squaring = j.Shop.Rules.Get(rule.Squaring)
	doc.Apart, doc.Trimmed = map[string]float64{}, map[string]float64{}
	for _, saw := range tool.Saws {
		sawn, trimmed := layout.Choice{Saw: saw.Name}, layout.Choice{Saw: saw.Name, Trim: true}
		doc.Apart[saw.Name], doc.Trimmed[saw.Name] = sawn.Apart(j.Shop.Rules), trimmed.Apart(j.Shop.Rules)
	}
	doc.Fresh = reckon.NewBoardOn("", "Board from "+p.Slab.Name, p.Slab, j.Shop)
	if doc.Result, err = reckon.LayOut(j, reckon.LayOutRequest{}); err != nil {
		return nil, answer(err)
	}
	for _, b := range on {
		if b.Given == nil {
			doc.Boards = append(doc.Boards, LaidBoard{b.Version, b.Board})
		}
	}
	siblings, err := s.Store.Siblings(ctx, workshop, piece)
	doc.Leaves = make([]Sibling, len(siblings))
	for i, o := range siblings {
		doc.Leaves[i] = Sibling{o.ID, o.Name}
	}
	return &layoutOut{doc}, answer(err)
}

// draftLayout judges boards of a piece as they are being moved, new ones among
// them, without storing anything.
func (s *Server) draftLayout(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		Boards    []reckon.Board `json:"boards" maxItems:"60"`
		Leftovers bool           `json:"leftovers,omitempty"`
	}
}) (*struct{ Body reckon.LaidOut }, error) {
	j, _, err := s.onSlab(ctx, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	j.Boards = in.Body.Boards
	ask := reckon.LayOutRequest{Leftovers: in.Body.Leftovers}
	if ask.Leftovers {
		kept, err := s.Store.Templates(ctx, account(ctx).Workshop)
		if err != nil {
			return nil, answer(err)
		}
		for _, t := range kept {
			ask.Templates = append(ask.Templates, reckon.Template{Name: t.Name, Design: t.Design})
		}
	}
	r, err := reckon.LayOut(j, ask)
	return &struct{ Body reckon.LaidOut }{r}, answer(err)
}

// saveLayout stores boards of a piece at once: those with a version are changed,
// those without are new.
func (s *Server) saveLayout(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		Boards []LaidBoard `json:"boards" maxItems:"60"`
		Binned []string    `json:"binned,omitempty" maxItems:"60" doc:"Ids of boards that go to the offcut bin"`
	}
}) (*layoutOut, error) {
	workshop := account(ctx).Workshop
	if _, yes, err := s.Store.Repeated(ctx, workshop); err != nil {
		return nil, answer(err)
	} else if yes {
		return s.layout(ctx, in.ID)
	}
	var ps craft.Problems
	boards := make([]reckon.Stored, len(in.Body.Boards))
	for i, b := range in.Body.Boards {
		ps = append(ps, b.Board.Check(fmt.Sprintf("boards[%d].board", i))...)
		boards[i] = reckon.Stored{Board: b.Board, Version: b.Version}
	}
	for i, id := range in.Body.Binned {
		b, err := s.Store.Board(ctx, workshop, id)
		switch {
		case errors.Is(err, store.ErrNotFound), err == nil && b.Piece != in.ID:
			ps.Add(fmt.Sprintf("body.binned[%d]", i), "no board of this piece has this id", "leave it out")
		case err != nil:
			return nil, answer(err)
		}
		boards = append(boards, reckon.Stored{Board: reckon.Board{ID: id}, Binned: true})
	}
	if len(ps) > 0 {
		return nil, answer(ps)
	}
	_, err := s.settle(ctx, workshop, in.ID, boards)
	var stale *store.Stale[reckon.Board]
	switch {
	case errors.As(err, &stale):
		now, err := s.layout(ctx, in.ID)
		if err != nil {
			return nil, err
		}
		return nil, conflict(&store.Stale[[]LaidBoard]{Current: now.Body.Boards}, in.Body.Boards)
	case err != nil:
		return nil, answer(err)
	}
	return s.layout(ctx, in.ID)
}

// biggest finds the largest clean board of a shape on a piece.
func (s *Server) biggest(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		Boards []reckon.Board `json:"boards" maxItems:"60" doc:"As they lie now"`
		Board  reckon.Board   `json:"board" doc:"Whose shape is looked for"`
		Free   bool           `json:"free" doc:"Its length and width need not keep their ratio"`
		Spot   *geom.Point    `json:"spot,omitempty" doc:"That it must cover; anywhere without one"`
	}
}) (*struct{ Body reckon.Clean }, error) {
	j, _, err := s.onSlab(ctx, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	j.Boards = in.Body.Boards
	c, err := reckon.Biggest(j, reckon.BiggestRequest{Board: in.Body.Board, Free: in.Body.Free, Spot: in.Body.Spot})
	return &struct{ Body reckon.Clean }{c}, answer(err)
}

// cutList is how a piece is cut up, for the shop.
func (s *Server) cutList(ctx context.Context, in *struct {
	ID    string `path:"id"`
	Paper string `query:"paper" enum:"A4,Letter" doc:"The shop's paper when left out"`
}) (*file, error) {
	j, _, err := s.onSlab(ctx, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	j.Shop.Paper = cmp.Or(in.Paper, j.Shop.Paper)
	r, err := reckon.Reckon(j, reckon.Request{})
	if err != nil {
		return nil, answer(err)
	}
	laid, err := reckon.LayOut(j, reckon.LayOutRequest{})
	if err != nil {
		return nil, answer(err)
	}
	data, err := formats.CutList(j, *r.Slab, laid)
	return download("application/pdf", "Cut list of "+j.Slab.Name, "pdf", data), err
}
