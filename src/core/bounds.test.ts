import { readFileSync } from 'node:fs';
import * as v from 'valibot';
import { describe, expect, test } from 'vitest';
import { drawRequest } from '../../tests/support/from-schema';
import { AnswerSchema } from './questions/answer';
import { BOUNDS, BOUNDS_SAID, written } from './bounds';
import { costOf, refuseCostly } from './questions/cost';
import { evaluate } from './questions/evaluate';
import { parseRequest, RequestError } from './questions/request';

const values = Array.from({ length: 48 }, (_, t) => 100 + t + 20 * Math.sin((2 * Math.PI * t) / 12));
const series = { values, frequency: 'month', start: '2022-01' };

function issuesOf(request: unknown): { path: string; message: string }[] {
	try {
		evaluate(request);
	} catch (error) {
		if (error instanceof RequestError) return [...error.issues];
		throw error;
	}
	return [];
}

/** A request with one candidate. */
const with_ = (candidate: object, rest: object = {}) => ({
	series,
	candidates: [{ id: 'a', ...candidate }],
	...rest,
});

describe('what a request can make large has a bound, and is refused before it is made', () => {
	const many = (length: number) => Array.from({ length }, () => 1);
	test.each<[string, object, RegExp]>([
		['span', with_({ method: 'moving-average', span: 1e9 }), /^candidates\.0\.span: span is at most 20\s000/],
		[
			'weights',
			with_({ method: 'weighted-moving-average', weights: many(20_001) }),
			/weights: there are at most 20\s000/,
		],
		[
			'at',
			with_({ method: 'ses', start: { rule: 'given', at: 1e9, level: 1 } }),
			/start\.at: .*at most 20\s000/,
		],
		['k', with_({ method: 'ses', start: { rule: 'mean', k: 1e12 } }), /start\.k: k is at most 20\s000/],
		[
			'season values',
			with_({
				method: 'holt-winters',
				season: 'additive',
				start: { rule: 'given', level: 1, trend: 0, season: many(2001) },
			}),
			/start\.season: there are at most 2\s000/,
		],
		[
			'cycles of indices',
			with_({ method: 'seasonal-index', season: 'additive', index: { rule: 'ratio-to-trend', cycles: 1e9 } }),
			/index\.cycles: cycles is at most/,
		],
		[
			'cycles of a level',
			with_({ method: 'seasonal-index', season: 'additive', level: { rule: 'cycle-average', cycles: 1e9 } }),
			/level\.cycles: cycles is at most/,
		],
		[
			'growth',
			with_({ method: 'seasonal-index', season: 'additive', level: { rule: 'last-cycle', growth: 1e9 } }),
			/level\.growth: growth is a share of at most 100/,
		],
		[
			'blend',
			with_({
				method: 'seasonal-index',
				season: 'additive',
				level: { rule: 'blend', of: Array.from({ length: 13 }, () => ({ rule: 'line' })) },
			}),
			/level\.of: there are at most 12 levels in a blend/,
		],
		['frozen', with_({ method: 'seasonal-index', season: 'additive', frozen: 'x'.repeat(41) }), /frozen/],
		[
			'season length',
			{ series: { ...series, seasonLength: 2001 }, candidates: [] },
			/seasonLength: the season length is at most 2\s000/,
		],
		[
			'excluded',
			{ series: { ...series, excluded: many(20_001) }, candidates: [] },
			/excluded: there are at most 20\s000/,
		],
		['horizon', { series, candidates: [], horizon: 1001 }, /horizon: the horizon is at most 1\s000/],
		[
			'horizon of a trial',
			{ series, candidates: [], trial: { horizon: 1001 } },
			/trial\.horizon: the horizon is at most/,
		],
		[
			'origins',
			{ series, candidates: [], trial: { origins: 1e9 } },
			/trial\.origins: how many origins is at most/,
		],
		[
			'window of a signal',
			{ series, candidates: [], tracking: { kind: 'rolling', periods: 1e9 } },
			/tracking\.periods: .*at most 20\s000/,
		],
		[
			'candidates',
			{ series, candidates: Array.from({ length: 101 }, (_, i) => ({ id: `${i}`, method: 'naive' })) },
			/candidates: there are at most 100 candidates/,
		],
		[
			'levels',
			{ series, candidates: [], levels: many(11).map(() => 0.5) },
			/levels: there are at most 10 levels/,
		],
		[
			'id',
			{ series, candidates: [{ id: 'x'.repeat(41), method: 'naive' }] },
			/id: the id of a candidate has at most 40/,
		],
		[
			'a figure',
			{ series: { ...series, values: [1, 1.1e15] }, candidates: [] },
			/values\.1: .*no larger than 10\^15/,
		],
		[
			'a level that is given',
			with_({ method: 'ses', start: { rule: 'given', level: -2e15 } }),
			/start\.level: .*no larger than 10\^15/,
		],
	])('%s', (_name, request, pattern) => {
		const said = issuesOf(request).map(({ path, message }) => `${path}: ${message}`);
		expect(
			said.some((each) => pattern.test(each)),
			said.join('\n'),
		).toBe(true);
	});

	test('combinations that stand too deep in one another', () => {
		const chain = Array.from({ length: 60 }, (_, i) =>
			i === 0 ? { id: 'c0', method: 'naive' } : { id: `c${i}`, method: 'combination', of: [`c${i - 1}`] },
		);
		expect(issuesOf({ series, candidates: chain })[0]).toEqual({
			path: 'candidates.51.of',
			message: 'combinations stand at most 50 deep in one another',
		});
	});

	test('of twenty thousand wrong values the first are named', () => {
		const wrong = Array.from({ length: 20_000 }, () => 'x');
		expect(issuesOf({ series: { ...series, values: wrong }, candidates: [] })).toHaveLength(20);
	});
});

