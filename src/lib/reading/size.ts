import { BOUNDS, written } from '$core/bounds';

/** Counting a table before it is made: none of what is larger than its bound ever stands in memory. */

const HELP =
	'Bring in part of it, or save it as delimited text and drop that file: larger ones are read row by row.';

/**
 * Why a table of this shape is not read at once; null where it is.
 * @param columns of its widest row
 */
export function refuseShape(rows: number, columns: number): string | null {
	if (rows > BOUNDS.tableRows)
		return `This table has ${written(rows)} rows; at most ${written(BOUNDS.tableRows)} are read at once. ${HELP}`;
	if (columns > BOUNDS.tableColumns)
		return `This table has ${written(columns)} columns; at most ${written(BOUNDS.tableColumns)} are read. Check what separates them, or bring in part of it.`;
	if (rows * columns > BOUNDS.tableCells)
		return `This table has ${written(rows)} rows and ${written(columns)} columns; at most ${written(BOUNDS.tableCells)} cells are read at once, blank ones counted. Leave out what is far from the figures, or bring in part of it.`;
	return null;
}

/** Why rows of cells are not read at once; null where they are. */
export function refuseRows(rows: readonly (readonly string[])[]): string | null {
	let widest = 0;
	let characters = 0;
	for (const [r, row] of rows.entries()) {
		if (row.length > widest) widest = row.length;
		for (const cell of row) {
			characters += cell.length;
			if (cell.length > BOUNDS.cellCharacters)
				return `A cell in row ${written(r + 1)} has ${written(cell.length)} characters; a cell has at most ${written(BOUNDS.cellCharacters)}. Check the table's quotation marks and separators.`;
		}
		// A text that many cells share takes no room until each is looked through.
		if (characters > 2 * BOUNDS.tableCharacters)
			return `The cells of this table hold more than ${written(2 * BOUNDS.tableCharacters)} characters together. Bring in part of it.`;
	}
	return refuseShape(rows.length, widest);
}

/** Why a text is not cut into cells, from its line ends and separators alone; null where it is. */
export function refuseCuts(text: string, delimiter: string): string | null {
	let lines = 1;
	let cuts = 0;
	const cut = delimiter.charCodeAt(0);
	for (let i = 0; i < text.length; i++) {
		const at = text.charCodeAt(i);
		if (at === 10 || (at === 13 && text.charCodeAt(i + 1) !== 10)) lines++;
		else if (at === cut) cuts++;
	}
	const tooLong = refuseShape(lines, 1);
	if (tooLong || cuts <= 2 * BOUNDS.tableCells) return tooLong;
	return `This text has ${written(cuts)} separators; a table of at most ${written(BOUNDS.tableCells)} cells is read at once. Bring in part of it.`;
}
