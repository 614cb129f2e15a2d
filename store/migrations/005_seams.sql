-- +goose Up
-- A piece may come of several: resawn and cut from one, or made of many parts.
CREATE TABLE piece_sources (
	piece_id uuid NOT NULL REFERENCES pieces ON DELETE CASCADE,
	source_id uuid NOT NULL REFERENCES pieces ON DELETE CASCADE,
	position int NOT NULL DEFAULT 0,
	PRIMARY KEY (piece_id, source_id)
);
CREATE INDEX piece_sources_source ON piece_sources (source_id);
INSERT INTO piece_sources (piece_id, source_id) SELECT id, parent_id FROM pieces WHERE parent_id IS NOT NULL;
ALTER TABLE pieces DROP COLUMN parent_id;

-- The log is by subject: a board today, a panel or a run later.
ALTER TABLE log DROP CONSTRAINT log_board_id_fkey;
ALTER TABLE log RENAME COLUMN board_id TO subject_id;
ALTER TABLE log ADD COLUMN subject_kind text NOT NULL DEFAULT 'board';
ALTER TABLE log ALTER COLUMN subject_kind DROP DEFAULT;
ALTER INDEX log_board RENAME TO log_subject;

-- +goose Down
ALTER INDEX log_subject RENAME TO log_board;
DELETE FROM log WHERE subject_kind <> 'board';
ALTER TABLE log DROP COLUMN subject_kind;
ALTER TABLE log RENAME COLUMN subject_id TO board_id;
ALTER TABLE log ADD CONSTRAINT log_board_id_fkey FOREIGN KEY (board_id) REFERENCES boards ON DELETE CASCADE;
ALTER TABLE pieces ADD COLUMN parent_id uuid REFERENCES pieces ON DELETE SET NULL;
UPDATE pieces SET parent_id = (SELECT source_id FROM piece_sources WHERE piece_id = pieces.id ORDER BY position LIMIT 1);
DROP TABLE piece_sources;
