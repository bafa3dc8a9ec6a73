-- Up Migration

-- Figures of a kind of sweep by their names, and which kinds there are: both are said in one place, by the program.
ALTER TABLE sweep_row ADD COLUMN figures jsonb;
ALTER TABLE sweep DROP CONSTRAINT sweep_kind_check;

-- Down Migration

DELETE FROM sweep_row USING sweep WHERE sweep.workspace_id = sweep_row.workspace_id AND sweep.id = sweep_id AND kind = 'stock';
DELETE FROM sweep_batch USING sweep WHERE sweep.workspace_id = sweep_batch.workspace_id AND sweep.id = sweep_id AND kind = 'stock';
DELETE FROM sweep WHERE kind = 'stock';
ALTER TABLE sweep ADD CONSTRAINT sweep_kind_check CHECK (kind IN ('propose', 'update', 'try', 'share', 'adopt'));
ALTER TABLE sweep_row DROP COLUMN figures;
