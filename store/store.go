// Package store keeps accounts, workshops, pieces, boards and the log in
// PostgreSQL. Every query about a workshop's things carries the workshop's id,
// so that none answers for another's.
package store

import (
	"context"
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"regexp"
	"time"

	"github.com/jackc/pgx/v5/pgconn"
	_ "github.com/jackc/pgx/v5/stdlib" // the driver "pgx"
	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
)

// What a query can come back with.
var (
	ErrNotFound = errors.New("not found")
	ErrTaken    = errors.New("already taken")
	ErrInUse    = errors.New("still in use")
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

// Store is a database.
type Store struct {
	DB  *sqlx.DB
	now func() time.Time
}

//go:embed migrations/*.sql
var migrations embed.FS

// Open connects to a database and migrates it. The clock stamps what is stored.
func Open(ctx context.Context, url string, clock func() time.Time) (*Store, error) {
	db, err := sqlx.ConnectContext(ctx, "pgx", url)
	if err != nil {
		return nil, fmt.Errorf("connect to the database: %w", err)
	}
	db.SetMaxOpenConns(24)
	db.SetMaxIdleConns(24)
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	provider, err := goose.NewProvider(
		goose.DialectPostgres,
		db.DB,
		files,
		goose.WithSlog(slog.New(slog.DiscardHandler)),
	)
	if err != nil {
		return nil, err
	}
	if _, err := provider.Up(ctx); err != nil {
		return nil, fmt.Errorf("migrate the database: %w", err)
	}
	s := &Store{DB: db, now: clock}
	if err := s.refresh(ctx, db, `p.length IS NULL`); err != nil { // stored before the rack had facts
		return nil, fmt.Errorf("read the rack: %w", err)
	}
	return s, nil
}

// Close closes the connections.
func (s *Store) Close() error { return s.DB.Close() }

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
