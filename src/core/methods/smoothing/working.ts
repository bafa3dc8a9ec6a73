import type { Expression } from '../../contract/working';
import { figure, minus, over, plus, times } from '../../working/expression';
import { takenOver } from '../flat';
import type { Recorded, Working, WorkingColumn } from '../../contract/working';
import type { Family } from './structure';

const SUPPOSED = 'no actual';

/** The parts that a member's working is put together from. */
function partsOf({ trend, season }: Family) {
	const damped = trend === 'damped';
	const before = stateReader();
	const phiOf = (recorded: Recorded) => (damped ? recorded.constant('phi') : 1);
	/** φ·b_{t−1}, or b_{t−1} where nothing is damped. */
	const carried = (recorded: Recorded, t: number): Expression =>
		damped
			? times(figure(phiOf(recorded)), figure(before.trend(recorded, t)!))
			: figure(before.trend(recorded, t)!);
	return {
		damped,
		before,
		phiOf,
		carried,
		/** ℓ_{t−1} + φ·b_{t−1}. */
		step: (recorded: Recorded, t: number): Expression =>
			trend === 'none'
				? figure(before.level(recorded, t)!)
				: plus(figure(before.level(recorded, t)!), carried(recorded, t)),
		withSeason: (expression: Expression, own: number): Expression =>
			season === 'additive' ? plus(expression, figure(own)) : times(expression, figure(own)),
		withoutSeason: (value: number, own: number): Expression =>
			season === 'additive' ? minus(figure(value), figure(own)) : over(figure(value), figure(own)),
		known: (recorded: Recorded, t: number) => before.level(recorded, t) !== null,
		/** As equations write φ·b_{t−1}, and the level with it. */
		B: damped ? 'φ·bₜ₋₁' : 'bₜ₋₁',
		P: trend === 'none' ? 'ℓₜ₋₁' : `(ℓₜ₋₁ + ${damped ? 'φ·bₜ₋₁' : 'bₜ₋₁'})`,
	};
}
type Parts = ReturnType<typeof partsOf>;

/** The working of a member: its equations with the parts it has, spelled out from the recorded states. */
export function smoothingWorking(family: Family): Working {
	const { trend, season, single } = family;
	const parts = partsOf(family);
	return {
		forecast: forecastColumn(family, parts),
		states: [
			...(single ? SMOOTHED_TWICE : []),
			single ? levelOfTwice(parts) : levelColumn(family, parts),
			...(trend === 'none' ? [] : [single ? trendOfTwice(parts) : trendColumn(parts)]),
			...(season === 'none' ? [] : [seasonColumn(family, parts)]),
		],
		...aheadOf(family, parts),
	};
}

const forecastColumn = (
	{ trend, season }: Family,
	{ before, step, withSeason, known, B, P }: Parts,
): WorkingColumn => ({
	key: 'fitted',
	name: 'Forecast',
	equation:
		season === 'multiplicative'
			? `fₜ = ${P}·sₜ₋ₚ`
			: `fₜ = ℓₜ₋₁${trend === 'none' ? '' : ` + ${B}`}${season === 'additive' ? ' + sₜ₋ₚ' : ''}`,
	explain(recorded, t) {
		if (!known(recorded, t)) return null;
		const isStart = before.isStart(recorded, t);
		if (trend === 'none' && season === 'none')
			return takenOver(before.level(recorded, t), isStart ? 'the start' : 'the level of the period before');
		const base = step(recorded, t);
		return {
			expression: season === 'none' ? base : withSeason(base, before.season(recorded, t)),
			...(isStart && { remark: 'from the start' }),
		};
	},
});

function levelColumn(
	{ trend, season }: Family,
	{ before, step, withoutSeason, known, P }: Parts,
): WorkingColumn {
	const bare = season === 'none' ? 'yₜ' : season === 'additive' ? '(yₜ − sₜ₋ₚ)' : '(yₜ ÷ sₜ₋ₚ)';
	return {
		key: 'level',
		name: 'Level',
		equation: `ℓₜ = α·${bare} + (1 − α)·${P}`,
		explain(recorded, t) {
			if (!known(recorded, t)) return null;
			const value = recorded.value(t);
			if (value === null) {
				return trend === 'none'
					? takenOver(before.level(recorded, t), `${SUPPOSED}: the level stays`)
					: { expression: step(recorded, t), remark: `${SUPPOSED}: the level goes on by the trend` };
			}
			const alpha = recorded.constant('alpha');
			const news = season === 'none' ? figure(value) : withoutSeason(value, before.season(recorded, t));
			return {
				expression: plus(times(figure(alpha), news), times(figure(1 - alpha), step(recorded, t))),
			};
		},
	};
}

