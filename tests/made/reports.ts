import type { Frequency } from '../../src/core/series/frequency';
import { firstDay, formatPeriod, type Ordinal, parsePeriod } from '../../src/core/series/period';
import type { Known } from '../../src/lib/reading/evidence';
import { Draw, type MadeTable } from './tables';

/**
 * Tables as programs export them and as people keep them, by kind. Nothing here is shared with the reader: names of months and weekdays
 * come from `Intl`, layouts from a small grammar of reports.
 */
export const REPORT_KINDS = ['printed', 'quantities', 'counting', 'languages', 'codes', 'single'] as const;
export type ReportKind = (typeof REPORT_KINDS)[number];

const LOCALES =
	'en de fr es it pt nl sv da nb fi pl cs sk hu ro bg hr sl et lv lt el tr uk ru ca eu ga id vi'.split(' ');

const WORDS = [
	'Rear rack',
	'Front fork',
	'Chain ring',
	'Brake pad',
	'Saddle',
	'Mudguard',
	'Inner tube',
	'Pedal',
	'Spoke',
	'Bell',
];

interface Item {
	code: string;
	name: string;
	unit: string;
}

type Figures = Map<Ordinal, number>;

/** Items with a figure for each of some months, and what a table of them is made with. */
interface Made {
	draw: Draw;
	items: Item[];
	frequency: Frequency;
	periods: Ordinal[];
	of: Map<Item, Figures>;
	write(value: number): string;
	/** A period as a heading writes it. */
	name(period: Ordinal): string;
	how: string[];
}

const monthNames = (locale: string, style: 'long' | 'short', standing: boolean): string[] => {
	const format = new Intl.DateTimeFormat(locale, {
		month: style,
		timeZone: 'UTC',
		...(standing ? {} : { day: 'numeric' }),
	});
	const names = Array.from(
		{ length: 12 },
		(_, i) => format.formatToParts(Date.UTC(2024, i, 15)).find(({ type }) => type === 'month')!.value,
	);
	// Where a language has no short name it has a number.
	return /^\d/.test(names[0]!) ? monthNames(locale, 'long', true) : names;
};

const two = (value: number) => String(value).padStart(2, '0');
const yearOf = (o: Ordinal) => Math.floor(o / 12);
const monthOf = (o: Ordinal) => o % 12;
const ENGLISH = monthNames('en', 'short', true);

/** Ways to write a month that English tables have. */
const MONTH_STYLES: readonly ((o: Ordinal) => string)[] = [
	(o) => `${ENGLISH[monthOf(o)]!} ${yearOf(o)}`,
	(o) => `${ENGLISH[monthOf(o)]!}-${two(yearOf(o) % 100)}`,
	(o) => `${yearOf(o)}-${two(monthOf(o) + 1)}`,
	(o) => `${two(monthOf(o) + 1)}/${yearOf(o)}`,
];

function begin(draw: Draw, { most = 8, least = 1, months = [6, 26] as [number, number] } = {}): Made {
	const start = draw.int(2, 80) * 10;
	const family = draw.pick(['KB-', 'R', '70-', 'A-', 'HX']);
	const items = Array.from({ length: draw.int(least, most) }, (_, i) => ({
		code: `${family}${start + i * draw.int(2, 2)}`,
		name: `${WORDS[(i + start) % WORDS.length]!}${i >= WORDS.length ? ` ${i}` : ''}`,
		unit: draw.pick(['pcs', 'pairs', 'sets']),
	}));
	const first = parsePeriod('month', `${draw.int(2021, 2024)}-${two(draw.int(1, 12))}`);
	const periods = Array.from({ length: draw.int(...months) }, (_, i) => first + i);
	const level = draw.pick([4, 30, 300, 2500]);
	const of = new Map(
		items.map((item) => [
			item,
			new Map(periods.map((period) => [period, Math.round(level * (0.4 + 1.2 * draw.uniform()))])),
		]),
	);
	const grouped = level > 999 && draw.chance(0.5);
	return {
		draw,
		items,
		frequency: 'month',
		periods,
		of,
		write: grouped ? (value) => value.toLocaleString('en-US') : String,
		name: draw.pick(MONTH_STYLES),
		how: [],
	};
}

const figureOf = ({ of }: Made, item: Item, period: Ordinal) => of.get(item)!.get(period)!;
const rowOf = (made: Made, item: Item) =>
	made.periods.map((period) => made.write(figureOf(made, item, period)));

