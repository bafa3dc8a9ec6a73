import { figure, minus, over, plus, times } from '../working/expression';
import { fixedModel, lastPresent } from './flat';
import { defineMethod, tooFew } from '../contract/method';
import type { Recorded, Spelled, Working } from '../contract/working';

/**
 * Drift: the last actual carried on along the line from the first to it. f_t = y_{t−1} + (y_{t−1} − y_1)/(t−2)
 * from t = 3; where an end is missing, the nearest present value stands for it at its own period.
 */
export const drift = defineMethod({
	id: 'drift',
	name: 'Drift',
	fits: 'A steady climb or fall: carries the last actual on along the line from the first.',
	constants: [],
	fields: [],
	starts: [],
	label: () => 'Drift',
	short: () => 'Drift',
	kind: () => 'forecast',
	onlyPastFrom: () => 0,
	follows: () => ({ trend: true, season: false }),
	bind(series) {
		const { values } = series;
		const n = values.length;
		// lastAt[o]: 1-based position of the last present value up to o; 0 where there is none.
		const lastAt = new Int32Array(n + 1);
		for (let t = 1; t <= n; t++) lastAt[t] = Number.isNaN(values[t - 1]) ? lastAt[t - 1]! : t;
		const firstAt = lastAt.find((at) => at > 0) ?? 0;
		const present = values.filter((value) => !Number.isNaN(value)).length;
		if (present < 2) throw tooFew('Drift', 2, present, 'actuals', 'A line needs two ends.');
		const slopeAt = (origin: number) => {
			const at = lastAt[origin]!;
			return at > firstAt ? (values[at - 1]! - values[firstAt - 1]!) / (at - firstAt) : NaN;
		};
		const fitted = new Float64Array(n).fill(NaN);
		for (let t = 3; t <= n; t++) {
			const at = lastAt[t - 1]!;
			fitted[t - 1] = at > 0 ? values[at - 1]! + (t - at) * slopeAt(t - 1) : NaN;
		}
		return fixedModel({
			fitted,
			start: null,
			states: {},
			slope: slopeAt(n),
			forecast(origin, out) {
				const at = lastAt[origin]!;
				const slope = slopeAt(origin);
				for (let h = 1; h <= out.length; h++) {
					out[h - 1] = at > 0 ? values[at - 1]! + (origin + h - at) * slope : NaN;
				}
			},
		});
	},
	working: () => WORKING,
});

const WORKING: Working = {
	forecast: {
		key: 'fitted',
		name: 'Forecast',
		equation: 'fₜ = yₜ₋₁ + (yₜ₋₁ − y₁) ÷ (t − 2)',
		explain: (recorded, t) => (t < 3 ? null : carriedOn(recorded, t - 1, t)),
	},
	states: [],
	ahead: 'fₙ₊ₕ = yₙ + h·(yₙ − y₁) ÷ (n − 1)',
	explainAhead: (recorded, step) => carriedOn(recorded, recorded.periods, recorded.periods + step),
};

function carriedOn(recorded: Recorded, origin: number, t: number): Spelled | null {
	const last = lastPresent(recorded, origin);
	let first = 1;
	while (first < origin && recorded.value(first) === null) first++;
	if (last === null || last <= first) return null;
	const from = figure(recorded.value(first)!);
	const to = figure(recorded.value(last)!);
	const slope = over(minus(to, from), figure(last - first));
	const steps = t - last;
	return {
		expression: plus(to, steps === 1 ? slope : times(figure(steps), slope)),
		remark: steps === 1 ? 'one step along the line' : `${steps} steps along the line`,
	};
}
