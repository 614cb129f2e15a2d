package store

import (
	"cmp"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5/pgconn"

	"idletimber/craft/fill"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/reckon"
	"idletimber/craft/rescue"
	"idletimber/craft/shelf"
	"idletimber/craft/slab"
	"idletimber/craft/stage"
)

// Board is a board and the piece that it is laid on.
type Board struct {
	Piece   string
	Board   reckon.Board
	Version int
	Given   *time.Time
	Deleted *time.Time
	Species string // of the piece
	Slab    string // name of the piece
	Run     string // id of the run that it belongs to; empty for none
}

type boardRow struct {
	ID        string
	PieceID   string `db:"piece_id"`
	Doc       doc[reckon.Board]
	Version   int
	GivenAt   *time.Time `db:"given_at"`
	DeletedAt *time.Time `db:"deleted_at"`
	Species   string
	Slab      string
	RunID     *string `db:"run_id"`
}

func (r boardRow) board() Board {
	b := Board{r.PieceID, r.Doc.V, r.Version, r.GivenAt, r.DeletedAt, r.Species, r.Slab, ""}
	b.Board.ID = r.ID
	if r.RunID != nil {
		b.Run = *r.RunID
	}
	return b
}

// Stored is the board as the core settles it.
func (b Board) Stored() reckon.Stored {
	return reckon.Stored{Board: b.Board, Piece: b.Piece, Version: b.Version, Binned: b.Deleted != nil}
}

const boardColumns = `SELECT id, piece_id, doc, version, given_at, deleted_at, run_id,
	(SELECT species FROM pieces WHERE pieces.id = piece_id) AS species,
	(SELECT name FROM pieces WHERE pieces.id = piece_id) AS slab FROM boards `

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

// Rescued is what is written when something went wrong on a board, or when a way out is taken: boards as they are then,
// those that join its run and that leave it, wood that goes back on the rack, and lines of the log.
type Rescued struct {
	Boards []reckon.Stored
	Run    string // id; empty for none
	Joins  []string
	Leaves []string
	Wood   []slab.Slab
	Log    []Entry
}

// Rescue writes all of it or nothing, and returns the ids of new boards and pieces. The error is as that of SaveBoards.
func (s *Store) Rescue(ctx context.Context, workshop string, r Rescued) ([]string, error) {
	return s.write(ctx, workshop, func(tx *Store) error {
		if err := tx.putBoards(ctx, workshop, r.Boards); err != nil {
			return err
		}
		if r.Run != "" {
			if err := tx.putInRun(ctx, workshop, &r.Run, r.Joins); err != nil {
				return err
			}
		}
		if err := tx.putInRun(ctx, workshop, nil, r.Leaves); err != nil {
			return err
		}
		if len(r.Wood) > 0 {
			at, _, err := tx.Shop(ctx, workshop)
			if err != nil {
				return err
			}
			for _, v := range r.Wood {
				if _, err := tx.insert(ctx, workshop, at, v); err != nil {
					return err
				}
			}
		}
		for _, e := range r.Log {
			if err := tx.record(ctx, workshop, e); err != nil {
				return err
			}
		}
		return nil
	})
}

// Mishaps lists what went wrong on the boards of a workshop, the newest first; of boards in the bin too.
func (s *Store) Mishaps(ctx context.Context, workshop string) ([]rescue.Mishap, error) {
	var rows []doc[rescue.Mishap]
	err := s.q.SelectContext(ctx, &rows, `SELECT m FROM boards, jsonb_array_elements(doc->'mishaps') m
		WHERE workshop_id = $1 AND jsonb_typeof(doc->'mishaps') = 'array' ORDER BY m->>'at' DESC`, workshop)
	out := make([]rescue.Mishap, len(rows))
	for i, r := range rows {
		out[i] = r.V
	}
	return out, err
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

// Boards lists a page of boards, the nearest date first and those given away last, whose name or person
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
		boardColumns+where+` ORDER BY given_at IS NOT NULL, due NULLS LAST, created_at DESC, id LIMIT $4 OFFSET $5`,
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
func (s *Store) SetGiven(ctx context.Context, workshop, id string, at *time.Time) error {
	return s.change(ctx, workshop, id, `UPDATE boards SET given_at = $3 WHERE workshop_id = $1 AND id = $2`, at)
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
// the panels that are made of it, the shop, the log, the data sheets, and the hour of the
// room's last reading.
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
					ORDER BY at DESC, id DESC LIMIT 1), '') <> 'finish'
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
			(SELECT string_agg(concat_ws(':', id, version), ',' ORDER BY id) FROM products
				WHERE workshop_id = $1 AND deleted_at IS NULL AND doc ? 'sheet'),
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

	Words   string // as the maker wrote them down
	Picture string // id of one; empty for none
	For     string // who gets the board
	Run     string // name of the board's run

	Press string // id of the press that it came from; empty for none

	// What a step that is finished has taken, or by a note on it has taken after all; nil where that is not known.
	Uses []stage.Use
}

