import type { CandidateInput } from '../../contract/candidate';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { panelSeries } from '../../../../tests/made/panel';
import type { CandidateResult } from '../../questions/answer';
import { evaluate } from '../../questions/evaluate';
import { methodOf } from '../registry';
import { prepareSeries } from '../../series/series';

/** Every member of the family, with constants away from their ends. */
const CONSTANTS = { alpha: 0.35, beta: 0.15, gamma: 0.25, phi: 0.9 };
/** Settings of any member, its season and trend as they may be. */
type Settings = Pick<CandidateInput, 'method' | 'constants' | 'start' | 'optimise'> & {
	season?: string;
	trend?: string;
};
const pick = (...keys: (keyof typeof CONSTANTS)[]) =>
	Object.fromEntries(keys.map((key) => [key, CONSTANTS[key]]));
const LEVEL: Settings[] = [
	{ method: 'ses', constants: pick('alpha') },
	{ method: 'brown', constants: pick('alpha') },
	{ method: 'holt', constants: pick('alpha', 'beta') },
	{ method: 'damped-holt', constants: pick('alpha', 'beta', 'phi') },
];
const seasonal = (season: string): Settings[] => [
	{ method: 'holt-winters', season, trend: 'none', constants: pick('alpha', 'gamma') },
	{ method: 'holt-winters', season, constants: pick('alpha', 'beta', 'gamma') },
	{ method: 'holt-winters', season, trend: 'damped', constants: CONSTANTS },
];
const ALL = [...LEVEL, ...seasonal('additive'), ...seasonal('multiplicative')];
const named = (list: readonly Settings[]) =>
	list.map((settings): [string, Settings] => [
		[settings.method, settings.trend, settings.season].filter(Boolean).join(' '),
		settings,
	]);

function run(
	values: readonly (number | null)[],
	settings: Settings,
	seasonLength = 4,
	more: object = {},
): CandidateResult {
	const [answer] = evaluate({
		series: { values, frequency: 'step', seasonLength },
		candidates: [{ id: 'a', ...settings }],
		horizon: 6,
		...more,
	}).candidates;
	if (!answer?.ok) throw new Error(answer?.notes[0]?.text);
	return answer;
}
const means = ({ ahead }: CandidateResult) => ahead.map(({ mean }) => mean!);
const list = (result: CandidateResult, key: string) => result.states![key] as (number | null)[];
function near(actual: readonly (number | null)[], wanted: readonly (number | null)[], size: number): void {
	expect(actual).toHaveLength(wanted.length);
	actual.forEach((value, i) => {
		if (wanted[i] === null) expect(value).toBeNull();
		else expect(Math.abs(value! - wanted[i]!)).toBeLessThanOrEqual(1e-9 * size);
	});
}

/** Two to five cycles of four, above zero. */
const demand = fc.array(fc.double({ min: 20, max: 400, noNaN: true }), { minLength: 12, maxLength: 30 });

