package server

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft/giving"
	"idletimber/store"
)

// PersonDoc is somebody whom boards are for.
type PersonDoc struct {
	ID      string        `json:"id"`
	Version int           `json:"version"`
	Person  giving.Person `json:"person"`
	Boards  []PersonBoard `json:"boards" doc:"That are for them, the newest day first"`
	Next    *ComingDay    `json:"next,omitempty" doc:"The next of their days"`
	Binned  bool          `json:"binned,omitempty" doc:"They were put away"`
}

// PersonBoard is a board that is for somebody.
type PersonBoard struct {
	ID    string     `json:"id"`
	Name  string     `json:"name"`
	Due   string     `json:"due,omitempty" doc:"YYYY-MM-DD"`
	Given *time.Time `json:"given,omitempty" doc:"When it was given away"`
}

// ComingDay is a day that comes back.
type ComingDay struct {
	Person string `json:"person" doc:"Id of whose day it is"`
	Who    string `json:"who" doc:"Name of whose day it is"`
	Name   string `json:"name" doc:"What it is"`
	Day    string `json:"day" doc:"As it comes next, YYYY-MM-DD"`
	Days   int    `json:"days" doc:"Until then"`
	Board  bool   `json:"board" doc:"A board is for it already"`
}

// OccasionDoc is a day on which several people get a board.
type OccasionDoc struct {
	ID       string          `json:"id"`
	Version  int             `json:"version"`
	Occasion giving.Occasion `json:"occasion"`
	Next     string          `json:"next" doc:"The day as it comes next, YYYY-MM-DD"`
	Days     int             `json:"days" doc:"Until then; negative once it is over"`
	Guests   []Guest         `json:"guests" doc:"Who get one"`
	None     int             `json:"none" doc:"How many have none yet"`
	Binned   bool            `json:"binned,omitempty" doc:"It was put away"`
}

// Guest is somebody on the list of an occasion.
type Guest struct {
	ID     string        `json:"id"`
	Name   string        `json:"name"`
	Boards []PersonBoard `json:"boards" doc:"That are for it; none yet where it is empty"`
}

type personOut struct{ Body PersonDoc }

type occasionOut struct{ Body OccasionDoc }

type peopleIn struct {
	Words string `query:"q" maxLength:"200" doc:"In the name, or in what they like"`
	Bin   bool   `query:"bin" doc:"Who was put away"`
	Page  int    `query:"page" minimum:"0" maximum:"100000"`
}

func (s *Server) peopleRoutes(api huma.API) {
	huma.Get(api, "/api/people", s.listPeople)
	huma.Post(api, "/api/people", s.newPerson)
	huma.Get(api, "/api/people/{id}", func(ctx context.Context, in *idIn) (*personOut, error) {
		return s.person(ctx, in.ID)
	})
	huma.Put(api, "/api/people/{id}", s.savePerson, mayConflict[giving.Person](api))
	huma.Get(api, "/api/days", s.comingDays)
	huma.Get(api, "/api/occasions", s.listOccasions)
	huma.Post(api, "/api/occasions", s.newOccasion)
	huma.Get(api, "/api/occasions/{id}", func(ctx context.Context, in *idIn) (*occasionOut, error) {
		return s.occasion(ctx, in.ID)
	})
	huma.Put(api, "/api/occasions/{id}", s.saveOccasion, mayConflict[giving.Occasion](api))
	for path, bin := range map[string]func(ctx context.Context, workshop, id string, bin bool) error{
		"/api/people/{id}": func(ctx context.Context, workshop, id string, bin bool) error {
			return s.Store.People().Bin(ctx, workshop, id, bin)
		},
		"/api/occasions/{id}": func(ctx context.Context, workshop, id string, bin bool) error {
			return s.Store.Occasions().Bin(ctx, workshop, id, bin)
		},
	} {
		huma.Delete(api, path, func(ctx context.Context, in *idIn) (*struct{}, error) {
			return nil, answer(bin(ctx, account(ctx).Workshop, in.ID, true))
		})
		huma.Post(api, path+"/restore", func(ctx context.Context, in *idIn) (*struct{}, error) {
			return nil, answer(bin(ctx, account(ctx).Workshop, in.ID, false))
		})
	}
}

// today is the day of a workshop, in its zone.
func (s *Server) today(ctx context.Context) (time.Time, error) {
	zone, err := s.zoneOf(ctx)
	if err != nil {
		return time.Time{}, err
	}
	return s.Clock().In(zone), nil
}

func (s *Server) listPeople(ctx context.Context, in *peopleIn) (*struct{ Body Page[PersonDoc] }, error) {
	workshop := account(ctx).Workshop
	found, total, err := s.Store.People().Named(ctx, workshop, in.Words, in.Bin, pageSize, in.Page*pageSize)
	if err != nil {
		return nil, answer(err)
	}
	lines, err := s.peopleWith(ctx, found)
	return &struct{ Body Page[PersonDoc] }{Page[PersonDoc]{Total: total, Items: lines}}, answer(err)
}

