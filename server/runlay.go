package server

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/reckon"
	"idletimber/craft/run"
	"idletimber/store"
)

func (s *Server) runLayRoutes(api huma.API) {
	huma.Post(api, "/api/runs/{id}/searches", s.spreadRun)
	huma.Post(api, "/api/runs/{id}/lay", s.layRun)
	huma.Post(api, "/api/runs/{id}/deal", s.dealRun)
	huma.Post(api, "/api/runs/{id}/copy", s.copyRun)
}

// madeLike are the boards that those of a run's designs are made like, one for each.
func (s *Server) madeLike(ctx context.Context, r run.Run) ([]reckon.Board, error) {
	workshop := account(ctx).Workshop
	shapes, err := s.Store.Templates(ctx, workshop)
	if err != nil {
		return nil, err
	}
	out := make([]reckon.Board, len(r.Designs))
	for i, d := range r.Designs {
		gone := craft.Problems{{Field: fmt.Sprintf("run.designs[%d]", i), Wrong: "what it is made like is gone",
			Right: "choose another board or shape"}}
		if d.Shape != "" {
			k := slices.IndexFunc(shapes, func(t store.Template) bool { return t.ID == d.Shape })
			if k < 0 {
				return nil, gone
			}
			out[i] = reckon.NewBoard("", shapes[k].Name, shapes[k].Design.Length)
			out[i].Design = shapes[k].Design
			continue
		}
		b, err := s.Store.Board(ctx, workshop, d.Board)
		if errors.Is(err, store.ErrNotFound) {
			return nil, gone
		}
		if err != nil {
			return nil, err
		}
		out[i] = b.Board.Again("", b.Board.Name)
		out[i].Design.AsCut, out[i].Locked = nil, false
		out[i].Give = reckon.Give{Use: out[i].Give.Use, People: out[i].Give.People, Dry: out[i].Give.Dry,
			Whom: out[i].Give.Whom}
	}
	return out, nil
}

// spreadRun begins a search that lays what a run is still to have over several pieces.
func (s *Server) spreadRun(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		Pieces  []string `json:"pieces" maxItems:"40" doc:"Ids; none for all that lie on the rack"`
		Seconds float64  `json:"seconds" minimum:"1" maximum:"120"`
	}
}) (*struct{ Body SearchDoc }, error) {
	ask := spreadAsk{in.ID, in.Body.Pieces, in.Body.Seconds}
	sheets, wants, err := s.spread(ctx, ask)
	if err == nil {
		_, err = reckon.SpreadOver(sheets, wants, s.Cores) // what is wrong is told at once, and not by the search
	}
	var ps craft.Problems
	if errors.As(err, &ps) {
		for i := range ps { // each is wanted as a design of the run asks
			ps[i].Field = strings.Replace(ps[i].Field, "wants", "run.designs", 1)
		}
	}
	if err != nil {
		return nil, answer(err)
	}
	id, err := send(ctx, s, "spread", ask)
	return &struct{ Body SearchDoc }{SearchDoc{id}}, err
}

// spread is what a search over several pieces lays on, and what it lays.
func (s *Server) spread(ctx context.Context, ask spreadAsk) (sheets []reckon.Sheet, wants []reckon.Want, err error) {
	workshop := account(ctx).Workshop
	r, err := s.Store.Run(ctx, workshop, ask.Run)
	if err != nil {
		return nil, nil, err
	}
	like, err := s.madeLike(ctx, r.Run)
	if err != nil {
		return nil, nil, err
	}
	for i, b := range like {
		d := r.Run.Designs[i]
		wants = append(wants, reckon.Want{Board: b, Most: d.Count, Turn: true, Worth: d.Worth, Longest: d.Longest,
			Widest: d.Widest})
	}
	ids := ask.Pieces
	if len(ids) == 0 {
		pieces, _, err := s.Store.Pieces(ctx, workshop, store.Wanted{}, reckon.MostSheets, 0)
		if err != nil {
			return nil, nil, err
		}
		for _, p := range pieces {
			if p.Slab.Reserved == "" {
				ids = append(ids, p.ID)
			}
		}
	}
	for _, id := range ids {
		j, _, err := s.onSlab(ctx, id)
		if err != nil {
			return nil, nil, err
		}
		sheets = append(sheets, reckon.Sheet{Piece: id, Scene: j})
	}
	return sheets, wants, nil
}

// ToLay is a board of a run as it is laid on a piece.
type ToLay struct {
	Piece     string         `json:"piece" doc:"Id"`
	Want      int            `json:"want" minimum:"0" maximum:"20" doc:"Which of the run's designs, from 0"`
	Placement geom.Placement `json:"placement"`
	Design    board.Design   `json:"design" doc:"As it is laid"`
}

