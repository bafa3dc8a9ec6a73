-- Up Migration

-- What is done to many items at once: by whom, to which, with which settings, and what came of it.
CREATE TABLE sweep (
	id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
	workspace_id bigint NOT NULL REFERENCES workspace,
	kind text NOT NULL CHECK (kind IN ('propose', 'carry-on', 'try', 'adopt')),
	-- What the list was asked for; null where items were named one by one.
	asked jsonb,
	settings jsonb NOT NULL DEFAULT '{}',
	-- Of adopting: the sweep whose rows are adopted, and the reason that stays with each record.
	of_sweep bigint,
	reason text NOT NULL DEFAULT '' CHECK (length(reason) <= 2000),
	items integer NOT NULL CHECK (items >= 0),
	created_at timestamptz NOT NULL DEFAULT now(),
	created_by text NOT NULL,
	stopped_at timestamptz,
	stopped_by text,
	ended_at timestamptz,
	UNIQUE (workspace_id, id),
	FOREIGN KEY (workspace_id, of_sweep) REFERENCES sweep (workspace_id, id),
	CHECK ((of_sweep IS NOT NULL) = (kind = 'adopt')),
	CHECK ((stopped_at IS NULL) = (stopped_by IS NULL) AND (stopped_at IS NULL OR ended_at IS NOT NULL))
);

-- A part of a sweep that is done or not done as a whole.
CREATE TABLE sweep_batch (
	workspace_id bigint NOT NULL,
	sweep_id bigint NOT NULL,
	number integer NOT NULL,
	item_ids bigint[] NOT NULL,
	-- How often it went wrong; after the third time it is set apart with what was said then.
	failures integer NOT NULL DEFAULT 0,
	failed text,
	ended_at timestamptz,
	PRIMARY KEY (workspace_id, sweep_id, number),
	FOREIGN KEY (workspace_id, sweep_id) REFERENCES sweep (workspace_id, id),
	CHECK (failed IS NULL OR ended_at IS NOT NULL)
);
CREATE INDEX sweep_batch_open ON sweep_batch (workspace_id, sweep_id) WHERE ended_at IS NULL;

-- What came of one item: once, whoever works it out and however often.
CREATE TABLE sweep_row (
	workspace_id bigint NOT NULL,
	sweep_id bigint NOT NULL,
	item_id bigint NOT NULL,
	code text COLLATE "C" NOT NULL,
	-- Why nothing came of it, in words.
	refused text,
	-- What is proposed or was adopted.
	label text,
	method text,
	-- What it is held against: what was adopted then.
	label_before text,
	-- How much less it misses by than what is adopted, as a share of that, whether that is more than the noise, and the sums of errors of
	-- both and of what came, over the same earlier periods.
	gain double precision,
	clear boolean,
	missed double precision,
	missed_before double precision,
	came double precision,
	-- The first figure that it says, and what is handed over for that period now.
	next double precision,
	next_before double precision,
	-- The measures of what was compared.
	measures json,
	-- What was seen of the item, and what goes on record where it is adopted as it stands here.
	seen bigint,
	seen_layers bigint,
	ready json,
	-- The record that was made of it.
	record_id bigint,
	PRIMARY KEY (workspace_id, sweep_id, item_id),
	FOREIGN KEY (workspace_id, sweep_id) REFERENCES sweep (workspace_id, id),
	FOREIGN KEY (workspace_id, item_id) REFERENCES item (workspace_id, id),
	FOREIGN KEY (workspace_id, item_id, record_id) REFERENCES adopted_forecast (workspace_id, item_id, id)
);
CREATE INDEX sweep_row_by_code ON sweep_row (workspace_id, sweep_id, code);
CREATE INDEX sweep_row_by_gain ON sweep_row (workspace_id, sweep_id, gain, code) WHERE gain IS NOT NULL;

-- Processes that work sweeps off, told dead from living by a lock that each holds as long as it is connected.
CREATE TABLE worker_process (
	id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
	host text NOT NULL,
	process integer NOT NULL,
	-- As the jobs that it holds name it.
	workers text[] NOT NULL DEFAULT '{}',
	started_at timestamptz NOT NULL DEFAULT now()
);

-- Whoever listens hears that items were touched.
CREATE FUNCTION tell_of_touched() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	NOTIFY ventrel_touched;
	RETURN NULL;
END $$;
CREATE TRIGGER touched_is_told AFTER INSERT ON touched FOR EACH STATEMENT EXECUTE FUNCTION tell_of_touched();

GRANT SELECT, INSERT, UPDATE, DELETE ON sweep, sweep_batch, sweep_row, worker_process TO ventrel_application;

-- Down Migration

DROP TRIGGER touched_is_told ON touched;
DROP FUNCTION tell_of_touched;
DROP TABLE worker_process, sweep_row, sweep_batch, sweep;
