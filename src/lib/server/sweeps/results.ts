import { type Scale, WHOLE } from '$core/numbers/figure';
import { keyed } from '$core/numbers/keyed';
import { type Places } from '../../wire/list';
import { type Place } from '../../wire/parts';
import { SWEEP_FIGURES, type SweepFigure } from '../../wire/sweep-columns';
import { type SweepAsked, type SweepRow, type SweepSums, type SweepWindow } from '../../wire/sweeps';
import { pairsOf } from '../../wire/labels';
import { type Bound, hasAll, type Order, patternsOf, placeOf, placesOf, walk } from '../items/asked-sql';
import { WINDOW } from '../../wire/query';
import { pool } from '../database/database';

/** What came of a sweep: rows in windows, and what they come to together. */

/** What a figure of a row is in the database, where it is not kept by its name. */
const COMPUTED: Readonly<Partial<Record<SweepFigure, string>>> = {
	gain: 'gain',
	wape: '100 * sweep_row.abs_error / nullif(sweep_row.abs_actual, 0)',
	wapeBefore: '100 * abs_error_before / nullif(sweep_row.abs_actual, 0)',
	mad: 'sweep_row.mad',
	mape: 'sweep_row.mape',
	next: 'sweep_row.next',
	nextBefore: 'next_before',
	change: 'abs(sweep_row.next - next_before)',
};
const FIGURES = keyed(
	SWEEP_FIGURES,
	(key) => COMPUTED[key] ?? `(sweep_row.figures ->> '${key}')::double precision`,
);
const byFigure = (figure: string): Order => ({
	columns: [`(${figure})`, 'sweep_row.code'],
	missing: true,
});
const ORDERS: Readonly<Record<SweepAsked['sort'], Order>> = {
	code: { columns: ['sweep_row.code'], missing: false },
	before: byFigure('label_before'),
	label: byFigure('label'),
	...keyed(SWEEP_FIGURES, (key) => byFigure(FIGURES[key])),
};

const SHOWN: Readonly<Record<SweepAsked['show'], string>> = {
	all: 'true',
	clear: 'sweep_row.clear',
	worse: 'sweep_row.gain < 0',
	refused: 'sweep_row.refused IS NOT NULL',
	ready: 'sweep_row.ready IS NOT NULL AND sweep_row.record_id IS NULL',
	adopted: 'sweep_row.record_id IS NOT NULL',
};

function whichRows(workspaceId: number, sweep: number, asked: SweepAsked, bound: Bound): string {
	const patterns = patternsOf(asked.words);
	return [
		`sweep_row.workspace_id = ${bound.of(workspaceId)} AND sweep_row.sweep_id = ${bound.of(sweep)}`,
		SHOWN[asked.show],
		...(asked.method === null ? [] : [`sweep_row.label = ${bound.of(asked.method)}`]),
		...(patterns.length > 0 ? [hasAll('item.sought', bound.of(patterns))] : []),
	].join(' AND ');
}

const JOINED =
	'FROM sweep_row JOIN item ON item.workspace_id = sweep_row.workspace_id AND item.id = sweep_row.item_id';

interface Row extends Omit<SweepRow, 'scale' | 'labels'> {
	labels: Record<string, string>;
	scale: Scale | null;
}

const SHOWN_FIGURES = SWEEP_FIGURES.map((key) => `${FIGURES[key]} AS "${key}"`).join(', ');

