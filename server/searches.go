package server

import (
	"cmp"
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"iter"
	"log/slog"
	"net/http"
	"runtime/debug"
	"slices"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/sse"

	"idletimber/craft"
	"idletimber/craft/reckon"
)

// SearchNews is how far a search for a lay-out has come.
type SearchNews struct {
	State     string            `json:"state" enum:"waiting,running,done,stopped,cancelled,failed"`
	Ahead     int               `json:"ahead" doc:"Searches that come before it while it waits"`
	Moves     int               `json:"moves"`
	Seconds   float64           `json:"seconds" doc:"That it has run for"`
	Proposals []reckon.Proposal `json:"proposals"`
	Spread    *reckon.Spread    `json:"spread,omitempty" doc:"Where it lays over several pieces"`
}

// Times of searches: what a page that is gone is waited for, and how often a
// page is told of progress that is no better.
const (
	usualPatience = 10 * time.Second
	newsEvery     = 250 * time.Millisecond
)

// How many searches may be in work, of all makers and of one.
const (
	mostSearches = 400
	mostOfOne    = 4
)

// searches runs one search at a time, so that drafts stay quick. Workshops take
// turns: one that asks for many waits behind itself, not the others behind it.
type searches struct {
	patience time.Duration
	log      *slog.Logger
	seek     seek
	mu       sync.Mutex
	byID     map[string]*searchRun
	queue    []*searchRun // the first one runs
	ended    bool
}

// seek is how a lay-out on one piece is looked for.
type seek func(reckon.Scene, reckon.Seeking) (iter.Seq[reckon.Sought], error)

// searchStep is one step of a search: whether it found something better, and how that is told.
type searchStep struct {
	better bool
	tell   func(*SearchNews)
}

// steps are the steps of a search, on one piece or over several.
func (r *searchRun) steps(one seek) (iter.Seq[searchStep], error) {
	if r.sheets == nil {
		found, err := one(r.job, r.seeking)
		return steps(found, func(s reckon.Sought) searchStep {
			return searchStep{s.Better, func(n *SearchNews) {
				if n.Moves = s.Moves; s.Better {
					n.Proposals = s.Proposals
				}
			}}
		}), err
	}
	watch := craft.Watch(func() error { return context.Cause(r.ctx) })
	for i := range r.sheets {
		r.sheets[i].Scene.Watch = watch
	}
	laid := -1
	found, err := reckon.SpreadOver(r.sheets, r.seeking.Wants)
	return steps(found, func(s reckon.Spread) searchStep {
		better := s.Laid > laid
		laid = s.Laid
		return searchStep{better, func(n *SearchNews) { n.Spread = &s }}
	}), err
}

// steps makes the steps of a search of what it finds.
func steps[T any](found iter.Seq[T], step func(T) searchStep) iter.Seq[searchStep] {
	return func(yield func(searchStep) bool) {
		for f := range found {
			if !yield(step(f)) {
				return
			}
		}
	}
}

// searchRun is one search, waiting, running or over.
type searchRun struct {
	id, workshop string
	job          reckon.Scene
	seeking      reckon.Seeking
	limit        time.Duration
	sheets       []reckon.Sheet // where the wishes are spread over several pieces

	ctx     context.Context
	cancel  context.CancelCauseFunc
	news    SearchNews
	changed chan struct{} // closed when there is news
	pages   int           // that look on
	gone    *time.Timer   // since none does
	failed  bool
}

var (
	errStopped = errors.New("stopped")
	errGone    = errors.New("nobody looks on")
)

func newSearches(patience time.Duration, log *slog.Logger) *searches {
	return &searches{
		patience: cmp.Or(patience, usualPatience),
		log:      log,
		seek:     reckon.Seek,
		byID:     map[string]*searchRun{},
	}
}

