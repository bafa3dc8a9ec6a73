import type { GenericSchema } from 'valibot';
import type { Criterion } from '../search/criteria';
import type { Found } from '../search/found';
import type { Expression } from '../working/expression';
import type { Note } from '../notes/note';
import type { Series } from '../series/series';
import type { Field } from './field';

/**
 * What a fitted value is: a `forecast` made one step before, a value made at the end of the previous `cycle`,
 * or a `fit` that has seen the period itself.
 */
export type FittedKind = 'forecast' | 'cycle' | 'fit';

/** A smoothing constant as the trade names it. */
export interface Constant {
	readonly key: 'alpha' | 'beta' | 'gamma' | 'phi';
	readonly symbol: string;
	readonly name: string;
	/** What it does near its ends, in a sentence. */
	readonly meaning: string;
	/** What it means to lie on its lowest and on its highest value, a sentence each. */
	readonly ends: readonly [string, string];
	/** Values a request may give. */
	readonly bounds: readonly [number, number];
	/** Where the search looks unless told otherwise. */
	readonly searched: readonly [number, number];
	/** Taken when a request leaves it out. */
	readonly fallback: number;
}

export const START_RULES = [
	'given',
	'first',
	'mean',
	'first-two',
	'line',
	'first-cycle',
	'decomposed',
	'optimised',
] as const;
export type StartRule = (typeof START_RULES)[number];

export type StartPart = 'level' | 'trend' | 'season';

/** How a recursion begins, as asked for. */
export interface StartInput {
	rule: StartRule;
	at?: number | undefined;
	k?: number | undefined;
	level?: number | undefined;
	trend?: number | undefined;
	/** Season 1 to P of the calendar. */
	season?: number[] | undefined;
}

/** Level, trend and season values as they stand at the end of period `at` (0: before the first period). */
export interface Start {
	rule: StartRule;
	at: number;
	level: number;
	trend?: number;
	season?: number[];
}

/** What to search for: present, even empty, means search. */
export interface OptimiseInput {
	criterion?: Criterion | undefined;
	hold?: Readonly<Record<string, number>> | undefined;
	bounds?: Readonly<Record<string, readonly [number, number]>> | undefined;
}

/** A validated candidate: a method with its settings. Fields of its method stand beside these keys. */
export interface CandidateInput {
	readonly id: string;
	readonly method: string;
	readonly constants?: Readonly<Record<string, number>> | undefined;
	readonly start?: StartInput | undefined;
	readonly optimise?: OptimiseInput | undefined;
	readonly [field: string]: unknown;
}

/** One value that a search may move. */
export interface Parameter {
	readonly key: string;
	/** A smoothing constant, or a value that the recursion starts from. */
	readonly role: 'constant' | 'start';
	/** Where the search looks; infinite ends for start values. */
	readonly bounds: readonly [number, number];
	readonly fallback: number;
	/** True where every fitted value is a straight-line function of this parameter, the others held. */
	readonly affine: boolean;
}

/** A method bound to one series, ready to be run with any values of its parameters. */
export interface Model {
	/** 1-based first period that has a fitted value, where scoring begins unless told otherwise. */
	readonly firstFitted: number;
	/** Constants first, in the method's order, then start values that are searched. */
	readonly parameters: readonly Parameter[];
	/**
	 * One pass over the series for the search: writes n fitted values, NaN where there is none. Allocates nothing.
	 */
	pass(parameters: Float64Array, fitted: Float64Array): void;
	/**
	 * One pass that carries derivatives along, for models whose parameters bend: beside the fitted values it writes
	 * one row of n derivatives for each parameter in `wanted` (indices into `parameters`).
	 */
	slopes?(
		parameters: Float64Array,
		wanted: readonly number[],
		fitted: Float64Array,
		slopes: Float64Array,
	): void;
	/**
	 * One pass that records everything.
	 * @throws CannotRun where a recursion runs away
	 */
	run(parameters: Float64Array): Run;
	/** For models that bring a search of their own: everything but what is held is found over the scored positions. */
	find?(scored: Int32Array): Found;
}

/** What one pass left behind. */
export interface Run {
	/** n fitted values, NaN where there is none. */
	readonly fitted: Float64Array;
	/** Null for methods that need no start. */
	readonly start: Start | null;
	/** Named per-period records, each of n values, NaN where there is none. */
	readonly states: Readonly<Record<string, Float64Array>>;
	/**
	 * Writes the forecasts 1 … out.length steps after `origin` (0 … n), made from the periods up to it alone;
	 * NaN where nothing was known yet.
	 */
	forecast(origin: number, out: Float64Array): void;
	/**
	 * For methods with a model range: how many times the one-step standard deviation the error `step` periods
	 * ahead has. Absent where ranges come from the errors themselves.
	 */
	readonly spread?: ((step: number) => number) | undefined;
	/** For regressions: the standard deviation about the line and its degrees of freedom, in place of the errors'. */
	readonly regression?: { sigma: number; degrees: number };
	/** Change per period that the forecasts ahead carry on, where the method has one. */
	readonly slope?: number;
	/** The line that was laid through the series, where the method has one. */
	readonly line?: { intercept: number; slope: number };
	/** Indices that the forecasts ahead are made with, season 1 to P. */
	readonly indices?: Float64Array;
	/** The mean of each cycle that the series touches, NaN where it is not complete. */
	readonly cycleLevels?: Float64Array;
	/** Single figures, by name, that forecasts rest on beside the states: what the working needs to spell them out. */
	readonly figures?: Readonly<Record<string, number>>;
	/** What its fitted values are, where that depends on what it was made from. */
	readonly kind?: FittedKind;
	/** Forecasts ahead of the last period by other settings that the candidate keeps beside those in use. */
	readonly scenarios?: readonly ((out: Float64Array) => void)[];
	/** What it was put together from: the other candidates with their shares, and their forecasts ahead. */
	readonly parts?: readonly { id: string; share: number; forecast: Run['forecast'] }[];
	/** The same taken apart down to candidates that are made from no others, so that a forecast asks each of them once. */
	readonly bases?: ReadonlyMap<string, { share: number; forecast: Run['forecast'] }>;
	/** What a reader should know of this run. */
	readonly remarks?: readonly Note[];
	/** The same run over a longer series, for methods that found more than constants and start: kept as it was found. */
	readonly over?: (longer: Series) => Run;
}

