import { availableParallelism } from 'node:os';
import type pg from 'pg';
import type { Candidate } from '$core/methods/registry';
import { seededNormal, seededUniform } from '$core/numbers/random';
import { NO_LAYERS } from '$core/series/layers';
import { firstDay, parsePeriod } from '$core/series/period';
import { version } from '../../../../package.json';
import type { AdoptedMeasures } from '../../wire/records';
import { insertDataChange } from '../items/actuals';
import { copyLine } from '../database/copy-text';
import { log } from '../log';
import { copyIn } from '../bring-in/staging';
import { recordedRequest, unlessAsked } from '../records/records';
import { digestOf } from '../threads/forecast';
import type { Forecast } from '../threads/tasks';
import { threads } from '../threads/threads';
import { changing, demoActor } from '../database/workspaces';

/**
 * The depot grown large, for whoever wants to see how thousands of items are worked with: made-up parts, each kept at several bays
 * whose demand is the same shape at another scale, so that two thousand series stand for twenty thousand items. Scales are powers
 * of two: what was calculated of a series holds for its likes to the last digit.
 */
const SERIES = 2000;
const BAYS = ['Loft', 'Quay', 'Yard', 'Pier', 'Mill', 'Barn', 'Gate', 'Dock', 'Shed', 'Attic'];
const SCALES = [1, 0.5, 2, 0.25, 4, 1, 8, 0.5, 2, 16];
const FAMILIES = [
	'Brakes',
	'Drivetrain',
	'Frame parts',
	'Lights',
	'Tyres and tubes',
	'Wheels',
	'Saddles',
	'Bags',
	'Tools',
	'Clothing',
];
const PARTS = [
	'bolt',
	'washer',
	'cable',
	'spring',
	'sleeve',
	'bracket',
	'ring',
	'plate',
	'clip',
	'hub',
	'pad',
	'strap',
	'lamp',
	'rim',
];
const KINDS = [
	'short',
	'long',
	'steel',
	'alloy',
	'black',
	'narrow',
	'wide',
	'sealed',
	'touring',
	'city',
	'folding',
	'heavy',
];
const SUPPLIERS = ['Harrow Forge', 'Lowmoor Works', 'Penbrook', 'Tidewater'];

const MONTHS = 60;
const FIRST = parsePeriod('month', '2021-11');
/** Months that were known when forecasts were adopted, a year apart, and how far each looks. */
const CLOSINGS = [
	{ known: 36, horizon: 12 },
	{ known: 48, horizon: 12 },
	{ known: 59, horizon: 12 },
];
/** Of items whose demand runs away from it: nobody carried it on. */
const LEFT_ALONE = { known: 36, horizon: 30 };
/** Items that go in at once. */
const CHUNK = 1000;
const LEVELS = [0.8, 0.95];
/** Chance of an alarm for nothing: among twenty thousand, one in ten would be two thousand. */
const ALARM = 0.02;
/** How much quieter than before demand is since forecasts began: what one looks at is what was made to be looked at, and little by chance. */
const QUIETER = 0.8;

/** What is amiss with an item, for a few of them. */
type Fate = 'none' | 'no-forecast' | 'ran-out' | 'not-in' | 'outside' | 'drifts' | 'retired';
const FATES: readonly [Fate, number][] = [
	['no-forecast', 60],
	['ran-out', 60],
	['not-in', 50],
	['outside', 80],
	['drifts', 90],
	['retired', 40],
];

interface Made {
	number: number;
	code: string;
	name: string;
	labels: Record<string, string>;
	scale: number;
	fate: Fate;
	values: number[];
}

interface Shape {
	values: number[];
	forecasts: Forecast[];
	/** Of series some of whose items were left alone since: one forecast that looks far. */
	leftAlone: Forecast | null;
}

