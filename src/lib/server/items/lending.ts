import { diagnoseSeason } from '$core/diagnosis/diagnosis';
import { formatPeriod } from '$core/series/period';
import type { GroupInput } from '$core/series/series';
import { labelName } from '../../wire/asked';
import { pairsOf } from '../../wire/labels';
import { addUp, loadParts } from './adding-up';
import type { Queryable } from '../database/database';
import type { SeenItem } from './seen';

/** What items that are too new to show a season are lent by the groups that they belong to. */

/** An item with fewer cycles than these is lent to, one with as many lends; at least so many have to, the oldest so many do. */
const OWN_CYCLES = 3;
const LEAST_LENDERS = 3;
const MOST_LENDERS = 200;
/** Cycles of a group that are handed out. */
const CYCLES_LENT = 6;

/**
 * The same items; those that know fewer than three cycles of their own with what the others of a group come to. Of the groups that
 * an item belongs to it is the one with the strongest season.
 */
export async function withGroups<Item extends Pick<SeenItem, 'item' | 'seen'>>(
	client: Queryable,
	workspaceId: number,
	items: readonly Item[],
): Promise<Item[]> {
	const known = new Map<string, Promise<Lender | null>>();
	const lenderOf = (item: SeenItem['item'], label: readonly [string, string]) => {
		const { frequency, season_length, unit } = item;
		const key = JSON.stringify([label, frequency, season_length, unit]);
		const found = known.get(key) ?? loadLender(client, workspaceId, item, label);
		known.set(key, found);
		return found;
	};
	const lent: Item[] = [];
	for (const each of items) {
		let best: Lender | null = null;
		if (isNew(each))
			for (const label of pairsOf(each.item.labels)) {
				const lender = await lenderOf(each.item, label);
				if (lender && lender.strength > (best?.strength ?? 0)) best = lender;
			}
		lent.push(best ? { ...each, seen: { ...each.seen, group: best.group } } : each);
	}
	return lent;
}

const isNew = ({ seen: { actuals, seasonLength } }: Pick<SeenItem, 'seen'>) =>
	seasonLength > 1 && actuals.values.length > 0 && actuals.values.length < OWN_CYCLES * seasonLength;

interface Lender {
	group: GroupInput;
	/** Of its season, 0 … 1. */
	strength: number;
}

/** What the items with a label come to that count as this one does and know their season; null where they show none. */
async function loadLender(
	client: Queryable,
	workspaceId: number,
	{ frequency, season_length: seasonLength, unit }: SeenItem['item'],
	[of, is]: readonly [string, string],
): Promise<Lender | null> {
	const { rows } = await client.query<{ id: number }>(
		`SELECT id FROM item
		WHERE workspace_id = $1 AND frequency = $2 AND season_length = $3 AND unit = $4 AND labels ->> $5 = $6
			AND sum_of IS NULL AND retired_at IS NULL
		ORDER BY id LIMIT $7`,
		[workspaceId, frequency, seasonLength, unit, of, is, MOST_LENDERS],
	);
	const parts = await loadParts(
		client,
		workspaceId,
		rows.map(({ id }) => id),
	);
	const lenders = parts.filter(({ first, last }) => last - first + 1 >= OWN_CYCLES * seasonLength);
	if (lenders.length < LEAST_LENDERS) return null;
	const { first, values } = await addUp(client, workspaceId, seasonLength, lenders);
	const lent = values.slice(-CYCLES_LENT * seasonLength);
	const { season } = diagnoseSeason(lent, { frequency, expected: seasonLength, only: true });
	if (!season) return null;
	const start = formatPeriod(frequency, first + values.length - lent.length);
	return { group: { name: labelName(of, is), values: lent, start }, strength: season.strength };
}
