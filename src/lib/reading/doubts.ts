import { BOUNDS } from '$core/bounds';
import { type Frequency, periodWord } from '$core/series/frequency';
import type { Timed } from './align';
import type { Choices, ColumnRole, RowRole } from './choices';
import { ENCODING_NAME, ENCODINGS } from './decode';
import { type Figures, howUnits, partedName, type Units } from './entries';
import type { CodeForm } from './codes';
import { isFigure, shorten } from './figures';
import type { Doubt, Reading } from './reading';
import type { Layout } from './layout';
import { sameQuantity } from './quantities';
import type { Roles } from './roles';
import type { Opened, Source } from './source';
import { DELIMITER_NAME, filledDown, widthOf } from './table';

/** What a reading says of itself: what was decided where a table could be read in another way. */

/** Doubts in the order in which they matter: what changes every figure before what was left out. */
const WEIGHTS = [
	'quantity',
	'items',
	'order-lines',
	'ends',
	'returns',
	'cancelled',
	'units',
	'joined',
	'codes',
	'sign',
	'date-order',
	'decimal-mark',
	'business-year',
	'season-words',
	'layout',
];
const LIGHT = ['labels', 'unsorted', 'gaps', 'totals', 'ignored-columns', 'ignored-rows'];
export function weightOf({ code }: Doubt): number {
	const heavy = WEIGHTS.indexOf(code);
	if (heavy >= 0) return heavy;
	return WEIGHTS.length + LIGHT.indexOf(code) + 1;
}

/** Roles beyond which another layout is not offered: it would not be understood. */
const SAID_ROLES = 12;
const ROLE_WORDS: Readonly<Record<ColumnRole | RowRole, string>> = {
	item: 'names items',
	name: 'describes items',
	unit: 'has units',
	label: 'labels items',
	period: 'has the periods',
	cycle: 'has the years',
	season: 'has the seasons',
	day: 'has the days',
	status: 'says which lines were cancelled',
	quantity: 'says what the figures are of',
	figure: 'has figures',
	figures: 'has figures',
	total: 'has totals',
	ignored: 'left out',
};
export function doubtEncoding(
	source: Extract<Source, { kind: 'text' }>,
	choices: Choices,
	doubts: Doubt[],
): void {
	if (!source.encodingGuessed) return;
	doubts.push({
		code: 'encoding',
		text: `The bytes are not UTF-8; they were read as ${ENCODING_NAME['windows-1252']}. If accents look wrong, choose another encoding.`,
		options: ENCODINGS.filter((each) => each !== (choices.encoding ?? source.encoding)).map((encoding) => ({
			label: ENCODING_NAME[encoding],
			choices: { encoding },
		})),
	});
}

export function doubtSeparator(text: string, opened: Opened, choices: Choices, doubts: Doubt[]): void {
	if (choices.delimiter !== undefined || opened.delimiter === null || widthOf(opened.rows) < 2) return;
	const others = opened.otherDelimiters.filter((other) => other !== ',' || !/\d,\d/.test(text));
	if (others.length === 0) return;
	doubts.push({
		code: 'separator',
		text: `Cut at each ${DELIMITER_NAME[opened.delimiter]}; the text holds ${others.map((other) => DELIMITER_NAME[other]).join(' and ')} too.`,
		options: others.map((delimiter) => ({
			label: `separator ${DELIMITER_NAME[delimiter]}`,
			choices: { delimiter },
		})),
	});
}

