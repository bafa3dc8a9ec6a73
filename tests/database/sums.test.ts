import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { parsePeriod } from '../../src/core/series/period';
import type { Closer, Groups, ItemParts } from '../../src/lib/wire/groups';
import type { Forecast } from '../../src/lib/wire/records';
import type { Item } from '../../src/lib/wire/items';
import type { ItemWindow, Overview } from '../../src/lib/wire/list';
import type { Sweep, SweepSums, SweepWindow } from '../../src/lib/wire/sweeps';
import { adoptionOf } from '../support/adopting';
import { type App, startApp, startWorker, until, type Worker } from '../support/app';
import { asTester, makeDatabase, type TestDatabase } from '../support/database';

let database: TestDatabase;
let app: App;
let worker: Worker;

const FIRST = parsePeriod('month', '2023-01');
const monthOf = (t: number) => `${2023 + Math.floor(t / 12)}-${String((t % 12) + 1).padStart(2, '0')}`;
const MONTHS = 30;
/** Whole figures, each item its own; the second begins a year later. */
const figure = (item: number, t: number) =>
	40 * (item + 1) + 7 * ((t * (item + 3)) % 11) + (item === 2 ? 0.1 : 0);
const BEGINS = [0, 12, 0];
const CODES = ['R-1', 'R-2', 'R-3'];
const own = (item: number, t: number) => (t < BEGINS[item]! ? 0 : figure(item, t));
const total = (t: number, items = [0, 1, 2]) =>
	Number(items.reduce((sum, item) => sum + own(item, t), 0).toPrecision(12));

async function bring(code: string, from: number, values: readonly (number | null)[]) {
	const rows = values.map((value, i) => `${monthOf(from + i)};${value ?? ''}`).join('\n');
	const response = await fetch(`${app.url}/api/v1/bring-in`, {
		method: 'POST',
		headers: { 'content-type': 'application/octet-stream' },
		body: `${JSON.stringify({ items: [{ from: 'x', code, name: code }] })}\nmonth;x\n${rows}`,
	});
	return { status: response.status, body: (await response.json()) as { message?: string } };
}
const label = (codes: readonly string[], is: string) =>
	app.call('POST', '/several', { items: { codes }, change: { label: { of: 'Family', is } } });
const make = (labels: Record<string, string>) =>
	app.call<{ code: string; message: string }>('POST', '/groups', { labels: Object.entries(labels) });
const load = async (code: string) => (await app.call<Item>('GET', `/items/${encodeURIComponent(code)}`)).body;
const parts = async (code: string) =>
	(await app.call<ItemParts>('GET', `/items/${encodeURIComponent(code)}/parts`)).body;
/** The figures of a sum, once they are what they are to become. */
async function becomes(code: string, values: readonly (number | null)[]) {
	let now: Item['series'];
	await until(async () => {
		now = (await load(code)).series;
		return JSON.stringify(now.values) === JSON.stringify(values);
	}, `the figures of ${code}`).catch(() => expect(now.values).toEqual(values));
	return now!;
}
const upTo = (end: number, items?: number[]) => Array.from({ length: end }, (_, t) => total(t, items));

beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url);
	worker = await startWorker(database.url);
	for (const [item, code] of CODES.entries())
		await bring(
			code,
			BEGINS[item]!,
			Array.from({ length: MONTHS - BEGINS[item]! }, (_, i) => figure(item, BEGINS[item]! + i)),
		);
	await label(CODES, 'Rims');
});
afterAll(async () => {
	await worker?.stop();
	await app?.stop();
	await database?.drop();
});

