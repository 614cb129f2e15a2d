package store

import (
	"context"
	"database/sql"
	"errors"
	"strings"
	"time"

	"idletimber/craft/giving"
	"idletimber/craft/reckon"
)

// Kept is a document of the workshop with its version.
type Kept[T any] struct {
	ID      string     `json:"id"`
	Doc     T          `json:"doc"`
	Version int        `json:"version"`
	Deleted *time.Time `json:"-"`
}

type keptRow[T any] struct {
	ID        string
	Doc       doc[T]
	Version   int
	DeletedAt *time.Time `db:"deleted_at"`
}

// Shelved are the documents of a table that holds them by name: people, occasions.
type Shelved[T any] struct {
	*Store
	table string
	name  func(T) string
}

// People are the people that boards are for.
func (s *Store) People() Shelved[giving.Person] {
	return Shelved[giving.Person]{s, "people", func(p giving.Person) string { return p.Name }}
}

// Occasions are the days on which several people get a board.
func (s *Store) Occasions() Shelved[giving.Occasion] {
	return Shelved[giving.Occasion]{s, "occasions", func(o giving.Occasion) string { return o.Name }}
}

// List lists a page of those whose name or document holds some words, by name, and counts all that was found.
func (s Shelved[T]) List(
	ctx context.Context, workshop, words string, bin bool, limit, offset int,
) (out []Kept[T], total int, err error) {
	where := ` FROM ` + s.table + ` WHERE workshop_id = $1 AND (deleted_at IS NOT NULL) = $2
		AND ($3 = '' OR strpos(lower(name || ' ' || coalesce(doc->>'likes', '')), lower($3)) > 0)`
	if err = s.q.GetContext(ctx, &total, `SELECT count(*)`+where, workshop, bin, words); err != nil {
		return nil, 0, err
	}
	out, err = s.read(ctx, where+` ORDER BY lower(name), id LIMIT $4 OFFSET $5`, workshop, bin, words, limit, offset)
	return out, total, err
}

// Of reads those of some ids that are not put away, by name.
func (s Shelved[T]) Of(ctx context.Context, workshop string, ids []string) ([]Kept[T], error) {
	return s.read(ctx, ` FROM `+s.table+` WHERE workshop_id = $1 AND id::text = ANY($2) AND deleted_at IS NULL
		ORDER BY lower(name), id`, workshop, ids)
}

func (s Shelved[T]) read(ctx context.Context, query string, args ...any) ([]Kept[T], error) {
	var rows []keptRow[T]
	err := s.q.SelectContext(ctx, &rows, `SELECT id, doc, version, deleted_at`+query, args...)
	out := make([]Kept[T], len(rows))
	for i, r := range rows {
		out[i] = Kept[T]{r.ID, r.Doc.V, r.Version, r.DeletedAt}
	}
	return out, err
}

// Get reads one, also one that was put away.
func (s Shelved[T]) Get(ctx context.Context, workshop, id string) (out Kept[T], err error) {
	if !known(id) {
		return out, ErrNotFound
	}
	all, err := s.read(ctx, ` FROM `+s.table+` WHERE workshop_id = $1 AND id = $2`, workshop, id)
	if err != nil || len(all) == 0 {
		return out, errors.Join(err, ErrNotFound)
	}
	return all[0], nil
}

// New keeps documents, all or none, and returns their ids.
func (s Shelved[T]) New(ctx context.Context, workshop string, all []T) ([]string, error) {
	return s.write(ctx, workshop, func(tx *Store) error {
		for _, d := range all {
			text, err := encode(d)
			if err != nil {
				return err
			}
			var id string
			if err := tx.q.GetContext(ctx, &id, `INSERT INTO `+s.table+` (workshop_id, name, doc, created_at)
				VALUES ($1, $2, $3, $4) RETURNING id`, workshop, s.name(d), text, s.now()); err != nil {
				return err
			}
			tx.made(id)
		}
		return nil
	})
}

