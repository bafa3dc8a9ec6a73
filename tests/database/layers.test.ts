import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { AdoptedForecast } from '../../src/lib/wire/records';
import type { Item } from '../../src/lib/wire/items';
import type { ItemLayers } from '../../src/lib/wire/layers';
import type { RefusalBody } from '../../src/lib/wire/service';
import { adoptionOf } from '../support/adopting';
import { type App, startApp } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';

let database: TestDatabase;
let app: App;
const JAN = 2024 * 12;
beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url);
	const text = Array.from(
		{ length: 24 },
		(_, i) =>
			`${2024 + Math.floor(i / 12)}-${String((i % 12) + 1).padStart(2, '0')};${i === 5 ? '' : 300 + ((i * 37) % 41)}`,
	).join('\n');
	await app.call('POST', '/items', { code: 'L-1', name: 'Lamp', text });
});
afterAll(async () => {
	await app.stop();
	await database.drop();
});

const load = async () => (await app.call<Item>('GET', '/items/L-1')).body;
const adjust = async (...entries: object[]) =>
	app.call<ItemLayers & { message: string }>('POST', '/items/L-1/layers', {
		seen: (await load()).layers.newest,
		entries,
	});

test('layers are kept with who and when, the newest of each holds, and the actuals stay as they came', async () => {
	const before = (await load()).series;
	await adjust(
		{ kind: 'correction', period: JAN, setting: { to: 280, over: 300 } },
		{ kind: 'left-out', period: JAN + 3, setting: true },
	);
	await adjust(
		{ kind: 'correction', period: JAN, setting: { to: 290, over: 300 } },
		{ kind: 'gap-rule', setting: 'interpolate' },
	);
	await adjust(
		{ kind: 'event', period: JAN + 1, setting: 'trade fair' },
		{ kind: 'left-out', period: JAN + 3, setting: null },
	);
	const { layers, series } = await load();
	expect(series).toEqual(before);
	expect(layers.layers).toMatchObject({
		corrections: { [JAN]: { to: 290, over: 300 } },
		leftOut: [],
		gapRule: 'interpolate',
		events: { [JAN + 1]: 'trade fair' },
	});
	expect(layers.history).toHaveLength(6);
	expect(layers.history[0]).toMatchObject({ kind: 'left-out', period: JAN + 3, setting: null, by: 'tester' });
	expect(Date.now() - Date.parse(layers.history[0]!.at)).toBeLessThan(600_000);
	expect(layers.newest).toBe(layers.history[0]!.id);
});

test('an adopted forecast sees the layers, says so, and comes out the same again after they are changed', async () => {
	const average = { id: 'a', method: 'average' };
	const wish = adoptionOf(await load(), average, { horizon: 3 });
	const adopted = await app.call<AdoptedForecast>('POST', '/items/L-1/adopted', wish);
	expect(adopted.status).toBe(201);
	expect(adopted.body.layersUsed).toEqual(['1 corrected', 'gaps interpolated']);
	await adjust({ kind: 'off', layer: 'correction', setting: true }, { kind: 'per-day', setting: true });
	const check = await app.call('GET', `/items/L-1/adopted/${adopted.body.id}`);
	expect(check.body).toEqual({ sameData: true, sameFigures: true });
	const stale = await app.call('POST', '/items/L-1/adopted', wish);
	expect([stale.status, stale.body.message]).toEqual([
		409,
		expect.stringMatching(/tester: the rate per day worked on; tester: corrections switched off/),
	]);
	const now = adoptionOf(await load(), average, { horizon: 3 });
	const perDay = await app.call<AdoptedForecast>('POST', '/items/L-1/adopted', now);
	expect(perDay.body.layersUsed).toEqual(['gaps interpolated', 'worked as a rate per day']);
	const [february, march] = [perDay.body.steps[1]!.mean, perDay.body.steps[2]!.mean];
	expect(february / 28).toBeCloseTo(march / 31, 9);
	expect((await app.call('GET', `/items/L-1/adopted/${perDay.body.id}`)).body).toEqual({
		sameData: true,
		sameFigures: true,
	});
});

