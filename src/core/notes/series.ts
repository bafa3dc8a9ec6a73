import { type Look, swingsIn } from '../seasons/look';
import { leastSquaresLine } from '../series/line';
import { countPresent, type Series } from '../series/series';
import type { Note } from './note';

/** Autocorrelation one cycle apart, the straight-line trend taken off, above which a series is said to repeat. */
const REPEATS = 0.4;

/** What a series says of a season of its length. */
export interface SeasonFacts {
	/** Autocorrelation one cycle apart, where it is more than noise would show; else null. */
	repeats: number | null;
	/** Squared error of a season that multiplies over that of one that adds, where there is something to compare. */
	swings: Look['swings'];
}

/** Whether a series repeats itself each cycle, and whether its swings grow with its level. */
export function seasonFacts(series: Series): SeasonFacts {
	const present = countPresent(series.values);
	const cycle = cycleCorrelation(series);
	const repeats = cycle !== null && cycle > Math.max(REPEATS, 2 / Math.sqrt(present)) ? cycle : null;
	return { repeats, swings: repeats === null ? null : swingsIn(series.values, series.seasonLength) };
}

/** Remarks about the series as a whole. */
export function seriesNotes(series: Series, { repeats }: SeasonFacts): Note[] {
	const notes: Note[] = [];
	const present = countPresent(series.values);
	if (present < series.values.length) {
		const missing = series.values.length - present;
		notes.push({
			code: 'missing-values',
			text: `${missing} of ${series.values.length} periods ${missing === 1 ? 'has' : 'have'} no actual.`,
			figures: { missing, periods: series.values.length },
		});
	}
	if (repeats !== null) {
		notes.push({
			code: 'looks-seasonal',
			text: `Demand repeats itself every ${series.seasonLength} periods: the autocorrelation one cycle apart is ${repeats.toFixed(2)}.`,
			figures: { autocorrelation: repeats, seasonLength: series.seasonLength },
		});
	}
	return notes;
}

/**
 * Autocorrelation at the season length of what is left when the least-squares line is taken off; pairs with a
 * missing end left out. Null below two cycles, without a season, or for a series that is all line.
 */
function cycleCorrelation({ values, seasonLength }: Series): number | null {
	const n = values.length;
	if (seasonLength < 2 || n < 2 * seasonLength) return null;
	const { intercept, slope, count, centre } = leastSquaresLine(values);
	const meanY = intercept + slope * centre;
	const left = values.map((value, i) => value - intercept - slope * (i + 1));
	let product = 0;
	let pairs = 0;
	let power = 0;
	for (let i = 0; i < n; i++) {
		if (Number.isNaN(left[i]!)) continue;
		power += left[i]! ** 2;
		const before = left[i - seasonLength] ?? NaN;
		if (Number.isNaN(before)) continue;
		product += left[i]! * before;
		pairs++;
	}
	const variance = power / count;
	// Less than a billionth of the size of the figures is rounding, not a season.
	if (pairs === 0 || !(variance > (1e-9 * Math.abs(meanY)) ** 2)) return null;
	return product / pairs / variance;
}
