/**
 * What the list says of adopted forecasts, through the real grading: how often an unbiased one is flagged, and how late a shift is
 * found. Forecasts are adopted after 60 periods and carried on 24 times, each time evaluated anew. npm run bench -- watching [items].
 */
import { alarmLimit, chanceOfAlarm } from '../../src/core/accuracy/alarm';
import type { Came, Said } from '../../src/core/grading/grades';
import { ALARM_SPAN, type Reason, type ReasonCode } from '../../src/core/grading/reasons';
import { statusOf } from '../../src/core/grading/status';
import { NO_ROUNDING, finalFigure } from '../../src/core/grading/final';
import { seededNormal } from '../../src/core/numbers/random';
import { heldAt } from '../../src/core/questions/trial';
import { evaluateChecked } from '../../src/core/questions/evaluate';
import type { Candidate } from '../../src/core/methods/registry';
import { parseRequest } from '../../src/core/questions/request';

const [count = 300] = process.argv.slice(3).map(Number);
const KNOWN = 60;
const CLOSED = 24;
const LIMIT = alarmLimit(0.1, ALARM_SPAN);

interface Make {
	candidate: Record<string, unknown>;
	/** Constants searched anew each time, or kept. */
	carry: 'search' | 'keep';
	step: (draw: number, before: number, t: number) => number;
	/** Standard deviation of the errors of a perfect forecast. */
	sigma: number;
}

const SOUND: Readonly<Record<string, Make>> = {
	'white noise, average': {
		candidate: { method: 'average' },
		carry: 'search',
		step: (e) => 500 + 40 * e,
		sigma: 40,
	},
	'white noise, simple smoothing kept': {
		candidate: { method: 'ses', optimise: {} },
		carry: 'keep',
		step: (e) => 500 + 40 * e,
		sigma: 40,
	},
	'white noise, simple smoothing searched': {
		candidate: { method: 'ses', optimise: {} },
		carry: 'search',
		step: (e) => 500 + 40 * e,
		sigma: 40,
	},
	'random walk, simple smoothing searched': {
		candidate: { method: 'ses', optimise: {} },
		carry: 'search',
		step: (e, before) => before + 40 * e,
		sigma: 40,
	},
	'random walk, last actual': {
		candidate: { method: 'naive' },
		carry: 'search',
		step: (e, before) => before + 40 * e,
		sigma: 40,
	},
	'season, indices': {
		candidate: {
			method: 'seasonal-index',
			season: 'multiplicative',
			index: { rule: 'ratio-to-moving-average' },
			level: { rule: 'cycle-average', cycles: 3 },
		},
		carry: 'search',
		step: (e, _, t) => (500 + 25 * e) * (1 + 0.3 * Math.sin((t * Math.PI) / 6)),
		sigma: 25,
	},
	'season, Holt-Winters kept': {
		candidate: { method: 'holt-winters', season: 'multiplicative', optimise: {} },
		carry: 'keep',
		step: (e, _, t) => (500 + 25 * e) * (1 + 0.3 * Math.sin((t * Math.PI) / 6)),
		sigma: 25,
	},
};

/** Adopts a candidate on the first periods, as the server does. */
function adopt(values: readonly number[], candidate: Candidate, id: number): { said: Said; held: Candidate } {
	const request = parseRequest({
		series: { values: [...values], frequency: 'step', seasonLength: 12 },
		candidates: [candidate],
		horizon: 3,
		levels: [0.8, 0.95],
		detail: 'summary',
	});
	const [result] = evaluateChecked(request).candidates;
	if (!result?.ok) throw new Error(result?.notes[0]?.text);
	const [first] = result.ahead;
	return {
		held: heldAt(candidate, result),
		said: {
			id,
			carriedFrom: id > 1 ? id - 1 : null,
			saw: values.length,
			size: result.alarm.size === null || !first!.spread ? null : result.alarm.size / first!.spread,
			steps: result.ahead.map(({ step, mean, ranges, spread }) => ({
				step,
				period: values.length + step,
				mean: mean!,
				final: finalFigure(mean!, undefined, NO_ROUNDING),
				ranges,
				spread,
				naive: values.at(-1)!,
				seasonalNaive: null,
			})),
		},
	};
}

