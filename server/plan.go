package server

import (
	"cmp"
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft/plan"
	"idletimber/craft/reckon"
	"idletimber/craft/run"
	"idletimber/formats"
	"idletimber/store"
)

// WorkPlan is all work of the workshop on the calendar.
type WorkPlan struct {
	Now      time.Time     `json:"now"`
	Courses  []plan.Course `json:"courses" doc:"By their days; a panel before its boards"`
	Sessions []Span        `json:"sessions" doc:"When somebody is at the bench, as far as the work goes"`
	Off      []plan.Leave  `json:"off"`
	Late     int           `json:"late" doc:"Boards that are too late"`
	LateBy   float64       `json:"lateBy" doc:"All of them together, minutes"`
	Last     *time.Time    `json:"last,omitempty" doc:"When the last one is ready"`
	Phases   []run.Phase   `json:"phases" doc:"Hands-on minutes still to do, by stage"`
	Looked   bool          `json:"looked" doc:"A good order was looked for with all that is to be done"`
	Costs    *Costs        `json:"costs,omitempty" doc:"Of the days that steps are locked to; left out without any"`
}

// PlanHelps is what would bring the work nearer to its days. All of it is tried, which takes a second or two where
// much is in work: it is told apart from the plan.
type PlanHelps struct {
	Helps  []reckon.PlanHelp `json:"helps" doc:"What would help all work, the best first"`
	Boards []LateBoard       `json:"boards" doc:"What would help the boards that are latest"`
}

// LateBoard is a board that is too late, and what would bring it nearer to its day.
type LateBoard struct {
	ID    string        `json:"id"`
	Name  string        `json:"name"`
	Helps []reckon.Help `json:"helps" doc:"The best first"`
}

// Span is a stretch of time at the bench.
type Span struct {
	From time.Time `json:"from"`
	To   time.Time `json:"to"`
	Who  string    `json:"who,omitempty" doc:"Empty for the maker"`
}

// Costs compares the plan with one in which nothing is locked to a day.
type Costs struct {
	LateBy float64  `json:"lateBy" doc:"Minutes by which boards are later, all together"`
	Last   float64  `json:"last" doc:"Minutes by which the last one is later"`
	Boards []string `json:"boards" doc:"Names of those that become too late"`
}

func (s *Server) planRoutes(public, api huma.API) {
	huma.Get(api, "/api/plan", func(ctx context.Context, _ *struct{}) (*struct{ Body WorkPlan }, error) {
		return s.workPlan(ctx)
	})
	huma.Get(api, "/api/plan/helps", s.planHelps)
	huma.Post(api, "/api/plan/improve", s.improvePlan)
	huma.Post(api, "/api/plan/pins", s.pin)
	huma.Post(api, "/api/plan/ahead", s.goAhead)
	huma.Get(api, "/api/plan.ics", func(ctx context.Context, _ *struct{}) (*file, error) {
		data, err := s.calendar(ctx, account(ctx).Workshop)
		return download(calendarType, "plan", "ics", data), answer(err)
	}, rawAnswer(calendarType))
	huma.Get(api, "/api/plan/feed", func(ctx context.Context, _ *struct{}) (*struct{ Body Feed }, error) {
		secret, err := s.Store.Feed(ctx, account(ctx).Workshop)
		return &struct{ Body Feed }{feedOf(secret)}, answer(err)
	})
	huma.Post(api, "/api/plan/feed", s.setFeed)
	huma.Get(public, "/api/calendar/{secret}", func(ctx context.Context, in *struct {
		Secret string `path:"secret" maxLength:"80"`
	}) (*file, error) {
		workshop, err := s.Store.FedBy(ctx, strings.TrimSuffix(in.Secret, ".ics"))
		if errors.Is(err, store.ErrNotFound) {
			if slow := s.limits.take(wrongKeys, clientOf(ctx).address); slow != nil {
				return nil, slow
			}
		}
		if err != nil {
			return nil, answer(err)
		}
		data, err := s.calendar(ctx, workshop)
		return download(calendarType, "plan", "ics", data), answer(err)
	}, rawAnswer(calendarType))
}

const calendarType = "text/calendar; charset=utf-8"

// Feed is where a calendar program reads the plan, by whoever knows the address.
type Feed struct {
	Path string `json:"path" doc:"Of the address; empty where there is none"`
}

func feedOf(secret string) Feed {
	if secret == "" {
		return Feed{}
	}
	return Feed{"/api/calendar/" + secret + ".ics"}
}

