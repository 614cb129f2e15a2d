package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"log/slog"
	"time"

	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverdatabasesql"
)

// Errand is long work that a process asks for and any that works does: what is asked, how far it has come, and the
// best so far.
type Errand struct {
	ID       string
	Workshop string `db:"workshop_id"`
	Kind     string
	Ask      json.RawMessage
	State    string // waiting, running, done, stopped, cancelled or failed
	Ahead    int    // that come before it while it waits
	Tries    int    // how often it was begun
	Found    []byte // the best so far, JSON; none where nothing was found, or nothing since it was last read
	Finds    int    // how often something better was found
	Moves    int
	Seconds  float64 // that it has run for
	File     []byte  // name and type of what it made, JSON
	Wrong    []byte  // why it failed, JSON
}

// Over reports whether an errand has come to its end.
func (e Errand) Over() bool { return e.State != Waiting && e.State != Running }

// States of an errand.
const (
	Waiting   = "waiting"
	Running   = "running"
	Done      = "done"
	Stopped   = "stopped"   // by its maker
	Cancelled = "cancelled" // nobody looked on
	Failed    = "failed"
)

// Errands of one workshop at a time, and of all. A workshop's first goes before every other's second.
const (
	MostErrands = 4 // as many as River has priorities
	mostWaiting = 400
)

// Times of errands: without a sign of life for so long, one is taken over by another process; what has ended is kept
// for so long; and one that breaks off so often is not begun again.
const (
	lostAfter  = 5 * time.Second
	keptEnded  = time.Hour
	mostTries  = 4
	stuckAfter = 15 * time.Minute
)

// Why an errand is not taken.
var (
	ErrManyErrands = errors.New("as many errands are under way as may be at once")
	ErrAllErrands  = errors.New("too many errands wait")
)

// ErrandJob is the job of River that does an errand.
type ErrandJob struct {
	Errand string `json:"errand"`
}

// Kind is how River knows it.
func (ErrandJob) Kind() string { return "errand" }

// about is whom the news of an errand concern.
func aboutErrand(id string) string { return "errand " + id }

// HearErrand carries the news of an errand until shut: each time it is to be read again.
func (s *Store) HearErrand(id string) (heard <-chan News, shut func()) {
	return s.Hear(aboutErrand(id))
}

func (s *Store) tellErrand(id string) { s.Tell(aboutErrand(id), "errand", nil) }

// aboutStop is whom the stop of an errand concerns: whoever does it.
func aboutStop(id string) string { return "stop " + id }

// HearStop carries that an errand was stopped until shut.
func (s *Store) HearStop(id string) (heard <-chan News, shut func()) { return s.Hear(aboutStop(id)) }

// NewErrand queues an errand of a workshop, of which there may be so many, and returns its id. The error is
// ErrManyErrands or ErrAllErrands where there are too many, of the workshop or of all, that somebody has looked at
// within their patience.
func (s *Store) NewErrand(
	ctx context.Context, workshop, kind, queue string, ask any, most int, patience time.Duration,
) (string, error) {
	text, err := encode(ask)
	if err != nil {
		return "", err
	}
	ids, err := s.once(ctx, workshop, func(tx *Store) error {
		if err := tx.alone(ctx, "errands", workshop); err != nil {
			return err
		}
		var open struct{ Own, All int }
		if err := tx.q.GetContext(ctx, &open, `SELECT count(*) FILTER (WHERE workshop_id = $1) AS own, count(*) AS all
			FROM errands WHERE ended_at IS NULL AND `+looked, workshop, patience.Seconds()); err != nil {
			return err
		}
		switch {
		case open.Own >= min(most, MostErrands):
			return ErrManyErrands
		case open.All >= mostWaiting:
			return ErrAllErrands
		}
		var id string
		if err := tx.q.GetContext(ctx, &id, `INSERT INTO errands (workshop_id, kind, ask) VALUES ($1, $2, $3)
			RETURNING id`, workshop, kind, text); err != nil {
			return err
		}
		tx.made(id)
		return tx.enqueue(ctx, id, queue, open.Own+1)
	})
	if err != nil {
		return "", err
	}
	return ids[0], nil
}

// looked is the condition that a page has looked at an errand within so many seconds.
const looked = `watched_at > clock_timestamp() - make_interval(secs => $2)`

// enqueue makes a job of River for an errand.
func (s *Store) enqueue(ctx context.Context, id, queue string, priority int) error {
	job, err := s.queue.InsertTx(ctx, s.tx, ErrandJob{id}, &river.InsertOpts{Queue: queue, Priority: priority})
	if err != nil {
		return err
	}
	return found(s.q.ExecContext(ctx, `UPDATE errands SET job = $2, state = 'waiting' WHERE id = $1`, id, job.Job.ID))
}

const errandColumns = `id, workshop_id, kind, ask, state, tries, finds, moves, seconds, file, wrong`

