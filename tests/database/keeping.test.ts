import { mkdtempSync, readFileSync, readdirSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { randomBytes } from 'node:crypto';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Writable } from 'node:stream';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { applicationUrl } from '../../scripts/lib/application-role.mjs';
import { readBackup, restoreBackup, writeBackup } from '../../scripts/lib/backup.mjs';
import { readEverything, writeEverything } from '../../scripts/lib/everything.mjs';
import { keepHouseOnce } from '../../scripts/lib/house.mjs';
import { backUpWhereDue, outlived } from '../../scripts/lib/nightly.mjs';
import { linkFor } from '../../scripts/lib/person-link.mjs';
import { migrate } from '../../scripts/migrate.mjs';
import { writeEverythingTo } from '../../db/everything.mjs';
import { FREQUENCIES } from '$core/series/frequency';
import { firstDay, parsePeriod } from '$core/series/period';
import type { HappenedWindow } from '../../src/lib/wire/access';
import { type App, everyItem, startApp, until } from '../support/app';
import { makeDatabase, onServer, type TestDatabase } from '../support/database';

/** Backups: of a database that is worked with, whole or refused, and back into a version that may be newer. */

let folder: string;
let database: TestDatabase;
let app: App;
const emptied: string[] = [];

beforeAll(async () => {
	folder = mkdtempSync(join(tmpdir(), 'ventrel-keeping-'));
	database = await makeDatabase();
	app = await startApp(database.url, { demo: true });
});
afterAll(async () => {
	await app?.stop();
	await database?.drop();
	for (const name of emptied)
		await onServer(process.env.VENTREL_TEST_SERVER!, `DROP DATABASE IF EXISTS ${name} WITH (FORCE)`);
	rmSync(folder, { recursive: true, force: true });
});

/** An empty database. @returns its address for the owner */
async function empty(): Promise<string> {
	const name = `ventrel_test_${randomBytes(6).toString('hex')}`;
	await onServer(process.env.VENTREL_TEST_SERVER!, `CREATE DATABASE ${name}`);
	emptied.push(name);
	const url = new URL(process.env.VENTREL_TEST_SERVER!);
	url.pathname = `/${name}`;
	return url.toString();
}

async function asked<T extends object>(url: string, sql: string, values: unknown[] = []): Promise<T[]> {
	const client = new pg.Client({ connectionString: url });
	await client.connect();
	try {
		return (await client.query<T>(sql, values)).rows;
	} finally {
		await client.end();
	}
}

/** Tables whose rows never change once they are there. */
const LASTING = [
	'actual',
	'data_change',
	'raw_text',
	'raw_piece',
	'adopted_forecast',
	'adopted_step',
	'layer_entry',
	'item_change',
	'hide_entry',
	'access_event',
];

