/**
 * What a search costs beside its passes, what a candidate costs beside the request that it stands in, and both against
 * what was aimed at. Run with npm run bench.
 */
import { evaluateChecked } from '../../src/core/questions/evaluate';
import { median } from '../../src/core/numbers/median';
import { scoredBy } from '../../src/core/questions/fit';
import { parametersOf } from '../../src/core/methods/carry';
import type { Model } from '../../src/core/contract/model';
import { methodOf } from '../../src/core/methods/registry';
import { parseRequest } from '../../src/core/questions/request';
import { searchParameters } from '../../src/core/search/search';
import { prepareSeries } from '../../src/core/series/series';

const MONTHS = Array.from({ length: 60 }, (_, t) =>
	Math.round(400 + 2 * t + 60 * Math.sin((Math.PI * t) / 6) + ((t * 7919) % 83) - 41),
);
const series = { values: MONTHS, frequency: 'month' as const, start: '2020-01' };

const SEARCHED = [
	['simple', { method: 'ses' }],
	['double', { method: 'holt' }],
	['damped', { method: 'damped-holt' }],
	['Holt-Winters +', { method: 'holt-winters', season: 'additive' }],
	['Holt-Winters ×', { method: 'holt-winters', season: 'multiplicative' }],
	['Holt-Winters + damped', { method: 'holt-winters', season: 'additive', trend: 'damped' }],
] as const;

/** Median milliseconds of each of several works, by turns, so that what else the machine does falls on all. */
function timed(works: readonly (() => void)[], rounds = 80): number[] {
	const times = works.map((): number[] => []);
	for (let round = -20; round < rounds; round++) {
		works.forEach((work, i) => {
			const began = performance.now();
			work();
			if (round >= 0) times[i]!.push(performance.now() - began);
		});
	}
	return times.map(median);
}

/** A model that writes down how it is called, and what does the same calls again. */
function recorded(model: Model): { model: Model; again: () => void } {
	const calls: (() => void)[] = [];
	const out = new Float64Array(MONTHS.length);
	const rows = new Float64Array(MONTHS.length * model.parameters.length);
	const { derivatives } = model;
	const listened: Model = {
		...model,
		pass(parameters, fitted) {
			const at = parameters.slice();
			calls.push(() => model.pass(at, out));
			model.pass(parameters, fitted);
		},
		...(derivatives && {
			derivatives(parameters, wanted, fitted, given) {
				const at = parameters.slice();
				calls.push(() => derivatives.call(model, at, wanted, out, rows));
				derivatives.call(model, parameters, wanted, fitted, given);
			},
		}),
	};
	return { model: listened, again: () => calls.forEach((call) => call()) };
}

/** (h) Searches against their passes alone, and candidates that search nothing. */
export function measureOverhead(): string[] {
	const prepared = prepareSeries(series, 'skip');
	const searches = SEARCHED.map(([name, settings]) => {
		const method = methodOf(settings.method);
		const model = method.bind(prepared, { id: 'a', ...settings });
		const scored = scoredBy(prepared, model, parametersOf(model, {}), model.firstFitted);
		const search = (of: Model) => searchParameters(of, prepared.values, scored, { criterion: 'mse' });
		const { model: listened, again } = recorded(model);
		const { evaluations } = search(listened).search;
		const [whole, passes] = timed([() => search(model), again]) as [number, number];
		return `(h) ${name} searched by MSE on 60 months: ${whole.toFixed(2)} ms, its ${evaluations} passes alone ${passes.toFixed(2)} ms; beside them ${((whole - passes) / passes).toFixed(2)} times as much (at most 2)`;
	});
	const request = (method: string, count: number) =>
		parseRequest({
			series,
			detail: 'summary',
			candidates: Array.from({ length: count }, (_, i) => ({ id: String(i), method })),
		});
	const plain = ['naive', 'seasonal-naive', 'average', 'drift'].map((method) => {
		const [few, many] = [request(method, 1), request(method, 17)];
		const [one, all] = timed([() => evaluateChecked(few), () => evaluateChecked(many)], 200) as [
			number,
			number,
		];
		return `(h) ${method}, which searches nothing: ${((all - one) / 16).toFixed(3)} ms a candidate beyond what the request shares (at most 0.05)`;
	});
	return [...searches, ...plain];
}
