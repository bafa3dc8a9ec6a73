import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Groups } from '../../src/lib/wire/groups';
import type { ItemWindow, Overview, Places } from '../../src/lib/wire/list';
import type { Place } from '../../src/lib/wire/parts';
import { seededUniform } from '../../src/core/numbers/random';
import { type App, startApp } from '../support/app';
import { asTester, makeDatabase, type TestDatabase } from '../support/database';
import { runs } from '../support/runs';

let database: TestDatabase;
let app: App;
/** What each made-up item is sorted by; ties and missing figures on purpose. */
interface Made {
	code: string;
	mape: number | null;
	first: number | null;
	stake: number;
	family: string | null;
	method: string | null;
	frequency: string;
	retired: boolean;
}
const COUNT = 730;
const MADE: Made[] = Array.from({ length: COUNT }, (_, i) => ({
	code: `L-${String((i * 7919) % 10_000).padStart(4, '0')}`,
	mape: i % 9 === 0 ? null : ((i * 37) % 50) / 2,
	first: i % 3 === 0 ? i % 5 : null,
	stake: (i * 13) % 97,
	family: i % 4 === 0 ? null : ['Brakes', 'Lights & more=%', 'Tyres'][i % 3]!,
	method: i % 5 === 0 ? null : ['ses', 'holt'][i % 2]!,
	frequency: i % 10 === 0 ? 'week' : 'month',
	retired: i % 50 === 7,
}));

beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url);
	await asTester(database.client, 1);
	await database.client.query(
		`INSERT INTO item (workspace_id, code, name, frequency, season_length, labels, retired_at)
		SELECT (SELECT id FROM workspace), code, 'Item ' || code, frequency, 12,
			CASE WHEN family IS NULL THEN '{}' ELSE jsonb_build_object('Family', family) END, CASE WHEN retired THEN now() END
		FROM jsonb_to_recordset($1) AS made (code text, family text, frequency text, retired boolean)`,
		[JSON.stringify(MADE)],
	);
	// Made-up status, so that every order has ties and gaps; nothing touches these items afterwards.
	await database.client.query('DELETE FROM status_queue');
	await database.client.query(
		`UPDATE item_status SET reasons = '[]', mape = made.mape, first = made.first, stake = made.stake, method = made.method,
			why = CASE WHEN made.first IS NULL THEN '{}'::text[] ELSE ARRAY['drifts'] END
		FROM jsonb_to_recordset($1) AS made (code text, mape float8, first smallint, stake float8, method text)
		WHERE item_status.code = made.code`,
		[JSON.stringify(MADE)],
	);
});
afterAll(async () => {
	await app.stop();
	await database.drop();
});

const ask = async <T>(path: string) => {
	const { status, body } = await app.call<T>('GET', path);
	expect([path, status]).toEqual([path, 200]);
	return body;
};

/** All codes, window by window. */
async function codesOf(query: string, most = 100): Promise<string[]> {
	const codes: string[] = [];
	let from: Place | null = null;
	do {
		const begin: string = from === null ? '' : `&from=${encodeURIComponent(JSON.stringify(from))}`;
		const { items, next }: ItemWindow = await ask<ItemWindow>(`/items?${query}&most=${most}${begin}`);
		codes.push(...items.map(({ code }) => code));
		from = next;
	} while (from !== null);
	return codes;
}

const listed = MADE.filter(({ retired }) => !retired);
const byCode = (a: Made, b: Made) => (a.code < b.code ? -1 : 1);
/** By a figure, those without one last, ties by code in the same direction. */
const byMape = (way: 1 | -1) => (a: Made, b: Made) =>
	a.mape === null || b.mape === null
		? Number(a.mape === null) - Number(b.mape === null) || way * byCode(a, b)
		: way * (a.mape - b.mape) || way * byCode(a, b);
const byAttention = (a: Made, b: Made) => {
	const place = ({ first }: Made) => first ?? 8;
	const stake = ({ first, stake: own }: Made) => (first === null ? 0 : own);
	return place(a) - place(b) || stake(b) - stake(a) || byCode(a, b);
};
const sorted = (of: readonly Made[], order: (a: Made, b: Made) => number) =>
	of.toSorted(order).map(({ code }) => code);

describe('windows one after the other are the whole list, each item once, in the order that was asked for', () => {
	test.each<[string, (a: Made, b: Made) => number]>([
		['', byAttention],
		['down=1', (a, b) => byAttention(b, a)],
		['sort=code', byCode],
		['sort=code&down=1', (a, b) => byCode(b, a)],
		['sort=mape', byMape(1)],
		['sort=mape&down=1', byMape(-1)],
	])('%s', async (query, order) => {
		const wanted = sorted(listed, order);
		expect(await codesOf(query)).toEqual(wanted);
		expect(await codesOf(query, 37)).toEqual(wanted);
		// A window from any of the places that are given begins where it says.
		const { count, window, begins } = await ask<Places>(`/places?${query}`);
		expect([count, window, begins.length]).toEqual([listed.length, 100, Math.ceil(listed.length / 100)]);
		for (const [i, begin] of begins.entries()) {
			const { items } = await ask<ItemWindow>(
				`/items?${query}&most=3&from=${encodeURIComponent(JSON.stringify(begin))}`,
			);
			expect(items.map(({ code }) => code)).toEqual(wanted.slice(100 * i, 100 * i + 3));
		}
	});
});