/** A table made of rows, with what it says. */
function told(
	seed: number,
	made: Made,
	rows: readonly (readonly string[])[],
	{
		separator = '',
		names = true,
		said = {},
	}: { separator?: string; names?: boolean; said?: MadeTable['said'] } = {},
): MadeTable & { names: Map<string, string> | null } {
	const mark = separator || made.draw.pick([';', '\t', ';', ',']);
	const width = Math.max(...rows.map((row) => row.length));
	const padded = made.draw.chance(0.5);
	const quote = (cell: string) =>
		cell.includes(mark) || cell.includes('"') ? `"${cell.replaceAll('"', '""')}"` : cell;
	const text = rows
		.map((row) => [...row, ...Array<string>(padded ? width - row.length : 0).fill('')].map(quote).join(mark))
		.join('\n');
	return {
		seed,
		text,
		how: made.how.join(', '),
		frequency: made.frequency,
		items: new Map(made.items.map((item) => [item.code, made.of.get(item)!])),
		labels: null,
		said,
		broken: false,
		names: names ? new Map(made.items.map(({ code, name }) => [code, name])) : null,
	};
}

const sum = (list: readonly number[]) => list.reduce((a, b) => a + b, 0);

/** Reports made to be printed: pages, carried sums, groups, a block of what was asked on top. */
function printed(seed: number, draw: Draw): MadeTable {
	const made = begin(draw, { least: 8, most: 30, months: [4, 13] });
	const { periods, items, write } = made;
	const withName = draw.chance(0.6);
	const lead = withName ? 2 : 1;
	const total = draw.chance(0.5);
	const head = [
		draw.pick(['Item', 'Article no.', 'Part', 'SKU']),
		...(withName ? [draw.pick(['Description', 'Name'])] : []),
		...periods.map(made.name),
		...(total ? ['Total'] : []),
	];
	const line = (label: string[], figures: readonly number[]) => [
		...label,
		...Array<string>(lead - label.length).fill(''),
		...figures.map(write),
		...(total ? [write(sum(figures))] : []),
	];
	const own = (item: Item) => periods.map((period) => figureOf(made, item, period));
	const rows: string[][] = [];
	const title = draw.pick(['Demand by item and month', 'Monthly issues', 'Sales statistics']);
	const run = `${two(draw.int(1, 28))}.${two(draw.int(1, 12))}.2026`;
	if (draw.chance(0.7)) {
		made.how.push('parameters on top');
		rows.push(['Kestrel Bay Cycle Supply']);
		const block = [
			['Depot:', draw.pick(['Quay', 'Loft'])],
			['From:', made.name(periods[0]!)],
			['To:', made.name(periods.at(-1)!)],
			['Printed by:', 'stores'],
			['Currency:', 'none'],
			['Sort:', 'item'],
		];
		for (const row of block.slice(0, draw.int(1, 6))) rows.push(draw.chance(0.8) ? row : [row.join(' ')]);
		if (draw.chance(0.8)) rows.push([]);
	}
	const perPage = draw.int(5, 12);
	const pages = Math.ceil(items.length / perPage);
	const pageWords = draw.pick<(page: number) => string[]>([
		(page) => [`Page ${page} of ${pages}`],
		(page) => [title, '', `Page ${page}`],
		(page) => [run, '', '', `Page: ${page}/${pages}`],
		(page) => [`${title}   ${run}   Page ${page}`],
		(page) => [`Seite ${page} von ${pages}`],
		(page) => [`- ${page} -`],
	]);
	const foot = draw.chance(0.4);
	const carried = draw.chance(0.4);
	const forms = draw.pick([
		['Carried forward', 'Brought forward'],
		['Sum carried forward', 'Sum brought forward'],
		['Übertrag', 'Übertrag'],
		['À reporter', 'Report'],
	]);
	const grouped = !carried && draw.chance(0.5);
	const groups = ['Brakes', 'Wheels', 'Frames'];
	made.how.push(
		`${pages} pages`,
		foot ? 'foot' : 'head',
		...(carried ? ['carried'] : []),
		...(grouped ? ['groups'] : []),
	);
	let shownGroup = '';
	const perGroup = Math.ceil(items.length / groups.length);
	const indent = draw.chance(0.5) ? '  ' : '';
	// Sums stand with the name of the group, or below it.
	const outlined = grouped && pages === 1 && draw.chance(0.5);
	const subtotal = !outlined && draw.chance(0.6);
	const sumOf = (some: readonly Item[]) =>
		periods.map((period) => sum(some.map((item) => figureOf(made, item, period))));
	for (let page = 0; page < pages; page++) {
		const here = items.slice(page * perPage, (page + 1) * perPage);
		if (!foot) rows.push(pageWords(page + 1));
		if (draw.chance(0.5) && page > 0) rows.push([]);
		rows.push(head);
		if (carried && page > 0) rows.push(line([forms[1]!], sumOf(items.slice(0, page * perPage))));
		for (const [i, item] of here.entries()) {
			const at = page * perPage + i;
			const group = groups[Math.floor(at / perGroup)]!;
			if (grouped && group !== shownGroup) {
				if (shownGroup && subtotal)
					rows.push(line([`Total ${shownGroup}`], sumOf(items.slice(at - perGroup, at))));
				const own = items.slice(at, at + perGroup);
				rows.push(outlined ? line([group], sumOf(own)) : [group]);
				shownGroup = group;
			}
			rows.push(line([(grouped ? indent : '') + item.code, ...(withName ? [item.name] : [])], own(item)));
		}
		if (carried && page < pages - 1)
			rows.push(line([forms[0]!], sumOf(items.slice(0, (page + 1) * perPage))));
		if (foot) rows.push(pageWords(page + 1));
	}
	if (draw.chance(0.5))
		rows.push(
			line(
				[draw.pick(['Grand total', 'Total', 'Razem', 'Totaal', 'Итого', 'Összesen', 'Celkem', 'Toplam'])],
				sumOf(items),
			),
		);
	if (draw.chance(0.3))
		rows.push([], [draw.pick(['End of report', '*** end of list ***', `Printed ${run}`])]);
	return told(seed, made, rows, { names: withName });
}

