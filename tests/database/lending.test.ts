import { afterAll, beforeAll, expect, test } from 'vitest';
import { formatPeriod, parsePeriod } from '../../src/core/series/period';
import type { AdoptedForecast } from '../../src/lib/wire/records';
import type { Item } from '../../src/lib/wire/items';
import type { Sweep, SweepWindow } from '../../src/lib/wire/sweeps';
import { adoptionOf } from '../support/adopting';
import { type App, startApp, startWorker, until, type Worker } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';

let database: TestDatabase;
let app: App;
let worker: Worker;

const SEASON = [0.4, 0.5, 0.8, 1.1, 1.3, 1.5, 1.6, 1.4, 1.2, 0.9, 0.7, 0.6];
const FIRST = parsePeriod('month', '2021-01');
const MONTHS = 48;
const NEW = 7;
/** Whole pieces, each item at its own level and a little off its season. */
const figure = (item: number, t: number) =>
	Math.round((60 + 25 * item) * SEASON[t % 12]! * (1 + ((t * (item + 5) * 7) % 11) / 100));
const OTHERS = ['T-1', 'T-2', 'T-3', 'T-4'];
const LENT = {
	id: 'a',
	method: 'deseasonalised',
	season: 'multiplicative',
	index: { rule: 'ratio-to-moving-average', lent: 'group' },
	inner: { method: 'average' },
};

const load = async (code: string) => (await app.call<Item>('GET', `/items/${code}`)).body;
async function bring(code: string, item: number, from: number, to: number) {
	const rows = Array.from(
		{ length: to - from },
		(_, i) => `${formatPeriod('month', FIRST + from + i)};${figure(item, from + i)}`,
	);
	const response = await fetch(`${app.url}/api/v1/bring-in`, {
		method: 'POST',
		headers: { 'content-type': 'application/octet-stream' },
		body: `${JSON.stringify({ items: [{ from: 'x', code, name: code }] })}\nmonth;x\n${rows.join('\n')}`,
	});
	expect(response.ok).toBe(true);
}
const label = (codes: readonly string[], of: string, is: string) =>
	app.call('POST', '/several', { items: { codes }, change: { label: { of, is } } });

beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url);
	worker = await startWorker(database.url);
	for (const [item, code] of OTHERS.entries()) await bring(code, item, 0, MONTHS);
	await bring('T-9', 9, MONTHS - NEW, MONTHS);
	await label([...OTHERS, 'T-9'], 'Family', 'Tyres');
	// Two others are no group that a season could be taken from.
	await label(['T-1', 'T-2', 'T-9'], 'Place', 'Quay');
});
afterAll(async () => {
	await worker?.stop();
	await app?.stop();
	await database?.drop();
});

test('an item that knows fewer than three cycles comes with what the others of its group sold', async () => {
	const { group } = await load('T-9');
	expect(group).toEqual({
		name: 'Tyres',
		start: '2021-01',
		values: Array.from({ length: MONTHS }, (_, t) =>
			OTHERS.reduce((sum, _, item) => sum + figure(item, t), 0),
		),
	});
	expect((await load('T-1')).group).toBeNull();
});

test('what is adopted by its season is computed here, and keeps what it was', async () => {
	const item = await load('T-9');
	const adopted = await app.call<AdoptedForecast>('POST', '/items/T-9/adopted', adoptionOf(item, LENT));
	expect(adopted.status).toBe(201);
	const [may, april] = [4, 3].map((h) => SEASON[(MONTHS + h) % 12]!);
	const { steps } = adopted.body;
	expect(steps[3]!.mean! / steps[0]!.mean!).toBeCloseTo(april! / SEASON[0]!, 0);
	expect(may).toBeGreaterThan(april!);

	// With other figures of the group no other forecast comes of what is on record.
	await bring('T-1', 30, 0, MONTHS);
	expect((await load('T-9')).group!.values).not.toEqual(item.group!.values);
	const again = await app.call<{ sameData: boolean; sameFigures: boolean }>(
		'GET',
		`/items/T-9/adopted/${adopted.body.id}`,
	);
	expect(again.body).toMatchObject({ sameData: true, sameFigures: true });
	await bring('T-1', 0, 0, MONTHS);
});

test('a sweep proposes it, and carries it on', async () => {
	const sweep = async (kind: string) => {
		const { body } = await app.call<Sweep>('POST', '/sweeps', { kind, items: { codes: ['T-9'] } });
		await until(
			async () => (await app.call<{ sweep: Sweep }>('GET', `/sweeps/${body.id}`)).body.sweep.endedAt !== null,
			'the end of the sweep',
		);
		const { items } = (await app.call<SweepWindow>('GET', `/sweeps/${body.id}/rows`)).body;
		return items[0]!;
	};
	expect((await sweep('propose')).label).toContain('by its group');
	await bring('T-9', 9, MONTHS, MONTHS + 1);
	for (const [item, code] of OTHERS.entries()) await bring(code, item, MONTHS, MONTHS + 1);
	const { label, refused, ready } = await sweep('update');
	expect([label, refused, ready]).toEqual(['Deseasonalised by its group × Average of all', null, true]);
});