/** Percent signs, and words for no figure. */
export function doubtFigures({ percents, none }: Figures, choices: Choices, doubts: Doubt[]): void {
	if (percents > 0) {
		const share = choices.percent === 'share';
		doubts.push({
			code: 'percent',
			text: `${percents} ${percents === 1 ? 'figure carries' : 'figures carry'} a percent sign: 12 % was taken as ${share ? '0.12' : '12'}.`,
			options: [
				share
					? { label: 'take 12 % as 12', choices: { percent: 'whole' } }
					: { label: 'take 12 % as 0.12', choices: { percent: 'share' } },
			],
		});
	}
	if (none.size === 0) return;
	const cells = [...none.values()].reduce((a, b) => a + b, 0);
	const words = [...none.keys()].slice(0, 3).map((word) => `“${word}”`);
	const zero = choices.missing === 'zero';
	doubts.push({
		code: 'no-figure',
		text: `${words.join(' and ')} in ${cells} ${cells === 1 ? 'cell' : 'cells'} ${none.size === 1 ? 'was' : 'were'} taken as ${zero ? 'zero' : 'a missing figure'}.`,
		options: [
			zero
				? { label: 'the figure is missing', choices: { missing: 'gap' } }
				: { label: 'it is zero', choices: { missing: 'zero' } },
		],
	});
}

/** Items that are counted in several units. */
export function doubtUnits({ first, others }: Units, choices: Choices, doubts: Doubt[]): void {
	const [some] = others;
	if (!some) return;
	const [item, counts] = some;
	const usual = first.get(item)!;
	const [[unit, figures]] = [...counts] as [[string, number]];
	const of = item === '' ? '' : ` of ${shorten(item)}`;
	const more =
		others.size > 1
			? `, and so it is with ${others.size === 2 ? 'one more item' : `${others.size - 1} more`}`
			: '';
	const how = howUnits(item, choices);
	const became = {
		apart: `kept apart, as “${shorten(partedName(item, unit))}”`,
		leave: 'left out',
		same: 'counted alike',
	};
	const labels = { apart: 'keep them apart', leave: 'leave them out', same: 'they count the same' };
	doubts.push({
		code: 'units',
		text: `${figures} ${figures === 1 ? 'figure' : 'figures'}${of} ${figures === 1 ? 'is' : 'are'} in ${shorten(unit)} beside others in ${shorten(usual)}${more}: ${became[how]}.`,
		options: (['apart', 'leave', 'same'] as const)
			.filter((each) => each !== how)
			.map((each) => ({ label: labels[each], choices: { units: each } })),
	});
}

/** Items that are told by a column and a heading, or by two columns, together. */
export function doubtJoined(roles: Roles, example: string, doubts: Doubt[]): void {
	const columns = roles.columns.flatMap((role, c) => (role === 'item' ? [c] : []));
	const heading = roles.rows.indexOf('item');
	if (!example.includes(' · ') || (columns.length < 2 && heading < 0)) return;
	doubts.push({
		code: 'joined',
		text: `Two labels tell the items together: “${shorten(example)}”.`,
		options: [
			heading >= 0
				? { label: 'sum over the columns', choices: { rows: { [heading]: 'ignored' as const } } }
				: {
						label: 'the second only labels them',
						choices: { columns: { [columns[1]!]: 'label' as const } },
					},
		],
	});
}

/** Several quantities, of which one is taken. */
export function doubtQuantity(roles: Roles, doubts: Doubt[]): void {
	if (!roles.quantity) return;
	const { demand, labels } = roles.quantity;
	const others = labels.filter((label) => label !== '' && !sameQuantity(label, demand));
	const taken = demand === '' ? 'The block without a title' : `“${shorten(demand)}”`;
	if (others.length === 0) return;
	const c = roles.columns.indexOf('quantity');
	const r = roles.rows.indexOf('quantity');
	doubts.push({
		code: 'quantity',
		text: `${taken} is taken as demand; ${others
			.slice(0, 3)
			.map((label) => `“${shorten(label)}”`)
			.join(
				', ',
			)}${others.length > 3 ? ` and ${others.length - 3} more are` : others.length > 1 ? ' are' : ' is'} left out.`,
		options: [
			...others.slice(0, MOST_QUANTITIES).map((label) => ({
				label: `“${shorten(label)}” is the demand`,
				choices: { quantity: label.slice(0, BOUNDS.name) },
			})),
			{
				label: 'each is an item of its own',
				choices: c >= 0 ? { columns: { [c]: 'item' as const } } : { rows: { [r]: 'item' as const } },
			},
		],
	});
}
const MOST_QUANTITIES = 8;

