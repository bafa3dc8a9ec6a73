import { statfs } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import type { Ready } from '../../wire/service';
import { meaningOf, pool } from '../database/database';
import { demoProgress } from '../demo/prepare';
import { loadBackup } from '../status/kept';
import { loadWorker } from '../sweeps/job-worker';

/** Names of the migrations that this program was built with. */
const MIGRATIONS = Object.keys(import.meta.glob('../../../../db/migrations/*.sql')).map(
	(path) => /([^/]+)\.sql$/.exec(path)![1]!,
);
/** Milliseconds after which a nightly backup is late. */
const LATE = 2 * 86_400_000;
/** Bytes below which a disk counts as full. */
const FLOOR = 200_000_000;

/** Whether everything is there that the application needs. */
export async function loadReady(): Promise<Ready> {
	const [database, migrations, disk, worker, backup] = await Promise.all([
		fault(async () => {
			await pool().query('SELECT 1');
			return undefined;
		}),
		fault(lookAtMigrations),
		fault(lookAtDisk),
		fault(lookAtWorker),
		fault(lookAtBackup),
	]);
	const ready = [database, migrations, disk, worker].every((each) => each === null);
	return { ready, database, migrations, disk, worker, backup, demo: demoProgress() };
}

/** What is wrong with a part, in words; null where nothing is. */
async function fault(look: () => Promise<string | undefined>): Promise<string | null> {
	try {
		return (await look()) ?? null;
	} catch (error) {
		if (meaningOf(error) === 'unreachable') return 'the database cannot be reached';
		return error instanceof Error ? error.message : String(error);
	}
}

async function lookAtMigrations(): Promise<string | undefined> {
	const { rows } = await pool().query<{ name: string }>('SELECT migrations_run() AS name');
	const there = new Set(rows.map(({ name }) => name));
	const missing = MIGRATIONS.filter((name) => !there.has(name));
	return missing.length > 0 ? `not run yet: ${missing.join(', ')}; npm start runs them` : undefined;
}

async function lookAtDisk(): Promise<string | undefined> {
	const folder = process.env.VENTREL_SPOOL ?? tmpdir();
	const { bavail, bsize } = await statfs(folder);
	return bavail * bsize < FLOOR
		? `${Math.floor((bavail * bsize) / 1e6)} MB are free where uploads wait; ${FLOOR / 1e6} MB are needed`
		: undefined;
}

async function lookAtBackup(): Promise<string | undefined> {
	const backup = await loadBackup();
	if (!backup) return undefined;
	if (!backup.ok) return `the nightly backup failed: ${backup.words}`;
	return Date.now() - Date.parse(backup.at) > LATE ? `no nightly backup since ${backup.at}` : undefined;
}

async function lookAtWorker(): Promise<string | undefined> {
	const { alive, seen } = await loadWorker();
	if (alive) return undefined;
	return seen === null ? 'no worker was here yet' : `no worker since ${seen}`;
}
