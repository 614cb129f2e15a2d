package server

import (
	"context"
	"encoding/json"
	"errors"
	"iter"
	"net/http"
	"slices"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/sse"

	"idletimber/craft"
	"idletimber/craft/reckon"
	"idletimber/store"
)

// SearchNews is how far a search for a lay-out, or a paper that is made, has come.
type SearchNews struct {
	State     string            `json:"state" enum:"waiting,running,done,stopped,cancelled,failed"`
	Ahead     int               `json:"ahead" doc:"Searches that come before it while it waits"`
	Moves     int               `json:"moves"`
	Seconds   float64           `json:"seconds" doc:"That it has run for"`
	Proposals []reckon.Proposal `json:"proposals"`
	Spread    *reckon.Spread    `json:"spread,omitempty" doc:"Where it lays over several pieces"`
	Wrong     string            `json:"wrong,omitempty" doc:"Why it failed"`
}

// layouts is what a search has found.
type layouts struct {
	Proposals []reckon.Proposal `json:"proposals,omitempty"`
	Spread    *reckon.Spread    `json:"spread,omitempty"`
}

// newsOf is how far an errand has come; what it found last is shown until it finds better.
func newsOf(e store.Errand, shown *layouts) SearchNews {
	if e.Found != nil {
		*shown = layouts{}
		_ = json.Unmarshal(e.Found, shown) // as it was written here
	}
	n := SearchNews{State: e.State, Ahead: e.Ahead, Moves: e.Moves, Seconds: e.Seconds, Proposals: shown.Proposals,
		Spread: shown.Spread}
	if n.Proposals == nil {
		n.Proposals = []reckon.Proposal{}
	}
	if e.State == store.Failed {
		n.Wrong = inWords(wrongOf(e))
	}
	return n
}

// Seek is how lay-outs on one piece are looked for.
type Seek func(reckon.Scene, reckon.Seeking) (iter.Seq[reckon.Sought], error)

// searchAsk is a search on one piece.
type searchAsk struct {
	Piece   string         `json:"piece"`
	Boards  []reckon.Board `json:"boards"`
	Seeking reckon.Seeking `json:"seeking"`
	Seconds float64        `json:"seconds"`
}

// doSearch looks for lay-outs on one piece; begun again, it goes on from what was found.
func (s *Server) doSearch(ctx context.Context, d *errand) error {
	ask, err := in[searchAsk](d)
	if err != nil {
		return err
	}
	scene, err := s.searched(ctx, ask)
	if err != nil {
		return err
	}
	scene.Watch = watching(ctx)
	ask.Seeking.Cores = s.Cores
	var before layouts
	_ = json.Unmarshal(d.Found, &before) // nothing was found yet
	ask.Seeking.From = before.Proposals
	ask.Seeking.Seed += uint64(d.Tries - 1)
	moves := d.Moves
	found, err := s.Seek(scene, ask.Seeking)
	if err != nil {
		return err
	}
	for f := range found {
		var better any
		if f.Better {
			better = layouts{Proposals: f.Proposals}
		}
		d.told(moves+f.Moves, better)
		if ctx.Err() != nil || d.seconds() >= ask.Seconds {
			break
		}
	}
	return nil
}

// spreadAsk is a search over several pieces for what a run is still to have.
type spreadAsk struct {
	Run     string   `json:"run"`
	Pieces  []string `json:"pieces"`
	Seconds float64  `json:"seconds"`
}

