/** What is done to many items in the background. */
import * as v from 'valibot';
import { BOUNDS } from '$core/bounds';
import { CRITERIA } from '$core/contract/criteria';
import { measuresIn } from '$core/accuracy/measures';
import { keyed } from '$core/numbers/keyed';
import { CandidatesSchema, ServiceSchema } from '$core/questions/request';
import { textSchema } from '$core/schemas';
import { AskedSchema } from './asked-schema';
import { LabelsSchema } from './labels-schema';
import { namedItems } from './list';
import { frequency, id, known, reason, scaleSchema, PlaceSchema } from './parts';
import { SWEEP_FIGURES } from './sweep-columns';
import { SHARES, SWEEP_KIND_IDS, type SweepKind, sweepKind, type SweepKindDescription } from './sweep-kinds';

/** Which rows are adopted without naming them: those that are clearly closer, or all that can be. */
export const SWEEP_RULES = ['clear', 'all'] as const;

/** What a sweep is told beside its items. */
const sweepSettings = {
	/** Of `try`: the line-up, and what the closest is told by. */
	lineUp: v.optional(CandidatesSchema, []),
	criterion: v.optional(v.picklist(CRITERIA, `the criterion is one of ${CRITERIA.join(', ')}`), 'mad'),
	/** Of `stock`: the probability that a stock covers demand over the lead time. */
	service: v.optional(v.nullable(ServiceSchema), null),
};

const share = v.picklist(SHARES, `share is one of ${SHARES.join(', ')}`);

/** A sweep to be begun. */
export const NewSweepSchema = v.pipe(
	v.strictObject({
		kind: v.picklist(SWEEP_KIND_IDS, `kind is one of ${SWEEP_KIND_IDS.join(', ')}`),
		items: v.union(
			[
				...namedItems,
				v.strictObject({ rule: v.picklist(SWEEP_RULES) }),
				v.strictObject({ partsOf: textSchema('the code', 1, BOUNDS.code) }),
			],
			'items are { asked, except }, { codes }, to adopt { rule }, or to share { partsOf }',
		),
		settings: v.optional(
			v.strictObject({
				...sweepSettings,
				/** Of `share`: by what. */
				share: v.optional(v.nullable(share), null),
			}),
			{},
		),
		/** To adopt: the sweep whose rows are adopted. */
		of: v.optional(v.nullable(id('of')), null),
		reason: v.optional(reason, ''),
	}),
	v.check(
		({ kind, settings }) => isTold(kind, 'lineUp', settings.lineUp.length > 0),
		'a line-up of at least one candidate is given to be tried, and for nothing else',
	),
	v.check(
		({ kind, settings }) => isTold(kind, 'service', settings.service !== null),
		'`service` is given for stock, and for nothing else',
	),
	v.check(
		({ kind, items, settings }) =>
			isTold(kind, 'share', 'partsOf' in items) && isTold(kind, 'share', settings.share !== null),
		'`share` and the sum that is shared, `partsOf`, are given to share, and for nothing else',
	),
	v.check(({ kind, of }) => isTold(kind, 'of', of !== null), '`of` names the sweep whose rows are adopted'),
);

/** Whether something is told to the kind that wants it, and to no other. */
const isTold = (kind: SweepKind, what: SweepKindDescription['told'], told: boolean): boolean =>
	(sweepKind(kind).told === what) === told;

export type NewSweep = v.InferOutput<typeof NewSweepSchema>;

/** What a sweep was told, as it is kept. */
export const SweepSettingsSchema = v.strictObject({
	...sweepSettings,
	/** Of `share`: which record of which sum, and for each period its figure and what the shares are parts of. */
	share: v.optional(
		v.nullable(
			v.strictObject({
				by: share,
				of: v.string(),
				record: v.number(),
				/** For how many periods it has figures; those that its items have no forecast for are not shared. */
				ahead: v.number(),
				periods: v.array(v.strictObject({ period: v.number(), figure: v.number(), whole: v.number() })),
			}),
		),
		null,
	),
});

