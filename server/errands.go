package server

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"runtime/debug"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/riverqueue/river"

	"idletimber/store"
)

// usualPatience is how long an errand goes on without a page that looks.
const usualPatience = 10 * time.Second

// Times of whoever does an errand: how often it gives a sign of life, and how often those of other processes are looked
// at.
const (
	beatEvery     = 250 * time.Millisecond
	takeOverEvery = 2 * time.Second
)

// Queues of errands: searches take a core for seconds or minutes; papers are done soon, and never wait for a search.
const (
	searching = "searches"
	papers    = "papers"
)

// mostPapers is how many papers a process makes at once.
const mostPapers = 2

// errandKinds are the kinds of long work. Each is done by its own hand, which returns when its context ends.
var errandKinds = map[string]struct {
	queue string
	do    func(*Server, context.Context, *errand) error
}{
	"search":     {searching, (*Server).doSearch},
	"spread":     {searching, (*Server).doSpread},
	"order":      {papers, (*Server).doOrder},
	"everything": {papers, paper((*Server).everything)},
	"run sheet":  {papers, paper((*Server).printRun)},
	"run labels": {papers, paper((*Server).labelRun)},
	"run cards":  {papers, paper((*Server).printCards)},
}

// asked is what an errand asks: the input of whoever does it, and where the request came from.
type asked[T any] struct {
	In      T      `json:"in"`
	Reached string `json:"reached"` // the address by which its maker reaches us
}

// send sends somebody on an errand for the maker of a request, and returns its id.
func send[T any](ctx context.Context, s *Server, kind string, in T) (string, error) {
	ask := asked[T]{in, clientOf(ctx).reached}
	id, err := s.Store.NewErrand(ctx, account(ctx).Workshop, kind, errandKinds[kind].queue, ask,
		s.Limits.Errands, s.patience())
	switch {
	case errors.Is(err, store.ErrManyErrands):
		return "", huma.Error429TooManyRequests(fmt.Sprintf(
			"%d of your searches and papers are under way; stop one, or wait until one is done", s.Limits.Errands))
	case errors.Is(err, store.ErrAllErrands):
		return "", huma.Error503ServiceUnavailable("too many searches wait; try again in a while")
	}
	return id, answer(err)
}

func (s *Server) patience() time.Duration { return cmp.Or(s.Patience, usualPatience) }

// errand is one that is done here.
type errand struct {
	store.Errand
	job    int64
	begun  time.Time
	before float64 // seconds that it ran for elsewhere

	mu    sync.Mutex
	moves int
	found any // better than what was told, or nil
	news  chan struct{}
}

// told notes how far an errand has come, and something better if it was found.
func (d *errand) told(moves int, better any) {
	d.mu.Lock()
	d.moves = moves
	if better != nil {
		d.found = better
	}
	d.mu.Unlock()
	if better != nil {
		select {
		case d.news <- struct{}{}:
		default:
		}
	}
}

// seconds is how long the errand has run for, elsewhere too.
func (d *errand) seconds() float64 { return d.before + time.Since(d.begun).Seconds() }

// progress is what is to be told now. What could not be told is told again, unless something better was found.
func (d *errand) progress() store.Progress {
	d.mu.Lock()
	defer d.mu.Unlock()
	p := store.Progress{Moves: d.moves, Seconds: d.seconds(), Found: d.found}
	d.found = nil
	return p
}

func (d *errand) again(found any) {
	d.mu.Lock()
	defer d.mu.Unlock()
	if d.found == nil {
		d.found = found
	}
}

// Why an errand is left.
var (
	errGone  = errors.New("nobody looks on")
	errTaken = errors.New("it is over, or another process does it")
)

// beat tells how far an errand has come, until its context ends, and ends it when nobody wants it any more.
func (s *Server) beat(ctx context.Context, d *errand, leave context.CancelCauseFunc) {
	stopped, shut := s.Store.HearStop(d.ID)
	defer shut()
	tick := time.NewTicker(beatEvery)
	defer tick.Stop()
	for {
		if err := s.beatOnce(ctx, d); err != nil {
			leave(err)
			return
		}
		select {
		case <-ctx.Done():
			return
		case <-d.news:
		case <-tick.C:
		case <-stopped:
		}
	}
}

// beatOnce gives one sign of life. A database that is away is waited for: whoever takes over meanwhile is told of next
// time.
func (s *Server) beatOnce(ctx context.Context, d *errand) error {
	p := d.progress()
	watched, err := s.Store.BeatErrand(ctx, d.ID, d.job, p, s.patience())
	switch {
	case errors.Is(err, store.ErrNotFound):
		return errTaken
	case err != nil:
		d.again(p.Found)
	case !watched:
		return errGone
	}
	return nil
}

