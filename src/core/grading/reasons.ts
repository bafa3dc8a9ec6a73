import type { Ordinal } from '../series/period';

/** Periods within which the alarm's chance of a false call is told. */
export const ALARM_SPAN = 24;
/** The chances that may be chosen for it. */
export const ALARM_CHANCES = [0.02, 0.5] as const;

/** What becomes of constants when a forecast is carried on. */
export const CARRIES = ['search', 'keep'] as const;

/** Why an item should be looked at now, the weightiest first; its figures are in the item's units. */
export type Reason =
	| { code: 'no-forecast'; stake: number }
	/** `until`: the last period that is foretold; `left`: periods from the newest on that are; `needed`: as many as there should be. */
	| { code: 'ran-out'; stake: number; until: Ordinal; left: number; needed: number }
	/** `last`: the last period that is in; `newest`: the one that `have` of `items` of the same frequency have. */
	| { code: 'not-in'; stake: number; last: Ordinal; newest: Ordinal; have: number; items: number }
	/** `by`: how far beyond the end of the range, above 0 where demand was above it; `chance` that an unbiased forecast is missed so. */
	| {
			code: 'outside';
			stake: number;
			period: Ordinal;
			actual: number;
			by: number;
			level: number;
			chance: number;
	  }
	/**
	 * `since`: when the alarm went; `off`: mean error since `from`, when errors began to lean to that side; `periods`: a sound
	 * forecast shows it once in as many.
	 */
	| {
			code: 'drifts';
			stake: number;
			side: 'above' | 'below';
			since: Ordinal;
			from: Ordinal;
			off: number;
			periods: number;
	  }
	/** `by`: how much closer repeating the last actual was, a period. */
	| { code: 'worse-than-naive'; stake: number; grades: number; by: number }
	| { code: 'ranges-off'; stake: number; level: number; inside: number; of: number; chance: number };
export type ReasonCode = Reason['code'];

/** In the order of their weight. */
export const REASONS = [
	'no-forecast',
	'ran-out',
	'not-in',
	'outside',
	'drifts',
	'worse-than-naive',
	'ranges-off',
] as const satisfies readonly ReasonCode[];