describe('a backup', () => {
	test('written while figures come in and forecasts are adopted has all of one moment, and comes back the same', async () => {
		let working = true;
		let worked = 0;
		const work = (async () => {
			for (; working; worked++) {
				await app.call('POST', '/items', { code: `W-${worked}`, name: 'Bell', text: '4\n5\n6\n7\n5' });
				await app.call('POST', '/several', { items: { codes: [`W-${worked}`] }, change: { leadTime: 2 } });
			}
		})();
		const file = join(folder, 'worked.backup');
		await writeBackup(database.ownerUrl, file);
		working = false;
		await work;
		expect(worked).toBeGreaterThan(0);
		const url = await empty();
		const { items } = await restoreBackup(url, file);
		expect(items).toBeGreaterThanOrEqual(36);
		await migrate(url);
		// Every row that came back is one that was there, and nothing of before the moment is missing.
		for (const table of LASTING) {
			const digest = `SELECT md5(t::text) AS row FROM ${table} t`;
			const there = new Set((await asked<{ row: string }>(database.ownerUrl, digest)).map(({ row }) => row));
			const back = (await asked<{ row: string }>(url, digest)).map(({ row }) => row);
			expect([table, back.filter((row) => !there.has(row)).length]).toEqual([table, 0]);
		}
		const demo = `SELECT count(*)::integer AS count, md5(string_agg(md5(f::text), ',' ORDER BY f.id)) AS digest FROM adopted_forecast f`;
		expect(await asked(url, demo)).toEqual(await asked(database.ownerUrl, demo));
		const restored = await startApp(await applicationUrl(url));
		try {
			const items = await everyItem(restored);
			const before = new Map((await everyItem(app)).map((row) => [row.code, row]));
			for (const row of items) expect(row).toEqual(before.get(row.code));
			for (const { code } of items.filter((_, i) => i % 9 === 0)) {
				const grades = (of: App) => of.call('GET', `/items/${code}/grades`);
				expect(await grades(restored)).toEqual(await grades(app));
				const { body } = await restored.call<{ id: number }[]>('GET', `/items/${code}/adopted`);
				if (!body[0]) continue;
				const again = await restored.call('GET', `/items/${code}/adopted/${body[0].id}`);
				expect(again.body).toEqual({ sameData: true, sameFigures: true });
			}
			// It is worked with as any other.
			expect(
				(await restored.call('POST', '/items', { code: 'NEW', name: 'Horn', text: '1\n2\n3' })).status,
			).toBe(201);
		} finally {
			await restored.stop();
		}
	});

	test('that was cut off anywhere, or changed, is told, and nothing is restored', async () => {
		const file = join(folder, 'whole.backup');
		const { bytes } = await writeBackup(database.ownerUrl, file);
		const url = await empty();
		const cut = join(folder, 'cut.backup');
		const whole = readFileSync(file);
		for (const size of [0, 10, 200, 70_000, bytes >> 1, bytes - 66, bytes - 1]) {
			writeFileSync(cut, whole.subarray(0, size));
			await expect(restoreBackup(url, cut), `cut to ${size}`).rejects.toThrow(/is not whole|is no backup/);
		}
		for (const at of [40, 5_000, bytes >> 1]) {
			const changed = Buffer.from(whole);
			changed[at]! ^= 1;
			writeFileSync(cut, changed);
			await expect(restoreBackup(url, cut), `changed at ${at}`).rejects.toThrow(/is not whole/);
		}
		expect(await asked(url, `SELECT FROM pg_tables WHERE schemaname = 'public'`)).toEqual([]);
		expect((await readBackup(file)).described.items).toBeGreaterThanOrEqual(36);
	});

	test('goes into an empty database alone, and over no file', async () => {
		const file = join(folder, 'once.backup');
		await writeBackup(database.ownerUrl, file);
		await expect(writeBackup(database.ownerUrl, file)).rejects.toThrow(/is there already/);
		await expect(writeBackup(database.ownerUrl, join(folder, 'nowhere', 'x'))).rejects.toThrow(/no folder/);
		await expect(restoreBackup(database.ownerUrl, file)).rejects.toThrow(
			/empty database, and this one has tables/,
		);
		await expect(restoreBackup(database.ownerUrl, join(folder, 'nobody'))).rejects.toThrow(
			/There is no file/,
		);
		expect(readdirSync(folder).filter((name) => name.endsWith('.partial'))).toEqual([]);
	});

	test('of a newer version is refused with what is not known here', async () => {
		await asked(database.ownerUrl, `INSERT INTO migration (name, run_on) VALUES ('9999_to_come', now())`);
		const file = join(folder, 'newer.backup');
		await writeBackup(database.ownerUrl, file);
		await asked(database.ownerUrl, `DELETE FROM migration WHERE name = '9999_to_come'`);
		await expect(restoreBackup(await empty(), file)).rejects.toThrow(/newer version.*9999_to_come/);
	});
});

describe('backups of earlier versions', () => {
	const HOME = new URL('../made/backups/', import.meta.url);
	const kept = readdirSync(HOME);

	test('there is one of this version', () => {
		const { version } = JSON.parse(readFileSync(new URL('../../package.json', import.meta.url), 'utf8')) as {
			version: string;
		};
		expect(kept).toContain(`${version}.backup`);
	});

	test.each(kept)('%s comes up in this one, with every figure and record', async (name) => {
		const url = await empty();
		const { items } = await restoreBackup(url, new URL(name, HOME).pathname);
		await migrate(url);
		const restored = await startApp(await applicationUrl(url));
		try {
			expect((await everyItem(restored)).length).toBe(items);
			const records = await asked<{ id: number; code: string }>(
				url,
				'SELECT f.id::integer, code FROM adopted_forecast f JOIN item ON item.id = item_id',
			);
			expect(records.length).toBeGreaterThan(0);
			for (const { id, code } of records) {
				const { body } = await restored.call('GET', `/items/${code}/adopted/${id}`);
				expect([code, body]).toEqual([code, { sameData: true, sameFigures: true }]);
			}
		} finally {
			await restored.stop();
		}
	});
});

