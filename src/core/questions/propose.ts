import * as v from 'valibot';
import { type Diagnosis, diagnose } from '../diagnosis/diagnosis';
import { LEAST_PAIRS, type Loss } from '../accuracy/lead';
import { CannotRun } from '../contract/method';
import type { Note } from '../contract/note';
import { type Candidate, isLent, methodOf } from '../methods/registry';
import { CRITERIA } from '../contract/criteria';
import { orNull } from '../numbers/known';
import { NEWEST_RULE, type RangesAsked } from '../ranges/contract';
import { rangesOf } from '../ranges/ranges';
import { neverBelow } from '../ranges/shown';
import { formatPeriod } from '../series/period';
import { inTotals, prepareSeries, type Series, weightAt } from '../series/series';
import {
	asGoodNote,
	farNote,
	incompleteNote,
	lentNote,
	mixNote,
	naiveNote,
	triedNotes,
	untriedNote,
} from '../words/proposal';
import { rareNote } from '../words/series';
import type { AheadStep, TrialScore } from './answer';
import type { EvaluateMemory } from './evaluate';
import { type Fit, fitCandidate } from './fit';
import { lends, poolOf } from './pool';
import { listIssues, RequestError, RequestSchema } from './request';
import { USUAL_ORIGINS } from './usual';
import {
	askedOf,
	relativeErrorOf,
	heldAt,
	lossBy,
	lossesAt,
	missedBy,
	prefixesOf,
	scoreTrial,
	type Trial,
	trialOfMix,
	trialOf,
} from './trial';

const whole = RequestSchema.pipe[0].entries;
const ProposalSchema = v.strictObject({
	series: whole.series,
	gaps: whole.gaps,
	horizon: whole.horizon,
	levels: whole.levels,
	criterion: v.optional(v.picklist(CRITERIA, `the criterion is one of ${CRITERIA.join(', ')}`), 'mse'),
});
export type ProposalRequest = v.InferInput<typeof ProposalSchema>;

/** One of the methods that were tried. */
export type Tried =
	| {
			candidate: Candidate;
			ok: true;
			constants: Record<string, number>;
			/** `relativeError`: mean absolute error over all steps and origins, over that of the naive forecast at the same ones. */
			trial: TrialScore & { relativeError: number | null };
			/** Of the mix, 0 … 1. */
			share: number;
			notes: Note[];
	  }
	| { candidate: Candidate; ok: false; notes: Note[] };

export interface Proposal {
	diagnosis: Diagnosis;
	/** Best first; what cannot run at the end. */
	tried: Tried[];
	/** Place in `tried` of the one method that is named beside the mix; −1 where none could be tried. */
	single: number;
	/** What is proposed, and the candidates that it is made from: ready for the line-up, and to be adopted. Null where nothing runs. */
	candidate: Candidate | null;
	others: Candidate[];
	ahead: AheadStep[];
	trial: TrialScore | null;
	notes: Note[];
}

/** A mix is not dominated by one that was right by chance: no weight is that of an error below this share of the naive one's. */
const LEAST_RELATIVE_ERROR = 1 / 50;
const POWER = 4;
/** Figures that what lies ahead is held against, where a cycle is shorter. */
const LAST_FIGURES = 4;
/** Shares are counted in parts of this many. */
const PARTS = 1000;
/** Smaller shares than this are left out of a mix. */
const LEAST_SHARE = 0.01;

/** A method that ran, and what its forecasts from earlier origins missed by. */
interface Member {
	candidate: Candidate;
	fit: Fit;
	trial: Trial;
	relativeError: number;
	/** Mean size of errors at each origin, or their mean square, by how many periods were known. */
	misses: Map<number, number>;
}

/** What was tried on a series, and what is proposed of it. */
interface Found {
	series: Series;
	horizon: number;
	levels: readonly number[];
	diagnosis: Diagnosis;
	/** Best first; those that are as good as the best; what cannot run. */
	ranked: Member[];
	good: Member[];
	refused: Tried[];
	/** Of those that are ranked, in their order. */
	shares: number[];
	proposed: Proposed | null;
	notes: Note[];
}

/**
 * What to forecast an item by: a pool that its diagnosis chooses, each method tried from earlier origins, those that did well
 * mixed, and one method named beside it. The same request has the same answer.
 * @param memory of what was searched on the series; what is searched here is remembered there
 * @throws RequestError for a request that is refused whole
 */