// peopleWith are people with what is for them.
func (s *Server) peopleWith(ctx context.Context, people []store.Kept[giving.Person]) ([]PersonDoc, error) {
	today, err := s.today(ctx)
	if err != nil {
		return nil, err
	}
	gifts, err := s.Store.Gifts(ctx, account(ctx).Workshop, people)
	if err != nil {
		return nil, err
	}
	out := []PersonDoc{}
	for _, p := range people {
		boards := boardsFor(p, gifts, nil)
		doc := PersonDoc{ID: p.ID, Version: p.Version, Person: p.Doc, Boards: boards, Binned: p.Deleted != nil}
		for _, d := range comingOf(p, gifts, today) {
			if doc.Next == nil || d.Days < doc.Next.Days {
				doc.Next = &d
			}
		}
		out = append(out, doc)
	}
	return out, nil
}

// boardsFor are the boards that are for a person, for a day where one is given.
func boardsFor(p store.Kept[giving.Person], gifts []store.Gift, day *time.Time) []PersonBoard {
	out := []PersonBoard{}
	for _, g := range gifts {
		if g.Person == p.ID && (day == nil || giving.For(*day, g.Due, g.Given)) {
			out = append(out, PersonBoard{g.Board, g.Name, g.Due, g.Given})
		}
	}
	return out
}

// comingOf are the days of a person as they come next.
func comingOf(p store.Kept[giving.Person], gifts []store.Gift, today time.Time) (out []ComingDay) {
	for _, d := range p.Doc.Days {
		next, ok := d.Next(today)
		if !ok {
			continue
		}
		held := slices.ContainsFunc(gifts, func(g store.Gift) bool {
			return g.Person == p.ID && g.Due == next.Format(time.DateOnly)
		})
		out = append(out, ComingDay{p.ID, p.Doc.Name, d.Name, next.Format(time.DateOnly), daysTo(today, next), held})
	}
	return out
}

// daysTo counts the days from one to another, by the calendar.
func daysTo(from, to time.Time) int {
	noon := func(t time.Time) time.Time { return time.Date(t.Year(), t.Month(), t.Day(), 12, 0, 0, 0, time.UTC) }
	return int(noon(to).Sub(noon(from)).Hours() / 24)
}

// ahead is how far ahead days are told of.
const ahead = 120

func (s *Server) comingDays(ctx context.Context, _ *struct{}) (*struct{ Body []ComingDay }, error) {
	workshop := account(ctx).Workshop
	today, err := s.today(ctx)
	if err != nil {
		return nil, answer(err)
	}
	people, err := s.Store.WithDays(ctx, workshop)
	if err != nil {
		return nil, answer(err)
	}
	gifts, err := s.Store.Gifts(ctx, workshop, people)
	if err != nil {
		return nil, answer(err)
	}
	out := []ComingDay{}
	for _, p := range people {
		for _, d := range comingOf(p, gifts, today) {
			if d.Days <= ahead {
				out = append(out, d)
			}
		}
	}
	slices.SortStableFunc(out, func(a, b ComingDay) int { return cmp.Compare(a.Days, b.Days) })
	const most = 200
	return &struct{ Body []ComingDay }{out[:min(len(out), most)]}, nil
}

func (s *Server) newPerson(ctx context.Context, in *struct{ Body giving.Person }) (*personOut, error) {
	if ps := in.Body.Check("body"); len(ps) > 0 {
		return nil, answer(ps)
	}
	workshop := account(ctx).Workshop
	ids, yes, err := s.Store.Repeated(ctx, workshop)
	if err == nil && !yes {
		ids, err = s.Store.People().New(ctx, workshop, []giving.Person{in.Body})
	}
	if err != nil {
		return nil, answer(err)
	}
	return s.person(ctx, ids[0])
}

func (s *Server) person(ctx context.Context, id string) (*personOut, error) {
	p, err := s.Store.People().Get(ctx, account(ctx).Workshop, id)
	if err != nil {
		return nil, answer(err)
	}
	lines, err := s.peopleWith(ctx, []store.Kept[giving.Person]{p})
	if err != nil {
		return nil, answer(err)
	}
	return &personOut{lines[0]}, nil
}

func (s *Server) savePerson(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		Version int           `json:"version"`
		Person  giving.Person `json:"person"`
	}
}) (*personOut, error) {
	if ps := in.Body.Person.Check("body.person"); len(ps) > 0 {
		return nil, answer(ps)
	}
	err := s.Store.People().Save(ctx, account(ctx).Workshop,
		store.Kept[giving.Person]{ID: in.ID, Doc: in.Body.Person, Version: in.Body.Version})
	if err != nil {
		return nil, conflict(err, in.Body.Person)
	}
	return s.person(ctx, in.ID)
}