/** A stream that keeps what is written to it. */
function collected(): { out: Writable; content: Promise<Buffer> } {
	const parts: Buffer[] = [];
	const out = new Writable({
		write(part: Buffer, _, taken) {
			parts.push(part);
			taken();
		},
	});
	return { out, content: new Promise((done) => out.on('finish', () => done(Buffer.concat(parts)))) };
}

describe('everything as one archive', () => {
	test('is CSV and JSON that says what it is, and comes back the same, without passwords', async () => {
		await database.client.query('BEGIN');
		await linkFor(database.client, { what: 'add', name: 'Anna', role: 'manage' });
		await database.client.query('COMMIT');
		const file = join(folder, 'everything.zip');
		const { items } = await writeEverything(database.ownerUrl, file);
		const entries = unzipSync(readFileSync(file));
		const figures = strFromU8(entries['figures.csv']!).split('\n');
		expect(figures[0]).toBe('code,name,unit,frequency,period,begins,value');
		const [count] = await asked<{ count: number }>(
			database.ownerUrl,
			'SELECT count(DISTINCT (item_id, period))::integer AS count FROM actual',
		);
		expect(figures.length).toBe(count!.count + 2);
		expect(strFromU8(entries['README.md']!)).toContain('forecasts.csv');
		const all = Object.values(entries)
			.map((entry) => strFromU8(entry))
			.join('');
		expect(all).not.toMatch(/argon2id|application_login/);
		const url = await empty();
		expect(await readEverything(url, file, (to) => migrate(url, to))).toMatchObject({ items });
		for (const table of LASTING.filter((each) => each !== 'access_event')) {
			const digest = `SELECT count(*)::integer AS count, md5(string_agg(md5(t::text), ',' ORDER BY md5(t::text))) AS digest FROM ${table} t`;
			expect([table, await asked(url, digest)]).toEqual([table, await asked(database.ownerUrl, digest)]);
		}
		await expect(readEverything(url, file, (to) => migrate(url, to))).rejects.toThrow(/is in use/);
		const restored = await startApp(await applicationUrl(url));
		try {
			await until(
				async () => (await restored.call<{ working: number }>('GET', '/overview')).body.working === 0,
				'the status of all',
			);
			const before = new Map((await everyItem(app)).map((row) => [row.code, row]));
			for (const row of await everyItem(restored)) expect(row).toEqual(before.get(row.code));
			expect(
				(await restored.call('POST', '/items', { code: 'NEW', name: 'Horn', text: '1\n2\n3' })).status,
			).toBe(201);
		} finally {
			await restored.stop();
		}
	});

	test('says on which day each period begins, at every frequency', async () => {
		const written: Record<string, string[]> = {
			year: ['1969', '2026'],
			'half-year': ['2026-H1', '2026-H2'],
			quarter: ['0000-Q1', '2026-Q4'],
			month: ['1969-12', '2026-11'],
			week: ['1969-W52', '1970-W01', '2026-W48'],
			weekday: ['1969-12-26', '1970-01-01', '2026-11-30'],
			day: ['1969-12-31', '2026-11-30'],
			hour: ['1969-12-31T23', '2026-11-30T05'],
		};
		const client = new pg.Client({ connectionString: database.ownerUrl });
		await client.connect();
		try {
			await client.query('BEGIN');
			for (const frequency of FREQUENCIES)
				await client.query(
					`INSERT INTO item (workspace_id, code, name, frequency, season_length, created_by) SELECT 1, $1, $1, $2, 1, min(id) FROM actor`,
					[`of ${frequency}`, frequency],
				);
			await client.query('ALTER TABLE actual DISABLE TRIGGER USER');
			for (const frequency of FREQUENCIES)
				for (const period of written[frequency] ?? [7])
					await client.query(
						`INSERT INTO actual (workspace_id, item_id, period, revision, value, data_change_id)
						SELECT 1, id, $2, 1, 5, (SELECT min(id) FROM data_change) FROM item WHERE code = $1`,
						[`of ${frequency}`, parsePeriod(frequency, period)],
					);
			const { out, content } = collected();
			await writeEverythingTo(client, '0.0.0', out);
			const rows = strFromU8(unzipSync(await content)['figures.csv']!).split('\n');
			const begins = (frequency: string) =>
				rows.filter((row) => row.startsWith(`of ${frequency},`)).map((row) => row.split(',')[5]);
			for (const frequency of FREQUENCIES.filter((each) => each !== 'step'))
				expect([frequency, begins(frequency)]).toEqual([
					frequency,
					written[frequency]!.map((period) => {
						const ordinal = parsePeriod(frequency, period);
						const day = new Date(86_400_000 * firstDay(frequency, ordinal)!).toISOString().slice(0, 10);
						return frequency === 'hour' ? `${day} ${period.slice(-2)}:00` : day;
					}),
				]);
			expect(begins('step')).toEqual(['']);
		} finally {
			await client.query('ROLLBACK');
			await client.end();
		}
	});

	test('is downloaded as well, one at a time, which is on record; whoever hangs up stops it', async () => {
		const get = async () => {
			const answer = await fetch(`${app.url}/api/v1/everything`);
			expect(answer.ok ? '' : await answer.text()).toBe('');
			expect(answer.headers.get('content-disposition')).toMatch(/ventrel-everything-\d{4}-\d\d-\d\d\.zip/);
			return unzipSync(new Uint8Array(await answer.arrayBuffer()));
		};
		expect((await fetch(`${app.url}/api/v1/everything`, { method: 'HEAD' })).status).toBe(200);
		const taken = await Promise.all([get(), get()]);
		const file = join(folder, 'beside.zip');
		await writeEverything(database.ownerUrl, file);
		const own = unzipSync(readFileSync(file));
		for (const entries of taken) {
			expect(Object.keys(entries)).toEqual(Object.keys(own));
			for (const name of ['figures.csv', 'forecasts.csv', 'tables/actual.csv', 'tables/adopted_step.csv'])
				expect([name, strFromU8(entries[name]!) === strFromU8(own[name]!)]).toEqual([name, true]);
		}
		const { body } = await app.call<HappenedWindow>('GET', '/happened?about=access');
		expect(body.events.filter(({ kind }) => kind === 'everything taken').length).toBe(2);
		const stop = new AbortController();
		const cut = await fetch(`${app.url}/api/v1/everything`, { signal: stop.signal });
		await cut.body!.getReader().read();
		stop.abort();
		await until(
			async () =>
				(
					await asked(
						database.ownerUrl,
						`SELECT FROM pg_stat_activity WHERE datname = current_database() AND query ~ '^COPY .* TO STDOUT' AND state = 'active'`,
					)
				).length === 0,
			'the reading to end',
		);
		await get();
	});

	test('that is cut off, changed, or something else, is refused before anything is done', async () => {
		const whole = readFileSync(join(folder, 'everything.zip'));
		const cut = join(folder, 'cut.zip');
		const url = await empty();
		const changed = Buffer.from(whole);
		changed[whole.length >> 1]! ^= 1;
		const described = (tables: object) => ({
			'description.json': strToU8(
				JSON.stringify({ version: '1', at: 'now', items: 1, migrations: [], tables }),
			),
		});
		for (const content of [
			whole.subarray(0, whole.length >> 1),
			changed,
			Buffer.from('no archive'),
			zipSync({ 'a.txt': new Uint8Array(3) }),
			zipSync(described({ actual: ['item_id'] })),
			// Names go into statements.
			zipSync({ ...described({ actual: ['id) FROM PROGRAM (id'] }), 'tables/actual.csv': strToU8('id\n1') }),
		]) {
			writeFileSync(cut, content);
			await expect(readEverything(url, cut, (to) => migrate(url, to))).rejects.toThrow(
				/is not whole|is no archive/,
			);
		}
		expect(await asked(url, `SELECT FROM pg_tables WHERE schemaname = 'public'`)).toEqual([]);
	});
});

