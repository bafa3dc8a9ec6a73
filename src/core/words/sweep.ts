import { figure, inWordsOn, scaleOf } from '../numbers/figure';
import { percentWords } from './comparison';
import { CYCLE_WARNING } from './sum';

/** What came of a sweep over many items. */
export interface SweepCounts {
	rows: number;
	refused: number;
	ready: number;
	adopted: number;
	/** Held against what is adopted; clearly closer; closer at all. */
	beside: number;
	clear: number;
	closer: number;
	/** How many have rare demand: compared by squared errors, and not in WAPE. */
	rare: number;
	/** Per cent: of what is adopted, of what is proposed, and where only those that are clearly closer were adopted. */
	wapeBefore: number | null;
	wape: number | null;
	wapeClear: number | null;
}

const many = (count: number, one: string, several: string) =>
	`${figure(count, 0)} ${count === 1 ? one : several}`;

/** A percentage with as many places as tell two of them apart. */
function apart(values: readonly number[]): (value: number) => string {
	for (const decimals of [1, 2, 3]) {
		const texts = values.map((value) => figure(value, decimals));
		if (new Set(texts).size === new Set(values).size) return (value) => figure(value, decimals);
	}
	return (value) => figure(value, 3);
}

/** What “clearly smaller” is, and how often that is wrong. */
export const CLEARLY =
	'Clearly smaller: by at least twice what chance explains. About 1 in 40 such claims was wrong in the long run on made-up series, about 1 in 9 over the next months on published ones';

/** Why a measure misleads, said at that measure. */
export const RARE_MEASURE = 'Misleading for rare demand: a forecast of 0 has the smallest';

/** Why a measure says nothing of an item. */
export const RARE_MEASURES = 'Rare demand: MAD and MAPE mislead, since a forecast of 0 has the smallest';

/** How what is proposed stands to what is adopted, in sentences; none where nothing could be held against it. */
export function gainSentences({
	beside,
	clear,
	closer,
	rare,
	wapeBefore,
	wape,
	wapeClear,
}: SweepCounts): string[] {
	if (beside === 0) return [];
	const within = closer - clear;
	const sparse =
		rare === 0
			? ''
			: ` ${many(rare, 'item has', 'items have')} rare demand: compared by MSE, and not in WAPE.`;
	const first = `Of ${many(beside, 'item', 'items')} ${clear === 0 ? 'none' : figure(clear, 0)} had clearly smaller errors than what is adopted in a trial on past periods, ${figure(within, 0)} slightly smaller, ${figure(beside - closer, 0)} not.${sparse}`;
	if (wapeBefore === null || wape === null || wapeClear === null) return [first];
	const said = apart([wapeBefore, wape, wapeClear]);
	const way = (to: number) => (to < wapeBefore ? 'fall' : to > wapeBefore ? 'rise' : 'stay');
	const which = rare === 0 ? 'all of them' : 'the others';
	const all =
		wape === wapeBefore
			? `WAPE over ${which} would stay at ${said(wape)} %.`
			: `WAPE over ${which} would ${way(wape)} from ${said(wapeBefore)} to ${said(wape)} %.`;
	const only =
		clear === 0 || clear === beside
			? ''
			: ` With only the clearly smaller ones it would ${wapeClear === wapeBefore ? 'stay as it is' : `${way(wapeClear)} to ${said(wapeClear)} %`}.`;
	return [first, all + only];
}

/**
 * What became of all of them, in a sentence.
 * @param done what one that came of it is called, and several
 * @param adopts whether it is what adopts them
 */
export function sweptSentence(
	{ rows, refused, adopted }: Pick<SweepCounts, 'rows' | 'refused' | 'adopted'>,
	done: readonly [one: string, several: string],
	adopts: boolean,
): string {
	if (rows === 0) return 'No item is done yet.';
	const left = refused === 0 ? '' : `; ${many(refused, 'item', 'items')} not possible, each with its reason`;
	const since = adopted === 0 || adopts ? '' : `; ${figure(adopted, 0)} adopted`;
	return `${many(rows - refused, ...done)}${left}${since}.`;
}

/** How stocks for a service level stand to those by what is adopted; none where none did before. */
export function stockSentences(more: number, less: number): string[] {
	if (more + less === 0) return [];
	return [
		`${many(more, 'stock is', 'stocks are')} higher than by the adopted forecast, ${figure(less, 0)} lower.`,
	];
}

/** An error beside that of what is adopted: “12 % smaller”. */
export const gainWords = (gain: number): string =>
	gain === 0 ? 'the same' : `${percentWords(100 * Math.abs(gain))} ${gain > 0 ? 'smaller' : 'larger'}`;

/** Why a figure is what it is where a sum's forecast was shared: what stays with the change. */
export const shareReason = (of: string, by: 'forecasts' | 'cycle', part: number): string =>
	`${percentWords(100 * part)} of “${of}”, by ${by === 'cycle' ? 'demand of the last cycle' : 'own forecasts'}`;

/**
 * What a sum says for the first period that was shared, and what its items come to with their shares, rounding and all.
 * @param next the items' first figures, added up
 */
export function sharedSentence(
	{
		by,
		ahead,
		periods,
	}: { by: 'forecasts' | 'cycle'; ahead: number; periods: readonly { figure: number }[] },
	next: number,
): string {
	const scale = scaleOf([periods[0]!.figure, next]);
	const left = ahead - periods.length;
	const are = periods.length === 1 ? 'is' : 'are';
	const over =
		left === 0
			? `${many(periods.length, 'period', 'periods')} ${are} shared`
			: `${many(periods.length, 'period', 'periods')} ${are} shared; for ${figure(left, 0)} more the items have no forecasts`;
	const warning = by === 'cycle' ? ` ${CYCLE_WARNING}` : '';
	return `The group’s forecast is ${inWordsOn(periods[0]!.figure, scale)} for the first period; shared by ${by === 'cycle' ? 'demand of the last cycle' : 'own forecasts'}, its items sum to ${inWordsOn(next, scale)}. ${over}.${warning}`;
}
