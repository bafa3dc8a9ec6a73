import tQuantile from '@stdlib/stats-base-dists-t-quantile';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { seededNormal } from '../numbers/random';
import type { Answer, CandidateResult } from '../questions/answer';
import { evaluate } from '../questions/evaluate';
import { type Candidate, type Settings, constantsOfCandidate } from '../methods/registry';
import type { Note } from '../contract/note';
import { runs } from '../../../tests/support/runs';

/**
 * Every sentence that compares or flags is calculated again here from the figures of the answer, over random series and
 * line-ups: twins, ties, one period, zeros, gaps, figures tiny and huge. Nothing of what makes the sentences is used.
 */

const MAKES = {
	noise: (t: number, draw: () => number) => 100 + 20 * draw() + 0 * t,
	climbing: (t: number, draw: () => number) => 50 + 4 * t + 6 * draw(),
	seasonal: (t: number, draw: () => number) => 200 + 80 * Math.sin((2 * Math.PI * t) / 4) + 5 * draw(),
	growing: (t: number, draw: () => number) =>
		(50 + 6 * t) * (1 + 0.5 * Math.sin((2 * Math.PI * t) / 4)) + draw(),
	swinging: (t: number, draw: () => number) => 200 + 30 * t + 90 * Math.sin((2 * Math.PI * t) / 4) + draw(),
	lumpy: (_: number, draw: () => number) => Math.max(0, Math.round(3 * draw())),
	steady: () => 7,
	nothing: () => 0,
	alternating: (t: number) => (t % 2 === 0 ? 10 : 20),
	stepped: (t: number, draw: () => number) => (t < 15 ? 100 : 180) + 3 * draw(),
};
const seriesArbitrary = fc.record({
	make: fc.constantFrom(...(Object.keys(MAKES) as (keyof typeof MAKES)[])),
	n: fc.oneof(fc.integer({ min: 1, max: 8 }), fc.integer({ min: 9, max: 48 })),
	seed: fc.integer({ min: 1, max: 100_000 }),
	scale: fc.constantFrom(1, 1, 1, 1e-6, 0.003, 1e9, 1e11),
	gaps: fc.boolean(),
});

const CANDIDATES: readonly Settings[] = [
	{ method: 'naive' },
	{ method: 'average' },
	{ method: 'moving-average', span: 3 },
	{ method: 'moving-average', span: 1 },
	{ method: 'ses', constants: { alpha: 0.3 } },
	{ method: 'ses', constants: { alpha: 1 } },
	{ method: 'ses', optimise: {} },
	{ method: 'holt', optimise: { criterion: 'mad' } },
	{ method: 'drift' },
	{ method: 'seasonal-naive' },
	{ method: 'holt-winters', season: 'additive', optimise: {} },
	{ method: 'holt-winters', season: 'multiplicative' },
	{ method: 'linear-trend' },
] as Settings[];
const lineUpArbitrary = fc
	.array(fc.constantFrom(...CANDIDATES), { minLength: 1, maxLength: 5 })
	.map((list) => list.map((candidate, i) => ({ ...candidate, id: `c${i}` }) as Candidate));

/** What a claim is checked against. */
interface Case {
	answer: Answer;
	candidate: Candidate;
	result: CandidateResult;
	values: (number | null)[];
	/** Positions (0-based) that the candidate is judged over, as the answer's errors show them. */
	judged: number[];
	others: CandidateResult[];
	note: Note;
}

const scoredOf = ({ errors, scoreFrom }: CandidateResult) =>
	errors!.flatMap((error, i) => (error !== null && i + 1 >= scoreFrom ? [i] : []));
const mean = (list: readonly number[]) => list.reduce((a, b) => a + b, 0) / list.length;
/** What errors are compared by: their sizes, or where demand is rare their squares. */
const lossIn = ({ notes }: Answer) =>
	notes.some(({ code }) => code === 'rare-demand')
		? (error: number) => error * error
		: (error: number) => Math.abs(error);
const close = (a: number, b: number, size = Math.max(Math.abs(a), Math.abs(b))) =>
	Math.abs(a - b) <= 1e-9 * size;

/** Half the 95 % interval of a mean, widened for neighbours that are alike. */
function noiseOf(list: readonly number[]): number {
	const centre = mean(list);
	const off = list.map((value) => value - centre);
	const squares = off.reduce((sum, value) => sum + value * value, 0);
	const pairs = off.slice(1).reduce((sum, value, i) => sum + value * off[i]!, 0);
	const r = squares > 0 ? Math.min(0.9, Math.max(0, pairs / squares)) : 0;
	const n = list.length;
	return tQuantile(0.975, n - 1) * Math.sqrt((squares / (n - 1) / n) * ((1 + r) / (1 - r)));
}

