import type pg from 'pg';
import { BOUNDS, written } from '$core/bounds';
import { type Frequency, periodWord } from '$core/series/frequency';
import type { Duplicates } from '../reading/lay';
import type { BroughtIn } from '../shapes';
import { Refusal } from './refusal';
import type { Actor } from './workspaces';

/** An item on its way in, by its number within the table that it came in. */
export interface StagedItem {
	number: number;
	code: string;
	name: string;
	unit: string;
	frequency: Frequency;
	seasonLength: number;
}

/**
 * Makes the place where figures wait until all of a table is read: they are seen by nobody else, and gone with the
 * transaction.
 */
export async function makeStaging(client: pg.ClientBase): Promise<void> {
	await client.query(`
		CREATE TEMPORARY TABLE staged_item (
			number integer PRIMARY KEY, code text NOT NULL, name text NOT NULL, unit text NOT NULL,
			frequency text NOT NULL, season_length integer NOT NULL, item_id bigint, created boolean NOT NULL DEFAULT false
		) ON COMMIT DROP;
		CREATE TEMPORARY TABLE staged_actual (
			number integer NOT NULL, period integer NOT NULL, value double precision
		) ON COMMIT DROP`);
}

async function stageItems(client: pg.ClientBase, items: readonly StagedItem[]): Promise<void> {
	const column = (key: keyof StagedItem) => items.map((item) => item[key]);
	await client.query(
		`INSERT INTO staged_item (number, code, name, unit, frequency, season_length)
		SELECT * FROM unnest($1::integer[], $2::text[], $3::text[], $4::text[], $5::text[], $6::integer[])`,
		[
			column('number'),
			column('code'),
			column('name'),
			column('unit'),
			column('frequency'),
			column('seasonLength'),
		],
	);
}

export async function stageFigures(
	client: pg.ClientBase,
	figures: { numbers: number[]; periods: number[]; values: (number | null)[] },
): Promise<void> {
	await client.query(
		`INSERT INTO staged_actual (number, period, value)
		SELECT * FROM unnest($1::integer[], $2::integer[], $3::double precision[])`,
		[figures.numbers, figures.periods, figures.values],
	);
}

/**
 * Makes the items whose codes are free.
 * @returns the ids of those that were made, by code
 */
export async function createItems(
	client: pg.ClientBase,
	{ workspaceId, name: by }: Actor,
	items: readonly StagedItem[],
): Promise<Map<string, number>> {
	const column = (key: keyof StagedItem) => items.map((item) => item[key]);
	const { rows } = await client.query<{ id: number; code: string }>(
		`INSERT INTO item (workspace_id, code, name, unit, frequency, season_length, created_by)
		SELECT $1, code, name, unit, frequency, season_length, $2
		FROM unnest($3::text[], $4::text[], $5::text[], $6::text[], $7::integer[])
			AS given (code, name, unit, frequency, season_length)
		ORDER BY code
		ON CONFLICT (workspace_id, code) DO NOTHING
		RETURNING id, code`,
		[
			workspaceId,
			by,
			column('code'),
			column('name'),
			column('unit'),
			column('frequency'),
			column('seasonLength'),
		],
	);
	return new Map(rows.map(({ id, code }) => [code, id]));
}

const COMBINED: Readonly<Record<Duplicates, string>> = {
	sum: 'sum(value)',
	mean: 'avg(value)',
	// Rows keep the order they were staged in.
	last: '(array_agg(value ORDER BY ctid DESC) FILTER (WHERE value IS NOT NULL))[1]',
};

/** Puts figures of one period together, where a table may hold several. */
export async function combineStaged(client: pg.ClientBase, duplicates: Duplicates): Promise<void> {
	await client.query(`
		CREATE TEMPORARY TABLE combined ON COMMIT DROP AS
			SELECT number, period, ${COMBINED[duplicates]} AS value FROM staged_actual GROUP BY number, period;
		DROP TABLE staged_actual;
		ALTER TABLE combined RENAME TO staged_actual`);
}

