/**
 * How figures are written, everywhere: with a decimal point, thousands a thin space apart, a true minus sign. A screen
 * that is read with decimal commas turns the finished text (`lib/reader.svelte.ts`); nothing else writes figures.
 */

const THIN = '\u202f';

/** Lifts an exact half over the edge, so that 4.205 and its neighbours in binary are all shown as 4.21: as a share of the last place. */
const NUDGE = 1e-8;

/** A figure with a true minus sign and exactly `decimals` places, halves away from zero, as tables show it. */
export function fixedFigure(value: number, decimals: number): string {
	const text = (Math.abs(value) + NUDGE * 10 ** -decimals).toFixed(decimals);
	return value < 0 && Number(text) !== 0 ? `−${text}` : text;
}

/** As `fixedFigure`, without trailing zeros. */
export function writeFigure(value: number, decimals: number): string {
	const text = fixedFigure(value, decimals);
	return decimals > 0 ? text.replace(/\.?0+$/, '') : text;
}

/** A written figure with its thousands apart. */
export function grouped(text: string): string {
	const [whole = '', fraction] = text.split('.');
	const apart = whole.replace(/\B(?=(\d{3})+$)/g, THIN);
	return fraction === undefined ? apart : `${apart}.${fraction}`;
}

/** A figure with a number of decimals, thousands apart; a dash where there is none. */
export function figure(value: number | null | undefined, decimals: number): string {
	return value === null || value === undefined ? '–' : grouped(fixedFigure(value, decimals));
}

/** As `figure`, with a plus sign before what is above zero. */
export function signed(value: number | null | undefined, decimals: number): string {
	return withSign(value, figure(value, decimals));
}

function withSign(value: number | null | undefined, text: string): string {
	return typeof value === 'number' && value > 0 && /[1-9]/.test(text) ? `+${text}` : text;
}

/** How the figures of a column are shown: divided by a power of ten that its head says once, with so many places. */
export interface Scale {
	/** A multiple of 3; 0 where figures stand as they are. */
	readonly power: number;
	readonly decimals: number;
}

/** Figures of this size and more are shown in thousands, millions …; of less than the other in powers below one. */
const LARGE = 1e6;
const SMALL = 1e-4;
/** Digits that the least figure of a column keeps, and that the greatest is not to exceed. */
const LEAST_DIGITS = 3;
const MOST_DIGITS = 5;
/** Places beyond which a figure is too long for a column, whatever its digits. */
const MOST_PLACES = 6;

const digitsBefore = (size: number) => Math.floor(Math.log10(size));

/**
 * The scale of a column: its least figure keeps three digits that count, its greatest has five at the most.
 * @param values the column's figures, null or NaN where there is none; zeros have no size
 * @param least places that are shown where the figures allow them
 */
export function scaleOf(values: Iterable<number | null | undefined>, least = 0): Scale {
	let low = Infinity;
	let high = 0;
	for (const value of values) {
		const size = Math.abs(value ?? 0);
		if (!(size > 0 && size < Infinity)) continue;
		low = Math.min(low, size);
		high = Math.max(high, size);
	}
	if (high === 0) return { power: 0, decimals: least };
	const power = powerFor(high, low);
	const wanted = LEAST_DIGITS - 1 - digitsBefore(low) + power;
	const room = MOST_DIGITS - 1 - digitsBefore(high) + power;
	return { power, decimals: Math.max(0, Math.min(Math.max(wanted, least), room, MOST_PLACES)) };
}

/** The power of ten that figures of these sizes are shown in: that of the least, where the greatest does not grow too long by it. */
function powerFor(high: number, low = high): number {
	const fits = high < LARGE && high >= SMALL;
	if (fits && (low >= SMALL / 10 || high >= 1)) return 0;
	const [ofLow, ofHigh] = [low, high].map((size) => 3 * Math.floor(digitsBefore(size) / 3)) as [
		number,
		number,
	];
	if (digitsBefore(high) - ofLow < MOST_DIGITS && ofLow !== 0) return ofLow;
	return fits ? 0 : ofHigh;
}

/** The scale of columns that stand close: three digits of the greatest figure, and few signs. */
export function compactScale(values: readonly (number | null)[]): Scale {
	const high = Math.max(...values.map((value) => Math.abs(value ?? 0)));
	if (!(high > 0)) return { power: 0, decimals: 0 };
	const power = high >= 1e4 || high < 0.1 ? 3 * Math.floor(digitsBefore(high) / 3) : 0;
	return { power, decimals: Math.max(0, LEAST_DIGITS - 1 - digitsBefore(high) + power) };
}

