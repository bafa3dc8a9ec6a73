import { expect, test } from 'vitest';
import readWorkbookFile from 'read-excel-file/universal';
import { applyLayers, NO_LAYERS } from '$core/series/layers';
import { parsePeriod } from '$core/series/period';
import { readBytes } from '../../../reading/read';
import { csv } from '../../export/csv';
import { seriesRows } from './series-rows';
import { workbookOf } from '../../export/workbook';

const first = parsePeriod('month', '2024-01');
const layers = {
	...NO_LAYERS,
	corrections: { [first + 1]: { to: 20.5, over: 2 } },
	events: { [first]: '=HYPERLINK("x")', [first + 2]: '@here' },
};
const series = applyLayers({ first, values: [1204.25, 2, null, -7, 0] }, 'month', 12, layers);
const CODES = ['70-214', '＝2', '=1+1', '+49', '-5', '@sum', '10-24', 'Chain “9”'];

test.each(CODES)('%s: out as CSV and in again, the same series', async (code) => {
	const text = csv(seriesRows(series, layers, code));
	for (const line of text.split('\r\n').slice(1))
		for (const cell of line.split(',')) expect(cell).not.toMatch(/^"?[=@]/);
	const reading = await readBytes(new TextEncoder().encode(text), { columns: { 2: 'ignored' } });
	expect(reading).toMatchObject({ problem: null, frequency: 'month' });
	expect(reading.items).toMatchObject([{ code, first, values: [1204.25, 20.5, null, -7, 0] }]);
});

test.each(CODES)(
	'%s: out as a workbook and in again, the same series, and no formula in it',
	async (code) => {
		const bytes = new Uint8Array(
			await (await workbookOf(seriesRows(series, layers, code), 'Demand')).arrayBuffer(),
		);
		const [sheet] = await readWorkbookFile(bytes.slice().buffer);
		expect(sheet!.data[0]![1]).toBe(code);
		expect(sheet!.data[1]![4]).toBe('=HYPERLINK("x")');
		const reading = await readBytes(bytes, { columns: { 2: 'ignored' } });
		expect(reading.items).toMatchObject([{ code, first, values: [1204.25, 20.5, null, -7, 0] }]);
	},
);
