-- +goose Up
-- People that boards are for, occasions on which several get one, and what is kept of a board that was given: the link
-- of its care page, and when it is oiled.
CREATE TABLE people (
	id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
	workshop_id uuid NOT NULL REFERENCES workshops ON DELETE CASCADE,
	name text NOT NULL,
	doc jsonb NOT NULL,
	version integer NOT NULL DEFAULT 1,
	created_at timestamptz NOT NULL,
	deleted_at timestamptz
);
CREATE INDEX people_list ON people (workshop_id, lower(name), id) WHERE deleted_at IS NULL;
CREATE TABLE occasions (LIKE people INCLUDING DEFAULTS INCLUDING INDEXES);
ALTER TABLE occasions ADD FOREIGN KEY (workshop_id) REFERENCES workshops ON DELETE CASCADE;
CREATE INDEX boards_person ON boards (workshop_id, (doc->'give'->>'person'));
CREATE INDEX boards_for ON boards (workshop_id, lower(doc->'give'->>'for'));
CREATE INDEX boards_given ON boards (workshop_id, given_at) WHERE given_at IS NOT NULL;
CREATE TABLE care (
	board_id uuid PRIMARY KEY REFERENCES boards ON DELETE CASCADE,
	workshop_id uuid NOT NULL REFERENCES workshops ON DELETE CASCADE,
	link text UNIQUE, -- of its care page; null while it has none
	every integer, -- days after which it is oiled again; null while that is not known
	oiled date, -- when it was oiled last, after it was given
	next date, -- when it is to be oiled
	returned timestamptz[] NOT NULL DEFAULT '{}' -- each time that it came back
);
-- What a step took may be weighed when it is done.
CREATE INDEX log_retaken ON log (subject_id, step, at) WHERE event = 'note' AND uses IS NOT NULL;
-- The steps that are done, each as it was finished last; those of a board that came back once more for each time.
CREATE VIEW finished AS SELECT last.id, last.workshop_id, last.subject_kind, last.subject_id, last.step, last.at,
	last.minutes, last.kind, last.usual, coalesce(weighed.uses, last.uses) AS uses FROM (
	SELECT DISTINCT ON (l.workshop_id, l.subject_id, l.step, c.round) l.*, c.until
	FROM log l LEFT JOIN LATERAL (SELECT count(*) FILTER (WHERE r <= l.at) AS round,
		min(r) FILTER (WHERE r > l.at) AS until FROM care, unnest(returned) r
		WHERE board_id = l.subject_id) c ON true
	WHERE l.event IN ('finish', 'undo')
	ORDER BY l.workshop_id, l.subject_id, l.step, c.round, l.at DESC, l.id DESC) last
	LEFT JOIN LATERAL (SELECT n.uses FROM log n WHERE n.subject_id = last.subject_id AND n.step = last.step
		AND n.event = 'note' AND n.uses IS NOT NULL AND n.at >= last.at AND (last.until IS NULL OR n.at < last.until)
		ORDER BY n.at DESC, n.id DESC LIMIT 1) weighed ON true
	WHERE last.event = 'finish';

-- P80 before P400.
CREATE COLLATION "natural" (provider = icu, locale = 'en-u-kn-true');
DROP INDEX products_list;
CREATE INDEX products_list ON products (workshop_id, kind, (lower(name) COLLATE "natural"), id)
	WHERE deleted_at IS NULL;
CREATE INDEX products_paste ON products (workshop_id, item) WHERE item LIKE 'paste, %' AND deleted_at IS NULL;
CREATE INDEX products_sheet ON products (workshop_id) WHERE doc ? 'sheet';

-- +goose Down
DROP INDEX products_sheet;
DROP INDEX products_paste;
DROP INDEX products_list;
CREATE INDEX products_list ON products (workshop_id, kind, lower(name), id) WHERE deleted_at IS NULL;
DROP COLLATION "natural";
DROP VIEW finished;
DROP INDEX log_retaken;
DROP TABLE care;
DROP INDEX boards_given;
DROP INDEX boards_for;
DROP INDEX boards_person;
DROP TABLE occasions;
DROP TABLE people;
