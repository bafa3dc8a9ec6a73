import { randomBytes } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { BroughtIn, KnownTable, StreamProgress } from '../../src/lib/wire/bring-in';
import type { Item, StoredSeries } from '../../src/lib/wire/items';
import type { ItemWindow } from '../../src/lib/wire/list';
import { fingerprintOf } from '../../src/lib/reading/decision';
import { evidenceOf, makeOf } from '../../src/lib/reading/evidence';
import { readText } from '../../src/lib/reading/read';
import { seededUniform } from '../../src/core/numbers/random';
import { compareItem } from '../../src/lib/ui/bring-in/compare';
import { type App, startApp, until } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';
import { runs } from '../support/runs';

let database: TestDatabase;
let app: App;
beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url);
});
afterAll(async () => {
	await app.stop();
	await database.drop();
});

const send = (path: string, wish: object, content: string | Uint8Array<ArrayBuffer>, signal?: AbortSignal) =>
	fetch(`${app.url}/api/v1${path}`, {
		method: 'POST',
		body: new Blob([`${JSON.stringify(wish)}\n`, content]),
		headers: { 'content-type': 'application/octet-stream' },
		...(signal && { signal }),
	});
const bring = async <T = BroughtIn[]>(wish: object, content: string | Uint8Array<ArrayBuffer>) => {
	const response = await send('/bring-in', wish, content);
	return { status: response.status, body: (await response.json()) as T };
};
type Refused = { message: string; issues?: { path: string }[] };
const wanted = (...codes: string[]) => ({ items: codes.map((code) => ({ from: code, code, name: code })) });
const valuesOf = async (code: string) => (await app.call<Item>('GET', `/items/${code}`)).body.series;
const count = async (table: string) =>
	Number((await database.client.query(`SELECT count(*) FROM ${table}`)).rows[0].count);
const stream = async (wish: object, content: string) => {
	const response = await send('/bring-in/stream', wish, content);
	const lines = (await response.text()).trim().split('\n');
	return { status: response.status, lines: lines.map((line) => JSON.parse(line) as StreamProgress) };
};

test('what is known of a table: which of its words are codes, and how the last one of its make was read', async () => {
	const ask = async (words: string[], make: string | null) =>
		(await app.call<KnownTable>('POST', '/bring-in/known', { words, make })).body;
	const october = 'Part;Zone;2026-09;2026-10\nKN-1;4;10;12\nKN-2;5;20;22\nKN-3;4;7;9\n';
	const make = makeOf(readText(october));
	expect(await ask(['KN-1', 'Zone'], make)).toEqual({ items: [], last: null });
	const wish = { ...wanted('KN-1', 'KN-2'), fileName: 'issues-10.csv', choices: { columns: { 1: 'label' } } };
	expect((await bring(wish, october)).status).toBe(200);
	const known = await ask(['KN-2', 'KN-1', 'KN-3', 'Zone', 'kn-1'], make);
	expect(known.items).toEqual([
		{ code: 'KN-1', name: 'KN-1', frequency: 'month', newest: 2026 * 12 + 9 },
		{ code: 'KN-2', name: 'KN-2', frequency: 'month', newest: 2026 * 12 + 9 },
	]);
	expect(known.last).toMatchObject({
		fileName: 'issues-10.csv',
		choices: { columns: { 1: 'label' } },
		heads: ['part', 'zone', '#', '#'],
		frequency: 'month',
		decimal: '.',
	});
	// The next one of its make is read by it, and is the last one from then on.
	const november = 'Part;Zone;2026-09;2026-10;2026-11\nKN-1;4;10;12;14\nKN-2;5;20;22;24\nKN-3;4;7;9;8\n';
	const { choices } = evidenceOf(readText(november), known, String);
	expect((await bring({ ...wanted('KN-1'), fileName: 'issues-11.csv', choices }, november)).status).toBe(200);
	expect((await ask([], make)).last).toMatchObject({
		fileName: 'issues-11.csv',
		choices: { columns: { 1: 'label' } },
	});
	expect((await ask([], 'text|another')).last).toBeNull();
});

