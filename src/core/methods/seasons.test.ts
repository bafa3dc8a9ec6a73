import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { seededNormal } from '../numbers/random';
import type { CandidateResult } from '../questions/answer';
import { evaluate } from '../questions/evaluate';
import { cyclesOf } from '../seasons/cycles';
import { impliedIndex, seasonIndices, withIndex, withoutIndex } from '../seasons/indices';
import { prepareSeries } from '../series/series';
import { type Candidate, madeFrom } from './registry';

type Kind = 'multiplicative' | 'additive';
const KINDS = ['multiplicative', 'additive'] as const;
const RULES = [
	'ratio-to-overall',
	'ratio-to-cycle-mean',
	'ratio-to-moving-average',
	'ratio-to-trend',
] as const;

function answerTo(values: (number | null)[], candidate: object, more: object = {}) {
	const series = { values, frequency: 'quarter', start: '2020-Q1' };
	return evaluate({ series, candidates: [{ id: 'a', ...candidate }], horizon: 8, ...more }).candidates[0]!;
}

function run(values: (number | null)[], candidate: object, more: object = {}): CandidateResult {
	const answer = answerTo(values, candidate, more);
	if (!answer.ok) throw new Error(answer.notes[0]!.text);
	return answer;
}

function refusal(values: (number | null)[], candidate: object): string {
	const answer = answerTo(values, candidate);
	expect(answer.ok).toBe(false);
	return answer.notes[0]!.text;
}

const sum = (list: readonly (number | null)[]) => list.reduce<number>((total, each) => total + each!, 0);
const means = ({ ahead }: CandidateResult) => ahead.map(({ mean }) => mean!);
function near(actual: readonly (number | null)[], wanted: readonly (number | null)[], places = 1e-9) {
	expect(actual).toHaveLength(wanted.length);
	wanted.forEach((value, i) => {
		if (value === null) expect(actual[i]).toBeNull();
		else expect(Math.abs(actual[i]! - value)).toBeLessThanOrEqual(places * Math.max(1, Math.abs(value)));
	});
}

const demand = fc.array(fc.integer({ min: 5, max: 900 }), { minLength: 9, maxLength: 40 });
const kinds = fc.constantFrom<Kind>(...KINDS);
const rules = fc.constantFrom(...RULES);

