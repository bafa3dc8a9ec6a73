import * as v from 'valibot';
import { figureSchema } from '../schemas';
import type { Criterion } from '../contract/criteria';
import { criterionValue } from '../search/criterion';
import type { Found, Search } from '../contract/found';
import { findBesideHeld, type HeldLine } from '../search/held-line';
import { findLineAndSeason, type LineAndSeason, putFitted } from '../search/line-and-season';
import { flatAround } from '../search/search';
import { type Cycles, cyclesOf, seasonOf } from '../seasons/cycles';
import { type SeasonKind, withIndex } from '../seasons/indices';
import type { Series } from '../series/series';
import type { Expression } from '../contract/working';
import { figure, plus, times } from '../working/expression';
import { CannotRun, defineMethod, periodsSearched } from '../contract/method';
import type { CandidateInput } from '../contract/candidate';
import type { Model, Parameter, Run } from '../contract/model';
import type { Recorded } from '../contract/working';
import {
	indexNotes,
	refuseNegative,
	refuseSum,
	refuseTyped,
	refuseWithoutSeason,
	seasonWords,
	spelledWithIndex,
} from './seasonal';
import { heldSchema } from '../seasons/settings';
import { seasonField } from './season-fields';

const NAME = 'Line and indices';
/** Passes that it takes to find a line with its indices; by sMAPE, which has the most minima, additive and multiplicative. */
const TOGETHER = {
	squares: 300,
	kinked: 5_000,
	smape: { additive: 100_000, multiplicative: 15_000 },
};
/** The same for each value that is found beside what is fixed. */
const BESIDE_HELD = { squares: 250, kinked: 6_000 };

/** The values that its search moves, by name. */
const keysOf = (length: number) => [
	'intercept',
	'slope',
	...Array.from({ length }, (_, j) => `index ${j + 1}`),
];

const heldLineSchema = v.strictObject({
	intercept: v.optional(figureSchema('the intercept is a finite number')),
	slope: v.optional(figureSchema('the slope is a finite number')),
	indices: v.optional(heldSchema),
});

/** What of line and indices a candidate may hold. */
export type LineHold = v.InferOutput<typeof heldLineSchema>;

/**
 * A line with seasonal indices, all found together: (a + b·t)·i_j with Σ i = P, or a + b·t + i_j with Σ i = 0, minimising the
 * criterion under that sum. Anything may be held. Its fitted values have seen the periods themselves.
 */
