import * as v from 'valibot';
import { BOUNDS, written } from '../bounds';
import { betweenSchema, figureSchema, listSchema, MOST_ISSUES, textSchema, wholeSchema } from '../schemas';
import { trackingSchema } from '../accuracy/tracking';
import { FREQUENCIES } from '../series/frequency';
import { GAP_RULES } from '../series/gaps';
import { parsePeriod, PeriodError } from '../series/period';
import { RANGE_KINDS, START_RULES, type StartPart, type StartRule } from '../contract/candidate';
import type { Method } from '../contract/method';
import { CRITERIA } from '../contract/criteria';
import { NEWEST_RULE, RANGE_RULES } from '../ranges/contract';
import { USUAL_ORIGINS } from './usual';
import { type Candidate, madeFrom, METHODS, methodOf, tunedSettings } from '../methods/registry';

/** What is wrong with a request, place by place. */
export interface RequestIssue {
	/** Keys from the outside in, joined by dots: "candidates.0.span". */
	path: string;
	message: string;
}

/** Thrown for a request that is refused whole. */
export class RequestError extends Error {
	override name = 'RequestError';
	constructor(readonly issues: readonly RequestIssue[]) {
		super(issues.map((issue) => `${issue.path}: ${issue.message}`).join('; '));
	}
}

/** A number of periods of a series, or a position in it. */
const periods = (least: number, what: string) => wholeSchema(least, BOUNDS.periods, what);

/** More wrong values than these are not listed. */
const LISTED = 20;

/** One figure a period, null where it is missing. */
const valuesSchema = v.pipe(
	v.custom<(number | null)[]>(Array.isArray, 'values are a list'),
	v.minLength(1, 'a series needs at least one value'),
	v.maxLength(BOUNDS.periods, `a series holds at most ${written(BOUNDS.periods)} periods`),
	// One check over the whole list: this runs on every move of a dial, over thousands of values.
	v.rawCheck(({ dataset, addIssue }) => {
		if (!dataset.typed) return;
		const input = dataset.value;
		let listed = 0;
		for (let key = 0; key < input.length && listed < LISTED; key++) {
			const value: unknown = input[key];
			if (value === null || (typeof value === 'number' && Math.abs(value) <= BOUNDS.figure)) continue;
			listed++;
			addIssue({
				message: `a value is a finite number no larger than ${written(BOUNDS.figure)} on either side of 0, or null where it is missing`,
				path: [{ type: 'array', origin: 'value', input, key, value }],
			});
		}
	}),
);

const firstPeriodSchema = v.optional(
	v.union(
		[textSchema('the first period', 1, BOUNDS.period), figureSchema('the first period is a number')],
		'the first period is a text such as 2022-01',
	),
);

/** What the other items of a group come to. */
export const GroupSchema = v.strictObject({
	name: textSchema('what the group is called', 1, BOUNDS.name),
	values: valuesSchema,
	start: firstPeriodSchema,
});

const seriesSchema = v.pipe(
	v.strictObject({
		values: valuesSchema,
		frequency: v.picklist(FREQUENCIES, `the frequency is one of ${FREQUENCIES.join(', ')}`),
		start: firstPeriodSchema,
		seasonLength: v.optional(wholeSchema(1, BOUNDS.seasonLength, 'the season length')),
		excluded: v.optional(
			listSchema(
				periods(1, 'an excluded position'),
				'excluded positions are a list',
				'excluded positions',
				BOUNDS.periods,
			),
		),
		perDay: v.optional(v.boolean('perDay is true or false')),
		group: v.optional(GroupSchema),
	}),
	v.rawCheck(({ dataset, addIssue }) => {
		if (!dataset.typed) return;
		const { frequency, start, excluded, values, group } = dataset.value;
		const at = (key: 'start' | 'excluded' | 'group', message: string) =>
			addIssue({
				message,
				path: [{ type: 'object', origin: 'value', input: dataset.value, key, value: dataset.value[key] }],
			});
		const readStart = (of: 'start' | 'group', start: string | number | undefined) => {
			try {
				if (start !== undefined || frequency !== 'step') parsePeriod(frequency, start ?? '');
			} catch (error) {
				if (!(error instanceof PeriodError)) throw error;
				at(of, error.message);
			}
		};
		readStart('start', start);
		if (group) readStart('group', group.start);
		if (excluded?.some((position) => position > values.length)) {
			at('excluded', `excluded positions lie between 1 and ${values.length}`);
		}
	}),
);

