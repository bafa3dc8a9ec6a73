import { accusedSide } from '$core/accuracy/alarm';
import { ranWords } from '$core/words/alarm';
import type { Frequency } from '$core/series/frequency';
import { periodWord } from '$core/series/frequency';
import type { AdoptedMeasures, Attention, Item, ItemChange, ItemRow } from '../shapes';
import { loadSeries, newestChange, spread } from './actuals';
import { loadAdopted } from './adopted';
import { pool, type Queryable, snapshot, transaction } from './database';
import { findItem, lockItem } from './item-records';
import { loadLineUp } from './line-ups';
import { loadItemLayers } from './layer-entries';
import { Refusal } from './refusal';
import type { Actor } from './workspaces';

const RECENT = 48;

/** An item with its figures, line-up and adopted forecast, all as they are at one moment. */
export const loadItem = (workspaceId: number, code: string): Promise<Item> =>
	snapshot(async (client) => {
		const item = await findItem(client, workspaceId, code);
		const series = await loadSeries(workspaceId, item.id, null, client);
		const { rows } = await client.query<{ count: number }>(
			'SELECT count(*) FROM adopted_forecast WHERE workspace_id = $1 AND item_id = $2',
			[workspaceId, item.id],
		);
		const [adopted] = await loadAdopted(client, workspaceId, item.id, { most: 1 });
		return {
			code: item.code,
			name: item.name,
			unit: item.unit,
			series: { ...series, frequency: item.frequency, seasonLength: item.season_length },
			seen: await newestChange(client, workspaceId, item.id),
			layers: await loadItemLayers(client, workspaceId, item.id),
			lineUp: await loadLineUp(client, workspaceId, item.id, item.line_up_version),
			adopted: adopted ?? null,
			adoptedCount: rows[0]!.count,
			retiredAt: item.retired_at?.toISOString() ?? null,
			changes: await loadChanges(client, workspaceId, item.id),
		};
	});

const CHANGES = 50;

async function loadChanges(
	database: Queryable,
	workspaceId: number,
	itemId: number,
): Promise<Item['changes']> {
	const { rows } = await database.query<Item['changes'][number]>(
		`SELECT kind, code, name, unit, reason, created_by AS by, to_json(created_at) #>> '{}' AS at
		FROM item_change WHERE workspace_id = $1 AND item_id = $2 ORDER BY id DESC LIMIT ${CHANGES}`,
		[workspaceId, itemId],
	);
	return rows;
}

/**
 * Renames an item, retires it, or brings it back; the database writes down what it was.
 * @throws Refusal 409 where it was changed since its changer looked, or the code is taken
 */
export async function changeItem(actor: Actor, code: string, change: ItemChange): Promise<Item> {
	const { workspaceId, name: by } = actor;
	const now = await transaction(async (client) => {
		const item = await lockItem(client, workspaceId, code);
		const { seen } = change;
		if (
			item.code !== seen.code ||
			item.name !== seen.name ||
			item.unit !== seen.unit ||
			(item.retired_at !== null) !== seen.retired
		) {
			throw new Refusal(
				409,
				`It was changed since it was looked at: it is ${item.code}, ${item.name}${item.unit && `, in ${item.unit}`}${item.retired_at ? ', retired' : ''} now. Look once more.`,
			);
		}
		const wanted = {
			code: change.code ?? item.code,
			name: change.name ?? item.name,
			unit: change.unit ?? item.unit,
		};
		if (wanted.code !== item.code) await refuseTakenCode(client, workspaceId, wanted.code);
		const retired = change.retired ?? seen.retired;
		await client.query(`SELECT set_config('ventrel.by', $1, true), set_config('ventrel.reason', $2, true)`, [
			by,
			change.reason,
		]);
		await client.query(
			`UPDATE item SET code = $3, name = $4, unit = $5,
				retired_at = CASE WHEN $6 THEN coalesce(retired_at, now()) END
			WHERE workspace_id = $1 AND id = $2`,
			[workspaceId, item.id, wanted.code, wanted.name, wanted.unit, retired],
		);
		return wanted.code;
	});
	return loadItem(workspaceId, now);
}