describe('the figures of a group total', () => {
	test('are those of its items, added up from the first of them on; asked for twice, it is the same one', async () => {
		const made = await make({ Family: 'Rims' });
		expect([made.status, made.body]).toEqual([200, { code: 'Rims' }]);
		const sum = await load('Rims');
		expect(sum.series).toEqual({ frequency: 'month', seasonLength: 12, first: FIRST, values: upTo(MONTHS) });
		expect(sum.sumOf).toEqual({ unit: '', labels: [['Family', 'Rims']] });
		expect((await make({ Family: 'Rims' })).body).toEqual({ code: 'Rims' });
		expect(await parts('Rims')).toMatchObject({
			items: 3,
			last: { items: 0 },
			ended: { items: 0 },
			missing: { periods: 0, latest: null },
			ahead: [],
		});
	});

	test('it waits for the last of them, and says for whom', async () => {
		for (const item of [0, 1]) await bring(CODES[item]!, MONTHS, [figure(item, MONTHS)]);
		expect((await parts('Rims')).last).toEqual({ items: 1, codes: ['R-3'] });
		await becomes('Rims', upTo(MONTHS));
		await bring('R-3', MONTHS, [figure(2, MONTHS)]);
		await becomes('Rims', upTo(MONTHS + 1));
		expect((await parts('Rims')).last.items).toBe(0);
	});

	test('follow corrections, of the figures and over them', async () => {
		const values = upTo(MONTHS + 1);
		await bring('R-1', 5, [figure(0, 5) + 100]);
		values[5] = Number((values[5]! + 100).toPrecision(12));
		await becomes('Rims', values);
		const { layers } = await load('R-2');
		await app.call('POST', '/items/R-2/layers', {
			seen: layers.newest,
			entries: [{ kind: 'correction', period: FIRST + 20, setting: { to: 1000, over: figure(1, 20) } }],
		});
		values[20] = Number((values[20]! - figure(1, 20) + 1000).toPrecision(12));
		await becomes('Rims', values);
		// Back to what they were.
		await bring('R-1', 5, [figure(0, 5)]);
		await app.call('POST', '/items/R-2/layers', {
			seen: (await load('R-2')).layers.newest,
			entries: [{ kind: 'correction', period: FIRST + 20, setting: null }],
		});
		await becomes('Rims', upTo(MONTHS + 1));
	});

	test('miss a period that an item misses, until a gap rule fills it', async () => {
		await bring('R-1', MONTHS + 1, [null, figure(0, MONTHS + 2)]);
		for (const item of [1, 2])
			await bring(CODES[item]!, MONTHS + 1, [figure(item, MONTHS + 1), figure(item, MONTHS + 2)]);
		await becomes('Rims', [...upTo(MONTHS + 1), null, total(MONTHS + 2)]);
		expect((await parts('Rims')).missing).toEqual({ periods: 1, latest: FIRST + MONTHS + 1 });
		await app.call('POST', '/several', { items: { codes: ['R-1'] }, change: { gapRule: 'zero' } });
		await becomes('Rims', [...upTo(MONTHS + 1), total(MONTHS + 1, [1, 2]), total(MONTHS + 2)]);
	});

	test('are those of the items that have its labels now; a retired one counts as far as it goes', async () => {
		const values = [...upTo(MONTHS + 1), total(MONTHS + 1, [1, 2]), total(MONTHS + 2)];
		await label(['R-3'], 'Hubs');
		await becomes(
			'Rims',
			values.map((value, t) => Number((value - own(2, t)).toPrecision(12))),
		);
		await label(['R-3'], 'Rims');
		await becomes('Rims', values);
		await app.call('POST', '/several', {
			items: { codes: ['R-1'] },
			change: { retired: true },
			reason: 'gone',
		});
		for (const item of [1, 2]) await bring(CODES[item]!, MONTHS + 3, [figure(item, MONTHS + 3)]);
		await becomes('Rims', [...values, total(MONTHS + 3, [1, 2])]);
		expect((await parts('Rims')).ended).toEqual({ items: 1, codes: ['R-1'], after: 12 });
	});

	test('come from its items alone', async () => {
		const refused = await bring('Rims', 0, [1]);
		expect(refused.status).toBe(422);
		expect(refused.body.message).toContain('Rims is the sum of other items');
		expect((await app.call('GET', '/items/R-1/parts')).status).toBe(422);
		expect((await app.call('GET', '/items/Nobody/parts')).status).toBe(404);
	});

	test('one that is not counted alike is not added up, and none neither; a code that is taken gets a number', async () => {
		expect((await make({ Family: 'Spokes' })).status).toBe(422);
		await app.call('POST', '/items', { code: 'Hubs', name: 'Hub', text: '2024-01;3\n2024-02;4\n2024-03;5' });
		await label(['Hubs'], 'Hubs');
		expect((await make({ Family: 'Hubs' })).body).toEqual({ code: 'Hubs 2' });
		await asTester(database.client, 1);
		await database.client.query(`UPDATE item SET unit = 'pairs' WHERE code = 'R-3'`);
		const refused = await make({});
		expect(refused.status).toBe(422);
		expect(refused.body.message).toMatch(/cannot be added up: \d in no unit, 1 in “pairs”/);
		const unit = async () => (await app.call<Groups>('GET', '/groups?by=Family')).body.all.unit;
		await until(async () => (await unit()) === null, 'groups to follow');
		await database.client.query(`UPDATE item SET unit = '' WHERE code = 'R-3'`);
		await until(async () => (await unit()) === '', 'groups to follow again');
	});

	test('are counted once: not in groups, not in what is handed over', async () => {
		const { groups, all } = (await app.call<Groups>('GET', '/groups?by=Family')).body;
		expect(groups.map(({ labels, items }) => [labels, items])).toEqual([
			[['Hubs'], 1],
			[['Rims'], 2],
		]);
		expect(all.items).toBe(3);
		const { items } = (await app.call<ItemWindow>('GET', '/items?sort=code')).body;
		expect(items.map(({ code, sum }) => [code, sum])).toEqual([
			['Hubs', false],
			['Hubs 2', true],
			['R-2', false],
			['R-3', false],
			['Rims', true],
		]);
		// By themselves, and not among those without a label.
		const codesOf = async (query: string) =>
			(await app.call<ItemWindow>('GET', `/items?sort=code&${query}`)).body.items.map(({ code }) => code);
		expect(await codesOf('why=sums')).toEqual(['Hubs 2', 'Rims']);
		expect(await codesOf('label=Family%3D')).toEqual([]);
		const said = (await app.call<Overview>('GET', '/overview')).body;
		expect([said.items, said.sums]).toEqual([5, 2]);
		expect(said.labels.reduce((sum, { items: count }) => sum + count, 0)).toBe(3);
	});
});

