-- Up Migration

-- Every page asks whether items of the demo are on the list; there are few or none of them among many.
CREATE INDEX item_of_demo ON item (workspace_id) WHERE created_by = 'demo' AND retired_at IS NULL;

-- Down Migration

DROP INDEX item_of_demo;