/** Schema of the constants of a method, each within its bounds. */
function constantsSchema(method: Method) {
	return v.strictObject(
		Object.fromEntries(
			method.constants.map(({ key, bounds: [low, high] }) => {
				const expected = `${key} lies between ${low} and ${high}`;
				return [key, v.optional(betweenSchema(low, high, expected))];
			}),
		),
	);
}

function boundsSchema(method: Method) {
	return v.strictObject(
		Object.fromEntries(
			method.constants.map(({ key, bounds: [low, high] }) => {
				const expected = `bounds of ${key} are two figures between ${low} and ${high}, the lower first`;
				const end = betweenSchema(low, high, expected);
				return [
					key,
					v.optional(
						v.pipe(
							v.strictTuple([end, end], expected),
							v.check(([from, to]) => from <= to, expected),
						),
					),
				];
			}),
		),
	);
}

function startSchema(method: Method) {
	const rules = method.starts as readonly [StartRule, ...StartRule[]];
	return v.strictObject({
		rule: v.picklist(
			START_RULES.filter((rule) => rules.includes(rule)),
			`${method.id} starts by ${rules.join(', ')}`,
		),
		at: v.optional(periods(0, 'the period at whose end the start stands')),
		k: v.optional(periods(1, 'k')),
		level: v.optional(figureSchema('the level is a finite number')),
		trend: v.optional(figureSchema('the trend is a finite number')),
		season: v.optional(
			listSchema(
				figureSchema('a season value is a finite number'),
				'season values are a list',
				'season values',
				BOUNDS.seasonLength,
			),
		),
	});
}

/** Parts that a candidate's given start leaves out. */
function partsLeftOut(method: Method, candidate: Candidate): StartPart[] {
	const { start } = candidate;
	if (start?.rule !== 'given') return [];
	return (method.startParts?.(candidate) ?? []).filter((part) => start[part] === undefined);
}

/** Entries of a candidate: which ones there are beside these two, the method's description says. */
type CandidateEntries = v.ObjectEntries & { method: v.LiteralSchema<string, undefined> };

function candidateSchema(method: Method): v.StrictObjectSchema<CandidateEntries, undefined> {
	return v.strictObject({
		id: textSchema('the id of a candidate', 1, BOUNDS.id),
		...settingsOf(method),
	});
}

/** What a method that stands inside another one may say: all but an id. */
function innerSchema(ids: readonly string[]): v.GenericSchema {
	return v.variant(
		'method',
		ids.map((id) => v.strictObject(settingsOf(methodOf(id)))),
		(issue) =>
			issue.expected === 'Object'
				? 'an inner method is an object with a method and its settings'
				: `an inner method is one of ${ids.join(', ')}`,
	);
}

/** Entries of a method's settings. */
function settingsOf(method: Method): CandidateEntries {
	const fields = Object.fromEntries(
		method.fields.map(({ key, schema, inner }) => [key, inner ? innerSchema(inner) : schema]),
	);
	const searched: v.ObjectEntries = method.held
		? {
				optimise: v.optional(
					v.strictObject({
						criterion: v.optional(v.picklist(CRITERIA, `the criterion is one of ${CRITERIA.join(', ')}`)),
						hold: v.optional(method.held),
					}),
				),
			}
		: {};
	const searchable: v.ObjectEntries =
		method.constants.length === 0
			? searched
			: {
					constants: v.optional(constantsSchema(method)),
					optimise: v.optional(
						v.strictObject({
							criterion: v.optional(v.picklist(CRITERIA, `the criterion is one of ${CRITERIA.join(', ')}`)),
							hold: v.optional(constantsSchema(method)),
							bounds: v.optional(boundsSchema(method)),
							quick: v.optional(v.boolean('quick is true or false')),
						}),
					),
				};
	const begun: v.ObjectEntries = method.starts.length === 0 ? {} : { start: v.optional(startSchema(method)) };
	const ranges = v.optional(v.picklist(RANGE_KINDS, `ranges are one of ${RANGE_KINDS.join(', ')}`));
	return { method: v.literal(method.id), ...fields, ...searchable, ...begun, ranges };
}

