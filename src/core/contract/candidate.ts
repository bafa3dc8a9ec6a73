import type { Criterion } from './criteria';

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

/** What to search for: present, even empty, means search. What is held are constants, where a method does not say otherwise. */
export interface OptimiseInput<Held = Readonly<Record<string, number>>> {
	criterion?: Criterion | undefined;
	hold?: Held | undefined;
	bounds?: Readonly<Record<string, readonly [number, number]>> | undefined;
	/** Whether series of any length are looked at no harder than one of 60 scored periods. */
	quick?: boolean | undefined;
}

export const RANGE_KINDS = ['model', 'trial', 'counts', 'changes'] as const;
/**
 * What ranges come from: the model of a method; errors of forecasts that had seen nothing of what came; of rare demand in whole
 * pieces a distribution of counts; the changes of the series itself.
 */
export type RangeKind = (typeof RANGE_KINDS)[number];

/** What a candidate has whatever its method. The fields of its method stand beside these keys: see `CandidateOf`. */
export interface CandidateInput {
	readonly id: string;
	readonly method: string;
	readonly constants?: Readonly<Record<string, number>> | undefined;
	readonly start?: StartInput | undefined;
	readonly optimise?: OptimiseInput<object> | undefined;
	/** What its ranges are to come from, where that is not left to what is known. */
	readonly ranges?: RangeKind | undefined;
}
