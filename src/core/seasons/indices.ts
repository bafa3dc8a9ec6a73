import { median } from '../numbers/median';
import { leastSquaresLine } from '../numbers/line';
import type { IndexInput, IndexRule } from './settings';
import { cycleMeans, cycleOf, type Cycles, endOf, seasonOf } from './cycles';

/** Whether a season is multiplied onto a level or added to it. */
export type SeasonKind = 'multiplicative' | 'additive';

/** Indices with all that they were made from. Lists of n run with the periods, lists of P with the seasons. */
export interface Indices {
	/** What each figure was held against, NaN where there is nothing. */
	bases: Float64Array;
	/** Figure over base, or figure minus base; NaN for periods that take no part. */
	ratios: Float64Array;
	/** The average of each season's ratios; NaN for a season without any. */
	averages: Float64Array;
	/** The same, or what is typed or held in its place. */
	before: Float64Array;
	/** The same brought to the sum of P, or 0, unless that is not wanted. */
	whole: Float64Array;
	/** How much of them is kept, 0 … 1; 1 where they are not shrunk. */
	weight: number;
	/** The indices, as shrunk. */
	after: Float64Array;
	/** Those of the group, where it lends them. */
	group?: Float64Array;
	/** 0-based positions that took part: from the first to before the last. */
	from: number;
	to: number;
}

/** What P indices sum to. */
export const wholeOf = (kind: SeasonKind, length: number): number => (kind === 'multiplicative' ? length : 0);

/** Puts an index to a level. */
export const withIndex = (kind: SeasonKind, level: number, index: number): number =>
	kind === 'multiplicative' ? level * index : level + index;

/** Takes an index off a figure; NaN where a season of nothing says nothing about its level. */
export const withoutIndex = (kind: SeasonKind, value: number, index: number): number =>
	kind === 'additive' ? value - index : index === 0 ? NaN : value / index;

/** Figures without their season, NaN where there is none or it says nothing. */
export const withoutSeason = (
	values: Float64Array,
	cycles: Cycles,
	kind: SeasonKind,
	indices: Float64Array,
): Float64Array => values.map((value, i) => withoutIndex(kind, value, indices[seasonOf(cycles, i)]!));

/** The index that a forecast implies for a level: forecast / level, or forecast − level; NaN over a level of 0. */
export const impliedIndex = (kind: SeasonKind, forecast: number, level: number): number =>
	kind === 'additive' ? forecast - level : level === 0 ? NaN : forecast / level;

/**
 * The centred average: over P values, or for even P over P + 1 with both ends at half weight. Of the values in a
 * window those present are averaged.
 * @param values n figures, NaN where missing
 * @returns n averages, NaN where the window reaches beyond the series or holds nothing
 */
export function centredAverage(values: Float64Array, length: number): Float64Array {
	const n = values.length;
	const half = Math.floor(length / 2);
	const average = new Float64Array(n).fill(NaN);
	for (let i = half; i < n - half; i++) {
		let sum = 0;
		let total = 0;
		for (let k = -half; k <= half; k++) {
			const value = values[i + k]!;
			if (Number.isNaN(value)) continue;
			const weight = length % 2 === 0 && Math.abs(k) === half ? 0.5 : 1;
			sum += weight * value;
			total += weight;
		}
		if (total > 0) average[i] = sum / total;
	}
	return average;
}

/**
 * Seasonal indices of the first `to` periods by one of the rules.
 * @param values n figures, NaN where missing
 * @param to how many periods are known
 * @param centred the centred average of all n values, where it was calculated before
 */
export function seasonIndices(
	values: Float64Array,
	cycles: Cycles,
	kind: SeasonKind,
	input: IndexInput,
	to = values.length,
	centred?: Float64Array,
): Indices {
	const { length } = cycles;
	const span = spanOf(cycles, input.cycles, to);
	const bases = new Float64Array(values.length).fill(NaN);
	const ratios = bases.slice();
	if (input.rule !== 'given') {
		putBases(bases, values, cycles, input.rule, span, centred);
		for (let i = span.from; i < span.to; i++) {
			const ratio = kind === 'multiplicative' ? values[i]! / bases[i]! : values[i]! - bases[i]!;
			// A level at or below zero is none that a season could multiply.
			if (Number.isFinite(ratio) && (kind === 'additive' || bases[i]! > 0)) ratios[i] = ratio;
		}
	}
	const averages = bySeason(ratios, cycles, span, input.average);
	const before = input.rule === 'given' ? Float64Array.from(input.indices ?? []) : averages.slice();
	input.held?.forEach((held, j) => {
		if (held !== null) before[j] = held;
	});
	const held = input.held ?? [];
	const whole = input.normalise === false ? before.slice() : normalised(before, kind, length, held);
	const weight = input.shrink ? (beliefIn(whole, ratios, cycles, () => neutralOf(kind)) ?? 1) : 1;
	const after = weight === 1 ? whole : shrunk(whole, kind, weight, held);
	return { bases, ratios, averages, before, whole, weight, after, from: span.from, to: span.to };
}

/** The index of a season that is like all others. */
export const neutralOf = (kind: SeasonKind): number => (kind === 'multiplicative' ? 1 : 0);

