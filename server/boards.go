package server

import (
	"context"
	"errors"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/glue"
	"idletimber/craft/plan"
	"idletimber/craft/reckon"
	"idletimber/craft/slab"
	"idletimber/craft/species"
	"idletimber/craft/trial"
	"idletimber/formats"
	"idletimber/store"
)

// Sheet is all that a board's sheet shows.
type Sheet struct {
	Version   int              `json:"version"`
	Piece     string           `json:"piece" doc:"Id of the slab that it is laid on"`
	PieceName string           `json:"pieceName"`
	Board     reckon.Board     `json:"board"`
	Others    []reckon.Board   `json:"others" doc:"The other boards on the slab"`
	Given     bool             `json:"given"`
	Binned    bool             `json:"binned"`
	Reckoning reckon.Reckoning `json:"reckoning" doc:"Its first board is this one, then the others"`

	ShowGround  *slab.Photo `json:"showGround,omitempty" doc:"A photograph of the slab's show face, straightened"`
	UnderGround *slab.Photo `json:"underGround,omitempty"`
}

// ground is the photograph that lies under the drawing of a face.
func ground(l *slab.Look) *slab.Photo {
	if l == nil {
		return nil
	}
	return l.Ground
}

// BoardLine is a board as the list shows it.
type BoardLine struct {
	ID    string         `json:"id"`
	Name  string         `json:"name"`
	For   string         `json:"for"`
	Due   string         `json:"due"`
	Piece string         `json:"piece"`
	Slab  string         `json:"slab" doc:"Name of its piece"`
	Given bool           `json:"given"`
	Lost  bool           `json:"lost,omitempty" doc:"It was given up after a mishap"`
	Wrong string         `json:"wrong,omitempty" doc:"What went wrong on it and waits for a decision"`
	Run   *store.RunName `json:"run,omitempty" doc:"That it belongs to"`
	Path  string         `json:"path"`
	Holes []string       `json:"holes"`
	Box   [4]float64     `json:"box"`
	Light string         `json:"light"`
	Dark  string         `json:"dark"`

	Parts []glue.Drawn `json:"parts,omitempty" doc:"Of a panel"`

	Level  craft.Level `json:"level"`
	Finish *time.Time  `json:"finish,omitempty"`
	Slack  float64     `json:"slack"`
	Late   bool        `json:"late"`
	Done   int         `json:"done" doc:"Steps done"`
	Steps  int         `json:"steps"`
}

type sheetOut struct{ Body Sheet }

type boardIn struct {
	ID   string `path:"id"`
	Body reckon.Board
}

type boardSave struct {
	ID   string `path:"id"`
	Body struct {
		Version int          `json:"version"`
		Board   reckon.Board `json:"board"`
	}
}

type newBoard struct {
	Body struct {
		Piece string `json:"piece"`
		Name  string `json:"name"`
	}
}

func (s *Server) boardRoutes(api huma.API) {
	huma.Get(api, "/api/boards", s.listBoards)
	huma.Post(api, "/api/boards", s.layBoard)
	huma.Get(
		api,
		"/api/boards/{id}",
		func(ctx context.Context, in *idIn) (*sheetOut, error) {
			return s.sheetOf(ctx, in.ID, reckon.Request{Weigh: in.ID})
		},
	)
	huma.Put(api, "/api/boards/{id}", s.saveBoard, mayConflict[reckon.Board](api))
	huma.Post(api, "/api/boards/{id}/draft", s.draft)
	huma.Post(api, "/api/boards/{id}/finishes", s.finishes)
	huma.Delete(api, "/api/boards/{id}", func(ctx context.Context, in *idIn) (*struct{}, error) {
		return nil, answer(s.Store.BinBoard(ctx, account(ctx).Workshop, in.ID, true))
	})
	huma.Post(api, "/api/boards/{id}/restore", func(ctx context.Context, in *idIn) (*struct{}, error) {
		return nil, answer(s.Store.BinBoard(ctx, account(ctx).Workshop, in.ID, false))
	})
	huma.Post(api, "/api/boards/{id}/given", func(ctx context.Context, in *struct {
		ID   string `path:"id"`
		Body struct {
			Given bool `json:"given"`
		}
	}) (*struct{}, error) {
		return nil, s.give(ctx, in.ID, in.Body.Given)
	})
	huma.Post(api, "/api/boards/{id}/log", s.record)
	huma.Post(api, "/api/boards/{id}/press", func(ctx context.Context, in *recordIn) (*pressedOut, error) {
		return s.pressed(ctx, s.pressBoard(ctx, in))
	})
	huma.Post(api, "/api/reckon", func(ctx context.Context, in *jobFile) (*struct{ Body reckon.Reckoning }, error) {
		j, err := formats.ReadJob(in.RawBody)
		if err != nil {
			return nil, answer(err)
		}
		j.Watch = watching(ctx)
		r, err := reckon.Reckon(j, reckon.Request{Weigh: j.First()})
		return &struct{ Body reckon.Reckoning }{r}, answer(err)
	}, ofJobFile)
}

