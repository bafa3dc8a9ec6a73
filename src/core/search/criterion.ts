import type { Criterion } from '../contract/criteria';

// Plain counting loops throughout: an iterator over a typed array costs more than the arithmetic here.

/**
 * The criterion over scored periods, defined as the measure of the same name; NaN where it does not exist.
 * @param actual n actuals
 * @param fitted n fitted values
 * @param scored 0-based positions where both exist
 */
export function criterionValue(
	criterion: Criterion,
	actual: Float64Array,
	fitted: Float64Array,
	scored: Int32Array,
): number {
	switch (criterion) {
		case 'mse':
			return meanSquare(actual, fitted, scored);
		case 'mad':
			return totalDeviation(actual, fitted, scored) / scored.length;
		case 'wape':
			return (100 * totalDeviation(actual, fitted, scored)) / totalDemand(actual, scored);
		case 'mape':
			return meanPercentage(actual, fitted, scored);
		case 'smape':
			return meanSymmetric(actual, fitted, scored);
	}
}

function meanSquare(actual: Float64Array, fitted: Float64Array, scored: Int32Array): number {
	let sum = 0;
	for (let position = 0; position < scored.length; position++) {
		const i = scored[position]!;
		const error = actual[i]! - fitted[i]!;
		sum += error * error;
	}
	return sum / scored.length;
}

function totalDeviation(actual: Float64Array, fitted: Float64Array, scored: Int32Array): number {
	let sum = 0;
	for (let position = 0; position < scored.length; position++) {
		const i = scored[position]!;
		sum += Math.abs(actual[i]! - fitted[i]!);
	}
	return sum;
}

function totalDemand(actual: Float64Array, scored: Int32Array): number {
	let sum = 0;
	for (let position = 0; position < scored.length; position++) {
		const i = scored[position]!;
		sum += Math.abs(actual[i]!);
	}
	return sum > 0 ? sum : NaN;
}

function meanPercentage(actual: Float64Array, fitted: Float64Array, scored: Int32Array): number {
	let sum = 0;
	let count = 0;
	for (let position = 0; position < scored.length; position++) {
		const i = scored[position]!;
		const y = actual[i]!;
		if (y === 0) continue;
		sum += Math.abs((y - fitted[i]!) / y);
		count++;
	}
	return (100 * sum) / count;
}

function meanSymmetric(actual: Float64Array, fitted: Float64Array, scored: Int32Array): number {
	let sum = 0;
	let count = 0;
	for (let position = 0; position < scored.length; position++) {
		const i = scored[position]!;
		const y = actual[i]!;
		const f = fitted[i]!;
		const both = Math.abs(y) + Math.abs(f);
		if (both === 0) continue;
		sum += (2 * Math.abs(y - f)) / both;
		count++;
	}
	return (100 * sum) / count;
}
