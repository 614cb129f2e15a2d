package server

import (
	"context"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/reckon"
	"idletimber/store"
)

// TemplateLine is a shape that was kept, with its picture.
type TemplateLine struct {
	ID     string       `json:"id"`
	Name   string       `json:"name"`
	Design board.Design `json:"design"`
	Path   string       `json:"path"`
	Holes  []string     `json:"holes"`
	Box    [4]float64   `json:"box"`
}

// VersionLine is what a board was at a time, with its picture.
type VersionLine struct {
	Version int          `json:"version"`
	At      time.Time    `json:"at"`
	Board   reckon.Board `json:"board"`
	Path    string       `json:"path"`
	Box     [4]float64   `json:"box"`
}

// Beside names the boards that were laid beside one.
type Beside struct {
	Boards []string `json:"boards"`
}

type laidOut struct{ Body Beside }

func (s *Server) shapeRoutes(api huma.API) {
	huma.Get(api, "/api/templates", s.listTemplates)
	huma.Post(api, "/api/templates", s.keepTemplate)
	huma.Delete(api, "/api/templates/{id}", func(ctx context.Context, in *idIn) (*struct{}, error) {
		return nil, answer(s.Store.BinTemplate(ctx, account(ctx).Workshop, in.ID, true))
	})
	huma.Get(api, "/api/boards/{id}/versions", s.listVersions)
	huma.Post(api, "/api/boards/{id}/variants", s.compare)
	huma.Post(api, "/api/boards/{id}/nodes", s.nodesOf)
	huma.Post(api, "/api/lines", func(_ context.Context, in *struct {
		Body struct {
			Line []board.Node `json:"line" minItems:"2" maxItems:"60"`
		}
	}) (*struct{ Body Curve }, error) {
		if ps := board.CheckLine("body.line", in.Body.Line); len(ps) > 0 {
			return nil, answer(ps)
		}
		return &struct{ Body Curve }{Curve{board.LinePath(in.Body.Line).ToSVG()}}, nil
	})
	huma.Post(api, "/api/boards/{id}/copies", s.copyBoard)
	huma.Post(api, "/api/boards/{id}/split", s.splitBoard)
	huma.Post(api, "/api/boards/{id}/mate", s.mateBoard)
	huma.Get(api, "/api/boards/{id}/set", func(ctx context.Context, in *struct {
		ID  string  `path:"id"`
		Gap float64 `query:"gap" minimum:"0" maximum:"20" default:"0.8" doc:"Wanted between mates, mm"`
	}) (*struct{ Body reckon.Set }, error) {
		_, set, err := s.set(ctx, in.ID, in.Gap)
		return &struct{ Body reckon.Set }{set}, err
	})
	huma.Post(api, "/api/boards/{id}/set", s.askSet)
}

// pictured draws a design for a list; a plank is drawn as if its wood were wide
// enough.
func pictured(d board.Design) (path string, holes []string, box [4]float64) {
	s := board.Draw(d, geom.Bounds{MinX: -d.Length, MinY: -d.Width / 2, MaxX: d.Length, MaxY: d.Width / 2}.Ring())
	b := s.Outline.Bounds()
	holes = []string{}
	for _, h := range s.HolePaths {
		holes = append(holes, h.ToSVG())
	}
	return s.Path.ToSVG(), holes, [4]float64{b.MinX, b.MinY, b.MaxX, b.MaxY}
}

func (s *Server) listTemplates(ctx context.Context, _ *struct{}) (*struct{ Body []TemplateLine }, error) {
	kept, err := s.Store.Templates(ctx, account(ctx).Workshop)
	out := &struct{ Body []TemplateLine }{[]TemplateLine{}}
	for _, t := range kept {
		path, holes, box := pictured(t.Design)
		out.Body = append(out.Body, TemplateLine{t.ID, t.Name, t.Design, path, holes, box})
	}
	return out, answer(err)
}

func (s *Server) keepTemplate(ctx context.Context, in *struct {
	Body struct {
		Name   string       `json:"name"`
		Design board.Design `json:"design"`
	}
}) (*struct{ Body TemplateLine }, error) {
	ps := in.Body.Design.Check("design")
	if in.Body.Name == "" || len(in.Body.Name) > 200 {
		ps.Add("name", "the name is empty or too long", "give a name of 1 to 200 characters")
	}
	if len(ps) > 0 {
		return nil, answer(ps)
	}
	d := in.Body.Design
	d.AsCut = nil // what one board came to is not the template
	id, err := s.Store.NewTemplate(ctx, account(ctx).Workshop, in.Body.Name, d)
	path, holes, box := pictured(d)
	return &struct{ Body TemplateLine }{TemplateLine{id, in.Body.Name, d, path, holes, box}}, answer(err)
}

