/**
 * How often what came lay inside the ranges that were given for it, by method, where much and where little was forecast; and how
 * often demand of several periods was more than the stock for it: made-up series of every make, several origins each.
 * npm run bench -- ranges [series] [rule].
 */
import { median } from '../../src/core/numbers/median';
import { METHODS, usualSettings } from '../../src/core/methods/registry';
import type { Evaluated } from '../../src/core/questions/answer';
import { evaluateChecked } from '../../src/core/questions/evaluate';
import { parseRequest } from '../../src/core/questions/request';
import { NEWEST_RULE } from '../../src/core/ranges/contract';
import { holds } from '../../src/core/ranges/holds';
import { panelSeries } from '../../tests/made/panel';

const [count = 300, rangeRule = NEWEST_RULE] = process.argv.slice(3).map(Number);
const HORIZON = 12;
/** Shares of a series that are known at its origins. */
const ORIGINS = [0.6, 0.75, 0.9];
const LEVELS = [0.8, 0.95];
const STEPS = [1, 6, 12];
/** A stock for a service level is the upper end of the range that leaves as much beyond either end. */
const SERVICES = [0.9, 0.95, 0.98];
const LEADS = [2, 6, 12];
const atService = (service: number) => Number((2 * service - 1).toFixed(2));

const candidates = METHODS.flatMap((method) => {
	if (method.dependsOn) return [];
	const settings = {
		...usualSettings(method),
		...(method.constants.length > 0 && { constants: undefined, optimise: {} }),
	};
	const all =
		'season' in settings
			? ['additive', 'multiplicative'].map((season) => ({ ...settings, season }))
			: [settings];
	return all.map((one) => ({ ...one, id: `${method.id}${'season' in one ? ` ${one.season}` : ''}` }));
});
const line = candidates
	.map(({ id }) => id)
	.filter((id) => ['ses', 'deseasonalised additive', 'holt-winters multiplicative'].includes(id));
candidates.push({ id: 'combination', method: 'combination', of: line, weights: 'equal' } as never);

interface Tally {
	kind: string;
	counts: number[];
	inside: number[][];
	missing: number;
}
const tallies = new Map<string, Tally>();

/** Of ranges from a trial: by the half of the steps ahead that more or less is forecast for, and sums over the stock. */
const halves = [0, 1].map(() => ({ of: 0, inside: LEVELS.map(() => 0), above: 0, below: 0 }));
const over = LEADS.map(() => ({ of: 0, over: SERVICES.map(() => 0) }));

for (let seed = 1; seed <= count; seed++) {
	const { values, seasonLength } = panelSeries(seed);
	for (const share of ORIGINS) {
		const origin = Math.floor(share * values.length);
		const answer = evaluateChecked(
			parseRequest({
				series: { values: values.slice(0, origin), frequency: 'step', seasonLength },
				candidates,
				horizon: HORIZON,
				levels: [...new Set([...LEVELS, ...SERVICES.map(atService)])],
				rangeRule: rangeRule as 1 | 2,
				detail: 'summary',
			}),
		);
		for (const candidate of answer.candidates) {
			if (!candidate.ok) continue;
			tally(candidate, values, origin);
			tallySize(candidate, values, origin);
		}
	}
}

function tally({ id, ahead, rangeKind }: Evaluated, values: readonly number[], origin: number): void {
	const own = tallies.get(id) ?? {
		kind: rangeKind,
		counts: STEPS.map(() => 0),
		inside: LEVELS.map(() => STEPS.map(() => 0)),
		missing: 0,
	};
	tallies.set(id, own);
	STEPS.forEach((step, s) => {
		const actual = values[origin + step - 1];
		if (actual === undefined) return;
		const ranges = LEVELS.map((level) => ahead[step - 1]!.ranges[String(level)]);
		if (ranges.some((range) => !range)) {
			own.missing++;
			return;
		}
		own.counts[s]!++;
		ranges.forEach((range, l) => {
			if (holds(range!, actual)) own.inside[l]![s]!++;
		});
	});
}

function tallySize(
	{ ahead, together, rangeKind }: Evaluated,
	values: readonly number[],
	origin: number,
): void {
	if (rangeKind !== 'trial' || values.length < origin + HORIZON) return;
	const means = ahead.map(({ mean }) => mean ?? NaN);
	const middle = median(means);
	if (means.some(Number.isNaN) || means.every((mean) => mean === means[0])) return;
	// By the first rule there may be none.
	if (
		ahead.some(({ ranges }) => ranges[String(LEVELS[0])] === null) ||
		together.some(({ ranges }) => ranges[String(LEVELS[0])] === null)
	)
		return;
	ahead.forEach(({ mean, ranges }, index) => {
		const half = halves[mean! > middle ? 0 : 1]!;
		const actual = values[origin + index]!;
		half.of++;
		LEVELS.forEach((level, l) => {
			if (holds(ranges[String(level)]!, actual)) half.inside[l]!++;
		});
		const [low, high] = ranges[String(LEVELS[0])]!;
		if (actual > high) half.above++;
		if (actual < low) half.below++;
	});
	LEADS.forEach((lead, l) => {
		const sum = values.slice(origin, origin + lead).reduce((a, b) => a + b, 0);
		over[l]!.of++;
		SERVICES.forEach((service, s) => {
			if (sum > together[lead - 1]!.ranges[String(atService(service))]![1]) over[l]!.over[s]!++;
		});
	});
}

console.log(
	`ranges: % of actuals inside, ${STEPS.join(', ')} periods ahead; ${count} series, ${ORIGINS.length} origins each`,
);
for (const [id, { kind, counts, inside, missing }] of tallies) {
	const shares = LEVELS.map(
		(level, l) =>
			`${Math.round(100 * level)} %: ${counts.map((of, s) => (of > 0 ? ((100 * inside[l]![s]!) / of).toFixed(1) : '–').padStart(5)).join(' ')}`,
	);
	console.log(
		`    ${id.padEnd(28)} ${kind}  ${shares.join('   ')}   of ${counts.join(', ')}${missing > 0 ? `; without a range ${missing}` : ''}`,
	);
}
const share = (part: number, of: number) => ((100 * part) / of).toFixed(1);
console.log(`from a trial by rule ${rangeRule}, where forecasts differ from step to step:`);
halves.forEach(({ of, inside, above, below }, i) =>
	console.log(
		`    ${i === 0 ? 'higher' : 'lower'} half of the steps: inside ${inside.map((each) => share(each, of)).join(' / ')} of ${LEVELS.map((level) => 100 * level).join(' / ')} %; beyond 80 % above ${share(above, of)}, below ${share(below, of)}, of ${of}`,
	),
);
over.forEach((lead, l) =>
	console.log(
		`    demand of ${LEADS[l]} periods over the stock for ${SERVICES.map((service) => 100 * service).join(' / ')} %: ${lead.over.map((each) => share(each, lead.of)).join(' / ')} of ${lead.of}`,
	),
);
