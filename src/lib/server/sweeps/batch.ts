import type { Rounding } from '$core/grading/final';
import { shareReason } from '$core/words/sweep';
import type { Adopt } from '../../wire/records';
import { sweepKind } from '../../wire/sweep-kinds';
import type { Sweep } from '../../wire/sweeps';
import { carriedChanges, carriedShape, NOTHING_NEW } from '../records/carrying';
import { meaningOf, pool, type Queryable, transaction } from '../database/database';
import { actAs } from '../database/workspaces';
import { log } from '../log';
import { askedOf, finalSteps, insertRecords, originOf, type ToRecord } from '../records/records';
import { Refusal } from '../refusal';
import type { Recordable, SweepOutcome, SweepTask, SweepWork } from '../threads/tasks';
import { threads } from '../threads/threads';
import { type Shared, sizesOf } from '../records/sums';
import { loadSwept, type NewestRecord, type SweptItem } from './evidence';
import { type BatchJob, tell, toldOf } from './sweeps';

/** A batch of a sweep, worked off: once, whoever does it and however often it is begun. */

/** After so many failures a batch is set apart. */
const FAILURES = 3;

interface Row {
	item_id: number;
	code: string;
	refused: string | null;
	label: string | null;
	method: string | null;
	label_before: string | null;
	gain: number | null;
	clear: boolean | null;
	rare: boolean | null;
	abs_error: number | null;
	abs_error_before: number | null;
	abs_actual: number | null;
	next: number | null;
	next_before: number | null;
	measures: SweepOutcome['measures'];
	/** Of the closest one of a line-up. */
	mad: number | null;
	mape: number | null;
	figures: SweepOutcome['figures'];
	seen: number;
	seen_layers: number;
	ready: Ready | null;
	record_id: number | null;
}

/** What goes on record where a row is adopted as it stands. */
interface Ready extends Pick<ToRecord, 'changes' | 'rounding' | 'carriedFrom' | 'asked'> {
	forecast: Recordable;
	/** The newest record when it was calculated. */
	before: number | null;
}

/**
 * Works a batch off.
 * @param stop ends the work: what is done is kept, the batch is not
 */
export async function workBatch(job: BatchJob, stop: AbortSignal): Promise<void> {
	const begun = await begin(job);
	if (!begun) return;
	const { sweep, ids } = begun;
	try {
		if (sweep.kind === 'adopt') await adoptBatch(job, sweep, ids);
		else await computeBatch(job, sweep, ids, stop);
	} catch (error) {
		if (stop.aborted) return;
		// A database that is away or busy is no failure of the batch: its job comes again.
		const meaning = meaningOf(error);
		if (meaning === 'unreachable' || meaning === 'busy' || !(await fail(job, error))) throw error;
	}
}

/** Of a sweep, what its batches go by. */
type Begun = Pick<Sweep, 'id' | 'kind' | 'settings' | 'of' | 'reason'>;

/** What is to be done; null where that was done, or is no longer wanted. */
async function begin({
	workspace,
	sweep: id,
	batch,
}: BatchJob): Promise<{ sweep: Begun; ids: number[] } | null> {
	const { rows } = await pool().query<Begun & { item_ids: number[] }>(
		`SELECT sweep.id, kind, settings, of_sweep AS of, reason, item_ids
		FROM sweep_batch JOIN sweep ON sweep.workspace_id = sweep_batch.workspace_id AND sweep.id = sweep_id
		WHERE sweep.workspace_id = $1 AND sweep.id = $2 AND number = $3
			AND sweep.ended_at IS NULL AND sweep_batch.ended_at IS NULL`,
		[workspace, id, batch],
	);
	if (!rows[0]) return null;
	const { item_ids, ...sweep } = rows[0];
	return { sweep: { ...sweep, settings: toldOf(sweep.settings) }, ids: item_ids.map(Number) };
}

