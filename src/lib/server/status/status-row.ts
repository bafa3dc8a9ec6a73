import { alarmLimit } from '$core/accuracy/alarm';
import { changeScale } from '$core/accuracy/measures';
import { isRare } from '$core/diagnosis/diagnosis';
import { type Came, type Grade, gradesOf, type Said, type SaidStep, scoreOf } from '$core/grading/grades';
import { ALARM_SPAN, type Reason, type ReasonCode, REASONS } from '$core/grading/reasons';
import { statusOf, type Status } from '$core/grading/status';
import { usualScale } from '$core/numbers/figure';
import { keyed } from '$core/numbers/keyed';
import type { Frequency } from '$core/series/frequency';
import { applyLayers } from '$core/series/layers';
import type { AdoptedMeasures } from '../../wire/records';
import type { ItemRow } from '../../wire/list';
import type { ItemStatus } from '../../wire/status';
import {
	LISTED_MEASURES,
	type ListKey,
	LIST_KEYS,
	type MeasureKey,
	measureKey,
} from '../../wire/list-columns';
import { writeLine } from '../../wire/spark';
import { byItem, spread } from '../items/actuals';
import type { Queryable } from '../database/database';
import { loadLayers } from '../items/layer-entries';

/** What an item's row of the list and its status are calculated from, and both of them. */

export const WATCHED = `SELECT item.id, item.workspace_id, item.code, item.sought, item.labels, item.frequency, item.unit, item.season_length, item.lead_time, item.price,
	item.retired_at IS NOT NULL AS retired, item.sum_of IS NOT NULL AS sum, workspace.alarm_chance
	FROM item JOIN workspace ON workspace.id = item.workspace_id`;

/** Latest periods that a row shows as a small line, and periods ahead. */
const RECENT = 48;
const AHEAD = 12;
/** Latest figures whose mean size is an item's size, where a season is shorter. */
const LEAST_OF_SIZE = 12;

export interface WatchedItem {
	id: number;
	workspace_id: number;
	code: string;
	sought: string;
	labels: ItemRow['labels'];
	frequency: Frequency;
	unit: string;
	season_length: number;
	lead_time: number | null;
	price: number | null;
	retired: boolean;
	sum: boolean;
	alarm_chance: number;
}

/** All that an item's status is calculated from. */
export interface Evidence {
	item: WatchedItem;
	records: Said[];
	came: Came[];
	/** Its figures as they came, in order of time. */
	figures: readonly { period: number; value: number | null }[];
	/** The newest record, and what it says of periods that are not in yet. */
	adopted: AdoptedRow | null;
	limit: number;
}

