-- Up Migration

ALTER TABLE item DROP CONSTRAINT item_frequency_check;
ALTER TABLE item ADD CONSTRAINT item_frequency_check CHECK (
	frequency IN ('hour', 'day', 'weekday', 'week', 'month', 'quarter', 'half-year', 'year', 'step')
);

-- Down Migration

ALTER TABLE item DROP CONSTRAINT item_frequency_check;
ALTER TABLE item ADD CONSTRAINT item_frequency_check CHECK (
	frequency IN ('hour', 'day', 'weekday', 'week', 'month', 'quarter', 'year', 'step')
);
