import type { Choices, ColumnRole, RowRole } from './choices';
import { isBareFigure, isFigure, isMissing } from './figures';
import { isCountedCycle, isPeriodWord, readPeriods, readSeasons, readSerials } from './periods';
import { findTotals } from './totals';
import { headingSays, isTotalLabel, isUnitLabel, saysPeriods } from './words';

/** What each part of a table was taken for. */
export interface Roles {
	columns: ColumnRole[];
	rows: RowRole[];
	/** Columns and rows that were found to be totals by their figures alone, not by a label. */
	bySum: { columns: number[]; rows: number[] };
	/** Whether figures without any period follow each other down the columns or across the rows. */
	order: 'down' | 'across';
}

const BLANK = 0;
const NONE = 1;
const NUMBER = 2;
const PERIOD = 3;
const TEXT = 4;

type Table = readonly (readonly string[])[];

/** Kinds of the cells, one list a row. */
function kindsOf(rows: Table): Uint8Array[] {
	const known = new Map<string, number>();
	const kindOf = (cell: string): number => {
		if (cell === '') return BLANK;
		let kind = known.get(cell);
		if (kind === undefined) {
			kind = isMissing(cell)
				? NONE
				: isBareFigure(cell)
					? NUMBER
					: isPeriodWord(cell)
						? PERIOD
						: isFigure(cell)
							? NUMBER
							: TEXT;
			if (known.size < 100_000) known.set(cell, kind);
		}
		return kind;
	};
	return rows.map((row) => Uint8Array.from(row, kindOf));
}

/** Finds what each column and row of a table is. Choices made by hand are kept, and what hangs on them follows. */
export function findRoles(rows: Table, width: number, choices: Choices = {}): Roles {
	const finder = new Finder(rows, width, choices);
	return finder.find();
}

/** How labels along one side tell time. */
type Telling = 'full' | 'years' | 'seasons' | 'weekdays' | 'hours' | 'numbers' | 'cycles' | null;

class Finder {
	readonly kinds: Uint8Array[];
	readonly columns: (ColumnRole | null)[];
	readonly rowRoles: (RowRole | null)[];
	/** Rows that hold figures, and the columns that do. */
	dataRows: number[] = [];
	figureColumns: number[] = [];
	keyColumns: number[] = [];
	#began: number | null = null;

	constructor(
		readonly rows: Table,
		readonly width: number,
		readonly choices: Choices,
	) {
		this.kinds = kindsOf(rows);
		this.columns = Array.from({ length: width }, (_, c) => choices.columns?.[c] ?? null);
		this.rowRoles = Array.from({ length: rows.length }, (_, r) => choices.rows?.[r] ?? null);
	}

	find(): Roles {
		this.#splitColumns();
		this.#splitRows();
		const bySum = this.#totals();
		this.#nameKeys();
		this.#nameHeadings();
		const order = this.choices.order ?? this.#order();
		return {
			columns: this.columns.map((role) => role ?? 'ignored'),
			rows: this.rowRoles.map((role) => role ?? 'ignored'),
			bySum,
			order,
		};
	}

	cell(r: number, c: number): string {
		return this.rows[r]![c] ?? '';
	}

	kind(r: number, c: number): number {
		return this.kinds[r]![c] ?? BLANK;
	}

	/** Figures stand where most cells are numbers, from the first row on that holds mostly numbers. */
	#splitColumns(): void {
		const { width, rows } = this;
		const numbers = new Int32Array(width);
		const others = new Int32Array(width);
		const began = this.#firstNumbers();
		for (let r = began; r < rows.length; r++) {
			const kinds = this.kinds[r]!;
			for (let c = 0; c < kinds.length; c++) {
				if (kinds[c] === NUMBER) numbers[c]!++;
				else if (kinds[c]! > NUMBER) others[c]!++;
			}
		}
		for (let c = 0; c < width; c++) {
			const chosen = this.columns[c];
			if (chosen === 'figure' || chosen === 'total') this.figureColumns.push(c);
			else if (chosen) this.keyColumns.push(c);
			else if (numbers[c]! > 0 && numbers[c]! >= others[c]!) this.figureColumns.push(c);
			else if (numbers[c]! + others[c]! > 0 || this.#heads(c)) this.keyColumns.push(c);
		}
		if (this.figureColumns.length > 1) this.#numericKeys(began);
	}

