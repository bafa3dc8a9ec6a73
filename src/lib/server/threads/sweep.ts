import { isClearlyCloser, type Loss } from '$core/accuracy/lead';
import { keyed } from '$core/numbers/keyed';
import { distinctNames } from '$core/methods/names';
import { type Candidate, methodOf } from '$core/methods/registry';
import { written } from '$core/questions/answer';
import { evaluateChecked, EvaluateMemory } from '$core/questions/evaluate';
import { proposedOnly } from '$core/questions/propose';
import { parseRequest } from '$core/questions/request';
import { leadBetween, type Missed } from '$core/questions/trial';
import { type Frequency, USUAL_HORIZON } from '$core/series/frequency';
import { SWEPT_MEASURES } from '../../wire/sweeps';
import { Refusal } from '../refusal';
import { type ForecastBeside, forecastOf, seriesOf } from './forecast';
import type { ForecastTask, Recordable, SweepOutcome, SweepTask, SweepWork, TriedMeasures } from './tasks';

/** What a sweep comes to for one item. */

const LEVELS = [0.8, 0.95];
const SERVICE = 0.95;

const NOTHING: SweepOutcome = {
	refused: null,
	label: null,
	method: null,
	rare: null,
	beside: null,
	measures: null,
	figures: null,
	ready: null,
};

/** @throws Refusal where nothing comes of it, in words */
export const sweptItem = (task: SweepTask): SweepOutcome => WORK[task.kind](task);

/** How far ahead, with which ranges: as its newest record has it. */
function shapeOf({ before, seen }: SweepTask): Omit<ForecastTask, 'candidates' | 'seen'> {
	return {
		scoreFrom: null,
		horizon: before?.horizon ?? USUAL_HORIZON[seen.frequency as Frequency],
		levels: before?.levels ?? LEVELS,
		service: before?.service ?? SERVICE,
	};
}

/** What would be proposed for it, beside what is adopted. */
function proposed(task: SweepTask): SweepOutcome {
	const shape = shapeOf(task);
	const memory = new EvaluateMemory();
	const { candidate, others } = proposedOnly(
		{ ...seriesOf(task.seen), horizon: shape.horizon, levels: [...shape.levels] },
		memory,
	);
	if (!candidate) throw new Refusal(422, 'No method can be tried on it: it has too few figures.');
	const candidates = [candidate, ...others];
	return ready({ ...shape, seen: task.seen, candidates }, task, memory);
}

/** The next record of its run. */
function updated(task: SweepTask): SweepOutcome {
	const { before } = task;
	if (!before) throw new Refusal(422, 'Nothing is adopted for it yet, so there is nothing to update.');
	return ready({ ...before, seen: task.seen }, { ...task, before: null });
}

/** The next record of its run with another service level, as far ahead as the lead time. */
function stocked(task: SweepTask): SweepOutcome {
	const { before, lead } = task;
	if (!before) throw new Refusal(422, 'Nothing is adopted for it yet, so no stock can be calculated.');
	const horizon = Math.max(before.horizon, lead);
	const outcome = updated({ ...task, before: { ...before, service: task.settings.service, horizon } });
	const stock = outcome.ready!.forecast.result.together[lead - 1]?.stock ?? null;
	if (stock === null)
		throw new Refusal(422, 'Too little is known of its errors, so no stock can be calculated.');
	const stockBefore = before.together[lead - 1]?.stock ?? null;
	const stockChange = stockBefore === null ? null : stock - stockBefore;
	return { ...outcome, figures: { lead, stock, stockBefore, stockChange } };
}

