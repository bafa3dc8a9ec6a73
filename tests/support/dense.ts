import { scoredPositions } from '../../src/core/accuracy/windows';
import type { Criterion } from '../../src/core/contract/criteria';
import { type Candidate, methodOf } from '../../src/core/methods/registry';
import { descend, type Place } from '../../src/core/search/descend';
import { freeModel } from '../../src/core/search/held-line';
import { heldBy } from '../../src/core/methods/trend-seasonal';
import { cyclesOf } from '../../src/core/seasons/cycles';
import type { SeasonKind } from '../../src/core/seasons/indices';
import { Problem } from '../../src/core/search/problem';
import { prepareSeries } from '../../src/core/series/series';
import type { PanelSeries } from '../made/panel';

/** Cells of the dense grid along each constant, by how many constants there are. */
const CELLS = [[], [2000], [60, 60], [26, 22, 22], [14, 12, 12, 6]];
const POLISHED = 25;

/**
 * The least value of a criterion that a dense grid with local polishing finds: every grid point that is no higher than
 * its neighbours along the axes, the 25 lowest of them polished.
 */
export function denseMinimum(
	{ values, seasonLength }: PanelSeries,
	candidate: Candidate,
	criterion: Criterion,
): Place {
	const series = prepareSeries({ values, frequency: 'step', seasonLength }, 'skip');
	const model = methodOf(candidate.method).bind(series, candidate);
	const first = Float64Array.from(model.parameters, ({ fallback }) => fallback);
	const probe = new Float64Array(values.length);
	model.pass(first, probe);
	const scored = scoredPositions(series.values, probe, model.firstFitted);
	const free = model.parameters.map((_, index) => index);
	const bounds = model.parameters.map((parameter) => parameter.bounds);
	const problem = new Problem(model, series.values, scored, criterion, first, free, bounds);
	const counts = CELLS[free.length]!.map((cells) => cells + 1);
	const total = counts.reduce((product, count) => product * count, 1);
	const placeOf = (index: number) => {
		let rest = index;
		return Float64Array.from(counts, (count, j) => {
			const share = (rest % count) / (count - 1);
			rest = Math.floor(rest / count);
			return problem.lower[j]! + share * (problem.upper[j]! - problem.lower[j]!);
		});
	};
	const found = Float64Array.from({ length: total }, (_, index) => problem.value(placeOf(index)));
	const low: number[] = [];
	for (let index = 0; index < total; index++) {
		const here = found[index]!;
		if (!Number.isFinite(here)) continue;
		let stride = 1;
		const least = counts.every((count) => {
			const at = Math.floor(index / stride) % count;
			const lower =
				(at > 0 && found[index - stride]! < here) || (at < count - 1 && found[index + stride]! < here);
			stride *= count;
			return !lower;
		});
		if (least) low.push(index);
	}
	low.sort((a, b) => found[a]! - found[b]!);
	let best: Place = { value: Infinity, x: first };
	for (const index of low.slice(0, POLISHED)) {
		const polished = descend(
			problem,
			{ x: placeOf(index), value: found[index]! },
			{ most: 60, enough: 1e-9 },
		);
		if (polished.value < best.value) best = polished;
	}
	return best;
}

/** Directions of the line that are gone down from. */
const TURNS = 96;

/**
 * The least value that line and indices can have: for directions of the line all around, everything else settled by going
 * down, the lowest then polished together.
 */
export function denseLine(
	{ values, seasonLength }: PanelSeries,
	candidate: Candidate,
	kind: SeasonKind,
	criterion: Criterion,
): number {
	const series = prepareSeries({ values, frequency: 'step', seasonLength }, 'skip');
	const { model } = freeModel(series.values, cyclesOf(series), kind, heldBy(candidate, seasonLength));
	const first = Float64Array.from(model.parameters, ({ fallback }) => fallback);
	const fitted = new Float64Array(values.length).fill(0);
	const scored = scoredPositions(series.values, fitted, 1);
	const all = [...model.parameters.keys()];
	const straight = all.filter((index) => model.parameters[index]!.linear);
	const problem = (start: Float64Array, free: number[]) =>
		new Problem(
			model,
			series.values,
			scored,
			criterion,
			start,
			free,
			free.map((index) => model.parameters[index]!.bounds),
		);
	const options = { most: 60, enough: 1e-10 };
	const settled = (start: Float64Array): Place => {
		const inner = problem(start.slice(), straight);
		const x = Float64Array.from(straight, (index) => start[index]!);
		const place = descend(inner, { x, value: inner.value(x) }, options);
		inner.value(place.x);
		return { x: inner.parameters.slice(), value: place.value };
	};
	if (straight.length === all.length) return settled(first).value;
	const [low, high] = model.parameters[0]!.bounds;
	const places = Array.from({ length: TURNS }, (_, i) => {
		const start = first.slice();
		start[0] = low + ((i + 0.5) * (high - low)) / TURNS;
		return settled(start);
	});
	places.sort((a, b) => a.value - b.value);
	const joint = problem(first.slice(), all);
	return Math.min(...places.slice(0, 12).map((place) => descend(joint, place, options).value));
}
