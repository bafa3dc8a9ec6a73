/**
 * How often what came lay inside the ranges that were given for it, by method: made-up series of every make, several origins
 * each. npm run bench -- ranges [series].
 */
import { METHODS, usualSettings } from '../src/core/methods/registry';
import type { Evaluated } from '../src/core/questions/answer';
import { evaluateChecked } from '../src/core/questions/evaluate';
import { parseRequest } from '../src/core/questions/request';
import { panelSeries } from '../tests/support/panel';

const [count = 300] = process.argv.slice(3).map(Number);
const HORIZON = 12;
/** Shares of a series that are known at its origins. */
const ORIGINS = [0.6, 0.75, 0.9];
const LEVELS = [0.8, 0.95];
const STEPS = [1, 6, 12];

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

for (let seed = 1; seed <= count; seed++) {
	const { values, seasonLength } = panelSeries(seed);
	for (const share of ORIGINS) {
		const origin = Math.floor(share * values.length);
		const answer = evaluateChecked(
			parseRequest({
				series: { values: values.slice(0, origin), frequency: 'step', seasonLength },
				candidates,
				horizon: HORIZON,
				levels: LEVELS,
				detail: 'summary',
			}),
		);
		for (const candidate of answer.candidates) if (candidate.ok) tally(candidate, values, origin);
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
			if (actual >= range![0] && actual <= range![1]) own.inside[l]![s]!++;
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
