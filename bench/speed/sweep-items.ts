/** Items for benches of sweeps, made in the database at once. */
import type pg from 'pg';
import { parsePeriod } from '../../src/core/series/period';
import { asTester } from '../../tests/support/database';

/** Months of each item where nothing else is said, and the first of them. */
export const MONTHS = 60;
export const FIRST = parsePeriod('month', '2021-11');

/** What an item has in a month; the same as the SQL below says. */
export const valueOf = (item: number, t: number) =>
	Math.round(
		(100 + (item % 300)) * (1 + (item % 3) * 0.15 * Math.sin(((t + item) * Math.PI) / 6)) +
			(item % 5) * 0.4 * t +
			((t * 7919 + item * 104_729) % 41),
	);

export const codeOf = (item: number): string => `B-${String(item).padStart(6, '0')}`;

/** Makes items as a table would have brought them in. */
export async function makeSeries(client: pg.Client, items: number, months = MONTHS): Promise<void> {
	const { rows } = await client.query<{ id: number }>('SELECT id FROM workspace LIMIT 1');
	await asTester(client, Number(rows[0]!.id));
	await client.query(
		`WITH change AS (
			INSERT INTO data_change (workspace_id) SELECT id FROM workspace RETURNING id, workspace_id
		), made AS (
			INSERT INTO item (workspace_id, code, name, frequency, season_length)
			SELECT workspace.id, 'B-' || lpad(n::text, 6, '0'), 'Part ' || n, 'month', 12
			FROM workspace CROSS JOIN generate_series(0, $1::integer - 1) n
		)
		SELECT FROM change`,
		[items],
	);
	await client.query(
		`INSERT INTO actual (workspace_id, item_id, period, revision, value, data_change_id)
		SELECT item.workspace_id, item.id, $1::integer + t, 1,
			round((100 + n % 300) * (1 + (n % 3) * 0.15 * sin((t + n) * pi() / 6)) + (n % 5) * 0.4 * t + ((t * 7919 + n::bigint * 104729) % 41)),
			(SELECT max(id) FROM data_change)
		FROM item CROSS JOIN LATERAL (SELECT substr(code, 3)::integer AS n) number CROSS JOIN generate_series(0, $2::integer - 1) t`,
		[FIRST, months],
	);
}
