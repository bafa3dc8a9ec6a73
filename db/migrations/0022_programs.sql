-- Up Migration

-- What a program asked for under a key of its own, and what was answered: asked again, it is answered again, and nothing is done twice.
-- Written in the transaction of what was asked for, so that neither is there without the other.
CREATE TABLE request_once (
	workspace_id bigint NOT NULL REFERENCES workspace,
	actor_id bigint NOT NULL DEFAULT nullif(current_setting('ventrel.actor', true), '')::bigint,
	key text NOT NULL CHECK (length(key) BETWEEN 1 AND 255),
	call text NOT NULL,
	sha256 bytea NOT NULL CHECK (length(sha256) = 32),
	-- As it was written, so that it is answered letter for letter.
	answer json,
	created_at timestamptz NOT NULL DEFAULT now(),
	PRIMARY KEY (workspace_id, actor_id, key),
	FOREIGN KEY (workspace_id, actor_id) REFERENCES actor (workspace_id, id)
);
CREATE TRIGGER request_once_is_by_whom_acts AFTER INSERT ON request_once REFERENCING NEW TABLE AS inserted
	FOR EACH STATEMENT EXECUTE FUNCTION check_who('actor_id', 'created_at');
GRANT SELECT, INSERT (workspace_id, key, call, sha256), UPDATE (answer), DELETE ON request_once TO ventrel_application;

-- What is done for keeping, by the owner: when it last was, and what came of it.
CREATE TABLE upkeep (
	name text PRIMARY KEY,
	at timestamptz NOT NULL DEFAULT now(),
	ok boolean NOT NULL,
	words text NOT NULL DEFAULT ''
);
GRANT SELECT ON upkeep TO ventrel_application;

-- Rows of sweeps go a while after all was decided; that there was such a sweep, and what was adopted of it, stays.
ALTER TABLE workspace ADD COLUMN sweep_days integer NOT NULL DEFAULT 90 CHECK (sweep_days BETWEEN 1 AND 36500);
ALTER TABLE sweep ADD COLUMN cleared_at timestamptz;
GRANT UPDATE (sweep_days) ON workspace TO ventrel_application;
CREATE OR REPLACE FUNCTION record_setting() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
BEGIN
	IF TG_TABLE_NAME = 'kept_view' THEN
		IF TG_OP = 'DELETE' THEN
			PERFORM record_event(OLD.workspace_id, 'view deleted', NULL, OLD.name);
			RETURN NULL;
		END IF;
		PERFORM record_event(NEW.workspace_id, 'view saved', NULL, NEW.name);
	ELSIF TG_TABLE_NAME = 'workspace' THEN
		IF NEW.sweep_days <> OLD.sweep_days THEN
			PERFORM record_event(NEW.id, 'end of sweeps set', NULL, NEW.sweep_days || ' days');
		END IF;
		IF NEW.alarm_chance <> OLD.alarm_chance THEN
			PERFORM record_event(NEW.id, 'alarm rate set', NULL, round(100 * NEW.alarm_chance::numeric, 2) || ' %');
		END IF;
	ELSIF NEW.second_factor <> OLD.second_factor THEN
		PERFORM record_event((SELECT min(id) FROM workspace), CASE WHEN NEW.second_factor THEN 'second factor demanded' ELSE 'second factor left free' END, NULL);
	END IF;
	RETURN NULL;
