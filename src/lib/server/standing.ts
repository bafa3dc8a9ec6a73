import { alarmLimit } from '$core/accuracy/alarm';
import {
	type Came,
	type Grade,
	gradesOf,
	runsOf,
	type Said,
	type SaidStep,
	scoreOf,
} from '$core/grading/grades';
import { ALARM_SPAN, newestPeriod, type Reason, type Standing, standingOf } from '$core/grading/standing';
import type { Frequency } from '$core/series/frequency';
import { applyLayers } from '$core/series/layers';
import type { NewestSaid } from '$core/words/standing';
import type { AdoptedMeasures, ItemGrades, ItemStanding, PutAside } from '../shapes';
import { newestChange, spread } from './actuals';
import { pool, type Queryable, snapshot, transaction } from './database';
import { findItem, lockItem } from './item-records';
import { loadLayers } from './layer-entries';
import { log } from './log';
import { Refusal } from './refusal';
import type { Actor } from './workspaces';

/**
 * How items stand is derived from their records and what came in. Whoever touches an item leaves a row in `touched`, with what
 * they did; `settle` takes these out and makes the standing of their items anew.
 */

/** Items whose standing is made in one transaction. */
const AT_ONCE = 50;
/** Milliseconds that whoever touched items waits for their standing; what is left is settled after they were answered. */
const PATIENCE = 400;
/** Pause before items that somebody else has locked are looked at again; after a failure it doubles up to a minute. */
const AGAIN = 200;
const LONGEST_PAUSE = 60_000;

let running: Promise<void> = Promise.resolve();
/** The settling that begins when the running one has ended; whoever asks before it began shares it. */
let next: Promise<void> | null = null;
let again: ReturnType<typeof setTimeout> | null = null;
/** How often in a row it failed. */
let failures = 0;

/**
 * Brings standing up to date, in the same breath where that is soon done: it comes back when nothing is left to be settled, or its
 * caller has waited long enough. A failure is no failure of what was stored, and is tried again later.
 */
export async function settle(): Promise<void> {
	// One that is running may have looked already before this caller's changes were there.
	const own = (next ??= running.then(() => {
		next = null;
		return (running = settleAll());
	}));
	let late: ReturnType<typeof setTimeout> | undefined;
	const patience = new Promise<void>((done) => (late = setTimeout(done, PATIENCE)));
	await Promise.race([own, patience]);
	clearTimeout(late);
}

async function settleAll(): Promise<void> {
	try {
		while ((await settleSome()) > 0);
		const { rows } = await pool().query('SELECT 1 FROM touched LIMIT 1');
		failures = 0;
		if (rows.length > 0) settleLater();
	} catch (error) {
		failures++;
		log.warn({ reason: String(error), failures }, 'standing could not be brought up to date');
		settleLater();
	}
}

/** Items that others have locked are touched by them, or settled by another process. */
function settleLater(): void {
	if (again) return;
	again = setTimeout(
		() => {
			again = null;
			void settle();
		},
		Math.min(LONGEST_PAUSE, AGAIN * 2 ** failures),
	);
	again.unref();
}

const WATCHED = `SELECT item.id, item.workspace_id, item.frequency, item.season_length, item.lead_time, workspace.alarm_chance
	FROM item JOIN workspace ON workspace.id = item.workspace_id`;

/**
 * Settles some of the items that were touched. Only items that nobody else is at are taken, and nobody is waited for: what is read
 * under their locks is all that was ever committed for them.
 * @returns how many
 */
export const settleSome = (): Promise<number> =>
	transaction(async (client) => {
		const { rows: items } = await client.query<WatchedItem>(
			`${WATCHED}
			WHERE item.id IN (SELECT item_id FROM touched ORDER BY id LIMIT ${AT_ONCE})
			FOR NO KEY UPDATE OF item SKIP LOCKED`,
		);
		if (items.length === 0) return 0;
		const ids = items.map(({ id }) => id);
		await client.query('DELETE FROM touched WHERE item_id = ANY ($1)', [ids]);
		await writeStandings(client, await watch(client, items));
		return items.length;
	});

