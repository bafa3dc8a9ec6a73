import type { DecimalMark } from '../../reading/figures';
import { guarded } from '../../reading/guarded';
import type { Rows } from './cells';

/** Rows as text with a tab between cells and figures in the reader's decimal mark, so that they paste as figures. */
export const tabSeparated = (rows: Rows, mark: DecimalMark): string =>
	rows.map((row) => row.map((cell) => cellText(cell, mark).replace(/[\t\r\n]+/g, ' ')).join('\t')).join('\n');

/** The same as a table. */
export const htmlTable = (rows: Rows, mark: DecimalMark): string =>
	`<table>${rows.map((row) => `<tr>${row.map((cell) => `<td>${escaped(cellText(cell, mark))}</td>`).join('')}</tr>`).join('')}</table>`;

const cellText = (cell: Rows[number][number], mark: DecimalMark): string =>
	typeof cell === 'number' ? String(cell).replace('.', mark) : guarded(cell ?? '');

const escaped = (text: string): string =>
	text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign]!);

/**
 * Puts rows on the clipboard, as text and as a table. The copying command is used rather than the asynchronous clipboard,
 * which browsers give to encrypted and local pages only.
 * @returns whether the browser did it
 */
export function copyRows(rows: Rows, mark: DecimalMark): boolean {
	const fill = (event: ClipboardEvent) => {
		event.clipboardData?.setData('text/plain', tabSeparated(rows, mark));
		event.clipboardData?.setData('text/html', htmlTable(rows, mark));
		event.preventDefault();
	};
	document.addEventListener('copy', fill, { once: true });
	const done = document.execCommand('copy');
	document.removeEventListener('copy', fill);
	return done;
}
