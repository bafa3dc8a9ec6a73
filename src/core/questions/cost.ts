import { BOUNDS, written } from '../bounds';
import { figure } from '../numbers/figure';
import { type Candidate, constantsOfCandidate, methodOf, tunedSettings } from '../methods/registry';
import type { CandidateInput } from '../contract/candidate';
import { periodsSearched, type SeriesSize } from '../contract/method';
import { USUAL_ORIGINS } from './usual';
import { RequestError, type ValidRequest } from './request';
import { CALENDAR_SEASON_LENGTH } from '../series/frequency';

/**
 * What a request will cost, before any of it is calculated. A step is one period of a series looked at once: some ten
 * nanoseconds. The estimate counts as the arithmetic goes: candidates × periods × passes × origins. It need not be exact; it
 * is there to tell what takes a moment from what takes an hour. `npm run bench -- cost` holds it against the clock.
 */

/** Passes beside any search: fitting, keeping what was fitted, measuring, the remarks. */
const RECORDED = 100;
/** Passes that a search takes, by how many constants it moves; absolute errors have more valleys and take longer. */
const SEARCHED = [60, 400, 4_000, 8_000, 12_000];
const KINKED = 4;
/** How much longer a pass takes that moves a season along. */
const WITH_SEASON = 3;
/** Passes for each start value that is searched beside them: each carries its derivative along, and steps solve for all. */
const PER_START = 3_000;

/** Steps of one fit of a candidate to so many periods. */
function fitCost(candidate: Candidate, size: SeriesSize): number {
	const { fitSteps } = methodOf(candidate.method);
	const inner = (inside: SeriesSize) => fitCost(tunedSettings(candidate), inside);
	return size.periods * RECORDED + (fitSteps?.(candidate, size, inner) ?? searchSteps(candidate, size));
}

/** Steps of a search for constants and start values. */
function searchSteps(candidate: CandidateInput, { periods, seasonLength }: SeriesSize): number {
	const { optimise, start } = candidate;
	const kinked = (optimise?.criterion ?? 'mse') === 'mse' ? 1 : KINKED;
	const held = Object.keys(optimise?.hold ?? {}).length;
	const free = optimise ? Math.max(0, constantsOfCandidate(candidate).length - held) : 0;
	const seasonal = methodOf(candidate.method).follows(candidate).season !== false;
	const each = kinked * (seasonal ? WITH_SEASON : 1);
	const starts = start?.rule !== 'optimised' ? 0 : seasonal ? 2 + seasonLength : free > 1 ? 2 : 0;
	const passes = free > 0 ? SEARCHED[Math.min(free, 4)]! * each : 0;
	return periodsSearched(periods) * (passes + PER_START * kinked * starts * (1 + starts / 40));
}

/** Steps of arithmetic that a checked request will take. */
export function costOf(request: ValidRequest): number {
	const { series, candidates, trial, tracking, horizon, levels } = request;
	const periods = series.values.length;
	const seasonLength = series.seasonLength ?? CALENDAR_SEASON_LENGTH[series.frequency];
	const tracked = tracking.kind === 'rolling' ? periods * Math.min(periods, tracking.periods) : periods;
	const size = { periods, seasonLength };
	return candidates.reduce((sum, candidate) => {
		const once = fitCost(candidate, size) + tracked + horizon * (1 + levels.length) * 20;
		// Ranges, alarm and notes rest on a trial of its own; the latest origins see most of the periods.
		const usual = { origins: USUAL_ORIGINS, horizon, refit: false };
		const tried = [usual, ...(trial ? [trial] : [])].map(({ origins, horizon: steps, refit }) => {
			// What has no constants to hold is found anew at each origin.
			const anew = refit || constantsOfCandidate(candidate).length === 0;
			const onlyPastFrom = refit ? Infinity : methodOf(candidate.method).onlyPastFrom?.(candidate, size);
			const from = Math.max(0, periods - origins);
			const fitted = Math.min(periods, onlyPastFrom ?? Infinity) - from;
			const each = fitCost(anew ? candidate : { ...candidate, optimise: undefined }, size);
			return Math.max(0, fitted) * each + Math.min(origins, periods) * steps * 4 * (1 + levels.length);
		});
		return sum + once + tried.reduce((a, b) => a + b, 0);
	}, periods * 40);
}

/** Figures that the answer will hold. */
function sizeOf({ series, candidates, horizon, levels, detail, trial }: ValidRequest): number {
	const perPeriod = detail === 'full' ? series.values.length * 12 : 0;
	const ahead = horizon * (2 + 2 * levels.length + BOUNDS.scenarios / 4);
	return candidates.length * (perPeriod + ahead + (4 + 3 * levels.length) * (trial?.horizon ?? 0) + 200);
}

/**
 * Refuses what cannot be calculated while somebody waits for it.
 * @param most steps that it may take
 * @throws RequestError that says what was estimated, what is allowed and what makes it less
 */
export function refuseCostly(request: ValidRequest, most: number = BOUNDS.work): void {
	const work = costOf(request);
	if (work > most) {
		throw new RequestError([
			{
				path: 'candidates',
				message: `this would take about ${inWords(work)} steps of arithmetic, and one request may take ${written(most)}. Ask for fewer candidates, ${request.trial ? 'fewer origins, ' : ''}fewer periods, or constants that are given instead of searched`,
			},
		]);
	}
	const size = sizeOf(request);
	if (size <= BOUNDS.answer) return;
	throw new RequestError([
		{
			path: 'detail',
			message: `the answer would hold about ${inWords(size)} figures, and one may hold ${written(BOUNDS.answer)}. Ask for detail: "summary", or for fewer candidates at once`,
		},
	]);
}

/** Two figures of an estimate are all that it is good for. */
const inWords = (estimate: number) => figure(Number(estimate.toPrecision(2)), 0);
