package server

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"
	"net/http"
	"runtime/debug"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/sse"

	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/reckon"
	"idletimber/craft/rescue"
	"idletimber/craft/shelf"
	"idletimber/craft/slab"
	"idletimber/craft/stage"
	"idletimber/store"
)

// WayFound is a way out that was found, and where it stands among those found before it.
type WayFound struct {
	At  int           `json:"at" doc:"How many of those found before stand before it"`
	Way reckon.WayOut `json:"way"`
}

// WaysOver tells that all ways were tried.
type WaysOver struct {
	Tried   int              `json:"tried" doc:"Ways that were tried"`
	Dropped []reckon.Dropped `json:"dropped" doc:"Those that bring a stop"`
}

// WaysFailed tells that ways out could not be looked for.
type WaysFailed struct{}

// wayEvents are what a stream of ways out sends.
var wayEvents = map[string]any{"found": WayFound{}, "over": WaysOver{}, "failed": WaysFailed{}}

// Hurt is a board as it is drawn with what a mishap has left in it, in its own frame.
type Hurt struct {
	Path  string     `json:"path" doc:"Its outline, as SVG"`
	Holes []string   `json:"holes"`
	Box   [4]float64 `json:"box" doc:"Bounds: min x, min y, max x, max y"`
	Light string     `json:"light"`
	Dark  string     `json:"dark"`
	Gone  []string   `json:"gone" doc:"What the mishap has left in it, as SVG"`
	Left  string     `json:"left" doc:"What was left of it then, as SVG; empty while it is not sawn"`
}

// hurtOf is the first board of a scene with what its latest mishap, or the one to be decided on, has left in it.
func hurtOf(b reckon.Board, r reckon.Reckoning) Hurt {
	of := r.Boards[0]
	out := Hurt{
		Path: of.Path, Holes: of.Holes, Box: of.Box, Light: r.Slab.Species.Light, Dark: r.Slab.Species.Dark,
		Gone: []string{},
	}
	if i := latest(b); i >= 0 {
		out.Gone, out.Left = b.Mishaps[i].Drawn(b.Placement)
	}
	return out
}

// undecided is what went wrong on a board and waits for a decision, in words; empty where nothing does.
func undecided(b reckon.Board) string {
	i := b.Undecided()
	if i < 0 {
		return ""
	}
	kind, _ := rescue.KindOf(b.Mishaps[i].Kind)
	return kind.Name
}

// latest is the index of the mishap that is to be decided on, or else of the latest one; -1 without one.
func latest(b reckon.Board) int {
	if i := b.Undecided(); i >= 0 {
		return i
	}
	return len(b.Mishaps) - 1
}

// RescueSheet is a board on which something went wrong, or may go wrong.
type RescueSheet struct {
	Hurt
	Version int           `json:"version"`
	Board   reckon.Board  `json:"board"`
	Mishap  *MishapLine   `json:"mishap,omitempty" doc:"The latest one"`
	Steps   []plan.Dated  `json:"steps" doc:"Of its plan, to say where it happened"`
	Kinds   []rescue.Kind `json:"kinds" doc:"What may have gone wrong, the likely ones at its next step first"`
	Likely  int           `json:"likely" doc:"How many of them are likely"`
	Before  []MishapCost  `json:"before" doc:"What went wrong before in this workshop at such steps"`
	Whom    string        `json:"whom" enum:"own,gift,customer" doc:"Who judges it"`
	Fresh   bool          `json:"fresh" doc:"The mishap waits for a decision"`
	Given   bool          `json:"given"`
	Next    string        `json:"next" doc:"Key of its next step; empty when all are done"`
}

// MishapLine is a mishap in words.
type MishapLine struct {
	ID   string      `json:"id"`
	Kind rescue.Kind `json:"kind"`
	At   time.Time   `json:"at"`
	Days float64     `json:"days"`
	Out  *rescue.Out `json:"out,omitempty"`
}

