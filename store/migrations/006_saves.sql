-- +goose Up
-- Saves that were stored, so that one that is asked again is known.
CREATE TABLE saves (
	workshop_id uuid NOT NULL REFERENCES workshops ON DELETE CASCADE,
	key uuid NOT NULL,
	what text NOT NULL,
	made jsonb NOT NULL DEFAULT '[]',
	at timestamptz NOT NULL,
	PRIMARY KEY (workshop_id, key, what)
);
CREATE INDEX saves_old ON saves (workshop_id, at);

-- +goose Down
DROP TABLE saves;
