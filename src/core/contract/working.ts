import type { CandidateInput, Start } from './candidate';

/**
 * A piece of arithmetic that can be both spelled out and computed, so that the sentence under a figure is
 * never a second implementation of it.
 */
export type Expression =
	| { readonly kind: 'figure'; readonly value: number }
	| { readonly kind: 'apply'; readonly operator: Operator; readonly parts: readonly Expression[] }
	| { readonly kind: 'size'; readonly of: Expression };

export type Operator = '+' | '−' | '×' | '÷';

/** What a sentence of the working can be built from: the figures that an answer recorded. t is 1-based. */
export interface Recorded {
	readonly periods: number;
	readonly seasonLength: number;
	/** Season of the calendar at t, 1 … P. */
	seasonAt(t: number): number;
	/** Ordinal of period t. */
	ordinalAt(t: number): number;
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
	/** The name as the head of a column has it, where it has no room for all of it. */
	readonly short?: string;
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