/** Codes and names in one cell. @param example one of them */
export function doubtCodes(form: CodeForm | null, example: string, choices: Choices, doubts: Doubt[]): void {
	const parted = form?.(example);
	if (!parted) return;
	const whole = choices.codes === 'whole';
	doubts.push({
		code: 'codes',
		text: whole
			? `“${shorten(example)}” is taken whole, as a code.`
			: `“${shorten(example)}” is parted: code ${shorten(parted.code)}, name ${shorten(parted.name)}.`,
		options: [
			whole
				? { label: 'part code and name', choices: { codes: 'part' } }
				: { label: 'the whole is the code', choices: { codes: 'whole' } },
		],
	});
}

/** Lines that say that they were cancelled. */
export function doubtCancelled(
	count: number,
	{ columns }: Pick<Reading, 'columns'>,
	choices: Choices,
	doubts: Doubt[],
): void {
	if (!columns.includes('status')) return;
	const taken = choices.cancelled === 'take';
	if (count === 0 && !taken) return;
	doubts.push({
		code: 'cancelled',
		text: taken
			? 'Lines that say that they were cancelled are taken like the others.'
			: `${count} ${count === 1 ? 'line says that it was' : 'lines say that they were'} cancelled: left out.`,
		options: [
			taken
				? { label: 'leave them out', choices: { cancelled: 'leave' } }
				: { label: count === 1 ? 'take it' : 'take them', choices: { cancelled: 'take' } },
		],
	});
}

/** Labels of which an item has several. */
export function doubtLabels(
	labels: readonly string[],
	several: readonly ReadonlySet<string>[],
	doubts: Doubt[],
): void {
	const parts = several.flatMap((items, i) =>
		items.size === 0
			? []
			: [`${items.size === 1 ? 'one item has' : `${items.size} items have`} several for “${labels[i]}”`],
	);
	if (parts.length === 0) return;
	doubts.push({
		code: 'labels',
		text: `Of labels an item keeps the first: ${parts.join(', ')}.`,
		options: [],
	});
}

/** Readings that are nearly as likely, each with the roles that make it. */
export function doubtLayout(
	rows: readonly string[][],
	roles: Roles,
	near: Layout['near'],
	choices: Choices,
	doubts: Doubt[],
): void {
	const options = near.flatMap(({ roles: other, items, frequency }) => {
		const columns = other.columns.flatMap((role, c) =>
			role === roles.columns[c] ? [] : [[c, role] as const],
		);
		const lines = other.rows.flatMap((role, r) => (role === roles.rows[r] ? [] : [[r, role] as const]));
		if (columns.length + lines.length > SAID_ROLES || columns.length + lines.length === 0) return [];
		const name = columnNames(rows, headingOf(rows, roles));
		const words = [
			...columns.map(([c, role]) => `${name(c)} ${ROLE_WORDS[role]}`),
			...lines.map(([r, role]) => `row ${r + 1} ${ROLE_WORDS[role]}`),
		];
		const more = words.length > 2 ? ` and ${words.length - 2} more` : '';
		return [
			{
				label: `${describeLayout(other, frequency, items)}: ${words.slice(0, 2).join(', ')}${more}`,
				choices: {
					columns: { ...choices.columns, ...Object.fromEntries(columns) },
					rows: { ...choices.rows, ...Object.fromEntries(lines) },
				},
			},
		];
	});
	if (options.length === 0) return;
	doubts.push({
		code: 'layout',
		text: 'The table could be laid out in another way, which is nearly as likely.',
		options: options.slice(0, 3),
	});
}

