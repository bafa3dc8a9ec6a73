import { CannotRun, type Criterion, type Model, type OptimiseInput } from '../methods/method';
import { bestAffine } from './affine';
import { criterionValue } from './criterion';
import { type IntervalMinimum, minimiseOnInterval, type Valley } from './interval';

/** What a search found; constants by name. */
export interface Search {
	criterion: Criterion;
	value: number;
	/** Passes over the series. */
	evaluations: number;
	/** Distinct minima, deepest first. */
	basins: { constants: Record<string, number>; value: number }[];
	/**
	 * For each searched constant, the range around the best over which the criterion stays within 1 % of it;
	 * searched start values are found anew at each place.
	 */
	flat: Record<string, [number, number]>;
	/** Constants that ended on a bound of their search. */
	atBound: string[];
}

export interface Found {
	/** All parameters of the model, the best values among them. */
	parameters: Float64Array;
	/** How many of them were searched. */
	searched: number;
	search: Search;
}

const FLAT = 1.01;
/** How closely the ends of a flat range are found; they are read to two decimals. */
const FLAT_WIDTH = 5e-4;

/**
 * Finds the constants (and start values) of a model that minimise a criterion over the scored periods.
 * What is held stays; what is not held is searched within its bounds. The same request has the same answer.
 * @throws CannotRun where the criterion does not exist on this series.
 */
export function searchParameters(
	model: Model,
	actual: Float64Array,
	scored: Int32Array,
	optimise: OptimiseInput,
): Found {
	const criterion = optimise.criterion ?? 'mse';
	const fitted = new Float64Array(actual.length);
	const parameters = Float64Array.from(model.parameters, (parameter) => parameter.fallback);
	let evaluations = 0;
	const valueNow = () => {
		evaluations++;
		model.pass(parameters, fitted);
		return criterionValue(criterion, actual, fitted, scored);
	};

	const held = optimise.hold ?? {};
	const free: number[] = [];
	model.parameters.forEach((parameter, index) => {
		const hold = held[parameter.key];
		if (hold === undefined) free.push(index);
		else parameters[index] = hold;
	});
	const affine = free.filter((index) => model.parameters[index]!.affine);
	const bent = free.filter((index) => !model.parameters[index]!.affine);
	if (affine.length > 1 || bent.length > 1) {
		throw new Error(`A search of ${free.length} values at once is not there yet.`);
	}

	const base = new Float64Array(actual.length);
	const gain = new Float64Array(actual.length);
	/** Puts the straight-line parameter at its best for the others as they stand. */
	const settle = () => {
		for (const index of affine) {
			parameters[index] = 0;
			model.pass(parameters, base);
			parameters[index] = 1;
			model.pass(parameters, gain);
			evaluations += 2;
			for (let i = 0; i < gain.length; i++) gain[i]! -= base[i]!;
			const best = bestAffine(criterion, actual, base, gain, scored, (x) => {
				parameters[index] = x;
				return valueNow();
			});
			parameters[index] = Number.isNaN(best) ? model.parameters[index]!.fallback : best;
		}
		return valueNow();
	};

	const [moved] = bent;
	if (moved === undefined) {
		const value = settle();
		refuseWithout(criterion, value, scored.length);
		const constants = constantsOf(model, parameters);
		const search = { criterion, value, evaluations, basins: [{ constants, value }], flat: {}, atBound: [] };
		return { parameters, searched: free.length, search };
	}

	const { key, bounds } = model.parameters[moved]!;
	const [low, high] = optimise.bounds?.[key] ?? bounds;
	const at = (x: number) => {
		parameters[moved] = x;
		return settle();
	};
	// Squared errors are smooth in the constants; the others have a kink wherever an error changes sign.
	const cells = criterion === 'mse' ? 32 : 128;
	const minimum = minimiseOnInterval(at, low, high, { cells, most: 900 });
	const best = minimum.valleys[0]!;
	refuseWithout(criterion, best.value, scored.length);
	const flat = flatRange(at, minimum, best);
	const basins = minimum.valleys.map((valley) => {
		parameters[moved] = valley.at;
		return { constants: constantsOf(model, parameters), value: valley.value };
	});
	const value = at(best.at);
	const atBound = best.at === low || best.at === high ? [key] : [];
	return {
		parameters,
		searched: free.length,
		search: { criterion, value, evaluations, basins, flat: { [key]: flat }, atBound },
	};
}

/** The values of a model's constants by name, start values left out. */
export function constantsOf(model: Model, parameters: Float64Array): Record<string, number> {
	const constants: Record<string, number> = {};
	model.parameters.forEach((parameter, index) => {
		if (parameter.role === 'constant') constants[parameter.key] = parameters[index]!;
	});
	return constants;
}

function refuseWithout(criterion: Criterion, value: number, scored: number): void {
	if (Number.isFinite(value)) return;
	const name = criterion.toUpperCase();
	throw new CannotRun({
		code: 'criterion-missing',
		text:
			scored === 0
				? `There is no period to score, so ${name} cannot be searched. Bring in more periods or score from an earlier one.`
				: `${name} does not exist for this series: every scored actual is 0. Search by MAD or MSE instead.`,
		figures: { scored },
	});
}

/** The stretch around the best over which the function stays within 1 %, its ends found by halving. */
function flatRange(at: (x: number) => number, { points }: IntervalMinimum, best: Valley): [number, number] {
	const ceiling = best.value * FLAT;
	const start = points.indexOf(best);
	const edge = (direction: -1 | 1): number => {
		let inside = best.at;
		for (let i = start + direction; ; i += direction) {
			const point = points[i];
			if (!point) return inside;
			if (point.value <= ceiling) {
				inside = point.at;
				continue;
			}
			let outside = point.at;
			while (Math.abs(outside - inside) > FLAT_WIDTH) {
				const middle = (inside + outside) / 2;
				if (at(middle) <= ceiling) inside = middle;
				else outside = middle;
			}
			return inside;
		}
	};
	return [edge(-1), edge(1)];
}
