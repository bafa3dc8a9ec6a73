-- Up Migration

-- The unit beside the labels, so that groups of a million items are counted and added up from one table.
ALTER TABLE item_status ADD COLUMN unit text NOT NULL DEFAULT '';
UPDATE item_status SET unit = item.unit FROM item
WHERE item.workspace_id = item_status.workspace_id AND item.id = item_id AND item.unit <> '';
CREATE OR REPLACE FUNCTION queue_new_items() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	INSERT INTO status_queue (workspace_id, item_id) SELECT workspace_id, id FROM inserted;
	INSERT INTO item_status (workspace_id, item_id, code, sought, labels, frequency, unit, retired, sum)
		SELECT workspace_id, id, code, sought, labels, frequency, unit, retired_at IS NOT NULL, sum_of IS NOT NULL FROM inserted
		ON CONFLICT DO NOTHING;
	RETURN NULL;
END $$;

DO $$ BEGIN
	EXECUTE regexp_replace(pg_get_functiondef('queue_changed_items'::regproc), '(now|before)\.sought, ', '\&\1.unit, ', 'g');
END $$;

-- That everything was taken is told by nobody's row either.
CREATE OR REPLACE FUNCTION check_event() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
BEGIN
	IF is_owner() OR pg_trigger_depth() > 1 THEN
		RETURN NULL;
	END IF;
	IF NEW.at <> now() OR NOT (
		NEW.kind IN ('sign-in failed', 'sign-in slowed') AND NEW.done_by IS NULL
		OR NEW.kind IN ('refused', 'everything taken') AND NEW.done_by = (SELECT actor FROM acting())
	) THEN
		RAISE EXCEPTION 'INSERT of access_event refused: it is no refusal, or not of now' USING ERRCODE = 'insufficient_privilege';
	END IF;
	RETURN NULL;
END $$;

-- Raw texts stay for good: from now on compressed, 4 ms a megabyte, by what is quick where the server has it. Those there stay as they are.
-- What migrations before this one wrote is checked first.
SET CONSTRAINTS ALL IMMEDIATE;
ALTER TABLE raw_piece ALTER COLUMN content SET STORAGE EXTENDED;
DO $$ BEGIN
	ALTER TABLE raw_piece ALTER COLUMN content SET COMPRESSION lz4;
EXCEPTION WHEN feature_not_supported THEN
	NULL;
END $$;

-- Down Migration

ALTER TABLE raw_piece ALTER COLUMN content SET STORAGE EXTERNAL, ALTER COLUMN content SET COMPRESSION default;
CREATE OR REPLACE FUNCTION check_event() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
BEGIN
	IF is_owner() OR pg_trigger_depth() > 1 THEN
		RETURN NULL;
	END IF;
	IF NEW.at <> now() OR NOT (
		NEW.kind IN ('sign-in failed', 'sign-in slowed') AND NEW.done_by IS NULL
		OR NEW.kind = 'refused' AND NEW.done_by = (SELECT actor FROM acting())
	) THEN
		RAISE EXCEPTION 'INSERT of access_event refused: it is no refusal, or not of now' USING ERRCODE = 'insufficient_privilege';
	END IF;
	RETURN NULL;
END $$;
CREATE OR REPLACE FUNCTION queue_new_items() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	INSERT INTO status_queue (workspace_id, item_id) SELECT workspace_id, id FROM inserted;
	INSERT INTO item_status (workspace_id, item_id, code, sought, labels, frequency, retired, sum)
		SELECT workspace_id, id, code, sought, labels, frequency, retired_at IS NOT NULL, sum_of IS NOT NULL FROM inserted
		ON CONFLICT DO NOTHING;
	RETURN NULL;
END $$;
DO $$ BEGIN
	EXECUTE regexp_replace(pg_get_functiondef('queue_changed_items'::regproc), '(\.sought, )(now|before)\.unit, ', '\1', 'g');
END $$;
ALTER TABLE item_status DROP COLUMN unit;
