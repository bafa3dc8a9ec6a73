import type { Constant } from '../contract/candidate';
import { usualChoiceField } from '../contract/field';
import { defineMethod, tooFew } from '../contract/method';
import type { Model, Run } from '../contract/model';
import type { Recorded, Spelled, Working, WorkingColumn } from '../contract/working';
import type { Series } from '../series/series';
import { figure, minus, over, plus, times } from '../working/expression';
import { takenOver } from './flat';

/** Where both constants are searched: at 0 nothing is learned, and beyond a half single demands decide. */
const SEARCHED = [0.01, 0.5] as const;

const SIZE: Constant = {
	key: 'alpha',
	symbol: 'α',
	name: 'size constant',
	meaning: 'How fast the size of a demand is learned: near 1 it is the last one, near 0 it hardly moves.',
	ends: [
		'At its lowest the size of a demand hardly moves from the first one.',
		'At its highest the last demands alone say how large the next one is.',
	],
	bounds: [0, 1],
	searched: SEARCHED,
	fallback: 0.1,
};

const INTERVAL: Constant = {
	key: 'beta',
	symbol: 'β',
	name: 'interval constant',
	meaning:
		'How fast it is learned how often demand comes: near 1 from the last interval, near 0 it hardly moves.',
	ends: [
		'At its lowest the interval between demands hardly moves from the first one.',
		'At its highest the last intervals alone say how often demand comes.',
	],
	bounds: [0, 1],
	searched: SEARCHED,
	fallback: 0.1,
};

const variant = usualChoiceField(
	{
		key: 'variant',
		name: 'variant',
		symbol: '',
		meaning:
			'How size and interval make a forecast: divided, divided with the usual excess taken off, or by a chance that fades while nothing comes.',
	},
	[
		{ value: 'sba', name: 'corrected (Syntetos and Boylan)' },
		{ value: 'classic', name: 'classic (Croston)' },
		{ value: 'tsb', name: 'fading (Teunter, Syntetos and Babai)' },
	],
	'sba',
);
type Variant = NonNullable<ReturnType<typeof variant.read>>;

const SHORT: Record<Variant, string> = { sba: 'corrected', classic: 'classic', tsb: 'fading' };

/**
 * Croston's method for rare demand: how large a demand is and how often one comes are smoothed apart (Croston 1972; `sba`:
 * Syntetos and Boylan 2005; `tsb`: Teunter, Syntetos and Babai 2011). Flat ahead.
 */
export const croston = defineMethod({
	id: 'croston',
	name: 'Croston’s method',
	fits: 'Rare demand, with many periods of none: learns how large a demand is and how often one comes.',
	constants: [SIZE, INTERVAL],
	fields: [variant],
	starts: [],
	label: (candidate) => `Croston, ${SHORT[variant.read(candidate)!]}`,
	short: () => 'Croston',
	kind: () => 'forecast',
	onlyPastFrom: () => 0,
	rate: true,
	follows: () => ({ trend: false, season: false }),
	bind: (series, candidate) => crostonModel(series, variant.read(candidate)!),
	working: (candidate) => workingOf(variant.read(candidate)!),
});

/** What is known at the end of a period. */
interface State {
	size: number;
	/** Periods from one demand to the next. */
	interval: number;
	/** Of a demand in a period. */
	chance: number;
	/** Known periods since the last demand, the present one included. */
	since: number;
	/** How each changes with its constant. */
	sizeSlope: number;
	intervalSlope: number;
	chanceSlope: number;
}

/** Told of each period: its forecast, how that changes with α and with β, and what is known at its end. */
type Seen = (i: number, forecast: number, slopes: readonly [number, number], state: State) => void;

