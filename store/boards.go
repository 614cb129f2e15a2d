package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5/pgconn"

	"idletimber/craft/fill"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/reckon"
)

// Board is a board and the piece that it is laid on.
type Board struct {
	Piece   string
	Board   reckon.Board
	Version int
	Given   *time.Time
	Deleted *time.Time
	Species string // of the piece
}

type boardRow struct {
	ID        string
	PieceID   string `db:"piece_id"`
	Doc       doc[reckon.Board]
	Version   int
	GivenAt   *time.Time `db:"given_at"`
	DeletedAt *time.Time `db:"deleted_at"`
	Species   string
}

func (r boardRow) board() Board {
	b := Board{r.PieceID, r.Doc.V, r.Version, r.GivenAt, r.DeletedAt, r.Species}
	b.Board.ID = r.ID
	return b
}

// Stored is the board as the core settles it.
func (b Board) Stored() reckon.Stored {
	return reckon.Stored{Board: b.Board, Piece: b.Piece, Version: b.Version, Binned: b.Deleted != nil}
}

const boardColumns = `SELECT id, piece_id, doc, version, given_at, deleted_at,
	(SELECT species FROM pieces WHERE pieces.id = piece_id) AS species FROM boards `

func due(b reckon.Board) *string {
	if b.Give.Due == "" {
		return nil
	}
	return &b.Give.Due
}

// Board reads one board, also from the offcut bin.
func (s *Store) Board(ctx context.Context, workshop, id string) (Board, error) {
	if !known(id) {
		return Board{}, ErrNotFound
	}
	var row boardRow
	err := s.q.GetContext(ctx, &row, boardColumns+`WHERE workshop_id = $1 AND id = $2`, workshop, id)
	if errors.Is(err, sql.ErrNoRows) {
		return Board{}, ErrNotFound
	}
	return row.board(), err
}

// NewID is a fresh id for what is to be stored.
func NewID() string { return uuid.NewString() }

// ErrIDTaken tells that a new board brings an id that is in use.
var ErrIDTaken = errors.New("the id is in use")

// unique is PostgreSQL's code for a broken unique constraint.
const unique = "23505"

// SaveBoards stores boards, changed, new and binned ones, wherever they lie: all
// of them or none. New ones bring their ids, which are returned. A board that is
// stored unbinned comes out of the bin. The error is *Stale[reckon.Board] when one
// was changed meanwhile.
func (s *Store) SaveBoards(ctx context.Context, workshop string, boards []reckon.Stored) ([]string, error) {
	return s.write(ctx, workshop, func(tx *Store) error { return tx.putBoards(ctx, workshop, boards) })
}

