package server

import (
	"context"
	"fmt"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft/plan"
	"idletimber/formats"
	"idletimber/store"
)

// LogLine is one line of the logbook.
type LogLine struct {
	ID      int64        `json:"id"`
	Subject plan.Subject `json:"subject" doc:"What it was done on"`
	Name    string       `json:"name" doc:"Of the subject"`
	For     string       `json:"for,omitempty" doc:"Who gets the board"`
	Run     string       `json:"run,omitempty" doc:"Name of its run"`
	Title   string       `json:"title"`
	Kind    plan.Kind    `json:"kind"`
	Event   string       `json:"event"`
	At      time.Time    `json:"at"`
	Minutes float64      `json:"minutes"`
	Usual   float64      `json:"usual"`
	Said    string       `json:"said,omitempty" doc:"What was written down, told in words"`
	Words   string       `json:"words,omitempty" doc:"The maker's own"`
	Picture string       `json:"picture,omitempty" doc:"Id of one"`
}

// Logbook is a page of the log.
type Logbook struct {
	Lines []LogLine `json:"lines"`
	More  bool      `json:"more" doc:"There is another page"`
}

// logIn is what of the log is looked for.
type logIn struct {
	Board string `query:"board" doc:"Id of a board or a panel"`
	Run   string `query:"run" doc:"Id"`
	Kind  string `query:"kind" maxLength:"40" doc:"Of work"`
	Who   string `query:"who" maxLength:"200" doc:"A part of the name of who gets it"`
	Text  string `query:"text" maxLength:"200" doc:"A part of the name, the step or the words"`
	Notes bool   `query:"notes" doc:"Only what was written down"`
	From  string `query:"from" doc:"First day, YYYY-MM-DD"`
	To    string `query:"to" doc:"Last day, YYYY-MM-DD"`
	Order string `query:"order" enum:"newest,oldest" default:"newest" doc:"Or as it happened"`
	Page  int    `query:"page" minimum:"0" maximum:"100000"`
}

// wished is what is asked for, by the days of a zone.
func (in *logIn) wished(zone *time.Location) (store.Wished, error) {
	w := store.Wished{Board: in.Board, Run: in.Run, Kind: in.Kind, Who: in.Who, Text: in.Text, Notes: in.Notes,
		Oldest: in.Order == "oldest"}
	for _, day := range []struct {
		name, is string
		to       *time.Time
		on       int
	}{{"from", in.From, &w.From, 0}, {"to", in.To, &w.Until, 1}} {
		if day.is == "" {
			continue
		}
		at, err := time.ParseInLocation(time.DateOnly, day.is, zone)
		if err != nil {
			return w, huma.Error422UnprocessableEntity("the day cannot be read", &huma.ErrorDetail{
				Location: "query." + day.name, Value: day.is,
				Message: fmt.Sprintf("%q is not a day; write it like 2031-06-21, or leave it empty", day.is),
			})
		}
		*day.to = at.AddDate(0, 0, day.on)
	}
	return w, nil
}

func (s *Server) logRoutes(api huma.API) {
	huma.Get(api, "/api/log", func(ctx context.Context, in *logIn) (*struct{ Body Logbook }, error) {
		const page = 100
		lines, err := s.logged(ctx, in, page*in.Page, page+1)
		if err != nil {
			return nil, err
		}
		out := Logbook{More: len(lines) > page, Lines: []LogLine{}}
		for _, e := range lines[:min(len(lines), page)] {
			out.Lines = append(out.Lines, LogLine{
				ID: e.ID, Subject: e.Subject, Name: e.Name, For: e.For, Run: e.Run, Title: e.Title,
				Kind: plan.Kind(e.Kind), Event: e.Event, At: e.At, Minutes: e.Minutes, Usual: e.Usual,
				Said: plan.Said(notings, e.What, e.Value), Words: e.Words, Picture: e.Picture,
			})
		}
		return &struct{ Body Logbook }{out}, nil
	})
	huma.Get(api, "/api/log/ledger", func(ctx context.Context, _ *struct{}) (*struct{ Body plan.Ledger }, error) {
		l, err := s.ledger(ctx)
		return &struct{ Body plan.Ledger }{l}, answer(err)
	})
	huma.Get(api, "/api/log.csv", func(ctx context.Context, in *logIn) (*file, error) {
		lines, err := s.logged(ctx, in, 0, mostItems)
		if err != nil {
			return nil, err
		}
		at, _, err := s.Store.Shop(ctx, account(ctx).Workshop)
		if err != nil {
			return nil, answer(err)
		}
		zone, err := at.Zone()
		if err != nil {
			return nil, answer(err)
		}
		data, err := formats.LogCSV(logRows(lines), at.System(), zone)
		return download("text/csv; charset=utf-8", "logbook", "csv", data), answer(err)
	}, rawAnswer("text/csv; charset=utf-8"))
}

// logged is the lines of the log that are looked for.
func (s *Server) logged(ctx context.Context, in *logIn, skip, most int) ([]store.Entry, error) {
	zone, err := s.zoneOf(ctx)
	if err != nil {
		return nil, answer(err)
	}
	w, err := in.wished(zone)
	if err != nil {
		return nil, err
	}
	w.Skip, w.Most = skip, most
	lines, err := s.Store.Log(ctx, account(ctx).Workshop, w)
	return lines, answer(err)
}

func logRows(lines []store.Entry) []formats.LogRow {
	rows := make([]formats.LogRow, len(lines))
	for i, e := range lines {
		rows[i] = formats.LogRow{
			At: e.At, Name: e.Name, For: e.For, Run: e.Run, Title: e.Title, Kind: e.Kind, Event: e.Event,
			Minutes: e.Minutes, Usual: e.Usual, Said: plan.Said(notings, e.What, e.Value), Words: e.Words,
		}
	}
	return rows
}

// ledger is what the log of the workshop comes to.
func (s *Server) ledger(ctx context.Context) (plan.Ledger, error) {
	workshop := account(ctx).Workshop
	zone, err := s.zoneOf(ctx)
	if err != nil {
		return plan.Ledger{}, err
	}
	worked, err := s.Store.Worked(ctx, workshop)
	if err != nil {
		return plan.Ledger{}, err
	}
	lines, err := s.Store.Log(ctx, workshop, store.Wished{Notes: true, Oldest: true, Most: mostItems})
	if err != nil {
		return plan.Ledger{}, err
	}
	noted := map[string][]plan.Entry{} // at each step of each subject
	kinds := map[string]plan.Kind{}
	var keys []string
	for _, e := range lines {
		key := e.Subject.String() + "/" + e.Step
		if noted[key] == nil {
			keys = append(keys, key)
		}
		noted[key], kinds[key] = append(noted[key], e.Logged().Entry), plan.Kind(e.Kind)
	}
	var lost []plan.Lost
	for _, key := range keys {
		for _, e := range plan.Notes(noted[key], noted[key][0].Step) {
			if e.What == plan.NoteMishap {
				lost = append(lost, plan.Lost{Kind: kinds[key], Days: e.Value, At: e.At})
			}
		}
	}
	return plan.Add(worked, lost, zone), nil
}
