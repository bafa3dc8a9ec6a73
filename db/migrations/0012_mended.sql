-- Up Migration

-- A workspace that was kept as text is laid out with ids of its own, given beforehand.
GRANT USAGE ON SEQUENCE item_id_seq, data_change_id_seq, adopted_forecast_id_seq TO ventrel_application;

-- What a label is of has no name that objects have by themselves: whoever reads it as an object reads something else.
CREATE FUNCTION is_free_key(key text) RETURNS boolean LANGUAGE sql IMMUTABLE AS $$
	SELECT key NOT IN ('__proto__', 'constructor', 'prototype')
$$;
-- Items that have such a label keep it under another name; what they were labelled with before stays on record as it was.
CREATE FUNCTION with_free_keys(labels jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
	SELECT coalesce(jsonb_object_agg(CASE WHEN is_free_key(key) THEN key ELSE key || ' (label)' END, value), '{}') FROM jsonb_each(labels)
$$;
SELECT set_config('ventrel.by', 'migration', true), set_config('ventrel.reason', 'this name of a label cannot be read safely', true);
UPDATE item SET labels = with_free_keys(labels) WHERE labels ?| array['__proto__', 'constructor', 'prototype'];
ALTER TABLE item DISABLE TRIGGER item_keeps_identity;
UPDATE item SET sum_of = jsonb_set(sum_of, '{labels}', with_free_keys(sum_of -> 'labels'))
	WHERE sum_of -> 'labels' ?| array['__proto__', 'constructor', 'prototype'];
ALTER TABLE item ENABLE TRIGGER item_keeps_identity;
CREATE OR REPLACE FUNCTION are_labels(labels jsonb) RETURNS boolean LANGUAGE sql IMMUTABLE AS $$
	SELECT jsonb_typeof(labels) = 'object' AND (
		SELECT count(*) <= 20 AND coalesce(bool_and(
			length(key) BETWEEN 1 AND 60 AND is_free_key(key)
				AND jsonb_typeof(value) = 'string' AND length(value #>> '{}') BETWEEN 1 AND 120
		), true)
		FROM jsonb_each(CASE WHEN jsonb_typeof(labels) = 'object' THEN labels ELSE '{}' END)
	)
$$;
ALTER TABLE item ADD CONSTRAINT item_sum_of_keys CHECK (NOT sum_of -> 'labels' ?| array['__proto__', 'constructor', 'prototype']);

-- No address can end with these codes.
UPDATE item SET code = code || ' (item)' WHERE code IN ('.', '..');
ALTER TABLE item ADD CONSTRAINT item_code_has_address CHECK (code NOT IN ('.', '..'));

-- What the list is asked for has labels as pairs, as everything that travels.
CREATE FUNCTION asked_in_pairs(asked jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
	SELECT jsonb_set(asked, '{labels}', (
		SELECT coalesce(jsonb_agg(jsonb_build_array(key, value) ORDER BY key COLLATE "C"), '[]')
		FROM jsonb_each(with_free_keys(asked -> 'labels'))
	))
$$;
UPDATE kept_view SET asked = asked_in_pairs(asked) WHERE jsonb_typeof(asked -> 'labels') = 'object';
UPDATE sweep SET asked = asked_in_pairs(asked) WHERE jsonb_typeof(asked -> 'labels') = 'object';
DROP FUNCTION asked_in_pairs, with_free_keys;

-- When a process that works sweeps off was last heard of: one that hangs still holds its lock.
ALTER TABLE worker_process ADD COLUMN seen_at timestamptz NOT NULL DEFAULT now();
-- Whether the database is as the program expects it: names alone, of a table that is the owner's.
CREATE FUNCTION migrations_run() RETURNS SETOF text LANGUAGE sql STABLE SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
	SELECT name::text FROM migration
$$;
REVOKE ALL ON FUNCTION migrations_run FROM PUBLIC;
GRANT EXECUTE ON FUNCTION migrations_run TO ventrel_application;

-- Views that are kept by name are a few, not a store.
CREATE FUNCTION check_views() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	IF (SELECT count(*) FROM kept_view WHERE workspace_id = NEW.workspace_id) > 200 THEN
		RAISE EXCEPTION 'at most 200 views are kept' USING ERRCODE = 'check_violation', CONSTRAINT = 'kept_view_bound';
	END IF;
	RETURN NULL;
END $$;
CREATE TRIGGER kept_view_is_bounded AFTER INSERT ON kept_view FOR EACH ROW EXECUTE FUNCTION check_views();
