package server

import (
	"cmp"
	"context"
	"net/url"
	"slices"
	"time"

	"idletimber/craft"
	"idletimber/craft/glue"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/shelf"
	"idletimber/craft/slab"
	"idletimber/formats"
	"idletimber/store"
)

type batchIn struct {
	ID    string `path:"id"`
	Packs int    `query:"packs" minimum:"1" maximum:"500" default:"1" doc:"How many tins are mixed"`
}

// batchOf is a batch of a mix with the products that it is drawn from.
func (s *Server) batchOf(ctx context.Context, id string, packs int) (store.Product, shelf.Batch, shelved, error) {
	workshop := account(ctx).Workshop
	p, err := s.Store.Shelf().Get(ctx, workshop, id)
	if err != nil {
		return p, shelf.Batch{}, shelved{}, err
	}
	if p.Doc.Recipe == nil {
		return p, shelf.Batch{}, shelved{}, craft.Problems{{
			Field: "id", Wrong: "this is not mixed here", Right: "say what it is mixed from first",
		}}
	}
	at, _, err := s.Store.Shop(ctx, workshop)
	if err != nil {
		return p, shelf.Batch{}, shelved{}, err
	}
	items := []string{p.Doc.Item}
	for _, part := range p.Doc.Recipe.Parts {
		items = append(items, part.Item)
	}
	all, err := s.shelved(ctx, at, workshop, items, nil)
	return p, p.Doc.Batch(packs, productsOf(all.known), all.stands), all, err
}

// batch reckons a batch of a mix without mixing it.
func (s *Server) batch(ctx context.Context, in *batchIn) (*struct{ Body shelf.Batch }, error) {
	_, b, _, err := s.batchOf(ctx, in.ID, in.Packs)
	return &struct{ Body shelf.Batch }{b}, answer(err)
}

// mix notes a batch that was mixed: what it took is off the shelf, its tins are on it, and what a tin came to is its
// price.
func (s *Server) mix(ctx context.Context, in *batchIn) (*productOut, error) {
	workshop := account(ctx).Workshop
	if _, yes, err := s.Store.Repeated(ctx, workshop); err != nil || yes {
		if err != nil {
			return nil, answer(err)
		}
		return s.product(ctx, in.ID)
	}
	p, b, at, err := s.batchOf(ctx, in.ID, in.Packs)
	if err != nil {
		return nil, answer(err)
	}
	now := s.Clock()
	p.Doc = p.Doc.Moved(now, float64(in.Packs)*p.Doc.Pack)
	p.Doc.Opened = ""
	if b.Each > 0 {
		p.Doc.Cents = b.Each
	}
	changed := []store.Product{p}
	for i, drawn := range shelf.Drawn(b.Takes, productsOf(at.known), at.stands) {
		next := at.known[i]
		next.Doc = next.Doc.Moved(now, -drawn)
		changed = append(changed, next)
	}
	slices.SortFunc(changed, func(a, b store.Product) int { return cmp.Compare(a.ID, b.ID) })
	if err := s.Store.Shelf().Save(ctx, workshop, changed...); err != nil {
		return nil, conflict(err, p.Doc)
	}
	return s.product(ctx, in.ID)
}

