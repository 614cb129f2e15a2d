package store

import (
	"bufio"
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"iter"
	"net/http"
	"strings"

	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/stdlib"

	"idletimber/craft/giving"
	"idletimber/craft/reckon"
	"idletimber/craft/run"
	"idletimber/craft/shelf"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
	"idletimber/craft/trial"
)

// table is one whose rows belong to workshops, and go with them from database to database.
type table struct {
	name  string
	of    string // the condition that a row belongs to workshop $1
	order string
	anew  bool // its ids are only an order: they are given anew where they come to
}

const own = `workshop_id = $1`

// tables are those that make a workshop, each after those that it names. Sign-ins, sessions, saves and errands pass.
var tables = []table{
	{"accounts", `id = (SELECT account_id FROM workshops WHERE id = $1)`, "id", false},
	{"workshops", `id = $1`, "id", false},
	{"pictures", own, "created_at, id", false},
	{"pieces", own, "created_at, id", false},
	{"piece_sources", `piece_id IN (SELECT id FROM pieces WHERE workshop_id = $1)`, "piece_id, position", false},
	{"strips", `panel_id IN (SELECT id FROM pieces WHERE workshop_id = $1)`, "panel_id, strip", false},
	{"runs", own, "created_at, id", false},
	{"boards", own, "created_at, id", false},
	{"board_versions", own, "board_id, version", false},
	{"care", own, "board_id", false},
	{"coats", own, "at, board_id, step", false},
	{"pours", own, "at, subject_id, step", false},
	{"instruments", own, "created_at, id", false},
	{"readings", `instrument_id IN (SELECT id FROM instruments WHERE workshop_id = $1)`, "id", true},
	{"log", own, "id", true},
	{"plans", own, "workshop_id", false},
	{"people", own, "created_at, id", false},
	{"occasions", own, "created_at, id", false},
	{"products", own, "created_at, id", false},
	{"templates", own, "created_at, id", false},
	{"trials", own, "created_at, id", false},
}

// Tables names the tables that make a workshop, each after those that it names.
func Tables() (out []string) {
	for _, t := range tables {
		out = append(out, t.name)
	}
	return out
}

// Owned is a workshop and the address of its maker.
type Owned struct {
	Workshop string `json:"workshop"`
	Email    string `json:"email"`
}

// Workshops are all workshops, by the addresses of their makers.
func (s *Store) Workshops(ctx context.Context) (out []Owned, err error) {
	err = s.q.SelectContext(ctx, &out, `SELECT w.id AS workshop, a.email FROM workshops w
		JOIN accounts a ON a.id = w.account_id ORDER BY lower(a.email)`)
	return out, err
}

// Step is the step of the migrations at which the database is.
func (s *Store) Step(ctx context.Context) (step int64, err error) {
	err = s.q.GetContext(ctx, &step, `SELECT max(version_id) FROM goose_db_version WHERE is_applied`)
	return step, err
}

// Dump is a database at one moment.
type Dump struct{ tx *sql.Tx }

// AtOnce reads a database as it is at one moment, whatever is stored meanwhile.
func (s *Store) AtOnce(ctx context.Context, read func(Dump) error) error {
	db := stdlib.OpenDB(*s.listener.Config().ConnConfig)
	defer db.Close()
	tx, err := db.BeginTx(ctx, &sql.TxOptions{Isolation: sql.LevelRepeatableRead, ReadOnly: true})
	if err != nil {
		return err
	}
	defer tx.Rollback()
	if _, err := tx.ExecContext(ctx, `SET LOCAL TIME ZONE 'UTC'`); err != nil {
		return err
	}
	return read(Dump{tx})
}

// Rows are the rows of a table of a workshop, each a JSON object of its columns; pictures without what they show.
func (d Dump) Rows(ctx context.Context, workshop, name string) iter.Seq2[string, error] {
	return func(yield func(string, error) bool) {
		for _, t := range tables {
			if t.name != name {
				continue
			}
			rows, err := d.tx.QueryContext(ctx, `SELECT (to_jsonb(t) - $2)::text FROM `+t.name+` t WHERE `+t.of+
				` ORDER BY `+t.order, workshop, without(t.name))
			if err != nil {
				yield("", err)
				return
			}
			defer rows.Close()
			for rows.Next() {
				var row string
				err := rows.Scan(&row)
				if !yield(row, err) || err != nil {
					return
				}
			}
			if err := rows.Err(); err != nil {
				yield("", err)
			}
		}
	}
}

