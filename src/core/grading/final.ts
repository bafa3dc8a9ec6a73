import * as v from 'valibot';
import { BOUNDS } from '../bounds';
import { figureSchema, wholeSchema } from '../schemas';

/** What is put in place of a computed figure: another one, or the same times a rate (1.1 for 10 % more). */
export const ChangeSchema = v.strictObject({
	step: wholeSchema(1, BOUNDS.horizon, 'the step of a change'),
	by: v.variant('kind', [
		v.strictObject({ kind: v.literal('to'), figure: figureSchema('what it is changed to is a figure') }),
		v.strictObject({
			kind: v.literal('rate'),
			rate: v.pipe(figureSchema('a rate is a figure'), v.minValue(0, 'a rate is not below 0')),
		}),
	]),
});
export type Change = v.InferOutput<typeof ChangeSchema>;

/** To whole packs of `pack` units, the nearest or the next one up, and never below `floor`. */
export const RoundingSchema = v.strictObject({
	pack: v.nullable(v.pipe(figureSchema('a pack is a figure'), v.gtValue(0, 'a pack is above 0'))),
	way: v.picklist(['nearest', 'up'], 'it is rounded to the nearest pack, or up'),
	floor: v.nullable(figureSchema('the floor is a figure')),
});
export type Rounding = v.InferOutput<typeof RoundingSchema>;

export const NO_ROUNDING: Rounding = { pack: null, way: 'nearest', floor: null };

/** Packs that a figure is off from a whole number of them by rounding of the machine alone. */
const ROUNDING_OF_MACHINE = 1e-9;

/** A change as it was made, from what a record keeps of it; undefined where the step was not changed. */
export const keptChange = (changedTo: number | null, rate: number | null): Change['by'] | undefined =>
	changedTo === null ? undefined : rate === null ? { kind: 'to', figure: changedTo } : { kind: 'rate', rate };

/** The figure of a step after a change by hand; null where it was not changed. */
export const changedTo = (mean: number, by: Change['by'] | undefined): number | null =>
	!by ? null : by.kind === 'to' ? by.figure : mean * by.rate;

/** A figure in whole packs, not below the floor: with both, in the fewest packs that reach it. */
export function rounded(figure: number, { pack, way, floor }: Rounding): number {
	const least = floor === null ? figure : Math.max(floor, figure);
	if (pack === null) return least;
	const packs = least / pack;
	// A half goes away from zero, as it is done on paper.
	const whole =
		way === 'up'
			? Math.ceil(packs - ROUNDING_OF_MACHINE)
			: Math.sign(packs) * Math.floor(Math.abs(packs) + 0.5 + ROUNDING_OF_MACHINE);
	const enough =
		floor !== null && whole * pack < floor - ROUNDING_OF_MACHINE * pack
			? Math.ceil(floor / pack - ROUNDING_OF_MACHINE)
			: whole;
	// In decimals as the pack is written: 3 × 0.1 is 0.3. Zero has no sign.
	return Number((enough * pack).toPrecision(15)) + 0;
}

/** What is handed over for a step: the computed figure, changed by hand, rounded, not below the floor. */
export const finalFigure = (mean: number, by: Change['by'] | undefined, rounding: Rounding): number =>
	rounded(changedTo(mean, by) ?? mean, rounding);