	#heads(c: number): boolean {
		return this.rows.some((_, r) => this.kind(r, c) !== BLANK);
	}

	/** The first row that holds mostly numbers. */
	#firstNumbers(): number {
		if (this.#began !== null) return this.#began;
		const at = this.kinds.findIndex((kinds) => {
			let numbers = 0;
			let others = 0;
			for (const kind of kinds) {
				if (kind === NUMBER) numbers++;
				else if (kind > NUMBER) others++;
			}
			return numbers > 0 && numbers >= others - 1;
		});
		this.#began = Math.max(0, at);
		return this.#began;
	}

	/** Columns of numbers that count periods rather than demand: years, 1, 2, 3, serial dates. */
	#numericKeys(began: number): void {
		const heading = (c: number) => {
			for (let r = Math.min(began, this.rows.length - 1); r >= 0; r--) {
				const titled = this.rows[r]!.filter((cell) => cell !== '').length === 1;
				if (!titled && this.kind(r, c) >= PERIOD) return this.cell(r, c);
			}
			return '';
		};
		const keys: number[] = [];
		const dated = this.keyColumns.some((c) => this.#isDated(c, began));
		for (const c of this.figureColumns) {
			if (this.columns[c] || this.figureColumns.length - keys.length < 2) continue;
			const says = headingSays(heading(c));
			// Codes of digits are names.
			if (says === 'item' || says === 'name' || says === 'unit') {
				keys.push(c);
				continue;
			}
			// Left of the figures, or under a heading that says so.
			const leftmost = c === this.figureColumns[keys.length];
			const said = saysPeriods(heading(c)) && !isPeriodWord(heading(c));
			if ((!leftmost || dated) && !said) break;
			if (heading(c) !== '' && !said && leftmost) break;
			const cells: string[] = [];
			for (let r = began; r < this.rows.length; r++) {
				if (this.kind(r, c) === NUMBER || (this.kind(r, c) === BLANK && cells.length > 0))
					cells.push(this.cell(r, c));
			}
			const rest = this.figureColumns.filter((other) => other !== c && !keys.includes(other));
			const first = cells[0];
			// The corner of a table with years across is not its first period.
			if (
				first !== undefined &&
				countsPeriods(cells, said, keys.length > 0, heading(c)) &&
				!this.#isHeadingLine(began, c, rest)
			)
				keys.push(c);
			else if (leftmost && !said) break;
		}
		if (keys.length === 0) return;
		this.figureColumns = this.figureColumns.filter((c) => !keys.includes(c));
		this.keyColumns = [...this.keyColumns, ...keys].sort((a, b) => a - b);
	}

	/** Whether most cells of a column are periods that no figure is written like. */
	#isDated(c: number, began: number): boolean {
		let periods = 0;
		let filled = 0;
		for (let r = began; r < this.rows.length; r++) {
			if (this.kind(r, c) === PERIOD) periods++;
			if (this.kind(r, c) !== BLANK) filled++;
		}
		return periods > filled / 2;
	}

	/** Whether the first row of numbers runs 2021, 2022, … itself, so that its first column is one of the years. */
	#isHeadingLine(r: number, c: number, rest: readonly number[]): boolean {
		const years = [c, ...rest].map((column) => this.cell(r, column));
		const runs = years.length > 2 && runsOn(years) && /^(19|20)\d\d$/.test(years[0]!);
		return runs && this.rows.length > r + 1 && !runsOn(this.rows.slice(r).map((row) => row[c] ?? ''));
	}

	/** Rows of figures, headings above them, titles and footnotes. */
	#splitRows(): void {
		const { rows, figureColumns, keyColumns } = this;
		const inFigures = figureColumns.length;
		const began = this.#firstNumbers();
		const dated = keyColumns.find((c) => this.#isDated(c, began)) ?? -1;
		for (let r = 0; r < rows.length; r++) {
			if (this.rowRoles[r] === 'figures') this.dataRows.push(r);
			if (this.rowRoles[r]) continue;
			let numbers = 0;
			let missing = 0;
			let words = 0;
			for (const c of figureColumns) {
				const kind = this.kind(r, c);
				if (kind === NUMBER) numbers++;
				else if (kind === NONE) missing++;
				else if (kind > NUMBER) words++;
			}
			const keyed = keyColumns.some((c) => this.kind(r, c) !== BLANK);
			const keyedByPeriod = keyColumns.some((c) => this.kind(r, c) === PERIOD || this.kind(r, c) === NUMBER);
			// Codes of digits over the figures, “Month” or nothing over the periods.
			const codes = dated >= 0 && this.dataRows.length === 0 && this.kind(r, dated) !== PERIOD;
			const corner = codes ? this.cell(r, dated) : '';
			if (codes && (corner === '' || saysPeriods(corner)) && r < rows.length - 1) continue;
			if (numbers + missing > 0 && numbers + missing >= words) {
				if (!this.#isNumericHeading(r)) this.#isData(r);
			} else if (words === 0 && keyedByPeriod && r >= began) {
				this.#isData(r);
			} else if (words > 0 && keyed && words < inFigures / 4 && numbers > 0) {
				this.#isData(r);
			}
		}
		// A blank line between figures of one column is a period without a figure.
		if (this.width === 1 && this.dataRows.length > 0) {
			for (let r = this.dataRows[0]!; r < this.dataRows.at(-1)!; r++)
				if (!this.rowRoles[r] && this.kind(r, 0) <= NONE) this.#isData(r);
			this.dataRows.sort((a, b) => a - b);
		}
		this.#misreadFigures();
	}

	#isData(r: number): void {
		this.rowRoles[r] = 'figures';
		this.dataRows.push(r);
	}

	/** Words where the figures stand, below the first of them and beside a key: a figure that cannot be read. */
	#misreadFigures(): void {
		const [first] = this.dataRows;
		const last = this.dataRows.at(-1);
		if (first === undefined || last === undefined) return;
		const before = this.dataRows.length;
		const dated = this.keyColumns.find((c) => this.#isDated(c, first)) ?? -1;
		for (let r = 0; r < this.rows.length; r++) {
			if (this.rowRoles[r]) continue;
			// Above the first figures stand headings, unless the line has a period of its own.
			if (r < first && (dated < 0 || this.kind(r, dated) !== PERIOD)) continue;
			// After a blank line come remarks; so do sentences.
			if (r > last && (this.rows[r]!.every((cell) => cell === '') || /\S\s+\S/.test(this.rows[r]![0]!)))
				break;
			const texts = this.figureColumns.filter((c) => this.kind(r, c) === TEXT);
			const periods = this.figureColumns.some((c) => this.kind(r, c) === PERIOD);
			const alike =
				this.keyColumns.length === 0
					? this.width === 1
					: this.keyColumns.some((c) => this.kind(r, c) === PERIOD || this.kind(r, c) === NUMBER);
			const unread = texts.length > 0 && !periods && alike && this.figureColumns.length <= 2;
			// A line that was cut in another way than its neighbours: its period is asked about, not dropped.
			const uncut = r < last && dated >= 0 && this.kind(r, dated) === TEXT && /\d/.test(this.cell(r, dated));
			if (unread || uncut) this.#isData(r);
		}
		if (this.dataRows.length > before) this.dataRows.sort((a, b) => a - b);
	}

	/** 2021, 2022, 2023 or 1, 2, 3 … over the figures rather than figures themselves. */
	#isNumericHeading(r: number): boolean {
		if (r === this.rows.length - 1) return false;
		const cells = this.figureColumns
			.map((c) => this.cell(r, c))
			.filter((cell) => cell !== '' && !isTotalLabel(cell));
		if (
			cells.length < 2 &&
			!(
				cells.length === 1 &&
				/^(19|20)\d\d$/.test(cells[0]!) &&
				this.figureColumns.length > 2 &&
				!this.keyColumns.some((c) => this.kind(r, c) !== BLANK)
			)
		)
			return false;
		if (!runsOn(cells)) return false;
		const corner = this.keyColumns.map((c) => this.cell(r, c)).find((cell) => cell !== '') ?? '';
		const years = cells.every((cell) => /^(19|20)\d\d$/.test(cell));
		if (this.keyColumns.some((c) => this.kind(r, c) === PERIOD) || this.#isUnderPeriods(r)) return false;
		if (
			corner !== '' &&
			(saysPeriods(corner) || headingSays(corner) === 'item' || headingSays(corner) === 'name')
		)
			return true;
		const first = this.dataRows.length === 0;
		// Below a heading of years stand their quarters; a row that only counts on is no heading between figures.
		return (
			first &&
			(corner === '' ||
				(years && this.kinds[r]!.every((kind, c) => kind !== PERIOD || !this.keyColumns.includes(c)))) &&
			(this.keyColumns.length > 0 || years || cells.length > 2)
		);
	}

	/** Whether the line above holds periods that are no bare years: what follows are figures. */
	#isUnderPeriods(r: number): boolean {
		let above = r - 1;
		while (above >= 0 && this.rows[above]!.every((cell) => cell === '')) above--;
		return above >= 0 && this.figureColumns.filter((c) => this.kind(above, c) === PERIOD).length > 1;
	}

	#totals(): Roles['bySum'] {
		const { figureColumns, dataRows } = this;
		const labelOfColumn = (c: number) => {
			const labels: string[] = [];
			for (let r = 0; r < (dataRows[0] ?? 0); r++)
				if (this.kind(r, c) !== BLANK) labels.push(this.cell(r, c));
			return labels;
		};
		const labelOfRow = (r: number) =>
			this.keyColumns.map((c) => this.cell(r, c)).filter((cell) => cell !== '');
		const found = findTotals(
			figureColumns
				.filter((c) => !this.choices.columns?.[c])
				.map((c) => ({ at: c, labels: labelOfColumn(c) })),
			dataRows.filter((r) => !this.choices.rows?.[r]).map((r) => ({ at: r, labels: labelOfRow(r) })),
			(r, c) => this.cell(r, c),
		);
		for (const c of found.columns) this.columns[c] = 'total';
		for (const r of found.rows) this.rowRoles[r] = 'total';
		this.figureColumns = figureColumns.filter(
			(c) => this.columns[c] !== 'total' || this.choices.columns?.[c] === 'figure',
		);
		for (const c of this.figureColumns) this.columns[c] = 'figure';
		this.dataRows = dataRows.filter((r) => this.rowRoles[r] === 'figures');
		this.#strays();
		return found.bySum;
	}

	/** Under a heading of periods, the few columns headed by a word are something else. */
	#strays(): void {
		for (let r = 0; r < (this.dataRows[0] ?? 0); r++) {
			const periods = this.figureColumns.filter((c) => this.kind(r, c) === PERIOD);
			const words = this.figureColumns.filter((c) => this.kind(r, c) === TEXT && !this.choices.columns?.[c]);
			if (periods.length < 3 || words.length === 0 || words.length > periods.length / 4) continue;
			for (const c of words) this.columns[c] = 'ignored';
			this.figureColumns = this.figureColumns.filter((c) => !words.includes(c));
		}
	}

	/** The heading rows: what stands over the figures, outside rows of figures. */
	#headingRows(): number[] {
		const found: number[] = [];
		for (let r = 0; r < this.rows.length; r++) {
			if (this.rowRoles[r] && this.rowRoles[r] !== this.choices.rows?.[r]) continue;
			if (this.rowRoles[r] === 'figures' || this.rowRoles[r] === 'total' || this.rowRoles[r] === 'ignored')
				continue;
			const over = this.figureColumns.filter((c) => this.kind(r, c) !== BLANK).length;
			if (over === 0) continue;
			// A title or a remark that begins over the first figures, alone in its row, in a wide table.
			const alone = this.rows[r]!.filter((cell) => cell !== '').length === 1;
			if (
				alone &&
				this.figureColumns.length > 1 &&
				this.kind(r, this.#firstFilled(r)) === TEXT &&
				!this.rowRoles[r]
			)
				continue;
			if (r > (this.dataRows.at(-1) ?? -1)) continue;
			found.push(r);
		}
		return found;
	}

	#firstFilled(r: number): number {
		return this.rows[r]!.findIndex((cell) => cell !== '');
	}

	/** What a line of labels tells of time. */
	#telling(labels: readonly string[], heading: string): Telling {
		const cells = labels.filter((label) => label !== '' && !isMissing(label));
		if (cells.length === 0) return null;
		const distinct = [...new Set(cells)].slice(0, 5000);
		if (distinct.every(isCountedCycle)) return 'cycles';
		if (distinct.every((cell) => /^\d+$/.test(cell))) {
			if (distinct.every((cell) => /^(19|20|21)\d\d$/.test(cell))) return 'years';
			if (readSerials(distinct) || readPeriods(distinct)?.frequency !== 'step') return 'full';
			if (readSeasons(distinct, heading)?.frequency === 'hour') return 'hours';
			return readSeasons(distinct, heading) ? 'numbers' : distinct.length > 1 ? 'full' : 'numbers';
		}
		const column = readPeriods(distinct);
		if (column?.frequency === 'step' && readSeasons(distinct, heading)) return 'numbers';
		if (column)
			return column.yearless
				? 'seasons'
				: column.frequency === 'year' &&
					  !column.dateOrder &&
					  !/-|\./.test(distinct[0]!.replace(/[-–]\d\d(\d\d)?$/, ''))
					? 'years'
					: 'full';
		const seasons = readSeasons(distinct, heading);
		if (!seasons) return mostly(distinct, isPeriodWord) ? 'full' : null;
		return seasons.frequency === 'hour'
			? 'hours'
			: seasons.frequency === 'day' || seasons.frequency === 'weekday'
				? 'weekdays'
				: 'seasons';
	}

	/** Key columns: those that tell time together with the headings, and those that name items. */
	#nameKeys(): void {
		const headings = this.#headingRows();
		const open = this.keyColumns.filter((c) => !this.columns[c]);
		const headingOf = (c: number) =>
			headings.map((r) => this.cell(r, c)).findLast((cell) => cell !== '') ?? this.#above(c);
		const tellings = open.map((c) => ({
			c,
			heading: headingOf(c),
			tells: this.#telling(
				this.dataRows.map((r) => this.cell(r, c)),
				headingOf(c),
			),
		}));
		const over = headings.map((r) => this.#headTelling(r));
		const timed = tellings.filter(
			({ tells, heading, c }) => tells !== null && this.#keyTellsTime(tells, heading, c),
		);
		const chosenTime = this.columns.some(
			(role) => role === 'period' || role === 'cycle' || role === 'season',
		);
		if (!chosenTime) this.#nameTimes(timed, over);
		const texts = tellings.filter(({ c }) => !this.columns[c]);
		this.#nameTexts(texts);
	}

	/** Numbers beside figures tell time only as periods; codes such as 70214 are names. */
	#keyTellsTime(tells: Telling, heading: string, c: number): boolean {
		const says = headingSays(heading);
		if (says === 'item' || says === 'name' || says === 'unit') return false;
		if (tells !== 'numbers' && tells !== 'full') return true;
		const digits = this.dataRows.every((r) => /^\d*$/.test(this.cell(r, c)));
		return (
			!digits ||
			saysPeriods(heading) ||
			countsPeriods(
				this.dataRows.map((r) => this.cell(r, c)),
				false,
				true,
				heading,
			) ||
			readSerials(this.dataRows.map((r) => this.cell(r, c))) !== null
		);
	}

	#above(c: number): string {
		for (let r = (this.dataRows[0] ?? 0) - 1; r >= 0; r--) if (this.cell(r, c) !== '') return this.cell(r, c);
		return '';
	}

	#headTelling(r: number): Telling {
		const labels = this.figureColumns.map((c) => this.cell(r, c));
		const heading = this.keyColumns.map((c) => this.cell(r, c)).findLast((cell) => cell !== '') ?? '';
		const tells = this.#telling(labels, heading);
		// A single heading such as “2024” over one column of figures names it.
		return labels.length === 1 && tells === 'numbers' ? null : tells;
	}

	/** Which key columns are period, cycle and season, given what the headings tell. */
	#nameTimes(timed: { c: number; heading: string; tells: Telling }[], over: Telling[]): void {
		const seasonal = (tells: Telling) =>
			tells === 'seasons' || tells === 'numbers' || tells === 'weekdays' || tells === 'hours';
		const [first, second] = timed;
		if (first && second) {
			// Year and month in columns of their own, in either order; a full date beside them says it all.
			const full = timed.find(({ tells }) => tells === 'full');
			const cycle = timed.find(
				({ tells, heading }) => tells === 'years' || tells === 'cycles' || headingSays(heading) === 'cycle',
			);
			const season = timed.find((each) => each !== cycle && seasonal(each.tells));
			if (cycle && season) {
				this.columns[cycle.c] = 'cycle';
				this.columns[season.c] = 'season';
			} else if (
				full &&
				season &&
				(season.tells === 'weekdays' ? !this.#distinctOn(full.c) : season.tells === 'hours')
			) {
				this.columns[full.c] = 'cycle';
				this.columns[season.c] = 'season';
			} else this.columns[(full ?? first).c] = 'period';
			return;
		}
		if (!first) return;
		const head = over.find((tells) => tells !== null) ?? null;
		const pairs = head !== null && pairUp(first.tells, head);
		this.columns[first.c] = pairs ? pairs : 'period';
	}

	#distinctOn(c: number): boolean {
		const cells = this.dataRows.map((r) => this.cell(r, c));
		return new Set(cells).size === cells.length;
	}

	/** Columns of words: the item, its name, its unit; remarks are left out. */
	#nameTexts(texts: { c: number; heading: string }[]): void {
		const timeDown = this.columns.some((role) => role === 'period' || role === 'season' || role === 'cycle');
		const cells = (c: number) => this.dataRows.map((r) => this.cell(r, c));
		const unique = (c: number) => new Set(cells(c)).size === this.dataRows.length;
		const free = texts.filter(({ c, heading }) => {
			const filled = cells(c).filter((cell) => cell !== '');
			if (filled.length === 0) return false;
			const says = headingSays(heading);
			if (!this.columns.includes('unit') && (says === 'unit' || (says === null && filled.every(isUnitLabel))))
				this.columns[c] = 'unit';
			return !this.columns[c];
		});
		const timeOnce = this.columns.indexOf('period');
		const remarks = (c: number) => {
			const distinct = new Set(cells(c).filter((cell) => cell !== '')).size;
			const blanks = cells(c).filter((cell) => cell === '').length;
			// Each period once, and words that come and go beside it.
			return (
				timeOnce >= 0 &&
				this.#distinctOn(timeOnce) &&
				(distinct > 1 || blanks > 0) &&
				distinct > 0 &&
				!(
					distinct > 1 &&
					blanks > 0 &&
					timeOnce > c &&
					this.kind(this.dataRows[0]!, c) === TEXT &&
					distinct * 3 < this.dataRows.length
				)
			);
		};
		const named = free.filter(
			({ c, heading }) => headingSays(heading) === 'item' || headingSays(heading) === 'name' || !remarks(c),
		);
		const items = named.filter(({ heading }) => headingSays(heading) === 'item');
		const names = named.filter(({ heading }) => headingSays(heading) === 'name');
		const plainOnes = named.filter((each) => !items.includes(each) && !names.includes(each));
		const takenItem = this.columns.includes('item');
		const item = takenItem ? undefined : (items[0] ?? plainOnes.shift() ?? names.shift());
		if (item) this.columns[item.c] = 'item';
		const itemColumn = this.columns.indexOf('item');
		const name = this.columns.includes('name')
			? undefined
			: (names[0] ?? plainOnes.find(({ c }) => this.#hangsOn(c, itemColumn)));
		if (name) this.columns[name.c] = 'name';
		// One word and one figure a row, each word another: periods that are not known, rather than items of one figure.
		if (
			!timeDown &&
			itemColumn >= 0 &&
			this.figureColumns.length === 1 &&
			this.dataRows.length > 1 &&
			unique(itemColumn) &&
			!takenItem &&
			this.#telling([this.cell(0, this.figureColumns[0]!)], '') === null
		) {
			this.columns[itemColumn] = 'period';
		}
	}

	/** Whether each item has one of these words. */
	#hangsOn(c: number, itemColumn: number): boolean {
		const known = new Map<string, string>();
		for (const r of this.dataRows) {
			const word = this.cell(r, c);
			const item = this.cell(r, itemColumn);
			if (word === '') continue;
			const before = known.get(item);
			if (before !== undefined && before !== word) return false;
			known.set(item, word);
		}
		return itemColumn >= 0 && known.size > 0;
	}

	/** Rows over the figures: periods, cycles and seasons, names of items, units. */
	#nameHeadings(): void {
		const headings = this.#headingRows();
		const down = (role: ColumnRole) => this.columns.includes(role);
		const timeDown = down('period') || (down('cycle') && down('season'));
		const rowsWith = (role: RowRole) => this.rowRoles.includes(role);
		for (const [i, r] of headings.entries()) {
			if (this.rowRoles[r]) continue;
			const tells = timeDown ? null : this.#headTelling(r);
			const next = headings[i + 1] === r + 1 ? this.#headTelling(r + 1) : null;
			if (tells !== null && tells !== 'numbers' ? true : tells === 'numbers' && !timeDown) {
				if (down('cycle')) this.rowRoles[r] = 'season';
				else if (down('season')) this.rowRoles[r] = 'cycle';
				else if (next !== null && pairUp(tells, next)) this.rowRoles[r] = pairUp(tells, next) as RowRole;
				else if (
					i > 0 &&
					headings[i - 1] === r - 1 &&
					(this.rowRoles[r - 1] === 'cycle' || this.rowRoles[r - 1] === 'season')
				) {
					this.rowRoles[r] = this.rowRoles[r - 1] === 'cycle' ? 'season' : 'cycle';
				} else this.rowRoles[r] = 'period';
				continue;
			}
			this.#nameTextHeading(r, headings, rowsWith);
		}
		this.#blockTitles(headings);
	}

	#nameTextHeading(r: number, headings: readonly number[], rowsWith: (role: RowRole) => boolean): void {
		const labels = this.figureColumns.map((c) => this.cell(r, c)).filter((cell) => cell !== '');
		const itemDown = this.columns.includes('item');
		const group = headings.filter((h) => Math.abs(h - r) < 4);
		const lettered = group.some((h) => h !== r && this.rowRoles[h] === 'item');
		if (labels.every(isUnitLabel) && (group.length > 1 || labels.every((label) => /^[([]/.test(label))))
			this.rowRoles[r] = 'unit';
		else if (lettered) this.rowRoles[r] = 'name';
		else if (itemDown && this.figureColumns.length === 1) this.rowRoles[r] = 'ignored';
		else if (
			this.figureColumns.length > 1 &&
			itemDown &&
			(rowsWith('period') || rowsWith('season') || rowsWith('cycle'))
		)
			this.rowRoles[r] = 'ignored';
		else this.rowRoles[r] = 'item';
	}

	/** A line of its own before each of several blocks names the block's item. */
	#blockTitles(headings: readonly number[]): void {
		const times = headings.filter(
			(r) => this.rowRoles[r] === 'period' || this.rowRoles[r] === 'season' || this.rowRoles[r] === 'cycle',
		);
		const groups = times.filter((r) => !times.includes(r - 1));
		if (groups.length < 2 || this.columns.includes('item')) return;
		const titles = groups.map((r) => {
			let above = r - 1;
			while (above >= 0 && this.rows[above]!.every((cell) => cell === '')) above--;
			const lone =
				above >= 0 && !this.rowRoles[above] && this.rows[above]!.filter((cell) => cell !== '').length === 1;
			return lone ? above : -1;
		});
		if (titles.every((r) => r >= 0)) for (const r of titles) this.rowRoles[r] = 'item';
	}

	#order(): 'down' | 'across' {
		if (this.dataRows.length === 1 && this.figureColumns.length > 1) return 'across';
		const named = this.columns.includes('item') && this.figureColumns.length > 1;
		return named && !this.rowRoles.includes('item') ? 'across' : 'down';
	}
}

