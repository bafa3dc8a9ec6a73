-- Up Migration

-- Sweeps that calculate stock for a service level: over how many periods, how much, and how much what was adopted then says.
ALTER TABLE sweep_row ADD COLUMN lead integer, ADD COLUMN stock double precision, ADD COLUMN stock_before double precision;
ALTER TABLE sweep DROP CONSTRAINT sweep_kind_check;
ALTER TABLE sweep ADD CONSTRAINT sweep_kind_check CHECK (kind IN ('propose', 'update', 'try', 'stock', 'share', 'adopt'));

-- Down Migration

DELETE FROM sweep_row USING sweep WHERE sweep.workspace_id = sweep_row.workspace_id AND sweep.id = sweep_id AND kind = 'stock';
DELETE FROM sweep_batch USING sweep WHERE sweep.workspace_id = sweep_batch.workspace_id AND sweep.id = sweep_id AND kind = 'stock';
DELETE FROM sweep WHERE kind = 'stock';
ALTER TABLE sweep DROP CONSTRAINT sweep_kind_check;
ALTER TABLE sweep ADD CONSTRAINT sweep_kind_check CHECK (kind IN ('propose', 'update', 'try', 'share', 'adopt'));
ALTER TABLE sweep_row DROP COLUMN lead, DROP COLUMN stock, DROP COLUMN stock_before;