describe('what is adopted for all as one', () => {
	const END = FIRST + MONTHS + 3;
	const codes = ['R-2', 'R-3'];
	const adopt = async (
		code: string,
		candidate: { id: string; method: string; [key: string]: unknown },
		horizon: number,
	) =>
		expect(
			(await app.call('POST', `/items/${code}/adopted`, adoptionOf(await load(code), candidate, { horizon })))
				.status,
		).toBe(201);
	const share = (by: string) =>
		app.call<Sweep & { message: string }>('POST', '/sweeps', {
			kind: 'share',
			items: { partsOf: 'Rims' },
			settings: { share: by },
		});
	async function shared(by: string) {
		const { status, body } = await share(by);
		expect([status, body.message]).toEqual([201, undefined]);
		await ended(body.id);
		return body.id;
	}
	const closer = () => app.call<Closer & { message: string }>('GET', '/items/Rims/closer');
	const look = async (id: number) =>
		(await app.call<{ sweep: Sweep; sums: SweepSums }>('GET', `/sweeps/${id}`)).body;
	const ended = (id: number) =>
		until(async () => (await look(id)).sweep.endedAt !== null, 'the end of the sweep');
	const rows = async (id: number) =>
		(await app.call<SweepWindow>('GET', `/sweeps/${id}/rows?sort=code&up=1`)).body.items;

	test('cannot be shared before it is there, nor by forecasts that are not', async () => {
		expect((await share('cycle')).body.message).toContain('Nothing is adopted for Rims');
		expect((await closer()).body.message).toContain('Nothing is adopted for Rims');
		await adopt('Rims', { id: 'a', method: 'moving-average', span: 6 }, 4);
		expect((await share('forecasts')).body.message).toContain('Its items have no forecasts');
		expect((await closer()).body.message).toMatch(/^2 of its 2 items have no forecast, R-2 first\./);
		expect((await share('luck')).status).toBe(422);
		expect((await app.call('POST', '/sweeps', { kind: 'share', items: { asked: {} } })).status).toBe(422);
	});

	test('is shared by own forecasts: each keeps its part, and together they come to it', async () => {
		await adopt('R-2', { id: 'a', method: 'naive' }, 3);
		await adopt('R-3', { id: 'a', method: 'moving-average', span: 3 }, 3);
		const { ahead } = await parts('Rims');
		const before = await Promise.all(codes.map(async (code) => (await load(code)).adopted!.steps));
		expect(ahead).toEqual(
			[0, 1, 2].map((i) => ({
				period: END + 1 + i,
				figure: expect.closeTo(before[0]![i]!.final + before[1]![i]!.final, 9),
				items: 2,
			})),
		);
		const id = await shared('forecasts');
		const whole = (await load('Rims')).adopted!.steps;
		const { sweep, sums } = await look(id);
		// The fourth period has no forecast of theirs.
		expect(sweep.settings.share).toMatchObject({ by: 'forecasts', of: 'Rims', ahead: 4 });
		expect(sweep.settings.share!.periods).toHaveLength(3);
		expect(sums.next).toBeCloseTo(whole[0]!.final, 9);
		const [second, third] = await rows(id);
		expect(second!.next! / third!.next!).toBeCloseTo(before[0]![0]!.final / before[1]![0]!.final, 9);

		const { body: adopting } = await app.call<Sweep>('POST', '/sweeps', {
			kind: 'adopt',
			of: id,
			items: { rule: 'all' },
			reason: 'planned as one',
		});
		await ended(adopting.id);
		const after = await Promise.all(codes.map(async (code) => (await load(code)).adopted!));
		for (const i of [0, 1, 2])
			expect(after[0]!.steps[i]!.final + after[1]!.steps[i]!.final).toBeCloseTo(whole[i]!.final, 9);
		for (const [at, { steps, reason, carriedFrom, label }] of after.entries()) {
			expect([reason, label]).toEqual(['planned as one', ['Naive', 'Moving average of 3'][at]]);
			expect(carriedFrom).not.toBeNull();
			// What was computed stays beside what it was changed to, and why.
			expect(steps[0]!.mean).toBeCloseTo(before[at]![0]!.mean, 9);
			expect(steps[0]!.changeReason).toMatch(/^\d+ % of “Rims”, by own forecasts$/);
		}
		const handed = (await app.call<Forecast[]>('GET', '/forecasts')).body;
		expect(handed.map(({ code }) => code)).toEqual(codes);
		expect(handed[0]!.steps[0]!.final).toBe(after[0]!.steps[0]!.final);
	});

	test('is held against the sum of what is adopted for its items, from the same origins', async () => {
		const { status, body } = await closer();
		expect(status).toBe(200);
		// Of 34 months those are tried that know eight.
		expect(body.origins).toBe(MONTHS + 4 - 8);
		expect(Math.abs(body.gain!)).toBeLessThan(1);
		expect((await app.call('GET', '/items/R-2/closer')).status).toBe(422);
	});

	test('is shared by the last cycle’s demand', async () => {
		const id = await shared('cycle');
		const cycle = [1, 2].map((item) =>
			Array.from({ length: 12 }, (_, i) => figure(item, MONTHS + 3 - i)).reduce(
				(sum, value) => sum + value,
				0,
			),
		);
		const whole = (await load('Rims')).adopted!.steps[0]!.final;
		const [second, third] = await rows(id);
		expect(second!.next).toBeCloseTo((whole * cycle[0]!) / (cycle[0]! + cycle[1]!), 6);
		expect(third!.next).toBeCloseTo((whole * cycle[1]!) / (cycle[0]! + cycle[1]!), 6);
	});
});
