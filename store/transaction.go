package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"io"
	"net"
	"time"

	"github.com/jackc/pgx/v5/pgconn"
	"golang.org/x/sync/semaphore"
)

// querier is a database, or a transaction of it.
type querier interface {
	GetContext(ctx context.Context, dest any, query string, args ...any) error
	SelectContext(ctx context.Context, dest any, query string, args ...any) error
	ExecContext(ctx context.Context, query string, args ...any) (sql.Result, error)
}

// Times within which a free connection comes, the database answers one query, and ends one transaction.
const (
	waitTime        = 8 * time.Second
	queryTime       = 5 * time.Second
	transactionTime = 8 * time.Second
)

// turns lets as many at the database as there are connections, the others in the order in which they came: the pool
// itself would let anybody next, and somebody wait for long.
type turns struct{ free *semaphore.Weighted }

func newTurns(connections int) turns { return turns{semaphore.NewWeighted(int64(connections))} }

// take waits for a turn; give it back when it is done with. Within a transaction, which has one, there are none to wait
// for.
func (t turns) take(ctx context.Context) error {
	if t.free == nil {
		return nil
	}
	ctx, cancel := context.WithTimeout(ctx, waitTime)
	defer cancel()
	return t.free.Acquire(ctx, 1)
}

func (t turns) giveBack() {
	if t.free != nil {
		t.free.Release(1)
	}
}

// timed gives every query its turn and its time.
type timed struct {
	q     querier
	turns turns
}

func (t timed) within(ctx context.Context, query func(context.Context) error) error {
	if err := t.turns.take(ctx); err != nil {
		return err
	}
	defer t.turns.giveBack()
	ctx, cancel := context.WithTimeout(ctx, queryTime)
	defer cancel()
	return query(ctx)
}

func (t timed) GetContext(ctx context.Context, dest any, query string, args ...any) error {
	return t.within(ctx, func(ctx context.Context) error { return t.q.GetContext(ctx, dest, query, args...) })
}

func (t timed) SelectContext(ctx context.Context, dest any, query string, args ...any) error {
	return t.within(ctx, func(ctx context.Context) error { return t.q.SelectContext(ctx, dest, query, args...) })
}

func (t timed) ExecContext(ctx context.Context, query string, args ...any) (out sql.Result, err error) {
	err = t.within(ctx, func(ctx context.Context) (err error) {
		out, err = t.q.ExecContext(ctx, query, args...)
		return err
	})
	return out, err
}

// Save is one request to store something. Its key names it: when it is asked again
// under the same key and for the same thing, nothing is stored twice.
type Save struct {
	Key string // a UUID; empty where the request is not asked again
	For string // what is asked
	By  string // the page that asks; empty where none does

	Outcome Outcome // what became of it
}

func (s *Save) named() bool { return s != nil && s.Key != "" }

// Outcome is what is known of a request to store something.
type Outcome string

// What may have become of a save.
const (
	Nothing Outcome = ""        // nothing was stored
	Stored  Outcome = "stored"  // it was
	Unknown Outcome = "unknown" // the connection broke while it was
)

type saveKey struct{}

// WithSave marks a context as that of a save.
func WithSave(ctx context.Context, s *Save) context.Context {
	return context.WithValue(ctx, saveKey{}, s)
}

// SaveOf is the save of a context; nil where it has none.
func SaveOf(ctx context.Context) *Save {
	s, _ := ctx.Value(saveKey{}).(*Save)
	return s
}

// Atomically does all or nothing: what is done with tx is seen by others when all
// of it is done. A transaction holds one connection, and tx never takes another.
func (s *Store) Atomically(ctx context.Context, do func(tx *Store) error) error {
	if s.DB == nil { // within another
		return do(s)
	}
	save := SaveOf(ctx)
	if err := s.turns.take(ctx); err != nil {
		return err
	}
	defer s.turns.giveBack()
	ctx, cancel := context.WithTimeout(ctx, transactionTime)
	defer cancel()
	tx, err := s.DB.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback() // does nothing after a commit
	within := &Store{q: timed{q: tx}, now: s.now, tx: tx.Tx, queue: s.queue, news: s.news}
	if err := do(within); err != nil {
		return err
	}
	err = tx.Commit()
	if err == nil && within.changed != "" {
		s.tellChanged(within.changed, save)
	}
	if save != nil {
		save.Outcome = outcome(err)
	}
	return err
}