/** Demand of a series until forecasts began: a level, a trend, a season and noise, each more or less; and the noise from then on. */
function shapeOf(series: number): Pick<Shape, 'values'> & { candidate: Candidate; stray: () => number } {
	const uniform = seededUniform(7000 + series);
	const normal = seededNormal(9000 + series);
	const level = 20 + Math.floor(400 * uniform() ** 3);
	const slope = uniform() < 0.3 ? (uniform() - 0.35) * 0.01 * level : 0;
	const swing = uniform() < 0.45 ? 0.15 + 0.5 * uniform() : 0;
	const phase = 12 * uniform();
	const noise = 0.06 + 0.16 * uniform();
	let walk = 0;
	const values = Array.from({ length: CLOSINGS[0]!.known }, (_, t) => {
		walk += 0.01 * level * normal();
		const season = 1 + swing * Math.sin((2 * Math.PI * (t + phase)) / 12);
		return Math.max(0, Math.round((level + slope * t + walk) * season + noise * level * normal()));
	});
	const candidate: Candidate =
		swing > 0
			? {
					id: 'a',
					method: 'holt-winters',
					season: 'additive',
					trend: 'none',
					constants: { alpha: 0.2, gamma: 0.15 },
				}
			: slope !== 0
				? { id: 'a', method: 'holt', constants: { alpha: 0.3, beta: 0.05 } }
				: series % 3 === 0
					? { id: 'a', method: 'moving-average', span: 6 }
					: { id: 'a', method: 'ses', constants: { alpha: 0.25 } };
	return { values, candidate, stray: () => QUIETER * noise * level * normal() };
}

/** A series with the forecasts that it was given as time went on. */
async function makeShape(series: number, leftAlone: boolean): Promise<Shape> {
	const { values, candidate, stray } = shapeOf(series);
	const forecast = ({ known, horizon }: (typeof CLOSINGS)[number]): Promise<Forecast> => {
		const seen = {
			actuals: { first: FIRST, values: values.slice(0, known) },
			frequency: 'month' as const,
			seasonLength: 12,
			layers: NO_LAYERS,
			group: null,
		};
		const task = { seen, candidates: [candidate], scoreFrom: null, horizon, levels: LEVELS, service: 0.95 };
		return threads().run('forecast', task, { caller: 'demo' });
	};
	const alone = leftAlone ? await forecast(LEFT_ALONE) : null;
	const forecasts: Forecast[] = [];
	// What comes is what was foretold, and strays from it.
	for (const [i, closing] of CLOSINGS.entries()) {
		const made = await forecast(closing);
		forecasts.push(made);
		const until = CLOSINGS[i + 1]?.known ?? MONTHS;
		for (const { mean } of made.result.ahead.slice(0, until - closing.known))
			values.push(Math.max(0, Math.round(mean! + stray())));
	}
	return { values, forecasts, leftAlone: alone };
}

/** What is amiss with which items: spread over all of them. */
function fatesOf(count: number): Fate[] {
	const uniform = seededUniform(11);
	const fates = new Array<Fate>(count).fill('none');
	for (const [fate, many] of FATES)
		for (let done = 0; done < many;) {
			const at = Math.floor(uniform() * count);
			if (fates[at] !== 'none') continue;
			fates[at] = fate;
			done++;
		}
	return fates;
}

function itemOf(number: number, shape: Shape, fate: Fate): Made {
	const [series, bay] = [seriesOf(number), number % BAYS.length];
	const scale = SCALES[bay]!;
	const family = series % FAMILIES.length;
	const values = shape.values.map((value) => value * scale);
	if (fate === 'outside') values[MONTHS - 1] = values[MONTHS - 1]! * 3 + 20 * scale;
	if (fate === 'drifts')
		for (let t = LEFT_ALONE.known + 4; t < MONTHS; t++) values[t] = values[t]! * 1.6 + 10 * scale;
	const part = PARTS[series % PARTS.length]!;
	const kind = KINDS[Math.floor(series / PARTS.length) % KINDS.length]!;
	return {
		number,
		code: `${String(10 + family)}-${String(series).padStart(4, '0')}-${BAYS[bay]!.slice(0, 2).toUpperCase()}`,
		name: `${part[0]!.toUpperCase()}${part.slice(1)}, ${kind} ${6 + (series % 23)}`,
		labels: { Family: FAMILIES[family]!, Bay: BAYS[bay]!, Supplier: SUPPLIERS[series % SUPPLIERS.length]! },
		scale,
		fate,
		values,
	};
}

const times = (scale: number) => (value: number | null) => (value === null ? null : value * scale);
const rangesTimes = (ranges: Record<string, readonly [number, number] | null>, scale: number) =>
	Object.fromEntries(
		Object.entries(ranges).map(([level, range]) => [level, range && [range[0] * scale, range[1] * scale]]),
	);

/** Measures of errors that are so many times as large. */
function measuresTimes(forecast: Forecast, scale: number): AdoptedMeasures {
	const { own } = forecast.result.measures;
	const by = times(scale);
	const { alarm } = forecast.result;
	return {
		...own,
		bias: by(own.bias),
		cfe: by(own.cfe),
		mad: by(own.mad),
		mse: times(scale * scale)(own.mse),
		rmse: by(own.rmse),
		alarm: { ...alarm, size: by(alarm.size) },
	};
}

