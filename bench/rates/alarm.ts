/**
 * The alarm: its table made anew and held against the one in use, how often it flags unbiased forecasts beside what it promises,
 * and how late a shift is found. npm run bench -- alarm [items].
 */
import { alarmRatios, chanceOfAlarm, isAlarming, simulatedLimits } from '../../src/core/accuracy/alarm';
import { ALARM_TABLE } from '../../src/core/accuracy/alarm-table';
import { seededNormal } from '../../src/core/numbers/random';
import { NEWEST_RULE } from '../../src/core/ranges/contract';
import { bindFound, fitCandidate } from '../../src/core/questions/fit';
import { propose } from '../../src/core/questions/propose';
import { askedOf, heldAt, prefixesOf, scoreTrial, trialOf } from '../../src/core/questions/trial';
import { prepareSeries } from '../../src/core/series/series';
import { parseRequest } from '../../src/core/questions/request';

const [count = 2000] = process.argv.slice(3).map(Number);
const KNOWN = 60;
const SPANS = [12, 24, 60];

const { spans, chances, runs, seed } = ALARM_TABLE;
const limits = simulatedLimits(spans, chances, runs, seed).map((row) =>
	row.map((each) => Number(each.toFixed(4))),
);
const same = JSON.stringify(limits) === JSON.stringify(ALARM_TABLE.limits);
console.log(
	same ? 'The table in use is the one that its seed makes.' : 'THE TABLE IS OUT OF DATE; it should hold:',
);
if (!same) {
	for (const row of limits) console.log(`\t\t[${row.join(', ')}],`);
	process.exitCode = 1;
}

/** What a series does, and the method that is right for it. */
const SOUND = {
	'white noise, average': { candidate: { method: 'average' }, step: (e: number) => 500 + 40 * e },
	'white noise, simple smoothing searched': {
		candidate: { method: 'ses', optimise: {} },
		step: (e: number) => 500 + 40 * e,
	},
	'random walk, naive': {
		candidate: { method: 'naive' },
		step: (e: number, before: number) => before + 40 * e,
	},
	'season, indices': {
		candidate: {
			method: 'seasonal-index',
			season: 'multiplicative',
			index: { rule: 'ratio-to-moving-average' },
			level: { rule: 'cycle-average', cycles: 3 },
		},
		step: (e: number, _: number, t: number) => (500 + 25 * e) * (1 + 0.3 * Math.sin((t * Math.PI) / 6)),
	},
	'season, Holt-Winters searched': {
		candidate: { method: 'holt-winters', season: 'multiplicative', optimise: {} },
		step: (e: number, _: number, t: number) => (500 + 25 * e) * (1 + 0.3 * Math.sin((t * Math.PI) / 6)),
	},
};

/** A candidate fitted to the first periods, and the mean size of its honest errors one period ahead. */
function adopted(values: number[], candidate: object) {
	const { series, gaps, candidates } = parseRequest({
		series: { values, frequency: 'step', seasonLength: 12 },
		candidates: [{ ...candidate, id: 'a' }],
	});
	const prepared = prepareSeries(series, gaps);
	const fit = fitCandidate(prepared, candidates[0]!, null);
	const trial = trialOf(
		prepared,
		heldAt(candidates[0]!, fit),
		fit,
		{ origins: 36, horizon: 1, refit: false, cycles: true },
		prefixesOf(prepared),
	);
	return {
		prepared,
		fit,
		size: scoreTrial(
			prepared,
			trial,
			1,
			[],
			askedOf(prepared, candidates[0]!, [], NEWEST_RULE, () => null),
		).byStep[0]!.mad!,
	};
}

/** Errors one period ahead over the whole of a longer series, by what was adopted. */
function errorsOf({ prepared, fit }: ReturnType<typeof adopted>, values: number[]): Float64Array {
	const whole = Float64Array.from(values);
	const { fitted } = bindFound({ ...prepared, values: whole }, fit);
	return whole.map((value, i) => value - fitted[i]!);
}