func (s *Server) listVersions(ctx context.Context, in *idIn) (*struct{ Body []VersionLine }, error) {
	if _, err := s.Store.Board(ctx, account(ctx).Workshop, in.ID); err != nil {
		return nil, answer(err)
	}
	kept, err := s.Store.Versions(ctx, account(ctx).Workshop, in.ID)
	out := &struct{ Body []VersionLine }{[]VersionLine{}}
	for _, v := range kept {
		path, _, box := pictured(v.Board.Design)
		out.Body = append(out.Body, VersionLine{v.Version, v.At, v.Board, path, box})
	}
	return out, answer(err)
}

// Variant is what a board comes to as it might be, for a comparison.
type Variant struct {
	Path    string      `json:"path" doc:"Outline as SVG path data"`
	Holes   []string    `json:"holes" doc:"The same of each hole"`
	Box     [4]float64  `json:"box" doc:"Bounds: min x, min y, max x, max y, mm"`
	Level   craft.Level `json:"level" doc:"The gravest of its verdicts"`
	Stops   int         `json:"stops" doc:"Checks that come out as a stop"`
	Minds   int         `json:"minds" doc:"Checks to mind"`
	Thick   float64     `json:"thick" doc:"Final thickness, mm"`
	Mass    float64     `json:"mass" doc:"kg"`
	HandsOn float64     `json:"handsOn" doc:"Minutes at work"`
	Finish  *time.Time  `json:"finish,omitempty" doc:"When it would be ready"`
}

// mostVariants bounds how many are compared at once.
const mostVariants = 4

// compare reckons a board as it might be, each variant for itself, where it lies.
func (s *Server) compare(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		Boards []reckon.Board `json:"boards" minItems:"1" maxItems:"4"`
	}
}) (*struct{ Body []Variant }, error) {
	out := &struct{ Body []Variant }{make([]Variant, 0, mostVariants)}
	for _, b := range in.Body.Boards {
		_, j, err := s.boardJob(ctx, in.ID, &b)
		if err != nil {
			return nil, answer(err)
		}
		all, err := reckon.Reckon(j, reckon.Request{})
		if err != nil {
			return nil, answer(err)
		}
		r := all.Boards[0]
		v := Variant{
			Path: r.Path, Holes: r.Holes, Box: r.Box, Level: r.Level, Thick: r.Budget.Sanded, HandsOn: r.Course.HandsOn,
			Finish: r.Course.Finish,
		}
		for _, verdict := range r.Verdicts {
			switch verdict.Level {
			case craft.Stop:
				v.Stops++
			case craft.Mind:
				v.Minds++
			}
		}
		v.Mass = r.Figure("shape.mass")
		out.Body = append(out.Body, v)
	}
	return out, nil
}

// drawn reads a board and draws it where it lies. It takes what boardJob takes.
func (s *Server) drawn(
	ctx context.Context,
	id string,
	as *reckon.Board,
) (store.Board, reckon.Scene, board.Shaped, error) {
	b, j, err := s.boardJob(ctx, id, as)
	if err != nil {
		return b, j, board.Shaped{}, answer(err)
	}
	shaped, err := reckon.Draw(j)
	if err != nil {
		return b, j, board.Shaped{}, answer(err)
	}
	return b, j, shaped[0], nil
}

// Curve is an open line as it is drawn through its nodes.
type Curve struct {
	Path string `json:"path"`
}

// nodesOf draws a board as it is being changed and gives its design with its outline
// by nodes, to be drawn on freely: whole, or half of a template.
func (s *Server) nodesOf(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Half bool   `query:"half"`
	Body reckon.Board
}) (*struct{ Body board.Design }, error) {
	_, _, shaped, err := s.drawn(ctx, in.ID, &in.Body)
	if err != nil {
		return nil, err
	}
	return &struct{ Body board.Design }{shaped.ByPoints(in.Half)}, nil
}

// Copies asks for a board again, beside the first.
type Copies struct {
	Version int `json:"version"`
	Count   int `json:"count" minimum:"1" maximum:"24"`
}

// copyBoard lays the same board again, so many times, beside the first.
func (s *Server) copyBoard(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body Copies
}) (*laidOut, error) {
	if again, err := s.laidBefore(ctx); again != nil || err != nil {
		return again, err
	}
	b, j, shaped, err := s.drawn(ctx, in.ID, nil)
	if err != nil {
		return nil, err
	}
	ids := make([]string, in.Body.Count)
	for i := range ids {
		ids[i] = store.NewID()
	}
	return s.layBeside(ctx, b, in.Body.Version, b.Board, reckon.Copies(b.Board, shaped, *j.Slab, ids))
}

// laidBefore is the answer to a request that laid its boards when it was asked
// before; nil for a new one.
func (s *Server) laidBefore(ctx context.Context) (*laidOut, error) {
	ids, yes, err := s.Store.Repeated(ctx, account(ctx).Workshop)
	if !yes {
		return nil, answer(err)
	}
	return &laidOut{Beside{ids}}, nil
}

