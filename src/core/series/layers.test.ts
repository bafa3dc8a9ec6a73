import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { evaluate, evaluateChecked } from '../questions/evaluate';
import type { CandidateResult, Evaluated } from '../questions/answer';
import { parseRequest } from '../questions/request';
import { compute, spellOut } from '../working/expression';
import { workingTable } from '../questions/working-table';
import { applyLayers, type Layers, layerWords, NO_LAYERS } from './layers';
import { daysIn, parsePeriod } from './period';

const first = parsePeriod('month', '2024-01');
const lay = (values: (number | null)[], layers: Partial<Layers>) =>
	applyLayers({ first, values }, 'month', 12, { ...NO_LAYERS, ...layers });

describe('layers over actuals', () => {
	test('without any, nothing changes and nothing is said', () => {
		const layered = lay([1, null, 3], {});
		expect(layered).toMatchObject({ first, values: [1, null, 3], worked: [1, null, 3], used: [] });
		expect(layered.request).toEqual({
			values: [1, null, 3],
			frequency: 'month',
			start: '2024-01',
			seasonLength: 12,
		});
		expect([...layered.marks]).toEqual([[1, ['gap']]]);
		expect(layerWords(layered)).toEqual([]);
	});

	test('a correction stands over its actual, and the actual stays', () => {
		const layered = lay([1, 2, 3], { corrections: { [first + 1]: { to: 20, over: 2 } } });
		expect(layered).toMatchObject({ values: [1, 20, 3], raw: [1, 2, 3], used: ['correction'], outdated: [] });
		expect(layerWords(layered)).toEqual(['1 corrected']);
	});

	test('once the actual under it changes, a correction no longer holds', () => {
		const layered = lay([1, 5, 3], { corrections: { [first + 1]: { to: 20, over: 2 } } });
		expect(layered).toMatchObject({ values: [1, 5, 3], used: [], outdated: [1] });
	});

	test('figures typed in before, after and in a gap become part of the series', () => {
		const typed = (period: number) => ({ [first + period]: { to: 9, over: null } });
		const layered = lay([1, null, 3], { corrections: { ...typed(-1), ...typed(1), ...typed(4) } });
		expect(layered).toMatchObject({
			first: first - 1,
			values: [9, 1, 9, 3, null, 9],
			raw: [null, 1, null, 3, null, null],
		});
		expect(layered.request.start).toBe('2023-12');
	});

	test.each([
		['skip', null, 'gap'],
		['carry-forward', 10, 'filled'],
		['interpolate', 20, 'filled'],
		['zero', 0, 'filled'],
	] as const)('a missing figure under %s is %s', (gapRule, expected, mark) => {
		const layered = lay([10, null, 30], { gapRule });
		expect(layered.worked).toEqual([10, expected, 30]);
		expect(layered.marks.get(1)).toEqual([mark]);
		expect(layered.values[1]).toBeNull();
	});

	test('one gap by a rule of its own, and one that stays missing where all others are filled', () => {
		const layered = lay([10, null, 30, null, 50], {
			gapRule: 'zero',
			gaps: { [first + 1]: 'interpolate', [first + 3]: 'skip' },
		});
		expect(layered.worked).toEqual([10, 20, 30, null, 50]);
		expect(layered.request).toMatchObject({ values: [10, 20, 30, null, 50], excluded: [4] });
		expect(layered.gapRule).toBe('zero');
	});

	test('what is left out is missing whatever the rule, and does not come back through its neighbours', () => {
		const layered = lay([10, 999, null, 40], { leftOut: [first + 1], gapRule: 'interpolate' });
		expect(layered.worked).toEqual([10, null, 30, 40]);
		expect(layered.request.excluded).toEqual([2]);
		expect(layerWords(layered)).toEqual(['gaps interpolated', '1 left out']);
	});

	test('each layer can be switched off by itself', () => {
		const layers: Partial<Layers> = {
			corrections: { [first]: { to: 9, over: 1 } },
			leftOut: [first + 1],
			gapRule: 'zero',
			perDay: true,
			events: { [first]: 'fair' },
		};
		expect(
			lay([1, 2, null], { ...layers, off: ['correction', 'left-out', 'gap-rule', 'per-day', 'event'] }),
		).toMatchObject({ values: [1, 2, null], worked: [1, 2, null], used: [] });
		expect(lay([1, 2, null], { ...layers, off: ['correction'] })).toMatchObject({
			values: [1, 2, null],
			worked: [1, null, 0],
		});
	});

	test('whatever is laid over them, positions and lengths agree and the raw figures are all there', () => {
		const ordinals = fc.integer({ min: first - 3, max: first + 25 });
		const records = <T>(value: fc.Arbitrary<T>) =>
			fc.dictionary(ordinals.map(String), value, { maxKeys: 6 }) as unknown as fc.Arbitrary<
				Record<number, T>
			>;
		const figures = fc.array(fc.option(fc.integer({ min: 0, max: 900 })), { minLength: 2, maxLength: 24 });
		const rules = fc.constantFrom('skip', 'carry-forward', 'interpolate', 'seasonal', 'zero');
		fc.assert(
			fc.property(
				figures,
				records(fc.record({ to: fc.integer({ min: 0, max: 900 }), over: fc.constant(null) })),
				records(rules),
				fc.uniqueArray(ordinals, { maxLength: 5 }),
				rules,
				fc.boolean(),
				(values, corrections, gaps, leftOut, gapRule, perDay) => {
					const layered = lay(values, { corrections, gaps, leftOut, gapRule, perDay });
					const n = layered.values.length;
					expect([layered.raw.length, layered.worked.length, layered.request.values.length]).toEqual([
						n,
						n,
						n,
					]);
					expect(layered.raw.slice(first - layered.first, first - layered.first + values.length)).toEqual(
						values,
					);
					for (const position of layered.request.excluded ?? [])
						expect(layered.worked[position - 1]).toBeNull();
					expect(() =>
						parseRequest({ series: layered.request, gaps: layered.gapRule, candidates: [] }),
					).not.toThrow();
				},
			),
		);
	});
});

