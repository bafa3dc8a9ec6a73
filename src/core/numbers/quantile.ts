/**
 * Quantile by straight-line interpolation between order statistics: the value at position (m − 1)·p of the
 * ordered values, counted from 0 (Hyndman & Fan 1996, type 7).
 *
 * Orders the values only as far as it needs to: ranges ask for a few quantiles of every step ahead on every move
 * of a dial, and each question finds the order that the last one left.
 * @param values m values without NaN, m ≥ 1; they are moved about
 * @param p 0 … 1
 */
export function quantile(values: Float64Array, p: number): number {
	const position = (values.length - 1) * p;
	const below = Math.floor(position);
	const low = select(values, below);
	const share = position - below;
	if (share === 0) return low;
	let high = Infinity;
	for (let i = below + 1; i < values.length; i++) high = Math.min(high, values[i]!);
	return low + (high - low) * share;
}

/** Puts the k-th smallest value at index k, none larger before it and none smaller after (Hoare 1961, FIND). */
function select(values: Float64Array, k: number): number {
	let low = 0;
	let high = values.length - 1;
	while (low < high) {
		const pivot = values[(low + high) >> 1]!;
		let i = low;
		let j = high;
		while (i <= j) {
			while (values[i]! < pivot) i++;
			while (values[j]! > pivot) j--;
			if (i <= j) {
				const swapped = values[i]!;
				values[i++] = values[j]!;
				values[j--] = swapped;
			}
		}
		if (k <= j) high = j;
		else if (k >= i) low = i;
		else break;
	}
	return values[k]!;
}