// Why an errand goes back into its line.
var (
	errEnding  = errors.New("this process ends")
	errUnknown = errors.New("another version of the program is to do it")
)

// do does the errand of a job of River, or goes on with it.
func (s *Server) do(ctx context.Context, id string, job int64) error {
	e, err := s.Store.BeginErrand(ctx, id, job, s.patience())
	if errors.Is(err, store.ErrNotFound) || err == nil && e.Over() {
		return nil
	}
	if err != nil {
		return river.JobSnooze(time.Second)
	}
	log := s.Log.With("errand", e.ID, "job", job, "kind", e.Kind)
	log.Info("errand begun", "try", e.Tries, "seconds", e.Seconds)
	d := &errand{
		Errand: e,
		job:    job,
		begun:  time.Now(),
		before: e.Seconds,
		moves:  e.Moves,
		news:   make(chan struct{}, 1),
	}
	work, leave := context.WithCancelCause(ctx)
	var beating sync.WaitGroup
	beating.Go(func() { s.beat(work, d, leave) })
	err = s.handed(work, d)
	switch cause := context.Cause(work); {
	case ctx.Err() != nil:
		err = errEnding
	case cause != nil:
		err = cause
	}
	leave(nil)
	beating.Wait()
	return s.conclude(context.WithoutCancel(ctx), log, d, err)
}

// conclude leaves an errand that ended so: over, or for somebody else to go on with.
func (s *Server) conclude(ctx context.Context, log *slog.Logger, d *errand, ended error) error {
	ctx, cancel := context.WithTimeout(ctx, workTime)
	defer cancel()
	if errors.Is(ended, errTaken) || store.Away(ended) { // what the database is away for is taken over
		log.Info("errand left", "why", ended)
		return nil
	}
	_, _ = s.Store.BeatErrand(ctx, d.ID, d.job, d.progress(), s.patience()) // the last that was found
	state, why := store.Done, (*huma.ErrorModel)(nil)
	switch {
	case errors.Is(ended, errEnding), errors.Is(ended, errUnknown):
		err := s.Store.HandBackErrand(ctx, d.ID, d.job)
		log.Info("errand handed back", "why", ended, "seconds", d.seconds(), "error", err)
		if errors.Is(ended, errEnding) {
			return river.JobSnooze(0)
		}
		return river.JobSnooze(time.Second)
	case errors.Is(ended, errGone):
		state = store.Cancelled
	case ended != nil:
		state, why = store.Failed, s.whyFailed(log, ended)
	}
	err := s.Store.EndErrand(ctx, d.ID, d.job, state, why)
	s.metrics.errands.WithLabelValues(d.Kind, state).Observe(time.Since(d.begun).Seconds())
	log.Info("errand over", "state", state, "seconds", d.seconds(), "error", err)
	return nil
}

// brokeOff is what a maker is told of an errand that broke off; the log tells why.
const brokeOff = "something went wrong here; try again"

// broke is an errand that broke off.
type broke struct {
	what  any
	stack []byte
}

func (b broke) Error() string { return fmt.Sprint(b.what) }

// handed has an errand done by its kind's hand, on behalf of its workshop.
func (s *Server) handed(ctx context.Context, d *errand) (err error) {
	defer func() {
		if what := recover(); what != nil { // outside any request, it would end the process
			err = broke{what, debug.Stack()}
		}
	}()
	kind, ok := errandKinds[d.Kind]
	if !ok {
		return errUnknown
	}
	var from asked[json.RawMessage]
	if err := json.Unmarshal(d.Ask, &from); err != nil {
		return err
	}
	ctx = context.WithValue(ctx, accountKey{}, signedIn{store.Account{Workshop: d.Workshop}, ""})
	ctx = context.WithValue(ctx, clientKey{}, client{reached: from.Reached})
	return kind.do(s, ctx, d)
}

// in reads what an errand asks.
func in[T any](d *errand) (T, error) {
	var ask asked[T]
	err := json.Unmarshal(d.Ask, &ask)
	return ask.In, err
}

// whyFailed is what the maker is told of an errand that failed.
func (s *Server) whyFailed(log *slog.Logger, err error) *huma.ErrorModel {
	var known *huma.ErrorModel
	if errors.As(answer(err), &known) {
		return known
	}
	var off broke
	errors.As(err, &off)
	log.Error("an errand broke off", "error", err, "stack", string(off.stack))
	return &huma.ErrorModel{
		Status: http.StatusInternalServerError,
		Title:  http.StatusText(http.StatusInternalServerError),
		Detail: brokeOff,
	}
}

