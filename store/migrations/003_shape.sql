-- +goose Up
-- Shapes that a maker keeps to use again.
CREATE TABLE templates (
	id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
	workshop_id uuid NOT NULL REFERENCES workshops ON DELETE CASCADE,
	name text NOT NULL,
	doc jsonb NOT NULL,
	created_at timestamptz NOT NULL,
	deleted_at timestamptz
);
CREATE INDEX templates_workshop ON templates (workshop_id, created_at DESC) WHERE deleted_at IS NULL;

-- What a board was before it was changed, at most one for each few minutes.
CREATE TABLE board_versions (
	board_id uuid NOT NULL REFERENCES boards ON DELETE CASCADE,
	workshop_id uuid NOT NULL REFERENCES workshops ON DELETE CASCADE,
	version int NOT NULL,
	doc jsonb NOT NULL,
	at timestamptz NOT NULL,
	PRIMARY KEY (board_id, version)
);

-- +goose Down
DROP TABLE board_versions, templates;
