import type * as v from 'valibot';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { evaluate } from '../../src/core/questions/evaluate';
import type { AdoptedForecast } from '../../src/lib/wire/records';
import type { Item } from '../../src/lib/wire/items';
import type { NewSweepSchema, Sweep, SweepSums, SweepWindow } from '../../src/lib/wire/sweeps';
import type { Places } from '../../src/lib/wire/list';
import type { WorkerState } from '../../src/lib/wire/service';
import { adoptionOf } from '../support/adopting';
import { type App, everyItem, PATIENCE, startApp, startWorker, until, type Worker } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';

type Wanted = v.InferInput<typeof NewSweepSchema>;
let database: TestDatabase;
let app: App;
let worker: Worker;
const MONTHS = 48;
const wave = (seed: number, months = MONTHS) =>
	Array.from(
		{ length: months },
		(_, t) => 200 + 60 * Math.sin((2 * Math.PI * (t + seed)) / 12) + ((t * 7919 * (seed + 1)) % 23),
	);
const table = (values: readonly number[], from = 0) =>
	values
		.map(
			(value, t) =>
				`${2020 + Math.floor((t + from) / 12)}-${String(((t + from) % 12) + 1).padStart(2, '0')};${value}`,
		)
		.join('\n');
const codeOf = (i: number) => `S-${String(i).padStart(3, '0')}`;
const COUNT = 8;

beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url);
	worker = await startWorker(database.url);
	for (let i = 0; i < COUNT; i++)
		await app.call('POST', '/items', { code: codeOf(i), name: `Spoke ${i}`, text: table(wave(i)) });
	// Two repeat the last actual, of a strong season; the others have no forecast.
	for (const i of [0, 1])
		await app.call(
			'POST',
			`/items/${codeOf(i)}/adopted`,
			rounded(adoptionOf(await load(codeOf(i)), { id: 'a', method: 'naive' }, { horizon: 6 })),
		);
});
afterAll(async () => {
	await worker?.stop();
	await app?.stop();
	await database?.drop();
});

/** To whole packs of five. */
const rounded = ({ shown, ...adoption }: ReturnType<typeof adoptionOf>) => ({
	...adoption,
	rounding: { pack: 5, way: 'up', floor: null },
	shown: shown.map((step) => ({ ...step, final: 5 * Math.ceil(step.mean! / 5 - 1e-9) })),
});

const load = async (code: string) => (await app.call<Item>('GET', `/items/${code}`)).body;
const begin = (sweep: Partial<Wanted>) => app.call<Sweep>('POST', '/sweeps', sweep);
const look = async (id: number) =>
	(await app.call<{ sweep: Sweep; sums: SweepSums }>('GET', `/sweeps/${id}`)).body;
const rowsOf = async (id: number, query = 'sort=code&up=1') =>
	(await app.call<SweepWindow>('GET', `/sweeps/${id}/rows?${query}`)).body.items;

async function ended(sweep: Partial<Wanted>) {
	const { status, body } = await begin(sweep);
	expect([status, body]).toEqual([201, expect.objectContaining({ kind: sweep.kind })]);
	await until(async () => (await look(body.id)).sweep.endedAt !== null, 'the end of the sweep', 200_000);
	return { id: body.id, ...(await look(body.id)) };
}
const ALL: Wanted['items'] = { asked: {} };