describe('filters, each by itself and together', () => {
	test.each<[string, (made: Made) => boolean]>([
		['why=look', ({ first }) => first !== null],
		['why=well', ({ first }) => first === null],
		['why=drifts', ({ first }) => first !== null],
		['why=outside', () => false],
		['find=l-1', ({ code }) => code.startsWith('L-1')],
		['find=item+brakes', ({ family }) => family === 'Brakes'],
		['label=Family%3DBrakes', ({ family }) => family === 'Brakes'],
		[
			`label=${encodeURIComponent(`Family=${encodeURIComponent('Lights & more=%')}`)}`,
			({ family }) => family === 'Lights & more=%',
		],
		['label=Family%3D', ({ family }) => family === null],
		['method=holt', ({ method }) => method === 'holt'],
		['method=none', ({ method }) => method === null],
		['frequency=week', ({ frequency }) => frequency === 'week'],
		['mape=10..12', ({ mape }) => mape !== null && mape >= 10 && mape <= 12],
		['mape=..3.5', ({ mape }) => mape !== null && mape <= 3.5],
		['mape=20..', ({ mape }) => mape !== null && mape >= 20],
		[
			'why=look&label=Family%3DTyres&method=ses&mape=1..20',
			({ first, family, method, mape }) =>
				first !== null && family === 'Tyres' && method === 'ses' && mape !== null && mape >= 1 && mape <= 20,
		],
	])('%s', async (query, fits) => {
		const wanted = sorted(listed.filter(fits), byCode);
		expect((await codesOf(query)).sort()).toEqual(wanted);
		expect((await ask<Places>(`/places?${query}`)).count).toBe(wanted.length);
	});

	test('retired ones are found where they are asked for', async () => {
		expect((await codesOf('why=retired')).sort()).toEqual(
			sorted(
				MADE.filter(({ retired }) => retired),
				byCode,
			),
		);
	});
});

test('reads take turns: one caller’s hundreds do not keep another one waiting', async () => {
	const done: string[] = [];
	const read = (who: string, headers: Record<string, string>) =>
		fetch(`${app.url}/api/v1/items?most=1000`, { headers }).then(async (answer) => {
			await answer.text();
			done.push(who);
		});
	const many = Array.from({ length: 300 }, () => read('many', {}));
	// The first of them is through, hundreds wait.
	await Promise.race(many);
	const before = done.length;
	const one = read('one', { 'sec-fetch-site': 'same-origin' });
	await Promise.all([...many, one]);
	expect(done.indexOf('one') - before).toBeLessThan(100);
});