// job gathers everything that one reckoning of a piece's boards needs, the
// board of the given id first.
func (s *Server) job(ctx context.Context, workshop, piece, first string) (reckon.Scene, error) {
	j, err := s.scene(ctx, workshop)
	if err != nil {
		return j, err
	}
	if j.Samples, err = s.samples(ctx, workshop); err != nil {
		return j, err
	}
	if j.Poured, err = s.Store.Poured(ctx, workshop); err != nil {
		return j, err
	}
	if j.Coated, err = s.Store.Coated(ctx, workshop); err != nil {
		return j, err
	}
	p, err := s.Store.Piece(ctx, workshop, piece)
	if err != nil {
		return j, err
	}
	v, err := s.gathered(ctx, workshop, piece, p.Slab)
	if err != nil {
		return j, err
	}
	j.Slab, j.Piece = &v, piece
	if v.River != nil {
		if j.Sheets, err = s.sheets(ctx, workshop); err != nil {
			return j, err
		}
	}
	reserved, err := s.Store.StripsOn(ctx, workshop, piece)
	if err != nil {
		return j, err
	}
	for _, t := range reserved {
		j.Strips = append(j.Strips, t.Strip)
	}
	boards, err := s.Store.BoardsOn(ctx, workshop, piece)
	if err != nil {
		return j, err
	}
	for _, b := range boards {
		if b.Board.ID == first {
			j.Boards = append([]reckon.Board{b.Board}, j.Boards...)
		} else if b.Given == nil {
			j.Boards = append(j.Boards, b.Board)
		} else {
			j.Taken = append(j.Taken, b.Board)
		}
	}
	log, err := s.Store.LogOf(ctx, workshop, piece)
	if err != nil {
		return j, err
	}
	for _, e := range log {
		j.Log = append(j.Log, e.Logged())
	}
	j.Log = reckon.Since(j.Log, j.Boards) // of one that came back, what was done since
	if since, ok := curingSince(j.Log, j.Now); ok {
		j.Warmth, err = s.Store.Warmth(ctx, workshop, since)
	}
	return j, err
}

// washed are the washes until bare that the maker's trials have told, by product.
func (s *Server) washed(ctx context.Context, workshop string) (map[string]float64, error) {
	kept, err := s.Store.Trials(ctx, workshop)
	if err != nil {
		return nil, err
	}
	all := make([]trial.Trial, len(kept))
	for i, t := range kept {
		all[i] = t.Trial
	}
	return trial.Washed(all), nil
}

// curesFor is how long a pour may still be curing.
const curesFor = 60 * 24 * time.Hour

// curingSince is when the earliest pour was made of those that may still be curing; ok is false
// without one.
func curingSince(log []reckon.LogEntry, now time.Time) (since time.Time, ok bool) {
	for _, e := range log {
		poured := e.Event == plan.Finish || e.Event == plan.Noted && e.What == fill.NotePoured
		if !strings.HasPrefix(e.Step, fill.PourKey) || !poured || now.Sub(e.At) > curesFor {
			continue
		}
		if !ok || e.At.Before(since) {
			since, ok = e.At, true
		}
	}
	return since, ok
}

// withApart adds the boards on other pieces that boards of the job must mate
// with, and names those pieces.
func (s *Server) withApart(ctx context.Context, workshop string, j reckon.Scene) (reckon.Scene, []string, error) {
	seen := map[string]bool{}
	for _, b := range j.Boards {
		seen[b.ID] = true
	}
	var pieces []string
	for _, b := range j.Boards {
		for _, m := range b.Mates {
			if seen[m.Board] || len(j.Apart) == reckon.MostBoards {
				continue
			}
			seen[m.Board] = true
			o, err := s.Store.Board(ctx, workshop, m.Board)
			if errors.Is(err, store.ErrNotFound) || err == nil && o.Deleted != nil {
				continue // nothing is left to measure
			}
			if err != nil {
				return j, nil, err
			}
			apart := reckon.Apart{Board: o.Board}
			if o.Board.Design.Shape == board.Plank {
				p, err := s.Store.Piece(ctx, workshop, o.Piece)
				if err != nil {
					return j, nil, err
				}
				apart.Slab = &p.Slab
			}
			j.Apart, pieces = append(j.Apart, apart), append(pieces, o.Piece)
		}
	}
	return j, pieces, nil
}