describe('proposals', () => {
	let id: number;

	test('each item has its own, beside what is adopted, and what that comes to over all', async () => {
		const swept = await ended({ kind: 'propose', items: ALL });
		({ id } = swept);
		expect(swept.sweep).toMatchObject({ items: COUNT, done: COUNT, setApart: [], stopped: null });
		expect(swept.sums).toMatchObject({
			rows: COUNT,
			refused: 0,
			ready: COUNT,
			adopted: 0,
			beside: 2,
			clear: 2,
			clearLeft: 2,
		});
		expect(swept.sums.wape!).toBeLessThan(swept.sums.wapeBefore! / 2);
		expect(swept.sums.gains.reduce((sum, { items }) => sum + items, 0)).toBe(2);
		const rows = await rowsOf(id);
		expect(rows.map(({ code }) => code)).toEqual(Array.from({ length: COUNT }, (_, i) => codeOf(i)));
		const [first, , third] = rows;
		expect(first).toMatchObject({ before: 'Naive', clear: true, ready: true, record: null });
		expect(first!.gain).toBeCloseTo(1 - first!.wape! / first!.wapeBefore!, 9);
		expect(third).toMatchObject({ before: null, gain: null, clear: null, ready: true });
		// What an item is rounded to goes along.
		expect(first!.next! % 5).toBe(0);
	});

	test('rows are sorted, filtered and cut', async () => {
		expect((await rowsOf(id, 'show=clear')).map(({ code }) => code).sort()).toEqual([codeOf(0), codeOf(1)]);
		const gains = (await rowsOf(id, 'most=2')).map(({ gain }) => gain!);
		expect(gains[0]!).toBeGreaterThanOrEqual(gains[1]!);
		expect((await rowsOf(id, 'find=spoke+3')).map(({ code }) => code)).toEqual([codeOf(3)]);
		expect((await app.call<Places>('GET', `/sweeps/${id}/places?show=ready`)).body.count).toBe(COUNT);
		expect((await app.call('GET', `/sweeps/${id}/rows?sort=luck`)).status).toBe(422);
		expect((await app.call('GET', '/sweeps/999999')).status).toBe(404);
		expect((await app.call('GET', '/sweeps/x')).status).toBe(404);
	});

	test('ticked ones are adopted, each a record of its own under one reason; the figures are those that the record computes anew', async () => {
		// Meanwhile a figure came in for one of them, and another one was retired.
		const { status } = await bring(codeOf(3), [250], MONTHS);
		expect(status).toBe(200);
		const codes = [0, 2, 3, 4].map(codeOf);
		const adopting = await ended({ kind: 'adopt', of: id, items: { codes }, reason: 'closer, all of them' });
		expect(adopting.sweep).toMatchObject({ items: 4, reason: 'closer, all of them', of: id });
		expect(adopting.sums).toMatchObject({ rows: 4, adopted: 3, refused: 1 });
		const refused = (await rowsOf(adopting.id)).find((row) => row.refused !== null)!;
		expect([refused.code, refused.refused]).toEqual([
			codeOf(3),
			expect.stringMatching(/Actuals came in since/),
		]);
		for (const row of await rowsOf(adopting.id)) {
			if (row.record === null) continue;
			const { adopted } = await load(row.code);
			expect(adopted).toMatchObject({
				id: row.record,
				reason: 'closer, all of them',
				adoptedBy: 'tester',
				label: row.label,
			});
			expect(adopted!.steps[0]!.final).toBe(row.next);
			expect((await app.call('GET', `/items/${row.code}/adopted/${row.record}`)).body).toEqual({
				sameData: true,
				sameFigures: true,
			});
		}
		expect((await look(id)).sums).toMatchObject({ adopted: 3, clearLeft: 1 });
	});

	test('what was adopted is not adopted twice, and a rule picks what is left', async () => {
		const again = await begin({ kind: 'adopt', of: id, items: { codes: [codeOf(0)] } });
		expect([again.status, JSON.stringify(again.body)]).toEqual([
			422,
			expect.stringMatching(/left to be adopted/),
		]);
		const rest = await ended({ kind: 'adopt', of: id, items: { rule: 'clear' } });
		expect((await rowsOf(rest.id)).map(({ code }) => code)).toEqual([codeOf(1)]);
	});

	test('what somebody adopted meanwhile is not pushed away unseen', async () => {
		const own = await ended({ kind: 'propose', items: { codes: [codeOf(5)] } });
		await app.call(
			'POST',
			`/items/${codeOf(5)}/adopted`,
			adoptionOf(await load(codeOf(5)), { id: 'a', method: 'average' }, { horizon: 3 }),
		);
		const adopting = await ended({ kind: 'adopt', of: own.id, items: { rule: 'all' } });
		expect((await rowsOf(adopting.id))[0]!.refused).toMatch(/tester adopted “Average of all” for it since/);
	});
});

/** Adds figures to an item. */
async function bring(code: string, values: readonly number[], from: number) {
	const head = JSON.stringify({ items: [{ from: '', code, name: `Spoke`, unit: '' }] });
	const response = await fetch(`${app.url}/api/v1/bring-in`, {
		method: 'POST',
		body: `${head}\n${table(values, from)}\n`,
		headers: { 'content-type': 'application/octet-stream' },
	});
	return { status: response.status, body: (await response.json()) as unknown };
}

