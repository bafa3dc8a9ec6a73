-- Up Migration

-- What an item is found by: its code, its name, and what it is labelled with.
CREATE FUNCTION label_words(labels jsonb) RETURNS text LANGUAGE sql IMMUTABLE AS $$
	SELECT coalesce(string_agg(value, ' ' ORDER BY key), '')
	FROM jsonb_each_text(CASE WHEN jsonb_typeof(labels) = 'object' THEN labels ELSE '{}' END)
$$;
ALTER TABLE item ADD COLUMN sought text
	GENERATED ALWAYS AS (lower(code || ' ' || name || CASE WHEN labels = '{}' THEN '' ELSE ' ' || label_words(labels) END)) STORED;

-- Down Migration

ALTER TABLE item DROP COLUMN sought;
DROP FUNCTION label_words;