export const trendSeasonal = defineMethod({
	id: 'trend-seasonal',
	name: NAME,
	fits: 'A steady climb or fall with a season that repeats itself: line and indices found together over the whole history.',
	constants: [],
	fields: [seasonField],
	starts: [],
	held: heldLineSchema,
	label: (candidate) => `Line and indices ${seasonField.read(candidate) === 'additive' ? '+' : '×'}`,
	short: (candidate) => `Line ${seasonField.read(candidate) === 'additive' ? '+' : '×'} index`,
	kind: () => 'fit',
	follows: (candidate) => ({ trend: true, season: seasonField.read(candidate) }),
	fitSteps(candidate, { periods, seasonLength }) {
		const criterion = candidate.optimise?.criterion ?? 'mse';
		const way = criterion === 'mse' ? 'squares' : 'kinked';
		const held = Object.keys(candidate.optimise?.hold ?? {}).length > 0;
		const together = criterion === 'smape' ? TOGETHER.smape[seasonField.read(candidate)] : TOGETHER[way];
		return periodsSearched(periods) * (held ? BESIDE_HELD[way] * (2 + seasonLength) : together);
	},
	bind(series, candidate) {
		const kind = seasonField.read(candidate);
		const { values, seasonLength: length } = series;
		refuseWithoutSeason(series, NAME, 'puts indices to a line');
		refuseNegative(series, kind);
		const held = heldBy(candidate, length);
		refuseTyped(series, kind, { rule: 'ratio-to-trend', held: held.indices, normalise: false });
		refuseSum(held.indices, kind, length);
		const cycles = cyclesOf(series);
		const criterion = candidate.optimise?.criterion ?? 'mse';
		const present = Int32Array.from(values.keys()).filter((i) => !Number.isNaN(values[i]!));
		refuseTooFew(series, present, cycles, held);
		return {
			firstFitted: 1,
			parameters: keysOf(length).map((key): Parameter => ({
				key,
				role: 'start',
				bounds: [-Infinity, Infinity],
				fallback: key === 'intercept' ? 1 : key === 'slope' ? 0 : kind === 'multiplicative' ? 1 : 0,
				linear: false,
			})),
			pass: (parameters, fitted) => putFitted(lineOf(parameters), cycles, kind, fitted),
			run: (parameters) => runOf(series, cycles, kind, lineOf(parameters)),
			find(scored) {
				return findIn(this, series, cycles, kind, held, criterion, scored);
			},
		};
	},
	working: (candidate) => {
		const kind = seasonField.read(candidate);
		const put = (recorded: Recorded, t: number): Expression => {
			const { line, indices } = recorded;
			const along = plus(figure(line!.intercept), times(figure(line!.slope), figure(t)));
			const index = indices![recorded.seasonAt(t) - 1]!;
			return spelledWithIndex(kind, along, index);
		};
		const sign = kind === 'additive' ? ' + iⱼ' : '·iⱼ';
		const line = kind === 'additive' ? 'a + b·t' : '(a + b·t)';
		return {
			forecast: {
				key: 'fitted',
				name: 'Line with index',
				equation: `fₜ = ${line}${sign}`,
				explain: (recorded, t) => ({
					expression: put(recorded, t),
					remark: 'found through all periods, this one too',
				}),
			},
			states: [
				{
					key: 'level',
					name: 'Line',
					equation: 'a + b·t',
					explain: ({ line }, t) => ({
						expression: plus(figure(line!.intercept), times(figure(line!.slope), figure(t))),
					}),
				},
				{
					key: 'index',
					name: 'Index',
					equation: kind === 'additive' ? 'iⱼ, sum 0' : 'iⱼ, sum P',
					...(kind === 'multiplicative' && { places: { fixed: 4 } }),
					explain: (recorded, t) => ({
						expression: figure(recorded.indices![recorded.seasonAt(t) - 1]!),
						remark: `season ${recorded.seasonAt(t)}, found together with the line`,
					}),
				},
			],
			ahead: `fₙ₊ₕ = ${kind === 'additive' ? 'a + b·(n + h)' : '(a + b·(n + h))'}${sign}`,
			explainAhead: (recorded, step) => ({ expression: put(recorded, recorded.periods + step) }),
		};
	},
});

/** What a candidate's search holds of its line and indices. */
export function heldBy(candidate: CandidateInput, length: number): HeldLine {
	// The schema of this method's `hold` says what may be there.
	const hold: LineHold = candidate.optimise?.hold ?? {};
	return {
		intercept: hold.intercept ?? null,
		slope: hold.slope ?? null,
		indices: hold.indices ?? Array.from({ length }, () => null),
	};
}

const lineOf = (parameters: Float64Array): LineAndSeason => ({
	intercept: parameters[0]!,
	slope: parameters[1]!,
	indices: parameters.slice(2),
});

function findIn(
	model: Model,
	series: Series,
	cycles: Cycles,
	kind: SeasonKind,
	held: HeldLine,
	criterion: Criterion,
	scored: Int32Array,
): Found {
	const { values } = series;
	const { length } = cycles;
	refuseTooFew(series, scored, cycles, held);
	const searched = searchedOf(held);
	const anything = searched < length + 1;
	const { found, evaluations } = anything
		? findBesideHeld(values, cycles, kind, scored, criterion, held)
		: findLineAndSeason(values, cycles, kind, scored, criterion);
	const keys = keysOf(length);
	const parametersOf = ({ intercept, slope, indices }: LineAndSeason) =>
		Float64Array.from([intercept, slope, ...indices]);
	const best = found[0];
	const fitted = new Float64Array(values.length);
	if (best) putFitted(best, cycles, kind, fitted);
	const value = best ? criterionValue(criterion, values, fitted, scored) : NaN;
	if (!best || !Number.isFinite(value)) {
		throw new CannotRun({
			code: 'criterion-missing',
			text: 'There is no line with indices that this criterion could be had for: every scored actual is 0, or none is left. Search by MSE or MAD, or take an additive season.',
			figures: { scored: scored.length },
		});
	}
	const parameters = parametersOf(best);
	const line = [held.intercept, held.slope];
	const free = [0, 1].filter((place) => line[place] === null);
	const search: Search = {
		criterion,
		value,
		evaluations,
		basins: found.map((each) => ({
			constants: Object.fromEntries([...parametersOf(each)].map((at, i) => [keys[i]!, at])),
			value: Number.isNaN(each.value) ? value : each.value,
		})),
		flat: flatAround(model, values, scored, criterion, parameters, free),
		atBound: [],
	};
	return { parameters, searched, search };
}