/** How far a figure in words may be off: half of its last digit. */
const saidPercent = (text: string, percent: number) => {
	if (text.includes('under 0.1 %')) return percent < 0.1;
	if (text.includes('over 99 %')) return percent >= 99.5 && percent < 100;
	const said = Number(/([\d.\u202f]+) %/.exec(text)![1]!.replaceAll('\u202f', ''));
	return Math.abs(said - percent) <= (percent >= 9 ? 0.5 : 0.05) + 1e-6;
};

const last = <T>(list: readonly T[]) => list[list.length - 1]!;

const CLAIMS: Record<string, (each: Case) => void> = {
	'nothing-scored': ({ judged }) => expect(judged).toEqual([]),
	'no-errors': ({ judged, result }) =>
		expect(judged.every((i) => result.errors![i] === 0) && judged.length > 0).toBe(true),
	alarm: (each) => {
		const { judged, result, note } = each;
		const { ratio, since } = result.alarm;
		expect(Math.abs(ratio!)).toBeGreaterThan(0.822);
		expect(note.text).toContain(ratio! > 0 ? 'too low' : 'too high');
		expect(judged).toContain(since! - 1);
		const sizes = madeBeforehand(each)?.map(([error]) => Math.abs(error!));
		if (!sizes || sizes.length === 0 || mean(sizes) === 0) return;
		const least = mean(sizes);
		let [sum, size] = [0, least];
		for (const i of judged) {
			sum += 0.2 * (result.errors![i]! - sum);
			size += 0.2 * (Math.abs(result.errors![i]!) - size);
		}
		expect(ratio!).toBeCloseTo(sum / Math.max(size, least), 9);
	},
	'worse-beforehand': (each) => {
		const { fitted, beforehand } = each.note.figures as Record<string, number>;
		expect(beforehand!).toBeGreaterThan(1.25 * fitted!);
		const made = madeBeforehand(each);
		if (made) expect(close(mean(made.map(([error]) => Math.abs(error!))), beforehand!)).toBe(true);
	},
	'ranges-did-not-hold': ({ note }) => {
		const { level, inside, of } = note.figures as Record<string, number>;
		expect(level).toBe(0.8);
		expect(inside! / of!).toBeLessThan(0.8);
		expect(note.text).toContain(`${inside} of the last ${of} actuals were inside the 80 % range`);
	},
	'one-sided-errors': ({ judged, result, note }) => {
		const errors = judged.map((i) => result.errors![i]!).filter((error) => error !== 0);
		const above = errors.filter((error) => error > 0).length;
		const most = Math.max(above, errors.length - above);
		expect(most / errors.length).toBeGreaterThanOrEqual(0.85);
		let chance = 0;
		for (let k = most; k <= errors.length; k++) {
			let ways = 1;
			for (let i = 1; i <= k; i++) ways *= (errors.length - k + i) / i;
			chance += ways / 2 ** errors.length;
		}
		expect(2 * chance).toBeLessThanOrEqual(0.01);
		expect(note.text).toContain(`in ${most} of the ${errors.length} `);
		expect(note.text).toContain(2 * above > errors.length ? 'was above' : 'was below');
	},
	'closer-than-naive': (each) => againstNaive(each),
	'no-better-than-naive': (each) => againstNaive(each),
	'percentage-error-incomplete': ({ judged, values, note }) => {
		const zeros = judged.filter((i) => values[i] === 0).length;
		expect(zeros).toBeGreaterThan(0);
		expect(note.text).toContain(zeros === judged.length ? 'every actual is zero' : `leaves out ${zeros} of`);
	},
	'last-actual-outside-range': ({ note, values }) => {
		const { actual, low, high } = note.figures as Record<string, number>;
		expect(actual).toBe(last(values));
		expect(actual! < low! || actual! > high!).toBe(true);
	},
	'range-below-zero': ({ result, values, note }) => {
		expect(values.every((value) => value === null || value >= 0)).toBe(true);
		const first = result.ahead.find(({ ranges }) =>
			Object.values(ranges).some((range) => range && range[0] < 0),
		)!;
		expect(note.figures.step).toBe(first.step);
	},
	'trend-carried-far': ({ result, values, note }) => {
		expect(3 * result.ahead.length).toBeGreaterThan(values.length);
		expect(note.figures.slope).not.toBe(0);
	},
	'season-unused': ({ note, values }) => {
		expect(values.length).toBeGreaterThanOrEqual(8);
		expect(note.figures.seasonLength).toBe(4);
		expect(note.figures.strength).toBeGreaterThanOrEqual(0.3);
		expect(note.text).toMatch(/^Demand has a season of 4 quarters/);
	},
	'swings-grow': ({ note, candidate }) => {
		expect(candidate).toMatchObject({ season: 'additive' });
		expect(saidPercent(note.text, 100 * (1 - (note.figures.ratio as number)))).toBe(true);
	},
	'swings-steady': ({ note, candidate }) => {
		expect(candidate).toMatchObject({ season: 'multiplicative' });
		expect(saidPercent(note.text, 100 * (1 - 1 / (note.figures.ratio as number)))).toBe(true);
	},
	'constant-at-bound': ({ result, candidate, note }) => {
		const constant = constantsOfCandidate(candidate).find(({ key }) => key === note.figures.constant)!;
		expect([...constant.bounds, ...constant.searched]).toContain(result.constants[constant.key]);
	},
	'several-minima': ({ result }) => {
		const [best, second] = result.search!.basins;
		expect(second!.value).toBeLessThanOrEqual(best!.value * 1.01);
		expect(second!.constants).not.toEqual(best!.constants);
	},
	'lead-none': (each) => lead(each, ({ losses, same }) => expect(same || close(...losses)).toBe(true)),
	'lead-clear': (each) =>
		lead(each, ({ losses: [own, other], noise, periods }) => {
			expect(periods).toBeGreaterThanOrEqual(6);
			expect(other - own).toBeGreaterThan(0);
			expect(other - own).toBeGreaterThan(noise * (1 - 1e-9));
		}),
	'lead-may-be-chance': (each) =>
		lead(each, ({ losses: [own, other], noise }) =>
			expect(other - own).toBeLessThanOrEqual(noise * (1 + 1e-9)),
		),
	'lead-not-told': (each) => lead(each, ({ periods }) => expect(periods).toBeLessThan(6)),
};

