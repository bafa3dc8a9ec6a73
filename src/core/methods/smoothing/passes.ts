/**
 * The recursions themselves: one specialised loop per structure of trend and season, nothing allocated, since
 * a search calls them thousands of times. At a missing actual (NaN) the state takes the forecast's own step.
 */

/**
 * Level only: f_t = ℓ_{t−1}, ℓ_t = ℓ_{t−1} + α (y_t − ℓ_{t−1}).
 * @param values n actuals, NaN where missing
 * @param at period at whose end `level` stands; the first fitted value is at + 1
 * @param fitted receives fitted values from index `at` on; what stands before is left alone
 * @returns the level after the last period
 */
export function levelPass(
	values: Float64Array,
	at: number,
	level: number,
	alpha: number,
	fitted: Float64Array,
): number {
	const n = values.length;
	for (let i = at; i < n; i++) {
		fitted[i] = level;
		const value = values[i]!;
		// NaN is the only number unequal to itself; this test costs less here than a call.
		if (value === value) level += alpha * (value - level);
	}
	return level;
}
