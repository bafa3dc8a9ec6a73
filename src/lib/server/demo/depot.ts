import { availableParallelism } from 'node:os';
import type { PoolClient } from 'pg';
import * as v from 'valibot';
import type { Rounding } from '$core/grading/final';
import type { Candidate } from '$core/methods/registry';
import { CALENDAR_SEASON_LENGTH, FREQUENCIES, type Frequency, USUAL_HORIZON } from '$core/series/frequency';
import { NO_LAYERS } from '$core/series/layers';
import { firstDay } from '$core/series/period';
import index from '../../../../demo/items.csv?raw';
import { readText } from '../../reading/read';
import type { ReadItem } from '../../reading/reading';
import { cutRows } from '../../reading/table';
import type { Adopt } from '../../wire/records';
import type { Plan } from '../../wire/items';
import { insertDataChange, newestChange } from '../items/actuals';
import { storeTable } from '../bring-in/bring-in';
import { lockItem } from '../items/item-records';
import { saveLineUpIn } from '../items/line-ups';
import { insertRawText } from '../items/raw-texts';
import { insertRecord } from '../records/records';
import type { Forecast } from '../threads/tasks';
import { type Asker, threads } from '../threads/threads';
import { type Actor, changing } from '../database/workspaces';

const SERIES = import.meta.glob<string>('../../../../demo/series/*.csv', {
	query: '?raw',
	import: 'default',
	eager: true,
});

const ItemSchema = v.object({
	code: v.string(),
	name: v.string(),
	unit: v.string(),
	frequency: v.picklist(FREQUENCIES),
	Family: v.string(),
	Bay: v.string(),
});
const IndexSchema = v.array(ItemSchema);
type DemoItem = v.InferOutput<typeof ItemSchema>;

const DEMO = { caller: 'demo' };

const smoothing: Candidate = { id: 'd', method: 'ses', optimise: {} };
const average = (span: number): Candidate => ({ id: 'e', method: 'moving-average', span });
const drift: Candidate = { id: 'f', method: 'drift' };
const holtWinters = (season: 'additive' | 'multiplicative'): Candidate => ({
	id: 'd',
	method: 'holt-winters',
	season,
	optimise: {},
});

const indices = (season: 'additive' | 'multiplicative'): Candidate => ({
	id: 'd',
	method: 'seasonal-index',
	season,
	index: { rule: 'ratio-to-moving-average' },
	level: { rule: 'cycle-average', cycles: 2 },
});

/** What the depot's analyst adopts; items that are not named wait for a forecast. */
const ADOPTED: Readonly<Record<string, Candidate>> = {
	'10-101': average(6),
	'10-118': drift,
	'10-240': holtWinters('multiplicative'),
	'10-255': indices('multiplicative'),
	'20-020': holtWinters('additive'),
	'20-034': { id: 'd', method: 'holt', optimise: {} },
	'20-090': smoothing,
	'30-112': { id: 'd', method: 'ses', constants: { alpha: 0.2 } },
	'30-115': smoothing,
	'30-128': drift,
	'30-310': average(12),
	'30-402': smoothing,
	'40-007': holtWinters('additive'),
	'40-051': average(4),
	'40-060': holtWinters('additive'),
	'50-210': smoothing,
	'50-233': smoothing,
	'60-014': holtWinters('multiplicative'),
	'70-201': indices('multiplicative'),
	'70-230': { id: 'd', method: 'damped-holt', optimise: { criterion: 'mad' } },
	'80-005': average(6),
	'80-016': { id: 'a', method: 'average' },
	'90-001': smoothing,
	'90-004': { id: 'g', method: 'weighted-moving-average', weights: [1, 2, 3] },
	'95-100': holtWinters('multiplicative'),
	'95-120': smoothing,
	'95-140': holtWinters('additive'),
	'95-160': holtWinters('additive'),
	'99-010': {
		id: 'd',
		method: 'seasonal-index',
		season: 'multiplicative',
		index: { rule: 'ratio-to-moving-average' },
		level: { rule: 'last-cycle', growth: 0.02 },
		scenarios: [
			{ rule: 'last-cycle', growth: 0.02 },
			{ rule: 'cycle-average', cycles: 2 },
			{ rule: 'cycle-trend' },
		],
	},
	'99-020': drift,
	'99-030': holtWinters('multiplicative'),
	'99-040': smoothing,
	'99-050': { id: 'a', method: 'naive' },
	'30-505': { id: 'a', method: 'average' },
};

/** What stands beside an adopted candidate in its line-up. */
const BESIDE: readonly Candidate[] = [
	{ id: 'a', method: 'naive' },
	{ id: 'b', method: 'moving-average', span: 3 },
	{ id: 'c', method: 'ses', constants: { alpha: 0.3 } },
];

/** How many periods ahead are adopted, and how many of the latest ones were closed one by one. */
const CLOSED: Readonly<Record<Frequency, number>> = {
	hour: 12,
	day: 14,
	weekday: 15,
	week: 24,
	month: 24,
	quarter: 8,
	'half-year': 6,
	year: 6,
	step: 12,
};

const LONG = 1000;