describe('the rate per day', () => {
	const days = Array.from({ length: 26 }, (_, i) => daysIn('month', first + i));
	const run = (series: object, candidate: object, more: object = {}) =>
		evaluate({ series, candidates: [{ id: 'a', ...candidate }], horizon: 2, ...more })
			.candidates[0] as CandidateResult;
	const monthly = (values: (number | null)[]) => ({
		values,
		frequency: 'month',
		start: '2024-01',
		perDay: true,
	});

	test('a month has its days, a week is a week', () => {
		expect([
			daysIn('month', first + 1),
			daysIn('month', first + 13),
			daysIn('quarter', parsePeriod('quarter', '2024-Q1')),
			daysIn('year', 2024),
			daysIn('week', 9),
		]).toEqual([29, 28, 91, 366, 1]);
	});

	test('totals of one rate are forecast exactly, month by month, and all errors are zero', () => {
		const values = days.slice(0, 24).map((count) => 7 * count);
		for (const candidate of [
			{ method: 'naive' },
			{ method: 'average' },
			{ method: 'moving-average', span: 4 },
			{ method: 'ses', constants: { alpha: 0.4 } },
		]) {
			const result = run(monthly(values), candidate);
			expect(result.measures.own.mad).toBeCloseTo(0, 9);
			expect(result.ahead.map(({ mean }) => mean)).toEqual([
				expect.closeTo(7 * days[24]!, 9),
				expect.closeTo(7 * days[25]!, 9),
			]);
		}
	});

	test('errors, measures and ranges are in totals: naive by hand', () => {
		const result = run(monthly([310, 290, 341]), { method: 'naive' });
		// 310 / 31 = 10 a day, so 290 for February's 29; 290 / 29 = 10 a day, so 310 for March.
		expect(result.fitted!.slice(1)).toEqual([290, 310]);
		expect(result.errors!.slice(1)).toEqual([0, 31]);
		expect(result.measures.own).toMatchObject({ mad: 15.5, cfe: 31 });
		expect(result.ahead[0]!.mean).toBeCloseTo((341 / 31) * 30, 12);
	});

	test('held back and tried: in totals too', () => {
		const values = days.slice(0, 24).map((count, i) => 7 * count + (i === 23 ? 31 : 0));
		const held = run(monthly(values), { method: 'naive' }, { holdout: 1 });
		expect(held.measures.holdout!.ahead.mad).toBeCloseTo(31, 9);
		const rolled = run(
			{ ...monthly(values), seasonLength: 4 },
			{ method: 'naive' },
			{ trial: { origins: 1, horizon: 1 } },
		);
		expect(rolled.trial!.byStep[0]).toMatchObject({ count: 1, mad: expect.closeTo(31, 9) });
	});

	test('every sentence of the working comes to the figure on display', () => {
		const values = [310, 305, null, 350, 290, 331, 340, 300];
		const request = parseRequest({
			series: monthly(values),
			candidates: [{ id: 'a', method: 'ses', constants: { alpha: 0.3 } }],
			horizon: 3,
		});
		const result = evaluateChecked(request).candidates[0] as Evaluated;
		const table = workingTable(request, result);
		expect(table.columns.map(({ name }) => name)).toEqual(expect.arrayContaining(['Days', 'Rate a day']));
		let sentences = 0;
		for (const column of table.columns) {
			for (let t = 1; t <= values.length; t++) {
				const spelled = column.explain(t);
				if (!spelled) continue;
				sentences++;
				expect(compute(spelled.expression), `${column.name} at ${t}`).toBeCloseTo(column.value(t)!, 9);
			}
		}
		expect(sentences).toBeGreaterThan(40);
		for (const { step, mean } of result.ahead) {
			expect(compute(table.explainAhead(step)!.expression)).toBeCloseTo(mean!, 9);
			expect(spellOut(table.explainAhead(step)!.expression, mean!, 1)).toMatch(/×/);
		}
	});
});
