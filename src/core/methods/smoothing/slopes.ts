import type { Begun, Family, Weights } from './structure';

/** How one parameter enters the recursion: through the constants, or through what it starts from. */
export interface Entrance {
	weights: Weights;
	level: number;
	trend: number;
	/** By season index; null where the start's seasons do not depend on it. */
	season: Float64Array | null;
}

/**
 * One pass that carries the derivatives of every fitted value by k parameters along with the recursion
 * (forward differentiation): the chain rule applied to each line of it.
 * @param values n actuals, NaN where missing
 * @param entrances how each of the k parameters enters
 * @param fitted receives n fitted values from index `at` on
 * @param slopes receives k rows of n derivatives from column `at` on
 */
export function slopesPass(
	{ season: kind }: Pick<Family, 'season'>,
	values: Float64Array,
	begun: Begun,
	{ alpha, beta, gamma, phi }: Weights,
	entrances: readonly Entrance[],
	fitted: Float64Array,
	slopes: Float64Array,
): void {
	const n = values.length;
	const k = entrances.length;
	const { at, first } = begun;
	const length = begun.season.length;
	const multiplied = kind === 'multiplicative';
	// The recursion itself, and what the chain rule asks of each of its periods: the trend that it comes with, the step,
	// how far the actual lies from it on the scale of the level (NaN where it is missing), and the season.
	const trends = new Float64Array(n);
	const nexts = new Float64Array(n);
	const news = new Float64Array(n);
	const owns = new Float64Array(n);
	const season = begun.season.slice();
	let { level, trend } = begun;
	let place = first;
	for (let i = at; i < n; i++) {
		const value = values[i]!;
		const own = length > 0 ? season[place]! : 0;
		const next = level + phi * trend;
		const error = multiplied ? value / own - next : value - next - own;
		const known = value === value;
		fitted[i] = multiplied ? next * own : next + own;
		trends[i] = trend;
		nexts[i] = next;
		news[i] = error;
		owns[i] = own;
		level = known ? next + alpha * error : next;
		trend = known ? phi * trend + alpha * beta * error : phi * trend;
		if (length === 0) continue;
		if (known)
			season[place] = multiplied
				? (gamma * value) / level + (1 - gamma) * own
				: own + gamma * (1 - alpha) * error;
		if (++place === length) place = 0;
	}

	const bySeasons = new Float64Array(length);
	for (let j = 0; j < k; j++) {
		const { weights: by, season: fromStart } = entrances[j]!;
		let { level: byLevel, trend: byTrend } = entrances[j]!;
		if (fromStart) bySeasons.set(fromStart);
		else bySeasons.fill(0);
		const byTurn = by.alpha * beta + alpha * by.beta;
		const bySeasonTurn = by.gamma * (1 - alpha) - gamma * by.alpha;
		place = first;
		for (let i = at; i < n; i++) {
			const own = owns[i]!;
			const next = nexts[i]!;
			const error = news[i]!;
			const bySeason = length > 0 ? bySeasons[place]! : 0;
			const fade = by.phi * trends[i]! + phi * byTrend;
			const byNext = byLevel + fade;
			slopes[j * n + i] = multiplied ? byNext * own + next * bySeason : byNext + bySeason;
			if (error === error) {
				const value = values[i]!;
				const byError = -byNext - (multiplied ? value / (own * own) : 1) * bySeason;
				byLevel = byNext + by.alpha * error + alpha * byError;
				byTrend = fade + byTurn * error + alpha * beta * byError;
				if (multiplied) {
					const reached = next + alpha * error;
					bySeasons[place] =
						(1 - gamma) * bySeason +
						by.gamma * (value / reached - own) -
						((gamma * value) / (reached * reached)) * byLevel;
				} else if (length > 0) {
					bySeasons[place] = bySeason + bySeasonTurn * error + gamma * (1 - alpha) * byError;
				}
			} else {
				byLevel = byNext;
				byTrend = fade;
			}
			if (++place >= length) place = 0;
		}
	}
}
