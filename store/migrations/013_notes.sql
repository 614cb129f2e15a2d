-- +goose Up
-- What was written down at a step in words, and what was taken a picture of. The log is only ever added to, so a
-- picture is named without being held.
ALTER TABLE log ADD COLUMN words text NOT NULL DEFAULT '';
ALTER TABLE log ADD COLUMN picture uuid;
CREATE INDEX log_kept ON log (workshop_id, at DESC, id DESC);

-- What is given away comes after what is still to be made.
DROP INDEX boards_list;
CREATE INDEX boards_list ON boards (workshop_id, (given_at IS NOT NULL), due NULLS LAST, created_at DESC)
	WHERE deleted_at IS NULL;

-- +goose Down
DROP INDEX boards_list;
CREATE INDEX boards_list ON boards (workshop_id, due NULLS LAST, created_at DESC) WHERE deleted_at IS NULL;
DROP INDEX log_kept;
ALTER TABLE log DROP COLUMN picture;
ALTER TABLE log DROP COLUMN words;