// Errand reads an errand of a workshop, and what it has found if that is more than was seen.
func (s *Store) Errand(ctx context.Context, workshop, id string, seen int) (e Errand, err error) {
	if !known(id) {
		return e, ErrNotFound
	}
	err = s.q.GetContext(ctx, &e, `SELECT `+errandColumns+`, CASE WHEN finds > $3 THEN found END AS found,
		CASE WHEN state = 'waiting' THEN (SELECT count(*) FROM river_job j JOIN errands o ON o.job = j.id,
			(SELECT queue, priority, scheduled_at, id FROM river_job WHERE id = e.job) mine
			WHERE o.ended_at IS NULL AND j.queue = mine.queue AND (o.state = 'running' OR o.state = 'waiting'
			AND (j.priority, j.scheduled_at, j.id) < (mine.priority, mine.scheduled_at, mine.id))) ELSE 0 END AS ahead
		FROM errands e WHERE workshop_id = $1 AND id = $2`, workshop, id, seen)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return e, err
}

// WatchErrand notes that somebody looks at an errand.
func (s *Store) WatchErrand(ctx context.Context, workshop, id string) error {
	if !known(id) {
		return ErrNotFound
	}
	return found(s.q.ExecContext(ctx, `UPDATE errands SET watched_at = clock_timestamp()
		WHERE workshop_id = $1 AND id = $2`, workshop, id))
}

// StopErrand ends an errand as its maker wishes; what was found stays. The error is ErrNotFound when it is over.
func (s *Store) StopErrand(ctx context.Context, workshop, id string) error {
	if !known(id) {
		return ErrNotFound
	}
	err := found(s.q.ExecContext(ctx, `UPDATE errands SET state = 'stopped', ended_at = clock_timestamp()
		WHERE workshop_id = $1 AND id = $2 AND ended_at IS NULL`, workshop, id))
	if err == nil {
		s.tellErrand(id)
		s.Tell(aboutStop(id), "errand", nil)
	}
	return err
}

// BeginErrand begins the errand of a job, or goes on with it. The error is ErrNotFound when it is over or another job
// does it. One that nobody has looked at within their patience, or that broke off too often, ends here.
func (s *Store) BeginErrand(ctx context.Context, id string, job int64, patience time.Duration) (e Errand, err error) {
	err = s.q.GetContext(ctx, &e, `UPDATE errands SET tries = tries + 1, beat_at = clock_timestamp(),
		state = CASE WHEN NOT (`+looked+`) THEN 'cancelled' WHEN tries >= $4 THEN 'failed' ELSE 'running' END,
		ended_at = CASE WHEN NOT (`+looked+`) OR tries >= $4 THEN clock_timestamp() END
		WHERE id = $1 AND job = $3 AND ended_at IS NULL RETURNING `+errandColumns+`, found`,
		id, patience.Seconds(), job, mostTries)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	if err == nil {
		s.tellErrand(id)
	}
	return e, err
}

// Progress is how far whoever does an errand has come.
type Progress struct {
	Moves   int
	Seconds float64
	Found   any // better than before; nil where nothing is
}

// BeatErrand is a sign of life of the job that does an errand, with how far it has come. It tells whether a page has
// looked within its patience. The error is ErrNotFound when the errand is over or another job does it.
func (s *Store) BeatErrand(
	ctx context.Context, id string, job int64, p Progress, patience time.Duration,
) (watched bool, err error) {
	var better *string
	if p.Found != nil {
		text, err := encode(p.Found)
		if err != nil {
			return false, err
		}
		better = &text
	}
	err = s.q.GetContext(ctx, &watched, `UPDATE errands SET beat_at = clock_timestamp(), moves = $4, seconds = $5,
		found = coalesce($6::jsonb, found), finds = finds + ($6::jsonb IS NOT NULL)::integer
		WHERE id = $1 AND job = $3 AND state = 'running' RETURNING `+looked,
		id, patience.Seconds(), job, p.Moves, p.Seconds, better)
	if errors.Is(err, sql.ErrNoRows) {
		return false, ErrNotFound
	}
	if err == nil {
		s.tellErrand(id)
	}
	return watched, err
}

// EndErrand ends the errand of a job; why it failed is kept for its maker.
func (s *Store) EndErrand(ctx context.Context, id string, job int64, state string, wrong any) error {
	why, err := encode(wrong)
	if err != nil {
		return err
	}
	err = found(s.q.ExecContext(ctx, `UPDATE errands SET state = $3, wrong = $4, ended_at = clock_timestamp()
		WHERE id = $1 AND job = $2 AND state = 'running'`, id, job, state, why))
	s.tellErrand(id)
	return err
}

// HandBackErrand puts the errand of a job back into the line, with what was found: whoever does it must leave.
func (s *Store) HandBackErrand(ctx context.Context, id string, job int64) error {
	err := found(s.q.ExecContext(ctx, `UPDATE errands SET state = 'waiting', tries = tries - 1
		WHERE id = $1 AND job = $2 AND state = 'running'`, id, job))
	s.tellErrand(id)
	return err
}