/** How many values are to be found; one of the indices follows from the sum of all. */
function searchedOf({ intercept, slope, indices }: HeldLine): number {
	const free = indices.filter((index) => index === null).length;
	return Number(intercept === null) + Number(slope === null) + Math.max(0, free - 1);
}

/** Every free index needs a figure of its season, and the whole more figures than it has values. */
function refuseTooFew(series: Series, scored: Int32Array, cycles: Cycles, held: HeldLine): void {
	const searched = searchedOf(held);
	const has = new Int32Array(cycles.length);
	for (const i of scored) has[seasonOf(cycles, i)]!++;
	const unknown = held.indices.findIndex((index, j) => index === null && has[j] === 0);
	if (unknown >= 0) {
		throw new CannotRun({
			code: 'too-few-cycles',
			text: `The index of ${seasonWords(series, unknown + 1)} cannot be found: no scored figure there says what it is. Bring in more periods, fill the gaps, or fix that index.`,
			figures: { season: unknown + 1 },
		});
	}
	if (scored.length > searched || searched === 0) return;
	throw new CannotRun({
		code: 'too-few-periods',
		text: `${NAME} has ${searched} values to find and needs more than ${searched} scored periods; there are ${scored.length}. Bring in more, or fix some of the values.`,
		figures: { needs: searched + 1, has: scored.length },
	});
}

function runOf(series: Series, cycles: Cycles, kind: SeasonKind, made: LineAndSeason): Run {
	const { intercept, slope, indices } = made;
	const over = (n: number): Run => {
		const fitted = new Float64Array(n);
		putFitted(made, cycles, kind, fitted);
		return {
			fitted,
			start: null,
			states: {
				level: fitted.map((_, i) => intercept + slope * (i + 1)),
				index: fitted.map((_, i) => indices[seasonOf(cycles, i)]!),
			},
			line: { intercept, slope },
			slope,
			indices,
			forecast(origin, out) {
				for (let h = 0; h < out.length; h++) {
					const i = origin + h;
					out[h] = withIndex(kind, intercept + slope * (i + 1), indices[seasonOf(cycles, i)]!);
				}
			},
			over: (longer) => over(longer.values.length),
			remarks: [...indexNotes(series, kind, indices), ...crossingNotes(series, made, kind, n)],
		};
	};
	return over(series.values.length);
}

/** A line that reaches zero makes seasons that multiply it stand on their heads. */
function crossingNotes(
	series: Series,
	{ intercept, slope, indices }: LineAndSeason,
	kind: SeasonKind,
	n: number,
) {
	if (kind === 'additive') return [];
	const ends = [intercept + slope, intercept + slope * n];
	const crosses = ends[0]! * ends[1]! < 0;
	const negative = [...indices].findIndex((index) => index < 0);
	if (!crosses && negative < 0) return [];
	return [
		{
			code: 'line-crosses-zero',
			text: crosses
				? 'The line crosses zero within the history, where indices that multiply it mean nothing. Take an additive season, or fix the slope.'
				: `The index of ${seasonWords(series, negative + 1)} came out below 0. Fix it, or take an additive season.`,
			figures: { first: ends[0]!, last: ends[1]! },
		},
	];
}
