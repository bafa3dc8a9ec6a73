import type { Choices, Duplicates } from './choices';
import { BOUNDS, written } from '$core/bounds';
import { type Frequency, periodWord } from '$core/series/frequency';
import { describePeriod, type Ordinal, parsePeriod, PERIOD_EXAMPLE, PeriodError } from '$core/series/period';
import type { Entry } from './gather';
import type { TitlePeriod } from './titles';
import {
	readCycles,
	readPeriods,
	readSeasons,
	readSerials,
	type PeriodColumn,
	seasonInCycle,
	type SeasonColumn,
} from './periods';
import type { DateOrder } from './spellings';
import { shorten } from './figures';
import { areOrderLines, frequencyOfLines } from './orders';

/** The periods of entries. */
export interface Timed {
	problem: string | null;
	frequency: Frequency;
	/** Frequencies that the table allows; null where it says nothing of time. */
	possible: readonly Frequency[] | null;
	/** How many of `possible` are as likely as the first. */
	likely: number;
	seasonLength: number | null;
	/** One an entry; null for an entry without a period and without a figure. */
	ordinals: (Ordinal | null)[];
	/** How the periods are spelt, for a reader. */
	spelling: string;
	dateOrder: { used: DateOrder; open: boolean } | null;
	/** Days of dates; null where the periods are none. */
	days: (number | null)[] | null;
	/** Whether an item has several lines on one day, as orders have. */
	orderLines: boolean;
	/** The season of the calendar that a cycle begins with; 1 where that is its first. */
	begins: number;
	/** Whether the first period is asked for. */
	asksFirst: boolean;
	/** Remarks about what was taken for granted. */
	remarks: { code: string; text: string; options?: { label: string; choices: Choices }[] }[];
}

const NOTHING: Timed = {
	problem: null,
	frequency: 'step',
	possible: null,
	likely: 1,
	seasonLength: null,
	ordinals: [],
	spelling: '',
	dateOrder: null,
	days: null,
	orderLines: false,
	begins: 1,
	asksFirst: false,
	remarks: [],
};

/**
 * Finds the period of every entry. `items` gives each entry's item by number, for tables that count within items.
 * @param said what stands over the seasons, which says what plain numbers count; the season that a cycle begins with, where an
 * earlier part of the table showed it; and the period in its title
 */
export function findPeriods(
	entries: readonly Entry[],
	items: Int32Array,
	choices: Choices,
	said: { seasons: string; begins?: number; title?: TitlePeriod | null },
): Timed {
	const dated = entries.some(({ day }) => day !== '') ? withDates(entries) : null;
	if (dated) return byPeriod(dated, items, choices);
	if (entries.some(({ cycle, season }) => cycle !== '' && season !== ''))
		return byCycle(entries, choices, said);
	if (entries.some(({ period, season, cycle }) => period || season || cycle))
		return byPeriod(entries, items, choices);
	return inOrder(entries, items, choices, said.title ?? null);
}

function inOrder(
	entries: readonly Entry[],
	items: Int32Array,
	choices: Choices,
	title: TitlePeriod | null,
): Timed {
	// Items with one figure each are of one period, which has to be said somewhere.
	const single = entries.length > 1 && new Set(items).size === entries.length;
	if (single && title && !choices.first && (choices.frequency ?? title.frequency) === title.frequency)
		return {
			...NOTHING,
			frequency: title.frequency,
			possible: [title.frequency],
			ordinals: entries.map(() => title.ordinal),
			spelling: 'by the title',
			remarks: [
				{
					code: 'title',
					text: `Row ${title.row + 1} says “${shorten(title.text)}”, no column does: all figures are of that ${periodWord(title.frequency, 1)}.`,
					options: [{ label: 'they are of another period', choices: { frequency: 'step' } }],
				},
			],
		};
	const frequency = choices.frequency ?? (choices.first || single ? 'month' : 'step');
	const first = firstPeriod(
		frequency,
		choices.first,
		single ? 'these figures belong' : 'the first figure belongs',
	);
	const timed: Timed = { ...NOTHING, frequency, asksFirst: true, spelling: 'in the order of the table' };
	if ('problem' in first) return { ...timed, problem: first.problem };
	const count = new Map<number, number>();
	const ordinals = entries.map((_, i) => {
		const place = count.get(items[i]!) ?? 0;
		count.set(items[i]!, place + 1);
		return first.ordinal + place;
	});
	return { ...timed, ordinals };
}

