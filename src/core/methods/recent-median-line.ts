import { quantile } from '../numbers/quantile';
import type { Series } from '../series/series';
import { figure, plus, times } from '../working/expression';
import { lazyModel } from './flat';
import { defineMethod, tooFew } from '../contract/method';
import type { Run } from '../contract/model';
import type { Recorded, Spelled } from '../contract/working';

/** Fewer figures than these have no line. */
const LEAST = 6;
/** How many of the latest figures it goes through: so many cycles, and so many at the least and at the most. */
const CYCLES = 3;
const USUAL = 12;
const MOST = 156;

/** How many of the latest figures the line goes through: three cycles, at least 12. Pairs grow with the square, so at most 156. */
const reachOf = (seasonLength: number): number => Math.min(MOST, Math.max(USUAL, CYCLES * seasonLength));

/**
 * A line through the latest periods that single figures cannot turn: its slope is the median of the slopes between any two of
 * them, its intercept the median of what is left (Theil 1950, Sen 1968). Laid anew for each forecast, from the periods before.
 */
export const recentMedianLine = defineMethod({
	id: 'recent-median-line',
	name: 'Recent median line',
	fits: 'A climb or fall of late with figures that stand out: a line through the last cycles that they cannot turn.',
	constants: [],
	fields: [],
	starts: [],
	label: () => 'Recent median line',
	short: () => 'Median line',
	kind: () => 'forecast',
	onlyPastFrom: () => 0,
	follows: () => ({ trend: true, season: false }),
	fitSteps: (_, { periods, seasonLength }) => periods * Math.min(periods, reachOf(seasonLength)) ** 2,
	bind(series) {
		const n = series.values.length;
		const last = lastLine(series);
		if (!last) {
			const has = series.values.reduce((count, value) => (Number.isNaN(value) ? count : count + 1), 0);
			throw tooFew('A recent median line', LEAST, has, 'actuals', 'Bring in more.');
		}
		const run = (): Run => {
			const { intercepts, slopes } = linesBefore(series);
			const at = (origin: number, t: number) => intercepts[origin]! + slopes[origin]! * t;
			return {
				fitted: Float64Array.from({ length: n }, (_, i) => at(i, i + 1)),
				start: null,
				states: { intercept: intercepts.subarray(0, n), slope: slopes.subarray(0, n) },
				slope: slopes[n]!,
				line: { intercept: intercepts[n]!, slope: slopes[n]! },
				forecast(origin, out) {
					for (let h = 1; h <= out.length; h++) out[h - 1] = at(origin, origin + h);
				},
			};
		};
		return lazyModel(run, (out) => {
			for (let h = 1; h <= out.length; h++) out[h - 1] = last.intercept + last.slope * (n + h);
		});
	},
	working: () => ({
		forecast: {
			key: 'fitted',
			name: 'Line',
			equation: 'fₜ = aₜ + bₜ·t',
			explain: (recorded, t) =>
				along(recorded.state('intercept', t), recorded.state('slope', t), recorded, t, t),
		},
		states: [
			{
				key: 'slope',
				name: 'Slope b',
				equation: 'bₜ = median of (yⱼ − yᵢ) ÷ (j − i)',
				places: { more: 2 },
				explain: (recorded, t) => ({
					expression: figure(recorded.state('slope', t)!),
					remark: `the median of all slopes between two of the ${countBefore(recorded, t)} latest figures before`,
				}),
			},
			{
				key: 'intercept',
				name: 'Intercept a',
				equation: 'aₜ = median of yᵢ − bₜ·i',
				explain: (recorded, t) => ({
					expression: figure(recorded.state('intercept', t)!),
					remark: `the median of what those ${countBefore(recorded, t)} figures leave beside the slope`,
				}),
			},
		],
		ahead: 'fₙ₊ₕ = a + b·(n + h), from the latest figures of all',
		explainAhead: (recorded, step) => {
			const t = recorded.periods + step;
			return along(recorded.line!.intercept, recorded.line!.slope, recorded, t, recorded.periods + 1);
		},
	}),
});

/** A line through so many figures, again and again without new lists. */
function layLines(reach: number) {
	const pairs = new Float64Array((reach * (reach - 1)) / 2);
	const left = new Float64Array(reach);
	/** @param latest 1-based positions of the figures, the oldest first */
	return (values: Float64Array, latest: readonly number[]): { intercept: number; slope: number } => {
		let pair = 0;
		for (let b = 1; b < latest.length; b++) {
			for (let a = 0; a < b; a++)
				pairs[pair++] = (values[latest[b]! - 1]! - values[latest[a]! - 1]!) / (latest[b]! - latest[a]!);
		}
		const slope = quantile(pairs.subarray(0, pair), 0.5);
		for (const [place, i] of latest.entries()) left[place] = values[i - 1]! - slope * i;
		return { slope, intercept: quantile(left.subarray(0, latest.length), 0.5) };
	};
}

/** The line through the latest figures of all; null while there are too few. */
function lastLine({ values, seasonLength }: Series): { intercept: number; slope: number } | null {
	const reach = Math.min(reachOf(seasonLength), values.length);
	const latest: number[] = [];
	for (let t = values.length; t >= 1 && latest.length < reach; t--)
		if (!Number.isNaN(values[t - 1]!)) latest.unshift(t);
	return latest.length < LEAST ? null : layLines(reach)(values, latest);
}

/** Lines made at the end of period o (0 … n) from the figures up to it; NaN while there are too few. */
function linesBefore({ values, seasonLength }: Series): { intercepts: Float64Array; slopes: Float64Array } {
	const n = values.length;
	const reach = Math.min(reachOf(seasonLength), n);
	const [intercepts, slopes] = [new Float64Array(n + 1).fill(NaN), new Float64Array(n + 1).fill(NaN)];
	const lay = layLines(reach);
	/** Positions (1-based) of the latest figures, the oldest first. */
	const latest: number[] = [];
	for (let t = 1; t <= n; t++) {
		if (!Number.isNaN(values[t - 1]!)) {
			latest.push(t);
			if (latest.length > reach) latest.shift();
		} else if (latest.length >= LEAST) {
			// No figure came in: the line stays.
			intercepts[t] = intercepts[t - 1]!;
			slopes[t] = slopes[t - 1]!;
			continue;
		}
		if (latest.length < LEAST) continue;
		const { slope, intercept } = lay(values, latest);
		slopes[t] = slope;
		intercepts[t] = intercept;
	}
	// The line at t rests on the periods before it: entry o is what is known at the end of period o.
	return { intercepts, slopes };
}

/** How many figures the line at t goes through. */
function countBefore({ value, seasonLength }: Recorded, t: number): number {
	const reach = reachOf(seasonLength);
	let count = 0;
	for (let i = t - 1; i >= 1 && count < reach; i--) if (value(i) !== null) count++;
	return count;
}

function along(
	intercept: number | null,
	slope: number | null,
	recorded: Recorded,
	t: number,
	from: number,
): Spelled | null {
	if (intercept === null || slope === null) return null;
	return {
		expression: plus(figure(intercept), times(figure(slope), figure(t))),
		remark: `the median line of the ${countBefore(recorded, from)} latest figures before`,
	};
}
