import type { Series } from '../series/series';
import { cyclesOf } from './cycles';
import { beliefIn, type Indices, normalised, seasonIndices, type SeasonKind } from './indices';
import type { IndexInput } from './settings';

/**
 * The indices of the first `to` periods of a series by its settings: its own, or those that its group lends it. What cannot be told
 * is NaN, all of it where a group is to lend and there is none.
 * @param centred the centred average of all its figures, where it was calculated before
 */
export function indicesOf(
	series: Series,
	kind: SeasonKind,
	input: IndexInput,
	to = series.values.length,
	centred?: Float64Array,
): Indices {
	if (to < series.values.length) return makeIndices(series, kind, input, to, centred);
	const made = known.get(series) ?? new Map<string, Indices>();
	known.set(series, made);
	const key = JSON.stringify([kind, input]);
	const indices = made.get(key) ?? makeIndices(series, kind, input, to, centred);
	made.set(key, indices);
	return indices;
}

/** Candidates with the same settings have the same indices of a series: whoever asks first has them made. */
const known = new WeakMap<Series, Map<string, Indices>>();

function makeIndices(
	series: Series,
	kind: SeasonKind,
	{ lent, ...input }: IndexInput,
	to: number,
	centred: Float64Array | undefined,
): Indices {
	const cycles = cyclesOf(series);
	const { length } = cycles;
	const own = seasonIndices(series.values, cycles, kind, input, to, centred);
	if (!lent) return own;
	const group = groupIndices(series, kind, input, to);
	if (lent === 'group') {
		const none = new Float64Array(series.values.length).fill(NaN);
		const averages = new Float64Array(length).fill(NaN);
		return { bases: none, ratios: none, averages, ...alike(group), weight: 0, group, from: 0, to };
	}
	// A season that the item itself tells nothing of is the group's.
	const before = own.averages.map((average, j) => (Number.isNaN(average) ? group[j]! : average));
	const whole = normalised(before, kind);
	const weight = beliefIn(whole, own.ratios, cycles, (j) => group[j]!) ?? 0;
	const after = whole.map((index, j) => group[j]! + weight * (index - group[j]!));
	return { ...own, before, whole, weight, after, group };
}

const alike = (indices: Float64Array) => ({ before: indices, whole: indices, after: indices });

/** What the group lends: its indices by the same rule; of an added season in proportion to what the item sells of it. */
function groupIndices(series: Series, kind: SeasonKind, input: IndexInput, to: number): Float64Array {
	const { group, first, seasonLength } = series;
	if (!group) return new Float64Array(seasonLength).fill(NaN);
	const known = Math.max(0, Math.min(group.values.length, first + to - group.first));
	const { after } = seasonIndices(group.values, cyclesOf(group), kind, input, known);
	// A level that is below zero by its season is none that could be lent.
	if (kind === 'multiplicative') return after.map((index) => (index < 0 ? NaN : index));
	let [own, whole] = [0, 0];
	for (let i = 0; i < to; i++) {
		const beside = group.values[first + i - group.first] ?? NaN;
		if (Number.isNaN(series.values[i]! + beside)) continue;
		own += series.values[i]!;
		whole += beside;
	}
	return after.map((index) => index * (own / whole));
}
