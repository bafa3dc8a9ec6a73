import fCdf from '@stdlib/stats-base-dists-f-cdf';
import { CALENDAR_SEASON_LENGTH, type Frequency } from '../series/frequency';
import { median } from '../numbers/median';
import {
	OUTLIER_TIMES,
	RARE_SHARE,
	SEASON_CHANCE,
	SEASON_STRENGTH,
	STEP_F,
	STEP_OVER_LINE,
	SWINGS_RATIO,
	TREND_CHANCE,
} from './thresholds';

/**
 * A diagnosis of a series: season and its length, whether swings grow with the level, trend, step, outlier periods.
 * Every reading has a threshold and a figure; nothing is said of fewer than two cycles. Thresholds were set on the
 * panel of series of known make in bench/looking.ts, which prints how often each reading is right and how often it
 * cries wolf. Methods and sources: docs/methods.md.
 */

/** A season length that was tested. */
export interface SeasonTest {
	length: number;
	/** Share of the movement about the trend that the season explains, 0 … 1 (Wang, Smith & Hyndman 2006). */
	strength: number;
	/** The chance of such a season in noise without one: F test of the seasons' means. */
	chance: number;
	/** Strength less what as many seasons explain by chance alone; what lengths are compared by. */
	adjusted: number;
	found: boolean;
}

export interface Diagnosis {
	/** How many figures are present. */
	present: number;
	/** The season that is there; null where none was found or too little is known. */
	season: (SeasonTest & { effects: number[] }) | null;
	/** Every length that could be tested, the strongest first. */
	tested: SeasonTest[];
	/** Squared error that a multiplied season leaves over that of an added one; null where there is nothing to compare. */
	swings: { ratio: number; grow: boolean; steady: boolean } | null;
	/** Change a period of the deseasonalised series (median of all slopes), and the chance of it without a trend. */
	trend: { slope: number; chance: number; found: boolean } | null;
	/** The best place for a step: 0-based first position after it, and the levels on both sides. */
	step: { at: number; before: number; after: number; f: number; found: boolean } | null;
	/** Outlier periods: 0-based positions, and how many times the usual deviation they are off. */
	outliers: { at: number; value: number; usual: number; times: number }[];
	rare: Rare | null;
}

/** Demand that does not come in every period, nor by the season. */
export interface Rare {
	/** Periods that had some. */
	some: number;
	/** Periods that are known. */
	of: number;
	/** Whether all of it came in whole pieces that are worth counting. */
	whole: boolean;
}

const LONGEST_TESTED = 60;
const LEAST_PERIODS = 8;
/** How much more another length has to explain; a multiple of a length explains whatever that one does, and more. */
const DECISIVE = 0.03;
const DECISIVE_FOR_MULTIPLES = 0.25;

/** What is to be looked for. */
export interface SeasonQuestion {
	frequency: Frequency;
	/** The season length in force: expected, where every other length is one of many that could have come up by chance. */
	expected: number;
	/** Whether that length alone is looked for. */
	only: boolean;
}

/** Figures with missing ones null or NaN. */
type Figures = ArrayLike<number | null>;

const isFigure = (value: number | null | undefined): value is number =>
	value !== null && value !== undefined && !Number.isNaN(value);

const countFigures = (values: Figures): number => {
	let count = 0;
	for (let i = 0; i < values.length; i++) if (isFigure(values[i])) count++;
	return count;
};

/** The part of a diagnosis that speaks of a season; notes and offers ask for no more. */
export interface SeasonDiagnosis {
	season: SeasonTest | null;
	tested: SeasonTest[];
	swings: Diagnosis['swings'];
	rare: Rare | null;
}

/** What of it the rest of a diagnosis goes on from. */
interface SeasonGround extends Omit<SeasonDiagnosis, 'swings' | 'rare'> {
	outliers: Diagnosis['outliers'];
	/** The figures, gaps bridged and outlier periods replaced. */
	calm: Float64Array;
}