describe('laws that hold for every member', () => {
	test.each(named([...LEVEL, ...seasonal('additive')]))(
		'%s: a shift of the series shifts the forecast',
		(_, settings) => {
			fc.assert(
				fc.property(demand, fc.double({ min: -300, max: 300, noNaN: true }), (values, by) => {
					const [plain, moved] = [
						run(values, settings),
						run(
							values.map((value) => value + by),
							settings,
						),
					];
					near(
						means(moved),
						means(plain).map((mean) => mean + by),
						1000,
					);
					near(moved.errors!, plain.errors!, 1000);
				}),
				{ numRuns: 40 },
			);
		},
	);

	test.each(named(ALL))('%s: a scaled series scales the forecast', (_, settings) => {
		fc.assert(
			fc.property(demand, fc.double({ min: 0.01, max: 50, noNaN: true }), (values, by) => {
				const [plain, scaled] = [
					run(values, settings),
					run(
						values.map((value) => value * by),
						settings,
					),
				];
				// Divided by a level next to nothing, rounding alone tells the two apart.
				fc.pre(list(plain, 'level').every((level) => level === null || Math.abs(level) > 1));
				const size = 1000 * Math.max(1, by);
				near(
					means(scaled),
					means(plain).map((mean) => mean * by),
					size,
				);
				near(
					scaled.fitted!,
					plain.fitted!.map((value) => value && value * by),
					size,
				);
			}),
			{ numRuns: 40 },
		);
	});

	test.each(named(ALL))('%s: a constant series is forecast as itself', (_, settings) => {
		const result = run(new Array<number>(17).fill(37.5), settings);
		near(means(result), new Array<number>(6).fill(37.5), 40);
		expect(result.measures.own.mad).toBeLessThan(1e-10);
	});

	test.each(named(ALL))('%s: moving on one actual at a time is one pass', (_, settings) => {
		const { values } = panelSeries(1);
		const whole = run(values, settings);
		// The start is kept as it stands for the whole history; only the end moves on.
		const start = { ...whole.start!, rule: 'given' as const };
		for (let known = 13; known < values.length; known += 7) {
			const part = run(values.slice(0, known), { ...settings, start });
			expect(Math.abs(means(part)[0]! - whole.fitted![known]!)).toBeLessThan(1e-9 * 400);
		}
	});

	test.each(named(ALL))('%s: the loop of the search and the recorded pass tell the same', (_, settings) => {
		for (const seed of [2, 3, 8, 11, 14]) {
			const { values } = panelSeries(seed);
			const gappy = values.map((value, i) => (i % 9 === 5 && i > 8 ? null : value));
			const series = prepareSeries({ values: gappy, frequency: 'step', seasonLength: 4 }, 'skip');
			const model = methodOf(settings.method).bind(series, { id: 'a', ...settings });
			const chosen = Float64Array.from(
				model.parameters,
				({ key, fallback }) => settings.constants![key] ?? fallback,
			);
			const fitted = new Float64Array(values.length);
			model.pass(chosen, fitted);
			const recorded = model.run(chosen).fitted;
			const size = Math.max(...values);
			fitted.forEach((value, i) => {
				if (Number.isNaN(recorded[i]!)) expect(value).toBeNaN();
				else expect(Math.abs(value - recorded[i]!)).toBeLessThan(1e-10 * size);
			});
		}
	});

	test.each(named(ALL))('%s: derivatives carried along agree with differences of passes', (_, settings) => {
		for (const start of [undefined, { rule: 'optimised' as const }]) {
			const { values } = panelSeries(6);
			const gappy = values.map((value, i) => (i === 10 || i === 11 ? null : value));
			const series = prepareSeries({ values: gappy, frequency: 'step', seasonLength: 4 }, 'skip');
			const model = methodOf(settings.method).bind(series, { id: 'a', ...settings, ...(start && { start }) });
			const chosen = Float64Array.from(
				model.parameters,
				({ key, fallback }) => settings.constants![key] ?? fallback,
			);
			const n = values.length;
			const wanted = model.parameters.map((_parameter, index) => index);
			const [fitted, derivatives] = [new Float64Array(n), new Float64Array(n * wanted.length)];
			model.derivatives!(chosen, wanted, fitted, derivatives);
			const [above, below] = [new Float64Array(n), new Float64Array(n)];
			for (const index of wanted) {
				const by = 1e-5 * Math.max(1, Math.abs(chosen[index]!) / 10);
				const moved = chosen.slice();
				moved[index]! += by;
				model.pass(moved, above);
				moved[index]! -= 2 * by;
				model.pass(moved, below);
				for (let i = model.firstFitted - 1; i < n; i++) {
					const difference = (above[i]! - below[i]!) / (2 * by);
					expect(Math.abs(derivatives[index * n + i]! - difference)).toBeLessThan(
						1e-4 * Math.max(200, Math.abs(difference)),
					);
				}
			}
		}
	});
});

