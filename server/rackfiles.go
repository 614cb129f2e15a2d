package server

import (
	"cmp"
	"context"
	"fmt"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft/measure"
	"idletimber/craft/slab"
	"idletimber/formats"
	"idletimber/store"
)

// mostListed is how many pieces go into one file or are taken from one.
const mostListed = 10000

// mostLabels is how many labels one sheet holds.
const mostLabels = 200

func (s *Server) rackFileRoutes(api huma.API) {
	for _, kind := range []struct {
		extension, contentType string
		write                  func([]slab.Slab, measure.Unit) ([]byte, error)
	}{
		{"csv", "text/csv; charset=utf-8", formats.RackCSV},
		{"xlsx", xlsxType, formats.RackXLSX},
	} {
		huma.Get(api, "/api/rack."+kind.extension, func(ctx context.Context, in *RackIn) (*file, error) {
			pieces, _, err := s.Store.Pieces(ctx, account(ctx).Workshop, in.wanted(), mostListed, 0)
			if err != nil {
				return nil, answer(err)
			}
			at, _, err := s.Store.Shop(ctx, account(ctx).Workshop)
			if err != nil {
				return nil, answer(err)
			}
			data, err := kind.write(slabsOf(pieces), at.Units)
			return download(kind.contentType, "rack", kind.extension, data), err
		}, rawAnswer(kind.contentType))
	}
	huma.Get(api, "/api/rack/labels.pdf", s.labels, rawAnswer("application/pdf"))
	huma.Post(api, "/api/rack/read", func(ctx context.Context, in *upload) (*struct{ Body formats.Table }, error) {
		at, _, err := s.Store.Shop(ctx, account(ctx).Workshop)
		if err != nil {
			return nil, answer(err)
		}
		table, err := formats.ReadRack(in.RawBody, at.Units, at.Species, s.Clock())
		if err != nil {
			return nil, huma.Error422UnprocessableEntity(err.Error())
		}
		return &struct{ Body formats.Table }{table}, nil
	}, takes(formats.MostTableBytes))
	huma.Post(api, "/api/rack", func(ctx context.Context, in *struct {
		Body struct {
			Slabs []slab.Slab `json:"slabs" minItems:"1" maxItems:"5000"`
		}
	}) (*divided, error) {
		at, _, err := s.Store.Shop(ctx, account(ctx).Workshop)
		if err != nil {
			return nil, answer(err)
		}
		for i, v := range in.Body.Slabs {
			if ps := v.Check(fmt.Sprintf("slabs[%d]", i), s.Clock(), at.Species); len(ps) > 0 {
				return nil, answer(ps)
			}
		}
		out := &divided{}
		out.Body.Pieces, err = s.Store.NewPieces(ctx, account(ctx).Workshop, in.Body.Slabs...)
		return out, answer(err)
	}, takes(formats.MostTableBytes))
	for _, kind := range []struct {
		extension, contentType string
		write                  func(formats.OutlineFile) []byte
	}{
		{"svg", "image/svg+xml", formats.OutlineFile.SVG},
		{"dxf", "image/vnd.dxf", formats.OutlineFile.DXF},
	} {
		huma.Get(api, "/api/pieces/{id}/outline."+kind.extension, func(ctx context.Context, in *idIn) (*file, error) {
			p, err := s.Store.Piece(ctx, account(ctx).Workshop, in.ID)
			if err != nil {
				return nil, answer(err)
			}
			data := kind.write(formats.PanelLayers(p.Slab))
			return download(kind.contentType, p.Slab.Name, kind.extension, data), nil
		}, rawAnswer(kind.contentType))
	}
}

func slabsOf(pieces []store.Piece) []slab.Slab {
	out := make([]slab.Slab, len(pieces))
	for i, p := range pieces {
		out[i] = p.Slab
	}
	return out
}

type labelsIn struct {
	RackIn
	Piece string `query:"piece" maxLength:"40" doc:"One piece only"`
}

// base is where its pages are found, by which what is printed leads back to it: its own address where it knows one.
func (s *Server) base(ctx context.Context) string { return cmp.Or(s.Address, clientOf(ctx).reached) }

// labels writes labels for one piece, or for what is looked for on the rack.
func (s *Server) labels(ctx context.Context, in *labelsIn) (*file, error) {
	workshop := account(ctx).Workshop
	at, _, err := s.Store.Shop(ctx, workshop)
	if err != nil {
		return nil, answer(err)
	}
	var pieces []store.Piece
	if in.Piece != "" {
		p, err := s.Store.Piece(ctx, workshop, in.Piece)
		if err != nil {
			return nil, answer(err)
		}
		pieces = []store.Piece{p}
	} else if pieces, _, err = s.Store.Pieces(ctx, workshop, in.wanted(), mostLabels, 0); err != nil {
		return nil, answer(err)
	}
	if len(pieces) == 0 {
		return nil, huma.Error422UnprocessableEntity(
			"nothing on the rack answers to this search, so there is nothing to label",
		)
	}
	base := s.base(ctx)
	labels := make([]formats.Label, len(pieces))
	for i, p := range pieces {
		labels[i] = formats.LabelOf(p.Slab, at.Units, base+"/timber/"+p.ID)
	}
	data, err := formats.Labels(at, labels)
	return download("application/pdf", "labels", "pdf", data), err
}