/** A sweep, and how far it is. */
export const SweepSchema = v.strictObject({
	id: v.number(),
	kind: v.picklist(SWEEP_KIND_IDS),
	/** What the list was asked for; null where items were named. */
	asked: v.nullable(AskedSchema),
	settings: SweepSettingsSchema,
	of: known,
	reason: v.string(),
	items: v.number(),
	done: v.number(),
	at: v.string(),
	by: v.string(),
	stopped: v.nullable(v.strictObject({ at: v.string(), by: v.string() })),
	/** When its rows were deleted, since all was decided long ago. */
	clearedAt: v.nullable(v.string()),
	endedAt: v.nullable(v.string()),
	/** Parts that failed three times, and why. */
	setApart: v.array(v.strictObject({ items: v.number(), why: v.string() })),
});

export type Sweep = v.InferOutput<typeof SweepSchema>;

/** Measures that are kept of each candidate that was tried. */
export const SWEPT_MEASURES = measuresIn('sweep');

/** What came of one item. */
export const SweepRowSchema = v.strictObject({
	code: v.string(),
	name: v.string(),
	unit: v.string(),
	frequency,
	labels: LabelsSchema,
	scale: scaleSchema,
	/** Why nothing came of it. */
	refused: v.nullable(v.string()),
	label: v.nullable(v.string()),
	/** What was adopted when it was calculated: what it is held against. */
	before: v.nullable(v.string()),
	clear: v.nullable(v.boolean()),
	/** Whether its demand is rare, so that both were compared by squared errors, and MAD, MAPE and WAPE mislead. */
	rare: v.boolean(),
	...keyed(SWEEP_FIGURES, () => known),
	measures: v.nullable(
		v.array(
			v.strictObject({
				label: v.string(),
				...keyed(SWEPT_MEASURES, () => known),
				best: v.boolean(),
			}),
		),
	),
	/** Whether it can be adopted as it stands here. */
	ready: v.boolean(),
	/** The record that was made of it. */
	record: known,
});

export type SweepRow = v.InferOutput<typeof SweepRowSchema>;

export const SWEEP_SORTS = ['code', 'before', 'label', ...SWEEP_FIGURES] as const;

export const SWEEP_SHOWN = ['all', 'clear', 'worse', 'refused', 'ready', 'adopted'] as const;
export const SweepAskedSchema = v.strictObject({
	show: v.optional(v.picklist(SWEEP_SHOWN, `show is one of ${SWEEP_SHOWN.join(', ')}`), 'all'),
	words: v.optional(textSchema('the words', 0, BOUNDS.name), ''),
	method: v.optional(v.nullable(textSchema('the method', 1, BOUNDS.label)), null),
	sort: v.optional(v.picklist(SWEEP_SORTS, `sort is one of ${SWEEP_SORTS.join(', ')}`), 'gain'),
	down: v.optional(v.boolean(), true),
});

export type SweepAsked = v.InferOutput<typeof SweepAskedSchema>;

/** A window of what came of a sweep. */
export const SweepWindowSchema = v.strictObject({
	items: v.array(SweepRowSchema),
	next: v.nullable(PlaceSchema),
});

export type SweepWindow = v.InferOutput<typeof SweepWindowSchema>;

/** What a sweep comes to over all its items. */
export const SweepSumsSchema = v.strictObject({
	rows: v.number(),
	refused: v.number(),
	ready: v.number(),
	adopted: v.number(),
	/** Items that could be held against what is adopted; of them clearly closer, and closer at all. */
	beside: v.number(),
	clear: v.number(),
	closer: v.number(),
	/** Of those that are clearly closer, how many are not adopted yet. */
	clearLeft: v.number(),
	/** Stocks that are above those by what is adopted, and below. */
	stockMore: v.number(),
	stockLess: v.number(),
	/** First figures added up: those that it says, and what is handed over for the same periods now. */
	next: known,
	nextBefore: known,
	/** How many have rare demand: they have no part in WAPE. */
	rare: v.number(),
	/** Over all others, in per cent of what came: what is adopted, and what is proposed. */
	wapeBefore: known,
	wape: known,
	/** The same where only those that are clearly closer were adopted. */
	wapeClear: known,
	/** How many gain how much: shares from −50 to 50 % in steps of five, what lies beyond at either end. */
	gains: v.array(v.strictObject({ from: v.number(), items: v.number(), clear: v.number() })),
	/** By what is proposed or closest. */
	methods: v.array(v.strictObject({ label: v.string(), items: v.number(), clear: v.number() })),
	/** Why nothing came of items, the most usual reasons first. */
	reasons: v.array(v.strictObject({ why: v.string(), items: v.number() })),
});

export type SweepSums = v.InferOutput<typeof SweepSumsSchema>;
