import { RUNNING_LIMIT } from '$core/accuracy/tracking';
import type { Measures } from '$core/accuracy/measures';
import type { Frequency } from '$core/series/frequency';
import { periodWord } from '$core/series/frequency';
import type { Attention, Item, ItemRow } from '../shapes';
import { loadSeries, spread } from './actuals';
import { loadAdopted, newestChange } from './adopted';
import { pool } from './database';
import { loadItemLayers } from './mends';
import { loadLineUp } from './line-ups';
import { noItem } from './refusal';

const RECENT = 48;

/** An item with its figures, line-up and adopted forecast. */
export async function loadItem(workspaceId: number, code: string): Promise<Item> {
	const { rows } = await pool().query<{
		id: number;
		code: string;
		name: string;
		unit: string;
		frequency: Frequency;
		season_length: number;
		line_up_version: number;
		adopted_count: number;
	}>(
		`SELECT id, code, name, unit, frequency, season_length, line_up_version, (
			SELECT count(*) FROM adopted_forecast f WHERE f.workspace_id = item.workspace_id AND f.item_id = item.id
		) AS adopted_count
		FROM item
		WHERE workspace_id = $1 AND code = $2`,
		[workspaceId, code],
	);
	const item = rows[0];
	if (!item) throw noItem(code);
	const loading = loadSeries(workspaceId, item.id);
	const [series, seen, layers, lineUp, adopted] = await Promise.all([
		loading,
		newestChange(pool(), workspaceId, item.id),
		loadItemLayers(workspaceId, item.id),
		loadLineUp(workspaceId, item.id, item.line_up_version, async () => (await loading).values),
		loadAdopted(workspaceId, item.id, 1),
	]);
	return {
		code: item.code,
		name: item.name,
		unit: item.unit,
		series: { ...series, frequency: item.frequency, seasonLength: item.season_length },
		seen,
		layers,
		lineUp,
		adopted: adopted[0] ?? null,
		adoptedCount: item.adopted_count,
	};
}

/** The id behind a code. */
export async function findItem(workspaceId: number, code: string): Promise<number> {
	const { rows } = await pool().query<{ id: number }>(
		'SELECT id FROM item WHERE workspace_id = $1 AND code = $2',
		[workspaceId, code],
	);
	if (!rows[0]) throw noItem(code);
	return rows[0].id;
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
	measures: Measures | null;
	means: number[] | null;
}

/** All items, those that need attention first, then by code. */
export async function listItems(workspaceId: number): Promise<ItemRow[]> {
	const { rows } = await pool().query<ListRow>(
		`SELECT item.code, item.name, item.unit, item.frequency,
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
	return [...listed.filter(({ attention }) => attention), ...listed.filter(({ attention }) => !attention)];
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
		attention: attentionOf(row, adopted, values),
	};
}

function attentionOf(
	row: ListRow,
	adopted: ItemRow['adopted'],
	values: readonly (number | null)[],
): Attention | null {
	const signal = adopted?.trackingSignal ?? 0;
	if (Math.abs(signal) > RUNNING_LIMIT) {
		return { code: 'drifting', text: `demand runs ${signal > 0 ? 'above' : 'below'} the forecast` };
	}
	if (!adopted) return { code: 'not-adopted', text: 'no forecast adopted yet' };
	if (values.at(-1) === null)
		return { code: 'ends-in-gap', text: `the last ${periodWord(row.frequency, 1)} is missing` };
	return null;
}
