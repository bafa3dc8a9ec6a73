import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { CandidateResult } from '../../src/core/questions/answer';
import { evaluate } from '../../src/core/questions/evaluate';
import { formatPeriod } from '../../src/core/series/period';
import type { AdoptedForecast } from '../../src/lib/wire/records';
import type { Item } from '../../src/lib/wire/items';
import type { ItemWindow } from '../../src/lib/wire/list';
import type { RefusalBody } from '../../src/lib/wire/service';
import { adoptionOf } from '../support/adopting';
import { type App, startApp } from '../support/app';
import { asTester, makeDatabase, type TestDatabase } from '../support/database';

let database: TestDatabase;
let app: App;

beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url);
});
afterAll(async () => {
	await app?.stop();
	await database?.drop();
});

const MONTHS = 'month;pieces\n2024-01;412\n2024-02;398\n2024-03;\n2024-04;440\n2024-05;431\n2024-06;455';
const bringIn = (code: string, text: string, more: object = {}) =>
	app.call('POST', '/items', { code, name: `Item ${code}`, unit: 'pieces', text, ...more });
const load = async (code: string) => (await app.call<Item>('GET', `/items/${encodeURIComponent(code)}`)).body;
const count = async (table: string) =>
	Number((await database.client.query(`SELECT count(*) AS count FROM ${table}`)).rows[0].count);

test('an item brought in is there as it was read, with its raw text byte for byte', async () => {
	const text = `${MONTHS}\r\n`;
	const { status, body } = await bringIn('10-001', text, { fileName: 'tubes “May”.csv' });
	expect([status, body]).toEqual([201, { code: '10-001', periods: 6 }]);
	const item = await load('10-001');
	expect(item.series).toEqual({
		frequency: 'month',
		seasonLength: 12,
		first: 2024 * 12,
		values: [412, 398, null, 440, 431, 455],
	});
	// Nobody has worked on it: what it opens with is proposed on the page.
	expect(item.lineUp).toEqual({ version: 0, candidates: [], hidden: [] });
	const raw = await fetch(`${app.url}/api/v1/items/10-001/raw`);
	expect(Buffer.from(await raw.arrayBuffer()).toString('utf8')).toBe(text);
	expect(decodeURIComponent(raw.headers.get('content-disposition')!)).toContain('tubes “May”.csv');
	const { rows } = await database.client.query(
		'SELECT actor_name(created_by) AS by, reading FROM data_change ORDER BY id DESC LIMIT 1',
	);
	expect(rows[0]).toMatchObject({
		by: 'tester',
		reading: { choices: {}, frequency: 'month', columns: ['period', 'figure'], doubts: [] },
	});
});

test('a program is told which methods there are, and a candidate made of what it is told is taken', async () => {
	const { body } = await app.call<{ id: string; constants: { key: string; usual: number }[] }[]>(
		'GET',
		'/methods',
	);
	const ses = body.find(({ id }) => id === 'ses')!;
	expect(ses.constants.map(({ key }) => key)).toEqual(['alpha']);
	const { status, body: answer } = await app.call<{ candidates: { ok: boolean }[] }>('POST', '/evaluate', {
		series: { values: [412, 398, 405, 440, 431, 455], frequency: 'month', start: '2024-01' },
		candidates: [
			{ id: 'a', method: ses.id, constants: { [ses.constants[0]!.key]: ses.constants[0]!.usual } },
		],
	});
	expect([status, answer.candidates[0]!.ok]).toEqual([200, true]);
});

