package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"idletimber/craft/shelf"
	"idletimber/craft/stage"
)

// Product is a product on the shelf with its version.
type Product struct {
	ID      string
	Product shelf.Product
	Version int
	Deleted *time.Time
}

type productRow struct {
	ID        string
	Doc       doc[shelf.Product]
	Version   int
	DeletedAt *time.Time `db:"deleted_at"`
}

func (r productRow) product() Product { return Product{r.ID, r.Doc.V, r.Version, r.DeletedAt} }

const productColumns = `SELECT id, doc, version, deleted_at FROM products `

// OnShelf narrows what of the shelf is listed.
type OnShelf struct {
	Words string // in its name, its item or where it stands
	Kind  string // of supply; empty for all
	Bin   bool   // what was put away
}

// Products lists a page of the shelf by kind and name, and counts all that was found.
func (s *Store) Products(ctx context.Context, workshop string, w OnShelf, limit, offset int) ([]Product, int, error) {
	const where = `WHERE workshop_id = $1 AND (deleted_at IS NOT NULL) = $2 AND ($3 = '' OR kind = $3)
		AND ($4 = '' OR strpos(lower(name || ' ' || item || ' ' || coalesce(doc->>'where', '')), lower($4)) > 0)`
	var total int
	err := s.q.GetContext(ctx, &total, `SELECT count(*) FROM products `+where, workshop, w.Bin, w.Kind, w.Words)
	if err != nil {
		return nil, 0, err
	}
	out, err := s.products(
		ctx,
		productColumns+where+` ORDER BY kind, lower(name) COLLATE "natural", id LIMIT $5 OFFSET $6`,
		workshop,
		w.Bin,
		w.Kind,
		w.Words,
		limit,
		offset,
	)
	return out, total, err
}

// Serving lists the products of a workshop that are one of some items of a bill, and its pastes, which are drawn on
// before what they are mixed from.
func (s *Store) Serving(ctx context.Context, workshop string, items []string) ([]Product, error) {
	return s.products(
		ctx,
		productColumns+`WHERE workshop_id = $1 AND deleted_at IS NULL AND (item = ANY($2) OR item LIKE 'paste, %')
		ORDER BY kind, lower(name), id`,
		workshop,
		items,
	)
}

func (s *Store) products(ctx context.Context, query string, args ...any) ([]Product, error) {
	var rows []productRow
	err := s.q.SelectContext(ctx, &rows, query, args...)
	out := make([]Product, len(rows))
	for i, r := range rows {
		out[i] = r.product()
	}
	return out, err
}

// Sheeted lists the products whose data sheets differ from what is usual for their kind.
func (s *Store) Sheeted(ctx context.Context, workshop string) ([]shelf.Product, error) {
	const most = 500
	found, err := s.products(ctx, productColumns+`WHERE workshop_id = $1 AND deleted_at IS NULL AND doc ? 'sheet'
		ORDER BY kind, lower(name), id LIMIT $2`, workshop, most)
	var out []shelf.Product
	for _, p := range found {
		out = append(out, p.Product)
	}
	return out, err
}

// Product reads a product of the workshop, also one that was put away.
func (s *Store) Product(ctx context.Context, workshop, id string) (Product, error) {
	if !known(id) {
		return Product{}, ErrNotFound
	}
	var row productRow
	err := s.q.GetContext(ctx, &row, productColumns+`WHERE workshop_id = $1 AND id = $2`, workshop, id)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return row.product(), err
}

// NewProducts puts products on the shelf, all or none, and returns their ids.
func (s *Store) NewProducts(ctx context.Context, workshop string, all []shelf.Product) ([]string, error) {
	return s.write(ctx, workshop, func(tx *Store) error {
		for _, p := range all {
			text, err := encode(p)
			if err != nil {
				return err
			}
			var id string
			if err := tx.q.GetContext(ctx, &id, `INSERT INTO products (workshop_id, kind, name, item, doc, created_at)
				VALUES ($1, $2, $3, $4, $5, $6) RETURNING id`,
				workshop, p.Kind, p.Name, p.Item, text, s.now()); err != nil {
				return err
			}
			tx.made(id)
		}
		return nil
	})
}

