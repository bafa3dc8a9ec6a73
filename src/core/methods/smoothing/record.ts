import type { Begun, Family, Weights } from './structure';

/** Everything that one pass went through: n fitted values and states, NaN before the start. */
export interface Trace {
	fitted: Float64Array;
	level: Float64Array;
	trend: Float64Array;
	/** The value of season j(t) after period t; NaN throughout without a season. */
	season: Float64Array;
}

/** One pass in the form of docs/methods.md, line by line, that keeps all of it. */
export function recordPass(
	{ season: kind }: Pick<Family, 'season'>,
	values: Float64Array,
	begun: Begun,
	{ alpha, beta, gamma, phi }: Weights,
): Trace {
	const n = values.length;
	const blank = () => new Float64Array(n).fill(NaN);
	const trace: Trace = { fitted: blank(), level: blank(), trend: blank(), season: blank() };
	const season = begun.season.slice();
	let { level, trend } = begun;
	let place = begun.first;
	for (let i = begun.at; i < n; i++) {
		const value = values[i]!;
		const own = kind === 'none' ? NaN : season[place]!;
		const step = level + phi * trend;
		const before = level;
		trace.fitted[i] = kind === 'none' ? step : kind === 'additive' ? step + own : step * own;
		if (Number.isNaN(value)) {
			level = step;
			trend = phi * trend;
		} else {
			const bare = kind === 'none' ? value : kind === 'additive' ? value - own : value / own;
			level = alpha * bare + (1 - alpha) * step;
			trend = beta * (level - before) + (1 - beta) * phi * trend;
			if (kind === 'additive') season[place] = gamma * (value - level) + (1 - gamma) * own;
			if (kind === 'multiplicative') season[place] = (gamma * value) / level + (1 - gamma) * own;
		}
		trace.level[i] = level;
		trace.trend[i] = trend;
		if (kind !== 'none') {
			trace.season[i] = season[place]!;
			if (++place === season.length) place = 0;
		}
	}
	return trace;
}