// Logged is the line as the craft reads it.
func (e Entry) Logged() reckon.LogEntry {
	return reckon.LogEntry{Subject: e.Subject, Entry: plan.Entry{
		Step: e.Step, Event: e.Event, At: e.At, Minutes: e.Minutes,
		What: e.What, Value: e.Value, Place: e.Place, Of: e.Of,
	}, Uses: e.Uses}
}

// Record appends lines to the log of subjects of the workshop, all or none. What was pressed under one id is
// written once on each step; again it changes nothing.
func (s *Store) Record(ctx context.Context, workshop string, entries ...Entry) error {
	_, err := s.write(ctx, workshop, func(tx *Store) error {
		for _, e := range entries {
			if err := tx.record(ctx, workshop, e); err != nil {
				return err
			}
		}
		return nil
	})
	return err
}

// record writes a line of the log. Lines of a workshop are stored one after another, so that the newest tells of all:
// one that was begun before it would otherwise come after it.
func (s *Store) record(ctx context.Context, workshop string, e Entry) error {
	if !known(e.Subject.ID) {
		return ErrNotFound
	}
	var x, y *float64
	if e.Place != nil {
		x, y = &e.Place.X, &e.Place.Y
	}
	var press, picture *string
	if e.Press != "" {
		press = &e.Press
	}
	if e.Picture != "" {
		picture = &e.Picture
	}
	uses, err := encode(e.Uses)
	if err != nil {
		return err
	}
	if err := s.alone(ctx, "log", workshop); err != nil {
		return err
	}
	of := `SELECT 1 FROM boards WHERE $3 = 'board' AND workshop_id = $1 AND id = $2
		UNION ALL SELECT 1 FROM pieces WHERE $3 = 'panel' AND workshop_id = $1 AND id = $2`
	err = found(
		s.q.ExecContext(
			ctx,
			`INSERT INTO log (workshop_id, subject_kind, subject_id, step, event, at, minutes,
			kind, title, usual, what, amount, x, y, resin, press, words, picture, uses)
		SELECT $1, $3, $2, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18,
			nullif($19::jsonb, 'null')
		WHERE EXISTS (`+of+`)
		ON CONFLICT DO NOTHING`,
			workshop,
			e.Subject.ID,
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
			press,
			e.Words,
			picture,
			uses,
		),
	)
	if errors.Is(err, ErrNotFound) && press != nil {
		var known bool
		err = s.q.GetContext(ctx, &known, `SELECT EXISTS (SELECT 1 FROM log WHERE workshop_id = $1 AND press = $2)`,
			workshop, press)
		if err == nil && !known {
			err = ErrNotFound
		}
	}
	return err
}

// LogStamp tells whether anything of a workshop's log has changed, and which boards came back.
func (s *Store) LogStamp(ctx context.Context, workshop string) (stamp string, err error) {
	err = s.q.GetContext(ctx, &stamp, `SELECT concat((SELECT max(id) FROM log WHERE workshop_id = $1), ':',
		(SELECT sum(cardinality(returned)) FROM care WHERE workshop_id = $1))`, workshop)
	return stamp, err
}

// LastLine is the id of the newest line of the workshop's log; 0 where there is none.
func (s *Store) LastLine(ctx context.Context, workshop string) (id int64, err error) {
	err = s.q.GetContext(ctx, &id, `SELECT coalesce(max(id), 0) FROM log WHERE workshop_id = $1`, workshop)
	return id, err
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
	Words       string
	Uses        doc[[]stage.Use]
	Picture     string
	For         string `db:"given_to"`
	Run         string
}

