import type { Note } from '../contract/note';
import { type Frequency, periodWord } from '../series/frequency';
import { figure, inWords } from '../numbers/figure';
import { percentWords } from './comparison';

/** A share in a sentence. */
export const percent = (share: number): string => `${Math.round(100 * share)} %`;

/** What a mix is made of; its parts stand with it. */
export function mixNote(parts: readonly (readonly [name: string, share: number])[]): Note {
	const [first, ...rest] = parts;
	return {
		code: 'proposal-mix',
		text:
			rest.length === 0
				? `${first![0]} alone did well enough on earlier periods to be proposed.`
				: `A mix of ${parts.length} methods, weighed by how close each came on earlier periods; ${first![0]} counts most, ${percent(first![1])}.`,
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
				? `Too few periods to try methods on earlier ones: ${seasonal ? 'each season’s last figure' : 'the last actual'} is repeated until there are more.`
				: `From ${origins} earlier ${origins === 1 ? 'period' : 'periods'} no mix was closer than repeating the last actual by more than the noise in that: so that is proposed.`,
		figures: { origins },
	};
}

/** That nothing could be tried, and what is taken until it can. */
export const untriedNote = (name: string): Note => ({
	code: 'proposal-untried',
	text: `Too few periods to try methods on earlier ones: ${name} is taken until there are more.`,
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
				? `${good} of ${of} methods were as good within the noise. Which one is best changes about every second time with new periods; a mix changes less.`
				: `One of ${of} methods was better than all others by more than the noise. Even so the best one changes about every second time with new periods; a mix changes less.`,
		figures: { good, of },
	};
}

/** That a method leaves periods ahead without a figure. */
export function incompleteNote(without: number, of: number): Note {
	return {
		code: 'tried-incomplete',
		text: `It has no figure for ${without} of the ${of} periods ahead.`,
		figures: { without, of },
	};
}

/** That what lies ahead runs away from what was. */
export function farNote({ step, mean }: { step: number; mean: number | null }, swing: number): Note {
	return {
		code: 'proposal-runs-far',
		text: `${step} ${step === 1 ? 'period' : 'periods'} ahead it says ${inWords(mean!)}, further from the latest figures than all of the history ever swung (${inWords(swing)}): look whether that can be.`,
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
	closeness: number;
	naive: boolean;
	share: number;
}

/** What speaks for it or against it. */
export function triedNotes({ best, worse, behind, closeness, naive, share }: TriedFact): Note[] {
	const notes: Note[] = [];
	const say = (code: string, text: string, figures: Note['figures']) => notes.push({ code, text, figures });
	if (!Number.isFinite(closeness)) {
		if (!Number.isFinite(behind)) say('tried-nowhere', 'There was no earlier period to try it from.', {});
		return notes;
	}
	if (best) say('tried-best', 'It came closest.', {});
	else if (!worse) say('tried-as-good', 'As good as the closest, within the noise.', { behind });
	else say('tried-worse', `It missed by ${percentWords(100 * behind)} more than the closest.`, { behind });
	if (!naive && closeness > 1)
		say('tried-no-better', 'It came no closer than repeating the last actual.', { closeness });
	if (share === 0) say('tried-left-out', 'It would hardly count in a mix.', {});
	return notes;
}
