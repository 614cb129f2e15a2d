-- +goose Up
-- What is on the shelf, and what each finished step took of it. What is left is reckoned from both.
CREATE TABLE products (
	id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
	workshop_id uuid NOT NULL REFERENCES workshops ON DELETE CASCADE,
	name text NOT NULL,
	doc jsonb NOT NULL,
	kind text NOT NULL GENERATED ALWAYS AS (doc->>'kind') STORED,
	item text NOT NULL GENERATED ALWAYS AS (doc->>'item') STORED,
	version integer NOT NULL DEFAULT 1,
	created_at timestamptz NOT NULL,
	deleted_at timestamptz
);
CREATE INDEX products_list ON products (workshop_id, kind, lower(name), id) WHERE deleted_at IS NULL;
CREATE INDEX products_item ON products (workshop_id, item) WHERE deleted_at IS NULL;
ALTER TABLE log ADD COLUMN uses jsonb;

-- +goose Down
ALTER TABLE log DROP COLUMN uses;
DROP TABLE products;
