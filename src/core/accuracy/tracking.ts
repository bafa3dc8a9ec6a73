import { signed } from '../numbers/figure';
import { seededNormal } from './random';

/** How the tracking signal is kept: over everything, over the last `periods`, or smoothed with `constant`. */
export type TrackingInput =
	| { kind: 'running'; limit?: number | undefined }
	| { kind: 'rolling'; periods: number; limit?: number | undefined }
	| { kind: 'smoothed'; constant: number; limit?: number | undefined };

export interface TrackingPoint {
	/** 1-based. */
	t: number;
	error: number;
	/** Sum of errors (or its smoothed form). */
	cfe: number;
	/** Mean absolute error (or its smoothed form). */
	mad: number;
	/** cfe / mad; null while mad is 0. */
	signal: number | null;
}

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

/** Tracking signal at each scored period. */
export function trackSignal(
	actual: Float64Array,
	fitted: Float64Array,
	scored: Int32Array,
	tracking: TrackingInput,
): TrackingPoint[] {
	const errors = new Float64Array(scored.length);
	for (let position = 0; position < errors.length; position++) {
		const i = scored[position]!;
		errors[position] = actual[i]! - fitted[i]!;
	}
	const sums = new Float64Array(errors.length);
	const means = new Float64Array(errors.length);
	keepTrack(errors, tracking, sums, means);
	const points = new Array<TrackingPoint>(errors.length);
	for (let position = 0; position < errors.length; position++) {
		const cfe = sums[position]!;
		const mad = means[position]!;
		const signal = mad > 0 ? cfe / mad : null;
		points[position] = { t: scored[position]! + 1, error: errors[position]!, cfe, mad, signal };
	}
	return points;
}

const RUNS = 2000;

/**
 * Chance (0 … 1) that a sound forecast, with unbiased independent normal errors, has crossed the limit at
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
