/**
 * Whether what is proposed is worth more than choosing by the fit, or than any single method: a panel of series of known make, two
 * origins each, errors against the naive forecast's; how often ranges hold; and what a proposal takes. npm run bench -- propose [series].
 */
import { median } from '../../src/core/numbers/median';
import { seededNormal, seededUniform } from '../../src/core/numbers/random';
import { evaluate } from '../../src/core/questions/evaluate';
import type { AheadStep } from '../../src/core/questions/answer';
import { propose, type Tried } from '../../src/core/questions/propose';
import { methodOf } from '../../src/core/methods/registry';

const [count = 330] = process.argv.slice(3).map(Number);
const HORIZON = 12;
const SHAPE = [-0.9, -0.7, -0.2, 0.3, 0.9, 1, 0.6, 0.2, -0.1, -0.3, -0.4, -0.4];
/** Height of a season of P at period t. */
const shape = (t: number, P: number) => SHAPE[Math.floor((12 * (t % P)) / P)]!;

interface Make {
	/** Frequency, its season length, and how many periods are known at each origin. */
	frequency: 'month' | 'quarter' | 'week' | 'day';
	P: number;
	origins: readonly number[];
	value(
		t: number,
		state: { level: number; slope: number },
		draw: () => number,
		uniform: () => number,
	): number;
}
const MONTHS = { frequency: 'month', P: 12, origins: [60, 72] } as const;
/** Kinds of demand; each keeps a level and a slope. */
const MAKES: Record<string, Make> = {
	'strong season': {
		...MONTHS,
		value: (t, { level }, draw) => level * (1 + 0.35 * shape(t, 12)) + 0.05 * level * draw(),
	},
	'weak season': {
		...MONTHS,
		value: (t, { level }, draw) => level * (1 + 0.06 * shape(t, 12)) + 0.1 * level * draw(),
	},
	'trend that fades': {
		...MONTHS,
		value: (t, state, draw) => {
			state.slope *= 0.97;
			state.level = Math.max(100, state.level + state.slope);
			return state.level * (1 + 0.15 * shape(t, 12)) + 15 * draw();
		},
	},
	break: {
		...MONTHS,
		value: (t, state, draw) => {
			if (t === 40) state.level *= 1.5;
			return state.level * (1 + 0.2 * shape(t, 12)) + 0.06 * state.level * draw();
		},
	},
	'random walk': {
		...MONTHS,
		value: (_, state, draw) => (state.level = Math.max(60, state.level + 15 * draw())),
	},
	'level with noise': { ...MONTHS, value: (_, { level }, draw) => level + 0.12 * level * draw() },
	lumpy: {
		...MONTHS,
		value: (_, { level }, draw, uniform) =>
			uniform() < 0.4 ? 0 : Math.max(0, (level / 20) * (1 + 0.6 * draw())),
	},
	'short, with a season': {
		...MONTHS,
		origins: [26, 30],
		value: (t, { level }, draw) => level * (1 + 0.3 * shape(t, 12)) + 0.08 * level * draw(),
	},
	quarters: {
		frequency: 'quarter',
		P: 4,
		origins: [28, 32],
		value: (t, state, draw) => (state.level += state.slope / 2) * (1 + 0.2 * shape(t, 4)) + 20 * draw(),
	},
	days: {
		frequency: 'day',
		P: 7,
		origins: [120, 134],
		value: (t, state, draw) =>
			(state.level = Math.max(80, state.level + 4 * draw())) * (1 + 0.3 * shape(t, 7)) + 15 * draw(),
	},
	weeks: {
		frequency: 'week',
		P: 52,
		origins: [130, 143],
		value: (t, { level }, draw) => level * (1 + 0.25 * shape(t, 52)) + 0.1 * level * draw(),
	},
};
const START = { month: '2015-01', quarter: '2010-Q1', week: '2015-W01', day: '2015-01-05' };

function seriesOf({ value }: Make, seed: number, periods: number): number[] {
	const draw = seededNormal(seed);
	const uniform = seededUniform(seed + 31);
	const state = { level: 200 + 400 * uniform(), slope: 8 * draw() };
	return Array.from({ length: periods }, (_, t) => Math.max(0, Math.round(value(t, state, draw, uniform))));
}

