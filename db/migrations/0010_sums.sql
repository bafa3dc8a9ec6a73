-- Up Migration

-- A sum is an item whose figures are those of its parts added up: the items of its frequency that are counted in one unit and have
-- the labels that it names. It is forecast, adopted and watched like any other; it is part of no sum itself.
ALTER TABLE item ADD COLUMN sum_of jsonb CHECK (
	jsonb_typeof(sum_of -> 'labels') = 'object' AND jsonb_typeof(sum_of -> 'unit') = 'string'
);
CREATE UNIQUE INDEX item_sums ON item (workspace_id, frequency, sum_of) WHERE sum_of IS NOT NULL;

-- Whether an item with these labels is part of a sum; a blank label asks for those without.
CREATE FUNCTION is_part(labels jsonb, unit text, sum_of jsonb) RETURNS boolean LANGUAGE sql IMMUTABLE AS $$
	SELECT unit = sum_of ->> 'unit' AND NOT EXISTS (
		SELECT FROM jsonb_each_text(sum_of -> 'labels') wanted WHERE coalesce(labels ->> wanted.key, '') <> wanted.value
	)
$$;

CREATE VIEW part WITH (security_invoker = true) AS
	SELECT total.workspace_id, total.id AS sum_id, item.id AS item_id
	FROM item total
	JOIN item ON item.workspace_id = total.workspace_id AND item.frequency = total.frequency AND item.sum_of IS NULL
	WHERE total.sum_of IS NOT NULL AND is_part(item.labels, item.unit, total.sum_of);
GRANT SELECT ON part TO ventrel_application;

CREATE OR REPLACE FUNCTION keep_item_identity() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	IF NEW.id <> OLD.id OR NEW.workspace_id <> OLD.workspace_id OR NEW.frequency <> OLD.frequency THEN
		RAISE EXCEPTION 'UPDATE of item refused: its actuals are counted at frequency %', OLD.frequency
			USING ERRCODE = 'integrity_constraint_violation';
	END IF;
	IF NEW.sum_of IS DISTINCT FROM OLD.sum_of THEN
		RAISE EXCEPTION 'UPDATE of item refused: what it is the sum of stays; make another one'
			USING ERRCODE = 'integrity_constraint_violation';
	END IF;
	RETURN NEW;
END $$;

-- What changes the figures of a part changes those of its sums: they are added up anew once the standing of items is settled.
ALTER TABLE touched ADD COLUMN sum boolean NOT NULL DEFAULT false;
CREATE FUNCTION touch_items_and_sums() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	INSERT INTO touched (workspace_id, item_id) SELECT DISTINCT workspace_id, item_id FROM inserted;
	IF EXISTS (SELECT FROM item WHERE sum_of IS NOT NULL) THEN
		INSERT INTO touched (workspace_id, item_id, sum)
			SELECT DISTINCT part.workspace_id, part.sum_id, true
			FROM part JOIN (SELECT DISTINCT workspace_id, item_id FROM inserted) changed USING (workspace_id, item_id);
	END IF;
	RETURN NULL;
END $$;
DROP TRIGGER actual_touches ON actual;
CREATE TRIGGER actual_touches AFTER INSERT ON actual
	REFERENCING NEW TABLE AS inserted FOR EACH STATEMENT EXECUTE FUNCTION touch_items_and_sums();
DROP TRIGGER mend_touches ON mend;
CREATE TRIGGER mend_touches AFTER INSERT ON mend
	REFERENCING NEW TABLE AS inserted FOR EACH STATEMENT EXECUTE FUNCTION touch_items_and_sums();

-- One that comes to be a part, or is none any more, changes them as well.
CREATE OR REPLACE FUNCTION touch_changed_items() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	INSERT INTO touched (workspace_id, item_id)
		SELECT now.workspace_id, now.id FROM now JOIN before USING (id)
		WHERE (now.code, now.sought, now.labels, now.price, now.lead_time, now.retired_at)
			IS DISTINCT FROM (before.code, before.sought, before.labels, before.price, before.lead_time, before.retired_at);
	IF EXISTS (SELECT FROM item WHERE sum_of IS NOT NULL) THEN
		INSERT INTO touched (workspace_id, item_id, sum)
			SELECT DISTINCT total.workspace_id, total.id, true
			FROM now JOIN before USING (id)
			JOIN item total ON total.workspace_id = now.workspace_id AND total.frequency = now.frequency AND total.sum_of IS NOT NULL
			WHERE now.sum_of IS NULL
				AND (now.labels, now.unit, now.retired_at) IS DISTINCT FROM (before.labels, before.unit, before.retired_at)
				AND (is_part(now.labels, now.unit, total.sum_of) OR is_part(before.labels, before.unit, total.sum_of));
		-- A retired one is left alone until it is brought back.
		INSERT INTO touched (workspace_id, item_id, sum)
			SELECT now.workspace_id, now.id, true FROM now JOIN before USING (id)
			WHERE now.sum_of IS NOT NULL AND now.retired_at IS NULL AND before.retired_at IS NOT NULL;
	END IF;
	RETURN NULL;