function refuseMethod(received: string): string {
	const asked = received.replaceAll('"', '');
	return `there is no method ${asked.slice(0, 40)}; there are ${METHODS.map((method) => method.id).join(', ')}`;
}

/**
 * One candidate of any method there is. The entries are made from the descriptions while the program runs, so
 * that the compiler cannot know them: Candidate says what every candidate has.
 */
export const CandidateSchema = v.pipe(
	v.variant('method', METHODS.map(candidateSchema), (issue) =>
		issue.expected === 'Object'
			? 'a candidate is an object with an id and a method'
			: refuseMethod(issue.received),
	) as unknown as v.GenericSchema<Candidate>,
	v.rawCheck(({ dataset, addIssue }) => {
		if (!dataset.typed) return;
		const input = dataset.value;
		const tuned = tunedSettings(input);
		const within: v.ObjectPathItem[] =
			'inner' in input
				? [{ type: 'object', origin: 'value', input: { ...input }, key: 'inner', value: input.inner }]
				: [];
		for (const part of partsLeftOut(methodOf(tuned.method), tuned)) {
			addIssue({
				message: `a given start needs its ${part === 'season' ? 'season values' : part}`,
				path: [
					...within,
					{ type: 'object', origin: 'value', input: tuned, key: 'start', value: tuned.start },
					{ type: 'object', origin: 'value', input: { ...tuned.start }, key: part, value: undefined },
				] as unknown as [v.ObjectPathItem, ...v.ObjectPathItem[]],
			});
		}
	}),
);

export const CandidatesSchema = v.pipe(
	listSchema(CandidateSchema, 'candidates are a list', 'candidates', BOUNDS.candidates),
	v.check(
		(list) => new Set(list.map(({ id }) => id)).size === list.length,
		'every candidate has an id of its own',
	),
	v.rawCheck(({ dataset, addIssue }) => {
		if (!dataset.typed) return;
		const input = dataset.value;
		input.forEach((candidate, key) => {
			const message = dependsOnNothing(candidate, input);
			if (message === null || candidate.method !== 'combination') return;
			const { of } = candidate;
			addIssue({
				message,
				path: [
					{ type: 'array', origin: 'value', input, key, value: candidate },
					{ type: 'object', origin: 'value', input: { ...candidate }, key: 'of', value: of },
				],
			});
		});
	}),
);

/** What is wrong with the candidates that one is made from; null where nothing is. */
function dependsOnNothing(candidate: Candidate, all: readonly Candidate[]): string | null {
	const below = methodOf(candidate.method).dependsOn?.(candidate) ?? [];
	const unknown = below.find((id) => !all.some((other) => other.id === id));
	if (unknown !== undefined) return `there is no candidate ${unknown} to combine`;
	const { weights, of } = candidate.method === 'combination' ? candidate : {};
	if (of && Array.isArray(weights) && weights.length !== of.length) {
		return `there are ${weights.length} weights for ${of.length} candidates`;
	}
	const itself = madeFrom(candidate, all).some(({ id }) => id === candidate.id);
	if (itself) return 'a combination cannot be made from itself';
	return depthOf(candidate, all) > BOUNDS.depth
		? `combinations stand at most ${BOUNDS.depth} deep in one another`
		: null;
}

/** How many combinations stand inside one another, from a candidate down; only looked for as far as it is allowed. */
function depthOf(candidate: Candidate, all: readonly Candidate[]): number {
	let level: Candidate[] = [candidate];
	for (let depth = 0; depth <= BOUNDS.depth; depth++) {
		const ids = new Set(level.flatMap((one) => [...(methodOf(one.method).dependsOn?.(one) ?? [])]));
		if (ids.size === 0) return depth;
		level = all.filter(({ id }) => ids.has(id));
	}
	return BOUNDS.depth + 1;
}

