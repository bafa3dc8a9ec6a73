-- Up Migration

-- Who does something: a person, a token that a program has, this machine where nobody signs in, who made the demo, and what adds the
-- figures of group totals up, and the folder that is watched. Never deleted:
-- what they did names them for good.
CREATE TABLE actor (
	id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
	workspace_id bigint NOT NULL REFERENCES workspace,
	kind text NOT NULL CHECK (kind IN ('person', 'token', 'machine', 'demo', 'sum', 'inbox')),
	name text NOT NULL CHECK (length(name) BETWEEN 1 AND 80),
	role text CHECK (role IN ('look', 'work', 'manage')),
	created_at timestamptz NOT NULL DEFAULT now(),
	created_by bigint,
	ended_at timestamptz,
	ended_by bigint,
	UNIQUE (workspace_id, id),
	FOREIGN KEY (workspace_id, created_by) REFERENCES actor (workspace_id, id),
	FOREIGN KEY (workspace_id, ended_by) REFERENCES actor (workspace_id, id),
	CHECK ((role IS NOT NULL) = (kind IN ('person', 'token'))),
	CHECK ((ended_at IS NULL) = (ended_by IS NULL))
);
CREATE UNIQUE INDEX actor_name ON actor (workspace_id, kind, lower(name)) WHERE ended_at IS NULL;

-- As screens name who did something. An account is not taken for a person once there are some.
CREATE FUNCTION actor_name(actor_id bigint) RETURNS text LANGUAGE sql STABLE AS $$
	SELECT name || CASE
		WHEN kind = 'token' THEN ' (token)'
		WHEN kind = 'machine' AND EXISTS (SELECT FROM actor person WHERE person.workspace_id = actor.workspace_id AND person.kind = 'person')
			THEN ' (this machine)'
		ELSE ''
	END FROM actor WHERE id = actor_id
$$;

-- What a person proves themselves by. Until the link that invited them was used there is no password.
CREATE TABLE person_proof (
	actor_id bigint PRIMARY KEY REFERENCES actor,
	password text CHECK (password LIKE '$argon2id$%'),
	-- Of the time-based code, and the last step of time whose code was used: each is good once.
	second_factor text,
	second_factor_step bigint NOT NULL DEFAULT 0
);

-- A link that lets a person choose a password: good once, and for a day.
CREATE TABLE person_link (
	sha256 bytea PRIMARY KEY CHECK (length(sha256) = 32),
	actor_id bigint NOT NULL REFERENCES actor,
	created_at timestamptz NOT NULL DEFAULT now(),
	ends_at timestamptz NOT NULL DEFAULT now() + interval '1 day',
	used_at timestamptz
);

CREATE TABLE token_proof (
	actor_id bigint PRIMARY KEY REFERENCES actor,
	sha256 bytea NOT NULL UNIQUE CHECK (length(sha256) = 32),
	ends_at timestamptz NOT NULL,
	used_at timestamptz
);

CREATE TABLE session (
	id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
	actor_id bigint NOT NULL REFERENCES actor,
	sha256 bytea NOT NULL UNIQUE CHECK (length(sha256) = 32),
	created_at timestamptz NOT NULL DEFAULT now(),
	-- When the password was last given in it.
	proved_at timestamptz NOT NULL DEFAULT now(),
	used_at timestamptz NOT NULL DEFAULT now(),
	browser text NOT NULL DEFAULT '' CHECK (length(browser) <= 200),
	ended_at timestamptz
);
CREATE INDEX session_of ON session (actor_id) WHERE ended_at IS NULL;

-- How often something was wrong at the sign-in, by the digest of a name, an address or a session.
CREATE TABLE sign_in_failure (
	key bytea PRIMARY KEY CHECK (length(key) = 32),
	failures integer NOT NULL,
	at timestamptz NOT NULL DEFAULT now()
);

-- How the application is run; said by the owner alone, but for what managers decide.
CREATE TABLE access (
	only_one boolean PRIMARY KEY DEFAULT true CHECK (only_one),
	sign_in boolean NOT NULL DEFAULT false,
	-- Whether who manages needs a second factor.
	second_factor boolean NOT NULL DEFAULT false,
	-- Whether a folder is watched.
	inbox boolean NOT NULL DEFAULT false,
	secret text NOT NULL
);
INSERT INTO access (secret) VALUES (gen_random_uuid()::text || gen_random_uuid()::text);

