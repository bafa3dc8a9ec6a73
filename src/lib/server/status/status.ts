import { gradesOf, runsOf } from '$core/grading/grades';
import type { ItemGrades, Hide } from '../../wire/status';
import { newestChange } from '../items/actuals';
import { pool, type Queryable, snapshot, transaction } from '../database/database';
import { findItem, lockItem } from '../items/item-records';
import { log } from '../log';
import { renewNewest } from './newest';
import { Refusal } from '../refusal';
import { renewSums } from '../records/sums';
import {
	type Evidence,
	STATUS_COLUMNS,
	type StatusRow,
	statusRow,
	watch,
	WATCHED,
	type WatchedItem,
} from './status-row';
import { type Actor, changing } from '../database/workspaces';

/**
 * How items stand is derived from their records and what came in. Every change queues its item in `status_queue`, within its own transaction;
 * `refreshStatus` takes these out and makes the status of their items anew.
 */

/** Transactions side by side: while the database reads for one, another one is graded. */
const LANES = 2;
/** Items whose status is made in one transaction. */
const AT_ONCE = 50;
/** Milliseconds that a call waits for the status of the items that it changed; the rest is refreshed after its answer. */
const PATIENCE = 400;
/** Pause before it is looked whether somebody else has settled what was left. */
const SOON = 15;
/** Pause before items that somebody else has locked are looked at again; after a failure it doubles up to a minute. */
const AGAIN = 200;
const LONGEST_PAUSE = 60_000;

let running: Promise<void> = Promise.resolve();
/** The settling that begins when the running one has ended; whoever asks before it began shares it. */
let next: Promise<void> | null = null;
let again: ReturnType<typeof setTimeout> | null = null;
/** How often in a row it failed. */
let failures = 0;
/** Whether the newest periods are what items say that this process settled; one before it may have been ended between the two. */
let renewed = false;

/**
 * Brings status up to date, in the same breath where that is soon done: it comes back when nothing is left to be settled, or its
 * caller has waited long enough. A failure is no failure of what was stored, and is tried again later.
 */
export async function refreshStatus(): Promise<void> {
	// One that is running may have looked already before this caller's changes were there.
	const own = (next ??= running.then(() => {
		next = null;
		return (running = refreshAll());
	}));
	let late: ReturnType<typeof setTimeout> | undefined;
	const patience = new Promise<void>((done) => (late = setTimeout(done, PATIENCE)));
	await Promise.race([own, patience]);
	clearTimeout(late);
}

/** Whether somebody else settles, so that this process need not do more than its own callers wait for. */
let othersRefresh = (): Promise<boolean> => Promise.resolve(false);
export const leaveTo = (others: () => Promise<boolean>): void => void (othersRefresh = others);

async function refreshAll(): Promise<void> {
	const until = performance.now() + PATIENCE;
	try {
		const late = () => performance.now() > until;
		let left: boolean;
		do {
			await processQueue(async () => late() && (await othersRefresh()));
			left = (await pool().query('SELECT 1 FROM status_queue LIMIT 1')).rows.length > 0;
			// What somebody else has in hand is soon done.
			if (left && !late()) await new Promise((done) => setTimeout(done, SOON));
		} while (left && !late());
		failures = 0;
		if (left) refreshLater();
	} catch (error) {
		failures++;
		log.warn({ reason: String(error), failures }, 'status could not be brought up to date');
		refreshLater();
	}
}

/** Items that others have locked are queued by them, or refreshed by another process. */
function refreshLater(): void {
	if (again) return;
	again = setTimeout(
		() => {
			again = null;
			void othersRefresh().then(
				(others) => (others ? refreshLater() : refreshStatus()),
				() => refreshLater(),
			);
		},
		Math.min(LONGEST_PAUSE, AGAIN * 2 ** failures),
	);
	again.unref();
}

/**
 * Settles all items that nobody else is at, and then what rests on many of them.
 * @param enough says whether the others are left to somebody else
 * @returns how many
 */
export async function processQueue(
	enough: () => Promise<boolean> = () => Promise.resolve(false),
): Promise<number> {
	let count = 0;
	const lane = async (): Promise<void> => {
		for (let some = await refreshSome(); some.items > 0; some = await refreshSome()) {
			count += some.items;
			if (some.ends) renewed = false;
			if (await enough()) break;
		}
	};
	await Promise.all(Array.from({ length: LANES }, lane));
	if (!renewed) await renewNewest();
	renewed = true;
	return count;
}

