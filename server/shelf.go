package server

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"golang.org/x/sync/errgroup"

	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/shelf"
	"idletimber/craft/shop"
	"idletimber/craft/stage"
	"idletimber/formats"
	"idletimber/store"
)

// ProductDoc is a product on the shelf, as it stands.
type ProductDoc struct {
	ID      string         `json:"id"`
	Version int            `json:"version"`
	Product shelf.Product  `json:"product"`
	Stands  shelf.Standing `json:"stands"`
	Binned  bool           `json:"binned,omitempty" doc:"It was put away"`
}

type productOut struct{ Body ProductDoc }

// Shopping is what must be bought.
type Shopping struct {
	Lines []ToBuy        `json:"lines" doc:"What must be ordered first comes first"`
	Wood  []shelf.Lumber `json:"wood" doc:"Of strips that no piece of the rack is set aside for"`
	Cents int            `json:"cents" doc:"What those with a price cost together, wood too"`
	Items []Taking       `json:"items" doc:"All that the work ahead takes, by kind and name"`
	Now   time.Time      `json:"now"`
}

// Taking is something that the work takes.
type Taking struct {
	Kind stage.Kind `json:"kind" enum:"resin,hardener,filler,abrasive,finish,hardware,glue,wood,packing"`
	Item string     `json:"item"`
	Unit craft.Unit `json:"unit" enum:"g,ml,mm,pieces"`
}

// ToBuy is a line of the shopping list with the product that is bought again.
type ToBuy struct {
	shelf.Buy
	ID   string   `json:"id,omitempty" doc:"Of the product; left out where the shelf has had none"`
	Name string   `json:"name,omitempty" doc:"Of the product"`
	For  []string `json:"for" doc:"Names of the boards and panels that need it"`
}

func (s *Server) shelfRoutes(api huma.API) {
	huma.Get(api, "/api/shelf", s.listShelf)
	huma.Get(api, "/api/shelf/shopping", func(ctx context.Context, in *struct {
		Once bool `query:"once" doc:"There is no second trip for wood: more of it is bought"`
	}) (*struct{ Body Shopping }, error) {
		out, err := s.shopping(ctx, in.Once)
		return &struct{ Body Shopping }{out}, answer(err)
	})
	for _, kind := range []struct {
		extension, contentType string
		write                  func([]shelf.Product) ([]byte, error)
	}{{"csv", "text/csv; charset=utf-8", formats.ShelfCSV}, {"xlsx", xlsxType, formats.ShelfXLSX}} {
		huma.Get(api, "/api/shelf."+kind.extension, func(ctx context.Context, _ *struct{}) (*file, error) {
			products, err := s.counted(ctx)
			if err != nil {
				return nil, answer(err)
			}
			data, err := kind.write(products)
			return download(kind.contentType, "shelf", kind.extension, data), err
		}, rawAnswer(kind.contentType))
	}
	huma.Post(api, "/api/shelf/read", func(_ context.Context, in *upload) (*struct{ Body formats.ShelfTable }, error) {
		table, err := formats.ReadShelf(in.RawBody, s.Clock())
		if err != nil {
			return nil, huma.Error422UnprocessableEntity(err.Error())
		}
		return &struct{ Body formats.ShelfTable }{table}, nil
	}, takes(formats.MostTableBytes))
	huma.Post(api, "/api/shelf/rows", s.takeProducts)
	huma.Get(api, "/api/shelf/{id}/batch", s.batch)
	huma.Post(api, "/api/shelf/{id}/batch", s.mix)
	huma.Get(api, "/api/shelf/{id}/label.pdf", s.labelProduct, rawAnswer("application/pdf"))
	huma.Post(api, "/api/shelf", s.newProduct)
	huma.Get(api, "/api/shelf/{id}", func(ctx context.Context, in *idIn) (*productOut, error) {
		return s.product(ctx, in.ID)
	})
	huma.Put(api, "/api/shelf/{id}", s.saveProduct, mayConflict[shelf.Product](api))
	huma.Delete(api, "/api/shelf/{id}", func(ctx context.Context, in *idIn) (*struct{}, error) {
		return nil, answer(s.Store.Shelf().Bin(ctx, account(ctx).Workshop, in.ID, true))
	})
	huma.Post(api, "/api/shelf/{id}/restore", func(ctx context.Context, in *idIn) (*struct{}, error) {
		return nil, answer(s.Store.Shelf().Bin(ctx, account(ctx).Workshop, in.ID, false))
	})
}

