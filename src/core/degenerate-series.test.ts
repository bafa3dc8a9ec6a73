import { expect, test } from 'vitest';
import { panelSeries } from '../../tests/made/panel';
import { seededNormal } from './numbers/random';
import { evaluate } from './questions/evaluate';
import { CRITERIA } from './contract/criteria';
import { INDEX_RULES } from './seasons/settings';
import { METHODS } from './methods/registry';
import { quarterOf } from '../../tests/support/runs';

/** Series that hurt, with their season length. */
const HURTING: Record<string, { values: (number | null)[]; seasonLength: number }> = {
	'all zeros': { values: new Array<number>(40).fill(0), seasonLength: 4 },
	'all equal': { values: new Array<number>(40).fill(7), seasonLength: 4 },
	'one huge value': {
		values: Array.from({ length: 36 }, (_, i) => (i === 20 ? 1e12 : 5 + (i % 4))),
		seasonLength: 12,
	},
	'tiny and huge by turns': {
		values: Array.from({ length: 30 }, (_, i) => (i % 2 ? 1e-9 : 1e9)),
		seasonLength: 4,
	},
	'negatives and zeros': { values: Array.from({ length: 30 }, (_, i) => ((i * 7) % 5) - 2), seasonLength: 4 },
	'eight periods, a season of twelve': { values: [4, 6, 5, 7, 6, 8, 7, 9], seasonLength: 12 },
	'one period': { values: [4], seasonLength: 12 },
	'nothing at all': { values: [null, null, null], seasonLength: 1 },
	'gaps before and after': {
		values: [
			...new Array<null>(9).fill(null),
			...panelSeries(11).values.slice(0, 30),
			...new Array<null>(9).fill(null),
		],
		seasonLength: 4,
	},
	'nine tenths missing': {
		values: Array.from({ length: 120 }, (_, i) => (i % 10 === 3 ? 50 + (i % 7) : null)),
		seasonLength: 12,
	},
	'down to almost nothing': {
		values: Array.from({ length: 48 }, (_, i) => 1000 * 0.7 ** i),
		seasonLength: 12,
	},
};

/** Every method as it comes, and searched by every criterion, with every start it has. */
function everyCandidate(): Record<string, unknown>[] {
	const plain = METHODS.filter(({ dependsOn }) => !dependsOn).flatMap((method) => {
		const fields = Object.fromEntries(
			method.fields.flatMap(({ key, initial }) => (initial === undefined ? [] : [[key, initial]])),
		);
		const kinds: Record<string, unknown>[] =
			method.id === 'holt-winters'
				? ['additive', 'multiplicative'].flatMap((season) =>
						['none', 'additive', 'damped'].map((trend) => ({ season, trend })),
					)
				: method.id === 'seasonal-index'
					? everyIndex(fields)
					: 'season' in fields
						? ['additive', 'multiplicative'].map((season) => ({ ...fields, season }))
						: [fields];
		return kinds.flatMap((kind) => [
			{ method: method.id, ...kind },
			...(method.constants.length > 0 || method.held
				? CRITERIA.map((criterion) => ({ method: method.id, ...kind, optimise: { criterion } }))
				: []),
			...method.starts
				.filter((rule) => rule !== 'given')
				.map((rule) => ({ method: method.id, ...kind, start: { rule } })),
			...(method.starts.includes('optimised')
				? [{ method: method.id, ...kind, start: { rule: 'optimised' }, optimise: {} }]
				: []),
		]);
	});
	return plain.map((candidate, i) => ({ id: `c${i}`, ...candidate }));
}

/** Seasonal indices by every rule on every level. */
const everyIndex = (fields: Record<string, unknown>) =>
	['additive', 'multiplicative'].flatMap((season) =>
		INDEX_RULES.filter((rule) => rule !== 'given').flatMap((rule) =>
			[
				{ rule: 'last-cycle', growth: 0.1 },
				{ rule: 'cycle-trend' },
				{ rule: 'cycle-smoothing' },
				{ rule: 'line' },
				{ rule: 'blend', of: [{ rule: 'cycle-average' }, { rule: 'given', value: 5 }] },
			].map((level) => ({ ...fields, season, index: { rule, average: 'median' }, level })),
		),
	);