interface WatchedItem {
	id: number;
	workspace_id: number;
	frequency: Frequency;
	season_length: number;
	lead_time: number | null;
	alarm_chance: number;
}

/** All that an item's standing is worked out from. */
interface Evidence {
	item: WatchedItem;
	records: Said[];
	came: Came[];
	limit: number;
}

async function watch(client: Queryable, items: readonly WatchedItem[]): Promise<Evidence[]> {
	const ids = items.map(({ id }) => id);
	const [records, figures, layered] = [
		await loadSaid(client, ids),
		await loadFigures(client, ids),
		await mendedOf(client, ids),
	];
	const evidence: Evidence[] = [];
	for (const item of items) {
		const own = figures.get(item.id) ?? [];
		evidence.push({
			item,
			records: records.get(item.id) ?? [],
			came: layered.has(item.id) ? await mendedCame(client, item, own) : cameOf(own),
			limit: alarmLimit(item.alarm_chance, ALARM_SPAN),
		});
	}
	return evidence;
}

/** The latest revision of a period, and the change by which it first came in; null where it never did. */
interface FigureRow {
	item_id: number;
	period: number;
	value: number | null;
	change: number | null;
}

async function loadFigures(client: Queryable, ids: readonly number[]): Promise<Map<number, FigureRow[]>> {
	const { rows } = await client.query<FigureRow>(
		`SELECT item_id, period, (array_agg(value ORDER BY revision DESC))[1] AS value,
			min(data_change_id) FILTER (WHERE value IS NOT NULL) AS change
		FROM actual
		WHERE (workspace_id, item_id) IN (SELECT workspace_id, id FROM item WHERE id = ANY ($1))
		GROUP BY item_id, period
		ORDER BY item_id, period`,
		[ids],
	);
	return byItem(rows);
}

function byItem<Row extends { item_id: number }>(rows: readonly Row[]): Map<number, Row[]> {
	const map = new Map<number, Row[]>();
	for (const row of rows) {
		const list = map.get(row.item_id);
		if (list) list.push(row);
		else map.set(row.item_id, [row]);
	}
	return map;
}

const cameOf = (rows: readonly FigureRow[]): Came[] =>
	rows.flatMap(({ period, value, change }) =>
		value === null || change === null ? [] : [{ period, value, change, leftOut: false }],
	);

async function mendedOf(client: Queryable, ids: readonly number[]): Promise<Set<number>> {
	const { rows } = await client.query<{ item_id: number }>(
		'SELECT DISTINCT item_id FROM mend WHERE (workspace_id, item_id) IN (SELECT workspace_id, id FROM item WHERE id = ANY ($1))',
		[ids],
	);
	return new Set(rows.map(({ item_id }) => item_id));
}

/** What came in with corrections in, and left-out periods marked. */
async function mendedCame(client: Queryable, item: WatchedItem, rows: readonly FigureRow[]): Promise<Came[]> {
	const { layers } = await loadLayers(item.workspace_id, item.id, null, client);
	const { first, values, marks } = applyLayers(spread(rows), item.frequency, item.season_length, layers);
	return cameOf(rows).map((came) => ({
		...came,
		value: values[came.period - first] ?? came.value,
		leftOut: marks.get(came.period - first)?.includes('left-out') ?? false,
	}));
}

interface SaidRow {
	item_id: number;
	id: number;
	carried_from: number | null;
	saw: number;
	measures: AdoptedMeasures;
	steps: SaidStep[];
}