/** S′ and S″ of a period of double smoothing with one constant; null where they are not kept, or α is 0. */
function smoothedTwice(recorded: Recorded, t: number): [number, number] | null {
	const [one, two] = [recorded.state('smoothed1', t), recorded.state('smoothed2', t)];
	return one === null || two === null || recorded.constant('alpha') === 0 ? null : [one, two];
}

const levelOfTwice = ({ step, known }: Parts): WorkingColumn => ({
	key: 'level',
	name: 'Level',
	equation: 'ℓₜ = 2·S′ₜ − S″ₜ',
	explain(recorded, t) {
		if (!known(recorded, t)) return null;
		const twice = smoothedTwice(recorded, t);
		return twice
			? { expression: minus(times(figure(2), figure(twice[0])), figure(twice[1])) }
			: { expression: step(recorded, t), remark: 'at α = 0 the level goes on by the trend' };
	},
});

/** ℓ_t − ℓ_{t−1}. */
const changeOf = (recorded: Recorded, t: number, before: Parts['before']): Expression =>
	minus(figure(recorded.state('level', t)!), figure(before.level(recorded, t)!));

/** The trend of a period without an actual. */
const trendGoesOn = (recorded: Recorded, t: number, { damped, before, carried }: Parts) =>
	damped
		? { expression: carried(recorded, t), remark: `${SUPPOSED}: the trend fades` }
		: takenOver(before.trend(recorded, t), `${SUPPOSED}: the trend stays`);

const trendColumn = (parts: Parts): WorkingColumn => ({
	key: 'trend',
	name: 'Trend',
	equation: `bₜ = β·(ℓₜ − ℓₜ₋₁) + (1 − β)·${parts.B}`,
	places: { more: 1 },
	explain(recorded, t) {
		if (!parts.known(recorded, t)) return null;
		if (recorded.value(t) === null) return trendGoesOn(recorded, t, parts);
		const beta = recorded.constant('beta');
		const change = changeOf(recorded, t, parts.before);
		return {
			expression: plus(times(figure(beta), change), times(figure(1 - beta), parts.carried(recorded, t))),
		};
	},
});

const trendOfTwice = (parts: Parts): WorkingColumn => ({
	key: 'trend',
	name: 'Trend',
	equation: 'bₜ = α ÷ (1 − α)·(S′ₜ − S″ₜ)',
	places: { more: 1 },
	explain(recorded, t) {
		if (!parts.known(recorded, t)) return null;
		if (recorded.value(t) === null) return trendGoesOn(recorded, t, parts);
		const alpha = recorded.constant('alpha');
		if (alpha === 1)
			return { expression: changeOf(recorded, t, parts.before), remark: 'at α = 1 the last change' };
		const twice = smoothedTwice(recorded, t);
		if (!twice) return takenOver(parts.before.trend(recorded, t), 'at α = 0 the trend stays');
		const share = over(figure(alpha), minus(figure(1), figure(alpha)));
		return { expression: times(share, minus(figure(twice[0]), figure(twice[1]))) };
	},
});

const seasonColumn = ({ season }: Family, { before, known }: Parts): WorkingColumn => ({
	key: 'season',
	name: 'Season',
	equation: `sₜ = γ·(yₜ ${season === 'additive' ? '−' : '÷'} ℓₜ) + (1 − γ)·sₜ₋ₚ`,
	places: season === 'multiplicative' ? { fixed: 4 } : { more: 0 },
	explain(recorded, t) {
		if (!known(recorded, t)) return null;
		const value = recorded.value(t);
		const own = before.season(recorded, t);
		if (value === null) return takenOver(own, `${SUPPOSED}: the season stays`);
		const gamma = recorded.constant('gamma');
		const now = figure(recorded.state('level', t)!);
		const news = season === 'additive' ? minus(figure(value), now) : over(figure(value), now);
		return { expression: plus(times(figure(gamma), news), times(figure(1 - gamma), figure(own))) };
	},
});

