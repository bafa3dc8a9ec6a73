import * as v from 'valibot';
import { type Asked, ASKED_ALL } from '../../wire/asked';
import { type NewSweep, type Sweep, SweepSettingsSchema } from '../../wire/sweeps';
import { Bound, namedItems } from '../items/asked-sql';
import { pool, type Queryable, transaction } from '../database/database';
import { Refusal } from '../refusal';
import { toShare } from '../records/sums';
import { type Actor, changing } from '../database/workspaces';

/** Sweeps: what is done to many items at once. They are laid out here, in batches, and worked off by workers. */

/** Items of a batch at most; of few items as many batches are made, so that every core has some and one sees how far it is. */
const BATCH = 50;
const LEAST_BATCHES = 12;
/** The name of the jobs, one a batch, and the channel on which is told how far a sweep is. */
export const TASK = 'sweep';
export const CHANNEL = 'ventrel_sweep';
const JOB_KEY = `'sweep:' || sweep_id || ':' || number`;
/** A job that was killed is begun again; how often a batch may fail is counted with it. */
const MOST_ATTEMPTS = 1000;
/** Priorities are small numbers. */
const LAST = 32_000;

/** What a job is of. */
export interface BatchJob {
	workspace: number;
	sweep: number;
	batch: number;
}

interface SweepRow {
	id: number;
	kind: Sweep['kind'];
	asked: Asked | null;
	settings: Sweep['settings'];
	of: number | null;
	reason: string;
	items: number;
	at: string;
	by: string;
	stopped_at: string | null;
	stopped_by: string | null;
	cleared_at: string | null;
	ended_at: string | null;
	done: number;
	set_apart: { items: number; why: string }[] | null;
}

const SELECT = `SELECT sweep.id, kind, asked, settings, of_sweep AS of, reason, items, to_json(created_at) #>> '{}' AS at, actor_name(created_by) AS by,
	to_json(stopped_at) #>> '{}' AS stopped_at, actor_name(stopped_by) AS stopped_by, to_json(sweep.ended_at) #>> '{}' AS ended_at, to_json(cleared_at) #>> '{}' AS cleared_at,
	CASE WHEN cleared_at IS NOT NULL THEN items WHEN stopped_at IS NULL THEN (
		SELECT coalesce(sum(cardinality(item_ids)), 0) FROM sweep_batch b
		WHERE b.workspace_id = sweep.workspace_id AND b.sweep_id = sweep.id AND b.ended_at IS NOT NULL AND b.failed IS NULL
	) ELSE (
		SELECT count(*) FROM sweep_row r WHERE r.workspace_id = sweep.workspace_id AND r.sweep_id = sweep.id
	) END AS done, (
		SELECT json_agg(json_build_object('items', cardinality(item_ids), 'why', failed) ORDER BY number) FROM sweep_batch b
		WHERE b.workspace_id = sweep.workspace_id AND b.sweep_id = sweep.id AND b.failed IS NOT NULL
	) AS set_apart
	FROM sweep`;

const NOT_TOLD = v.parse(SweepSettingsSchema, {});
/** What a sweep was told, with what there was no such thing to tell when it was begun. */
export const toldOf = (kept: Partial<Sweep['settings']>): Sweep['settings'] => ({ ...NOT_TOLD, ...kept });

const sweepOf = ({ stopped_at, stopped_by, cleared_at, ended_at, set_apart, ...row }: SweepRow): Sweep => ({
	...row,
	// What it was begun without is as it is usually asked.
	asked: row.asked && { ...ASKED_ALL, ...row.asked },
	settings: toldOf(row.settings),
	done: Number(row.done),
	clearedAt: cleared_at,
	stopped: stopped_at === null ? null : { at: stopped_at, by: stopped_by! },
	endedAt: ended_at,
	setApart: set_apart ?? [],
});

