package server

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/geom"
	"idletimber/craft/glue"
	"idletimber/craft/plan"
	"idletimber/craft/reckon"
	"idletimber/craft/rescue"
	"idletimber/craft/run"
	"idletimber/craft/sanding"
	"idletimber/craft/stage"
	"idletimber/craft/tool"
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
	mishap      string // that waits for a decision, in words
}

// inWork reckons what is still to be made, remembering what has not changed; but for
// one piece, which is reckoned already or for which nobody asks.
func (s *Server) inWork(ctx context.Context, workshop, but string) ([]work, error) {
	before, _ := s.benches.recall(workshop)
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
		if j.Boards[i].Spoiled() {
			continue
		}
		w.chains = append(w.chains, chainOf(b.Course, j.Boards[i].Name, j.Log))
		w.boards = append(w.boards, workBoard{
			b, r.Slab.Species.Light, r.Slab.Species.Dark, undecided(j.Boards[i]),
		})
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

// scene is a scene with the shop and what is kept of its plan.
func (s *Server) scene(ctx context.Context, workshop string) (reckon.Scene, error) {
	j := reckon.Scene{Schema: reckon.Schema, Now: s.Clock(), Watch: watching(ctx)}
	var err error
	if j.Shop, _, err = s.Store.Shop(ctx, workshop); err != nil {
		return j, err
	}
	if j.Sheeted, err = s.Store.Sheeted(ctx, workshop); err != nil {
		return j, err
	}
	kept, err := s.Store.Plan(ctx, workshop)
	j.Order, j.Pins, j.Ahead = kept.Order, kept.Pins, kept.Ahead
	return j, err
}

// sceneOf is all work of the workshop as a scene of its own.
func (s *Server) sceneOf(ctx context.Context, workshop string, all []work) (reckon.Scene, error) {
	j, err := s.scene(ctx, workshop)
	for _, w := range all {
		j.Elsewhere = append(j.Elsewhere, w.chains...)
	}
	return j, err
}

// planned is all work of a workshop, dated together.
type planned struct {
	work    []work
	scene   reckon.Scene
	courses []plan.Course
}

func (s *Server) planned(ctx context.Context, workshop string) (planned, error) {
	var of planned
	var err error
	if of.work, err = s.inWork(ctx, workshop, ""); err != nil {
		return of, err
	}
	if of.scene, err = s.sceneOf(ctx, workshop, of.work); err != nil {
		return of, err
	}
	of.courses, err = reckon.Dates(of.scene)
	return of, err
}

// bySubject are its courses.
func (of planned) bySubject() map[plan.Subject]plan.Course {
	out := make(map[plan.Subject]plan.Course, len(of.courses))
	for _, c := range of.courses {
		out[c.Subject] = c
	}
	return out
}

// boards are its boards, by their ids.
func (of planned) boards() map[string]workBoard {
	out := map[string]workBoard{}
	for _, w := range of.work {
		for _, b := range w.boards {
			out[b.reckoned.ID] = b
		}
	}
	return out
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
	Holds    []Named                     `json:"holds,omitempty" doc:"Boards that lie on a panel or a river"`
	Pourings []fill.Pouring              `json:"pourings,omitempty" doc:"Its pours, as far as they have come"`
	Voids    []fill.Drawn                `json:"voids,omitempty" doc:"Its voids as they are numbered, in its frame"`
	Sanding  *reckon.AtSander            `json:"sanding,omitempty" doc:"What is read and marked while it is sanded"`
	Coats    []finish.Coat               `json:"coats,omitempty" doc:"Of its finish, as looks have left them"`
	Setups   map[string]tool.Setup       `json:"setups,omitempty" doc:"How the machine is set, by key of the step"`
	Takes    []Takes                     `json:"takes,omitempty" doc:"What its next step takes from the shelf"`
	Mishap   string                      `json:"mishap,omitempty" doc:"What went wrong on it and waits for a decision"`
	Hints    []Hint                      `json:"hints,omitempty" doc:"What has gone wrong at such a step as its next"`
}

// Bench is what there is to do now.
type Bench struct {
	Now    time.Time    `json:"now"`
	Line   int64        `json:"line" doc:"Id of the newest line of the log that is known here"`
	Boards []BenchBoard `json:"boards" doc:"The nearest date first; a panel before its boards"`

	Evening *reckon.Evening `json:"evening,omitempty" doc:"The session that is on, or the next one"`
	Ahead   bool            `json:"ahead" doc:"The maker has an order of their own"`
	Turns   []run.Turn      `json:"turns" doc:"What is to be done until it ends, in the order of the plan"`
}

func (s *Server) benchRoutes(api huma.API) {
	huma.Get(api, "/api/bench", func(ctx context.Context, _ *struct{}) (*struct{ Body Bench }, error) {
		workshop := account(ctx).Workshop
		line, err := s.Store.LastLine(ctx, workshop) // before the rest is read, which may know more
		if err != nil {
			return nil, answer(err)
		}
		of, err := s.planned(ctx, workshop)
		if err != nil {
			return nil, answer(err)
		}
		j, courses := of.scene, of.bySubject()
		out := &struct{ Body Bench }{Bench{Now: s.Clock(), Line: line, Ahead: len(j.Ahead) > 0}}
		dated := slices.SortedFunc(maps.Values(courses), func(a, b plan.Course) int {
			return cmp.Compare(a.Subject.String(), b.Subject.String())
		})
		out.Body.Evening, out.Body.Turns = reckon.EveningOf(j.Shop, dated, s.Clock()), []run.Turn{}
		if e := out.Body.Evening; e != nil {
			out.Body.Turns = run.Turns(dated, e.To)
		}
		setups, err := s.setups(ctx, workshop, j.Shop.Setups)
		if err != nil {
			return nil, answer(err)
		}
		takes, err := s.takes(ctx, workshop, of)
		if err != nil {
			return nil, answer(err)
		}
		hints, err := s.hints(ctx, workshop)
		if err != nil {
			return nil, answer(err)
		}
		for _, w := range of.work {
			if p := w.panel; p != nil {
				made, _ := CourseOf(*p)
				if c := courses[made.Subject]; !c.Done {
					on := BenchBoard{
						Course: c, Path: p.Path, Box: [4]float64{0, p.MinY, p.Length, p.MaxY},
						Light: p.Species.Light, Dark: p.Species.Dark, Takes: takes[made.Subject],
					}
					for _, b := range w.boards {
						on.Holds = append(on.Holds, Named{b.reckoned.ID, b.reckoned.Course.Name})
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
						Sanding: &b.reckoned.AtSander, Coats: b.reckoned.Finish.Coats,
						Setups: setups(courses[b.reckoned.Course.Subject]), Takes: takes[b.reckoned.Course.Subject],
						Mishap: b.mishap, Hints: hints(courses[b.reckoned.Course.Subject])},
				)
			}
		}
		return out, nil
	})
}

// setups tells how machines are set for the steps of a course, as its run has chosen among those that are kept.
func (s *Server) setups(ctx context.Context, workshop string, kept []tool.Setup) (
	func(plan.Course) map[string]tool.Setup, error,
) {
	none := func(plan.Course) map[string]tool.Setup { return nil }
	if len(kept) == 0 {
		return none, nil
	}
	runs, err := s.Store.Runs(ctx, workshop)
	if err != nil {
		return none, err
	}
	of, err := s.Store.RunOf(ctx, workshop)
	if err != nil {
		return none, err
	}
	return func(c plan.Course) map[string]tool.Setup {
		i := slices.IndexFunc(runs, func(r store.Run) bool { return r.ID == of[c.Subject.ID].ID })
		if i < 0 || len(runs[i].Run.Setups) == 0 {
			return nil
		}
		out := map[string]tool.Setup{}
		for step, operation := range run.Keys(c) {
			name := runs[i].Run.Setups[operation]
			if k := slices.IndexFunc(kept, func(u tool.Setup) bool { return u.Name == name }); k >= 0 {
				out[step] = kept[k]
			}
		}
		return out
	}, nil
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

	At   *time.Time `json:"at,omitempty" doc:"When it was pressed, by the device's clock set right"`
	Late bool       `json:"late,omitempty" doc:"It could not be sent at once, and stands as it was pressed"`
	Ago  float64    `json:"ago,omitempty" minimum:"0" maximum:"10080" doc:"With finish: so many minutes before"`

	Words   string `json:"words,omitempty" maxLength:"2000" doc:"With note: the maker's own"`
	Picture []byte `json:"picture,omitempty" maxLength:"600000" doc:"With note: a small JPEG or PNG"`

	Mishap *rescue.Report `json:"mishap,omitempty" doc:"With note of a mishap: what is gone, in the board's frame"`
}

// oldestEvent is how long ago an event may have been pressed that comes in now.
const oldestEvent = 60 * 24 * time.Hour

// onTheWay is how long what is sent at once is on its way at the most; a clock that is further off is not believed.
const onTheWay = time.Minute

// when is the time of an event: when it was pressed, so that all of one device stand in their order, but not after now.
func (e Event) when(now time.Time) time.Time {
	oldest := onTheWay
	if e.Late {
		oldest = oldestEvent
	}
	if e.At == nil || e.At.After(now) || now.Sub(*e.At) > oldest {
		return now
	}
	return *e.At
}

// pressedOut tells how far the log goes with what was pressed: an answer that knows it so far tells of the press.
type pressedOut struct {
	Body struct {
		Line int64 `json:"line" doc:"Id of the newest line of the log"`
	}
}

// pressed answers what was pressed and written down.
func (s *Server) pressed(ctx context.Context, err error) (*pressedOut, error) {
	if err != nil {
		return nil, err
	}
	out := &pressedOut{}
	out.Body.Line, err = s.Store.LastLine(ctx, account(ctx).Workshop)
	return out, answer(err)
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

// record appends an event to the log of a board's step, and answers with its sheet.
func (s *Server) record(ctx context.Context, in *recordIn) (*sheetOut, error) {
	if err := s.pressBoard(ctx, in); err != nil {
		return nil, err
	}
	return s.sheet(ctx, in.ID)
}

// pressBoard appends an event to the log of a board's step. It reckons only what lies on the board's piece: what else
// is in work changes its dates, not what may be written down.
func (s *Server) pressBoard(ctx context.Context, in *recordIn) error {
	workshop := account(ctx).Workshop
	if _, yes, err := s.Store.Repeated(ctx, workshop); err != nil || yes {
		return answer(err)
	}
	j, err := s.boardAlone(ctx, in.ID)
	if err != nil {
		return answer(err)
	}
	r, err := reckon.Reckon(j, reckon.Request{})
	if err != nil {
		return answer(err)
	}
	if in.Body.Event == plan.Noted && in.Body.What == plan.NoteMishap && in.Body.Mishap != nil {
		return s.mishap(ctx, j, r.Boards[0], in.Body)
	}
	if in.Body.Event == plan.Noted {
		return s.note(ctx, j, r.Boards[0], in.Body)
	}
	if err := s.recordStep(ctx, doingOf(r.Boards[0]), in.Body); err != nil {
		return err
	}
	if in.Body.Event != plan.Undo {
		return nil
	}
	if r.Boards[0].Mix != nil && strings.HasPrefix(in.Body.Step, fill.PourKey) { // it teaches nothing any more
		if err := s.Store.DropPour(ctx, workshop, in.ID, in.Body.Step); err != nil {
			return answer(err)
		}
	}
	if strings.HasPrefix(in.Body.Step, finish.CoatKey) {
		return answer(s.Store.DropCoat(ctx, workshop, in.ID, in.Body.Step))
	}
	return nil
}

// boardAlone is a board with what lies on its piece, without the work elsewhere.
func (s *Server) boardAlone(ctx context.Context, id string) (reckon.Scene, error) {
	workshop := account(ctx).Workshop
	b, err := s.Store.Board(ctx, workshop, id)
	if err != nil {
		return reckon.Scene{}, err
	}
	j, err := s.job(ctx, workshop, b.Piece, id)
	if err != nil {
		return j, err
	}
	if b.Deleted != nil {
		j.Boards = append([]reckon.Board{b.Board}, j.Boards...)
	}
	j, _, err = s.withApart(ctx, workshop, j)
	return j, err
}

// noted is what a note is written on: the work on a subject, its pours, where it lies on the wood,
// and what both are after the note.
type noted struct {
	doing
	pours []fill.Pouring
	mix   *fill.Mix
	at    geom.Placement
	after func(reckon.Scene) (doing, []fill.Pouring, error)
	coat  func(reckon.Scene) error // keeps what a coat took; nil where nothing is coated
}

// note writes down what was weighed or seen at a step of a board.
func (s *Server) note(ctx context.Context, j reckon.Scene, b reckon.Reckoned, event Event) error {
	return s.noteOn(ctx, j, event, noted{doingOf(b), b.Pourings, b.Mix, j.Boards[0].Placement,
		func(j reckon.Scene) (doing, []fill.Pouring, error) {
			r, err := reckon.Reckon(j, reckon.Request{})
			if err != nil {
				return doing{}, nil, err
			}
			return doingOf(r.Boards[0]), r.Boards[0].Pourings, nil
		},
		func(j reckon.Scene) error { return s.taughtByCoat(ctx, j, b, event.Step) }})
}

// noteAtRiver writes down what was weighed or seen at a step of a river.
func (s *Server) noteAtRiver(ctx context.Context, j reckon.Scene, w reckon.Wood, event Event) error {
	return s.noteOn(ctx, j, event, noted{madeBy(w), w.River.Pourings, w.River.Mix, geom.Placement{},
		func(j reckon.Scene) (doing, []fill.Pouring, error) {
			r, err := reckon.Reckon(j, reckon.Request{})
			if err != nil {
				return doing{}, nil, err
			}
			return madeBy(*r.Slab), r.Slab.River.Pourings, nil
		}, nil})
}

// noteOn writes a note down. What a pour came to that is over with it is kept, for what it teaches; what a step that is
// done took of the shelf is what was weighed, also when that is told afterwards.
func (s *Server) noteOn(ctx context.Context, j reckon.Scene, event Event, on noted) error {
	i := slices.IndexFunc(on.Steps, func(d plan.Dated) bool { return d.Key == event.Step })
	if i < 0 {
		return noSuchStep(event.Step)
	}
	step, subject := on.Steps[i], on.Subject
	of := slices.IndexFunc(on.pours, func(p fill.Pouring) bool { return p.Step == event.Step })
	value := event.Value
	if event.Shown != nil {
		value = *event.Shown
		if of >= 0 && event.What != fill.NoteTare {
			value -= on.pours[of].Tare
		}
	}
	ps := plan.Unfit(notings, event.Step, event.What, value, event.Place != nil)
	if event.Mishap != nil {
		ps.Add("body.mishap", "it is told with something else", "tell it with a note of a mishap, on a board")
	}
	if event.Place != nil {
		const far = 10_000 // mm
		ps.Length("body.place.x", event.Place.X, -far, far)
		ps.Length("body.place.y", event.Place.Y, -far, far)
	}
	if event.What == plan.NoteWords && strings.TrimSpace(event.Words) == "" {
		ps.Add("body.words", "there are none", "write down what you want to remember")
	}
	if (event.What == plan.NotePicture) != (len(event.Picture) > 0) {
		ps.Add("body.picture", "a note of a picture needs one, and no other note has one", "send it with the note")
	}
	if len(ps) > 0 {
		return answer(ps)
	}
	e := store.Entry{
		Subject: subject, Step: step.Key, Event: plan.Noted, At: event.when(s.Clock()), Press: pressOf(ctx),
		Kind: string(step.Kind), Title: step.Title, Usual: step.Usual, What: event.What, Value: value,
		Words: event.Words,
	}
	if len(event.Picture) > 0 {
		doc, err := s.keptPicture(ctx, event.Picture)
		if err != nil {
			return err
		}
		e.Picture = doc.ID
	}
	if event.Place != nil {
		at := on.at.Out(*event.Place)
		e.Place = &at
	}
	if on.mix != nil {
		e.Of = on.mix.Kind
	}
	j.Log = append(slices.Clip(j.Log), e.Logged())
	var pours []fill.Pouring // after the note
	if done := step.State == plan.Done; on.after != nil && (done || of >= 0) {
		var now doing
		var err error
		if now, pours, err = on.after(j); err != nil {
			return answer(err)
		}
		if took := now.takes(step.Key); done && !slices.Equal(took, on.takes(step.Key)) {
			e.Uses = took
		}
	}
	workshop := account(ctx).Workshop
	if err := s.Store.Record(ctx, workshop, e); err != nil {
		return answer(err)
	}
	if on.coat != nil {
		if err := on.coat(j); err != nil {
			return answer(err)
		}
	}
	if of < 0 {
		return nil
	}
	if of < len(pours) {
		if taught, over := pours[of].Sample(); over {
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

// doing is the work on a board or a panel with what its steps take from the shelf, and the resin of its pours.
type doing struct {
	plan.Course
	uses  []stage.Use
	resin string
}

// takes is what one of its steps takes.
func (d doing) takes(step string) []stage.Use {
	out := []stage.Use{}
	for _, u := range d.uses {
		if u.Step == step {
			out = append(out, u)
		}
	}
	return out
}

// recordStep appends an event to the log of a step.
func (s *Server) recordStep(ctx context.Context, c doing, event Event) error {
	e, err := s.entry(ctx, c, event)
	if err != nil {
		return err
	}
	return answer(s.Store.Record(ctx, account(ctx).Workshop, e))
}

// entry is the line that an event of a step writes into the log: of a pour with its resin, of a finish with what the
// step has taken. What was pressed where the server could not be reached stands as it was pressed, whatever has
// happened since.
func (s *Server) entry(ctx context.Context, c doing, event Event) (store.Entry, error) {
	i := slices.IndexFunc(c.Steps, func(d plan.Dated) bool { return d.Key == event.Step })
	if i < 0 {
		return store.Entry{}, noSuchStep(event.Step)
	}
	step := c.Steps[i]
	if !event.Late && !slices.Contains(next[step.State], event.Event) {
		return store.Entry{}, huma.Error409Conflict(
			fmt.Sprintf("this step is %s; it cannot take %q now", step.State, event.Event),
		)
	}
	e := store.Entry{
		Subject: c.Subject, Step: step.Key, Event: event.Event, At: event.when(s.Clock()), Kind: string(step.Kind),
		Title: step.Title, Usual: step.Usual, Press: pressOf(ctx),
	}
	if strings.HasPrefix(step.Key, fill.PourKey) {
		e.Of = c.resin
	}
	if e.Event == plan.Finish {
		e.Uses = c.takes(step.Key)
		e.Minutes = event.Minutes
		if event.Ago > 0 {
			pressed := e.At
			e.At = e.At.Add(-minutes(event.Ago))
			if last := step.Touched; last != nil && !e.At.After(*last) {
				e.At = last.Add(time.Millisecond) // no step ends before it was begun
			}
			if e.At.After(pressed) {
				e.At = pressed
			}
		}
		if e.Minutes == 0 {
			e.Minutes = math.Round(max(0, step.Spent-s.Clock().Sub(e.At).Minutes())*10) / 10
		}
	}
	return e, nil
}

// doingOf is the work on a board. Of a pour or a coat that was weighed it takes what was weighed.
func doingOf(b reckon.Reckoned) doing {
	out := doing{Course: b.Course, uses: b.Finish.AsUsed(fill.AsWeighed(b.Uses, b.Pourings))}
	if b.Mix != nil {
		out.resin = b.Mix.Kind
	}
	return out
}

func minutes(m float64) time.Duration { return time.Duration(m * float64(time.Minute)) }

// pressOf is the id of what was pressed, by which it is taken once.
func pressOf(ctx context.Context) string {
	if save := store.SaveOf(ctx); save != nil {
		return save.Key
	}
	return ""
}
