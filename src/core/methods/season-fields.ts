import * as v from 'valibot';
import { BOUNDS } from '../bounds';
import { figureSchema, listSchema, textSchema } from '../schemas';
import { type IndexInput, indexSchema, type LevelInput, levelSchema } from '../seasons/settings';
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
		{ value: 'additive', name: 'additive season' },
		{ value: 'multiplicative', name: 'multiplicative season' },
	],
	'additive',
);

const FIRST_INDEX: IndexInput = { rule: 'ratio-to-moving-average' };

/** How indices are taken. */
export const indexField = shapedField(
	{
		key: 'index',
		name: 'indices',
		symbol: 'i',
		meaning: 'How far each season lies above or below the level.',
	},
	indexSchema,
	FIRST_INDEX,
);

const FIRST_LEVEL: LevelInput = { rule: 'last-cycle' };

/** The level of the coming cycle. */
export const levelField = shapedField(
	{ key: 'level', name: 'level', symbol: 'L', meaning: 'What the indices of the coming cycle are put to.' },
	levelSchema,
	FIRST_LEVEL,
);

/** Levels that are laid side by side with the one in use. */
export const scenariosField = shapedField(
	{ key: 'scenarios', name: 'scenarios', symbol: '', meaning: 'Levels laid side by side; one is in use.' },
	listSchema(levelSchema, 'scenarios are a list of levels', 'scenarios', BOUNDS.scenarios),
	undefined,
);

/** The last period that indices and level may learn from. */
export const frozenField = shapedField(
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
);
