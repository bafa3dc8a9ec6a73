import { ALARM_LIMIT, biasedSide, chanceOfAlarm } from '../accuracy/alarm';
import { isClear, type PairedLead } from '../accuracy/lead';
import { leadFrom } from '../accuracy/paired';
import { ALARM_SPAN, type Reason, REASONS } from './reasons';
import { chanceOfAtMost } from '../numbers/binomial';
import type { Ordinal } from '../series/period';
import {
	alarmOfGrades,
	type Came,
	type Grade,
	gradesOf,
	insideCounts,
	scoredOf,
	leaningFrom,
	runsOf,
	type Said,
} from './grades';

/** Grades before anything is said of how a forecast does on the whole. */
const LEAST_GRADES = 8;
/** A share inside a range is said to be off where its promise would show so few with a smaller chance. */
const RANGES_OFF = 0.01;

/** What status is calculated from. */
export interface Watched {
	records: readonly Said[];
	/** What came in, in order of time. */
	came: readonly Came[];
	/** Periods ahead that must be forecast at any time; null for one. */
	leadTime: number | null;
	/** Limit of the alarm. */
	limit?: number;
}

/** How an item's adopted forecast stands. */
export interface Status {
	/** Last period that is in; null where none is. */
	last: Ordinal | null;
	/** Grades of the newest record's run, in order of time. */
	grades: Grade[];
	reasons: Reason[];
}

/**
 * How an item stands, from its records and what came in alone. What rests on other items too, `not-in`, is added by
 * `whyNotIn`.
 */
export function statusOf({ records, came, leadTime, limit = ALARM_LIMIT }: Watched): Status {
	const last = came.at(-1)?.period ?? null;
	const newest = records.reduce<Said | null>((a, b) => (a && a.id > b.id ? a : b), null);
	// What is unplanned where there is no forecast: as much as came of late.
	const usual = meanSize(came.slice(-12).map(({ value }) => value));
	if (!newest) return { last, grades: [], reasons: [{ code: 'no-forecast', stake: usual }] };
	const all = gradesOf(records, came);
	const first = runsOf(records).get(newest.id)!;
	const run = all.filter((grade) => grade.run === first);
	const size = records.find(({ id }) => id === first)?.size ?? null;
	const scored = run.filter((grade) => grade.scored);
	const reasons = [
		whyRanOut(newest, last, leadTime ?? 1, usual),
		whyOutside(all.at(-1), last),
		whyDrifts(scored, size, limit),
		whyWorse(scored),
		whyRangesOff(scored),
	].filter((reason) => reason !== null);
	return { last, grades: run, reasons };
}

const meanSize = (values: readonly number[]) =>
	values.reduce((sum, value) => sum + Math.abs(value), 0) / Math.max(1, values.length);

function whyRanOut(newest: Said, last: Ordinal | null, needed: number, usual: number): Reason | null {
	const until = newest.steps.at(-1)!.period;
	if (last === null) return null;
	const left = Math.max(0, until - last);
	return left >= needed ? null : { code: 'ran-out', stake: usual, until, left, needed };
}

/** The newest actual, where the widest range that was kept did not hold it. */
function whyOutside(grade: Grade | undefined, last: Ordinal | null): Reason | null {
	if (!grade || !grade.scored || !grade.ranged || grade.period !== last || grade.inside !== null) return null;
	const level = Math.max(
		...Object.entries(grade.ranges).flatMap(([level, range]) => (range ? [Number(level)] : [])),
	);
	const range = grade.ranges[String(level)]!;
	const { period, actual, error } = grade;
	const by = actual > range[1] ? actual - range[1] : actual - range[0];
	return { code: 'outside', stake: Math.abs(error), period, actual, by, level, chance: 1 - level };
}

function whyDrifts(scored: readonly Grade[], size: number | null, limit: number): Reason | null {
	const alarm = alarmOfGrades(scored, size, limit);
	const side = biasedSide(alarm);
	if (side === null) return null;
	const since = alarm.since! - 1;
	const from = leaningFrom(scored, size);
	const leaning = scored.slice(from);
	const off = leaning.reduce((sum, { error }) => sum + error, 0) / leaning.length;
	return {
		code: 'drifts',
		stake: Math.abs(off),
		side,
		since: scored[since]!.period,
		from: scored[from]!.period,
		off,
		periods: periodsBetween(chanceOfAlarm(ALARM_SPAN, Math.abs(alarm.ratio!)), ALARM_SPAN),
	};
}

/** Once in how many periods something happens that has a chance within a span of them. */
const periodsBetween = (chance: number, span: number) => span / -Math.log1p(-chance);

function whyWorse(scored: readonly Grade[]): Reason | null {
	const lead = leadOverNaive(scored);
	if (!lead || lead.count < LEAST_GRADES || !(lead.lead < 0) || !isClear(lead)) return null;
	return { code: 'worse-than-naive', stake: -lead.lead, grades: lead.count, by: -lead.lead };
}

/** The range that held the least of what it promised, where it held too little of it: too wide ranges flag nothing. */
function whyRangesOff(scored: readonly Grade[]): Reason | null {
	const size = meanSize(scored.map(({ error }) => error));
	return (
		insideCounts(scored)
			.filter(({ of }) => of >= LEAST_GRADES)
			.map(({ level, inside, of }) => ({ level, inside, of, chance: chanceOfAtMost(inside, of, level) }))
			.filter(({ chance }) => chance < RANGES_OFF)
			.sort((a, b) => a.chance - b.chance)
			.map((off): Reason => ({ code: 'ranges-off', stake: size, ...off }))
			.at(0) ?? null
	);
}

/** How many items of a frequency end with each period. */
export interface Ends {
	last: Ordinal;
	items: number;
}

/** The newest period that half or more of the items of a frequency have, and how many have it; null where there are none. */
export function newestPeriod(ends: readonly Ends[]): { period: Ordinal; have: number; items: number } | null {
	const items = ends.reduce((sum, each) => sum + each.items, 0);
	let have = 0;
	for (const { last, items: ending } of [...ends].sort((a, b) => b.last - a.last)) {
		have += ending;
		if (2 * have >= items) return { period: last, have, items };
	}
	return null;
}

/** Why an item waits for a figure that most of its frequency have. */
export const whyNotIn = (
	last: Ordinal | null,
	newest: ReturnType<typeof newestPeriod>,
	stake: number,
): Reason | null =>
	!newest || last === null || last >= newest.period
		? null
		: { code: 'not-in', stake, last, newest: newest.period, have: newest.have, items: newest.items };

/** Reasons in the order of their weight. */
export const weighed = (reasons: readonly Reason[]): Reason[] =>
	reasons.toSorted((a, b) => REASONS.indexOf(a.code) - REASONS.indexOf(b.code));

/** How much closer the computed figures came than repeating the last actual from the same origins; null where nothing is told. */
function leadOverNaive(grades: readonly Grade[]): PairedLead | null {
	const both = scoredOf(grades).filter(({ naive }) => naive !== null);
	const differences = Float64Array.from(
		both,
		({ actual, naive, error }) => Math.abs(actual - naive!) - Math.abs(error),
	);
	const errors = both.reduce(
		(sum, { actual, naive, error }) => sum + Math.abs(actual - naive!) + Math.abs(error),
		0,
	);
	return leadFrom(differences, errors);
}
