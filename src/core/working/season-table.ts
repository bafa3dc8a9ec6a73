import type { Spelled } from '../contract/working';
import type { Series } from '../series/series';
import type { Expression } from '../contract/working';
import { figure, mean, minus, over, plus, times } from './expression';
import { type Cycles, cyclesOf, cycleOf, seasonOf } from '../seasons/cycles';
import { bySeason, type Indices, type SeasonKind, wholeOf, withoutIndex } from '../seasons/indices';
import { indicesOf } from '../seasons/lent';
import { type IndexInput } from '../seasons/settings';

/** One period in its cycle and season. */
export interface SeasonCell {
	/** 1-based. */
	t: number;
	value: number | null;
	/** What the figure is held against, and the ratio (or difference) to it; null where it takes no part. */
	base: number | null;
	ratio: number | null;
}

/** Cycles × seasons with everything that the indices are made from. Lists of P run from season 1. */
export interface SeasonTable {
	/** P cells a cycle, null where the series has no such period. */
	rows: { cycle: number; cells: (SeasonCell | null)[] }[];
	average: (number | null)[];
	before: (number | null)[];
	after: (number | null)[];
	/** Sums before and after; null where an index is missing. */
	/** How much of the indices is kept, 0 … 1. */
	weight: number;
	sums: { before: number | null; after: number | null };
	/** How a figure comes about; null where there is none. */
	explain(place: TablePlace): Spelled | null;
}

/** A figure of the table: of a period, or of a season (0-based). */
export type TablePlace =
	{ of: 'base' | 'ratio'; t: number } | { of: 'average' | 'before' | 'after'; season: number };

/** A line that indices were found on, in place of a rule. */
export interface FoundIndices {
	line: { intercept: number; slope: number };
	indices: readonly number[];
}

/**
 * The table behind a series' indices: by a rule, or as they were found together with a line.
 * Nothing is refused here: what cannot be told is null.
 */
export function seasonTable(
	series: Series,
	kind: SeasonKind,
	input: IndexInput,
	found: FoundIndices | null = null,
): SeasonTable {
	const { values } = series;
	const n = values.length;
	const cycles = cyclesOf(series);
	const { length } = cycles;
	const made = found ? onLine(series, cycles, kind, found) : indicesOf(series, kind, input);
	const own = (season: number) =>
		[...values.keys()].filter((i) => seasonOf(cycles, i) === season && !Number.isNaN(made.ratios[i]!));
	const average = Array.from(made.averages, known);
	const rows = Array.from({ length: cycles.count }, (_, cycle) => ({
		cycle,
		cells: Array.from({ length }, (_, j): SeasonCell | null => {
			const i = cycle * length - cycles.lead + j;
			if (i < 0 || i >= n) return null;
			return {
				t: i + 1,
				value: known(values[i]!),
				base: known(made.bases[i]!),
				ratio: known(made.ratios[i]!),
			};
		}),
	}));
	const before = Array.from(made.before, known);
	const after = Array.from(made.after, known);
	const sumOf = (list: readonly (number | null)[]) =>
		list.every((each) => each !== null) ? list.reduce((a, b) => a + b, 0) : null;
	return {
		rows,
		average,
		before,
		after,
		sums: { before: sumOf(before), after: sumOf(after) },
		weight: made.weight,
		explain(place) {
			if ('t' in place) {
				const i = place.t - 1;
				if (Number.isNaN(made[place.of === 'base' ? 'bases' : 'ratios'][i]!)) return null;
				return place.of === 'base'
					? baseSpelled(series, input, found, made, i)
					: { expression: apart(kind, values[i]!, made.bases[i]!) };
			}
			const { season } = place;
			if (place.of === 'average') {
				const ratios = own(season).map((i) => made.ratios[i]!);
				return ratios.length === 0 ? null : averageSpelled(ratios, input.average);
			}
			if (found) {
				return { expression: figure(found.indices[season]!), remark: 'found together with the line' };
			}
			return place.of === 'before'
				? beforeSpelled(input, average, made, season)
				: afterSpelled(kind, input, made, season);
		},
	};
}

const known = (value: number) => (Number.isFinite(value) ? value : null);

const apart = (kind: SeasonKind, value: number, base: number): Expression =>
	kind === 'additive' ? minus(figure(value), figure(base)) : over(figure(value), figure(base));

function onLine(
	{ values }: Series,
	cycles: Cycles,
	kind: SeasonKind,
	{ line, indices }: FoundIndices,
): Indices {
	const bases = values.map((_, i) => line.intercept + line.slope * (i + 1));
	const ratios = values.map((value, i) => withoutIndex(kind, value, bases[i]!));
	const span = { from: 0, to: values.length };
	return {
		bases,
		ratios,
		averages: bySeason(ratios, cycles, span, 'mean'),
		before: Float64Array.from(indices),
		whole: Float64Array.from(indices),
		weight: 1,
		after: Float64Array.from(indices),
		...span,
	};
}

