import { describe, expect, test } from 'vitest';
import type { CandidateResult } from '../questions/answer';
import { evaluate } from '../questions/evaluate';
import { pairedLead, shareLead } from '../accuracy/paired';
import { leadNote } from './comparison';

describe('a lead', () => {
	const actual = Float64Array.from({ length: 40 }, (_, i) => 100 + (i % 5));
	const off = (by: (i: number) => number) => actual.map((value, i) => value + by(i));
	const every = Int32Array.from(actual.keys());
	const lead = (one: Float64Array, other: Float64Array, positions = every) => {
		const paired = pairedLead(actual, one, other, positions)!;
		return { paired, note: leadNote(paired, { id: 'b', name: 'Method b' }, 'the 40 periods compared') };
	};

	test('that is there in every period is no noise', () => {
		const { note } = lead(
			off(() => 1),
			off((i) => 3 + (i % 2)),
		);
		expect(note.code).toBe('lead-clear');
		expect(note.text).toMatch(/^MAD is 2\.50 lower than that of Method b \(±0\.\d+\): a clear difference\.$/);
	});

	test('that comes and goes is, with lead and noise calculated', () => {
		// Differences of absolute errors: 2.1, −1.9 by turns: mean 0.1, standard deviation 2.0255 over 40 periods; t is 2.0227.
		const { paired, note } = lead(
			off((i) => (i % 2 ? 3 : 1)),
			off((i) => (i % 2 ? 1.1 : 3.1)),
		);
		expect(paired.lead).toBeCloseTo(0.1, 9);
		expect(paired.noise).toBeCloseTo((2.0227 * 2.02548) / Math.sqrt(40), 4);
		expect(note.code).toBe('lead-may-be-chance');
	});

	test('whose differences run on for a while is widened by that', () => {
		// Ten periods one way, ten the other: neighbours are alike, r is 0.9 at the most.
		const { paired } = lead(
			off((i) => (Math.floor(i / 10) % 2 ? 3 : 1)),
			off((i) => (Math.floor(i / 10) % 2 ? 1.1 : 3.1)),
		);
		const r = (36 * 4 - 3 * 4) / (40 * 4);
		expect(paired.noise).toBeCloseTo(((2.0227 * 2.02548) / Math.sqrt(40)) * Math.sqrt((1 + r) / (1 - r)), 1);
	});

	test('in a trial is said as a share, its noise too', () => {
		const other = Array.from({ length: 12 }, (_, i) => 10 + i);
		const own = other.map((each, i) => each * (i % 2 ? 0.7 : 0.8));
		const paired = shareLead(own, other)!;
		const { code, text } = leadNote(paired, { id: 'b', name: 'Method b' }, 'these origins');
		// By turns 0.7 and 0.8 of what the other misses by.
		expect(code).toBe('lead-clear');
		expect(text).toMatch(
			/^Its trial error is 25 % lower than that of Method b \(±4\.\d %\): a clear difference\.$/,
		);
	});

	test('of twins, of equals and of a few periods is not called one', () => {
		expect(lead(actual, actual).note.text).toBe('Method b forecasts the same over the 40 periods compared.');
		const level = lead(
			off((i) => (i % 2 ? 1 : 2)),
			off((i) => (i % 2 ? 2 : 1)),
		).note;
		expect(level).toMatchObject({
			code: 'lead-none',
			text: 'Method b has the same error over the 40 periods compared.',
		});
		const few = lead(
			off(() => 1),
			off(() => 3),
			every.subarray(0, 3),
		).note;
		expect(few.code).toBe('lead-not-told');
	});
});

const notesOf = (values: (number | null)[], candidate: object, more: object = {}) => {
	const answer = evaluate({
		series: { values, frequency: 'month', start: '2022-01' },
		candidates: [{ id: 'a', ...candidate }],
		horizon: 3,
		...more,
	}).candidates[0]!;
	return new Map(answer.notes.map((note) => [note.code, note]));
};

test('worse on the holdout than fitted', () => {
	const values = [50, 51, 50, 49, 50, 51, 50, 49, 50, 51, 80, 40, 90, 30];
	const note = notesOf(values, { method: 'moving-average', span: 2 }, { holdout: 4 }).get('worse-held-back')!;
	expect(note.text).toMatch(
		/^MAD is 3\d\.\d on the holdout and 1\.00 on the periods it was fitted to: expect errors like those of the holdout\.$/,
	);
	expect(
		notesOf(values.slice(0, 10), { method: 'moving-average', span: 2 }, { holdout: 4 }).has(
			'worse-held-back',
		),
	).toBe(false);
});

test('two minima of nearly the same depth are both named', () => {
	// A step half way wants quick smoothing, the alternation around it calm smoothing; of many mixtures some are even.
	let found = 0;
	for (let size = 5; size <= 120 && found === 0; size++) {
		for (let step = 40; step <= 400 && found === 0; step += 20) {
			const values = Array.from(
				{ length: 24 },
				(_, t) => 500 + (t < 12 ? 0 : step) + (t % 3 === 0 ? size : -size / 2) + (t === 5 ? step : 0),
			);
			const note = notesOf(values, { method: 'ses', optimise: { criterion: 'mad' } }).get('several-minima');
			if (!note) continue;
			found++;
			expect(note.text).toMatch(
				/^Two settings fit almost equally, α [01]\.\d\d and α [01]\.\d\d \(0\.\d\d % apart\)\./,
			);
			expect(Number(note.figures.percent)).toBeLessThanOrEqual(1);
		}
	}
	expect(found).toBe(1);
});