/** The newest sweeps first. */
export async function loadSweeps(
	workspaceId: number,
	most = 50,
	database: Queryable = pool(),
): Promise<Sweep[]> {
	const { rows } = await database.query<SweepRow>(
		`${SELECT} WHERE sweep.workspace_id = $1 ORDER BY sweep.id DESC LIMIT $2`,
		[workspaceId, most],
	);
	return rows.map(sweepOf);
}

/** @throws Refusal 404 where there is none of that number */
export async function loadSweep(
	workspaceId: number,
	id: number,
	database: Queryable = pool(),
): Promise<Sweep> {
	const { rows } = await database.query<SweepRow>(
		`${SELECT} WHERE sweep.workspace_id = $1 AND sweep.id = $2`,
		[workspaceId, id],
	);
	if (!rows[0]) throw new Refusal(404, `There is no sweep ${id}.`);
	return sweepOf(rows[0]);
}

/** Items that a sweep is of, as a query of `item_id` and `code`. @param shared ids of those that a sum's forecast is shared among */
function itemsOf(
	workspaceId: number,
	{ kind, items, of }: NewSweep,
	shared: readonly number[],
	bound: Bound,
): string {
	const workspace = () => bound.of(workspaceId);
	if (kind === 'adopt') {
		const which =
			'codes' in items
				? `code = ANY (${bound.of(items.codes)})`
				: 'rule' in items && items.rule === 'clear'
					? 'clear'
					: 'true';
		return `SELECT item_id, code FROM sweep_row
			WHERE workspace_id = ${workspace()} AND sweep_id = ${bound.of(of)} AND ready IS NOT NULL AND record_id IS NULL AND ${which}`;
	}
	if ('rule' in items)
		throw new Refusal(
			422,
			'A rule picks rows of a sweep that are to be adopted; name items, or what the list is asked for.',
		);
	if ('partsOf' in items)
		return `SELECT id AS item_id, code FROM item WHERE workspace_id = ${workspace()} AND id = ANY (${bound.of(shared)})`;
	return namedItems(workspaceId, items, bound);
}

/**
 * Begins a sweep: its batches and their jobs are there with it, or nothing is.
 * @throws Refusal 422 where it would be of no item
 */
export async function beginSweep(actor: Actor, wanted: NewSweep): Promise<Sweep> {
	const { workspaceId } = actor;
	const { kind, items, settings, of, reason } = wanted;
	return changing(actor, async (client) => {
		if (kind === 'adopt') await refuseUnfinished(client, workspaceId, of);
		const shared =
			'partsOf' in items ? await toShare(client, workspaceId, items.partsOf, settings.share!) : null;
		const { rows } = await client.query<{ id: number }>(
			`INSERT INTO sweep (workspace_id, kind, asked, settings, of_sweep, reason, items)
			VALUES ($1, $2, $3, $4, $5, $6, 0) RETURNING id`,
			[
				workspaceId,
				kind,
				'asked' in items ? items.asked : null,
				{ ...settings, share: shared?.share ?? null },
				kind === 'adopt' ? of : null,
				reason,
			],
		);
		const sweep = rows[0]!.id;
		const bound = new Bound();
		const which = itemsOf(workspaceId, wanted, shared?.ids ?? [], bound);
		const { rows: laid } = await client.query<{ items: number; batches: number }>(
			`WITH batches AS (
				INSERT INTO sweep_batch (workspace_id, sweep_id, number, item_ids)
				SELECT ${bound.of(workspaceId)}::bigint, ${bound.of(sweep)}::bigint, 
					(place - 1) / least(${BATCH}, (count + ${LEAST_BATCHES - 1}) / ${LEAST_BATCHES}), array_agg(item_id ORDER BY place)
				FROM (
					SELECT item_id, row_number() OVER (ORDER BY code) AS place, count(*) OVER () AS count FROM (${which}) which
				) placed
				GROUP BY 3
				RETURNING cardinality(item_ids) AS items
			)
			SELECT coalesce(sum(items), 0) AS items, count(*) AS batches FROM batches`,
			bound.values,
		);
		const count = Number(laid[0]!.items);
		if (count === 0)
			throw new Refusal(
				422,
				kind === 'adopt'
					? 'None of these rows is left to be adopted.'
					: 'No item fits, so there is nothing to do.',
			);
		await client.query('UPDATE sweep SET items = $3 WHERE workspace_id = $1 AND id = $2', [
			workspaceId,
			sweep,
			count,
		]);
		// Those of several sweeps take turns from here on: a new one begins where the others are, and waits for none of them.
		await addJobs(client, 'sweep_batch.workspace_id = $2 AND sweep_batch.sweep_id = $3', [
			workspaceId,
			sweep,
		]);
		await tell(client, workspaceId, sweep);
		return loadSweep(workspaceId, sweep, client);
	});
}

