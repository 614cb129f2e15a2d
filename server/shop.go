package server

import (
	"context"
	"fmt"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft"
	"idletimber/craft/finish"
	"idletimber/craft/measure"
	"idletimber/craft/moisture"
	"idletimber/craft/rule"
	"idletimber/craft/sanding"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
	"idletimber/craft/species"
	"idletimber/craft/tool"
)

// Tables is what the interface offers to choose from.
type Tables struct {
	Species []species.Species `json:"species"`
	Rules   []rule.Rule       `json:"rules"`
	Grits   []int             `json:"grits"`
	Schools []finish.School   `json:"schools"`
	Blades  []tool.Blade      `json:"blades" doc:"Usual blades with the least radius they turn"`
	Homes   []moisture.Place  `json:"homes" doc:"Kinds of homes that boards go to"`
	Nominal []slab.Nominal    `json:"nominal" doc:"Shop boards by the size they are sold by"`
}

// ShopDoc is the workshop's document with its version.
type ShopDoc struct {
	Version int       `json:"version"`
	Shop    shop.Shop `json:"shop"`
}

type shopOut struct{ Body ShopDoc }

func (s *Server) shopRoutes(api huma.API) {
	huma.Get(api, "/api/tables", func(ctx context.Context, _ *struct{}) (*struct{ Body Tables }, error) {
		return &struct{ Body Tables }{Tables{species.All, rule.All, sanding.Grits, finish.Schools, tool.UsualBlades, moisture.Places, slab.Nominals}}, nil
	})
	huma.Get(api, "/api/shop", func(ctx context.Context, _ *struct{}) (*shopOut, error) {
		v, version, err := s.Store.Shop(ctx, account(ctx).Workshop)
		return &shopOut{ShopDoc{version, v}}, answer(err)
	})
	huma.Put(api, "/api/shop", func(ctx context.Context, in *shopOut) (*shopOut, error) {
		if ps := in.Body.Shop.Check("shop", sanding.Grits); len(ps) > 0 {
			return nil, answer(ps)
		}
		used, err := s.Store.SpeciesOnRack(ctx, account(ctx).Workshop)
		if err != nil {
			return nil, answer(err)
		}
		for _, name := range used {
			if _, ok := species.FindIn(in.Body.Shop.Species, name); !ok {
				return nil, answer(craft.Problems{{Field: "shop.species", Wrong: fmt.Sprintf("%q is on the rack and cannot be taken away", name), Right: "keep it, or give its pieces another species first"}})
			}
		}
		version, err := s.Store.SaveShop(ctx, account(ctx).Workshop, in.Body.Shop, in.Body.Version)
		return &shopOut{ShopDoc{version, in.Body.Shop}}, conflict(err, in.Body.Shop)
	})
	huma.Post(api, "/api/lengths", readLength)
}

// Length is a length as it was typed and as it is read.
type Length struct {
	MM   float64 `json:"mm"`
	Text string  `json:"text" doc:"As it is shown in the unit in force"`
}

type lengthIn struct {
	Body struct {
		Text   string       `json:"text" maxLength:"100"`
		Unit   measure.Unit `json:"unit" enum:"mm,in"`
		Signed bool         `json:"signed" doc:"Negative lengths are read too"`
	}
}

// readLength reads a length as a maker writes it.
func readLength(ctx context.Context, in *lengthIn) (*struct{ Body Length }, error) {
	mm, err := measure.Parse(in.Body.Text, in.Body.Unit, in.Body.Signed)
	if err != nil {
		return nil, huma.Error422UnprocessableEntity(err.Error(), &huma.ErrorDetail{Location: "body.text", Message: err.Error(), Value: in.Body.Text})
	}
	return &struct{ Body Length }{Length{mm, measure.Format(mm, in.Body.Unit)}}, nil
}
