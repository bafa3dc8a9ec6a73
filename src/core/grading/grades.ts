import normalQuantile from '@stdlib/stats-base-dists-normal-quantile';
import { type Alarm, ALARM_LIMIT, alarmOf, alarmRatios } from '../accuracy/alarm';
import { measure, type Measures, type Yardstick } from '../accuracy/measures';
import { trackSignal, type Tracking } from '../accuracy/tracking';
import { holds } from '../ranges/holds';
import type { Ordinal } from '../series/period';

/** What a record says of one period. */
export interface SaidStep {
	step: number;
	period: Ordinal;
	/** As computed. */
	mean: number;
	/** As handed over: changed by hand, rounded. */
	final: number;
	/** [low, high] about the computed figure by level; null where nothing was known of the errors. */
	ranges: Readonly<Record<string, readonly [number, number] | null>>;
	/** Root mean square error that was expected; null where that was not kept. */
	spread: number | null;
	/** What repeating the last actual, and the last cycle, said from the same origin. */
	naive: number | null;
	seasonalNaive: number | null;
}

/** An adopted forecast, as it is held against what came. */
export interface Said {
	/** Ids grow in the order of adopting. */
	id: number;
	/** The record that it was carried on from. */
	carriedFrom: number | null;
	/** The newest change of the item's actuals that it saw. */
	saw: number;
	/** Mean size of the one-step errors of its trial over their root mean square; null without a trial. */
	size: number | null;
	steps: readonly SaidStep[];
}

/** What came in for a period. */
export interface Came {
	period: Ordinal;
	/** As it stands now, corrections in. */
	value: number;
	/** The change by which it first came in. */
	change: number;
	/** Left out by hand: shown, not scored. */
	leftOut: boolean;
}

/** How a period was foretold, and what came. */
export interface Grade extends SaidStep {
	/** The record in force, and the run that it belongs to. */
	record: number;
	run: number;
	actual: number;
	/** Actual less the computed figure, and less the one that was handed over. */
	error: number;
	finalError: number;
	/** The narrowest level whose range held the actual; null where none did. */
	inside: number | null;
	/** Whether there was a range at all. */
	ranged: boolean;
	scored: boolean;
}

/** By id of a record, the id of the first one of its run: records that were carried on from one another. */
export function runsOf(records: readonly Pick<Said, 'id' | 'carriedFrom'>[]): Map<number, number> {
	const runs = new Map<number, number>();
	for (const { id, carriedFrom } of [...records].sort((a, b) => a.id - b.id))
		runs.set(id, carriedFrom === null ? id : (runs.get(carriedFrom) ?? carriedFrom));
	return runs;
}

/**
 * Grades of what was adopted: each period that came in is held against the forecast in force then, the newest record with a
 * step for it that was adopted before its first actual came in. The order in which either is listed does not matter.
 * @returns grades in order of time
 */
export function gradesOf(records: readonly Said[], came: readonly Came[]): Grade[] {
	const runs = runsOf(records);
	const inForce = new Map<Ordinal, { record: Said; step: SaidStep }>();
	const arrived = new Map(came.map((each) => [each.period, each]));
	for (const record of [...records].sort((a, b) => a.id - b.id)) {
		for (const step of record.steps) {
			const actual = arrived.get(step.period);
			if (actual && record.saw < actual.change) inForce.set(step.period, { record, step });
		}
	}
	return [...inForce]
		.sort(([a], [b]) => a - b)
		.map(([period, { record, step }]): Grade => {
			const { value: actual, leftOut } = arrived.get(period)!;
			return {
				...step,
				record: record.id,
				run: runs.get(record.id)!,
				actual,
				error: actual - step.mean,
				finalError: actual - step.final,
				inside: narrowestAround(actual, step.ranges),
				ranged: Object.values(step.ranges).some((range) => range !== null),
				scored: !leftOut,
			};
		});
}

function narrowestAround(actual: number, ranges: SaidStep['ranges']): number | null {
	const holding = Object.entries(ranges).flatMap(([level, range]) =>
		range && holds(range, actual) ? [Number(level)] : [],
	);
	return holding.length > 0 ? Math.min(...holding) : null;
}

/** How many actuals lay inside a range that was given, of those for which one was. */
export interface InsideCount {
	level: number;
	inside: number;
	of: number;
}

/** What grades come to together. */
export interface Score {
	/** Of the computed figures and of those handed over; `relativeMae` is against repeating the last actual from the same origin. */
	computed: Measures;
	final: Measures;
	inside: InsideCount[];
	/** Computed against repeating the last cycle from the same origin; null where that was not known or never missed. */
	againstSeasonal: number | null;
	/** MAD of the computed less that of the final figures: above 0 where changes and rounding by hand brought it closer. */
	added: number | null;
	/** The same, over the periods alone whose figure was changed, and how many those are. */
	changed: { count: number; added: number | null };
}

export const scoredOf = (grades: readonly Grade[]) => grades.filter((grade) => grade.scored);