function averageSpelled(ratios: readonly number[], average: IndexInput['average']): Spelled {
	if (average !== 'median') return { expression: mean(ratios.map(figure)) };
	const sorted = [...ratios].sort((a, b) => a - b);
	const half = Math.floor(sorted.length / 2);
	return sorted.length % 2 === 1
		? { expression: figure(sorted[half]!), remark: `the middle of ${sorted.length}` }
		: {
				expression: mean([figure(sorted[half - 1]!), figure(sorted[half]!)]),
				remark: `the two in the middle of ${sorted.length}`,
			};
}

function baseSpelled(
	series: Series,
	{ rule }: IndexInput,
	found: FoundIndices | null,
	{ bases, from, to }: Indices,
	i: number,
): Spelled {
	const { values } = series;
	const cycles = cyclesOf(series);
	const { length } = cycles;
	if (found) {
		const { intercept, slope } = found.line;
		return { expression: plus(figure(intercept), times(figure(slope), figure(i + 1))), remark: 'the line' };
	}
	if (rule === 'ratio-to-cycle-mean') {
		const within = [...values.keys()].filter((other) => cycleOf(cycles, other) === cycleOf(cycles, i));
		return { expression: mean(within.map((other) => figure(values[other]!))), remark: 'the cycle’s mean' };
	}
	if (rule === 'ratio-to-moving-average') {
		const half = Math.floor(length / 2);
		const terms: Expression[] = [];
		let total = 0;
		for (let k = -half; k <= half; k++) {
			const value = values[i + k]!;
			if (Number.isNaN(value)) continue;
			const weight = length % 2 === 0 && Math.abs(k) === half ? 0.5 : 1;
			terms.push(weight === 1 ? figure(value) : times(figure(weight), figure(value)));
			total += weight;
		}
		return { expression: over(plus(...terms), figure(total)), remark: 'the centred average' };
	}
	if (rule === 'ratio-to-trend') {
		// Two of its values say what the line is.
		const slope = to - from > 1 ? bases[from + 1]! - bases[from]! : 0;
		return {
			expression: plus(figure(bases[from]! - slope), times(figure(slope), figure(i - from + 1))),
			remark: 'the line through the figures that take part',
		};
	}
	const present = values.subarray(from, to).filter((value) => !Number.isNaN(value));
	return {
		expression: over(figure(present.reduce((a, b) => a + b, 0)), figure(present.length)),
		remark: `the sum of all ${present.length} figures over their number`,
	};
}

function beforeSpelled(
	{ rule, held }: IndexInput,
	average: readonly (number | null)[],
	{ before, group }: Indices,
	season: number,
): Spelled | null {
	const value = before[season]!;
	if (Number.isNaN(value)) return null;
	if (group && (average[season] ?? null) === null)
		return { expression: figure(value), remark: 'that of its group' };
	if ((held?.[season] ?? null) !== null) return { expression: figure(value), remark: 'held as typed' };
	if (rule === 'given') return { expression: figure(value), remark: 'as given' };
	return { expression: figure(average[season]!), remark: 'the season’s average' };
}

function afterSpelled(
	kind: SeasonKind,
	{ normalise, held = [] }: IndexInput,
	{ before, whole, weight, after, group }: Indices,
	season: number,
): Spelled | null {
	const value = before[season]!;
	if (!Number.isFinite(after[season]!)) return null;
	if (group) {
		const lent = figure(group[season]!);
		return weight === 0
			? { expression: lent, remark: 'that of its group' }
			: {
					expression: plus(lent, times(figure(weight), minus(figure(whole[season]!), lent))),
					remark: `that of its group, moved ${Math.round(100 * weight)} % of the way to its own, ${Number(whole[season]!.toPrecision(6))}`,
				};
	}
	const isHeld = (j: number) => (held[j] ?? null) !== null;
	if (isHeld(season)) return { expression: figure(value), remark: 'fixed: the others take up the sum' };
	if (weight < 1) {
		// What they have in common, as the shrinking itself has it.
		const common = weight === 0 ? after[season]! : (after[season]! - weight * whole[season]!) / (1 - weight);
		return {
			expression: plus(figure(common), times(figure(weight), minus(figure(whole[season]!), figure(common)))),
			remark: `shrunk from ${Number(whole[season]!.toPrecision(6))}, which counts ${Math.round(100 * weight)} %`,
		};
	}
	if (normalise === false) return { expression: figure(value), remark: 'the sum is left as it is' };
	const length = before.length;
	const free = [...before.keys()].filter((j) => !isHeld(j));
	const moved = free.reduce((sum, j) => sum + before[j]!, 0);
	const kept = before.reduce((sum, index, j) => (isHeld(j) ? sum + index : sum), 0);
	const rest = held.some((each) => each !== null)
		? minus(figure(wholeOf(kind, length)), figure(kept))
		: figure(wholeOf(kind, length));
	const words = free.length < length ? 'the sum of those that are not fixed' : 'the sum before';
	return kind === 'multiplicative'
		? {
				expression: times(figure(value), over(rest, figure(moved))),
				remark: `${words} is ${Number(moved.toPrecision(6))}`,
			}
		: {
				expression: plus(figure(value), over(minus(rest, figure(moved)), figure(free.length))),
				remark: `${words} is ${Number(moved.toPrecision(6))}`,
			};
}
