/**
 * Whether a search finds the least value there is, on a panel of series of every make, and what it costs. Takes the
 * better part of an hour on one core for 2,000 series: npm run bench -- search [series] [first].
 */
import { type Candidate, type Settings, withTuned } from '../../src/core/methods/registry';
import { CannotRun } from '../../src/core/contract/method';
import { CRITERIA } from '../../src/core/contract/criteria';
import { evaluate } from '../../src/core/questions/evaluate';
import { denseMinimum } from '../../tests/support/dense';
import { panelSeries } from '../../tests/made/panel';

const CANDIDATES: readonly (readonly [string, Settings])[] = [
	['simple', { method: 'ses' }],
	['one-constant double', { method: 'brown' }],
	['double', { method: 'holt' }],
	['damped', { method: 'damped-holt' }],
	['Holt-Winters +, no trend', { method: 'holt-winters', season: 'additive', trend: 'none' }],
	['Holt-Winters ×, no trend', { method: 'holt-winters', season: 'multiplicative', trend: 'none' }],
	['Holt-Winters +', { method: 'holt-winters', season: 'additive' }],
	['Holt-Winters ×', { method: 'holt-winters', season: 'multiplicative' }],
	['Holt-Winters +, damped', { method: 'holt-winters', season: 'additive', trend: 'damped' }],
	['Holt-Winters ×, damped', { method: 'holt-winters', season: 'multiplicative', trend: 'damped' }],
];
const ABOVE = 1.0001;

const [count = 2000, first = 1] = process.argv.slice(3).map(Number);
let all = 0;
let missed = 0;
for (const [name, settings] of CANDIDATES) {
	for (const criterion of CRITERIA) {
		// Least WAPE is least MAD, over the same periods: the search is the same.
		if (criterion === 'wape') continue;
		let searches = 0;
		const misses: string[] = [];
		for (let seed = first; seed < first + count; seed++) {
			const series = panelSeries(seed);
			const candidate: Candidate = { id: 'a', ...withTuned(settings, { optimise: { criterion } }) };
			const [answer] = evaluate({
				series: { values: series.values, frequency: 'step', seasonLength: series.seasonLength },
				candidates: [candidate],
				detail: 'summary',
				horizon: 1,
			}).candidates;
			if (!answer?.ok) continue;
			searches++;
			let dense;
			try {
				dense = denseMinimum(series, candidate, criterion);
			} catch (error) {
				if (error instanceof CannotRun) continue;
				throw error;
			}
			const { value, basins } = answer.search!;
			if (value <= dense.value * ABOVE) continue;
			const found = Object.values(basins[0]!.constants).map((constant) => constant.toFixed(3));
			misses.push(
				`    series ${seed}, season of ${series.seasonLength}, ${series.values.length} periods: ${(value / dense.value).toFixed(5)} times, at ${found.join(' ')} instead of ${Array.from(dense.x, (at) => at.toFixed(3)).join(' ')}`,
			);
		}
		all += searches;
		missed += misses.length;
		console.log(
			`${name} by ${criterion.toUpperCase()}: ${misses.length} of ${searches} above ${ABOVE} times`,
		);
		for (const miss of misses) console.log(miss);
	}
}
console.log(`${missed} of ${all} searches in all (at most 1 of 1,000)`);
