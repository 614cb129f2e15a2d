package store

import (
	"context"
	"database/sql"
	"errors"
	"maps"
	"strings"
	"time"

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
	err = s.DB.QueryRowContext(ctx, `
		WITH a AS (INSERT INTO accounts (email, password) VALUES ($1, $2) RETURNING id)
		INSERT INTO workshops (account_id, doc) SELECT id, $3 FROM a RETURNING account_id, id`,
		email, passwordHash, text).Scan(&a.ID, &a.Workshop)
	var pg *pgconn.PgError
	if errors.As(err, &pg) && pg.Code == "23505" {
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
	err = s.DB.GetContext(ctx, &a, query, arg)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return a, err
}

// DeleteAccount removes an account with its workshop and all that it holds.
func (s *Store) DeleteAccount(ctx context.Context, id string) error {
	_, err := s.DB.ExecContext(ctx, `DELETE FROM accounts WHERE id = $1`, id)
	return err
}

// SetPassword stores a new password hash.
func (s *Store) SetPassword(ctx context.Context, id, hash string) error {
	_, err := s.DB.ExecContext(ctx, `UPDATE accounts SET password = $2 WHERE id = $1`, id, hash)
	return err
}

// SignInAttempt notes an attempt and reports whether it is one of the first
// few within a time; further ones are neither noted nor allowed.
func (s *Store) SignInAttempt(
	ctx context.Context,
	email string,
	most int,
	within time.Duration,
) (allowed bool, err error) {
	tx, err := s.DB.BeginTxx(ctx, nil)
	if err != nil {
		return false, err
	}
	defer tx.Rollback()
	email = strings.ToLower(email)
	if _, err := tx.ExecContext(ctx, `SELECT pg_advisory_xact_lock(hashtextextended($1, 0))`,
		email); err != nil { // one at a time, so that none slips by
		return false, err
	}
	if _, err := tx.ExecContext(ctx, `DELETE FROM sign_in_attempts WHERE at < $1`, s.now().Add(-within)); err != nil {
		return false, err
	}
	res, err := tx.ExecContext(
		ctx,
		`INSERT INTO sign_in_attempts (email, at) SELECT $1, $2 WHERE (SELECT count(*) FROM sign_in_attempts
			WHERE email = $1) < $3`,
		email,
		s.now(),
		most,
	)
	if err != nil {
		return false, err
	}
	n, err := res.RowsAffected()
	return n > 0, errors.Join(err, tx.Commit())
}

// ForgetAttempts clears the attempts on an address, after one was right.
func (s *Store) ForgetAttempts(ctx context.Context, email string) error {
	_, err := s.DB.ExecContext(ctx, `DELETE FROM sign_in_attempts WHERE email = $1`, strings.ToLower(email))
	return err
}

// Shop reads a workshop's document.
func (s *Store) Shop(ctx context.Context, workshop string) (shop.Shop, int, error) {
	var row struct {
		Doc     doc[shop.Shop]
		Version int
	}
	err := s.DB.GetContext(ctx, &row, `SELECT doc, version FROM workshops WHERE id = $1`, workshop)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return row.Doc.V, row.Version, err
}

// SaveShop stores a workshop's document made on a version and returns the new
// version. The error is *Stale[shop.Shop] when another was stored meanwhile.
func (s *Store) SaveShop(ctx context.Context, workshop string, v shop.Shop, version int) (int, error) {
	text, err := encode(v)
	if err != nil {
		return 0, err
	}
	before, _, err := s.Shop(ctx, workshop)
	if err != nil {
		return 0, err
	}
	err = s.DB.GetContext(
		ctx,
		&version,
		`UPDATE workshops SET doc = $2, version = version + 1 WHERE id = $1 AND version = $3 RETURNING version`,
		workshop,
		text,
		version,
	)
	if errors.Is(err, sql.ErrNoRows) {
		current, stored, err := s.Shop(ctx, workshop)
		if err != nil {
			return 0, err
		}
		return 0, &Stale[shop.Shop]{current, stored}
	}
	if err == nil &&
		(before.Home != v.Home || !maps.Equal(before.Rules, v.Rules)) { // which pieces are ready depends on these
		err = s.refresh(ctx, s.DB, `p.workshop_id = $1`, workshop)
	}
	return version, err
}
