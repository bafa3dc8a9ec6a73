import { afterAll, beforeAll, expect, test } from 'vitest';
import type { AdoptedForecast, Item, ItemLayers } from '../../src/lib/shapes';
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
const mend = (...entries: object[]) =>
	app.call<ItemLayers & { message: string }>('POST', '/items/L-1/layers', { entries });

test('layers are kept with who and when, the newest of each holds, and the actuals stay as they came', async () => {
	const before = (await load()).series;
	await mend(
		{ kind: 'correction', period: JAN, setting: { to: 280, over: 300 } },
		{ kind: 'left-out', period: JAN + 3, setting: true },
	);
	await mend(
		{ kind: 'correction', period: JAN, setting: { to: 290, over: 300 } },
		{ kind: 'gap-rule', setting: 'interpolate' },
	);
	await mend(
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
	const { seen, layers } = await load();
	const wish = { candidate: { id: 'a', method: 'average' }, horizon: 3, seen, seenLayers: layers.newest };
	const adopted = await app.call<AdoptedForecast>('POST', '/items/L-1/adopted', wish);
	expect(adopted.status).toBe(201);
	expect(adopted.body.layersUsed).toEqual(['1 corrected', 'gaps interpolated']);
	await mend({ kind: 'off', layer: 'correction', setting: true }, { kind: 'per-day', setting: true });
	const check = await app.call('GET', `/items/L-1/adopted/${adopted.body.id}`);
	expect(check.body).toEqual({ sameData: true, sameFigures: true });
	const stale = await app.call('POST', '/items/L-1/adopted', wish);
	expect([stale.status, stale.body.message]).toEqual([
		409,
		expect.stringMatching(/mended since this page was opened/),
	]);
	const now = await load();
	const perDay = await app.call<AdoptedForecast>('POST', '/items/L-1/adopted', {
		...wish,
		seenLayers: now.layers.newest,
	});
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
		[{ kind: 'correction', period: JAN + 90_000, setting: { to: 1, over: null } }, 'entries.1.period'],
		[{ kind: 'season-length', setting: 0 }, 'entries.1.setting'],
		[{ kind: 'wish', setting: true }, 'entries.1.kind'],
	] as const) {
		const { status, body } = await app.call('POST', '/items/L-1/layers', { entries: [good, bad] });
		expect([status, body.issues?.[0]?.path]).toEqual([422, path]);
	}
	expect((await app.call('POST', '/items/nobody/layers', { entries: [good] })).status).toBe(404);
	expect((await load()).layers.newest).toBe(before);
});
