/** Accuracy over a set of scored periods. What cannot be computed is null, never 0, NaN or Infinity. */
import { orNull } from '../numbers/known';

/** Sums over the scored periods, from which every measure is made. */
export interface ErrorSums {
	/** Scored periods m. */
	count: number;
	/** Σe, Σ|e|, Σe² and Σ|y|. */
	error: number;
	absolute: number;
	squared: number;
	demand: number;
	/** Σ|e|/|y| over the periods whose actual is not 0, and how many those are. */
	percent: number;
	percentCount: number;
	/** Σ2|e|/(|y|+|f|) over the periods where either is not 0, and how many those are. */
	symmetric: number;
	symmetricCount: number;
	/** Σ|e| of the candidate and of the naive forecast, where both exist. */
	shared: number;
	naive: number;
	/** Mean |y_t − y_{t−lag}| over the fitting span. */
	change: number;
}

/** A measure of accuracy: all that is said, compared, listed and exported of it follows from this. */
export interface Measure {
	/** As it heads a column. */
	name: string;
	/** What it is, in at most twenty words, with its formula. */
	is: string;
	/** What its figures are in; `signal` is compared with its limits. */
	unit: 'demand' | 'demand squared' | 'percent' | 'ratio' | 'signal';
	/** Which figure is better. */
	better: 'low' | 'near zero';
	/** Whether a forecast of 0 has the smallest where demand is rare. */
	misleadsRare?: true;
	/** Whether it has a column in an item's line-up. */
	lineUp?: true;
	/** Whether it has one in the list of items: at once, or where somebody chooses it. */
	list?: 'usual' | 'chosen';
	/** Whether a sweep that tries a line-up keeps it of each candidate. */
	sweep?: true;
	/** NaN or infinite where it does not exist. */
	of: (sums: ErrorSums) => number;
}

const described = <const All extends Readonly<Record<string, Measure>>>(measures: All): All => measures;

/** Every measure, in the order of the columns. */
const DESCRIBED = described({
	mad: {
		name: 'MAD',
		is: 'Mean absolute deviation: Σ |actual − forecast| ÷ n, in units.',
		unit: 'demand',
		better: 'low',
		misleadsRare: true,
		lineUp: true,
		list: 'usual',
		sweep: true,
		of: ({ absolute, count }) => absolute / count,
	},
	mse: {
		name: 'MSE',
		is: 'Mean squared error: Σ (actual − forecast)² ÷ n. Large errors count more.',
		unit: 'demand squared',
		better: 'low',
		lineUp: true,
		sweep: true,
		of: ({ squared, count }) => squared / count,
	},
	rmse: {
		name: 'RMSE',
		is: 'The root of MSE, in units.',
		unit: 'demand',
		better: 'low',
		of: ({ squared, count }) => Math.sqrt(squared / count),
	},
	mape: {
		name: 'MAPE',
		is: 'Mean absolute percentage error: the mean of |error| ÷ |actual|. Periods of 0 are left out.',
		unit: 'percent',
		better: 'low',
		misleadsRare: true,
		lineUp: true,
		list: 'usual',
		sweep: true,
		of: ({ percent, percentCount }) => (100 * percent) / percentCount,
	},
	smape: {
		name: 'sMAPE',
		is: 'Symmetric MAPE: the mean of 2 |error| ÷ (|actual| + |forecast|).',
		unit: 'percent',
		better: 'low',
		misleadsRare: true,
		of: ({ symmetric, symmetricCount }) => (100 * symmetric) / symmetricCount,
	},
	wape: {
		name: 'WAPE',
		is: 'Σ |actual − forecast| ÷ Σ |actual|: errors as a share of demand.',
		unit: 'percent',
		better: 'low',
		misleadsRare: true,
		of: ({ absolute, demand }) => (100 * absolute) / demand,
	},
	mase: {
		name: 'MASE',
		is: 'MAD over the mean change from one cycle to the next; below 1 is better than that.',
		unit: 'ratio',
		better: 'low',
		misleadsRare: true,
		list: 'chosen',
		of: ({ absolute, count, change }) => absolute / count / change,
	},
	relativeMae: {
		name: 'relative MAE',
		is: 'MAD over naive’s MAD for the same periods. Below 1 the candidate is better.',
		unit: 'ratio',
		better: 'low',
		misleadsRare: true,
		of: ({ shared, naive }) => shared / naive,
	},
	bias: {
		name: 'bias',
		is: 'Mean error: Σ (actual − forecast) ÷ n. Above 0 the forecasts were too low.',
		unit: 'demand',
		better: 'near zero',
		lineUp: true,
		list: 'usual',
		of: ({ error, count }) => error / count,
	},
	cfe: {
		name: 'running sum of errors',
		is: 'Σ (actual − forecast) so far. It stays near 0 where the forecast is unbiased.',
		unit: 'demand',
		better: 'near zero',
		of: ({ error, count }) => (count > 0 ? error : NaN),
	},
	trackingSignal: {
		name: 'tracking signal',
		is: 'Running sum of errors ÷ MAD so far. Outside ±4 alone is no alarm: it moves further the longer it runs.',
		unit: 'signal',
		better: 'near zero',
		lineUp: true,
		list: 'usual',
		sweep: true,
		of: ({ error, absolute, count }) => error / (absolute / count),
	},
});

