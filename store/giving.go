package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"idletimber/craft/giving"
	"idletimber/craft/reckon"
)

// People are the people that boards are for.
func (s *Store) People() Documents[giving.Person] {
	return Documents[giving.Person]{s, "people", func(p giving.Person) string { return p.Name }}
}

// Occasions are the days on which several people get a board.
func (s *Store) Occasions() Documents[giving.Occasion] {
	return Documents[giving.Occasion]{s, "occasions", func(o giving.Occasion) string { return o.Name }}
}

// Named lists a page of people or occasions whose name, or what they like, holds some words, by name.
func (d Documents[T]) Named(
	ctx context.Context, workshop, words string, bin bool, limit, offset int,
) (out []Kept[T], total int, err error) {
	return d.page(ctx, `WHERE workshop_id = $1 AND (deleted_at IS NOT NULL) = $2
		AND ($3 = '' OR strpos(lower(name || ' ' || coalesce(doc->>'likes', '')), lower($3)) > 0)`,
		`lower(name), id`, limit, offset, workshop, bin, words)
}

// Gift is a board that is for a person.
type Gift struct {
	Board  string
	Name   string
	Person string     // id of the person
	Due    string     // YYYY-MM-DD; empty without a day
	Given  *time.Time `db:"given_at"` // when it was given away; nil while it was not
}

// Gifts lists the boards that are for some people, by their ids or, where a board has none, their names; the newest day
// first.
func (s *Store) Gifts(ctx context.Context, workshop string, people []Kept[giving.Person]) ([]Gift, error) {
	ids, names := make([]string, len(people)), make([]string, len(people))
	for i, p := range people {
		ids[i], names[i] = p.ID, p.Doc.Name
	}
	const boards = `SELECT p.id AS person, b.id AS board, b.name, coalesce(b.due::text, '') AS due, b.given_at,
		b.created_at FROM unnest($2::text[], $3::text[]) AS p (id, name) JOIN boards b
		ON b.workshop_id = $1 AND b.deleted_at IS NULL AND `
	out := []Gift{}
	err := s.q.SelectContext(ctx, &out, `SELECT person, board, name, due, given_at FROM (`+
		boards+`b.doc->'give'->>'person' = p.id UNION ALL `+
		boards+`lower(b.doc->'give'->>'for') = lower(p.name) AND coalesce(b.doc->'give'->>'person', '') = '') found
		ORDER BY coalesce(nullif(due, '')::date, given_at::date) DESC NULLS FIRST, created_at DESC, board`,
		workshop, ids, names)
	return out, err
}

// WithDays lists the people who have days that come back every year.
func (s *Store) WithDays(ctx context.Context, workshop string) ([]Kept[giving.Person], error) {
	const most = 10_000
	return s.People().read(ctx, `WHERE workshop_id = $1 AND deleted_at IS NULL
		AND jsonb_array_length(coalesce(doc->'days', '[]')) > 0 ORDER BY lower(name), id LIMIT $2`, workshop, most)
}

// Care is what is kept of a board beside itself, once it is given.
type Care struct {
	Board    string `db:"board_id"`
	Workshop string `db:"workshop_id"`
	Link     string // of its care page; empty while it has none
	Every    int    // days after which it is oiled again; 0 while that is not known
	Oiled    *time.Time
	Next     *time.Time // when it is to be oiled
}

const careColumns = `b.id AS board_id, b.workshop_id, coalesce(c.link, '') AS link, coalesce(c.every, 0) AS every,
	c.oiled, c.next FROM boards b `

// CareOf reads what is kept of a board; nothing where nothing is.
func (s *Store) CareOf(ctx context.Context, workshop, board string) (c Care, err error) {
	if !known(board) {
		return c, ErrNotFound
	}
	return s.care(ctx, `LEFT JOIN care c ON c.board_id = b.id WHERE b.workshop_id = $1 AND b.id = $2`, workshop, board)
}

// LinkedBy finds the board of a care page by its link.
func (s *Store) LinkedBy(ctx context.Context, link string) (Care, error) {
	return s.care(ctx, `JOIN care c ON c.board_id = b.id WHERE c.link = $1 AND b.deleted_at IS NULL`, link)
}

func (s *Store) care(ctx context.Context, from string, args ...any) (c Care, err error) {
	err = s.q.GetContext(ctx, &c, `SELECT `+careColumns+from, args...)
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
	return found(s.q.ExecContext(ctx, `INSERT INTO care (board_id, workshop_id, link, every, oiled, next)
		SELECT id, workshop_id, nullif($3, ''), nullif($4, 0), $5::date, $6::date
		FROM boards WHERE workshop_id = $1 AND id = $2
		ON CONFLICT (board_id) DO UPDATE
		SET link = excluded.link, every = excluded.every, oiled = excluded.oiled, next = excluded.next`,
		c.Workshop, c.Board, c.Link, c.Every, day(c.Oiled), day(c.Next)))
}

// day is the day of a moment, in its own zone; nil for none.
func day(at *time.Time) *string {
	if at == nil {
		return nil
	}
	return new(at.Format(time.DateOnly))
}

// GivenAway is a board that was given away, and when it is to be oiled.
type GivenAway struct {
	ID    string    `json:"id"`
	Name  string    `json:"name"`
	For   string    `json:"for"`
	Given time.Time `json:"given"`
	Oiled string    `json:"oiled,omitempty" doc:"When it was oiled last, after it was given"`
	Next  string    `json:"next,omitempty" doc:"When it is to be oiled; left out while that is not known"`
	Late  bool      `json:"late,omitempty" doc:"That day has come"`
}

// GivenAway lists a page of the boards that were given away, what is to be oiled first at the top; late is what is to
// be oiled by a day.
func (s *Store) GivenAway(
	ctx context.Context, workshop string, by time.Time, limit, offset int,
) ([]GivenAway, int, error) {
	const from = ` FROM boards b LEFT JOIN care c ON c.board_id = b.id
		WHERE b.workshop_id = $1 AND b.deleted_at IS NULL AND b.given_at IS NOT NULL`
	var total int
	if err := s.q.GetContext(ctx, &total, `SELECT count(*)`+from, workshop); err != nil {
		return nil, 0, err
	}
	out := []GivenAway{}
	err := s.q.SelectContext(ctx, &out, `SELECT b.id, b.name, coalesce(b.doc->'give'->>'for', '') AS "for",
		b.given_at AS given, coalesce(c.oiled::text, '') AS oiled, coalesce(c.next::text, '') AS next,
		coalesce(c.next <= $4::date, false) AS late`+from+`
		ORDER BY c.next NULLS LAST, b.given_at DESC, b.id LIMIT $2 OFFSET $3`,
		workshop, limit, offset, day(&by))
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