test('what is no layer is refused with its place, and nothing of the lot is kept', async () => {
	const before = (await load()).layers.newest;
	const good = { kind: 'left-out', period: JAN, setting: true };
	for (const [bad, path] of [
		[{ kind: 'left-out', setting: true }, 'entries.1.period'],
		[{ kind: 'gap-rule', setting: 'guess' }, 'entries.1.setting'],
		[{ kind: 'event', period: JAN, setting: '' }, 'entries.1.setting'],
		[{ kind: 'correction', period: JAN, setting: { to: 1e300, over: null } }, 'entries.1.setting.to'],
		[{ kind: 'correction', period: JAN + 90_000, setting: { to: 1, over: null } }, 'entries'],
		[{ kind: 'season-length', setting: 0 }, 'entries.1.setting'],
		[{ kind: 'wish', setting: true }, 'entries.1.kind'],
	] as const) {
		const { status, body } = await app.call('POST', '/items/L-1/layers', {
			seen: before,
			entries: [good, bad],
		});
		expect([status, body.issues?.[0]?.path]).toEqual([422, path]);
	}
	expect((await app.call('POST', '/items/nobody/layers', { seen: 0, entries: [good] })).status).toBe(404);
	expect((await load()).layers.newest).toBe(before);
});

test('layers that were made over others than those that are there are refused, with what came in between', async () => {
	const { newest } = (await load()).layers;
	await adjust({ kind: 'event', period: JAN + 7, setting: 'strike' });
	const late = await app.call<RefusalBody>('POST', '/items/L-1/layers', {
		seen: newest,
		entries: [{ kind: 'gap-rule', setting: 'zero' }],
	});
	expect(late.status).toBe(409);
	expect(late.body.layers).toEqual((await load()).layers);
	expect(late.body.layers!.history[0]).toMatchObject({ kind: 'event', setting: 'strike', by: 'tester' });
	expect((await load()).layers.layers.gapRule).toBe('interpolate');
});

test('of twenty saves of layers at once, made over the same ones, one is kept', async () => {
	const { newest } = (await load()).layers;
	const answers = await Promise.all(
		Array.from({ length: 20 }, (_, i) =>
			app.call('POST', '/items/L-1/layers', {
				seen: newest,
				entries: [{ kind: 'event', period: JAN + 8, setting: `number ${i}` }],
			}),
		),
	);
	expect(answers.map(({ status }) => status).sort()).toEqual([200, ...new Array<number>(19).fill(409)]);
});

describe('layers are looked at as the series that they make together', () => {
	const far = (period: number) => ({ kind: 'correction', period, setting: { to: 1, over: null } });
	test('two figures that would each do stretch it too far together', async () => {
		const { status, body } = await adjust(far(JAN - 15_000), far(JAN + 15_000));
		expect([status, body.message]).toEqual([
			422,
			expect.stringMatching(/would run over 30\s001 periods; an item holds at most 20\s000/),
		]);
		expect((await adjust(far(JAN - 15_000))).status).toBe(200);
		expect((await adjust(far(JAN + 15_000))).status).toBe(422);
		expect((await adjust({ kind: 'correction', period: JAN - 15_000, setting: null })).status).toBe(200);
	});

	test('a period that no calendar has', async () => {
		const { status, body } = await adjust({ kind: 'event', period: 2_000_000_000, setting: 'fair' });
		expect([status, body.message]).toEqual([422, expect.stringMatching(/years 0 to 9999/)]);
	});
});

test('of entries that are sent at once with the same last one seen, one stands, and the others are told what came', async () => {
	const { layers: before } = await load();
	const answers = await Promise.all(
		Array.from({ length: 8 }, (_, i) =>
			app.call<ItemLayers & { layers?: ItemLayers }>('POST', '/items/L-1/layers', {
				seen: before.newest,
				entries: [
					{ kind: 'event', period: JAN + 20, setting: `caller ${i}` },
					{ kind: 'left-out', period: JAN + 21, setting: true },
				],
			}),
		),
	);
	const stood = answers.filter(({ status }) => status === 200);
	const refused = answers.filter(({ status }) => status === 409);
	expect([stood.length, refused.length]).toEqual([1, 7]);
	const { layers: after } = await load();
	expect(after).toEqual(stood[0]!.body);
	expect(after.history.filter(({ id }) => id > before.newest)).toHaveLength(2);
	for (const { body } of refused) expect(body.layers).toEqual(after);
});