describe('indices', () => {
	test('sum to P, or to 0, whatever the rule, the average and what is held', () => {
		fc.assert(
			fc.property(
				demand,
				kinds,
				rules,
				fc.constantFrom('mean', 'median'),
				fc.boolean(),
				(values, season, rule, average, holds) => {
					const held = holds ? [season === 'additive' ? 40 : 1.4, null, null, null] : undefined;
					const index = { rule, average, ...(held && { held }) };
					const answer = answerTo(values, {
						method: 'deseasonalised',
						season,
						index,
						inner: { method: 'naive' },
					});
					fc.pre(answer.ok);
					const { indices } = answer.states!;
					expect(Math.abs(sum(indices!) - (season === 'additive' ? 0 : 4))).toBeLessThan(
						season === 'additive' ? 1e-9 : 1e-12,
					);
					if (held) expect(indices![0]).toBe(held[0]);
				},
			),
		);
	});

	test('taken out and put back, they give the series again', () => {
		fc.assert(
			fc.property(demand, kinds, rules, (values, season, rule) => {
				const series = prepareSeries({ values, frequency: 'quarter', start: '2020-Q2' }, 'skip');
				const { after } = seasonIndices(series.values, cyclesOf(series), season, { rule });
				fc.pre(after.every(Number.isFinite));
				const back = values.map((value, i) => {
					const index = after[(i + 1) % 4]!;
					return withIndex(season, withoutIndex(season, value, index), index);
				});
				near(back, values);
			}),
		);
	});

	test('all rules agree on a season without a trend', () => {
		for (const season of KINDS) {
			const shape = season === 'additive' ? [-30, 10, 45, -25] : [0.7, 1.1, 1.45, 0.75];
			const values = Array.from({ length: 24 }, (_, t) => withIndex(season, 200, shape[t % 4]!));
			for (const rule of RULES.filter((each) => each !== 'ratio-to-trend')) {
				near(run(values, { method: 'seasonal-index', season, index: { rule } }).states!.indices!, shape);
			}
		}
		// Symmetric about the middle of the series, the line through it is level too.
		const [mirrored, index] = [[10, -10, -10, 10], { rule: 'ratio-to-trend' }];
		const values = Array.from({ length: 24 }, (_, t) => 200 + mirrored[t % 4]!);
		near(run(values, { method: 'seasonal-index', season: 'additive', index }).states!.indices!, mirrored);
	});

	test('a line with indices gives them back from the rules that should', () => {
		const shape = [-30, 10, 45, -25];
		const values = Array.from({ length: 26 }, (_, t) => 120 + 3.5 * (t + 1) + shape[t % 4]!);
		const added = run(values, {
			method: 'seasonal-index',
			season: 'additive',
			index: { rule: 'ratio-to-moving-average' },
			level: { rule: 'line' },
		});
		near(added.states!.indices!, shape);
		near([added.states!.line!.intercept, added.states!.line!.slope], [120, 3.5]);
		near(
			means(added),
			Array.from({ length: 8 }, (_, h) => 120 + 3.5 * (27 + h) + shape[(26 + h) % 4]!),
		);
		for (const season of KINDS) {
			for (const criterion of ['mse', 'mad', 'mape', 'smape', 'wape']) {
				const parts = season === 'additive' ? shape : [0.7, 1.1, 1.45, 0.75];
				const line = (t: number) => withIndex(season, 120 + 3.5 * t, parts[(t - 1) % 4]!);
				const together = run(
					Array.from({ length: 26 }, (_, t) => line(t + 1)),
					{ method: 'trend-seasonal', season, optimise: { criterion } },
				);
				near(together.states!.indices!, parts);
				near([together.states!.line!.intercept, together.states!.line!.slope], [120, 3.5]);
			}
		}
	});

	test('held ones stay, the others take up the sum or do not', () => {
		const values = [80, 120, 150, 90, 84, 126, 149, 96, 88, 130, 160, 95];
		const index = { rule: 'ratio-to-cycle-mean', held: [0.9, null, null, null] };
		const candidate = { method: 'seasonal-index', season: 'multiplicative' };
		const free = run(values, { ...candidate, index: { rule: 'ratio-to-cycle-mean' } }).states!.indices!;
		const shared = run(values, { ...candidate, index }).states!.indices!;
		expect(shared[0]).toBe(0.9);
		expect(sum(shared)).toBeCloseTo(4, 12);
		expect(shared[1]! / shared[2]!).toBeCloseTo(free[1]! / free[2]!, 12);
		const left = run(values, { ...candidate, index: { ...index, normalise: false } });
		near(left.states!.indices!, [0.9, ...free.slice(1)], 1e-12);
		expect(left.notes.map(({ code }) => code)).toContain('index-sum');
	});

	test('typed ones that cannot be are refused with the reason', () => {
		const values = [80, 120, 150, 90, 84, 126, 149, 96, 88, 130, 160, 95];
		const typed = (index: object, season = 'multiplicative') =>
			refusal(values, { method: 'seasonal-index', season, index });
		expect(typed({ rule: 'given', indices: [1, 1, 2] })).toMatch(/3 indices are given; a season of 4 has 4/);
		expect(typed({ rule: 'ratio-to-overall', held: [2, 1.5, 0.6, null] })).toMatch(
			/already sum to 4.1; all 4 must sum to 4, which leaves nothing for the other 1/,
		);
		expect(typed({ rule: 'ratio-to-overall', held: [1, 1, 1, 1.2] })).toMatch(/change one by -0.2/);
		expect(typed({ rule: 'ratio-to-overall', held: [-0.1, null, null, null] })).toMatch(/at least 0/);
		expect(typed({ rule: 'given', indices: [3, -3, 1, -1] }, 'multiplicative')).toMatch(
			/index of Q2 is given as -3/,
		);
	});

	test('the last cycles only: as if there were no others', () => {
		const values = [1, 900, 3, 4, 80, 120, 150, 90, 84, 126, 149, 96];
		const of = (rule: string, from: number, cycles?: number) =>
			run(values.slice(from), {
				method: 'seasonal-index',
				season: 'multiplicative',
				index: { rule, ...(cycles && { cycles }) },
			}).states!.indices!;
		for (const rule of RULES) near(of(rule, 0, 2), of(rule, 4));
	});

	test('a season of nothing has index 0, forecasts 0 and says nothing about the level', () => {
		const values = [0, 120, 150, 90, 0, 126, 149, 96, 0, 130, 160, 95];
		const index = { rule: 'ratio-to-cycle-mean' };
		const plain = run(values, { method: 'seasonal-index', season: 'multiplicative', index });
		expect(means(plain)[0]).toBe(0);
		expect(plain.notes.map(({ code }) => code)).toContain('season-of-zero');
		const bare = run(values, {
			method: 'deseasonalised',
			season: 'multiplicative',
			index,
			inner: { method: 'ses', start: { rule: 'mean' } },
		});
		expect(bare.states!.bare).toEqual(
			expect.arrayContaining([null, expect.closeTo(values[1]! / bare.states!.indices![1]!, 9)]),
		);
		expect(means(bare)[0]).toBe(0);
		expect(
			refusal([5, -2, 4, 4, 5, 2, 4, 4], { method: 'trend-seasonal', season: 'multiplicative' }),
		).toMatch(/figures below 0; 1 of 8 are, first at position 2/);
	});

	test('backwards: the index that a forecast implies', () => {
		expect(impliedIndex('multiplicative', 252, 200)).toBeCloseTo(1.26, 12);
		expect(impliedIndex('additive', 252, 200)).toBe(52);
		expect(impliedIndex('multiplicative', 5, 0)).toBeNaN();
	});
});