/** Shapes of all series, as many at once as there are cores. */
async function makeShapes(fates: readonly Fate[], made: () => void): Promise<Shape[]> {
	const leftAlone = new Set(fates.flatMap((fate, number) => (fate === 'drifts' ? [seriesOf(number)] : [])));
	const shapes = new Array<Shape>(SERIES);
	let series = 0;
	const lane = async (): Promise<void> => {
		for (let own = series++; own < SERIES; own = series++) {
			shapes[own] = await makeShape(own, leftAlone.has(own));
			made();
		}
	};
	await Promise.all(Array.from({ length: availableParallelism() + 1 }, lane));
	return shapes;
}

const seriesOf = (number: number): number => Math.floor(number / BAYS.length);

/** Where items go: whose they are, and the changes by which figures came in, a year each and the last month. */
interface Store {
	client: pg.ClientBase;
	workspaceId: number;
	changes: readonly number[];
}

/** @returns ids of items by their codes */
async function storeItems(
	{ client, workspaceId }: Store,
	items: readonly Made[],
): Promise<Map<string, number>> {
	const { rows } = await client.query<{ id: number; code: string }>(
		`INSERT INTO item (workspace_id, code, name, unit, frequency, season_length, labels, retired_at)
		SELECT $1, code, name, 'pieces', 'month', 12, labels, CASE WHEN fate = 'retired' THEN now() END
		FROM jsonb_to_recordset($2) AS made (code text, name text, labels jsonb, fate text)
		RETURNING id, code`,
		[
			workspaceId,
			JSON.stringify(items.map(({ code, name, labels, fate }) => ({ code, name, labels, fate }))),
		],
	);
	return new Map(rows.map(({ id, code }) => [code, id]));
}

async function storeFigures(
	{ client, workspaceId, changes }: Store,
	items: readonly Made[],
	ids: ReadonlyMap<string, number>,
): Promise<void> {
	const changeOf = Array.from({ length: MONTHS }, (_, t) => {
		const closing = CLOSINGS.findIndex(({ known }) => t < known);
		return changes[closing < 0 ? CLOSINGS.length : closing]!;
	});
	let figures = '';
	for (const { code, values, fate } of items)
		values.forEach((value, t) => {
			if (fate === 'not-in' && t === MONTHS - 1) return;
			figures += copyLine(workspaceId, ids.get(code)!, FIRST + t, 1, value, changeOf[t]!);
		});
	await copyIn(
		client,
		'actual (workspace_id, item_id, period, revision, value, data_change_id)',
		Buffer.from(figures),
	);
}

/** An item with the forecast that it was given at a closing, on the scale of its shape. */
interface Due {
	item: Made;
	forecast: Forecast;
}

/** Items whose forecast is adopted at a closing. */
const dueAt = (items: readonly Made[], closing: number, shapes: readonly Shape[]): Due[] =>
	items
		.filter(
			({ fate }) =>
				fate !== 'no-forecast' &&
				!(fate === 'ran-out' && closing === CLOSINGS.length - 1) &&
				!(fate === 'drifts' && closing > 0),
		)
		.map((item) => {
			const { forecasts, leftAlone } = shapes[seriesOf(item.number)]!;
			return { item, forecast: item.fate === 'drifts' ? leftAlone! : forecasts[closing]! };
		});

/**
 * Puts forecasts of a closing on record.
 * @param before the record before of each item, by its code
 * @returns the new ones
 */
