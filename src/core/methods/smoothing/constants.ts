import type { Constant } from '../../contract/candidate';

/** The level constant. What it means at its ends depends on what else a method has; this is for a level alone. */
export const ALPHA: Constant = {
	key: 'alpha',
	symbol: 'α',
	name: 'level constant',
	meaning: 'Near 1 the forecast repeats the last actual; near 0 it hardly moves.',
	ends: [
		'At 0 the forecast never leaves its start.',
		'At 1 the forecast repeats the last actual: the naive forecast.',
	],
	bounds: [0, 1],
	searched: [0, 1],
	fallback: 0.2,
};

/** The level constant where a trend is smoothed beside the level. */
export const ALPHA_WITH_TREND: Constant = {
	...ALPHA,
	meaning: 'Near 1 the level jumps to the last actual; near 0 it follows the trend of its start.',
	ends: [
		'At 0 no actual moves the level: it follows the trend of its start.',
		'At 1 the level is the last actual itself, and only the trend is smoothed.',
	],
};

/** The level constant where a season is smoothed beside the level. */
export const ALPHA_WITH_SEASON: Constant = {
	...ALPHA,
	meaning: 'Near 1 the level jumps to the last actual without its season; near 0 it hardly moves.',
	ends: [
		'At 0 no actual moves the level or the trend: they stay as they started.',
		'At 1 the level is the last actual without its season.',
	],
};

/** The trend constant. */
export const BETA: Constant = {
	key: 'beta',
	symbol: 'β',
	name: 'trend constant',
	meaning: 'Near 1 the trend is the last change of the level; near 0 it stays as it started.',
	ends: [
		'At 0 the trend never leaves its start.',
		'At 1 the trend is the last change of the level, and every turn is carried on at once.',
	],
	bounds: [0, 1],
	searched: [0, 1],
	fallback: 0.1,
};

/** The seasonal constant. */
export const GAMMA: Constant = {
	key: 'gamma',
	symbol: 'γ',
	name: 'seasonal constant',
	meaning: 'Near 1 a season repeats its last cycle; near 0 the seasons stay as they started.',
	ends: [
		'At 0 the seasons never leave their start.',
		'At 1 each season repeats what it was a cycle ago and forgets the cycles before.',
	],
	bounds: [0, 1],
	searched: [0, 1],
	fallback: 0.1,
};

/** How much of the trend is left after each period. */
export const PHI: Constant = {
	key: 'phi',
	symbol: 'φ',
	name: 'damping',
	meaning: 'The share of the trend that is left after each period: at 1 it never fades.',
	ends: ['At its lowest the trend fades within a few periods.', 'At its highest the trend hardly fades.'],
	bounds: [1e-6, 1],
	searched: [0.8, 0.98],
	fallback: 0.9,
};