export function propose(input: unknown, memory?: EvaluateMemory): Proposal {
	const { series, horizon, levels, diagnosis, ranked, good, refused, shares, proposed, notes } = find(
		input,
		memory,
	);
	const [best] = ranked;
	const steps = Math.max(1, horizon);
	const askedFor = (candidate: Candidate, others: readonly Candidate[]) =>
		askedOf(series, candidate, [candidate, ...others], NEWEST_RULE, () => diagnosis.rare);
	const asked = proposed?.candidate && askedFor(proposed.candidate, proposed.others);
	const ahead = proposed && asked ? aheadOf(series, proposed, horizon, levels, asked) : [];
	const far = runsFar(series, ahead);
	const tried = [
		...ranked.map((member, i): Tried => ({
			candidate: member.candidate,
			ok: true,
			constants: member.fit.constants,
			trial: {
				...scoreTrial(series, member.trial, steps, levels, askedFor(member.candidate, [])),
				relativeError: Number.isFinite(member.relativeError) ? member.relativeError : null,
			},
			share: shares[i]!,
			notes: triedNotes({
				best: member === best,
				worse: !good.includes(member),
				behind: member.relativeError / best!.relativeError - 1,
				relativeError: member.relativeError,
				naive: member.candidate.method === 'naive',
				share: shares[i]!,
			}),
		})),
		...refused,
	];
	return {
		diagnosis,
		tried,
		single: good[0] ? ranked.indexOf(good[0]) : -1,
		candidate: proposed?.candidate ?? null,
		others: proposed?.others ?? [],
		ahead,
		trial: proposed && asked ? scoreTrial(series, proposed.trial, steps, levels, asked) : null,
		notes: far ? [...notes, far] : notes,
	};
}

/** What `propose` proposes, where nobody looks at what else was tried. */
export function proposedOnly(
	input: unknown,
	memory?: EvaluateMemory,
): Pick<Proposal, 'candidate' | 'others'> {
	return find(input, memory).proposed ?? { candidate: null, others: [] };
}

function find(input: unknown, memory?: EvaluateMemory): Found {
	const parsed = v.safeParse(ProposalSchema, input);
	if (!parsed.success) throw new RequestError(listIssues(parsed.issues));
	const { gaps, horizon, levels, criterion } = parsed.output;
	memory?.aboutSeries({ series: parsed.output.series, gaps, holdout: 0 });
	const series = prepareSeries(parsed.output.series, gaps);
	const { values, frequency, seasonLength: expected } = series;
	const diagnosis = diagnose(inTotals(series, values), { frequency, expected, only: true });
	// Its part about the season is what forecasts of the same series rest on.
	memory?.diagnoses.recall('', () => diagnosis);
	const by = lossBy(diagnosis);
	const lent = !diagnosis.rare && lends(series);
	const pool = poolOf(series, diagnosis, criterion, lent);

	const known = prefixesOf(series);
	const steps = Math.max(1, horizon);
	const members: Member[] = [];
	const refused: Tried[] = [];
	for (const candidate of pool) {
		try {
			const fit = fitCandidate(series, candidate, null, undefined, memory?.fits);
			const ahead = new Float64Array(steps);
			fit.run.forecast(series.values.length, ahead);
			const without = ahead.reduce((count, rate) => count + Number(!Number.isFinite(rate)), 0);
			if (without > 0) throw new CannotRun(incompleteNote(without, steps));
			const trial = trialOf(
				series,
				heldAt(candidate, fit),
				fit,
				{ origins: USUAL_ORIGINS, horizon: steps, refit: false, cycles: diagnosis.season !== null },
				known,
				undefined,
				memory?.trials,
			);
			members.push(judged(series, candidate, fit, trial, by));
		} catch (error) {
			if (!(error instanceof CannotRun)) throw error;
			refused.push({ candidate, ok: false, notes: [error.note] });
		}
	}
	// The pool stands with the simplest first: of equals the simpler one is better.
	const ranked = members
		.map((member, place) => ({ member, place }))
		.sort((a, b) => a.member.relativeError - b.member.relativeError || a.place - b.place)
		.map(({ member }) => member);
	const shares = sharesOf(ranked);
	const [best] = ranked;
	const good = best ? members.filter((member) => !isWorse(member, best)) : [];
	const mixed = ranked.flatMap((member, i) => (shares[i]! > 0 ? [{ member, share: shares[i]! }] : []));
	const notes: Note[] = diagnosis.rare
		? [rareNote(diagnosis.rare, frequency)]
		: lent
			? [lentNote(series.group!.name, values.length, frequency, values.length / expected)]
			: [];
	const seasonal = diagnosis.season !== null || lent;
	const proposed = best ? proposalOf(series, members, mixed, horizon, seasonal, notes) : null;
	if (best && best.misses.size > 0) notes.push(asGoodNote(good.length, members.length));
	return { series, horizon, levels, diagnosis, ranked, good, refused, shares, proposed, notes };
}

