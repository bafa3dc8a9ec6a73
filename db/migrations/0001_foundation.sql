-- Up Migration

-- Everything belongs to a workspace. Foreign keys carry the workspace along, so that a row can never point
-- into another one.
CREATE TABLE workspace (
	id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
	name text NOT NULL CHECK (name <> ''),
	created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE item (
	id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
	workspace_id bigint NOT NULL REFERENCES workspace,
	code text NOT NULL CHECK (length(code) BETWEEN 1 AND 80),
	name text NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
	unit text NOT NULL DEFAULT '' CHECK (length(unit) <= 40),
	frequency text NOT NULL CHECK (
		frequency IN ('hour', 'day', 'weekday', 'week', 'month', 'quarter', 'year', 'step')
	),
	season_length integer NOT NULL CHECK (season_length >= 1),
	-- Grows with every change of the line-up; a save that names an older one is refused.
	line_up_version integer NOT NULL DEFAULT 0,
	created_at timestamptz NOT NULL DEFAULT now(),
	created_by text NOT NULL,
	UNIQUE (workspace_id, id),
	UNIQUE (workspace_id, code)
);

-- What was pasted or dropped, byte for byte.
CREATE TABLE raw_text (
	id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
	workspace_id bigint NOT NULL REFERENCES workspace,
	file_name text,
	content bytea NOT NULL,
	sha256 bytea NOT NULL GENERATED ALWAYS AS (sha256(content)) STORED,
	created_at timestamptz NOT NULL DEFAULT now(),
	created_by text NOT NULL,
	UNIQUE (workspace_id, id)
);

-- One change of actuals: what came in together, when, by whom, from which text, and how it was read.
CREATE TABLE data_change (
	id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
	workspace_id bigint NOT NULL REFERENCES workspace,
	raw_text_id bigint,
	reading jsonb NOT NULL DEFAULT '{}',
	created_at timestamptz NOT NULL DEFAULT now(),
	created_by text NOT NULL,
	UNIQUE (workspace_id, id),
	FOREIGN KEY (workspace_id, raw_text_id) REFERENCES raw_text (workspace_id, id)
);

-- Actuals. A correction is a new revision of its period; the old one stays.
CREATE TABLE actual (
	workspace_id bigint NOT NULL,
	item_id bigint NOT NULL,
	-- Ordinal of the period at the item's frequency.
	period integer NOT NULL,
	revision integer NOT NULL CHECK (revision >= 1),
	-- Null: known to be missing. NaN sorts above Infinity, so that this keeps out all three.
	value double precision CHECK (value > '-Infinity' AND value < 'Infinity'),
	data_change_id bigint NOT NULL,
	PRIMARY KEY (workspace_id, item_id, period, revision),
	FOREIGN KEY (workspace_id, item_id) REFERENCES item (workspace_id, id),
	FOREIGN KEY (workspace_id, data_change_id) REFERENCES data_change (workspace_id, id)
);

-- The line-up of an item: working state, changed as the analyst works.
CREATE TABLE candidate (
	workspace_id bigint NOT NULL,
	item_id bigint NOT NULL,
	id text NOT NULL CHECK (length(id) BETWEEN 1 AND 40),
	position integer NOT NULL CHECK (position >= 0),
	-- The candidate as in a request to evaluate, without its id.
	settings jsonb NOT NULL,
	shown boolean NOT NULL DEFAULT true,
	PRIMARY KEY (workspace_id, item_id, id),
	UNIQUE (workspace_id, item_id, position) DEFERRABLE INITIALLY DEFERRED,
	FOREIGN KEY (workspace_id, item_id) REFERENCES item (workspace_id, id)
);

-- What was said, for good.
CREATE TABLE adopted_forecast (
	id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
	workspace_id bigint NOT NULL,
	item_id bigint NOT NULL,
	-- The data it saw: the newest change of the item's actuals then, and the content hash of the series.
	data_change_id bigint NOT NULL,
	series_sha256 bytea NOT NULL CHECK (length(series_sha256) = 32),
	-- The whole request: series, candidate, horizon and levels. Evaluating it anew gives the same figures.
	request jsonb NOT NULL,
	method text NOT NULL,
	label text NOT NULL,
	constants jsonb NOT NULL,
	start jsonb,
	measures jsonb NOT NULL,
	-- Ordinal of the last period known.
	origin integer NOT NULL,
	reason text NOT NULL DEFAULT '' CHECK (length(reason) <= 2000),
	program_version text NOT NULL,
	adopted_at timestamptz NOT NULL DEFAULT now(),
	adopted_by text NOT NULL,
	UNIQUE (workspace_id, id),
	FOREIGN KEY (workspace_id, item_id) REFERENCES item (workspace_id, id),
	FOREIGN KEY (workspace_id, data_change_id) REFERENCES data_change (workspace_id, id)
);
CREATE INDEX adopted_forecast_latest ON adopted_forecast (workspace_id, item_id, id DESC);

CREATE TABLE adopted_step (
	workspace_id bigint NOT NULL,
	adopted_forecast_id bigint NOT NULL,
	step integer NOT NULL CHECK (step >= 1),
	period integer NOT NULL,
	mean double precision NOT NULL CHECK (mean > '-Infinity' AND mean < 'Infinity'),
	ranges jsonb NOT NULL,
	-- A figure put in place of the computed one, which stays beside it, with the reason.
	changed_to double precision CHECK (changed_to > '-Infinity' AND changed_to < 'Infinity'),
	change_reason text,
	PRIMARY KEY (workspace_id, adopted_forecast_id, step),
	-- Spelled so that a missing reason, too, is refused: NULL <> '' is not false.
	CHECK (changed_to IS NULL OR coalesce(change_reason, '') <> ''),
	FOREIGN KEY (workspace_id, adopted_forecast_id) REFERENCES adopted_forecast (workspace_id, id)
);

-- Rules the database keeps by itself, whoever connects.

CREATE FUNCTION refuse_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	RAISE EXCEPTION '% of % refused: %', TG_OP, TG_TABLE_NAME, TG_ARGV[0]
		USING ERRCODE = 'integrity_constraint_violation';
END $$;

CREATE TRIGGER actual_is_append_only BEFORE UPDATE OR DELETE OR TRUNCATE ON actual
	EXECUTE FUNCTION refuse_change('an actual is never overwritten; a correction is a new revision');
CREATE TRIGGER data_change_is_append_only BEFORE UPDATE OR DELETE OR TRUNCATE ON data_change
	EXECUTE FUNCTION refuse_change('what came in, when and by whom stays on record');
CREATE TRIGGER raw_text_is_append_only BEFORE UPDATE OR DELETE OR TRUNCATE ON raw_text
	EXECUTE FUNCTION refuse_change('raw texts are kept as they came');
CREATE TRIGGER adopted_forecast_is_immutable BEFORE UPDATE OR DELETE OR TRUNCATE ON adopted_forecast
	EXECUTE FUNCTION refuse_change('an adopted forecast is a record; adopt another one instead');
CREATE TRIGGER adopted_step_is_immutable BEFORE UPDATE OR DELETE OR TRUNCATE ON adopted_step
	EXECUTE FUNCTION refuse_change('an adopted forecast is a record; adopt another one instead');

-- An item keeps its identity: periods are counted at its frequency, and records point at it.
CREATE FUNCTION keep_item_identity() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	IF NEW.id <> OLD.id OR NEW.workspace_id <> OLD.workspace_id OR NEW.frequency <> OLD.frequency THEN
		RAISE EXCEPTION 'UPDATE of item refused: its actuals are counted at frequency %', OLD.frequency
			USING ERRCODE = 'integrity_constraint_violation';
	END IF;
	RETURN NEW;
END $$;
CREATE TRIGGER item_keeps_identity BEFORE UPDATE ON item
	FOR EACH ROW EXECUTE FUNCTION keep_item_identity();

-- Revisions count up without a hole. Checked once a statement, so that it costs a bulk load one look.
CREATE FUNCTION check_revisions() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
	hole record;
BEGIN
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
CREATE TRIGGER actual_revisions_count_up AFTER INSERT ON actual
	REFERENCING NEW TABLE AS inserted
	FOR EACH STATEMENT EXECUTE FUNCTION check_revisions();

-- An adopted forecast is complete when its transaction ends, and no step joins it later.
CREATE FUNCTION check_adopted_steps() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	IF EXISTS (
		SELECT 1 FROM inserted n
		JOIN adopted_forecast f ON f.workspace_id = n.workspace_id AND f.id = n.adopted_forecast_id
		WHERE f.adopted_at <> now()
	) THEN
		RAISE EXCEPTION 'INSERT of adopted_step refused: the forecast was adopted in an earlier transaction'
			USING ERRCODE = 'integrity_constraint_violation';
	END IF;
	RETURN NULL;
END $$;
CREATE TRIGGER adopted_steps_come_with_their_forecast AFTER INSERT ON adopted_step
	REFERENCING NEW TABLE AS inserted
	FOR EACH STATEMENT EXECUTE FUNCTION check_adopted_steps();

-- Down Migration

DROP TABLE adopted_step, adopted_forecast, candidate, actual, data_change, raw_text, item, workspace;
DROP FUNCTION refuse_change, keep_item_identity, check_revisions, check_adopted_steps;