// Save stores one made on a version. The error is *Stale[T] when another was stored meanwhile.
func (s Shelved[T]) Save(ctx context.Context, workshop, id string, d T, version int) error {
	if !known(id) {
		return ErrNotFound
	}
	text, err := encode(d)
	if err != nil {
		return err
	}
	_, err = s.write(ctx, workshop, func(tx *Store) error {
		err := found(tx.q.ExecContext(ctx, `UPDATE `+s.table+` SET name = $3, doc = $4, version = version + 1
			WHERE workshop_id = $1 AND id = $2 AND version = $5`, workshop, id, s.name(d), text, version))
		if !errors.Is(err, ErrNotFound) {
			return err
		}
		now, err := (Shelved[T]{tx, s.table, s.name}).Get(ctx, workshop, id)
		if err != nil {
			return err
		}
		return &Stale[T]{now.Doc, now.Version}
	})
	return err
}

// Bin puts one away, or takes it out again.
func (s Shelved[T]) Bin(ctx context.Context, workshop, id string, bin bool) error {
	return s.bin(ctx, `UPDATE `+s.table+` SET deleted_at = $3 WHERE workshop_id = $1 AND id = $2`, workshop, id, bin)
}

// Gift is a board that is for a person.
type Gift struct {
	Board  string
	Name   string
	Person string     // id of the person; empty where only the name tells
	For    string     // whom it is for, as it was written
	Due    string     // YYYY-MM-DD; empty without a day
	Given  *time.Time // when it was given away; nil while it was not
}

// Gifts lists the boards that are for some people, by their ids or, where a board has none, their names; the newest day
// first.
func (s *Store) Gifts(ctx context.Context, workshop string, people []Kept[giving.Person]) ([]Gift, error) {
	ids, names := make([]string, len(people)), make([]string, len(people))
	for i, p := range people {
		ids[i], names[i] = p.ID, strings.ToLower(p.Doc.Name)
	}
	var rows []struct {
		ID, Name, Person, Whom, Due string
		GivenAt                     *time.Time `db:"given_at"`
	}
	const columns = `SELECT id, name, coalesce(doc->'give'->>'person', '') AS person,
		coalesce(doc->'give'->>'for', '') AS whom,
		coalesce(due::text, '') AS due, given_at, created_at FROM boards WHERE workshop_id = $1 AND deleted_at IS NULL AND `
	err := s.q.SelectContext(ctx, &rows, `SELECT id, name, person, whom, due, given_at FROM (`+
		columns+`doc->'give'->>'person' = ANY($2) UNION ALL `+
		columns+`lower(doc->'give'->>'for') = ANY($3) AND coalesce(doc->'give'->>'person', '') = '') found
		ORDER BY coalesce(nullif(due, '')::date, given_at::date) DESC NULLS FIRST, created_at DESC, id`,
		workshop, ids, names)
	out := make([]Gift, len(rows))
	for i, r := range rows {
		out[i] = Gift{r.ID, r.Name, r.Person, r.Whom, r.Due, r.GivenAt}
	}
	return out, err
}

// WithDays lists the people who have days that come back every year.
func (s *Store) WithDays(ctx context.Context, workshop string) ([]Kept[giving.Person], error) {
	const most = 10_000
	return s.People().read(ctx, ` FROM people WHERE workshop_id = $1 AND deleted_at IS NULL
		AND jsonb_array_length(coalesce(doc->'days', '[]')) > 0 ORDER BY lower(name), id LIMIT $2`, workshop, most)
}

// Care is what is kept of a board beside itself, once it is given.
type Care struct {
	Board    string `db:"board_id"`
	Workshop string `db:"workshop_id"`
	Link     string
	Every    int // days; 0 while that is not known
	Oiled    *time.Time
}

// CareOf reads what is kept of a board; nothing where nothing is.
func (s *Store) CareOf(ctx context.Context, workshop, board string) (c Care, err error) {
	if !known(board) {
		return c, ErrNotFound
	}
	err = s.q.GetContext(ctx, &c, `SELECT b.id AS board_id, b.workshop_id, coalesce(link, '') AS link,
		coalesce(every, 0) AS every, oiled FROM boards b LEFT JOIN care ON board_id = b.id
		WHERE b.workshop_id = $1 AND b.id = $2`, workshop, board)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return c, err
}

