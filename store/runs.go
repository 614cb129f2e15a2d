package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"idletimber/craft/plan"
	"idletimber/craft/reckon"
	"idletimber/craft/run"
)

// Run is a run with its version.
type Run struct {
	ID      string
	Run     run.Run
	Version int
	At      time.Time // when it was begun
	Deleted *time.Time
}

type runRow struct {
	ID        string
	Doc       doc[run.Run]
	Version   int
	CreatedAt time.Time  `db:"created_at"`
	DeletedAt *time.Time `db:"deleted_at"`
}

func (r runRow) run() Run { return Run{r.ID, r.Doc.V, r.Version, r.CreatedAt, r.DeletedAt} }

const runColumns = `SELECT id, doc, version, created_at, deleted_at FROM runs `

// mostRuns bounds what is listed.
const mostRuns = 200

// Runs lists the runs of a workshop, the newest first.
func (s *Store) Runs(ctx context.Context, workshop string) ([]Run, error) {
	var rows []runRow
	err := s.q.SelectContext(ctx, &rows, runColumns+`WHERE workshop_id = $1 AND deleted_at IS NULL
		ORDER BY created_at DESC, id LIMIT $2`, workshop, mostRuns)
	out := make([]Run, len(rows))
	for i, r := range rows {
		out[i] = r.run()
	}
	return out, err
}

// Run reads a run of the workshop, also one that was put away.
func (s *Store) Run(ctx context.Context, workshop, id string) (Run, error) {
	if !known(id) {
		return Run{}, ErrNotFound
	}
	var row runRow
	err := s.q.GetContext(ctx, &row, runColumns+`WHERE workshop_id = $1 AND id = $2`, workshop, id)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return row.run(), err
}

// NewRun keeps a run with boards of the workshop and returns its id.
func (s *Store) NewRun(ctx context.Context, workshop string, r run.Run, boards []string) (id string, err error) {
	text, err := encode(r)
	if err != nil {
		return "", err
	}
	ids, err := s.write(ctx, workshop, func(tx *Store) error {
		var id string
		if err := tx.q.GetContext(ctx, &id, `INSERT INTO runs (workshop_id, name, doc, created_at)
			VALUES ($1, $2, $3, $4) RETURNING id`, workshop, r.Name, text, s.now()); err != nil {
			return err
		}
		tx.made(id)
		return tx.putInRun(ctx, workshop, &id, boards)
	})
	if err != nil || len(ids) == 0 {
		return "", err
	}
	return ids[0], nil
}

// runs are the runs as documents.
func (s *Store) runs() Documents[run.Run] {
	return Documents[run.Run]{s, "runs", func(r run.Run) string { return r.Name }}
}

// SaveRun stores a run made on a version. The error is *Stale[run.Run] when another was stored meanwhile.
func (s *Store) SaveRun(ctx context.Context, workshop, id string, r run.Run, version int) error {
	return s.runs().Save(ctx, workshop, Kept[run.Run]{ID: id, Doc: r, Version: version})
}

// BinRun puts a run away, or takes it out again. Its boards stay as they are.
func (s *Store) BinRun(ctx context.Context, workshop, id string, bin bool) error {
	return s.runs().Bin(ctx, workshop, id, bin)
}

// PutInRun makes boards part of a run, or, with an empty one, of none: all of them or none.
func (s *Store) PutInRun(ctx context.Context, workshop, id string, boards []string) error {
	var of *string
	if id != "" {
		if _, err := s.Run(ctx, workshop, id); err != nil {
			return err
		}
		of = &id
	}
	_, err := s.write(ctx, workshop, func(tx *Store) error { return tx.putInRun(ctx, workshop, of, boards) })
	return err
}

func (s *Store) putInRun(ctx context.Context, workshop string, id *string, boards []string) error {
	for _, b := range boards {
		if !known(b) {
			return ErrNotFound
		}
		if err := found(s.q.ExecContext(ctx, `UPDATE boards SET run_id = $3 WHERE workshop_id = $1 AND id = $2`,
			workshop, b, id)); err != nil {
			return err
		}
	}
	return nil
}

