import { figure, over, plus, times } from '../working/expression';
import { flatModel, flatWorking, takenOver } from './flat';
import { defineMethod, tooFew } from '../contract/method';

/** Average of everything so far: f_t = mean(y_1 … y_{t−1}) of the present values; flat ahead. */
export const average = defineMethod({
	id: 'average',
	name: 'Average of all',
	fits: 'Demand that has kept one level all along: every period counts the same.',
	constants: [],
	fields: [],
	starts: [],
	label: () => 'Average of all',
	short: () => 'Average',
	kind: () => 'forecast',
	onlyPastFrom: () => 0,
	rate: true,
	follows: () => ({ trend: false, season: false }),
	bind(series) {
		const next = new Float64Array(series.values.length + 1).fill(NaN);
		let sum = 0;
		let count = 0;
		for (let t = 1; t < next.length; t++) {
			const value = series.values[t - 1]!;
			if (!Number.isNaN(value)) {
				sum += value;
				count++;
			}
			if (count > 0) next[t] = sum / count;
		}
		if (count === 0) throw tooFew('The average', 1, 0, 'actual', 'Bring some in.');
		return flatModel(series, next);
	},
	...flatWorking('fₜ = (y₁ + … + yₜ₋₁) ÷ (t − 1)', 'fₙ₊ₕ = (y₁ + … + yₙ) ÷ n', (recorded, t) => {
		const latest = recorded.value(t - 1);
		const before = recorded.fitted(t - 1);
		if (latest === null) return takenOver(before, 'no actual came in: the average stays');
		if (before === null) return takenOver(latest, 'the only actual so far');
		let count = 0;
		for (let i = 1; i < t; i++) if (recorded.value(i) !== null) count++;
		return {
			expression: over(plus(times(figure(count - 1), figure(before)), figure(latest)), figure(count)),
			remark: `the average of ${count - 1} carried on by the latest actual`,
		};
	}),
});
