package store

import (
	"context"
	"database/sql"
	"errors"
	"time"
)

// Sessions keeps the sessions of the session library, by the hash of their tokens.
// The library counts by the clock on the wall, as the database does.
type Sessions struct{ Store *Store }

// FindCtx reads a session that has not expired.
func (s Sessions) FindCtx(ctx context.Context, token string) (data []byte, found bool, err error) {
	err = s.Store.q.GetContext(ctx, &data, `SELECT data FROM sessions WHERE token = $1 AND expiry > now()`, token)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, false, nil
	}
	return data, err == nil, err
}

// CommitCtx stores a session, and forgets those that have expired.
func (s Sessions) CommitCtx(ctx context.Context, token string, data []byte, expiry time.Time) error {
	_, err := s.Store.q.ExecContext(ctx, `WITH old AS (DELETE FROM sessions WHERE expiry < now() AND token <> $1)
		INSERT INTO sessions (token, data, expiry) VALUES ($1, $2, $3)
		ON CONFLICT (token) DO UPDATE SET data = EXCLUDED.data, expiry = EXCLUDED.expiry`, token, data, expiry)
	return err
}

// DeleteCtx forgets a session.
func (s Sessions) DeleteCtx(ctx context.Context, token string) error {
	_, err := s.Store.q.ExecContext(ctx, `DELETE FROM sessions WHERE token = $1`, token)
	return err
}

// Find is FindCtx without a context.
func (s Sessions) Find(token string) ([]byte, bool, error) {
	return s.FindCtx(context.Background(), token)
}

// Commit is CommitCtx without a context.
func (s Sessions) Commit(token string, data []byte, expiry time.Time) error {
	return s.CommitCtx(context.Background(), token, data, expiry)
}

// Delete is DeleteCtx without a context.
func (s Sessions) Delete(token string) error { return s.DeleteCtx(context.Background(), token) }

// SignIn is one device on which an account is signed in.
type SignIn struct {
	ID      string
	Since   time.Time
	Seen    time.Time // within some minutes
	Address string    // of the client
	Agent   string    // what the browser says of itself
}

// NewSignIn notes that an account has signed in and returns the id of the sign-in.
func (s *Store) NewSignIn(ctx context.Context, account, address, agent string) (id string, err error) {
	err = s.q.GetContext(ctx, &id, `INSERT INTO sign_ins (account_id, since, seen, address, agent)
		VALUES ($1, $2, $2, $3, $4) RETURNING id`, account, s.now(), address, agent)
	return id, err
}

// SignedInFrom reports whether an account has signed in from an address before, and
// not ended it since.
func (s *Store) SignedInFrom(ctx context.Context, account, address string) (yes bool, err error) {
	if !known(account) {
		return false, nil
	}
	err = s.q.GetContext(ctx, &yes, `SELECT EXISTS (SELECT 1 FROM sign_ins WHERE account_id = $1 AND address = $2)`,
		account, address)
	return yes, err
}

// Times of a sign-in: how long one that is not used lasts, and how exactly its last
// use is known.
const (
	idleTime = 14 * 24 * time.Hour
	seenTime = 5 * time.Minute
)

// AccountBySignIn is the account of a sign-in that has not ended nor lain idle too
// long, and notes that it was used.
func (s *Store) AccountBySignIn(ctx context.Context, id string) (Account, error) {
	if !known(id) {
		return Account{}, ErrNotFound
	}
	var row struct {
		Account
		Seen time.Time
	}
	now := s.now()
	err := s.q.GetContext(ctx, &row, `SELECT a.id, a.email, a.password, w.id AS workshop, i.seen FROM sign_ins i
		JOIN accounts a ON a.id = i.account_id JOIN workshops w ON w.account_id = a.id
		WHERE i.id = $1 AND i.seen > $2`, id, now.Add(-idleTime))
	if errors.Is(err, sql.ErrNoRows) {
		return Account{}, ErrNotFound
	}
	if err == nil && now.Sub(row.Seen) > seenTime {
		_, err = s.q.ExecContext(ctx, `UPDATE sign_ins SET seen = $2 WHERE id = $1`, id, now)
	}
	return row.Account, err
}

// SignIns lists where an account is signed in, the latest used first.
func (s *Store) SignIns(ctx context.Context, account string) ([]SignIn, error) {
	out := []SignIn{}
	err := s.q.SelectContext(ctx, &out, `SELECT id, since, seen, address, agent FROM sign_ins
		WHERE account_id = $1 AND seen > $2 ORDER BY seen DESC, id`, account, s.now().Add(-idleTime))
	return out, err
}

// EndSignIns ends sign-ins of an account, one or, without an id, all but one, and
// returns their ids. Those that lay idle too long end as well.
func (s *Store) EndSignIns(ctx context.Context, account, id, but string) ([]string, error) {
	out := []string{}
	err := s.q.SelectContext(ctx, &out, `DELETE FROM sign_ins WHERE account_id = $1
		AND (id::text = $2 OR $2 = '' AND id::text <> $3 OR seen < $4) RETURNING id`, account, id, but,
		s.now().Add(-idleTime))
	return out, err
}