function groundOf(values: Figures, question: SeasonQuestion): SeasonGround | null {
	if (countFigures(values) < LEAST_PERIODS) return null;
	const whole = bridged(values);
	const first = seasonOf(whole, question);
	const rough = deseasonalised(whole, first.season);
	const outliers = outliersOf(rough, whole);
	// A outlier period hides a season and makes a trend of its own: the rest is read without it.
	const calm = Float64Array.from(whole);
	for (const { at, usual } of outliers) calm[at] = usual;
	return { ...(outliers.length > 0 ? seasonOf(calm, question) : first), outliers, calm };
}

/**
 * Whether a series has a season, and whether its swings grow with its level: the first part of a diagnosis, by the same
 * tests and thresholds.
 */
export function diagnoseSeason(values: Figures, question: SeasonQuestion): SeasonDiagnosis {
	const ground = groundOf(values, question);
	if (!ground) return { season: null, tested: [], swings: null, rare: rareOf(values) };
	const { season, tested, calm } = ground;
	return {
		season,
		tested,
		swings: season ? swingsOf(calm, season.length) : null,
		rare: season ? null : rareOf(values),
	};
}

/** Whether demand is rare: a season is only looked for where that would decide it. */
export const isRare = (values: Figures, question: SeasonQuestion): boolean =>
	rareOf(values) !== null && diagnoseSeason(values, question).rare !== null;

/** Everything that is said of a series. */
export function diagnose(values: Figures, question: SeasonQuestion): Diagnosis {
	const ground = groundOf(values, question);
	const present = countFigures(values);
	if (!ground) {
		const rare = rareOf(values);
		return { present, season: null, tested: [], swings: null, trend: null, step: null, outliers: [], rare };
	}
	const { season, tested, outliers, calm } = ground;
	const level = deseasonalised(calm, season);
	const step = stepOf(level);
	const trend = trendOf(level);
	return {
		present,
		season: season && { ...season, effects: effectsOf(calm, season.length) },
		tested,
		swings: season ? swingsOf(calm, season.length) : null,
		trend: trend && { ...trend, found: trend.found && !step?.found },
		step,
		outliers: step?.found ? outliers.filter(({ at }) => Math.abs(at - step.at) > 1) : outliers,
		rare: season ? null : rareOf(values),
	};
}

/** More pieces in a period than these are a quantity. */
const MOST_PIECES = 1e6;

/** Whether demand is rare; where any of it was below zero, or none ever came, it is not looked at like that. */
function rareOf(values: Figures): Rare | null {
	let [some, of, whole] = [0, 0, true];
	for (let i = 0; i < values.length; i++) {
		const value = values[i];
		if (!isFigure(value)) continue;
		if (value < 0) return null;
		of++;
		if (value > 0) some++;
		if (!Number.isInteger(value) || value > MOST_PIECES) whole = false;
	}
	return some > 0 && of - some > RARE_SHARE * of ? { some, of, whole } : null;
}

/** The season length that the calendar gives, and others that are usual beside it. */
function usualSeasonLengths(frequency: Frequency): number[] {
	const own = CALENDAR_SEASON_LENGTH[frequency];
	const others: Record<Frequency, number[]> = {
		hour: [24, 168],
		day: [7, 365],
		weekday: [5, 260],
		week: [52, 13, 4],
		month: [12, 6, 3],
		quarter: [4, 2],
		'half-year': [2],
		year: [],
		step: [4, 12, 13],
	};
	return [...new Set([own, ...others[frequency]])].filter((length) => length > 1);
}

