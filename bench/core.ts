/**
 * Speed of the arithmetic, as ratios in one run where there is something to compare with.
 * Run with npm run bench.
 */
import { once } from 'node:events';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import { median } from '../src/core/numbers/median';
import { seededNormal } from '../src/core/numbers/random';
import { evaluate } from '../src/core/questions/evaluate';
import type { Start } from '../src/core/contract/candidate';
import { METHODS, methodOf } from '../src/core/methods/registry';
import { prepareSeries } from '../src/core/series/series';
import { bareAdded, bareMultiplied } from './speed/bare';
import { measureClaims } from './rates/claims';
import { measureLooking, measureSeasonless } from './rates/looking';
import { measureOverhead } from './speed/overhead';
import { measureTogether } from './rates/together';

const normal = seededNormal(11);
const wandering = (periods: number): number[] => {
	let level = 400;
	return Array.from({ length: periods }, () => {
		level += 6 * normal();
		return Math.round(level + 25 * normal());
	});
};

/** A member of the family, and its recursion written out bare, line by line as docs/methods.md has it. */
interface Member {
	name: string;
	settings: { method: string; [field: string]: string };
	bare(values: Float64Array, start: Start, out: Float64Array): number;
}

const [A, B, G, PHI] = [0.3, 0.1, 0.2, 0.9];

const MEMBERS: Member[] = [
	{
		name: 'simple',
		settings: { method: 'ses' },
		bare(values, start, out) {
			let { level } = start;
			for (let t = start.at; t < values.length; t++) {
				out[t] = level;
				level = A * values[t]! + (1 - A) * level;
			}
			return level;
		},
	},
	{
		name: 'double',
		settings: { method: 'holt' },
		bare(values, start, out) {
			let { level, trend = 0 } = start;
			for (let t = start.at; t < values.length; t++) {
				const step = level + trend;
				out[t] = step;
				const before = level;
				level = A * values[t]! + (1 - A) * step;
				trend = B * (level - before) + (1 - B) * trend;
			}
			return level;
		},
	},
	{
		name: 'double, one constant',
		settings: { method: 'brown' },
		bare(values, start, out) {
			const [alpha, beta] = [A * (2 - A), A / (2 - A)];
			let { level, trend = 0 } = start;
			for (let t = start.at; t < values.length; t++) {
				const step = level + trend;
				out[t] = step;
				const before = level;
				level = alpha * values[t]! + (1 - alpha) * step;
				trend = beta * (level - before) + (1 - beta) * trend;
			}
			return level;
		},
	},
	{
		name: 'damped',
		settings: { method: 'damped-holt' },
		bare(values, start, out) {
			let { level, trend = 0 } = start;
			for (let t = start.at; t < values.length; t++) {
				const step = level + PHI * trend;
				out[t] = step;
				const before = level;
				level = A * values[t]! + (1 - A) * step;
				trend = B * (level - before) + (1 - B) * PHI * trend;
			}
			return level;
		},
	},
	...(['additive', 'multiplicative'] as const).flatMap((season) =>
		(['none', 'additive', 'damped'] as const).map((trend): Member => ({
			name: `Holt-Winters ${season === 'additive' ? '+' : '×'}, trend ${trend}`,
			settings: { method: 'holt-winters', season, trend },
			bare: season === 'additive' ? bareAdded[trend] : bareMultiplied[trend],
		})),
	),
];