func (s *Server) listShelf(ctx context.Context, in *struct {
	Words string `query:"q" maxLength:"200" doc:"In its name, its item or where it stands"`
	Kind  string `query:"kind" enum:",resin,hardener,filler,abrasive,finish,hardware,glue,wood,packing"`
	Bin   bool   `query:"bin" doc:"What was put away"`
	Page  int    `query:"page" minimum:"0" maximum:"100000"`
}) (*struct{ Body Page[ProductDoc] }, error) {
	workshop := account(ctx).Workshop
	found, total, err := s.Store.Products(ctx, workshop, store.OnShelf{Words: in.Words, Kind: in.Kind, Bin: in.Bin},
		pageSize, in.Page*pageSize)
	if err != nil {
		return nil, answer(err)
	}
	lines, err := s.standing(ctx, workshop, found)
	return &struct{ Body Page[ProductDoc] }{Page[ProductDoc]{Total: total, Items: lines}}, answer(err)
}

// standing is how some products stand, beside those that are the same item.
func (s *Server) standing(ctx context.Context, workshop string, some []store.Product) ([]ProductDoc, error) {
	items := make([]string, len(some))
	for i, p := range some {
		items[i] = p.Doc.Item
	}
	var of planned
	var there kept
	asked, both := errgroup.WithContext(ctx) // neither waits for the other
	asked.Go(func() (err error) {
		of, err = s.planned(both, workshop)
		return err
	})
	asked.Go(func() (err error) {
		there, err = s.kept(both, workshop, items)
		return err
	})
	if err := asked.Wait(); err != nil {
		return nil, err
	}
	at := s.stand(there, of.scene.Shop, of.needs())
	stands := map[string]shelf.Standing{}
	for i, p := range at.known {
		stands[p.ID] = at.stands[i]
	}
	out := []ProductDoc{}
	for _, p := range some {
		out = append(out, ProductDoc{ID: p.ID, Version: p.Version, Product: p.Doc, Stands: stands[p.ID],
			Binned: p.Deleted != nil})
	}
	return out, nil
}

// kept is all products that are one of some items, and what was taken of them.
type kept struct {
	items []string
	known []store.Product
	taken []shelf.Taken
}

func (s *Server) kept(ctx context.Context, workshop string, items []string) (out kept, err error) {
	slices.Sort(items)
	out.items = slices.Compact(items)
	asked, both := errgroup.WithContext(ctx)
	asked.Go(func() (err error) {
		out.known, err = s.Store.Serving(both, workshop, out.items)
		return err
	})
	asked.Go(func() (err error) {
		out.taken, err = s.Store.Taken(both, workshop, out.items)
		return err
	})
	err = asked.Wait()
	return out, err
}

// shelved is how all products stand that are one of some items, and what of those must be bought.
type shelved struct {
	known  []store.Product
	stands []shelf.Standing
	buys   []shelf.Buy
}

func (s *Server) shelved(
	ctx context.Context, in shop.Shop, workshop string, items []string, needs []need,
) (shelved, error) {
	k, err := s.kept(ctx, workshop, items)
	return s.stand(k, in, needs), err
}

// stand works out how what is kept stands, with what work ahead needs of it.
func (s *Server) stand(k kept, in shop.Shop, needs []need) shelved {
	out := shelved{known: k.known}
	ahead := []shelf.Need{}
	for _, n := range needs {
		if slices.ContainsFunc(shelf.Items(n.Use), func(item string) bool { return slices.Contains(k.items, item) }) {
			ahead = append(ahead, n.Need)
		}
	}
	out.stands, out.buys = shelf.Stand(productsOf(k.known), k.taken, ahead, s.Clock(), in.Rules)
	return out
}