test('a table that comes out otherwise than the preview showed is refused; how it was read is kept', async () => {
	const table = 'Month;F-1\n2024-01;1.234\n2024-02;2.345\n2024-03;990\n';
	const wish = { items: [{ from: 'F-1', code: 'F-1', name: 'F-1' }] };
	const refused = await bring<Refused>({ ...wish, shown: '0123456789abcdef' }, table);
	expect([refused.status, refused.body.issues]).toMatchObject([409, [{ path: 'shown' }]]);
	expect(refused.body.message).toMatch(/other figures than the preview showed.*Nothing was stored/);
	const shown = fingerprintOf(readText(table));
	expect((await bring({ ...wish, shown }, table)).status).toBe(200);
	const { rows } = await database.client.query<{ reading: object }>(
		'SELECT reading FROM data_change ORDER BY id DESC LIMIT 1',
	);
	expect(rows[0]!.reading).toMatchObject({ fingerprint: shown, decimal: ',', headings: { 0: 'item' } });
	expect(JSON.stringify(rows[0]!.reading)).toMatch(/taken as a thousands mark/);
});

describe('a table of several items', () => {
	const table = 'Month\tA-1\tA-2\n2024-01\t1\t10\n2024-02\t2\t20\n2024-03\t3\t30\n';

	test('new items come in, and the bytes are kept', async () => {
		const bytes = Buffer.concat([Buffer.from([0xef, 0xbb, 0xbf]), Buffer.from(table)]);
		const { status, body } = await bring(
			{ ...wanted('A-1', 'A-2'), fileName: 'depot.tsv' },
			new Uint8Array(bytes),
		);
		expect([status, body]).toEqual([
			200,
			[
				{ code: 'A-1', created: true, added: 3, corrected: 0, same: 0 },
				{ code: 'A-2', created: true, added: 3, corrected: 0, same: 0 },
			],
		]);
		const raw = await fetch(`${app.url}/api/v1/items/A-2/raw`);
		expect(Buffer.from(await raw.arrayBuffer())).toEqual(bytes);
		expect(raw.headers.get('content-disposition')).toContain('depot.tsv');
	});

	test('more of them: new periods, corrections beside the old figure, and what is the same', async () => {
		const more = 'Month\tA-1\tA-2\n2024-02\t2\t25\n2024-03\t\t30\n2024-04\t4\t40\n';
		const { body } = await bring(wanted('A-1', 'A-2'), more);
		expect(body).toEqual([
			{ code: 'A-1', created: false, added: 1, corrected: 0, same: 2 },
			{ code: 'A-2', created: false, added: 1, corrected: 1, same: 1 },
		]);
		expect((await valuesOf('A-1')).values).toEqual([1, 2, 3, 4]);
		expect((await valuesOf('A-2')).values).toEqual([10, 25, 30, 40]);
		const { rows } = await database.client.query(
			`SELECT revision, value FROM actual JOIN item ON item.id = item_id WHERE code = 'A-2' AND period = 2024 * 12 + 1 ORDER BY revision`,
		);
		expect(rows).toEqual([
			{ revision: 1, value: 20 },
			{ revision: 2, value: 25 },
		]);
	});

	test('labels come in with their items, and change where the table says others; a blank takes none away', async () => {
		const labelled = (rows: string) => `Item\tFamily\tSite\t2024-01\t2024-02\n${rows}`;
		await bring(
			wanted('L-1', 'L-2', 'L-3', 'L-4'),
			labelled(
				'L-1\tBrakes\tNorth\t1\t2\nL-2\tBrakes\tSouth\t3\t4\nL-3\tWheels\tSouth\t3\t4\nL-4\tWheels\tNorth\t3\t4',
			),
		);
		const item = async (code: string) => (await app.call<Item>('GET', `/items/${code}`)).body;
		expect((await item('L-1')).labels).toEqual([
			['Family', 'Brakes'],
			['Site', 'North'],
		]);
		await bring(
			wanted('L-1', 'L-2'),
			'Item\tFamily\tPlanner\t2024-03\t2024-04\nL-1\tRims\tAnna\t5\t6\nL-2\t\tAnna\t5\t6\nL-9\tRims\tAnna\t7\t8',
		);
		const changed = await item('L-1');
		expect(changed.labels).toEqual([
			['Family', 'Rims'],
			['Planner', 'Anna'],
			['Site', 'North'],
		]);
		expect(changed.changes[0]).toMatchObject({
			kind: 'labelled',
			labels: [
				['Family', 'Brakes'],
				['Site', 'North'],
			],
			by: 'tester',
		});
		expect((await item('L-2')).labels).toEqual([
			['Family', 'Brakes'],
			['Planner', 'Anna'],
			['Site', 'South'],
		]);
		const { body } = await app.call<ItemWindow>('GET', '/items');
		expect(body.items.find(({ code }) => code === 'L-2')!.labels).toContainEqual(['Site', 'South']);
	});

	test('labels are typed: saved with who and why, refused where they changed meanwhile or are none', async () => {
		const { body: before } = await app.call<Item>('GET', '/items/L-3');
		const { code, name, unit, labels } = before;
		const seen = { code, name, unit, retired: false, labels };
		const patch = (body: object) => app.call<Item & Refused>('PATCH', '/items/L-3', { seen, ...body });
		const { status, body } = await patch({ labels: [['Family', 'Rims']], reason: 'sorted anew' });
		expect([status, body.labels]).toEqual([200, [['Family', 'Rims']]]);
		expect(body.changes[0]).toMatchObject({ kind: 'labelled', labels, reason: 'sorted anew' });
		expect((await patch({ labels: [] })).status).toBe(409);
		for (const wrong of [
			[['Family', '']],
			[['', 'x']],
			['Rims'],
			{ Family: 'Rims' },
			[['Family', 4]],
			[['x'.repeat(61), 'x']],
			[
				['Family', 'a'],
				['Family', 'b'],
			],
			...['__proto__', 'constructor', 'prototype'].map((of) => [[of, 'x']]),
		])
			expect((await patch({ labels: wrong })).status).toBe(422);
	});

	test('what is kept can be asked for before', async () => {
		const { body } = await app.call<StoredSeries[]>('POST', '/bring-in/compare', {
			codes: ['A-2', 'nobody'],
		});
		expect(body).toEqual([
			{
				code: 'A-2',
				name: 'A-2',
				unit: '',
				frequency: 'month',
				labels: [],
				first: 2024 * 12,
				values: [10, 25, 30, 40],
			},
		]);
	});

	test('all or nothing: one item that cannot come in holds back the rest, and says why', async () => {
		const before = [await count('item'), await count('actual'), await count('raw_text')];
		const cases: [object, string, number, RegExp][] = [
			[
				wanted('B-1', 'A-1'),
				'W\tB-1\tA-1\n2024-W01\t1\t10\n2024-W02\t2\t20\n',
				422,
				/A-1 is saved by the month, and the table is by the week/,
			],
			[
				wanted('B-1', 'B-2'),
				'M\tB-1\tB-2\n2024-01\t1\tmany\n2024-02\t2\t20\n2024-03\t2\t20\n2024-04\t2\t20\n',
				422,
				/B-2: Row 2.*“many”/,
			],
			[wanted('B-1', 'B-3'), table.replace('A-1', 'B-1'), 422, /no item “B-3”/],
			[
				{
					items: [
						{ from: 'A-1', code: 'B', name: 'B' },
						{ from: 'A-2', code: 'B', name: 'B' },
					],
				},
				table,
				422,
				/Two items are given the code B/,
			],
			[wanted('A-1'), 'M\tA-1\n9024-01\t1\n9024-02\t2\n', 422, /would run over .* periods/],
			[{ items: [] }, table, 422, /At least one item/],
			[{ ...wanted('A-1'), also: 1 }, table, 422, /not a key that is known/],
			[wanted('A-1'), 'only words', 422, /heading|no figures/],
		];
		for (const [wish, content, status, message] of cases) {
			const { status: got, body } = await bring<Refused>(wish, content);
			expect([got, body.message]).toEqual([status, expect.stringMatching(message)]);
		}
		expect([await count('item'), await count('actual'), await count('raw_text')]).toEqual(before);
	});

	test('the preview counts as the server does, whatever is kept and whatever comes', async () => {
		const uniform = seededUniform(28);
		const maybe = (share: number) => uniform() < share;
		const month = (t: number) => `${2023 + Math.floor(t / 12)}-${String((t % 12) + 1).padStart(2, '0')}`;
		const figure = () => String(1 + Math.floor(3 * uniform()));
		for (let round = 0; round < runs(24); round++) {
			const code = `H-${round}`;
			// A hole of what is kept: a month without a row, and one whose row is blank.
			const first = Array.from({ length: 12 }, (_, t) => (maybe(0.2) && t > 0 && t < 11 ? '' : figure()));
			const lines = first.flatMap((value, t) =>
				value === '' && maybe(0.5) ? [] : [`${month(t + 3)};${value}`],
			);
			expect((await bring(wanted(code), `month;${code}\n${lines.join('\n')}\n`)).status).toBe(200);
			const [stored] = (await app.call<StoredSeries[]>('POST', '/bring-in/compare', { codes: [code] })).body;
			const next = Array.from({ length: 15 }, () => (maybe(0.2) ? '' : figure()));
			const table = `month;${code}\n${next.map((value, t) => `${month(t + 1)};${value}`).join('\n')}\n`;
			const reading = readText(table);
			const preview = compareItem(reading.items[0]!, reading, stored!);
			const { body } = await bring<BroughtIn[]>(wanted(code), table);
			expect([round, body[0]]).toMatchObject([
				round,
				{ added: preview.added, corrected: preview.corrected.length, same: preview.same },
			]);
		}
	});

	test('a request that is not one gets a sentence', async () => {
		const post = (body: BodyInit, type: string) =>
			fetch(`${app.url}/api/v1/bring-in`, { method: 'POST', body, headers: { 'content-type': type } });
		expect((await post('{}', 'application/json')).status).toBe(415);
		expect((await post('no line at all', 'application/octet-stream')).status).toBe(422);
		expect((await post('not json\n1', 'application/octet-stream')).status).toBe(422);
		expect((await post(new Uint8Array(17_000_000).fill(48), 'application/octet-stream')).status).toBe(413);
		expect((await bring<Refused>(wanted('A'), new Uint8Array(17_000_000).fill(48))).status).toBe(413);
	});
});

