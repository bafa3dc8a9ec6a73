/** What a missing value becomes before any method sees it. */
export const GAP_RULES = ['skip', 'carry-forward', 'interpolate', 'seasonal', 'zero'] as const;

export type GapRule = (typeof GAP_RULES)[number];

/**
 * The figures that methods work on: gaps filled by the rule, excluded periods missing.
 *
 * An excluded period is missing whatever the rule, and is not copied or drawn a line through by it either:
 * an outlier that was left out must not come back through its neighbours.
 * What a rule cannot fill (a leading gap under `carry-forward`, an end under `interpolate`, a season that is
 * missing in both neighbouring cycles) stays missing.
 *
 * @param values n figures, null where missing
 * @param excluded 1-based positions, in any order
 * @returns n figures, NaN where missing
 */
export function fillGaps(
	values: readonly (number | null)[],
	rule: GapRule,
	seasonLength: number,
	excluded: readonly number[] = [],
): Float64Array {
	const known = Float64Array.from(values, (value) => value ?? NaN);
	for (const position of excluded) known[position - 1] = NaN;
	if (rule === 'skip') return known;

	const leftOut = new Set(excluded);
	const filled = known.slice();
	for (let i = 0; i < known.length; i++) {
		if (!Number.isNaN(known[i]) || leftOut.has(i + 1)) continue;
		filled[i] = fillOne(known, i, rule, seasonLength);
	}
	return filled;
}

function fillOne(
	known: Float64Array,
	i: number,
	rule: Exclude<GapRule, 'skip'>,
	seasonLength: number,
): number {
	if (rule === 'zero') return 0;
	if (rule === 'seasonal') {
		const earlier = known[i - seasonLength] ?? NaN;
		return Number.isNaN(earlier) ? (known[i + seasonLength] ?? NaN) : earlier;
	}
	let before = i - 1;
	while (before >= 0 && Number.isNaN(known[before])) before--;
	if (rule === 'carry-forward') return known[before] ?? NaN;
	let after = i + 1;
	while (after < known.length && Number.isNaN(known[after])) after++;
	if (before < 0 || after >= known.length) return NaN;
	return known[before]! + ((known[after]! - known[before]!) * (i - before)) / (after - before);
}
