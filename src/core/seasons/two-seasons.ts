import { calendarSeason, type Ordinal } from '../series/period';
import type { Series } from '../series/series';
import { cyclesOf } from './cycles';
import {
	bySeason,
	centredAverage,
	normalised,
	type SeasonKind,
	seasonIndices,
	withIndex,
	withoutIndex,
} from './indices';
import type { IndexInput, SeasonPair } from './settings';

/** A season within a season, as the calendar has them at once. */
interface Pairing {
	frequency: Series['frequency'];
	/** The season length in force. */
	first: number;
	/** How many slots the longer one has, and how many periods it goes through them in. */
	second: number;
	span: number;
	/** Slot of a period in the longer one, 0-based. */
	slot(ordinal: Ordinal): number;
	/** Whether neighbouring slots are alike, so that three are averaged. */
	smooth: boolean;
}

const PAIRINGS: Readonly<Record<SeasonPair[1], Pairing>> = {
	'week-of-year': {
		frequency: 'day',
		first: 7,
		second: 52,
		span: 364,
		// Week 53 takes week 52's.
		slot: (ordinal) => calendarSeason('week', Math.floor((ordinal + 3) / 7))! - 1,
		smooth: true,
	},
	weekday: {
		frequency: 'hour',
		first: 24,
		second: 7,
		span: 168,
		slot: (ordinal) => calendarSeason('day', Math.floor(ordinal / 24))! - 1,
		smooth: false,
	},
};

/** The two seasons that a series may have by its calendar; null where it is neither of days nor of hours. */
export function pairOf({
	frequency,
	seasonLength,
}: Pick<Series, 'frequency' | 'seasonLength'>): SeasonPair | null {
	if (frequency === 'day' && seasonLength === 7) return ['weekday', 'week-of-year'];
	if (frequency === 'hour' && seasonLength === 24) return ['hour-of-day', 'weekday'];
	return null;
}

/** 0-based slot of a period in the longer one of two seasons. */
export const slotOf = ([, second]: SeasonPair, ordinal: Ordinal): number => PAIRINGS[second].slot(ordinal);

/** Indices of two seasons. A figure's index is their product, or their sum. */
export interface TwoSeasons {
	/** Of the shorter one, season 1 to P, and of the longer one, slot by slot; NaN where none can be told. */
	first: Float64Array;
	second: Float64Array;
	/** 0-based slot of a 0-based position in the longer season, before or after the end of the series. */
	slotAt(i: number): number;
	/** Index of a 0-based position. */
	at(i: number): number;
}

/**
 * The shorter season by ratio to the centred average over its own cycle; the longer one from what is left, held against the
 * centred average over its own cycle where the series has two of them, else against the mean of all. Weeks of the year are
 * averaged with their neighbours, three at a time, round the turn of the year.
 * @returns NaN for slots without a figure
 */
export function twoSeasons(series: Series, kind: SeasonKind, input: IndexInput): TwoSeasons {
	const pairing = PAIRINGS[input.seasons![1]];
	const { values } = series;
	const cycles = cyclesOf(series);
	const first = seasonIndices(values, cycles, kind, {
		rule: 'ratio-to-moving-average',
		average: input.average,
	}).after;
	const seasonAt = (i: number) => (((cycles.lead + i) % cycles.length) + cycles.length) % cycles.length;
	const left = values.map((value, i) => withoutIndex(kind, value, first[seasonAt(i)]!));
	const slotAt = (i: number) => pairing.slot(series.first + i);
	const averages = averagesBySlot(left, pairing, slotAt, kind, input.average);
	const smooth = pairing.smooth ? averages.map((_, j) => meanOfThree(averages, j)) : averages;
	const second = normalised(smooth, kind, pairing.second);
	return { first, second, slotAt, at: (i) => withIndex(kind, first[seasonAt(i)]!, second[slotAt(i)]!) };
}

function averagesBySlot(
	left: Float64Array,
	{ second, span }: Pairing,
	slotAt: (i: number) => number,
	kind: SeasonKind,
	average: IndexInput['average'],
): Float64Array {
	const known = left.filter((value) => !Number.isNaN(value));
	const mean = known.reduce((a, b) => a + b, 0) / known.length;
	const bases = left.length >= 2 * span ? centredAverage(left, span) : left.map(() => mean);
	const ratios = left.map((value, i) => withoutIndex(kind, value, bases[i]!));
	// Slots follow no even cycle, for years have 52 or 53 weeks: the ratios of each are put one below the other.
	const slots = Int32Array.from(ratios, (ratio, i) => (Number.isFinite(ratio) ? slotAt(i) : -1));
	const counts = new Int32Array(second);
	for (const slot of slots) if (slot >= 0) counts[slot]!++;
	const deep = counts.reduce((most, count) => Math.max(most, count), 0);
	const laid = new Float64Array(second * deep).fill(NaN);
	counts.fill(0);
	slots.forEach((slot, i) => {
		if (slot >= 0) laid[slot + second * counts[slot]!++] = ratios[i]!;
	});
	return bySeason(laid, { length: second, lead: 0, count: deep }, { from: 0, to: laid.length }, average);
}

/** The mean of a slot and its two neighbours, as far as they are known. */
function meanOfThree(averages: Float64Array, j: number): number {
	const length = averages.length;
	const near = [averages[(j + length - 1) % length]!, averages[j]!, averages[(j + 1) % length]!];
	const known = near.filter((value) => !Number.isNaN(value));
	return known.reduce((a, b) => a + b, 0) / known.length;
}