// LayInRun stores boards of a run, new ones and changed ones, with who of it still waits and what is still to be laid:
// all of it or nothing. It returns the ids of new boards; the error is as that of SaveBoards.
func (s *Store) LayInRun(ctx context.Context, workshop, id string, boards []reckon.Stored,
	change func(*run.Run),
) ([]string, error) {
	if !known(id) {
		return nil, ErrNotFound
	}
	return s.write(ctx, workshop, func(tx *Store) error {
		var row runRow
		err := tx.q.GetContext(ctx, &row, runColumns+`WHERE workshop_id = $1 AND id = $2 AND deleted_at IS NULL
			FOR UPDATE`, workshop, id)
		if errors.Is(err, sql.ErrNoRows) {
			return ErrNotFound
		}
		if err != nil {
			return err
		}
		if err := tx.putBoards(ctx, workshop, boards); err != nil {
			return err
		}
		ids := make([]string, len(boards))
		for i, b := range boards {
			ids[i] = b.Board.ID
		}
		if err := tx.putInRun(ctx, workshop, &id, ids); err != nil {
			return err
		}
		change(&row.Doc.V)
		text, err := encode(row.Doc.V)
		if err != nil {
			return err
		}
		return found(tx.q.ExecContext(ctx, `UPDATE runs SET doc = $3, version = version + 1
			WHERE workshop_id = $1 AND id = $2`, workshop, id, text))
	})
}

// BoardsOfRun lists the boards of a run, also those given away, by name and as they were laid.
func (s *Store) BoardsOfRun(ctx context.Context, workshop, id string) ([]Board, error) {
	if !known(id) {
		return nil, ErrNotFound
	}
	return s.boards(ctx, boardColumns+`WHERE workshop_id = $1 AND run_id = $2 AND deleted_at IS NULL
		ORDER BY created_at, id`, workshop, id)
}

// RunOf is which run each board of the workshop belongs to, by board: its name.
func (s *Store) RunOf(ctx context.Context, workshop string) (map[string]RunName, error) {
	var rows []struct {
		Board string
		RunName
	}
	err := s.q.SelectContext(ctx, &rows, `SELECT b.id AS board, r.id, r.name FROM boards b
		JOIN runs r ON r.id = b.run_id WHERE b.workshop_id = $1 AND r.deleted_at IS NULL`, workshop)
	out := make(map[string]RunName, len(rows))
	for _, r := range rows {
		out[r.Board] = r.RunName
	}
	return out, err
}

// RunName names a run.
type RunName struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// Plan is what is kept of a workshop's plan: the dates are reckoned.
type Plan struct {
	Order []string   `json:"order,omitempty"` // of steps, as it was found to be good
	Pins  []plan.Pin `json:"pins,omitempty"`  // what is locked to days
	Ahead []string   `json:"ahead,omitempty"` // steps that the maker wants done first
}

// Plan reads what is kept of the workshop's plan; nothing where nothing is.
func (s *Store) Plan(ctx context.Context, workshop string) (Plan, error) {
	var row doc[Plan]
	err := s.q.GetContext(ctx, &row, `SELECT doc FROM plans WHERE workshop_id = $1`, workshop)
	if errors.Is(err, sql.ErrNoRows) {
		return Plan{}, nil
	}
	return row.V, err
}

// ChangePlan changes what is kept of the workshop's plan.
func (s *Store) ChangePlan(ctx context.Context, workshop string, change func(*Plan)) error {
	_, err := s.write(ctx, workshop, func(tx *Store) error {
		// The workshop's row is held meanwhile, so that two changes follow each other.
		var held string
		err := tx.q.GetContext(ctx, &held, `SELECT id FROM workshops WHERE id = $1 FOR UPDATE`, workshop)
		if err != nil {
			return err
		}
		p, err := tx.Plan(ctx, workshop)
		if err != nil {
			return err
		}
		change(&p)
		text, err := encode(p)
		if err != nil {
			return err
		}
		_, err = tx.q.ExecContext(ctx, `INSERT INTO plans (workshop_id, doc) VALUES ($1, $2)
			ON CONFLICT (workshop_id) DO UPDATE SET doc = $2`, workshop, text)
		return err
	})
	return err
}

// Feed is the secret under which the workshop's calendar is read; empty where it has none.
func (s *Store) Feed(ctx context.Context, workshop string) (secret string, err error) {
	err = s.q.GetContext(ctx, &secret, `SELECT coalesce(feed, '') FROM plans WHERE workshop_id = $1`, workshop)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	return secret, err
}

// SetFeed gives the workshop's calendar another secret, or, with an empty one, none: the one before ends.
func (s *Store) SetFeed(ctx context.Context, workshop, secret string) error {
	_, err := s.write(ctx, workshop, func(tx *Store) error {
		_, err := tx.q.ExecContext(ctx, `INSERT INTO plans (workshop_id, feed) VALUES ($1, nullif($2, ''))
			ON CONFLICT (workshop_id) DO UPDATE SET feed = nullif($2, '')`, workshop, secret)
		return err
	})
	return err
}

// FedBy is the workshop whose calendar has a secret.
func (s *Store) FedBy(ctx context.Context, secret string) (workshop string, err error) {
	err = s.q.GetContext(ctx, &workshop, `SELECT workshop_id FROM plans WHERE feed = $1`, secret)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return workshop, err
}
