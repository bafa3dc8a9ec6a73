import { periodWord } from '$core/series/frequency';
import { inMark } from '../../reader.svelte';
import { inWordsOn } from '../format';
import type { ItemState } from './item-state.svelte';

/** What is said where each candidate is shown over its own periods: by choice, or because none is shared. */
const NOTHING_COMPARED = {
	own: {
		best: null,
		lead: 'Nothing is compared here.',
		rest: 'Each figure is over its candidate’s own periods; “all” compares them over the same ones.',
	},
	common: {
		best: null,
		lead: 'Nothing is compared:',
		rest: 'no period can be scored for all of these candidates. Remove one, or bring in more periods.',
	},
};

/** What the line-up says, in a sentence or two: who misses least, and whether it is worth having. */
export function comparisonSentence(
	desk: ItemState,
): { best: string | null; lead: string; rest: string } | null {
	const named = desk.candidates.flatMap((candidate) => {
		const result = desk.resultFor(candidate.id);
		const mad = result?.measures.common.mad ?? null;
		return result && mad !== null ? [{ name: desk.names.get(candidate.id)!, result, mad }] : [];
	});
	const [best, second] = named.sort((a, b) => a.mad - b.mad);
	if (desk.judged === 'own') return NOTHING_COMPARED[desk.window];
	if (!best) return null;
	const { unit, series } = desk.item;
	const of = unit ? ` ${unit}` : '';
	const mad = inWordsOn(best.mad, desk.measureScales.mad);
	const said = desk
		.notesOf(best.result.id)
		.filter(({ code }) => code.startsWith('lead-') || code.endsWith('-than-naive'));
	const rest = said.map(({ text }) => text);
	if (!second) rest.push('Add another candidate to compare it with.');
	return {
		best: best.result.id,
		lead: `${best.name} misses by ${mad}${of} a ${periodWord(series.frequency, 1)} on average.`,
		rest: inMark(rest.join(' ')),
	};
}
