package store

import (
	"context"
	"errors"
	"fmt"
	"time"
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

// Documents are the documents of a table that keeps them by name, each with a version: people, products, runs. What is
// listed of them, and by what, is each table's own.
type Documents[T any] struct {
	*Store
	table string
	name  func(T) string
}

// read selects documents by what comes after the columns.
func (d Documents[T]) read(ctx context.Context, query string, args ...any) ([]Kept[T], error) {
	var rows []keptRow[T]
	err := d.q.SelectContext(ctx, &rows, `SELECT id, doc, version, deleted_at FROM `+d.table+` `+query, args...)
	out := make([]Kept[T], len(rows))
	for i, r := range rows {
		out[i] = Kept[T]{r.ID, r.Doc.V, r.Version, r.DeletedAt}
	}
	return out, err
}

// page reads a page of those that a condition holds for, in an order, and counts all of them.
func (d Documents[T]) page(
	ctx context.Context, where, order string, limit, offset int, args ...any,
) (out []Kept[T], total int, err error) {
	if err = d.q.GetContext(ctx, &total, `SELECT count(*) FROM `+d.table+` `+where, args...); err != nil {
		return nil, 0, err
	}
	some := fmt.Sprintf(" ORDER BY %s LIMIT $%d OFFSET $%d", order, len(args)+1, len(args)+2)
	out, err = d.read(ctx, where+some, append(args, limit, offset)...)
	return out, total, err
}

// Get reads one, also one that was put away.
func (d Documents[T]) Get(ctx context.Context, workshop, id string) (out Kept[T], err error) {
	if !known(id) {
		return out, ErrNotFound
	}
	all, err := d.read(ctx, `WHERE workshop_id = $1 AND id = $2`, workshop, id)
	if err != nil {
		return out, err
	}
	if len(all) == 0 {
		return out, ErrNotFound
	}
	return all[0], nil
}

// Of reads those of some ids, by name, also those that were put away.
func (d Documents[T]) Of(ctx context.Context, workshop string, ids []string) ([]Kept[T], error) {
	return d.read(ctx, `WHERE workshop_id = $1 AND id::text = ANY($2) ORDER BY lower(name), id`, workshop, ids)
}

// New keeps documents, all or none, and returns their ids.
func (d Documents[T]) New(ctx context.Context, workshop string, all []T) ([]string, error) {
	return d.write(ctx, workshop, func(tx *Store) error {
		for _, v := range all {
			text, err := encode(v)
			if err != nil {
				return err
			}
			var id string
			if err := tx.q.GetContext(ctx, &id, `INSERT INTO `+d.table+` (workshop_id, name, doc, created_at)
				VALUES ($1, $2, $3, $4) RETURNING id`, workshop, d.name(v), text, d.now()); err != nil {
				return err
			}
			tx.made(id)
		}
		return nil
	})
}

// Save stores documents made on their versions, all or none. The error is *Stale[T] when another was stored meanwhile.
func (d Documents[T]) Save(ctx context.Context, workshop string, all ...Kept[T]) error {
	for _, v := range all {
		if !known(v.ID) {
			return ErrNotFound
		}
	}
	_, err := d.write(ctx, workshop, func(tx *Store) error {
		in := Documents[T]{tx, d.table, d.name}
		for _, v := range all {
			text, err := encode(v.Doc)
			if err != nil {
				return err
			}
			err = found(tx.q.ExecContext(ctx, `UPDATE `+d.table+` SET name = $3, doc = $4, version = version + 1
				WHERE workshop_id = $1 AND id = $2 AND version = $5`, workshop, v.ID, d.name(v.Doc), text, v.Version))
			if errors.Is(err, ErrNotFound) {
				now, err := in.Get(ctx, workshop, v.ID)
				if err != nil {
					return err
				}
				return &Stale[T]{now.Doc, now.Version}
			}
			if err != nil {
				return err
			}
		}
		return nil
	})
	return err
}

// Bin puts one away, or takes it out again.
func (d Documents[T]) Bin(ctx context.Context, workshop, id string, bin bool) error {
	return d.bin(ctx, `UPDATE `+d.table+` SET deleted_at = $3 WHERE workshop_id = $1 AND id = $2`, workshop, id, bin)
}
