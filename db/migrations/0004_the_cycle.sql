-- Up Migration

-- What is handed over beside what was computed, what the forecast is held against later, and where it was carried on from.
ALTER TABLE adopted_forecast DISABLE TRIGGER adopted_forecast_is_immutable;
ALTER TABLE adopted_step DISABLE TRIGGER adopted_step_is_immutable;

ALTER TABLE adopted_forecast ADD CONSTRAINT adopted_forecast_of_item UNIQUE (workspace_id, item_id, id);
DROP INDEX adopted_forecast_latest;
ALTER TABLE adopted_forecast
	-- The record before, adopted again on newer actuals with the same settings.
	ADD COLUMN carried_from bigint CHECK (carried_from < id),
	ADD FOREIGN KEY (workspace_id, item_id, carried_from) REFERENCES adopted_forecast (workspace_id, item_id, id),
	-- To whole packs, and never below a figure; null where final figures are as computed or changed by hand.
	ADD COLUMN rounding jsonb CHECK (rounding IS NULL OR coalesce(
		jsonb_typeof(rounding -> 'pack') IN ('number', 'null') AND jsonb_typeof(rounding -> 'floor') IN ('number', 'null')
			AND rounding ->> 'way' IN ('nearest', 'up'), false)),
	-- Sums over the next 1, 2, … periods with their ranges and what to stock; null in records from before.
	ADD COLUMN together jsonb CHECK (together IS NULL OR jsonb_typeof(together) = 'array'),
	-- Its candidates as they were asked for, and with constants as they were found: what is carried on with, whichever way;
	-- null in records from before.
	ADD COLUMN asked jsonb CHECK (asked IS NULL OR jsonb_typeof(asked) = 'array'),
	ADD COLUMN held jsonb CHECK (held IS NULL OR jsonb_typeof(held) = 'array');

ALTER TABLE adopted_step
	ADD COLUMN final double precision CHECK (final > '-Infinity' AND final < 'Infinity'),
	ADD COLUMN change_rate double precision CHECK (change_rate >= 0 AND change_rate < 'Infinity'),
	-- Root mean square error that was expected.
	ADD COLUMN spread double precision CHECK (spread >= 0 AND spread < 'Infinity'),
	-- What repeating the last actual, and the last cycle, said from the same origin.
	ADD COLUMN naive double precision CHECK (naive > '-Infinity' AND naive < 'Infinity'),
	ADD COLUMN seasonal_naive double precision CHECK (seasonal_naive > '-Infinity' AND seasonal_naive < 'Infinity'),
	ADD CHECK (change_rate IS NULL OR changed_to IS NOT NULL);
UPDATE adopted_step SET final = coalesce(changed_to, mean);
ALTER TABLE adopted_step ALTER COLUMN final SET NOT NULL;

