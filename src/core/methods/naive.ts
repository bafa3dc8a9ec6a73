import { flatWorking, flatModel, lastPresent, takenOver } from './flat';
import { defineMethod, tooFew } from '../contract/method';

/** Naive forecast: f_t = y_{t−1}, the last present value where that one is missing; flat ahead. */
export const naive = defineMethod({
	id: 'naive',
	name: 'Naive',
	fits: 'The yardstick: repeats the last actual. A method that does not beat it is not worth having.',
	constants: [],
	fields: [],
	starts: [],
	label: () => 'Naive',
	short: () => 'Naive',
	kind: () => 'forecast',
	onlyPastFrom: () => 0,
	follows: () => ({ trend: false, season: false }),
	bind(series) {
		const next = new Float64Array(series.values.length + 1).fill(NaN);
		for (let t = 1; t < next.length; t++) {
			const value = series.values[t - 1]!;
			next[t] = Number.isNaN(value) ? next[t - 1]! : value;
		}
		if (Number.isNaN(next.at(-1))) throw tooFew('The naive forecast', 1, 0, 'actual', 'Bring some in.');
		return flatModel(series, next);
	},
	...flatWorking('fₜ = yₜ₋₁', 'fₙ₊ₕ = yₙ', (recorded, t) => {
		const at = lastPresent(recorded, t - 1);
		if (at === null) return null;
		return takenOver(
			recorded.value(at),
			at === t - 1 ? 'the actual before' : `the last actual there is, ${t - at} periods before`,
		);
	}),
});