const OTHER: readonly (readonly [string, string])[] = [
	['Actual', 'Budget'],
	['Actual', 'Plan'],
	['Actual', 'Forecast'],
	['Sales', 'Returns'],
	['Qty', 'Value'],
	['Pieces', 'Revenue'],
	['Ist', 'Soll'],
	['Sold', 'Returned'],
	['Demand', 'Stock'],
];

/** Several quantities side by side or by turns, of which one is demand. */
function quantities(seed: number, draw: Draw): MadeTable {
	const form = draw.pick([
		'under',
		'rows',
		'stock rows',
		'long',
		'stock long',
		'derived',
		'blocks',
		'named',
		'one below the other',
		'movements',
		'nameless',
	] as const);
	const single = form === 'long' || form === 'stock long' ? draw.chance(0.4) : false;
	const made = begin(draw, { least: single ? 1 : 2, most: single ? 1 : 6, months: [5, 18] });
	const { periods, items, write } = made;
	const pair = draw.pick(OTHER);
	const [demand, second] = pair;
	const price = draw.int(3, 40) + 0.5;
	const beside = (value: number): string => {
		switch (second) {
			case 'Returns':
			case 'Returned':
				return draw.chance(0.5) ? String(-Math.round(0.05 * value)) : String(Math.round(0.05 * value));
			case 'Value':
			case 'Revenue':
				return (value * price).toFixed(2);
			default:
				return String(Math.round(value * (0.8 + 0.4 * draw.uniform())));
		}
	};
	made.how.push(form, `${demand}/${second}`);
	const isFirst = draw.chance(0.75);
	const order = <T>(a: T, b: T): T[] => (isFirst ? [a, b] : [b, a]);
	const stockOf = (item: Item) => {
		let opening = draw.int(200, 900) + sum([...made.of.get(item)!.values()]);
		return periods.map((period) => {
			const issued = figureOf(made, item, period);
			const received = draw.int(0, 2) * 50;
			const closing = opening + received - issued;
			const row = [opening, received, issued, closing];
			opening = closing;
			return row;
		});
	};
	const STOCK = draw.pick([
		['Opening', 'Received', 'Issued', 'Closing'],
		['Opening stock', 'Receipts', 'Issues', 'Closing stock'],
		['Anfangsbestand', 'Zugang', 'Abgang', 'Endbestand'],
		['Open', 'In', 'Out', 'Close'],
	]);
	switch (form) {
		case 'under': {
			const merged = draw.chance(0.5);
			const rows = [
				['Item', ...periods.flatMap((period) => [made.name(period), merged ? '' : made.name(period)])],
				['', ...periods.flatMap(() => order(demand, second))],
				...items.map((item) => [
					item.code,
					...periods.flatMap((period) =>
						order(write(figureOf(made, item, period)), beside(figureOf(made, item, period))),
					),
				]),
			];
			return told(seed, made, rows, { names: false });
		}
		case 'blocks': {
			const rows = [
				[
					'Item',
					...order(demand, second).flatMap((word) =>
						periods.map((_, i) => (i === 0 || !draw.chance(1) ? word : '')),
					),
				],
				['', ...periods.map(made.name), ...periods.map(made.name)],
				...items.map((item) => [
					item.code,
					...order(
						rowOf(made, item),
						periods.map((period) => beside(figureOf(made, item, period))),
					).flat(),
				]),
			];
			return told(seed, made, rows, { names: false });
		}
		case 'rows': {
			const once = draw.chance(0.5);
			const rows = [
				['Item', '', ...periods.map(made.name)],
				...items.flatMap((item) =>
					order(
						[demand, ...rowOf(made, item)],
						[second, ...periods.map((period) => beside(figureOf(made, item, period)))],
					).map(([word, ...figures], i) => [once && i > 0 ? '' : item.code, word!, ...figures]),
				),
			];
			return told(seed, made, rows, { names: false });
		}
		case 'stock rows': {
			const once = draw.chance(0.5);
			const rows = [
				['Item', draw.pick(['', 'Quantity', 'Movement']), ...periods.map(made.name)],
				...items.flatMap((item) => {
					const stock = stockOf(item);
					return STOCK.map((word, k) => [
						once && k > 0 ? '' : item.code,
						word,
						...stock.map((row) => String(row[k])),
					]);
				}),
			];
			return told(seed, made, rows, { names: false });
		}
		case 'long': {
			const rows = [
				[...(single ? [] : ['Item']), 'Month', ...order(demand, second)],
				...items.flatMap((item) =>
					periods.map((period) => [
						...(single ? [] : [item.code]),
						made.name(period),
						...order(write(figureOf(made, item, period)), beside(figureOf(made, item, period))),
					]),
				),
			];
			return told(seed, made, rows, { names: false });
		}
		case 'stock long': {
			const rows = [
				[...(single ? [] : ['Item']), 'Month', ...STOCK],
				...items.flatMap((item) => {
					const stock = stockOf(item);
					return periods.map((period, i) => [
						...(single ? [] : [item.code]),
						made.name(period),
						...stock[i]!.map(String),
					]);
				}),
			];
			return told(seed, made, rows, { names: false });
		}
		case 'named': {
			// “Qty 2024-01”, “2024-01 Value”.
			const behind = draw.chance(0.5);
			const mark = draw.pick([' ', '_', ' ']);
			const head = (word: string, period: Ordinal) =>
				behind ? `${made.name(period)}${mark}${word}` : `${word}${mark}${made.name(period)}`;
			const turns = draw.chance(0.5);
			const rows = [
				[
					'Item',
					...(turns
						? periods.flatMap((period) => order(head(demand, period), head(second, period)))
						: order(demand, second).flatMap((word) => periods.map((period) => head(word, period)))),
				],
				...items.map((item) => {
					const own = rowOf(made, item);
					const others = periods.map((period) => beside(figureOf(made, item, period)));
					return [
						item.code,
						...(turns ? periods.flatMap((_, i) => order(own[i]!, others[i]!)) : order(own, others).flat()),
					];
				}),
			];
			return told(seed, made, rows, { names: false });
		}
		case 'one below the other': {
			const block = (word: string, figures: (item: Item) => string[], titled: boolean) => [
				...(titled ? [[word]] : []),
				['Item', ...periods.map(made.name)],
				...items.map((item) => [item.code, ...figures(item)]),
			];
			const other = (item: Item) => periods.map((period) => beside(figureOf(made, item, period)));
			const rows = [
				...block(demand, (item) => rowOf(made, item), draw.chance(0.6)),
				[],
				...block(second, other, true),
			];
			return told(seed, made, rows, { names: false });
		}
		case 'movements': {
			// What leaves the store is negative.
			const [out, into] = draw.pick([
				['issue', 'receipt'],
				['Issued', 'Received'],
				['Abgang', 'Zugang'],
				['sale', 'return'],
			]);
			const rows = [
				['Item', 'Month', 'Movement', 'Qty'],
				...items.flatMap((item) =>
					periods.flatMap((period) => [
						[item.code, made.name(period), out!, `-${figureOf(made, item, period)}`],
						...(draw.chance(0.3) ? [[item.code, made.name(period), into!, String(draw.int(10, 400))]] : []),
					]),
				),
			];
			return told(seed, made, rows, { names: false });
		}
		case 'nameless': {
			// Nothing but the arithmetic says which is which.
			const running = draw.chance(0.5);
			const rows = [
				['Item', 'Month', ...(running ? ['A', 'B'] : ['A', 'B', 'C', 'D'])],
				...items.flatMap((item) => {
					const stock = stockOf(item);
					let sumSoFar = 0;
					return periods.map((period, i) => {
						sumSoFar += figureOf(made, item, period);
						const cells = running ? [figureOf(made, item, period), sumSoFar] : stock[i]!;
						return [item.code, made.name(period), ...cells.map(String)];
					});
				}),
			];
			return told(seed, made, rows, { names: false });
		}
		case 'derived': {
			const extra = draw.pick(['share', 'running', 'change', 'both'] as const);
			made.how.push(extra);
			const rows = [
				[
					'Item',
					'Month',
					draw.pick(['Qty', 'Sold', 'Demand']),
					...(extra === 'share' ? ['Share of year %'] : []),
					...(extra === 'running' || extra === 'both'
						? [draw.pick(['YTD', 'Cumulative', 'Year to date', 'Running total'])]
						: []),
					...(extra === 'change' || extra === 'both'
						? [draw.pick(['Change %', 'vs last year', '+/- %'])]
						: []),
				],
				...items.flatMap((item) => {
					const total = sum([...made.of.get(item)!.values()]);
					let running = 0;
					return periods.map((period) => {
						const value = figureOf(made, item, period);
						running = monthOf(period) === 0 ? value : running + value;
						return [
							item.code,
							made.name(period),
							write(value),
							...(extra === 'share' ? [((100 * value) / total).toFixed(1)] : []),
							...(extra === 'running' || extra === 'both' ? [String(running)] : []),
							...(extra === 'change' || extra === 'both' ? [(40 * (draw.uniform() - 0.5)).toFixed(1)] : []),
						];
					});
				}),
			];
			return told(seed, made, rows, { names: false });
		}
	}
}