describe('the level of the coming cycle', () => {
	// Means of the cycles: 100, 110, 130.
	const values = [80, 120, 140, 60, 88, 132, 154, 66, 104, 156, 182, 78];
	const index = { rule: 'ratio-to-cycle-mean' };
	const shape = [0.8, 1.2, 1.4, 0.6];
	const on = (level: object, more: object = {}) =>
		run(values, { method: 'seasonal-index', season: 'multiplicative', index, level, ...more });
	const levels = (result: CandidateResult) => means(result).map((mean, h) => mean / shape[h % 4]!);

	test.each([
		[{ rule: 'last-cycle' }, 130, 130],
		[{ rule: 'last-cycle', growth: 0.1 }, 143, 157.3],
		[{ rule: 'cycle-average', cycles: 2 }, 120, 120],
		[{ rule: 'cycle-average', cycles: 3 }, 340 / 3, 340 / 3],
		[{ rule: 'cycle-smoothing', alpha: 0.5 }, 117.5, 117.5],
		[{ rule: 'cycle-trend' }, 430 / 3, 475 / 3],
		[{ rule: 'given', value: 99 }, 99, 99],
		[
			{
				rule: 'blend',
				of: [{ rule: 'cycle-average', cycles: 2 }, { rule: 'last-cycle' }],
				weights: [1, 3],
			},
			127.5,
			127.5,
		],
	])('%j', (level, first, second) => {
		near(levels(on(level)), [first, first, first, first, second, second, second, second]);
	});

	test('fitted values of a cycle are what the rules gave when it began', () => {
		const whole = on({ rule: 'cycle-average', cycles: 2 });
		expect(whole.kind).toBe('cycle');
		expect(whole.scoreFrom).toBe(9);
		const then = run(values.slice(0, 8), {
			method: 'seasonal-index',
			season: 'multiplicative',
			index,
			level: { rule: 'cycle-average', cycles: 2 },
		});
		near(whole.fitted!.slice(8), means(then).slice(0, 4));
	});

	test('so they are for every rule, on any series, wherever its cycles begin', () => {
		const levelRules = [
			{ rule: 'last-cycle', growth: 0.05 },
			{ rule: 'cycle-trend' },
			{ rule: 'line' },
			{ rule: 'cycle-smoothing' },
		];
		fc.assert(
			fc.property(
				demand,
				kinds,
				rules,
				fc.constantFrom(...levelRules),
				fc.integer({ min: 1, max: 4 }),
				(...given) => {
					const [list, season, rule, level, quarter] = given;
					const candidate = { id: 'a', method: 'seasonal-index', season, index: { rule }, level };
					const asked = (count: number) =>
						evaluate({
							series: { values: list.slice(0, count), frequency: 'quarter', start: `2020-Q${quarter}` },
							candidates: [candidate],
							horizon: 4,
						}).candidates[0]!;
					const whole = asked(list.length);
					fc.pre(whole.ok);
					// The last cycle that is complete, and what was known when it began.
					const end = list.length - ((list.length + quarter - 1) % 4);
					fc.pre(end > 4);
					const then = asked(end - 4);
					near(whole.fitted!.slice(end - 4, end), then.ok ? means(then) : [null, null, null, null], 1e-8);
				},
			),
		);
	});

	test('scenarios are forecast beside the level in use', () => {
		const beside = on(
			{ rule: 'last-cycle' },
			{ scenarios: [{ rule: 'given', value: 50 }, { rule: 'cycle-trend' }] },
		);
		near(
			beside.scenarios![0]!.slice(0, 4),
			shape.map((index) => 50 * index),
		);
		near(beside.scenarios![1]!, means(on({ rule: 'cycle-trend' })));
	});

	test('kept as of a period: later cycles change nothing, and a note says so', () => {
		const kept = on({ rule: 'last-cycle' }, { frozen: '2021-Q4' });
		near(levels(kept), Array<number>(8).fill(110));
		near(
			kept.fitted!.slice(8),
			shape.map((index) => 110 * index),
		);
		expect(kept.notes.find(({ code }) => code === 'kept-frozen')!.text).toMatch(
			/1 cycle has become complete since/,
		);
	});

	test('a cycle with a gap, or cut off, takes no part in the means', () => {
		const gap = [...values.slice(0, 10), null, 78];
		const result = answerTo(gap, {
			method: 'seasonal-index',
			season: 'multiplicative',
			index: { rule: 'ratio-to-overall' },
			level: { rule: 'last-cycle' },
		}) as CandidateResult;
		expect(result.states!.cycleLevels).toEqual([100, 110, null]);
		expect(result.notes.map(({ code }) => code)).toContain('cycles-with-gaps');
		const cut = run(values.slice(0, 10), { method: 'seasonal-index', season: 'additive', index });
		expect(cut.states!.cycleLevels).toEqual([100, 110, null]);
		// The coming periods are the rest of the cycle that has begun.
		near(means(cut).slice(0, 2), [110 + cut.states!.indices![2]!, 110 + cut.states!.indices![3]!]);
	});

	test('what a level lacks is said', () => {
		expect(
			refusal(values.slice(0, 8), {
				method: 'seasonal-index',
				season: 'additive',
				index,
				level: { rule: 'cycle-average', cycles: 3 },
			}),
		).toMatch(/mean of 3 cycles needs 3 complete cycles; this series has 2/);
	});
});

