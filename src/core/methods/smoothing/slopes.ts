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
	const length = begun.season.length;
	const season = begun.season.slice();
	const levels = Float64Array.from(entrances, (entrance) => entrance.level);
	const trends = Float64Array.from(entrances, (entrance) => entrance.trend);
	const seasons = new Float64Array(k * length);
	entrances.forEach((entrance, j) => entrance.season && seasons.set(entrance.season, j * length));
	let { level, trend } = begun;
	let place = begun.first;

	for (let i = begun.at; i < n; i++) {
		const value = values[i]!;
		const own = length > 0 ? season[place]! : 0;
		const next = level + phi * trend;
		const known = value === value;
		fitted[i] = kind === 'multiplicative' ? next * own : next + own;
		// How far the actual lies from the step, on the scale of the level.
		const news = known ? (kind === 'multiplicative' ? value / own - next : value - next - own) : 0;
		const reached = next + alpha * news;
		for (let j = 0; j < k; j++) {
			const by = entrances[j]!.weights;
			const bySeason = length > 0 ? seasons[j * length + place]! : 0;
			const fade = by.phi * trend + phi * trends[j]!;
			const byNext = levels[j]! + fade;
			slopes[j * n + i] = kind === 'multiplicative' ? byNext * own + next * bySeason : byNext + bySeason;
			if (!known) {
				levels[j] = byNext;
				trends[j] = fade;
				continue;
			}
			const byNews =
				kind === 'multiplicative' ? (-value / (own * own)) * bySeason - byNext : -byNext - bySeason;
			const byReached = byNext + by.alpha * news + alpha * byNews;
			levels[j] = byReached;
			trends[j] = fade + (by.alpha * beta + alpha * by.beta) * news + alpha * beta * byNews;
			if (kind === 'multiplicative') {
				seasons[j * length + place] =
					(1 - gamma) * bySeason +
					by.gamma * (value / reached - own) -
					((gamma * value) / (reached * reached)) * byReached;
			} else if (kind === 'additive') {
				seasons[j * length + place] =
					bySeason + (by.gamma * (1 - alpha) - gamma * by.alpha) * news + gamma * (1 - alpha) * byNews;
			}
		}
		trend = phi * trend + alpha * beta * news;
		level = reached;
		if (known && kind === 'multiplicative') season[place] = (gamma * value) / reached + (1 - gamma) * own;
		if (known && kind === 'additive') season[place] = own + gamma * (1 - alpha) * news;
		if (length > 0 && ++place === length) place = 0;
	}
}
