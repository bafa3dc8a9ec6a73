import { leastSquaresLine } from '../numbers/line';
import { figure, plus, times } from '../working/expression';
import { fixedModel } from './flat';
import { defineMethod, tooFew } from '../contract/method';
import type { Recorded } from '../contract/working';
import type { Run } from '../contract/model';

/**
 * Linear trend: least squares y = a + b·t over the fitted periods, carried on ahead. Its fitted values have seen the
 * periods themselves. Ranges are the regression's prediction intervals.
 */
export const linearTrend = defineMethod({
	id: 'linear-trend',
	name: 'Linear trend',
	fits: 'A steady climb or fall over the whole history: one line through all of it, every period counting the same.',
	constants: [],
	fields: [],
	starts: [],
	label: () => 'Linear trend',
	short: () => 'Line',
	kind: () => 'fit',
	modelled: () => true,
	follows: () => ({ trend: true, season: false }),
	bind({ values }) {
		const { intercept, slope, count, centre, width } = leastSquaresLine(values);
		if (count < 2) throw tooFew('A line', 2, count, count === 1 ? 'actuals' : 'actuals', 'Bring in more.');
		const squared = values.reduce((sum, value, i) => {
			const error = value - intercept - slope * (i + 1);
			return Number.isNaN(error) ? sum : sum + error * error;
		}, 0);
		const degrees = count - 2;
		const over = (n: number): Run => ({
			fitted: Float64Array.from({ length: n }, (_, i) => intercept + slope * (i + 1)),
			start: null,
			states: {},
			slope,
			line: { intercept, slope },
			...(degrees > 0 && { regression: { sigma: Math.sqrt(squared / degrees), degrees } }),
			spreadOfSum: (steps) => {
				const away = steps * (values.length - centre) + (steps * (steps + 1)) / 2;
				return Math.sqrt(steps + (steps * steps) / count + (away * away) / width);
			},
			spread: (step) => Math.sqrt(1 + 1 / count + (values.length + step - centre) ** 2 / width),
			forecast(origin, out) {
				for (let h = 1; h <= out.length; h++) out[h - 1] = intercept + slope * (origin + h);
			},
			over: (longer) => over(longer.values.length),
		});
		return fixedModel(over(values.length));
	},
	working: () => ({
		forecast: {
			key: 'fitted',
			name: 'Line',
			equation: 'fₜ = a + b·t',
			explain: (recorded, t) => ({
				expression: along(recorded, t),
				remark: 'laid through all periods, this one too',
			}),
		},
		states: [],
		ahead: 'fₙ₊ₕ = a + b·(n + h)',
		explainAhead: (recorded, step) => ({ expression: along(recorded, recorded.periods + step) }),
	}),
});

const along = ({ line }: Recorded, t: number) =>
	plus(figure(line!.intercept), times(figure(line!.slope), figure(t)));
