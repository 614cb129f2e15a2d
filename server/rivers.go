package server

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft/fill"
	"idletimber/craft/plan"
	"idletimber/craft/river"
	"idletimber/craft/slab"
	"idletimber/craft/stock"
	"idletimber/store"
)

// NewRiverIn asks for a river between pieces of the rack.
type NewRiverIn struct {
	Name   string   `json:"name" minLength:"1" maxLength:"200"`
	Resin  string   `json:"resin" enum:"quick,coating,casting,deep pour"`
	Pieces []string `json:"pieces" minItems:"1" maxItems:"2" doc:"Ids: one is ripped in two, two face each other"`

	Straight bool `json:"straight,omitempty" doc:"Of one piece: resin completes its live edge to a straight side"`
}

func (s *Server) riverRoutes(api huma.API) {
	huma.Register(api, huma.Operation{
		OperationID: "new-river", Method: http.MethodPost, Path: "/api/rivers",
		Summary: "A river between pieces of the rack",
	}, s.newRiver)
}

// newRiver lays pieces in a mould, and keeps them for it.
func (s *Server) newRiver(ctx context.Context, in *struct{ Body NewRiverIn }) (*pieceOut, error) {
	workshop := account(ctx).Workshop
	if ids, yes, err := s.Store.Repeated(ctx, workshop); err != nil {
		return nil, answer(err)
	} else if yes {
		return s.piece(ctx, ids[0])
	}
	at, _, err := s.Store.Shop(ctx, workshop)
	if err != nil {
		return nil, answer(err)
	}
	var pieces []store.Piece
	var slabs []slab.Slab
	for i, id := range in.Body.Pieces {
		if slices.Contains(in.Body.Pieces[:i], id) {
			return nil, huma.Error422UnprocessableEntity("a piece is named twice", &huma.ErrorDetail{
				Location: fmt.Sprintf("body.pieces[%d]", i), Message: "give it alone to rip it along its middle",
			})
		}
		p, err := s.Store.Piece(ctx, workshop, id)
		if err != nil {
			return nil, answer(err)
		}
		if p.Deleted != nil || p.Cut != nil || p.Slab.Made() {
			return nil, huma.Error422UnprocessableEntity(p.Slab.Name+" cannot be a bank", &huma.ErrorDetail{
				Location: fmt.Sprintf(
					"body.pieces[%d]",
					i,
				), Message: "take a piece of solid wood that lies on the rack",
			})
		}
		pieces, slabs = append(pieces, p), append(slabs, p.Slab)
	}
	made, err := river.River{}, error(nil)
	if in.Body.Straight && len(slabs) == 1 {
		made = slab.Straightened(slabs[0], in.Body.Pieces[0], in.Body.Resin, at.Rules, at.Species)
	} else {
		made, err = slab.NewRiver(slabs, in.Body.Pieces, in.Body.Resin, at.Rules, at.Species)
	}
	if err != nil {
		return nil, huma.Error422UnprocessableEntity(err.Error())
	}
	v := slab.Slab{Name: in.Body.Name, Moisture: slabs[0].Moisture, Flaws: []stock.Flaw{}, River: &made}
	for _, o := range slabs {
		v.PriceCents += o.PriceCents
	}
	if ps := v.Check("slab", s.Clock(), at.Species); len(ps) > 0 {
		return nil, answer(ps)
	}
	for i := range pieces { // who looks at one sees what it is kept for
		pieces[i].Slab.Reserved = cmp.Or(pieces[i].Slab.Reserved, in.Body.Name)
	}
	id, err := s.Store.NewOf(ctx, workshop, v.Settled(), pieces)
	if err != nil {
		return nil, answer(err)
	}
	return s.piece(ctx, id)
}

// cutBanks takes the pieces off the rack that the banks of a river were cut from.
func (s *Server) cutBanks(ctx context.Context, r river.River) error {
	for i, b := range r.Banks {
		same := func(o river.Bank) bool { return o.Piece == b.Piece }
		if b.Piece == "" || slices.ContainsFunc(r.Banks[:i], same) {
			continue
		}
		err := s.Store.CutUp(ctx, account(ctx).Workshop, b.Piece)
		if err != nil && !errors.Is(err, store.ErrNotFound) { // binned for good meanwhile
			return answer(err)
		}
	}
	return nil
}

// atRiver does what an event of a step of a river brings with it: its wood is off the rack once it is
// cut, its mould on the shelf once it is off, and a pour that was not teaches nothing.
func (s *Server) atRiver(ctx context.Context, id string, v slab.Slab, event Event) error {
	switch finished, undone := event.Event == plan.Finish, event.Event == plan.Undo; {
	case finished && event.Step == river.BanksKey:
		return s.cutBanks(ctx, *v.River)
	case finished && event.Step == river.DemouldKey:
		return s.keepMould(ctx, v, 1)
	case undone && event.Step == river.DemouldKey:
		return s.keepMould(ctx, v, -1)
	case undone && strings.HasPrefix(event.Step, fill.PourKey):
		return answer(s.Store.DropPour(ctx, account(ctx).Workshop, id, event.Step))
	}
	return nil
}

// keepMould counts a use of the mould of a river: one that was made for it goes on the shelf. Taken
// back, with -1, it is counted off again, and one that was never used is on no shelf.
func (s *Server) keepMould(ctx context.Context, v slab.Slab, uses int) error {
	workshop := account(ctx).Workshop
	at, version, err := s.Store.Shop(ctx, workshop)
	if err != nil {
		return answer(err)
	}
	r, name := v.River, cmp.Or(v.River.Kept, "mould of "+v.Name)
	at.Moulds = slices.Clone(at.Moulds)
	i := slices.IndexFunc(at.Moulds, func(k river.Kept) bool { return k.Name == name })
	if i < 0 {
		i = len(at.Moulds)
		at.Moulds = append(at.Moulds, river.Kept{
			Name: name, Length: r.Length, Width: r.Width, Height: r.Mould().Height,
		})
	}
	at.Moulds[i].Uses += uses
	at.Moulds = slices.DeleteFunc(at.Moulds, func(k river.Kept) bool { return k.Name == name && k.Uses <= 0 })
	return answer(s.Store.SaveShop(ctx, workshop, at, version))
}

// sheets are the sheets of the rack that a mould may be cut from, the smallest first.
func (s *Server) sheets(ctx context.Context, workshop string) ([]river.Sheet, error) {
	const most = 100
	pieces, _, err := s.Store.Pieces(ctx, workshop, store.Wanted{Stock: slab.StockSheet}, most, 0)
	out := []river.Sheet{}
	for _, p := range pieces {
		w := slab.Draw(p.Slab, nil)
		box := w.Show.Ring().Bounds()
		out = append(out, river.Sheet{
			Name: p.Slab.Name, Length: box.MaxX - box.MinX, Width: box.MaxY - box.MinY, Thickness: w.Rough.Thinnest,
		})
	}
	slices.SortStableFunc(out, func(a, b river.Sheet) int { return cmp.Compare(a.Length*a.Width, b.Length*b.Width) })
	return out, err
}
