package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"idletimber/craft/finish"
	"idletimber/craft/plan"
	"idletimber/craft/trial"
)

// Trial is a trial with its version.
type Trial struct {
	ID      string
	Trial   trial.Trial
	Version int
	At      time.Time // when it was begun
}

type trialRow struct {
	ID        string
	Doc       doc[trial.Trial]
	Version   int
	CreatedAt time.Time `db:"created_at"`
}

func (r trialRow) trial() Trial { return Trial{r.ID, r.Doc.V, r.Version, r.CreatedAt} }

const trialColumns = `SELECT id, doc, version, created_at FROM trials `

// mostTrials bounds what is listed and learned from.
const mostTrials = 200

// Trials lists the trials of a workshop, the newest first.
func (s *Store) Trials(ctx context.Context, workshop string) ([]Trial, error) {
	var rows []trialRow
	err := s.q.SelectContext(ctx, &rows, trialColumns+`WHERE workshop_id = $1 AND deleted_at IS NULL
		ORDER BY created_at DESC, id LIMIT $2`, workshop, mostTrials)
	out := make([]Trial, len(rows))
	for i, r := range rows {
		out[i] = r.trial()
	}
	return out, err
}

// Trial reads a trial of the workshop.
func (s *Store) Trial(ctx context.Context, workshop, id string) (Trial, error) {
	if !known(id) {
		return Trial{}, ErrNotFound
	}
	var row trialRow
	err := s.q.GetContext(ctx, &row, trialColumns+`WHERE workshop_id = $1 AND id = $2`, workshop, id)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return row.trial(), err
}

// trials are the trials as documents.
func (s *Store) trials() Documents[trial.Trial] {
	return Documents[trial.Trial]{s, "trials", func(t trial.Trial) string { return t.Name }}
}

// NewTrial keeps a trial and returns its id.
func (s *Store) NewTrial(ctx context.Context, workshop string, t trial.Trial) (string, error) {
	ids, err := s.trials().New(ctx, workshop, []trial.Trial{t})
	if err != nil || len(ids) == 0 {
		return "", err
	}
	return ids[0], nil
}

// SaveTrial stores a trial made on a version. The error is *Stale[trial.Trial] when another was
// stored meanwhile.
func (s *Store) SaveTrial(ctx context.Context, workshop, id string, t trial.Trial, version int) error {
	return s.trials().Save(ctx, workshop, Kept[trial.Trial]{ID: id, Doc: t, Version: version})
}

// BinTrial puts a trial away, or takes it out again.
func (s *Store) BinTrial(ctx context.Context, workshop, id string, bin bool) error {
	return s.trials().Bin(ctx, workshop, id, bin)
}

// KeepCoat writes down what a coat took that is on; DropCoat forgets it, where it was taken back.
func (s *Store) KeepCoat(ctx context.Context, workshop, board, step string, c finish.Coated) error {
	_, err := s.q.ExecContext(ctx, `INSERT INTO coats (workshop_id, board_id, step, at, product, asked, used)
		VALUES ($1, $2, $3, $4, $5, $6, $7)
		ON CONFLICT (board_id, step) DO UPDATE SET product = $5, asked = $6, used = $7`,
		workshop, board, step, s.now(), c.Product, c.Asked, c.Used)
	return err
}

// DropCoat forgets a coat.
func (s *Store) DropCoat(ctx context.Context, workshop, board, step string) error {
	_, err := s.q.ExecContext(ctx, `DELETE FROM coats WHERE workshop_id = $1 AND board_id = $2 AND step = $3`,
		workshop, board, step)
	return err
}

// Coated lists the newest coats that are on, from which amounts are learned.
func (s *Store) Coated(ctx context.Context, workshop string) ([]finish.Coated, error) {
	const newest = 500
	out := []finish.Coated{}
	err := s.q.SelectContext(ctx, &out, `SELECT product, asked, used FROM coats WHERE workshop_id = $1
		ORDER BY at DESC, board_id, step LIMIT $2`, workshop, newest)
	return out, err
}

// Spent lists what the finished steps of some boards took.
func (s *Store) Spent(ctx context.Context, workshop string, boards []string) ([]trial.Spent, error) {
	ids := make([]string, 0, len(boards))
	for _, id := range boards {
		if known(id) {
			ids = append(ids, id)
		}
	}
	out := []trial.Spent{}
	if len(ids) == 0 {
		return out, nil
	}
	var rows []struct {
		SubjectID string `db:"subject_id"`
		Kind      string
		Minutes   float64
	}
	err := s.q.SelectContext(ctx, &rows, `
		SELECT subject_id, kind, minutes FROM finished
		WHERE workshop_id = $1 AND subject_id = ANY($2::uuid[]) AND minutes > 0
		ORDER BY subject_id, step`, workshop, ids)
	for _, r := range rows {
		out = append(out, trial.Spent{Board: r.SubjectID, Kind: plan.Kind(r.Kind), Minutes: r.Minutes})
	}
	return out, err
}
