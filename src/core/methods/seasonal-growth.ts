import { figure, minus, over, plus, times } from '../working/expression';
import { fixedModel, takenOver } from './flat';
import { CannotRun, defineMethod, tooFew } from '../contract/method';
import type { Expression, Recorded, Spelled, Working, WorkingColumn } from '../contract/working';

const NAME = 'Seasonal naive with growth';
/** Smaller than this share of the largest sum, a sum is rounding. */
const ROUNDING = 1e-12;

/**
 * The same season of the last cycle times the growth from one cycle to the next: g_t = Σ y ÷ Σ y a cycle before, over the latest P
 * periods that are there with their like a cycle before; f_t = g_{t−1}·y_{t−P}; ahead y of the last cycle times g_n once a cycle.
 */
export const seasonalGrowth = defineMethod({
	id: 'seasonal-growth',
	name: NAME,
	fits: 'A season that grows as a whole: last cycle’s demand times the growth on the cycle before.',
	constants: [],
	fields: [],
	starts: [],
	label: () => NAME,
	short: () => 'Season growth',
	kind: () => 'forecast',
	onlyPastFrom: () => 0,
	follows: () => ({ trend: true, season: 'multiplicative' }),
	fitSteps: (_, { periods }) => 8 * periods,
	bind({ values, seasonLength: length }) {
		const n = values.length;
		if (length < 2 || n < 2 * length)
			throw tooFew(
				NAME,
				2 * Math.max(2, length),
				n,
				`periods, two seasons of ${Math.max(2, length)}`,
				'Bring in earlier periods.',
			);
		if (values.some((value) => value < 0))
			throw new CannotRun({
				code: 'negative-demand',
				text: `${NAME} needs figures that are not below 0: growth is a ratio of sums. Use Seasonal naive.`,
				figures: {},
			});
		const recent = new Float64Array(n);
		const before = new Float64Array(n);
		for (let i = 0; i < n; i++) {
			const [comes, leaves] = [pairAt(values, i, length), pairAt(values, i - length, length)];
			recent[i] = (recent[i - 1] ?? 0) + comes[0] - leaves[0];
			before[i] = (before[i - 1] ?? 0) + comes[1] - leaves[1];
		}
		// What a running sum keeps of figures that left it is rounding: no demand to grow from.
		const least = ROUNDING * before.reduce((most, sum) => Math.max(most, sum), 0);
		// From the end of the second cycle on, and only as far as something was sold in the cycle before.
		const growth = Float64Array.from(recent, (sum, i) =>
			i + 1 >= 2 * length && before[i]! > least ? sum / before[i]! : NaN,
		);
		const forecastAt = (origin: number, h: number): number => {
			const cycles = Math.ceil(h / length);
			const like = values[origin + h - length * cycles - 1] ?? NaN;
			return like * (growth[origin - 1] ?? NaN) ** cycles;
		};
		const fitted = Float64Array.from({ length: n }, (_, i) => forecastAt(i, 1));
		// A cycle on, every season had its turn.
		const after = Array.from({ length }, (_, i) => forecastAt(n, i + 1));
		if (fitted.every(Number.isNaN) && after.every(Number.isNaN))
			throw new CannotRun({
				code: 'no-growth',
				text: `${NAME} needs periods with figures above 0 and the same seasons a cycle later: growth is a ratio of their sums. Use Seasonal naive.`,
				figures: {},
			});
		return fixedModel({
			fitted,
			start: null,
			states: { recent, before, growth },
			forecast(origin, out) {
				for (let h = 1; h <= out.length; h++) out[h - 1] = forecastAt(origin, h);
			},
		});
	},
	working: () => WORKING,
});

/** The figure at a 0-based position and its like a cycle before; zeros where one of the two is missing. */
function pairAt(values: Float64Array, i: number, length: number): readonly [number, number] {
	const [now, then] = [values[i] ?? NaN, values[i - length] ?? NaN];
	return Number.isNaN(now + then) ? [0, 0] : [now, then];
}

/** A running sum: what comes in, less what leaves it. @param of the part of a pair that is summed */
function runningSum(
	column: Pick<WorkingColumn, 'key' | 'name' | 'equation'>,
	of: (recorded: Recorded, t: number) => number | null,
): WorkingColumn {
	return {
		...column,
		explain(recorded, t) {
			const sum = recorded.state(column.key, t - 1);
			const [comes, leaves] = [of(recorded, t), of(recorded, t - recorded.seasonLength)];
			if (sum === null) return takenOver(comes ?? 0, 'the first of the sum');
			const with_: Expression = comes === null ? figure(sum) : plus(figure(sum), figure(comes));
			return {
				expression: leaves === null ? with_ : minus(with_, figure(leaves)),
				...(comes === null && { remark: 'one of the pair is missing: nothing is added' }),
			};
		},
	};
}

/** A figure and its like a cycle before; null where one of the two is missing. */
function pairOf(recorded: Recorded, t: number): readonly [number, number] | null {
	if (t < 1) return null;
	const [now, then] = [
		recorded.value(t),
		t > recorded.seasonLength ? recorded.value(t - recorded.seasonLength) : null,
	];
	return now === null || then === null ? null : [now, then];
}

const WORKING: Working = {
	forecast: {
		key: 'fitted',
		name: 'Forecast',
		equation: 'fₜ = gₜ₋₁·yₜ₋ₚ',
		explain: (recorded, t) => grown(recorded, t - 1, 1),
	},
	states: [
		runningSum(
			{ key: 'recent', name: 'Latest cycle', equation: 'Aₜ = Aₜ₋₁ + yₜ − yₜ₋ₚ' },
			(recorded, t) => pairOf(recorded, t)?.[0] ?? null,
		),
		runningSum(
			{ key: 'before', name: 'Cycle before', equation: 'Bₜ = Bₜ₋₁ + yₜ₋ₚ − yₜ₋₂ₚ' },
			(recorded, t) => pairOf(recorded, t)?.[1] ?? null,
		),
		{
			key: 'growth',
			name: 'Growth',
			equation: 'gₜ = Aₜ ÷ Bₜ',
			places: { fixed: 4 },
			explain(recorded, t) {
				const [recent, before] = [recorded.state('recent', t), recorded.state('before', t)];
				if (recorded.state('growth', t) === null || recent === null || before === null) return null;
				return { expression: over(figure(recent), figure(before)) };
			},
		},
	],
	ahead: 'fₙ₊ₕ = y of the same season in the last cycle · gₙ, once more for each cycle',
	explainAhead: (recorded, step) => grown(recorded, recorded.periods, step),
};

function grown(recorded: Recorded, origin: number, step: number): Spelled | null {
	const cycles = Math.ceil(step / recorded.seasonLength);
	const from = origin + step - cycles * recorded.seasonLength;
	const growth = recorded.state('growth', origin);
	const like = from < 1 ? null : recorded.value(from);
	if (growth === null || like === null) return null;
	return {
		expression: times(figure(like), ...new Array<Expression>(cycles).fill(figure(growth))),
		remark: cycles === 1 ? 'the same season a cycle before, grown' : `grown ${cycles} times`,
	};
}
