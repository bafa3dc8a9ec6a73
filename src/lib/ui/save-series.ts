import { formatPeriod } from '$core/series/period';
import { csv } from './csv';
import { saveFile } from './format';
import type { ItemState } from './item-state.svelte';

type Cell = string | number | null;

/** The item's figures as rows: a heading, then period, figure as mended, figure as it came in, what it is, event. */
export function seriesRows({
	series,
	layers,
	item,
}: Pick<ItemState, 'series' | 'layers' | 'item'>): Cell[][] {
	const head = ['Period', item.code, 'as it came in', 'what it is', 'event'];
	const rows = series.values.map((value, i): Cell[] => [
		String(formatPeriod(series.frequency, series.first + i)),
		value,
		series.raw[i]!,
		(series.marks.get(i) ?? []).filter((mark) => mark !== 'event').join(', '),
		layers.events[series.first + i] ?? '',
	]);
	return [head, ...rows];
}

/** Saves an item's figures with their marks, so that they read back as they are. */
export async function saveSeries(desk: ItemState, kind: 'csv' | 'xlsx'): Promise<void> {
	const rows = seriesRows(desk);
	const name = `${desk.item.code} demand.${kind}`;
	if (kind === 'csv') saveFile(name, csv(rows), 'text/csv');
	else saveFile(name, await workbookOf(rows, 'Demand'));
}

/** Rows as a workbook. Texts are stored as texts, never as formulas. */
export async function workbookOf(rows: readonly (readonly Cell[])[], sheet: string): Promise<Blob> {
	const { default: writeWorkbook } = await import('write-excel-file/universal');
	const data = rows.map((row) =>
		row.map((cell) => {
			if (cell === null || cell === '') return null;
			return typeof cell === 'number' ? { value: cell, type: Number } : { value: cell, type: String };
		}),
	);
	return writeWorkbook(data, { sheet }).toBlob();
}
