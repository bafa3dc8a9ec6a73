import { seasonAt, type Series } from '../../series/series';
import { CannotRun, tooFew } from '../../contract/method';
import type { CandidateInput, Constant, Start, StartRule } from '../../contract/candidate';
import type { Model, Parameter, Run } from '../../contract/model';
import {
	addedPass,
	addedTrendPass,
	levelPass,
	multipliedPass,
	multipliedTrendPass,
	trendPass,
} from './passes';
import { recordPass } from './record';
import { type Entrance, derivativePasses } from './derivatives';
import { startOf } from './starts';
import type { Begun, Family, Weights } from './structure';

/** What a member brings along to be bound. */
export interface Member {
	readonly name: string;
	readonly family: Family;
	readonly constants: readonly Constant[];
	readonly fallbackStart: StartRule;
}

const STILL: Weights = { alpha: 0, beta: 0, gamma: 0, phi: 0 };

/**
 * Binds a member of the smoothing family to a series.
 * @throws CannotRun where start, season or figures do not allow it
 */
export function smoothingModel(series: Series, candidate: CandidateInput, member: Member): Model {
	const { name, family, constants } = member;
	const { values } = series;
	const n = values.length;
	refuseSeason(series, member);
	const begun = startOf(series, candidate.start ?? { rule: member.fallbackStart }, family, name);
	const { at } = begun;
	if (at >= n) {
		throw tooFew(
			name,
			at + 1,
			n,
			`periods with this start, which stands at the end of period ${at}`,
			'Start earlier.',
		);
	}

	const length = family.season === 'none' ? 0 : series.seasonLength;
	const first = length > 0 ? seasonAt(series, at + 1) - 1 : 0;
	const parameters: Parameter[] = constants.map(({ key, searched, fallback }) => ({
		key,
		role: 'constant',
		bounds: searched,
		fallback,
		linear: false,
	}));
	const startsAt = parameters.length;
	if (begun.rule === 'optimised') parameters.push(...startParameters(begun, family, values));
	const place = (key: string) => parameters.findIndex((parameter) => parameter.key === key);
	const places = { level: place('level'), trend: place('trend'), season: place('season 1') };

	const weightsOf = (chosen: Float64Array): Weights => weightsFrom(family, constants, chosen);
	const season = new Float64Array(length);
	const ruled = Float64Array.from(begun.season ?? []);
	/** Start values for these parameters; the seasons go to `season`. */
	const begin = (chosen: Float64Array): Begun => {
		const searched = places.level >= 0;
		if (length > 0) {
			if (searched) {
				// The last season follows from the sum of all.
				let rest = family.season === 'multiplicative' ? length : 0;
				for (let j = 0; j < length - 1; j++) {
					season[j] = chosen[places.season + j]!;
					rest -= season[j]!;
				}
				season[length - 1] = rest;
			} else season.set(ruled);
		}
		const trend = places.trend >= 0 ? chosen[places.trend]! : (begun.trend ?? 0);
		return { at, level: searched ? chosen[places.level]! : begun.level, trend, season, first };
	};
	const withDerivatives = derivativePasses(family, values, length);
	/** The effect of one parameter, at a value, on constants and start. */
	const entranceOf = (index: number, value: number): Entrance => {
		const weights = index < startsAt ? weightSlopes(family, constants[index]!.key, value) : STILL;
		let seasonSlopes: Float64Array | null = null;
		if (places.season >= 0 && index >= places.season) {
			seasonSlopes = new Float64Array(length);
			seasonSlopes[index - places.season] = 1;
			seasonSlopes[length - 1] = -1;
		}
		return {
			weights,
			level: index === places.level ? 1 : 0,
			trend: index === places.trend ? 1 : 0,
			season: seasonSlopes,
		};
	};

	/** Where every constant is a weight itself, the same wherever it stands. */
	const entered: Entrance[] = [];

	return {
		firstFitted: at + 1,
		parameters,
		pass(chosen, fitted) {
			const { alpha, beta, gamma, phi } = weightsOf(chosen);
			const { level, trend } = begin(chosen);
			fitted.fill(NaN, 0, at);
			if (family.season === 'none') {
				if (family.trend === 'none') levelPass(values, at, level, alpha, fitted);
				else trendPass(values, at, level, trend, alpha, beta, phi, fitted);
			} else if (family.season === 'additive') {
				if (family.trend === 'none') addedPass(values, at, level, season, first, alpha, gamma, fitted);
				else addedTrendPass(values, at, level, trend, season, first, alpha, beta, gamma, phi, fitted);
			} else if (family.trend === 'none')
				multipliedPass(values, at, level, season, first, alpha, gamma, fitted);
			else multipliedTrendPass(values, at, level, trend, season, first, alpha, beta, gamma, phi, fitted);
		},
		derivatives(chosen, wanted, fitted, derivatives) {
			const entrances = wanted.map((index) =>
				family.single ? entranceOf(index, chosen[index]!) : (entered[index] ??= entranceOf(index, 0)),
			);
			fitted.fill(NaN, 0, at);
			for (let j = 0; j < wanted.length; j++) derivatives.fill(0, j * n, j * n + at);
			withDerivatives(begin(chosen), weightsOf(chosen), entrances, fitted, derivatives);
		},
		run: (chosen) => runOf(series, family, begun, weightsOf(chosen), begin(chosen), chosen),
	};
}