// without is the column of a table that is kept as files beside its rows.
func without(name string) string {
	if name == "pictures" {
		return "data"
	}
	return ""
}

// Picture reads what a picture of a workshop shows.
func (d Dump) Picture(ctx context.Context, workshop, id string) (data []byte, err error) {
	err = d.tx.QueryRowContext(ctx, `SELECT data FROM pictures WHERE workshop_id = $1 AND id = $2`,
		workshop, id).Scan(&data)
	return data, err
}

// Brought is what comes from another database.
type Brought struct {
	Step int64 // of the migrations, at which that was
	// Rows are the rows of a table of all workshops that come, a JSON object a line.
	Rows func(table string) (io.Reader, error)
	// Picture is what a picture shows.
	Picture func(id string) ([]byte, error)
}

// Refused is why what was brought is not taken.
type Refused struct{ Why string }

func (r Refused) Error() string { return r.Why }

func refuse(format string, args ...any) error { return Refused{fmt.Sprintf(format, args...)} }

// scratch is the schema into which is read what comes, at the step that it was written at.
const scratch = "idletimber_import"

// Bring takes in workshops from another database, all or nothing. What comes is read into a schema of its own at the
// step at which it was written, brought up to ours there by the same migrations, and moved when all of it holds. The
// error is Refused where it does not.
func (s *Store) Bring(ctx context.Context, b Brought) error {
	config := s.listener.Config().ConnConfig.Copy()
	home, err := s.Schema(ctx)
	if err != nil {
		return err
	}
	config.RuntimeParams["search_path"] = scratch
	config.RuntimeParams["timezone"] = "UTC"
	db := stdlib.OpenDB(*config)
	defer db.Close()
	lock, err := db.Conn(ctx) // one at a time
	if err != nil {
		return err
	}
	defer lock.Close()
	if _, err := lock.ExecContext(ctx, `SELECT pg_advisory_lock(hashtext($1))`, scratch); err != nil {
		return err
	}
	clear := func(ctx context.Context) error {
		_, err := lock.ExecContext(ctx, `DROP SCHEMA IF EXISTS `+scratch+` CASCADE`)
		return err
	}
	if err := clear(ctx); err != nil {
		return err
	}
	defer clear(context.WithoutCancel(ctx))
	if _, err := lock.ExecContext(ctx, `CREATE SCHEMA `+scratch); err != nil {
		return err
	}
	migrations, err := migrationsOf(db)
	if err != nil {
		return err
	}
	if known := newest(migrations); b.Step > known || b.Step < 1 {
		return refuse(
			"it was written at step %d of the database, and this program knows 1 to %d; use a newer program",
			b.Step,
			known,
		)
	}
	if _, err := migrations.UpTo(ctx, b.Step); err != nil {
		return fmt.Errorf("make room for it: %w", err)
	}
	if err := load(ctx, db, b); err != nil {
		return refusedBy(err)
	}
	if _, err := migrations.Up(ctx); err != nil {
		return refuse("it cannot be brought up to this version: %v", err)
	}
	return refusedBy(move(ctx, db, home))
}

// Schema is the schema in which the tables lie.
func (s *Store) Schema(ctx context.Context) (name string, err error) {
	err = s.q.GetContext(ctx, &name, `SELECT current_schema()`)
	return name, err
}

// refusedBy tells why the database does not take something.
func refusedBy(err error) error {
	var pg *pgconn.PgError
	if !errors.As(err, &pg) {
		return err
	}
	switch pg.Code[:2] {
	case "23":
		if pg.Code == unique {
			return refuse(
				"something of it is here already (%s): %s; delete that account first, or take it into another "+
					"database",
				pg.TableName,
				pg.Detail,
			)
		}
		return refuse(
			"a row of %s does not hold together: %s",
			pg.TableName,
			strings.TrimSpace(pg.Message+". "+pg.Detail),
		)
	case "22":
		return refuse("a row cannot be read: %s", pg.Message)
	}
	return err
}

