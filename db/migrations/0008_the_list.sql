-- Up Migration

-- The list of items is sorted, filtered and cut here: `standing` has what that goes by beside how an item stands, so that a
-- window of the list is one walk along an index. All of it is derived; what is there is made anew.
DELETE FROM standing;
ALTER TABLE standing
	-- Null while it is being worked out.
	ALTER COLUMN reasons DROP NOT NULL,
	-- What it is called, found by and labelled with, as the item has it: without a join however many items there are.
	ADD COLUMN code text COLLATE "C" NOT NULL,
	ADD COLUMN sought text NOT NULL,
	ADD COLUMN labels jsonb NOT NULL,
	ADD COLUMN frequency text NOT NULL,
	ADD COLUMN retired boolean NOT NULL,
	-- Of the adopted forecast.
	ADD COLUMN method text,
	-- Codes of the reasons, the place of the first among all reasons there are, and what is at stake by it, in money where a price is known.
	ADD COLUMN why text[] NOT NULL DEFAULT '{}',
	ADD COLUMN first smallint,
	ADD COLUMN stake double precision NOT NULL DEFAULT 0,
	-- Whether it waits for a figure that most items of its frequency have.
	ADD COLUMN waits boolean NOT NULL DEFAULT false,
	-- The newest period with a grade, and whether its widest range held it; null where there was no range, or it was left out.
	ADD COLUMN newest_period integer,
	ADD COLUMN newest_inside boolean,
	-- What it is sorted and filtered by: the next figure to hand over, by how much the newest was missed, what the run comes to, and
	-- the mean size of the last cycle's demand.
	ADD COLUMN next double precision,
	ADD COLUMN miss double precision,
	ADD COLUMN mad double precision,
	ADD COLUMN mape double precision,
	ADD COLUMN bias double precision,
	ADD COLUMN signal double precision,
	ADD COLUMN size double precision,
	-- Sums of the sizes of errors of what was handed over, and of what came, since the run was adopted: what groups of items come to.
	ADD COLUMN missed double precision,
	ADD COLUMN came double precision,
	-- What its row shows beside that: its latest figures as a small line, their scale, what is adopted.
	ADD COLUMN shown jsonb;
-- Those to look at come first, by the weight of their first reason and then by what is at stake; after them those that are put aside.
-- Waiting is the third of the reasons (`REASONS` in core/grading/standing.ts).
ALTER TABLE standing
	ADD COLUMN place smallint NOT NULL GENERATED ALWAYS AS (CASE
		WHEN first IS NULL AND NOT waits THEN 8
		WHEN put_aside_id IS NOT NULL THEN 7
		WHEN waits THEN least(coalesce(first, 2), 2)
		ELSE first
	END) STORED,
	ADD COLUMN less double precision NOT NULL GENERATED ALWAYS AS (CASE WHEN first IS NULL AND NOT waits THEN 0 ELSE -stake END) STORED;

CREATE INDEX standing_by_place ON standing (workspace_id, place, less, code);
CREATE INDEX standing_by_code ON standing (workspace_id, code);
CREATE INDEX standing_by_next ON standing (workspace_id, next, code) WHERE next IS NOT NULL;
CREATE INDEX standing_by_miss ON standing (workspace_id, miss, code) WHERE miss IS NOT NULL;
CREATE INDEX standing_by_mad ON standing (workspace_id, mad, code) WHERE mad IS NOT NULL;
CREATE INDEX standing_by_mape ON standing (workspace_id, mape, code) WHERE mape IS NOT NULL;
CREATE INDEX standing_by_bias ON standing (workspace_id, bias, code) WHERE bias IS NOT NULL;
CREATE INDEX standing_by_signal ON standing (workspace_id, signal, code) WHERE signal IS NOT NULL;