// outcome is what is known after a commit. When the server refuses it, nothing was
// stored; when the connection broke, nobody can say.
func outcome(err error) Outcome {
	var refused *pgconn.PgError
	switch {
	case err == nil:
		return Stored
	case errors.As(err, &refused):
		return Nothing
	}
	return Unknown
}

// keptSaves is how long a save is known again.
const keptSaves = 24 * time.Hour

// write stores things of a workshop, all or nothing, and returns the ids of those
// that were made. A save that was stored before makes nothing and returns the ids
// that it made then.
func (s *Store) write(ctx context.Context, workshop string, do func(tx *Store) error) (ids []string, err error) {
	return s.once(ctx, workshop, func(tx *Store) error {
		tx.changed = workshop
		return do(tx)
	})
}

// once is write for what no page shows.
func (s *Store) once(ctx context.Context, workshop string, do func(tx *Store) error) (ids []string, err error) {
	err = s.Atomically(ctx, func(tx *Store) error {
		fresh, err := tx.claim(ctx, workshop)
		if err != nil {
			return err
		}
		if !fresh {
			ids, _, err = tx.Repeated(ctx, workshop)
			return err
		}
		before := len(tx.ids)
		if err := do(tx); err != nil {
			return err
		}
		ids = tx.ids[before:]
		return tx.keepMade(ctx, workshop, ids)
	})
	return ids, err
}

// alone lets one transaction of a workshop after another do something of a kind, until each is over.
func (s *Store) alone(ctx context.Context, what, workshop string) error {
	_, err := s.q.ExecContext(ctx, `SELECT pg_advisory_xact_lock(hashtextextended($1, 0))`, what+" "+workshop)
	return err
}

// claim notes the save of a context, if it has a name; fresh is false when it was
// stored before. It waits for the same save in work.
func (s *Store) claim(ctx context.Context, workshop string) (fresh bool, err error) {
	save := SaveOf(ctx)
	if !save.named() {
		return true, nil
	}
	err = found(s.q.ExecContext(ctx, `INSERT INTO saves (workshop_id, key, what, at) VALUES ($1, $2, $3, $4)
		ON CONFLICT DO NOTHING`, workshop, save.Key, save.For, s.now()))
	if errors.Is(err, ErrNotFound) {
		return false, nil
	}
	return err == nil, err
}

// keepMade keeps what the save of a context has made, and forgets old saves.
func (s *Store) keepMade(ctx context.Context, workshop string, ids []string) error {
	save := SaveOf(ctx)
	if !save.named() {
		return nil
	}
	text, err := encode(append([]string{}, ids...))
	if err != nil {
		return err
	}
	_, err = s.q.ExecContext(ctx, `WITH old AS (DELETE FROM saves WHERE workshop_id = $1 AND at < $5)
		UPDATE saves SET made = $4 WHERE workshop_id = $1 AND key = $2 AND what = $3`,
		workshop, save.Key, save.For, text, s.now().Add(-keptSaves))
	return err
}

// made notes what a transaction has made.
func (s *Store) made(id string) { s.ids = append(s.ids, id) }

// Repeated reports whether the save of a context was stored before, and the ids of
// what it made then.
func (s *Store) Repeated(ctx context.Context, workshop string) (ids []string, yes bool, err error) {
	save := SaveOf(ctx)
	if !save.named() {
		return nil, false, nil
	}
	var row doc[[]string]
	err = s.q.GetContext(ctx, &row, `SELECT made FROM saves WHERE workshop_id = $1 AND key = $2 AND what = $3`,
		workshop, save.Key, save.For)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, false, nil
	}
	return row.V, err == nil, err
}

// Away reports an error of a database that is gone, full of work or too slow: what
// was asked may be asked again.
func Away(err error) bool {
	var connecting *pgconn.ConnectError
	var network net.Error
	var refused *pgconn.PgError
	switch {
	case err == nil:
		return false
	case errors.Is(err, context.DeadlineExceeded), errors.Is(err, driver.ErrBadConn), errors.Is(err, sql.ErrConnDone),
		errors.As(err, &connecting), errors.As(err, &network), pgconn.SafeToRetry(err):
		return true
	case errors.As(err, &refused):
		switch refused.Code[:2] {
		case "08", "57", "53", "40": // connection, shut down or cancelled, out of resources, rolled back
			return true
		}
	}
	return errors.Is(err, net.ErrClosed) || errors.Is(err, io.ErrUnexpectedEOF) || errors.Is(err, io.EOF)
}

// Full reports an error of a database whose disk is full.
func Full(err error) bool {
	var refused *pgconn.PgError
	return errors.As(err, &refused) && refused.Code == "53100"
}
