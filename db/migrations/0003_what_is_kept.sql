-- Up Migration

-- How many steps a forecast has: said by its record, and held against the steps themselves when its transaction ends.
ALTER TABLE adopted_forecast DISABLE TRIGGER adopted_forecast_is_immutable;
ALTER TABLE adopted_forecast ADD COLUMN step_count integer;
UPDATE adopted_forecast f SET step_count = (
	SELECT count(*) FROM adopted_step s WHERE s.workspace_id = f.workspace_id AND s.adopted_forecast_id = f.id
);
ALTER TABLE adopted_forecast ALTER COLUMN step_count SET NOT NULL;
ALTER TABLE adopted_forecast ENABLE TRIGGER adopted_forecast_is_immutable;
-- Records from before may have none: those were adopted of candidates that could say nothing of the periods ahead.
ALTER TABLE adopted_forecast ADD CONSTRAINT adopted_forecast_has_steps CHECK (step_count >= 1) NOT VALID;

CREATE FUNCTION check_step_count() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
	there integer;
	last integer;
BEGIN
	SELECT count(*), max(step) INTO there, last FROM adopted_step
	WHERE workspace_id = NEW.workspace_id AND adopted_forecast_id = NEW.id;
	IF there <> NEW.step_count OR last <> NEW.step_count THEN
		RAISE EXCEPTION 'INSERT of adopted_forecast refused: it says % steps and has %', NEW.step_count, there
			USING ERRCODE = 'integrity_constraint_violation';
	END IF;
	RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER adopted_forecast_has_its_steps AFTER INSERT ON adopted_forecast
	DEFERRABLE INITIALLY DEFERRED
	FOR EACH ROW EXECUTE FUNCTION check_step_count();

-- Off the list, and back again; what an item was called, and who changed it when, stays on record.
ALTER TABLE item ADD COLUMN retired_at timestamptz;
CREATE TABLE item_change (
	id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
	workspace_id bigint NOT NULL,
	item_id bigint NOT NULL,
	kind text NOT NULL CHECK (kind IN ('renamed', 'retired', 'returned')),
	-- As it was called before.
	code text NOT NULL,
	name text NOT NULL,
	unit text NOT NULL,
	reason text NOT NULL DEFAULT '' CHECK (length(reason) <= 2000),
	created_at timestamptz NOT NULL DEFAULT now(),
	created_by text NOT NULL,
	FOREIGN KEY (workspace_id, item_id) REFERENCES item (workspace_id, id)
);
CREATE INDEX item_change_of ON item_change (workspace_id, item_id, id DESC);
CREATE INDEX item_change_code ON item_change (workspace_id, code);
CREATE TRIGGER item_change_is_append_only BEFORE UPDATE OR DELETE OR TRUNCATE ON item_change
	EXECUTE FUNCTION refuse_change('what an item was called stays on record');

-- No door can forget to write it down: whoever changes an item says who they are and why for their transaction.
CREATE FUNCTION record_item_change() RETURNS trigger LANGUAGE plpgsql AS $$
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
	RETURN NULL;
END $$;
CREATE TRIGGER item_changes_are_recorded AFTER UPDATE OF code, name, unit, retired_at ON item
	FOR EACH ROW EXECUTE FUNCTION record_item_change();

-- What the application may do. It connects as a role that owns nothing; such a role is given this one's rights.
DO $$
BEGIN
	IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = 'ventrel_application') THEN
		CREATE ROLE ventrel_application NOLOGIN;
	END IF;
EXCEPTION WHEN duplicate_object OR unique_violation THEN
	-- Another database of this server was being migrated at the same moment.
	NULL;
END $$;
GRANT SELECT ON workspace, item, raw_text, raw_piece, data_change, actual, candidate, adopted_forecast, adopted_step, mend, item_change
	TO ventrel_application;
GRANT INSERT ON workspace, item, raw_text, raw_piece, data_change, actual, candidate, adopted_forecast, adopted_step, mend
	TO ventrel_application;
GRANT UPDATE (code, name, unit, line_up_version, retired_at) ON item TO ventrel_application;
GRANT DELETE ON candidate TO ventrel_application;
GRANT USAGE ON SEQUENCE raw_text_id_seq TO ventrel_application;
-- The record of changes is written by the trigger alone.
ALTER FUNCTION record_item_change() SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp;

-- The password of the role that the application of this database connects as: read by the owner alone, who hands it on.
CREATE TABLE application_login (
	only_one boolean PRIMARY KEY DEFAULT true CHECK (only_one),
	name text NOT NULL,
	password text NOT NULL
);

-- Down Migration

DROP TABLE application_login;
DROP TRIGGER item_changes_are_recorded ON item;
DROP TABLE item_change;
DROP FUNCTION record_item_change;
ALTER TABLE item DROP COLUMN retired_at;
DROP TRIGGER adopted_forecast_has_its_steps ON adopted_forecast;
DROP FUNCTION check_step_count;
ALTER TABLE adopted_forecast DROP COLUMN step_count;