/**
 * Refreshes some of the items that are queued. Only items that nobody else is at are taken, and nobody is waited for: what is read
 * under their locks is all that was ever committed for them.
 * @returns how many, and whether any of them ends with another period than before, or came on the list or left it
 */
const refreshSome = (): Promise<{ items: number; ends: boolean }> =>
	transaction(async (client) => {
		const taken = await take(client, false, AT_ONCE);
		if (taken.length === 0) return { items: await renewSome(client), ends: false };
		const { rows: items } = await client.query<WatchedItem>(
			`${WATCHED} WHERE item.id = ANY ($1) FOR NO KEY UPDATE OF item SKIP LOCKED`,
			[taken],
		);
		const ids = items.map(({ id }) => id);
		await done(client, false, ids);
		return { items: items.length, ends: await writeStatuses(client, await watch(client, items)) };
	});

/** Items that changed themselves, or sums whose parts did. */
async function take(client: Queryable, sum: boolean, most: number): Promise<number[]> {
	const { rows } = await client.query<{ item_id: number }>(
		`SELECT item_id FROM status_queue WHERE sum = $1 ORDER BY id LIMIT ${most} FOR UPDATE SKIP LOCKED`,
		[sum],
	);
	return rows.map(({ item_id }) => item_id);
}

/** Rows that another one has in hand lead to settling once more, and to the same. */
const done = (client: Queryable, sum: boolean, ids: readonly number[]) =>
	client.query(
		`DELETE FROM status_queue WHERE id IN (
			SELECT id FROM status_queue WHERE item_id = ANY ($1) AND sum = $2 FOR UPDATE SKIP LOCKED
		)`,
		[ids, sum],
	);

/** Adds up a sum whose parts changed; where it comes out otherwise, it is queued itself. @returns how many */
async function renewSome(client: Queryable): Promise<number> {
	const taken = await take(client, true, 1);
	if (taken.length === 0) return 0;
	const { rows: sums } = await client.query<WatchedItem>(
		`${WATCHED} WHERE item.id = ANY ($1) FOR NO KEY UPDATE OF item SKIP LOCKED`,
		[taken],
	);
	await done(
		client,
		true,
		sums.map(({ id }) => id),
	);
	await renewSums(
		client,
		sums.filter(({ retired }) => !retired),
	);
	return sums.length;
}

const COLUMNS = Object.keys(STATUS_COLUMNS) as (keyof StatusRow)[];
/** JSON's null as that of the database. */
const madeColumn = (column: keyof StatusRow) =>
	STATUS_COLUMNS[column] === 'jsonb' ? `nullif(made.${column}, 'null')` : `made.${column}`;

/** @returns whether any of them ends with another period than before, or came on the list or left it */
async function writeStatuses(client: Queryable, evidence: readonly Evidence[]): Promise<boolean> {
	const rows = evidence.map((each) => ({
		workspace_id: each.item.workspace_id,
		item_id: each.item.id,
		...statusRow(each),
	}));
	const { rows: before } = await client.query<{
		item_id: number;
		last_period: number | null;
		retired: boolean;
	}>(
		`SELECT item_id, last_period, retired FROM item_status WHERE (workspace_id, item_id) IN (
			SELECT workspace_id, id FROM item WHERE id = ANY ($1))`,
		[rows.map(({ item_id }) => item_id)],
	);
	await client.query(
		`INSERT INTO item_status (workspace_id, item_id, ${COLUMNS.join(', ')}, waits, hide_entry_id)
		SELECT made.workspace_id, made.item_id, ${COLUMNS.map(madeColumn).join(', ')},
			coalesce(NOT made.retired AND made.last_period < newest_period.period, false), hide.id
		FROM jsonb_to_recordset($1) AS made (workspace_id bigint, item_id bigint,
			${COLUMNS.map((column) => `${column} ${STATUS_COLUMNS[column]}`).join(', ')})
		LEFT JOIN newest_period USING (workspace_id, frequency)
		LEFT JOIN LATERAL (
			SELECT id, period FROM hide_entry
			WHERE hide_entry.workspace_id = made.workspace_id AND hide_entry.item_id = made.item_id
			ORDER BY id DESC LIMIT 1
		) hide ON hide.period >= coalesce(made.last_period, hide.period)
		ON CONFLICT (workspace_id, item_id) DO UPDATE SET
			${[...COLUMNS, 'waits', 'hide_entry_id'].map((column) => `${column} = excluded.${column}`).join(', ')}`,
		[JSON.stringify(rows)],
	);
	const was = new Map(before.map((row) => [row.item_id, row]));
	return rows.some(({ item_id, last_period, retired }) => {
		const old = was.get(item_id);
		return !old || old.last_period !== last_period || old.retired !== retired;
	});
}