describe('filters', () => {
	/** What is asked for of the made-up items, in the words of an address, and who fits by a plain filter. */
	function drawFilter(seed: number): { params: URLSearchParams; fits: (made: Made) => boolean } {
		const uniform = seededUniform(seed);
		const maybe = () => uniform() < 0.4;
		const pick = <T>(of: readonly T[]): T => of[Math.floor(uniform() * of.length)]!;
		const params = new URLSearchParams();
		const tests: ((made: Made) => boolean)[] = [];
		const why = maybe() ? pick(['all', 'look', 'well', 'retired', 'drifts', 'hidden']) : 'all';
		if (why !== 'all') params.set('why', why);
		tests.push(({ retired, first }) => {
			if (why === 'retired') return retired;
			if (why === 'look' || why === 'drifts') return !retired && first !== null;
			if (why === 'well') return !retired && first === null;
			return !retired && why === 'all';
		});
		if (maybe()) {
			const digits = String(Math.floor(uniform() * 100));
			params.set('find', digits);
			tests.push(({ code, family }) => `${code} item ${code} ${family ?? ''}`.toLowerCase().includes(digits));
		}
		if (maybe()) {
			const family = pick(['Brakes', 'Lights & more=%', 'Tyres', 'nothing of that', '']);
			params.append('label', `Family=${encodeURIComponent(family)}`);
			tests.push((made) => (made.family ?? '') === family);
		}
		if (maybe()) {
			const method = pick(['ses', 'holt', 'none']);
			params.set('method', method);
			tests.push((made) => (made.method ?? 'none') === method);
		}
		if (maybe()) {
			const frequency = pick(['week', 'month', 'day']);
			params.set('frequency', frequency);
			tests.push((made) => made.frequency === frequency);
		}
		if (maybe()) {
			const low = Math.floor(uniform() * 25);
			const [from, to] = [maybe() ? null : low, maybe() ? null : low + uniform() * 10];
			params.set('mape', `${from ?? ''}..${to ?? ''}`);
			if (from !== null || to !== null)
				tests.push(({ mape }) => mape !== null && mape >= (from ?? -1) && mape <= (to ?? 1e9));
		}
		return { params, fits: (made) => tests.every((each) => each(made)) };
	}

	test('drawn at random they fit whom a plain filter over all items fits, on every door', async () => {
		for (let seed = 1; seed <= runs(160); seed++) {
			const { params, fits } = drawFilter(seed);
			const wanted = MADE.filter(fits).map(({ code }) => code);
			const { items } = await ask<ItemWindow>(`/items?most=1000&${params}`);
			expect([String(params), items.map(({ code }) => code).sort()]).toEqual([String(params), wanted.sort()]);
			expect((await ask<Places>(`/places?${params}`)).count).toBe(wanted.length);
			const { all } = await ask<Groups>(`/groups?by=Family&${params}`);
			expect([String(params), all.items]).toEqual([String(params), wanted.length]);
		}
	});

	test.each([
		'label=constructor=acme',
		'label=__proto__=acme',
		'label=prototype=',
		'label=Family',
		'label=Family=a=b',
		'label=Family=%25zz',
		'label=Family=Brakes&label=Family=Tyres',
		'retired=true',
		'lable=Family=Brakes',
		'why=everything',
		'why=look&why=hidden',
		'mape=0x10..',
		'mape=1..2..3',
		'mape=5',
		'mape=a..',
		'frequency=fortnight',
		'method=guess',
		'down=yes',
		'sort=luck',
	])('%s cannot be read, and is refused on every door', async (query) => {
		for (const path of ['/items', '/places', '/forecasts', '/groups?by=Family']) {
			const { status, body } = await app.call<{ issues: unknown[] }>(
				'GET',
				`${path}${path.includes('?') ? '&' : '?'}${query}`,
			);
			expect([path, status, body.issues.length > 0]).toEqual([path, 422, true]);
		}
		for (const page of ['/items', '/hand-over', '/groups'])
			expect([page, (await fetch(`${app.url}${page}?${query}`)).status]).toEqual([page, 422]);
	});

	test.each([
		'{"labels": [["constructor", "nothing"]]}',
		'{"labels": [["__proto__", "nothing"]]}',
		'{"labels": {"constructor": "nothing"}}',
		'{"labels": {"__proto__": "nothing"}}',
		'{"retired": true}',
		'{"__proto__": {"which": "look"}}',
		'{"words": null}',
		'null',
		'[]',
	])('asked for as %s nothing is done to any item', async (asked) => {
		const send = (path: string, method: string, body: string) =>
			fetch(`${app.url}/api/v1${path}`, { method, body, headers: { 'content-type': 'application/json' } });
		const before = await database.client.query('SELECT count(*) FROM hide_entry');
		const several = `{"items": {"asked": ${asked}}, "change": {"hidden": true}}`;
		const sweep = `{"kind": "propose", "items": {"asked": ${asked}}}`;
		const view = `{"name": "x", "asked": ${asked === 'null' ? '[]' : asked}}`;
		expect((await send('/several', 'POST', several)).status).toBe(422);
		expect((await send('/sweeps', 'POST', sweep)).status).toBe(422);
		expect((await send('/views', 'PUT', view)).status).toBe(422);
		expect((await database.client.query('SELECT count(*) FROM hide_entry')).rows).toEqual(before.rows);
	});
});

test.each([
	['/items?why=tired', 'why is one of'],
	['/items?method=magic', 'There is no method “magic”'],
	['/items?mape=20..10', 'a range begins below its end'],
	['/items?mape=much', 'a range is written LOW..HIGH'],
	['/items?mape=1..x', 'a range is written LOW..HIGH'],
	['/items?sort=mape&from=%5B1%5D', 'A place in this order has 2 parts, not 1'],
	['/items?from=no', 'a place is a list'],
	['/items?most=100000', 'most is at most 1\u202f000'],
	['/places?frequency=decade', 'a frequency is one of'],
])('%s is refused in words', async (path, words) => {
	const { status, body } = await app.call('GET', path);
	expect([status, body.message.toLowerCase()]).toEqual([422, expect.stringContaining(words.toLowerCase())]);
	// Where: by the name that the address has.
	const [place] = (body.issues ?? []).map((issue) => issue.path.split('.')[0]!);
	if (place !== undefined) expect([...new URL(path, app.url).searchParams.keys()]).toContain(place);
});

