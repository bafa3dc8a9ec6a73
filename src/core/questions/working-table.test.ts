import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import type { Evaluated } from './answer';
import { evaluateChecked } from './evaluate';
import { seededNormal } from '../numbers/random';
import { readText } from '../../lib/reading/read';
import { cutRows } from '../../lib/reading/table';
import { parseRequest, type ValidRequest } from './request';
import type { Frequency } from '../series/frequency';
import { formatPeriod } from '../series/period';
import { fixedFigure } from '../numbers/figure';
import { compute } from '../working/expression';
import { sentence, spelledSentence, workingTable } from './working-table';
import { workOut } from '../../../tests/support/calculator';
import { quarterOf } from '../../../tests/support/runs';

const normal = seededNormal(7);
const noisy = Array.from({ length: 40 }, (_, t) =>
	t % 11 === 6 ? null : Math.round(100 * (320 + 4 * t + 40 * normal())) / 100,
);
const SERIES = {
	whole: [34, 41, 38, 45, 37, 52, 49, 44, 58, 51, 47, 60],
	'with gaps': noisy,
	'small and negative': [0.012, -0.004, 0, 0.031, 0.022, -0.017, 0.008, 0.015],
	large: [1_204_551, 1_198_340, 1_250_077, 1_311_902, 1_287_455, 1_290_000, 1_333_218],
};
const CANDIDATES = [
	{ id: 'n', method: 'naive' },
	{ id: 'a', method: 'average' },
	{ id: 'd', method: 'drift' },
	{ id: 'm', method: 'moving-average', span: 3 },
	{ id: 'w', method: 'weighted-moving-average', weights: [0, 1, 2.5] },
	{ id: 's', method: 'ses', constants: { alpha: 0.37 } },
	{ id: 'g', method: 'ses', constants: { alpha: 0.05 }, start: { rule: 'given', level: 12.25 } },
	{ id: 'o', method: 'ses', optimise: {}, start: { rule: 'optimised' } },
	{ id: 'sn', method: 'seasonal-naive' },
	{ id: 'sg', method: 'seasonal-growth' },
	{ id: 'l', method: 'linear-trend' },
	{ id: 'b', method: 'brown', constants: { alpha: 0.31 } },
	{ id: 'b0', method: 'brown', constants: { alpha: 0 }, start: { rule: 'line' } },
	{ id: 'b1', method: 'brown', constants: { alpha: 1 } },
	{ id: 'bo', method: 'brown', optimise: { criterion: 'mad' }, start: { rule: 'line' } },
	{ id: 'h', method: 'holt', constants: { alpha: 0.37, beta: 0.21 } },
	{ id: 'hl', method: 'holt', start: { rule: 'line' }, optimise: {} },
	{ id: 'dh', method: 'damped-holt', constants: { alpha: 0.37, beta: 0.21, phi: 0.87 } },
	...['additive', 'multiplicative'].flatMap((season) =>
		['none', 'additive', 'damped'].flatMap((trend) => [
			{ id: `${season} ${trend}`, method: 'holt-winters', season, trend },
			{
				id: `${season} ${trend} first`,
				method: 'holt-winters',
				season,
				trend,
				start: { rule: 'first-cycle' },
				constants: { alpha: 0.43, gamma: 0.19, phi: 0.913 },
			},
		]),
	),
	...['additive', 'multiplicative'].flatMap((season) => [
		...Object.entries({
			last: { rule: 'last-cycle', growth: 0.04 },
			mean: { rule: 'cycle-average', cycles: 2 },
			smoothed: { rule: 'cycle-smoothing', alpha: 0.4 },
			trend: { rule: 'cycle-trend' },
			line: { rule: 'line' },
			given: { rule: 'given', value: 31.25 },
			blend: {
				rule: 'blend',
				of: [{ rule: 'cycle-trend' }, { rule: 'last-cycle', growth: -0.03 }, { rule: 'line' }],
				weights: [1, 2, 0.5],
			},
		}).map(([id, level]) => ({
			id: `${season} ${id}`,
			method: 'seasonal-index',
			season,
			index: { rule: 'ratio-to-overall' },
			level,
		})),
		{ id: `${season} together`, method: 'trend-seasonal', season },
		...['ses', 'linear-trend', 'brown', 'drift'].map((inner) => ({
			id: `${season} bare ${inner}`,
			method: 'deseasonalised',
			season,
			index: { rule: 'ratio-to-overall', average: 'median' },
			inner: { method: inner },
		})),
		{
			id: `${season} bare weighted`,
			method: 'deseasonalised',
			season,
			index: { rule: 'ratio-to-moving-average' },
			inner: { method: 'weighted-moving-average', weights: [1, 2] },
		},
	]),
	...['naive', 'average', 'linear-trend', 'ses', 'holt'].map((inner) => ({
		id: `each ${inner}`,
		method: 'per-season',
		inner: { method: inner },
	})),
	{ id: 'each moving', method: 'per-season', inner: { method: 'moving-average', span: 2 } },
	{ id: 'mixed', method: 'combination', of: ['s', 'l', 'sn'], weights: 'inverse-mse' },
	{ id: 'weighted', method: 'combination', of: ['s', 'n'], weights: [0.7, 0.3] },
];

