import type { Measures } from './accuracy/measures';
import type { TrackingPoint } from './accuracy/tracking';
import type { FittedKind, Start } from './methods/method';
import type { Note } from './notes/note';
import type { RangeKind } from './ranges/ranges';
import type { Search } from './search/found';

/** One period to come. */
export interface AheadStep {
	step: number;
	/** As data: "2026-01"; a number at frequency `step`. */
	period: string | number;
	mean: number | null;
	/** [low, high] by level as written in the request; null where nothing is known of the errors. */
	ranges: Record<string, [number, number] | null>;
}

/** How a rolling check went, h steps ahead. */
export interface HorizonScore {
	step: number;
	count: number;
	mad: number | null;
	mse: number | null;
	mape: number | null;
}

export interface RollingScore {
	byHorizon: HorizonScore[];
	/** By level: how many one-step actuals fell inside their range. */
	covered: Record<string, { inside: number; count: number }>;
}

export interface States {
	line?: { intercept: number; slope: number };
	/** Season 1 to P. */
	indices?: (number | null)[];
	/** The mean of each cycle that the series touches; null where it is not complete. */
	cycleLevels?: (number | null)[];
	/** Single figures by name that forecasts rest on. */
	figures?: Readonly<Record<string, number>>;
	[key: string]:
		(number | null)[] | { intercept: number; slope: number } | Readonly<Record<string, number>> | undefined;
}

/** A candidate that ran. Per-period lists run with the fitted periods and are left out of a summary. */
export interface CandidateResult {
	id: string;
	method: string;
	kind: FittedKind;
	ok: true;
	constants: Record<string, number>;
	start: Start | null;
	/** 1-based first scored period. */
	scoreFrom: number;
	fitted?: (number | null)[];
	errors?: (number | null)[];
	/** Named per-period lists, and the line of methods that lay one. */
	states?: States;
	measures: {
		own: Measures;
		common: Measures;
		holdout?: { ahead: Measures; oneStep: Measures };
	};
	tracking?: TrackingPoint[];
	rolling?: RollingScore;
	ahead: AheadStep[];
	rangeKind: RangeKind;
	/** Means ahead by each of the levels that a candidate keeps beside the one in use. */
	scenarios?: (number | null)[][];
	/** The candidates that it is made from, with their shares and means ahead. */
	parts?: { id: string; share: number; ahead: (number | null)[] }[];
	search?: Search;
	notes: Note[];
}

/** A candidate that cannot run on this series, with the reason. */
export interface CandidateRefusal {
	id: string;
	method: string;
	ok: false;
	notes: Note[];
}

export type CandidateAnswer = CandidateResult | CandidateRefusal;

export interface Answer {
	/** The common window, 1-based; null when no period is shared. */
	window: { from: number; to: number; count: number } | null;
	candidates: CandidateAnswer[];
	notes: Note[];
}
