import { expect, test } from 'vitest';
import type { Evaluated } from '$core/questions/answer';
import { evaluateChecked } from '$core/questions/evaluate';
import { parseRequest } from '$core/questions/request';
import { workingTable } from '$core/questions/working-table';
import { readText } from '../../reading/read';
import { csv } from './csv';
import { workbookOf } from './workbook';
import { workingRows } from './working-rows';

const request = parseRequest({
	series: { values: [20, 23, 22, 26, 31, 30], frequency: 'year', start: '2020' },
	candidates: [{ id: 'a', method: 'holt', constants: { alpha: 0.5, beta: 0.4 } }],
	horizon: 2,
});
const result = evaluateChecked(request).candidates[0] as Evaluated;
const rows = workingRows({
	title: '40-060 Saddle, Double smoothing, α = 0.5, β = 0.4',
	table: workingTable(request, result),
	ahead: result.ahead,
	period: (t) => String(2019 + t),
});

test('names, equations and the equation ahead stand above the figures', () => {
	expect(rows[0]).toEqual(['40-060 Saddle, Double smoothing, α = 0.5, β = 0.4']);
	expect(rows[1]!.slice(0, 6)).toEqual(['period', 'Actual', 'Forecast', 'Error', 'Level', 'Trend']);
	expect(rows[2]!.slice(2, 6)).toEqual([
		'fₜ = ℓₜ₋₁ + bₜ₋₁',
		'eₜ = yₜ − fₜ',
		'ℓₜ = α·yₜ + (1 − α)·(ℓₜ₋₁ + bₜ₋₁)',
		'bₜ = β·(ℓₜ − ℓₜ₋₁) + (1 − β)·bₜ₋₁',
	]);
	expect(rows[3]![2]).toBe('fₙ₊ₕ = ℓₙ + h·bₙ');
});

test('every period is there with its figures at full precision, and those to come with their forecast alone', () => {
	expect(rows).toHaveLength(4 + 6 + 2);
	expect(rows[6]!.slice(0, 4)).toEqual(['2022', 22, 26, -4]);
	expect(
		rows.slice(10).map(([period, actual, forecast, error]) => [period, actual, forecast, error]),
	).toEqual([
		['2026', null, result.ahead[0]!.mean, null],
		['2027', null, result.ahead[1]!.mean, null],
	]);
});

test('it reads back as a table and as a workbook', async () => {
	const read = readText(csv(rows.slice(1).filter((_, i) => i === 0 || i > 2)), { frequency: 'year' });
	expect(read.items.find(({ code }) => code === 'Actual')!.values.slice(0, 6)).toEqual([
		20, 23, 22, 26, 31, 30,
	]);
	const bytes = new Uint8Array(await (await workbookOf(rows, 'Working')).arrayBuffer());
	expect(bytes.length).toBeGreaterThan(2000);
	// A workbook is a zip archive.
	expect([...bytes.slice(0, 2)]).toEqual([0x50, 0x4b]);
});
