-- +goose Up
-- Where the strips of a panel lie on the pieces that they are to be cut from.
CREATE TABLE strips (
	panel_id uuid NOT NULL REFERENCES pieces ON DELETE CASCADE,
	strip text NOT NULL,
	piece_id uuid NOT NULL REFERENCES pieces ON DELETE CASCADE,
	x double precision NOT NULL,
	y double precision NOT NULL,
	angle double precision NOT NULL,
	length double precision NOT NULL,
	width double precision NOT NULL,
	cents int NOT NULL,
	PRIMARY KEY (panel_id, strip)
);
CREATE INDEX strips_piece ON strips (piece_id);

-- A piece that is to be glued up of parts.
ALTER TABLE pieces ADD COLUMN panel boolean NOT NULL DEFAULT false;
CREATE INDEX pieces_panels ON pieces (workshop_id) WHERE panel;

-- The clamps of a small shop, until its maker lists their own.
UPDATE workshops SET doc = doc || '{"clamps": [{"kind": "bar clamp", "length": 900, "count": 4},
	{"kind": "F-clamp", "length": 400, "count": 6}]}' WHERE NOT doc ? 'clamps';

-- +goose Down
UPDATE workshops SET doc = doc - 'clamps';
ALTER TABLE pieces DROP COLUMN panel;
DROP TABLE strips;