// jobWithElsewhere is a job together with the work on the boards of other pieces.
func (s *Server) jobWithElsewhere(ctx context.Context, workshop, piece, first string) (reckon.Scene, error) {
	j, err := s.job(ctx, workshop, piece, first)
	if err != nil {
		return j, err
	}
	all, err := s.inWork(ctx, workshop, piece)
	for _, w := range all {
		j.Elsewhere = append(j.Elsewhere, w.chains...)
	}
	return j, err
}

// sheet is a board's sheet as it answers a change: its remedies are worked out where
// they are looked at.
func (s *Server) sheet(ctx context.Context, id string) (*sheetOut, error) {
	return s.sheetOf(ctx, id, reckon.Request{})
}

func (s *Server) sheetOf(ctx context.Context, id string, ask reckon.Request) (*sheetOut, error) {
	b, j, r, err := s.reckoned(ctx, id, ask)
	if err != nil {
		return nil, err
	}
	return &sheetOut{
		Sheet{
			Version:     b.Version,
			Piece:       b.Piece,
			PieceName:   j.Slab.Name,
			Board:       b.Board,
			Others:      j.Boards[1:],
			Given:       b.Given != nil,
			Binned:      b.Deleted != nil,
			Reckoning:   r,
			ShowGround:  ground(j.Slab.ShowLook),
			UnderGround: ground(j.Slab.UnderLook),
		},
	}, nil
}

// boardJob reads a board and its job; a board in the offcut bin stands alone
// on its slab. As, where given, is the board as it is being changed.
func (s *Server) boardJob(ctx context.Context, id string, as *reckon.Board) (store.Board, reckon.Scene, error) {
	workshop := account(ctx).Workshop
	b, err := s.Store.Board(ctx, workshop, id)
	if err != nil {
		return b, reckon.Scene{}, err
	}
	j, err := s.jobWithElsewhere(ctx, workshop, b.Piece, id)
	if b.Deleted != nil {
		j.Boards = append([]reckon.Board{b.Board}, j.Boards...)
	}
	if err != nil {
		return b, j, err
	}
	if as != nil {
		as.ID = id
		j.Boards[0] = *as
	}
	j, _, err = s.withApart(ctx, workshop, j)
	return b, j, err
}

// layBoard lays a new board on a piece.
func (s *Server) layBoard(ctx context.Context, in *newBoard) (*sheetOut, error) {
	workshop := account(ctx).Workshop
	if ids, yes, err := s.Store.Repeated(ctx, workshop); yes || err != nil {
		return s.first(ctx, ids, err)
	}
	p, err := s.Store.Piece(ctx, workshop, in.Body.Piece)
	if err != nil {
		return nil, answer(err)
	}
	at, _, err := s.Store.Shop(ctx, workshop)
	if err != nil {
		return nil, answer(err)
	}
	board := reckon.NewBoardOn(store.NewID(), in.Body.Name, p.Slab, at)
	if ps := board.Check(""); len(ps) > 0 {
		return nil, answer(ps)
	}
	ids, err := s.settle(ctx, workshop, p.ID, []reckon.Stored{{Board: board}})
	return s.first(ctx, ids, err)
}

// first is the sheet of the board that was made first.
func (s *Server) first(ctx context.Context, ids []string, err error) (*sheetOut, error) {
	if err != nil {
		return nil, answer(err)
	}
	return s.sheet(ctx, ids[0])
}