/** Columns that only count, and columns that say where or of what region beside quantities. */
function counting(seed: number, draw: Draw): MadeTable {
	const made = begin(draw, { least: 2, most: 9, months: [4, 15] });
	const { periods, items, write } = made;
	const headed = draw.pick(['', '', '#', 'No.', 'Row', 'Line', 'Unnamed: 0', 'index', 'Pos.']);
	const from = draw.pick([0, 1, 1]);
	const constant = draw.pick<[string, string] | null>([
		null,
		['Depot', 'Quay'],
		['Region', 'North'],
		['Company', '100'],
		['Year', ''],
		['Plant', '4100'],
	]);
	const extra = constant && constant[0] !== 'Year' ? constant : null;
	const place = draw.chance(0.5);
	const long = draw.chance(0.5);
	const region = draw.chance(0.4) ? (i: number) => ['North', 'South', 'West'][i % 3]! : null;
	made.how.push(
		`counted “${headed}” from ${from}`,
		...(extra ? [`constant ${extra[0]}`] : []),
		long ? 'long' : 'wide',
		...(region ? ['region'] : []),
	);
	const itemWord = draw.pick(['Item', 'item', 'SKU', 'Article']);
	const before = (n: number, item: Item, i: number) => [
		String(n),
		...(extra && place ? [extra[1]] : []),
		...(region ? [region(i)] : []),
		item.code,
		...(extra && !place ? [extra[1]] : []),
	];
	const head = [
		headed,
		...(extra && place ? [extra[0]] : []),
		...(region ? ['Region'] : []),
		itemWord,
		...(extra && !place ? [extra[0]] : []),
	];
	let n = from;
	const rows = long
		? [
				[...head, 'Month', draw.pick(['Qty', 'Demand', 'Sold'])],
				...items.flatMap((item, i) =>
					periods.map((period) => [
						...before(n++, item, i),
						made.name(period),
						write(figureOf(made, item, period)),
					]),
				),
			]
		: [
				[...head, ...periods.map(made.name)],
				...items.map((item, i) => [...before(n++, item, i), ...rowOf(made, item)]),
			];
	return told(seed, made, rows, { names: false });
}

