-- +goose Up
-- A flaw carries a wish instead of a mark to keep it out.
UPDATE pieces SET doc = jsonb_set(doc, '{flaws}', (
	SELECT coalesce(jsonb_agg(CASE WHEN f.flaw->'keepOut' = 'true' THEN f.flaw - 'keepOut' || '{"wish": "keep out"}' ELSE f.flaw - 'keepOut' END ORDER BY f.at), '[]')
	FROM jsonb_array_elements(doc->'flaws') WITH ORDINALITY f (flaw, at)))
WHERE jsonb_typeof(doc->'flaws') = 'array';

-- +goose Down
UPDATE pieces SET doc = jsonb_set(doc, '{flaws}', (
	SELECT coalesce(jsonb_agg(f.flaw - 'wish' || jsonb_build_object('keepOut', coalesce(f.flaw->>'wish', '') IN ('keep out', 'cut away')) ORDER BY f.at), '[]')
	FROM jsonb_array_elements(doc->'flaws') WITH ORDINALITY f (flaw, at)))
WHERE jsonb_typeof(doc->'flaws') = 'array';