const entryColumns = `SELECT l.id, l.subject_kind, l.subject_id, coalesce(b.name, p.name, '') AS name, l.step, l.event,
	l.at, l.minutes, l.kind, l.title, l.usual, l.what, l.amount, l.x, l.y, l.resin, l.words,
	coalesce(l.uses, 'null') AS uses,
	coalesce(l.picture::text, '') AS picture, coalesce(b.doc->'give'->>'for', '') AS given_to,
	coalesce(r.name, '') AS run
	FROM log l LEFT JOIN boards b ON l.subject_kind = 'board' AND b.id = l.subject_id
	LEFT JOIN runs r ON r.id = b.run_id
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
			Words: r.Words, Picture: r.Picture, For: r.For, Run: r.Run, Uses: r.Uses.V,
		}
		if r.X != nil && r.Y != nil {
			out[i].Place = &geom.Point{X: *r.X, Y: *r.Y}
		}
	}
	return out, nil
}

// LogOf lists the log of the boards on a piece, and of the piece where it is a panel,
// in the order in which it happened.
func (s *Store) LogOf(ctx context.Context, workshop, piece string) ([]Entry, error) {
	return s.entries(
		ctx,
		`WHERE l.workshop_id = $1 AND (b.piece_id = $2 OR p.id = $2) ORDER BY l.at, l.id`,
		workshop,
		piece,
	)
}

// Wished is which lines of the log are looked for; what is empty bounds nothing.
type Wished struct {
	Board, Run  string    // ids; Board names a panel too
	Kind        string    // of work
	Who         string    // a part of the name of who gets the board
	Text        string    // a part of the name, the title or the words
	Notes       bool      // only what was written down
	From, Until time.Time // from a moment on, until before another
	Oldest      bool      // in the order in which it happened, and not the newest first
	Skip, Most  int
}

// Log lists lines of the workshop's log.
func (s *Store) Log(ctx context.Context, workshop string, w Wished) ([]Entry, error) {
	where, args := "WHERE l.workshop_id = $1", []any{workshop}
	and := func(condition string, value any) {
		args = append(args, value)
		where += " AND " + strings.ReplaceAll(condition, "?", fmt.Sprintf("$%d", len(args)))
	}
	for _, id := range []struct{ of, id string }{{"l.subject_id = ?", w.Board}, {"b.run_id = ?", w.Run}} {
		if id.id == "" {
			continue
		}
		if !known(id.id) {
			return []Entry{}, nil
		}
		and(id.of, id.id)
	}
	if w.Kind != "" {
		and("l.kind = ?", w.Kind)
	}
	if w.Who != "" {
		and("strpos(lower(b.doc->'give'->>'for'), lower(?)) > 0", w.Who)
	}
	if w.Text != "" {
		and("strpos(lower(concat_ws(' ', b.name, p.name, l.title, l.words)), lower(?)) > 0", w.Text)
	}
	if w.Notes {
		and("l.event = ?", plan.Noted)
	}
	if !w.From.IsZero() {
		and("l.at >= ?", w.From)
	}
	if !w.Until.IsZero() {
		and("l.at < ?", w.Until)
	}
	by := " ORDER BY l.at DESC, l.id DESC"
	if w.Oldest {
		by = " ORDER BY l.at, l.id"
	}
	args = append(args, w.Most, w.Skip)
	return s.entries(ctx, where+by+fmt.Sprintf(" LIMIT $%d OFFSET $%d", len(args)-1, len(args)), args...)
}

// Samples lists finished steps with their actual minutes, from which the
// maker's pace is learned. A step that was undone teaches nothing.
func (s *Store) Samples(ctx context.Context, workshop string) ([]plan.Sample, error) {
	worked, err := s.Worked(ctx, workshop)
	out := make([]plan.Sample, len(worked))
	for i, w := range worked {
		out[i] = w.Sample
	}
	slices.SortFunc(out, func(a, b plan.Sample) int { // whatever the order of the log
		return cmp.Or(
			cmp.Compare(a.Kind, b.Kind),
			cmp.Compare(a.Estimated, b.Estimated),
			cmp.Compare(a.Actual, b.Actual),
		)
	})
	return out, err
}

// Worked lists the steps that are finished, with their minutes.
func (s *Store) Worked(ctx context.Context, workshop string) ([]plan.Worked, error) {
	var rows []struct {
		Kind    string
		Usual   float64
		Minutes float64
		At      time.Time
	}
	err := s.q.SelectContext(ctx, &rows, `
		SELECT kind, usual, minutes, at FROM finished WHERE workshop_id = $1 AND minutes > 0 ORDER BY at, id`, workshop)
	out := make([]plan.Worked, len(rows))
	for i, r := range rows {
		out[i] = plan.Worked{
			Sample: plan.Sample{Kind: plan.Kind(r.Kind), Estimated: r.Usual, Actual: r.Minutes}, At: r.At,
		}
	}
	return out, err
}

// Taken is what finished steps have taken, as it stands in the log, of those that took any of some items, since the
// first of the products that serve as those was counted.
func (s *Store) Taken(ctx context.Context, workshop string, items []string) ([]shelf.Taken, error) {
	var rows []struct {
		Uses doc[[]stage.Use]
		At   time.Time
	}
	err := s.q.SelectContext(ctx, &rows, `
		SELECT uses, at FROM finished WHERE workshop_id = $1
			AND at >= (SELECT min((doc->>'counted')::timestamptz) FROM products WHERE `+serving+`)
			AND (jsonb_path_query_array(uses, '$[*].item') ?| $2 OR uses @? '$[*] ? (@.item starts with "paste, ")')`,
		workshop, items)
	var out []shelf.Taken
	for _, r := range rows {
		for _, u := range r.Uses.V {
			out = append(out, shelf.Taken{Use: u, At: r.At})
		}
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
