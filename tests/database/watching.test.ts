import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { AdoptedForecast } from '../../src/lib/wire/records';
import type { Item } from '../../src/lib/wire/items';
import type { ItemGrades } from '../../src/lib/wire/status';
import type { ItemRow, ItemWindow, Overview } from '../../src/lib/wire/list';
import type { RefusalBody } from '../../src/lib/wire/service';
import { adoptionOf } from '../support/adopting';
import { type App, startApp } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';

let database: TestDatabase;
let app: App;
const JAN = 2024 * 12;
const naive = { id: 'a', method: 'naive' };
const searched = { id: 'a', method: 'ses', optimise: {} };

beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url);
});
afterAll(async () => {
	await app?.stop();
	await database?.drop();
});

const month = (t: number) => `${2024 + Math.floor(t / 12)}-${String((t % 12) + 1).padStart(2, '0')}`;
const usual = (t: number) => 100 + ((t * 7) % 9);
const table = (from: number, figures: readonly number[]) =>
	`month;x\n${figures.map((figure, i) => `${month(from + i)};${figure}`).join('\n')}`;

let number = 0;
/** An item of its own for a test, with three years of figures. */
async function newItem(periods = 36): Promise<string> {
	const code = `W-${++number}`;
	const text = table(
		0,
		Array.from({ length: periods }, (_, t) => usual(t)),
	);
	expect((await app.call('POST', '/items', { code, name: `Item ${code}`, text })).status).toBe(201);
	return code;
}
const load = async (code: string) => (await app.call<Item>('GET', `/items/${code}`)).body;
const rowOf = async (code: string): Promise<ItemRow> =>
	(await app.call<ItemWindow>('GET', `/items?find=${code}`)).body.items.find((row) => row.code === code)!;
const adopt = (code: string, wish: object) =>
	app.call<AdoptedForecast & RefusalBody>('POST', `/items/${code}/adopted`, wish);
const gradesOf = async (code: string) => (await app.call<ItemGrades>('GET', `/items/${code}/grades`)).body;
async function updateAdopted(code: string, more: object = {}) {
	const { seen, layers } = await load(code);
	return app.call<AdoptedForecast & RefusalBody>('POST', `/items/${code}/updated`, {
		seen,
		seenLayers: layers.newest,
		...more,
	});
}
async function bring(code: string, from: number, figures: readonly number[]): Promise<void> {
	const response = await fetch(`${app.url}/api/v1/bring-in`, {
		method: 'POST',
		headers: { 'content-type': 'application/octet-stream' },
		body: `${JSON.stringify({ items: [{ from: 'x', code, name: `Item ${code}` }] })}\n${table(from, figures)}`,
	});
	expect(response.status).toBe(200);
}
/** Why to look at an item; whether it waits for a figure rests on the other tests' items too. */
const codes = (row: Pick<ItemRow, 'status'>) =>
	row.status!.reasons.map(({ code }) => code).filter((code) => code !== 'not-in');

describe('what is handed over', () => {
	test('figures changed by hand and rounded stand beside the computed ones, each with its reason', async () => {
		const code = await newItem();
		const item = await load(code);
		const wish = adoptionOf(item, naive, { horizon: 4 });
		const mean = wish.shown[0]!.mean!;
		const changes = [
			{ step: 2, by: { kind: 'rate', rate: 1.2 }, reason: 'a promotion in February' },
			{ step: 3, by: { kind: 'to', figure: 41 }, reason: 'the shop is closed' },
		];
		const rounding = { pack: 12, way: 'up', floor: 0 };
		const final = [mean, 1.2 * mean, 41, mean].map((figure) => Math.ceil(figure / 12) * 12);
		const body = {
			...wish,
			changes,
			rounding,
			shown: wish.shown.map((step, i) => ({ ...step, final: final[i]! })),
		};
		const { status, body: made } = await adopt(code, body);
		expect(status).toBe(201);
		expect(made.steps.map((step) => step.final)).toEqual(final);
		expect(made.steps.map((step) => step.mean)).toEqual([mean, mean, mean, mean]);
		expect(made.steps.map(({ changeReason }) => changeReason)).toEqual([
			null,
			'a promotion in February',
			'the shop is closed',
			null,
		]);
		expect([made.rounding, made.steps[1]!.changeRate, made.steps[2]!.changedTo]).toEqual([rounding, 1.2, 41]);
		expect(made.together).toHaveLength(4);
		expect(made.together[3]!.mean).toBeCloseTo(4 * mean, 9);
		expect(made.together[3]!.stock).toBeGreaterThan(4 * mean);
		// And each is held against what comes.
		await bring(code, 36, [mean, 150]);
		const { grades } = await gradesOf(code);
		expect(grades.map(({ error, finalError }) => [error, finalError])).toEqual([
			[0, mean - final[0]!],
			[150 - mean, 150 - final[1]!],
		]);
	});

	test('what was not shown so is refused, and so is a change without a reason', async () => {
		const code = await newItem();
		const wish = adoptionOf(await load(code), naive, { horizon: 2 });
		const change = { step: 1, by: { kind: 'to', figure: 80 }, reason: 'agreed with sales' };
		const other = await adopt(code, { ...wish, changes: [change] });
		expect([other.status, other.body.message]).toEqual([
			409,
			expect.stringMatching(/for 2027-01 a final forecast of 80(\.0)?, not 10\d/),
		]);
		const silent = await adopt(code, { ...wish, changes: [{ ...change, reason: ' ' }] });
		expect([silent.status, silent.body.issues![0]!.message]).toEqual([
			422,
			'a change by hand needs a reason',
		]);
		const twice = await adopt(code, { ...wish, changes: [change, change] });
		expect(twice.body.issues![0]!.message).toBe('a step is changed once');
		const beyond = await adopt(code, { ...wish, changes: [{ ...change, step: 3 }] });
		expect([beyond.status, beyond.body.message]).toEqual([422, expect.stringMatching(/Step 3 is changed/)]);
		expect((await load(code)).adoptedCount).toBe(0);
	});
});