function firstPeriod(
	frequency: Frequency,
	written: string | undefined,
	what: string,
): { ordinal: Ordinal } | { problem: string } {
	const text = written?.trim() || (frequency === 'step' ? '1' : '');
	if (text === '') {
		return {
			problem: `Say which ${frequency} ${what} to, written like ${PERIOD_EXAMPLE[frequency]}.`,
		};
	}
	try {
		return { ordinal: parsePeriod(frequency, text) };
	} catch (error) {
		if (!(error instanceof PeriodError)) throw error;
		return { problem: `First period: ${error.message}.` };
	}
}

function byPeriod(entries: readonly Entry[], items: Int32Array, choices: Choices): Timed {
	const label = (entry: Entry) => entry.period || entry.season || entry.cycle;
	const used = entries.filter((entry) => label(entry) !== '');
	const labels = used.map(label);
	const lost = entries.find((entry) => label(entry) === '' && /\d/.test(entry.cell));
	if (lost) {
		return {
			...NOTHING,
			problem: `Row ${written(lost.row + 1)} has the figure “${shorten(lost.cell)}” and no period. Write its period, or leave the row out.`,
		};
	}
	const read = (taken: Choices) => readSerials(labels, taken, true) ?? readPeriods(labels, taken);
	let column = read(choices);
	if (!column) return { ...NOTHING, problem: unknownPeriod(used, labels) };
	let at = 0;
	const daysOf = column.days;
	const days = daysOf ? entries.map((entry) => (label(entry) === '' ? null : daysOf[at++]!)) : null;
	const orderLines = days !== null && areOrderLines(days, items, column.possible[0]!);
	if (orderLines && choices.frequency === undefined)
		column = read({ ...choices, frequency: frequencyOfLines(days.filter((day) => day !== null)) })!;
	const timed: Timed = {
		...NOTHING,
		frequency: column.frequency,
		possible: column.possible,
		likely: column.apart,
		spelling: column.spelling,
		dateOrder: column.dateOrder ?? null,
		days,
		orderLines,
	};
	if (column.yearless) return withoutYears(entries, items, used, column, choices, timed);
	at = 0;
	const { ordinals: places } = column;
	const ordinals = entries.map((entry) => (label(entry) === '' ? null : places[at++]!));
	return { ...timed, ordinals };
}

function unknownPeriod(used: readonly Entry[], labels: readonly string[]): string {
	let usual: string | null = null;
	let at = -1;
	let other = -1;
	// The first that is none is named; else the first that is spelt otherwise.
	for (let i = 0; i < labels.length && at < 0; i++) {
		const spelling = readPeriods([labels[i]!])?.spelling ?? null;
		if (spelling === null) at = i;
		else if (usual === null) usual = spelling;
		else if (other < 0 && spelling !== usual) other = i;
	}
	const odd = at >= 0 ? at : other;
	const entry = used[Math.max(0, odd)]!;
	const text = labels[Math.max(0, odd)] ?? '';
	const why =
		at >= 0 ? 'is not a known period' : `is not written like the periods before it (${usual ?? 'none'})`;
	return `“${shorten(text)}” in row ${written(entry.row + 1)} ${why}. Write all periods in one way, such as 2024-03, 2024-Q1, 2024-W05 or 2024-03-01, or leave that column out and say the first period.`;
}

/** Jan, Feb, …, Dec, Jan: each item's labels count on, and one period has to be given. */
function withoutYears(
	entries: readonly Entry[],
	items: Int32Array,
	used: readonly Entry[],
	column: PeriodColumn,
	choices: Choices,
	timed: Timed,
): Timed {
	const { frequency } = column;
	const length = column.yearless!;
	const asking: Timed = { ...timed, asksFirst: true, seasonLength: frequency === 'step' ? length : null };
	const first = firstPeriod(
		frequency,
		choices.first,
		`“${shorten(used[0]!.period || used[0]!.season)}”, the first of the table, belongs`,
	);
	if ('problem' in first) {
		return {
			...asking,
			problem: `The ${periodWord(column.possible[0]!, 2)} carry no year. ${first.problem}`,
		};
	}
	const state = new Map<number, { season: number; ordinal: number }>();
	let at = 0;
	const ordinals = entries.map((entry, i) => {
		if (!(entry.period || entry.season || entry.cycle)) return null;
		const season = column.ordinals[at++]!;
		const before = state.get(items[i]!);
		const ahead = before ? (((season - before.season) % length) + length) % length || length : 0;
		const ordinal = before ? before.ordinal + ahead : first.ordinal;
		state.set(items[i]!, { season, ordinal });
		return ordinal;
	});
	return { ...asking, ordinals };
}