// Bounds of what comes: a row, and how many are stored together.
const (
	mostRow  = 64 << 20 // bytes
	together = 4 << 20  // bytes
)

// load reads what comes into the schema of its own.
func load(ctx context.Context, db *sql.DB, b Brought) error {
	for _, t := range tables {
		there, err := b.Rows(t.name)
		if err != nil {
			return err
		}
		if there == nil { // a table that came later
			continue
		}
		var exists bool
		known := db.QueryRowContext(ctx, `SELECT to_regclass($1) IS NOT NULL`, scratch+"."+t.name)
		if err := known.Scan(&exists); err != nil {
			return err
		}
		if !exists {
			return refuse("there was no table %s at step %d", t.name, b.Step)
		}
		columns, err := columnsOf(ctx, db, scratch, t, false)
		if err != nil {
			return err
		}
		lines := bufio.NewScanner(there)
		lines.Buffer(make([]byte, 64<<10), mostRow)
		batch, size, n := []json.RawMessage{}, 0, 0
		flush := func() error {
			if len(batch) == 0 {
				return nil
			}
			text, err := encode(batch)
			if err != nil {
				return err
			}
			_, err = db.ExecContext(ctx, fmt.Sprintf(`INSERT INTO %s (%s) OVERRIDING SYSTEM VALUE
				SELECT %s FROM jsonb_populate_recordset(NULL::%s, $1::jsonb)`, t.name, columns, columns, t.name), text)
			batch, size = batch[:0], 0
			return err
		}
		for lines.Scan() {
			n++
			row, err := checked(t.name, lines.Bytes(), b)
			if err != nil {
				return refuse("line %d of %s: %v", n, t.name, err)
			}
			batch, size = append(batch, row), size+len(row)
			if size > together {
				if err := flush(); err != nil {
					return err
				}
			}
		}
		if err := errors.Join(lines.Err(), flush()); err != nil {
			return err
		}
	}
	return nil
}

// columnsOf are the columns of a table that are stored, but for ids that are given anew.
func columnsOf(
	ctx context.Context, in interface {
		QueryRowContext(context.Context, string, ...any) *sql.Row
	}, schema string, t table, but bool,
) (columns string, err error) {
	err = in.QueryRowContext(ctx, `SELECT string_agg(quote_ident(column_name), ', ' ORDER BY ordinal_position)
		FROM information_schema.columns WHERE table_schema = $1 AND table_name = $2 AND is_generated = 'NEVER'
		AND NOT ($3 AND column_name = 'id')`, schema, t.name, but).Scan(&columns)
	return columns, err
}

// checked is a row that comes, if all in it is within bounds, with what its picture shows.
func checked(table string, line []byte, b Brought) (json.RawMessage, error) {
	var row map[string]any
	reader := json.NewDecoder(bytes.NewReader(line))
	reader.UseNumber()
	if err := reader.Decode(&row); err != nil {
		return nil, err
	}
	if reader.More() {
		return nil, errors.New("there is more than one row in it")
	}
	if err := bounded(row, 0); err != nil {
		return nil, err
	}
	if table != "pictures" {
		return bytes.Clone(line), nil
	}
	id, _ := row["id"].(string)
	data, err := b.Picture(id)
	if err != nil {
		return nil, err
	}
	if http.DetectContentType(data) != "image/jpeg" {
		return nil, fmt.Errorf("picture %.40q is no JPEG", id)
	}
	row["data"] = fmt.Sprintf(`\x%x`, data)
	return json.Marshal(row)
}

// Outer bounds of documents, as of requests: beyond them no computation would end.
const (
	mostDepth  = 64
	mostNumber = 1e12
	mostList   = 100_000
)

