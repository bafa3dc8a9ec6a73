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
 * Passes that carry the derivatives of every fitted value by k parameters along with the recursion (forward
 * differentiation): the chain rule applied to each line of it. Bound to a series, since its lists are made once: a search
 * asks for hundreds of such passes, and a list costs more than the arithmetic on it.
 * @param values n actuals, NaN where missing
 * @param length P, 0 without a season
 */
export function derivativePasses(
	{ season: kind }: Pick<Family, 'season'>,
	values: Float64Array,
	length: number,
): (
	begun: Begun,
	weights: Weights,
	/** How each of the k parameters enters. */
	entrances: readonly Entrance[],
	/** Receives n fitted values from index `at` on. */
	fitted: Float64Array,
	/** Receives k rows of n derivatives from column `at` on. */
	derivatives: Float64Array,
) => void {
	const n = values.length;
	const multiplied = kind === 'multiplicative';
	// What the chain rule asks of each period: the trend that it comes with, the step, how far the actual lies from it on
	// the scale of the level (NaN where it is missing), and the season. Where there is none it is one that stays 0.
	const trends = new Float64Array(n);
	const nexts = new Float64Array(n);
	const news = new Float64Array(n);
	const owns = new Float64Array(n);
	const cycle = Math.max(1, length);
	const season = new Float64Array(cycle);
	const bySeasons = new Float64Array(cycle);

	/** The recursion itself. */
	function follow(
		{ at, first, level, trend }: Begun,
		{ alpha, beta, gamma, phi }: Weights,
		fitted: Float64Array,
	) {
		let place = first;
		for (let i = at; i < n; i++) {
			const value = values[i]!;
			const own = season[place]!;
			const next = level + phi * trend;
			const error = multiplied ? value / own - next : value - next - own;
			fitted[i] = multiplied ? next * own : next + own;
			trends[i] = trend;
			nexts[i] = next;
			news[i] = error;
			owns[i] = own;
			level = next;
			trend *= phi;
			if (error === error) {
				level += alpha * error;
				trend += alpha * beta * error;
				season[place] = multiplied
					? (gamma * value) / level + (1 - gamma) * own
					: own + gamma * (1 - alpha) * error;
			}
			if (++place === cycle) place = 0;
		}
	}

	/** Derivatives by one parameter, from index `row` on, where the season is added or there is none. */
	function alongAdded(
		{ at, first }: Begun,
		{ alpha, beta, gamma, phi }: Weights,
		{ weights: by, level, trend }: Entrance,
		derivatives: Float64Array,
		row: number,
	) {
		let byLevel = level;
		let byTrend = trend;
		let place = first;
		const { alpha: byAlpha, phi: byPhi } = by;
		const turn = alpha * beta;
		const byTurn = byAlpha * beta + alpha * by.beta;
		const seasonTurn = gamma * (1 - alpha);
		const bySeasonTurn = by.gamma * (1 - alpha) - gamma * byAlpha;
		for (let i = at; i < n; i++) {
			const error = news[i]!;
			const bySeason = bySeasons[place]!;
			const fade = byPhi * trends[i]! + phi * byTrend;
			const byNext = byLevel + fade;
			const byFitted = byNext + bySeason;
			derivatives[row + i] = byFitted;
			byLevel = byNext;
			byTrend = fade;
			if (error === error) {
				byLevel += byAlpha * error - alpha * byFitted;
				byTrend += byTurn * error - turn * byFitted;
				bySeasons[place] = bySeason + bySeasonTurn * error - seasonTurn * byFitted;
			}
			if (++place === cycle) place = 0;
		}
	}

	/** The same where the season multiplies. */
	function alongMultiplied(
		{ at, first }: Begun,
		{ alpha, beta, gamma, phi }: Weights,
		{ weights: by, level, trend }: Entrance,
		derivatives: Float64Array,
		row: number,
	) {
		let byLevel = level;
		let byTrend = trend;
		let place = first;
		const { alpha: byAlpha, gamma: byGamma, phi: byPhi } = by;
		const turn = alpha * beta;
		const byTurn = byAlpha * beta + alpha * by.beta;
		for (let i = at; i < n; i++) {
			const value = values[i]!;
			const own = owns[i]!;
			const next = nexts[i]!;
			const error = news[i]!;
			const bySeason = bySeasons[place]!;
			const fade = byPhi * trends[i]! + phi * byTrend;
			const byNext = byLevel + fade;
			derivatives[row + i] = byNext * own + next * bySeason;
			byLevel = byNext;
			byTrend = fade;
			if (error === error) {
				const byError = -byNext - (value / (own * own)) * bySeason;
				const reached = next + alpha * error;
				byLevel += byAlpha * error + alpha * byError;
				byTrend += byTurn * error + turn * byError;
				bySeasons[place] =
					(1 - gamma) * bySeason +
					byGamma * (value / reached - own) -
					((gamma * value) / (reached * reached)) * byLevel;
			}
			if (++place === cycle) place = 0;
		}
	}

	const along = multiplied ? alongMultiplied : alongAdded;
	return (begun, weights, entrances, fitted, derivatives) => {
		season.fill(0);
		season.set(begun.season);
		follow(begun, weights, fitted);
		for (let j = 0; j < entrances.length; j++) {
			bySeasons.fill(0);
			const fromStart = entrances[j]!.season;
			if (fromStart) bySeasons.set(fromStart);
			along(begun, weights, entrances[j]!, derivatives, j * n);
		}
	};
}
