import { CALENDAR_SEASON_LENGTH, type Frequency } from '$core/series/frequency';
import { dayNumber, firstDay, type Ordinal, parsePeriod, PeriodError } from '$core/series/period';
import { type MonthOf, monthOf, monthsOf } from './month-names';
import { numberOf } from './words';

/** How periods are spelt: one table, from which cells are read and told from other words. */

/** Reads a cell as a period; null where it is spelt otherwise. */
export type Reader = (cell: string) => Ordinal | null;

/** A spelling with its year, read at one frequency. */
export interface Spelling {
	frequency: Frequency;
	/** As it is said to a reader. */
	name: string;
	read: Reader;
	/** Whether cells that could be something else as well are periods together. */
	fits?(ordinals: readonly Ordinal[]): boolean;
}

/** A spelling without a year, with how many of them one has. */
export type YearlessSpelling = Spelling & { length: number };

/** Which number of 03/04/2024 is the day. */
export type DateOrder = 'day-first' | 'month-first';

const NAME = String.raw`((?:de\s|d[’'])?\p{L}+(?:\sfhómhair)?)\.?`;
const fullYear = (written: string) => {
	const year = Number(written);
	return written.length > 2 ? year : year + (year < 70 ? 2000 : 1900);
};
/** A period as `parsePeriod` has it; null for none. */
export const exact = (frequency: Frequency, written: string): Ordinal | null => {
	try {
		return parsePeriod(frequency, written);
	} catch (error) {
		if (error instanceof PeriodError) return null;
		throw error;
	}
};
const day = (year: string, month: number | string | undefined, date: string): Ordinal | null =>
	month === undefined ? null : dayNumber(fullYear(year), Number(month), Number(date));
const month = (year: string, which: string | number | undefined): Ordinal | null =>
	which !== undefined && Number(which) >= 1 && Number(which) <= 12
		? fullYear(year) * 12 + Number(which) - 1
		: null;
const week = (year: string | number, which: string | number): Ordinal | null =>
	exact('week', `${year}-W${String(which).padStart(2, '0')}`);

type Form = [RegExp, (...groups: string[]) => Ordinal | null];
/** A reader made of patterns, each with what its groups mean. */
export const anyOf =
	(...forms: Form[]): Reader =>
	(cell) => {
		for (const [pattern, make] of forms) {
			const found = pattern.exec(cell);
			if (found) return make(...found.slice(1));
		}
		return null;
	};
/** A form of a whole cell, in any case. */
const form = (source: string, make: Form[1]): Form => [new RegExp(`^${source}$`, 'iu'), make];

const TIME = String.raw`(?:[T ]\s*(\d{1,2})(?::\d\d(?::\d\d(?:[.,]\d+)?)?)?\s*(?:Z|[+-]\d\d:?\d\d)?)`;
const hourOf = (days: Ordinal | null, hour: string | undefined): Ordinal | null =>
	days === null || Number(hour ?? 0) > 23 ? null : days * 24 + Number(hour ?? 0);
const timed = (date: string, make: (...groups: string[]) => Ordinal | null): Form =>
	form(`${date}${TIME}?`, (...groups) => hourOf(make(...groups), groups.at(-1)));
const ISO_DATE = String.raw`(\d{4})([-/.])(\d{1,2})\2(\d{1,2})`;
const NUMBERED_DATE = String.raw`(\d{1,2})([-/.])(\d{1,2})\2(\d{4}|\d{2})`;