function crostonModel({ values }: Series, kind: Variant): Model {
	const n = values.length;
	const first = values.findIndex((value) => value > 0);
	if (first < 0) throw tooFew('Croston’s method', 1, 0, 'period with demand', 'Wait for a first one.');
	let before = 0;
	for (let i = 0; i <= first; i++) if (!Number.isNaN(values[i]!)) before++;

	/** Goes through the periods from the first demand on; `seen` is told each forecast, and the state after its period. */
	const walk = ([alpha, beta]: readonly [number, number], seen: Seen): number => {
		const state: State = {
			size: values[first]!,
			interval: before,
			chance: 1 / before,
			since: 0,
			sizeSlope: 0,
			intervalSlope: 0,
			chanceSlope: 0,
		};
		const slopes: [number, number] = [0, 0];
		const corrected = kind === 'sba' ? 1 - beta / 2 : 1;
		const slopesOf = ({ size, interval, chance, sizeSlope, intervalSlope, chanceSlope }: State) => {
			slopes[0] = kind === 'tsb' ? chance * sizeSlope : (sizeSlope / interval) * corrected;
			slopes[1] =
				kind === 'tsb'
					? chanceSlope * size
					: ((-size * intervalSlope) / interval ** 2) * corrected -
						(kind === 'sba' ? size / interval / 2 : 0);
		};
		const rateOf = () =>
			kind === 'tsb' ? state.chance * state.size : (state.size / state.interval) * corrected;
		let forecast = rateOf();
		for (let i = first + 1; i < n; i++) {
			const value = values[i]!;
			slopesOf(state);
			if (!Number.isNaN(value)) {
				state.since++;
				if (value > 0) {
					state.sizeSlope += value - state.size - alpha * state.sizeSlope;
					state.intervalSlope += state.since - state.interval - beta * state.intervalSlope;
					state.size += alpha * (value - state.size);
					state.interval += beta * (state.since - state.interval);
				}
				state.chanceSlope += (value > 0 ? 1 : 0) - state.chance - beta * state.chanceSlope;
				state.chance += beta * ((value > 0 ? 1 : 0) - state.chance);
			}
			seen(i, forecast, slopes, state);
			if (value > 0) state.since = 0;
			forecast = rateOf();
		}
		return forecast;
	};
	const constantsOf = (parameters: Float64Array) => [parameters[0]!, parameters[1]!] as const;

	return {
		firstFitted: first + 2,
		parameters: [SIZE, INTERVAL].map(({ key, searched, fallback }) => ({
			key,
			role: 'constant',
			bounds: searched,
			fallback,
			linear: false,
		})),
		pass(parameters, fitted) {
			fitted.fill(NaN, 0, first + 1);
			walk(constantsOf(parameters), (i, forecast) => (fitted[i] = forecast));
		},
		derivatives(parameters, wanted, fitted, derivatives) {
			fitted.fill(NaN, 0, first + 1);
			wanted.forEach((_, row) => derivatives.fill(0, row * n, row * n + first + 1));
			walk(constantsOf(parameters), (i, forecast, slopes) => {
				fitted[i] = forecast;
				for (let row = 0; row < wanted.length; row++) derivatives[row * n + i] = slopes[wanted[row] as 0 | 1];
			});
		},
		run: (parameters) => runOf(walk, constantsOf(parameters), { values, first, before }),
	};
}

function runOf(
	walk: (constants: readonly [number, number], seen: Seen) => number,
	constants: readonly [number, number],
	{ values, first, before }: { values: Float64Array; first: number; before: number },
): Run {
	const n = values.length;
	const list = () => new Float64Array(n).fill(NaN);
	const [fitted, size, interval, chance, since] = [list(), list(), list(), list(), list()];
	for (let i = 0, known = 0; i <= first; i++) {
		if (!Number.isNaN(values[i]!)) known++;
		since[i] = known;
	}
	size[first] = values[first]!;
	interval[first] = before;
	chance[first] = 1 / before;
	const last = walk(constants, (i, forecast, _, state) => {
		fitted[i] = forecast;
		size[i] = state.size;
		interval[i] = state.interval;
		chance[i] = state.chance;
		since[i] = state.since;
	});
	return {
		fitted,
		start: null,
		states: { since, size, interval, chance },
		forecast: (origin, out) => out.fill(origin === n ? last : (fitted[origin] ?? NaN)),
	};
}

const NOTHING = 'no demand';