describe('line and indices together', () => {
	const normal = seededNormal(12);
	const shape = [0.7, 1.1, 1.45, 0.75];
	const noisy = Array.from({ length: 30 }, (_, t) =>
		Math.round((90 + 3 * t) * shape[t % 4]! + 12 * normal()),
	);

	/** The least value over directions of the line, each season settled at its best by looking at every candidate value. */
	function least(values: number[], cost: (errors: number[], ys: number[]) => number): number {
		let best = Infinity;
		for (let step = 0; step < 3000; step++) {
			const angle = -Math.PI / 2 + (Math.PI * step) / 3000;
			const along = values.map((_, i) => Math.cos(angle) + (Math.sin(angle) * (i - 14.5)) / 15);
			let total = 0;
			for (let j = 0; j < 4; j++) {
				const own = values.flatMap((y, i) => (i % 4 === j ? [{ y, c: along[i]! }] : []));
				const at = (x: number) =>
					cost(
						own.map(({ y, c }) => y - c * x),
						own.map(({ y }) => y),
					);
				const squares = own.reduce((s, { c }) => s + c * c, 0);
				const tries = own.map(({ y, c }) => y / c);
				tries.push(own.reduce((s, { y, c }) => s + y * c, 0) / squares);
				total += Math.min(...tries.filter(Number.isFinite).map(at));
			}
			best = Math.min(best, total);
		}
		return best / values.length;
	}

	test.each([
		['mse', (errors: number[]) => errors.reduce((s, e) => s + e * e, 0)],
		['mad', (errors: number[]) => errors.reduce((s, e) => s + Math.abs(e), 0)],
		[
			'mape',
			(errors: number[], ys: number[]) => errors.reduce((s, e, i) => s + Math.abs((100 * e) / ys[i]!), 0),
		],
	] as const)('by %s, none of a dense grid of lines is better', (criterion, cost) => {
		const { search, states } = run(noisy, {
			method: 'trend-seasonal',
			season: 'multiplicative',
			optimise: { criterion },
		});
		expect(search!.value).toBeLessThanOrEqual(1.0001 * least(noisy, cost));
		expect(Math.abs(sum(states!.indices!) - 4)).toBeLessThan(1e-12);
		expect(search!.flat.slope![0]).toBeLessThan(states!.line!.slope);
		expect(search!.flat.slope![1]).toBeGreaterThan(states!.line!.slope);
	});

	test('what is held stays, the sum holds, and no small step from the rest is better', () => {
		const holds = [
			{ slope: 2 },
			{ intercept: 100 },
			{ intercept: 100, slope: 2 },
			{ indices: [0.8, null, null, 0.6] },
			{ indices: [0.8, null, null, null], slope: 2 },
			{ indices: [0.7, 1.1, 1.4, 0.8] },
			{ indices: [0.7, 1.1, 1.4, 0.8], intercept: 95 },
		];
		for (const season of KINDS) {
			for (const criterion of ['mse', 'mad']) {
				for (const hold of holds) {
					const indices = hold.indices?.map((index) =>
						index === null ? null : season === 'additive' ? 100 * (index - 1) : index,
					);
					const result = run(noisy, {
						method: 'trend-seasonal',
						season,
						optimise: { criterion, hold: { ...hold, ...(indices && { indices }) } },
					});
					const { line, indices: found } = result.states!;
					if (hold.slope !== undefined) expect(line!.slope).toBe(hold.slope);
					if (hold.intercept !== undefined) expect(line!.intercept).toBe(hold.intercept);
					indices?.forEach((index, j) => index !== null && expect(found![j]).toBe(index));
					expect(Math.abs(sum(found!) - (season === 'additive' ? 0 : 4))).toBeLessThan(1e-12);

					const valueAt = (intercept: number, slope: number, list: readonly (number | null)[]) => {
						const errors = noisy.map(
							(y, i) => y - withIndex(season, intercept + slope * (i + 1), list[i % 4]!),
						);
						const size = criterion === 'mse' ? 2 : 1;
						return errors.reduce((s, e) => s + Math.abs(e) ** size, 0) / noisy.length;
					};
					const best = valueAt(line!.intercept, line!.slope, found!);
					expect(result.search!.value).toBeCloseTo(best, 6);
					const unit = season === 'additive' ? 1 : 0.01;
					for (const step of [-1, -0.05, 0.05, 1]) {
						if (hold.slope === undefined && hold.intercept === undefined) {
							expect(valueAt(line!.intercept + step, line!.slope, found!)).toBeGreaterThan(best * (1 - 1e-5));
						}
						if (hold.slope === undefined)
							expect(valueAt(line!.intercept, line!.slope + 0.1 * step, found!)).toBeGreaterThan(
								best * (1 - 1e-5),
							);
						const free = found!.flatMap((_, j) => ((indices?.[j] ?? null) === null ? [j] : []));
						if (free.length < 2) continue;
						const moved = found!.map((index, j) =>
							j === free[0] ? index! + step * unit : j === free[1] ? index! - step * unit : index,
						);
						expect(valueAt(line!.intercept, line!.slope, moved)).toBeGreaterThan(best * (1 - 1e-5));
					}
				}
			}
		}
	});

	test('a held set that cannot meet the sum is refused with the reason', () => {
		const hold = (indices: (number | null)[]) =>
			refusal(noisy, { method: 'trend-seasonal', season: 'multiplicative', optimise: { hold: { indices } } });
		expect(hold([1.5, 1.5, 1.2, null])).toMatch(/already sum to 4.2/);
		expect(hold([1, 1, 1, 1.5])).toMatch(/must sum to 4/);
		expect(hold([1, 1, null])).toMatch(/3 indices are given/);
	});

	test('few figures, missing seasons and cycles cut off', () => {
		expect(refusal([5, 6, 7], { method: 'trend-seasonal', season: 'additive' })).toMatch(
			/index of Q4 cannot be found/,
		);
		expect(refusal([5, 6, 7, 5, 6], { method: 'trend-seasonal', season: 'additive' })).toMatch(
			/5 values to find and needs more than 5 scored periods; there are 5/,
		);
		const gaps = noisy.map((value, i) => (i % 7 === 3 ? null : value));
		expect(run(gaps, { method: 'trend-seasonal', season: 'multiplicative' }).measures.own.count).toBe(26);
		expect(
			run(noisy, { method: 'trend-seasonal', season: 'additive' }, { scoreFrom: 9 }).measures.own.count,
		).toBe(22);
	});
});

