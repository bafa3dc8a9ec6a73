import { createHash } from 'node:crypto';
import type { Loss } from '$core/accuracy/paired';
import { BOUNDS } from '$core/bounds';
import { type Candidate, methodOf } from '$core/methods/registry';
import { writtenResult } from '$core/questions/answer';
import { refuseCostly } from '$core/questions/cost';
import { type EvaluateMemory, evaluateSome } from '$core/questions/evaluate';
import { type EvaluateRequest, parseRequest } from '$core/questions/request';
import { heldAt, type Missed } from '$core/questions/trial';
import { NEWEST_RULE } from '$core/ranges/contract';
import { applyLayers } from '$core/series/layers';
import { Refusal } from '../refusal';
import type { Forecast, ForecastTask, Seen } from './tasks';

/** An item's series with its layers in, as requests have it. */
export function seriesOf({
	actuals,
	frequency,
	seasonLength,
	layers,
}: Seen): Pick<EvaluateRequest, 'series' | 'gaps'> {
	const layered = applyLayers(actuals, frequency, seasonLength, layers);
	return { series: layered.request as EvaluateRequest['series'], gaps: layered.gapRule };
}

/** A forecast, and what is known of it beside another one. */
export interface ForecastBeside {
	forecast: Forecast;
	/** What it missed by at earlier origins, and what the first of those beside it did; null where none stands there or it cannot run. */
	missed: { own: readonly Missed[]; beside: readonly Missed[]; by: Loss } | null;
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
	const request: EvaluateRequest = {
		...seriesOf(task.seen),
		candidates: [...task.candidates],
		scoreFrom: task.scoreFrom,
		horizon: task.horizon,
		levels: [...task.levels],
		service: task.service,
		rangeRule: task.rangeRule ?? NEWEST_RULE,
	};
	const asked = parseRequest({
		...request,
		candidates: [...task.candidates, ...beside],
		aside: beside.map(({ id }) => id),
		detail: 'summary',
		...(beside.length > 0 && { trial: { horizon: task.horizon } }),
	});
	refuseCostly(asked, BOUNDS.workAdopting);
	const answered = [...task.candidates.slice(0, 1), ...beside.slice(0, 1)].map(({ id }) => id);
	const {
		answers: [result, other],
		constants,
		by,
	} = evaluateSome(asked, answered, memory);
	if (!result?.ok) throw new Refusal(422, result?.notes[0]?.text ?? 'There is no candidate to adopt.');
	const forecast: Forecast = {
		held: task.candidates.map((candidate, i) => heldAt(candidate, { constants: constants[i]! })),
		...yardsticksOf(request, memory),
		request,
		digest: createHash('sha256').update(JSON.stringify(request.series)).digest('hex'),
		result: writtenResult(result),
		label: methodOf(result.method).label(task.candidates[0]!),
	};
	return {
		forecast,
		missed: other?.ok ? { own: result.trial!.missed, beside: other.trial!.missed, by } : null,
	};
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
	const { answers } = evaluateSome(
		asked,
		candidates.map(({ id }) => id),
		memory,
	);
	const [naive, seasonal] = answers.map((each) => (each.ok ? each.ahead.map(({ mean }) => mean) : []));
	const all = (means: readonly (number | null)[] | undefined) =>
		Array.from({ length: request.horizon! }, (_, i) => means?.[i] ?? null);
	return { naive: all(naive), seasonalNaive: all(seasonal) };
}