/** What counts on within a year, with the words and letters for it. */
interface Counted {
	frequency: 'month' | 'quarter' | 'half-year' | 'week';
	words: string;
	/** Letters that say it only beside a year of four digits: by themselves they begin codes. */
	letters: string;
	most: number;
	make(year: number, which: number): Ordinal | null;
}
const COUNTED: readonly Counted[] = [
	{
		frequency: 'quarter',
		words:
			'quarters?|qtrs?|quartal|kvartal|kvartál|kvartaal|kwartaal|kwartał|trimestr[eiu]?|trimestres?|trim|tromjesečje|čtvrtletí|štvrťrok|negyedév|neljännes|ketvirtis|çeyrek|квартал|кв|тримесечие|τρίμηνο|q|t|季度|季|四半期|분기',
		letters: 'k|kv',
		most: 4,
		make: (year, which) => year * 4 + which - 1,
	},
	{
		frequency: 'half-year',
		words:
			'half[ -]?years?|half|halbjahr|halfjaar|halvår|hj|semestr[eu]?|semestres?|półrocze|pololetí|félév|полугодие|h|s(?=[12](?!\\d))|半期|半年|반기',
		letters: '',
		most: 2,
		make: (year, which) => year * 2 + which - 1,
	},
	{
		frequency: 'week',
		words:
			'weeks?|wks?|kalenderwoche|woche|semaines?|semanas?|setmana|settimana|sett|sem|vecka|uke|uge|viikko|tydzień|tydz|týden|týždeň|tjedan|teden|nädal|savaitė|hét|hafta|săptămâna|minggu|неделя|нед|тиждень|тиж|седмица|εβδομάδα|εβδ|kw|cw|w|s|週|周|주',
		letters: 'v|vk|u',
		most: 53,
		make: week,
	},
	{
		frequency: 'month',
		words: 'tháng|thg',
		letters: 'm|p|months?|monat|mois|mese?|mês|maand|månad|måned|periods?|periode|periodo|período|période',
		most: 12,
		make: (year, which) => year * 12 + which - 1,
	},
];
const WHICH = String.raw`(?:(\d{1,2})|([ivIV]{1,3}(?![\p{L}])|\p{L}{4,}(?=\s)))`;
const ENDING = String.raw`(?:st|nd|rd|th|er|ère|re|ste|de|e|è?me|to|ro|do|a|\.?[ºª°]|\.|-?[йя])?`;
const BETWEEN = String.raw`[\s/,.-]*(?:of the year|of|del?|des|do|da|af|av)?[\s/,.-]*(?:FY|CY)?\s*`;
const OF_YEAR = String.raw`(?:${BETWEEN}['’]?(\d{4}|\d{2})年?(?:\s*[гр]\.?)?)`;
const OF_FULL_YEAR = String.raw`(?:${BETWEEN}(\d{4}))`;

/** Reads “2024-Q1”, “Q1 2024”, “1Q24”, “1. Quartal 2024”, “KW 5/2024”, “2024M01”, “2024年第1季度” and their like. */
function countedReaders({ words, letters, most, make }: Counted): { withYear: Reader; without: Reader } {
	const number = (digits: string | undefined, word: string | undefined): number | null => {
		const which = digits === undefined ? numberOf(word!) : Number(digits);
		return which !== undefined && which >= 1 && which <= most ? which : null;
	};
	const made = (year: string, digits: string | undefined, word: string | undefined) => {
		const which = number(digits, word);
		return which === null ? null : make(fullYear(year), which);
	};
	const forms = (unit: string, ofYear: string): Form[] => [
		form(String.raw`(?:FY)?(\d{4})年?[\s/.-]*第?${unit}[\s.-]*${WHICH}`, (year, digits, word) =>
			made(year!, digits, word),
		),
		form(String.raw`(\d{4})年?[\s/.-]*第?${WHICH}${ENDING}[\s.-]*${unit}`, (year, digits, word) =>
			made(year!, digits, word),
		),
		form(String.raw`${unit}[\s.-]*${WHICH}${ENDING}${ofYear}`, (digits, word, year) =>
			made(year!, digits, word),
		),
		form(String.raw`${WHICH}${ENDING}[\s.-]*${unit}${ofYear}`, (digits, word, year) =>
			made(year!, digits, word),
		),
	];
	const unit = `(?:${words})\\.?`;
	return {
		withYear: anyOf(...forms(unit, OF_YEAR), ...(letters ? forms(`(?:${letters})\\.?`, OF_FULL_YEAR) : [])),
		without: anyOf(
			form(String.raw`第?${unit}[\s.-]*${WHICH}`, (digits, word) => number(digits, word)),
			form(String.raw`第?${WHICH}${ENDING}[\s.-]*${unit}`, (digits, word) => number(digits, word)),
		),
	};
}
const COUNTED_READERS = COUNTED.map((counted) => ({ ...counted, ...countedReaders(counted) }));
const COUNTED_NAME = { month: 'months', quarter: 'quarters', 'half-year': 'half-years', week: 'weeks' };

const ROMAN = ['i', 'ii', 'iii', 'iv', 'v', 'vi', 'vii', 'viii', 'ix', 'x', 'xi', 'xii'];
/** 1 … 12 of a Roman numeral, up to the most that there are; undefined beyond. */
const roman = (numeral: string | undefined, most: number): number | undefined => {
	const which = ROMAN.indexOf(numeral!.toLowerCase()) + 1;
	return which >= 1 && which <= most ? which : undefined;
};
const NUMERAL = '([ivx]{1,4})';
/** “III kw. 2024”, “2024 II”, “QIV/2024”. */
const romanQuarters = anyOf(
	form(String.raw`q?\s?${NUMERAL}\s*(?:kw|kv|кв|qu?|t|trim)?\.?[\s/.-]+(\d{4})`, (numeral, year) => {
		const which = roman(numeral, 4);
		return which === undefined ? null : Number(year) * 4 + which - 1;
	}),
	form(String.raw`(\d{4})[\s/.-]+q?${NUMERAL}`, (year, numeral) => {
		const which = roman(numeral, 4);
		return which === undefined ? null : Number(year) * 4 + which - 1;
	}),
);
const romanMonths = anyOf(
	form(String.raw`${NUMERAL}[\s/.-]+(\d{4})`, (numeral, year) => month(year!, roman(numeral, 12))),
	form(String.raw`(\d{4})[\s/.-]+${NUMERAL}`, (year, numeral) => month(year!, roman(numeral, 12))),
);

