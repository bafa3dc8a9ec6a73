import type { Grade, Score } from '../grading/grades';
import { type Reason, REASONS, type ReasonCode } from '../grading/standing';
import type { Candidate } from '../methods/registry';
import { figure, inWordsOn, type Scale } from '../numbers/figure';
import { type Frequency, periodsInWords, periodWord } from '../series/frequency';
import { describePeriod } from '../series/period';
import { percent } from './proposal';

/** What a reason is called where items are filtered by it. */
export const REASON_NAMES: Readonly<Record<ReasonCode, string>> = {
	'no-forecast': 'no forecast',
	'ran-out': 'ran out',
	'not-in': 'not in',
	outside: 'outside',
	drifts: 'drifts',
	'worse-than-naive': 'worse than naive',
	'ranges-off': 'ranges off',
};

/** What proposing again is worth; measured elsewhere on published series. */
export const PROPOSE_AGAIN =
	'Tries the methods again on all figures. After a flag a new proposal missed by 14 % less in tests, without one by 1 %.';

/** What keeping constants costs a forecast; empty where nothing is known of it. */
export const keptWarning = (candidate: Candidate): string =>
	candidate.method === 'holt-winters' && candidate.trend === 'additive'
		? 'With kept constants, Holt-Winters with an undamped trend is called biased without cause in 26 % of 24 periods; searched again, in 8 %.'
		: '';

/** A number of periods that a chance is once in: two digits that count, never more than the table knows. */
const onceIn = (periods: number) =>
	periods > 1000 ? 'less than once in 1\u202f000' : `once in ${figure(Number(periods.toPrecision(2)), 0)}`;

/** A small chance in words: “1 in 20”. */
const oneIn = (chance: number) =>
	chance < 0.001 ? 'less than 1 in 1\u202f000' : `1 in ${figure(Number((1 / chance).toPrecision(2)), 0)}`;

/**
 * Why to look at an item, in a sentence with its chance.
 * @param scale of the item's figures
 */
export function reasonWords(reason: Reason, frequency: Frequency, scale: Scale): string {
	const said = (value: number) => inWordsOn(value, scale);
	const at = (period: number) => describePeriod(frequency, period);
	switch (reason.code) {
		case 'no-forecast':
			return 'no forecast adopted yet';
		case 'ran-out':
			return reason.left === 0
				? `its forecast ended with ${at(reason.until)}`
				: `its forecast ends with ${at(reason.until)}: ${periodsInWords(frequency, reason.left)} left, its lead time is ${reason.needed}`;
		case 'not-in':
			return `${at(reason.newest)} is not in; ${reason.have} of ${reason.items} have it`;
		case 'outside':
			return `${at(reason.period)} came in at ${said(reason.actual)}, ${said(Math.abs(reason.by))} ${reason.by > 0 ? 'above' : 'below'} its ${percent(reason.level)} range; ${oneIn(reason.chance)} of sound forecasts is missed so`;
		case 'drifts':
			return `demand has run ${reason.side} the forecast since ${at(reason.from)}, by ${said(Math.abs(reason.off))} a ${periodWord(frequency, 1)} on average; a sound forecast shows this ${onceIn(reason.periods)} ${periodWord(frequency, 2)}`;
		case 'worse-than-naive':
			return `repeating the last actual was closer over ${periodsInWords(frequency, reason.grades)}, by ${said(reason.by)} a ${periodWord(frequency, 1)}, more than the noise`;
		case 'ranges-off':
			return `only ${reason.inside} of ${reason.of} inside its ${percent(reason.level)} range; of sound ranges ${oneIn(reason.chance)} holds so few`;
	}
}

/** What a set of grades comes to, in a sentence; null where there are none. */
export function scoreWords({ final, inside }: Score, frequency: Frequency, scale: Scale): string | null {
	if (final.count === 0 || final.mad === null) return null;
	const held = inside.map(({ level, inside: count, of }) => `${count} of ${of} inside ${percent(level)}`);
	const against =
		final.theil === null
			? ''
			: final.theil < 1
				? `, ${percent(1 - final.theil)} closer than repeating the last actual from the same origins`
				: `, no closer than repeating the last actual from the same origins`;
	return `Over ${periodsInWords(frequency, final.count)} it missed by ${inWordsOn(final.mad, scale)} on average${against}${held.length > 0 ? `; ${held.join(', ')}` : ''}.`;
}

