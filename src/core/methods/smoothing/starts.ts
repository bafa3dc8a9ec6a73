import { cyclesOf } from '../../seasons/cycles';
import { seasonIndices, withoutSeason } from '../../seasons/indices';
import { leastSquaresLine } from '../../numbers/line';
import { countPresent, firstPeriods, seasonAt, type Series } from '../../series/series';
import { CannotRun, type SeriesSize, tooFew } from '../../contract/method';
import type { Start, StartInput, StartRule } from '../../contract/candidate';
import type { Family } from './structure';

/** How many first periods a start rule averages or lays a line through unless told otherwise. */
export function defaultStartSpan(periods: number, seasonLength: number): number {
	return Math.min(periods, seasonLength > 1 ? 2 * seasonLength : 6);
}

/** How many first cycles are taken apart unless told otherwise. */
export function defaultStartCycles(periods: number, seasonLength: number): number {
	return Math.max(2, Math.min(Math.floor(periods / seasonLength), 3));
}

/**
 * From how many periods on a start is what it is with all of them: those that it rests on. One that rests on the first one or two
 * cycles cannot be had before these are there.
 */
export function startKnownFrom({ rule, k }: StartInput, { periods, seasonLength }: SeriesSize): number {
	switch (rule) {
		case 'given':
		case 'first':
		case 'first-two':
		case 'first-cycle':
			return 0;
		case 'mean':
		case 'line':
			return Math.min(k ?? defaultStartSpan(periods, seasonLength), periods);
		case 'decomposed':
			return (k ?? defaultStartCycles(periods, seasonLength)) * seasonLength;
		case 'optimised':
			return Infinity;
	}
}

/**
 * The start of a recursion by the rule asked for: level, trend and P season values as they stand at the end of
 * period `at` (definitions in docs/methods.md). `optimised` begins from `line`, or `decomposed` with a season.
 * @param name the method, for refusals
 * @throws CannotRun where the periods that the rule needs hold too little
 */
export function startOf(series: Series, asked: StartInput, family: Family, name: string): Start {
	switch (asked.rule) {
		case 'given':
			return givenStart(series, asked, family, name);
		case 'first': {
			const level = series.values[0] ?? NaN;
			if (Number.isNaN(level)) {
				throw missingStart(
					name,
					`from the first actual, and the first period has none. Start it from ${family.trend === 'none' ? 'the mean of' : 'a line through'} the first periods`,
					1,
					0,
				);
			}
			return { rule: 'first', at: 1, level, ...(family.trend !== 'none' && { trend: 0 }) };
		}
		case 'first-two': {
			const [one = NaN, two = NaN] = series.values;
			const has = countPresent(series.values.subarray(0, 2));
			if (has < 2)
				throw missingStart(
					name,
					`from the first two actuals, and the first two periods have ${has === 1 ? 'one' : 'none'}. Start it from a line through the first periods`,
					2,
					has,
				);
			return { rule: 'first-two', at: 2, level: two, trend: two - one };
		}
		case 'first-cycle':
			return firstCycle(series, family, name);
		case 'mean':
		case 'line':
			return lineStart(series, asked, family, name);
		case 'decomposed':
			return decomposed(series, asked, family, name);
		case 'optimised': {
			const begun =
				family.season === 'none'
					? lineStart(series, asked, family, name)
					: decomposed(series, asked, family, name);
			return { ...begun, rule: 'optimised' };
		}
	}
}

function missingStart(name: string, how: string, needs: number, has: number): CannotRun {
	return new CannotRun({
		code: 'start-is-missing',
		text: `${name} is to start ${how}, or give the starting forecast.`,
		figures: { needs, has },
	});
}

function givenStart(series: Series, asked: StartInput, family: Family, name: string): Start {
	const start: Start = { rule: 'given', at: asked.at ?? 0, level: asked.level! };
	if (family.trend !== 'none') start.trend = asked.trend!;
	if (family.season === 'none') return start;
	const season = asked.season!;
	const length = series.seasonLength;
	if (season.length !== length) {
		throw new CannotRun({
			code: 'start-season-length',
			text: `${name} is given ${season.length} season values to start from; a season of ${length} needs ${length}, season 1 first.`,
			figures: { needs: length, has: season.length },
		});
	}
	if (family.season === 'multiplicative' && season.some((value) => value <= 0)) {
		throw new CannotRun({
			code: 'start-season-not-positive',
			text: `${name} multiplies its seasons: each season value that it starts from is above 0.`,
			figures: { least: Math.min(...season) },
		});
	}
	return { ...start, season };
}

