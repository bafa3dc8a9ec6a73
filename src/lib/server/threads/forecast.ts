import { createHash } from 'node:crypto';
import type { Loss } from '$core/accuracy/lead';
import { BOUNDS } from '$core/bounds';
import { type Candidate, isLent, methodOf } from '$core/methods/registry';
import { writtenResult } from '$core/questions/answer';
import { refuseCostly } from '$core/questions/cost';
import { evaluateForecast, type EvaluateMemory, meansAhead } from '$core/questions/evaluate';
import { type EvaluateRequest, parseRequest } from '$core/questions/request';
import { forecastsFrom } from '$core/questions/bottom-up';
import { heldAt, type Missed } from '$core/questions/trial';
import { NEWEST_RULE } from '$core/ranges/contract';
import { applyLayers } from '$core/series/layers';
import { Refusal } from '../refusal';
import type { BeforehandTask, Forecast, ForecastTask, Seen } from './tasks';

/** An item's series with its layers in, as requests have it. */
export function seriesOf({
	actuals,
	frequency,
	seasonLength,
	layers,
	group,
}: Seen): Pick<EvaluateRequest, 'series' | 'gaps'> {
	const layered = applyLayers(actuals, frequency, seasonLength, layers, group);
	return { series: layered.request as EvaluateRequest['series'], gaps: layered.gapRule };
}

/** Digest of a series, in hexadecimal digits. */
export const digestOf = (series: EvaluateRequest['series']): string =>
	createHash('sha256').update(JSON.stringify(series)).digest('hex');

/** The whole request of a forecast; what its group sold is in it where it rests on that. */
export function requestOf(task: ForecastTask): EvaluateRequest {
	const seen = task.candidates.some(isLent) ? task.seen : { ...task.seen, group: null };
	return {
		...seriesOf(seen),
		candidates: [...task.candidates],
		scoreFrom: task.scoreFrom,
		horizon: task.horizon,
		levels: [...task.levels],
		service: task.service,
		rangeRule: task.rangeRule ?? NEWEST_RULE,
	};
}

/** A forecast, and what is known of it beside another one. */
export interface ForecastBeside {
	forecast: Forecast;
	/** What it missed by at earlier origins, and what the first of those beside it did; null where none stands there or it cannot run. */
	missed: { own: readonly Missed[]; beside: readonly Missed[] } | null;
	/** What errors count for on its series. */
	by: Loss;
}

/**
 * A forecast of an item as it stood.
 * @param beside candidates that it is held against, the first of them first; what it comes to does not depend on them
 * @param memory of what was searched on the same series
 * @throws Refusal 422 where its candidate cannot run
 */
export function forecastOf(
	task: ForecastTask,
	beside: readonly Candidate[] = [],
	memory?: EvaluateMemory,
): ForecastBeside {
	const request = requestOf(task);
	const asked = parseRequest({
		...request,
		candidates: [...task.candidates, ...beside],
		aside: beside.map(({ id }) => id),
		detail: 'summary',
	});
	refuseCostly(asked, BOUNDS.workAdopting);
	const { answer: result, constants, missed, by } = evaluateForecast(asked, beside[0]?.id ?? null, memory);
	if (!result.ok) throw new Refusal(422, result.notes[0]!.text);
	const forecast: Forecast = {
		held: task.candidates.map((candidate, i) => heldAt(candidate, { constants: constants[i]! })),
		...yardsticksOf(request, memory),
		request,
		digest: digestOf(request.series),
		result: writtenResult(result),
		label: methodOf(result.method).label(task.candidates[0]!),
	};
	return {
		forecast,
		missed,
		by,
	};
}

/** What forecasts would have said at earlier origins, added up: a row an origin, a total a step. */
export function beforehandOf({ forecasts, origins, parts }: BeforehandTask): Float64Array[] {
	const sums: Float64Array[] = [];
	for (const task of forecasts) {
		const request = parseRequest(requestOf(task));
		refuseCostly(request, BOUNDS.workAdopting);
		forecastsFrom(request, task.candidates[0]!.id, origins, parts).forEach((row, place) => {
			sums[place] ??= new Float64Array(row.length);
			row.forEach((total, h) => (sums[place]![h]! += total));
		});
	}
	return sums;
}

/** What the forecasts say that everybody could make, from the same origin. */
function yardsticksOf(
	request: EvaluateRequest,
	memory?: EvaluateMemory,
): Pick<Forecast, 'naive' | 'seasonalNaive'> {
	const yardsticks = [
		{ id: 'naive', method: 'naive' },
		{ id: 'seasonal', method: 'seasonal-naive' },
	] as const;
	const candidates = (request.series.seasonLength ?? 1) > 1 ? [...yardsticks] : [yardsticks[0]];
	const asked = parseRequest({ ...request, candidates, scoreFrom: null, levels: [], detail: 'summary' });
	const [naive, seasonal] = meansAhead(asked, memory);
	return { naive: naive!, seasonalNaive: seasonal ?? naive!.map(() => null) };
}