test('carrying on is what carrying on one by one is, and who has nothing new is told so', async () => {
	const code = codeOf(0);
	await bring(code, [231, 219], MONTHS);
	const { body: one } = await app.call<AdoptedForecast>('POST', `/items/${code}/updated`, {
		seen: (await load(code)).seen,
	});
	await bring(codeOf(1), wave(1, MONTHS + 1).slice(-1), MONTHS);
	const swept = await ended({ kind: 'update', items: { codes: [code, codeOf(1), codeOf(6)] } });
	const rows = await rowsOf(swept.id);
	expect(rows.map(({ code: each, refused }) => [each, refused])).toEqual([
		[code, expect.stringMatching(/There are no new actuals since/)],
		[codeOf(1), null],
		[codeOf(6), expect.stringMatching(/Nothing is adopted for it yet/)],
	]);
	await ended({ kind: 'adopt', of: swept.id, items: { rule: 'all' }, reason: 'month closed' });
	const { adopted } = await load(codeOf(1));
	const { body: records } = await app.call<AdoptedForecast[]>('GET', `/items/${codeOf(1)}/adopted`);
	expect(adopted).toMatchObject({
		carriedFrom: records[1]!.id,
		label: records[1]!.label,
		reason: 'month closed',
	});
	expect(adopted!.steps).toHaveLength(one.steps.length);
	expect(adopted!.rounding).toEqual(records[1]!.rounding);
});

test('a line-up is tried on each, and the closest of it can be adopted', async () => {
	const lineUp = [
		{ id: 'a', method: 'naive' },
		{ id: 'b', method: 'seasonal-naive' },
		{ id: 'm', method: 'combination', of: ['a', 'b'] },
	] as Sweep['settings']['lineUp'];
	const swept = await ended({
		kind: 'try',
		items: { codes: [codeOf(6), codeOf(7)] },
		settings: { lineUp, criterion: 'mad', share: null },
	});
	const [row] = await rowsOf(swept.id);
	expect(row!.measures!.map(({ label, best }) => [label, best])).toEqual([
		['Naive', false],
		['Seasonal naive', false],
		['Combination of 2, equal', true],
	]);
	const { body } = await app.call<{ candidates: { measures: { common: { mad: number } } }[] }>(
		'POST',
		'/evaluate',
		{
			series: { values: wave(6), frequency: 'month', start: '2020-01' },
			candidates: lineUp,
		},
	);
	expect(row!.measures!.map(({ mad }) => mad)).toEqual(
		body.candidates.map(({ measures }) => measures.common.mad),
	);
	expect((await begin({ kind: 'try', items: ALL })).status).toBe(422);
});

test('a file of any size comes in while a worker is there', async () => {
	const stop = AbortSignal.timeout(PATIENCE);
	const response = await fetch(`${app.url}/api/v1/bring-in/stream`, {
		method: 'POST',
		body: `{}\nitem,month,demand\nF-1,2024-01,3\nF-1,2024-02,4\nF-1,2024-03,5\n`,
		headers: { 'content-type': 'application/octet-stream' },
		signal: stop,
	});
	expect((await response.text()).trim().split('\n').at(-1)).toMatch(/"done".*"created":1/);
});