/** Missing figures bridged by a straight line: for looking only, never for a forecast. */
function bridged(values: Figures): Float64Array {
	let from = 0;
	while (!isFigure(values[from])) from++;
	let to = values.length - 1;
	while (!isFigure(values[to])) to--;
	const out = Float64Array.from({ length: to - from + 1 }, (_, i) => values[from + i] ?? NaN);
	let last = 0;
	for (let i = 1; i < out.length; i++) {
		if (Number.isNaN(out[i])) continue;
		for (let k = last + 1; k < i; k++)
			out[k] = out[last]! + ((out[i]! - out[last]!) * (k - last)) / (i - last);
		last = i;
	}
	// Positions stay those of the series: what lies before the first figure repeats it.
	const whole = new Float64Array(values.length);
	for (let i = 0; i < whole.length; i++) whole[i] = out[Math.min(out.length - 1, Math.max(0, i - from))]!;
	return whole;
}

/**
 * The level under the seasons: the centred average over P periods (ends at half weight for even P), carried on at
 * both ends along the line through the nearest of its values.
 */
export function centredLevel(values: Float64Array, length: number): Float64Array {
	const n = values.length;
	const half = Math.floor(length / 2);
	const level = new Float64Array(n).fill(NaN);
	for (let t = half; t < n - half; t++) {
		let sum = 0;
		for (let k = -half; k <= half; k++) {
			const weight = length % 2 === 0 && Math.abs(k) === half ? 0.5 : 1;
			sum += weight * values[t + k]!;
		}
		level[t] = sum / length;
	}
	const [from, to] = [half, n - half - 1];
	if (from > to) return level.fill(mean(values));
	const reach = Math.min(length, to - from);
	const slopeAt = (a: number, b: number) => (b > a ? (level[b]! - level[a]!) / (b - a) : 0);
	const [early, late] = [slopeAt(from, from + reach), slopeAt(to - reach, to)];
	for (let t = 0; t < from; t++) level[t] = level[from]! - early * (from - t);
	for (let t = to + 1; t < n; t++) level[t] = level[to]! + late * (t - to);
	return level;
}

/** Mean deviation of each season (1 … P by position) from the level, brought to a sum of zero. */
function effectsOf(
	values: Float64Array,
	length: number,
	level: Float64Array = centredLevel(values, length),
): number[] {
	const sums = new Float64Array(length);
	const counts = new Float64Array(length);
	for (let t = 0; t < values.length; t++) {
		sums[t % length]! += values[t]! - level[t]!;
		counts[t % length]!++;
	}
	const effects = Array.from(sums, (sum, j) => sum / Math.max(1, counts[j]!));
	const centre = effects.reduce((a, b) => a + b, 0) / length;
	return effects.map((effect) => effect - centre);
}

function testLength(values: Float64Array, length: number): Omit<SeasonTest, 'found'> {
	const n = values.length;
	const level = centredLevel(values, length);
	const off = Float64Array.from(values, (value, t) => value - level[t]!);
	const effects = effectsOf(values, length, level);
	let total = 0;
	let rest = 0;
	let lagged = 0;
	let before = 0;
	for (let t = 0; t < n; t++) {
		const error = off[t]! - effects[t % length]!;
		total += off[t]! ** 2;
		rest += error * error;
		lagged += error * before;
		before = error;
	}
	const cycles = n / length;
	const freedom = Math.max(1, n - length - cycles);
	if (total <= 1e-12 * sumOfSquares(values)) return { length, strength: 0, chance: 1, adjusted: 0 };
	// Neighbouring errors that are alike make seasons' means differ more than independent ones would.
	const alike = Math.min(0.9, Math.max(0, rest > 0 ? lagged / rest : 0));
	const f = (total - rest) / (length - 1) / Math.max(1e-300, rest / freedom) / ((1 + alike) / (1 - alike));
	return {
		length,
		strength: Math.max(0, 1 - rest / total),
		chance: Math.max(0, 1 - fCdf(f, length - 1, freedom)),
		adjusted: 1 - rest / freedom / (total / Math.max(1, n - cycles)),
	};
}

