package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"github.com/jmoiron/sqlx"

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
}

type boardRow struct {
	ID        string
	PieceID   string `db:"piece_id"`
	Doc       doc[reckon.Board]
	Version   int
	GivenAt   *time.Time `db:"given_at"`
	DeletedAt *time.Time `db:"deleted_at"`
}

func (r boardRow) board() Board {
	b := Board{r.PieceID, r.Doc.V, r.Version, r.GivenAt, r.DeletedAt}
	b.Board.ID = r.ID
	return b
}

const boardColumns = `SELECT id, piece_id, doc, version, given_at, deleted_at FROM boards `

func due(b reckon.Board) *string {
	if b.Give.Due == "" {
		return nil
	}
	return &b.Give.Due
}

const insertBoard = `INSERT INTO boards (workshop_id, piece_id, name, due, doc, created_at)
	SELECT workshop_id, id, $3, $4, $5, $6 FROM pieces WHERE workshop_id = $1 AND id = $2 RETURNING id`

// NewBoard lays a board on a piece of the workshop.
func (s *Store) NewBoard(ctx context.Context, workshop, piece string, b reckon.Board) (Board, error) {
	if !known(piece) {
		return Board{}, ErrNotFound
	}
	text, err := encode(b)
	if err != nil {
		return Board{}, err
	}
	err = s.DB.GetContext(ctx, &b.ID, insertBoard, workshop, piece, b.Name, due(b), text, s.now())
	if errors.Is(err, sql.ErrNoRows) {
		return Board{}, ErrNotFound
	}
	return Board{Piece: piece, Board: b, Version: 1}, err
}

// Board reads one board, also from the offcut bin.
func (s *Store) Board(ctx context.Context, workshop, id string) (Board, error) {
	if !known(id) {
		return Board{}, ErrNotFound
	}
	var row boardRow
	err := s.DB.GetContext(ctx, &row, boardColumns+`WHERE workshop_id = $1 AND id = $2`, workshop, id)
	if errors.Is(err, sql.ErrNoRows) {
		return Board{}, ErrNotFound
	}
	return row.board(), err
}

// SaveBoard stores a board made on a version and returns the new version. The
// error is *Stale[reckon.Board] when another was stored meanwhile.
func (s *Store) SaveBoard(ctx context.Context, workshop string, b reckon.Board, version int) (int, error) {
	tx, err := s.DB.BeginTxx(ctx, nil)
	if err != nil {
		return 0, err
	}
	defer tx.Rollback() // does nothing after a commit
	if version, err = s.saveBoard(ctx, tx, workshop, b, version); err != nil {
		return 0, err
	}
	return version, tx.Commit()
}

func (s *Store) saveBoard(ctx context.Context, tx *sqlx.Tx, workshop string, b reckon.Board, version int) (int, error) {
	if !known(b.ID) {
		return 0, ErrNotFound
	}
	text, err := encode(b)
	if err != nil {
		return 0, err
	}
	if err := s.keepVersion(ctx, tx, workshop, b.ID); err != nil {
		return 0, err
	}
	err = tx.GetContext(ctx, &version, `UPDATE boards SET name = $3, due = $4, doc = $5, version = version + 1
		WHERE workshop_id = $1 AND id = $2 AND version = $6 RETURNING version`, workshop, b.ID, b.Name, due(b), text, version)
	if errors.Is(err, sql.ErrNoRows) {
		stored, err := s.Board(ctx, workshop, b.ID)
		if err != nil {
			return 0, err
		}
		return 0, &Stale[reckon.Board]{stored.Board, stored.Version}
	}
	return version, err
}

// BoardsOn lists the boards laid on a piece, in the order in which they were laid.
func (s *Store) BoardsOn(ctx context.Context, workshop, piece string) ([]Board, error) {
	return s.boards(ctx, boardColumns+`WHERE workshop_id = $1 AND piece_id = $2 AND deleted_at IS NULL ORDER BY created_at, id`, workshop, piece)
}

// Boards lists a page of boards, the nearest date first, whose name or person
// holds the words sought, and counts all of them.
func (s *Store) Boards(ctx context.Context, workshop, sought string, binned bool, limit, offset int) ([]Board, int, error) {
	const where = `WHERE workshop_id = $1 AND (deleted_at IS NOT NULL) = $2 AND ($3 = '' OR strpos(lower(name || ' ' || coalesce(doc->'give'->>'for', '')), lower($3)) > 0)`
	var total int
	if err := s.DB.GetContext(ctx, &total, `SELECT count(*) FROM boards `+where, workshop, binned, sought); err != nil {
		return nil, 0, err
	}
	out, err := s.boards(ctx, boardColumns+where+` ORDER BY due NULLS LAST, created_at DESC, id LIMIT $4 OFFSET $5`, workshop, binned, sought, limit, offset)
	return out, total, err
}