/** Records of items with the steps that something can be held against, and the last of each. */
async function loadSaid(
	client: Queryable,
	ids: readonly number[],
): Promise<Map<number, (Said & { item_id: number })[]>> {
	const { rows } = await client.query<SaidRow>(
		`SELECT f.item_id, f.id, f.carried_from, f.data_change_id AS saw, f.measures, steps.list AS steps
		FROM adopted_forecast f
		CROSS JOIN LATERAL (
			SELECT max(period) AS last FROM actual WHERE actual.workspace_id = f.workspace_id AND actual.item_id = f.item_id
		) extent
		CROSS JOIN LATERAL (
			SELECT json_agg(json_build_object('step', step, 'period', period, 'mean', mean, 'final', final, 'ranges', ranges,
				'spread', spread, 'naive', naive, 'seasonalNaive', seasonal_naive) ORDER BY step) AS list
			FROM adopted_step s
			WHERE s.workspace_id = f.workspace_id AND s.adopted_forecast_id = f.id
				AND (s.period <= extent.last OR s.step = f.step_count)
		) steps
		WHERE (f.workspace_id, f.item_id) IN (SELECT workspace_id, id FROM item WHERE id = ANY ($1)) AND steps.list IS NOT NULL
		ORDER BY f.id`,
		[ids],
	);
	return byItem(
		rows.map(({ item_id, id, carried_from, saw, measures, steps }) => ({
			item_id,
			id,
			carriedFrom: carried_from,
			saw,
			size: sizeOf(measures, steps),
			steps,
		})),
	);
}

/** Mean size of its trial's errors as a share of what was expected one step ahead. */
function sizeOf({ alarm }: AdoptedMeasures, [first]: readonly SaidStep[]): number | null {
	const size = alarm?.size ?? null;
	return size === null || first?.step !== 1 || !first.spread ? null : size / first.spread;
}

/** What is kept of a standing. */
interface StandingRow {
	last_period: number | null;
	reasons: Reason[];
	newest: ItemStanding['newest'];
	score: ItemStanding['score'];
}

/** An item's standing as it is kept, from scratch. */
function standingRow({ item, records, came, limit }: Evidence): StandingRow {
	const standing = standingOf({ records, came, leadTime: item.lead_time, limit });
	return {
		last_period: standing.last,
		reasons: standing.reasons,
		newest: newestGrade(gradesOf(records, came.slice(-1))[0]),
		score: scoreRow(standing),
	};
}

const newestGrade = (grade: Grade | undefined): ItemStanding['newest'] =>
	grade
		? {
				period: grade.period,
				actual: grade.actual,
				final: grade.final,
				error: grade.finalError,
				inside: grade.inside,
				ranged: grade.ranged,
				scored: grade.scored,
			}
		: null;

function scoreRow({ grades, reasons }: Standing): ItemStanding['score'] {
	const { count, mad, mape, bias, trackingSignal, theil } = scoreOf(grades).final;
	if (count === 0) return null;
	const drift = reasons.find((reason) => reason.code === 'drifts');
	return { count, mad, mape, bias, trackingSignal, theil, runs: drift?.side ?? null };
}

async function writeStandings(client: Queryable, evidence: readonly Evidence[]): Promise<void> {
	const rows = evidence.map((each) => ({
		workspace_id: each.item.workspace_id,
		item_id: each.item.id,
		...standingRow(each),
	}));
	await client.query(
		`INSERT INTO standing (workspace_id, item_id, last_period, reasons, newest, score, put_aside_id)
		SELECT made.workspace_id, made.item_id, made.last_period, made.reasons, nullif(made.newest, 'null'),
			nullif(made.score, 'null'), aside.id
		FROM jsonb_to_recordset($1) AS made (workspace_id bigint, item_id bigint, last_period integer, reasons jsonb,
			newest jsonb, score jsonb)
		LEFT JOIN LATERAL (
			SELECT id, period FROM put_aside
			WHERE put_aside.workspace_id = made.workspace_id AND put_aside.item_id = made.item_id
			ORDER BY id DESC LIMIT 1
		) aside ON aside.period >= coalesce(made.last_period, aside.period)
		ON CONFLICT (workspace_id, item_id) DO UPDATE SET last_period = excluded.last_period, reasons = excluded.reasons,
			newest = excluded.newest, score = excluded.score, put_aside_id = excluded.put_aside_id`,
		[JSON.stringify(rows)],
	);
}

