/**
 * The recursions themselves: one specialised loop per structure of trend and season, nothing allocated, since
 * a search calls them thousands of times. At a missing actual (NaN) the state takes the forecast's own step.
 */

/**
 * Level only: f_t = ℓ_{t−1}, ℓ_t = α y_t + (1−α) ℓ_{t−1}.
 *
 * Runs on deviations from the start: two operations deep from one period to the next instead of three, and a
 * constant series comes out as itself to the last bit.
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
	const keep = 1 - alpha;
	let deviation = 0;
	for (let i = at; i < n; i++) {
		fitted[i] = level + deviation;
		const news = values[i]! - level;
		// NaN is the only number unequal to itself; this test costs less here than a call.
		if (news === news) deviation = alpha * news + keep * deviation;
	}
	return level + deviation;
}