/** How size, interval or chance, and the forecast come about. */
function workingOf(kind: Variant): Working {
	const isDemand = (recorded: Recorded, t: number) => (recorded.value(t) ?? 0) > 0;
	const known = (recorded: Recorded, t: number) => recorded.state('size', t) !== null;
	/** Whether the first demand of all came in period t. */
	const begins = (recorded: Recorded, t: number) => known(recorded, t) && !known(recorded, t - 1);

	const since: WorkingColumn = {
		key: 'since',
		name: 'Periods since',
		equation: 'qₜ = known periods since the last demand, t included',
		places: { fixed: 0 },
		explain(recorded, t) {
			const before =
				t === 1 || (known(recorded, t - 1) && isDemand(recorded, t - 1)) ? 0 : recorded.state('since', t - 1);
			if (before === null) return null;
			if (recorded.value(t) === null) return takenOver(before, 'no actual: it does not count');
			return { expression: plus(figure(before), figure(1)) };
		},
	};
	const smoothed = (
		key: 'size' | 'interval',
		naming: Pick<WorkingColumn, 'name' | 'equation' | 'places'>,
		constant: 'alpha' | 'beta',
		newsOf: (recorded: Recorded, t: number) => number | null,
		start: string,
	): WorkingColumn => ({
		key,
		...naming,
		explain(recorded, t) {
			if (!known(recorded, t)) return null;
			if (begins(recorded, t)) return takenOver(newsOf(recorded, t), start);
			const before = figure(recorded.state(key, t - 1)!);
			if (!isDemand(recorded, t))
				return {
					expression: before,
					remark: `${recorded.value(t) === null ? 'no actual' : NOTHING}: it stays`,
				};
			const share = recorded.constant(constant);
			return {
				expression: plus(
					times(figure(share), figure(newsOf(recorded, t)!)),
					times(figure(1 - share), before),
				),
			};
		},
	});
	const size = smoothed(
		'size',
		{ name: 'Size', equation: 'zₜ = α·yₜ + (1 − α)·zₜ₋₁ at a demand' },
		'alpha',
		(recorded, t) => recorded.value(t),
		'the first demand',
	);
	const interval = smoothed(
		'interval',
		{ name: 'Interval', equation: 'xₜ = β·qₜ + (1 − β)·xₜ₋₁ at a demand', places: { fixed: 3 } },
		'beta',
		(recorded, t) => recorded.state('since', t),
		'the known periods up to the first demand',
	);
	const chance: WorkingColumn = {
		key: 'chance',
		name: 'Chance',
		equation: 'pₜ = β·(1 at a demand, else 0) + (1 − β)·pₜ₋₁',
		places: { fixed: 4 },
		explain(recorded, t) {
			if (!known(recorded, t)) return null;
			if (begins(recorded, t))
				return {
					expression: over(figure(1), figure(recorded.state('since', t)!)),
					remark: 'one in the known periods up to the first demand',
				};
			const before = recorded.state('chance', t - 1)!;
			if (recorded.value(t) === null) return takenOver(before, 'no actual: it stays');
			const beta = recorded.constant('beta');
			return {
				expression: plus(
					times(figure(beta), figure(isDemand(recorded, t) ? 1 : 0)),
					times(figure(1 - beta), figure(before)),
				),
			};
		},
	};

	/** From what is known at the end of period t. */
	const rate = (recorded: Recorded, t: number): Spelled | null => {
		if (!known(recorded, t)) return null;
		const large = figure(recorded.state('size', t)!);
		if (kind === 'tsb') return { expression: times(figure(recorded.state('chance', t)!), large) };
		const divided = over(large, figure(recorded.state('interval', t)!));
		if (kind === 'classic') return { expression: divided };
		const excess = over(figure(recorded.constant('beta')), figure(2));
		return { expression: times(divided, minus(figure(1), excess)) };
	};
	const symbols = (t: string) =>
		kind === 'tsb' ? `p${t}·z${t}` : `z${t} ÷ x${t}${kind === 'sba' ? '·(1 − β ÷ 2)' : ''}`;
	return {
		forecast: {
			key: 'fitted',
			name: 'Forecast',
			equation: `fₜ = ${symbols('ₜ₋₁')}`,
			explain: (recorded, t) => rate(recorded, t - 1),
		},
		states: kind === 'tsb' ? [size, chance] : [since, size, interval],
		ahead: `fₙ₊ₕ = ${symbols('ₙ')}`,
		explainAhead: (recorded) => rate(recorded, recorded.periods),
	};
}
