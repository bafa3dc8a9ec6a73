import { BOUNDS } from '$core/bounds';
import { monthOf, weekdayOf } from './month-names';
import { plain } from './words';

/** Which mark separates the decimals; the other one, blanks and apostrophes are thousands marks. */
export type DecimalMark = '.' | ',';

const MISSING = new Set([
	'',
	'-',
	'–',
	'—',
	'n/a',
	'na',
	'n.a.',
	'null',
	'none',
	'nan',
	'#n/a',
	'#nv',
	'#value!',
	'#ref!',
	'#div/0!',
	'..',
	'…',
	'?',
]);

/** Whether a cell says that there is no figure. */
export function isMissing(cell: string): boolean {
	return cell === '' || MISSING.has(cell.trim().toLowerCase());
}

/** What people write where they have no figure; in a heading it may be a name. */
const NO_FIGURE = /^(?:x+|k\.? ?a\.?|k\.? ?w\.?|ns|n\.? ?d\.?|n\.? ?b\.?|s\/d|tbd|\.|-{2,}|\*+|ø|nil)$/i;

/** Whether a cell among figures stands for a missing one in the way that some tables have it. */
export const isNoFigure = (cell: string): boolean => NO_FIGURE.test(cell.trim());

/** Marks around a figure: a currency or a unit, and whether it is a percentage. */
export interface Marks {
	/** The unit or currency as written; empty where there is none. */
	unit: string;
	percent: boolean;
	/** The power of ten that a word such as “k” or “Mio.” stands for; 0 without. */
	power: number;
}

export type ReadFigure = { value: number | null } | { refused: string };