// bounded reports a value that no document holds.
func bounded(v any, depth int) error {
	if depth > mostDepth {
		return errors.New("it is nested too deeply")
	}
	switch v := v.(type) {
	case json.Number:
		if f, err := v.Float64(); err != nil || f > mostNumber || f < -mostNumber {
			return fmt.Errorf("%.40s is no number of a workshop", v)
		}
	case []any:
		if len(v) > mostList {
			return fmt.Errorf("a list of %d is too long", len(v))
		}
		for _, o := range v {
			if err := bounded(o, depth+1); err != nil {
				return err
			}
		}
	case map[string]any:
		if len(v) > mostList {
			return fmt.Errorf("an object of %d fields is too large", len(v))
		}
		for name, o := range v {
			if err := bounded(o, depth+1); err != nil {
				return fmt.Errorf("%s: %w", name, err)
			}
		}
	}
	return nil
}

// mixed are pairs of rows that name each other and must be of one workshop.
var mixed = []struct{ what, query string }{
	{"boards on pieces", `SELECT count(*) FROM boards b JOIN pieces p ON p.id = b.piece_id
		WHERE p.workshop_id <> b.workshop_id`},
	{
		"boards in runs",
		`SELECT count(*) FROM boards b JOIN runs r ON r.id = b.run_id WHERE r.workshop_id <> b.workshop_id`,
	},
	{
		"care of boards",
		`SELECT count(*) FROM care c JOIN boards b ON b.id = c.board_id WHERE b.workshop_id <> c.workshop_id`,
	},
	{
		"strips of panels",
		`SELECT count(*) FROM strips s JOIN pieces a ON a.id = s.panel_id JOIN pieces p ON p.id = s.piece_id
		WHERE a.workshop_id <> p.workshop_id`,
	},
	{"pieces cut from pieces", `SELECT count(*) FROM piece_sources s JOIN pieces a ON a.id = s.piece_id
		JOIN pieces p ON p.id = s.source_id WHERE a.workshop_id <> p.workshop_id`},
	{"versions of boards", `SELECT count(*) FROM board_versions v JOIN boards b ON b.id = v.board_id
		WHERE b.workshop_id <> v.workshop_id`},
	{"accounts without a workshop", `SELECT count(*) FROM accounts a WHERE NOT EXISTS
		(SELECT FROM workshops w WHERE w.account_id = a.id)`},
}

// move moves what was read to where it belongs, in one transaction.
func move(ctx context.Context, db *sql.DB, home string) error {
	tx, err := db.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback()
	for _, m := range mixed {
		var n int
		if err := tx.QueryRowContext(ctx, m.query).Scan(&n); err != nil {
			return err
		}
		if n > 0 {
			return refuse("%s of different workshops are mixed, or stand alone: %d", m.what, n)
		}
	}
	for _, t := range tables {
		if err := documents(ctx, tx, t.name); err != nil {
			return err
		}
		columns, err := columnsOf(ctx, tx, home, t, t.anew)
		if err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, fmt.Sprintf(`INSERT INTO %q.%s (%s) SELECT %s FROM %s ORDER BY %s`,
			home, t.name, columns, columns, t.name, t.order)); err != nil {
			return err
		}
	}
	return tx.Commit()
}

// read reads a document as one of a type.
func read[T any](data []byte) error {
	var v T
	return json.Unmarshal(data, &v)
}

// documentsOf reads the documents of tables that keep some.
var documentsOf = map[string]func([]byte) error{
	"workshops": read[shop.Shop], "pieces": read[slab.Slab], "boards": read[reckon.Board],
	"board_versions": read[reckon.Board], "runs": read[run.Run], "plans": read[Plan], "people": read[giving.Person],
	"occasions": read[giving.Occasion], "products": read[shelf.Product], "trials": read[trial.Trial],
}

// documents reads the documents of a table, so that none is taken in that nobody can read.
func documents(ctx context.Context, tx *sql.Tx, name string) error {
	one, ok := documentsOf[name]
	if !ok {
		return nil
	}
	rows, err := tx.QueryContext(ctx, `SELECT doc FROM `+name)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		var doc []byte
		if err := rows.Scan(&doc); err != nil {
			return err
		}
		if err := one(doc); err != nil {
			return refuse("a document of %s cannot be read: %v", name, err)
		}
	}
	return rows.Err()
}