/** Refuses what a season cannot be asked of. */
function refuseSeason(series: Series, { name, family }: Member): void {
	if (family.season === 'none') return;
	if (series.seasonLength < 2) {
		throw new CannotRun({
			code: 'no-season',
			text: `${name} smooths seasons, and this series has none: its season length is ${series.seasonLength}. Set the season length, or take a method without a season.`,
			figures: { needs: 2, has: series.seasonLength },
		});
	}
	if (family.season === 'additive') return;
	const at = series.values.findIndex((value) => value <= 0);
	if (at < 0) return;
	const count = series.values.filter((value) => value <= 0).length;
	throw new CannotRun({
		code: 'multiplicative-needs-positive',
		text: `A multiplicative season needs figures above 0; ${count} of ${series.values.length} are not, first at position ${at + 1}. Take an additive season, or leave those periods out.`,
		figures: { count, first: at + 1 },
	});
}

/** Start values as parameters of a search; of P seasons one follows from the sum of the others. */
function startParameters(begun: Start, family: Family, values: Float64Array): Parameter[] {
	const anywhere = [-Infinity, Infinity] as const;
	const linear = family.season !== 'multiplicative';
	const start = (key: string, fallback: number, bounds: readonly [number, number]): Parameter => ({
		key,
		role: 'start',
		bounds,
		fallback,
		linear,
	});
	// A level of nothing has no seasons to multiply.
	const positive = [1e-3, begun.season?.length ?? 1] as const;
	const least = Math.max(1e-9, 1e-3 * values.reduce((a, b) => (b > 0 ? Math.min(a, b) : a), Infinity));
	return [
		start('level', begun.level, linear ? anywhere : [least, Infinity]),
		...(family.trend === 'none' ? [] : [start('trend', begun.trend!, anywhere)]),
		...(begun.season ?? [])
			.slice(0, -1)
			.map((value, j) => start(`season ${j + 1}`, value, linear ? anywhere : positive)),
	];
}

function weightsFrom(family: Family, constants: readonly Constant[], chosen: Float64Array): Weights {
	if (family.single) {
		const a = chosen[0]!;
		return { alpha: a * (2 - a), beta: a / (2 - a), gamma: 0, phi: 1 };
	}
	let [alpha, beta, gamma, phi] = [0, 0, 0, 1];
	for (let i = 0; i < constants.length; i++) {
		const { key } = constants[i]!;
		if (key === 'alpha') alpha = chosen[i]!;
		else if (key === 'beta') beta = chosen[i]!;
		else if (key === 'gamma') gamma = chosen[i]!;
		else phi = chosen[i]!;
	}
	return { alpha, beta, gamma, phi };
}

/** How the weights change with one constant. */
function weightSlopes(family: Family, key: Constant['key'], value: number): Weights {
	if (family.single) return { ...STILL, alpha: 2 - 2 * value, beta: 2 / (2 - value) ** 2 };
	return { ...STILL, [key]: 1 };
}

