import { isClear, LEAST_PAIRS, type Loss, type PairedLead, type ShareLead } from '../accuracy/lead';
import { figure, inWordsOn, scaled, scaleOf } from '../numbers/figure';
import type { Note } from '../contract/note';

/** A percentage in a sentence. */
export function percentWords(percent: number): string {
	if (percent < 0.05) return 'under 0.1 %';
	if (percent >= 99.5 && percent < 100) return 'over 99 %';
	return `${figure(percent, percent >= 9.95 ? 0 : 1)} %`;
}

/** That two settings of the constants fit almost equally. */
export function twoMinimaWords(
	constants: readonly { key: string; symbol: string }[],
	best: { constants: Readonly<Record<string, number>>; value: number },
	second: { constants: Readonly<Record<string, number>>; value: number },
): { text: string; percent: number } {
	const percent = best.value > 0 ? 100 * (second.value / best.value - 1) : 0;
	return {
		text: `Two settings fit almost equally, ${spotWords(constants, best.constants)} and ${spotWords(constants, second.constants)} (${percent.toFixed(2)} % apart). New data may swap them.`,
		percent,
	};
}

/** Constants with their values: “α 0.20, β 0.10”. */
export const spotWords = (
	constants: readonly { key: string; symbol: string }[],
	at: Readonly<Record<string, number>>,
): string =>
	constants
		.filter(({ key }) => key in at)
		.map(({ key, symbol }) => `${symbol} ${at[key]!.toFixed(2)}`)
		.join(', ');

/**
 * What the best of the compared candidates is ahead by, said on that candidate.
 * @param second the next one by MAD, of rare demand by MSE
 * @param over the window in words: “the 24 months compared”
 */
export function leadNote(
	paired: PairedLead | ShareLead,
	second: { id: string; name: string },
	over: string,
	loss: Loss = 'size',
): Note {
	const { lead, noise, count } = paired;
	const figures = { lead, noise, runnerUp: second.id, periods: count };
	if (paired.same)
		return { code: 'lead-none', text: `${second.name} forecasts the same over ${over}.`, figures };
	if (lead === 0)
		return { code: 'lead-none', text: `${second.name} has the same error over ${over}.`, figures };
	// Lead and noise on one scale, so that they can be held against each other.
	const scale = scaleOf([Math.max(lead, noise ?? 0)]);
	const inShares = 'gain' in paired;
	const sizeOf = (value: number) =>
		inShares ? percentWords(100 * Math.expm1(value)) : inWordsOn(value, scale);
	const ahead = inShares
		? percentWords(100 * paired.gain)
		: /[1-9]/.test(scaled(lead, scale))
			? inWordsOn(lead, scale)
			: 'next to nothing';
	const of = inShares ? 'Its trial error' : loss === 'square' ? 'MSE' : 'MAD';
	const by = `${of} is ${ahead} lower than that of ${second.name}`;
	if (noise === null)
		return {
			code: 'lead-not-told',
			text: `${by}; ${count} periods are too few to tell that from chance (at least ${LEAST_PAIRS}).`,
			figures,
		};
	return isClear(paired)
		? {
				code: 'lead-clear',
				text: `${by} (±${sizeOf(noise)}): a clear difference.`,
				figures,
			}
		: {
				code: 'lead-may-be-chance',
				text: `${by} (±${sizeOf(noise)}) over ${over}: may be chance.`,
				figures,
			};
}

/**
 * How forecasts made beforehand stand to repeating the last actual.
 * @param share of what that misses by, over all origins and steps
 * @param paired the same as differences origin by origin
 * @param from the origins in words: “36 earlier months”
 * @returns null where there are too few to say
 */
export function naiveNote(share: number, paired: ShareLead, from: string, loss: Loss = 'size'): Note | null {
	if (paired.noise === null) return null;
	const percent = percentWords(100 * Math.abs(1 - share));
	const clear = isClear(paired) ? 'a clear difference' : 'may be chance';
	const said =
		paired.gain === 0
			? 'as large as naive’s'
			: `${percent} ${paired.gain > 0 ? 'below' : 'above'} naive’s (${clear})`;
	return {
		code: paired.gain > 0 ? 'closer-than-naive' : 'no-better-than-naive',
		text: `In a trial on ${from} its ${loss === 'square' ? 'root mean squared' : 'average'} error was ${said}.`,
		figures: { relativeError: share, lead: paired.lead, noise: paired.noise, origins: paired.count },
	};
}
