package server

import (
	"context"
	"fmt"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft"
	"idletimber/craft/reckon"
	"idletimber/formats"
)

// file is an answer that is a file.
type file struct {
	Type        string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Body        []byte
}

// download names a file after a board, in letters that every system takes.
func download(contentType, name, extension string, data []byte) *file {
	safe := strings.Trim(strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z', r >= 'A' && r <= 'Z', r >= '0' && r <= '9':
			return r
		}
		return '-'
	}, name), "-")
	if safe == "" {
		safe = "board"
	}
	return &file{contentType, fmt.Sprintf(`attachment; filename="%s.%s"`, safe, extension), data}
}

func (s *Server) fileRoutes(api huma.API) {
	raw := func(contentType string) func(*huma.Operation) {
		return func(op *huma.Operation) {
			op.Responses = map[string]*huma.Response{"200": {Description: "A file", Content: map[string]*huma.MediaType{contentType: {Schema: &huma.Schema{Type: "string", Format: "binary"}}}}}
		}
	}
	huma.Get(api, "/api/boards/{id}/sheet.pdf", func(ctx context.Context, in *struct {
		ID    string `path:"id"`
		Paper string `query:"paper" enum:"A4,Letter" doc:"The shop's paper when left out"`
	}) (*file, error) {
		b, j, err := s.boardJob(ctx, in.ID)
		if err != nil {
			return nil, answer(err)
		}
		if in.Paper != "" {
			j.Shop.Paper = in.Paper
		}
		r, err := reckon.Reckon(j)
		if err != nil {
			return nil, answer(err)
		}
		data, err := formats.Sheet(j, r)
		return download("application/pdf", b.Board.Name, "pdf", data), err
	}, raw("application/pdf"))
	huma.Get(api, "/api/boards/{id}/outline.svg", func(ctx context.Context, in *idIn) (*file, error) {
		b, j, err := s.boardJob(ctx, in.ID)
		if err != nil {
			return nil, answer(err)
		}
		r, err := reckon.Reckon(j)
		if err != nil {
			return nil, answer(err)
		}
		return download("image/svg+xml", b.Board.Name, "svg", formats.OutlineSVG(b.Board.Name, r.Boards[0])), nil
	}, raw("image/svg+xml"))
	huma.Get(api, "/api/boards/{id}/job.json", func(ctx context.Context, in *idIn) (*file, error) {
		b, j, err := s.boardJob(ctx, in.ID)
		if err != nil {
			return nil, answer(err)
		}
		j.Elsewhere = nil // other boards are nobody else's business
		data, err := formats.WriteJob(j)
		return download("application/json", b.Board.Name, "json", data), err
	}, raw("application/json"))
	huma.Post(api, "/api/jobs", s.takeIn)
}

// TakenIn names what a job file brought.
type TakenIn struct {
	Piece  string   `json:"piece"`
	Boards []string `json:"boards"`
}

// takeIn stores the slab and the boards of a job file; the shop, the log and
// the boards elsewhere stay where they came from.
func (s *Server) takeIn(ctx context.Context, in *struct{ Body reckon.Job }) (*struct{ Body TakenIn }, error) {
	j := in.Body
	if ps := j.Check(); len(ps) > 0 {
		return nil, answer(ps)
	}
	if j.Slab == nil {
		return nil, answer(craft.Problems{{Field: "slab", Wrong: "the job has no slab", Right: "give a job with a slab and its boards"}})
	}
	workshop := account(ctx).Workshop
	p, boards, err := s.Store.TakeIn(ctx, workshop, *j.Slab, j.Boards)
	return &struct{ Body TakenIn }{TakenIn{p, boards}}, answer(err)
}
