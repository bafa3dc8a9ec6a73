/**
 * Rare demand, simulated: how far proposals are off the true rate, how many forecast nothing, and how often demand exceeded the
 * stock that was named for it, over 3 and 12 periods. npm run bench -- rare [items].
 */
import { diagnose } from '../../src/core/diagnosis/diagnosis';
import { methodOf } from '../../src/core/methods/registry';
import { seededUniform } from '../../src/core/numbers/random';
import { evaluate } from '../../src/core/questions/evaluate';
import { type Proposal, propose } from '../../src/core/questions/propose';

const [count = 240] = process.argv.slice(3).map(Number);
const KNOWN = 60;
const LEADS = [3, 12];
const SERVICES = [0.9, 0.95, 0.98];
/** Futures that the stock of each item is held against. */
const FUTURES = 200;
const CHANCES = [0.08, 0.15, 0.3, 0.5];

/** Sizes of one demand: a piece at a time, a few with a long tail, and boxes of many. */
const SIZES: readonly { name: string; draw: (uniform: () => number) => number }[] = [
	{ name: 'single pieces', draw: () => 1 },
	{ name: 'a few', draw: (uniform) => 1 + Math.floor(Math.log(1 - uniform()) / Math.log(1 - 1 / 3)) },
	{ name: 'many', draw: (uniform) => 4 + Math.floor(9 * uniform()) },
];

interface Make {
	name: string;
	chance: number;
	draw: (uniform: () => number) => number;
	/** Demand that comes in runs: the chance after a demand, over that after none. */
	runs: number;
}
const MAKES: readonly Make[] = SIZES.flatMap(({ name, draw }) =>
	CHANCES.flatMap((chance) => [1, 2].map((runs) => ({ name, chance, draw, runs }))),
);

/** A series of so many periods that goes on from whether demand came last. */
function drawn(
	{ chance, draw, runs }: Make,
	uniform: () => number,
	periods: number,
	came: boolean,
): number[] {
	// Such that over the long run as many periods have demand whatever the runs.
	const after = Math.min(0.9, chance * runs);
	const otherwise = (chance * (1 - after)) / (1 - chance);
	return Array.from({ length: periods }, () => {
		came = uniform() < (came ? after : otherwise);
		return came ? draw(uniform) : 0;
	});
}

const meanSize = ({ draw }: Make) => {
	const uniform = seededUniform(99);
	return Array.from({ length: 20_000 }, () => draw(uniform)).reduce((a, b) => a + b, 0) / 20_000;
};
const sizes = new Map(MAKES.map((make) => [make, meanSize(make)]));

const off: number[] = [];
/** The same of each method that was tried, by itself. */
const alone = new Map<string, number[]>();
const offOf = new Map<string, number[]>();
let [nothing, without, seasonal] = [0, 0, 0];
/** Of items whose demand comes by itself, and of those where it comes in runs. */
const ALIKE = ['all', 'by itself', 'in runs'] as const;
const exceeded = ALIKE.map(() => LEADS.map(() => SERVICES.map(() => 0)));
const stocked = ALIKE.map(() => 0);

for (let item = 0; item < count; item++) {
	const make = MAKES[item % MAKES.length]!;
	const uniform = seededUniform(1000 + item);
	const values = drawn(make, uniform, KNOWN, false);
	if (values.every((value) => value === 0)) continue;
	const series = { values, frequency: 'month' as const, start: '2020-01' };
	const proposal: Proposal = propose({ series, horizon: 12 });
	if (proposal.diagnosis.season) seasonal++;
	const rate = make.chance * sizes.get(make)!;
	const forecast = proposal.ahead[0]?.mean ?? 0;
	if (forecast === 0) nothing++;
	const away = Math.abs(forecast - rate) / rate;
	off.push(away);
	const key = `${make.name}${make.runs > 1 ? ', in runs' : ''}`;
	offOf.set(key, [...(offOf.get(key) ?? []), away]);
	for (const one of proposal.tried) {
		const [own] = evaluate({ series, candidates: [one.candidate], horizon: 1, detail: 'summary' }).candidates;
		const mean = own?.ok ? own.ahead[0]!.mean : null;
		if (mean === null) continue;
		const label = methodOf(one.candidate.method).label(one.candidate);
		alone.set(label, [...(alone.get(label) ?? []), Math.abs(mean - rate) / rate]);
	}
	if (!proposal.candidate) continue;
	const stocks = SERVICES.map((service) => {
		const [own] = evaluate({
			series,
			candidates: [proposal.candidate, ...proposal.others],
			horizon: Math.max(...LEADS),
			service,
			detail: 'summary',
		}).candidates;
		return own?.ok ? LEADS.map((lead) => own.together[lead - 1]!.stock ?? null) : null;
	});
	if (stocks.some((stock) => stock === null || stock.includes(null))) {
		without++;
		continue;
	}
	const kinds = [0, make.runs > 1 ? 2 : 1];
	for (const kind of kinds) stocked[kind]!++;
	for (let future = 0; future < FUTURES; future++) {
		const ahead = drawn(make, uniform, Math.max(...LEADS), values.at(-1)! > 0);
		LEADS.forEach((lead, l) => {
			const sum = ahead.slice(0, lead).reduce((a, b) => a + b, 0);
			SERVICES.forEach((_, s) => {
				if (sum > stocks[s]![l]!) for (const kind of kinds) exceeded[kind]![l]![s]! += 1 / FUTURES;
			});
		});
	}
}

const mean = (list: readonly number[]) => list.reduce((a, b) => a + b, 0) / list.length;
const spread = Math.sqrt(mean(off.map((each) => (each - mean(off)) ** 2)) / off.length);
console.log(
	`rare: ${off.length} items of ${KNOWN} months, a season found in ${seasonal}; proposals are ${(100 * mean(off)).toFixed(1)} % off the true rate in the mean [${(100 * (mean(off) - 1.96 * spread)).toFixed(1)}, ${(100 * (mean(off) + 1.96 * spread)).toFixed(1)}], ${nothing} forecast nothing, ${without} have no stock`,
);
for (const [key, list] of offOf) console.log(`    ${key.padEnd(24)} ${(100 * mean(list)).toFixed(1)} % off`);
for (const [label, list] of alone)
	if (list.length >= off.length / 2)
		console.log(`    ${label.padEnd(24)} ${(100 * mean(list)).toFixed(1)} % off by itself`);
// Whether demand is called rare where it is: more than 30 % of all months without any, over the long run.
for (const chance of [0.85, 0.8, 0.75, 0.65, 0.6, 0.5]) {
	let called = 0;
	for (let item = 0; item < count; item++) {
		const values = drawn(
			{ name: '', chance, draw: SIZES[item % SIZES.length]!.draw, runs: 1 },
			seededUniform(7000 + item),
			KNOWN,
			false,
		);
		if (diagnose(values, { frequency: 'month', expected: 12, only: true }).rare) called++;
	}
	console.log(
		`    of items with demand in ${Math.round(100 * chance)} % of months ${((100 * called) / count).toFixed(1)} % are called rare`,
	);
}
ALIKE.forEach((name, kind) =>
	LEADS.forEach((lead, l) =>
		console.log(
			`    ${name}: demand over the stock for ${SERVICES.map((service) => Math.round(100 * service)).join(' / ')} % over ${lead} months: ${exceeded[kind]![l]!.map((times) => ((100 * times) / stocked[kind]!).toFixed(1)).join(' / ')} %`,
		),
	),
);