describe('whatever happens while it runs', () => {
	const MANY = 160;
	beforeAll(async () => {
		const items = Array.from({ length: MANY }, (_, i) => `M-${i}`);
		const head = JSON.stringify({ items: items.map((code) => ({ from: code, code, name: code, unit: '' })) });
		const lines = items.flatMap((code, i) =>
			wave(i, 30).map(
				(value, t) =>
					`${code};${2021 + Math.floor(t / 12)}-${String((t % 12) + 1).padStart(2, '0')};${value}`,
			),
		);
		const response = await fetch(`${app.url}/api/v1/bring-in`, {
			method: 'POST',
			body: `${head}\nitem;month;demand\n${lines.join('\n')}\n`,
			headers: { 'content-type': 'application/octet-stream' },
		});
		expect(response.status).toBe(200);
	});
	const MADE = { asked: { words: 'M-' } } as Wanted['items'];
	const countRows = async (id: number) =>
		(await database.client.query('SELECT item_id FROM sweep_row WHERE sweep_id = $1', [id])).rows.length;

	test('a worker that is killed loses nothing, and nothing is done twice', async () => {
		const { body } = await begin({ kind: 'propose', items: MADE });
		for (let kill = 0; kill < 3; kill++) {
			const before = await countRows(body.id);
			// What works steps back behind everything else: of a busy machine it gets little.
			await until(async () => (await countRows(body.id)) > before, 'the next rows', 120_000);
			await worker.stop('SIGKILL');
			worker = await startWorker(database.url);
		}
		await until(async () => (await look(body.id)).sweep.endedAt !== null, 'the end of the sweep', 200_000);
		const { sweep, sums } = await look(body.id);
		expect([sweep.done, sweep.setApart, sums.rows, await countRows(body.id)]).toEqual([MANY, [], MANY, MANY]);
		// Four waits, each with a limit of its own.
	}, 560_000);

	test('stopped it stops at once: what is done stays, what is not is said', async () => {
		const { body } = await begin({ kind: 'propose', items: MADE });
		await until(async () => (await countRows(body.id)) > 0, 'the first rows');
		const { status, body: stopped } = await app.call<Sweep>('POST', `/sweeps/${body.id}/stopped`);
		expect([status, stopped.stopped?.by]).toEqual([200, 'tester']);
		// Nobody works at it any more.
		await until(
			async () =>
				(await database.client.query(`SELECT FROM graphile_worker.jobs WHERE task_identifier = 'sweep'`)).rows
					.length === 0,
			'the end of its jobs',
		);
		const done = await countRows(body.id);
		expect(done).toBeGreaterThan(0);
		expect(done).toBeLessThan(MANY);
		expect((await look(body.id)).sweep).toMatchObject({
			items: MANY,
			done,
			endedAt: expect.any(String) as string,
		});
	});

	test('how far it is is told as it goes, to whoever looks, also from the middle', async () => {
		const stop = new AbortController();
		const { body } = await begin({ kind: 'propose', items: MADE });
		const response = await fetch(`${app.url}/api/v1/progress`, { signal: stop.signal });
		expect(response.headers.get('content-type')).toBe('text/event-stream');
		const heard: number[] = [];
		const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
		let text = '';
		while (!heard.includes(MANY)) {
			const { value, done } = await reader.read();
			if (done) break;
			text += value;
			const parts = text.split('\n\n');
			text = parts.pop()!;
			for (const part of parts) {
				const data = /^event: sweep\ndata: (.*)$/s.exec(part)?.[1];
				const sweep = data === undefined ? null : (JSON.parse(data) as Sweep);
				if (sweep?.id === body.id) heard.push(sweep.done);
			}
		}
		stop.abort();
		expect(heard.at(-1)).toBe(MANY);
		expect(heard.toSorted((a, b) => a - b)).toEqual(heard);
		expect(heard.length).toBeGreaterThan(2);
	});

	test('a part that fails three times is set apart with its reason, and the others are done', async () => {
		await database.client.query(`
			CREATE FUNCTION break_on_purpose() RETURNS trigger LANGUAGE plpgsql AS $$
			BEGIN
				IF NEW.code = 'M-7' THEN RAISE EXCEPTION 'broken on purpose'; END IF;
				RETURN NEW;
			END $$;
			CREATE TRIGGER break_on_purpose BEFORE INSERT ON sweep_row FOR EACH ROW EXECUTE FUNCTION break_on_purpose();
		`);
		const swept = await ended({
			kind: 'try',
			items: MADE,
			settings: { lineUp: [{ id: 'a', method: 'naive' }], criterion: 'mad', share: null },
		});
		await database.client.query('DROP TRIGGER break_on_purpose ON sweep_row; DROP FUNCTION break_on_purpose');
		expect(swept.sweep.setApart).toEqual([
			{ items: expect.any(Number) as number, why: expect.stringContaining('broken on purpose') as string },
		]);
		const apart = swept.sweep.setApart[0]!.items;
		expect([swept.sweep.done, swept.sums.rows]).toEqual([MANY - apart, MANY - apart]);
	});

	/** What whoever looks at sweeps is told of the worker. */
	async function toldOfWorker(): Promise<WorkerState> {
		const stop = new AbortController();
		const response = await fetch(`${app.url}/api/v1/progress`, { signal: stop.signal });
		let text = '';
		const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
		for (let part = await reader.read(); !part.done; part = await reader.read()) {
			text += part.value;
			const data = /event: worker\ndata: (.*)\n\n/.exec(text)?.[1];
			if (data === undefined) continue;
			stop.abort();
			return JSON.parse(data) as WorkerState;
		}
		throw new Error(`Nothing was told of the worker: ${text}`);
	}

	test('without a worker it waits, and goes on when there is one', async () => {
		await worker.stop();
		const { body } = await begin({
			kind: 'try',
			items: MADE,
			settings: { lineUp: [{ id: 'a', method: 'naive' }], criterion: 'mad', share: null },
		});
		expect((await look(body.id)).sweep).toMatchObject({ done: 0, endedAt: null });
		expect(await toldOfWorker()).toEqual({ alive: false, seen: expect.any(String) as string });
		worker = await startWorker(database.url);
		await until(async () => (await toldOfWorker()).alive, 'that the worker is told of');
		await until(async () => (await look(body.id)).sweep.endedAt !== null, 'the end of the sweep', 200_000);
		expect((await look(body.id)).sums.rows).toBe(MANY);
	});

	test('two at once share the workers', async () => {
		const lineUp = [{ id: 'a', method: 'holt-winters' as const, season: 'additive' as const, optimise: {} }];
		const wanted: Partial<Wanted> = {
			kind: 'try',
			items: MADE,
			settings: { lineUp, criterion: 'mad', share: null },
		};
		// Laid out before anybody works at them.
		await worker.stop();
		const begun = [await begin(wanted), await begin(wanted)];
		worker = await startWorker(database.url);
		const sweeps = () => Promise.all(begun.map(async ({ body }) => (await look(body.id)).sweep));
		let seen: Sweep[] = [];
		await until(
			async () => {
				seen = await sweeps();
				return seen.some(({ endedAt }) => endedAt !== null);
			},
			'the end of one of them',
			200_000,
		);
		// The other one is through, or nearly.
		for (const { done } of seen) expect(done).toBeGreaterThanOrEqual(MANY - 100);
		await until(
			async () => (await sweeps()).every(({ endedAt }) => endedAt !== null),
			'the end of both',
			200_000,
		);
	});
});