/** How items are planned with, where that is another way than usual. */
const PLANNED: Readonly<Record<string, Partial<Plan>>> = {
	'10-101': { price: 3.4, leadTime: 2 },
	'10-240': { price: 18.5, leadTime: 3 },
	'30-112': { carry: 'keep', price: 12.9 },
	'60-014': { price: 14.2 },
	'80-005': { leadTime: 4, price: 96 },
};

const ROUNDED: Readonly<Record<string, Rounding>> = {
	'10-101': { pack: 50, way: 'nearest', floor: 0 },
	'30-402': { pack: 10, way: 'up', floor: 0 },
	'80-005': { pack: 1, way: 'up', floor: 0 },
};

/** Figures changed by hand: how many periods before the newest one they were adopted. */
const BY_HAND: Readonly<Record<string, readonly { ago: number; change: Adopt['changes'][number] }[]>> = {
	'10-240': [
		{
			ago: 8,
			change: { step: 1, by: { kind: 'rate', rate: 1.1 }, reason: 'dealers order ahead of the season' },
		},
		{
			ago: 3,
			change: { step: 2, by: { kind: 'rate', rate: 1.25 }, reason: 'a large order announced by the city' },
		},
	],
	'20-034': [
		{ ago: 5, change: { step: 1, by: { kind: 'rate', rate: 0.9 }, reason: 'the supplier is late' } },
	],
	'40-051': [
		{ ago: 14, change: { step: 1, by: { kind: 'rate', rate: 1.5 }, reason: 'the dark season begins' } },
		{ ago: 13, change: { step: 1, by: { kind: 'rate', rate: 1.4 }, reason: 'as last year' } },
	],
	'30-402': [
		{
			ago: 7,
			change: { step: 1, by: { kind: 'to', figure: 400 }, reason: 'the old level was expected back' },
		},
	],
};

/** Who was seen, and waits for the next figure. */
const HIDDEN: Readonly<Record<string, string>> = {
	'40-090': 'three months are too few; wait for the winter',
};

/** Whose newest figure is not in yet, and whose forecast nobody carried on for so many periods. */
const LATE = new Set(['70-201']);
const LEFT_ALONE: Readonly<Record<string, number>> = { '20-090': 12 };

/**
 * The depot as its analyst has worked with it: every item, its figures as they came in, what was adopted and closed period after
 * period. Made in a new workspace, always alike.
 */
export async function makeDepot(actor: Actor): Promise<void> {
	const [headings = [], ...lines] = cutRows(index, ',');
	const items = v.parse(
		IndexSchema,
		lines.map((line) => Object.fromEntries(headings.map((heading, c) => [heading, line[c]]))),
	);
	// Stored one after the other, so that ids are the same each time; forecasts of the next ones are calculated meanwhile.
	const histories: Promise<History>[] = [];
	for (const at of items.keys()) {
		const ready = Math.min(items.length, at + 1 + availableParallelism());
		while (histories.length < ready) histories.push(historyOf(items[histories.length]!));
		await storeItem(actor, await histories[at]!);
	}
}

/** A forecast that was adopted when so many of the item's periods were in. */
interface Closing {
	known: number;
	forecast: Forecast;
	changes: Adopt['changes'];
}

/** An item with what was said of it as time went on. */
interface History {
	item: DemoItem;
	/** Its column’s head, and its lines as they came. */
	head: string;
	lines: readonly string[];
	first: number;
	values: readonly (number | null)[];
	closings: readonly Closing[];
}

async function historyOf(item: DemoItem): Promise<History> {
	const { code, frequency } = item;
	const text = SERIES[`../../../../demo/series/${code}.csv`]!;
	const [head = '', ...all] = text.trimEnd().split('\n');
	const lines = LATE.has(code) ? all.slice(0, -1) : all;
	const candidate = ADOPTED[code];
	const { first, values } = readText([head, ...lines].join('\n'), { frequency }).items[0]!;
	const closings = candidate ? await closingsOf({ code, frequency, first, values }, candidate, DEMO) : [];
	return { item, head, lines, first, values, closings };
}

