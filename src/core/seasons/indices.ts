/** Whether a season is multiplied onto a level or added to it. */
export type SeasonKind = 'multiplicative' | 'additive';

/**
 * The centred average: over P values, or for even P over P + 1 with both ends at half weight. Of the values in a
 * window those present are averaged.
 * @param values n figures, NaN where missing
 * @returns n averages, NaN where the window reaches beyond the series or holds nothing
 */
export function centredAverage(values: Float64Array, length: number): Float64Array {
	const n = values.length;
	const half = Math.floor(length / 2);
	const average = new Float64Array(n).fill(NaN);
	for (let i = half; i < n - half; i++) {
		let sum = 0;
		let total = 0;
		for (let k = -half; k <= half; k++) {
			const value = values[i + k]!;
			if (Number.isNaN(value)) continue;
			const weight = length % 2 === 0 && Math.abs(k) === half ? 0.5 : 1;
			sum += weight * value;
			total += weight;
		}
		if (total > 0) average[i] = sum / total;
	}
	return average;
}

/**
 * Seasonal indices by ratio (or difference) to the centred average, averaged by season, not normalised yet.
 * @param values n figures, NaN where missing
 * @param firstSeason season of the first figure, 1 … P
 * @returns P indices, season 1 first; NaN for a season that has no ratio
 */
export function indicesToCentredAverage(
	values: Float64Array,
	length: number,
	firstSeason: number,
	kind: SeasonKind,
): Float64Array {
	const average = centredAverage(values, length);
	const sums = new Float64Array(length);
	const counts = new Float64Array(length);
	for (let i = 0; i < values.length; i++) {
		const ratio = kind === 'multiplicative' ? values[i]! / average[i]! : values[i]! - average[i]!;
		if (!Number.isFinite(ratio)) continue;
		const j = (firstSeason - 1 + i) % length;
		sums[j]! += ratio;
		counts[j]!++;
	}
	return sums.map((sum, j) => sum / counts[j]!);
}

/** Indices brought to a sum of P (multiplicative) or 0 (additive). */
export function normalised(indices: Float64Array, kind: SeasonKind): Float64Array {
	const sum = indices.reduce((total, index) => total + index, 0);
	const length = indices.length;
	return kind === 'multiplicative'
		? indices.map((index) => (index * length) / sum)
		: indices.map((index) => index - sum / length);
}