// left is how much there is of what a step takes, and whether the shelf knows it.
func (at shelved) left(u stage.Use) (left float64, known bool) {
	for i, p := range at.known {
		if p.Doc.Serves(u) {
			left, known = left+at.stands[i].Left, true
		}
	}
	return left, known
}

func productsOf(known []store.Product) []shelf.Product {
	out := make([]shelf.Product, len(known))
	for i, p := range known {
		out[i] = p.Doc
	}
	return out
}

// itemsOf are the items by which the shelf may know what some needs are of.
func itemsOf(needs []need) []string {
	var out []string
	for _, n := range needs {
		out = append(out, shelf.Items(n.Use)...)
	}
	return out
}

// need is what a step ahead takes, and the name of what is made.
type need struct {
	shelf.Need
	name string
}

// needs are what all work ahead takes.
func (of planned) needs() []need {
	courses := of.bySubject()
	out := []need{}
	add := func(c plan.Course, uses []stage.Use) {
		for _, u := range uses {
			i := slices.IndexFunc(c.Steps, func(d plan.Dated) bool { return d.Key == u.Step })
			if i < 0 || c.Steps[i].State == plan.Done {
				continue
			}
			out = append(out, need{shelf.Need{Use: u, By: c.Steps[i].Starts, Of: c.Subject}, c.Name})
		}
	}
	for _, w := range of.work {
		for _, b := range w.boards {
			add(courses[b.reckoned.Course.Subject], doingOf(b.reckoned).uses)
		}
		if w.panel != nil {
			made := madeBy(*w.panel)
			add(courses[made.Subject], made.uses)
		}
	}
	return out
}

// Takes is what a step takes of one thing, and how much of it the shelf has.
type Takes struct {
	Step   string     `json:"step" doc:"Its key"`
	Item   string     `json:"item" doc:"What it is"`
	Amount float64    `json:"amount" doc:"How much the step takes, in the unit"`
	Unit   craft.Unit `json:"unit" doc:"Of the amounts"`
	Left   float64    `json:"left" doc:"On the shelf"`
	Known  bool       `json:"known" doc:"The shelf has it, or has had it"`
}

// takes is what the next step of each board and panel takes, by subject. What others take before is not counted: it is
// a look at the shelf as it stands.
func (s *Server) takes(ctx context.Context, workshop string, of planned) (map[plan.Subject][]Takes, error) {
	next := map[plan.Subject]string{}
	for _, c := range of.courses {
		if i := slices.IndexFunc(c.Steps, func(d plan.Dated) bool { return d.State != plan.Done }); i >= 0 {
			next[c.Subject] = c.Steps[i].Key
		}
	}
	needs := slices.DeleteFunc(of.needs(), func(n need) bool { return next[n.Of] != n.Step })
	if len(needs) == 0 {
		return nil, nil
	}
	at, err := s.shelved(ctx, of.scene.Shop, workshop, itemsOf(needs), nil)
	if err != nil {
		return nil, err
	}
	out := map[plan.Subject][]Takes{}
	for _, n := range needs {
		for _, u := range shelf.AsKept([]stage.Use{n.Use}, productsOf(at.known)) {
			t := Takes{Step: u.Step, Item: u.Item, Amount: u.Amount, Unit: u.Unit}
			t.Left, t.Known = at.left(u)
			out[n.Of] = append(out[n.Of], t)
		}
	}
	return out, nil
}

