import type { Asked } from '../../wire/asked';
import type { Groups } from '../../wire/groups';
import { Bound, TO_LOOK_AT, whichItems } from '../items/asked-sql';
import { pool } from '../database/database';

/** Sums over items of one unit; over several they would say nothing. */
const SUMS = `count(*) AS items, count(*) FILTER (WHERE ${TO_LOOK_AT} AND NOT item_status.retired) AS look,
	CASE WHEN count(DISTINCT item.unit) = 1 AND count(DISTINCT item.frequency) = 1 THEN sum(next) END AS next,
	count(next) AS foretold,
	CASE WHEN count(DISTINCT item.unit) = 1 THEN min(item.unit) END AS unit,
	CASE WHEN count(DISTINCT item.unit) = 1 THEN 100 * sum(abs_error) / nullif(sum(abs_actual), 0) END AS wape,
	count(*) FILTER (WHERE item_status.rare) AS rare,
	count(*) FILTER (WHERE newest_inside IS NOT NULL AND item_status.newest_period = newest.period) AS graded,
	count(*) FILTER (WHERE newest_inside AND item_status.newest_period = newest.period) AS inside`;

/** What the items that are asked for come to by their labels, and all of them together; sums of others are not counted once more. */
export async function loadGroups(workspaceId: number, asked: Asked, by: readonly string[]): Promise<Groups> {
	const bound = new Bound();
	const labels = by.map((of) => `coalesce(item_status.labels ->> ${bound.of(of)}, '')`);
	const { rows } = await pool().query<Groups['groups'][number] & { whole: number }>(
		`SELECT array[${labels.join(', ')}] AS labels, grouping(array[${labels.join(', ')}]) AS whole, ${SUMS}
		FROM item_status
		JOIN item ON item.workspace_id = item_status.workspace_id AND item.id = item_status.item_id
		LEFT JOIN newest_period newest ON newest.workspace_id = item_status.workspace_id AND newest.frequency = item_status.frequency
		WHERE ${whichItems(workspaceId, asked, bound)} AND NOT item_status.sum
		GROUP BY GROUPING SETS ((array[${labels.join(', ')}]), ())
		ORDER BY labels`,
		bound.values,
	);
	const groups: Groups['groups'] = [];
	let all: Groups['all'] = {
		items: 0,
		look: 0,
		next: null,
		foretold: 0,
		unit: null,
		wape: null,
		rare: 0,
		graded: 0,
		inside: 0,
	};
	for (const { whole, labels: own, ...sums } of rows)
		if (whole) all = sums;
		else groups.push({ labels: own, ...sums });
	return { groups, all };
}
