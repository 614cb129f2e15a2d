// Package store keeps accounts, workshops, pieces, boards and the log in
// PostgreSQL. Every query about a workshop's things carries the workshop's id,
// so that none answers for another's.
package store

import (
	"cmp"
	"context"
	"database/sql"
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"regexp"
	"sync"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverdatabasesql"
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
	DB    *sqlx.DB // nil within a transaction
	q     querier
	turns turns // at the connections
	now   func() time.Time

	health   *sqlx.DB // a connection of its own, so that asking never waits for the others
	aside    *sqlx.DB // another, past any pooler, that tells news
	listener *pgxpool.Pool
	queue    *river.Client[*sql.Tx] // that errands are put into
	news     *news
	heard    sync.Once
	hears    chan struct{} // closed when news are heard
	over     func()        // ends what goes on beside

	tx      *sql.Tx  // of a transaction
	ids     []string // of what the transaction has made
	changed string   // the workshop that it has changed
}

// Config is where a database is and how much of it one process may take.
type Config struct {
	URL string // by which queries go; it may be that of a pooler in transaction mode

	// Direct reaches the same database without a pooler, for what needs a connection of its own: migrations, and news
	// by LISTEN. Empty where URL does.
	Direct string

	// Connections is how many connections the process takes at most, those of their own among them; 0 for
	// UsualConnections.
	Connections int
}

// UsualConnections is how many connections a process takes at most.
const UsualConnections = 24

// ownConnections are those that do not wait for queries: for health, for news told and heard, and for the queue.
const ownConnections = 4

// LeastConnections is how many connections a process needs.
const LeastConnections = ownConnections + 2

//go:embed migrations/*.sql
var migrations embed.FS

// connectTime is how long the database may take to answer at the start.
const connectTime = 30 * time.Second

// Open connects to a database and migrates it; one process does so at a time. The
// error is ErrNewer where a newer version of the program has been at it. The clock
// stamps what is stored.
func Open(ctx context.Context, c Config, clock func() time.Time) (*Store, error) {
	first, cancel := context.WithTimeout(ctx, connectTime)
	defer cancel()
	most := cmp.Or(c.Connections, UsualConnections)
	if most < LeastConnections {
		return nil, fmt.Errorf("%d connections are too few: a process needs %d", most, LeastConnections)
	}
	config, err := pgx.ParseConfig(c.URL)
	if err != nil {
		return nil, fmt.Errorf("read the address of the database: %w", err)
	}
	if c.Direct != "" { // a pooler gives every transaction another connection, which knows no prepared statements
		config.DefaultQueryExecMode = pgx.QueryExecModeExec
	}
	direct, err := pgxpool.ParseConfig(cmp.Or(c.Direct, c.URL))
	if err != nil {
		return nil, fmt.Errorf("read the direct address of the database: %w", err)
	}
	direct.MinConns, direct.MaxConns = 0, 1
	listener, err := pgxpool.NewWithConfig(ctx, direct)
	if err != nil {
		return nil, fmt.Errorf("listen to the database: %w", err)
	}
	own := direct.ConnConfig.Copy()
	own.RuntimeParams["synchronous_commit"] = "off" // news are nothing to be kept
	s := &Store{
		DB:       connections(*config, most-ownConnections),
		health:   connections(*config, 1),
		aside:    connections(*own, 1),
		listener: listener, now: clock, news: newNews(), hears: make(chan struct{}),
	}
	s.turns = newTurns(most - ownConnections)
	s.q = timed{s.DB, s.turns}
	on, over := context.WithCancel(context.WithoutCancel(ctx))
	s.over = over
	if err := s.begin(first, ctx, direct.ConnConfig); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	go s.hear(on, direct.ConnConfig)
	go s.speak(on)
	select {
	case <-s.hears:
	case <-first.Done():
		return nil, errors.Join(errors.New("the database is not heard"), s.Close())
	}
	return s, nil
}

// connections are so many connections at most.
func connections(config pgx.ConnConfig, most int) *sqlx.DB {
	db := sqlx.NewDb(stdlib.OpenDB(config), "pgx")
	db.SetMaxOpenConns(most)
	db.SetMaxIdleConns(most)
	return db
}

// begin finds the database as it is to be, or makes it so.
func (s *Store) begin(first, ctx context.Context, direct *pgx.ConnConfig) (err error) {
	if err := s.DB.PingContext(first); err != nil {
		return fmt.Errorf("connect to the database: %w", err)
	}
	making := stdlib.OpenDB(*direct)
	defer making.Close()
	if err := migrate(ctx, making); err != nil {
		return fmt.Errorf("migrate the database: %w", err)
	}
	if s.queue, err = river.NewClient(riverdatabasesql.New(s.DB.DB), &river.Config{
		Logger: slog.New(slog.DiscardHandler),
	}); err != nil {
		return fmt.Errorf("make the queue: %w", err)
	}
	if err := s.refresh(ctx, `p.length IS NULL`); err != nil { // stored before the rack had facts
		return fmt.Errorf("read the rack: %w", err)
	}
	return nil
}

// migrationsOf are the steps that bring a database up to date, one process at a time.
func migrationsOf(db *sql.DB) (*goose.Provider, error) {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	locker, err := lock.NewPostgresSessionLocker()
	if err != nil {
		return nil, err
	}
	return goose.NewProvider(
		goose.DialectPostgres,
		db,
		files,
		goose.WithSlog(slog.New(slog.DiscardHandler)),
		goose.WithSessionLocker(locker),
		goose.WithGoMigrations(
			goose.NewGoMigration(9, &goose.GoFunc{RunTx: listTools}, nil),
			goose.NewGoMigration(17, &goose.GoFunc{RunDB: makeQueue}, nil),
		),
	)
}

// newest is the last step that this program knows.
func newest(p *goose.Provider) int64 {
	all := p.ListSources()
	return all[len(all)-1].Version
}

// migrate brings the schema up to date, one process at a time.
func migrate(ctx context.Context, db *sql.DB) error {
	provider, err := migrationsOf(db)
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
func (s *Store) Close() error {
	s.over()
	s.listener.Close()
	return errors.Join(s.DB.Close(), s.health.Close(), s.aside.Close())
}

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
