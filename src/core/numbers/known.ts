/** null for what no figure may be: NaN and the infinities. */
export function orNull(value: number): number | null {
	return Number.isFinite(value) ? value : null;
}

/** A figure of a list by its 0-based place; null where there is none. */
export const figureAt = (list: ArrayLike<number | null> | undefined, i: number): number | null =>
	orNull(list?.[i] ?? NaN);

/** A list with null where there is no finite number. */
export function listed(values: Float64Array): (number | null)[] {
	const list = new Array<number | null>(values.length);
	for (let i = 0; i < values.length; i++) list[i] = orNull(values[i]!);
	return list;
}

/** The sum of figures; null where one of them is missing. */
export const sumOrNull = (figures: readonly (number | null)[]): number | null =>
	figures.reduce((sum: number | null, each) => (sum === null || each === null ? null : sum + each), 0);
