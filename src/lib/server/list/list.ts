import { REASONS, type Reason, type ReasonCode } from '$core/grading/reasons';
import { weighed, whyNotIn } from '$core/grading/status';
import { methodOf } from '$core/methods/registry';
import { type Asked, ASKED_ALL, NO_METHOD, NO_METHOD_NAME } from '../../wire/asked';
import { pairsOf } from '../../wire/labels';
import type { ItemRow, ItemWindow, KeptView, Overview, Places } from '../../wire/list';
import type { Place } from '../../wire/parts';
import type { ItemStatus } from '../../wire/status';
import { type Bound, LIST_ORDERS, placeOf, placesOf, walk, whichItems } from '../items/asked-sql';
import { OWN_KEYS } from '../../wire/list-columns';
import { WINDOW } from '../../wire/query';
import { pool, type Queryable, snapshot } from '../database/database';
import { countOf, loadAlike, NEWEST_OF, shows, type NewestOf, newestStatuses } from '../status/newest';
import { alarmChance } from '../status/status';
import { type Actor, changing } from '../database/workspaces';

/** The list of items: windows of it, where they begin, and what is said over all of it. */

export interface StatusColumns {
	reasons: Reason[] | null;
	newest: ItemStatus['newest'];
	score: ItemStatus['score'];
	hidden: ItemStatus['hidden'];
	last: number | null;
	/** What it waits for; null where it has it. */
	awaited: NewestOf | null;
}

/** What is shown of a row of `item_status`. */
export const STATUS_SHOWN = `item_status.reasons, item_status.newest, item_status.score, item_status.last_period AS last,
	CASE WHEN item_status.hide_entry_id IS NOT NULL THEN (
		SELECT json_build_object('words', words, 'by', actor_name(created_by), 'at', to_json(created_at) #>> '{}')
		FROM hide_entry WHERE hide_entry.id = item_status.hide_entry_id
	) END AS hidden,
	CASE WHEN item_status.waits THEN (
		SELECT to_json(n) FROM (${NEWEST_OF} AND newest_period.frequency = item_status.frequency) n
	) END AS awaited`;

/** Status with what rests on other items too; null while it is being calculated. */
export function shownStatus({
	reasons,
	newest,
	score,
	hidden,
	last,
	awaited,
}: StatusColumns): ItemStatus | null {
	if (!reasons) return null;
	const waiting = whyNotIn(last, awaited, reasons[0]?.stake ?? Math.abs(newest?.actual ?? 0));
	return { reasons: waiting ? weighed([...reasons, waiting]) : reasons, newest, score, hidden };
}

interface ListRow
	extends
		StatusColumns,
		Pick<ItemRow, 'code' | 'name' | 'unit' | 'frequency' | 'retired' | 'shown' | 'figures' | 'sum'> {
	labels: Record<string, string>;
}

const FIGURES = `json_build_object(${OWN_KEYS.map((key) => `'${key}', item_status.${key}`).join(', ')})`;

/** The query of a window; what `walk` asks for. */
export const windowSql =
	(workspaceId: number, asked: Asked) => (bound: Bound, condition: string, order: string, limit: string) =>
		`SELECT item.code, item.name, item.unit, item.frequency, item.labels, item_status.sum, item_status.retired, item_status.shown, ${STATUS_SHOWN},
			${FIGURES} AS figures, ${placeOf(LIST_ORDERS[asked.sort])} AS place
		FROM item_status
		JOIN item ON item.workspace_id = item_status.workspace_id AND item.id = item_status.item_id
		WHERE ${whichItems(workspaceId, asked, bound)} AND ${condition}
		ORDER BY ${order}
		LIMIT ${limit}`;

/**
 * Rows of the list from a place on, as one walk along the index of their order.
 * @param from null for the beginning
 * @throws Refusal 422 for a place of another order
 */
export async function loadWindow(
	workspaceId: number,
	asked: Asked,
	from: Place | null = null,
	most: number = WINDOW,
	database: Queryable = pool(),
): Promise<ItemWindow> {
	const order = LIST_ORDERS[asked.sort];
	const query = windowSql(workspaceId, asked);
	const { rows, next } = await walk<ListRow>(order, asked.down, from, most, query, database);
	return { items: rows.map(listRow), next };
}

function listRow(row: ListRow): ItemRow {
	const { code, name, unit, frequency, labels, shown, figures, retired, sum } = row;
	const status = retired ? null : shownStatus(row);
	return { code, name, unit, frequency, labels: pairsOf(labels), shown, figures, status, retired, sum };
}

/** How many items fit, and where each window of them begins. */
export const loadPlaces = (workspaceId: number, asked: Asked): Promise<Places> =>
	placesOf(
		LIST_ORDERS[asked.sort],
		asked.down,
		(bound, condition) => `FROM item_status WHERE ${whichItems(workspaceId, asked, bound)} AND ${condition}`,
		pool(),
	);

