/** A least-squares line y = intercept + slope · t over positions t = 1 … n. */
export interface Line {
	intercept: number;
	slope: number;
	/** How many figures it was laid through, their mean position, and Σ (t − mean position)². */
	count: number;
	centre: number;
	width: number;
}

/**
 * Least squares through the present figures.
 * @param values n figures, NaN where missing
 * @returns a level line through a single figure; NaN throughout where there is none
 */
export function leastSquaresLine(values: Float64Array): Line {
	let count = 0;
	let centre = 0;
	let mean = 0;
	for (let i = 0; i < values.length; i++) {
		if (Number.isNaN(values[i]!)) continue;
		count++;
		centre += i + 1;
		mean += values[i]!;
	}
	centre /= count;
	mean /= count;
	let across = 0;
	let width = 0;
	for (let i = 0; i < values.length; i++) {
		if (Number.isNaN(values[i]!)) continue;
		const away = i + 1 - centre;
		across += away * (values[i]! - mean);
		width += away * away;
	}
	const slope = width > 0 ? across / width : count > 0 ? 0 : NaN;
	return { intercept: mean - slope * centre, slope, count, centre, width };
}
