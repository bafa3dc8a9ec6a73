-- Up Migration

-- The last table of a make is looked for whenever one is looked at.
CREATE INDEX data_change_make ON data_change (workspace_id, (reading ->> 'make'), id DESC) WHERE reading ? 'make';

-- Down Migration

DROP INDEX data_change_make;
