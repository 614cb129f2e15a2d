package server

import (
	"context"
	"fmt"
	"slices"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/money"
	"idletimber/craft/reckon"
	"idletimber/craft/shelf"
	"idletimber/craft/stage"
	"idletimber/craft/tool"
)

// BoardPrice is what a board costs, and what is asked for it.
type BoardPrice struct {
	money.Price
	Uses []shelf.Line `json:"uses" doc:"What its steps take, with what that costs"`
	Gift bool         `json:"gift" doc:"It is not sold: what it cost is all that matters"`
}

// RunPrice is what the boards of a run cost together.
type RunPrice struct {
	Boards []PricedBoard  `json:"boards"`
	Lines  []craft.Figure `json:"lines" doc:"Sums over its boards"`
	Cost   int            `json:"cost" doc:"Cents"`
	Price  int            `json:"price" doc:"Of those for a customer, cents"`
	Gifts  int            `json:"gifts" doc:"What those that are given away cost, cents"`
}

// PricedBoard is a board of a run with what it costs.
type PricedBoard struct {
	ID    string `json:"id"`
	Name  string `json:"name"`
	For   string `json:"for"`
	Gift  bool   `json:"gift"`
	Cost  int    `json:"cost" doc:"Cents"`
	Price int    `json:"price" doc:"Cents; 0 for a gift"`
}

// Compared is one thing that is made otherwise, way by way.
type Compared struct {
	What string `json:"what" doc:"What is made otherwise"`
	Ways []Way  `json:"ways" doc:"The one that is chosen first"`
}

// Way is one way to make it.
type Way struct {
	Name    string      `json:"name"`
	Chosen  bool        `json:"chosen,omitempty" doc:"As the board is"`
	Cost    int         `json:"cost" doc:"Of the whole board, cents"`
	Minutes float64     `json:"minutes" doc:"Hands-on, of the whole board"`
	Stops   int         `json:"stops" doc:"Checks that come out as a stop"`
	Patch   craft.Patch `json:"patch" doc:"Makes the board so"`
}

func (s *Server) moneyRoutes(api huma.API) {
	huma.Get(api, "/api/boards/{id}/price", func(ctx context.Context, in *idIn) (*struct{ Body BoardPrice }, error) {
		b, j, r, err := s.reckoned(ctx, in.ID, reckon.Request{})
		if err != nil {
			return nil, err
		}
		out, err := s.priceOf(ctx, account(ctx).Workshop, j, b.Board, r)
		return &struct{ Body BoardPrice }{out}, answer(err)
	})
	huma.Get(api, "/api/boards/{id}/compare", s.compareWays)
	huma.Get(api, "/api/runs/{id}/price", s.runPrice)
	huma.Get(api, "/api/prices/wood", s.woodPrices)
	huma.Get(api, "/api/money/months", s.months)
}

// costsOf is what goes into a board: its share of the wood, and of the work on the panel that it is cut from; what its
// steps take at the shelf's prices, work that was bought in, and its hours, the log's once they are done. One that came
// back costs what restoring it takes.
func costsOf(
	b reckon.Board, r reckon.Reckoning, rates money.Rates, known []shelf.Product,
) (money.Costs, []shelf.Line) {
	of := r.Boards[0]
	c := money.Costs{Hours: of.Course.InAll() / 60}
	if b.Returned == nil {
		c.Wood = money.Round(of.Figure("layout.price"))
		if course, ok := CourseOf(*r.Slab); ok {
			_, supplies := shelf.Bill(suppliesOf(*r.Slab), known)
			c.Made = money.Round(of.Share * (float64(supplies) + course.InAll()/60*float64(rates.Hour)))
		}
	}
	lines, sum := shelf.Bill(doingOf(of).uses, known)
	c.Supplies = sum
	for _, extra := range b.Give.Extras {
		c.Bought += extra.Cents
	}
	return c, lines
}

// priceOf reckons what a board costs, and what is asked for it.
func (s *Server) priceOf(
	ctx context.Context, workshop string, j reckon.Scene, b reckon.Board, r reckon.Reckoning,
) (BoardPrice, error) {
	items := itemsOfUses(append(doingOf(r.Boards[0]).uses, suppliesOf(*r.Slab)...))
	known, err := s.Store.Serving(ctx, workshop, items)
	if err != nil {
		return BoardPrice{}, err
	}
	out := BoardPrice{Gift: b.Give.Whom != board.Customer}
	rates := j.Shop.Rates()
	c, lines := costsOf(b, r, rates, productsOf(known))
	out.Uses, out.Price = lines, rates.Of(c)
	return out, nil
}

// suppliesOf is what making a panel or a river takes from the shelf; its wood is in its own price.
func suppliesOf(w reckon.Wood) []stage.Use {
	return slices.DeleteFunc(slices.Clone(madeBy(w).uses), func(u stage.Use) bool { return u.Kind == stage.Wood })
}

// itemsOfUses are the items by which the shelf may know what uses take.
func itemsOfUses(uses []stage.Use) []string {
	var out []string
	for _, u := range uses {
		out = append(out, shelf.Items(u)...)
	}
	return out
}

