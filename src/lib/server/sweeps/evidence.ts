import type { Queryable } from '../database/database';
import { withGroups } from '../items/lending';
import type { AdoptedRow } from '../records/records';
import { loadSeen, type SeenItem } from '../items/seen';

/** What a sweep has to know of its items. */
export interface SweptItem extends SeenItem {
	/** Its newest record. */
	before: NewestRecord | null;
}

export interface NewestRecord extends Pick<
	AdoptedRow,
	| 'id'
	| 'item_id'
	| 'label'
	| 'request'
	| 'step_count'
	| 'asked'
	| 'held'
	| 'rounding'
	| 'together'
	| 'data_change_id'
	| 'layer_entry_id'
> {
	steps: {
		period: number;
		final: number;
		changedTo: number | null;
		changeRate: number | null;
		changeReason: string | null;
	}[];
}

/** Items by id, as they are at one moment, with what their groups lend them and their newest records; in the order of the ids. */
export async function loadSwept(
	client: Queryable,
	workspaceId: number,
	ids: readonly number[],
): Promise<SweptItem[]> {
	const { rows: records } = await client.query<NewestRecord>(
		`SELECT newest.id, newest.item_id, newest.label, newest.request, newest.step_count, newest.asked, newest.held, newest.rounding, newest.together,
			newest.data_change_id, newest.layer_entry_id, (
				SELECT json_agg(json_build_object('period', s.period, 'final', s.final, 'changedTo', s.changed_to, 'changeRate', s.change_rate,
					'changeReason', s.change_reason) ORDER BY s.step)
				FROM adopted_step s WHERE s.workspace_id = $1 AND s.adopted_forecast_id = newest.id
			) AS steps
		FROM unnest($2::bigint[]) AS wanted (id)
		CROSS JOIN LATERAL newest_record($1, wanted.id) newest`,
		[workspaceId, ids],
	);
	const newest = new Map(records.map((record) => [record.item_id, record]));
	const items = await withGroups(client, workspaceId, await loadSeen(client, workspaceId, ids));
	return items.map((seen) => ({
		...seen,
		before: newest.get(seen.item.id) ?? null,
	}));
}