/**
 * Holds what is kept against standing made from scratch, of all items that nothing is waiting for.
 * @returns how many were looked at, and the ids of those that differ
 */
export const checkStanding = (): Promise<{ items: number; differ: number[] }> =>
	snapshot(async (client) => {
		const { rows: items } = await client.query<WatchedItem>(
			`${WATCHED} WHERE NOT EXISTS (SELECT 1 FROM touched WHERE touched.item_id = item.id) ORDER BY item.id`,
		);
		const differ: number[] = [];
		for (let at = 0; at < items.length; at += AT_ONCE) {
			const evidence = await watch(client, items.slice(at, at + AT_ONCE));
			const { rows } = await client.query<StandingRow & { item_id: number }>(
				`SELECT item_id, last_period, reasons, newest, score FROM standing
				WHERE (workspace_id, item_id) IN (SELECT workspace_id, id FROM item WHERE id = ANY ($1))`,
				[evidence.map(({ item }) => item.id)],
			);
			const kept = new Map(rows.map(({ item_id, ...row }) => [item_id, row]));
			for (const each of evidence) {
				if (canonical(kept.get(each.item.id)) !== canonical(standingRow(each))) differ.push(each.item.id);
			}
		}
		return { items: items.length, differ };
	});

/** Keys in one order, whatever order the database keeps them in. */
const canonical = (value: unknown): string =>
	JSON.stringify(value, (_, each: unknown) =>
		each !== null && typeof each === 'object' && !Array.isArray(each)
			? Object.fromEntries(Object.entries(each).sort(([a], [b]) => (a < b ? -1 : 1)))
			: each,
	) ?? '';

/** Has the standing of all items made anew by whoever settles next. */
export async function touchAll(): Promise<void> {
	await transaction(async (client) => {
		await client.query('DELETE FROM standing');
		await client.query('INSERT INTO touched (workspace_id, item_id) SELECT workspace_id, id FROM item');
	});
}

/** The period that half or more of the items of a frequency have, and how many have it. */
export type NewestOf = Pick<NewestSaid, 'frequency' | 'period' | 'have' | 'items'>;

/** The newest period of each frequency over all items that are on the list. */
export async function newestPeriods(workspaceId: number, database: Queryable = pool()): Promise<NewestOf[]> {
	const { rows: ends } = await database.query<{ frequency: Frequency; last: number; items: number }>(
		`SELECT frequency, last_period AS last, count(*) AS items
		FROM standing JOIN item ON item.workspace_id = standing.workspace_id AND item.id = standing.item_id
		WHERE standing.workspace_id = $1 AND retired_at IS NULL AND last_period IS NOT NULL
		GROUP BY frequency, last_period`,
		[workspaceId],
	);
	// A plain number of periods is each item's own: nothing says that two of them end together.
	const frequencies = [...new Set(ends.map(({ frequency }) => frequency))].filter((each) => each !== 'step');
	return frequencies.flatMap((frequency) => {
		const found = newestPeriod(ends.filter((each) => each.frequency === frequency));
		return found ? [{ frequency, ...found }] : [];
	});
}

