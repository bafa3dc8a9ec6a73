import type { Constant } from '../method';

/** The level constant, shared by the whole smoothing family. */
export const ALPHA: Constant = {
	key: 'alpha',
	symbol: 'α',
	name: 'level constant',
	meaning: 'Near 1 the forecast repeats the last actual; near 0 it hardly moves.',
	bounds: [0, 1],
	searched: [0, 1],
	fallback: 0.2,
};
