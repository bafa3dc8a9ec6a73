import { takenOver } from './flat';
import { defineMethod, tooFew } from '../contract/method';
import type { Recorded, Spelled, Working } from '../contract/working';

/**
 * Seasonal naive forecast: f_t = y_{t−P}, the last present value of the same season where that one is missing;
 * ahead the last cycle repeated. Without a season (P = 1) it is the naive forecast.
 */
export const seasonalNaive = defineMethod({
	id: 'seasonal-naive',
	name: 'Seasonal naive',
	fits: 'The yardstick where there is a season: repeats the same season of the last cycle.',
	constants: [],
	fields: [],
	starts: [],
	label: () => 'Seasonal naive',
	short: () => 'Season naive',
	kind: () => 'forecast',
	onlyPastFrom: () => 0,
	follows: () => ({ trend: false, season: 'any' }),
	bind({ values, seasonLength: length }) {
		const n = values.length;
		// The last present value of its season up to each period.
		const kept = values.slice();
		for (let i = length; i < n; i++) if (Number.isNaN(kept[i]!)) kept[i] = kept[i - length]!;
		if (n <= length || kept.every((value) => Number.isNaN(value))) {
			throw tooFew(
				'The seasonal naive forecast',
				length + 1,
				n,
				`periods, a season of ${length} and one more`,
				'Bring in earlier periods.',
			);
		}
		const fitted = new Float64Array(n).fill(NaN);
		fitted.set(kept.subarray(0, n - length), length);
		const first = fitted.findIndex((value) => !Number.isNaN(value));
		const run = {
			fitted,
			start: null,
			states: {},
			forecast(origin: number, out: Float64Array) {
				for (let h = 1; h <= out.length; h++) {
					out[h - 1] = kept[origin + h - length * Math.ceil(h / length) - 1] ?? NaN;
				}
			},
		};
		return {
			firstFitted: first < 0 ? n + 1 : first + 1,
			parameters: [],
			pass: (_parameters, out) => out.set(fitted),
			run: () => run,
		};
	},
	working: () => WORKING,
});

const WORKING: Working = {
	forecast: {
		key: 'fitted',
		name: 'Forecast',
		equation: 'fₜ = yₜ₋ₚ',
		explain: (recorded, t) => repeated(recorded, t - recorded.seasonLength, 1),
	},
	states: [],
	ahead: 'fₙ₊ₕ = y of the same season in the last cycle',
	explainAhead({ periods, seasonLength, ...recorded }, step) {
		const cycles = Math.ceil(step / seasonLength);
		return repeated({ periods, seasonLength, ...recorded }, periods + step - cycles * seasonLength, cycles);
	},
};

function repeated(recorded: Recorded, from: number, cycles: number): Spelled | null {
	for (let t = from, gone = cycles; t >= 1; t -= recorded.seasonLength, gone++) {
		if (recorded.value(t) === null) continue;
		return takenOver(
			recorded.value(t),
			gone === 1 ? 'the same season a cycle before' : `the same season ${gone} cycles before`,
		);
	}
	return null;
}