/** The line-up on its whole range; what misses least goes on record. */
function tried(task: SweepTask): SweepOutcome {
	const { criterion } = task.settings;
	const lineUp = task.settings.lineUp as Candidate[];
	const shape = shapeOf(task);
	const memory = new EvaluateMemory();
	const { candidates } = written(
		evaluateChecked(
			parseRequest({
				...seriesOf(task.seen),
				candidates: [...lineUp],
				horizon: shape.horizon,
				levels: [...shape.levels],
				detail: 'summary',
			}),
			memory,
		),
	);
	const names = distinctNames(lineUp, (id) => {
		const found = candidates.find((each) => each.id === id);
		return found?.ok ? found.constants : undefined;
	});
	const ran = candidates.flatMap((each) => (each.ok ? [each] : []));
	const worth = (each: (typeof ran)[number]) => {
		const { common, own } = each.measures;
		return (common.count > 0 ? common : own)[criterion] ?? Infinity;
	};
	const [best] = ran.toSorted((a, b) => worth(a) - worth(b));
	if (!best || worth(best) === Infinity) {
		const why = candidates.find((each) => !each.ok)?.notes[0]?.text;
		throw new Refusal(422, why ?? 'None of the candidates has a figure to be compared.');
	}
	const measures = ran.map(({ id, measures: { common, own } }): TriedMeasures => {
		const judged = common.count > 0 ? common : own;
		return {
			label: names.get(id)!,
			...keyed(SWEPT_MEASURES, (measure) => judged[measure]),
			best: id === best.id,
		};
	});
	const first = lineUp.find(({ id }) => id === best.id)!;
	const candidatesOf = [first, ...lineUp.filter(({ id }) => id !== first.id && needs(first, id, lineUp))];
	return { ...ready({ ...shape, seen: task.seen, candidates: candidatesOf }, task, memory), measures };
}

/** What each kind of work comes to. */
const WORK: Readonly<Record<SweepWork, (task: SweepTask) => SweepOutcome>> = {
	propose: proposed,
	update: updated,
	try: tried,
	stock: stocked,
};

/** Whether a candidate is made from another one, at whatever depth. */
function needs(candidate: Candidate, id: string, lineUp: readonly Candidate[]): boolean {
	const of = methodOf(candidate.method).dependsOn?.(candidate as never) ?? [];
	return of.some(
		(each) =>
			each === id ||
			needs(
				lineUp.find((other) => other.id === each)!,
				id,
				lineUp,
			),
	);
}

/** A forecast that can be adopted as it stands, beside what is adopted. */
function ready(forecastTask: ForecastTask, { before }: SweepTask, memory?: EvaluateMemory): SweepOutcome {
	const { missed, forecast, by } = forecastOf(
		forecastTask,
		before ? setApart(before.candidates, forecastTask.candidates) : [],
		memory,
	);
	const without = forecast.result.ahead.filter(({ mean }) => mean === null).length;
	if (without > 0)
		throw new Refusal(
			422,
			`It has no figure for ${without} of the ${forecast.result.ahead.length} periods ahead.`,
		);
	const { method, rangeKind, constants, start, measures, alarm, ahead, together } = forecast.result;
	const recordable: Recordable = {
		...forecast,
		result: { method, rangeKind, constants, start, measures, alarm, ahead, together },
	};
	return {
		...NOTHING,
		label: forecast.label,
		method,
		rare: by === 'square',
		beside: missed && besideOf(missed, by),
		ready: { forecast: recordable, asked: forecastTask.candidates },
	};
}

/** Candidates under ids that the others do not have, in those that are made from them too. */
function setApart(candidates: readonly Candidate[], taken: readonly Candidate[]): Candidate[] {
	const there = new Set(taken.map(({ id }) => id));
	let number = 0;
	const ids = new Map(
		candidates.map(({ id }) => {
			do number++;
			while (there.has(`~${number}`));
			return [id, `~${number}`];
		}),
	);
	return candidates.map(
		(each) =>
			({
				...each,
				id: ids.get(each.id)!,
				...('of' in each && { of: each.of?.map((id) => ids.get(id)!) }),
			}) as Candidate,
	);
}

/** How much less one misses than the other over the periods that both were tried on. */
export function besideOf(
	{ own, beside }: NonNullable<ForecastBeside['missed']>,
	by: Loss,
): SweepOutcome['beside'] {
	const lead = leadBetween(own, beside, by);
	if (!lead || lead.count === 0) return null;
	const others = new Set(beside.map(({ origin }) => origin));
	const both = new Set(own.flatMap(({ origin }) => (others.has(origin) ? [origin] : [])));
	const sum = (of: readonly Missed[], what: 'own' | 'actual') =>
		of.reduce((total, each) => total + (both.has(each.origin) ? each[what] : 0), 0);
	// By squares the share is that of their roots; where nothing was missed before there is none.
	const gain = by === 'square' ? 1 - Math.sqrt(1 - lead.gain) : lead.gain;
	return {
		gain: gain === -Infinity ? -1 : gain,
		clear: isClearlyCloser(lead),
		absError: sum(own, 'own'),
		absErrorBefore: sum(beside, 'own'),
		absActual: sum(own, 'actual'),
	};
}
