import * as v from 'valibot';
import { BOUNDS } from '../bounds';
import { betweenSchema, figureSchema, listSchema, weightSchema, wholeSchema } from '../schemas';

/** What a figure is held against to say how far its season lies above or below. */
export const INDEX_RULES = [
	'ratio-to-moving-average',
	'ratio-to-cycle-mean',
	'ratio-to-overall',
	'ratio-to-trend',
	'given',
] as const;

export const LEVEL_RULES = [
	'last-cycle',
	'cycle-average',
	'cycle-smoothing',
	'cycle-trend',
	'line',
	'given',
	'blend',
] as const;

const cycles = v.optional(wholeSchema(1, BOUNDS.periods, 'cycles'));

/** A value for each season, from season 1 to season P. */
const bySeason = <Entry extends v.GenericSchema>(entry: Entry, what: string) =>
	v.pipe(
		listSchema(entry, `${what} are a list from season 1 to the last`, what, BOUNDS.seasonLength),
		v.readonly(),
	);

/** Values by season; null where there is none. */
export const heldSchema = bySeason(
	v.nullable(figureSchema('a held index is a finite number, or null where it is free')),
	'held indices',
);

/** Two seasons at once, the shorter first: of days, or of hours. */
export const PAIRS = [
	['weekday', 'week-of-year'],
	['hour-of-day', 'weekday'],
] as const;
const pairOf = <First extends string, Second extends string>([first, second]: readonly [First, Second]) =>
	v.pipe(v.strictTuple([v.literal(first), v.literal(second)]), v.readonly());
const pairSchema = v.union(
	[pairOf(PAIRS[0]), pairOf(PAIRS[1])],
	`two seasons at once are ${PAIRS.map((pair) => pair.join(' and ')).join(', or ')}`,
);
export type SeasonPair = (typeof PAIRS)[number];

/** How indices are taken: averaged by the mean, over all cycles and brought to their sum unless told otherwise. */
export const indexSchema = v.pipe(
	v.strictObject({
		rule: v.picklist(INDEX_RULES, `indices are taken by ${INDEX_RULES.join(', ')}`),
		average: v.optional(v.picklist(['mean', 'median'], 'ratios are averaged by mean or median')),
		cycles,
		normalise: v.optional(v.boolean('normalise is true or false')),
		/** Whose indices: those of the group that the item belongs to, or its own as far as they can be told from these. */
		lent: v.optional(
			v.picklist(['group', 'both'], 'lent is group or both; without it indices are the item’s own'),
		),
		/** Whether weak seasons are shrunk. */
		shrink: v.optional(v.boolean('shrink is true or false')),
		indices: v.optional(bySeason(figureSchema('an index is a finite number'), 'indices')),
		held: v.optional(heldSchema),
		/** A season within a season, where the calendar has both. */
		seasons: v.optional(pairSchema),
	}),
	v.forward(
		v.check(
			({ seasons, rule, cycles, indices, held, shrink, normalise }) =>
				seasons === undefined ||
				(rule === 'ratio-to-moving-average' &&
					[cycles, indices, held].every((each) => each === undefined) &&
					!shrink &&
					normalise !== false),
			'two seasons at once are taken by ratio-to-moving-average over all cycles, none of them held or shrunk',
		),
		['seasons'],
	),
	v.forward(
		v.check(
			({ lent, rule, cycles, indices, held, shrink, normalise, seasons }) =>
				lent === undefined ||
				(rule !== 'given' &&
					[cycles, indices, held, seasons].every((each) => each === undefined) &&
					!shrink &&
					normalise !== false),
			'indices that a group lends are taken by a rule over all cycles, of one season, none of them held or shrunk',
		),
		['lent'],
	),
	v.forward(
		v.partialCheck(
			[['rule'], ['indices']],
			({ rule, indices }) => rule !== 'given' || indices !== undefined,
			'the rule given needs its indices, season 1 first',
		),
		['indices'],
	),
);

export type IndexRule = (typeof INDEX_RULES)[number];
export type IndexInput = v.InferOutput<typeof indexSchema>;

const PLAIN_LEVELS = [
	v.strictObject({
		rule: v.literal('last-cycle'),
		growth: v.optional(
			v.pipe(
				figureSchema('growth is a share, such as 0.04'),
				v.gtValue(-1, 'growth is a share above −1'),
				v.maxValue(BOUNDS.growth, `growth is a share of at most ${BOUNDS.growth}`),
			),
		),
	}),
	v.strictObject({
		rule: v.literal('cycle-average'),
		cycles,
	}),
	v.strictObject({
		rule: v.literal('cycle-smoothing'),
		alpha: v.optional(betweenSchema(0, 1, 'alpha lies between 0 and 1')),
	}),
	v.strictObject({ rule: v.literal('cycle-trend') }),
	v.strictObject({ rule: v.literal('line') }),
	v.strictObject({ rule: v.literal('given'), value: figureSchema('the level is a finite number') }),
] as const;

const blend = v.strictObject({
	rule: v.literal('blend'),
	of: v.pipe(
		listSchema(
			v.variant('rule', PLAIN_LEVELS, `a blend is of any of ${LEVEL_RULES.slice(0, -1).join(', ')}`),
			'a blend is of a list of levels',
			'levels in a blend',
			BOUNDS.scenarios,
		),
		v.minLength(1, 'a blend is of one level or more'),
	),
	weights: v.optional(
		listSchema(weightSchema, 'weights are a list, one for each level', 'weights', BOUNDS.scenarios),
	),
});

/** The level of the coming cycle. */
export const levelSchema = v.pipe(
	v.variant('rule', [...PLAIN_LEVELS, blend], `a level follows one of ${LEVEL_RULES.join(', ')}`),
	v.check(
		(level) =>
			level.rule !== 'blend' ||
			level.weights === undefined ||
			(level.weights.length === level.of.length && level.weights.some((each) => each > 0)),
		'a blend has one weight for each of its levels, not all of them 0',
	),
);

export type LevelInput = v.InferOutput<typeof levelSchema>;

/** One way to the level of the coming cycle, by itself. */
export type PlainLevel = v.InferOutput<(typeof PLAIN_LEVELS)[number]>;
