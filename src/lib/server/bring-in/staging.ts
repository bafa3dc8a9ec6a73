import { finished } from 'node:stream/promises';
import type pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { BOUNDS, written } from '$core/bounds';
import { type Frequency, periodWord } from '$core/series/frequency';
import type { Duplicates } from '../../reading/choices';
import type { Filled } from '../../reading/orders';
import { Refusal } from '../refusal';
import type { Actor } from '../database/workspaces';

/** Where the rows of a table wait, by the columns that they are brought in by. */
export const STAGED_ITEM = 'staged_item (number, code, name, unit, frequency, season_length, labels)';
export const STAGED_ACTUAL = 'staged_actual (number, period, value)';

/**
 * Makes the place where figures wait until all of a table is read: they are seen by nobody else, and gone with the
 * transaction.
 */
export async function makeStaging(client: pg.ClientBase): Promise<void> {
	await client.query(`
		CREATE TEMPORARY TABLE staged_item (
			number integer PRIMARY KEY, code text NOT NULL, name text NOT NULL, unit text NOT NULL,
			frequency text NOT NULL, season_length integer NOT NULL, labels jsonb NOT NULL, item_id bigint, created boolean NOT NULL DEFAULT false
		) ON COMMIT DROP;
		CREATE TEMPORARY TABLE staged_actual (
			number integer NOT NULL, period integer NOT NULL, value double precision,
			-- The order in which they came: which of several is the last must not rest on where rows happen to lie.
			place bigint GENERATED ALWAYS AS IDENTITY
		) ON COMMIT DROP`);
}

/** Brings rows of COPY's text into a table. @param target the table with its columns */
export async function copyIn(client: pg.ClientBase, target: string, rows: Uint8Array): Promise<void> {
	if (rows.length === 0) return;
	const copy = client.query(copyFrom(`COPY ${target} FROM STDIN`));
	copy.end(rows);
	await finished(copy);
}

/** Makes the staged items, from a number on, whose codes are free; in the order of their codes. */
const MAKE = `WITH made AS (
	INSERT INTO item (workspace_id, code, name, unit, frequency, season_length, labels)
	SELECT $1, code, name, unit, frequency, season_length, labels
	FROM staged_item WHERE number >= $2 AND item_id IS NULL
	ORDER BY code
	ON CONFLICT (workspace_id, code) DO NOTHING
	RETURNING id, code
)`;

async function createItems(client: pg.ClientBase, { workspaceId }: Actor): Promise<void> {
	await client.query(
		`${MAKE} UPDATE staged_item SET item_id = made.id, created = true FROM made WHERE staged_item.code = made.code`,
		[workspaceId, 0],
	);
}

/**
 * Makes the staged items whose codes are free and takes them out of the staging: their figures go where they belong at once.
 * @returns their ids by number
 */
export async function takeCreated(
	client: pg.ClientBase,
	{ workspaceId }: Actor,
	from: number,
): Promise<{ number: number; id: number }[]> {
	const { rows } = await client.query<{ number: number; id: number }>(
		`${MAKE} DELETE FROM staged_item USING made
		WHERE staged_item.number >= $2 AND staged_item.code = made.code RETURNING number, made.id`,
		[workspaceId, from],
	);
	return rows;
}

const COMBINED: Readonly<Record<Duplicates, string>> = {
	sum: 'sum(value)',
	mean: 'avg(value)',
	last: '(array_agg(value ORDER BY place DESC) FILTER (WHERE value IS NOT NULL))[1]',
};

/** Puts figures of one period together, where a table may hold several. */
export async function combineStaged(client: pg.ClientBase, duplicates: Duplicates): Promise<void> {
	await client.query(`
		CREATE TEMPORARY TABLE combined ON COMMIT DROP AS
			SELECT number, period, ${COMBINED[duplicates]} AS value FROM staged_actual GROUP BY number, period;
		DROP TABLE staged_actual;
		ALTER TABLE combined RENAME TO staged_actual`);
}

/** Gives items of the staging, and those that were made of it, labels that came after them. @param labels rows of code and labels */
export async function labelStaged(
	client: pg.ClientBase,
	{ workspaceId }: Actor,
	labels: Uint8Array,
): Promise<void> {
	await client.query('CREATE TEMPORARY TABLE staged_label (code text, labels jsonb) ON COMMIT DROP');
	await copyIn(client, 'staged_label (code, labels)', labels);
	await client.query(
		'UPDATE staged_item SET labels = staged_label.labels FROM staged_label WHERE staged_item.code = staged_label.code',
	);
	// Those that this transaction made, and nobody has seen yet.
	await client.query(
		`UPDATE item SET labels = staged_label.labels FROM staged_label
		WHERE workspace_id = $1 AND item.code = staged_label.code AND item.created_at = now()`,
		[workspaceId],
	);
}

