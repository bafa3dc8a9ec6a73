import { SvelteMap } from 'svelte/reactivity';
import type { Frequency } from '$core/series/frequency';
import { describePeriod, formatPeriod, type Ordinal } from '$core/series/period';
import type { NewestSaid } from '$core/words/status';
import type { TableReader } from '../../reading/table-reader';
import type { BroughtIn } from '../../wire/bring-in';
import type { ItemRow } from '../../wire/list';
import { sendTable } from '../base/send-table';

const KEPT = 'ventrel-entered';

/** An item with the figure that was entered for it. */
interface Entered {
	name: string;
	unit: string;
	figure: number;
}

/** What was pasted, held against the list. */
export interface Pasted {
	taken: number;
	/** Codes that no row has, and what else could not be taken. */
	unknown: string[];
	problem: string | null;
}

/** Figures of one period for many items, entered in the list. They leave it as a table, as every figure comes in. */
export class EnteredFigures {
	frequency = $state<Frequency>('month');
	period = $state<Ordinal>(0);
	readonly figures = new SvelteMap<string, Entered>();
	/** How many were brought in of this period. */
	brought = $state(0);
	sending = $state(false);

	/** @param reading what reads tables: it comes when something is pasted */
	constructor(
		private readonly reading: () => Promise<Pick<TableReader, 'openText' | 'readTable'>> = async () =>
			(await import('../../browser-worker/arithmetic')).arithmetic() as never,
	) {}

	/** The period that most items wait for: the newest one while most lack it, else the next. */
	begin(newest: readonly NewestSaid[]): void {
		const most = newest.reduce<NewestSaid | null>(
			(best, each) => (each.items > (best?.items ?? 0) ? each : best),
			null,
		);
		if (!most) return;
		this.frequency = most.frequency;
		this.period = most.period + (2 * most.have < most.items ? 0 : 1);
		this.#restore();
	}

	get name(): string {
		return describePeriod(this.frequency, this.period);
	}

	/** Another period; what was entered is of the one before. @param by periods later */
	move(by: number): void {
		this.figures.clear();
		this.brought = 0;
		this.period += by;
		this.#keep();
	}

	/** Whether a figure can be entered for an item: it is of this frequency, no group total, and has none yet. */
	canTake(row: ItemRow): boolean {
		return (
			row.frequency === this.frequency &&
			!row.sum &&
			!row.retired &&
			(row.shown?.last ?? -Infinity) < this.period
		);
	}

	take({ code, name, unit }: Pick<ItemRow, 'code' | 'name' | 'unit'>, figure: number | null): void {
		if (figure === null) this.figures.delete(code);
		else this.figures.set(code, { name, unit, figure });
		this.#keep();
	}

	/**
	 * Takes what was pasted: figures alone go down the rows from one on, codes with figures to the items that have them.
	 * @param rows of the list, those that figures alone go down first
	 */
	async paste(
		text: string,
		down: readonly ItemRow[],
		all: readonly ItemRow[],
		mark: '.' | ',',
	): Promise<Pasted> {
		const lines = text.replace(/\r\n?/g, '\n').replace(/\n$/, '').split('\n');
		const period = {
			frequency: this.frequency,
			first: String(formatPeriod(this.frequency, this.period)),
			decimal: mark,
		};
		const filled = lines.flatMap((line, i) => (line.trim() === '' ? [] : [[i, line.trim()] as const]));
		const alone = lines.every((line) => !line.includes('\t') && !/[;|]/.test(line));
		const table = alone ? `item;figure\n${filled.map(([i, line]) => `${i + 1}_;${line}`).join('\n')}` : text;
		const reader = await this.reading();
		await reader.openText(table);
		const reading = await reader.readTable(
			alone
				? {
						...period,
						delimiter: ';',
						columns: { 0: 'item', 1: 'figure' },
						// Each is a figure, or refused: none is a remark.
						rows: Object.fromEntries(filled.map((_, i) => [i + 1, 'figures'])),
					}
				: period,
		);
		const refused = reading.problem ?? reading.items.find(({ problem }) => problem !== null)?.problem ?? null;
		if (refused !== null) return { taken: 0, unknown: [], problem: refused };
		const byCode = Object.fromEntries(all.map((row) => [row.code, row]));
		const unknown: string[] = [];
		let taken = 0;
		for (const item of reading.items) {
			const row = alone
				? down[Number.parseInt(item.code) - 1]
				: Object.hasOwn(byCode, item.code)
					? byCode[item.code]
					: undefined;
			const at = item.first + item.values.length - 1;
			const figure = item.values.at(-1);
			if (!row) unknown.push(item.code);
			else if (this.canTake(row) && figure !== null && figure !== undefined && at === this.period) {
				this.take(row, figure);
				taken++;
			}
		}
		return {
			taken,
			unknown: alone ? [] : unknown,
			problem: taken === 0 ? `Nothing of this is a figure of ${this.name} for an item of the list.` : null,
		};
	}

	/** Brings in what was entered, all or nothing. @throws CallError with a sentence to show */
	async bringIn(): Promise<BroughtIn[]> {
		this.sending = true;
		try {
			const entered = [...this.figures];
			const text = [['item', this.name], ...entered.map(([code, { figure }]) => [code, String(figure)])]
				.map((cells) => cells.map((cell) => `"${cell.replaceAll('"', '""')}"`).join(';'))
				.join('\n');
			const brought = await sendTable<BroughtIn[]>(
				'/api/v1/bring-in',
				{
					fileName: `entered in the list, ${this.name}`,
					choices: {
						delimiter: ';',
						decimal: '.',
						codes: 'whole',
						frequency: this.frequency,
						columns: { 0: 'item', 1: 'figure' },
						rows: { 0: 'period' },
					},
					items: entered.map(([code, { name, unit }]) => ({ from: code, code, name, unit })),
				},
				text,
			);
			this.figures.clear();
			this.brought += brought.length;
			this.#keep();
			return brought;
		} finally {
			this.sending = false;
		}
	}

	/** What was entered outlives a reload. */
	#keep(): void {
		if (this.figures.size === 0) sessionStorage.removeItem(KEPT);
		else
			sessionStorage.setItem(
				KEPT,
				JSON.stringify({ frequency: this.frequency, period: this.period, figures: [...this.figures] }),
			);
	}

	#restore(): void {
		const kept = sessionStorage.getItem(KEPT);
		if (!kept) return;
		const { frequency, period, figures } = JSON.parse(kept) as {
			frequency: Frequency;
			period: Ordinal;
			figures: [string, Entered][];
		};
		this.frequency = frequency;
		this.period = period;
		for (const [code, entered] of figures) this.figures.set(code, entered);
	}

	/** Whether figures were entered before the page was loaded again. */
	static get left(): boolean {
		return sessionStorage.getItem(KEPT) !== null;
	}
}