/** φ + φ² + … + φʰ, or h where nothing is damped: how many trends a step ahead holds. */
function trendsAhead(steps: number, phi: number): Expression {
	if (phi === 1) return figure(steps);
	if (steps === 1) return figure(phi);
	return over(times(figure(phi), minus(figure(1), figure(phi ** steps))), minus(figure(1), figure(phi)));
}

function aheadOf(
	{ trend, season }: Family,
	{ damped, before, phiOf, withSeason }: Parts,
): Pick<Working, 'ahead' | 'explainAhead'> {
	const base = trend === 'none' ? 'ℓₙ' : `ℓₙ + ${damped ? '(φ + φ² + … + φʰ)' : 'h'}·bₙ`;
	const seasonal = season === 'additive' ? `${base} + s` : `${trend === 'none' ? base : `(${base})`}·s`;
	return {
		ahead: `fₙ₊ₕ = ${season === 'none' ? base : `${seasonal}, s the latest of its season`}`,
		explainAhead(recorded, h) {
			const next = recorded.periods + 1;
			const from = before.level(recorded, next);
			if (from === null) return null;
			if (trend === 'none' && season === 'none')
				return takenOver(from, 'the last level, for every period to come');
			const slope = trend === 'none' ? null : figure(before.trend(recorded, next)!);
			const climb = slope && (h === 1 && !damped ? slope : times(trendsAhead(h, phiOf(recorded)), slope));
			const level = climb ? plus(figure(from), climb) : figure(from);
			if (season === 'none') return { expression: level };
			const length = recorded.seasonLength;
			const t = recorded.periods + h - length * (Math.ceil(h / length) - 1);
			return { expression: withSeason(level, before.season(recorded, t)) };
		},
	};
}

/** S′ and S″ of double smoothing. */
const SMOOTHED_TWICE: readonly WorkingColumn[] = [
	smoothed('smoothed1', 'S′', 'S′ₜ = α·yₜ + (1 − α)·S′ₜ₋₁', (recorded, t) => recorded.value(t)),
	smoothed('smoothed2', 'S″', 'S″ₜ = α·S′ₜ + (1 − α)·S″ₜ₋₁', (recorded, t) => recorded.state('smoothed1', t)),
];

function smoothed(
	key: 'smoothed1' | 'smoothed2',
	name: string,
	equation: string,
	input: (recorded: Recorded, t: number) => number | null,
): WorkingColumn {
	/** As it stood before t; at the start it follows from level and trend. */
	const previous = (recorded: Recorded, t: number): number | null => {
		const { start } = recorded;
		if (!start || t - 1 !== start.at) return recorded.state(key, t - 1);
		const alpha = recorded.constant('alpha');
		const apart = start.trend ? ((start.trend ?? 0) * (1 - alpha)) / alpha : 0;
		return start.level - (key === 'smoothed1' ? 1 : 2) * apart;
	};
	return {
		key,
		name,
		equation,
		explain(recorded, t) {
			const before = previous(recorded, t);
			if (before === null) return null;
			if (recorded.value(t) === null) {
				const trend = t - 1 === recorded.start?.at ? recorded.start.trend : recorded.state('trend', t - 1);
				return {
					expression: plus(figure(before), figure(trend ?? 0)),
					remark: `${SUPPOSED}: both go on by the trend`,
				};
			}
			const alpha = recorded.constant('alpha');
			return {
				expression: plus(
					times(figure(alpha), figure(input(recorded, t)!)),
					times(figure(1 - alpha), figure(before)),
				),
			};
		},
	};
}

/** Level, trend and season as they stood before period t; null before the start. */
function stateReader() {
	const isStart = ({ start }: Recorded, t: number) => start !== null && t - 1 === start.at;
	return {
		isStart,
		level: (recorded: Recorded, t: number): number | null =>
			isStart(recorded, t) ? recorded.start!.level : recorded.state('level', t - 1),
		trend: (recorded: Recorded, t: number): number | null =>
			isStart(recorded, t) ? (recorded.start!.trend ?? 0) : recorded.state('trend', t - 1),
		/** The value of t's season a cycle before; at least the start's. */
		season(recorded: Recorded, t: number): number {
			const length = recorded.seasonLength;
			const start = recorded.start!;
			return t - length > start.at
				? recorded.state('season', t - length)!
				: start.season![recorded.seasonAt(t) - 1]!;
		},
	};
}