export type MeasureId = keyof typeof DESCRIBED;
export const MEASURES: Readonly<Record<MeasureId, Measure>> = DESCRIBED;
export const MEASURE_IDS = Object.keys(MEASURES) as readonly MeasureId[];

type Where = 'lineUp' | 'list' | 'sweep';
/** Those that have a column somewhere. */
export type MeasureIn<Place extends Where> = {
	[Id in MeasureId]: (typeof DESCRIBED)[Id] extends Record<Place, unknown> ? Id : never;
}[MeasureId];
/** The same, from left to right. */
export const measuresIn = <Place extends Where>(where: Place): readonly MeasureIn<Place>[] =>
	MEASURE_IDS.filter((id): id is MeasureIn<Place> => where in MEASURES[id]);

/** What the errors of some periods come to; null where a measure does not exist for them. */
export interface Measures extends Record<MeasureId, number | null> {
	/** Scored periods m. */
	count: number;
	/** Periods that `mape` is over. */
	mapeCount: number;
	/** Lag of the changes that `mase` is scaled by. */
	maseLag: number;
}

/** What the scaled measures are scaled by; the same for every candidate of a series. */
export interface Yardstick {
	/** Naive one-step forecasts, NaN where there is none; as long as the series. */
	naive: Float64Array;
	/** Mean |y_t − y_{t−lag}| over the fitting span; NaN where there is none. */
	change: number;
	lag: number;
}

/** Mean |y_t − y_{t−lag}| over the first `span` periods, pairs with a missing end left out. */
export function meanChange(values: Float64Array, lag: number, span: number): number {
	let sum = 0;
	let count = 0;
	for (let i = lag; i < span; i++) {
		const change = Math.abs(values[i]! - values[i - lag]!);
		if (Number.isNaN(change)) continue;
		sum += change;
		count++;
	}
	return count > 0 ? sum / count : NaN;
}

/** What `mase` is scaled by: the mean change over one cycle in the first `span` periods, or from period to period without a season. */
export function changeScale(
	values: Float64Array,
	seasonLength: number,
	span: number,
): Pick<Yardstick, 'change' | 'lag'> {
	const lag = Math.max(1, seasonLength);
	return { change: meanChange(values, lag, span), lag };
}

/**
 * All measures over the given periods.
 * @param actual n actuals
 * @param fitted n fitted values
 * @param scored 0-based positions where both exist
 */
export function measure(
	actual: Float64Array,
	fitted: Float64Array,
	scored: ArrayLike<number>,
	yardstick: Yardstick,
): Measures {
	const sums: ErrorSums = {
		count: scored.length,
		error: 0,
		absolute: 0,
		squared: 0,
		demand: 0,
		percent: 0,
		percentCount: 0,
		symmetric: 0,
		symmetricCount: 0,
		shared: 0,
		naive: 0,
		change: yardstick.change,
	};
	for (let position = 0; position < scored.length; position++) {
		const i = scored[position]!;
		const y = actual[i]!;
		const f = fitted[i]!;
		const error = y - f;
		const size = Math.abs(error);
		sums.error += error;
		sums.absolute += size;
		sums.squared += error * error;
		sums.demand += Math.abs(y);
		if (y !== 0) {
			sums.percent += size / Math.abs(y);
			sums.percentCount++;
		}
		const both = Math.abs(y) + Math.abs(f);
		if (both !== 0) {
			sums.symmetric += (2 * size) / both;
			sums.symmetricCount++;
		}
		const naiveError = Math.abs(y - yardstick.naive[i]!);
		if (!Number.isNaN(naiveError)) {
			sums.shared += size;
			sums.naive += naiveError;
		}
	}
	const measures = { count: sums.count, mapeCount: sums.percentCount, maseLag: yardstick.lag } as Measures;
	for (const id of MEASURE_IDS) measures[id] = orNull(MEASURES[id].of(sums));
	return measures;
}
