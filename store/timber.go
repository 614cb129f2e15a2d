package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"strings"
	"time"

	"idletimber/craft/reckon"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
)

// Piece is a slab on the rack.
type Piece struct {
	ID      string
	Slab    slab.Slab
	Version int
	Sources []string   // what it was resawn from, cut from or made of
	Cut     *time.Time // when its boards were cut out, or it was resawn
	Deleted *time.Time
}

type pieceRow struct {
	ID        string
	Doc       doc[slab.Slab]
	Version   int
	Sources   textList
	CutAt     *time.Time `db:"cut_at"`
	DeletedAt *time.Time `db:"deleted_at"`
}

func (r pieceRow) piece() Piece {
	return Piece{r.ID, r.Doc.V, r.Version, r.Sources, r.CutAt, r.DeletedAt}
}

const pieceColumns = `id, doc, version, cut_at, deleted_at,
	(SELECT coalesce(json_agg(source_id ORDER BY position), '[]') FROM piece_sources
		WHERE piece_id = pieces.id) AS sources`

// textList is a list of texts that a query makes as JSON.
type textList []string

// Scan reads the list.
func (l *textList) Scan(src any) error {
	var d doc[[]string]
	err := d.Scan(src)
	*l = d.V
	return err
}

// insert puts a slab on the rack.
func (s *Store) insert(
	ctx context.Context,
	workshop string,
	at shop.Shop,
	v slab.Slab,
	sources ...string,
) (id string, err error) {
	v = v.Settled()
	text, err := encode(v)
	if err != nil {
		return "", err
	}
	f := reckon.FactsOf(v, at)
	err = s.q.GetContext(
		ctx,
		&id,
		`INSERT INTO pieces (workshop_id, name, species, doc, created_at, stock, length, thickness, cents, moisture,
			ready, panel)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12) RETURNING id`,
		workshop,
		v.Name,
		v.Species,
		text,
		s.now(),
		stockOf(v),
		f.Length,
		f.Thickness,
		f.Cents,
		f.Moisture,
		f.Ready,
		v.Made(),
	)
	for i, source := range sources {
		if err != nil {
			break
		}
		_, err = s.q.ExecContext(
			ctx,
			`INSERT INTO piece_sources (piece_id, source_id, position) VALUES ($1, $2, $3)`,
			id,
			source,
			i,
		)
	}
	s.made(id)
	return id, err
}

func stockOf(v slab.Slab) string {
	if v.Stock == "" {
		return slab.StockSlab
	}
	return v.Stock
}

// NewPieces puts slabs on the rack, all or none, and returns their ids.
func (s *Store) NewPieces(ctx context.Context, workshop string, all ...slab.Slab) (ids []string, err error) {
	return s.write(ctx, workshop, func(tx *Store) error {
		at, _, err := tx.Shop(ctx, workshop)
		for _, v := range all {
			if err != nil {
				break
			}
			_, err = tx.insert(ctx, workshop, at, v)
		}
		return err
	})
}

// NewPiece puts a slab on the rack and, of a panel, where its strips lie.
func (s *Store) NewPiece(ctx context.Context, workshop string, v slab.Slab, strips ...Reserved) (Piece, error) {
	ids, err := s.write(ctx, workshop, func(tx *Store) error {
		at, _, err := tx.Shop(ctx, workshop)
		if err != nil {
			return err
		}
		id, err := tx.insert(ctx, workshop, at, v)
		if err != nil || !v.Panel() {
			return err
		}
		return tx.reserve(ctx, workshop, id, v, strips)
	})
	if err != nil {
		return Piece{}, err
	}
	return Piece{ID: ids[0], Slab: v, Version: 1}, nil
}

