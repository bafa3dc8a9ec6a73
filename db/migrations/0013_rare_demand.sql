-- Up Migration

-- The list says of each item whether its demand is rare: rows are made anew.
INSERT INTO touched (workspace_id, item_id) SELECT workspace_id, id FROM item;

-- Down Migration

-- Nothing to undo: versions before this one leave that part of a row unread.