const ROMAN = ['I', 'II', 'III', 'IV'];

/** Months, quarters, weeks and weekdays as thirty languages and many programs write them. */
function languages(seed: number, draw: Draw): MadeTable {
	const made = begin(draw, { least: 1, most: 4, months: [8, 26] });
	const form = draw.pick(['months', 'months', 'months', 'quarters', 'weeks', 'codes'] as const);
	const locale = draw.pick(LOCALES);
	if (form === 'months') {
		const names = monthNames(locale, draw.pick(['long', 'short']), draw.chance(0.5));
		const cased = draw.pick<(word: string) => string>([
			(word) => word,
			(word) => word,
			(word) => word.toLocaleUpperCase(locale),
			(word) => word[0]!.toLocaleUpperCase(locale) + word.slice(1),
			(word) => word.replace(/\.$/, ''),
		]);
		const style = draw.pick<(o: Ordinal, word: string) => string>([
			(o, word) => `${word} ${yearOf(o)}`,
			(o, word) => `${word} ${yearOf(o)}`,
			(o, word) => `${word}-${two(yearOf(o) % 100)}`,
			(o, word) => `${two(yearOf(o) % 100)}-${word}`,
			(o, word) => `${yearOf(o)} ${word}`,
			(o, word) => `${word}/${yearOf(o)}`,
			(o, word) => `${word} '${two(yearOf(o) % 100)}`,
		]);
		made.how.push(locale, style(made.periods[0]!, cased(names[monthOf(made.periods[0]!)]!)));
		made.name = (o) => style(o, cased(names[monthOf(o)]!));
	} else if (form === 'codes') {
		const style = draw.pick<(o: Ordinal) => string>([
			(o) => `${yearOf(o)}M${two(monthOf(o) + 1)}`,
			(o) => `${yearOf(o)}P${two(monthOf(o) + 1)}`,
			(o) => `P${two(monthOf(o) + 1)}.${yearOf(o)}`,
			(o) => `P${two(monthOf(o) + 1)} ${yearOf(o)}`,
			(o) => `${yearOf(o)}/${two(monthOf(o) + 1)}`,
			(o) => `M${two(monthOf(o) + 1)}-${yearOf(o)}`,
			(o) => `${yearOf(o)}m${monthOf(o) + 1}`,
			(o) => `${two(yearOf(o) % 100)}-${ENGLISH[monthOf(o)]!}`,
			(o) => `${ENGLISH[monthOf(o)]!}${yearOf(o)}`,
			(o) => `${ENGLISH[monthOf(o)]!.toUpperCase()}${two(yearOf(o) % 100)}`,
			(o) => `01-${ENGLISH[monthOf(o)]!}-${yearOf(o)}`,
		]);
		made.name = style;
		made.how.push(style(made.periods[0]!));
	} else {
		const frequency = form === 'quarters' ? 'quarter' : 'week';
		const first =
			frequency === 'quarter'
				? parsePeriod('quarter', `${draw.int(2019, 2023)}-Q${draw.int(1, 4)}`)
				: parsePeriod('week', `${draw.int(2021, 2024)}-W${two(draw.int(1, 40))}`);
		made.frequency = frequency;
		made.periods = Array.from({ length: draw.int(6, frequency === 'week' ? 40 : 18) }, (_, i) => first + i);
		made.of = new Map(
			made.items.map((item) => [item, new Map(made.periods.map((period) => [period, draw.int(20, 700)]))]),
		);
		const quarter = (o: Ordinal): [number, number] => [Math.floor(o / 4), (o % 4) + 1];
		const week = (o: Ordinal): [number, number] => {
			const [year, which] = String(formatPeriod('week', o)).split('-W').map(Number);
			return [year!, which!];
		};
		const styles: ((o: Ordinal) => string)[] =
			frequency === 'quarter'
				? [
						(o) => `${ROMAN[quarter(o)[1] - 1]!} ${quarter(o)[0]}`,
						(o) => `${ROMAN[quarter(o)[1] - 1]!} kw. ${quarter(o)[0]}`,
						(o) => `${quarter(o)[1]}° trimestre ${quarter(o)[0]}`,
						(o) => `T${quarter(o)[1]} ${quarter(o)[0]}`,
						(o) => `T${quarter(o)[1]}-${two(quarter(o)[0] % 100)}`,
						(o) => `${quarter(o)[0]} T${quarter(o)[1]}`,
						(o) => `${quarter(o)[1]}T${two(quarter(o)[0] % 100)}`,
						(o) => `${quarter(o)[1]}º trim. ${quarter(o)[0]}`,
						(o) => `K${quarter(o)[1]} ${quarter(o)[0]}`,
						(o) => `${quarter(o)[1]}. kvartal ${quarter(o)[0]}`,
						(o) => `${quarter(o)[1]}e kwartaal ${quarter(o)[0]}`,
						(o) => `Q${ROMAN[quarter(o)[1] - 1]!}/${quarter(o)[0]}`,
						(o) => `${quarter(o)[0]}Q${quarter(o)[1]}`,
					]
				: [
						(o) => `W${two(week(o)[1])}/${week(o)[0]}`,
						(o) => `${week(o)[0]}W${two(week(o)[1])}`,
						(o) => `${week(o)[0]}-${two(week(o)[1])}`,
						(o) => `Week ${week(o)[1]}, ${week(o)[0]}`,
						(o) => `wk${two(week(o)[1])} ${week(o)[0]}`,
						(o) => `v${week(o)[1]} ${week(o)[0]}`,
						(o) => `uke ${week(o)[1]} ${week(o)[0]}`,
						(o) => `vecka ${week(o)[1]} ${week(o)[0]}`,
						(o) => `tydz. ${week(o)[1]}/${week(o)[0]}`,
						(o) => `sett. ${week(o)[1]} ${week(o)[0]}`,
						(o) => `KW${two(week(o)[1])}-${two(week(o)[0] % 100)}`,
						(o) => `S${two(week(o)[1])} ${week(o)[0]}`,
						(o) => `${week(o)[0]}-W${two(week(o)[1])}-1`,
						(o) => `CW ${week(o)[1]}.${week(o)[0]}`,
					];
		made.name = draw.pick(styles);
		made.how.push(made.name(made.periods[0]!));
	}
	const { periods, items } = made;
	const down = draw.chance(0.5);
	const corner = draw.pick(['', 'Item', 'Period']);
	const rows = down
		? [
				[corner, ...items.map(({ code }) => code)],
				...periods.map((period) => [
					made.name(period),
					...items.map((item) => made.write(figureOf(made, item, period))),
				]),
			]
		: [[corner, ...periods.map(made.name)], ...items.map((item) => [item.code, ...rowOf(made, item)])];
	// 2024-05 … 2024-30 are weeks only where they go beyond twelve.
	const said: MadeTable['said'] =
		made.frequency === 'week' && /^\d{4}-\d\d$/.test(made.name(periods[0]!)) ? { frequency: 'week' } : {};
	return told(seed, made, rows, { names: false, said });
}

