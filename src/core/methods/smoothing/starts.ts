import type { Series } from '../../series/series';
import { type CandidateInput, CannotRun, type Start, type StartRule, tooFew } from '../method';

/** How many first periods a start rule averages or lays a line through unless told otherwise. */
export function defaultStartSpan(periods: number, seasonLength: number): number {
	return Math.min(periods, seasonLength > 1 ? 2 * seasonLength : 6);
}

/**
 * The start of a recursion that has a level only.
 *
 * `given` is taken as it stands; `first` is y_1 at the end of period 1; `mean` and `line` are the mean of the
 * present values among the first k at 0; `optimised` begins from `line` and is then searched.
 * @throws CannotRun where the periods that the rule needs hold no actual.
 */
export function levelStart(
	series: Series,
	candidate: CandidateInput,
	name: string,
	fallback: StartRule,
): Start {
	const asked = candidate.start ?? { rule: fallback };
	const { values } = series;
	switch (asked.rule) {
		case 'given':
			return { rule: 'given', at: asked.at ?? 0, level: asked.level! };
		case 'first': {
			const level = values[0] ?? NaN;
			if (!Number.isNaN(level)) return { rule: 'first', at: 1, level };
			throw new CannotRun({
				code: 'start-is-missing',
				text: `${name} is to start from the first actual, and the first period has none. Start it from the mean of the first periods, or give the starting forecast.`,
				figures: { needs: 1, has: 0 },
			});
		}
		default: {
			const k = Math.min(asked.k ?? defaultStartSpan(values.length, series.seasonLength), values.length);
			const present = values.subarray(0, k).filter((value) => !Number.isNaN(value));
			if (present.length === 0) {
				throw tooFew(
					name,
					1,
					0,
					`actual among its first ${k} periods to start from`,
					'Average over more periods.',
				);
			}
			const level = present.reduce((sum, value) => sum + value, 0) / present.length;
			return { rule: asked.rule, at: 0, level };
		}
	}
}
