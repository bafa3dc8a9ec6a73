import type { CandidateResult } from '$core/answer';
import { periodWord } from '$core/series/frequency';
import { figure } from './format';
import type { ItemState } from './item-state.svelte';

/** What the line-up says, in a sentence or two: who misses least, and whether it is worth having. */
export function comparisonSentence(desk: ItemState): { lead: string; rest: string } | null {
	const named = desk.candidates.flatMap((candidate) => {
		const result = desk.resultFor(candidate.id);
		const mad = result?.measures.common.mad ?? null;
		return result && mad !== null ? [{ name: desk.names.get(candidate.id)!, result, mad }] : [];
	});
	const [best, second] = named.sort((a, b) => a.mad - b.mad);
	if (!best) return null;
	const { unit, series } = desk.item;
	const of = unit ? ` ${unit}` : '';
	const lead = `${best.name} misses by ${figure(best.mad, desk.decimals)}${of} a ${periodWord(series.frequency, 1)} on average${closer(best.result)}.`;
	if (!second) return { lead, rest: 'Add another candidate to compare it with.' };
	const noise = best.result.notes.find(({ code }) => code === 'lead-within-noise');
	const ahead = figure(second.mad - best.mad, desk.decimals);
	return {
		lead,
		rest: noise ? noise.text : `It leads ${second.name} by ${ahead}, more than the noise between them.`,
	};
}

function closer({ measures, method }: CandidateResult): string {
	const { theil } = measures.common;
	if (theil === null || method === 'naive') return '';
	const percent = Math.round(100 * (1 - theil));
	if (percent === 0) return ', as much as repeating the last actual';
	return percent > 0
		? `, ${percent} % closer than repeating the last actual`
		: `, ${-percent} % more than repeating the last actual`;
}