test.each<[Partial<Wanted>, number, RegExp]>([
	[{ kind: 'propose', items: { codes: ['nobody'] } }, 422, /No item fits/],
	[{ kind: 'propose', items: { rule: 'all' } }, 422, /A rule picks rows/],
	[{ kind: 'adopt', items: { rule: 'all' } }, 422, /names the sweep/],
	[{ kind: 'adopt', of: 999_999, items: { rule: 'all' } }, 404, /There is no sweep/],
	[{ kind: 'wish' as 'propose', items: ALL }, 422, /kind is one of/i],
])('%j is refused in words', async (wanted, status, words) => {
	const answer = await begin(wanted);
	expect([answer.status, JSON.stringify(answer.body)]).toEqual([status, expect.stringMatching(words)]);
});

describe('stock for a service level', () => {
	const codes = ['T-0', 'T-1', 'T-2'];
	const naive = { id: 'a', method: 'naive' } as const;
	let id: number;

	test('over each lead time, beside what is adopted; an item without a forecast says why not', async () => {
		for (const [i, code] of codes.entries())
			await app.call('POST', '/items', { code, name: `Tube ${i}`, text: table(wave(20 + i)) });
		for (const [i, horizon] of [6, 2].entries())
			await app.call(
				'POST',
				`/items/${codes[i]}/adopted`,
				adoptionOf(await load(codes[i]!), naive, { horizon }),
			);
		await app.call('POST', '/several', { items: { codes }, change: { leadTime: 3 } });
		const swept = await ended({ kind: 'stock', items: { codes }, settings: { service: 0.99 } });
		({ id } = swept);
		expect(swept.sweep.settings.service).toBe(0.99);
		expect(swept.sums).toMatchObject({ rows: 3, refused: 1, ready: 2, stockMore: 1, stockLess: 0 });
		const [longer, shorter, none] = await rowsOf(id);
		const { series } = await load('T-0');
		const stockAt = (service: number) => {
			const { values, frequency, seasonLength } = series;
			const [own] = evaluate({
				series: { values, frequency, seasonLength, start: '2020-01' },
				candidates: [naive],
				horizon: 3,
				service,
			}).candidates;
			return own!.ok ? own!.together[2]!.stock! : null;
		};
		expect(longer).toMatchObject({ lead: 3, refused: null, ready: true });
		expect(longer!.stock).toBeCloseTo(stockAt(0.99)!, 9);
		expect(longer!.stockBefore).toBeCloseTo(stockAt(0.95)!, 9);
		// What was adopted does not reach as far as the lead time; the new forecast does.
		expect(shorter).toMatchObject({ lead: 3, stockBefore: null, ready: true });
		expect(none!.refused).toMatch(/Nothing is adopted for it yet/);
		expect((await rowsOf(id, 'sort=stock')).map(({ code }) => code).at(-1)).toBe('T-2');
	});

	test('adopted, it is the next record of its sequence with that service level', async () => {
		const before = (await load('T-1')).adopted!;
		await ended({ kind: 'adopt', of: id, items: { rule: 'all' } });
		const { adopted } = await load('T-1');
		expect(adopted).toMatchObject({ service: 0.99, carriedFrom: before.id, label: before.label });
		expect(adopted!.steps).toHaveLength(3);
	});

	test('a service level is told for stock alone, between 50 and 99.9 %', async () => {
		const asked = (settings: object, kind: Wanted['kind'] = 'stock') =>
			begin({ kind, items: { codes }, settings }).then(({ status }) => status);
		expect(await asked({})).toBe(422);
		expect(await asked({ service: 0.4 })).toBe(422);
		expect(await asked({ service: 0.9 }, 'update')).toBe(422);
	});
});