/** Dates, with or without a time, as hours; the column says later whether any time matters. */
export const isoTimes = anyOf(
	timed(ISO_DATE, (year, _, which, date) => day(year!, which, date!)),
	timed(String.raw`((?:19|20)\d\d)(\d\d)(\d\d)`, (year, which, date) => day(year!, which, date!)),
	form(String.raw`(\d{4})-?W(\d\d)-?([1-7])`, (year, which, date) => {
		const found = week(year!, which!);
		return found === null ? null : (firstDay('week', found)! + Number(date) - 1) * 24;
	}),
);
export const NUMBERED: Record<DateOrder, Reader> = {
	'day-first': anyOf(timed(NUMBERED_DATE, (date, _, which, year) => day(year!, which, date!))),
	'month-first': anyOf(timed(NUMBERED_DATE, (which, _, date, year) => day(year!, which, date!))),
};

/** Months that are run through: “Jan–Mar”. */
const RUN = String.raw`${NAME}\s*(?:[-–—/]|to|bis|à|au|al?)\s*${NAME}`;

/** The share of missing places between the least and the most of whole numbers. */
export function gapsOf(ordinals: readonly number[]): number {
	const distinct = new Set(ordinals);
	if (distinct.size < 2) return 0;
	let least = Infinity;
	let most = -Infinity;
	for (const ordinal of distinct) {
		if (ordinal < least) least = ordinal;
		if (ordinal > most) most = ordinal;
	}
	return 1 - distinct.size / (most - least + 1);
}

/** Whether periods leave few holes: numbers that could be days as well as years are years only so. */
const inARow = (ordinals: readonly Ordinal[]): boolean =>
	new Set(ordinals).size > 2 && gapsOf(ordinals) < 0.4;
/** Whether they are of more than one week: a single number behind a year is rather its month. */
const moreThanOne = (ordinals: readonly Ordinal[]): boolean => new Set(ordinals).size > 1;