const CURRENCY = '[€$£¥₹₩₺₽]|EUR|USD|GBP|CHF|JPY|SEK|NOK|DKK|PLN|CZK|CAD|AUD';
const BEFORE = new RegExp(`^(?:${CURRENCY})`);
const AFTER = new RegExp(`(?:${CURRENCY}|%|[\\p{L}][\\p{L}.²³]{0,11})$`, 'u');
/** Letters after a figure that change its size or its sense, and must not be dropped. */
const NOT_A_UNIT = new Set([
	'b',
	'e',
	'x',
	'q',
	'w',
	'h',
	'am',
	'pm',
	'th',
	'st',
	'nd',
	'rd',
	'quartal',
	'trimestre',
	'week',
	'kw',
]);
const THIN = /[\s'’\u00a0\u202f\u2009]/;
const THIN_ALL = new RegExp(THIN, 'g');

/** Characters of a cell beyond which it is not looked through for a figure. */
const LONGEST = 500;

/** A figure's cell taken apart: sign, digits with their marks, and what stands around them; null for no figure. */
function takeApart(cell: string): { digits: string; negative: boolean; marks: Marks } | null {
	if (cell.length > LONGEST) return null;
	let text = cell.trim().replaceAll('−', '-');
	let negative = false;
	if (/^\(.*\)$/.test(text)) {
		negative = true;
		text = text.slice(1, -1).trim();
	}
	const marks: Marks = { unit: '', percent: false, power: 0 };
	const sign = () => {
		if (/^[-+]/.test(text)) {
			if (text.startsWith('-')) negative = !negative;
			text = text.slice(1).trim();
			return true;
		}
		return false;
	};
	const signed = sign();
	const before = BEFORE.exec(text)?.[0];
	if (before) {
		marks.unit = before;
		text = text.slice(before.length).trim();
		if (!signed) sign();
	}
	// An exponent is no unit.
	const ends = /\d[eE][+-]?\d+$/.test(text) ? [] : endsOf(text);
	for (const { word, power } of ends) {
		if (power === 0 && isNoUnit(word)) return null;
		text = text.slice(0, text.lastIndexOf(word)).trim();
		if (power > 0) marks.power = power;
		else if (word === '%') marks.percent = true;
		else if (marks.unit === '') marks.unit = word;
		else return null;
	}
	if (/[\d.]-$/.test(text) && !negative) {
		negative = true;
		text = text.slice(0, -1).trim();
	}
	// Blanks and apostrophes part the thousands, so that “3 24” is not 324.
	if (THIN.test(text) && !/^\d{1,3}(?:[\s'’\u00a0\u202f\u2009]\d{3})+(?:[.,]\d*)?$/.test(text)) return null;
	const digits = text.replace(THIN_ALL, '');
	return /^[\d.,]+(?:[eE][+-]?\d+)?$/.test(digits) && /\d/.test(digits) ? { digits, negative, marks } : null;
}

const POWERS: readonly [RegExp, number][] = [
	[/^(?:k|tsd|thousand|mil|mille)\.?$/i, 3],
	[/^(?:M|mn|mln|mio|million|millions|millones|millionen)\.?$/, 6],
	[/^(?:mn|mln|mio|million|millions|millones|millionen)\.?$/i, 6],
	[/^(?:bn|mrd|mia|billion|billions|milliarde|milliarden|milliards)\.?$/i, 9],
];
const powerOf = (word: string): number => POWERS.find(([pattern]) => pattern.test(word))?.[1] ?? 0;

/** What stands behind a figure, the last first: a unit, a percent sign, a currency, and before them a power of ten. */
function endsOf(text: string): { word: string; power: number }[] {
	const word = AFTER.exec(text)?.[0];
	if (!word) return [];
	const power = powerOf(word);
	if (power > 0) return [{ word, power }];
	const before = AFTER.exec(text.slice(0, -word.length).trim())?.[0] ?? '';
	const inside = powerOf(before);
	return inside > 0
		? [
				{ word, power: 0 },
				{ word: before, power: inside },
			]
		: [{ word, power: 0 }];
}

function isNoUnit(word: string): boolean {
	const bare = plain(word);
	return (
		NOT_A_UNIT.has(bare) || monthOf(word) !== undefined || (weekdayOf(word) !== undefined && bare !== 'st')
	);
}

/** The marks around a figure; null where the cell holds none. */
export function marksOf(cell: string): Marks | null {
	return isMissing(cell) ? null : (takeApart(cell)?.marks ?? null);
}

const PLAIN = /^-?\d{1,15}$/;

/**
 * A cell as a figure; null where it says that there is none. `(45)` and `45-` are negative; a currency, a unit or
 * a percent sign around the figure is left off. The refusal says what the cell holds instead.
 */
export function readFigure(cell: string, decimal: DecimalMark): ReadFigure {
	if (PLAIN.test(cell)) return { value: Number(cell) };
	if (isMissing(cell) || isNoFigure(cell)) return { value: null };
	const text = cell.trim();
	const apart = takeApart(cell);
	const plainDigits = apart && withPoint(apart.digits, decimal);
	if (!apart || plainDigits === null) {
		return { refused: `holds “${shorten(text)}”, which is not a figure` };
	}
	const size = apart.marks.power > 0 ? Number(`${plainDigits}e${apart.marks.power}`) : Number(plainDigits);
	if (!(size <= BOUNDS.figure)) {
		return {
			refused: `holds “${shorten(text)}”, more than the ${BOUNDS.figure.toExponential(0)} that can be computed with`,
		};
	}
	// 0 - 0 is 0, where −0 would be written differently.
	return { value: apart.negative ? 0 - size : size };
}

/** Digits with a decimal point and no thousands marks; null where the marks stand in the wrong places. */
function withPoint(digits: string, decimal: DecimalMark): string | null {
	const thousands = decimal === '.' ? ',' : '.';
	const grouped = decimal === '.' ? /^\d{1,3}(,\d{3})+(?![\d,])/ : /^\d{1,3}(\.\d{3})+(?![\d.])/;
	// Groups of two after the first three, as in 12,34,567, are written in some countries.
	const inPairs = decimal === '.' && /^\d{1,2}(,\d{2})+,\d{3}(?![\d,])/.test(digits);
	const bare = grouped.test(digits) || inPairs ? digits.replaceAll(thousands, '') : digits;
	const pointed = bare.replace(decimal, '.');
	return /^(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(pointed) ? pointed : null;
}

/** Whether a cell reads as a figure (or as a missing one) under either decimal mark. */
export const isFigure = (cell: string): boolean =>
	PLAIN.test(cell) || 'value' in readFigure(cell, '.') || 'value' in readFigure(cell, ',');

/** Whether a cell is a figure with nothing but a currency or a percent sign around it. */
export function isBareFigure(cell: string): boolean {
	if (PLAIN.test(cell)) return true;
	const marks = isMissing(cell) || !isFigure(cell) ? null : marksOf(cell);
	if (!marks) return false;
	const { unit, power } = marks;
	return power > 0 || unit === '' || BEFORE.test(unit);
}

/** A cell cut to what fits into a sentence. */
export function shorten(text: string): string {
	return text.length > 24 ? `${text.slice(0, 24)}…` : text;
}

/** What cells say of the decimal mark. */
export interface DecimalEvidence {
	comma: boolean;
	point: boolean;
	/** The mark of figures that could be read either way; null where there are none. */
	undecided: DecimalMark | null;
	/** How many those are, and how many whole figures without a mark are below and above a thousand. */
	either: number;
	small: number;
	large: number;
}

/** Looks through figures for what their marks can only mean. */
export function decimalEvidence(cells: Iterable<string>): DecimalEvidence {
	const evidence: DecimalEvidence = {
		comma: false,
		point: false,
		undecided: null,
		either: 0,
		small: 0,
		large: 0,
	};
	for (const cell of cells) {
		if (PLAIN.test(cell)) {
			if (cell.length - (cell.startsWith('-') ? 1 : 0) > 3) evidence.large++;
			else if (Number(cell) !== 0) evidence.small++;
			continue;
		}
		if (isMissing(cell)) continue;
		const text = takeApart(cell)?.digits;
		if (text) weigh(text, evidence);
	}
	return evidence;
}

function weigh(text: string, evidence: DecimalEvidence): void {
	const comma = text.lastIndexOf(',');
	const point = text.lastIndexOf('.');
	if (comma < 0 && point < 0) return;
	if (comma >= 0 && point >= 0) {
		if (comma > point) evidence.comma = true;
		else evidence.point = true;
		return;
	}
	const mark = comma >= 0 ? ',' : '.';
	const parts = text.split(mark);
	const inGroups = parts.slice(1).every((part) => /^\d{3}$/.test(part)) && /^[1-9]\d{0,2}$/.test(parts[0]!);
	if (!inGroups) {
		// Two marks that do not group by threes say nothing (12,34,567); one is a decimal mark.
		if (parts.length > 2) evidence[mark === ',' ? 'point' : 'comma'] = true;
		else evidence[mark === ',' ? 'comma' : 'point'] = true;
	} else if (parts.length > 2) {
		// Two groups can only be thousands, so that the other mark is the decimal one.
		evidence[mark === ',' ? 'point' : 'comma'] = true;
	} else {
		evidence.undecided ??= mark;
		evidence.either++;
	}
}

/** Figures that could be read either way, from which on a point before three digits is a thousands mark each time. */
const ENOUGH = 4;

/**
 * Decides for cells together which mark is the decimal one. Where each figure has its one mark before three digits,
 * it is a thousands mark if there are several of them, or if others of less than a thousand have none.
 * @returns the mark, and the mark of figures that could be read either way where nothing decides
 */
export function decimalMark(cells: Iterable<string>): {
	mark: DecimalMark;
	open: DecimalMark | null;
	mixed: boolean;
} {
	const { comma, point, undecided, either, small, large } = decimalEvidence(cells);
	const mixed = comma && point;
	if (comma && !point) return { mark: ',', open: null, mixed };
	if (comma || point || undecided === null) return { mark: '.', open: null, mixed };
	const thousands = undecided === ',' || (large === 0 && (either >= ENOUGH || small > 0));
	return { mark: (undecided === '.') === thousands ? ',' : '.', open: undecided, mixed };
}