describe('something done to several in one breath', () => {
	const several = (items: object, change: object, reason = '') =>
		app.call<{ items: number }>('POST', '/several', { items, change, reason });
	const some = { codes: [codeOf(2), codeOf(4)] };

	test('labels, lead times, constants, season lengths and gap rules, on record with who and why', async () => {
		expect((await several(some, { label: { of: 'Family', is: 'Wheels' } }, 'new catalogue')).body).toEqual({
			items: 2,
		});
		await several(some, { leadTime: 3 });
		await several(some, { carry: 'keep' });
		await several(some, { seasonLength: 6 });
		await several(some, { gapRule: 'zero' });
		const item = await load(codeOf(4));
		expect(item).toMatchObject({
			labels: [['Family', 'Wheels']],
			plan: { leadTime: 3, carry: 'keep' },
			layers: { layers: { seasonLength: 6, gapRule: 'zero' } },
		});
		expect(item.changes.find(({ kind }) => kind === 'labelled')).toMatchObject({
			by: 'tester',
			reason: 'new catalogue',
		});
		await several(some, { label: { of: 'Family', is: '' } });
		await several(some, { seasonLength: null });
		expect(await load(codeOf(4))).toMatchObject({ labels: [], layers: { layers: { seasonLength: null } } });
	});

	test('hidden and shown again, by what the list is asked for, but one', async () => {
		const asked = { asked: { words: 'S-' }, except: [codeOf(6)] };
		const hidden = async () =>
			(await everyItem(app)).filter(({ status }) => status?.hidden).map(({ code }) => code);
		expect((await several(asked, { hidden: true }, 'seen')).body).toEqual({ items: COUNT - 1 });
		expect(await hidden()).toEqual([0, 1, 2, 3, 4, 5, 7].map(codeOf));
		await several(asked, { hidden: false });
		expect(await hidden()).toEqual([]);
	});

	test('retired, and none where there is nobody; what cannot be is refused and nothing is changed', async () => {
		await several({ codes: [codeOf(7)] }, { retired: true }, 'no longer sold');
		expect((await load(codeOf(7))).retiredAt).not.toBeNull();
		expect((await several({ codes: ['nobody'] }, { retired: true })).status).toBe(422);
		expect((await several(some, { leadTime: 0 })).status).toBe(422);
		expect((await several(some, { wish: 1 })).status).toBe(422);
	});
});