// add queues a search; it is cancelled unless a page looks on soon.
func (s *searches) add(r *searchRun) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	own := 0
	for _, o := range s.queue {
		if o.workshop == r.workshop {
			own++
		}
	}
	switch {
	case own >= mostOfOne:
		return huma.Error429TooManyRequests(
			fmt.Sprintf("%d of your searches are under way; stop one, or wait until one is done", own))
	case s.ended || len(s.queue) >= mostSearches:
		return huma.Error503ServiceUnavailable("too many searches wait; try again in a while")
	}
	r.id = rand.Text()
	r.ctx, r.cancel = context.WithCancelCause(context.Background())
	r.changed = make(chan struct{})
	r.news = SearchNews{State: "waiting", Proposals: []reckon.Proposal{}}
	r.gone = time.AfterFunc(s.patience, func() { r.cancel(errGone) })
	s.byID[r.id] = r
	s.queue = slices.Insert(s.queue, s.place(r.workshop, own), r)
	s.count()
	context.AfterFunc(r.ctx, func() { s.leave(r) }) // one that waits need not come to run first
	if len(s.queue) == 1 {
		go s.run(r)
	}
	return nil
}

// place is where in the queue a workshop's next search comes, of which it has so many
// already: after the same round of the others, and never before the one that runs.
func (s *searches) place(workshop string, own int) int {
	rounds := map[string]int{}
	for i, o := range s.queue {
		if rounds[o.workshop] > own {
			return max(i, 1)
		}
		rounds[o.workshop]++
	}
	return len(s.queue)
}

// count tells those that wait how many are ahead of them.
func (s *searches) count() {
	for i, r := range s.queue {
		if r.news.State == "waiting" && r.news.Ahead != i {
			r.news.Ahead = i
			r.tell()
		}
	}
}

// tell wakes the pages that look on.
func (r *searchRun) tell() {
	close(r.changed)
	r.changed = make(chan struct{})
}

// leave takes a search that was given up out of the queue while it waits.
func (s *searches) leave(r *searchRun) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if r.news.State != "waiting" {
		return
	}
	s.queue = slices.DeleteFunc(s.queue, func(o *searchRun) bool { return o == r })
	s.finish(r)
	s.count()
}

// finish tells how a search came to its end, and forgets it after a while.
func (s *searches) finish(r *searchRun) {
	switch {
	case r.failed:
		r.news.State = "failed"
	case errors.Is(context.Cause(r.ctx), errGone):
		r.news.State = "cancelled"
	case errors.Is(context.Cause(r.ctx), errStopped):
		r.news.State = "stopped"
	default:
		r.news.State = "done"
	}
	r.tell()
	time.AfterFunc(s.patience, func() {
		s.mu.Lock()
		delete(s.byID, r.id)
		s.mu.Unlock()
	})
}

// run runs a search to its end, and then the next one.
func (s *searches) run(r *searchRun) {
	s.mu.Lock()
	if r.ctx.Err() != nil || r.news.State != "waiting" {
		s.mu.Unlock()
		s.next(r)
		return
	}
	r.news.State, r.news.Ahead = "running", 0
	r.tell()
	s.mu.Unlock()
	defer s.next(r)
	defer func() {
		if broke := recover(); broke != nil { // outside any request, it would end the server
			s.log.Error("a search broke off", "error", broke, "stack", string(debug.Stack()))
			s.mu.Lock()
			r.failed = true
			s.mu.Unlock()
		}
	}()
	steps, err := r.steps(s.seek)
	start := time.Now()
	told := start
	if err == nil {
		for step := range steps {
			now := time.Now()
			if step.better || now.Sub(told) >= newsEvery {
				told = now
				s.mu.Lock()
				step.tell(&r.news)
				r.news.Seconds = now.Sub(start).Seconds()
				r.tell()
				s.mu.Unlock()
			}
			if r.ctx.Err() != nil || now.Sub(start) >= r.limit {
				break
			}
		}
	}
}

// next ends the search that ran and begins the one that waited longest.
func (s *searches) next(r *searchRun) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.queue = slices.DeleteFunc(s.queue, func(o *searchRun) bool { return o == r })
	if r.news.State == "running" {
		s.finish(r)
	}
	s.count()
	if len(s.queue) > 0 && !s.ended {
		go s.run(s.queue[0])
	}
}

// of is a search of a workshop.
func (s *searches) of(workshop, id string) (*searchRun, bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	r, ok := s.byID[id]
	return r, ok && r.workshop == workshop
}

