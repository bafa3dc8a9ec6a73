import { scoredBy } from './fit';
import { parametersOf } from '../methods/carry';
import type { Constant } from '../contract/candidate';
import type { Criterion } from '../contract/criteria';
import { type Candidate, constantsOfCandidate, methodOf, tunedSettings } from '../methods/registry';
import type { Series } from '../series/series';
import { Problem } from '../search/problem';
import type { Search } from '../contract/found';
import { searchParameters } from '../search/search';

/** What a terrain is asked of. */
export interface TerrainInput {
	/**
	 * A candidate with its constants as they stand; those off the axes are held there. A start that is searched is
	 * to be given as it was found.
	 */
	candidate: Candidate;
	/** One constant for a curve, two for a map. */
	axes: readonly Constant['key'][];
	criterion: Criterion;
	/** 1-based first period that counts; null: the candidate's own. */
	scoreFrom: number | null;
}

/** The criterion over one or two constants, everything else held. */
export interface Terrain {
	/** Values of each axis, in ascending order. */
	axes: { key: Constant['key']; values: number[] }[];
	/** The criterion at each point, the first axis running fastest; null where the recursion leads nowhere. */
	values: (number | null)[];
	/** Every valley of this terrain, the deepest first; constants on the axes and held. */
	valleys: Search['basins'];
	/** Along each axis from the deepest valley, the stretch within 1 % of it. */
	flat: Search['flat'];
	/** Which axes' best lies on the edge of the terrain. */
	atBound: string[];
}

const CURVE_POINTS = 161;
const MAP_POINTS = 45;

/**
 * The criterion of a candidate's fitted values over one or two of its constants.
 * @throws CannotRun where the candidate does not run, or the criterion does not exist
 */
export function terrain(series: Series, { candidate, axes, criterion, scoreFrom }: TerrainInput): Terrain {
	const model = methodOf(candidate.method).bind(series, candidate);
	const { constants = {} } = tunedSettings(candidate);
	const parameters = parametersOf(model, constants);
	const scored = scoredBy(series, model, parameters, scoreFrom ?? model.firstFitted);

	const places = axes.map((key) => model.parameters.findIndex((parameter) => parameter.key === key));
	const bounds = places.map((place) => model.parameters[place]!.bounds);
	const problem = new Problem(model, series.values, scored, criterion, parameters.slice(), places, bounds);
	const count = axes.length === 1 ? CURVE_POINTS : MAP_POINTS;
	const steps = bounds.map(([low, high]) =>
		Array.from({ length: count }, (_, i) => low + ((high - low) * i) / (count - 1)),
	);
	const [across, up = [0]] = steps;
	const values = up.flatMap((second) =>
		across!.map((first) => {
			const value = problem.value([first, second]);
			return Number.isFinite(value) ? value : null;
		}),
	);

	const hold = Object.fromEntries(
		constantsOfCandidate(candidate)
			.filter(({ key }) => !axes.includes(key))
			.map(({ key, fallback }) => [key, constants[key] ?? fallback]),
	);
	const { search } = searchParameters(model, series.values, scored, { criterion, hold });
	return {
		axes: axes.map((key, i) => ({ key, values: steps[i]! })),
		values,
		valleys: search.basins,
		flat: search.flat,
		atBound: search.atBound,
	};
}
