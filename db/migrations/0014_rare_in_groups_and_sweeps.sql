-- Up Migration

-- Groups count the items of rare demand among them.
ALTER TABLE standing ADD COLUMN rare boolean NOT NULL GENERATED ALWAYS AS (coalesce(shown ? 'rare', false)) STORED;
-- Whether a row was compared by squared errors; null where that is not known.
ALTER TABLE sweep_row ADD COLUMN rare boolean;

-- Down Migration

ALTER TABLE standing DROP COLUMN rare;
ALTER TABLE sweep_row DROP COLUMN rare;
