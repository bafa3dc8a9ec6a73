import { inWords, type Note } from './note';

/** A candidate as the comparison needs it. */
export interface Compared {
	id: string;
	name: string;
	/** n fitted values. */
	fitted: Float64Array;
}

/**
 * Whether the best of the compared candidates leads by more than the noise in the lead.
 * Judged by the paired differences of absolute errors over the common window: a lead smaller than two standard
 * errors of their mean is noise (the differences taken as independent).
 * @param ranked candidates by MAD over the common window, best first
 * @returns a note for the best one, or null where the lead is clear or there is nobody to lead
 */
export function leadWithinNoise(
	actual: Float64Array,
	scored: Int32Array,
	ranked: readonly Compared[],
): Note | null {
	const [best, second] = ranked;
	if (!best || !second || scored.length < 3) return null;
	const differences = new Float64Array(scored.length);
	for (let position = 0; position < scored.length; position++) {
		const i = scored[position]!;
		differences[position] = Math.abs(actual[i]! - second.fitted[i]!) - Math.abs(actual[i]! - best.fitted[i]!);
	}
	const lead = differences.reduce((sum, value) => sum + value, 0) / differences.length;
	const variance =
		differences.reduce((sum, value) => sum + (value - lead) ** 2, 0) / (differences.length - 1);
	const noise = 2 * Math.sqrt(variance / differences.length);
	if (!Number.isFinite(noise) || lead > noise || (lead === 0 && noise === 0)) return null;
	return {
		code: 'lead-within-noise',
		text: `Its lead over ${second.name}, ${inWords(lead)} in MAD, is smaller than its own noise, ±${inWords(noise)} (two standard errors of the paired differences over ${scored.length} periods).`,
		figures: { lead, noise, runnerUp: second.id, periods: scored.length },
	};
}