// FileDoc names a file.
type FileDoc struct {
	Name string `json:"name"`
	Type string `json:"type"`
}

// filePart is how much of a file one row holds, bytes.
const filePart = 1 << 20

// PutFile keeps the file that an errand has made.
func (s *Store) PutFile(ctx context.Context, id string, job int64, doc FileDoc, data []byte) error {
	text, err := encode(doc)
	if err != nil {
		return err
	}
	err = found(s.q.ExecContext(ctx, `WITH old AS (DELETE FROM errand_parts WHERE errand_id = $1)
		UPDATE errands SET file = $3 WHERE id = $1 AND job = $2 AND state = 'running'`, id, job, text))
	for part := 0; err == nil && part*filePart < max(len(data), 1); part++ {
		some := data[part*filePart : min((part+1)*filePart, len(data))]
		_, err = s.q.ExecContext(
			ctx,
			`INSERT INTO errand_parts (errand_id, part, data) VALUES ($1, $2, $3)`,
			id,
			part,
			some,
		)
	}
	return err
}

// File reads the file that an errand of a workshop has made.
func (s *Store) File(ctx context.Context, workshop, id string) (d FileDoc, data []byte, err error) {
	e, err := s.Errand(ctx, workshop, id, 0)
	if err != nil {
		return d, nil, err
	}
	if e.State != Done || e.File == nil {
		return d, nil, ErrNotFound
	}
	if err := json.Unmarshal(e.File, &d); err != nil {
		return d, nil, err
	}
	var parts int
	if err := s.q.GetContext(ctx, &parts, `SELECT count(*) FROM errand_parts WHERE errand_id = $1`, id); err != nil {
		return d, nil, err
	}
	for part := range parts {
		var some []byte
		if err := s.q.GetContext(ctx, &some, `SELECT data FROM errand_parts WHERE errand_id = $1 AND part = $2`,
			id, part); err != nil {
			return d, nil, err
		}
		data = append(data, some...)
	}
	return d, data, nil
}

// TakeOver puts errands back into their line whose process gives no sign of life, and forgets what ended long ago. It
// returns how many are taken over.
func (s *Store) TakeOver(ctx context.Context) (n int, err error) {
	err = s.Atomically(ctx, func(tx *Store) error {
		var lost []struct {
			ID, Queue string
			Priority  int
		}
		if err := tx.q.SelectContext(ctx, &lost, `SELECT e.id, j.queue, j.priority FROM errands e
			JOIN river_job j ON j.id = e.job WHERE e.state = 'running'
			AND e.beat_at < clock_timestamp() - make_interval(secs => $1) FOR UPDATE OF e SKIP LOCKED`,
			lostAfter.Seconds()); err != nil {
			return err
		}
		for _, l := range lost {
			if err := tx.enqueue(ctx, l.ID, l.Queue, l.Priority); err != nil {
				return err
			}
		}
		n = len(lost)
		_, err := tx.q.ExecContext(
			ctx,
			`DELETE FROM errands WHERE ended_at < clock_timestamp() - make_interval(secs => $1)`,
			keptEnded.Seconds(),
		)
		return err
	})
	return n, err
}

// ErrandCount is how many errands of a kind are in a state.
type ErrandCount struct {
	Kind, State string
	N           int
}

// CountErrands counts the errands that wait and run.
func (s *Store) CountErrands(ctx context.Context) (out []ErrandCount, err error) {
	err = s.q.SelectContext(ctx, &out, `SELECT kind, state, count(*) AS n FROM errands WHERE ended_at IS NULL
		GROUP BY kind, state`)
	return out, err
}

// Queue is River's client of this process, that does errands: so many of each queue at once. Start it, and stop it
// before the store is closed.
func (s *Store) Queue(
	log *slog.Logger, most map[string]int, do func(ctx context.Context, errand string, job int64) error,
) (*river.Client[*sql.Tx], error) {
	queues := map[string]river.QueueConfig{}
	for name, n := range most {
		queues[name] = river.QueueConfig{MaxWorkers: n}
	}
	workers := river.NewWorkers()
	if err := river.AddWorkerSafely(workers, river.WorkFunc(func(ctx context.Context, j *river.Job[ErrandJob]) error {
		return do(ctx, j.Args.Errand, j.ID)
	})); err != nil {
		return nil, err
	}
	return river.NewClient(riverdatabasesql.NewWithPgxListener(s.DB.DB, s.listener), &river.Config{
		Logger: log, Queues: queues, Workers: workers, FetchCooldown: 20 * time.Millisecond, JobTimeout: -1,
		RescueStuckJobsAfter: stuckAfter, CompletedJobRetentionPeriod: keptEnded,
	})
}