const percent = (share: number) => `${(100 * share).toFixed(1).padStart(5)} %`;
console.log(
	`\nSound forecasts ever flagged within 12, 24, 60 periods, ${count} series each; promised ${SPANS.map((span) => percent(chanceOfAlarm(span))).join(', ')}:`,
);
const promised = SPANS.map((span) => chanceOfAlarm(span));
for (const [name, { candidate, step }] of Object.entries(SOUND)) {
	const draw = seededNormal(7);
	const after = SPANS.map(() => 0);
	const fitted = SPANS.map(() => 0);
	for (let item = 0; item < count; item++) {
		const values: number[] = [];
		for (let t = 0; t < KNOWN + SPANS.at(-1)!; t++) values.push(step(draw(), values.at(-1) ?? 2000, t));
		// Adopted after 60 periods, then held against what comes, one period ahead.
		const known = adopted(values.slice(0, KNOWN), candidate);
		const later = errorsOf(known, values).subarray(KNOWN);
		// In the line-up: its own scored errors up to now.
		SPANS.forEach((span, i) => {
			if (alarmRatios(later.subarray(0, span), known.size).some((ratio) => isAlarming(ratio))) after[i]!++;
		});
		const now = adopted(values, candidate);
		const own = errorsOf(now, values);
		SPANS.forEach((span, i) => {
			if (alarmRatios(own.subarray(own.length - span), now.size).some((ratio) => isAlarming(ratio)))
				fitted[i]!++;
		});
	}
	const held = after.every((flagged, i) => Math.abs(flagged / count / promised[i]! - 1) <= 1 / 3);
	console.log(
		`${name.padEnd(40)} from then on ${after.map((flagged) => percent(flagged / count)).join(' ')}${held ? '' : '  not within a third'}   fitted errors ${fitted.map((flagged) => percent(flagged / count)).join(' ')}`,
	);
}

console.log('\nPeriods until a shift is found, median of those found within 60 (share found):');
for (const shift of [1, 2]) {
	const draw = seededNormal(11);
	const delays: number[] = [];
	for (let run = 0; run < 2000; run++) {
		const errors = Float64Array.from({ length: 24 + 60 }, (_, t) => draw() + (t >= 24 ? shift : 0));
		const ratios = alarmRatios(errors, 0.798);
		// Whoever was flagged before has no say in it.
		if (ratios.subarray(0, 24).some((ratio) => isAlarming(ratio))) continue;
		const at = ratios.subarray(24).findIndex((ratio) => isAlarming(ratio));
		delays.push(at < 0 ? Infinity : at + 1);
	}
	delays.sort((a, b) => a - b);
	const found = delays.filter(Number.isFinite).length / delays.length;
	console.log(
		`${shift} standard deviation${shift > 1 ? 's' : ''}: ${delays[Math.floor(delays.length / 2)]} (${percent(found)})`,
	);
}

/** Kinds of demand that a step may befall, about 400 with a standard deviation of 25. */
const BEFORE_A_STEP: Readonly<Record<string, (t: number) => number>> = {
	'level with noise': () => 400,
	'season with noise': (t) => 400 * (1 + 0.3 * Math.sin((t * Math.PI) / 6)),
};
const DEVIATION = 25;
const LATER = 12;
/** As grades count: each error as a share of what was expected of its step, no more than so many times that. */
const MOST = 3;
const LATE_RUNS = Math.max(50, Math.round(count / 10));
console.log(
	`\nA step after a proposal was adopted for ${LATER} periods: share flagged before any step, periods until it is found in the median (share found), ${LATE_RUNS} series each:`,
);
for (const [name, level] of Object.entries(BEFORE_A_STEP))
	for (const known of [24, 36, 60]) {
		const cells = [0, 1, 2, 3.6].map((step) => {
			const draw = seededNormal(17);
			const delays: number[] = [];
			for (let run = 0; run < LATE_RUNS; run++) {
				const values = Array.from({ length: known + LATER }, (_, t) =>
					Math.max(0, level(t) + DEVIATION * (draw() + (t >= known ? step : 0))),
				);
				const { ahead, trial } = propose({
					series: { values: values.slice(0, known), frequency: 'month', start: '2020-01' },
					horizon: LATER,
				});
				const errors = Float64Array.from(ahead, ({ mean, spread }, h) =>
					Math.max(-MOST, Math.min(MOST, (values[known + h]! - mean!) / spread!)),
				);
				const first = trial!.byStep[0]!;
				const size = first.mad !== null && first.rms ? first.mad / first.rms : null;
				const at = alarmRatios(errors, size).findIndex((ratio) => isAlarming(ratio));
				delays.push(at < 0 ? Infinity : at + 1);
			}
			delays.sort((a, b) => a - b);
			const found = delays.filter(Number.isFinite).length / delays.length;
			return step === 0
				? percent(found)
				: `${step}σ ${found < 0.5 ? '–' : delays[Math.floor(delays.length / 2)]} (${percent(found).trim()})`;
		});
		console.log(`${name}, ${known} months known: ${cells.join(', ')}`);
	}