func (s *Store) putBoards(ctx context.Context, workshop string, boards []reckon.Stored) error {
	for i, b := range boards {
		if !known(b.Board.ID) || !known(b.Piece) {
			return ErrNotFound
		}
		var err error
		switch {
		case b.Binned && b.Version == 0:
			err = found(s.q.ExecContext(
				ctx,
				`UPDATE boards SET deleted_at = $4 WHERE workshop_id = $1 AND id = $2 AND piece_id = $3`,
				workshop,
				b.Board.ID,
				b.Piece,
				s.now(),
			))
		case b.Version == 0:
			err = s.insertBoard(ctx, workshop, b, s.now().Add(time.Duration(i)*time.Millisecond))
		default:
			err = s.updateBoard(ctx, workshop, b)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

func (s *Store) insertBoard(ctx context.Context, workshop string, b reckon.Stored, at time.Time) error {
	text, err := encode(b.Board)
	if err != nil {
		return err
	}
	out, err := s.q.ExecContext(ctx, `INSERT INTO boards (workshop_id, piece_id, name, due, doc, created_at, id)
		SELECT workshop_id, id, $3, $4, $5, $6, $7 FROM pieces WHERE workshop_id = $1 AND id = $2`,
		workshop, b.Piece, b.Board.Name, due(b.Board), text, at, b.Board.ID)
	var pg *pgconn.PgError
	if errors.As(err, &pg) && pg.Code == unique {
		return ErrIDTaken
	}
	s.made(b.Board.ID)
	return found(out, err)
}

func (s *Store) updateBoard(ctx context.Context, workshop string, b reckon.Stored) error {
	text, err := encode(b.Board)
	if err != nil {
		return err
	}
	if err := s.keepVersion(ctx, workshop, b.Board.ID); err != nil {
		return err
	}
	out, err := s.q.ExecContext(ctx, `UPDATE boards SET name = $4, due = $5, doc = $6, version = version + 1,
			deleted_at = CASE WHEN $8 THEN deleted_at END
		WHERE workshop_id = $1 AND id = $2 AND piece_id = $3 AND version = $7`,
		workshop, b.Board.ID, b.Piece, b.Board.Name, due(b.Board), text, b.Version, b.Binned)
	if err = found(out, err); !errors.Is(err, ErrNotFound) {
		return err
	}
	var row boardRow
	err = s.q.GetContext(ctx, &row, boardColumns+`WHERE workshop_id = $1 AND id = $2`, workshop, b.Board.ID)
	switch {
	case errors.Is(err, sql.ErrNoRows), err == nil && row.PieceID != b.Piece: // it lies on another piece
		return ErrNotFound
	case err != nil:
		return err
	}
	return &Stale[reckon.Board]{row.board().Board, row.Version}
}

// found is ErrNotFound where a statement met no row.
func found(out sql.Result, err error) error {
	if err != nil {
		return err
	}
	if n, err := out.RowsAffected(); err != nil || n == 0 {
		return errors.Join(err, ErrNotFound)
	}
	return nil
}

// BoardsOn lists the boards laid on a piece, in the order in which they were laid.
func (s *Store) BoardsOn(ctx context.Context, workshop, piece string) ([]Board, error) {
	return s.boards(
		ctx,
		boardColumns+`WHERE workshop_id = $1 AND piece_id = $2 AND deleted_at IS NULL ORDER BY created_at, id`,
		workshop,
		piece,
	)
}

// GivenSince lists boards that were given away since a moment, the latest first, up to a number.
func (s *Store) GivenSince(ctx context.Context, workshop string, since time.Time, most int) ([]Board, error) {
	return s.boards(
		ctx,
		boardColumns+`WHERE workshop_id = $1 AND given_at >= $2 AND deleted_at IS NULL
			ORDER BY given_at DESC, id LIMIT $3`,
		workshop,
		since,
		most,
	)
}

// Boards lists a page of boards, the nearest date first, whose name or person
// holds the words sought, and counts all of them.
func (s *Store) Boards(
	ctx context.Context,
	workshop, sought string,
	binned bool,
	limit, offset int,
) ([]Board, int, error) {
	const where = `WHERE workshop_id = $1 AND (deleted_at IS NOT NULL) = $2
		AND ($3 = '' OR strpos(lower(name || ' ' || coalesce(doc->'give'->>'for', '')), lower($3)) > 0)`
	var total int
	if err := s.q.GetContext(ctx, &total, `SELECT count(*) FROM boards `+where, workshop, binned, sought); err != nil {
		return nil, 0, err
	}
	out, err := s.boards(
		ctx,
		boardColumns+where+` ORDER BY due NULLS LAST, created_at DESC, id LIMIT $4 OFFSET $5`,
		workshop,
		binned,
		sought,
		limit,
		offset,
	)
	return out, total, err
}

func (s *Store) boards(ctx context.Context, query string, args ...any) ([]Board, error) {
	var rows []boardRow
	if err := s.q.SelectContext(ctx, &rows, query, args...); err != nil {
		return nil, err
	}
	out := make([]Board, len(rows))
	for i, r := range rows {
		out[i] = r.board()
	}
	return out, nil
}

// BinBoard moves a board to the offcut bin, or back together with its piece.
func (s *Store) BinBoard(ctx context.Context, workshop, id string, bin bool) error {
	return s.bin(
		ctx,
		`WITH b AS (UPDATE boards SET deleted_at = $3 WHERE workshop_id = $1 AND id = $2 RETURNING piece_id)
		UPDATE pieces SET deleted_at = CASE WHEN $3::timestamptz IS NULL THEN NULL ELSE deleted_at END FROM b
			WHERE pieces.id = b.piece_id`,
		workshop,
		id,
		bin,
	)
}

// SetGiven marks a board as given away, which takes it off the bench.
func (s *Store) SetGiven(ctx context.Context, workshop, id string, given bool) error {
	return s.bin(ctx, `UPDATE boards SET given_at = $3 WHERE workshop_id = $1 AND id = $2`, workshop, id, given)
}

// Stamp tells whether anything about the boards on a piece has changed.
type Stamp struct {
	Piece string
	Work  bool // it holds boards still to be made
	Stamp string
}

// mostInWork bounds the pieces whose boards share the maker's sessions.
const mostInWork = 200

// InWork lists the pieces that hold boards still to be made, the nearest date first, and
// panels still to be glued; then others that are asked for. Each has a stamp that changes
// with the piece, all boards that are or were laid on it, the pieces that it is made of,
// the panels that are made of it, the shop, the log, and the hour of the room's last reading.
func (s *Store) InWork(ctx context.Context, workshop string, others []string) ([]Stamp, error) {
	var out []Stamp
	err := s.q.SelectContext(ctx, &out, `
		WITH work AS (
			SELECT b.piece_id AS id, min(b.due) AS due FROM boards b JOIN pieces p ON p.id = b.piece_id
			WHERE b.workshop_id = $1 AND b.deleted_at IS NULL AND b.given_at IS NULL AND p.deleted_at IS NULL
			GROUP BY b.piece_id
			UNION ALL SELECT p.id, NULL::date FROM pieces p
			WHERE p.workshop_id = $1 AND p.deleted_at IS NULL AND p.cut_at IS NULL AND p.panel
				AND NOT EXISTS (SELECT 1 FROM boards b WHERE b.piece_id = p.id
					AND b.deleted_at IS NULL AND b.given_at IS NULL)
				AND coalesce((SELECT event FROM log WHERE subject_kind = 'panel' AND subject_id = p.id
					AND step = CASE WHEN p.doc->'glue'->>'repair' > '' THEN 'repaired' ELSE 'trim' END
					ORDER BY id DESC LIMIT 1), '') <> 'finish'
			ORDER BY 2 NULLS LAST, 1 LIMIT $2),
		wanted AS (SELECT id, due, true AS work FROM work UNION ALL
			SELECT id, NULL, false FROM unnest($3::uuid[]) other (id) WHERE id NOT IN (SELECT id FROM work))
		SELECT p.id AS piece, w.work, concat_ws('/', p.version, p.deleted_at,
			(SELECT version FROM workshops WHERE id = $1),
			(SELECT string_agg(concat_ws(':', b.id, b.version, b.given_at), ',' ORDER BY b.id) FROM boards b
				WHERE b.piece_id = p.id AND b.deleted_at IS NULL),
			(SELECT string_agg(concat_ws(':', o.id, o.version, o.deleted_at), ',' ORDER BY o.id) FROM strips t
				JOIN pieces o ON o.id = t.piece_id OR o.id = t.panel_id
				WHERE (t.panel_id = p.id OR t.piece_id = p.id) AND o.id <> p.id),
			(SELECT coalesce(max(id), 0) FROM log WHERE workshop_id = $1),
			(SELECT max(date_trunc('hour', last.at)) FROM instruments i, LATERAL (SELECT at FROM readings
				WHERE instrument_id = i.id ORDER BY id DESC LIMIT 1) last WHERE i.workshop_id = $1)) AS stamp
		FROM wanted w JOIN pieces p ON p.id = w.id AND p.workshop_id = $1
		ORDER BY w.work DESC, w.due NULLS LAST, p.id`, workshop, mostInWork, others)
	return out, err
}

// Entry is one line of the log.
type Entry struct {
	ID      int64
	Subject plan.Subject
	Name    string // of the subject
	Step    string
	Event   string
	At      time.Time
	Minutes float64
	Kind    string
	Title   string
	Usual   float64

	What  string // of a note: what was written down, how much of it, and where
	Value float64
	Place *geom.Point
	Of    string // the resin that was poured
}

// Logged is the line as the craft reads it.
func (e Entry) Logged() reckon.LogEntry {
	return reckon.LogEntry{Subject: e.Subject, Entry: plan.Entry{
		Step: e.Step, Event: e.Event, At: e.At, Minutes: e.Minutes,
		What: e.What, Value: e.Value, Place: e.Place, Of: e.Of,
	}}
}

// Record appends a line to the log of a subject of the workshop.
func (s *Store) Record(ctx context.Context, workshop string, e Entry) error {
	var x, y *float64
	if e.Place != nil {
		x, y = &e.Place.X, &e.Place.Y
	}
	return s.change(
		ctx,
		workshop,
		e.Subject.ID,
		`INSERT INTO log (workshop_id, subject_kind, subject_id, step, event, at, minutes, kind, title, usual,
			what, amount, x, y, resin)
		SELECT $1, $3, $2, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15
		WHERE EXISTS (SELECT 1 FROM boards WHERE $3 = 'board' AND workshop_id = $1 AND id = $2)
			OR EXISTS (SELECT 1 FROM pieces WHERE $3 = 'panel' AND workshop_id = $1 AND id = $2)`,
		e.Subject.Kind,
		e.Step,
		e.Event,
		e.At,
		e.Minutes,
		e.Kind,
		e.Title,
		e.Usual,
		e.What,
		e.Value,
		x,
		y,
		e.Of,
	)
}

type entryRow struct {
	ID          int64
	SubjectKind string `db:"subject_kind"`
	SubjectID   string `db:"subject_id"`
	Name        string
	Step        string
	Event       string
	At          time.Time
	Minutes     float64
	Kind        string
	Title       string
	Usual       float64
	What        string
	Amount      float64
	X, Y        *float64
	Resin       string
}

const entryColumns = `SELECT l.id, l.subject_kind, l.subject_id, coalesce(b.name, p.name) AS name, l.step, l.event,
	l.at, l.minutes, l.kind, l.title, l.usual, l.what, l.amount, l.x, l.y, l.resin
	FROM log l LEFT JOIN boards b ON l.subject_kind = 'board' AND b.id = l.subject_id
	LEFT JOIN pieces p ON l.subject_kind = 'panel' AND p.id = l.subject_id `

func (s *Store) entries(ctx context.Context, query string, args ...any) ([]Entry, error) {
	var rows []entryRow
	if err := s.q.SelectContext(ctx, &rows, entryColumns+query, args...); err != nil {
		return nil, err
	}
	out := make([]Entry, len(rows))
	for i, r := range rows {
		of := plan.Subject{Kind: r.SubjectKind, ID: r.SubjectID}
		out[i] = Entry{
			ID: r.ID, Subject: of, Name: r.Name, Step: r.Step, Event: r.Event,
			At: r.At, Minutes: r.Minutes, Kind: r.Kind,
			Title: r.Title, Usual: r.Usual, What: r.What, Value: r.Amount, Of: r.Resin,
		}
		if r.X != nil && r.Y != nil {
			out[i].Place = &geom.Point{X: *r.X, Y: *r.Y}
		}
	}
	return out, nil
}

// LogOf lists the log of the boards on a piece, and of the piece where it is a panel,
// oldest first.
func (s *Store) LogOf(ctx context.Context, workshop, piece string) ([]Entry, error) {
	return s.entries(
		ctx,
		`WHERE l.workshop_id = $1 AND (b.piece_id = $2 OR p.id = $2) ORDER BY l.id`,
		workshop,
		piece,
	)
}

// Log lists the newest lines of the workshop's log.
func (s *Store) Log(ctx context.Context, workshop string, limit int) ([]Entry, error) {
	return s.entries(ctx, `WHERE l.workshop_id = $1 ORDER BY l.at DESC, l.id DESC LIMIT $2`, workshop, limit)
}

// Samples lists finished steps with their actual minutes, from which the
// maker's pace is learned. A step that was undone teaches nothing.
func (s *Store) Samples(ctx context.Context, workshop string) ([]plan.Sample, error) {
	var rows []struct {
		Kind    string
		Usual   float64
		Minutes float64
	}
	err := s.q.SelectContext(ctx, &rows, `
		SELECT kind, usual, minutes FROM (
			SELECT DISTINCT ON (subject_id, step) kind, usual, minutes, event FROM log
			WHERE workshop_id = $1 AND event IN ('finish', 'undo') ORDER BY subject_id, step, id DESC) last
		WHERE event = 'finish' AND minutes > 0 ORDER BY kind, usual, minutes`, workshop)
	out := make([]plan.Sample, len(rows))
	for i, r := range rows {
		out[i] = plan.Sample{Kind: plan.Kind(r.Kind), Estimated: r.Usual, Actual: r.Minutes}
	}
	return out, err
}

// KeepPour writes down what a pour came to that is over; DropPour forgets it, where it was taken
// back.
func (s *Store) KeepPour(ctx context.Context, workshop, board, step string, p fill.Poured) error {
	_, err := s.q.ExecContext(ctx, `
		INSERT INTO pours (workshop_id, subject_id, step, at, net, mixed, used, lost, cups)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)
		ON CONFLICT (subject_id, step) DO UPDATE SET net = $5, mixed = $6, used = $7, lost = $8, cups = $9`,
		workshop, board, step, s.now(), p.Net, p.Mixed, p.Used, p.Lost, p.Cups)
	return err
}

// DropPour forgets a pour.
func (s *Store) DropPour(ctx context.Context, workshop, board, step string) error {
	_, err := s.q.ExecContext(ctx, `DELETE FROM pours WHERE workshop_id = $1 AND subject_id = $2 AND step = $3`,
		workshop, board, step)
	return err
}

// Poured lists the newest pours that are over, from which the maker's soak and loss are learned.
func (s *Store) Poured(ctx context.Context, workshop string) ([]fill.Poured, error) {
	const newest = 500
	out := []fill.Poured{}
	err := s.q.SelectContext(ctx, &out, `SELECT net, mixed, used, lost, cups FROM pours WHERE workshop_id = $1
		ORDER BY at DESC, subject_id, step LIMIT $2`, workshop, newest)
	return out, err
}
