import { BOUNDS, written } from '../bounds';
import { type Frequency, hasUnevenPeriods, periodWord } from './frequency';
import { fillGaps, type GapRule } from './gaps';
import { daysIn, formatPeriod, isInCalendar, type Ordinal } from './period';
import type { GroupInput, SeriesInput } from './series';

/** The layers over the actuals of an item that can be switched off and on again. */
export const LAYERS = ['correction', 'gap-rule', 'gap', 'left-out', 'event', 'per-day'] as const;
export type Layer = (typeof LAYERS)[number];

/** A figure put in place of an actual. It stands for as long as the actual is the one that it was made over. */
export interface Correction {
	to: number;
	/** The actual at that time; null where there was none. */
	over: number | null;
}

/** What was decided about a series, over its actuals: nothing of it changes them. Keys are ordinals of periods. */
export interface Layers {
	corrections: Readonly<Record<number, Correction>>;
	/** What missing values of single periods become. */
	gaps: Readonly<Record<number, GapRule>>;
	leftOut: readonly Ordinal[];
	events: Readonly<Record<number, string>>;
	/** What missing values become elsewhere. */
	gapRule: GapRule;
	/** Whether the rate per day of each period is worked on. */
	perDay: boolean;
	/** Set by hand; null for the item's own. */
	seasonLength: number | null;
	/** Layers that are switched off. */
	off: readonly Layer[];
}

export const NO_LAYERS: Layers = {
	corrections: {},
	gaps: {},
	leftOut: [],
	events: {},
	gapRule: 'skip',
	perDay: false,
	seasonLength: null,
	off: [],
};

/** What a period of a series is, beside its figure. */
export type Mark = 'gap' | 'filled' | 'left-out' | 'corrected' | 'event';

/** A series with its layers laid over it. */
export interface Layered {
	frequency: Frequency;
	seasonLength: number;
	/** Ordinal of the first period. */
	first: Ordinal;
	/** Actuals, corrected; null where missing. */
	values: (number | null)[];
	/** Actuals as they came in, over the same periods. */
	raw: (number | null)[];
	/** What methods see, in totals: gaps filled, left-out periods missing. */
	worked: (number | null)[];
	/** The series of a request to evaluate, and its gap rule. */
	request: SeriesInput;
	gapRule: GapRule;
	/** By 0-based position. */
	marks: ReadonlyMap<number, readonly Mark[]>;
	/** Layers that made a difference. */
	used: Layer[];
	/** Positions whose correction no longer holds, because the actual under it changed since. */
	outdated: number[];
}

/**
 * Why layers cannot be laid over actuals: because of the series that they make together. Null where they can.
 * @param actuals one figure a period from `first`; null where missing
 */
export function refuseLayers(
	{ first, values }: { first: Ordinal; values: readonly (number | null)[] },
	frequency: Frequency,
	layers: Layers,
): string | null {
	const corrected = Object.keys(layers.corrections).map(Number);
	const kinds = [
		corrected,
		Object.keys(layers.gaps).map(Number),
		[...layers.leftOut],
		Object.keys(layers.events).map(Number),
	];
	if (kinds.some((periods) => periods.length > BOUNDS.layerEntries))
		return `An item has at most ${written(BOUNDS.layerEntries)} entries of one kind. Delete some first.`;
	const far = kinds.flat().find((period) => !isInCalendar(frequency, period));
	if (far !== undefined)
		return `There is no ${periodWord(frequency, 1)} of number ${written(far)}. Name a period of the years 0 to 9999.`;
	// What is corrected for a period outside the actuals stretches the series; gaps, events and what is left out do not.
	let [from, to] = [first, first + values.length - 1];
	for (const period of corrected) [from, to] = [Math.min(from, period), Math.max(to, period)];
	const span = to - from + 1;
	return span > BOUNDS.periods
		? `With the figures typed in, the series would run over ${written(span)} periods; an item holds at most ${written(BOUNDS.periods)}.`
		: null;
}

/**
 * Lays the layers over actuals.
 * @param actuals one figure a period from `first`; null where missing
 * @param group of the item's own season length: it lends nothing to a series that is looked at by another one
 */
