import { expect, test } from 'vitest';
import type { CandidateResult } from './questions/answer';
import { evaluate } from './questions/evaluate';
import worked from './fixtures/worked.json';

/** Figures that were calculated apart from this program. */
interface Expected {
	fitted?: (number | null)[];
	level?: (number | null)[];
	trend?: (number | null)[];
	season?: (number | null)[];
	indices?: number[];
	line?: { intercept: number; slope: number };
	ahead?: number[];
	own?: Record<string, number>;
	tracking?: Record<string, number>[];
	scoreFrom?: number;
	halfWidth95?: number[];
	/** By level, step by step. */
	ranges?: Record<string, number[]>[];
	together?: { mean: number; ranges: Record<string, number[]>; stock: number }[];
	searchValue?: number;
	searchConstants?: number[];
}

/** Absolute for figures near zero, relative for large ones. */
function close(actual: unknown, expected: number, tolerance: number) {
	expect(typeof actual).toBe('number');
	expect(Math.abs((actual as number) - expected)).toBeLessThanOrEqual(
		tolerance * Math.max(1, Math.abs(expected)),
	);
}

function closeList(actual: readonly unknown[] | undefined, expected: readonly (number | null)[]) {
	expect(actual).toHaveLength(expected.length);
	expected.forEach((value, i) =>
		value === null ? expect(actual![i]).toBeNull() : close(actual![i], value, worked.tolerance),
	);
}

test.each(worked.cases)('$name', ({ request, expect: figures }) => {
	const wanted = figures as Expected;
	const candidate = evaluate(request).candidates[0] as CandidateResult;
	expect(candidate.ok).toBe(true);
	if (wanted.fitted) closeList(candidate.fitted, wanted.fitted);
	for (const key of ['level', 'trend', 'season'] as const) {
		const recorded = candidate.states?.[key];
		if (wanted[key]) closeList(Array.isArray(recorded) ? recorded : undefined, wanted[key]);
	}
	if (wanted.indices) closeList(candidate.states!.indices, wanted.indices);
	if (wanted.line) {
		close(candidate.states!.line!.intercept, wanted.line.intercept, worked.tolerance);
		close(candidate.states!.line!.slope, wanted.line.slope, worked.tolerance);
	}
	if (wanted.ahead)
		closeList(
			candidate.ahead.map((step) => step.mean),
			wanted.ahead,
		);
	if (wanted.scoreFrom) expect(candidate.scoreFrom).toBe(wanted.scoreFrom);
	for (const [key, value] of Object.entries(wanted.own ?? {})) {
		close(candidate.measures.own[key as 'mad'], value, worked.tolerance);
	}
	for (const point of wanted.tracking ?? []) {
		const found = candidate.tracking!.find((entry) => entry.t === point.t)!;
		for (const key of ['error', 'cfe', 'mad', 'signal'] as const)
			close(found[key], point[key]!, worked.tolerance);
	}
	wanted.halfWidth95?.forEach((half, i) => {
		const [low, high] = candidate.ahead[i]!.ranges['0.95']!;
		close((high - low) / 2, half, worked.tolerance);
	});
	const closeRanges = (found: Record<string, [number, number] | null>, ranges: Record<string, number[]>) => {
		for (const [level, ends] of Object.entries(ranges))
			ends.forEach((end, side) => close(found[level]![side], end, worked.tolerance));
	};
	wanted.ranges?.forEach((ranges, i) => closeRanges(candidate.ahead[i]!.ranges, ranges));
	wanted.together?.forEach(({ mean, ranges, stock }, i) => {
		const sum = candidate.together[i]!;
		close(sum.mean, mean, worked.tolerance);
		close(sum.stock, stock, worked.tolerance);
		closeRanges(sum.ranges, ranges);
	});
	if (wanted.searchValue !== undefined) {
		expect(candidate.search!.value).toBeLessThanOrEqual(wanted.searchValue * (1 + worked.searchTolerance));
		close(candidate.search!.value, wanted.searchValue, worked.searchTolerance);
	}
});
