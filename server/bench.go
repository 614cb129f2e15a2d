package server

import (
	"context"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/geom"
	"idletimber/craft/glue"
	"idletimber/craft/plan"
	"idletimber/craft/reckon"
	"idletimber/craft/sanding"
	"idletimber/store"
)

// work is the boards on one piece that are still to be made, reckoned.
type work struct {
	piece  string
	stamp  string
	chains []plan.Chain
	boards []workBoard
	panel  *reckon.Wood // where it is one that is glued up
	mates  []string     // pieces that hold mates of its boards
}

// stampOf is the stamp of a piece with those of the pieces that its boards have
// mates on.
func stampOf(piece string, mates []string, stamps map[string]string) string {
	out := stamps[piece]
	for _, m := range mates {
		out += "/" + stamps[m]
	}
	return out
}

type workBoard struct {
	reckoned    reckon.Reckoned
	light, dark string
}

// benches remembers each workshop's work between requests, piece by piece,
// until the piece's stamp changes; what is remembered never depends on the hour.
type benches struct {
	mu   sync.Mutex
	work map[string]map[string]work
}

// mostBenches bounds how many workshops are remembered.
const mostBenches = 1000

func newBenches() *benches { return &benches{work: map[string]map[string]work{}} }

func (b *benches) recall(workshop string) map[string]work {
	b.mu.Lock()
	defer b.mu.Unlock()
	return b.work[workshop]
}

func (b *benches) remember(workshop string, pieces map[string]work) {
	b.mu.Lock()
	defer b.mu.Unlock()
	if len(b.work) >= mostBenches {
		clear(b.work)
	}
	b.work[workshop] = pieces
}

// inWork reckons what is still to be made, remembering what has not changed; but for
// one piece, which is reckoned already or for which nobody asks.
func (s *Server) inWork(ctx context.Context, workshop, but string) ([]work, error) {
	before := s.benches.recall(workshop)
	var mates []string
	for _, w := range before {
		mates = append(mates, w.mates...)
	}
	stamps, err := s.Store.InWork(ctx, workshop, mates)
	if err != nil {
		return nil, err
	}
	byPiece := make(map[string]string, len(stamps))
	for _, st := range stamps {
		byPiece[st.Piece] = st.Stamp
	}
	now := make(map[string]work, len(stamps))
	out := make([]work, 0, len(stamps))
	for _, st := range stamps {
		if !st.Work {
			continue
		}
		w, ok := before[st.Piece]
		if st.Piece == but {
			if ok {
				now[st.Piece] = w // if it has changed, its stamp tells
			}
			continue
		}
		if !ok || w.stamp != stampOf(st.Piece, w.mates, byPiece) {
			if w, err = s.workOn(ctx, workshop, st.Piece); err != nil {
				return nil, err
			}
			w.stamp = stampOf(st.Piece, w.mates, byPiece) // of new mates it is empty: the next look reads them
		}
		now[st.Piece] = w
		out = append(out, w)
	}
	s.benches.remember(workshop, now)
	return out, nil
}

func (s *Server) workOn(ctx context.Context, workshop, piece string) (work, error) {
	w := work{piece: piece}
	j, err := s.job(ctx, workshop, piece, "")
	if err != nil {
		return w, err
	}
	if j, w.mates, err = s.withApart(ctx, workshop, j); err != nil {
		return w, err
	}
	r, err := reckon.Reckon(j, reckon.Request{})
	if err != nil { // a document of an older time that no longer passes: its sheet says so
		s.Log.Warn("board cannot be reckoned", "piece", piece, "error", err)
		return w, nil
	}
	if p := r.Slab.Parts; p != nil {
		w.panel = r.Slab
		w.chains = append(w.chains, chainOf(p.Course, j.Slab.Name, j.Log))
	}
	if r.Slab.River != nil {
		w.panel = r.Slab
		w.chains = append(w.chains, chainOf(r.Slab.River.Course, j.Slab.Name, j.Log))
	}
	for i, b := range r.Boards {
		w.chains = append(w.chains, chainOf(b.Course, j.Boards[i].Name, j.Log))
		w.boards = append(w.boards, workBoard{b, r.Slab.Species.Light, r.Slab.Species.Dark})
	}
	return w, nil
}