function lead(
	{ answer, result, others, judged, note }: Case,
	check: (found: { losses: [number, number]; noise: number; periods: number; same: boolean }) => void,
): void {
	const second = others.find(({ id }) => id === note.figures.runnerUp)!;
	const lossOf = lossIn(answer);
	const lossOver = ({ errors }: CandidateResult, at: readonly number[]) =>
		mean(at.map((i) => lossOf(errors![i]!)));
	const losses: [number, number] = [lossOver(result, judged), lossOver(second, judged)];
	// Nobody misses by less than the one that leads, and nobody stands between it and the one it is said to lead.
	for (const other of others) expect(lossOver(other, judged)).toBeGreaterThanOrEqual(losses[0] * (1 - 1e-9));
	for (const other of others)
		if (other !== second) expect(lossOver(other, judged)).toBeGreaterThanOrEqual(losses[1] * (1 - 1e-9));
	const differences = judged.map((i) => lossOf(second.errors![i]!) - lossOf(result.errors![i]!));
	const same = judged.every((i) =>
		close(
			second.fitted![i]!,
			result.fitted![i]!,
			Math.abs(result.fitted![i]!) + Math.abs(result.errors![i]!),
		),
	);
	if (/forecasts the same/.test(note.text)) expect(same).toBe(true);
	check({ losses, noise: judged.length > 1 ? noiseOf(differences) : NaN, periods: judged.length, same });
}

