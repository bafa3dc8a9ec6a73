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

/** Labels that items are wanted to have; a blank one asks for those without. */
export type Wanted = Readonly<Record<string, string>>;

export const hasLabels = ({ labels }: Pick<ItemRow, 'labels'>, wanted: Wanted): boolean =>
	Object.entries(wanted).every(([of, label]) => (labels[of] ?? '') === label);

/** “Brakes”; “no Family”. */
export const labelName = (of: string, label: string): string => (label === '' ? `no ${of}` : label);

/** The labels that an address asks for. */
export const wantedIn = (params: URLSearchParams): Wanted =>
	Object.fromEntries(
		params.getAll('label').flatMap((written) => {
			const [of = '', label = ''] = written.split('=', 2).map(decodeURIComponent);
			return of === '' ? [] : [[of, label]];
		}),
	);

/** Puts what is asked for into an address. */
export function askFor(params: URLSearchParams, which: Which, wanted: Wanted): void {
	if (which === 'all') params.delete('why');
	else params.set('why', which);
	params.delete('label');
	for (const [of, label] of Object.entries(wanted))
		params.append('label', `${encodeURIComponent(of)}=${encodeURIComponent(label)}`);
}

/** What items are labelled with: each label of each kind, blank for those without, and how many have it. */
export function labelsOf(
	rows: readonly Pick<ItemRow, 'labels'>[],
): { of: string; label: string; count: number }[] {
	const kinds = [...new Set(rows.flatMap(({ labels }) => Object.keys(labels)))].sort((a, b) =>
		a.localeCompare(b),
	);
	return kinds.flatMap((of) => {
		const counts = new Map<string, number>();
		for (const { labels } of rows) counts.set(labels[of] ?? '', (counts.get(labels[of] ?? '') ?? 0) + 1);
		return [...counts]
			.map(([label, count]) => ({ of, label, count }))
			.sort((a, b) => Number(a.label === '') - Number(b.label === '') || a.label.localeCompare(b.label));
	});
}

/** Whether all words that are typed stand in an item's code, name, labels or method. */
export function isFound({ code, name, labels, adopted }: ItemRow, typed: string): boolean {
	const text = `${code} ${name} ${Object.values(labels).join(' ')} ${adopted?.label ?? ''}`.toLowerCase();
	return typed
		.toLowerCase()
		.split(/\s+/)
		.every((word) => text.includes(word));
}
