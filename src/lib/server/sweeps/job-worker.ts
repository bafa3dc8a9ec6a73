import { hostname } from 'node:os';
import type pg from 'pg';
import type { WorkerState } from '../../wire/service';
import { pool } from '../database/database';
import { LOCKS } from '../database/locks';

/**
 * Processes that work sweeps off. Each holds a lock as long as it is connected, so that the jobs of one that was killed are given
 * to others at once instead of after hours.
 */

/** Puts this process on record, on a connection that lives as long as it does. @returns its number */
export async function enter(client: pg.Client): Promise<number> {
	const { rows } = await client.query<{ id: number }>(
		'INSERT INTO worker_process (host, process) VALUES ($1, $2) RETURNING id',
		[hostname(), process.pid],
	);
	const { id } = rows[0]!;
	await client.query('SELECT pg_advisory_lock($1, $2)', [LOCKS.workerProcess, id]);
	return id;
}

/** Says what the jobs name a process by. */
export async function nameWorkers(id: number, workers: readonly string[]): Promise<void> {
	await pool().query('UPDATE worker_process SET workers = $2 WHERE id = $1', [id, workers]);
}

const HELD = `SELECT objid FROM pg_locks WHERE locktype = 'advisory' AND classid = ${LOCKS.workerProcess} AND granted
	AND database = (SELECT oid FROM pg_database WHERE datname = current_database())`;

/** Takes processes off the record whose lock is gone, and gives back the jobs that nobody holds who is alive. */
export async function clearDead(): Promise<void> {
	// One that is just entering has its row before its lock, and a job before its name: both get a moment.
	await pool().query(
		`DELETE FROM worker_process
		WHERE started_at < now() - interval '2 seconds' AND id NOT IN (SELECT objid::integer FROM (${HELD}) held)`,
	);
	await pool().query(
		`SELECT graphile_worker.force_unlock_workers(array_agg(DISTINCT locked_by))
		FROM graphile_worker.jobs
		WHERE locked_at < now() - interval '2 seconds'
			AND locked_by NOT IN (SELECT unnest(workers) FROM worker_process)
		HAVING count(*) > 0`,
	);
}

/** Says that a process is still at work. */
export async function beat(id: number): Promise<void> {
	await pool().query('UPDATE worker_process SET seen_at = now() WHERE id = $1', [id]);
}

/** Seconds without a word after which a process counts as gone, or as hanging. */
const SILENCE = 15;

/** Whether any process works sweeps off, and when one was last heard of. */
export async function loadWorker(): Promise<WorkerState> {
	const { rows } = await pool().query<WorkerState>(
		`SELECT coalesce(bool_or(seen_at > now() - interval '${SILENCE} seconds' AND id IN (
				SELECT objid::integer FROM (${HELD}) held
			)), false) AS alive, to_json(max(seen_at)) #>> '{}' AS seen
		FROM worker_process`,
	);
	return rows[0]!;
}

/** Whether any process works sweeps off. */
export const isAnyAtWork = async (): Promise<boolean> => (await loadWorker()).alive;