const MOST_SORTED = 1000;

/**
 * Scale of figures as large as those of a series: four digits of a usual one.
 * @param values figures, null or NaN where missing
 */
export function usualScale(values: Iterable<number | null>): Scale {
	const sizes: number[] = [];
	for (const value of values)
		if (value !== null && Number.isFinite(value) && value !== 0) sizes.push(Math.abs(value));
	const high = sizes.reduce((most, size) => Math.max(most, size), 0) || 100;
	// Of thousands every so manieth says what is usual.
	const every = Math.ceil(sizes.length / MOST_SORTED);
	const some = every > 1 ? sizes.filter((_, i) => i % every === 0) : sizes;
	const typical = some.sort((a, b) => a - b)[Math.floor(some.length / 2)] ?? 100;
	// One outlier does not make millions of all; figures that differ by thousands do.
	const power = powerFor(high / typical > 1000 ? high : typical);
	return { power, decimals: Math.max(0, LEAST_DIGITS - digitsBefore(typical) + power) };
}

/** A scale with as many places more as figures of another size need for three digits, three at the most. */
export function finerScale({ power, decimals }: Scale, size: number | null | undefined): Scale {
	if (!size) return { power, decimals };
	const wanted = LEAST_DIGITS - 1 - digitsBefore(Math.abs(size)) + power;
	return { power, decimals: Math.max(decimals, Math.min(decimals + 3, wanted)) };
}

const NAMED: Readonly<Record<number, string>> = {
	3: 'thousands',
	6: 'millions',
	9: 'billions',
	12: 'trillions',
};
const RAISED = ['⁰', '¹', '²', '³', '⁴', '⁵', '⁶', '⁷', '⁸', '⁹'];

const powerOfTen = (power: number) =>
	`10${power < 0 ? '⁻' : ''}${[...String(Math.abs(power))].map((digit) => RAISED[Number(digit)]).join('')}`;

/** What a column's head says of its scale: “millions”, “× 10⁻⁶”; empty where figures stand as they are. */
export function scaleWords({ power }: Scale): string {
	return power === 0 ? '' : (NAMED[power] ?? `×${THIN}${powerOfTen(power)}`);
}

/** The scale of what is counted. */
export const WHOLE: Scale = { power: 0, decimals: 0 };

/** A figure of a column on the column's scale; “≈ 0” for one that is too small to be seen on it. */
export function scaled(value: number | null | undefined, { power, decimals }: Scale): string {
	if (value === null || value === undefined) return '–';
	const text = figure(value / 10 ** power, decimals);
	return value !== 0 && decimals > 0 && !/[1-9]/.test(text) ? `≈${THIN}0` : text;
}

/** As `scaled`, with a plus sign before what is above zero. */
export function scaledSigned(value: number | null | undefined, scale: Scale): string {
	return withSign(value, scaled(value, scale));
}

/** A figure that stands by itself, in a sentence or a row of its own: three or four digits that count, “1.23 million”, “3.1 × 10⁻⁵”. */
export function inWords(value: number): string {
	if (value === 0) return '0';
	return inWordsOn(value, scaleOf([value]));
}

/** A figure in a sentence on the scale of the column that it also stands in. */
export function inWordsOn(value: number, scale: Scale): string {
	const text = scaled(value, scale);
	if (scale.power === 0) return text;
	return `${text} ${NAMED[scale.power]?.slice(0, -1) ?? scaleWords(scale)}`;
}

/** The scale of a column of percentages: one place, unless they are smaller or larger than percentages usually are. */
export function percentScale(values: readonly (number | null | undefined)[]): Scale {
	const sizes = values.map((value) => Math.abs(value ?? 0)).filter((size) => size > 0);
	const usual = sizes.every((size) => size >= 0.5 && size < 1e5);
	return usual ? { power: 0, decimals: 1 } : scaleOf(sizes);
}

/** Decimals of the shortest text that is this figure. */
function ownDecimals(value: number): number {
	const [digits = '', exponent = '0'] = String(value).split('e');
	return Math.max(0, (digits.split('.')[1] ?? '').length - Number(exponent));
}

/** A figure as one would type it: all its decimals. */
export const typedFigure = (value: number): string => figure(value, writtenDecimals([value]));

/** The most decimals that any figure was brought in with, at most so many. */
export function writtenDecimals(values: Iterable<number | null>, atMost = 12): number {
	let most = 0;
	for (const value of values) {
		if (value === null || Number.isInteger(value)) continue;
		most = Math.max(most, ownDecimals(value));
		if (most >= atMost) return atMost;
	}
	return most;
}