/** The row above the figures that says what the columns hold; null where there is none. */
export function headingOf(rows: readonly string[][], roles: Roles): number | null {
	const above = roles.rows.indexOf('figures') - 1;
	return above >= 0 && rows[above]!.filter((cell) => cell !== '').length > 1 ? above : null;
}

/** “Columns 5 and 9 are the sum or the mean”. */
function isSum(what: string, places: readonly number[]): string {
	const numbers = places.map((place) => place + 1);
	const listed =
		numbers.length > 3
			? `${numbers.slice(0, 3).join(', ')} and ${numbers.length - 3} more`
			: numbers.join(' and ');
	return `${what}${places.length === 1 ? '' : 's'} ${listed} ${places.length === 1 ? 'is' : 'are'} the sum or the mean`;
}

export function doubtTotals(
	rows: readonly string[][],
	{ heading }: Pick<Reading, 'heading'>,
	roles: Roles,
	doubts: Doubt[],
): void {
	const { columns, rows: lines } = roles.bySum;
	if (columns.length > 0) {
		doubts.push({
			code: 'total-column',
			text: `${isSum('Column', columns)} of others in every row: left out as ${columns.length === 1 ? 'a total' : 'totals'}.`,
			options: [
				{
					label: columns.length === 1 ? 'it is an item' : 'they are items',
					choices: { columns: Object.fromEntries(columns.map((c) => [c, 'figure' as const])) },
				},
			],
		});
	}
	if (lines.length > 0) {
		doubts.push({
			code: 'total-row',
			text: `${isSum('Row', lines)} of others in every column: left out as ${lines.length === 1 ? 'a total' : 'totals'}.`,
			options: [
				{
					label: lines.length === 1 ? 'it holds figures' : 'they hold figures',
					choices: { rows: Object.fromEntries(lines.map((r) => [r, 'figures' as const])) },
				},
			],
		});
	}
	const labelled = roles.columns.filter((role) => role === 'total').length - columns.length;
	const labelledRows = roles.rows.filter((role) => role === 'total').length - lines.length;
	if (labelled + labelledRows > 0) {
		const parts = [
			labelled > 0 && `${labelled} ${labelled === 1 ? 'column' : 'columns'}`,
			labelledRows > 0 && `${labelledRows} ${labelledRows === 1 ? 'row' : 'rows'}`,
		].filter((part) => typeof part === 'string');
		const one = labelled + labelledRows === 1;
		doubts.push({
			code: 'totals',
			text: `${parts.join(' and ')} of totals or averages ${one ? 'is' : 'are'} left out, by ${one ? 'its label' : 'their labels'}.`,
			options: byLabel(roles),
		});
	}
	const remarks = roles.rows.filter(
		(role, r) => role === 'ignored' && r !== heading && rows[r]!.some((cell) => cell !== ''),
	).length;
	if (remarks > 0) {
		doubts.push({
			code: 'ignored-rows',
			text: `${remarks} ${remarks === 1 ? 'row holds' : 'rows hold'} a title, a heading or a remark and ${remarks === 1 ? 'is' : 'are'} left out.`,
			options: [],
		});
	}
	// Those of other quantities are said with these.
	const others = otherQuantities(rows, roles);
	const ignored = roles.columns.flatMap((role, c) =>
		role === 'ignored' && !others.includes(c) && rows.some((row) => (row[c] ?? '') !== '') ? [c] : [],
	);
	if (ignored.length === 0) return;
	const name = columnNames(rows, heading);
	doubts.push({
		code: 'ignored-columns',
		text: `${listed(ignored.slice(0, 5).map(name))}${ignored.length > 5 ? ` and ${ignored.length - 5} columns more` : ''} ${ignored.length === 1 ? 'is' : 'are'} left out.`,
		options: ignored
			.slice(0, 3)
			.map((c) =>
				holdsFigures(rows, c)
					? { label: `${name(c)} has figures too`, choices: { columns: { [c]: 'figure' as const } } }
					: { label: `${name(c)} labels items`, choices: { columns: { [c]: 'label' as const } } },
			),
	});
}