/** What changes by hand and rounding brought; null where nothing was changed. */
export function addedWords({ changed }: Score, frequency: Frequency, scale: Scale): string | null {
	if (changed.count === 0 || changed.added === null) return null;
	const size = inWordsOn(Math.abs(changed.added), scale);
	const what =
		changed.added > 0
			? `brought it closer by ${size}`
			: changed.added < 0
				? `took it further off by ${size}`
				: 'made no difference';
	return `In the ${periodsInWords(frequency, changed.count)} whose figure was changed or rounded, that ${what} on average.`;
}

/** How the newest period of a frequency stands. */
export interface NewestSaid {
	frequency: Frequency;
	period: number;
	items: number;
	have: number;
	/** Of those that have it and a forecast with a range for it: how many lay inside the widest one. */
	graded: number;
	inside: number;
	/** By reason, how many items show it, whatever else they show. */
	reasons: Partial<Record<ReasonCode, number>>;
}

/** “Nov 2026: 27 of 30 in, 24 of 25 inside their range, 2 drift”, in parts that each name what they count. */
export function newestWords({ frequency, period, items, have, graded, inside, reasons }: NewestSaid): {
	head: string;
	parts: { text: string; reason: ReasonCode | null }[];
} {
	const counted: Partial<Record<ReasonCode, (count: number) => string>> = {
		'no-forecast': (count) => `${figure(count, 0)} without a forecast`,
		'ran-out': (count) => `${figure(count, 0)} ran out`,
		drifts: (count) => `${figure(count, 0)} ${count === 1 ? 'drifts' : 'drift'}`,
		'worse-than-naive': (count) => `${figure(count, 0)} worse than naive`,
		'ranges-off': (count) => `${figure(count, 0)} with ranges off`,
	};
	return {
		head: describePeriod(frequency, period),
		parts: [
			{ text: `${figure(have, 0)} of ${figure(items, 0)} in`, reason: have < items ? 'not-in' : null },
			...(graded > 0
				? [
						{
							text: `${figure(inside, 0)} of ${figure(graded, 0)} inside their range`,
							reason: inside < graded ? ('outside' as const) : null,
						},
					]
				: []),
			...REASONS.flatMap((code) => {
				const words = counted[code];
				const count = reasons[code] ?? 0;
				return words && count > 0 ? [{ text: words(count), reason: code }] : [];
			}),
		],
	};
}

/** The narrowest range that held an actual: “80 %”, “outside”; empty where there was no range. */
export const insideWords = ({ inside, ranged }: Pick<Grade, 'inside' | 'ranged'>): string =>
	!ranged ? '' : inside === null ? 'outside' : percent(inside);

/** Why to look at an item, as short as a row of a list; its chance stands in brackets. */
export function reasonShort(reason: Reason, frequency: Frequency, scale: Scale): string {
	const said = (value: number) => inWordsOn(Math.abs(value), scale);
	const at = (period: number) => describePeriod(frequency, period);
	switch (reason.code) {
		case 'outside':
			return `${at(reason.period)}: ${inWordsOn(reason.actual, scale)}, ${said(reason.by)} ${reason.by > 0 ? 'above' : 'below'} its ${percent(reason.level)} range (${oneIn(reason.chance)})`;
		case 'drifts':
			return `runs ${said(reason.off)} ${reason.side} since ${at(reason.from)} (${onceIn(reason.periods)})`;
		case 'worse-than-naive':
			return `the last actual repeated is closer, by ${said(reason.by)} over ${reason.grades}`;
		case 'ranges-off':
			return `${reason.inside} of ${reason.of} inside its ${percent(reason.level)} range (${oneIn(reason.chance)})`;
		default:
			return reasonWords(reason, frequency, scale);
	}
}