function seasonOf(
	values: Float64Array,
	{ frequency, expected, only }: SeasonQuestion,
): { season: SeasonTest | null; tested: SeasonTest[] } {
	const most = Math.floor(values.length / 2);
	const usual = usualSeasonLengths(frequency);
	const others = Array.from({ length: Math.max(0, Math.min(LONGEST_TESTED, most) - 1) }, (_, i) => i + 2);
	const lengths = only ? [expected] : [...new Set([expected, ...usual, ...others])];
	const able = lengths.filter((length) => length > 1 && length <= most);
	const all = able.map((length) => testLength(values, length));
	const calendar = CALENDAR_SEASON_LENGTH[frequency];
	const isExpected = (length: number) => length === expected || length === calendar;
	const chanceFor = (length: number) =>
		isExpected(length) ? SEASON_CHANCE : SEASON_CHANCE / Math.max(1, able.length);
	const tested = all
		.map((test): SeasonTest => ({
			...test,
			found: test.chance < chanceFor(test.length) && test.strength >= SEASON_STRENGTH && test.adjusted > 0,
		}))
		.sort((a, b) => b.adjusted - a.adjusted);
	const found = tested.filter((test) => test.found);
	const best = found[0];
	if (!best) return { season: null, tested };
	// 24 repeats whatever 12 shows: the shortest length that explains as much; the calendar's where it does.
	const close = found.filter(
		({ length, adjusted }) =>
			adjusted >= best.adjusted - (best.length % length === 0 ? DECISIVE_FOR_MULTIPLES : DECISIVE),
	);
	const season =
		close.find(({ length }) => isExpected(length)) ?? close.sort((a, b) => a.length - b.length)[0]!;
	return { season, tested };
}

function deseasonalised(values: Float64Array, season: Pick<SeasonTest, 'length'> | null): Float64Array {
	if (!season) return values;
	const effects = effectsOf(values, season.length);
	return values.map((value, t) => value - effects[t % season.length]!);
}

/** Figures far from the median of their neighbours, by the spread of all such distances. */
function outliersOf(level: Float64Array, values: Float64Array): Diagnosis['outliers'] {
	const REACH = 3;
	const n = level.length;
	const usual = Float64Array.from(level, (_, t) => {
		const around: number[] = [];
		for (let k = Math.max(0, t - REACH); k <= Math.min(n - 1, t + REACH); k++)
			if (k !== t) around.push(level[k]!);
		return median(around);
	});
	const off = level.map((value, t) => value - usual[t]!);
	const spread = 1.4826 * median(Array.from(off, Math.abs));
	if (!(spread > 0)) return [];
	const outliers: Diagnosis['outliers'] = [];
	for (let t = 0; t < n; t++) {
		const times = Math.abs(off[t]!) / spread;
		// What the season adds there belongs to both.
		if (times > OUTLIER_TIMES)
			outliers.push({ at: t, value: values[t]!, usual: values[t]! - off[t]!, times });
	}
	// Many of them are no outliers but the way the series is.
	return outliers.length > Math.max(1, n / 12) ? [] : outliers;
}

/** Squared errors of a season that multiplies the level against one that adds to it. */
function swingsOf(values: Float64Array, length: number): Diagnosis['swings'] {
	const n = values.length;
	const level = centredLevel(values, length);
	const positive = values.every((value) => value > 0) && level.every((value) => value > 0);
	const span =
		level.reduce((a, b) => Math.max(a, b), -Infinity) / level.reduce((a, b) => Math.min(a, b), Infinity);
	// At one level both are the same; three cycles are the least to compare swings.
	if (!positive || span < 1.25 || n < 3 * length) return null;
	const added = effectsOf(values, length, level);
	const sums = new Float64Array(length);
	const counts = new Float64Array(length);
	for (let t = 0; t < n; t++) {
		sums[t % length]! += values[t]! / level[t]!;
		counts[t % length]!++;
	}
	let plus = 0;
	let times = 0;
	for (let t = 0; t < n; t++) {
		plus += (values[t]! - level[t]! - added[t % length]!) ** 2;
		times += (values[t]! - (level[t]! * sums[t % length]!) / counts[t % length]!) ** 2;
	}
	const ratio = times / plus;
	return Number.isFinite(ratio)
		? { ratio, grow: ratio < SWINGS_RATIO, steady: ratio > 1 / SWINGS_RATIO }
		: null;
}