/** Totals beyond which they are not offered as figures. */
const MOST_TOTALS = 40;
/** Takes for figures what was left out as totals by its label. */
function byLabel({ columns, rows, bySum }: Roles): Doubt['options'] {
	const across = columns.flatMap((role, c) =>
		role === 'total' && !bySum.columns.includes(c) ? [[c, 'figure' as const]] : [],
	);
	const down = rows.flatMap((role, r) =>
		role === 'total' && !bySum.rows.includes(r) ? [[r, 'figures' as const]] : [],
	);
	if (across.length + down.length > MOST_TOTALS) return [];
	const choices = {
		...(across.length > 0 && { columns: Object.fromEntries(across) as Choices['columns'] }),
		...(down.length > 0 && { rows: Object.fromEntries(down) as Choices['rows'] }),
	};
	return [{ label: across.length + down.length === 1 ? 'it holds figures' : 'they hold figures', choices }];
}

/** Columns of quantities that are not taken. */
function otherQuantities(
	rows: readonly (readonly string[])[],
	{ rows: lines, columns, quantity }: Roles,
): number[] {
	const heading = rows[lines.indexOf('quantity')];
	if (!heading || !quantity) return [];
	const over = filledDown(columns.map((_, c) => heading[c] ?? ''));
	return columns.flatMap((role, c) =>
		role === 'ignored' && quantity.labels.some((label) => sameQuantity(label, over[c]!)) ? [c] : [],
	);
}

/** What columns are called in sentences: by their heading, or by their number. */
const columnNames = (rows: readonly (readonly string[])[], heading: number | null) => (c: number) => {
	const word = heading === null ? '' : (rows[heading]?.[c] ?? '');
	return word === '' ? `column ${c + 1}` : `“${shorten(word)}”`;
};

