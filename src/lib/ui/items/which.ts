import { REASONS, type ReasonCode } from '$core/grading/standing';
import { REASON_NAMES } from '$core/words/standing';
import type { ItemRow } from '../../shapes';

/** Which items are shown: all that are on the list, those to look at, by a reason, put aside, or retired. */
export type Which = 'all' | 'look' | 'aside' | 'retired' | ReasonCode;

export const WHICH_NAMES: Readonly<Record<Which, string>> = {
	all: 'all',
	look: 'to look at',
	aside: 'put aside',
	retired: 'retired',
	...REASON_NAMES,
};

export const isReason = (which: string): which is ReasonCode =>
	(REASONS as readonly string[]).includes(which);

/** What an address asks for; all where it asks for nothing that there is. */
export const whichOf = (text: string | null): Which =>
	text !== null && Object.hasOwn(WHICH_NAMES, text) ? (text as Which) : 'all';

/** Whether an item has a reason to be looked at, and nobody put it aside. */
export const toLookAt = ({ retired, standing }: ItemRow): boolean =>
	!retired && standing !== null && standing.reasons.length > 0 && !standing.aside;

export function isOne(row: ItemRow, which: Which): boolean {
	if (row.retired !== (which === 'retired')) return false;
	switch (which) {
		case 'all':
		case 'retired':
			return true;
		case 'look':
			return toLookAt(row);
		case 'aside':
			return row.standing?.aside != null;
		default:
			return row.standing?.reasons.some(({ code }) => code === which) ?? false;
	}
}

/** Whether all words that are typed stand in an item's code, name or method. */
export function isFound({ code, name, adopted }: ItemRow, typed: string): boolean {
	const text = `${code} ${name} ${adopted?.label ?? ''}`.toLowerCase();
	return typed
		.toLowerCase()
		.split(/\s+/)
		.every((word) => text.includes(word));
}
