import * as v from 'valibot';
import { BOUNDS } from '../bounds';
import { figureSchema, listSchema, textSchema, weightSchema } from '../schemas';
import type { Series } from '../series/series';
import type { Expression } from '../contract/working';
import { figure, mean, plus, times } from '../working/expression';
import { shapedField } from '../contract/field';
import { fixedModel } from './flat';
import { CannotRun, defineMethod } from '../contract/method';
import type { FittedKind, OtherFit, Run } from '../contract/model';
import type { Spelled } from '../contract/working';

type Weighting = ReturnType<(typeof weightingField)['read']>;

const NO_MEMBERS: string[] = [];

/** The candidates that are combined, by id. */
export const membersField = shapedField(
	{ key: 'of', name: 'candidates', symbol: '', meaning: 'The candidates whose forecasts are averaged.' },
	v.pipe(
		listSchema(
			textSchema('the id of a member', 1, BOUNDS.id),
			'of is a list of ids of candidates',
			'members',
			BOUNDS.candidates,
		),
		v.minLength(1, 'a combination is of one candidate or more'),
		v.check((ids) => new Set(ids).size === ids.length, 'each candidate is named once'),
	),
	NO_MEMBERS,
);

const expected = "weights are 'equal', 'inverse-mse', or a list of figures of at least 0, not all of them 0";

/** How much each of them counts. */
export const weightingField = shapedField(
	{ key: 'weights', name: 'weights', symbol: 'w', meaning: 'How much each candidate counts.' },
	v.union(
		[
			v.picklist(['equal', 'inverse-mse']),
			v.pipe(
				listSchema(weightSchema, expected, 'weights', BOUNDS.candidates),
				v.check((weights) => weights.some((weight) => weight > 0), expected),
			),
		],
		expected,
	),
	'equal',
);

/** What no forecast of it lies below. */
const floorField = shapedField(
	{
		key: 'floor',
		name: 'not below',
		symbol: '',
		meaning: 'Forecasts and fitted values below it are put to it.',
	},
	figureSchema('floor is a finite number'),
	undefined,
);

const WEAKEST: readonly FittedKind[] = ['forecast', 'cycle', 'fit'];

/**
 * The weighted mean of other candidates' fitted values and forecasts, where all that have a weight exist. Weights are equal,
 * given, or the inverse of each one's mean squared error over the periods that all of them are scored on.
 */
