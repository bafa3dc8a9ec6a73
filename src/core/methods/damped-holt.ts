import { ALPHA_WITH_TREND, BETA, PHI } from './smoothing/constants';
import { smoothingMethod } from './smoothing/describe';

/** Double exponential smoothing whose trend fades by φ a period (Gardner & McKenzie 1985). */
export const dampedHolt = smoothingMethod({
	id: 'damped-holt',
	name: 'Double smoothing, damped',
	fits: 'A trend that will not go on for ever: as double smoothing, and the trend fades ahead.',
	constants: [ALPHA_WITH_TREND, BETA, PHI],
	fields: [],
	starts: ['first-two', 'line', 'given', 'optimised'],
	label: () => 'Double smoothing, damped',
	short: () => 'Damped',
	family: () => ({ trend: 'damped', season: 'none' }),
});
