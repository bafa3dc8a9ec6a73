import { periodWord, type Frequency } from '../series/frequency';
import { percentWords } from './comparison';
import { percent } from './chance';

/** What of a trial is said, as far as it goes over all origins and steps. */
export interface TrialSaid {
	name: string;
	origins: number;
	/** Steps that it looked ahead. */
	steps: number;
	/** Its errors over those of repeating the last actual; null where that never missed. */
	relativeError: number | null;
	/** By level: how many actuals lay inside the range that would have been given, of how many. */
	inside: readonly { level: number; inside: number; of: number }[];
}

/** A trial in a sentence or two. */
export function trialWords(
	{ name, origins, steps, relativeError, inside }: TrialSaid,
	frequency: Frequency,
): string {
	const from = `In a trial on ${origins} past ${periodWord(frequency, origins)}, ${steps === 1 ? '1' : `1 to ${steps}`} ahead,`;
	const came =
		relativeError === null
			? `naive had no error.`
			: relativeError === 1
				? `the average error of ${name} was as large as naive’s.`
				: `the average error of ${name} was ${percentWords(100 * Math.abs(1 - relativeError))} ${relativeError < 1 ? 'below' : 'above'} naive’s.`;
	const held = inside
		.filter(({ of }) => of > 0)
		.map(
			({ level, inside, of }) =>
				`${percent(inside / of)} of the actuals were inside the ${percent(level)} range`,
		);
	return `${from} ${came}${held.length > 0 ? ` ${held.join(', ')}.` : ''}`;
}
