import { newestPeriod, type ReasonCode, REASONS } from '$core/grading/standing';
import { type Frequency, FREQUENCIES } from '$core/series/frequency';
import type { NewestSaid } from '$core/words/standing';
import { showsReason } from './asked-sql';
import { pool, type Queryable, transaction } from './database';
import { LOCKS } from './locks';

/** The period that half or more of the items of a frequency have, and how many have it. */
export type NewestOf = Pick<NewestSaid, 'frequency' | 'period' | 'have' | 'items'>;

/** The newest period of each frequency over all items that are on the list, as it was when they were settled. */
export async function newestPeriods(workspaceId: number, database: Queryable = pool()): Promise<NewestOf[]> {
	const { rows } = await database.query<NewestOf>(
		'SELECT frequency, period, have, items FROM newest_period WHERE workspace_id = $1 ORDER BY items DESC, frequency',
		[workspaceId],
	);
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
			`SELECT workspace_id, frequency, last_period AS last, count(*) AS items FROM standing
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
			`UPDATE standing SET waits = now.waits
			FROM (
				SELECT s.workspace_id, s.item_id, coalesce(NOT s.retired AND s.last_period < n.period, false) AS waits
				FROM standing s LEFT JOIN newest_period n USING (workspace_id, frequency)
			) now
			WHERE now.workspace_id = standing.workspace_id AND now.item_id = standing.item_id AND now.waits <> standing.waits`,
		);
	});
}

/** How the newest period of each frequency stands, frequencies with the most items first. */
export async function newestStandings(
	workspaceId: number,
	database: Queryable = pool(),
): Promise<NewestSaid[]> {
	const newest = await newestPeriods(workspaceId, database);
	const { rows: counts } = await database.query<
		{ frequency: Frequency; graded: number; inside: number } & Record<ReasonCode, number>
	>(
		`SELECT frequency, count(*) FILTER (WHERE newest_period = n.period AND newest_inside IS NOT NULL) AS graded,
			count(*) FILTER (WHERE newest_period = n.period AND newest_inside) AS inside,
			${OWN_REASONS.map((code) => `count(*) FILTER (WHERE ${showsReason(code)}) AS "${code}"`).join(', ')}
		FROM standing JOIN newest_period n USING (workspace_id, frequency)
		WHERE standing.workspace_id = $1 AND NOT retired AND NOT sum
		GROUP BY frequency`,
		[workspaceId],
	);
	return newest.map(({ frequency, ...said }): NewestSaid => {
		const count = counts.find((each) => each.frequency === frequency);
		const reasons = OWN_REASONS.flatMap((code) => (count && count[code] > 0 ? [[code, count[code]]] : []));
		return {
			frequency,
			...said,
			graded: count?.graded ?? 0,
			inside: count?.inside ?? 0,
			reasons: Object.fromEntries(reasons) as NewestSaid['reasons'],
		};
	});
}