describe('carried on', () => {
	test('the same settings on newer actuals: constants searched anew or kept, changes still ahead go along', async () => {
		const code = await newItem();
		const wish = adoptionOf(await load(code), searched, { horizon: 6 });
		const means = wish.shown.map(({ mean }) => mean!);
		const changes = [
			{ step: 1, by: { kind: 'to', figure: 90 }, reason: 'a strike' },
			{ step: 3, by: { kind: 'rate', rate: 2 }, reason: 'a fair in March' },
		];
		const rounding = { pack: 5, way: 'nearest', floor: 0 };
		const near = (figure: number) => 5 * Math.round(figure / 5);
		const final = means.map((mean, i) => near(i === 0 ? 90 : i === 2 ? 2 * mean : mean));
		const { body: first } = await adopt(code, {
			...wish,
			changes,
			rounding,
			shown: wish.shown.map((step, i) => ({ ...step, final: final[i]! })),
		});
		const none = await updateAdopted(code);
		expect([none.status, none.body.message]).toEqual([
			422,
			expect.stringMatching(/There are no new actuals since/),
		]);
		await bring(code, 36, [140]);
		const { status, body: second } = await updateAdopted(code, { reason: 'as every month' });
		expect(status).toBe(201);
		expect(second).toMatchObject({
			carriedFrom: first.id,
			origin: JAN + 36,
			rounding,
			reason: 'as every month',
			label: first.label,
		});
		expect(second.constants.alpha).not.toBe(first.constants.alpha);
		expect(second.steps).toHaveLength(6);
		expect(second.steps.map(({ changeReason }) => changeReason)).toEqual([
			null,
			'a fair in March',
			null,
			null,
			null,
			null,
		]);
		expect(second.steps[1]!.final).toBe(near(2 * second.steps[1]!.mean));
		// From now on the constants are kept.
		const { plan, name, unit } = await load(code);
		const patched = await app.call<Item>('PATCH', `/items/${code}`, {
			plan: { ...plan, carry: 'keep' },
			seen: { code, name, unit, retired: false, plan },
		});
		expect(patched.body.plan).toEqual({ carry: 'keep', leadTime: null, price: null });
		expect(patched.body.changes[0]).toMatchObject({ kind: 'planned', plan, by: 'tester' });
		await bring(code, 37, [180]);
		const { body: third } = await updateAdopted(code);
		expect(third.constants).toEqual(second.constants);
		for (const { id } of [first, second, third])
			expect((await app.call('GET', `/items/${code}/adopted/${id}`)).body).toEqual({
				sameData: true,
				sameFigures: true,
			});
		// One run; and searching again finds other constants.
		expect(new Set((await gradesOf(code)).grades.map(({ run }) => run))).toEqual(new Set([first.id]));
		await app.call('PATCH', `/items/${code}`, {
			plan: { ...plan, carry: 'search' },
			seen: { code, name, unit, retired: false },
		});
		await bring(code, 38, [95]);
		expect((await updateAdopted(code)).body.constants.alpha).not.toBe(third.constants.alpha);
	});

	test('from a page that has not seen the newest actuals, or where nothing was adopted, it is refused', async () => {
		const code = await newItem();
		const { seen } = await load(code);
		const never = await updateAdopted(code);
		expect([never.status, never.body.message]).toEqual([422, expect.stringMatching(/Nothing is adopted/)]);
		await adopt(code, adoptionOf(await load(code), naive));
		await bring(code, 36, [140]);
		const stale = await app.call<RefusalBody>('POST', `/items/${code}/updated`, { seen });
		expect([stale.status, stale.body.between]).toEqual([409, ['tester: Jan 2027 140']]);
	});

	test('of ten at once one carries on, the others are told who did', async () => {
		const code = await newItem();
		await adopt(code, adoptionOf(await load(code), naive));
		await bring(code, 36, [140]);
		const { seen } = await load(code);
		const all = await Promise.all(
			Array.from({ length: 10 }, () =>
				app.call<AdoptedForecast & RefusalBody>('POST', `/items/${code}/updated`, { seen }),
			),
		);
		expect(all.filter(({ status }) => status === 201)).toHaveLength(1);
		for (const { status, body } of all)
			if (status !== 201)
				expect(`${status} ${body.message}`).toMatch(/^409 tester adopted|^422 There are no new actuals/);
		expect((await load(code)).adoptedCount).toBe(2);
	});
});

