import { NAMED } from './costs';
import type { Choices, ColumnRole, RowRole } from './choices';
import type { Frame } from './frames';
import type { Grid } from './grid';
import type { Line, Roles } from './roles';
import { likeliestOf, quantitiesOf, sameQuantity } from './quantities';
import { filledDown } from './table';
import { runsOn } from './telling';
import { headingSays, isCancelled, isUnitLabel, quantitySays } from './words';

const isTime = (role: ColumnRole | RowRole | undefined) =>
	role === 'period' || role === 'cycle' || role === 'season';

/** Names the lines that do not tell time: items, their names and units, remarks. @returns all roles, and what the naming costs */
export function nameTexts(
	grid: Grid,
	frame: Frame,
	lines: readonly Line[],
	times: ReadonlyMap<Line, ColumnRole | RowRole>,
	choices: Choices,
): { roles: Roles; cost: number } {
	const naming = new Naming(grid, frame, lines, times, choices);
	return { roles: naming.roles(), cost: naming.cost };
}

class Naming {
	cost = 0;
	readonly #columns: (ColumnRole | null)[];
	readonly #rows: (RowRole | null)[];
	#quantity: Roles['quantity'] = null;

	constructor(
		readonly grid: Grid,
		readonly frame: Frame,
		readonly lines: readonly Line[],
		readonly times: ReadonlyMap<Line, ColumnRole | RowRole>,
		readonly choices: Choices,
	) {
		this.#columns = Array.from({ length: grid.width }, (_, c) => choices.columns?.[c] ?? null);
		// What comes after the rows that were looked at is named as these are.
		this.#rows = Array.from({ length: frame.looked }, (_, r) => choices.rows?.[r] ?? null);
	}

	roles(): Roles {
		const { frame, choices } = this;
		for (const c of frame.figures) this.#columns[c] ??= 'figure';
		for (const c of frame.totals.columns) this.#columns[c] ??= 'total';
		for (const [line, role] of this.times) {
			if (line.side === 'column') this.#columns[line.at] = role as ColumnRole;
			else
				for (const r of this.frame.sections.includes(line.at) ? this.frame.sections : [line.at])
					this.#rows[r] = role as RowRole;
		}
		this.#quantity = this.#nameQuantity();
		this.#nameColumns();
		for (const line of this.lines)
			if (line.side === 'row' && !this.frame.sections.includes(line.at)) this.#nameHeading(line);
		for (let r = 0; r < frame.data.length; r++) this.#rows[frame.data[r]!] ??= 'figures';
		for (const r of frame.totals.rows) this.#rows[r] ??= 'total';
		for (const [r, heading] of frame.blocks) if (heading >= 0) this.#rows[r] ??= this.#rows[heading] ?? null;
		this.#nameBlocks();
		return {
			columns: this.#columns.map((role) => role ?? 'ignored'),
			rows: this.#rows.map((role) => role ?? 'ignored'),
			bySum: frame.totals.bySum,
			quantity: this.#quantity,
			order: choices.order ?? this.#order(),
		};
	}

	/** The line that says which of several quantities each figure is. */
	#nameQuantity(): Roles['quantity'] {
		const { grid, frame, lines, times, choices } = this;
		const roleOf = ({ side, at }: Line) => (side === 'column' ? this.#columns[at] : this.#rows[at]);
		const chosen = lines.find((line) => roleOf(line) === 'quantity');
		const open = lines.filter((line) => roleOf(line) === null && !frame.sections.includes(line.at));
		const timeDown = [...times.keys()].some(({ side }) => side === 'column');
		const words = open.filter(({ side }) => side === 'column').length;
		const found = quantitiesOf(grid, frame, chosen ? [chosen] : open, timeDown && words > 0);
		const line = found?.line ?? chosen;
		if (!line) return frame.quantity;
		const labels = found?.labels ?? [...new Set(line.labels)].filter((label) => label !== '');
		const demand = choices.quantity ?? found?.demand ?? labels[0] ?? '';
		if (line.side === 'column') this.#columns[line.at] = 'quantity';
		else {
			const over = filledDown(line.labels);
			const others = frame.figures.filter((_, i) => !sameQuantity(over[i]!, demand));
			// Who says of another column that it has figures wants both.
			if (others.some((c) => choices.columns?.[c] === 'figure')) return null;
			this.#rows[line.at] = 'quantity';
			for (const c of others) this.#columns[c] = 'ignored';
		}
		return { labels, demand };
	}