test('what is said over all of them', async () => {
	const { items, look, retired, reasons, labels, methods, frequencies } = await ask<Overview>('/overview');
	const count = (fits: (made: Made) => boolean) => listed.filter(fits).length;
	expect({ items, look, retired, reasons }).toEqual({
		items: listed.length,
		look: count(({ first }) => first !== null),
		retired: MADE.length - listed.length,
		reasons: { drifts: count(({ first }) => first !== null) },
	});
	expect(labels).toEqual([
		...['Brakes', 'Lights & more=%', 'Tyres'].map((label) => ({
			of: 'Family',
			label,
			items: count(({ family }) => family === label),
		})),
		{ of: 'Family', label: '', items: count(({ family }) => family === null) },
	]);
	expect(Object.fromEntries(methods.map(({ id, items: own }) => [id, own]))).toEqual({
		none: count(({ method }) => method === null),
		ses: count(({ method }) => method === 'ses'),
		holt: count(({ method }) => method === 'holt'),
	});
	expect(frequencies).toEqual([
		{ frequency: 'month', items: count(({ frequency }) => frequency === 'month') },
		{ frequency: 'week', items: count(({ frequency }) => frequency === 'week') },
	]);
});

test('ways to look at it are kept by name, put in another’s place, and taken away', async () => {
	const keep = (name: string, asked: object | null) =>
		app.call<Overview['views']>('PUT', '/views', { name, asked });
	expect(
		(await keep('Dear brakes', { which: 'look', labels: [['Family', 'Brakes']], sort: 'mape', down: true }))
			.status,
	).toBe(200);
	const [view] = (await ask<Overview>('/overview')).views;
	expect(view).toMatchObject({
		name: 'Dear brakes',
		asked: { which: 'look', sort: 'mape', down: true, words: '' },
	});
	await keep('Dear brakes', { which: 'look' });
	expect((await ask<Overview>('/overview')).views).toMatchObject([
		{ name: 'Dear brakes', asked: { sort: 'attention' } },
	]);
	expect((await keep('Dear brakes', { method: 'magic' })).status).toBe(422);
	expect((await keep('Dear brakes', null)).body).toEqual([]);
});

test('a window goes on where it ended, whatever leaves the list meanwhile', async () => {
	const { items, next } = await ask<ItemWindow>('/items?sort=code&most=10');
	await database.client.query(`UPDATE item_status SET retired = true WHERE code = ANY ($1)`, [
		items.slice(0, 5).map(({ code }) => code),
	]);
	const { items: after } = await ask<ItemWindow>(
		`/items?sort=code&most=10&from=${encodeURIComponent(JSON.stringify(next))}`,
	);
	expect(after.map(({ code }) => code)).toEqual(sorted(listed, byCode).slice(10, 20));
});

test('groups by one label and by two: how many, and what they come to where that can be summed', async () => {
	await database.client.query(
		`UPDATE item_status SET next = stake, abs_error = 2, abs_actual = 10 WHERE NOT retired`,
	);
	const there = MADE.filter((_, i) => i % 50 !== 7);
	const { rows } = await database.client.query<{ code: string }>(
		'SELECT code FROM item_status WHERE NOT retired',
	);
	const left = new Set(rows.map(({ code }) => code));
	const own = there.filter(({ code }) => left.has(code));
	const { groups, all } = await ask<Groups>('/groups?by=Family&frequency=month');
	const months = own.filter(({ frequency }) => frequency === 'month');
	expect(groups.map(({ labels, items, look, wape }) => [labels, items, look, wape])).toEqual(
		['', 'Brakes', 'Lights & more=%', 'Tyres'].map((label) => {
			const group = months.filter(({ family }) => (family ?? '') === label);
			return [[label], group.length, group.filter(({ first }) => first !== null).length, 20];
		}),
	);
	const sum = (of: readonly Made[]) => of.reduce((total, { stake }) => total + stake, 0);
	expect(groups[1]!.next).toBe(sum(months.filter(({ family }) => family === 'Brakes')));
	expect(all).toMatchObject({ items: months.length, next: sum(months), unit: '' });
	// Weeks and months have no next period in common; what is counted is counted all the same.
	const both = await ask<Groups>('/groups?by=Family');
	expect([both.all.items, both.all.next]).toEqual([own.length, null]);
	// Units that differ are not summed.
	await database.client.query(`UPDATE item_status SET unit = 'boxes' WHERE code = $1`, [months[0]!.code]);
	const mixed = (await ask<Groups>('/groups?by=Family&frequency=month')).all;
	expect([mixed.next, mixed.wape, mixed.unit]).toEqual([null, null, null]);
	const two = await ask<Groups>('/groups?by=Family&by=Site');
	expect(two.groups[0]!.labels).toHaveLength(2);
	expect((await app.call('GET', '/groups')).status).toBe(422);
	expect((await app.call('GET', '/groups?by=a&by=b&by=c')).status).toBe(422);
});
