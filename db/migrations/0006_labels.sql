-- Up Migration

-- What items are grouped by: “Family” is “Brakes”. As many labels as a table or a person gives, up to a bound.
CREATE FUNCTION are_labels(labels jsonb) RETURNS boolean LANGUAGE sql IMMUTABLE AS $$
	SELECT jsonb_typeof(labels) = 'object' AND (
		SELECT count(*) <= 20 AND coalesce(bool_and(
			length(key) BETWEEN 1 AND 60 AND jsonb_typeof(value) = 'string' AND length(value #>> '{}') BETWEEN 1 AND 120
		), true)
		FROM jsonb_each(CASE WHEN jsonb_typeof(labels) = 'object' THEN labels ELSE '{}' END)
	)
$$;
ALTER TABLE item ADD COLUMN labels jsonb NOT NULL DEFAULT '{}' CONSTRAINT item_labels_check CHECK (labels = '{}' OR are_labels(labels));

ALTER TABLE item_change DROP CONSTRAINT item_change_kind_check;
ALTER TABLE item_change
	ADD CONSTRAINT item_change_kind_check CHECK (kind IN ('renamed', 'retired', 'returned', 'planned', 'labelled')),
	-- What it was labelled with before.
	ADD COLUMN labels jsonb,
	ADD CHECK ((labels IS NOT NULL) = (kind = 'labelled'));
CREATE FUNCTION record_labels() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
BEGIN
	-- An item may get them in parts while it is brought in.
	IF NEW.labels <> OLD.labels AND OLD.created_at <> now() THEN
		INSERT INTO item_change (workspace_id, item_id, kind, code, name, unit, reason, created_by, labels)
		VALUES (OLD.workspace_id, OLD.id, 'labelled', NEW.code, NEW.name, NEW.unit,
			coalesce(current_setting('ventrel.reason', true), ''),
			coalesce(nullif(current_setting('ventrel.by', true), ''), session_user), OLD.labels);
	END IF;
	RETURN NULL;
END $$;
CREATE TRIGGER item_labels_are_recorded AFTER UPDATE OF labels ON item
	FOR EACH ROW EXECUTE FUNCTION record_labels();
GRANT UPDATE (labels) ON item TO ventrel_application;

-- Thousands of items that are made at once are touched at once.
CREATE FUNCTION touch_new_items() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	INSERT INTO touched (workspace_id, item_id) SELECT workspace_id, id FROM inserted;
	RETURN NULL;
END $$;
DROP TRIGGER item_touches ON item;
CREATE TRIGGER item_touches AFTER UPDATE OF lead_time ON item FOR EACH ROW EXECUTE FUNCTION touch_item();
CREATE TRIGGER new_item_touches AFTER INSERT ON item
	REFERENCING NEW TABLE AS inserted FOR EACH STATEMENT EXECUTE FUNCTION touch_new_items();

-- Down Migration

DROP TRIGGER new_item_touches ON item;
DROP TRIGGER item_touches ON item;
DROP FUNCTION touch_new_items;
CREATE TRIGGER item_touches AFTER INSERT OR UPDATE OF lead_time ON item
	FOR EACH ROW EXECUTE FUNCTION touch_item();
DROP TRIGGER item_labels_are_recorded ON item;
DROP FUNCTION record_labels;
ALTER TABLE item_change DISABLE TRIGGER item_change_is_append_only;
DELETE FROM item_change WHERE kind = 'labelled';
ALTER TABLE item_change ENABLE TRIGGER item_change_is_append_only;
ALTER TABLE item_change DROP COLUMN labels;
ALTER TABLE item_change DROP CONSTRAINT item_change_kind_check;
ALTER TABLE item_change ADD CONSTRAINT item_change_kind_check CHECK (kind IN ('renamed', 'retired', 'returned', 'planned'));
ALTER TABLE item DROP COLUMN labels;
DROP FUNCTION are_labels;