test('one-sided errors are counted, and a calm series has no remark of the kind', () => {
	const falling = Array.from({ length: 16 }, (_, t) => 300 - 9 * t);
	const note = notesOf(falling, { method: 'average' }).get('one-sided-errors')!;
	expect(note.text).toBe(
		'Demand was below the forecast in 15 of the 15 months compared: the forecast is too high. Try a method that follows the trend or season.',
	);
	const calm = [50, 52, 49, 51, 50, 48, 52, 50, 49, 51, 50, 52];
	expect([...notesOf(calm, { method: 'average' }).keys()]).toEqual(['range-basis']);
});

test('a method that cannot run says what it needs, what there is, and what helps', () => {
	const text = (values: (number | null)[], candidate: object) => {
		const [answer] = evaluate({
			series: { values, frequency: 'step' },
			candidates: [{ id: 'a', ...candidate }],
		}).candidates;
		return answer!.ok ? '' : answer!.notes[0]!.text;
	};
	expect(text([4, 5], { method: 'moving-average', span: 3 })).toBe(
		'An average of 3 needs 3 periods; this series has 2. Choose a shorter span.',
	);
	expect(text([4, null], { method: 'drift' })).toBe(
		'Drift needs 2 actuals; this series has 1. A line needs two ends.',
	);
	expect(text([null, 4, 5], { method: 'ses' })).toMatch(/first period has none\. Start it from the mean/);
	expect(text([null, null, null, 4], { method: 'ses', start: { rule: 'mean', k: 2 } })).toMatch(
		/among its first 2 periods/,
	);
	expect(text([4, 5], { method: 'ses', start: { rule: 'given', level: 4, at: 2 } })).toMatch(
		/needs 3 periods with this start/,
	);
});

test('missing values are counted for the series', () => {
	const { notes } = evaluate({ series: { values: [1, null, 3], frequency: 'step' }, candidates: [] }) as {
		notes: CandidateResult['notes'];
	};
	expect(notes).toEqual([
		{ code: 'missing-values', text: '1 of 3 periods has no actual.', figures: { missing: 1, periods: 3 } },
	]);
});

describe('seasons', () => {
	const shape = [0.6, 0.9, 1.4, 1.1];
	const wave = (t: number) => ((t * 7919) % 13) - 6;
	const grows = Array.from({ length: 48 }, (_, t) => (100 + 6 * t) * shape[t % 4]! + wave(t));
	const steady = Array.from({ length: 48 }, (_, t) => 300 + 12 * t + 90 * (shape[t % 4]! - 1) + wave(t));
	const codes = (values: number[], candidate: object) => {
		const [answer] = evaluate({
			series: { values, frequency: 'quarter', start: '2012-Q1' },
			candidates: [{ id: 'a', ...candidate }],
		}).candidates as CandidateResult[];
		return new Map(answer!.notes.map((note) => [note.code, note]));
	};

	test('that a method leaves out are said of it, with what the season explains', () => {
		expect(codes(grows, { method: 'holt' }).get('season-unused')!.text).toMatch(
			/has a season of 4 quarters \(it explains \d\d % of the movement\); this method has none/,
		);
		for (const method of ['naive', 'seasonal-naive']) {
			expect(codes(grows, { method }).has('season-unused')).toBe(false);
		}
		expect(codes([5, 7, 6, 8, 5, 9, 6, 7, 8, 6, 7, 5], { method: 'holt' }).has('season-unused')).toBe(false);
	});

	test('that are added to swings that grow, or multiply steady ones, with what the other leaves', () => {
		const added = { method: 'holt-winters', season: 'additive' };
		const multiplied = { method: 'holt-winters', season: 'multiplicative' };
		const note = codes(grows, added).get('swings-grow')!;
		expect(note.text).toMatch(
			/season grows with the level, but is additive here: a multiplicative one leaves [\d.]+ % less/,
		);
		expect(note.figures.ratio).toBeLessThan(0.85);
		expect(codes(steady, multiplied).get('swings-steady')!.text).toMatch(
			/an additive one leaves [\d.]+ % less/,
		);
		expect(codes(grows, multiplied).has('swings-grow')).toBe(false);
		expect(codes(steady, added).has('swings-steady')).toBe(false);
	});
});

test('every constant on a bound is named with what it means', () => {
	const stepped = Array.from({ length: 30 }, (_, t) => (t < 15 ? 100 : 180) + (t % 2));
	const note = notesOf(stepped, { method: 'holt', optimise: { bounds: { alpha: [0, 1] } } }).get(
		'constant-at-bound',
	)!;
	expect(note.text).toMatch(
		/The best β is 0, the end of its range\. At 0 the trend never leaves its start\./,
	);
	const damped = notesOf(stepped, { method: 'damped-holt', optimise: {} }).get('constant-at-bound');
	expect(damped?.text ?? '').toMatch(
		/best φ is 0\.(80|98), the end of its range\. At its (lowest|highest) the trend|^$/,
	);
});