// setFeed gives the calendar an address, which ends the one before, or takes it away.
func (s *Server) setFeed(ctx context.Context, in *struct {
	Body struct {
		On bool `json:"on" doc:"False takes it away"`
	}
}) (*struct{ Body Feed }, error) {
	secret := ""
	if in.Body.On {
		secret = rand.Text()
	}
	if err := s.Store.SetFeed(ctx, account(ctx).Workshop, secret); err != nil {
		return nil, answer(err)
	}
	return &struct{ Body Feed }{feedOf(secret)}, nil
}

// calendar is the plan of a workshop as a calendar file.
func (s *Server) calendar(ctx context.Context, workshop string) ([]byte, error) {
	of, err := s.planned(ctx, workshop)
	if err != nil {
		return nil, err
	}
	at := of.scene.Shop
	zone, err := at.Zone()
	if err != nil {
		return nil, err
	}
	oilings, err := s.oilings(ctx, workshop, zone)
	return formats.Calendar(at.Name, of.courses, at.System(), zone, of.scene.Now, oilings...), err
}

func (s *Server) workPlan(ctx context.Context) (*struct{ Body WorkPlan }, error) {
	of, err := s.planned(ctx, account(ctx).Workshop)
	if err != nil {
		return nil, answer(err)
	}
	j, courses := of.scene, of.courses
	out := WorkPlan{
		Now:     j.Now,
		Courses: courses,
		Off:     append([]plan.Leave{}, j.Shop.Off...),
		Phases:  run.Phases(courses),
	}
	out.Late, out.LateBy, out.Last = lateness(courses)
	zone, err := j.Shop.Zone()
	if err != nil {
		return nil, answer(err)
	}
	until := j.Now.AddDate(0, 0, 14)
	if out.Last != nil && out.Last.After(until) {
		until = *out.Last
	}
	who := []string{""}
	for _, h := range j.Shop.Helpers {
		who = append(who, h.Name)
	}
	for _, w := range who {
		for _, o := range plan.Hours(j.Shop.Sessions, j.Shop.Off, w, zone, j.Now, until) {
			out.Sessions = append(out.Sessions, Span{o.From, o.To, w})
		}
	}
	slices.SortStableFunc(out.Courses, func(a, b plan.Course) int {
		switch {
		case a.Due == nil || b.Due == nil:
			return cmp.Compare(byDay(a), byDay(b))
		}
		return a.Due.Compare(*b.Due)
	})
	out.Looked = plan.Looked(j.Order, courses)
	if len(j.Pins) > 0 {
		j.Pins = nil
		free, err := reckon.Dates(j)
		if err != nil {
			return nil, answer(err)
		}
		out.Costs = costs(courses, free)
	}
	return &struct{ Body WorkPlan }{out}, nil
}

func (s *Server) planHelps(ctx context.Context, _ *struct{}) (*struct{ Body PlanHelps }, error) {
	of, err := s.planned(ctx, account(ctx).Workshop)
	if err != nil {
		return nil, answer(err)
	}
	fewer, err := s.fewer(ctx, of)
	if err != nil {
		return nil, answer(err)
	}
	var out PlanHelps
	if out.Helps, err = reckon.PlanHelps(of.scene, fewer); err != nil {
		return nil, answer(err)
	}
	out.Boards, err = s.latest(ctx, of.courses)
	return &struct{ Body PlanHelps }{out}, answer(err)
}

// fewer are the boards of the runs in work that nobody gets and nobody asked for, the newest of each.
func (s *Server) fewer(ctx context.Context, of planned) ([]reckon.Fewer, error) {
	workshop := account(ctx).Workshop
	runs, err := s.Store.Runs(ctx, workshop)
	if err != nil {
		return nil, err
	}
	named, err := s.Store.RunOf(ctx, workshop)
	if err != nil {
		return nil, err
	}
	inWork := map[string]bool{}
	for _, c := range of.courses {
		inWork[named[c.Subject.ID].ID] = true
	}
	var out []reckon.Fewer
	for _, r := range runs {
		if !inWork[r.ID] {
			continue
		}
		boards, err := s.Store.BoardsOfRun(ctx, workshop, r.ID)
		if err != nil {
			return nil, err
		}
		f := reckon.Fewer{Run: r.Run.Name}
		for _, b := range slices.Backward(boards) {
			if b.Given == nil && b.Board.Give.For == "" {
				f.Boards = append(f.Boards, plan.Board(b.Board.ID))
			}
		}
		over := r.Run.Over(len(boards), len(boards)-len(f.Boards))
		if f.Boards = f.Boards[:min(over, len(f.Boards))]; len(f.Boards) > 0 {
			out = append(out, f)
		}
	}
	return out, nil
}