func (s *Server) shopping(ctx context.Context, once bool) (Shopping, error) {
	workshop := account(ctx).Workshop
	of, err := s.planned(ctx, workshop)
	if err != nil {
		return Shopping{}, err
	}
	needs := of.needs()
	at, err := s.shelved(ctx, of.scene.Shop, workshop, itemsOf(needs), needs)
	if err != nil {
		return Shopping{}, err
	}
	out := Shopping{Lines: []ToBuy{}, Now: s.Clock(), Items: []Taking{}}
	if out.Wood, err = s.woodToBuy(ctx, of, once); err != nil {
		return out, err
	}
	for _, l := range out.Wood {
		out.Cents += l.Cents
	}
	for _, b := range at.buys {
		if b.Kind == stage.Wood {
			continue // which is bought by its volume
		}
		line := ToBuy{Buy: b, For: []string{}}
		if b.Product >= 0 {
			line.ID, line.Name = at.known[b.Product].ID, at.known[b.Product].Doc.Name
		}
		for _, n := range needs {
			if n.Kind == b.Kind && slices.Contains(shelf.Items(n.Use), b.Item) && n.Unit == b.Unit &&
				!slices.Contains(line.For, n.name) {
				line.For = append(line.For, n.name)
			}
		}
		out.Lines, out.Cents = append(out.Lines, line), out.Cents+b.Cents
	}
	for _, n := range needs {
		for _, item := range shelf.Items(n.Use) {
			if i := (Taking{n.Kind, item, n.Unit}); n.Kind != stage.Wood && !slices.Contains(out.Items, i) {
				out.Items = append(out.Items, i)
			}
		}
	}
	slices.SortFunc(out.Items, func(a, b Taking) int {
		return cmp.Or(cmp.Compare(a.Kind, b.Kind), cmp.Compare(a.Item, b.Item))
	})
	return out, nil
}

// counted are all products with what is left of them now as their count.
func (s *Server) counted(ctx context.Context) ([]shelf.Product, error) {
	workshop := account(ctx).Workshop
	all, _, err := s.Store.Products(ctx, workshop, store.OnShelf{}, mostListed, 0)
	if err != nil {
		return nil, err
	}
	lines, err := s.standing(ctx, workshop, all)
	out := make([]shelf.Product, len(lines))
	for i, l := range lines {
		out[i] = l.Product
		out[i].Count, out[i].Moves = l.Stands.Left, nil
	}
	return out, err
}

// takeProducts puts what was read from a table on the shelf, all or none.
func (s *Server) takeProducts(ctx context.Context, in *struct {
	Body struct {
		Products []shelf.Product `json:"products" minItems:"1" maxItems:"5000"`
	}
}) (*struct{}, error) {
	workshop := account(ctx).Workshop
	if _, yes, err := s.Store.Repeated(ctx, workshop); err != nil || yes {
		return nil, answer(err)
	}
	for i, p := range in.Body.Products {
		if ps := p.Check(fmt.Sprintf("body.products[%d]", i)); len(ps) > 0 {
			return nil, answer(ps)
		}
	}
	_, err := s.Store.Shelf().New(ctx, workshop, in.Body.Products)
	return nil, answer(err)
}

func (s *Server) newProduct(ctx context.Context, in *struct{ Body shelf.Product }) (*productOut, error) {
	workshop := account(ctx).Workshop
	ids, yes, err := s.Store.Repeated(ctx, workshop)
	if err != nil {
		return nil, answer(err)
	}
	if !yes {
		if ps := in.Body.Check("body"); len(ps) > 0 {
			return nil, answer(ps)
		}
		if ids, err = s.Store.Shelf().New(ctx, workshop, []shelf.Product{in.Body}); err != nil {
			return nil, answer(err)
		}
	}
	return s.product(ctx, ids[0])
}

func (s *Server) product(ctx context.Context, id string) (*productOut, error) {
	workshop := account(ctx).Workshop
	p, err := s.Store.Shelf().Get(ctx, workshop, id)
	if err != nil {
		return nil, answer(err)
	}
	lines, err := s.standing(ctx, workshop, []store.Product{p})
	if err != nil {
		return nil, answer(err)
	}
	return &productOut{lines[0]}, nil
}

func (s *Server) saveProduct(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		Version int           `json:"version"`
		Product shelf.Product `json:"product"`
	}
}) (*productOut, error) {
	if ps := in.Body.Product.Check("body.product"); len(ps) > 0 {
		return nil, answer(ps)
	}
	err := s.Store.Shelf().Save(ctx, account(ctx).Workshop,
		store.Product{ID: in.ID, Doc: in.Body.Product, Version: in.Body.Version})
	if err != nil {
		return nil, conflict(err, in.Body.Product)
	}
	return s.product(ctx, in.ID)
}