/** Every number anywhere in an answer. */
function numbersIn(value: unknown, found: number[] = []): number[] {
	if (typeof value === 'number') found.push(value);
	else if (value && typeof value === 'object')
		for (const part of Object.values(value)) numbersIn(part, found);
	return found;
}

test.each(Object.entries(HURTING).map(([name, series], turn) => [name, series, turn] as const))(
	'%s: every candidate answers with figures or a reason',
	(_, series, turn) => {
		const candidates = quarterOf(everyCandidate(), turn);
		for (let from = 0; from < candidates.length; from += 60) {
			const answer = evaluate({
				series: { ...series, frequency: 'step' },
				candidates: candidates.slice(from, from + 60),
			});
			expect(numbersIn(answer).filter((value) => !Number.isFinite(value))).toEqual([]);
			for (const [i, candidate] of answer.candidates.entries()) {
				const at = from + i;
				if (!candidate.ok) {
					expect(candidate.notes[0]!.text).toMatch(/\w{4,} .*\.$/);
					continue;
				}
				if (candidate.search) expect(candidate.search.evaluations).toBeLessThan(20_000);
				// Whoever runs says something: nothing but nulls is no answer.
				const said = [...candidate.fitted!, ...candidate.ahead.map(({ mean }) => mean)];
				expect(
					said.some((figure) => figure !== null),
					JSON.stringify(candidates[at]),
				).toBe(true);
			}
		}
	},
);

test('a multiplicative season is refused for negatives and zeros, an additive one is not', () => {
	const { candidates } = evaluate({
		series: { ...HURTING['negatives and zeros']!, frequency: 'step' },
		candidates: ['additive', 'multiplicative'].map((season) => ({
			id: season,
			method: 'holt-winters',
			season,
		})),
	});
	expect(candidates.map(({ ok }) => ok)).toEqual([true, false]);
	expect(candidates[1]!.notes[0]!.code).toBe('multiplicative-needs-positive');
});

test('5,000 periods with a season of 365 are searched in a bounded number of passes', () => {
	const normal = seededNormal(5);
	const values = Array.from(
		{ length: 5000 },
		(_, i) => 500 + 0.02 * i + 120 * Math.sin((2 * Math.PI * i) / 365) + 20 * normal(),
	);
	const answer = evaluate({
		series: { values, frequency: 'day', start: '2012-01-01', seasonLength: 365 },
		candidates: [
			{ id: 'a', method: 'holt-winters', season: 'additive', optimise: {} },
			{ id: 'b', method: 'holt-winters', season: 'multiplicative', trend: 'damped' },
		],
		detail: 'summary',
	});
	expect(numbersIn(answer).filter((value) => !Number.isFinite(value))).toEqual([]);
	const [searched] = answer.candidates;
	expect(searched!.ok && searched!.search!.evaluations).toBeLessThan(10_000);
	expect(searched!.ok && searched!.measures.own.mad).toBeLessThan(20);
});

test('a recursion that runs away is refused with the period', () => {
	const values = Array.from({ length: 400 }, (_, i) => (i % 2 ? 1 : 1e6) * (1 + (i % 3)));
	const answer = evaluate({
		series: { values, frequency: 'step', seasonLength: 3 },
		candidates: [
			{
				id: 'a',
				method: 'holt-winters',
				season: 'multiplicative',
				constants: { alpha: 1, beta: 1, gamma: 1 },
				start: { rule: 'given', level: 1e-300, trend: 1e15, season: [1e-300, 1e15, 1] },
			},
		],
	});
	expect(answer.candidates[0]).toMatchObject({ ok: false, notes: [{ code: 'ran-away' }] });
});