describe('each season by itself', () => {
	test('is the inner method on every season’s own past', () => {
		const values = Array.from({ length: 22 }, (_, t) => 100 + 17 * ((t * 7) % 5) + t);
		for (const inner of [
			{ method: 'naive' },
			{ method: 'average' },
			{ method: 'moving-average', span: 2 },
			{ method: 'ses', constants: { alpha: 0.3 } },
			{ method: 'holt', constants: { alpha: 0.4, beta: 0.3 } },
		]) {
			const whole = run(values, { method: 'per-season', inner });
			for (let j = 0; j < 4; j++) {
				const own = values.filter((_, t) => t % 4 === j);
				const alone = evaluate({
					series: { values: own, frequency: 'step' },
					candidates: [{ id: 'a', ...inner }],
					horizon: 2,
				}).candidates[0] as CandidateResult;
				near(
					whole.fitted!.filter((_, t) => t % 4 === j),
					alone.fitted!,
				);
				const first = whole.ahead.filter(({ step }) => (21 + step) % 4 === j).map(({ mean }) => mean);
				near(first, means(alone));
			}
		}
	});

	test('a line in each is laid through what was known a cycle before', () => {
		const values = [10, 50, 20, 80, 12, 60, 26, 80, 17, 61, 40, 90];
		const { fitted, kind, ahead } = run(values, { method: 'per-season', inner: { method: 'linear-trend' } });
		expect(kind).toBe('cycle');
		near(fitted!, [...Array<null>(8).fill(null), 14, 70, 32, 80]);
		near([ahead[0]!.mean], [20]);
	});

	test('one constant for all of them is searched over all fitted values', () => {
		const values = Array.from({ length: 28 }, (_, t) => 100 + 17 * ((t * 7) % 5) + 3 * t);
		const best = run(values, { method: 'per-season', inner: { method: 'ses', optimise: {} } });
		for (const alpha of [0, 0.1, 0.3, 0.5, 0.8, 1]) {
			const other = run(values, { method: 'per-season', inner: { method: 'ses', constants: { alpha } } });
			expect(best.measures.own.mse!).toBeLessThanOrEqual(1.0001 * other.measures.own.mse!);
		}
	});

	test('too short seasons and starts for one only are refused', () => {
		expect(refusal([1, 2, 3, 4, 5], { method: 'per-season', inner: { method: 'linear-trend' } })).toMatch(
			/Q2 by itself has 1 period\. A line needs 2/,
		);
		expect(
			refusal([1, 2, 3, 4, 5, 6, 7, 8], {
				method: 'per-season',
				inner: { method: 'ses', start: { rule: 'given', level: 4 } },
			}),
		).toMatch(/starts again in each season/);
	});
});