/** What its forecasts missed by, origin by origin, and against repeating the last actual: by squares where demand is rare. */
function judged(series: Series, candidate: Candidate, fit: Fit, trial: Trial, by: Loss): Member {
	const missed = missedBy(series, trial);
	const exact = missed.every(({ own }) => own === 0);
	const share = relativeErrorOf(missed, by);
	// Where nothing was tried nothing is known of it; where repeating never missed, whoever does not either is as good.
	const relativeError = missed.length === 0 ? Infinity : (share ?? (exact ? 1 : Infinity));
	const misses = new Map(missed.map((each) => [each.origin, lossesAt(each, by).own / each.count]));
	return { candidate, fit, trial, relativeError, misses };
}

/** Shares by 1 ÷ relative error⁴, in whole thousandths; those that would hardly count are left out. */
function sharesOf(ranked: readonly Member[]): number[] {
	const raw = ranked.map(({ relativeError }) => Math.max(LEAST_RELATIVE_ERROR, relativeError) ** -POWER);
	const sum = raw.reduce((a, b) => a + b, 0);
	if (!(sum > 0)) return raw.map((_, i) => (i === 0 ? 1 : 0));
	const kept = raw.map((weight) => (weight / sum < LEAST_SHARE ? 0 : weight / sum));
	const left = kept.reduce((a, b) => a + b, 0);
	// What is written down is what is counted with.
	const thousandths = kept.map((share) => Math.round((PARTS * share) / left));
	// What rounding leaves over goes to the largest, which stands first.
	thousandths[0]! += PARTS - thousandths.reduce((a, b) => a + b, 0);
	return thousandths.map((part) => part / PARTS);
}

/** A note where what lies ahead leaves the figures of the last cycle by more than the history ever swung. */
function runsFar(series: Series, ahead: readonly AheadStep[]): Note | null {
	const known = inTotals(series, series.values).filter((value) => !Number.isNaN(value));
	const latest = known.slice(-Math.max(series.seasonLength, LAST_FIGURES));
	const [low, high] = [Math.min(...latest), Math.max(...latest)];
	const swing =
		known.reduce((most, value) => Math.max(most, value), -Infinity) -
		known.reduce((least, value) => Math.min(least, value), Infinity);
	const beyond = ahead.find(
		({ mean }) => mean !== null && Math.max(mean - high, low - mean) > swing * (1 + 1e-9),
	);
	return beyond ? farNote(beyond, swing) : null;
}

/** Whether one is worse than another by more than one standard error of the differences at the origins that both have. */
function isWorse(one: { misses: Map<number, number> }, other: { misses: Map<number, number> }): boolean {
	const differences = [...one.misses].flatMap(([origin, miss]) => {
		const beside = other.misses.get(origin);
		return beside === undefined ? [] : [miss - beside];
	});
	const count = differences.length;
	if (count === 0) return one !== other && one.misses.size === 0;
	const mean = differences.reduce((a, b) => a + b, 0) / count;
	const squares = differences.reduce((sum, difference) => sum + (difference - mean) ** 2, 0);
	return mean > Math.sqrt(squares / Math.max(1, count - 1) / count);
}

interface Proposed {
	candidate: Candidate;
	others: Candidate[];
	/** The members that it is made from, with their shares. */
	parts: { member: Member; share: number }[];
	trial: Trial;
}