async function computeBatch(job: BatchJob, sweep: Begun, ids: number[], stop: AbortSignal): Promise<void> {
	const { items, sizes } = await transaction(async (client) => ({
		items: await loadSwept(client, job.workspace, ids),
		sizes: sweep.settings.share?.by === 'cycle' ? await sizesOf(client, job.workspace, ids) : null,
	}));
	const rows: Row[] = [];
	for (const swept of items) {
		if (stop.aborted) break;
		try {
			rows.push(await rowOf(sweep, swept, sizes?.get(swept.item.id) ?? null, stop));
		} catch (error) {
			if (!stop.aborted) throw error;
		}
	}
	await transaction(async (client) => {
		if (!(await isOpen(client, job))) return;
		await insertRows(client, job, rows);
		if (rows.length === items.length) await end(client, job);
	});
}

/** What comes of an item; what it is refused for is its row. */
async function rowOf(sweep: Begun, swept: SweptItem, size: number | null, signal: AbortSignal): Promise<Row> {
	const { item, seen, change, entry, before } = swept;
	const row: Row = {
		...EMPTY,
		item_id: item.id,
		code: item.code,
		label_before: before?.label ?? null,
		seen: change,
		seen_layers: entry,
	};
	try {
		if (sweep.kind === 'update' && before?.data_change_id === change && before.layer_entry_id === entry)
			throw new Refusal(422, NOTHING_NEW);
		const task: SweepTask = {
			// What is shared is the next record of its run, with its share in place of the figures.
			kind: sweep.kind === 'share' ? 'update' : (sweep.kind as SweepWork),
			seen,
			before: before && { ...carriedShape(item, before), together: before.together ?? [] },
			settings: sweep.settings,
			lead: item.lead_time ?? 1,
		};
		const outcome = await threads().run('sweepItem', task, { caller: `sweep ${sweep.id}`, signal });
		return { ...row, ...filled(outcome, swept, sweep, size) };
	} catch (error) {
		// What nobody can do anything about by trying again.
		if (error instanceof Refusal && error.status === 422) return { ...row, refused: error.message };
		throw error;
	}
}

/** The columns that a row is kept in, and what they are in the database. */
const COLUMNS: Readonly<Record<keyof Row, string>> = {
	item_id: 'bigint',
	code: 'text',
	refused: 'text',
	label: 'text',
	method: 'text',
	label_before: 'text',
	gain: 'double precision',
	clear: 'boolean',
	rare: 'boolean',
	abs_error: 'double precision',
	abs_error_before: 'double precision',
	abs_actual: 'double precision',
	next: 'double precision',
	next_before: 'double precision',
	measures: 'json',
	mad: 'double precision',
	mape: 'double precision',
	figures: 'jsonb',
	seen: 'bigint',
	seen_layers: 'bigint',
	ready: 'json',
	record_id: 'bigint',
};
const NAMES = Object.keys(COLUMNS) as (keyof Row)[];
const EMPTY = Object.fromEntries(NAMES.map((name) => [name, null])) as {
	[Name in keyof Row]: null extends Row[Name] ? null : never;
};

function filled(
	{ label, method, rare, beside, measures, figures, ready }: SweepOutcome,
	{ before }: SweptItem,
	{ kind, settings: { share } }: Begun,
	size: number | null,
): Partial<Row> {
	const closest = measures?.find(({ best }) => best);
	const tried = { label, method, rare, measures, mad: closest?.mad ?? null, mape: closest?.mape ?? null };
	if (!ready) return tried;
	const { forecast, asked } = ready;
	const origin = originOf(forecast);
	const carried = sweepKind(kind).continues;
	const kept = before ? carriedChanges(before.steps, origin, forecast.request.horizon!) : [];
	const shared = share ? sharedChanges(share, before!.steps, size, origin, forecast.request.horizon!) : [];
	const changes = [...kept.filter(({ step }) => shared.every((each) => each.step !== step)), ...shared];
	const rounding: Rounding | null = before?.rounding ?? null;
	const next = finalSteps(forecast, { changes, rounding })[0]?.final ?? null;
	return {
		...tried,
		gain: beside?.gain ?? null,
		clear: beside?.clear ?? null,
		abs_error: beside?.absError ?? null,
		abs_error_before: beside?.absErrorBefore ?? null,
		abs_actual: beside?.absActual ?? null,
		figures,
		next,
		next_before: before?.steps.find(({ period }) => period === origin + 1)?.final ?? null,
		ready: {
			forecast,
			before: before?.id ?? null,
			changes,
			rounding,
			carriedFrom: carried ? before!.id : null,
			asked: carried ? askedOf(before!) : asked,
		},
	};
}

