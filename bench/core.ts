/**
 * Speed of the arithmetic, as ratios in one run where there is something to compare with.
 * Run with npm run bench.
 */
import { seededNormal } from '../src/core/accuracy/random';
import { evaluate } from '../src/core/evaluate';
import { ses } from '../src/core/methods/ses';
import { prepareSeries } from '../src/core/series/series';
import { measureLooking } from './looking';

function median(list: number[]): number {
	return list.sort((a, b) => a - b)[list.length >> 1]!;
}

const normal = seededNormal(11);
const wandering = (periods: number): number[] => {
	let level = 400;
	return Array.from({ length: periods }, () => {
		level += 6 * normal();
		return Math.round(level + 25 * normal());
	});
};

/** (a) One pass of simple smoothing over 10,000 periods against the same recursion written out bare. */
function pass(): void {
	const series = prepareSeries({ values: wandering(10_000), frequency: 'step' }, 'skip');
	const { values } = series;
	const model = ses.bind(series, { id: 'a', method: 'ses' });
	const parameters = Float64Array.of(0.3);
	const fitted = new Float64Array(values.length);
	const bare = (alpha: number, out: Float64Array) => {
		let level = values[0]!;
		for (let t = 1; t < values.length; t++) {
			out[t] = level;
			level = alpha * values[t]! + (1 - alpha) * level;
		}
		return level;
	};
	const REPEATS = 200;
	const time = (work: () => void) => {
		const began = performance.now();
		for (let i = 0; i < REPEATS; i++) work();
		return ((performance.now() - began) * 1e6) / REPEATS / values.length;
	};
	const ours: number[] = [];
	const theirs: number[] = [];
	// By turns, so that what else the machine does falls on both.
	for (let round = 0; round < 41; round++) {
		ours.push(time(() => model.pass(parameters, fitted)));
		theirs.push(time(() => bare(0.3, fitted)));
	}
	const [a, b] = [median(ours), median(theirs)];
	console.log(
		`(a) ses pass, 10,000 periods: ${a.toFixed(2)} ns a period; bare loop ${b.toFixed(2)} ns; ratio ${(a / b).toFixed(2)} (at most 1.3)`,
	);
}

/** (c) Best simple smoothing by MSE for 10,000 series of 60 periods, the whole of evaluate in a summary. */
function sweep(): void {
	const all = Array.from({ length: 10_000 }, () => wandering(60));
	const one = (values: number[]) =>
		evaluate({
			series: { values, frequency: 'month', start: '2021-11' },
			candidates: [{ id: 'a', method: 'ses', optimise: {} }],
			detail: 'summary',
		});
	for (const values of all.slice(0, 300)) one(values);
	const began = performance.now();
	let passes = 0;
	for (const values of all) {
		const [candidate] = one(values).candidates;
		if (candidate?.ok) passes += candidate.search!.evaluations;
	}
	const seconds = (performance.now() - began) / 1000;
	console.log(
		`(c) ses searched by MSE, 10,000 series of 60 periods, one core: ${Math.round(all.length / seconds)} series a second, ${Math.round(passes / all.length)} passes a series`,
	);
}

pass();
sweep();
for (const line of measureLooking()) console.log(line);
