/**
 * How often a sweep is wrong that says what is proposed would have been clearly closer than what is adopted, and how often it says
 * nothing where it is: series of every make, a third of them with noise that grows with demand, with any method adopted. The truth
 * is what both miss by over many futures of the same series. npm run bench -- gains [series]
 */
import { isClear } from '../../src/core/accuracy/lead';
import { leadFrom } from '../../src/core/accuracy/paired';
import type { Candidate } from '../../src/core/methods/registry';
import { EvaluateMemory } from '../../src/core/questions/evaluate';
import { proposedOnly } from '../../src/core/questions/propose';
import { NO_LAYERS } from '../../src/core/series/layers';
import { Refusal } from '../../src/lib/server/refusal';
import { forecastOf, seriesOf } from '../../src/lib/server/threads/forecast';
import { besideOf } from '../../src/lib/server/threads/sweep';
import { panelSeries } from '../../tests/made/panel';

const [count = 700] = process.argv.slice(3).map(Number);
const HORIZON = 12;
const FUTURES = 40;
/** What somebody may have adopted: usual methods, their constants searched or as one guesses them. */
const ADOPTED: Candidate[] = [
	{ id: 'a', method: 'naive' },
	{ id: 'a', method: 'average' },
	{ id: 'a', method: 'moving-average', span: 3 },
	{ id: 'a', method: 'moving-average', span: 12 },
	{ id: 'a', method: 'ses', constants: { alpha: 0.2 } },
	{ id: 'a', method: 'ses', optimise: {} },
	{ id: 'a', method: 'holt', optimise: {} },
	{ id: 'a', method: 'damped-holt', optimise: {} },
	{ id: 'a', method: 'seasonal-naive' },
	{ id: 'a', method: 'holt-winters', season: 'additive', optimise: {} },
];

/** An item that was compared. */
interface Compared {
	/** How much less it missed by in the trial, and how much less it misses by over all futures, and in the first of them. */
	said: number;
	truly: number;
	once: number;
	clear: boolean;
	/** As it was told before: by differences, at once the noise. */
	before: boolean;
}
const items: Compared[] = [];

for (let seed = 1; seed <= count; seed++) {
	const grows = seed % 3 === 0;
	const { values, seasonLength } = panelSeries(seed, { grows });
	const known = values.slice(0, -HORIZON);
	if (known.length < Math.max(24, 3 * seasonLength)) continue;
	const candidate = ADOPTED[seed % ADOPTED.length]!;
	const seen = {
		actuals: { first: 1, values: known },
		frequency: 'step' as const,
		seasonLength,
		layers: NO_LAYERS,
		group: null,
	};
	const shape = { scoreFrom: null, horizon: HORIZON, levels: [0.8], service: null, seen };
	try {
		const memory = new EvaluateMemory();
		const { candidate: made, others } = proposedOnly(
			{ ...seriesOf(seen), horizon: HORIZON, levels: [0.8] },
			memory,
		);
		if (!made) continue;
		const { forecast, missed, by } = forecastOf(
			{ ...shape, candidates: [made, ...others] },
			[candidate],
			memory,
		);
		const beside = missed && besideOf(missed, by);
		if (!missed || !beside) continue;
		const { forecast: adopted } = forecastOf({ ...shape, candidates: [candidate] });
		const futures = Array.from({ length: FUTURES }, (_, future) => {
			const options = { grows, ...(future > 0 && { future: { periods: HORIZON, seed: future } }) };
			const came = panelSeries(seed, options).values.slice(-HORIZON);
			return [forecast, adopted].map(({ result }) =>
				result.ahead.reduce((sum, { mean }, h) => sum + Math.abs(came[h]! - mean!), 0),
			) as [number, number];
		});
		const total = (at: 0 | 1) => futures.reduce((sum, each) => sum + each[at], 0);
		const differences = Float64Array.from(missed.own, (each) => {
			const other = missed.beside.find(({ origin }) => origin === each.origin);
			return other ? other.own - each.own : NaN;
		}).filter((each) => !Number.isNaN(each));
		const lead = leadFrom(differences, beside.absError + beside.absErrorBefore);
		items.push({
			said: beside.gain,
			truly: 1 - total(0) / total(1),
			once: 1 - futures[0]![0] / futures[0]![1],
			clear: beside.clear,
			before: lead !== null && lead.lead > 0 && isClear(lead),
		});
	} catch (error) {
		if (!(error instanceof Refusal)) throw error;
	}
}

const percent = (part: number, of: number) => `${((100 * part) / of).toFixed(1)} % of ${of}`;
const mean = (list: readonly number[]) => list.reduce((a, b) => a + b, 0) / list.length;
for (const [name, is] of [
	['at twice the noise, in shares of the error', ({ clear }: Compared) => clear],
	['as before: at once the noise, in differences', ({ before }: Compared) => before],
] as const) {
	const claimed = items.filter(is);
	const wrong = claimed.filter(({ truly }) => truly <= 0).length;
	const wrongOnce = claimed.filter(({ once }) => once <= 0).length;
	console.log(
		`gains: ${name}: “clearly closer” is said of ${percent(claimed.length, items.length)}; wrongly over many futures in ${percent(wrong, claimed.length)}, in the twelve periods that came next in ${percent(wrongOnce, claimed.length)}; said to be closer by ${(100 * mean(claimed.map(({ said }) => said))).toFixed(1)} %, truly by ${(100 * mean(claimed.map(({ truly }) => truly))).toFixed(1)} %`,
	);
	for (const least of [0.1, 0.3, 0.6]) {
		const closer = items.filter(({ truly }) => truly >= least);
		const silent = closer.filter((each) => !is(each)).length;
		console.log(
			`    not said where it is closer by ${100 * least} % or more: ${percent(silent, closer.length)}`,
		);
	}
}