describe('refusals: a sentence, nothing stored half', () => {
	test.each<[string, object, number, RegExp]>([
		['an empty paste', { text: ' ' }, 422, /nothing here yet/],
		['words', { text: 'a\nb\nc' }, 422, /no figure/],
		['one figure', { text: '5' }, 422, /one figure/],
		['a lone heading', { text: 'Demand' }, 422, /heading, “Demand”, and no figure/],
		[
			'100,000 figures',
			{ text: Array.from({ length: 100_000 }, (_, i) => i).join('\n') },
			422,
			/at most 20\s000/,
		],
		['400 digits', { text: `5\n${'7'.repeat(400)}` }, 422, /can be computed with/],
		[
			'mixed separators',
			{ text: '2024-01;5\n2024-02,6\n2024-03;7' },
			422,
			/“2024-02,6” in row 2 is not a known period/,
		],
		['binary', { text: 'PK\u0003\u0004\u0000' }, 422, /not an \.xlsx workbook/],
		['no code', { text: MONTHS, code: ' ' }, 422, /code is missing/],
		['an endless name', { text: MONTHS, name: 'x'.repeat(201) }, 422, /name has at most 200/],
		['control characters', { text: MONTHS, code: 'a\u0000b' }, 422, /cannot be seen/],
		['an unknown key', { text: MONTHS, colour: 'red' }, 422, /not a key/],
		[
			'a code that is taken',
			{ text: MONTHS, code: '10-001' },
			409,
			/already an item with the code 10-001.*nothing was stored/,
		],
	])('%s', async (_name, change, status, message) => {
		const before = [
			await count('item'),
			await count('raw_text'),
			await count('data_change'),
			await count('actual'),
		];
		const answer = await bringIn('99-999', '', change);
		expect(answer.status).toBe(status);
		expect(answer.body.message).toMatch(message);
		expect([
			await count('item'),
			await count('raw_text'),
			await count('data_change'),
			await count('actual'),
		]).toEqual(before);
	});

	test('a body that is no JSON, and one of another type', async () => {
		const send = (body: string, type: string) =>
			fetch(`${app.url}/api/v1/items`, {
				method: 'POST',
				body,
				headers: { 'content-type': type, origin: app.url },
			});
		expect((await send('{', 'application/json')).status).toBe(422);
		expect((await send('a=1', 'text/csv')).status).toBe(415);
	});

	test('an item, a forecast and a page that are not there', async () => {
		expect((await app.call('GET', '/items/nothing')).body.message).toMatch(/no item “nothing”/);
		expect((await app.call('GET', '/items/10-001/adopted/4711')).status).toBe(404);
		expect((await fetch(`${app.url}/nowhere`)).status).toBe(404);
	});
});

test('HTML, SQL, slashes and quotes in names are only names', async () => {
	const code = `<b>'"; DROP TABLE item;--/%2F`;
	const name = `<script>alert(1)</script> Robert'); DROP TABLE actual;--`;
	const { status } = await bringIn(code, MONTHS, { name });
	expect(status).toBe(201);
	expect((await load(code)).name).toBe(name);
	const page = await (await fetch(`${app.url}/items/${encodeURIComponent(code)}`)).text();
	expect(page).not.toContain('<script>alert(1)');
	expect(await count('actual')).toBeGreaterThan(0);
});

describe('line-up', () => {
	const candidates = [
		{ id: 'a', method: 'ses', constants: { alpha: 0.45 }, start: { rule: 'mean', k: 3 } },
		{ id: 'b', method: 'weighted-moving-average', weights: [1, 2, 3] },
	];

	test('is kept in order, with what is hidden', async () => {
		await bringIn('20-001', MONTHS);
		const { version } = (await load('20-001')).lineUp;
		const saved = await app.call('PUT', '/items/20-001/line-up', { version, candidates, hidden: ['b'] });
		expect(saved.body).toEqual({ version: version + 1 });
		expect((await load('20-001')).lineUp).toEqual({ version: version + 1, candidates, hidden: ['b'] });
	});

	test('made from an older version is refused, and the kept one stays', async () => {
		const answer = await app.call('PUT', '/items/20-001/line-up', { version: 0, candidates: [], hidden: [] });
		expect(answer.status).toBe(409);
		expect(answer.body.message).toMatch(/changed in another window/);
		expect((await load('20-001')).lineUp.candidates).toEqual(candidates);
	});

	test('with a constant out of bounds is refused with its place', async () => {
		const wrong = [{ id: 'a', method: 'ses', constants: { alpha: 7 } }];
		const answer = await app.call('PUT', '/items/20-001/line-up', { version: 1, candidates: wrong });
		expect(answer.status).toBe(422);
		expect(answer.body.issues).toEqual([
			{ path: 'candidates.0.constants.alpha', message: 'alpha lies between 0 and 1' },
		]);
	});

	test('of two saves at once one is kept whole and the other refused', async () => {
		const { version } = (await load('20-001')).lineUp;
		const save = (alpha: number) =>
			app.call('PUT', '/items/20-001/line-up', {
				version,
				candidates: [{ id: 'a', method: 'ses', constants: { alpha } }],
			});
		const answers = await Promise.all([save(0.1), save(0.9)]);
		expect(answers.map(({ status }) => status).sort()).toEqual([200, 409]);
		expect((await load('20-001')).lineUp.candidates).toHaveLength(1);
	});
});

