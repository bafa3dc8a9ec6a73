-- Up Migration

-- A table's constraints, indexes and sequences are called after it.
CREATE FUNCTION rename_parts(of regclass, old text, new text) RETURNS void LANGUAGE plpgsql AS $$
DECLARE part text;
BEGIN
	FOR part IN SELECT conname FROM pg_constraint WHERE conrelid = of AND starts_with(conname, old || '_') LOOP
		EXECUTE format('ALTER TABLE %s RENAME CONSTRAINT %I TO %I', of, part, new || substr(part, length(old) + 1));
	END LOOP;
	FOR part IN SELECT relname FROM pg_index JOIN pg_class ON pg_class.oid = indexrelid WHERE indrelid = of AND starts_with(relname, old || '_') LOOP
		EXECUTE format('ALTER INDEX %I RENAME TO %I', part, new || substr(part, length(old) + 1));
	END LOOP;
	FOR part IN SELECT relname FROM pg_depend JOIN pg_class ON pg_class.oid = objid
		WHERE refobjid = of AND relkind = 'S' AND starts_with(relname, old || '_') LOOP
		EXECUTE format('ALTER SEQUENCE %I RENAME TO %I', part, new || substr(part, length(old) + 1));
	END LOOP;
END $$;

-- As the screens say it: an item is hidden until its next actual, and an adopted forecast is updated.
ALTER TABLE put_aside RENAME TO hide_entry;
SELECT rename_parts('hide_entry', 'put_aside', 'hide_entry');
ALTER TRIGGER put_aside_is_append_only ON hide_entry RENAME TO hide_entry_is_append_only;
UPDATE kept_view SET asked = jsonb_set(asked, '{which}', '"hidden"') WHERE asked ->> 'which' = 'aside';
UPDATE sweep SET asked = jsonb_set(asked, '{which}', '"hidden"') WHERE asked ->> 'which' = 'aside';
ALTER TABLE sweep DROP CONSTRAINT sweep_kind_check;
UPDATE sweep SET kind = 'update' WHERE kind = 'carry-on';
ALTER TABLE sweep ADD CONSTRAINT sweep_kind_check CHECK (kind IN ('propose', 'update', 'try', 'share', 'adopt'));

-- Entries of the layers over the actuals.
ALTER TABLE mend RENAME TO layer_entry;
SELECT rename_parts('layer_entry', 'mend', 'layer_entry');
ALTER TRIGGER mend_is_append_only ON layer_entry RENAME TO layer_entry_is_append_only;
ALTER TABLE adopted_forecast RENAME COLUMN mend_id TO layer_entry_id;

-- The status of items, and the queue of those whose status is to be made anew.
ALTER TABLE standing RENAME TO item_status;
SELECT rename_parts('item_status', 'standing', 'item_status');
ALTER TABLE item_status RENAME COLUMN put_aside_id TO hide_entry_id;
ALTER TABLE item_status RENAME COLUMN place TO attention_rank;
ALTER TABLE item_status RENAME COLUMN less TO attention_order;
ALTER TABLE item_status RENAME COLUMN missed TO abs_error;
ALTER TABLE item_status RENAME COLUMN came TO abs_actual;
ALTER TABLE sweep_row RENAME COLUMN missed TO abs_error;
ALTER TABLE sweep_row RENAME COLUMN missed_before TO abs_error_before;
ALTER TABLE sweep_row RENAME COLUMN came TO abs_actual;
UPDATE item_status SET score = score - 'theil' || jsonb_build_object('relativeMae', score -> 'theil') WHERE score ? 'theil';
ALTER TABLE touched RENAME TO status_queue;
SELECT rename_parts('status_queue', 'touched', 'status_queue');

-- Functions keep what they do; their texts name the tables.
DROP TRIGGER touched_is_told ON status_queue;
DROP FUNCTION tell_of_touched;
CREATE FUNCTION tell_of_status_queue() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	NOTIFY ventrel_status_queue;
	RETURN NULL;
END $$;
CREATE TRIGGER status_queue_is_told AFTER INSERT ON status_queue FOR EACH STATEMENT EXECUTE FUNCTION tell_of_status_queue();
DO $$
DECLARE known oid;
BEGIN
	FOR known IN SELECT oid FROM pg_proc WHERE proname LIKE 'touch\_%' AND pronamespace = 'public'::regnamespace LOOP
		EXECUTE regexp_replace(regexp_replace(pg_get_functiondef(known), '\mtouched\M', 'status_queue', 'g'), '\mstanding\M', 'item_status', 'g');
	END LOOP;
END $$;
ALTER FUNCTION touch_items RENAME TO queue_items;
ALTER FUNCTION touch_items_and_sums RENAME TO queue_items_and_sums;
ALTER FUNCTION touch_new_items RENAME TO queue_new_items;
ALTER FUNCTION touch_changed_items RENAME TO queue_changed_items;
ALTER FUNCTION touch_workspace RENAME TO queue_workspace;
ALTER TRIGGER actual_touches ON actual RENAME TO actual_queues;
ALTER TRIGGER adopted_forecast_touches ON adopted_forecast RENAME TO adopted_forecast_queues;
ALTER TRIGGER mend_touches ON layer_entry RENAME TO layer_entry_queues;
ALTER TRIGGER put_aside_touches ON hide_entry RENAME TO hide_entry_queues;
ALTER TRIGGER item_touches ON item RENAME TO item_queues;
ALTER TRIGGER new_item_touches ON item RENAME TO new_item_queues;
ALTER TRIGGER workspace_touches ON workspace RENAME TO workspace_queues;

