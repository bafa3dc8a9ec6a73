import type { AheadStep } from '$core/questions/answer';
import type { WorkingTable } from '$core/questions/working-table';

import type { Cell } from './cells';

/** What a table of the working is taken away with. */
export interface WorkingToTake {
	/** Says item, candidate and constants. */
	title: string;
	table: Pick<WorkingTable, 'periods' | 'columns' | 'ahead'>;
	ahead: readonly AheadStep[];
	/** Names a period by its 1-based position, as data writes it. */
	period(t: number): string;
}

/**
 * The arithmetic as rows: a title, column names, their equations, the equation of what lies ahead, then a row a
 * period and one for each to come, which has a forecast alone.
 */
export function workingRows({ title, table, ahead, period }: WorkingToTake): Cell[][] {
	const { columns } = table;
	const known = table.periods;
	const only = (value: Cell) => columns.map(({ key }) => (key === 'fitted' ? value : null));
	return [
		[title],
		['period', ...columns.map(({ name }) => name)],
		['equation', ...columns.map(({ equation }) => equation)],
		...(ahead.length > 0 ? [['ahead', ...only(table.ahead)]] : []),
		...Array.from({ length: known }, (_, i) => [
			period(i + 1),
			...columns.map((column) => column.value(i + 1)),
		]),
		...ahead.map(({ mean }, i) => [period(known + i + 1), ...only(mean)]),
	];
}
