package server

import (
	"cmp"
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/sse"

	"idletimber/craft/practice"
	"idletimber/craft/reckon"
	"idletimber/craft/rescue"
)

// PracticeSheet is a made-up board on which something went wrong, to be solved.
type PracticeSheet struct {
	Hurt
	practice.Case
	Mishap rescue.Kind `json:"mishap" doc:"What went wrong"`
	Whom   string      `json:"whom" enum:"own,gift,customer" doc:"Who judges it"`
	Due    string      `json:"due" doc:"Its day, YYYY-MM-DD"`
	Thick  float64     `json:"thick" doc:"As it is drawn, mm"`
}

type practiceIn struct {
	Key string `path:"key"`
}

// practiceRoutes serve what is there to learn from; nothing of it is kept.
func (s *Server) practiceRoutes(api huma.API) {
	huma.Get(api, "/api/practice", func(context.Context, *struct{}) (*struct{ Body []practice.Case }, error) {
		return &struct{ Body []practice.Case }{practice.Cases()}, nil
	})
	huma.Get(api, "/api/practice/{key}", s.practiceSheet)
	huma.Get(api, "/api/practice/{key}/answer", func(_ context.Context, in *struct {
		Key string `path:"key"`
		Way string `query:"way" maxLength:"100" doc:"Key of the way that is chosen"`
	}) (*struct{ Body practice.Answer }, error) {
		c, ok := practice.Of(in.Key)
		if !ok {
			return nil, noSuchCase()
		}
		return &struct{ Body practice.Answer }{c.Answer(in.Way)}, nil
	})
	sse.Register(
		api,
		huma.Operation{
			OperationID: "practice-ways", Method: http.MethodGet, Path: "/api/practice/{key}/ways",
			Summary: "Ways out of a made-up mishap, as they are found",
		},
		wayEvents,
		func(ctx context.Context, in *practiceIn, send sse.Sender) {
			s.streamWays(
				ctx,
				"practice "+in.Key,
				send,
				func(ctx context.Context) (reckon.Scene, reckon.Rescuing, error) {
					c, ok := practice.Of(in.Key)
					if !ok {
						return reckon.Scene{}, reckon.Rescuing{}, noSuchCase()
					}
					j, err := c.Scene(s.Clock())
					j.Watch = watching(ctx)
					return j, reckon.Rescuing{Mishap: practice.Mishap}, err
				},
			)
		},
	)
}

func noSuchCase() error { return huma.Error404NotFound("there is no such board to practise on") }

func (s *Server) practiceSheet(_ context.Context, in *practiceIn) (*struct{ Body PracticeSheet }, error) {
	c, ok := practice.Of(in.Key)
	if !ok {
		return nil, noSuchCase()
	}
	j, err := c.Scene(s.Clock())
	if err != nil {
		return nil, answer(err)
	}
	r, err := reckon.Reckon(j, reckon.Request{})
	if err != nil {
		return nil, answer(err)
	}
	b := j.Boards[0]
	kind, _ := rescue.KindOf(c.Kind)
	return &struct{ Body PracticeSheet }{PracticeSheet{
		Hurt: hurtOf(b, r), Case: c, Mishap: kind, Whom: cmp.Or(b.Give.Whom, "gift"), Due: b.Give.Due,
		Thick: r.Boards[0].Budget.Sanded,
	}}, nil
}