/** Codes and names in one cell, and codes that look like weeks, dates or years. */
function codes(seed: number, draw: Draw): MadeTable {
	const made = begin(draw, { least: 3, most: 9, months: [5, 15] });
	const { items, periods } = made;
	if (draw.chance(0.45)) {
		const alike = draw.pick<(i: number) => string>([
			(i) => `W${i + 1}`,
			(i) => `Q${i + 1}`,
			(i) => String(2001 + i),
			(i) => `10${two(i + 1)}`,
			(i) => `T${i + 1}`,
			(i) => `M${i + 1}`,
			(i) => `${two(i + 1)}-2024`,
			(i) => `H${i + 1}`,
			(i) => `P${i + 1}`,
			(i) => `KW${i + 11}`,
		]);
		for (const [i, item] of items.entries()) item.code = alike(i);
		made.how.push(`codes like ${items[0]!.code}`);
		const form = draw.pick(['wide', 'down', 'long'] as const);
		made.how.push(form);
		const word = draw.pick(['Item', 'Part', 'SKU', 'Article']);
		const rows =
			form === 'wide'
				? [[word, ...periods.map(made.name)], ...items.map((item) => [item.code, ...rowOf(made, item)])]
				: form === 'down'
					? [
							['Month', ...items.map(({ code }) => code)],
							...periods.map((period) => [
								made.name(period),
								...items.map((item) => made.write(figureOf(made, item, period))),
							]),
						]
					: [
							[word, 'Month', 'Qty'],
							...items.flatMap((item) =>
								periods.map((period) => [
									item.code,
									made.name(period),
									made.write(figureOf(made, item, period)),
								]),
							),
						];
		return told(seed, made, rows, { names: false });
	}
	const joined = draw.pick<(item: Item) => string>([
		({ code, name }) => `${code} ${name}`,
		({ code, name }) => `${code} – ${name}`,
		({ code, name }) => `${code} - ${name}`,
		({ code, name }) => `${code}: ${name}`,
		({ code, name }) => `${name} (${code})`,
		({ code, name }) => `[${code}] ${name}`,
		({ code, name }) => `${name} [${code}]`,
		({ code, name }) => `${code} | ${name}`,
	]);
	made.how.push(joined(items[0]!));
	const form = draw.pick(['wide', 'down', 'long'] as const);
	const mark = joined(items[0]!).includes('|') ? ';' : '';
	const rows =
		form === 'wide'
			? [['Item', ...periods.map(made.name)], ...items.map((item) => [joined(item), ...rowOf(made, item)])]
			: form === 'down'
				? [
						['Month', ...items.map(joined)],
						...periods.map((period) => [
							made.name(period),
							...items.map((item) => made.write(figureOf(made, item, period))),
						]),
					]
				: [
						['Item', 'Month', 'Qty'],
						...items.flatMap((item) =>
							periods.map((period) => [
								joined(item),
								made.name(period),
								made.write(figureOf(made, item, period)),
							]),
						),
					];
	return told(seed, made, rows, { names: true, separator: mark });
}

