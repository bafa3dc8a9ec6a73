import { figure, plus, times } from '../working/expression';
import { takenOver } from './flat';
import { type Method, type Parameter, type Recorded, tooFew } from './method';
import { ALPHA } from './smoothing/constants';
import { levelPass } from './smoothing/passes';
import { levelStart } from './smoothing/starts';

const NAME = 'Simple smoothing';

/** Simple exponential smoothing: a level that moves by α of each error; flat ahead. */
export const ses: Method = {
	id: 'ses',
	name: NAME,
	fits: 'Demand without trend or season whose level wanders: the newest actual counts most, older ones ever less.',
	constants: [ALPHA],
	fields: [],
	starts: ['first', 'mean', 'line', 'given', 'optimised'],
	label: () => NAME,
	kind: () => 'forecast',
	bind(series, candidate) {
		const { values } = series;
		const n = values.length;
		const begun = levelStart(series, candidate, NAME, 'first');
		const { at } = begun;
		if (at >= n) {
			throw tooFew(
				NAME,
				at + 1,
				n,
				`periods with this start, which stands at the end of period ${at}`,
				'Start earlier.',
			);
		}
		const searched = begun.rule === 'optimised';
		const parameters: Parameter[] = [
			{ key: 'alpha', role: 'constant', bounds: ALPHA.searched, fallback: ALPHA.fallback, affine: false },
		];
		if (searched) {
			const bounds = [-Infinity, Infinity] as const;
			parameters.push({ key: 'level', role: 'start', bounds, fallback: begun.level, affine: true });
		}
		const levelOf = (chosen: Float64Array) => (searched ? chosen[1]! : begun.level);
		return {
			firstFitted: at + 1,
			parameters,
			pass(chosen, fitted) {
				fitted.fill(NaN, 0, at);
				levelPass(values, at, levelOf(chosen), chosen[0]!, fitted);
			},
			run(chosen) {
				const alpha = chosen[0]!;
				const fitted = new Float64Array(n).fill(NaN);
				const start = { ...begun, level: levelOf(chosen) };
				const last = levelPass(values, at, start.level, alpha, fitted);
				// The level after a period is the forecast of the next one.
				const level = new Float64Array(n).fill(NaN);
				level.set(fitted.subarray(at + 1), at);
				level[n - 1] = last;
				return {
					fitted,
					start,
					states: { level },
					forecast: (origin, out) => out.fill(origin === at ? start.level : (level[origin - 1] ?? NaN)),
					spread: (step) => Math.sqrt(1 + (step - 1) * alpha * alpha),
				};
			},
		};
	},
	forecast: {
		key: 'fitted',
		name: 'Forecast',
		equation: 'fₜ = ℓₜ₋₁',
		explain: (recorded, t) => takenOver(levelAt(recorded, t - 1), levelRemark(recorded, t - 1)),
	},
	states: [
		{
			key: 'level',
			name: 'Level',
			equation: 'ℓₜ = α·yₜ + (1 − α)·ℓₜ₋₁',
			explain(recorded, t) {
				const before = levelAt(recorded, t - 1);
				const value = recorded.value(t);
				if (before === null) return null;
				if (value === null) return takenOver(before, 'no actual: the level stays');
				const alpha = recorded.constant('alpha');
				return {
					expression: plus(times(figure(alpha), figure(value)), times(figure(1 - alpha), figure(before))),
				};
			},
		},
	],
	explainAhead: (recorded) =>
		takenOver(levelAt(recorded, recorded.periods), 'the last level, for every period to come'),
};

function levelAt(recorded: Recorded, t: number): number | null {
	return recorded.start && t === recorded.start.at ? recorded.start.level : recorded.state('level', t);
}

function levelRemark(recorded: Recorded, t: number): string {
	return t === recorded.start?.at ? 'the start' : 'the level of the period before';
}
