import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { AdoptedForecast } from '../../src/lib/wire/records';
import type { Item } from '../../src/lib/wire/items';
import type { ItemLayers } from '../../src/lib/wire/layers';
import type { ItemWindow } from '../../src/lib/wire/list';
import type { RefusalBody } from '../../src/lib/wire/service';
import type { CandidateResult } from '../../src/core/questions/answer';
import { evaluate } from '../../src/core/questions/evaluate';
import { adoptionOf } from '../support/adopting';
import { type App, startApp } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';

let database: TestDatabase;
let app: App;
const JAN = 2024 * 12;
const TEXT = Array.from(
	{ length: 24 },
	(_, i) =>
		`${2024 + Math.floor(i / 12)}-${String((i % 12) + 1).padStart(2, '0')};${i === 20 ? '' : 100 + ((i * 7) % 9)}`,
).join('\n');
const naive = { id: 'a', method: 'naive' };

beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url);
});
afterAll(async () => {
	await app?.stop();
	await database?.drop();
});

let number = 0;
/** An item of its own for a test. */
async function newItem(text = TEXT): Promise<string> {
	const code = `A-${++number}`;
	const { status } = await app.call('POST', '/items', { code, name: `Item ${code}`, text });
	expect(status).toBe(201);
	return code;
}
const load = async (code: string) => (await app.call<Item>('GET', `/items/${code}`)).body;
const adopt = (code: string, wish: object) =>
	app.call<AdoptedForecast & RefusalBody>('POST', `/items/${code}/adopted`, wish);
const adjust = (code: string, seen: number, ...entries: object[]) =>
	app.call<ItemLayers & RefusalBody>('POST', `/items/${code}/layers`, { seen, entries });

