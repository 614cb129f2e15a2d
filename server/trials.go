package server

import (
	"context"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft/trial"
	"idletimber/formats"
	"idletimber/store"
)

// TrialListed is a trial in the list.
type TrialListed struct {
	ID       string    `json:"id"`
	Name     string    `json:"name"`
	Question string    `json:"question"`
	At       time.Time `json:"at" doc:"Of its first round, or when it was begun"`
	Rounds   int       `json:"rounds"`
	Over     bool      `json:"over"`
	Says     string    `json:"says" doc:"What it says so far; empty where nothing yet"`
}

// TrialDoc is a trial with what it has come to.
type TrialDoc struct {
	ID      string          `json:"id"`
	Version int             `json:"version"`
	Trial   trial.Trial     `json:"trial"`
	Result  trial.Result    `json:"result"`
	Ways    []trial.WayTold `json:"ways" doc:"Two ways of making, by the minutes of their boards"`
	Told    []string        `json:"told" doc:"What those say, in words"`
	Plank   string          `json:"plank" doc:"Name of the piece that the samples are cut from"`
}

type trialOut struct{ Body TrialDoc }

func (s *Server) trialRoutes(api huma.API) {
	huma.Get(api, "/api/trials", s.listTrials)
	huma.Post(api, "/api/trials", func(ctx context.Context, in *struct{ Body trial.Trial }) (*trialOut, error) {
		workshop := account(ctx).Workshop
		if ids, yes, err := s.Store.Repeated(ctx, workshop); err != nil {
			return nil, answer(err)
		} else if yes {
			return s.trial(ctx, ids[0])
		}
		if ps := in.Body.Check("body"); len(ps) > 0 {
			return nil, answer(ps)
		}
		id, err := s.Store.NewTrial(ctx, workshop, in.Body)
		if err != nil {
			return nil, answer(err)
		}
		return s.trial(ctx, id)
	})
	huma.Get(api, "/api/trials/{id}", func(ctx context.Context, in *idIn) (*trialOut, error) {
		return s.trial(ctx, in.ID)
	})
	huma.Put(api, "/api/trials/{id}", s.saveTrial, mayConflict[trial.Trial](api))
	huma.Post(api, "/api/trials/{id}/draft", func(ctx context.Context, in *struct {
		ID   string `path:"id"`
		Body trial.Trial
	}) (*trialOut, error) {
		t, err := s.Store.Trial(ctx, account(ctx).Workshop, in.ID)
		if err != nil {
			return nil, answer(err)
		}
		if ps := in.Body.Check("body"); len(ps) > 0 {
			return nil, answer(ps)
		}
		t.Trial = in.Body
		return s.told(ctx, t)
	})
	huma.Delete(api, "/api/trials/{id}", func(ctx context.Context, in *idIn) (*struct{}, error) {
		return nil, answer(s.Store.BinTrial(ctx, account(ctx).Workshop, in.ID, true))
	})
	huma.Post(api, "/api/trials/{id}/restore", func(ctx context.Context, in *idIn) (*struct{}, error) {
		return nil, answer(s.Store.BinTrial(ctx, account(ctx).Workshop, in.ID, false))
	})
	huma.Get(api, "/api/trials/{id}/scores.csv", func(ctx context.Context, in *idIn) (*file, error) {
		t, err := s.Store.Trial(ctx, account(ctx).Workshop, in.ID)
		if err != nil {
			return nil, answer(err)
		}
		zone, err := s.zoneOf(ctx)
		if err != nil {
			return nil, answer(err)
		}
		data, err := formats.TrialCSV(t.Trial, zone)
		return download("text/csv; charset=utf-8", t.Trial.Name, "csv", data), err
	}, rawAnswer("text/csv; charset=utf-8"))
}

// zoneOf is the time zone of the workshop.
func (s *Server) zoneOf(ctx context.Context) (*time.Location, error) {
	at, _, err := s.Store.Shop(ctx, account(ctx).Workshop)
	if err != nil {
		return nil, err
	}
	return at.Zone()
}

func (s *Server) listTrials(ctx context.Context, _ *struct{}) (*struct{ Body []TrialListed }, error) {
	all, err := s.Store.Trials(ctx, account(ctx).Workshop)
	if err != nil {
		return nil, answer(err)
	}
	at, _, err := s.Store.Shop(ctx, account(ctx).Workshop)
	if err != nil {
		return nil, answer(err)
	}
	out := &struct{ Body []TrialListed }{[]TrialListed{}}
	for _, t := range all {
		line := TrialListed{
			ID: t.ID, Name: t.Trial.Name, Question: t.Trial.Question, At: t.At, Rounds: len(t.Trial.Rounds),
			Over: t.Trial.Over,
		}
		line.Says = t.Trial.Result(at.Prices).Gist
		if len(t.Trial.Rounds) > 0 {
			line.At = t.Trial.Rounds[0].At
		}
		out.Body = append(out.Body, line)
	}
	return out, nil
}

func (s *Server) saveTrial(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		Version int         `json:"version"`
		Trial   trial.Trial `json:"trial"`
	}
}) (*trialOut, error) {
	if ps := in.Body.Trial.Check("trial"); len(ps) > 0 {
		return nil, answer(ps)
	}
	workshop := account(ctx).Workshop
	if _, yes, err := s.Store.Repeated(ctx, workshop); err != nil {
		return nil, answer(err)
	} else if yes {
		return s.trial(ctx, in.ID)
	}
	if err := s.Store.SaveTrial(ctx, workshop, in.ID, in.Body.Trial, in.Body.Version); err != nil {
		return nil, conflict(err, in.Body.Trial)
	}
	return s.trial(ctx, in.ID)
}

// trial is a stored trial with what it has come to.
func (s *Server) trial(ctx context.Context, id string) (*trialOut, error) {
	t, err := s.Store.Trial(ctx, account(ctx).Workshop, id)
	if err != nil {
		return nil, answer(err)
	}
	return s.told(ctx, t)
}

// told reckons what a trial has come to.
func (s *Server) told(ctx context.Context, t store.Trial) (*trialOut, error) {
	workshop := account(ctx).Workshop
	at, _, err := s.Store.Shop(ctx, workshop)
	if err != nil {
		return nil, answer(err)
	}
	out := &trialOut{TrialDoc{ID: t.ID, Version: t.Version, Trial: t.Trial, Result: t.Trial.Result(at.Prices)}}
	var boards []string
	for _, w := range t.Trial.Ways {
		boards = append(boards, w.Boards...)
	}
	spent, err := s.Store.Spent(ctx, workshop, boards)
	if err != nil {
		return nil, answer(err)
	}
	out.Body.Ways, out.Body.Told = t.Trial.Told(spent)
	if t.Trial.Plank != "" {
		if p, err := s.Store.Piece(ctx, workshop, t.Trial.Plank); err == nil {
			out.Body.Plank = p.Slab.Name
		}
	}
	return out, nil
}