/** The mix, or what repeats the last actual or its season where the mix is not clearly closer; says which, and why. */
function proposalOf(
	series: Series,
	members: readonly Member[],
	mixed: readonly { member: Member; share: number }[],
	horizon: number,
	seasonal: boolean,
	notes: Note[],
): Proposed {
	const floor = neverBelow(series.values) ? 0 : undefined;
	const trial = trialOfMix(
		series,
		mixed.map(({ member, share }) => ({ trial: member.trial, share })),
		NEWEST_RULE,
		floor,
	);
	const repeated = (method: 'naive' | 'seasonal-naive') =>
		members.find(({ candidate }) => candidate.method === method);
	const nameOf = ({ candidate }: Member) => methodOf(candidate.method).label(candidate);
	const tries = trial.origins.length;
	const naive = repeated('naive');
	// With a season that was found, two or three origins tell nothing against methods that know it.
	const beaten = naive && isWorse(naive, judged(series, naive.candidate, naive.fit, trial, 'size'));
	const known = tries === 0 ? false : beaten || (seasonal && tries < LEAST_PAIRS);
	const lent = members.find(({ candidate }) => isLent(candidate));
	const instead = (tries === 0 && seasonal && (lent ?? repeated('seasonal-naive'))) || naive;
	if (!known && instead) {
		notes.push(instead === lent ? untriedNote(nameOf(instead)) : naiveNote(tries, instead !== naive));
		const { candidate, trial: own } = instead;
		return { candidate, others: [], parts: [{ member: instead, share: 1 }], trial: own };
	}
	notes.push(
		tries === 0
			? untriedNote(nameOf(mixed[0]!.member))
			: mixNote(mixed.map(({ member, share }) => [nameOf(member), share])),
	);
	const others = mixed.map(({ member }) => member.candidate);
	const [only, ...more] = mixed;
	// By itself it needs no floor where it does not reach it.
	if (more.length === 0 && (floor === undefined || !reachesBelow(only!.member, series, horizon, floor)))
		return { candidate: only!.member.candidate, others: [], parts: [...mixed], trial };
	const candidate: Candidate = {
		id: 'mix',
		method: 'combination',
		of: others.map(({ id }) => id),
		weights: mixed.map(({ share }) => Math.round(PARTS * share)),
		...(floor !== undefined && { floor }),
	};
	return { candidate, others, parts: [...mixed], trial };
}

/** Whether a forecast falls below a floor, now or at an origin that it was tried from. */
function reachesBelow({ fit, trial }: Member, { values }: Series, horizon: number, floor: number): boolean {
	const ahead = new Float64Array(horizon);
	fit.run.forecast(values.length, ahead);
	return (
		ahead.some((rate) => rate < floor) ||
		trial.rows.some((row, place) =>
			row.some((error, h) => values[trial.origins[place]! + h]! - error < floor),
		)
	);
}

/** What the proposal says of the periods to come; of demand that never was below zero no forecast is. */
function aheadOf(
	series: Series,
	{ parts, trial }: Proposed,
	horizon: number,
	levels: readonly number[],
	asked: RangesAsked,
): AheadStep[] {
	const n = series.values.length;
	const rates = new Float64Array(horizon);
	const own = new Float64Array(horizon);
	for (const { member, share } of parts) {
		member.fit.run.forecast(n, own);
		own.forEach((rate, index) => (rates[index]! += share * rate));
	}
	if (neverBelow(series.values)) for (let h = 0; h < horizon; h++) rates[h] = Math.max(0, rates[h]!);
	const [only, ...more] = parts;
	const { candidate, fit } = only!.member;
	const modelled = more.length === 0 && methodOf(candidate.method).modelled?.(candidate) === true;
	const ranges = rangesOf(asked, series.values, modelled ? () => fit : null, () => trial);
	return Array.from(rates, (rate, index): AheadStep => {
		const step = index + 1;
		const weight = weightAt(series, n + step);
		const mean = orNull(weight * rate);
		const about = (level: number) => {
			const range = ranges.around(rate, step, level);
			return range && [weight * range[0], weight * range[1]];
		};
		const spread = ranges.spread(step);
		return {
			step,
			period: formatPeriod(series.frequency, series.first + n + index),
			mean,
			ranges: Object.fromEntries(levels.map((level) => [String(level), about(level)])) as AheadStep['ranges'],
			spread: spread && weight * spread,
		};
	});
}