/** First what was known two years ago, then period after period as it was closed, its forecast carried on each time. */
async function storeItem(
	actor: Actor,
	{ item: { code, name, unit, frequency, Family, Bay }, head, lines, first, values, closings }: History,
): Promise<void> {
	const task = { kind: 'new', content: null } as const;
	const request = (of: readonly string[]) =>
		Buffer.from(
			JSON.stringify({ code, name, unit, text: [head, ...of, ''].join('\n'), choices: { frequency } }),
		);
	const candidate = ADOPTED[code];
	const begun = closings[0]?.known ?? lines.length;
	const table = await threads().run('readTable', { ...task, request: request(lines.slice(0, begun)) }, DEMO);
	await changing(actor, async (client) => {
		await storeTable(client, actor, table, Buffer.from(table.content!));
		await client.query('UPDATE item SET labels = $3 WHERE workspace_id = $1 AND code = $2', [
			actor.workspaceId,
			code,
			{ Family, ...(Bay !== '' && { Bay }) },
		]);
		const item = await lockItem(client, actor.workspaceId, code);
		const plan = PLANNED[code];
		if (plan)
			await client.query(
				`UPDATE item SET carry = coalesce($3, carry), lead_time = $4, price = $5 WHERE workspace_id = $1 AND id = $2`,
				[actor.workspaceId, item.id, plan.carry ?? null, plan.leadTime ?? null, plan.price ?? null],
			);
		const hidden = HIDDEN[code];
		if (hidden !== undefined)
			await client.query(
				`INSERT INTO hide_entry (workspace_id, item_id, period, words) VALUES ($1, $2, $3, $4)`,
				[actor.workspaceId, item.id, first + lines.length - 1, hidden],
			);
		if (!candidate) return;
		const others = BESIDE.filter(({ id }) => id !== candidate.id);
		await saveLineUpIn(client, actor.workspaceId, item, {
			version: 0,
			candidates: [...others, candidate],
			hidden: [],
		});
		const comeIn = (from: number, to: number) =>
			bringOn(client, actor.workspaceId, item.id, {
				fileName: `${code}.csv`,
				text: [head, ...lines.slice(from, to), ''].join('\n'),
				reading: { frequency },
				first: first + from,
				values: values.slice(from, to),
			});
		let carriedFrom: number | null = null;
		let known = begun;
		let seen = await newestChange(client, actor.workspaceId, item.id);
		for (const closing of closings) {
			if (closing.known > known) {
				seen = await comeIn(known, closing.known);
				known = closing.known;
			}
			carriedFrom = await insertRecord(client, actor.workspaceId, {
				itemId: item.id,
				forecast: closing.forecast,
				seen,
				seenLayers: 0,
				reason: carriedFrom === null ? 'the method that fitted best' : '',
				changes: closing.changes,
				rounding: ROUNDED[code] ?? null,
				carriedFrom,
				asked: [candidate],
				at: dayAfter(frequency, first + known - 1),
			});
		}
		if (known < lines.length) await comeIn(known, lines.length);
	});
}

/** The forecasts that an item was given, period after period. */
async function closingsOf(
	{
		code,
		frequency,
		first,
		values,
	}: Pick<DemoItem, 'code' | 'frequency'> & Pick<ReadItem, 'first' | 'values'>,
	candidate: Candidate,
	asker: Asker,
): Promise<Closing[]> {
	const seasonLength = CALENDAR_SEASON_LENGTH[frequency];
	const horizon = USUAL_HORIZON[frequency];
	const least = Math.min(values.length - 1, Math.max(6, 2 * seasonLength + 2));
	// Thousands of periods take their time; a few of them show it as well.
	const closed = values.length > LONG ? 4 : CLOSED[frequency];
	const from = Math.max(least, values.length - closed - 1);
	const to = LEFT_ALONE[code] === undefined ? values.length - 1 : values.length - LEFT_ALONE[code];
	const closings: Closing[] = [];
	let candidates: readonly Candidate[] = [candidate];
	for (let known = from; known <= to; known++) {
		const seen = {
			actuals: { first, values: values.slice(0, known) },
			frequency,
			seasonLength,
			layers: NO_LAYERS,
			group: null,
		};
		const forecast = await threads().run(
			'forecast',
			{ seen, candidates, scoreFrom: null, horizon, levels: [0.8, 0.95], service: 0.95 },
			asker,
		);
		if (PLANNED[code]?.carry === 'keep') candidates = forecast.held;
		// As carrying on has it: a change goes along until its period is in.
		const changes = (BY_HAND[code] ?? []).flatMap(({ ago, change }) => {
			const since = known - (values.length - ago);
			return since >= 0 && since < change.step ? [{ ...change, step: change.step - since }] : [];
		});
		closings.push({ known, forecast, changes });
	}
	return closings;
}

/** Figures that came in for an item, in a text of their own. */
interface Came {
	fileName: string;
	text: string;
	reading: object;
	first: number;
	values: readonly (number | null)[];
}

/** New figures of an item, as they came in. @returns the change's id */
async function bringOn(
	client: PoolClient,
	workspaceId: number,
	itemId: number,
	{ fileName, text, reading, first, values }: Came,
): Promise<number> {
	const rawTextId = await insertRawText(client, { workspaceId, fileName, content: Buffer.from(text) });
	const change = await insertDataChange(client, { workspaceId, rawTextId, reading });
	await client.query(
		`INSERT INTO actual (workspace_id, item_id, period, revision, value, data_change_id)
		SELECT $1, $2, $3::integer + place - 1, 1, value, $4
		FROM unnest($5::double precision[]) WITH ORDINALITY AS figure (value, place)`,
		[workspaceId, itemId, first, change, values],
	);
	return change;
}

/** The morning of the third day after a period; no later than now, whatever the calendar of this machine says. */
function dayAfter(frequency: Frequency, period: number): Date {
	const day = firstDay(frequency, period + 1) ?? 0;
	const wait = frequency === 'hour' || frequency === 'day' || frequency === 'weekday' ? 0 : 2;
	return new Date(Math.min(Date.now() - 60_000, 86_400_000 * (day + wait) + 8 * 3_600_000));
}
