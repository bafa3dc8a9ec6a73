import { statfs } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { collectDefaultMetrics, Counter, Gauge, Histogram, Registry } from 'prom-client';
import { pool } from '../database/database';
import { loadBackup } from '../status/kept';
import { loadWorker } from '../sweeps/job-worker';

/** Figures for monitoring, in the open text format. They name no item and nobody. */

const registry = new Registry();
collectDefaultMetrics({ register: registry, prefix: 'ventrel_' });

const answered = new Counter({
	name: 'ventrel_requests_total',
	help: 'Requests that were answered, by route, method and status.',
	labelNames: ['route', 'method', 'status'],
	registers: [registry],
});
const took = new Histogram({
	name: 'ventrel_request_seconds',
	help: 'Seconds until a request was answered, by method.',
	labelNames: ['method'],
	buckets: [0.005, 0.02, 0.1, 0.5, 2, 10, 60],
	registers: [registry],
});

/** Counts a request that was answered. @param route as it is declared, so that there are no more of them than routes */
export function countRequest(
	route: string | null,
	method: string,
	status: number,
	milliseconds: number,
): void {
	answered.inc({ route: route ?? 'none', method, status });
	took.observe({ method }, milliseconds / 1000);
}

const gauge = (name: string, help: string) =>
	new Gauge({ name: `ventrel_${name}`, help, registers: [registry] });
const FIGURES = {
	items: gauge('items', 'Items on the list.'),
	status_queue: gauge('status_queue', 'Items whose status is still to be made.'),
	sweeps_open: gauge('sweeps_open', 'Sweeps that have not ended.'),
	batches_open: gauge('batches_open', 'Batches of sweeps that have not ended.'),
	sessions: gauge('sessions', 'Live sessions.'),
	database_bytes: gauge('database_bytes', 'Size of the database.'),
	worker_alive: gauge('worker_alive', '1 where a worker reported within 15 seconds.'),
	disk_free_bytes: gauge('disk_free_bytes', 'Bytes that are free where uploads wait.'),
	connections_waiting: gauge(
		'connections_waiting',
		'Questions of this process that wait for a connection to the database.',
	),
	backup_age_seconds: gauge(
		'backup_age_seconds',
		'Seconds since the last nightly backup that went well; absent where there is none.',
	),
	backup_failed: gauge('backup_failed', '1 where the last nightly backup failed.'),
};

async function look(): Promise<void> {
	const [counted, worker, backup, disk] = await Promise.all([
		pool().query<
			Record<
				'items' | 'status_queue' | 'sweeps_open' | 'batches_open' | 'sessions' | 'database_bytes',
				number
			>
		>(
			`SELECT (SELECT count(*) FROM item_status WHERE NOT retired) AS items, (SELECT count(*) FROM status_queue) AS status_queue,
				(SELECT count(*) FROM sweep WHERE ended_at IS NULL) AS sweeps_open,
				(SELECT count(*) FROM sweep_batch WHERE ended_at IS NULL) AS batches_open,
				(SELECT count(*) FROM live_key WHERE way = 'session') AS sessions, pg_database_size(current_database()) AS database_bytes`,
		),
		loadWorker(),
		loadBackup(),
		statfs(process.env.VENTREL_SPOOL ?? tmpdir()),
	]);
	for (const [name, value] of Object.entries(counted.rows[0]!))
		FIGURES[name as keyof typeof FIGURES].set(Number(value));
	FIGURES.worker_alive.set(worker.alive ? 1 : 0);
	FIGURES.disk_free_bytes.set(disk.bavail * disk.bsize);
	FIGURES.connections_waiting.set(pool().waitingCount);
	if (!backup) return;
	FIGURES.backup_failed.set(backup.ok ? 0 : 1);
	if (backup.ok) FIGURES.backup_age_seconds.set((Date.now() - Date.parse(backup.at)) / 1000);
}

/** All figures as text. */
export async function loadMetrics(): Promise<string> {
	await look();
	return registry.metrics();
}