// chainOf is a course without its dates.
func chainOf(course plan.Course, name string, log []reckon.LogEntry) plan.Chain {
	c := plan.Chain{Subject: course.Subject, Name: name, Due: course.Due}
	for _, step := range course.Steps {
		c.Steps = append(c.Steps, step.Step)
	}
	for _, e := range log {
		if e.Subject == c.Subject {
			c.Log = append(c.Log, e.Entry)
		}
	}
	return c
}

// courses dates all work of the workshop together, by subject.
func (s *Server) courses(ctx context.Context, workshop string, all []work) (map[plan.Subject]plan.Course, error) {
	shop, _, err := s.Store.Shop(ctx, workshop)
	if err != nil {
		return nil, err
	}
	j := reckon.Scene{Schema: reckon.Schema, Now: s.Clock(), Shop: shop, Watch: watching(ctx)}
	for _, w := range all {
		j.Elsewhere = append(j.Elsewhere, w.chains...)
	}
	dated, err := reckon.Dates(j)
	if err != nil {
		return nil, err
	}
	out := make(map[plan.Subject]plan.Course, len(dated))
	for _, c := range dated {
		out[c.Subject] = c
	}
	return out, nil
}

// BenchBoard is a board, or a panel, on the bench: its dated steps and what to mind at each.
type BenchBoard struct {
	Course   plan.Course                 `json:"course"`
	Cautions map[string][]reckon.Caution `json:"cautions" doc:"By key of the step"`
	Path     string                      `json:"path"`
	Holes    []string                    `json:"holes"`
	Box      [4]float64                  `json:"box"`
	Light    string                      `json:"light"`
	Dark     string                      `json:"dark"`
	Parts    []glue.Drawn                `json:"parts,omitempty" doc:"What of its panel a board holds"`
	Glued    *glue.Glued                 `json:"glued,omitempty" doc:"How a panel is clamped; left out for a board"`
	Cast     bool                        `json:"cast,omitempty" doc:"It is a river"`
	Pourings []fill.Pouring              `json:"pourings,omitempty" doc:"Its pours, as far as they have come"`
	Voids    []fill.Drawn                `json:"voids,omitempty" doc:"Its voids as they are numbered, in its frame"`
	Sanding  *reckon.AtSander            `json:"sanding,omitempty" doc:"What is read and marked while it is sanded"`
	Coats    []finish.Coat               `json:"coats,omitempty" doc:"Of its finish, as looks have left them"`
}

// Bench is what there is to do now.
type Bench struct {
	Now    time.Time    `json:"now"`
	Boards []BenchBoard `json:"boards" doc:"The nearest date first; a panel before its boards"`

	Evening *reckon.Evening `json:"evening,omitempty" doc:"The session that is on, or the next one"`
}

// LogLine is one line of the logbook.
type LogLine struct {
	ID      int64        `json:"id"`
	Subject plan.Subject `json:"subject" doc:"What it was done on"`
	Name    string       `json:"name" doc:"Of the subject"`
	Title   string       `json:"title"`
	Event   string       `json:"event"`
	At      time.Time    `json:"at"`
	Minutes float64      `json:"minutes"`
	Usual   float64      `json:"usual"`
	Said    string       `json:"said,omitempty" doc:"What was written down, in words"`
}

// Logbook is the newest lines and the pace that finished steps have taught.
type Logbook struct {
	Lines []LogLine          `json:"lines"`
	Pace  map[string]float64 `json:"pace" doc:"Actual to estimated minutes by kind of work"`
}

