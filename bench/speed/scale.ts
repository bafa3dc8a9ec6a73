/**
 * Past one machine: a backup and a restore of 20,000 items with two years of records; what an item and a month of it take on the disk and
 * of a core; and what the list, the overview, groups, finding and the rows of a sweep take with as many items as are asked for, whose
 * status is made up. npm run bench -- scale [items]
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { restoreBackup, writeBackup } from '../../scripts/lib/backup.mjs';
import { readEverything, writeEverything } from '../../scripts/lib/everything.mjs';
import { migrate } from '../../scripts/migrate.mjs';
import type { Sweep } from '../../src/lib/wire/sweeps';
import { type App, demoIsThere, startApp, startWorker, until } from '../../tests/support/app';
import { median, withDatabase } from './serving-support';

const ITEMS = Number(process.argv[3] ?? 1_000_000);
const ROUNDS = 7;
/** Items of the sweep whose service times are measured. */
const SWEPT = 600;
const LONG = 900_000;

const timed = async <T>(work: () => Promise<T>): Promise<[seconds: number, value: T]> => {
	const began = performance.now();
	const value = await work();
	return [(performance.now() - began) / 1000, value];
};

/** What is asked for, by what it is called. */
const QUESTIONS: readonly [string, string][] = [
	['a window, by attention', '/items'],
	['a window, by MAPE downwards', '/items?sort=mape&down=1'],
	['a window of those to check', '/items?why=look'],
	['a window of a label', '/items?label=Family%3DBrakes'],
	['a window of two words', '/items?find=cable%20yard'],
	['where windows begin', '/places'],
	['where windows of a label begin', '/places?label=Family%3DBrakes'],
	['the overview', '/overview'],
	['how the newest periods stand', '/newest'],
	['groups by one label', '/groups?by=Family'],
	['groups by two labels', '/groups?by=Family&by=Bay'],
	['finding by a code', '/find?words=10000'],
	['finding by a word', '/find?words=cable'],
	['200 forecasts to hand over', '/forecasts'],
];

async function measure(app: App, count: number, sweep: number | null): Promise<void> {
	const asked =
		sweep === null
			? QUESTIONS
			: [
					...QUESTIONS,
					['rows of a sweep', `/sweeps/${sweep}/rows`] as const,
					['a sweep with its sums', `/sweeps/${sweep}`] as const,
				];
	for (const [name, path] of asked) {
		const times: number[] = [];
		let bytes = 0;
		let status = 0;
		for (let round = 0; round <= ROUNDS; round++) {
			const [seconds] = await timed(async () => {
				const answer = await fetch(`${app.url}/api/v1${path}`);
				status = answer.status;
				bytes = (await answer.arrayBuffer()).byteLength;
			});
			if (round > 0) times.push(1000 * seconds);
		}
		console.log(
			`  ${count} items, ${name.padEnd(32)} ${median(times).toFixed(0).padStart(6)} ms, ${Math.max(...times)
				.toFixed(0)
				.padStart(6)} at most, ${(bytes / 1000).toFixed(0)} kB${status === 200 ? '' : `, STATUS ${status}`}`,
		);
	}
}

/** As if every forecast had been updated each month of the two years: eight times the records, at other times. */
async function recordEachMonth(url: string): Promise<void> {
	const client = new pg.Client({ connectionString: url });
	await client.connect();
	await client.query('BEGIN');
	for (const [table, id] of [
		['adopted_forecast', 'id'],
		['adopted_step', 'adopted_forecast_id'],
	]) {
		await client.query(`ALTER TABLE ${table} DISABLE TRIGGER USER`);
		const { rows } = await client.query<{ names: string }>(
			`SELECT string_agg(column_name, ', ') AS names FROM information_schema.columns WHERE table_name = $1 AND column_name <> $2`,
			[table, id],
		);
		const names = rows[0]!.names;
		await client.query(
			`INSERT INTO ${table} (${id}, ${names}) OVERRIDING SYSTEM VALUE
			SELECT ${id} + copy * 10000000, ${names.replace('adopted_at', "adopted_at + copy * interval '1 minute'")}
			FROM ${table} CROSS JOIN generate_series(1, 7) copy`,
		);
		await client.query(`ALTER TABLE ${table} ENABLE TRIGGER USER`);
	}
	await client.query('COMMIT');
	await client.query('VACUUM (ANALYZE)');
	await client.end();
}