// layRun lays boards of a run on pieces, as a search found them a place, and deals them to those who wait.
func (s *Server) layRun(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		Boards []ToLay `json:"boards" minItems:"1" maxItems:"200"`
	}
}) (*runOut, error) {
	workshop := account(ctx).Workshop
	if before, err := s.runBefore(ctx, in.ID); before != nil || err != nil {
		return before, err
	}
	r, err := s.Store.Run(ctx, workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	like, err := s.madeLike(ctx, r.Run)
	if err != nil {
		return nil, answer(err)
	}
	there, err := s.Store.BoardsOfRun(ctx, workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	get, wait := r.Run.Deal(len(in.Body.Boards))
	left := slices.Clone(r.Run.Designs)
	var ps craft.Problems
	boards := make([]reckon.Stored, len(in.Body.Boards))
	for i, on := range in.Body.Boards {
		at := fmt.Sprintf("boards[%d]", i)
		if on.Want >= len(like) {
			ps.Add(at+".want", "the run has no such design", fmt.Sprintf("count from 0 to %d", len(like)-1))
			continue
		}
		b := like[on.Want].Again(store.NewID(), fmt.Sprintf("%s %d", r.Run.Name, len(there)+i+1))
		b.Placement, b.Design = on.Placement, on.Design
		b.Give.Due = r.Run.Day
		if i < len(get) {
			b.Give.For, b.Give.Due = get[i].Name, r.Run.DayOf(get[i])
		}
		ps = append(ps, b.Check(at)...)
		boards[i] = reckon.Stored{Board: b, Piece: on.Piece}
		left[on.Want].Count--
	}
	if len(ps) > 0 {
		return nil, answer(ps)
	}
	left = slices.DeleteFunc(left, func(d run.Design) bool { return d.Count <= 0 })
	if boards, err = s.settled(ctx, workshop, boards); err != nil {
		return nil, answer(err)
	}
	if _, err = s.Store.LayInRun(ctx, workshop, in.ID, boards, func(r *run.Run) {
		r.People, r.Designs = wait, left
	}); err != nil {
		return nil, answer(err)
	}
	return s.runSheet(ctx, in.ID)
}

// settled are new boards on several pieces, as each piece takes them.
func (s *Server) settled(
	ctx context.Context,
	workshop string,
	boards []reckon.Stored,
) (out []reckon.Stored, err error) {
	on := map[string][]reckon.Stored{}
	for _, b := range boards {
		on[b.Piece] = append(on[b.Piece], b)
	}
	for _, piece := range slices.Sorted(maps.Keys(on)) {
		there, err := s.there(ctx, workshop, piece, on[piece])
		if err != nil {
			return nil, err
		}
		taken, err := reckon.Settle(there, on[piece])
		if err != nil {
			return nil, err
		}
		out = append(out, taken...)
	}
	// As they were dealt: who needs one first got the first.
	at := func(b reckon.Stored) int {
		return slices.IndexFunc(boards, func(o reckon.Stored) bool { return o.Board.ID == b.Board.ID })
	}
	slices.SortStableFunc(out, func(a, b reckon.Stored) int { return cmp.Compare(at(a), at(b)) })
	return out, nil
}

// dealRun deals the boards of a run that are for nobody to those who wait for one.
func (s *Server) dealRun(ctx context.Context, in *idIn) (*runOut, error) {
	workshop := account(ctx).Workshop
	if before, err := s.runBefore(ctx, in.ID); before != nil || err != nil {
		return before, err
	}
	r, err := s.Store.Run(ctx, workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	boards, err := s.Store.BoardsOfRun(ctx, workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	boards = slices.DeleteFunc(boards, func(b store.Board) bool { return b.Given != nil || b.Board.Give.For != "" })
	get, wait := r.Run.Deal(len(boards))
	var dealt []reckon.Stored
	for i, p := range get {
		b := boards[i].Stored()
		b.Board.Give.For, b.Board.Give.Due = p.Name, r.Run.DayOf(p)
		dealt = append(dealt, b)
	}
	if _, err := s.Store.LayInRun(ctx, workshop, in.ID, dealt, func(r *run.Run) { r.People = wait }); err != nil {
		return nil, answer(err)
	}
	return s.runSheet(ctx, in.ID)
}

// copyRun begins a run like another: as many of each of its designs are to be laid again.
func (s *Server) copyRun(ctx context.Context, in *idIn) (*runOut, error) {
	workshop := account(ctx).Workshop
	r, err := s.Store.Run(ctx, workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	boards, err := s.Store.BoardsOfRun(ctx, workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	again := r.Run
	again.Name, again.Day, again.People = again.Name+", again", "", nil
	alike := map[string]int{} // designs by how they are written
	for _, b := range boards {
		design := b.Board.Design
		if design.Shape == board.Plank {
			continue // it follows the edges of its own wood
		}
		design.AsCut = nil
		text, err := json.Marshal(design)
		if err != nil {
			return nil, answer(err)
		}
		k, known := alike[string(text)]
		if !known {
			k = len(again.Designs)
			alike[string(text)] = k
			again.Designs = append(again.Designs, run.Design{Board: b.Board.ID})
		}
		again.Designs[k].Count++
	}
	if ps := again.Check("run"); len(ps) > 0 {
		return nil, answer(ps)
	}
	id, err := s.Store.NewRun(ctx, workshop, again, nil)
	if err != nil {
		return nil, answer(err)
	}
	return s.runSheet(ctx, id)
}