func (s *Server) benchRoutes(api huma.API) {
	huma.Get(api, "/api/bench", func(ctx context.Context, _ *struct{}) (*struct{ Body Bench }, error) {
		workshop := account(ctx).Workshop
		all, err := s.inWork(ctx, workshop, "")
		if err != nil {
			return nil, answer(err)
		}
		courses, err := s.courses(ctx, workshop, all)
		if err != nil {
			return nil, answer(err)
		}
		shop, _, err := s.Store.Shop(ctx, workshop)
		if err != nil {
			return nil, answer(err)
		}
		out := &struct{ Body Bench }{Bench{Now: s.Clock()}}
		out.Body.Evening = reckon.EveningOf(shop, slices.Collect(maps.Values(courses)), s.Clock())
		for _, w := range all {
			if p := w.panel; p != nil {
				made, _ := CourseOf(*p)
				if c := courses[made.Subject]; !c.Done {
					on := BenchBoard{
						Course: c, Path: p.Path, Box: [4]float64{0, p.MinY, p.Length, p.MaxY},
						Light: p.Species.Light, Dark: p.Species.Dark,
					}
					if p.Parts != nil {
						on.Cautions, on.Glued = p.Parts.Cautions, &p.Parts.Glued
					} else {
						on.Cautions, on.Parts, on.Pourings, on.Cast = p.River.Cautions,
							p.River.Sides, p.River.Pourings, true
					}
					out.Body.Boards = append(out.Body.Boards, on)
				}
			}
			for _, b := range w.boards {
				out.Body.Boards = append(
					out.Body.Boards,
					BenchBoard{Course: courses[b.reckoned.Course.Subject], Cautions: b.reckoned.Cautions,
						Path: b.reckoned.Path, Holes: b.reckoned.Holes, Box: b.reckoned.Box, Light: b.light,
						Dark: b.dark, Parts: b.reckoned.Parts, Pourings: b.reckoned.Pourings, Voids: b.reckoned.Drawn,
						Sanding: &b.reckoned.AtSander,
						Coats:   b.reckoned.Finish.Coats},
				)
			}
		}
		return out, nil
	})
	huma.Get(api, "/api/log", func(ctx context.Context, _ *struct{}) (*struct{ Body Logbook }, error) {
		const newest = 300
		workshop := account(ctx).Workshop
		lines, err := s.Store.Log(ctx, workshop, newest)
		if err != nil {
			return nil, answer(err)
		}
		samples, err := s.Store.Samples(ctx, workshop)
		if err != nil {
			return nil, answer(err)
		}
		out := &struct{ Body Logbook }{Logbook{Pace: map[string]float64{}}}
		for _, e := range lines {
			out.Body.Lines = append(
				out.Body.Lines,
				LogLine{
					ID: e.ID, Subject: e.Subject, Name: e.Name, Title: e.Title,
					Event: e.Event, At: e.At, Minutes: e.Minutes,
					Usual: e.Usual, Said: plan.Said(notings, e.What, e.Value),
				},
			)
		}
		for kind, f := range plan.Learn(samples) {
			out.Body.Pace[string(kind)] = math.Round(f*100) / 100
		}
		return out, nil
	})
}

// Event is what happened to a step at the bench.
type Event struct {
	Step    string  `json:"step"`
	Event   string  `json:"event" enum:"start,pause,finish,undo,note"`
	Minutes float64 `json:"minutes" minimum:"0" maximum:"6000" doc:"With finish; 0 takes what the clock saw"`

	What  string      `json:"what,omitempty" maxLength:"20" doc:"With note: what is written down"`
	Value float64     `json:"value,omitempty" minimum:"0" maximum:"100000" doc:"With note: how much of it, g or ml"`
	Shown *float64    `json:"shown,omitempty" doc:"In place of a value: what the scale shows, cup and all, g"`
	Place *geom.Point `json:"place,omitempty" doc:"With note: where, in the board's frame"`

	At *time.Time `json:"at,omitempty" doc:"When it was pressed, where it could not be sent at once"`
}

// oldestEvent is how long ago an event may have been pressed that comes in now.
const oldestEvent = 60 * 24 * time.Hour

// when is the time of an event: when it was pressed, but not before what happened to
// its step before, nor after now.
func (e Event) when(now time.Time, log []reckon.LogEntry, subject plan.Subject) time.Time {
	if e.At == nil || e.At.After(now) || now.Sub(*e.At) > oldestEvent {
		return now
	}
	at := *e.At
	for _, before := range log {
		if before.Subject == subject && before.Step == e.Step && before.At.After(at) {
			at = before.At
		}
	}
	return at
}

type recordIn struct {
	ID   string `path:"id"`
	Body Event
}

