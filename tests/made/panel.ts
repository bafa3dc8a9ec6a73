import { seededNormal, seededUniform } from '../../src/core/numbers/random';

/** A made-up series for panels: its figures and season length. */
export interface PanelSeries {
	values: number[];
	seasonLength: number;
}

const SEASON_LENGTHS = [1, 4, 7, 12, 52];

export interface PanelOptions {
	/** Another future: from so many periods before the end on, chance is drawn anew. */
	future?: { periods: number; seed: number };
	/** Whether noise is in proportion to what is sold. */
	grows?: boolean;
}

/**
 * One of a panel of series of every make: 12 to 400 periods, season lengths 1, 4, 7, 12 and 52, level, trend,
 * trend that turns, steps, wandering, spikes, seasons that add, multiply or change, three sizes of noise. All above 0,
 * so that every method can run.
 */
export function panelSeries(seed: number, { future, grows = false }: PanelOptions = {}): PanelSeries {
	let normal = seededNormal(seed);
	let uniform = seededUniform(seed + 7919);
	const seasonLength = SEASON_LENGTHS[seed % SEASON_LENGTHS.length]!;
	const least = Math.max(12, 2 * seasonLength + 2);
	const periods = least + Math.floor(uniform() * uniform() * (400 - least));
	const kind = Math.floor(uniform() * 8);
	const base = 20 * 10 ** (2 * uniform());
	const noise = base * [0.02, 0.08, 0.25][Math.floor(uniform() * 3)]!;
	const slope = kind % 2 === 1 ? base * 0.01 * normal() : 0;
	const wander = kind >= 4 ? noise * 0.5 * uniform() : 0;
	const turn = kind === 6 ? base * 0.003 : 0;
	const stepAt = kind === 3 ? Math.floor(periods * uniform()) : -1;
	const multiplies = uniform() < 0.5;
	const season = Array.from({ length: seasonLength }, (_, j) =>
		seasonLength > 1
			? 0.35 * Math.sin((2 * Math.PI * j) / seasonLength) * (0.3 + uniform()) + 0.05 * normal()
			: 0,
	);
	let level = base;
	let trend = slope;
	const values = Array.from({ length: periods }, (_, t) => {
		if (future && t === periods - future.periods) {
			normal = seededNormal(1e6 * future.seed + seed);
			uniform = seededUniform(1e6 * future.seed + seed + 7919);
		}
		trend += turn * normal();
		// Demand that falls levels off before it ends.
		level = Math.max(0.4 * base, level + trend + wander * normal());
		if (t === stepAt) level *= 1.5;
		if (kind === 7) season[t % seasonLength]! += 0.03 * normal();
		const own = season[t % seasonLength]!;
		const spike = kind === 2 && uniform() < 0.1 ? 2 : 1;
		const outlier = uniform() < 0.03 ? 5 : 1;
		const bare = multiplies ? level * (1 + own) : level + base * own;
		const value = bare * spike + noise * (grows ? Math.max(0.2, bare / base) : 1) * outlier * normal();
		return Math.max(0.1 * base, Math.round(10 * value) / 10);
	});
	return { values, seasonLength };
}