/** Entries with their year, month and day of the month as one date; null where they are none. */
function withDates(entries: readonly Entry[]): Entry[] | null {
	const months = readSeasons([...new Set(entries.map(({ season }) => season))], 'month');
	if (months?.frequency !== 'month') return null;
	const of = new Map(
		[...new Set(entries.map(({ season }) => season))].map((label, i) => [label, months.seasons[i]!]),
	);
	return entries.map((entry) => {
		const [year] = /\d{4}/.exec(entry.cycle) ?? [];
		const two = (value: string | number) => String(value).padStart(2, '0');
		const period = year ? `${year}-${two(of.get(entry.season)!)}-${two(entry.day)}` : '';
		return { ...entry, period, cycle: '', season: '' };
	});
}

function byCycle(
	entries: readonly Entry[],
	choices: Choices,
	said: { seasons: string; begins?: number },
): Timed {
	const used = entries.filter(({ cycle, season }) => cycle !== '' && season !== '');
	const seasonLabels = [...new Set(used.map(({ season }) => season))];
	const cycleLabels = [...new Set(used.map(({ cycle }) => cycle))];
	const seasons = readSeasons(seasonLabels, said.seasons);
	if (!seasons) {
		const odd = seasonLabels.find((each) => readSeasons([each]) === null) ?? seasonLabels[0]!;
		return {
			...NOTHING,
			problem: `“${shorten(odd)}” is not a known season: write Jan to Dec, Q1 to Q4, H1 and H2, Winter to Autumn, Week 1 to 53, Mon to Sun or plain numbers from 1.`,
		};
	}
	const cycles = readCycles(cycleLabels, seasons.frequency);
	if (!cycles) {
		const odd = cycleLabels.find((each) => readCycles([each], seasons.frequency) === null) ?? cycleLabels[0]!;
		return {
			...NOTHING,
			problem: `“${shorten(odd)}” is not a known year. Write years like 2024 or FY2024.`,
		};
	}
	const seasonOf = new Map(seasonLabels.map((each, i) => [each, seasons.seasons[i]!]));
	const cycleOf = new Map(cycleLabels.map((each, i) => [each, cycles.ordinals[i]!]));
	const calendar = cycles.calendar && seasons.frequency !== 'step';
	const possible: Frequency[] = calendar ? [seasons.frequency as Frequency, 'step'] : ['step'];
	const frequency =
		choices.frequency && possible.includes(choices.frequency) ? choices.frequency : possible[0]!;
	const turn =
		said.begins ??
		(calendar ? turnOf(used, seasons, (entry) => seasonOf.get(entry.season)!, cycles.business) : 1);
	const begins = seasons.frequency === 'month' ? (choices.firstMonth ?? turn) : turn;
	const firstCycle = cycles.ordinals.reduce((least, each) => Math.min(least, each), Infinity);
	const remarks: Timed['remarks'] = [];
	if (seasons.open) {
		remarks.push({
			code: 'seasons',
			text: `The numbers ${seasonLabels[0]} to ${seasonLabels.at(-1)} were taken as ${seasons.frequency === 'step' ? `${seasons.length} seasons of a cycle` : periodWord(seasons.frequency, 2)}.`,
		});
	}
	const named = cycleLabels.some((label) => /\d[/–-]\d/.test(label))
		? 'begins'
		: (choices.yearNamed ?? 'begins');
	/** A season in the calendar: one before the business year's first is of the next calendar year. */
	const turned = (season: number, cycle: number) => {
		if (seasons.words) return { season: ((season - turn + 4) % 4) + 1, cycle };
		if (seasons.frequency === 'quarter' && choices.firstMonth !== undefined) {
			const at = season - 1 + Math.floor((choices.firstMonth - 1) / 3);
			return { season: (at % 4) + 1, cycle: cycle + Math.floor(at / 4) - (named === 'ends' ? 1 : 0) };
		}
		if (begins === 1) return { season, cycle };
		return { season, cycle: cycle + (season < begins ? 1 : 0) - (named === 'ends' ? 1 : 0) };
	};
	const years = { labels: cycleLabels, first: cycles.ordinals[0]!, business: cycles.business };
	remarks.push(...yearRemarks({ seasons, begins, named, ...years }, choices));
	let absent: Entry | null = null;
	const ordinals = entries.map((entry) => {
		if (entry.cycle === '' || entry.season === '') return null;
		const { season, cycle } = turned(seasonOf.get(entry.season)!, cycleOf.get(entry.cycle)!);
		if (frequency === 'step') return (cycle - firstCycle) * seasons.length + season;
		const ordinal = seasonInCycle(seasons.frequency, cycle, season);
		// A column for week 53, blank in the years that have none.
		if (ordinal === null && /\d/.test(entry.cell)) absent ??= entry;
		return ordinal;
	});
	const lost = absent as Entry | null;
	if (frequency === 'step') {
		remarks.push({
			code: 'counted',
			text: `The periods are counted on from 1, ${cycleLabels[0]} ${seasonLabels[0]}, with ${seasons.length} to a cycle.`,
		});
	}
	return {
		...NOTHING,
		problem: lost
			? `${lost.cycle} has no ${lost.season}, yet row ${written(lost.row + 1)} has the figure “${shorten(lost.cell)}” there.`
			: null,
		frequency,
		possible,
		begins: turn,
		likely: seasons.open ? 2 : 1,
		seasonLength: frequency === 'step' ? seasons.length : null,
		ordinals,
		spelling: `${calendar ? periodWord(seasons.frequency as Frequency, 2) : 'seasons'} of ${seasons.frequency === 'hour' ? 'days' : seasons.frequency === 'day' || seasons.frequency === 'weekday' ? 'weeks' : 'years'}`,
		remarks,
	};
}