// next says which events a step may have in each state.
var next = map[string][]string{
	plan.ToDo: {plan.Start, plan.Finish}, plan.Running: {plan.Pause, plan.Finish, plan.Undo},
	plan.Paused: {plan.Start, plan.Finish, plan.Undo}, plan.Done: {plan.Undo},
}

// record appends an event to the log of a board's step.
func (s *Server) record(ctx context.Context, in *recordIn) (*sheetOut, error) {
	if _, yes, err := s.Store.Repeated(ctx, account(ctx).Workshop); err != nil {
		return nil, answer(err)
	} else if yes {
		return s.sheet(ctx, in.ID)
	}
	_, j, err := s.boardJob(ctx, in.ID, nil)
	if err != nil {
		return nil, answer(err)
	}
	r, err := reckon.Reckon(j, reckon.Request{})
	if err != nil {
		return nil, answer(err)
	}
	if in.Body.Event == plan.Noted {
		if err := s.note(ctx, j, r.Boards[0], in.Body); err != nil {
			return nil, err
		}
		return s.sheet(ctx, in.ID)
	}
	resin := ""
	if mix := r.Boards[0].Mix; mix != nil && strings.HasPrefix(in.Body.Step, fill.PourKey) {
		resin = mix.Kind
	}
	if err := s.recordStep(ctx, r.Boards[0].Course, j.Log, in.Body, resin); err != nil {
		return nil, err
	}
	if resin != "" && in.Body.Event == plan.Undo { // it teaches nothing any more
		if err := s.Store.DropPour(ctx, account(ctx).Workshop, in.ID, in.Body.Step); err != nil {
			return nil, answer(err)
		}
	}
	if in.Body.Event == plan.Undo && strings.HasPrefix(in.Body.Step, finish.CoatKey) {
		if err := s.Store.DropCoat(ctx, account(ctx).Workshop, in.ID, in.Body.Step); err != nil {
			return nil, answer(err)
		}
	}
	return s.sheet(ctx, in.ID)
}

// noted is what a note is written on: the steps of a subject, its pours, where it lies on the wood,
// and what its pours are after the note.
type noted struct {
	course plan.Course
	pours  []fill.Pouring
	mix    *fill.Mix
	at     geom.Placement
	after  func(reckon.Scene) ([]fill.Pouring, error)
	coat   func(reckon.Scene) error // keeps what a coat took; nil where nothing is coated
}

// note writes down what was weighed or seen at a step of a board.
func (s *Server) note(ctx context.Context, j reckon.Scene, b reckon.Reckoned, event Event) error {
	return s.noteOn(ctx, j, event, noted{b.Course, b.Pourings, b.Mix, j.Boards[0].Placement,
		func(j reckon.Scene) ([]fill.Pouring, error) {
			r, err := reckon.Reckon(j, reckon.Request{})
			if err != nil {
				return nil, err
			}
			return r.Boards[0].Pourings, nil
		},
		func(j reckon.Scene) error { return s.taughtByCoat(ctx, j, b, event.Step) }})
}

// noteAtRiver writes down what was weighed or seen at a step of a river.
func (s *Server) noteAtRiver(ctx context.Context, j reckon.Scene, w reckon.Wood, event Event) error {
	return s.noteOn(ctx, j, event, noted{w.River.Course, w.River.Pourings, w.River.Mix, geom.Placement{},
		func(j reckon.Scene) ([]fill.Pouring, error) {
			r, err := reckon.Reckon(j, reckon.Request{})
			if err != nil {
				return nil, err
			}
			return r.Slab.River.Pourings, nil
		}, nil})
}

