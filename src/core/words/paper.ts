import type { Rounding } from '../grading/final';
import { figure, inWordsOn, type Scale, typedFigure } from '../numbers/figure';
import { aPeriod, type Frequency, periodsInWords } from '../series/frequency';
import { describePeriod, type Ordinal } from '../series/period';
import { percent } from './chance';

/** What a page of an item says to a reader who has never seen the program. */
export interface PaperSaid {
	/** The method, as the line-up names it. */
	name: string;
	/** Whether it is another one than what is adopted. */
	besideAdopted: boolean;
	unit: string;
	/** First and last period ahead; null where nothing is forecast. */
	ahead: readonly [Ordinal, Ordinal] | null;
	/** Mean absolute error over the periods compared, and how many these are; null without an error. */
	mad: number | null;
	compared: number;
	/** How its errors in a trial stand to naive's, as the note says it; null where there are too few. */
	trial: string | null;
	/** Of the ranges that are printed; null where there are none. */
	level: number | null;
	/** Figures put in by hand, in the order of time. */
	changes: readonly { period: Ordinal; reason: string }[];
	rounding: Rounding | null;
}

/** The reasons that are told one by one; more would not be read. */
const REASONS_TOLD = 3;

/** What is forecast, by what, how good it was, what the range means, what was changed by hand and why: at most five sentences. */
export function paperSentences(
	{ name, besideAdopted, unit, ahead, mad, compared, trial, level, changes, rounding }: PaperSaid,
	frequency: Frequency,
	scale: Scale,
): string[] {
	const perPeriod = `${unit && ` ${unit}`} ${aPeriod(frequency)}`;
	if (!ahead) return [`${name} forecasts no period ahead.`];
	const [first, last] = ahead;
	const at = (period: Ordinal) => describePeriod(frequency, period);
	const when =
		first === last
			? `for ${at(first)}`
			: `for ${periodsInWords(frequency, last - first + 1)}, ${at(first)} – ${at(last)}`;
	return [
		`Demand${unit && ` in ${unit}`} is forecast ${when}, by ${name}${besideAdopted ? ', which is not adopted' : ''}.`,
		mad === null
			? ''
			: `Over the ${periodsInWords(frequency, compared)} compared its forecasts were off by ${inWordsOn(mad, scale)}${perPeriod} on average (MAD).`,
		trial ?? '',
		level === null
			? ''
			: `The ${percent(level)} range is where ${figure(100 * level, 0)} of 100 actuals should lie, if errors stay as they were.`,
		changedWords(changes, rounding, at),
	].filter((sentence) => sentence !== '');
}

/** How figures are rounded: “packs of 12, always up, at least 24”; empty where they are not. */
export const roundingWords = (rounding: Rounding | null): string =>
	[
		rounding?.pack
			? `packs of ${typedFigure(rounding.pack)}${rounding.way === 'up' ? ', always up' : ''}`
			: '',
		rounding && rounding.floor !== null ? `at least ${typedFigure(rounding.floor)}` : '',
	]
		.filter(Boolean)
		.join(', ');

function changedWords(
	changes: PaperSaid['changes'],
	rounding: Rounding | null,
	at: (period: Ordinal) => string,
): string {
	const how = roundingWords(rounding);
	const rounded = how && `; figures are rounded: ${how}`;
	if (changes.length === 0) return `No figure was changed by hand${rounded}.`;
	const byReason = new Map<string, Ordinal[]>();
	for (const { period, reason } of changes) byReason.set(reason, [...(byReason.get(reason) ?? []), period]);
	const told = [...byReason].slice(0, REASONS_TOLD).map(([reason, periods]) => {
		const [first, ...others] = periods;
		const which =
			others.length === 0
				? at(first!)
				: others.length === 1
					? `${at(first!)} and ${at(others[0]!)}`
					: `${at(first!)} and ${figure(others.length, 0)} more`;
		return `${which} (${reason ? `“${reason}”` : 'no reason given yet'})`;
	});
	const more = byReason.size - told.length;
	return `Changed by hand: ${told.join(', ')}${more > 0 ? `, and for ${figure(more, 0)} more ${more === 1 ? 'reason' : 'reasons'}` : ''}${rounded}.`;
}
