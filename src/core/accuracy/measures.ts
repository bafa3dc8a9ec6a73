/** Accuracy over a set of scored periods. What cannot be computed is null, never 0, NaN or Infinity. */
import { orNull } from '../numbers/known';

export interface Measures {
	/** Scored periods m. */
	count: number;
	/** Mean error, in units of demand; positive when demand was above the forecast. */
	bias: number | null;
	/** Running sum of errors at the end. */
	cfe: number | null;
	/** Mean absolute deviation. */
	mad: number | null;
	/** Mean squared error, divided by m. */
	mse: number | null;
	rmse: number | null;
	/** Per cent, over the `mapeCount` periods whose actual is not 0. */
	mape: number | null;
	mapeCount: number;
	/** Per cent, symmetric. */
	smape: number | null;
	/** Per cent, Σ|e| over Σ|y|. */
	wape: number | null;
	/** mad over the mean absolute change at `maseLag` periods of the fitting span. */
	mase: number | null;
	maseLag: number;
	/** mad over the mad of the naive forecast, both over the periods where the naive forecast exists too. */
	relativeMae: number | null;
	/** cfe / mad. */
	trackingSignal: number | null;
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
	const m = scored.length;
	let cfe = 0;
	let absolute = 0;
	let squared = 0;
	let demand = 0;
	let percent = 0;
	let percentCount = 0;
	let symmetric = 0;
	let symmetricCount = 0;
	let shared = 0;
	let naiveAbsolute = 0;
	for (let position = 0; position < m; position++) {
		const i = scored[position]!;
		const y = actual[i]!;
		const f = fitted[i]!;
		const error = y - f;
		const size = Math.abs(error);
		cfe += error;
		absolute += size;
		squared += error * error;
		demand += Math.abs(y);
		if (y !== 0) {
			percent += size / Math.abs(y);
			percentCount++;
		}
		const both = Math.abs(y) + Math.abs(f);
		if (both !== 0) {
			symmetric += (2 * size) / both;
			symmetricCount++;
		}
		const naiveError = Math.abs(y - yardstick.naive[i]!);
		if (!Number.isNaN(naiveError)) {
			shared += size;
			naiveAbsolute += naiveError;
		}
	}
	const mse = squared / m;
	const mad = absolute / m;
	return {
		count: m,
		bias: orNull(cfe / m),
		cfe: m > 0 ? orNull(cfe) : null,
		mad: orNull(mad),
		mse: orNull(mse),
		rmse: orNull(Math.sqrt(mse)),
		mape: orNull((100 * percent) / percentCount),
		mapeCount: percentCount,
		smape: orNull((100 * symmetric) / symmetricCount),
		wape: orNull((100 * absolute) / demand),
		mase: orNull(mad / yardstick.change),
		maseLag: yardstick.lag,
		relativeMae: orNull(shared / naiveAbsolute),
		trackingSignal: orNull(cfe / mad),
	};
}