// noteOn writes a note down. What a pour came to that is over with it is kept, for what it teaches.
func (s *Server) noteOn(ctx context.Context, j reckon.Scene, event Event, on noted) error {
	i := slices.IndexFunc(on.course.Steps, func(d plan.Dated) bool { return d.Key == event.Step })
	if i < 0 {
		return noSuchStep(event.Step)
	}
	step, subject := on.course.Steps[i], on.course.Subject
	of := slices.IndexFunc(on.pours, func(p fill.Pouring) bool { return p.Step == event.Step })
	value := event.Value
	if event.Shown != nil {
		value = *event.Shown
		if of >= 0 && event.What != fill.NoteTare {
			value -= on.pours[of].Tare
		}
	}
	ps := plan.Unfit(notings, event.Step, event.What, value, event.Place != nil)
	if event.Place != nil {
		const far = 10_000 // mm
		ps.Length("body.place.x", event.Place.X, -far, far)
		ps.Length("body.place.y", event.Place.Y, -far, far)
	}
	if len(ps) > 0 {
		return answer(ps)
	}
	e := store.Entry{
		Subject: subject, Step: step.Key, Event: plan.Noted, At: event.when(s.Clock(), j.Log, subject),
		Kind: string(step.Kind), Title: step.Title, Usual: step.Usual, What: event.What, Value: value,
	}
	if event.Place != nil {
		at := on.at.Out(*event.Place)
		e.Place = &at
	}
	if on.mix != nil {
		e.Of = on.mix.Kind
	}
	workshop := account(ctx).Workshop
	if err := s.Store.Record(ctx, workshop, e); err != nil {
		return answer(err)
	}
	j.Log = append(j.Log, e.Logged())
	if on.coat != nil {
		if err := on.coat(j); err != nil {
			return answer(err)
		}
	}
	if of < 0 {
		return nil
	}
	after, err := on.after(j)
	if err != nil {
		return answer(err)
	}
	if of < len(after) {
		if taught, over := after[of].Sample(); over {
			return answer(s.Store.KeepPour(ctx, workshop, subject.ID, step.Key, taught))
		}
	}
	return answer(s.Store.DropPour(ctx, workshop, subject.ID, step.Key))
}

// notings are what may be noted at the steps of every stage.
var notings = slices.Concat(fill.Notings, sanding.Notings, finish.Notings)

// taughtByCoat keeps what a coat took, as the notes on it tell, for what it teaches; or forgets it.
func (s *Server) taughtByCoat(ctx context.Context, j reckon.Scene, b reckon.Reckoned, step string) error {
	workshop := account(ctx).Workshop
	i := slices.IndexFunc(b.Finish.Coats, func(c finish.Coat) bool { return c.Key == step })
	if i < 0 {
		return nil
	}
	var log []plan.Entry
	for _, e := range j.Log {
		if e.Subject == b.Course.Subject {
			log = append(log, e.Entry)
		}
	}
	if used := finish.Used(log, step); used > 0 {
		coat := b.Finish.Coats[i]
		return s.Store.KeepCoat(ctx, workshop, b.ID, step,
			finish.Coated{Product: coat.Product, Asked: coat.Usual, Used: used})
	}
	return s.Store.DropCoat(ctx, workshop, b.ID, step)
}

func noSuchStep(key string) error {
	return huma.Error422UnprocessableEntity(
		"there is no such step",
		&huma.ErrorDetail{
			Location: "body.step",
			Message:  fmt.Sprintf("%q is not among its steps; take one from its plan", key),
		},
	)
}

// recordStep appends an event to the log of a step of a course; of a pour with its resin.
func (s *Server) recordStep(
	ctx context.Context, c plan.Course, log []reckon.LogEntry, event Event, resin string,
) error {
	for _, step := range c.Steps {
		if step.Key != event.Step {
			continue
		}
		if !slices.Contains(next[step.State], event.Event) {
			return huma.Error409Conflict(
				fmt.Sprintf("this step is %s; it cannot take %q now", step.State, event.Event),
			)
		}
		e := store.Entry{
			Subject: c.Subject,
			Step:    step.Key,
			Event:   event.Event,
			At:      event.when(s.Clock(), log, c.Subject),
			Kind:    string(step.Kind),
			Title:   step.Title,
			Usual:   step.Usual,
			Of:      resin,
		}
		if e.Event == plan.Finish {
			e.Minutes = event.Minutes
			if e.Minutes == 0 {
				e.Minutes = math.Round(max(0, step.Spent-s.Clock().Sub(e.At).Minutes())*10) / 10
			}
		}
		return answer(s.Store.Record(ctx, account(ctx).Workshop, e))
	}
	return noSuchStep(event.Step)
}