func (s *Store) boards(ctx context.Context, query string, args ...any) ([]Board, error) {
	var rows []boardRow
	if err := s.DB.SelectContext(ctx, &rows, query, args...); err != nil {
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
	return s.bin(ctx, `WITH b AS (UPDATE boards SET deleted_at = $3 WHERE workshop_id = $1 AND id = $2 RETURNING piece_id)
		UPDATE pieces SET deleted_at = CASE WHEN $3::timestamptz IS NULL THEN NULL ELSE deleted_at END FROM b WHERE pieces.id = b.piece_id`, workshop, id, bin)
}

// SetGiven marks a board as given away, which takes it off the bench.
func (s *Store) SetGiven(ctx context.Context, workshop, id string, given bool) error {
	return s.bin(ctx, `UPDATE boards SET given_at = $3 WHERE workshop_id = $1 AND id = $2`, workshop, id, given)
}

// Stamp tells whether anything about the boards on a piece has changed.
type Stamp struct {
	Piece string `db:"piece_id"`
	Stamp string
}

// mostInWork bounds the pieces whose boards share the maker's sessions.
const mostInWork = 200

// InWork lists the pieces that hold boards still to be made, with a stamp that
// changes with the piece, its boards, the shop and the log.
func (s *Store) InWork(ctx context.Context, workshop string) ([]Stamp, error) {
	var out []Stamp
	err := s.DB.SelectContext(ctx, &out, `
		SELECT b.piece_id, p.version || '/' || w.version || '/' || string_agg(b.id || ':' || b.version, ',' ORDER BY b.id)
			|| '/' || (SELECT coalesce(max(id), 0) FROM log WHERE workshop_id = w.id) AS stamp
		FROM boards b JOIN pieces p ON p.id = b.piece_id JOIN workshops w ON w.id = b.workshop_id
		WHERE b.workshop_id = $1 AND b.deleted_at IS NULL AND b.given_at IS NULL AND p.deleted_at IS NULL
		GROUP BY b.piece_id, p.version, w.id, w.version ORDER BY min(b.due) NULLS LAST, b.piece_id LIMIT $2`, workshop, mostInWork)
	return out, err
}

// Entry is one line of the log.
type Entry struct {
	ID      int64
	Board   string `db:"board_id"`
	Name    string `db:"name"`
	Step    string
	Event   string
	At      time.Time
	Minutes float64
	Kind    string
	Title   string
	Usual   float64
}

// Record appends a line to the log of a board of the workshop.
func (s *Store) Record(ctx context.Context, workshop string, e Entry) error {
	if !known(e.Board) {
		return ErrNotFound
	}
	res, err := s.DB.ExecContext(ctx, `INSERT INTO log (workshop_id, board_id, step, event, at, minutes, kind, title, usual)
		SELECT workshop_id, id, $3, $4, $5, $6, $7, $8, $9 FROM boards WHERE workshop_id = $1 AND id = $2`,
		workshop, e.Board, e.Step, e.Event, e.At, e.Minutes, e.Kind, e.Title, e.Usual)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n == 0 {
		return errors.Join(err, ErrNotFound)
	}
	return nil
}

const entryColumns = `SELECT l.id, l.board_id, b.name, l.step, l.event, l.at, l.minutes, l.kind, l.title, l.usual FROM log l JOIN boards b ON b.id = l.board_id `

// LogOf lists the log of the boards on a piece, oldest first.
func (s *Store) LogOf(ctx context.Context, workshop, piece string) ([]Entry, error) {
	var out []Entry
	err := s.DB.SelectContext(ctx, &out, entryColumns+`WHERE l.workshop_id = $1 AND b.piece_id = $2 ORDER BY l.id`, workshop, piece)
	return out, err
}

// Log lists the newest lines of the workshop's log.
func (s *Store) Log(ctx context.Context, workshop string, limit int) ([]Entry, error) {
	var out []Entry
	err := s.DB.SelectContext(ctx, &out, entryColumns+`WHERE l.workshop_id = $1 ORDER BY l.id DESC LIMIT $2`, workshop, limit)
	return out, err
}

// Samples lists finished steps with their actual minutes, from which the
// maker's pace is learned. A step that was undone teaches nothing.
func (s *Store) Samples(ctx context.Context, workshop string) ([]plan.Sample, error) {
	var rows []struct {
		Kind    string
		Usual   float64
		Minutes float64
	}
	err := s.DB.SelectContext(ctx, &rows, `
		SELECT kind, usual, minutes FROM (
			SELECT DISTINCT ON (board_id, step) kind, usual, minutes, event FROM log
			WHERE workshop_id = $1 AND event IN ('finish', 'undo') ORDER BY board_id, step, id DESC) last
		WHERE event = 'finish' AND minutes > 0 ORDER BY kind, usual, minutes`, workshop)
	out := make([]plan.Sample, len(rows))
	for i, r := range rows {
		out[i] = plan.Sample{Kind: plan.Kind(r.Kind), Estimated: r.Usual, Actual: r.Minutes}
	}
	return out, err
}