/** An item's share of each period's figure, as changes by hand. @throws Refusal where it has none */
function sharedChanges(
	{ by, of, periods }: Shared,
	steps: NewestRecord['steps'],
	size: number | null,
	origin: number,
	horizon: number,
): Adopt['changes'] {
	const changes = periods.flatMap(({ period, figure, whole }) => {
		const own = by === 'cycle' ? size : (steps.find((step) => step.period === period)?.final ?? null);
		const step = period - origin;
		if (own === null || step < 1 || step > horizon) return [];
		const part = own / whole;
		return [{ step, by: { kind: 'to' as const, figure: part * figure }, reason: shareReason(of, by, part) }];
	});
	if (changes.length > 0) return changes;
	throw new Refusal(
		422,
		by === 'cycle'
			? 'It had no demand in its last cycle, so its share cannot be calculated.'
			: 'It has no forecast for these periods, so its share cannot be calculated.',
	);
}

/** Takes a batch for writing; false where another one has ended it. */
async function isOpen(client: Queryable, { workspace, sweep, batch }: BatchJob): Promise<boolean> {
	const { rows } = await client.query(
		`SELECT FROM sweep_batch WHERE workspace_id = $1 AND sweep_id = $2 AND number = $3 AND ended_at IS NULL FOR UPDATE`,
		[workspace, sweep, batch],
	);
	return rows.length > 0;
}

async function insertRows(
	client: Queryable,
	{ workspace, sweep }: BatchJob,
	rows: readonly Row[],
): Promise<void> {
	if (rows.length === 0) return;
	await client.query(
		`INSERT INTO sweep_row (workspace_id, sweep_id, ${NAMES.join(', ')})
		SELECT $1, $2, ${NAMES.join(', ')}
		FROM json_to_recordset($3) AS made (${NAMES.map((name) => `${name} ${COLUMNS[name]}`).join(', ')})
		ON CONFLICT DO NOTHING`,
		[workspace, sweep, JSON.stringify(rows)],
	);
}

/** Ends a batch, and its sweep with the last one. */
async function end(
	client: Queryable,
	{ workspace, sweep, batch }: BatchJob,
	failed: string | null = null,
): Promise<void> {
	await client.query(
		'UPDATE sweep_batch SET ended_at = now(), failed = $4 WHERE workspace_id = $1 AND sweep_id = $2 AND number = $3',
		[workspace, sweep, batch, failed],
	);
	// One after the other: two that are the last would each not see the other. Rows that others write point at the sweep meanwhile,
	// and their locks on its key are in nobody's way.
	await client.query('SELECT FROM sweep WHERE workspace_id = $1 AND id = $2 FOR NO KEY UPDATE', [
		workspace,
		sweep,
	]);
	await client.query(
		`UPDATE sweep SET ended_at = now() WHERE workspace_id = $1 AND id = $2 AND ended_at IS NULL
			AND NOT EXISTS (SELECT FROM sweep_batch b WHERE b.workspace_id = $1 AND b.sweep_id = $2 AND b.ended_at IS NULL)`,
		[workspace, sweep],
	);
	await tell(client, workspace, sweep);
}

/** Counts a failure; after the third the batch is set apart. @returns whether it is */
async function fail(job: BatchJob, error: unknown): Promise<boolean> {
	const why = error instanceof Error ? error.message : String(error);
	log.warn({ ...job, reason: why }, 'a batch of a sweep failed');
	return transaction(async (client) => {
		if (!(await isOpen(client, job))) return true;
		const { rows } = await client.query<{ failures: number }>(
			`UPDATE sweep_batch SET failures = failures + 1 WHERE workspace_id = $1 AND sweep_id = $2 AND number = $3 RETURNING failures`,
			[job.workspace, job.sweep, job.batch],
		);
		if (rows[0]!.failures < FAILURES) return false;
		await end(client, job, why.slice(0, 500));
		return true;
	});
}

/** A row of another sweep that can be adopted. */
type ReadyRow = Pick<
	Row,
	| 'item_id'
	| 'code'
	| 'label'
	| 'method'
	| 'label_before'
	| 'next'
	| 'next_before'
	| 'seen'
	| 'seen_layers'
	| 'record_id'
