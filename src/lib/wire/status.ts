/** How items stand, period by period and in all. */
import * as v from 'valibot';
import { type Grade } from '$core/grading/grades';
import { ALARM_CHANCES, type Reason } from '$core/grading/reasons';
import { keyed } from '$core/numbers/keyed';
import { betweenSchema } from '$core/schemas';
import { type NewestSaid } from '$core/words/status';
import { LISTED_MEASURES } from './list-columns';
import { frequency, id, known, rangesByLevel, reason } from './parts';

/** An item is hidden until its next actual, or shown again. */
export const HideSchema = v.strictObject({
	hidden: v.boolean('hidden is true or false'),
	words: v.optional(reason, ''),
	/** The newest change of actuals that was seen. */
	seen: id('seen'),
});

export type Hide = v.InferOutput<typeof HideSchema>;

/** How items are watched. */
export const WatchingSchema = v.strictObject({
	/** Chance with which an unbiased forecast is called biased within 24 periods. */
	alarmChance: betweenSchema(
		...ALARM_CHANCES,
		`the chance of a false alarm is a share between ${ALARM_CHANCES.join(' and ')}`,
	),
});

export type Watching = v.InferOutput<typeof WatchingSchema>;

const stake = v.number();
const ReasonSchema = v.variant('code', [
	v.strictObject({ code: v.literal('no-forecast'), stake }),
	v.strictObject({
		code: v.literal('ran-out'),
		stake,
		until: v.number(),
		left: v.number(),
		needed: v.number(),
	}),
	v.strictObject({
		code: v.literal('not-in'),
		stake,
		last: v.number(),
		newest: v.number(),
		have: v.number(),
		items: v.number(),
	}),
	v.strictObject({
		code: v.literal('outside'),
		stake,
		period: v.number(),
		actual: v.number(),
		by: v.number(),
		level: v.number(),
		chance: v.number(),
	}),
	v.strictObject({
		code: v.literal('drifts'),
		stake,
		side: v.picklist(['above', 'below']),
		since: v.number(),
		from: v.number(),
		off: v.number(),
		periods: v.number(),
	}),
	v.strictObject({ code: v.literal('worse-than-naive'), stake, grades: v.number(), by: v.number() }),
	v.strictObject({
		code: v.literal('ranges-off'),
		stake,
		level: v.number(),
		inside: v.number(),
		of: v.number(),
		chance: v.number(),
	}),
]) satisfies v.GenericSchema<unknown, Reason>;

/** How an item's forecast stands. */
export const ItemStatusSchema = v.strictObject({
	/** Why to look at it, the weightiest first. */
	reasons: v.array(ReasonSchema),
	/** By whom it was hidden until its next actual; null where it is not. */
	hidden: v.nullable(v.strictObject({ words: v.string(), by: v.string(), at: v.string() })),
	/** How its newest period was foretold; null where no forecast was in force for it. */
	newest: v.nullable(
		v.strictObject({
			period: v.number(),
			actual: v.number(),
			final: v.number(),
			/** Actual less the figure that was handed over. */
			error: v.number(),
			/** The narrowest level whose range held it; null where none did. */
			inside: known,
			/** Whether there was a range at all. */
			ranged: v.boolean(),
			scored: v.boolean(),
		}),
	),
	/** What the figures that were handed over come to since the newest run began; null without a grade. */
	score: v.nullable(
		v.strictObject({
			count: v.number(),
			...keyed(LISTED_MEASURES, () => known),
			/** On which side of it demand runs, where it drifts. */
			runs: v.nullable(v.picklist(['above', 'below'])),
		}),
	),
});

export type ItemStatus = v.InferOutput<typeof ItemStatusSchema>;

/** How a period was foretold, and what came. */
const GradeSchema = v.strictObject({
	step: v.number(),
	period: v.number(),
	mean: v.number(),
	final: v.number(),
	ranges: rangesByLevel,
	spread: known,
	naive: known,
	seasonalNaive: known,
	record: v.number(),
	run: v.number(),
	actual: v.number(),
	error: v.number(),
	finalError: v.number(),
	inside: known,
	ranged: v.boolean(),
	scored: v.boolean(),
}) satisfies v.GenericSchema<unknown, Grade>;

/** What an item's adopted forecasts came to, period by period. */
export const ItemGradesSchema = v.strictObject({
	grades: v.array(GradeSchema),
	/** Of each run by its first record: mean size of its trial's errors over what was expected of them; null without a trial. */
	sizes: v.record(v.string(), known),
	/** Limit of the alarm on drift. */
	limit: v.number(),
});

export type ItemGrades = v.InferOutput<typeof ItemGradesSchema>;

/** How the newest period of a frequency stands over all items that are on the list. */
export const NewestSchema = v.strictObject({
	frequency,
	period: v.number(),
	items: v.number(),
	have: v.number(),
	/** Of those that have it and had a forecast with a range for it: how many there are, and how many lay inside the widest one. */
	graded: v.number(),
	inside: v.number(),
	/** By reason, how many items show it. */
	reasons: v.record(v.string(), v.number()),
}) as v.GenericSchema<unknown, NewestSaid>;
