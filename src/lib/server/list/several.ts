import type { Several } from '../../wire/list';
import { Bound, namedItems } from '../items/asked-sql';
import { Refusal } from '../refusal';
import { type Actor, changing } from '../database/workspaces';

/** The items that a statement is about. */
const NAMED = 'named';

/** A change as a statement over `named`, whose values are bound. */
function statementOf({ workspaceId }: Actor, { change, reason }: Several, bound: Bound): string {
	const workspace = () => bound.of(workspaceId);
	const layerEntry = (kind: string, setting: unknown) =>
		`INSERT INTO layer_entry (workspace_id, item_id, kind, setting)
		SELECT ${workspace()}::bigint, item_id, ${bound.of(kind)}, ${bound.of(setting === null ? null : JSON.stringify(setting))}::jsonb
			FROM ${NAMED} ORDER BY item_id`;
	const update = (what: string) =>
		`UPDATE item SET ${what} FROM ${NAMED} WHERE item.workspace_id = ${workspace()} AND item.id = ${NAMED}.item_id`;
	if ('hidden' in change)
		return `INSERT INTO hide_entry (workspace_id, item_id, period, words)
			SELECT ${workspace()}::bigint, ${NAMED}.item_id, CASE WHEN ${bound.of(change.hidden)} THEN coalesce((
				SELECT max(period) FROM actual a
				WHERE a.workspace_id = ${workspace()} AND a.item_id = ${NAMED}.item_id AND value IS NOT NULL
			), 0) END, ${bound.of(reason)} FROM ${NAMED} ORDER BY ${NAMED}.item_id`;
	if ('seasonLength' in change) return layerEntry('season-length', change.seasonLength);
	if ('gapRule' in change) return layerEntry('gap-rule', change.gapRule);
	if ('leadTime' in change) return update(`lead_time = ${bound.of(change.leadTime)}::integer`);
	if ('carry' in change) return update(`carry = ${bound.of(change.carry)}`);
	if ('retired' in change) return update('retired_at = now()');
	const { of, is } = change.label;
	return update(
		is === ''
			? `labels = labels - ${bound.of(of)}::text`
			: `labels = labels || jsonb_build_object(${bound.of(of)}::text, ${bound.of(is)}::text)`,
	);
}

/**
 * Does something to several items at once: to all of them, or to none.
 * @returns how many
 * @throws Refusal 422 where there is no such item
 */
export const changeSeveral = (actor: Actor, asked: Several): Promise<{ items: number }> =>
	changing(
		actor,
		async (client) => {
			const which = new Bound();
			// Locked in one order, so that two that change many do not wait for each other in a ring.
			const { rows } = await client.query<{ id: number }>(
				`SELECT id FROM item WHERE id IN (
				SELECT item_id FROM (${namedItems(actor.workspaceId, asked.items, which)}) wanted
			) ORDER BY id FOR NO KEY UPDATE`,
				which.values,
			);
			if (rows.length === 0) throw new Refusal(422, 'No item fits, so there is nothing to change.');
			const bound = new Bound();
			const ids = bound.of(rows.map(({ id }) => id));
			const statement = statementOf(actor, asked, bound);
			await client.query(
				`WITH ${NAMED} AS (SELECT unnest(${ids}::bigint[]) AS item_id) ${statement}`,
				bound.values,
			);
			return { items: rows.length };
		},
		asked.reason,
	);