> & { ready: Ready };

/** Puts rows of another sweep on record, each of them alone: what changed since it was calculated is refused. */
async function adoptBatch(job: BatchJob, sweep: Begun, ids: number[]): Promise<void> {
	const { workspace } = job;
	await transaction(async (client) => {
		if (!(await isOpen(client, job))) return;
		// In the name of whom began the sweep.
		await actAs(client, { workspaceId: workspace, way: 'batch', proof: `${sweep.id}:${job.batch}` });
		// In one order, so that two that adopt at once do not wait for each other in a ring.
		await client.query(
			'SELECT FROM item WHERE workspace_id = $1 AND id = ANY ($2) ORDER BY id FOR NO KEY UPDATE',
			[workspace, ids],
		);
		const { rows } = await client.query<ReadyRow>(
			`SELECT item_id, code, label, method, label_before, next, next_before, seen, seen_layers, ready, record_id FROM sweep_row
			WHERE workspace_id = $1 AND sweep_id = $2 AND item_id = ANY ($3) AND ready IS NOT NULL ORDER BY item_id`,
			[workspace, sweep.of, ids],
		);
		const now = new Map((await loadNow(client, workspace, ids)).map((row) => [row.item_id, row]));
		const refusals = new Map(rows.map((row) => [row.item_id, whyNot(row, now.get(row.item_id)!)]));
		const records = await insertRecords(
			client,
			workspace,
			rows
				.filter(({ item_id }) => refusals.get(item_id) === null)
				.map(({ item_id, seen, seen_layers, ready }) => ({
					...ready,
					itemId: item_id,
					seen,
					seenLayers: seen_layers,
					reason: sweep.reason,
				})),
		);
		const made = rows.map((row) => ({
			...EMPTY,
			...row,
			ready: null,
			refused: refusals.get(row.item_id)!,
			record_id: records.get(row.item_id) ?? null,
		}));
		await insertRows(client, job, made);
		await client.query(
			`UPDATE sweep_row SET record_id = made.record_id FROM json_to_recordset($3) AS made (item_id bigint, record_id bigint)
			WHERE workspace_id = $1 AND sweep_id = $2 AND sweep_row.item_id = made.item_id AND made.record_id IS NOT NULL`,
			[workspace, sweep.of, JSON.stringify(made.map(({ item_id, record_id }) => ({ item_id, record_id })))],
		);
		await end(client, job);
	});
}

/** How an item is at the moment of adopting. */
interface Now {
	item_id: number;
	retired: boolean;
	change: number;
	entry: number;
	record: number | null;
	label: string | null;
	by: string | null;
}

async function loadNow(client: Queryable, workspaceId: number, ids: readonly number[]): Promise<Now[]> {
	const { rows } = await client.query<Now>(
		`SELECT item.id AS item_id, retired_at IS NOT NULL AS retired, newest.id AS record, newest.label, actor_name(newest.adopted_by) AS by,
			(SELECT coalesce(max(data_change_id), 0) FROM actual WHERE workspace_id = $1 AND item_id = item.id) AS change,
			(SELECT coalesce(max(id), 0) FROM layer_entry WHERE workspace_id = $1 AND item_id = item.id) AS entry
		FROM item
		LEFT JOIN LATERAL newest_record($1, item.id) newest ON true
		WHERE item.workspace_id = $1 AND item.id = ANY ($2)`,
		[workspaceId, ids],
	);
	return rows;
}

/** Why a row cannot be adopted as it stands; null where it can. */
function whyNot({ seen, seen_layers, record_id, ready }: ReadyRow, now: Now): string | null {
	if (record_id !== null) return 'It was adopted already.';
	if (now.retired) return 'It was retired meanwhile.';
	if (now.change !== seen) return 'Actuals came in since this was calculated. Start the sweep again.';
	if (now.entry !== seen_layers)
		return 'Its figures were adjusted since this was calculated. Start the sweep again.';
	if (now.record !== ready.before)
		return `${now.by} adopted “${now.label}” for it since this was calculated. Start the sweep again.`;
	return null;
}