	/** Columns of words: the item, its name, its unit; remarks are left out. */
	#nameColumns(): void {
		this.#nameStatus();
		const open = this.lines.filter((line) => line.side === 'column' && this.#columns[line.at] === null);
		const timeDown = [...this.times.keys()].some(({ side }) => side === 'column');
		const times = [...this.times.keys()]
			.filter(({ side }) => side === 'column')
			.map(({ labels }) => filledDown(labels));
		const places = this.frame.data.map((_, i) => times.map((labels) => labels[i]).join('\n'));
		/** Whether each row is of another time, so that what words there are beside it only remark on it. */
		const once = times.length > 0 && new Set(places).size === places.length;
		// Words behind the figures, another one in each row, are remarks.
		const behind = (line: Line) =>
			line.at > this.frame.figures.at(-1)! &&
			headingSays(line.heading) === null &&
			(line.labels.includes('') || new Set(line.labels).size === line.labels.length);
		const free = open.filter((line) => {
			const filled = line.labels.filter((cell) => cell !== '');
			if (filled.length === 0 || behind(line)) return false;
			const says = headingSays(line.heading);
			// Lines that are only counted are no items.
			const counts = runsOn(line.labels.map((label) => label.replace(/\.$/, '')));
			if (
				says === 'other' ||
				(counts && line.labels.length > 2 && new Set(line.labels).size === line.labels.length && timeDown)
			)
				return false;
			if (
				!this.#columns.includes('unit') &&
				(says === 'unit' || (says === null && filled.every(isUnitLabel)))
			)
				this.#columns[line.at] = 'unit';
			return this.#columns[line.at] === null;
		});
		const says = (line: Line) => headingSays(line.heading);
		const named = free.filter(
			(line) =>
				says(line) === 'item' ||
				says(line) === 'name' ||
				(says(line) === 'label' && free.some((other) => says(other) === 'item')) ||
				!(once && isRemark(line)),
		);
		const items = named.filter((line) => says(line) === 'item');
		const names = named.filter((line) => says(line) === 'name');
		const others = named
			.filter((line) => !items.includes(line) && !names.includes(line))
			// What items are grouped by names them only where nothing else does.
			.sort((a, b) => Number(says(a) === 'label') - Number(says(b) === 'label'));
		let item = this.lines.find((line) => line.side === 'column' && this.#columns[line.at] === 'item');
		if (!item) {
			item =
				items[0] ??
				(names.length > 0 && others.length > 0 && says(others[0]!) === null ? others.shift() : undefined) ??
				names.shift() ??
				others.shift();
			if (item && !items.includes(item) && says(item) !== 'name' && item.heading !== '')
				this.cost += NAMED.otherHeading;
		}
		if (item && this.#columns[item.at] === null) this.#columns[item.at] = 'item';
		// Beside a column that was chosen, one that is headed so names items as well.
		else if (item && items[0] && this.#columns[items[0].at] === null) this.#columns[items[0].at] = 'item';
		const coded = item;
		if (coded && !this.#columns.includes('name')) {
			const name =
				[...names, ...items].find(
					(line) => line !== coded && this.#columns[line.at] === null && hangsOn(line, coded),
				) ??
				others.find(
					(line) =>
						hangsOn(line, coded) &&
						!isLabel(line, coded) &&
						// One word for all of several items names none of them.
						(new Set(line.labels).size > 1 || new Set(coded.labels).size === 1),
				);
			if (name) this.#columns[name.at] = 'name';
		}
		if (coded)
			for (const line of others)
				if (this.#columns[line.at] === null && hangsOn(line, coded) && isLabel(line, coded))
					this.#columns[line.at] = 'label';
		// One word a row, each another one: periods that are not known, rather than items of one figure.
		const { figures, data } = this.frame;
		if (
			coded &&
			!timeDown &&
			!this.choices.columns &&
			!this.choices.first &&
			!['item', 'name'].includes(headingSays(coded.heading) ?? '') &&
			figures.length === 1 &&
			data.length > 1 &&
			new Set(coded.labels).size === data.length &&
			![...this.times.keys()].some(({ side }) => side === 'row')
		) {
			this.#columns[coded.at] = 'period';
			this.cost += NAMED.unknownPeriods;
		}
	}

	#nameHeading({ at: r, labels }: Line): void {
		if (this.#rows[r] !== null) return;
		const filled = labels.filter((label) => label !== '');
		const { headings, figures } = this.frame;
		const itemDown = this.#columns.includes('item');
		const timeAcross = [...this.times.keys()].some(({ side }) => side === 'row');
		const group = headings.filter((h) => Math.abs(h - r) < 4);
		if (filled.every(isUnitLabel) && (group.length > 1 || filled.every((label) => /^[([]/.test(label))))
			this.#rows[r] = 'unit';
		else if (group.some((h) => h !== r && this.#rows[h] === 'item'))
			this.#rows[r] = this.#tellsApart(group, r) ? 'item' : standsOnce(labels) ? 'name' : 'label';
		else if (!itemDown && !standsOnce(labels) && this.#namedBelow(group, r)) this.#rows[r] = 'label';
		else if (itemDown && figures.length === 1) this.#rows[r] = 'ignored';
		else if (itemDown && figures.length > 1 && timeAcross) this.#rows[r] = 'ignored';
		else {
			this.#rows[r] = 'item';
			// Items on both sides are joined.
			if (itemDown) this.cost += NAMED.joined;
			if (new Set(filled).size < filled.length && !timeAcross) this.cost += NAMED.twice;
		}
	}

	/** Whether another heading that is still to be named says something else of each column. */
	#namedBelow(group: readonly number[], r: number): boolean {
		return this.lines.some(
			(line) =>
				line.side === 'row' &&
				line.at !== r &&
				group.includes(line.at) &&
				this.#rows[line.at] === null &&
				!line.labels.every(isUnitLabel) &&
				line.labels.every((label) => label !== '') &&
				standsOnce(line.labels),
		);
	}

	/** A column whose words say of some lines that they were cancelled. */
	#nameStatus(): void {
		for (const { side, at, labels, heading } of this.lines) {
			if (side !== 'column' || this.#columns[at] !== null) continue;
			const words = new Set(labels);
			if (words.size <= MOST_STATES && [...words].some((word) => isCancelled(word, heading)))
				this.#columns[at] = 'status';
		}
	}

	/** Whether the columns have an item each only by this heading and the one that is there together. */
	#tellsApart(group: readonly number[], r: number): boolean {
		const rows = this.lines.filter(
			({ side, at }) => side === 'row' && group.includes(at) && (at === r || this.#rows[at] === 'item'),
		);
		const over = rows.map(({ labels }) => filledDown(labels));
		const columns = this.frame.figures.map((_, i) => over.map((labels) => labels[i]));
		const distinct = (list: readonly (string | undefined)[]) => new Set(list).size === list.length;
		return distinct(columns.map((labels) => labels.join('\n'))) && !over.some(distinct);
	}

	/** A line of its own before each of several blocks names the block's item. */
	#nameBlocks(): void {
		const times = this.#rows.flatMap((role, r) => (isTime(role ?? undefined) ? [r] : []));
		const groups = times.filter((r) => !times.includes(r - 1));
		if (groups.length < 2) return;
		if (this.#nameTitles(groups)) return;
		const item = this.#columns.indexOf('item');
		// What only says that figures follow names none.
		const idle = item >= 0 && this.choices.columns?.[item] === undefined && this.#saysFigures(item);
		if (item >= 0 && !idle) return;
		const titles = groups.map((r) => this.#titleOf(r));
		if (!titles.every((r) => r >= 0)) return;
		for (const r of titles) this.#rows[r] = 'item';
		if (idle) this.#columns[item] = 'ignored';
	}

	/** The row above a block's heading that stands alone; -1 for none. */
	#titleOf(heading: number): number {
		const { grid } = this;
		let above = heading - 1;
		while (above >= 0 && grid.isBlank(above)) above--;
		const role = above >= 0 ? this.#rows[above] : 'figures';
		return above >= 0 && (role === null || role === 'ignored') && grid.filled(above) === 1 ? above : -1;
	}

	/** Blocks of which some say that they are of another quantity: sales, below them the stock. */
	#nameTitles(groups: readonly number[]): boolean {
		const { grid, choices } = this;
		const titles = groups.map((r) => this.#titleOf(r)).filter((r) => r >= 0);
		const labels = titles.map((r) => grid.rows[r]!.find((cell) => cell !== '')!);
		const says = labels.map(quantitySays);
		const other = says.some((word) => word !== null && word !== 'demand' && word !== 'count');
		// Below the first block, which need not say what it is of.
		const later = titles.filter((r) => r > groups[0]!);
		if (this.#quantity || !other || later.length < groups.length - 1 || says.includes(null)) return false;
		for (const r of titles) this.#rows[r] = 'quantity';
		const all = later.length === titles.length ? ['', ...labels] : labels;
		const demand = choices.quantity ?? (all[0] === '' ? '' : likeliestOf(labels));
		this.#quantity = { labels: [...new Set(all)], demand };
		return true;
	}

	/** Whether all labels of a column are words such as “demand”. */
	#saysFigures(c: number): boolean {
		return this.frame.data.every((r) => {
			const label = this.grid.cell(r, c);
			const says = headingSays(label);
			return label === '' || says === 'figure' || says === 'measure' || says === 'unit';
		});
	}

	#order(): 'down' | 'across' {
		const { data, figures } = this.frame;
		if (data.length === 1 && figures.length > 1) return 'across';
		const named = this.#columns.includes('item') && figures.length > 1;
		return named && !this.#rows.includes('item') ? 'across' : 'down';
	}
}

/** Words that a column of states has at most. */
const MOST_STATES = 12;

/** Whether each label, given once over all that it stands for, stands once. */
const standsOnce = (labels: readonly string[]): boolean => {
	const filled = filledDown(labels);
	return new Set(filled).size === filled.length;
};

/** Whether words group items: they are said to, or several items share most of them. */
function isLabel(line: Line, item: Line): boolean {
	if (headingSays(line.heading) === 'label') return true;
	const words = new Map<string, string>();
	let code = '';
	for (const [i, word] of line.labels.entries()) {
		code = item.labels[i] || code;
		if (!words.get(code)) words.set(code, word);
	}
	const given = [...words.values()].filter((word) => word !== '');
	const distinct = new Set(given).size;
	return (
		line.heading !== '' && given.length > 0.8 * words.size && distinct > 1 && distinct <= 0.6 * words.size
	);
}

/** Words that come and go beside periods of which each stands once. */
function isRemark({ labels }: Line): boolean {
	const distinct = new Set(labels.filter((label) => label !== '')).size;
	return distinct > 1 || labels.includes('');
}

/** Whether each item has one of these words. */
function hangsOn(line: Line, item: Line): boolean {
	const known = new Map<string, string>();
	let code = '';
	for (const [i, word] of line.labels.entries()) {
		code = item.labels[i] || code;
		if (word === '') continue;
		const before = known.get(code);
		if (before !== undefined && before !== word) return false;
		known.set(code, word);
	}
	return known.size > 0;
}
