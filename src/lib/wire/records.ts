/** What is adopted and handed over. */
import * as v from 'valibot';
import { ChangeSchema, RoundingSchema } from '$core/grading/final';
import { BOUNDS } from '$core/bounds';
import { AlarmSchema, MeasuresSchema, StartSchema } from '$core/questions/answer';
import { CandidateSchema, LevelsSchema, ServiceSchema } from '$core/questions/request';
import { listSchema, recordSchema, wholeSchema } from '$core/schemas';
import { finite, frequency, id, known, rangesByLevel, reason } from './parts';

/** A candidate to adopt. Its figures are computed on the server from the stored actuals. */
export const AdoptSchema = v.strictObject({
	candidate: CandidateSchema,
	/** The candidates that it is made from, where it is a combination. */
	others: v.optional(
		listSchema(CandidateSchema, 'others are a list', 'candidates', BOUNDS.candidates - 1),
		[],
	),
	horizon: wholeSchema(1, BOUNDS.horizon, 'the horizon'),
	levels: v.optional(LevelsSchema, [0.8, 0.95]),
	/** Chance with which what is stocked for the next periods is to last. */
	service: v.optional(ServiceSchema, 0.95),
	/** Figures put in place of computed ones by hand, at most one a step, each with its reason. */
	changes: v.optional(
		v.pipe(
			listSchema(
				v.strictObject({
					...ChangeSchema.entries,
					reason: v.pipe(reason, v.minLength(1, 'a change by hand needs a reason')),
				}),
				'changes are a list',
				'changes',
				BOUNDS.horizon,
			),
			v.check(
				(changes) => new Set(changes.map(({ step }) => step)).size === changes.length,
				'a step is changed once',
			),
		),
		[],
	),
	rounding: v.optional(v.nullable(RoundingSchema), null),
	/** First scored period, where the comparison was narrowed; it decides what a search minimises over. */
	scoreFrom: v.optional(v.nullable(wholeSchema(1, BOUNDS.periods, 'scoreFrom')), null),
	reason: v.optional(reason, ''),
	/** The newest change of actuals, and the newest entry of the layers, that the browser had seen. */
	seen: id('seen'),
	seenLayers: v.optional(id('seenLayers'), 0),
	/** The newest record that the browser had seen; null for none. */
	seenRecord: v.nullable(id('seenRecord')),
	/** The steps as they were shown, the first first: what is adopted is what was seen. */
	shown: listSchema(
		v.strictObject({
			mean: v.nullable(finite),
			/** What is handed over, where that was changed or rounded. */
			final: v.optional(v.nullable(finite)),
			/** Range ends by level; null where there is none. */
			ranges: v.optional(
				recordSchema(
					v.string(),
					v.nullable(v.strictTuple([finite, finite])),
					'ranges are an object',
					'levels',
					BOUNDS.levels,
				),
				{},
			),
		}),
		'shown are the steps as they were shown, a list',
		'steps',
		BOUNDS.horizon,
	),
});

export type Adopt = v.InferOutput<typeof AdoptSchema>;

/** The newest record again, on newer actuals, with the same settings. */
export const UpdateAdoptedSchema = v.strictObject({
	reason: v.optional(reason, ''),
	/** The newest change of actuals, and the newest entry of the layers, that were seen. */
	seen: id('seen'),
	seenLayers: v.optional(id('seenLayers'), 0),
});

export type UpdateAdopted = v.InferOutput<typeof UpdateAdoptedSchema>;

const AdoptedStepSchema = v.strictObject({
	step: v.number(),
	period: v.number(),
	mean: v.number(),
	ranges: rangesByLevel,
	/** What was handed over, and how it came about where it is another figure. */
	final: v.number(),
	changedTo: known,
	changeRate: known,
	changeReason: v.nullable(v.string()),
	/** Root mean square error that was expected; what repeating the last actual, and the last cycle, said. */
	spread: known,
	naive: known,
	seasonalNaive: known,
});

export type AdoptedStep = v.InferOutput<typeof AdoptedStepSchema>;

/** How it stood over its own periods when it was adopted; records older than the alarm are without one. */
const AdoptedMeasuresSchema = v.strictObject({
	...MeasuresSchema.entries,
	alarm: v.exactOptional(AlarmSchema),
});
export type AdoptedMeasures = v.InferOutput<typeof AdoptedMeasuresSchema>;

export const AdoptedForecastSchema = v.strictObject({
	id: v.number(),
	method: v.string(),
	label: v.string(),
	candidate: CandidateSchema,
	constants: v.record(v.string(), v.number()),
	start: v.nullable(StartSchema),
	measures: AdoptedMeasuresSchema,
	/** Ordinal of the last period known then. */
	origin: v.number(),
	reason: v.string(),
	adoptedAt: v.string(),
	adoptedBy: v.string(),
	programVersion: v.string(),
	steps: v.array(AdoptedStepSchema),
	rounding: v.nullable(RoundingSchema),
	/** The record that it was carried on from. */
	carriedFrom: v.nullable(v.number()),
	/** Sums over the next 1, 2, … periods; empty in records from before they were kept. */
	together: v.array(v.strictObject({ mean: known, ranges: rangesByLevel, stock: v.exactOptional(known) })),
	/** Chance with which what is stocked lasts. */
	service: known,
	/** The newest change of actuals that it saw, and entry of the layers. */
	saw: v.number(),
	sawLayers: v.number(),
	/** What was done to the actuals before: “1 left out”. */
	layersUsed: v.array(v.string()),
});

export type AdoptedForecast = v.InferOutput<typeof AdoptedForecastSchema>;

/** The adopted figures of an item, as they are handed over: of periods that are not in yet. */
export const ForecastSchema = v.strictObject({
	code: v.string(),
	name: v.string(),
	unit: v.string(),
	frequency,
	adopted: v.strictObject({ id: v.number(), label: v.string(), at: v.string(), by: v.string() }),
	/** Ordinal of the first period. */
	first: v.number(),
	steps: v.array(
		v.strictObject({
			/** As data: "2026-11". */
			period: v.union([v.string(), v.number()]),
			computed: v.number(),
			final: v.number(),
			ranges: rangesByLevel,
			/** Why it was changed by hand. */
			reason: v.nullable(v.string()),
		}),
	),
	total: v.strictObject({ computed: v.number(), final: v.number() }),
});

export type Forecast = v.InferOutput<typeof ForecastSchema>;
