package server

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft"
	"idletimber/craft/aftercare"
	"idletimber/craft/giving"
	"idletimber/craft/reckon"
	"idletimber/craft/stage"
	"idletimber/formats"
	"idletimber/store"
)

// Triage is what one sign on a board comes to.
type Triage struct {
	aftercare.Sign
	Minutes float64     `json:"minutes" doc:"Hands-on, in the shop"`
	Ready   *time.Time  `json:"ready,omitempty" doc:"For food again; left out where no session holds it"`
	Days    int         `json:"days" doc:"Until then, begun ones counted; 0 where that is not known"`
	Uses    []stage.Use `json:"uses" doc:"What it takes from the shelf"`
	Cost    int         `json:"cost" doc:"Cents"`
	Price   int         `json:"price" doc:"For a customer, cents"`
}

func (s *Server) aftercareRoutes(api huma.API) {
	huma.Get(api, "/api/aftercare", s.givenAway)
	huma.Get(api, "/api/boards/{id}/triage", s.triage)
	huma.Post(api, "/api/boards/{id}/oiled", s.oiled)
	huma.Post(api, "/api/boards/{id}/return", s.takeBack)
}

func (s *Server) givenAway(ctx context.Context, in *struct {
	Page int `query:"page" minimum:"0" maximum:"100000"`
}) (*struct{ Body Page[store.GivenAway] }, error) {
	today, err := s.today(ctx)
	if err != nil {
		return nil, answer(err)
	}
	lines, total, err := s.Store.GivenAway(ctx, account(ctx).Workshop, today, pageSize, in.Page*pageSize)
	return &struct{ Body Page[store.GivenAway] }{Page[store.GivenAway]{Total: total, Items: lines}}, answer(err)
}

// oilings are the days on which boards that were given away are to be oiled, the nearest ones; what is overdue, today.
func (s *Server) oilings(ctx context.Context, workshop string, zone *time.Location) ([]formats.Day, error) {
	const most = 200
	today := s.Clock().In(zone)
	given, _, err := s.Store.GivenAway(ctx, workshop, today, most, 0)
	var out []formats.Day
	for _, b := range given {
		day, err := time.ParseInLocation(time.DateOnly, b.Next, zone)
		if err != nil {
			continue // it is not known how it was finished
		}
		if b.Late {
			day = today
		}
		out = append(
			out,
			formats.Day{
				ID:    "oil/" + b.ID,
				Title: "To be oiled: " + b.Name + ", with " + cmp.Or(b.For, "whoever has it"),
				At:    day,
			},
		)
	}
	return out, err
}

// triage reckons what each sign would come to, were it seen on the board.
func (s *Server) triage(ctx context.Context, in *idIn) (*struct{ Body []Triage }, error) {
	workshop := account(ctx).Workshop
	_, j, err := s.boardJob(ctx, in.ID, nil)
	if err != nil {
		return nil, answer(err)
	}
	out := []Triage{}
	b := j.Boards[0]
	for _, sign := range aftercare.Signs() {
		b.Returned = &aftercare.Return{At: j.Now, Sign: sign.Key}
		b.Give.Due = ""
		j.Boards[0] = b
		r, err := reckon.Reckon(j, reckon.Request{})
		if err != nil {
			return nil, answer(err)
		}
		of := r.Boards[0]
		price, err := s.priceOf(ctx, workshop, j, b, r)
		if err != nil {
			return nil, answer(err)
		}
		t := Triage{
			Sign: sign, Minutes: of.Course.HandsOn, Ready: of.Course.Finish, Uses: of.Shelf,
			Cost: price.Price.Cost, Price: price.Price.Price,
		}
		if t.Ready != nil {
			t.Days = int(math.Ceil(t.Ready.Sub(j.Now).Hours() / 24))
		}
		out = append(out, t)
	}
	return &struct{ Body []Triage }{out}, nil
}

// oiled notes that a board which was given away has been oiled.
func (s *Server) oiled(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		Day string `json:"day" doc:"YYYY-MM-DD; empty forgets it"`
	}
}) (*struct{}, error) {
	workshop := account(ctx).Workshop
	b, err := s.Store.Board(ctx, workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	c, err := s.Store.CareOf(ctx, workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	c.Oiled = nil
	if in.Body.Day != "" {
		day, err := time.Parse(time.DateOnly, in.Body.Day)
		if err != nil {
			return nil, answer(craft.Problems{{Field: "body.day", Wrong: fmt.Sprintf("%q is not a day", in.Body.Day),
				Right: "write it like 2031-06-21"}})
		}
		c.Oiled = &day
	}
	c.Next = giving.NextOiling(c.Every, c.Oiled, b.Given, nil)
	return nil, answer(s.Store.SetCare(ctx, c))
}

// give gives a board away, or takes that back. Given, it is oiled again after as many days as its finish asks for.
func (s *Server) give(ctx context.Context, id string, given bool) error {
	workshop := account(ctx).Workshop
	if !given {
		return answer(s.Store.SetGiven(ctx, workshop, id, nil))
	}
	_, _, r, err := s.reckoned(ctx, id, reckon.Request{})
	if err != nil {
		return err
	}
	c, err := s.Store.CareOf(ctx, workshop, id)
	if err != nil {
		return answer(err)
	}
	today, err := s.today(ctx)
	if err != nil {
		return answer(err)
	}
	c.Every, c.Oiled = r.Boards[0].Gift.Every, nil
	c.Next = giving.NextOiling(c.Every, nil, &today, nil)
	if err := s.Store.SetCare(ctx, c); err != nil {
		return answer(err)
	}
	return answer(s.Store.SetGiven(ctx, workshop, id, &today))
}

// takeBack makes a board that has come back one that is worked on again, by what is seen on it.
func (s *Server) takeBack(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		Sign string `json:"sign" doc:"Key of what is seen on it"`
		Due  string `json:"due,omitempty" doc:"Day on which it must be ready again, YYYY-MM-DD; empty without a date"`
	}
}) (*struct{}, error) {
	workshop := account(ctx).Workshop
	b, err := s.Store.Board(ctx, workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	b.Board.Returned = &aftercare.Return{At: s.Clock(), Sign: in.Body.Sign}
	b.Board.Give.Due, b.Board.Locked = in.Body.Due, true
	if ps := b.Board.Check("body"); len(ps) > 0 {
		for i := range ps { // as it was asked
			if ps[i].Field == "body.returned.sign" {
				ps[i].Field = "body.sign"
			}
			if ps[i].Field == "body.give.due" {
				ps[i].Field = "body.due"
			}
		}
		return nil, answer(ps)
	}
	return nil, answer(s.Store.TakeBack(ctx, workshop, b.Stored()))
}