/**
 * Holds what is kept against status made from scratch, of all items that nothing is waiting for.
 * @returns how many were looked at, and the ids of those that differ
 */
export const checkStatus = (): Promise<{ items: number; differ: number[] }> =>
	snapshot(async (client) => {
		const { rows: items } = await client.query<WatchedItem>(
			`${WATCHED} WHERE NOT EXISTS (SELECT 1 FROM status_queue WHERE status_queue.item_id = item.id) ORDER BY item.id`,
		);
		const differ: number[] = [];
		for (let at = 0; at < items.length; at += AT_ONCE) {
			const evidence = await watch(client, items.slice(at, at + AT_ONCE));
			const { rows } = await client.query<StatusRow & { item_id: number }>(
				`SELECT item_id, ${COLUMNS.join(', ')} FROM item_status
				WHERE (workspace_id, item_id) IN (SELECT workspace_id, id FROM item WHERE id = ANY ($1))`,
				[evidence.map(({ item }) => item.id)],
			);
			const kept = new Map(rows.map(({ item_id, ...row }) => [item_id, row]));
			for (const each of evidence) {
				if (canonical(kept.get(each.item.id)) !== canonical(statusRow(each))) differ.push(each.item.id);
			}
		}
		return { items: items.length, differ };
	});

/** Keys in one order, whatever order the database keeps them in. */
const canonical = (value: unknown): string =>
	JSON.stringify(value, (_, each: unknown) =>
		each !== null && typeof each === 'object' && !Array.isArray(each)
			? Object.fromEntries(Object.entries(each).sort(([a], [b]) => (a < b ? -1 : 1)))
			: each,
	) ?? '';

/** Has the status of all items made anew by whoever settles next. */
export async function queueAll(): Promise<void> {
	await transaction(async (client) => {
		await client.query('DELETE FROM newest_period');
		await client.query(`INSERT INTO status_queue (workspace_id, item_id) SELECT workspace_id, id FROM item`);
		await client.query(
			`INSERT INTO status_queue (workspace_id, item_id, sum) SELECT workspace_id, id, true FROM item WHERE sum_of IS NOT NULL`,
		);
	});
}

/** Each period of an item that came in, held against the forecast in force for it, from scratch. */
export const loadGrades = (workspaceId: number, code: string): Promise<ItemGrades> =>
	snapshot(async (client) => {
		const { id } = await findItem(client, workspaceId, code);
		const { rows } = await client.query<WatchedItem>(`${WATCHED} WHERE item.id = $1`, [id]);
		const [evidence] = await watch(client, rows);
		const { records, came, limit } = evidence!;
		const runs = new Set(runsOf(records).values());
		return {
			grades: gradesOf(records, came),
			sizes: Object.fromEntries(
				records.filter((each) => runs.has(each.id)).map(({ id, size }) => [id, size]),
			),
			limit,
		};
	});

/** Hides an item until its next actual, or shows it again. @throws Refusal 409 where actuals came in since they were seen */
export async function hide(actor: Actor, code: string, request: Hide): Promise<Hide> {
	const { workspaceId } = actor;
	const { hidden, words, seen } = request;
	return changing(actor, async (client) => {
		const item = await lockItem(client, workspaceId, code);
		if ((await newestChange(client, workspaceId, item.id)) !== seen)
			throw new Refusal(
				409,
				'Its next actual came in since you opened it. Check it again before you hide it.',
			);
		await client.query(
			`INSERT INTO hide_entry (workspace_id, item_id, period, words)
			VALUES ($1, $2, CASE WHEN $3 THEN coalesce((
				SELECT max(period) FROM actual WHERE workspace_id = $1 AND item_id = $2 AND value IS NOT NULL
			), 0) END, $4)`,
			[workspaceId, item.id, hidden, words],
		);
		return request;
	});
}

/** Sets with which chance an unbiased forecast may be called biased. */
export const setAlarmChance = (actor: Actor, chance: number) =>
	changing(actor, (client) =>
		client.query('UPDATE workspace SET alarm_chance = $2 WHERE id = $1', [actor.workspaceId, chance]),
	);

export async function alarmChance(workspaceId: number, database: Queryable = pool()): Promise<number> {
	const { rows } = await database.query<{ alarm_chance: number }>(
		'SELECT alarm_chance FROM workspace WHERE id = $1',
		[workspaceId],
	);
	return rows[0]!.alarm_chance;
}
