-- Up Migration

-- Columns that somebody may choose for the list, sorted by the same kind of index as the others.
ALTER TABLE item_status ADD COLUMN mase double precision, ADD COLUMN value double precision;
CREATE INDEX item_status_by_mase ON item_status (workspace_id, mase, code) INCLUDE (retired);
CREATE INDEX item_status_by_size ON item_status (workspace_id, size, code) INCLUDE (retired);
CREATE INDEX item_status_by_value ON item_status (workspace_id, value, code) INCLUDE (retired);
UPDATE item_status SET score = (score - 'relativeMae') || '{"mase": null}' WHERE score IS NOT NULL;
INSERT INTO status_queue (workspace_id, item_id) SELECT workspace_id, id FROM item;

-- Down Migration

ALTER TABLE item_status DROP COLUMN mase, DROP COLUMN value;
DROP INDEX item_status_by_size;
UPDATE item_status SET score = (score - 'mase') || '{"relativeMae": null}' WHERE score IS NOT NULL;
INSERT INTO status_queue (workspace_id, item_id) SELECT workspace_id, id FROM item;
