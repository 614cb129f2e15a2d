-- +goose Up
-- Who is signed in from where. Tokens of sessions are hashed from here on, so that
-- those who were signed in sign in once more.
CREATE TABLE sign_ins (
	id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
	account_id uuid NOT NULL REFERENCES accounts ON DELETE CASCADE,
	since timestamptz NOT NULL,
	seen timestamptz NOT NULL,
	address text NOT NULL,
	agent text NOT NULL
);
CREATE INDEX sign_ins_account ON sign_ins (account_id);
DELETE FROM sessions;
DROP TABLE sign_in_attempts;

-- +goose Down
CREATE TABLE sign_in_attempts (
	email text NOT NULL,
	at timestamptz NOT NULL
);
CREATE INDEX sign_in_attempts_email ON sign_in_attempts (email, at);
DELETE FROM sessions;
DROP TABLE sign_ins;
