package store

import (
	"context"
	"database/sql"
	"errors"
	"maps"

	"github.com/jackc/pgx/v5/pgconn"

	"idletimber/craft/shop"
)

// Account is one maker.
type Account struct {
	ID       string
	Email    string
	Password string // argon2id hash
	Workshop string `db:"workshop"` // id of the workshop that the account owns
}

// NewAccount adds an account with a workshop of its own. The error is ErrTaken
// when the address is in use.
func (s *Store) NewAccount(ctx context.Context, email, passwordHash string, first shop.Shop) (Account, error) {
	a := Account{Email: email, Password: passwordHash}
	text, err := encode(first)
	if err != nil {
		return a, err
	}
	err = s.Atomically(ctx, func(tx *Store) error {
		return tx.q.GetContext(ctx, &a, `
			WITH a AS (INSERT INTO accounts (email, password) VALUES ($1, $2) RETURNING id, email, password),
				w AS (INSERT INTO workshops (account_id, doc) SELECT id, $3 FROM a RETURNING id)
			SELECT a.id, a.email, a.password, w.id AS workshop FROM a, w`, email, passwordHash, text)
	})
	var pg *pgconn.PgError
	if errors.As(err, &pg) && pg.Code == unique {
		return a, ErrTaken
	}
	return a, err
}

const selectAccount = `SELECT a.id, a.email, a.password, w.id AS workshop FROM accounts a JOIN workshops w
	ON w.account_id = a.id `

// AccountByEmail finds an account by its address, in any case of letters.
func (s *Store) AccountByEmail(ctx context.Context, email string) (Account, error) {
	return s.account(ctx, selectAccount+`WHERE lower(a.email) = lower($1)`, email)
}

// AccountByID finds an account.
func (s *Store) AccountByID(ctx context.Context, id string) (Account, error) {
	if !known(id) {
		return Account{}, ErrNotFound
	}
	return s.account(ctx, selectAccount+`WHERE a.id = $1`, id)
}

func (s *Store) account(ctx context.Context, query, arg string) (a Account, err error) {
	err = s.q.GetContext(ctx, &a, query, arg)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return a, err
}

// DeleteAccount removes an account with its workshop and all that it holds.
func (s *Store) DeleteAccount(ctx context.Context, id string) error {
	_, err := s.q.ExecContext(ctx, `DELETE FROM accounts WHERE id = $1`, id)
	return err
}

// SetPassword stores a new password hash.
func (s *Store) SetPassword(ctx context.Context, id, hash string) error {
	_, err := s.q.ExecContext(ctx, `UPDATE accounts SET password = $2 WHERE id = $1`, id, hash)
	return err
}

// Shop reads a workshop's document.
func (s *Store) Shop(ctx context.Context, workshop string) (shop.Shop, int, error) {
	var row struct {
		Doc     doc[shop.Shop]
		Version int
	}
	err := s.q.GetContext(ctx, &row, `SELECT doc, version FROM workshops WHERE id = $1`, workshop)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return row.Doc.V, row.Version, err
}

// SaveShop stores a workshop's document made on a version. The error is
// *Stale[shop.Shop] when another was stored meanwhile.
func (s *Store) SaveShop(ctx context.Context, workshop string, v shop.Shop, version int) error {
	_, err := s.write(ctx, workshop, func(tx *Store) error { return tx.saveShop(ctx, workshop, v, version) })
	return err
}

func (s *Store) saveShop(ctx context.Context, workshop string, v shop.Shop, version int) error {
	text, err := encode(v)
	if err != nil {
		return err
	}
	before, _, err := s.Shop(ctx, workshop)
	if err != nil {
		return err
	}
	out, err := s.q.ExecContext(ctx, `UPDATE workshops SET doc = $2, version = version + 1
			WHERE id = $1 AND version = $3`,
		workshop, text, version)
	if err = found(out, err); errors.Is(err, ErrNotFound) {
		current, stored, err := s.Shop(ctx, workshop)
		if err != nil {
			return err
		}
		return &Stale[shop.Shop]{current, stored}
	}
	if err == nil &&
		(before.Home != v.Home || !maps.Equal(before.Rules, v.Rules)) { // which pieces are ready depends on these
		err = s.refresh(ctx, `p.workshop_id = $1`, workshop)
	}
	return err
}