test('hostile files get a sentence each, and the server goes on serving', async () => {
	const files: [string, Uint8Array<ArrayBuffer> | string][] = [
		['a broken workbook', new Uint8Array(Buffer.concat([Buffer.from('PK\u0003\u0004'), randomBytes(4000)]))],
		['zero bytes', 'a\u0000b\n1\n2'],
		['half a character', new Uint8Array([0x34, 0x0a, 0xed, 0xa0, 0xbd, 0x0a, 0x35])],
		['an open quotation mark', `"${'x'.repeat(3_000_000)}`],
		['JSON without an end', '['.repeat(200_000)],
	];
	for (const [name, content] of files) {
		const { status, body } = await bring<Refused>(wanted('x'), content).catch((error: Error) => ({
			status: 0,
			body: { message: error.message },
		}));
		expect([name, status]).toEqual([name, 422]);
		expect(body.message.length).toBeGreaterThan(20);
	}
	expect((await app.call('GET', '/items')).status).toBe(200);
});

test('two people bringing the same items in at once: both land as revisions, none lost, no deadlock', async () => {
	const codes = Array.from({ length: 40 }, (_, i) => `T-${String(i).padStart(2, '0')}`);
	const text = (person: number, order: string[]) =>
		`Item,Month,Qty\n${order.flatMap((code) => Array.from({ length: 12 }, (_, m) => `${code},2024-${String(m + 1).padStart(2, '0')},${person * 1000 + m}`)).join('\n')}`;
	const people = Array.from({ length: 6 }, (_, person) => {
		const order = person % 2 === 0 ? codes : codes.toReversed();
		return bring(wanted(...order), text(person, order));
	});
	const answers = await Promise.all(people);
	expect(answers.map(({ status }) => status)).toEqual([200, 200, 200, 200, 200, 200]);
	const { rows } = await database.client.query(
		`SELECT count(DISTINCT item_id) AS items, count(*) AS figures, max(revision) AS revisions FROM actual JOIN item ON item.id = item_id WHERE code LIKE 'T-%'`,
	);
	expect(rows).toEqual([{ items: '40', figures: String(40 * 12 * 6), revisions: 6 }]);
	expect(answers.flatMap(({ body }) => body).filter(({ created }) => created)).toHaveLength(40);
});

