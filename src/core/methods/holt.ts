import { ALPHA_WITH_TREND, BETA } from './smoothing/constants';
import { smoothingMethod } from './smoothing/describe';

/** Double exponential smoothing with two constants (Holt 1957): level and trend, each with its own. */
export const holt = smoothingMethod({
	id: 'holt',
	name: 'Double smoothing (Holt)',
	fits: 'A trend without a season: level and trend are smoothed, each at its own pace.',
	constants: [ALPHA_WITH_TREND, BETA],
	fields: [],
	starts: ['first-two', 'line', 'given', 'optimised'],
	startNew: 'line',
	label: () => 'Double smoothing (Holt)',
	short: () => 'Holt',
	family: () => ({ trend: 'additive', season: 'none' }),
});