// SaveProduct stores a product made on a version. The error is *Stale[shelf.Product] when another was stored meanwhile.
func (s *Store) SaveProduct(ctx context.Context, workshop, id string, p shelf.Product, version int) error {
	if !known(id) {
		return ErrNotFound
	}
	text, err := encode(p)
	if err != nil {
		return err
	}
	_, err = s.write(ctx, workshop, func(tx *Store) error {
		err := found(tx.q.ExecContext(ctx, `UPDATE products
			SET kind = $3, name = $4, item = $5, doc = $6, version = version + 1
			WHERE workshop_id = $1 AND id = $2 AND version = $7`, workshop, id, p.Kind, p.Name, p.Item, text, version))
		if !errors.Is(err, ErrNotFound) {
			return err
		}
		now, err := tx.Product(ctx, workshop, id)
		if err != nil {
			return err
		}
		return &Stale[shelf.Product]{now.Product, now.Version}
	})
	return err
}

// BinProduct puts a product away, or takes it out again.
func (s *Store) BinProduct(ctx context.Context, workshop, id string, bin bool) error {
	return s.bin(ctx, `UPDATE products SET deleted_at = $3 WHERE workshop_id = $1 AND id = $2`, workshop, id, bin)
}

// SaveProducts stores products made on their versions, all or none. The error is *Stale[shelf.Product] when one was
// stored meanwhile.
func (s *Store) SaveProducts(ctx context.Context, workshop string, all []Product) error {
	_, err := s.write(ctx, workshop, func(tx *Store) error {
		for _, p := range all {
			text, err := encode(p.Product)
			if err != nil {
				return err
			}
			err = found(tx.q.ExecContext(ctx, `UPDATE products SET doc = $3, version = version + 1
				WHERE workshop_id = $1 AND id = $2 AND version = $4`, workshop, p.ID, text, p.Version))
			if errors.Is(err, ErrNotFound) {
				return &Stale[shelf.Product]{p.Product, p.Version + 1}
			}
			if err != nil {
				return err
			}
		}
		return nil
	})
	return err
}

// MonthSpent is what a month took.
type MonthSpent struct {
	Month   string // YYYY-MM
	Uses    []stage.Use
	Wood    int     // cents of pieces that came to the rack
	Minutes float64 // at the bench
	Given   int     // boards given away
}

// Months adds up the months since a moment, by the calendar of a zone: what finished steps took, what wood came, how
// long was worked, what was given away.
func (s *Store) Months(ctx context.Context, workshop string, since time.Time, zone string) ([]MonthSpent, error) {
	var rows []struct {
		Month   string
		Uses    doc[[]stage.Use]
		Wood    int
		Minutes float64
		Given   int
	}
	err := s.q.SelectContext(ctx, &rows, `
		WITH done AS (SELECT to_char(at AT TIME ZONE $3, 'YYYY-MM') AS month, uses, minutes FROM finished
			WHERE workshop_id = $1 AND at >= $2),
		months AS (SELECT to_char(m, 'YYYY-MM') AS month
			FROM generate_series($2::timestamptz AT TIME ZONE $3, $4::timestamptz AT TIME ZONE $3, interval '1 month') m)
		SELECT month,
			coalesce((SELECT jsonb_agg(u) FROM done, jsonb_array_elements(coalesce(uses, '[]')) u
				WHERE done.month = months.month),
				'[]') AS uses,
			coalesce((SELECT sum(minutes) FROM done WHERE done.month = months.month), 0) AS minutes,
			coalesce((SELECT sum(cents) FROM pieces WHERE workshop_id = $1 AND deleted_at IS NULL
				AND to_char(created_at AT TIME ZONE $3, 'YYYY-MM') = months.month), 0)::bigint AS wood,
			(SELECT count(*) FROM boards WHERE workshop_id = $1 AND deleted_at IS NULL
				AND to_char(given_at AT TIME ZONE $3, 'YYYY-MM') = months.month) AS given
		FROM months ORDER BY month DESC`, workshop, since, zone, s.now())
	out := make([]MonthSpent, len(rows))
	for i, r := range rows {
		out[i] = MonthSpent{r.Month, r.Uses.V, r.Wood, r.Minutes, r.Given}
	}
	return out, err
}