await withDatabase(async (url, _, ownerUrl) => {
	const folder = mkdtempSync(join(tmpdir(), 'ventrel-scale-'));
	const app = await startApp(url, { env: { VENTREL_DEMO: 'large' } });
	const client = new pg.Client({ connectionString: ownerUrl });
	await client.connect();
	try {
		const [made] = await timed(() => demoIsThere(app));
		await client.query('VACUUM (ANALYZE)');
		const { rows: sizes } = await client.query<{ what: string; bytes: string; rows: string }>(
			`SELECT relname AS what, pg_total_relation_size(oid) AS bytes, reltuples::bigint AS rows FROM pg_class
			WHERE relkind = 'r' AND relnamespace = 'public'::regnamespace AND pg_total_relation_size(oid) > 1e6 ORDER BY 2 DESC`,
		);
		console.log(
			`20,000 items, 60 months and 3 records each, of 12 periods: there after ${made.toFixed(0)} s`,
		);
		for (const { what, bytes, rows } of sizes)
			console.log(
				`  ${what}: ${(Number(bytes) / 1e6).toFixed(0)} MB, ${rows} rows, ${(Number(bytes) / 20_000 / 1000).toFixed(1)} kB an item`,
			);

		/** There and back, by both ways. @returns the database that was restored */
		const keep = async (from: string, name: string, said: string): Promise<string> => {
			await client.query(`CREATE DATABASE ${name}`);
			await client.query(`CREATE DATABASE ${name}_archive`);
			const [target, other] = [new URL(ownerUrl), new URL(ownerUrl)];
			target.pathname = `/${name}`;
			other.pathname = `/${name}_archive`;
			const [file, archive] = [join(folder, `${name}.backup`), join(folder, `${name}.zip`)];
			const [wrote, { bytes }] = await timed(() => writeBackup(from, file));
			const [restored] = await timed(() => restoreBackup(target.toString(), file));
			console.log(
				`${said}: backup ${wrote.toFixed(0)} s, ${(bytes / 1e6).toFixed(0)} MB; restore ${restored.toFixed(0)} s`,
			);
			const [took, taken] = await timed(() => writeEverything(from, archive));
			const [back] = await timed(() =>
				readEverything(other.toString(), archive, (count) => migrate(other.toString(), count)),
			);
			console.log(
				`${said}: archive of everything ${took.toFixed(0)} s, ${(taken.bytes / 1e6).toFixed(0)} MB; back ${back.toFixed(0)} s`,
			);
			await client.query(`DROP DATABASE ${name}_archive`);
			return target.toString();
		};
		const first = await keep(ownerUrl, 'restored', '3 records each');
		await recordEachMonth(first);
		await keep(first, 'monthly', '24 records each, one a month');
		await client.query('DROP DATABASE monthly');
		await client.query('DROP DATABASE restored');

		const worker = await startWorker(url);
		const begin = async (items: object, kind: string) =>
			(await app.call<Sweep>('POST', '/sweeps', { kind, items })).body.id;
		const ended = async (id: number) =>
			(await app.call<{ sweep: Sweep }>('GET', `/sweeps/${id}`)).body.sweep.endedAt !== null;
		const { rows: codes } = await client.query<{ code: string }>(
			`SELECT code FROM item WHERE retired_at IS NULL ORDER BY md5(code) LIMIT ${SWEPT}`,
		);
		for (const kind of ['propose', 'update']) {
			const [took, id] = await timed(async () => {
				const begun = await begin({ codes: codes.map(({ code }) => code) }, kind);
				await until(() => ended(begun), kind, LONG);
				return begun;
			});
			const { rows } = await client.query<{ median: number; p95: number; batches: number }>(
				`SELECT percentile_cont(0.5) WITHIN GROUP (ORDER BY gap) AS median, percentile_cont(0.95) WITHIN GROUP (ORDER BY gap) AS p95, count(*)::integer AS batches
				FROM (SELECT extract(epoch FROM ended_at - lag(ended_at) OVER (ORDER BY ended_at))::float8 AS gap FROM sweep_batch WHERE sweep_id = $1) g`,
				[id],
			);
			const { median: half, p95, batches } = rows[0]!;
			console.log(
				`${kind}: ${SWEPT} items in ${took.toFixed(1)} s on two cores, ${((SWEPT / took) * 3600).toFixed(0)} an hour, ${(((SWEPT / took) * 3600) / 2).toFixed(0)} a core and hour; from batch to batch (${batches}) ${half.toFixed(2)} s in the median, ${p95.toFixed(2)} in the 95th`,
			);
		}
		await worker.stop();
		await measure(app, 20_000, null);

		const copies = Math.ceil(ITEMS / 20_000) - 1;
		if (copies < 1) return;
		const [copied] = await timed(async () => {
			await client.query('BEGIN');
			await client.query('ALTER TABLE item DISABLE TRIGGER USER');
			await client.query(`
				INSERT INTO item (workspace_id, code, name, unit, frequency, season_length, labels, created_by)
				SELECT workspace_id, code || '/' || copy, name, unit, frequency, season_length, labels, created_by
				FROM item CROSS JOIN generate_series(1, ${copies}) copy`);
			await client.query('ALTER TABLE item ENABLE TRIGGER USER');
			const { rows } = await client.query<{ names: string }>(
				`SELECT string_agg(column_name, ', ') AS names FROM information_schema.columns
				WHERE table_name = 'item_status' AND is_generated = 'NEVER' AND column_name NOT IN ('workspace_id', 'item_id', 'code', 'sought')`,
			);
			const names = rows[0]!.names;
			await client.query(`
				INSERT INTO item_status (workspace_id, item_id, code, sought, ${names})
				SELECT item.workspace_id, item.id, item.code, item.sought, ${names.replace(/\b\w+\b/g, 'other.$&')}
				FROM item JOIN item_status other ON other.workspace_id = item.workspace_id AND other.code = split_part(item.code, '/', 1)
				WHERE item.code LIKE '%/%'`);
			await client.query(
				`UPDATE newest_period SET items = items * ${copies + 1}, have = have * ${copies + 1}`,
			);
			await client.query('COMMIT');
			await client.query('VACUUM (ANALYZE)');
		});
		const { rows: whole } = await client.query<{ items: string; bytes: string }>(
			`SELECT (SELECT count(*) FROM item) AS items, pg_database_size(current_database()) AS bytes`,
		);
		console.log(
			`${whole[0]!.items} items, their status made up, after ${copied.toFixed(0)} s: ${(Number(whole[0]!.bytes) / 1e9).toFixed(1)} GB`,
		);
		// Rows of a sweep over all of them, made up as well.
		const { rows: swept } = await client.query<{ id: string }>(
			`INSERT INTO sweep (workspace_id, kind, items, created_by, ended_at)
			SELECT 1, 'propose', count(*), min(created_by), now() FROM item RETURNING id`,
		);
		const sweep = Number(swept[0]!.id);
		await client.query(
			`INSERT INTO sweep_row (workspace_id, sweep_id, item_id, code, label, method, gain, clear, abs_error, abs_error_before, abs_actual, next)
			SELECT 1, $1, id, code, 'Simple exponential smoothing', 'ses', (id % 1000) / 1000.0 - 0.3, id % 3 = 0, 5, 6, 100, 7 FROM item`,
			[sweep],
		);
		await client.query('VACUUM (ANALYZE) sweep_row');
		await measure(app, Number(whole[0]!.items), sweep);
	} finally {
		await client.end();
		await app.stop();
		rmSync(folder, { recursive: true, force: true });
	}
});
