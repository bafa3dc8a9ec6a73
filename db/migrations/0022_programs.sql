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

-- Down Migration

DROP TABLE request_once;