/** How the newest period of each frequency stands, frequencies with the most items first. */
export async function newestStandings(
	workspaceId: number,
	database: Queryable = pool(),
): Promise<NewestSaid[]> {
	const newest = await newestPeriods(workspaceId, database);
	const { rows: counts } = await database.query<{ frequency: Frequency; graded: number; inside: number }>(
		`SELECT frequency, count(*) FILTER (WHERE (newest -> 'scored')::boolean AND (newest -> 'ranged')::boolean) AS graded,
			count(*) FILTER (WHERE (newest -> 'scored')::boolean AND newest -> 'inside' <> 'null') AS inside
		FROM standing
		JOIN item ON item.workspace_id = standing.workspace_id AND item.id = standing.item_id
		JOIN unnest($2::text[], $3::integer[]) AS in_most (frequency, period) USING (frequency)
		WHERE standing.workspace_id = $1 AND retired_at IS NULL AND (newest -> 'period')::integer = in_most.period
		GROUP BY frequency`,
		[workspaceId, newest.map(({ frequency }) => frequency), newest.map(({ period }) => period)],
	);
	const { rows: reasons } = await database.query<{ frequency: Frequency; code: string; items: number }>(
		`SELECT frequency, reason ->> 'code' AS code, count(*) AS items
		FROM standing
		JOIN item ON item.workspace_id = standing.workspace_id AND item.id = standing.item_id
		CROSS JOIN LATERAL jsonb_array_elements(reasons) AS reason
		WHERE standing.workspace_id = $1 AND retired_at IS NULL
		GROUP BY 1, 2`,
		[workspaceId],
	);
	return newest
		.map(({ frequency, ...said }): NewestSaid => {
			const count = counts.find((each) => each.frequency === frequency);
			return {
				frequency,
				...said,
				graded: count?.graded ?? 0,
				inside: count?.inside ?? 0,
				reasons: Object.fromEntries(
					reasons.filter((each) => each.frequency === frequency).map(({ code, items }) => [code, items]),
				),
			};
		})
		.sort((a, b) => b.items - a.items);
}

/** Each period of an item that came in, held against the forecast in force for it, from scratch. */
export const loadGrades = (workspaceId: number, code: string): Promise<ItemGrades> =>
	snapshot(async (client) => {
		const { id } = await findItem(client, workspaceId, code);
		const { rows } = await client.query<WatchedItem>(`${WATCHED} WHERE item.id = $1`, [id]);
		const [evidence] = await watch(client, rows);
		const { records, came, limit } = evidence!;
		const runs = new Set(runsOf(records).values());
		return {
			grades: gradesOf(records, came),
			sizes: Object.fromEntries(
				records.filter((each) => runs.has(each.id)).map(({ id, size }) => [id, size]),
			),
			limit,
		};
	});

/** Puts an item aside until its next figure, or takes it up again. @throws Refusal 409 where actuals came in since they were seen */
export async function putAside(actor: Actor, code: string, request: PutAside): Promise<PutAside> {
	const { workspaceId, name: by } = actor;
	const { aside, words, seen } = request;
	return transaction(async (client) => {
		const item = await lockItem(client, workspaceId, code);
		if ((await newestChange(client, workspaceId, item.id)) !== seen)
			throw new Refusal(
				409,
				'Its next figure came in since it was looked at. Look once more before putting it aside.',
			);
		await client.query(
			`INSERT INTO put_aside (workspace_id, item_id, period, words, created_by)
			VALUES ($1, $2, CASE WHEN $3 THEN coalesce((
				SELECT max(period) FROM actual WHERE workspace_id = $1 AND item_id = $2 AND value IS NOT NULL
			), 0) END, $4, $5)`,
			[workspaceId, item.id, aside, words, by],
		);
		return request;
	});
}

/** Sets with which chance a sound forecast may be accused of drift. */
export async function setAlarmChance(workspaceId: number, chance: number): Promise<void> {
	await pool().query('UPDATE workspace SET alarm_chance = $2 WHERE id = $1', [workspaceId, chance]);
}

export async function alarmChance(workspaceId: number, database: Queryable = pool()): Promise<number> {
	const { rows } = await database.query<{ alarm_chance: number }>(
		'SELECT alarm_chance FROM workspace WHERE id = $1',
		[workspaceId],
	);
	return rows[0]!.alarm_chance;
}
