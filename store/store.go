// Package store keeps accounts, workshops, pieces, boards and the log in
// PostgreSQL. Every query about a workshop's things carries the workshop's id,
// so that none answers for another's.
package store

import (
	"context"
	"database/sql"
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"regexp"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
)

// What a query can come back with.
var (
	ErrNotFound = errors.New("not found")
	ErrTaken    = errors.New("already taken")
	ErrInUse    = errors.New("still in use")
	ErrNewer    = errors.New("the database was written by a newer version of the program; use that one")
)

// Unkeepable reports an error about a text that holds a character which
// PostgreSQL cannot keep: a NUL, or what is not UTF-8.
func Unkeepable(err error) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && (pg.Code == "22021" || pg.Code == "22P05")
}

// Stale is the error of a save that was made on an older version; it carries
// what is stored now.
type Stale[T any] struct {
	Current T
	Version int
}

func (s *Stale[T]) Error() string {
	return fmt.Sprintf("changed meanwhile: version %d is stored", s.Version)
}

// Store is a database, or what one transaction of it sees.
type Store struct {
	DB  *sqlx.DB // nil within a transaction
	q   querier
	now func() time.Time

	health *sqlx.DB // a connection of its own, so that asking never waits for the others
	ids    []string // of what the transaction has made
}

//go:embed migrations/*.sql
var migrations embed.FS

// connectTime is how long the database may take to answer at the start.
const connectTime = 30 * time.Second

// mostConnections is how many connections a process keeps.
const mostConnections = 24

// Open connects to a database and migrates it; one process does so at a time. The
// error is ErrNewer where a newer version of the program has been at it. The clock
// stamps what is stored.
func Open(ctx context.Context, url string, clock func() time.Time) (*Store, error) {
	first, cancel := context.WithTimeout(ctx, connectTime)
	defer cancel()
	config, err := pgx.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("read the address of the database: %w", err)
	}
	// What a workshop reads lies in memory: a list in the order of an index is not sorted anew for its late pages.
	config.RuntimeParams["random_page_cost"] = "1.1"
	db := sqlx.NewDb(stdlib.OpenDB(*config), "pgx")
	if err := db.PingContext(first); err != nil {
		return nil, errors.Join(fmt.Errorf("connect to the database: %w", err), db.Close())
	}
	db.SetMaxOpenConns(mostConnections)
	db.SetMaxIdleConns(mostConnections)
	if err := migrate(ctx, db.DB); err != nil {
		return nil, errors.Join(fmt.Errorf("migrate the database: %w", err), db.Close())
	}
	health, err := sqlx.Open("pgx", url)
	if err != nil {
		return nil, errors.Join(err, db.Close())
	}
	health.SetMaxOpenConns(1)
	s := &Store{DB: db, q: timed{db}, now: clock, health: health}
	if err := s.refresh(ctx, `p.length IS NULL`); err != nil { // stored before the rack had facts
		return nil, errors.Join(fmt.Errorf("read the rack: %w", err), s.Close())
	}
	return s, nil
}

// migrate brings the schema up to date, one process at a time.
func migrate(ctx context.Context, db *sql.DB) error {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	locker, err := lock.NewPostgresSessionLocker()
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(
		goose.DialectPostgres,
		db,
		files,
		goose.WithSlog(slog.New(slog.DiscardHandler)),
		goose.WithSessionLocker(locker),
		goose.WithGoMigrations(goose.NewGoMigration(9, &goose.GoFunc{RunTx: listTools}, nil)),
	)
	if err != nil {
		return err
	}
	if _, err := provider.Up(ctx); err != nil {
		return err
	}
	is, known, err := provider.GetVersions(ctx)
	if err == nil && is > known {
		return fmt.Errorf("%w: it is at step %d, and this program knows %d", ErrNewer, is, known)
	}
	return err
}

// Close closes the connections.
func (s *Store) Close() error { return errors.Join(s.DB.Close(), s.health.Close()) }

// healthTime is how long the database may take to answer when it is asked how it is.
const healthTime = time.Second

// Health reports whether the database answers, within a second and whatever else
// is in work.
func (s *Store) Health(ctx context.Context) error {
	ctx, cancel := context.WithTimeout(ctx, healthTime)
	defer cancel()
	return s.health.PingContext(ctx)
}

var idForm = regexp.MustCompile(`^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$`)

// known reports whether an id has the form of one; others are found nowhere.
func known(id string) bool { return idForm.MatchString(id) }

// doc is a document kept as jsonb.
type doc[T any] struct{ V T }

// Scan reads the document from the database.
func (d *doc[T]) Scan(src any) error {
	switch v := src.(type) {
	case []byte:
		return json.Unmarshal(v, &d.V)
	case string:
		return json.Unmarshal([]byte(v), &d.V)
	}
	return fmt.Errorf("a document cannot be read from %T", src)
}

func encode(v any) (string, error) {
	data, err := json.Marshal(v)
	return string(data), err
}