export async function watch(client: Queryable, items: readonly WatchedItem[]): Promise<Evidence[]> {
	const ids = items.map(({ id }) => id);
	const [records, figures, layered, adopted] = [
		await loadSaid(client, ids),
		await loadFigures(client, ids),
		await adjustedOf(client, ids),
		await loadNewest(client, ids),
	];
	const evidence: Evidence[] = [];
	for (const item of items) {
		const own = figures.get(item.id) ?? [];
		evidence.push({
			item,
			records: records.get(item.id) ?? [],
			came: layered.has(item.id) ? await adjustedActuals(client, item, own) : cameOf(own),
			figures: own,
			adopted: adopted.get(item.id) ?? null,
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

const cameOf = (rows: readonly FigureRow[]): Came[] =>
	rows.flatMap(({ period, value, change }) =>
		value === null || change === null ? [] : [{ period, value, change, leftOut: false }],
	);

async function adjustedOf(client: Queryable, ids: readonly number[]): Promise<Set<number>> {
	const { rows } = await client.query<{ item_id: number }>(
		'SELECT DISTINCT item_id FROM layer_entry WHERE (workspace_id, item_id) IN (SELECT workspace_id, id FROM item WHERE id = ANY ($1))',
		[ids],
	);
	return new Set(rows.map(({ item_id }) => item_id));
}

/** What came in with corrections in, and left-out periods marked. */
async function adjustedActuals(
	client: Queryable,
	item: WatchedItem,
	rows: readonly FigureRow[],
): Promise<Came[]> {
	const { layers } = await loadLayers(item.workspace_id, item.id, null, client);
	const { first, values, marks } = applyLayers(spread(rows), item.frequency, item.season_length, layers);
	return cameOf(rows).map((came) => ({
		...came,
		value: values[came.period - first] ?? came.value,
		leftOut: marks.get(came.period - first)?.includes('left-out') ?? false,
	}));
}

interface AdoptedRow {
	item_id: number;
	label: string;
	method: string;
	origin: number;
	ahead: { period: number; final: number }[] | null;
}

/** The newest record of each item, with its figures for the periods after the last one that there is a row for. */
async function loadNewest(client: Queryable, ids: readonly number[]): Promise<Map<number, AdoptedRow>> {
	const { rows } = await client.query<AdoptedRow>(
		`SELECT item.id AS item_id, newest.label, newest.method, newest.origin, steps.ahead
		FROM item
		CROSS JOIN LATERAL newest_record(item.workspace_id, item.id) newest
		CROSS JOIN LATERAL (
			SELECT coalesce(max(period), newest.origin) AS last FROM actual
			WHERE actual.workspace_id = item.workspace_id AND actual.item_id = item.id
		) extent
		CROSS JOIN LATERAL (
			SELECT json_agg(json_build_object('period', period, 'final', final) ORDER BY step) AS ahead
			FROM adopted_step s
			WHERE s.workspace_id = item.workspace_id AND s.adopted_forecast_id = newest.id
				AND s.period > extent.last AND s.period <= extent.last + ${AHEAD}
		) steps
		WHERE item.id = ANY ($1)`,
		[ids],
	);
	return new Map(rows.map((row) => [row.item_id, row]));
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

/** What is kept of an item's status: its columns by name. */
export interface StatusRow extends Record<ListKey, number | null> {
	code: string;
	sought: string;
	labels: ItemRow['labels'];
	frequency: Frequency;
	unit: string;
	retired: boolean;
	sum: boolean;
	last_period: number | null;
	reasons: Reason[];
	newest: ItemStatus['newest'];
	score: ItemStatus['score'];
	method: string | null;
	why: ReasonCode[];
	first: number | null;
	stake: number;
	newest_period: number | null;
	newest_inside: boolean | null;
	abs_error: number | null;
	abs_actual: number | null;
	shown: NonNullable<ItemRow['shown']>;
}

/** The columns that a row is kept in, and what they are in the database. */
export const STATUS_COLUMNS: Readonly<Record<keyof StatusRow, string>> = {
	code: 'text',
	sought: 'text',
	labels: 'jsonb',
	frequency: 'text',
	unit: 'text',
	retired: 'boolean',
	sum: 'boolean',
	last_period: 'integer',
	reasons: 'jsonb',
	newest: 'jsonb',
	score: 'jsonb',
	method: 'text',
	why: 'text[]',
	first: 'smallint',
	stake: 'double precision',
	newest_period: 'integer',
	newest_inside: 'boolean',
	...keyed(LIST_KEYS, () => 'double precision'),
	abs_error: 'double precision',
	abs_actual: 'double precision',
	shown: 'jsonb',
};

/** An item's status as it is kept, from scratch. */
export function statusRow({ item, records, came, figures, adopted, limit }: Evidence): StatusRow {
	const status = statusOf({ records, came, leadTime: item.lead_time, limit });
	const { reasons } = status;
	const newest = newestGrade(gradesOf(records, came.slice(-1))[0]);
	const score = scoreRow(status, came, item.season_length);
	const size = sizeOfDemand(came, item.season_length);
	const stake = reasons[0]?.stake ?? Math.abs(newest?.actual ?? 0);
	const rare = isRare(spread(figures).values, {
		frequency: item.frequency,
		expected: item.season_length,
		only: true,
	});
	const { first, values } = spread(figures.slice(-RECENT));
	const recent = values.slice(-RECENT);
	const last = first + values.length - 1;
	const ahead = adopted?.ahead ?? [];
	// One line, so that both parts of it have one scale.
	const line = writeLine([...recent, ...ahead.map(({ final }) => final)]);
	const [next = null] = ahead;
	return {
		code: item.code,
		sought: item.sought,
		labels: item.labels,
		frequency: item.frequency,
		unit: item.unit,
		retired: item.retired,
		sum: item.sum,
		last_period: status.last,
		reasons,
		newest,
		score,
		method: adopted?.method ?? null,
		why: reasons.map(({ code }) => code),
		first: reasons[0] ? REASONS.indexOf(reasons[0].code) : null,
		stake: finite(stake * (item.price ?? 1)),
		newest_period: newest?.period ?? null,
		newest_inside: newest?.scored && newest.ranged ? newest.inside !== null : null,
		next: next?.final ?? null,
		miss: newest && Math.abs(newest.error),
		...measureColumns(score),
		size,
		value: size === null || item.price === null ? null : finite(size * item.price),
		...sumsOf(status),
		shown: {
			periods: figures.length === 0 ? 0 : last - figures[0]!.period + 1,
			last,
			recent: line.slice(0, recent.length),
			ahead: line.slice(recent.length),
			scale: usualScale(recent),
			...(rare && { rare }),
			adopted: adopted && { label: adopted.label, next: next?.final ?? null, nextPeriod: last + 1 },
		},
	};
}

/** Sums of the sizes of errors of what was handed over, and of what came, over the newest run. */
function sumsOf({ grades }: Status): Pick<StatusRow, 'abs_error' | 'abs_actual'> {
	const scored = grades.filter((grade) => grade.scored);
	if (scored.length === 0) return { abs_error: null, abs_actual: null };
	const sum = (of: (grade: Grade) => number) =>
		finite(scored.reduce((all, grade) => all + Math.abs(of(grade)), 0));
	return { abs_error: sum(({ finalError }) => finalError), abs_actual: sum(({ actual }) => actual) };
}

/** What money comes to is kept within what can be counted with. */
const finite = (value: number): number => Math.min(value, Number.MAX_VALUE);

/** Mean size of the last cycle's figures. */
function sizeOfDemand(came: readonly Came[], seasonLength: number): number | null {
	const latest = came.slice(-Math.max(seasonLength, LEAST_OF_SIZE));
	return latest.length === 0
		? null
		: latest.reduce((sum, { value }) => sum + Math.abs(value) / latest.length, 0);
}

const newestGrade = (grade: Grade | undefined): ItemStatus['newest'] =>
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

function scoreRow(
	{ grades, reasons }: Status,
	came: readonly Came[],
	seasonLength: number,
): ItemStatus['score'] {
	const { final } = scoreOf(grades, changeBefore(grades[0]?.period, came, seasonLength));
	if (final.count === 0) return null;
	const drift = reasons.find((reason) => reason.code === 'drifts');
	return { count: final.count, ...keyed(LISTED_MEASURES, (id) => final[id]), runs: drift?.side ?? null };
}

/** What errors are scaled by: the mean change from one cycle to the next in what had come before the first of them. */
function changeBefore(first: number | undefined, came: readonly Came[], seasonLength: number) {
	const before = came.filter(({ period }) => first !== undefined && period < first);
	const { values } = spread(
		before.map(({ period, value, leftOut }) => ({ period, value: leftOut ? null : value })),
	);
	const figures = Float64Array.from(values, (value) => value ?? NaN);
	return changeScale(figures, seasonLength, figures.length);
}

/** Measures as columns, which are sorted by; the tracking signal by its size. */
const measureColumns = (score: ItemStatus['score']): Record<MeasureKey, number | null> => {
	const columns = LISTED_MEASURES.map((id) => [measureKey(id), score?.[id] ?? null]);
	const { signal, ...others } = Object.fromEntries(columns) as Record<MeasureKey, number | null>;
	return { ...others, signal: signal && Math.abs(signal) };
};
