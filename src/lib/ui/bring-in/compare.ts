import type { Frequency } from '$core/series/frequency';
import { periodWord } from '$core/series/frequency';
import type { Ordinal } from '$core/series/period';
import type { ReadItem, Reading } from '../../reading/reading';
import { labelOf } from '../../wire/labels';
import type { StoredSeries } from '../../wire/items';

/** How an item of a table stands to what is kept under its code. */
export interface Comparison {
	/** Periods that are not kept yet, periods that are kept with another figure, and periods that are the same. */
	added: number;
	corrected: { period: Ordinal; from: number; to: number }[];
	same: number;
	/** Labels that it is given, or that become others: “Family: Wheels → Brakes”. */
	relabelled: string[];
	/** Why the two cannot be put together; null where they can. */
	problem: string | null;
}

/**
 * Compares an item of a table with what is kept. A blank takes no kept figure away.
 * @param stored null for an item that is new
 */
export function compareItem(
	item: ReadItem,
	{ frequency, labels }: Pick<Reading, 'frequency' | 'labels'>,
	stored: StoredSeries | null,
): Comparison {
	const none = { added: 0, corrected: [], same: 0, relabelled: [], problem: null };
	if (!stored) return { ...none, added: item.values.length };
	if (stored.frequency !== frequency) {
		const problem = `it is saved by the ${periodWord(stored.frequency, 1)}, and the table is by the ${periodWord(frequency, 1)}`;
		return { ...none, problem };
	}
	const comparison: Comparison = {
		...none,
		corrected: [],
		relabelled: labels.flatMap((of, i) => {
			const [before, label] = [labelOf(stored.labels, of), item.labels[i]!];
			if (label === '' || label === before) return [];
			return [before === undefined ? `${of}: ${label}` : `${of}: ${before} → ${label}`];
		}),
	};
	for (const [i, value] of item.values.entries()) {
		const at = item.first + i - stored.first;
		const inside = at >= 0 && at < stored.values.length;
		const kept = inside ? stored.values[at]! : null;
		// As the server counts them (`takeStaged`).
		if (value === null || kept === value) comparison.same++;
		else if (kept === null) comparison.added++;
		else comparison.corrected.push({ period: item.first + i, from: kept, to: value });
	}
	return comparison;
}

/** “new, 36 months”, “3 new, 1 differs, 32 the same”. */
export function comparisonWords(
	{ added, corrected, same, relabelled }: Comparison,
	isNew: boolean,
	frequency: Frequency,
): string {
	if (isNew) return `new item, ${added} ${periodWord(frequency, added)}`;
	const parts = [
		added > 0 && `${added} new`,
		corrected.length > 0 && `${corrected.length} ${corrected.length === 1 ? 'differs' : 'differ'}`,
		same > 0 && `${same} the same`,
		relabelled.length > 0 && relabelled.slice(0, 2).join(', '),
		relabelled.length > 2 && `${relabelled.length - 2} more labels`,
	].filter((part) => typeof part === 'string');
	return parts.join(', ') || 'nothing new';
}