/** What the list says on each morning of an item's closed periods. */
function mornings({ candidate, carry }: Make, values: readonly number[]): Reason[][] {
	let asked = { id: 'a', ...candidate } as unknown as Candidate;
	const records: Said[] = [];
	const said: Reason[][] = [];
	for (let known = KNOWN; known < values.length; known++) {
		const { said: record, held } = adopt(values.slice(0, known), asked, records.length + 1);
		if (carry === 'keep') asked = held;
		records.push(record);
		const came: Came[] = values
			.slice(0, known + 1)
			.map((value, i) => ({ period: i + 1, value, change: i + 1, leftOut: false }));
		said.push(statusOf({ records, came, leadTime: null, limit: LIMIT }).reasons);
	}
	return said;
}

const percent = (share: number) => `${(100 * share).toFixed(1).padStart(5)} %`;
const has = (reasons: readonly Reason[], code: ReasonCode) => reasons.some((each) => each.code === code);

console.log(
	`\nSound forecasts, adopted after ${KNOWN} periods and carried on ${CLOSED} times, ${count} items each. Drift is promised ${percent(chanceOfAlarm(CLOSED, LIMIT))} of ever being said.`,
);
console.log(
	`${''.padEnd(40)} ever: drifts  worse than naive  ranges off   a morning: outside  anything at all`,
);
for (const [name, make] of Object.entries(SOUND)) {
	const draw = seededNormal(17);
	const ever = { drifts: 0, 'worse-than-naive': 0, 'ranges-off': 0 };
	let [outside, anything] = [0, 0];
	for (let item = 0; item < count; item++) {
		const values: number[] = [];
		for (let t = 0; t < KNOWN + CLOSED; t++) values.push(make.step(draw(), values.at(-1) ?? 2000, t));
		const said = mornings(make, values);
		for (const code of Object.keys(ever) as (keyof typeof ever)[])
			if (said.some((reasons) => has(reasons, code))) ever[code]++;
		outside += said.filter((reasons) => has(reasons, 'outside')).length;
		anything += said.filter((reasons) => reasons.length > 0).length;
	}
	const promised = chanceOfAlarm(CLOSED, LIMIT);
	const within = Math.abs(ever.drifts / count / promised - 1) <= 1 / 3;
	console.log(
		`${name.padEnd(40)}      ${percent(ever.drifts / count)}${within ? ' ' : '*'}       ${percent(ever['worse-than-naive'] / count)}      ${percent(ever['ranges-off'] / count)}             ${percent(outside / count / CLOSED)}          ${percent(anything / count / CLOSED)}`,
	);
}
console.log('* not within a third of the promise');

console.log(
	`\nA shift of the level after 12 closed periods: periods until drift is said (median of those that were quiet before), share found within 12, and how far the level was said to be off by then, as a share of the shift`,
);
for (const [name, make] of Object.entries(SOUND).filter(([name]) => /average|kept|indices/.test(name))) {
	for (const shift of [1, 2]) {
		const draw = seededNormal(19);
		const delays: number[] = [];
		const offs: number[] = [];
		for (let item = 0; item < count; item++) {
			const values: number[] = [];
			for (let t = 0; t < KNOWN + CLOSED; t++) values.push(make.step(draw(), values.at(-1) ?? 2000, t));
			const shifted = values.map((value, t) => (t >= KNOWN + 12 ? value + shift * make.sigma : value));
			const said = mornings(make, shifted);
			if (said.slice(0, 12).some((reasons) => has(reasons, 'drifts'))) continue;
			const at = said.slice(12).findIndex((reasons) => has(reasons, 'drifts'));
			delays.push(at < 0 ? Infinity : at + 1);
			const drift = said[12 + at]?.find((reason) => reason.code === 'drifts');
			if (at >= 0 && drift?.code === 'drifts') offs.push(drift.off / (shift * make.sigma));
		}
		const middle = (list: number[]) => list.sort((a, b) => a - b)[Math.floor(list.length / 2)] ?? NaN;
		console.log(
			`${name.padEnd(40)} ${shift} standard deviation${shift > 1 ? 's' : ' '}: ${String(middle(delays)).padStart(8)}   ${percent(delays.filter(Number.isFinite).length / delays.length)}   ${middle(offs).toFixed(2)}`,
		);
	}
}