// MishapCost is what one kind of mishap has cost the workshop.
type MishapCost struct {
	Kind    string   `json:"kind"`
	Name    string   `json:"name"`
	Times   int      `json:"times"`
	Days    float64  `json:"days" doc:"Lost: as they were told, and by which boards were ready later"`
	Minutes float64  `json:"minutes" doc:"Of work that ways out have added"`
	Cents   int      `json:"cents" doc:"That ways out have cost"`
	Warning string   `json:"warning,omitempty" doc:"The check that warns of it, in words"`
	Before  string   `json:"before" doc:"What keeps it from happening"`
	Open    int      `json:"open" doc:"That wait for a decision"`
	Ways    []string `json:"ways" doc:"That were taken, the newest first"`
}

type rescueIn struct {
	ID   string `path:"id"`
	Body struct {
		Mishap string `json:"mishap" maxLength:"64" doc:"Id of the mishap"`
		Way    string `json:"way" maxLength:"100" doc:"Key of the way that is taken"`
	}
}

func (s *Server) rescueRoutes(api huma.API) {
	huma.Get(api, "/api/boards/{id}/rescue", s.rescueSheet)
	huma.Post(api, "/api/boards/{id}/rescue", s.takeWay)
	huma.Post(api, "/api/boards/{id}/rescue/back", s.takeWayBack)
	huma.Get(api, "/api/log/mishaps", func(ctx context.Context, _ *struct{}) (*struct{ Body []MishapCost }, error) {
		costs, err := s.mishapCosts(ctx)
		return &struct{ Body []MishapCost }{costs}, answer(err)
	})
	sse.Register(
		api,
		huma.Operation{
			OperationID: "ways-out", Method: http.MethodGet, Path: "/api/boards/{id}/ways",
			Summary: "Ways out of the latest mishap of a board, as they are found",
		},
		wayEvents,
		func(ctx context.Context, in *idIn, send sse.Sender) {
			s.streamWays(ctx, "board "+in.ID, send, func(ctx context.Context) (reckon.Scene, reckon.Rescuing, error) {
				return s.rescuing(ctx, in.ID)
			})
		},
	)
}

// streamWays sends the ways out of a mishap, as they are found, to a page that looks on.
func (s *Server) streamWays(
	ctx context.Context, name string, send sse.Sender,
	of func(context.Context) (reckon.Scene, reckon.Rescuing, error),
) {
	ctx, _, over := s.stream(ctx)
	defer over()
	j, ask, err := of(ctx)
	if err == nil {
		err = s.sendFound(ctx, j, ask, send)
	}
	if err != nil && ctx.Err() == nil {
		s.Log.Warn("ways out", "of", name, "error", err)
		_ = send.Data(WaysFailed{}) // the page may be gone as well
	}
}

// sendFound sends ways out as they are found, each with its place among those before it.
func (s *Server) sendFound(ctx context.Context, j reckon.Scene, ask reckon.Rescuing, send sse.Sender) error {
	var ways []reckon.WayOut
	out := WaysOver{Dropped: []reckon.Dropped{}}
	var unsent error
	err := s.lookForWays(ctx, j, ask, func(t reckon.Tried) bool {
		out.Tried++
		if t.Way == nil {
			out.Dropped = append(out.Dropped, *t.Dropped)
			return true
		}
		at, _ := slices.BinarySearchFunc(ways, *t.Way, func(a, b reckon.WayOut) int {
			if a.Before(b) {
				return -1
			}
			return 1
		})
		ways = slices.Insert(ways, at, *t.Way)
		unsent = send.Data(WayFound{at, *t.Way})
		return unsent == nil
	})
	if err == nil && unsent == nil {
		unsent = send.Data(out)
	}
	return errors.Join(err, unsent)
}

// mostTried is more ways than are ever tried: a page that reads slowly holds nobody up.
const mostTried = 500

