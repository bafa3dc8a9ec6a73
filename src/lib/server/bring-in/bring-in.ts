import type { PoolClient } from 'pg';
import { pool } from '../database/database';
import { insertDataChange } from '../items/actuals';
import { insertRawText } from '../items/raw-texts';
import { copyIn, makeStaging, sayBrought, STAGED_ACTUAL, STAGED_ITEM, takeStaged } from './staging';
import type { TakenTable } from '../threads/tasks';
import { type Asker, threads } from '../threads/threads';
import { type Actor, changing } from '../database/workspaces';

/**
 * Reads a table again, as the browser showed it, and keeps what was asked for: the bytes as they came, new items,
 * new periods, corrections as revisions; all or nothing.
 * @param request bytes of JSON that say what is wanted of it
 * @returns what became of each item, as JSON
 * @throws Refusal with the reading's problem, or with what is wrong about an item
 */
export async function bringIn(
	actor: Actor,
	{ request, content }: { request: Buffer; content: Buffer },
	asker: Asker,
): Promise<string> {
	const table = await threads().run('readTable', { kind: 'items', request, content }, asker);
	return changing(actor, (client) => storeTable(client, actor, table, content));
}

/** Keeps the one series of a text as a new item. @throws Refusal 409 where the code is taken */
export async function bringInNew(
	actor: Actor,
	request: Uint8Array,
	asker: Asker,
): Promise<{ code: string; periods: number }> {
	const table = await threads().run('readTable', { kind: 'new', request, content: null }, asker);
	return changing(actor, async (client) => {
		await storeTable(client, actor, table, Buffer.from(table.content!));
		return table.only!;
	});
}

/** Keeps a table that was read, in a transaction that its caller ends. @returns what became of each item, as JSON */
export async function storeTable(
	client: PoolClient,
	actor: Actor,
	table: TakenTable,
	content: Buffer,
): Promise<string> {
	const { workspaceId } = actor;
	const { fileName, decision, items, figures, only } = table;
	const rawTextId = await insertRawText(client, { workspaceId, fileName, content });
	await makeStaging(client);
	await copyIn(client, STAGED_ITEM, items);
	await copyIn(client, STAGED_ACTUAL, figures);
	const change = () => insertDataChange(client, { workspaceId, rawTextId, reading: decision });
	await takeStaged(client, actor, change, { onlyNew: only !== null });
	return sayBrought(client);
}

/** Codes whose figures are read in one go, so that no more than theirs are held at a time. */
const AT_ONCE = 50;

/**
 * What is kept of items with these codes, for comparing with a table before it is brought in: a JSON list, written by the database
 * and passed on as it comes.
 */
export function storedSeries(workspaceId: number, codes: readonly string[]): ReadableStream<Uint8Array> {
	const encoder = new TextEncoder();
	let at = 0;
	let begun = false;
	return new ReadableStream({
		async pull(controller) {
			const { rows } = await pool().query<{ item: string }>(
				`SELECT json_build_object('code', code, 'name', name, 'unit', unit, 'frequency', frequency, 'labels', (
					SELECT coalesce(json_agg(json_build_array(key, value) ORDER BY key COLLATE "C"), '[]') FROM jsonb_each_text(labels)
				),
					'first', coalesce(extent.first, 1), 'values', coalesce(figures.list, '[]'))::text AS item
				FROM item
				LEFT JOIN LATERAL (
					SELECT min(period) AS first, max(period) AS last FROM actual
					WHERE actual.workspace_id = item.workspace_id AND actual.item_id = item.id
				) extent ON true
				LEFT JOIN LATERAL (
					SELECT json_agg(value ORDER BY ordinal) AS list
					FROM generate_series(extent.first, extent.last) ordinal
					LEFT JOIN latest_actual(item.workspace_id, item.id) ON period = ordinal
				) figures ON true
				WHERE workspace_id = $1 AND code = ANY ($2)`,
				[workspaceId, codes.slice(at, at + AT_ONCE)],
			);
			at += AT_ONCE;
			const part = rows.map(({ item }) => item).join(',');
			const comma = begun && part !== '' ? ',' : '';
			controller.enqueue(encoder.encode(`${at === AT_ONCE ? '[' : ''}${comma}${part}`));
			begun ||= part !== '';
			if (at < codes.length) return;
			controller.enqueue(encoder.encode(']'));
			controller.close();
		},
	});
}
