/** What a figure and an end of its range may differ by and be the same, as a share of the larger: both are sums of many. */
const ROUNDING = 1e-9;

/** Whether a figure lies in a range. One that misses its end by rounding alone does. @param range its ends, in the figure's unit */
export function holds([low, high]: readonly [low: number, high: number], figure: number): boolean {
	const slack = (end: number) => ROUNDING * Math.max(Math.abs(figure), Math.abs(end));
	return figure >= low - slack(low) && figure <= high + slack(high);
}
