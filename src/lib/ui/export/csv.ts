import Papa from 'papaparse';
import { guarded } from '../../reading/guarded';
import type { Rows } from './cells';

/** What parts cells somewhere else: a text that has one is written in quotation marks, whatever parts them here. */
const PARTS = /[;|\t]/;

/** Rows as a CSV document with CR LF line ends. Texts are guarded against being run; numbers stay numbers. */
export const csv = (rows: Rows): string =>
	`${Papa.unparse(
		rows.map((row) => row.map((cell) => (typeof cell === 'string' ? guarded(cell) : cell))),
		{ newline: '\r\n', quotes: (value: unknown) => typeof value === 'string' && PARTS.test(value) },
	)}\r\n`;
