import type { Candidate, Settings } from '$core/methods/registry';
import type { LineUp } from '../../wire/items';
import { type Queryable, transaction } from '../database/database';
import { type ItemRecord, lockItem } from './item-records';
import { Refusal } from '../refusal';

/** The line-up of an item in order; empty while nobody has worked on it: the page then begins with what is proposed. */
export async function loadLineUp(
	database: Queryable,
	workspaceId: number,
	itemId: number,
	version: number,
): Promise<LineUp> {
	const { rows } = await database.query<{ id: string; settings: Settings; shown: boolean }>(
		`SELECT id, settings, shown FROM candidate
		WHERE workspace_id = $1 AND item_id = $2
		ORDER BY position`,
		[workspaceId, itemId],
	);
	return {
		version,
		candidates: rows.map(({ id, settings }) => ({ ...settings, id }) as Candidate),
		hidden: rows.filter(({ shown }) => !shown).map(({ id }) => id),
	};
}

/** Puts a line-up in place of the one that is there. */
async function writeCandidates(
	client: Queryable,
	workspaceId: number,
	itemId: number,
	{ candidates, hidden }: Pick<LineUp, 'candidates' | 'hidden'>,
): Promise<void> {
	await client.query('DELETE FROM candidate WHERE workspace_id = $1 AND item_id = $2', [workspaceId, itemId]);
	const rows = candidates.map(({ id, ...settings }) => ({ id, settings, shown: !hidden.includes(id) }));
	await client.query(
		`INSERT INTO candidate (workspace_id, item_id, id, position, settings, shown)
		SELECT $1, $2, id, position - 1, settings::jsonb, shown
		FROM unnest($3::text[], $4::text[], $5::boolean[]) WITH ORDINALITY AS line (id, settings, shown, position)`,
		[
			workspaceId,
			itemId,
			rows.map(({ id }) => id),
			rows.map(({ settings }) => JSON.stringify(settings)),
			rows.map(({ shown }) => shown),
		],
	);
}

/**
 * Keeps a line-up that was made from the version it names.
 * @returns the new version
 * @throws Refusal 409 where somebody kept another one in between; nothing is changed then
 */
export async function saveLineUp(workspaceId: number, code: string, lineUp: LineUp): Promise<number> {
	return transaction(async (client) => {
		const item = await lockItem(client, workspaceId, code);
		if (item.line_up_version !== lineUp.version) {
			throw new Refusal(409, 'This line-up was changed in another window since it was opened here.');
		}
		return saveLineUpIn(client, workspaceId, item, lineUp);
	});
}

/** The same under the item's lock, in a transaction that its caller ends. */
export async function saveLineUpIn(
	client: Queryable,
	workspaceId: number,
	{ id }: Pick<ItemRecord, 'id'>,
	lineUp: LineUp,
): Promise<number> {
	const version = lineUp.version + 1;
	await writeCandidates(client, workspaceId, id, lineUp);
	await client.query('UPDATE item SET line_up_version = $3 WHERE workspace_id = $1 AND id = $2', [
		workspaceId,
		id,
		version,
	]);
	return version;
}
