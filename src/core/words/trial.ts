import { periodWord, type Frequency } from '../series/frequency';
import { percentWords } from './comparison';
import { percent } from './proposal';

/** What of a trial is said, as far as it goes over all origins and steps. */
export interface TrialSaid {
	name: string;
	origins: number;
	/** Steps that it looked ahead. */
	steps: number;
	/** Its errors over those of repeating the last actual; null where that never missed. */
	closeness: number | null;
	/** By level: how many actuals lay inside the range that would have been given, of how many. */
	inside: readonly { level: number; inside: number; of: number }[];
}

/** A trial in a sentence or two. */
export function trialWords(
	{ name, origins, steps, closeness, inside }: TrialSaid,
	frequency: Frequency,
): string {
	const from = `From ${origins} earlier ${periodWord(frequency, origins)}, ${steps === 1 ? '1' : `1 to ${steps}`} ahead`;
	const came =
		closeness === null
			? `${name} is tried beside a last actual that never missed.`
			: closeness === 1
				? `${name} came as close as repeating the last actual.`
				: `${name} came ${percentWords(100 * Math.abs(1 - closeness))} ${closeness < 1 ? 'closer' : 'further off'} than repeating the last actual.`;
	const held = inside
		.filter(({ of }) => of > 0)
		.map(({ level, inside, of }) => `${percent(inside / of)} inside the ${percent(level)} range`);
	return `${from}: ${came}${held.length > 0 ? ` Of what came then, ${held.join(', ')}.` : ''}`;
}
