import { BOUNDS } from '$core/bounds';
import { shownRange } from '$core/ranges/shown';
import type { Frequency } from '$core/series/frequency';
import { formatPeriod } from '$core/series/period';
import type { Asked } from '../../wire/asked';
import type { Forecast } from '../../wire/records';
import { Bound, whichItems } from '../items/asked-sql';
import { pool } from '../database/database';

interface ForecastRow {
	code: string;
	name: string;
	unit: string;
	frequency: Frequency;
	id: number;
	label: string;
	at: string;
	by: string;
	/** Whether demand never was below zero. */
	never_below: boolean;
	steps: {
		period: number;
		mean: number;
		final: number;
		ranges: Forecast['steps'][number]['ranges'];
		reason: string | null;
	}[];
}

/** Of which something is handed over. */
const HANDED_OVER = 'item_status.next IS NOT NULL';
/** A sum is handed over by its items. */
const ITS_OWN = 'NOT item_status.sum';

/** Of how many items that are asked for something is handed over, and of how many nothing. */
export async function countForecasts(
	workspaceId: number,
	asked: Asked,
): Promise<{ items: number; without: number }> {
	const bound = new Bound();
	const { rows } = await pool().query<{ items: number; without: number }>(
		`SELECT count(*) FILTER (WHERE ${HANDED_OVER}) AS items, count(*) FILTER (WHERE NOT (${HANDED_OVER})) AS without
		FROM item_status WHERE ${whichItems(workspaceId, asked, bound)} AND NOT item_status.retired AND ${ITS_OWN}`,
		bound.values,
	);
	return rows[0]!;
}

/**
 * What is handed over of items that are asked for and are on the list: the newest record's figures for periods that are not in yet.
 * @param after the code that the last answer ended with; null from the beginning
 */
export async function loadForecasts(
	workspaceId: number,
	asked: Asked,
	after: string | null = null,
	most: number = BOUNDS.forecasts,
): Promise<Forecast[]> {
	const bound = new Bound();
	const which = whichItems(workspaceId, asked, bound);
	const { rows } = await pool().query<ForecastRow>(
		`SELECT item.code, item.name, item.unit, item.frequency, adopted.id, adopted.label, actor_name(adopted.adopted_by) AS by,
			to_json(adopted.adopted_at) #>> '{}' AS at, steps.list AS steps, extent.never_below
		FROM (
			SELECT item_status.workspace_id, item_status.item_id FROM item_status
			WHERE ${which} AND NOT item_status.retired AND ${HANDED_OVER} AND ${ITS_OWN}
				${after === null ? '' : `AND item_status.code > ${bound.of(after)}`}
			ORDER BY item_status.code LIMIT ${bound.of(most)}
		) wanted
		JOIN item ON item.workspace_id = wanted.workspace_id AND item.id = wanted.item_id
		CROSS JOIN LATERAL newest_record(item.workspace_id, item.id) adopted
		JOIN LATERAL (
			SELECT max(period) AS last, bool_and(value >= 0 OR value IS NULL) AS never_below FROM actual
			WHERE actual.workspace_id = item.workspace_id AND actual.item_id = item.id
		) extent ON true
		JOIN LATERAL (
			SELECT json_agg(json_build_object('period', period, 'mean', mean, 'final', final, 'ranges', ranges,
				'reason', change_reason) ORDER BY step) AS list
			FROM adopted_step s
			WHERE s.workspace_id = item.workspace_id AND s.adopted_forecast_id = adopted.id AND s.period > extent.last
		) steps ON steps.list IS NOT NULL
		ORDER BY item.code COLLATE "C"`,
		bound.values,
	);
	return rows.map(({ id, label, at, by, steps, never_below, ...item }) => ({
		...item,
		adopted: { id, label, at, by },
		first: steps[0]!.period,
		steps: steps.map(({ period, mean, final, ranges, reason }) => ({
			period: formatPeriod(item.frequency, period),
			computed: mean,
			final,
			ranges: Object.fromEntries(
				Object.entries(ranges).map(([level, range]) => {
					const shown = shownRange(range, never_below);
					return [level, shown && [...shown]];
				}),
			),
			reason,
		})),
		total: {
			computed: steps.reduce((sum, { mean }) => sum + mean, 0),
			final: steps.reduce((sum, { final }) => sum + final, 0),
		},
	}));
}
