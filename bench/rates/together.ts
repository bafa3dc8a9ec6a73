/**
 * Line and indices found together: what it costs beside solving the additive form by plain least squares, and whether
 * what is found is the least there is: npm run bench -- together [series] [first].
 */
import { CannotRun } from '../../src/core/contract/method';
import { evaluate } from '../../src/core/questions/evaluate';
import { seededNormal } from '../../src/core/numbers/random';
import { type Candidate, methodOf } from '../../src/core/methods/registry';
import { CRITERIA } from '../../src/core/contract/criteria';
import type { SeasonKind } from '../../src/core/seasons/indices';
import { prepareSeries } from '../../src/core/series/series';
import { denseLine } from '../../tests/support/dense';
import { panelSeries } from '../../tests/made/panel';

const KINDS: readonly SeasonKind[] = ['multiplicative', 'additive'];

/** Intercept, slope and P − 1 indices by normal equations and elimination, as one would write it down. */
function plainLeastSquares(values: Float64Array, length: number): Float64Array {
	const size = length + 1;
	const system = Array.from({ length: size }, () => new Float64Array(size + 1));
	const row = new Float64Array(size);
	values.forEach((y, i) => {
		row.fill(0);
		row[0] = 1;
		row[1] = i + 1;
		const j = i % length;
		if (j < length - 1) row[2 + j] = 1;
		else row.fill(-1, 2);
		for (let a = 0; a < size; a++) {
			for (let b = 0; b < size; b++) system[a]![b]! += row[a]! * row[b]!;
			system[a]![size]! += row[a]! * y;
		}
	});
	for (let a = 0; a < size; a++) {
		for (let b = a + 1; b < size; b++) {
			const share = system[b]![a]! / system[a]![a]!;
			for (let c = a; c <= size; c++) system[b]![c]! -= share * system[a]![c]!;
		}
	}
	const solution = new Float64Array(size);
	for (let a = size - 1; a >= 0; a--) {
		let rest = system[a]![size]!;
		for (let b = a + 1; b < size; b++) rest -= system[a]![b]! * solution[b]!;
		solution[a] = rest / system[a]![a]!;
	}
	return solution;
}

function milliseconds(work: () => void): number {
	const times = Array.from({ length: 31 }, () => {
		const began = performance.now();
		work();
		return performance.now() - began;
	});
	return times.sort((a, b) => a - b)[15]!;
}

/** (f) Ten years of months, every criterion, beside the plain solve in the same run. */
export function measureTogether(): void {
	const normal = seededNormal(21);
	const shape = [0.62, 0.7, 0.95, 1.2, 1.38, 1.31, 1.22, 1.1, 0.96, 0.92, 0.84, 0.8];
	const values = Array.from({ length: 120 }, (_, t) =>
		Math.round((380 + 2.4 * t) * shape[t % 12]! + 22 * normal()),
	);
	const series = prepareSeries({ values, frequency: 'month', start: '2016-01' }, 'skip');
	const scored = Int32Array.from(values.keys());
	const plain = milliseconds(() => {
		for (let i = 0; i < 20; i++) plainLeastSquares(series.values, 12);
	});
	const unit = plain / 20;
	console.log(
		`(f) line and 12 indices on 120 months; plain least squares of the additive form: ${unit.toFixed(3)} ms`,
	);
	for (const season of KINDS) {
		for (const criterion of CRITERIA) {
			const candidate: Candidate = {
				id: 'a',
				method: 'trend-seasonal',
				season,
				optimise: { criterion },
			};
			const model = methodOf(candidate.method).bind(series, candidate);
			let passes = 0;
			const took = milliseconds(() => (passes = model.find!(scored).search.evaluations));
			console.log(
				`    ${season}, ${criterion.toUpperCase()}: ${passes} passes, ${took.toFixed(2)} ms, ${(took / unit).toFixed(1)} times the plain solve`,
			);
		}
	}
}

const ABOVE = 1.0001;

/** Whether line and indices are the best there are, nothing held and some of it held, on the panel of series. */
export function measureLeast(count: number, first: number): void {
	const holds = {
		'nothing held': () => ({}),
		'slope held': (slope: number) => ({ slope }),
		'index held': (_slope: number, one: number, length: number) => ({
			indices: Array.from({ length }, (_, j) => (j === 0 ? one : null)),
		}),
	};
	for (const season of KINDS) {
		for (const criterion of CRITERIA) {
			if (criterion === 'wape') continue;
			for (const [name, holdOf] of Object.entries(holds)) {
				let searches = 0;
				const misses: string[] = [];
				for (let seed = first; seed < first + count; seed++) {
					const { values, seasonLength } = panelSeries(seed);
					if (seasonLength < 2 || seasonLength > 12) continue;
					const spread = Math.max(...values.map((value) => value ?? 0)) / 40;
					const hold = holdOf(spread / values.length, season === 'additive' ? spread : 1.1, seasonLength);
					const candidate = {
						id: 'a',
						method: 'trend-seasonal',
						season,
						optimise: { criterion, hold },
					} as unknown as Candidate;
					const [answer] = evaluate({
						series: { values, frequency: 'step', seasonLength },
						candidates: [candidate],
						detail: 'summary',
						horizon: 1,
					}).candidates;
					if (!answer?.ok) continue;
					searches++;
					try {
						const dense = denseLine({ values, seasonLength }, candidate, season, criterion);
						if (answer.search!.value > dense * ABOVE) {
							misses.push(`    series ${seed}: ${(answer.search!.value / dense).toFixed(5)} times`);
						}
					} catch (error) {
						if (!(error instanceof CannotRun)) throw error;
					}
				}
				console.log(
					`${season} by ${criterion.toUpperCase()}, ${name}: ${misses.length} of ${searches} above ${ABOVE} times`,
				);
				for (const miss of misses) console.log(miss);
			}
		}
	}
}

if (process.argv[2] === 'together') {
	const [count = 100, first = 1] = process.argv.slice(3).map(Number);
	measureTogether();
	measureLeast(count, first);
}