func (s *Server) saveBoard(ctx context.Context, in *boardSave) (*sheetOut, error) {
	in.Body.Board.ID = in.ID
	if ps := in.Body.Board.Check("board"); len(ps) > 0 {
		return nil, answer(ps)
	}
	workshop := account(ctx).Workshop
	if _, yes, err := s.Store.Repeated(ctx, workshop); err != nil {
		return nil, answer(err)
	} else if yes {
		return s.sheet(ctx, in.ID)
	}
	was, err := s.Store.Board(ctx, workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	changed := reckon.Stored{
		Board:   in.Body.Board,
		Piece:   was.Piece,
		Version: in.Body.Version,
		Binned:  was.Deleted != nil,
	}
	if changed.Binned { // its twin stays where it is
		_, err = s.Store.SaveBoards(ctx, workshop, []reckon.Stored{changed})
	} else {
		_, err = s.settle(ctx, workshop, was.Piece, []reckon.Stored{changed})
	}
	var stale *store.Stale[reckon.Board]
	switch {
	case errors.As(err, &stale) && stale.Current.ID != in.ID: // its twin was changed at the same moment
		return nil, huma.Error503ServiceUnavailable("its twin is being changed; try again")
	case err != nil:
		return nil, conflict(err, in.Body.Board)
	}
	return s.sheet(ctx, in.ID)
}

// draft reckons a board as it is being changed, without storing it.
func (s *Server) draft(ctx context.Context, in *struct {
	ID    string `path:"id"`
	Weigh bool   `query:"weigh" doc:"Also work out remedies, each tried, and what they would make worse"`
	Body  reckon.Board
}) (*struct{ Body reckon.Reckoning }, error) {
	_, j, err := s.boardJob(ctx, in.ID, &in.Body)
	if err != nil {
		return nil, answer(err)
	}
	var ask reckon.Request
	if in.Weigh {
		ask.Weigh = in.ID
	}
	r, err := reckon.Reckon(j, ask)
	return &struct{ Body reckon.Reckoning }{r}, answer(err)
}

// finishes lays every way to finish a board side by side, without storing it.
func (s *Server) finishes(ctx context.Context, in *boardIn) (*struct{ Body []finish.Option }, error) {
	_, j, err := s.boardJob(ctx, in.ID, &in.Body)
	if err != nil {
		return nil, answer(err)
	}
	if j.Washed, err = s.washed(ctx, account(ctx).Workshop); err != nil {
		return nil, answer(err)
	}
	all, err := reckon.Finishes(j)
	return &struct{ Body []finish.Option }{all}, answer(err)
}

func (s *Server) listBoards(ctx context.Context, in *ListIn) (*struct{ Body Page[BoardLine] }, error) {
	workshop := account(ctx).Workshop
	boards, total, err := s.Store.Boards(ctx, workshop, in.Sought, in.Bin, pageSize, in.Page*pageSize)
	if err != nil {
		return nil, answer(err)
	}
	of, err := s.planned(ctx, workshop)
	if err != nil {
		return nil, answer(err)
	}
	known, courses := of.boards(), of.bySubject()
	at, _, err := s.Store.Shop(ctx, workshop)
	if err != nil {
		return nil, answer(err)
	}
	runs, err := s.Store.RunOf(ctx, workshop)
	if err != nil {
		return nil, answer(err)
	}
	out := &struct{ Body Page[BoardLine] }{Page[BoardLine]{Total: total}}
	for _, b := range boards {
		line := BoardLine{
			ID:    b.Board.ID,
			Name:  b.Board.Name,
			For:   b.Board.Give.For,
			Due:   b.Board.Give.Due,
			Piece: b.Piece,
			Slab:  b.Slab,
			Given: b.Given != nil,
			Lost:  b.Board.Spoiled(),
			Wrong: undecided(b.Board),
			Level: craft.Good,
		}
		if w, ok := known[b.Board.ID]; ok {
			line.Path, line.Holes, line.Box, line.Light, line.Dark, line.Level = w.reckoned.Path, w.reckoned.Holes,
				w.reckoned.Box, w.light, w.dark, w.reckoned.Level
			line.Parts = w.reckoned.Parts
		} else { // given away or binned: as it was drawn
			wood, _ := species.FindIn(at.Species, b.Species)
			line.Path, line.Holes, line.Box = pictured(b.Board.Design)
			line.Light, line.Dark = wood.Light, wood.Dark
		}
		if c, ok := courses[plan.Board(b.Board.ID)]; ok {
			line.Finish, line.Slack, line.Late, line.Steps = c.Finish, c.Slack, c.Late, len(c.Steps)
			for _, step := range c.Steps {
				if step.State == plan.Done {
					line.Done++
				}
			}
		}
		if of, ok := runs[b.Board.ID]; ok {
			line.Run = &of
		}
		out.Body.Items = append(out.Body.Items, line)
	}
	return out, nil
}