-- What happened beside changes of items, which are on record where they belong.
CREATE TABLE access_event (
	id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
	workspace_id bigint NOT NULL REFERENCES workspace,
	kind text NOT NULL,
	at timestamptz NOT NULL DEFAULT now(),
	-- Who did it; null where nobody is known to have.
	done_by bigint,
	-- Whom it is about.
	about bigint,
	words text NOT NULL DEFAULT '' CHECK (length(words) <= 500),
	FOREIGN KEY (workspace_id, done_by) REFERENCES actor (workspace_id, id),
	FOREIGN KEY (workspace_id, about) REFERENCES actor (workspace_id, id)
);
CREATE INDEX access_event_newest ON access_event (workspace_id, at DESC, id DESC);
CREATE TRIGGER access_event_is_append_only BEFORE UPDATE OR DELETE OR TRUNCATE ON access_event
	EXECUTE FUNCTION refuse_change('what happened stays on record');

-- Who acts is said once a transaction, with a proof, and sealed: what stands in a setting anybody could write.
CREATE FUNCTION seal(actor text, kind text, batch text) RETURNS text LANGUAGE sql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
	SELECT encode(sha256(convert_to(concat_ws('|', actor, kind, batch, pg_current_xact_id()::text, secret), 'UTF8')), 'hex') FROM access
$$;
REVOKE ALL ON FUNCTION seal FROM PUBLIC;

-- Whether whoever connected owns the database.
CREATE FUNCTION is_owner() RETURNS boolean LANGUAGE sql STABLE AS $$
	SELECT pg_has_role(session_user, relowner, 'MEMBER') FROM pg_class WHERE oid = 'access'::regclass
$$;

-- Whether the owner writes, who says for themselves in whose name.
CREATE FUNCTION owner_writes() RETURNS boolean LANGUAGE sql STABLE AS $$
	SELECT coalesce(current_setting('ventrel.acting', true), '') = '' AND is_owner()
$$;

-- Keys that are good: those of sessions, of which a browser has one, and those of programs.
CREATE VIEW live_key AS
	SELECT 'session' AS way, session.id, sha256, actor.id AS actor_id, workspace_id, name, role, proved_at, used_at
	FROM session JOIN actor ON actor.id = actor_id
	WHERE session.ended_at IS NULL AND actor.ended_at IS NULL
		AND used_at > now() - interval '12 hours' AND session.created_at > now() - interval '14 days'
	UNION ALL
	SELECT 'token', actor.id, sha256, actor.id, workspace_id, name, role, NULL, used_at
	FROM token_proof JOIN actor ON actor.id = actor_id
	WHERE actor.ended_at IS NULL AND ends_at > now();

-- Says for the rest of a transaction who acts, and why. The proof is a key; where nobody signs in, the name of the account; of the demo
-- and of what adds up nothing; of a worker the sweep and the batch that it works off.
CREATE FUNCTION act(workspace bigint, way text, proof text, reason text) RETURNS bigint
	LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
DECLARE
	who bigint;
	batch text := '';
BEGIN
	IF way = 'key' THEN
		SELECT actor_id INTO who FROM live_key WHERE sha256 = sha256(convert_to(proof, 'UTF8')) AND workspace_id = workspace;
	ELSIF way = 'machine' AND (is_owner() OR NOT (SELECT sign_in FROM access)) THEN
		SELECT id INTO who FROM actor WHERE workspace_id = workspace AND kind = 'machine' AND lower(name) = lower(proof);
		IF who IS NULL THEN
			INSERT INTO actor (workspace_id, kind, name) VALUES (workspace, 'machine', proof) ON CONFLICT DO NOTHING RETURNING id INTO who;
			IF who IS NULL THEN
				SELECT id INTO who FROM actor WHERE workspace_id = workspace AND kind = 'machine' AND lower(name) = lower(proof);
			END IF;
		END IF;
	ELSIF way = 'demo' THEN
		SELECT id INTO who FROM actor WHERE workspace_id = workspace AND kind = 'demo';
		-- It may date back what it lays out, so that it comes before anybody else does something.
		IF EXISTS (SELECT FROM item WHERE workspace_id = workspace AND created_by IS DISTINCT FROM who) THEN
			who := NULL;
		ELSIF who IS NULL THEN
			INSERT INTO actor (workspace_id, kind, name) VALUES (workspace, 'demo', 'demo') RETURNING id INTO who;
		END IF;
	ELSIF way = 'sum' OR way = 'inbox' AND (SELECT inbox FROM access) THEN
		SELECT id INTO who FROM actor WHERE workspace_id = workspace AND kind = way;
		IF who IS NULL THEN
			INSERT INTO actor (workspace_id, kind, name) VALUES (workspace, way, CASE way WHEN 'sum' THEN 'its items' ELSE 'inbox' END) ON CONFLICT DO NOTHING;
			SELECT id INTO who FROM actor WHERE workspace_id = workspace AND kind = way;
		END IF;
	ELSIF way = 'batch' THEN
		SELECT sweep.created_by INTO who FROM sweep_batch JOIN sweep ON sweep.workspace_id = sweep_batch.workspace_id AND sweep.id = sweep_id
		WHERE sweep.workspace_id = workspace AND sweep.id = split_part(proof, ':', 1)::bigint AND number = split_part(proof, ':', 2)::integer
			AND sweep.kind = 'adopt' AND sweep.ended_at IS NULL AND sweep_batch.ended_at IS NULL;
		batch := proof;
	END IF;
	IF who IS NULL THEN
		RAISE EXCEPTION 'nobody acts: this is no proof (%)', way USING ERRCODE = 'insufficient_privilege', CONSTRAINT = 'act_is_proved';
	END IF;
	PERFORM set_config('ventrel.actor', who::text, true), set_config('ventrel.reason', reason, true),
		set_config('ventrel.sweep', split_part(batch, ':', 1), true),
		set_config('ventrel.acting', concat_ws('|', way, batch, seal(who::text, way, batch)), true);
	RETURN who;
