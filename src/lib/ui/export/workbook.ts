import type { Cell } from './cells';

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