/** Another candidate of the same request, fitted to the series that is asked for. */
export interface OtherFit {
	readonly candidate: CandidateInput;
	readonly kind: FittedKind;
	readonly run: Run;
	/** 0-based positions that it is scored over. */
	readonly scored: Int32Array;
	/** The same over a longer series, kept as it was found. */
	over(longer: Series): Run;
}

/**
 * The other candidates of a request, for methods that are made from them.
 * @throws CannotRun where that candidate cannot run
 */
export type Others = (id: string, series: Series) => OtherFit;

/** What a sentence of the working can be built from: the figures that an answer recorded. t is 1-based. */
export interface Recorded {
	readonly periods: number;
	readonly seasonLength: number;
	/** Season of the calendar at t, 1 … P. */
	seasonAt(t: number): number;
	readonly candidate: CandidateInput;
	readonly start: Start | null;
	/** The line of methods that lay one. */
	readonly line: { intercept: number; slope: number } | null;
	value(t: number): number | null;
	fitted(t: number): number | null;
	state(key: string, t: number): number | null;
	constant(key: string): number;
	/** Season 1 to P, where the method has indices. */
	readonly indices: readonly number[] | null;
	readonly cycleLevels: readonly (number | null)[] | null;
	figure(key: string): number | null;
	/** Forecasts ahead of the candidates that it was put together from. */
	readonly parts: readonly { share: number; ahead: readonly (number | null)[] }[];
}

/** An expression, and a remark where the figure needs one ("no actual: the level stays"). */
export interface Spelled {
	expression: Expression;
	remark?: string;
}

/** One column of the working: a recorded state, and how its figure at t comes about. */
export interface WorkingColumn {
	readonly key: string;
	readonly name: string;
	readonly equation: string;
	/** More places than the item's figures need, or for ratios how many there are. */
	readonly places?: { more: number } | { fixed: number };
	explain(recorded: Recorded, t: number): Spelled | null;
}

/** The arithmetic of a method as a reader works it out. */
export interface Working {
	/** How a fitted value comes about, as an equation in symbols. */
	readonly forecast: WorkingColumn;
	/** Recorded states in the order in which a reader works them out. */
	readonly states: readonly WorkingColumn[];
	/** How the forecast `step` periods after the last one comes about. */
	explainAhead(recorded: Recorded, step: number): Spelled | null;
	/** The forecast ahead as an equation in symbols. */
	readonly ahead: string;
}

/**
 * A method's own description. Forms, tables, the search, the notes and the request schema are made from it: a
 * new method is a file with one of these and a line in the registry.
 */
export interface Method {
	readonly id: string;
	/** In the trade's words. */
	readonly name: string;
	/** When it fits an item, in one line. */
	readonly fits: string;
	/** Every constant it may have. */
	readonly constants: readonly Constant[];
	/** Those that a candidate has with its settings; all of them where this is absent. */
	constantsOf?(candidate: CandidateInput): readonly Constant[];
	readonly fields: readonly Field[];
	/** Start rules it accepts, its default first; empty where it needs none. */
	readonly starts: readonly StartRule[];
	/** What its start consists of, for a candidate's own settings; what a given start has to say. */
	startParts?(candidate: CandidateInput): readonly StartPart[];
	/** What of a series it can follow, for a candidate's own settings. */
	follows(candidate: CandidateInput): {
		trend: boolean;
		season: false | 'additive' | 'multiplicative' | 'any';
	};
	/** The shortest name that tells candidates of one method apart: "Average of 3". */
	label(candidate: CandidateInput): string;
	kind(candidate: CandidateInput): FittedKind;
	/** Ids of the other candidates that it is made from. */
	restsOn?(candidate: CandidateInput): readonly string[];
	/** Schema of what its search may hold, for methods that search something else than constants. */
	readonly held?: GenericSchema;
	/**
	 * Binds the method to a series.
	 * @param others the candidates beside it, for methods that are made from them
	 * @throws CannotRun with what it needs and what there is.
	 */
	bind(series: Series, candidate: CandidateInput, others?: Others): Model;
	/**
	 * Its arithmetic, for a candidate's own settings.
	 * @param nameOf names of the other candidates
	 */
	working(candidate: CandidateInput, nameOf?: (id: string) => string): Working;
}

/** Thrown by `bind` where a method cannot run on a series; carries the reason as a note. */
export class CannotRun extends Error {
	override name = 'CannotRun';
	constructor(readonly note: Note) {
		super(note.text);
	}
}

/** Refuses with "needs … ; this series has …". */
export function tooFew(name: string, needs: number, has: number, what: string, help: string): CannotRun {
	return new CannotRun({
		code: 'too-few-periods',
		text: `${name} needs ${needs} ${what}; this series has ${has}. ${help}`,
		figures: { needs, has },
	});
}
