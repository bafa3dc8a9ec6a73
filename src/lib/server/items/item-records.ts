import type { Frequency } from '$core/series/frequency';
import type { Plan } from '../../wire/items';
import type { Queryable } from '../database/database';
import { Refusal } from '../refusal';

/** What is kept of an item itself. */
export interface ItemRecord {
	id: number;
	code: string;
	name: string;
	unit: string;
	frequency: Frequency;
	season_length: number;
	line_up_version: number;
	retired_at: Date | null;
	carry: Plan['carry'];
	lead_time: number | null;
	price: number | null;
	/** By what they are of. */
	labels: Record<string, string>;
	/** What it is the sum of; null for an item of its own. */
	sum_of: { unit: string; labels: Record<string, string> } | null;
}

const COLUMNS =
	'id, code, name, unit, frequency, season_length, line_up_version, retired_at, carry, lead_time, price, labels, sum_of';

/** The item behind a code. @throws Refusal 404, with the code that it has now where it was renamed */
export async function findItem(
	database: Queryable,
	workspaceId: number,
	code: string,
	lock: '' | 'FOR UPDATE' = '',
): Promise<ItemRecord> {
	const { rows } = await database.query<ItemRecord>(
		`SELECT ${COLUMNS} FROM item WHERE workspace_id = $1 AND code = $2 ${lock}`,
		[workspaceId, code],
	);
	if (rows[0]) return rows[0];
	const { rows: renamed } = await database.query<{ code: string }>(
		`SELECT item.code FROM item_change
		JOIN item ON item.workspace_id = item_change.workspace_id AND item.id = item_change.item_id
		WHERE item_change.workspace_id = $1 AND item_change.code = $2 AND kind = 'renamed' AND item.code <> $2
		ORDER BY item_change.id DESC LIMIT 1`,
		[workspaceId, code],
	);
	const now = renamed[0]?.code;
	throw new Refusal(
		404,
		now === undefined
			? `There is no item “${code.slice(0, 80)}” here. It may have another code; look in the list of items.`
			: `The item “${code.slice(0, 80)}” is called ${now} now.`,
		[],
		null,
		now === undefined ? {} : { code: now },
	);
}

/** The item behind a code, nobody else's until the transaction ends. */
export const lockItem = (client: Queryable, workspaceId: number, code: string): Promise<ItemRecord> =>
	findItem(client, workspaceId, code, 'FOR UPDATE');