describe('what is adopted is what was seen', () => {
	test('two people: one corrects a figure while the other changes a rule and adopts', async () => {
		const code = await newItem();
		const mine = await load(code);
		const last = JAN + 23;
		// B corrects the last figure.
		const over = mine.series.values.at(-1)!;
		await adjust(code, 0, { kind: 'correction', period: last, setting: { to: 372.06, over } });
		// A saves a gap rule made over the layers as they were.
		const saved = await adjust(code, mine.layers.newest, { kind: 'gap-rule', setting: 'interpolate' });
		expect(saved.status).toBe(409);
		expect(saved.body.layers!.layers.corrections).toEqual({ [last]: { to: 372.06, over } });
		// A adopts what A sees.
		const wish = adoptionOf(mine, naive);
		expect(wish.shown[0]!.mean).toBe(over);
		const stale = await adopt(code, wish);
		expect([stale.status, stale.body.message]).toEqual([
			409,
			expect.stringMatching(/tester: Dec 2025 corrected from \d+\.00 to 372\.06\. Check it again/),
		]);
		// Having caught up, A sees B's figure and adopts that.
		const now = await load(code);
		const adopted = await adopt(code, adoptionOf(now, naive));
		expect([adopted.status, adopted.body.steps[0]!.mean]).toEqual([201, 372.06]);
	});

	test('figures other than those that are saved give are refused, with the difference', async () => {
		const code = await newItem();
		const wish = adoptionOf(await load(code), naive);
		const mean = wish.shown[0]!.mean!;
		const off = await adopt(code, {
			...wish,
			shown: wish.shown.map((step, i) => (i === 2 ? { ...step, mean: 103.6 } : step)),
		});
		expect([off.status, off.body.message]).toEqual([
			409,
			expect.stringMatching(new RegExp(`for 2026-03 ${mean}(\\.0)?, not 103\\.6\\. Nothing was adopted`)),
		]);
		const wider = await adopt(code, {
			...wish,
			shown: wish.shown.map((step) => ({ ...step, ranges: { ...step.ranges, '0.95': [0, 1] } })),
		});
		expect(wider.body.message).toMatch(/another range at 95 % for 2026-01/);
		const fewer = await adopt(code, { ...wish, shown: wish.shown.slice(1) });
		expect(fewer.body.message).toMatch(/4 periods ahead, not 3/);
		// The last digits of another machine's logarithm are no difference.
		const nearly = await adopt(code, {
			...wish,
			shown: wish.shown.map((step) => ({ ...step, mean: step.mean! * (1 + 1e-12) })),
		});
		expect(nearly.status).toBe(201);
		expect((await load(code)).adoptedCount).toBe(1);
	});

	test('a step that has no figure is not adopted, nor are none', async () => {
		// Each season from its own last figure alone: a season that ends in a gap has none.
		const gappy = await newItem();
		const item = await load(gappy);
		const wish = adoptionOf(
			item,
			{ id: 'a', method: 'per-season', inner: { method: 'moving-average', span: 1 } },
			{ horizon: 12 },
		);
		expect(wish.shown.filter(({ mean }) => mean === null).length).toBeGreaterThan(0);
		const refused = await adopt(gappy, wish);
		expect([refused.status, refused.body.message]).toEqual([
			422,
			expect.stringMatching(
				/no figure for \d of the 12 periods ahead, first for 20\d\d-\d\d\. Adopt fewer periods/,
			),
		]);
		expect((await load(gappy)).adoptedCount).toBe(0);
		const ending = await newItem(`${TEXT}\n2026-01;`);
		const none = adoptionOf(await load(ending), { id: 'a', method: 'moving-average', span: 1 });
		expect((await adopt(ending, none)).body.message).toMatch(/no figure for any of the periods ahead/);
		expect((await load(ending)).adopted).toBeNull();
	});

	test('records of earlier versions are checked by what made them', async () => {
		const values = Array.from({ length: 40 }, (_, t) => 100 + ((t * 7) % 9));
		const code = await newItem(
			values
				.map((value, t) => `${2023 + Math.floor(t / 12)}-${String((t % 12) + 1).padStart(2, '0')};${value}`)
				.join('\n'),
		);
		const candidate = { id: 'a', method: 'moving-average', span: 3 };
		const { body } = await adopt(code, adoptionOf(await load(code), candidate));
		const check = async () => (await app.call('GET', `/items/${code}/adopted/${body.id}`)).body;
		const [byFirst] = evaluate({
			series: { values, frequency: 'month', start: '2023-01' },
			candidates: [candidate],
			horizon: body.steps.length,
			rangeRule: 1,
		}).candidates as [CandidateResult];
		/** As if the record had been made by another version. */
		const as = async (request: string, ranges: unknown) => {
			await database.client.query(
				'ALTER TABLE adopted_forecast DISABLE TRIGGER USER; ALTER TABLE adopted_step DISABLE TRIGGER USER',
			);
			await database.client.query(
				`UPDATE adopted_forecast SET request = ${request},
					measures = measures - 'relativeMae' || jsonb_build_object('theil', coalesce(measures -> 'relativeMae', measures -> 'theil'))
				WHERE id = $1`,
				[body.id],
			);
			await database.client.query(
				`UPDATE adopted_step SET ranges = coalesce($2::jsonb -> (step - 1)::integer, '{}') WHERE adopted_forecast_id = $1`,
				[body.id, JSON.stringify(ranges)],
			);
			await database.client.query(
				'ALTER TABLE adopted_forecast ENABLE TRIGGER USER; ALTER TABLE adopted_step ENABLE TRIGGER USER',
			);
		};
		expect(await check()).toEqual({ sameData: true, sameFigures: true });
		// By the first rule of ranges, which records did not name.
		const before = byFirst.ahead.map(({ ranges }) => ranges);
		await as("request - 'rangeRule'", before);
		expect(await check()).toEqual({ sameData: true, sameFigures: true });
		await as(
			'request',
			before.map(() => ({ '0.8': [0, 1], '0.95': [0, 2] })),
		);
		expect(await check()).toEqual({ sameData: true, sameFigures: false });
		// The very first ones said nothing of their ranges, which came from fitted errors.
		await as(
			"request - 'rangeKind'",
			before.map(() => ({ '0.8': [0, 1], '0.95': [0, 2] })),
		);
		expect(await check()).toEqual({ sameData: true, sameFigures: true });
		// Later ones said it in the candidate, and had the whole series in their request.
		const { ranges } = body.candidate;
		await as(
			`jsonb_set(request || '{"series": {"values": [1, 2]}}', '{candidates,0,ranges}', '${JSON.stringify(ranges)}')`,
			before,
		);
		expect(await check()).toEqual({ sameData: true, sameFigures: true });
		// Its relative MAE had another name then.
		expect(body.measures.relativeMae).toBeGreaterThan(0);
		const [listed] = (await app.call<AdoptedForecast[]>('GET', `/items/${code}/adopted`)).body;
		expect(listed!.measures).toMatchObject({ relativeMae: body.measures.relativeMae });
		expect(listed!.measures).not.toHaveProperty('theil');
	});

	test('of twenty adoptions, each of what was seen then, all are on record and work out anew', async () => {
		const code = await newItem();
		const made: AdoptedForecast[] = [];
		for (let i = 0; i < 21; i++) {
			const candidate = { id: 'a', method: 'ses', constants: { alpha: (i + 1) / 25 } };
			const { status, body } = await adopt(
				code,
				adoptionOf(await load(code), candidate, { reason: `number ${i}` }),
			);
			expect([status, body.reason, body.constants]).toEqual([201, `number ${i}`, candidate.constants]);
			made.push(body);
		}
		expect(new Set(made.map(({ id }) => id)).size).toBe(21);
		const checks = await Promise.all(made.map(({ id }) => app.call('GET', `/items/${code}/adopted/${id}`)));
		for (const { body } of checks) expect(body).toEqual({ sameData: true, sameFigures: true });
		// Records come twenty at a time.
		const first = (await app.call<AdoptedForecast[]>('GET', `/items/${code}/adopted`)).body;
		const rest = (
			await app.call<AdoptedForecast[]>('GET', `/items/${code}/adopted?before=${first.at(-1)!.id}`)
		).body;
		expect([first.length, rest.length]).toEqual([20, 1]);
	});

	test('a record of another item is not computed anew under this one', async () => {
		const [one, two] = [await newItem(), await newItem()];
		const { body } = await adopt(one, adoptionOf(await load(one), naive));
		expect((await app.call('GET', `/items/${one}/adopted/${body.id}`)).status).toBe(200);
		expect((await app.call('GET', `/items/${two}/adopted/${body.id}`)).status).toBe(404);
	});
});

