/** Chance of at most `most` successes out of `count` independent trials that each succeed with `share` (0 < share < 1). */
export function chanceOfAtMost(most: number, count: number, share: number): number {
	if (most >= count) return 1;
	// Each term from the one before, in logarithms: the first of many trials is too small for a number.
	let log = count * Math.log1p(-share);
	let sum = 0;
	for (let k = 0; k <= most; k++) {
		sum += Math.exp(log);
		log += Math.log(((count - k) / (k + 1)) * (share / (1 - share)));
	}
	return Math.min(1, sum);
}
