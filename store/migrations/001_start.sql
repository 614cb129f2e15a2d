-- +goose Up
CREATE TABLE accounts (
	id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
	email text NOT NULL,
	password text NOT NULL,
	created_at timestamptz NOT NULL DEFAULT now()
);
CREATE UNIQUE INDEX accounts_email ON accounts (lower(email));

CREATE TABLE workshops (
	id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
	account_id uuid NOT NULL UNIQUE REFERENCES accounts ON DELETE CASCADE,
	doc jsonb NOT NULL,
	version int NOT NULL DEFAULT 1
);

CREATE TABLE pieces (
	id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
	workshop_id uuid NOT NULL REFERENCES workshops ON DELETE CASCADE,
	name text NOT NULL,
	species text NOT NULL,
	doc jsonb NOT NULL,
	version int NOT NULL DEFAULT 1,
	created_at timestamptz NOT NULL,
	deleted_at timestamptz
);
CREATE INDEX pieces_rack ON pieces (workshop_id, created_at DESC) WHERE deleted_at IS NULL;

CREATE TABLE boards (
	id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
	workshop_id uuid NOT NULL REFERENCES workshops ON DELETE CASCADE,
	piece_id uuid NOT NULL REFERENCES pieces ON DELETE CASCADE,
	name text NOT NULL,
	due date,
	doc jsonb NOT NULL,
	version int NOT NULL DEFAULT 1,
	created_at timestamptz NOT NULL,
	given_at timestamptz,
	deleted_at timestamptz
);
CREATE INDEX boards_list ON boards (workshop_id, due NULLS LAST, created_at DESC) WHERE deleted_at IS NULL;
CREATE INDEX boards_in_work ON boards (workshop_id) WHERE deleted_at IS NULL AND given_at IS NULL;
CREATE INDEX boards_piece ON boards (piece_id) WHERE deleted_at IS NULL;

CREATE TABLE log (
	id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
	workshop_id uuid NOT NULL REFERENCES workshops ON DELETE CASCADE,
	board_id uuid NOT NULL REFERENCES boards ON DELETE CASCADE,
	step text NOT NULL,
	event text NOT NULL,
	at timestamptz NOT NULL,
	minutes double precision NOT NULL DEFAULT 0,
	kind text NOT NULL,
	title text NOT NULL,
	usual double precision NOT NULL
);
CREATE INDEX log_board ON log (board_id, id);
CREATE INDEX log_workshop ON log (workshop_id, id DESC);
-- +goose StatementBegin
CREATE FUNCTION log_is_append_only() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	RAISE EXCEPTION 'the log is append-only';
END $$;
-- +goose StatementEnd
CREATE TRIGGER log_append_only BEFORE UPDATE ON log FOR EACH ROW EXECUTE FUNCTION log_is_append_only();

CREATE TABLE sign_in_attempts (
	email text NOT NULL,
	at timestamptz NOT NULL
);
CREATE INDEX sign_in_attempts_email ON sign_in_attempts (email, at);

CREATE TABLE sessions (
	token text PRIMARY KEY,
	data bytea NOT NULL,
	expiry timestamptz NOT NULL
);
CREATE INDEX sessions_expiry ON sessions (expiry);

-- +goose Down
DROP TABLE sessions, sign_in_attempts, log, boards, pieces, workshops, accounts;
DROP FUNCTION log_is_append_only;