END $$;

-- The list tells them from items of their own.
ALTER TABLE standing ADD COLUMN sum boolean NOT NULL DEFAULT false;
CREATE OR REPLACE FUNCTION touch_new_items() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	INSERT INTO touched (workspace_id, item_id) SELECT workspace_id, id FROM inserted;
	INSERT INTO standing (workspace_id, item_id, code, sought, labels, frequency, retired, sum)
		SELECT workspace_id, id, code, sought, labels, frequency, retired_at IS NOT NULL, sum_of IS NOT NULL FROM inserted
		ON CONFLICT DO NOTHING;
	RETURN NULL;
END $$;

-- Sharing a sum's forecast among its parts.
ALTER TABLE sweep DROP CONSTRAINT sweep_kind_check;
ALTER TABLE sweep ADD CONSTRAINT sweep_kind_check CHECK (kind IN ('propose', 'carry-on', 'try', 'share', 'adopt'));

UPDATE sweep SET settings = settings || '{"share": null}';

-- Of the closest one of a line-up that was tried: what rows are sorted by.
ALTER TABLE sweep_row ADD COLUMN mad double precision, ADD COLUMN mape double precision;
UPDATE sweep_row SET mad = (closest ->> 'mad')::double precision, mape = (closest ->> 'mape')::double precision
	FROM (
		SELECT workspace_id, sweep_id, item_id, closest FROM sweep_row CROSS JOIN LATERAL json_array_elements(measures) closest
		WHERE (closest ->> 'best')::boolean
	) tried
	WHERE tried.workspace_id = sweep_row.workspace_id AND tried.sweep_id = sweep_row.sweep_id AND tried.item_id = sweep_row.item_id;

-- Down Migration

ALTER TABLE sweep_row DROP COLUMN mad, DROP COLUMN mape;

DROP TRIGGER actual_touches ON actual;
CREATE TRIGGER actual_touches AFTER INSERT ON actual
	REFERENCING NEW TABLE AS inserted FOR EACH STATEMENT EXECUTE FUNCTION touch_items();
DROP TRIGGER mend_touches ON mend;
CREATE TRIGGER mend_touches AFTER INSERT ON mend
	REFERENCING NEW TABLE AS inserted FOR EACH STATEMENT EXECUTE FUNCTION touch_items();
DROP FUNCTION touch_items_and_sums;
CREATE OR REPLACE FUNCTION touch_changed_items() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	INSERT INTO touched (workspace_id, item_id)
		SELECT now.workspace_id, now.id FROM now JOIN before USING (id)
		WHERE (now.code, now.sought, now.labels, now.price, now.lead_time, now.retired_at)
			IS DISTINCT FROM (before.code, before.sought, before.labels, before.price, before.lead_time, before.retired_at);
	RETURN NULL;
END $$;
CREATE OR REPLACE FUNCTION keep_item_identity() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	IF NEW.id <> OLD.id OR NEW.workspace_id <> OLD.workspace_id OR NEW.frequency <> OLD.frequency THEN
		RAISE EXCEPTION 'UPDATE of item refused: its actuals are counted at frequency %', OLD.frequency
			USING ERRCODE = 'integrity_constraint_violation';
	END IF;
	RETURN NEW;
END $$;
CREATE OR REPLACE FUNCTION touch_new_items() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	INSERT INTO touched (workspace_id, item_id) SELECT workspace_id, id FROM inserted;
	INSERT INTO standing (workspace_id, item_id, code, sought, labels, frequency, retired)
		SELECT workspace_id, id, code, sought, labels, frequency, retired_at IS NOT NULL FROM inserted
		ON CONFLICT DO NOTHING;
	RETURN NULL;
END $$;
ALTER TABLE standing DROP COLUMN sum;
ALTER TABLE touched DROP COLUMN sum;
DROP VIEW part;
DROP FUNCTION is_part;
ALTER TABLE item DROP COLUMN sum_of;
ALTER TABLE sweep DROP CONSTRAINT sweep_kind_check;
ALTER TABLE sweep ADD CONSTRAINT sweep_kind_check CHECK (kind IN ('propose', 'carry-on', 'try', 'adopt')) NOT VALID;