describe('combinations', () => {
	const values = Array.from({ length: 30 }, (_, t) => 100 + 17 * ((t * 7) % 5) + t);
	const members = [
		{ id: 'm', method: 'moving-average', span: 3 },
		{ id: 's', method: 'ses', constants: { alpha: 0.3 } },
		{ id: 'l', method: 'linear-trend' },
	];
	const combined = (combination: object, more: object = {}) => {
		const answer = evaluate({
			series: { values, frequency: 'quarter', start: '2020-Q1' },
			candidates: [{ id: 'a', method: 'combination', ...combination }, ...members],
			horizon: 6,
			...more,
		});
		const of = (id: string) => answer.candidates.find((each) => each.id === id) as CandidateResult;
		return { of, a: of('a') };
	};

	test('with one weight 1 it is that candidate', () => {
		for (const [place, id] of ['m', 's', 'l'].entries()) {
			const weights = [0, 0, 0].map((_, i) => (i === place ? 1 : 0));
			const { a, of } = combined({ of: ['m', 's', 'l'], weights }, { holdout: 4 });
			const { fitted, kind, measures, ahead, scoreFrom } = of(id);
			expect({ fitted: a.fitted, kind: a.kind, from: a.scoreFrom }).toEqual({
				fitted,
				kind,
				from: scoreFrom,
			});
			expect(a.measures.own).toEqual(measures.own);
			expect(a.measures.holdout).toEqual(measures.holdout);
			expect(means(a)).toEqual(ahead.map(({ mean }) => mean));
		}
	});

	test('the mean where all exist; of a fit and a forecast it is a fit', () => {
		const { a, of } = combined({ of: ['m', 's'], weights: 'equal' });
		near(
			a.fitted!,
			of('m').fitted!.map((value, t) => (value === null ? null : (value + of('s').fitted![t]!) / 2)),
		);
		expect(a.kind).toBe('forecast');
		expect(combined({ of: ['m', 'l'] }).a.kind).toBe('fit');
		expect(a.parts).toMatchObject([
			{ id: 'm', share: 0.5 },
			{ id: 's', share: 0.5 },
		]);
	});

	test('by the inverse of the squared error over the periods they share', () => {
		const { a, of } = combined({ of: ['m', 's'], weights: 'inverse-mse' });
		const square = (id: string) =>
			of(id)
				.errors!.slice(3)
				.reduce<number>((total, error) => total + error! ** 2, 0);
		const share = 1 / square('m') / (1 / square('m') + 1 / square('s'));
		expect(a.parts![0]!.share).toBeCloseTo(share, 12);
		near(
			means(a),
			of('m').ahead.map(({ mean }, h) => share * mean! + (1 - share) * of('s').ahead[h]!.mean!),
		);
	});

	test('a trial fits what it is made from at each origin', () => {
		for (const refit of [false, true]) {
			const { a, of } = combined({ of: ['l'], weights: 'equal' }, { trial: { horizon: 2, refit } });
			expect(a.trial!.byStep.map(({ mad }) => mad)).toEqual(of('l').trial!.byStep.map(({ mad }) => mad));
		}
	});

	test('of combinations: each below is named once, however many ways lead to it', () => {
		const nested = Array.from({ length: 40 }, (_, i) => ({
			id: `n${i}`,
			method: 'combination',
			of: i === 0 ? ['m', 's'] : ['m', ...Array.from({ length: i }, (_, j) => `n${j}`)],
		}));
		const all = [...members, ...nested] as Candidate[];
		const below = madeFrom(all.at(-1)!, all).map(({ id }) => id);
		expect(below).toHaveLength(41);
		expect(new Set(below).size).toBe(41);
		const { candidates } = evaluate({
			series: { values, frequency: 'quarter', start: '2020-Q1' },
			candidates: all,
			holdout: 4,
			trial: { origins: 8, horizon: 2, refit: true },
		});
		expect(candidates.every(({ ok }) => ok)).toBe(true);
		const circle = [
			{ id: 'x', method: 'combination', of: ['y'] },
			{ id: 'y', method: 'combination', of: ['x'] },
		];
		expect(() => evaluate({ series: { values, frequency: 'step' }, candidates: circle })).toThrow(
			/candidates.0.of: a combination cannot be made from itself; candidates.1.of/,
		);
	});

	test('one made from a candidate that cannot run says so; circles and strangers are refused whole', () => {
		const answer = evaluate({
			series: { values: [1, 2, 3], frequency: 'quarter', start: '2020-Q1' },
			candidates: [
				{ id: 'a', method: 'combination', of: ['h'] },
				{ id: 'h', method: 'holt-winters', season: 'additive' },
			],
		}).candidates[0]!;
		expect(answer.notes[0]).toMatchObject({ code: 'member-cannot-run' });
		expect(() => combined({ of: ['x'] })).toThrow('candidates.0.of: there is no candidate x to combine');
		expect(() => combined({ of: ['m', 'a'] })).toThrow(/cannot be made from itself/);
		expect(() => combined({ of: ['m', 's'], weights: [1] })).toThrow(/1 weights for 2 candidates/);
		expect(() => combined({ of: ['m'], weights: [0] })).toThrow(
			/weights are 'equal', 'inverse-mse', or a list/,
		);
	});
});