/**
 * Takes staged figures over: new items are created, new periods added, and a figure that differs from the one that
 * is kept becomes its next revision. A blank never takes a figure away.
 *
 * Items are created and locked in the order of their codes, so that two people who bring in the same items at once
 * wait for each other in turn, and the second one's figures are compared with the first one's.
 * @param items what the staged figures are of, by number
 * @returns what became of each item, in the order of the table
 */
export async function takeStaged(
	client: pg.ClientBase,
	actor: Actor,
	dataChangeId: number,
	items: readonly StagedItem[],
	{ onlyNew = false } = {},
): Promise<BroughtIn[]> {
	const { workspaceId } = actor;
	await stageItems(client, items);
	await client.query('ANALYZE staged_item; ANALYZE staged_actual');
	const created = await createItems(client, actor, items);
	await client.query(
		`UPDATE staged_item SET item_id = made.id, created = true
		FROM unnest($1::bigint[], $2::text[]) AS made (id, code) WHERE staged_item.code = made.code`,
		[[...created.values()], [...created.keys()]],
	);
	if (onlyNew) await refuseTaken(client);
	await linkExisting(client, workspaceId);
	await client.query(
		`INSERT INTO actual (workspace_id, item_id, period, revision, value, data_change_id)
		SELECT $1, item_id, period, 1, value, $2
		FROM staged_actual JOIN staged_item USING (number)
		WHERE created
		ORDER BY item_id, period`,
		[workspaceId, dataChangeId],
	);
	const { rows } = await client.query<{
		number: number;
		code: string;
		created: boolean;
		added: number;
		corrected: number;
		figures: number;
	}>(
		`WITH compared AS (
			SELECT number, item_id, staged_actual.period, staged_actual.value, latest.revision
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
			RETURNING item_id, revision
		), counted AS (
			SELECT item_id, count(*) FILTER (WHERE revision = 1) AS added, count(*) FILTER (WHERE revision > 1) AS corrected
			FROM put GROUP BY item_id
		), staged AS (
			SELECT number, count(*) AS figures FROM staged_actual GROUP BY number
		)
		SELECT number, code, created, coalesce(figures, 0) AS figures,
			CASE WHEN created THEN coalesce(figures, 0) ELSE coalesce(added, 0) END AS added, coalesce(corrected, 0) AS corrected
		FROM staged_item
		LEFT JOIN staged USING (number)
		LEFT JOIN counted USING (item_id)
		ORDER BY number`,
		[workspaceId, dataChangeId],
	);
	const grown = rows.filter((row) => !row.created && row.added > 0).map(({ code }) => code);
	await refuseTooLong(client, workspaceId, grown);
	return rows.map(({ code, created: isNew, added, corrected, figures }) => ({
		code,
		created: isNew,
		added,
		corrected,
		same: figures - added - corrected,
	}));
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
		message: `${code} is kept by the ${periodWord(kept, 1)}, and the table is by the ${periodWord(given, 1)}`,
	}));
	throw new Refusal(
		422,
		`${issues[0]!.message}. Leave it out, or read the table at the item's own frequency. Nothing was stored.`,
		issues,
	);
}

/** Periods added to an item may lie far from those that it has. */
async function refuseTooLong(
	client: pg.ClientBase,
	workspaceId: number,
	codes: readonly string[],
): Promise<void> {
	if (codes.length === 0) return;
	const { rows } = await client.query<{ code: string; periods: number }>(
		`SELECT code, max(period) - min(period) + 1 AS periods
		FROM item JOIN actual ON actual.workspace_id = item.workspace_id AND actual.item_id = item.id
		WHERE item.workspace_id = $1 AND code = ANY ($2)
		GROUP BY code HAVING max(period) - min(period) >= $3
		LIMIT 1`,
		[workspaceId, codes, BOUNDS.periods],
	);
	const row = rows[0];
	if (!row) return;
	throw new Refusal(
		422,
		`With these figures ${row.code} would run over ${row.periods.toLocaleString('en')} periods; an item holds at most ${written(BOUNDS.periods)}. Check the periods of the table. Nothing was stored.`,
	);
}