describe('adopting', () => {
	const candidate = { id: 'x', method: 'ses', optimise: { criterion: 'mad' } };

	test('keeps what the server computed from the stored actuals, and it can be computed anew', async () => {
		await bringIn('30-001', MONTHS);
		const item = await load('30-001');
		const wish = adoptionOf(item, candidate, { reason: 'steady' });
		const { status, body } = await app.call<AdoptedForecast>('POST', '/items/30-001/adopted', wish);
		expect(status).toBe(201);
		const { series } = item;
		const own = evaluate({
			series: { values: series.values, frequency: 'month', start: formatPeriod('month', series.first) },
			candidates: [candidate],
			horizon: 4,
		}).candidates[0] as CandidateResult;
		expect(body).toMatchObject({
			label: 'Simple exponential smoothing',
			reason: 'steady',
			adoptedBy: 'tester',
			constants: own.constants,
		});
		expect(body.steps.map(({ mean }) => mean)).toEqual(own.ahead.map(({ mean }) => mean));
		expect(body.steps.map(({ ranges }) => ranges)).toEqual(own.ahead.map(({ ranges }) => ranges));
		expect(body.measures).toEqual({ ...own.measures.own, alarm: own.alarm });
		// It says which ranges it has, whatever becomes usual.
		expect(body.candidate).toMatchObject({ ranges: own.rangeKind });
		expect((await app.call('GET', `/items/30-001/adopted/${body.id}`)).body).toEqual({
			sameData: true,
			sameFigures: true,
		});
	});

	test('of seasonal indices, a line, seasons by themselves and a combination are computed here too', async () => {
		const values = Array.from({ length: 26 }, (_, t) => 120 + 3 * t + [20, -10, 35, -45][t % 4]!);
		await app.call('POST', '/items', {
			code: '30-002',
			name: 'Spoke, black',
			text: values.join('\n'),
			choices: { frequency: 'quarter', first: '2019-Q1' },
		});
		const members = [
			{
				id: 'i',
				method: 'seasonal-index',
				season: 'additive',
				index: { rule: 'ratio-to-moving-average', held: [null, -9, null, null] },
				level: { rule: 'blend', of: [{ rule: 'line' }, { rule: 'last-cycle', growth: 0.02 }] },
				scenarios: [{ rule: 'line' }],
				frozen: '2024-Q4',
			},
			{ id: 't', method: 'trend-seasonal', season: 'multiplicative', optimise: { hold: { slope: 3 } } },
			{ id: 'd', method: 'deseasonalised', season: 'additive', inner: { method: 'holt', optimise: {} } },
			{ id: 'p', method: 'per-season', inner: { method: 'ses', constants: { alpha: 0.4 } } },
		];
		const mixed = { id: 'c', method: 'combination', of: ['i', 't', 'd', 'p'], weights: 'inverse-mse' };
		const twice = { id: 'o', method: 'combination', of: ['c', 'i'], weights: [2, 1] };
		for (const candidate of [...members, mixed, twice]) {
			const others = candidate === twice ? [mixed, ...members] : candidate === mixed ? members : [];
			const wish = adoptionOf(await load('30-002'), candidate, { others, horizon: 5 });
			const { status, body } = await app.call<AdoptedForecast>('POST', '/items/30-002/adopted', wish);
			expect(status, JSON.stringify(body)).toBe(201);
			const own = evaluate({
				series: { values, frequency: 'quarter', start: '2019-Q1' },
				candidates: [candidate, ...others],
				horizon: 5,
			}).candidates[0] as CandidateResult;
			expect(body.steps.map(({ mean }) => mean)).toEqual(own.ahead.map(({ mean }) => mean));
			expect((await app.call('GET', `/items/30-002/adopted/${body.id}`)).body).toEqual({
				sameData: true,
				sameFigures: true,
			});
		}
		const alone = await app.call('POST', '/items/30-002/adopted', {
			...adoptionOf(await load('30-002'), mixed, { others: members, horizon: 5 }),
			others: [],
		});
		expect(alone.status).toBe(422);
		expect(JSON.stringify(alone.body)).toMatch(/no candidate i to combine/);
	});

	let beforeCorrection = 0;

	test('stays what it was when actuals are corrected later', async () => {
		const item = await load('30-001');
		beforeCorrection = item.seen;
		await asTester(database.client, 1);
		const { rows } = await database.client.query(
			`INSERT INTO data_change (workspace_id) SELECT min(id) FROM workspace RETURNING id, workspace_id`,
		);
		await database.client.query(
			`INSERT INTO actual SELECT workspace_id, item_id, period, 2, 999, $1 FROM actual
			WHERE item_id = (SELECT id FROM item WHERE code = '30-001') AND period = $2`,
			[rows[0].id, item.series.first],
		);
		expect((await load('30-001')).series.values[0]).toBe(999);
		const { body } = await app.call<AdoptedForecast[]>('GET', '/items/30-001/adopted');
		expect((await app.call('GET', `/items/30-001/adopted/${body[0]!.id}`)).body).toEqual({
			sameData: true,
			sameFigures: true,
		});
	});

	test('from a page that has not seen the newest actuals is refused', async () => {
		const before = adoptionOf(await load('30-001'), candidate);
		const answer = await app.call<RefusalBody>('POST', '/items/30-001/adopted', {
			...before,
			seen: beforeCorrection,
		});
		expect(answer.status).toBe(409);
		expect(answer.body.message).toMatch(/tester: Jan 2024 999, it was 412\. Check it again before you adopt/);
		expect(answer.body.between).toEqual(['tester: Jan 2024 999, it was 412']);
	});

	test('what cannot run is refused with the reason', async () => {
		const long = { id: 'x', method: 'moving-average', span: 40 };
		const wish = adoptionOf(await load('30-001'), long);
		const answer = await app.call('POST', '/items/30-001/adopted', wish);
		expect([answer.status, answer.body.message]).toEqual([
			422,
			expect.stringMatching(/needs 40 periods; this series has 6/),
		]);
	});

	test('the list shows it, and puts what needs attention first', async () => {
		const { items: body } = (await app.call<ItemWindow>('GET', '/items')).body;
		const row = body.find(({ code }) => code === '30-001')!;
		expect(row).toMatchObject({
			shown: {
				periods: 6,
				adopted: { label: 'Simple exponential smoothing', nextPeriod: row.shown!.last + 1 },
			},
		});
		expect([row.shown!.recent.length, row.shown!.ahead.length]).toEqual([6, 4]);
		const needing = body.map(({ status }) => status!.reasons.length > 0);
		expect(needing.indexOf(false)).toBeGreaterThan(needing.lastIndexOf(true));
	});
});

