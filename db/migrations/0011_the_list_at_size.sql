-- Up Migration

-- Where windows of a list begin is read from the index of its order alone: those that have no figure stand in it too, and
-- whether an item is retired.
DROP INDEX standing_by_place, standing_by_next, standing_by_miss, standing_by_mad, standing_by_mape, standing_by_bias, standing_by_signal;
CREATE INDEX standing_by_place ON standing (workspace_id, place, less, code) INCLUDE (retired);
CREATE INDEX standing_by_next ON standing (workspace_id, next, code) INCLUDE (retired);
CREATE INDEX standing_by_miss ON standing (workspace_id, miss, code) INCLUDE (retired);
CREATE INDEX standing_by_mad ON standing (workspace_id, mad, code) INCLUDE (retired);
CREATE INDEX standing_by_mape ON standing (workspace_id, mape, code) INCLUDE (retired);
CREATE INDEX standing_by_bias ON standing (workspace_id, bias, code) INCLUDE (retired);
CREATE INDEX standing_by_signal ON standing (workspace_id, signal, code) INCLUDE (retired);

-- And so is what is counted over all of it (`loadAlike` in newest.ts): the rows themselves are wide.
DROP INDEX standing_by_code;
CREATE INDEX standing_by_code ON standing (workspace_id, code)
	INCLUDE (retired, sum, frequency, method, why, place, put_aside_id, waits, newest_period, newest_inside);
