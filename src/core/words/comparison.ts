import { isClear, LEAST_PAIRS, type PairedLead } from '../accuracy/paired';
import { figure, inWordsOn, scaled, scaleOf } from '../numbers/figure';
import type { Note } from '../contract/note';

/** A percentage in a sentence. */
export function percentWords(percent: number): string {
	if (percent < 0.05) return 'less than 0.1 %';
	return `${figure(percent, percent >= 9.95 ? 0 : 1)} %`;
}

/**
 * What the best of the compared candidates is ahead by, said on that candidate.
 * @param second the next one by MAD
 * @param over the window in words: “the 24 months compared”
 */
export function leadNote(paired: PairedLead, second: { id: string; name: string }, over: string): Note {
	const { lead, noise, count } = paired;
	const figures = { lead, noise, runnerUp: second.id, periods: count };
	if (paired.same)
		return { code: 'lead-none', text: `${second.name} forecasts the same over ${over}.`, figures };
	if (lead === 0)
		return { code: 'lead-none', text: `${second.name} misses by the same over ${over}.`, figures };
	// Lead and noise on one scale, so that they can be held against each other.
	const scale = scaleOf([Math.max(lead, noise ?? 0)]);
	const said = scaled(lead, scale);
	const by = `It leads ${second.name} by ${/[1-9]/.test(said) ? inWordsOn(lead, scale) : 'next to nothing'}`;
	if (noise === null)
		return {
			code: 'lead-not-told',
			text: `${by}, over too few periods to tell from chance: ${count} of at least ${LEAST_PAIRS}.`,
			figures,
		};
	return isClear(paired)
		? {
				code: 'lead-clear',
				text: `${by}, more than the noise in that, ±${inWordsOn(noise, scale)}.`,
				figures,
			}
		: {
				code: 'lead-within-noise',
				text: `${by}, less than the noise in that, ±${inWordsOn(noise, scale)}: over ${over} the two cannot be told apart.`,
				figures,
			};
}

/**
 * How a candidate stands to repeating the last actual.
 * @param share its MAD over that of the naive forecast, where both exist
 * @param paired the same as paired differences
 * @returns null where too few periods are shared to say
 */
export function naiveNote(share: number, paired: PairedLead, over: string): Note | null {
	if (paired.noise === null) return null;
	const figures = { theil: share, lead: paired.lead, noise: paired.noise, periods: paired.count };
	const percent = percentWords(100 * Math.abs(1 - share));
	if (paired.lead === 0)
		return {
			code: 'no-better-than-naive',
			text: `It misses by as much as repeating the last actual over ${over}.`,
			figures,
		};
	if (paired.lead > 0)
		return {
			code: 'closer-than-naive',
			text: `It is ${percent} closer than repeating the last actual${isClear(paired) ? '' : ', within the noise'}.`,
			figures,
		};
	return {
		code: 'no-better-than-naive',
		text: isClear(paired)
			? `It misses by ${percent} more than repeating the last actual over ${over}.`
			: `It is no closer than repeating the last actual over ${over}: ${percent} further off, within the noise.`,
		figures,
	};
}