test('evaluate over HTTP is the same arithmetic, and refuses with paths', async () => {
	const request = {
		series: { values: [34, 41, 38, 45, 37, 52], frequency: 'step' },
		candidates: [
			{ id: 'a', method: 'ses', optimise: {} },
			{ id: 'b', method: 'naive' },
		],
	};
	expect((await app.call('POST', '/evaluate', request)).body).toEqual(
		JSON.parse(JSON.stringify(evaluate(request))),
	);
	const refused = await app.call('POST', '/evaluate', {
		...request,
		candidates: [{ id: 'a', method: 'combination', of: ['b'] }],
	});
	expect(refused.status).toBe(422);
	expect(refused.body.issues).toEqual([
		{ path: 'candidates.0.of', message: 'there is no candidate b to combine' },
	]);
});

test('of two pastes with one code at once one is kept whole and the other refused', async () => {
	const before = await count('item');
	const answers = await Promise.all([bringIn('40-001', MONTHS), bringIn('40-001', '1\n2\n3')]);
	expect(answers.map(({ status }) => status).sort()).toEqual([201, 409]);
	expect(await count('item')).toBe(before + 1);
	const { series } = await load('40-001');
	expect([6, 3]).toContain(series.values.length);
});

test('what belongs to another workspace is neither listed, shown, changed nor adopted', async () => {
	const { rows } = await database.client.query(
		`INSERT INTO workspace (name) VALUES ('somebody else') RETURNING id`,
	);
	await asTester(database.client, rows[0].id);
	await database.client.query(
		`INSERT INTO item (workspace_id, code, name, frequency, season_length)
		VALUES ($1, '66-666', 'Not ours', 'month', 12)`,
		[rows[0].id],
	);
	const { items: body } = (await app.call<ItemWindow>('GET', '/items')).body;
	expect(body.map(({ code }) => code)).not.toContain('66-666');
	const calls: [string, string, unknown?][] = [
		['GET', '/items/66-666'],
		['GET', '/items/66-666/raw'],
		['GET', '/items/66-666/adopted'],
		['PUT', '/items/66-666/line-up', { version: 0, candidates: [] }],
		['POST', '/items/66-666/layers', { seen: 0, entries: [{ kind: 'per-day', setting: true }] }],
		[
			'PATCH',
			'/items/66-666',
			{ name: 'Ours', seen: { code: '66-666', name: 'Not ours', unit: '', retired: false } },
		],
		[
			'POST',
			'/items/66-666/adopted',
			{
				candidate: { id: 'a', method: 'naive' },
				horizon: 3,
				seen: 0,
				seenRecord: null,
				shown: [{ mean: 1 }],
			},
		],
		['GET', '/items/66-666/adopted/1'],
	];
	for (const [method, path, sent] of calls)
		expect((await app.call(method, path, sent)).status, `${method} ${path}`).toBe(404);
	// The same code is free here.
	expect((await bringIn('66-666', MONTHS)).status).toBe(201);
});