-- Records from before say from which figures they were made: the last of them, and the last cycle.
WITH seen AS (
	SELECT f.workspace_id, f.id, (value #>> '{}')::double precision AS value, place::integer AS place,
		jsonb_array_length(f.request #> '{series,values}') AS periods,
		coalesce((f.request #>> '{series,seasonLength}')::integer, item.season_length) AS season
	FROM adopted_forecast f
	JOIN item ON item.workspace_id = f.workspace_id AND item.id = f.item_id
	CROSS JOIN LATERAL jsonb_array_elements(f.request #> '{series,values}') WITH ORDINALITY AS figure (value, place)
	WHERE jsonb_typeof(value) = 'number'
		AND NOT coalesce(f.request #> '{series,excluded}', '[]') @> to_jsonb(place)
), newest AS (
	SELECT DISTINCT ON (workspace_id, id) workspace_id, id, value FROM seen ORDER BY workspace_id, id, place DESC
)
UPDATE adopted_step s SET naive = newest.value, seasonal_naive = (
	SELECT seen.value FROM seen
	WHERE seen.workspace_id = s.workspace_id AND seen.id = s.adopted_forecast_id AND seen.season > 1
		AND seen.place = seen.periods - seen.season + 1 + (s.step - 1) % seen.season
)
FROM newest
WHERE newest.workspace_id = s.workspace_id AND newest.id = s.adopted_forecast_id;

ALTER TABLE adopted_forecast ENABLE TRIGGER adopted_forecast_is_immutable;
ALTER TABLE adopted_step ENABLE TRIGGER adopted_step_is_immutable;

-- A record may say when it was adopted; its steps come in the same transaction all the same.
CREATE OR REPLACE FUNCTION check_adopted_steps() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	IF EXISTS (
		SELECT 1 FROM inserted n
		JOIN adopted_forecast f ON f.workspace_id = n.workspace_id AND f.id = n.adopted_forecast_id
		WHERE f.xmin <> pg_current_xact_id()::xid
	) THEN
		RAISE EXCEPTION 'INSERT of adopted_step refused: the forecast was adopted in an earlier transaction'
			USING ERRCODE = 'integrity_constraint_violation';
	END IF;
	RETURN NULL;
END $$;

-- Steps are as many as the record says, one a period from its origin on; a final figure that differs from the computed one is
-- explained by a change or by rounding.
CREATE OR REPLACE FUNCTION check_step_count() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
	there integer;
	last integer;
	astray integer;
	unexplained integer;
BEGIN
	SELECT count(*), max(step), min(step) FILTER (WHERE period <> NEW.origin + step),
		min(step) FILTER (WHERE final <> coalesce(changed_to, mean))
	INTO there, last, astray, unexplained
	FROM adopted_step
	WHERE workspace_id = NEW.workspace_id AND adopted_forecast_id = NEW.id;
	IF there <> NEW.step_count OR last <> NEW.step_count THEN
		RAISE EXCEPTION 'INSERT of adopted_forecast refused: it says % steps and has %', NEW.step_count, there
			USING ERRCODE = 'integrity_constraint_violation';
	END IF;
	IF astray IS NOT NULL THEN
		RAISE EXCEPTION 'INSERT of adopted_forecast refused: step % is not so many periods after its origin', astray
			USING ERRCODE = 'integrity_constraint_violation';
	END IF;
	IF unexplained IS NOT NULL AND NEW.rounding IS NULL THEN
		RAISE EXCEPTION 'INSERT of adopted_forecast refused: nothing says why the final figure of step % is another one', unexplained
			USING ERRCODE = 'integrity_constraint_violation';
	END IF;
	RETURN NULL;
END $$;

-- Nobody adopts in the future, nor before what came before; what is said is the moment, not when its transaction began.
ALTER TABLE adopted_forecast ALTER COLUMN adopted_at SET DEFAULT clock_timestamp();
CREATE FUNCTION check_adopted_at() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	IF NEW.adopted_at > clock_timestamp() OR EXISTS (
		SELECT 1 FROM adopted_forecast f
		WHERE f.workspace_id = NEW.workspace_id AND f.item_id = NEW.item_id AND f.id < NEW.id AND f.adopted_at > NEW.adopted_at
	) THEN
		RAISE EXCEPTION 'INSERT of adopted_forecast refused: % is in the future, or before the forecast before it', NEW.adopted_at
			USING ERRCODE = 'integrity_constraint_violation';
	END IF;
	RETURN NULL;
END $$;
CREATE TRIGGER adopted_forecast_has_its_time AFTER INSERT ON adopted_forecast
	FOR EACH ROW EXECUTE FUNCTION check_adopted_at();

-- How an item is planned with: whether constants are searched anew when its forecast is carried on, how many periods ahead
-- must be foretold at any time, and what a unit is worth.
ALTER TABLE item
	ADD COLUMN carry text NOT NULL DEFAULT 'search' CHECK (carry IN ('search', 'keep')),
	ADD COLUMN lead_time integer CHECK (lead_time BETWEEN 1 AND 1000),
	ADD COLUMN price double precision CHECK (price > 0 AND price < 'Infinity');
ALTER TABLE item_change DROP CONSTRAINT item_change_kind_check;
ALTER TABLE item_change
	ADD CHECK (kind IN ('renamed', 'retired', 'returned', 'planned')),
	-- How it was planned with before.
	ADD COLUMN plan jsonb,
	ADD CHECK ((plan IS NOT NULL) = (kind = 'planned'));
CREATE OR REPLACE FUNCTION record_item_change() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
	made_by text := coalesce(nullif(current_setting('ventrel.by', true), ''), current_user);
	given text := coalesce(current_setting('ventrel.reason', true), '');
BEGIN
	IF (NEW.code, NEW.name, NEW.unit) IS DISTINCT FROM (OLD.code, OLD.name, OLD.unit) THEN
		INSERT INTO item_change (workspace_id, item_id, kind, code, name, unit, reason, created_by)
		VALUES (OLD.workspace_id, OLD.id, 'renamed', OLD.code, OLD.name, OLD.unit, given, made_by);
	END IF;
	IF (NEW.retired_at IS NULL) <> (OLD.retired_at IS NULL) THEN
		INSERT INTO item_change (workspace_id, item_id, kind, code, name, unit, reason, created_by)
		VALUES (OLD.workspace_id, OLD.id, CASE WHEN NEW.retired_at IS NULL THEN 'returned' ELSE 'retired' END,
			NEW.code, NEW.name, NEW.unit, given, made_by);
	END IF;
	IF (NEW.carry, NEW.lead_time, NEW.price) IS DISTINCT FROM (OLD.carry, OLD.lead_time, OLD.price) THEN
		INSERT INTO item_change (workspace_id, item_id, kind, code, name, unit, reason, created_by, plan)
		VALUES (OLD.workspace_id, OLD.id, 'planned', NEW.code, NEW.name, NEW.unit, given, made_by,
			jsonb_build_object('carry', OLD.carry, 'leadTime', OLD.lead_time, 'price', OLD.price));
	END IF;
	RETURN NULL;
END $$;
-- Replaced, a function loses what it ran as.
ALTER FUNCTION record_item_change() SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp;
DROP TRIGGER item_changes_are_recorded ON item;
CREATE TRIGGER item_changes_are_recorded AFTER UPDATE OF code, name, unit, retired_at, carry, lead_time, price ON item
	FOR EACH ROW EXECUTE FUNCTION record_item_change();

-- Seen, until the next figure: an item is put aside up to its newest period, or taken up again.
CREATE TABLE put_aside (
	id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
	workspace_id bigint NOT NULL,
	item_id bigint NOT NULL,
	-- Ordinal of the newest period that was in; null where it was taken up again.
	period integer,
	words text NOT NULL DEFAULT '' CHECK (length(words) <= 2000),
	created_at timestamptz NOT NULL DEFAULT now(),
	created_by text NOT NULL,
	FOREIGN KEY (workspace_id, item_id) REFERENCES item (workspace_id, id)
);
CREATE INDEX put_aside_latest ON put_aside (workspace_id, item_id, id DESC);
CREATE TRIGGER put_aside_is_append_only BEFORE UPDATE OR DELETE OR TRUNCATE ON put_aside
	EXECUTE FUNCTION refuse_change('who saw what and when stays on record; a further entry takes it up again');

-- With which chance a sound forecast may be accused of drift within 24 periods.
ALTER TABLE workspace ADD COLUMN alarm_chance double precision NOT NULL DEFAULT 0.1 CHECK (alarm_chance BETWEEN 0.02 AND 0.5);

-- How each item's forecast stands: derived from all of the above, so that it can be emptied and made anew.
CREATE TABLE standing (
	workspace_id bigint NOT NULL,
	item_id bigint NOT NULL,
	-- Ordinal of the newest period that is in.
	last_period integer,
	reasons jsonb NOT NULL,
	-- The newest period's grade, and what those of the newest run come to; null where there are none.
	newest jsonb,
	score jsonb,
	-- The entry by which it is put aside now.
	put_aside_id bigint,
	PRIMARY KEY (workspace_id, item_id),
	FOREIGN KEY (workspace_id, item_id) REFERENCES item (workspace_id, id)
);

-- Items that something touched and whose standing is to be made anew. Rows are added by whoever touches, with what they
-- did, and taken out by whoever makes standing anew; an item may stand here several times, so that nobody waits for anybody.
CREATE TABLE touched (
	id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
	workspace_id bigint NOT NULL,
	item_id bigint NOT NULL
);
CREATE INDEX touched_item ON touched (item_id);
CREATE FUNCTION touch_items() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	INSERT INTO touched (workspace_id, item_id) SELECT DISTINCT workspace_id, item_id FROM inserted;
	RETURN NULL;
END $$;
CREATE TRIGGER actual_touches AFTER INSERT ON actual
	REFERENCING NEW TABLE AS inserted FOR EACH STATEMENT EXECUTE FUNCTION touch_items();
CREATE TRIGGER adopted_forecast_touches AFTER INSERT ON adopted_forecast
	REFERENCING NEW TABLE AS inserted FOR EACH STATEMENT EXECUTE FUNCTION touch_items();
CREATE TRIGGER mend_touches AFTER INSERT ON mend
	REFERENCING NEW TABLE AS inserted FOR EACH STATEMENT EXECUTE FUNCTION touch_items();
CREATE TRIGGER put_aside_touches AFTER INSERT ON put_aside
	REFERENCING NEW TABLE AS inserted FOR EACH STATEMENT EXECUTE FUNCTION touch_items();
CREATE FUNCTION touch_item() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	INSERT INTO touched (workspace_id, item_id) VALUES (NEW.workspace_id, NEW.id);
	RETURN NULL;
END $$;
CREATE TRIGGER item_touches AFTER INSERT OR UPDATE OF lead_time ON item
	FOR EACH ROW EXECUTE FUNCTION touch_item();
CREATE FUNCTION touch_workspace() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	INSERT INTO touched (workspace_id, item_id) SELECT workspace_id, id FROM item WHERE workspace_id = NEW.id;
	RETURN NULL;
END $$;
CREATE TRIGGER workspace_touches AFTER UPDATE OF alarm_chance ON workspace
	FOR EACH ROW EXECUTE FUNCTION touch_workspace();
INSERT INTO touched (workspace_id, item_id) SELECT workspace_id, id FROM item;

GRANT SELECT, INSERT ON put_aside TO ventrel_application;
GRANT SELECT, INSERT, UPDATE, DELETE ON standing, touched TO ventrel_application;
GRANT UPDATE (carry, lead_time, price) ON item TO ventrel_application;
GRANT UPDATE (alarm_chance) ON workspace TO ventrel_application;

-- Down Migration

DROP TABLE touched, standing, put_aside;
DROP TRIGGER actual_touches ON actual;
DROP TRIGGER adopted_forecast_touches ON adopted_forecast;
DROP TRIGGER mend_touches ON mend;
DROP TRIGGER item_touches ON item;
DROP TRIGGER workspace_touches ON workspace;
DROP FUNCTION touch_items, touch_item, touch_workspace;
ALTER TABLE workspace DROP COLUMN alarm_chance;
ALTER TABLE item_change DROP COLUMN plan;
ALTER TABLE item DROP COLUMN carry, DROP COLUMN lead_time, DROP COLUMN price;
DROP TRIGGER adopted_forecast_has_its_time ON adopted_forecast;
DROP FUNCTION check_adopted_at;
ALTER TABLE adopted_forecast ALTER COLUMN adopted_at SET DEFAULT now();
ALTER TABLE adopted_step DROP COLUMN final, DROP COLUMN change_rate, DROP COLUMN spread, DROP COLUMN naive, DROP COLUMN seasonal_naive;
ALTER TABLE adopted_forecast DROP COLUMN carried_from, DROP COLUMN rounding, DROP COLUMN together, DROP COLUMN asked, DROP COLUMN held;
CREATE INDEX adopted_forecast_latest ON adopted_forecast (workspace_id, item_id, id DESC);
ALTER TABLE adopted_forecast DROP CONSTRAINT adopted_forecast_of_item;
