-- +goose Up
-- Runs: boards that are made together.
CREATE TABLE runs (
	id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
	workshop_id uuid NOT NULL REFERENCES workshops ON DELETE CASCADE,
	name text NOT NULL,
	doc jsonb NOT NULL,
	version integer NOT NULL DEFAULT 1,
	created_at timestamptz NOT NULL,
	deleted_at timestamptz
);
CREATE INDEX runs_workshop ON runs (workshop_id, created_at DESC);
ALTER TABLE boards ADD COLUMN run_id uuid REFERENCES runs ON DELETE SET NULL;
CREATE INDEX boards_run ON boards (run_id) WHERE run_id IS NOT NULL;

-- What was pressed has an id of its own, so that it is taken once, however often and however late it is sent.
ALTER TABLE log ADD COLUMN press uuid;
CREATE UNIQUE INDEX log_press ON log (workshop_id, press, subject_id, step) WHERE press IS NOT NULL;

-- The order in which the work of a shop is done, as it was found to be good, and what is locked to days.
CREATE TABLE plans (
	workshop_id uuid PRIMARY KEY REFERENCES workshops ON DELETE CASCADE,
	doc jsonb NOT NULL DEFAULT '{}',
	feed text UNIQUE -- the secret of its calendar; null where there is none
);

-- +goose Down
DROP TABLE plans;
ALTER TABLE log DROP COLUMN press;
ALTER TABLE boards DROP COLUMN run_id;
DROP TABLE runs;