test('pages cannot be framed, sniffed or made to run foreign scripts; the first address leads to the items', async () => {
	const page = await fetch(`${app.url}/items`);
	expect(page.headers.get('x-frame-options')).toBe('DENY');
	expect(page.headers.get('x-content-type-options')).toBe('nosniff');
	expect(page.headers.get('content-security-policy')).toMatch(/script-src 'self'/);
	expect((await fetch(`${app.url}/`)).url).toBe(`${app.url}/items`);
});

/** Addresses that something listens on at a port, as the system writes them. */
const listening = (port: number) =>
	['/proc/net/tcp', '/proc/net/tcp6'].flatMap((table) =>
		readFileSync(table, 'utf8')
			.split('\n')
			.map((line) => line.trim().split(/\s+/))
			.filter(([, local, , state]) => state === '0A' && Number(`0x${local!.split(':')[1]}`) === port)
			.map(([, local]) => local!.split(':')[0]!),
	);

test('everything listens on loopback alone', async () => {
	const { rows } = await database.client.query('SHOW listen_addresses');
	if (!process.env.DATABASE_URL) expect(rows[0].listen_addresses).toBe('127.0.0.1');
	// What the system says of the server's port: 0100007F is 127.0.0.1, and nothing listens on it by version 6.
	expect(listening(Number(new URL(app.url).port))).toEqual(['0100007F']);
});
