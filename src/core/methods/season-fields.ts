import * as v from 'valibot';
import { BOUNDS } from '../bounds';
import { betweenSchema, figureSchema, listSchema, textSchema, wholeSchema } from '../schemas';
import { INDEX_RULES, type IndexInput } from '../seasons/indices';
import { LEVEL_RULES, type LevelInput } from '../seasons/levels';
import { choiceField, shapedField } from '../contract/field';

/** Whether seasons are added to a level or multiply it. */
export const seasonField = choiceField(
	{
		key: 'season',
		name: 'season',
		symbol: 's',
		meaning: 'Whether seasons are added to the level or multiply it.',
	},
	[
		{ value: 'additive', name: 'added season' },
		{ value: 'multiplicative', name: 'multiplied season' },
	],
	'additive',
);

const cycles = v.optional(wholeSchema(1, BOUNDS.periods, 'cycles'));

/** A value for each season. */
const bySeason = <Entry extends v.GenericSchema>(entry: Entry, what: string) =>
	listSchema(entry, `${what} are a list from season 1 to the last`, what, BOUNDS.seasonLength);

/** Values by season; null where there is none. */
export const heldSchema = bySeason(
	v.nullable(figureSchema('a held index is a finite number, or null where it is free')),
	'held indices',
);

const indexSchema = v.pipe(
	v.strictObject({
		rule: v.picklist(INDEX_RULES, `indices are taken by ${INDEX_RULES.join(', ')}`),
		average: v.optional(v.picklist(['mean', 'median'], 'ratios are averaged by mean or median')),
		cycles,
		normalise: v.optional(v.boolean('normalise is true or false')),
		indices: v.optional(bySeason(figureSchema('an index is a finite number'), 'indices')),
		held: v.optional(heldSchema),
	}),
	v.forward(
		v.partialCheck(
			[['rule'], ['indices']],
			({ rule, indices }) => rule !== 'given' || indices !== undefined,
			'the rule given needs its indices, season 1 first',
		),
		['indices'],
	),
);

const FIRST_INDEX: IndexInput = { rule: 'ratio-to-moving-average' };

/** How indices are taken. */
export const indexField = shapedField<IndexInput>(
	{
		key: 'index',
		name: 'indices',
		symbol: 'i',
		meaning: 'How far each season lies above or below the level.',
	},
	indexSchema,
	FIRST_INDEX,
	FIRST_INDEX,
);

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

/** A weight among others: a figure of at least 0. */
export const weightSchema = betweenSchema(0, BOUNDS.figure, 'a weight is a figure of at least 0');

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

const levelSchema = v.pipe(
	v.variant('rule', [...PLAIN_LEVELS, blend], `a level follows one of ${LEVEL_RULES.join(', ')}`),
	v.check(
		(level) =>
			level.rule !== 'blend' ||
			level.weights === undefined ||
			(level.weights.length === level.of.length && level.weights.some((each) => each > 0)),
		'a blend has one weight for each of its levels, not all of them 0',
	),
);

const FIRST_LEVEL: LevelInput = { rule: 'last-cycle' };

/** The level of the coming cycle. */
export const levelField = shapedField<LevelInput>(
	{ key: 'level', name: 'level', symbol: 'L', meaning: 'What the indices of the coming cycle are put to.' },
	levelSchema,
	FIRST_LEVEL,
	FIRST_LEVEL,
);

/** Levels that are laid side by side with the one in use. */
export const scenariosField = shapedField<readonly LevelInput[] | undefined>(
	{ key: 'scenarios', name: 'scenarios', symbol: '', meaning: 'Levels laid side by side; one is in use.' },
	listSchema(levelSchema, 'scenarios are a list of levels', 'scenarios', BOUNDS.scenarios),
	undefined,
	undefined,
);

/** The last period that indices and level may learn from. */
export const frozenField = shapedField<string | number | undefined>(
	{
		key: 'frozen',
		name: 'frozen as of',
		symbol: '',
		meaning:
			'Indices and level stay as they stood at the end of this period; redone with each cycle otherwise.',
	},
	v.union(
		[textSchema('frozen', 1, BOUNDS.period), figureSchema('frozen is a period')],
		'frozen is a period, such as 2024-12',
	),
	undefined,
	undefined,
);
