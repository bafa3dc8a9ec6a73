import { isDeepStrictEqual } from 'node:util';
import { REASONS, type Reason, weighed, whyNotIn } from '$core/grading/standing';
import type { Frequency } from '$core/series/frequency';
import type { Item, ItemChange, ItemList, ItemRow, ItemStanding } from '../shapes';
import { loadSeries, newestChange, spread } from './actuals';
import { type Queryable, snapshot, transaction } from './database';
import { findItem, type ItemRecord, lockItem } from './item-records';
import { loadLineUp } from './line-ups';
import { loadItemLayers } from './layer-entries';
import { loadAdopted } from './records';
import { Refusal } from './refusal';
import { alarmChance, type NewestOf, newestPeriods, newestStandings } from './standing';
import type { Actor } from './workspaces';

const RECENT = 48;

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
		return {
			code: item.code,
			name: item.name,
			unit: item.unit,
			series: { ...series, frequency: item.frequency, seasonLength: item.season_length },
			seen: await newestChange(client, workspaceId, item.id),
			layers: await loadItemLayers(client, workspaceId, item.id),
			lineUp: await loadLineUp(client, workspaceId, item.id, item.line_up_version),
			adopted: adopted ?? null,
			plan: planOf(item),
			labels: item.labels,
			standing: await loadStanding(client, workspaceId, item),
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
	const { rows } = await database.query<Item['changes'][number]>(
		`SELECT kind, code, name, unit, plan, labels, reason, created_by AS by, to_json(created_at) #>> '{}' AS at
		FROM item_change WHERE workspace_id = $1 AND item_id = $2 ORDER BY id DESC LIMIT ${CHANGES}`,
		[workspaceId, itemId],
	);
	return rows;
}

/**
 * Renames or labels an item, retires it, brings it back, or changes how it is planned with; the database writes down what it was.
 * @throws Refusal 409 where it was changed since its changer looked, or the code is taken
 */