/** What is said over all items, as they are at one moment. */
export const loadOverview = (workspaceId: number): Promise<Overview> =>
	snapshot(async (client) => {
		const alike = await loadAlike(workspaceId, client);
		const { rows: queued } = await client.query<{ items: number }>(
			'SELECT count(DISTINCT item_id) AS items FROM status_queue WHERE workspace_id = $1',
			[workspaceId],
		);
		const listed = alike.filter(({ retired }) => !retired);
		const items = countOf(listed, () => true);
		const sums = countOf(listed, ({ sum }) => sum);
		const reasons = REASONS.map((code): [ReasonCode, number] => [
			code,
			countOf(listed, (each) => shows(each, code)),
		]);
		const { rows: labels } = await client.query<Overview['labels'][number]>(
			`SELECT key AS of, value AS label, sum(items)::bigint AS items
			FROM (
				SELECT labels, count(*) AS items FROM item
				WHERE workspace_id = $1 AND retired_at IS NULL AND sum_of IS NULL GROUP BY labels
			) alike
			CROSS JOIN LATERAL jsonb_each_text(labels)
			GROUP BY 1, 2 ORDER BY 1, 2`,
			[workspaceId],
		);
		return {
			items,
			look: countOf(listed, ({ look }) => look),
			hidden: countOf(listed, ({ hidden }) => hidden),
			sums,
			retired: countOf(alike, ({ retired }) => retired),
			working: queued[0]!.items,
			reasons: Object.fromEntries(reasons.filter(([, count]) => count > 0)),
			methods: counted(listed, ({ method }) => method ?? NO_METHOD).map(({ of: id, items: count }) => ({
				id,
				name: methodName(id),
				items: count,
			})),
			frequencies: counted(listed, ({ frequency }) => frequency).map(({ of, items: count }) => ({
				frequency: of,
				items: count,
			})),
			labels: withThoseWithout(labels, items - sums),
			newest: await newestStatuses(workspaceId, client, alike),
			watching: { alarmChance: await alarmChance(workspaceId, client) },
			views: await loadViews(workspaceId, client),
		};
	});

const methodName = (id: string): string => (id === NO_METHOD ? NO_METHOD_NAME : methodOf(id).name);

/** How many items each one has, those with the most first. */
function counted<Row extends { items: number }, Of extends string>(
	rows: readonly Row[],
	of: (row: Row) => Of,
): { of: Of; items: number }[] {
	const counts = new Map<Of, number>();
	for (const row of rows) counts.set(of(row), (counts.get(of(row)) ?? 0) + row.items);
	return [...counts].map(([each, items]) => ({ of: each, items })).sort((a, b) => b.items - a.items);
}

/** Labels kind by kind, after those of each kind how many items have none of it. */
function withThoseWithout(labels: readonly Overview['labels'][number][], all: number): Overview['labels'] {
	const kinds = [...new Set(labels.map(({ of }) => of))];
	return kinds.flatMap((of) => {
		const own = labels.filter((each) => each.of === of);
		const without = all - own.reduce((sum, { items }) => sum + items, 0);
		return [...own, ...(without > 0 ? [{ of, label: '', items: without }] : [])];
	});
}

/** Kinds of labels that items on the list have, those of most items first. */
export async function loadKinds(workspaceId: number): Promise<string[]> {
	const { rows } = await pool().query<{ of: string }>(
		`SELECT key AS of FROM item_status CROSS JOIN LATERAL jsonb_object_keys(labels) key
		WHERE workspace_id = $1 AND NOT retired AND NOT sum GROUP BY 1 ORDER BY count(*) DESC, 1`,
		[workspaceId],
	);
	return rows.map(({ of }) => of);
}

/** Ways to look at the list that are kept, by name. */
export async function loadViews(
	workspaceId: number,
	database: Queryable = pool(),
): Promise<Overview['views']> {
	const { rows } = await database.query<Overview['views'][number]>(
		'SELECT name, asked FROM kept_view WHERE workspace_id = $1 ORDER BY name',
		[workspaceId],
	);
	// What a view was kept without is as it is usually asked.
	return rows.map(({ name, asked }) => ({ name, asked: { ...ASKED_ALL, ...asked } }));
}

/** Keeps a way to look at the list by its name, or takes it away. */
export async function keepView(actor: Actor, { name, asked }: KeptView): Promise<Overview['views']> {
	const { workspaceId } = actor;
	await changing(actor, async (client) => {
		await client.query('DELETE FROM kept_view WHERE workspace_id = $1 AND name = $2', [workspaceId, name]);
		if (asked !== null)
			await client.query('INSERT INTO kept_view (workspace_id, name, asked) VALUES ($1, $2, $3)', [
				workspaceId,
				name,
				asked,
			]);
	});
	return loadViews(workspaceId);
}
