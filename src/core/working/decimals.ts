/**
 * Decimals that fit the size of a series: three or four figures that a reader can tell apart, and no more.
 * @param values figures, null or NaN where missing
 */
export function decimalsFor(values: Iterable<number | null>): number {
	const sizes = [...values]
		.filter((value) => value !== null && Number.isFinite(value) && value !== 0)
		.map((value) => Math.abs(value!))
		.sort((a, b) => a - b);
	const typical = sizes[Math.floor(sizes.length / 2)] ?? 100;
	return Math.min(6, Math.max(0, 3 - Math.floor(Math.log10(typical))));
}