/** Gives the lines of orders the periods that they fill: from each item's first to the last that is over. */
export async function fillStaged(client: pg.ClientBase, { from, to, zeros }: Filled): Promise<void> {
	await client.query('DELETE FROM staged_actual WHERE period NOT BETWEEN $1 AND $2', [from, to]);
	if (zeros)
		await client.query(
			`INSERT INTO staged_actual (number, period, value)
			SELECT number, ordinal, 0
			FROM (SELECT number, min(period) AS first FROM staged_actual GROUP BY number) item, generate_series(first, $1) ordinal
			WHERE NOT EXISTS (
				SELECT 1 FROM staged_actual there WHERE there.number = item.number AND there.period = ordinal
			)`,
			[to],
		);
	await client.query(
		'DELETE FROM staged_item WHERE NOT EXISTS (SELECT 1 FROM staged_actual WHERE staged_actual.number = staged_item.number)',
	);
}

/**
 * Takes staged figures over: new items are created, new periods added, and a figure that differs from the one that
 * is kept becomes its next revision. A blank never takes a figure away. Where no figure was kept, in a row or without one, a figure
 * counts as added, a blank as the same, as in the preview (`compareItem`). What became of each item stands in `brought`
 * afterwards, in the order of the table.
 *
 * Items are created and locked in the order of their codes, so that two people who bring in the same items at once
 * wait for each other in turn, and the second one's figures are compared with the first one's. Their change is made under these
 * locks, so that changes of an item have ids in the order in which they came in.
 * @param makeChange puts the change on record; asked once, where there is something to be taken
 */
export async function takeStaged(
	client: pg.ClientBase,
	actor: Actor,
	makeChange: () => Promise<number>,
	{ onlyNew = false } = {},
): Promise<void> {
	const { workspaceId } = actor;
	await client.query('ANALYZE staged_item; ANALYZE staged_actual');
	await createItems(client, actor);
	if (onlyNew) await refuseTaken(client);
	await linkExisting(client, workspaceId);
	await labelExisting(client, actor);
	const { rows: waiting } = await client.query('SELECT 1 FROM staged_item LIMIT 1');
	const dataChangeId = waiting.length > 0 ? await makeChange() : 0;
	await client.query(
		`INSERT INTO actual (workspace_id, item_id, period, revision, value, data_change_id)
		SELECT $1, item_id, period, 1, value, $2
		FROM staged_actual JOIN staged_item USING (number)
		WHERE created
		ORDER BY item_id, period`,
		[workspaceId, dataChangeId],
	);
	await client.query(
		`CREATE TEMPORARY TABLE brought (
			number integer, code text, created boolean, added bigint, corrected bigint, same bigint
		) ON COMMIT DROP`,
	);
	await client.query(
		`WITH compared AS (
			SELECT number, item_id, staged_actual.period, staged_actual.value, latest.revision, latest.value AS kept
			FROM staged_actual
			JOIN staged_item USING (number)
			LEFT JOIN LATERAL (
				SELECT revision, value FROM actual
				WHERE workspace_id = $1 AND actual.item_id = staged_item.item_id AND actual.period = staged_actual.period
				ORDER BY revision DESC LIMIT 1
			) latest ON true
			WHERE NOT created
				AND (latest.revision IS NULL OR staged_actual.value IS NOT NULL AND staged_actual.value IS DISTINCT FROM latest.value)
		), put AS (
			INSERT INTO actual (workspace_id, item_id, period, revision, value, data_change_id)
			SELECT $1, item_id, period, coalesce(revision, 0) + 1, value, $2 FROM compared
			RETURNING item_id
		), counted AS (
			SELECT item_id, count(*) FILTER (WHERE kept IS NULL AND value IS NOT NULL) AS added,
				count(*) FILTER (WHERE kept IS NOT NULL) AS corrected
			FROM compared GROUP BY item_id
		), staged AS (
			SELECT number, count(*) AS figures FROM staged_actual GROUP BY number
		), became AS (
			SELECT number, code, created, coalesce(figures, 0) AS figures,
				CASE WHEN created THEN coalesce(figures, 0) ELSE coalesce(added, 0) END AS added,
				coalesce(corrected, 0) AS corrected
			FROM staged_item
			LEFT JOIN staged USING (number)
			LEFT JOIN counted USING (item_id)
		)
		INSERT INTO brought SELECT number, code, created, added, corrected, figures - added - corrected FROM became`,
		[workspaceId, dataChangeId],
	);
	await refuseTooLong(client, workspaceId);
}

/** What became of each item, as JSON that the database writes. */
export async function sayBrought(client: pg.ClientBase): Promise<string> {
	const { rows } = await client.query<{ said: string }>(
		`SELECT coalesce(json_agg(json_build_object('code', code, 'created', created, 'added', added,
			'corrected', corrected, 'same', same) ORDER BY number), '[]')::text AS said
		FROM brought`,
	);
	return rows[0]!.said;
}

