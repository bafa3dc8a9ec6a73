import { percentScale } from '$core/numbers/figure';
import { percentWords } from '$core/words/comparison';
import { CLEARLY, gainWords, RARE_MEASURES } from '$core/words/sweep';
import { inMark } from '../../reader.svelte';
import type { Sweep, SweepAsked, SweepRow } from '../../wire/sweeps';
import { inWordsOn, scaled } from '../base/format';

/** A column of figures of what came of a sweep. */
export interface Column {
	name: string;
	title?: string;
	/** What the rows are sorted by where its head is pressed; null where they cannot be. */
	key: SweepAsked['sort'] | null;
	text: (row: SweepRow) => string;
	/** What is said of the figure where one points at it. */
	said?: (row: SweepRow) => string;
	look?: (row: SweepRow) => string;
}

const figureOf = (row: SweepRow, value: number | null) =>
	value === null ? '–' : inWordsOn(value, row.scale);
const percentOf = (value: number | null) =>
	value === null ? '–' : `${scaled(value, percentScale([value]))} %`;

/** Measures that say nothing of rare demand. */
const sizes: Pick<Column, 'look' | 'said'> = {
	said: ({ rare }) => (rare ? RARE_MEASURES : ''),
	look: ({ rare }) => (rare ? 'text-ink-2 line-through' : ''),
};

const CLOSER: Column = {
	key: 'gain',
	name: 'error',
	title: 'Error in a trial on past periods, against what is adopted over the same ones',
	text: ({ gain }) => (gain === null ? '–' : inMark(gainWords(gain))),
	said: ({ clear, rare }) =>
		clear === null
			? ''
			: `${clear ? CLEARLY : 'It may be chance'}${rare ? '. Compared by MSE: demand is rare' : ''}`,
	look: ({ clear }) => (clear ? 'font-semibold text-accent' : ''),
};
const BEFORE: Column = {
	key: 'missed',
	name: 'WAPE before',
	title: 'Of what was adopted, over these periods',
	text: ({ wapeBefore }) => percentOf(wapeBefore),
	...sizes,
};
const MAD: Column = {
	key: 'mad',
	name: 'MAD',
	title: 'Of the closest one, over the periods that all of the line-up have',
	text: (row) => figureOf(row, row.mad),
	...sizes,
};
const MAPE: Column = {
	key: 'mape',
	name: 'MAPE',
	title: MAD.title!,
	text: ({ mape }) => percentOf(mape),
	...sizes,
};
const NEXT: Column = {
	key: 'next',
	name: 'new forecast',
	title: 'The first final forecast',
	text: (row) => figureOf(row, row.next),
	look: () => 'font-semibold',
};
const INSTEAD: Column = {
	key: 'change',
	name: 'adopted now',
	title: 'The final forecast for that period now',
	text: (row) => figureOf(row, row.nextBefore),
};

/** The columns of figures that a sweep has, from left to right. */
export function columnsOf({ kind, settings: { share } }: Pick<Sweep, 'kind' | 'settings'>): Column[] {
	if (kind === 'propose') return [CLOSER, BEFORE, NEXT, INSTEAD];
	if (kind === 'try') return [MAD, MAPE, CLOSER, NEXT, INSTEAD];
	if (!share) return [NEXT, INSTEAD];
	const whole = share.periods[0]!.figure;
	const part: Column = {
		key: null,
		name: 'share of it',
		title: `Of what is adopted for ${share.of}, for the first period`,
		text: ({ next }) => (next === null || whole === 0 ? '–' : inMark(percentWords((100 * next) / whole))),
	};
	return [part, NEXT, INSTEAD];
}