// watch tells each news of a search, and the last again when it is to tell that it
// is alive, until it is over, the page is gone or tell fails.
func (s *searches) watch(ctx context.Context, r *searchRun, alive <-chan struct{}, tell func(SearchNews) error) {
	s.mu.Lock()
	r.pages++
	r.gone.Stop()
	s.mu.Unlock()
	defer func() {
		s.mu.Lock()
		defer s.mu.Unlock()
		if r.pages--; r.pages == 0 {
			r.gone.Reset(s.patience)
		}
	}()
	for {
		s.mu.Lock()
		news, changed := r.news, r.changed
		s.mu.Unlock()
		if tell(news) != nil || news.State != "waiting" && news.State != "running" {
			return
		}
		select {
		case <-changed:
		case <-alive:
		case <-ctx.Done():
			return
		}
	}
}

// end gives up all searches.
func (s *searches) end() {
	s.mu.Lock()
	s.ended = true
	all := slices.Clone(s.queue)
	s.mu.Unlock()
	for _, r := range all {
		r.cancel(errGone)
	}
}

// SearchDoc names a search that was begun.
type SearchDoc struct {
	ID string `json:"id"`
}

func (s *Server) searchRoutes(api huma.API) {
	huma.Post(api, "/api/pieces/{id}/searches", s.search)
	huma.Post(api, "/api/searches/{id}/stop", func(ctx context.Context, in *idIn) (*struct{}, error) {
		r, ok := s.searches.of(account(ctx).Workshop, in.ID)
		if !ok {
			return nil, huma.Error404NotFound("this search is over")
		}
		r.cancel(errStopped)
		return nil, nil
	})
	sse.Register(
		api,
		huma.Operation{
			OperationID: "watch-search",
			Method:      http.MethodGet,
			Path:        "/api/searches/{id}/news",
			Summary:     "A search as it goes on",
		},
		map[string]any{"news": SearchNews{}, "over": struct{}{}},
		func(ctx context.Context, in *idIn, send sse.Sender) {
			ctx, alive, over := s.stream(ctx)
			defer over()
			r, ok := s.searches.of(account(ctx).Workshop, in.ID)
			if !ok {
				_ = send.Data(struct{}{}) // the page may be gone as well
				return
			}
			s.searches.watch(ctx, r, alive, func(n SearchNews) error { return send.Data(n) })
		},
	)
}

// search begins a search for a lay-out on a piece.
func (s *Server) search(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		Boards  []reckon.Board `json:"boards" maxItems:"60" doc:"That stay where they are"`
		Seeking reckon.Seeking `json:"seeking"`
		Seconds float64        `json:"seconds" minimum:"1" maximum:"120"`
	}
}) (*struct{ Body SearchDoc }, error) {
	j, _, err := s.onSlab(ctx, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	j.Boards = in.Body.Boards
	if j.Leaf != nil { // the twin of a board that is laid anew is out of the way
		stays := func(id string) bool {
			return slices.ContainsFunc(j.Boards, func(b reckon.Board) bool { return b.ID == id })
		}
		j.Leaf.Boards = slices.DeleteFunc(
			j.Leaf.Boards,
			func(b reckon.Board) bool { return b.Twin != nil && b.Twin.Piece == in.ID && !stays(b.Twin.Board) },
		)
	}
	ps := slices.Concat(in.Body.Seeking.Check("body.seeking"), j.Check())
	if j.Leaf == nil && slices.ContainsFunc(in.Body.Seeking.Wants, func(w reckon.Want) bool { return w.Twin }) {
		ps.Add("body.seeking.wishes", "the other leaf is not on the rack", "wish for boards without twins")
	}
	if len(ps) > 0 {
		return nil, answer(craft.Problems(ps))
	}
	r := &searchRun{
		workshop: account(ctx).Workshop,
		job:      j,
		seeking:  in.Body.Seeking,
		limit:    time.Duration(in.Body.Seconds * float64(time.Second)),
	}
	if err := s.searches.add(r); err != nil {
		return nil, err
	}
	return &struct{ Body SearchDoc }{SearchDoc{r.id}}, nil
}
