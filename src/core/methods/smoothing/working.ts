import type { Expression } from '../../contract/working';
import { figure, minus, over, plus, times } from '../../working/expression';
import { takenOver } from '../flat';
import type { Recorded, Working, WorkingColumn } from '../../contract/working';
import type { Family } from './structure';

const SUPPOSED = 'no actual';

/** The working of a member: its equations with the parts it has, spelled out from the recorded states. */
export function smoothingWorking(family: Family): Working {
	const { trend, season, single } = family;
	const damped = trend === 'damped';
	const phiOf = (recorded: Recorded) => (damped ? recorded.constant('phi') : 1);
	const before = stateReader();

	/** φ·b_{t−1}, or b_{t−1} where nothing is damped. */
	const carried = (recorded: Recorded, t: number): Expression =>
		damped
			? times(figure(phiOf(recorded)), figure(before.trend(recorded, t)!))
			: figure(before.trend(recorded, t)!);
	/** ℓ_{t−1} + φ·b_{t−1}. */
	const step = (recorded: Recorded, t: number): Expression =>
		trend === 'none'
			? figure(before.level(recorded, t)!)
			: plus(figure(before.level(recorded, t)!), carried(recorded, t));
	const withSeason = (expression: Expression, own: number): Expression =>
		season === 'additive' ? plus(expression, figure(own)) : times(expression, figure(own));
	const known = (recorded: Recorded, t: number) => before.level(recorded, t) !== null;

	const B = damped ? 'φ·bₜ₋₁' : 'bₜ₋₁';
	const P = trend === 'none' ? 'ℓₜ₋₁' : `(ℓₜ₋₁ + ${B})`;
	const BARE = season === 'none' ? 'yₜ' : season === 'additive' ? '(yₜ − sₜ₋ₚ)' : '(yₜ ÷ sₜ₋ₚ)';
	const forecast: WorkingColumn = {
		key: 'fitted',
		name: 'Forecast',
		equation:
			season === 'multiplicative'
				? `fₜ = ${P}·sₜ₋ₚ`
				: `fₜ = ℓₜ₋₁${trend === 'none' ? '' : ` + ${B}`}${season === 'additive' ? ' + sₜ₋ₚ' : ''}`,
		explain(recorded, t) {
			if (!known(recorded, t)) return null;
			const remark = before.isStart(recorded, t) ? { remark: 'from the start' } : {};
			if (season !== 'none') {
				return { expression: withSeason(step(recorded, t), before.season(recorded, t)), ...remark };
			}
			if (trend !== 'none') return { expression: step(recorded, t), ...remark };
			return takenOver(
				before.level(recorded, t),
				before.isStart(recorded, t) ? 'the start' : 'the level of the period before',
			);
		},
	};

	const level: WorkingColumn = {
		key: 'level',
		name: 'Level',
		equation: single ? 'ℓₜ = 2·S′ₜ − S″ₜ' : `ℓₜ = α·${BARE} + (1 − α)·${P}`,
		explain(recorded, t) {
			if (!known(recorded, t)) return null;
			if (single) {
				const [one, two] = [recorded.state('smoothed1', t), recorded.state('smoothed2', t)];
				if (one === null || two === null || recorded.constant('alpha') === 0)
					return { expression: step(recorded, t), remark: 'at α = 0 the level goes on by the trend' };
				return { expression: minus(times(figure(2), figure(one)), figure(two)) };
			}
			const value = recorded.value(t);
			if (value === null) {
				return trend === 'none'
					? takenOver(before.level(recorded, t), `${SUPPOSED}: the level stays`)
					: { expression: step(recorded, t), remark: `${SUPPOSED}: the level goes on by the trend` };
			}
			const alpha = recorded.constant('alpha');
			const own = season === 'none' ? 0 : before.season(recorded, t);
			const bare =
				season === 'none'
					? figure(value)
					: season === 'additive'
						? minus(figure(value), figure(own))
						: over(figure(value), figure(own));
			return {
				expression: plus(times(figure(alpha), bare), times(figure(1 - alpha), step(recorded, t))),
			};
		},
	};

	const slope: WorkingColumn = {
		key: 'trend',
		name: 'Trend',
		equation: single ? 'bₜ = α ÷ (1 − α)·(S′ₜ − S″ₜ)' : `bₜ = β·(ℓₜ − ℓₜ₋₁) + (1 − β)·${B}`,
		places: { more: 1 },
		explain(recorded, t) {
			if (!known(recorded, t)) return null;
			if (recorded.value(t) === null) {
				return damped
					? { expression: carried(recorded, t), remark: `${SUPPOSED}: the trend fades` }
					: takenOver(before.trend(recorded, t), `${SUPPOSED}: the trend stays`);
			}
			const change = minus(figure(recorded.state('level', t)!), figure(before.level(recorded, t)!));
			if (single) {
				const alpha = recorded.constant('alpha');
				const [one, two] = [recorded.state('smoothed1', t), recorded.state('smoothed2', t)];
				if (alpha === 1) return { expression: change, remark: 'at α = 1 the last change' };
				if (one === null || two === null || alpha === 0)
					return takenOver(before.trend(recorded, t), 'at α = 0 the trend stays');
				const share = over(figure(alpha), minus(figure(1), figure(alpha)));
				return { expression: times(share, minus(figure(one), figure(two))) };
			}
			const beta = recorded.constant('beta');
			return {
				expression: plus(times(figure(beta), change), times(figure(1 - beta), carried(recorded, t))),
			};
		},
	};

	const cycle: WorkingColumn = {
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
	};

	const ahead = trend === 'none' ? 'ℓₙ' : `ℓₙ + ${damped ? '(φ + φ² + … + φʰ)' : 'h'}·bₙ`;
	return {
		forecast,
		states: [
			...(single ? SMOOTHED_TWICE : []),
			level,
			...(trend === 'none' ? [] : [slope]),
			...(season === 'none' ? [] : [cycle]),
		],
		ahead: `fₙ₊ₕ = ${
			season === 'none'
				? ahead
				: season === 'additive'
					? `${ahead} + s`
					: trend === 'none'
						? `${ahead}·s`
						: `(${ahead})·s`
		}${season === 'none' ? '' : ', s the latest of its season'}`,
		explainAhead(recorded, h) {
			const next = recorded.periods + 1;
			const from = before.level(recorded, next);
			if (from === null) return null;
			if (trend === 'none' && season === 'none') {
				return takenOver(from, 'the last level, for every period to come');
			}
			const slope = trend === 'none' ? 0 : before.trend(recorded, next)!;
			const base =
				trend === 'none'
					? figure(from)
					: plus(figure(from), h === 1 && !damped ? figure(slope) : times(far(h), figure(slope)));
			function far(steps: number): Expression {
				if (!damped) return figure(steps);
				const phi = phiOf(recorded);
				if (phi === 1) return figure(steps);
				if (steps === 1) return figure(phi);
				// φ + φ² + … + φʰ, added up.
				return over(
					times(figure(phi), minus(figure(1), figure(phi ** steps))),
					minus(figure(1), figure(phi)),
				);
			}
			if (season === 'none') return { expression: base };
			const length = recorded.seasonLength;
			const t = recorded.periods + h - length * (Math.ceil(h / length) - 1);
			return { expression: withSeason(base, before.season(recorded, t)) };
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