// SetCare keeps what is kept of a board of the workshop.
func (s *Store) SetCare(ctx context.Context, c Care) error {
	if !known(c.Board) {
		return ErrNotFound
	}
	return found(s.q.ExecContext(ctx, `
		INSERT INTO care (board_id, workshop_id, link, every, oiled)
		SELECT id, workshop_id, nullif($3, ''), nullif($4, 0), $5::date FROM boards WHERE workshop_id = $1 AND id = $2
		ON CONFLICT (board_id) DO UPDATE SET link = excluded.link, every = excluded.every, oiled = excluded.oiled`,
		c.Workshop, c.Board, c.Link, c.Every, c.Oiled))
}

// LinkedBy finds the board of a care page by its link.
func (s *Store) LinkedBy(ctx context.Context, link string) (c Care, err error) {
	err = s.q.GetContext(ctx, &c, `SELECT board_id, workshop_id, link, coalesce(every, 0) AS every, oiled FROM care
		WHERE link = $1 AND EXISTS (SELECT 1 FROM boards WHERE boards.id = board_id AND deleted_at IS NULL)`, link)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return c, err
}

// GivenAway is a board that was given away, and when it is to be oiled.
type GivenAway struct {
	ID    string    `json:"id"`
	Name  string    `json:"name"`
	For   string    `json:"for"`
	Given time.Time `json:"given"`
	Oiled string    `json:"oiled,omitempty" doc:"When it was oiled last, after it was given"`
	Next  string    `json:"next,omitempty" doc:"When it is to be oiled; left out while that is not known"`
}

// GivenAway lists a page of the boards that were given away, what is to be oiled first at the top.
func (s *Store) GivenAway(ctx context.Context, workshop string, limit, offset int) ([]GivenAway, int, error) {
	const from = ` FROM boards b LEFT JOIN care c ON c.board_id = b.id
		WHERE b.workshop_id = $1 AND b.deleted_at IS NULL AND b.given_at IS NOT NULL`
	var total int
	if err := s.q.GetContext(ctx, &total, `SELECT count(*)`+from, workshop); err != nil {
		return nil, 0, err
	}
	out := []GivenAway{}
	err := s.q.SelectContext(ctx, &out, `SELECT b.id, b.name, coalesce(b.doc->'give'->>'for', '') AS "for",
		b.given_at AS given, coalesce(c.oiled::text, '') AS oiled,
		coalesce((coalesce(c.oiled, b.given_at::date) + c.every)::text, '') AS next`+from+`
		ORDER BY coalesce(c.oiled, b.given_at::date) + c.every NULLS LAST, b.given_at DESC, b.id LIMIT $2 OFFSET $3`,
		workshop, limit, offset)
	return out, total, err
}

// TakeBack stores a board that has come back, which is no longer given away. The error is *Stale[reckon.Board] when it
// was changed meanwhile.
func (s *Store) TakeBack(ctx context.Context, workshop string, b reckon.Stored) error {
	_, err := s.write(ctx, workshop, func(tx *Store) error {
		if err := tx.putBoards(ctx, workshop, []reckon.Stored{b}); err != nil {
			return err
		}
		if _, err := tx.q.ExecContext(ctx, `UPDATE boards SET given_at = NULL WHERE workshop_id = $1 AND id = $2`,
			workshop, b.Board.ID); err != nil {
			return err
		}
		_, err := tx.q.ExecContext(
			ctx,
			`INSERT INTO care (board_id, workshop_id, returned) VALUES ($2, $1, ARRAY[$3::timestamptz])
			ON CONFLICT (board_id) DO UPDATE SET returned = care.returned || excluded.returned`,
			workshop,
			b.Board.ID,
			b.Board.Returned.At,
		)
		return err
	})
	return err
}
