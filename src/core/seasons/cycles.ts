import { seasonAt, type Series } from '../series/series';

/** How the cycles of the calendar lie over a series: a cycle begins at season 1. */
export interface Cycles {
	/** P. */
	readonly length: number;
	/** Periods of the first cycle that lie before the series; 0 … P − 1. */
	readonly lead: number;
	/** Cycles that the series touches. */
	readonly count: number;
}

export function cyclesOf(series: Series): Cycles {
	const length = series.seasonLength;
	const lead = seasonAt(series, 1) - 1;
	return { length, lead, count: Math.ceil((lead + series.values.length) / length) };
}

/** 0-based cycle of the 0-based position i. */
export const cycleOf = ({ length, lead }: Cycles, i: number): number => Math.floor((lead + i) / length);

/** 0-based season of the 0-based position i. */
export const seasonOf = ({ length, lead }: Cycles, i: number): number => (lead + i) % length;

/** 0-based position after the last one of a cycle; at or below 0 for cycles that end before the series. */
export const endOf = ({ length, lead }: Cycles, cycle: number): number => (cycle + 1) * length - lead;

/**
 * The mean of each cycle that is complete: all of its P periods lie in the series and have a figure.
 * @param values n figures, NaN where missing
 * @returns one mean a cycle, NaN where it is not complete
 */
export function cycleMeans(values: Float64Array, cycles: Cycles): Float64Array {
	const { length, count } = cycles;
	const means = new Float64Array(count).fill(NaN);
	for (let cycle = 0; cycle < count; cycle++) {
		const end = endOf(cycles, cycle);
		if (end - length < 0 || end > values.length) continue;
		let sum = 0;
		for (let i = end - length; i < end; i++) sum += values[i]!;
		means[cycle] = sum / length;
	}
	return means;
}
