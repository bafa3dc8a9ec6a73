-- Up Migration

-- Said once: which record of an item is the newest, and which revision of each of its periods is the latest. As functions and not as
-- views: they are put in where they are asked for, item by item, so that each asks its index; a view that is joined item by item
-- would be made of all items first.
CREATE FUNCTION newest_record(workspace bigint, item bigint) RETURNS SETOF adopted_forecast LANGUAGE sql STABLE AS $$
	SELECT * FROM adopted_forecast f WHERE f.workspace_id = workspace AND f.item_id = item ORDER BY f.id DESC LIMIT 1
$$;

-- As known after a change; null for now.
CREATE FUNCTION latest_actual(workspace bigint, item bigint, change bigint DEFAULT NULL) RETURNS SETOF actual LANGUAGE sql STABLE AS $$
	SELECT DISTINCT ON (a.period) * FROM actual a
	WHERE a.workspace_id = workspace AND a.item_id = item AND (change IS NULL OR a.data_change_id <= change)
	ORDER BY a.period, a.revision DESC
$$;

-- Down Migration

DROP FUNCTION newest_record;
DROP FUNCTION latest_actual;
