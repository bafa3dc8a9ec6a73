-- Up Migration

-- What was pasted or dropped, byte for byte, in pieces: a file of any size goes in and out without standing whole
-- in anybody's memory. The pieces come first and their text last, when its digest is known.
CREATE TABLE raw_piece (
	workspace_id bigint NOT NULL,
	raw_text_id bigint NOT NULL,
	position integer NOT NULL CHECK (position >= 0),
	content bytea NOT NULL,
	PRIMARY KEY (workspace_id, raw_text_id, position),
	FOREIGN KEY (workspace_id, raw_text_id) REFERENCES raw_text (workspace_id, id) DEFERRABLE INITIALLY DEFERRED
);
-- Compressing costs more than it saves: a text is written once and seldom read.
ALTER TABLE raw_piece ALTER COLUMN content SET STORAGE EXTERNAL;
INSERT INTO raw_piece (workspace_id, raw_text_id, position, content)
	SELECT workspace_id, id, 0, content FROM raw_text;
ALTER TABLE raw_text ALTER COLUMN sha256 DROP EXPRESSION;
ALTER TABLE raw_text ADD CHECK (length(sha256) = 32);
ALTER TABLE raw_text DROP COLUMN content;
CREATE TRIGGER raw_piece_is_append_only BEFORE UPDATE OR DELETE OR TRUNCATE ON raw_piece
	EXECUTE FUNCTION refuse_change('raw texts are kept as they came');

-- A million actuals come in at once. That each belongs to an item and a change is checked once a statement instead
-- of once a row; so that it stays true, items stay too.
ALTER TABLE actual DROP CONSTRAINT actual_workspace_id_item_id_fkey;
ALTER TABLE actual DROP CONSTRAINT actual_workspace_id_data_change_id_fkey;
CREATE TRIGGER item_stays BEFORE DELETE OR TRUNCATE ON item
	EXECUTE FUNCTION refuse_change('its actuals and forecasts are on record');

CREATE OR REPLACE FUNCTION check_revisions() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
	hole record;
BEGIN
	SELECT n.item_id, n.data_change_id, item.id AS item, data_change.id AS change INTO hole
	FROM (SELECT DISTINCT workspace_id, item_id, data_change_id FROM inserted) n
	LEFT JOIN item ON item.workspace_id = n.workspace_id AND item.id = n.item_id
	LEFT JOIN data_change ON data_change.workspace_id = n.workspace_id AND data_change.id = n.data_change_id
	WHERE item.id IS NULL OR data_change.id IS NULL
	LIMIT 1;
	IF FOUND THEN
		RAISE EXCEPTION 'INSERT of actual refused: there is no % in its workspace',
			CASE WHEN hole.item IS NULL THEN 'item ' || hole.item_id ELSE 'data change ' || hole.data_change_id END
			USING ERRCODE = 'foreign_key_violation';
	END IF;
	SELECT n.item_id, n.period, n.revision INTO hole
	FROM inserted n
	WHERE n.revision > 1 AND NOT EXISTS (
		SELECT 1 FROM actual a
		WHERE a.workspace_id = n.workspace_id AND a.item_id = n.item_id
			AND a.period = n.period AND a.revision = n.revision - 1
	)
	LIMIT 1;
	IF FOUND THEN
		RAISE EXCEPTION 'INSERT of actual refused: item % period % has no revision % to follow',
			hole.item_id, hole.period, hole.revision - 1
			USING ERRCODE = 'integrity_constraint_violation';
	END IF;
	RETURN NULL;
END $$;

-- The layers over an item's actuals, as a log: the newest entry of a kind and a period holds, an entry without a
-- setting takes the one before away. Nothing is changed in place, so that who did what and when can be seen, and
-- an adopted forecast can be computed again with the layers that it saw.
CREATE TABLE mend (
	id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
	workspace_id bigint NOT NULL,
	item_id bigint NOT NULL,
	kind text NOT NULL CHECK (kind IN ('correction', 'gap', 'left-out', 'event', 'gap-rule', 'per-day', 'season-length', 'off')),
	-- Ordinal of the period; null for what concerns the whole series.
	period integer,
	-- For `off`: the layer that it switches.
	layer text CHECK (layer IN ('correction', 'gap', 'left-out', 'event', 'gap-rule', 'per-day')),
	setting jsonb CHECK (setting IS NULL OR jsonb_typeof(setting) <> 'null'),
	created_at timestamptz NOT NULL DEFAULT now(),
	created_by text NOT NULL,
	FOREIGN KEY (workspace_id, item_id) REFERENCES item (workspace_id, id),
	CHECK ((period IS NOT NULL) = (kind IN ('correction', 'gap', 'left-out', 'event'))),
	CHECK ((layer IS NOT NULL) = (kind = 'off')),
	CHECK (setting IS NULL OR coalesce(CASE kind
		WHEN 'correction' THEN jsonb_typeof(setting -> 'to') = 'number' AND jsonb_typeof(setting -> 'over') IN ('number', 'null')
		WHEN 'season-length' THEN jsonb_typeof(setting) = 'number'
		WHEN 'event' THEN jsonb_typeof(setting) = 'string' AND length(setting #>> '{}') BETWEEN 1 AND 200
		WHEN 'gap' THEN setting #>> '{}' IN ('skip', 'carry-forward', 'interpolate', 'seasonal', 'zero')
		WHEN 'gap-rule' THEN setting #>> '{}' IN ('skip', 'carry-forward', 'interpolate', 'seasonal', 'zero')
		ELSE setting = 'true'
	END, false))
);
CREATE INDEX mend_latest ON mend (workspace_id, item_id, kind, layer, period, id DESC);
CREATE TRIGGER mend_is_append_only BEFORE UPDATE OR DELETE OR TRUNCATE ON mend
	EXECUTE FUNCTION refuse_change('layers are taken away by a further entry, so that each stays on record');

-- The newest layer entry that an adopted forecast saw; 0 where there was none.
ALTER TABLE adopted_forecast ADD COLUMN mend_id bigint NOT NULL DEFAULT 0;

-- Down Migration

ALTER TABLE adopted_forecast DROP COLUMN mend_id;
DROP TABLE mend;
DROP TRIGGER item_stays ON item;
ALTER TABLE actual ADD FOREIGN KEY (workspace_id, item_id) REFERENCES item (workspace_id, id);
ALTER TABLE actual ADD FOREIGN KEY (workspace_id, data_change_id) REFERENCES data_change (workspace_id, id);
ALTER TABLE raw_text ADD COLUMN content bytea;
DROP TABLE raw_piece;
