import { isDeepStrictEqual } from 'node:util';
import { pairsOf } from '../../wire/labels';
import type { Item, ItemChange } from '../../wire/items';
import type { ItemStatus } from '../../wire/status';
import { loadSeries, newestChange } from '../items/actuals';
import { type Queryable, snapshot } from '../database/database';
import { findItem, type ItemRecord, lockItem } from '../items/item-records';
import { loadItemLayers } from '../items/layer-entries';
import { withGroups } from '../items/lending';
import { loadLineUp } from '../items/line-ups';
import { shownStatus, STATUS_SHOWN, type StatusColumns } from './list';
import { loadAdopted } from '../records/records';
import { Refusal } from '../refusal';
import { type Actor, changing } from '../database/workspaces';

/** An item with its figures, line-up and adopted forecast, all as they are at one moment. */
export const loadItem = (workspaceId: number, code: string): Promise<Item> =>
	snapshot(async (client) => {
		const item = await findItem(client, workspaceId, code);
		const series = await loadSeries(workspaceId, item.id, null, client);
		const { rows } = await client.query<{ count: number }>(
			'SELECT count(*) FROM adopted_forecast WHERE workspace_id = $1 AND item_id = $2',
			[workspaceId, item.id],
		);
		const [adopted] = await loadAdopted(client, workspaceId, item.id, { most: 1 });
		const layers = await loadItemLayers(client, workspaceId, item.id);
		const { frequency, season_length: seasonLength } = item;
		const seen = { actuals: series, frequency, seasonLength, layers: layers.layers, group: null };
		const [lent] = await withGroups(client, workspaceId, [{ item, seen }]);
		return {
			code: item.code,
			name: item.name,
			unit: item.unit,
			series: { ...series, frequency: item.frequency, seasonLength: item.season_length },
			seen: await newestChange(client, workspaceId, item.id),
			layers,
			group: lent!.seen.group,
			lineUp: await loadLineUp(client, workspaceId, item.id, item.line_up_version),
			adopted: adopted ?? null,
			plan: planOf(item),
			labels: pairsOf(item.labels),
			sumOf: item.sum_of && { unit: item.sum_of.unit, labels: pairsOf(item.sum_of.labels) },
			status: await loadStatus(client, workspaceId, item.id),
			adoptedCount: rows[0]!.count,
			retiredAt: item.retired_at?.toISOString() ?? null,
			changes: await loadChanges(client, workspaceId, item.id),
		};
	});

const planOf = ({ carry, lead_time, price }: ItemRecord): Item['plan'] => ({
	carry,
	leadTime: lead_time,
	price,
});

const CHANGES = 50;

async function loadChanges(
	database: Queryable,
	workspaceId: number,
	itemId: number,
): Promise<Item['changes']> {
	const { rows } = await database.query<
		Omit<Item['changes'][number], 'labels'> & { labels: Record<string, string> | null }
	>(
		`SELECT kind, code, name, unit, plan, labels, reason, actor_name(created_by) AS by, to_json(created_at) #>> '{}' AS at
		FROM item_change WHERE workspace_id = $1 AND item_id = $2 ORDER BY id DESC LIMIT ${CHANGES}`,
		[workspaceId, itemId],
	);
	return rows.map((row) => ({ ...row, labels: row.labels && pairsOf(row.labels) }));
}

/**
 * Renames or labels an item, retires it, brings it back, or changes how it is planned with; the database writes down what it was.
 * @throws Refusal 409 where it was changed since its changer looked, or the code is taken
 */
export async function changeItem(actor: Actor, code: string, change: ItemChange): Promise<Item> {
	const { workspaceId } = actor;
	const now = await changing(
		actor,
		async (client) => {
			const item = await lockItem(client, workspaceId, code);
			const { seen } = change;
			if (
				item.code !== seen.code ||
				item.name !== seen.name ||
				item.unit !== seen.unit ||
				(item.retired_at !== null) !== seen.retired ||
				(seen.plan && !samePlan(seen.plan, planOf(item))) ||
				(seen.labels && !isDeepStrictEqual(Object.fromEntries(seen.labels), item.labels))
			) {
				throw new Refusal(
					409,
					`It was changed since you opened it: it is ${item.code}, ${item.name}${item.unit && `, in ${item.unit}`}${item.retired_at ? ', retired' : ''} now. Check it again.`,
				);
			}
			const wanted = {
				code: change.code ?? item.code,
				name: change.name ?? item.name,
				unit: change.unit ?? item.unit,
				plan: change.plan ?? planOf(item),
				labels: change.labels ? Object.fromEntries(change.labels) : item.labels,
			};
			if (wanted.code !== item.code) await refuseTakenCode(client, workspaceId, wanted.code);
			const retired = change.retired ?? seen.retired;
			await client.query(
				`UPDATE item SET code = $3, name = $4, unit = $5,
				retired_at = CASE WHEN $6 THEN coalesce(retired_at, now()) END,
				carry = $7, lead_time = $8, price = $9, labels = $10
			WHERE workspace_id = $1 AND id = $2`,
				[
					workspaceId,
					item.id,
					wanted.code,
					wanted.name,
					wanted.unit,
					retired,
					wanted.plan.carry,
					wanted.plan.leadTime,
					wanted.plan.price,
					wanted.labels,
				],
			);
			return wanted.code;
		},
		change.reason,
	);
	return loadItem(workspaceId, now);
}

const samePlan = (a: Item['plan'], b: Item['plan']): boolean =>
	a.carry === b.carry && a.leadTime === b.leadTime && a.price === b.price;

async function refuseTakenCode(client: Queryable, workspaceId: number, code: string): Promise<void> {
	const { rows } = await client.query<{ name: string }>(
		'SELECT name FROM item WHERE workspace_id = $1 AND code = $2',
		[workspaceId, code],
	);
	if (!rows[0]) return;
	const message = `The code ${code} is taken by ${rows[0].name}. Choose another one.`;
	throw new Refusal(409, message, [{ path: 'code', message }]);
}

/** How an item stands; null while that is being calculated. */
async function loadStatus(
	database: Queryable,
	workspaceId: number,
	itemId: number,
): Promise<ItemStatus | null> {
	const { rows } = await database.query<StatusColumns>(
		`SELECT ${STATUS_SHOWN} FROM item_status WHERE item_status.workspace_id = $1 AND item_status.item_id = $2`,
		[workspaceId, itemId],
	);
	return rows[0] ? shownStatus(rows[0]) : null;
}