// labelProduct is a label for a tin or a jar: what is in it, its ratio, when it was mixed or opened.
func (s *Server) labelProduct(ctx context.Context, in *struct {
	ID    string `path:"id"`
	Count int    `query:"count" minimum:"1" maximum:"100" default:"1" doc:"How many are printed"`
}) (*file, error) {
	workshop := account(ctx).Workshop
	p, err := s.Store.Shelf().Get(ctx, workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	at, _, err := s.Store.Shop(ctx, workshop)
	if err != nil {
		return nil, answer(err)
	}
	zone, err := at.Zone()
	if err != nil {
		return nil, answer(err)
	}
	label := formats.Label{
		Title: p.Doc.Name, Lines: p.Doc.Label(zone),
		Link: s.base(ctx) + "/shelf?q=" + url.QueryEscape(p.Doc.Name),
	}
	data, err := formats.Labels(at, slices.Repeat([]formats.Label{label}, in.Count))
	return download("application/pdf", p.Doc.Name, "pdf", data), answer(err)
}

// woodToBuy is the wood of strips that no piece of the rack is set aside for, and that are not ripped yet.
func (s *Server) woodToBuy(ctx context.Context, of planned, once bool) ([]shelf.Lumber, error) {
	courses := of.bySubject()
	var strips []shelf.Wanted
	for _, w := range of.work {
		if w.panel == nil || w.panel.Parts == nil {
			continue
		}
		c := courses[w.panel.Parts.Course.Subject]
		i := slices.IndexFunc(c.Steps, func(d plan.Dated) bool { return d.Key == glue.RipKey })
		if i < 0 || c.Steps[i].State == plan.Done {
			continue
		}
		for _, t := range slices.Concat(w.panel.Parts.Strips, w.panel.Parts.Spares) {
			if t.Piece == "" && !t.AtHand {
				strips = append(strips, shelf.Wanted{
					Species: t.Species, Length: t.Length, Width: t.Width, Thickness: t.Thickness, By: c.Steps[i].Starts,
					For: c.Name,
				})
			}
		}
	}
	if len(strips) == 0 {
		return []shelf.Lumber{}, nil
	}
	book, err := s.priceBook(ctx)
	if err != nil {
		return nil, err
	}
	key := rule.WoodWaste
	if once {
		key = rule.WoodOnce
	}
	at := of.scene.Shop
	return shelf.ToSaw(strips, at.Units, at.Rules.Get(key), book), nil
}

// priceBook is what the wood of the rack has cost.
func (s *Server) priceBook(ctx context.Context) ([]shelf.PriceOf, error) {
	workshop := account(ctx).Workshop
	at, _, err := s.Store.Shop(ctx, workshop)
	if err != nil {
		return nil, err
	}
	pieces, err := s.Store.Priced(ctx, workshop)
	if err != nil {
		return nil, err
	}
	var paid []shelf.Paid
	for _, p := range pieces {
		if p.Slab.Glue != nil || p.Slab.River != nil {
			continue // made here
		}
		w := slab.Draw(p.Slab, at.Species)
		cost := w.Cost
		if p.Slab.Bought != nil {
			cost -= float64(p.Slab.Bought.CostCents)
		}
		paid = append(paid, shelf.Paid{
			Species: p.Slab.Species, Form: cmp.Or(p.Slab.Stock, slab.StockSlab), Volume: w.Volume() * 1e-9,
			Cents: cost, At: p.Created,
		})
	}
	return shelf.PriceBook(paid), nil
}

func (s *Server) woodPrices(ctx context.Context, _ *struct{}) (*struct{ Body []shelf.PriceOf }, error) {
	book, err := s.priceBook(ctx)
	return &struct{ Body []shelf.PriceOf }{book}, answer(err)
}

// Month is what a month cost.
type Month struct {
	Month    string  `json:"month" doc:"YYYY-MM"`
	Supplies int     `json:"supplies" doc:"Taken from the shelf, cents"`
	Wood     int     `json:"wood" doc:"That came to the rack, cents"`
	Minutes  float64 `json:"minutes" doc:"At the bench"`
	Work     int     `json:"work" doc:"Those at the shop's rate, cents"`
	Given    int     `json:"given" doc:"Boards given away"`
	Unpriced int     `json:"unpriced" doc:"Things taken that the shelf has no price for"`
}

// mostMonths bounds how far back months are told of.
const mostMonths = 12

// months is what each of the last months cost: what steps took, what wood came, what the hours come to.
func (s *Server) months(ctx context.Context, _ *struct{}) (*struct{ Body []Month }, error) {
	workshop := account(ctx).Workshop
	at, _, err := s.Store.Shop(ctx, workshop)
	if err != nil {
		return nil, answer(err)
	}
	zone, err := at.Zone()
	if err != nil {
		return nil, answer(err)
	}
	now := s.Clock().In(zone)
	from := time.Date(now.Year(), now.Month()-mostMonths+1, 1, 0, 0, 0, 0, zone)
	spent, err := s.Store.Months(ctx, workshop, from, zone.String())
	if err != nil {
		return nil, answer(err)
	}
	var items []string
	for _, m := range spent {
		items = append(items, itemsOfUses(m.Uses)...)
	}
	known, err := s.Store.Serving(ctx, workshop, items)
	if err != nil {
		return nil, answer(err)
	}
	out := []Month{}
	for _, m := range spent {
		lines, cents := shelf.Bill(m.Uses, productsOf(known))
		month := Month{Month: m.Month, Supplies: cents, Wood: m.Wood, Minutes: m.Minutes, Given: m.Given}
		for _, l := range lines {
			if !l.Priced {
				month.Unpriced++
			}
		}
		month.Work = at.Rates().Work(m.Minutes / 60)
		out = append(out, month)
	}
	return &struct{ Body []Month }{out}, nil
}
