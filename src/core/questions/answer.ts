import * as v from 'valibot';
import type { Alarm } from '../accuracy/alarm';
import { MEASURE_IDS, type Measures } from '../accuracy/measures';
import { signalAt, type Tracking } from '../accuracy/tracking';
import { RANGE_KINDS, type Start, START_RULES } from '../contract/candidate';
import type { Note } from '../contract/note';
import { listed } from '../numbers/known';
import { CRITERIA } from '../contract/criteria';
import type { Search } from '../contract/found';
import { keyed } from '../numbers/keyed';

/**
 * The answer of `evaluate`, twice: as it is computed, with typed lists, and as it is written down, with a schema:
 * what stands in it then is finite, or null where it does not exist.
 */

const figure = v.pipe(v.number(), v.finite());
const known = v.nullable(figure);
const count = v.pipe(v.number(), v.integer(), v.minValue(0));
const list = v.array(known);
const byName = v.record(v.string(), figure);
const range = v.strictTuple([figure, figure]);
const line = v.strictObject({ intercept: figure, slope: figure });

const NoteSchema = v.strictObject({
	code: v.string(),
	text: v.string(),
	figures: v.record(v.string(), v.nullable(v.union([figure, v.string()]))),
}) satisfies v.GenericSchema<unknown, Note>;

export const MeasuresSchema = v.strictObject({
	...keyed(MEASURE_IDS, () => known),
	count,
	mapeCount: count,
	maseLag: count,
}) satisfies v.GenericSchema<unknown, Measures>;

const TrackingPointSchema = v.strictObject({
	/** 1-based. */
	t: count,
	error: figure,
	/** Sum of errors (or its smoothed form). */
	cfe: figure,
	/** Mean absolute error (or its smoothed form). */
	mad: figure,
	/** cfe / mad; null while mad is 0. */
	signal: known,
});

export const AlarmSchema = v.strictObject({
	/** Smoothed errors over their smoothed size, −1 … 1; null where nothing was missed by. */
	ratio: known,
	limit: figure,
	/** Chance that an unbiased forecast is flagged at least once within as many periods. */
	chance: figure,
	/** 1-based period from which it has stood outside without a break. */
	since: v.nullable(count),
	/** Mean size of the errors of its trial, one period ahead, that it began from; null without one. */
	size: known,
}) satisfies v.GenericSchema<unknown, Alarm>;

export const StartSchema = v.strictObject({
	rule: v.picklist(START_RULES),
	at: count,
	level: figure,
	trend: v.exactOptional(figure),
	season: v.exactOptional(v.array(figure)),
}) satisfies v.GenericSchema<unknown, Start>;

const SearchSchema = v.strictObject({
	criterion: v.picklist(CRITERIA),
	value: figure,
	evaluations: count,
	basins: v.array(v.strictObject({ constants: byName, value: figure })),
	flat: v.record(v.string(), range),
	atBound: v.array(v.string()),
}) satisfies v.GenericSchema<unknown, Search>;

/** One period to come. */
const AheadStepSchema = v.strictObject({
	step: count,
	/** As data: "2026-01"; a number at frequency `step`. */
	period: v.union([v.string(), figure]),
	mean: known,
	/** [low, high] by level as written in the request; null where nothing is known of the errors. */
	ranges: v.record(v.string(), v.nullable(range)),
	/** Root mean square of the errors that ranges are made from at this step; null where nothing is known of them. */
	spread: known,
});
export type AheadStep = v.InferOutput<typeof AheadStepSchema>;

/** One period held back: forecast at the cut with its ranges, and one period before it came. */
const HeldStepSchema = v.strictObject({ ...AheadStepSchema.entries, oneStep: known });
export type HeldStep = v.InferOutput<typeof HeldStepSchema>;

/** How forecasts h steps ahead of earlier origins compare with what came. */
const TrialStepSchema = v.strictObject({
	step: count,
	count,
	mad: known,
	/** Root mean square, never less than that of a shorter step: what ranges are made from. */
	rms: known,
	/** Mean absolute error of repeating the last actual from the same origins. */
	naive: known,
	/** mad over that; below 1 it is closer. */
	relativeError: known,
	/** By level: how many actuals lay inside the range that would have been given. */
	inside: v.record(v.string(), count),
	/** For how many of them there was a range to be given. */
	ranged: count,
});
export type TrialStep = v.InferOutput<typeof TrialStepSchema>;

const TrialScoreSchema = v.strictObject({
	origins: count,
	byStep: v.array(TrialStepSchema),
	/** Over all origins and steps alike; against naive from the same origins. */
	measures: MeasuresSchema,
	/** Origin by origin, with the periods known there: steps with an actual, and sums of sizes and of squares over them. */
	missed: v.array(
		v.strictObject({
			origin: count,
			count,
			own: figure,
			naive: figure,
			squared: figure,
			naiveSquared: figure,
			actual: figure,
		}),
	),
});
export type TrialScore = v.InferOutput<typeof TrialScoreSchema>;

/** Named per-period lists, and what else the figures rest on. */
export interface States {
	line?: { intercept: number; slope: number };
	/** Season 1 to P. */
	indices?: (number | null)[];
	/** The mean of each cycle that the series touches; null where it is not complete. */
	cycleLevels?: (number | null)[];
	/** Single figures by name that forecasts rest on. */
	figures?: Readonly<Record<string, number>>;
	[key: string]:
		(number | null)[] | { intercept: number; slope: number } | Readonly<Record<string, number>> | undefined;
}
// What the known keys hold beside the lists is no list: the compiler cannot say so of an object with any other key.
const StatesSchema = v.objectWithRest(
	{
		line: v.exactOptional(line),
		indices: v.exactOptional(list),
		cycleLevels: v.exactOptional(list),
		figures: v.exactOptional(byName),
	},
	list,
) as unknown as v.GenericSchema<States>;