describe('series that a method was made for come out exactly', () => {
	const line = Array.from({ length: 20 }, (_, i) => 50 + 3 * (i + 1));
	test.each(named([LEVEL[2]!, ...seasonal('additive').slice(1, 2)]))('%s: a line', (_, settings) => {
		const result = run(line, settings);
		near(means(result), [113, 116, 119, 122, 125, 128], 100);
		expect(result.measures.own.mad).toBeLessThan(1e-10);
	});

	test('brown from a line through the first periods: a line', () => {
		near(means(run(line, { ...LEVEL[1]!, start: { rule: 'line' } })), [113, 116, 119, 122, 125, 128], 100);
	});

	const shape = [0.7, 1.2, 1.4, 0.7];
	test.each(['decomposed', 'first-cycle'] as const)(
		'a season without trend, added or multiplied, from %s',
		(rule) => {
			const values = Array.from({ length: 22 }, (_, i) => 200 * shape[i % 4]!);
			for (const settings of [...seasonal('additive'), ...seasonal('multiplicative')]) {
				const result = run(values, { ...settings, start: { rule } });
				near(
					means(result),
					Array.from({ length: 6 }, (_, h) => 200 * shape[(22 + h) % 4]!),
					300,
				);
				expect(result.measures.own.mad).toBeLessThan(1e-9);
			}
		},
	);

	test('a line with an added season, taken apart', () => {
		const added = [-40, 10, 55, -25];
		const at = (t: number) => 300 + 2.5 * t + added[(t - 1) % 4]!;
		const values = Array.from({ length: 24 }, (_, i) => at(i + 1));
		const result = run(values, seasonal('additive')[1]!);
		near(means(result), [25, 26, 27, 28, 29, 30].map(at), 400);
		near([result.start!.level, result.start!.trend!, ...result.start!.season!], [300, 2.5, ...added], 400);
	});
});

describe('members are each other with parts left out', () => {
	const { values } = panelSeries(16);
	const same = (a: Settings, b: Settings, length = 4) => {
		const [one, other] = [run(values, a, length), run(values, b, length)];
		near(one.fitted!, other.fitted!, Math.max(...values));
		near(means(one), means(other), Math.max(...values));
	};

	test('damped with φ = 1 is undamped', () => {
		same(
			{ method: 'damped-holt', constants: { alpha: 0.3, beta: 0.2, phi: 1 } },
			{ method: 'holt', constants: { alpha: 0.3, beta: 0.2 } },
		);
		for (const season of ['additive', 'multiplicative']) {
			const constants = { alpha: 0.3, beta: 0.2, gamma: 0.4 };
			same(
				{ method: 'holt-winters', season, trend: 'damped', constants: { ...constants, phi: 1 } },
				{ method: 'holt-winters', season, constants },
			);
		}
	});

	test.each([
		['additive', 0],
		['multiplicative', 1],
	])('holt-winters with a flat %s season and γ = 0 is holt', (season, flat) => {
		const start = { rule: 'given' as const, level: 90, trend: 1.5 };
		same(
			{
				method: 'holt-winters',
				season,
				start: { ...start, season: new Array<number>(4).fill(flat) },
				constants: { alpha: 0.3, beta: 0.2, gamma: 0 },
			},
			{ method: 'holt', start, constants: { alpha: 0.3, beta: 0.2 } },
		);
	});

	test('holt with β = 0 and no trend to start from is simple smoothing', () => {
		const start = { rule: 'given' as const, level: 90 };
		same(
			{ method: 'holt', start: { ...start, trend: 0 }, constants: { alpha: 0.3, beta: 0 } },
			{ method: 'ses', start, constants: { alpha: 0.3 } },
		);
	});

	test.each([0.05, 0.35, 0.8, 1])('brown with %f is its holt twin and smoothing twice', (a) => {
		const start = { rule: 'given' as const, level: 90, trend: 1.2 };
		const brown: Settings = { method: 'brown', start, constants: { alpha: a } };
		same(brown, { method: 'holt', start, constants: { alpha: a * (2 - a), beta: a / (2 - a) } });
		if (a === 1) return;
		const result = run(values, brown);
		let one = 90 - (1.2 * (1 - a)) / a;
		let two = 90 - (2 * 1.2 * (1 - a)) / a;
		values.forEach((value, i) => {
			one = a * value + (1 - a) * one;
			two = a * one + (1 - a) * two;
			near([list(result, 'smoothed1')[i]!, list(result, 'smoothed2')[i]!], [one, two], 1000 / a);
			near(
				[list(result, 'level')[i]!, list(result, 'trend')[i]!],
				[2 * one - two, (a / (1 - a)) * (one - two)],
				1000 / a,
			);
		});
	});

	test('α = 1 repeats the last actual', () => {
		same({ method: 'ses', constants: { alpha: 1 } }, { method: 'naive' });
	});

	test('α = 0 never moves', () => {
		const result = run(values, {
			method: 'ses',
			constants: { alpha: 0 },
			start: { rule: 'given', level: 123 },
		});
		expect(new Set(result.fitted)).toEqual(new Set([123]));
		const trended = run(values, {
			method: 'holt',
			constants: { alpha: 0, beta: 0.5 },
			start: { rule: 'given', level: 123, trend: 2 },
		});
		near(
			trended.fitted!,
			values.map((_, i) => 123 + 2 * (i + 1)),
			1000,
		);
	});

	test.each(['additive', 'multiplicative'])('γ = 0 keeps the seasons of the start (%s)', (season) => {
		const result = run(values, {
			method: 'holt-winters',
			season,
			constants: { alpha: 0.3, beta: 0.1, gamma: 0 },
		});
		const kept = list(result, 'season');
		kept.forEach((value, i) => expect(value).toBeCloseTo(result.start!.season![i % 4]!, 10));
	});

	test('γ = 1 with α = 0 repeats each season of the last cycle', () => {
		const start = { rule: 'given' as const, level: 0, season: [0, 0, 0, 0] };
		const result = run(values, {
			method: 'holt-winters',
			season: 'additive',
			trend: 'none',
			start,
			constants: { alpha: 0, gamma: 1 },
		});
		const naive = run(values, { method: 'seasonal-naive' });
		near(means(result), means(naive), 1000);
		near(result.fitted!.slice(4), naive.fitted!.slice(4), 1000);
	});
});

