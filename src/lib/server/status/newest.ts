import { type ReasonCode, REASONS } from '$core/grading/reasons';
import { newestPeriod } from '$core/grading/status';
import { type Frequency, FREQUENCIES } from '$core/series/frequency';
import type { NewestSaid } from '$core/words/status';
import { TO_LOOK_AT } from '../items/asked-sql';
import { pool, type Queryable, transaction } from '../database/database';
import { LOCKS } from '../database/locks';

/** The period that half or more of the items of a frequency have, and how many have it. */
export type NewestOf = Pick<NewestSaid, 'frequency' | 'period' | 'have' | 'items'>;

/** The newest period of each frequency over all items that are on the list, as it was when they were settled. */
const newestOf = (workspace: string) =>
	`SELECT frequency, period, have, items FROM newest_period WHERE newest_period.workspace_id = ${workspace}`;
/** Those of a row of `item_status`. */
export const NEWEST_OF = newestOf('item_status.workspace_id');

async function newestPeriods(workspaceId: number, database: Queryable): Promise<NewestOf[]> {
	const { rows } = await database.query<NewestOf>(`${newestOf('$1')} ORDER BY items DESC, frequency`, [
		workspaceId,
	]);
	return rows;
}

/** Those that an item has by itself; which ones wait rests on the others. */
const OWN_REASONS = REASONS.filter((code) => code !== 'not-in');

/** Finds the newest periods anew from how items end, and which items wait for them. */
export async function renewNewest(): Promise<void> {
	await transaction(async (client) => {
		// Two that do this at once would each write what the other has not seen.
		await client.query('SELECT pg_advisory_xact_lock($1)', [LOCKS.newest]);
		const { rows: ends } = await client.query<{
			workspace_id: number;
			frequency: Frequency;
			last: number;
			items: number;
		}>(
			// A plain number of periods is each item's own: nothing says that two of them end together. Sums end as their items do.
			`SELECT workspace_id, frequency, last_period AS last, count(*) AS items FROM item_status
			WHERE NOT retired AND NOT sum AND last_period IS NOT NULL AND frequency <> 'step'
			GROUP BY 1, 2, 3`,
		);
		const found = [...new Set(ends.map(({ workspace_id }) => workspace_id))].flatMap((workspace_id) =>
			FREQUENCIES.flatMap((frequency) => {
				const own = ends.filter((each) => each.workspace_id === workspace_id && each.frequency === frequency);
				const newest = newestPeriod(own);
				return newest ? [{ workspace_id, frequency, ...newest }] : [];
			}),
		);
		await client.query(
			`WITH found AS (
				SELECT * FROM jsonb_to_recordset($1)
					AS found (workspace_id bigint, frequency text, period integer, have integer, items integer)
			), gone AS (
				DELETE FROM newest_period n
				WHERE NOT EXISTS (SELECT FROM found WHERE found.workspace_id = n.workspace_id AND found.frequency = n.frequency)
			)
			INSERT INTO newest_period (workspace_id, frequency, period, have, items)
			SELECT workspace_id, frequency, period, have, items FROM found
			ON CONFLICT (workspace_id, frequency) DO UPDATE SET period = excluded.period, have = excluded.have, items = excluded.items`,
			[JSON.stringify(found)],
		);
		await client.query(
			`UPDATE item_status SET waits = now.waits
			FROM (
				SELECT s.workspace_id, s.item_id, coalesce(NOT s.retired AND s.last_period < n.period, false) AS waits
				FROM item_status s LEFT JOIN newest_period n USING (workspace_id, frequency)
			) now
			WHERE now.workspace_id = item_status.workspace_id AND now.item_id = item_status.item_id AND now.waits <> item_status.waits`,
		);
	});
}

/** Items that stand alike, and how many they are: all that is counted over the list is added up from these. */
export interface Alike {
	method: string | null;
	frequency: Frequency;
	reasons: ReasonCode[];
	retired: boolean;
	sum: boolean;
	look: boolean;
	hidden: boolean;
	waits: boolean;
	/** Of the newest period: whether it had a range, and lay inside it. */
	graded: boolean;
	inside: boolean;
	items: number;
}

export async function loadAlike(workspaceId: number, database: Queryable = pool()): Promise<Alike[]> {
	const { rows } = await database.query<Alike>(
		// Grouped by what stands in an index, and only then held against the newest period.
		`SELECT method, frequency, reasons, retired, sum, look, hidden, waits,
			coalesce(newest_period = n.period AND newest_inside IS NOT NULL, false) AS graded,
			coalesce(newest_period = n.period AND newest_inside, false) AS inside, alike.items
		FROM (
			SELECT workspace_id, method, frequency, why AS reasons, retired, sum, ${TO_LOOK_AT} AS look,
				hide_entry_id IS NOT NULL AS hidden, waits, newest_period, newest_inside, count(*) AS items
			FROM item_status WHERE workspace_id = $1
			GROUP BY 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11
		) alike LEFT JOIN newest_period n USING (workspace_id, frequency)`,
		[workspaceId],
	);
	return rows;
}

/** Whether they show a reason: what `showsReason` asks of the database. */
export const shows = ({ waits, reasons }: Alike, code: ReasonCode): boolean =>
	code === 'not-in' ? waits : reasons.includes(code);

/** How many of them are what is asked for. */
export const countOf = (alike: readonly Alike[], which: (each: Alike) => boolean): number =>
	alike.reduce((sum, each) => sum + (which(each) ? each.items : 0), 0);

/** How the newest period of each frequency stands, frequencies with the most items first. */
export async function newestStatuses(
	workspaceId: number,
	database: Queryable = pool(),
	known?: readonly Alike[],
): Promise<NewestSaid[]> {
	const newest = await newestPeriods(workspaceId, database);
	const alike = (known ?? (await loadAlike(workspaceId, database))).filter(
		({ retired, sum }) => !retired && !sum,
	);
	return newest.map(({ frequency, ...said }): NewestSaid => {
		const own = alike.filter((each) => each.frequency === frequency);
		const reasons = OWN_REASONS.flatMap((code) => {
			const items = countOf(own, (each) => shows(each, code));
			return items > 0 ? [[code, items]] : [];
		});
		return {
			frequency,
			...said,
			graded: countOf(own, ({ graded }) => graded),
			inside: countOf(own, ({ inside }) => inside),
			reasons: Object.fromEntries(reasons) as NewestSaid['reasons'],
		};
	});
}
