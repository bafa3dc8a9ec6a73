import type { Grade, Score } from '../grading/grades';
import { type Reason, REASONS, type ReasonCode } from '../grading/reasons';
import type { Candidate } from '../methods/registry';
import { figure, inWordsOn, type Scale } from '../numbers/figure';
import { aPeriod, type Frequency, periodsInWords, periodWord } from '../series/frequency';
import { describePeriod } from '../series/period';
import { chanceWords, percent } from './chance';

/** What a reason is called where items are filtered by it. */
export const REASON_NAMES: Readonly<Record<ReasonCode, string>> = {
	'no-forecast': 'no forecast',
	'ran-out': 'forecast too short',
	'not-in': 'no actuals',
	outside: 'outside its range',
	drifts: 'biased',
	'worse-than-naive': 'naive is better',
	'ranges-off': 'ranges unreliable',
};

/** What proposing again is worth; measured elsewhere on published series. */
export const PROPOSE_AGAIN =
	'Tries the methods again on all figures. In tests this cut the error by 14 % after a flag, and by 1 % without one.';

/** What keeping constants costs a forecast; empty where nothing is known of it. */
export const keptWarning = (candidate: Candidate): string =>
	candidate.method === 'holt-winters' && candidate.trend === 'additive'
		? 'With kept constants, about 1 in 4 Holt-Winters forecasts with an undamped trend are called biased without cause within 24 periods; searched again, about 1 in 12.'
		: '';

/** What helps against each of them. */
const HELPS: Readonly<Record<ReasonCode, string>> = {
	'no-forecast': 'propose one',
	'ran-out': 'update it',
	'not-in': 'bring them in, or retire the item',
	outside: 'check the figure, and leave it out if it was one-off',
	drifts: 'propose again',
	'worse-than-naive': 'propose again, or adopt naive',
	'ranges-off': 'do not stock by its ranges',
};

/** Why to look at an item, as short as a row of a list. @param scale of the item's figures */
export function reasonShort(reason: Reason, frequency: Frequency, scale: Scale, unit = ''): string {
	const said = (value: number) => inWordsOn(Math.abs(value), scale);
	const at = (period: number) => describePeriod(frequency, period);
	const perPeriod = `${unit && ` ${unit}`} ${aPeriod(frequency)}`;
	switch (reason.code) {
		case 'no-forecast':
			return 'no forecast adopted';
		case 'ran-out':
			return `forecast too short: ${periodsInWords(frequency, reason.left)} left, lead time ${reason.needed}`;
		case 'not-in':
			return `no actuals since ${at(reason.last)} (${periodsInWords(frequency, reason.newest - reason.last)})`;
		case 'outside': {
			const [side, to] = reason.by > 0 ? ['above', 'up to'] : ['below', 'from'];
			return `${at(reason.period)}: ${inWordsOn(reason.actual, scale)}, ${side} its ${percent(reason.level)} range (${to} ${inWordsOn(reason.actual - reason.by, scale)})`;
		}
		case 'drifts':
			return `forecast ${said(reason.off)}${perPeriod} too ${reason.side === 'above' ? 'low' : 'high'} since ${at(reason.from)}`;
		case 'worse-than-naive':
			return `naive is better by ${said(reason.by)}${perPeriod} (${periodsInWords(frequency, reason.grades)})`;
		case 'ranges-off':
			return `${reason.inside} of ${reason.of} inside its ${percent(reason.level)} range, ${figure(reason.of * reason.level, 0)} expected`;
	}
}

/** The same with what helps. */
export const reasonWords = (reason: Reason, frequency: Frequency, scale: Scale, unit = ''): string =>
	`${reasonShort(reason, frequency, scale, unit)} – ${HELPS[reason.code]}`;

/** How often a forecast shows as much that is as good as it says; null for statements of fact. */
export function reasonChance(reason: Reason, frequency: Frequency): string | null {
	switch (reason.code) {
		case 'outside':
		case 'ranges-off':
			return `By chance alone in ${chanceWords(reason.chance, 'forecasts')}.`;
		case 'drifts':
			return `By chance alone once in ${reason.periods > 1000 ? 'more than 1\u202f000' : `about ${figure(Number(reason.periods.toPrecision(2)), 0)}`} ${periodWord(frequency, 2)}.`;
		default:
			return null;
	}
}

/** What a set of grades says, in a sentence; null where there are none. */
export function scoreWords({ final, inside }: Score, frequency: Frequency, scale: Scale): string | null {
	if (final.count === 0 || final.mad === null) return null;
	const held = inside.map(
		({ level, inside: count, of }) =>
			`${count} of ${of} inside the ${percent(level)} range (${figure(of * level, 0)} expected)`,
	);
	const against =
		final.relativeMae === null
			? ''
			: final.relativeMae < 1
				? `, ${percent(1 - final.relativeMae)} below naive’s from the same origins`
				: `, no lower than naive’s from the same origins`;
	return `MAD ${inWordsOn(final.mad, scale)} over ${periodsInWords(frequency, final.count)}${against}${held.length > 0 ? `; ${held.join(', ')}` : ''}.`;
}

/** What changes by hand and rounding brought; null where nothing was changed. */
export function addedWords({ changed }: Score, frequency: Frequency, scale: Scale): string | null {
	if (changed.count === 0 || changed.added === null) return null;
	const size = inWordsOn(Math.abs(changed.added), scale);
	const what =
		changed.added > 0
			? `lowered the MAD by ${size}`
			: changed.added < 0
				? `raised the MAD by ${size}`
				: 'left the MAD as it was';
	return `In ${periodsInWords(frequency, changed.count)} the figure was changed or rounded: that ${what}.`;
}

/** Share of actuals outside ranges that hold; the widest one is of 95 % unless somebody asked for another. */
const USUALLY_OUTSIDE = 0.05;

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

/** “Nov 2026: 27 of 28 up to date, 1 of 24 outside their range (about 1 expected), 2 biased”, in parts that each name what they count. */
export function newestWords({ frequency, period, items, have, graded, inside, reasons }: NewestSaid): {
	head: string;
	parts: { text: string; reason: ReasonCode | null }[];
} {
	const counted: Partial<Record<ReasonCode, (count: number) => string>> = {
		'no-forecast': (count) => `${figure(count, 0)} without a forecast`,
		'ran-out': (count) => `${figure(count, 0)} with a forecast too short`,
		drifts: (count) => `${figure(count, 0)} biased`,
		'worse-than-naive': (count) => `${figure(count, 0)} worse than naive`,
		'ranges-off': (count) => `${figure(count, 0)} with unreliable ranges`,
	};
	return {
		head: describePeriod(frequency, period),
		parts: [
			{
				text: `${figure(have, 0)} of ${figure(items, 0)} up to date`,
				reason: have < items ? 'not-in' : null,
			},
			...(graded > 0
				? [
						{
							text: `${figure(graded - inside, 0)} of ${figure(graded, 0)} outside their range (about ${figure(Math.max(1, Math.round(USUALLY_OUTSIDE * graded)), 0)} expected)`,
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
