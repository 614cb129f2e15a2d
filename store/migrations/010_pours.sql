-- +goose Up
-- What is written down at a step, beside that it begins and ends: grams of resin, a leak, a look.
ALTER TABLE log
	ADD COLUMN what text NOT NULL DEFAULT '',
	ADD COLUMN amount double precision NOT NULL DEFAULT 0,
	ADD COLUMN x double precision,
	ADD COLUMN y double precision,
	ADD COLUMN resin text NOT NULL DEFAULT '';

-- Pours that are over, ml: they teach soak, loss and reserve.
CREATE TABLE pours (
	workshop_id uuid NOT NULL REFERENCES workshops ON DELETE CASCADE,
	subject_id uuid NOT NULL,
	step text NOT NULL,
	at timestamptz NOT NULL,
	net double precision NOT NULL,
	mixed double precision NOT NULL,
	used double precision NOT NULL,
	lost double precision NOT NULL,
	cups double precision NOT NULL,
	PRIMARY KEY (subject_id, step)
);
CREATE INDEX pours_workshop ON pours (workshop_id, at DESC);

-- A scale that sends what it shows.
ALTER TABLE instruments DROP CONSTRAINT instruments_kind_check,
	ADD CONSTRAINT instruments_kind_check CHECK (kind IN ('moisture meter', 'room sensor', 'scale'));
ALTER TABLE readings ADD COLUMN grams double precision;

-- +goose Down
DELETE FROM instruments WHERE kind = 'scale';
ALTER TABLE readings DROP COLUMN grams;
ALTER TABLE instruments DROP CONSTRAINT instruments_kind_check,
	ADD CONSTRAINT instruments_kind_check CHECK (kind IN ('moisture meter', 'room sensor'));
DROP TABLE pours;
DELETE FROM log WHERE event = 'note';
ALTER TABLE log DROP COLUMN what, DROP COLUMN amount, DROP COLUMN x, DROP COLUMN y, DROP COLUMN resin;
