import type { Series } from '../series/series';
import type { CandidateInput, Start } from './candidate';
import type { Found } from './found';
import type { Note } from './note';

/**
 * What a fitted value is: a `forecast` made one step before, a value made at the end of the previous `cycle`,
 * or a `fit` that has seen the period itself.
 */
export type FittedKind = 'forecast' | 'cycle' | 'fit';

/** One value that a search may move. */
export interface Parameter {
	readonly key: string;
	/** A smoothing constant, or a value that the recursion starts from. */
	readonly role: 'constant' | 'start';
	/** Where the search looks; infinite ends for start values. */
	readonly bounds: readonly [number, number];
	readonly fallback: number;
	/** True where every fitted value is a straight-line function of this parameter, the others held. */
	readonly linear: boolean;
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
	derivatives?(
		parameters: Float64Array,
		wanted: readonly number[],
		fitted: Float64Array,
		derivatives: Float64Array,
	): void;
	/**
	 * One pass that records everything.
	 * @throws CannotRun where a recursion runs away
	 */
	run(parameters: Float64Array): Run;
	/**
	 * Forecasts after the last period, the same as its run's: for models that can make them without everything before, for whom
	 * they are asked of at many origins.
	 */
	ahead?(parameters: Float64Array, out: Float64Array): void;
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
	/** The same for the error of the sum of the next `steps` periods. */
	readonly spreadOfSum?: ((steps: number) => number) | undefined;
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
