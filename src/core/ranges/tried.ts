import { orNull } from '../numbers/known';
import { studentQuantile } from '../numbers/student';
import { ENOUGH, type HonestErrors, type Ranges } from './contract';
import { shownRange } from './shown';

/** A world that changes is less sure than its past errors say. */
const MARGIN = 1.03;
/** No forecast errs as one of less than this share of the mean would. */
const LEAST_SIZE = 0.05;
/** How much less each further step is sure of; how much less each further period of a sum. */
const FADED = 0.03;
const FADED_SUM = 0.5;

/** Root mean squares of what lay above and below a forecast, as shares of the root of its size; and of all errors as they are. */
interface Founded {
	step: number;
	up: number;
	down: number;
	root: number;
	count: number;
}

/**
 * Ranges from honest errors, each taken as a share of the root of its forecast where demand never was below zero: large forecasts
 * err by more than small ones, though by less than in proportion. What lay above and what lay below count apart, each with half
 * of all of them, and neither is less than a step before. The quantile is Student's, with half as many degrees of freedom as there
 * are errors, since neighbouring origins share most of what they know, and fewer the further ahead. With fewer than 8 errors at a
 * step, the last one with as many stands in, times √(h / that step); about a sum of steps, whose errors are sums too, times
 * (h / that step).
 * @param actual n actuals known when the ranges are given, NaN where missing
 */
export function trialRanges(errors: HonestErrors, actual: Float64Array): Ranges {
	const { sizeOf, never } = sizes(actual);
	const single = widths(
		(step, seen) => eachError(errors, actual, step, 1, seen),
		(forecast) => sizeOf(forecast, 1),
	);
	const degreesOf = ({ count, step }: Founded) => Math.max(1, count / 2 / (1 + FADED * (step - 1)));
	const degreesOfSum = ({ count, step }: Founded) => Math.max(1, count / (2 + FADED_SUM * (step - 1)));
	// Asked for once, where single steps are asked for at every origin.
	let known: Founded[] | null = null;
	const summed = () => (known ??= widths((steps, seen) => eachError(errors, actual, 1, steps, seen), sizeOf));
	/** What stands at a step: its own, or the last that rests on enough errors. */
	const at = (founded: readonly Founded[], step: number): Founded | undefined =>
		founded[Math.min(step, founded.length) - 1];
	const ends = (mean: number, { up, down }: Founded, width: number): [number, number] | null => {
		const [low, high] = [mean - width * down, mean + width * up];
		if (!Number.isFinite(low) || !Number.isFinite(high)) return null;
		return shownRange<[number, number]>([low, high], never);
	};
	const ofSum = (sum: number, steps: number, tail: number) => {
		const found = at(summed(), steps);
		if (!found) return null;
		const t = studentQuantile(tail, degreesOfSum(found));
		return ends(sum, found, MARGIN * t * (steps / found.step) * sizeOf(sum, steps));
	};
	return {
		kind: 'trial',
		basis: { count: single.at(-1)?.count ?? 0, step: single.length },
		spread(step) {
			const found = at(single, step);
			return found ? orNull(found.root * Math.sqrt(step / found.step)) : null;
		},
		around(mean, step, level) {
			const found = at(single, step);
			if (!found) return null;
			const t = studentQuantile((1 + level) / 2, degreesOf(found));
			return ends(mean, found, MARGIN * t * Math.sqrt(step / found.step) * sizeOf(mean, 1));
		},
		together: (sum, steps, level) => ofSum(sum, steps, (1 + level) / 2),
		stock: (sum, steps, service) => ofSum(sum, steps, service)?.[1] ?? null,
	};
}

/** How a forecast's size scales its error, by what is known of the series. */
function sizes(actual: Float64Array) {
	let [sum, count, never] = [0, 0, true];
	for (const value of actual) {
		if (Number.isNaN(value)) continue;
		sum += Math.abs(value);
		count++;
		if (value < 0) never = false;
	}
	const least = (LEAST_SIZE * sum) / count;
	// Where nothing ever came all are alike.
	const sizeOf = (forecast: number, steps: number) =>
		never && least > 0 ? Math.sqrt(Math.max(forecast, steps * least)) : 1;
	return { sizeOf, never };
}

/** Told of each error with the forecast that it belongs to. */
type Seen = (error: number, forecast: number) => void;

/** Goes through the errors of the sums of so many steps from a step on, origin by origin. Asked at every origin of a trial: it makes nothing. */
function eachError(
	{ rows, origins }: HonestErrors,
	actual: Float64Array,
	step: number,
	steps: number,
	seen: Seen,
): void {
	const to = step - 1 + steps;
	for (let place = 0; place < rows.length; place++) {
		const row = rows[place]!;
		if (row.length < to) continue;
		const from = origins[place]!;
		let [error, forecast] = [0, 0];
		for (let h = step - 1; h < to; h++) {
			error += row[h]!;
			forecast += actual[from + h]! - row[h]!;
		}
		if (!Number.isNaN(error)) seen(error, forecast);
	}
}

/** What is found step by step, as far as there are enough errors. */
function widths(
	eachAt: (step: number, seen: Seen) => void,
	sizeAt: (forecast: number, step: number) => number,
): Founded[] {
	const founded: Founded[] = [];
	for (let step = 1; ; step++) {
		let [count, above, below, squared] = [0, 0, 0, 0];
		eachAt(step, (error, forecast) => {
			const share = error / sizeAt(forecast, step);
			count++;
			squared += error * error;
			if (share > 0) above += share * share;
			else below += share * share;
		});
		if (count < ENOUGH) return founded;
		const before = founded.at(-1) ?? { up: 0, down: 0, root: 0 };
		const half = (above + below) / 2;
		founded.push({
			step,
			up: Math.max(before.up, Math.sqrt((above + half) / count)),
			down: Math.max(before.down, Math.sqrt((below + half) / count)),
			root: Math.max(before.root, Math.sqrt(squared / count)),
			count,
		});
	}
}