const missOf = (means: readonly (number | null)[], actual: readonly number[]) =>
	actual.reduce((sum, value, h) => sum + Math.abs(value - (means[h] ?? 0)), 0);

/** Logarithms of errors over those of the last actual, by what was forecast with; one list for each group. */
const groups = new Map<string, Record<string, number[]>>();
/** The same of each method of the pools, with the proposal's beside it. */
const methods = new Map<string, { own: number[]; proposal: number[] }>();
/** Actuals inside the ranges of 80 % and 95 %, at the first, middle and last step. */
const STEPS = [1, 6, 12];
const held = new Map<string, { inside: [number, number][]; of: number[] }>();
/** Whether the closest method at one origin was the closest at the next one too. */
let [again, twice] = [0, 0];

function holds(name: string, ahead: AheadStep[], actual: readonly number[]): void {
	const own = held.get(name) ?? {
		inside: STEPS.map(() => [0, 0] as [number, number]),
		of: STEPS.map(() => 0),
	};
	held.set(name, own);
	STEPS.forEach((step, i) => {
		const { ranges } = ahead[step - 1]!;
		const [narrow, wide] = [ranges['0.8'], ranges['0.95']];
		if (!narrow || !wide) return;
		own.of[i]!++;
		const value = actual[step - 1]!;
		if (value >= narrow[0] && value <= narrow[1]) own.inside[i]![0]++;
		if (value >= wide[0] && value <= wide[1]) own.inside[i]![1]++;
	});
}

Object.entries(MAKES).forEach(([name, make], group) => {
	const logs: Record<string, number[]> = {
		proposal: [],
		single: [],
		'least fitted error': [],
		'damped seasonal smoothing': [],
	};
	groups.set(name, logs);
	for (let i = 0; i < Math.ceil(count / Object.keys(MAKES).length); i++) {
		const whole = seriesOf(make, 7919 * group + i + 1, make.origins.at(-1)! + HORIZON);
		let before: string | null = null;
		for (const origin of make.origins) {
			const values = whole.slice(0, origin);
			const actual = whole.slice(origin, origin + HORIZON);
			const series = { values, frequency: make.frequency, start: START[make.frequency] };
			const proposal = propose({ series, horizon: HORIZON });
			const ran = proposal.tried.filter((one): one is Tried & { ok: true } => one.ok);
			const answers = evaluate({
				series,
				candidates: [
					...ran.map(({ candidate }) => candidate),
					{ id: 'damped', method: 'holt-winters', season: 'additive', trend: 'damped', optimise: {} },
				],
				horizon: HORIZON,
				levels: [0.8, 0.95],
				detail: 'summary',
			}).candidates;
			const closest = labelOf(ran[0]!);
			if (before !== null) twice++;
			if (before === closest) again++;
			before = closest;
			const meansOf = (id: string) => {
				const answer = answers.find((one) => one.id === id)!;
				return answer.ok ? answer.ahead.map(({ mean }) => mean) : [];
			};
			const fitted = answers
				.slice(0, -1)
				.flatMap((one) =>
					one.ok && one.measures.common.mse !== null ? [{ id: one.id, mse: one.measures.common.mse }] : [],
				);
			const naive = missOf(new Array(HORIZON).fill(values.at(-1)), actual);
			const least = fitted.sort((a, b) => a.mse - b.mse)[0]!;
			const logOf = (means: readonly (number | null)[]) =>
				Math.log(Math.max(missOf(means, actual), 1) / Math.max(naive, 1));
			const proposed = logOf(proposal.ahead.map(({ mean }) => mean));
			logs.proposal!.push(proposed);
			logs.single!.push(logOf(meansOf(ran[proposal.single]!.candidate.id)));
			logs['least fitted error']!.push(logOf(meansOf(least.id)));
			const damped = meansOf('damped');
			logs['damped seasonal smoothing']!.push(damped.length > 0 ? logOf(damped) : 0);
			holds('the proposal', proposal.ahead, actual);
			for (const one of ran) {
				const answer = answers.find(({ id }) => id === one.candidate.id)!;
				if (!answer.ok) continue;
				const label = labelOf(one);
				const own = methods.get(label) ?? { own: [], proposal: [] };
				methods.set(label, own);
				own.own.push(logOf(answer.ahead.map(({ mean }) => mean)));
				own.proposal.push(proposed);
				holds(label, answer.ahead, actual);
			}
		}
	}
});