const listed = (words: readonly string[]): string => {
	const all = words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`;
	return capital(all);
};

/** Whether most cells of a column are figures. */
function holdsFigures(rows: readonly (readonly string[])[], c: number): boolean {
	const some = rows.slice(0, 200);
	return some.filter((row) => (row[c] ?? '') !== '' && isFigure(row[c]!)).length > some.length / 2;
}

/** “items across, months down”, in the words of the trade. */
export function describeLayout(roles: Roles, frequency: Frequency, itemCount: number): string {
	const has = (role: ColumnRole) => roles.columns.includes(role);
	const over = (role: RowRole) => roles.rows.includes(role);
	const times = periodWord(frequency, 2);
	const items = itemCount > 1 ? `${itemCount} items` : 'one item';
	if (has('cycle') && over('season')) return `${items}, cycles down and seasons across`;
	if (has('season') && over('cycle')) return `${items}, seasons down and cycles across`;
	if (has('cycle') && has('season')) return `${items}, cycle and season in columns of their own`;
	if (over('cycle') && over('season')) return `${items}, cycles and seasons across`;
	if (has('period'))
		return has('item')
			? `${items}, one row for each item and period`
			: itemCount > 1
				? `${items} across, ${times} down`
				: `a period and a figure a line`;
	if (over('period')) {
		const blocks = roles.rows.filter((role, r) => role === 'period' && roles.rows[r - 1] !== 'period').length;
		return blocks > 1
			? `${items}, ${blocks} blocks of periods over figures`
			: `${items} down, ${times} across`;
	}
	return roles.order === 'across' ? `${items}, figures along the row` : `${items}, figures down the column`;
}

export function doubtTime(timed: Timed, choices: Choices, doubts: Doubt[]): void {
	if (timed.dateOrder?.open && choices.dateOrder === undefined) {
		const other = timed.dateOrder.used === 'day-first' ? 'month-first' : 'day-first';
		const words = { 'day-first': 'the day first', 'month-first': 'the month first' };
		doubts.push({
			code: 'date-order',
			text: `The dates were read with ${words[timed.dateOrder.used]}; none of them shows which it is.`,
			options: [{ label: words[other], choices: { dateOrder: other } }],
		});
	}
	if (timed.possible && timed.likely > 1 && choices.frequency === undefined && !timed.orderLines) {
		const others = timed.possible.slice(1, timed.likely);
		if (others.length > 0)
			doubts.push({
				code: 'frequency',
				text: `The periods were taken as ${frequencyWord(timed.frequency)}; they could be ${others.map(frequencyWord).join(' or ')}.`,
				options: others.map((frequency) => ({ label: frequencyWord(frequency), choices: { frequency } })),
			});
	}
	for (const remark of timed.remarks) doubts.push({ options: [], ...remark });
}

const frequencyWord = (frequency: Frequency) =>
	frequency === 'step' ? 'plain numbered periods' : periodWord(frequency, 2);

/** What the items have in common, said once. */
export function doubtPeriods(reading: Reading, choices: Choices): void {
	const { items, doubts, frequency } = reading;
	const withRemark = (pattern: RegExp) =>
		items.filter(({ remarks }) => remarks.some((remark) => pattern.test(remark)));
	const doubled = withRemark(/more than once/);
	if (doubled.length > 0) {
		const how = choices.duplicates ?? 'sum';
		const verb = { sum: 'summed', mean: 'averaged', last: 'the last one taken' };
		const labels = { sum: 'sum them', mean: 'take their mean', last: 'take the last' };
		// A column that was left out may be what tells them apart.
		const name = columnNames(reading.rows, reading.heading);
		const keys = reading.columns.flatMap((role, c) =>
			role === 'ignored' && tellsApart(reading.rows, c) ? [c] : [],
		);
		const over =
			keys.length > 0 && how === 'sum' ? `summed over ${keys.slice(0, 3).map(name).join(', ')}` : verb[how];
		doubts.push({
			code: 'duplicates',
			text: `${doubled.length === 1 ? capital(doubled[0]!.remarks.find((remark) => /more than once/.test(remark))!) : `${doubled.length} items have ${periodWord(frequency, 2)} given more than once`}: ${over}.`,
			options: [
				...keys.slice(0, 2).map((c) => ({
					label: `an item for each ${name(c)}`,
					choices: { columns: { [c]: 'item' as const } },
				})),
				...(['sum', 'mean', 'last'] as const)
					.filter((each) => each !== how)
					.map((each) => ({ label: labels[each], choices: { duplicates: each } })),
			],
		});
	}
	if (withRemark(/order of time/).length > 0) {
		doubts.push({
			code: 'unsorted',
			text: 'The rows were not in order of time; they have been sorted.',
			options: [],
		});
	}
	const gaps = withRemark(/not in the table/);
	if (gaps.length > 0) {
		const text =
			gaps.length === 1
				? capital(gaps[0]!.remarks.find((remark) => /not in the table/.test(remark))!)
				: `${gaps.length} items have periods that are not in the table and will be missing.`;
		doubts.push({ code: 'gaps', text, options: [] });
	}
	const failing = items.filter(({ problem }) => problem !== null);
	if (failing.length > 0 && items.length > 1) {
		doubts.push({
			code: 'items',
			text: `${failing.length} of ${items.length} items cannot be brought in; ${shorten(failing[0]!.name)}: ${failing[0]!.problem}`,
			options: [],
		});
	}
}

/** Whether a column has a few words again and again, as one that parts the lines of an item has. */
function tellsApart(rows: readonly (readonly string[])[], c: number): boolean {
	if (holdsFigures(rows, c)) return false;
	const words = rows
		.slice(1, 200)
		.map((row) => row[c] ?? '')
		.filter((word) => word !== '');
	const distinct = new Set(words).size;
	return distinct > 1 && distinct <= words.length / 2;
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