/**
 * Mann and Kendall's test with the median of all slopes (Sen 1968), its variance widened for errors that follow
 * each other (Yue & Wang 2004, lag one).
 */
function trendOf(level: Float64Array): Diagnosis['trend'] {
	// All pairs of many periods say no more than those of some hundred means.
	const group = Math.ceil(level.length / 240);
	const points = grouped(level, group);
	const n = points.length;
	const slopes: number[] = [];
	let s = 0;
	for (let i = 0; i < n; i++) {
		for (let k = i + 1; k < n; k++) {
			const change = points[k]! - points[i]!;
			s += Math.sign(change);
			slopes.push(change / (k - i));
		}
	}
	const slope = median(slopes);
	const r = lagOne(points.map((value, i) => value - slope * i));
	const widen = (1 + r) / (1 - r);
	const deviation = Math.sqrt(((n * (n - 1) * (2 * n + 5)) / 18) * widen);
	const z = s === 0 ? 0 : (s - Math.sign(s)) / deviation;
	const chance = Math.max(0, 1 - fCdf(z * z, 1, 1e6));
	return { slope: slope / group, chance, found: chance < TREND_CHANCE && slope !== 0 };
}

/** The split in two levels that leaves the least error, against no split and against a line. */
function stepOf(level: Float64Array): Diagnosis['step'] {
	const n = level.length;
	const least = Math.max(4, Math.ceil(0.1 * n));
	if (n < 2 * least) return null;
	const centre = mean(level);
	const total = level.reduce((sum, value) => sum + (value - centre) ** 2, 0);
	let best = { at: -1, rest: Infinity, before: 0, after: 0 };
	let left = 0;
	const whole = level.reduce((a, b) => a + b, 0);
	for (let at = 1; at < n; at++) {
		left += level[at - 1]!;
		if (at < least || at > n - least) continue;
		const [before, after] = [left / at, (whole - left) / (n - at)];
		const rest = total - at * (before - centre) ** 2 - (n - at) * (after - centre) ** 2;
		if (rest < best.rest) best = { at, rest, before, after };
	}
	const middle = (n - 1) / 2;
	let product = 0;
	let squares = 0;
	for (let t = 0; t < n; t++) {
		product += (t - middle) * level[t]!;
		squares += (t - middle) ** 2;
	}
	const line = total - product ** 2 / squares;
	const { at, before, after } = best;
	const r = lagOne(level.map((value, t) => value - (t < at ? before : after)));
	const f = (total - best.rest) / Math.max(1e-300, best.rest / (n - 2)) / ((1 + r) / (1 - r));
	return { at, before, after, f, found: f > STEP_F && best.rest < STEP_OVER_LINE * line && total > 0 };
}

/** Correlation of neighbours, between 0 and 0.9. */
function lagOne(values: Float64Array): number {
	const centre = mean(values);
	let product = 0;
	let squares = 0;
	for (let t = 0; t < values.length; t++) {
		squares += (values[t]! - centre) ** 2;
		if (t > 0) product += (values[t]! - centre) * (values[t - 1]! - centre);
	}
	return squares > 0 ? Math.min(0.9, Math.max(0, product / squares)) : 0;
}

function grouped(values: Float64Array, size: number): Float64Array {
	if (size === 1) return values;
	return Float64Array.from({ length: Math.floor(values.length / size) }, (_, i) =>
		mean(values.subarray(i * size, (i + 1) * size)),
	);
}

const mean = (values: Float64Array) => values.reduce((a, b) => a + b, 0) / values.length;
const sumOfSquares = (values: Float64Array) => values.reduce((a, b) => a + b * b, 0);