test('wrong settings are refused with their path', () => {
	const request = (candidate: object) => () => answerTo([1, 2, 3, 4], candidate);
	const index = { rule: 'ratio-to-overall' };
	const base = { method: 'seasonal-index', season: 'additive' };
	expect(request({ ...base, index: { rule: 'by-feel' } })).toThrow(
		/candidates.0.index.rule: indices are taken by/,
	);
	expect(request({ ...base, index: { rule: 'given' } })).toThrow(
		/candidates.0.index.indices: the rule given needs/,
	);
	expect(request({ ...base, index, level: { rule: 'given' } })).toThrow(
		/candidates.0.level.value: is missing/,
	);
	expect(request({ ...base, index, level: { rule: 'hope' } })).toThrow(
		/candidates.0.level.rule: a level follows one of/,
	);
	expect(request({ ...base, index, level: { rule: 'blend', of: [] } })).toThrow(/of one level or more/);
	expect(
		request({ method: 'deseasonalised', season: 'additive', inner: { method: 'holt-winters' } }),
	).toThrow(/candidates.0.inner.method: an inner method is one of naive/);
	expect(
		request({
			method: 'deseasonalised',
			season: 'additive',
			inner: { method: 'ses', start: { rule: 'given' } },
		}),
	).toThrow(/candidates.0.inner.start.level: a given start needs its level/);
	expect(
		request({ method: 'trend-seasonal', season: 'additive', optimise: { hold: { wobble: 2 } } }),
	).toThrow(/candidates.0.optimise.hold.wobble: is not a key/);
});