func (s *Server) listOccasions(ctx context.Context, in *peopleIn) (*struct{ Body Page[OccasionDoc] }, error) {
	found, total, err := s.Store.Occasions().Named(ctx, account(ctx).Workshop, in.Words, in.Bin, pageSize,
		in.Page*pageSize)
	if err != nil {
		return nil, answer(err)
	}
	today, err := s.today(ctx)
	if err != nil {
		return nil, answer(err)
	}
	out := []OccasionDoc{}
	for _, o := range found {
		doc, err := s.occasionWith(ctx, o, today)
		if err != nil {
			return nil, answer(err)
		}
		out = append(out, doc)
	}
	slices.SortStableFunc(out, func(a, b OccasionDoc) int { // what is over comes last
		return cmp.Or(cmp.Compare(min(a.Days, 0)*-1, min(b.Days, 0)*-1), cmp.Compare(a.Days, b.Days))
	})
	return &struct{ Body Page[OccasionDoc] }{Page[OccasionDoc]{Total: total, Items: out}}, nil
}

// occasionWith is an occasion with who has a board for it, and who has none.
func (s *Server) occasionWith(
	ctx context.Context, o store.Kept[giving.Occasion], today time.Time,
) (doc OccasionDoc, err error) {
	workshop := account(ctx).Workshop
	people, err := s.Store.People().Of(ctx, workshop, o.Doc.People)
	if err != nil {
		return doc, err
	}
	gifts, err := s.Store.Gifts(ctx, workshop, people)
	if err != nil {
		return doc, err
	}
	doc = OccasionDoc{ID: o.ID, Version: o.Version, Occasion: o.Doc, Guests: []Guest{}, Binned: o.Deleted != nil}
	next, ok := o.Doc.Next(today)
	if ok {
		doc.Next, doc.Days = next.Format(time.DateOnly), daysTo(today, next)
	}
	for _, p := range people {
		if p.Deleted != nil {
			continue // who was put away may come back
		}
		g := Guest{p.ID, p.Doc.Name, boardsFor(p, gifts, &next)}
		if len(g.Boards) == 0 {
			doc.None++
		}
		doc.Guests = append(doc.Guests, g)
	}
	return doc, nil
}

func (s *Server) newOccasion(ctx context.Context, in *struct{ Body giving.Occasion }) (*occasionOut, error) {
	if err := s.checkOccasion(ctx, "body", in.Body); err != nil {
		return nil, err
	}
	workshop := account(ctx).Workshop
	ids, yes, err := s.Store.Repeated(ctx, workshop)
	if err == nil && !yes {
		ids, err = s.Store.Occasions().New(ctx, workshop, []giving.Occasion{in.Body})
	}
	if err != nil {
		return nil, answer(err)
	}
	return s.occasion(ctx, ids[0])
}

// checkOccasion reports what is wrong with an occasion, and people that are none of the workshop's.
func (s *Server) checkOccasion(ctx context.Context, field string, o giving.Occasion) error {
	ps := o.Check(field)
	if len(ps) == 0 {
		known, err := s.Store.People().Of(ctx, account(ctx).Workshop, o.People)
		if err != nil {
			return answer(err)
		}
		named := map[string]bool{}
		for _, p := range known {
			named[p.ID] = true
		}
		for i, id := range o.People {
			if !named[id] {
				ps.Add(
					fmt.Sprintf("%s.people[%d]", field, i),
					"nobody has that id",
					"choose one of the workshop's people",
				)
			}
		}
	}
	if len(ps) > 0 {
		return answer(ps)
	}
	return nil
}

func (s *Server) occasion(ctx context.Context, id string) (*occasionOut, error) {
	o, err := s.Store.Occasions().Get(ctx, account(ctx).Workshop, id)
	if err != nil {
		return nil, answer(err)
	}
	today, err := s.today(ctx)
	if err != nil {
		return nil, answer(err)
	}
	doc, err := s.occasionWith(ctx, o, today)
	return &occasionOut{doc}, answer(err)
}

func (s *Server) saveOccasion(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		Version  int             `json:"version"`
		Occasion giving.Occasion `json:"occasion"`
	}
}) (*occasionOut, error) {
	if err := s.checkOccasion(ctx, "body.occasion", in.Body.Occasion); err != nil {
		return nil, err
	}
	err := s.Store.Occasions().Save(ctx, account(ctx).Workshop,
		store.Kept[giving.Occasion]{ID: in.ID, Doc: in.Body.Occasion, Version: in.Body.Version})
	if err != nil {
		return nil, conflict(err, in.Body.Occasion)
	}
	return s.occasion(ctx, in.ID)
}