END $$;
DROP TRIGGER workspace_is_recorded ON workspace;
CREATE TRIGGER workspace_is_recorded AFTER UPDATE OF alarm_chance, sweep_days ON workspace FOR EACH ROW EXECUTE FUNCTION record_setting();
CREATE OR REPLACE FUNCTION keep_sweep() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	IF owner_writes() THEN
		RETURN NEW;
	END IF;
	IF (to_jsonb(NEW) - ARRAY['items', 'stopped_at', 'stopped_by', 'ended_at']) <> (to_jsonb(OLD) - ARRAY['items', 'stopped_at', 'stopped_by', 'ended_at'])
		OR NEW.items <> OLD.items AND OLD.created_at <> now()
		OR OLD.ended_at IS NOT NULL AND NEW IS DISTINCT FROM OLD
		OR NEW.ended_at <> now()
		OR NEW.stopped_at IS NOT NULL AND (NEW.stopped_at <> now() OR NEW.stopped_by IS DISTINCT FROM (SELECT actor FROM acting()))
	THEN
		RAISE EXCEPTION 'UPDATE of sweep refused: what was begun, and by whom it was stopped, stays on record' USING ERRCODE = 'insufficient_privilege';
	END IF;
	RETURN NEW;
END $$;

-- What grows has its end. Run by the owner alone: the application deletes nothing of it.
CREATE FUNCTION keep_house() RETURNS TABLE (what text, gone bigint) LANGUAGE plpgsql AS $$
BEGIN
	RETURN QUERY WITH old AS (
		SELECT s.workspace_id, s.id FROM sweep s JOIN workspace ON workspace.id = s.workspace_id
		WHERE s.cleared_at IS NULL AND s.ended_at < now() - make_interval(days => sweep_days)
			-- Decided: nothing is still being adopted of it.
			AND NOT EXISTS (SELECT FROM sweep a WHERE a.workspace_id = s.workspace_id AND a.of_sweep = s.id AND a.ended_at IS NULL)
	), rows AS (
		DELETE FROM sweep_row USING old WHERE sweep_row.workspace_id = old.workspace_id AND sweep_id = old.id RETURNING 1
	), batches AS (
		DELETE FROM sweep_batch USING old WHERE sweep_batch.workspace_id = old.workspace_id AND sweep_id = old.id RETURNING 1
	), cleared AS (
		UPDATE sweep SET cleared_at = now() FROM old WHERE sweep.workspace_id = old.workspace_id AND sweep.id = old.id RETURNING 1
	)
	SELECT 'rows of sweeps', (SELECT count(*) FROM rows) + 0 * (SELECT count(*) FROM batches) + 0 * (SELECT count(*) FROM cleared);
	RETURN QUERY WITH rows AS (
		DELETE FROM session WHERE ended_at < now() - interval '30 days' OR created_at < now() - interval '44 days' RETURNING 1
	) SELECT 'sessions', count(*) FROM rows;
	RETURN QUERY WITH rows AS (
		DELETE FROM person_link WHERE ends_at < now() - interval '30 days' RETURNING 1
	) SELECT 'links', count(*) FROM rows;
	RETURN QUERY WITH rows AS (
		DELETE FROM request_once WHERE created_at < now() - interval '30 days' RETURNING 1
	) SELECT 'keys of programs', count(*) FROM rows;
	RETURN QUERY WITH rows AS (
		DELETE FROM sign_in_failure WHERE sign_in_failure.at < now() - interval '1 day' RETURNING 1
	) SELECT 'failed sign-ins that are counted', count(*) FROM rows;
END $$;
REVOKE ALL ON FUNCTION keep_house FROM PUBLIC;

-- How large what is kept is, by what it is. As the owner, since the application sees no sizes of jobs.
CREATE FUNCTION kept_sizes() RETURNS TABLE (what text, bytes bigint, held bigint) LANGUAGE sql STABLE SECURITY DEFINER
	SET search_path = pg_catalog, public, pg_temp AS $$
	SELECT what, sum(pg_total_relation_size(relation)), sum(greatest(reltuples::bigint, pg_stat_get_live_tuples(pg_class.oid)))::bigint
	FROM (VALUES
		('figures', 'actual'), ('figures', 'data_change'),
		('raw texts', 'raw_text'), ('raw texts', 'raw_piece'),
		('records', 'adopted_forecast'), ('records', 'adopted_step'),
		('adjustments', 'layer_entry'), ('adjustments', 'item_change'), ('adjustments', 'hide_entry'),
		('items and their status', 'item'), ('items and their status', 'item_status'), ('items and their status', 'candidate'),
		('sweeps', 'sweep'), ('sweeps', 'sweep_batch'), ('sweeps', 'sweep_row'),
		('jobs', 'graphile_worker._private_jobs'),
		('people and sessions', 'actor'), ('people and sessions', 'session'), ('people and sessions', 'access_event'),
		('keys of programs', 'request_once')
	) AS kept (what, named)
	CROSS JOIN LATERAL (SELECT to_regclass(named) AS relation) found
	JOIN pg_class ON pg_class.oid = relation
	GROUP BY what ORDER BY 2 DESC