// latest are the few boards that are too late by most, with what would help each.
func (s *Server) latest(ctx context.Context, courses []plan.Course) ([]LateBoard, error) {
	const most, each = 3, 3
	late := slices.DeleteFunc(slices.Clone(courses), func(c plan.Course) bool {
		return !c.Late || c.Subject.Kind != plan.Board("").Kind
	})
	slices.SortStableFunc(late, func(a, b plan.Course) int { return cmp.Compare(a.Slack, b.Slack) })
	out := []LateBoard{}
	for _, c := range late[:min(len(late), most)] {
		_, j, err := s.boardJob(ctx, c.Subject.ID, nil)
		if err != nil {
			return nil, err
		}
		helps, err := reckon.BoardHelps(j)
		if err != nil {
			return nil, err
		}
		if len(helps) > 0 {
			out = append(out, LateBoard{c.Subject.ID, c.Name, helps[:min(len(helps), each)]})
		}
	}
	return out, nil
}

// byDay puts what has no day behind what has.
func byDay(c plan.Course) int {
	if c.Due == nil {
		return 1
	}
	return 0
}

func lateness(courses []plan.Course) (late int, by float64, last *time.Time) {
	for _, c := range courses {
		if c.Late {
			late, by = late+1, by-c.Slack
		}
		if c.Finish != nil && (last == nil || c.Finish.After(*last)) {
			last = c.Finish
		}
	}
	return late, by, last
}

// costs is what one plan costs against another of the same work.
func costs(courses, free []plan.Course) *Costs {
	out := &Costs{Boards: []string{}}
	_, by, last := lateness(courses)
	_, freeBy, freeLast := lateness(free)
	out.LateBy = by - freeBy
	if last != nil && freeLast != nil {
		out.Last = last.Sub(*freeLast).Minutes()
	}
	was := map[plan.Subject]bool{}
	for _, c := range free {
		was[c.Subject] = c.Late
	}
	for _, c := range courses {
		if c.Late && !was[c.Subject] {
			out.Boards = append(out.Boards, c.Name)
		}
	}
	return out
}

// improvePlan has a better order of all work looked for, and kept.
func (s *Server) improvePlan(ctx context.Context, _ *struct{}) (*struct{ Body WorkPlan }, error) {
	id, err := send(ctx, s, "order", struct{}{})
	if err != nil {
		return nil, err
	}
	if _, err := s.await(ctx, id); err != nil {
		return nil, err
	}
	return s.workPlan(ctx)
}

// doOrder looks for a better order of all work, and keeps it.
func (s *Server) doOrder(ctx context.Context, _ *errand) error {
	of, err := s.planned(ctx, account(ctx).Workshop)
	if err != nil {
		return err
	}
	order, err := reckon.Improve(of.scene)
	if err != nil {
		return err
	}
	return s.Store.ChangePlan(ctx, account(ctx).Workshop, func(p *store.Plan) { p.Order = order })
}

// goAhead has steps done ahead of all others, in an order; none lets the plan decide.
func (s *Server) goAhead(ctx context.Context, in *struct {
	Body struct {
		Steps []string `json:"steps" maxItems:"300" doc:"Such as board:7/sand-120"`
	}
}) (*struct{}, error) {
	return nil, answer(
		s.Store.ChangePlan(ctx, account(ctx).Workshop, func(p *store.Plan) { p.Ahead = in.Body.Steps }),
	)
}

// mostPins bounds the steps that are locked to days.
const mostPins = 500

// pin locks a step to a day, or lets it go.
func (s *Server) pin(ctx context.Context, in *struct{ Body plan.Pin }) (*struct{ Body WorkPlan }, error) {
	if _, err := time.Parse(time.DateOnly, in.Body.Day); in.Body.Day != "" && err != nil {
		return nil, huma.Error422UnprocessableEntity("the day cannot be read", &huma.ErrorDetail{
			Location: "body.day",
			Message:  fmt.Sprintf("%q is not a day; write it like 2031-06-21, or leave it empty", in.Body.Day),
		})
	}
	of, err := s.planned(ctx, account(ctx).Workshop)
	if err != nil {
		return nil, answer(err)
	}
	open := map[string]bool{}
	for _, c := range of.courses {
		for _, d := range c.Steps {
			open[c.Subject.String()+"/"+d.Key] = d.State != plan.Done
		}
	}
	if !open[in.Body.Step] {
		return nil, huma.Error422UnprocessableEntity("there is no such step to do", &huma.ErrorDetail{
			Location: "body.step", Message: "name a step that is not done, such as board:7/sand-120",
		})
	}
	err = s.Store.ChangePlan(ctx, account(ctx).Workshop, func(p *store.Plan) {
		p.Pins = slices.DeleteFunc(p.Pins, func(o plan.Pin) bool { return o.Step == in.Body.Step || !open[o.Step] })
		if in.Body.Day != "" && len(p.Pins) < mostPins {
			p.Pins = append(p.Pins, in.Body)
		}
	})
	if err != nil {
		return nil, answer(err)
	}
	return s.workPlan(ctx)
}