function labelOf({ candidate }: Tried): string {
	return methodOf(candidate.method).label(candidate);
}

const mean = (list: readonly number[]) => list.reduce((a, b) => a + b, 0) / list.length;
/** Percent by which one is closer than another, with a 95 % interval from resampling. */
function against(one: readonly number[], other: readonly number[]): string {
	const differences = one.map((value, i) => value - other[i]!);
	const uniform = seededUniform(5);
	const drawn = Array.from({ length: 1000 }, () =>
		mean(differences.map(() => differences[Math.floor(uniform() * differences.length)]!)),
	).sort((a, b) => a - b);
	const percent = (log: number) => (100 * (Math.exp(log) - 1)).toFixed(1);
	return `${percent(mean(differences))} % [${percent(drawn[25]!)}, ${percent(drawn[974]!)}]`;
}
console.log(`propose: absolute error of the next ${HORIZON} periods, geometric mean, proposal against …`);
const all: Record<string, number[]> = {};
for (const [name, logs] of groups) {
	const others = Object.keys(logs).filter((key) => key !== 'proposal');
	for (const key of Object.keys(logs)) (all[key] ??= []).push(...logs[key]!);
	console.log(
		`    ${name.padEnd(18)} naive ${against(
			logs.proposal!,
			logs.proposal!.map(() => 0),
		)}   ${others.map((key) => `${key} ${against(logs.proposal!, logs[key]!)}`).join('   ')}`,
	);
}
console.log(
	`    ${'all'.padEnd(18)} naive ${against(
		all.proposal!,
		all.proposal!.map(() => 0),
	)}   ${Object.keys(all)
		.filter((key) => key !== 'proposal')
		.map((key) => `${key} ${against(all.proposal!, all[key]!)}`)
		.join('   ')}`,
);
console.log('against every single method of the pools, where it was tried:');
for (const [name, { own, proposal }] of [...methods].sort((a, b) => b[1].own.length - a[1].own.length))
	console.log(`    ${name.padEnd(44)} ${against(proposal, own)}  (${own.length})`);
console.log(
	`the closest method is the closest at the next origin, ${MAKES.weeks!.origins[1]! - MAKES.weeks!.origins[0]!} periods or less later, in ${again} of ${twice}`,
);
console.log('% inside 80 % and 95 % ranges, first, middle and last step:');
for (const [name, { inside, of }] of held) {
	const shares = (which: 0 | 1) =>
		inside.map((counts, i) => (of[i]! > 0 ? ((100 * counts[which]) / of[i]!).toFixed(0) : '–')).join(', ');
	console.log(`    ${name.padEnd(44)} ${shares(0).padEnd(12)} ${shares(1).padEnd(12)} (${of[0]})`);
}

// Series of 4 to 40 periods of each make: how many proposals have no range one period ahead.
let [bare, short] = [0, 0];
for (const [place, make] of Object.values(MAKES).entries())
	for (let periods = 4; periods <= 40; periods++) {
		const { ahead } = propose({
			series: {
				values: seriesOf(make, 5000 + 100 * place + periods, periods),
				frequency: make.frequency,
				start: START[make.frequency],
			},
			horizon: HORIZON,
		});
		short++;
		if (!ahead[0]?.ranges['0.95']) bare++;
	}
console.log(`without a range: ${bare} of ${short} proposals of 4 to 40 periods`);

for (const periods of [40, 60, 120, 400]) {
	const times: number[] = [];
	for (let i = 0; i < 24; i++) {
		const values = seriesOf(Object.values(MAKES)[i % 7]!, 900 + i, periods);
		const began = performance.now();
		propose({ series: { values, frequency: 'month', start: '1990-01' }, horizon: HORIZON });
		if (i >= 7) times.push(performance.now() - began);
	}
	const sorted = [...times].sort((a, b) => a - b);
	console.log(
		`    a proposal of ${periods} months: ${median(times).toFixed(0)} ms in the median, ${sorted[Math.floor(0.95 * sorted.length)]!.toFixed(0)} ms at the 95th percentile`,
	);
}
