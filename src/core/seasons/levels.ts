import { leastSquaresLine } from '../numbers/line';
import { type Cycles, endOf } from './cycles';
import type { LevelInput, PlainLevel } from './settings';

/** Cycles that are averaged, and the constant of smoothing, unless told otherwise. */
export const USUAL_CYCLES = 2;
export const USUAL_ALPHA = 0.2;

/** A level that was found, good for any later period. */
export interface FoundLevel {
	/** Level of a 0-based cycle and 0-based position. */
	at(cycle: number, position: number): number;
	/** What `at` is calculated from, where it is a line: value = base + slope · (cycle or t, both 1-based). */
	line?: { base: number; slope: number };
}

/** Why a level cannot be had: what it needs and what there is. */
export interface LevelLack {
	needs: number;
	has: number;
	of: 'cycles' | 'periods';
}

/**
 * The level by one rule from what is known at the end of period `to`.
 * @param means one mean a cycle, NaN where it is not complete; those that end after `to` are not looked at
 * @param bare n figures without their season, NaN where missing
 */
export function levelBy(
	level: PlainLevel,
	means: Float64Array,
	bare: Float64Array,
	cycles: Cycles,
	to: number,
): FoundLevel | LevelLack {
	const complete: number[] = [];
	for (let cycle = 0; cycle < means.length && endOf(cycles, cycle) <= to; cycle++) {
		if (!Number.isNaN(means[cycle]!)) complete.push(cycle);
	}
	const lack = (needs: number): LevelLack => ({ needs, has: complete.length, of: 'cycles' });
	const last = complete.at(-1) ?? -1;
	switch (level.rule) {
		case 'given':
			return { at: () => level.value };
		case 'last-cycle': {
			if (last < 0) return lack(1);
			const growth = 1 + (level.growth ?? 0);
			return { at: (cycle) => means[last]! * growth ** (cycle - last) };
		}
		case 'cycle-average': {
			const wanted = level.cycles ?? USUAL_CYCLES;
			if (complete.length < wanted) return lack(wanted);
			const sum = complete.slice(-wanted).reduce((total, cycle) => total + means[cycle]!, 0);
			return { at: () => sum / wanted };
		}
		case 'cycle-smoothing': {
			if (last < 0) return lack(1);
			const alpha = level.alpha ?? USUAL_ALPHA;
			let smoothed = means[complete[0]!]!;
			for (const cycle of complete.slice(1)) smoothed = alpha * means[cycle]! + (1 - alpha) * smoothed;
			return { at: () => smoothed };
		}
		case 'cycle-trend': {
			if (complete.length < 2) return lack(2);
			const { intercept, slope } = leastSquaresLine(means.subarray(0, last + 1));
			return { at: (cycle) => intercept + slope * (cycle + 1), line: { base: intercept, slope } };
		}
		case 'line': {
			const { intercept, slope, count } = leastSquaresLine(bare.subarray(0, to));
			if (count < 2) return { needs: 2, has: count, of: 'periods' };
			return { at: (_, position) => intercept + slope * (position + 1), line: { base: intercept, slope } };
		}
	}
}

/** The levels that a rule is made of, with their weights as shares of their sum. */
export function partsOfLevel(level: LevelInput): { part: PlainLevel; share: number }[] {
	if (level.rule !== 'blend') return [{ part: level, share: 1 }];
	const weights = level.weights ?? level.of.map(() => 1);
	const sum = weights.reduce((a, b) => a + b, 0);
	// What has no weight need not be had.
	return level.of.flatMap((part, i) => (weights[i]! > 0 ? [{ part, share: weights[i]! / sum }] : []));
}

/** A level in words: "last cycle grown by 4 %". */
export function levelWords(level: LevelInput): string {
	switch (level.rule) {
		case 'last-cycle': {
			const growth = level.growth ?? 0;
			if (growth === 0) return 'last cycle';
			return `last cycle ${growth > 0 ? '+' : '−'}${Number((100 * Math.abs(growth)).toPrecision(4))} %`;
		}
		case 'cycle-average':
			return (level.cycles ?? USUAL_CYCLES) === 1
				? 'last cycle'
				: `mean of ${level.cycles ?? USUAL_CYCLES} cycles`;
		case 'cycle-smoothing':
			return `smoothed cycles α ${level.alpha ?? USUAL_ALPHA}`;
		case 'cycle-trend':
			return 'trend of cycles';
		case 'line':
			return 'line';
		case 'given':
			return `level ${Number(level.value.toPrecision(6))}`;
		case 'blend':
			return `blend of ${level.of.length}`;
	}
}

/** Whether a level could be had. */
export const isFound = (level: FoundLevel | LevelLack): level is FoundLevel => 'at' in level;