export function applyLayers(
	{ first: from, values: given }: { first: Ordinal; values: readonly (number | null)[] },
	frequency: Frequency,
	ownSeasonLength: number,
	layers: Layers,
	group: GroupInput | null = null,
): Layered {
	const on = (layer: Layer) => !layers.off.includes(layer);
	const seasonLength = layers.seasonLength ?? ownSeasonLength;
	const used = new Set<Layer>();
	const marks = new Map<number, Mark[]>();
	const mark = (position: number, each: Mark) => {
		const list = marks.get(position);
		if (list) list.push(each);
		else marks.set(position, [each]);
	};

	const { first, raw, values, corrected, outdated } = corrections(
		{ first: from, values: given },
		on('correction') ? layers.corrections : {},
	);
	if (corrected.length > 0) used.add('correction');
	for (const position of corrected) mark(position, 'corrected');
	const last = first + values.length - 1;
	const inside = (period: Ordinal) => period >= first && period <= last;
	const leftOut = on('left-out') ? layers.leftOut.filter(inside).map((period) => period - first) : [];
	const isLeftOut = new Set(leftOut);
	for (const position of leftOut) {
		used.add('left-out');
		mark(position, 'left-out');
	}
	if (on('event'))
		for (const period of Object.keys(layers.events).map(Number))
			if (inside(period)) mark(period - first, 'event');

	const perDay = layers.perDay && on('per-day') && hasUnevenPeriods(frequency);
	if (perDay) used.add('per-day');
	const gapRule = on('gap-rule') ? layers.gapRule : 'skip';
	const excluded = leftOut.map((position) => position + 1);
	const leftOutNow = [...excluded];
	const seen = rates(values, perDay, frequency, first);
	const fills = new Map<GapRule, Float64Array>();
	/** Each rule is calculated once, however many periods it is asked for. */
	const fill = (rule: GapRule) => {
		const known = fills.get(rule) ?? fillGaps(seen, rule, seasonLength, leftOutNow);
		fills.set(rule, known);
		return known;
	};
	const known = fill('skip');
	const filled = fill(gapRule).slice();
	// Single periods have a rule of their own: its figure is what the request holds, and `skip` is left out of the filling.
	const asked = [...values];
	if (on('gap')) {
		for (const [period, rule] of Object.entries(layers.gaps)) {
			const position = Number(period) - first;
			if (!inside(Number(period)) || values[position] !== null || isLeftOut.has(position)) continue;
			used.add('gap');
			const rate = fill(rule)[position]!;
			filled[position] = rate;
			if (Number.isNaN(rate)) excluded.push(position + 1);
			else asked[position] = rate * (perDay ? daysIn(frequency, first + position) : 1);
		}
	}
	const worked = Array.from(filled, (rate, i): number | null => {
		if (Number.isNaN(rate)) {
			if (!isLeftOut.has(i)) mark(i, 'gap');
			return null;
		}
		if (Number.isNaN(known[i])) {
			mark(i, 'filled');
			if (asked[i] === null) used.add('gap-rule');
		}
		return values[i] ?? rate * (perDay ? daysIn(frequency, first + i) : 1);
	});
	return {
		frequency,
		seasonLength,
		first,
		values,
		raw,
		worked,
		request: {
			values: asked,
			frequency,
			start: formatPeriod(frequency, first),
			seasonLength,
			...(excluded.length > 0 && { excluded: [...new Set(excluded)].sort((a, b) => a - b) }),
			...(perDay && { perDay }),
			...(group && seasonLength === ownSeasonLength && { group }),
		},
		gapRule,
		marks,
		used: LAYERS.filter((layer) => used.has(layer)),
		outdated,
	};
}

/** Figures with corrections in their places, from the first period of either; a correction of a figure that was revised since is outdated. */
function corrections(
	{ first: from, values: given }: { first: Ordinal; values: readonly (number | null)[] },
	asked: Layers['corrections'],
): Pick<Layered, 'first' | 'raw' | 'values' | 'outdated'> & { corrected: number[] } {
	const all = Object.entries(asked).map(([period, each]) => ({ period: Number(period), ...each }));
	const holds = all.filter(({ period, over }) => (given[period - from] ?? null) === over);
	const first = holds.reduce((least, { period }) => Math.min(least, period), from);
	const last = holds.reduce((most, { period }) => Math.max(most, period), from + given.length - 1);
	const raw = Array.from({ length: last - first + 1 }, (_, i) => given[first + i - from] ?? null);
	const values = [...raw];
	for (const { period, to } of holds) values[period - first] = to;
	return {
		first,
		raw,
		values,
		corrected: holds.map(({ period }) => period - first),
		outdated: all.filter((each) => !holds.includes(each)).map(({ period }) => period - first),
	};
}

/** Figures as methods see them: the rate per day of each period where that is asked for. */
function rates(
	values: readonly (number | null)[],
	perDay: boolean,
	frequency: Frequency,
	first: Ordinal,
): (number | null)[] {
	return perDay
		? values.map((value, i) => (value === null ? null : value / daysIn(frequency, first + i)))
		: [...values];
}

/** What was used, for a reader: “2 corrected, 1 left out, gaps interpolated”. Empty where nothing was. */
export function layerWords({ marks, used, gapRule }: Pick<Layered, 'marks' | 'used' | 'gapRule'>): string[] {
	const count = (which: Mark) => [...marks.values()].filter((list) => list.includes(which)).length;
	const rule = {
		skip: '',
		'carry-forward': 'carried forward',
		interpolate: 'interpolated',
		seasonal: 'filled from the season before',
		zero: 'taken as zero',
	}[gapRule];
	const words: Record<Layer, string> = {
		correction: `${count('corrected')} corrected`,
		'gap-rule': `gaps ${rule}`,
		gap: 'single gaps by rules of their own',
		'left-out': `${count('left-out')} left out`,
		event: '',
		'per-day': 'worked as a rate per day',
	};
	return used.map((layer) => words[layer]);
}
