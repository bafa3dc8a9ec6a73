import type { Series } from '../series/series';
import { countPresent } from '../series/series';
import type { Expression } from '../contract/working';
import { figure, mean, over, plus, times } from '../working/expression';
import { integerField, weightsField } from '../contract/field';
import { flatModel, flatWorking } from './flat';
import type { CandidateInput } from '../contract/candidate';
import { defineMethod, tooFew } from '../contract/method';
import type { Model } from '../contract/model';
import type { Spelled, Recorded } from '../contract/working';

const span = integerField(
	{ key: 'span', name: 'span', symbol: 'k', meaning: 'How many of the latest periods are averaged.' },
	1,
	3,
);

const weights = weightsField(
	{ key: 'weights', name: 'weights', symbol: 'w', meaning: 'From the oldest period to the newest.' },
	[1, 2, 3],
);

/** Moving average: f_t is the mean of the present values among the k before; flat ahead. */
export const movingAverage = defineMethod({
	id: 'moving-average',
	name: 'Moving average',
	fits: 'A level that shifts now and then: averages the latest few periods and forgets the rest.',
	constants: [],
	fields: [span],
	starts: [],
	label: (candidate) => `Moving average of ${span.read(candidate)}`,
	short: (candidate) => `Average ${span.read(candidate)}`,
	kind: () => 'forecast',
	onlyPastFrom: () => 0,
	follows: () => ({ trend: false, season: false }),
	fitSteps: (candidate, { periods }) => periods * Math.min(periods, span.read(candidate)),
	bind: (series, candidate) => windowModel(series, new Array<number>(span.read(candidate)).fill(1)),
	...flatWorking('fₜ = (yₜ₋ₖ + … + yₜ₋₁) ÷ k', 'fₙ₊ₕ = (yₙ₋ₖ₊₁ + … + yₙ) ÷ k', (recorded, t) => {
		const inside = windowOf(recorded, t, span.read(recorded.candidate));
		return inside && spelledMean(inside, mean(inside.terms.map((term) => figure(term.value))));
	}),
});

/** Weighted moving average: weights from the oldest to the newest, divided by the sum of those in use. */
export const weightedMovingAverage = defineMethod({
	id: 'weighted-moving-average',
	name: 'Weighted moving average',
	fits: 'As the moving average, with the newest periods counting for more.',
	constants: [],
	fields: [weights],
	starts: [],
	label: (candidate) => `Weighted average ${weights.read(candidate).join(' · ')}`,
	short: () => 'Weighted',
	kind: () => 'forecast',
	onlyPastFrom: () => 0,
	follows: () => ({ trend: false, season: false }),
	fitSteps: (candidate, { periods }) => periods * Math.min(periods, weights.read(candidate).length),
	bind: (series, candidate) => windowModel(series, weightsOf(candidate)),
	...flatWorking(
		'fₜ = (w₁·yₜ₋ₖ + … + wₖ·yₜ₋₁) ÷ (w₁ + … + wₖ)',
		'fₙ₊ₕ = (w₁·yₙ₋ₖ₊₁ + … + wₖ·yₙ) ÷ (w₁ + … + wₖ)',
		(recorded, t) => {
			const scale = weightsOf(recorded.candidate);
			const inside = windowOf(recorded, t, scale.length);
			if (!inside) return null;
			const weighed = inside.terms.map((term) => ({ weight: scale[term.place]!, value: term.value }));
			const total = weighed.reduce((sum, term) => sum + term.weight, 0);
			const sum = plus(...weighed.map((term) => times(figure(term.weight), figure(term.value))));
			return total > 0 ? spelledMean(inside, over(sum, figure(total))) : null;
		},
	),
});

const weightsOf = (candidate: CandidateInput) => weights.read(candidate);

function windowModel(series: Series, scale: readonly number[]): Model {
	const { values } = series;
	const k = scale.length;
	const present = countPresent(values);
	if (values.length < k || present === 0) {
		throw tooFew(
			k === 1 ? 'The moving average' : `An average of ${k}`,
			k,
			values.length < k ? values.length : present,
			k === 1 ? 'actual' : 'periods',
			'Choose a shorter span.',
		);
	}
	const next = new Float64Array(values.length + 1).fill(NaN);
	for (let origin = k; origin <= values.length; origin++) {
		let sum = 0;
		let total = 0;
		for (let place = 0; place < k; place++) {
			const value = values[origin - k + place]!;
			if (Number.isNaN(value)) continue;
			sum += scale[place]! * value;
			total += scale[place]!;
		}
		if (total > 0) next[origin] = sum / total;
	}
	return flatModel(series, next);
}

interface Window {
	terms: { place: number; value: number }[];
	missing: number;
}

function windowOf(recorded: Recorded, t: number, k: number): Window | null {
	if (t <= k) return null;
	const terms = [];
	for (let place = 0; place < k; place++) {
		const value = recorded.value(t - k + place);
		if (value !== null) terms.push({ place, value });
	}
	return terms.length > 0 ? { terms, missing: k - terms.length } : null;
}

function spelledMean(inside: Window, expression: Expression): Spelled {
	return inside.missing > 0
		? { expression, remark: `${inside.missing} of the ${inside.missing + inside.terms.length} missing` }
		: { expression };
}
