package server

import (
	"context"
	"slices"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/money"
	"idletimber/craft/reckon"
	"idletimber/craft/shelf"
	"idletimber/craft/stage"
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
	Ways []Way  `json:"ways"`
}

// Way is one way to make it.
type Way struct {
	Name    string      `json:"name"`
	Chosen  bool        `json:"chosen,omitempty" doc:"As the board is"`
	Cost    int         `json:"cost" doc:"Of the whole board, cents"`
	Minutes float64     `json:"minutes" doc:"Hands-on, of the whole board"`
	More    int         `json:"more" doc:"Than the board as it is, cents; less than nothing where it costs less"`
	Stops   bool        `json:"stops" doc:"It brings a stop"`
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

// compareWays reckons the board made otherwise in every way that has a price.
func (s *Server) compareWays(ctx context.Context, in *idIn) (*struct{ Body []Compared }, error) {
	workshop := account(ctx).Workshop
	_, j, r, err := s.reckoned(ctx, in.ID, reckon.Request{})
	if err != nil {
		return nil, err
	}
	was := j.Boards[0]
	own, err := s.priceOf(ctx, workshop, j, was, r)
	if err != nil {
		return nil, answer(err)
	}
	out := []Compared{}
	for _, g := range reckon.Ways(j, r.Boards[0]) {
		c := Compared{What: g.What, Ways: []Way{}}
		for _, w := range g.Ways {
			next, of, price := was, r, own
			if !w.Chosen {
				if w.Patch.Apply(&next) != nil || len(next.Check("board")) > 0 {
					continue
				}
				j.Boards[0] = next
				if of, err = reckon.Reckon(j, reckon.Request{}); err != nil {
					return nil, answer(err)
				}
				if price, err = s.priceOf(ctx, workshop, j, next, of); err != nil {
					return nil, answer(err)
				}
			}
			c.Ways = append(c.Ways, Way{
				Name: w.Name, Chosen: w.Chosen, Cost: price.Cost, More: price.Cost - own.Cost,
				Minutes: of.Boards[0].Course.InAll(), Stops: stops(of) > stops(r), Patch: w.Patch,
			})
		}
		out = append(out, c)
	}
	return &struct{ Body []Compared }{out}, nil
}

// stops counts the checks of a first board that come out as a stop.
func stops(r reckon.Reckoning) (n int) {
	for _, v := range r.Boards[0].Verdicts {
		if v.Level == craft.Stop {
			n++
		}
	}
	return n
}