export const combination = defineMethod({
	id: 'combination',
	name: 'Combination',
	fits: 'Two or more candidates that miss in different places: their mean is often steadier than the best of them.',
	constants: [],
	fields: [membersField, weightingField, floorField],
	starts: [],
	label(candidate) {
		const count = membersField.read(candidate).length;
		const weights = weightingField.read(candidate);
		const how = weights === 'equal' ? ', equal' : weights === 'inverse-mse' ? ' by MSE' : '';
		return `Combination of ${count}${how}`;
	},
	short: (candidate) => `Combination ${membersField.read(candidate).length}`,
	kind: () => 'forecast',
	follows: () => ({ trend: true, season: 'any' }),
	dependsOn: (candidate) => membersField.read(candidate),
	fitSteps: (candidate, { periods }) => 4 * periods * membersField.read(candidate).length,
	bind(series, candidate, others) {
		const ids = membersField.read(candidate);
		if (!others || ids.length === 0) {
			throw new CannotRun({
				code: 'no-members',
				text: 'A combination is made from other candidates of the line-up. Pick two or more.',
				figures: { needs: 2, has: ids.length },
			});
		}
		const members = ids.map((id) => memberOf(id, series, others));
		const shares = sharesOf(weightingField.read(candidate), members, series.values);
		const used = members.flatMap((member, i) => (shares[i]! > 0 ? [{ ...member, share: shares[i]! }] : []));
		const floor = floorField.read(candidate) ?? -Infinity;
		const runOf = (runs: readonly Run[], n: number): Run => {
			const bases = new Map<string, { share: number; forecast: Run['forecast'] }>();
			runs.forEach((run, i) => {
				const { candidate, share } = used[i]!;
				const own = run.bases ?? new Map([[candidate.id, { share: 1, forecast: run.forecast }]]);
				for (const [id, base] of own) {
					const before = bases.get(id)?.share ?? 0;
					bases.set(id, { share: before + share * base.share, forecast: base.forecast });
				}
			});
			const fitted = new Float64Array(n);
			runs.forEach((run, i) => {
				for (let t = 0; t < n; t++) fitted[t]! += used[i]!.share * run.fitted[t]!;
			});
			notBelow(floor, fitted);
			return {
				fitted,
				start: null,
				states: Object.fromEntries(runs.map((run, i) => [`part ${i + 1}`, run.fitted])),
				figures: Object.fromEntries(used.map(({ share }, i) => [`share ${i + 1}`, share])),
				kind: WEAKEST[Math.max(...used.map(({ kind }) => WEAKEST.indexOf(kind)))]!,
				slope: runs.reduce((sum, run, i) => sum + used[i]!.share * (run.slope ?? 0), 0),
				parts: used.map(({ candidate: { id }, share }, i) => ({
					id,
					share,
					forecast: (origin, out) => runs[i]!.forecast(origin, out),
				})),
				// What is cut off is no weighted mean any more: whoever is made from it asks it as a whole.
				...(floor === -Infinity && { bases }),
				forecast(origin, out) {
					const own = new Float64Array(out.length);
					out.fill(0);
					for (const { share, forecast } of bases.values()) {
						forecast(origin, own);
						for (let h = 0; h < out.length; h++) out[h]! += share * own[h]!;
					}
					notBelow(floor, out);
				},
				over: (longer) =>
					runOf(
						used.map(({ over }) => over(longer)),
						longer.values.length,
					),
			};
		};
		return fixedModel(
			runOf(
				used.map(({ run }) => run),
				series.values.length,
			),
		);
	},
	working(candidate, namesOf) {
		const ids = membersField.read(candidate);
		const weights = weightingField.read(candidate);
		const used = Array.isArray(weights) ? ids.filter((_, i) => weights[i]! > 0) : ids;
		const floor = floorField.read(candidate);
		const least = floor === undefined ? '' : `, not below ${floor}`;
		const spelled = (parts: readonly (readonly [number, number])[]): Spelled => {
			const cut =
				floor !== undefined && parts.reduce((sum, [share, value]) => sum + share * value, 0) < floor;
			return cut
				? { expression: figure(floor), remark: 'the weighted mean lies below it' }
				: { expression: weighed(parts) };
		};
		return {
			forecast: {
				key: 'fitted',
				name: 'Combination',
				equation: `fₜ = Σ w·fₜ ÷ Σ w${least}`,
				explain: (recorded, t) =>
					spelled(
						used.map((_, i) => [recorded.figure(`share ${i + 1}`)!, recorded.state(`part ${i + 1}`, t)!]),
					),
			},
			states: used.map((id, i) => ({
				key: `part ${i + 1}`,
				name: namesOf?.(id).name ?? id,
				short: namesOf?.(id).short,
				equation: `of candidate ${i + 1}`,
				explain: (recorded, t) => ({
					expression: figure(recorded.state(`part ${i + 1}`, t)!),
					remark: 'as that candidate has it',
				}),
			})),
			ahead: `fₙ₊ₕ = Σ w·fₙ₊ₕ ÷ Σ w${least}`,
			explainAhead(recorded, step) {
				const parts = recorded.parts.map(({ share, ahead }) => [share, ahead[step - 1] ?? null] as const);
				if (parts.some(([, value]) => value === null)) return null;
				return spelled(parts.map(([share, value]) => [share, value!]));
			},
		};
	},
});

/** Puts what lies below a floor to it. */
function notBelow(floor: number, values: Float64Array): void {
	for (let i = 0; i < values.length; i++) if (values[i]! < floor) values[i] = floor;
}

/** Shares that are all alike are a plain mean. */
const weighed = (parts: readonly (readonly [number, number])[]): Expression =>
	parts.length > 1 && parts.every(([share]) => share === parts[0]![0])
		? mean(parts.map(([, value]) => figure(value)))
		: plus(...parts.map(([share, value]) => times(figure(share), figure(value))));

function memberOf(id: string, series: Series, others: (id: string, series: Series) => OtherFit): OtherFit {
	try {
		return others(id, series);
	} catch (error) {
		if (!(error instanceof CannotRun)) throw error;
		throw new CannotRun({
			...error.note,
			code: 'member-cannot-run',
			text: `A candidate that this one is made from cannot run: ${error.note.text}`,
		});
	}
}

/** Weights as shares of 1. */
function sharesOf(weights: Weighting, members: readonly OtherFit[], actual: Float64Array): number[] {
	const raw =
		weights === 'equal'
			? members.map(() => 1)
			: weights === 'inverse-mse'
				? inverseSquares(members, actual)
				: weights;
	const sum = raw.reduce((a, b) => a + b, 0);
	return raw.map((weight) => weight / sum);
}

function inverseSquares(members: readonly OtherFit[], actual: Float64Array): number[] {
	const shared = [...members[0]!.scored].filter((i) => members.every(({ scored }) => scored.includes(i)));
	if (shared.length === 0) {
		throw new CannotRun({
			code: 'no-common-window',
			text: 'The candidates of this combination share no scored period, so they cannot be weighted by their errors. Weight them equally, or by your own weights.',
			figures: { shared: 0 },
		});
	}
	const squares = members.map(({ run }) =>
		shared.reduce((sum, i) => sum + (actual[i]! - run.fitted[i]!) ** 2, 0),
	);
	// One without any error takes all the weight.
	return squares.includes(0)
		? squares.map((square) => (square === 0 ? 1 : 0))
		: squares.map((square) => 1 / square);
}