/** Grades that count, with what they compare as lists. */
function listsOf(grades: readonly Grade[]) {
	const scored = scoredOf(grades);
	const list = (pick: (grade: Grade) => number | null) =>
		Float64Array.from(scored, (grade) => pick(grade) ?? NaN);
	return {
		scored,
		positions: Int32Array.from(scored, (_, i) => i),
		actual: list(({ actual }) => actual),
		mean: list(({ mean }) => mean),
		final: list(({ final }) => final),
		naive: list(({ naive }) => naive),
		seasonal: list(({ seasonalNaive }) => seasonalNaive),
	};
}

/**
 * What grades come to: of a run, of all, or of the last few.
 * @param scaledBy what `mase` is scaled by; left out where it is not asked for
 */
export function scoreOf(
	grades: readonly Grade[],
	scaledBy: Pick<Yardstick, 'change' | 'lag'> = { change: NaN, lag: 1 },
): Score {
	const { scored, positions, actual, mean, final, naive, seasonal } = listsOf(grades);
	const against = (yardstick: Float64Array, figures: Float64Array) =>
		measure(actual, figures, positions, { naive: yardstick, ...scaledBy });
	const computed = against(naive, mean);
	const handedOver = against(naive, final);
	const changed = scored.filter((grade) => grade.final !== grade.mean);
	return {
		computed,
		final: handedOver,
		inside: insideCounts(scored),
		againstSeasonal: against(seasonal, mean).relativeMae,
		added: computed.mad === null || handedOver.mad === null ? null : computed.mad - handedOver.mad,
		changed: {
			count: changed.length,
			added:
				changed.length === 0
					? null
					: changed.reduce((sum, { error, finalError }) => sum + Math.abs(error) - Math.abs(finalError), 0) /
						changed.length,
		},
	};
}

/** By level, the narrowest first, how many actuals lay inside the ranges that were given. @param scored grades that count */
export function insideCounts(scored: readonly Grade[]): InsideCount[] {
	const counts = new Map<string, InsideCount>();
	for (const { ranges, actual } of scored) {
		for (const [level, range] of Object.entries(ranges)) {
			if (!range) continue;
			const count = counts.get(level) ?? { level: Number(level), inside: 0, of: 0 };
			count.of++;
			if (holds(range, actual)) count.inside++;
			counts.set(level, count);
		}
	}
	return [...counts.values()].sort((a, b) => a.level - b.level);
}

/** Errors of the computed figures, their running sum and mean size after each grade that counts. */
export function trackingOf(grades: readonly Grade[]): Tracking {
	const { actual, mean, positions } = listsOf(grades);
	return trackSignal(actual, mean, positions, { kind: 'running' });
}

/** An error of so many times what was expected counts as no more: one outlier period is outside its range, and no drift. */
const OUTLIER = 3;

/**
 * The alarm over grades of one run, in order: each error as a share of what was expected of its own step.
 * @param size of the run's first record
 * @returns `since` as a place among the grades that count, from 1
 */
export function alarmOfGrades(grades: readonly Grade[], size: number | null, limit = ALARM_LIMIT): Alarm {
	const { errors, from } = surprises(grades, size);
	return alarmOf(
		Int32Array.from(errors, (_, i) => i),
		errors,
		from,
		limit,
	);
}

/**
 * The place (from 0, among the grades that count) from which errors have leaned to the side that they lean to now: where their
 * smoothed sum last turned.
 */
export function leaningFrom(grades: readonly Grade[], size: number | null): number {
	const { errors, from } = surprises(grades, size);
	const ratios = alarmRatios(errors, from);
	const now = Math.sign(ratios.at(-1) ?? 0);
	return ratios.findLastIndex((ratio) => Math.sign(ratio) !== now) + 1;
}

/** Errors as shares of what was expected of each, and the mean size that they begin from. */
function surprises(
	grades: readonly Grade[],
	size: number | null,
): { errors: Float64Array; from: number | null } {
	const scored = scoredOf(grades);
	const spreads = scored.map(spreadOf);
	// Where one is not known, all count by what was missed so far.
	const known = spreads.every((spread) => spread !== null && spread > 0);
	const errors = Float64Array.from(scored, ({ error }, i) => {
		const share = error / spreads[i]!;
		return known ? Math.sign(share) * Math.min(OUTLIER, Math.abs(share)) : error;
	});
	return { errors, from: known ? size : null };
}

/** The error that was expected of a step: as it was kept, or from the widest range that there is, taken as normal. */
function spreadOf({ spread, ranges }: SaidStep): number | null {
	if (spread !== null) return spread;
	const widest = Object.entries(ranges).reduce<{ level: number; half: number } | null>(
		(before, [level, range]) =>
			range && Number(level) > (before?.level ?? 0)
				? { level: Number(level), half: (range[1] - range[0]) / 2 }
				: before,
		null,
	);
	return widest && widest.half / normalQuantile((1 + widest.level) / 2, 0, 1);
}