// lookForWays tells of ways out as they are found, as long as that is wanted. How many are looked for at once is
// bounded, whoever reads how slowly: each takes all cores for a second.
func (s *Server) lookForWays(
	ctx context.Context, j reckon.Scene, ask reckon.Rescuing, tell func(reckon.Tried) bool,
) error {
	tried, failed := make(chan reckon.Tried, mostTried), make(chan error, 1)
	go func() {
		defer close(tried)
		defer func() {
			if p := recover(); p != nil {
				failed <- fmt.Errorf("ways out: %v\n%s", p, debug.Stack())
			}
		}()
		select {
		case s.rescues <- struct{}{}:
			defer func() { <-s.rescues }()
		case <-ctx.Done():
			failed <- ctx.Err()
			return
		}
		found, err := reckon.WaysOut(j, ask)
		if err != nil {
			failed <- err
			return
		}
		for t := range found {
			select {
			case tried <- t:
			case <-ctx.Done():
				return
			}
		}
	}()
	for t := range tried {
		if !tell(t) {
			return nil
		}
	}
	select {
	case err := <-failed:
		return err
	default:
		return ctx.Err()
	}
}

// rescuing is a board on which something went wrong, with all that ways out are looked for with.
func (s *Server) rescuing(ctx context.Context, id string) (reckon.Scene, reckon.Rescuing, error) {
	workshop := account(ctx).Workshop
	b, j, err := s.boardJob(ctx, id, nil)
	if err != nil {
		return j, reckon.Rescuing{}, err
	}
	board := j.Boards[0]
	at := board.Undecided()
	if at < 0 {
		return j, reckon.Rescuing{}, huma.Error409Conflict("nothing waits for a decision on this board")
	}
	ask := reckon.Rescuing{Mishap: board.Mishaps[at].ID}
	if ask.Price, err = s.priceOfWays(ctx, workshop, j); err != nil {
		return j, ask, err
	}
	if b.Run != "" {
		of, err := s.Store.BoardsOfRun(ctx, workshop, b.Run)
		if err != nil {
			return j, ask, err
		}
		for _, o := range of {
			if o.Board.ID == id || o.Given != nil {
				continue
			}
			if alike(o.Board, board) {
				ask.Alike++
			}
			if o.Board.Give.For == "" && o.Board.Give.Person == "" && len(o.Board.Mishaps) == 0 {
				ask.Spares = append(ask.Spares, reckon.Spare{ID: o.Board.ID, Name: o.Board.Name})
			}
		}
	}
	return j, ask, s.fromRack(ctx, workshop, b, j, &ask)
}

// alike tells of two boards that are drawn alike.
func alike(a, b reckon.Board) bool {
	const same = 0.5 // mm
	return a.Design.Shape == b.Design.Shape && math.Abs(a.Design.Length-b.Design.Length) < same &&
		math.Abs(a.Design.Width-b.Design.Width) < same
}

// How many other pieces a board may be begun again on, and from how many a piece may be let in.
const (
	mostRacked = 3
	mostPlugs  = 20
)

// fromRack adds what the rack holds of the board's wood: pieces to let in, and pieces to begin again on.
func (s *Server) fromRack(
	ctx context.Context, workshop string, b store.Board, j reckon.Scene, ask *reckon.Rescuing,
) error {
	if j.Slab.Made() {
		return nil
	}
	pieces, _, err := s.Store.Pieces(ctx, workshop, store.Wanted{Species: j.Slab.Species}, mostPlugs, 0)
	if err != nil {
		return err
	}
	for _, p := range pieces {
		if p.ID == b.Piece || p.Slab.Made() {
			continue
		}
		f := reckon.FactsOf(p.Slab, j.Shop)
		drawn := slab.Draw(p.Slab, j.Shop.Species)
		ask.Plugs = append(ask.Plugs, reckon.Plug{
			Name: p.Slab.Name, Species: p.Slab.Species, Length: f.Length, Width: drawn.MeanWidth(), High: f.Thickness,
		})
		wanted := j.Boards[0].Design
		if len(ask.Racked) == mostRacked || f.Length < wanted.Length || drawn.MeanWidth() < wanted.Width ||
			p.Slab.Reserved != "" {
			continue
		}
		there, err := s.job(ctx, workshop, p.ID, "")
		if err != nil {
			return err
		}
		again := j.Boards[0]
		again.Mishaps, again.Twin, again.Mates, again.Design.AsCut = nil, nil, nil, nil
		again.ID = store.NewID()
		there.Boards = append([]reckon.Board{again}, there.Boards...)
		if len(there.Boards) > reckon.MostBoards {
			continue
		}
		ask.Racked = append(ask.Racked, reckon.Racked{Piece: p.ID, Scene: there})
	}
	return nil
}

