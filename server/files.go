package server

import (
	"cmp"
	"context"
	"fmt"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft"
	"idletimber/craft/reckon"
	"idletimber/formats"
	"idletimber/store"
)

// file is an answer that is a file.
type file struct {
	Type        string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Body        []byte
}

// safe is a name in letters that every system takes.
func safe(name string) string {
	return cmp.Or(strings.Trim(strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z', r >= 'A' && r <= 'Z', r >= '0' && r <= '9':
			return r
		}
		return '-'
	}, name), "-"), "board")
}

// download names a file after a board.
func download(contentType, name, extension string, data []byte) *file {
	return &file{contentType, fmt.Sprintf(`attachment; filename="%s.%s"`, safe(name), extension), data}
}

// rawAnswer describes an answer that is a file.
func rawAnswer(contentType string) func(*huma.Operation) {
	return func(op *huma.Operation) {
		op.Responses = map[string]*huma.Response{
			"200": {
				Description: "A file",
				Content: map[string]*huma.MediaType{
					contentType: {Schema: &huma.Schema{Type: "string", Format: "binary"}},
				},
			},
		}
	}
}

// reckoned reads a board and reckons it, for what is asked.
func (s *Server) reckoned(
	ctx context.Context,
	id string,
	ask reckon.Request,
) (store.Board, reckon.Scene, reckon.Reckoning, error) {
	b, j, err := s.boardJob(ctx, id, nil)
	if err != nil {
		return b, j, reckon.Reckoning{}, answer(err)
	}
	r, err := reckon.Reckon(j, ask)
	return b, j, r, answer(err)
}

func (s *Server) fileRoutes(api huma.API) {
	huma.Get(api, "/api/boards/{id}/sheet.pdf", func(ctx context.Context, in *struct {
		ID    string `path:"id"`
		Paper string `query:"paper" enum:"A4,Letter" doc:"The shop's paper when left out"`
	}) (*file, error) {
		b, j, r, err := s.reckoned(ctx, in.ID, reckon.Request{})
		if err != nil {
			return nil, err
		}
		j.Shop.Paper = cmp.Or(in.Paper, j.Shop.Paper)
		data, err := formats.Sheet(j, r)
		return download("application/pdf", b.Board.Name, "pdf", data), err
	}, rawAnswer("application/pdf"))
	for _, kind := range []struct {
		extension, contentType string
		write                  func(string, reckon.Reckoned) []byte
	}{
		{"svg", "image/svg+xml", formats.BoardSVG},
		{"dxf", "image/vnd.dxf", func(_ string, r reckon.Reckoned) []byte { return formats.BoardDXF(r) }},
	} {
		huma.Get(api, "/api/boards/{id}/outline."+kind.extension, func(ctx context.Context, in *idIn) (*file, error) {
			_, j, r, err := s.reckoned(ctx, in.ID, reckon.Request{})
			if err != nil {
				return nil, err
			}
			return download(
				kind.contentType,
				j.Boards[0].Name,
				kind.extension,
				kind.write(j.Boards[0].Name, r.Boards[0]),
			), nil
		}, rawAnswer(kind.contentType))
	}
	huma.Get(api, "/api/boards/{id}/template.pdf", func(ctx context.Context, in *struct {
		ID    string `path:"id"`
		Paper string `query:"paper" enum:"A4,Letter,A3,Tabloid,Whole" doc:"The shop's when left out"`
		Half  bool   `query:"half" doc:"Only the left half, to be turned over along the centre line"`
	}) (*file, error) {
		_, j, r, err := s.reckoned(ctx, in.ID, reckon.Request{})
		if err != nil {
			return nil, err
		}
		data, err := formats.Template(
			j,
			r.Boards[0],
			formats.TemplateChoice{Paper: cmp.Or(in.Paper, j.Shop.Paper), Half: in.Half},
		)
		return download("application/pdf", j.Boards[0].Name+" template", "pdf", data), err
	}, rawAnswer("application/pdf"))
	huma.Get(api, "/api/boards/{id}/job.json", func(ctx context.Context, in *idIn) (*file, error) {
		b, j, err := s.boardJob(ctx, in.ID, nil)
		if err != nil {
			return nil, answer(err)
		}
		j.Elsewhere, j.Order, j.Pins, j.Ahead = nil, nil, nil, nil // other boards are nobody else's business
		data, err := formats.WriteJob(j)
		return download("application/json", b.Board.Name, "json", data), err
	}, rawAnswer("application/json"))
	huma.Post(api, "/api/jobs", s.takeIn, ofJobFile)
}

// jobFile is a job file, of this version or an older one, as formats.ReadJob reads it.
type jobFile struct {
	RawBody []byte `contentType:"application/json"`
}

// ofJobFile leaves it to the reader to judge a body.
func ofJobFile(op *huma.Operation) { op.SkipValidateBody = true }

// TakenIn names what a job file brought.
type TakenIn struct {
	Piece  string   `json:"piece"`
	Boards []string `json:"boards"`
}

// takeIn stores the slab and the boards of a job file; the shop, the log and
// the boards elsewhere stay where they came from.
func (s *Server) takeIn(ctx context.Context, in *jobFile) (*struct{ Body TakenIn }, error) {
	j, err := formats.ReadJob(in.RawBody) // files of older versions too
	if err != nil {
		return nil, answer(err)
	}
	if j.Slab == nil {
		return nil, answer(
			craft.Problems{
				{Field: "slab", Wrong: "the job has no slab", Right: "give a job with a slab and its boards"},
			},
		)
	}
	workshop := account(ctx).Workshop
	p, boards, err := s.Store.TakeIn(ctx, workshop, *j.Slab, j.Boards)
	return &struct{ Body TakenIn }{TakenIn{p, boards}}, answer(err)
}