describe('missing actuals', () => {
	const values = [100, 104, 106, 112, 109, null, null, 131, 128, 135, 127, null];
	test('the state takes the step of the forecast, and the error is not there', () => {
		const result = run(values, { method: 'damped-holt', constants: { alpha: 0.4, beta: 0.3, phi: 0.8 } });
		const [level, trend] = [list(result, 'level'), list(result, 'trend')];
		for (const t of [6, 7, 12]) {
			near([level[t - 1]!, trend[t - 1]!], [level[t - 2]! + 0.8 * trend[t - 2]!, 0.8 * trend[t - 2]!], 200);
			expect(result.errors![t - 1]).toBeNull();
			expect(result.fitted![t - 1]).not.toBeNull();
		}
	});

	test('a season without an actual stays', () => {
		const result = run(values, {
			method: 'holt-winters',
			season: 'additive',
			constants: pick('alpha', 'beta', 'gamma'),
		});
		const season = list(result, 'season');
		expect(season[5]).toBe(season[1]);
		expect(season[11]).toBe(season[7]);
	});
});

describe('starts', () => {
	const values = [10, 14, 12, 18, 20, 19, 24, 26];
	test('each rule stands where it says', () => {
		const start = (rule: object) =>
			run(values, { method: 'holt', start: rule as never, constants: pick('alpha', 'beta') }).start;
		expect(start({ rule: 'first-two' })).toEqual({ rule: 'first-two', at: 2, level: 14, trend: 4 });
		expect(start({ rule: 'given', level: 9, trend: 1, at: 3 })).toEqual({
			rule: 'given',
			at: 3,
			level: 9,
			trend: 1,
		});
		// Through 10, 14, 12: mean 12 at t = 2, slope 1.
		expect(start({ rule: 'line', k: 3 })).toMatchObject({ rule: 'line', at: 0, level: 10, trend: 1 });
	});

	test('the first cycle: its mean, the mean change to the second, its seasons', () => {
		const result = run(values, {
			method: 'holt-winters',
			season: 'multiplicative',
			start: { rule: 'first-cycle' },
			constants: pick('alpha', 'beta', 'gamma'),
		});
		// Means 13.5 and 22.25; the differences a cycle apart are 10, 5, 12 and 8, each over 4 periods.
		expect(result.start).toMatchObject({ at: 4, level: 13.5, trend: 35 / 16 });
		near(
			result.start!.season!,
			[10, 14, 12, 18].map((value) => value / 13.5),
			1,
		);
		expect(result.scoreFrom).toBe(5);
	});

	test('season values run from season 1 of the calendar, whatever season the series begins in', () => {
		const shape = [80, 100, 140, 80];
		const values = Array.from({ length: 14 }, (_, i) => shape[(i + 2) % 4]!);
		const [answer] = evaluate({
			series: { values, frequency: 'quarter', start: '2020-Q3' },
			candidates: [{ id: 'a', method: 'holt-winters', season: 'additive' }],
			horizon: 4,
		}).candidates;
		const result = answer as CandidateResult;
		near(result.start!.season!, [-20, 0, 40, -20], 100);
		near(
			means(result),
			[80, 80, 100, 140].map((_, h) => shape[(14 + 2 + h) % 4]!),
			200,
		);
	});

	test('searched along, a start is never worse than its rule, and refused where it could fit anything', () => {
		for (const settings of [LEVEL[2]!, seasonal('additive')[1]!, seasonal('multiplicative')[1]!]) {
			const { values } = panelSeries(31);
			for (const criterion of ['mse', 'mad'] as const) {
				const rule = settings.method === 'holt' ? 'line' : 'decomposed';
				const byRule = run(values, { ...settings, start: { rule }, optimise: { criterion } });
				const along = run(values, { ...settings, start: { rule: 'optimised' }, optimise: { criterion } });
				expect(along.search!.value).toBeLessThanOrEqual(byRule.search!.value * 1.0001);
				expect(along.measures.own[criterion]).toBeCloseTo(along.search!.value, 6);
			}
		}
		expect(() =>
			run([5, 7, 6, 8, 6, 9, 7, 9], { ...seasonal('additive')[1]!, start: { rule: 'optimised' } }),
		).not.toThrow();
		expect(() => run([5, 7, 6], { ...LEVEL[2]!, start: { rule: 'optimised' }, optimise: {} })).toThrow(
			/needs more than 4 scored periods; there are 3/,
		);
	});
});

