import type { Loss } from '../accuracy/lead';
import type { Judged } from '../accuracy/windows';
import type { Note } from '../contract/note';
import { inWordsOn, type Scale } from '../numbers/figure';
import { aPeriod, type Frequency } from '../series/frequency';

/** What the line-up says, in a sentence or two. */
export interface LineUpSays {
	/** The candidate that misses least; null where nothing is compared. */
	best: string | null;
	lead: string;
	rest: string;
}

/** What is said where each candidate is shown over its own periods: by choice, or because none is shared. */
const NOTHING_COMPARED: Record<Judged, LineUpSays> = {
	own: {
		best: null,
		lead: 'Nothing is compared.',
		rest: 'Each candidate is measured over its own periods. Press “all” to compare them over the same ones.',
	},
	common: {
		best: null,
		lead: 'Nothing is compared:',
		rest: 'no period has a forecast of every candidate. Remove one, or bring in more periods.',
	},
};

/**
 * Who misses least, and whether it is worth having; null where there is nobody.
 * @param judged over what candidates were judged, and `asked`, over what they were to be
 * @param misses mean absolute deviation of each candidate over the common window; of rare demand the root of the mean squared error
 * @param loss what errors count for
 */
export function lineUpWords(
	judged: Judged,
	asked: Judged,
	misses: readonly { id: string; name: string; size: number; notes: readonly Note[] }[],
	scale: Scale,
	unit: string,
	frequency: Frequency,
	loss: Loss = 'size',
): LineUpSays | null {
	if (judged === 'own') return NOTHING_COMPARED[asked];
	const [best, second] = [...misses].sort((a, b) => a.size - b.size);
	if (!best) return null;
	const said = best.notes.filter(({ code }) => code.startsWith('lead-') || code.endsWith('-than-naive'));
	const rest = said.map(({ text }) => text);
	if (!second) rest.push('Add another candidate to compare it with.');
	return {
		best: best.id,
		lead:
			loss === 'square'
				? `${best.name} has the smallest RMSE: ${inWordsOn(best.size, scale)}${unit && ` ${unit}`} ${aPeriod(frequency)}.`
				: `${best.name} has the smallest MAD: ${inWordsOn(best.size, scale)}${unit && ` ${unit}`} ${aPeriod(frequency)}.`,
		rest: rest.join(' '),
	};
}
