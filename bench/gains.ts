/**
 * How often a sweep is wrong that says what is proposed would have been closer than what is adopted by more than the noise: the
 * same two held against the twelve periods that came after, over series of every make with any method adopted.
 * npm run bench -- gains [series]
 */
import { NO_LAYERS } from '../src/core/series/layers';
import type { Candidate } from '../src/core/methods/registry';
import { forecastOf } from '../src/lib/server/threads/forecast';
import { sweptItem } from '../src/lib/server/threads/sweep';
import { Refusal } from '../src/lib/server/refusal';
import { panelSeries } from '../tests/support/panel';

const [count = 600] = process.argv.slice(3).map(Number);
const HORIZON = 12;
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

interface Tally {
	items: number;
	closer: number;
	/** Sums of what both missed by afterwards, each item by what repeating the last actual missed by. */
	proposed: number;
	adopted: number;
}
const tally = (): Tally => ({ items: 0, closer: 0, proposed: 0, adopted: 0 });
const [clear, within, further] = [tally(), tally(), tally()];
let promised = 0;

for (let seed = 1; seed <= count; seed++) {
	const { values, seasonLength } = panelSeries(seed);
	const known = values.slice(0, -HORIZON);
	if (known.length < Math.max(24, 3 * seasonLength)) continue;
	const candidate = ADOPTED[seed % ADOPTED.length]!;
	const seen = {
		actuals: { first: 1, values: known },
		frequency: 'step' as const,
		seasonLength,
		layers: NO_LAYERS,
	};
	const shape = { candidates: [candidate], scoreFrom: null, horizon: HORIZON, levels: [0.8], service: null };
	try {
		const { beside, ready } = sweptItem({
			kind: 'propose',
			seen,
			before: shape,
			lineUp: [],
			criterion: 'mad',
		});
		if (!beside || !ready) continue;
		const { forecast } = forecastOf({ ...shape, seen });
		const missed = (ahead: readonly { mean: number | null }[]) =>
			ahead.reduce((sum, { mean }, i) => sum + Math.abs(values[known.length + i]! - mean!), 0);
		const naive = values.slice(-HORIZON).reduce((sum, value) => sum + Math.abs(value - known.at(-1)!), 0);
		if (!(naive > 0)) continue;
		const [own, other] = [missed(ready.forecast.result.ahead) / naive, missed(forecast.result.ahead) / naive];
		const into = beside.clear ? clear : beside.gain > 0 ? within : further;
		into.items++;
		into.closer += Number(own < other);
		into.proposed += own;
		into.adopted += other;
		if (beside.clear) promised += beside.gain;
	} catch (error) {
		if (!(error instanceof Refusal)) throw error;
	}
}
const percent = (share: number) => `${(100 * share).toFixed(1)} %`;
for (const [name, { items, closer, proposed, adopted }] of [
	['closer by more than the noise', clear],
	['closer, within it', within],
	['no closer', further],
] as const)
	console.log(
		`${name}: ${items} series; in the ${HORIZON} periods that came after, what was proposed was closer for ${percent(closer / items)} of them, and missed by ${percent(1 - proposed / adopted)} less on average`,
	);
console.log(
	`those that were said to be closer by more than the noise were said to be so by ${percent(promised / clear.items)} on average`,
);