/** One new period for many items. */
function single(seed: number, draw: Draw): MadeTable {
	const made = begin(draw, { least: 3, most: 30, months: [1, 1] });
	const { items, periods, write } = made;
	const [period] = periods as [Ordinal];
	const withName = draw.chance(0.4);
	const form = draw.pick([
		'head',
		'date column',
		'title',
		'across',
		'said',
		'label row',
		'last day',
	] as const);
	made.how.push(form);
	const row = (item: Item, ...more: string[]) => [item.code, ...(withName ? [item.name] : []), ...more];
	const head = [draw.pick(['Item', 'SKU', 'Article']), ...(withName ? ['Name'] : [])];
	const word = draw.pick(['Qty', 'Demand', 'Sold', 'Pieces']);
	const lastDay = String(formatPeriod('day', firstDay('month', period + 1)! - 1));
	const own = (item: Item) => write(figureOf(made, item, period));
	switch (form) {
		case 'head':
			return told(seed, made, [[...head, made.name(period)], ...items.map((item) => row(item, own(item)))], {
				names: withName,
			});
		case 'date column':
			return told(
				seed,
				made,
				[[...head, 'Month', word], ...items.map((item) => row(item, made.name(period), own(item)))],
				{ names: withName },
			);
		case 'last day':
			return told(
				seed,
				made,
				[[...head, 'Date', word], ...items.map((item) => row(item, lastDay, own(item)))],
				{ names: withName, said: { frequency: 'month' } },
			);
		case 'title':
			return told(
				seed,
				made,
				[
					[
						draw.pick([
							`Demand ${made.name(period)}`,
							made.name(period),
							`Month: ${made.name(period)}`,
							`Period ${made.name(period)}`,
						]),
					],
					...(draw.chance(0.5) ? [[]] : []),
					[...head, word],
					...items.map((item) => row(item, own(item))),
				],
				{ names: withName },
			);
		case 'across':
			return told(
				seed,
				made,
				[
					['', ...items.map(({ code }) => code)],
					[made.name(period), ...items.map(own)],
				],
				{ names: false },
			);
		case 'label row':
			return told(
				seed,
				made,
				[
					[...head.map(() => ''), made.name(period)],
					[...head, word],
					...items.map((item) => row(item, own(item))),
				],
				{ names: withName },
			);
		case 'said':
			return told(seed, made, [[...head, word], ...items.map((item) => row(item, own(item)))], {
				names: withName,
				said: { frequency: 'month', first: String(formatPeriod('month', period)) },
			});
	}
}

