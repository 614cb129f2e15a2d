-- +goose Up
-- Coats that are over, g: they teach how much a maker puts on.
CREATE TABLE coats (
	workshop_id uuid NOT NULL REFERENCES workshops ON DELETE CASCADE,
	board_id uuid NOT NULL,
	step text NOT NULL,
	at timestamptz NOT NULL,
	product text NOT NULL,
	asked double precision NOT NULL,
	used double precision NOT NULL,
	PRIMARY KEY (board_id, step)
);
CREATE INDEX coats_workshop ON coats (workshop_id, at DESC);

-- Trials: a question, its samples and the rounds so far.
CREATE TABLE trials (
	id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
	workshop_id uuid NOT NULL REFERENCES workshops ON DELETE CASCADE,
	name text NOT NULL,
	doc jsonb NOT NULL,
	version integer NOT NULL DEFAULT 1,
	created_at timestamptz NOT NULL,
	deleted_at timestamptz
);
CREATE INDEX trials_workshop ON trials (workshop_id, created_at DESC);

-- +goose Down
DROP TABLE trials;
DROP TABLE coats;