$$;
REVOKE ALL ON FUNCTION kept_sizes FROM PUBLIC;
GRANT EXECUTE ON FUNCTION kept_sizes TO ventrel_application;

-- Files that were laid in the folder that is watched: each once, by its name and what is in it. One that waits is looked at by a person.
CREATE TABLE arrived (
	id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
	workspace_id bigint NOT NULL REFERENCES workspace,
	name text NOT NULL CHECK (length(name) BETWEEN 1 AND 300),
	sha256 bytea NOT NULL CHECK (length(sha256) = 32),
	at timestamptz NOT NULL DEFAULT now(),
	state text NOT NULL CHECK (state IN ('waiting', 'done', 'refused')),
	-- What was said of it, a line each.
	said text[] NOT NULL DEFAULT '{}',
	-- As it came, as long as it waits.
	content bytea,
	UNIQUE (workspace_id, name, sha256),
	CHECK ((content IS NOT NULL) = (state = 'waiting'))
);
CREATE INDEX arrived_waiting ON arrived (workspace_id, id) WHERE state = 'waiting';
GRANT SELECT, INSERT (workspace_id, name, sha256, state, said, content), UPDATE (state, said, content) ON arrived TO ventrel_application;

-- Named with its schema: where a backup is restored nothing is found without.
CREATE OR REPLACE FUNCTION are_labels(labels jsonb) RETURNS boolean LANGUAGE sql IMMUTABLE AS $$
	SELECT jsonb_typeof(labels) = 'object' AND (
		SELECT count(*) <= 20 AND coalesce(bool_and(
			length(key) BETWEEN 1 AND 60 AND public.is_free_key(key)
				AND jsonb_typeof(value) = 'string' AND length(value #>> '{}') BETWEEN 1 AND 120
		), true)
		FROM jsonb_each(CASE WHEN jsonb_typeof(labels) = 'object' THEN labels ELSE '{}' END)
	)
$$;

-- Down Migration

DROP FUNCTION kept_sizes, keep_house;
DROP TRIGGER workspace_is_recorded ON workspace;
CREATE OR REPLACE FUNCTION record_setting() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
BEGIN
	IF TG_TABLE_NAME = 'kept_view' THEN
		IF TG_OP = 'DELETE' THEN
			PERFORM record_event(OLD.workspace_id, 'view deleted', NULL, OLD.name);
			RETURN NULL;
		END IF;
		PERFORM record_event(NEW.workspace_id, 'view saved', NULL, NEW.name);
	ELSIF TG_TABLE_NAME = 'workspace' THEN
		PERFORM record_event(NEW.id, 'alarm rate set', NULL, round(100 * NEW.alarm_chance::numeric, 2) || ' %');
	ELSIF NEW.second_factor <> OLD.second_factor THEN
		PERFORM record_event((SELECT min(id) FROM workspace), CASE WHEN NEW.second_factor THEN 'second factor demanded' ELSE 'second factor left free' END, NULL);
	END IF;
	RETURN NULL;
END $$;
CREATE TRIGGER workspace_is_recorded AFTER UPDATE OF alarm_chance ON workspace FOR EACH ROW EXECUTE FUNCTION record_setting();
ALTER TABLE sweep DROP COLUMN cleared_at;
ALTER TABLE workspace DROP COLUMN sweep_days;
DROP TABLE arrived, upkeep, request_once;