test('an item’s figures and what was seen of them come from one moment', async () => {
	const code = await newItem('month;x\n2024-01;1\n2024-02;1');
	const period = 2024 * 12;
	let writing = true;
	const writer = (async () => {
		for (let i = 2; i < 60; i++) {
			const text = `month;x\n2024-01;${i}\n2024-02;${i}`;
			await fetch(`${app.url}/api/v1/bring-in`, {
				method: 'POST',
				headers: { 'content-type': 'application/octet-stream' },
				body: `${JSON.stringify({ items: [{ from: 'x', code, name: 'x' }] })}\n${text}`,
			});
		}
		writing = false;
	})();
	const told = new Map<number, number>();
	while (writing) {
		const { series, seen } = await load(code);
		// Both figures of a change are there, or neither; and one change has one pair of figures.
		expect(series.values[0]).toBe(series.values[1]);
		expect(told.get(seen) ?? series.values[0]).toBe(series.values[0]);
		told.set(seen, series.values[0]!);
	}
	await writer;
	const { rows } = await database.client.query(
		`SELECT data_change_id AS change, value FROM actual JOIN item ON item.id = actual.item_id WHERE code = $1 AND period = $2`,
		[code, period],
	);
	const kept = new Map(rows.map(({ change, value }) => [Number(change), Number(value)]));
	for (const [change, value] of told) expect(kept.get(change)).toBe(value);
});