/** (a) One pass of each member over 10,000 periods against the same recursion written out bare. */
function pass(): void {
	const above = wandering(10_000).map((value) => Math.max(20, value));
	const series = prepareSeries({ values: above, frequency: 'step', seasonLength: 12 }, 'skip');
	const { values } = series;
	const constants: Record<string, number> = { alpha: A, beta: B, gamma: G, phi: PHI };
	const fitted = new Float64Array(values.length);
	const REPEATS = 60;
	const time = (work: () => void) => {
		const began = performance.now();
		for (let i = 0; i < REPEATS; i++) work();
		return ((performance.now() - began) * 1e6) / REPEATS / values.length;
	};
	for (const { name, settings, bare } of MEMBERS) {
		const model = methodOf(settings.method).bind(series, { id: 'a', ...settings });
		const parameters = Float64Array.from(model.parameters, ({ key }) => constants[key]!);
		const start = model.run(parameters).start!;
		const ours: number[] = [];
		const theirs: number[] = [];
		// By turns, so that what else the machine does falls on both.
		for (let round = 0; round < 41; round++) {
			ours.push(time(() => model.pass(parameters, fitted)));
			theirs.push(time(() => bare(values, start, fitted)));
		}
		const [a, b] = [median(ours), median(theirs)];
		console.log(
			`(a) ${name}: ${a.toFixed(2)} ns a period; bare loop ${b.toFixed(2)} ns; ratio ${(a / b).toFixed(2)} (at most 1.3)`,
		);
	}
}

/** Every method there is, its constants searched by MSE; Holt-Winters with either season. */
const FULL_SET = METHODS.flatMap(({ id, fields, constants, dependsOn }): Record<string, unknown>[] => {
	if (dependsOn) return [];
	const settings = {
		method: id,
		...Object.fromEntries(fields.map(({ key, initial }) => [key, initial])),
		...(constants.length > 0 && { optimise: { criterion: 'mse' } }),
	};
	return id === 'holt-winters'
		? ['additive', 'multiplicative'].map((season) => ({ ...settings, season }))
		: [settings];
}).map((candidate, i) => ({ ...candidate, id: `c${i}` }));

const SERIES = 10_000;

/** Sixty months with a season, as many of them as are asked for, from a seed. */
function* months(count: number, seed: number): Generator<number[]> {
	const random = seededNormal(seed);
	for (let i = 0; i < count; i++) {
		let level = 300 + 100 * Math.abs(random());
		const swing = 0.3 * Math.abs(random());
		const slope = random();
		yield Array.from({ length: 60 }, (_, t) => {
			level = Math.max(80, level + slope + 4 * random());
			return Math.max(1, Math.round(level * (1 + swing * Math.sin((2 * Math.PI * t) / 12)) + 20 * random()));
		});
	}
}

/** Fits the full set to so many series; passes over a series of the searches in all. */
function fitAll(count: number, seed: number): number {
	let passes = 0;
	for (const values of months(count, seed)) {
		const { candidates } = evaluate({
			series: { values, frequency: 'month', start: '2021-11' },
			candidates: FULL_SET,
			detail: 'summary',
		});
		for (const candidate of candidates) if (candidate.ok) passes += candidate.search?.evaluations ?? 0;
	}
	return passes;
}

/** (c) The full set of methods searched by MSE on 10,000 series of 60 months, on one core and on all. */
async function sweep(): Promise<void> {
	fitAll(100, 1);
	const began = performance.now();
	const passes = fitAll(SERIES, 2);
	const one = SERIES / ((performance.now() - began) / 1000);
	console.log(
		`(c) ${FULL_SET.length} candidates searched by MSE, ${SERIES} series of 60 months, one core: ${Math.round(one)} series a second, ${Math.round(passes / SERIES)} passes a series`,
	);
	const cores = availableParallelism();
	const together = performance.now();
	await Promise.all(
		Array.from({ length: cores }, async (_, core) => {
			const worker = new Worker(fileURLToPath(import.meta.url), {
				workerData: { count: Math.ceil(SERIES / cores), seed: 10 + core },
			});
			await once(worker, 'message');
		}),
	);
	const all = (cores * Math.ceil(SERIES / cores)) / ((performance.now() - together) / 1000);
	console.log(
		`(c) the same on ${cores} cores: ${Math.round(all)} series a second, ${(all / one).toFixed(2)} times`,
	);
}

if (isMainThread) {
	pass();
	for (const line of measureOverhead()) console.log(line);
	await sweep();
	for (const line of [...measureLooking(), ...measureSeasonless(), ...measureClaims()]) console.log(line);
	measureTogether();
} else {
	const { count, seed } = workerData as { count: number; seed: number };
	parentPort!.postMessage(fitAll(count, seed));
}