/** Levels of ranges. */
export const LevelsSchema = listSchema(
	v.pipe(
		figureSchema('a level is a share, such as 0.8'),
		v.gtValue(0, 'a level lies above 0 and below 1'),
		v.ltValue(1, 'a level lies above 0 and below 1'),
	),
	'levels are a list',
	'levels',
	BOUNDS.levels,
);

/** Probability that what is in stock covers demand. */
export const ServiceSchema = betweenSchema(
	0.5,
	0.999,
	'the service level is a share between 0.5 and 0.999, such as 0.95',
);

/** The whole request of `evaluate`. */
export const RequestSchema = v.pipe(
	v.strictObject({
		series: seriesSchema,
		gaps: v.optional(v.picklist(GAP_RULES, `gaps is one of ${GAP_RULES.join(', ')}`), 'skip'),
		candidates: CandidatesSchema,
		/** Candidates that others are made from and that are not compared themselves. */
		aside: v.optional(
			listSchema(
				textSchema('the id of a candidate', 1, BOUNDS.id),
				'aside is a list of ids of candidates',
				'candidates aside',
				BOUNDS.candidates,
			),
			[],
		),
		holdout: v.optional(periods(0, 'holdout'), 0),
		scoreFrom: v.nullish(periods(1, 'scoreFrom')),
		window: v.optional(v.picklist(['common', 'own'], 'window is common or own'), 'common'),
		trial: v.nullish(
			v.strictObject({
				origins: v.optional(periods(1, 'how many origins'), USUAL_ORIGINS),
				horizon: v.optional(wholeSchema(1, BOUNDS.horizon, 'the horizon'), 12),
				refit: v.optional(v.boolean('refit is true or false'), false),
			}),
		),
		tracking: v.optional(trackingSchema, { kind: 'running' }),
		horizon: v.optional(wholeSchema(0, BOUNDS.horizon, 'the horizon'), 12),
		levels: v.optional(LevelsSchema, [0.8, 0.95]),
		/** Chance with which what is in stock is to last for the sum of the next periods. */
		service: v.nullish(ServiceSchema),
		/** By which rule ranges come from a trial, and from when on one is made: an older one for what was recorded by it. */
		rangeRule: v.optional(v.picklist(RANGE_RULES, `rangeRule is ${RANGE_RULES.join(' or ')}`), NEWEST_RULE),
		detail: v.optional(v.picklist(['full', 'summary'], 'detail is full or summary'), 'full'),
	}),
	v.forward(
		v.partialCheck(
			[['candidates'], ['aside']],
			({ candidates, aside }) => aside.every((id) => candidates.some((candidate) => candidate.id === id)),
			'aside stand candidates of this request',
		),
		['aside'],
	),
	v.forward(
		v.partialCheck(
			[['series'], ['holdout']],
			({ series, holdout }) => holdout < series.values.length,
			'the holdout is shorter than the series',
		),
		['holdout'],
	),
);

export type EvaluateRequest = v.InferInput<typeof RequestSchema>;
export type ValidRequest = v.InferOutput<typeof RequestSchema>;

/** Issues of a failed validation, each with its dotted path: the first of them. */
export function listIssues(issues: readonly v.BaseIssue<unknown>[]): RequestIssue[] {
	return issues.slice(0, MOST_ISSUES).map((issue) => {
		const path = v.getDotPath(issue) ?? '';
		const unknownKey =
			issue.kind === 'schema' && issue.type === 'strict_object' && issue.expected === 'never';
		const missing =
			issue.kind === 'schema' && issue.type === 'strict_object' && issue.received === 'undefined';
		const message = unknownKey ? 'is not a key that is known here' : missing ? 'is missing' : issue.message;
		return { path, message };
	});
}

/**
 * A request with its defaults filled in.
 * @throws RequestError with every issue and its path
 */
export function parseRequest(request: unknown): ValidRequest {
	const result = v.safeParse(RequestSchema, request);
	if (!result.success) throw new RequestError(listIssues(result.issues));
	return result.output;
}