// layBeside stores a board as it is changed and others that are laid beside it, if
// the slab may hold so many.
func (s *Server) layBeside(
	ctx context.Context,
	b store.Board,
	version int,
	changed reckon.Board,
	more []reckon.Board,
) (*laidOut, error) {
	wanted := []reckon.Stored{{Board: changed, Version: version}}
	for _, m := range more {
		wanted = append(wanted, reckon.Stored{Board: m})
	}
	ids, err := s.settle(ctx, account(ctx).Workshop, b.Piece, wanted)
	if err != nil {
		return nil, conflict(err, b.Board)
	}
	return &laidOut{Beside{ids}}, nil
}

// asProblem is a refusal that names the field that was asked for.
func asProblem(field string, err error) error {
	return answer(craft.Problems{{Field: "body." + field, Wrong: err.Error(), Right: "change it and try again"}})
}

// Splitting asks for a board in two.
type Splitting struct {
	Version int          `json:"version"`
	Line    []board.Node `json:"line" minItems:"2" maxItems:"60" doc:"Open, in the board's frame"`
	Gap     float64      `json:"gap" minimum:"0" maximum:"20" doc:"mm"`
}

// splitBoard cuts a board by a line into two that mate.
func (s *Server) splitBoard(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body Splitting
}) (*laidOut, error) {
	if ps := board.CheckLine("body.line", in.Body.Line); len(ps) > 0 {
		return nil, answer(ps)
	}
	if again, err := s.laidBefore(ctx); again != nil || err != nil {
		return again, err
	}
	b, j, shaped, err := s.drawn(ctx, in.ID, nil)
	if err != nil {
		return nil, err
	}
	first, second, err := reckon.Split(b.Board, shaped, in.Body.Line, in.Body.Gap, store.NewID(), j.Shop.Rules)
	if err != nil {
		return nil, asProblem("line", err)
	}
	return s.layBeside(ctx, b, in.Body.Version, first, []reckon.Board{second})
}

// Mating asks for a board whose edge mates with a side of another.
type Mating struct {
	Version int     `json:"version"`
	Side    string  `json:"side" enum:"left,right,handle end,far end"`
	Width   float64 `json:"width" minimum:"20" maximum:"1000" doc:"Of the new board beside that side, mm"`
	Gap     float64 `json:"gap" minimum:"0" maximum:"20" doc:"mm"`
}

// mateBoard lays a new board whose edge mates with a side of another.
func (s *Server) mateBoard(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body Mating
}) (*laidOut, error) {
	if again, err := s.laidBefore(ctx); again != nil || err != nil {
		return again, err
	}
	b, _, shaped, err := s.drawn(ctx, in.ID, nil)
	if err != nil {
		return nil, err
	}
	first, mate, err := reckon.MateBeside(b.Board, shaped, in.Body.Side, in.Body.Width, in.Body.Gap, store.NewID())
	if err != nil {
		return nil, asProblem("side", err)
	}
	return s.layBeside(ctx, b, in.Body.Version, first, []reckon.Board{mate})
}

// set is the set of a board, and the scene that it stands in.
func (s *Server) set(ctx context.Context, id string, gap float64) (reckon.Scene, reckon.Set, error) {
	_, j, err := s.boardJob(ctx, id, nil)
	if err != nil {
		return j, reckon.Set{}, answer(err)
	}
	set, err := reckon.Nests(j, gap)
	return j, set, answer(err)
}

// SetAsked says which boards of a set must mate.
type SetAsked struct {
	Which string  `json:"which" enum:"every pair,with this one"`
	Gap   float64 `json:"gap" minimum:"0" maximum:"20" doc:"mm"`
}

// askSet asks the boards of a set to mate, where they nest.
func (s *Server) askSet(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body SetAsked
}) (*struct{}, error) {
	workshop := account(ctx).Workshop
	j, set, err := s.set(ctx, in.ID, in.Body.Gap)
	if err != nil {
		return nil, err
	}
	stored := map[string]reckon.Stored{}
	var boards []reckon.Board
	for _, o := range set.Boards {
		b, err := s.Store.Board(ctx, workshop, o.ID)
		if err != nil {
			return nil, answer(err)
		}
		stored[o.ID], boards = b.Stored(), append(boards, b.Board)
	}
	changed, err := set.Asked(boards, j.First(), in.Body.Which, in.Body.Gap)
	if err != nil {
		return nil, asProblem("which", err)
	}
	var wanted []reckon.Stored
	for _, b := range changed {
		was := stored[b.ID]
		was.Board = b
		wanted = append(wanted, was)
	}
	_, err = s.Store.SaveBoards(ctx, workshop, wanted)
	return nil, conflict(err, j.Boards[0])
}