/**
 * The season that a cycle begins with: the first one for which the table's order goes one way within each cycle.
 * Calendar years begin with their first where that is possible.
 */
function turnOf(
	used: readonly Entry[],
	{ frequency, length, words }: SeasonColumn,
	seasonOf: (entry: Entry) => number,
	business: boolean,
): number {
	if (frequency !== 'month' && !words) return 1;
	const groups = new Map<string, number[]>();
	for (const entry of used) {
		const key = `${entry.item}\n${entry.cycle}`;
		const group = groups.get(key);
		if (group) group.push(seasonOf(entry));
		else groups.set(key, [seasonOf(entry)]);
	}
	const goesOneWay = (begins: number) => {
		let ways = 3;
		for (const seasons of groups.values()) {
			for (let i = 1; i < seasons.length && ways > 0; i++) {
				const step =
					((seasons[i]! - begins + length) % length) - ((seasons[i - 1]! - begins + length) % length);
				if (step > 0) ways &= 1;
				else if (step < 0) ways &= 2;
			}
		}
		return ways > 0;
	};
	const first = seasonOf(used[0]!);
	const usual = words ? [1, 2, 3, 4] : business ? [first, 4, 7, 10, 1] : [1, first, 4, 7, 10];
	return [...usual, ...Array.from({ length }, (_, i) => i + 1)].find(goesOneWay) ?? 1;
}

const MONTH_NAMES = Array.from({ length: 12 }, (_, i) => describePeriod('month', i).split(' ')[0]!);

