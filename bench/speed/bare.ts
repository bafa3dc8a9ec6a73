import type { Start } from '../../src/core/contract/candidate';

/** Recursions with a season written out bare, line by line as docs/methods.md has them; for measuring against. */

const [A, B, G, PHI] = [0.3, 0.1, 0.2, 0.9];

const startSeason = ({ season }: Start) => Float64Array.from(season!);

export const bareAdded = {
	none(values: Float64Array, start: Start, out: Float64Array): number {
		const season = startSeason(start);
		let { level } = start;
		let place = start.at % season.length;
		for (let t = start.at; t < values.length; t++) {
			const own = season[place]!;
			const step = level;
			out[t] = step + own;
			level = A * (values[t]! - own) + (1 - A) * step;
			season[place] = G * (values[t]! - level) + (1 - G) * own;
			if (++place === season.length) place = 0;
		}
		return level;
	},
	additive(values: Float64Array, start: Start, out: Float64Array): number {
		const season = startSeason(start);
		let { level, trend = 0 } = start;
		let place = start.at % season.length;
		for (let t = start.at; t < values.length; t++) {
			const own = season[place]!;
			const step = level + trend;
			out[t] = step + own;
			const before = level;
			level = A * (values[t]! - own) + (1 - A) * step;
			trend = B * (level - before) + (1 - B) * trend;
			season[place] = G * (values[t]! - level) + (1 - G) * own;
			if (++place === season.length) place = 0;
		}
		return level;
	},
	damped(values: Float64Array, start: Start, out: Float64Array): number {
		const season = startSeason(start);
		let { level, trend = 0 } = start;
		let place = start.at % season.length;
		for (let t = start.at; t < values.length; t++) {
			const own = season[place]!;
			const step = level + PHI * trend;
			out[t] = step + own;
			const before = level;
			level = A * (values[t]! - own) + (1 - A) * step;
			trend = B * (level - before) + (1 - B) * PHI * trend;
			season[place] = G * (values[t]! - level) + (1 - G) * own;
			if (++place === season.length) place = 0;
		}
		return level;
	},
};

export const bareMultiplied = {
	none(values: Float64Array, start: Start, out: Float64Array): number {
		const season = startSeason(start);
		let { level } = start;
		let place = start.at % season.length;
		for (let t = start.at; t < values.length; t++) {
			const own = season[place]!;
			const step = level;
			out[t] = step * own;
			level = A * (values[t]! / own) + (1 - A) * step;
			season[place] = G * (values[t]! / level) + (1 - G) * own;
			if (++place === season.length) place = 0;
		}
		return level;
	},
	additive(values: Float64Array, start: Start, out: Float64Array): number {
		const season = startSeason(start);
		let { level, trend = 0 } = start;
		let place = start.at % season.length;
		for (let t = start.at; t < values.length; t++) {
			const own = season[place]!;
			const step = level + trend;
			out[t] = step * own;
			const before = level;
			level = A * (values[t]! / own) + (1 - A) * step;
			trend = B * (level - before) + (1 - B) * trend;
			season[place] = G * (values[t]! / level) + (1 - G) * own;
			if (++place === season.length) place = 0;
		}
		return level;
	},
	damped(values: Float64Array, start: Start, out: Float64Array): number {
		const season = startSeason(start);
		let { level, trend = 0 } = start;
		let place = start.at % season.length;
		for (let t = start.at; t < values.length; t++) {
			const own = season[place]!;
			const step = level + PHI * trend;
			out[t] = step * own;
			const before = level;
			level = A * (values[t]! / own) + (1 - A) * step;
			trend = B * (level - before) + (1 - B) * PHI * trend;
			season[place] = G * (values[t]! / level) + (1 - G) * own;
			if (++place === season.length) place = 0;
		}
		return level;
	},
};