/** The first k periods: their mean for a level alone, else the least-squares line at 0. */
function lineStart(series: Series, asked: StartInput, family: Family, name: string): Start {
	const { values } = series;
	const k = Math.min(asked.k ?? defaultStartSpan(values.length, series.seasonLength), values.length);
	const head = values.subarray(0, k);
	const present = countPresent(head);
	const needs = family.trend === 'none' ? 1 : 2;
	if (present < needs) {
		const what = `${needs === 1 ? 'actual' : 'actuals'} among its first ${k} periods to start from`;
		throw tooFew(name, needs, present, what, 'Start from more periods, or give the start.');
	}
	if (family.trend === 'none') {
		const sum = head.reduce((total, value) => (Number.isNaN(value) ? total : total + value), 0);
		return { rule: asked.rule, at: 0, level: sum / present };
	}
	const { intercept, slope } = leastSquaresLine(head);
	return { rule: asked.rule, at: 0, level: intercept, trend: slope };
}

/** Refuses with the cycles that are needed and those that are there. */
function tooFewCycles(series: Series, cycles: number, name: string): CannotRun {
	const needs = cycles * series.seasonLength;
	const has = series.values.length;
	return new CannotRun({
		code: 'too-few-cycles',
		text: `${name} needs ${cycles} whole ${cycles === 1 ? 'cycle' : 'cycles'} (${needs} periods) to begin; this series has ${has}. Bring in earlier periods, or give the start.`,
		figures: { needs, has },
	});
}

/** A season that no actual of the first cycles says anything about. */
function unknownSeason(name: string, season: number, within: string): CannotRun {
	return new CannotRun({
		code: 'too-few-cycles',
		text: `${name} cannot tell season ${season} from ${within}: no actual there says what it is. Fill the gap, or start from more cycles.`,
		figures: { season },
	});
}

/** The mean of the first cycle, the mean change to the second, and the first cycle's seasons. */
function firstCycle(series: Series, family: Family, name: string): Start {
	const { values, seasonLength: length } = series;
	const cycles = family.trend === 'none' ? 1 : 2;
	if (values.length < cycles * length) throw tooFewCycles(series, cycles, name);
	const head = values.subarray(0, length);
	const present = countPresent(head);
	const level = head.reduce((sum, value) => (Number.isNaN(value) ? sum : sum + value), 0) / present;
	const season = new Array<number>(length);
	let change = 0;
	let pairs = 0;
	for (let i = 0; i < length; i++) {
		const j = seasonAt(series, i + 1);
		if (Number.isNaN(head[i]!)) throw unknownSeason(name, j, 'the first cycle');
		season[j - 1] = family.season === 'multiplicative' ? head[i]! / level : head[i]! - level;
		const later = cycles === 2 ? values[length + i]! : NaN;
		if (Number.isNaN(later)) continue;
		change += (later - head[i]!) / length;
		pairs++;
	}
	if (cycles === 2 && pairs === 0) throw tooFewCycles(series, cycles, name);
	return {
		rule: 'first-cycle',
		at: length,
		level,
		...(family.trend !== 'none' && { trend: change / pairs }),
		season,
	};
}

/** Indices by the centred average over the first cycles, and the line under them at 0. */
function decomposed(series: Series, asked: StartInput, family: Family, name: string): Start {
	const { seasonLength: length } = series;
	const cycles = asked.k ?? defaultStartCycles(series.values.length, length);
	if (cycles < 2) {
		throw new CannotRun({
			code: 'too-few-cycles',
			text: `${name} takes its seasons apart over at least 2 cycles; it is asked to over ${cycles}.`,
			figures: { needs: 2, has: cycles },
		});
	}
	if (series.values.length < cycles * length) throw tooFewCycles(series, cycles, name);
	const { values } = firstPeriods(series, cycles * length);
	const kind = family.season === 'multiplicative' ? 'multiplicative' : 'additive';
	const { before, after: indices } = seasonIndices(values, cyclesOf(series), kind, {
		rule: 'ratio-to-moving-average',
	});
	const unknown = before.findIndex((ratio) => !Number.isFinite(ratio));
	if (unknown >= 0) throw unknownSeason(name, unknown + 1, `the first ${cycles} cycles`);
	const bare = withoutSeason(values, cyclesOf(series), kind, indices);
	const { intercept, slope } = leastSquaresLine(bare);
	return {
		rule: 'decomposed',
		at: 0,
		level: intercept,
		...(family.trend !== 'none' && { trend: slope }),
		season: [...indices],
	};
}

/** The names that start rules go by on a screen and in sentences. */
export const START_NAMES: Readonly<Record<StartRule, string>> = {
	given: 'figures given',
	first: 'the first actual',
	mean: 'a mean of the first',
	'first-two': 'the first two actuals',
	line: 'a line through the first',
	'first-cycle': 'the first cycle',
	decomposed: 'the first cycles taken apart',
	optimised: 'a start searched along',
};