async function storeRecords(
	{ client, workspaceId, changes }: Store,
	due: readonly Due[],
	closing: number,
	ids: ReadonlyMap<string, number>,
	before: ReadonlyMap<string, number>,
): Promise<Map<string, number>> {
	const { known } = CLOSINGS[closing]!;
	const at = new Date(86_400_000 * (firstDay('month', FIRST + known)! + 2) + 8 * 3_600_000);
	const { rows } = await client.query<{ id: number; item_id: number }>(
		`INSERT INTO adopted_forecast (workspace_id, item_id, data_change_id, series_sha256, request, method, label, constants, start,
			measures, origin, reason, program_version, step_count, carried_from, held, adopted_at)
		SELECT $1, item_id, $2, decode(digest, 'hex'), request, method, label, constants, start,
			measures, $3, reason, $4, step_count, carried_from, held, $5
		FROM json_to_recordset($6) AS made (item_id bigint, request json, digest text, method text, label text, constants jsonb, start jsonb,
			measures jsonb, reason text, step_count integer, carried_from bigint, held jsonb)
		RETURNING id, item_id`,
		[
			workspaceId,
			changes[closing],
			FIRST + known - 1,
			version,
			at,
			JSON.stringify(
				due.map(({ item: { code, scale }, forecast }) => ({
					item_id: ids.get(code)!,
					request: recordedRequest(forecast),
					digest: digestOf(seriesTimes(forecast, scale)),
					method: forecast.result.method,
					label: forecast.label,
					constants: forecast.result.constants,
					start: startTimes(forecast, scale),
					measures: measuresTimes(forecast, scale),
					reason: closing === 0 ? 'the method that fitted best' : '',
					step_count: forecast.result.ahead.length,
					carried_from: before.get(code) ?? null,
					held: unlessAsked(forecast.held, forecast),
				})),
			),
		],
	);
	const codeOf = new Map(due.map(({ item: { code } }) => [ids.get(code)!, code]));
	return new Map(rows.map(({ id, item_id }) => [codeOf.get(item_id)!, id]));
}

/** @param records ids of the records by the codes of their items */
async function storeSteps(
	{ client, workspaceId }: Store,
	due: readonly Due[],
	closing: number,
	records: ReadonlyMap<string, number>,
): Promise<void> {
	const origin = FIRST + CLOSINGS[closing]!.known - 1;
	let steps = '';
	for (const { item, forecast } of due) {
		const by = times(item.scale);
		forecast.result.ahead.forEach(({ step, mean, ranges, spread }, i) => {
			steps += copyLine(
				workspaceId,
				records.get(item.code)!,
				step,
				origin + step,
				by(mean),
				JSON.stringify(rangesTimes(ranges, item.scale)),
				by(spread),
				by(forecast.naive[i] ?? null),
				by(forecast.seasonalNaive[i] ?? null),
				by(mean),
			);
		});
	}
	await copyIn(
		client,
		'adopted_step (workspace_id, adopted_forecast_id, step, period, mean, ranges, spread, naive, seasonal_naive, final)',
		Buffer.from(steps),
	);
}

/**
 * Makes all of it, or nothing.
 * @param say how much of the work is done, in series and items
 */
export async function loadLargeDemo(
	workspaceId: number,
	say: (done: number, of: number) => void,
): Promise<void> {
	const began = performance.now();
	const count = SERIES * BAYS.length;
	let done = 0;
	const advance = (parts: number) => say((done += parts), SERIES + count);
	const fates = fatesOf(count);
	const shapes = await makeShapes(fates, () => advance(1));
	log.info({ series: SERIES, milliseconds: performance.now() - began }, 'demo forecasts calculated');
	await changing(demoActor(workspaceId), async (client) => {
		await client.query('UPDATE workspace SET alarm_chance = $2 WHERE id = $1', [workspaceId, ALARM]);
		const changes: number[] = [];
		for (let i = 0; i <= CLOSINGS.length; i++)
			changes.push(await insertDataChange(client, { workspaceId, rawTextId: null, reading: {} }));
		const store = { client, workspaceId, changes };
		for (let from = 0; from < count; from += CHUNK) {
			const items = Array.from({ length: Math.min(CHUNK, count - from) }, (_, i) =>
				itemOf(from + i, shapes[seriesOf(from + i)]!, fates[from + i]!),
			);
			const ids = await storeItems(store, items);
			await storeFigures(store, items, ids);
			const records = new Map<string, number>();
			for (const closing of CLOSINGS.keys()) {
				const due = dueAt(items, closing, shapes);
				const made = await storeRecords(store, due, closing, ids, records);
				await storeSteps(store, due, closing, made);
				for (const [code, id] of made) records.set(code, id);
			}
			advance(items.length);
		}
	});
	log.info({ items: count, milliseconds: performance.now() - began }, 'large demo data stored');
}

/** The series of a forecast of demand that is so many times as large. */
const seriesTimes = ({ request: { series } }: Forecast, scale: number) => ({
	...series,
	values: series.values.map((value) => value! * scale),
});

/** A start of demand that is so many times as large: added seasons grow with it. */
function startTimes({ result: { start } }: Forecast, scale: number) {
	return (
		start && {
			...start,
			level: start.level * scale,
			...(start.trend !== undefined && { trend: start.trend * scale }),
			...(start.season && { season: start.season.map((value) => value * scale) }),
		}
	);
}