/** What a side that tells one thing is, beside another side: the cycle or the season; null where they do not pair. */
function pairUp(tells: Telling, other: Telling): 'cycle' | 'season' | null {
	const seasonal = (each: Telling) => each === 'seasons' || each === 'numbers';
	const cyclic = (each: Telling) => each === 'years' || each === 'cycles';
	if (cyclic(tells) && seasonal(other)) return 'cycle';
	if (seasonal(tells) && cyclic(other)) return 'season';
	if (
		(other === 'weekdays' || other === 'hours') &&
		(tells === 'full' || tells === 'cycles' || (tells === 'seasons' && other === 'weekdays'))
	)
		return 'cycle';
	if (
		(tells === 'weekdays' || tells === 'hours') &&
		(other === 'full' || other === 'cycles' || (other === 'seasons' && tells === 'weekdays'))
	)
		return 'season';
	return null;
}

const mostly = (cells: readonly string[], fits: (cell: string) => boolean) =>
	cells.filter(fits).length > cells.length / 2;

/** Whether whole numbers run 1, 2, 3 …, blanks between them left out. */
function runsOn(cells: readonly string[]): boolean {
	const numbers = cells
		.filter((cell) => cell !== '')
		.map((cell) => (/^\d{1,9}$/.test(cell) ? Number(cell) : NaN));
	return (
		numbers.length > 0 &&
		numbers.every((value, i) => i === 0 || value === numbers[i - 1]! + 1) &&
		!Number.isNaN(numbers[0])
	);
}

