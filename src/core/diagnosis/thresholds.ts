/** When a diagnosis says that something is there; set on series of known make in bench/looking.ts. */

/** A season is found when noise would show one less often than this, shared among the lengths that are tested. */
export const SEASON_CHANCE = 0.01;
/** … and when it explains at least this share of the movement. */
export const SEASON_STRENGTH = 0.3;
/** Demand without a season is rare when more than this share of its periods had none. */
export const RARE_SHARE = 0.3;
/** A trend is found when noise would show one less often than this. */
export const TREND_CHANCE = 0.005;
/** F of a step against none, beyond which there is one: chosen among all places (Andrews 1993, 1 % is 12.4). */
export const STEP_F = 20;
/** A step has to leave this much less error than a line. */
export const STEP_OVER_LINE = 0.8;
/** A outlier period is off by so many robust standard deviations (Iglewicz & Hoaglin 1993 take 3.5 for one figure). */
export const OUTLIER_TIMES = 5;
/** A season multiplies when it leaves this share, or less, of the error of one that adds; it adds the other way round. */
export const SWINGS_RATIO = 0.85;