function againstNaive(each: Case): void {
	const { values, note, answer } = each;
	const lossOf = lossIn(answer);
	const { relativeError, lead: ahead, noise, origins } = note.figures as Record<string, number>;
	expect(note.text).toContain(`on ${origins} past quarters`);
	expect(origins).toBeGreaterThanOrEqual(6);
	if (!note.text.includes('as large as naive’s')) {
		expect(saidPercent(note.text, 100 * Math.abs(1 - relativeError!)), note.text).toBe(true);
		expect(note.code === 'closer-than-naive').toBe(relativeError! < 1);
		// Clear is what is more than the noise, and says the same over all of them.
		const gain = 1 - (lossOf(3) === 9 ? relativeError! ** 2 : relativeError!);
		const clear = Math.abs(ahead!) > noise! && ahead! * gain > 0 && Math.abs(gain) >= 0.01;
		expect(!note.text.includes('may be chance')).toBe(clear);
	}
	const made = madeBeforehand(each);
	if (!made) return;
	const first = values.length - made.length;
	const missed = made.map((errors, place) => {
		const last = values.slice(0, first + place).findLast((value) => value !== null)!;
		const own = errors.reduce((sum: number, error) => sum + lossOf(error ?? 0), 0);
		const naive = errors.reduce(
			(sum: number, error, h) => sum + (error === null ? 0 : lossOf(values[first + place + h]! - last)),
			0,
		);
		return { own, naive };
	});
	const total = (key: 'own' | 'naive') => missed.reduce((sum, each) => sum + each[key], 0);
	const share = total('own') / total('naive');
	expect(close(lossOf(3) === 9 ? Math.sqrt(share) : share, relativeError!)).toBe(true);
	if (ahead === 0) return;
	const least = (0.02 * (total('own') + total('naive'))) / (2 * missed.length);
	const logs = missed.map(({ own, naive }) => Math.log(Math.max(least, naive) / Math.max(least, own)));
	expect(mean(logs)).toBeCloseTo(ahead!, 6);
	expect(noiseOf(logs)).toBeCloseTo(noise!, 6);
}

let asked = 0;
/**
 * Errors of forecasts made at every origin of a trial, asked for at each from what was known there alone; null where that
 * would be asked too often, where a figure is missing, or where the candidate could not run at some of them.
 */
function madeBeforehand({ candidate, result, values }: Case): (number | null)[][] | null {
	if (asked++ % 6 !== 0 || values.includes(null)) return null;
	const held: Record<string, unknown> = { ...candidate, constants: result.constants };
	delete held.optimise;
	if (Object.keys(result.constants).length === 0) delete held.constants;
	const origins = Array.from({ length: values.length }, (_, origin) => origin).slice(
		Math.max(8, values.length - 36),
	);
	const made = origins.map((origin) => {
		const [one] = evaluate({
			series: { values: values.slice(0, origin), frequency: 'quarter', start: '2012-Q1' },
			candidates: [held as never],
			horizon: 3,
			detail: 'summary',
		}).candidates;
		return one!.ok
			? one!.ahead.slice(0, values.length - origin).map(({ mean }, h) => values[origin + h]! - mean!)
			: null;
	});
	return made.every((errors) => errors !== null) ? made : null;
}

test('every sentence that compares or flags holds when it is calculated again', { timeout: 300_000 }, () => {
	const met = new Map<string, number>();
	fc.assert(
		fc.property(seriesArbitrary, lineUpArbitrary, ({ make, n, seed, scale, gaps }, candidates) => {
			const draw = seededNormal(seed);
			const values = Array.from({ length: n }, (_, t) => {
				const value = scale * MAKES[make](t, draw);
				return gaps && t % 9 === 7 && t < n - 1 ? null : value;
			});
			const answer = evaluate({
				series: { values, frequency: 'quarter', start: '2012-Q1' },
				candidates,
				horizon: 3,
			});
			const ran = answer.candidates.filter((each) => each.ok);
			const common = (ran[0] ? scoredOf(ran[0]) : []).filter((i) =>
				ran.every((each) => scoredOf(each).includes(i)),
			);
			expect(answer.judged).toBe(common.length > 0 ? 'common' : 'own');
			for (const result of ran) {
				const candidate = candidates.find(({ id }) => id === result.id)!;
				const judged = answer.judged === 'common' ? common : scoredOf(result);
				const others = ran.filter((other) => other !== result);
				expect(result.tracking!.map(({ t }) => t - 1)).toEqual(judged);
				for (const note of result.notes) {
					met.set(note.code, (met.get(note.code) ?? 0) + 1);
					CLAIMS[note.code]?.({ answer, candidate, result, values, judged, others, note });
				}
			}
			// One candidate at the most is said to lead.
			const leads = ran.flatMap(({ notes }) => notes.filter(({ code }) => code.startsWith('lead-')));
			expect(leads.length).toBe(answer.judged === 'common' && ran.length > 1 ? 1 : 0);
		}),
		{ numRuns: runs(1500), seed: 20_261_126 },
	);
	// A claim that was never made was never checked.
	const unmet = Object.keys(CLAIMS).filter((code) => !met.has(code));
	expect(unmet).toEqual([]);
});