/** What was taken for granted of the years, and what else they could be. */
function yearRemarks(
	years: {
		seasons: SeasonColumn;
		begins: number;
		labels: readonly string[];
		/** The year that the first of the labels says. */
		first: Ordinal;
		business: boolean;
		named: 'begins' | 'ends';
	},
	choices: Choices,
): Timed['remarks'] {
	const { seasons, begins, labels, business, named } = years;
	const first = shorten(labels[0]!);
	/** What the first year is, from its first month to its last. */
	const runs = (month: number, year: number) => {
		const from = year * 12 + month - 1;
		return `${describePeriod('month', from)} to ${describePeriod('month', from + 11)}`;
	};
	const from = years.first - (named === 'ends' ? 1 : 0);
	if (seasons.words)
		return [
			{
				code: 'season-words',
				text: `The seasons of the year were taken as its quarters, in the order of the table.`,
				options: [{ label: 'count them on as plain periods', choices: { frequency: 'step' } }],
			},
		];
	const twice = labels.some((label) => /\d[/–-]\d/.test(label));
	if (seasons.frequency === 'month' && begins !== 1)
		return [
			{
				code: 'business-year',
				text: `The years begin with ${MONTH_NAMES[begins - 1]}: ${first} was taken for ${runs(begins, from)}.`,
				options: [
					...(twice
						? []
						: [
								named === 'begins'
									? {
											label: `it is ${runs(begins, years.first - 1)}`,
											choices: { yearNamed: 'ends' as const },
										}
									: {
											label: `it is ${runs(begins, years.first)}`,
											choices: { yearNamed: 'begins' as const },
										},
							]),
					...(choices.firstMonth === undefined
						? [{ label: `it is ${runs(1, years.first)}`, choices: { firstMonth: 1 } }]
						: []),
				],
			},
		];
	if (seasons.frequency === 'quarter' && business)
		return [
			{
				code: 'business-year',
				text: `${first} was taken to begin in ${MONTH_NAMES[(choices.firstMonth ?? 1) - 1]}.`,
				options: [1, 4, 7, 10]
					.filter((month) => month !== (choices.firstMonth ?? 1))
					.map((month) => ({
						label: `it begins in ${MONTH_NAMES[month - 1]}`,
						choices: { firstMonth: month },
					})),
			},
		];
	return [];
}

/** One item's figures laid out period by period. */
export interface Aligned {
	first: Ordinal;
	values: (number | null)[];
	problem: string | null;
	/** Periods that stand in the table more than once. */
	doubled: number;
	/** Periods between the first and the last that are not in the table. */
	absent: number;
	/** The first such period. */
	firstAbsent: Ordinal | null;
	sorted: boolean;
}

/** Lays figures by their periods: in order of time, those of one period put together, gaps as missing. */
export function alignFigures(
	ordinals: readonly Ordinal[],
	figures: readonly (number | null)[],
	duplicates: Duplicates,
): Aligned {
	const byPeriod = new Map<Ordinal, { value: number | null; count: number; times: number }>();
	let sorted = true;
	let first = Infinity;
	let last = -Infinity;
	for (const [i, ordinal] of ordinals.entries()) {
		if (ordinal < last) sorted = false;
		first = Math.min(first, ordinal);
		last = Math.max(last, ordinal);
		const value = figures[i]!;
		const there = byPeriod.get(ordinal);
		if (!there) byPeriod.set(ordinal, { value, count: value === null ? 0 : 1, times: 1 });
		else {
			there.times++;
			if (value === null) continue;
			there.value = there.value === null || duplicates === 'last' ? value : there.value + value;
			there.count++;
		}
	}
	const blank = { doubled: 0, absent: 0, firstAbsent: null, sorted };
	if (ordinals.length === 0) return { first: 1, values: [], problem: null, ...blank };
	const length = last - first + 1;
	if (length > BOUNDS.periods) return { first, values: [], problem: tooMany(length), ...blank };
	let doubled = 0;
	let absent = 0;
	let firstAbsent: Ordinal | null = null;
	const values = Array.from({ length }, (_, i) => {
		const there = byPeriod.get(first + i);
		if (!there) {
			absent++;
			firstAbsent ??= first + i;
			return null;
		}
		if (there.times > 1) doubled++;
		return duplicates === 'mean' && there.value !== null ? there.value / there.count : there.value;
	});
	return { first, values, problem: null, doubled, absent, firstAbsent, sorted };
}

export const tooMany = (periods: number): string =>
	`These are ${written(periods)} periods; an item holds at most ${written(BOUNDS.periods)}. Bring in the latest of them, or sum them to longer periods first.`;

/** “Mar 2024 is not in the table”, “7 months are not in the table, the first of them Mar 2024”. */
export function absentText(
	frequency: Frequency,
	{ absent, firstAbsent }: Pick<Aligned, 'absent' | 'firstAbsent'>,
): string {
	const which = describePeriod(frequency, firstAbsent!);
	return absent === 1
		? `${which} is not in the table and will be missing.`
		: `${absent} ${periodWord(frequency, absent)} are not in the table and will be missing, the first of them ${which}.`;
}
