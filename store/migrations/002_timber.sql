-- +goose Up
-- What the rack is searched, sorted and summed by, taken from the document whenever it is stored.
ALTER TABLE pieces
	ADD COLUMN stock text NOT NULL DEFAULT 'slab',
	ADD COLUMN length double precision,
	ADD COLUMN thickness double precision,
	ADD COLUMN cents bigint,
	ADD COLUMN moisture double precision,
	ADD COLUMN ready boolean,
	ADD COLUMN parent_id uuid REFERENCES pieces ON DELETE SET NULL,
	ADD COLUMN cut_at timestamptz;

CREATE TABLE pictures (
	id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
	workshop_id uuid NOT NULL REFERENCES workshops ON DELETE CASCADE,
	data bytea NOT NULL,
	width int NOT NULL,
	height int NOT NULL,
	created_at timestamptz NOT NULL
);
ALTER TABLE pictures ALTER COLUMN data SET STORAGE EXTERNAL; -- JPEG does not compress again
CREATE INDEX pictures_workshop ON pictures (workshop_id);

CREATE TABLE instruments (
	id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
	workshop_id uuid NOT NULL REFERENCES workshops ON DELETE CASCADE,
	name text NOT NULL,
	kind text NOT NULL CHECK (kind IN ('moisture meter', 'room sensor')),
	key_hash bytea NOT NULL UNIQUE,
	simulated_key text, -- only a simulated one is known again by its key
	created_at timestamptz NOT NULL
);
CREATE INDEX instruments_workshop ON instruments (workshop_id);

CREATE TABLE readings (
	id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
	instrument_id uuid NOT NULL REFERENCES instruments ON DELETE CASCADE,
	at timestamptz NOT NULL,
	percent double precision,
	temperature double precision,
	humidity double precision
);
CREATE INDEX readings_instrument ON readings (instrument_id, id DESC);

-- +goose Down
DROP TABLE readings, instruments, pictures;
ALTER TABLE pieces DROP COLUMN stock, DROP COLUMN length, DROP COLUMN thickness, DROP COLUMN cents, DROP COLUMN moisture, DROP COLUMN ready, DROP COLUMN parent_id, DROP COLUMN cut_at;
