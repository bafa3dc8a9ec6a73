import { type ShareLead } from '../accuracy/lead';
import { shareLead } from '../accuracy/paired';
import { CannotRun } from '../contract/method';
import type { Ordinal } from '../series/period';
import { inTotals, prepareSeries, type Series, weightAt } from '../series/series';
import { triedBeforehand } from './evaluate';
import type { ValidRequest } from './request';
import { USUAL_ORIGINS } from './usual';
import { lastKnown, type Trial } from './trial';

/** A group forecast as one, beside the sum of what its items are forecast at: which came closer from the same origins. */

/** Periods after which forecasts are made, by ordinal: from the first to the last. */
export interface Origins {
	from: Ordinal;
	to: Ordinal;
}

/** The latest origins that a series of a group can be tried from. */
export const latestOrigins = (end: Ordinal): Origins => ({ from: end - USUAL_ORIGINS, to: end - 1 });

/**
 * What a candidate would have forecast from each origin, in totals: 1 … horizon steps ahead, NaN where the period itself has no
 * figure. Where it could not be tried yet, and beyond its last figure, an item adds its last actual; before its first figure and once
 * it has ended it adds nothing.
 * @param part whether it is an item of the group; the group itself has no forecast where it could not be tried
 * @returns a row an origin
 */
export function forecastsFrom(
	request: ValidRequest,
	id: string,
	{ from, to }: Origins,
	part: boolean,
): Float64Array[] {
	const { series, trial } = triedOrNot(request, id);
	const { values, first } = series;
	return Array.from({ length: to - from + 1 }, (_, place) => {
		const known = from + place - first + 1;
		const row = trial.rows[trial.origins.indexOf(known)];
		if (!row && !part) return new Float64Array(request.horizon).fill(NaN);
		const last = known > values.length ? NaN : lastKnown(series, known);
		const there = !Number.isNaN(last);
		return Float64Array.from({ length: request.horizon }, (_, h) => {
			const rate = row && h < row.length ? values[known + h]! - row[h]! : last;
			return there ? weightAt(series, known + h + 1) * rate : 0;
		});
	});
}

function triedOrNot(request: ValidRequest, id: string): { series: Series; trial: Trial } {
	try {
		return triedBeforehand(request, id);
	} catch (error) {
		if (!(error instanceof CannotRun)) throw error;
		return {
			series: prepareSeries(request.series, request.gaps),
			trial: { origins: [], rows: [], fits: [] },
		};
	}
}

/**
 * How much closer the forecast of a group total came than the sum of its items'.
 * @param request of the group itself
 * @param direct what it would have forecast from each origin
 * @param summed what its items would have, added up
 * @returns null where that cannot be computed
 */
export function directBesideSum(
	request: ValidRequest,
	direct: readonly Float64Array[],
	summed: readonly Float64Array[],
	{ from }: Origins,
): ShareLead | null {
	const series = prepareSeries(request.series, request.gaps);
	const totals = inTotals(series, series.values);
	const missed = direct.map((row, place) => {
		let [own, others, count] = [0, 0, 0];
		row.forEach((forecast, h) => {
			const actual = totals[from + place - series.first + 1 + h] ?? NaN;
			const error = actual - forecast;
			const errorOfSum = actual - summed[place]![h]!;
			if (Number.isNaN(error + errorOfSum)) return;
			own += Math.abs(error);
			others += Math.abs(errorOfSum);
			count++;
		});
		return { own, others, count };
	});
	const known = missed.filter(({ count }) => count > 0);
	return shareLead(
		known.map(({ own }) => own),
		known.map(({ others }) => others),
	);
}