describe('status', () => {
	test('brought in, an item is on the list with its reason before the answer is through', async () => {
		const code = await newItem();
		expect(codes(await rowOf(code))).toEqual(['no-forecast']);
		await adopt(code, adoptionOf(await load(code), { id: 'a', method: 'average' }, { horizon: 3 }));
		expect(codes(await rowOf(code))).toEqual([]);
		await bring(code, 36, [300]);
		const row = await rowOf(code);
		expect(codes(row)).toEqual(['outside']);
		expect(row.status!.newest).toMatchObject({ period: JAN + 36, actual: 300, inside: null });
		expect(row.status!.score).toMatchObject({ count: 1 });
		// The figure was a slip.
		await bring(code, 36, [104]);
		expect(codes(await rowOf(code))).toEqual([]);
	});

	test('ran out, by the lead time that the item has', async () => {
		const code = await newItem();
		await adopt(code, adoptionOf(await load(code), naive, { horizon: 2 }));
		const { name, unit, plan } = await load(code);
		const seen = { code, name, unit, retired: false };
		await app.call('PATCH', `/items/${code}`, { plan: { ...plan, leadTime: 3 }, seen });
		expect((await rowOf(code)).status!.reasons[0]).toMatchObject({ code: 'ran-out', left: 2, needed: 3 });
		await app.call('PATCH', `/items/${code}`, { plan, seen });
		expect(codes(await rowOf(code))).toEqual([]);
		await bring(code, 36, [usual(36), usual(37)]);
		expect(codes(await rowOf(code))).toContain('ran-out');
		expect((await rowOf(code)).shown!.adopted!.next).toBeNull();
	});

	test('hidden until the next actual, by whom and with what words', async () => {
		const code = await newItem();
		const { seen } = await load(code);
		const hide = (body: object) => app.call<RefusalBody>('POST', `/items/${code}/hidden`, body);
		expect((await hide({ hidden: true, words: 'waiting for the supplier', seen })).status).toBe(200);
		const row = await rowOf(code);
		expect(codes(row)).toEqual(['no-forecast']);
		expect(row.status!.hidden).toMatchObject({ words: 'waiting for the supplier', by: 'tester' });
		// A correction of what was seen leaves it hidden; the next actual shows it again.
		await bring(code, 35, [usual(35) + 1]);
		expect((await rowOf(code)).status!.hidden).not.toBeNull();
		expect((await hide({ hidden: false, seen })).status).toBe(409);
		await bring(code, 36, [101]);
		expect((await rowOf(code)).status!.hidden).toBeNull();
		const now = (await load(code)).seen;
		await hide({ hidden: true, seen: now });
		await hide({ hidden: false, seen: now });
		expect((await rowOf(code)).status!.hidden).toBeNull();
	});

	test('the chance of a false alarm is set, and all status with it', async () => {
		const code = await newItem();
		await adopt(code, adoptionOf(await load(code), { id: 'a', method: 'average' }, { horizon: 12 }));
		await bring(code, 36, [106, 107, 106, 105, 107, 106]);
		const biased = async () => codes(await rowOf(code)).includes('drifts');
		expect(await biased()).toBe(false);
		expect((await app.call('PUT', '/watching', { alarmChance: 0.5 })).status).toBe(200);
		expect(await biased()).toBe(true);
		const { body } = await app.call<Overview>('GET', '/overview');
		expect(body.watching).toEqual({ alarmChance: 0.5 });
		await app.call('PUT', '/watching', { alarmChance: 0.1 });
		expect((await app.call('PUT', '/watching', { alarmChance: 0.9 })).status).toBe(422);
	});

	test('corrections count, and what is left out is shown and not scored', async () => {
		const code = await newItem();
		await adopt(code, adoptionOf(await load(code), { id: 'a', method: 'average' }, { horizon: 6 }));
		await bring(code, 36, [300, 104]);
		const adjust = (seen: number, entry: object) =>
			app.call<{ newest: number }>('POST', `/items/${code}/layers`, { seen, entries: [entry] });
		const { body } = await adjust(0, {
			kind: 'correction',
			period: JAN + 36,
			setting: { to: 110, over: 300 },
		});
		await adjust(body.newest, { kind: 'left-out', period: JAN + 37, setting: true });
		const { grades } = await gradesOf(code);
		expect(grades.map(({ actual, scored }) => [actual, scored])).toEqual([
			[110, true],
			[104, false],
		]);
		expect((await rowOf(code)).status!.score).toMatchObject({ count: 1 });
	});

	test('the newest period of a frequency: how many have it, how many lay inside, and who waits', async () => {
		const { body: before } = await app.call<Overview['newest']>('GET', '/newest');
		expect(before.map(({ frequency }) => frequency)).toEqual(['month']);
		const weeks = ['A', 'B', 'C'].map((letter) => `K-${letter}`);
		const text = (weeks: number) =>
			Array.from({ length: weeks }, (_, t) => `2026-W${String(t + 1).padStart(2, '0')};${50 + (t % 3)}`).join(
				'\n',
			);
		for (const [i, code] of weeks.entries())
			await app.call('POST', '/items', { code, name: code, text: text(i === 0 ? 20 : 21) });
		const { newest } = (await app.call<Overview>('GET', '/overview')).body;
		const { items } = (await app.call<ItemWindow>('GET', '/items?find=K-')).body;
		expect(newest.find(({ frequency }) => frequency === 'week')).toMatchObject({
			items: 3,
			have: 2,
			graded: 0,
		});
		const waiting = items.find(({ code }) => code === 'K-A')!;
		expect(waiting.status!.reasons.map(({ code }) => code)).toEqual(['no-forecast', 'not-in']);
	});

	test('made anew from scratch it is what was kept', async () => {
		const { rows: kept } = await database.client.query('SELECT * FROM item_status ORDER BY item_id');
		const { items, retired } = (await app.call<Overview>('GET', '/overview')).body;
		expect(kept.length).toBe(items + retired);
		await database.client.query(
			'BEGIN; DELETE FROM item_status; DELETE FROM newest_period; INSERT INTO status_queue (workspace_id, item_id) SELECT workspace_id, id FROM item; COMMIT',
		);
		// Whoever changes anything next settles it all.
		await app.call('PUT', '/watching', { alarmChance: 0.1 });
		const { rows: made } = await database.client.query('SELECT * FROM item_status ORDER BY item_id');
		expect(made).toEqual(kept);
	});
});

