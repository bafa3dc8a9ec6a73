import { BOUNDS, written } from '../bounds';
import { figure } from '../numbers/figure';
import { type Candidate, constantsOfCandidate, methodOf, tunedSettings } from '../methods/registry';
import { reachOf } from '../methods/recent-median-line';
import { USUAL_ORIGINS } from './trial';
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
/** Finding a line with its indices; by sMAPE, which has the most valleys, added and multiplied; and beside something that is held. */
const LINE_AND_INDICES = {
	squares: 300,
	kinked: 5_000,
	smape: { additive: 100_000, multiplicative: 15_000 },
};
const BESIDE_HELD = { squares: 250, kinked: 6_000 };

/** Periods and season length that a candidate is calculated over. */
interface Size {
	periods: number;
	season: number;
}

/** A search of fewer periods takes no less: what it does beside its passes is then the most of it. */
const LEAST_SEARCHED = 150;

/** Steps of one fit of a candidate to so many periods. */
function fitCost(candidate: Candidate, size: Size): number {
	const { periods, season } = size;
	const looked = Math.max(periods, LEAST_SEARCHED);
	const cycles = periods / season + 1;
	const tuned = tunedSettings(candidate);
	const { optimise, start } = tuned;
	const criterion = (optimise ?? candidate.optimise)?.criterion ?? 'mse';
	const kinked = criterion === 'mse' ? 1 : KINKED;
	switch (candidate.method) {
		case 'moving-average':
			return periods * (RECORDED + Math.min(periods, candidate.span));
		case 'weighted-moving-average':
			return periods * (RECORDED + Math.min(periods, candidate.weights.length));
		case 'recent-median-line': {
			const reach = Math.min(periods, reachOf(season));
			return periods * (RECORDED + reach * reach);
		}
		case 'seasonal-index': {
			const levels = 1 + (candidate.scenarios?.length ?? 0);
			return periods * (RECORDED + 8 * cycles + 4 * levels);
		}
		case 'trend-seasonal': {
			const way = criterion === 'mse' ? 'squares' : 'kinked';
			const held = Object.keys(candidate.optimise?.hold ?? {}).length > 0;
			const together =
				criterion === 'smape' ? LINE_AND_INDICES.smape[candidate.season] : LINE_AND_INDICES[way];
			const passes = held ? BESIDE_HELD[way] * (2 + season) : together;
			return periods * RECORDED + looked * passes;
		}
		case 'per-season':
			return periods * RECORDED + season * fitCost(tuned, { periods: cycles, season: 1 });
		case 'deseasonalised':
			return periods * (RECORDED + 8) + fitCost(tuned, { periods, season: 1 });
		case 'combination':
			return periods * (RECORDED + 4 * (methodOf(candidate.method).dependsOn?.(candidate).length ?? 0));
		default: {
			const held = Object.keys(optimise?.hold ?? {}).length;
			const free = optimise ? Math.max(0, constantsOfCandidate(candidate).length - held) : 0;
			const seasonal = candidate.method === 'holt-winters';
			const each = kinked * (seasonal ? WITH_SEASON : 1);
			const starts = start?.rule !== 'optimised' ? 0 : seasonal ? 2 + season : free > 1 ? 2 : 0;
			const passes = free > 0 ? SEARCHED[Math.min(free, 4)]! * each : 0;
			return periods * RECORDED + looked * (passes + PER_START * kinked * starts * (1 + starts / 40));
		}
	}
}

/** Steps of arithmetic that a checked request will take. */
export function costOf(request: ValidRequest): number {
	const { series, candidates, trial, tracking, horizon, levels } = request;
	const periods = series.values.length;
	const season = series.seasonLength ?? CALENDAR_SEASON_LENGTH[series.frequency];
	const tracked = tracking.kind === 'rolling' ? periods * Math.min(periods, tracking.periods) : periods;
	return candidates.reduce((sum, candidate) => {
		const whole = { periods, season };
		const once = fitCost(candidate, whole) + tracked + horizon * (1 + levels.length) * 20;
		// Ranges, alarm and notes rest on a trial of its own; the latest origins see most of the periods.
		const usual = { origins: USUAL_ORIGINS, horizon, refit: false };
		const tried = [usual, ...(trial ? [trial] : [])].map(({ origins, horizon: steps, refit }) => {
			// What has no constants to hold is found anew at each origin.
			const anew = refit || constantsOfCandidate(candidate).length === 0;
			const size = { periods, seasonLength: season };
			const honestFrom = refit ? Infinity : methodOf(candidate.method).honestFrom?.(candidate, size);
			const from = Math.max(0, periods - origins);
			const fitted = Math.min(periods, honestFrom ?? Infinity) - from;
			const each = fitCost(anew ? candidate : { ...candidate, optimise: undefined }, whole);
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