// doSpread lays what a run is still to have over several pieces; begun again, it tells only what is better than before.
func (s *Server) doSpread(ctx context.Context, d *errand) error {
	ask, err := in[spreadAsk](d)
	if err != nil {
		return err
	}
	sheets, wants, err := s.spread(ctx, ask)
	if err != nil {
		return err
	}
	for i := range sheets {
		sheets[i].Scene.Watch = watching(ctx)
	}
	found, err := reckon.SpreadOver(sheets, wants, s.Cores)
	if err != nil {
		return err
	}
	var before layouts
	_ = json.Unmarshal(d.Found, &before) // nothing was found yet
	best := before.Spread
	for f := range found {
		var better any
		if best == nil || f.Above(*best) {
			best, better = &f, layouts{Spread: &f}
		}
		d.told(f.Looked, better)
		if ctx.Err() != nil || d.seconds() >= ask.Seconds {
			break
		}
	}
	return nil
}

// SearchDoc names a search that was begun.
type SearchDoc struct {
	ID string `json:"id"`
}

func (s *Server) searchRoutes(api huma.API) {
	huma.Post(api, "/api/pieces/{id}/searches", s.search)
	huma.Post(api, "/api/searches/{id}/stop", func(ctx context.Context, in *idIn) (*struct{}, error) {
		err := s.Store.StopErrand(ctx, account(ctx).Workshop, in.ID)
		if errors.Is(err, store.ErrNotFound) {
			return nil, huma.Error404NotFound("this search is over")
		}
		return nil, answer(err)
	})
	huma.Get(api, "/api/searches/{id}/file", s.errandFile, rawAnswer("application/octet-stream"))
	sse.Register(
		api,
		huma.Operation{
			OperationID: "watch-search",
			Method:      http.MethodGet,
			Path:        "/api/searches/{id}/news",
			Summary:     "A search, or a paper that is made, as it goes on",
		},
		map[string]any{"news": SearchNews{}, "over": struct{}{}},
		func(ctx context.Context, in *idIn, send sse.Sender) {
			ctx, alive, over := s.stream(ctx)
			defer over()
			var shown layouts
			err := s.watch(ctx, in.ID, alive, func(e store.Errand) error { return send.Data(newsOf(e, &shown)) })
			if errors.Is(err, store.ErrNotFound) {
				_ = send.Data(struct{}{}) // the page may be gone as well
			}
		},
	)
}

// searched is the scene of a search on one piece.
func (s *Server) searched(ctx context.Context, ask searchAsk) (reckon.Scene, error) {
	j, _, err := s.onSlab(ctx, ask.Piece)
	if err != nil {
		return j, err
	}
	j.Boards = ask.Boards
	if j.Leaf != nil { // the twin of a board that is laid anew is out of the way
		stays := func(id string) bool {
			return slices.ContainsFunc(j.Boards, func(b reckon.Board) bool { return b.ID == id })
		}
		j.Leaf.Boards = slices.DeleteFunc(
			j.Leaf.Boards,
			func(b reckon.Board) bool { return b.Twin != nil && b.Twin.Piece == ask.Piece && !stays(b.Twin.Board) },
		)
	}
	ps := craft.Problems(slices.Concat(ask.Seeking.Check("body.seeking"), j.Check()))
	if j.Leaf == nil && slices.ContainsFunc(ask.Seeking.Wants, func(w reckon.Want) bool { return w.Twin }) {
		ps.Add("body.seeking.wishes", "the other leaf is not on the rack", "wish for boards without twins")
	}
	if len(ps) > 0 {
		return j, ps
	}
	return j, nil
}

// search begins a search for a lay-out on a piece.
func (s *Server) search(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		Boards  []reckon.Board `json:"boards" maxItems:"60" doc:"That stay where they are"`
		Seeking reckon.Seeking `json:"seeking"`
		Seconds float64        `json:"seconds" minimum:"1" maximum:"120"`
	}
}) (*struct{ Body SearchDoc }, error) {
	ask := searchAsk{in.ID, in.Body.Boards, in.Body.Seeking, in.Body.Seconds}
	if _, err := s.searched(ctx, ask); err != nil { // it is told at once, and not by the search
		return nil, answer(err)
	}
	id, err := send(ctx, s, "search", ask)
	return &struct{ Body SearchDoc }{SearchDoc{id}}, err
}