END $$;

-- Who acts in this transaction, and for which batch of a sweep.
CREATE FUNCTION acting(OUT actor bigint, OUT way text, OUT batch text) LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
DECLARE
	said text := coalesce(current_setting('ventrel.acting', true), '');
	who text := coalesce(current_setting('ventrel.actor', true), '');
BEGIN
	way := split_part(said, '|', 1);
	batch := split_part(said, '|', 2);
	IF said = '' OR split_part(said, '|', 3) <> seal(who, way, batch) THEN
		RAISE EXCEPTION 'nobody has said who acts' USING ERRCODE = 'insufficient_privilege', CONSTRAINT = 'act_is_proved';
	END IF;
	actor := who::bigint;
END $$;

-- The same where the owner writes, who need not say it.
CREATE FUNCTION who_acts() RETURNS bigint LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
BEGIN
	IF owner_writes() THEN
		RETURN nullif(current_setting('ventrel.actor', true), '')::bigint;
	END IF;
	RETURN (SELECT actor FROM acting());
END $$;

-- Held once a statement: that rows are by whom acts, and of now. The first argument is the column of who, the second that of when.
CREATE FUNCTION check_who() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
DECLARE
	me record;
	wrong boolean;
BEGIN
	IF NOT EXISTS (SELECT FROM inserted) OR owner_writes() THEN
		RETURN NULL;
	END IF;
	SELECT * INTO me FROM acting();
	EXECUTE format(
		'SELECT EXISTS (SELECT FROM inserted WHERE %1$I IS DISTINCT FROM $1 OR $2 AND (%2$I < now() OR %2$I > clock_timestamp()))',
		TG_ARGV[0], TG_ARGV[1]
	) INTO wrong USING me.actor, me.way <> 'demo';
	IF wrong THEN
		RAISE EXCEPTION 'INSERT of % refused: it is by %, and of now', TG_TABLE_NAME, actor_name(me.actor) USING ERRCODE = 'insufficient_privilege';
	END IF;
	-- Who works a batch off acts for whom began its sweep, and does nothing else in their name; what adds up does nothing else.
	IF me.way = 'batch' AND TG_TABLE_NAME <> 'adopted_forecast' OR me.way = 'sum' AND TG_TABLE_NAME <> 'data_change' THEN
		RAISE EXCEPTION 'INSERT of % refused: it is none of what % does', TG_TABLE_NAME, me.way USING ERRCODE = 'insufficient_privilege';
	END IF;
	RETURN NULL;
END $$;

-- A record that a sweep made names it, and is of an item of the batch that is worked off.
CREATE FUNCTION check_sweep_of_record() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
DECLARE
	me record;
	sweep bigint;
	ids bigint[];
BEGIN
	IF NOT EXISTS (SELECT FROM inserted) OR owner_writes() THEN
		RETURN NULL;
	END IF;
	SELECT * INTO me FROM acting();
	sweep := nullif(split_part(me.batch, ':', 1), '')::bigint;
	IF sweep IS NOT NULL THEN
		SELECT item_ids INTO ids FROM sweep_batch b
		WHERE b.workspace_id = (SELECT min(workspace_id) FROM inserted) AND b.sweep_id = sweep AND number = split_part(me.batch, ':', 2)::integer;
	END IF;
	IF EXISTS (SELECT FROM inserted WHERE sweep_id IS DISTINCT FROM sweep OR sweep IS NOT NULL AND item_id <> ALL (ids)) THEN
		RAISE EXCEPTION 'INSERT of adopted_forecast refused: it is of an item of batch %', me.batch USING ERRCODE = 'insufficient_privilege';
	END IF;
	RETURN NULL;
END $$;

-- Who did what so far is told by a name: of the demo, or of the account that the server ran under.
CREATE FUNCTION actor_named(workspace bigint, named text) RETURNS bigint LANGUAGE plpgsql AS $$
DECLARE
	known bigint;
	what text := CASE named WHEN 'demo' THEN 'demo' WHEN 'its items' THEN 'sum' ELSE 'machine' END;
	short text := CASE named WHEN 'its items' THEN named ELSE left(coalesce(nullif(named, ''), '?'), 80) END;