describe('what cannot run says why', () => {
	const refusal = (values: (number | null)[], settings: Settings, seasonLength = 4) => {
		const [answer] = evaluate({
			series: { values, frequency: 'step', seasonLength },
			candidates: [{ id: 'a', ...settings }],
		}).candidates;
		expect(answer!.ok).toBe(false);
		return answer!.notes[0]!;
	};
	const hw: Settings = { method: 'holt-winters', season: 'multiplicative' };

	test('too few cycles, with what is needed and there', () => {
		const note = refusal(new Array<number>(19).fill(5), hw, 12);
		expect(note).toMatchObject({ code: 'too-few-cycles', figures: { needs: 24, has: 19 } });
		expect(note.text).toContain('needs 2 whole cycles (24 periods) to begin; this series has 19');
	});
	test('no season to smooth', () => {
		expect(refusal([1, 2, 3, 4], hw, 1)).toMatchObject({ code: 'no-season' });
	});
	test.each([
		['a zero', [3, 4, 0, 6, 3, 5, 5, 6]],
		['a negative', [3, 4, -2, 6, 3, 5, 5, 6]],
	])('a multiplicative season of a series with %s', (_, values) => {
		const note = refusal(values, hw);
		expect(note).toMatchObject({ code: 'multiplicative-needs-positive', figures: { count: 1, first: 3 } });
		expect(note.text).toContain('Take an additive season');
	});
	test('a given start that leaves a part out is refused whole, by its path', () => {
		expect(() => refusal([1, 2, 3, 4], { method: 'holt', start: { rule: 'given', level: 3 } })).toThrow(
			/candidates\.0\.start\.trend: a given start needs its trend/,
		);
		expect(() => refusal([1, 2, 3, 4], { ...hw, start: { rule: 'given', level: 3, trend: 0 } })).toThrow(
			/start\.season/,
		);
	});
	test('given seasons of another length', () => {
		expect(
			refusal([3, 4, 5, 6], { ...hw, start: { rule: 'given', level: 3, trend: 0, season: [1, 1] } }),
		).toMatchObject({
			code: 'start-season-length',
			figures: { needs: 4, has: 2 },
		});
	});
	test('a season that no actual of the first cycles tells', () => {
		const note = refusal([3, null, 4, 5, 3, null, 4, 6, 3, 7, 4, 6, 3, 6, 4, 5], {
			...hw,
			start: { rule: 'decomposed', k: 2 },
		});
		expect(note.text).toMatch(/cannot tell season 2 from the first 2 cycles/);
	});
	test('first actuals that are not there', () => {
		expect(refusal([null, 4, 5, 6], { method: 'holt' })).toMatchObject({
			code: 'start-is-missing',
			figures: { needs: 2, has: 1 },
		});
	});
});
