/** The estimate of `core/questions/cost.ts` beside the clock: nanoseconds a step should not differ by much more than ten times. */
import type { Settings } from '../../src/core/methods/registry';
import { costOf } from '../../src/core/questions/cost';
import { evaluate } from '../../src/core/questions/evaluate';
import { parseRequest } from '../../src/core/questions/request';
import { panelSeries } from '../../tests/made/panel';

const optimise = {};
const kinked = { criterion: 'mad' } as const;
const season = 'multiplicative';
const CANDIDATES: Record<string, Settings> = {
	naive: { method: 'naive' },
	'average of 12': { method: 'moving-average', span: 12 },
	'average of half': { method: 'moving-average', span: -1 },
	ses: { method: 'ses', optimise },
	'ses by MAD': { method: 'ses', optimise: kinked },
	'ses, start too': { method: 'ses', optimise, start: { rule: 'optimised' } },
	holt: { method: 'holt', optimise },
	'holt by MAD': { method: 'holt', optimise: kinked },
	'damped by MAD': { method: 'damped-holt', optimise: kinked },
	'Holt-Winters': { method: 'holt-winters', season, optimise },
	'Holt-Winters by MAD': { method: 'holt-winters', season, optimise: kinked },
	'Holt-Winters damped by MAPE': {
		method: 'holt-winters',
		season,
		trend: 'damped',
		optimise: { criterion: 'mape' },
	},
	'Holt-Winters, start too': { method: 'holt-winters', season, optimise, start: { rule: 'optimised' } },
	indices: { method: 'seasonal-index', season },
	'line and indices': { method: 'trend-seasonal', season },
	'line and indices by MAD': { method: 'trend-seasonal', season, optimise: kinked },
	'line and indices + by sMAPE': {
		method: 'trend-seasonal',
		season: 'additive',
		optimise: { criterion: 'smape' },
	},
	'line and indices, slope held': {
		method: 'trend-seasonal',
		season,
		optimise: { hold: { slope: 1 } },
	},
	'line and indices by MAD, slope held': {
		method: 'trend-seasonal',
		season,
		optimise: { criterion: 'mad', hold: { slope: 1 } },
	},
	'each season by ses': { method: 'per-season', inner: { method: 'ses', optimise } },
	'without season, holt by MAD': {
		method: 'deseasonalised',
		season,
		inner: { method: 'holt', optimise: kinked },
	},
};

console.log('\ncost: milliseconds, and nanoseconds for each step that was estimated');
for (const [periods, seasonLength] of [
	[60, 12],
	[480, 12],
	[520, 52],
	[5000, 7],
	[20000, 24],
] as const) {
	const made = Array.from({ length: 200 }, (_, i) => panelSeries(5 * i + 4)).flatMap(({ values }) => values);
	const values = Array.from(
		{ length: periods },
		(_, i) => made[i % made.length]! * (1 + 0.3 * Math.sin((2 * Math.PI * i) / seasonLength)),
	);
	for (const [name, candidate] of Object.entries(CANDIDATES)) {
		const one = {
			id: 'a',
			...candidate,
			...('span' in candidate && candidate.span === -1 && { span: periods / 2 }),
		};
		const request = { series: { values, frequency: 'step', seasonLength }, candidates: [one] };
		const steps = costOf(parseRequest(request));
		if (steps > 4e10) continue;
		const began = performance.now();
		const [answer] = evaluate(request).candidates;
		const took = performance.now() - began;
		console.log(
			`${String(periods).padStart(6)} × ${String(seasonLength).padEnd(3)} ${name.padEnd(36)} ${took.toFixed(1).padStart(9)} ms  ${(steps / 1e6).toFixed(1).padStart(9)} M steps  ${((1e6 * took) / steps).toFixed(2).padStart(7)} ns${answer!.ok ? '' : '  ' + answer!.notes[0]!.code}`,
		);
	}
}
