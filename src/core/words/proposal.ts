import type { Note } from '../contract/note';
import { type Frequency, periodWord } from '../series/frequency';
import { figure, inWords } from '../numbers/figure';
import { percent } from './chance';
import { percentWords } from './comparison';

/** What a mix is made of; its parts stand with it. */
export function mixNote(parts: readonly (readonly [name: string, share: number])[]): Note {
	const [first, ...rest] = parts;
	return {
		code: 'proposal-mix',
		text:
			rest.length === 0
				? `${first![0]} alone did well enough in the trial to be proposed.`
				: `A combination of ${parts.length} methods, weighted by their trial errors; ${first![0]} counts most (${percent(first![1])}).`,
		figures: { parts: parts.length, share: first![1] },
	};
}

/**
 * That nothing beats repeating the last actual.
 * @param seasonal whether it is the last figure of each season that is repeated
 */
export function naiveNote(origins: number, seasonal = false): Note {
	return {
		code: 'proposal-naive',
		text:
			origins === 0
				? `Too few periods for a trial: ${seasonal ? 'seasonal naive' : 'naive'} is proposed until there are more.`
				: `In a trial on ${origins} past ${origins === 1 ? 'period' : 'periods'} no combination was clearly better than naive, so naive is proposed.`,
		figures: { origins },
	};
}

/** That nothing could be tried, and what is taken until it can. */
export const untriedNote = (name: string): Note => ({
	code: 'proposal-untried',
	text: `Too few periods for a trial: ${name} is proposed until there are more.`,
	figures: {},
});

/** That the season is that of the item's group, and why. */
export function lentNote(group: string, periods: number, frequency: Frequency, cycles: number): Note {
	return {
		code: 'proposal-lent',
		text: `${figure(periods, 0)} ${periodWord(frequency, periods)} are too few to show a season. The other items of “${group}” have one, and ${cycles < 2 ? 'the forecast takes it' : 'methods that take it were tried too'}.`,
		figures: { periods },
	};
}

/** How many did as well as the best, and how little that says of the next time. */
export function asGoodNote(good: number, of: number): Note {
	return {
		code: 'proposal-as-good',
		text:
			good > 1
				? `${good} of ${of} methods did equally well. The best one changes about half the time; a combination changes less.`
				: `1 of ${of} methods was clearly better than all others. The best one changes about half the time all the same; a combination changes less.`,
		figures: { good, of },
	};
}

/** That a method leaves periods ahead without a figure. */
export function incompleteNote(without: number, of: number): Note {
	return {
		code: 'tried-incomplete',
		text: `It has no forecast for ${without} of the ${of} periods ahead.`,
		figures: { without, of },
	};
}

/** That what lies ahead runs away from what was. */
export function farNote({ step, mean }: { step: number; mean: number | null }, swing: number): Note {
	return {
		code: 'proposal-runs-far',
		text: `The forecast ${step} ${step === 1 ? 'period' : 'periods'} ahead, ${inWords(mean!)}, is further from the latest figures than the whole history ranges (${inWords(swing)}). Check whether that is possible.`,
		figures: { step, mean, swing },
	};
}

/** What is to be known of one of the methods that were tried. */
export interface TriedFact {
	best: boolean;
	/** Whether it is worse than the best by more than the noise. */
	worse: boolean;
	/** By how much it misses more than the best does, as a share. */
	behind: number;
	/** What it missed by over what repeating the last actual did. */
	relativeError: number;
	naive: boolean;
	share: number;
}

/** What speaks for it or against it. */
export function triedNotes({ best, worse, behind, relativeError, naive, share }: TriedFact): Note[] {
	const notes: Note[] = [];
	const say = (code: string, text: string, figures: Note['figures']) => notes.push({ code, text, figures });
	if (!Number.isFinite(relativeError)) {
		if (!Number.isFinite(behind)) say('tried-nowhere', 'There are too few past periods for a trial.', {});
		return notes;
	}
	if (best) say('tried-best', 'Smallest trial error.', {});
	else if (!worse) say('tried-as-good', 'No clear difference from the best.', { behind });
	else say('tried-worse', `Error ${percentWords(100 * behind)} above the best.`, { behind });
	if (!naive && relativeError > 1) say('tried-no-better', 'No better than naive.', { relativeError });
	if (share === 0) say('tried-left-out', 'Too small a weight for the combination.', {});
	return notes;
}