// NewOf puts a piece on the rack that is to be made of others, and stores those as they are kept for
// it, all or nothing. The error is *Stale[slab.Slab] when one of them was stored meanwhile.
func (s *Store) NewOf(ctx context.Context, workshop string, v slab.Slab, others []Piece) (id string, err error) {
	ids, err := s.write(ctx, workshop, func(tx *Store) error {
		at, _, err := tx.Shop(ctx, workshop)
		if err != nil {
			return err
		}
		if _, err = tx.insert(ctx, workshop, at, v); err != nil {
			return err
		}
		for _, o := range others {
			if err := tx.save(ctx, workshop, o.ID, o.Slab, o.Version); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return "", err
	}
	return ids[0], nil
}

// Piece reads one piece, also from the offcut bin.
func (s *Store) Piece(ctx context.Context, workshop, id string) (Piece, error) {
	if !known(id) {
		return Piece{}, ErrNotFound
	}
	var row pieceRow
	err := s.q.GetContext(
		ctx,
		&row,
		`SELECT `+pieceColumns+` FROM pieces WHERE workshop_id = $1 AND id = $2`,
		workshop,
		id,
	)
	if errors.Is(err, sql.ErrNoRows) {
		return Piece{}, ErrNotFound
	}
	return row.piece(), err
}

// SavePiece stores a slab made on a version and, of a panel, where its strips lie, all or
// nothing. The error is *Stale[slab.Slab] when another was stored meanwhile, ErrCircular
// when a panel would be made of itself, and ErrNotFound when a strip's piece is not the
// workshop's.
func (s *Store) SavePiece(
	ctx context.Context,
	workshop, id string,
	v slab.Slab,
	version int,
	strips ...Reserved,
) error {
	_, err := s.write(ctx, workshop, func(tx *Store) error {
		if err := tx.save(ctx, workshop, id, v, version); err != nil || !v.Panel() {
			return err
		}
		return tx.reserve(ctx, workshop, id, v, strips)
	})
	return err
}

func (s *Store) save(ctx context.Context, workshop, id string, v slab.Slab, version int) error {
	if !known(id) {
		return ErrNotFound
	}
	at, _, err := s.Shop(ctx, workshop)
	if err != nil {
		return err
	}
	text, err := encode(v)
	if err != nil {
		return err
	}
	f := reckon.FactsOf(v, at)
	out, err := s.q.ExecContext(
		ctx,
		`UPDATE pieces SET name = $3, species = $4, doc = $5, stock = $7, length = $8, thickness = $9, cents = $10,
			moisture = $11, ready = $12, panel = $13, version = version + 1
		WHERE workshop_id = $1 AND id = $2 AND version = $6`,
		workshop,
		id,
		v.Name,
		v.Species,
		text,
		version,
		stockOf(v),
		f.Length,
		f.Thickness,
		f.Cents,
		f.Moisture,
		f.Ready,
		v.Made(),
	)
	if err = found(out, err); !errors.Is(err, ErrNotFound) {
		return err
	}
	return s.stalePiece(ctx, workshop, id)
}

// stalePiece is the error of a save that met another version of a piece.
func (s *Store) stalePiece(ctx context.Context, workshop, id string) error {
	p, err := s.Piece(ctx, workshop, id)
	if err != nil {
		return err
	}
	return &Stale[slab.Slab]{p.Slab, p.Version}
}

// Turn stores a slab whose faces were exchanged, together with the new places
// of its boards, all or none.
func (s *Store) Turn(ctx context.Context, workshop, id string, version int) error {
	_, err := s.write(ctx, workshop, func(tx *Store) error { return tx.turn(ctx, workshop, id, version) })
	return err
}

func (s *Store) turn(ctx context.Context, workshop, id string, version int) error {
	p, err := s.Piece(ctx, workshop, id)
	if err != nil {
		return err
	}
	if err := s.save(ctx, workshop, id, slab.Turn(p.Slab), version); err != nil {
		return err
	}
	boards, err := s.boards(ctx, boardColumns+`WHERE workshop_id = $1 AND piece_id = $2 FOR UPDATE`, workshop, id)
	if err != nil {
		return err
	}
	for _, b := range boards {
		b.Board.Placement = b.Board.Placement.Turned()
		text, err := encode(b.Board)
		if err != nil {
			return err
		}
		if _, err := s.q.ExecContext(ctx,
			`UPDATE boards SET doc = $3, version = version + 1 WHERE workshop_id = $1 AND id = $2`,
			workshop, b.Board.ID, text); err != nil {
			return err
		}
	}
	return nil
}

// Divide puts the parts of a piece on the rack and takes the piece itself off
// it, all or none. The error is ErrInUse when it was divided already, or when
// free is asked for and boards still to be made lie on it, or strips of panels.
func (s *Store) Divide(
	ctx context.Context,
	workshop, id string,
	version int,
	parts []slab.Slab,
	free bool,
) (ids []string, err error) {
	if !known(id) {
		return nil, ErrNotFound
	}
	return s.write(ctx, workshop, func(tx *Store) error {
		if err := tx.cutUp(ctx, workshop, id, version, free); err != nil {
			return err
		}
		at, _, err := tx.Shop(ctx, workshop)
		for _, v := range parts {
			if err != nil {
				break
			}
			_, err = tx.insert(ctx, workshop, at, v, id)
		}
		return err
	})
}

func (s *Store) cutUp(ctx context.Context, workshop, id string, version int, free bool) error {
	out, err := s.q.ExecContext(
		ctx,
		`UPDATE pieces SET cut_at = $4, version = version + 1 WHERE workshop_id = $1 AND id = $2 AND version = $3
			AND cut_at IS NULL AND deleted_at IS NULL
		AND (NOT $5 OR NOT EXISTS (SELECT 1 FROM boards WHERE piece_id = $2 AND deleted_at IS NULL
			AND given_at IS NULL) AND `+unreserved+`)`,
		workshop,
		id,
		version,
		s.now(),
		free,
	)
	if err = found(out, err); !errors.Is(err, ErrNotFound) {
		return err
	}
	p, err := s.Piece(ctx, workshop, id)
	switch {
	case err != nil:
		return err
	case p.Version != version:
		return &Stale[slab.Slab]{p.Slab, p.Version}
	}
	return ErrInUse
}

// Whole puts a divided piece back on the rack; its parts stay.
func (s *Store) Whole(ctx context.Context, workshop, id string) error {
	return s.change(ctx, workshop, id, `UPDATE pieces SET cut_at = NULL WHERE workshop_id = $1 AND id = $2`)
}

// CutUp takes a piece off the rack whose wood went into something else; one that is off it already
// stays so.
func (s *Store) CutUp(ctx context.Context, workshop, id string) error {
	return s.change(ctx, workshop, id, `UPDATE pieces SET cut_at = coalesce(cut_at, $3), version = version + 1
		WHERE workshop_id = $1 AND id = $2`, s.now())
}

// Wanted is what is looked for on the rack. What is empty or 0 does not count.
type Wanted struct {
	Words      string // in name or species
	Species    string
	Stock      string
	Cut        bool // what was cut up, in place of what is whole
	Bin        bool // the offcut bin, in place of the rack
	Ready      string
	LengthFrom float64
	ThickFrom  float64
	ThickTo    float64
	CentsTo    int
	Sort       string
}

// sorts are the orders of the rack by name.
var sorts = map[string]string{
	"": "created_at DESC", "newest": "created_at DESC", "name": "lower(name)", "species": "lower(species), lower(name)",
	"longest": "length DESC", "thickest": "thickness DESC", "driest": "moisture = 0, moisture", "dearest": "cents DESC",
}

// Sorts lists the names of the orders that the rack knows.
var Sorts = []string{"newest", "name", "species", "longest", "thickest", "driest", "dearest"}

// where is the condition of a search and its arguments, of which the first is
// the workshop.
func (w Wanted) where(workshop string) (string, []any) {
	args := []any{workshop}
	terms := []string{"workshop_id = $1"}
	add := func(term string, arg any) {
		args = append(args, arg)
		terms = append(terms, fmt.Sprintf(term, len(args)))
	}
	if w.Bin {
		terms = append(terms, "deleted_at IS NOT NULL")
	} else if terms = append(terms, "deleted_at IS NULL"); w.Cut {
		terms = append(terms, "cut_at IS NOT NULL")
	} else {
		terms = append(terms, "cut_at IS NULL")
	}
	if w.Words != "" {
		add("strpos(lower(concat_ws(' ', name, species, doc->>'reserved')), lower($%d)) > 0", w.Words)
	}
	if w.Species != "" {
		add("species = $%d", w.Species)
	}
	if w.Stock != "" {
		add("stock = $%d", w.Stock)
	}
	if w.Ready != "" {
		add("ready = $%d", w.Ready == "ready")
	}
	if w.LengthFrom > 0 {
		add("length >= $%d", w.LengthFrom)
	}
	if w.ThickFrom > 0 {
		add("thickness >= $%d", w.ThickFrom)
	}
	if w.ThickTo > 0 {
		add("thickness <= $%d", w.ThickTo)
	}
	if w.CentsTo > 0 {
		add("cents <= $%d", w.CentsTo)
	}
	return " FROM pieces WHERE " + strings.Join(terms, " AND "), args
}

// Sum is how many pieces a search found, how many of them are ready, and what
// they cost together.
type Sum struct {
	Count int
	Ready int
	Cents int
}

// Pieces lists a page of what is looked for, and sums all of it.
func (s *Store) Pieces(ctx context.Context, workshop string, w Wanted, limit, offset int) ([]Piece, Sum, error) {
	from, args := w.where(workshop)
	var sum Sum
	if err := s.q.GetContext(ctx, &sum,
		`SELECT count(*) AS count, count(*) FILTER (WHERE ready) AS ready, coalesce(sum(cents), 0) AS cents`+from,
		args...); err != nil {
		return nil, Sum{}, err
	}
	var rows []pieceRow
	query := fmt.Sprintf(
		`SELECT %s FROM pieces WHERE id IN (SELECT id%s ORDER BY %s, id LIMIT %d OFFSET %d) ORDER BY %s, id`,
		// documents are read of one page only
		pieceColumns,
		from,
		sorts[w.Sort],
		limit,
		offset,
		sorts[w.Sort],
	)
	if err := s.q.SelectContext(ctx, &rows, query, args...); err != nil {
		return nil, Sum{}, err
	}
	out := make([]Piece, len(rows))
	for i, r := range rows {
		out[i] = r.piece()
	}
	return out, sum, nil
}

// SpeciesOnRack lists the species of the workshop's pieces, those in the bin too.
func (s *Store) SpeciesOnRack(ctx context.Context, workshop string) ([]string, error) {
	out := []string{}
	err := s.q.SelectContext(
		ctx,
		&out,
		`SELECT DISTINCT species FROM pieces WHERE workshop_id = $1 ORDER BY species`,
		workshop,
	)
	return out, err
}

// Parts lists what a piece was divided into, or went into.
func (s *Store) Parts(ctx context.Context, workshop, id string) ([]Piece, error) {
	var rows []pieceRow
	if err := s.q.SelectContext(ctx, &rows,
		`SELECT `+pieceColumns+` FROM pieces WHERE workshop_id = $1 AND id IN (SELECT piece_id FROM piece_sources
			WHERE source_id = $2) AND deleted_at IS NULL ORDER BY created_at, name`, workshop, id); err != nil {
		return nil, err
	}
	out := make([]Piece, len(rows))
	for i, r := range rows {
		out[i] = r.piece()
	}
	return out, nil
}

// refresh reads again the facts of pieces that were stored under other rules:
// all of a workshop, or those of any that have none.
func (s *Store) refresh(ctx context.Context, where string, args ...any) error {
	var rows []struct {
		ID   string
		Doc  doc[slab.Slab]
		Shop doc[shop.Shop]
	}
	if err := s.q.SelectContext(ctx, &rows,
		`SELECT p.id, p.doc, w.doc AS shop FROM pieces p JOIN workshops w ON w.id = p.workshop_id WHERE `+where,
		args...); err != nil {
		return err
	}
	for _, r := range rows {
		f := reckon.FactsOf(r.Doc.V, r.Shop.V)
		if _, err := s.q.ExecContext(ctx, `UPDATE pieces
			SET stock = $2, length = $3, thickness = $4, cents = $5, moisture = $6, ready = $7
			WHERE id = $1 AND (ready IS DISTINCT FROM $7 OR moisture IS DISTINCT
			FROM $6 OR length IS NULL)`, r.ID, stockOf(r.Doc.V), f.Length, f.Thickness, f.Cents, f.Moisture,
			f.Ready); err != nil {
			return err
		}
	}
	return nil
}

// unreserved is the condition that no strip of a panel is still to be cut from piece $2:
// the panel is in the bin, its strips were ripped, or it was cut up.
const unreserved = `NOT EXISTS (SELECT 1 FROM strips t JOIN pieces p ON p.id = t.panel_id
	WHERE t.piece_id = $2 AND p.deleted_at IS NULL AND p.cut_at IS NULL AND coalesce((SELECT event FROM log
		WHERE subject_kind = 'panel' AND subject_id = p.id AND step = 'rip'
		ORDER BY log.id DESC LIMIT 1), '') <> 'finish')`

// BinPiece moves a piece to the offcut bin, or back to the rack. The error is
// ErrInUse while boards still to be made lie on it, or strips are to be cut from it.
func (s *Store) BinPiece(ctx context.Context, workshop, id string, bin bool) error {
	err := s.bin(ctx, `UPDATE pieces SET deleted_at = $3 WHERE workshop_id = $1 AND id = $2
		AND ($3::timestamptz IS NULL OR NOT EXISTS (SELECT 1 FROM boards WHERE piece_id = $2 AND deleted_at IS NULL
			AND given_at IS NULL) AND `+unreserved+`)`, workshop, id, bin)
	if errors.Is(err, ErrNotFound) && bin {
		if _, found := s.Piece(ctx, workshop, id); found == nil {
			return ErrInUse
		}
	}
	return err
}

// bin runs a statement on a thing of a workshop with the time at which it is put
// away, NULL where it comes back.
func (s *Store) bin(ctx context.Context, query, workshop, id string, bin bool) error {
	var at *time.Time
	if bin {
		now := s.now()
		at = &now
	}
	return s.change(ctx, workshop, id, query, at)
}

// change runs a statement on a thing of a workshop; the error is ErrNotFound where
// it met none.
func (s *Store) change(ctx context.Context, workshop, id, query string, args ...any) error {
	if !known(id) {
		return ErrNotFound
	}
	_, err := s.write(ctx, workshop, func(tx *Store) error {
		return found(tx.q.ExecContext(ctx, query, append([]any{workshop, id}, args...)...))
	})
	return err
}

// PricedPiece is a piece with a price, and when it came to the rack.
type PricedPiece struct {
	Slab    slab.Slab
	Created time.Time
}

// Priced lists the newest pieces that have a price, cut up or not, from which the price of wood is learned.
func (s *Store) Priced(ctx context.Context, workshop string) ([]PricedPiece, error) {
	const newest = 500
	var rows []struct {
		Doc       doc[slab.Slab]
		CreatedAt time.Time `db:"created_at"`
	}
	err := s.q.SelectContext(ctx, &rows, `SELECT doc, created_at FROM pieces WHERE workshop_id = $1
		AND deleted_at IS NULL AND cents > 0 ORDER BY created_at DESC, id LIMIT $2`, workshop, newest)
	out := make([]PricedPiece, len(rows))
	for i, r := range rows {
		out[i] = PricedPiece{r.Doc.V, r.CreatedAt}
	}
	return out, err
}
