/** The most decimals that any figure was brought in with, at most 6. */
export function writtenDecimals(values: Iterable<number | null>): number {
	let most = 0;
	for (const value of values) {
		if (value === null || Number.isInteger(value)) continue;
		const [, fraction = ''] = value.toFixed(6).replace(/0+$/, '').split('.');
		most = Math.max(most, fraction.length);
	}
	return most;
}

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