DROP FUNCTION rename_parts;

-- Down Migration

-- A table's constraints, indexes and sequences are called after it.
CREATE FUNCTION rename_parts(of regclass, old text, new text) RETURNS void LANGUAGE plpgsql AS $$
DECLARE part text;
BEGIN
	FOR part IN SELECT conname FROM pg_constraint WHERE conrelid = of AND starts_with(conname, old || '_') LOOP
		EXECUTE format('ALTER TABLE %s RENAME CONSTRAINT %I TO %I', of, part, new || substr(part, length(old) + 1));
	END LOOP;
	FOR part IN SELECT relname FROM pg_index JOIN pg_class ON pg_class.oid = indexrelid WHERE indrelid = of AND starts_with(relname, old || '_') LOOP
		EXECUTE format('ALTER INDEX %I RENAME TO %I', part, new || substr(part, length(old) + 1));
	END LOOP;
	FOR part IN SELECT relname FROM pg_depend JOIN pg_class ON pg_class.oid = objid
		WHERE refobjid = of AND relkind = 'S' AND starts_with(relname, old || '_') LOOP
		EXECUTE format('ALTER SEQUENCE %I RENAME TO %I', part, new || substr(part, length(old) + 1));
	END LOOP;
END $$;

ALTER TRIGGER workspace_queues ON workspace RENAME TO workspace_touches;
ALTER TRIGGER new_item_queues ON item RENAME TO new_item_touches;
ALTER TRIGGER item_queues ON item RENAME TO item_touches;
ALTER TRIGGER hide_entry_queues ON hide_entry RENAME TO put_aside_touches;
ALTER TRIGGER layer_entry_queues ON layer_entry RENAME TO mend_touches;
ALTER TRIGGER adopted_forecast_queues ON adopted_forecast RENAME TO adopted_forecast_touches;
ALTER TRIGGER actual_queues ON actual RENAME TO actual_touches;
ALTER FUNCTION queue_workspace RENAME TO touch_workspace;
ALTER FUNCTION queue_changed_items RENAME TO touch_changed_items;
ALTER FUNCTION queue_new_items RENAME TO touch_new_items;
ALTER FUNCTION queue_items_and_sums RENAME TO touch_items_and_sums;
ALTER FUNCTION queue_items RENAME TO touch_items;
DO $$
DECLARE known oid;
BEGIN
	FOR known IN SELECT oid FROM pg_proc WHERE proname LIKE 'touch\_%' AND pronamespace = 'public'::regnamespace LOOP
		EXECUTE regexp_replace(regexp_replace(pg_get_functiondef(known), '\mstatus_queue\M', 'touched', 'g'), '\mitem_status\M', 'standing', 'g');
	END LOOP;
END $$;
DROP TRIGGER status_queue_is_told ON status_queue;
DROP FUNCTION tell_of_status_queue;
CREATE FUNCTION tell_of_touched() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	NOTIFY ventrel_touched;
	RETURN NULL;
END $$;
CREATE TRIGGER touched_is_told AFTER INSERT ON status_queue FOR EACH STATEMENT EXECUTE FUNCTION tell_of_touched();

ALTER TABLE status_queue RENAME TO touched;
SELECT rename_parts('touched', 'status_queue', 'touched');
UPDATE item_status SET score = score - 'relativeMae' || jsonb_build_object('theil', score -> 'relativeMae') WHERE score ? 'relativeMae';
ALTER TABLE sweep_row RENAME COLUMN abs_actual TO came;
ALTER TABLE sweep_row RENAME COLUMN abs_error_before TO missed_before;
ALTER TABLE sweep_row RENAME COLUMN abs_error TO missed;
ALTER TABLE item_status RENAME COLUMN abs_actual TO came;
ALTER TABLE item_status RENAME COLUMN abs_error TO missed;
ALTER TABLE item_status RENAME COLUMN attention_order TO less;
ALTER TABLE item_status RENAME COLUMN attention_rank TO place;
ALTER TABLE item_status RENAME COLUMN hide_entry_id TO put_aside_id;
ALTER TABLE item_status RENAME TO standing;
SELECT rename_parts('standing', 'item_status', 'standing');

ALTER TABLE adopted_forecast RENAME COLUMN layer_entry_id TO mend_id;
ALTER TRIGGER layer_entry_is_append_only ON layer_entry RENAME TO mend_is_append_only;
ALTER TABLE layer_entry RENAME TO mend;
SELECT rename_parts('mend', 'layer_entry', 'mend');

ALTER TABLE sweep DROP CONSTRAINT sweep_kind_check;
UPDATE sweep SET kind = 'carry-on' WHERE kind = 'update';
ALTER TABLE sweep ADD CONSTRAINT sweep_kind_check CHECK (kind IN ('propose', 'carry-on', 'try', 'share', 'adopt'));
UPDATE sweep SET asked = jsonb_set(asked, '{which}', '"aside"') WHERE asked ->> 'which' = 'hidden';
UPDATE kept_view SET asked = jsonb_set(asked, '{which}', '"aside"') WHERE asked ->> 'which' = 'hidden';
ALTER TRIGGER hide_entry_is_append_only ON hide_entry RENAME TO put_aside_is_append_only;
ALTER TABLE hide_entry RENAME TO put_aside;
SELECT rename_parts('put_aside', 'hide_entry', 'put_aside');
DROP FUNCTION rename_parts;
