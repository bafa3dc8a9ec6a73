import type { Frequency } from '$core/series/frequency';
import { formatPeriod } from '$core/series/period';
import type { Forecast } from '../shapes';
import { pool } from './database';

interface ForecastRow {
	code: string;
	name: string;
	unit: string;
	frequency: Frequency;
	id: number;
	label: string;
	at: string;
	by: string;
	steps: {
		period: number;
		mean: number;
		final: number;
		ranges: Forecast['steps'][number]['ranges'];
		reason: string | null;
	}[];
}

/** What is handed over of each item that is on the list: the newest record's figures for periods that are not in yet. */
export async function loadForecasts(workspaceId: number): Promise<Forecast[]> {
	const { rows } = await pool().query<ForecastRow>(
		`SELECT item.code, item.name, item.unit, item.frequency, adopted.id, adopted.label, adopted.adopted_by AS by,
			to_json(adopted.adopted_at) #>> '{}' AS at, steps.list AS steps
		FROM item
		JOIN LATERAL (
			SELECT id, label, adopted_at, adopted_by FROM adopted_forecast f
			WHERE f.workspace_id = item.workspace_id AND f.item_id = item.id
			ORDER BY id DESC LIMIT 1
		) adopted ON true
		JOIN LATERAL (
			SELECT max(period) AS last FROM actual
			WHERE actual.workspace_id = item.workspace_id AND actual.item_id = item.id
		) extent ON true
		JOIN LATERAL (
			SELECT json_agg(json_build_object('period', period, 'mean', mean, 'final', final, 'ranges', ranges,
				'reason', change_reason) ORDER BY step) AS list
			FROM adopted_step s
			WHERE s.workspace_id = item.workspace_id AND s.adopted_forecast_id = adopted.id AND s.period > extent.last
		) steps ON steps.list IS NOT NULL
		WHERE item.workspace_id = $1 AND item.retired_at IS NULL
		ORDER BY item.code`,
		[workspaceId],
	);
	return rows.map(({ id, label, at, by, steps, ...item }) => ({
		...item,
		adopted: { id, label, at, by },
		first: steps[0]!.period,
		steps: steps.map(({ period, mean, final, ranges, reason }) => ({
			period: formatPeriod(item.frequency, period),
			computed: mean,
			final,
			ranges,
			reason,
		})),
		total: {
			computed: steps.reduce((sum, { mean }) => sum + mean, 0),
			final: steps.reduce((sum, { final }) => sum + final, 0),
		},
	}));
}