const MAKERS: Record<ReportKind, (seed: number, draw: Draw) => MadeTable> = {
	printed,
	quantities,
	counting,
	languages,
	codes,
	single,
};

/** A table of a kind, as a seed makes it. */
export const makeReport = (kind: ReportKind, seed: number): MadeTable =>
	MAKERS[kind](seed, new Draw(50_000_000 + 1_000_000 * REPORT_KINDS.indexOf(kind) + seed));

/** A table of which a workspace knows something, with what that is. */
export function makeKnown(seed: number): MadeTable & { known: Known } {
	const draw = new Draw(60_000_000 + seed);
	const made = begin(draw, { least: 3, most: 9, months: [6, 20] });
	const { items, periods } = made;
	const [first] = periods as [Ordinal];
	const known = (): Known['items'] =>
		items.map(({ code, name }) => ({ code, name, frequency: 'month', newest: first - 1 }));
	switch (draw.pick(['codes', 'strange', 'make'] as const)) {
		case 'codes': {
			// Codes that could be periods, and nothing else that is one.
			const alike = draw.pick<(i: number) => string>([
				(i) => `W${i + 1}`,
				(i) => `Q${(i % 4) + 1}`,
				(i) => String(2011 + i),
				(i) => `KW${i + 20}`,
				(i) => `Week ${i + 30}`,
			]);
			made.items = items.slice(0, 4);
			for (const [i, item] of made.items.entries()) item.code = alike(i);
			made.how.push(`codes like ${made.items[0]!.code}`);
			const rows = [
				made.items.map(({ code }) => code),
				...periods.map((period) => made.items.map((item) => made.write(figureOf(made, item, period)))),
			];
			const said = { frequency: 'month' as const, first: String(formatPeriod('month', first)) };
			const table = told(seed, made, rows, { names: false, said });
			return { ...table, known: { items: known().slice(0, 4), last: null } };
		}
		case 'strange': {
			// A heading that says nothing, above codes of digits.
			const start = draw.int(1000, 8000);
			for (const [i, item] of items.entries()) item.code = String(start + i * 7);
			made.how.push('codes of digits');
			const rows = [
				[draw.pick(['Key', 'Ident', 'Mat', 'Z01']), ...periods.map(made.name)],
				...items.map((item) => [item.code, ...rowOf(made, item)]),
			];
			return { ...told(seed, made, rows, { names: false }), known: { items: known(), last: null } };
		}
		case 'make': {
			// What was chosen by hand for the last one holds: another quantity than its name would say.
			const [taken, other] = draw.pick([
				['Ordered', 'Delivered'],
				['Gross', 'Net'],
				['Budget', 'Actual'],
			]);
			made.how.push(`${taken} beside ${other}`);
			const rows = [
				[
					'Item',
					'Month',
					...draw.pick([
						[taken!, other!],
						[other!, taken!],
					]),
				],
				...items.flatMap((item) =>
					periods.map((period) => {
						const own = made.write(figureOf(made, item, period));
						const beside = made.write(figureOf(made, item, period) + draw.int(1, 90));
						return [item.code, made.name(period), own, beside];
					}),
				),
			];
			const isFirst = rows[0]![2] === taken;
			const laid = rows.map((row, r) => (r === 0 || isFirst ? row : [row[0]!, row[1]!, row[3]!, row[2]!]));
			return {
				...told(seed, made, laid, { names: false }),
				known: {
					items: [],
					last: {
						fileName: 'last.csv',
						at: '2026-11-03T08:00:00Z',
						choices: { quantity: taken! },
						doubts: [],
						heads: laid[0]!.map((head) => head.toLowerCase()),
						columns: [],
						frequency: 'month',
						decimal: '.',
					},
				},
			};
		}
	}
}