BEGIN
	IF named IS NULL THEN
		RETURN NULL;
	END IF;
	SELECT id INTO known FROM actor WHERE workspace_id = workspace AND kind = what AND lower(name) = lower(short);
	IF known IS NULL THEN
		INSERT INTO actor (workspace_id, kind, name) VALUES (workspace, what, short) RETURNING id INTO known;
	END IF;
	RETURN known;
END $$;
DROP INDEX item_of_demo;
ALTER TABLE item ALTER COLUMN created_by TYPE bigint USING actor_named(workspace_id, created_by);
ALTER TABLE raw_text ALTER COLUMN created_by TYPE bigint USING actor_named(workspace_id, created_by);
ALTER TABLE data_change ALTER COLUMN created_by TYPE bigint USING actor_named(workspace_id, created_by);
ALTER TABLE layer_entry ALTER COLUMN created_by TYPE bigint USING actor_named(workspace_id, created_by);
ALTER TABLE item_change ALTER COLUMN created_by TYPE bigint USING actor_named(workspace_id, created_by);
ALTER TABLE hide_entry ALTER COLUMN created_by TYPE bigint USING actor_named(workspace_id, created_by);
ALTER TABLE kept_view ALTER COLUMN created_by TYPE bigint USING actor_named(workspace_id, created_by);
ALTER TABLE sweep
	ALTER COLUMN created_by TYPE bigint USING actor_named(workspace_id, created_by),
	ALTER COLUMN stopped_by TYPE bigint USING actor_named(workspace_id, stopped_by);
ALTER TABLE adopted_forecast
	ALTER COLUMN adopted_by TYPE bigint USING actor_named(workspace_id, adopted_by),
	ADD COLUMN sweep_id bigint;
DROP FUNCTION actor_named;
ALTER TABLE adopted_forecast DISABLE TRIGGER adopted_forecast_is_immutable;
UPDATE adopted_forecast SET sweep_id = sweep.id
	FROM sweep_row JOIN sweep ON sweep.workspace_id = sweep_row.workspace_id AND sweep.id = sweep_id AND sweep.kind = 'adopt'
	WHERE sweep_row.workspace_id = adopted_forecast.workspace_id AND record_id = adopted_forecast.id;
ALTER TABLE adopted_forecast ENABLE TRIGGER adopted_forecast_is_immutable;
ALTER TABLE adopted_forecast
	ALTER COLUMN sweep_id SET DEFAULT nullif(current_setting('ventrel.sweep', true), '')::bigint,
	ALTER COLUMN adopted_by SET DEFAULT nullif(current_setting('ventrel.actor', true), '')::bigint,
	ADD FOREIGN KEY (workspace_id, sweep_id) REFERENCES sweep (workspace_id, id),
	ADD FOREIGN KEY (workspace_id, adopted_by) REFERENCES actor (workspace_id, id);
CREATE TRIGGER adopted_forecast_is_by_whom_acts AFTER INSERT ON adopted_forecast REFERENCING NEW TABLE AS inserted
	FOR EACH STATEMENT EXECUTE FUNCTION check_who('adopted_by', 'adopted_at');
CREATE TRIGGER adopted_forecast_is_of_its_sweep AFTER INSERT ON adopted_forecast REFERENCING NEW TABLE AS inserted
	FOR EACH STATEMENT EXECUTE FUNCTION check_sweep_of_record();
-- What one did is found by when it was done; what a sweep adopted is found through the sweep.
CREATE INDEX adopted_forecast_newest ON adopted_forecast (workspace_id, adopted_at DESC, id DESC) WHERE sweep_id IS NULL;

DO $$
DECLARE
	named text;
