import { ALPHA } from './smoothing/constants';
import { smoothingMethod } from './smoothing/describe';

/** Simple exponential smoothing: a level that moves by α of each error; flat ahead. */
export const ses = smoothingMethod({
	id: 'ses',
	name: 'Simple exponential smoothing',
	fits: 'Demand without trend or season whose level wanders: the newest actual counts most, older ones ever less.',
	constants: [ALPHA],
	fields: [],
	starts: ['first', 'mean', 'line', 'given', 'optimised'],
	label: () => 'Simple exponential smoothing',
	short: () => 'Simple',
	rate: true,
	family: () => ({ trend: 'none', season: 'none' }),
});