describe('a copy a night', () => {
	const at = (day: string) => `ventrel-${day.replaceAll('-', '')}T0200.backup`;
	const now = Date.parse('2026-11-30T03:00Z');

	test('is kept for seven days, of four weeks the newest each, and nothing else is touched', () => {
		const days = Array.from({ length: 60 }, (_, i) =>
			new Date(now - 86_400_000 * i).toISOString().slice(0, 10),
		);
		const names = [...days.map(at), 'notes.txt', 'ventrel-20260101T0200.backup.partial'];
		const gone = new Set(outlived(names, now));
		const left = days.filter((day) => !gone.has(at(day)));
		expect(left).toEqual([
			...['2026-11-30', '2026-11-29', '2026-11-28', '2026-11-27', '2026-11-26', '2026-11-25', '2026-11-24'],
			...['2026-11-22', '2026-11-15'],
		]);
		expect(gone.has('notes.txt')).toBe(false);
		// After a long pause the newest one stays all the same.
		expect(outlived([at('2025-01-01'), at('2025-01-02')], now)).toEqual([at('2025-01-01')]);
	});

	test('is written where it is due, leaves nothing half, and says when it failed', async () => {
		const nightly = join(folder, 'nightly');
		expect(await backUpWhereDue(database.ownerUrl, nightly, now)).toBeNull();
		const [name] = readdirSync(nightly);
		writeFileSync(join(nightly, 'ventrel-20261130T0400.backup.partial'), 'half');
		expect(await backUpWhereDue(database.ownerUrl, nightly, now + 3_600_000)).toBeNull();
		expect(readdirSync(nightly)).toEqual([name]);
		await readBackup(join(nightly, name!));
		const upkeep = () =>
			asked<{ ok: boolean; words: string }>(
				database.ownerUrl,
				`SELECT ok, words FROM upkeep WHERE name = 'backup'`,
			);
		expect(await upkeep()).toEqual([{ ok: true, words: expect.stringContaining(name!) as string }]);
		// A folder that cannot be one.
		writeFileSync(join(folder, 'file'), '');
		expect(await backUpWhereDue(database.ownerUrl, join(folder, 'file'), now)).toMatch(/EEXIST|ENOTDIR/);
		expect((await upkeep())[0]!.ok).toBe(false);
		truncateSync(join(nightly, name!), 100_000);
		await expect(readBackup(join(nightly, name!))).rejects.toThrow(/not whole/);
	});
});

