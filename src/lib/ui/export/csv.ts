import { stringify } from 'csv-stringify/browser/esm/sync';
import type { Rows } from './cells';

/** Begins like a formula: a calculation program would run it. */
const RUNS = /^[=+\-@\t\r]/;

/**
 * Rows as a CSV document with CR LF line ends. Texts that a calculation program would run as formulas get an
 * apostrophe in front; numbers stay numbers.
 */
export function csv(rows: Rows): string {
	const safe = rows.map((row) =>
		row.map((cell) => (typeof cell === 'string' && RUNS.test(cell) ? `'${cell}` : (cell ?? ''))),
	);
	return stringify(safe, { record_delimiter: '\r\n' });
}
