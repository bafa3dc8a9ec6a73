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

/** What “clearly closer” is, and how often that is wrong. */
export const CLEARLY =
	'Clearly closer: by at least twice what chance explains. Of such claims 2.5 % were wrong in the long run on made-up series, and 11 % over the next months on published ones';

/** Why a measure says nothing of an item. */
export const RARE_MEASURES =
	'Demand is rare: measures by the size of errors mislead, since a forecast of 0 would have the least';

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
			: ` ${many(rare, 'item has', 'items have')} rare demand: compared by squared errors, and not in WAPE.`;
	const first = `In a trial on earlier periods, ${clear === 0 ? 'none' : figure(clear, 0)} of ${many(beside, 'item', 'items')} would have been clearly closer than what is adopted, ${figure(within, 0)} slightly closer, ${figure(beside - closer, 0)} no closer.${sparse}`;
	if (wapeBefore === null || wape === null || wapeClear === null) return [first];
	const said = apart([wapeBefore, wape, wapeClear]);
	const way = (to: number) =>
		to < wapeBefore ? 'have fallen' : to > wapeBefore ? 'have risen' : 'have stayed';
	const which = rare === 0 ? 'all of them' : 'the others';
	const all =
		wape === wapeBefore
			? `WAPE over ${which} would have stayed at ${said(wape)} %.`
			: `WAPE over ${which} would ${way(wape)} from ${said(wapeBefore)} to ${said(wape)} %.`;
	const only =
		clear === 0 || clear === beside
			? ''
			: ` With only those that are clearly closer it would ${wapeClear === wapeBefore ? 'have stayed as it is' : `${way(wapeClear)} to ${said(wapeClear)} %`}.`;
	return [first, all + only];
}

/** What became of all of them, in a sentence. */
export function sweptSentence(
	{ rows, refused, adopted }: SweepCounts,
	kind: 'propose' | 'carry-on' | 'try' | 'share' | 'adopt',
): string {
	if (rows === 0) return 'Nothing has come of it yet.';
	if (kind === 'adopt')
		return refused === 0
			? `${many(adopted, 'forecast was', 'forecasts were')} adopted.`
			: `${many(adopted, 'forecast was', 'forecasts were')} adopted, ${figure(refused, 0)} refused, each with its reason.`;
	const what = {
		propose: ['proposal', 'proposals'],
		'carry-on': ['forecast that can be carried on', 'forecasts that can be carried on'],
		try: ['item on which the line-up ran', 'items on which the line-up ran'],
		share: ['item has its share', 'items have their share'],
	}[kind] as [string, string];
	const left =
		refused === 0 ? '' : `; of ${many(refused, 'item', 'items')} nothing came, each with its reason`;
	const done = adopted === 0 ? '' : `; ${figure(adopted, 0)} adopted`;
	return `${many(rows - refused, ...what)}${left}${done}.`;
}

/** A gain or a loss as a share of what is missed by: “12 % closer”. */
export const gainWords = (gain: number): string =>
	gain === 0 ? 'as close' : `${percentWords(100 * Math.abs(gain))} ${gain > 0 ? 'closer' : 'further off'}`;

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
	const over =
		left === 0
			? many(periods.length, 'period', 'periods')
			: `${many(periods.length, 'period', 'periods')}, not for ${figure(left, 0)} that the items have no forecasts for`;
	const warning = by === 'cycle' ? ` ${CYCLE_WARNING}` : '';
	return `As one they are forecast at ${inWordsOn(periods[0]!.figure, scale)} for the first period; shared by ${by === 'cycle' ? 'demand of the last cycle' : 'own forecasts'}, they come to ${inWordsOn(next, scale)}. It is shared for ${over}.${warning}`;
}