describe('texts', () => {
	test.each(['\u0000', 'a\u0007b', '\ud800', 'half \udc00'])('an id of %j is refused', (id) => {
		expect(issuesOf({ series, candidates: [{ id, method: 'naive' }] })[0]?.message).toMatch(
			/cannot be seen|missing/,
		);
	});
});

describe('what it costs is estimated before it is calculated', () => {
	const long = {
		values: Array.from({ length: 20_000 }, (_, t) => 100 + (t % 24)),
		frequency: 'hour',
		start: '2022-01-01T00',
	};
	const searched = { id: 'a', method: 'holt-winters', season: 'additive', optimise: { criterion: 'mad' } };
	const cost = (request: unknown) => costOf(parseRequest(request));

	test('more candidates, periods, constants and origins cost more', () => {
		const one = { series, candidates: [searched] };
		const twice = { series, candidates: [searched, { ...searched, id: 'b' }] };
		expect(cost(twice)).toBeGreaterThan(1.9 * cost(one));
		expect(cost({ series: long, candidates: [searched] })).toBeGreaterThan(100 * cost(one));
		expect(cost({ series, candidates: [{ id: 'a', method: 'ses', optimise: {} }] })).toBeLessThan(
			cost(one) / 20,
		);
		expect(cost({ ...one, trial: { horizon: 6, refit: true } })).toBeGreaterThan(10 * cost(one));
		expect(cost({ ...one, trial: { horizon: 6 } })).toBeLessThan(2 * cost(one));
		// A line with its indices is found anew at each origin, whether that is asked for or not.
		const line = {
			series,
			candidates: [
				{ id: 'a', method: 'trend-seasonal', season: 'additive', optimise: { criterion: 'smape' } },
			],
		};
		expect(cost({ ...line, trial: { horizon: 6 } })).toBeGreaterThan(1.9 * cost(line));
	});

	test('a morning’s work passes, a night’s is refused with what makes it less', () => {
		const usual = {
			series,
			candidates: Array.from({ length: 17 }, (_, i) => ({ ...searched, id: `c${i}` })),
		};
		expect(() => refuseCostly(parseRequest(usual))).not.toThrow();
		const heavy = parseRequest({
			series: long,
			candidates: [searched],
			trial: { origins: 19_900, horizon: 24, refit: true },
		});
		expect(() => refuseCostly(heavy)).toThrow(
			/about 38\s000\s000\s000\s000 steps of arithmetic, and .* 1\s000\s000\s000\. .*fewer origins, fewer periods/,
		);
		const large = {
			series: long,
			candidates: Array.from({ length: 60 }, (_, i) => ({ id: `c${i}`, method: 'naive' })),
		};
		expect(() => refuseCostly(parseRequest(large))).toThrow(
			/detail: the answer would hold about 14\s000\s000 figures/,
		);
		expect(() => refuseCostly(parseRequest({ ...large, detail: 'summary' }))).not.toThrow();
	});
});

test('indices kept for ten thousand cycles under the steepest growth: no infinity leaves the core', () => {
	const answer = evaluate({
		series: {
			values: Array.from({ length: 4000 }, (_, t) => 5 + (t % 2)),
			frequency: 'step',
			seasonLength: 2,
		},
		candidates: [
			{
				id: 'a',
				method: 'seasonal-index',
				season: 'multiplicative',
				level: { rule: 'last-cycle', growth: 100 },
				frozen: 4,
			},
		],
	});
	expect(v.safeParse(AnswerSchema, answer).issues ?? []).toEqual([]);
});

test('requests drawn from the schema, and near misses of them: each is refused with its places or answered within the answer’s schema', () => {
	let answered = 0;
	let refused = 0;
	for (let seed = 1; seed <= 600; seed++) {
		const request = drawRequest(seed);
		try {
			const answer = evaluate(request);
			answered++;
			expect(v.safeParse(AnswerSchema, answer).issues ?? [], `request ${seed}`).toEqual([]);
		} catch (error) {
			if (!(error instanceof RequestError)) throw error;
			refused++;
			expect(error.issues.length, `request ${seed}`).toBeGreaterThan(0);
		}
	}
	expect(answered).toBeGreaterThan(300);
	expect(refused).toBeGreaterThan(100);
});

test('the documentation lists every bound as it is', () => {
	const page = readFileSync('docs/http.md', 'utf8');
	for (const [name, bound] of Object.entries(BOUNDS))
		expect(page).toContain(`| ${written(bound)} | ${BOUNDS_SAID[name as keyof typeof BOUNDS]} |`);
});

test('a sum of periods ahead that grows beyond all figures is none', () => {
	const answer = evaluate({
		series: {
			values: Array.from({ length: 58 }, (_, t) => 1e13 * (1 + (t % 7) / 10)),
			frequency: 'step',
			seasonLength: 2,
		},
		candidates: [
			{
				id: 'a',
				method: 'seasonal-index',
				season: 'multiplicative',
				index: { rule: 'ratio-to-trend' },
				level: { rule: 'last-cycle', growth: 12 },
			},
		],
		horizon: 1000,
	});
	expect(v.safeParse(AnswerSchema, answer).issues ?? []).toEqual([]);
	const sums = answer.candidates.flatMap((each) => ('together' in each ? each.together : []));
	expect(sums.some(({ mean }) => mean === null)).toBe(true);
});
