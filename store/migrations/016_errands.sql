-- +goose Up
-- Long work that one process asks for and any does: searches, orders of work, exports. Their queue is River's.
CREATE TABLE errands (
	id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
	workshop_id uuid NOT NULL REFERENCES workshops ON DELETE CASCADE,
	kind text NOT NULL,
	ask jsonb NOT NULL,
	state text NOT NULL DEFAULT 'waiting',
	job bigint, -- River's, that does it now; null while there is none
	tries integer NOT NULL DEFAULT 0, -- how often it was begun
	found jsonb, -- the best so far
	finds integer NOT NULL DEFAULT 0, -- how often something better was found
	moves integer NOT NULL DEFAULT 0,
	seconds double precision NOT NULL DEFAULT 0, -- that it has run for
	file jsonb, -- name and type of what it made
	wrong jsonb, -- why it failed, for its maker
	watched_at timestamptz NOT NULL DEFAULT clock_timestamp(),
	beat_at timestamptz NOT NULL DEFAULT clock_timestamp(), -- a sign of life of whoever does it
	ended_at timestamptz
);
CREATE INDEX errands_open ON errands (workshop_id) WHERE ended_at IS NULL;
CREATE INDEX errands_job ON errands (job);
CREATE INDEX errands_beat ON errands (beat_at) WHERE state = 'running';
CREATE INDEX errands_ended ON errands (ended_at);
CREATE TABLE errand_parts (
	errand_id uuid NOT NULL REFERENCES errands ON DELETE CASCADE,
	part integer NOT NULL,
	data bytea NOT NULL,
	PRIMARY KEY (errand_id, part)
);

-- What is read lies in memory: a list in the order of an index is not sorted anew for its late pages. A setting of the
-- database, for a pooler before it takes none from a connection.
-- +goose StatementBegin
DO $$ BEGIN
	EXECUTE format('ALTER DATABASE %I SET random_page_cost = 1.1', current_database());
EXCEPTION WHEN insufficient_privilege THEN
	RAISE NOTICE 'the database is not ours: set random_page_cost to 1.1 for it';
END $$;
-- +goose StatementEnd

-- +goose Down
DROP TABLE errand_parts;
DROP TABLE errands;