/** Works out every sentence of a candidate's table and of what lies ahead; returns how many there were. */
function workOutAll(request: ValidRequest, result: Evaluated): number {
	const { columns, periods, explainAhead } = workingTable(request, result);
	let sentences = 0;
	for (const column of columns) {
		for (let i = 0; i < periods; i++) {
			const value = column.value(i + 1);
			if (column.key === 'actual' || column.key === 'days' || value === null) continue;
			const text = sentence(column, i + 1);
			const place = `${result.id}, ${column.key} at ${i + 1}: ${text}`;
			if (text === null) throw new Error(place);
			const { worth, shown } = workOut(text);
			if (shown !== fixedFigure(value, column.decimals) || fixedFigure(worth, column.decimals) !== shown)
				expect.fail(`${place} works out to ${worth}, and the table shows ${value}`);
			sentences++;
		}
	}
	for (const { step, mean } of result.ahead) {
		if (mean === null) continue;
		const text = spelledSentence('Ahead', explainAhead(step)!, mean, 4);
		const { worth, shown } = workOut(text);
		expect(shown).toBe(fixedFigure(mean, 4));
		expect(fixedFigure(worth, 4), `${result.id}: ${text}`).toBe(shown);
		sentences++;
	}
	return sentences;
}

describe.each(Object.entries(SERIES))('%s', (_name, values) => {
	const request = parseRequest({
		series: { values, frequency: 'step', seasonLength: 3 },
		candidates: CANDIDATES,
		horizon: 8,
	});
	const results = evaluateChecked(request).candidates.filter((answer) => answer.ok);

	test.each(results.map((result) => [result.id, result] as const))(
		'every sentence of %s works out to the figure on display',
		(_id, result) => {
			expect(workOutAll(request, result)).toBeGreaterThan(values.length);
		},
	);
});

const LONGEST = 130;

describe('the demo items', () => {
	const folder = new URL('../../../demo/series/', import.meta.url);
	test.each(readdirSync(folder).map((file, turn) => [file, turn] as const))(
		'every sentence of every method on %s works out',
		(file, turn) => {
			const [headings = [], ...rows] = cutRows(readFileSync(new URL('../items.csv', folder), 'utf8'), ',');
			const row = rows.find(([code]) => `${code}.csv` === file)!;
			const frequency = row[headings.indexOf('frequency')] as Frequency;
			const [read] = readText(readFileSync(new URL(file, folder), 'utf8'), { frequency }).items;
			// Of thousands of periods the last ones say as much.
			const values = read!.values.slice(-LONGEST);
			const first = read!.first + read!.values.length - values.length;
			const request = parseRequest({
				series: { values, frequency, start: formatPeriod(frequency, first) },
				candidates: CANDIDATES.filter(({ id }) => !['o', 'bo', 'hl'].includes(id)),
			});
			const ran = evaluateChecked(request).candidates.filter((answer) => answer.ok);
			expect(ran.length).toBeGreaterThan(10);
			let sentences = 0;
			const tried = quarterOf(ran, turn);
			for (const result of tried) sentences += workOutAll(request, result);
			expect(sentences).toBeGreaterThan(tried.length * values.length);
		},
	);
});

test('a sentence reads as one would write it', () => {
	const request = parseRequest({
		series: { values: [34, 41, 38, null, 45], frequency: 'step' },
		candidates: [
			{ id: 's', method: 'ses', constants: { alpha: 0.3 } },
			{ id: 'm', method: 'moving-average', span: 3 },
		],
	});
	const [smoothing, average] = (evaluateChecked(request).candidates as Evaluated[]).map((result) =>
		workingTable(request, result),
	);
	const say = (table = smoothing!, key: string, t: number) =>
		sentence(
			table.columns.find((column) => column.key === key)!,
			t,
		);
	expect(say(smoothing, 'level', 2)).toBe('Level = 0.3 × 41 + 0.7 × 34 = 36.10');
	expect(say(smoothing, 'level', 4)).toBe('Level = 36.67 (no actual: the level stays)');
	expect(say(smoothing, 'fitted', 2)).toBe('Forecast = 34.00 (the start)');
	expect(say(smoothing, 'fitted', 1)).toBeNull();
	expect(say(smoothing, 'error', 2)).toBe('Error = 41 − 34 = 7.00');
	expect(say(average, 'fitted', 4)).toBe('Forecast = (34 + 41 + 38) ÷ 3 = 37.67');
	expect(say(average, 'fitted', 5)).toBe('Forecast = (41 + 38) ÷ 2 = 39.50 (1 of the 3 missing)');
});

test('with periods held back the steps that are spelled out go on from the cut', () => {
	const request = parseRequest({
		series: { values: SERIES.whole, frequency: 'month', start: '2025-01' },
		candidates: [
			{ id: 'h', method: 'holt', constants: { alpha: 0.4, beta: 0.2 } },
			{ id: 'n', method: 'naive' },
			{ id: 'c', method: 'combination', of: ['h', 'n'], weights: 'equal' },
		],
		holdout: 4,
	});
	const [holt, , mix] = evaluateChecked(request).candidates as [Evaluated, Evaluated, Evaluated];
	const table = workingTable(request, holt);
	for (const { step, mean } of holt.heldBack!)
		expect(compute(table.explainAhead(step)!.expression)).toBeCloseTo(mean!, 9);
	expect(workingTable(request, mix).explainAhead(1)).toBeNull();
});
