import { version } from '../../../package.json';
import type { Choices, ColumnRole, RowRole } from './choices';
import { headsOf, makeOf } from './evidence';
import type { Reading } from './reading';

/** How a table was read, in full: what was chosen by hand, and what was found out for it by which program. */
export interface Decision {
	program: string;
	choices: Choices;
	kind: Reading['kind'];
	encoding: string | null;
	sheet: string | null;
	delimiter: string | null;
	decimal: string;
	columns: readonly ColumnRole[];
	/** By what the next table of the same make is known, and what stands above its columns; null where it has no headings of its own. */
	make: string | null;
	heads: readonly string[];
	/** Rows above, between and below the figures that say something, by 0-based position. */
	headings: Readonly<Record<number, RowRole>>;
	order: 'down' | 'across';
	frequency: string;
	seasonLength: number;
	spelling: string;
	/** What could have been read in another way, as it was said. */
	doubts: readonly string[];
	fingerprint: string;
}

/** Columns and headings beyond which a decision does not name them: the table itself is kept beside it. */
const NAMED = 400;

export function decisionOf(reading: Reading, choices: Choices): Decision {
	const headings = reading.rowRoles
		.flatMap((role, r) => (role === 'figures' || role === 'ignored' ? [] : [[r, role] as const]))
		.slice(0, NAMED);
	return {
		program: version,
		choices,
		kind: reading.kind,
		encoding: reading.encoding,
		sheet: reading.sheet,
		delimiter: reading.delimiter,
		decimal: reading.decimal,
		columns: reading.columns.slice(0, NAMED),
		make: makeOf(reading),
		heads: headsOf(reading).slice(0, NAMED),
		headings: Object.fromEntries(headings),
		order: reading.order,
		frequency: reading.frequency,
		seasonLength: reading.seasonLength,
		spelling: reading.spelling,
		doubts: reading.doubts.map(({ text }) => text),
		fingerprint: fingerprintOf(reading),
	};
}

/**
 * 16 hexadecimal digits that two readings share if they come to the same items, periods and figures: FNV-1a (Fowler, Noll & Vo),
 * twice with different bases. Against programs of different age, not against people.
 */
export function fingerprintOf({ frequency, items }: Pick<Reading, 'frequency' | 'items'>): string {
	let one = 0x811c9dc5;
	let other = 0x01000193;
	const add = (word: number) => {
		one = Math.imul(one ^ word, 0x01000193);
		other = Math.imul(other ^ (word + 0x9e3779b9), 0x01000193);
		other ^= other >>> 15;
	};
	const text = (written: string) => {
		for (let i = 0; i < written.length; i++) add(written.charCodeAt(i));
		add(-1);
	};
	const bits = new Int32Array(2);
	const number = new Float64Array(bits.buffer);
	text(frequency);
	for (const { code, first, values } of items) {
		text(code);
		for (const value of [first, ...values]) {
			number[0] = value ?? NaN;
			add(bits[0]!);
			add(bits[1]!);
		}
	}
	const hex = (word: number) => (word >>> 0).toString(16).padStart(8, '0');
	return hex(one) + hex(other);
}