/** Whether numbers of a column count periods. */
function countsPeriods(
	cells: readonly string[],
	said: boolean,
	besideAnother: boolean,
	heading: string,
): boolean {
	const says = headingSays(heading);
	if (says === 'figure' || says === 'item' || says === 'name') return false;
	const filled = cells.filter((cell) => cell !== '');
	if (filled.some((cell) => !/^\d{1,8}(\.\d+)?$/.test(cell))) return false;
	const years = filled.every((cell) => /^(19|20)\d\d$/.test(cell));
	const runs = filled.filter((cell, i) => i === 0 || cell !== filled[i - 1]);
	if (
		said &&
		(years ||
			filled.every((cell) => Number(cell) <= 53) ||
			readPeriods(filled) !== null ||
			readSerials(filled) !== null)
	)
		return true;
	if (runs.length > 1 && runsOn(runs) && (years || filled.length === runs.length))
		return filled.length > 2 || years || filled[0] === '1';
	if (years && filled.length < cells.length && runsOn(runs)) return true;
	// 1 … 12, 1 … 12 beside a column of years; years that begin anew with every item.
	if (besideAnother && filled.every((cell) => Number(cell) <= 53) && startsOver(filled)) return true;
	if (years && startsOver(runs)) return true;
	if (filled.length > 2 && (/^\d{4}\.\d\d$/.test(filled[0]!) || /^\d\d\.\d{4}$/.test(filled[0]!)))
		return readPeriods(filled) !== null;
	if (filled.length > 2 && /^\d{6}$|^\d{8}$/.test(filled[0]!)) {
		const periods = readPeriods(filled);
		return periods !== null && periods.frequency !== 'step' && isEven(periods.ordinals);
	}
	return filled.length > 2 && readSerials(filled) !== null && isEven(readSerials(filled)!.ordinals);
}

const isEven = (ordinals: readonly number[]) =>
	ordinals.every((ordinal, i) => i === 0 || ordinal > ordinals[i - 1]!) &&
	ordinals.at(-1)! - ordinals[0]! < 3 * ordinals.length;

/** Whether numbers count up by one and fall back to where they began. */
function startsOver(cells: readonly string[]): boolean {
	const numbers = cells.map(Number);
	const least = numbers.reduce((a, b) => Math.min(a, b), Infinity);
	let falls = 0;
	const steady = numbers.every((value, i) => {
		if (i === 0 || value === numbers[i - 1]! + 1) return true;
		falls++;
		return value === least;
	});
	return steady && falls > 0;
}
