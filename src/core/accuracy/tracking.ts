import * as v from 'valibot';
import { BOUNDS } from '../bounds';
import { figureSchema, wholeSchema } from '../schemas';
import { signed } from '../numbers/figure';
import { seededNormal } from '../numbers/random';

const positive = (message: string) => v.pipe(figureSchema(message), v.gtValue(0, message));
const limit = v.optional(positive('the limit is a figure above 0'));
/** How the tracking signal is kept: over everything, over the last `periods`, or smoothed with `constant`. */
export const trackingSchema = v.variant('kind', [
	v.strictObject({ kind: v.literal('running'), limit }),
	v.strictObject({
		kind: v.literal('rolling'),
		periods: wholeSchema(1, BOUNDS.periods, 'the number of periods that a rolling signal runs over'),
		limit,
	}),
	v.strictObject({
		kind: v.literal('smoothed'),
		constant: v.pipe(
			positive('the constant lies above 0 and at most at 1'),
			v.maxValue(1, 'the constant lies above 0 and at most at 1'),
		),
		limit,
	}),
]);

export type TrackingInput = v.InferOutput<typeof trackingSchema>;

/** The tracking signal as it is kept: one entry a scored period, in order. */
export interface Tracking {
	/** 0-based positions in the series. */
	positions: Int32Array;
	errors: Float64Array;
	/** Sums of errors (or their smoothed form). */
	cfe: Float64Array;
	/** Mean absolute errors (or their smoothed form). */
	mad: Float64Array;
}

/** The signal at an entry, cfe / mad; null while mad is 0 and where there is no such entry. */
export function signalAt({ cfe, mad }: Tracking, entry: number): number | null {
	return mad[entry]! > 0 ? cfe[entry]! / mad[entry]! : null;
}

/** The signal where it stands now. */
export const lastSignal = (tracking: Tracking): number | null =>
	signalAt(tracking, tracking.positions.length - 1);

/** Usual limit of the running signal, in MAD. */
export const RUNNING_LIMIT = 4;

/** Limits unless told otherwise: ±4 MAD, ±0.5 for the smoothed signal, which cannot leave ±1. */
export function trackingLimit(tracking: TrackingInput): number {
	return tracking.limit ?? (tracking.kind === 'smoothed' ? 0.5 : RUNNING_LIMIT);
}

/** Whether a signal lies outside its limits; on them, rounding apart, is inside. */
export const isOutside = (signal: number | null, limit: number): boolean =>
	signal !== null && Math.abs(signal) > limit * (1 + 1e-9);

/** A signal as it is said: one place, two for a limit below 1, and more where it would look like the limit itself. */
export function signalWords(signal: number | null, limit: number): string {
	let decimals = limit < 1 ? 2 : 1;
	if (isOutside(signal, limit))
		while (decimals < 9 && Number(Math.abs(signal!).toFixed(decimals)) <= limit) decimals++;
	return signed(signal, decimals);
}

/**
 * Sum of errors and mean absolute error (or their smoothed forms) after each error.
 * @param errors m errors of the scored periods in order
 * @param sums receives m sums
 * @param means receives m means
 */
function keepTrack(
	errors: Float64Array,
	tracking: TrackingInput,
	sums: Float64Array,
	means: Float64Array,
): void {
	let sum = 0;
	let absolute = 0;
	for (let position = 0; position < errors.length; position++) {
		const error = errors[position]!;
		if (tracking.kind === 'smoothed') {
			const c = tracking.constant;
			sum = c * error + (1 - c) * sum;
			absolute = c * Math.abs(error) + (1 - c) * absolute;
			means[position] = absolute;
		} else if (tracking.kind === 'rolling') {
			// Summed afresh: taking the oldest error off a running sum leaves rounding behind for good.
			sum = 0;
			absolute = 0;
			for (let i = Math.max(0, position - tracking.periods + 1); i <= position; i++) {
				sum += errors[i]!;
				absolute += Math.abs(errors[i]!);
			}
			means[position] = absolute / Math.min(position + 1, tracking.periods);
		} else {
			sum += error;
			absolute += Math.abs(error);
			means[position] = absolute / (position + 1);
		}
		sums[position] = sum;
	}
}

/** Keeps track of the errors at the scored positions. */
export function trackSignal(
	actual: Float64Array,
	fitted: Float64Array,
	positions: Int32Array,
	tracking: TrackingInput,
): Tracking {
	const errors = Float64Array.from(positions, (i) => actual[i]! - fitted[i]!);
	const cfe = new Float64Array(errors.length);
	const mad = new Float64Array(errors.length);
	keepTrack(errors, tracking, cfe, mad);
	return { positions, errors, cfe, mad };
}

const RUNS = 2000;

/**
 * Chance (0 … 1) that an unbiased forecast, with independent normal errors, has crossed the limit at
 * least once within `periods` scored periods. Simulated with a fixed seed: the same question has the same answer.
 */
export function chanceOfCrossing(tracking: TrackingInput, periods: number): number {
	const limit = trackingLimit(tracking);
	const draw = seededNormal(20_260_401);
	const errors = new Float64Array(Math.min(periods, 2000));
	const sums = new Float64Array(errors.length);
	const means = new Float64Array(errors.length);
	let crossings = 0;
	for (let run = 0; run < RUNS; run++) {
		for (let i = 0; i < errors.length; i++) errors[i] = draw();
		keepTrack(errors, tracking, sums, means);
		if (sums.some((sum, position) => Math.abs(sum) > limit * means[position]!)) crossings++;
	}
	return crossings / RUNS;
}