describe('an item is renamed, retired and brought back', () => {
	const patch = (code: string, body: object) => app.call<Item & RefusalBody>('PATCH', `/items/${code}`, body);

	test('under its new code it is what it was, and a link to the old one leads there', async () => {
		const code = await newItem();
		await adopt(code, adoptionOf(await load(code), naive));
		const seen = { code, name: `Item ${code}`, unit: '', retired: false };
		const renamed = await patch(code, { code: 'Z/9 é', name: 'Saddle', reason: 'a new supplier', seen });
		expect(renamed.status).toBe(200);
		expect(renamed.body).toMatchObject({ code: 'Z/9 é', name: 'Saddle', unit: '', adoptedCount: 1 });
		expect(renamed.body.changes).toEqual([
			expect.objectContaining({
				kind: 'renamed',
				code,
				name: `Item ${code}`,
				reason: 'a new supplier',
				by: 'tester',
			}),
		]);
		const old = await app.call<RefusalBody>('GET', `/items/${code}`);
		expect([old.status, old.body.message, old.body.code]).toEqual([
			404,
			expect.stringMatching(/is called Z\/9 é now/),
			'Z/9 é',
		]);
		const page = await fetch(`${app.url}/items/${code}?view=ahead`);
		expect([page.status, decodeURIComponent(page.url)]).toEqual([200, `${app.url}/items/Z/9 é?view=ahead`]);
		// The old code is free for another item, and then names that one.
		expect((await app.call('POST', '/items', { code, name: 'Another', text: '1\n2\n3' })).status).toBe(201);
		expect((await load(code)).name).toBe('Another');
	});

	test('a code that is taken, a name of nothing and what was changed meanwhile are refused', async () => {
		const [one, two] = [await newItem(), await newItem()];
		const seen = { code: one, name: `Item ${one}`, unit: '', retired: false };
		const taken = await patch(one, { code: two, seen });
		expect([taken.status, taken.body.message]).toEqual([
			409,
			expect.stringMatching(new RegExp(`${two} is taken by Item ${two}`)),
		]);
		expect((await patch(one, { name: ' ', seen })).status).toBe(422);
		expect((await patch(one, { seen })).status).toBe(422);
		expect((await patch(one, { name: 'First', seen })).status).toBe(200);
		const late = await patch(one, { name: 'Second', seen });
		expect([late.status, late.body.message]).toEqual([
			409,
			expect.stringMatching(/it is .*First.* now\. Check it again/),
		]);
	});

	test('retired it is off the list, and found among the retired; brought back it is as it was', async () => {
		const code = await newItem();
		const rowOf = async (why = 'all') =>
			(await app.call<ItemWindow>('GET', `/items?find=${code}&why=${why}`)).body.items.find(
				(row) => row.code === code,
			);
		expect(await rowOf()).toMatchObject({ retired: false, status: { reasons: [{ code: 'no-forecast' }] } });
		const seen = { code, name: `Item ${code}`, unit: '', retired: false };
		const retired = await patch(code, { retired: true, reason: 'no longer sold', seen });
		expect(retired.body.retiredAt).not.toBeNull();
		expect(await rowOf('retired')).toMatchObject({ retired: true, status: null });
		expect(await rowOf()).toBeUndefined();
		const back = await patch(code, { retired: false, seen: { ...seen, retired: true } });
		expect(back.body.retiredAt).toBeNull();
		expect(back.body.changes.map(({ kind, reason }) => [kind, reason])).toEqual([
			['returned', ''],
			['retired', 'no longer sold'],
		]);
		expect(await rowOf()).toMatchObject({ retired: false });
	});
});