/** Adds a job for each batch that fits a condition: after those that others have waiting, one of each sweep in turn. */
const addJobs = (client: Queryable, condition: string, values: readonly unknown[]) =>
	client.query(
		`SELECT graphile_worker.add_job($1, json_build_object('workspace', workspace_id, 'sweep', sweep_id, 'batch', number),
			job_key => ${JOB_KEY}, max_attempts => ${MOST_ATTEMPTS}, priority => least(${LAST}, number + begun.priority))
		FROM sweep_batch CROSS JOIN (
			SELECT coalesce(min(priority), 0) AS priority FROM graphile_worker.jobs WHERE task_identifier = $1
		) begun
		WHERE ${condition}
		ORDER BY sweep_id, number`,
		[TASK, ...values],
	);

/** Adds a job for each batch that is still to be worked off and has lost its own. */
export async function renewJobs(): Promise<void> {
	await transaction((client) =>
		addJobs(
			client,
			`ended_at IS NULL AND EXISTS (
				SELECT FROM sweep WHERE sweep.workspace_id = sweep_batch.workspace_id AND sweep.id = sweep_id AND sweep.ended_at IS NULL
			) AND NOT EXISTS (
				SELECT FROM graphile_worker.jobs WHERE key = ${JOB_KEY} AND (locked_at IS NOT NULL OR attempts < max_attempts)
			)`,
			[],
		),
	);
}

/** @throws Refusal 404 or 422 where its rows cannot be adopted */
async function refuseUnfinished(client: Queryable, workspaceId: number, id: number | null): Promise<void> {
	if (id === null) throw new Refusal(422, 'Say of which sweep rows are to be adopted.');
	const { kind, endedAt } = await loadSweep(workspaceId, id, client);
	if (kind === 'adopt')
		throw new Refusal(422, 'This sweep adopted forecasts; it has none that could be adopted.');
	if (endedAt === null)
		throw new Refusal(409, 'It is still being worked on. Adopt when it has ended, or stop it first.');
}

/** Tells whoever listens that something of a sweep has changed, when the transaction ends. */
export const tell = (client: Queryable, workspace: number, sweep: number, stop = false) =>
	client.query('SELECT pg_notify($1, $2)', [CHANNEL, JSON.stringify({ workspace, sweep, stop })]);

/** Stops a sweep: what is done stays. @throws Refusal 404 where there is none of that number */
export async function stopSweep(actor: Actor, id: number): Promise<Sweep> {
	const { workspaceId } = actor;
	await changing(actor, async (client) => {
		const { rowCount } = await client.query(
			`UPDATE sweep SET stopped_at = now(), stopped_by = (SELECT actor FROM acting()), ended_at = now()
			WHERE workspace_id = $1 AND id = $2 AND ended_at IS NULL`,
			[workspaceId, id],
		);
		if (rowCount === 0) return;
		await client.query(
			`SELECT graphile_worker.complete_jobs(array_agg(id)) FROM graphile_worker.jobs
			WHERE task_identifier = $1 AND key LIKE 'sweep:' || $2::bigint || ':%' AND locked_at IS NULL`,
			[TASK, id],
		);
		await tell(client, workspaceId, id, true);
	});
	return loadSweep(workspaceId, id);
}