/** What became of all items together. */
export async function countBrought(
	client: pg.ClientBase,
): Promise<{ created: number; added: number; corrected: number; same: number }> {
	const { rows } = await client.query<{ created: number; added: number; corrected: number; same: number }>(
		`SELECT count(*) FILTER (WHERE created) AS created, coalesce(sum(added), 0)::bigint AS added,
			coalesce(sum(corrected), 0)::bigint AS corrected, coalesce(sum(same), 0)::bigint AS same
		FROM brought`,
	);
	return rows[0]!;
}

/** @throws Refusal 409 where an item of that code was there before */
async function refuseTaken(client: pg.ClientBase): Promise<void> {
	const { rows } = await client.query<{ code: string }>(
		'SELECT code FROM staged_item WHERE NOT created LIMIT 1',
	);
	if (!rows[0]) return;
	const message = `There is already an item with the code ${rows[0].code}. Choose another code; nothing was stored.`;
	throw new Refusal(409, message, [{ path: 'code', message }]);
}

/** Finds and locks the items that were there before, and refuses figures at another frequency. */
async function linkExisting(client: pg.ClientBase, workspaceId: number): Promise<void> {
	await client.query(
		`WITH locked AS (
			SELECT item.id, item.code FROM item
			JOIN staged_item USING (code)
			WHERE item.workspace_id = $1 AND NOT staged_item.created
			ORDER BY item.code
			FOR UPDATE OF item
		)
		UPDATE staged_item SET item_id = locked.id FROM locked WHERE staged_item.code = locked.code`,
		[workspaceId],
	);
	const { rows: sums } = await client.query<{ code: string }>(
		`SELECT staged_item.code FROM staged_item JOIN item ON item.workspace_id = $1 AND item.id = staged_item.item_id
		WHERE item.sum_of IS NOT NULL ORDER BY number LIMIT 1`,
		[workspaceId],
	);
	if (sums[0])
		throw new Refusal(
			422,
			`${sums[0].code} is the sum of other items, and its figures come from theirs. Leave it out, or give it another code. Nothing was stored.`,
		);
	const { rows } = await client.query<{ code: string; kept: Frequency; given: Frequency }>(
		`SELECT staged_item.code, item.frequency AS kept, staged_item.frequency AS given
		FROM staged_item JOIN item ON item.workspace_id = $1 AND item.id = staged_item.item_id
		WHERE item.frequency <> staged_item.frequency
		ORDER BY number LIMIT 20`,
		[workspaceId],
	);
	if (rows.length === 0) return;
	const issues = rows.map(({ code, kept, given }) => ({
		path: `items.${code}`,
		message: `${code} is saved by the ${periodWord(kept, 1)}, and the table is by the ${periodWord(given, 1)}`,
	}));
	throw new Refusal(
		422,
		`${issues[0]!.message}. Leave it out, or read the table at the item's own frequency. Nothing was stored.`,
		issues,
	);
}

/** Gives items that were there before the labels that the table says; what it says nothing of stays. */
async function labelExisting(client: pg.ClientBase, { workspaceId }: Actor): Promise<void> {
	const { rows } = await client.query<{ code: string }>(
		`SELECT staged_item.code FROM staged_item JOIN item ON item.workspace_id = $1 AND item.id = staged_item.item_id
		WHERE NOT created AND (SELECT count(*) FROM jsonb_object_keys(item.labels || staged_item.labels)) > $2
		LIMIT 1`,
		[workspaceId, BOUNDS.labels],
	);
	if (rows[0])
		throw new Refusal(
			422,
			`With the labels of this table ${rows[0].code} would have more than ${BOUNDS.labels}. Leave out a column of labels, or take some off the item. Nothing was stored.`,
		);
	await client.query(
		`UPDATE item SET labels = item.labels || staged_item.labels FROM staged_item
		WHERE item.workspace_id = $1 AND item.id = staged_item.item_id AND NOT created
			AND NOT item.labels @> staged_item.labels`,
		[workspaceId],
	);
}

/** Periods added to an item may lie far from those that it has. */
async function refuseTooLong(client: pg.ClientBase, workspaceId: number): Promise<void> {
	const { rows } = await client.query<{ code: string; periods: number }>(
		`SELECT brought.code, max(period) - min(period) + 1 AS periods
		FROM brought
		JOIN staged_item USING (number)
		JOIN actual ON actual.workspace_id = $1 AND actual.item_id = staged_item.item_id
		WHERE NOT brought.created AND brought.added > 0
		GROUP BY brought.code HAVING max(period) - min(period) >= $2
		LIMIT 1`,
		[workspaceId, BOUNDS.periods],
	);
	const row = rows[0];
	if (!row) return;
	throw new Refusal(
		422,
		`With these figures ${row.code} would run over ${written(row.periods)} periods; an item holds at most ${written(BOUNDS.periods)}. Check the periods of the table. Nothing was stored.`,
	);
}