/**
 * How much of the indices is kept: w = 1 − (P − 3) s² ÷ (k Σ (i − c)²), not below 0, s² being the pooled variance of the
 * ratios about their season's mean and k the mean of their counts (James & Stein 1961).
 * @param about c of a season, what they are shrunk to
 * @returns 1 for up to three seasons; null where no season has two ratios to scatter
 */
export function beliefIn(
	indices: Float64Array,
	ratios: Float64Array,
	cycles: Cycles,
	about: (season: number) => number,
): number | null {
	const { length } = cycles;
	if (length <= 3) return 1;
	const means = bySeason(ratios, cycles, { from: 0, to: ratios.length }, 'mean');
	let scatter = 0;
	let count = 0;
	ratios.forEach((ratio, i) => {
		if (Number.isNaN(ratio)) return;
		scatter += (ratio - means[seasonOf(cycles, i)]!) ** 2;
		count++;
	});
	const degrees = count - means.filter((mean) => !Number.isNaN(mean)).length;
	if (degrees <= 0) return null;
	const away = indices.reduce((sum, index, j) => sum + (index - about(j)) ** 2, 0);
	const noise = ((length - 3) * (scatter / degrees)) / (count / length);
	return away > noise ? 1 - noise / away : 0;
}

/** Indices drawn towards what the free ones have in common, so that their sum stays; held ones stay too. */
function shrunk(
	indices: Float64Array,
	kind: SeasonKind,
	weight: number,
	held: readonly (number | null)[],
): Float64Array {
	const free = [...indices.keys()].filter((j) => (held[j] ?? null) === null);
	const common =
		held.length === 0 ? neutralOf(kind) : free.reduce((sum, j) => sum + indices[j]! / free.length, 0);
	const drawn = indices.slice();
	for (const j of free) drawn[j] = common + weight * (indices[j]! - common);
	return drawn;
}

/** The positions of the last whole cycles among those known, or all. */
function spanOf(cycles: Cycles, wanted: number | undefined, to: number): { from: number; to: number } {
	if (wanted === undefined) return { from: 0, to };
	const last = cycleOf(cycles, to) - 1;
	return { from: Math.max(0, endOf(cycles, last - wanted)), to: Math.max(0, endOf(cycles, last)) };
}

function putBases(
	bases: Float64Array,
	values: Float64Array,
	cycles: Cycles,
	rule: Exclude<IndexRule, 'given'>,
	{ from, to }: { from: number; to: number },
	centred: Float64Array | undefined,
): void {
	const known = values.subarray(from, to);
	switch (rule) {
		case 'ratio-to-overall': {
			let sum = 0;
			let count = 0;
			for (const value of known) {
				if (Number.isNaN(value)) continue;
				sum += value;
				count++;
			}
			bases.fill(sum / count, from, to);
			return;
		}
		case 'ratio-to-cycle-mean': {
			const means = cycleMeans(values.subarray(0, to), cycles);
			for (let i = from; i < to; i++) bases[i] = means[cycleOf(cycles, i)] ?? NaN;
			return;
		}
		case 'ratio-to-moving-average': {
			const half = Math.floor(cycles.length / 2);
			const average = centred ?? centredAverage(values, cycles.length);
			for (let i = from + half; i < to - half; i++) bases[i] = average[i]!;
			return;
		}
		case 'ratio-to-trend': {
			const { intercept, slope } = leastSquaresLine(known);
			for (let i = from; i < to; i++) bases[i] = intercept + slope * (i - from + 1);
			return;
		}
	}
}

/** The mean (unless told otherwise) or median of each season's ratios; NaN for a season without any. */
export function bySeason(
	ratios: Float64Array,
	cycles: Cycles,
	{ from, to }: { from: number; to: number },
	average: IndexInput['average'],
): Float64Array {
	const { length } = cycles;
	if (average === 'median') {
		const own: number[][] = Array.from({ length }, () => []);
		for (let i = from; i < to; i++) if (!Number.isNaN(ratios[i]!)) own[seasonOf(cycles, i)]!.push(ratios[i]!);
		return Float64Array.from(own, (list) => median(list));
	}
	const sums = new Float64Array(length);
	const counts = new Float64Array(length);
	for (let i = from; i < to; i++) {
		if (Number.isNaN(ratios[i]!)) continue;
		const j = seasonOf(cycles, i);
		sums[j]! += ratios[i]!;
		counts[j]!++;
	}
	return sums.map((sum, j) => sum / counts[j]!);
}

/**
 * Indices brought to a sum of P (multiplicative: times what is missing) or 0 (additive: plus what is missing). Held ones
 * stay; the others take up the sum.
 * @param held by season, null where it is free
 */
export function normalised(
	indices: Float64Array,
	kind: SeasonKind,
	length = indices.length,
	held: readonly (number | null)[] = [],
): Float64Array {
	const free = (j: number) => (held[j] ?? null) === null;
	let kept = 0;
	let moved = 0;
	let count = 0;
	indices.forEach((index, j) => {
		if (free(j)) {
			moved += index;
			count++;
		} else kept += index;
	});
	if (count === 0) return indices.slice();
	const rest = wholeOf(kind, length) - kept;
	return indices.map((index, j) => {
		if (!free(j)) return index;
		return kind === 'multiplicative' ? (index * rest) / moved : index + (rest - moved) / count;
	});
}
