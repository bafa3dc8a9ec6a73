import { seededNormal } from '../numbers/random';
import { ALARM_TABLE } from './alarm-table';

/** How fast the two smoothed figures forget. */
const CONSTANT = 0.2;
/** Beyond it the ratio is an alarm: an unbiased forecast is ever flagged within 24 periods with a chance of 10 %. */
export const ALARM_LIMIT = 0.822;
/** Mean size of an error over its root mean square, where errors are normal and nothing else is known. */
const USUAL_SIZE = 0.798;
/** Honest errors that the mean size begins from in the simulation: as many as a trial makes. */
const KNOWN = 36;

/** How a forecast is doing: whether its errors of late lie on one side by more than chance would have them. */
export interface Alarm {
	/** Smoothed error over smoothed size of errors, −1 … 1, after the last one; null where nothing was missed by. */
	ratio: number | null;
	limit: number;
	/** Chance (0 … 1) that an unbiased forecast is flagged at least once within as many periods. */
	chance: number;
	/** 1-based period from which it has stood outside without a break; null while it is inside. */
	since: number | null;
	/** Mean size of errors that it began from, in the units of the errors; null where no trial told it. */
	size: number | null;
}

/**
 * The ratio after each error: E / M, both smoothed with 0.2, E from 0 (Trigg 1964; M from what is known of the size of
 * errors beforehand, so that the first ones are no alarm by themselves, and counting as no less than that, so that a run of
 * small ones on one side does not either).
 * @param errors m errors in order, as a share of what was expected of each: of the trial's root mean square at its step
 * @param size their mean size beforehand on the same scale; null where no trial tells it: each error then counts as a share
 * of the root mean square of those so far
 * @returns m ratios, NaN while nothing was missed by
 */
export function alarmRatios(errors: Float64Array, size: number | null): Float64Array {
	const least = size ?? USUAL_SIZE;
	let [sum, mean, squares] = [0, least, 0];
	return errors.map((error, place) => {
		squares += error * error;
		const root = size === null ? Math.sqrt(squares / (place + 1)) : 1;
		if (!(root > 0)) return NaN;
		sum = CONSTANT * (error / root) + (1 - CONSTANT) * sum;
		mean = CONSTANT * Math.abs(error / root) + (1 - CONSTANT) * mean;
		return mean > 0 ? sum / Math.max(mean, least) : NaN;
	});
}

/** Whether a ratio is an alarm. */
export const isAlarming = (ratio: number | null, limit = ALARM_LIMIT): boolean =>
	ratio !== null && Math.abs(ratio) > limit;

/** On which side of the forecast demand has run, where the alarm stands outside. */
export const biasedSide = (alarm: Alarm | undefined): 'above' | 'below' | null =>
	!alarm || alarm.since === null || alarm.ratio === null ? null : alarm.ratio > 0 ? 'above' : 'below';

/**
 * The alarm as it stands after the last of some errors.
 * @param positions m 0-based positions of the errors
 */
export function alarmOf(
	positions: Int32Array,
	errors: Float64Array,
	size: number | null,
	limit = ALARM_LIMIT,
): Alarm {
	const ratios = alarmRatios(errors, size);
	const last = ratios.at(-1) ?? NaN;
	let since: number | null = null;
	for (let place = ratios.length - 1; place >= 0 && isAlarming(ratios[place]!, limit); place--)
		since = positions[place]! + 1;
	return {
		ratio: Number.isFinite(last) ? last : null,
		limit,
		chance: chanceOfAlarm(ratios.length, limit),
		since,
		size,
	};
}

/** Chance (0 … 1) that an unbiased forecast is flagged at least once within so many periods, from the table. */
export function chanceOfAlarm(periods: number, limit = ALARM_LIMIT): number {
	const { spans, chances, limits } = ALARM_TABLE;
	if (periods <= 0) return 0;
	// Between two spans, and beyond the last, it goes on happening as often: what is left shrinks by the same share.
	const leftAt = (row: number) => 1 - interpolated(limits[row]!, chances, limit);
	const next = spans.findIndex((span) => span >= periods);
	const row = next < 0 ? spans.length - 1 : next;
	const [from, before] = row === 0 ? [0, 1] : [spans[row - 1]!, leftAt(row - 1)];
	const share = (periods - from) / (spans[row]! - from);
	return 1 - before * (leftAt(row) / before) ** share;
}

/**
 * The limit that an unbiased forecast crosses within so many periods with a chance.
 * @param chance 0.02 … 0.5, @param periods 6 … 480; what lies beyond is held at the end of the table
 */
export function alarmLimit(chance: number, periods: number): number {
	const { spans, chances, limits } = ALARM_TABLE;
	const bySpan = limits.map((row) => interpolated(chances.toReversed(), row.toReversed(), chance));
	return interpolated(spans, bySpan, periods);
}

/** A straight line between the neighbours of x, which run either way; the ends beyond them. */
function interpolated(xs: readonly number[], ys: readonly number[], x: number): number {
	const down = xs[0]! > xs.at(-1)!;
	const at = xs.findIndex((each) => (down ? each <= x : each >= x));
	if (at <= 0) return at === 0 ? ys[0]! : ys.at(-1)!;
	const share = (x - xs[at - 1]!) / (xs[at]! - xs[at - 1]!);
	return ys[at - 1]! + share * (ys[at]! - ys[at - 1]!);
}

/**
 * Limits by simulation: what the largest ratio of an unbiased forecast, its errors independent and normal, exceeds with each
 * chance within each span. The same for the same seed.
 * @returns a row a span, a column a chance
 */
export function simulatedLimits(
	spans: readonly number[],
	chances: readonly number[],
	runs: number,
	seed: number,
): number[][] {
	const draw = seededNormal(seed);
	const largest = spans.map(() => new Float64Array(runs));
	const errors = new Float64Array(spans.at(-1)!);
	for (let run = 0; run < runs; run++) {
		let size = 0;
		for (let i = 0; i < KNOWN; i++) size += Math.abs(draw()) / KNOWN;
		for (let i = 0; i < errors.length; i++) errors[i] = draw();
		const ratios = alarmRatios(errors, size);
		let [most, at] = [0, 0];
		spans.forEach((span, row) => {
			for (; at < span; at++) most = Math.max(most, Math.abs(ratios[at]!));
			largest[row]![run] = most;
		});
	}
	return largest.map((list) => {
		list.sort();
		return chances.map((chance) => list[Math.floor((1 - chance) * (runs - 1))]!);
	});
}