test('columns that are chosen say what they are of: errors over usual changes, and demand at its price', async () => {
	const code = await newItem();
	const item = await load(code);
	expect((await adopt(code, adoptionOf(item, naive))).status).toBe(201);
	await bring(code, 36, [130, 90]);
	const { name, unit, plan } = item;
	const changed = await app.call('PATCH', `/items/${code}`, {
		plan: { ...plan, price: 2.5 },
		seen: { code, name, unit, retired: false },
	});
	expect(changed.status).toBe(200);
	const { figures, status } = await rowOf(code);
	const last = usual(35);
	const mad = (Math.abs(130 - last) + Math.abs(90 - last)) / 2;
	// Over the 24 pairs of the same month in what had come before the first error.
	const changes = Array.from({ length: 24 }, (_, t) => Math.abs(usual(t + 12) - usual(t)));
	const change = changes.reduce((sum, each) => sum + each / 24, 0);
	expect(status!.score!.mad).toBeCloseTo(mad, 12);
	expect(status!.score!.mase).toBeCloseTo(mad / change, 12);
	const cycle = [...Array.from({ length: 10 }, (_, i) => usual(26 + i)), 130, 90];
	const mean = cycle.reduce((sum, each) => sum + each / 12, 0);
	expect(figures.size).toBeCloseTo(mean, 12);
	expect(figures.value).toBeCloseTo(2.5 * mean, 12);
	// Asked for by a range of either, and sorted by it.
	const found = async (query: string) =>
		(await app.call<ItemWindow>('GET', `/items?${query}`)).body.items.map((row) => row.code);
	expect(await found(`value=${2.4 * mean}..${2.6 * mean}`)).toEqual([code]);
	expect(await found(`find=${code}&mase=${(2 * mad) / change}..`)).toEqual([]);
	expect((await found('sort=value&down=1'))[0]).toBe(code);
});