// priceOfWays prices what a way out takes by the shelf and the shop's rate.
func (s *Server) priceOfWays(ctx context.Context, workshop string, j reckon.Scene) (reckon.PriceOfWays, error) {
	rates := j.Shop.Rates()
	known := map[string][]shelf.Product{}
	of := func(uses []stage.Use) []shelf.Product {
		items := itemsOfUses(uses)
		key := strings.Join(items, "\n")
		if _, ok := known[key]; !ok {
			serving, err := s.Store.Serving(ctx, workshop, items)
			if err != nil {
				return nil // it is priced by the book
			}
			known[key] = productsOf(serving)
		}
		return known[key]
	}
	return func(uses []stage.Use, minutes float64) int {
		_, sum := shelf.Bill(uses, of(uses))
		return sum + rates.Work(minutes/60)
	}, nil
}

// rescueSheet is a board with its latest mishap, and what may go wrong at its next step.
func (s *Server) rescueSheet(ctx context.Context, in *idIn) (*struct{ Body RescueSheet }, error) {
	b, j, r, err := s.reckoned(ctx, in.ID, reckon.Request{})
	if err != nil {
		return nil, err
	}
	of := r.Boards[0]
	out := RescueSheet{
		Hurt: hurtOf(
			j.Boards[0],
			r,
		), Version: b.Version, Board: b.Board, Steps: of.Course.Steps, Given: b.Given != nil,
		Whom: cmp.Or(b.Board.Give.Whom, "gift"), Kinds: []rescue.Kind{}, Before: []MishapCost{},
	}
	at := craft.Give
	for _, d := range of.Course.Steps {
		if d.State != plan.Done {
			at, out.Next = d.Stage, d.Key
			break
		}
	}
	if course, ok := CourseOf(*r.Slab); ok && !course.Done { // what it is cut from is still being made
		at = craft.Glue
		if r.Slab.River != nil {
			at = craft.Fill
		}
	}
	likely := rescue.KindsAt(at, hasOf(b.Board, r))
	out.Likely = len(likely)
	out.Kinds = append(out.Kinds, likely...)
	for _, k := range rescue.Kinds() {
		if !slices.ContainsFunc(likely, func(o rescue.Kind) bool { return o.Key == k.Key }) {
			out.Kinds = append(out.Kinds, k)
		}
	}
	costs, err := s.mishapCosts(ctx)
	if err != nil {
		return nil, answer(err)
	}
	for _, c := range costs {
		if slices.ContainsFunc(likely, func(o rescue.Kind) bool { return o.Key == c.Kind }) {
			out.Before = append(out.Before, c)
		}
	}
	if i := latest(j.Boards[0]); i >= 0 {
		m := j.Boards[0].Mishaps[i]
		kind, _ := rescue.KindOf(m.Kind)
		out.Mishap, out.Fresh = &MishapLine{m.ID, kind, m.At, m.Days, m.Out}, m.Out == nil
	}
	return &struct{ Body RescueSheet }{out}, nil
}

// hasOf tells what a board has of what mishaps need.
func hasOf(b reckon.Board, r reckon.Reckoning) func(need string) bool {
	of := r.Boards[0]
	return func(need string) bool {
		switch need {
		case rescue.OfParts:
			return r.Slab.Parts != nil
		case rescue.OfResin:
			return of.Mix != nil || r.Slab.River != nil
		case rescue.OfHole:
			return len(of.Holes) > 0
		case rescue.OfLiveEdge:
			return b.Design.KeepLeft || b.Design.KeepRight
		case rescue.OfCord:
			return b.Fit.Cord
		}
		return len(of.Fittings.Items) > 0
	}
}