/** @throws Refusal 422 for a place of another order */
export async function loadSweepWindow(
	workspaceId: number,
	sweep: number,
	asked: SweepAsked,
	from: Place | null = null,
	most: number = WINDOW,
): Promise<SweepWindow> {
	const sort = ORDERS[asked.sort];
	const { rows, next } = await walk<Row>(
		sort,
		asked.down,
		from,
		most,
		(bound, condition, order, limit) =>
			`SELECT item.code, item.name, item.unit, item.frequency, item.labels, item_status.shown -> 'scale' AS scale, refused, label,
				label_before AS before, clear, coalesce(sweep_row.rare, false) AS rare, measures, ${SHOWN_FIGURES},
				sweep_row.ready IS NOT NULL AS ready, record_id AS record, ${placeOf(sort)} AS place
			${JOINED}
			LEFT JOIN item_status ON item_status.workspace_id = item.workspace_id AND item_status.item_id = item.id
			WHERE ${whichRows(workspaceId, sweep, asked, bound)} AND ${condition}
			ORDER BY ${order} LIMIT ${limit}`,
		pool(),
	);
	return {
		items: rows.map(({ scale, labels, ...row }) => ({
			...row,
			labels: pairsOf(labels),
			scale: scale ?? WHOLE,
		})),
		next,
	};
}

export const loadSweepPlaces = (workspaceId: number, sweep: number, asked: SweepAsked): Promise<Places> =>
	placesOf(
		ORDERS[asked.sort],
		asked.down,
		(bound, condition) => `${JOINED} WHERE ${whichRows(workspaceId, sweep, asked, bound)} AND ${condition}`,
		pool(),
	);

/** Steps of the drawing of gains, and where it ends on either side. */
const STEP = 0.05;
const END = 0.5;

/** Sizes of errors over what came, in per cent; of rare demand they say nothing. */
const wapeOver = (error: string): string =>
	`100 * sum(${error}) FILTER (WHERE rare IS NOT TRUE) / nullif(sum(abs_actual) FILTER (WHERE rare IS NOT TRUE), 0)`;

/** What it comes to over all its items. */
export async function loadSweepSums(workspaceId: number, sweep: number): Promise<SweepSums> {
	const which = 'FROM sweep_row WHERE workspace_id = $1 AND sweep_id = $2';
	const own = [workspaceId, sweep];
	const [sums, gains, methods, reasons] = await Promise.all([
		pool().query<Omit<SweepSums, 'gains' | 'methods' | 'reasons'>>(
			`SELECT count(*) AS rows, count(refused) AS refused, count(ready) AS ready, count(record_id) AS adopted,
				count(gain) AS beside, count(*) FILTER (WHERE clear) AS clear, count(*) FILTER (WHERE gain > 0) AS closer,
				count(*) FILTER (WHERE clear AND record_id IS NULL) AS "clearLeft",
				sum(next) AS next, sum(next_before) AS "nextBefore",
				count(*) FILTER (WHERE ${FIGURES.stockChange} > 0) AS "stockMore", count(*) FILTER (WHERE ${FIGURES.stockChange} < 0) AS "stockLess",
				count(*) FILTER (WHERE rare) AS rare, ${wapeOver('abs_error')} AS wape, ${wapeOver('abs_error_before')} AS "wapeBefore",
				${wapeOver('CASE WHEN clear THEN abs_error ELSE abs_error_before END')} AS "wapeClear"
			${which}`,
			own,
		),
		pool().query<SweepSums['gains'][number]>(
			`SELECT ${STEP} * floor(greatest(-${END}, least(${END} - 1e-9, gain)) / ${STEP}) AS from, count(*) AS items,
				count(*) FILTER (WHERE clear) AS clear
			${which} AND gain IS NOT NULL GROUP BY 1 ORDER BY 1`,
			own,
		),
		pool().query<SweepSums['methods'][number]>(
			`SELECT label, count(*) AS items, count(*) FILTER (WHERE clear) AS clear
			${which} AND label IS NOT NULL AND refused IS NULL GROUP BY 1 ORDER BY 2 DESC, 1 LIMIT 12`,
			own,
		),
		pool().query<SweepSums['reasons'][number]>(
			`SELECT refused AS why, count(*) AS items ${which} AND refused IS NOT NULL GROUP BY 1 ORDER BY 2 DESC, 1 LIMIT 12`,
			own,
		),
	]);
	return {
		...sums.rows[0]!,
		gains: gains.rows.map(({ from, ...each }) => ({ from: Number(Number(from).toFixed(2)), ...each })),
		methods: methods.rows,
		reasons: reasons.rows,
	};
}