describe('a file as a stream', () => {
	const months = Array.from(
		{ length: 24 },
		(_, m) => `${2022 + Math.floor(m / 12)}-${String((m % 12) + 1).padStart(2, '0')}`,
	);
	const long = (
		items: number,
		prefix: string,
		figure = (i: number, m: number) => ((i * 31 + m * 7) % 900) + 1,
	) =>
		`item;month;pieces\n${Array.from({ length: items }, (_, i) => months.map((month, m) => `${prefix}-${i};${month};${figure(i, m)}`).join('\n')).join('\n')}\n`;

	test('rows of item, period and figure: tried first, then brought in, then compared', async () => {
		const text = long(800, 'S');
		const before = await count('item');
		const tried = await stream({ tryOnly: true }, text);
		expect(tried.lines.at(-1)).toEqual({
			done: { items: 800, created: 800, added: 19_200, corrected: 0, same: 0, rows: 19_200, stored: false },
		});
		expect(await count('item')).toBe(before);
		const { lines } = await stream({ fileName: 'all.csv' }, text);
		expect(lines.at(-1)).toMatchObject({ done: { created: 800, stored: true } });
		expect(lines.some((line) => 'stage' in line && line.stage === 'storing')).toBe(true);
		expect((await valuesOf('S-7')).values.slice(0, 2)).toEqual([218, 225]);
		const changed = await stream({}, text.replace('S-7;2022-01;218', 'S-7;2022-01;999'));
		expect(changed.lines.at(-1)).toMatchObject({
			done: { created: 0, added: 0, corrected: 1, same: 19_199 },
		});
		const { rows } = await database.client.query(
			`SELECT reading FROM data_change JOIN raw_text ON raw_text.id = raw_text_id WHERE file_name = 'all.csv'`,
		);
		expect(rows[0].reading).toMatchObject({
			program: expect.any(String),
			columns: ['item', 'period', 'figure'],
			frequency: 'month',
			fingerprint: expect.stringMatching(/^[0-9a-f]{16}$/),
		});
		const raw = await fetch(`${app.url}/api/v1/items/S-9/raw`);
		expect(await raw.text()).toBe(text);
	});

	test('items down and periods across; totals are left out; Latin-1 is read', async () => {
		const wide = `Artikel;${months.join(';')}\n${Array.from({ length: 50 }, (_, i) => `Kettenöl ${i};${months.map((_m, m) => (i + m) * 1.5).join(';')}`).join('\n')}\nSumme;${months.map(() => 1).join(';')}\n`;
		const { lines } = await stream({}, Buffer.from(wide, 'latin1').toString('latin1'));
		expect(lines.at(-1)).toMatchObject({ done: { items: 50, created: 50, added: 1200 } });
		expect(
			(await app.call<Item>('GET', `/items/${encodeURIComponent('Kettenöl 4')}`)).body.series.values[2],
		).toBe(9);
	});

	test('other layouts too: items across, years against months; a label that comes late', async () => {
		await stream({}, 'Month,ZA,ZB\n2024-01,1,2\n2024-02,3,4\n');
		expect((await valuesOf('ZB')).values).toEqual([2, 4]);
		await stream(
			{},
			`item;family;year;${['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'].join(';')}\n${[2023, 2024].map((year) => ['ZC', 'ZD', 'ZE'].map((code, i) => `${code};${year === 2023 && i === 2 ? '' : i === 1 ? 'Rims' : 'Brakes'};${year};${months.slice(0, 12).map((_, m) => 100 * i + m)}`.replaceAll(',', ';')).join('\n')).join('\n')}\n`,
		);
		const late = (await app.call<Item>('GET', '/items/ZE')).body;
		expect([late.series.values.length, late.labels, late.changes]).toEqual([24, [['family', 'Brakes']], []]);
	});

	test('figures of one period are put together as chosen', async () => {
		const twice = (prefix: string) =>
			`item;month;pieces\n${prefix};2024-01;4\n${prefix};2024-02;7\n${prefix};2024-01;6\n`;
		for (const [duplicates, first] of [
			['sum', 10],
			['mean', 5],
			['last', 6],
		] as const) {
			await stream({ choices: { duplicates } }, twice(`D-${duplicates}`));
			expect((await valuesOf(`D-${duplicates}`)).values).toEqual([first, 7]);
		}
	});

	test('lines of orders are summed, and periods without a line are nought, as in a table that is read whole', async () => {
		const days = Array.from({ length: 500 }, (_, i) =>
			new Date(Date.UTC(2023, 11, 27) + i * 86_400_000).toISOString().slice(0, 10),
		);
		const lines = (prefix: string) =>
			[
				'date;item;family;pieces;state',
				...days.flatMap((day, i) => [
					`${day};${prefix}-1;Brakes;${2 + (i % 3)};shipped`,
					`${day};${prefix}-1;Brakes;5;${i % 50 === 7 ? 'cancelled' : 'shipped'}`,
					...(i === 40 || i === 200 ? [`${day};${prefix}-2;Chains;3;shipped`] : []),
					...(i === 100 ? [`${day};${prefix}-1;Brakes;-4;shipped`] : []),
				]),
			].join('\n');
		const { lines: said } = await stream({}, lines('OS'));
		expect(said.at(-1)).toMatchObject({ done: { items: 2, created: 2 } });
		await bring(wanted('OW-1', 'OW-2'), lines('OW'));
		for (const item of [1, 2]) {
			const [streamed, whole] = [await valuesOf(`OS-${item}`), await valuesOf(`OW-${item}`)];
			expect(streamed).toEqual(whole);
		}
		expect((await valuesOf('OS-2')).values).toEqual(
			[3, 0, 0, 0, 0, 3, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0].slice(0, 15),
		);
		expect((await app.call<Item>('GET', '/items/OS-2')).body.labels).toEqual([['family', 'Chains']]);
		const counted = await stream(
			{ choices: { without: 'gap', cancelled: 'take', returns: 'leave' } },
			lines('OG'),
		);
		expect(counted.lines.at(-1)).toMatchObject({ done: { items: 2 } });
		expect((await valuesOf('OG-2')).values).toEqual([3, null, null, null, null, 3]);
	});

	test('one bad line, far into the file, and nothing is stored', async () => {
		const before = [await count('item'), await count('actual'), await count('raw_piece')];
		const bad = (line: string) => `${long(800, 'X')}${line}\n`;
		for (const [line, message] of [
			['X-1;2030-01;many', /Row 19\s202, column 3, holds “many”, which is not a figure/],
			['X-1;soon;4', /“soon” in row 19\s202 is not a known period/],
			['X-1;2030-01;4;5', /Row 19\s202 has 4 columns where others have 3/],
			[`${'y'.repeat(90)};2030-01;4`, /a code of 90 characters/],
			[`"X;2030-01;4`, /cannot be cut into columns|has 1 column/],
			['X-1;9999-01;4', /takes X-1 too far: These are .* periods/],
		] as const) {
			const { lines } = await stream({}, bad(line));
			expect(lines.at(-1)).toEqual({
				refused: expect.objectContaining({ message: expect.stringMatching(message) }),
			});
		}
		const unnamed = await stream({}, '2024-01,1\n2024-02,3\n');
		expect(unnamed.lines.at(-1)).toMatchObject({
			refused: { message: expect.stringMatching(/read row by row/) },
		});
		expect([await count('item'), await count('actual'), await count('raw_piece')]).toEqual(before);
	});

	test('stopped half way, nothing is stored and nothing is left open', async () => {
		const before = [await count('item'), await count('actual')];
		const stop = new AbortController();
		const waiting = async () => {
			const { rows } = await database.client.query(
				`SELECT count(*) FROM pg_stat_activity WHERE datname = current_database() AND wait_event_type = 'Lock'`,
			);
			return rows[0].count !== '0';
		};
		// Storing waits for this, so that it is still at work when it is stopped.
		await database.client.query('BEGIN; LOCK TABLE item IN SHARE ROW EXCLUSIVE MODE');
		const sent = send('/bring-in/stream', {}, long(20_000, 'Y'), stop.signal).catch(
			(error: Error) => error.name,
		);
		await until(waiting, 'storing to wait');
		stop.abort();
		expect(await sent).toBe('AbortError');
		// The server has noticed once it has had time for another call.
		expect((await app.call('GET', '/health')).status).toBe(200);
		await database.client.query('COMMIT');
		await until(async () => {
			const { rows } = await database.client.query(
				`SELECT count(*) FROM pg_stat_activity WHERE datname = current_database() AND state <> 'idle' AND pid <> pg_backend_pid()`,
			);
			return rows[0].count === '0';
		}, 'the transaction to end');
		expect([await count('item'), await count('actual')]).toEqual(before);
	});

	test('a line of megabytes is refused, and the server lives', async () => {
		const { lines } = await stream({}, `${long(20, 'Z')}${'9'.repeat(5_000_000)};2024-01;1\n`);
		expect(lines.at(-1)).toMatchObject({
			refused: { message: expect.stringMatching(/has no end: a quotation mark is open, or it is longer/) },
		});
		const first = await stream({}, '9'.repeat(5_000_000));
		expect(first.lines.at(-1)).toMatchObject({
			refused: { message: expect.stringMatching(/first line of this file is longer/) },
		});
		expect((await app.call('GET', '/items')).status).toBe(200);
	});
});