// mishap writes down that something went wrong on a board, at a step.
func (s *Server) mishap(ctx context.Context, j reckon.Scene, of reckon.Reckoned, e Event) error {
	i := slices.IndexFunc(of.Course.Steps, func(d plan.Dated) bool { return d.Key == e.Step })
	if i < 0 {
		return noSuchStep(e.Step)
	}
	step := of.Course.Steps[i]
	if ps := plan.Unfit(notings, e.Step, plan.NoteMishap, e.Value, false); len(ps) > 0 {
		return answer(ps)
	}
	at := e.when(s.Clock())
	j.Now = s.Clock()
	next, err := reckon.Happened(j, store.NewID(), step.Key, at, e.Value, *e.Mishap)
	if err != nil {
		return answer(err)
	}
	kind, _ := rescue.KindOf(e.Mishap.Kind)
	line := store.Entry{
		Subject: of.Course.Subject, Step: step.Key, Event: plan.Noted, At: at, Press: pressOf(ctx),
		Kind: string(step.Kind), Title: step.Title, Usual: step.Usual, What: plan.NoteMishap, Value: e.Value,
		Of: kind.Key, Words: cmp.Or(strings.TrimSpace(e.Words), kind.Name),
	}
	if len(e.Picture) > 0 {
		doc, err := s.keptPicture(ctx, e.Picture)
		if err != nil {
			return err
		}
		line.Picture = doc.ID
	}
	workshop := account(ctx).Workshop
	stored, err := s.Store.Board(ctx, workshop, next.ID)
	if err != nil {
		return answer(err)
	}
	kept := stored.Stored()
	kept.Board = next
	_, err = s.Store.Rescue(ctx, workshop, store.Rescued{Boards: []reckon.Stored{kept}, Log: []store.Entry{line}})
	return answer(busy(err))
}

// busy tells that a board was changed at the same moment.
func busy(err error) error {
	if stale := new(store.Stale[reckon.Board]); errors.As(err, &stale) {
		return huma.Error503ServiceUnavailable("the board is being changed; try again")
	}
	return err
}