/** A candidate that ran. Per-period lists run with the fitted periods and are left out of a summary. */
const CandidateResultSchema = v.strictObject({
	id: v.string(),
	method: v.string(),
	kind: v.picklist(['forecast', 'cycle', 'fit']),
	ok: v.literal(true),
	constants: byName,
	start: v.nullable(StartSchema),
	/** 1-based first scored period. */
	scoreFrom: count,
	fitted: v.exactOptional(list),
	errors: v.exactOptional(list),
	/** Named per-period lists, and the line of methods that lay one. */
	states: v.exactOptional(StatesSchema),
	measures: v.strictObject({
		own: MeasuresSchema,
		common: MeasuresSchema,
		holdout: v.exactOptional(v.strictObject({ ahead: MeasuresSchema, oneStep: MeasuresSchema })),
	}),
	tracking: v.exactOptional(v.array(TrackingPointSchema)),
	trial: v.exactOptional(TrialScoreSchema),
	/** Whether errors of late call it biased, over the window that tracking runs over. */
	alarm: AlarmSchema,
	/** The periods held back, as the others foretold them. */
	heldBack: v.exactOptional(v.array(HeldStepSchema)),
	ahead: v.array(AheadStepSchema),
	rangeKind: v.picklist(RANGE_KINDS),
	/** Sums of the next 1, 2, … periods, with their ranges. */
	together: v.array(
		v.strictObject({
			mean: known,
			ranges: v.record(v.string(), v.nullable(range)),
			/** What lasts for that sum with the chance that was asked for; null where nothing is known of the errors. */
			stock: v.exactOptional(known),
		}),
	),
	/** Means ahead by each of the levels that a candidate keeps beside the one in use. */
	scenarios: v.exactOptional(v.array(list)),
	/** The candidates that it is made from, with their shares and means ahead. */
	parts: v.exactOptional(v.array(v.strictObject({ id: v.string(), share: figure, ahead: list }))),
	search: v.exactOptional(SearchSchema),
	notes: v.array(NoteSchema),
});
export type CandidateResult = v.InferOutput<typeof CandidateResultSchema>;

/** A candidate that cannot run on this series, with the reason. */
const CandidateRefusalSchema = v.strictObject({
	id: v.string(),
	method: v.string(),
	ok: v.literal(false),
	notes: v.array(NoteSchema),
});
export type CandidateRefusal = v.InferOutput<typeof CandidateRefusalSchema>;

const CandidateAnswerSchema = v.variant('ok', [CandidateResultSchema, CandidateRefusalSchema]);
export type CandidateAnswer = v.InferOutput<typeof CandidateAnswerSchema>;

export const AnswerSchema = v.strictObject({
	/** The common window, 1-based; null when no period is shared. */
	window: v.nullable(v.strictObject({ from: count, to: count, count })),
	/** What tracking and notes speak of: the common window, or each candidate's own where that was asked for or none is shared. */
	judged: v.picklist(['common', 'own']),
	candidates: v.array(CandidateAnswerSchema),
	notes: v.array(NoteSchema),
});
export type Answer = v.InferOutput<typeof AnswerSchema>;

/** What was computed of a candidate for each fitted period: n figures a list, NaN where there is none. */
export interface PerPeriod extends Pick<States, 'line' | 'indices' | 'cycleLevels' | 'figures'> {
	fitted: Float64Array;
	errors: Float64Array;
	states: Readonly<Record<string, Float64Array>>;
	tracking: Tracking;
}

/** A candidate that ran, as it was computed. */
export interface Evaluated extends Omit<CandidateResult, 'fitted' | 'errors' | 'states' | 'tracking'> {
	/** In full detail; null in a summary. */
	perPeriod: PerPeriod | null;
}

/** An answer as it was computed. What is the same object as in an earlier answer has not changed since. */
export interface Evaluation extends Omit<Answer, 'candidates'> {
	candidates: (Evaluated | CandidateRefusal)[];
	/** How the closest candidate leads by each reading that there is, to be read with its own notes. */
	leads: Partial<Record<Reading, { id: string; note: Note }>>;
}

/** What candidates are compared by: their common window, the periods held back in either way, or a trial. */
export type Reading = 'common' | 'ahead' | 'step-by-step' | 'trial';

/** An answer as it is written down. */
export function written({ leads: { common: lead }, candidates, ...rest }: Evaluation): Answer {
	return {
		...rest,
		candidates: candidates.map((candidate): CandidateAnswer => {
			if (!candidate.ok) return candidate;
			const result = writtenResult(candidate);
			return lead?.id === result.id ? { ...result, notes: [...result.notes, lead.note] } : result;
		}),
	};
}

/** One of its candidates. */
export const writtenResult = ({ perPeriod, ...result }: Evaluated): CandidateResult => ({
	...result,
	...(perPeriod && writtenPeriods(perPeriod)),
});

function writtenPeriods({ fitted, errors, states, tracking, ...rest }: PerPeriod) {
	return {
		fitted: listed(fitted),
		errors: listed(errors),
		states: {
			...Object.fromEntries(Object.entries(states).map(([key, values]) => [key, listed(values)])),
			...rest,
		},
		tracking: Array.from(tracking.positions, (position, entry) => ({
			t: position + 1,
			error: tracking.errors[entry]!,
			cfe: tracking.cfe[entry]!,
			mad: tracking.mad[entry]!,
			signal: signalAt(tracking, entry),
		})),
	};
}