// watch tells each news of an errand, and the last again when it is to tell that it
// is alive, until it is over, the page is gone or tell fails.
func (s *Server) watch(
	ctx context.Context, id string, alive <-chan struct{}, tell func(store.Errand) error,
) error {
	workshop := account(ctx).Workshop
	heard, shut := s.Store.HearErrand(id)
	defer shut()
	look := time.NewTicker(s.patience() / 3)
	defer look.Stop()
	watched := false
	seen := 0
	for {
		if !watched {
			err := s.Store.WatchErrand(ctx, workshop, id)
			if errors.Is(err, store.ErrNotFound) {
				return err
			}
			watched = err == nil
		}
		e, err := s.Store.Errand(ctx, workshop, id, seen)
		switch {
		case errors.Is(err, store.ErrNotFound):
			return err
		case err == nil:
			seen = e.Finds
			if tell(e) != nil || e.Over() {
				return nil
			}
		}
		select {
		case <-heard:
		case <-alive:
		case <-look.C:
			watched = false
		case <-ctx.Done():
			return ctx.Err()
		}
	}
}

// await waits for the end of an errand as long as its request does, and stops it otherwise.
func (s *Server) await(ctx context.Context, id string) (e store.Errand, err error) {
	err = s.watch(ctx, id, nil, func(now store.Errand) error {
		e = now
		return nil
	})
	if err != nil {
		leaving, cancel := context.WithTimeout(context.WithoutCancel(ctx), time.Second)
		defer cancel()
		_ = s.Store.StopErrand(leaving, account(ctx).Workshop, id)
		if ctx.Err() != nil {
			err = errGivenUp
		}
		return e, answer(err)
	}
	switch e.State {
	case store.Done:
		return e, nil
	case store.Failed:
		return e, wrongOf(e)
	}
	return e, answer(errGivenUp)
}

// wrongOf is why an errand failed.
func wrongOf(e store.Errand) *huma.ErrorModel {
	var why huma.ErrorModel
	if json.Unmarshal(e.Wrong, &why) != nil || why.Status == 0 {
		why = huma.ErrorModel{Status: http.StatusInternalServerError, Detail: brokeOff}
	}
	return &why
}

// inWords is what is wrong, with its details, in a line.
func inWords(why *huma.ErrorModel) string {
	text := why.Detail
	for _, d := range why.Errors {
		text += "; " + d.Message
	}
	return text
}

// paper is the hand of an errand that makes a file.
func paper[T any](
	make func(*Server, context.Context, *T) (*file, error),
) func(*Server, context.Context, *errand) error {
	return func(s *Server, ctx context.Context, d *errand) error {
		ask, err := in[T](d)
		if err != nil {
			return err
		}
		f, err := make(s, ctx, &ask)
		if err != nil {
			return err
		}
		return s.Store.PutFile(ctx, d.ID, d.job, store.FileDoc{Name: f.Disposition, Type: f.Type}, f.Body)
	}
}

// byErrand answers with a file that an errand makes.
func byErrand[T any](s *Server, kind string) func(context.Context, *T) (*file, error) {
	return func(ctx context.Context, in *T) (*file, error) {
		id, err := send(ctx, s, kind, *in)
		if err != nil {
			return nil, err
		}
		if _, err := s.await(ctx, id); err != nil {
			return nil, err
		}
		return s.errandFile(ctx, &idIn{id})
	}
}

// errandFile is the file that an errand has made.
func (s *Server) errandFile(ctx context.Context, in *idIn) (*file, error) {
	d, data, err := s.Store.File(ctx, account(ctx).Workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	return &file{d.Type, d.Name, data}, nil
}

// work begins to do errands in this process, so many searches at once; the returned function ends that: what is under
// way is handed back.
func (s *Server) work(searches int) (end func(), err error) {
	if searches == 0 {
		return func() {}, nil
	}
	client, err := s.Store.Queue(s.Log, map[string]int{searching: searches, papers: mostPapers}, s.do)
	if err != nil {
		return nil, fmt.Errorf("make the queue: %w", err)
	}
	on, over := context.WithCancel(context.Background())
	if err := client.Start(on); err != nil {
		over()
		return nil, fmt.Errorf("begin with the queue: %w", err)
	}
	go s.takeOver(on)
	return func() {
		grace, cancel := context.WithTimeout(context.Background(), workTime)
		defer cancel()
		if err := client.StopAndCancel(grace); err != nil {
			s.Log.Warn("errands were not handed back", "error", err)
		}
		over()
	}, nil
}

// takeOver looks after errands whose process has gone.
func (s *Server) takeOver(ctx context.Context) {
	tick := time.NewTicker(takeOverEvery)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
		n, err := s.Store.TakeOver(ctx)
		if n > 0 || err != nil && !store.Away(err) && ctx.Err() == nil {
			s.Log.Warn("errands taken over", "count", n, "error", err)
		}
	}
}