// takeWay makes a way out the plan.
func (s *Server) takeWay(ctx context.Context, in *rescueIn) (*struct{ Body RescueSheet }, error) {
	workshop := account(ctx).Workshop
	if _, yes, err := s.Store.Repeated(ctx, workshop); err != nil || yes {
		if err != nil {
			return nil, answer(err)
		}
		return s.rescueSheet(ctx, &idIn{ID: in.ID})
	}
	j, ask, err := s.rescuing(ctx, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	if ask.Mishap != in.Body.Mishap {
		return nil, huma.Error409Conflict("something else has gone wrong on it since; look at its ways out")
	}
	way, err := s.wayOf(ctx, j, ask, in.Body.Way)
	if err != nil {
		return nil, answer(err)
	}
	stored, err := s.Store.Board(ctx, workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	out, err := s.taken(ctx, j, ask, stored, way)
	if err != nil {
		return nil, err
	}
	if _, err = s.Store.Rescue(ctx, workshop, out); err != nil {
		return nil, answer(busy(err))
	}
	return s.rescueSheet(ctx, &idIn{ID: in.ID})
}

// wayOf finds a way out by its key.
func (s *Server) wayOf(ctx context.Context, j reckon.Scene, ask reckon.Rescuing, key string) (reckon.WayOut, error) {
	ctx, done := context.WithCancel(ctx)
	defer done()
	var way *reckon.WayOut
	err := s.lookForWays(ctx, j, ask, func(t reckon.Tried) bool {
		if t.Way != nil && t.Way.Key == key {
			way = t.Way
		}
		return way == nil
	})
	if err != nil {
		return reckon.WayOut{}, err
	}
	if way == nil {
		return reckon.WayOut{}, craft.Problems{{
			Field: "body.way", Wrong: fmt.Sprintf("there is no way out %q any more", key), Right: "take one " +
				"that is offered",
		}}
	}
	return *way, nil
}

// taken is what is written when a way out is taken.
func (s *Server) taken(
	ctx context.Context, j reckon.Scene, ask reckon.Rescuing, was store.Board, way reckon.WayOut,
) (store.Rescued, error) {
	workshop := account(ctx).Workshop
	out := store.Rescued{}
	kept, other := was.Stored(), ""
	var joined []reckon.Stored
	switch {
	case way.Act == "begin":
		begun := way.Again(was.Board, store.NewID())
		other = begun.ID
		joined = append(joined, reckon.Stored{Board: begun, Piece: cmp.Or(way.On, was.Piece)})
		out.Run, out.Joins = was.Run, []string{begun.ID}
	case way.Act == "spare":
		spare, err := s.Store.Board(ctx, workshop, way.On)
		if err != nil {
			return out, answer(err)
		}
		taker := spare.Stored()
		taker.Board.Give = was.Board.Give
		other = spare.Board.ID
		joined = append(joined, taker)
	case way.Way == rescue.Rack:
		if size, ok := reckon.LeftOver(j, ask.Mishap); ok {
			v := slab.Sized(size)
			v.Moisture = j.Slab.Moisture
			out.Wood = append(out.Wood, v)
		}
	}
	kept.Board = way.Next(was.Board, other, was.Run)
	if kept.Board.Spoiled() {
		out.Leaves = []string{was.Board.ID}
	}
	there, err := s.there(ctx, workshop, was.Piece, []reckon.Stored{kept})
	if err != nil {
		return out, answer(err)
	}
	settled, err := reckon.Settle(there, []reckon.Stored{kept})
	if err != nil {
		return out, answer(err)
	}
	out.Boards = append(settled, joined...)
	m := kept.Board.Mishaps[was.Board.Undecided()]
	out.Log = []store.Entry{s.decided(was.Board, m, plan.NoteWayOut, way.Label, math.Max(0, way.Later), ctx)}
	return out, nil
}

// decided is the line of the log that tells of a decision.
func (s *Server) decided(
	b reckon.Board, m rescue.Mishap, what, words string, days float64, ctx context.Context,
) store.Entry {
	kind, _ := rescue.KindOf(m.Kind)
	return store.Entry{
		Subject: plan.Board(b.ID), Step: m.Step, Event: plan.Noted, At: s.Clock(), Press: pressOf(ctx),
		Kind: string(
			plan.Note,
		), Title: kind.Name, What: what, Value: math.Round(days*10) / 10, Of: m.Kind, Words: words,
	}
}

// takeWayBack takes the way out of the latest mishap back: the board is what it was before.
func (s *Server) takeWayBack(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		Mishap string `json:"mishap" maxLength:"64" doc:"Id of the mishap"`
	}
}) (*struct{ Body RescueSheet }, error) {
	workshop := account(ctx).Workshop
	if _, yes, err := s.Store.Repeated(ctx, workshop); err != nil || yes {
		if err != nil {
			return nil, answer(err)
		}
		return s.rescueSheet(ctx, &idIn{ID: in.ID})
	}
	b, err := s.Store.Board(ctx, workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	n := len(b.Board.Mishaps)
	if n == 0 || b.Board.Mishaps[n-1].ID != in.Body.Mishap || b.Board.Mishaps[n-1].Out == nil {
		return nil, huma.Error409Conflict("only what was decided last on a board can be taken back")
	}
	m := b.Board.Mishaps[n-1]
	kept := b.Stored()
	if err := craft.Patch(m.Out.Back).Apply(&kept.Board); err != nil || m.Out.Back == nil {
		return nil, huma.Error409Conflict("it can no longer be taken back: change the board by hand")
	}
	out := store.Rescued{Boards: []reckon.Stored{kept}}
	if m.Out.Run != "" {
		if _, err := s.Store.Run(ctx, workshop, m.Out.Run); err == nil { // it may be put away
			out.Run, out.Joins = m.Out.Run, []string{b.Board.ID}
		}
	}
	switch m.Out.Way {
	case rescue.Begin:
		begun, err := s.Store.Board(ctx, workshop, m.Out.Other)
		if err == nil && begun.Deleted == nil {
			gone := begun.Stored()
			gone.Version, gone.Binned = 0, true
			out.Boards = append(out.Boards, gone)
		}
	case rescue.Spare:
		spare, err := s.Store.Board(ctx, workshop, m.Out.Other)
		if err == nil {
			given := spare.Stored()
			given.Board.Give = reckon.Give{Use: spare.Board.Give.Use, People: spare.Board.Give.People}
			out.Boards = append(out.Boards, given)
		}
	}
	out.Log = []store.Entry{s.decided(b.Board, m, plan.NoteUndecided, m.Out.Label, 0, ctx)}
	if _, err := s.Store.Rescue(ctx, workshop, out); err != nil {
		return nil, answer(busy(err))
	}
	return s.rescueSheet(ctx, &idIn{ID: in.ID})
}

// Hint tells before a step what has gone wrong at such steps, and what keeps it from happening.
type Hint struct {
	Name   string `json:"name" doc:"What went wrong"`
	Times  int    `json:"times" doc:"How often"`
	Before string `json:"before" doc:"What keeps it from happening"`
}

// hints are what has gone wrong in the workshop, by the step at which it did, of boards of whatever kind.
func (s *Server) hints(ctx context.Context, workshop string) (func(plan.Course) []Hint, error) {
	all, err := s.Store.Mishaps(ctx, workshop)
	if err != nil {
		return nil, err
	}
	byStep := map[string][]Hint{}
	for _, m := range all {
		kind, ok := rescue.KindOf(m.Kind)
		if !ok || m.Step == "" {
			continue
		}
		at := operation(m.Step)
		i := slices.IndexFunc(byStep[at], func(h Hint) bool { return h.Name == kind.Name })
		if i < 0 {
			byStep[at] = append(byStep[at], Hint{Name: kind.Name, Before: kind.Before})
			i = len(byStep[at]) - 1
		}
		byStep[at][i].Times++
	}
	return func(c plan.Course) []Hint {
		for _, d := range c.Steps {
			if d.State != plan.Done {
				return byStep[operation(d.Key)]
			}
		}
		return nil
	}, nil
}

// operation is the key of a step without its number: every coat is a coat.
func operation(key string) string { return strings.TrimRight(key, "-0123456789") }

// mishapCosts adds up what each kind of mishap has cost, what cost most first.
func (s *Server) mishapCosts(ctx context.Context) ([]MishapCost, error) {
	boards, err := s.Store.Mishaps(ctx, account(ctx).Workshop)
	if err != nil {
		return nil, err
	}
	sums := map[string]*MishapCost{}
	for _, m := range boards {
		kind, ok := rescue.KindOf(m.Kind)
		if !ok {
			continue
		}
		c := sums[m.Kind]
		if c == nil {
			c = &MishapCost{
				Kind:    kind.Key,
				Name:    kind.Name,
				Warning: kind.Warning(),
				Before:  kind.Before,
				Ways:    []string{},
			}
			sums[m.Kind] = c
		}
		c.Times++
		c.Days += m.Days
		if m.Out == nil {
			c.Open++
			continue
		}
		c.Days += math.Max(0, m.Out.Days)
		c.Minutes += math.Max(0, m.Out.Minutes)
		c.Cents += max(0, m.Out.Cents)
		c.Ways = append(c.Ways, m.Out.Label)
	}
	out := []MishapCost{}
	for _, c := range sums {
		c.Days = math.Round(c.Days*10) / 10
		out = append(out, *c)
	}
	slices.SortFunc(out, func(a, b MishapCost) int {
		return cmp.Or(cmp.Compare(b.Cents, a.Cents), cmp.Compare(b.Days, a.Days), cmp.Compare(b.Times, a.Times),
			cmp.Compare(a.Kind, b.Kind))
	})
	return out, nil
}