-- The period that half or more of the items of a frequency have: derived from `standing`, and what `waits` goes by.
CREATE TABLE newest_period (
	workspace_id bigint NOT NULL REFERENCES workspace,
	frequency text NOT NULL,
	period integer NOT NULL,
	have integer NOT NULL,
	items integer NOT NULL,
	PRIMARY KEY (workspace_id, frequency)
);
GRANT SELECT, INSERT, UPDATE, DELETE ON newest_period TO ventrel_application;

-- An item is on the list from the moment it is there; how it stands follows.
CREATE OR REPLACE FUNCTION touch_new_items() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	INSERT INTO touched (workspace_id, item_id) SELECT workspace_id, id FROM inserted;
	INSERT INTO standing (workspace_id, item_id, code, sought, labels, frequency, retired)
		SELECT workspace_id, id, code, sought, labels, frequency, retired_at IS NOT NULL FROM inserted
		ON CONFLICT DO NOTHING;
	RETURN NULL;
END $$;
INSERT INTO standing (workspace_id, item_id, code, sought, labels, frequency, retired)
	SELECT workspace_id, id, code, sought, labels, frequency, retired_at IS NOT NULL FROM item;
DROP TRIGGER item_touches ON item;
DROP FUNCTION touch_item;
CREATE FUNCTION touch_changed_items() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	INSERT INTO touched (workspace_id, item_id)
		SELECT now.workspace_id, now.id FROM now JOIN before USING (id)
		WHERE (now.code, now.sought, now.labels, now.price, now.lead_time, now.retired_at)
			IS DISTINCT FROM (before.code, before.sought, before.labels, before.price, before.lead_time, before.retired_at);
	RETURN NULL;
END $$;
CREATE TRIGGER item_touches AFTER UPDATE ON item
	REFERENCING OLD TABLE AS before NEW TABLE AS now FOR EACH STATEMENT EXECUTE FUNCTION touch_changed_items();
INSERT INTO touched (workspace_id, item_id) SELECT workspace_id, id FROM item;

-- Ways to look at the list, kept by name.
CREATE TABLE kept_view (
	workspace_id bigint NOT NULL REFERENCES workspace,
	name text NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
	asked jsonb NOT NULL,
	created_at timestamptz NOT NULL DEFAULT now(),
	created_by text NOT NULL,
	PRIMARY KEY (workspace_id, name)
);
GRANT SELECT, INSERT, UPDATE, DELETE ON kept_view TO ventrel_application;

-- Down Migration

DROP TABLE kept_view;
DROP TRIGGER item_touches ON item;
DROP FUNCTION touch_changed_items;
CREATE FUNCTION touch_item() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	INSERT INTO touched (workspace_id, item_id) VALUES (NEW.workspace_id, NEW.id);
	RETURN NULL;
END $$;
CREATE TRIGGER item_touches AFTER UPDATE OF lead_time ON item FOR EACH ROW EXECUTE FUNCTION touch_item();
CREATE OR REPLACE FUNCTION touch_new_items() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	INSERT INTO touched (workspace_id, item_id) SELECT workspace_id, id FROM inserted;
	RETURN NULL;
END $$;
DROP TABLE newest_period;
DELETE FROM standing;
ALTER TABLE standing
	DROP COLUMN place, DROP COLUMN less, DROP COLUMN shown, DROP COLUMN came, DROP COLUMN missed, DROP COLUMN size, DROP COLUMN signal, DROP COLUMN bias, DROP COLUMN mape,
	DROP COLUMN mad, DROP COLUMN miss, DROP COLUMN next, DROP COLUMN newest_inside, DROP COLUMN newest_period, DROP COLUMN waits,
	DROP COLUMN stake, DROP COLUMN first, DROP COLUMN why, DROP COLUMN method, DROP COLUMN retired, DROP COLUMN frequency, DROP COLUMN labels,
	DROP COLUMN sought, DROP COLUMN code,
	ALTER COLUMN reasons SET NOT NULL;
INSERT INTO touched (workspace_id, item_id) SELECT workspace_id, id FROM item;
