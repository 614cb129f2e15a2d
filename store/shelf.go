package store

import (
	"context"
	"time"

	"idletimber/craft/shelf"
	"idletimber/craft/stage"
)

// Product is a product on the shelf with its version.
type Product = Kept[shelf.Product]

// Shelf is all that a workshop has of supplies. Kind and item of a product are read from its document.
func (s *Store) Shelf() Documents[shelf.Product] {
	return Documents[shelf.Product]{s, "products", func(p shelf.Product) string { return p.Name }}
}

// OnShelf narrows what of the shelf is listed.
type OnShelf struct {
	Words string // in its name, its item or where it stands
	Kind  string // of supply; empty for all
	Bin   bool   // what was put away
}

// Products lists a page of the shelf by kind and name, and counts all that was found.
func (s *Store) Products(ctx context.Context, workshop string, w OnShelf, limit, offset int) ([]Product, int, error) {
	return s.Shelf().page(ctx, `WHERE workshop_id = $1 AND (deleted_at IS NOT NULL) = $2 AND ($3 = '' OR kind = $3)
		AND ($4 = '' OR strpos(lower(name || ' ' || item || ' ' || coalesce(doc->>'where', '')), lower($4)) > 0)`,
		`kind, lower(name) COLLATE "natural", id`, limit, offset, workshop, w.Bin, w.Kind, w.Words)
}

// serving are the products of a workshop that are one of some items of a bill, and its pastes, which are drawn on
// before what they are mixed from.
const serving = `workshop_id = $1 AND deleted_at IS NULL AND (item = ANY($2) OR item LIKE 'paste, %')`

// Serving lists the products that are one of some items, and all pastes.
func (s *Store) Serving(ctx context.Context, workshop string, items []string) ([]Product, error) {
	return s.Shelf().read(ctx, `WHERE `+serving+` ORDER BY kind, lower(name), id`, workshop, items)
}

// Sheeted lists the products whose data sheets differ from what is usual for their kind.
func (s *Store) Sheeted(ctx context.Context, workshop string) ([]shelf.Product, error) {
	const most = 500
	found, err := s.Shelf().read(ctx, `WHERE workshop_id = $1 AND deleted_at IS NULL AND doc ? 'sheet'
		ORDER BY kind, lower(name), id LIMIT $2`, workshop, most)
	var out []shelf.Product
	for _, p := range found {
		out = append(out, p.Doc)
	}
	return out, err
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
			FROM generate_series($2::timestamptz AT TIME ZONE $3, $4::timestamptz AT TIME ZONE $3,
				interval '1 month') m)
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