async function refuseTakenCode(client: Queryable, workspaceId: number, code: string): Promise<void> {
	const { rows } = await client.query<{ name: string }>(
		'SELECT name FROM item WHERE workspace_id = $1 AND code = $2',
		[workspaceId, code],
	);
	if (!rows[0]) return;
	const message = `The code ${code} is taken by ${rows[0].name}. Choose another one.`;
	throw new Refusal(409, message, [{ path: 'code', message }]);
}

interface ListRow {
	code: string;
	name: string;
	unit: string;
	frequency: Frequency;
	periods: number;
	recent: { period: number; value: number | null }[] | null;
	label: string | null;
	origin: number | null;
	measures: AdoptedMeasures | null;
	means: number[] | null;
	retired: boolean;
}

/** All items, those that need attention first, then by code; retired ones last. */
export async function listItems(workspaceId: number): Promise<ItemRow[]> {
	const { rows } = await pool().query<ListRow>(
		`SELECT item.code, item.name, item.unit, item.frequency, item.retired_at IS NOT NULL AS retired,
			extent.periods, latest.recent, adopted.label, adopted.origin, adopted.measures, steps.means
		FROM item
		LEFT JOIN LATERAL (
			SELECT max(period) - min(period) + 1 AS periods
			FROM actual WHERE actual.workspace_id = item.workspace_id AND actual.item_id = item.id
		) extent ON true
		LEFT JOIN LATERAL (
			SELECT json_agg(json_build_object('period', period, 'value', value) ORDER BY period) AS recent
			FROM (
				SELECT DISTINCT ON (period) period, value
				FROM actual
				WHERE actual.workspace_id = item.workspace_id AND actual.item_id = item.id
				ORDER BY period DESC, revision DESC
				LIMIT ${RECENT}
			) newest
		) latest ON true
		LEFT JOIN LATERAL (
			SELECT id, label, origin, measures
			FROM adopted_forecast f
			WHERE f.workspace_id = item.workspace_id AND f.item_id = item.id
			ORDER BY id DESC
			LIMIT 1
		) adopted ON true
		LEFT JOIN LATERAL (
			SELECT json_agg(mean ORDER BY step) AS means
			FROM adopted_step s
			WHERE s.workspace_id = item.workspace_id AND s.adopted_forecast_id = adopted.id AND s.step <= 12
		) steps ON true
		WHERE item.workspace_id = $1
		ORDER BY item.code`,
		[workspaceId],
	);
	const listed = rows.map(listRow);
	const place = ({ retired, attention }: ItemRow) => (retired ? 2 : attention ? 0 : 1);
	// Sorting keeps the order of the codes.
	return listed.sort((a, b) => place(a) - place(b));
}

function listRow(row: ListRow): ItemRow {
	const { first, values } = spread(row.recent ?? []);
	const measures = row.measures;
	const adopted: ItemRow['adopted'] =
		row.label !== null && measures
			? {
					label: row.label,
					means: row.means ?? [],
					nextPeriod: row.origin! + 1,
					mad: measures.mad,
					mape: measures.mape,
					bias: measures.bias,
					trackingSignal: measures.trackingSignal,
					runs: accusedSide(measures.alarm),
				}
			: null;
	return {
		code: row.code,
		name: row.name,
		unit: row.unit,
		frequency: row.frequency,
		periods: row.periods ?? 0,
		last: first + values.length - 1,
		recent: values,
		adopted,
		attention: row.retired ? null : attentionOf(row, adopted, values),
		retired: row.retired,
	};
}

function attentionOf(
	row: ListRow,
	adopted: ItemRow['adopted'],
	values: readonly (number | null)[],
): Attention | null {
	if (adopted?.runs) return { code: 'drifting', text: ranWords(adopted.runs) };
	if (!adopted) return { code: 'not-adopted', text: 'no forecast adopted yet' };
	if (values.at(-1) === null)
		return { code: 'ends-in-gap', text: `the last ${periodWord(row.frequency, 1)} is missing` };
	return null;
}