function runOf(
	series: Series,
	family: Family,
	asked: Start,
	weights: Weights,
	begun: Begun,
	chosen: Float64Array,
): Run {
	const { alpha, beta, gamma, phi } = weights;
	const n = series.values.length;
	const { fitted, level, trend, season } = recordPass(family, series.values, begun, weights);
	const { at } = begun;
	const lost = fitted.findIndex((value, i) => i >= at && !Number.isFinite(value + level[i]!));
	if (lost >= 0) {
		throw new CannotRun({
			code: 'ran-away',
			text: `With these constants the recursion runs away: from period ${lost + 1} on there is no figure any more. Take smaller constants, another start, or an additive season.`,
			figures: { from: lost + 1 },
		});
	}
	const length = begun.season.length;
	const startSeason = begun.season.slice();
	const start: Start = { rule: asked.rule, at, level: begun.level };
	if (family.trend !== 'none') start.trend = begun.trend;
	if (length > 0) start.season = [...startSeason];

	const forecast = (origin: number, out: Float64Array): void => {
		const from = origin === at ? begun.level : (level[origin - 1] ?? NaN);
		const slope = origin === at ? begun.trend : (trend[origin - 1] ?? NaN);
		let faded = phi;
		let carried = family.trend === 'none' ? 0 : phi * slope;
		for (let h = 1; h <= out.length; h++) {
			let value = from + carried;
			if (length > 0) {
				// The same season in the latest cycle that the origin knows.
				const known = origin + h - length * Math.ceil(h / length);
				const own =
					known > at ? season[known - 1]! : startSeason[(begun.first + origin + h - 1 - at) % length]!;
				value = family.season === 'additive' ? value + own : value * own;
			}
			out[h - 1] = value;
			faded *= phi;
			if (family.trend !== 'none') carried += faded * slope;
		}
	};

	const states: Record<string, Float64Array> = { level };
	if (family.trend !== 'none') states.trend = trend;
	if (length > 0) states.season = season;
	if (family.single) Object.assign(states, smoothedTwice(chosen[0]!, level, trend));
	const run: Run = { fitted, start, states, forecast };
	const last = trend[n - 1]!;
	if (family.season === 'multiplicative') return { ...run, slope: last };
	return {
		...run,
		...(family.trend !== 'none' && { slope: last }),
		...spreadOf(family, alpha, beta, gamma, phi, length),
	};
}

/** S′ and S″ of double smoothing with one constant a, from level 2S′ − S″ and trend a/(1 − a)·(S′ − S″). */
function smoothedTwice(a: number, level: Float64Array, trend: Float64Array): Record<string, Float64Array> {
	const apart = trend.map((value) => (value === 0 ? 0 : (value * (1 - a)) / a));
	return {
		smoothed1: level.map((value, i) => value - apart[i]!),
		smoothed2: level.map((value, i) => value - 2 * apart[i]!),
	};
}

/**
 * How the one-step deviation grows with the step, √(1 + Σ c_i²) over i < h, and with the number of periods that are summed,
 * √(Σ_j (1 + Σ c_i)²) over i ≤ L − j (Hyndman, Koehler, Ord & Snyder 2008).
 */
function spreadOf(
	family: Family,
	alpha: number,
	beta: number,
	gamma: number,
	phi: number,
	length: number,
): Required<Pick<Run, 'spread' | 'spreadOfSum'>> {
	const single = [1];
	const summed = [1];
	let [squares, sum, squaresOfSums] = [1, 1, 1];
	let faded = phi;
	let carried = phi;
	const reach = (step: number) => {
		while (single.length < step) {
			const i = single.length;
			const trend = family.trend === 'none' ? 0 : beta * carried;
			const weight = alpha * (1 + trend) + (length > 0 && i % length === 0 ? gamma * (1 - alpha) : 0);
			squares += weight * weight;
			single.push(Math.sqrt(squares));
			sum += weight;
			squaresOfSums += sum * sum;
			summed.push(Math.sqrt(squaresOfSums));
			faded *= phi;
			carried += faded;
		}
	};
	return {
		spread: (step) => (reach(step), single[step - 1]!),
		spreadOfSum: (steps) => (reach(steps), summed[steps - 1]!),
	};
}