BEGIN
	FOREACH named IN ARRAY ARRAY['item', 'raw_text', 'data_change', 'layer_entry', 'item_change', 'hide_entry', 'kept_view', 'sweep'] LOOP
		EXECUTE format(
			'ALTER TABLE %1$I ALTER COLUMN created_by SET DEFAULT nullif(current_setting(''ventrel.actor'', true), '''')::bigint,
				ADD FOREIGN KEY (workspace_id, created_by) REFERENCES actor (workspace_id, id)', named);
		EXECUTE format(
			'CREATE TRIGGER %1$s_is_by_whom_acts AFTER INSERT ON %1$I REFERENCING NEW TABLE AS inserted
				FOR EACH STATEMENT EXECUTE FUNCTION check_who(''created_by'', ''created_at'')', named);
	END LOOP;
	FOREACH named IN ARRAY ARRAY['data_change', 'layer_entry', 'item_change', 'hide_entry', 'sweep'] LOOP
		EXECUTE format('CREATE INDEX %1$s_newest ON %1$I (workspace_id, created_at DESC, created_by)', named);
	END LOOP;
END $$;
ALTER TABLE sweep ADD FOREIGN KEY (workspace_id, stopped_by) REFERENCES actor (workspace_id, id);
CREATE INDEX item_by ON item (workspace_id, created_by) WHERE retired_at IS NULL;

-- Who changed an item and why is who acts; thousands that change at once are written down at once.
DROP TRIGGER item_changes_are_recorded ON item;
DROP TRIGGER item_labels_are_recorded ON item;
DROP FUNCTION record_labels;
CREATE OR REPLACE FUNCTION record_item_change() RETURNS trigger
	LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
BEGIN
	INSERT INTO item_change (workspace_id, item_id, kind, code, name, unit, reason, plan, labels)
	SELECT now.workspace_id, now.id, kind, called.code, called.name, called.unit, coalesce(current_setting('ventrel.reason', true), ''),
		CASE kind WHEN 'planned' THEN jsonb_build_object('carry', before.carry, 'leadTime', before.lead_time, 'price', before.price) END,
		CASE kind WHEN 'labelled' THEN before.labels END
	FROM now JOIN before USING (id)
	CROSS JOIN LATERAL (VALUES
		(1, 'renamed', (now.code, now.name, now.unit) IS DISTINCT FROM (before.code, before.name, before.unit)),
		(2, 'retired', now.retired_at IS NOT NULL AND before.retired_at IS NULL),
		(3, 'returned', now.retired_at IS NULL AND before.retired_at IS NOT NULL),
		(4, 'planned', (now.carry, now.lead_time, now.price) IS DISTINCT FROM (before.carry, before.lead_time, before.price)),
		-- An item may get them in parts while it is brought in.
		(5, 'labelled', now.labels <> before.labels AND before.created_at <> transaction_timestamp())
	) AS change (place, kind, happened)
	CROSS JOIN LATERAL (
		SELECT before.code, before.name, before.unit WHERE kind = 'renamed'
		UNION ALL SELECT now.code, now.name, now.unit WHERE kind <> 'renamed'
	) called
	WHERE happened ORDER BY now.id, place;
	RETURN NULL;
END $$;
CREATE TRIGGER item_changes_are_recorded AFTER UPDATE ON item REFERENCING OLD TABLE AS before NEW TABLE AS now
	FOR EACH STATEMENT EXECUTE FUNCTION record_item_change();

-- Figures come in with the change that brings them, and pieces with their text: neither is added to what somebody brought before.
CREATE FUNCTION check_own_change() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
BEGIN
	IF owner_writes() THEN
		RETURN NULL;
	END IF;
	IF EXISTS (
		SELECT FROM (SELECT DISTINCT workspace_id, data_change_id FROM inserted) n
		JOIN data_change ON data_change.workspace_id = n.workspace_id AND data_change.id = n.data_change_id
		WHERE created_at <> now()
	) THEN
		RAISE EXCEPTION 'INSERT of actual refused: its change came in before' USING ERRCODE = 'insufficient_privilege';
	END IF;
	IF EXISTS (
		SELECT FROM (SELECT DISTINCT workspace_id, item_id, data_change_id FROM inserted) n
		JOIN data_change ON data_change.workspace_id = n.workspace_id AND data_change.id = n.data_change_id
		JOIN actor ON actor.id = data_change.created_by AND actor.kind = 'sum'
		JOIN item ON item.workspace_id = n.workspace_id AND item.id = n.item_id
		WHERE sum_of IS NULL
	) THEN
		RAISE EXCEPTION 'INSERT of actual refused: only group totals are added up' USING ERRCODE = 'insufficient_privilege';
	END IF;
	RETURN NULL;
END $$;
CREATE TRIGGER actual_comes_with_its_change AFTER INSERT ON actual REFERENCING NEW TABLE AS inserted
	FOR EACH STATEMENT EXECUTE FUNCTION check_own_change();
CREATE FUNCTION check_own_text() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	IF NOT owner_writes() AND EXISTS (SELECT FROM raw_text WHERE workspace_id = NEW.workspace_id AND id = NEW.raw_text_id AND created_at <> now()) THEN
		RAISE EXCEPTION 'INSERT of raw_piece refused: its text came in before' USING ERRCODE = 'insufficient_privilege';
	END IF;
	RETURN NULL;
END $$;
CREATE TRIGGER raw_piece_comes_with_its_text AFTER INSERT ON raw_piece FOR EACH ROW EXECUTE FUNCTION check_own_text();

-- What was decided of a sweep stays: only how far it is goes on, and it is stopped once, by whom acts.
CREATE FUNCTION keep_sweep() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
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
CREATE TRIGGER sweep_stays BEFORE UPDATE ON sweep FOR EACH ROW EXECUTE FUNCTION keep_sweep();
CREATE FUNCTION keep_sweep_row() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	IF OLD.record_id IS NOT NULL AND NEW.record_id IS DISTINCT FROM OLD.record_id THEN
		RAISE EXCEPTION 'UPDATE of sweep_row refused: what was adopted of it stays on record' USING ERRCODE = 'insufficient_privilege';
	END IF;
	RETURN NEW;
END $$;
CREATE TRIGGER sweep_row_stays BEFORE UPDATE ON sweep_row FOR EACH ROW EXECUTE FUNCTION keep_sweep_row();
REVOKE UPDATE, DELETE ON sweep, sweep_batch, sweep_row FROM ventrel_application;
GRANT UPDATE (items, stopped_at, stopped_by, ended_at) ON sweep TO ventrel_application;
GRANT UPDATE (failures, failed, ended_at) ON sweep_batch TO ventrel_application;
GRANT UPDATE (record_id) ON sweep_row TO ventrel_application;

-- Views are saved anew, by whom saves them.
REVOKE UPDATE ON kept_view FROM ventrel_application;

-- What managers do is an event of its own, whoever's statement it was.
CREATE FUNCTION record_event(workspace bigint, what text, whom bigint, said text DEFAULT '', doer bigint DEFAULT NULL) RETURNS void
	LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
BEGIN
	INSERT INTO access_event (workspace_id, kind, done_by, about, words) VALUES (workspace, what, coalesce(doer, who_acts()), whom, said);
END $$;
REVOKE ALL ON FUNCTION record_event FROM PUBLIC;

CREATE FUNCTION check_actor() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
DECLARE
	me record;
BEGIN
	IF TG_OP = 'INSERT' THEN
		-- Made by itself where it first acts.
		IF NEW.kind NOT IN ('person', 'token') THEN
			RETURN NULL;
		END IF;
		SELECT * INTO me FROM acting();
		IF NEW.created_by IS DISTINCT FROM me.actor OR NEW.created_at <> now() OR NEW.ended_at IS NOT NULL THEN
			RAISE EXCEPTION 'INSERT of actor refused: it is made by %, and now', actor_name(me.actor) USING ERRCODE = 'insufficient_privilege';
		END IF;
		PERFORM record_event(NEW.workspace_id, CASE NEW.kind WHEN 'person' THEN 'invited' ELSE 'token made' END, NEW.id, NEW.role);
		RETURN NULL;
	END IF;
	SELECT * INTO me FROM acting();
	IF OLD.kind NOT IN ('person', 'token') OR OLD.ended_at IS NOT NULL
		OR (NEW.id, NEW.workspace_id, NEW.kind, NEW.name, NEW.created_at, NEW.created_by)
			IS DISTINCT FROM (OLD.id, OLD.workspace_id, OLD.kind, OLD.name, OLD.created_at, OLD.created_by)
		OR NEW.ended_at <> now() OR NEW.ended_by <> me.actor
		OR NEW.kind = 'token' AND NEW.role <> OLD.role
	THEN
		RAISE EXCEPTION 'UPDATE of actor refused: who somebody is stays on record' USING ERRCODE = 'insufficient_privilege';
	END IF;
	IF NEW.ended_at IS NOT NULL THEN
		PERFORM record_event(NEW.workspace_id, CASE NEW.kind WHEN 'person' THEN 'left' ELSE 'token revoked' END, NEW.id);
	ELSIF NEW.role <> OLD.role THEN
		PERFORM record_event(NEW.workspace_id, 'role changed', NEW.id, OLD.role || ' → ' || NEW.role);
	END IF;
	-- Whoever has another role now, or none, begins anew.
	UPDATE session SET ended_at = now() WHERE actor_id = NEW.id AND ended_at IS NULL;
	PERFORM pg_notify('ventrel_access', NEW.id::text);
	RETURN NULL;
END $$;
CREATE TRIGGER actor_stays BEFORE DELETE OR TRUNCATE ON actor EXECUTE FUNCTION refuse_change('what they did names them');
CREATE TRIGGER actor_is_recorded AFTER INSERT OR UPDATE ON actor FOR EACH ROW EXECUTE FUNCTION check_actor();

CREATE FUNCTION record_proof() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
DECLARE
	workspace bigint := (SELECT workspace_id FROM actor WHERE id = NEW.actor_id);
BEGIN
	IF NEW.password IS DISTINCT FROM OLD.password THEN
		PERFORM record_event(workspace, CASE WHEN OLD.password IS NULL THEN 'password chosen' ELSE 'password changed' END, NEW.actor_id, '', NEW.actor_id);
		UPDATE session SET ended_at = now() WHERE actor_id = NEW.actor_id AND ended_at IS NULL;
		PERFORM pg_notify('ventrel_access', NEW.actor_id::text);
	END IF;
	IF NEW.second_factor IS DISTINCT FROM OLD.second_factor THEN
		PERFORM record_event(workspace, CASE WHEN NEW.second_factor IS NULL THEN 'second factor off' ELSE 'second factor on' END, NEW.actor_id, '', NEW.actor_id);
	END IF;
	RETURN NULL;
END $$;
CREATE TRIGGER person_proof_is_recorded AFTER UPDATE ON person_proof FOR EACH ROW EXECUTE FUNCTION record_proof();

-- A link lets whoever has it choose another password, so that it is told of.
CREATE FUNCTION record_link() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
BEGIN
	IF TG_OP = 'UPDATE' THEN
		IF OLD.used_at IS NOT NULL OR NEW.used_at <> now() THEN
			RAISE EXCEPTION 'UPDATE of person_link refused: it is good once' USING ERRCODE = 'insufficient_privilege';
		END IF;
	ELSE
		PERFORM record_event(workspace_id, 'link made', id) FROM actor WHERE id = NEW.actor_id AND created_at <> now();
	END IF;
	RETURN NULL;
END $$;
CREATE TRIGGER person_link_is_recorded AFTER INSERT OR UPDATE ON person_link FOR EACH ROW EXECUTE FUNCTION record_link();

CREATE FUNCTION record_session() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
DECLARE
	workspace bigint := (SELECT workspace_id FROM actor WHERE id = NEW.actor_id);
BEGIN
	IF TG_OP = 'INSERT' THEN
		IF NEW.created_at <> now() OR NEW.proved_at <> now() OR NEW.ended_at IS NOT NULL
			OR NOT EXISTS (SELECT FROM actor JOIN person_proof ON actor_id = id WHERE id = NEW.actor_id AND ended_at IS NULL AND password IS NOT NULL)
		THEN
			RAISE EXCEPTION 'INSERT of session refused: it begins now, of a person with a password' USING ERRCODE = 'insufficient_privilege';
		END IF;
		PERFORM record_event(workspace, 'signed in', NEW.actor_id, NEW.browser, NEW.actor_id);
		RETURN NULL;
	END IF;
	IF OLD.ended_at IS NOT NULL OR (NEW.proved_at, NEW.ended_at) IS DISTINCT FROM (OLD.proved_at, OLD.ended_at)
		AND NOT (coalesce(NEW.ended_at, now()) = now() AND NEW.proved_at IN (OLD.proved_at, now()))
	THEN
		RAISE EXCEPTION 'UPDATE of session refused: one that ended stays ended' USING ERRCODE = 'insufficient_privilege';
	END IF;
	IF NEW.ended_at IS NOT NULL THEN
		PERFORM record_event(workspace, 'session ended', NEW.actor_id, NEW.browser, NEW.actor_id);
		PERFORM pg_notify('ventrel_access', NEW.actor_id::text);
	END IF;
	RETURN NULL;
END $$;
CREATE TRIGGER session_is_recorded AFTER INSERT OR UPDATE ON session FOR EACH ROW EXECUTE FUNCTION record_session();

CREATE FUNCTION record_setting() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
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
CREATE TRIGGER kept_view_is_recorded AFTER INSERT OR DELETE ON kept_view FOR EACH ROW EXECUTE FUNCTION record_setting();
CREATE TRIGGER workspace_is_recorded AFTER UPDATE OF alarm_chance ON workspace FOR EACH ROW EXECUTE FUNCTION record_setting();
CREATE TRIGGER access_is_recorded AFTER UPDATE OF second_factor ON access FOR EACH ROW EXECUTE FUNCTION record_setting();

-- What nobody's row tells: what was refused, and by whom a sign-in was tried.
CREATE FUNCTION check_event() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
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
CREATE TRIGGER access_event_is_of_now AFTER INSERT ON access_event FOR EACH ROW EXECUTE FUNCTION check_event();

GRANT SELECT ON actor, person_proof, person_link, token_proof, session, sign_in_failure, access_event, live_key TO ventrel_application;
GRANT SELECT (only_one, sign_in, second_factor, inbox), UPDATE (second_factor) ON access TO ventrel_application;
GRANT INSERT (workspace_id, kind, name, role, created_by), UPDATE (role, ended_at, ended_by) ON actor TO ventrel_application;
GRANT INSERT (actor_id), UPDATE (password, second_factor, second_factor_step) ON person_proof TO ventrel_application;
GRANT INSERT (sha256, actor_id), UPDATE (used_at) ON person_link TO ventrel_application;
GRANT INSERT (actor_id, sha256, ends_at), UPDATE (used_at) ON token_proof TO ventrel_application;
GRANT INSERT (actor_id, sha256, browser), UPDATE (proved_at, used_at, ended_at) ON session TO ventrel_application;
GRANT INSERT, UPDATE, DELETE ON sign_in_failure TO ventrel_application;
GRANT INSERT (workspace_id, kind, done_by, about, words) ON access_event TO ventrel_application;

-- Down Migration

-- Names stand where keys stood; people and what they did with their access are forgotten.
DO $$
DECLARE
	named text;
BEGIN
	FOREACH named IN ARRAY ARRAY['item', 'raw_text', 'data_change', 'layer_entry', 'item_change', 'hide_entry', 'kept_view', 'sweep'] LOOP
		EXECUTE format('DROP TRIGGER %1$s_is_by_whom_acts ON %1$I', named);
		EXECUTE format('ALTER TABLE %1$I DROP CONSTRAINT %1$s_workspace_id_created_by_fkey, ALTER COLUMN created_by DROP DEFAULT', named);
	END LOOP;
END $$;
DROP INDEX data_change_newest, layer_entry_newest, item_change_newest, hide_entry_newest, sweep_newest, adopted_forecast_newest, item_by;
DROP TRIGGER adopted_forecast_is_by_whom_acts ON adopted_forecast;
DROP TRIGGER adopted_forecast_is_of_its_sweep ON adopted_forecast;
DROP TRIGGER kept_view_is_recorded ON kept_view;
DROP TRIGGER workspace_is_recorded ON workspace;
DROP TRIGGER sweep_stays ON sweep;
DROP TRIGGER sweep_row_stays ON sweep_row;
DROP TRIGGER actual_comes_with_its_change ON actual;
DROP TRIGGER raw_piece_comes_with_its_text ON raw_piece;
ALTER TABLE sweep DROP CONSTRAINT sweep_workspace_id_stopped_by_fkey;
ALTER TABLE adopted_forecast DROP CONSTRAINT adopted_forecast_workspace_id_adopted_by_fkey, ALTER COLUMN adopted_by DROP DEFAULT, DROP COLUMN sweep_id;
ALTER TABLE item ALTER COLUMN created_by TYPE text USING actor_name(created_by);
ALTER TABLE raw_text ALTER COLUMN created_by TYPE text USING actor_name(created_by);
ALTER TABLE data_change ALTER COLUMN created_by TYPE text USING actor_name(created_by);
ALTER TABLE layer_entry ALTER COLUMN created_by TYPE text USING actor_name(created_by);
ALTER TABLE item_change ALTER COLUMN created_by TYPE text USING actor_name(created_by);
ALTER TABLE hide_entry ALTER COLUMN created_by TYPE text USING actor_name(created_by);
ALTER TABLE kept_view ALTER COLUMN created_by TYPE text USING actor_name(created_by);
ALTER TABLE sweep ALTER COLUMN created_by TYPE text USING actor_name(created_by), ALTER COLUMN stopped_by TYPE text USING actor_name(stopped_by);
ALTER TABLE adopted_forecast ALTER COLUMN adopted_by TYPE text USING actor_name(adopted_by);
CREATE INDEX item_of_demo ON item (workspace_id) WHERE created_by = 'demo' AND retired_at IS NULL;
CREATE OR REPLACE FUNCTION record_item_change() RETURNS trigger
	LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
DECLARE
	made_by text := coalesce(nullif(current_setting('ventrel.by', true), ''), session_user);
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
CREATE FUNCTION record_labels() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, public, pg_temp AS $$
BEGIN
	IF NEW.labels <> OLD.labels AND OLD.created_at <> now() THEN
		INSERT INTO item_change (workspace_id, item_id, kind, code, name, unit, reason, created_by, labels)
		VALUES (OLD.workspace_id, OLD.id, 'labelled', NEW.code, NEW.name, NEW.unit,
			coalesce(current_setting('ventrel.reason', true), ''),
			coalesce(nullif(current_setting('ventrel.by', true), ''), session_user), OLD.labels);
	END IF;
	RETURN NULL;
END $$;
DROP TRIGGER item_changes_are_recorded ON item;
CREATE TRIGGER item_changes_are_recorded AFTER UPDATE OF code, name, unit, retired_at, carry, lead_time, price ON item
	FOR EACH ROW EXECUTE FUNCTION record_item_change();
CREATE TRIGGER item_labels_are_recorded AFTER UPDATE OF labels ON item FOR EACH ROW EXECUTE FUNCTION record_labels();
DROP VIEW live_key;
DROP TABLE access_event, sign_in_failure, session, token_proof, person_link, person_proof, access, actor;
DROP FUNCTION act, acting, who_acts, seal, owner_writes, is_owner, actor_name, check_who, check_sweep_of_record, check_own_change, check_own_text, keep_sweep, keep_sweep_row,
	record_event, check_actor, record_proof, record_link, record_session, record_setting, check_event;
GRANT UPDATE ON kept_view TO ventrel_application;
GRANT UPDATE, DELETE ON sweep, sweep_batch, sweep_row TO ventrel_application;
