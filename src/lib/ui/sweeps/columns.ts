import { percentScale } from '$core/numbers/figure';
import { stockRates } from '$core/words/ahead';
import { percentWords } from '$core/words/comparison';
import { CLEARLY, gainWords, RARE_MEASURES } from '$core/words/sweep';
import { inMark } from '../../reader.svelte';
import { type SweepFigure, sweepColumn } from '../../wire/sweep-columns';
import { sweepKind } from '../../wire/sweep-kinds';
import type { Sweep, SweepAsked, SweepRow } from '../../wire/sweeps';
import { figure, inWordsOn, scaled } from '../base/format';

/** A column of figures of what came of a sweep. */
export interface Column {
	name: string;
	is?: string;
	/** What the rows are sorted by where its head is pressed; null where they cannot be. */
	key: SweepAsked['sort'] | null;
	text: (row: SweepRow) => string;
	/** What is said of the figure where one points at it. */
	said: (row: SweepRow) => string;
	look: (row: SweepRow) => string;
}

/** A figure of a row as its column says it. */
function textOf(key: SweepFigure, row: SweepRow): string {
	const value = row[key];
	if (value === null) return '–';
	switch (sweepColumn(key).in) {
		case 'gain':
			return inMark(gainWords(value));
		case 'percent':
			return `${scaled(value, percentScale([value]))} %`;
		case 'demand':
			return inWordsOn(value, row.scale);
		case 'periods':
			return figure(value, 0);
	}
}

function saidOf(key: SweepFigure, { clear, rare }: SweepRow): string {
	// As Ahead says it of one item: how often demand exceeded such a stock.
	if (key === 'stock' || key === 'stockBefore') return inMark(stockRates(rare ? 'counts' : 'trial'));
	const misleads = rare && sweepColumn(key).misleadsRare === true;
	if (key !== 'gain' || clear === null) return misleads ? RARE_MEASURES : '';
	return `${clear ? CLEARLY : 'It may be chance'}${rare ? '. Compared by MSE: demand is rare' : ''}`;
}

function lookOf(key: SweepFigure, { clear, rare }: SweepRow): string {
	if (key === 'gain') return clear ? 'font-semibold text-accent' : '';
	if (key === 'next' || key === 'stock') return 'font-semibold';
	return rare && sweepColumn(key).misleadsRare ? 'text-ink-2 line-through' : '';
}

/** The columns of figures that a sweep has, from left to right. */
export function columnsOf({ kind, settings: { share } }: Pick<Sweep, 'kind' | 'settings'>): Column[] {
	const columns = sweepKind(kind).columns.map((key): Column => {
		const { name, is, sorts } = sweepColumn(key);
		return {
			name,
			...(is && { is }),
			key: sorts ?? key,
			text: (row) => textOf(key, row),
			said: (row) => saidOf(key, row),
			look: (row) => lookOf(key, row),
		};
	});
	if (!share) return columns;
	const whole = share.periods[0]!.figure;
	const part: Column = {
		key: null,
		name: 'share of it',
		is: `Of what is adopted for ${share.of}, for the first period.`,
		text: ({ next }) => (next === null || whole === 0 ? '–' : inMark(percentWords((100 * next) / whole))),
		said: () => '',
		look: () => '',
	};
	return [part, ...columns];
}
