/**
 * Quantile of sorted values by straight-line interpolation between order statistics: the value at position
 * (m − 1)·p, counted from 0 (Hyndman & Fan 1996, type 7).
 * @param sorted m values in ascending order, m ≥ 1
 * @param p 0 … 1
 */
export function quantile(sorted: Float64Array, p: number): number {
	const position = (sorted.length - 1) * p;
	const below = Math.floor(position);
	const low = sorted[below]!;
	const high = sorted[Math.min(below + 1, sorted.length - 1)]!;
	return low + (high - low) * (position - below);
}