export async function changeItem(actor: Actor, code: string, change: ItemChange): Promise<Item> {
	const { workspaceId, name: by } = actor;
	const now = await transaction(async (client) => {
		const item = await lockItem(client, workspaceId, code);
		const { seen } = change;
		if (
			item.code !== seen.code ||
			item.name !== seen.name ||
			item.unit !== seen.unit ||
			(item.retired_at !== null) !== seen.retired ||
			(seen.plan && !samePlan(seen.plan, planOf(item))) ||
			(seen.labels && !isDeepStrictEqual(seen.labels, item.labels))
		) {
			throw new Refusal(
				409,
				`It was changed since it was looked at: it is ${item.code}, ${item.name}${item.unit && `, in ${item.unit}`}${item.retired_at ? ', retired' : ''} now. Look once more.`,
			);
		}
		const wanted = {
			code: change.code ?? item.code,
			name: change.name ?? item.name,
			unit: change.unit ?? item.unit,
			plan: change.plan ?? planOf(item),
			labels: change.labels ?? item.labels,
		};
		if (wanted.code !== item.code) await refuseTakenCode(client, workspaceId, wanted.code);
		const retired = change.retired ?? seen.retired;
		await client.query(`SELECT set_config('ventrel.by', $1, true), set_config('ventrel.reason', $2, true)`, [
			by,
			change.reason,
		]);
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
	});
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

interface StandingColumns {
	reasons: Reason[] | null;
	newest: ItemStanding['newest'];
	score: ItemStanding['score'];
	aside: ItemStanding['aside'];
}

/** Standing as it is kept, of rows that have an item. */
const STANDING_COLUMNS = `standing.reasons, standing.newest, standing.score,
	CASE WHEN put_aside.id IS NOT NULL THEN json_build_object('words', put_aside.words, 'by', put_aside.created_by,
		'at', to_json(put_aside.created_at) #>> '{}') END AS aside`;
const STANDING_JOINS = `LEFT JOIN standing ON standing.workspace_id = item.workspace_id AND standing.item_id = item.id
	LEFT JOIN put_aside ON put_aside.id = standing.put_aside_id`;

/** Standing with what rests on other items too; null while it is being worked out. */
function standingOfRow(
	{ reasons, newest, score, aside }: StandingColumns,
	frequency: Frequency,
	last: number | null,
	periods: readonly NewestOf[],
): ItemStanding | null {
	if (!reasons) return null;
	const period = periods.find((each) => each.frequency === frequency) ?? null;
	const waiting = whyNotIn(last, period, reasons[0]?.stake ?? Math.abs(newest?.actual ?? 0));
	return { reasons: waiting ? weighed([...reasons, waiting]) : reasons, newest, score, aside };
}

/** How an item stands. */
export async function loadStanding(
	database: Queryable,
	workspaceId: number,
	{ id, frequency }: Pick<ItemRecord, 'id' | 'frequency'>,
): Promise<ItemStanding | null> {
	const { rows } = await database.query<StandingColumns & { last: number | null }>(
		`SELECT ${STANDING_COLUMNS}, standing.last_period AS last FROM item ${STANDING_JOINS}
		WHERE item.workspace_id = $1 AND item.id = $2`,
		[workspaceId, id],
	);
	const newest = await newestPeriods(workspaceId, database);
	return standingOfRow(rows[0]!, frequency, rows[0]!.last, newest);
}

interface ListRow extends StandingColumns {
	code: string;
	name: string;
	unit: string;
	frequency: Frequency;
	periods: number;
	recent: { period: number; value: number | null }[] | null;
	price: number | null;
	labels: ItemRow['labels'];
	label: string | null;
	ahead: number[] | null;
	last: number | null;
	retired: boolean;
}

/** All items with how they stand, those to look at first, and what is said over them. */
export const listItems = (workspaceId: number): Promise<ItemList> =>
	snapshot(async (client) => {
		const { rows } = await client.query<ListRow>(
			`SELECT item.code, item.name, item.unit, item.frequency, item.price, item.labels, item.retired_at IS NOT NULL AS retired,
				extent.periods, latest.recent, adopted.label, steps.ahead,
				standing.last_period AS last, ${STANDING_COLUMNS}
			FROM item
			${STANDING_JOINS}
			LEFT JOIN LATERAL (
				SELECT max(period) - min(period) + 1 AS periods
				FROM actual WHERE actual.workspace_id = item.workspace_id AND actual.item_id = item.id
			) extent ON true
			LEFT JOIN LATERAL (
				SELECT json_agg(json_build_object('period', period, 'value', value) ORDER BY period) AS recent,
					max(period) AS last
				FROM (
					SELECT DISTINCT ON (period) period, value
					FROM actual
					WHERE actual.workspace_id = item.workspace_id AND actual.item_id = item.id
					ORDER BY period DESC, revision DESC
					LIMIT ${RECENT}
				) newest
			) latest ON true
			LEFT JOIN LATERAL (
				SELECT id, label, origin
				FROM adopted_forecast f
				WHERE f.workspace_id = item.workspace_id AND f.item_id = item.id
				ORDER BY id DESC
				LIMIT 1
			) adopted ON true
			LEFT JOIN LATERAL (
				SELECT json_agg(final ORDER BY step) AS ahead
				FROM adopted_step s
				WHERE s.workspace_id = item.workspace_id AND s.adopted_forecast_id = adopted.id
					AND s.period > coalesce(latest.last, adopted.origin) AND s.period <= coalesce(latest.last, adopted.origin) + 12
			) steps ON true
			WHERE item.workspace_id = $1
			ORDER BY item.code`,
			[workspaceId],
		);
		const newest = await newestStandings(workspaceId, client);
		const items = rows.map((row) => listRow(row, newest));
		return {
			items: items.sort(byStake),
			newest,
			watching: { alarmChance: await alarmChance(workspaceId, client) },
		};
	});

/** Those to look at first: by the weight of their first reason, then by what is at stake; retired ones last. Sorting keeps the order of codes. */
function byStake(a: ItemRow, b: ItemRow): number {
	const place = ({ retired, standing }: ItemRow) => {
		const [first] = standing?.reasons ?? [];
		if (retired) return REASONS.length + 2;
		return !first ? REASONS.length + 1 : standing!.aside ? REASONS.length : REASONS.indexOf(first.code);
	};
	const stake = ({ standing, price }: ItemRow) => (standing?.reasons[0]?.stake ?? 0) * (price ?? 1);
	return place(a) - place(b) || stake(b) - stake(a);
}

function listRow(row: ListRow, newest: readonly NewestOf[]): ItemRow {
	const { first, values } = spread(row.recent ?? []);
	const last = first + values.length - 1;
	return {
		code: row.code,
		name: row.name,
		unit: row.unit,
		frequency: row.frequency,
		periods: row.periods ?? 0,
		last,
		recent: values,
		price: row.price,
		labels: row.labels,
		adopted: row.label === null ? null : { label: row.label, ahead: row.ahead ?? [], nextPeriod: last + 1 },
		standing: row.retired ? null : standingOfRow(row, row.frequency, row.last, newest),
		retired: row.retired,
	};
}