/** Spellings with the names of months, as one reader of names has them. */
export interface Spellings {
	namedDates: Reader;
	dated: readonly Spelling[];
	yearless: readonly YearlessSpelling[];
}
function spellingsWith(monthOf: MonthOf): Spellings {
	/** Which part of a year, of so many months, is run through from one month to another; null where none is. */
	const runThrough = (months: number, from: string, to: string): number | null => {
		const [first, last] = [monthOf(from), monthOf(to)];
		if (first === undefined || last !== first + months - 1 || last % months !== 0) return null;
		return last / months;
	};
	/** Quarters and half-years by their months, with their year and without. */
	const runs = (['quarter', 'half-year'] as const).map((frequency) => {
		const count = CALENDAR_SEASON_LENGTH[frequency];
		return {
			frequency,
			name: `${frequency === 'quarter' ? 'quarters' : 'half-years'} by their months`,
			length: count,
			withYear: anyOf(
				form(String.raw`${RUN}(?:\s+de)?[\s/'’-]*(\d{4}|\d{2})`, (from, to, year) => {
					const part = runThrough(12 / count, from!, to!);
					return part === null ? null : fullYear(year!) * count + part - 1;
				}),
			),
			without: anyOf(form(RUN, (from, to) => runThrough(12 / count, from!, to!))),
		};
	});
	const named = anyOf(
		timed(String.raw`(\d{1,2})${ENDING}[\s-]*${NAME}[\s,-]*(\d{4}|\d{2})`, (date, name, year) =>
			day(year!, monthOf(name!), date!),
		),
		timed(String.raw`${NAME}\s*(\d{1,2})(?:st|nd|rd|th)?,\s*(\d{4})`, (name, date, year) =>
			day(year!, monthOf(name!), date!),
		),
	);
	return {
		namedDates: (cell) => named(cell.replace(/ (?:del?|of) /giu, ' ')),
		dated: [
			{ frequency: 'quarter', name: 'quarters', read: romanQuarters },
			...COUNTED_READERS.map(({ frequency, withYear }) => ({
				frequency,
				name: COUNTED_NAME[frequency],
				read: withYear,
			})),
			{
				frequency: 'month',
				name: 'months',
				read: anyOf(
					[/^(\d{4})[-/. ](\d{1,2})$/, (year, which) => month(year!, which)],
					[/^(\d{4})[年년]\s*(\d{1,2})[月월]$/, (year, which) => month(year!, which)],
					[/^((?:19|20)\d\d)(\d\d)$/, (year, which) => month(year!, which)],
					[/^(\d{1,2})[-/. ](\d{4})$/, (which, year) => month(year!, which)],
					[/^(\d{1,2})[-/](\d{2})$/, (which, year) => month(year!, which)],
					form(String.raw`${NAME}(?:\s+del?)?[\s/'’-]*(\d{4}|\d{2})\.?(?:\s*[гр]\.?)?`, (name, year) =>
						month(year!, monthOf(name!)),
					),
					form(String.raw`(\d{4})\.?(?:\s*(?:m|gada)\.?\s)?[\s/.-]*${NAME}`, (year, name) =>
						month(year!, monthOf(name!)),
					),
				),
			},
			{ frequency: 'month', name: 'months by Roman numerals', read: romanMonths },
			{
				frequency: 'month',
				name: 'months behind their year',
				read: anyOf(form(String.raw`(\d{2})[\s-]${NAME}`, (year, name) => month(year!, monthOf(name!)))),
				fits: inARow,
			},
			{
				frequency: 'week',
				name: 'weeks',
				read: anyOf([/^(\d{4})[-/.](\d{2})$/, (year, which) => week(year!, which!)]),
				fits: moreThanOne,
			},
			...runs.map(({ frequency, name, withYear }) => ({ frequency, name, read: withYear })),
		],
		yearless: [
			{
				frequency: 'month',
				name: 'months without a year',
				length: 12,
				read: (cell) => monthOf(cell) ?? null,
			},
			...COUNTED_READERS.map(({ frequency, without }) => ({
				frequency,
				name: `${COUNTED_NAME[frequency]} without a year`,
				length: CALENDAR_SEASON_LENGTH[frequency],
				read: without,
			})),
			...runs.map(({ frequency, name, length, without }) => ({
				frequency,
				name: `${name}, without a year`,
				length,
				read: without,
			})),
			{
				frequency: 'week',
				name: 'weeks without a year',
				length: 52,
				read: anyOf(
					form(String.raw`(?:v|vk|u|wk)\.?\s*(\d{1,2})`, (which) =>
						Number(which) <= 53 ? Number(which) : null,
					),
				),
				fits: inARow,
			},
		],
	};
}

/** Spellings that are known by a cell alone. */
export const COMMON = spellingsWith(monthOf);
const OTHERS = new Map<MonthOf, Spellings>();

/** Spellings that some cells could have, the common ones first, then each language that has the names in the first of them. */
export function* spellingsOf(cells: readonly string[]): Generator<Spellings> {
	yield COMMON;
	const words = cells[0]?.match(/\p{L}{2,}/gu)?.filter((word) => !/^(?:del?|г|р)$/iu.test(word)) ?? [];
	if (words.length !== 1) return;
	for (const of of monthsOf(words)) {
		let spellings = OTHERS.get(of);
		if (!spellings) OTHERS.set(of, (spellings = spellingsWith(of)));
		yield spellings;
	}
}

/** Business years: 2023/24, FY 2023-2024. */
export const fiscal = anyOf([
	/^(?:(?:FY|GJ|WJ|season|saison|exercice|ejercicio)\s*)?(\d{4})\s*[/–-]\s*(\d{2}|\d{4})$/i,
	(from, to) => (Number(to!.slice(-2)) === (Number(from) + 1) % 100 ? Number(from) : null),
]);
export const years = anyOf(
	[
		/^(?:FY|CY|GJ|year|jahr|année|annee|año|exercice|ejercicio)?[\s-]*'?((?:18|19|20|21)\d\d)[年년]?$/i,
		(year) => Number(year),
	],
	[/^FY[\s-]*'?(\d\d)$/i, (year) => fullYear(year!)],
);
/** Plain numbers and counted periods. */
export const steps = anyOf(
	[/^(-?\d{1,9})$/, Number],
	[/^(?:period|periode|periodo|p|t|no\.?|nr\.?|#)\s*=?\s*(\d{1,6})$/i, Number],
);
/** Spreadsheets count days from the end of 1899; these are 1954 to 2064, beyond which numbers are rather codes. */
const SERIAL = { least: 20_000, most: 60_000, offset: 25_569 };
export const serials: Reader = (cell) => {
	const value = /^\d{5}(?:\.0+)?$/.test(cell) ? Number(cell) : NaN;
	return value >= SERIAL.least && value <= SERIAL.most ? value - SERIAL.offset : null;
};