test('what is over goes, and what was decided stays', async () => {
	const one = async (sql: string) => (await asked<{ id: number }>(database.ownerUrl, sql))[0]!.id;
	const by = await one(`SELECT min(id)::integer AS id FROM actor`);
	const sweepOf = (ended: string) =>
		one(
			`INSERT INTO sweep (workspace_id, kind, items, created_by, created_at, ended_at)
			VALUES (1, 'propose', 1, ${by}, now() - interval '1 year', ${ended}) RETURNING id::integer`,
		);
	const [old, young, open] = [
		await sweepOf(`now() - interval '91 days'`),
		await sweepOf(`now() - interval '89 days'`),
		await sweepOf('NULL'),
	];
	for (const id of [old, young, open])
		await asked(
			database.ownerUrl,
			`INSERT INTO sweep_row (workspace_id, sweep_id, item_id, code, label) SELECT 1, $1, id, code, 'x' FROM item ORDER BY id LIMIT 3`,
			[id],
		);
	expect((await keepHouseOnce(database.ownerUrl))['rows of sweeps']).toBe(3);
	const rows = await asked<{ id: number; cleared: boolean; rows: number }>(
		database.ownerUrl,
		`SELECT id::integer, cleared_at IS NOT NULL AS cleared, (SELECT count(*)::integer FROM sweep_row r WHERE r.sweep_id = sweep.id) AS rows
		FROM sweep WHERE id = ANY ($1) ORDER BY id`,
		[[old, young, open]],
	);
	expect(rows).toEqual([
		{ id: old, cleared: true, rows: 0 },
		{ id: young, cleared: false, rows: 3 },
		{ id: open, cleared: false, rows: 3 },
	]);
	expect((await keepHouseOnce(database.ownerUrl))['rows of sweeps']).toBe(0);
});
