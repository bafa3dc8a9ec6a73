/**
 * Whether what is proposed is worth more than choosing by the fit: a panel of series of known make, two origins each, errors
 * against the naive forecast's; how often ranges of the mix hold; and what a proposal takes. npm run bench -- propose [series].
 */
import { median } from '../src/core/numbers/median';
import { seededNormal, seededUniform } from '../src/core/numbers/random';
import { evaluate } from '../src/core/questions/evaluate';
import { propose, type Tried } from '../src/core/questions/propose';

const [count = 300] = process.argv.slice(3).map(Number);
const HORIZON = 12;
const SHAPE = [-0.9, -0.7, -0.2, 0.3, 0.9, 1, 0.6, 0.2, -0.1, -0.3, -0.4, -0.4];

type Make = (
	t: number,
	state: { level: number; slope: number },
	draw: () => number,
	uniform: () => number,
) => number;
/** Kinds of demand by month; each keeps a level and a slope. */
const MAKES: Record<string, Make> = {
	'strong season': (t, { level }, draw) => level * (1 + 0.35 * SHAPE[t % 12]!) + 0.05 * level * draw(),
	'weak season': (t, { level }, draw) => level * (1 + 0.06 * SHAPE[t % 12]!) + 0.1 * level * draw(),
	'trend that fades': (t, state, draw) => {
		state.slope *= 0.97;
		state.level += state.slope;
		return state.level * (1 + 0.15 * SHAPE[t % 12]!) + 15 * draw();
	},
	break: (t, state, draw) => {
		if (t === 40) state.level *= 1.5;
		return state.level * (1 + 0.2 * SHAPE[t % 12]!) + 0.06 * state.level * draw();
	},
	'random walk': (_, state, draw) => (state.level = Math.max(20, state.level + 15 * draw())),
	'level with noise': (_, { level }, draw) => level + 0.12 * level * draw(),
	lumpy: (_, { level }, draw, uniform) =>
		uniform() < 0.4 ? 0 : Math.max(0, (level / 20) * (1 + 0.6 * draw())),
};

function seriesOf(make: Make, seed: number, periods: number): number[] {
	const draw = seededNormal(seed);
	const uniform = seededUniform(seed + 31);
	const state = { level: 200 + 400 * uniform(), slope: 8 * draw() };
	return Array.from({ length: periods }, (_, t) => Math.max(0, Math.round(make(t, state, draw, uniform))));
}

const missOf = (means: readonly (number | null)[], actual: readonly number[]) =>
	actual.reduce((sum, value, h) => sum + Math.abs(value - (means[h] ?? 0)), 0);
const ahead = (values: number[], candidates: object[]) =>
	evaluate({
		series: { values, frequency: 'month', start: '2015-01' },
		candidates,
		horizon: HORIZON,
		levels: [0.8, 0.95],
		detail: 'summary',
	}).candidates;

const groups = new Map<string, Record<string, number[]>>();
const held = { inside: [0, 0], of: 0 };
Object.entries(MAKES).forEach(([name, make], group) => {
	const logs: Record<string, number[]> = {
		proposal: [],
		single: [],
		'least fitted error': [],
		'damped seasonal smoothing': [],
	};
	groups.set(name, logs);
	for (let i = 0; i < Math.ceil(count / Object.keys(MAKES).length); i++) {
		const whole = seriesOf(make, 7919 * group + i + 1, 84);
		for (const origin of [60, 72]) {
			const values = whole.slice(0, origin);
			const actual = whole.slice(origin, origin + HORIZON);
			const series = { values, frequency: 'month', start: '2015-01' } as const;
			const proposal = propose({ series, horizon: HORIZON });
			const ran = proposal.tried.filter((one): one is Tried & { ok: true } => one.ok);
			const answers = ahead(values, [
				...ran.map(({ candidate }) => candidate),
				{ id: 'damped', method: 'holt-winters', season: 'additive', trend: 'damped', optimise: {} },
			]);
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
			const least = fitted.sort((a, b) => a.mse - b.mse)[0];
			const log = (key: string, means: readonly (number | null)[]) =>
				logs[key]!.push(Math.log(Math.max(missOf(means, actual), 1) / Math.max(naive, 1)));
			log(
				'proposal',
				proposal.ahead.map(({ mean }) => mean),
			);
			log('single', meansOf(ran[proposal.single]!.candidate.id));
			log('least fitted error', meansOf(least!.id));
			log('damped seasonal smoothing', meansOf('damped'));
			proposal.ahead.forEach(({ ranges }, h) => {
				const [narrow, wide] = [ranges['0.8'], ranges['0.95']];
				if (!narrow || !wide) return;
				held.of++;
				if (actual[h]! >= narrow[0] && actual[h]! <= narrow[1]) held.inside[0]!++;
				if (actual[h]! >= wide[0] && actual[h]! <= wide[1]) held.inside[1]!++;
			});
		}
	}
});

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
console.log(`propose: absolute error of the next ${HORIZON} months, geometric mean, proposal against …`);
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
console.log(
	`    ranges of the proposal: ${((100 * held.inside[0]!) / held.of).toFixed(1)} % inside 80 %, ${((100 * held.inside[1]!) / held.of).toFixed(1)} % inside 95 %`,
);

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
