import type { Asked } from '../../wire/asked';
import type { Groups } from '../../wire/groups';
import { Bound, TO_LOOK_AT, whichItems } from '../items/asked-sql';
import { pool } from '../database/database';

/** What is counted and added up of items that share labels, unit and frequency: plain sums, which several cores can share. */
const COUNTED = `count(*) AS items, count(*) FILTER (WHERE ${TO_LOOK_AT} AND NOT item_status.retired) AS look,
	sum(next) AS next, count(next) AS foretold, sum(abs_error) AS abs_error, sum(abs_actual) AS abs_actual,
	count(*) FILTER (WHERE rare) AS rare,
	count(*) FILTER (WHERE newest_inside IS NOT NULL AND newest_period = newest.period) AS graded,
	count(*) FILTER (WHERE newest_inside AND newest_period = newest.period) AS inside`;

/** Sums over items of one unit; over several they would say nothing. */
const SUMS = `coalesce(sum(items), 0)::bigint AS items, coalesce(sum(look), 0)::bigint AS look,
	CASE WHEN count(DISTINCT unit) = 1 AND count(DISTINCT frequency) = 1 THEN sum(next) END AS next,
	coalesce(sum(foretold), 0)::bigint AS foretold,
	CASE WHEN count(DISTINCT unit) = 1 THEN min(unit) END AS unit,
	CASE WHEN count(DISTINCT unit) = 1 THEN 100 * sum(abs_error) / nullif(sum(abs_actual), 0) END AS wape,
	coalesce(sum(rare), 0)::bigint AS rare, coalesce(sum(graded), 0)::bigint AS graded, coalesce(sum(inside), 0)::bigint AS inside`;

/** What the items that are asked for come to by their labels, and all of them together; sums of others are not counted once more. */
export async function loadGroups(workspaceId: number, asked: Asked, by: readonly string[]): Promise<Groups> {
	const bound = new Bound();
	const labels = by.map((of) => `coalesce(item_status.labels ->> ${bound.of(of)}, '')`);
	const { rows } = await pool().query<Groups['groups'][number] & { whole: number }>(
		`SELECT labels, grouping(labels) AS whole, ${SUMS}
		FROM (
			SELECT array[${labels.join(', ')}] AS labels, item_status.unit, item_status.frequency, ${COUNTED}
			FROM item_status
			LEFT JOIN newest_period newest ON newest.workspace_id = item_status.workspace_id AND newest.frequency = item_status.frequency
			WHERE ${whichItems(workspaceId, asked, bound)} AND NOT item_status.sum
			GROUP BY ${[...labels, 'item_status.unit', 'item_status.frequency'].join(', ')}
		) alike
		GROUP BY GROUPING SETS ((labels), ())
		ORDER BY labels`,
		bound.values,
	);
	const groups: Groups['groups'] = [];
	let all: Groups['all'];
	for (const { whole, labels: own, ...sums } of rows)
		if (whole) all = sums;
		else groups.push({ labels: own, ...sums });
	// Over no items there is a row of all of them too.
	return { groups, all: all! };
}