// runPrice adds up what the boards of a run cost. What a set-up for several saves is off their hours already: they
// are dated together.
func (s *Server) runPrice(ctx context.Context, in *idIn) (*struct{ Body RunPrice }, error) {
	workshop := account(ctx).Workshop
	sheet, err := s.runSheet(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	out := RunPrice{Boards: []PricedBoard{}}
	sums := map[string]float64{}
	var labels []craft.Figure
	for _, b := range sheet.Body.Boards {
		doc, j, r, err := s.reckoned(ctx, b.ID, reckon.Request{})
		if err != nil {
			return nil, err
		}
		p, err := s.priceOf(ctx, workshop, j, doc.Board, r)
		if err != nil {
			return nil, answer(err)
		}
		line := PricedBoard{ID: b.ID, Name: b.Name, For: b.For, Gift: p.Gift, Cost: p.Price.Cost}
		if p.Gift {
			out.Gifts += p.Price.Cost
		} else {
			line.Price = p.Price.Price
			out.Price += line.Price
		}
		out.Cost += p.Price.Cost
		out.Boards = append(out.Boards, line)
		for _, l := range p.Lines {
			if l.Key == "money.cost" {
				break
			}
			if _, ok := sums[l.Key]; !ok {
				labels = append(labels, l)
			}
			sums[l.Key] += l.Value
		}
	}
	for _, l := range labels {
		out.Lines = append(out.Lines, craft.Figure{
			Key: l.Key, Stage: craft.Give, Label: l.Label, Value: sums[l.Key], Unit: craft.Cents,
			Formula: "the sum over its boards; a set-up for several counts once", Terms: []craft.Term{
				{Name: "boards", Value: float64(len(out.Boards)), Unit: craft.Count},
			}, Source: "the boards' own prices",
		})
	}
	out.Lines = append(out.Lines, craft.Figure{
		Key: "money.cost", Stage: craft.Give, Label: "Costs", Value: float64(out.Cost), Unit: craft.Cents,
		Formula: "the sum of the lines", Terms: []craft.Term{}, Source: "the boards' own prices",
	})
	return &struct{ Body RunPrice }{out}, nil
}

// variant is a board made otherwise.
type variant struct {
	name   string
	patch  craft.Patch
	chosen bool
}

// variants are the ways that are laid side by side, by what is made otherwise.
func variants(j reckon.Scene, r reckon.Reckoned) (out []struct {
	what string
	ways []variant
}) {
	b := j.Boards[0]
	group := func(what string, ways []variant) {
		if len(ways) > 1 {
			out = append(out, struct {
				what string
				ways []variant
			}{what, ways})
		}
	}
	var ways []variant
	for _, school := range finish.Schools {
		ways = append(ways, variant{
			school.Name, craft.Patch{"finish": map[string]any{"school": school.Name, "list": nil, "name": nil}},
			len(b.Finish.List) == 0 && b.Finish.School == school.Name,
		})
	}
	group("Finish", ways)
	if r.Finish.Paste != nil {
		ways = nil
		for _, ratio := range []float64{2, 3, 4} {
			ways = append(ways, variant{
				fmt.Sprintf(
					"%g parts of oil to 1 of wax",
					ratio,
				), craft.Patch{"finish": map[string]any{"ratio": ratio}},
				b.Finish.Ratio == ratio,
			})
		}
		group("Oil to wax", ways)
	}
	if r.Mix != nil {
		ways = nil
		for _, kind := range fill.Kinds() {
			ways = append(
				ways,
				variant{kind, craft.Patch{"fill": map[string]any{"resin": kind}}, b.Fill.Resin == kind},
			)
		}
		group("Resin", ways)
	}
	ways = nil
	for _, saw := range []string{tool.BandSaw, tool.TableSaw, tool.Jigsaw, tool.TrackSaw} {
		if _, ok := j.Shop.Fits(saw, tool.Piece{}); ok {
			ways = append(ways, variant{saw, craft.Patch{"cut": map[string]any{"saw": saw}}, b.Cut.Saw == saw})
		}
	}
	group("Saw", ways)
	if t := b.Design.Thickness; t > 0 {
		ways = nil
		for _, by := range []float64{-4, -2, 0, 2, 4} {
			if t+by < 8 || r.Budget.Most > 0 && t+by > r.Budget.Most {
				continue
			}
			ways = append(ways, variant{
				craft.Length(t + by), craft.Patch{"design": map[string]any{"thickness": t + by}}, by == 0,
			})
		}
		group("Thickness", ways)
	}
	return out
}

// compareWays reckons the board made otherwise in every way that has a price.
func (s *Server) compareWays(ctx context.Context, in *idIn) (*struct{ Body []Compared }, error) {
	workshop := account(ctx).Workshop
	_, j, r, err := s.reckoned(ctx, in.ID, reckon.Request{})
	if err != nil {
		return nil, err
	}
	was := j.Boards[0]
	out := []Compared{}
	for _, g := range variants(j, r.Boards[0]) {
		c := Compared{What: g.what, Ways: []Way{}}
		for _, v := range g.ways {
			next := was
			if v.patch.Apply(&next) != nil || len(next.Check("board")) > 0 {
				continue
			}
			j.Boards[0] = next
			of, err := reckon.Reckon(j, reckon.Request{})
			if err != nil {
				return nil, answer(err)
			}
			p, err := s.priceOf(ctx, workshop, j, next, of)
			if err != nil {
				return nil, answer(err)
			}
			w := Way{
				Name:    v.name,
				Chosen:  v.chosen,
				Cost:    p.Price.Cost,
				Minutes: of.Boards[0].Course.InAll(),
				Patch:   v.patch,
			}
			for _, verdict := range of.Boards[0].Verdicts {
				if verdict.Level == craft.Stop {
					w.Stops++
				}
			}
			c.Ways = append(c.Ways, w)
		}
		out = append(out, c)
	}
	return &struct{ Body []Compared }{out}, nil
}
