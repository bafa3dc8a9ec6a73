import { ALPHA } from './smoothing/constants';
import { smoothingMethod } from './smoothing/describe';

/** Double exponential smoothing with one constant (Brown 1963): smoothed twice, with a trend ahead. */
export const brown = smoothingMethod({
	id: 'brown',
	name: 'Double smoothing (Brown)',
	fits: 'A trend that turns slowly, with a single constant to set: level and trend learn at one pace.',
	constants: [
		{
			...ALPHA,
			name: 'constant of level and trend',
			meaning: 'Near 1 level and trend follow the last two actuals; near 0 they hardly move.',
			ends: [
				'At 0 no actual moves level or trend: they stay as they started.',
				'At 1 the forecast is the last actual and its last change carried on.',
			],
		},
	],
	fields: [],
	starts: ['first', 'line', 'given', 'optimised'],
	label: () => 'Double smoothing (Brown)',
	short: () => 'Brown',
	family: () => ({ trend: 'additive', season: 'none', single: true }),
});
